package httpapi_test

import (
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/gin-gonic/gin"
)

// Every address that is served stands in the contract, and nothing stands there that is not served: also files and events.
func TestEveryRouteStandsInTheContract(t *testing.T) {
	loader := openapi3.NewLoader()
	loader.IsExternalRefsAllowed = true
	spec, err := loader.LoadFromFile(filepath.Join("..", "..", "api", "openapi.yaml"))
	if err != nil {
		t.Fatal(err)
	}
	if err := spec.Validate(loader.Context); err != nil {
		t.Error(err)
	}
	var written, served []string
	for path, item := range spec.Paths.Map() {
		for method := range item.Operations() {
			written = append(written, method+" /api"+strings.NewReplacer("{", ":", "}", "").Replace(path))
		}
	}
	engine, ok := start(t).http.(*gin.Engine)
	if !ok {
		t.Fatal("the handler is no Gin engine: its routes cannot be listed")
	}
	for _, r := range engine.Routes() {
		served = append(served, r.Method+" "+r.Path)
	}
	if len(served) < 60 {
		t.Errorf("only %d routes are served", len(served))
	}
	for _, r := range served {
		if !slices.Contains(written, r) {
			t.Errorf("%s is served and not in the contract", r)
		}
	}
	for _, r := range written {
		if !slices.Contains(served, r) {
			t.Errorf("%s is in the contract and not served", r)
		}
	}
}
