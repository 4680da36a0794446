package rules

import (
	"strings"

	"reed/internal/calls"
	"reed/internal/lang"
	"reed/internal/lex"
	"reed/internal/model"
	"reed/internal/outline"
	"reed/internal/rule"
	"reed/internal/secret"
)

// CauseDropped finds errors logged without the exception.
var CauseDropped = &rule.Rule{
	Name: "cause-dropped", Concern: rule.Context, Severity: model.SeverityWarning, Confidence: "high",
	Summary: "A failure is logged at error without the exception, or with only its text.",
	Reason: `The exception knows what failed and where. Its text alone has no stack trace, no type and no inner cause;
often it is empty or one word. This line is the last place where all that is at hand.`,
	Exceptions: `Leave it where the exception is passed on and logged elsewhere, where it is expected and narrow, or where
the language has errors without a stack trace and their text is in the message.`,
	Examples: []rule.Example{
		sample("python", "import logging\nlog = logging.getLogger(__name__)\n\n\ndef store(reading):\n    try:\n        db.put(reading)\n    except OSError as e:\n        log.error(\"reading %s was not stored: %s\", reading, e)\n", "import logging\nlog = logging.getLogger(__name__)\n\n\ndef store(reading):\n    try:\n        db.put(reading)\n    except OSError:\n        log.exception(\"reading %s was not stored\", reading)\n"),
		sample("java", "import org.slf4j.Logger;\nclass Siren {\n  Logger log;\n  void sound(String post) { try { ring(post); } catch (RuntimeException e) { log.error(\"siren {} failed: {}\", post, e.getMessage()); } }\n}\n", "import org.slf4j.Logger;\nclass Siren {\n  Logger log;\n  void sound(String post) { try { ring(post); } catch (RuntimeException e) { log.error(\"siren {} failed\", post, e); } }\n}\n"),
		sample("csharp", "using Serilog;\nclass Lamp {\n  void On(string post) { try { Light(post); } catch (System.Exception ex) { Log.Error(\"lamp {Post} failed\", post); } }\n}\n", "using Serilog;\nclass Lamp {\n  void On(string post) { try { Light(post); } catch (System.Exception ex) { Log.Error(ex, \"lamp {Post} failed\", post); } }\n}\n"),
		sample("go", "package depot\n\nimport \"log/slog\"\n\nfunc on(p string) {\n\tif err := start(p); err != nil {\n\t\tslog.Error(\"pump did not start\", \"pump\", p)\n\t}\n}\n", "package depot\n\nimport \"log/slog\"\n\nfunc on(p string) {\n\tif err := start(p); err != nil {\n\t\tslog.Error(\"pump did not start\", \"pump\", p, \"err\", err)\n\t}\n}\n"),
	},
	Check: func(p *rule.Pass) {
		logs(p, func(s *calls.Site) { dropped(p, s) })
	},
}

func dropped(p *rule.Pass, s *calls.Site) {
	if s.Level < model.Error || s.Cause || !s.FailurePath || s.Confidence != model.Certain && s.Sig.Lib.Name == "" && !p.Spec.Features.Has(lang.ErrorText) {
		return
	}
	o := outcomeOf(p, s)
	if o == nil || o.Passed || o.Narrow {
		return
	}
	for _, i := range o.Sites {
		if p.Sites[i].Cause {
			return
		}
	}
	name := errorName(p, s)
	if name == "_" {
		return
	}
	for _, i := range o.Sites[:min(len(o.Sites), 20)] {
		if withTrace(p, &p.Sites[i], name) {
			return
		}
	}
	if s != wanting(p, o, name) {
		return
	}
	if p.Scope(o.Scope).Name < 0 && !p.Spec.Features.Has(lang.IndentBlocks) {
		return // nothing is caught by name
	}
	if p.Spec.Features.Has(lang.ErrorValues) && (mentions(p, s, name) || anyErrorMentioned(p, s)) {
		return
	}
	text := "The exception is not handed to the logger."
	if name != "" {
		text = "The exception " + code(name) + " is not handed to the logger: its stack trace is lost."
		if p.Spec.Features.Has(lang.ErrorText) {
			text = "The error " + code(name) + " is not in this event."
		} else if mentions(p, s, name) {
			text = "Only the text of " + code(name) + " is logged: its type and stack trace are lost."
		}
	}
	at(p, s, text, causeRemedy(p, s, name))
}

// wanting returns the one call of a failure path that the exception is missed
// from: the first that names it, else the first at error or above.
func wanting(p *rule.Pass, o *calls.Outcome, name string) *calls.Site {
	var first *calls.Site
	for _, i := range o.Sites {
		s := &p.Sites[i]
		if s.Kind != model.KindLog || s.Level < model.Error || outcomeOf(p, s) != o {
			continue
		}
		if mentions(p, s, name) {
			return s
		}
		if first == nil {
			first = s
		}
	}
	return first
}

