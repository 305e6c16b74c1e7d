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
	"core/chart":                  {"core/gearing"},
	"core/teeth":                  {"core/gearing"},
	"core/builder":                {"core/chart", "core/faultmap", "core/gearing", "core/quantity", "core/roadtest", "core/scheme", "core/teeth", "core/unitsheet"},
	"core/stack":                  {"core/quantity"},
	"core/burnt":                  {"core/friction", "core/gearing", "core/measure", "core/quantity", "core/stack", "core/unitsheet"},
	"core/workbench":              {"core/measure", "core/quantity", "core/stack", "core/unitsheet"},
	"core/workhours":              {},
	"core/pert":                   {},
	"core/preorder":               {},
	"core/week":                   {"core/workhours"},
	"core/job":                    {"core/diagnose", "core/estimate", "core/knowledge", "core/pert", "core/preorder", "core/pricebook", "core/unitsheet", "core/workbench", "core/workhours"},
	"core/boxes":                  {},
	"core/piston":                 {"core/hydraulics", "core/quantity", "core/unitsheet"},
	"core/powertrain":             {"core/unitsheet"},
	"core/drivetrain":             {"core/boxes", "core/gearing", "core/powertrain", "core/unitsheet"},
	"core/roadlog":                {"core/powertrain", "core/shifts", "core/sim", "core/unitsheet"},
	"core/trials":                 {"core/shifts"},
	"core/sine":                   {},
	"core/lockup":                 {"core/shifts", "core/sine"},
	"core/creep":                  {"core/shifts", "core/sine"},
	"core/vehiclebench":           {"core/faultmap", "core/roadlog", "core/roadtest", "core/shifts", "core/sim", "core/testdrive", "core/unitsheet"},
	"core/testdrive":              {"core/faultmap", "core/gearing", "core/powertrain", "core/sim", "core/unitsheet"},
	"core/sim":                    {"core/boxes", "core/drivetrain", "core/gearing", "core/piston", "core/powertrain", "core/unitsheet"},
	"core/shifts":                 {"core/gearing", "core/gearing", "core/unitsheet"},
	"core/scheme":                 {"core/gearing", "core/teeth", "core/unitsheet"},
	"core/unitsheet":              {"core/chart", "core/fluid", "core/friction", "core/gearing", "core/hydraulics", "core/leak", "core/quantity", "core/stack"},
	"core/faultmap":               {"core/chart", "core/gearing", "core/hydraulics", "core/unitsheet"},
	"core/diagnose":               {"core/bayes", "core/knowledge", "core/unitsheet"},
	"core/find":                   {"core/phrase"},
	"core/roadtest":               {"core/faultmap", "core/gearing", "core/phrase", "core/unitsheet"},
	"core/knowledge":              {"core/bayes", "core/faultmap", "core/gearing", "core/unitsheet"},
	"core/plan":                   {"core/diagnose", "core/faultmap", "core/knowledge", "core/roadtest", "core/unitsheet"},
	"core/intake":                 {"core/phrase"},
	"core/phrase":                 {},
	"core/heard":                  {"core/gearing", "core/intake", "core/knowledge", "core/unitsheet"},
	"core/wordbench":              {"core/intake"},
	"core/simulate":               {"core/diagnose", "core/knowledge", "core/plan", "core/unitsheet"},
	"core/estimate":               {"core/knowledge", "core/money", "core/pricebook", "core/unitsheet"},
	"core/decide":                 {"core/diagnose", "core/estimate", "core/knowledge", "core/money", "core/pricebook", "core/unitsheet"},
	"core/pricebook":              {"core/knowledge", "core/money", "core/quantity", "core/unitsheet"},
	"core/casebench":              {"core/decide", "core/diagnose", "core/knowledge", "core/plan", "core/pricebook", "core/quantity", "core/unitsheet"},
	"core/proof":                  {"core/diagnose", "core/knowledge", "core/quantity", "core/unitsheet"},
	"core/instrument":             {"core/fluid", "core/measure", "core/quantity", "core/unitsheet"},
	"core/instruments":            {"core/instrument", "core/instruments/bolts", "core/instruments/clutches", "core/instruments/converters", "core/instruments/fluids", "core/instruments/leaks", "core/instruments/listening", "core/instruments/pressures", "core/instruments/sizes", "core/instruments/vibrations", "core/unitsheet"},
	"core/instruments/bolts":      {"core/fasteners", "core/instrument", "core/quantity", "core/unitsheet"},
	"core/instruments/clutches":   {"core/friction", "core/hydraulics", "core/instrument", "core/measure", "core/quantity", "core/unitsheet"},
	"core/instruments/converters": {"core/converter", "core/friction", "core/instrument", "core/measure", "core/quantity", "core/unitsheet"},
	"core/instruments/fluids":     {"core/fluid", "core/instrument", "core/measure", "core/quantity", "core/unitsheet"},
	"core/instruments/leaks":      {"core/instrument", "core/leak", "core/quantity", "core/unitsheet"},
	"core/instruments/pressures":  {"core/gearing", "core/hydraulics", "core/instrument", "core/measure", "core/quantity", "core/unitsheet"},
	"core/listen":                 {"core/gearing", "core/unitsheet"},
	"core/instruments/listening":  {"core/instrument", "core/listen", "core/quantity", "core/unitsheet", "core/vibration"},
	"core/instruments/vibrations": {"core/balance", "core/instrument", "core/joints", "core/measure", "core/quantity", "core/unitsheet", "core/vibration"},
	"core/instruments/sizes":      {"core/instrument", "core/measure", "core/quantity", "core/unitsheet"},
	"knowledge":                   {},
	"web":                         {},
	"core/balance":                {},
	"core/joints":                 {},
	"core/orders":                 {"core/signal", "core/unitsheet", "core/vibration"},
	"core/recording":              {},
	"core/signal":                 {},
	"core/synth":                  {"core/signal"},
	"core/vibration":              {"core/gearing", "core/unitsheet"},
	"core/generic":                {"core/builder", "core/unitsheet"},
	"internal/catalog":            {"core/builder", "core/casebench", "core/find", "core/heard", "core/intake", "core/knowledge", "core/scheme", "core/unitsheet", "core/wordbench"},
	"internal/problem":            {},
	"internal/audit":              {},
	"internal/clock":              {},
	"internal/certs":              {},
	"internal/privacy":            {"internal/problem"},
	"internal/archive":            {},
	"internal/handover":           {"internal/problem", "internal/app", "internal/archive", "internal/cases", "internal/paper", "internal/records", "internal/signing", "internal/store"},
	"internal/backup":             {"internal/problem"},
	"internal/reserve":            {"internal/backup"},
	"internal/reserve/replica":    {"internal/reserve"}, // a SQLite of its own: never in the process that has the store open
	"cmd/innercompass/reserve":    {"cmd/innercompass/cli", "internal/backup", "internal/reserve", "internal/reserve/replica", "internal/store"},
	"internal/signing":            {},
	"internal/people":             {"internal/problem"},
	"internal/library":            {"core/generic", "core/gearing", "core/knowledge", "core/unitsheet", "internal/problem"},
	"internal/ics":                {},
	"internal/jobs":               {"internal/ics", "core/decide", "core/diagnose", "core/estimate", "core/job", "core/knowledge", "core/pricebook", "core/unitsheet", "core/week", "core/workbench", "core/workhours", "internal/assessing", "internal/cases", "internal/problem", "internal/shop"},
	"internal/shop":               {"core/job", "core/week", "core/workhours", "core/diagnose", "core/instrument", "core/knowledge", "core/money", "core/plan", "core/pricebook", "core/quantity", "internal/library", "internal/problem"},
	"internal/cases":              {"core/diagnose", "core/knowledge", "core/workbench", "internal/library", "internal/problem", "internal/shop"},
	"internal/assessing":          {"core/diagnose", "core/knowledge", "core/plan", "core/unitsheet", "internal/cases", "internal/shop"},
	"internal/present":            {"core/diagnose", "core/faultmap", "core/knowledge", "core/plan", "core/proof", "core/quantity", "core/roadtest", "core/unitsheet", "core/workbench", "internal/assessing", "internal/cases"},
	"internal/floor":              {"core/diagnose", "core/knowledge", "core/plan", "internal/assessing", "internal/cases", "internal/library", "internal/present", "internal/problem", "internal/shop"},
	"internal/readings":           {"core/diagnose", "core/knowledge", "internal/cases", "internal/problem"},
	"internal/measuring":          {"core/fluid", "core/instrument", "core/instruments", "core/knowledge", "core/quantity", "core/unitsheet", "internal/cases", "internal/library", "internal/problem", "internal/readings", "internal/shop"},
	"internal/checks":             {"core/instrument", "core/knowledge", "core/plan", "core/unitsheet", "internal/shop", "internal/assessing", "internal/cases", "internal/measuring", "internal/problem", "internal/readings"},
	"internal/takein":             {"core/workbench", "core/diagnose", "core/knowledge", "core/quantity", "core/unitsheet", "internal/cases", "internal/library", "internal/measuring", "internal/present", "internal/problem", "internal/readings", "internal/shop"},
	"internal/quoting":            {"internal/people", "core/estimate", "core/job", "core/workbench", "core/decide", "core/knowledge", "core/money", "internal/assessing", "internal/cases", "internal/present", "internal/problem", "internal/shop"},
	"internal/records":            {"internal/signing", "internal/teardown", "core/decide", "core/diagnose", "core/instruments", "core/knowledge", "core/quantity", "internal/assessing", "internal/cases", "internal/picture", "internal/present", "internal/problem", "internal/quoting"},
	"internal/verification":       {"internal/ics", "core/knowledge", "core/quantity", "internal/cases", "internal/present", "internal/problem", "internal/shop", "internal/teardown"},
	"internal/overview":           {"internal/people", "core/diagnose", "core/knowledge", "core/plan", "internal/assessing", "internal/cases", "internal/floor", "internal/takein", "internal/library", "internal/present", "internal/problem", "internal/shop"},
	"internal/building":           {"core/builder", "core/gearing", "core/generic", "core/knowledge", "core/quantity", "core/scheme", "core/unitsheet", "internal/cases", "internal/library", "internal/problem"},
	"internal/traces":             {},
	"internal/recordings":         {"core/trials", "core/recording", "core/vibration", "internal/cases", "internal/library", "internal/problem", "internal/traces"},
	"internal/hearing":            {"core/knowledge", "core/orders", "core/recording", "core/signal", "core/unitsheet", "core/vibration", "internal/cases", "internal/library", "internal/problem", "internal/readings", "internal/recordings", "internal/traces"},
	"core/obd":                    {},
	"internal/scan":               {"core/obd"},
	"internal/standin":            {"core/obd", "core/powertrain", "core/sim", "core/unitsheet", "internal/scan"},
	"internal/live":               {"core/faultmap", "core/obd", "core/recording", "core/roadlog", "core/sim", "core/testdrive", "core/unitsheet", "internal/cases", "internal/library", "internal/problem", "internal/readings", "internal/recordings", "internal/scan", "internal/standin"},
	"internal/shifting":           {"core/creep", "core/faultmap", "core/knowledge", "core/lockup", "core/quantity", "core/recording", "core/shifts", "core/trials", "core/unitsheet", "internal/cases", "internal/library", "internal/present", "internal/problem", "internal/readings", "internal/recordings", "internal/traces", "internal/verification"},
	"internal/search":             {"core/find", "core/instrument", "core/knowledge", "internal/cases", "internal/floor", "internal/library", "internal/problem", "internal/takein"},
	"internal/teardown":           {"core/diagnose", "core/burnt", "core/measure", "internal/assessing", "core/knowledge", "core/quantity", "core/unitsheet", "core/workbench", "internal/cases", "internal/problem", "internal/readings", "internal/shop"},
	"internal/wording":            {},
	"internal/said":               {"core/wordbench", "core/faultmap", "core/roadtest", "core/heard", "core/intake", "core/knowledge", "internal/cases", "internal/library", "internal/problem", "internal/readings"},
	"internal/interview":          {"internal/said", "core/diagnose", "core/knowledge", "core/plan", "internal/assessing", "internal/cases", "internal/problem", "internal/readings", "internal/shop"},
	"internal/planning":           {"internal/problem", "core/diagnose", "core/knowledge", "core/plan", "internal/assessing", "internal/cases", "internal/shop"},
	"internal/app":                {"internal/live", "internal/shifting", "internal/reserve", "internal/privacy", "internal/backup", "internal/audit", "internal/clock", "internal/people", "internal/jobs", "internal/hearing", "internal/recordings", "core/builder", "core/find", "core/instruments", "core/intake", "core/scheme", "core/wordbench", "internal/assessing", "internal/building", "internal/cases", "internal/checks", "internal/floor", "internal/interview", "internal/library", "internal/measuring", "internal/overview", "internal/planning", "internal/quoting", "internal/readings", "internal/records", "internal/said", "internal/search", "internal/shop", "internal/takein", "internal/teardown", "internal/verification"},
	"internal/app/apptest":        {"internal/app", "internal/cases", "internal/floor", "internal/takein", "internal/present", "internal/problem", "internal/readings", "internal/store", "internal/trial"}, // for tests alone
	"internal/paper":              {"core/job", "internal/jobs", "core/money", "core/quantity", "internal/picture", "internal/records"},
	"internal/trial":              {"core/diagnose", "core/knowledge", "core/plan", "core/simulate", "internal/catalog", "knowledge"}, // for tests alone
	"internal/picture":            {},
	"internal/store":              {"internal/reserve", "internal/privacy", "internal/archive", "internal/signing", "internal/audit", "internal/people", "internal/jobs", "internal/recordings", "internal/building", "internal/cases", "internal/floor", "internal/library", "internal/problem", "internal/said", "internal/search", "internal/shop"},
	"internal/demo":               {"core/roadlog", "core/sim", "core/trials", "internal/people", "core/workhours", "internal/jobs", "core/workbench", "core/recording", "core/synth", "core/vibration", "internal/recordings", "core/knowledge", "internal/app", "internal/cases", "internal/takein", "internal/measuring", "internal/quoting", "internal/readings", "internal/records", "internal/shop", "internal/verification"},
	"internal/layering":           {},
	"internal/httpapi/gen":        {},
	"internal/httpapi":            {"core/sim", "internal/live", "core/shifts", "core/trials", "internal/shifting", "internal/reserve", "internal/privacy", "internal/backup", "internal/signing", "internal/audit", "internal/people", "core/job", "core/week", "core/workhours", "internal/jobs", "core/orders", "core/recording", "core/signal", "internal/hearing", "internal/recordings", "core/builder", "core/decide", "core/diagnose", "core/estimate", "core/faultmap", "core/fluid", "core/gearing", "core/instrument", "core/instruments", "core/intake", "core/knowledge", "core/leak", "core/money", "core/plan", "core/pricebook", "core/quantity", "core/roadtest", "core/scheme", "core/teeth", "core/unitsheet", "internal/app", "internal/assessing", "internal/building", "internal/cases", "internal/checks", "internal/floor", "internal/httpapi/gen", "internal/interview", "internal/library", "internal/measuring", "internal/overview", "internal/paper", "internal/planning", "internal/present", "internal/problem", "internal/quoting", "internal/readings", "internal/records", "internal/said", "internal/search", "internal/shop", "internal/takein", "internal/teardown", "internal/verification", "core/burnt", "core/fasteners", "core/stack", "core/workbench"},
	"cmd/innercompass/cli":        {},
	"cmd/innercompass/bench":      {"core/vehiclebench", "cmd/innercompass/cli", "core/builder", "core/casebench", "core/heard", "core/intake", "core/knowledge", "core/simulate", "core/unitsheet", "core/wordbench", "internal/catalog", "internal/shop", "knowledge"},
	"cmd/innercompass/drives":     {"cmd/innercompass/cli", "core/faultmap", "core/shifts", "internal/shifting", "core/orders", "core/vibration", "internal/app", "internal/catalog", "internal/hearing", "internal/problem", "internal/recordings", "internal/store", "knowledge"},
	"cmd/innercompass/soak":       {}, // tests alone
	"cmd/innercompass/doors":      {"cmd/innercompass/cli", "internal/app", "internal/certs", "internal/httpapi"},
	"cmd/innercompass/folder":     {"internal/archive", "internal/catalog", "internal/handover", "knowledge", "internal/backup", "internal/records", "internal/signing", "cmd/innercompass/cli", "internal/app", "internal/people", "internal/store"},
	"cmd/innercompass":            {"cmd/innercompass/reserve", "internal/backup", "internal/reserve", "internal/archive", "internal/handover", "cmd/innercompass/doors", "cmd/innercompass/folder", "cmd/innercompass/drives", "cmd/innercompass/bench", "cmd/innercompass/cli", "core/builder", "core/casebench", "core/decide", "core/diagnose", "core/faultmap", "core/gearing", "core/heard", "core/instrument", "core/instruments", "core/intake", "core/knowledge", "core/money", "core/plan", "core/quantity", "core/roadtest", "core/scheme", "core/simulate", "core/stack", "core/teeth", "core/unitsheet", "internal/app", "internal/catalog", "internal/demo", "internal/floor", "internal/httpapi", "internal/records", "internal/shop", "internal/store", "internal/takein", "knowledge", "web"},
}

