package outline

import (
	"reed/internal/lang"
	"reed/internal/lex"
)

// Functions and lambdas in expressions, and what they are for.

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
