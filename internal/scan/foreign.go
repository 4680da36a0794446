package scan

import (
	"bytes"
	_ "embed"
	"path"
	"regexp"
	"strings"
	"sync"

	"reed/internal/lang"
)

//go:generate go run gen/main.go

//go:embed vendored.txt
var vendoredPatterns string

// kept are patterns of the library that Reed does not follow: folders of these
// names hold people's own code at least as often as copies.
var kept = map[string]bool{
	`(^|/)cache/`: true, `(^|/)env/`: true, `^deps/`: true, `(^|/)[Ee]xtern(als?)?/`: true,
	`(^|/)prototype(.*)\.js$`: true, `(^|/)effects\.js$`: true, `(^|/)controls\.js$`: true, `(^|/)react(-[^.]*)?\.js$`: true,
	`(^|/)angular([^.]*)\.js$`: true, `^[Dd]ependencies/`: true, `(^|/)Chart\.js$`: true, `(^|/)foundation(\..*)?\.js$`: true,
	`(^|/)dist/`:               true, // judged by its neighbours, as build output is
	`(^|/)cordova([^.]*)\.js$`: true, `(^|/)fabfile\.py$`: true, `(^|/)inst/extdata/`: true,
}

type vendoredTable struct {
	folders []pattern // end with a slash, are asked with a folder
	files   []pattern
	scripts []pattern // only about files of script languages

	folderStarts, fileStarts, scriptStarts *starts
}

// pattern is a regular expression with a literal that its matches contain:
// a plain search turns nearly every path away.
type pattern struct {
	literal string
	base    bool // the literal stands in the last part of the path
	re      *regexp.Regexp
}

var vendored = sync.OnceValue(func() vendoredTable {
	var t vendoredTable
	for _, line := range strings.Fields(vendoredPatterns) {
		if kept[line] {
			continue
		}
		p := pattern{literal: longestLiteral(line), re: regexp.MustCompile(line)}
		p.base = strings.HasSuffix(line, "$") && strings.Count(strings.TrimPrefix(line, "(^|/)"), "/") == strings.Count(line, "[^/")
		switch {
		case strings.HasSuffix(line, "/"):
			t.folders = append(t.folders, p)
		case strings.Contains(line, "css") && !strings.Contains(line, "js"): // Reed does not read these
		case strings.Contains(line, "js") || strings.Contains(line, "css"):
			t.scripts = append(t.scripts, p)
		default:
			t.files = append(t.files, p)
		}
	}
	t.folderStarts, t.fileStarts, t.scriptStarts = startsOf(t.folders), startsOf(t.files), startsOf(t.scripts)
	return t
})

// longestLiteral returns the longest run of plain characters in a regular
// expression of the kind that the table holds.
func longestLiteral(re string) string {
	best, run := "", ""
	flush := func() {
		if len(run) > len(best) {
			best = run
		}
		run = ""
	}
	depth := 0
	for i := 0; i < len(re); i++ {
		c := re[i]
		switch {
		case c == '(':
			flush()
			depth++
		case c == ')':
			flush()
			depth--
		case c == '[':
			flush()
			if end := strings.IndexByte(re[i:], ']'); end > 0 {
				i += end
			}
		case depth > 0:
		case c == '\\' && i+1 < len(re) && strings.IndexByte(`.-/`, re[i+1]) >= 0:
			run += string(re[i+1])
			i++
		case c == '?' || c == '*' || c == '{':
			if len(run) > 0 {
				run = run[:len(run)-1]
			}
			flush()
		case strings.IndexByte(`\.^$+|}`, c) >= 0:
			flush()
		default:
			run += string(c)
		}
	}
	flush()
	return best
}

// starts are the first three bytes of the literals of patterns, hashed: a path
// without any of them matches nothing.
type starts [1 << 12]bool

func startOf(s string) int { return (int(s[0])*131 + int(s[1])*17 + int(s[2])) & (1<<12 - 1) }

func startsOf(list []pattern) *starts {
	t := &starts{}
	for _, p := range list {
		if len(p.literal) < 3 { // it may be anywhere
			for i := range t {
				t[i] = true
			}
			return t
		}
		t[startOf(p.literal)] = true
	}
	return t
}

