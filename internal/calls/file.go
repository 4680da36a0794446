// Package calls joins the outline of a file with the catalog of logging
// libraries: which call expression is a logging call or a print, at which
// level, and how its message is built.
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
	"reed/internal/source"
)

// File is one file while it is analysed: its text, tokens, outline and the
// calls found in it. All memory is reused by the next Read.
type File struct {
	Spec  *lang.Spec
	Cat   *catalog.Language
	Src   *source.File
	Unit  string // dotted name of the file as a module of its language, for loggers named after it
	Lex   lex.Result
	Out   outline.Outline
	Sites []Site
	// Wrappers are the functions of the tree that log for their callers; nil
	// while they are still looked for.
	Wrappers *Wrappers
	Collect  bool  // remember the names that the file calls
	More     int32 // token of the first call beyond those that are kept, -1 when all are

	locals    map[string][]int32 // import index by local name
	bindings  map[string][]binding
	active    map[*catalog.Library]bool
	modules   map[string][]*catalog.Library
	constants map[string]int32   // tokens of the texts of constants; nil until somebody asks
	talkers   map[string]bool    // objects that take format calls; nil until somebody asks
	kept      map[string][]int32 // tokens of the methods that a variable holds
	funcs     map[string]bool    // functions that the file itself declares
	tries     map[int32]int32    // try blocks by the token behind them
}

// Site is one logging call or print with what the rules need to judge it.
// First to Close are tokens of the call expression; Close is its last token.
type Site struct {
	model.Call
	Sig       *catalog.Sig
	Scope     int32
	First     int32
	Name      int32
	Open      int32
	Close     int32
	Args      []Arg
	MessageAt int // argument that is the message, -1 when there is none
	Values    []Value
	Holes     []string // placeholders of the message: names, numbers, or "" each
	Style     catalog.Style
	Bound     bool     // the logger carries context of its own
	HasText   bool     // some fixed text stands in the message
	Through   *Wrapper // the function called, when it is one of the tree's own
	Inside    bool     // the call stands in a wrapper and says what callers say
	Streamed  bool     // the message is a << chain, the last argument
	Judged    bool     // the shape may be held against the call: the library takes templates
}

// Arg is one argument: tokens From to To, Key the token of its keyword or -1.
type Arg struct {
	From, To, Key int32
	Spread        bool
}

// Value is one value that goes into the event.
type Value struct {
	From, To int32
	Field    string // the field that carries it, "" for a placeholder
	Rest     bool   // it fills a placeholder
}

// maxCalls bounds the calls that are kept of one file; a call takes about a
// thousand bytes, and a file that holds more was written by a program.
const maxCalls = 200_000

// Read scans f.Src and finds its calls. Spec, Cat and Src must be set.
func (f *File) Read() {
	if f.locals == nil {
		f.kept = map[string][]int32{}
		f.locals, f.bindings = map[string][]int32{}, map[string][]binding{}
		f.active, f.modules, f.funcs = map[*catalog.Library]bool{}, map[string][]*catalog.Library{}, map[string]bool{}
	}
	lex.Scan(lex.TableFor(f.Spec), f.Src.Text, &f.Lex)
	names := outline.Names{Candidate: f.Cat.Candidate, LevelTest: f.Cat.LevelTest}
	if f.Spec.Features.Has(lang.CaseFold) {
		names = outline.Names{Candidate: f.Cat.CandidateFold, LevelTest: f.Cat.LevelTestFold}
	}
	if f.Collect {
		names.Hash = NameHash
		if f.Spec.Features.Has(lang.CaseFold) {
			names.Hash = func(name []byte) uint32 { return NameHash(bytes.ToLower(name)) }
		}
	}
	if own := f.Wrappers; own != nil {
		known := names.Candidate
		names.Candidate = func(name []byte) bool {
			if known(name) {
				return true
			}
			if f.Spec.Features.Has(lang.CaseFold) {
				name = bytes.ToLower(name)
			}
			return own.byName[string(name)] != nil
		}
	}
	clear(f.kept)
	f.constants, f.talkers = nil, nil
	if f.Spec.Features&(lang.IndentBlocks|lang.ErrorFirst) != 0 {
		f.keep()
		if len(f.kept) > 0 {
			known := names.Candidate
			names.Candidate = func(name []byte) bool { return known(name) || f.kept[string(name)] != nil }
		}
	}
	outline.Build(f.Spec, f.Src.Text, &f.Lex, names, &f.Out)
	f.Sites, f.More = f.Sites[:0], -1
	if len(f.Out.Calls) == 0 {
		return
	}
	f.bind()
	for _, c := range f.Out.Calls {
		if len(f.Sites) == maxCalls {
			f.More = c.Name
			break
		}
		if f.elementLanguage() {
			f.element(c)
			continue
		}
		f.site(c)
	}
	slices.SortStableFunc(f.Sites, func(a, b Site) int { return int(f.Lex.Tokens[a.First].Start) - int(f.Lex.Tokens[b.First].Start) })
}

