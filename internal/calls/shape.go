package calls

import (
	"slices"
	"strings"

	"reed/internal/catalog"
	"reed/internal/lang"
	"reed/internal/lex"
	"reed/internal/model"
)

// describe reads the arguments of a call: message, shape, values, fields and
// cause.
func (f *File) describe(s *Site) {
	sig := s.Sig
	rest := s.Args
	at := sig.Message
	if sig.Fluent() && sig.Lib.Fluent.Pairs {
		f.messagePair(s)
		return
	}
	switch {
	case s.Through != nil:
	case sig.Method == nil || at < 0:
		at = min(at, 0)
	case sig.LevelAt >= 0 && sig.LevelAt < len(rest) && f.Kind(rest[sig.LevelAt].From) == '{':
		at = sig.LevelAt // log({ level: 'info', message: '…' })
	case sig.Lib.Leading || sig.HasCause("first"):
		at = f.leading(s, at)
	case sig.Lib.Category && len(rest) > at+1 && f.Kind(rest[at+1].From) != '[':
		at++
	case sig.Lib.Prefixed && len(rest) > at+1 && f.markerLike(rest[at]):
		at++
	}
	if sig.Method != nil && sig.Method.Always {
		s.Cause = true
	}
	if s.Streamed {
		a := rest[len(rest)-1]
		b := f.streamed(a.From, a.To)
		s.Shape, s.Message, s.HasText, s.Values, s.MessageAt = b.shape, b.text, b.fixed, b.values, len(rest)-1
		for _, v := range b.values {
			if f.errorLike(v.From, v.To, s.Scope) {
				s.Cause = true
			}
		}
		return
	}
	if at < 0 {
		s.Shape = model.Bare
		for _, a := range rest {
			if !f.errorLike(a.From, a.To, s.Scope) {
				s.Values = append(s.Values, Value{From: a.From, To: a.To})
			}
		}
		return
	}
	if len(sig.Options) > 0 {
		at = f.option(s, at)
	}
	for i := at; i < len(rest); i++ { // a keyword argument is no message unless it says so
		if rest[i].Key < 0 || f.Is(rest[i].Key, "message") || f.Is(rest[i].Key, "msg") || f.Is(rest[i].Key, "event") || len(sig.Options) > 0 {
			break
		}
		if i == len(rest)-1 {
			at = len(rest)
		}
	}
	for f.Spec.Features.Has(lang.Macros) && at < len(rest)-1 && rest[at].Key >= 0 { // target: "…", fields
		at++
	}
	if at >= len(rest) {
		s.Shape = model.Bare
		f.behind(s, at)
		f.keywords(s)
		return
	}
	s.MessageAt = at
	a := rest[at]
	s.Judged = sig.Templates() && s.Confidence == model.Certain && !s.Lazy
	switch {
	case f.errorLike(a.From, a.To, s.Scope) && f.onlyCause(s, at):
		s.Shape = model.Bare
		s.MessageAt = -1
		s.Cause = s.Cause || !sig.HasCause("exc_info") && sig.Print() != "print" || sig.HasCause("any")
		f.behind(s, at+1)
		f.keywords(s)
		return
	case f.Kind(a.From) == '{' && f.Lex.Partner[a.From] == a.To-1 && f.Spec.Features.Has(lang.ErrorFirst):
		f.objectMessage(s, a)
	default:
		b := f.build(a.From, a.To, 0)
		if f.Spec.Features.Has(lang.Streams) && f.chained(a) { // an argument that is itself a << chain
			b = f.streamed(a.From, a.To)
		}
		s.Shape, s.Message, s.HasText = b.shape, b.text, b.fixed
		s.Lazy = s.Lazy || b.lazy && (sig.Lib.Lazy || sig.Lib.Name == "")
		for _, v := range b.values {
			if sig.HasCause("text") && f.errorLike(v.From, v.To, s.Scope) {
				s.Cause = true
			}
			s.Values = append(s.Values, v)
		}
	}
	f.behind(s, at+1)
	f.keywords(s)
	f.finish(s)
}

