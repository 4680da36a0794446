// Package catalog holds what Reed knows about logging libraries, as data: one
// embedded YAML file a language, decoded strictly and only when a file of that
// language is met.
package catalog

import (
	"bytes"
	"embed"
	"errors"
	"fmt"
	"io"
	"sort"
	"strings"
	"sync"

	"go.yaml.in/yaml/v3"
)

//go:embed data/*.yaml
var files embed.FS

// Style is how a library writes the places of values in a message.
type Style string

// The placeholder styles.
const (
	NoStyle Style = ""        // templates are not supported
	Percent Style = "percent" // %s, %d, %(name)s
	Braces  Style = "braces"  // {}
	Named   Style = "named"   // {Name}, matched to the values by order
	Indexed Style = "indexed" // {0}
	Keyed   Style = "keyed"   // {name} filled from keyword arguments or by order
)

// Values says what the arguments behind the message are.
type Values string

// What arguments can be.
const (
	NoValues Values = ""         // the message is all
	Rest     Values = "rest"     // values for the placeholders
	Pairs    Values = "pairs"    // key, value, key, value …
	Fields   Values = "fields"   // calls that make one field each
	Keywords Values = "keywords" // keyword arguments, each a field
	Objects  Values = "objects"  // object literals whose members are fields
	Joined   Values = "joined"   // all arguments, the first too, are joined to one text
)

// Language is the catalog of one language or of several that share it.
type Language struct {
	Languages  []string  `yaml:"languages"`
	Extends    string    `yaml:"extends"`     // language whose libraries are those of this one too
	LevelTests []string  `yaml:"level_tests"` // methods that test whether a level is on
	Likely     Likely    `yaml:"likely"`
	Libraries  []Library `yaml:"libraries"`

	index
}

// Likely says which receivers look like loggers without a declaration in sight.
type Likely struct {
	Names    []string `yaml:"names"`    // whole names, lower case
	Suffixes []string `yaml:"suffixes"` // ends of names, as written
	Library  string   `yaml:"library"`  // the library whose methods they have when no import tells
}

// Library is one way of logging in a language. A library with several kinds
// of loggers has one entry for each, under the same name.
type Library struct {
	Name    string `yaml:"library"`
	About   string `yaml:"about"`
	Example string `yaml:"example"` // a small file in which every call is of this entry

	Imports []string `yaml:"imports"` // paths whose import says that the library is used here
	Module  bool     `yaml:"module"`  // the imported module itself is a logger
	Statics []string `yaml:"statics"` // names that are loggers once the library is imported
	Globals []string `yaml:"globals"` // names that are loggers without any import
	Types   []string `yaml:"types"`   // types whose variables are loggers
	Unique  bool     `yaml:"unique"`  // the type names are those of no other library

	Factories   []string          `yaml:"factories"`   // calls that make a logger, last name only
	Chain       []string          `yaml:"chain"`       // methods of a logger that give a logger
	Bind        []string          `yaml:"bind"`        // those of Chain that add fields or context
	Annotations map[string]string `yaml:"annotations"` // annotation to the name of the field it makes
	Bare        bool              `yaml:"bare"`        // the methods are called without a receiver
	Callable    bool              `yaml:"callable"`    // the logger itself is called

	Levels   map[string]int    `yaml:"levels"`  // the library's own level names to severity numbers
	Default  string            `yaml:"default"` // threshold when nothing is configured
	Style    Style             `yaml:"style"`
	Values   Values            `yaml:"values"`
	Cause    []string          `yaml:"cause"`    // where an error may stand: last, first, any, text, keyword names
	Leading  bool              `yaml:"leading"`  // other arguments may stand before the message
	Prefixed bool              `yaml:"prefixed"` // a marker may stand before the message
	Ends     []string          `yaml:"ends"`     // methods that end the program
	Category bool              `yaml:"category"` // a category may stand before the message, both texts
	Stream   bool              `yaml:"stream"`   // << hands the message over
	Mixins   map[string]string `yaml:"mixins"`   // types whose heirs have a logger, to its name
	Options  map[string]string `yaml:"options"`  // named arguments of commands: message, level or cause
	Lazy     bool              `yaml:"lazy"`     // a function as message is called only when enabled
	Methods  []Method          `yaml:"methods"`
	Fluent   *Fluent           `yaml:"fluent"`

	Inherited bool `yaml:"-"` // it comes from the catalog that this one extends
}

