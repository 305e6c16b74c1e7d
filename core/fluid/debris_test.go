package fluid_test

import (
	"strings"
	"testing"

	"innercompass/core/fluid"
)

// Trays as the trade reads them (common practice, no source): fine grey paste is usual; needles are a bearing, yellow is a
// bushing, dark flakes are lining, plastic and rubber name themselves; two at once are both found.
func TestTrays(t *testing.T) {
	some, much := fluid.DebrisSeen{Amount: 1}, fluid.DebrisSeen{Amount: 2}
	pieces := fluid.DebrisSeen{Amount: 1, Pieces: true}
	none := fluid.DebrisSeen{}
	for name, c := range map[string]struct {
		tray  fluid.Tray
		first []string // nil: ordinary
	}{
		"a little paste after long":   {fluid.Tray{Found: map[string]fluid.DebrisSeen{"film": some, "lining": none, "steel": none, "bronze": none}, Distance: 80e6}, nil},
		"much dark lining":            {fluid.Tray{Found: map[string]fluid.DebrisSeen{"lining": {Amount: 2, Pieces: true}, "film": some, "needles": none, "aluminium": none}}, []string{"clutch"}},
		"needles":                     {fluid.Tray{Found: map[string]fluid.DebrisSeen{"needles": pieces, "steel": some, "film": much, "chunks": none}}, []string{"bearing"}},
		"chunks and slivers":          {fluid.Tray{Found: map[string]fluid.DebrisSeen{"chunks": {Amount: 2, Pieces: true}, "steel": {Amount: 2, Pieces: true}, "needles": none, "film": much}}, []string{"gears"}},
		"yellow":                      {fluid.Tray{Found: map[string]fluid.DebrisSeen{"bronze": much, "steel": none, "film": some}}, []string{"bushing"}},
		"soft bright, nothing else":   {fluid.Tray{Found: map[string]fluid.DebrisSeen{"aluminium": some, "steel": none, "bronze": none, "lining": none, "film": some}}, []string{"bore"}},
		"plastic":                     {fluid.Tray{Found: map[string]fluid.DebrisSeen{"plastic": pieces}}, []string{"plastic"}},
		"rubber and lining":           {fluid.Tray{Found: map[string]fluid.DebrisSeen{"rubber": pieces, "lining": {Amount: 2, Pieces: true}, "steel": none}}, []string{"clutch", "seals"}},
		"sealant":                     {fluid.Tray{Found: map[string]fluid.DebrisSeen{"sealant": pieces, "film": some}}, []string{"sealant"}},
		"rust":                        {fluid.Tray{Found: map[string]fluid.DebrisSeen{"rust": some}}, []string{"water"}},
		"fine lining and soft bright": {fluid.Tray{Found: map[string]fluid.DebrisSeen{"lining": some, "aluminium": some, "film": much, "steel": none}, Distance: 5e6}, []string{"converter"}},
	} {
		got, normal, err := c.tray.Judge()
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		if c.first == nil {
			if normal < 0.6 {
				t.Errorf("%s: ordinary with %v, first %s with %v", name, normal, got[0].ID, got[0].Share)
			}
			continue
		}
		for i, want := range c.first {
			if got[0].ID != want && got[min(1, len(c.first)-1)].ID != want {
				t.Errorf("%s: %s %.2f, %s %.2f; want %s (%d)", name, got[0].ID, got[0].Share, got[1].ID, got[1].Share, want, i)
			}
		}
		if normal > 0.4 {
			t.Errorf("%s: ordinary with %v", name, normal)
		}
	}
}

// The same paste says more after a short way than after a long one.
func TestDebrisAfterAShortWay(t *testing.T) {
	tray := fluid.Tray{Found: map[string]fluid.DebrisSeen{"film": {Amount: 2}, "lining": {Amount: 1}}}
	tray.Distance = 2e6
	_, short, err := tray.Judge()
	if err != nil {
		t.Fatal(err)
	}
	tray.Distance = 120e6
	_, long, err := tray.Judge()
	if err != nil || short >= long/2 {
		t.Errorf("ordinary after a short way %v, after a long one %v: %v", short, long, err)
	}
}

func TestTraysThatCannotBe(t *testing.T) {
	for name, tray := range map[string]fluid.Tray{
		"kind":   {Found: map[string]fluid.DebrisSeen{"gold": {Amount: 1}}},
		"amount": {Found: map[string]fluid.DebrisSeen{"film": {Amount: 3}}},
	} {
		if _, _, err := tray.Judge(); err == nil {
			t.Errorf("%s was taken", name)
		}
	}
	if got, normal, err := (fluid.Tray{}).Judge(); err != nil || len(got) != len(fluid.DebrisSources) || normal < 0.4 {
		t.Errorf("an empty tray: %v %v", normal, err)
	}
}

// What a refused tray says is accepted is accepted, word for word.
func TestARefusedTrayNamesWhatIsAccepted(t *testing.T) {
	_, _, err := fluid.Tray{Found: map[string]fluid.DebrisSeen{"gold": {Amount: 1}}}.Judge()
	if err == nil {
		t.Fatal("gold is taken")
	}
	_, accepted, _ := strings.Cut(err.Error(), "want ")
	for _, id := range strings.Split(accepted, ", ") {
		if _, _, err := (fluid.Tray{Found: map[string]fluid.DebrisSeen{id: {Amount: 1}}}).Judge(); err != nil {
			t.Errorf("%q is named and not accepted: %v", id, err)
		}
	}
}
