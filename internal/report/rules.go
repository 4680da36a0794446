package report

import (
	"encoding/json"
	"fmt"
	"io"
	"strings"

	"reed/internal/rule"
)

// Rules lists rules by concern, one line each.
func Rules(w io.Writer, format string, look Look, rules []*rule.Rule) error {
	if format == "json" {
		type line struct {
			Name       string `json:"name"`
			Concern    string `json:"concern"`
			Severity   string `json:"severity"`
			Confidence string `json:"confidence"`
			Summary    string `json:"summary"`
		}
		list := make([]line, len(rules))
		for i, r := range rules {
			list[i] = line{r.Name, string(r.Concern), string(r.Severity), r.Confidence, r.Summary}
		}
		data, err := json.MarshalIndent(map[string]any{"rules": list}, "", "  ")
		if err != nil {
			return err
		}
		_, err = w.Write(append(data, '\n'))
		return err
	}
	p := painter{look.Color}
	var b strings.Builder
	width := 0
	for _, r := range rules {
		width = max(width, len(r.Name))
	}
	for _, c := range rule.Concerns {
		begun := false
		for _, r := range rules {
			if r.Concern != c {
				continue
			}
			if !begun {
				if b.Len() > 0 {
					b.WriteByte('\n')
				}
				b.WriteString(p.bold(title(string(c))) + "\n")
				begun = true
			}
			indent := width + 13
			fmt.Fprintf(&b, "  %s  %s  %s\n", pad(r.Name, width), p.severity(r.Severity, pad(string(r.Severity), 7)), wrap(r.Summary, look.Width-indent, indent))
		}
	}
	b.WriteString("\nMore about one of them: reed rules NAME\n")
	_, err := io.WriteString(w, b.String())
	return err
}

func title(s string) string { return strings.ToUpper(s[:1]) + s[1:] }

// RulePage explains one rule.
func RulePage(w io.Writer, look Look, r *rule.Rule) error {
	p := painter{look.Color}
	var b strings.Builder
	fmt.Fprintf(&b, "%s\n%s\n\n", p.bold(r.Name), wrap(r.Summary, look.Width, 0))
	fmt.Fprintf(&b, "  concern     %s\n  severity    %s\n  confidence  %s\n\n", r.Concern, p.severity(r.Severity, string(r.Severity)), r.Confidence)
	b.WriteString(p.bold("Why") + "\n  " + wrap(r.Reason, min(look.Width, 100)-2, 2) + "\n\n")
	for _, e := range r.Examples {
		b.WriteString(p.bold(title(e.Language)) + "\n")
		block(&b, p, "  not so", e.Bad)
		block(&b, p, "  but so", e.Good)
	}
	b.WriteString(p.bold("When not to follow it") + "\n  " + wrap(r.Exceptions, min(look.Width, 100)-2, 2) + "\n")
	_, err := io.WriteString(w, b.String())
	return err
}

func block(b *strings.Builder, p painter, head, code string) {
	b.WriteString(p.faint(head) + "\n")
	for _, line := range strings.Split(strings.ReplaceAll(strings.TrimRight(code, "\n"), "\n\n\n", "\n\n"), "\n") {
		line = strings.ReplaceAll(line, "\t", "    ")
		b.WriteString(strings.TrimRight("      "+line, " ") + "\n")
	}
	b.WriteByte('\n')
}
