package lex

import (
	"bytes"
	"strconv"
	"unicode/utf8"

	"reed/internal/lang"
)

// quote reads the string that begins here; the byte is known to open one.
func (s *scanner) quote(b byte) {
	rest := s.src[s.pos:]
	if s.f.Has(lang.CountedQuotes) && s.counted() || s.f.Has(lang.Lifetimes) && b == '\'' && s.lifetime() || s.f.Has(lang.HereStrings) && b == '@' && s.hereString() {
		return
	}
	for _, form := range s.t.strings[b] {
		if len(rest) >= len(form.Open) && string(rest[:len(form.Open)]) == form.Open {
			s.text(len(form.Open), form)
			return
		}
	}
	s.punct(b) // $ or @ that opens nothing
}

// prefixed reads a string with n letters before its quote, if those letters
// are a prefix: r, b, u, f, t and their pairs.
func (s *scanner) prefixed(n int) bool {
	form := lang.Form(0)
	for _, c := range s.src[s.pos : s.pos+n] {
		switch c | 0x20 {
		case 'r':
			form |= lang.Raw
		case 'f', 't':
			form |= lang.Braces | lang.FormatEnd
		case 'b', 'u':
		default:
			return false
		}
	}
	rest := s.src[s.pos+n:]
	for _, f := range s.t.strings[rest[0]] {
		if len(rest) >= len(f.Open) && string(rest[:len(f.Open)]) == f.Open {
			f.Form |= form
			s.text(n+len(f.Open), f)
			return true
		}
	}
	return false
}

// counted reads a raw string of three or more quotes, with any number of
// dollar signs before it, when one begins here.
func (s *scanner) counted() bool {
	dollars := 0
	for dollars < 16 && s.at(dollars) == '$' {
		dollars++
	}
	quotes := 0
	for s.at(dollars+quotes) == '"' {
		quotes++
	}
	if quotes < 3 {
		return false
	}
	if dollars == 0 && quotes%2 == 0 && quotes < 8 && s.at(quotes) != '\n' && s.at(quotes) != '\r' &&
		!bytes.Contains(s.src[s.pos+quotes:s.pos+quotes+s.lineEndAt(quotes)], s.src[s.pos:s.pos+quotes]) {
		return false // "" written twice, or an empty string beside another
	}
	form := lang.String{Open: `"""`, Close: string(s.src[s.pos+dollars : s.pos+dollars+quotes]), Form: lang.Raw | lang.Lines}
	if dollars > 0 {
		form.Form |= lang.Braces | lang.FormatEnd
	}
	s.textOf(dollars+quotes, form, dollars)
	return true
}

func (s *scanner) lineEndAt(i int) int {
	n := bytes.IndexByte(s.src[s.pos+i:], '\n')
	if n < 0 {
		return len(s.src) - s.pos - i
	}
	return n
}

func (s *scanner) text(open int, form lang.String) { s.textOf(open, form, 0) }

// textOf reads a string whose opening is open bytes long. Without a value in
// it, it is one token.
func (s *scanner) textOf(open int, form lang.String, dollars int) {
	end, what := s.textEnd(s.pos+open, form, dollars)
	switch what {
	case foundValue:
		if len(s.modes) >= maxNesting {
			s.add(String, s.flatEnd(s.pos+open, form)-s.pos)
			return
		}
		begin := s.add(StringBegin, open)
		s.modes = append(s.modes, mode{form: form, begin: begin, dollar: dollars})
		s.textPart(end)
		s.value()
	default:
		kind := String
		if form.Form.Has(lang.Char) {
			kind = CharString
		}
		at := s.add(kind, end-s.pos)
		if what == foundNothing {
			s.Tokens[at].Flags |= Unterminated
			s.broken(s.Tokens[at])
		}
	}
}

// textPart adds the fixed text up to end, if any.
func (s *scanner) textPart(end int) {
	if end > s.pos {
		s.newLine = false
		s.add(StringText, end-s.pos)
	}
}

