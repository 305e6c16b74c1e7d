package httpapi

import (
	"context"
	"crypto/rand"
	"encoding/hex"
	"log/slog"
	"maps"
	"net"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	"golang.org/x/sync/semaphore"

	"innercompass/internal/httpapi/gen"
	"innercompass/internal/people"
	"innercompass/internal/problem"
	"innercompass/internal/reserve"
)

// gate is the one place that lets requests through: it finds out who asks, and what the operation takes. An operation without a rule is nobody's.
type gate struct {
	people  *people.Service
	reserve *reserve.Keeper
	ops     map[string]string // operation by method and route
}

// newGate knows the operations that are wanted; nil wants all. What is not wanted is not offered, and the contract says so.
func newGate(o Options, wanted func(operation string) bool) (*gate, error) {
	spec, err := gen.GetSpec()
	if err != nil {
		return nil, err
	}
	g := &gate{people: o.App.People, reserve: o.App.Reserve, ops: map[string]string{}}
	for address, item := range spec.Paths.Map() {
		for method, op := range item.Operations() {
			g.ops[method+" /api"+strings.NewReplacer("{", ":", "}", "").Replace(address)] = lowerFirst(op.OperationID)
		}
	}
	maps.Copy(g.ops, plainRoutes)
	if wanted != nil {
		maps.DeleteFunc(g.ops, func(_, op string) bool { return !wanted(op) })
	}
	return g, nil
}

// lowerFirst undoes what the generator does to names.
func lowerFirst(s string) string { return strings.ToLower(s[:1]) + s[1:] }

// plainRoutes are the operations that are no JSON and so are not generated.
var plainRoutes = map[string]string{
	"GET /api/events":                         "listenToEvents",
	"GET /api/cases/:id/file":                 "exportCase",
	"POST /api/case-files":                    "importCase",
	"GET /api/cases/:id/calendar":             "getCalendar",
	"GET /api/units/:id/sheet":                "getSheet",
	"GET /api/blank-sheet":                    "getBlankSheet",
	"GET /api/cases/:id/records/:record/page": "getRecordPage",
	"GET /api/cases/:id/records/:record/pdf":  "getRecordPDF",
	"GET /api/cases/:id/records/:record/file": "getRecordFile",
	"GET /api/cases/:id/photos/:photo":        "getPhoto",
	"POST /api/cases/:id/photos":              "addPhoto",
	"GET /api/price-table":                    "exportPrices",
	"GET /api/word-table":                     "exportWords",
	"POST /api/recordings":                    "bringRecording",
	"GET /api/recordings/:id/file":            "getRecordingFile",
	"GET /api/cases/:id/own-sheet":            "getOwnSheet",
	"GET /api/cases/:id/job/sheet":            "getJobSheet",
	"GET /api/cases/:id/job/parts":            "getJobParts",
	"POST /api/customer-archive":              "exportCustomer",
	"GET /api/archive":                        "exportEverything",
	"GET /api/week/calendar":                  "getWeekCalendar",
}

// Names of the cookies. Over TLS the browser itself sees to it that nobody else can have set them (RFC 6265bis, 4.1.3.2).
const (
	sessionCookie = "compass-session"
	deviceCookie  = "compass-device"
	hostOnlyTag   = "__Host-"
)

// overTLS reports whether the browser speaks to this server, or to the proxy before it, by TLS.
func overTLS(c *gin.Context) bool {
	return c.Request.TLS != nil || c.GetBool(proxiedTLS)
}

func cookieName(c *gin.Context, name string) string {
	if overTLS(c) {
		return hostOnlyTag + name
	}
	return name
}

func cookie(c *gin.Context, name string) string {
	v, err := c.Cookie(cookieName(c, name))
	if err != nil {
		return ""
	}
	return v
}

// asked is what a handler may need to know of its request beyond the contract.
type asked struct {
	origin, host string // as the browser shows them
	device       string // token of the device
	here         bool   // it comes from this machine itself, through no proxy
	set          func(name, value string, seconds int)
}

type askedKey struct{}

func askedBy(ctx context.Context) asked {
	a, _ := ctx.Value(askedKey{}).(asked)
	return a
}

// isHere reports whether a request comes from this machine itself.
func isHere(c *gin.Context) bool {
	ip := net.ParseIP(c.RemoteIP())
	return ip != nil && ip.IsLoopback() && c.GetHeader("X-Forwarded-For") == ""
}