// Method describes methods that take their arguments alike. Style, Values and
// Cause come from the library where they are left out.
type Method struct {
	Levels  map[string]string `yaml:"levels"`   // method to level name
	Names   []string          `yaml:"names"`    // methods without a fixed level
	LevelAt *int              `yaml:"level_at"` // argument that holds the level
	Message *int              `yaml:"message"`  // argument that holds the message, -1 for none
	Style   *Style            `yaml:"style"`
	Values  *Values           `yaml:"values"`
	Cause   []string          `yaml:"cause"`
	Print   string            `yaml:"print"` // print, dump or debugger when these are leftovers
	Always  bool              `yaml:"always"`
	Leaf    bool              `yaml:"leaf"`  // the method is called without brackets or arguments
	Plain   bool              `yaml:"plain"` // the method stands only where no other of the file has its name
}

// Fluent describes calls built in a chain: the level at the head, fields in
// the middle, the message at the tail.
type Fluent struct {
	Heads     map[string]string `yaml:"heads"`      // method at the head to level name
	LevelHead []string          `yaml:"level_head"` // heads whose argument is the level
	Fields    []string          `yaml:"fields"`     // middle calls whose first argument names a field
	Values    []string          `yaml:"values"`     // middle calls whose argument is a value
	Causes    []string          `yaml:"causes"`     // middle calls whose argument is the error
	Tails     []string          `yaml:"tails"`      // last calls, with the message if any
	Message   []string          `yaml:"message"`    // middle calls whose argument is the message
	Style     Style             `yaml:"style"`
	Pairs     bool              `yaml:"pairs"`   // the tail takes keys and values; the one under "msg" is the message
	Formats   []string          `yaml:"formats"` // tails that format as printf does
}

// Sig is one method of one library, ready for use.
type Sig struct {
	Lib       *Library
	Method    *Method
	Name      string
	LevelName string
	Severity  int
	Style     Style
	Values    Values
	Cause     []string
	Message   int
	LevelAt   int
	Options   map[string]string
}

// Print tells whether the method is a print and what kind of leftover it is.
func (s *Sig) Print() string {
	if s.Method == nil {
		return ""
	}
	return s.Method.Print
}

// Fluent tells whether the signature is the tail of a chain.
func (s *Sig) Fluent() bool { return s.Method == nil }

// HasCause tells whether an error may stand at a place of that name.
func (s *Sig) HasCause(where string) bool {
	for _, c := range s.Cause {
		if c == where {
			return true
		}
	}
	return false
}

// Templates tells whether the library keeps message and values apart.
func (s *Sig) Templates() bool {
	return s.Style != NoStyle || s.Values == Pairs || s.Values == Fields || s.Values == Keywords || s.Values == Objects
}

type index struct {
	sigs       map[string][]*Sig // by method name
	candidates map[string]bool
	levelTests map[string]bool
	factories  map[string][]*Library
	types      map[string][]*Library
	chain      map[string][]*Library
	notes      map[string][]*Library
	mixins     map[string][]*Library
	globals    map[string]*Library
	statics    map[string][]*Library
	tails      map[string][]*Library
	anchors    map[string]bool
	masks      [256]uint64
}

var (
	once   sync.Once
	byLang map[string]*entry
)

type entry struct {
	once sync.Once
	file string
	lang *Language
	err  error
}

// fileOf maps languages to the files that hold their catalogs.
var fileOf = map[string]string{
	"python": "python", "java": "java", "csharp": "csharp",
	"javascript": "javascript", "typescript": "javascript", "go": "go",
	"kotlin": "kotlin", "scala": "scala", "groovy": "groovy", "php": "php", "ruby": "ruby", "rust": "rust", "c": "c", "cpp": "c", "objective-c": "c",
	"swift": "swift", "dart": "dart", "powershell": "powershell", "pascal": "pascal", "shell": "shell", "xml": "xml",
}