// messagePair reads a call whose arguments are all keys and values.
func (f *File) messagePair(s *Site) {
	s.Shape = model.Bare
	rest := s.Args
	for i := 0; i+1 < len(s.Args); i += 2 {
		if a := s.Args[i]; f.Kind(a.From) == lex.String && (f.Is(a.From, `"msg"`) || f.Is(a.From, `"message"`) || f.Is(a.From, `"event"`)) {
			b := f.build(s.Args[i+1].From, s.Args[i+1].To, 0)
			s.Shape, s.Message, s.HasText, s.MessageAt = b.shape, b.text, b.fixed, i+1
			s.Values = append(s.Values, b.values...)
			rest = append(append([]Arg(nil), s.Args[:i]...), s.Args[i+2:]...)
			break
		}
	}
	s.Judged = s.MessageAt >= 0 && s.Confidence == model.Certain
	f.pairs(s, rest)
	if s.Shape == model.Constant && len(s.Values) > 0 {
		for _, v := range s.Values {
			if !f.isCause(s, v) {
				s.Shape = model.Template
			}
		}
	}
}

// chained tells whether << stands in an argument outside brackets.
func (f *File) chained(a Arg) bool {
	for i := a.From; i < a.To; i = f.Skip(i) {
		if f.Kind(i) == lex.ShiftLeft {
			return true
		}
	}
	return false
}

// option finds the message among named arguments: -Message "text". Without
// its name it is the first argument that has none.
func (f *File) option(s *Site, at int) int {
	free := -1
	for i, a := range s.Args {
		if a.Key < 0 {
			if free < 0 && at >= 0 {
				free = i
			}
			continue
		}
		if s.Sig.Options[f.fold(f.Text(a.Key))] == "message" {
			return i
		}
	}
	if free >= 0 {
		return free
	}
	return len(s.Args)
}

// onlyCause tells whether an error at the place of the message has no words
// behind it.
func (f *File) onlyCause(s *Site, at int) bool {
	return at+1 >= len(s.Args) || s.Args[at+1].Key >= 0
}

// leading finds the message among the first arguments: the first that holds
// a string, else the first that is no error, object or identifier of an event.
func (f *File) leading(s *Site, from int) int {
	if s.Sig.LevelAt >= 0 && len(s.Args) > from+2 && !s.Sig.Lib.Leading {
		return from
	}
	last := min(len(s.Args), from+3)
	for i := from; i < last; i++ {
		a := s.Args[i]
		if a.Key < 0 && f.hasString(a) {
			return i
		}
		if !f.errorLike(a.From, a.To, s.Scope) && f.Kind(a.From) != '{' && !s.Sig.Lib.Leading {
			return i
		}
	}
	for i := from; i < last; i++ {
		if a := s.Args[i]; !f.errorLike(a.From, a.To, s.Scope) && f.Kind(a.From) != '{' {
			return i
		}
	}
	return from
}

// hasString tells whether an argument is text: a string stands in it outside
// brackets.
func (f *File) hasString(a Arg) bool {
	for i := a.From; i < a.To; i = f.Skip(i) {
		if f.Kind(i).IsString() {
			return true
		}
		if f.Kind(i) == '(' && i > a.From && (f.Is(i-1, "format") || f.Is(i-1, "Format")) {
			return true
		}
	}
	return false
}

func (f *File) markerLike(a Arg) bool {
	if f.hasString(a) || a.To-a.From > 3 {
		return false
	}
	if _, text := f.constantText(a.From, a.To); text {
		return false
	}
	t := f.Text(a.To - 1)
	return isUpper(t) || strings.Contains(strings.ToLower(t), "marker")
}

