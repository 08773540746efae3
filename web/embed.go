// Package web holds the built front end, and what draws pictures without a browser.
package web

import (
	"embed"
	"io/fs"
)

//go:embed all:dist
var dist embed.FS

//go:embed all:render
var render embed.FS

// Front is the built front end; it is nearly empty before `make build`.
func Front() (fs.FS, error) { return fs.Sub(dist, "dist") }

// Render is what draws pictures without a browser, a script and letters; it is nearly empty before `make build`.
func Render() (fs.FS, error) { return fs.Sub(render, "render") }
