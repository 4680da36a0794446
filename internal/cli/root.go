// Package cli is the command line: a tree of commands, each an options struct
// that is completed, checked and run. The work is done by the packages below.
package cli

import (
	"bufio"
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"runtime/debug"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"time"

	"github.com/fatih/color"
	"github.com/schollz/progressbar/v3"
	"github.com/spf13/cobra"
	"golang.org/x/term"

	"reed/internal/analyze"
	"reed/internal/model"
	"reed/internal/report"
	"reed/internal/scan"
)

// Version is the version that reed --version prints; the linker may set it.
var Version = "0.1.0"

// Streams are the standard streams of the process.
type Streams struct {
	In       io.Reader
	Out, Err io.Writer
}

// Exit statuses.
const (
	exitClean    = 0
	exitFindings = 1
	exitFailed   = 2
	exitStopped  = 130
)

// errFindings says that findings at or above --fail-on were reported.
var errFindings = errors.New("findings")

// Main runs the command line args and returns the exit status.
func Main(ctx context.Context, args []string, streams Streams) int {
	debug.SetGCPercent(400)
	debug.SetMemoryLimit(150 << 20) // collects more often rather than growing past this
	root := newRoot(streams)
	root.SetArgs(args)
	err := root.ExecuteContext(ctx)
	switch {
	case err == nil:
		return exitClean
	case errors.Is(err, errFindings):
		return exitFindings
	case errors.Is(err, syscall.EPIPE):
		return exitClean
	case errors.Is(err, context.Canceled):
		return exitStopped
	}
	fmt.Fprintln(streams.Err, "reed:", report.Clean(err.Error()))
	return exitFailed
}

// common are the options that all commands which read code share.
type common struct {
	streams Streams
	color   string
	only    []string
	skip    []string
	tests   bool
	quiet   bool

	mu   sync.Mutex
	bar  *progressbar.ProgressBar // on standard error while work goes on
	rest []byte                   // the beginning of a line that is not whole yet
}

// Write writes to standard output. While a progress bar is drawn it makes room
// first, and only whole lines are written, so that it never draws over text.
func (c *common) Write(p []byte) (int, error) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.bar == nil {
		if _, err := c.streams.Out.Write(append(c.rest, p...)); err != nil {
			return 0, err
		}
		c.rest = nil
		return len(p), nil
	}
	whole := bytes.LastIndexByte(p, '\n') + 1
	if whole == 0 {
		c.rest = append(c.rest, p...)
		return len(p), nil
	}
	_ = c.bar.Clear()
	if _, err := c.streams.Out.Write(append(c.rest, p[:whole]...)); err != nil {
		return 0, err
	}
	c.rest = append([]byte(nil), p[whole:]...)
	return len(p), nil
}

// showBar makes the bar if there is none and sets it; total -1 stands for
// work of unknown size.
func (c *common) showBar(f *os.File, what string, done, total int) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.bar == nil {
		options := []progressbar.Option{progressbar.OptionSetWriter(f), progressbar.OptionSetDescription(what), progressbar.OptionSetPredictTime(false),
			progressbar.OptionSetWidth(30), progressbar.OptionClearOnFinish(), progressbar.OptionThrottle(65 * time.Millisecond)}
		if total > 0 {
			options = append(options, progressbar.OptionShowCount())
		}
		c.bar = progressbar.NewOptions(total, options...)
	}
	_ = c.bar.Set(done)
}

func (c *common) endBar() {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.bar != nil {
		_ = c.bar.Clear()
		c.bar = nil
	}
}

// say writes a line to standard error.
func (c *common) say(line string) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.bar != nil {
		_ = c.bar.Clear()
	}
	fmt.Fprintln(c.streams.Err, "reed:", report.Clean(line))
}

// slow is how long work may take before progress is shown.
const slow = 500 * time.Millisecond

// searching shows a sign of life while the tree is walked; the function that
// it returns ends it.
func (c *common) searching(f *os.File) func() {
	stop, stopped := make(chan struct{}), make(chan struct{})
	go func() {
		defer close(stopped)
		wait := time.NewTimer(slow)
		defer wait.Stop()
		for n := 0; ; n++ {
			select {
			case <-stop:
				c.endBar()
				return
			case <-wait.C:
				c.showBar(f, "finding files", n, -1)
				wait.Reset(100 * time.Millisecond)
			}
		}
	}()
	return func() { close(stop); <-stopped }
}

