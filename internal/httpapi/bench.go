package httpapi

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"innercompass/core/burnt"
	"innercompass/core/quantity"
	"innercompass/core/stack"
	"innercompass/core/unitsheet"
	"innercompass/core/workbench"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/problem"
	"innercompass/internal/shop"
	"innercompass/internal/teardown"
)

// explodedGap is the room between parts of an exploded drawing, mm.
const explodedGap = 14

func (h *handlers) GetStack(ctx context.Context, r gen.GetStackRequestObject) (gen.GetStackResponseObject, error) {
	version := 0
	if r.Params.Version != nil {
		version = *r.Params.Version
	}
	n, err := h.App.Library.Unit(ctx, r.ID, version)
	if err != nil {
		return nil, err
	}
	if n.Unit.Stack == nil {
		return nil, &problem.NotFoundError{Kind: "stack of unit", ID: r.ID}
	}
	st, err := h.App.Shop.Settings(ctx)
	return gen.GetStack200JSONResponse(stackView(n.Unit, st)), err
}

func (h *handlers) GetBench(ctx context.Context, r gen.GetBenchRequestObject) (gen.GetBenchResponseObject, error) {
	v, err := h.App.Teardown.View(ctx, r.ID)
	if err != nil {
		return nil, err
	}
	if v.Bench == nil {
		return nil, &problem.NotFoundError{Kind: "stack of unit", ID: v.Case.UnitID}
	}
	return gen.GetBench200JSONResponse(benchView(v)), nil
}

func (h *handlers) NoteBench(ctx context.Context, r gen.NoteBenchRequestObject) (gen.NoteBenchResponseObject, error) {
	notes := list(r.Body.Notes, func(n gen.BenchNote) workbench.Note {
		return workbench.Note{Kind: n.Kind, Part: text(n.Part), Ref: text(n.Ref), Value: text(n.Value), Words: text(n.Words), Withdraws: text(n.Withdraws)}
	})
	notes, err := h.App.Teardown.Gauged(ctx, notes, text(r.Body.Gauge))
	if err != nil {
		return nil, err
	}
	v, err := h.news(ctx)(h.App.Teardown.Write(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), by(ctx, r.Body.By), notes))
	return gen.NoteBench200JSONResponse{CaseNewsJSONResponse: v}, err
}

func stackView(u *unitsheet.Unit, st shop.Settings) gen.Stack {
	s := u.Stack
	t := s.Tally()
	out := gen.Stack{Unit: u.Sheet.ID, UnitName: u.Sheet.Name, Version: u.Sheet.Version, Axes: list(s.Sheet.Axes, func(a stack.AxisSheet) gen.StackAxis { return gen.StackAxis{ID: a.ID, Name: a.Name, Height: a.Height} }),
		Kits: list(s.Sheet.Kits, func(k stack.KitSheet) gen.StackKit {
			return gen.StackKit{ID: k.ID, Name: k.Name, Parts: texts(k.Parts)}
		}),
		Tally: gen.StackTally{Parts: t.Parts, Pieces: t.Pieces, Bolts: t.Bolts, Fits: t.Fits, Limits: t.Limits, Once: t.Once, Valves: t.Valves, Balls: t.Balls}, Parts: []gen.StackPart{}, Body: bodyView(u, st)}
	numbers, back := s.Numbers(), s.Back()
	shifts := s.Explode(make(stack.State, len(s.Parts)), explodedGap)
	for i, p := range s.Parts {
		one := partView(u, st, p)
		one.Number, one.Back, one.Shift = numbers[i], slices.Index(back, i)+1, []float64{shifts[i].X, shifts[i].Y}
		out.Parts = append(out.Parts, one)
	}
	return out
}

