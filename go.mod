module reed

go 1.26.8

require (
	github.com/bmatcuk/doublestar/v4 v4.10.4
	github.com/fatih/color v1.19.0
	github.com/go-enry/go-enry/v2 v2.9.6
	github.com/go-git/go-git/v5 v5.19.3
	github.com/mattn/go-runewidth v0.0.31
	github.com/rogpeppe/go-internal v1.16.0
	github.com/schollz/progressbar/v3 v3.19.1
	github.com/spf13/cobra v1.10.2
	github.com/stretchr/testify v1.12.1
	go.yaml.in/yaml/v3 v3.0.5
	golang.org/x/term v0.45.0
)

require (
	github.com/clipperhouse/uax29/v2 v2.2.0 // indirect
	github.com/go-enry/go-oniguruma v1.2.1 // indirect
	github.com/go-git/gcfg v1.5.1-0.20230307220236-3a3c6141e376 // indirect
	github.com/go-git/go-billy/v5 v5.9.2 // indirect
	github.com/inconshreveable/mousetrap v1.1.0 // indirect
	github.com/jbenet/go-context v0.0.0-20150711004518-d14ea06fba99 // indirect
	github.com/mattn/go-colorable v0.1.14 // indirect
	github.com/mattn/go-isatty v0.0.22 // indirect
	github.com/mitchellh/colorstring v0.0.0-20190213212951-d06e56a500db // indirect
	github.com/rivo/uniseg v0.4.7 // indirect
	github.com/spf13/pflag v1.0.9 // indirect
	golang.org/x/net v0.57.0 // indirect
	golang.org/x/sys v0.47.0 // indirect
	golang.org/x/tools v0.26.0 // indirect
	gopkg.in/warnings.v0 v0.1.2 // indirect
)
