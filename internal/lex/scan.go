package lex

import (
	"bytes"

	"reed/internal/lang"
)

// maxNesting bounds strings inside values inside strings and markup inside
// markup; past it the scan goes on flat.
const maxNesting = 10_000

type bracket struct {
	token int32
	kind  Kind // '(', '[', '{' or ValueBegin
	modes int  // ValueBegin and markup braces: len(modes) to go back to
	paren bool // a ValueBegin that a parenthesis closes
}

// mode is what the scanner returns to when a value or a markup brace closes.
type mode struct {
	markup bool
	form   lang.String
	begin  int32 // token that opened it
	depth  int   // markup: open elements
	inTag  bool
	closer bool // markup: inside </name>
	dollar int  // counted quotes: braces that open a value; fences: # signs
}

type scanner struct {
	*Result
	t       *Table
	src     []byte
	pos     int
	newLine bool // no token on this line yet
	glued   bool // the line continues the one before
	// A search that failed up to here would fail again: these keep the scan linear.
	noRegex, noFormat int
	noEndif           bool
	f                 lang.Feature
	here              []hereDoc   // texts that begin on the next line
	branches          [][]bracket // brackets open at each #if around
}

// Scan reads src into res. Time and memory are linear in len(src).
func Scan(t *Table, src []byte, res *Result) {
	res.Tokens, res.Partner = res.Tokens[:0], res.Partner[:0]
	res.Comments, res.Broken = res.Comments[:0], res.Broken[:0]
	res.brackets, res.modes = res.brackets[:0], res.modes[:0]
	if want := len(src) / 4; cap(res.Tokens) < want {
		res.Tokens = make([]Token, 0, want)
		res.Partner = make([]int32, 0, want)
	}
	s := scanner{Result: res, t: t, src: src, newLine: true, f: t.Spec.Features}
	if bytes.HasPrefix(src, []byte("#!")) {
		s.comment(s.lineEnd())
	}
	if s.f.Has(lang.Islands) {
		s.outside()
	}
	if s.f.Has(lang.Elements) {
		s.elements()
	}
	for s.pos < len(src) {
		s.step()
	}
	for _, b := range s.brackets {
		if b.kind == ValueBegin {
			s.broken(s.Tokens[b.token])
		}
	}
	for _, m := range s.modes {
		s.broken(s.Tokens[m.begin])
	}
}

func (s *scanner) broken(t Token) {
	t.Flags |= Unterminated
	s.Broken = append(s.Broken, t)
}

// step reads one token, comment or run of white space; it always moves.
func (s *scanner) step() {
	b := s.src[s.pos]
	switch s.t.class[b] {
	case clsSpace:
		src, i := s.src, s.pos+1
		for i < len(src) && (src[i] == ' ' || src[i] == '\t') {
			i++
		}
		s.pos = i
	case clsNewline:
		s.pos++
		s.newLine = true
		if len(s.here) > 0 {
			s.hereBodies()
		}
	case clsIdent, clsWide:
		s.word()
	case clsDigit:
		s.number()
	case clsQuote:
		if !s.t.comment[b] || !s.comments(b) {
			s.quote(b)
		}
	case clsHash:
		switch {
		case s.newLine:
			s.comment(s.directive())
		default:
			s.add(Kind(b), 1)
		}
	case clsBackslash:
		s.backslash()
	case clsPunct:
		if !s.t.comment[b] || !s.comments(b) {
			s.punct(b)
		}
	default:
		s.add(Unknown, 1)
	}
}

func (s *scanner) backslash() {
	rest := s.src[s.pos+1:]
	if len(rest) > 0 && rest[0] == '\r' {
		rest = rest[1:]
	}
	if len(rest) > 0 && rest[0] == '\n' {
		s.pos = len(s.src) - len(rest) + 1
		s.newLine, s.glued = true, true
		if s.f.Has(lang.Commands) {
			s.newLine, s.glued = false, false
		}
		return
	}
	if s.f.Has(lang.Commands) && !s.f.Has(lang.DashWords) && len(rest) > 0 {
		s.add(Unknown, 2)
		return
	}
	s.add(Unknown, 1)
}

