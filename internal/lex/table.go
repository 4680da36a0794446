package lex

import (
	"sort"
	"strings"
	"sync"

	"reed/internal/lang"
)

// class sorts bytes for the main switch.
type class uint8

const (
	clsOther class = iota
	clsSpace
	clsNewline
	clsIdent
	clsDigit
	clsQuote
	clsPunct
	clsHash
	clsBackslash
	clsWide // 0x80 and above
)

// Table is a language compiled for scanning. It is made once a language.
type Table struct {
	Spec     *lang.Spec
	class    [256]class
	ident    [256]bool
	strings  [256][]lang.String // by first byte, longest opening first
	keywords [256][]keyword     // by first byte
	lengths  [256]uint32        // bit n: a keyword with this first byte has n bytes
	comment  [256]bool          // bytes that may begin a comment
}

type keyword struct {
	word string
	kind Kind
}

var tables sync.Map // *lang.Spec to *Table

// TableFor returns the compiled table of a language.
func TableFor(spec *lang.Spec) *Table {
	if t, ok := tables.Load(spec); ok {
		return t.(*Table)
	}
	t, _ := tables.LoadOrStore(spec, compile(spec))
	return t.(*Table)
}

func compile(spec *lang.Spec) *Table {
	t := &Table{Spec: spec}
	for i := range 256 {
		b := byte(i)
		switch {
		case b == ' ' || b == '\t' || b == '\f' || b == '\v' || b == '\r':
			t.class[i] = clsSpace
		case b == '\n':
			t.class[i] = clsNewline
		case b >= 'a' && b <= 'z' || b >= 'A' && b <= 'Z' || b == '_':
			t.class[i], t.ident[i] = clsIdent, true
		case b >= '0' && b <= '9':
			t.class[i], t.ident[i] = clsDigit, true
		case b >= 0x80:
			t.class[i], t.ident[i] = clsWide, true
		case b == '\\':
			t.class[i] = clsBackslash
		case b > ' ' && b < 0x7f:
			t.class[i] = clsPunct
		}
	}
	for _, b := range []byte(spec.IdentBytes) {
		t.class[b], t.ident[b] = clsIdent, true
	}
	for _, s := range spec.Strings {
		b := s.Open[0]
		t.class[b] = clsQuote
		t.strings[b] = append(t.strings[b], s)
	}
	for _, forms := range t.strings {
		sort.SliceStable(forms, func(i, j int) bool { return len(forms[i].Open) > len(forms[j].Open) })
	}
	if spec.Features.Has(lang.PreprocessorLine) {
		t.class['#'] = clsHash
	}
	opens := append([]string{spec.BlockOpen}, spec.LineComments...)
	for _, pair := range spec.MoreBlocks {
		opens = append(opens, pair[0])
	}
	for _, c := range opens {
		if c != "" {
			t.comment[c[0]] = true
		}
	}
	for role, words := range spec.Keywords {
		for _, w := range strings.Fields(words) {
			t.keywords[w[0]] = append(t.keywords[w[0]], keyword{w, Kw(role)})
			t.lengths[w[0]] |= 1 << len(w)
		}
	}
	return t
}

// foldedKeyword is keyword for languages in which case does not matter.
func (t *Table) foldedKeyword(word []byte) Kind {
	var low [32]byte
	if len(word) >= len(low) {
		return Ident
	}
	for i, c := range word {
		if c >= 'A' && c <= 'Z' {
			c |= 0x20
		}
		low[i] = c
	}
	first := low[0]
	if t.lengths[first]&(1<<len(word)) == 0 {
		return Ident
	}
	for _, k := range t.keywords[first] {
		if k.word == string(low[:len(word)]) {
			return k.kind
		}
	}
	return Ident
}

// keyword returns the kind of a word: Ident unless it is a keyword.
func (t *Table) keyword(word []byte) Kind {
	if t.Spec.Features.Has(lang.CaseFold) {
		return t.foldedKeyword(word)
	}
	if len(word) > 31 || t.lengths[word[0]]&(1<<len(word)) == 0 {
		return Ident
	}
	for _, k := range t.keywords[word[0]] {
		if k.word == string(word) {
			return k.kind
		}
	}
	return Ident
}
