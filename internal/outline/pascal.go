package outline

import (
	"reed/internal/lang"
	"reed/internal/lex"
)

// pascal walks a unit or program: blocks stand between begin and end, and
// routines may hold others.
func (p *parser) pascal(i, end int32) {
	bodies := true // the interface of a unit has none
	for i < end {
		switch p.role(i) {
		case lang.Namespace:
			if p.is(i, "unit") || equalFold4(p.text(i), "unit") {
				p.Package, i = p.dotted(i+1, end)
				continue
			}
		case lang.Section:
			if k := p.kind(i - 1); k != '=' {
				bodies = !foldIn(p.text(i), "interface")
				if foldIn(p.text(i), "initialization", "finalization") {
					i = p.pasStatements(i+1, end, 0)
					continue
				}
			} else {
				i = p.pasType(i, end)
				continue
			}
		case lang.Import:
			for i++; i < end && p.kind(i) != ';'; i++ {
				if p.kind(i) == lex.Ident && p.kind(i+1) != '.' {
					p.addImport(string(p.text(i)), string(p.text(i)), i)
				}
			}
		case lang.Class:
			if k := p.kind(i - 1); k == '=' || foldIn(p.text(i-1), "packed") {
				i = p.pasType(i, end)
				continue
			}
		case lang.Func:
			if bodies {
				i = p.routine(i, end, 0)
				continue
			}
			i = p.pasHeader(i, end)
			continue
		case lang.Do2:
			i = p.pasStatement(i, end, 0)
			continue
		}
		i++
	}
}

func equalFold4(t []byte, w string) bool { return len(t) == len(w) && equalFold(t, w) }

// pasType passes over a class or record up to its end.
func (p *parser) pasType(i, end int32) int32 {
	j := i + 1
	if p.is(j, "of") || p.kind(j) == ';' {
		return j
	}
	if p.kind(j) == '(' {
		j = p.skip(j)
		if p.kind(j) == ';' {
			return j
		}
	}
	s := Scope{Kind: Type, Head: i, Name: -1, Open: j}
	if p.kind(i-1) == '=' && p.kind(i-2) == lex.Ident {
		s.Name = i - 2
	}
	depth := 1
	for j < end && depth > 0 {
		switch p.role(j) {
		case lang.Class:
			if k := p.kind(j - 1); (k == '=' || k == ':' || foldIn(p.text(j-1), "packed", "of")) && p.kind(j+1) != ';' && !foldIn(p.text(j+1), "of") {
				depth++
			}
		case lang.End:
			depth--
		case lang.Section:
			if depth == 1 && foldIn(p.text(j), "implementation") {
				return j
			}
		}
		j++
	}
	s.Close = j
	p.newScope(s)
	return j
}

// pasHeader passes over a routine's header and its directives.
func (p *parser) pasHeader(i, end int32) int32 {
	j := i + 1
	for j < end && p.kind(j) != ';' {
		if r := p.role(j); r == lang.Do2 || r == lang.End || r == lang.Section {
			return j
		}
		j = p.skip(j)
	}
	j++
	for j < end && (p.role(j) == lang.Modifier && !foldIn(p.text(j), "private", "protected", "published") || foldIn(p.text(j), "platform", "deprecated", "assembler", "register", "safecall", "pascal", "message")) {
		for j < end && p.kind(j) != ';' {
			j = p.skip(j)
		}
		j++
	}
	return j
}

// routine walks a procedure or function with its body.
func (p *parser) routine(i, end, scope int32) int32 {
	s := Scope{Kind: Func, Traits: Public, Parent: scope, Head: i, Name: -1}
	j := i + 1
	for j < end && (p.kind(j) == lex.Ident || p.kind(j).IsKeyword()) {
		if s.Name >= 0 {
			s.Recv = s.Name
		}
		s.Name = j
		j++
		if p.kind(j) == '<' {
			j = p.generics(j, end)
		}
		if p.kind(j) != '.' {
			break
		}
		j++
	}
	if p.kind(j) == '(' {
		inner, after := p.inside(j, end)
		s.ParamsFrom, s.ParamsTo = j+1, inner
		j = after
	}
	after := p.pasHeader(i, end)
	for k := j; k < after; k++ {
		if foldIn(p.text(k), "forward", "external") {
			return after
		}
	}
	if p.depth >= maxDepth {
		return after
	}
	p.depth++
	defer func() { p.depth-- }()
	s.Open = after
	return p.within(s, func(at int32) int32 {
		j := after
		for j < end {
			switch p.role(j) {
			case lang.Func:
				if p.kind(j-1) == '=' || p.kind(j-1) == ':' || foldIn(p.text(j-1), "to") { // a type
					j++
					continue
				}
				j = p.routine(j, end, at)
				continue
			case lang.Class:
				if p.kind(j-1) == '=' {
					j = p.pasType(j, end)
					continue
				}
			case lang.Do2:
				p.Scopes[at].Open = j + 1
				return p.pasStatement(j, end, at)
			case lang.End, lang.Section, lang.Try, lang.If:
				return j
			}
			if foldIn(p.text(j), "asm") && p.role(j) == lang.Word {
				for j < end && p.role(j) != lang.End {
					j++
				}
				return min(j+1, end)
			}
			j++
		}
		return end
	})
}

