package calls

import (
	"bytes"
	"regexp"
	"strings"

	"reed/internal/catalog"
	"reed/internal/lang"
	"reed/internal/lex"
	"reed/internal/model"
)

// built is how a text expression is put together.
type built struct {
	shape  string
	text   string // with {} for each value
	raw    string // a constant's text as written, placeholders and all
	values []Value
	fixed  bool // some letters of it are fixed
	lazy   bool
}

// maxParts bounds recursion over nested expressions.
const maxParts = 200

// build reads the text expression of tokens from up to to.
func (f *File) build(from, to int32, depth int) built {
	whole := built{shape: model.Opaque, text: "{}", values: []Value{{From: from, To: to}}}
	if from >= to || depth > maxParts {
		return whole
	}
	for f.Kind(from) == '(' && f.Lex.Partner[from] == to-1 && to-from > 2 {
		from, to = from+1, to-1
	}
	if f.Kind(from) == '(' && f.Lex.Partner[from] == to-1 {
		return whole
	}
	if f.Kind(from) == '@' && f.Kind(from+1).IsString() { // @"text"
		from++
	}
	if b, ok := f.block(from, to, depth); ok {
		return b
	}
	if b, ok := f.supplier(from, to, depth); ok {
		return b
	}
	if f.translated(from, to) {
		return f.build(from+2, to-1, depth+1)
	}
	if b, ok := f.operators(from, to, depth); ok {
		return b
	}
	if b, ok := f.strings(from, to); ok {
		return b
	}
	if b, ok := f.formatCall(from, to, depth); ok {
		return b
	}
	if text, ok := f.constantText(from, to); ok {
		return text
	}
	if to == from+1 {
		switch k := f.Kind(from); {
		case k == lex.Number || k == lex.CharString || k.Role() == lang.Literal:
			t := f.Text(from)
			return built{shape: model.Constant, text: t, raw: t, fixed: true}
		}
	}
	return whole
}

// block reads "{ text }" where a block is handed over as the message.
func (f *File) block(from, to int32, depth int) (built, bool) {
	if f.Kind(from) != '{' || f.Lex.Partner[from] != to-1 || !f.Spec.Features.Has(lang.Blocks) || f.Spec.Features.Has(lang.Macros) {
		return built{}, false
	}
	args := f.blockArgument(from)
	if len(args) != 1 {
		return built{}, false
	}
	b := f.build(args[0].From, args[0].To, depth+1)
	b.lazy = true
	return b, true
}

// supplier reads "() -> text" and "() => text".
func (f *File) supplier(from, to int32, depth int) (built, bool) {
	if f.Kind(from) != '(' || f.Lex.Partner[from] != from+1 || to < from+4 {
		return built{}, false
	}
	if k := f.Kind(from + 2); k != lex.ThinArrow && k != lex.Arrow {
		return built{}, false
	}
	if f.Kind(from+3) == '{' {
		return built{shape: model.Opaque, text: "{}", values: []Value{{From: from, To: to}}, lazy: true}, true
	}
	b := f.build(from+3, to, depth+1)
	b.lazy = true
	return b, true
}

// translated tells whether the tokens are a text handed through a translation
// function: _("…").
func (f *File) translated(from, to int32) bool {
	if f.Kind(from) != lex.Ident || f.Kind(from+1) != '(' || f.Lex.Partner[from+1] != to-1 || to < from+4 {
		return false
	}
	switch f.Text(from) {
	case "_", "_LE", "_LW", "_LI", "_LC", "__", "gettext", "ugettext", "_t", "tr", "N_":
		return f.Kind(from + 2).IsString()
	}
	return false
}

