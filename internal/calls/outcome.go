package calls

import (
	"slices"
	"sort"
	"strings"

	"reed/internal/lang"
	"reed/internal/lex"
	"reed/internal/model"
	"reed/internal/outline"
)

// Outcome is what a failure path does about the failure.
type Outcome struct {
	Scope    int32
	Sites    []int       // calls in it, by index
	Loudest  model.Level // the highest level logged, NoLevel when none or unknown
	Logged   bool        // a logging call of any level
	Printed  bool        // a print
	Passed   bool        // thrown on, returned as an error, handed to a function
	Thrown   bool        // a throw statement of its own
	Returned bool        // a value is returned
	Handled  bool        // anything else is done about it
	Said     bool        // a comment says why nothing is
	Narrow   bool        // what is caught is narrow and expected
	Ends     bool        // the program ends
}

// Silent tells that the failure leaves no trace at all.
func (o *Outcome) Silent() bool {
	return !o.Logged && !o.Printed && !o.Passed && !o.Returned && !o.Handled && !o.Said && !o.Narrow
}

// Outcomes judges every failure path of the file, in order. A handler inside
// another one is judged on its own and counts for the outer one too.
func (f *File) Outcomes() []Outcome {
	var all []Outcome
	clear(f.tries)
	if f.tries == nil {
		f.tries = map[int32]int32{}
	}
	for at := range f.Out.Scopes {
		if s := &f.Out.Scopes[at]; s.Kind == outline.Try {
			f.tries[s.Close] = int32(at)
		}
	}
	for at := range f.Out.Scopes {
		if s := &f.Out.Scopes[at]; s.Kind == outline.Failure && s.Close >= s.Open {
			all = append(all, f.outcome(int32(at)))
		}
	}
	return all
}

// Handlers longer than this are read only so far: nested a thousand deep they
// would be read a thousand times.
const (
	maxHandler = 20_000 // tokens
	maxSites   = 1_000
)

func (f *File) outcome(at int32) Outcome {
	s := &f.Out.Scopes[at]
	o := Outcome{Scope: at}
	first := sort.Search(len(f.Sites), func(i int) bool { return f.Sites[i].First >= s.Open })
	for i := first; i < len(f.Sites) && f.Sites[i].First < s.Close && i < first+maxSites; i++ {
		c := &f.Sites[i]
		o.Sites = append(o.Sites, i)
		if c.Kind == model.KindPrint {
			o.Printed = true
			continue
		}
		o.Logged = true
		o.Loudest = max(o.Loudest, c.Level)
		o.Ends = o.Ends || c.Sig.Lib != nil && contains(c.Sig.Lib.Ends, c.Method)
	}
	f.statementsOf(s, &o)
	if s.Close > s.Open && f.Spec.Features&(lang.RubyWords|lang.Blocks) != 0 && f.givesValue(s) {
		o.Returned = true
	}
	o.Said = f.commentIn(s) || f.namedIgnored(s)
	o.Handled = o.Handled || f.fallsBack(s) || f.tellsByFlag(s) || f.testedBehind(s)
	o.Narrow = f.narrow(s)
	o.Passed = o.Passed || f.deferred(s)
	return o
}

// deferred tells whether a tested error belongs to the function around a
// deferred one, which returns it.
func (f *File) deferred(s *outline.Scope) bool {
	if s.Traits&outline.Handler != 0 || !f.Spec.Features.Has(lang.ErrorValues) {
		return false
	}
	for i := s.ParamsFrom; i < s.ParamsTo; i++ {
		if k := f.Kind(i); k == lex.Declare || k == '(' {
			return false
		}
	}
	for at := s.Parent; at > 0; at = f.Out.Scopes[at].Parent {
		switch p := &f.Out.Scopes[at]; p.Kind {
		case outline.Lambda:
			return f.Kind(p.Head-1).Role() == lang.Defer && f.Is(p.Head-1, "defer")
		case outline.Func:
			return false
		}
	}
	return false
}

// givesValue tells whether a handler ends with a value that stands for the
// failure: false, nil, a name, an empty collection.
func (f *File) givesValue(s *outline.Scope) bool {
	last := s.Close - 1
	for last > s.Open && f.Kind(last) == ';' {
		last--
	}
	first := last
	if open := f.Lex.Partner[last]; open >= s.Open && open < last {
		first = open
	}
	k := f.Kind(first)
	if k != lex.Ident && k != lex.Number && k != lex.String && k.Role() != lang.Literal && k != '{' && k != '[' && k != '(' {
		return false
	}
	return first == s.Open || f.Lex.Tokens[first].Flags&lex.LineStart != 0 || f.Kind(first-1) == ';' || f.Kind(first-1).Role() == lang.New
}

