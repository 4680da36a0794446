package outline

import (
	"reed/internal/lang"
	"reed/internal/lex"
)

// Languages whose functions and types begin with keywords, and whose braces
// may open a block wherever an expression may stand.

// keywordStatement walks a statement that only these languages have; 0 when i
// begins none.
func (p *parser) keywordStatement(i, end, scope int32) int32 {
	switch p.role(i) {
	case lang.Modifier, lang.Public:
		j := i
		public := false
		for j < end {
			r := p.role(j)
			if r != lang.Modifier && r != lang.Public {
				break
			}
			public = public || r == lang.Public
			j++
			if p.kind(j) == '(' && p.partner[j] > j && (p.f.Has(lang.Macros) || p.f.Has(lang.TypeSuffix)) && !p.is(j-1, "move") { // pub(crate), private(set)
				j = p.partner[j] + 1
			} else if p.kind(j) == '[' && p.f.Has(lang.OptionalBraces) { // private[scope]
				j = p.skip(j)
			}
		}
		switch p.role(j) {
		case lang.Func:
			return p.keywordFunc(j, i, end, scope, public)
		case lang.Class:
			return p.keywordType(j, i, end, scope)
		}
		if j > i && (p.fresh(j) || p.kind(j) == '{') && p.f.Has(lang.Macros) { // unsafe {
			return p.statement(j, end, scope)
		}
		return p.statement(max(j, i+1), end, scope)
	case lang.Func:
		if p.kind(i+1) == '(' && !p.is(i, "init") && !p.is(i, "subscript") {
			return 0
		}
		if p.is(i, "init") && p.kind(i+1) != '(' && p.kind(i+1) != '?' && p.kind(i+1) != '<' && p.kind(i+1) != '!' {
			return 0
		}
		return p.keywordFunc(i, i, end, scope, false)
	case lang.Class:
		if p.kind(i-1) == '.' || p.kind(i-1) == lex.Scope {
			return 0
		}
		return p.keywordType(i, i, end, scope)
	case lang.Import:
		return p.pathImport(i, end)
	case lang.Namespace:
		return p.keywordNamespace(i, end, scope)
	case lang.Package:
		name, next := p.dotted(i+1, end)
		p.Package = name
		if p.kind(next) == '{' && next < end { // package a { … }
			inner, after := p.inside(next, end)
			p.statements(next+1, inner, scope)
			return after
		}
		return max(next, i+1)
	case lang.Switch:
		if p.f.Has(lang.Macros) || p.f.Has(lang.Blocks) && !p.f.Has(lang.CaseScopes) || p.f.Has(lang.Islands) && p.is(i, "match") {
			return p.matchStatement(i, end, scope)
		}
	case lang.TypeDecl:
		return p.skipType(i+1, end)
	}
	if p.is(i, "init") && p.kind(i+1) == '{' && p.Scopes[scope].Kind == Type {
		return p.block(Scope{Kind: Func, Parent: scope, Head: i, Name: i}, i+1, end)
	}
	return 0
}

// keywordFunc walks "fun name(params): Type body". head is the first of its
// modifiers. A body is a block, an expression behind "=", or missing.
func (p *parser) keywordFunc(i, head, end, scope int32, public bool) int32 {
	if p.role(i+1) == lang.Class { // fun interface
		return p.keywordType(i+1, head, end, scope)
	}
	s := Scope{Kind: Func, Parent: scope, Head: head, Name: -1}
	p.publicity(&s, head, i, public)
	j := i + 1
	if p.is(i, "init") || p.is(i, "deinit") || p.is(i, "subscript") {
		s.Name = i
	}
	if p.kind(j) == '&' { // by reference
		j++
	}
	if p.kind(j) == '<' {
		j = p.generics(j, end)
	}
	for s.Name < 0 && j < end { // Type.name, <name> of any kind
		k := p.kind(j)
		if k == '(' || k == '{' || k == '=' || k == ';' || k == ':' || k == '[' {
			break
		}
		if k == lex.Ident || k.IsKeyword() {
			s.Name = j
			if p.kind(j+1) == '<' && p.kind(p.generics(j+1, end)) == '.' {
				j = p.generics(j+1, end) - 1
			}
			if p.kind(j+1) == '.' || p.kind(j+1) == '?' && p.kind(j+2) == '.' || p.kind(j+1) == lex.SafeDot {
				s.Name = -1
				j++
				for p.kind(j) == '?' || p.kind(j) == '.' || p.kind(j) == lex.SafeDot {
					j++
				}
				continue
			}
			j++
			break
		}
		j++
		if k != '`' && k != lex.Unknown && k != lex.String {
			if s.Name < 0 { // an operator
				s.Name = j - 1
			}
			break
		}
	}
	if p.kind(j) == '?' || p.kind(j) == '!' { // init?
		j++
	}
	if p.kind(j) == '<' {
		j = p.generics(j, end)
	} else if p.kind(j) == '[' && p.f.Has(lang.OptionalBraces) {
		j = p.skip(j)
	}
	lists := 0
	for p.kind(j) == '(' && j < end && (lists == 0 || p.f.Has(lang.OptionalBraces)) {
		inner, after := p.inside(j, end)
		if lists == 0 {
			s.ParamsFrom, s.ParamsTo = j+1, inner
		}
		p.expression(j+1, inner, scope, toEnd)
		j = after
		lists++
	}
	return p.funcTail(s, j, end)
}

