package httpapi

import (
	"fmt"
	"net/http"
	"sync"
	"time"

	"github.com/gin-gonic/gin"
)

// hub tells open pages which case has changed; they ask for it again.
type hub struct {
	mu    sync.Mutex
	pages map[chan string]bool
}

func newHub() *hub { return &hub{pages: map[chan string]bool{}} }

// maxPages bounds the open event streams.
const maxPages = 200

// tell never waits: a page that is behind misses the event and catches up with its next one.
func (h *hub) tell(id string) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for p := range h.pages {
		select {
		case p <- id:
		default:
		}
	}
}

func (h *hub) serve(c *gin.Context) {
	page := make(chan string, 16)
	h.mu.Lock()
	full := len(h.pages) >= maxPages
	if !full {
		h.pages[page] = true
	}
	h.mu.Unlock()
	if full {
		problem(c, http.StatusServiceUnavailable, "Too many pages", "too many open pages", "", "close some")
		return
	}
	defer func() {
		h.mu.Lock()
		delete(h.pages, page)
		h.mu.Unlock()
	}()
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
		case id := <-page:
			_, _ = fmt.Fprintf(c.Writer, "event: changed\ndata: %s\n\n", id)
		case <-beat.C:
			_, _ = fmt.Fprint(c.Writer, ": still here\n\n")
		}
	}
}
