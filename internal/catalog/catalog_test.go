package catalog

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestEveryCatalogDecodes(t *testing.T) {
	for _, language := range Languages() {
		cat, err := For(language)
		require.NoError(t, err)
		assert.Contains(t, cat.Languages, language)
		for i := range cat.Libraries {
			lib := &cat.Libraries[i]
			for name, severity := range lib.Levels {
				assert.True(t, severity >= 1 && severity <= 24, "%s %s", lib.Name, name)
			}
			if lib.Default != "" && lib.Default != "off" {
				_, n := lib.LevelNamed(lib.Default)
				assert.NotZero(t, n, "%s: default threshold %s is no level of it", lib.Name, lib.Default)
			}
		}
	}
	_, err := For("cobol")
	assert.ErrorContains(t, err, "cobol")
}

func TestDecodeIsStrict(t *testing.T) {
	for text, want := range map[string]string{
		"languages: [x]\nlibrarys: []\n":                                                                 "line 2",
		"libraries:\n  - library: a\n    methods:\n      - levels: {warn: LOUD}\n":                       `library a: method warn has level "LOUD"`,
		"libraries:\n  - library: a\n    methods: {}\n":                                                  "line 3",
		"libraries:\n  - library: a\n    levels: {a: many}\n":                                            "line 3",
		"languages: [x]\nlibraries:\n  - library: a\n    fluent:\n      heads: {a: b}\n      tale: []\n": "line 6",
	} {
		_, err := Decode("mine.yaml", []byte(text))
		assert.ErrorContains(t, err, "mine.yaml")
		assert.ErrorContains(t, err, want)
	}
	empty, err := Decode("empty.yaml", nil)
	require.NoError(t, err)
	assert.False(t, empty.Candidate([]byte("info")))
}

func TestLevelNamed(t *testing.T) {
	lib := Library{Levels: map[string]int{"DEBUG": 5, "INFO": 9, "WARNING": 13}}
	for written, want := range map[string]int{"INFO": 9, "info": 9, "LevelInfo": 9, "InfoLevel": 9, "LOG_INFO": 9, "Warning": 13, "LOUD": 0, "": 0, "level": 0} {
		_, got := lib.LevelNamed(written)
		assert.Equal(t, want, got, written)
	}
}

func TestMatches(t *testing.T) {
	lib := Library{Imports: []string{"org.slf4j", "log/slog"}}
	for path, want := range map[string]bool{"org.slf4j": true, "org.slf4j.Logger": true, "org.slf4jx": false, "log/slog": true, "log": false, "log/slog#x": true} {
		assert.Equal(t, want, lib.Matches(path), path)
	}
}

func FuzzDecode(f *testing.F) {
	for _, language := range Languages() {
		data, err := files.ReadFile("data/" + fileOf[language] + ".yaml")
		require.NoError(f, err)
		f.Add(data)
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		if l, err := Decode("a", data); err == nil {
			l.Candidate([]byte("info"))
			l.Anchor([]byte("Logger"))
		}
	})
}
