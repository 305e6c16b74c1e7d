package job

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"innercompass/core/estimate"
	"innercompass/core/knowledge"
	"innercompass/core/pricebook"
	"innercompass/core/unitsheet"
)

// machined is what machine work on a part costs of a new one where nothing else is known: judgment.
const machined = 0.35

// Listed are the parts of an option one by one, once the bench says which: what the option renews, what was noted as renewed, what
// came out and is never used again, and what always goes with these; kits in their place where they are cheaper, and machine work. Nil
// as long as nothing was noted, and for an option that does not reach what was noted, or puts another unit in.
func (v Visit) Listed(o knowledge.Option, level unitsheet.Access) []estimate.Piece {
	if v.Bench == nil || o.Strategy == "exchange" || o.Strategy == "watch" || len(o.Renews) == 0 {
		return nil
	}
	s := v.Network.Unit.Stack
	works := v.Bench.Works()
	by, any := map[int]*Part{}, false
	add := func(i int, why string) {
		if by[i] == nil {
			p := s.Parts[i]
			by[i] = &Part{ID: p.ID, Name: p.Name, Kind: p.Kind, Index: i, Why: why, Need: 1, Needs: []float64{1}}
		}
	}
	machine := map[int]bool{}
	for i := 1; i < len(s.Parts); i++ {
		work, noted := works[i]
		switch {
		case noted && (work.Ref == "clean" || work.Ref == "reuse"):
		case noted && work.Ref == "machine":
			machine[i], any = true, true
		case noted:
			if !within(s.Parts[i].Access, level) {
				return nil
			}
			add(i, Noted)
			any = true
		case s.Parts[i].Once && v.Bench.Gone[i]:
			add(i, Once)
		}
	}
	if !any {
		return nil
	}
	for _, i := range v.renewed(o) {
		if _, noted := works[i]; !noted && within(s.Parts[i].Access, level) {
			add(i, InWork)
		}
	}
	for _, c := range s.Sheet.Company {
		if by[s.Index(c.With)] == nil || c.School != "" && c.School != o.Strategy {
			continue
		}
		for _, id := range c.Parts {
			if i := s.Index(id); v.Bench.Gone[i] {
				if _, noted := works[i]; !noted {
					add(i, Company)
				}
			}
		}
	}
	var parts []Part
	for _, i := range slices.Sorted(maps.Keys(by)) {
		x := by[i]
		x.Price, x.From = v.priceOf(x.ID, x.Kind)
		if ref, up := strings.CutPrefix(works[i].Ref, "upgrade "); up {
			for _, b := range s.Parts[i].Better {
				if b.ID == ref {
					x.ID, x.Name = x.ID+"."+b.ID, b.Name
					x.Price, x.From = v.priceOf(x.ID, x.Kind)
				}
			}
		}
		parts = append(parts, *x)
	}
	var out []estimate.Piece
	for _, p := range v.kits(parts, []float64{1}) {
		title := p.Name
		if p.Kit {
			title = fmt.Sprintf("%s, %d of the parts needed", p.Name, len(p.Holds))
		}
		out = append(out, estimate.Piece{Item: item(p), Title: title, Kind: estimate.Parts, Price: p.Price, From: p.From})
	}
	for _, i := range slices.Sorted(maps.Keys(machine)) {
		p := s.Parts[i]
		price, from := v.priceOf(p.ID, p.Kind)
		price *= machined
		if x, ok := v.Price.Book.Find(v.Network.Unit.Sheet.ID, "machine:"+p.ID, ""); ok {
			price, from = x.Amount.Major(), pricebook.Shop
		} else if from == pricebook.Shop {
			from = pricebook.Guide
		}
		out = append(out, estimate.Piece{Item: "machine:" + p.ID, Title: "machine work: " + p.Name, Kind: estimate.Machine, Price: price, From: from})
	}
	return out
}

// priceOf is the price of a part: 0 and nowhere where the shop counts without the guide and has none.
func (v Visit) priceOf(id, kind string) (float64, pricebook.From) {
	price, from := v.Price.Book.Part(v.Network.Unit.Sheet.ID, id, kind)
	if from == pricebook.Guide && !v.Price.Rates.Guide {
		return 0, pricebook.None
	}
	return price, from
}

func item(p Part) string {
	if p.Kit {
		return strings.Replace(p.ID, "kit.", "kit:", 1)
	}
	return "part:" + p.ID
}