// strings reads one string or several side by side.
func (f *File) strings(from, to int32) (built, bool) {
	b := built{shape: model.Constant}
	var text, raw strings.Builder
	count := 0
	for i := from; i < to; i = f.Skip(i) {
		switch f.Kind(i) {
		case lex.String:
			if f.Spec.Features.Has(lang.RubyWords) && bytes.HasPrefix(f.Bytes(i), []byte("<<")) {
				f.hereBody(i, &b, &text)
				break
			}
			t := f.unquote(i)
			text.WriteString(t)
			raw.WriteString(t)
		case lex.StringBegin:
			if f.Lex.Partner[i] < 0 || f.Lex.Partner[i] >= to {
				return b, false
			}
			f.parts(i, &b, &text)
		default:
			return b, false
		}
		count++
		if count > 1 && !f.Spec.Features.Has(lang.JoinedStrings) {
			return b, false
		}
	}
	b.text, b.raw = text.String(), raw.String()
	if len(b.values) > 0 {
		b.shape = model.Interpolated
	}
	b.fixed = hasLetters(strings.ReplaceAll(b.text, "{}", ""))
	if b.text == "{}" && f.Spec.Features.Has(lang.Commands) { // "$x" is $x
		b.shape = model.Opaque
	}
	return b, count > 0
}

// maxHere is how many bytes of a text on the next lines are read.
const maxHere = 4000

// hereBody reads the text that <<~NAME, at token i, says is on the next lines,
// without the white space before and behind each. Its values have no tokens
// of their own: the opener stands for them.
func (f *File) hereBody(i int32, b *built, text *strings.Builder) {
	opener := strings.TrimLeft(f.Text(i), "<-~")
	name := strings.Trim(opener, "`'\"")
	src := f.Src.Text[f.Lex.Tokens[i].End:]
	src = src[:min(len(src), maxHere)]
	_, rest, _ := bytes.Cut(src, []byte("\n"))
	var lines []string
	for len(rest) > 0 {
		line, behind, _ := bytes.Cut(rest, []byte("\n"))
		t := strings.TrimSpace(string(line))
		if t == name {
			break
		}
		lines = append(lines, t)
		rest = behind
	}
	body := strings.TrimSpace(strings.Join(lines, "\n"))
	for !strings.HasPrefix(opener, "'") {
		open := strings.Index(body, "#{")
		if open < 0 {
			break
		}
		depth, end := 0, open+1
		for ; end < len(body); end++ {
			if body[end] == '{' {
				depth++
			} else if body[end] == '}' {
				if depth--; depth == 0 {
					break
				}
			}
		}
		if end == len(body) {
			break
		}
		text.WriteString(body[:open] + "{}")
		body = body[end+1:]
		b.values = append(b.values, Value{From: i, To: i + 1})
	}
	text.WriteString(body)
}

// unquote returns the text of a string as its language reads it.
func (f *File) unquote(i int32) string {
	t := lex.Unquote(f.Bytes(i))
	if f.Spec.Features&(lang.BeginEnd|lang.DashWords) != 0 {
		q := f.Text(i)[:1]
		t = strings.ReplaceAll(t, q+q, q)
	}
	return t
}

// scalaFormat is the format of a value, written behind it.
var scalaFormat = regexp.MustCompile(`^%[-#+ 0,(]*[0-9]*(\.[0-9]+)?[a-zA-Z]`)

// parts reads the string with values that begins at token i.
func (f *File) parts(i int32, b *built, text *strings.Builder) {
	end := f.Lex.Partner[i]
	raw := strings.ContainsAny(strings.ToLower(f.Text(i)), "r@") && !strings.HasPrefix(f.Text(i), "`")
	for j := i + 1; j < end; j = f.Skip(j) {
		switch f.Kind(j) {
		case lex.StringText:
			t := f.Text(j)
			if !raw {
				t = lex.Unescape([]byte(t))
			}
			if f.Spec.Features.Has(lang.OptionalBraces) && f.Text(i)[0] == 'f' && j > i+1 { // f"$x%d"
				t = scalaFormat.ReplaceAllString(t, "")
			}
			if !strings.HasPrefix(f.Text(i), "`") {
				t = strings.ReplaceAll(strings.ReplaceAll(t, "{{", "{"), "}}", "}")
			}
			text.WriteString(t)
		case lex.ValueBegin:
			text.WriteString("{}")
			stop := f.Lex.Partner[j]
			if stop < 0 {
				stop = end
			}
			if f.Lex.Tokens[j].Flags&lex.Bare != 0 { // its partner is its last token
				stop++
			}
			to := stop
			for to > j+1 && f.Kind(to-1) == lex.ValueFormat {
				to--
			}
			if to > j+1 && f.Kind(to-1) == '=' {
				to--
			}
			if f.Spec.Features.Has(lang.ErrorTruth) { // \(name, privacy: .public)
				for k := j + 1; k < to; k = f.Skip(k) {
					if f.Kind(k) == ',' {
						to = k
					}
				}
			}
			b.values = append(b.values, Value{From: j + 1, To: to})
		}
	}
}

