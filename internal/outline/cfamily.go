package outline

import (
	"reed/internal/lang"
	"reed/internal/lex"
)

// What only C, its descendants and Dart have.

// declaresType tells whether struct, class, union or enum at i declares a
// type, as against naming the type of what follows.
func (p *parser) declaresType(i, end int32) bool {
	for j, n := i+1, 0; j < end && n < 16; j, n = j+1, n+1 {
		switch k := p.kind(j); {
		case k == '{' || k == ':' && p.kind(j+1) != ':':
			return true
		case k == lex.Ident || k == lex.Scope || k.Role() == lang.Modifier || k.Role() == lang.Class:
		case k == '<' || k == '[' && p.partner[j] > 0 || k == '(' && p.kind(j-1) == lex.Ident && p.partner[j] > 0 && (p.kind(p.partner[j]+1) == lex.Ident || p.kind(p.partner[j]+1) == '{'):
			next := p.skip(j)
			if k == '<' {
				next = p.generics(j, end)
			}
			j = next - 1
		default:
			return false
		}
	}
	return false
}

// pointerEnd tells whether a token can stand directly before a function's
// name: the end of a type, a qualifier, a tilde.
func (p *parser) pointerEnd(i int32) bool {
	k := p.kind(i)
	return k == '*' || k == '&' || k == lex.Scope || k == '~' || k == lex.AndAnd || k.Role() == lang.Class
}

// bodyBehind tells whether a function's body stands behind its parameters,
// with qualifiers, results and initialisers between.
func (p *parser) bodyBehind(j, end int32) bool {
	for n := 0; j < end && n < 120; n++ {
		switch k := p.kind(j); {
		case k == '{':
			return true
		case k == lex.Ident, k == lex.ThinArrow, k == lex.Scope, k == '*', k == '&', k == lex.AndAnd, k.Role() == lang.Modifier, k.Role() == lang.Word, k.Role() == lang.Try:
			j++
		case k == '(' || k == '[':
			j = p.skip(j)
		case k == '<':
			j = p.generics(j, end)
		case k == ':' && n < 8:
			return p.initialisers(j+1, end)
		default:
			return false
		}
	}
	return false
}

// initialisers tells whether "a(1), b{2} {" stands at j.
func (p *parser) initialisers(j, end int32) bool {
	for n := 0; j < end && n < 200; n++ {
		for p.kind(j) == lex.Ident || p.kind(j) == lex.Scope {
			j++
		}
		if p.kind(j) == '<' {
			j = p.generics(j, end)
		}
		if k := p.kind(j); k != '(' && k != '{' || p.partner[j] < 0 {
			return false
		}
		j = p.skip(j)
		if p.kind(j) == '{' {
			return true
		}
		if p.kind(j) != ',' {
			return false
		}
		j++
	}
	return false
}

// qualify notes the type in "Type::name".
func (p *parser) qualify(s *Scope, name int32) {
	j := name - 1
	if p.kind(j) == '~' {
		j--
	}
	if p.kind(j) != lex.Scope {
		return
	}
	j--
	if p.kind(j) == '>' {
		for n := 0; n < 40 && j > 0 && p.kind(j) != '<'; n++ {
			j--
		}
		j--
	}
	if p.kind(j) == lex.Ident {
		s.Recv = j
	}
}

// captureLambda walks [captures](params) { body }.
func (p *parser) captureLambda(i, end, scope int32) int32 {
	if p.depth >= maxDepth {
		return 0
	}
	j := p.skip(i)
	s := Scope{Kind: Lambda, Parent: scope, Head: i, Name: -1}
	if p.kind(j) == '(' {
		inner, after := p.inside(j, end)
		s.ParamsFrom, s.ParamsTo = j+1, inner
		j = after
	}
	for n := 0; n < 16 && j < end && p.kind(j) != '{'; n++ {
		k := p.kind(j)
		if k != lex.Ident && k != lex.ThinArrow && k != lex.Scope && k != '*' && k != '&' && k.Role() != lang.Modifier && k.Role() != lang.Word && k != '<' && k != '>' {
			return 0
		}
		j++
	}
	if p.kind(j) != '{' || j >= end {
		return 0
	}
	if len(p.opens) > 0 {
		if open := p.opens[len(p.opens)-1]; p.kind(open) == '(' && p.kind(open-1) == lex.Ident {
			p.blockPurpose(&s, string(p.text(open-1)))
		}
	} else if p.kind(i-1) == '=' && p.kind(i-2) == lex.Ident && scope == 0 {
		s.Kind, s.Name = Func, i-2
	}
	p.depth++
	defer func() { p.depth-- }()
	return p.block(s, j, end)
}

// asyncBody tells whether "async {" or "async =>" stands at j.
func (p *parser) asyncBody(j int32) bool {
	if !p.is(j, "async") && !p.is(j, "sync") {
		return false
	}
	j++
	if p.kind(j) == '*' {
		j++
	}
	return p.kind(j) == '{' || p.kind(j) == lex.Arrow
}