// behind reads the arguments around the message: those before it that may be
// an error or fields, and all behind it.
func (f *File) behind(s *Site, from int) {
	sig := s.Sig
	for i := max(sig.Message, 0); i < from && i < len(s.Args); i++ {
		a := s.Args[i]
		if i == s.MessageAt || i == sig.LevelAt || a.Key >= 0 && (i > from || len(sig.Options) > 0 || f.Spec.Features.Has(lang.Macros)) {
			continue
		}
		switch {
		case f.errorLike(a.From, a.To, s.Scope):
			s.Cause = true
		case f.Kind(a.From) == '{':
			f.objectFields(s, a.From, true)
		case i < s.MessageAt && !sig.Lib.Prefixed && !sig.Lib.Leading && !sig.Lib.Category:
			s.Values = append(s.Values, Value{From: a.From, To: a.To})
		case i < s.MessageAt && sig.Lib.Leading && f.Spec.Features.Has(lang.ErrorFirst):
			s.Values = append(s.Values, Value{From: a.From, To: a.To, Field: f.Text(a.To - 1)})
		}
	}
	var behind []Arg
	for i := from; i < len(s.Args); i++ {
		if s.Args[i].Key < 0 {
			behind = append(behind, s.Args[i])
		}
	}
	values := sig.Values
	if f.Spec.Features.Has(lang.Cascades) { // the stack trace goes with its error
		behind = slices.DeleteFunc(behind, func(a Arg) bool {
			t := strings.ToLower(f.Text(a.From))
			return a.To == a.From+1 && (t == "st" || t == "s" || strings.HasPrefix(t, "stack") || t == "trace")
		})
	}
	if values == catalog.NoValues && len(behind) > 0 && (sig.HasCause("last") || sig.HasCause("any")) {
		values = catalog.Rest
	}
	if values == catalog.Joined && f.Spec.Features.Has(lang.ErrorValues) && s.Library == "" {
		values = f.guessValues(behind)
	}
	if n := len(behind); n > 0 && f.Spec.Features.Has(lang.BeginEnd) { // Format-style: ['a', b]
		if a := behind[n-1]; f.Kind(a.From) == '[' && f.Lex.Partner[a.From] == a.To-1 {
			behind = append(behind[:n-1:n-1], f.arguments(a.From)...)
		}
	}
	switch values {
	case catalog.Pairs:
		f.pairs(s, behind)
	case catalog.Fields:
		for _, a := range behind {
			f.fieldArgument(s, a)
		}
	case catalog.Rest, catalog.Joined, catalog.Keywords, catalog.Objects:
		f.restValues(s, f.expandArray(behind))
	}
}

// guessValues tells what follows the message of a logger of unknown library:
// keys and values when every other argument is a string.
func (f *File) guessValues(args []Arg) catalog.Values {
	if len(args) >= 2 && f.Kind(args[0].From) == lex.String && args[0].To == args[0].From+1 {
		return catalog.Pairs
	}
	for _, a := range args {
		if f.Kind(a.To-1) == ')' && f.Kind(a.From) == lex.Ident && f.Kind(a.From+1) == '.' {
			if o := f.Lex.Partner[a.To-1]; o > 0 && f.Kind(o+1) == lex.String {
				return catalog.Fields
			}
		}
	}
	return catalog.Joined
}

// expandArray replaces "new Object[] { a, b }" by its elements.
func (f *File) expandArray(args []Arg) []Arg {
	if len(args) == 0 {
		return args
	}
	a := args[len(args)-1]
	if f.Kind(a.From).Role() != lang.New || f.Kind(a.To-1) != '}' || f.Lex.Partner[a.To-1] < 0 {
		return args
	}
	open := f.Lex.Partner[a.To-1]
	if f.Kind(open-1) != ']' {
		return args
	}
	return append(args[:len(args)-1:len(args)-1], f.arguments(open)...)
}

// restValues reads the values behind a message; an error among them is the
// cause where the library takes one there.
func (f *File) restValues(s *Site, args []Arg) {
	holes := 0
	if s.MessageAt >= 0 && s.Style != catalog.NoStyle {
		holes = len(f.holesOf(s))
	}
	for i, a := range args {
		isError := f.errorLike(a.From, a.To, s.Scope)
		switch {
		case isError && i < holes && f.Spec.Features.Has(lang.ErrorFirst) && f.takesObject(s, i):
			s.Cause = true
			f.restValue(s, a, true)
		case isError && s.Library == "" && i >= holes && s.Kind == model.KindLog && !s.Sig.HasCause("text"),
			isError && s.Sig.HasCause("last") && i == len(args)-1 && i >= holes,
			isError && s.Sig.HasCause("any") && i >= holes,
			isError && s.Sig.HasCause("first") && s.MessageAt < 0 && i == 0:
			s.Cause = true
		case isError && s.Sig.HasCause("text"):
			s.Cause = true
			f.restValue(s, a, true)
		case f.Kind(a.From) == '{' && f.Spec.Features&(lang.ErrorFirst|lang.RubyWords) != 0 && s.Kind == model.KindLog,
			f.Kind(a.From) == '[' && f.Lex.Partner[a.From] == a.To-1 && f.Spec.Features.Has(lang.Islands) && s.Kind == model.KindLog:
			f.objectFields(s, a.From, true)
		case f.Is(a.From, "array") && f.Kind(a.From+1) == '(' && f.Spec.Features.Has(lang.Islands):
			f.objectFields(s, a.From+1, true)
		default:
			f.restValue(s, a, i < holes)
		}
	}
}