// operators reads texts joined by + and formatted by %, and choices.
func (f *File) operators(from, to int32, depth int) (built, bool) {
	plus, percent := 0, int32(-1)
	first := f.Kind(from)
	for i := from; i < to; i = f.Skip(i) {
		switch k := f.Kind(i); {
		case k == '?' && i > from && !f.Spec.Features.Has(lang.IndentBlocks):
			return built{}, false
		case (k.Role() == lang.If || k.Role() == lang.Operator || k == lex.AndAnd || k == lex.OrOr || k == lex.Coalesce || k == lex.Arrow || k == lex.ThinArrow && !f.dot(i)) && i > from:
			return built{}, false
		case (k == '+' || k == '.' && f.Spec.Features.Has(lang.Islands)) && i > from:
			plus++
		case k == '%' && i > from && percent < 0 && f.Spec.Features.Has(lang.PercentOperator):
			percent = i
		}
	}
	if plus == 0 && percent < 0 {
		return built{}, false
	}
	if plus == 0 {
		if !first.IsString() && first != '(' && !f.translated(from, percent) {
			return built{}, false
		}
		return f.percent(from, percent, to, depth)
	}
	return f.joined(from, to, depth)
}

// percent reads "text % values".
func (f *File) percent(from, at, to int32, depth int) (built, bool) {
	left := f.build(from, at, depth+1)
	if left.shape == model.Opaque {
		return built{}, false
	}
	b := built{shape: model.Formatted, fixed: left.fixed, values: left.values}
	b.text, _ = Placeholders(catalog.Percent, left.raw)
	if left.raw == "" {
		b.text = left.text
	}
	right := at + 1
	if f.Kind(right) == '(' && f.Lex.Partner[right] == to-1 {
		for _, a := range f.arguments(right) {
			b.values = append(b.values, Value{From: a.From, To: a.To})
		}
	} else if f.Kind(right) == '{' && f.Lex.Partner[right] == to-1 {
		var s Site
		f.objectFields(&s, right, true)
		for _, v := range s.Values {
			b.values = append(b.values, Value{From: v.From, To: v.To})
		}
	} else {
		b.values = append(b.values, Value{From: right, To: to})
	}
	return b, true
}

// joined reads parts joined by +.
func (f *File) joined(from, to int32, depth int) (built, bool) {
	b := built{shape: model.Constant}
	var text, raw strings.Builder
	stringParts, formatted, others := 0, 0, 0
	add := func(a, z int32) {
		if z <= a {
			return
		}
		p := f.build(a, z, depth+1)
		if f.constantName(a, z) {
			p = built{shape: model.Constant, text: "{}", raw: "{}"}
		}
		if p.shape == model.Constant && (f.Kind(a) == lex.Number || f.Kind(a).Role() == lang.Literal) && stringParts == 0 {
			others++
		}
		switch p.shape {
		case model.Constant, model.Interpolated, model.Formatted, model.Concatenated:
			stringParts++
		}
		switch p.shape {
		case model.Constant:
		case model.Formatted:
			formatted++
		default:
			others++
		}
		b.fixed = b.fixed || p.fixed
		b.values = append(b.values, p.values...)
		text.WriteString(p.text)
		raw.WriteString(p.raw)
	}
	start := from
	for i := from; i < to; i = f.Skip(i) {
		if k := f.Kind(i); (k == '+' || k == '.' && f.Spec.Features.Has(lang.Islands)) && i > start {
			add(start, i)
			start = i + 1
		}
	}
	add(start, to)
	if stringParts == 0 {
		return built{}, false
	}
	b.text, b.raw = text.String(), raw.String()
	switch {
	case others > 0 && len(b.values) > 0:
		b.shape = model.Concatenated
	case formatted > 0:
		b.shape = model.Formatted
	}
	return b, true
}

