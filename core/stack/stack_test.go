package stack_test

import (
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"innercompass/core/stack"
)

// pot is a case open to the front with a drum that holds a pack, behind it a shaft; dimensions are made up for the geometry alone.
func pot() stack.Sheet {
	return stack.Sheet{Parts: []stack.PartSheet{
		{ID: "case", Name: "case", Kind: "case", Access: "ground", At: [][]float64{{0, 100, 50, 55}, {100, 105, 10, 55}}},
		{ID: "cover", Name: "cover", Kind: "cover", Access: "ground", Out: "front", At: [][]float64{{-5, 0, 8, 55}}},
		{ID: "drum", Name: "drum", Kind: "drum", Access: "apart", Out: "front", Of: []string{"K"}, Turns: "in", At: [][]float64{{20, 24, 8, 40}, {24, 60, 37, 40}}},
		{ID: "ring", Name: "snap ring", Kind: "snap-ring", Access: "apart", Out: "rear", In: "drum", Of: []string{"K"}, At: [][]float64{{56, 58, 30, 37}}},
		{ID: "pack", Name: "plates", Kind: "pack", Access: "apart", Out: "rear", In: "drum", Of: []string{"K"}, Limits: []string{"clearance-K"}, Plates: []string{"steel", "lined", "backing"}, At: [][]float64{{36, 56, 22, 37}}},
		{ID: "spring", Name: "spring", Kind: "return-spring", Access: "apart", Out: "rear", In: "drum", Of: []string{"K"}, At: [][]float64{{34, 36, 10, 20}}},
		{ID: "piston", Name: "piston", Kind: "piston", Access: "apart", Out: "rear", In: "drum", Of: []string{"K"}, At: [][]float64{{24, 34, 8, 37}}},
		{ID: "seal", Name: "seal", Kind: "seal", Access: "apart", Out: "aside", In: "piston", At: [][]float64{{28, 30, 34, 37}}},
		{ID: "shaft", Name: "shaft", Kind: "shaft", Access: "apart", Out: "front", Turns: "out", At: [][]float64{{-20, 120, 0, 7.9}}},
	}}
}

func around() stack.Around {
	return stack.Around{Members: []string{"in", "out"}, Levels: []string{"ground", "apart"}, Limits: []stack.Limit{{ID: "clearance-K", Element: "K"}},
		Elements: []stack.Element{{ID: "K", Kind: "clutch", Lined: 1, Steel: 1}}}
}

func compiled(t *testing.T, s stack.Sheet) *stack.Stack {
	t.Helper()
	out, bad := stack.Compile(s, around())
	if len(bad) > 0 {
		t.Fatal(bad)
	}
	return out
}

func ids(s *stack.Stack, in []int) []string {
	out := []string{}
	for _, i := range in {
		out = append(out, s.Parts[i].ID)
	}
	return out
}

func TestWhatIsInTheWayIsNamed(t *testing.T) {
	s := compiled(t, pot())
	gone := make(stack.State, len(s.Parts))
	at := s.Index
	for part, want := range map[string][]string{"cover": {}, "drum": {"cover"}, "shaft": {}, "ring": {"case"}, "pack": {"case", "ring"}, "seal": {"piston"}} {
		if got := ids(s, s.Blocks(gone, at(part))); !slices.Equal(got, want) {
			t.Errorf("%s in the closed unit: in the way %v, want %v", part, got, want)
		}
	}
	if got := ids(s, s.Free(gone, 0)); !slices.Equal(got, []string{"cover"}) {
		t.Errorf("with the vehicle on the ground %v can come out, want the cover alone", got)
	}
	gone[at("cover")] = true
	if got := ids(s, s.With(gone, at("drum"))); len(got) != 6 {
		t.Errorf("the drum leaves with %v, want everything that sits in it", got)
	}
	gone[at("drum")] = true
	if got := ids(s, s.Blocks(gone, at("piston"))); !slices.Equal(got, []string{"ring", "pack", "spring"}) {
		t.Errorf("on the bench the piston waits for %v", got)
	}
	if got := ids(s, s.Back()); !slices.Equal(got, []string{"shaft", "seal", "piston", "spring", "pack", "ring", "drum", "cover"}) {
		t.Errorf("building: %v", got)
	}
	if got := s.Numbers(); got[1] != "1" || got[2] != "2" || got[4] != "2.2" || got[7] != "2.4.1" || got[8] != "3" {
		t.Errorf("numbers %v", got)
	}
}

