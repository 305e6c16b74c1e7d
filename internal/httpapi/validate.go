package httpapi

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"strings"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers"
	"github.com/getkin/kin-openapi/routers/gorillamux"
	"github.com/gin-gonic/gin"
)

// maxBody is the largest request body, in bytes, of an operation that says nothing else; x-max-body in the contract does.
const maxBody = 256 << 10

// validator refuses what the contract in api/openapi.yaml does not allow, before any handler runs.
func validator(spec *openapi3.T) (gin.HandlerFunc, error) {
	router, err := gorillamux.NewRouter(spec)
	if err != nil {
		return nil, err
	}
	return func(c *gin.Context) {
		route, params, err := router.FindRoute(c.Request)
		switch {
		case errors.Is(err, routers.ErrMethodNotAllowed):
			writeProblem(c, wrongMethod, c.Request.Method+" is not offered here", "", "see api/openapi.yaml")
			return
		case err != nil:
			writeProblem(c, notFound, "no such address", "", "see api/openapi.yaml")
			return
		}
		if err := read(c, bodyLimit(route.Operation)); err != nil {
			refuse(c, err)
			return
		}
		err = openapi3filter.ValidateRequest(c.Request.Context(), &openapi3filter.RequestValidationInput{Request: c.Request, PathParams: params, Route: route})
		if err != nil {
			refuse(c, err)
			return
		}
		c.Next()
	}, nil
}

// bodyLimit is how large the body of an operation may be.
func bodyLimit(op *openapi3.Operation) int64 {
	if n, ok := op.Extensions["x-max-body"].(float64); ok {
		return int64(n)
	}
	return maxBody
}

// read takes in a body of bounded size and refuses JSON with a key twice, or with something behind it: what reads it next would
// take the last, or pass over the rest, without a word.
func read(c *gin.Context, most int64) error {
	if c.Request.Body == nil {
		return nil
	}
	data, err := io.ReadAll(http.MaxBytesReader(c.Writer, c.Request.Body, most))
	if err != nil {
		return err
	}
	c.Request.Body = io.NopCloser(bytes.NewReader(data))
	if len(data) == 0 || !strings.Contains(c.ContentType(), "json") {
		return nil
	}
	return onceEach(data)
}

// onceEach walks through JSON and fails on a key that an object has twice, and on something behind the value. What is no JSON at
// all is left to whoever reads it for good.
func onceEach(data []byte) error {
	dec := json.NewDecoder(bytes.NewReader(data))
	type level struct {
		object, key bool // key: a key is next
		seen        map[string]bool
	}
	var open []level
	for {
		token, err := dec.Token()
		if err != nil {
			return nil //nolint:nilerr // the contract's check says what is wrong with it
		}
		if n := len(open); n > 0 && open[n-1].object {
			top := &open[n-1]
			if name, ok := token.(string); ok && top.key {
				if top.seen[name] {
					return fmt.Errorf("the key %q is there twice", name)
				}
				top.seen[name], top.key = true, false
				continue
			}
			top.key = true
		}
		switch token {
		case json.Delim('{'):
			open = append(open, level{object: true, key: true, seen: map[string]bool{}})
		case json.Delim('['):
			open = append(open, level{})
		case json.Delim('}'), json.Delim(']'):
			open = open[:len(open)-1]
		}
		if len(open) == 0 {
			if _, err := dec.Token(); !errors.Is(err, io.EOF) {
				return errors.New("something follows the value")
			}
			return nil
		}
	}
}

func refuse(c *gin.Context, err error) {
	var over *http.MaxBytesError
	if errors.As(err, &over) {
		writeProblem(c, tooLarge, fmt.Sprintf("the body is larger than %d KiB", over.Limit>>10), "", fmt.Sprintf("at most %d KiB", over.Limit>>10))
		return
	}
	field, detail := "", err.Error()
	var re *openapi3filter.RequestError
	if errors.As(err, &re) {
		detail = re.Error()
		if re.Parameter != nil {
			field = re.Parameter.Name
		}
	}
	var se *openapi3.SchemaError
	if errors.As(err, &se) {
		detail = se.Reason
		if at := strings.Join(se.JSONPointer(), "."); at != "" {
			field = at
		}
	}
	if i := strings.IndexByte(detail, '\n'); i > 0 {
		detail = detail[:i]
	}
	writeProblem(c, notUnderstood, detail, field, "see api/openapi.yaml")
}
