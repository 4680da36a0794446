package outline

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"reed/internal/lang"
	"reed/internal/lex"
)

// build outlines src; every call of a function named with "log" or "print" is
// of interest, enabled() is a level test.
func build(language, src string) (*Outline, *lex.Result) {
	var res lex.Result
	var out Outline
	spec := lang.ByName(language)
	if language == "tsx" {
		spec = &lang.TSX
	}
	lex.Scan(lex.TableFor(spec), []byte(src), &res)
	Build(spec, []byte(src), &res, Names{
		Candidate: func(n []byte) bool { return strings.HasPrefix(string(n), "log") || string(n) == "print" },
		LevelTest: func(n []byte) bool { return string(n) == "enabled" },
	}, &out)
	return &out, &res
}

// where describes the scopes around each call, innermost first.
func where(language, src string) []string {
	o, res := build(language, src)
	text := func(i int32) string { return string(src[res.Tokens[i].Start:res.Tokens[i].End]) }
	var got []string
	for _, c := range o.Calls {
		var parts []string
		for at := c.Scope; at > 0; at = o.Scopes[at].Parent {
			s := o.Scopes[at]
			name := ""
			if s.Name >= 0 {
				name = ":" + text(s.Name)
			}
			switch s.Kind {
			case Type:
				parts = append(parts, "type"+name)
			case Func:
				parts = append(parts, "func"+name)
			case Lambda:
				parts = append(parts, "lambda")
			case Loop:
				parts = append(parts, "loop")
			case Failure:
				parts = append(parts, "fail"+name)
			case Guard:
				parts = append(parts, "guard")
			}
		}
		arg := ""
		if c.Open >= 0 && res.Tokens[c.Open+1].Kind != ')' {
			arg = text(c.Open + 1)
		}
		got = append(got, fmt.Sprintf("%s %s", arg, strings.Join(parts, " ")))
	}
	return got
}