func newRoot(streams Streams) *cobra.Command {
	c := &common{streams: streams}
	root := &cobra.Command{
		Use:   "reed",
		Short: "Reads the logging in a code base as a careful reviewer would",
		Long: `Reed finds every logging call and print in a code base of several languages,
judges level, message, context and secrets, and shows how each module is covered.`,
		Example: `  reed review
  reed calls --level error services/
  reed coverage --by folder`,
		Version:       Version,
		SilenceErrors: true,
		SilenceUsage:  true,
		Args:          cobra.NoArgs,
		RunE:          func(cmd *cobra.Command, _ []string) error { return cmd.Help() },
	}
	root.SetOut(streams.Out)
	root.SetErr(streams.Err)
	root.SetVersionTemplate("reed {{.Version}}\n")
	root.PersistentFlags().StringVar(&c.color, "color", "auto", "colour in text output: auto, always or never")
	root.PersistentPreRunE = func(*cobra.Command, []string) error {
		switch c.color {
		case "auto", "always", "never":
			return nil
		}
		return fmt.Errorf("--color %q: give auto, always or never", c.color)
	}
	root.AddCommand(newReview(c), newCalls(c), newCoverage(c), newRules(c), newDemo(c))
	root.InitDefaultCompletionCmd()
	for _, sub := range root.Commands() {
		if sub.Name() == "completion" {
			sub.Example = "  reed completion bash > /etc/bash_completion.d/reed\n  reed completion zsh > \"${fpath[1]}/_reed\""
			for _, shell := range sub.Commands() {
				shell.Example = "  reed completion " + shell.Name()
			}
		}
	}
	return root
}

// readFlags adds the flags that say what to read.
func (c *common) readFlags(cmd *cobra.Command) {
	f := cmd.Flags()
	f.StringArrayVar(&c.only, "only", nil, "read only files that match `GLOB` (**, *, ?, [ab], {a,b}; without a slash any file name); may be repeated")
	f.StringArrayVar(&c.skip, "skip", nil, "leave out files and folders that match `GLOB`; may be repeated")
	f.BoolVar(&c.tests, "tests", false, "read test code too")
	f.BoolVar(&c.quiet, "no-progress", false, "show no progress")
}

// terminal returns the file behind a writer when it is a terminal.
func terminal(w io.Writer) (*os.File, bool) {
	f, ok := w.(*os.File)
	return f, ok && term.IsTerminal(int(f.Fd()))
}

// look returns how text is to be drawn on the output.
func (c *common) look() report.Look {
	l := report.Look{Width: 100}
	if w, err := strconv.Atoi(os.Getenv("COLUMNS")); err == nil && w > 20 {
		l.Width = w
	}
	f, tty := terminal(c.streams.Out)
	if tty {
		if w, _, err := term.GetSize(int(f.Fd())); err == nil && w > 20 {
			l.Width = w
		}
	}
	l.Terminal = tty
	_, noColor := os.LookupEnv("NO_COLOR")
	l.Color = c.color == "always" || c.color == "auto" && tty && !noColor && os.Getenv("TERM") != "dumb"
	color.NoColor = !l.Color
	return l
}

// scanning is one run over a tree.
type scanning struct {
	tree        *scan.Tree
	diagnostics []model.Diagnostic
}

// read walks the paths and hands each file's result to take, in order.
// Diagnostics go to standard error as well.
func (c *common) read(ctx context.Context, paths []string, want analyze.Options, take func(*analyze.Result) error) (*scanning, error) {
	o := scan.Options{Paths: paths, Only: c.only, Skip: c.skip, Tests: c.tests}
	s := &scanning{}
	found := func() {}
	if f, tty := terminal(c.streams.Err); tty && !c.quiet {
		start := time.Now()
		o.Progress = func(done, total int) {
			if time.Since(start) > slow {
				c.showBar(f, "reading", done, total)
			}
		}
		found = c.searching(f)
	}
	tree, err := scan.Walk(ctx, o)
	found()
	if err != nil {
		return nil, err
	}
	s.tree = tree
	tell := func(list []model.Diagnostic) {
		for _, d := range list {
			c.say(d.String())
		}
		s.diagnostics = append(s.diagnostics, list...)
	}
	tell(tree.Diagnostics)
	want.Discover, want.Tests = true, c.tests
	err = scan.Run(ctx, tree, o, want, func(r *analyze.Result) error {
		tell(r.Diagnostics)
		return take(r)
	})
	c.endBar()
	return s, err
}

// out returns a buffered output and the function that ends it.
func (c *common) out() (*bufio.Writer, func(*error)) {
	w := bufio.NewWriterSize(c, 1<<16)
	return w, func(err *error) {
		if e := w.Flush(); *err == nil || errors.Is(*err, errFindings) && e != nil {
			if e != nil {
				*err = e
			}
		}
	}
}

// oneOf checks the value of a flag.
func oneOf(flag, value string, allowed ...string) error {
	for _, a := range allowed {
		if value == a {
			return nil
		}
	}
	return fmt.Errorf("--%s %q: give %s", flag, value, listed(allowed))
}

func listed(words []string) string {
	if len(words) < 2 {
		return strings.Join(words, "")
	}
	return strings.Join(words[:len(words)-1], ", ") + " or " + words[len(words)-1]
}

// parseLevel reads a level flag; "" gives NoLevel.
func parseLevel(flag, value string) (model.Level, error) {
	var l model.Level
	if value == "" {
		return l, nil
	}
	if err := l.UnmarshalText([]byte(value)); err != nil {
		return l, fmt.Errorf("--%s: %w", flag, err)
	}
	return l, nil
}