func partView(u *unitsheet.Unit, st shop.Settings, p stack.Part) gen.StackPart {
	out := gen.StackPart{ID: p.ID, Name: p.Name, Kind: p.Kind, KindName: stack.Kinds[p.Kind], Of: texts(p.Of), OfNames: []string{}, SitsIn: p.In, Turns: turnsName(u, p.Turns), Access: p.Access, Out: gen.StackPartOut(p.Out), Axis: p.Axis, Flat: p.Flat,
		Boxes: list(p.Boxes, boxView), Count: max(1, p.Count), Pieces: p.Pieces(), Plates: texts(p.Plates), Way: p.Way, Mark: p.Mark, Heed: p.Heed, Joint: p.Joint, Lube: p.Lube, Tool: p.Tool, Instead: p.Instead, Once: p.Once,
		Rules: texts(p.Rule), Limits: []gen.StackLimit{}, Traps: []gen.StackTrap{}, Together: []string{}, Bolts: list(p.Bolts, func(b stack.Bolts) gen.StackBolts { return boltsView(st, b) }),
		Better: list(p.Better, func(b stack.BetterPart) gen.StackBetter { return betterView(u, st, p, b) })}
	for _, e := range p.Of {
		if x, ok := u.Element(e); ok {
			out.OfNames = append(out.OfNames, x.Name)
		}
	}
	for _, r := range workbench.RulesOf(p) {
		when := map[string]string{"out": "Out: ", "in": "Back: "}[r.On]
		if r.Differ {
			when += "builders differ. "
		}
		out.Rules = append(out.Rules, when+r.Text)
	}
	if p.Fit != nil {
		out.Fit = &gen.StackFit{Limit: p.Fit.Limit, Grow: p.Fit.Grow, Sizes: list(p.Sizes, func(v float64) string { return si(st, v, quantity.Length, st.Length) })}
	}
	for _, l := range u.Sheet.Limits {
		if slices.Contains(p.Limits, l.ID) {
			out.Limits = append(out.Limits, gen.StackLimit{ID: l.ID, Name: l.Name, Window: givenWindow(st, u.Limits[l.ID], unitOf(st, u.Limits[l.ID].Low.Dimension))})
		}
	}
	for i, t := range u.Sheet.Traps {
		if t.Part == p.ID {
			on := gen.StackTrapOn("out")
			if t.On == "in" {
				on = "in"
			}
			out.Traps = append(out.Traps, gen.StackTrap{Ref: strconv.Itoa(i), Text: t.Text, On: on, At: append([]float64{}, t.At...)})
		}
	}
	for _, c := range u.Stack.Sheet.Company {
		if c.With != p.ID {
			continue
		}
		var names []string
		for _, id := range c.Parts {
			names = append(names, u.Stack.Parts[u.Stack.Index(id)].Name)
		}
		line := strings.Join(names, ", ") + ": " + c.Why
		if c.School != "" {
			line += " (" + c.School + " school)"
		}
		out.Together = append(out.Together, line)
	}
	return out
}

// betterView is an upgrade with what it changes at the element that it belongs to.
func betterView(u *unitsheet.Unit, st shop.Settings, p stack.Part, b stack.BetterPart) gen.StackBetter {
	out := gen.StackBetter{ID: b.ID, Name: b.Name, Says: b.Says, Does: []string{}}
	if len(p.Of) != 1 {
		return out
	}
	c, err := burnt.Upgrade(u, p.Of[0], b)
	if err != nil {
		return out
	}
	add := func(v [2]float64, words string, say func(float64) string) {
		if !math.IsNaN(v[0]) && !math.IsNaN(v[1]) && say(v[0]) != say(v[1]) {
			out.Does = append(out.Does, fmt.Sprintf(words, say(v[0]), say(v[1])))
		}
	}
	add(c.Margin, "holds %s times what it must, now %s", func(v float64) string { return fmt.Sprintf("%.2f", v) })
	add(c.Clear, "clearance %s, now %s", func(v float64) string { return si(st, v, quantity.Length, st.Length) })
	add(c.Touch, "begins to hold at %s, now %s", func(v float64) string { return si(st, v, quantity.Pressure, st.Pressure) })
	add(c.Time, "full throttle shift %s, now %s", func(v float64) string { return fmt.Sprintf("%.2f s", v) })
	add(c.Bulk, "plates warm by %s each shift, now %s", func(v float64) string { return fmt.Sprintf("%.0f K", v) })
	if c.NeedsNewPin {
		out.Does = append(out.Does, "travel is measured and the pin chosen again")
	}
	return out
}

func boxView(b stack.Box) []float64 { return []float64{b.X0, b.X1, b.Y0, b.Y1} }

// unitOf is the shop's unit of a dimension, "" for the usual one.
func unitOf(st shop.Settings, d quantity.Dimension) string {
	return map[quantity.Dimension]string{quantity.Length: st.Length, quantity.Pressure: st.Pressure, quantity.Torque: st.Torque}[d]
}

