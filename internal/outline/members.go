package outline

import (
	"bytes"
	"strings"

	"reed/internal/lang"
	"reed/internal/lex"
)

// dotted reads a dotted name at i and returns its text and what follows.
func (p *parser) dotted(i, end int32) (string, int32) {
	from := i
	for i < end {
		k := p.kind(i)
		if k == '*' {
			i++
			break
		}
		if k != lex.Ident && !k.IsKeyword() {
			break
		}
		i++
		if p.kind(i) != '.' && p.kind(i) != lex.Scope {
			break
		}
		i++
	}
	if i == from {
		return "", i
	}
	return string(p.src[p.toks[from].Start:p.toks[i-1].End]), i
}

func (p *parser) unquote(i int32) string { return lex.Unquote(p.text(i)) }

func (p *parser) addImport(path, local string, at int32) {
	p.Imports = append(p.Imports, Import{Path: path, Local: local, Token: at})
}

// importStatement reads an import of any brace language.
func (p *parser) importStatement(i, end, scope int32) int32 {
	if p.f.Has(lang.DirectivePrologue) {
		return p.directive(i, end)
	}
	if p.f.Has(lang.ReceiverFuncs) {
		return p.goImport(i, end)
	}
	if !p.f.Has(lang.NamedMethods) {
		return p.pathImport(i, end)
	}
	if p.kind(i+1) == '(' || p.kind(i+1) == '.' {
		return p.expression(i, end, scope, toEnd) // import(…), import.meta
	}
	// import a, {b as c} from "m"; import * as a from "m"; import "m"; import a = require("m")
	j := i + 1
	first := int32(len(p.Imports))
	local := int32(-1)
	for j < end {
		switch k := p.kind(j); {
		case k == lex.String:
			path := p.unquote(j)
			for n := first; int(n) < len(p.Imports); n++ {
				p.Imports[n].Path = strings.Replace(p.Imports[n].Path, "\x00", path, 1)
			}
			if int(first) == len(p.Imports) {
				p.addImport(path, "", j)
			}
			return j + 1
		case k == '=':
			if p.is(j+1, "require") && p.kind(j+3) == lex.String {
				p.addImport(p.unquote(j+3), string(p.text(local)), local)
				return p.skip(j + 2)
			}
			return p.expression(j+1, end, scope, toEnd)
		case k == '{':
			inner, after := p.inside(j, end)
			for n := j + 1; n < inner; n++ {
				if p.kind(n) != lex.Ident || p.kind(n+1) == lex.Ident && p.is(n, "type") {
					continue
				}
				name, as := string(p.text(n)), n
				if p.is(n+1, "as") {
					as = n + 2
					n += 2
				}
				p.addImport("\x00#"+name, string(p.text(as)), as)
			}
			j = after
		case k == lex.Ident && p.is(j, "from"):
			j++
		case k == lex.Ident && p.is(j, "type") && p.kind(j+1) != ',' && !p.is(j+1, "from"):
			j++
		case k == lex.Ident:
			local = j
			if p.kind(j+1) != '=' {
				p.addImport("\x00", string(p.text(j)), j)
			}
			j++
		case k == '*' || k == ',':
			if p.is(j+1, "as") {
				j++
			}
			j++
		default:
			return j
		}
	}
	return j
}

// directive reads "import a.b.C;", "import static a.b.C.d;", "using A.B;" and
// "using X = A.B;".
func (p *parser) directive(i, end int32) int32 {
	j := i + 1
	local := ""
	for p.is(j, "static") || p.is(j, "global") {
		j++
	}
	if p.kind(j) == lex.Ident && p.kind(j+1) == '=' {
		local = string(p.text(j))
		j += 2
	}
	at := j
	path, next := p.dotted(j, end)
	if local == "" && !strings.HasSuffix(path, "*") {
		local = path[strings.LastIndexByte(path, '.')+1:]
	}
	if path != "" {
		p.addImport(strings.TrimSuffix(path, ".*"), local, at)
	}
	for next < end && p.kind(next) != ';' && !p.fresh(next) {
		next++
	}
	return next + 1
}

