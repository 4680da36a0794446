package outline

import (
	"reed/internal/lang"
	"reed/internal/lex"
)

// statement walks one statement of a brace language and returns the index
// behind it.
func (p *parser) statement(i, end, scope int32) int32 {
	k := p.kind(i)
	switch k {
	case '{':
		return p.block(Scope{Kind: Branch, Parent: scope, Head: i, Name: -1}, i, end)
	case ';', '}', ')', ']', ',':
		return i + 1
	case '@':
		if p.f.Has(lang.Selectors) {
			return p.atWord(i, end, scope)
		}
		if p.f.Has(lang.Decorators) && !p.f.Has(lang.Islands) { // in PHP it silences what follows
			return p.annotation(i, end, scope)
		}
	case '[':
		if p.f.Has(lang.Properties) && !p.f.Has(lang.Selectors) && !p.f.Has(lang.Blocks) && p.partner[i] > 0 && p.partner[i] < end {
			return p.partner[i] + 1 // an attribute
		}
	case '#':
		if p.f.Has(lang.Macros) || p.f.Has(lang.Islands) { // #[…], #![…]
			j := i + 1
			if p.kind(j) == '!' {
				j++
			}
			if p.kind(j) == '[' {
				after := min(p.skip(j), end)
				if p.f.Has(lang.Macros) && (p.is(j+1, "test") && p.kind(j+2) == ']' || p.is(j+1, "cfg") && p.is(j+3, "test") && p.kind(j+4) == ')') {
					next := p.statement(after, end, scope)
					p.Tests = append(p.Tests, Span{i, next})
					return next
				}
				return after
			}
		}
	case '-', '+':
		if p.f.Has(lang.Selectors) && p.kind(i+1) == '(' && p.fresh(i) {
			return p.selectorMethod(i, end, scope)
		}
	}
	if p.f.Has(lang.KeywordFuncs) {
		if next := p.keywordStatement(i, end, scope); next > 0 {
			return next
		}
	}
	switch k.Role() {
	case lang.If:
		return p.ifStatement(i, end, scope)
	case lang.For, lang.While:
		return p.loop(i, end, scope)
	case lang.Do:
		next := p.body(Scope{Kind: Loop, Parent: scope, Head: i, Name: -1}, i+1, end)
		if p.role(next) == lang.While {
			return p.expression(next+1, end, scope, toEnd)
		}
		return next
	case lang.Switch:
		return p.switchStatement(i, end, scope)
	case lang.Case, lang.Default:
		return p.caseLabel(i, end, scope)
	case lang.Try:
		return p.try(i, end, scope)
	case lang.Catch:
		return p.catch(i, end, scope)
	case lang.Finally:
		return p.body(Scope{Kind: Finally, Parent: scope, Head: i, Name: -1}, i+1, end)
	case lang.Else:
		return p.body(Scope{Kind: Branch, Traits: ElseArm, Parent: scope, Head: i, Name: -1}, i+1, end)
	case lang.Import:
		return p.importStatement(i, end, scope)
	case lang.Package:
		return p.packageStatement(i, end, scope)
	case lang.Namespace:
		return p.namespace(i, end, scope)
	case lang.Class:
		if p.f.Has(lang.Directives) {
			if !p.declaresType(i, end) {
				if next := p.typedStatement(i, end, scope); next > 0 {
					return next
				}
				break
			}
			return p.typeDeclaration(i, i, end, scope)
		}
		if p.kind(i+1) == lex.Ident || p.kind(i+1) == '{' {
			return p.typeDeclaration(i, i, end, scope)
		}
	case lang.TypeDecl:
		return p.goType(i, end, scope)
	case lang.Func:
		return p.function(i, i, end, scope)
	case lang.With:
		if p.kind(i+1) == '(' {
			after := p.skip(i + 1)
			p.expression(i+2, min(after-1, end), scope, toEnd)
			return p.statement(min(after, end), end, scope)
		}
		if p.kind(i+1) == '{' {
			return p.statement(i+1, end, scope)
		}
		if p.f.Has(lang.DirectivePrologue) && scope == 0 {
			return p.importStatement(i, end, scope)
		}
	case lang.Modifier, lang.Public:
		if !p.f.Has(lang.BareHeaders) {
			return p.declaration(i, end, scope)
		}
	case lang.Const, lang.Var:
		if p.f.Has(lang.ConstantLambdas) {
			p.declared = i + 1
		}
	case lang.Debugger:
		p.callName(i, -1, scope)
		return i + 1
	case lang.Jump:
		if p.f.Has(lang.NewlineEnds) {
			i++
			if p.kind(i) == lex.Ident && !p.fresh(i) {
				i++
			}
			return i
		}
	}
	if k == lex.Ident && p.kind(i+1) == ':' && p.kind(i+2) != ':' {
		return i + 2 // a label
	}
	if p.f.Has(lang.TypedFuncs) {
		if next := p.typedStatement(i, end, scope); next > 0 {
			return next
		}
	}
	if k == lex.Ident && p.f.Has(lang.NamedMethods) {
		switch string(p.text(i)) {
		case "async", "abstract", "declare":
			if r := p.role(i + 1); (r == lang.Func || r == lang.Class) && !p.fresh(i+1) {
				return p.statement(i+1, end, scope)
			}
		case "namespace", "module":
			if (p.kind(i+1) == lex.Ident || p.kind(i+1) == lex.String) && !p.fresh(i+1) {
				return p.namespace(i, end, scope)
			}
		case "interface", "enum":
			if p.f.Has(lang.TypeSuffix) && p.kind(i+1) == lex.Ident && !p.fresh(i+1) {
				return p.typeDeclaration(i, i, end, scope)
			}
		case "type":
			if p.f.Has(lang.TypeSuffix) && p.kind(i+1) == lex.Ident && (p.kind(i+2) == '=' || p.kind(i+2) == '<') {
				return p.skipType(i+2, end)
			}
		}
	}
	return p.expression(i, end, scope, toEnd)
}

