// Package analyze takes one file from bytes to result: tokens, outline,
// calls, tally and findings. It does no input or output; the driver, tests
// and benchmarks all call it.
package analyze

import (
	"fmt"
	"slices"
	"sort"

	"reed/internal/calls"
	"reed/internal/catalog"
	"reed/internal/lang"
	"reed/internal/lex"
	"reed/internal/model"
	"reed/internal/outline"
	"reed/internal/rule"
	"reed/internal/source"
)

// Options say what is wanted of each file.
type Options struct {
	Calls bool         // the call records
	Tally bool         // counts for coverage
	At    model.Level  // coverage as it is left at this threshold
	Parts string       // also count calls by "library" or "logger"
	Rules []*rule.Rule // the rules to run

	Tests    bool            // keep test code that stands inside other files
	Discover bool            // look for wrappers, and remember the names that files call
	Wrappers *calls.Wrappers // wrappers of the tree; calls to them are calls
}

// Result is what one file gave.
type Result struct {
	File        string
	Module      string
	Language    string
	Calls       []model.Call
	Findings    []model.Finding
	Tally       model.Tally
	Parts       map[string]*model.Tally // calls by library or logger, when asked for
	Diagnostics []model.Diagnostic
	Index       int             // place of the file in its tree, set by the driver
	Wrappers    []calls.Wrapper // functions of this file that log for their callers
	Called      []uint32        // hashes of the names that the file calls, sorted
}

// Analyzer reads files one after the other with memory that it uses again.
// It is not safe for concurrent use.
type Analyzer struct {
	Options
	Unit string // dotted module name of the next file, where its language has such names
	file calls.File
	src  source.File
}

// New returns an analyzer.
func New(o Options) *Analyzer { return &Analyzer{Options: o} }

// Release gives back memory that a very large file took.
func (a *Analyzer) Release() { a.file, a.src = calls.File{}, source.File{} }

// File analyses the decoded text of one file. path is the file's name as it is
// printed, rel its place below the root of the scan. The text is not kept.
func (a *Analyzer) File(spec *lang.Spec, path, rel string, text []byte, module string, test bool) *Result {
	r := &Result{File: path, Module: module, Language: spec.Name}
	cat, err := catalog.For(spec.Name)
	if err != nil {
		r.Diagnostics = append(r.Diagnostics, model.Diagnostic{File: path, Text: err.Error()})
		return r
	}
	a.src.Reset(path, text)
	f := &a.file
	f.Spec, f.Cat, f.Src, f.Unit = spec, cat, &a.src, a.Unit
	f.Wrappers, f.Collect = a.Wrappers, a.Discover
	f.Read()
	if a.Discover {
		r.Wrappers, r.Called = f.FindWrappers(), f.Called()
	}
	for _, b := range f.Lex.Broken {
		what := "this bracket, string or comment never ends; what follows may be read wrongly"
		r.Diagnostics = append(r.Diagnostics, model.Diagnostic{File: path, Line: a.src.Line(b.Start), Text: what})
		break
	}
	if f.More >= 0 {
		r.Diagnostics = append(r.Diagnostics, model.Diagnostic{File: path, Line: a.src.Line(f.Lex.Tokens[f.More].Start), Text: fmt.Sprintf("only the first %d calls of this file are shown; the calls from here on are missing from the result", len(f.Sites))})
	}
	for i := range f.Sites {
		f.Sites[i].Module, f.Sites[i].Test = module, test
		f.Sites[i].Test = test || inTests(f, f.Sites[i].First)
	}
	if len(f.Out.Tests) > 0 && !a.Tests {
		f.Sites = slices.DeleteFunc(f.Sites, func(s calls.Site) bool { return s.Test && !test })
	}
	if a.Calls {
		r.Calls = make([]model.Call, len(f.Sites))
		for i := range f.Sites {
			r.Calls[i] = f.Sites[i].Call
		}
	}
	var outcomes []calls.Outcome
	if a.Tally || len(a.Rules) > 0 {
		outcomes = f.Outcomes()
		if len(f.Out.Tests) > 0 && !a.Tests && !test {
			outcomes = slices.DeleteFunc(outcomes, func(o calls.Outcome) bool { return inTests(f, f.Out.Scopes[o.Scope].Head) })
		}
	}
	if a.Tally {
		a.tally(r, outcomes)
	}
	if len(a.Rules) > 0 {
		a.judge(r, rel, outcomes)
	}
	return r
}

