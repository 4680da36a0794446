package report

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"errors"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"reed/internal/coverage"
	"reed/internal/model"
	"reed/internal/rules"
	"reed/internal/scan"
)

func TestClean(t *testing.T) {
	for in, want := range map[string]string{
		"plain höhe": "plain höhe", "a\nb\r\tc": `a\nb\r c`, "\x1b[31mred": `\x1b[31mred`, "bad\xffbyte": `bad\xffbyte`, "\u202eback": `\u202eback`, "a\u200bb": `a\u200bb`, "\u009b1m": `\x9b1m`, "\x7f": `\x7f`, "\u2028": `\u2028`,
	} {
		assert.Equal(t, want, Clean(in))
	}
}

func TestSmallHelpers(t *testing.T) {
	assert.Equal(t, "1 file", plural(1, "file"))
	assert.Equal(t, "12 345 findings", plural(12345, "finding"))
	assert.Equal(t, "0 entries", plural(0, "entry"))
	assert.Equal(t, "–", percent(0, 0))
	assert.Equal(t, "67%", percent(2, 3))
	assert.Equal(t, "abc…", fit("abcdefg", 4))
	assert.Equal(t, "水位…", fit("水位計です", 5))
	assert.Equal(t, "", fit("abc", 0))
	assert.Equal(t, "one two\n  three", wrap("one two three", 8, 2))
	assert.Equal(t, "averylongword\n  b", wrap("averylongword b", 5, 2), "a word is never broken")
}

func row(name string, levels map[model.Level]int) coverage.Row {
	r := coverage.Row{Name: name, Findings: map[string]int{}}
	for l, n := range levels {
		r.Levels[l] = n
		r.Calls += n
	}
	return r
}

func TestMix(t *testing.T) {
	for want, levels := range map[string]map[model.Level]int{
		"············": {},
		"iiiiiiiiiiii": {model.Info: 1},
		"ddddddiiiiii": {model.Debug: 5, model.Info: 5},
		"iiiiiiiiiiie": {model.Info: 1000, model.Error: 1},
		"tdiiiiiiiwef": {model.Trace: 1, model.Debug: 1, model.Info: 100, model.Warn: 1, model.Error: 1, model.Fatal: 1},
	} {
		r := row("a", levels)
		assert.Equal(t, want, mix(&r, 12))
	}
}

func TestCoverageForms(t *testing.T) {
	rows := []coverage.Row{row("gauges|odd", map[model.Level]int{model.Info: 2}), row("sirens\x1b[31m", map[model.Level]int{model.Warn: 1})}
	total := row("all", map[model.Level]int{model.Info: 2, model.Warn: 1})
	write := func(format string, width int) string {
		var b bytes.Buffer
		require.NoError(t, Coverage(&b, format, Look{Width: width}, "module", model.NoLevel, rows, total, nil, scan.LeftOut{Tests: 3}))
		return b.String()
	}
	assert.Contains(t, write("markdown", 0), `| gauges\|odd | iiiiiiiiiiii |`)
	parsed, err := csv.NewReader(strings.NewReader(write("csv", 0))).ReadAll()
	require.NoError(t, err)
	require.Len(t, parsed, 3)
	assert.Equal(t, []string{"sirens\x1b[31m", "0", "0", "1"}, parsed[2][:4])
	var doc struct {
		By    string
		At    string
		Rows  []map[string]any
		Total map[string]any
	}
	require.NoError(t, json.Unmarshal([]byte(write("json", 0)), &doc))
	assert.Equal(t, "module", doc.By)
	assert.Len(t, doc.Rows, 2)
	for _, width := range []int{60, 80, 100, 140, 200} {
		text := write("text", width)
		assert.NotContains(t, text, "\x1b")
		for _, line := range strings.Split(text, "\n") {
			assert.LessOrEqual(t, len([]rune(line)), width, "%d: %s", width, line)
		}
	}
	assert.Contains(t, write("text", 200), "/1000")
	assert.NotContains(t, write("text", 80), "/1000", "columns go before anything is cut")
	var colored bytes.Buffer
	require.NoError(t, Coverage(&colored, "text", Look{Width: 100, Color: true}, "module", model.Warn, rows, total, nil, scan.LeftOut{}))
	assert.Contains(t, colored.String(), "\x1b[")
	assert.Contains(t, colored.String(), "What is left at threshold")
}

var found = model.Finding{Rule: "cause-dropped", Concern: "context", Severity: model.SeverityWarning, Confidence: "high", File: "a/very/long/path/below/a/module/of/the/tree/Siren.java", Line: 7, Column: 5, EndLine: 7, EndColumn: 20,
	Module: "sirens", Function: "sound", Text: "The exception `e` is not handed to the logger: its stack trace is lost.", Remedy: "Hand e over.", Evidence: "LOG.error(\"x\")", SourceLine: "    LOG.error(\"x\");", SourceColumn: 4}