// skipType passes over the right side of a type alias, which may hold braces
// and arrows but no code.
func (p *parser) skipType(i, end int32) int32 {
	for i < end {
		if p.kind(i) == ';' {
			return i + 1
		}
		next := p.skip(i)
		if p.fresh(next) && !p.continues(next) {
			return next
		}
		i = next
	}
	return end
}

// body walks the body of a control statement: a block or one statement.
func (p *parser) body(s Scope, i, end int32) int32 {
	if i >= end {
		return end
	}
	if p.kind(i) == '{' {
		return p.block(s, i, end)
	}
	if p.kind(i) == ':' && p.f.Has(lang.Islands) {
		return p.alternative(s, i, end)
	}
	if p.f.Has(lang.OptionalBraces) && p.fresh(i) {
		return p.indented(s, i, end)
	}
	s.Open = i
	if p.depth >= maxDepth {
		p.flat(i, end, s.Parent)
		return end
	}
	p.depth++
	defer func() { p.depth-- }()
	next := p.within(s, func(at int32) int32 { return p.statement(i, end, at) })
	if p.kind(next) == ';' && next < end {
		next++
	}
	return next
}

// header returns the tokens of a control header and where the body begins.
func (p *parser) header(i, end int32) (from, to, body int32) {
	if !p.f.Has(lang.BareHeaders) {
		if p.kind(i) == lex.Kw(lang.Await) {
			i++
		}
		if p.f.Has(lang.OptionalBraces) {
			if from, to, body := p.looseHeader(i, end); body > 0 {
				return from, to, body
			}
		}
		if p.kind(i) != '(' {
			return i, i, i
		}
		inner, after := p.inside(i, end)
		return i + 1, inner, after
	}
	j := i
	for n := 0; j < end && n < maxHeader; n++ {
		switch {
		case p.kind(j) == '{':
			if !p.literalBrace(j) {
				return i, j, j
			}
			j = p.skip(j)
		case p.role(j) == lang.Func:
			if open := p.funcBody(j+1, end); open > 0 {
				j = p.skip(open)
			} else {
				j++
			}
		default:
			j = p.skip(j)
		}
	}
	return i, j, j
}

// literalBrace reports whether the brace at j, in the header of a control
// statement without parentheses, opens a composite literal.
func (p *parser) literalBrace(j int32) bool {
	k := j - 1
	if p.role(k) == lang.Struct {
		return true
	}
	for p.kind(k) == lex.Ident || p.kind(k) == '.' || p.kind(k) == '*' {
		k--
	}
	if p.kind(k) == '}' && k+1 < j { // []struct{…}{…} does not occur with a name behind it
		return false
	}
	return p.kind(k) == ']' && k+1 < j && p.partner[k] >= 0 && p.kind(p.partner[k]-1) != lex.Ident
}

