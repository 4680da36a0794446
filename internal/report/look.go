// Package report writes results: pure writers over the model, one file an
// output form. Nothing that comes from source reaches a terminal unclean.
package report

import (
	"fmt"
	"strings"
	"unicode"
	"unicode/utf8"

	"github.com/fatih/color"
	"github.com/mattn/go-runewidth"

	"reed/internal/model"
	"reed/internal/scan"
)

// Look says how text output is drawn.
type Look struct {
	Width    int // columns
	Color    bool
	Terminal bool
}

type painter struct{ on bool }

func (p painter) paint(s string, attrs ...color.Attribute) string {
	if !p.on || s == "" {
		return s
	}
	c := color.New(attrs...)
	c.EnableColor()
	return c.Sprint(s)
}

func (p painter) bold(s string) string  { return p.paint(s, color.Bold) }
func (p painter) faint(s string) string { return p.paint(s, color.FgHiBlack) }

// levelColors are the colours of the six levels and of no level.
var levelColors = map[model.Level]color.Attribute{
	model.NoLevel: color.FgWhite, model.Trace: color.FgHiBlack, model.Debug: color.FgHiBlue, model.Info: color.FgGreen,
	model.Warn: color.FgYellow, model.Error: color.FgHiRed, model.Fatal: color.FgHiMagenta,
}

func (p painter) level(l model.Level, s string) string { return p.paint(s, levelColors[l]) }

func (p painter) severity(s model.Severity, text string) string {
	switch s {
	case model.SeverityError:
		return p.paint(text, color.FgHiRed, color.Bold)
	case model.SeverityWarning:
		return p.paint(text, color.FgYellow, color.Bold)
	}
	return p.paint(text, color.FgCyan)
}

// Clean makes text safe for a terminal: control characters and other
// characters that move or hide text are written as escapes.
func Clean(s string) string {
	clean := true
	for i := 0; i < len(s); i++ {
		if s[i] < 0x20 || s[i] >= 0x7f {
			clean = false
			break
		}
	}
	if clean {
		return s
	}
	var b strings.Builder
	for i := 0; i < len(s); {
		r, n := utf8.DecodeRuneInString(s[i:])
		switch {
		case r == utf8.RuneError && n == 1:
			fmt.Fprintf(&b, `\x%02x`, s[i])
		case r == '\t':
			b.WriteByte(' ')
		case r == '\n':
			b.WriteString(`\n`)
		case r == '\r':
			b.WriteString(`\r`)
		case r < 0x20 || r >= 0x7f && r < 0xa0:
			fmt.Fprintf(&b, `\x%02x`, r)
		case unicode.Is(unicode.Cf, r) || r == 0x2028 || r == 0x2029:
			fmt.Fprintf(&b, `\u%04x`, r)
		default:
			b.WriteRune(r)
		}
		i += n
	}
	return b.String()
}

// fit shortens clean text to a width in columns, with an ellipsis.
func fit(s string, width int) string {
	if width < 1 {
		return ""
	}
	if runewidth.StringWidth(s) <= width {
		return s
	}
	return runewidth.Truncate(s, width, "…")
}

// pad fills s with blanks to a width in columns.
func pad(s string, width int) string {
	if n := width - runewidth.StringWidth(s); n > 0 {
		return s + strings.Repeat(" ", n)
	}
	return s
}

func padLeft(s string, width int) string {
	if n := width - runewidth.StringWidth(s); n > 0 {
		return strings.Repeat(" ", n) + s
	}
	return s
}

// wrap breaks text between words; the lines after the first are indented.
func wrap(s string, width, indent int) string {
	var b strings.Builder
	at := 0
	for i, word := range strings.Fields(s) {
		n := runewidth.StringWidth(word)
		if i > 0 {
			if at+1+n > width {
				b.WriteString("\n" + strings.Repeat(" ", indent))
				at = 0
			} else {
				b.WriteByte(' ')
				at++
			}
		}
		b.WriteString(word)
		at += n
	}
	return b.String()
}

// plural writes "1 file", "3 files"; a word in y becomes ies.
func plural(n int, word string) string {
	switch {
	case n == 1:
	case strings.HasSuffix(word, "y") && !strings.HasSuffix(word, "ay"):
		word = word[:len(word)-1] + "ies"
	default:
		word += "s"
	}
	return thousands(n) + " " + word
}

// thousands writes 12345 as 12 345 with a thin-looking blank.
func thousands(n int) string {
	s := fmt.Sprint(n)
	for i := len(s) - 3; i > 0 && s[i-1] != '-'; i -= 3 {
		s = s[:i] + " " + s[i:]
	}
	return s
}

func percent(part, whole int) string {
	if whole == 0 {
		return "–"
	}
	return fmt.Sprintf("%d%%", (part*100+whole/2)/whole)
}

// leftOut tells in one line what was not read, "" when all was.
func leftOut(l scan.LeftOut) string {
	var parts []string
	for _, p := range []struct {
		n    int
		word string
	}{{l.Tests, "test"}, {l.Vendored, "vendored"}, {l.Generated, "generated"}, {l.Minified, "minified"}, {l.Built, "build output"}, {l.Ignored, "ignored by git"}, {l.Binary, "binary"}, {l.Large, "too large"}} {
		if p.n > 0 {
			parts = append(parts, fmt.Sprintf("%s %s", thousands(p.n), p.word))
		}
	}
	if len(parts) == 0 {
		return ""
	}
	return "Left out (files and folders): " + strings.Join(parts, ", ") + "."
}
