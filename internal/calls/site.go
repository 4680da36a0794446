package calls

import (
	"bytes"
	"slices"
	"strings"

	"reed/internal/catalog"
	"reed/internal/lang"
	"reed/internal/lex"
	"reed/internal/model"
	"reed/internal/outline"
	"reed/internal/secret"
)

// site decides whether a call expression is a logging call or a print and,
// if so, records it.
func (f *File) site(c outline.Call) {
	sig, h, ok := f.resolve(c)
	var wrapper *Wrapper
	if !ok || h.generic {
		own, w := f.wrapped(c, f.fold(f.Text(c.Name)))
		switch {
		case own != nil:
			sig, wrapper = own, w
			h = held{verbosity: -1}
			h.certain = true
		case !ok:
			return
		}
	}
	s := Site{Sig: sig, Scope: c.Scope, Name: c.Name, Open: c.Open, Close: c.Name, First: c.Name, MessageAt: -1, Style: sig.Style}
	if c.Open < 0 && c.From == c.To && c.To > 0 && (sig.Method == nil || !sig.Method.Leaf) {
		return
	}
	s.Kind = model.KindLog
	if sig.Print() != "" {
		s.Kind = model.KindPrint
	}
	s.Through = wrapper
	s.Method = f.Text(c.Name)
	if f.Kind(c.Name) != lex.Ident && !f.Kind(c.Name).IsKeyword() { // what the bracket gives
		s.Method = oneLine(f.Src.Text[f.Lex.Tokens[f.Lex.Partner[c.Name]].Start:f.Lex.Tokens[c.Name].End])
	}
	s.Library, s.Logger, s.Confidence = sig.Lib.Name, h.logger, confidence(h.certain)
	if h.generic && !f.active[sig.Lib] {
		s.Library = ""
	}
	s.Bound = h.context
	s.setLevel(sig.LevelName, sig.Severity)
	if c.Open >= 0 || c.To > 0 {
		if c.Open >= 0 {
			s.Close = max(f.Lex.Partner[c.Open], c.Open)
		} else if c.To > c.From {
			s.Close = c.To - 1
		}
		s.First = f.chainStart(c.Name)
		if k := f.Kind(c.Name); k == ']' || k == ')' {
			s.First = max(f.operandStart(c.Name), 0)
			if f.dot(s.First - 1) {
				s.First = f.chainStart(s.First)
			}
			if open := f.Lex.Partner[c.Name]; k == ']' && s.First < open {
				s.Receiver = oneLine(f.Src.Text[f.Lex.Tokens[s.First].Start:f.Lex.Tokens[open-1].End])
			}
		}
		if f.dot(c.Name-1) && s.First <= c.Name-2 {
			s.Receiver = oneLine(f.Src.Text[f.Lex.Tokens[s.First].Start:f.Lex.Tokens[c.Name-2].End])
		}
		switch {
		case c.Block:
			s.Args, s.Lazy = f.blockText(c.From, c.To), true
			s.Close = c.To
		case c.Open < 0 && f.Spec.Features.Has(lang.Commands):
			s.Args = f.commandArgs(c.From, c.To)
		case c.Open < 0:
			s.Args = f.argumentsIn(c.From, c.To)
		case f.Kind(c.Open) == '{' && !f.Spec.Features.Has(lang.Macros):
			s.Args, s.Lazy = f.blockArgument(c.Open), true
		default:
			s.Args = f.arguments(c.Open)
			if f.Kind(s.Close+1) == '{' && sig.Lib.Lazy && f.trailingBlock(s.Close+1) && (len(s.Args) == 0 || len(s.Args) == 1 && !f.hasString(s.Args[0])) { // error(e) { text }
				s.Args, s.Lazy = append(s.Args, f.blockArgument(s.Close+1)...), true
				s.Close = f.Lex.Partner[s.Close+1]
			}
		}
	}
	if f.Spec.Features.Has(lang.BeginEnd) {
		if !f.pascalArgs(&s) {
			return
		}
	}
	if sig.Lib.Stream {
		if !f.stream(&s) {
			return
		}
	} else if f.Kind(c.Name+1) == lex.ShiftLeft && c.Open < 0 && f.Spec.Features.Has(lang.Streams) {
		return
	}
	fluent := sig.Fluent()
	if fluent && !f.fluentHead(&s, &h) {
		return
	}
	f.chainContext(&s, &h)
	if sig.Lib.Callable && sig.Print() == "" && s.Receiver == "" {
		s.Library = sig.Lib.Name
	}
	if !f.acceptable(&s, &h) {
		return
	}
	f.levelArgument(&s, &h)
	if s.Confidence == model.Likely && s.Level == model.NoLevel && s.Kind == model.KindLog && sig.LevelAt < 0 && h.verbosity == -1 && !fluent && f.Kind(c.Name) == lex.Ident && f.kept[s.Method] == nil && wrapper == nil {
		return
	}
	f.describe(&s)
	if s.Kind == model.KindPrint && f.Spec.Features.Has(lang.Islands) && f.markup(&s) {
		return
	}
	f.place(&s)
	f.Sites = append(f.Sites, s)
}

