package calls

import (
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"runtime"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"reed/internal/catalog"
	"reed/internal/lang"
	"reed/internal/outline"
	"reed/internal/source"
)

// goTruth finds with go/parser what Reed is to find: calls of the catalog's
// methods on the imports of log, log/slog and fmt.
type goTruth struct {
	fset  *token.FileSet
	local map[string]map[string]bool // import name to its methods
	found map[string]string          // "line:column" to "function loop failure"
	fn    string
	loop  int
	fail  int
}

func (g *goTruth) node(n ast.Node) {
	switch n := n.(type) {
	case nil:
		return
	case *ast.FuncDecl:
		saved := *g
		g.fn, g.loop, g.fail = n.Name.Name, 0, 0
		g.children(n)
		g.fn, g.loop, g.fail = saved.fn, saved.loop, saved.fail
		return
	case *ast.GenDecl:
		for _, spec := range n.Specs {
			v, ok := spec.(*ast.ValueSpec)
			if !ok {
				continue
			}
			for i, value := range v.Values {
				saved := g.fn
				if _, lit := value.(*ast.FuncLit); lit && g.fn == "" && i < len(v.Names) {
					g.fn = v.Names[i].Name
				}
				g.node(value)
				g.fn = saved
			}
		}
		return
	case *ast.ForStmt:
		g.visit(n.Init, n.Cond, n.Post)
		g.loop++
		g.node(n.Body)
		g.loop--
		return
	case *ast.RangeStmt:
		g.visit(n.X)
		g.loop++
		g.node(n.Body)
		g.loop--
		return
	case *ast.IfStmt:
		g.visit(n.Init, n.Cond)
		failed, succeeded := g.condition(n.Cond, n.Init)
		g.within(failed, n.Body)
		if n.Else != nil {
			g.within(succeeded && !failed, n.Else)
		}
		return
	case *ast.CaseClause:
		failed := false
		for _, e := range n.List {
			g.node(e)
			f, _ := g.condition(e, nil)
			failed = failed || f
		}
		for _, s := range n.Body {
			g.within(failed, s)
		}
		return
	case *ast.CallExpr:
		g.call(n)
	}
	g.children(n)
}

func (g *goTruth) visit(nodes ...ast.Node) {
	for _, n := range nodes {
		g.node(n)
	}
}

func (g *goTruth) within(failed bool, n ast.Node) {
	if failed {
		g.fail++
	}
	g.node(n)
	if failed {
		g.fail--
	}
}

func (g *goTruth) children(n ast.Node) {
	first := true
	ast.Inspect(n, func(c ast.Node) bool {
		if first {
			first = false
			return true
		}
		if c != nil {
			g.node(c)
		}
		return false
	})
}

// condition reads error tests: x != nil, errors.Is(x, …), x == nil.
func (g *goTruth) condition(e ast.Expr, init ast.Stmt) (failed, succeeded bool) {
	negated := map[ast.Node]bool{}
	ast.Inspect(e, func(n ast.Node) bool {
		switch n := n.(type) {
		case *ast.FuncLit:
			return false
		case *ast.UnaryExpr:
			if n.Op == token.NOT {
				negated[n.X] = true
			}
		case *ast.CallExpr:
			if s, ok := n.Fun.(*ast.SelectorExpr); ok && !negated[n] && len(n.Args) > 0 && fmt.Sprint(s.X) == "errors" && (s.Sel.Name == "Is" || s.Sel.Name == "As") {
				if id, ok := n.Args[0].(*ast.Ident); ok && outline.IsErrorName(id.Name) {
					failed = true
				}
			}
		case *ast.BinaryExpr:
			right, ok := n.Y.(*ast.Ident)
			if !ok || right.Name != "nil" || n.Op != token.NEQ && n.Op != token.EQL {
				return true
			}
			name := ""
			switch left := n.X.(type) {
			case *ast.Ident:
				name = left.Name
			case *ast.SelectorExpr:
				name = left.Sel.Name
			}
			_, simple := n.X.(*ast.Ident)
			if name == "" || !outline.IsErrorName(name) && !(n.Op == token.NEQ && recovers(init)) || name == "e" && !(simple && assigns(init, "e")) {
				return true
			}
			if n.Op == token.NEQ {
				failed = true
			} else {
				succeeded = true
			}
		}
		return true
	})
	return failed, succeeded && !failed
}

func recovers(init ast.Stmt) bool {
	a, ok := init.(*ast.AssignStmt)
	if !ok || len(a.Rhs) != 1 {
		return false
	}
	c, ok := a.Rhs[0].(*ast.CallExpr)
	return ok && fmt.Sprint(c.Fun) == "recover"
}

func assigns(init ast.Stmt, name string) bool {
	a, ok := init.(*ast.AssignStmt)
	return ok && fmt.Sprint(a.Lhs[len(a.Lhs)-1]) == name
}