// value opens the value that is known to begin here. A value that is only a
// name is read at once, and the text goes on behind it.
func (s *scanner) value() {
	top := len(s.modes) - 1
	m := &s.modes[top]
	n, kind := s.valueAt(s.pos, m.form.Form, m.dollar)
	if kind == nameValue {
		s.nameValue(n)
		s.resume()
		return
	}
	tok := s.add(ValueBegin, n)
	s.brackets = append(s.brackets, bracket{token: tok, kind: ValueBegin, modes: top, paren: kind == parenValue})
}

type valueKind uint8

const (
	noValue    valueKind = iota
	braceValue           // up to a closing brace
	parenValue           // up to a closing parenthesis
	nameValue            // the name that follows
)

// valueAt tells what value begins at byte i of a text, and how long what
// opens it is.
func (s *scanner) valueAt(i int, f lang.Form, dollars int) (int, valueKind) {
	next := byte(0)
	if i+1 < len(s.src) {
		next = s.src[i+1]
	}
	switch s.src[i] {
	case '$':
		switch {
		case next == '{' && f.Has(lang.DollarVar):
			return 2, braceValue
		case next == '(' && f.Has(lang.DollarParen):
			return 2, parenValue
		case f.Has(lang.DollarName) && (s.t.class[next] == clsIdent || next >= 0x80) && next != '$':
			return 1, nameValue
		case f.Has(lang.DollarName) && s.f.Has(lang.Commands|lang.EndBlocks) && (next >= '0' && next <= '9' || bytes.IndexByte([]byte("@*#?$!"), next) >= 0 && next != 0):
			return 1, nameValue
		}
	case '#':
		if next == '{' && f.Has(lang.HashBrace) {
			return 2, braceValue
		}
	case '\\':
		if f.Has(lang.BackParen) {
			n := 1
			for n <= dollars && i+n < len(s.src) && s.src[i+n] == '#' {
				n++
			}
			if n == dollars+1 && i+n < len(s.src) && s.src[i+n] == '(' {
				return n + 1, parenValue
			}
		}
	case '{':
		if f.Has(lang.BraceDollar) && next == '$' {
			return 1, braceValue
		}
		if f.Has(lang.Braces) {
			return max(dollars, 1), braceValue
		}
	}
	return 0, noValue
}

// nameValue reads a value that is a name: $gauge, and $gauge->id or
// $gauge[0] where names bear the sign themselves.
func (s *scanner) nameValue(open int) {
	signed := s.f&(lang.Islands|lang.DashWords|lang.Commands) != 0
	if signed {
		open = 0
	}
	begin := s.add(ValueBegin, open)
	s.Tokens[begin].Flags |= Bare
	n := 1
	for s.at(n) != 0 && s.t.ident[s.at(n)] && s.at(n) != '$' && s.at(n) != '-' && s.at(n) != '\\' {
		n++
	}
	if c := s.at(1); n == 1 && open == 0 || open == 0 && c >= '0' && c <= '9' { // $1, $@
		n = 2
	}
	last := s.add(Ident, n)
	for s.f.Has(lang.SlashStrings) && s.at(0) == '.' && s.t.class[s.at(1)] == clsIdent && s.at(1) != '$' { // $gauge.id
		s.add('.', 1)
		for n = 1; s.t.ident[s.at(n)] && s.at(n) != '$' && s.at(n) != '\\'; n++ {
		}
		last = s.add(Ident, n)
	}
	switch {
	case signed && s.at(0) == '-' && s.at(1) == '>' && s.t.class[s.at(2)] == clsIdent:
		s.add(ThinArrow, 2)
		for n = 1; s.t.ident[s.at(n)] && s.at(n) != '$' && s.at(n) != '\\'; n++ {
		}
		last = s.add(Ident, n)
	case signed && s.f.Has(lang.Islands) && s.at(0) == '[':
		if end := bytes.IndexByte(s.src[s.pos:min(len(s.src), s.pos+100)], ']'); end > 0 {
			last = s.add(ValueFormat, end+1)
		}
	case signed && s.at(0) == ':' && s.t.class[s.at(1)] == clsIdent && s.f.Has(lang.DashWords): // $env:NAME
		for n = 2; s.t.ident[s.at(n)] && s.at(n) != '$' && s.at(n) != '-'; n++ {
		}
		s.Tokens[last].End += uint32(n)
		s.pos += n
	}
	s.match(begin, last)
}

