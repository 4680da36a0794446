package rules_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"reed/internal/analyze"
	"reed/internal/lang"
	"reed/internal/model"
	"reed/internal/rule"
	"reed/internal/rules"
)

func TestRulesAreWellFormed(t *testing.T) {
	require.NoError(t, rule.Validate(rules.All()))
}

// review runs all rules over one file.
func review(language, src string) []model.Finding {
	a := analyze.New(analyze.Options{Rules: rules.All()})
	return a.File(lang.ByName(language), "src/sample", "src/sample", []byte(src), "src", false).Findings
}

func fired(findings []model.Finding, name string) (lines []int) {
	for _, f := range findings {
		if f.Rule == name {
			lines = append(lines, f.Line)
		}
	}
	return lines
}

func TestExamples(t *testing.T) {
	for _, r := range rules.All() {
		for _, e := range r.Examples {
			t.Run(r.Name+"/"+e.Language, func(t *testing.T) {
				bad := review(e.Language, e.Bad)
				assert.NotEmpty(t, fired(bad, r.Name), "the bad example is to be found:\n%s", e.Bad)
				for _, f := range bad {
					assert.NotEmpty(t, f.Text)
					assert.NotEmpty(t, f.Remedy)
					assert.NotEmpty(t, f.Evidence)
					assert.Len(t, f.Fingerprint, 16)
					assert.True(t, f.EndLine > f.Line || f.EndColumn > f.Column)
				}
				for _, f := range review(e.Language, e.Good) {
					assert.Equal(t, model.SeverityNote, f.Severity, "the good example is silent, but: %s: %s\n%s", f.Rule, f.Text, e.Good)
					assert.NotEqual(t, r.Name, f.Rule, e.Good)
				}
			})
		}
	}
}

