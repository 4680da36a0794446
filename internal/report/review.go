package report

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"sort"
	"strings"

	"github.com/mattn/go-runewidth"

	"reed/internal/coverage"
	"reed/internal/model"
	"reed/internal/rule"
	"reed/internal/scan"
)

// Review writes findings while they come, file by file.
type Review struct {
	w      io.Writer
	format string
	look   Look
	p      painter
	notes  bool

	module   string
	begun    bool
	hidden   int
	files    int
	counts   map[model.Severity]int
	rules    map[string]int
	concerns map[string]int
	ruleOf   map[string]string
}

// NewReview returns a writer of findings as text, json or jsonl. Text shows
// notes only when notes is set.
func NewReview(w io.Writer, format string, look Look, notes bool) *Review {
	return &Review{w: w, format: format, look: look, p: painter{look.Color}, notes: notes,
		counts: map[model.Severity]int{}, rules: map[string]int{}, concerns: map[string]int{}, ruleOf: map[string]string{}}
}

// Counts returns how many findings of each severity there were.
func (r *Review) Counts() map[model.Severity]int { return r.counts }

func encode(v any) ([]byte, error) {
	var b bytes.Buffer
	enc := json.NewEncoder(&b)
	enc.SetEscapeHTML(false)
	err := enc.Encode(v)
	return bytes.TrimSuffix(b.Bytes(), []byte("\n")), err
}

// File writes the findings of one file.
func (r *Review) File(module, file string, findings []model.Finding) error {
	if len(findings) == 0 {
		return nil
	}
	shown := findings[:0:0]
	for i := range findings {
		f := &findings[i]
		r.counts[f.Severity]++
		if f.Severity == model.SeverityNote && !r.notes && r.format == "text" {
			r.hidden++
			continue
		}
		r.rules[f.Rule]++
		r.concerns[f.Concern]++
		r.ruleOf[f.Rule] = f.Concern
		shown = append(shown, *f)
	}
	if len(shown) == 0 {
		return nil
	}
	r.files++
	if r.format != "text" {
		return r.json(shown)
	}
	return r.text(module, file, shown)
}

func (r *Review) json(findings []model.Finding) error {
	for i := range findings {
		data, err := encode(&findings[i])
		if err != nil {
			return err
		}
		before, after := "", "\n"
		if r.format == "json" {
			before, after = ",\n    ", ""
			if !r.begun {
				before = "{\n  \"findings\": [\n    "
			}
		}
		r.begun = true
		if _, err := io.WriteString(r.w, before+string(data)+after); err != nil {
			return err
		}
	}
	return nil
}

func (r *Review) text(module, file string, findings []model.Finding) error {
	var b strings.Builder
	if module != r.module || !r.begun {
		b.WriteString(r.p.bold(Clean(module)) + "\n")
	}
	r.module, r.begun = module, true
	for i := range findings {
		r.finding(&b, &findings[i])
	}
	_, err := io.WriteString(r.w, b.String())
	return err
}

func (r *Review) finding(b *strings.Builder, f *model.Finding) {
	place := Clean(fmt.Sprintf("%s:%d:%d", f.File, f.Line, f.Column))
	in := ""
	if f.Function != "" {
		in = " in " + Clean(f.Function)
	}
	b.WriteString("  " + place)
	room := r.look.Width - 2 - runewidth.StringWidth(place)
	if need := 2 + len(f.Severity) + 1 + len(f.Rule) + runewidth.StringWidth(in); need <= room {
		b.WriteString("  ")
	} else { // a place is never cut, so that it can be opened
		b.WriteString("\n      ")
		in = fit(in, r.look.Width-7-len(f.Severity)-len(f.Rule))
	}
	b.WriteString(r.p.severity(f.Severity, string(f.Severity)) + " " + f.Rule + r.p.faint(in) + "\n")
	line, mark := r.excerpt(f)
	b.WriteString("      " + line + "\n")
	if mark != "" {
		b.WriteString("      " + mark + "\n")
	}
	b.WriteString("      " + wrap(Clean(f.Text), r.look.Width-6, 6) + "\n")
	b.WriteString("      " + r.p.paint("→ ", levelColors[model.Info]) + wrap(Clean(f.Remedy), r.look.Width-8, 8) + "\n\n")
}

// excerpt returns the source line of a finding, cut to the width around the
// place, and a line that marks it.
func (r *Review) excerpt(f *model.Finding) (line, mark string) {
	src := f.SourceLine
	from := min(f.SourceColumn, len(src))
	to := len(src)
	if f.EndLine == f.Line {
		to = min(from+f.EndColumn-f.Column, len(src))
	}
	before, what, after := Clean(src[:from]), Clean(src[from:to]), Clean(src[to:])
	before = strings.TrimLeft(before, " ")
	room := r.look.Width - 8
	if over := runewidth.StringWidth(before+what) - room; over > 0 && runewidth.StringWidth(before) > 20 {
		keep := max(runewidth.StringWidth(before)-over-1, 12)
		before = "…" + runewidth.TruncateLeft(before, runewidth.StringWidth(before)-keep, "")
	}
	if runewidth.StringWidth(before+what) > room {
		what, after = fit(what, room-runewidth.StringWidth(before)), ""
	}
	after = fit(after, room-runewidth.StringWidth(before+what))
	n := max(runewidth.StringWidth(what), 1)
	mark = strings.Repeat(" ", runewidth.StringWidth(before)) + r.p.severity(f.Severity, "╰"+strings.Repeat("─", max(n-2, 0))+"╯")
	if n == 1 {
		mark = strings.Repeat(" ", runewidth.StringWidth(before)) + r.p.severity(f.Severity, "┴")
	}
	return r.p.faint(before) + what + r.p.faint(after), mark
}