// holesOf reads the placeholders of a message that is a plain string.
func (f *File) holesOf(s *Site) []string {
	b := f.build(s.Args[s.MessageAt].From, s.Args[s.MessageAt].To, 0)
	if b.shape != model.Constant {
		return nil
	}
	_, holes := Placeholders(s.Style, b.raw)
	return holes
}

// takesObject tells whether the n-th placeholder of a script's message takes
// its value as an object (%o, %O, %j, a letter of one's own) rather than as
// text or number.
func (f *File) takesObject(s *Site, n int) bool {
	if s.Style != catalog.Percent {
		return false
	}
	text := f.Source(s.Args[s.MessageAt].From, s.Args[s.MessageAt].To)
	for i := 0; i+1 < len(text); i++ {
		if text[i] != '%' {
			continue
		}
		i++
		if text[i] == '%' {
			continue
		}
		if n == 0 {
			return strings.IndexByte("sdif", text[i]) < 0
		}
		n--
	}
	return false
}

func (f *File) restValue(s *Site, a Arg, hole bool) {
	s.Values = append(s.Values, Value{From: a.From, To: a.To, Rest: hole || s.Sig.Values == catalog.Rest || s.Sig.Values == catalog.Joined})
}

// controls are keyword arguments that steer a call and carry no value.
var controls = map[string]bool{"exc_info": true, "stack_info": true, "stacklevel": true, "file": true, "sep": true, "end": true, "flush": true, "context": true, "instance": true, "resource": true}

// finish settles the shape once all values are known: fixed text with values
// apart is a template.
func (f *File) finish(s *Site) {
	own := 0 // values behind the message, the cause aside
	for _, v := range s.Values {
		if !f.isCause(s, v) {
			own++
		}
	}
	if s.Shape == model.Constant {
		b := f.build(s.Args[s.MessageAt].From, s.Args[s.MessageAt].To, 0)
		style := s.Style
		if style == catalog.NoStyle && s.Sig.Values == catalog.Joined && len(s.Values) > 0 && f.Spec.Features.Has(lang.ErrorFirst) {
			style = catalog.Percent
		}
		text, holes := Placeholders(style, b.raw)
		filled := 0
		if f.Spec.Features.Has(lang.Macros) && style == catalog.Keyed { // "{name}" takes the variable of that name
			for _, h := range holes {
				if h != "" && (h[0] >= 'a' && h[0] <= 'z' || h[0] == '_') {
					filled++
					own++
				}
			}
		}
		for _, v := range s.Values {
			if v.Rest || v.Field != "" && (style == catalog.Keyed) {
				filled++
			}
		}
		if filled > 0 && len(holes) > 0 {
			s.Message, s.Holes = text, holes
		} else if s.Style != catalog.NoStyle {
			s.Holes = holes
		}
		if own > 0 || len(s.Holes) > 0 && filled > 0 {
			s.Shape = model.Template
		}
		if s.Sig.Values == catalog.Joined {
			for i := len(holes); i < filled && s.Sig.Values == catalog.Joined; i++ {
				if !f.Spec.Features.Has(lang.BeginEnd) {
					s.Message += " "
				}
				s.Message += "{}"
			}
		}
		return
	}
	if s.Sig.Values == catalog.Joined && own > 1 {
		behind := false
		for _, v := range s.Values {
			behind = behind || v.From >= s.Args[s.MessageAt].To && !f.isCause(s, v)
		}
		if behind {
			s.Shape = model.Template
			for _, v := range s.Values {
				if v.From >= s.Args[s.MessageAt].To {
					s.Message += " {}"
				}
			}
		}
	}
}

// Dot tells whether token i stands between an object and its member.
func (f *File) Dot(i int32) bool { return f.dot(i) }
