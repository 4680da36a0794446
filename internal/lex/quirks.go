package lex

import (
	"bytes"
	"strings"
	"unicode/utf8"

	"reed/internal/lang"
)

// The quirks of single languages: each is a feature of a table, handled here
// once.

// hereDoc is a text that begins on the next line.
type hereDoc struct {
	name   []byte
	indent bool // white space may stand before its end
}

// outside passes over what stands before the next island of code.
func (s *scanner) outside() {
	rest := s.src[s.pos:]
	n := len(rest)
	if at := bytes.Index(rest, []byte("<?")); at >= 0 {
		n = at + 2
		switch {
		case len(rest) >= n+3 && bytes.EqualFold(rest[n:n+3], []byte("php")):
			n += 3
		case len(rest) > n && rest[n] == '=':
			n++
		case len(rest) >= n+3 && bytes.EqualFold(rest[n:n+3], []byte("xml")):
			s.comment(n)
			s.outside()
			return
		}
	}
	if n > 0 {
		s.comment(n)
		s.newLine = true
	}
}

// prefix reads a string with a name of n bytes directly before its quote, if
// the name is a prefix.
func (s *scanner) prefix(n int) bool {
	form, ok := s.t.Spec.Prefixes[string(s.src[s.pos:s.pos+n])]
	if !ok {
		if form, ok = s.t.Spec.Prefixes["*"]; !ok {
			return false
		}
	}
	if form.Has(lang.Raw) && s.f.Has(lang.HashFences) {
		if s.fenced(n, form) {
			return true
		}
	}
	rest := s.src[s.pos+n:]
	if form.Has(lang.Raw) && s.f.Has(lang.FencedRaw) {
		return s.fencedRaw(n)
	}
	for _, f := range s.t.strings[rest[0]] {
		if len(rest) >= len(f.Open) && string(rest[:len(f.Open)]) == f.Open {
			if f.Form.Has(lang.Char) && s.f.Has(lang.Lifetimes) {
				return false
			}
			f.Form = f.Form&(lang.Lines|lang.Char) | form
			if len(f.Open) == 1 {
				f.Form &^= lang.Lines
			}
			if form == 0 && s.f.Has(lang.Lifetimes) {
				f.Form |= lang.Lines
			}
			s.text(n+len(f.Open), f)
			return true
		}
	}
	return false
}

// fenced reads a string between # signs: #"…"#, r##"…"##. before is the
// length of the name in front of it.
func (s *scanner) fenced(before int, form lang.Form) bool {
	n := before
	for s.at(n) == '#' && n < before+255 {
		n++
	}
	hashes := n - before
	if s.at(n) != '"' || hashes == 0 && before == 0 {
		return false
	}
	closer := `"`
	if before == 0 && s.at(n+1) == '"' && s.at(n+2) == '"' {
		closer, n = `"""`, n+2
	}
	f := lang.String{Open: `"`, Close: closer + string(bytes.Repeat([]byte("#"), hashes)), Form: lang.Raw | lang.Lines}
	if before == 0 { // values may stand in it, with as many signs
		f.Form |= lang.BackParen
		if closer == `"` {
			f.Form &^= lang.Lines
		}
	}
	_ = form
	s.textOf(n+1, f, hashes)
	return true
}

// fencedRaw reads R"fence(…)fence".
func (s *scanner) fencedRaw(before int) bool {
	rest := s.src[s.pos+before+1:]
	open := bytes.IndexByte(rest[:min(len(rest), 18)], '(')
	if open < 0 {
		return false
	}
	closer := ")" + string(rest[:open]) + `"`
	s.textOf(before+1+open+1, lang.String{Open: `"`, Close: closer, Form: lang.Raw | lang.Lines}, 0)
	return true
}

// lifetime reads a quote that opens no character: 'name.
func (s *scanner) lifetime() bool {
	if s.at(1) == '\\' {
		return false
	}
	rest := s.src[min(s.pos+1, len(s.src)):]
	_, size := utf8.DecodeRune(rest)
	if s.at(1+size) == '\'' {
		return false
	}
	n := 1
	for s.at(n) != 0 && s.t.ident[s.at(n)] {
		n++
	}
	s.add(Unknown, n)
	return true
}

