// Package httpapi serves the API of api/openapi.yaml and the built front end. Handlers are thin:
// they decode, call one use case, map the result, respond.
package httpapi

import (
	"context"
	"io/fs"
	"net/http"
	"path"
	"strings"

	"github.com/gin-contrib/gzip"
	"github.com/gin-gonic/gin"

	"innercompass/internal/casework"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/record"
)

// Options of the server.
type Options struct {
	Cases   *casework.Service
	Front   fs.FS // the built front end; index.html at its root
	Version string
	Know    string // version of the knowledge base
	Blank   []byte // the sheet that a new one starts from
}

// New returns the handler of the whole app.
func New(o Options) (http.Handler, error) {
	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	engine.ContextWithFallback = true
	engine.HandleMethodNotAllowed = false
	engine.Use(gin.CustomRecovery(func(c *gin.Context, _ any) {
		problem(c, http.StatusInternalServerError, "The app failed", "nothing was changed; the reason is in its log", "", "")
	}), headers)

	hub := newHub()
	o.Cases.Changed = hub.tell
	o.Cases.Render = func(ctx context.Context, r casework.RecordContent, files func(string) ([]byte, error)) error {
		return record.Check(ctx, r, files)
	}
	engine.GET("/api/events", hub.serve)
	engine.GET("/api/cases/:id/file", (&files{o.Cases}).get)
	engine.POST("/api/files", (&files{o.Cases}).post)
	engine.GET("/api/units/:id/sheet", (&sheets{o.Cases}).get)
	(&kept{o.Cases}).routes(engine)
	engine.GET("/api/blank-sheet", (&sheets{o.Cases}).blank(o.Blank))

	spec, err := gen.GetSpec()
	if err != nil {
		return nil, err
	}
	check, err := validator(spec)
	if err != nil {
		return nil, err
	}
	api := engine.Group("", gzip.Gzip(gzip.DefaultCompression), check)
	strict := gen.NewStrictHandlerWithOptions(&handlers{o}, nil, gen.StrictGinServerOptions{
		RequestErrorHandlerFunc: func(c *gin.Context, err error) { refuse(c, err) },
		HandlerErrorFunc:        fail,
	})
	gen.RegisterHandlersWithOptions(api, strict, gen.GinServerOptions{BaseURL: "/api",
		ErrorHandler: func(c *gin.Context, err error, _ int) { refuse(c, err) }})

	front := front(o.Front)
	engine.NoRoute(func(c *gin.Context) {
		if strings.HasPrefix(c.Request.URL.Path, "/api") {
			check(c) // says 404 or 405 as the contract has it
			return
		}
		front(c)
	})
	return engine, nil
}

// headers keep the page to itself: nothing is loaded from elsewhere, nothing frames it. Styles are
// inline because the component library writes them so; scripts never are.
func headers(c *gin.Context) {
	h := c.Writer.Header()
	h.Set("Content-Security-Policy", "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; font-src 'self'; frame-src 'self' blob:; frame-ancestors 'none'; base-uri 'none'; form-action 'self'")
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "no-referrer")
	h.Set("Cross-Origin-Resource-Policy", "same-origin")
	if site := c.GetHeader("Sec-Fetch-Site"); c.Request.Method != http.MethodGet && site == "cross-site" {
		problem(c, http.StatusForbidden, "Refused", "a write from another site", "", "writes from this app's own page")
		return
	}
	c.Next()
}

// front serves built files as they are, precompressed where the browser takes it, and index.html for
// every address of the single-page app.
func front(files fs.FS) gin.HandlerFunc {
	static := http.FileServerFS(files)
	return func(c *gin.Context) {
		if c.Request.Method != http.MethodGet && c.Request.Method != http.MethodHead {
			problem(c, http.StatusMethodNotAllowed, "Method not allowed", c.Request.Method+" is not offered here", "", "GET")
			return
		}
		name := strings.TrimPrefix(path.Clean(c.Request.URL.Path), "/")
		if _, err := fs.Stat(files, name); err != nil || name == "" {
			if strings.HasPrefix(name, "assets/") || strings.HasPrefix(name, "fonts/") {
				problem(c, http.StatusNotFound, "Not found", "no such file", "", "")
				return
			}
			name = "index.html"
		}
		if strings.HasPrefix(name, "assets/") {
			c.Header("Cache-Control", "public, max-age=31536000, immutable")
		} else {
			c.Header("Cache-Control", "no-cache")
		}
		if strings.Contains(c.GetHeader("Accept-Encoding"), "gzip") {
			if data, err := fs.ReadFile(files, name+".gz"); err == nil {
				c.Header("Content-Encoding", "gzip")
				c.Header("Vary", "Accept-Encoding")
				c.Data(http.StatusOK, contentType(name), data)
				return
			}
		}
		if name == "index.html" {
			data, err := fs.ReadFile(files, name)
			if err != nil {
				problem(c, http.StatusServiceUnavailable, "No front end", "this binary was built without it", "", "make build")
				return
			}
			c.Data(http.StatusOK, contentType(name), data)
			return
		}
		static.ServeHTTP(c.Writer, c.Request)
	}
}

var types = map[string]string{".html": "text/html; charset=utf-8", ".js": "text/javascript; charset=utf-8", ".css": "text/css; charset=utf-8", ".svg": "image/svg+xml", ".woff2": "font/woff2", ".json": "application/json"}

func contentType(name string) string {
	if t, ok := types[path.Ext(name)]; ok {
		return t
	}
	return "application/octet-stream"
}