// Kind returns the kind of token i, None outside the file.
func (f *File) Kind(i int32) lex.Kind {
	if i < 0 || int(i) >= len(f.Lex.Tokens) {
		return lex.None
	}
	return f.Lex.Tokens[i].Kind
}

// Bytes returns the text of token i, nil outside the file.
func (f *File) Bytes(i int32) []byte {
	if i < 0 || int(i) >= len(f.Lex.Tokens) {
		return nil
	}
	t := f.Lex.Tokens[i]
	return f.Src.Text[t.Start:t.End]
}

// Text returns the text of token i, "" outside the file.
func (f *File) Text(i int32) string { return string(f.Bytes(i)) }

// Is tells whether token i reads word.
func (f *File) Is(i int32, word string) bool { return string(f.Bytes(i)) == word }

// Source returns the source text of tokens from up to but not with to.
func (f *File) Source(from, to int32) string {
	if from >= to {
		return ""
	}
	return string(f.Src.Text[f.Lex.Tokens[from].Start:f.Lex.Tokens[to-1].End])
}

// Skip returns the index behind token i, or behind its partner if it opens a
// bracket or a string.
func (f *File) Skip(i int32) int32 {
	if p := f.Lex.Partner[i]; p > i {
		return p + 1
	}
	return i + 1
}

// Scope returns a scope of the outline.
func (f *File) Scope(at int32) *outline.Scope { return &f.Out.Scopes[at] }

// arguments splits the inside of the bracket at open at its commas.
func (f *File) arguments(open int32) []Arg {
	end := f.Lex.Partner[open]
	if end <= open+1 {
		return nil
	}
	return f.argumentsIn(open+1, end)
}

// argumentsIn splits tokens from up to end at their commas.
func (f *File) argumentsIn(from, end int32) []Arg {
	if end <= from {
		return nil
	}
	var args []Arg
	const equals = lang.IndentBlocks | lang.Macros | lang.TypeSuffix
	const colons = lang.Properties | lang.RubyWords | lang.ErrorTruth | lang.Islands | lang.Cascades | lang.Macros
	add := func(to int32) {
		if to <= from {
			return
		}
		a := Arg{From: from, To: to, Key: -1}
		switch k := f.Kind(from); {
		case k == lex.Ident && f.Kind(from+1) == '=' && f.Spec.Features&equals != 0 && to > from+2,
			(k == lex.Ident || k.IsKeyword()) && f.Kind(from+1) == ':' && f.Kind(from+2) != ':' && f.Spec.Features&colons != 0 && to > from+2:
			a.Key = from
			a.From += 2
		case k == lex.Ellipsis, (k == '*' || k == lex.Power) && f.Spec.Features.Has(lang.IndentBlocks):
			a.Spread = true
		case f.Kind(to-1) == lex.Ellipsis:
			a.Spread = true
		case f.Spec.Features.Has(lang.Macros) && (k == '%' || k == '?') && to > from+1: // a field named after its value
			a.From++
			a.Key = to - 1
		}
		args = append(args, a)
	}
	for i := from; i < end; i = f.Skip(i) {
		if f.Kind(i) == ',' {
			add(i)
			from = i + 1
		}
		if f.Kind(i).Role() == lang.Lambda && f.Spec.Features.Has(lang.IndentBlocks) {
			for i < end && f.Kind(i) != ':' { // a, b of "lambda a, b: …" are no arguments
				i++
			}
		}
	}
	add(end)
	return args
}

