package leak

// Plain is the map of a unit whose sheet has no places of its own: what every unit along the vehicle has, with a bell
// housing, pan, selector, vent and tail, and what only some have where it is said. Its places are no more exact than that.
func Plain(kind string, pressed, converter bool) Map {
	m := Map{Kind: kind,
		Zones: []Zone{
			{ID: "engine-back", Name: "rear of the engine", Box: Box{-12, 34, 14, 11, 54, 72}},
			{ID: "bell-in", Name: "inside the bell housing", Box: Box{2, 18, 20, 18, 60, 60}, Hidden: true},
			{ID: "bell-under", Name: "bell housing, underside", Box: Box{1, 6, 24, 21, 10, 52}},
			{ID: "case-left", Name: "case, left side", Box: Box{23, 22, 4, 46, 40, 12}},
			{ID: "case-right", Name: "case, right side", Box: Box{23, 22, 84, 46, 40, 12}},
			{ID: "case-top", Name: "case, top", Box: Box{23, 66, 14, 46, 12, 72}},
			{ID: "selector-shaft", Name: "selector shaft", Box: Box{40, 30, -4, 9, 9, 8}},
			{ID: "rail", Name: "pan rail or lower joint", Box: Box{24, 12, 12, 44, 5, 76}},
			{ID: "pan-under", Name: "pan or case, underside", Box: Box{27, 0, 20, 38, 11, 60}},
			{ID: "tail-zone", Name: "tail or output side", Box: Box{72, 28, 28, 20, 38, 44}},
			{ID: "tail-end", Name: "output end", Box: Box{93, 36, 36, 6, 22, 28}},
			{ID: "vent-zone", Name: "vent", Box: Box{44, 79, 46, 5, 8, 8}},
		},
		Sources: []Source{
			{ID: "front-seal", Name: "front seal", Zone: "bell-in", When: Turning, Prior: Usual},
			{ID: "engine", Name: "engine: rear seal or from above", Zone: "engine-back", When: Turning, Kind: "engine", Prior: Usual},
			{ID: "pan", Name: "pan gasket, rail or lower joint", Zone: "rail", When: Static, Prior: Usual},
			{ID: "selector", Name: "selector shaft seal", Zone: "selector-shaft", When: Static, Prior: Usual},
			{ID: "vent", Name: "vent: blocked, broken or overfilled", Zone: "vent-zone", When: Vent, Prior: Usual},
			{ID: "tail-seal", Name: "output seal", Zone: "tail-end", When: Turning, Prior: Usual},
		},
		Paths: []Path{{From: "bell-in", To: "bell-under", Share: 0.92}, {From: "engine-back", To: "bell-in", Share: 0.35}},
	}
	if pressed || converter {
		m.Zones = append(m.Zones, Zone{ID: "fittings", Name: "cooler fittings", Box: Box{27, 30, 96, 14, 9, 8}})
		m.Sources = append(m.Sources, Source{ID: "cooler-line", Name: "cooler line or fitting", Zone: "fittings", When: Pressure, Prior: Usual})
	}
	if converter {
		m.Sources = append(m.Sources, Source{ID: "pump-o-ring", Name: "pump body O-ring", Zone: "bell-in", When: Static, Prior: Usual})
	}
	return m
}
