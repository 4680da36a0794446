// Package scan is the driver: it walks folders, honours ignore files, reads
// files in parallel and hands the results on in a fixed order.
package scan

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"slices"
	"sort"
	"strings"
	"sync"

	"github.com/bmatcuk/doublestar/v4"
	"github.com/go-git/go-git/v5/plumbing/format/gitignore"

	"reed/internal/calls"
	"reed/internal/lang"
	"reed/internal/model"
)

// Options say what to read.
type Options struct {
	Paths   []string // files and folders; the current folder when empty
	Only    []string // globs: read nothing else
	Skip    []string // globs: leave these out
	Tests   bool     // also test code
	Workers int      // 0: one a core
	// Progress is told how many files of how many are done; may be nil.
	Progress func(done, total int)
}

// maxSize is the size in bytes above which a file is read only when it is
// named on the command line.
const maxSize = 10 << 20

// Entry is one file to read.
type Entry struct {
	Path   string // as it is printed and opened
	Rel    string // below the root of the walk
	Unit   string // dotted name as a Python module
	Module string
	Named  bool // given on the command line itself
	Test   bool
	Spec   *lang.Spec // nil when only the first line can tell
	index  int        // place in the tree
}

// Tree is what a walk found, in the order in which results come.
type Tree struct {
	Entries     []Entry
	Diagnostics []model.Diagnostic
	Left        LeftOut
	Wrappers    []calls.Wrapper // found by Run with Discover
}

// LeftOut counts what a walk or a reading left out, by reason.
type LeftOut struct {
	Vendored  int `json:"vendored"`
	Generated int `json:"generated"`
	Minified  int `json:"minified"`
	Built     int `json:"build_output"`
	Ignored   int `json:"ignored"`
	Tests     int `json:"test_code"`
	Binary    int `json:"binary"`
	Large     int `json:"large"`
}

func (l *LeftOut) add(o LeftOut) {
	l.Vendored += o.Vendored
	l.Generated += o.Generated
	l.Minified += o.Minified
	l.Built += o.Built
	l.Ignored += o.Ignored
	l.Tests += o.Tests
	l.Binary += o.Binary
	l.Large += o.Large
}

// MissingError says that a path given by the user cannot be opened.
type MissingError struct {
	Path string
	Err  error
}

func (e *MissingError) Error() string {
	why := "cannot be read"
	if errors.Is(e.Err, fs.ErrNotExist) {
		why = "does not exist"
	} else if errors.Is(e.Err, fs.ErrPermission) {
		why = "may not be read by this user"
	}
	return fmt.Sprintf("%q %s: name a file or folder that can be opened", e.Path, why)
}

func (e *MissingError) Unwrap() error { return e.Err }

type walker struct {
	Options
	*Tree
	ctx    context.Context
	root   string // the root as given
	unit   string // dotted package of the current folder, "" outside packages
	single bool
}

// Walk finds the files to read below the paths of o. A missing path is a
// *MissingError; a folder that cannot be read is a diagnostic.
func Walk(ctx context.Context, o Options) (*Tree, error) {
	if len(o.Paths) == 0 {
		o.Paths = []string{"."}
	}
	for _, g := range append(append([]string{}, o.Only...), o.Skip...) {
		if !doublestar.ValidatePattern(g) {
			return nil, fmt.Errorf("glob %q is not well formed: see the pattern forms in the help of --only", g)
		}
	}
	t := &Tree{}
	for _, p := range o.Paths {
		info, err := os.Stat(p)
		if err != nil {
			return nil, &MissingError{p, err}
		}
		p = filepath.ToSlash(filepath.Clean(p))
		w := &walker{Options: o, Tree: t, ctx: ctx, root: p, single: len(o.Paths) == 1}
		if !info.IsDir() {
			t.Entries = append(t.Entries, Entry{Path: p, Rel: path.Base(p), Unit: unitName("", path.Base(p)), Module: w.rootModule(path.Dir(p)), Named: true, Test: isTest(p), Spec: lang.ByPath(p)})
			continue
		}
		if err := w.folder("", w.parentPatterns(), w.rootModule(p)); err != nil {
			return nil, err
		}
	}
	sort.SliceStable(t.Entries, func(i, j int) bool {
		a, b := &t.Entries[i], &t.Entries[j]
		if a.Module != b.Module {
			return a.Module < b.Module
		}
		return a.Path < b.Path
	})
	t.Entries = slices.CompactFunc(t.Entries, func(a, b Entry) bool { return a.Path == b.Path })
	for i := range t.Entries {
		t.Entries[i].index = i
	}
	return t, nil
}

