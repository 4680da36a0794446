package calls

import (
	"bytes"
	"hash/fnv"
	"slices"
	"sort"
	"strconv"
	"strings"

	"reed/internal/catalog"
	"reed/internal/lang"
	"reed/internal/lex"
	"reed/internal/model"
	"reed/internal/outline"
)

// Wrapper is a function that hands one of its own parameters to a logging
// call as the message: calls to it are logging calls too.
type Wrapper struct {
	Language string
	File     string
	Line     int
	Unit     string // dotted module name, where the language has such names
	Type     string // the type that the function belongs to
	Name     string // in small letters where case does not matter
	Written  string // as the function was declared
	Wraps    string // the call inside, as written: log.warning
	Layers   int    // how many wrappers lie between a caller and the library: 1 to MaxLayers

	Kind      string
	LevelName string
	Severity  int
	Message   int // which argument is the message, from 0
	Level     int // which argument is the level, -1 when it is fixed or chosen inside

	lib    *catalog.Library
	style  catalog.Style
	values catalog.Values
	cause  []string
}

// Place tells where the wrapper is declared: file:line.
func (w *Wrapper) Place() string { return w.File + ":" + strconv.Itoa(w.Line) }

// MaxLayers bounds wrappers of wrappers.
const MaxLayers = 3

// Wrappers is a set of wrappers by name. It is not changed while files are read.
type Wrappers struct {
	byName map[string][]*Wrapper
}

// NewWrappers makes a set; what is found twice is kept once.
func NewWrappers(list []Wrapper) *Wrappers {
	w := &Wrappers{byName: map[string][]*Wrapper{}}
	for i := range list {
		w.byName[list[i].Name] = append(w.byName[list[i].Name], &list[i])
	}
	return w
}

// NameHash is the hash by which files remember the names that they call.
func NameHash(name []byte) uint32 {
	h := fnv.New32a()
	_, _ = h.Write(name)
	return h.Sum32()
}

// family tells languages apart that cannot call each other's functions.
func family(language string) string {
	switch language {
	case "typescript":
		return "javascript"
	case "kotlin", "scala", "groovy":
		return "java"
	case "cpp", "objective-c":
		return "c"
	}
	return language
}

// messageNames are names of parameters that take a message.
var messageNames = map[string]bool{
	"msg": true, "message": true, "text": true, "fmt": true, "format": true, "str": true, "string": true, "line": true, "s": true, "m": true, "txt": true, "template": true, "pattern": true, "amessage": true, "amsg": true, "atext": true, "astring": true,
	"logmessage": true, "log_message": true, "logmsg": true, "log_msg": true, "what": true, "content": true, "args": true, "messages": true, "info": true, "note": true, "1": true, "2": true, "*": true, "msgformat": true, "f": true, "data": true, "_msg": true, "entry": true,
}

// logWords are words in the names of functions that log.
var logWords = []string{"log", "debug", "info", "warn", "error", "trace", "fatal", "print", "notice", "verbose", "critical", "report", "echo", "emit", "die", "fail", "say"}

func logName(name string) bool {
	low := strings.ToLower(name)
	for _, w := range logWords {
		if strings.Contains(low, w) {
			return true
		}
	}
	return false
}

// maxWrapper is how many tokens the body of a wrapper may have.
const maxWrapper = 220

