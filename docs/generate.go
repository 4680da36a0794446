//go:build ignore

// This program writes docs/rules.md and docs/libraries.md from the rules and
// the catalog.
package main

import (
	"fmt"
	"log"
	"os"
	"strings"

	"reed/internal/catalog"
	"reed/internal/rule"
	"reed/internal/rules"
)

func main() {
	var b strings.Builder
	b.WriteString("# Rules\n\n`reed rules NAME` explains a rule with bad and good code. Notes are shown with `--notes`; a rule may lower single\nfindings to a note where it is less sure.\n")
	for _, c := range rule.Concerns {
		fmt.Fprintf(&b, "\n## %s\n\n| rule | severity | what it finds | when not to follow it |\n|---|---|---|---|\n", strings.ToUpper(string(c)[:1])+string(c)[1:])
		for _, r := range rules.All() {
			if r.Concern == c {
				fmt.Fprintf(&b, "| `%s` | %s | %s | %s |\n", r.Name, r.Severity, r.Summary, strings.Join(strings.Fields(r.Exceptions), " "))
			}
		}
	}
	write("rules.md", b.String())

	b.Reset()
	b.WriteString("# Logging libraries\n\nWhat the catalog holds, by language. JavaScript and TypeScript share theirs, and so do C, C++ and\nObjective-C; Kotlin, Scala and Groovy have those of Java as well.\n")
	for _, file := range []string{"python", "java", "kotlin", "scala", "groovy", "csharp", "javascript", "go", "php", "ruby", "rust", "c", "swift", "dart", "powershell", "pascal", "shell", "xml"} {
		cat, err := catalog.For(file)
		if err != nil {
			log.Fatal(err)
		}
		fmt.Fprintf(&b, "\n## %s\n\n| library | what it is | default threshold |\n|---|---|---|\n", strings.Join(cat.Languages, ", "))
		for i := range cat.Libraries {
			lib := &cat.Libraries[i]
			if lib.Inherited {
				continue
			}
			fmt.Fprintf(&b, "| %s | %s | %s |\n", lib.Name, lib.About, lib.Default)
		}
	}
	write("libraries.md", b.String())
}

func write(name, text string) {
	if err := os.WriteFile(name, []byte(text), 0o644); err != nil {
		log.Fatal(err)
	}
}
