package calls

import (
	"strings"

	"reed/internal/catalog"
	"reed/internal/lang"
	"reed/internal/lex"
	"reed/internal/outline"
)

// Logging functions that are not called by their names: kept in a variable,
// picked by a condition, looked up by a name or a level.

// keep finds variables that hold a method of something, as in
// "warn = log.warning" and "const { info } = log".
func (f *File) keep() {
	for i := range f.Lex.Tokens {
		at := int32(i)
		if f.Lex.Tokens[i].Kind == '}' && f.Kind(at+1) == '=' && f.Kind(at+2) == lex.Ident && f.Lex.Partner[i] > 0 {
			f.keepParts(at)
			continue
		}
		if f.Lex.Tokens[i].Kind != '.' || f.Kind(at+1) != lex.Ident {
			continue
		}
		at++
		if k := f.Kind(at + 1); k == '(' || k == '=' || k == lex.OpAssign || k == '[' || k == '.' && !f.Is(at+2, "bind") || !f.Cat.Candidate(f.Bytes(at)) {
			continue
		}
		start := at
		for f.Kind(start-1) == '.' && (f.Kind(start-2) == lex.Ident || f.Kind(start-2).Role() == lang.Self) {
			start -= 2
		}
		j := start - 1
		for n := 0; n < 24 && j > 0 && f.Kind(j) != '=' && f.Lex.Tokens[j].Flags&lex.LineStart == 0; n++ { // a if b else c, b ? a : c
			if k := f.Kind(j); k == ';' || k == '{' || k == ',' || k == '(' || k == lex.Arrow {
				break
			}
			j--
		}
		if f.Kind(j) != '=' || f.Kind(j-1) != lex.Ident || f.Kind(j-2) == '.' || j-1 > 0 && f.Kind(j-2) == ',' {
			continue
		}
		name := f.Text(j - 1)
		if len(f.kept[name]) < 8 {
			f.kept[name] = append(f.kept[name], at)
		}
	}
}

// keepParts notes "const { info, error: fail } = log", whose closing brace is
// token i, under the names that the parts get.
func (f *File) keepParts(i int32) {
	for j := f.Lex.Partner[i] + 1; j < i; j++ {
		if f.Kind(j) != lex.Ident || !f.Cat.Candidate(f.Bytes(j)) {
			continue
		}
		if k := f.Kind(j - 1); k != '{' && k != ',' {
			continue
		}
		name := f.Text(j)
		if f.Kind(j+1) == ':' && f.Kind(j+2) == lex.Ident {
			name = f.Text(j + 2)
		}
		if k := f.Kind(j + 1); (k == ',' || k == '}' || k == ':') && len(f.kept[name]) < 8 {
			f.kept[name] = append(f.kept[name], j)
		}
	}
}

// keptSig resolves a call to a variable that holds a logging method. When it
// may hold one of several, the level is decided at run time.
func (f *File) keptSig(name string) (*catalog.Sig, held, bool) {
	var sig *catalog.Sig
	var h held
	for _, at := range f.kept[name] {
		if f.Kind(at-1) != '.' { // a part taken out of the object behind "} ="
			one, who, ok := f.partSig(at)
			if ok {
				sig, h = f.orElse(sig, one), who
			}
			continue
		}
		one, who, ok := f.resolve(outline.Call{Name: at, Open: -1})
		if !ok || one.Fluent() || who.generic && !f.likelyReceiver(at) {
			continue
		}
		sig, h = f.orElse(sig, one), who
	}
	return sig, h, sig != nil
}

// partSig resolves the method at token i of a pattern in braces.
func (f *File) partSig(i int32) (*catalog.Sig, held, bool) {
	end := i
	for f.Kind(end) != '}' {
		end++
	}
	r := end + 2
	for f.Kind(r+1) == '.' && f.Kind(r+2) == lex.Ident {
		r += 2
	}
	h := held{verbosity: -1}
	if k := f.Kind(r + 1); k == '(' || k == '[' || !f.namedReceiver(r, &h) || h.generic && !f.likelyName(f.Text(r)) {
		return nil, h, false
	}
	name := f.fold(f.Text(i))
	sig := f.signature(h.lib, name, &h)
	if sig == nil && h.generic {
		sig = f.anySignature(name)
	}
	return sig, h, sig != nil
}

// likelyReceiver tells whether the object before the method at token i bears a
// logger's name.
func (f *File) likelyReceiver(i int32) bool {
	r := f.beforeDot(i - 1)
	return f.Kind(r) == lex.Ident && f.likelyName(f.Text(r))
}

// orElse joins two signatures of which one is chosen when the program runs.
func (f *File) orElse(a, b *catalog.Sig) *catalog.Sig {
	if a == nil {
		return b
	}
	if a.Severity == b.Severity {
		return a
	}
	both := *a
	both.LevelName, both.Severity, both.LevelAt = "", 0, -1
	return &both
}

