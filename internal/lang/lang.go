// Package lang describes programming languages as data: names, file names,
// comment and string forms, keywords by role, block style. It holds no
// behaviour beyond look-up; the scanner and the outline read the tables.
package lang

import (
	"bytes"
	"path"
	"strings"
)

// Feature is a set of properties of a language that the scanner and the
// outline know how to handle.
type Feature uint64

// The features. Each is implemented once, in the lexer or in the outline.
const (
	IndentBlocks      Feature = 1 << iota // blocks by indentation, headers end with a colon
	BraceBlocks                           // blocks by braces
	NewlineEnds                           // a newline may end a statement
	BareHeaders                           // control headers without parentheses
	RegexLiterals                         // /re/ where an expression may begin
	Markup                                // <tag> islands where an expression may begin
	TypeArrows                            // <T>(x) => … may begin an expression, so <T, is no markup
	PreprocessorLine                      // a line that begins with # is for the preprocessor
	CountedQuotes                         // three or more quotes open a raw string, the same number closes it
	ReceiverFuncs                         // a function declaration may name a receiver type in parentheses
	TypedFuncs                            // a method is "type name(params) body" without a keyword
	NamedMethods                          // a method is "name(params) body"
	AnonymousTypes                        // new T(…) { members }
	Properties                            // name { get … set … } and name => value
	CaseScopes                            // a case label opens statements up to the next label
	ErrorValues                           // errors are values tested against nil
	ErrorFirst                            // callbacks get the error first and test it for truth
	ErrorText                             // errors carry no stack trace: their text is the cause
	PrefixedStrings                       // letters directly before a quote are part of the string
	PercentOperator                       // text % values formats
	TypeSuffix                            // parameter: type, function(): type
	ConstantLambdas                       // any variable that holds a lambda names it, not only members
	Decorators                            // @name(…) before a declaration
	JoinedStrings                         // neighbouring string literals are one
	DirectivePrologue                     // using/import as statements that end with a semicolon
	NestedComments                        // block comments nest
	CaseFold                              // keywords in any case
	Lifetimes                             // 'name without a closing quote is no character
	HashFences                            // # signs before and behind the quotes of raw strings
	FencedRaw                             // R"fence( … )fence"
	Islands                               // code stands between <?php and ?>
	HereDocs                              // <<NAME, the text follows on the next lines
	HereText                              // <<<NAME, the text follows on the next line and ends the token
	HereStrings                           // @" and "@ at the ends of lines
	Directives                            // # lines with continuations, branches may open brackets apart
	SlashStrings                          // /text/ as a string where an expression may begin
	RubyWords                             // %w[…], :name, name?, ?c, =begin
	Commands                              // words without brackets make a call
	CommandCalls                          // a call may leave its brackets out
	DashWords                             // names hold dashes, -Name is an argument's name
	Blocks                                // a brace in an expression opens a block of statements
	KeywordFuncs                          // functions and types begin with keywords; the body of a type is statements
	Macros                                // name!(…) is a call
	Streams                               // << hands values over
	EndBlocks                             // blocks end with the word end
	BeginEnd                              // blocks stand between begin and end
	OptionalBraces                        // indentation may stand for braces
	ErrorTruth                            // error values are tested for truth
	Selectors                             // [object name:value]
	Cascades                              // .. calls on the same object
	Elements                              // tags are statements
)

// Has reports whether all of want are set.
func (f Feature) Has(want Feature) bool { return f&want == want }

// Form is a set of properties of a string form.
type Form uint16

// The properties of string forms.
const (
	Raw         Form = 1 << iota // a backslash escapes nothing
	Lines                        // may run over line ends
	Doubled                      // a doubled closing quote stands for the quote
	Braces                       // {value} is interpolated, {{ is a brace
	DollarVar                    // ${value} is interpolated
	FormatEnd                    // a colon ends the value and begins its format
	Char                         // a character literal
	DollarName                   // $name is interpolated
	DollarParen                  // $(value) is interpolated
	HashBrace                    // #{value} is interpolated
	BackParen                    // \(value) is interpolated
	BraceDollar                  // {$value} is interpolated
	Backtick                     // the backtick escapes, the backslash does not
	Bare                         // only the quote and the backslash can be escaped
)

// String is one way of writing a string.
type String struct {
	Open, Close string
	Form        Form
}