// atWord walks what begins with @ in Objective-C.
func (p *parser) atWord(i, end, scope int32) int32 {
	switch t := string(p.text(i + 1)); t {
	case "implementation", "interface", "protocol":
		j := i + 2
		if p.kind(j) != lex.Ident {
			return j
		}
		stop := j
		for stop < end && !(p.kind(stop) == '@' && p.is(stop+1, "end")) {
			if t == "protocol" && p.kind(stop) == ';' && stop == j+1 { // a mere announcement
				return stop + 1
			}
			stop++
		}
		at := p.newScope(Scope{Kind: Type, Parent: scope, Head: i, Name: j, Open: j + 1, Close: stop})
		if t == "implementation" && p.depth < maxDepth {
			p.depth++
			p.statements(j+1, stop, at)
			p.depth--
		}
		return min(stop+2, end)
	case "try":
		return p.try(i+1, end, scope)
	case "catch":
		return p.catch(i+1, end, scope)
	case "finally", "autoreleasepool", "synchronized":
		j := i + 2
		if p.kind(j) == '(' {
			j = p.skip(j)
		}
		return p.body(Scope{Kind: Branch, Parent: scope, Head: i, Name: -1}, j, end)
	case "property", "class", "import", "synthesize", "dynamic":
		j := i + 2
		for j < end && p.kind(j) != ';' {
			j = p.skip(j)
		}
		return j + 1
	}
	return p.expression(i, end, scope, toEnd)
}

// selectorMethod walks "- (Type)name:(Type)a with:(Type)b { … }". The name of
// the scope is the first token of the selector; FunctionName writes it whole.
func (p *parser) selectorMethod(i, end, scope int32) int32 {
	j := p.skip(i + 1)
	s := Scope{Kind: Func, Traits: Public | Selector, Parent: scope, Head: i, Name: j, ParamsFrom: j}
	for n := 0; j < end && n < 200; n++ {
		switch p.kind(j) {
		case '{':
			s.ParamsTo = j
			if p.depth >= maxDepth {
				return p.skip(j)
			}
			p.depth++
			defer func() { p.depth-- }()
			return p.block(s, j, end)
		case ';':
			return j + 1
		case '(':
			j = p.skip(j)
		case '@', '}':
			return j
		default:
			j++
		}
	}
	return max(j, i+1)
}

// closure walks the arguments of a call that are one closure handed to
// iteration or to a failure: for_each(|x| …), unwrap_or_else(|e| …).
func (p *parser) closure(i, end, scope int32) int32 {
	if p.kind(i-1) != lex.Ident || p.depth >= maxDepth {
		return 0
	}
	method := string(p.text(i - 1))
	if !p.words.loopCalls[method] && !p.words.failureCalls[method] {
		return 0
	}
	j := i + 1
	if p.is(j, "move") {
		j++
	}
	if p.kind(j) != '|' {
		return 0
	}
	s := Scope{Kind: Lambda, Parent: scope, Head: j, Name: -1, ParamsFrom: j + 1}
	for j++; j < p.partner[i] && p.kind(j) != '|'; j++ {
	}
	s.ParamsTo = j
	p.blockPurpose(&s, method)
	p.depth++
	defer func() { p.depth-- }()
	s.Open = min(j+1, p.partner[i])
	close := p.partner[i]
	p.within(s, func(at int32) int32 {
		p.statements(s.Open, close, at)
		return close
	})
	return close + 1
}

// anonymousFunc walks a function without a name used as a value, or a local
// one with a name.
func (p *parser) anonymousFunc(i, end, scope int32) int32 {
	if p.kind(i+1) != '(' && !(p.kind(i+1) == '&' && p.kind(i+2) == '(') {
		if p.kind(i+1) == lex.Ident {
			return p.keywordFunc(i, i, end, scope, false)
		}
		return i + 1
	}
	j := i + 1
	if p.kind(j) == '&' {
		j++
	}
	inner, after := p.inside(j, end)
	s := p.lambdaScope(i, j+1, inner, scope)
	p.expression(j+1, inner, scope, toEnd)
	if p.is(after, "use") && p.kind(after+1) == '(' {
		after = p.skip(after + 1)
	}
	for n := 0; n < 12 && after < end && p.kind(after) != '{' && p.kind(after) != lex.Arrow && p.kind(after) != '=' && p.kind(after) != ';' && p.kind(after) != ')' && p.kind(after) != ','; n++ {
		after++ // a result type
	}
	if p.depth >= maxDepth {
		return after
	}
	p.depth++
	defer func() { p.depth-- }()
	switch p.kind(after) {
	case '{':
		return p.block(s, after, end)
	case lex.Arrow, '=':
		s.Open = after + 1
		return p.within(s, func(at int32) int32 { return p.expression(after+1, end, at, toComma) })
	}
	return max(after, i+1)
}
