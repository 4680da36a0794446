package lex

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"reed/internal/lang"
)

// words renders tokens as their texts, strings with values in angle quotes.
func words(t *testing.T, language, src string) string {
	t.Helper()
	var res Result
	Scan(TableFor(lang.ByName(language)), []byte(src), &res)
	var out []string
	for _, tok := range res.Tokens {
		text := src[tok.Start:tok.End]
		switch tok.Kind {
		case String, CharString:
			text = "S" + text
		case StringText:
			text = "T" + text
		case Regex:
			text = "R" + text
		case ValueFormat:
			text = "F" + text
		case MarkupText:
			text = "M" + strings.TrimSpace(text)
		}
		out = append(out, text)
	}
	return strings.Join(out, " ")
}

func TestStringsAndValues(t *testing.T) {
	for _, row := range []struct{ language, src, want string }{
		{"python", `log.info(f"gauge {g.name!r:>{w}} at {h:.2f} m {{x}}")`, `log . info ( f" Tgauge  { g . name F!r:>{w} } T at  { h F:.2f } T m {{x}} " )`},
		{"python", `f'{d["a"]}{x if y else "z"}'`, `f' { d [ S"a" ] } { x if y else S"z" } '`},
		{"python", `rb"\d" b'x' u"y" f"plain"`, `Srb"\d" Sb'x' Su"y" Sf"plain"`},
		{"python", "'''a\n'b'\n''' + r'\\'' # it's", "S'''a\n'b'\n''' + Sr'\\''"},
		{"python", `f"{(lambda x: x)(1)}" f"{a != b}"`, `f" { ( lambda x : x ) ( 1 ) } " f" { a != b } "`},
		{"java", "a = \"\"\"\n say \"hi\" \\\"\"\" \"\"\"; c = '\"';", "a = S\"\"\"\n say \"hi\" \\\"\"\" \"\"\" ; c = S'\"' ;"},
		{"csharp", `x = $"{a:N2} {(b ? "y" : "n")} {{}}"; @"c:\"`, `x = $" { a F:N2 } T  { ( b ? S"y" : S"n" ) } T {{}} " ; S@"c:\"`},
		{"csharp", `$@"a ""q"" {v}\" + @"d""e"`, `$@" Ta ""q""  { v } T\ " + S@"d""e"`},
		{"csharp", `$$"""{not} {{yes}} "quoted" """ + """raw {x}"""`, `$$""" T{not}  {{ yes }} T "quoted"  """ + S"""raw {x}"""`},
		{"python", `rf'(\{{)({x})' + f"\{y}"`, `rf' T(\{{)( { x } T) ' + f" T\ { y } "`},
		{"csharp", "#if false\nit's /* off\n#if A\n#endif\n#else\na\n#endif\nb", "a b"},
		{"javascript", "x = <b>(it's)</b>; f = <T>(a: T) => a; g = function <T>(b) {}", "x = < b > M(it's) </ b > ; f = < T > ( a : T ) => a ; g = function < T > ( b ) { }"},
		{"csharp", "#if X\n#else '\n#endif\na", "a"},
		{"javascript", "`a ${b + `n ${c}`} $d`", "` Ta  ${ b + ` Tn  ${ c } ` } T $d `"},
		{"javascript", `a = b / c / d; e = /[/"]\/x/g.test(f) ? g / 2 : /y/`, `a = b / c / d ; e = R/[/"]\/x/g . test ( f ) ? g / 2 : R/y/`},
		{"javascript", `if (x) /re/.exec(y); (z) / 2`, `if ( x ) R/re/ . exec ( y ) ; ( z ) / 2`},
		{"javascript", `const el = <Map a="it's" b={() => log.info("x")}>don't {v} <br/></Map>; n < m`, `const el = < Map a = M"it's" b = { ( ) => log . info ( S"x" ) } > Mdon't { v } M < br /> </ Map > ; n < m`},
		{"javascript", `x = <A<B<C>> d="e">f</A>; y`, `x = < A <B<C>> d = M"e" > Mf </ A > ; y`},
		{"typescript", `const f = <T>(x: T) => a < b`, `const f = < T > ( x : T ) => a < b`},
		{"go", "s := `raw \" \\` + \"a\\\"b\" + '\\''; c <- d", "s := S`raw \" \\` + S\"a\\\"b\" + S'\\'' ; c <- d"},
		{"go", "x := 0x1p-2 + 1.5e+3 + 'a'", "x := 0x1p-2 + 1.5e+3 + S'a'"},
		{"javascript", "promise.catch(e => a?.b ?? c)", "promise . catch ( e => a ?. b ?? c )"},
		{"kotlin", `"a $b.c ${d["e"]}" + """raw "$f" """ /* a /* b */ c */ 'x'`, `" Ta  $ b T.c  ${ d [ S"e" ] } " + """ Traw " $ f T"  """ S'x'`},
		{"scala", "s\"a $b ${c + s\"d\"}\" 'sym 'c' \"\"\"x\"\"\"\"", "s\" Ta  $ b T  ${ c + Ss\"d\" } \" 'sym S'c' S\"\"\"x\"\"\"\""},
		{"groovy", `"$a.b and ${c}" + 'it' + /re "x"/`, `" $ a . b T and  ${ c } " + S'it' + S/re "x"/`},
		{"php", "<b>it's</b><?php f(\"$a->b {$c['d']} $e[0]\"); # x\n?>\n<i>\"</i><?= $x ?>", `f ( "  $a -> b T  { $c [ S'd' ] } T   $e F[0] " ) ; ?> $x ?>`},
		{"php", "<?php $a = <<<EOT\n it's $b\n EOT; g();", "$a = S<<<EOT\n it's $b\n EOT ; g ( ) ;"},
		{"ruby", "puts \"a #{b(\"c\")}\", %w[x y], :sym, ?q, a ? b : c\n/re/.match x / 2", `puts " Ta  #{ b ( S"c" ) } " , R%w[x y] , :sym , S?q , a ? b : c R/re/ . match x / 2`},
		{"ruby", "f(<<~A, <<-'B')\n it's a\nA\n \"b\n B\ng", "f ( S<<~A , S<<-'B' ) g"},
		{"ruby", "m = /\n  (?<w>[a\"]) # it's\n/x\nn = a / b / c\nx&.y $` + $' + $1", "m = R/\n  (?<w>[a\"]) # it's\n/x n = a / b / c x &. y $` + $' + $1"},
		{"rust", `r#"a "b""# b"c" 'd' 'e: &'f str /* a /* b */ */ '\''`, `Sr#"a "b""# Sb"c" S'd' 'e : & 'f str S'\''`},
		{"swift", `"a \(b("c")) d" #"raw \(x) \#(y)"#`, `" Ta  \( b ( S"c" ) ) T d " #" Traw \(x)  \#( y ) "#`},
		{"dart", `'a $b ${c['d']}' r'$e' "f" 'g'`, `' Ta  $ b T  ${ c [ S'd' ] } ' Sr'$e' S"f" S'g'`},
		{"cpp", "R\"x(a \")\" b)x\" L\"c\" 'd'\n#define A \\\n b\"\ne", `SR"x(a ")" b)x" SL"c" S'd' e`},
		{"php", `<?php f("$k=\"$v\"", "$a->b\n"); g(@h("x"))`, `f ( "  $k T=\"  $v T\" " , "  $a -> b T\n " ) ; g ( @ h ( S"x" ) )`},
		{"cpp", "0b1'0000'1111 + 1'000u, 'a'", "0b1'0000'1111 + 1'000u , S'a'"},
		{"cpp", "#if A\nif (x) {\n#else\nif (y) {\n#endif\n}\nf(z)", "if ( x ) { if ( y ) { } f ( z )"},
		{"objective-c", `@"a" [b c:@"d"]`, `S@"a" [ b c : S@"d" ]`},
		{"powershell", "Write-Log -Level Info \"a $b $($c.d) `$e\" <# x #> @'\nit's\n'@", "Write-Log -Level Info \" Ta   $b T  $( $c . d ) T `$e \" S@'\nit's\n'@"},
		{"pascal", "WriteLn('it''s', #13) {x} (* y *) // z", "WriteLn ( S'it''s' , # 13 )"},
		{"shell", "logger -p a.b \"x $1 ${y} $(z 'w')\" # c\necho a#b", `logger -p a . b " Tx   $1 T  ${ y } T  $( z S'w' ) " echo a # b`},
		{"xml", "<a b='c'><!-- <d/> -->e<f:g h=\"i\"/></a>", `< a b = S'c' > Me < f:g h = S"i" / > < / a >`},
	} {
		assert.Equal(t, row.want, words(t, row.language, row.src), row.src)
	}
}