// passers are functions by which code hands a failure on.
var passers = map[string]bool{
	"panic": true, "reject": true, "callback": true, "cb": true, "next": true, "done": true, "abort": true, "fail": true, "exit": true, "Exit": true,
	"_exit": true, "Fatal": true, "Fatalf": true, "completeExceptionally": true, "SetException": true, "TrySetException": true, "setException": true,
	"emit": true, "setError": true, "onError": true, "FailFast": true, "reraise": true, "halt": true, "Fail": true, "save_and_reraise_exception": true,
}

// statementsOf looks at the tokens of a failure path that belong to no call
// of the catalog.
func (f *File) statementsOf(s *outline.Scope, o *Outcome) {
	name := ""
	if s.Name >= 0 {
		name = f.Text(s.Name)
	}
	statements := false
	site := 0
	end := min(s.Close, s.Open+maxHandler)
	for i := s.Open; i < end; i++ {
		if site < len(o.Sites) && f.Sites[o.Sites[site]].First == i {
			i = max(f.Sites[o.Sites[site]].Close, i)
			site++
			continue
		}
		k := f.Kind(i)
		switch k.Role() {
		case lang.Throw:
			o.Passed, o.Thrown = true, true
		case lang.Return:
			f.returned(i, s, o)
		case lang.Jump:
			continue
		}
		switch {
		case k == lex.Ident && name != "" && f.Is(i, name):
			if f.errorUsed(i) {
				o.Passed = true
			}
			statements = true
		case k == lex.Ident && f.Kind(i+1) == '(':
			statements = true
			if passers[f.Text(i)] || strings.HasPrefix(f.Text(i), "fail_") {
				o.Passed = true
				o.Thrown = o.Thrown || strings.Contains(f.Text(i), "reraise")
				o.Ends = o.Ends || strings.EqualFold(f.Text(i), "exit") || f.Is(i, "_exit") || f.Is(i, "halt") || f.Is(i, "abort")
			}
		case k == lex.Ident || k.IsString() || k == lex.Number || k == '=' || k == lex.OpAssign || k == lex.Increment:
			statements = true
		}
	}
	o.Handled = statements
}

// returned looks at what a return statement in a failure path gives back.
func (f *File) returned(i int32, s *outline.Scope, o *Outcome) {
	next := i + 1
	ended := f.Kind(next) == ';' || f.Kind(next) == '}' || next >= s.Close || f.Lex.Tokens[next].Flags&lex.LineStart != 0 && f.Spec.Features.Has(lang.NewlineEnds)
	if !ended {
		o.Returned = true
		for j := next; j < s.Close && f.Kind(j) != ';' && (j == next || f.Lex.Tokens[j].Flags&lex.LineStart == 0); j++ {
			if f.Kind(j) == lex.Ident {
				t := f.Text(j)
				if outline.IsErrorName(t) || t == "Errorf" || t == "errors" || strings.HasPrefix(t, "Err") || strings.HasSuffix(t, "Error") || t == "reject" || t == "Wrap" || t == "Wrapf" {
					o.Passed = true
				}
			}
		}
		return
	}
	if t := f.tryOf(s); t != nil { // the try block gives a value: here there is none
		for j := t.Open; j < min(t.Close, t.Open+200); j++ {
			if f.Kind(j).Role() == lang.Return && f.Kind(j+1) != ';' {
				o.Returned = true
			}
		}
	}
	if f.Spec.Features.Has(lang.ErrorValues) && f.namedResults(s) {
		o.Passed = true
	}
}

// namedResults tells whether the Go function around a scope names its
// results, so that a bare return hands an error back.
func (f *File) namedResults(s *outline.Scope) bool {
	for at := s.Parent; at > 0; at = f.Out.Scopes[at].Parent {
		p := &f.Out.Scopes[at]
		if p.Kind == outline.Func || p.Kind == outline.Lambda {
			return f.Kind(p.ParamsTo+1) == '(' && f.Kind(p.ParamsTo+2) == lex.Ident && f.Kind(p.ParamsTo+3) != ')' && f.Kind(p.ParamsTo+3) != ','
		}
	}
	return false
}

