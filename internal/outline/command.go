package outline

import (
	"reed/internal/lang"
	"reed/internal/lex"
)

// Calls that do without a name or without brackets.

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
