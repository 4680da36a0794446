package outline

import (
	"reed/internal/lang"
	"reed/internal/lex"
)

// Blocks that indentation or words stand for where braces may be left out.

// looseHeader reads the header of a control statement that may do without
// parentheses: "if a then", "while b do", "for x <- y do".
func (p *parser) looseHeader(i, end int32) (from, to, body int32) {
	j := i
	if p.kind(j) == '(' || p.kind(j) == '{' {
		after := p.skip(j)
		if p.kind(after) == '{' || p.fresh(after) || p.role(after) == lang.Do || p.role(after) == lang.Yield {
			if p.role(after) == lang.Do || p.role(after) == lang.Yield {
				return j + 1, after - 1, after + 1
			}
			if p.kind(j) == '(' {
				return 0, 0, 0
			}
			return j + 1, after - 1, after
		}
		if k := p.kind(after); k != '.' && k != lex.AndAnd && k != lex.OrOr && !p.is(after, "then") && k != lex.Equal && k != lex.NotEqual {
			if p.kind(j) == '{' {
				return j + 1, after - 1, after
			}
			return 0, 0, 0
		}
	}
	for n := 0; j < end && n < 400; n++ {
		if p.is(j, "then") || p.role(j) == lang.Do || p.role(j) == lang.Yield {
			return i, j, j + 1
		}
		if p.kind(j) == '{' && j > i {
			return i, j, j
		}
		if p.kind(j) == ';' || p.kind(j) == '}' || p.kind(j) == ')' {
			break
		}
		j = p.skip(j)
	}
	return 0, 0, 0
}

// indented walks a body that is set off by indentation: all lines from i on
// that stand deeper than the line of the scope's header.
func (p *parser) indented(s Scope, i, end int32) int32 {
	head := s.Head
	for head > 0 && !p.fresh(head) {
		head--
	}
	limit := p.column(head)
	stop := i
	for stop < end && !(p.fresh(stop) && p.column(stop) <= limit && p.kind(stop) != '}' && p.kind(stop) != ')') {
		if p.kind(stop) == '}' || p.kind(stop) == ')' {
			break
		}
		stop = p.skip(stop)
	}
	stop = min(stop, end)
	s.Open = i
	if p.depth >= maxDepth {
		p.flat(i, stop, s.Parent)
		return stop
	}
	p.depth++
	defer func() { p.depth-- }()
	return p.within(s, func(at int32) int32 {
		p.statements(i, stop, at)
		return stop
	})
}

// column returns how many bytes stand before a token on its line.
func (p *parser) column(i int32) int {
	if i < 0 || int(i) >= len(p.toks) {
		return 0
	}
	start := int(p.toks[i].Start)
	n := 0
	for start-n > 0 && p.src[start-n-1] != '\n' && n < 2000 {
		n++
	}
	return n
}

// looseCatch reads what stands between catch and its brace where parentheses
// are not needed, and returns where the brace is to be.
func (p *parser) looseCatch(s *Scope, j, end int32) int32 {
	from := j
	for n := 0; j < end && n < 40 && p.kind(j) != '{' && p.kind(j) != ';'; n++ {
		switch {
		case p.role(j) == lang.Catch && p.kind(j+1) == '(': // on Type catch (e, st)
			inner, after := p.inside(j+1, end)
			s.Name = p.lastName(j+2, inner)
			s.ParamsFrom, s.ParamsTo = from, j
			return after
		case p.role(j) == lang.Var && p.kind(j+1) == lex.Ident: // catch let error as Type
			s.Name = j + 1
		case p.f.Has(lang.OptionalBraces) && p.role(j) == lang.Case:
			s.ParamsFrom, s.ParamsTo = from, j
			return p.looseCases(s, j, end)
		}
		j = p.skip(j)
	}
	s.ParamsFrom, s.ParamsTo = from, j
	return j
}

// looseCases walks the cases of a catch without braces.
func (p *parser) looseCases(s *Scope, j, end int32) int32 {
	scope := *s
	if p.fresh(j) {
		return p.indented(scope, j, end)
	}
	scope.Open = j
	return p.within(scope, func(at int32) int32 { return p.caseLabel(j, end, at) })
}

// alternative walks "if (…): … elseif: … endif;".
func (p *parser) alternative(s Scope, i, end int32) int32 {
	j := i + 1
	s.Open = j
	return p.within(s, func(at int32) int32 {
		for j < end {
			switch t := p.text(j); {
			case p.role(j) == lang.Else || p.role(j) == lang.Elif:
				return j
			case len(t) > 4 && (t[0]|0x20) == 'e' && p.kind(j) == lex.Ident && foldIn(t, "endif", "endforeach", "endfor", "endwhile", "endswitch"):
				return j + 1
			}
			next := p.statement(j, end, at)
			j = max(next, j+1)
		}
		return end
	})
}