func turnsName(u *unitsheet.Unit, member string) string {
	if name := u.Sheet.Gearing.Names[member]; name != "" {
		return name
	}
	return member
}

func boltsView(st shop.Settings, b stack.Bolts) gen.StackBolts {
	return gen.StackBolts{Places: boltPlaces(b), Count: b.Count, Thread: b.Thread, Length: boltLength(st, b), Torque: list(b.Torque, func(v float64) string { return si(st, v, quantity.Torque, st.Torque) }), Turn: b.BoltsSheet.Turn,
		Pattern: gen.StackBoltsPattern(b.Pattern), Lie: gen.StackBoltsLie(b.Lie), With: gen.StackBoltsWith(b.With), Once: b.Once, Where: b.Where}
}

// boltLength is a bolt's length as the sheet has it, or in the shop's other unit.
func boltLength(st shop.Settings, b stack.Bolts) string {
	if st.Length == "mm" {
		return b.BoltsSheet.Length
	}
	return si(st, b.Length, quantity.Length, st.Length)
}

func bodyView(u *unitsheet.Unit, st shop.Settings) *gen.StackBody {
	b := u.Stack.Sheet.Body
	if b == nil {
		return nil
	}
	mm := func(text string) float64 {
		q, err := quantity.Parse(text, quantity.Length, "")
		if err != nil {
			return 0
		}
		return q.SI * 1000
	}
	out := &gen.StackBody{Part: b.Part, Size: b.Size, Bores: []gen.StackBore{}, Balls: []gen.StackBalls{}, Solenoids: []gen.StackPlace{}}
	for _, r := range b.Bores {
		out.Bores = append(out.Bores, gen.StackBore{ID: r.ID, Name: r.Name, At: r.At, Way: gen.StackBoreWay(r.Way), Bore: mm(r.Bore), Control: r.Control,
			Train: list(r.Train, func(p stack.PieceSheet) gen.StackPiece {
				return gen.StackPiece{Kind: gen.StackPieceKind(p.Kind), Name: p.Name, Length: mm(p.Length), Says: p.Way}
			})})
	}
	for _, x := range b.Balls {
		out.Balls = append(out.Balls, gen.StackBalls{At: x.At, Size: si(st, mm(x.Size)/1000, quantity.Length, st.Length), Diameter: mm(x.Size), In: x.In})
	}
	for _, x := range b.Solenoids {
		c, _ := u.Control(x.Control)
		out.Solenoids = append(out.Solenoids, gen.StackPlace{Control: x.Control, Name: c.Name, At: x.At})
	}
	return out
}

func benchView(v teardown.View) gen.Bench {
	b, s, st := v.Bench, v.Unit.Stack, v.Settings
	out := gen.Bench{Unit: v.Unit.Sheet.ID, Version: v.Unit.Sheet.Version, Level: v.Case.Access, Parts: []gen.BenchPart{}, Packs: []gen.BenchPack{}, Out: len(b.Tray), Built: len(b.Built()), Of: len(s.Parts) - 1, Own: list(b.Owns, ownView), Lost: len(b.Lost)}
	shifts := s.Explode(b.Gone, explodedGap)
	for i, p := range s.Parts {
		need, _ := unitsheet.ParseAccess(p.Access)
		held := s.Blocks(b.Gone, i)
		one := gen.BenchPart{ID: p.ID, Gone: b.Gone[i], Tray: slices.Index(b.Tray, i) + 1, Reach: need <= v.Level, Marked: b.HasMark[i], Verdict: b.Verdict(i), Shift: []float64{shifts[i].X, shifts[i].Y}, Held: []string{}, Read: []string{}, Limits: []gen.BenchLimit{}, Sizes: []gen.BenchSize{},
			Found: list(b.Founds[i], func(n workbench.Note) gen.BenchFound {
				at, _ := strconv.Atoi(n.Value)
				return gen.BenchFound{ID: n.ID, Verdict: n.Ref, Piece: at, Words: n.Words}
			})}
		one.Free = i > 0 && !one.Gone && one.Reach && len(held) == 0
		one.Ready = i > 0 && b.Ready(i, v.Level)
		if !one.Gone {
			for _, k := range held {
				one.Held = append(one.Held, s.Parts[k].Name)
			}
		}
		for _, t := range append(b.TrapsOf(i, "out"), b.TrapsOf(i, "in")...) {
			if b.Read[t] {
				one.Read = append(one.Read, strconv.Itoa(t))
			}
		}
		for ref, n := range b.Sizes[i] {
			if ref == workbench.Shelf {
				continue
			}
			one.Sizes = append(one.Sizes, gen.BenchSize{ID: n.ID, Ref: ref, Value: st.Style().Localise(n.Value)})
		}
		slices.SortFunc(one.Sizes, func(x, y gen.BenchSize) int { return strings.Compare(x.Ref, y.Ref) })
		for _, l := range b.Limits(i) {
			one.Limits = append(one.Limits, limitView(st, l))
		}
		if pack, ok := b.PackOf(i); ok {
			out.Packs = append(out.Packs, packView(st, p.ID, pack))
		}
		out.Parts = append(out.Parts, one)
	}
	if next, beyond := b.Next(v.Level); next >= 0 {
		out.Next = s.Parts[next].ID
	} else if beyond >= 0 {
		out.Beyond, out.BeyondAccess = s.Parts[beyond].ID, s.Parts[beyond].Access
	}
	if n, ok := b.Undo(); ok {
		out.Undo, out.UndoSays = n.ID, s.Parts[s.Index(n.Part)].Name
	}
	return out
}

