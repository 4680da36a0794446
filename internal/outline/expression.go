package outline

import (
	"reed/internal/lang"
	"reed/internal/lex"
)

// until says at which token, outside brackets, an expression walk stops
// besides a semicolon and a closing bracket.
type until uint8

const (
	toEnd   until = iota // the end of the statement
	toComma              // also at a comma
	toColon              // also at a colon
)

// expression walks the tokens of an expression statement or of a part of one
// and returns the index of the token that ends it.
func (p *parser) expression(i, end, scope int32, stop until) int32 {
	base := len(p.opens)
	next := p.walk(i, end, scope, stop, base)
	p.opens = p.opens[:base]
	return next
}

// walk does the work of expression; base is the number of brackets that were
// open before.
func (p *parser) walk(i, end, scope int32, stop until, base int) int32 {
	start := i
	for i < end {
		k := p.kind(i)
		top := len(p.opens) == base
		if top && i > start && p.toks[i].Flags&lex.LineStart != 0 && p.newStatement(i) {
			return i
		}
		switch k {
		case lex.Ident:
			next := p.identifier(i, end, scope)
			if next > 0 {
				i = next
				continue
			}
		case lex.String:
			if p.kind(i+1) == '(' && p.f.Has(lang.NamedMethods) && p.literalMethod(i, end) {
				i = p.method(i, i, i+1, end, scope, 0)
				continue
			}
		case '(', '[', '{', lex.ValueBegin:
			if k == lex.ValueBegin && p.toks[i].Flags&lex.Bare != 0 {
				i = p.skip(i)
				continue
			}
			if next := p.bracket(i, end, scope, top); next > 0 {
				i = next
				continue
			}
			if p.partner[i] > i {
				p.opens = append(p.opens, i)
			}
		case ')', ']', '}', lex.ValueEnd:
			if p.partner[i] >= 0 {
				if top {
					return i
				}
				p.opens = p.opens[:len(p.opens)-1]
			}
			if k != '}' && p.kind(i+1) == '(' && p.f&(lang.IndentBlocks|lang.ErrorFirst) != 0 && p.partner[i+1] > 0 && p.computed(i) {
				p.Calls = append(p.Calls, Call{Name: i, Open: i + 1, Scope: scope})
			}
			if k == ')' && p.kind(i+1) == '{' && i+1 < end {
				if next := p.afterArguments(i, end, scope, len(p.opens) == base); next > 0 {
					i = next
					continue
				}
			}
		case ';':
			if top {
				return i
			}
		case ',':
			if top && stop == toComma {
				return i
			}
		case ':':
			if top && stop == toColon {
				return i
			}
		default:
			if k.IsKeyword() {
				next, done := p.keyword(i, start, end, scope, top)
				if done {
					return next
				}
				if next > 0 {
					i = next
					continue
				}
			}
		}
		i++
	}
	return end
}

// computed tells whether the bracket that token i closes may give a logging
// function: log[level], getattr(log, name), (a ? log.warn : log.info).
func (p *parser) computed(i int32) bool {
	open := p.partner[i]
	if open < 0 || i-open > 40 {
		return false
	}
	if p.kind(i) == ']' {
		return p.kind(open-1) == lex.Ident
	}
	if p.kind(open-1) == lex.Ident {
		return p.is(open-1, "getattr")
	}
	for j := open + 1; j < i; j++ {
		if p.kind(j) == lex.Ident && p.kind(j-1) == '.' && p.names.Candidate(p.text(j)) {
			return !p.endsOperand(open-1) || p.f.Has(lang.IndentBlocks) && p.toks[open].Flags&lex.LineStart != 0
		}
	}
	return false
}

// newStatement reports whether the first token of a line begins a statement,
// the expression before it being complete.
func (p *parser) newStatement(i int32) bool {
	if p.f.Has(lang.IndentBlocks) {
		return p.toks[i].Flags&lex.StmtStart != 0
	}
	if !p.f.Has(lang.NewlineEnds) || !p.endsOperand(i-1) {
		return false
	}
	return p.f.Has(lang.BareHeaders) || !p.continues(i)
}