func (p *parser) goImport(i, end int32) int32 {
	j, stop, after := i+1, end, int32(0)
	if p.kind(j) == '(' {
		stop, after = p.inside(j, end)
		j++
	} else {
		stop = min(j+2, end)
	}
	for ; j < stop; j++ {
		if p.kind(j) != lex.String {
			continue
		}
		path := p.unquote(j)
		local := path[strings.LastIndexByte(path, '/')+1:]
		if isVersion(local) && strings.Contains(path, "/") {
			rest := path[:strings.LastIndexByte(path, '/')]
			local = rest[strings.LastIndexByte(rest, '/')+1:]
		}
		local = strings.TrimPrefix(local, "go-")
		if cut := strings.Index(local, ".v"); cut > 0 {
			local = local[:cut]
		}
		if !p.fresh(j) && p.kind(j-1) == lex.Ident || p.kind(j-1) == '.' {
			local = string(p.text(j - 1))
		}
		p.addImport(path, local, j)
		if after == 0 {
			return j + 1
		}
	}
	return max(after, j)
}

func isVersion(s string) bool {
	return len(s) >= 2 && s[0] == 'v' && strings.Trim(s[1:], "0123456789") == ""
}

// packageStatement reads "package a.b;" and JavaScript's export prefix.
func (p *parser) packageStatement(i, end, scope int32) int32 {
	if p.f.Has(lang.NamedMethods) { // export …
		j := i + 1
		if p.role(j) == lang.Default {
			j++
		}
		if p.kind(j) == '*' || p.kind(j) == '{' && p.role(i+1) != lang.Default {
			j = p.skip(j)
			for j < end && !p.fresh(j) && p.kind(j) != ';' {
				j++
			}
			return j
		}
		if r := p.role(j); r == lang.Class || r == lang.Func {
			return p.statementAs(j, i, end, scope)
		}
		return p.statement(j, end, scope)
	}
	name, next := p.dotted(i+1, end)
	p.Package = name
	return next
}

// statementAs walks a declaration whose header began earlier, at head.
func (p *parser) statementAs(i, head, end, scope int32) int32 {
	if p.role(i) == lang.Class {
		return p.typeDeclaration(i, head, end, scope)
	}
	return p.function(i, head, end, scope)
}

func (p *parser) namespace(i, end, scope int32) int32 {
	name, next := p.dotted(i+1, end)
	if p.kind(next) == lex.String {
		next++
	}
	if p.f.Has(lang.Properties) {
		if p.Package == "" {
			p.Package = name
		}
	}
	if p.kind(next) == '{' && next < end {
		inner, after := p.inside(next, end)
		p.statements(next+1, inner, scope)
		return after
	}
	return max(next, i+1)
}

// declaration walks a statement that begins with modifiers.
func (p *parser) declaration(i, end, scope int32) int32 {
	j := i
	for j < end {
		switch r := p.role(j); {
		case r == lang.Modifier || r == lang.Public:
			j++
		case r == lang.Class:
			return p.typeDeclaration(j, i, end, scope)
		case p.f.Has(lang.Properties) && r == lang.With:
			j++
		default:
			if j == i {
				j++
			}
			if p.typeWord(j) {
				return p.typeDeclaration(j, i, end, scope)
			}
			return p.statement(j, end, scope)
		}
	}
	return end
}

// typeWord reports whether the identifier at j is a contextual type keyword.
func (p *parser) typeWord(j int32) bool {
	if p.kind(j) != lex.Ident || p.kind(j+1) != lex.Ident {
		return false
	}
	t := p.text(j)
	return string(t) == "record" && (p.kind(j+2) == '(' || p.kind(j+2) == '<' || p.kind(j+2) == '{' || p.kind(j+2) == ':' || p.kind(j+2) == ';')
}

// typeDeclaration walks "class Name … { members }"; keyword is the token that
// says what it is, head the first of its modifiers.
func (p *parser) typeDeclaration(keyword, head, end, scope int32) int32 {
	s := Scope{Kind: Type, Parent: scope, Head: head, Name: -1}
	j := keyword + 1
	if p.role(j) == lang.Class { // record struct, record class
		j++
	}
	if p.kind(j) == lex.Ident {
		s.Name = j
		j++
	}
	for p.f.Has(lang.Directives) && (p.kind(j) == lex.Ident || p.kind(j) == lex.Scope || p.kind(j) == '(' && p.partner[j] > 0 && p.kind(p.partner[j]+1) == lex.Ident) { // EXPORTED name, a::name
		if p.kind(j) == lex.Ident && !p.is(j, "final") {
			s.Name = j
		}
		j = p.skip(j)
	}
	for k := head; k < keyword; k++ {
		if r := p.role(k); r == lang.Public || r == lang.Package {
			s.Traits |= Public
		}
	}
	s.ParamsFrom = j
	for j < end && p.kind(j) != '{' && p.kind(j) != ';' {
		switch p.kind(j) {
		case '(', '[':
			j = p.skip(j)
		case '<':
			j = p.generics(j, end)
		case '}', ')':
			return j
		default:
			j++
		}
	}
	s.ParamsTo = j
	if p.kind(j) != '{' || j >= end {
		return j
	}
	inner, after := p.inside(j, end)
	s.Open, s.Close = j+1, inner
	at := p.newScope(s)
	from := j + 1
	if p.is(keyword, "enum") {
		from = p.enumConstants(from, inner, at)
	}
	p.members(from, inner, at)
	return after
}

