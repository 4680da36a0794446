package rules

import (
	"regexp"
	"strings"

	"reed/internal/calls"
	"reed/internal/lang"
	"reed/internal/model"
	"reed/internal/outline"
	"reed/internal/rule"
)

// FailureUnderstated finds failure paths that log below warn and do nothing else.
var FailureUnderstated = &rule.Rule{
	Name: "failure-understated", Concern: rule.Level, Severity: model.SeverityWarning, Confidence: "medium",
	Summary: "A failure is logged below warn, and nothing else is done about it.",
	Reason: `The path runs only because something failed, it keeps the failure to itself, and all it says is at info or
below. With the usual thresholds nobody on call will see that anything went wrong.`,
	Exceptions: `Leave it where the failure is expected: a value that may be missing, a second try, a default that the
message names.`,
	Examples: []rule.Example{
		sample("python", "import logging\nlog = logging.getLogger(__name__)\n\n\ndef store(reading):\n    try:\n        db.put(reading)\n    except OSError as e:\n        log.info(\"reading %s was not stored: %s\", reading, e)\n", "import logging\nlog = logging.getLogger(__name__)\n\n\ndef store(reading):\n    try:\n        db.put(reading)\n    except OSError:\n        log.warning(\"reading %s was not stored\", reading, exc_info=True)\n"),
		sample("java", "import org.slf4j.Logger;\nclass Siren {\n  Logger log;\n  void sound(String post) { try { ring(post); } catch (RuntimeException e) { log.info(\"siren {} did not sound\", post, e); } }\n}\n", "import org.slf4j.Logger;\nclass Siren {\n  Logger log;\n  void sound(String post) { try { ring(post); } catch (RuntimeException e) { log.error(\"siren {} did not sound\", post, e); } }\n}\n"),
		sample("go", "package depot\n\nimport \"log/slog\"\n\nfunc on(p string) {\n\tif err := start(p); err != nil {\n\t\tslog.Info(\"pump did not start\", \"pump\", p, \"err\", err)\n\t}\n}\n", "package depot\n\nimport \"log/slog\"\n\nfunc on(p string) {\n\tif err := start(p); err != nil {\n\t\tslog.Error(\"pump did not start\", \"pump\", p, \"err\", err)\n\t}\n}\n"),
	},
	Check: func(p *rule.Pass) {
		for i := range p.Outcomes {
			understated(p, &p.Outcomes[i])
		}
	},
}

// excused are words by which a message tells that the failure is dealt with.
var excused = regexp.MustCompile(`(?i)\b(ignor\w*|skip\w*|retry\w*|retri\w*|again|fall\w* ?back|default\w*|instead|optional|not found|does ?n[o']t exist|no such|missing|not available|unavailable|unsupported|not supported|already|cancel\w*|interrupt\w*|clos\w*|disconnect\w*|shut\w*|stop\w*|expected|harmless|best.effort|cleanup|not installed|disabled|attempt\w*|replac\w*|stale|will (?:use|try|be)|using|assum\w*|continu\w*|forc\w*|no longer|rebuild\w*|refresh\w*|reload\w*|reset\w*|deferr?\w*|postpon\w*|requeu\w*|queu\w*|timeout|timed out|eof|gone|exit\w*)\b`)

func understated(p *rule.Pass, o *calls.Outcome) {
	if !o.Logged || o.Printed || handles(o) || o.Said || o.Loudest == model.NoLevel || o.Loudest >= model.Warn {
		return
	}
	s := p.Scope(o.Scope)
	if s.Traits&outline.Handler == 0 && p.Spec.Features.Has(lang.ErrorFirst) && p.Spec.Features.Has(lang.NewlineEnds) && s.Name < 0 {
		return
	}
	var loudest *calls.Site
	for _, at := range o.Sites {
		c := &p.Sites[at]
		if c.Kind == model.KindLog && c.Level == model.NoLevel {
			return
		}
		if excused.MatchString(c.Message) {
			return
		}
		if c.Kind == model.KindLog && (loudest == nil || c.Level > loudest.Level) {
			loudest = c
		}
	}
	if loudest == nil || leavesNext(p, s) {
		return
	}
	n := rule.Note{From: loudest.First, To: loudest.Close + 1, Scope: loudest.Scope, Text: "This failure is logged at " + loudest.Level.String() + " only, and nothing else is done about it.", Remedy: "Log it at warn or error, or pass the failure on."}
	if loudest.Level < model.Info { // often meant so
		n.Severity, n.Confidence = model.SeverityNote, "low"
	}
	p.Report(n)
}