// constantName tells whether the tokens name a constant by the custom of
// capital letters: PREFIX, Names.PREFIX.
func (f *File) constantName(from, to int32) bool {
	for i := from; i < to; i++ {
		if k := f.Kind(i); k != lex.Ident && k != '.' && k != lex.Scope {
			return false
		}
	}
	last := f.Text(to - 1)
	if f.Spec.Features.Has(lang.ReceiverFuncs) { // an exported name of an imported package
		return to == from+3 && f.importOf(f.Text(from)) != nil
	}
	if !isUpper(last) || len(last) < 3 && !strings.Contains(last, "_") {
		return false
	}
	first := f.Bytes(from)[0]
	return to == from+1 || first >= 'A' && first <= 'Z' || f.Kind(to-2) == lex.Scope // Names.PREFIX, not ship.ID
}

// formatters are functions and methods that make a text from a format.
var formatters = map[string]bool{
	"format": true, "Format": true, "formatted": true, "Sprintf": true, "Sprint": true, "Sprintln": true, "sprintf": true,
	"vsprintf": true, "format_map": true, "stringWithFormat": true, "fmt": true, "format!": true, "lenientFormat": true, "FormatWith": true, "vformat": true,
}

// formatCall reads a text made by a formatting call: String.format("…", a),
// "…".format(a), fmt.Sprintf("…", a).
func (f *File) formatCall(from, to int32, depth int) (built, bool) {
	open := int32(-1)
	if f.Kind(to-1) == ')' {
		open = f.Lex.Partner[to-1]
	}
	if open <= from || f.Kind(open-1) != lex.Ident || !formatters[f.Text(open-1)] {
		return built{}, false
	}
	if start := f.chainStart(open - 1); start != from {
		for i := from; i < start; i = f.Skip(i) { // neighbouring strings are one
			if !f.Kind(i).IsString() || !f.Spec.Features.Has(lang.JoinedStrings) {
				return built{}, false
			}
		}
	}
	b := built{shape: model.Formatted}
	args := f.arguments(open)
	name := f.Text(open - 1)
	own := open - 2 // the dot
	if f.Kind(own) == '.' && (f.Kind(from).IsString() || f.Kind(from) == '(') && f.Spec.Features&(lang.IndentBlocks|lang.TypedFuncs) != 0 {
		left := f.build(from, own, depth+1)
		if left.shape == model.Opaque {
			return built{}, false
		}
		style := catalog.Keyed
		if name == "formatted" {
			style = catalog.Percent
		}
		b.text, _ = Placeholders(style, left.raw)
		b.fixed = left.fixed
	} else if len(args) > 0 {
		at := 0
		if len(args) > 1 && !f.hasString(args[0]) && f.hasString(args[1]) { // a locale or culture first
			at = 1
		}
		left := f.build(args[at].From, args[at].To, depth+1)
		style := catalog.Percent
		if name == "Format" && !f.Spec.Features.Has(lang.BeginEnd) || f.Is(from, "MessageFormat") {
			style = catalog.Indexed
		}
		if name == "Sprint" || name == "Sprintln" {
			b.text = left.text + strings.Repeat(" {}", len(args)-at-1)
		} else {
			b.text, _ = Placeholders(style, left.raw)
		}
		if left.shape != model.Constant {
			b.text = left.text
			b.values = left.values
		}
		b.fixed = left.fixed
		args = args[at+1:]
		if len(args) == 1 && f.Spec.Features.Has(lang.BeginEnd) && f.Kind(args[0].From) == '[' { // Format('…', [a, b])
			args = f.arguments(args[0].From)
		}
	}
	if name == "format" && !b.fixed && len(args) == 0 && !f.Kind(from).IsString() {
		return built{}, false // date.format(), formatter.format(record)
	}
	for _, a := range args {
		b.values = append(b.values, Value{From: a.From, To: a.To})
	}
	return b, true
}

func hasLetters(s string) bool {
	for i := 0; i < len(s); i++ {
		if c := s[i]; c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= 0x80 {
			return true
		}
	}
	return false
}
