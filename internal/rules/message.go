package rules

import (
	"reed/internal/calls"
	"reed/internal/model"
	"reed/internal/rule"
)

// built reports calls whose message has a shape, where the library would have
// kept text and values apart.
func built(p *rule.Pass, shape, how string) {
	logs(p, func(s *calls.Site) {
		if !s.Judged || s.Inside || s.Shape != shape || !s.HasText {
			return
		}
		atMessage(p, s, "The message "+quote(s.Message)+" "+how+".", rewriteRemedy(p, s))
	})
}

// MessageConcatenated finds messages joined from parts.
var MessageConcatenated = &rule.Rule{
	Name: "message-concatenated", Concern: rule.Message, Severity: model.SeverityWarning, Confidence: "high",
	Summary: "The message is joined from parts although the library takes values apart.",
	Reason: `A message that is joined with an operator is a new text every time. It cannot be searched for, grouped or
counted, its values cannot be queried, and it is built even when its level is off.`,
	Exceptions: `Leave it where the library has no placeholders and no fields, or where all parts are constants.`,
	Examples: []rule.Example{
		sample("python", "import logging\nlog = logging.getLogger(__name__)\n\n\ndef read(gauge):\n    log.info(\"gauge \" + gauge + \" read\")\n", "import logging\nlog = logging.getLogger(__name__)\n\n\ndef read(gauge):\n    log.info(\"gauge %s read\", gauge)\n"),
		sample("java", "import org.slf4j.Logger;\nclass Siren {\n  Logger log;\n  void sound(String post) { log.warn(\"siren \" + post + \" is late\"); }\n}\n", "import org.slf4j.Logger;\nclass Siren {\n  Logger log;\n  void sound(String post) { log.warn(\"siren {} is late\", post); }\n}\n"),
		sample("go", "package depot\n\nimport \"log/slog\"\n\nfunc on(pump string) {\n\tslog.Info(\"pump \" + pump + \" on\")\n}\n", "package depot\n\nimport \"log/slog\"\n\nfunc on(pump string) {\n\tslog.Info(\"pump on\", \"pump\", pump)\n}\n"),
	},
	Check: func(p *rule.Pass) { built(p, model.Concatenated, "is joined from parts before the logger sees it") },
}

// MessageInterpolated finds messages built by the language's interpolation.
var MessageInterpolated = &rule.Rule{
	Name: "message-interpolated", Concern: rule.Message, Severity: model.SeverityWarning, Confidence: "high",
	Summary: "The message is interpolated although the library takes values apart.",
	Reason: `String interpolation hands the logger one finished text. The values in it are lost as values, the text is
different every time, and it is built even when its level is off.`,
	Exceptions: `Leave it where the library has no placeholders and no fields.`,
	Examples: []rule.Example{
		sample("python", "import logging\nlog = logging.getLogger(__name__)\n\n\ndef read(gauge):\n    log.info(f\"gauge {gauge} read\")\n", "import logging\nlog = logging.getLogger(__name__)\n\n\ndef read(gauge):\n    log.info(\"gauge %s read\", gauge)\n"),
		sample("csharp", "using Microsoft.Extensions.Logging;\nclass Lamp {\n  ILogger<Lamp> log;\n  void On(string post) { log.LogInformation($\"lamp {post} on\"); }\n}\n", "using Microsoft.Extensions.Logging;\nclass Lamp {\n  ILogger<Lamp> log;\n  void On(string post) { log.LogInformation(\"lamp {Post} on\", post); }\n}\n"),
		sample("typescript", "import pino from 'pino';\nconst log = pino();\nexport function place(pin: string) {\n  log.info(`pin ${pin} placed`);\n}\n", "import pino from 'pino';\nconst log = pino();\nexport function place(pin: string) {\n  log.info({ pin }, 'pin placed');\n}\n"),
	},
	Check: func(p *rule.Pass) { built(p, model.Interpolated, "is interpolated before the logger sees it") },
}

// MessageFormatted finds messages formatted by a call or operator.
var MessageFormatted = &rule.Rule{
	Name: "message-formatted", Concern: rule.Message, Severity: model.SeverityWarning, Confidence: "high",
	Summary: "The message is formatted by a call or operator although the library would do it.",
	Reason: `A formatting call or operator makes the text before the logger sees it: it is paid for when the level is
off, an error in it throws from a line that should never throw, and the values are lost.`,
	Exceptions: `Leave it where the format cannot be said in the library's placeholders, such as a number of digits that matters.`,
	Examples: []rule.Example{
		sample("python", "import logging\nlog = logging.getLogger(__name__)\n\n\ndef read(gauge):\n    log.info(\"gauge %s read\" % gauge)\n", "import logging\nlog = logging.getLogger(__name__)\n\n\ndef read(gauge):\n    log.info(\"gauge %s read\", gauge)\n"),
		sample("java", "import org.slf4j.Logger;\nclass Siren {\n  Logger log;\n  void sound(String post) { log.warn(String.format(\"siren %s is late\", post)); }\n}\n", "import org.slf4j.Logger;\nclass Siren {\n  Logger log;\n  void sound(String post) { log.warn(\"siren {} is late\", post); }\n}\n"),
		sample("go", "package depot\n\nimport (\n\t\"fmt\"\n\t\"log/slog\"\n)\n\nfunc on(pump string) {\n\tslog.Info(fmt.Sprintf(\"pump %s on\", pump))\n}\n", "package depot\n\nimport \"log/slog\"\n\nfunc on(pump string) {\n\tslog.Info(\"pump on\", \"pump\", pump)\n}\n"),
	},
	Check: func(p *rule.Pass) { built(p, model.Formatted, "is formatted before the logger sees it") },
}
