package wordbench

import (
	"testing"

	"innercompass/core/intake"
)

var lexicon = intake.Lexicon{
	Classes: map[string]string{"part": "pump", "verdict": "worn"},
	Words: []intake.Entry{
		{Role: intake.Find, ID: "slip", Title: "Slips", Ways: "slip"},
		{Role: intake.Find, ID: "noise.whine", Title: "Whines", Ways: "whine"},
		{Role: intake.When, ID: "hot", Title: "hot", Ways: "hot"},
	},
}

func TestCounts(t *testing.T) {
	r, err := intake.New(lexicon, intake.Unit{})
	if err != nil {
		t.Fatal(err)
	}
	got, err := Measure([]Case{{ID: "a", Text: "It slips hot and whines, no leak.", Says: []Statement{{"find", "slip", "slips"}, {"when", "hot", "hot", "slip"}, {"denied", "leak", "no leak"}}}}, func(string) (*intake.Reader, error) { return r, nil })
	if err != nil {
		t.Fatal(err)
	}
	// Said: slip and leak; found: slip; given: slip and whine; right: slip.
	if got.Symptoms != (Count{Said: 2, Found: 1, Given: 2, Right: 1}) || got.Symptoms.Recall() != 0.5 || got.Symptoms.Precision() != 0.5 {
		t.Errorf("%+v", got.Symptoms)
	}
	if got.Hung != (Count{Said: 1, Found: 1}) || len(got.Misses) != 2 || got.Cases != 1 {
		t.Errorf("%+v", got)
	}
	if (Count{}).Recall() != 1 {
		t.Error("of nothing, something is missed")
	}
}

func TestABadAnnotationIsRefused(t *testing.T) {
	for _, s := range []Statement{{"find", "slip"}, {"find", "slip", "not there"}, {"a", "b", "c", "d", "e"}} {
		if (Case{Text: "c slips", Says: []Statement{s}}).Validate() == nil {
			t.Errorf("%q is taken", s)
		}
	}
}
