// Package lex turns the bytes of a source file into tokens: one scanner for
// every language, driven by the tables of package lang. It cannot fail: any
// bytes give tokens, and tokens, comments and white space tile the input.
package lex

import "reed/internal/lang"

// Kind tells what a token is. Single ASCII punctuation has its own byte as
// kind; everything else lies above, in ranges that are tested by comparison.
type Kind uint8

// Kinds of tokens. A keyword's kind is KeywordBase plus its lang.Role.
const (
	None Kind = 0

	Ident Kind = iota + 128
	Number
	// Operators of more than one byte that the outline tells apart.
	Arrow     // =>
	ThinArrow // ->
	Equal     // == ===
	NotEqual  // != !==
	LessEq    // <=
	GreaterEq // >=
	AndAnd    // &&
	OrOr      // ||
	Coalesce  // ??
	SafeDot   // ?.
	Declare   // :=
	OpAssign  // += -= …
	Ellipsis  // ...
	Scope     // ::
	ShiftLeft // <<
	Receive   // <-
	Power     // **
	Increment // ++ --
	DotDot    // ..
	Option    // -Name of an argument
	Regex
	MarkupText
	MarkupName
	MarkupPunct // < > </ /> of markup
	MarkupEnd   // the > that ends an island
	Unknown     // a byte that no language knows

	// Parts of strings.
	String      // a whole string without values in it
	CharString  // a character literal
	StringBegin // the opening quote of a string with values in it
	StringText  // fixed text of such a string
	ValueBegin  // { or ${ of a value inside a string
	ValueFormat // the format after a value
	ValueEnd    // the } of a value
	StringEnd   // the closing quote

	KeywordBase // plus lang.Role
)

// Kw returns the kind of keywords with a role.
func Kw(role lang.Role) Kind { return KeywordBase + Kind(role) }

// IsString reports whether k begins a string: a whole one or one with values.
func (k Kind) IsString() bool { return k == String || k == StringBegin }

// IsKeyword reports whether k is a keyword of any role.
func (k Kind) IsKeyword() bool { return k > KeywordBase }

// Role returns a keyword's role, lang.NoRole for other tokens.
func (k Kind) Role() lang.Role {
	if k > KeywordBase {
		return lang.Role(k - KeywordBase)
	}
	return lang.NoRole
}

// Flags are properties of one token.
type Flags uint8

// The flags.
const (
	LineStart    Flags = 1 << iota // the first token of its line
	StmtStart                      // LineStart outside brackets and not a continued line (indented languages)
	Unterminated                   // a string, comment or expression that never ends
	Bare                           // a ValueBegin whose partner is the last token of the value, not a bracket
)

// Token is a piece of the source: bytes Start to End of the text.
type Token struct {
	Start, End uint32
	Kind       Kind
	Flags      Flags
	Indent     uint16 // column of a StmtStart token, tabs to the next multiple of eight
}

// Result is what a scan gives; its slices are reused by the next scan with it.
type Result struct {
	Tokens   []Token
	Partner  []int32 // index of the matching bracket or string end, -1 for others
	Comments []Token // comments and preprocessor lines, in order
	Broken   []Token // what never ended, for diagnostics

	brackets []bracket
	modes    []mode
}
