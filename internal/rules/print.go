package rules

import (
	"sort"
	"strings"

	"reed/internal/calls"
	"reed/internal/lang"
	"reed/internal/lex"
	"reed/internal/model"
	"reed/internal/outline"
	"reed/internal/rule"
	"reed/internal/secret"
)

// prints calls f for every print of one kind of leftover.
func prints(p *rule.Pass, kind string, f func(s *calls.Site)) {
	for i := range p.Sites {
		if s := &p.Sites[i]; s.Kind == model.KindPrint && s.Sig.Print() == kind {
			f(s)
		}
	}
}

// hasLogger tells whether the file logs through a library.
func hasLogger(p *rule.Pass) bool {
	for i := range p.Sites {
		if p.Sites[i].Kind == model.KindLog {
			return true
		}
	}
	return false
}

// printsOutput tells whether prints may well be what a file is for: it prints
// more than it logs, or it is about logging itself.
func printsOutput(p *rule.Pass) bool {
	printed, logged := 0, 0
	for i := range p.Sites {
		if p.Sites[i].Kind == model.KindPrint {
			printed++
		} else {
			logged++
		}
	}
	base := strings.ToLower(p.Src.Path[strings.LastIndexByte(p.Src.Path, '/')+1:])
	return printed > logged || strings.Contains(base, "log")
}

// showing tells whether a function's name says that it shows things to people.
func showing(function string) bool {
	for _, w := range secret.Words(function) {
		switch w {
		case "main", "help", "usage", "banner", "show", "print", "display", "report", "dump", "list", "prompt", "ask", "version", "interactive", "draw", "inspect", "write", "echo", "output", "puts", "pprint":
			return true
		}
	}
	return false
}

// toStandardError tells whether a print goes to standard error, where the last
// words of a program belong.
func toStandardError(p *rule.Pass, s *calls.Site) bool {
	return strings.HasSuffix(s.Receiver, ".err") || strings.HasSuffix(s.Receiver, ".stderr") || strings.HasSuffix(s.Receiver, ".Error")
}

// toStream tells whether a print names the stream it writes to.
func toStream(p *rule.Pass, s *calls.Site) bool {
	for _, a := range s.Args {
		if a.Key >= 0 && p.Is(a.Key, "file") {
			return true
		}
	}
	return false
}

// conditional tells whether a call stands under a condition within its
// function.
func conditional(p *rule.Pass, s *calls.Site) bool {
	for at := s.Scope; at > 0; at = p.Scope(at).Parent {
		sc := p.Scope(at)
		switch sc.Kind {
		case outline.Func, outline.Type:
			return false
		case outline.Branch, outline.Failure, outline.Guard:
			if sc.ParamsTo > sc.ParamsFrom || sc.Kind != outline.Branch || sc.Traits&outline.ElseArm != 0 {
				return true
			}
		}
	}
	return false
}

// forDebugging tells whether a condition around a call asks for debugging.
func forDebugging(p *rule.Pass, s *calls.Site) bool {
	for at := s.Scope; at > 0; at = p.Scope(at).Parent {
		sc := p.Scope(at)
		for i := sc.ParamsFrom; sc.Kind == outline.Branch && i < sc.ParamsTo; i++ {
			t := strings.ToLower(p.Text(i))
			if strings.Contains(t, "debug") || strings.Contains(t, "pdb") || strings.Contains(t, "attached") || strings.Contains(t, "verbos") || strings.Contains(t, "dump") || strings.Contains(t, "always") || strings.Contains(t, "break") {
				return true
			}
		}
	}
	return false
}

// toPeople tells whether a print is a box that talks to whoever sits there.
func toPeople(s *calls.Site) bool {
	m := strings.ToLower(s.Method)
	return m == "alert" || strings.HasPrefix(m, "showmessage")
}

// composed tells whether a print of Go is a sentence made for somebody who runs
// the program, rather than values thrown onto the console: a format, outside
// of failure paths.
func composed(p *rule.Pass, s *calls.Site) bool {
	return p.Spec.Features.Has(lang.ErrorValues) && !s.FailurePath && strings.HasSuffix(s.Method, "f")
}

