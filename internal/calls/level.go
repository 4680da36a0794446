package calls

import (
	"strconv"

	"reed/internal/lang"
	"reed/internal/lex"
	"reed/internal/model"
)

// The level of a call whose name does not say it.

func (s *Site) setLevel(name string, severity int) {
	s.LevelName, s.SeverityNumber, s.Level = name, severity, model.LevelOf(severity)
}

// levelArgument reads the level of a call whose level is an argument.
func (f *File) levelArgument(s *Site, h *held) {
	for _, a := range s.Args {
		if a.Key < 0 || len(s.Sig.Options) == 0 {
			continue
		}
		switch s.Sig.Options[f.fold(f.Text(a.Key))] {
		case "level":
			s.setLevel("", 0)
			f.setLevelFrom(s, a)
		case "cause":
			s.Cause = true
		}
	}
	at := s.Sig.LevelAt
	if at < 0 || at >= len(s.Args) {
		return
	}
	if a := s.Args[at]; f.Kind(a.From) == '{' { // log({ level: 'info', message: '…' })
		for i := a.From + 1; i < a.To-1; i = f.Skip(i) {
			if f.Is(i, "level") && f.Kind(i+1) == ':' && f.Kind(i+2) == lex.String {
				s.setLevel(s.Sig.Lib.LevelNamed(lex.Unquote(f.Bytes(i + 2))))
			}
		}
		return
	}
	f.setLevelFrom(s, s.Args[at])
	if a := s.Args[at]; s.Level == model.NoLevel && f.hasString(a) { // log("text"): the level was left out
		sig := *s.Sig
		sig.LevelAt, sig.Message = -1, at
		s.Sig = &sig
	}
}

// pythonLevels are the numbers of the standard library's levels.
var pythonLevels = map[int]string{10: "DEBUG", 20: "INFO", 30: "WARNING", 40: "ERROR", 50: "CRITICAL"}

func (f *File) setLevelFrom(s *Site, a Arg) {
	lib := s.Sig.Lib
	last := a.To - 1
	switch {
	case f.Kind(a.From) == lex.String && a.To == a.From+1:
		s.setLevel(lib.LevelNamed(lex.Unquote(f.Bytes(a.From))))
	case f.Kind(a.From) == lex.Number && a.To == a.From+1 && lib.Levels[f.Text(a.From)] > 0:
		s.setLevel(f.Text(a.From), lib.Levels[f.Text(a.From)])
	case f.Kind(a.From) == lex.Number && a.To == a.From+1 && f.Text(a.From)[0] == ':': // a symbol
		s.setLevel(lib.LevelNamed(f.Text(a.From)[1:]))
	case f.Kind(a.From) == lex.Number && a.To == a.From+1:
		n, _ := strconv.Atoi(f.Text(a.From))
		if name := pythonLevels[n]; name != "" && f.Spec.Features.Has(lang.IndentBlocks) {
			s.setLevel(lib.LevelNamed(name))
		}
	case f.Kind(last) == lex.Ident:
		word := f.Text(last)
		if f.Kind(a.From) == lex.Number && a.From < last { // sum of bits, 0 | ERROR
			return
		}
		if !f.dot(last-1) && word != "" && word[0] >= 'a' && !f.Spec.Features.Has(lang.Commands) && lib.Levels[word] == 0 {
			return // a variable
		}
		s.setLevel(lib.LevelNamed(word))
	}
}
