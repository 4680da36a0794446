package report

import (
	"encoding/csv"
	"encoding/json"
	"fmt"
	"io"
	"strconv"
	"strings"

	"github.com/mattn/go-runewidth"

	"reed/internal/coverage"
	"reed/internal/model"
	"reed/internal/scan"
)

// Coverage writes rows as text, json, csv or markdown. by says what a row
// stands for; at is the threshold that was asked for, or NoLevel.
func Coverage(w io.Writer, format string, look Look, by string, at model.Level, rows []coverage.Row, total coverage.Row, diagnostics []model.Diagnostic, left scan.LeftOut) error {
	switch format {
	case "json":
		if diagnostics == nil {
			diagnostics = []model.Diagnostic{}
		}
		data, err := json.MarshalIndent(map[string]any{"by": by, "at": at, "rows": rows, "total": total, "diagnostics": diagnostics, "left_out": left}, "", "  ")
		if err != nil {
			return err
		}
		_, err = w.Write(append(data, '\n'))
		return err
	case "csv":
		return coverageCSV(w, by, rows)
	case "markdown":
		return coverageMarkdown(w, by, rows, total)
	}
	return coverageText(w, look, by, at, rows, total, left)
}

func coverageCSV(w io.Writer, by string, rows []coverage.Row) error {
	out := csv.NewWriter(w)
	head := []string{by, "files", "code_lines", "calls"}
	for _, l := range model.Levels {
		head = append(head, l.String())
	}
	head = append(head, "unlevelled", "prints", "calls_per_1000_lines", "functions", "functions_with_call", "functions_opening_with_call", "public_functions", "public_functions_with_call",
		"failure_paths", "failure_paths_logged", "failure_paths_passed_on", "failure_paths_handled", "failure_paths_silent", "messages", "messages_template_or_constant")
	if err := out.Write(head); err != nil {
		return err
	}
	for i := range rows {
		r := &rows[i]
		line := []string{r.Name, strconv.Itoa(r.Files), strconv.Itoa(r.CodeLines), strconv.Itoa(r.Calls)}
		for _, l := range model.Levels {
			line = append(line, strconv.Itoa(r.Levels[l]))
		}
		line = append(line, strconv.Itoa(r.Unlevelled), strconv.Itoa(r.Prints), strconv.FormatFloat(r.CallsPerThousand, 'f', 1, 64))
		for _, n := range []int{r.Functions, r.Logging, r.Opening, r.Public, r.PublicLogging, r.Failures, r.FailuresLogged, r.FailuresPassed, r.FailuresHandled, r.FailuresSilent, r.Messages, r.Templates} {
			line = append(line, strconv.Itoa(n))
		}
		if err := out.Write(line); err != nil {
			return err
		}
	}
	out.Flush()
	return out.Error()
}

// findingsOf counts the findings of a row over all concerns.
func findingsOf(r *coverage.Row) int {
	n := 0
	for _, c := range r.Findings {
		n += c
	}
	return n
}

// cells are the columns of the table for people, the name aside.
func cells(r *coverage.Row) []string {
	return []string{
		thousands(r.Files), thousands(r.CodeLines), thousands(r.Calls), strconv.FormatFloat(r.CallsPerThousand, 'f', 1, 64), thousands(r.Prints),
		percent(r.Logging, r.Functions), thousands(r.FailuresLogged), thousands(r.FailuresPassed), thousands(r.FailuresHandled), thousands(r.FailuresSilent), percent(r.Templates, r.Messages), thousands(findingsOf(r)),
	}
}

var headings = []string{"files", "lines", "calls", "/1000", "prints", "functions", "log", "pass", "handle", "silent", "fixed", "findings"}

func coverageMarkdown(w io.Writer, by string, rows []coverage.Row, total coverage.Row) error {
	var b strings.Builder
	b.WriteString("| " + by + " | levels |")
	for _, h := range headings {
		b.WriteString(" " + h + " |")
	}
	b.WriteString("\n|---|---|" + strings.Repeat("---:|", len(headings)) + "\n")
	line := func(r *coverage.Row) {
		name := strings.NewReplacer("|", `\|`, "<", "&lt;", "`", "'").Replace(Clean(r.Name))
		b.WriteString("| " + name + " | " + mix(r, 12) + " |")
		for _, c := range cells(r) {
			b.WriteString(" " + c + " |")
		}
		b.WriteByte('\n')
	}
	for i := range rows {
		line(&rows[i])
	}
	total.Name = "**all**"
	line(&total)
	b.WriteString("\nlevels: a letter for each share (t trace, d debug, i info, w warn, e error, f fatal). functions: share with a call. log, pass, handle, silent: failure paths. fixed: share of messages that are fixed text or templates.\n")
	_, err := io.WriteString(w, b.String())
	return err
}