func (t *starts) in(p string) bool {
	for i := 0; i+3 <= len(p); i++ {
		if t[startOf(p[i:])] {
			return true
		}
	}
	return false
}

func matches(list []pattern, t *starts, p string) bool {
	if !t.in(p) {
		return false
	}
	base := p[strings.LastIndexByte(p, '/')+1:]
	for _, m := range list {
		if m.base && !strings.Contains(base, m.literal) {
			continue
		}
		if strings.Contains(p, m.literal) && m.re.MatchString(p) {
			return true
		}
	}
	return false
}

// vendoredFolder tells whether a folder, relative to the root, holds copies of
// other people's code.
func vendoredFolder(rel string) bool {
	return matches(vendored().folders, vendored().folderStarts, rel+"/")
}

// vendoredFile tells whether a file, relative to the root, is such a copy; its
// folders are known not to be.
func vendoredFile(rel string) bool {
	t := vendored()
	return matches(t.files, t.fileStarts, rel) || (strings.Contains(path.Ext(rel), "s") && matches(t.scripts, t.scriptStarts, rel))
}

// outputFolders are folders that a build writes, with the neighbours that say
// so.
var outputFolders = map[string][]string{
	"target":      {"pom.xml", "Cargo.toml", "build.sbt"},
	"build":       {"build.gradle", "build.gradle.kts", "setup.py", "pyproject.toml", "CMakeLists.txt", "package.json"},
	"dist":        {"package.json", "setup.py", "pyproject.toml", "tsconfig.json"},
	"out":         {"tsconfig.json", "package.json", "build.gradle"},
	"bin":         {".csproj", ".sln", ".vbproj", ".fsproj"},
	"obj":         {".csproj", ".sln", ".vbproj", ".fsproj"},
	"__pycache__": {""}, ".git": {""}, ".hg": {""}, ".svn": {""}, ".tox": {""}, ".venv": {""}, "venv": {""}, ".mypy_cache": {""},
	".next": {""}, ".nuxt": {""}, ".gradle": {""}, ".eggs": {""}, ".idea": {""}, "htmlcov": {""}, "coverage": {"package.json"},
}

// builtFolder tells whether a folder holds build output, from its name and
// the names beside it.
func builtFolder(name string, beside func(suffix string) bool) bool {
	for _, n := range outputFolders[name] {
		if n == "" || beside(n) {
			return true
		}
	}
	return false
}

// generatedNames are ends of names that generators give.
var generatedNames = []string{
	"_pb2.py", "_pb2_grpc.py", ".pb.go", ".g.cs", ".g.i.cs", ".designer.cs", ".Designer.cs", ".min.js", "-min.js", ".bundle.js", ".chunk.js",
	"_string.go", ".gen.go", "_generated.go", "_pb.js", ".generated.cs", "AssemblyInfo.cs", ".generated.ts", "OuterClass.java",
}

func generatedName(p string) bool {
	base := path.Base(p)
	if ext := path.Ext(base); (ext == ".js" || ext == ".mjs") && hashedName(base) {
		return true
	}
	for _, s := range generatedNames {
		if strings.HasSuffix(base, s) {
			return true
		}
	}
	return strings.HasPrefix(base, "zz_generated")
}

// hashedName tells whether a script's name ends in the hash that bundlers give
// to what they write: index-C8qwgKWF.mjs.
func hashedName(base string) bool {
	stem := strings.TrimSuffix(base, path.Ext(base))
	at := strings.LastIndexAny(stem, "-.")
	if at < 1 || len(stem)-at-1 < 8 || len(stem)-at-1 > 20 {
		return false
	}
	upper, lower, digit := 0, 0, 0
	for _, c := range []byte(stem[at+1:]) {
		switch {
		case c >= 'A' && c <= 'Z':
			upper++
		case c >= 'a' && c <= 'z':
			lower++
		case c >= '0' && c <= '9':
			digit++
		case c != '_':
			return false
		}
	}
	return digit > 0 && lower > 0 && (upper > 0 || upper == 0 && digit > 1 && isHex(stem[at+1:]))
}

func isHex(s string) bool { return strings.Trim(s, "0123456789abcdef") == "" }