// FindWrappers returns the wrappers that the file defines and marks the calls
// inside them.
func (f *File) FindWrappers() []Wrapper {
	var found []Wrapper
	at := map[int32]int{}
	for i := range f.Sites {
		s := &f.Sites[i]
		layers := 1
		if s.Through != nil {
			layers = s.Through.Layers + 1
		}
		if s.MessageAt < 0 || s.MessageAt >= len(s.Args) || layers > MaxLayers || s.Sig == nil || s.Sig.Print() == "dump" {
			continue
		}
		fn := f.Out.Enclosing(s.Scope, outline.Func)
		if fn < 0 {
			continue
		}
		scope := &f.Out.Scopes[fn]
		if scope.Name < 0 || scope.Close-scope.Open > maxWrapper {
			continue
		}
		params := f.ParamNames(scope)
		param := f.messageParam(s, params)
		if param < 0 {
			continue
		}
		if !takesMessage(params[param]) { // log(prefix + msg, type)
			param = f.messageBeside(s, params, param)
		}
		name := f.nameText(scope.Name)
		if !takesMessage(params[param]) && !logName(name) {
			continue
		}
		s.Inside = true
		w := f.wrapper(s, scope, params, param, layers)
		if k, seen := at[fn]; seen { // several calls, one of which is chosen
			if old := &found[k]; old.Severity != w.Severity {
				old.Severity, old.LevelName = 0, ""
				if old.Level < 0 {
					old.Level = levelParam(params, w.shift(params))
				}
			}
			continue
		}
		at[fn] = len(found)
		found = append(found, w)
	}
	return found
}

// takesMessage tells whether a parameter's name says that it is a message.
func takesMessage(param string) bool {
	return messageNames[strings.ToLower(strings.TrimLeft(param, "$@_"))]
}

// messageBeside returns the parameter named as a message that another argument
// of a call hands on, or the given one.
func (f *File) messageBeside(s *Site, params []string, param int) int {
	for p, name := range params {
		if p == param || !takesMessage(name) || len(name) < 3 {
			continue
		}
		for _, a := range s.Args {
			for i := a.From; i < a.To; i++ {
				if f.Kind(i) == lex.Ident && f.Is(i, name) {
					return p
				}
			}
		}
	}
	return param
}

// messageParam returns the parameter that is the message of a call, or the
// only value of it; -1 when none is.
func (f *File) messageParam(s *Site, params []string) int {
	a := s.Args[s.MessageAt]
	if next := s.MessageAt + 1; s.Sig.Lib.Leading && next < len(s.Args) && s.Shape == model.Opaque { // log.info(fields, message)
		if b := s.Args[next]; b.To == b.From+1 && takesMessage(f.Text(b.From)) {
			a = b
		}
	}
	from := a.From
	for k := f.Kind(from); (k == '*' || k == lex.Ellipsis || k == '@') && from < a.To-1; k = f.Kind(from) {
		from++
	}
	if a.To == from+1 && f.Kind(from) == lex.Ident {
		if p := slices.Index(params, f.Text(from)); p >= 0 {
			return p
		}
		return f.madeFrom(s, from, params)
	}
	if a.To == from+2 && f.Kind(from+1) == lex.Ellipsis { // args...
		return slices.Index(params, f.Text(from))
	}
	found := -1
	for _, v := range s.Values { // a prefix before it
		if v.From < a.From || v.To > a.To {
			continue
		}
		if v.To != v.From+1 || f.Kind(v.From) != lex.Ident {
			if s.Shape == model.Formatted || s.Shape == model.Template {
				continue
			}
			return -1
		}
		p := slices.Index(params, f.Text(v.From))
		if text := f.Text(v.From); text == "$*" || text == "$@" {
			p = slices.Index(params, "$1")
		}
		if p < 0 {
			continue
		}
		if f.Spec.Features.Has(lang.Commands) && !f.Spec.Features.Has(lang.DashWords) {
			p = min(p+f.shifts(s), len(params)-1)
		}
		if !takesMessage(params[p]) {
			continue
		}
		if found >= 0 {
			return -1
		}
		found = p
	}
	if found >= 0 && !isPrefix(s.Message) && !f.insideLogName(s) {
		return -1 // a message of its own
	}
	return found
}

// isPrefix tells whether a message is a value behind a prefix: "[gate] {}",
// "gate: {}".
func isPrefix(message string) bool {
	words := strings.TrimSpace(strings.ReplaceAll(message, "{}", ""))
	return !hasLetters(words) || strings.HasSuffix(words, ":") || strings.HasSuffix(words, "]") || strings.HasSuffix(words, "-") || strings.HasSuffix(words, ">")
}