// pure is what core/ and knowledge/ may import from outside the project: nothing that speaks to a network, a
// database or writes files. "context" only ends long work, "math/rand/v2" is used with a given seed, "embed" reads what was compiled in; "io/fs" is not needed either.
var pure = []string{"bytes", "bufio", "cmp", "compress/gzip", "container/heap", "context", "embed", "encoding/binary", "encoding/csv", "encoding/json", "errors", "fmt", "io", "maps", "math", "math/cmplx", "math/big", "math/bits", "math/rand/v2", "path", "regexp", "slices", "sort", "strconv", "strings", "unicode", "unicode/utf8", "golang.org/x/image/riff", "gonum.org/v1/gonum/dsp/fourier", "gonum.org/v1/gonum/floats", "gonum.org/v1/gonum/mat", "gonum.org/v1/gonum/stat", "gonum.org/v1/gonum/stat/distuv"}

// calendars count by moments that they are given; the rest of core/ has no time, and nothing there asks what time it is.
var calendars = []string{"core/workhours", "core/week", "core/job"}

// owners are the packages that alone may use a library.
var owners = map[string][]string{
	"gorm.io/":                 {"internal/store"},
	"github.com/gin-gonic/":    {"internal/httpapi", "internal/httpapi/gen"},
	"github.com/goccy/go-yaml": {"internal/catalog"},
	"github.com/spf13/cobra":   {"cmd/innercompass/reserve", "cmd/innercompass/doors", "cmd/innercompass/folder", "cmd/innercompass", "cmd/innercompass/drives", "cmd/innercompass/bench", "cmd/innercompass/cli"},
	"codeberg.org/go-pdf/":     {"internal/paper"},
	"github.com/go-fonts/":     {"internal/paper"},
	"golang.org/x/image/draw":  {"internal/picture"},
	"github.com/arran4/":       {"internal/ics"},
	"github.com/gofrs/flock":   {"internal/store", "internal/reserve/replica"},
	"github.com/benbjohnson/":  {"internal/reserve/replica"},
	"github.com/mattn/":        {"internal/store"},
	"github.com/yeqown/":       {"internal/httpapi"},
	"filippo.io/":              {"internal/backup"},
	"github.com/go-webauthn/":  {"internal/people"},
	"github.com/alexedwards/":  {"internal/people"},
	"github.com/ccojocar/":     {"internal/people"},
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
			case imp == "time" && slices.Contains(calendars, pkg):
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