// Every fault of a stack is named at its place. What is wrong is put into a sheet that is right.
func TestAStackThatCannotBeBuiltIsRefused(t *testing.T) {
	for name, c := range map[string]struct {
		wrong func(s *stack.Sheet)
		path  string
		says  string
	}{
		"drum before the cover":   {func(s *stack.Sheet) { s.Parts[1], s.Parts[2] = s.Parts[2], s.Parts[1]; s.Parts[1].Access = "apart" }, "parts[1].out", "in the way is cover"},
		"drum out to the rear":    {func(s *stack.Sheet) { s.Parts[2].Out = "rear" }, "parts[2].out", "in the way is case"},
		"two in one place":        {func(s *stack.Sheet) { s.Parts[8].At[0][3] = 9 }, "parts[8].at", "takes the place of"},
		"too deep for its access": {func(s *stack.Sheet) { s.Parts[2].Access = "ground"; s.Parts[1].Access = "apart" }, "parts[2].out", "in the way is cover"},
		"no such element":         {func(s *stack.Sheet) { s.Parts[2].Of = []string{"X"} }, "parts[2].of[0]", "no element"},
		"holder after":            {func(s *stack.Sheet) { s.Parts[2].In = "piston" }, "parts[2].in", "stands before"},
		"plates miscounted":       {func(s *stack.Sheet) { s.Parts[4].Plates = []string{"steel", "lined", "lined"} }, "parts[4].plates", "2 friction plates"},
		"no piston":               {func(s *stack.Sheet) { s.Parts[6].Kind = "hub" }, "parts", "element K has no piston"},
		"member without part":     {func(s *stack.Sheet) { s.Parts[8].Turns = "" }, "parts", "no part turns with member out"},
		"limit without part":      {func(s *stack.Sheet) { s.Parts[4].Limits = nil }, "parts", "limit clearance-K belongs to no part"},
		"case not first":          {func(s *stack.Sheet) { s.Parts[0], s.Parts[1] = s.Parts[1], s.Parts[0] }, "parts[0].kind", "the case is the first"},
		"stages fall": {func(s *stack.Sheet) {
			s.Parts[1].Bolts = []stack.BoltsSheet{{Count: 4, Thread: "M6", Length: "20 mm", Torque: []string{"10 N·m", "6 N·m"}, Pattern: "star", Lie: "circle", With: "oil"}}
		}, "parts[1].bolts[0].torque", "a later stage is lower"},
		"goes back too late":  {func(s *stack.Sheet) { s.Parts[8].Back = "drum" }, "", ""},
		"goes back in a ring": {func(s *stack.Sheet) { s.Parts[8].Back, s.Parts[1].Back = "cover", "shaft" }, "parts", "in a circle"},
		"a box inside out":    {func(s *stack.Sheet) { s.Parts[2].At[0] = []float64{24, 20, 8, 40} }, "parts[2].at[0]", "24"},
		"not a number":        {func(s *stack.Sheet) { s.Parts[2].At[0] = []float64{20, 24, 8} }, "parts[2].at[0]", "20"},
	} {
		s := pot()
		for i := range s.Parts { // boxes are shared between copies of a part
			for j := range s.Parts[i].At {
				s.Parts[i].At[j] = slices.Clone(s.Parts[i].At[j])
			}
		}
		c.wrong(&s)
		_, bad := stack.Compile(s, around())
		if c.path == "" {
			if len(bad) > 0 {
				t.Errorf("%s: %v", name, bad)
			}
			continue
		}
		if !slices.ContainsFunc(bad, func(p stack.Problem) bool { return p.Path == c.path && strings.Contains(p.Reason, c.says) }) {
			t.Errorf("%s: %v, want %s: …%s…", name, bad, c.path, c.says)
		}
	}
}

