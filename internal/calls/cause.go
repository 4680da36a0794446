package calls

import (
	"strings"

	"reed/internal/lang"
	"reed/internal/lex"
	"reed/internal/outline"
)

// What is an error: an object whose trace is worth keeping, or its text.

// errorLike tells whether tokens from to to are an error object: the variable
// of a handler, a name that errors bear, a new exception.
func (f *File) errorLike(from, to, scope int32) bool {
	if from >= to {
		return false
	}
	if f.Kind(from) == '(' && f.Lex.Partner[from] == to-1 {
		return f.errorLike(from+1, to-1, scope)
	}
	for n := from; n < to && n < from+8; n++ { // casts
		if f.Is(n, "as") && n > from && f.Spec.Features.Has(lang.TypeSuffix) {
			to = n
			break
		}
	}
	if f.Kind(from) == '(' && f.Lex.Partner[from] > 0 && f.Lex.Partner[from] < to-1 && f.Kind(f.Lex.Partner[from]+1) == lex.Ident {
		from = f.Lex.Partner[from] + 1 // (Type) name
	}
	if f.Kind(to-1) == '!' {
		to--
	}
	if f.Kind(from).Role() == lang.New {
		for i := from + 1; i < to && f.Kind(i) != '('; i++ {
			if t := f.Text(i); strings.HasSuffix(t, "Exception") || strings.HasSuffix(t, "Error") || t == "Throwable" {
				return f.Skip(i+1) == to
			}
		}
		return false
	}
	if f.Spec.Features.Has(lang.ErrorText) {
		to = f.withoutText(from, to)
	}
	if f.Kind(to-1) == ')' && f.Lex.Partner[to-1] == to-2 && (f.Is(to-3, "exc_info") || f.Is(to-3, "cause") || f.Is(to-3, "exception") || strings.HasPrefix(f.Text(to-3), "get") && (strings.HasSuffix(f.Text(to-3), "Cause") || strings.HasSuffix(f.Text(to-3), "Exception") || strings.HasSuffix(f.Text(to-3), "Throwable") || f.Is(to-3, "getThrown"))) {
		return true
	}
	if f.Kind(to-1) != lex.Ident {
		return false
	}
	if to-from > 1 {
		for i := from; i < to-1; i++ {
			if k := f.Kind(i); !f.dot(i) && k != lex.Ident && k.Role() != lang.Self {
				return false
			}
		}
		name, s0 := f.Text(to-1), from
		return name == "InnerException" || name == "stack" && f.Spec.Features.Has(lang.ErrorFirst) && s0 == to-3 || name == "cause" || name == "Exception" || name == "err" || name == "error" && f.Kind(from).Role() != lang.Self && f.Spec.Features.Has(lang.ErrorFirst)
	}
	name := f.Text(from)
	for _, n := range f.ErrorNames(scope) {
		if n == name {
			return true
		}
	}
	if name == "e" || name == "t" || name == "th" || name == "ex" && len(name) == 1 {
		return f.errorParameter(name, scope)
	}
	if isUpper(name) {
		return false
	}
	return outline.IsErrorName(name)
}

// ErrorLike is errorLike for rules.
func (f *File) ErrorLike(from, to, scope int32) bool { return f.errorLike(from, to, scope) }

// withoutText leaves out the end of an expression that takes the text of an
// error: err.Error(), e.what(), E.Message.
func (f *File) withoutText(from, to int32) int32 {
	end := to
	if f.Kind(end-1) == ')' && f.Lex.Partner[end-1] == end-2 {
		end -= 2
	}
	if end-from < 3 || !f.dot(end-2) {
		return to
	}
	switch f.Text(end - 1) {
	case "Error", "what", "Message", "localizedDescription", "to_string":
		return end - 2
	}
	return to
}

// errorParameter tells whether a short name is declared as an error by an
// enclosing function's parameters.
func (f *File) errorParameter(name string, scope int32) bool {
	for at := scope; at > 0; at = f.Out.Scopes[at].Parent {
		s := f.Out.Scopes[at]
		for i := s.ParamsFrom; i < s.ParamsTo; i++ {
			if !f.Is(i, name) {
				continue
			}
			typ := f.Text(i - 1)
			if f.Kind(i+1) == ':' {
				typ = f.Text(i + 2)
			}
			if strings.HasSuffix(typ, "Exception") || strings.HasSuffix(typ, "Error") || typ == "Throwable" {
				return true
			}
		}
	}
	return false
}
