package report

import (
	"encoding/json"
	"fmt"
	"io"
	"sort"
	"strings"

	"reed/internal/calls"
	"reed/internal/model"
)

// GroupBy lists what calls can be counted by.
var GroupBy = []string{"logger", "library", "language", "level", "shape", "function", "file"}

// Group is one row of a count of calls.
type Group struct {
	Name   string            `json:"name"`
	Calls  int               `json:"calls"`
	Prints int               `json:"prints"`
	Levels model.LevelCounts `json:"levels"`
	Files  int               `json:"files"`
	last   string
}

// Groups counts calls by one of GroupBy.
type Groups struct {
	by   string
	rows map[string]*Group
}

// NewGroups returns an empty count.
func NewGroups(by string) *Groups { return &Groups{by: by, rows: map[string]*Group{}} }

// Add counts the calls of one file.
func (g *Groups) Add(list []model.Call) {
	for i := range list {
		c := &list[i]
		name := g.key(c)
		row := g.rows[name]
		if row == nil {
			row = &Group{Name: name}
			g.rows[name] = row
		}
		if c.Kind == model.KindPrint {
			row.Prints++
		} else {
			row.Calls++
			row.Levels[c.Level]++
		}
		if row.last != c.File {
			row.Files++
			row.last = c.File
		}
	}
}

func (g *Groups) key(c *model.Call) string {
	switch g.by {
	case "logger":
		return or(c.Logger, "(no name)")
	case "library":
		return or(c.Library, "(by name only)")
	case "language":
		return c.Language
	case "level":
		return or(c.Level.String(), "(none)")
	case "shape":
		return c.Shape
	case "function":
		return or(strings.TrimPrefix(c.Type+"."+c.Function, "."), "(top level)")
	}
	return c.File
}

func or(s, other string) string {
	if s == "" {
		return other
	}
	return s
}

// writeRows writes a document as JSON, or its rows as JSON lines.
func writeRows[T any](b *strings.Builder, format string, document map[string]any, rows []T) error {
	if format == "json" {
		data, err := json.MarshalIndent(document, "", "  ")
		if err != nil {
			return err
		}
		b.Write(append(data, '\n'))
		return nil
	}
	for _, r := range rows {
		data, err := json.Marshal(r)
		if err != nil {
			return err
		}
		b.Write(append(data, '\n'))
	}
	return nil
}

// Write writes the rows as text, json, jsonl or csv, the fullest first.
func (g *Groups) Write(w io.Writer, format string, look Look) error {
	rows := make([]*Group, 0, len(g.rows))
	for _, r := range g.rows {
		rows = append(rows, r)
	}
	sort.Slice(rows, func(i, j int) bool {
		a, b := rows[i], rows[j]
		if a.Calls+a.Prints != b.Calls+b.Prints {
			return a.Calls+a.Prints > b.Calls+b.Prints
		}
		return a.Name < b.Name
	})
	var b strings.Builder
	switch format {
	case "json", "jsonl":
		if err := writeRows(&b, format, map[string]any{"by": g.by, "rows": rows}, rows); err != nil {
			return err
		}
	case "csv":
		b.WriteString(g.by + ",calls,prints,files,trace,debug,info,warn,error,fatal\n")
		for _, r := range rows {
			fmt.Fprintf(&b, "%s,%d,%d,%d", csvField(r.Name), r.Calls, r.Prints, r.Files)
			for _, l := range model.Levels {
				fmt.Fprintf(&b, ",%d", r.Levels[l])
			}
			b.WriteByte('\n')
		}
	default:
		g.text(&b, rows, look)
	}
	_, err := io.WriteString(w, b.String())
	return err
}

func csvField(s string) string {
	if strings.ContainsAny(s, ",\"\n\r") {
		return `"` + strings.ReplaceAll(s, `"`, `""`) + `"`
	}
	return s
}

