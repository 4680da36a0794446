package analyze

import (
	"bytes"
	"path"
	"strings"

	"reed/internal/lang"
	"reed/internal/model"
	"reed/internal/rule"
	"reed/internal/rules"
)

// prepare settles what rules ask about a file as a whole.
func prepare(p *rule.Pass, rel string) {
	for i := range p.Sites {
		if p.Sites[i].Kind == model.KindPrint { // who prints nothing need not be asked
			p.Program = program(p, rel)
			break
		}
	}
	rules.Hide(p)
}

// programFolders hold programs, scripts and examples whose output is meant.
var programFolders = map[string]bool{
	"bin": true, "scripts": true, "script": true, "tools": true, "tool": true, "cli": true, "cmd": true, "commands": true, "examples": true, "example": true, "samples": true, "sample": true, "demo": true, "demos": true, "benchmarks": true, "benchmark": true, "bench": true,
	"docs": true, "doc": true, "hack": true, "build": true, "contrib": true, "tutorial": true, "tutorials": true, "management": true, "console": true, "misc": true, "_gen": true, "testing": true, "tests": true, "test": true,
}

// programMarks are pieces of text that only programs with a console have, by
// language.
var programMarks = map[string][]string{
	"python":     {"__name__ ==", "import argparse", "import optparse", "from optparse", "from argparse", "import click", "import typer", "import getopt", "from cmd import", "import cmd\n", "input(", "sys.argv"},
	"java":       {"public static void main(", "static void main(", "System.in"},
	"csharp":     {"static void Main(", "static int Main(", "static async Task Main(", "static async Task<int> Main(", "Console.ReadLine(", "Console.ReadKey("},
	"javascript": {"process.argv", "require('commander", "require('yargs", "require.main", "require('inquirer", "require('readline", "require('prompt"},
	"typescript": {"process.argv", "from 'commander'", "from 'yargs'", "from 'inquirer'", "from 'readline'"},
	"ruby":       {"OptionParser", "ARGV", "$PROGRAM_NAME", "$0", "Thor"},
	"php":        {"$argv", "PHP_SAPI", "php_sapi_name", "Symfony\\Component\\Console"},
	"kotlin":     {"fun main(", "readLine(", "readln("},
	"scala":      {"extends App", "def main(", "StdIn"},
	"groovy":     {"static void main(", "CliBuilder"},
	"rust":       {"fn main()", "std::env::args", "clap"},
	"swift":      {"@main", "CommandLine.arguments", "readLine(", "ArgumentParser"},
	"c":          {"int main(", "getopt"}, "cpp": {"int main(", "getopt", "std::cin"}, "objective-c": {"int main("},
	"pascal": {"program ", "PROGRAM ", "Program ", "ParamStr"},
	"dart":   {"void main(", "package:args", "stdin."},
	"go":     {"package main\n", "package main\r", "flag.Parse()", "os.Stdin", "spf13/cobra\"", "urfave/cli"},
}

// program tells whether prints are the output of this file: a command-line
// program, a script, a build file, an example. rel is its place below the root.
func program(p *rule.Pass, rel string) bool {
	text := p.Src.Text
	if bytes.HasPrefix(text, []byte("#!")) {
		return true
	}
	dir, base := path.Split(rel)
	for _, part := range strings.Split(strings.ToLower(strings.Trim(dir, "/")), "/") {
		if part == "src" && (p.Spec.Features.Has(lang.TypedFuncs) || strings.Contains(dir, "src/main/")) {
			break // below it folders are packages
		}
		if programFolders[part] {
			return true
		}
	}
	switch path.Ext(base) {
	case ".gradle", ".rake", ".gemspec", ".sbt", ".lpr", ".dpr", ".sh", ".bash":
		return true
	}
	if strings.HasSuffix(base, ".gradle.kts") {
		return true
	}
	stem, _, _ := strings.Cut(strings.ToLower(base), ".")
	switch stem {
	case "setup", "gruntfile", "gulpfile", "jakefile", "cli", "main", "__main__", "build", "conftest", "manage", "fabfile", "noxfile", "tasks", "usage", "help", "rollup", "webpack", "magefile", "rakefile", "gemfile", "vagrantfile", "podfile", "fastfile", "package", "jenkinsfile":
		return true
	}
	if p.Spec.Features.Has(lang.ErrorFirst) && strings.Contains(base, ".config.") {
		return true
	}
	for _, mark := range programMarks[p.Spec.Name] {
		if bytes.Contains(text, []byte(mark)) {
			return true
		}
	}
	return false
}
