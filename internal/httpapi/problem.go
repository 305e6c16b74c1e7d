package httpapi

import (
	"context"
	"encoding/json"
	"errors"
	"log/slog"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"innercompass/internal/httpapi/gen"
	"innercompass/internal/people"
	"innercompass/internal/problem"
)

// kind is what sort of problem it is: its type, which programs may rely on, its status and its title.
type kind struct {
	code   string
	status int
	title  string
}

// The kinds of problem; the contract lists their types.
var (
	notAccepted      = kind{"not-accepted", http.StatusUnprocessableEntity, "A value is not accepted"}
	notFound         = kind{"not-found", http.StatusNotFound, "Not found"}
	notNow           = kind{"not-now", http.StatusConflict, "Not possible now"}
	changedMeanwhile = kind{"changed-meanwhile", http.StatusPreconditionFailed, "Changed meanwhile"}
	notSaved         = kind{"not-saved", http.StatusInsufficientStorage, "Not saved"}
	failed           = kind{"failed", http.StatusInternalServerError, "The app failed"}
	wrongMethod      = kind{"method-not-allowed", http.StatusMethodNotAllowed, "Method not allowed"}
	tooLarge         = kind{"too-large", http.StatusRequestEntityTooLarge, "Too large"}
	notUnderstood    = kind{"not-understood", http.StatusBadRequest, "The request is not understood"}
	notThisServer    = kind{"not-this-server", http.StatusMisdirectedRequest, "Not this server"}
	notSignedIn      = kind{"not-signed-in", http.StatusUnauthorized, "Not signed in"}
	notYours         = kind{"not-yours", http.StatusForbidden, "Not for you"}
	refused          = kind{"refused", http.StatusForbidden, "Refused"}
	notJSON          = kind{"not-json", http.StatusUnsupportedMediaType, "Not JSON"}
	tooManyTries     = kind{"too-many-tries", http.StatusTooManyRequests, "Too many tries"}
	noFront          = kind{"no-front-end", http.StatusServiceUnavailable, "No front end"}
	tooManyPages     = kind{"too-many-pages", http.StatusServiceUnavailable, "Too many pages"}
)

// Type is what stands in the problem document (RFC 9457, 3.1.1).
func (k kind) Type() string { return "urn:inner-compass:problem:" + k.code }

// writeProblem writes an RFC 9457 problem document: what was wrong, where, what would be accepted.
func writeProblem(c *gin.Context, k kind, detail, field, accepted string) {
	p := gen.Problem{Type: gen.ProblemType(k.Type()), Title: k.title, Status: k.status}
	for to, text := range map[**string]string{&p.Detail: detail, &p.Field: field, &p.Accepted: accepted} {
		if text != "" {
			*to = &text
		}
	}
	data, err := json.Marshal(p)
	if err != nil {
		data = []byte(`{"type":"` + failed.Type() + `","title":"internal error","status":500}`)
	}
	c.Abort()
	c.Data(k.status, "application/problem+json", data)
}

// fail maps an error of a use case to its problem. What is not known is logged, not shown.
func fail(c *gin.Context, err error) {
	var field *problem.FieldError
	var missing *problem.NotFoundError
	var state *problem.StateError
	var storage *problem.StorageError
	var wait *people.WaitError
	switch {
	case errors.Is(err, people.ErrWrong):
		writeProblem(c, notSignedIn, "name and secret do not match", "", "another try; after five wrong ones each has to wait")
	case errors.As(err, &wait):
		c.Header("Retry-After", strconv.Itoa(int(wait.For.Seconds())+1))
		writeProblem(c, tooManyTries, "too many wrong ones", "", "again in "+wait.For.String())
	case errors.As(err, &field):
		writeProblem(c, notAccepted, field.Reason, field.Field, field.Accepted)
	case errors.As(err, &missing):
		writeProblem(c, notFound, missing.Error(), missing.Kind, missing.Accepted)
	case errors.As(err, &state):
		writeProblem(c, notNow, state.Reason, "", state.Accepted)
	case errors.Is(err, problem.ErrChanged):
		writeProblem(c, changedMeanwhile, "someone else changed this since it was shown", "", "look at it as it is now, then try again")
	case errors.As(err, &storage):
		slog.Error("data folder", "request", c.GetString(requestKey), "path", shownPath(c), "error", err)
		writeProblem(c, notSaved, storage.Reason, "", storage.Do)
	case errors.Is(err, context.Canceled), errors.Is(c.Request.Context().Err(), context.Canceled): // the database may have another word for it
		c.Abort() // whoever asked is gone; there is nobody to tell
	default:
		slog.Error("request failed", "request", c.GetString(requestKey), "method", c.Request.Method, "path", shownPath(c), "error", err)
		writeProblem(c, failed, "nothing was changed; the reason is in its log", "", "")
	}
}

// shownPath is the address as the contract writes it: a private link's token must not stand in a log.
func shownPath(c *gin.Context) string {
	if route := c.FullPath(); route != "" {
		return route
	}
	return "an address that is not offered"
}
