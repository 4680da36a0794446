// Package model holds the words that all of Reed shares: levels, the call
// record, findings and coverage. The JSON names are fixed here.
package model

import (
	"fmt"
	"strings"
)

// Level is one of the six severity ranges of the OpenTelemetry log data
// model, or NoLevel when it is decided at run time.
type Level uint8

// The levels.
const (
	NoLevel Level = iota
	Trace
	Debug
	Info
	Warn
	Error
	Fatal
)

// Levels lists the six levels from the least to the most severe.
var Levels = []Level{Trace, Debug, Info, Warn, Error, Fatal}

var levelNames = [...]string{"", "trace", "debug", "info", "warn", "error", "fatal"}

// String returns the level's name, "" for NoLevel.
func (l Level) String() string { return levelNames[l] }

// MarshalText writes the level's name.
func (l Level) MarshalText() ([]byte, error) { return []byte(l.String()), nil }

// UnmarshalText reads one of the six names, in any case.
func (l *Level) UnmarshalText(text []byte) error {
	for i, name := range levelNames[1:] {
		if strings.EqualFold(name, string(text)) {
			*l = Level(i + 1)
			return nil
		}
	}
	return fmt.Errorf("unknown level %q: the levels are trace, debug, info, warn, error and fatal", text)
}

// LevelOf maps a severity number (1 to 24, OpenTelemetry log data model) to
// its level; 0 has none.
func LevelOf(severity int) Level {
	if severity < 1 || severity > 24 {
		return NoLevel
	}
	return Level((severity-1)/4 + 1)
}

// Kinds of calls.
const (
	KindLog   = "log"
	KindPrint = "print"
)

// Shapes of messages.
const (
	Constant     = "constant"
	Template     = "template"
	Interpolated = "interpolated"
	Concatenated = "concatenated"
	Formatted    = "formatted"
	Opaque       = "opaque"
	Streamed     = "streamed"
	Bare         = "bare"
)

// Shapes lists every shape.
var Shapes = []string{Constant, Template, Interpolated, Concatenated, Formatted, Opaque, Streamed, Bare}

// Confidence in that a call is a logging call.
const (
	Certain = "certain"
	Likely  = "likely"
)

// Call is the record of one logging call or print. Lines and columns are
// 1-based, columns in bytes of UTF-8.
type Call struct {
	File           string   `json:"file"`
	Line           int      `json:"line"`
	Column         int      `json:"column"`
	EndLine        int      `json:"end_line"`
	MethodLine     int      `json:"method_line"`
	Language       string   `json:"language"`
	Module         string   `json:"module"`
	Type           string   `json:"type"`
	Function       string   `json:"function"`
	Kind           string   `json:"kind"`
	Library        string   `json:"library"`
	Logger         string   `json:"logger"`
	Receiver       string   `json:"receiver"`
	Method         string   `json:"method"`
	Level          Level    `json:"level"`
	LevelName      string   `json:"level_name"`
	SeverityNumber int      `json:"severity_number"`
	Shape          string   `json:"shape"`
	Message        string   `json:"message"`
	Arguments      []string `json:"arguments"`
	Fields         []string `json:"fields"`
	Cause          bool     `json:"cause"`
	FailurePath    bool     `json:"failure_path"`
	Loop           bool     `json:"loop"`
	Guarded        bool     `json:"guarded"`
	Lazy           bool     `json:"lazy"`
	Test           bool     `json:"test"`
	Confidence     string   `json:"confidence"`
	Wrapper        string   `json:"wrapper"` // file:line of the tree's own function that is called, "" when it is the library's
}

// Severity of a finding, in SARIF's words.
type Severity string

// The severities.
const (
	SeverityError   Severity = "error"
	SeverityWarning Severity = "warning"
	SeverityNote    Severity = "note"
)

// Rank orders severities: 3 for error, 2 for warning, 1 for note, 0 for others.
func (s Severity) Rank() int {
	switch s {
	case SeverityError:
		return 3
	case SeverityWarning:
		return 2
	case SeverityNote:
		return 1
	}
	return 0
}