// resume goes on with the string or markup that a closed value stood in.
func (s *scanner) resume() {
	m := &s.modes[len(s.modes)-1]
	if m.markup {
		s.markup()
		return
	}
	end, what := s.textEnd(s.pos, m.form, m.dollar)
	for what == foundValue {
		s.textPart(end)
		n, kind := s.valueAt(s.pos, m.form.Form, m.dollar)
		if kind != nameValue {
			s.value()
			return
		}
		s.nameValue(n)
		end, what = s.textEnd(s.pos, m.form, m.dollar)
	}
	switch what {
	case foundClose:
		s.textPart(end - len(m.form.Close))
		begin := m.begin
		s.modes = s.modes[:len(s.modes)-1]
		s.newLine = false
		s.match(begin, s.add(StringEnd, end-s.pos))
	default:
		s.textPart(end)
		s.broken(s.Tokens[m.begin])
		if last := int32(len(s.Tokens) - 1); s.Tokens[last].Kind == StringText {
			s.match(m.begin, last)
			s.Tokens[last].Kind = StringEnd
		}
		s.modes = s.modes[:len(s.modes)-1]
	}
}

type found uint8

const (
	foundNothing found = iota
	foundClose
	foundValue
)

// textEnd scans a string's text from i and returns where it stops: behind the
// closing quote, at a value, or where an unterminated string is given up.
func (s *scanner) textEnd(i int, form lang.String, dollars int) (int, found) {
	f, closer := form.Form, form.Close
	src := s.src
	q := closer[0]
	const values = lang.Braces | lang.DollarVar | lang.DollarName | lang.DollarParen | lang.HashBrace | lang.BackParen | lang.BraceDollar
	if f.Has(lang.Raw|lang.Lines) && f&(values|lang.Doubled) == 0 && !s.f.Has(lang.PrefixedStrings) {
		n := bytes.Index(src[min(i, len(src)):], []byte(closer))
		if n < 0 {
			return len(src), foundNothing
		}
		i += n + len(closer)
		for closer[len(closer)-1] == q && len(closer) > 2 && s.f&(lang.CountedQuotes|lang.Blocks) != 0 && i < len(src) && src[i] == q {
			i++
		}
		return i, foundClose
	}
	if f&(values|lang.Doubled|lang.Raw|lang.Backtick) == 0 {
		return s.plainEnd(i, q, closer, f.Has(lang.Lines))
	}
	value := byte(0)
	if f.Has(lang.Braces) {
		value = '{'
	}
	for i < len(src) {
		b := src[i]
		if value == 0 && f&values != 0 && (b == '$' || b == '#' || b == '{' || b == '\\') {
			if _, kind := s.valueAt(i, f, dollars); kind != noValue {
				return i, foundValue
			}
		}
		switch {
		case b == '`' && f.Has(lang.Backtick):
			i += 2
		case b == '\\' && f.Has(lang.Backtick):
			i++
		case b == q:
			if len(closer) > 1 {
				if len(src)-i < len(closer) || string(src[i:i+len(closer)]) != closer {
					i++
					continue
				}
				i += len(closer)
				for closer == `"""` && i < len(src) && src[i] == q && s.f&(lang.Blocks|lang.KeywordFuncs) != 0 {
					i++ // quotes before the closing ones belong to the text
				}
				return i, foundClose
			}
			if f.Has(lang.Doubled) && i+1 < len(src) && src[i+1] == q {
				i += 2
				continue
			}
			return i + 1, foundClose
		case b == '\\':
			if value == '{' && i+1 < len(src) && src[i+1] == '{' {
				i++ // a brace is never escaped by a backslash
				continue
			}
			if f.Has(lang.Raw) {
				if s.f.Has(lang.PrefixedStrings) {
					i++ // a raw string still cannot end with a backslash before its quote
				}
				i++
				continue
			}
			if f.Has(lang.Braces) && i+2 < len(src) && src[i+1] == 'N' && src[i+2] == '{' {
				if n := bytes.IndexByte(src[i:min(len(src), i+100)], '}'); n > 0 {
					i += n + 1 // \N{NAME}
					continue
				}
			}
			if i+2 < len(src) && src[i+1] == '\r' && src[i+2] == '\n' {
				i++
			}
			i += 2
		case b == '\n' && !f.Has(lang.Lines):
			if i > 0 && src[i-1] == '\r' {
				i--
			}
			return i, foundNothing
		case value != 0 && b == value:
			n := 1
			for i+n < len(src) && src[i+n] == '{' {
				n++
			}
			if dollars > 1 {
				if n >= dollars {
					return i + n - dollars, foundValue
				}
			} else if n%2 == 1 {
				return i + n - 1, foundValue
			}
			i += n
		default:
			i++
		}
	}
	return len(src), foundNothing
}