// endsOperand reports whether token i may be the last of an expression.
func (p *parser) endsOperand(i int32) bool {
	switch k := p.kind(i); k {
	case lex.Ident, lex.Number, lex.String, lex.CharString, lex.StringEnd, lex.Regex, lex.MarkupEnd, lex.Increment, ')', ']', '}':
		return true
	default:
		switch k.Role() {
		case lang.Self, lang.Literal, lang.Jump, lang.Return:
			return true
		}
	}
	return false
}

// continues reports whether a line that begins with token i goes on with the
// expression of the line before.
func (p *parser) continues(i int32) bool {
	switch k := p.kind(i); k {
	case lex.Ident:
		t := string(p.text(i))
		return p.f.Has(lang.TypeSuffix) && (t == "as" || t == "satisfies")
	case lex.Number, lex.String, lex.CharString, lex.Regex, '{', '@', '#', '!', '~', lex.Increment, lex.MarkupPunct, lex.Ellipsis:
		return false
	case lex.StringBegin:
		return false
	default:
		if k.IsKeyword() {
			return k.Role() == lang.Operator && !p.is(i, "typeof") && !p.is(i, "void") && !p.is(i, "delete")
		}
	}
	return true
}

// identifier handles a name in an expression: a call, a lambda of one
// parameter, a method of an object literal. It returns 0 when there is
// nothing special about it.
func (p *parser) identifier(i, end, scope int32) int32 {
	switch k := p.kind(i + 1); k {
	case '(':
		if p.f.Has(lang.NamedMethods) && p.literalMethod(i, end) {
			return p.method(i, i, i+1, end, scope, 0)
		}
		p.callName(i, i+1, scope)
	case lex.SafeDot:
		if p.kind(i+2) == '(' {
			p.callName(i, i+2, scope)
		}
	case '{':
		if p.f&(lang.Blocks|lang.RubyWords) != 0 && !p.f.Has(lang.Macros) && !p.fresh(i+1) && p.partner[i+1] > 0 {
			p.callName(i, i+1, scope)
		}
	case '!':
		if open := p.kind(i + 2); p.f.Has(lang.Macros) && (open == '(' || open == '[' || open == '{') && p.partner[i+2] > 0 {
			p.callName(i, i+2, scope)
		}
	case lex.ShiftLeft:
		if p.f.Has(lang.Streams) {
			p.callName(i, -1, scope)
		}
	case '<':
		if p.f.Has(lang.TypeSuffix) && (p.kind(i-1) == ',' || p.kind(i-1) == '{') {
			if open := p.generics(i+1, end); p.kind(open) == '(' && p.bodyFollows(open, end) {
				return p.method(i, i, open, end, scope, 0)
			}
		}
		if !p.f.Has(lang.BareHeaders) && p.names.Candidate(p.text(i)) {
			if after := p.generics(i+1, end); after > i+2 && p.kind(after) == '(' {
				p.callName(i, after, scope)
			}
		}
	case '[':
		if p.f.Has(lang.RubyWords) && p.names.Candidate(p.text(i)) {
			p.command(i, end, scope) // puts [a, b]
		}
		if p.f.Has(lang.BareHeaders) && p.names.Candidate(p.text(i)) {
			if after := p.skip(i + 1); p.kind(after) == '(' && after < end {
				p.callName(i, after, scope)
			}
		}
	default:
		if k == p.arrow && k != lex.None {
			if p.depth < maxDepth && i+1 < end {
				return p.lambda(i, i, i+1, i+1, end, scope)
			}
			return 0
		}
		if p.f&(lang.CommandCalls|lang.Commands) != 0 {
			if p.names.Hash != nil {
				p.Called = append(p.Called, p.names.Hash(p.text(i)))
			}
			if p.names.Candidate(p.text(i)) {
				p.command(i, end, scope)
			}
		}
	}
	return 0
}

// command records a call without brackets whose name is token i: its
// arguments run to the end of the statement.
func (p *parser) command(i, end, scope int32) {
	from := i + 1
	if from >= end || p.fresh(from) || !p.startsOperand(from) || p.toks[from].Start == p.toks[i].End {
		if k := p.kind(from); from >= end || p.fresh(from) || k == ';' || k == '}' || p.role(from) == lang.If {
			p.Calls = append(p.Calls, Call{Name: i, Open: -1, Scope: scope, From: from, To: from})
		}
		return
	}
	to := p.commandEnd(from, end)
	if to > from {
		p.Calls = append(p.Calls, Call{Name: i, Open: -1, Scope: scope, From: from, To: to})
	}
}

