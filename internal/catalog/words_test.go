package catalog_test

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"testing/fstest"

	"innercompass/core/heard"
	"innercompass/core/intake"
	"innercompass/core/knowledge"
	"innercompass/core/wordbench"
	"innercompass/internal/catalog"
	"innercompass/internal/trial"
	embedded "innercompass/knowledge"
)

func reader(t testing.TB, unit string) *intake.Reader {
	t.Helper()
	c := trial.Load(t)
	return c.Reader.For(heard.Unit(c.Networks[unit]))
}

// said is what a text says of symptoms, as "role kind", with the ranges behind it.
func said(r *intake.Reader, text string) []string {
	out := []string{}
	for _, s := range r.Read(text) {
		if s.Symptom() || s.Role == intake.Hearsay || s.Role == intake.Guess || s.Role == intake.Wish || s.Role == intake.History {
			kind := s.Kind
			if len(s.Range) > 0 && s.Role != intake.Gone {
				kind += " " + strings.Join(s.Range, " ")
			}
			if s.Role == intake.Hearsay || s.Role == intake.Guess || s.Role == intake.Wish {
				kind = "-"
			}
			out = append(out, string(s.Role)+" "+kind)
		}
	}
	return out
}

// What is denied, what goes, what others say and what works: plain usage, no source.
func TestSentences(t *testing.T) {
	for _, c := range []struct{ unit, text, want string }{
		{"norrad-h4", "Slips? No.", "denied slip"},
		{"norrad-h4", "it used to whine but it stopped", ""},
		{"norrad-h4", "hardly ever jerks", "find harsh"},
		{"norrad-h4", "has not stopped leaking", "find leak"},
		{"norrad-h4", "nothing wrong with reverse", "fine range R"},
		{"norrad-h4", "no noise though", "denied noise"},
		{"norrad-h4", "it never slips", "denied slip"},
		{"norrad-h4", "no slip, no bang, no leak", "denied slip|denied harsh|denied leak"},
		{"norrad-h4", "no noise, smell or leak", "denied noise|denied smell|denied leak"},
		{"norrad-h4", "not only does it slip, it bangs", "find slip|find harsh"},
		{"norrad-h4", "it doesn't slip but it shudders", "denied slip|find shudder"},
		{"norrad-h4", "noise: none", "denied noise"},
		{"norrad-h4", "neither slips nor shudders", "denied slip|denied shudder"},
		{"norrad-h4", "I wouldn't say it slips", "denied slip"},
		{"norrad-h4", "it won't shift up and it slips", "find shift.none|find slip"},
		{"norrad-h4", "without any vibration", "denied vibration"},
		{"norrad-h4", "no smell, well, a bit of one", "find smell"},
		{"norrad-h4", "the light came on, there isn't a drop of oil under it", "find lamp|denied leak"},
		// what goes under a condition is no denial
		{"norrad-h4", "it rattles, but in gear it stops", "find noise.rattle|gone noise"},
		{"norrad-h4", "it shudders at forty, coasting it's smooth", "find shudder|gone shudder"},
		// whose opinion it is
		{"norrad-h4", "my brother says it's the pump", "hearsay -"},
		{"norrad-h4", "the mechanic says the clutches slip and the pump is worn", "hearsay -"},
		{"norrad-h4", "my wife says it slips", "find slip"},
		{"norrad-h4", "needs a new converter", "wish -"},
		{"norrad-h4", "it whines, I reckon the pump is worn", "find noise.whine|guess -"},
		// ranges
		{"norrad-h4", "it goes into third with a bang, the other gears are fine", "find harsh 3|fine range"},
		{"norrad-h4", "from second to third it flares", "find slip 3"},
		{"norrad-h4", "goes from first to third", "find missing 2"},
		{"norrad-h4", "reverse takes ages, then it bangs in", "find late R|find harsh R"},
		{"norrad-h4", "in D it doesn't move at all", "find nodrive.forward D"},
		{"norrad-h4", "it slips for a second, then it's fine", "find slip|fine all"},
		{"ombrin-m5", "hard to get into second when cold, and it crunches", "find refuse.one 2|find grate 2"},
		// one word, two units
		{"ombrin-m5", "it shudders pulling away", "find judder"},
		{"norrad-h4", "it shudders pulling away", "find shudder"},
		// work
		{"norrad-h4", "dealer put in a solenoid last month, changed the oil myself", "history solenoid|history fluid"},
		{"norrad-h4", "the radiator was boiled out", "history cooling"},
		// idioms
		{"norrad-h4", "the boat slip is steep and I park on the drive", ""},
		{"norrad-h4", "My husband will pick it up, he is the one with the loud voice.", ""},
	} {
		got := strings.Join(said(reader(t, c.unit), c.text), "|")
		if got != c.want {
			t.Errorf("%s: %q reads as %q, want %q", c.unit, c.text, got, c.want)
		}
	}
}

