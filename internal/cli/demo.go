package cli

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"reed/demo"
	"reed/internal/rules"
)

func newDemo(c *common) *cobra.Command {
	return &cobra.Command{
		Use:   "demo [DIR]",
		Short: "Run the full example on a sample code base",
		Long: `Demo unpacks the code base of the Ottermere flood watch, an invented service in
several languages, into DIR (reed-demo when none is given), reviews it and shows its
coverage. Only files of the code base are written.`,
		Example: "  reed demo\n  reed demo /tmp/ottermere",
		Args:    cobra.MaximumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			dir := "reed-demo"
			if len(args) == 1 {
				dir = args[0]
			}
			return runDemo(cmd.Context(), c, dir)
		},
	}
}

func runDemo(ctx context.Context, c *common, dir string) error {
	n, err := demo.Unpack(dir)
	if err != nil {
		return fmt.Errorf("demo: %w", err)
	}
	say := func(format string, args ...any) error {
		_, err := fmt.Fprintf(c.streams.Out, format, args...)
		return err
	}
	shown := filepath.ToSlash(filepath.Clean(dir))
	if err := say("The Ottermere flood watch lies in %s: %d files in seventeen languages.\n\n$ reed review %s\n\n", shown, n, quoted(shown)); err != nil {
		return err
	}
	review := &reviewOptions{common: c, format: "text", failOn: "never", chosen: rules.All()}
	if err := review.run(ctx, []string{dir}); err != nil && !errors.Is(err, errFindings) {
		return err
	}
	if err := say("\n$ reed coverage %s\n\n", quoted(shown)); err != nil {
		return err
	}
	cover := &coverageOptions{common: c, format: "text", by: "module"}
	if err := cover.run(ctx, []string{dir}); err != nil {
		return err
	}
	me := "reed"
	if exe, err := os.Executable(); err == nil && strings.Contains(exe, "go-build") {
		me = "go run ./cmd/reed"
	}
	return say("\nTry next:\n  %s calls %s\n  %s rules cause-dropped\n  %s coverage --at warn %s\n", me, quoted(shown), me, me, quoted(shown))
}

// quoted writes a path so that a shell takes it as one word.
func quoted(s string) string {
	if strings.IndexFunc(s, func(r rune) bool {
		return !strings.ContainsRune("abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789._/-+:@", r)
	}) < 0 {
		return s
	}
	return "'" + strings.ReplaceAll(s, "'", `'\''`) + "'"
}
