package source

import (
	"bytes"
	"encoding/json"
	"strings"
)

// Scripts keeps what stands in the script elements of markup and turns all
// else into white space, so that places stay what they are. typed tells that a
// script says that it is TypeScript. It returns nil when there is no script.
func Scripts(text []byte) (kept []byte, typed bool) {
	lower := bytes.ToLower(text)
	from := 0
	for {
		at := bytes.Index(lower[from:], []byte("<script"))
		if at < 0 {
			break
		}
		open := from + at
		if c := bytes.LastIndex(lower[from:open], []byte("<!--")); c >= 0 && !bytes.Contains(lower[from+c:open], []byte("-->")) {
			end := bytes.Index(lower[open:], []byte("-->"))
			if end < 0 {
				break
			}
			from = open + end // the tag stands in a comment
			continue
		}
		end := bytes.IndexByte(lower[open:], '>')
		if end < 0 {
			break
		}
		tag := lower[open : open+end]
		body := open + end + 1
		stop := bytes.Index(lower[body:], []byte("</script"))
		if stop < 0 {
			stop = len(text) - body
		}
		from = body + stop
		if !scriptTag(tag) {
			continue
		}
		typed = typed || bytes.Contains(tag, []byte(`lang="ts"`)) || bytes.Contains(tag, []byte(`lang='ts'`)) || bytes.Contains(tag, []byte("typescript"))
		if kept == nil {
			kept = blank(text)
		}
		copy(kept[body:], text[body:body+stop])
		if body+stop > body && body+stop < len(kept) && kept[body+stop] == ' ' {
			kept[body+stop] = ';' // scripts do not run into each other
		}
	}
	return kept, typed
}

// scriptTag tells whether the opening tag of a script element, in small
// letters, holds a program rather than data or a template.
func scriptTag(tag []byte) bool {
	at := bytes.Index(tag, []byte("type="))
	if at < 0 {
		return true
	}
	kind := strings.Trim(string(tag[at+5:min(len(tag), at+45)]), `"' `)
	kind, _, _ = strings.Cut(kind, `"`)
	return strings.HasPrefix(kind, "module") || strings.HasPrefix(kind, "text/javascript") || strings.HasPrefix(kind, "application/javascript") || strings.HasPrefix(kind, "text/babel") || strings.Contains(kind, "typescript") || strings.HasPrefix(kind, "text/jsx")
}

// blank returns white space of the same length and the same lines.
func blank(text []byte) []byte {
	out := bytes.Repeat([]byte(" "), len(text))
	for i, b := range text {
		if b == '\n' || b == '\r' {
			out[i] = b
		}
	}
	return out
}

// Notebook returns the code cells of a notebook of the Jupyter format, each
// line of code on the line of the file that holds it, and the language that
// the notebook says it is written in. Lines for the shell and for the notebook
// itself are left out. It returns nil for what is no notebook, and for cells
// that are not written line by line.
func Notebook(text []byte) (code []byte, language string) {
	var head struct {
		Metadata struct {
			Kernel struct {
				Language string `json:"language"`
			} `json:"kernelspec"`
			Info struct {
				Name string `json:"name"`
			} `json:"language_info"`
		} `json:"metadata"`
		Cells []struct{} `json:"cells"`
	}
	if json.Unmarshal(text, &head) != nil || head.Cells == nil {
		return nil, ""
	}
	language = head.Metadata.Info.Name
	if language == "" {
		language = head.Metadata.Kernel.Language
	}
	if language == "" {
		language = "python"
	}
	var out bytes.Buffer
	inCode, inSource := false, false
	for len(text) > 0 {
		line := text
		if n := bytes.IndexByte(text, '\n'); n >= 0 {
			line, text = text[:n], text[n+1:]
		} else {
			text = nil
		}
		t := bytes.TrimSpace(line)
		switch {
		case bytes.HasPrefix(t, []byte(`"cell_type"`)):
			inCode = bytes.Contains(t, []byte(`"code"`))
		case bytes.HasPrefix(t, []byte(`"source"`)):
			inSource = bytes.HasSuffix(t, []byte("["))
		case inSource && bytes.HasPrefix(t, []byte("]")):
			inSource = false
		case inSource && inCode:
			var s string
			if json.Unmarshal(bytes.TrimSuffix(t, []byte(",")), &s) == nil {
				s = strings.TrimRight(s, "\r\n")
				if first := strings.TrimLeft(s, " \t"); !strings.HasPrefix(first, "%") && !strings.HasPrefix(first, "!") && !strings.Contains(s, "\n") {
					out.WriteString(s)
				}
			}
		}
		out.WriteByte('\n')
	}
	return out.Bytes(), strings.ToLower(language)
}