// startsOperand tells whether a token can be the first of an argument.
func (p *parser) startsOperand(i int32) bool {
	switch k := p.kind(i); k {
	case lex.Ident, lex.Number, lex.String, lex.StringBegin, lex.CharString, lex.Regex, lex.Option, '@', '$':
		return true
	case '[', '{':
		return p.toks[i].Start > p.toks[i-1].End && (!p.f.Has(lang.Blocks) || k == '[' && p.f.Has(lang.EndBlocks))
	case '(':
		return p.f.Has(lang.Commands)
	default:
		r := k.Role()
		return r == lang.Literal || r == lang.Self || r == lang.New
	}
}

// commandEnd returns where the arguments that begin at i end: at the end of
// the line that is not continued, at a modifier, at a closing bracket.
func (p *parser) commandEnd(i, end int32) int32 {
	j := i
	for n := 0; j < end && n < maxHeader; n++ {
		k := p.kind(j)
		if j > i && p.fresh(j) && p.kind(j-1) != ',' && !(p.kind(j-1) == lex.Unknown || p.joins(j-1)) && k != '.' && k != lex.SafeDot {
			return j
		}
		switch k {
		case ';', ')', ']', '}', lex.ValueEnd, '|':
			return j
		}
		if j > i {
			switch k.Role() {
			case lang.If, lang.While, lang.Do, lang.Catch, lang.End, lang.Else:
				if k.Role() == lang.Do || !p.f.Has(lang.Commands) {
					return j
				}
			}
		}
		if k == '{' && j > i && p.f.Has(lang.EndBlocks) && p.blockBrace(j) {
			return j
		}
		j = p.skip(j)
	}
	return j
}

// joins tells whether a token at the end of a line asks for more.
func (p *parser) joins(i int32) bool {
	switch p.kind(i) {
	case '+', '-', '*', '\\', lex.AndAnd, lex.OrOr, '=', lex.ShiftLeft, '.', '?', ':', lex.Arrow:
		return true
	}
	return false
}

// literalMethod reports whether "name(" at i begins a method of an object
// literal: a body follows the brackets and a brace or comma stands before.
func (p *parser) literalMethod(i, end int32) bool {
	if !p.bodyFollows(i+1, end) {
		return false
	}
	before := i - 1
	for p.kind(before) == lex.Ident && modifierWord(p.text(before)) && !p.fresh(i) {
		before--
	}
	if p.kind(before) == '*' {
		before--
	}
	k := p.kind(before)
	return k == '{' || k == ','
}

// bodyFollows tells whether a function body stands behind the parameter list
// that opens at open.
func (p *parser) bodyFollows(open, end int32) bool {
	after := p.skip(open)
	if after >= end || after == open+1 {
		return false
	}
	return p.kind(after) == '{' || p.kind(after) == ':' && p.f.Has(lang.TypeSuffix) && p.kind(p.fieldType(after+1, end)) == '{'
}

// bracket handles an opening bracket in an expression. It returns 0 when its
// inside is to be walked as part of the expression.
func (p *parser) bracket(i, end, scope int32, top bool) int32 {
	if p.partner[i] < 0 {
		return 0
	}
	if p.f.Has(lang.Blocks) && p.kind(i) == '{' && (p.f.Has(lang.KeywordFuncs) || p.kind(i-1) != '$') {
		return p.braceBlock(i, end, scope)
	}
	if p.f.Has(lang.Macros) && p.kind(i) == '(' {
		if next := p.closure(i, end, scope); next > 0 {
			return next
		}
	}
	if p.f.Has(lang.Streams) && p.kind(i) == '[' && !p.endsOperand(i-1) {
		if next := p.captureLambda(i, end, scope); next > 0 {
			return next
		}
	}
	if p.kind(i) == '(' && p.arrow != lex.None && p.depth < maxDepth {
		after := p.partner[i] + 1
		if p.kind(after) == p.arrow && after < end {
			return p.lambda(i, i+1, after-1, after, end, scope)
		}
		if p.f.Has(lang.TypeSuffix) && p.kind(after) == ':' && (!p.endsOperand(i-1) && p.kind(i-1) != '?' || p.is(i-1, "async")) {
			if arrow := p.resultArrow(after+1, end); arrow > 0 {
				return p.lambda(i, i+1, after-1, arrow, end, scope)
			}
		}
	}
	return 0
}