func TestScopes(t *testing.T) {
	for _, row := range []struct {
		name, language, src string
		want                []string
	}{
		{"python nesting", "python", `
class Gauge(Base):
    def read(self, log=None):
        for s in self.series:
            if log.enabled(10): log(1); log(2)
            try:
                log(3)
            except (OSError, ValueError) as e:
                log(4)
            else: log(5)
        log(6)
    async def poll(self):
        async with x as y:
            f = lambda v: log(7)
            log(
                8)
    while True: log(9)
log(10) if x else log(11)
[log(12) for x in y]
`, []string{
			"1 guard loop func:read type:Gauge", "2 guard loop func:read type:Gauge", "3 loop func:read type:Gauge", "4 fail:e loop func:read type:Gauge", "5 loop func:read type:Gauge", "6 func:read type:Gauge",
			"7 lambda func:poll type:Gauge", "8 func:poll type:Gauge", "9 loop type:Gauge", "10 ", "11 ", "12 "}},
		{"java", "java", `package a.b;
import org.x.Log; import static a.C.*;
@Foo(bar = 1) public class Siren<T extends Comparable<T>> extends Base implements Runnable {
  static { log(1); }
  private final Runnable r = () -> { log(2); };
  int a = log(3), b = log(4);
  Siren(int x) { this(log(5)); }
  @Override public <E> List<E> sound(Map<String, E> m) throws IOException, Other {
    for (int i = 0; i < 3; i++) log(6);
    try (In in = open(log(7))) { log(8); } catch (A | B e) { if (x) log(9); else log(10); } finally { log(11); }
    new Thread(new Runnable() { public void run() { log(12); } }).start();
    list.forEach(s -> log(13));
    fut.exceptionally(ex -> { log(14); return null; });
    switch (x) { case 1: log(15); break; default: log(16); }
    int y = switch (z) { case A -> log(17); default -> { log(18); } };
    if (l.enabled()) { log(19); }
    do log(20); while (log(21));
    while (true) { log(22); }
    synchronized (this) { log(23); }
    return Collections.<E>emptyList();
  }
  enum Kind { A(log(24)) { void f() { log(25); } }, B; void g() { log(26); } }
  interface Sink { void log(String s); default void h() { log(27); } }
  record P(int x) { P { log(28); } }
}`, []string{
			"1 func type:Siren", "2 func:r type:Siren", "3 type:Siren", "4 type:Siren", "5 func:Siren type:Siren", "6 loop func:sound type:Siren", "7 func:sound type:Siren", "8 func:sound type:Siren",
			"9 fail:e func:sound type:Siren", "10 fail:e func:sound type:Siren", "11 func:sound type:Siren", "12 func:run type func:sound type:Siren", "13 loop func:sound type:Siren",
			"14 fail:ex func:sound type:Siren", "15 func:sound type:Siren", "16 func:sound type:Siren", "17 func:sound type:Siren", "18 func:sound type:Siren", "19 guard func:sound type:Siren",
			"20 loop func:sound type:Siren", "21 func:sound type:Siren", "22 loop func:sound type:Siren", "23 func:sound type:Siren", "24 type:Kind type:Siren", "25 func:f type type:Kind type:Siren",
			"26 func:g type:Kind type:Siren", "27 func:h type:Sink type:Siren", "28 func:P type:P type:Siren"}},
		{"csharp", "csharp", `using System; using L = A.B.Log;
namespace Otter.Map;
[Attr(1)] public sealed class Layer : Base, IFoo {
  public int Height { get { log(1); return 1; } set => log(2); } = log(3);
  public string Name => log(4);
  private readonly Action a = () => log(5);
  public Layer(int x) : base(log(6)) { log(7); }
  public static async Task<List<int>> RunAsync<T>(T x, (int, string) p = default) where T : class, new() {
    foreach (var v in items) { log(8); }
    try { log(9); } catch (IOException ex) when (ex.X > 1) { log(10); } catch (Foo) { log(11); } catch { log(12); }
    using (var s = log(13)) log(14);
    lock (x) { log(15); }
    int Local(int q) { return log(16); }
    var y = x switch { 1 => log(17), _ => log(18) };
    items.ForEach(i => { log(19); });
    Foo(delegate (int z) { log(20); });
    var o = new Foo { A = log(21) };
    await Task.Run(async () => { log(22); });
    switch (x) { case int n when n > 1: log(23); break; }
  }
  (int a, string b) Pair(int x) => log(24);
  event EventHandler E { add { log(25); } }
  public int this[int i] { get { log(26); } }
  public static Layer operator +(Layer a, Layer b) { log(27); }
  record struct P(int X) { int F() => log(28); }
}`, []string{
			"1 func:Height type:Layer", "2 func:Height type:Layer", "3 type:Layer", "4 func:Name type:Layer", "5 func:a type:Layer", "6 type:Layer", "7 func:Layer type:Layer", "8 loop func:RunAsync type:Layer",
			"9 func:RunAsync type:Layer", "10 fail:ex func:RunAsync type:Layer", "11 fail func:RunAsync type:Layer", "12 fail func:RunAsync type:Layer", "13 func:RunAsync type:Layer", "14 func:RunAsync type:Layer", "15 func:RunAsync type:Layer",
			"16 func:Local func:RunAsync type:Layer", "17 func:RunAsync type:Layer", "18 lambda func:RunAsync type:Layer", "19 loop func:RunAsync type:Layer", "20 lambda func:RunAsync type:Layer", "21 func:RunAsync type:Layer",
			"22 lambda func:RunAsync type:Layer", "23 func:RunAsync type:Layer", "24 func:Pair type:Layer", "25 func:E type:Layer", "26 func:this type:Layer", "27 func:operator type:Layer", "28 func:F type:P type:Layer"}},
		{"javascript", "javascript", `import a, {b as c} from "m"
const f = async (x) => { log(1) }
function g(cb) { log(2)
  if (err) return log(3)
  else log(4)
  p.then(r => log(5), e => log(6)).catch(e => { log(7) })
  items.forEach(function (i) { log(8) })
  s.on('error', (e) => log(9))
}
class W extends Base(10) {
  static x = () => { log(11) }
  #p() { log(12) }
  get h() { log(13) }
  async *[Symbol.iterator]() { log(14) }
  constructor() { super(); log(15) }
  static { log(16) }
}
module.exports = { m() { log(17) }, n: function () { log(18) }, async o(a) { log(19) }, 'q-r': () => log(20) }
Foo.prototype.bar = function () { log(21) }
const el = <A onClick={() => log(22)}>{log(23)}</A>
for (const k of log(24)) log(25)
a
log(26)
const b2 = cond
  ? log(27)
  : log(28)
client.request({ url, error: (e) => { log(29) } })
if (!err) { log(30) } else { log(31) }
`, []string{
			"1 func:f", "2 func:g", "3 fail:err func:g", "4 func:g", "5 lambda func:g", "6 fail:e func:g", "7 fail:e func:g", "8 loop func:g", "9 fail:e func:g", "11 func:x type:W", "12 func:#p type:W", "13 func:h type:W",
			"14 func:Symbol type:W", "15 func:constructor type:W", "16 func type:W", "17 func:m", "18 func:n", "19 func:o", "20 func:'q-r'", "21 func:bar", "22 lambda", "23 ", "24 ", "25 loop", "26 ", "27 ", "28 ",
			"29 fail:e func:error", "30 ", "31 fail:err"}},
		{"typescript", "typescript", `
export abstract class Map<T> implements I<T> {
  private readonly log: Logger = log(1)
  handler: (a: number) => void = (a) => { log(2) }
  constructor(private readonly x: string, y = log(3)) { log(4) }
  async load<K extends keyof T>(k: K): Promise<{ a: string }> { log(5) }
  abstract foo(log: string): void
  over(a: string): void; over(a: any) { log(6) }
}
interface L { log(m: string): void }
const f = (x: number): Promise<void> => { log(7) }
function assertIt(x: unknown): x is { a: 1 } { log(8) }
namespace N { export function g() { log(9) } }
const q = a ? (b) : c
type F = (log: string) => { log(x: string): void }
export default async function () { log(10) }
`, []string{"1 type:Map", "2 func:handler type:Map", "3 type:Map", "4 func:constructor type:Map", "5 func:load type:Map", "6 func:over type:Map", "7 func:f", "8 func:assertIt", "9 func:g", "10 lambda"}},
		{"go", "go", `package gauge
import ( "fmt"; l "log" )
type R struct { a int; f func() error }
type I interface { log(string) }
func (r *R) Read(x int) (n int, err error) {
	if err := open(log(1)); err != nil { log(2) } else if x == 1 { log(3) } else { log(4) }
	for _, v := range []int{1, 2} { log(5) }
	for { log(6) }
	go func() { defer func() { if r := recover(); r != nil { log(7) } }() }()
	switch { case err != nil: log(8); case x > 1: log(9) }
	select { case <-ch: log(10) }
	if err == nil { log(11) } else { log(12) }
	if v, ok := m[k]; ok { log(13) }
	if x := (T{}); x.ok() { log(14) }
	return log(15)
}
var h = func() { log(16) }
func gen[T any](v T) interface{ log() } { log[int](17) }
func asm(x int) int
func last() { f := func(err error) { log(18) }; if err != nil || errors.Is(err, x) { log(19) }; if enabled() { log(20) } }
`, []string{
			"1 func:Read", "2 fail:err func:Read", "3 func:Read", "4 func:Read", "5 loop func:Read", "6 loop func:Read", "7 fail:r lambda lambda func:Read", "8 fail:err func:Read", "9 func:Read", "10 func:Read",
			"11 func:Read", "12 fail:err func:Read", "13 func:Read", "14 func:Read", "15 func:Read", "16 func:h", "17 func:gen", "18 lambda func:last", "19 fail:err func:last", "20 guard func:last"}},
	} {
		t.Run(row.name, func(t *testing.T) { assert.Equal(t, row.want, where(row.language, row.src)) })
	}
}