// TestNearMisses holds code that looks like a finding and is none.
func TestNearMisses(t *testing.T) {
	python := "import logging\nlog = logging.getLogger(__name__)\n"
	java := "import org.slf4j.Logger;\nclass A {\n  Logger log;\n  %s\n}\n"
	for _, row := range []struct{ rule, language, src string }{
		{"placeholder-mismatch", "python", python + "log.info('100%% of %s', x)\nlog.info('50%')\nlog.info('%(a)s', {'a': 1})\nlog.info('%s %s', *args)\nlog.warning('a %% b %s', c)\n"},
		{"placeholder-mismatch", "java", strings.Replace(java, "%s", `void f(Throwable t) { log.info("a {}", b, t); log.warn("x", t); log.info("{} {}", new Object[]{a, b}); log.info("a \\{} b"); }`, 1)},
		{"placeholder-mismatch", "csharp", "using Serilog;\nclass A { void F() { Log.Information(\"{A} {B:N2} {{c}}\", a, b); Log.Error(ex, \"{X}\", x); Log.Information(\"{0} {0}\", a); } }\n"},
		{"secret-value", "python", python + "log.info('%s', len(password))\nlog.info('%s', token_count)\nlog.info('%s', mask(api_key))\nlog.info('%s', password is not None)\nlog.info('%s', 'yes' if password else 'no')\nlog.info('token %s', token)\n"},
		{"secret-value", "javascript", "const log = require('pino')();\nlog.info({ hasToken: !!token, passwordLength: password.length, cancellationToken }, 'x');\n"},
		{"cause-dropped", "python", python + "def f():\n    try:\n        g()\n    except KeyError as e:\n        log.error('no %s', e)\n    except OSError as e:\n        log.error('x')\n        raise\n    except ValueError:\n        log.error('x', exc_info=True)\n"},
		{"cause-dropped", "go", "package a\nimport \"log/slog\"\nfunc f() { if err != nil { slog.Error(\"x: \" + err.Error()) }; if err != nil { slog.Error(\"x\", \"e\", err) } }\n"},
		{"silent-failure", "java", "class A { boolean f() { try { g(); } catch (Exception e) { return false; } try { in.close(); } catch (IOException e) { } try { n = parse(s); } catch (NumberFormatException e) { } try { h(); } catch (Exception e) { /* optional */ } } }"},
		{"silent-failure", "python", "def f():\n    try:\n        g()\n    except ImportError:\n        pass\n    except Exception:\n        x = None\n"},
		{"silent-failure", "javascript", "p.catch(next); p.catch(e => cb(e)); try { a() } catch { b = null }"},
		{"wording-contradicts-level", "python", python + "log.info('no errors found')\nlog.info('failed to connect, retrying in %s', n)\nlog.warning('Started without a certificate')\nlog.error('ERROR: gauge lost')\n"},
		{"error-without-failure", "python", python + "if bad:\n    log.error('Started twice')\nlog.error('Loading failed')\nlog.error('Completed with %d errors', n)\n"},
		{"failure-understated", "python", python + "def f():\n    try:\n        g()\n    except OSError:\n        log.debug('not there, using default')\n    try:\n        g()\n    except OSError:\n        log.debug('x')\n        return None\n"},
		{"message-vague", "python", python + "log.info('===========')\nlog.error('done with gauge %s', g)\nlog.info('test run of siren')\nlog.info('', extra={'a': 1})\n"},
		{"message-concatenated", "java", strings.Replace(java, "%s", `void f() { log.info("a" + "b"); log.info("a " + "{}", c); log.info(PREFIX + "started"); }`, 1)},
		{"message-interpolated", "javascript", "const log = require('pino')();\nlog.info(`fixed`);\nconsole.log(`a ${b}`);\n"},
		{"message-formatted", "go", "package a\nimport \"log\"\nfunc f() { log.Print(fmt.Sprintf(\"%d\", n)) }\n"},
		{"print-leftover", "python", "import argparse\n\ndef main():\n    print('usage')\n"},
		{"secret-value", "php", "<?php\nuse Psr\\Log\\LoggerInterface;\nclass Board { function pin(LoggerInterface $logger) {\n$logger->error(format_error('New password cannot be blank.'));\n$logger->info('kept as {f}', ['f' => hash_of('password of the board: ' . $x)]);\n} }\n"},
		{"secret-value", "powershell", "Write-Verbose \"the depot is in $pwd\"\n"},
		{"secret-value", "xml", "<flow name=\"a\"><logger level=\"INFO\" message=\"#[vars.passwordLength] of #[size(payload.password)]\"/></flow>\n"},
		{"no-values", "rust", "use log::warn;\nfn open(password: &str) {\n  warn!(\"the door stays shut\");\n}\n"},
		{"cause-dropped", "cpp", "#include <spdlog/spdlog.h>\nvoid lift() { try { turn(); } catch (const std::exception& e) { spdlog::error(\"not lifted: {}\", e.what()); } }\n"},
		{"cause-dropped", "pascal", "unit Lamps;\nuses EventLog;\nprocedure TLamps.Light;\nbegin\n  try\n    Send;\n  except\n    on E: EPortError do FLog.Error('dark: %s', [E.Message]);\n  end;\nend;\nend.\n"},
		{"cause-dropped", "swift", "import Logging\nlet logger = Logger(label: \"a\")\nfunc send() {\n  do { try post() } catch { logger.error(\"not sent: \\(error)\") }\n}\n"},
		{"cause-dropped", "ruby", "require \"logger\"\nLOG = Logger.new($stdout)\ndef sail\n  go\nrescue IOError => e\n  LOG.error(\"not sailed: #{e.full_message}\")\nend\n"},
		{"cause-dropped", "php", "<?php\nclass Board { function __construct(private Psr\\Log\\LoggerInterface $logger) {}\nfunction pin() { try { go(); } catch (Late $e) { $this->logger->error('late', ['exception' => $e]); } } }\n"},
		{"silent-failure", "python", "def check(board):\n    try:\n        text = board.read()\n    except OSError:\n        pass\n    else:\n        board.compare(text)\n"},
		{"print-leftover", "go", "package main\nimport \"fmt\"\nfunc main() { fmt.Println(1) }\n"},
		{"dump-leftover", "java", "class A { void f(java.io.PrintWriter w) { e.printStackTrace(w, 1); } }"},
		{"debugger-leftover", "javascript", "x.debugger = 1; const o = { debugger: true };"},
		{"whole-object", "python", python + "def f(user: str, request):\n    log.info('%s', request.path)\n    log.info('%s', user.id)\n    log.info('%s', os.environ['HOME'])\n"},
		{"no-values", "python", python + "def f(gauge):\n    log.warning('late', extra={'gauge': gauge})\n    log.info('x')\ndef g():\n    log.warning('late')\n"},
	} {
		t.Run(row.rule+"/"+row.language, func(t *testing.T) {
			assert.Empty(t, fired(review(row.language, row.src), row.rule), row.src)
		})
	}
}

func TestEvidenceIsMasked(t *testing.T) {
	for _, f := range review("python", rules.SecretLiteral.Examples[0].Bad) {
		for _, text := range []string{f.Evidence, f.SourceLine, f.Text, f.Remedy} {
			assert.NotContains(t, text, "hunter22", f.Rule)
		}
	}
}
