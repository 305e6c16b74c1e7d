package httpapi

import (
	"errors"
	"net/http"
	"strings"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers"
	"github.com/getkin/kin-openapi/routers/gorillamux"
	"github.com/gin-gonic/gin"
)

// maxBody is the largest request body, in bytes.
const maxBody = 256 << 10

// validator refuses what the contract in api/openapi.yaml does not allow, before any handler runs.
func validator(spec *openapi3.T) (gin.HandlerFunc, error) {
	router, err := gorillamux.NewRouter(spec)
	if err != nil {
		return nil, err
	}
	return func(c *gin.Context) {
		c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, maxBody)
		route, params, err := router.FindRoute(c.Request)
		switch {
		case errors.Is(err, routers.ErrMethodNotAllowed):
			problem(c, http.StatusMethodNotAllowed, "Method not allowed", c.Request.Method+" is not offered here", "", "see api/openapi.yaml")
			return
		case err != nil:
			problem(c, http.StatusNotFound, "Not found", "no such address", "", "see api/openapi.yaml")
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

func refuse(c *gin.Context, err error) {
	var tooLarge *http.MaxBytesError
	if errors.As(err, &tooLarge) {
		problem(c, http.StatusRequestEntityTooLarge, "Too large", "the body is larger than 256 KiB", "", "at most 256 KiB")
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
	problem(c, http.StatusBadRequest, "The request is not understood", detail, field, "see api/openapi.yaml")
}