// rendered tells whether a print has no words of its own and writes what a
// call made for it: a line of output.
func rendered(p *rule.Pass, s *calls.Site) bool {
	return !s.HasText && !s.FailurePath && len(s.Values) == 1 && p.Kind(s.Values[0].To-1) == ')' && p.Kind(s.Values[0].From) == lex.Ident
}

// talkative tells whether so much of what a file writes is printed that it
// talks to whoever runs it.
func talkative(p *rule.Pass) bool {
	printed := 0
	for i := range p.Sites {
		if p.Sites[i].Kind == model.KindPrint {
			printed++
		}
	}
	return printed >= 6 && printed*3 >= len(p.Sites)
}

// blank tells whether a print only sets off what stands around it.
func blank(s *calls.Site) bool {
	return len(s.Args) == 0 || len(s.Arguments) == 0 && !s.HasText
}

// manyIn tells whether the function around a print has three prints or more
// and more of them than calls: it talks to somebody.
func manyIn(p *rule.Pass, s *calls.Site) bool {
	at := p.Out.Enclosing(s.Scope, outline.Func)
	printed, logged := 0, 0
	here := sort.Search(len(p.Sites), func(i int) bool { return p.Sites[i].First >= s.First })
	for i := max(0, here-40); i < min(len(p.Sites), here+40); i++ {
		if p.Out.Enclosing(p.Sites[i].Scope, outline.Func) != at {
			continue
		}
		if p.Sites[i].Kind == model.KindPrint {
			printed++
		} else {
			logged++
		}
	}
	return printed >= 3 && printed > logged
}

func named(s *calls.Site) string {
	if s.Receiver == "" {
		return code(s.Method)
	}
	return code(s.Receiver + "." + s.Method)
}

// PrintLeftover finds prints in application code.
var PrintLeftover = &rule.Rule{
	Name: "print-leftover", Concern: rule.Print, Severity: model.SeverityWarning, Confidence: "medium",
	Summary: "Application code prints instead of logging.",
	Reason: `A print has no level, no time and no logger; it cannot be turned off or sent anywhere. In a file that has a
logger it is nearly always left over from a search for a bug.`,
	Exceptions: `The output of a command-line program, a script or a build file is its purpose and is not reported.`,
	Examples: []rule.Example{
		sample("python", "import logging\nlog = logging.getLogger(__name__)\n\n\ndef read(gauge):\n    log.info(\"reading %s\", gauge)\n    print(\"got here\", gauge)\n", "import logging\nlog = logging.getLogger(__name__)\n\n\ndef read(gauge):\n    log.info(\"reading %s\", gauge)\n"),
		sample("java", "import org.slf4j.Logger;\nclass Siren {\n  Logger log;\n  void sound(String post) { log.info(\"sounding {}\", post); System.out.println(post); }\n}\n", "import org.slf4j.Logger;\nclass Siren {\n  Logger log;\n  void sound(String post) { log.info(\"sounding {}\", post); }\n}\n"),
		sample("typescript", "import pino from 'pino';\nconst log = pino();\nexport function place(pin: string) {\n  console.log(pin);\n  log.info({ pin }, 'pin placed');\n}\n", "import pino from 'pino';\nconst log = pino();\nexport function place(pin: string) {\n  log.info({ pin }, 'pin placed');\n}\n"),
	},
	Check: func(p *rule.Pass) {
		if p.Program {
			return
		}
		logger := hasLogger(p) && !printsOutput(p)
		prints(p, "print", func(s *calls.Site) {
			n := rule.Note{From: s.First, To: s.Close + 1, Scope: s.Scope, Text: named(s) + " writes past the logging of this program.", Remedy: "Log it at the level it deserves, or take it out."}
			if logger {
				n.Text = named(s) + " writes past the logger that this file has."
			}
			if !logger || s.Through != nil || s.Inside || composed(p, s) || rendered(p, s) || talkative(p) || toPeople(s) || blank(s) || manyIn(p, s) || forDebugging(p, s) || showing(s.Function) || toStandardError(p, s) || s.Method == "write" || toStream(p, s) || s.Method == "Write" || s.Level >= model.Warn && p.Spec.Features.Has(lang.ErrorFirst) {
				n.Severity, n.Confidence = model.SeverityNote, "low"
			}
			p.Report(n)
		})
	},
}

