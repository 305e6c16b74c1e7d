package pricebook

import "innercompass/core/money"

// guidePart is what a part of a kind costs new where nothing else is known, per entry of the stack: judgment, to be set in the price book.
var guidePart = map[string]float64{
	"case": 700, "housing": 300, "cover": 60, "pan": 65, "filter": 26, "body": 420, "plate": 35, "converter": 380, "flywheel": 320, "disc": 140, "clutch-cover": 165, "release": 48,
	"pump": 260, "pump-gear": 95, "shaft": 190, "drum": 165, "hub": 120, "shell": 130, "piston": 48, "return-spring": 28, "retainer": 12, "snap-ring": 4, "pack": 115, "band": 62, "servo": 58, "anchor": 18,
	"one-way": 92, "race": 40, "sun": 110, "ring-gear": 130, "carrier": 240, "gear": 120, "synchro": 46, "sleeve": 92, "fork": 55, "rail": 38, "lever": 30, "bearing": 44, "needle": 17, "bushing": 9, "thrust": 12,
	"shim": 8, "gasket": 9, "seal": 10, "o-ring": 3, "ring": 7, "spring": 4, "balls": 5, "valve": 26, "accumulator": 45, "solenoid": 88, "sensor": 58, "harness": 96, "module": 650, "governor": 90, "modulator": 48, "cable": 40,
	"chain": 130, "sprocket": 78, "park": 55, "differential": 380, "final-drive": 260, "flange": 75, "tube": 24, "fitting": 6, "vent": 4, "plug": 4, "actuator": 680, "magnet": 5, "nut": 5, "key": 3, "cylinder": 72,
}

// kitShare is what a kit costs of its parts bought one by one: judgment.
const kitShare = 0.7

// Part is the price of a part of a unit: its own in the book, else that of its kind there, else the guide's.
func (b Book) Part(unit, id, kind string) (float64, From) {
	if p, ok := b.Find(unit, "part:"+id, ""); ok {
		return p.Amount.Major(), Shop
	}
	if p, ok := b.Find("*", "part:"+kind, ""); ok {
		return p.Amount.Major(), Shop
	}
	if guide, ok := guidePart[kind]; ok {
		return guide, Guide
	}
	return 0, None
}

// Kit is the price of a kit whose parts come to so much one by one.
func (b Book) Kit(unit, id string, parts float64) (float64, From) {
	if p, ok := b.Find(unit, "kit:"+id, ""); ok {
		return p.Amount.Major(), Shop
	}
	return money.Of(parts * kitShare).Major(), Guide
}
