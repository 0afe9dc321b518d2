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

// packings are how the build packs scripts and styles, the better first; browsers take it over https only.
var packings = []struct{ name, ending string }{{"br", ".br"}, {"gzip", ".gz"}}

// assets are the built files, which are not packed again.
const assets = "/assets/"

func exists(files fs.FS, name string) bool {
	info, err := fs.Stat(files, name)
	return err == nil && !info.IsDir()
}

// serveFiles serves the front end: its files by name, as the build has packed them where the browser unpacks that, and its page for every
// other address that is no file's, because the page does the routing.
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
		if exists(files, name) {
			if strings.HasPrefix("/"+name, assets) {
				c.Header("Cache-Control", "public, max-age=31536000, immutable") // their names change with their contents
			}
			c.Header("Vary", "Accept-Encoding")
			for _, way := range packings {
				if packed := name + way.ending; strings.Contains(c.GetHeader("Accept-Encoding"), way.name) && exists(files, packed) {
					c.Header("Content-Type", mime.TypeByExtension(path.Ext(name)))
					c.Header("Content-Encoding", way.name)
					http.ServeFileFS(c.Writer, c.Request, files, packed)
					return
				}
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
