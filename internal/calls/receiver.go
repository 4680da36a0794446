package calls

import (
	"strconv"
	"strings"

	"reed/internal/catalog"
	"reed/internal/lang"
	"reed/internal/lex"
	"reed/internal/outline"
)

func importOf(path, local string, at int32) outline.Import {
	return outline.Import{Path: path, Local: local, Token: at}
}

// held is what a receiver turned out to be.
type held struct {
	binding
	others    []binding // further bindings of the same name
	verbosity int       // V(n) in the chain, -1 without one, -2 when n is not known
	chain     []int32   // method names between the logger and the call, last first
	generic   bool      // only the name says that it is a logger
}

// receiver resolves what stands before the method name at token i.
func (f *File) receiver(i int32) (held, bool) {
	h := held{verbosity: -1}
	j := i
	for range 64 {
		if !f.dot(j - 1) {
			return h, false
		}
		r := f.beforeDot(j - 1)
		if f.Kind(j-1) == lex.DotDot {
			r = f.cascadeObject(r)
		}
		switch k := f.Kind(r); {
		case k == lex.Ident || k.Role() == lang.Default && f.Kind(r-1) == '.':
			ok := f.namedReceiver(r, &h)
			return h, ok
		case k == ']':
			if open := f.Lex.Partner[r]; open > 0 && f.Kind(open-1) == lex.Ident {
				ok := f.likely(f.Text(open-1), &h)
				return h, ok
			}
			return h, false
		case k == ')':
			open := f.Lex.Partner[r]
			if open <= 0 {
				return h, false
			}
			m := open - 1
			if f.Kind(m) == lex.SafeDot {
				m--
			}
			if f.Kind(m) == '>' {
				if m = f.operandStart(m); m < 0 {
					return h, false
				}
			}
			if f.Kind(m) != lex.Ident {
				return h, false
			}
			done, ok := f.calledReceiver(m, open, &h)
			if done {
				return h, ok
			}
			j = m
		default:
			return h, false
		}
	}
	return h, false
}

// cascadeObject returns the last token of the object of a cascade, from the
// last token before one of its sections.
func (f *File) cascadeObject(r int32) int32 {
	for range maxChain {
		if f.Kind(r) != ')' || f.Lex.Partner[r] <= 0 {
			return r
		}
		m := f.Lex.Partner[r] - 1
		if f.Kind(m) != lex.Ident || f.Kind(m-1) != lex.DotDot {
			return r
		}
		r = f.beforeDot(m - 1)
	}
	return r
}

// calledReceiver looks at the call of m in a receiver. done tells that the
// search ends there.
func (f *File) calledReceiver(m, open int32, h *held) (done, ok bool) {
	name := f.Text(m)
	if libs := f.Cat.Factories(name); libs != nil {
		if lib, certain := f.choose(libs, m, name, func(l *catalog.Library) []string { return l.Factories }); lib != nil && (certain || strings.Contains(strings.ToLower(name), "log")) {
			h.lib, h.certain, h.logger = lib, certain, f.loggerName(m, open)
			return true, true
		}
	}
	if !f.dot(m - 1) {
		return true, f.likely(strings.TrimPrefix(strings.TrimPrefix(name, "get_"), "get"), h)
	}
	if name == "V" && f.Spec.Features.Has(lang.ErrorValues) {
		h.verbosity = -2
		if n, err := strconv.Atoi(f.Text(open + 1)); err == nil && f.Kind(open+2) == ')' {
			h.verbosity = n
		}
	}
	if f.likelyName(strings.TrimPrefix(strings.TrimPrefix(name, "get_"), "get")) && f.Lex.Partner[open] == open+1 {
		return true, f.likely(strings.TrimPrefix(strings.TrimPrefix(name, "get_"), "get"), h)
	}
	h.chain = append(h.chain, m)
	return false, false
}