// summary is the form of the summary in JSON.
type summary struct {
	Errors   int            `json:"errors"`
	Warnings int            `json:"warnings"`
	Notes    int            `json:"notes"`
	Files    int            `json:"files"`
	Lines    int            `json:"code_lines"`
	Calls    int            `json:"calls"`
	Rules    map[string]int `json:"rules"`
	LeftOut  scan.LeftOut   `json:"left_out"`
}

// End closes the review: modules, diagnostics and summary of a document, or a
// summary for people.
func (r *Review) End(rows []coverage.Row, total coverage.Row, calls []model.Call, diagnostics []model.Diagnostic, left scan.LeftOut) error {
	if r.format == "jsonl" {
		return nil
	}
	if r.format == "json" {
		return r.endJSON(rows, total, calls, diagnostics, left)
	}
	var b strings.Builder
	if r.begun {
		b.WriteString(r.p.bold("Summary") + "\n")
	}
	errors, warnings, notes := r.counts[model.SeverityError], r.counts[model.SeverityWarning], r.counts[model.SeverityNote]
	if errors+warnings+notes == 0 {
		fmt.Fprintf(&b, "Nothing to report in %s (%s, %s).\n", plural(total.Files, "file"), plural(total.CodeLines, "code line"), plural(total.Calls, "logging call"))
	} else {
		e, w := plural(errors, "error"), plural(warnings, "warning")
		text := wrap(fmt.Sprintf("%s, %s and %s in %s (%s, %s).", glue(e), glue(w), glue(plural(notes, "note")), glue(plural(total.Files, "file")), glue(plural(total.CodeLines, "code line")), glue(plural(total.Calls, "logging call"))), r.look.Width-2, 2)
		text = strings.ReplaceAll(text, "\x00", " ")
		text = strings.Replace(text, e, r.p.severity(model.SeverityError, e), 1)
		b.WriteString("  " + strings.Replace(text, w, r.p.severity(model.SeverityWarning, w), 1) + "\n")
	}
	for _, c := range rule.Concerns {
		if r.concerns[string(c)] == 0 {
			continue
		}
		var names []string
		for name, concern := range r.ruleOf {
			if concern == string(c) {
				names = append(names, name)
			}
		}
		sort.Slice(names, func(i, j int) bool {
			if r.rules[names[i]] != r.rules[names[j]] {
				return r.rules[names[i]] > r.rules[names[j]]
			}
			return names[i] < names[j]
		})
		for i, n := range names {
			names[i] = glue(fmt.Sprintf("%s %d", n, r.rules[n]))
		}
		text := strings.ReplaceAll(wrap(strings.Join(names, ", "), r.look.Width-20, 20), "\x00", " ")
		fmt.Fprintf(&b, "  %s %s  %s\n", padLeft(thousands(r.concerns[string(c)]), 6), pad(string(c), 9), text)
	}
	if r.hidden > 0 {
		fmt.Fprintf(&b, "  %s: show with --notes.\n", plural(r.hidden, "note")+" not shown")
	}
	if l := leftOut(left); l != "" {
		b.WriteString(r.p.faint("  "+wrap(l, r.look.Width-2, 2)) + "\n")
	}
	_, err := io.WriteString(r.w, b.String())
	return err
}

// glue keeps the words of a text on one line when it is wrapped; NUL bytes
// stand for its blanks until then.
func glue(s string) string { return strings.ReplaceAll(s, " ", "\x00") }

func (r *Review) endJSON(rows []coverage.Row, total coverage.Row, calls []model.Call, diagnostics []model.Diagnostic, left scan.LeftOut) error {
	var b strings.Builder
	if !r.begun {
		b.WriteString("{\n  \"findings\": [")
	}
	b.WriteString("\n  ]")
	if diagnostics == nil {
		diagnostics = []model.Diagnostic{}
	}
	parts := []struct {
		name  string
		value any
	}{{"modules", rows}, {"diagnostics", diagnostics}, {"summary", summary{r.counts[model.SeverityError], r.counts[model.SeverityWarning], r.counts[model.SeverityNote], total.Files, total.CodeLines, total.Calls, r.rules, left}}}
	for _, part := range parts {
		data, err := encode(part.value)
		if err != nil {
			return err
		}
		fmt.Fprintf(&b, ",\n  %q: %s", part.name, data)
	}
	if calls != nil {
		b.WriteString(",\n  \"calls\": [")
		for i := range calls {
			data, err := encode(&calls[i])
			if err != nil {
				return err
			}
			if i > 0 {
				b.WriteByte(',')
			}
			b.WriteString("\n    " + string(data))
		}
		b.WriteString("\n  ]")
	}
	b.WriteString("\n}\n")
	_, err := io.WriteString(r.w, b.String())
	return err
}