// pasStatements walks statements up to a word that ends a block.
func (p *parser) pasStatements(i, end, scope int32) int32 {
	for i < end {
		switch p.role(i) {
		case lang.End, lang.Catch, lang.Finally, lang.Else, lang.Section:
			return i
		case lang.Word:
			if foldIn(p.text(i), "until") {
				return i
			}
		}
		next := p.pasStatement(i, end, scope)
		i = max(next, i+1)
	}
	return end
}

func (p *parser) pasStatement(i, end, scope int32) int32 {
	if p.depth >= maxDepth {
		p.flat(i, end, scope)
		return end
	}
	p.depth++
	defer func() { p.depth-- }()
	if p.kind(i) == ';' {
		return i + 1
	}
	switch p.role(i) {
	case lang.Do2:
		s := Scope{Kind: Branch, Parent: scope, Head: i, Name: -1, Open: i + 1}
		return p.pasEnd(p.within(s, func(at int32) int32 { return p.pasStatements(i+1, end, at) }))
	case lang.If:
		j := p.pasExpression(i+1, end, scope, "then")
		s := Scope{Kind: Branch, Parent: scope, Head: i, Name: -1, ParamsFrom: i + 1, ParamsTo: j}
		if p.condition(i+1, j).level {
			s.Kind = Guard
		}
		next := p.pasArm(s, j+1, end)
		if p.role(next) == lang.Else {
			return p.pasArm(Scope{Kind: Branch, Traits: ElseArm, Parent: scope, Head: next, Name: -1}, next+1, end)
		}
		return next
	case lang.For, lang.While:
		j := p.pasExpression(i+1, end, scope, "do")
		return p.pasArm(Scope{Kind: Loop, Parent: scope, Head: i, Name: -1, ParamsFrom: i + 1, ParamsTo: j}, j+1, end)
	case lang.With:
		j := p.pasExpression(i+1, end, scope, "do")
		return p.pasStatement(min(j+1, end), end, scope)
	case lang.Switch:
		return p.pasCase(i, end, scope)
	case lang.Try:
		return p.pasTry(i, end, scope)
	case lang.Word:
		switch {
		case foldIn(p.text(i), "repeat"):
			s := Scope{Kind: Loop, Parent: scope, Head: i, Name: -1, Open: i + 1}
			next := p.within(s, func(at int32) int32 { return p.pasStatements(i+1, end, at) })
			return p.pasExpression(next+1, end, scope, "")
		case foldIn(p.text(i), "asm"):
			for i < end && p.role(i) != lang.End {
				i++
			}
			return p.pasEnd(i)
		}
	}
	return p.pasExpression(i, end, scope, "")
}

// pasEnd passes over the word end.
func (p *parser) pasEnd(i int32) int32 {
	if p.role(i) == lang.End {
		i++
	}
	return i
}

func (p *parser) pasArm(s Scope, i, end int32) int32 {
	s.Open = min(i, end)
	return p.within(s, func(at int32) int32 {
		switch p.role(i) {
		case lang.End, lang.Else:
			return i // an empty statement
		}
		return p.pasStatement(i, end, at)
	})
}