// resultArrow finds the arrow behind the result type at i, 0 when a type does
// not stand there.
func (p *parser) resultArrow(i, end int32) int32 {
	for n := 0; n < 200 && i < end; n++ {
		switch k := p.kind(i); {
		case k == lex.Arrow:
			return i
		case k == '<':
			next := p.generics(i, end)
			if next == i+1 {
				return 0
			}
			i = next
		case k == '(' || k == '[' || k == '{':
			i = p.skip(i)
		case k == lex.Ident || k == '.' || k == '|' || k == '&' || k == lex.String || k == lex.Number || k.IsKeyword() && k.Role() != lang.Return:
			i++
		default:
			return 0
		}
	}
	return 0
}

// afterArguments handles "){" in an expression: the body of an anonymous
// class, or a block that the walk did not expect.
func (p *parser) afterArguments(i, end, scope int32, top bool) int32 {
	open := p.partner[i]
	if open < 0 || p.f.Has(lang.Blocks) {
		return 0
	}
	if p.f.Has(lang.Cascades) && p.depth < maxDepth && (p.kind(open-1) != lex.Ident || !top) {
		if !p.endsOperand(open-1) || p.kind(open-1) == lex.Ident && !top { // (params) { … }
			p.depth++
			defer func() { p.depth-- }()
			return p.block(p.lambdaScope(open, open+1, i, scope), i+1, end)
		}
	}
	if p.f.Has(lang.Selectors) && p.kind(open-1) == '^' && p.depth < maxDepth { // ^(params) { … }
		p.depth++
		defer func() { p.depth-- }()
		return p.block(Scope{Kind: Lambda, Parent: scope, Head: open - 1, Name: -1, ParamsFrom: open + 1, ParamsTo: i}, i+1, end)
	}
	if p.f.Has(lang.AnonymousTypes) && p.newBefore(open) {
		inner, after := p.inside(i+1, end)
		at := p.newScope(Scope{Kind: Type, Traits: Anonymous, Parent: scope, Head: i + 1, Open: i + 2, Close: inner, Name: -1})
		p.members(i+2, inner, at)
		return after
	}
	if top && !p.f.Has(lang.BareHeaders) && !p.newBefore(open) {
		return p.block(Scope{Kind: Branch, Parent: scope, Head: i + 1, Name: -1}, i+1, end)
	}
	return 0
}

// newBefore reports whether the bracket at open holds the arguments of
// "new Type<…>(".
func (p *parser) newBefore(open int32) bool {
	for j, n := open-1, 0; j >= 0 && n < 60; j, n = j-1, n+1 {
		switch k := p.kind(j); {
		case k.Role() == lang.New:
			return true
		case k == lex.Ident, k == '.', k == '<', k == '>', k == ',', k == '?', k == '[', k == ']', k.Role() == lang.Throws, k.Role() == lang.Word:
		default:
			return false
		}
	}
	return false
}

// keyword handles a keyword in an expression. done means that the expression
// ends at next.
func (p *parser) keyword(i, start, end, scope int32, top bool) (next int32, done bool) {
	if p.f.Has(lang.Blocks) && p.depth < maxDepth && p.kind(i-1) != '.' {
		switch p.role(i) {
		case lang.If, lang.For, lang.While, lang.Do, lang.Switch, lang.Try, lang.Catch, lang.Finally:
			if i == start || !p.f.Has(lang.NewlineEnds) || !top || !p.fresh(i) || p.joins(i-1) || p.kind(i-1) == lex.ThinArrow {
				if p.role(i) == lang.Do && (p.f.Has(lang.OptionalBraces) || p.kind(i+1) != '{') {
					return 0, false
				}
				return max(p.statement(i, end, scope), i+1), false
			}
		case lang.Else:
			return i + 1, false
		}
	}
	switch p.role(i) {
	case lang.Func:
		return p.function(i, i, end, scope), false
	case lang.Lambda:
		return p.wordLambda(i, end, scope), false
	case lang.Class:
		if k := p.kind(i + 1); (k == '{' || k == lex.Ident || k.Role() == lang.Throws) && p.kind(i-1) != '.' && !p.f.Has(lang.IndentBlocks) {
			return p.typeDeclaration(i, i, end, scope), false
		}
	case lang.Struct:
		if p.kind(i+1) == '{' {
			return p.skip(i + 1), false
		}
	case lang.Switch:
		if p.kind(i+1) == '(' && p.depth < maxDepth {
			return p.switchStatement(i, end, scope), false
		}
	case lang.If, lang.For, lang.While, lang.Do, lang.Try, lang.Catch, lang.Finally:
		if top && i > start && !p.f.Has(lang.IndentBlocks) && p.kind(i+1) != ':' && p.kind(i-1) != ':' {
			return i, true
		}
	case lang.Debugger:
		if top {
			p.callName(i, -1, scope)
		}
	case lang.Word, lang.Modifier, lang.Throws, lang.Operator, lang.Assert:
		if p.kind(i+1) == '(' {
			p.callName(i, i+1, scope)
		} else if p.f.Has(lang.CommandCalls) && p.names.Candidate(p.text(i)) {
			p.command(i, end, scope)
		}
	}
	return 0, false
}