// pass lets through what the actor of a request may do.
func (g *gate) pass(c *gin.Context) {
	op, ok := g.ops[c.Request.Method+" "+c.FullPath()]
	if !ok {
		c.Next() // the front end, and addresses that there are not
		return
	}
	c.Set(operationKey, op)
	actor, err := g.people.Who(c.Request.Context(), cookie(c, sessionCookie), cookie(c, deviceCookie), op != "getSession" && op != "listenToEvents")
	if err != nil {
		fail(c, err)
		return
	}
	actor.Operation, actor.Request = op, c.GetString(requestKey)
	right, ruled := people.RightFor(op)
	if !ruled {
		slog.Error("an operation without a rule", "operation", op)
		writeProblem(c, notYours, "nobody may do this", "", "")
		return
	}
	if may, why := actor.May(right); !may {
		if actor.ID == "" {
			writeProblem(c, notSignedIn, why, "", "sign in first")
		} else {
			writeProblem(c, notYours, why, "", "somebody who may: the owner sees who under Settings, People")
		}
		return
	}
	if g.reserve.State().Promoted && c.Request.Method != http.MethodGet && c.Request.Method != http.MethodHead {
		fail(c, &problem.StateError{Reason: "the reserve took over, and work goes on at another machine: nothing is saved here any more", Accepted: "that machine"})
		return
	}
	scheme := "http"
	if overTLS(c) {
		scheme = "https"
	}
	ctx := people.With(c.Request.Context(), actor)
	ctx = context.WithValue(ctx, askedKey{}, asked{origin: scheme + "://" + c.Request.Host, host: hostOnly(c.Request.Host), device: cookie(c, deviceCookie), here: isHere(c), set: func(name, value string, seconds int) {
		http.SetCookie(c.Writer, &http.Cookie{Name: cookieName(c, name), Value: value, Path: "/", MaxAge: seconds, HttpOnly: true, Secure: overTLS(c), SameSite: http.SameSiteStrictMode})
	}})
	c.Request = c.Request.WithContext(ctx)
	c.Next()
}

// long are operations that compute for hundreds of milliseconds and answer somebody who looks, not somebody who notes: one after the other, so that a reading with
// its new ranking does not wait behind all of them.
var long = []string{"listOptions", "weighOptions", "getPlan", "whatIf", "getWeek", "getJob", "getWhy"}

// inTurn lets one of the long operations after the other.
func inTurn() gin.HandlerFunc {
	turn := semaphore.NewWeighted(1)
	return func(c *gin.Context) {
		if !slices.Contains(long, c.GetString(operationKey)) {
			c.Next()
			return
		}
		if err := turn.Acquire(c.Request.Context(), 1); err != nil {
			fail(c, err)
			return
		}
		defer turn.Release(1)
		c.Next()
	}
}

// Keys of what is known of a request while it is served.
const (
	operationKey = "operation"
	requestKey   = "request"
	proxiedTLS   = "proxied-tls"
)

// logged writes a line for each request when it is answered: what was asked for as the contract names it, never an address, a token, a name or a text.
func logged(c *gin.Context) {
	began := time.Now()
	c.Next()
	level := slog.LevelDebug
	switch status := c.Writer.Status(); {
	case status >= http.StatusInternalServerError:
		level = slog.LevelError
	case c.Request.Method != http.MethodGet && c.Request.Method != http.MethodHead:
		level = slog.LevelInfo
	}
	op := c.GetString(operationKey)
	if op == "" && level < slog.LevelError {
		level = slog.LevelDebug
	}
	slog.LogAttrs(c.Request.Context(), level, "request", slog.String("request", c.GetString(requestKey)), slog.String("operation", op), slog.String("method", c.Request.Method),
		slog.Int("status", c.Writer.Status()), slog.Float64("ms", float64(time.Since(began).Microseconds())/1000), slog.Int("bytes", c.Writer.Size()))
}

// numbered gives each request an id, which stands in the log, in the audit trail, and in the answer.
func numbered(c *gin.Context) {
	var b [8]byte
	_, _ = rand.Read(b[:]) // never fails: crypto/rand ends the program instead
	id := hex.EncodeToString(b[:])
	c.Set(requestKey, id)
	c.Header("X-Request-Id", id)
	c.Next()
}
