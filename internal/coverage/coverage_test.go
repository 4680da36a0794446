package coverage

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"reed/internal/analyze"
	"reed/internal/model"
)

func results() []*analyze.Result {
	a := &analyze.Result{File: "gauges/a.py", Module: "gauges", Language: "python", Tally: model.Tally{Files: 1, CodeLines: 100, Calls: 5},
		Parts:    map[string]*model.Tally{"logging": {Files: 1, Calls: 5}},
		Findings: []model.Finding{{Concern: "level", Severity: model.SeverityWarning}, {Concern: "level", Severity: model.SeverityNote}, {Concern: "secret", Severity: model.SeverityError}}}
	b := &analyze.Result{File: "gauges/sub/b.go", Module: "gauges", Language: "go", Tally: model.Tally{Files: 1, CodeLines: 50, Calls: 1}, Parts: map[string]*model.Tally{"slog": {Files: 1, Calls: 1}}}
	return []*analyze.Result{a, b, {File: "empty"}}
}

func TestFold(t *testing.T) {
	for by, want := range map[string][]string{
		"module": {"gauges"}, "folder": {"gauges", "gauges/sub"}, "file": {"gauges/a.py", "gauges/sub/b.go"}, "language": {"go", "python"}, "library": {"logging", "slog"}, "logger": {"logging", "slog"},
	} {
		f := New(by)
		for _, r := range results() {
			f.Add(r)
		}
		rows, total := f.Rows()
		var names []string
		calls := 0
		for _, r := range rows {
			names = append(names, r.Name)
			calls += r.Calls
		}
		assert.Equal(t, want, names, by)
		assert.Equal(t, 6, calls, by)
		assert.Equal(t, 6, total.Calls, by)
	}
	f := New("module")
	for _, r := range results() {
		f.Add(r)
	}
	rows, _ := f.Rows()
	assert.Equal(t, map[string]int{"level": 1, "secret": 1}, rows[0].Findings, "notes do not count")
	assert.InDelta(t, 40.0, rows[0].CallsPerThousand, 0.01)
}