// enumConstants walks the constants of an enumeration up to the semicolon
// that ends them.
func (p *parser) enumConstants(i, end, scope int32) int32 {
	for i < end && p.kind(i) != ';' {
		switch p.kind(i) {
		case '@':
			i = p.annotation(i, end, scope)
		case '(':
			inner, after := p.inside(i, end)
			p.expression(i+1, inner, scope, toEnd)
			i = after
		case '{':
			inner, after := p.inside(i, end)
			p.members(i+1, inner, p.newScope(Scope{Kind: Type, Traits: Anonymous, Parent: scope, Head: i, Open: i + 1, Close: inner, Name: -1}))
			i = after
		default:
			i++
		}
	}
	return i
}

// members walks the members of a type.
func (p *parser) members(i, end, scope int32) {
	if p.depth >= maxDepth {
		p.flat(i, end, scope)
		return
	}
	p.depth++
	for i < end {
		next := p.member(i, end, scope)
		i = max(next, i+1)
	}
	p.depth--
}

// member walks one member: a method, field, property, nested type or
// initialiser block.
func (p *parser) member(i, end, scope int32) int32 {
	traits := Trait(0)
	if p.f.Has(lang.NamedMethods) {
		traits = Public
	}
	name := int32(-1)
	j := i
	for j < end {
		k := p.kind(j)
		switch r := k.Role(); {
		case k == '@' && p.f.Has(lang.Decorators):
			if p.kind(j+1) == '[' || p.kind(j+1) == lex.Ident || p.kind(j+1).IsKeyword() {
				j = p.annotation(j, end, scope)
				if j > i && p.kind(j) == '}' {
					return j
				}
				continue
			}
			j++
		case k == '[' && p.f.Has(lang.Properties):
			j = p.skip(j) // an attribute, or the parameters of an indexer
		case k == ';' || k == '}':
			return j + 1
		case r == lang.Class && p.kind(j+1) == lex.Ident && p.kind(j-1) != '.' && !p.f.Has(lang.NamedMethods):
			return p.typeDeclaration(j, i, end, scope)
		case p.typeWord(j) && !p.f.Has(lang.NamedMethods):
			return p.typeDeclaration(j, i, end, scope)
		case k == '(':
			if p.f.Has(lang.Properties) && name < 0 || name >= 0 && p.f.Has(lang.Properties) && p.tupleType(j, end) {
				j = p.skip(j) // a tuple type
				continue
			}
			return p.method(i, name, j, end, scope, traits)
		case k == '{':
			return p.memberBlock(i, name, j, end, scope, traits)
		case k == '=' || k == lex.Arrow && p.f.Has(lang.Properties):
			return p.field(i, name, j, end, scope, traits)
		case k == '<':
			j = p.generics(j, end)
		case k == ':' && p.f.Has(lang.TypeSuffix):
			next := p.fieldType(j+1, end)
			if p.fresh(next) && p.kind(next) != '=' {
				return next
			}
			j = max(next, j+1)
		case k == '[' && p.f.Has(lang.NamedMethods):
			name = j + 1
			j = p.skip(j)
		case r == lang.Public:
			traits |= Public
			j++
		case r == lang.Modifier || r == lang.Word || r == lang.Operator && p.f.Has(lang.TypedFuncs):
			if p.is(j, "operator") {
				name = j
			}
			j++
		case k == lex.Ident || k.IsKeyword() || k == lex.String || k == lex.Number:
			if p.f.Has(lang.NamedMethods) {
				switch string(p.text(j)) {
				case "private", "protected":
					traits &^= Public
				}
				if name >= 0 && p.fresh(j) && !modifierWord(p.text(name)) {
					return j // the field before had no type and no semicolon
				}
			}
			if string(p.text(j)) != "where" || p.f.Has(lang.NamedMethods) {
				name = j
			}
			j++
		default:
			j++
		}
	}
	return end
}

