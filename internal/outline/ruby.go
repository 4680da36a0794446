package outline

import (
	"reed/internal/lang"
	"reed/internal/lex"
)

// Languages whose blocks end with the word end, and whose calls may do
// without brackets.

// ruby walks statements up to a word that ends or divides the block around
// them, and returns the index of that word.
func (p *parser) ruby(i, end, scope int32) int32 {
	if p.depth >= maxDepth {
		p.flat(i, end, scope)
		return end
	}
	p.depth++
	defer func() { p.depth-- }()
	for i < end {
		switch p.role(i) {
		case lang.End, lang.Else, lang.Elif, lang.Catch, lang.Finally:
			if !p.nameHere(i) {
				return i
			}
		case lang.Case:
			if p.is(i, "when") || p.fresh(i) {
				return i
			}
		}
		if k := p.kind(i); k == '}' || k == ')' || k == ']' || k == lex.ValueEnd {
			return i
		}
		next := p.rubyStatement(i, end, scope)
		i = max(next, i+1)
	}
	return end
}

// nameHere tells whether a keyword is only the name of a method or key here.
func (p *parser) nameHere(i int32) bool {
	return p.kind(i-1) == '.' || p.kind(i-1) == lex.SafeDot || p.kind(i+1) == ':' && p.kind(i+2) != ':' && p.toks[i+1].Start == p.toks[i].End
}

func (p *parser) rubyStatement(i, end, scope int32) int32 {
	if p.nameHere(i) {
		return p.rubyExpression(i, end, scope)
	}
	switch p.role(i) {
	case lang.Func:
		return p.rubyDef(i, i, end, scope)
	case lang.Class:
		return p.rubyClass(i, end, scope)
	case lang.If:
		return p.rubyIf(i, end, scope)
	case lang.While, lang.For:
		return p.rubyLoop(i, end, scope)
	case lang.Switch:
		return p.rubyCase(i, end, scope)
	case lang.Try:
		return p.rubyBody(Scope{Kind: Try, Parent: scope, Head: i, Name: -1}, i+1, end)
	}
	if p.kind(i) == lex.Ident && (p.is(i, "private") || p.is(i, "protected") || p.is(i, "public") || p.is(i, "private_class_method") || p.is(i, "module_function")) && p.role(i+1) == lang.Func {
		return p.rubyDef(i+1, i, end, scope)
	}
	if p.kind(i) == lex.Ident && p.is(i, "require") && p.kind(i+1) == lex.String {
		p.addImport(p.unquote(i+1), "", i)
		return i + 2
	}
	if p.kind(i) == lex.Ident && p.is(i, "include") && p.kind(i+1) == lex.Ident {
		path, next := p.dotted(i+1, end)
		p.addImport(path, "", i)
		return next
	}
	return p.rubyExpression(i, end, scope)
}

// rubyBody walks a body with its rescue, else and ensure parts and the word
// end.
func (p *parser) rubyBody(s Scope, i, end int32) int32 {
	s.Open = i
	outer := s.Parent
	next := p.within(s, func(at int32) int32 {
		stop := p.ruby(i, end, at)
		if s.Kind == Func || s.Kind == Lambda || s.Kind == Loop {
			outer = at
			return p.rubyParts(stop, end, at)
		}
		return stop
	})
	if s.Kind == Try {
		next = p.rubyParts(next, end, outer)
	}
	if p.role(next) == lang.End {
		next++
	}
	return next
}

// rubyParts walks rescue, else and ensure clauses up to the word end.
func (p *parser) rubyParts(i, end, scope int32) int32 {
	for i < end {
		s := Scope{Kind: Branch, Parent: scope, Head: i, Name: -1}
		j := i + 1
		switch p.role(i) {
		case lang.Catch:
			s.Kind, s.Traits = Failure, Handler
			s.ParamsFrom = j
			for j < end && !p.fresh(j) && p.kind(j) != ';' && !p.is(j, "then") {
				if p.kind(j) == lex.Arrow && p.kind(j+1) == lex.Ident {
					s.Name = j + 1
					s.ParamsTo = j
				}
				j = p.skip(j)
			}
			if s.ParamsTo == 0 {
				s.ParamsTo = j
			}
		case lang.Finally:
			s.Kind = Finally
		case lang.Else, lang.Elif:
			s.Traits |= ElseArm
		default:
			return i
		}
		s.Open = j
		i = max(p.within(s, func(at int32) int32 { return p.ruby(j, end, at) }), i+1)
	}
	return i
}