// rootModule names the module of files that stand at the root itself.
func (w *walker) rootModule(dir string) string {
	if !w.single && dir != "." {
		return dir
	}
	abs, err := filepath.Abs(dir)
	if err != nil {
		return dir
	}
	return filepath.Base(abs)
}

// parentPatterns reads the ignore files of the folders above the root, up to
// the one that holds .git.
func (w *walker) parentPatterns() []ignoreRule {
	abs, err := filepath.Abs(w.root)
	if err != nil {
		return nil
	}
	top := abs
	for {
		if _, err := os.Stat(filepath.Join(top, ".git")); err == nil {
			break
		}
		up := filepath.Dir(top)
		if up == top {
			return nil
		}
		top = up
	}
	rel, err := filepath.Rel(top, abs)
	if err != nil {
		return nil
	}
	exclude := filepath.Join(top, ".git", "info", "exclude")
	if rel == "." {
		return readIgnore(exclude, nil)
	}
	parts := strings.Split(filepath.ToSlash(rel), "/")
	var all []ignoreRule
	for _, p := range readIgnore(exclude, nil) {
		all = append(all, p.below(parts))
	}
	for i := range parts {
		dir := filepath.Join(append([]string{top}, parts[:i]...)...)
		for _, p := range readIgnore(filepath.Join(dir, ".gitignore"), nil) {
			all = append(all, p.below(parts[i:]))
		}
	}
	if ignored(all, nil, true) {
		return nil // the root itself is ignored, yet somebody asks for it
	}
	return all
}

// above is a pattern of a folder above the root: prefix are the folders from
// there down to the root.
type above struct {
	gitignore.Pattern
	prefix []string
}

// Match asks the pattern about a path below the root.
func (a above) Match(p []string, isDir bool) gitignore.MatchResult {
	if len(p) == 0 { // is the root, or a folder above it, ignored?
		for n := 1; n <= len(a.prefix); n++ {
			if m := a.Pattern.Match(a.prefix[:n], true); m > gitignore.NoMatch {
				return m
			}
		}
		return gitignore.NoMatch
	}
	return a.Pattern.Match(append(append(make([]string, 0, len(a.prefix)+len(p)), a.prefix...), p...), isDir)
}

func ignoreLines(file string) []string {
	data, err := os.ReadFile(file)
	if err != nil {
		return nil
	}
	var lines []string
	for _, line := range strings.Split(string(bytes.TrimPrefix(data, []byte("\xef\xbb\xbf"))), "\n") {
		line = strings.TrimSuffix(line, "\r")
		if strings.HasPrefix(line, "#") {
			continue
		}
		for strings.HasSuffix(line, " ") && !strings.HasSuffix(line, `\ `) {
			line = line[:len(line)-1]
		}
		if line != "" {
			lines = append(lines, line)
		}
	}
	return lines
}

func readIgnore(file string, domain []string) []ignoreRule {
	var patterns []ignoreRule
	for _, line := range ignoreLines(file) {
		patterns = append(patterns, newIgnoreRule(line, domain))
	}
	return patterns
}

// ignoreRule is a pattern with a cheap test in front of it. The folders above
// a path are known not to be ignored when the path is asked about.
type ignoreRule struct {
	gitignore.Pattern
	name    string // the last part of the pattern, without its star when suffix is set
	suffix  bool   // the last part is a star and this end
	any     bool   // the last part says too little: ask the pattern itself
	folders bool   // only folders match
	part    string // the longest piece of the last part without wildcards
}

