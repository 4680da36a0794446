// Package outline finds the shape of a file in its tokens: types, functions,
// lambdas, failure paths, loops, level tests and call expressions. It needs no
// grammar of a language, only its table; what it cannot make sense of it walks
// over, so any tokens give an outline.
package outline

import (
	"strings"
	"sync"

	"reed/internal/lang"
	"reed/internal/lex"
)

// Kind tells what a scope is.
type Kind uint8

// The kinds of scopes.
// maxHeader is how many tokens the header of a statement or the arguments of a
// command may have, those in brackets aside: what never ends would be read
// again from each header in it.
const maxHeader = 1000

const (
	File Kind = iota
	Type
	Func
	Lambda
	Loop    // the body of a loop, or of a function handed to plain iteration
	Failure // runs only because something failed
	Guard   // under a level test
	Branch  // the body of another if, else or case
	Try     // the body whose failures a handler gets
	Finally
)

// Trait is a property of a scope.
type Trait uint8

// The traits.
const (
	Public    Trait = 1 << iota // a function or type visible outside its unit
	Bodyless                    // a function without a body
	Handler                     // a Failure that catches (as against a tested error value)
	ElseArm                     // a Branch that is an else, or a Failure reached by else
	Anonymous                   // a type without a name
	Selector                    // a function whose name goes on behind its parameters
)

// Scope is a region of tokens. Scopes form a tree; the first is the file.
type Scope struct {
	Kind   Kind
	Traits Trait
	Parent int32
	Head   int32 // first token of the header
	Open   int32 // first token of the body
	Close  int32 // one behind the last token of the body
	Name   int32 // token of the name; Failure: of the error variable; -1 when there is none
	Recv   int32 // Func: token of the receiver type's name when it is written apart from the type, else 0
	// Func: the tokens of the parameter list, without brackets. Failure: of
	// the types caught or the condition. Loop: of the header.
	ParamsFrom, ParamsTo int32
}

// Call is one call expression.
type Call struct {
	Name  int32 // token of the method or function name
	Open  int32 // token of the opening bracket; -1 for a call without one
	Scope int32
	// The tokens of the arguments of a call without brackets; 0, 0 for others.
	From, To int32
	Block    bool // the arguments are a block that gives the message
}

// Import is one import of a name or module.
type Import struct {
	Path  string // what is imported: "logging.handlers", "org.slf4j.Logger", "log/slog", "./util"
	Local string // the name it has in this file; "" when it brings in all names
	Token int32
}

// Span is a range of tokens.
type Span struct{ From, To int32 }

// Outline is the shape of one file. Its slices are reused.
type Outline struct {
	Scopes  []Scope
	Calls   []Call
	Imports []Import
	Package string   // package or namespace of the file, dotted
	Tests   []Span   // tokens of test code inside a file
	Called  []uint32 // hashes of the names that are called, when Names.Hash is given
}

// Names is what the outline must recognise besides the language itself.
type Names struct {
	// Candidate tells whether a name may be that of a logging call or print.
	Candidate func(name []byte) bool
	// LevelTest tells whether a name may be that of a level test.
	LevelTest func(name []byte) bool
	// Hash, when given, is applied to the name of every call.
	Hash func(name []byte) uint32
}

// maxDepth bounds recursion; deeper code is walked flat.
const maxDepth = 1000

type words struct {
	failureCalls, loopCalls, eventCalls, failureEvents, failureKeys, secondHandler map[string]bool
}

var wordSets sync.Map

func wordsOf(spec *lang.Spec) *words {
	if w, ok := wordSets.Load(spec); ok {
		return w.(*words)
	}
	set := func(list []string) map[string]bool {
		m := make(map[string]bool, len(list))
		for _, s := range list {
			m[s] = true
		}
		return m
	}
	w := &words{set(spec.FailureCalls), set(spec.LoopCalls), set(spec.EventCalls), set(spec.FailureEvents), set(spec.FailureKeys), set(spec.SecondHandler)}
	wordSets.Store(spec, w)
	return w
}

type parser struct {
	*Outline
	toks     []lex.Token
	partner  []int32
	src      []byte
	f        lang.Feature
	words    *words
	names    Names
	depth    int
	arrow    lex.Kind // the token between the parameters and the body of a lambda
	declared int32    // name in the latest const, let or var statement
	held     int32    // name of the field whose value is being walked, -1 outside
	opens    []int32  // brackets open in the expressions being walked
}

// Build fills out from the tokens of src.
func Build(spec *lang.Spec, src []byte, res *lex.Result, names Names, out *Outline) {
	out.Called, out.Tests = out.Called[:0], out.Tests[:0]
	out.Scopes, out.Calls, out.Imports, out.Package = out.Scopes[:0], out.Calls[:0], out.Imports[:0], ""
	p := &parser{Outline: out, toks: res.Tokens, partner: res.Partner, src: src, f: spec.Features, words: wordsOf(spec), names: names, held: -1}
	switch {
	case p.f.Has(lang.AnonymousTypes):
		p.arrow = lex.ThinArrow
	case !p.f.Has(lang.BareHeaders) && p.f.Has(lang.BraceBlocks) && (!p.f.Has(lang.KeywordFuncs) || p.f.Has(lang.OptionalBraces)):
		p.arrow = lex.Arrow
	}
	if p.f.Has(lang.KeywordFuncs | lang.Islands) {
		p.arrow = lex.None
	}
	n := int32(len(p.toks))
	p.Scopes = append(p.Scopes, Scope{Kind: File, Parent: -1, Close: n, Name: -1})
	switch {
	case p.f.Has(lang.IndentBlocks):
		p.suite(0, n, -1, 0)
	case p.f.Has(lang.Commands | lang.EndBlocks):
		p.shell(0, n, 0)
	case p.f.Has(lang.EndBlocks):
		for i := int32(0); i < n; {
			i = max(p.ruby(i, n, 0), i) + 1 // an end without a beginning ends nothing
		}
	case p.f.Has(lang.BeginEnd):
		p.pascal(0, n)
	case p.f.Has(lang.Elements):
		p.elements(n)
	default:
		p.statements(0, n, 0)
	}
}

