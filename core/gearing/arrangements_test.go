package gearing

// Arrangements for the tests, with tooth counts that assemble. pinion names are p, q, ….

func simple(sun, carrier, ring, planet string, zs, zp, zr int) []Mesh {
	return []Mesh{
		{A: sun, B: planet, TeethA: zs, TeethB: zp, Carrier: carrier},
		{A: ring, B: planet, TeethA: zr, TeethB: zp, Carrier: carrier, Internal: true},
	}
}

func ravigneaux(small, large, carrier, ring string, zs1, zs2, short, long, zr int) []Mesh {
	return []Mesh{
		{A: small, B: "short", TeethA: zs1, TeethB: short, Carrier: carrier},
		{A: "short", B: "long", TeethA: short, TeethB: long, Carrier: carrier},
		{A: large, B: "long", TeethA: zs2, TeethB: long, Carrier: carrier},
		{A: ring, B: "long", TeethA: zr, TeethB: long, Carrier: carrier, Internal: true},
	}
}

// fourSpeed is a compound set with an engine-side second shaft.
func fourSpeed() Train {
	return Train{
		Members: []string{"engine", "turbine", "S1", "S2", "carrier", "ring", "long", "short", "race"},
		Input:   "engine", Output: "ring", ForwardSign: 1,
		Meshes: ravigneaux("S1", "S2", "carrier", "ring", 30, 36, 18, 18, 72),
		Links:  []Link{{"engine", "turbine"}},
		Elements: []Element{
			{"FC", Clutch, "turbine", "S1"}, {"RC", Clutch, "turbine", "S2"}, {"DC", Clutch, "engine", "carrier"},
			{"IC", Brake, "race", Case}, {"IF", Freewheel, "S2", "race"}, {"OB", Band, "S2", Case},
			{"LB", Brake, "carrier", Case}, {"LF", Freewheel, "carrier", Case},
		},
	}
}

// threeSpeed joins two equal simple sets at the sun (Simpson).
func threeSpeed() Train {
	return Train{
		Members: []string{"in", "sun", "out", "ringF", "carR", "pf", "pr"},
		Input:   "in", Output: "out", ForwardSign: 1,
		Meshes: append(simple("sun", "out", "ringF", "pf", 35, 20, 75), simple("sun", "carR", "out", "pr", 35, 20, 75)...),
		Elements: []Element{
			{"FC", Clutch, "in", "ringF"}, {"DC", Clutch, "in", "sun"}, {"KB", Band, "sun", Case},
			{"LB", Brake, "carR", Case}, {"RC", Freewheel, "carR", Case},
		},
	}
}

// sixSpeed puts a simple set before a compound one (Lepelletier).
func sixSpeed() Train {
	m := simple(Case, "c0", "in", "p0", 36, 18, 72)
	return Train{
		Members: []string{"in", "c0", "p0", "S1", "S2", "C", "out", "long", "short"},
		Input:   "in", Output: "out", ForwardSign: 1,
		Meshes: append(m, ravigneaux("S1", "S2", "C", "out", 30, 39, 18, 21, 81)...),
		Elements: []Element{
			{"CA", Clutch, "c0", "S1"}, {"CB", Clutch, "c0", "S2"}, {"CE", Clutch, "in", "C"},
			{"BC", Brake, "S2", Case}, {"BD", Brake, "C", Case}, {"F1", Freewheel, "C", Case},
		},
	}
}
