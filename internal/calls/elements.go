package calls

import (
	"html"
	"strings"

	"reed/internal/lang"
	"reed/internal/lex"
	"reed/internal/model"
	"reed/internal/outline"
)

// element records the log step of an XML pipeline: an element with a severity
// and a text or expression.
func (f *File) element(c outline.Call) {
	name := f.Text(c.Name)
	local := name[strings.LastIndexByte(name, ':')+1:]
	for _, sig := range f.Cat.Sigs(local) {
		s := Site{Sig: sig, Scope: c.Scope, Name: c.Name, Open: -1, Close: c.To, First: c.Name - 1, MessageAt: -1}
		s.Kind, s.Method, s.Library, s.Confidence = model.KindLog, name, sig.Lib.Name, model.Likely
		s.setLevel(sig.LevelName, sig.Severity)
		if int(s.Close) >= len(f.Lex.Tokens) {
			s.Close = c.Name
		}
		if !f.attributes(&s, c) {
			continue
		}
		f.place(&s)
		f.Sites = append(f.Sites, s)
		return
	}
}

// attributes reads severity, message and logger of a log step. It reports
// false for elements that say nothing.
func (f *File) attributes(s *Site, c outline.Call) bool {
	said, levelled, named := false, s.Level != model.NoLevel, false
	for i := c.From; i+2 <= c.To; i++ {
		if f.Kind(i) != lex.Ident || f.Kind(i+1) != '=' || f.Kind(i+2) != lex.String {
			continue
		}
		value := html.UnescapeString(strings.Trim(f.Text(i+2), `"'`))
		key := f.Text(i)
		key = strings.ToLower(key[strings.LastIndexByte(key, ':')+1:])
		switch s.Sig.Options[key] {
		case "level":
			s.setLevel(s.Sig.Lib.LevelNamed(value))
			levelled = true
		case "message":
			said = true
			s.MessageAt = len(s.Args)
			s.Args = append(s.Args, Arg{From: i + 2, To: i + 3, Key: i})
			f.expression(s, value, i+2)
		case "logger":
			s.Logger = value
		}
		named = named || key == "name"
		i += 2
	}
	if !said && !named { // <log>text</log>
		if text := c.To + 1; f.Kind(text) == lex.MarkupText {
			said = true
			s.MessageAt = 0
			s.Args = []Arg{{From: text, To: text + 1, Key: -1}}
			f.expression(s, html.UnescapeString(f.Text(text)), text)
		}
	}
	if levelled && said {
		s.Confidence = model.Certain
	}
	return said
}

// expression reads a text with values such as ${header.id}, #[payload] and
// {{name}} in it; at is the token that holds it.
func (f *File) expression(s *Site, text string, at int32) {
	var out strings.Builder
	values := 0
	for i := 0; i < len(text); {
		n := 0
		switch {
		case strings.HasPrefix(text[i:], "${"), strings.HasPrefix(text[i:], "#{"):
			n = closing(text[i:], '{', '}')
		case strings.HasPrefix(text[i:], "#["):
			n = closing(text[i:], '[', ']')
		case strings.HasPrefix(text[i:], "{{"):
			n = closing(text[i:], '{', '}')
		}
		if n == 0 {
			out.WriteByte(text[i])
			i++
			continue
		}
		values++
		out.WriteString("{}")
		inner := strings.TrimSpace(text[i+2 : i+n-1])
		if text[i] == '{' {
			inner = strings.TrimSpace(text[i+2 : i+n-2])
		}
		s.Arguments = append(s.Arguments, inner)
		i += n
	}
	s.Message = out.String()
	if values > 0 {
		s.Values = append(s.Values, Value{From: at, To: at + 1})
	}
	s.HasText = hasLetters(strings.ReplaceAll(s.Message, "{}", ""))
	switch {
	case values == 0:
		s.Shape = model.Constant
	case !s.HasText:
		s.Shape = model.Opaque
	default:
		s.Shape = model.Template
	}
}

// closing returns the length of s up to the bracket that closes its first one,
// 0 when none does.
func closing(s string, open, close byte) int {
	depth := 0
	for i := 1; i < len(s); i++ {
		switch s[i] {
		case open:
			depth++
		case close:
			if depth--; depth == 0 {
				return i + 1
			}
		}
	}
	return 0
}

// elementLanguage tells whether calls of this file are elements.
func (f *File) elementLanguage() bool { return f.Spec.Features.Has(lang.Elements) }