// hereString reads @"…"@ whose text stands on lines of its own.
func (s *scanner) hereString() bool {
	q := s.at(1)
	if q != '"' && q != '\'' {
		return false
	}
	i := 2
	for s.at(i) == ' ' || s.at(i) == '\t' || s.at(i) == '\r' {
		i++
	}
	if s.at(i) != '\n' {
		return false
	}
	form := lang.String{Open: "@" + string(q), Close: "\n" + string(q) + "@", Form: lang.Raw | lang.Lines}
	if q == '"' {
		form.Form = lang.Lines | lang.Backtick | lang.DollarName | lang.DollarParen | lang.DollarVar
	}
	s.text(2, form)
	return true
}

// hereText reads <<<NAME … NAME as one string.
func (s *scanner) hereText() bool {
	if s.at(2) != '<' {
		return false
	}
	i := 3
	for s.at(i) == ' ' || s.at(i) == '\t' {
		i++
	}
	if s.at(i) == '"' || s.at(i) == '\'' {
		i++
	}
	from := i
	for s.t.ident[s.at(i)] && s.at(i) != 0 {
		i++
	}
	name := s.src[s.pos+from : min(s.pos+i, len(s.src))]
	line := bytes.IndexByte(s.src[s.pos:], '\n')
	if len(name) == 0 || line < 0 {
		return false
	}
	end := s.hereEnd(s.pos+line+1, name, true, false)
	s.add(String, end-s.pos)
	return true
}

// hereEnd returns where the text from i on ends: behind the name on a line of
// its own, or anywhere at a line's beginning when more may follow it.
func (s *scanner) hereEnd(i int, name []byte, indent, alone bool) int {
	for i < len(s.src) {
		j := i
		for indent && j < len(s.src) && (s.src[j] == ' ' || s.src[j] == '\t') {
			j++
		}
		if bytes.HasPrefix(s.src[j:], name) {
			after := j + len(name)
			if after >= len(s.src) || !s.t.ident[s.src[after]] && !alone || s.src[after] == '\n' || s.src[after] == '\r' {
				return min(after, len(s.src))
			}
		}
		next := bytes.IndexByte(s.src[i:], '\n')
		if next < 0 {
			break
		}
		i += next + 1
	}
	return len(s.src)
}

// hereDoc reads <<NAME, <<-NAME, <<~NAME and <<"NAME"; its text begins on the
// next line.
func (s *scanner) hereDoc() bool {
	i := 2
	indent := false
	if s.at(i) == '-' || s.at(i) == '~' {
		indent = true
		i++
	}
	if !indent && s.f.Has(lang.RubyWords) && !s.operandNext() && !s.spaced() {
		return false // a << b
	}
	quote := byte(0)
	if c := s.at(i); c == '"' || c == '\'' || c == '`' {
		quote = c
		i++
	} else if s.f.Has(lang.Commands) {
		for s.at(i) == ' ' {
			i++
		}
		if c := s.at(i); c == '"' || c == '\'' {
			quote = c
			i++
		}
	}
	from := i
	if s.t.class[s.at(i)] != clsIdent {
		return false
	}
	if c := s.at(i); quote == 0 && s.f.Has(lang.RubyWords) && !indent && !(c >= 'A' && c <= 'Z') {
		return false
	}
	for c := s.at(i); c != 0 && (s.t.ident[c] && c != '$' && c != '@' || quote != 0 && c != quote && c != '\n' && c > ' '); c = s.at(i) {
		i++
	}
	if i == from {
		return false
	}
	name := s.src[s.pos+from : s.pos+i]
	if quote != 0 && s.at(i) == quote {
		i++
	}
	if len(s.here) < 64 {
		s.here = append(s.here, hereDoc{name: name, indent: indent})
	}
	s.add(String, i)
	return true
}

// spaced tells whether white space stands before here and none behind.
func (s *scanner) spaced() bool { return s.pos > 0 && s.src[s.pos-1] == ' ' && s.at(2) != ' ' }

// hereBodies passes over the texts that begin on this line.
func (s *scanner) hereBodies() {
	from := s.pos
	end := from
	for _, h := range s.here {
		end = s.hereEnd(end, h.name, h.indent, true)
		if next := bytes.IndexByte(s.src[end:], '\n'); next >= 0 && end < len(s.src) {
			end += next + 1
		}
	}
	s.here = s.here[:0]
	if end > from {
		s.comment(end - from)
		s.newLine = true
	}
}

