package calls

import (
	"bytes"
	"strings"

	"reed/internal/catalog"
	"reed/internal/lang"
	"reed/internal/lex"
	"reed/internal/model"
	"reed/internal/outline"
)

// binding says that a name of the file holds a logger of a library.
type binding struct {
	lib     *catalog.Library
	certain bool
	logger  string // configured name, when known
	context bool   // the logger carries fields
}

// bind collects what the file's imports and declarations say about loggers.
func (f *File) bind() {
	clear(f.locals)
	clear(f.bindings)
	clear(f.active)
	clear(f.modules)
	clear(f.funcs)
	// a method is called without its object in most languages
	implicit := f.Spec.Features&(lang.RubyWords|lang.TypedFuncs|lang.KeywordFuncs|lang.BeginEnd) != 0 && !f.Spec.Features.Has(lang.Macros)
	for i := range f.Out.Scopes {
		s := &f.Out.Scopes[i]
		if s.Kind == outline.Func && s.Name >= 0 && s.Parent >= 0 && (implicit || f.Out.Scopes[s.Parent].Kind != outline.Type) {
			f.funcs[f.Text(s.Name)] = true
		}
	}
	if f.Spec.Features.Has(lang.ErrorFirst) {
		f.requires()
	}
	if f.Spec.Features.Has(lang.Directives) {
		f.includes()
	}
	for i, imp := range f.Out.Imports {
		if imp.Local != "" {
			f.locals[imp.Local] = append(f.locals[imp.Local], int32(i))
		}
		f.use(imp.Path, imp.Local)
	}
	for i := range f.Lex.Tokens {
		if k := f.Lex.Tokens[i].Kind; k != lex.Ident {
			continue
		}
		at := int32(i)
		if name := f.Bytes(at); f.Cat.Anchor(name) {
			f.anchor(at, string(name))
		}
	}
}

// use notes which libraries an import brings in.
func (f *File) use(path, local string) {
	for i := range f.Cat.Libraries {
		lib := &f.Cat.Libraries[i]
		if !lib.Matches(path) {
			continue
		}
		f.active[lib] = true
		if lib.Module && local != "" && contains(lib.Imports, path) {
			f.modules[local] = append(f.modules[local], lib)
		}
	}
}

// includes turns #include and #import lines into imports.
func (f *File) includes() {
	for _, c := range f.Lex.Comments {
		line := f.Src.Text[c.Start:c.End]
		if len(line) < 10 || line[0] != '#' {
			continue
		}
		rest := bytes.TrimLeft(line[1:], " \t")
		if !bytes.HasPrefix(rest, []byte("include")) && !bytes.HasPrefix(rest, []byte("import")) {
			continue
		}
		open := bytes.IndexAny(rest, "<\"")
		if open < 0 {
			continue
		}
		stop := bytes.IndexAny(rest[open+1:], ">\"")
		if stop > 0 {
			f.Out.Imports = append(f.Out.Imports, importOf(string(rest[open+1:open+1+stop]), "", 0))
		}
	}
}

// requires turns "const a = require('m')" into imports.
func (f *File) requires() {
	for i := range f.Lex.Tokens {
		at := int32(i)
		if f.Lex.Tokens[i].Kind != lex.Ident || !f.Is(at, "require") || f.Kind(at+1) != '(' || f.Kind(at+2) != lex.String {
			continue
		}
		path := lex.Unquote(f.Bytes(at + 2))
		j := at
		for f.Kind(j-1) == '(' && f.Kind(j-2) == lex.Ident { // a helper around require
			j -= 2
			if f.Kind(j-1) == '.' {
				j -= 2
			}
		}
		if f.Kind(j-1) != '=' {
			f.use(path, "")
			continue
		}
		after := f.Skip(at + 1)
		switch k := f.Kind(j - 2); {
		case k == lex.Ident && f.Kind(after) == '(':
			f.use(path, "") // const log = require('debug')('name')
			for _, lib := range f.Cat.Factories(lastWord(path)) {
				if lib.Matches(path) {
					f.declare(f.Text(j-2), binding{lib: lib, certain: true, logger: f.literal(after + 1)})
				}
			}
		case k == lex.Ident && f.Kind(after) == '.' && f.Kind(after+1) == lex.Ident && f.Kind(after+2) != '(':
			f.Out.Imports = append(f.Out.Imports, importOf(path+"#"+f.Text(after+1), f.Text(j-2), at))
		case k == lex.Ident:
			f.Out.Imports = append(f.Out.Imports, importOf(path, f.Text(j-2), at))
		case k == '}' && f.Lex.Partner[j-2] >= 0:
			for n := f.Lex.Partner[j-2] + 1; n < j-2; n++ {
				if f.Kind(n) != lex.Ident {
					continue
				}
				name, local := f.Text(n), n
				if f.Kind(n+1) == ':' && f.Kind(n+2) == lex.Ident {
					local = n + 2
					n += 2
				}
				f.Out.Imports = append(f.Out.Imports, importOf(path+"#"+name, f.Text(local), at))
			}
		}
	}
}