// fold writes a name as the catalog does: in small letters where case does
// not matter.
func (f *File) fold(name string) string {
	if f.Spec.Features.Has(lang.CaseFold) {
		return strings.ToLower(name)
	}
	return name
}

// markup tells whether an echo is part of a page: it writes tags, or stands
// in a file that has markup of its own.
func (f *File) markup(s *Site) bool {
	if name := strings.ToLower(s.Method); name != "echo" && name != "print" && name != "printf" {
		return false
	}
	if strings.ContainsAny(s.Message, "<>") {
		return true
	}
	for _, c := range f.Lex.Comments {
		if t := f.Src.Text[c.Start:c.End]; len(t) > 6 && t[0] != '/' && t[0] != '#' && bytes.HasSuffix(bytes.ToLower(t[max(0, len(t)-5):]), []byte("php")) && bytes.IndexByte(t, '<') < len(t)-5 || len(t) > 6 && t[0] == '<' && t[1] != '?' {
			return true
		}
	}
	return false
}

// resolve finds the signature of a call, if it is one of the catalog's.
func (f *File) resolve(c outline.Call) (*catalog.Sig, held, bool) {
	if k := f.Kind(c.Name); k == ']' || k == ')' {
		return f.computed(c)
	}
	name := f.fold(f.Text(c.Name))
	if !f.dot(c.Name - 1) {
		return f.bare(c, name)
	}
	h, ok := f.receiver(c.Name)
	if !ok && f.Spec.Features.Has(lang.ErrorValues) {
		if sig := f.formatMethod(c, name); sig != nil {
			return sig, held{verbosity: -1, generic: true}, true
		}
	}
	if !ok {
		for _, sig := range f.Cat.Sigs(name) {
			if sig.Method.Plain {
				return sig, held{binding: binding{certain: f.errorLike(c.Name-2, c.Name-1, c.Scope)}, verbosity: -1}, true
			}
		}
		return nil, h, false
	}
	for _, b := range append([]binding{h.binding}, h.others...) {
		sig := f.signature(b.lib, name, &h)
		if sig == nil {
			continue
		}
		h.binding = b
		return sig, h, true
	}
	if h.generic || !h.certain {
		if sig := f.anySignature(name); sig != nil {
			h.generic, h.certain = true, false
			return sig, h, true
		}
	}
	return nil, h, false
}

// signature finds a method of a library or of another entry of the same
// library; a fluent tail counts when its chain has a head.
func (f *File) signature(lib *catalog.Library, name string, h *held) *catalog.Sig {
	if lib == nil {
		return nil
	}
	if lib.Fluent != nil && contains(lib.Fluent.Tails, name) {
		for _, m := range h.chain {
			if _, ok := lib.Fluent.Heads[f.Text(m)]; ok || contains(lib.Fluent.LevelHead, f.Text(m)) {
				sig := &catalog.Sig{Lib: lib, Name: name, Style: lib.Fluent.Style, Values: catalog.Rest, LevelAt: -1, Cause: lib.Cause}
				if contains(lib.Fluent.Formats, name) {
					sig.Style = catalog.Percent
				}
				return sig
			}
		}
	}
	if !f.plainChain(lib, h) {
		return nil
	}
	if sig := f.Cat.Sig(lib, name); sig != nil {
		return sig
	}
	for _, sig := range f.Cat.Sigs(name) {
		if lib.Name != "" && sig.Lib.Name == lib.Name {
			return sig
		}
	}
	return nil
}