// publicity says whether a function can be seen from outside by the custom of
// its language: by default, or only with a word.
func (p *parser) publicity(s *Scope, head, i int32, public bool) {
	hidden := false
	for k := head; k < i; k++ {
		switch string(p.text(k)) {
		case "private", "protected", "internal", "fileprivate":
			hidden = true
		case "public", "open", "pub":
			public = true
		}
	}
	if p.f.Has(lang.BareHeaders) && !public || hidden {
		return
	}
	s.Traits |= Public
}

// funcTail walks what follows a function's parameters: its result type and
// its body.
func (p *parser) funcTail(s Scope, j, end int32) int32 {
	start := j
	where := false
	for j < end {
		k := p.kind(j)
		where = where || p.is(j, "where")
		if j > start && p.fresh(j) && p.f.Has(lang.NewlineEnds) && k != '{' && k != '=' && !p.tailContinues(j) {
			break
		}
		switch {
		case k == '{':
			if p.depth >= maxDepth {
				return p.skip(j)
			}
			p.depth++
			defer func() { p.depth-- }()
			return p.block(s, j, end)
		case k == '=' || k == lex.Arrow && p.f.Has(lang.Islands):
			return p.valueBody(s, j+1, end)
		case k == ',' && where:
			j++
		case k == ';' || k == '}' || k == ')' || k == ']' || k == ',':
			s.Traits |= Bodyless
			s.Open, s.Close = j, j
			p.newScope(s)
			return j
		case k == '<':
			j = p.generics(j, end)
		case k == '(' || k == '[':
			j = p.skip(j)
		case j > start && (k.Role() == lang.Func || k.Role() == lang.Modifier && p.fresh(j) || k.Role() == lang.Public || k.Role() == lang.Class && p.fresh(j) || k.Role() == lang.Var && p.fresh(j)):
			s.Traits |= Bodyless
			s.Open, s.Close = j, j
			p.newScope(s)
			return j
		default:
			j++
		}
	}
	s.Traits |= Bodyless
	s.Open, s.Close = j, j
	p.newScope(s)
	return j
}

// tailContinues tells whether a token at the beginning of a line goes on with
// a function's header.
func (p *parser) tailContinues(j int32) bool {
	k := p.kind(j)
	return k == ':' || k == lex.ThinArrow || p.is(j, "where") || p.is(j, "throws") || p.is(j, "async")
}

// valueBody walks a body that is one expression.
func (p *parser) valueBody(s Scope, j, end int32) int32 {
	if p.depth >= maxDepth {
		return j
	}
	p.depth++
	defer func() { p.depth-- }()
	if p.f.Has(lang.OptionalBraces) && p.fresh(j) {
		return p.indented(s, j, end)
	}
	s.Open = j
	if p.kind(j) == '{' && p.f.Has(lang.OptionalBraces) {
		return p.block(s, j, end)
	}
	return p.within(s, func(at int32) int32 {
		if p.f.Has(lang.Islands) {
			return p.expression(j, end, at, toComma)
		}
		next := p.statement(j, end, at)
		for next < end && (p.role(next) == lang.Catch || p.role(next) == lang.Finally || p.role(next) == lang.Else) { // = try { … } catch …
			after := p.statement(next, end, at)
			if after <= next {
				break
			}
			next = after
		}
		return next
	})
}

