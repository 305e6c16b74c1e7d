package catalog

import (
	"errors"
	"io/fs"
	"strings"
	"testing"
	"testing/fstest"

	embedded "innercompass/knowledge"
)

// files is a copy of the shipped knowledge in which one piece of text of one file is another.
func files(t *testing.T, name, old, broken string) (fstest.MapFS, string) {
	t.Helper()
	out := fstest.MapFS{}
	names, err := fs.Glob(embedded.FS, "trade/*.yaml")
	if err != nil {
		t.Fatal(err)
	}
	for _, n := range names {
		data, err := fs.ReadFile(embedded.FS, n)
		if err != nil {
			t.Fatal(err)
		}
		out[n] = &fstest.MapFile{Data: data}
	}
	text := string(out[name].Data)
	if !strings.Contains(text, old) {
		t.Fatalf("%s no longer has %q", name, old)
	}
	text = strings.Replace(text, old, broken, 1)
	out[name] = &fstest.MapFile{Data: []byte(text)}
	return out, text
}

// Each case breaks the shipped knowledge at one place; the problem must name file and line, the reason, and what is
// accepted.
func TestBrokenKnowledgeIsRefusedWithItsLine(t *testing.T) {
	for _, c := range []struct{ name, file, old, broken, reason string }{
		{"finding that is not there", "trade/clutches.yaml", "clearance-{id} above, usually, because what is worn off", "clearence-{id} above, usually, because what is worn off", "clearence-{id}"},
		{"state that is not there", "trade/clutches.yaml", "plates.{id} worn, usually, because it is the fault itself", "plates.{id} thin, usually, because it is the fault itself", "thin"},
		{"damage that is not there", "trade/gearbox.yaml", "synchro-worn.{id}, always, because that is what it is", "synchro-gone.{id}, always, because that is what it is", "synchro-gone.{id}"},
		{"strength that is not one", "trade/clutches.yaml", "plates.{id} worn, usually, because it is the fault itself", "plates.{id} worn, mostly, because it is the fault itself", "mostly"},
		{"link without a reason", "trade/clutches.yaml", "plates.{id} worn, usually, because it is the fault itself", "plates.{id} worn, usually", ""},
		{"frequency that is not one", "trade/gearbox.yaml", "met: seldom, because of fast shifts and cold oil", "met: monthly, because of fast shifts and cold oil", "monthly"},
		{"frequency without a reason", "trade/gearbox.yaml", "met: seldom, because of fast shifts and cold oil", "met: seldom", ""},
		{"system that is not one", "trade/gearbox.yaml", "system: gears", "system: gaers", "gaers"},
		{"caution left out where it hurts", "trade/pump.yaml", "cautions: [raised, pressure, running, wheels]", "cautions: [raised, running, wheels]", "pressure"},
		{"check that asks for nothing known", "trade/pump.yaml", "yields: [pressure-pattern]", "yields: [pressure-pattren]", "pressure-pattren"},
		{"instrument that is none", "trade/pump.yaml", "access: lifted\n    until: lifted", "access: raised\n    until: lifted", "raised"},
		{"cure of nothing", "trade/options.yaml", "piston-seal.{id} ", "piston-sael.{id} ", "piston-sael"},
		{"link to what is normal", "trade/clutches.yaml", "plates.{id} worn, usually, because it is the fault itself", "plates.{id} sound, usually, because it is the fault itself", "normal"},
		{"key that is not one", "trade/gearbox.yaml", "    ages: wear", "    aegs: wear", "unknown field"},
	} {
		broken, text := files(t, c.file, c.old, c.broken)
		_, err := LoadKnowledge(broken)
		var problems Problems
		if !errors.As(err, &problems) {
			t.Errorf("%s: no problem found (%v)", c.name, err)
			continue
		}
		want, found := lineOf(text, c.broken), false
		if strings.Contains(c.broken, "\n") {
			want = lineOf(text, strings.SplitN(c.broken, "\n", 2)[0])
		}
		for _, p := range problems {
			// A list of an entry is written in one line; an entry's field is named by its own.
			found = found || p.File == c.file && p.Line >= want-1 && p.Line <= want+1 && strings.Contains(p.Error(), c.reason) && (p.Accepted != "" || strings.Contains(p.Reason, "unknown field"))
		}
		if !found {
			t.Errorf("%s: want %s near line %d with %q, got\n%.600s", c.name, c.file, want, c.reason, err)
		}
	}
}

func TestAnEntryThatNothingReachesIsRefused(t *testing.T) {
	for _, c := range []struct{ name, add, reason string }{
		{"finding", "findings:\n  - {id: lonely, title: Lonely, stage: checks, states: [\"no: no\", \"yes 1%: yes\"]}\n", "lonely"},
		{"cause", "causes:\n  - id: silent\n    title: Silent\n    system: fluid\n    met: rarely, because nobody noticed\n    repair: {hours: 1, parts: 0, access: ground}\n", "it shows nothing"},
		{"cycle", "damages:\n  - id: hen\n    title: Hen\n    system: fluid\n    brings: [\"egg, always, because hens lay\"]\n    shows: [\"fluid-look dark, often, because it clucks\"]\n    repair: {hours: 1, parts: 0, access: ground}\n  - id: egg\n    title: Egg\n    system: fluid\n    brings: [\"hen, always, because they hatch\"]\n    repair: {hours: 1, parts: 0, access: ground}\n", "cycle"},
		{"id used twice", "damages:\n  - id: fluid-water\n    title: Again\n    system: fluid\n    repair: {hours: 1, parts: 0, access: ground}\n", "fluid-water"},
	} {
		all, _ := files(t, "trade/fluid.yaml", "", "")
		all["trade/zz.yaml"] = &fstest.MapFile{Data: []byte(c.add)}
		_, err := LoadKnowledge(all)
		if err == nil || !strings.Contains(err.Error(), c.reason) {
			t.Errorf("%s: %v", c.name, err)
		}
	}
}