// errorUsed tells whether the error variable at token i is handed to a
// function or kept somewhere, so that the failure is passed on.
func (f *File) errorUsed(i int32) bool {
	switch f.Kind(i - 1) {
	case '(', ',', '=', lex.Declare, ':', '[', lex.OpAssign, '{', lex.Receive, lex.Ellipsis:
		return true
	}
	switch f.Kind(i - 1).Role() {
	case lang.Return, lang.Throw, lang.From:
		return true
	}
	return false
}

// commentIn tells whether a comment with words stands in a failure path.
func (f *File) commentIn(s *outline.Scope) bool {
	from := f.Lex.Tokens[min(int(s.Head), len(f.Lex.Tokens)-1)].Start
	to := uint32(len(f.Src.Text))
	if int(s.Close) < len(f.Lex.Tokens) {
		to = f.Lex.Tokens[s.Close].Start
	}
	at, _ := slices.BinarySearchFunc(f.Lex.Comments, from, func(c lex.Token, p uint32) int { return int(c.Start) - int(p) })
	if at < len(f.Lex.Comments) && f.Lex.Comments[at].Start < to {
		return true
	}
	if s.Traits&outline.Handler != 0 && f.Kind(s.Head-1) == '(' && at > 0 { // a comment above "….catch(() => {})"
		first := s.Head
		for f.Lex.Tokens[first].Flags&lex.LineStart == 0 && first > 0 {
			first--
		}
		if f.Src.Line(f.Lex.Comments[at-1].End-1)+1 == f.Src.Line(f.Lex.Tokens[first].Start) {
			return true
		}
	}
	if f.Kind(s.Close) == '}' && at < len(f.Lex.Comments) { // } // why
		return f.Src.Line(f.Lex.Comments[at].Start) == f.Src.Line(to)
	}
	return false
}

// fallsBack tells whether the code behind a handler is there for the failure:
// it returns a value or throws at once, or what is done when all went well
// stands apart: in an else, or in a try block that left the function.
func (f *File) fallsBack(s *outline.Scope) bool {
	if s.Traits&outline.Handler == 0 {
		return false
	}
	next := s.Close
	if f.Kind(next) == '}' {
		next++
	}
	if f.Kind(next).Role() == lang.Finally && f.Kind(next+1) == '{' {
		next = f.Skip(next + 1)
	}
	switch f.Kind(next).Role() {
	case lang.Throw:
		return true
	case lang.Return:
		return f.Kind(next+1) != ';' && f.Kind(next+1) != '}'
	case lang.Else: // what is done when all went well stands apart
		return true
	case lang.Catch, lang.Finally:
		return false
	}
	t := f.tryOf(s)
	if t == nil {
		return false
	}
	if f.Out.Scopes[s.Parent].Kind == outline.Loop {
		// the next round tries something else
	} else if f.Spec.Features.Has(lang.IndentBlocks) {
		if int(s.Close) >= len(f.Lex.Tokens) || f.Lex.Tokens[s.Close].Indent < f.Lex.Tokens[s.Head].Indent {
			return false // nothing stands behind it in the same block
		}
	} else {
		for at := s.Parent; f.Kind(next) == '}' && at > 0 && (f.Out.Scopes[at].Kind == outline.Branch || f.Out.Scopes[at].Kind == outline.Failure) && f.Out.Scopes[at].Close == next; at = f.Out.Scopes[at].Parent {
			next++ // what stands behind the block around it
		}
		if k := f.Kind(next); k == '}' || k == lex.None || k == ')' || k.Role() == lang.Else {
			return false
		}
	}
	for i := t.Open; i < min(t.Close, t.Open+200); i++ {
		if f.Kind(i).Role() == lang.Return {
			return true
		}
	}
	return false
}

// tellsByFlag tells whether the try block before a handler ends by setting a
// flag: who reads it learns of the failure.
func (f *File) tellsByFlag(s *outline.Scope) bool {
	t := f.tryOf(s)
	if t == nil || t.Close-t.Open < 4 {
		return false
	}
	last := t.Close - 1
	if f.Kind(last) == ';' {
		last--
	}
	if f.Spec.Features.Has(lang.BeginEnd) { // Result stays what it was
		for i := t.Open; i < min(t.Close, t.Open+400); i++ {
			if f.Kind(i) == lex.Declare && strings.EqualFold(f.Text(i-1), "Result") {
				return true
			}
		}
	}
	return f.Kind(last).Role() == lang.Literal && (f.Kind(last-1) == '=' || f.Kind(last-1) == lex.Declare) && last-2 >= t.Open
}