// withTrace tells whether a call writes the stack trace as text: err.stack,
// traceback.format_exc(), ex.ToString() in C#.
func withTrace(p *rule.Pass, s *calls.Site, name string) bool {
	for i := s.First; i <= s.Close; i++ {
		switch p.Text(i) {
		case "stack", "format_exc", "format_exception", "getStackTrace", "getStackTraceAsString", "StackTrace", "inspect", "getFullStackTrace", "stackTraceAsString", "stackTraceToString", "getStackTraceString", "backtrace", "full_message", "getTraceAsString", "ScriptStackTrace", "printStackTrace", "stackTrace", "callStackSymbols":
			return true
		case name:
			if name != "" && p.Spec.Features.Has(lang.ErrorFirst) && wrapped(p, s, i) {
				return true
			}
		case "ToString":
			if p.Is(i-2, name) && p.Spec.Features.Has(lang.Properties) {
				return true
			}
		}
	}
	return false
}

// wrapped tells whether the error at token i is handed whole to a function
// that makes something of it which is no mere text: Diagnostic.error(err).
func wrapped(p *rule.Pass, s *calls.Site, i int32) bool {
	open := i - 1
	if p.Kind(open) != '(' || open <= s.Open || p.Kind(i+1) != ')' || p.Kind(open-1) != lex.Ident {
		return false
	}
	switch p.Text(open - 1) {
	case "String", "stringify", "toString", "format", "concat":
		return false
	}
	return true
}

// mentions tells whether a call names a variable among its arguments.
func mentions(p *rule.Pass, s *calls.Site, name string) bool {
	if name == "" {
		return false
	}
	for i := s.First; i <= s.Close; i++ {
		if p.Kind(i) == lex.Ident && i != s.Name && p.Is(i, name) {
			return true
		}
	}
	return false
}

// anyErrorMentioned tells whether a call names anything that bears an error's
// name.
func anyErrorMentioned(p *rule.Pass, s *calls.Site) bool {
	for i := s.First; i <= s.Close; i++ {
		if p.Kind(i) == lex.Ident && i != s.Name && (outline.IsErrorName(p.Text(i)) || strings.HasSuffix(strings.ToLower(p.Text(i)), "err")) {
			return true
		}
	}
	return false
}

// SilentFailure finds failure paths that leave no trace.
var SilentFailure = &rule.Rule{
	Name: "silent-failure", Concern: rule.Context, Severity: model.SeverityWarning, Confidence: "medium",
	Summary: "A failure is caught and leaves no trace.",
	Reason: `The failure is neither logged nor passed on, returned or recorded, and no comment says why. When it matters,
nobody will know that it happened.`,
	Exceptions: `A narrow exception that is expected (nothing found, end of input, cancelled) is fine, and so is a comment
that says why nothing is to be done.`,
	Examples: []rule.Example{
		sample("python", "def store(reading):\n    try:\n        db.put(reading)\n    except Exception:\n        pass\n", "def store(reading):\n    try:\n        db.put(reading)\n    except Exception:\n        pass  # the next reading comes in a minute\n"),
		sample("java", "class Siren {\n  void sound(String post) { try { ring(post); } catch (RuntimeException e) { } }\n}\n", "class Siren {\n  boolean sound(String post) { try { ring(post); return true; } catch (RuntimeException e) { return false; } }\n}\n"),
		sample("javascript", "function load(tile) {\n  return fetch(tile).catch(() => {});\n}\n", "function load(tile) {\n  return fetch(tile).catch(e => report(e));\n}\n"),
		sample("go", "package depot\n\nfunc on(ps []string) {\n\tfor _, p := range ps {\n\t\tif err := start(p); err != nil {\n\t\t\tcontinue\n\t\t}\n\t}\n}\n", "package depot\n\nfunc on(p string) error {\n\tif err := start(p); err != nil {\n\t\treturn err\n\t}\n\treturn nil\n}\n"),
	},
	Check: func(p *rule.Pass) {
		for i := range p.Outcomes {
			o := &p.Outcomes[i]
			if !o.Silent() {
				continue
			}
			s := p.Scope(o.Scope)
			name := "The failure"
			if s.Name >= 0 {
				name = code(p.Text(s.Name))
			}
			what := name + " is caught and dropped: it is neither logged nor passed on, and nothing says why."
			n := rule.Note{From: s.Head, To: headEnd(p, s), Scope: o.Scope, Text: what, Remedy: "Log it, pass it on, or say in a comment why it does not matter."}
			if s.Traits&outline.Handler != 0 && (!broad(p, s) || p.Shrugged(s)) { // one kind of failure, perhaps expected
				n.Severity, n.Confidence = model.SeverityNote, "low"
			}
			if s.Traits&outline.Handler == 0 {
				n.Text = name + " is tested and dropped: it is neither logged nor passed on, and nothing says why."
				n.Severity, n.Confidence = model.SeverityNote, "low"
			}
			p.Report(n)
		}
	},
}