// computed resolves a call of what a bracket gives; the bracket closes at the
// name's token.
func (f *File) computed(c outline.Call) (*catalog.Sig, held, bool) {
	open := f.Lex.Partner[c.Name]
	if open <= 0 {
		return nil, held{}, false
	}
	switch {
	case f.Kind(c.Name) == ']':
		return f.indexed(open-1, open+1, c.Name)
	case f.Is(open-1, "getattr"):
		args := f.arguments(open)
		if len(args) < 2 || f.Kind(args[0].To-1) != lex.Ident {
			return nil, held{}, false
		}
		return f.indexed(args[0].To-1, args[1].From, args[1].To)
	}
	var sig *catalog.Sig
	var h held
	for i := open + 1; i < c.Name; i++ {
		if f.Kind(i) != lex.Ident || f.Kind(i-1) != '.' || f.Kind(i+1) == '(' || !f.Cat.Candidate(f.Bytes(i)) {
			continue
		}
		one, who, ok := f.resolve(outline.Call{Name: i, Open: -1})
		if !ok || one.Fluent() {
			return nil, held{}, false
		}
		sig, h = f.orElse(sig, one), who
	}
	return sig, h, sig != nil
}

// indexed resolves a method of the object that ends with token r, whose name
// the tokens from up to to give.
func (f *File) indexed(r, from, to int32) (*catalog.Sig, held, bool) {
	h := held{verbosity: -1}
	if !f.namedReceiver(r, &h) {
		return nil, h, false
	}
	if to == from+1 && f.Kind(from) == lex.String {
		name := strings.ToLower(lex.Unquote(f.Bytes(from)))
		if sig := f.signature(h.lib, name, &h); sig != nil {
			return sig, h, true
		}
		if sig := f.anySignature(name); sig != nil && h.generic {
			return sig, h, true
		}
		return nil, h, false
	}
	for _, name := range []string{"info", "warn", "error"} { // any level method tells how they are called
		sig := f.signature(h.lib, name, &h)
		if sig == nil && h.generic {
			sig = f.anySignature(name)
		}
		if sig != nil && sig.Print() == "" {
			level := *sig
			level.LevelName, level.Severity, level.LevelAt = "", 0, -1
			return &level, h, true
		}
	}
	return nil, h, false
}

// formatMethods are Go methods that log wherever they are found; Errorf often
// makes an error instead.
var formatMethods = map[string]bool{"Debugf": true, "Infof": true, "Warnf": true, "Warningf": true, "Tracef": true, "Noticef": true}

// formatMethod resolves s.Debugf("…", a) on an object that is no package: a
// server, a client that logs for itself. What else such an object is told,
// s.Errorf("…") or s.Info("…"), is logged as well.
func (f *File) formatMethod(c outline.Call, name string) *catalog.Sig {
	if f.Kind(c.Name-2) != lex.Ident || c.Open < 0 || !f.Kind(c.Open+1).IsString() {
		return nil
	}
	object := f.Text(c.Name - 2)
	if f.importOf(object) != nil {
		return nil
	}
	switch object {
	case "t", "tb", "b", "f", "fmt", "errors", "xerrors", "errs", "status", "pass", "p", "fd", "resp":
		return nil
	}
	if !formatMethods[name] {
		k := f.Kind(f.chainStart(c.Name) - 1)
		if k.Role() == lang.Return || k == '=' || k == lex.Declare || k == ',' || k == '(' || !f.talks(object) {
			return nil
		}
	}
	return f.anySignature(name)
}

// talks tells whether the file calls a format method on the object.
func (f *File) talks(object string) bool {
	if f.talkers == nil {
		f.talkers = map[string]bool{}
		for _, c := range f.Out.Calls {
			if f.Kind(c.Name-1) == '.' && f.Kind(c.Name-2) == lex.Ident && formatMethods[f.Text(c.Name)] {
				f.talkers[f.Text(c.Name-2)] = true
			}
		}
	}
	return f.talkers[object]
}

// constantText returns the text of a constant of this file that stands for a
// message: MESSAGE, Texts.LATE, self.LATE.
func (f *File) constantText(from, to int32) (built, bool) {
	name := f.Bytes(to - 1)
	if f.Kind(to-1) != lex.Ident || !isUpper(string(name)) || len(name) < 3 || to-from > 5 || to > from+1 && !f.dot(to-2) {
		return built{}, false
	}
	if f.constants == nil {
		f.findConstants()
	}
	i, ok := f.constants[string(name)]
	if !ok || i == 0 {
		return built{}, false
	}
	end := i + 1
	for f.Kind(end).IsString() && f.Spec.Features.Has(lang.JoinedStrings) {
		end++
	}
	return f.strings(i, end)
}

// findConstants notes where constants get their texts; one that gets several
// is none.
func (f *File) findConstants() {
	f.constants = map[string]int32{}
	for i := range f.Lex.Tokens {
		at := int32(i)
		if f.Lex.Tokens[i].Kind != '=' || f.Kind(at+1) != lex.String || f.Kind(at-1) != lex.Ident || f.dot(at-2) || !isUpper(f.Text(at-1)) {
			continue
		}
		if k := f.Kind(at + 2); k == '+' || k == '.' || k == '%' {
			continue
		}
		name := f.Text(at - 1)
		if _, twice := f.constants[name]; twice {
			f.constants[name] = 0
			continue
		}
		f.constants[name] = at + 1
	}
}
