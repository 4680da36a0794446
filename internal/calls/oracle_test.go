package calls

import (
	"bufio"
	"bytes"
	"encoding/json"
	"fmt"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"reed/internal/catalog"
	"reed/internal/lang"
	"reed/internal/model"
	"reed/internal/source"
)

// truth is what a language's own parser says about one call.
type truth struct {
	Line, Column int
	Method       string
	Function     string
	Loop, Fail   bool
	Shape        string // fixed, interpolated, concatenated, formatted, opaque, bare; "" when not judged
}

func (t *truth) UnmarshalJSON(data []byte) error {
	return json.Unmarshal(data, &[]any{&t.Line, &t.Column, &t.Method, &t.Function, &t.Loop, &t.Fail, &t.Shape})
}

type truths struct {
	File  string
	Error string
	Calls []truth
}

// oracle runs a parser over files, given by name on its standard input, and
// reads one truths a line.
func oracle(t *testing.T, files []string, name string, args ...string) []truths {
	t.Helper()
	cmd := exec.Command(name, args...)
	cmd.Stdin = strings.NewReader(strings.Join(files, "\n"))
	var problems bytes.Buffer
	cmd.Stderr = &problems
	out, err := cmd.Output()
	require.NoError(t, err, problems.String())
	var all []truths
	lines := bufio.NewScanner(bytes.NewReader(out))
	lines.Buffer(nil, 1<<26)
	for lines.Scan() {
		var one truths
		require.NoError(t, json.Unmarshal(lines.Bytes(), &one), lines.Text())
		all = append(all, one)
	}
	return all
}

// sources lists the files below roots that have one of the endings.
func sources(roots []string, limit int, endings ...string) []string {
	var files []string
	for _, root := range roots {
		_ = filepath.WalkDir(root, func(path string, d fs.DirEntry, err error) error {
			if err != nil || len(files) >= limit {
				return fs.SkipAll
			}
			for _, e := range endings {
				if !d.IsDir() && strings.HasSuffix(path, e) {
					files = append(files, path)
				}
			}
			return nil
		})
	}
	return files
}

// rough maps Reed's shapes to those that an oracle tells apart.
func rough(s *Site) string {
	switch s.Shape {
	case model.Constant, model.Template:
		return "fixed"
	}
	return s.Shape
}

// compare holds Reed's calls against the truth and fails beyond the figures of
// the design. mine tells which of Reed's calls the oracle judges.
func compare(t *testing.T, all []truths, mine func(*Site) bool) {
	t.Helper()
	total, missed, falseCalls, place, shapes, files := 0, 0, 0, 0, 0, 0
	var samples []string
	sample := func(format string, args ...any) {
		if len(samples) < 40 {
			samples = append(samples, fmt.Sprintf(format, args...))
		}
	}
	f := &File{Src: &source.File{}}
	for _, one := range all {
		if one.Error != "" {
			continue
		}
		raw, err := os.ReadFile(one.File)
		if err != nil {
			continue
		}
		files++
		f.Spec = lang.ByPath(one.File)
		f.Cat, err = catalog.For(f.Spec.Name)
		require.NoError(t, err)
		f.Src.Reset(one.File, source.Decode(raw))
		f.Read()
		got := map[string]*Site{}
		for i := range f.Sites {
			s := &f.Sites[i]
			got[fmt.Sprintf("%d:%d:%s", s.Line, s.Column, s.Method)] = s
		}
		known := map[string]bool{}
		for _, want := range one.Calls {
			total++
			key := fmt.Sprintf("%d:%d:%s", want.Line, want.Column, want.Method)
			known[key] = true
			s := got[key]
			if s == nil {
				missed++
				sample("missed %s:%s", one.File, key)
				continue
			}
			if s.Function != want.Function || s.Loop != want.Loop || s.FailurePath != want.Fail {
				place++
				sample("%s:%s is in %s loop=%t fail=%t, not %s %t %t", one.File, key, want.Function, want.Loop, want.Fail, s.Function, s.Loop, s.FailurePath)
			}
			if want.Shape != "" && rough(s) != want.Shape {
				shapes++
				sample("%s:%s is %s, not %s", one.File, key, want.Shape, s.Shape)
			}
		}
		for key, s := range got {
			if !known[key] && mine(s) {
				falseCalls++
				sample("false call %s:%s %s", one.File, key, s.Receiver)
			}
		}
	}
	t.Logf("%d files, %d calls: %d missed, %d false, %d in another function, loop or failure path, %d of another shape", files, total, missed, falseCalls, place, shapes)
	for _, s := range samples {
		t.Log(s)
	}
	require.Positive(t, total)
	assert.LessOrEqual(t, float64(missed)/float64(total), 0.005, "missed")
	assert.LessOrEqual(t, float64(falseCalls)/float64(total), 0.005, "false")
	assert.LessOrEqual(t, float64(place)/float64(total), 0.01, "function, loop, failure path")
	assert.LessOrEqual(t, float64(shapes)/float64(total), 0.01, "shape")
}

// trees returns the folders that REED_TREES names for a language, separated
// by colons, or the given ones.
func trees(language string, usual ...string) []string {
	if t := os.Getenv("REED_TREES_" + strings.ToUpper(language)); t != "" {
		return strings.Split(t, ":")
	}
	return usual
}