// keywordType walks a type; its body holds statements.
func (p *parser) keywordType(i, head, end, scope int32) int32 {
	s := Scope{Kind: Type, Parent: scope, Head: head, Name: -1}
	p.publicity(&s, head, i, false)
	j := i + 1
	if p.role(j) == lang.Class { // enum class, case object
		j++
	}
	if p.is(i, "impl") {
		if p.kind(j) == '<' {
			j = p.generics(j, end)
		}
		j = p.implName(&s, j, end)
	} else if p.kind(j) == lex.Ident {
		s.Name = j
		j++
	}
	s.ParamsFrom = j
	for j < end {
		k := p.kind(j)
		if k == '{' || k == ';' {
			break
		}
		if p.fresh(j) && j > i+1 && p.f.Has(lang.NewlineEnds) && p.endsOperand(j-1) && !p.headContinues(j) {
			return j
		}
		switch k {
		case '(':
			inner, after := p.inside(j, end)
			p.expression(j+1, inner, scope, toEnd)
			j = after
		case '[':
			j = p.skip(j)
		case '<':
			j = p.generics(j, end)
		case '}', ')':
			return j
		case ':':
			if p.f.Has(lang.OptionalBraces) && p.fresh(j+1) { // class A:
				s.ParamsTo = j
				return p.indented(s, j+1, end)
			}
			j++
		default:
			j++
		}
	}
	s.ParamsTo = j
	if p.kind(j) != '{' || j >= end || p.depth >= maxDepth {
		return max(j, i+1)
	}
	p.depth++
	defer func() { p.depth-- }()
	return p.block(s, j, end)
}

// headContinues tells whether a token at the beginning of a line goes on with
// the header of a type.
func (p *parser) headContinues(j int32) bool {
	switch k := p.kind(j); {
	case k == ':' || k == ',' || k == '(':
		return true
	case k.Role() == lang.Throws, p.is(j, "where"), p.is(j, "extends"), p.is(j, "implements"), p.is(j, "with"):
		return true
	}
	return false
}

// implName reads "Trait for Type" and "Type" and names the scope after the
// type.
func (p *parser) implName(s *Scope, j, end int32) int32 {
	for j < end && p.kind(j) != '{' && p.kind(j) != ';' {
		switch {
		case p.role(j) == lang.For:
			s.Name = -1
		case p.kind(j) == lex.Ident && !p.is(j, "where") && (s.Name < 0 || p.kind(j-1) == lex.Scope):
			s.Name = j
		case p.kind(j) == '<':
			j = p.generics(j, end)
			continue
		case p.is(j, "where"):
			return j
		}
		j++
	}
	return j
}

// keywordNamespace walks "mod a { … }" and "namespace A\B;".
func (p *parser) keywordNamespace(i, end, scope int32) int32 {
	name, next := p.dotted(i+1, end)
	if p.f.Has(lang.Islands) {
		p.Package = name
	}
	if p.kind(next) == '{' && next < end && p.depth < maxDepth {
		p.depth++
		defer func() { p.depth-- }()
		inner, after := p.inside(next, end)
		p.statements(next+1, inner, scope)
		return after
	}
	return max(next, i+1)
}

// matchStatement walks a match whose arms are "pattern => value," or "pattern
// -> value".
func (p *parser) matchStatement(i, end, scope int32) int32 {
	from, to, open := p.header(i+1, end)
	p.headerParts(from, to, scope)
	if p.kind(open) != '{' || open >= end || p.depth >= maxDepth {
		return max(open, i+1)
	}
	p.depth++
	defer func() { p.depth-- }()
	inner, after := p.inside(open, end)
	at := p.newScope(Scope{Kind: Branch, Parent: scope, Head: i, Name: -1, Open: open + 1, Close: inner})
	for j := open + 1; j < inner; {
		next := p.matchArm(j, inner, at)
		j = max(next, j+1)
	}
	return after
}

func (p *parser) matchArm(i, end, scope int32) int32 {
	arrow := lex.Kind(lex.Arrow)
	if !p.f.Has(lang.Macros) && !p.f.Has(lang.Islands) {
		arrow = lex.ThinArrow
	}
	j := i
	for j < end && p.kind(j) != arrow {
		if p.kind(j) == ';' || p.kind(j) == '{' {
			return p.skip(j)
		}
		j = p.skip(j)
	}
	if j >= end {
		p.expression(i, end, scope, toEnd)
		return end
	}
	s := Scope{Kind: Branch, Parent: scope, Head: i, Name: -1, ParamsFrom: i, ParamsTo: j}
	if p.f.Has(lang.Macros) {
		v := verdict{name: -1}
		if p.failurePattern(i, j, &v); v.failed {
			s.Kind, s.Name = Failure, v.name
			s.Traits |= Handler
		}
	}
	next := j + 1
	if p.kind(next) == '{' {
		next = p.block(s, next, end)
	} else {
		s.Open = next
		next = p.within(s, func(at int32) int32 {
			if p.f.Has(lang.NewlineEnds) {
				return p.statement(next, end, at)
			}
			return p.expression(next, end, at, toComma)
		})
	}
	if p.kind(next) == ',' {
		next++
	}
	return next
}