// wordTail lengthens a name by what its language allows at or behind its end:
// name? and name!, Verb-Noun.
func (s *scanner) wordTail(i int) int {
	if s.f.Has(lang.RubyWords) {
		if i == s.pos+1 && s.src[s.pos] == '$' && i < len(s.src) && strings.IndexByte("`'\"/~!@&+*?:,.;<>\\", s.src[i]) >= 0 {
			return i + 1 // $! and its like
		}
		if i < len(s.src) && (s.src[i] == '?' || s.src[i] == '!') && (i+1 >= len(s.src) || s.src[i+1] != '=' || i+2 < len(s.src) && s.src[i+2] == '=') &&
			!(s.src[i] == '?' && i+1 < len(s.src) && s.src[i+1] == ':' && i+2 < len(s.src) && s.src[i+2] != ':') {
			return i + 1
		}
		return i
	}
	if c := s.src[s.pos]; c == '$' || c == '@' {
		return i
	}
	for i+1 < len(s.src) && s.src[i] == '-' && s.t.class[s.src[i+1]] == clsIdent && s.src[i+1] != '$' {
		for i++; i < len(s.src) && s.t.ident[s.src[i]] && s.src[i] != '$'; i++ {
		}
	}
	return i
}

// commandRegex tells whether a slash behind a name opens a regular expression:
// at the beginning of a line, or set off before and not behind.
func (s *scanner) commandRegex() bool {
	if s.newLine {
		return true
	}
	last := s.Tokens[len(s.Tokens)-1]
	return last.Kind == Ident && s.src[s.pos-1] == ' ' && s.at(1) > ' ' && s.at(1) != '='
}

// symbol reads :name and :"name".
func (s *scanner) symbol() bool {
	if s.at(1) == ':' || s.pos > 0 && s.src[s.pos-1] == ':' {
		return false
	}
	if c := s.at(1); c == '"' {
		end, _ := s.textEnd(s.pos+2, lang.String{Open: `"`, Close: `"`}, 0)
		s.add(Number, max(end-s.pos, 1))
		return true
	}
	if s.t.class[s.at(1)] != clsIdent || !s.operandNext() && !(s.pos > 0 && (s.src[s.pos-1] == ' ' || s.src[s.pos-1] == '(')) {
		return false
	}
	n := 2
	for s.at(n) != 0 && s.t.ident[s.at(n)] {
		n++
	}
	if c := s.at(n); (c == '?' || c == '!') && s.at(n+1) != '=' {
		n++
	}
	s.add(Number, n)
	return true
}

// maxSpacedRegex bounds the length of a regular expression over several lines.
const maxSpacedRegex = 4000

// spacedRegex returns the length of a regular expression of Ruby that runs over
// several lines, as only those with the flag x do, 0 when there is none.
func (s *scanner) spacedRegex() int {
	for i := s.pos + 1; i < min(len(s.src), s.pos+maxSpacedRegex); i++ {
		switch s.src[i] {
		case '\\':
			i++
		case '/':
			for i++; i < len(s.src) && s.t.ident[s.src[i]]; i++ {
				if s.src[i] == 'x' {
					for i < len(s.src) && s.t.ident[s.src[i]] {
						i++
					}
					return i - s.pos
				}
			}
			return 0
		}
	}
	return 0
}

// maxPercentDepth is how deep brackets nest in a %-literal.
const maxPercentDepth = 100

// percentText reads %w[…], %q(…), %(…) and their like.
// It looks ahead only so many brackets deep: text that never ends would be
// read again from each opener in it.
func (s *scanner) percentText() bool {
	if !s.operandNext() && !(s.pos > 0 && s.src[s.pos-1] == ' ' && s.at(1) > ' ' && s.at(1) != '=') {
		return false
	}
	i := 1
	kind := byte('Q')
	if c := s.at(1); bytes.IndexByte([]byte("qQwWiIrxs"), c) >= 0 && c != 0 {
		kind = c
		i = 2
	}
	open := s.at(i)
	closer := open
	switch open {
	case '(':
		closer = ')'
	case '[':
		closer = ']'
	case '{':
		closer = '}'
	case '<':
		closer = '>'
	case '|', '!', '/', '^', '-', '~':
		if i == 1 {
			return false
		}
	default:
		return false
	}
	if i == 1 && open != '(' && open != '[' && open != '{' {
		return false
	}
	depth := 1
	for i++; s.pos+i < len(s.src); i++ {
		switch c := s.at(i); {
		case c == '\\':
			i++
		case c == closer:
			depth--
		case c == open:
			if depth++; depth > maxPercentDepth {
				return false
			}
		}
		if depth == 0 {
			out := String
			if kind == 'w' || kind == 'W' || kind == 'i' || kind == 'I' || kind == 'r' {
				out = Regex
			}
			s.add(out, min(i+1, len(s.src)-s.pos))
			return true
		}
	}
	return false
}

