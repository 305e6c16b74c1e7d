package find_test

import (
	"strings"
	"testing"

	"innercompass/core/find"
)

var alike = find.Alike{{"transmission", "gearbox"}, {"wiring harness", "loom"}, {"driveshaft", "propshaft", "prop shaft"}}

var things = []find.Entry{
	{Kind: "cause", ID: "a", Title: "Direct clutch piston seal hardened", Detail: "clutches"},
	{Kind: "cause", ID: "b", Title: "Seal rings at the direct drum worn"},
	{Kind: "check", ID: "c", Title: "Air into the direct clutch feed", Text: "tells the piston seal from the rings"},
	{Kind: "check", ID: "d", Title: "Line pressure, cold and hot"},
	{Kind: "cause", ID: "e", Title: "Wiring harness chafed at the transmission"},
	{Kind: "code", ID: "f", Title: "P0741 converter clutch stuck off"},
	{Kind: "cause", ID: "g", Title: "Driveshaft out of balance"},
	{Kind: "cause", ID: "h", Title: "2–3 shift valve bore worn"},
}

func TestWordsOfTheTradeFindTheirThings(t *testing.T) {
	ix := find.New(alike, things)
	for query, want := range map[string]string{
		"seal":           "b a c", // what begins so comes first, what only the text says last
		"pist":           "a c",
		"sealing direct": "b a c",
		"seal ring":      "b c",
		"loom":           "e",
		"gearbox loom":   "e",
		"prop shaft":     "g",
		"propshaft":      "g",
		"p0741":          "f",
		"P074":           "f",
		"presure":        "d", // a slip of the pen
		"2-3":            "h", // whichever dash
		"2–3":            "h",
		"line hot":       "d",
		"zebra":          "",
		"seal zebra":     "",
		"":               "",
		" ( ":            "",
	} {
		var got []string
		for _, e := range ix.Search(query, 10) {
			got = append(got, e.ID)
		}
		if g := strings.Join(got, " "); g != want {
			t.Errorf("%q finds %q, want %q", query, g, want)
		}
	}
}

func TestSoManyOfEachKind(t *testing.T) {
	found := find.New(nil, things).Search("seal", 1)
	if len(found) != 2 || found[0].Kind == found[1].Kind {
		t.Errorf("one of each kind wanted: %v", found)
	}
}

func TestATextInTheWordsThatAreWritten(t *testing.T) {
	for text, want := range map[string]string{"Loom of the gearbox": "wiring harness of the transmission", "bloom": "bloom", "": ""} {
		if got := alike.Written(text); got != want {
			t.Errorf("%q: %q, want %q", text, got, want)
		}
	}
}

func TestWordsAlikeAreChecked(t *testing.T) {
	if p := (find.Alike{{"pan", "sump"}, {"oil", "sump"}}).Validate(); len(p) != 1 || p[0].Path != "alike[1]" {
		t.Errorf("a word in two lists: %v", p)
	}
	if p := (find.Alike{{"pan"}}).Validate(); len(p) != 1 {
		t.Errorf("a word alone: %v", p)
	}
}
