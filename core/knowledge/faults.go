package knowledge

import (
	"slices"
	"strings"

	"innercompass/core/faultmap"
	"innercompass/core/unitsheet"
)

// fault links an owner to the nodes of a fault of the design, hot and cold, and makes them when they are new.
func (c *compiler) fault(o owner, l FaultLink) error {
	parts := []unitsheet.Element{o.part}
	switch {
	case l.Kind.Whole():
		parts = []unitsheet.Element{{}}
	case l.Part != "":
		parts = c.n.served(l.Part)
	}
	for _, part := range parts {
		for i, temp := range Temperatures {
			name := []string{l.Hot, l.Cold}[i]
			p, _ := strength(name)
			if p == 0 {
				continue
			}
			id, err := c.faultNode(l.Kind, part, temp)
			if err != nil {
				return err
			}
			if id != "" {
				c.links[o.name] = append(c.links[o.name], draft{node: id, p: p, why: l.Why, strength: name})
			}
		}
	}
	return nil
}

// FaultID is the id of the node for a fault of the design at a temperature.
func FaultID(f faultmap.Fault, temperature string) string {
	return "fault." + string(f.Kind) + "." + f.Part + "." + temperature
}

// faultNode returns the node of a fault, "" when this design cannot have it.
func (c *compiler) faultNode(kind faultmap.Kind, part unitsheet.Element, temp string) (string, error) {
	f := faultmap.Fault{Kind: kind, Part: part.ID}
	if kind.Whole() {
		f.Part = ""
	}
	at := slices.IndexFunc(c.n.Faults, func(r faultmap.Row) bool { return r.Fault == f })
	if at < 0 {
		if kind.Whole() {
			return "", nil
		}
		_, err := faultmap.Predict(c.n.Unit, f)
		return "", err
	}
	id := FaultID(f, temp)
	if slices.ContainsFunc(c.nodes, func(x Node) bool { return x.ID == id }) {
		return id, nil
	}
	row := c.n.Faults[at]
	active := 1.0
	if temp == "cold" {
		active = row.Cold
	}
	title := strings.ToUpper(row.Title[:1]) + row.Title[1:] + ", " + temp
	by := "by the design"
	if len(row.Assumed) > 0 {
		by += ", though " + strings.Join(row.Assumed, " and ")
	}
	c.nodes = append(c.nodes, Node{ID: id, Title: title, Kind: "fault", Entry: string(kind)})
	for _, p := range row.Cells {
		fi := c.n.FindingAt[RoadID(temp, p.Cell)]
		c.links[id] = append(c.links[id], draft{finding: fi, state: stateIndex(c.n.Findings[fi].States, p.State), p: p.Certainty * active, why: by + ": " + p.Detail, strength: "by design"})
		for _, o := range p.Besides {
			c.links[id] = append(c.links[id], draft{finding: fi, state: stateIndex(c.n.Findings[fi].States, o.State), p: o.Certainty * active, why: by + ": " + p.Detail, strength: "by design"})
		}
	}
	for _, p := range row.Gauged {
		if p.Cell.Behaviour == faultmap.Tap && temp == "hot" {
			c.tap(id, p)
		}
	}
	c.ratioCodes(id, row, active)
	for _, x := range c.n.said(row) {
		if at, ok := c.n.FindingAt[x.finding]; ok {
			if s := stateIndex(c.n.Findings[at].States, x.state); s > 0 {
				c.links[id] = append(c.links[id], draft{finding: at, state: s, p: x.p * active, why: by + ": " + x.why, strength: "by design"})
			}
		}
	}
	if at, ok := c.n.FindingAt[WentFirst]; ok {
		for r, p := range wentFirst(row) {
			c.links[id] = append(c.links[id], draft{finding: at, state: stateIndex(c.n.Findings[at].States, r), p: p * active, why: "it needs most of its capacity there", strength: "by design"})
		}
	}
	for _, s := range c.k.Signs {
		if s.Fault == kind && (len(s.For) == 0 || slices.Contains(s.For, c.n.kind(part))) {
			brings, shows := fillLinks(filler(part), s.Brings, s.Shows)
			c.todo = append(c.todo, owner{id, part, nil, brings, shows, active})
		}
	}
	return id, nil
}

// tap links a fault to what it shows at an element's tap, where there is one.
func (c *compiler) tap(id string, p faultmap.Prediction) {
	at, ok := c.n.FindingAt[TapID(p.Cell.Range)]
	if !ok {
		return
	}
	for _, x := range append([]faultmap.Alternative{{State: p.State, Certainty: p.Certainty}}, p.Besides...) {
		c.links[id] = append(c.links[id], draft{finding: at, state: c.n.Findings[at].StateAt(x.State), p: x.Certainty, why: "by the design: " + p.Detail, strength: "by design"})
	}
}

// ratioCodes links a fault to the codes of the gears whose ratio it makes wrong: the module compares the speeds
// and stores a code in more than half of the cases in which an attentive driver notices.
func (c *compiler) ratioCodes(id string, row faultmap.Row, active float64) {
	const stores = 0.6
	for i, f := range c.n.Findings {
		if f.Gear == "" {
			continue
		}
		best := 0.0
		for _, p := range row.Cells {
			wrong := p.Cell.Behaviour == faultmap.Slips || p.Cell.Behaviour == faultmap.Drives && p.State != "bind"
			if wrong && c.n.gear(p.Cell.Range) == f.Gear {
				best = max(best, p.Certainty)
			}
		}
		if best > 0 {
			c.links[id] = append(c.links[id], draft{finding: i, state: 1, p: stores * best * active, why: "the module compares turbine and output speed with the ratio of the gear", strength: "by design"})
		}
	}
}
