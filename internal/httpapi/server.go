// Package httpapi serves the API of api/openapi.yaml and the built front end. Handlers are thin:
// they decode, call one use case, map the result, respond.
package httpapi

import (
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"net/http"
	"path"
	"runtime/debug"
	"slices"
	"strings"

	"github.com/gin-contrib/gzip"
	"github.com/gin-gonic/gin"

	"innercompass/internal/app"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/paper"
	"innercompass/internal/records"
)

// MemoryLimit is how much memory the runtime may keep before it collects what is no longer used more eagerly: so that the server
// stays under 400 MB whatever it is sent. Pictures are the largest of that; see internal/picture.
const MemoryLimit = 300 << 20

// Options of the server.
type Options struct {
	App     *app.App
	Front   fs.FS // the built front end; index.html at its root
	Version string
	Know    string                                       // version of the knowledge base
	Blank   []byte                                       // the sheet that a new one starts from
	Hosts   []string                                     // names by which it may be called, besides those of this machine alone
	Sample  func(context.Context) (id string, err error) // makes a sample case
	// Customers is where private links lead, such as http://192.168.1.5:8081, when the customer's page has an address of its own.
	Customers string
	// Proxies are the addresses of those that stand before the app and may say how a browser reached them; none is believed else.
	Proxies []string
	// Authority is the shop's own; nil when the app speaks without TLS, or with somebody else's certificate.
	Authority *Authority
	// Archive writes everything in open forms.
	Archive func(ctx context.Context, w io.Writer) error
	// OfCustomer writes all that is held of a customer; it fails before it writes when there is no such customer.
	OfCustomer func(ctx context.Context, customer string, w io.Writer) error
}

// engine is what both doors have in common.
func engine(o Options, wanted func(operation string) bool) (*gin.Engine, error) {
	gate, err := newGate(o, wanted)
	if err != nil {
		return nil, err
	}
	gin.SetMode(gin.ReleaseMode)
	e := gin.New()
	if err := e.SetTrustedProxies(o.Proxies); err != nil {
		return nil, err
	}
	e.HandleMethodNotAllowed = false
	e.RedirectTrailingSlash = false
	e.Use(gin.CustomRecoveryWithWriter(io.Discard, func(c *gin.Context, p any) {
		if err, ok := p.(error); ok && errors.Is(err, http.ErrAbortHandler) {
			panic(p) // the server cuts the answer off
		}
		slog.Error("panic", "request", c.GetString(requestKey), "method", c.Request.Method, "path", shownPath(c), "reason", fmt.Sprint(p), "stack", string(debug.Stack()))
		writeProblem(c, failed, "nothing was changed; the reason is in its log", "", "")
	}), numbered, logged, proxied, headers, known(slices.Concat(loopback, o.Hosts)), sameOrigin, gate.pass, inTurn())
	return e, nil
}

// New returns the handler of the whole app.
func New(o Options) (http.Handler, error) {
	hub := newHub()
	o.App.Changed = hub.tell
	o.App.Records.Render = func(ctx context.Context, r records.RecordContent, files func(string) ([]byte, error)) error {
		release, err := rendering(ctx)
		if err != nil {
			return err
		}
		defer release()
		return paper.Check(ctx, r, files)
	}
	e, err := engine(o, nil)
	if err != nil {
		return nil, err
	}
	e.GET("/api/events", hub.serve)
	e.GET("/api/cases/:id/file", (&files{o.App}).get)
	e.POST("/api/case-files", jsonOnly, (&files{o.App}).post)
	e.GET("/api/units/:id/sheet", (&sheets{o.App}).get)
	(&documents{o.App}).routes(e)
	(&soundfiles{o.App}).routes(e)
	e.GET("/api/archive", everything(o))
	e.POST("/api/customer-archive", jsonOnly, ofCustomer(o))
	e.GET("/api/blank-sheet", (&sheets{o.App}).blank(o.Blank))

	check, err := contract(e.Group("", gzip.Gzip(gzip.DefaultCompression)), o, nil)
	if err != nil {
		return nil, err
	}
	front := front(o.Front)
	e.NoRoute(func(c *gin.Context) {
		if strings.HasPrefix(c.Request.URL.Path, "/api") {
			check(c) // says 404 or 405 as the contract has it
			return
		}
		front(c)
	})
	return e, nil
}

// customers are the operations of the other door.
func customers(operation string) bool {
	return strings.EqualFold(operation, "getApproval") || strings.EqualFold(operation, "approve")
}