// maxChain bounds the walk back over a chain of calls, so that a chain of any
// length is read in time proportional to it.
const maxChain = 200

// chainStart returns the first token of the call expression whose method
// name is token i.
func (f *File) chainStart(i int32) int32 {
	for range maxChain {
		if !f.dot(i - 1) {
			break
		}
		if f.Kind(i-1) == lex.DotDot { // each section of a cascade begins at its own sign
			return i - 1
		}
		j := f.beforeDot(i - 1)
		j = f.operandStart(j)
		if j < 0 {
			break
		}
		i = j
	}
	if f.Kind(i-1).Role() == lang.New {
		i--
	}
	return i
}

// dot tells whether token i stands between an object and its member.
func (f *File) dot(i int32) bool {
	switch f.Kind(i) {
	case '.', lex.SafeDot, lex.Scope:
		return true
	case lex.ThinArrow:
		return f.Spec.Features&(lang.Islands|lang.Directives) != 0
	case lex.DotDot:
		return f.Spec.Features.Has(lang.Cascades)
	}
	return false
}

// beforeDot returns the last token of the object before the dot at token i.
func (f *File) beforeDot(i int32) int32 {
	j := i - 1
	for f.Kind(j) == '!' && f.Spec.Features.Has(lang.TypeSuffix) || f.Kind(j) == '?' && f.Spec.Features.Has(lang.KeywordFuncs) {
		j--
	}
	return j
}

// operandStart returns the first token of the single operand that ends with
// token j: a name, a bracket with what is called or indexed by it, a string.
// It returns -1 when no operand ends there.
func (f *File) operandStart(j int32) int32 {
	for range maxChain {
		switch k := f.Kind(j); {
		case k == lex.Ident || k == lex.String || k == lex.Number || k == lex.Regex || k == lex.CharString || k.IsKeyword() && (k.Role() == lang.Self || k.Role() == lang.Literal || k.Role() == lang.Default || k.Role() == lang.Word):
			return j
		case k == ')' || k == ']' || k == lex.StringEnd || k == '}':
			open := f.Lex.Partner[j]
			if open < 0 {
				return -1
			}
			if k == lex.StringEnd || k == '}' {
				return open
			}
			if f.Spec.Features.Has(lang.IndentBlocks) && f.Lex.Tokens[open].Flags&lex.LineStart != 0 {
				return open
			}
			before := f.Kind(open - 1)
			if before == lex.SafeDot || before == '!' && f.Spec.Features.Has(lang.Macros) {
				open--
				before = f.Kind(open - 1)
			}
			if before == lex.Ident || before == ')' && k == '(' || before == ']' || before == '>' && k == ')' || before == ')' || before.Role() == lang.Self {
				if before == ')' && f.castBefore(open-1) {
					return open
				}
				j = open - 1
				continue
			}
			return open
		case k == '>':
			depth := 0
			i := j
			for n := 0; i >= 0 && n < 60; i, n = i-1, n+1 {
				if f.Kind(i) == '>' {
					depth++
				} else if f.Kind(i) == '<' {
					if depth--; depth == 0 {
						break
					}
				}
			}
			if depth != 0 || f.Kind(i-1) != lex.Ident {
				return -1
			}
			return i - 1
		default:
			return -1
		}
	}
	return -1
}

// castBefore reports whether the closing bracket at j ends a cast or the
// condition of a control statement rather than an operand.
func (f *File) castBefore(j int32) bool {
	open := f.Lex.Partner[j]
	if open < 0 {
		return true
	}
	switch f.Kind(open - 1).Role() {
	case lang.If, lang.While, lang.For, lang.With, lang.Switch, lang.Catch:
		return true
	}
	return false
}

