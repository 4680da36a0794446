// Package rule holds the types that rules are made of: a rule, what it is
// given, and how it reports.
package rule

import (
	"fmt"
	"hash/fnv"
	"sort"
	"strings"

	"reed/internal/calls"
	"reed/internal/model"
)

// Concern groups rules by what they look after.
type Concern string

// The concerns.
const (
	Level   Concern = "level"
	Message Concern = "message"
	Print   Concern = "print"
	Context Concern = "context"
	Secret  Concern = "secret"
)

// Concerns lists all concerns in the order of the documentation.
var Concerns = []Concern{Level, Message, Print, Context, Secret}

// Example shows bad code and the same code put right. Bad makes the rule fire
// at least once, Good does not; both are whole files.
type Example struct {
	Language, Bad, Good string
}

// Rule is one check.
type Rule struct {
	Name       string
	Concern    Concern
	Severity   model.Severity
	Confidence string // high, medium or low
	Summary    string // one line
	Reason     string
	Exceptions string // when not to follow it
	Examples   []Example
	Check      func(*Pass)
}

// Pass is a rule's whole world: one file that has been read, and a way to
// report. Outcomes are the file's failure paths.
type Pass struct {
	*calls.File
	Outcomes []calls.Outcome
	Module   string
	// Program tells that the file belongs to a command-line program or script
	// whose output prints are.
	Program bool
	// Masks are byte ranges of the text that hold secrets, in order; evidence
	// shows them as stars.
	Masks []Range

	rule *Rule
	emit func(model.Finding)
	seen map[string]int
}

// Range is a range of bytes of the text.
type Range struct{ From, To uint32 }

// NewPass returns a pass over a file whose findings go to emit.
func NewPass(f *calls.File, outcomes []calls.Outcome, module string, emit func(model.Finding)) *Pass {
	return &Pass{File: f, Outcomes: outcomes, Module: module, emit: emit, seen: map[string]int{}}
}

// Run lets one rule look at the file.
func (p *Pass) Run(r *Rule) {
	p.rule = r
	r.Check(p)
}

// Note is a finding before its place is filled in.
type Note struct {
	From, To   int32 // tokens
	Scope      int32
	Text       string
	Remedy     string
	Severity   model.Severity // "" for the rule's own
	Confidence string         // "" for the rule's own
}

// Report reports a finding at tokens n.From up to n.To.
func (p *Pass) Report(n Note) {
	toks := p.Lex.Tokens
	to := max(n.To, n.From+1)
	start, end := toks[n.From].Start, toks[to-1].End
	m := model.Finding{
		Rule: p.rule.Name, Concern: string(p.rule.Concern), Severity: p.rule.Severity, Confidence: p.rule.Confidence,
		File: p.Src.Path, Module: p.Module, Function: p.FunctionName(n.Scope), Text: p.hide(n.Text, start, end), Remedy: p.hide(n.Remedy, start, end),
	}
	if n.Severity != "" {
		m.Severity = n.Severity
	}
	if n.Confidence != "" {
		m.Confidence = n.Confidence
	}
	m.Line, m.Column = p.Src.Position(start)
	m.EndLine, m.EndColumn = p.Src.Position(end - 1)
	m.EndColumn++
	m.Evidence = strings.Join(strings.Fields(p.masked(start, min(end, start+excerpt))), " ")
	if len(m.Evidence) > 400 {
		m.Evidence = strings.ToValidUTF8(m.Evidence[:400], "") + "…"
	}
	from := start - uint32(m.Column-1)
	lineEnd := from + uint32(len(p.Src.LineText(m.Line)))
	from, lineEnd = max(from, start-min(start, excerpt)), min(lineEnd, start+excerpt)
	m.SourceLine, m.SourceColumn = p.masked(from, lineEnd), int(start-from)
	key := m.Rule + "\x00" + m.File + "\x00" + m.Function + "\x00" + m.Evidence
	p.seen[key]++
	h := fnv.New64a()
	fmt.Fprintf(h, "%s\x00%d", key, p.seen[key])
	m.Fingerprint = fmt.Sprintf("%016x", h.Sum64())
	p.emit(m)
}

// excerpt is how many bytes of source a finding shows at most on either side
// of where it begins; lines of a megabyte are not rare.
const excerpt = 1000

// masksIn returns the masks that touch a range of the text.
func (p *Pass) masksIn(from, to uint32) []Range {
	first := sort.Search(len(p.Masks), func(i int) bool { return p.Masks[i].To > from })
	last := first
	for last < len(p.Masks) && p.Masks[last].From < to {
		last++
	}
	return p.Masks[first:last]
}

// masked returns a range of the text with secrets starred out.
func (p *Pass) masked(from, to uint32) string {
	text := append([]byte(nil), p.Src.Text[from:to]...)
	for _, m := range p.masksIn(from, to) {
		for i := max(m.From, from); i < min(m.To, to); i++ {
			if c := text[i-from]; c != '\n' && c != '\r' {
				text[i-from] = '*'
			}
		}
	}
	return string(text)
}

// hide stars out secrets of a range that a sentence about it quotes.
func (p *Pass) hide(s string, from, to uint32) string {
	for _, m := range p.masksIn(from, min(to, from+excerpt)) {
		if secret := string(p.Src.Text[m.From:m.To]); len(secret) > 3 {
			s = strings.ReplaceAll(s, secret, strings.Repeat("*", 8))
		}
	}
	return s
}

// Validate tells what is wrong with a list of rules, nil when nothing is.
func Validate(rules []*Rule) error {
	names := map[string]bool{}
	for _, r := range rules {
		switch {
		case names[r.Name]:
			return fmt.Errorf("rule %s is listed twice", r.Name)
		case r.Summary == "" || r.Reason == "" || r.Exceptions == "" || r.Check == nil:
			return fmt.Errorf("rule %s lacks its summary, reason, exceptions or check", r.Name)
		case r.Severity.Rank() == 0:
			return fmt.Errorf("rule %s has severity %q", r.Name, r.Severity)
		case len(r.Examples) < 3:
			return fmt.Errorf("rule %s has %d examples; three languages are wanted", r.Name, len(r.Examples))
		}
		names[r.Name] = true
	}
	return nil
}
