package calls

import (
	"path"
	"strings"

	"reed/internal/catalog"
	"reed/internal/lang"
	"reed/internal/lex"
	"reed/internal/model"
	"reed/internal/outline"
)

// Which wrapper a call means.

// wrapped resolves a call to a wrapper of the tree.
func (f *File) wrapped(c outline.Call, name string) (*catalog.Sig, *Wrapper) {
	if f.Wrappers == nil {
		return nil, nil
	}
	for _, w := range f.Wrappers.byName[name] {
		if family(w.Language) != family(f.Spec.Name) || !f.reaches(w, c) {
			continue
		}
		return &catalog.Sig{
			Lib: w.lib, Method: &catalog.Method{Print: printKind(w)}, Name: name, LevelName: w.LevelName, Severity: w.Severity,
			Style: w.style, Values: w.values, Cause: w.cause, Message: max(w.Message, 0), LevelAt: w.Level,
		}, w
	}
	return nil, nil
}

func printKind(w *Wrapper) string {
	if w.Kind == model.KindPrint {
		return "print"
	}
	return ""
}

// reaches tells whether a call means a wrapper: the function of this very
// file or package, one that is imported, a method of the type around or above,
// a static one by the name of its type.
func (f *File) reaches(w *Wrapper, c outline.Call) bool {
	same := w.File == f.Src.Path
	if same && f.Src.Line(f.Lex.Tokens[c.Name].Start) == w.Line {
		return false // its own declaration
	}
	ft := f.Spec.Features
	if !f.dot(c.Name - 1) {
		if w.Type != "" {
			return f.within(w.Type, c.Scope) || f.importsMember(w)
		}
		switch {
		case same, f.importsMember(w):
			return true
		case ft.Has(lang.ReceiverFuncs):
			return path.Dir(w.File) == path.Dir(f.Src.Path)
		case ft.Has(lang.Commands), ft.Has(lang.Islands) && ft.Has(lang.HereText), ft.Has(lang.RubyWords):
			return f.importOf(f.Text(c.Name)) == nil
		case ft.Has(lang.Directives):
			return f.includesFile(w)
		case ft.Has(lang.BeginEnd):
			return f.importOf(stem(w.File)) != nil || f.importsFold(stem(w.File))
		case ft.Has(lang.KeywordFuncs) && path.Dir(w.File) == path.Dir(f.Src.Path): // functions of a package
			return true
		}
		return false
	}
	r := f.beforeDot(c.Name - 1)
	switch k := f.Kind(r); {
	case k.Role() == lang.Self || f.Is(r, "$this") || f.Is(r, "self") || f.Is(r, "cls"):
		return w.Type != "" && f.within(w.Type, c.Scope)
	case k != lex.Ident:
		return false
	}
	name := f.Text(r)
	if w.Type != "" {
		if name == w.Type && !f.dot(r-1) {
			return true
		}
		if f.dot(r-1) && name == w.Type {
			return true
		}
		if ft.Has(lang.ReceiverFuncs) { // s.logf in a method of the same type
			at := f.Out.Enclosing(c.Scope, outline.Func)
			return at >= 0 && f.Out.Scopes[at].Recv > 0 && f.Is(f.Out.Scopes[at].Recv, w.Type) && !f.dot(r-1) && f.importOf(name) == nil && f.receiverName(at) == name
		}
		return false
	}
	if imp := f.importOf(name); imp != nil && !f.dot(r-1) {
		return pathMeans(imp.Path, w)
	}
	return false
}

// receiverName returns the name by which a Go method calls its object.
func (f *File) receiverName(at int32) string {
	s := &f.Out.Scopes[at]
	for i := s.Head; i < s.Recv; i++ {
		if f.Kind(i) == '(' {
			return f.Text(i + 1)
		}
	}
	return ""
}

// within tells whether a scope lies in a type of that name or in one whose
// header names it.
func (f *File) within(typ string, scope int32) bool {
	if _, own := f.names(scope); own == typ {
		return true
	}
	for at := scope; at > 0; at = f.Out.Scopes[at].Parent {
		s := &f.Out.Scopes[at]
		if s.Kind != outline.Type {
			continue
		}
		if s.Name >= 0 && f.Is(s.Name, typ) {
			return true
		}
		for i := s.ParamsFrom; i < s.ParamsTo; i++ {
			if f.Kind(i) == lex.Ident && f.Is(i, typ) {
				return true
			}
		}
	}
	return false
}

// importsMember tells whether the file imports a wrapper by its name.
func (f *File) importsMember(w *Wrapper) bool {
	imp := f.importOf(w.Name)
	if imp == nil {
		return false
	}
	if lastWord(imp.Path) != w.Name {
		return false
	}
	module := strings.TrimRight(strings.TrimSuffix(imp.Path, w.Name), ".#/:\\")
	return module != "" && (pathMeans(module, w) || w.Type != "" && lastWord(module) == w.Type)
}

func (f *File) importsFold(name string) bool {
	for local := range f.locals {
		if strings.EqualFold(local, name) {
			return true
		}
	}
	return false
}

// includesFile tells whether a C file can see a wrapper: it includes the
// header of the same name, or one from the same folder.
func (f *File) includesFile(w *Wrapper) bool {
	want := stem(w.File)
	for i := range f.Out.Imports {
		if stem(f.Out.Imports[i].Path) == want {
			return true
		}
	}
	return path.Dir(w.File) == path.Dir(f.Src.Path)
}

// pathMeans tells whether an import path names the file, package or folder of
// a wrapper.
func pathMeans(p string, w *Wrapper) bool {
	if module, _, found := strings.Cut(p, "#"); found {
		p = module
	}
	for _, ext := range []string{".js", ".ts", ".mjs", ".jsx", ".tsx", ".dart", ".php", ".rb"} {
		p = strings.TrimSuffix(p, ext)
	}
	last := lastWord(p)
	switch last {
	case "", "..":
		return false
	case stem(w.File), lastWord(w.Unit):
		return true
	}
	folder := path.Base(path.Dir(w.File))
	if last != folder {
		return false
	}
	switch stem(w.File) {
	case "index", "__init__", "mod", "lib":
		return true
	}
	return w.Language == "go" || w.Language == "java" || w.Language == "kotlin"
}

func stem(file string) string {
	base := path.Base(file)
	return strings.TrimSuffix(base, path.Ext(base))
}