// plainChain tells whether everything between the logger and the call gives a
// logger again.
func (f *File) plainChain(lib *catalog.Library, h *held) bool {
	for _, m := range h.chain {
		name := f.Text(m)
		if !contains(lib.Chain, name) && !contains(lib.Bind, name) && !(lib.Name == "" && f.Cat.Chained(name) != nil) {
			same := false
			for _, other := range f.Cat.Chained(name) {
				same = same || other.Name == lib.Name
			}
			for _, other := range f.Cat.Factories(name) {
				same = same || other.Name == lib.Name
			}
			if !same {
				return false
			}
		}
	}
	return true
}

// anySignature describes a method of a logger of which only the name is
// known: the first library in the catalog whose method has a level tells it.
func (f *File) anySignature(name string) *catalog.Sig {
	for _, sig := range f.Cat.Sigs(name) {
		if sig.Print() == "" && !sig.Lib.Callable && (sig.Severity > 0 || sig.LevelAt >= 0) {
			s := *sig
			s.Lib = &anyLibrary
			if f.Spec.Features.Has(lang.ErrorValues) && sig.Style == catalog.NoStyle {
				s.Values = catalog.Joined
			}
			return &s
		}
	}
	return nil
}

// bare resolves a call without a receiver.
func (f *File) bare(c outline.Call, name string) (*catalog.Sig, held, bool) {
	h := held{verbosity: -1}
	h.certain = true
	if len(f.kept[name]) > 0 {
		if sig, who, ok := f.keptSig(name); ok {
			return sig, who, true
		}
	}
	for _, b := range f.bindings[f.fold(name)] {
		if b.lib.Callable {
			h.binding = b
			sig := f.Cat.Sig(b.lib, "debug")
			return sig, h, sig != nil
		}
	}
	if sig, certain := f.plainSig(c, name); sig != nil {
		h.certain = certain
		return sig, h, true
	}
	imp := f.importOf(name)
	if imp != nil {
		module, member, found := strings.Cut(imp.Path, "#")
		for _, sig := range f.Cat.Sigs(member) {
			if found && sig.Lib.Matches(module) && (sig.Lib.Module || sig.Lib.Bare) {
				return sig, h, true
			}
		}
		for _, sig := range f.Cat.Sigs(name) { // another module's print is a print
			if sig.Lib.Bare && sig.Print() == "print" && f.Spec.Features.Has(lang.IndentBlocks) {
				h.certain = false
				return sig, h, true
			}
		}
		return nil, h, false
	}
	if f.funcs[name] || f.Kind(c.Name-1).Role() == lang.New || f.Spec.Features.Has(lang.Macros) {
		return nil, h, false
	}
	for _, sig := range f.Cat.Sigs(name) {
		if sig.Lib.Bare && len(sig.Lib.Imports) == 0 {
			return sig, h, true
		}
	}
	return nil, h, false
}

