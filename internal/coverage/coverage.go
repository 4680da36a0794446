// Package coverage folds the results of files into rows: modules, folders,
// files, languages, libraries or loggers.
package coverage

import (
	"path"
	"sort"

	"reed/internal/analyze"
	"reed/internal/model"
)

// By lists what rows can stand for.
var By = []string{"module", "folder", "file", "language", "library", "logger"}

// Row is one line of a coverage report.
type Row struct {
	Name string `json:"name"`
	model.Tally
	CallsPerThousand float64        `json:"calls_per_1000_lines"`
	Findings         map[string]int `json:"findings"` // errors and warnings by concern
}

// Fold collects rows. The zero value is not ready: use New.
type Fold struct {
	by   string
	rows map[string]*Row
}

// New returns a fold by one of By.
func New(by string) *Fold { return &Fold{by: by, rows: map[string]*Row{}} }

// Parts returns what the analyzer must count apart for this fold.
func (f *Fold) Parts() string {
	if f.by == "library" || f.by == "logger" {
		return f.by
	}
	return ""
}

// Add adds the result of one file.
func (f *Fold) Add(r *analyze.Result) {
	if r.Tally.Files == 0 {
		return
	}
	if f.Parts() != "" {
		for name, t := range r.Parts {
			f.row(name).Tally.Add(t)
		}
		return
	}
	row := f.row(f.key(r))
	row.Tally.Add(&r.Tally)
	for i := range r.Findings {
		if r.Findings[i].Severity.Rank() >= model.SeverityWarning.Rank() {
			row.Findings[r.Findings[i].Concern]++
		}
	}
}

func (f *Fold) key(r *analyze.Result) string {
	switch f.by {
	case "folder":
		return path.Dir(r.File)
	case "file":
		return r.File
	case "language":
		return r.Language
	}
	return r.Module
}

func (f *Fold) row(name string) *Row {
	if f.rows[name] == nil {
		f.rows[name] = &Row{Name: name, Findings: map[string]int{}}
	}
	return f.rows[name]
}

// Rows returns the rows in the order of their names, and their sum.
func (f *Fold) Rows() ([]Row, Row) {
	total := Row{Name: "all", Findings: map[string]int{}}
	rows := make([]Row, 0, len(f.rows))
	for _, r := range f.rows {
		r.CallsPerThousand = perThousand(r.Calls, r.CodeLines)
		rows = append(rows, *r)
		total.Tally.Add(&r.Tally)
		for c, n := range r.Findings {
			total.Findings[c] += n
		}
	}
	sort.Slice(rows, func(i, j int) bool { return rows[i].Name < rows[j].Name })
	total.CallsPerThousand = perThousand(total.Calls, total.CodeLines)
	return rows, total
}

func perThousand(n, lines int) float64 {
	if lines == 0 {
		return 0
	}
	return float64(int(float64(n)*10000/float64(lines)+0.5)) / 10
}