func modifierWord(t []byte) bool {
	switch string(t) {
	case "static", "async", "get", "set", "public", "private", "protected", "readonly", "abstract", "override", "declare", "accessor":
		return true
	}
	return false
}

// tupleType reports whether the bracket at j is the tuple in "(int, string)
// name(" rather than a parameter list.
func (p *parser) tupleType(j, end int32) bool {
	after := p.skip(j)
	return after < end && p.kind(after) == lex.Ident && !p.is(after, "where") && p.role(j-1) != lang.NoRole
}

// generics skips type parameters when "<" at j opens them.
func (p *parser) generics(j, end int32) int32 {
	depth := 0
	for k := j; k < end && k < j+400; k++ {
		switch p.kind(k) {
		case '<':
			depth++
		case lex.ShiftLeft:
			depth += 2
		case '>':
			depth--
			if depth == 0 {
				return k + 1
			}
		case ';':
			return j + 1
		case '(', '[', '{':
			k = p.skip(k) - 1
		}
	}
	return j + 1
}

// fieldType skips the type of a field or the result type of a method.
func (p *parser) fieldType(j, end int32) int32 {
	for j < end {
		switch k := p.kind(j); {
		case k == '<':
			j = p.generics(j, end)
		case k == '(' || k == '[':
			j = p.skip(j)
		case k == '{':
			if before := p.kind(j - 1); before == ':' || before == '|' || before == '&' || before == lex.Arrow || before == '=' || p.is(j-1, "is") {
				j = p.skip(j)
				continue
			}
			return j
		case k == ';' || k == '=' || k == ',' || k == ')' || k == '}':
			return j
		case k == lex.Arrow || k == '|' || k == '&' || k == '.' || k == ':' || k == '?':
			j++
		default:
			if p.fresh(j) && p.endsOperand(j-1) {
				return j
			}
			j++
		}
	}
	return j
}

// method walks a method whose parameter list opens at open.
func (p *parser) method(head, name, open, end, scope int32, traits Trait) int32 {
	inner, after := p.inside(open, end)
	s := Scope{Kind: Func, Traits: traits, Parent: scope, Head: head, Name: name, ParamsFrom: open + 1, ParamsTo: inner}
	if p.f.Has(lang.TypedFuncs) && p.Scopes[scope].Kind == Type && p.inInterface(scope) {
		s.Traits |= Public
	}
	p.expression(open+1, inner, scope, toEnd) // default values
	j := after
	if p.f.Has(lang.Directives) && name > 0 {
		p.qualify(&s, name)
	}
	if p.f.Has(lang.TypeSuffix) && p.kind(j) == ':' {
		j = p.fieldType(j+1, end)
	}
	for j < end {
		switch k := p.kind(j); {
		case k == '{' && p.f.Has(lang.Directives) && p.kind(j-1) == lex.Ident && p.partner[j] > 0 && (p.kind(p.partner[j]+1) == ',' || p.kind(p.partner[j]+1) == '{'):
			j = p.skip(j) // the initialiser of a member
		case k == '{':
			return p.block(s, j, end)
		case k == lex.Arrow:
			s.Open = j + 1
			return p.within(s, func(at int32) int32 { return p.expression(j+1, end, at, toEnd) }) + 1
		case k == ';':
			s.Traits |= Bodyless
			s.Open, s.Close = j, j
			p.newScope(s)
			return j + 1
		case k == ':' && p.f.Has(lang.Properties): // : base(…)
			j++
		case k == '(' || k == '[':
			p.expression(j+1, min(p.skip(j)-1, end), scope, toEnd)
			j = p.skip(j)
		case k == '=' || k == '}':
			return j
		case p.f.Has(lang.NamedMethods):
			s.Traits |= Bodyless // an overload without a semicolon
			s.Open, s.Close = j, j
			p.newScope(s)
			return j
		default:
			j++
		}
	}
	return end
}

func (p *parser) inInterface(scope int32) bool {
	s := p.Scopes[scope]
	return s.Name > 0 && p.is(s.Name-1, "interface")
}

