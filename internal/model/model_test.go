package model

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestLevelOf(t *testing.T) {
	// the ranges of the OpenTelemetry log data model
	for severity, want := range map[int]Level{0: NoLevel, 1: Trace, 4: Trace, 5: Debug, 8: Debug, 9: Info, 12: Info, 13: Warn, 16: Warn, 17: Error, 20: Error, 21: Fatal, 24: Fatal, 25: NoLevel, -1: NoLevel} {
		assert.Equal(t, want, LevelOf(severity), severity)
	}
}

func TestLevelText(t *testing.T) {
	for _, l := range Levels {
		text, err := l.MarshalText()
		require.NoError(t, err)
		var back Level
		require.NoError(t, back.UnmarshalText(text))
		assert.Equal(t, l, back)
	}
	var l Level
	assert.NoError(t, l.UnmarshalText([]byte("WARN")))
	assert.ErrorContains(t, l.UnmarshalText([]byte("loud")), "trace, debug, info")
}

func TestTallyAdds(t *testing.T) {
	a := Tally{Files: 1, CodeLines: 2, Calls: 3, Unlevelled: 4, Prints: 5, Functions: 6, Logging: 7, Public: 8, PublicLogging: 9, Opening: 10, Failures: 11, FailuresLogged: 12, FailuresPassed: 13, FailuresHandled: 14, FailuresSilent: 15, Messages: 16, Templates: 17}
	a.Levels[Warn] = 18
	sum := a
	sum.Add(&a)
	assert.Equal(t, Tally{Files: 2, CodeLines: 4, Calls: 6, Levels: LevelCounts{Warn: 36}, Unlevelled: 8, Prints: 10, Functions: 12, Logging: 14, Public: 16, PublicLogging: 18, Opening: 20, Failures: 22, FailuresLogged: 24, FailuresPassed: 26, FailuresHandled: 28, FailuresSilent: 30, Messages: 32, Templates: 34}, sum)
	data, err := json.Marshal(a.Levels)
	require.NoError(t, err)
	assert.JSONEq(t, `{"trace":0,"debug":0,"info":0,"warn":18,"error":0,"fatal":0}`, string(data))
}

func TestRankAndDiagnostic(t *testing.T) {
	assert.Greater(t, SeverityError.Rank(), SeverityWarning.Rank())
	assert.Greater(t, SeverityWarning.Rank(), SeverityNote.Rank())
	assert.Zero(t, Severity("loud").Rank())
	assert.Equal(t, "a.py:3: broken", Diagnostic{File: "a.py", Line: 3, Text: "broken"}.String())
	assert.Equal(t, "a.py: gone", Diagnostic{File: "a.py", Text: "gone"}.String())
}