func TestBracketsFindTheirPartners(t *testing.T) {
	for _, row := range []struct{ src, want string }{
		{"f(a[0], {b})", "1-10 3-5 7-9 "},
		{"f(a; } g(b)", "6-8 "},
		{"{ f(a; } g()", "0-5 7-8 "},
		{"(a])", "0-3 "},
		{"f(`x${a(b)}y`)", "1-12 2-11 4-9 6-8 "},
	} {
		var res Result
		Scan(TableFor(&lang.JavaScript), []byte(row.src), &res)
		got := ""
		for i, p := range res.Partner {
			if p > int32(i) {
				got += fmt.Sprintf("%d-%d ", i, p)
			}
		}
		assert.Equal(t, row.want, got, row.src)
	}
}

func TestIndentedStatements(t *testing.T) {
	src := "def f(a,\n      b):\n\tx = 1 + \\\n  2\n    y = [\n 1]\nz = (\ndef g(): pass\n"
	var res Result
	Scan(TableFor(&lang.Python), []byte(src), &res)
	var got []string
	for _, tok := range res.Tokens {
		if tok.Flags&StmtStart != 0 {
			got = append(got, fmt.Sprintf("%s@%d", src[tok.Start:tok.End], tok.Indent))
		}
	}
	assert.Equal(t, []string{"def@0", "x@8", "y@4", "z@0", "def@0"}, got)
}