// namedReceiver resolves a receiver that ends with the name at token r.
func (f *File) namedReceiver(r int32, h *held) bool {
	if f.Is(r, "default") && f.Kind(r-1) == '.' && f.Kind(r-2) == lex.Ident {
		r -= 2 // what a compiler makes of a default import
	}
	name := f.Text(r)
	first := !f.dot(r - 1)
	if bs := f.bindings[f.fold(name)]; len(bs) > 0 {
		h.binding, h.others = bs[0], bs[1:]
	}
	if first {
		for _, lib := range f.modules[name] {
			h.others = append(h.others[:len(h.others):len(h.others)], binding{lib: lib, certain: true})
		}
		if lib := f.Cat.Global(name); lib != nil && f.importOf(name) == nil {
			h.others = append(h.others[:len(h.others):len(h.others)], binding{lib: lib, certain: true})
		}
		imp := f.importOf(name)
		if imp != nil {
			if _, member, ok := strings.Cut(imp.Path, "#"); ok && member != name { // imported under another name
				for _, lib := range f.Cat.Static(member) {
					if lib.Matches(imp.Path) {
						h.others = append(h.others[:len(h.others):len(h.others)], binding{lib: lib, certain: true})
					}
				}
			}
		}
		for _, lib := range f.Cat.Static(name) {
			if imp == nil && f.active[lib] || imp != nil && lib.Matches(imp.Path) || len(lib.Imports) == 0 {
				h.others = append(h.others[:len(h.others):len(h.others)], binding{lib: lib, certain: true})
			}
		}
	} else if f.Kind(r-2) == lex.Ident {
		for _, lib := range f.Cat.Static(name) { // package::Name, A.Name
			if lib.Unique || f.active[lib] {
				h.others = append(h.others[:len(h.others):len(h.others)], binding{lib: lib, certain: true})
			}
		}
		dotted := f.Text(r-2) + "." + name
		if f.Kind(r-3) == '.' && f.Kind(r-4) == lex.Ident {
			dotted = f.Text(r-4) + "." + dotted
		}
		if lib := f.Cat.Global(dotted); lib != nil {
			h.others = append(h.others[:len(h.others):len(h.others)], binding{lib: lib, certain: true})
		}
	}
	if f.Is(r+2, "default") && f.importOf(name) == nil && h.lib == nil { // _winston2.default.info
		bare := strings.Trim(strings.ToLower(name), "_0123456789")
		for i := range f.Cat.Libraries {
			if lib := &f.Cat.Libraries[i]; lib.Name == bare && len(lib.Levels) > 0 {
				h.others = append(h.others[:len(h.others):len(h.others)], binding{lib: lib})
			}
		}
	}
	if h.lib == nil && len(h.others) > 0 {
		h.binding, h.others = h.others[0], h.others[1:]
	}
	if h.lib != nil {
		return true
	}
	if first {
		if imp := f.importOf(name); imp != nil && f.Spec.Features.Has(lang.ReceiverFuncs) {
			return f.likelyName(name) && strings.Contains(imp.Path, "log") && f.likely(name, h)
		}
	}
	return f.likely(name, h)
}

// likely takes a receiver for a logger because of its name.
func (f *File) likely(name string, h *held) bool {
	if !f.likelyName(name) {
		return false
	}
	h.lib, h.certain, h.generic = f.usual(), false, true
	return h.lib != nil
}

// usual is the library that a logger known by its name alone is taken for:
// the only one the file imports, else the language's usual one.
func (f *File) usual() *catalog.Library {
	var only *catalog.Library
	for i := range f.Cat.Libraries {
		lib := &f.Cat.Libraries[i]
		if !f.active[lib] || len(lib.Levels) == 0 || lib.Callable {
			continue
		}
		if only != nil && only.Name != lib.Name {
			only = nil
			break
		}
		if only == nil {
			only = lib
		}
	}
	if only != nil {
		return only
	}
	if f.Cat.Likely.Library == "" {
		return &anyLibrary
	}
	return f.fallback(nil)
}

// anyLibrary stands for a logger of which only the name is known, in a
// language without a usual library.
var anyLibrary = catalog.Library{}

func (f *File) likelyName(name string) bool {
	bare := strings.TrimLeft(name, "_$#@")
	bare = strings.TrimPrefix(strings.TrimPrefix(bare, "m_"), "s_")
	if f.Spec.Features.Has(lang.CaseFold | lang.BeginEnd) {
		bare = strings.TrimPrefix(bare, "F")
	}
	lower := strings.ToLower(bare)
	if contains(f.Cat.Likely.Names, lower) {
		return true
	}
	for _, s := range f.Cat.Likely.Suffixes {
		if len(bare) > len(s) && strings.HasSuffix(bare, s) {
			return true
		}
	}
	return false
}
