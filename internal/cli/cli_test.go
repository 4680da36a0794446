package cli

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/rogpeppe/go-internal/testscript"
	"github.com/spf13/cobra"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"reed/demo"
	"reed/internal/model"
	"reed/internal/rules"
)

func TestMain(m *testing.M) {
	testscript.Main(m, map[string]func(){
		"reed": func() {
			os.Exit(Main(context.Background(), os.Args[1:], Streams{In: os.Stdin, Out: os.Stdout, Err: os.Stderr}))
		},
	})
}

// TestScripts runs the txtar files, which drive the program on files of their
// own and name the exit statuses they expect: "status N command…".
func TestScripts(t *testing.T) {
	testscript.Run(t, testscript.Params{
		Dir: "testdata/script",
		Cmds: map[string]func(ts *testscript.TestScript, neg bool, args []string){
			"status": func(ts *testscript.TestScript, _ bool, args []string) {
				err := ts.Exec(args[1], args[2:]...)
				got := "0"
				if exit, ok := err.(*exec.ExitError); ok {
					got = string(rune('0' + exit.ExitCode()))
				} else if err != nil {
					ts.Fatalf("%v", err)
				}
				if got != args[0] {
					ts.Fatalf("status %s, not %s", got, args[0])
				}
			},
		},
	})
}

// run runs the program in this process.
func run(t *testing.T, args ...string) (status int, out, problems string) {
	t.Helper()
	var o, e bytes.Buffer
	status = Main(context.Background(), args, Streams{Out: &o, Err: &e})
	return status, o.String(), e.String()
}

func TestEveryCommandIsDocumented(t *testing.T) {
	var walk func(c *cobra.Command)
	walk = func(c *cobra.Command) {
		if c.Name() == "help" {
			return
		}
		assert.NotEmpty(t, c.Short, c.CommandPath())
		assert.NotEmpty(t, c.Example, c.CommandPath())
		assert.False(t, strings.HasSuffix(c.Short, "."), c.CommandPath())
		for _, sub := range c.Commands() {
			walk(sub)
		}
	}
	walk(newRoot(Streams{Out: &bytes.Buffer{}, Err: &bytes.Buffer{}}))
}

// unpack writes the demo's code base and moves there.
func unpack(t *testing.T) {
	t.Helper()
	dir := t.TempDir()
	_, err := demo.Unpack(filepath.Join(dir, "ottermere"))
	require.NoError(t, err)
	t.Chdir(dir)
}

type document struct {
	Findings []model.Finding
	Modules  []map[string]any
	Calls    []map[string]any
	Summary  map[string]any
}

func TestDemoFiresEveryRuleAndSparesGoodCode(t *testing.T) {
	unpack(t)
	status, out, problems := run(t, "review", "--format", "json", "--calls", "ottermere")
	assert.Equal(t, 1, status)
	assert.Empty(t, problems)
	var doc document
	require.NoError(t, json.Unmarshal([]byte(out), &doc))
	fired := map[string]bool{}
	for _, f := range doc.Findings {
		fired[f.Rule] = true
		text, err := os.ReadFile(f.File)
		require.NoError(t, err, "paths open from the current folder")
		assert.NotContains(t, string(text), "The logging here is as it should be", "%s:%d %s", f.File, f.Line, f.Rule)
	}
	for _, r := range rules.All() {
		assert.True(t, fired[r.Name], "%s fires nowhere in the demo", r.Name)
	}
	assert.Len(t, doc.Modules, 15)
	assert.Greater(t, len(doc.Calls), 60)
}

// TestDemoReadsAsItWasJudged holds what is read from the demo, in all of its
// languages, against lists that were read line by line.
func TestDemoReadsAsItWasJudged(t *testing.T) {
	want := map[string]string{}
	for _, name := range []string{"demo_calls.csv", "demo_coverage.csv", "demo_findings.txt"} {
		text, err := os.ReadFile(filepath.Join("testdata", name))
		require.NoError(t, err)
		want[name] = string(text)
	}
	unpack(t)
	_, calls, _ := run(t, "calls", "--format", "csv", "ottermere")
	assert.Equal(t, want["demo_calls.csv"], calls)
	_, cover, _ := run(t, "coverage", "--format", "csv", "ottermere")
	assert.Equal(t, want["demo_coverage.csv"], cover)
	_, review, _ := run(t, "review", "--notes", "--format", "jsonl", "ottermere")
	var found strings.Builder
	for line := range strings.Lines(review) {
		var f model.Finding
		require.NoError(t, json.Unmarshal([]byte(line), &f))
		fmt.Fprintf(&found, "%s:%d:%d %s %s %s\n", f.File, f.Line, f.Column, f.Severity, f.Rule, f.Text)
	}
	assert.Equal(t, want["demo_findings.txt"], found.String())
}

// TestSecretsNeverShow looks for the planted values in every output.
func TestSecretsNeverShow(t *testing.T) {
	unpack(t)
	planted := "weir4" + "dawn"
	found := false
	require.NoError(t, fs.WalkDir(demo.FS(), ".", func(path string, d fs.DirEntry, err error) error {
		if err == nil && !d.IsDir() {
			text, _ := fs.ReadFile(demo.FS(), path)
			found = found || bytes.Contains(text, []byte(planted))
		}
		return err
	}))
	require.True(t, found, "the value is planted")
	for _, args := range [][]string{
		{"review", "--notes"}, {"review", "--format", "json", "--calls"}, {"review", "--format", "jsonl"}, {"calls"}, {"calls", "--format", "json"}, {"calls", "--format", "jsonl"}, {"calls", "--format", "csv"}, {"coverage", "--format", "json"},
	} {
		_, out, problems := run(t, append(args, "ottermere")...)
		assert.NotContains(t, out, planted, args)
		assert.NotContains(t, problems, planted, args)
		assert.NotEmpty(t, out, args)
	}
}

func TestSameInputSameBytes(t *testing.T) {
	unpack(t)
	for _, args := range [][]string{{"review", "--notes", "ottermere"}, {"calls", "--format", "json", "ottermere"}, {"coverage", "--by", "file", "ottermere"}} {
		_, first, _ := run(t, args...)
		for range 5 {
			_, again, _ := run(t, args...)
			require.Equal(t, first, again, args)
		}
	}
}

func TestColumnsStayWithinTheWidth(t *testing.T) {
	unpack(t)
	for _, args := range [][]string{{"review", "--notes", "ottermere"}, {"coverage", "ottermere"}, {"calls", "ottermere"}, {"rules"}} {
		_, out, _ := run(t, args...)
		for _, line := range strings.Split(out, "\n") {
			if place := regexp.MustCompile(`^  \S+:\d+:\d+$`); !place.MatchString(line) { // a place is never cut: it is to be opened
				assert.LessOrEqual(t, len([]rune(line)), 100, "%v: %s", args, line)
			}
		}
	}
}

func TestMarkupAndControlCharactersStayHarmless(t *testing.T) {
	dir := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(dir, "a.py"), []byte("import logging\nlogging.info('\x1b[31m \u202e red' + x)\n"), 0o644))
	t.Chdir(dir)
	for _, args := range [][]string{{"review"}, {"calls"}} {
		_, out, _ := run(t, args...)
		assert.NotContains(t, out, "\x1b")
		assert.NotContains(t, out, "\u202e")
	}
}
