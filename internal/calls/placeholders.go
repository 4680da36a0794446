package calls

import (
	"strings"

	"reed/internal/catalog"
)

// Placeholders reads a message in a library's placeholder style. It returns
// the text with {} for each placeholder, and for each placeholder its name or
// number, "" when it has none. Doubled signs stand for themselves.
func Placeholders(style catalog.Style, text string) (string, []string) {
	switch style {
	case catalog.Percent:
		return percentHoles(text)
	case catalog.Braces:
		return braceHoles(text, false)
	case catalog.Named, catalog.Indexed, catalog.Keyed:
		return braceHoles(text, true)
	}
	return text, nil
}

// percentHoles reads printf-like placeholders: %s, %-5.2f, %(name)s, %[1]d,
// %1$s, %*d (which takes two values).
func percentHoles(text string) (string, []string) {
	if strings.IndexByte(text, '%') < 0 {
		return text, nil
	}
	var out strings.Builder
	var holes []string
	for i := 0; i < len(text); i++ {
		if text[i] != '%' {
			out.WriteByte(text[i])
			continue
		}
		name := ""
		j := i + 1
		if j < len(text) && text[j] == '%' {
			out.WriteByte('%')
			i = j
			continue
		}
		if j < len(text) && text[j] == '(' {
			if end := strings.IndexByte(text[j:], ')'); end > 0 {
				name = text[j+1 : j+end]
				j += end + 1
			}
		}
		if j < len(text) && text[j] == '{' { // %{public}@
			if end := strings.IndexByte(text[j:], '}'); end > 0 && end < 24 {
				j += end + 1
			}
		}
		stars := 0
		number := ""
		for j < len(text) {
			c := text[j]
			if c == '[' {
				end := strings.IndexByte(text[j:], ']')
				if end < 0 {
					break
				}
				number = text[j+1 : j+end]
				j += end + 1
				continue
			}
			if c == '$' && name == "" {
				name = strings.Trim(text[i+1:j], "-+# 0")
				j++
				continue
			}
			if c == '*' {
				stars++
			} else if !(c >= '0' && c <= '9') && strings.IndexByte("-+# .,'<", c) < 0 && !lengthModifier(text[j:]) {
				break
			}
			j++
		}
		if number != "" {
			name = number
		}
		if j >= len(text) || !(text[j] >= 'a' && text[j] <= 'z' || text[j] >= 'A' && text[j] <= 'Z' || text[j] == '@') {
			out.WriteByte('%')
			continue
		}
		if text[j] == 'm' && j == i+1 { // the text of errno, where there is such a thing
			out.WriteString("%m")
			i = j
			continue
		}
		if text[j] == 'n' && j == i+1 { // a line break in Java, nothing elsewhere
			out.WriteByte('\n')
			i = j
			continue
		}
		for range stars {
			holes = append(holes, "")
		}
		holes = append(holes, name)
		out.WriteString("{}")
		i = j
	}
	return out.String(), holes
}

// lengthModifier tells whether s begins with a length modifier of C: letters
// such as l, ll or z before the conversion itself.
func lengthModifier(s string) bool {
	return len(s) > 1 && strings.IndexByte("hlLzj", s[0]) >= 0 && strings.IndexByte("hldiuxXofFeEgGcs", s[1]) >= 0
}

// braceHoles reads {} and, if named, {name:format}, {0} and {@name}; {{ is a
// brace there, a backslash protects {} where braces stand alone.
func braceHoles(text string, named bool) (string, []string) {
	if strings.IndexByte(text, '{') < 0 {
		return text, nil
	}
	var out strings.Builder
	var holes []string
	for i := 0; i < len(text); i++ {
		c := text[i]
		switch {
		case named && i+1 < len(text) && (c == '{' && text[i+1] == '{' || c == '}' && text[i+1] == '}'):
			out.WriteByte(c)
			i++
		case c == '\\' && i+1 < len(text) && text[i+1] == '{' && !named:
			out.WriteByte('{')
			i++
		case c == '{':
			end := strings.IndexByte(text[i:min(len(text), i+200)], '}')
			if end < 0 || !named && end != 1 {
				out.WriteByte(c)
				continue
			}
			name := text[i+1 : i+end]
			if cut := strings.IndexAny(name, ":,!"); cut >= 0 {
				name = name[:cut]
			}
			name = strings.TrimLeft(name, "@$")
			if strings.ContainsAny(name, " \t\n\"'{") {
				out.WriteByte(c)
				continue
			}
			holes = append(holes, name)
			out.WriteString("{}")
			i += end
		default:
			out.WriteByte(c)
		}
	}
	return out.String(), holes
}