func newIgnoreRule(line string, domain []string) ignoreRule {
	r := ignoreRule{Pattern: gitignore.ParsePattern(line, domain)}
	core := strings.TrimPrefix(line, "!")
	r.folders = strings.HasSuffix(core, "/")
	core = strings.TrimSuffix(core, "/")
	r.name = core[strings.LastIndexByte(core, '/')+1:]
	if rest, ok := strings.CutPrefix(r.name, "*"); ok {
		r.name, r.suffix = rest, true
	}
	r.any = strings.ContainsAny(r.name, `*?[\`)
	if r.any && !strings.ContainsAny(r.name, `[\`) {
		for _, part := range strings.FieldsFunc(strings.TrimSuffix(core[strings.LastIndexByte(core, '/')+1:], "/"), func(c rune) bool { return c == '*' || c == '?' }) {
			if len(part) > len(r.part) {
				r.part = part
			}
		}
	}
	return r
}

// below returns the rule for a root that lies deeper than its ignore file.
func (r ignoreRule) below(prefix []string) ignoreRule {
	r.Pattern = above{r.Pattern, prefix}
	r.any, r.part, r.folders = true, "", false
	return r
}

func (r *ignoreRule) may(base string, isDir bool) bool {
	switch {
	case r.folders && !isDir:
		return false
	case r.any:
		return r.part == "" || strings.Contains(base, r.part)
	case r.suffix:
		return strings.HasSuffix(base, r.name)
	}
	return base == r.name
}

// ignored asks the patterns about a path: the last one that matches decides.
func ignored(patterns []ignoreRule, parts []string, isDir bool) bool {
	base := ""
	if len(parts) > 0 {
		base = parts[len(parts)-1]
	}
	for i := len(patterns) - 1; i >= 0; i-- {
		if base != "" && !patterns[i].may(base, isDir) {
			continue
		}
		if m := patterns[i].Match(parts, isDir); m > gitignore.NoMatch {
			return m == gitignore.Exclude
		}
	}
	return false
}

// manifests are the files that make their folder a module.
var manifests = map[string]bool{
	"pyproject.toml": true, "setup.py": true, "setup.cfg": true, "pom.xml": true, "build.gradle": true, "build.gradle.kts": true, "package.json": true, "go.mod": true,
	"composer.json": true, "Gemfile": true, "Cargo.toml": true, "pubspec.yaml": true, "build.sbt": true, "Package.swift": true, "CMakeLists.txt": true, "build.xml": true,
}

func isManifest(name string) bool {
	if manifests[name] {
		return true
	}
	switch path.Ext(name) {
	case ".csproj", ".vbproj", ".fsproj", ".dpr", ".lpi", ".gemspec", ".psd1":
		return true
	}
	return false
}

// folder walks one folder, rel below the root.
func (w *walker) folder(rel string, patterns []ignoreRule, module string) error {
	if err := w.ctx.Err(); err != nil {
		return err
	}
	dir := path.Join(w.root, rel)
	list, err := os.ReadDir(dir)
	if err != nil {
		w.Diagnostics = append(w.Diagnostics, model.Diagnostic{File: dir, Text: "this folder cannot be read (" + reason(err) + "); what is in it is missing from the result"})
		if len(list) == 0 {
			return nil
		}
	}
	var parts []string
	if rel != "" {
		parts = strings.Split(rel, "/")
	}
	if _, found := slices.BinarySearchFunc(list, ".gitignore", func(e fs.DirEntry, name string) int { return strings.Compare(e.Name(), name) }); found {
		patterns = append(patterns[:len(patterns):len(patterns)], readIgnore(filepath.Join(dir, ".gitignore"), parts)...)
	}
	names := make(map[string]bool, 8)
	outer, packaged := w.unit, false
	defer func() { w.unit = outer }()
	for _, e := range list {
		packaged = packaged || e.Name() == "__init__.py"
		if !e.IsDir() && (isManifest(e.Name()) || strings.HasSuffix(e.Name(), ".sln") || e.Name() == "tsconfig.json") {
			names[e.Name()] = true
		}
	}
	w.unit = ""
	if packaged {
		w.unit = strings.TrimPrefix(outer+"."+path.Base(dir), ".")
	}
	if rel != "" {
		for n := range names {
			if isManifest(n) {
				module = w.moduleName(rel)
				break
			}
		}
	}
	beside := func(suffix string) bool {
		for n := range names {
			if strings.HasSuffix(n, suffix) {
				return true
			}
		}
		return false
	}
	var parallel []*walker
	var wait sync.WaitGroup
	errs := make(chan error, len(list))
	for _, e := range list {
		below := path.Join(rel, e.Name())
		if e.IsDir() && rel == "" { // the folders of the root are walked side by side
			sub := *w
			sub.Tree = &Tree{}
			parallel = append(parallel, &sub)
			wait.Add(1)
			go func() {
				defer wait.Done()
				if err := sub.subfolder(e.Name(), below, rel, []string{e.Name()}, patterns, module, beside); err != nil {
					errs <- err
				}
			}()
			continue
		}
		if e.IsDir() {
			if err := w.subfolder(e.Name(), below, rel, append(parts, e.Name()), patterns, module, beside); err != nil {
				return err
			}
			continue
		}
		if e.Type().IsRegular() {
			w.file(e, below, append(parts, e.Name()), patterns, module)
		}
	}
	wait.Wait()
	for _, sub := range parallel {
		w.Entries = append(w.Entries, sub.Entries...)
		w.Diagnostics = append(w.Diagnostics, sub.Diagnostics...)
		w.Left.add(sub.Left)
	}
	select {
	case err := <-errs:
		return err
	default:
		return nil
	}
}

func (w *walker) moduleName(rel string) string {
	if w.single {
		return rel
	}
	return path.Join(w.root, rel)
}

func (w *walker) subfolder(name, below, rel string, parts []string, patterns []ignoreRule, module string, beside func(string) bool) error {
	switch {
	case builtFolder(name, beside):
		w.Left.Built++
		return nil
	case vendoredFolder(below):
		w.Left.Vendored++
		return nil
	case ignored(patterns, parts, true):
		w.Left.Ignored++
		return nil
	case !w.Tests && testFolder(name, parts):
		w.Left.Tests++
		return nil
	case len(w.Skip) > 0 && globbed(w.Skip, below):
		return nil
	}
	if rel == "" {
		module = w.moduleName(below)
	}
	return w.folder(below, patterns, module)
}

func (w *walker) file(e fs.DirEntry, below string, parts []string, patterns []ignoreRule, module string) {
	spec := lang.ByPath(e.Name())
	if spec == nil && strings.Contains(e.Name(), ".") {
		return
	}
	if len(w.Only) > 0 && !globbed(w.Only, below) || len(w.Skip) > 0 && globbed(w.Skip, below) {
		return
	}
	if spec == nil {
		if info, err := e.Info(); err != nil || info.Mode()&0o111 == 0 {
			return // without an ending only what can be executed is a script
		}
	}
	test := isTest(below)
	switch {
	case ignored(patterns, parts, false):
		w.Left.Ignored++
		return
	case vendoredFile(below):
		w.Left.Vendored++
		return
	case generatedName(below):
		w.Left.Generated++
		return
	case test && !w.Tests:
		w.Left.Tests++
		return
	}
	full := path.Join(w.root, below)
	w.Entries = append(w.Entries, Entry{Path: full, Rel: below, Unit: unitName(w.unit, below), Module: module, Spec: spec, Test: test})
}

// unitName is the dotted name of a Python file: below its outermost package,
// or below the root where no folder is a package.
func unitName(pkg, rel string) string {
	if path.Ext(rel) != ".py" {
		return ""
	}
	stem := strings.TrimSuffix(path.Base(rel), ".py")
	if pkg == "" {
		pkg = strings.Trim(strings.ReplaceAll(strings.TrimPrefix(path.Dir(rel)+"/", "src/"), "/", "."), ".")
	}
	if stem == "__init__" {
		return pkg
	}
	return strings.Trim(pkg+"."+stem, ".")
}

// globbed tells whether a path, its name or a folder above it matches a glob.
func globbed(globs []string, rel string) bool {
	for _, g := range globs {
		g = strings.TrimSuffix(strings.TrimPrefix(g, "./"), "/")
		if ok, _ := doublestar.Match(g, rel); ok {
			return true
		}
		if ok, _ := doublestar.Match(g+"/**", rel); ok {
			return true
		}
		if !strings.Contains(g, "/") {
			if ok, _ := doublestar.Match(g, path.Base(rel)); ok {
				return true
			}
		}
	}
	return false
}

func reason(err error) string {
	switch {
	case errors.Is(err, fs.ErrPermission):
		return "permission denied"
	case errors.Is(err, fs.ErrNotExist):
		return "it is gone"
	}
	var pe *fs.PathError
	if errors.As(err, &pe) {
		return pe.Err.Error()
	}
	return err.Error()
}

// testFolder tells whether a folder holds test code by its name.
func testFolder(name string, parts []string) bool {
	switch strings.ToLower(name) {
	case "test", "tests", "__tests__", "__mocks__", "testing", "spec", "specs", "e2e", "unittests", "integrationtests", "testdata", "testutil", "testutils", "mocks", "fixtures", "src-test", "test-utils", "androidtest", "integtest", "unittest", "functionaltest", "ui-tests", "test_driver", "integration_test", "testfixtures":
		return true
	}
	return strings.HasSuffix(name, ".Tests") || strings.HasSuffix(name, ".Test") || strings.HasSuffix(name, "-tests") || strings.HasSuffix(name, "_tests") || strings.HasSuffix(name, ".UnitTests") || strings.HasSuffix(name, ".IntegrationTests")
}

// isTest tells whether a file, relative to its root, is test code.
func isTest(rel string) bool {
	base := path.Base(rel)
	stem, ext := strings.TrimSuffix(base, path.Ext(base)), path.Ext(base)
	switch ext {
	case ".go":
		return strings.HasSuffix(stem, "_test")
	case ".py":
		return strings.HasPrefix(base, "test_") || strings.HasSuffix(stem, "_test") || base == "conftest.py" || base == "tests.py"
	case ".rs":
		return stem == "tests" || stem == "test" || strings.HasSuffix(stem, "_test") || strings.HasSuffix(stem, "_tests")
	case ".rb":
		return strings.HasSuffix(stem, "_test") || strings.HasSuffix(stem, "_spec") || strings.HasPrefix(stem, "test_")
	case ".php":
		return strings.HasSuffix(stem, "Test") || strings.HasSuffix(stem, "TestCase")
	case ".dart":
		return strings.HasSuffix(stem, "_test")
	case ".swift", ".scala", ".groovy", ".m", ".mm":
		return strings.HasSuffix(stem, "Tests") || strings.HasSuffix(stem, "Test") || strings.HasSuffix(stem, "Spec") || strings.HasSuffix(stem, "Suite")
	case ".cpp", ".cc", ".c", ".cxx":
		return strings.HasSuffix(stem, "_test") || strings.HasSuffix(stem, "_unittest") || strings.HasPrefix(stem, "test_")
	case ".ps1":
		return strings.HasSuffix(stem, ".Tests")
	case ".bats":
		return true
	case ".java", ".cs", ".kt":
		return strings.HasSuffix(stem, "Test") || strings.HasSuffix(stem, "Tests") || strings.HasSuffix(stem, "IT") && len(stem) > 4 || strings.HasSuffix(stem, "TestCase")
	case ".js", ".ts", ".jsx", ".tsx", ".mjs", ".cjs":
		return strings.HasSuffix(stem, ".test") || strings.HasSuffix(stem, ".spec") || strings.HasSuffix(stem, "-test") || strings.HasSuffix(stem, "_test")
	}
	return false
}
