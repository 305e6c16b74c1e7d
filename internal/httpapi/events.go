package httpapi

import (
	"fmt"
	"maps"
	"net/http"
	"sync"
	"time"

	"github.com/gin-gonic/gin"
)

// hub tells open pages what has changed; they ask for it again.
type hub struct {
	mu    sync.Mutex
	pages map[*stream]bool
	from  map[string]int // open streams by address
}

// stream is one page that listens. What has changed waits in a set: however far behind a page is, nothing is left out, and
// nothing is said twice.
type stream struct {
	mu      sync.Mutex
	changed map[string]int // revision by what has changed; 0 for what has none
	wake    chan struct{}
}

func newHub() *hub { return &hub{pages: map[*stream]bool{}, from: map[string]int{}} }

// Open event streams, in all and from one address: one machine must not keep the others out.
const (
	maxPages    = 400
	maxPagesOne = 60
)

// tell never waits: what a page has not fetched yet is kept for it.
func (h *hub) tell(id string, rev int) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for p := range h.pages {
		p.mu.Lock()
		p.changed[id] = max(p.changed[id], rev)
		p.mu.Unlock()
		select {
		case p.wake <- struct{}{}:
		default:
		}
	}
}

// take is what has changed since the last time.
func (p *stream) take() map[string]int {
	p.mu.Lock()
	defer p.mu.Unlock()
	out := maps.Clone(p.changed)
	clear(p.changed)
	return out
}

// open lets a page in; nil when there are too many.
func (h *hub) open(address string) *stream {
	h.mu.Lock()
	defer h.mu.Unlock()
	if len(h.pages) >= maxPages || h.from[address] >= maxPagesOne {
		return nil
	}
	p := &stream{changed: map[string]int{}, wake: make(chan struct{}, 1)}
	h.pages[p] = true
	h.from[address]++
	return p
}

func (h *hub) close(p *stream, address string) {
	h.mu.Lock()
	defer h.mu.Unlock()
	delete(h.pages, p)
	if h.from[address]--; h.from[address] <= 0 {
		delete(h.from, address)
	}
}

func (h *hub) serve(c *gin.Context) {
	address := clientAddress(c)
	page := h.open(address)
	if page == nil {
		writeProblem(c, tooManyPages, "too many open pages", "", "close some")
		return
	}
	defer h.close(page, address)
	// The server's write limit is for answers, not for a stream that stays open.
	_ = http.NewResponseController(c.Writer).SetWriteDeadline(time.Time{})
	c.Header("Content-Type", "text/event-stream")
	c.Header("Cache-Control", "no-store")
	c.Status(http.StatusOK)
	beat := time.NewTicker(20 * time.Second)
	defer beat.Stop()
	for {
		c.Writer.Flush()
		select {
		case <-c.Request.Context().Done():
			return
		case <-page.wake:
			for id, rev := range page.take() {
				_, _ = fmt.Fprintf(c.Writer, "event: changed\nid: %d\ndata: %s\n\n", rev, id)
			}
		case <-beat.C:
			_, _ = fmt.Fprint(c.Writer, ": still here\n\n")
		}
	}
}
