package cli

import (
	"context"
	"fmt"

	"github.com/spf13/cobra"

	"reed/internal/analyze"
	"reed/internal/coverage"
	"reed/internal/model"
	"reed/internal/report"
	"reed/internal/rule"
	"reed/internal/rules"
)

type reviewOptions struct {
	*common
	format string
	rules  []string
	failOn string
	notes  bool
	calls  bool

	chosen []*rule.Rule
}

func newReview(c *common) *cobra.Command {
	o := &reviewOptions{common: c}
	cmd := &cobra.Command{
		Use:   "review [PATH…]",
		Short: "Judge the logging and report findings",
		Long: `Review judges every logging call, print and failure path below the paths (the
current folder when there are none) and reports findings by module and file, each
with the place, one sentence and one remedy.

Exit status: 0 nothing at or above --fail-on, 1 findings at or above it, 2 the work
could not be done.`,
		Example: `  reed review
  reed review --rule secret-value --rule secret-literal services/
  reed review --notes --fail-on error .
  reed review --format json > review.json`,
		RunE: func(cmd *cobra.Command, args []string) error {
			if err := o.complete(); err != nil {
				return err
			}
			return o.run(cmd.Context(), args)
		},
	}
	o.readFlags(cmd)
	f := cmd.Flags()
	f.StringVar(&o.format, "format", "text", "text, json or jsonl")
	f.StringSliceVar(&o.rules, "rule", nil, "run only `RULE`; may be repeated")
	f.StringVar(&o.failOn, "fail-on", "warning", "end with status 1 when there are findings of this severity or above: error, warning, note or never")
	f.BoolVar(&o.notes, "notes", false, "show notes too in text output")
	f.BoolVar(&o.calls, "calls", false, "with --format json: add the call records")
	_ = cmd.RegisterFlagCompletionFunc("rule", completeRules)
	return cmd
}

func completeRules(*cobra.Command, []string, string) ([]string, cobra.ShellCompDirective) {
	var names []string
	for _, r := range rules.All() {
		names = append(names, r.Name+"\t"+r.Summary)
	}
	return names, cobra.ShellCompDirectiveNoFileComp
}

func (o *reviewOptions) complete() error {
	if err := oneOf("format", o.format, "text", "json", "jsonl"); err != nil {
		return err
	}
	if err := oneOf("fail-on", o.failOn, "error", "warning", "note", "never"); err != nil {
		return err
	}
	o.chosen = rules.All()
	if len(o.rules) > 0 {
		o.chosen = nil
	}
	for _, name := range o.rules {
		r, err := findRule(name)
		if err != nil {
			return fmt.Errorf("--rule: %w", err)
		}
		o.chosen = append(o.chosen, r)
	}
	return nil
}

func (o *reviewOptions) run(ctx context.Context, paths []string) (err error) {
	w, done := o.out()
	defer done(&err)
	out := report.NewReview(w, o.format, o.look(), o.notes || o.failOn == "note")
	modules := coverage.New("module")
	var calls []model.Call
	withCalls := o.calls && o.format == "json"
	if withCalls {
		calls = []model.Call{}
	}
	s, err := o.read(ctx, paths, analyze.Options{Tally: true, Rules: o.chosen, Calls: withCalls}, func(r *analyze.Result) error {
		modules.Add(r)
		calls = append(calls, r.Calls...)
		return out.File(r.Module, r.File, r.Findings)
	})
	if err != nil {
		return err
	}
	rows, total := modules.Rows()
	if err := out.End(rows, total, calls, s.diagnostics, s.tree.Left); err != nil {
		return err
	}
	if o.failOn != "never" {
		for severity, n := range out.Counts() {
			if n > 0 && severity.Rank() >= model.Severity(o.failOn).Rank() {
				return errFindings
			}
		}
	}
	return nil
}
