package cli

import (
	"context"
	"fmt"

	"github.com/spf13/cobra"

	"reed/internal/analyze"
	"reed/internal/coverage"
	"reed/internal/model"
	"reed/internal/report"
	"reed/internal/rules"
)

type coverageOptions struct {
	*common
	format string
	by     string
	at     string

	level model.Level
}

func newCoverage(c *common) *cobra.Command {
	o := &coverageOptions{common: c}
	cmd := &cobra.Command{
		Use:   "coverage [PATH…]",
		Short: "Show how each module is covered, level by level",
		Long: `Coverage counts calls per level, functions and failure paths of each module below
the paths (the current folder when there are none). With --at it shows what is left
when everything below a level is turned off: a failure path that falls silent then
is what nobody on call would see.`,
		Example: `  reed coverage
  reed coverage --at warn
  reed coverage --by language --format markdown
  reed coverage --by file --format csv services/ > coverage.csv`,
		RunE: func(cmd *cobra.Command, args []string) (err error) {
			if err = oneOf("format", o.format, "text", "json", "csv", "markdown"); err != nil {
				return err
			}
			if err = oneOf("by", o.by, coverage.By...); err != nil {
				return err
			}
			if o.level, err = parseLevel("at", o.at); err != nil {
				return err
			}
			return o.run(cmd.Context(), args)
		},
	}
	o.readFlags(cmd)
	f := cmd.Flags()
	f.StringVar(&o.format, "format", "text", "text, json, csv or markdown")
	f.StringVar(&o.by, "by", "module", fmt.Sprintf("what a row stands for: %s", listed(coverage.By)))
	f.StringVar(&o.at, "at", "", "show what is left at threshold `LEVEL`: trace, debug, info, warn, error or fatal")
	return cmd
}

func (o *coverageOptions) run(ctx context.Context, paths []string) (err error) {
	w, done := o.out()
	defer done(&err)
	fold := coverage.New(o.by)
	s, err := o.read(ctx, paths, analyze.Options{Tally: true, At: o.level, Parts: fold.Parts(), Rules: rules.All()}, func(r *analyze.Result) error {
		fold.Add(r)
		return nil
	})
	if err != nil {
		return err
	}
	rows, total := fold.Rows()
	return report.Coverage(w, o.format, o.look(), o.by, o.level, rows, total, s.diagnostics, s.tree.Left)
}