func (f *File) declare(name string, b binding) {
	for i, old := range f.bindings[f.fold(name)] {
		if old.lib == b.lib {
			if old.logger == "" { // the type said which library, the factory says which name
				old.logger = b.logger
			}
			old.certain, old.context = old.certain || b.certain, old.context || b.context
			f.bindings[f.fold(name)][i] = old
			return
		}
	}
	f.bindings[f.fold(name)] = append(f.bindings[f.fold(name)], b)
}

// anchor looks at a name that may declare a logger.
func (f *File) anchor(i int32, name string) {
	if f.Kind(i-1) == '@' {
		for _, lib := range f.Cat.Annotated(name) {
			if len(f.Cat.Annotated(name)) == 1 || f.active[lib] {
				f.declare(lib.Annotations[name], binding{lib: lib, certain: true})
			}
		}
		return
	}
	for _, lib := range f.Cat.Mixed(name) {
		if lib.Unique || f.active[lib] {
			f.declare(lib.Mixins[name], binding{lib: lib, certain: true})
		}
	}
	if libs := f.Cat.Types(name); libs != nil {
		if lib, certain := f.choose(libs, i, name, func(l *catalog.Library) []string { return l.Types }); lib != nil {
			f.typed(i, lib, certain)
		}
	}
	open := i + 1
	if f.Kind(open) == '<' {
		open = f.genericsEnd(open)
	}
	if f.Kind(open) != '(' && !(f.Kind(open) == '{' && f.Spec.Features.Has(lang.Blocks)) && !(f.Spec.Features.Has(lang.RubyWords) && f.Kind(i-1) == '.') {
		return
	}
	if libs := f.Cat.Factories(name); libs != nil {
		if lib, certain := f.choose(libs, i, name, func(l *catalog.Library) []string { return l.Factories }); lib != nil {
			f.assigned(f.chainStart(i), binding{lib: lib, certain: certain, logger: f.loggerName(i, open)})
			return
		}
	}
	if f.Cat.Chained(name) != nil && f.Kind(i-1) == '.' {
		if r, ok := f.receiver(i); ok && (contains(r.lib.Chain, name) || contains(r.lib.Bind, name)) {
			f.assigned(f.chainStart(i), binding{lib: r.lib, certain: r.certain, logger: r.logger, context: r.context || contains(r.lib.Bind, name)})
		}
	}
}

func (f *File) genericsEnd(i int32) int32 {
	depth := 0
	for n := int32(0); n < 40; n++ {
		switch f.Kind(i + n) {
		case '<':
			depth++
		case '>':
			if depth--; depth == 0 {
				return i + n + 1
			}
		case ';', '{', lex.None:
			return i
		}
	}
	return i
}