func (p *parser) ifStatement(i, end, scope int32) int32 {
	from, to, bodyAt := p.header(i+1, end)
	p.expression(from, to, scope, toEnd)
	s := Scope{Kind: Branch, Parent: scope, Head: i, Name: -1, ParamsFrom: from, ParamsTo: to}
	test := p.condition(from, to)
	if p.is(i, "guard") { // what guards lead to is the common way out
		test = verdict{name: -1}
	}
	switch {
	case test.failed:
		s.Kind, s.Name = Failure, test.name
	case test.level:
		s.Kind = Guard
	}
	next := p.body(s, bodyAt, end)
	if p.role(next) == lang.Elif && p.f.Has(lang.BraceBlocks) && next < end {
		return p.ifStatement(next, end, scope)
	}
	if p.role(next) != lang.Else || next >= end {
		return next
	}
	other := Scope{Kind: Branch, Traits: ElseArm, Parent: scope, Head: next, Name: -1}
	if test.succeeded {
		other.Kind, other.Name = Failure, test.name
		other.ParamsFrom, other.ParamsTo = from, to
	}
	if p.role(next+1) == lang.If && !test.succeeded {
		if p.depth >= maxDepth {
			p.flat(next+1, end, scope)
			return end
		}
		p.depth++
		defer func() { p.depth-- }()
		return p.ifStatement(next+1, end, scope)
	}
	return p.body(other, next+1, end)
}

// verdict is what the condition of an if says.
type verdict struct {
	failed, succeeded, level bool
	name                     int32
}

// condition reads the tokens of a condition: a tested error, a level test, or
// neither.
func (p *parser) condition(from, to int32) verdict {
	v := verdict{name: -1}
	for i := from; i < to; i++ {
		if p.kind(i) != lex.Ident {
			continue
		}
		if (p.kind(i+1) == '(' || i+1 == to) && p.names.LevelTest(p.text(i)) {
			v.level = true
		}
		if p.f.Has(lang.ErrorValues) {
			p.errorValue(i, &v)
		}
	}
	if p.f&(lang.ErrorFirst|lang.ErrorTruth) != 0 {
		p.errorTruth(from, to, &v)
	}
	if p.f&(lang.Macros|lang.ErrorTruth) != 0 && (p.role(from) == lang.Var || p.role(from) == lang.Case) {
		p.failurePattern(from, to, &v)
	}
	return v
}

// failurePattern reads a pattern that only a failure matches: Err(e),
// Failure(e), .failure(let e).
func (p *parser) failurePattern(from, to int32, v *verdict) {
	for i := from; i < to; i++ {
		if p.kind(i) != lex.Ident || p.kind(i+1) != '(' || !(p.is(i, "Err") || p.is(i, "Failure") || p.is(i, "failure")) {
			continue
		}
		v.failed = true
		for j := i + 2; j < p.skip(i+1)-1; j++ {
			if p.kind(j) == lex.Ident && !exported(p.text(j)) {
				v.name = j
				break
			}
		}
		return
	}
}

// errorValue reads "err != nil", "err == nil" and "errors.Is(err, …)" at i.
func (p *parser) errorValue(i int32, v *verdict) {
	if p.is(i, "errors") && p.kind(i+1) == '.' && (p.is(i+2, "Is") || p.is(i+2, "As")) && p.kind(i+3) == '(' {
		if p.kind(i-1) != '!' && p.kind(i+4) == lex.Ident && IsErrorName(string(p.text(i+4))) {
			v.failed, v.name = true, i+4
		}
		return
	}
	if !p.is(i+2, "nil") {
		return
	}
	failed := p.kind(i+1) == lex.NotEqual
	if !failed && p.kind(i+1) != lex.Equal {
		return
	}
	name := string(p.text(i))
	if !IsErrorName(name) && !(failed && p.recovered(i, name)) || p.kind(i+3) == '.' {
		return
	}
	if name == "e" && !p.assignedError(i) {
		return
	}
	if failed {
		v.failed, v.name = true, i
	} else if !v.failed {
		v.succeeded, v.name = true, i
	}
}