// Role says what part a keyword plays in the outline. Languages share roles.
type Role uint8

// The roles.
const (
	NoRole Role = iota
	If
	Else
	Elif
	For
	While
	Do
	Switch
	Case
	Default
	Try
	Catch
	Finally
	Func
	Lambda
	Class
	TypeDecl
	Struct
	Namespace
	Import
	From
	Package
	Return
	Throw
	New
	Await
	Var
	Const
	Jump
	Defer
	With
	Yield
	Modifier
	Public
	Word
	Literal
	Self
	Assert
	Debugger
	Operator
	Throws
	End
	Do2
	Section
	RoleCount
)

// Spec is one language.
type Spec struct {
	Name         string
	Extensions   []string
	Filenames    []string
	Interpreters []string
	Features     Feature
	LineComments []string
	BlockOpen    string
	BlockClose   string
	Strings      []String
	IdentBytes   string // bytes besides letters, digits and _ that names may hold
	Keywords     map[Role]string
	// Prefixes are names that may stand directly before a quote and what they
	// make of the string; "*" stands for any name.
	Prefixes map[string]Form
	// MoreBlocks are further pairs of signs around block comments.
	MoreBlocks [][2]string

	// FailureCalls are methods whose function arguments run only after a
	// failure; LoopCalls run theirs once for each element.
	FailureCalls []string
	LoopCalls    []string
	// FailureEvents are first arguments that make an event subscription a
	// failure path; EventCalls are the subscribing methods.
	EventCalls    []string
	FailureEvents []string
	// FailureKeys are property names whose function value is an error handler.
	FailureKeys []string
	// SecondHandler are methods whose second function argument is the failure handler.
	SecondHandler []string
}

// All returns every language, in a fixed order.
func All() []*Spec { return all }

var all = []*Spec{&Python, &Java, &Kotlin, &Scala, &Groovy, &CSharp, &JavaScript, &TypeScript, &TSX, &Go, &PHP, &Ruby, &Rust, &C, &CPP, &ObjectiveC, &Swift, &Dart, &PowerShell, &Pascal, &Shell, &XML}

var (
	byExtension   = map[string]*Spec{}
	byFilename    = map[string]*Spec{}
	byInterpreter = map[string]*Spec{}
)

// Pages are the endings of markup whose scripts are read, Notebooks those of
// files whose cells are.
var (
	Pages     = map[string]bool{".vue": true, ".svelte": true, ".html": true, ".htm": true, ".xhtml": true}
	Notebooks = map[string]bool{".ipynb": true}
)

func init() {
	for ext := range Pages {
		byExtension[ext] = &JavaScript
	}
	for ext := range Notebooks {
		byExtension[ext] = &Python
	}
	for _, spec := range all {
		for _, e := range spec.Extensions {
			byExtension[e] = spec
		}
		for _, n := range spec.Filenames {
			byFilename[n] = spec
		}
		for _, n := range spec.Interpreters {
			byInterpreter[n] = spec
		}
	}
}

// ByName returns the language of that name, or nil.
func ByName(name string) *Spec {
	for _, spec := range all {
		if spec.Name == name {
			return spec
		}
	}
	return nil
}

// ByPath returns the language that a file's name tells, or nil.
func ByPath(file string) *Spec {
	base := path.Base(file)
	if spec := byFilename[base]; spec != nil {
		return spec
	}
	ext := path.Ext(base)
	if spec := byExtension[ext]; spec != nil {
		return spec
	}
	return byExtension[strings.ToLower(ext)]
}

// ByFirstLine returns the language that a "#!" line tells, or nil.
func ByFirstLine(text []byte) *Spec {
	rest, ok := bytes.CutPrefix(text, []byte("#!"))
	if !ok {
		return nil
	}
	if end := bytes.IndexByte(rest, '\n'); end >= 0 {
		rest = rest[:end]
	}
	words := strings.Fields(string(rest[:min(len(rest), 256)]))
	for _, word := range words {
		name := path.Base(word)
		if name == "env" || strings.HasPrefix(name, "-") || strings.Contains(name, "=") {
			continue
		}
		if spec := byInterpreter[name]; spec != nil {
			return spec
		}
		return byInterpreter[strings.TrimRight(name, "0123456789.")]
	}
	return nil
}

// Has reports whether all of want are set.
func (f Form) Has(want Form) bool { return f&want == want }