// For returns the catalog of a language, decoding it when first asked. The
// embedded files are tested, so an error means a broken build.
func For(language string) (*Language, error) {
	once.Do(func() {
		byLang = map[string]*entry{}
		byFile := map[string]*entry{}
		for l, f := range fileOf {
			if byFile[f] == nil {
				byFile[f] = &entry{file: "data/" + f + ".yaml"}
			}
			byLang[l] = byFile[f]
		}
	})
	e := byLang[language]
	if e == nil {
		return nil, fmt.Errorf("no catalog for language %q", language)
	}
	e.once.Do(func() {
		var data []byte
		if data, e.err = files.ReadFile(e.file); e.err == nil {
			e.lang, e.err = Decode(e.file, data)
		}
	})
	return e.lang, e.err
}

// Languages lists the languages that have a catalog, sorted.
func Languages() []string {
	var all []string
	for l := range fileOf {
		all = append(all, l)
	}
	sort.Strings(all)
	return all
}

// Decode reads a catalog strictly: a key that does not exist is an error that
// names file and line.
func Decode(file string, data []byte) (*Language, error) {
	dec := yaml.NewDecoder(bytes.NewReader(data))
	dec.KnownFields(true)
	l := &Language{}
	if err := dec.Decode(l); err != nil && !errors.Is(err, io.EOF) {
		return nil, fmt.Errorf("%s: %w", file, err)
	}
	if l.Extends != "" {
		base, err := For(l.Extends)
		if err != nil {
			return nil, fmt.Errorf("%s: extends: %w", file, err)
		}
		for _, lib := range base.Libraries {
			lib.Inherited = true
			l.Libraries = append(l.Libraries, lib)
		}
		l.LevelTests = append(l.LevelTests, base.LevelTests...)
	}
	if err := l.build(); err != nil {
		return nil, fmt.Errorf("%s: %w", file, err)
	}
	return l, nil
}

func (l *Language) build() error {
	l.index = index{
		sigs: map[string][]*Sig{}, candidates: map[string]bool{}, levelTests: map[string]bool{},
		factories: map[string][]*Library{}, types: map[string][]*Library{}, chain: map[string][]*Library{},
		notes: map[string][]*Library{}, mixins: map[string][]*Library{}, globals: map[string]*Library{}, statics: map[string][]*Library{},
		tails: map[string][]*Library{}, anchors: map[string]bool{},
	}
	for _, t := range l.LevelTests {
		l.levelTests[t] = true
	}
	for i := range l.Libraries {
		if err := l.addLibrary(&l.Libraries[i]); err != nil {
			return err
		}
	}
	for a := range l.anchors {
		l.masks[a[0]] |= 1 << min(len(a), 63)
	}
	return nil
}

func (l *Language) addLibrary(lib *Library) error {
	group := func(into map[string][]*Library, names []string, anchor bool) {
		for _, n := range names {
			n = n[strings.LastIndexByte(n, '.')+1:]
			into[n] = append(into[n], lib)
			if anchor {
				l.anchors[n] = true
			}
		}
	}
	group(l.factories, lib.Factories, true)
	group(l.types, lib.Types, true)
	group(l.chain, lib.Chain, true)
	group(l.chain, lib.Bind, true)
	group(l.statics, lib.Statics, false)
	for a := range lib.Annotations {
		group(l.notes, []string{a}, true)
	}
	for m := range lib.Mixins {
		group(l.mixins, []string{m}, true)
	}
	for _, g := range lib.Globals {
		l.globals[g] = lib
	}
	if f := lib.Fluent; f != nil {
		group(l.tails, f.Tails, false)
		for _, t := range f.Tails {
			l.candidates[t] = true
		}
	}
	for i := range lib.Methods {
		m := &lib.Methods[i]
		for name, level := range m.Levels {
			severity, ok := lib.Levels[level]
			if !ok && level != "" {
				return fmt.Errorf("library %s: method %s has level %q, which levels does not list", lib.Name, name, level)
			}
			l.addSig(lib, m, name, level, severity)
		}
		for _, name := range m.Names {
			l.addSig(lib, m, name, "", 0)
		}
	}
	return nil
}