// British and American, full and short, read alike: plain usage, no source.
func TestUsagesReadAlike(t *testing.T) {
	r := reader(t, "norrad-h4")
	for _, pair := range [][2]string{
		{"the gearbox clonks", "the transmission clunks"}, {"it changes up late", "it shifts up late"}, {"slips when I press the accelerator", "slips when I press the gas pedal"},
		{"howls on the motorway", "howls on the freeway"}, {"it's new tyres", "it's new tires"}, {"no kick-down", "no kickdown"}, {"IT SLIPS IN 3RD", "it slips in third"}, {"it’s stuck in third", "it's stuck in third"},
	} {
		if a, b := fmt.Sprint(said(r, pair[0])), fmt.Sprint(said(r, pair[1])); a != b || a == "[]" {
			t.Errorf("%q reads as %s, %q as %s", pair[0], a, pair[1], b)
		}
	}
}

func bench(t testing.TB, name string) []wordbench.Case {
	t.Helper()
	cases, err := catalog.WordBench(embedded.Bench, "bench/words-"+name+".yaml")
	if err != nil {
		t.Fatal(err)
	}
	return cases
}

func measure(t testing.TB, cases []wordbench.Case) wordbench.Report {
	t.Helper()
	report, err := wordbench.Measure(cases, func(unit string) (*intake.Reader, error) { return reader(t, unit), nil })
	if err != nil {
		t.Fatal(err)
	}
	return report
}

// A fall of a point is a fault. Even texts are the ones that the words were tuned on; of the odd ones the first run, unseen, found 69 of a
// hundred symptoms, 73 of a hundred right (docs/words.md).
func TestTheBenchOfWordsDoesNotFall(t *testing.T) {
	for name, least := range map[string][2]float64{"even": {0.99, 0.99}, "odd": {0.845, 0.80}} {
		got := measure(t, bench(t, name)).Symptoms
		if got.Recall() < least[0] || got.Precision() < least[1] {
			t.Errorf("%s: %.3f found, %.3f right; before %v", name, got.Recall(), got.Precision(), least)
		}
	}
}

// What must not change what is read: capitals, curly quotes, double spaces, a friendly word behind it.
func TestWhatChangesNothing(t *testing.T) {
	for _, c := range bench(t, "even") {
		r := reader(t, c.Unit)
		want := fmt.Sprint(said(r, c.Text))
		for _, text := range []string{strings.ToUpper(c.Text), strings.ReplaceAll(c.Text, "'", "’"), strings.ReplaceAll(c.Text, " ", "  "), c.Text + " Thanks."} {
			if got := fmt.Sprint(said(r, text)); got != want {
				t.Errorf("%s: %q reads as %s, want %s", c.ID, text, got, want)
			}
		}
	}
}

// Slips of the pen, one in ten words of four letters and more: a letter dropped, doubled or swapped. Nine tenths of what is found of clean
// texts must still be found.
func TestSlipsOfThePenCostLittle(t *testing.T) {
	clean := measure(t, bench(t, "even")).Symptoms
	found := 0
	const seeds = 5
	for seed := range uint64(seeds) {
		rng := rand.New(rand.NewPCG(seed, 7))
		for _, c := range bench(t, "even") {
			words := strings.Fields(c.Text)
			for i, w := range words {
				if len(w) >= 4 && rng.Float64() < 0.1 {
					k := 1 + rng.IntN(len(w)-2)
					switch rng.IntN(3) {
					case 0:
						words[i] = w[:k] + w[k+1:]
					case 1:
						words[i] = w[:k] + w[k:k+1] + w[k:]
					default:
						words[i] = w[:k] + w[k+1:k+2] + w[k:k+1] + w[k+2:]
					}
				}
			}
			kinds := said(reader(t, c.Unit), strings.Join(words, " "))
			for _, s := range c.Says {
				role := intake.Role(s[0])
				if (intake.Span{Role: role}).Symptom() && slices.ContainsFunc(kinds, func(k string) bool {
					said, kind, _ := strings.Cut(k, " ")
					return said == s[0] && (role != intake.Find || strings.HasPrefix(kind, s[1]))
				}) {
					found++
				}
			}
		}
	}
	if share := float64(found) / float64(seeds*clean.Said); share < 0.9*clean.Recall() {
		t.Errorf("%.3f are found with slips, %.3f without", share, clean.Recall())
	}
}

