package outline

import (
	"reed/internal/lang"
	"reed/internal/lex"
)

// shell walks commands up to a word or sign that ends the list around them.
func (p *parser) shell(i, end, scope int32) int32 {
	if p.depth >= maxDepth {
		return end
	}
	p.depth++
	defer func() { p.depth-- }()
	for i < end {
		switch p.role(i) {
		case lang.End, lang.Else, lang.Elif:
			return i
		case lang.Word:
			if p.is(i, "then") {
				return i
			}
		case lang.Do:
			return i
		}
		if k := p.kind(i); k == '}' || k == ')' {
			if p.partner[i] < 0 && k == ')' { // the end of a pattern
				i++
				continue
			}
			return i
		}
		next := p.shellCommand(i, end, scope)
		i = max(next, i+1)
	}
	return end
}

// shellCommand walks one command, and what a failure of it leads to.
func (p *parser) shellCommand(i, end, scope int32) int32 {
	next := p.simpleCommand(i, end, scope)
	for next < end {
		switch p.kind(next) {
		case lex.OrOr:
			s := Scope{Kind: Failure, Parent: scope, Head: next, Name: -1, Open: next + 1}
			next = max(p.within(s, func(at int32) int32 { return p.simpleCommand(s.Open, end, at) }), next+1)
		case lex.AndAnd, '|':
			next = max(p.simpleCommand(next+1, end, scope), next+1)
		case ';', '&':
			return next + 1
		default:
			return next
		}
	}
	return next
}

func (p *parser) simpleCommand(i, end, scope int32) int32 {
	switch k := p.kind(i); {
	case i >= end:
		return end
	case k == '{' || k == '(':
		inner, after := p.inside(i, end)
		p.shellInside(i+1, inner, scope)
		return p.redirections(after, end)
	case k == '!':
		return p.simpleCommand(i+1, end, scope)
	case p.role(i) == lang.If:
		return p.shellIf(i, end, scope)
	case p.role(i) == lang.For || p.role(i) == lang.While:
		return p.shellLoop(i, end, scope)
	case p.role(i) == lang.Switch:
		return p.shellCase(i, end, scope)
	case p.role(i) == lang.Func && p.kind(i+1) == lex.Ident:
		return p.shellFunc(i, i+1, end, scope)
	case k == lex.Ident && p.kind(i+1) == '(' && p.kind(i+2) == ')':
		return p.shellFunc(i, i, end, scope)
	}
	return p.commandWords(i, end, scope)
}

func (p *parser) shellInside(i, end, scope int32) {
	for i < end {
		next := p.shell(i, end, scope)
		i = max(next, i+1)
	}
}

// commandWords walks the words of a simple command and records it as a call.
func (p *parser) commandWords(i, end, scope int32) int32 {
	j := i
	for j < end { // VAR=value before the command
		if p.kind(j) == lex.Ident && p.kind(j+1) == '=' && p.toks[j+1].Start == p.toks[j].End {
			j += 2
			for j < end && !p.fresh(j) && p.toks[j].Start == p.toks[j-1].End && p.kind(j) != ';' {
				p.substitutions(j, scope)
				j = p.skip(j)
			}
			continue
		}
		break
	}
	name := j
	for p.kind(j) == '/' || p.kind(j) == '.' || p.kind(j+1) == '/' && p.toks[j+1].Start == p.toks[j].End { // a path: its last part
		j++
		name = j
	}
	if j < end && !p.fresh(j) || j == i {
		if r := p.role(j); j > i && (r == lang.End || r == lang.Else) {
			return j
		}
	} else if p.fresh(j) && j > i {
		return j
	}
	j++
	for j < end {
		k := p.kind(j)
		if p.fresh(j) {
			break
		}
		switch k {
		case ';', lex.AndAnd, lex.OrOr, '|', ')', '}', lex.ValueEnd:
			p.shellCall(name, j, scope)
			return j
		case '&':
			if p.kind(j-1) != '>' && p.kind(j+1) != '>' {
				p.shellCall(name, j, scope)
				return j
			}
		}
		p.substitutions(j, scope)
		j = p.skip(j)
	}
	p.shellCall(name, j, scope)
	return j
}

func (p *parser) shellCall(name, to, scope int32) {
	if p.kind(name) == lex.Ident && p.names.Hash != nil {
		p.Called = append(p.Called, p.names.Hash(p.text(name)))
	}
	if p.kind(name) == lex.Ident && p.names.Candidate(p.text(name)) {
		p.Calls = append(p.Calls, Call{Name: name, Open: -1, Scope: scope, From: name + 1, To: to})
	}
}