// memberBlock walks a member whose brace comes before any bracket: a
// property, an initialiser block.
func (p *parser) memberBlock(head, name, open, end, scope int32, traits Trait) int32 {
	inner, after := p.inside(open, end)
	if p.f.Has(lang.Properties) && name >= 0 && (p.role(name) == lang.NoRole || p.role(name) == lang.Self) {
		p.accessors(head, name, open+1, inner, scope, traits)
		if p.kind(after) == '=' {
			return p.expression(after+1, end, scope, toEnd) + 1
		}
		return after
	}
	s := Scope{Kind: Func, Parent: scope, Head: head, Name: name, Open: open + 1, Close: inner}
	if p.kind(name) != lex.Ident || p.f.Has(lang.NamedMethods) {
		s.Name = -1
	}
	if p.Scopes[scope].Kind == Type && !p.f.Has(lang.NamedMethods) || p.is(head, "static") {
		at := p.newScope(s)
		p.statements(open+1, inner, at)
	} else {
		p.statements(open+1, inner, scope)
	}
	return after
}

// accessors walks "get { … } set => …;" of a property.
func (p *parser) accessors(head, name, i, end, scope int32, traits Trait) {
	for i < end {
		switch k := p.kind(i); {
		case k == '{':
			i = p.block(Scope{Kind: Func, Traits: traits, Parent: scope, Head: head, Name: name}, i, end)
		case k == lex.Arrow:
			s := Scope{Kind: Func, Traits: traits, Parent: scope, Head: head, Name: name, Open: i + 1}
			i = p.within(s, func(at int32) int32 { return p.expression(i+1, end, at, toEnd) })
		default:
			i++
		}
	}
}

// field walks the value of a field or the body of an expression property.
func (p *parser) field(head, name, at, end, scope int32, traits Trait) int32 {
	if p.kind(at) == lex.Arrow {
		s := Scope{Kind: Func, Traits: traits, Parent: scope, Head: head, Name: name, Open: at + 1}
		return p.within(s, func(in int32) int32 { return p.expression(at+1, end, in, toEnd) }) + 1
	}
	for {
		p.held = name
		next := p.expression(at+1, end, scope, toComma)
		if p.kind(next) == ',' && next < end && !p.f.Has(lang.NamedMethods) { // int a = 1, b = 2;
			at = next
			for at < end && p.kind(at) != '=' && p.kind(at) != ';' {
				at = p.skip(at)
			}
			if p.kind(at) == '=' {
				continue
			}
			return at + 1
		}
		if p.kind(next) == ';' {
			next++
		}
		return next
	}
}

// typedStatement recognises what begins with a type in a function body or at
// the top: a local function or a type with a contextual keyword. It returns 0
// when the statement is none of these.
func (p *parser) typedStatement(i, end, scope int32) int32 {
	if p.typeWord(i) {
		return p.typeDeclaration(i, i, end, scope)
	}
	if !p.f.Has(lang.Properties) {
		return 0
	}
	j := i
	for n := 0; n < 24 && j < end; n++ { // Type<…>?[] name(params) body
		switch k := p.kind(j); {
		case k == lex.Ident && p.kind(j+1) == '(' && j > i && (p.typeEnd(j-1) || p.f.Has(lang.Directives) && p.pointerEnd(j-1)):
			after := p.skip(j + 1)
			if p.kind(after) == '{' || p.kind(after) == lex.Arrow || p.is(after, "where") || p.f.Has(lang.Directives) && p.bodyBehind(after, end) || p.f.Has(lang.Cascades) && p.asyncBody(after) {
				return p.method(i, j, j+1, end, scope, 0)
			}
			return 0
		case k == lex.Ident || k == '.' || k == '?' || k == lex.Scope || k.Role() == lang.Word || k.Role() == lang.Modifier:
			j++
		case p.f.Has(lang.Directives) && (k == '*' || k == '&' || k == '~' || k == lex.AndAnd || k.Role() == lang.Class):
			j++
		case k == '<':
			next := p.generics(j, end)
			if next == j+1 {
				return 0
			}
			j = next
		case k == '[' || k == '(' && j == i:
			j = p.skip(j)
		default:
			return 0
		}
	}
	return 0
}

func (p *parser) typeEnd(i int32) bool {
	k := p.kind(i)
	return k == lex.Ident && !p.is(i, "await") && !p.is(i, "yield") || k == '>' || k == ']' || k == '?' || k == ')' || k.Role() == lang.Word || k.Role() == lang.Modifier
}

// exported reports whether a name begins with a capital letter.
func exported(name []byte) bool {
	return len(name) > 0 && bytes.ToUpper(name[:1])[0] == name[0] && name[0] != '_'
}
