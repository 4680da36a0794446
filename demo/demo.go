// Package demo holds the Ottermere code base: a small flood-warning service in
// several languages on which every rule has something to say.
package demo

import (
	"embed"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
)

//go:embed all:_ottermere
var files embed.FS

// FS returns the code base; file names are as Unpack writes them, except that
// go.mod is called go.mod.embedded.
func FS() fs.FS {
	sub, err := fs.Sub(files, "_ottermere")
	if err != nil {
		panic(err) // the folder is embedded at build time
	}
	return sub
}

// Unpack writes the code base below dir and returns the number of files. The
// folder must be empty or not exist, unless it holds the code base already.
func Unpack(dir string) (int, error) {
	if entries, err := os.ReadDir(dir); err == nil && len(entries) > 0 {
		if _, err := os.Stat(filepath.Join(dir, "gauges", "pyproject.toml")); err != nil {
			return 0, fmt.Errorf("%s is not empty: name an empty or a new folder", dir)
		}
	}
	n := 0
	err := fs.WalkDir(FS(), ".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		data, err := fs.ReadFile(FS(), path)
		if err != nil {
			return err
		}
		to := filepath.Join(dir, filepath.FromSlash(strings.TrimSuffix(path, ".embedded")))
		if err := os.MkdirAll(filepath.Dir(to), 0o755); err != nil {
			return err
		}
		mode := fs.FileMode(0o644)
		if strings.HasSuffix(path, ".sh") {
			mode = 0o755
		}
		n++
		return write(to, data, mode)
	})
	return n, err
}

// write writes a file whole or not at all.
func write(path string, data []byte, mode fs.FileMode) error {
	f, err := os.CreateTemp(filepath.Dir(path), ".reed-*")
	if err != nil {
		return err
	}
	_, err = f.Write(data)
	if e := f.Close(); err == nil {
		err = e
	}
	if err == nil {
		err = os.Chmod(f.Name(), mode)
	}
	if err == nil {
		err = os.Rename(f.Name(), path)
	}
	if err != nil {
		os.Remove(f.Name())
	}
	return err
}