// leavesNext tells whether the statement behind a handler throws, returns or
// reports: the failure is dealt with after the block.
func leavesNext(p *rule.Pass, s *outline.Scope) bool {
	i := s.Close
	if p.Kind(i) == '}' {
		i++
	}
	for n := int32(0); n < 3; n++ {
		switch p.Kind(i + n).Role() {
		case lang.Throw:
			return true
		case lang.Finally, lang.Catch, lang.Else:
			return false
		}
	}
	return false
}

// ErrorWithoutFailure finds success reported as an error.
var ErrorWithoutFailure = &rule.Rule{
	Name: "error-without-failure", Concern: rule.Level, Severity: model.SeverityWarning, Confidence: "medium",
	Summary: "Success or progress is logged at error or fatal.",
	Reason: `Nothing failed here and the words say so, yet the level raises an alarm. Alarms that mean nothing teach
people to look away.`,
	Exceptions: `Leave it where a target keeps only errors and the line must be in it; then say so in a comment.`,
	Examples: []rule.Example{
		sample("python", "import logging\nlog = logging.getLogger(__name__)\n\n\ndef main():\n    log.error(\"Forecast service started\")\n", "import logging\nlog = logging.getLogger(__name__)\n\n\ndef main():\n    log.info(\"Forecast service started\")\n"),
		sample("java", "import org.slf4j.Logger;\nclass Siren {\n  Logger log;\n  void arm() { log.error(\"Successfully armed all sirens\"); }\n}\n", "import org.slf4j.Logger;\nclass Siren {\n  Logger log;\n  void arm(int n) { log.info(\"armed {} sirens\", n); }\n}\n"),
		sample("csharp", "using Serilog;\nclass Lamp {\n  void On() { Log.Error(\"Lamp controller started\"); }\n}\n", "using Serilog;\nclass Lamp {\n  void On() { Log.Information(\"Lamp controller started\"); }\n}\n"),
	},
	Check: func(p *rule.Pass) {
		logs(p, func(s *calls.Site) {
			if alarmsNothing(p, s) && s.Level >= model.Error {
				at(p, s, "“"+short(s.Message)+"” reports that all is well, yet it is logged at "+s.Level.String()+".", "Log it at info.")
			}
		})
	},
}

// alarmsNothing tells whether a call at warn or above only reports progress:
// no failure path, no cause, no test around it that failed.
func alarmsNothing(p *rule.Pass, s *calls.Site) bool {
	if s.Level < model.Warn || s.FailurePath || s.Cause || s.Shape == model.Opaque || s.Shape == model.Bare {
		return false
	}
	text := strings.ReplaceAll(s.Message, "{}", " x ")
	if !progressWords.MatchString(text) || troubled.MatchString(text) {
		return false
	}
	for at := s.Scope; at > 0; at = p.Scope(at).Parent {
		sc := p.Scope(at)
		if sc.Kind == outline.Func || sc.Kind == outline.Type {
			break
		}
		if sc.Kind == outline.Branch && sc.ParamsTo > sc.ParamsFrom || sc.Traits&outline.ElseArm != 0 {
			return false
		}
	}
	return true
}

func short(s string) string { return strings.Trim(quote(s), "“”") }