func (p *parser) rubyDef(i, head, end, scope int32) int32 {
	s := Scope{Kind: Func, Parent: scope, Head: head, Name: -1}
	if head == i || p.is(head, "public") {
		s.Traits |= Public
	}
	j := i + 1
	for j < end {
		s.Name = j
		if p.kind(j+1) == '.' && !p.fresh(j+1) {
			j += 2
			continue
		}
		break
	}
	j++
	if k := p.kind(s.Name); k != lex.Ident && !k.IsKeyword() { // an operator
		for j < end && p.kind(j) != '(' && !p.fresh(j) {
			j++
		}
	}
	if p.kind(j) == '=' && p.toks[j].Start == p.toks[j-1].End { // name=
		j++
	}
	if p.kind(j) == '(' && j < end {
		inner, after := p.inside(j, end)
		s.ParamsFrom, s.ParamsTo = j+1, inner
		j = after
	} else {
		s.ParamsFrom = j
		for j < end && (!p.fresh(j) || p.kind(j-1) == ',') && p.kind(j) != ';' && (p.kind(j) != '=' || j > s.ParamsFrom) {
			j = p.skip(j)
		}
		s.ParamsTo = j
	}
	if p.kind(j) == '=' && !p.fresh(j) && j < end { // def name = value
		s.Open = j + 1
		return p.within(s, func(at int32) int32 { return p.rubyExpression(j+1, end, at) })
	}
	return p.rubyBody(s, j, end)
}

func (p *parser) rubyClass(i, end, scope int32) int32 {
	s := Scope{Kind: Type, Traits: Public, Parent: scope, Head: i, Name: -1}
	j := i + 1
	if p.kind(j) == lex.ShiftLeft { // class << self
		s.Traits |= Anonymous
	} else {
		for p.kind(j) == lex.Ident {
			s.Name = j
			if p.kind(j+1) != lex.Scope {
				j++
				break
			}
			j += 2
		}
	}
	s.ParamsFrom = j
	for j < end && !p.fresh(j) && p.kind(j) != ';' {
		j = p.skip(j)
	}
	s.ParamsTo = j
	s.Open = j
	next := p.within(s, func(at int32) int32 { return p.ruby(j, end, at) })
	if p.role(next) == lang.End {
		next++
	}
	return next
}

// rubyHeader walks a condition up to the end of its line, "then" or "do".
func (p *parser) rubyHeader(i, end, scope int32) int32 {
	j := i
	for n := 0; j < end && n < maxHeader; n++ {
		if j > i && p.rubyBreak(j) || p.kind(j) == ';' || p.is(j, "then") || p.role(j) == lang.Do {
			break
		}
		j = p.skip(j)
	}
	p.rubySpan(i, j, scope)
	if p.is(j, "then") || p.role(j) == lang.Do {
		j++
	}
	return j
}

// rubySpan walks the tokens of an expression that is known to end at end.
func (p *parser) rubySpan(i, end, scope int32) {
	for i < end {
		next := p.rubyExpression(i, end, scope)
		i = max(next, i+1)
	}
}

func (p *parser) rubyIf(i, end, scope int32) int32 {
	next := p.arms(i, end, scope, p.ruby, func(s *Scope, j int32) int32 {
		s.ParamsFrom, s.ParamsTo = j, p.rubyHeader(j, end, scope)
		if p.condition(s.ParamsFrom, s.ParamsTo).level {
			s.Kind = Guard
		}
		return s.ParamsTo
	})
	if p.role(next) == lang.End {
		next++
	}
	return next
}