func (s *scanner) at(i int) byte {
	if s.pos+i < len(s.src) {
		return s.src[s.pos+i]
	}
	return 0
}

// add appends a token of n bytes at the current place and moves on.
func (s *scanner) add(kind Kind, n int) int32 {
	tok := Token{Start: uint32(s.pos), End: uint32(s.pos + n), Kind: kind}
	if s.newLine {
		tok.Flags = LineStart
		s.newLine = false
		if s.f.Has(lang.IndentBlocks) {
			s.indent(&tok)
		}
		s.glued = false
	}
	s.pos += n
	r := s.Result
	at := len(r.Tokens)
	if at < cap(r.Tokens) && at < cap(r.Partner) { // two appends cost a fifth of the scan
		r.Tokens, r.Partner = r.Tokens[:at+1], r.Partner[:at+1]
		r.Tokens[at], r.Partner[at] = tok, -1
		return int32(at)
	}
	r.grow(at, len(s.src), s.pos)
	r.Tokens = append(r.Tokens, tok)
	r.Partner = append(r.Partner, -1)
	return int32(at)
}

// grow makes room for the tokens of a whole text of which pos bytes gave n:
// growing step by step took a third of the time of a file of 200 MB.
func (r *Result) grow(n, size, pos int) {
	want := 64 + n + n/16
	if pos > 0 {
		want += int(float64(n) * float64(size-min(pos, size)) / float64(pos) * 1.02)
	}
	want = min(want, size+64)
	if want > cap(r.Tokens) {
		r.Tokens = append(make([]Token, 0, want), r.Tokens...)
	}
	if want > cap(r.Partner) {
		r.Partner = append(make([]int32, 0, want), r.Partner...)
	}
}

// indent marks a token that begins a statement of an indented language. A
// declaration keyword at the margin ends brackets that were left open.
func (s *scanner) indent(tok *Token) {
	if s.glued || len(s.modes) > 0 {
		return
	}
	if len(s.brackets) > 0 && tok.Kind < KeywordBase {
		return
	}
	col := 0
	for i := int(tok.Start) - 1; i >= 0 && s.src[i] != '\n'; i-- {
		col++
	}
	width := 0
	for _, b := range s.src[int(tok.Start)-col : tok.Start] {
		if b == '\t' {
			width += 8 - width%8
		} else {
			width++
		}
	}
	if len(s.brackets) > 0 {
		switch tok.Kind.Role() {
		case lang.Func, lang.Class, lang.Import, lang.Return, lang.Throw, lang.While, lang.Try, lang.With:
			s.brackets = s.brackets[:0]
		default:
			return
		}
	}
	tok.Flags |= StmtStart
	tok.Indent = uint16(min(width, 1<<16-1))
}

func (s *scanner) comment(n int) {
	tok := Token{Start: uint32(s.pos), End: uint32(s.pos + n)}
	if s.newLine {
		tok.Flags = LineStart
	}
	s.Comments = append(s.Comments, tok)
	s.pos += n
}

// lineEnd returns the number of bytes up to the end of the line.
func (s *scanner) lineEnd() int {
	n := bytes.IndexByte(s.src[s.pos:], '\n')
	if n < 0 {
		return len(s.src) - s.pos
	}
	if n > 0 && s.src[s.pos+n-1] == '\r' {
		n--
	}
	return n
}

// comments reads a comment when one begins here.
func (s *scanner) comments(b byte) bool {
	if !s.t.comment[b] {
		return false
	}
	rest := s.src[s.pos:]
	for _, open := range s.t.Spec.LineComments {
		if len(rest) >= len(open) && string(rest[:len(open)]) == open && s.lineComment(rest, open) {
			return true
		}
	}
	n := s.blockComment(rest, s.t.Spec.BlockOpen, s.t.Spec.BlockClose)
	for _, pair := range s.t.Spec.MoreBlocks {
		if n == 0 {
			n = s.blockComment(rest, pair[0], pair[1])
		}
	}
	if n == 0 {
		return false
	}
	lines := bytes.IndexByte(rest[:n], '\n') >= 0
	s.comment(n)
	if lines {
		s.newLine = true
	}
	return true
}