func TestPythonAgreesWithItsParser(t *testing.T) {
	python, err := exec.LookPath("python3")
	if err != nil {
		t.Skip("python3 is not installed")
	}
	out, err := exec.Command(python, "-c", "import sysconfig; print(sysconfig.get_paths()['stdlib'])").Output()
	require.NoError(t, err)
	files := sources(trees("python", strings.TrimSpace(string(out))), 20000, ".py")
	if os.Getenv("REED_TREES_PYTHON") == "" {
		files = slices.DeleteFunc(files, func(f string) bool { return strings.Contains(f, "site-packages") || strings.Contains(f, "/test/") })
	}
	if len(files) == 0 {
		t.Skip("the Python library is not installed as source")
	}
	compare(t, oracle(t, files, python, "testdata/oracle/python_calls.py"), func(s *Site) bool {
		return s.Library == "builtins" && s.Method == "print" || s.Receiver == "logging" && s.Confidence == model.Certain
	})
}

func TestJavaAgreesWithItsCompiler(t *testing.T) {
	java, err := exec.LookPath("java")
	if err != nil {
		t.Skip("java is not installed")
	}
	files := sources(trees("java", "/usr/lib/jvm/src"), 20000, ".java")
	if len(files) == 0 {
		t.Skip("no Java sources: set REED_TREES_JAVA to folders that hold some")
	}
	compare(t, oracle(t, files, java, "-Xss16m", "testdata/oracle/JavaCalls.java"), func(s *Site) bool {
		return s.Receiver == "System.out" || s.Receiver == "System.err"
	})
}

// typescript returns the folder of the npm package, "" when it is nowhere.
func typescript() string {
	if at := os.Getenv("REED_TYPESCRIPT"); at != "" {
		return at
	}
	out, err := exec.Command("npm", "root", "-g").Output()
	if err != nil {
		return ""
	}
	at := filepath.Join(strings.TrimSpace(string(out)), "typescript")
	if _, err := os.Stat(at); err != nil {
		return ""
	}
	return at
}

func TestScriptsAgreeWithTheirCompiler(t *testing.T) {
	node, err := exec.LookPath("node")
	if err != nil {
		t.Skip("node is not installed")
	}
	ts := typescript()
	if ts == "" {
		t.Skip("the npm package typescript is not installed: set REED_TYPESCRIPT to its folder")
	}
	for _, language := range []string{"javascript", "typescript"} {
		t.Run(language, func(t *testing.T) {
			endings := []string{".js", ".mjs", ".cjs", ".jsx"}
			var usual []string
			if language == "typescript" {
				endings = []string{".ts", ".tsx", ".mts"}
			} else if out, err := exec.Command("npm", "root", "-g").Output(); err == nil {
				usual = []string{strings.TrimSpace(string(out))}
			}
			files := slices.DeleteFunc(sources(trees(language, usual...), 30000, endings...), func(f string) bool {
				text, err := os.ReadFile(f)
				return err != nil || strings.HasSuffix(f, ".d.ts") || len(text) > 110*(1+bytes.Count(text, []byte("\n"))) // squeezed
			})
			if len(files) == 0 {
				t.Skipf("no %s sources: set REED_TREES_%s to folders that hold some", language, strings.ToUpper(language))
			}
			compare(t, oracle(t, files, node, "--stack-size=4000", "testdata/oracle/script_calls.js", ts), func(s *Site) bool {
				return s.Receiver == "console" || s.Receiver == "logger"
			})
		})
	}
}

func TestRubyAgreesWithItsParser(t *testing.T) {
	ruby, err := exec.LookPath("ruby")
	if err != nil {
		t.Skip("ruby is not installed")
	}
	out, err := exec.Command(ruby, "-e", "print RbConfig::CONFIG['rubylibdir']").Output()
	require.NoError(t, err)
	files := sources(trees("ruby", string(out)), 20000, ".rb")
	if len(files) == 0 {
		t.Skip("no Ruby sources: set REED_TREES_RUBY to folders that hold some")
	}
	args := append([]string{"testdata/oracle/ruby_calls.rb"}, lang.Ruby.LoopCalls...)
	compare(t, oracle(t, files, ruby, args...), func(s *Site) bool {
		switch s.Receiver {
		case "logger", "@logger", "LOG", "LOGGER", "Rails.logger":
			return true
		}
		return s.Receiver == "" && (s.Method == "puts" || s.Method == "p" || s.Method == "pp")
	})
}

func TestPHPAgreesWithItsParser(t *testing.T) {
	php, err := exec.LookPath("php")
	if err != nil {
		t.Skip("php is not installed")
	}
	if out, err := exec.Command(php, "-m").Output(); err != nil || !strings.Contains(string(out), "\nast\n") {
		t.Skip("php has no extension ast")
	}
	files := sources(trees("php"), 20000, ".php")
	if len(files) == 0 {
		t.Skip("no PHP sources: set REED_TREES_PHP to folders that hold some")
	}
	compare(t, oracle(t, files, php, "-d", "memory_limit=-1", "testdata/oracle/php_calls.php"), func(s *Site) bool {
		return s.Receiver == "$logger" || s.Receiver == "$this->logger" || s.Receiver == "" && (s.Method == "error_log" || s.Method == "var_dump")
	})
}
