package rules

import (
	"regexp"
	"sort"
	"strings"

	"reed/internal/calls"
	"reed/internal/catalog"
	"reed/internal/lang"
	"reed/internal/lex"
	"reed/internal/model"
	"reed/internal/outline"
	"reed/internal/rule"
)

// logs calls f for every logging call of the file that the rules may judge.
func logs(p *rule.Pass, f func(s *calls.Site)) {
	for i := range p.Sites {
		if s := &p.Sites[i]; s.Kind == model.KindLog {
			f(s)
		}
	}
}

// at reports a finding at a whole call.
func at(p *rule.Pass, s *calls.Site, text, remedy string) {
	p.Report(rule.Note{From: s.First, To: s.Close + 1, Scope: s.Scope, Text: text, Remedy: remedy})
}

// atMessage reports a finding at the message of a call.
func atMessage(p *rule.Pass, s *calls.Site, text, remedy string) {
	n := rule.Note{From: s.First, To: s.Close + 1, Scope: s.Scope, Text: text, Remedy: remedy}
	if s.MessageAt >= 0 && s.MessageAt < len(s.Args) {
		n.From, n.To = s.Args[s.MessageAt].From, s.Args[s.MessageAt].To
	}
	p.Report(n)
}

// quote shows a text in a sentence, shortened.
func quote(s string) string {
	s = strings.Join(strings.Fields(s), " ")
	if r := []rune(s); len(r) > 60 {
		s = string(r[:57]) + "…"
	}
	return "“" + s + "”"
}

// code shows a piece of source in a sentence, shortened.
func code(s string) string {
	s = strings.Join(strings.Fields(s), " ")
	if r := []rune(s); len(r) > 80 {
		s = string(r[:77]) + "…"
	}
	return "`" + s + "`"
}

var (
	// failureWords speak of something that went wrong just now.
	failureWords = regexp.MustCompile(`(?i)\b(failed to|failure (?:while|when|in)|failed (?:while|when|with|because)|could not|couldn't|unable to|error (?:while|when|during|occurr?ed|in|reading|writing|parsing|sending|loading|processing|opening|creating|connecting|getting|closing|executing)|exception (?:while|when|during|occurr?ed|in|caught|thrown)|unexpected error|unhandled exception|fatal error)\b`)
	// inability opens a message about something that did not work; further on it
	// is often a plain fact.
	inability = regexp.MustCompile(`(?i)^\W*(?:\w+[:,] )?(cannot|can't|can not)\b`)
	// softened take the edge off: it is expected, optional, tried again, negated.
	softened = regexp.MustCompile(`(?i)\b(no errors?|without|not an error|ignor\w*|skip\w*|retry\w*|retri\w*|try(?:ing)? again|fall(?:ing)? ?back|default\w*|instead|expected|optional|if\b|unless|may\b|might|maybe|will be|assum\w*|probably|already|0 errors|error count|number of|again|either|when enabled|disabled|harmless|recover\w*|continu\w*|reconnect\w*|temporar\w*|test\w*|yet|simulat\w*|usage|warning|creat\w*|search\w*|attempt\w*|(?:could not|cannot|can't|unable to|failed to) find|using|forc\w*)\b`)
	// progressWords open a message that reports that all is well.
	progressWords = regexp.MustCompile(`(?i)^\W*(successfully\b|started\b|starting\b|listening\b|connected to\b|initiali[sz]ed\b|initiali[sz]ing\b|finished\b|completed\b|ready\b|loaded\b|loading\b|registered\b|created\b|[\w ]{1,40} (?:started|completed|finished|initiali[sz]ed|connected|loaded) ?(?:successfully|ok|[.!])?$|.*\bsuccessfully[.! ]*$)`)
	// troubled speak of anything that is not plain progress.
	troubled = regexp.MustCompile(`(?i)\b(not|no|non|should\w*|without|fail\w*|err\w*|but|deprecat\w*|retry\w*|timeout|timed|insecure|unsafe|unknown|invalid|missing|slow\w*|late|lost|wrong|unable|except\w*|twice|already|only|too|old|never|corrupt\w*|bad|denied|refus\w*|reject\w*|unexpected|skip\w*|ignor\w*|warn\w*|shut\w*|stop\w*|terminat\w*|abort\w*|kill\w*|disab\w*|dry|test\w*|debug|experimental|unstable|reconnect\w*|restart\w*|recover\w*|fall\w*|cannot|can't|couldn't|didn't|unsupported|incomplete|partial\w*|empty|stale|dangerous\w*|exceed\w*|reset\w*|forc\w*|rollback|undo\w*)\b`)
)

// handles tells whether a failure path does something about the failure
// besides logging.
func handles(o *calls.Outcome) bool { return o.Passed || o.Returned || o.Handled || o.Narrow }