// testedBehind tells whether the try block before a handler only sets a
// variable that the statement behind the handler tests.
func (f *File) testedBehind(s *outline.Scope) bool {
	t := f.tryOf(s)
	if t == nil || t.Close-t.Open < 3 || f.Kind(t.Open) != lex.Ident || f.Kind(t.Open+1) != '=' {
		return false
	}
	name := f.Text(t.Open)
	i := s.Close
	if f.Kind(i) == '}' {
		i++
	}
	if f.Kind(i).Role() != lang.If {
		return false
	}
	for j := i + 1; j < i+16; j++ {
		if k := f.Kind(j); k == '{' || k == ':' || k == ';' {
			return false
		}
		if f.Is(j, name) {
			return true
		}
	}
	return false
}

// tryOf returns the block whose failures a handler gets, nil when it is not
// known.
func (f *File) tryOf(s *outline.Scope) *outline.Scope {
	at, ok := f.tries[s.Head-1]
	if !ok {
		at, ok = f.tries[s.Head]
	}
	if !ok || s.Traits&outline.Handler == 0 {
		return nil
	}
	return &f.Out.Scopes[at]
}

// namedIgnored tells whether the very name of the error variable says that the
// failure is ignored on purpose.
func (f *File) namedIgnored(s *outline.Scope) bool {
	if s.Name < 0 {
		return false
	}
	name := strings.ToLower(strings.TrimLeft(f.Text(s.Name), "_"))
	return strings.HasPrefix(name, "unused") || strings.HasPrefix(name, "ignor") || strings.HasPrefix(name, "expected") || strings.HasPrefix(name, "swallow")
}

// narrowErrors are ends of names of errors that are expected in the course of
// things: nothing there, end of input, cancelled, not a number.
var narrowErrors = []string{"Done",
	"NotFound", "NotFoundError", "NotFoundException", "NotFoundErr", "EOF", "EOFError", "EOFException", "EndOfStreamException", "StopIteration", "StopAsyncIteration", "KeyError", "IndexError", "LookupError",
	"ImportError", "AttributeError", "FileExistsError", "KeyboardInterrupt", "CancelledError", "CancellationException", "OperationCanceledException", "TaskCanceledException",
	"Empty", "Full", "NumberFormatException", "NoSuchElementException", "NoSuchMethodException", "NoSuchFieldException", "NoSuchMethodError", "NoSuchFileException", "NoClassDefFoundError", "NoSuchAlgorithmException", "ProcessLookupError", "ValueError", "TypeError", "UnicodeDecodeError", "UnicodeEncodeError", "UnicodeError",
	"DoesNotExist", "NoReverseMatch", "NoResultFound", "Resolver404", "Http404", "ProcessExitedAlready", "StreamClosedError", "ClosedResourceError", "ValidationError", "BadZipfile", "BadZipFile", "gaierror", "FormatException", "InvalidCastException", "ObjectDisposedException", "CloneNotSupportedException", "GeneratorExit", "ErrNotExist", "ErrExist", "ErrClosed", "Canceled", "ErrNoRows", "ErrUnexpectedEOF", "NotImplementedError", "BlockingIOError",
	"ThreadAbortException", "UnsupportedEncodingException", "AlreadyExistsException", "AlreadyExists", "TimeoutError", "Timeout", "TimeoutException", "NoResultException", "ClassCastException", "ArrayIndexOutOfBoundsException", "IndexOutOfBoundsException", "NameError", "ZeroDivisionError", "OverflowError", "UnsupportedOperationException", "URISyntaxException", "MalformedURLException", "ParseException", "DateTimeParseException", "AbortError", "NotSupportedException", "MissingMethodException", "InterruptedIOException",
}

// narrow tells whether a failure path handles only errors that are expected.
// Closing what is to be thrown away anyway counts as that.
func (f *File) narrow(s *outline.Scope) bool {
	types, narrow := 0, 0
	if s.Traits&outline.Handler == 0 && s.ParamsTo > s.ParamsFrom {
		for i := s.ParamsFrom; i < s.ParamsTo; i++ {
			if f.Is(i, "errors") && (f.Is(i+2, "Is") || f.Is(i+2, "As")) {
				return true // one known error
			}
			if f.Is(i, "instanceof") && f.Kind(i+1) == lex.Ident && !f.Is(i+1, "Error") {
				return true
			}
		}
	}
	for i := s.ParamsFrom; i < s.ParamsTo; i++ {
		if f.Kind(i) != lex.Ident || i == s.Name || f.Kind(i+1) == '.' {
			continue
		}
		t := f.Text(i)
		if t == "errors" || t == "Is" || t == "As" || f.Kind(i-1) == lex.Ident {
			continue
		}
		types++
		if strings.HasPrefix(t, "NoSuch") {
			narrow++
			continue
		}
		for _, n := range narrowErrors {
			if strings.HasSuffix(t, n) {
				narrow++
				break
			}
		}
	}
	if s.Traits&outline.Handler == 0 {
		return narrow > 0
	}
	return types > 0 && narrow == types || f.cleanup(s) || f.promiseCleanup(s)
}

