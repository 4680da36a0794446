package docs

import (
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"reed/internal/catalog"
	"reed/internal/rules"
)

func TestPagesNameEveryRuleAndLibrary(t *testing.T) {
	page, err := os.ReadFile("rules.md")
	require.NoError(t, err)
	for _, r := range rules.All() {
		assert.Contains(t, string(page), "| `"+r.Name+"` | "+string(r.Severity)+" |", "run go generate ./docs")
	}
	page, err = os.ReadFile("libraries.md")
	require.NoError(t, err)
	for _, language := range catalog.Languages() {
		cat, err := catalog.For(language)
		require.NoError(t, err)
		for i := range cat.Libraries {
			assert.Contains(t, string(page), "| "+cat.Libraries[i].Name+" | "+cat.Libraries[i].About, "run go generate ./docs")
		}
	}
}

func TestLinkedFilesExist(t *testing.T) {
	for _, name := range []string{"ARCHITECTURE.md", "records.md", "rules.md", "libraries.md", "screenshots/review.png", "screenshots/calls.png", "screenshots/coverage.png", "screenshots/rules.png", "screenshots/rule.png", "screenshots/demo.png", "../LICENSE", "../CONTRIBUTING.md", "../CHANGELOG.md"} {
		_, err := os.Stat(name)
		assert.NoError(t, err)
	}
}
