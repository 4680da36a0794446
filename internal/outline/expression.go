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
