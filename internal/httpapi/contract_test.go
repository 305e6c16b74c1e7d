package httpapi_test

import (
	"fmt"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/gin-gonic/gin"

	"innercompass/internal/httpapi/gen"
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

// Programs may rely on the type of a problem: each has one of those that the contract lists, and the status that goes with it.
func TestProblemsHaveAStableType(t *testing.T) {
	a := start(t)
	id := a.minibus()
	for kind, req := range map[string][]string{
		"not-found 404":          {"GET", "/api/cases/nobody", ""},
		"method-not-allowed 405": {"POST", "/api/settings", "{}"},
		"not-understood 400":     {"POST", "/api/cases/" + id + "/readings", `{"readings":[]}`},
		"not-accepted 422":       {"POST", "/api/cases/" + id + "/readings", `{"readings":[{"finding":"made-up","state":"x","source":"seen"}]}`},
		"not-now 409":            {"POST", "/api/cases/" + id + "/checks/stick-right/results", `{"values":{}}`},
		"changed-meanwhile 412":  {"PUT", "/api/prices", `{"prices":[]}`, "If-Match", `"old"`},
		"too-large 413":          {"POST", "/api/cases", `{"words":"` + strings.Repeat("x", 300<<10) + `"}`},
	} {
		w := a.do(req[0], req[1], req[2], req[3:]...)
		p := decode[gen.Problem](t, w)
		if got := fmt.Sprintf("%s %d", strings.TrimPrefix(string(p.Type), "urn:inner-compass:problem:"), w.Code); got != kind || !p.Type.Valid() || p.Status != w.Code {
			t.Errorf("%s %s: %s, want %s", req[0], req[1], got, kind)
		}
	}
}