// choose picks the library that a type or factory name at token i belongs to:
// the one whose import gives the name or its qualifier, else one that the file
// imports, else one that owns the name alone.
func (f *File) choose(libs []*catalog.Library, i int32, name string, names func(*catalog.Library) []string) (*catalog.Library, bool) {
	qualifier := ""
	if f.dot(i-1) && f.Kind(i-2) == lex.Ident {
		qualifier = f.Text(i - 2)
	}
	var plain []*catalog.Library
	for _, lib := range libs {
		bare := false
		for _, n := range names(lib) {
			q, word, dotted := strings.Cut(n, ".")
			if !dotted {
				bare = bare || n == name
				continue
			}
			if word != name || qualifier == "" {
				continue
			}
			if imp := f.importOf(qualifier); imp != nil {
				if lib.Matches(imp.Path) && qualifies(imp.Path, q) {
					return lib, true
				}
			} else if q == qualifier && (lib.Unique || f.active[lib]) {
				return lib, true
			}
		}
		if !bare {
			continue
		}
		plain = append(plain, lib)
	}
	imp := f.importOf(name)
	if qualifier != "" {
		imp = f.importOf(qualifier)
	}
	if imp != nil {
		for _, lib := range plain {
			if lib.Matches(imp.Path) {
				return lib, true
			}
		}
	}
	for _, lib := range plain {
		if f.active[lib] && (imp == nil || qualifier != "") {
			return lib, true
		}
	}
	for _, lib := range plain {
		if lib.Unique {
			return lib, true
		}
	}
	if len(plain) > 0 {
		if qualifier == "" && !strings.Contains(strings.ToLower(name), "log") {
			return nil, false
		}
		return f.fallback(plain), false
	}
	return nil, false
}

// qualifies tells whether the qualifier that the catalog writes stands for
// the package of an import path: its last element, versions aside.
func qualifies(path, q string) bool {
	last := lastWord(path)
	if len(last) > 1 && last[0] == 'v' && strings.Trim(last[1:], "0123456789") == "" {
		last = lastWord(strings.TrimSuffix(path, "/"+last))
	}
	last = strings.TrimPrefix(last, "go-")
	return last == q || q == "ctrl" && last == "controller-runtime"
}

// fallback is the library whose methods a logger of unknown kind is taken to
// have: one the file imports, else the language's usual one.
func (f *File) fallback(libs []*catalog.Library) *catalog.Library {
	for i := range f.Cat.Libraries {
		if lib := &f.Cat.Libraries[i]; lib.Name == f.Cat.Likely.Library {
			return lib
		}
	}
	if len(libs) > 0 {
		return libs[0]
	}
	return nil
}

// typed binds the variables that the logger type at token i declares.
func (f *File) typed(i int32, lib *catalog.Library, certain bool) {
	b := binding{lib: lib, certain: certain}
	if f.Spec.Features.Has(lang.Islands) {
		if f.Kind(i+1) == lex.Ident && strings.HasPrefix(f.Text(i+1), "$") {
			f.declare(f.Text(i+1), b)
			f.declare(f.Text(i + 1)[1:], b) // the property of a promoted parameter
		}
		return
	}
	if f.Spec.Features.Has(lang.TypedFuncs) {
		j := i + 1
		for f.Spec.Features.Has(lang.Directives) && (f.Kind(j) == '>' || f.Kind(j) == '*' || f.Kind(j) == '&') {
			j++
		}
		if f.Kind(j) == '<' {
			end := f.genericsEnd(j)
			if end == j+3 || f.Kind(end-2) == lex.Ident {
				b.logger = f.qualified(f.Text(end - 2))
			}
			j = end
		}
		for f.Kind(j) == '?' || f.Kind(j) == '[' || f.Kind(j) == ']' {
			j++
		}
		if f.Kind(j) == lex.Ident && f.Kind(j+1) != '(' && f.Kind(j+1) != '.' {
			f.declare(f.Text(j), b)
		}
		return
	}
	j := i - 1
	for f.Kind(j) == '.' && f.Kind(j-1) == lex.Ident {
		j -= 2
	}
	if f.Spec.Features.Has(lang.ReceiverFuncs) {
		pointer := false
		for f.Kind(j) == '*' {
			j--
			pointer = true
		}
		first := f.Lex.Tokens[j+1].Flags&lex.LineStart != 0
		switch {
		case f.Kind(j) == lex.Ident && !first:
			f.declare(f.Text(j), b)
			for f.Kind(j-1) == ',' && f.Kind(j-2) == lex.Ident {
				j -= 2
				f.declare(f.Text(j), b)
			}
		case first && (pointer || f.Kind(i+1) != '{' && f.Kind(i+1) != '('):
			f.declare(f.Text(i), b) // embedded
		}
		return
	}
	if f.Kind(j) == ':' {
		j--
		if f.Kind(j) == '?' || f.Kind(j) == '!' {
			j--
		}
		if f.Kind(j) == lex.Ident {
			f.declare(f.Text(j), b)
		}
	}
}

