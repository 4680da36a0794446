// Package reed_test holds the rules of the house.
package reed_test

import (
	"os/exec"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// layers are the packages from the ground up: one may import only what lies
// below it, or nothing of its own layer unless named.
var layers = map[string]int{
	"source": 0, "lang": 1, "model": 1, "secret": 1, "lex": 2, "catalog": 3, "outline": 3, "calls": 4, "rule": 5, "rules": 6, "analyze": 7, "coverage": 8, "scan": 8, "report": 9, "cli": 10,
}

func TestImportsGoDownward(t *testing.T) {
	out, err := exec.Command("go", "list", "-f", "{{.ImportPath}} {{join .Imports \" \"}}", "./internal/...").Output()
	require.NoError(t, err)
	for _, line := range strings.Split(strings.TrimSpace(string(out)), "\n") {
		words := strings.Fields(line)
		from := strings.TrimPrefix(words[0], "reed/internal/")
		level, known := layers[from]
		require.True(t, known, "%s has no layer: draw it in docs/ARCHITECTURE.md first", from)
		for _, imp := range words[1:] {
			to, ours := strings.CutPrefix(imp, "reed/internal/")
			if ours {
				assert.Less(t, layers[to], level, "%s imports %s", from, to)
			}
			if from != "scan" && from != "cli" {
				assert.NotContains(t, []string{"os", "os/exec", "net/http"}, imp, "%s does input or output", from)
			}
		}
	}
}
