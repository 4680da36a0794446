package analyze

import (
	"bytes"
	"io/fs"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"reed/demo"
	"reed/internal/lang"
	"reed/internal/model"
	"reed/internal/rules"
)

// samples returns the sources of the demo, by language.
func samples(t testing.TB) map[*lang.Spec][]string {
	t.Helper()
	all := map[*lang.Spec][]string{}
	require.NoError(t, fs.WalkDir(demo.FS(), ".", func(path string, d fs.DirEntry, err error) error {
		if spec := lang.ByPath(path); err == nil && !d.IsDir() && spec != nil {
			text, err := fs.ReadFile(demo.FS(), path)
			require.NoError(t, err)
			all[spec] = append(all[spec], string(text))
		}
		return err
	}))
	return all
}

var everything = Options{Calls: true, Tally: true, Rules: rules.All()}

func TestTally(t *testing.T) {
	src := `import logging
log = logging.getLogger(__name__)


def read(gauge):
    """Reads."""
    log.debug("reading %s", gauge)
    try:
        gauge.read()
    except OSError:
        log.info("lost %s", gauge)
    except ValueError:
        raise
    except Exception:
        pass


def _hidden():
    print(1)
    try:
        f()
    except Exception:
        return None
`
	r := New(everything).File(&lang.Python, "a.py", "a.py", []byte(src), "m", false)
	want := model.Tally{Files: 1, CodeLines: 19, Calls: 2, Prints: 1, Functions: 2, Logging: 1, Public: 1, PublicLogging: 1, Opening: 1,
		Failures: 4, FailuresLogged: 1, FailuresPassed: 1, FailuresHandled: 1, FailuresSilent: 1, Messages: 2, Templates: 2}
	want.Levels[model.Debug], want.Levels[model.Info] = 1, 1
	assert.Equal(t, want, r.Tally)

	at := everything
	at.At = model.Warn
	left := New(at).File(&lang.Python, "a.py", "a.py", []byte(src), "m", false).Tally
	assert.Equal(t, 0, left.Calls)
	assert.Equal(t, 0, left.FailuresLogged)
	assert.Equal(t, 2, left.FailuresSilent, "what logged at info only falls silent at warn")
}

// TestAllocationsStayFlat keeps the memory of a file's analysis from growing
// with its tokens: a file twice as long in code without calls costs the same.
func TestAllocationsStayFlat(t *testing.T) {
	code := strings.Repeat("def f(a):\n    b = a + 1\n    return [b, {'c': f'{a}'}]\n", 400)
	a := New(everything)
	count := func(text string) float64 {
		return testing.AllocsPerRun(20, func() { a.File(&lang.Python, "a.py", "a.py", []byte(text), "m", false) })
	}
	count(code + code)
	one, two := count(code), count(code+code)
	assert.Less(t, one, 60.0)
	assert.InDelta(t, one, two, 4)
}

// TestHostileInput reads a quarter of a megabyte of each kind of nasty text:
// anything that costs more than its size would keep this test from ending.
func TestManyCallsAreCut(t *testing.T) {
	r := New(Options{Calls: true}).File(&lang.Python, "a.py", "a.py", bytes.Repeat([]byte("print(1)\n"), 200_001), "m", false)
	assert.Len(t, r.Calls, 200_000)
	require.Len(t, r.Diagnostics, 1)
	assert.Equal(t, 200_001, r.Diagnostics[0].Line)
}

func TestHostileInput(t *testing.T) {
	const size = 128 << 10
	for name, unit := range map[string]string{
		"brackets": "((((", "braces": "{{{{", "closers": ")}]", "interpolation": "`${", "f-strings": `f"{`, "quotes": `"""`, "dots": "a.b.c.d.", "calls": "log.info(", "chains": ".info().log()", "ifs": "if (a) ", "arrows": "a=>",
		"colons": `$"{a:`, "regex": "/[", "markup": "<a b={", "else": "else if (x) {", "generics": "A<B<", "lambdas": "lambda: ", "cases": "case a:", "comments": "/*", "strings": `log.info("a" + `, "catch": "try{}catch(e){", "dollars": "$$$", "python": "if a:\n ", "nul": "\x00",
		"values": "console.log(`${", "secrets": `log.info("password=` + "tide4ever" + `");`,
		"heredoc": "<<A\n", "heredoc2": "f <<~A, <<-B\n", "herenow": "<<<A\n", "parenstar": "(* ", "hash": "\"#{", "begin": "begin ", "iftrue": "if true\n", "doblock": "x do |y| ", "words": "%w[", "at": "@\"\n", "selector": "[a b:", "tag": "<a>", "tagl": "<log message=\"${", "ppif": "#if A\n{\n", "ppelse": "#else\n}\n", "life": "'a ", "closure": "|x| ", "macro": "info!(", "stream": "LOG(INFO) << ", "cascade": "..info(", "casein": "case a in\n", "fn": "fn a() {", "def": "def a\n", "fun": "fun a() = ", "match": "match a { Err(e) => ", "proc": "procedure A; ", "try": "try\n", "except": "except on E: X do ", "php": "<?php ?>", "php2": "<?php if (a): ", "backslash": "\\\n", "subst": "\"$(", "nest": "/* (* { ", "swiftq": "\"\\(", "unless": "x unless ", "kept": "a = log.info\n", "consts": "A = \"a\"\nlog.info(A)\n", "getattr": "getattr(log, ", "level": "log[a](", "talk": "s.Debugf(\"a\")\n", "wrap": "function log(msg) { log(msg) }\n", "wrappy": "def log(msg):\n  log(msg)\n",
	} {
		text := []byte(strings.Repeat(unit, size/len(unit)))
		for _, spec := range lang.All() {
			r := New(everything).File(spec, "a", "a", text, "m", false)
			assert.Equal(t, spec.Name, r.Language, name)
		}
	}
}

func FuzzFile(f *testing.F) {
	for i, spec := range lang.All() {
		for _, text := range samples(f)[spec] {
			f.Add(i, []byte(text))
		}
	}
	for i := range lang.All() {
		for _, r := range rules.All() {
			f.Add(i, []byte(r.Examples[0].Bad))
		}
	}
	f.Fuzz(func(t *testing.T, i int, text []byte) {
		all := lang.All()
		r := New(everything).File(all[uint(i)%uint(len(all))], "src/a", "src/a", text, "m", false)
		for _, c := range r.Calls {
			if c.Line < 1 || c.Column < 1 || c.EndLine < c.Line || c.MethodLine < c.Line {
				t.Fatalf("place of %+v", c)
			}
		}
		for _, n := range r.Findings {
			if n.Line < 1 || n.EndLine < n.Line || n.Text == "" || n.Remedy == "" {
				t.Fatalf("finding %+v", n)
			}
		}
	})
}