func TestImports(t *testing.T) {
	for _, row := range []struct{ language, src, want string }{
		{"python", "import logging.handlers as h, os\nfrom . import a as b\nfrom x.y import (c,\n d)\n", "logging.handlers=h os=os .#a=b x.y#c=c x.y#d=d"},
		{"java", "import org.x.Log; import static a.C.d; import a.b.*;", "org.x.Log=Log a.C.d=d a.b="},
		{"csharp", "using System.IO; using L = A.B; using static C.D;", "System.IO=IO A.B=L C.D=D"},
		{"javascript", "import a, {b as c} from 'm'; import * as n from \"o\"; import 'p';", "m=a m#b=c o=n p="},
		{"typescript", "import type { T } from 'm'; import x = require('y');", "m#T=T y=x"},
		{"go", "package p\nimport (\n \"log/slog\"\n z \"go.uber.org/zap\"\n \"github.com/go-kit/log/v2\"\n)\nimport \"fmt\"", "log/slog=slog go.uber.org/zap=z github.com/go-kit/log/v2=log fmt=fmt"},
	} {
		o, _ := build(row.language, row.src)
		var got []string
		for _, i := range o.Imports {
			got = append(got, i.Path+"="+i.Local)
		}
		assert.Equal(t, row.want, strings.Join(got, " "), row.src)
	}
}

func FuzzBuild(f *testing.F) {
	for i := range lang.All() {
		for _, src := range []string{"class A { f(a = {}) : x { if (e) log(1) else { } } }", "if a:\n  try: log(1)\n  except X as e: pass\n", "func (r *T) F() { if err != nil { log() } }", "p.then(a => b, (c): D => { case 1: default -> })", "}{)(enum A { B(1) { } "} {
			f.Add(i, []byte(src))
		}
	}
	f.Fuzz(func(t *testing.T, i int, src []byte) {
		all := lang.All()
		spec := all[uint(i)%uint(len(all))]
		var res lex.Result
		var out Outline
		lex.Scan(lex.TableFor(spec), src, &res)
		yes := func([]byte) bool { return true }
		Build(spec, src, &res, Names{Candidate: yes, LevelTest: yes}, &out)
		for at, s := range out.Scopes {
			if s.Parent >= int32(at) || s.Open > s.Close || int(s.Close) > len(res.Tokens) {
				t.Fatalf("scope %d: %+v of %d tokens", at, s, len(res.Tokens))
			}
		}
	})
}