// WordingContradictsLevel finds words that ask for another level.
var WordingContradictsLevel = &rule.Rule{
	Name: "wording-contradicts-level", Concern: rule.Level, Severity: model.SeverityWarning, Confidence: "medium",
	Summary: "The words of the message ask for another level than the call has.",
	Reason: `People filter by level and read the words afterwards. A failure told at info is filtered away; progress told
at warn wakes somebody up.`,
	Exceptions: `Leave it where the failure is expected and the message says what is done instead.`,
	Examples: []rule.Example{
		sample("python", "import logging\nlog = logging.getLogger(__name__)\n\n\ndef poll(gauge):\n    log.info(\"Failed to read gauge %s\", gauge)\n", "import logging\nlog = logging.getLogger(__name__)\n\n\ndef poll(gauge):\n    log.warning(\"Failed to read gauge %s\", gauge)\n"),
		sample("java", "import org.slf4j.Logger;\nclass Siren {\n  Logger log;\n  void arm(String post) { log.info(\"ERROR: siren {} has no power\", post); }\n}\n", "import org.slf4j.Logger;\nclass Siren {\n  Logger log;\n  void arm(String post) { log.error(\"siren {} has no power\", post); }\n}\n"),
		sample("go", "package depot\n\nimport \"log/slog\"\n\nfunc on(p string) {\n\tslog.Warn(\"Started pump control\", \"pump\", p)\n}\n", "package depot\n\nimport \"log/slog\"\n\nfunc on(p string) {\n\tslog.Info(\"Started pump control\", \"pump\", p)\n}\n"),
	},
	Check: func(p *rule.Pass) {
		logs(p, func(s *calls.Site) { contradiction(p, s) })
	},
}

// levelPrefix is a level written at the beginning of a message.
var levelPrefix = regexp.MustCompile(`^\W{0,4}(?i:(warning|warn|error|err|fatal|critical|info|debug|severe))\s?(?:[:!\]|]|- )`)

var prefixLevels = map[string]model.Level{
	"warning": model.Warn, "warn": model.Warn, "error": model.Error, "err": model.Error, "fatal": model.Fatal, "critical": model.Fatal, "severe": model.Error, "info": model.Info, "debug": model.Debug,
}

func contradiction(p *rule.Pass, s *calls.Site) {
	if s.Level == model.NoLevel || len(s.Sig.Lib.Levels) == 1 || !s.HasText || s.Shape == model.Opaque || s.Shape == model.Bare {
		return
	}
	if m := levelPrefix.FindStringSubmatch(s.Message[:min(len(s.Message), 24)]); m != nil {
		want := prefixLevels[strings.ToLower(m[1])]
		if want != s.Level && !(want >= model.Error && s.Level >= model.Error) {
			if want > s.Level && (s.FailurePath || want >= model.Warn) || want < s.Level {
				atMessage(p, s, "The message begins with "+quote(m[1])+" but is logged at "+s.Level.String()+".", "Log it at "+want.String()+" and leave the word out of the text.")
			}
			return
		}
	}
	text := s.Message
	if s.Level <= model.Info && s.Level > model.NoLevel && !s.Guarded {
		word := ""
		if mayFail(text) {
			word = failureWords.FindString(text)
		}
		if m := inability.FindStringSubmatch(text); word == "" && m != nil {
			word = m[1]
		}
		if word != "" && !softened.MatchString(text) && !optionalFailure(p, s) {
			n := rule.Note{From: s.First, To: s.Close + 1, Scope: s.Scope, Text: "The words " + quote(word) + " tell of a failure, yet the call is at " + s.Level.String() + ".", Remedy: "Log it at warn or error, or say why it does not matter."}
			if s.Level < model.Info {
				n.Severity, n.Confidence = model.SeverityNote, "low"
			}
			p.Report(n)
		}
		return
	}
	if s.Level == model.Warn && alarmsNothing(p, s) {
		at(p, s, quote(text)+" reports that all is well, yet it is logged at warn.", "Log it at info.")
	}
}

// mayFail is a cheap test that every text passes in which failureWords finds
// something.
func mayFail(text string) bool {
	for _, part := range []string{"ail", "AIL", "rror", "RROR", "ould", "OULD", "nable", "NABLE", "xcept", "XCEPT", "an't", "annot", "AN'T", "ANNOT", "an not"} {
		if strings.Contains(text, part) {
			return true
		}
	}
	return false
}

// optionalFailure tells whether the failure path around a call hands the
// failure on, so that somebody else will judge it, or is already reported for
// being understated.
func optionalFailure(p *rule.Pass, s *calls.Site) bool {
	o := outcomeOf(p, s)
	if o == nil {
		return false
	}
	return o.Passed || o.Returned || o.Narrow || o.Loudest >= model.Warn || !handles(o) && !o.Said
}