// recovered reports whether name was just assigned from recover().
func (p *parser) recovered(i int32, name string) bool {
	for j := i - 1; j > i-12 && j > 0; j-- {
		if p.is(j, "recover") && p.kind(j+1) == '(' {
			return p.is(j-2, name)
		}
	}
	return false
}

// assignedError reports whether a name as short as e got its value in this
// very header from something that may fail.
func (p *parser) assignedError(i int32) bool {
	for j := i - 1; j > i-40 && j > 0; j-- {
		if p.kind(j) == lex.Declare || p.kind(j) == '=' {
			return p.is(j-1, string(p.text(i))) && p.role(j-2) == lang.If || p.kind(j-2) == ','
		}
		if p.kind(j) == '{' || p.kind(j) == '}' {
			return false
		}
	}
	return false
}

// errorTruth reads "if (err)", "if (err && …)", "if (err != null)" and their
// negations.
func (p *parser) errorTruth(from, to int32, v *verdict) {
	i := from
	negated := false
	for p.kind(i) == '!' && i < to {
		negated = !negated
		i++
	}
	if p.role(i) == lang.Var { // if let error = …
		i++
	}
	if p.kind(i) != lex.Ident || i >= to {
		return
	}
	name := string(p.text(i))
	if !IsErrorName(name) || name == "e" {
		return
	}
	switch next := p.kind(i + 1); {
	case i+1 == to, next == lex.AndAnd, i > from && p.role(i-1) == lang.Var && (next == '=' || next == ','):
	case next == lex.NotEqual || next == lex.Equal:
		if !p.is(i+2, "null") && !p.is(i+2, "undefined") && !p.is(i+2, "nil") && !p.is(i+2, "NULL") {
			return
		}
		negated = negated != (next == lex.Equal)
	case p.is(i+1, "instanceof"):
	default:
		return
	}
	if negated {
		if i+1 == to || i+3 == to {
			v.succeeded, v.name = true, i
		}
		return
	}
	v.failed, v.name = true, i
}

func (p *parser) loop(i, end, scope int32) int32 {
	from, to, bodyAt := p.header(i+1, end)
	s := Scope{Kind: Loop, Parent: scope, Head: i, Name: -1, ParamsFrom: from, ParamsTo: to}
	p.headerParts(from, to, scope)
	return p.body(s, bodyAt, end)
}

// headerParts walks the parts of a loop header, which semicolons separate.
func (p *parser) headerParts(from, to, scope int32) {
	for from < to {
		next := p.expression(from, to, scope, toEnd)
		if next <= from {
			next = from + 1
		}
		from = next
	}
}

func (p *parser) switchStatement(i, end, scope int32) int32 {
	from, to, bodyAt := p.header(i+1, end)
	if p.f.Has(lang.OptionalBraces) { // value match { … }
		from, to, bodyAt = i+1, i+1, i+1
		if p.role(bodyAt) == lang.Case && p.fresh(bodyAt) {
			return p.indented(Scope{Kind: Branch, Parent: scope, Head: i, Name: -1}, bodyAt, end)
		}
	}
	p.headerParts(from, to, scope)
	if p.kind(bodyAt) != '{' || bodyAt >= end {
		return max(bodyAt, i+1)
	}
	return p.block(Scope{Kind: Branch, Parent: scope, Head: i, Name: -1}, bodyAt, end)
}

