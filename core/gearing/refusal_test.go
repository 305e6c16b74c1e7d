package gearing

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"testing"
)

// A state that cannot be is refused, with what would be accepted; so is a ratio where rounding would decide.
func TestStatesThatCannotBeAreRefused(t *testing.T) {
	train := Train{Members: []string{"engine", "turbine", "out"}, Input: "engine", Output: "out", ForwardSign: 1, Converter: &Converter{Engine: "engine", Turbine: "turbine"},
		Meshes:   []Mesh{{A: "turbine", B: "out", TeethA: 20, TeethB: 30, Chain: true}},
		Elements: []Element{{ID: "C", Kind: Clutch, A: "engine", B: "turbine"}, {ID: "F", Kind: Freewheel, A: "out", B: Case}}}
	m, err := NewMachine(train)
	if err != nil {
		t.Fatal(err)
	}
	for what, s := range map[string]State{
		"a freewheel among the applied": {Applied: []string{"F"}},
		"broken and seized":             {Broken: []string{"F"}, Seized: []string{"F"}},
		"power from nothing":            {Slip: 0.2, Multiplication: 2},
		"a multiplication below one":    {Slip: 0.2, Multiplication: 0.3},
		"a huge multiplication":         {Slip: 0.9, Multiplication: 1e300},
	} {
		var se *SheetError
		if _, err := m.Solve(s); !errors.As(err, &se) || se.Accepted == "" {
			t.Errorf("%s: %v", what, err)
		}
	}
	if sol, err := m.Solve(State{Slip: 0.5, Multiplication: 2}); err != nil || sol.OutputTorque != 3 || sol.Loss != 0 { // all the power, at 1 : 2 · 3/2
		t.Errorf("a converter without loss: %+v %v", sol, err)
	}
}

// Eight pairs of 400 and 5 teeth in a row make a ratio of 80⁸, some 10¹⁵: refused, not called a bind.
func TestExtremeRatiosAreRefused(t *testing.T) {
	train := Train{Members: []string{"m0"}, Input: "m0", Output: "m8", ForwardSign: 1}
	for i := range 8 {
		train.Members = append(train.Members, fmt.Sprint("m", i+1))
		train.Meshes = append(train.Meshes, Mesh{A: fmt.Sprint("m", i), B: fmt.Sprint("m", i+1), TeethA: 5, TeethB: 400, Chain: true})
	}
	var se *SheetError
	if _, err := NewMachine(train); !errors.As(err, &se) {
		t.Errorf("80⁸: %v", err)
	}
	for field, change := range map[string]func(*Train){
		"output":            func(t *Train) { t.Output = "m0" },
		"converter.turbine": func(t *Train) { t.Converter = &Converter{Engine: "m1", Turbine: "m1"} },
	} {
		bad := train
		change(&bad)
		found := false
		for _, e := range bad.Validate() {
			found = found || e.Field == field
		}
		if !found {
			t.Errorf("%s is not named", field)
		}
	}
}

// What a refused kind of element says is accepted is a kind, as a sheet writes it.
func TestARefusedKindNamesTheKinds(t *testing.T) {
	bad := Train{Members: []string{"in", "out"}, Input: "in", Output: "out", ForwardSign: 1, Elements: []Element{{ID: "X", Kind: "glue", A: "in", B: "out"}}}
	at := slices.IndexFunc(bad.Validate(), func(e *SheetError) bool { return e.Field == "elements[0].kind" })
	if at < 0 {
		t.Fatal("glue is taken")
	}
	for _, k := range strings.Split(bad.Validate()[at].Accepted, ", ") {
		if !slices.Contains(Kinds, Kind(k)) {
			t.Errorf("%q is named and is no kind", k)
		}
	}
}