func TestUnterminatedIsToldAndBounded(t *testing.T) {
	var res Result
	Scan(TableFor(&lang.Go), []byte("a := \"open\nb := `raw\n"), &res)
	require.Len(t, res.Broken, 2)
	assert.Equal(t, uint32(5), res.Broken[0].Start)
	assert.Equal(t, uint32(10), res.Broken[0].End, "a one-line string ends at its line")
}

// CheckTiles reports where tokens and comments overlap, stand out of order or
// leave out anything but white space.
func checkTiles(src []byte, res *Result) error {
	pos, c := uint32(0), 0
	gap := func(to uint32) error {
		for _, b := range src[pos:to] {
			if b > ' ' && b != '\\' || b == 0 {
				return fmt.Errorf("byte %q between tokens near %d", b, pos)
			}
		}
		return nil
	}
	for i, tok := range append(res.Tokens, Token{Start: uint32(len(src)), End: uint32(len(src)) + 1}) {
		for c < len(res.Comments) && res.Comments[c].Start < tok.Start {
			if res.Comments[c].Start < pos {
				return fmt.Errorf("comment overlaps at %d", pos)
			}
			if err := gap(res.Comments[c].Start); err != nil {
				return err
			}
			pos = res.Comments[c].End
			c++
		}
		if tok.Start < pos || tok.End <= tok.Start && (tok.Kind != ValueBegin || tok.End < tok.Start) { // a bare value may begin with nothing
			return fmt.Errorf("token %d at %d-%d, reading was at %d", i, tok.Start, tok.End, pos)
		}
		if err := gap(tok.Start); err != nil {
			return err
		}
		pos = tok.End
	}
	return nil
}

func FuzzScan(f *testing.F) {
	for i := range lang.All() {
		for _, src := range []string{"f(`${a}` + '''x", "$$\"\"\"{{{a}}\"\"\" <a b={c}>{d}</a>", "f\"{x:{y}}\" #c\n/re/ /* \\\n */", "if x:\n\ty\n", "}})]({[${`${`"} {
			f.Add(i, []byte(src))
		}
	}
	f.Fuzz(func(t *testing.T, i int, src []byte) {
		all := lang.All()
		var res Result
		Scan(TableFor(all[uint(i)%uint(len(all))]), src, &res)
		if err := checkTiles(src, &res); err != nil {
			t.Fatal(err)
		}
		for a, b := range res.Partner {
			if b >= 0 && res.Partner[b] != int32(a) {
				t.Fatalf("partner of %d is %d, whose partner is %d", a, b, res.Partner[b])
			}
		}
	})
}

func TestUnquote(t *testing.T) {
	for tok, want := range map[string]string{
		`"plain"`: "plain", `'it\'s'`: "it's", `"a\tb\n"`: "a\tb\n", `"\u0041\x42\u{43}"`: "ABC", `r"\d+"`: `\d+`, `@"c:\a ""b"""`: `c:\a "b"`, "`tick`": "tick", `"""three "quotes" """`: `three "quotes" `, `"""""four """" deep"""""`: `four """" deep`,
		`f"x"`: "x", `""`: "", `"open`: "open", "word": "word", `"\q"`: `\q`, `rb'\x00'`: `\x00`,
	} {
		assert.Equal(t, want, Unquote([]byte(tok)), tok)
	}
}

// TestKindsStayInTheirRanges: what is tested by comparison must lie so.
func TestKindsStayInTheirRanges(t *testing.T) {
	assert.Less(t, int(KeywordBase)+int(lang.RoleCount), 256)
	for role := lang.Role(1); role < lang.RoleCount; role++ {
		assert.True(t, Kw(role).IsKeyword())
		assert.Equal(t, role, Kw(role).Role())
	}
	assert.False(t, StringEnd.IsKeyword())
	assert.Equal(t, lang.NoRole, Ident.Role())
}