// assigned binds the variable or property that the expression beginning at
// token start is assigned to.
func (f *File) assigned(start int32, b binding) {
	j := start - 1
	for f.Kind(j) == ')' && f.Lex.Partner[j] > 0 { // a cast
		j = f.Lex.Partner[j] - 1
	}
	if f.Kind(j).Role() == lang.Await {
		j--
	}
	if f.Kind(j) == '&' || f.Kind(j) == '*' {
		j--
	}
	if k := f.Kind(j); k == lex.OrOr || k == lex.Coalesce || k.Role() == lang.Operator && f.Is(j, "or") {
		for n := 0; n < 12 && j > 0 && f.Kind(j) != '=' && f.Lex.Tokens[j].Flags&lex.LineStart == 0; n++ {
			j-- // given || factory()
		}
	}
	switch f.Kind(j) {
	case lex.Declare, '=', lex.OpAssign:
	case ':':
		if k := f.Kind(j - 1); (k == lex.Ident || k == lex.String) && (f.Kind(j-2) == '{' || f.Kind(j-2) == ',') {
			f.declare(f.nameText(j-1), b)
		}
		return
	default:
		return
	}
	j--
	if f.Spec.Features.Has(lang.ReceiverFuncs) {
		for f.Kind(j-1) == ',' && f.Kind(j-2) == lex.Ident {
			j -= 2
		}
	}
	if f.Spec.Features.Has(lang.TypeSuffix) || f.Spec.Features.Has(lang.IndentBlocks) {
		for k, n := j, 0; k > 0 && n < 16; k, n = k-1, n+1 {
			if f.Kind(k) == ':' && f.Kind(k-1) == lex.Ident {
				f.declare(f.Text(k-1), b)
				return
			}
			if f.Lex.Tokens[k].Flags&lex.LineStart != 0 || f.Kind(k) == ';' || f.Kind(k) == '(' {
				break
			}
		}
	}
	if f.Kind(j) != lex.Ident {
		return
	}
	if k := f.Kind(j - 1); f.Spec.Features.Has(lang.IndentBlocks) && (k == '(' || k == ',') {
		b.certain = false // a keyword argument: what it becomes is the callee's business
	}
	f.declare(f.Text(j), b)
}

// loggerName reads the configured name from the arguments of a factory call.
func (f *File) loggerName(i, open int32) string {
	if f.Kind(i+1) == '<' && f.Kind(i+2) == lex.Ident {
		return f.qualified(f.Text(open - 2))
	}
	return f.literal(open + 1)
}

// literal reads a logger name at token i: a string, a class, __name__.
func (f *File) literal(i int32) string {
	switch {
	case f.Kind(i) == lex.String && (f.Kind(i+1) == ')' || f.Kind(i+1) == ','):
		return lex.Unquote(f.Bytes(i))
	case f.Kind(i) == lex.Ident && f.Kind(i+1) == '.' && f.Is(i+2, "class"):
		return f.qualified(f.Text(i))
	case f.Is(i, "typeof") && f.Kind(i+1) == '(':
		return f.qualified(f.Text(i + 2))
	case f.Kind(i) == lex.Ident && f.Kind(i+1) == ':' && f.Kind(i+2) == lex.String && f.Spec.Features.Has(lang.ErrorTruth): // label: "…"
		return f.literal(i + 2)
	case f.Kind(i) == lex.Ident && f.Kind(i+1) == lex.Scope && (f.Is(i+2, "class") || f.Is(i+2, "Class")):
		return f.qualified(f.Text(i))
	case f.Is(i, "classOf") && f.Kind(i+1) == '[':
		return f.qualified(f.Text(i + 2))
	case f.Is(i, "__name__"):
		return "__name__"
	}
	return ""
}

// qualified adds the package of the file to a class name, or the package it
// is imported from.
func (f *File) qualified(name string) string {
	if imp := f.importOf(name); imp != nil {
		return imp.Path
	}
	if f.Out.Package == "" {
		return name
	}
	return f.Out.Package + "." + name
}

func confidence(certain bool) string {
	if certain {
		return model.Certain
	}
	return model.Likely
}