func (l *Language) addSig(lib *Library, m *Method, name, level string, severity int) {
	s := &Sig{Lib: lib, Options: lib.Options, Method: m, Name: name, LevelName: level, Severity: severity, Style: lib.Style, Values: lib.Values, Cause: lib.Cause, LevelAt: -1}
	if m.Style != nil {
		s.Style = *m.Style
	}
	if m.Values != nil {
		s.Values = *m.Values
	}
	if m.Cause != nil {
		s.Cause = m.Cause
	}
	if m.LevelAt != nil {
		s.LevelAt = *m.LevelAt
		s.Message = s.LevelAt + 1
	}
	if m.Message != nil {
		s.Message = *m.Message
	}
	l.sigs[name] = append(l.sigs[name], s)
	l.candidates[name] = true
}

// Candidate tells whether a name is that of any method in the catalog.
func (l *Language) Candidate(name []byte) bool { return l.candidates[string(name)] }

// CandidateFold is Candidate for languages in which case does not matter.
func (l *Language) CandidateFold(name []byte) bool {
	return l.candidates[strings.ToLower(string(name))]
}

// LevelTestFold is LevelTest for languages in which case does not matter.
func (l *Language) LevelTestFold(name []byte) bool {
	return l.levelTests[strings.ToLower(string(name))]
}

// Mixed returns the libraries whose mixin of that name gives its heirs a logger.
func (l *Language) Mixed(name string) []*Library { return l.mixins[name] }

// LevelTest tells whether a name is that of a level test.
func (l *Language) LevelTest(name []byte) bool { return l.levelTests[string(name)] }

// Anchor tells whether a name may declare a logger: a type, a factory, an
// annotation or a method that gives a logger.
func (l *Language) Anchor(name []byte) bool {
	if l.masks[name[0]]&(1<<min(len(name), 63)) == 0 {
		return false
	}
	return l.anchors[string(name)]
}

// Sigs returns the signatures of a method name in catalog order.
func (l *Language) Sigs(name string) []*Sig { return l.sigs[name] }

// Factories returns the libraries that have a factory of that name.
func (l *Language) Factories(name string) []*Library { return l.factories[name] }

// Types returns the libraries that have a logger type of that name.
func (l *Language) Types(name string) []*Library { return l.types[name] }

// Chained returns the libraries in which a method of that name gives a logger.
func (l *Language) Chained(name string) []*Library { return l.chain[name] }

// Annotated returns the libraries that have an annotation of that name.
func (l *Language) Annotated(name string) []*Library { return l.notes[name] }

// Global returns the library whose logger is always there under that name.
func (l *Language) Global(name string) *Library { return l.globals[name] }

// Static returns the libraries that offer a logger of that name once imported.
func (l *Language) Static(name string) []*Library { return l.statics[name] }

// Tails returns the libraries whose chains end with a method of that name.
func (l *Language) Tails(name string) []*Library { return l.tails[name] }

// Matches tells whether an import path belongs to the library: it is one of
// its imports or lies below one.
func (lib *Library) Matches(path string) bool {
	for _, p := range lib.Imports {
		if rest, ok := strings.CutPrefix(path, p); ok && (rest == "" || rest[0] == '.' || rest[0] == '/' || rest[0] == '#' || rest[0] == ':' || rest[0] == '\\') {
			return true
		}
	}
	return false
}

// LevelNamed finds a level by the way code writes it: Level.INFO, INFO,
// "info", LevelInfo, InfoLevel, LOG_INFO. It returns the library's own name
// and the severity number, 0 when the library has no such level.
func (lib *Library) LevelNamed(written string) (string, int) {
	if n, ok := lib.Levels[written]; ok {
		return written, n
	}
	fold := func(s string) string {
		s = strings.ToLower(s)
		s = strings.TrimPrefix(strings.TrimPrefix(s, "loglevel"), "log_level")
		s = strings.TrimPrefix(strings.TrimPrefix(s, "level"), "log_")
		return strings.Trim(strings.TrimSuffix(s, "level"), "_")
	}
	want := fold(written)
	best := ""
	for name := range lib.Levels {
		if fold(name) == want && (best == "" || name < best) {
			best = name
		}
	}
	return best, lib.Levels[best]
}

// Sig returns the library's signature of a method, nil when it has none.
func (l *Language) Sig(lib *Library, method string) *Sig {
	for _, s := range l.sigs[method] {
		if s.Lib == lib {
			return s
		}
	}
	return nil
}