func (g *goTruth) call(n *ast.CallExpr) {
	fun := n.Fun
	if ix, ok := fun.(*ast.IndexExpr); ok {
		fun = ix.X
	}
	s, ok := fun.(*ast.SelectorExpr)
	if !ok {
		return
	}
	id, ok := s.X.(*ast.Ident)
	if !ok || id.Obj != nil || !g.local[id.Name][s.Sel.Name] {
		return
	}
	p := g.fset.Position(n.Pos())
	g.found[fmt.Sprintf("%d:%d", p.Line, p.Column)] = fmt.Sprintf("%s loop=%t fail=%t", g.fn, g.loop > 0, g.fail > 0)
}

func goFile(t *testing.T, path string, src []byte, packages map[string]map[string]bool) map[string]string {
	t.Helper()
	g := &goTruth{fset: token.NewFileSet(), local: map[string]map[string]bool{}, found: map[string]string{}}
	file, err := parser.ParseFile(g.fset, path, src, 0)
	if err != nil {
		return nil
	}
	for _, imp := range file.Imports {
		p, _ := strconv.Unquote(imp.Path.Value)
		if methods := packages[p]; methods != nil {
			name := p[strings.LastIndexByte(p, '/')+1:]
			if imp.Name != nil {
				name = imp.Name.Name
			}
			g.local[name] = methods
		}
	}
	for _, d := range file.Decls {
		g.node(d)
	}
	return g.found
}

// TestGoAgreesWithItsParser compares Reed with go/parser over the whole
// standard library.
func TestGoAgreesWithItsParser(t *testing.T) {
	root := filepath.Join(runtime.GOROOT(), "src")
	if _, err := os.Stat(root); err != nil {
		t.Skip("the Go sources are not installed: ", root)
	}
	cat, err := catalog.For("go")
	require.NoError(t, err)
	packages := map[string]map[string]bool{}
	for i := range cat.Libraries {
		lib := &cat.Libraries[i]
		if lib.Name != "log" && lib.Name != "slog" && lib.Name != "fmt" {
			continue
		}
		methods := map[string]bool{}
		for _, m := range lib.Methods {
			for name := range m.Levels {
				methods[name] = true
			}
			for _, name := range m.Names {
				methods[name] = true
			}
		}
		for _, p := range lib.Imports {
			packages[p] = methods
		}
	}
	f := &File{Spec: &lang.Go, Cat: cat, Src: &source.File{}}
	total, missed, falseCalls, wrong, files := 0, 0, 0, 0, 0
	var samples []string
	sample := func(format string, args ...any) {
		if len(samples) < 25 {
			samples = append(samples, fmt.Sprintf(format, args...))
		}
	}
	err = filepath.WalkDir(root, func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() && d.Name() == "testdata" {
			return filepath.SkipDir
		}
		if d.IsDir() || filepath.Ext(path) != ".go" {
			return nil
		}
		src, err := os.ReadFile(path)
		if err != nil {
			return nil
		}
		truth := goFile(t, path, src, packages)
		if truth == nil {
			return nil
		}
		files++
		f.Src.Reset(path, src)
		f.Read()
		got := map[string]string{}
		for i := range f.Sites {
			if s := &f.Sites[i]; s.Library == "log" || s.Library == "slog" || s.Library == "fmt" {
				got[fmt.Sprintf("%d:%d", s.Line, s.Column)] = fmt.Sprintf("%s loop=%t fail=%t", s.Function, s.Loop, s.FailurePath)
			}
		}
		for at, want := range truth {
			total++
			switch have, ok := got[at]; {
			case !ok:
				missed++
				sample("missed %s:%s", path, at)
			case have != want:
				wrong++
				sample("%s:%s is %s, not %s", path, at, want, have)
			}
		}
		for i := range f.Sites {
			s := &f.Sites[i]
			at := fmt.Sprintf("%d:%d", s.Line, s.Column)
			if _, real := truth[at]; !real && got[at] != "" && !strings.Contains(s.Receiver, ".") && f.bindings[s.Receiver] == nil && len(f.modules[s.Receiver]) > 0 {
				falseCalls++
				sample("false call %s:%s %s.%s", path, at, s.Receiver, s.Method)
			}
		}
		return nil
	})
	require.NoError(t, err)
	t.Logf("%d files, %d calls: %d missed, %d false, %d with another function, loop or failure path", files, total, missed, falseCalls, wrong)
	for _, s := range samples {
		t.Log(s)
	}
	require.Positive(t, total)
	assert.LessOrEqual(t, float64(missed)/float64(total), 0.005, "missed")
	assert.LessOrEqual(t, float64(falseCalls)/float64(total), 0.005, "false")
	assert.LessOrEqual(t, float64(wrong)/float64(total), 0.005, "described otherwise")
}