// lineComment reads a comment that open is known to begin, unless the sign
// means something else here.
func (s *scanner) lineComment(rest []byte, open string) bool {
	if open == "#" {
		switch {
		case s.f.Has(lang.Islands) && len(rest) > 1 && rest[1] == '[': // an attribute
			return false
		case s.f.Has(lang.Commands) && s.pos > 0 && !wordEnd(s.src[s.pos-1]):
			return false
		}
	}
	n := s.lineEnd()
	if s.f.Has(lang.Islands) {
		if end := bytes.Index(rest[:n], []byte("?>")); end >= 0 {
			n = end
		}
	}
	s.comment(n)
	return true
}

func wordEnd(b byte) bool {
	return b <= ' ' || b == ';' || b == '(' || b == ')' || b == '|' || b == '&' || b == '}' || b == '`'
}

// blockComment returns the length of the block comment that begins rest, 0
// when none does.
func (s *scanner) blockComment(rest []byte, open, closer string) int {
	if open == "" || len(rest) < len(open) || string(rest[:len(open)]) != open {
		return 0
	}
	if s.f.Has(lang.RubyWords) && (!s.newLine || s.pos > 0 && s.src[s.pos-1] != '\n') { // =begin stands at the margin
		return 0
	}
	at, depth := len(open), 1
	for {
		end := bytes.Index(rest[at:], []byte(closer))
		if end < 0 {
			s.broken(Token{Start: uint32(s.pos), End: uint32(len(s.src))})
			return len(rest)
		}
		if s.f.Has(lang.NestedComments) {
			depth += bytes.Count(rest[at:at+end], []byte(open))
		}
		at += end + len(closer)
		if depth--; depth <= 0 {
			return at
		}
	}
}

// directive returns the length of the preprocessor line that begins here; of
// "#if false" that of all it switches off.
func (s *scanner) directive() int {
	n := s.lineEnd()
	if s.f.Has(lang.Directives) {
		n = s.continued(n)
		s.branch()
	}
	if !bytes.HasPrefix(s.src[s.pos:], []byte("#if")) {
		return n
	}
	line := bytes.Join(bytes.Fields(s.src[s.pos:s.pos+min(n, 40)]), []byte(" "))
	if s.noEndif || string(line) != "#if false" && string(line) != "#if 0" {
		return n
	}
	depth := 0
	for at := s.pos + n; at < len(s.src); {
		next := bytes.IndexByte(s.src[at:], '\n')
		if next < 0 {
			break
		}
		at += next + 1
		text := bytes.TrimLeft(s.src[at:min(len(s.src), at+80)], " \t")
		switch {
		case bytes.HasPrefix(text, []byte("#if")):
			depth++
		case bytes.HasPrefix(text, []byte("#endif")) && depth > 0:
			depth--
		case depth == 0 && (bytes.HasPrefix(text, []byte("#endif")) || bytes.HasPrefix(text, []byte("#el"))):
			return at - s.pos
		}
	}
	s.noEndif = true
	return n
}

// continued returns the length of a line and of those that backslashes join
// to it.
func (s *scanner) continued(n int) int {
	for s.pos+n < len(s.src) {
		last := s.pos + n - 1
		if last < s.pos || s.src[last] != '\\' {
			return n
		}
		n++ // the line end
		if s.pos+n <= len(s.src) && s.src[s.pos+n-1] == '\r' {
			n++
		}
		if s.pos+n >= len(s.src) {
			return min(n, len(s.src)-s.pos)
		}
		next := bytes.IndexByte(s.src[s.pos+n:], '\n')
		if next < 0 {
			return len(s.src) - s.pos
		}
		n += next
		if s.src[s.pos+n-1] == '\r' {
			n--
		}
	}
	return n
}