// insideLogName tells whether the function around a call is named as one that
// logs.
func (f *File) insideLogName(s *Site) bool {
	fn := f.Out.Enclosing(s.Scope, outline.Func)
	return fn >= 0 && f.Out.Scopes[fn].Name >= 0 && logName(f.nameText(f.Out.Scopes[fn].Name))
}

// shifts counts the parameters that a shell function takes away before a call.
func (f *File) shifts(s *Site) int {
	fn := f.Out.Enclosing(s.Scope, outline.Func)
	n := 0
	for i := f.Out.Scopes[fn].Open; i < s.First; i++ {
		if f.Is(i, "shift") {
			n++
		}
	}
	return n
}

// madeFrom returns the message parameter from which the local variable at
// token i was made before a call, as in text := format(msg, args); -1 when it
// was not.
func (f *File) madeFrom(s *Site, i int32, params []string) int {
	fn := f.Out.Enclosing(s.Scope, outline.Func)
	open := f.Out.Scopes[fn].Open
	for j := s.First - 1; j > open; j-- {
		if k := f.Kind(j); k != '=' && k != lex.Declare || f.Kind(j-1) != lex.Ident || !bytes.Equal(f.Bytes(j-1), f.Bytes(i)) {
			continue
		}
		for k := j + 1; k < j+40 && k < s.First; k++ {
			if f.Kind(k) == ';' || k > j+1 && f.Lex.Tokens[k].Flags&lex.LineStart != 0 && f.Spec.Features.Has(lang.NewlineEnds) && f.Kind(k) != lex.Ident {
				break
			}
			if f.Kind(k) != lex.Ident || f.dot(k-1) {
				continue
			}
			if p := slices.Index(params, f.Text(k)); p >= 0 && takesMessage(params[p]) {
				return p
			}
		}
		return -1
	}
	return -1
}

func (f *File) wrapper(s *Site, scope *outline.Scope, params []string, param, layers int) Wrapper {
	_, typ := f.names(s.Scope)
	w := Wrapper{
		Language: f.Spec.Name, File: f.Src.Path, Line: f.Src.Line(f.Lex.Tokens[scope.Name].Start), Unit: f.Unit, Type: typ, Name: f.fold(f.nameText(scope.Name)), Written: f.nameText(scope.Name),
		Wraps: strings.TrimPrefix(s.Receiver+"."+s.Method, "."), Layers: layers, Kind: s.Kind, LevelName: s.LevelName, Severity: s.SeverityNumber,
		Level: -1, lib: s.Sig.Lib, style: s.Style, cause: s.Sig.Cause,
	}
	shift := w.shift(params)
	w.Message = param - shift
	for _, a := range s.Args {
		if a.Spread || f.Kind(a.To-1) == lex.Ellipsis {
			w.values = catalog.Rest
		}
	}
	if w.values == catalog.NoValues && param < len(params)-1 && f.variadic(scope) { // text := format(msg, args)
		w.values = catalog.Rest
		if w.style == catalog.NoStyle && f.Spec.Features.Has(lang.ErrorValues) {
			w.style = catalog.Percent
		}
	}
	if w.values == catalog.NoValues {
		w.style = catalog.NoStyle
	}
	if s.Level == model.NoLevel && s.Kind == model.KindLog || s.Through != nil && s.Through.Level >= 0 {
		w.Level = levelParam(params, shift)
		if s.Sig.LevelAt >= 0 && s.Sig.LevelAt < len(s.Args) {
			if a := s.Args[s.Sig.LevelAt]; a.To == a.From+1 {
				if k := slices.Index(params, f.Text(a.From)); k >= 0 {
					w.Level = k - shift
				}
			}
		}
	}
	if f.Spec.Features.Has(lang.Commands) && !f.Spec.Features.Has(lang.DashWords) {
		w.Level = f.positionalLevel(s)
	}
	return w
}

