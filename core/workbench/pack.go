package workbench

import (
	"fmt"
	"math"

	"innercompass/core/measure"
	"innercompass/core/quantity"
)

// Plate is one plate of a pack: what it is, its thickness new, and as it was measured.
type Plate struct {
	Kind     string
	New      float64 // m; 0 when the sheet does not say
	Is       float64 // m; New when it was not measured
	U        float64 // standard uncertainty of Is
	Measured bool
	Verdict  string // of this plate alone
}

// Pack is a pack of plates as far as it was measured. Lengths in m, Room.U a standard uncertainty.
type Pack struct {
	Element  string
	Plates   []Plate // from the piston on
	Depth    quantity.Measured
	Measured int // plates that were
	Room     quantity.Measured
	Known    bool // depth and all plates are known, from the sheet or by measuring
	Told     bool // the room itself was measured, by feeler or dial gauge
	Window   quantity.Window
	HasLimit bool
	Verdict  measure.Comparison // of the room, once something of it was measured
}

// How far from the sheet a part is taken to be that was not measured: common practice, no source.
const unmeasured = 0.03e-3

// What a micrometer and a depth gauge leave open when no other is named, m: 0.01 mm and 0.03 mm read to the nearest mark.
var gaugeLeft = map[string]float64{"depth": measure.Standard(0.03e-3, 0.01e-3), "": measure.Standard(0.01e-3, 0.003e-3)}

// PackOf is the pack of a part; false when it is none.
func (b *Bench) PackOf(i int) (Pack, bool) {
	p := b.stack.Parts[i]
	if p.Kind != "pack" {
		return Pack{}, false
	}
	out := Pack{Element: p.Of[0], Known: true}
	sheet := b.platesOf(out.Element)
	u2 := 0.0
	sum := 0.0
	for n, kind := range p.Plates {
		plate := Plate{Kind: kind, New: sheet[kind]}
		if (kind == "wave" || kind == "dished") && p.Wave > 0 {
			plate.New = p.Wave
		}
		plate.Is, plate.U = plate.New, unmeasured
		if m, ok := b.sizeOf(i, fmt.Sprintf("piece %d", n+1)); ok {
			plate.Is, plate.U, plate.Measured = m.SI, m.U, true
			out.Measured++
		}
		for _, f := range b.Founds[i] {
			if f.Value == fmt.Sprint(n+1) {
				plate.Verdict = f.Ref
			}
		}
		out.Known = out.Known && plate.Is > 0
		sum, u2 = sum+plate.Is, u2+plate.U*plate.U
		out.Plates = append(out.Plates, plate)
	}
	depth, measured := b.sizeOf(i, "depth")
	if !measured {
		depth = quantity.Measured{Quantity: quantity.Quantity{SI: sheet["depth"], Dimension: quantity.Length}, U: unmeasured}
	}
	out.Depth = depth
	out.Known = out.Known && depth.SI > 0
	out.Room = quantity.Measured{Quantity: quantity.Quantity{SI: depth.SI - sum, Dimension: quantity.Length}, U: math.Sqrt(u2 + depth.U*depth.U)}
	limit := "clearance-" + out.Element
	if w, ok := b.unit.Limits[limit]; ok {
		out.Window, out.HasLimit = w, true
	}
	if m, ok := b.sizeOf(i, limit); ok {
		out.Room, out.Known, out.Told = m, true, true
	}
	if out.HasLimit && out.Known {
		out.Verdict, _ = measure.Compare(out.Room.SI, out.Room.U, out.Window.Low.SI, out.Window.High.SI)
	}
	return out, true
}

// platesOf are the thicknesses of an element's plates by kind, and the depth; 0 where the sheet does not say.
func (b *Bench) platesOf(element string) map[string]float64 {
	out := map[string]float64{}
	for _, e := range b.unit.Sheet.Elements {
		if e.ID != element || e.Plates == nil {
			continue
		}
		for key, text := range map[string]string{"lined": e.Plates.LinedThick, "steel": e.Plates.SteelThick, "backing": e.Plates.Backing, "depth": e.Plates.Depth} {
			if q, err := quantity.Parse(text, quantity.Length, ""); err == nil {
				out[key] = q.SI
			}
		}
		out["wave"], out["dished"] = out["steel"], out["steel"]
	}
	return out
}

// sizeOf is what was measured of a part, with the usual gauge's uncertainty where none was given.
func (b *Bench) sizeOf(i int, ref string) (quantity.Measured, bool) {
	n, ok := b.Sizes[i][ref]
	if !ok {
		return quantity.Measured{}, false
	}
	d := quantity.Length
	if w, ok := b.unit.Limits[ref]; ok {
		d = w.Low.Dimension
	}
	m, err := quantity.ParseMeasured(n.Value, d, usual[d])
	if err != nil {
		return m, false
	}
	if m.U == 0 && d == quantity.Length {
		m.U = gaugeLeft[""]
		if ref != "height" && ref[:min(5, len(ref))] != "piece" {
			m.U = gaugeLeft["depth"]
		}
	}
	return m, true
}

// Against is a size that was measured, held against its limit.
type Against struct {
	Limit   string
	Name    string
	Value   quantity.Measured
	Window  quantity.Window
	Verdict measure.Comparison
}

// Limits are the limits of a part with what was measured; a limit that was not has no dimension in its value.
func (b *Bench) Limits(i int) []Against {
	var out []Against
	for _, id := range b.stack.Parts[i].Limits {
		w, ok := b.unit.Limits[id]
		if !ok {
			continue
		}
		a := Against{Limit: id, Name: id, Window: w}
		for _, l := range b.unit.Sheet.Limits {
			if l.ID == id {
				a.Name = l.Name
			}
		}
		if p, ok := b.PackOf(i); ok && id == "clearance-"+p.Element {
			if p.Told || p.Measured > 0 {
				a.Value, a.Verdict = p.Room, p.Verdict
			}
		} else if m, ok := b.sizeOf(i, id); ok {
			a.Value = m
			a.Verdict, _ = measure.Compare(m.SI, m.U, w.Low.SI, w.High.SI)
		}
		out = append(out, a)
	}
	return out
}

// State is the state of the limit's finding that the value speaks for most.
func (a Against) State() string {
	switch v := a.Verdict; {
	case v.Below >= v.Inside && v.Below >= v.Above:
		return "below"
	case v.Above >= v.Inside:
		return "above"
	}
	return "ok"
}

// Tells is what a size says of the limits of its part, once it says enough: a clearance when it was measured as such, or when every plate
// was.
func (b *Bench) Tells(n Note) []Against {
	i := b.stack.Index(n.Part)
	if n.Kind != Size || i < 0 {
		return nil
	}
	var out []Against
	for _, a := range b.Limits(i) {
		if a.Value.Dimension == "" {
			continue
		}
		if p, ok := b.PackOf(i); ok && a.Limit == "clearance-"+p.Element && !p.Told && p.Measured < len(p.Plates) {
			continue
		}
		if p, ok := b.PackOf(i); n.Ref == a.Limit || ok && a.Limit == "clearance-"+p.Element {
			out = append(out, a)
		}
	}
	return out
}