// maxBranches bounds the nesting of #if whose brackets are remembered.
const maxBranches = 64

// branch keeps brackets that the branches of an #if open apart: each branch
// begins with those that were open before it.
func (s *scanner) branch() {
	text := bytes.TrimLeft(s.src[s.pos+1:min(len(s.src), s.pos+32)], " \t")
	top := len(s.branches) - 1
	switch {
	case bytes.HasPrefix(text, []byte("if")):
		var saved []bracket
		if len(s.branches) < maxBranches && len(s.brackets) < maxBranches {
			saved = append(make([]bracket, 0, len(s.brackets)+1), s.brackets...)
		}
		s.branches = append(s.branches, saved)
	case bytes.HasPrefix(text, []byte("el")) && top >= 0:
		if saved := s.branches[top]; saved != nil && len(s.modes) == 0 && !same(saved, s.brackets) {
			s.brackets = s.brackets[:0]
			for _, b := range saved {
				if s.Partner[b.token] < 0 { // not closed by the branch before
					s.brackets = append(s.brackets, b)
				}
			}
		}
	case bytes.HasPrefix(text, []byte("endif")) && top >= 0:
		s.branches = s.branches[:top]
	}
}

func same(a, b []bracket) bool {
	return len(a) == len(b) && (len(a) == 0 || a[len(a)-1] == b[len(b)-1])
}

func (s *scanner) word() {
	i, src, ident := s.pos+1, s.src, &s.t.ident
	for i < len(src) && ident[src[i]] {
		i++
	}
	if i < len(s.src) && i-s.pos <= 2 && s.f.Has(lang.PrefixedStrings) {
		if q := s.src[i]; (q == '"' || q == '\'') && s.prefixed(i-s.pos) {
			return
		}
	}
	if i < len(src) && s.t.Spec.Prefixes != nil && (src[i] == '"' || src[i] == '\'' || src[i] == '#' && s.f.Has(lang.HashFences)) && s.prefix(i-s.pos) {
		return
	}
	if s.f&(lang.RubyWords|lang.DashWords) != 0 {
		i = s.wordTail(i)
	}
	word := s.src[s.pos:i]
	kind := s.t.keyword(word)
	if kind != Ident && len(s.Tokens) > 0 {
		if last := s.Tokens[len(s.Tokens)-1].Kind; (last == '.' || last == SafeDot) && kind != Kw(lang.Import) {
			kind = Ident
		}
	}
	s.add(kind, len(word))
}

func (s *scanner) number() {
	i := s.pos + 1
	for i < len(s.src) {
		b := s.src[i]
		switch {
		case s.t.ident[b]:
		case b == '.' && i+1 < len(s.src) && s.src[i+1] >= '0' && s.src[i+1] <= '9':
		case b == '\'' && s.f.Has(lang.Directives) && i+1 < len(s.src) && s.t.ident[s.src[i+1]]: // 1'000'000
		case (b == '+' || b == '-') && (s.src[i-1]|0x20 == 'e' || s.src[i-1]|0x20 == 'p') && i+1 < len(s.src) && s.src[i+1] >= '0' && s.src[i+1] <= '9' && (len(s.src[s.pos:i]) < 2 || s.src[s.pos+1]|0x20 != 'x' || s.src[i-1]|0x20 == 'p'):
		default:
			s.add(Number, i-s.pos)
			return
		}
		i++
	}
	s.add(Number, i-s.pos)
}

