package outline

import (
	"reed/internal/lang"
	"reed/internal/lex"
)

// Imports whose paths are names with separators.

// pathImport reads the imports of these languages into dotted or scoped paths.
func (p *parser) pathImport(i, end int32) int32 {
	j := i + 1
	if p.role(j) == lang.Func || p.role(j) == lang.Const || p.role(j) == lang.Class || p.role(j) == lang.TypeDecl { // use function, import class
		j++
	}
	at := j
	prefix := ""
	for j < end {
		switch k := p.kind(j); {
		case k == lex.String && j == at: // import 'package:a/b.dart' as c;
			local := ""
			path := p.unquote(j)
			for j++; j < end && p.kind(j) != ';'; j++ {
				if p.is(j, "as") {
					local = string(p.text(j + 1))
				}
			}
			p.addImport(path, local, at)
			return j + 1
		case k == lex.Ident || k.IsKeyword() && k.Role() != lang.Import || k == '.' || k == lex.Scope || k == '_' || k == '*':
			if p.fresh(j) && j > at && p.f.Has(lang.NewlineEnds) && k != '.' && p.kind(j-1) != '.' {
				p.endImport(prefix, at)
				return j
			}
			if p.is(j, "as") && j > at {
				p.addImport(prefix, string(p.text(j+1)), at)
				prefix = ""
				j += 2
				continue
			}
			prefix += string(p.text(j))
			j++
		case k == '\\':
			j++
		case k == '{':
			inner, after := p.inside(j, end)
			p.importGroup(prefix, j+1, inner)
			return after
		case k == ',':
			p.endImport(prefix, at)
			prefix, at = "", j+1
			j++
		case k == lex.Arrow: // a => b
			p.endImport(prefix, at)
			return j
		default:
			p.endImport(prefix, at)
			if k == ';' {
				j++
			}
			return max(j, i+1)
		}
	}
	p.endImport(prefix, at)
	return j
}

func (p *parser) endImport(path string, at int32) {
	if path == "" {
		return
	}
	for len(path) > 1 && (path[len(path)-1] == '*' || path[len(path)-1] == '_' || path[len(path)-1] == '.' || path[len(path)-1] == ':') {
		path = path[:len(path)-1]
	}
	local := path
	for k := len(path) - 1; k >= 0; k-- {
		if c := path[k]; c == '.' || c == ':' || c == '\\' {
			local = path[k+1:]
			break
		}
	}
	p.addImport(path, local, at)
}

// importGroup reads the names in the braces of an import.
func (p *parser) importGroup(prefix string, j, end int32) {
	for j < end {
		from := j
		path := prefix
		for j < end && p.kind(j) != ',' {
			if p.kind(j) == '{' {
				inner, after := p.inside(j, end)
				if p.depth < 50 {
					p.depth++
					p.importGroup(path, j+1, inner)
					p.depth--
				}
				path = ""
				j = after
				continue
			}
			if p.is(j, "as") || p.kind(j) == lex.Arrow {
				p.addImport(path, string(p.text(j+1)), from)
				path = ""
				j += 2
				continue
			}
			if p.role(j) == lang.Self && p.kind(j+1) != lex.Scope { // log::{self, Level}
				path = trimScope(path)
			} else {
				path += string(p.text(j))
			}
			j++
		}
		p.endImport(path, from)
		j++
	}
}

func trimScope(path string) string {
	for len(path) > 0 && (path[len(path)-1] == ':' || path[len(path)-1] == '.') {
		path = path[:len(path)-1]
	}
	return path
}
