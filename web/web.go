// Package web carries the built interface; `make build` makes it.
package web

import "embed"

// Built is the interface as Vite built it, below dist.
//
//go:embed all:dist
var Built embed.FS