// importOf returns the import that gives name its meaning in this file, nil
// when none does.
func (f *File) importOf(name string) *outline.Import {
	if at := f.locals[name]; len(at) > 0 {
		return &f.Out.Imports[at[0]]
	}
	return nil
}

// Imported tells whether a name is that of an import of this file.
func (f *File) Imported(name string) bool { return f.importOf(name) != nil }

// names returns the function and type that enclose a scope.
func (f *File) names(scope int32) (function, typ string) {
	at := scope
	for ; at > 0; at = f.Out.Scopes[at].Parent {
		s := &f.Out.Scopes[at]
		if s.Kind != outline.Func {
			if s.Kind == outline.Type && s.Traits&outline.Anonymous == 0 {
				break
			}
			continue
		}
		if s.Name >= 0 && function == "" {
			function = f.nameText(s.Name)
			if s.Traits&outline.Selector != 0 {
				function = f.selector(s)
			}
		}
		if s.Recv > 0 {
			typ = f.Text(s.Recv)
		}
		if function != "" {
			break
		}
	}
	for ; at > 0 && typ == ""; at = f.Out.Scopes[at].Parent {
		if s := &f.Out.Scopes[at]; s.Kind == outline.Type && s.Name >= 0 {
			typ = f.Text(s.Name)
		}
	}
	return function, typ
}

// selector writes the whole name of a method: callWarden:of:.
func (f *File) selector(s *outline.Scope) string {
	name := ""
	for i := s.ParamsFrom; i < s.ParamsTo; i = f.Skip(i) {
		if f.Kind(i) == ':' {
			if before := f.Kind(i - 1); before == lex.Ident || before.IsKeyword() {
				name += f.Text(i - 1)
			}
			name += ":"
		}
	}
	if name == "" {
		return f.Text(s.Name)
	}
	return name
}

// FunctionName returns the name of the function that encloses a scope.
func (f *File) FunctionName(scope int32) string {
	name, _ := f.names(scope)
	return name
}

func (f *File) nameText(i int32) string {
	if f.Kind(i) == lex.String {
		return lex.Unquote(f.Bytes(i))
	}
	if f.Kind(i-1) == '~' && f.Spec.Features.Has(lang.Directives) {
		return "~" + f.Text(i)
	}
	if f.Kind(i+1) == '=' && f.Spec.Features.Has(lang.RubyWords) && f.Lex.Tokens[i+1].Start == f.Lex.Tokens[i].End {
		return f.Text(i) + "=" // def height=(metres)
	}
	return f.Text(i)
}

// FailureScope returns the failure path that a scope lies in, within the same
// function, or -1.
func (f *File) FailureScope(scope int32) int32 {
	for at := scope; at > 0; at = f.Out.Scopes[at].Parent {
		switch f.Out.Scopes[at].Kind {
		case outline.Failure:
			return at
		case outline.Func, outline.Type:
			return -1
		}
	}
	return -1
}

// ErrorNames returns the variables that hold the errors of the failure paths
// around a scope, innermost first.
func (f *File) ErrorNames(scope int32) []string {
	var names []string
	for at := scope; at > 0; at = f.Out.Scopes[at].Parent {
		s := &f.Out.Scopes[at]
		if s.Kind == outline.Failure && s.Name >= 0 {
			names = append(names, f.Text(s.Name))
		}
		if s.Kind == outline.Type && s.Traits&outline.Anonymous == 0 {
			break
		}
	}
	return names
}

// lastWord returns the last name of a dotted path.
func lastWord(s string) string {
	return s[strings.LastIndexAny(s, ".#/:\\")+1:]
}

// oneLine folds white space, so that source over several lines reads as one.
func oneLine(b []byte) string { return strings.Join(strings.Fields(string(b)), " ") }

// cut shortens s to at most n bytes at a character boundary.
func cut(s string, n int) string {
	if len(s) <= n {
		return s
	}
	for n > 0 && s[n]&0xC0 == 0x80 {
		n--
	}
	return s[:n]
}

func contains(list []string, s string) bool { return slices.Contains(list, s) }

func isUpper(s string) bool { return s != "" && s == strings.ToUpper(s) && s != strings.ToLower(s) }
