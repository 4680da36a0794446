package calls

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"reed/internal/lang"
)

// told renders what a failure path does, in words.
func told(o *Outcome) string {
	var words []string
	for _, w := range []struct {
		on   bool
		name string
	}{{o.Logged, "logs " + o.Loudest.String()}, {o.Printed, "prints"}, {o.Thrown, "throws"}, {o.Passed, "passes"}, {o.Returned, "returns"}, {o.Handled, "handles"}, {o.Said, "says"}, {o.Narrow, "narrow"}, {o.Ends, "ends"}, {o.Silent(), "silent"}} {
		if w.on {
			words = append(words, w.name)
		}
	}
	return strings.Join(words, " ")
}

func TestOutcomes(t *testing.T) {
	python := func(handler string) string { return "try:\n  f()\n" + handler + "\n" }
	java := func(handler string) string { return "class A { Object g() { try { f(); } " + handler + " } }" }
	goCode := func(body string) string { return "package a\nfunc f() (int, error) { " + body + " }\n" }
	for _, row := range []struct{ language, src, want string }{
		{"python", python("except Exception:\n  pass"), "silent"},
		{"python", python("except Exception:\n  ..."), "silent"},
		{"python", python("except:\n  continue"), "silent"},
		{"python", python("except OSError:\n  pass\nelse:\n  sail()"), "handles"},
		{"python", python("except Exception:\n  pass  # the next one comes soon"), "says"},
		{"python", python("except KeyError:\n  pass"), "narrow"},
		{"python", python("except (KeyError, OSError):\n  pass"), "silent"},
		{"python", python("except Exception as ignored:\n  pass"), "says"},
		{"python", python("except Exception:\n  raise"), "throws passes"},
		{"python", python("except Exception as e:\n  raise Late() from e"), "throws passes handles"},
		{"python", python("except Exception:\n  return None"), "returns"},
		{"python", python("except Exception:\n  x = 1"), "handles"},
		{"python", python("except Exception as e:\n  report(e)"), "passes handles"},
		{"python", python("except Exception as e:\n  self.errors.append(e)"), "passes handles"},
		{"python", python("except Exception:\n  logger.info('x')\n  logger.error('y')"), "logs error"},
		{"python", python("except Exception:\n  print('x')"), "prints"},
		{"python", python("except Exception:\n  sys.exit(1)"), "passes handles ends"},
		{"python", "try:\n  f.close()\nexcept OSError:\n  pass\n", "narrow"},
		{"python", "try:\n  x = f.close()\nexcept OSError:\n  pass\n", "silent"},
		{"python", "def g():\n  try:\n    return f()\n  except Exception:\n    pass\n  return h()\n", "handles"},
		{"python", "def g():\n  if a:\n    try:\n      return f()\n    except Exception:\n      pass\n  h()\n", "silent"},
		{"java", "class A { Object g() { try { return f(); } catch (Exception e) { } use(x); return y; } }", "handles"},
		{"java", "class A { Object g() { try { f(); } catch (Exception e) { } return y; } }", "handles"},
		{"java", "class A { void g() { try { f(); } catch (Exception e) { } h(); } }", "silent"},
		{"java", java("catch (Exception e) { }"), "silent"},
		{"java", java("catch (Exception e) { /* closed anyway */ }"), "says"},
		{"java", java("catch (NumberFormatException e) { }"), "narrow"},
		{"java", java("catch (Exception e) { throw new Late(e); }"), "throws passes handles"},
		{"java", java("catch (Exception e) { return null; }"), "returns"},
		{"java", java("catch (Exception e) { return; }"), "silent"},
		{"java", java("catch (Exception e) { future.completeExceptionally(e); }"), "passes handles"},
		{"java", java("catch (Exception e) { System.exit(2); }"), "passes handles ends"},
		{"javascript", "try { f() } catch { }", "silent"},
		{"javascript", "try { f() } catch (e) { reject(e) }", "passes handles"},
		{"javascript", "p.catch(e => { throw e })", "throws passes handles"},
		{"javascript", "f((err, x) => { if (err) return cb(err); g(x) })", "passes returns handles"},
		{"go", goCode("if err != nil { return 0, err }; return 1, nil"), "passes returns handles"},
		{"go", goCode("if err != nil { return 0, nil }; return 1, nil"), "returns handles"},
		{"go", goCode("if err != nil { panic(err) }"), "passes handles"},
		{"go", goCode("for { if err != nil { continue } }"), "silent"},
		{"go", "package a\nfunc f() { if err != nil { return } }\n", "silent"},
		{"go", "package a\nfunc f() (n int, err error) { if err != nil { return } }\n", "passes"},
		{"go", goCode("if errors.Is(err, io.EOF) { break }"), "narrow"},
		{"csharp", "class A { void F() { try { G(); } catch (Exception) { } } }", "silent"},
		{"csharp", "class A { bool TryF() { try { G(); return true; } catch (Exception) { return false; } } }", "returns"},
		{"csharp", "class A { void F() { try { G(); } catch (OperationCanceledException) { } } }", "narrow"},
	} {
		f := read(t, lang.ByName(row.language), "src/a", row.src)
		var got []string
		for _, o := range f.Outcomes() {
			got = append(got, told(&o))
		}
		assert.Equal(t, row.want, strings.Join(got, "|"), row.src)
	}
}