func (s *scanner) punct(b byte) {
	switch b {
	case '(', '[', '{':
		s.open(s.add(Kind(b), 1), Kind(b))
	case ')', ']', '}':
		s.close(b)
	case '/':
		if s.f.Has(lang.RegexLiterals) && (s.operandNext() || s.f.Has(lang.RubyWords) && s.commandRegex()) {
			if n := s.regex(); n > 0 {
				kind := Regex
				if s.f.Has(lang.SlashStrings) {
					kind = String
				}
				s.add(kind, n)
				return
			}
		}
		s.operator(b)
	case '<':
		if s.f.Has(lang.Markup) && s.markupNext() {
			s.beginMarkup()
			return
		}
		if s.at(1) == '<' && (s.f.Has(lang.HereDocs) && s.hereDoc() || s.f.Has(lang.HereText) && s.hereText()) {
			return
		}
		s.operator(b)
	case ':':
		if s.valueFormat() || s.f.Has(lang.RubyWords) && s.symbol() {
			return
		}
		s.operator(b)
	case '`':
		if s.f.Has(lang.DashWords) && (s.at(1) == '\n' || s.at(1) == '\r' && s.at(2) == '\n') { // the line goes on
			n := 2
			if s.at(1) == '\r' {
				n = 3
			}
			s.add(Unknown, 1)
			s.pos += n - 1
			return
		}
		s.operator(b)
	case '?':
		if s.f.Has(lang.Islands) && s.at(1) == '>' {
			s.add(';', 2)
			s.outside()
			return
		}
		if s.f.Has(lang.RubyWords) && s.operandNext() && s.at(1) > ' ' && !s.t.ident[s.at(2)] {
			s.add(CharString, 2)
			return
		}
		s.operator(b)
	case '%':
		if s.f.Has(lang.RubyWords) && s.percentText() {
			return
		}
		s.operator(b)
	case '-':
		if s.f&(lang.DashWords|lang.Commands) != 0 && s.option() {
			return
		}
		s.operator(b)
	case '#':
		if s.f.Has(lang.HashFences) && s.t.Spec.Prefixes == nil && s.fenced(0, 0) {
			return
		}
		s.operator(b)
	case '!':
		if s.conversion() {
			return
		}
		s.operator(b)
	default:
		s.operator(b)
	}
}

type operator struct {
	text string
	kind Kind
}

// operators by first byte, longest first.
var operators = [256][]operator{
	'=': {{"===", Equal}, {"==", Equal}, {"=>", Arrow}},
	'!': {{"!==", NotEqual}, {"!=", NotEqual}},
	'<': {{"<<=", OpAssign}, {"<<", ShiftLeft}, {"<=", LessEq}, {"<-", Receive}},
	'>': {{">=", GreaterEq}},
	'&': {{"&&=", OpAssign}, {"&&", AndAnd}, {"&=", OpAssign}},
	'|': {{"||=", OpAssign}, {"||", OrOr}, {"|=", OpAssign}},
	'?': {{"??=", OpAssign}, {"??", Coalesce}, {"?.", SafeDot}},
	':': {{":=", Declare}, {"::", Scope}},
	'+': {{"++", Increment}, {"+=", OpAssign}},
	'-': {{"->", ThinArrow}, {"--", Increment}, {"-=", OpAssign}},
	'*': {{"**=", OpAssign}, {"**", Power}, {"*=", OpAssign}},
	'/': {{"//=", OpAssign}, {"/=", OpAssign}},
	'%': {{"%=", OpAssign}},
	'^': {{"^=", OpAssign}},
	'@': {{"@=", OpAssign}},
	'.': {{"...", Ellipsis}, {"..", DotDot}},
}

// second are the bytes that stand second in an operator.
var second = func() (t [256]bool) {
	for _, ops := range operators {
		for _, op := range ops {
			t[op.text[1]] = true
		}
	}
	return t
}()

func (s *scanner) operator(b byte) {
	if b == '&' && s.at(1) == '.' && s.f.Has(lang.RubyWords) {
		s.add(SafeDot, 2)
		return
	}
	// Most signs stand alone; the byte behind tells so without a search.
	if next := s.at(1); next >= 0x80 || operators[b] == nil || !second[next] {
		s.add(Kind(b), 1)
		return
	}
	for _, op := range operators[b] {
		n := len(op.text)
		if len(s.src)-s.pos < n || string(s.src[s.pos:s.pos+n]) != op.text {
			continue
		}
		if op.kind == SafeDot && s.at(2) >= '0' && s.at(2) <= '9' {
			break // a ? .5 : 1
		}
		if op.kind == Receive && !s.f.Has(lang.ErrorValues) {
			break // a <-b
		}
		s.add(op.kind, n)
		return
	}
	s.add(Kind(b), 1)
}

