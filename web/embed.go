// Package web holds the built front end.
package web

import (
	"embed"
	"io/fs"
)

//go:embed all:dist
var dist embed.FS

// Front is the built front end; it is nearly empty before `make build`.
func Front() (fs.FS, error) { return fs.Sub(dist, "dist") }