// caseLabel walks a label and the statements up to the next one.
func (p *parser) caseLabel(i, end, scope int32) int32 {
	s := Scope{Kind: Branch, Parent: scope, Head: i, Name: -1}
	j := i + 1
	questions := 0
	for j < end {
		k := p.kind(j)
		if k == lex.ThinArrow || k == lex.Arrow {
			break
		}
		if k == '?' {
			questions++
		}
		if k == ':' {
			if questions == 0 {
				break
			}
			questions--
		}
		if k == ';' || k == '}' {
			return j
		}
		j = p.skip(j)
	}
	p.expression(i+1, j, scope, toEnd)
	if p.role(i) == lang.Case && p.f&(lang.ErrorTruth|lang.OptionalBraces) != 0 {
		v := verdict{name: -1}
		if p.failurePattern(i+1, j, &v); v.failed {
			s.Kind, s.Name, s.ParamsFrom, s.ParamsTo = Failure, v.name, i+1, j
		} else if around := &p.Scopes[scope]; p.f.Has(lang.OptionalBraces) && around.Kind == Failure && around.Traits&Handler != 0 { // a case of a catch
			s.Kind, s.Traits, s.ParamsFrom, s.ParamsTo = Failure, Handler, i+1, j
			for k := i + 1; k < j && s.Name < 0; k++ {
				if p.kind(k) == lex.Ident && !exported(p.text(k)) {
					s.Name = k
				}
			}
		}
	}
	if p.role(i) == lang.Case && p.f.Has(lang.ErrorValues) {
		if v := p.condition(i+1, j); v.failed {
			s.Kind, s.Name, s.ParamsFrom, s.ParamsTo = Failure, v.name, i+1, j
		}
	}
	s.Open = j + 1
	if p.kind(j) == lex.ThinArrow {
		return p.body(s, j+1, end)
	}
	return p.within(s, func(at int32) int32 {
		k := j + 1
		for k < end && p.role(k) != lang.Case && !(p.role(k) == lang.Default && (p.kind(k+1) == ':' || p.kind(k+1) == lex.ThinArrow)) {
			next := p.statement(k, end, at)
			k = max(next, k+1)
		}
		return k
	})
}

func (p *parser) try(i, end, scope int32) int32 {
	j := i + 1
	if p.kind(j) == '(' {
		inner, after := p.inside(j, end)
		p.headerParts(j+1, inner, scope)
		j = after
	}
	if p.kind(j) != '{' {
		if p.f.Has(lang.OptionalBraces) {
			return p.body(Scope{Kind: Try, Parent: scope, Head: i, Name: -1}, j, end)
		}
		return p.expression(j, end, scope, toEnd)
	}
	return p.block(Scope{Kind: Try, Parent: scope, Head: i, Name: -1}, j, end)
}

// catch walks a handler: catch (Type name) when (test) { … } or catch { … }.
func (p *parser) catch(i, end, scope int32) int32 {
	s := Scope{Kind: Failure, Traits: Handler, Parent: scope, Head: i, Name: -1}
	j := i + 1
	if p.kind(j) == '(' {
		inner, after := p.inside(j, end)
		s.ParamsFrom, s.ParamsTo = j+1, inner
		s.Name = p.lastName(j+1, inner)
		j = after
	}
	if p.is(j, "when") && p.kind(j+1) == '(' {
		_, j = p.inside(j+1, end)
	}
	if p.kind(j) != '{' {
		if p.f&(lang.OptionalBraces|lang.ErrorTruth|lang.Cascades|lang.DashWords) == 0 {
			return j
		}
		if j = p.looseCatch(&s, j, end); p.kind(j) != '{' {
			return max(j, i+1)
		}
	} else if p.f.Has(lang.ErrorTruth) && s.Name < 0 { // an error of that name is always there
		s.ParamsFrom, s.ParamsTo = j, j
	}
	return p.block(s, j, end)
}

// lastName returns the variable of "Type name", "name" or "name: Type".
func (p *parser) lastName(from, to int32) int32 {
	name := int32(-1)
	for k := from; k < to; k++ {
		if p.kind(k) == ':' && p.f.Has(lang.TypeSuffix) || p.kind(k) == ',' && p.f.Has(lang.Cascades) {
			break
		}
		if p.kind(k) == lex.Ident {
			name = k
		}
	}
	if p.f.Has(lang.TypedFuncs) && !p.f.Has(lang.Cascades|lang.Blocks) && name >= 0 && (to-from < 2 || p.kind(name-1) == '.' || p.kind(name-1) == lex.Scope) && !p.f.Has(lang.Cascades) && !p.f.Has(lang.Blocks) {
		return -1 // only a type
	}
	if p.f.Has(lang.Islands) && name >= 0 && p.text(name)[0] != '$' {
		return -1
	}
	return name
}

func (p *parser) annotation(i, end, scope int32) int32 {
	j := i + 1
	if p.role(j) == lang.Class { // @interface
		return p.typeDeclaration(j, i, end, scope)
	}
	for p.kind(j) == lex.Ident && p.kind(j+1) == '.' {
		j += 2
	}
	j++
	if p.kind(j) == '(' && j < end {
		_, after := p.inside(j, end)
		return after
	}
	return j
}