// option reads -Name and --name where a word may begin.
func (s *scanner) option() bool {
	if s.pos > 0 && !wordEnd(s.src[s.pos-1]) && s.src[s.pos-1] != ',' {
		return false
	}
	n := 1
	if s.at(1) == '-' {
		n = 2
	}
	if c := s.at(n); s.t.class[c] != clsIdent || c == '$' || c == '@' {
		return false
	}
	for c := s.at(n); c != 0 && (s.t.ident[c] && c != '$' || c == '-'); c = s.at(n) {
		n++
	}
	s.add(Option, n)
	return true
}

// elements reads XML: tags as their signs, names and values, text between them
// as MarkupText.
func (s *scanner) elements() {
	for s.pos < len(s.src) {
		at := bytes.IndexByte(s.src[s.pos:], '<')
		if at < 0 {
			at = len(s.src) - s.pos
		}
		if at > 0 {
			s.markupSpan(at)
			continue
		}
		rest := s.src[s.pos:]
		switch {
		case bytes.HasPrefix(rest, []byte("<!--")):
			s.elementComment(rest, "-->")
		case bytes.HasPrefix(rest, []byte("<![CDATA[")):
			n := bytes.Index(rest, []byte("]]>"))
			if n < 0 {
				n = len(rest) - 3
			}
			s.add(MarkupText, max(n+3, 1))
		case bytes.HasPrefix(rest, []byte("<?")):
			s.elementComment(rest, "?>")
		case bytes.HasPrefix(rest, []byte("<!")):
			s.elementComment(rest, ">")
		default:
			s.tag()
		}
	}
}

// markupSpan reads n bytes of text, without the white space around it.
func (s *scanner) markupSpan(n int) {
	end := s.pos + n
	for s.pos < end && s.src[s.pos] <= ' ' && s.src[s.pos] != 0 {
		if s.src[s.pos] == '\n' {
			s.newLine = true
		}
		s.pos++
	}
	if s.pos == end {
		return
	}
	text := bytes.TrimRight(s.src[s.pos:end], " \t\r\n")
	if len(text) > 0 {
		s.add(MarkupText, len(text))
	}
	if bytes.IndexByte(s.src[s.pos:end], '\n') >= 0 {
		s.newLine = true
	}
	s.pos = end
}

func (s *scanner) elementComment(rest []byte, closer string) {
	n := bytes.Index(rest, []byte(closer))
	if n < 0 {
		n = len(rest)
	} else {
		n += len(closer)
	}
	s.comment(n)
}

// tag reads <name a="b">, </name> and <name/>.
func (s *scanner) tag() {
	open := s.add('<', 1)
	for s.pos < len(s.src) {
		b := s.src[s.pos]
		switch {
		case b == '\n':
			s.pos++
			s.newLine = true
		case b <= ' ' && b != 0:
			s.pos++
		case b == '>':
			s.match(open, s.add('>', 1))
			return
		case b == '<':
			return
		case b == '"' || b == '\'':
			n := bytes.IndexByte(s.src[s.pos+1:], b)
			if n < 0 {
				s.broken(s.Tokens[open])
				s.add(String, len(s.src)-s.pos)
				return
			}
			s.add(String, n+2)
		case s.t.ident[b] || b >= 0x80:
			n := 1
			for c := s.at(n); c != 0 && (s.t.ident[c] || c == ':' || c == '-' || c == '.'); c = s.at(n) {
				n++
			}
			s.add(Ident, n)
		case b < 0x20 || b == 0x7f:
			s.add(Unknown, 1)
		default:
			s.add(Kind(b), 1)
		}
	}
	s.broken(s.Tokens[open])
}
