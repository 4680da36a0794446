package cli

import (
	"context"
	"errors"
	"slices"

	"github.com/spf13/cobra"

	"reed/internal/analyze"
	"reed/internal/model"
	"reed/internal/report"
)

type callsOptions struct {
	*common
	format  string
	levels  []string
	shapes  []string
	kind    string
	module  []string
	library []string

	by       string
	wrappers bool
}

func newCalls(c *common) *cobra.Command {
	o := &callsOptions{common: c}
	cmd := &cobra.Command{
		Use:   "calls [PATH…]",
		Short: "List every logging call and print",
		Long: `Calls lists every logging call and print below the paths (the current folder when
there are none): level, message with {} for each value, and a remark where the way
the message is built is worth one.`,
		Example: `  reed calls
  reed calls --level error --level fatal src/
  reed calls --shape concatenated --format csv > calls.csv
  reed calls --by logger
  reed calls --wrappers
  reed calls --format jsonl services/ | head -n 3`,
		RunE: func(cmd *cobra.Command, args []string) error {
			if err := o.validate(); err != nil {
				return err
			}
			return o.run(cmd.Context(), args)
		},
	}
	o.readFlags(cmd)
	f := cmd.Flags()
	f.StringVar(&o.format, "format", "text", "text, json, jsonl or csv")
	f.StringSliceVar(&o.levels, "level", nil, "only calls of `LEVEL` (trace, debug, info, warn, error, fatal, or none); may be repeated")
	f.StringSliceVar(&o.shapes, "shape", nil, "only messages built this way: constant, template, interpolated, concatenated, formatted, opaque, streamed, bare")
	f.StringVar(&o.kind, "kind", "", "only calls of this kind: log or print")
	f.StringSliceVar(&o.module, "module", nil, "only calls of this module; may be repeated")
	f.StringSliceVar(&o.library, "library", nil, "only calls of this library; may be repeated")
	f.StringVar(&o.by, "by", "", "count calls instead of listing them, by "+listed(report.GroupBy))
	f.BoolVar(&o.wrappers, "wrappers", false, "list the functions of the tree that log for their callers, with what they wrap")
	return cmd
}

func (o *callsOptions) validate() error {
	if err := oneOf("format", o.format, "text", "json", "jsonl", "csv"); err != nil {
		return err
	}
	for _, l := range o.levels {
		if l == "none" {
			continue
		}
		if _, err := parseLevel("level", l); err != nil {
			return err
		}
	}
	for _, s := range o.shapes {
		if err := oneOf("shape", s, model.Shapes...); err != nil {
			return err
		}
	}
	if o.by != "" {
		if o.wrappers {
			return errors.New("--by and --wrappers: give one of them")
		}
		if err := oneOf("by", o.by, report.GroupBy...); err != nil {
			return err
		}
	}
	if o.kind != "" {
		return oneOf("kind", o.kind, model.KindLog, model.KindPrint)
	}
	return nil
}

// wants tells whether a call passes the filters.
func (o *callsOptions) wants(c *model.Call) bool {
	level := c.Level.String()
	if level == "" {
		level = "none"
	}
	return (len(o.levels) == 0 || slices.Contains(o.levels, level)) &&
		(len(o.shapes) == 0 || slices.Contains(o.shapes, c.Shape)) &&
		(o.kind == "" || o.kind == c.Kind) &&
		(len(o.module) == 0 || slices.Contains(o.module, c.Module)) &&
		(len(o.library) == 0 || slices.Contains(o.library, c.Library))
}

func (o *callsOptions) run(ctx context.Context, paths []string) (err error) {
	w, done := o.out()
	defer done(&err)
	list := report.NewCalls(w, o.format, o.look())
	groups := report.NewGroups(o.by)
	counts := map[string]int{}
	s, err := o.read(ctx, paths, analyze.Options{Calls: true}, func(r *analyze.Result) error {
		kept := r.Calls[:0]
		for i := range r.Calls {
			if o.wants(&r.Calls[i]) {
				kept = append(kept, r.Calls[i])
			}
		}
		switch {
		case o.by != "":
			groups.Add(kept)
			return nil
		case o.wrappers:
			for i := range kept {
				if kept[i].Wrapper != "" {
					counts[kept[i].Wrapper]++
				}
			}
			return nil
		}
		return list.File(r.Module, r.File, kept)
	})
	if err != nil {
		return err
	}
	if o.by != "" {
		return groups.Write(w, o.format, o.look())
	}
	if o.wrappers {
		return report.Wrappers(w, o.format, o.look(), s.tree.Wrappers, counts)
	}
	return list.End(s.diagnostics, s.tree.Left)
}