// broadErrors are types that stand for almost anything that can go wrong.
var broadErrors = map[string]bool{
	"Exception": true, "BaseException": true, "Throwable": true, "RuntimeException": true, "Error": true, "OSError": true, "IOError": true, "EnvironmentError": true,
	"IOException": true, "SQLException": true, "SystemException": true, "ApplicationException": true, "SocketException": true, "WebException": true, "HttpRequestException": true,
}

// broad tells whether a handler catches everything or nearly so: it names no
// type, or a broad one.
func broad(p *rule.Pass, s *outline.Scope) bool {
	if p.Spec.Features.Has(lang.ErrorFirst) {
		return true // handlers of scripts have no types
	}
	typed := false
	for i := s.ParamsFrom; i < s.ParamsTo; i++ {
		if p.Kind(i) == lex.Ident && i != s.Name && p.Kind(i+1) != '.' {
			typed = true
			if broadErrors[p.Text(i)] {
				return true
			}
		}
	}
	return !typed
}

// headEnd returns where the header of a failure path ends.
func headEnd(p *rule.Pass, s *outline.Scope) int32 {
	end := s.Open
	for end > s.Head+1 && (p.Kind(end-1) == '{' || p.Kind(end-1) == ':') {
		end--
	}
	return max(end, s.Head+1)
}

// NoValues finds alarms that do not say which thing they are about.
var NoValues = &rule.Rule{
	Name: "no-values", Concern: rule.Context, Severity: model.SeverityNote, Confidence: "low",
	Summary: "A warning or error does not say which thing it is about.",
	Reason: `The text is the same for every gauge, user or file, and the function knows which one it is. Whoever reads the
line has to guess.`,
	Exceptions: `Leave it where there is only one such thing, or where the logger is bound to the thing already.`,
	Examples: []rule.Example{
		sample("python", "import logging\nlog = logging.getLogger(__name__)\n\n\ndef check(gauge):\n    if gauge.late():\n        log.warning(\"reading is late\")\n", "import logging\nlog = logging.getLogger(__name__)\n\n\ndef check(gauge):\n    if gauge.late():\n        log.warning(\"reading of %s is late\", gauge.id)\n"),
		sample("java", "import org.slf4j.Logger;\nclass Siren {\n  Logger log;\n  void sound(String post) { log.warn(\"siren has no power\"); }\n}\n", "import org.slf4j.Logger;\nclass Siren {\n  Logger log;\n  void sound(String post) { log.warn(\"siren {} has no power\", post); }\n}\n"),
		sample("go", "package depot\n\nimport \"log/slog\"\n\nfunc on(pump string) {\n\tslog.Warn(\"pump is hot\")\n}\n", "package depot\n\nimport \"log/slog\"\n\nfunc on(pump string) {\n\tslog.Warn(\"pump is hot\", \"pump\", pump)\n}\n"),
	},
	Check: func(p *rule.Pass) {
		logs(p, func(s *calls.Site) {
			if s.Level < model.Warn || s.Shape != model.Constant || s.Cause || s.Bound || len(s.Fields) > 0 || len(s.Arguments) > 0 || !s.HasText {
				return
			}
			if name := nameable(p, s.Scope); name != "" {
				at(p, s, "“"+short(s.Message)+"” does not say which one: "+code(name)+" is at hand.", "Add the value that tells which thing it is about.")
			}
		})
	},
}

// nameable returns a parameter of the function around a scope that could say
// what a message is about, "" when it has none.
func nameable(p *rule.Pass, scope int32) string {
	for at := scope; at > 0; at = p.Scope(at).Parent {
		s := p.Scope(at)
		if s.Kind == outline.Type {
			return ""
		}
		if s.Kind != outline.Func {
			continue
		}
		for _, name := range p.ParamNames(s) {
			switch strings.ToLower(name) {
			case "self", "cls", "this", "ctx", "context", "args", "kwargs", "argv", "logger", "log", "req", "res", "request", "response", "headers", "body", "w", "r", "next", "e", "ev", "evt", "event", "sender", "_", "err", "error", "opts", "options", "cancellationtoken", "ct", "token", "callback", "cb", "done", "t", "session", "config", "cfg", "env", "app":
				continue
			}
			if secret.Named(name) != secret.None {
				continue
			}
			return name
		}
		return ""
	}
	return ""
}