// outcomeOf returns the outcome of the innermost failure path around a call.
func outcomeOf(p *rule.Pass, s *calls.Site) *calls.Outcome {
	at := p.FailureScope(s.Scope)
	if at < 0 {
		return nil
	}
	i := sort.Search(len(p.Outcomes), func(i int) bool { return p.Outcomes[i].Scope >= at })
	if i < len(p.Outcomes) && p.Outcomes[i].Scope == at {
		return &p.Outcomes[i]
	}
	return nil
}

// errorName returns the variable that holds the error of the failure path
// around a call, "" when it has none.
func errorName(p *rule.Pass, s *calls.Site) string {
	if names := p.ErrorNames(s.Scope); len(names) > 0 {
		return names[0]
	}
	return ""
}

// causeRemedy tells how the library of a call takes an error.
func causeRemedy(p *rule.Pass, s *calls.Site, name string) string {
	if name == "" {
		name = "the exception"
	}
	f := p.Spec.Features
	switch {
	case f.Has(lang.ErrorText) && s.Sig.Values == catalog.Pairs:
		return "Add the error as a field: \"err\", " + name + "."
	case f.Has(lang.Streams):
		return "Put " + name + ".what() into the message."
	case f.Has(lang.BeginEnd):
		return "Put " + name + ".Message into the message."
	case f.Has(lang.Macros):
		return "Put " + name + " into the message: {" + name + "}."
	case f.Has(lang.ErrorText|lang.ErrorTruth) && !f.Has(lang.Selectors):
		return `Put ` + name + ` into the message: \(` + name + `).`
	case f.Has(lang.ErrorText):
		return "Put " + name + " into the message, for example with %v."
	case f.Has(lang.RubyWords):
		return "Log " + name + ".full_message, which keeps the stack trace."
	case f.Has(lang.Islands):
		return "Hand the exception over in the context: ['exception' => " + name + "]."
	case f.Has(lang.Commands):
		return "Hand the error record over as well: -Exception $_.Exception, or -ErrorRecord $_."
	case f.Has(lang.IndentBlocks):
		return "Call " + s.Receiver + ".exception(…) here, or pass exc_info=True."
	case f.Has(lang.ErrorFirst) && (s.Library == "pino" || s.Library == "bunyan"):
		return "Hand the error over first: { err: " + name + " }, then the message."
	case f.Has(lang.ErrorFirst):
		return "Hand " + name + " itself over behind the message, so that its stack trace is kept."
	case f.Has(lang.Cascades):
		return "Hand " + name + " and its stack trace over behind the message."
	case s.Sig.HasCause("first"):
		return "Hand " + name + " over as the first argument, before the message."
	}
	return "Hand " + name + " over as the last argument, behind the values."
}

// rewritten writes the call with a fixed message and its values apart, ""
// when the library's form does not allow it in one line.
func rewritten(p *rule.Pass, s *calls.Site) string {
	if s.Message == "" || len(s.Values) == 0 || len(s.Values) > 6 || s.MessageAt < 0 || len(s.Args) > s.MessageAt+1+len(s.Args) {
		return ""
	}
	inMessage := 0
	arg := s.Args[s.MessageAt]
	var values []string
	for _, v := range s.Values {
		if v.From >= arg.From && v.To <= arg.To {
			inMessage++
			values = append(values, strings.Join(strings.Fields(p.Source(v.From, v.To)), " "))
		}
	}
	if inMessage == 0 || strings.Count(s.Message, "{}") != inMessage {
		return ""
	}
	message := s.Message
	if strings.ContainsAny(message, "\"\\\n\r\t%") {
		return ""
	}
	quoteSign := `"`
	if p.Spec.Features.Has(lang.ErrorFirst) {
		quoteSign = "'"
		if strings.Contains(message, "'") {
			return ""
		}
	}
	before := ""
	if s.MessageAt > 0 {
		before = p.Source(s.Args[0].From, s.Args[s.MessageAt-1].To) + ", "
	}
	after := ""
	if s.MessageAt+1 < len(s.Args) {
		from := s.Args[s.MessageAt+1].From
		if k := s.Args[s.MessageAt+1].Key; k >= 0 {
			from = k
		}
		after = ", " + p.Source(from, s.Args[len(s.Args)-1].To)
	}
	switch {
	case s.Sig.Values == catalog.Pairs:
		if message = withoutHoles(message); message == "" {
			return ""
		}
		for i, v := range values {
			values[i] = `"` + fieldName(v) + `", ` + v
		}
	case s.Sig.Values == catalog.Objects:
		if message = withoutHoles(message); message == "" || after != "" {
			return ""
		}
		var members []string
		for _, v := range values {
			if n := fieldName(v); n == v {
				members = append(members, v)
			} else {
				members = append(members, n+": "+v)
			}
		}
		values = []string{"{ " + strings.Join(members, ", ") + " }"}
	case s.Style == catalog.Percent:
		message = strings.ReplaceAll(message, "{}", "%s")
	case s.Style == catalog.Named:
		for _, v := range values {
			message = strings.Replace(message, "{}", "{"+title(fieldName(v))+"}", 1)
		}
	case s.Style == catalog.Indexed:
		for i := range values {
			message = strings.Replace(message, "{}", "{"+string(rune('0'+i))+"}", 1)
		}
	case s.Style == catalog.Braces, s.Style == catalog.Keyed:
	default:
		return ""
	}
	line := p.Source(s.First, s.Open+1) + before + quoteSign + message + quoteSign + ", " + strings.Join(values, ", ") + after + ")"
	line = strings.Join(strings.Fields(line), " ")
	if len(line) > 140 {
		return ""
	}
	return line
}

