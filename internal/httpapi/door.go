package httpapi

import (
	"net"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"sync"

	"github.com/gin-gonic/gin"
	"golang.org/x/time/rate"
)

// loopback are the names by which a machine speaks to itself.
var loopback = []string{"localhost", "127.0.0.1", "::1"}

// hostOnly is the name in a Host header, without port and brackets, in lower case.
func hostOnly(host string) string {
	if name, _, err := net.SplitHostPort(host); err == nil {
		host = name
	}
	return strings.ToLower(strings.Trim(host, "[]"))
}

// known refuses a Host that is none of this server's: a page elsewhere may make its own name point here, and would then speak
// for whoever opened it.
func known(hosts []string) gin.HandlerFunc {
	return func(c *gin.Context) {
		if !isKnown(hosts, c.Request.Host) {
			writeProblem(c, notThisServer, "it is not known here by that name", "Host", "an address that it was started with; innercompass serve --host NAME adds one")
			return
		}
		c.Next()
	}
}

func isKnown(hosts []string, host string) bool { return slices.Contains(hosts, hostOnly(host)) }

// proxied notes whether the browser speaks TLS to a proxy that is believed.
func proxied(c *gin.Context) {
	if ip := net.ParseIP(c.RemoteIP()); ip != nil && c.ClientIP() != c.RemoteIP() && strings.EqualFold(c.GetHeader("X-Forwarded-Proto"), "https") {
		c.Set(proxiedTLS, true)
	}
	c.Next()
}

// guessed are the addresses where somebody may try secrets.
var guessed = []string{"/api/session", "/api/devices"}

// sameOrigin refuses writes that a page elsewhere asks for. A browser says where a request comes from in one of two headers; who
// sends neither is no browser, and has no one's rights but its own.
func sameOrigin(c *gin.Context) {
	if c.Request.Method == http.MethodGet || c.Request.Method == http.MethodHead {
		c.Next()
		return
	}
	site, origin := c.GetHeader("Sec-Fetch-Site"), c.GetHeader("Origin")
	foreign := site != "" && site != "same-origin" && site != "none"
	if origin != "" {
		from, err := url.Parse(origin)
		foreign = foreign || err != nil || !strings.EqualFold(from.Host, c.Request.Host) || (from.Scheme == "https") != overTLS(c)
	}
	if foreign {
		writeProblem(c, refused, "a write from another site", "", "writes from this app's own page")
		return
	}
	c.Next()
}

// jsonOnly refuses bodies that are not said to be JSON: a form of another page cannot say that without being asked about first.
func jsonOnly(c *gin.Context) {
	if kind, _, _ := strings.Cut(c.ContentType(), ";"); !strings.EqualFold(strings.TrimSpace(kind), "application/json") {
		writeProblem(c, notJSON, "the body is "+c.ContentType(), "Content-Type", "application/json")
		return
	}
	c.Next()
}

// limiter bounds how often one address may ask for private links that there are not.
type limiter struct {
	mu   sync.Mutex
	from map[string]*rate.Limiter
}

// Tries for a link: a customer who mistypes needs a few; who guesses would need more than there are stars.
const (
	triesPerSecond = 0.5
	triesAtOnce    = 20
	mostAddresses  = 10_000
)

func (l *limiter) of(address string) *rate.Limiter {
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.from == nil || len(l.from) >= mostAddresses {
		l.from = map[string]*rate.Limiter{}
	}
	if l.from[address] == nil {
		l.from[address] = rate.NewLimiter(triesPerSecond, triesAtOnce)
	}
	return l.from[address]
}

// clientAddress is where a request comes from: through a proxy that is believed, what that says.
func clientAddress(c *gin.Context) string {
	if ip := c.ClientIP(); ip != "" {
		return ip
	}
	return c.Request.RemoteAddr
}

// slowGuessing lets an address ask for links that there are not a few times only.
func (l *limiter) slowGuessing(c *gin.Context) {
	tries := l.of(clientAddress(c))
	if tries.Tokens() < 1 {
		c.Header("Retry-After", "60")
		writeProblem(c, tooManyTries, "too many wrong ones from here", "", "the right one, in a minute")
		return
	}
	c.Next()
	if slices.Contains([]int{http.StatusNotFound, http.StatusUnauthorized, http.StatusUnprocessableEntity, http.StatusTooManyRequests}, c.Writer.Status()) {
		tries.Allow()
	}
}