// plainEnd is textEnd for strings with backslash escapes and nothing else.
func (s *scanner) plainEnd(i int, q byte, closer string, lines bool) (int, found) {
	src := s.src
	for i < len(src) {
		switch b := src[i]; {
		case b == q:
			if len(closer) == 1 {
				return i + 1, foundClose
			}
			if len(src)-i >= len(closer) && string(src[i:i+len(closer)]) == closer {
				return i + len(closer), foundClose
			}
			i++
		case b == '\\':
			if i+2 < len(src) && src[i+1] == '\r' && src[i+2] == '\n' {
				i++
			}
			i += 2
		case b == '\n' && !lines:
			if i > 0 && src[i-1] == '\r' {
				i--
			}
			return i, foundNothing
		default:
			i++
		}
	}
	return len(src), foundNothing
}

// flatEnd returns where a string ends when its values are not looked into.
func (s *scanner) flatEnd(i int, form lang.String) int {
	form.Form &^= lang.Braces | lang.DollarVar | lang.DollarName | lang.DollarParen | lang.HashBrace | lang.BackParen | lang.BraceDollar
	end, _ := s.textEnd(i, form, 0)
	return max(end, s.pos+1)
}

// valueFormat reads ":format" when a colon here ends a value inside a string.
func (s *scanner) valueFormat() bool {
	m := s.topValue()
	if m == nil || !m.form.Form.Has(lang.FormatEnd) || s.at(1) == ':' {
		return false
	}
	if s.lambdaOpen() {
		return false
	}
	return s.format(m)
}

// conversion reads "!r:format" inside a Python value.
func (s *scanner) conversion() bool {
	m := s.topValue()
	if m == nil || !s.f.Has(lang.PrefixedStrings) || !m.form.Form.Has(lang.FormatEnd) || s.at(1) == '=' {
		return false
	}
	return s.format(m)
}

// topValue returns the mode of the value whose inside the scanner is
// directly in, nil when it is elsewhere.
func (s *scanner) topValue() *mode {
	if len(s.brackets) == 0 {
		return nil
	}
	top := s.brackets[len(s.brackets)-1]
	if top.kind != ValueBegin || top.modes < 0 || s.modes[top.modes].markup {
		return nil
	}
	return &s.modes[top.modes]
}

// lambdaOpen reports whether a lambda keyword stands in the current value.
func (s *scanner) lambdaOpen() bool {
	from := s.brackets[len(s.brackets)-1].token
	for i := len(s.Tokens) - 1; i > int(from) && i > len(s.Tokens)-20; i-- {
		if s.Tokens[i].Kind == Kw(lang.Lambda) && s.f.Has(lang.PrefixedStrings) {
			return true
		}
	}
	return false
}

// format reads the format of a value up to its closing brace; braces inside
// it are skipped as text.
func (s *scanner) format(m *mode) bool {
	if s.pos < s.noFormat {
		return false
	}
	depth := 0
	i := s.pos
	for ; i < len(s.src); i++ {
		b := s.src[i]
		if b == '{' {
			depth++
		} else if b == '}' {
			if depth == 0 {
				break
			}
			depth--
		} else if b == '\n' || (b == m.form.Close[0] && !m.form.Form.Has(lang.Lines)) {
			s.noFormat = i
			return false
		}
	}
	if i >= len(s.src) || i == s.pos {
		s.noFormat = i
		return false
	}
	s.add(ValueFormat, i-s.pos)
	return true
}