// plainSig resolves a call without a receiver in languages whose libraries
// offer functions and macros: by an import of that very name, by the library
// that the file includes, else by a name that only one library has.
func (f *File) plainSig(c outline.Call, name string) (*catalog.Sig, bool) {
	ft := f.Spec.Features
	if ft&(lang.Macros|lang.Directives|lang.Islands|lang.BeginEnd|lang.Commands|lang.RubyWords|lang.Cascades) == 0 && !(ft.Has(lang.KeywordFuncs)) {
		return nil, false
	}
	if ft.Has(lang.Macros) != (f.Kind(c.Name+1) == '!') {
		return nil, false
	}
	if f.funcs[name] && !ft.Has(lang.Macros) {
		return nil, false
	}
	sigs := f.Cat.Sigs(name)
	if imp := f.importOf(name); imp != nil && !(ft.Has(lang.Islands) && strings.TrimPrefix(imp.Path, "function ") == name) { // use function error_log
		for _, sig := range sigs {
			if sig.Lib.Bare && sig.Lib.Matches(imp.Path) {
				return sig, true
			}
		}
		return nil, false
	}
	var first *catalog.Sig
	for _, sig := range sigs {
		if !sig.Lib.Bare {
			continue
		}
		if len(sig.Lib.Imports) == 0 || f.active[sig.Lib] {
			return sig, true
		}
		if first == nil && sig.Lib.Unique {
			first = sig
		}
	}
	if first != nil {
		return first, false
	}
	return nil, false
}

// fluentHead reads the level from the head of a chain, fields, values, cause
// and message from its middle. It reports whether there is a head.
func (f *File) fluentHead(s *Site, h *held) bool {
	fl := s.Sig.Lib.Fluent
	found := false
	for _, m := range slices.Backward(h.chain) {
		name := f.Text(m)
		level, isHead := fl.Heads[name]
		open := f.openOf(m)
		switch {
		case isHead && !found:
			found = true
			s.setLevel(level, s.Sig.Lib.Levels[level])
			if contains(fl.Causes, name) {
				s.Cause = true
			}
		case contains(fl.LevelHead, name) && !found:
			found = true
			if a := f.arguments(open); len(a) > 0 {
				f.setLevelFrom(s, a[len(a)-1])
			}
		case contains(fl.Fields, name):
			f.fieldCall(s, open)
		case contains(fl.Causes, name):
			s.Cause = true
		case contains(fl.Values, name):
			for _, a := range f.arguments(open) {
				s.Values = append(s.Values, Value{From: a.From, To: a.To, Rest: true})
			}
		case contains(fl.Message, name):
			if a := f.arguments(open); len(a) > 0 && len(s.Args) == 0 {
				s.Args = a
			}
		}
	}
	return found
}

// openOf returns the bracket that opens the arguments of the method at m.
func (f *File) openOf(m int32) int32 {
	switch f.Kind(m + 1) {
	case lex.SafeDot:
		return m + 2
	case '<':
		return f.genericsEnd(m + 1)
	}
	return m + 1
}

// fieldCall reads the field that a call such as Str("gauge", id) makes.
func (f *File) fieldCall(s *Site, open int32) {
	a := f.arguments(open)
	if len(a) == 0 {
		return
	}
	name := ""
	if f.Kind(a[0].From) == lex.String && a[0].To == a[0].From+1 {
		name = lex.Unquote(f.Bytes(a[0].From))
	}
	if len(a) == 1 {
		s.Values = append(s.Values, Value{From: a[0].From, To: a[0].To, Field: name})
		return
	}
	s.Values = append(s.Values, Value{From: a[1].From, To: a[len(a)-1].To, Field: name})
}

// chainContext reads what the calls between a logger and the method add: the
// fields of a bound logger, an error, a verbosity.
func (f *File) chainContext(s *Site, h *held) {
	for _, m := range slices.Backward(h.chain) {
		name := f.Text(m)
		if name == "WithError" || name == "opt" && f.hasTrueKey(f.openOf(m), "exception") {
			s.Cause = true
		}
		if contains(s.Sig.Lib.Bind, name) {
			s.Bound = true
			for _, a := range f.arguments(f.openOf(m)) {
				if a.Key >= 0 {
					s.Fields = append(s.Fields, f.Text(a.Key))
				} else if f.Kind(a.From) == lex.String && a.To == a.From+1 {
					s.Fields = append(s.Fields, lex.Unquote(f.Bytes(a.From)))
				} else if f.Kind(a.To-1) == '}' {
					f.objectFields(s, f.Lex.Partner[a.To-1], false)
				}
			}
		}
	}
	if h.verbosity >= 0 && s.Level == model.Info {
		switch {
		case h.verbosity >= 5:
			s.setLevel("V", 1)
		case h.verbosity >= 2:
			s.setLevel("V", 5)
		}
	} else if h.verbosity == -2 {
		s.setLevel("", 0)
	}
}