func TestShaftsThatMeshComeOutTogether(t *testing.T) {
	s := pot()
	s.Axes = []stack.AxisSheet{{ID: "low", Name: "low shaft", Height: -30}}
	s.Parts = append(s.Parts[:2:2], []stack.PartSheet{
		{ID: "a", Name: "shaft", Kind: "shaft", Access: "apart", Out: "front", Turns: "in", At: [][]float64{{10, 90, 0, 5}, {20, 30, 5, 10}, {60, 70, 5, 20}}},
		{ID: "b", Name: "low shaft", Kind: "shaft", Access: "apart", Out: "front", Turns: "out", Axis: "low", At: [][]float64{{10, 90, 0, 4}, {20, 30, 4, 20}, {60, 70, 4, 10}}},
	}...)
	a := around()
	a.Elements, a.Limits = nil, nil
	if _, bad := stack.Compile(s, a); len(bad) != 1 || bad[0].Path != "parts[2].out" {
		t.Fatalf("one shaft passes the gears of the other: %v", bad)
	}
	s.Parts[3].With = "a"
	out, bad := stack.Compile(s, a)
	if len(bad) > 0 {
		t.Fatal(bad)
	}
	gone := stack.State{false, true, false, false}
	if got := ids(out, out.Blocks(gone, 3)); !slices.Equal(got, []string{"a"}) {
		t.Errorf("the second shaft waits for %v", got)
	}
}

// What is free now stays free whatever else is taken out first, so that any order that the app allows comes to an end.
func TestAnyAllowedOrderEmptiesTheUnit(t *testing.T) {
	s := compiled(t, pot())
	r := rand.New(rand.NewPCG(1, 2))
	for range 50 {
		gone := make(stack.State, len(s.Parts))
		for left := len(s.Parts) - 1; left > 0; left-- {
			free := s.Free(gone, 1)
			if len(free) == 0 {
				t.Fatalf("nothing can come out with %d parts left", left)
			}
			gone[free[r.IntN(len(free))]] = true
		}
	}
}

func TestAnotherUnitBeginsFromTheNearest(t *testing.T) {
	a := stack.Around{Members: []string{"in", "mid"}, Levels: []string{"ground", "apart"}, Controls: []string{"S"},
		Limits:   []stack.Limit{{ID: "clearance-L", Element: "L"}, {ID: "end-play"}},
		Elements: []stack.Element{{ID: "L", Kind: "clutch", Lined: 3, Steel: 3}, {ID: "F", Kind: "freewheel"}, {ID: "B", Kind: "band"}}}
	s := stack.Adapt(pot(), func(e string) string { return map[string]string{"K": "L"}[e] }, a)
	out, bad := stack.Compile(s, a)
	if len(bad) > 0 {
		t.Fatal(bad)
	}
	pack := out.Parts[out.Index("pack")]
	if !slices.Equal(pack.Plates, []string{"steel", "lined", "steel", "lined", "steel", "lined", "backing"}) || !slices.Equal(pack.Limits, []string{"clearance-L"}) {
		t.Errorf("%v, %v", pack.Plates, pack.Limits)
	}
	if out.Index("f-one-way") < 0 || out.Index("b-servo") < 0 || out.Index("turns-mid") < 0 {
		t.Error("what the unit needs besides is not there")
	}
	if !slices.Contains(out.Parts[0].Limits, "end-play") {
		t.Error("a limit without element belongs to no part")
	}
	none := stack.Adapt(pot(), func(string) string { return "" }, a)
	if i := slices.IndexFunc(none.Parts, func(p stack.PartSheet) bool { return p.ID == "piston" }); i >= 0 {
		t.Error("the piston of an element that is not there stayed")
	}
}

func TestTheWayToAPartTakesNoMoreThanItMust(t *testing.T) {
	s := compiled(t, pot())
	gone := make(stack.State, len(s.Parts))
	for part, want := range map[string][]string{
		"shaft": {"shaft"}, "drum": {"cover", "drum"}, "pack": {"cover", "drum", "ring", "pack"}, "piston": {"cover", "drum", "ring", "pack", "spring", "piston"},
	} {
		if got := ids(s, s.Way(gone, []int{s.Index(part)})); !slices.Equal(got, want) {
			t.Errorf("to the %s: %v, want %v", part, got, want)
		}
	}
	gone[s.Index("cover")], gone[s.Index("drum")] = true, true
	if got := ids(s, s.Way(gone, []int{s.Index("ring"), s.Index("cover")})); !slices.Equal(got, []string{"ring"}) {
		t.Errorf("with the drum on the bench: %v", got)
	}
}