// inTests tells whether a token stands in test code inside a file.
func inTests(f *calls.File, i int32) bool {
	for _, span := range f.Out.Tests {
		if i >= span.From && i < span.To {
			return true
		}
	}
	return false
}

func (a *Analyzer) judge(r *Result, rel string, outcomes []calls.Outcome) {
	p := rule.NewPass(&a.file, outcomes, r.Module, func(f model.Finding) { r.Findings = append(r.Findings, f) })
	prepare(p, rel)
	for _, check := range a.Rules {
		p.Run(check)
	}
	sort.SliceStable(r.Findings, func(i, j int) bool {
		x, y := &r.Findings[i], &r.Findings[j]
		if x.Line != y.Line {
			return x.Line < y.Line
		}
		if x.Column != y.Column {
			return x.Column < y.Column
		}
		return x.Rule < y.Rule
	})
}

// tally counts what coverage reports.
func (a *Analyzer) tally(r *Result, outcomes []calls.Outcome) {
	f, t := &a.file, &r.Tally
	t.Files = 1
	for i := range f.Lex.Tokens {
		if f.Lex.Tokens[i].Flags&lex.LineStart != 0 {
			t.CodeLines++
		}
	}
	kept := func(s *calls.Site) bool {
		return a.At == model.NoLevel || s.Kind == model.KindLog && (s.Level == model.NoLevel || s.Level >= a.At)
	}
	calling := map[int32]bool{}
	opening := map[int32]bool{}
	for i := range f.Sites {
		s := &f.Sites[i]
		if !kept(s) {
			continue
		}
		one := model.Tally{}
		if s.Kind == model.KindPrint {
			one.Prints++
		} else {
			one.Calls++
			one.Levels[s.Level]++
			if s.Level == model.NoLevel {
				one.Unlevelled++
			}
			if s.Shape != model.Bare && !s.Inside { // a wrapper hands on what its callers say
				one.Messages++
				if s.Shape == model.Template || s.Shape == model.Constant {
					one.Templates++
				}
			}
			if at := f.Out.Enclosing(s.Scope, outline.Func); at >= 0 {
				calling[at] = true
				open := f.Out.Scopes[at].Open
				if f.Docstring(open) {
					open++
				}
				opening[at] = opening[at] || s.First == open
			}
		}
		t.Add(&one)
		switch a.Parts {
		case "library":
			part(r, s.Library, "(by name only)").Add(&one)
		case "logger":
			if s.Kind == model.KindLog {
				part(r, s.Logger, "(no name)").Add(&one)
			}
		}
	}
	for at := range f.Out.Scopes {
		s := &f.Out.Scopes[at]
		if s.Kind != outline.Func || s.Traits&outline.Bodyless != 0 {
			continue
		}
		t.Functions++
		public := s.Traits&outline.Public != 0
		if public {
			t.Public++
		}
		if calling[int32(at)] {
			t.Logging++
			if public {
				t.PublicLogging++
			}
		}
		if opening[int32(at)] {
			t.Opening++
		}
	}
	for i := range outcomes {
		a.tallyFailure(t, &outcomes[i])
	}
}

// part returns the tally of one library or logger in the file.
func part(r *Result, name, none string) *model.Tally {
	if name == "" {
		name = none
	}
	if r.Parts == nil {
		r.Parts = map[string]*model.Tally{}
	}
	if r.Parts[name] == nil {
		r.Parts[name] = &model.Tally{Files: 1}
	}
	return r.Parts[name]
}

func (a *Analyzer) tallyFailure(t *model.Tally, o *calls.Outcome) {
	t.Failures++
	logged := o.Logged && (a.At == model.NoLevel || o.Loudest == model.NoLevel || o.Loudest >= a.At)
	switch {
	case logged:
		t.FailuresLogged++
	case o.Passed:
		t.FailuresPassed++
	case o.Returned || o.Handled || o.Printed || o.Said || o.Narrow:
		if o.Logged && !o.Returned {
			t.FailuresSilent++ // what it logs is below the threshold
			return
		}
		t.FailuresHandled++
	default:
		t.FailuresSilent++
	}
}
