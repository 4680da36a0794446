package calls

import (
	"bytes"
	"strings"

	"reed/internal/catalog"
	"reed/internal/lang"
	"reed/internal/lex"
	"reed/internal/model"
)

// Forms of calls that only some languages have: words without brackets,
// blocks that give the message, chains of <<.

// commandArgs splits the words of a command. -Name makes the next word the
// value of that name; words that touch are one.
func (f *File) commandArgs(from, to int32) []Arg {
	var args []Arg
	key := int32(-1)
	for i := from; i < to; {
		if f.Kind(i) == lex.Option {
			key = i
			i++
			if f.Kind(i) == ':' && i < to { // -Name:value
				i++
			}
			if i >= to || f.Kind(i) == lex.Option {
				args = append(args, Arg{From: i - 1, To: i, Key: key})
				key = -1
			}
			continue
		}
		start := i
		i = min(f.Skip(i), to)
		for i < to && f.Lex.Tokens[i].Start == f.Lex.Tokens[i-1].End && f.Kind(i) != ',' {
			i = min(f.Skip(i), to)
		}
		if f.Kind(start) != ',' {
			args = append(args, Arg{From: start, To: i, Key: key})
		}
		key = -1
	}
	return args
}

// trailingBlock tells whether the brace at i is a block that belongs to the
// call before it.
func (f *File) trailingBlock(i int32) bool {
	return f.Spec.Features&(lang.Blocks|lang.RubyWords) != 0 && !f.Spec.Features.Has(lang.Macros) && f.Lex.Partner[i] > i && f.Lex.Tokens[i].Flags&lex.LineStart == 0
}

// blockArgument returns the last expression of a block as the only argument:
// its parameters and the statements before it are left out.
func (f *File) blockArgument(open int32) []Arg {
	return f.blockText(open+1, f.Lex.Partner[open])
}

// blockText is blockArgument for the tokens inside a block.
func (f *File) blockText(from, end int32) []Arg {
	if f.Kind(from) == '|' {
		for from++; from < end && f.Kind(from) != '|'; from++ {
		}
		from++
	}
	for i := from; i < end && i < from+24; i = f.Skip(i) {
		if k := f.Kind(i); k == lex.ThinArrow || k == lex.Arrow {
			from = i + 1
			break
		}
	}
	for i := from; i < end; i = f.Skip(i) {
		if f.Kind(i) == ';' && i+1 < end || i > from && f.Lex.Tokens[i].Flags&lex.LineStart != 0 && !f.continued(i) {
			from = i
			if f.Kind(i) == ';' {
				from++
			}
		}
	}
	for end > from && f.Kind(end-1) == ';' {
		end--
	}
	if from >= end {
		return nil
	}
	return []Arg{{From: from, To: end, Key: -1}}
}

// continued tells whether the first token of a line goes on with the
// expression of the line before.
func (f *File) continued(i int32) bool {
	switch f.Kind(i - 1) {
	case '+', ',', '.', '(', lex.AndAnd, lex.OrOr:
		return true
	}
	k := f.Kind(i)
	return k == '.' || k == lex.SafeDot || k == '+' || k == '?' || k == ':'
}

// maxStream is how many tokens of a << chain are read, those in brackets
// aside: chains without an end would be read again from each call in them.
const maxStream = 600

// stream reads the values of a << chain behind a call as its message. It
// reports whether there is one.
func (f *File) stream(s *Site) bool {
	at := s.Close + 1
	if s.Open < 0 && s.Close == s.Name {
		at = s.Name + 1
	}
	if f.Kind(at) != lex.ShiftLeft {
		return false
	}
	from := at + 1
	i := from
	for n := 0; int(i) < len(f.Lex.Tokens) && n < maxStream; n++ {
		k := f.Kind(i)
		if k == ';' || k == ')' || k == '}' || k == ',' || k == ']' || k == lex.Ident && n > 0 && bytes.Equal(f.Bytes(i), f.Bytes(s.Name)) {
			break
		}
		i = f.Skip(i)
	}
	if i <= from {
		return false
	}
	s.Close = i - 1
	s.Args = append(s.Args[:len(s.Args):len(s.Args)], Arg{From: from, To: i, Key: -1})
	s.Streamed = true
	return true
}

// streamed reads a chain "a << b << c" into a message; only constants make a
// constant.
func (f *File) streamed(from, to int32) built {
	b := built{shape: model.Constant}
	start := from
	add := func(end int32) {
		if end <= start {
			return
		}
		last := f.Text(end - 1)
		if last == "endl" || last == "flush" || last == "hex" || last == "dec" || last == "left" || last == "right" || last == "boolalpha" {
			return
		}
		p := f.build(start, end, 1)
		if p.shape == model.Constant {
			b.text += p.text
			b.fixed = b.fixed || p.fixed
			return
		}
		b.shape = model.Streamed
		b.text += "{}"
		b.values = append(b.values, Value{From: start, To: end})
	}
	for i := from; i < to; i = f.Skip(i) {
		if f.Kind(i) == lex.ShiftLeft {
			add(i)
			start = i + 1
		}
	}
	add(to)
	b.raw = b.text
	return b
}

// pascalArgs settles the arguments of a routine that takes an open array of
// parts: Log(['a', b]). It reports false for what is written into a file.
func (f *File) pascalArgs(s *Site) bool {
	if len(s.Args) > 1 && s.Sig.Print() != "" && s.Args[0].To == s.Args[0].From+1 && f.Kind(s.Args[0].From) == lex.Ident {
		name := strings.ToLower(f.Text(s.Args[0].From))
		if name == "stderr" || name == "output" || name == "stdout" {
			s.Args = s.Args[1:]
		} else if len(name) == 1 || strings.Contains(name, "file") || strings.HasSuffix(name, "out") {
			return false
		}
	}
	if len(s.Args) == 1 && s.Sig.Values == catalog.Joined && f.Kind(s.Args[0].From) == '[' && f.Lex.Partner[s.Args[0].From] == s.Args[0].To-1 {
		s.Args = f.arguments(s.Args[0].From)
	}
	return true
}
