package phrase

import (
	"strings"
	"testing"
)

func TestTokensKeepTheirPlace(t *testing.T) {
	text := "It WON’T go, but reverse’s fine… 1,200 km at 5.5?"
	var said []string
	for _, x := range Tokens(text) {
		if x.Start < 0 || x.End > len(text) || x.Start >= x.End {
			t.Fatalf("%+v", x)
		}
		said = append(said, x.Text)
	}
	if got := strings.Join(said, " "); got != "it will not go but reverse be fine 1,200 km at 5.5" {
		t.Error(got)
	}
}

func TestClausesBreak(t *testing.T) {
	for text, want := range map[string][]int{
		"a b":                {Sentence, NoBreak},
		"a, b":               {Sentence, Comma},
		"a but b":            {Sentence, Turn, NoBreak},
		"a, so b":            {Sentence, Turn, NoBreak},
		"ever so early":      {Sentence, NoBreak, NoBreak}, // "so" turns nothing here
		"a. b":               {Sentence, Sentence},
		"a - b":              {Sentence, Sentence},
		"kick-down":          {Sentence, NoBreak},
		"revs, 1,200 of it?": {Sentence, Comma, NoBreak, NoBreak},
	} {
		in := Tokens(text)
		if len(in) != len(want) {
			t.Errorf("%q: %d tokens", text, len(in))
			continue
		}
		for i, w := range want {
			if in[i].Before != w {
				t.Errorf("%q: token %d %q has break %d, want %d", text, i, in[i].Text, in[i].Before, w)
			}
		}
	}
}

func TestFormsOfAWordHaveOneStem(t *testing.T) {
	for _, forms := range []string{"slip slips slipped slipping", "take takes took taken taking", "carry carries carried", "crash crashes crashed crashing", "leak leaks leaked leaking", "shake shook shaken shaking", "tire tires tyre tyres", "stall stalled stalling", "juddery judderys", "clutch clutches"} {
		words := strings.Fields(forms)
		for _, w := range words[1:] {
			if Stem(w) != Stem(words[0]) {
				t.Errorf("%s is %s, %s is %s", words[0], Stem(words[0]), w, Stem(w))
			}
		}
	}
	// What means something else stays apart: each of these pairs has misled a reader.
	for _, pair := range []string{"tire tired", "back backing", "drive driving", "hard hardly", "warn warning", "bear bearing", "second seconds", "spring string", "use used"} {
		a, b, _ := strings.Cut(pair, " ")
		if Stem(a) == Stem(b) {
			t.Errorf("%s and %s are both %s", a, b, Stem(a))
		}
	}
}

func TestSlipsOfThePenArePutRight(t *testing.T) {
	s := NewSpeller([]string{"shudder", "transmission", "reverse", "slips", "warm", "leaks"}, strings.Fields("wrap slops lean shutter under"))
	for w, want := range map[string]string{
		"shuder": "shudder", "shuddre": "shudder", "trasnmision": "transmission", "revers": "reverse", "wram": "warm",
		"shutter": "", // plain English
		"xyzzy":   "", "ab": "", "slipping": "",
		"lesks": "leaks",
	} {
		if got := s.Mend(w); got != want {
			t.Errorf("%s is read as %q, want %q", w, got, want)
		}
	}
	if within("abcd", "badc", 1) || !within("abcd", "abdc", 1) || !within("abcd", "abc", 1) || within("abcd", "ab", 1) {
		t.Error("the distance of two words is wrong")
	}
}

func match(t *testing.T, way, text string) bool {
	t.Helper()
	b := &Builder{Texts: map[string]string{"gear": "first / gear % / top", "ages": "ages / a while / % minutes"}}
	p, err := b.Pattern(way)
	if err != nil {
		t.Fatalf("%s: %v", way, err)
	}
	x := NewIndex()
	x.Add(p)
	in := Tokens(text)
	for i := range in {
		in[i].Stem = Stem(in[i].Text)
	}
	return len((&Matcher{Tokens: in, Respects: FromAll}).All(x, nil)) > 0
}

func TestPatterns(t *testing.T) {
	for _, c := range []struct {
		way, text string
		want      bool
	}{
		{"take ~2 @ages", "it takes me ages", true},
		{"take ~2 @ages", "it takes the two of us ages", false}, // the gap is too long
		{"take ~2 @ages", "it takes, ages", false},              // over a comma
		{"wait ~1, wait", "wait, wait", true},
		{"in @gear", "in gear 3", true}, {"in @gear", "in gear three", true}, {"in @gear", "in gear", false},
		{"?very hard", "very hard", true}, {"?very hard", "hard", true},
		{"=light on", "light on", true}, {"=light on", "lights on", false},
		{"go away", "it goes away", true}, {"go away", "it went away", true},
		{"it stop $", "then it stops", true}, {"it stop $", "then it stops me", false},
		{"^ fine when", "noisy, fine when cold", true}, {"^ fine when", "it is fine when cold", false},
		{"at %s", "at 60", true}, {"at %s", "at 80,000", false}, {"at %s", "at two", false}, {"at %s", "at seventy", true},
		{"in %% km", "in 12,000 km", true}, {"in % km", "in 12,000 km", false},
		{"slips|leaks", "it leaked", true},
		{"but dead", "fine but dead", true}, // a word that turns the thought may be named
	} {
		if got := match(t, c.way, c.text); got != c.want {
			t.Errorf("%q on %q: %v", c.way, c.text, got)
		}
	}
}

func TestABadPatternIsRefused(t *testing.T) {
	b := &Builder{Texts: map[string]string{"loop": "a / @loop", "gear": "first"}}
	for _, way := range []string{"", "~2 a", "a ~2", "?a", "@none", "@loop", "a ~x b", "a ~12 b", "?", "won't", "a//b", "^ $"} {
		if _, err := b.Pattern(way); err == nil {
			t.Errorf("%q is taken", way)
		}
	}
}

func TestAMaskHides(t *testing.T) {
	b := &Builder{}
	p, err := b.Pattern("slip")
	if err != nil {
		t.Fatal(err)
	}
	x := NewIndex()
	x.Add(p)
	in := Tokens("slip")
	in[0].Stem, in[0].Masked = Stem("slip"), FromSymptoms
	if n := len((&Matcher{Tokens: in, Respects: FromAll | FromSymptoms}).All(x, nil)); n != 0 {
		t.Errorf("%d matches through the mask", n)
	}
	if n := len((&Matcher{Tokens: in, Respects: FromAll}).All(x, nil)); n != 1 {
		t.Errorf("%d matches of what is not masked from it", n)
	}
}

func FuzzTokens(f *testing.F) {
	f.Add("It won’t go — 1,2.3")
	f.Add("'s 's ''")
	f.Add("\xff’\xfe")
	f.Fuzz(func(t *testing.T, text string) {
		last := 0
		for _, x := range Tokens(text) {
			if x.Start < last && x.Start != x.End && x.End < last || x.Start < 0 || x.End > len(text) || x.Start >= x.End || x.Text == "" && x.Stem != "" {
				t.Fatalf("%q: %+v after %d", text, x, last)
			}
			last = x.End
		}
	})
}
