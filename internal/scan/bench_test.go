package scan

import (
	"context"
	"os"
	"runtime"
	"testing"

	"github.com/stretchr/testify/require"

	"reed/internal/analyze"
)

// BenchmarkTree walks and reads a whole tree: the one that REED_TREE names,
// else the sources of Go.
func BenchmarkTree(b *testing.B) {
	root := os.Getenv("REED_TREE")
	if root == "" {
		root = runtime.GOROOT() + "/src" // where the sources are
	}
	o := Options{Paths: []string{root}, Tests: true}
	tree, err := Walk(context.Background(), o)
	require.NoError(b, err)
	total := int64(0)
	for i := range tree.Entries {
		info, err := os.Stat(tree.Entries[i].Path)
		require.NoError(b, err)
		total += info.Size()
	}
	b.Run("walk", func(b *testing.B) {
		b.ReportMetric(float64(len(tree.Entries)), "files")
		for range b.N {
			_, err := Walk(context.Background(), o)
			require.NoError(b, err)
		}
	})
	b.Run("calls", func(b *testing.B) {
		b.SetBytes(total)
		b.ReportAllocs()
		for range b.N {
			require.NoError(b, Run(context.Background(), tree, o, analyze.Options{Calls: true, Discover: true}, func(*analyze.Result) error { return nil }))
		}
	})
}