// variadic tells whether the last parameter of a function takes any number of
// values.
func (f *File) variadic(s *outline.Scope) bool {
	for i := s.ParamsFrom; i < s.ParamsTo; i++ {
		if k := f.Kind(i); k == lex.Ellipsis || k == '*' && f.Spec.Features.Has(lang.IndentBlocks) || f.Is(i, "params") {
			return true
		}
	}
	return false
}

// shift is 1 when the first parameter is the object itself, which callers do
// not write.
func (w *Wrapper) shift(params []string) int {
	if len(params) > 0 && (params[0] == "self" || params[0] == "cls") {
		return 1
	}
	return 0
}

// levelParam returns the position of a parameter that is called a level, -1
// when none is.
func levelParam(params []string, shift int) int {
	for i, p := range params {
		switch strings.ToLower(strings.TrimLeft(p, "$@_")) {
		case "level", "lvl", "severity", "loglevel", "log_level", "priority", "sev", "alevel", "prio":
			return i - shift
		}
	}
	return -1
}

// positional are the parameters of a shell function; all of them at once
// stand for the message.
var positional = []string{"$1", "$2", "$3", "$4", "$5", "$6", "$7", "$8", "$9"}

// positionalLevel returns the parameter in the option that gives a call of
// logger its level, -1 when there is none.
func (f *File) positionalLevel(s *Site) int {
	for _, a := range s.Args {
		if a.Key >= 0 && s.Sig.Options[f.Text(a.Key)] == "level" {
			for i := a.From; i < a.To; i++ {
				if p := slices.Index(positional, f.Text(i)); p >= 0 {
					return p
				}
			}
		}
	}
	return -1
}

// ParamNames returns the names of a function's parameters, in order.
func (f *File) ParamNames(s *outline.Scope) []string {
	var names []string
	last := int32(-1)
	ft := f.Spec.Features
	flush := func() {
		if last >= 0 {
			names = append(names, f.Text(last))
		}
		last = -1
	}
	if ft.Has(lang.Commands) && !ft.Has(lang.DashWords) { // a shell counts them
		return positional
	}
	if s.Traits&outline.Selector != 0 { // name:(Type)a with:(Type)b
		for i := s.ParamsFrom; i < s.ParamsTo; i = f.Skip(i) {
			if f.Kind(i) == ':' {
				j := i + 1
				if f.Kind(j) == '(' {
					j = f.Skip(j)
				}
				names = append(names, f.Text(j))
			}
		}
		return names
	}
	typed := ft.Has(lang.TypedFuncs)
	angle := 0 // depth of type arguments
	for i := s.ParamsFrom; i < s.ParamsTo; i = f.Skip(i) {
		switch k := f.Kind(i); {
		case typed && k == '<':
			angle++
		case typed && angle > 0:
			if k == '>' {
				angle--
			}
		case k == ',' || k == ';' && ft.Has(lang.BeginEnd):
			flush()
		case k == '=' || k == ':' && !typed:
			flush()
			for i < s.ParamsTo && f.Kind(i) != ',' && f.Kind(i) != ';' {
				i = f.Skip(i)
			}
			i--
		case k == lex.Ident && ft.Has(lang.Islands):
			if strings.HasPrefix(f.Text(i), "$") {
				last = i
			}
		case k == lex.Ident && ft.Has(lang.ErrorTruth) && last >= 0: // label name: Type
			last = i
		case k == lex.Ident && (last < 0 || typed):
			last = i
		case k.Role() == lang.Self && ft.Has(lang.Macros) && last < 0:
			last = i
		}
	}
	flush()
	return names
}

// Called returns the hashes of the names that the file calls, sorted and each
// once.
func (f *File) Called() []uint32 {
	list := append([]uint32(nil), f.Out.Called...)
	slices.Sort(list)
	return slices.Compact(list)
}

// CallsAny tells whether one of the names, hashed, is among called.
func CallsAny(called []uint32, names []uint32) bool {
	for _, n := range names {
		if i := sort.Search(len(called), func(i int) bool { return called[i] >= n }); i < len(called) && called[i] == n {
			return true
		}
	}
	return false
}
