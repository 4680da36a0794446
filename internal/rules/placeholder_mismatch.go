package rules

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"reed/internal/calls"
	"reed/internal/catalog"
	"reed/internal/lang"
	"reed/internal/lex"
	"reed/internal/model"
	"reed/internal/rule"
)

// PlaceholderMismatch finds calls with more or fewer values than placeholders.
var PlaceholderMismatch = &rule.Rule{
	Name: "placeholder-mismatch", Concern: rule.Message, Severity: model.SeverityError, Confidence: "high",
	Summary: "The message has more or fewer placeholders than the call has values.",
	Reason: `A value without a placeholder never reaches the log; a placeholder without a value stands there as it was
written, or makes the library report an error of its own in place of the event.`,
	Exceptions: `The error handed over as the cause needs no placeholder.`,
	Examples: []rule.Example{
		sample("python", "import logging\nlog = logging.getLogger(__name__)\n\n\ndef read(gauge, height):\n    log.info(\"gauge %s at %s\", gauge)\n    log.info(\"gauge {} read\", gauge)\n", "import logging\nlog = logging.getLogger(__name__)\n\n\ndef read(gauge, height):\n    log.info(\"gauge %s at %s, 100%% sure\", gauge, height)\n"),
		sample("java", "import org.slf4j.Logger;\nclass Siren {\n  Logger log;\n  void sound(String post) { log.warn(\"siren {} is {} late\", post); }\n}\n", "import org.slf4j.Logger;\nclass Siren {\n  Logger log;\n  void sound(String post) { try { ring(); } catch (Exception e) { log.warn(\"siren {} is late\", post, e); } }\n}\n"),
		sample("csharp", "using Microsoft.Extensions.Logging;\nclass Lamp {\n  ILogger<Lamp> log;\n  void On(string post) { log.LogWarning(\"lamp {Post} dim at {Volt}\", post); }\n}\n", "using Microsoft.Extensions.Logging;\nclass Lamp {\n  ILogger<Lamp> log;\n  void On(string post, int volt) { log.LogWarning(\"lamp {Post} dim at {Volt}\", post, volt); }\n}\n"),
		sample("go", "package depot\n\nimport \"log\"\n\nfunc on(pump string) {\n\tlog.Printf(\"pump %s at %d\", pump)\n}\n", "package depot\n\nimport \"log\"\n\nfunc on(pump string, n int) {\n\tlog.Printf(\"pump %s at %d\", pump, n)\n}\n"),
	},
	Check: func(p *rule.Pass) {
		logs(p, func(s *calls.Site) { mismatch(p, s) })
	},
}

// plainHole is a percent placeholder that nobody writes by accident.
var plainHole = regexp.MustCompile(`%(?:\d+\$)?[-+#0]?\d*(?:\.\d+)?[sdvrfqx]\b`)

func mismatch(p *rule.Pass, s *calls.Site) {
	if s.Style == catalog.NoStyle || s.Confidence != model.Certain || s.MessageAt < 0 || s.Shape != model.Constant && s.Shape != model.Template {
		return
	}
	values := 0
	for i := s.MessageAt + 1; i < len(s.Args); i++ {
		a := s.Args[i]
		if a.Spread {
			return
		}
		if a.Key < 0 {
			values++
		}
	}
	raw := rawMessage(p, s)
	if raw == "" {
		return
	}
	if s.Sig.Fluent() {
		for _, v := range s.Values {
			if v.Rest && v.To <= s.Args[s.MessageAt].From {
				values++
			}
		}
	}
	if values == 1 && oneForAll(p, s) {
		return
	}
	_, holes := calls.Placeholders(s.Style, raw)
	want := needed(p, s, raw, holes, values)
	if want < 0 || want == values {
		return
	}
	if allowed := values - want; allowed == 1 && causeLast(p, s) {
		return
	}
	report(p, s, raw, want, values)
}

// rawMessage returns the fixed text of the message as the library gets it.
func rawMessage(p *rule.Pass, s *calls.Site) string {
	a := s.Args[s.MessageAt]
	var b strings.Builder
	for i := a.From; i < a.To; i++ {
		switch k := p.Kind(i); {
		case k == lex.String:
			b.WriteString(lex.Unquote(p.Bytes(i)))
		case k == '+' || k == '(' || k == ')':
		case k == lex.Ident && strings.HasPrefix(p.Text(i), "_"):
		default:
			return ""
		}
	}
	return b.String()
}

// oneForAll tells whether the only value may stand for many: an array, a
// dictionary, a tuple kept in a variable.
func oneForAll(p *rule.Pass, s *calls.Site) bool {
	a := s.Args[s.MessageAt+1]
	if k := p.Kind(a.From); k == '{' || k == '[' || k.Role() == lang.New || k == '(' && !p.Spec.Features.Has(lang.IndentBlocks) {
		return true
	}
	last := strings.ToLower(p.Text(a.To - 1))
	for _, w := range []string{"args", "params", "parameters", "arguments", "values", "objects", "array", "kwargs", "data", "extra", "dict", "vars", "meta", "context", "fields"} {
		if strings.HasSuffix(last, w) {
			return true
		}
	}
	return p.Kind(a.To-1) == ')' && (strings.HasPrefix(p.Text(a.From), "dict") || p.Is(a.From, "locals") || p.Is(a.From, "vars") || p.Is(a.From, "tuple"))
}

