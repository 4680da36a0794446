package cli

import (
	"fmt"

	"github.com/spf13/cobra"

	"reed/internal/report"
	"reed/internal/rule"
	"reed/internal/rules"
)

func newRules(c *common) *cobra.Command {
	format := "text"
	cmd := &cobra.Command{
		Use:   "rules [RULE]",
		Short: "List the rules, or explain one",
		Long:  `Rules lists every rule by concern; with a name it explains that rule: the reason, bad and good code, and when not to follow it.`,
		Example: `  reed rules
  reed rules cause-dropped
  reed rules --format json`,
		Args:              cobra.MaximumNArgs(1),
		ValidArgsFunction: completeRules,
		RunE: func(_ *cobra.Command, args []string) (err error) {
			if err := oneOf("format", format, "text", "json"); err != nil {
				return err
			}
			w, done := c.out()
			defer done(&err)
			if len(args) == 0 {
				return report.Rules(w, format, c.look(), rules.All())
			}
			r, err := findRule(args[0])
			if err != nil {
				return err
			}
			if format == "json" {
				return report.Rules(w, format, c.look(), []*rule.Rule{r})
			}
			return report.RulePage(w, c.look(), r)
		},
	}
	cmd.Flags().StringVar(&format, "format", "text", "text or json")
	return cmd
}

// findRule finds a rule by name; the error names the nearest one.
func findRule(name string) (*rule.Rule, error) {
	if r := rules.Find(name); r != nil {
		return r, nil
	}
	best, least := "", 1<<30
	for _, r := range rules.All() {
		if d := distance(name, r.Name); d < least {
			best, least = r.Name, d
		}
	}
	if least <= len(name)/2+1 {
		return nil, fmt.Errorf("there is no rule %q; did you mean %s?", name, best)
	}
	return nil, fmt.Errorf("there is no rule %q: reed rules lists them", name)
}

// distance is the number of single-byte edits between two words (Levenshtein).
func distance(a, b string) int {
	row := make([]int, len(b)+1)
	for j := range row {
		row[j] = j
	}
	for i := 1; i <= len(a); i++ {
		last := row[0]
		row[0] = i
		for j := 1; j <= len(b); j++ {
			cost := 1
			if a[i-1] == b[j-1] {
				cost = 0
			}
			last, row[j] = row[j], min(row[j]+1, row[j-1]+1, last+cost)
		}
	}
	return row[len(b)]
}