func ownView(n workbench.Note) gen.BenchOwn {
	return gen.BenchOwn{ID: n.ID, Part: n.Part, Ref: n.Ref, Value: n.Value, Words: n.Words}
}

func limitView(st shop.Settings, l workbench.Against) gen.BenchLimit {
	out := gen.BenchLimit{ID: l.Limit, Name: l.Name, Window: givenWindow(st, l.Window, unitOf(st, l.Window.Low.Dimension)), Low: l.Window.Low.SI, High: l.Window.High.SI}
	if l.Value.Dimension != "" {
		out.Known, out.At, out.U, out.Verdict = true, l.Value.SI, l.Value.U, gen.BenchLimitVerdict(l.Verdict.Verdict)
		out.Value = st.Style().FormatMeasured(l.Value, unitOf(st, l.Value.Dimension))
	}
	return out
}

func packView(st shop.Settings, part string, p workbench.Pack) gen.BenchPack {
	out := gen.BenchPack{Part: part, Element: p.Element, Plates: []gen.BenchPlate{}, Depth: st.Style().FormatMeasured(p.Depth, st.Length), Measured: p.Measured, Known: p.Known, Told: p.Told, RoomAt: p.Room.SI * 1000, RoomU: p.Room.U * 1000}
	for _, x := range p.Plates {
		one := gen.BenchPlate{Kind: x.Kind, Fresh: x.New * 1000, Thick: x.Is * 1000, U: x.U * 1000, Measured: x.Measured, Verdict: x.Verdict}
		if x.Is > 0 {
			one.Text = si(st, x.Is, quantity.Length, st.Length)
		}
		if x.Measured && x.New > 0 {
			one.Change = si(st, x.Is-x.New, quantity.Length, st.Length)
			if off := math.Abs(x.Is - x.New); off < 5e-6 {
				one.Change = "0"
			} else if x.Is > x.New {
				one.Change = "+" + one.Change
			}
		}
		out.Plates = append(out.Plates, one)
	}
	if p.Known {
		out.Room = st.Style().FormatMeasured(p.Room, st.Length)
	}
	if !p.HasLimit {
		return out
	}
	out.Window, out.Low, out.High = givenWindow(st, p.Window, st.Length), p.Window.Low.SI*1000, p.Window.High.SI*1000
	if p.Known && (p.Told || p.Measured > 0) {
		out.Verdict = gen.BenchPackVerdict(p.Verdict.Verdict)
		off := quantity.Measured{Quantity: quantity.Quantity{SI: p.Room.SI - p.Window.High.SI, Dimension: quantity.Length}, U: p.Room.U}
		switch p.Verdict.Verdict {
		case "above":
			out.Says = "too wide by " + st.Style().FormatMeasured(off, st.Length)
		case "below":
			off.SI = p.Window.Low.SI - p.Room.SI
			out.Says = "too tight by " + st.Style().FormatMeasured(off, st.Length)
		case "cannot-tell":
			out.Says = "at the edge: this gauge cannot tell"
		default:
			out.Says = "inside the window"
		}
	}
	return out
}