// needed returns how many values the message asks for, -1 when that cannot be
// told.
func needed(p *rule.Pass, s *calls.Site, raw string, holes []string, values int) int {
	f := p.Spec.Features
	if f.Has(lang.Macros) { // {name} takes the variable of that name
		open := holes[:0:0]
		for _, h := range holes {
			if h == "" || h[0] >= '0' && h[0] <= '9' {
				open = append(open, h)
			}
		}
		for _, v := range s.Values {
			if v.Field != "" {
				return -1 // named arguments and fields
			}
		}
		holes = open
	}
	for _, h := range holes {
		if s.Style == catalog.Percent && h != "" {
			return -1 // named or numbered
		}
	}
	switch s.Style {
	case catalog.Percent:
		if f.Has(lang.ErrorFirst) {
			if values >= len(holes) || values == 0 || len(plainHole.FindAllString(raw, -1)) < len(holes) {
				return -1 // what is left over is appended
			}
			return len(holes)
		}
		if values == 0 {
			if f.Has(lang.ReceiverFuncs) {
				return len(plainHole.FindAllString(raw, -1))
			}
			return -1 // without values nothing is formatted
		}
		return len(holes)
	case catalog.Keyed:
		return keyed(s, holes, values)
	case catalog.Indexed:
		most := 0
		for _, h := range holes {
			n, err := strconv.Atoi(h)
			if err != nil {
				return -1
			}
			most = max(most, n+1)
		}
		if most == 0 && values == 0 || most == 0 && s.Sig.LevelAt < 0 && f.Has(lang.AnonymousTypes) {
			return -1
		}
		return most
	case catalog.Named:
		if numbered(holes) {
			seen := map[string]bool{}
			for _, h := range holes {
				seen[h] = true
			}
			return len(seen)
		}
		return len(holes)
	}
	return len(holes)
}

func numbered(holes []string) bool {
	for _, h := range holes {
		if h == "" || h[0] < '0' || h[0] > '9' {
			return false
		}
	}
	return len(holes) > 0
}

// keyed counts holes that no keyword argument fills.
func keyed(s *calls.Site, holes []string, values int) int {
	open := 0
	for _, h := range holes {
		name, _, _ := strings.Cut(h, ".")
		name, _, _ = strings.Cut(name, "[")
		filled := false
		for _, v := range s.Values {
			filled = filled || v.Field == name && name != ""
		}
		if n, err := strconv.Atoi(name); err == nil {
			open = max(open, n)
			filled = n < values
		}
		if !filled {
			open++
		}
	}
	if s.Sig.Values == catalog.Keywords || values > open {
		return -1
	}
	return open
}

// causeLast tells whether the last argument is an error that needs no
// placeholder.
func causeLast(p *rule.Pass, s *calls.Site) bool {
	if p.Spec.Features.Has(lang.ReceiverFuncs) || p.Spec.Features.Has(lang.IndentBlocks) {
		return false
	}
	a := s.Args[len(s.Args)-1]
	return p.ErrorLike(a.From, a.To, s.Scope) || s.Cause || thrown(p.Text(a.To-1))
}

func thrown(name string) bool {
	lower := strings.ToLower(name)
	return len(lower) <= 2 && strings.ContainsAny(lower, "tex") || strings.Contains(lower, "exception") || strings.Contains(lower, "error") || strings.Contains(lower, "throw") || strings.Contains(lower, "cause")
}

func report(p *rule.Pass, s *calls.Site, raw string, want, values int) {
	text := fmt.Sprintf("The message %s has %s but the call hands over %s.", quote(raw), count(want, "placeholder"), count(values, "value"))
	remedy := "Give each value its placeholder and each placeholder its value."
	if want == 0 && values > 0 {
		for _, other := range []catalog.Style{catalog.Braces, catalog.Percent, catalog.Named} {
			if _, holes := calls.Placeholders(other, raw); other != s.Style && len(holes) >= values {
				text = fmt.Sprintf("The placeholders of %s are not those of %s, so its values are lost.", quote(raw), libraryName(s))
				remedy = "Write " + example(s.Style) + " for each value."
			}
		}
	}
	atMessage(p, s, text, remedy)
}

func libraryName(s *calls.Site) string {
	if s.Library == "" {
		return "this logger"
	}
	return s.Library
}

func example(style catalog.Style) string {
	switch style {
	case catalog.Percent:
		return "%s"
	case catalog.Named:
		return "{Name}"
	case catalog.Indexed:
		return "{0}"
	}
	return "{}"
}

func count(n int, word string) string {
	switch n {
	case 0:
		return "no " + word + "s"
	case 1:
		return "1 " + word
	}
	return strconv.Itoa(n) + " " + word + "s"
}
