package report

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"io"
	"strconv"
	"strings"

	"reed/internal/model"
	"reed/internal/scan"
)

// Calls writes a list of calls while they come, file by file.
type Calls struct {
	w      io.Writer
	format string
	look   Look
	p      painter
	csv    *csv.Writer
	buf    bytes.Buffer
	enc    *json.Encoder

	module  string
	begun   bool
	files   int
	total   int
	prints  int
	modules int
}

// NewCalls returns a writer of calls as text, json, jsonl or csv.
func NewCalls(w io.Writer, format string, look Look) *Calls {
	c := &Calls{w: w, format: format, look: look, p: painter{look.Color}}
	c.enc = json.NewEncoder(&c.buf)
	c.enc.SetEscapeHTML(false)
	return c
}

// callColumns are the columns of the CSV form.
var callColumns = []string{"file", "line", "column", "end_line", "language", "module", "type", "function", "kind", "library", "logger", "receiver", "method", "level", "severity_number", "shape", "message", "arguments", "fields", "cause", "failure_path", "loop", "guarded", "lazy", "test", "confidence", "wrapper"}

// File writes the calls of one file.
func (c *Calls) File(module, file string, calls []model.Call) error {
	if len(calls) == 0 {
		return nil
	}
	c.files++
	for i := range calls {
		if calls[i].Kind == model.KindPrint {
			c.prints++
		} else {
			c.total++
		}
	}
	switch c.format {
	case "json", "jsonl":
		return c.json(calls)
	case "csv":
		return c.rows(calls)
	}
	return c.text(module, file, calls)
}

func (c *Calls) json(calls []model.Call) error {
	for i := range calls {
		c.buf.Reset()
		if err := c.enc.Encode(&calls[i]); err != nil {
			return err
		}
		out := c.buf.Bytes()
		if c.format == "json" {
			out = bytes.TrimSuffix(out, []byte("\n"))
			sep := ",\n    "
			if !c.begun {
				sep = "{\n  \"calls\": [\n    "
			}
			if _, err := io.WriteString(c.w, sep); err != nil {
				return err
			}
		}
		c.begun = true
		if _, err := c.w.Write(out); err != nil {
			return err
		}
	}
	return nil
}

func (c *Calls) rows(calls []model.Call) error {
	if c.csv == nil {
		c.csv = csv.NewWriter(c.w)
		if err := c.csv.Write(callColumns); err != nil {
			return err
		}
	}
	for i := range calls {
		k := &calls[i]
		if err := c.csv.Write([]string{k.File, strconv.Itoa(k.Line), strconv.Itoa(k.Column), strconv.Itoa(k.EndLine), k.Language, k.Module, k.Type, k.Function, k.Kind, k.Library, k.Logger, k.Receiver, k.Method,
			k.Level.String(), strconv.Itoa(k.SeverityNumber), k.Shape, k.Message, strings.Join(k.Arguments, "; "), strings.Join(k.Fields, "; "), strconv.FormatBool(k.Cause), strconv.FormatBool(k.FailurePath),
			strconv.FormatBool(k.Loop), strconv.FormatBool(k.Guarded), strconv.FormatBool(k.Lazy), strconv.FormatBool(k.Test), k.Confidence, k.Wrapper}); err != nil {
			return err
		}
	}
	c.csv.Flush()
	return c.csv.Error()
}

// text writes calls for people: module, file, then a line each.
func (c *Calls) text(module, file string, calls []model.Call) error {
	var b strings.Builder
	if module != c.module || !c.begun {
		if c.begun {
			b.WriteByte('\n')
		}
		c.modules++
		b.WriteString(c.p.bold(Clean(module)) + "\n")
	}
	c.module, c.begun = module, true
	b.WriteString("  " + c.p.faint(Clean(file)) + "\n")
	for i := range calls {
		b.WriteString(c.line(&calls[i]) + "\n")
	}
	_, err := io.WriteString(c.w, b.String())
	return err
}

// remarks are words about the shape of a message, where they are worth it.
var remarks = map[string]string{
	model.Interpolated: "interpolated", model.Concatenated: "joined", model.Formatted: "formatted first", model.Opaque: "text from elsewhere",
}

func (c *Calls) line(k *model.Call) string {
	level := k.Level.String()
	if k.Kind == model.KindPrint {
		level = "print"
	} else if level == "" {
		level = "·"
	}
	var tail []string
	if r := remarks[k.Shape]; r != "" && k.Kind == model.KindLog {
		tail = append(tail, r)
	}
	if len(k.Fields) > 0 {
		tail = append(tail, "+ "+strings.Join(k.Fields, ", "))
	}
	if k.Cause {
		tail = append(tail, "cause")
	}
	if k.FailurePath {
		tail = append(tail, "on failure")
	}
	if k.Loop {
		tail = append(tail, "in a loop")
	}
	if k.Confidence == model.Likely {
		tail = append(tail, "likely")
	}
	message := Clean(k.Message)
	if k.Shape == model.Bare && message == "" {
		message = "(no text)"
		if k.Kind == model.KindPrint {
			message = "(" + Clean(k.Method) + ")"
		}
	}
	note := Clean(strings.Join(tail, " · "))
	room := c.look.Width - 16
	note = fit(note, room/2)
	message = fit(message, room-2-len([]rune(note)))
	if k.Kind == model.KindPrint {
		level = c.p.faint(pad(level, 5))
	} else {
		level = c.p.level(k.Level, pad(level, 5))
	}
	out := fmt.Sprintf("  %6d  %s  %s", k.Line, level, message)
	if note != "" {
		out += "  " + c.p.faint(note)
	}
	return out
}

// End closes the list: the rest of a document, or a line that sums up.
func (c *Calls) End(diagnostics []model.Diagnostic, left scan.LeftOut) error {
	var b strings.Builder
	switch c.format {
	case "json":
		if !c.begun {
			b.WriteString("{\n  \"calls\": [")
		}
		b.WriteString("\n  ],\n  \"diagnostics\": ")
		if diagnostics == nil {
			diagnostics = []model.Diagnostic{}
		}
		data, err := json.Marshal(diagnostics)
		if err != nil {
			return err
		}
		b.Write(data)
		data, err = json.Marshal(map[string]any{"calls": c.total, "prints": c.prints, "files": c.files, "left_out": left})
		if err != nil {
			return err
		}
		b.WriteString(",\n  \"summary\": ")
		b.Write(data)
		b.WriteString("\n}\n")
	case "text":
		if c.total+c.prints == 0 {
			b.WriteString("No logging calls and no prints were found.\n")
		} else {
			fmt.Fprintf(&b, "\n%s and %s in %s of %s.\n", plural(c.total, "logging call"), plural(c.prints, "print"), plural(c.files, "file"), plural(c.modules, "module"))
		}
		if l := leftOut(left); l != "" {
			b.WriteString(c.p.faint(l) + "\n")
		}
	case "csv":
		if c.csv == nil {
			fmt.Fprintln(&b, strings.Join(callColumns, ","))
		}
	}
	_, err := io.WriteString(c.w, b.String())
	return err
}
