package httpapi

import (
	"context"
	"encoding/json"
	"errors"
	"log/slog"
	"net/http"

	"github.com/gin-gonic/gin"

	"innercompass/internal/casework"
	"innercompass/internal/httpapi/gen"
)

// problem writes an RFC 9457 problem document: what was wrong, where, what would be accepted.
func problem(c *gin.Context, status int, title, detail, field, accepted string) {
	p := gen.Problem{Type: "about:blank", Title: title, Status: status}
	for to, text := range map[**string]string{&p.Detail: detail, &p.Field: field, &p.Accepted: accepted} {
		if text != "" {
			*to = &text
		}
	}
	data, err := json.Marshal(p)
	if err != nil {
		data = []byte(`{"type":"about:blank","title":"internal error","status":500}`)
	}
	c.Abort()
	c.Data(status, "application/problem+json", data)
}

// fail maps an error of a use case to its problem. What is not known is logged, not shown.
func fail(c *gin.Context, err error) {
	var field *casework.FieldError
	var missing *casework.NotFoundError
	var state *casework.StateError
	var storage *casework.StorageError
	switch {
	case errors.As(err, &field):
		problem(c, http.StatusUnprocessableEntity, "A value is not accepted", field.Reason, field.Field, field.Accepted)
	case errors.As(err, &missing):
		problem(c, http.StatusNotFound, "Not found", missing.Error(), missing.Kind, missing.Accepted)
	case errors.As(err, &state):
		problem(c, http.StatusConflict, "Not possible now", state.Reason, "", state.Accepted)
	case errors.Is(err, casework.ErrChanged):
		problem(c, http.StatusPreconditionFailed, "Changed meanwhile", "someone else changed this since it was shown", "", "look at it as it is now, then try again")
	case errors.As(err, &storage):
		slog.Error("data folder", "path", shownPath(c), "error", err)
		problem(c, http.StatusInsufficientStorage, "Not saved", storage.Reason, "", storage.Do)
	case errors.Is(err, context.Canceled):
		c.Abort() // whoever asked is gone; there is nobody to tell
	default:
		slog.Error("request failed", "method", c.Request.Method, "path", shownPath(c), "error", err)
		problem(c, http.StatusInternalServerError, "The app failed", "nothing was changed; the reason is in its log", "", "")
	}
}

// shownPath is the address as the contract writes it: a private link's token must not stand in a log.
func shownPath(c *gin.Context) string {
	if route := c.FullPath(); route != "" {
		return route
	}
	return "an address that is not offered"
}