// wordLambda walks "lambda a, b: value" and "delegate (…) { … }".
func (p *parser) wordLambda(i, end, scope int32) int32 {
	if p.f.Has(lang.IndentBlocks) {
		j := i + 1
		for j < end && p.kind(j) != ':' && p.toks[j].Flags&lex.StmtStart == 0 {
			if k := p.kind(j); k == ')' || k == ']' || k == '}' || k == lex.ValueEnd {
				return j
			}
			j = p.skip(j)
		}
		if p.depth >= maxDepth || j >= end {
			return j
		}
		p.depth++
		defer func() { p.depth-- }()
		s := Scope{Kind: Lambda, Parent: scope, Head: i, Open: j + 1, Name: -1, ParamsFrom: i + 1, ParamsTo: j}
		return p.within(s, func(at int32) int32 { return p.expression(j+1, end, at, toComma) })
	}
	j := i + 1
	from, to := j, j
	if p.kind(j) == '(' {
		inner, after := p.inside(j, end)
		from, to, j = j+1, inner, after
	}
	if p.kind(j) != '{' || p.depth >= maxDepth {
		return i + 1
	}
	s := p.lambdaScope(i, from, to, scope)
	return p.block(s, j, end)
}

// lambda walks a lambda: head is its first token, from and to its parameters,
// arrow the token before the body.
func (p *parser) lambda(head, from, to, arrow, end, scope int32) int32 {
	if p.is(arrow+1, "void") && p.f.Has(lang.TypeSuffix) {
		switch p.kind(arrow + 2) {
		case ',', ';', ')', '}', '|', '=', '>', lex.None:
			return arrow + 2 // the type of a function
		}
	}
	p.depth++
	defer func() { p.depth-- }()
	s := p.lambdaScope(head, from, to, scope)
	if p.kind(arrow+1) == '{' && arrow+1 < end {
		return p.block(s, arrow+1, end)
	}
	s.Open = arrow + 1
	return p.within(s, func(at int32) int32 { return p.expression(arrow+1, end, at, toComma) })
}

// lambdaScope decides what a function value is for: a named function, a
// failure handler, the body of an iteration, or just a lambda. A named one
// that handles failures gets two scopes; the inner one is returned.
func (p *parser) lambdaScope(head, from, to, scope int32) Scope {
	s := Scope{Kind: Lambda, Parent: scope, Head: head, Name: -1, ParamsFrom: from, ParamsTo: to}
	if name := p.nameOf(head, scope); name >= 0 {
		s.Kind, s.Name = Func, name
	}
	kind := p.purpose(head, &s)
	if kind == s.Kind {
		return s
	}
	if s.Kind == Func {
		s.Open = head
		if b := to + 1; int(b) < len(p.partner) {
			s.Close = p.closeOf(head, to)
		}
		scope = p.newScope(s)
	}
	inner := Scope{Kind: kind, Parent: scope, Head: head, Name: -1, ParamsFrom: from, ParamsTo: to}
	if kind == Failure {
		inner.Traits |= Handler
		if from < to && p.kind(from) == lex.Ident {
			inner.Name = from
		} else if from == to && p.kind(head) == lex.Ident {
			inner.Name = head
		}
	}
	return inner
}