// markupNext reports whether "<" here begins a markup island.
func (s *scanner) markupNext() bool {
	b := s.at(1)
	if !(b >= 'a' && b <= 'z' || b >= 'A' && b <= 'Z' || b == '_' || b == '>') || !s.operandNext() {
		return false
	}
	if len(s.Tokens) > 0 {
		if last := s.Tokens[len(s.Tokens)-1]; last.Kind == '}' || last.Kind == ')' {
			return false
		}
	}
	if b != '>' && s.typeParameters() {
		return false
	}
	return len(s.modes) < maxNesting
}

// typeParameters reports whether "<" here opens type parameters of a function
// rather than markup: <T, U>, <T extends U>, <T: U>, and <T>( without a
// closing tag in sight.
func (s *scanner) typeParameters() bool {
	if len(s.Tokens) > 0 && s.Tokens[len(s.Tokens)-1].Kind == Kw(lang.Func) {
		return true
	}
	i := 1
	for s.pos+i < len(s.src) && s.t.ident[s.src[s.pos+i]] {
		i++
	}
	rest := s.src[s.pos+i:]
	for _, sign := range []string{",", " extends ", ": ", " = "} {
		if bytes.HasPrefix(rest, []byte(sign)) && (s.f.Has(lang.TypeArrows) || sign != " = ") {
			return true
		}
	}
	if !bytes.HasPrefix(rest, []byte(">(")) {
		return false
	}
	name := s.src[s.pos+1 : s.pos+i]
	return !bytes.Contains(rest[:min(len(rest), 4096)], append([]byte("</"), name...))
}

func (s *scanner) beginMarkup() {
	s.modes = append(s.modes, mode{markup: true, begin: int32(len(s.Tokens))})
	s.add(MarkupPunct, 1)
	s.modes[len(s.modes)-1].inTag = true
	s.markup()
}

// markup reads on inside an island until it ends or a brace opens code.
func (s *scanner) markup() {
	m := &s.modes[len(s.modes)-1]
	for s.pos < len(s.src) {
		b := s.src[s.pos]
		if !m.inTag {
			n := bytes.IndexAny(s.src[s.pos:min(len(s.src), s.pos+1<<20)], "<{")
			if n < 0 {
				n = min(len(s.src)-s.pos, 1<<20)
			}
			if n > 0 {
				s.add(MarkupText, n)
				continue
			}
			if b == '{' {
				s.markupCode()
				return
			}
			m.inTag = true
			m.closer = s.at(1) == '/'
			if m.closer {
				s.add(MarkupPunct, 2)
			} else {
				s.add(MarkupPunct, 1)
			}
			continue
		}
		switch {
		case b == '\n':
			s.pos++
			s.newLine = true
		case s.t.class[b] == clsSpace:
			s.pos++
		case b == '<':
			s.add(MarkupPunct, s.typeArguments())
		case b == '{':
			s.markupCode()
			return
		case b == '/' && s.at(1) == '>':
			if m.depth == 0 {
				s.add(MarkupEnd, 2)
				s.modes = s.modes[:len(s.modes)-1]
				return
			}
			s.add(MarkupPunct, 2)
			m.inTag = false
		case b == '>':
			if m.closer {
				m.depth--
			} else {
				m.depth++
			}
			if m.depth <= 0 {
				s.add(MarkupEnd, 1)
				s.modes = s.modes[:len(s.modes)-1]
				return
			}
			s.add(MarkupPunct, 1)
			m.inTag, m.closer = false, false
		case b == '"' || b == '\'':
			n := bytes.IndexByte(s.src[s.pos+1:], b)
			if n < 0 {
				n = s.lineEnd() - 2
			}
			s.add(MarkupText, max(n+2, 1))
		case s.comments(b):
		case s.t.ident[b]:
			i := 1
			for s.pos+i < len(s.src) && (s.t.ident[s.src[s.pos+i]] || s.src[s.pos+i] == '-') {
				i++
			}
			s.add(MarkupName, i)
		default:
			s.add(MarkupPunct, 1)
		}
	}
}

