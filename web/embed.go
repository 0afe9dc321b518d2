// Package web holds the built front end. On a checkout where it was not built the folder is empty and the server says
// so instead of showing a page.
package web

import (
	"embed"
	"io/fs"
)

//go:embed all:dist
var dist embed.FS

// Files is the built front end.
func Files() fs.FS {
	files, err := fs.Sub(dist, "dist")
	if err != nil {
		panic(err) // the folder is embedded above
	}
	return files
}
