package teeth

import "innercompass/core/gearing"

func clutch(id, a, b string) gearing.Element {
	return gearing.Element{ID: id, Kind: gearing.Clutch, A: a, B: b}
}

func brake(id, a string) gearing.Element {
	return gearing.Element{ID: id, Kind: gearing.Brake, A: a, B: gearing.Case}
}

// Two sets on one sun.
func simpson() Train {
	return Train{Members: []string{"in", "sun", "out", "ringF", "carR"}, Input: "in", Output: "out", ForwardSign: 1,
		Sets:     []Set{{"front", Simple, "sun", "", "ringF", "out"}, {"rear", Simple, "sun", "", "out", "carR"}},
		Elements: []gearing.Element{clutch("FC", "in", "ringF"), clutch("DC", "in", "sun"), brake("KB", "sun"), brake("LB", "carR")}}
}

// Two sets, each carrier on the other's ring.
func crossed() Train {
	return Train{Members: []string{"in", "S1", "A", "B", "S2"}, Input: "in", Output: "B", ForwardSign: 1,
		Sets:     []Set{{"first", Simple, "S1", "", "B", "A"}, {"second", Simple, "S2", "", "A", "B"}},
		Elements: []gearing.Element{clutch("K1", "in", "S2"), clutch("K2", "in", "A"), clutch("K3", "in", "S1"), brake("B1", "A"), brake("B2", "S1")}}
}

// One set with two suns.
func ravigneaux() Train {
	return Train{Members: []string{"in", "small", "large", "C", "out"}, Input: "in", Output: "out", ForwardSign: 1,
		Sets:     []Set{{"set", TwoSuns, "large", "small", "out", "C"}},
		Elements: []gearing.Element{clutch("K1", "in", "small"), clutch("K2", "in", "large"), clutch("K3", "in", "C"), brake("B1", "C"), brake("B2", "large")}}
}

// A simple set with its sun on the case before a set with two suns.
func lepelletier() Train {
	return Train{Members: []string{"in", "C0", "S0", "small", "large", "C", "out"}, Input: "in", Output: "out", ForwardSign: 1,
		Sets:     []Set{{"front", Simple, "S0", "", "in", "C0"}, {"rear", TwoSuns, "large", "small", "out", "C"}},
		Elements: []gearing.Element{brake("S0B", "S0"), clutch("CA", "C0", "small"), clutch("CB", "C0", "large"), clutch("CE", "in", "C"), brake("BC", "large"), brake("BD", "C")}}
}

// Four sets in line with ten ranges.
func tenSpeed() Train {
	return Train{Members: []string{"in", "out", "x0", "x2", "x4", "x5", "x6", "x7"}, Input: "in", Output: "out", ForwardSign: 1,
		Sets:     []Set{{"1", Simple, "x0", "", "x2", "out"}, {"2", Simple, "in", "", "x4", "x7"}, {"3", Simple, "x5", "", "x2", "x4"}, {"4", Simple, "x6", "", "x0", "x7"}},
		Elements: []gearing.Element{brake("A", "x6"), clutch("B", "x2", "in"), clutch("C", "x0", "in"), brake("D", "x5"), clutch("E", "out", "x7"), clutch("F", "x4", "x5")}}
}

// Two shafts and a head set on a countershaft.
func manual() Train {
	t := Train{Members: []string{"in", "CS", "g1", "g2", "g3", "g5", "gr", "out"}, Input: "in", Output: "out", ForwardSign: 1,
		Pairs:    []Pair{{Name: "head", A: "in", B: "CS"}, {Name: "1", A: "CS", B: "g1"}, {Name: "2", A: "CS", B: "g2"}, {Name: "3", A: "CS", B: "g3"}, {Name: "5", A: "CS", B: "g5"}, {Name: "R", A: "CS", B: "gr", Idler: true}},
		Elements: []gearing.Element{clutch("G4", "in", "out")}}
	for _, g := range []string{"g1", "g2", "g3", "g5", "gr"} {
		t.Elements = append(t.Elements, clutch(g, g, "out"))
	}
	return t
}