// substitutions walks the commands inside a word: $(…), and those in a string.
func (p *parser) substitutions(i, scope int32) {
	switch p.kind(i) {
	case lex.StringBegin:
		for j := i + 1; j < p.partner[i]; j = p.skip(j) {
			if p.kind(j) == lex.ValueBegin && p.partner[j] > j && p.toks[j].Flags&lex.Bare == 0 && p.src[p.toks[j].End-1] == '(' {
				p.shellInside(j+1, p.partner[j], scope)
			}
		}
	case '(':
		if p.partner[i] > i && p.kind(i-1) == lex.Ident && p.is(i-1, "$") {
			p.shellInside(i+1, p.partner[i], scope)
		}
	}
}

func (p *parser) redirections(i, end int32) int32 {
	for i < end && !p.fresh(i) {
		switch p.kind(i) {
		case '>', '<', lex.ShiftLeft, lex.Number:
			i++
			if p.kind(i) == '&' {
				i++
			}
			if !p.fresh(i) && p.kind(i) != ';' {
				i = p.skip(i)
			}
			continue
		}
		return i
	}
	return i
}

func (p *parser) shellIf(i, end, scope int32) int32 {
	next := p.arms(i, end, scope, p.shell, func(s *Scope, from int32) int32 {
		failed := p.kind(from) == '!'
		j := p.shell(from, end, scope)
		if p.is(j, "then") {
			j++
		}
		s.ParamsFrom, s.ParamsTo = from, j
		if failed && p.kind(from+1) != '[' {
			s.Kind = Failure
		}
		return j
	})
	if p.role(next) == lang.End {
		return p.redirections(next+1, end)
	}
	return next
}

func (p *parser) shellLoop(i, end, scope int32) int32 {
	j := i + 1
	if p.role(i) == lang.For {
		for j < end && p.role(j) != lang.Do && p.kind(j) != '{' {
			p.substitutions(j, scope)
			j = p.skip(j)
		}
	} else {
		j = p.shell(j, end, scope)
	}
	s := Scope{Kind: Loop, Parent: scope, Head: i, Name: -1, ParamsFrom: i + 1, ParamsTo: j, Open: min(j+1, end)}
	next := p.within(s, func(at int32) int32 { return p.shell(s.Open, end, at) })
	if p.role(next) == lang.End || p.kind(next) == '}' {
		next++
	}
	return p.redirections(next, end)
}

func (p *parser) shellCase(i, end, scope int32) int32 {
	j := i + 1
	for j < end && !p.is(j, "in") {
		j = p.skip(j)
	}
	j++
	for j < end {
		if p.is(j, "esac") {
			return p.redirections(j+1, end)
		}
		for j < end && p.kind(j) != ')' && !p.is(j, "esac") { // pattern)
			if p.kind(j) == '(' && p.partner[j] > j {
				j = p.partner[j]
				break
			}
			j++
		}
		if p.is(j, "esac") {
			continue
		}
		s := Scope{Kind: Branch, Parent: scope, Head: j, Name: -1, Open: j + 1}
		j = max(p.within(s, func(at int32) int32 {
			k := s.Open
			for k < end && !(p.kind(k) == ';' && p.kind(k+1) == ';') && !p.is(k, "esac") {
				if p.role(k) == lang.End || p.role(k) == lang.Do || p.kind(k) == '}' {
					k++
					continue
				}
				next := p.shellCommandNoCase(k, end, at)
				k = max(next, k+1)
			}
			return k
		}), j+1)
		for p.kind(j) == ';' || p.kind(j) == '&' {
			j++
		}
	}
	return end
}

// shellCommandNoCase is shellCommand that leaves ";;" alone.
func (p *parser) shellCommandNoCase(i, end, scope int32) int32 {
	next := p.shellCommand(i, end, scope)
	if next > i && p.kind(next-1) == ';' && p.kind(next) == ';' && p.toks[next].Start == p.toks[next-1].End {
		return next - 1
	}
	return next
}

func (p *parser) shellFunc(i, name, end, scope int32) int32 {
	s := Scope{Kind: Func, Traits: Public, Parent: scope, Head: i, Name: name}
	j := name + 1
	if p.kind(j) == '(' {
		j = p.skip(j)
	}
	if k := p.kind(j); k == '{' || k == '(' {
		inner, after := p.inside(j, end)
		s.Open, s.Close = j+1, inner
		at := p.newScope(s)
		p.depth++
		p.shellInside(j+1, inner, at)
		p.depth--
		return p.redirections(after, end)
	}
	s.Open = j
	return p.within(s, func(at int32) int32 { return p.shellCommand(j, end, at) })
}