// cleaners are methods whose failure nobody can do anything about.
var cleaners = map[string]bool{
	"close": true, "Close": true, "closeQuietly": true, "Dispose": true, "dispose": true, "shutdown": true, "Shutdown": true, "cancel": true, "Cancel": true, "unlink": true, "unlinkSync": true,
	"remove": true, "Delete": true, "delete": true, "kill": true, "Kill": true, "disconnect": true, "abort": true, "Abort": true, "release": true, "destroy": true, "terminate": true, "rmdir": true, "rmtree": true,
	"sleep": true, "Sleep": true, "join": true, "wait": true, "stop": true, "Stop": true, "removeListener": true, "rmSync": true, "end": true, "flush": true, "interrupt": true, "rollback": true, "Rollback": true, "require": true, "unsubscribe": true, "unregister": true, "deleteIfExists": true, "clearTimeout": true,
}

// promiseCleanup tells whether a handler hangs on a call that only closes or
// removes: session.end().catch(() => {}).
func (f *File) promiseCleanup(s *outline.Scope) bool {
	open := s.Head - 1
	if f.Kind(open) != '(' || f.Kind(open-1) != lex.Ident || f.Kind(open-2) != '.' || f.Kind(open-3) != ')' {
		return false
	}
	before := f.Lex.Partner[open-3]
	return before > 0 && f.Kind(before-1) == lex.Ident && cleaner(f.Text(before-1))
}

// Shrugged tells whether a failure path that does nothing may well be meant
// so: a comment stands above its try block, its try block only asks whether
// something is there, or it hangs on a promise that others hold as well.
func (f *File) Shrugged(s *outline.Scope) bool {
	open := s.Head - 1
	if f.Kind(open) == '(' && f.Kind(open-2) == '.' && f.Kind(open-3) == lex.Ident {
		return true
	}
	t := f.tryOf(s)
	if t == nil {
		return false
	}
	start := f.Lex.Tokens[t.Head].Start
	at, _ := slices.BinarySearchFunc(f.Lex.Comments, start, func(c lex.Token, p uint32) int { return int(c.Start) - int(p) })
	if at > 0 && f.Src.Line(f.Lex.Comments[at-1].End-1)+1 == f.Src.Line(start) {
		return true
	}
	for i := t.Open; i < min(t.Close, t.Open+16); i++ {
		if f.Kind(i) == lex.Ident && f.Kind(i+1) == '(' {
			switch f.Text(i) {
			case "statSync", "stat", "lstat", "lstatSync", "access", "accessSync", "existsSync", "Stat", "Lstat", "exists":
				return true
			}
			return false
		}
	}
	return false
}

// cleanup tells whether the try block before a handler only closes, removes
// or waits.
func (f *File) cleanup(s *outline.Scope) bool {
	t := f.tryOf(s)
	if t == nil || t.Parent != s.Parent {
		return false
	}
	calls := 0
	for i := t.Open; i < min(t.Close, t.Open+40); i++ {
		if f.Kind(i) == lex.Ident && f.Kind(i+1) == '(' {
			calls++
			if !cleaner(f.Text(i)) {
				return false
			}
			i = f.Skip(i+1) - 1 // what is cleaned up does not matter
		}
		if f.Kind(i) == '=' {
			return false
		}
	}
	return calls > 0 && t.Close < t.Open+40
}

// cleaner tells whether a method is one of cleaners or has one's name at its
// beginning: deleteFile, endSession.
func cleaner(method string) bool {
	if cleaners[method] {
		return true
	}
	for n := 1; n < len(method); n++ {
		if c := method[n]; (c >= 'A' && c <= 'Z' || c == '_') && cleaners[strings.ToLower(method[:1])+method[1:n]] {
			return true
		}
	}
	return false
}

// Docstring tells whether a token begins an expression statement that is only
// a string.
func (f *File) Docstring(i int32) bool {
	return f.Kind(i) == lex.String && f.Spec.Features.Has(lang.IndentBlocks) && int(i)+1 < len(f.Lex.Tokens) && f.Lex.Tokens[i+1].Flags&lex.StmtStart != 0
}