// kind returns the kind of token i, None outside the file.
func (p *parser) kind(i int32) lex.Kind {
	if i < 0 || int(i) >= len(p.toks) {
		return lex.None
	}
	return p.toks[i].Kind
}

func (p *parser) role(i int32) lang.Role { return p.kind(i).Role() }

func (p *parser) text(i int32) []byte {
	if i < 0 || int(i) >= len(p.toks) {
		return nil
	}
	t := p.toks[i]
	return p.src[t.Start:t.End]
}

func (p *parser) is(i int32, word string) bool { return string(p.text(i)) == word }

func (p *parser) fresh(i int32) bool {
	return int(i) < len(p.toks) && p.toks[i].Flags&lex.LineStart != 0
}

// skip returns the index behind token i, or behind its partner if i opens a
// bracket or string.
func (p *parser) skip(i int32) int32 {
	if i >= 0 && int(i) < len(p.partner) && p.partner[i] > i {
		return p.partner[i] + 1
	}
	return i + 1
}

// newScope opens a scope and returns its index.
func (p *parser) newScope(s Scope) int32 {
	n := int32(len(p.toks))
	s.Open, s.Close = min(s.Open, n), min(s.Close, n)
	p.Scopes = append(p.Scopes, s)
	return int32(len(p.Scopes) - 1)
}

// within opens a scope over tokens from to end, runs walk with it and closes
// it where walk stopped.
func (p *parser) within(s Scope, walk func(scope int32) int32) int32 {
	at := p.newScope(s)
	end := walk(at)
	p.Scopes[at].Close = max(min(end, int32(len(p.toks))), p.Scopes[at].Open)
	return end
}

// block walks the statements between token open and its partner inside a new
// scope, and returns the index behind the closing brace.
func (p *parser) block(s Scope, open, end int32) int32 {
	inner, after := p.inside(open, end)
	s.Open, s.Close = open+1, inner
	at := p.newScope(s)
	p.statements(open+1, inner, at)
	return after
}

// inside returns where the inside of the bracket at open ends and what
// follows its partner; an unmatched bracket runs to end.
func (p *parser) inside(open, end int32) (inner, after int32) {
	if c := p.partner[open]; c > open && c < end {
		return c, c + 1
	}
	return end, end
}

// callName records the call whose name is token i and whose bracket is open,
// if the name is of interest.
func (p *parser) callName(i, open, scope int32) {
	if p.names.Hash != nil {
		p.Called = append(p.Called, p.names.Hash(p.text(i)))
	}
	if p.names.Candidate(p.text(i)) {
		p.Calls = append(p.Calls, Call{Name: i, Open: open, Scope: scope})
	}
}

// statements walks statement after statement from i to end.
func (p *parser) statements(i, end, scope int32) {
	if p.depth >= maxDepth {
		p.flat(i, end, scope)
		return
	}
	p.depth++
	for i < end {
		next := p.statement(i, end, scope)
		if next <= i {
			next = i + 1
		}
		i = next
	}
	p.depth--
}

// flat records calls without any structure: what is nested too deep.
func (p *parser) flat(i, end, scope int32) {
	for ; i < end; i++ {
		if p.kind(i) == lex.Ident && p.kind(i+1) == '(' {
			p.callName(i, i+1, scope)
		}
	}
}

// Enclosing returns the nearest scope from at outward whose kind is one of
// kinds, or -1.
func (o *Outline) Enclosing(at int32, kinds ...Kind) int32 {
	for ; at >= 0; at = o.Scopes[at].Parent {
		for _, k := range kinds {
			if o.Scopes[at].Kind == k {
				return at
			}
		}
	}
	return -1
}

// IsErrorName reports whether a variable of that name holds an error by the
// custom of the languages that test errors as values.
func IsErrorName(name string) bool {
	switch strings.TrimLeft(name, "_$") {
	case "err", "error", "er", "e", "ex", "exc", "exception", "cause", "errs", "failure", "throwable":
		return true
	}
	lower := strings.ToLower(name)
	for _, flag := range []string{"is", "has", "on"} { // isError is a flag
		if rest, ok := strings.CutPrefix(name, flag); ok && rest != "" && rest[0] >= 'A' && rest[0] <= 'Z' {
			return false
		}
	}
	if len(lower) <= 4 {
		return strings.HasSuffix(lower, "err")
	}
	return strings.HasSuffix(name, "Err") || strings.HasSuffix(name, "Error") || strings.HasSuffix(name, "Exception") || strings.HasSuffix(name, "Ex") || strings.HasSuffix(name, "Exc") ||
		strings.HasSuffix(lower, "_err") || strings.HasSuffix(lower, "_error") || strings.HasSuffix(lower, "_exc") || strings.HasSuffix(lower, "_exception") ||
		len(name) > 3 && (strings.HasPrefix(name, "err") && (name[3] >= 'A' && name[3] <= 'Z' || name[3] >= '0' && name[3] <= '9'))
}