// Every reading that words offer is one that some unit has words for, and everything that a customer can complain of has words.
func TestWordsAndFindingsFit(t *testing.T) {
	c := trial.Load(t)
	var units []*knowledge.Network
	for _, n := range c.Networks {
		units = append(units, n)
	}
	for _, odd := range heard.Unknown(c.Words, units) {
		t.Errorf("no unit has a finding for %s", odd)
	}
	offered := map[string]bool{}
	for _, e := range c.Words.Words {
		for _, s := range e.Says {
			finding, _, _ := strings.Cut(s, " ")
			offered[finding] = true
		}
	}
	silent := map[string]string{ // findings of the interview that words do not offer, with why
		"level-read": "nobody says how he read a level unasked", "ran-low": "it is no complaint", "driving": "nobody says so of himself", "driven-wheels": "it is the vehicle's, not the customer's",
		"starter-noise": "another system", "engine-uses-oil": "engine oil is told in too many ways to be sure which oil is meant", "settles": "told as what goes", "revved": "told as slow to take up", "went-first": "a ranking of its own", "tried": "told as work that changed nothing", "purpose": "ticked",
		"says-lever": "", "grates": "", "wordless": "it has no word", "interval": "",
	}
	for _, f := range c.Knowledge.Findings {
		id, _, _ := strings.Cut(f.ID, ".")
		if _, known := silent[id]; f.Stage == "complaint" && !offered[f.ID] && !known {
			t.Errorf("nothing that customers say offers %s", f.ID)
		}
	}
}

// Words that mean different things must not share a stem in the lexicon by accident: each group was looked at.
func TestNegatorsAreTheirOwn(t *testing.T) {
	r := reader(t, "norrad-h4")
	for _, text := range []string{"a high note", "nobody notes it", "knots per hour"} {
		for _, s := range r.Read(text) {
			if s.Role == intake.Denied {
				t.Errorf("%q denies %s", text, s.Kind)
			}
		}
	}
}

func TestABadLexiconIsRefusedWithItsLine(t *testing.T) {
	good := `words:
  - {role: find, id: slip, title: Slips, says: ["says-slips yes"], ways: "slip"}
classes: {part: "pump", verdict: "worn"}
`
	for change, want := range map[string]string{
		`ways: "slip"`:             `ways: ""`,
		"role: find":               "role: maybe",
		`says: ["says-slips yes"]`: `says: ["says-slips"]`,
		`ways: "slip" `:            "",
	} {
		text := strings.Replace(good, change, want, 1)
		if text == good {
			continue
		}
		files := fstest.MapFS{"words/a.yaml": {Data: []byte(text)}, "words/english.txt": {Data: []byte("the\n")}}
		_, err := catalog.LoadWords(files)
		if err == nil || !strings.Contains(err.Error(), "words/a.yaml:2") {
			t.Errorf("%s: %v", want, err)
		}
	}
	if _, err := catalog.LoadWords(fstest.MapFS{"words/a.yaml": {Data: []byte(good)}, "words/english.txt": {Data: []byte("the\n")}}); err != nil {
		t.Error(err)
	}
	if _, err := catalog.LoadWords(fstest.MapFS{}); err == nil {
		t.Error("no words at all are taken")
	}
}

func FuzzRead(f *testing.F) {
	for _, c := range bench(f, "even") {
		f.Add(c.Text)
	}
	f.Add("no, no. never’ \xff 3rd 3,5 not not slip")
	r := reader(f, "norrad-h4")
	f.Fuzz(func(t *testing.T, text string) {
		spans := r.Read(text)
		for i, s := range spans {
			if s.Start < 0 || s.Start >= s.End || s.End > len(text) || i > 0 && s.Start < spans[i-1].Start || s.Of >= len(spans) || s.Sure <= 0 || s.Sure > 100 {
				t.Fatalf("%q: %+v", text, s)
			}
		}
		if fmt.Sprint(spans) != fmt.Sprint(r.Read(text)) {
			t.Fatalf("%q reads differently the second time", text)
		}
		at := 0
		for _, p := range intake.Phrases(text, spans) {
			if p.Start < at || p.End <= p.Start || p.End > len(text) {
				t.Fatalf("%q: phrase %+v after %d", text, p, at)
			}
			at = p.End
		}
	})
}

// Goal: at most 1 ms for 400 letters (19 of 20), 50 ms to compile the words.
func BenchmarkRead(b *testing.B) {
	r := reader(b, "norrad-h4")
	text := ""
	for _, c := range bench(b, "even") {
		if text += c.Text + " "; len(text) > 400 {
			break
		}
	}
	b.ReportAllocs()
	for b.Loop() {
		r.Read(text)
	}
}

func BenchmarkCompileWords(b *testing.B) {
	c := trial.Load(b)
	for b.Loop() {
		if _, err := intake.New(c.Words, intake.Unit{}); err != nil {
			b.Fatal(err)
		}
	}
}