// braceBlock walks a brace in an expression: the block of a call, a lambda, a
// block with a value.
func (p *parser) braceBlock(i, end, scope int32) int32 {
	if p.depth >= maxDepth || p.partner[i] < 0 {
		return 0
	}
	p.depth++
	defer func() { p.depth-- }()
	s := Scope{Kind: Lambda, Parent: scope, Head: i, Name: -1}
	if p.f.Has(lang.Macros) {
		s.Kind = Branch
		return p.block(s, i, end)
	}
	s.ParamsFrom, s.ParamsTo = p.blockParams(i, end)
	name := i - 1
	if p.kind(name) == ')' && p.partner[name] > 0 {
		name = p.partner[name] - 1
		if p.kind(name) == '>' {
			for n := 0; n < 40 && name > 0 && p.kind(name) != '<'; n++ {
				name--
			}
			name--
		}
	}
	if p.kind(name) == lex.Ident && !p.fresh(i) {
		p.blockPurpose(&s, string(p.text(name)))
	} else if len(p.opens) > 0 { // an argument of a call
		if open := p.opens[len(p.opens)-1]; p.kind(open) == '(' && p.kind(open-1) == lex.Ident {
			p.blockPurpose(&s, string(p.text(open-1)))
		}
	}
	if p.f.Has(lang.ErrorTruth) && s.Kind == Lambda { // var name: Type { accessors }
		for k := i - 1; k > i-16 && k > 0 && p.kind(k) != '=' && p.kind(k) != '{' && p.kind(k) != ';'; k-- {
			if p.role(k) == lang.Var && p.kind(k+1) == lex.Ident && p.kind(k+2) == ':' {
				s.Kind, s.Name = Func, k+1
				break
			}
			if p.fresh(k) {
				break
			}
		}
	}
	if p.kind(i-1) == '=' && s.Kind == Lambda {
		held := i - 2
		for n := 0; n < 24 && held > 0 && !p.fresh(held) && p.role(held-1) != lang.Var; n++ {
			held--
		}
		if p.role(held-1) == lang.Var && p.kind(held) == lex.Ident {
			s.Kind, s.Name = Func, held
		}
	}
	return p.block(s, i, end)
}

// blockPurpose says what a block handed to a method is for.
func (p *parser) blockPurpose(s *Scope, method string) {
	switch {
	case p.words.loopCalls[method]:
		s.Kind = Loop
	case p.words.failureCalls[method]:
		s.Kind = Failure
		s.Traits |= Handler
		for k := s.ParamsFrom; k < s.ParamsTo; k++ {
			if p.kind(k) == lex.Ident {
				s.Name = k
				break
			}
		}
	}
}

// blockParams finds the parameters that a block names: { a, b -> …, { a in …,
// { a => ….
func (p *parser) blockParams(i, end int32) (from, to int32) {
	j := i + 1
	if p.role(j) == lang.Case {
		j++
	}
	from = j
	for n := 0; n < 30 && j < end; n++ {
		switch k := p.kind(j); {
		case k == lex.ThinArrow && !p.f.Has(lang.ErrorTruth) || k == lex.Arrow || p.is(j, "in") && p.f.Has(lang.ErrorTruth):
			return from, j
		case k == lex.Ident || k == ',' || k == ':' || k == '?' || k == '.' || k == '@' || k == '_' || k == lex.ThinArrow || k.Role() == lang.Word || k.Role() == lang.Operator || k.Role() == lang.Self:
			if n > 0 && p.fresh(j) {
				return i, i
			}
			j++
		case k == '(' || k == '[' || k == '<':
			j = p.skip(j)
		default:
			return i, i
		}
	}
	return i, i
}

func foldIn(t []byte, words ...string) bool {
	for _, w := range words {
		if len(t) == len(w) && equalFold(t, w) {
			return true
		}
	}
	return false
}

func equalFold(t []byte, w string) bool {
	for i := range w {
		if t[i]|0x20 != w[i]|0x20 {
			return false
		}
	}
	return true
}