func (p *parser) pasCase(i, end, scope int32) int32 {
	j := p.pasExpression(i+1, end, scope, "of") + 1
	for j < end {
		switch p.role(j) {
		case lang.End:
			return j + 1
		case lang.Else:
			s := Scope{Kind: Branch, Traits: ElseArm, Parent: scope, Head: j, Name: -1, Open: j + 1}
			j = max(p.within(s, func(at int32) int32 { return p.pasStatements(s.Open, end, at) }), j+1)
			continue
		case lang.Section, lang.Func:
			return j
		}
		head := j
		for j < end && p.kind(j) != ':' && p.role(j) != lang.End && p.kind(j) != ';' {
			j = p.skip(j)
		}
		if p.kind(j) == ':' {
			j = max(p.pasArm(Scope{Kind: Branch, Parent: scope, Head: head, Name: -1}, j+1, end), j+1)
		} else if p.kind(j) == ';' {
			j++
		}
	}
	return end
}

func (p *parser) pasTry(i, end, scope int32) int32 {
	s := Scope{Kind: Try, Parent: scope, Head: i, Name: -1, Open: i + 1}
	j := p.within(s, func(at int32) int32 { return p.pasStatements(i+1, end, at) })
	switch p.role(j) {
	case lang.Finally:
		f := Scope{Kind: Finally, Parent: scope, Head: j, Name: -1, Open: j + 1}
		j = p.within(f, func(at int32) int32 { return p.pasStatements(f.Open, end, at) })
	case lang.Catch:
		f := Scope{Kind: Failure, Traits: Handler, Parent: scope, Head: j, Name: -1, Open: j + 1}
		j = p.within(f, func(at int32) int32 { return p.handlers(f.Open, end, at) })
	}
	return p.pasEnd(j)
}

// handlers walks what stands behind except: "on E: Type do …" and statements.
func (p *parser) handlers(i, end, scope int32) int32 {
	for i < end {
		switch {
		case p.role(i) == lang.End || p.role(i) == lang.Section:
			return i
		case foldIn(p.text(i), "on") && p.role(i) == lang.Word:
			s := Scope{Kind: Failure, Traits: Handler, Parent: scope, Head: i, Name: -1, ParamsFrom: i + 1}
			j := i + 1
			if p.kind(j) == lex.Ident && p.kind(j+1) == ':' {
				s.Name = j
				s.ParamsFrom = j + 2
			}
			for j < end && p.role(j) != lang.Do && p.kind(j) != ';' {
				j++
			}
			s.ParamsTo = j
			i = max(p.pasArm(s, j+1, end), i+1)
		case p.role(i) == lang.Else:
			i++
		default:
			next := p.pasStatement(i, end, scope)
			i = max(next, i+1)
		}
	}
	return end
}

// pasExpression walks up to the word stop, or to the end of the statement.
func (p *parser) pasExpression(i, end, scope int32, stop string) int32 {
	for i < end {
		k := p.kind(i)
		switch k.Role() {
		case lang.End, lang.Else, lang.Catch, lang.Finally, lang.Section, lang.Do2:
			if p.kind(i-1) != '.' && (stop == "" || k.Role() != lang.Do2) {
				return i
			}
		case lang.Word, lang.Do:
			if stop != "" && foldIn(p.text(i), stop) || foldIn(p.text(i), "until") {
				return i
			}
		case lang.Func:
			i = p.pasLambda(i, end, scope)
			continue
		}
		switch k {
		case ';':
			if stop == "" {
				return i + 1
			}
			return i
		case lex.Ident:
			switch {
			case p.kind(i+1) == '(':
				p.callName(i, i+1, scope)
			case (p.kind(i+1) == ';' || p.role(i+1) == lang.End || p.role(i+1) == lang.Else) && p.names.Candidate(p.text(i)):
				p.Calls = append(p.Calls, Call{Name: i, Open: -1, Scope: scope, From: i + 1, To: i + 1})
			}
		}
		i++
	}
	return end
}

// pasLambda walks a routine without a name inside an expression.
func (p *parser) pasLambda(i, end, scope int32) int32 {
	j := i + 1
	s := Scope{Kind: Lambda, Parent: scope, Head: i, Name: -1}
	if p.kind(j) == '(' {
		inner, after := p.inside(j, end)
		s.ParamsFrom, s.ParamsTo = j+1, inner
		j = after
	}
	for n := 0; n < 200 && j < end && p.role(j) != lang.Do2; n++ {
		if k := p.kind(j); k == ')' || k == '=' && n > 4 {
			return i + 1
		}
		j++
	}
	if p.role(j) != lang.Do2 || p.depth >= maxDepth {
		return i + 1
	}
	s.Open = j
	return p.within(s, func(at int32) int32 { return p.pasStatement(j, end, at) })
}
