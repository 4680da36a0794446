// Package docs holds the documentation; two of its pages are generated.
package docs

//go:generate go run generate.go
