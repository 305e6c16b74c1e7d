package intake

import (
	"strings"
	"testing"
)

// small is a lexicon of a few words, so that the grammar is seen by itself.
var small = Lexicon{
	Same:    map[string]string{"clunk": "clonk", "reverse": "reverse gear"},
	Classes: map[string]string{"gear": "second / third / reverse", "part": "pump / gasket", "verdict": "worn", "worked": "replace", "workdone": "replace"},
	Words: []Entry{
		{Role: Find, ID: "slip", Title: "Slips", Ways: "slip", Says: []string{"cell.{range} slips", "says-slips yes"}, Denied: []string{"says-slips no"}},
		{Role: Find, ID: "noise", Title: "A noise", Ways: "noise / clunk"},
		{Role: Find, ID: "noise.whine", Title: "Whines", Ways: "whine"},
		{Role: Find, ID: "judder", Title: "Judders", Ways: "shake needs:pedal", Says: []string{"says-judder yes"}},
		{Role: Gone, ID: "stops", Title: "stops", Ways: "it stop $"},
		{Role: Fine, ID: "range", Title: "Works", Ways: "@gear be fine"},
		{Role: Fine, ID: "all", Title: "Drives well", Ways: "it be fine"},
		{Role: RangeOf, ID: "2", Title: "second", Ways: "second"},
		{Role: RangeOf, ID: "3", Title: "third", Ways: "third"},
		{Role: RangeOf, ID: "R", Title: "reverse", Ways: "reverse"},
		{Role: RangeOf, ID: "top", Title: "top gear", Ways: "top"},
		{Role: When, ID: "hot", Title: "hot", Ways: "hot", Says: []string{"worse-when hot"}},
		{Role: Hearsay, ID: "says", Ways: "brother say"},
		{Role: Guess, ID: "guess", Ways: "i reckon"},
		{Role: History, ID: "gasket", Title: "Gasket replaced", Parts: "gasket", Says: []string{"prior-work gasket"}},
		{Role: Mask, ID: "idiom", Ways: "boat slip"},
		{Role: Quiet, ID: "past", Of: "after", Ways: "used to"},
	},
	English: []string{"slop"},
}

func read(t *testing.T, u Unit, text string) string {
	t.Helper()
	r, err := New(small, u)
	if err != nil {
		t.Fatal(err)
	}
	var out []string
	for _, s := range r.Read(text) {
		x := string(s.Role) + " " + s.Kind
		if s.Symptom() && len(s.Ranges) > 0 {
			x += " " + strings.Join(s.Ranges, "+")
		}
		for _, y := range s.Readings {
			x += " [" + y.Finding + " " + y.State + "]"
		}
		if s.Other {
			x += " other"
		}
		if s.Against >= 0 {
			x += " against"
		}
		out = append(out, x)
	}
	return strings.Join(out, "; ")
}

// box has three gears forward, the last of which is top, and a range of second that is chosen by hand.
var box = Unit{Ranges: []Range{{ID: "R", Kind: "reverse"}, {ID: "D1", Kind: "forward", Gear: 1}, {ID: "D2", Kind: "forward", Gear: 2}, {ID: "D3", Kind: "forward", Gear: 3}, {ID: "M2", Kind: "forward", Gear: 2, Hand: true}},
	Has: func(need string) bool { return need != "pedal" }}

func TestGrammar(t *testing.T) {
	for text, want := range map[string]string{
		"it slips":                           "find slip [says-slips yes]",
		"it doesn't slip":                    "denied slip [says-slips no]",
		"no noise, no slip":                  "denied noise; denied slip [says-slips no]",
		"slips in third":                     "find slip D3 [cell.D3 slips] [says-slips yes]; range 3",
		"slips in top when hot":              "find slip D3 [cell.D3 slips] [says-slips yes]; range top; when hot [worse-when hot]",
		"it whines, it stops":                "find noise.whine; gone noise",
		"a whine, a noise":                   "find noise.whine", // a noise without a shade says nothing more
		"my brother says it slips":           "find slip [says-slips yes] other",
		"my brother says the pump is worn":   "hearsay says",
		"I reckon the pump slips":            "guess guess",
		"replaced the gasket":                "history gasket [prior-work gasket]",
		"it used to slip":                    "",
		"on the boat slip":                   "",
		"it slips. It doesn't slip":          "find slip [says-slips yes] against; denied slip [says-slips no] against",
		"it slips hot, it doesn't slip cold": "find slip [says-slips yes]; when hot [worse-when hot]; denied slip [says-slips no]",
		"it clonks":                          "find noise",
		"it slisp":                           "find slip [says-slips yes]", // mended
		"it slops":                           "",                           // plain English
		"it shakes":                          "",                           // what the unit has no pedal for
		"":                                   "",
	} {
		if got := read(t, box, text); got != want {
			t.Errorf("%q reads as %q, want %q", text, got, want)
		}
	}
	if got := read(t, Unit{}, "it shakes"); got != "find judder [says-judder yes]" {
		t.Errorf("without a unit: %q", got)
	}
}

func TestWhatAUnitDoesNotKnowIsNotOffered(t *testing.T) {
	u := box
	u.Knows = func(finding, _ string) bool { return finding != "says-slips" }
	if got := read(t, u, "slips in third"); got != "find slip D3 [cell.D3 slips]; range 3" {
		t.Error(got)
	}
}

func TestPhrasesGatherWhatBelongsTogether(t *testing.T) {
	r, err := New(small, box)
	if err != nil {
		t.Fatal(err)
	}
	text := "It slips in third when hot. Replaced the gasket."
	var got []string
	for _, p := range Phrases(text, r.Read(text)) {
		got = append(got, text[p.Start:p.End]+" = "+p.Leader.Title+" · "+strings.Join(p.Details, " · "))
	}
	if s := strings.Join(got, "; "); s != "slips in third when hot = Slips · third · hot; Replaced the gasket = Gasket replaced · " {
		t.Error(s)
	}
}

func TestABadLexiconSaysWhere(t *testing.T) {
	for path, spoil := range map[string]func(*Lexicon){
		"words[0].ways": func(l *Lexicon) { l.Words[0].Ways = "" },
		"words[0].role": func(l *Lexicon) { l.Words[0].Role = "x" },
		"words[0].says": func(l *Lexicon) { l.Words[0].Says = []string{"a b c"} },
		"words[1].id":   func(l *Lexicon) { l.Words[1].ID = "slip" },
		"classes.gear":  func(l *Lexicon) { l.Classes["gear"] = "@gear" },
		"classes.part":  func(l *Lexicon) { delete(l.Classes, "part") },
	} {
		bad := small.With(Lexicon{})
		bad.Words = append([]Entry(nil), small.Words...)
		spoil(&bad)
		found := false
		for _, p := range bad.Validate() {
			found = found || p.Path == path && p.Accepted != ""
		}
		if !found {
			t.Errorf("%s: %v", path, bad.Validate())
		}
		if _, err := New(bad, Unit{}); err == nil {
			t.Errorf("%s: a reader is made of it", path)
		}
	}
}