// arms walks the arms of a conditional that ends with a word, from the token
// of the first, and returns the index of that word. header reads what stands
// between the word of an arm and its statements, body the statements.
func (p *parser) arms(i, end, scope int32, body func(i, end, scope int32) int32, header func(s *Scope, j int32) int32) int32 {
	for {
		s := Scope{Kind: Branch, Parent: scope, Head: i, Name: -1}
		j := i + 1
		if p.role(i) == lang.Else {
			s.Traits |= ElseArm
		} else {
			j = header(&s, j)
		}
		s.Open = j
		next := p.within(s, func(at int32) int32 { return body(j, end, at) })
		if r := p.role(next); r != lang.Elif && r != lang.Else {
			return next
		}
		i = max(next, i+1)
	}
}

func (p *parser) rubyLoop(i, end, scope int32) int32 {
	j := p.rubyHeader(i+1, end, scope)
	s := Scope{Kind: Loop, Parent: scope, Head: i, Name: -1, ParamsFrom: i + 1, ParamsTo: j, Open: j}
	next := p.within(s, func(at int32) int32 { return p.ruby(j, end, at) })
	if p.role(next) == lang.End {
		next++
	}
	return next
}

func (p *parser) rubyCase(i, end, scope int32) int32 {
	j := i + 1
	for n := 0; n < maxHeader && j < end && !p.rubyBreak(j) && p.kind(j) != ';' && p.role(j) != lang.Case; n++ {
		j = p.skip(j)
	}
	p.rubySpan(i+1, j, scope)
	for j < end {
		switch p.role(j) {
		case lang.Case:
			s := Scope{Kind: Branch, Parent: scope, Head: j, Name: -1, ParamsFrom: j + 1}
			from := p.rubyHeader(j+1, end, scope)
			s.Open, s.ParamsTo = from, from
			j = max(p.within(s, func(at int32) int32 { return p.ruby(from, end, at) }), j+1)
		case lang.Else:
			s := Scope{Kind: Branch, Traits: ElseArm, Parent: scope, Head: j, Name: -1, Open: j + 1}
			j = max(p.within(s, func(at int32) int32 { return p.ruby(s.Open, end, at) }), j+1)
		case lang.End:
			return j + 1
		default:
			if k := p.kind(j); k == '}' || k == ')' || k == ']' {
				return j
			}
			if p.role(j) == lang.Catch || p.role(j) == lang.Finally {
				return j
			}
			j++
		}
	}
	return end
}

// rubyBreak tells whether the first token of a line begins a statement.
func (p *parser) rubyBreak(j int32) bool {
	if !p.fresh(j) {
		return false
	}
	switch p.kind(j) {
	case '.', lex.SafeDot, lex.AndAnd, lex.OrOr:
		return false
	}
	switch k := p.kind(j - 1); k {
	case ',', '(', '[', lex.Equal, lex.NotEqual, '<', '>':
		return false
	case '|':
		return true
	default:
		if r := k.Role(); r == lang.Operator {
			return false
		}
		return !p.joins(j - 1)
	}
}

// rubyExpression walks one expression statement.
func (p *parser) rubyExpression(i, end, scope int32) int32 {
	start := i
	for i < end {
		k := p.kind(i)
		if i > start && p.rubyBreak(i) {
			return i
		}
		if k.IsKeyword() && p.nameHere(i) {
			i++
			continue
		}
		switch k {
		case ';':
			return i + 1
		case ')', ']', '}', lex.ValueEnd:
			return i
		case lex.Ident:
			p.identifier(i, end, scope)
		case lex.ValueBegin, '(', '[', '{':
			if p.partner[i] > i && p.partner[i] < end {
				i = p.rubyBracket(i, end, scope)
				continue
			}
		}
		switch k.Role() {
		case lang.Do:
			open := i
			i = p.rubyBlock(i, end, scope)
			if name := open - 1; p.kind(name) == lex.Ident && p.names.Candidate(p.text(name)) && p.kind(name-1) == '.' {
				p.Calls = append(p.Calls, Call{Name: name, Open: -1, Scope: scope, From: open + 1, To: i - 1, Block: true})
			}
			continue
		case lang.Func:
			return p.rubyDef(i, start, end, scope)
		case lang.If, lang.While, lang.For, lang.Switch, lang.Try:
			if i == start || p.valueNext(i) {
				i = max(p.rubyStatement(i, end, scope), i+1)
				continue
			}
		case lang.Class:
			if i == start {
				return p.rubyClass(i, end, scope)
			}
		case lang.End, lang.Finally:
			return i
		case lang.Else, lang.Elif:
			if i > start {
				return i
			}
		case lang.Case:
			if p.fresh(i) {
				return i
			}
		}
		i++
	}
	return end
}