// DumpLeftover finds stack traces and variables dumped to the console.
var DumpLeftover = &rule.Rule{
	Name: "dump-leftover", Concern: rule.Print, Severity: model.SeverityWarning, Confidence: "high",
	Summary: "A stack trace or a variable is dumped to the console.",
	Reason: `The dump goes to a stream that nobody keeps, without time, level or logger, and often shows more than it
should. A logger takes the exception as it is.`,
	Exceptions: `Leave it in a command-line program whose users are to see the trace.`,
	Examples: []rule.Example{
		sample("python", "import traceback\n\n\ndef read(gauge):\n    try:\n        gauge.read()\n    except OSError:\n        traceback.print_exc()\n", "import logging\nlog = logging.getLogger(__name__)\n\n\ndef read(gauge):\n    try:\n        gauge.read()\n    except OSError:\n        log.exception(\"gauge %s was not read\", gauge)\n"),
		sample("java", "class Siren {\n  void sound() { try { ring(); } catch (Exception e) { e.printStackTrace(); } }\n}\n", "import org.slf4j.Logger;\nclass Siren {\n  Logger log;\n  void sound() { try { ring(); } catch (Exception e) { log.error(\"siren did not sound\", e); } }\n}\n"),
		sample("javascript", "function tile(t) {\n  console.dir(t);\n}\n", "const log = require('pino')();\nfunction tile(t) {\n  log.debug({ tile: t.id }, 'tile loaded');\n}\n"),
	},
	Check: func(p *rule.Pass) {
		prints(p, "dump", func(s *calls.Site) {
			n := rule.Note{From: s.First, To: s.Close + 1, Scope: s.Scope, Text: named(s) + " dumps to the console.", Remedy: "Hand the exception or value to a logger."}
			if p.Program || showing(s.Function) || forDebugging(p, s) {
				n.Severity, n.Confidence = model.SeverityNote, "low"
			}
			p.Report(n)
		})
	},
}

// DebuggerLeftover finds breakpoints left in the code.
var DebuggerLeftover = &rule.Rule{
	Name: "debugger-leftover", Concern: rule.Print, Severity: model.SeverityError, Confidence: "high",
	Summary:    "A breakpoint is left in the code.",
	Reason:     `It stops the program, or waits for a person who is not there.`,
	Exceptions: `Leave it where it stands behind a switch that only developers set, and say so.`,
	Examples: []rule.Example{
		sample("python", "def read(gauge):\n    breakpoint()\n    return gauge.read()\n", "def read(gauge):\n    return gauge.read()\n"),
		sample("javascript", "function tile(t) {\n  debugger;\n  return t;\n}\n", "function tile(t) {\n  return t;\n}\n"),
		sample("csharp", "using System.Diagnostics;\nclass Lamp { void On() { Debugger.Break(); } }\n", "class Lamp { void On() { Light(); } }\n"),
	},
	Check: func(p *rule.Pass) {
		prints(p, "debugger", func(s *calls.Site) {
			n := rule.Note{From: s.First, To: s.Close + 1, Scope: s.Scope, Text: named(s) + " stops the program here.", Remedy: "Take it out."}
			switch {
			case forDebugging(p, s) || s.Method == "post_mortem":
				n.Severity, n.Confidence = model.SeverityNote, "low"
			case (s.Method == "Break" || s.Method == "Launch") && conditional(p, s):
				n.Severity, n.Confidence = model.SeverityNote, "low"
			}
			p.Report(n)
		})
	},
}