// closeOf estimates where the body of a named handler ends: behind its block.
func (p *parser) closeOf(head, to int32) int32 {
	for j := to; int(j) < len(p.toks) && j < to+8; j++ {
		if p.kind(j) == '{' {
			return p.skip(j)
		}
	}
	return to + 1
}

// purpose tells from the call that a function value is handed to, or from the
// property that holds it, what it is for.
func (p *parser) purpose(head int32, s *Scope) Kind {
	if s.Kind == Func && s.Name >= 0 {
		if key := lex.Unquote(p.text(s.Name)); p.words.failureKeys[key] && (key != "error" || p.takesError(head, s)) {
			return Failure
		}
	}
	if len(p.opens) == 0 {
		return s.Kind
	}
	open := p.opens[len(p.opens)-1]
	if p.kind(open) != '(' {
		return s.Kind
	}
	name := open - 1
	if p.kind(name) == lex.SafeDot || p.kind(name) == '>' {
		name--
	}
	if p.kind(name) != lex.Ident || p.kind(name-1) != '.' && p.kind(name-1) != lex.SafeDot {
		return s.Kind
	}
	method := string(p.text(name))
	switch {
	case p.words.failureCalls[method]:
		return Failure
	case p.words.loopCalls[method]:
		return Loop
	case p.words.eventCalls[method]:
		if p.kind(open+1) == lex.String && p.words.failureEvents[lex.Unquote(p.text(open+1))] {
			return Failure
		}
	case p.words.secondHandler[method]:
		commas := 0
		for j, n := open+1, 0; j < head && n < 64; j, n = p.skip(j), n+1 {
			if p.kind(j) == ',' {
				commas++
			}
			if p.kind(j) == p.arrow || p.role(j) == lang.Func { // the first handler: pass over its body
				continue
			}
		}
		static := p.kind(name-2) == lex.Ident && exported(p.text(name-2)) && p.kind(name-3) != '.' // Promises.then(promise, done, failed)
		if !static && commas == 1 || commas == 2 && (static || p.kind(open+1) == '(') {
			if before := p.kind(head - 1); before == ',' {
				return Failure
			}
		}
	}
	return s.Kind
}

// takesError tells whether the first parameter of a function value bears an
// error's name: what a logger of one's own holds under "error" takes a text.
func (p *parser) takesError(head int32, s *Scope) bool {
	first := s.ParamsFrom
	if s.ParamsTo <= first {
		first = head
	}
	return p.kind(first) == lex.Ident && IsErrorName(string(p.text(first)))
}

// nameOf returns the token of the constant or property that holds the
// function value at head, -1 when none does.
func (p *parser) nameOf(head, scope int32) int32 {
	before := head - 1
	if p.kind(before) == '>' && p.f.Has(lang.TypeSuffix) { // <T>(x) => …
		for n := 0; n < 60 && before > 0 && p.kind(before) != '<'; n++ {
			before--
		}
		before--
	}
	if p.is(before, "async") {
		before--
	}
	switch p.kind(before) {
	case '=':
		if p.Scopes[scope].Kind == Type {
			return p.held
		}
		if p.f.Has(lang.BareHeaders) {
			if scope == 0 && p.kind(before-1) == lex.Ident {
				return before - 1
			}
			return -1
		}
		if !p.f.Has(lang.ConstantLambdas) {
			return -1
		}
		if d := p.declared; d > 0 && d < head && d >= p.Scopes[scope].Open && p.kind(d+1) == ':' && p.Scopes[scope].Kind != Type {
			return d // const name: Type = …
		}
		if p.kind(before-1) == lex.Ident {
			return before - 1
		}
	case ':':
		if !p.f.Has(lang.ConstantLambdas) {
			return -1
		}
		key := before - 1
		if k := p.kind(key); k != lex.Ident && k != lex.String && !k.IsKeyword() {
			return -1
		}
		if k := p.kind(key - 1); k == '{' || k == ',' {
			return key
		}
	}
	return -1
}