func (g *Groups) text(b *strings.Builder, rows []*Group, look Look) {
	if len(rows) == 0 {
		b.WriteString("No logging calls and no prints were found.\n")
		return
	}
	p := painter{look.Color}
	width := 10
	for _, r := range rows {
		width = max(width, len([]rune(Clean(r.Name))))
	}
	width = min(width, max(20, look.Width-64))
	fmt.Fprintln(b, p.bold(fmt.Sprintf("%s  %6s %6s %6s %6s %6s %6s %6s  %6s %6s", pad(g.by, width), "calls", "trace", "debug", "info", "warn", "error", "fatal", "prints", "files")))
	for _, r := range rows {
		fmt.Fprintf(b, "%s  %6d", pad(fit(Clean(r.Name), width), width), r.Calls)
		for _, l := range model.Levels {
			n := fmt.Sprintf("%6d", r.Levels[l])
			if r.Levels[l] == 0 {
				n = p.faint("     ·")
			} else {
				n = p.level(l, n)
			}
			b.WriteString(" " + n)
		}
		fmt.Fprintf(b, "  %6d %6d\n", r.Prints, r.Files)
	}
}

// wrapperRow is a wrapper as it is written to JSON.
type wrapperRow struct {
	File     string `json:"file"`
	Line     int    `json:"line"`
	Language string `json:"language"`
	Type     string `json:"type"`
	Name     string `json:"name"`
	Wraps    string `json:"wraps"`
	Kind     string `json:"kind"`
	Level    string `json:"level"`
	LevelArg int    `json:"level_argument"`
	Message  int    `json:"message_argument"`
	Layers   int    `json:"layers"`
	Calls    int    `json:"calls"`
}

// Wrappers writes the functions of a tree that log for their callers; counts
// tells by file:line how often each is called.
func Wrappers(w io.Writer, format string, look Look, list []calls.Wrapper, counts map[string]int) error {
	rows := make([]wrapperRow, 0, len(list))
	for i := range list {
		k := &list[i]
		rows = append(rows, wrapperRow{File: k.File, Line: k.Line, Language: k.Language, Type: k.Type, Name: k.Written, Wraps: k.Wraps, Kind: k.Kind,
			Level: model.LevelOf(k.Severity).String(), LevelArg: k.Level, Message: k.Message, Layers: k.Layers, Calls: counts[k.Place()]})
	}
	sort.Slice(rows, func(i, j int) bool {
		if rows[i].File != rows[j].File {
			return rows[i].File < rows[j].File
		}
		return rows[i].Line < rows[j].Line
	})
	var b strings.Builder
	switch format {
	case "json", "jsonl":
		if err := writeRows(&b, format, map[string]any{"wrappers": rows}, rows); err != nil {
			return err
		}
	case "csv":
		b.WriteString("file,line,language,type,name,wraps,kind,level,level_argument,message_argument,layers,calls\n")
		for _, r := range rows {
			fmt.Fprintf(&b, "%s,%d,%s,%s,%s,%s,%s,%s,%d,%d,%d,%d\n", csvField(r.File), r.Line, r.Language, csvField(r.Type), csvField(r.Name), csvField(r.Wraps), r.Kind, r.Level, r.LevelArg, r.Message, r.Layers, r.Calls)
		}
	default:
		wrapperText(&b, rows, painter{look.Color})
	}
	_, err := io.WriteString(w, b.String())
	return err
}

func wrapperText(b *strings.Builder, rows []wrapperRow, p painter) {
	if len(rows) == 0 {
		b.WriteString("No function was found that logs for its callers.\n")
		return
	}
	for _, r := range rows {
		name := r.Name
		if r.Type != "" {
			name = r.Type + "." + name
		}
		level := or(r.Level, "the level its caller says")
		if r.Level == "" && r.LevelArg < 0 {
			level = "a level chosen inside"
		}
		if r.Kind == model.KindPrint {
			level = "no level"
		}
		through := ""
		if r.Layers > 1 {
			through = fmt.Sprintf(", through %d functions", r.Layers)
		}
		fmt.Fprintf(b, "%s  %s\n    wraps %s at %s%s; its %s argument is the message; %s\n", p.bold(Clean(name)), p.faint(fmt.Sprintf("%s:%d", Clean(r.File), r.Line)), Clean(r.Wraps), level, through, ordinal(r.Message+1), plural(r.Calls, "call"))
	}
	verb := "log for their"
	if len(rows) == 1 {
		verb = "logs for its"
	}
	fmt.Fprintf(b, "\n%s %s callers.\n", plural(len(rows), "function"), verb)
}

func ordinal(n int) string {
	switch n {
	case 1:
		return "first"
	case 2:
		return "second"
	case 3:
		return "third"
	}
	return fmt.Sprintf("%dth", n)
}
