// Package layering holds the one test that keeps the direction of imports.
package layering

import (
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"
)

const module = "innercompass/"

// allowed is what each package may import of the project. Do not loosen it to mend a build: move the code
// to where it belongs.
var allowed = map[string][]string{
	"core/quantity":               {},
	"core/gearing":                {},
	"core/measure":                {},
	"core/money":                  {"core/quantity"},
	"core/converter":              {},
	"core/fasteners":              {},
	"core/friction":               {},
	"core/hydraulics":             {},
	"core/bayes":                  {},
	"core/fluid":                  {"core/attribute", "core/quantity"},
	"core/attribute":              {},
	"core/leak":                   {"core/attribute"},
	"core/unitsheet":              {"core/fluid", "core/friction", "core/gearing", "core/hydraulics", "core/leak", "core/quantity"},
	"core/faultmap":               {"core/gearing", "core/hydraulics", "core/unitsheet"},
	"core/diagnose":               {"core/bayes", "core/knowledge", "core/unitsheet"},
	"core/knowledge":              {"core/bayes", "core/faultmap", "core/gearing", "core/unitsheet"},
	"core/plan":                   {"core/diagnose", "core/faultmap", "core/knowledge", "core/unitsheet"},
	"core/simulate":               {"core/diagnose", "core/knowledge", "core/plan", "core/unitsheet"},
	"core/decide":                 {"core/diagnose", "core/knowledge", "core/money", "core/quantity", "core/unitsheet"},
	"core/proof":                  {"core/diagnose", "core/knowledge", "core/quantity", "core/unitsheet"},
	"core/instrument":             {"core/fluid", "core/measure", "core/quantity", "core/unitsheet"},
	"core/instruments":            {"core/instrument", "core/instruments/bolts", "core/instruments/clutches", "core/instruments/converters", "core/instruments/fluids", "core/instruments/leaks", "core/instruments/pressures", "core/instruments/sizes", "core/unitsheet"},
	"core/instruments/bolts":      {"core/fasteners", "core/instrument", "core/quantity", "core/unitsheet"},
	"core/instruments/clutches":   {"core/friction", "core/hydraulics", "core/instrument", "core/measure", "core/quantity", "core/unitsheet"},
	"core/instruments/converters": {"core/converter", "core/friction", "core/instrument", "core/measure", "core/quantity", "core/unitsheet"},
	"core/instruments/fluids":     {"core/fluid", "core/instrument", "core/measure", "core/quantity", "core/unitsheet"},
	"core/instruments/leaks":      {"core/instrument", "core/leak", "core/quantity", "core/unitsheet"},
	"core/instruments/pressures":  {"core/gearing", "core/hydraulics", "core/instrument", "core/measure", "core/quantity", "core/unitsheet"},
	"core/instruments/sizes":      {"core/instrument", "core/measure", "core/quantity", "core/unitsheet"},
	"knowledge":                   {},
	"web":                         {},
	"internal/catalog":            {"core/knowledge", "core/unitsheet"},
	"internal/casework":           {"core/decide", "core/diagnose", "core/faultmap", "core/fluid", "core/instrument", "core/instruments", "core/knowledge", "core/money", "core/plan", "core/proof", "core/quantity", "core/unitsheet", "internal/picture"},
	"internal/trial":              {"core/diagnose", "core/knowledge", "core/plan", "core/simulate", "internal/catalog", "knowledge"}, // for tests alone
	"internal/picture":            {},
	"internal/store":              {"internal/casework"},
	"internal/record":             {"core/money", "core/quantity", "internal/casework", "internal/picture"},
	"internal/demo":               {"core/knowledge", "internal/casework"},
	"internal/layering":           {},
	"internal/httpapi/gen":        {},
	"internal/httpapi":            {"core/decide", "core/diagnose", "core/faultmap", "core/fluid", "core/gearing", "core/instrument", "core/instruments", "core/knowledge", "core/leak", "core/money", "core/plan", "core/quantity", "core/unitsheet", "internal/casework", "internal/httpapi/gen", "internal/record"},
	"cmd/innercompass":            {"core/decide", "core/diagnose", "core/faultmap", "core/instrument", "core/instruments", "core/knowledge", "core/money", "core/plan", "core/quantity", "core/simulate", "core/unitsheet", "internal/casework", "internal/catalog", "internal/demo", "internal/httpapi", "internal/store", "knowledge", "web"},
}

// pure is what core/ and knowledge/ may import from outside the project: nothing that speaks to a network, a
// database or writes files. "context" only ends long work, "math/rand/v2" is used with a given seed, "embed" reads what was compiled in; "io/fs" is not needed either.
var pure = []string{"bytes", "cmp", "container/heap", "context", "embed", "encoding/csv", "encoding/json", "errors", "fmt", "maps", "math", "math/big", "math/bits", "math/rand/v2", "regexp", "slices", "sort", "strconv", "strings", "unicode", "unicode/utf8", "gonum.org/v1/gonum/mat", "gonum.org/v1/gonum/stat"}

// owners are the packages that alone may use a library.
var owners = map[string][]string{
	"gorm.io/":                 {"internal/store"},
	"github.com/gin-gonic/":    {"internal/httpapi", "internal/httpapi/gen"},
	"github.com/goccy/go-yaml": {"internal/catalog"},
	"github.com/spf13/cobra":   {"cmd/innercompass"},
	"codeberg.org/go-pdf/":     {"internal/record"},
	"github.com/go-fonts/":     {"internal/record"},
	"golang.org/x/image/draw":  {"internal/picture"},
	"github.com/gofrs/flock":   {"internal/store"},
	"github.com/mattn/":        {"internal/store"},
}

func TestImportsPointInwards(t *testing.T) {
	readSources(t)
	out, err := exec.Command("go", "list", "-f", `{{.ImportPath}} {{join .Imports ","}}`, "innercompass/...").Output()
	if err != nil {
		t.Fatal(err)
	}
	lines := strings.Split(strings.TrimSpace(string(out)), "\n")
	if len(lines) < 15 {
		t.Fatalf("only %d packages found", len(lines))
	}
	for _, line := range lines {
		path, imports, _ := strings.Cut(line, " ")
		pkg := strings.TrimPrefix(path, module)
		may, known := allowed[pkg]
		if !known {
			t.Errorf("package %s is not in the table: decide where it belongs and add it", pkg)
		}
		for _, imp := range strings.Split(imports, ",") {
			inside, own := strings.CutPrefix(imp, module)
			switch {
			case imp == "":
			case own && !slices.Contains(may, inside):
				t.Errorf("%s imports %s", pkg, inside)
			case !own && (strings.HasPrefix(pkg, "core/") || pkg == "knowledge") && !slices.Contains(pure, imp):
				t.Errorf("%s imports %s, which is not pure computation", pkg, imp)
			}
			for lib, who := range owners {
				if strings.HasPrefix(imp, lib) && !slices.Contains(who, pkg) {
					t.Errorf("%s imports %s, which belongs to %v", pkg, imp, who)
				}
			}
		}
	}
}

// readSources reads every Go file, so that the test is run again when one has changed: what go list reads is not known to
// the cache of test results.
func readSources(t *testing.T) {
	t.Helper()
	for _, dir := range []string{"core", "internal", "cmd", "knowledge"} {
		err := filepath.WalkDir(filepath.Join("..", "..", dir), func(path string, d fs.DirEntry, err error) error {
			if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") {
				return err
			}
			_, err = os.ReadFile(path)
			return err
		})
		if err != nil {
			t.Fatal(err)
		}
	}
}
