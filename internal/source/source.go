// Package source holds the bytes of one file: it decodes byte-order marks and
// UTF-16, tells binary files apart, and turns byte offsets into lines and
// columns when somebody asks.
package source

import (
	"bytes"
	"encoding/binary"
	"sort"
	"unicode/utf16"
	"unicode/utf8"
)

// File is one source file in memory. Text is always UTF-8 (or arbitrary bytes
// when the file was not valid text) and begins after any byte-order mark.
type File struct {
	Path string // with forward slashes, as it is to be printed
	Text []byte

	lines []uint32 // offset of each line's first byte; built when first needed
}

// New decodes raw bytes: a UTF-8 byte-order mark is cut off, UTF-16 with a
// byte-order mark becomes UTF-8, anything else is taken as it is.
func New(path string, raw []byte) *File {
	f := &File{}
	f.Reset(path, raw)
	return f
}

// Reset makes f hold another file and keeps the memory of its line table.
func (f *File) Reset(path string, raw []byte) {
	f.Path, f.Text, f.lines = path, Decode(raw), f.lines[:0]
}

// Decode returns raw as UTF-8 text without a byte-order mark.
func Decode(raw []byte) []byte {
	switch {
	case bytes.HasPrefix(raw, []byte{0xEF, 0xBB, 0xBF}):
		return raw[3:]
	case bytes.HasPrefix(raw, []byte{0xFF, 0xFE}):
		return fromUTF16(raw[2:], binary.LittleEndian)
	case bytes.HasPrefix(raw, []byte{0xFE, 0xFF}):
		return fromUTF16(raw[2:], binary.BigEndian)
	}
	return raw
}

func fromUTF16(raw []byte, order binary.ByteOrder) []byte {
	units := make([]uint16, len(raw)/2)
	for i := range units {
		units[i] = order.Uint16(raw[2*i:])
	}
	out := make([]byte, 0, len(units)+len(units)/8)
	for _, r := range utf16.Decode(units) {
		out = utf8.AppendRune(out, r)
	}
	return out
}

// Binary reports whether decoded text is not source text: a NUL byte among
// its first 8000 bytes says so.
func Binary(text []byte) bool {
	return bytes.IndexByte(text[:min(len(text), 8000)], 0) >= 0
}

// Line returns the 1-based line of a byte offset.
func (f *File) Line(offset uint32) int {
	f.index()
	return sort.Search(len(f.lines), func(i int) bool { return f.lines[i] > offset })
}

// Position returns the 1-based line and the 1-based column, in bytes, of a
// byte offset.
func (f *File) Position(offset uint32) (line, column int) {
	line = f.Line(offset)
	return line, int(offset-f.lines[line-1]) + 1
}

// LineText returns the text of a 1-based line without its line end.
func (f *File) LineText(line int) []byte {
	f.index()
	if line < 1 || line > len(f.lines) {
		return nil
	}
	end := len(f.Text)
	if line < len(f.lines) {
		end = int(f.lines[line])
	}
	return bytes.TrimRight(f.Text[f.lines[line-1]:end], "\r\n")
}

// Lines returns the number of lines.
func (f *File) Lines() int {
	f.index()
	return len(f.lines)
}

func (f *File) index() {
	if len(f.lines) > 0 {
		return
	}
	f.lines = append(f.lines, 0)
	for at := 0; ; {
		next := bytes.IndexByte(f.Text[at:], '\n')
		if next < 0 || at+next+1 >= len(f.Text) {
			return
		}
		at += next + 1
		f.lines = append(f.lines, uint32(at))
	}
}