func TestReviewForms(t *testing.T) {
	write := func(format string, width int, findings ...model.Finding) string {
		var b bytes.Buffer
		r := NewReview(&b, format, Look{Width: width}, false)
		require.NoError(t, r.File("sirens", found.File, findings))
		require.NoError(t, r.End(nil, coverage.Row{}, nil, nil, scan.LeftOut{}))
		return b.String()
	}
	note := found
	note.Severity = model.SeverityNote
	text := write("text", 60, found, note)
	assert.Contains(t, text, "LOG.error(\"x\");\n      ╰─────────────╯\n")
	assert.Contains(t, text, "1 note not shown")
	for _, line := range strings.Split(text, "\n") {
		if !strings.Contains(line, "Siren.java") {
			assert.LessOrEqual(t, len([]rune(line)), 60, line)
		}
	}
	assert.Contains(t, write("text", 60), "Nothing to report")
	var doc struct {
		Findings []model.Finding
		Summary  map[string]any
	}
	require.NoError(t, json.Unmarshal([]byte(write("json", 0, found, note)), &doc))
	assert.Len(t, doc.Findings, 2)
	assert.EqualValues(t, 1, doc.Summary["notes"])
	require.NoError(t, json.Unmarshal([]byte(write("json", 0)), &doc))
	assert.Len(t, strings.Split(strings.TrimSpace(write("jsonl", 0, found, note)), "\n"), 2)
}

// TestExcerptShowsThePlace cuts a line of many thousand bytes down to what
// stands around the place.
func TestExcerptShowsThePlace(t *testing.T) {
	long := found
	long.SourceLine = strings.Repeat("a", 900) + "HERE" + strings.Repeat("b", 900)
	long.SourceColumn, long.Column, long.EndColumn = 900, 5000, 5004
	r := NewReview(&bytes.Buffer{}, "text", Look{Width: 80}, false)
	line, mark := r.excerpt(&long)
	assert.Contains(t, line, "HERE")
	assert.LessOrEqual(t, len([]rune(line)), 74)
	assert.Equal(t, strings.Index(strings.ReplaceAll(line, "…", "."), "HERE"), strings.Index(mark, "╰"))
}

func TestCallsForms(t *testing.T) {
	call := model.Call{File: "a.py", Line: 3, Column: 1, EndLine: 3, Kind: model.KindLog, Level: model.Warn, Shape: model.Interpolated, Message: "late {} <b>", Fields: []string{"gauge"}, Arguments: []string{"g"}, Cause: true}
	write := func(format string, calls ...model.Call) string {
		var b bytes.Buffer
		c := NewCalls(&b, format, Look{Width: 80})
		require.NoError(t, c.File("m", "a.py", calls))
		require.NoError(t, c.End(nil, scan.LeftOut{Vendored: 2}))
		return b.String()
	}
	assert.Contains(t, write("text", call), "3  warn   late {} <b>  interpolated · + gauge · cause")
	assert.Contains(t, write("text"), "No logging calls")
	assert.Contains(t, write("text", call), "2 vendored")
	assert.Contains(t, write("jsonl", call), `"message":"late {} <b>"`, "no escapes beyond what JSON asks for")
	var doc struct{ Calls []model.Call }
	require.NoError(t, json.Unmarshal([]byte(write("json", call, call)), &doc))
	assert.Len(t, doc.Calls, 2)
	require.NoError(t, json.Unmarshal([]byte(write("json")), &doc))
	parsed, err := csv.NewReader(strings.NewReader(write("csv", call))).ReadAll()
	require.NoError(t, err)
	assert.Len(t, parsed, 2)
}

type broken struct{}

func (broken) Write([]byte) (int, error) { return 0, errors.New("no room") }

func TestWritersReportErrors(t *testing.T) {
	for _, format := range []string{"text", "json", "jsonl"} {
		assert.Error(t, NewReview(broken{}, format, Look{Width: 80}, true).File("m", "a", []model.Finding{found}), format)
		assert.Error(t, NewCalls(broken{}, format, Look{Width: 80}).File("m", "a", []model.Call{{}}), format)
	}
	assert.Error(t, Rules(broken{}, "text", Look{Width: 80}, rules.All()))
	assert.Error(t, RulePage(broken{}, Look{Width: 80}, rules.All()[0]))
}

func TestRulePagesFit(t *testing.T) {
	for _, r := range rules.All() {
		var b bytes.Buffer
		require.NoError(t, RulePage(&b, Look{Width: 100}, r))
		assert.Contains(t, b.String(), "When not to follow it", r.Name)
		assert.NotContains(t, b.String(), "\t")
	}
}
