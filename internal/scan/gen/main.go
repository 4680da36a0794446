//go:build ignore

// This program writes vendored.txt: the path patterns by which the go-enry
// library tells vendored files apart. The library itself costs 40 to 50 ms of
// start-up because it compiles all its tables, so its data is embedded and
// compiled when the first path is asked for. TestVendoredAgreesWithTheLibrary
// keeps both in step.
package main

import (
	"os"
	"strings"

	"github.com/go-enry/go-enry/v2/data"
)

func main() {
	var b strings.Builder
	for _, m := range data.VendorMatchers {
		b.WriteString(m.String() + "\n")
	}
	if err := os.WriteFile("vendored.txt", []byte(b.String()), 0o644); err != nil {
		panic(err)
	}
}