// function walks a function written with a keyword: a declaration or a value.
// head is the first token of its modifiers.
func (p *parser) function(i, head, end, scope int32) int32 {
	if p.f.Has(lang.ReceiverFuncs) {
		return p.goFunc(i, end, scope)
	}
	if p.f.Has(lang.KeywordFuncs) {
		return p.anonymousFunc(i, end, scope)
	}
	j := i + 1
	if p.kind(j) == '*' {
		j++
	}
	name := int32(-1)
	if p.kind(j) == lex.Ident || p.kind(j).IsKeyword() {
		name = j
		j++
	}
	if p.kind(j) == '<' {
		j = p.generics(j, end)
	}
	if p.kind(j) != '(' || j >= end {
		return j
	}
	inner, after := p.inside(j, end)
	var s Scope
	if name >= 0 {
		s = Scope{Kind: Func, Parent: scope, Head: head, Name: name, ParamsFrom: j + 1, ParamsTo: inner}
		if head != i {
			s.Traits |= Public
		}
	} else {
		s = p.lambdaScope(i, j+1, inner, scope)
	}
	p.expression(j+1, inner, scope, toEnd)
	if p.kind(after) == ':' && p.f.Has(lang.TypeSuffix) {
		after = p.fieldType(after+1, end)
	}
	if p.kind(after) != '{' || after >= end {
		return after
	}
	if p.depth >= maxDepth {
		return after
	}
	p.depth++
	defer func() { p.depth-- }()
	return p.block(s, after, end)
}

// goFunc walks a Go function declaration, method or literal; a function type
// has no body.
func (p *parser) goFunc(i, end, scope int32) int32 {
	j := i + 1
	s := Scope{Kind: Lambda, Parent: scope, Head: i, Name: -1}
	if p.kind(j) == '(' && scope == 0 {
		if after := p.skip(j); p.kind(after) == lex.Ident && (p.kind(after+1) == '(' || p.kind(after+1) == '[') {
			for k := j + 1; k < after-1; k++ {
				if p.kind(k) == '[' {
					break
				}
				if p.kind(k) == lex.Ident {
					s.Recv = k
				}
			}
			j = after
		}
	}
	if p.kind(j) == lex.Ident && scope == 0 {
		s.Kind, s.Name = Func, j
		if exported(p.text(j)) {
			s.Traits |= Public
		}
		j++
		if p.kind(j) == '[' {
			j = p.skip(j)
		}
	} else if name := p.nameOf(i, scope); name >= 0 {
		s.Kind, s.Name = Func, name
	}
	if p.kind(j) != '(' || j >= end {
		return j
	}
	inner, after := p.inside(j, end)
	s.ParamsFrom, s.ParamsTo = j+1, inner
	open := p.funcBody(j, end)
	if open == 0 || p.depth >= maxDepth {
		if s.Kind == Func && s.Name == j-1 {
			s.Traits |= Bodyless
			s.Open, s.Close = after, after
			p.newScope(s)
		}
		return after
	}
	p.depth++
	defer func() { p.depth-- }()
	return p.block(s, open, end)
}

// funcBody returns the brace that opens the body of the Go function whose
// parameters open at j, 0 when it is a type or a declaration without a body.
func (p *parser) funcBody(j, end int32) int32 {
	if p.kind(j) != '(' {
		return 0
	}
	j = p.skip(j)
	for n := 0; j < end && n < 100; n++ {
		switch k := p.kind(j); {
		case k == '{':
			return j
		case k == lex.Ident || k == '.' || k == '*' || k == lex.Receive || k == lex.Ellipsis:
			if p.fresh(j) && n > 0 && p.endsOperand(j-1) {
				return 0
			}
			if p.fresh(j) && n == 0 {
				return 0
			}
			j++
		case k == '[' || k == '(':
			if p.fresh(j) {
				return 0
			}
			j = p.skip(j)
		case k.Role() == lang.Operator && !p.fresh(j): // chan, map
			j++
		case k.Role() == lang.Struct && p.kind(j+1) == '{':
			j = p.skip(j + 1)
		case k.Role() == lang.Func && p.kind(j+1) == '(':
			j = p.skip(j + 1)
		default:
			return 0
		}
	}
	return 0
}

// goType passes over a type declaration: it holds no code, and the methods of
// an interface are no calls.
func (p *parser) goType(i, end, scope int32) int32 {
	if p.kind(i+1) == '(' {
		return p.skip(i + 1)
	}
	j := i + 1
	s := Scope{Kind: Type, Parent: scope, Head: i, Name: j, Open: j, Close: j}
	for j < end {
		j = p.skip(j)
		if p.fresh(j) && p.endsOperand(j-1) || p.kind(j) == ';' {
			break
		}
	}
	s.Close = j
	p.newScope(s)
	return j
}