// mix draws the levels of a row as letters, each standing for an equal share;
// a level that occurs at all gets at least one.
func mix(r *coverage.Row, width int) string {
	total := 0
	for _, l := range model.Levels {
		total += r.Levels[l]
	}
	if total == 0 {
		return strings.Repeat("·", width)
	}
	share := map[model.Level]int{}
	left := width
	for _, l := range model.Levels {
		if n := r.Levels[l]; n > 0 {
			share[l] = max(1, n*width/total)
			left -= share[l]
		}
	}
	for left != 0 { // the largest level takes up the rounding
		big := model.NoLevel
		for _, l := range model.Levels {
			if share[l] > 0 && (big == model.NoLevel || r.Levels[l]-share[l]*total/width > r.Levels[big]-share[big]*total/width && left > 0 || share[l] > share[big] && left < 0) {
				big = l
			}
		}
		if left > 0 {
			share[big]++
			left--
		} else {
			share[big]--
			left++
		}
	}
	var b strings.Builder
	for _, l := range model.Levels {
		b.WriteString(strings.Repeat(l.String()[:1], share[l]))
	}
	return b.String()
}

var letterLevels = map[rune]model.Level{'t': model.Trace, 'd': model.Debug, 'i': model.Info, 'w': model.Warn, 'e': model.Error, 'f': model.Fatal}

func (p painter) mix(s string) string {
	if !p.on {
		return s
	}
	var b strings.Builder
	for _, r := range s {
		if l, ok := letterLevels[r]; ok {
			b.WriteString(p.level(l, string(r)))
		} else {
			b.WriteString(p.faint(string(r)))
		}
	}
	return b.String()
}

func coverageText(w io.Writer, look Look, by string, at model.Level, rows []coverage.Row, total coverage.Row, left scan.LeftOut) error {
	p := painter{look.Color}
	var b strings.Builder
	if len(rows) == 0 {
		_, err := fmt.Fprintln(w, "Nothing to cover: no source file in a language that Reed reads was found.")
		return err
	}
	all := append(append([]coverage.Row{}, rows...), total)
	table := make([][]string, len(all))
	widths := make([]int, len(headings))
	for i, h := range headings {
		widths[i] = len(h)
	}
	name := len(by)
	for i := range all {
		table[i] = cells(&all[i])
		for j, c := range table[i] {
			widths[j] = max(widths[j], runewidth.StringWidth(c))
		}
		name = max(name, runewidth.StringWidth(Clean(all[i].Name)))
	}
	show := columns(look.Width, widths, name)
	fixed := 14
	for j := range headings {
		if show[j] {
			fixed += widths[j] + 2
		}
	}
	name = max(min(name, look.Width-fixed), 12)
	if at != model.NoLevel {
		fmt.Fprintf(&b, "What is left at threshold %s:\n\n", p.level(at, at.String()))
	}
	group := strings.Repeat(" ", name+14)
	for j := range headings {
		if !show[j] {
			continue
		}
		switch headings[j] {
		case "functions":
			group += padLeft("with call", widths[j]+2)
		case "log":
			n := widths[j] + 2
			for k := j + 1; k <= j+3; k++ {
				n += widths[k] + 2
			}
			bar := max(n-2-len(" failure paths ")-2, 2)
			group += "  ╭" + strings.Repeat("─", bar/2) + " failure paths " + strings.Repeat("─", bar-bar/2) + "╮"
		case "pass", "handle", "silent":
		case "fixed":
			group += padLeft("texts", widths[j]+2)
		default:
			group += strings.Repeat(" ", widths[j]+2)
		}
	}
	b.WriteString(p.faint(strings.TrimRight(group, " ")) + "\n")
	head := pad(by, name) + "  " + pad("levels", 12)
	for j, h := range headings {
		if show[j] {
			head += "  " + padLeft(h, widths[j])
		}
	}
	b.WriteString(p.bold(head) + "\n")
	for i := range all {
		r := &all[i]
		if i == len(rows) {
			b.WriteString(p.faint(strings.Repeat("─", min(runewidth.StringWidth(head), look.Width))) + "\n")
		}
		line := pad(fit(Clean(r.Name), name), name) + "  " + p.mix(mix(r, 12))
		for j, c := range table[i] {
			if !show[j] {
				continue
			}
			c = padLeft(c, widths[j])
			switch {
			case headings[j] == "silent" && r.FailuresSilent > 0:
				c = p.level(model.Error, c)
			case headings[j] == "findings" && findingsOf(r) > 0:
				c = p.level(model.Warn, c)
			}
			line += "  " + c
		}
		b.WriteString(line + "\n")
	}
	b.WriteString("\n" + wrap("levels: a letter for each share of the calls — t trace, d debug, i info, w warn, e error, f fatal. functions: share that log. failure paths: how many log, pass the failure on, handle it, or are silent. fixed: share of messages that are fixed text or templates.", look.Width, 0) + "\n")
	if l := leftOut(left); l != "" {
		b.WriteString(p.faint(wrap(l, look.Width, 0)) + "\n")
	}
	_, err := io.WriteString(w, b.String())
	return err
}

// columns picks the columns that fit the width: the last to go are calls,
// prints and the failure paths.
func columns(width int, widths []int, name int) []bool {
	show := make([]bool, len(headings))
	for i := range show {
		show[i] = true
	}
	used := func() int {
		n := min(name, 30) + 14
		for j := range headings {
			if show[j] {
				n += widths[j] + 2
			}
		}
		return n
	}
	for _, drop := range []string{"/1000", "files", "lines", "fixed", "functions", "findings", "prints"} {
		if used() <= width {
			break
		}
		for j, h := range headings {
			if h == drop {
				show[j] = false
			}
		}
	}
	return show
}