// Finding is one place where a rule fires.
type Finding struct {
	Rule        string   `json:"rule"`
	Concern     string   `json:"concern"`
	Severity    Severity `json:"severity"`
	Confidence  string   `json:"confidence"` // high, medium or low
	File        string   `json:"file"`
	Line        int      `json:"line"`
	Column      int      `json:"column"`
	EndLine     int      `json:"end_line"`
	EndColumn   int      `json:"end_column"` // one behind the last byte
	Module      string   `json:"module"`
	Function    string   `json:"function"`
	Text        string   `json:"text"`
	Remedy      string   `json:"remedy"`
	Evidence    string   `json:"evidence"`    // source text, secrets masked
	Fingerprint string   `json:"fingerprint"` // stays the same when lines move

	// SourceLine is the first line of the place, masked, for people; of a very
	// long line only what stands around it. SourceColumn is where in it the
	// place begins, in bytes from 0.
	SourceLine   string `json:"-"`
	SourceColumn int    `json:"-"`
}

// Diagnostic tells what could not be read. Line is 0 when the whole file is meant.
type Diagnostic struct {
	File string `json:"file"`
	Line int    `json:"line,omitempty"`
	Text string `json:"text"`
}

// String returns file:line: text.
func (d Diagnostic) String() string {
	if d.Line > 0 {
		return fmt.Sprintf("%s:%d: %s", d.File, d.Line, d.Text)
	}
	return d.File + ": " + d.Text
}

// Tally counts the functions, failure paths and calls of one file or module.
type Tally struct {
	Files           int         `json:"files"`
	CodeLines       int         `json:"code_lines"`
	Calls           int         `json:"calls"`
	Levels          LevelCounts `json:"levels"`
	Unlevelled      int         `json:"unlevelled"` // calls whose level is decided at run time
	Prints          int         `json:"prints"`
	Functions       int         `json:"functions"`
	Logging         int         `json:"functions_with_call"`
	Public          int         `json:"public_functions"`
	PublicLogging   int         `json:"public_functions_with_call"`
	Opening         int         `json:"functions_opening_with_call"`
	Failures        int         `json:"failure_paths"`
	FailuresLogged  int         `json:"failure_paths_logged"`
	FailuresPassed  int         `json:"failure_paths_passed_on"`
	FailuresHandled int         `json:"failure_paths_handled"`
	FailuresSilent  int         `json:"failure_paths_silent"`
	Messages        int         `json:"messages"`
	Templates       int         `json:"messages_template_or_constant"`
}

// LevelCounts counts calls by level; its JSON form is an object by name.
type LevelCounts [7]int

// MarshalJSON writes {"trace":n, … "fatal":n}.
func (c LevelCounts) MarshalJSON() ([]byte, error) {
	var b strings.Builder
	for i, l := range Levels {
		sep := ","
		if i == 0 {
			sep = "{"
		}
		fmt.Fprintf(&b, "%s%q:%d", sep, l, c[l])
	}
	return []byte(b.String() + "}"), nil
}

// Add adds another tally to t.
func (t *Tally) Add(o *Tally) {
	t.Files += o.Files
	t.CodeLines += o.CodeLines
	t.Calls += o.Calls
	for i := range t.Levels {
		t.Levels[i] += o.Levels[i]
	}
	t.Unlevelled += o.Unlevelled
	t.Prints += o.Prints
	t.Functions += o.Functions
	t.Logging += o.Logging
	t.Public += o.Public
	t.PublicLogging += o.PublicLogging
	t.Opening += o.Opening
	t.Failures += o.Failures
	t.FailuresLogged += o.FailuresLogged
	t.FailuresPassed += o.FailuresPassed
	t.FailuresHandled += o.FailuresHandled
	t.FailuresSilent += o.FailuresSilent
	t.Messages += o.Messages
	t.Templates += o.Templates
}