// NewCustomers returns the handler of the other door: the page of a private link, the files that it is made of, and the answer
// to it. Nothing else is there, whoever asks.
func NewCustomers(o Options) (http.Handler, error) {
	e, err := engine(o, customers)
	if err != nil {
		return nil, err
	}
	_, err = contract(e.Group("", gzip.Gzip(gzip.DefaultCompression)), o, customers)
	if err != nil {
		return nil, err
	}
	front := front(o.Front)
	e.NoRoute(func(c *gin.Context) {
		name := path.Clean(c.Request.URL.Path)
		for _, start := range []string{"/a/", "/assets/", "/fonts/", "/favicon"} {
			if strings.HasPrefix(name, start) {
				front(c)
				return
			}
		}
		writeProblem(c, notFound, "nothing is offered here but the estimate of a link", "", "the whole link, as the shop sent it")
	})
	return e, nil
}

// contract registers the operations of the contract that are wanted; nil wants all. It returns the check of requests.
func contract(group *gin.RouterGroup, o Options, wanted func(operation string) bool) (gin.HandlerFunc, error) {
	spec, err := gen.GetSpec()
	if err != nil {
		return nil, err
	}
	if wanted != nil {
		for address, item := range spec.Paths.Map() {
			for method, op := range item.Operations() {
				if !wanted(op.OperationID) {
					item.SetOperation(method, nil)
				}
			}
			if len(item.Operations()) == 0 {
				spec.Paths.Delete(address)
			}
		}
	}
	check, err := validator(spec)
	if err != nil {
		return nil, err
	}
	tries := &limiter{}
	group.Use(func(c *gin.Context) {
		if route := c.FullPath(); strings.HasPrefix(route, "/api/approvals/") || c.Request.Method == http.MethodPost && slices.Contains(guessed, route) {
			tries.slowGuessing(c)
		}
	}, check)
	strict := gen.NewStrictHandlerWithOptions(&handlers{o}, nil, gen.StrictGinServerOptions{
		RequestErrorHandlerFunc: func(c *gin.Context, err error) { refuse(c, err) },
		HandlerErrorFunc:        fail,
	})
	gen.RegisterHandlersWithOptions(group, strict, gen.GinServerOptions{BaseURL: "/api",
		ErrorHandler: func(c *gin.Context, err error, _ int) { refuse(c, err) }})
	return check, nil
}

// headers keep the page to itself: nothing is loaded from elsewhere, nothing frames it. Styles are
// inline because the component library writes them so; scripts never are. Answers are nobody's to keep.
func headers(c *gin.Context) {
	h := c.Writer.Header()
	h.Set("Content-Security-Policy", "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; font-src 'self'; frame-src 'self' blob:; frame-ancestors 'none'; base-uri 'none'; form-action 'self'")
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "no-referrer")
	h.Set("Cross-Origin-Resource-Policy", "same-origin")
	if overTLS(c) {
		h.Set("Strict-Transport-Security", "max-age=31536000")
	}
	if strings.HasPrefix(c.Request.URL.Path, "/api") {
		h.Set("Cache-Control", "no-store")
		h.Set("Content-Disposition", `attachment; filename="api.json"`) // opened by itself it is a file, not a page; what is looked at says so
	}
	c.Next()
}

// front serves built files as they are, precompressed where the browser takes it, customer.html for private links, and index.html
// for every other address: the single-page app.
func front(files fs.FS) gin.HandlerFunc {
	static := http.FileServerFS(files)
	return func(c *gin.Context) {
		if c.Request.Method != http.MethodGet && c.Request.Method != http.MethodHead {
			writeProblem(c, wrongMethod, c.Request.Method+" is not offered here", "", "GET")
			return
		}
		name := strings.TrimPrefix(path.Clean(c.Request.URL.Path), "/")
		if info, err := fs.Stat(files, name); err != nil || name == "" || info.IsDir() {
			if strings.HasPrefix(name+"/", "assets/") || strings.HasPrefix(name+"/", "fonts/") {
				writeProblem(c, notFound, "no such file", "", "")
				return
			}
			if name = "index.html"; strings.HasPrefix(c.Request.URL.Path, "/a/") {
				name = "customer.html" // the page of a private link is one of its own
			}
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
		if path.Ext(name) == ".html" {
			data, err := fs.ReadFile(files, name)
			if err != nil {
				writeProblem(c, noFront, "this binary was built without it", "", "make build")
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