// mangled tells whether the names in a script were shortened by a program, as
// bundlers do even where they keep the line breaks: most of what is assigned
// or declared has a name of one or two letters.
func mangled(text []byte) bool {
	const window = 32 << 10
	if len(text) < 2*window {
		return false
	}
	short, all := 0, 0
	for _, at := range []int{len(text) / 4, len(text) / 2, len(text)*3/4 - window} {
		part := text[at : at+window]
		for i := 0; i < len(part); {
			n := bytes.IndexByte(part[i:], '=')
			if n < 0 {
				break
			}
			i += n
			if i > 1 && i+1 < len(part) && part[i+1] != '=' && part[i+1] != '>' && part[i-1] == ' ' {
				j := i - 1
				for j > 0 && nameByte(part[j-1]) {
					j--
				}
				if j < i-1 && j > 0 && part[j-1] != '.' {
					all++
					if i-1-j <= 2 {
						short++
					}
				}
			}
			i++
		}
	}
	return all >= 40 && short*10 > all*6
}

func nameByte(c byte) bool {
	return c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= '0' && c <= '9' || c == '_' || c == '$'
}

// copied tells whether a script of a name that the table of copies knows and
// Reed doubts, such as prototype.js, says in its head that it is a release.
func copied(base string, text []byte) bool {
	doubted := false
	for _, stem := range []string{"prototype", "effects", "controls", "react", "angular", "Chart", "foundation", "cordova"} {
		doubted = doubted || strings.HasPrefix(base, stem)
	}
	if !doubted {
		return false
	}
	head := bytes.ToLower(text[:min(len(text), 600)])
	return bytes.Contains(head, []byte("version")) && (bytes.Contains(head, []byte("(c)")) || bytes.Contains(head, []byte("license")))
}

var generatedMarks = [][]byte{
	[]byte("DO NOT EDIT"), []byte("Do not edit"), []byte("do not edit"), []byte("DO NOT MODIFY"), []byte("@generated"), []byte("<auto-generated"), []byte("<autogenerated"),
	[]byte("Autogenerated by Thrift"), []byte("Generated by the protocol buffer compiler"), []byte("Generated By:JavaCC"), []byte("Generated from "),
}

// generatedText tells whether the head of a file says that a program wrote it.
func generatedText(text []byte) bool {
	head := text[:min(len(text), 2048)]
	for _, m := range generatedMarks {
		at := bytes.Index(head, m)
		if at < 0 {
			continue
		}
		if m[0] == '@' || m[0] == '<' || m[0] == 'A' || m[0] == 'G' {
			return true
		}
		around := bytes.ToLower(head[max(0, at-200):min(len(head), at+100)])
		if bytes.Contains(around, []byte("generated")) {
			return true
		}
	}
	return false
}

// minified tells whether text of a script language was squeezed: its lines
// are longer than 110 bytes on average, or half of it stands in lines of more
// than 400 bytes.
func minified(text []byte) bool {
	if len(text) < 512 {
		return false
	}
	lines, inLong := 1, 0
	for at := 0; at < len(text); {
		n := bytes.IndexByte(text[at:], '\n')
		if n < 0 {
			n = len(text) - at
		}
		if n > 400 {
			inLong += n
		}
		lines++
		at += n + 1
	}
	return len(text)/lines > 110 || inLong > len(text)/2
}

// foreignText tells whether a file only shares its ending with a language:
// translations and manifests of other tools.
func foreignText(spec *lang.Spec, rel string, text []byte) bool {
	head := bytes.TrimLeft(text[:min(len(text), 4096)], " \t\r\n")
	switch path.Ext(rel) {
	case ".ts":
		return bytes.HasPrefix(head, []byte("<"))
	case ".pp":
		low := bytes.ToLower(head)
		return !bytes.Contains(low, []byte("unit")) && !bytes.Contains(low, []byte("program")) && !bytes.Contains(low, []byte("begin")) && !bytes.Contains(low, []byte("{$"))
	case ".m": // also MATLAB's
		return bytes.HasPrefix(head, []byte("%")) || bytes.HasPrefix(head, []byte("function ")) || bytes.HasPrefix(head, []byte("classdef"))
	case ".inc":
		return spec.Name == "php" && !bytes.Contains(head, []byte("<?"))
	}
	return false
}