var dangling = regexp.MustCompile(`(?i)\b(for|to|of|at|in|with|from|on|by|is|was|and|as|the|an?|after|before|has|over|than)\s*\W*\{\}`)

// withoutHoles takes the only value out of a message whose library wants it as
// a field; "" when what is left would not read well.
func withoutHoles(message string) string {
	if strings.Count(message, "{}") != 1 || dangling.MatchString(message) {
		return ""
	}
	message = strings.NewReplacer("={}", "", ": {}", "", "'{}'", "", "({})", "", "[{}]", "", "{}", "").Replace(message)
	return strings.TrimRight(strings.Join(strings.Fields(message), " "), " :=,-")
}

var identifier = regexp.MustCompile(`[A-Za-z_][A-Za-z0-9_]*`)

// fieldName makes a field name of an expression: its last name.
func fieldName(expression string) string {
	if cut := strings.IndexByte(expression, '('); cut > 0 {
		expression = expression[:cut]
	}
	names := identifier.FindAllString(expression, -1)
	if len(names) == 0 {
		return "value"
	}
	name := names[len(names)-1]
	if name == strings.ToUpper(name) {
		return strings.ToLower(name)
	}
	for _, prefix := range []string{"get_", "get"} {
		if rest, ok := strings.CutPrefix(name, prefix); ok && rest != "" {
			return strings.ToLower(rest[:1]) + rest[1:]
		}
	}
	return name
}

func title(s string) string { return strings.ToUpper(s[:1]) + s[1:] }

// rewriteRemedy is the remedy of the message rules.
func rewriteRemedy(p *rule.Pass, s *calls.Site) string {
	if line := rewritten(p, s); line != "" {
		return "Write it as " + "`" + line + "`."
	}
	switch {
	case s.Sig.Values == catalog.Pairs || s.Sig.Values == catalog.Fields || s.Sig.Values == catalog.Keywords || s.Sig.Values == catalog.Objects:
		return "Keep the text fixed and hand the values over as fields."
	case s.Style == catalog.Percent:
		return "Keep the text fixed with %s for each value, and hand the values over behind it."
	case s.Style == catalog.Indexed:
		return "Keep the text fixed with {0}, {1} … for the values, and hand the values over behind it."
	case s.Style == catalog.Named:
		return "Keep the text fixed with a {Name} for each value, and hand the values over behind it."
	}
	return "Keep the text fixed with {} for each value, and hand the values over behind it."
}

// paramType returns the declared type of a parameter of the function around a
// scope, "" when none is written.
func paramType(p *rule.Pass, scope int32, name string) string {
	for at := scope; at > 0; at = p.Scope(at).Parent {
		s := p.Scope(at)
		if s.Kind != outline.Func && s.Kind != outline.Lambda {
			continue
		}
		for i := s.ParamsFrom; i < s.ParamsTo; i++ {
			if !p.Is(i, name) || p.Kind(i-1) == '.' {
				continue
			}
			switch {
			case p.Kind(i+1) == ':' && i+2 < s.ParamsTo:
				return p.Text(i + 2)
			case p.Spec.Features.Has(lang.TypedFuncs) && i > s.ParamsFrom:
				return p.Text(i - 1)
			case p.Spec.Features.Has(lang.ReceiverFuncs) && i+1 < s.ParamsTo && p.Kind(i+1) == lex.Ident:
				return p.Text(i + 1)
			}
		}
	}
	return ""
}

// scalarType tells whether a type name is that of a text, number or flag.
func scalarType(t string) bool {
	switch strings.ToLower(strings.TrimSuffix(t, "?")) {
	case "str", "string", "int", "integer", "long", "short", "byte", "bool", "boolean", "float", "double", "number", "decimal", "int32", "int64", "uint", "uint32", "uint64", "char", "uuid", "guid", "bytes":
		return true
	}
	return false
}
