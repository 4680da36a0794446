package outline

import (
	"strings"

	"reed/internal/lang"
	"reed/internal/lex"
)

// suite walks the statements that are indented deeper than col and returns
// the index of the first that is not.
func (p *parser) suite(i, end int32, col int, scope int32) int32 {
	for i < end {
		if t := p.toks[i]; t.Flags&lex.StmtStart != 0 && int(t.Indent) <= col {
			return i
		}
		next := p.line(i, end, scope)
		i = max(next, i+1)
	}
	return end
}

// line walks one statement, and its suite if it is compound.
func (p *parser) line(i, end, scope int32) int32 {
	switch p.role(i) {
	case lang.Await:
		if r := p.role(i + 1); r == lang.Func || r == lang.For || r == lang.With {
			return p.compound(i+1, i, end, scope)
		}
	case lang.Import:
		return p.indentImport(i, end)
	case lang.From:
		return p.fromImport(i, end)
	case lang.Func, lang.Class, lang.If, lang.Elif, lang.Else, lang.For, lang.While, lang.Try, lang.Catch, lang.Finally, lang.With:
		return p.compound(i, i, end, scope)
	}
	next := p.expression(i, end, scope, toColon)
	if next == i || next < end && (p.kind(next) == ':' || p.kind(next) == ';') {
		next++
	}
	return next
}

// compound walks a header up to its colon, then its suite. head is the first
// token of the statement.
func (p *parser) compound(i, head, end, scope int32) int32 {
	s := Scope{Kind: Branch, Parent: scope, Head: head, Name: -1}
	j := i + 1
	switch p.role(i) {
	case lang.Func, lang.Class:
		s.Kind = Func
		if p.role(i) == lang.Class {
			s.Kind = Type
		}
		if p.kind(j) == lex.Ident || p.kind(j).IsKeyword() {
			s.Name = j
			if !strings.HasPrefix(string(p.text(j)), "_") {
				s.Traits |= Public
			}
			j++
		}
		if p.kind(j) == '[' {
			j = p.skip(j)
		}
		if p.kind(j) == '(' {
			s.ParamsFrom, s.ParamsTo = j+1, max(p.skip(j)-1, j+1)
		}
	case lang.Elif:
		s.Traits |= ElseArm
	case lang.Else:
		s.Traits |= ElseArm
	case lang.For, lang.While:
		s.Kind = Loop
	case lang.Try:
		s.Kind = Try
	case lang.Finally:
		s.Kind = Finally
	case lang.Catch:
		s.Kind, s.Traits = Failure, Handler
	}
	colon := p.expression(j, end, scope, toColon)
	switch p.role(i) {
	case lang.If, lang.Elif:
		s.ParamsFrom, s.ParamsTo = j, colon
		if p.condition(j, colon).level {
			s.Kind = Guard
		}
	case lang.While, lang.For:
		s.ParamsFrom, s.ParamsTo = j, colon
	case lang.Catch:
		s.ParamsFrom, s.ParamsTo = j, colon
		if colon-2 >= j && p.is(colon-2, "as") {
			s.Name, s.ParamsTo = colon-1, colon-2
		} else if colon-2 >= j && p.kind(colon-2) == ',' && p.kind(j) != '(' {
			s.Name, s.ParamsTo = colon-1, colon-2
		}
	}
	if colon >= end || p.kind(colon) != ':' {
		return colon
	}
	s.Open = colon + 1
	if p.depth >= maxDepth {
		return colon + 1
	}
	p.depth++
	defer func() { p.depth-- }()
	if colon+1 < end && p.toks[colon+1].Flags&lex.StmtStart == 0 {
		return p.within(s, func(at int32) int32 { return p.inline(colon+1, end, at) })
	}
	col := int(p.toks[head].Indent)
	if p.toks[head].Flags&lex.StmtStart == 0 {
		return colon + 1
	}
	return p.within(s, func(at int32) int32 { return p.suite(colon+1, end, col, at) })
}

// inline walks the simple statements behind a colon on the same line.
func (p *parser) inline(i, end, at int32) int32 {
	for i < end {
		i = p.expression(i, end, at, toEnd)
		if i >= end || p.toks[i].Flags&lex.StmtStart != 0 || p.kind(i) != ';' {
			return i
		}
		i++
		if i < end && p.toks[i].Flags&lex.StmtStart != 0 {
			return i
		}
	}
	return end
}

// indentImport reads "import a.b as c, d".
func (p *parser) indentImport(i, end int32) int32 {
	j := i + 1
	for j < end && p.toks[j].Flags&lex.StmtStart == 0 && p.kind(j) != ';' {
		at := j
		path, next := p.dotted(j, end)
		if path == "" {
			j++
			continue
		}
		local, full := path, path
		j = next
		if p.is(j, "as") {
			local = string(p.text(j + 1))
			j += 2
		} else if dot := strings.IndexByte(path, '.'); dot > 0 {
			p.addImport(path, "", at)
			local, full = path[:dot], path[:dot]
		}
		p.addImport(full, local, at)
	}
	return j
}

// fromImport reads "from a.b import c as d, e". A member is written a.b#c.
func (p *parser) fromImport(i, end int32) int32 {
	j := i + 1
	dots := ""
	for p.kind(j) == '.' || p.kind(j) == lex.Ellipsis {
		dots += string(p.text(j))
		j++
	}
	path := ""
	if p.kind(j) == lex.Ident {
		path, j = p.dotted(j, end)
	}
	path = dots + path
	if p.role(j) != lang.Import {
		return p.expression(i+1, end, 0, toEnd)
	}
	for j++; j < end && p.toks[j].Flags&lex.StmtStart == 0 && p.kind(j) != ';'; j++ {
		if p.kind(j) == '*' {
			p.addImport(path, "", j)
		}
		if p.kind(j) != lex.Ident {
			continue
		}
		name, local := string(p.text(j)), j
		if p.is(j+1, "as") {
			local = j + 2
			j += 2
		}
		p.addImport(path+"#"+name, string(p.text(local)), local)
	}
	return j
}
