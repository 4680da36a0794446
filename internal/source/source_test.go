package source

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestDecode(t *testing.T) {
	for raw, want := range map[string]string{
		"plain":                     "plain",
		"\xef\xbb\xbfmarked":        "marked",
		"\xff\xfeh\x00\xf6\x00":     "hö",
		"\xfe\xff\x00h\x00\xf6":     "hö",
		"\xff\xfe\x3d\xd8\x00\xdeX": "😀", // the odd byte at the end is dropped
		"":                          "",
	} {
		assert.Equal(t, want, string(Decode([]byte(raw))))
	}
}

func TestPositions(t *testing.T) {
	f := New("a", []byte("one\ntwo\r\n\nhöhe x\n"))
	for _, row := range []struct {
		offset       uint32
		line, column int
	}{{0, 1, 1}, {3, 1, 4}, {4, 2, 1}, {9, 3, 1}, {10, 4, 1}, {16, 4, 7}} {
		line, column := f.Position(row.offset)
		assert.Equal(t, [2]int{row.line, row.column}, [2]int{line, column}, row.offset)
	}
	assert.Equal(t, "two", string(f.LineText(2)))
	assert.Equal(t, "höhe x", string(f.LineText(4)))
	assert.Nil(t, f.LineText(5))
	assert.Equal(t, 4, f.Lines())
	f.Reset("b", []byte("x"))
	assert.Equal(t, 1, f.Lines())
}

func TestBinary(t *testing.T) {
	assert.True(t, Binary([]byte("a\x00b")))
	assert.False(t, Binary([]byte("text")))
	assert.False(t, Binary(nil))
}