// typeArguments returns the length of the type arguments that begin here,
// as in <List<Gauge> …>, 1 when none do.
func (s *scanner) typeArguments() int {
	depth := 0
	for i := 0; i < 200 && s.pos+i < len(s.src); i++ {
		switch s.src[s.pos+i] {
		case '<':
			depth++
		case '>':
			if depth--; depth == 0 {
				return i + 1
			}
		}
	}
	return 1
}

// markupCode opens the brace of code inside markup.
func (s *scanner) markupCode() {
	tok := s.add('{', 1)
	s.brackets = append(s.brackets, bracket{token: tok, kind: '{', modes: len(s.modes) - 1})
}

// Unquote returns the fixed text of a string token as the program sees it:
// without prefix and quotes, the common escapes decoded. Text that is no
// string is returned as it is.
func Unquote(tok []byte) string {
	i := 0
	raw := false
	for i < len(tok) && tok[i] != '"' && tok[i] != '\'' && tok[i] != '`' {
		switch tok[i] {
		case 'r', 'R', '@':
			raw = true
		}
		i++
	}
	if i == len(tok) {
		return string(tok)
	}
	q := tok[i]
	if i > 0 && tok[i-1] == 'R' && q == '"' { // R"fence(text)fence"
		if open := bytes.IndexByte(tok, '('); open > 0 && len(tok) >= 2*(open-i)+i+1 {
			return string(tok[open+1 : max(open+1, len(tok)-(open-i)-1)])
		}
	}
	n := 1
	if rest := tok[i:]; len(rest) >= 6 && rest[1] == q && rest[2] == q {
		for n = 3; n < len(rest)/2 && rest[n] == q && rest[len(rest)-n-1] == q; n++ {
		}
	}
	body := tok[min(i+n, len(tok)):]
	if len(body) >= n && body[len(body)-1] == q {
		body = body[:len(body)-n]
	}
	if raw || q == '`' && bytes.IndexByte(body, '\\') < 0 {
		if q == '"' && n == 1 {
			body = bytes.ReplaceAll(body, []byte(`""`), []byte(`"`))
		}
		return string(body)
	}
	return Unescape(body)
}

// Unescape decodes the escapes that the languages share; an escape it does
// not know stays as written.
func Unescape(body []byte) string {
	at := bytes.IndexByte(body, '\\')
	if at < 0 {
		return string(body)
	}
	out := append(make([]byte, 0, len(body)), body[:at]...)
	for i := at; i < len(body); i++ {
		if body[i] != '\\' || i+1 >= len(body) {
			out = append(out, body[i])
			continue
		}
		i++
		switch c := body[i]; c {
		case 'n':
			out = append(out, '\n')
		case 't':
			out = append(out, '\t')
		case 'r':
			out = append(out, '\r')
		case '0':
			out = append(out, 0)
		case 'e':
			out = append(out, 0x1b)
		case '\n':
		case '\\', '"', '\'', '`', '$', '{', '}', '/':
			out = append(out, c)
		case 'x', 'u':
			width := 2
			if c == 'u' {
				width = 4
			}
			r, used := hex(body[i+1:], width)
			if used == 0 {
				out = append(out, '\\', c)
				continue
			}
			out = utf8.AppendRune(out, r)
			i += used
		default:
			out = append(out, '\\', c)
		}
	}
	return string(out)
}

// hex reads width hexadecimal digits, or any number in braces.
func hex(b []byte, width int) (r rune, used int) {
	if len(b) > 2 && b[0] == '{' {
		end := bytes.IndexByte(b[:min(len(b), 12)], '}')
		if end < 2 {
			return 0, 0
		}
		n, err := strconv.ParseUint(string(b[1:end]), 16, 31)
		if err != nil {
			return 0, 0
		}
		return rune(n), end + 1
	}
	if len(b) < width {
		return 0, 0
	}
	n, err := strconv.ParseUint(string(b[:width]), 16, 32)
	if err != nil {
		return 0, 0
	}
	return rune(n), width
}
