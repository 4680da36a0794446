package rules

import (
	"regexp"
	"strings"

	"reed/internal/calls"
	"reed/internal/lang"
	"reed/internal/model"
	"reed/internal/rule"
)

// MessageVague finds messages that say nothing.
var MessageVague = &rule.Rule{
	Name: "message-vague", Concern: rule.Message, Severity: model.SeverityWarning, Confidence: "high",
	Summary: "The message says nothing: it is empty or one bare word.",
	Reason: `Whoever reads the log has only the message. “error” or “here” tells neither what was tried nor on what, and
matches every search.`,
	Exceptions: `Leave it where fields tell the rest and the word is the agreed name of the event.`,
	Examples: []rule.Example{
		sample("python", "import logging\nlog = logging.getLogger(__name__)\n\n\ndef read(gauge):\n    log.debug(\"here\")\n", "import logging\nlog = logging.getLogger(__name__)\n\n\ndef read(gauge):\n    log.debug(\"reading gauge %s\", gauge)\n"),
		sample("java", "import org.slf4j.Logger;\nclass Siren {\n  Logger log;\n  void sound() { try { ring(); } catch (Exception e) { log.error(\"error\", e); } }\n}\n", "import org.slf4j.Logger;\nclass Siren {\n  Logger log;\n  void sound() { try { ring(); } catch (Exception e) { log.error(\"siren did not sound\", e); } }\n}\n"),
		sample("javascript", "const log = require('pino')();\nfunction tile() {\n  log.info('???');\n}\n", "const log = require('pino')();\nfunction tile(t) {\n  log.info({ tile: t }, 'tile loaded');\n}\n"),
	},
	Check: func(p *rule.Pass) {
		logs(p, func(s *calls.Site) {
			if s.Shape != model.Constant || len(s.Arguments) > 0 || s.MessageAt < 0 || !p.Kind(s.Args[s.MessageAt].From).IsString() {
				return
			}
			if len(s.Fields) > 0 || s.Inside || len(s.Sig.Lib.Levels) == 1 {
				return
			}
			if !vague(s.Message) || s.Message == "" && (s.Through != nil || p.Spec.Features.Has(lang.Commands)) { // the wrapper says the rest
				return
			}
			what := "The message " + quote(s.Message) + " names nothing."
			if strings.TrimSpace(s.Message) == "" {
				what = "The message is empty."
			}
			atMessage(p, s, what, "Say what was done or tried, and on what.")
		})
	},
}

var vagueWord = regexp.MustCompile(`(?i)^(an? )?(error|errors|err|exception|failed|failure|fail|here|test|testing|debug|ok|okay|done|foo|bar|baz|hello|hi|info|warning|warn|todo|fixme|xxx+|aaa+|asdf|start|end|begin|enter|exit|oops|ups|huh|what|hmm|success|yes|no|true|false|problem|bug|message|msg|data|result|in|out|before|after|\d+|error occurr?ed|something went wrong|unknown error|unexpected error|exception occurr?ed|an exception)$`)

// vague tells whether a text names nothing.
func vague(text string) bool {
	if strings.Contains(text, "()") { // a function's name
		return false
	}
	bare := strings.Trim(text, " \t\r\n.!?:;,-=*#_>< ()[]…")
	return bare == "" && !ruler(text) || vagueWord.MatchString(bare)
}

// ruler tells whether a text is a line drawn to set off what follows.
func ruler(text string) bool {
	t := strings.TrimSpace(text)
	return len(t) >= 4 && strings.Trim(t, t[:1]) == "" || len(t) > 2 && strings.ContainsAny(t, "-=*#_")
}
