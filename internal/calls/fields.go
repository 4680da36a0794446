package calls

import (
	"reed/internal/lang"
	"reed/internal/lex"
	"reed/internal/model"
)

// Named values of a call: pairs, keyword arguments, objects.

// pairs reads "key, value, key, value"; a call that makes a field stands for
// both.
func (f *File) pairs(s *Site, args []Arg) {
	for i := 0; i < len(args); i++ {
		a := args[i]
		if f.fieldMaker(a) {
			f.fieldArgument(s, a)
			continue
		}
		name := ""
		if f.Kind(a.From) == lex.String && a.To == a.From+1 {
			name = lex.Unquote(f.Bytes(a.From))
		} else if a.To == a.From+1 || f.Kind(a.To-2) == '.' {
			name = f.Text(a.To - 1)
		}
		if i+1 < len(args) {
			i++
			v := Value{From: args[i].From, To: args[i].To, Field: name}
			if f.errorLike(v.From, v.To, s.Scope) {
				s.Cause = true
			}
			s.Values = append(s.Values, v)
		} else if !a.Spread {
			s.Values = append(s.Values, Value{From: a.From, To: a.To, Field: name})
		}
	}
}

// fieldMaker tells whether an argument is a call such as slog.Int("n", n).
func (f *File) fieldMaker(a Arg) bool {
	open := f.Lex.Partner[a.To-1]
	return f.Kind(a.To-1) == ')' && open > a.From && f.Kind(open-1) == lex.Ident && (f.Kind(open-2) == '.' || open-1 == a.From)
}

func (f *File) fieldArgument(s *Site, a Arg) {
	open := f.Lex.Partner[a.To-1]
	if !f.fieldMaker(a) {
		if f.errorLike(a.From, a.To, s.Scope) {
			s.Cause = true
		}
		s.Values = append(s.Values, Value{From: a.From, To: a.To})
		return
	}
	maker := f.Text(open - 1)
	if maker == "Error" || maker == "Err" || maker == "NamedError" || maker == "AnErr" {
		s.Cause = true
	}
	before := len(s.Values)
	f.fieldCall(s, open)
	if len(s.Values) > before {
		v := &s.Values[len(s.Values)-1]
		if v.Field == "" && (maker == "Error" || maker == "Err") {
			v.Field = "error"
		}
		if f.errorLike(v.From, v.To, s.Scope) {
			s.Cause = true
		}
	}
}

// keywords reads the keyword arguments of a call.
func (f *File) keywords(s *Site) {
	for i, a := range s.Args {
		if a.Key < 0 || i == s.MessageAt {
			continue
		}
		key := f.Text(a.Key)
		off := f.Is(a.From, "False") || f.Is(a.From, "None")
		switch {
		case s.Sig.HasCause(key):
			if !off {
				s.Cause = true
			}
		case key == "extra" && f.Kind(a.From) == '{':
			f.objectFields(s, a.From, true)
		case key == "metadata" && f.Kind(a.From) == '[' && f.Spec.Features.Has(lang.ErrorTruth):
			f.metadata(s, a)
		case s.Sig.Options[f.fold(key)] != "", f.Kind(a.Key) == lex.Option && s.Sig.Print() != "", f.Spec.Features.Has(lang.Macros) && (key == "target" || key == "parent" || key == "name" && f.Kind(a.Key+1) == ':'):
		case controls[key], f.Spec.Features.Has(lang.Properties) && s.Sig.Print() != "":
		default:
			v := Value{From: a.From, To: a.To, Field: key}
			if f.Spec.Features.Has(lang.Properties) {
				v.Field = ""
				if f.errorLike(a.From, a.To, s.Scope) {
					s.Cause = true
					continue
				}
			}
			s.Values = append(s.Values, v)
		}
	}
}

// metadata reads the keys and values of ["gauge": "\(id)"] as fields.
func (f *File) metadata(s *Site, a Arg) {
	for _, pair := range f.arguments(a.From) {
		if f.Kind(pair.From) != lex.String || f.Kind(pair.From+1) != ':' {
			continue
		}
		name := lex.Unquote(f.Bytes(pair.From))
		if f.errorLike(pair.From+2, pair.To, s.Scope) {
			s.Cause = true
		}
		s.Values = append(s.Values, Value{From: pair.From + 2, To: pair.To, Field: name})
	}
}

// objectFields reads the members of the object or dictionary literal at open.
func (f *File) objectFields(s *Site, open int32, values bool) {
	end := f.Lex.Partner[open]
	for i := open + 1; i < end; {
		from := i
		for i < end && f.Kind(i) != ',' {
			i = f.Skip(i)
		}
		to := i
		i++
		if to <= from || f.Kind(from) == lex.Ellipsis {
			continue
		}
		v := Value{From: from, To: to, Field: f.nameText(from)}
		if k := f.Kind(from + 1); k == ':' || k == lex.Arrow {
			v.From = from + 2
		} else if to != from+1 {
			continue
		}
		if v.From >= v.To {
			continue
		}
		if f.errorLike(v.From, v.To, s.Scope) {
			s.Cause = true
		}
		if values {
			s.Values = append(s.Values, v)
		} else {
			s.Fields = append(s.Fields, v.Field)
		}
	}
}

// objectMessage reads a single object that holds message and fields.
func (f *File) objectMessage(s *Site, a Arg) {
	s.Shape = model.Bare
	end := f.Lex.Partner[a.From]
	for i := a.From + 1; i < end; i = f.Skip(i) {
		if (f.Is(i, "message") || f.Is(i, "msg")) && f.Kind(i+1) == ':' {
			to := i + 2
			for to < end && f.Kind(to) != ',' {
				to = f.Skip(to)
			}
			b := f.build(i+2, to, 0)
			s.Shape, s.Message, s.HasText = b.shape, b.text, b.fixed
			s.Values = append(s.Values, b.values...)
		}
	}
	f.objectFields(s, a.From, true)
	kept := s.Values[:0]
	for _, v := range s.Values {
		if v.Field != "message" && v.Field != "msg" && v.Field != "level" {
			kept = append(kept, v)
		}
	}
	s.Values = kept
}
