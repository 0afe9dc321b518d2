package web

import (
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strings"

	"github.com/gin-gonic/gin"
)

func isAPI(p string) bool { return strings.HasPrefix(p, "/api/") }

// serveFiles serves the front end: its files by name, and its page for every other address that is no file's, because the page does
// the routing.
func serveFiles(engine *gin.Engine, files fs.FS) {
	server := http.FileServerFS(files)
	_ = mime.AddExtensionType(".webmanifest", "application/manifest+json") // fails only on a malformed type
	engine.GET("/favicon.ico", func(c *gin.Context) { c.Redirect(http.StatusMovedPermanently, "/icon.svg") })
	engine.NoMethod(func(c *gin.Context) {
		writeProblem(c.Writer, http.StatusMethodNotAllowed, "This address does not take "+c.Request.Method+".")
	})
	engine.NoRoute(func(c *gin.Context) {
		if isAPI(c.Request.URL.Path) || c.Request.Method != http.MethodGet && c.Request.Method != http.MethodHead {
			writeProblem(c.Writer, http.StatusNotFound, "There is nothing at this address.")
			return
		}
		c.Status(http.StatusOK)
		name := strings.TrimPrefix(path.Clean(c.Request.URL.Path), "/")
		if info, err := fs.Stat(files, name); err == nil && !info.IsDir() {
			if strings.HasPrefix(name, "assets/") {
				c.Header("Cache-Control", "public, max-age=31536000, immutable") // their names change with their contents
			}
			server.ServeHTTP(c.Writer, c.Request)
			return
		}
		if path.Ext(name) != "" { // no page of ours ends like a file
			c.String(http.StatusNotFound, "There is no such file.\n")
			return
		}
		page, err := fs.ReadFile(files, "index.html")
		if err != nil {
			c.String(http.StatusServiceUnavailable, "The front end was not built. Run make demo.\n")
			return
		}
		c.Header("Cache-Control", "no-cache")
		c.Data(http.StatusOK, "text/html; charset=utf-8", page)
	})
}