// valueNext tells whether a keyword stands where a value is wanted, so that it
// opens a construct rather than modifying the statement before it.
func (p *parser) valueNext(i int32) bool {
	if p.role(i) == lang.Switch || p.role(i) == lang.Try {
		return true
	}
	switch p.kind(i - 1) {
	case '=', '(', '[', ',', lex.OpAssign, lex.Arrow, lex.AndAnd, lex.OrOr, ':', '?', '{', '|', '!', lex.ShiftLeft:
		return true
	}
	r := p.role(i - 1)
	return r == lang.Operator || r == lang.Else
}

// rubyBracket walks the inside of a bracket: a block, or parts of an
// expression.
func (p *parser) rubyBracket(i, end, scope int32) int32 {
	close := p.partner[i]
	if p.depth >= maxDepth {
		p.flat(i+1, close, scope)
		return close + 1
	}
	if p.toks[i].Flags&lex.Bare != 0 {
		return close + 1
	}
	if p.kind(i) == '{' && p.blockBrace(i) {
		s := p.blockScope(i, scope)
		s.Open, s.Close = p.blockArgs(i+1, close), close
		at := p.newScope(s)
		p.rubyInside(s.Open, close, at)
		return close + 1
	}
	p.rubyInside(i+1, close, scope)
	return close + 1
}

func (p *parser) rubyInside(i, end, scope int32) {
	p.depth++
	for i < end {
		next := p.ruby(i, end, scope)
		i = max(next, i+1)
	}
	p.depth--
}

// blockBrace tells whether a brace opens a block rather than a hash.
func (p *parser) blockBrace(i int32) bool {
	switch k := p.kind(i - 1); k {
	case ')', lex.Ident:
		return k == ')' || p.toks[i].Start > p.toks[i-1].End || p.kind(i+1) == '|'
	case lex.ThinArrow:
		return true
	}
	return p.kind(i+1) == '|'
}

// blockArgs passes over |a, b|.
func (p *parser) blockArgs(i, end int32) int32 {
	if p.kind(i) == lex.OrOr {
		return i + 1
	}
	if p.kind(i) != '|' {
		return i
	}
	for j := i + 1; j < end && j < i+60; j = p.skip(j) {
		if p.kind(j) == '|' {
			return j + 1
		}
	}
	return i
}

// blockScope says what the block at i is for, from the call it is handed to.
func (p *parser) blockScope(i, scope int32) Scope {
	s := Scope{Kind: Lambda, Parent: scope, Head: i, Name: -1}
	j := i - 1
	if p.kind(j) == ')' && p.partner[j] > 0 {
		j = p.partner[j] - 1
	}
	for n := 0; n < 12 && j >= 0; n++ {
		if p.kind(j) == lex.Ident {
			name := string(p.text(j))
			if p.words.loopCalls[name] && (p.kind(j-1) == '.' || p.kind(j-1) == lex.SafeDot || name == "loop") {
				s.Kind = Loop
				return s
			}
			if n == 0 && (p.kind(j-1) == '.' || p.fresh(j)) {
				return s
			}
		}
		if p.fresh(j) || p.kind(j) == ';' || p.kind(j) == '=' {
			return s
		}
		j--
	}
	return s
}

// rubyBlock walks "do |a| … end".
func (p *parser) rubyBlock(i, end, scope int32) int32 {
	s := p.blockScope(i, scope)
	return p.rubyBody(s, p.blockArgs(i+1, end), end)
}