func (s *scanner) open(tok int32, kind Kind) {
	s.brackets = append(s.brackets, bracket{token: tok, kind: kind, modes: -1})
}

// close reads a closing bracket and finds its partner. A ")" or "]" never
// closes over a brace; a "}" closes over brackets that were left open.
func (s *scanner) close(b byte) {
	stack := s.brackets
	if b == '}' {
		for n := len(stack); n > 0; n = len(stack) {
			top := stack[n-1]
			if top.kind == '{' || top.kind == ValueBegin {
				break
			}
			stack = stack[:n-1]
		}
		s.brackets = stack
		if n := len(stack); n > 0 && stack[n-1].paren { // a brace does not close what a parenthesis does
			s.add(Kind(b), 1)
			return
		}
	} else {
		want := Kind('(')
		if b == ']' {
			want = '['
		}
		n := len(stack)
		switch {
		case n > 0 && (stack[n-1].kind == want || b == ')' && stack[n-1].paren):
		case n > 1 && stack[n-2].kind == want && stack[n-1].kind != '{' && stack[n-1].kind != ValueBegin:
			stack = stack[:n-1]
		default:
			s.add(Kind(b), 1)
			return
		}
		s.brackets = stack
	}
	if len(stack) == 0 {
		s.add(Kind(b), 1)
		return
	}
	top := stack[len(stack)-1]
	s.brackets = stack[:len(stack)-1]
	kind := Kind(b)
	if top.kind == ValueBegin {
		kind = ValueEnd
	}
	n := 1
	if top.kind == ValueBegin && top.modes >= 0 && s.modes[top.modes].dollar > 1 {
		n = s.run('}', s.modes[top.modes].dollar)
	}
	s.match(top.token, s.add(kind, n))
	if top.modes >= 0 {
		s.resume()
	}
}

func (s *scanner) run(b byte, most int) int {
	n := 0
	for n < most && s.at(n) == b {
		n++
	}
	return max(n, 1)
}

func (s *scanner) match(a, b int32) {
	s.Partner[a], s.Partner[b] = b, a
}

// operandNext reports whether an operand may begin here: the token before
// does not end one.
func (s *scanner) operandNext() bool {
	if len(s.Tokens) == 0 {
		return true
	}
	i := len(s.Tokens) - 1
	last := s.Tokens[i]
	switch last.Kind {
	case Ident, Number, String, CharString, StringEnd, Regex, ']', MarkupEnd, Increment:
		return false
	case ')':
		if open := s.Partner[i]; open > 0 {
			switch s.Tokens[open-1].Kind.Role() {
			case lang.If, lang.While, lang.For, lang.With:
				return true
			}
		}
		return false
	case '}':
		return s.newLine
	}
	switch last.Kind.Role() {
	case lang.Self, lang.Literal:
		return false
	case lang.Func:
		return !s.f.Has(lang.RubyWords) // def /
	}
	return true
}

// regex returns the length of the regular expression that begins here, 0
// when none does. It never runs over a line end.
func (s *scanner) regex() int {
	if s.pos < s.noRegex {
		return 0
	}
	set := false
	for i := s.pos + 1; i < len(s.src); i++ {
		switch s.src[i] {
		case '\n':
			if s.f.Has(lang.RubyWords) {
				return s.spacedRegex()
			}
			s.noRegex = i
			return 0
		case '\\':
			i++
		case '[':
			set = true
		case ']':
			set = false
		case '/':
			if set {
				continue
			}
			i++
			for i < len(s.src) && s.t.ident[s.src[i]] {
				i++
			}
			return i - s.pos
		}
	}
	s.noRegex = len(s.src)
	return 0
}
