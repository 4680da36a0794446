package calls

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"reed/internal/catalog"
	"reed/internal/lang"
	"reed/internal/model"
	"reed/internal/source"
)

func read(t testing.TB, spec *lang.Spec, path, src string) *File {
	t.Helper()
	cat, err := catalog.For(spec.Name)
	require.NoError(t, err)
	f := &File{Spec: spec, Cat: cat, Src: source.New(path, []byte(src)), Unit: "ferry.styles"}
	f.Read()
	return f
}

func TestEveryLibraryRecognisesItsExample(t *testing.T) {
	for _, language := range catalog.Languages() {
		cat, err := catalog.For(language)
		require.NoError(t, err)
		for i := range cat.Libraries {
			lib := &cat.Libraries[i]
			if lib.Inherited || lib.Stream && !lang.ByName(language).Features.Has(lang.Streams) {
				continue
			}
			t.Run(language+"/"+lib.Name, func(t *testing.T) {
				assert.NotEmpty(t, lib.About)
				require.NotEmpty(t, lib.Example, "every entry has an example")
				f := read(t, lang.ByName(language), "example", lib.Example)
				require.NotEmpty(t, f.Sites, lib.Example)
				for _, s := range f.Sites {
					assert.Equal(t, lib.Name, s.Library, "%s.%s", s.Receiver, s.Method)
					assert.Equal(t, model.Certain, s.Confidence, "%s.%s", s.Receiver, s.Method)
				}
			})
		}
		for _, spec := range lang.All() {
			if spec.Name == language {
				assert.Empty(t, read(t, spec, "empty", "").Sites)
			}
		}
	}
}

// summary is a call in the form that expectations are written in.
func summary(s *Site) string {
	out := s.Level.String()
	if out == "" {
		out = "-"
	}
	if s.Kind == model.KindPrint {
		out = "print " + out
	}
	out += " " + s.Shape + " " + fmt.Sprintf("%q", s.Message)
	for _, flag := range []struct {
		on   bool
		name string
	}{{s.Cause, "cause"}, {s.FailurePath, "fail"}, {s.Loop, "loop"}, {s.Guarded, "guarded"}, {s.Lazy, "lazy"}, {s.Confidence == model.Likely, "likely"}} {
		if flag.on {
			out += " " + flag.name
		}
	}
	if len(s.Arguments) > 0 {
		out += " args=" + strings.ReplaceAll(strings.Join(s.Arguments, "|"), " ", "")
	}
	if len(s.Fields) > 0 {
		out += " fields=" + strings.Join(s.Fields, ",")
	}
	if s.Function != "" {
		out += " in=" + s.Function
	}
	return out
}

// disagreements compares the calls of a file with the expectations that its
// lines carry behind "=>"; a line without one expects no call.
func disagreements(f *File, src string) []string {
	got := map[int][]string{}
	for i := range f.Sites {
		s := &f.Sites[i]
		got[s.Line] = append(got[s.Line], summary(s))
	}
	var wrong []string
	for n, line := range strings.Split(src, "\n") {
		var want []string
		if at := strings.Index(line, "=>> "); at >= 0 {
			for _, w := range strings.Split(strings.TrimSuffix(strings.TrimSuffix(line[at+4:], " */}"), " -->"), " ;; ") {
				want = append(want, strings.TrimSpace(w))
			}
		}
		if w, g := strings.Join(want, "\n"), strings.Join(got[n+1], "\n"); w != g {
			wrong = append(wrong, fmt.Sprintf("line %d: %s\n  want %s\n  got  %s", n+1, strings.TrimSpace(line), w, g))
		}
	}
	return wrong
}

func TestFixtures(t *testing.T) {
	files, err := filepath.Glob("testdata/fixtures/*")
	require.NoError(t, err)
	require.NotEmpty(t, files)
	for _, file := range files {
		t.Run(filepath.Base(file), func(t *testing.T) {
			src, err := os.ReadFile(file)
			require.NoError(t, err)
			spec := lang.ByPath(file)
			require.NotNil(t, spec)
			for _, w := range disagreements(read(t, spec, file, string(src)), string(src)) {
				t.Error(w)
			}
		})
	}
}

func TestHarnessSeesMissingAndUnexpectedCalls(t *testing.T) {
	src := "print(1)\nx = 2  # =>> print - constant \"2\"\n"
	assert.Len(t, disagreements(read(t, &lang.Python, "a.py", src), src), 2)
}

// TestLoggerNames holds the configured names of loggers against what the
// languages make of their factories' arguments.
func TestLoggerNames(t *testing.T) {
	for _, row := range []struct{ language, src, want string }{
		{"python", "import logging\nlogging.getLogger('ferry.berths').info('x')\nlog = logging.getLogger(__name__)\nlog.info('y')\nlogging.info('z')\n", "ferry.berths|ferry.styles|"},
		{"java", "package a.b;\nimport org.slf4j.*;\nclass C { static final Logger L = LoggerFactory.getLogger(C.class); static final Logger M = LoggerFactory.getLogger(\"m\"); void f() { L.info(\"x\"); M.info(\"y\"); } }", "a.b.C|m"},
		{"csharp", "using Microsoft.Extensions.Logging;\nnamespace N.O { class C { ILogger<C> l; void F() { l.LogInformation(\"x\"); } } }", "N.O.C"},
		{"javascript", "const debug = require('debug')('ferry:x');\ndebug('a');\n", "ferry:x"},
	} {
		var got []string
		for _, s := range read(t, lang.ByName(row.language), "a", row.src).Sites {
			got = append(got, s.Logger)
		}
		assert.Equal(t, row.want, strings.Join(got, "|"), row.src)
	}
}

func TestPlaceholders(t *testing.T) {
	for _, row := range []struct {
		style catalog.Style
		text  string
		want  string
		holes []string
	}{
		{catalog.Percent, "a %s %-5.2f 100%% %d", "a {} {} 100% {}", []string{"", "", ""}},
		{catalog.Percent, "%(gauge)s at %[2]d %1$s %*d", "{} at {} {} {}", []string{"gauge", "2", "1", "", ""}},
		{catalog.Percent, "50% off, 5 %", "50{}ff, 5 %", []string{""}},
		{catalog.Braces, `a {} \{} {x}`, "a {} {} {x}", []string{""}},
		{catalog.Named, "{Post} {@Lamp:j} {{no}} {0,5}", "{} {} {no} {}", []string{"Post", "Lamp", "0"}},
		{catalog.Named, `{"json": 1} {`, `{"json": 1} {`, nil},
		{catalog.NoStyle, "%s {}", "%s {}", nil},
	} {
		got, holes := Placeholders(row.style, row.text)
		assert.Equal(t, row.want, got, row.text)
		assert.Equal(t, row.holes, holes, row.text)
	}
}