func (f *File) hasTrueKey(open int32, key string) bool {
	for _, a := range f.arguments(open) {
		if a.Key >= 0 && f.Is(a.Key, key) && !f.Is(a.From, "False") && !f.Is(a.From, "None") {
			return true
		}
	}
	return false
}

// acceptable turns away calls that only look like logging.
func (f *File) acceptable(s *Site, h *held) bool {
	if s.Open < 0 {
		return true
	}
	if len(s.Args) == 0 && s.Confidence == model.Likely && s.Sig.Method != nil && !s.Sig.Method.Plain {
		return false
	}
	if s.Sig.Lib.Fluent != nil && len(s.Args) == 0 && s.Sig.Method != nil && f.Kind(s.Close+1) == '.' {
		return false
	}
	if m := s.Sig.Method; m != nil && m.Plain && len(s.Args) > 0 && !strings.HasPrefix(f.Source(s.Args[0].From, s.Args[0].To), "System.") {
		return false // a stack trace for somebody else
	}
	if s.Sig.Print() != "" {
		for _, a := range s.Args {
			if a.Key >= 0 && (f.Is(a.Key, "file") || f.Is(a.Key, "stream")) && !strings.HasPrefix(f.Source(a.From, a.To), "sys.") {
				return false // into a file
			}
		}
	}
	if s.Sig.Lib.Name == "pprint" && len(s.Args) > 1 && s.Args[1].Key < 0 {
		return false // pprint(object, stream)
	}
	if f.Spec.Features.Has(lang.Directives) && strings.HasSuffix(s.Method, "fprintf") && len(s.Args) > 0 { // into a file of its own
		if to := f.Text(s.Args[0].To - 1); to != "stderr" && to != "stdout" {
			return false
		}
	}
	if s.Sig.Lib.Name == "jul" && s.Method == "config" && len(s.Args) == 0 {
		return false
	}
	return true
}

// place fills in where the call stands.
func (f *File) place(s *Site) {
	toks := f.Lex.Tokens
	s.File, s.Language = f.Src.Path, f.Spec.Name
	s.Line, s.Column = f.Src.Position(toks[s.First].Start)
	s.EndLine = f.Src.Line(toks[s.Close].End - 1)
	s.MethodLine = f.Src.Line(toks[s.Name].Start)
	s.Function, s.Type = f.names(s.Scope)
	inFunc := true
	for at := s.Scope; at > 0; at = f.Out.Scopes[at].Parent {
		switch f.Out.Scopes[at].Kind {
		case outline.Failure:
			s.FailurePath = s.FailurePath || inFunc
		case outline.Loop:
			s.Loop = s.Loop || inFunc
		case outline.Guard:
			s.Guarded = s.Guarded || inFunc
		case outline.Func:
			inFunc = false
		case outline.Type:
			if f.Out.Scopes[at].Traits&outline.Anonymous == 0 {
				inFunc = false
			}
		}
	}
	if s.Through != nil {
		s.Wrapper = s.Through.Place()
	}
	s.Message = secret.Mask(s.Message)
	if s.Logger == "__name__" {
		s.Logger = f.Unit
	}
	for _, v := range s.Values {
		if v.Field != "" && !contains(s.Fields, v.Field) {
			s.Fields = append(s.Fields, v.Field)
		}
		if !f.isCause(s, v) && !f.elementLanguage() {
			s.Arguments = append(s.Arguments, secret.Mask(cut(f.Source(v.From, v.To), 200)))
		}
	}
	if s.Arguments == nil {
		s.Arguments = []string{}
	}
	if s.Fields == nil {
		s.Fields = []string{}
	}
}

// isCause tells whether a value is the error itself and was counted as the
// cause.
func (f *File) isCause(s *Site, v Value) bool {
	return s.Cause && f.errorLike(v.From, v.To, s.Scope) && (v.Field != "" || s.Sig.HasCause("text") || s.Sig.HasCause("any"))
}
