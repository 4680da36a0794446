package analyze

import (
	"io/fs"
	"os"
	"path/filepath"
	"runtime"
	"strings"
	"testing"

	"reed/internal/lang"
	"reed/internal/lex"
	"reed/internal/rules"
)

// corpus reads up to limit bytes of a language's files: those below the
// folders in REED_TREES_<LANGUAGE>, or ones that the tool chain ships.
func corpus(b *testing.B, spec *lang.Spec, limit int) (texts [][]byte, total int) {
	b.Helper()
	roots := strings.Split(os.Getenv("REED_TREES_"+strings.ToUpper(spec.Name)), ":")
	if roots[0] == "" {
		roots = []string{filepath.Join(runtime.GOROOT(), "src"), "/usr/lib/python3", "/usr/lib/node_modules", "/usr/local/lib"}
	}
	for _, root := range roots {
		_ = filepath.WalkDir(root, func(path string, d fs.DirEntry, err error) error {
			if err != nil || total >= limit {
				return fs.SkipAll
			}
			if d.IsDir() && d.Name() == "testdata" {
				return fs.SkipDir
			}
			if !d.IsDir() && lang.ByPath(path) == spec {
				if text, err := os.ReadFile(path); err == nil && len(text) < 1<<20 {
					texts = append(texts, text)
					total += len(text)
				}
			}
			return nil
		})
	}
	if total == 0 {
		b.Skip("no sources of this language: set REED_TREES_" + strings.ToUpper(spec.Name))
	}
	return texts, total
}

func each(b *testing.B, run func(spec *lang.Spec) func(text []byte)) {
	for _, spec := range []*lang.Spec{&lang.Python, &lang.Java, &lang.CSharp, &lang.JavaScript, &lang.TypeScript, &lang.Go} {
		b.Run(spec.Name, func(b *testing.B) {
			texts, total := corpus(b, spec, 8<<20)
			one := run(spec)
			b.SetBytes(int64(total))
			b.ReportAllocs()
			b.ResetTimer()
			for range b.N {
				for _, t := range texts {
					one(t)
				}
			}
			b.ReportMetric(float64(len(texts)), "files")
		})
	}
}

func BenchmarkScan(b *testing.B) {
	each(b, func(spec *lang.Spec) func([]byte) {
		var res lex.Result
		table := lex.TableFor(spec)
		return func(text []byte) { lex.Scan(table, text, &res) }
	})
}

func BenchmarkCalls(b *testing.B) {
	each(b, func(spec *lang.Spec) func([]byte) {
		a := New(Options{Calls: true})
		return func(text []byte) { a.File(spec, "src/a", "src/a", text, "m", false) }
	})
}

func BenchmarkReview(b *testing.B) {
	each(b, func(spec *lang.Spec) func([]byte) {
		a := New(Options{Tally: true, Rules: rules.All()})
		return func(text []byte) { a.File(spec, "src/a", "src/a", text, "m", false) }
	})
}
