package workbench

import (
	"slices"
	"strconv"
	"strings"
)

// Saying is what a note says to the diagnosis: a state of a finding.
type Saying struct{ Finding, State string }

// says is what a verdict on a kind of part, or on a part by its id, says. {e} stands for each element that the part is of, {s} for what the
// elements share; several sayings are parted by a bar. A verdict that is not listed says nothing that the trade's findings know.
var says = map[string]map[string]string{
	"pack":                   {"kept": "plates.{e}=sound", "worn": "plates.{e}=worn", "burnt": "plates.{e}=burnt", "broken": "plates.{e}=burnt", "wrong": "plate-count.{e}=wrong", "missing": "plate-count.{e}=wrong", "differs": "plate-count.{e}=wrong"},
	"pack steel":             {"burnt": "steels.{e}=spots", "broken": "steels.{e}=coned", "worn": "steels.{e}=coned"},
	"piston":                 {"kept": "piston.{e}=sound", "broken": "piston.{e}=cracked", "worn": "piston.{e}=cracked", "wrong": "piston.{e}=cocked"},
	"seal":                   {"kept": "piston-seal.{e}=soft", "worn": "piston-seal.{e}=hard", "burnt": "piston-seal.{e}=hard", "broken": "piston-seal.{e}=hard", "cut": "piston-seal.{e}=cut"},
	"return-spring":          {"kept": "springs.{e}=whole", "broken": "springs.{e}=broken", "worn": "springs.{e}=broken", "missing": "springs.{e}=broken"},
	"ring":                   {"kept": "seal-rings.{e}=sound|rings-seen.{s}=sound", "worn": "seal-rings.{e}=worn|rings-seen.{s}=worn", "cut": "seal-rings.{e}=worn|rings-seen.{s}=worn", "broken": "seal-rings.{e}=worn|rings-seen.{s}=out", "missing": "seal-rings.{e}=out|rings-seen.{s}=out", "wrong": "rings-seen.{s}=worn"},
	"drum":                   {"kept": "drum.{e}=sound", "broken": "drum.{e}=cracked", "worn": "ring-grooves.{e}=stepped|band-drum.{e}=blue", "burnt": "band-drum.{e}=blue"},
	"bushing":                {"kept": "bushing.{e}=in-place|rings-seen.{s}=sound", "worn": "bushing.{e}=worn|rings-seen.{s}=worn", "wrong": "bushing.{e}=turned|rings-seen.{s}=worn", "missing": "bushing.{e}=worn"},
	"one-way":                {"kept": "freewheel.{e}=one-way", "broken": "freewheel.{e}=slips", "burnt": "freewheel.{e}=seized", "worn": "freewheel.{e}=rough", "wrong": "freewheel-way.{e}=reversed"},
	"race":                   {"kept": "race.{e}=smooth", "worn": "race.{e}=marked", "broken": "race.{e}=marked"},
	"band":                   {"kept": "band.{e}=sound", "worn": "band.{e}=worn", "burnt": "band.{e}=burnt", "broken": "band.{e}=burnt"},
	"servo":                  {"kept": "servo-parts.{e}=sound", "worn": "servo-parts.{e}=bore", "broken": "servo-parts.{e}=pin", "wrong": "servo-size.{e}=other", "differs": "servo-size.{e}=other"},
	"synchro":                {"kept": "synchro-gap.{e}=ok", "worn": "synchro-gap.{e}=worn", "broken": "synchro-gap.{e}=rounded"},
	"sleeve":                 {"kept": "sleeve.{e}=free", "worn": "sleeve.{e}=worn", "broken": "sleeve.{e}=worn"},
	"fork":                   {"kept": "fork.{e}=sound", "worn": "fork.{e}=worn", "broken": "fork.{e}=worn"},
	"gear":                   {"kept": "gearset=sound", "worn": "gearset=worn", "broken": "gearset=worn", "burnt": "gearset=blue"},
	"sun":                    {"kept": "gearset=sound", "worn": "gearset=worn", "broken": "gearset=worn", "burnt": "gearset=blue"},
	"ring-gear":              {"kept": "gearset=sound", "worn": "gearset=worn", "broken": "gearset=worn", "burnt": "gearset=blue"},
	"carrier":                {"kept": "gearset=sound", "worn": "gearset=worn", "broken": "gearset=worn", "burnt": "gearset=blue"},
	"thrust":                 {"kept": "thrust-washers=sound", "worn": "thrust-washers=worn", "broken": "thrust-washers=collapsed", "burnt": "thrust-washers=worn", "wrong": "thrust-washers=wrong", "missing": "thrust-washers=wrong"},
	"shim":                   {"kept": "thrust-washers=sound", "worn": "thrust-washers=worn", "broken": "thrust-washers=worn", "wrong": "thrust-washers=wrong", "missing": "thrust-washers=wrong"},
	"bearing":                {"kept": "bearing-feel=smooth", "worn": "bearing-feel=rough", "broken": "bearing-feel=rough", "burnt": "bearing-feel=rough", "wrong": "bearing-feel=spun"},
	"chain":                  {"kept": "chain=tight", "worn": "chain=slack", "broken": "chain=broken"},
	"sprocket":               {"worn": "chain=slack"},
	"park":                   {"kept": "park-pawl=sound", "worn": "park-pawl=worn", "broken": "park-pawl=worn"},
	"differential":           {"kept": "final-drive=sound", "worn": "final-drive=worn", "broken": "final-drive=worn"},
	"final-drive":            {"kept": "final-drive=sound", "worn": "final-drive=worn", "broken": "final-drive=worn"},
	"converter":              {"kept": "converter-body=true", "burnt": "converter-body=blue", "broken": "converter-body=crack", "worn": "hub-look=grooved"},
	"pump-gear":              {"kept": "pump-gears=sound", "worn": "pump-gears=worn", "broken": "pump-gears=lugs"},
	"pump":                   {"kept": "pump-faces=flat", "worn": "pump-faces=warped"},
	"disc":                   {"kept": "disc-look=sound", "worn": "disc-look=worn", "burnt": "disc-look=burnt", "broken": "disc-look=springs"},
	"clutch-cover":           {"kept": "cover-fingers=even", "worn": "cover-fingers=uneven", "broken": "cover-fingers=uneven", "burnt": "pressure-face=hot"},
	"release":                {"kept": "release-bearing-look=smooth", "worn": "release-bearing-look=rough", "broken": "release-bearing-look=rough"},
	"flywheel":               {"kept": "flywheel-hand=firm", "worn": "flywheel-hand=loose", "broken": "flywheel-hand=loose", "burnt": "pressure-face=hot", "differs": "flywheel-kind=solid"},
	"rail":                   {"kept": "shift-detents=sound", "worn": "shift-detents=worn", "broken": "shift-detents=worn"},
	"case":                   {"kept": "case-bore=sound", "worn": "case-bore=worn", "broken": "case-bore=worn"},
	"pump-vanes":             {"kept": "pump-vanes=free", "worn": "pump-vanes=stuck", "broken": "pump-vanes=broken"},
	"pump-slide":             {"kept": "pump-vanes=free", "worn": "pump-vanes=stuck", "broken": "pump-vanes=broken"},
	"pump-bushing":           {"kept": "pump-bushing=sound", "worn": "pump-bushing=worn", "wrong": "pump-bushing=turned"},
	"case-bushing":           {"kept": "case-bushing=sound", "worn": "case-bushing=worn", "wrong": "case-bushing=worn"},
	"front-seal":             {"kept": "front-seal=sound", "worn": "front-seal=seal", "cut": "front-seal=seal", "wrong": "front-seal=walked"},
	"pump-o-ring":            {"worn": "front-seal=o-ring", "cut": "front-seal=o-ring"},
	"pump-gasket":            {"kept": "pump-bolts=sound", "cut": "pump-bolts=leak", "worn": "pump-bolts=leak"},
	"stator-support":         {"kept": "stator-shaft=sound", "worn": "stator-shaft=worn", "broken": "stator-shaft=worn"},
	"stator-bushing":         {"kept": "stator-shaft=sound", "worn": "stator-shaft=worn"},
	"input-shaft":            {"kept": "input-splines=sound", "worn": "input-splines=stripped", "broken": "input-splines=stripped"},
	"turbine-shaft":          {"kept": "input-splines=sound", "worn": "input-splines=stripped", "broken": "input-splines=stripped"},
	"pilot":                  {"kept": "pilot=smooth", "worn": "pilot=dry", "burnt": "pilot=dry", "broken": "pilot=dry"},
	"release-fork":           {"kept": "release-guide=smooth", "worn": "release-guide=worn", "broken": "release-guide=worn"},
	"guide-tube":             {"kept": "release-guide=smooth", "worn": "release-guide=worn"},
	"crank-seal":             {"kept": "crank-seal=dry", "worn": "crank-seal=engine", "cut": "crank-seal=engine"},
	"input-bearing":          {"kept": "input-bearing-look=smooth", "worn": "input-bearing-look=rough", "broken": "input-bearing-look=rough"},
	"rail-detents":           {"kept": "shift-detents=sound", "worn": "shift-detents=worn", "broken": "shift-detents=worn", "missing": "shift-detents=worn"},
	"governor-support-rings": {"kept": "governor-rings=sound", "worn": "governor-rings=worn", "broken": "governor-rings=worn", "cut": "governor-rings=worn"},
}

// Says is what a finding on a part says to the diagnosis; has tells which states this unit's findings have.
func (b *Bench) Says(n Note, has func(finding, state string) bool) []Saying {
	i := b.stack.Index(n.Part)
	if i < 0 || n.Kind != Found {
		return nil
	}
	part := b.stack.Parts[i]
	key := part.Kind
	if _, own := says[part.ID]; own {
		key = part.ID
	}
	if part.Kind == "pack" && n.Value != "" {
		if p, ok := b.PackOf(i); ok {
			for k, plate := range p.Plates {
				if n.Value == strconv.Itoa(k+1) && plate.Kind != "lined" {
					key = "pack steel"
				}
			}
		}
		if n.Ref == "kept" {
			return nil // one good plate says nothing of the pack
		}
	}
	text := says[key][n.Ref]
	if part.Kind == "ring" && strings.HasSuffix(part.ID, "-servo-seals") {
		text = map[string]string{"worn": "servo-parts.{e}=seal", "cut": "servo-parts.{e}=seal", "broken": "servo-parts.{e}=seal", "kept": "servo-parts.{e}=sound"}[n.Ref]
	}
	var out []Saying
	add := func(finding, state string) {
		if s := (Saying{finding, state}); has(finding, state) && !slices.Contains(out, s) && (n.Ref != "kept" || !b.worse(n, s, has)) {
			out = append(out, s)
		}
	}
	for _, one := range strings.Split(text, "|") {
		finding, state, ok := strings.Cut(one, "=")
		if !ok {
			continue
		}
		switch {
		case strings.Contains(finding, "{e}"):
			for _, e := range part.Of {
				add(strings.Replace(finding, "{e}", e, 1), state)
			}
		case strings.Contains(finding, "{s}"):
			for _, s := range b.unit.Sheet.Shared {
				if !slices.ContainsFunc(s.Serves, func(e string) bool { return !slices.Contains(part.Of, e) }) {
					add(strings.Replace(finding, "{s}", s.ID, 1), state)
				}
			}
		default:
			add(finding, state)
		}
	}
	return out
}

// Sound are the findings, each with its state, that say of a part that it is sound; has tells which states this unit's findings have.
func (b *Bench) Sound(i int, has func(finding, state string) bool) []Saying {
	bare := &Bench{unit: b.unit, stack: b.stack}
	bare.clear()
	return bare.Says(Note{Kind: Found, Part: b.stack.Parts[i].ID, Ref: "kept"}, has)
}

// worse reports whether another part says the same finding in another state: one good gear does not take back a bad one.
func (b *Bench) worse(n Note, s Saying, has func(finding, state string) bool) bool {
	return slices.ContainsFunc(b.notes, func(o Note) bool {
		if o.Kind != Found || o.Ref == "kept" || o.ID == n.ID || o.Part == n.Part && o.Value == n.Value {
			return false
		}
		return slices.ContainsFunc(b.Says(o, has), func(x Saying) bool { return x.Finding == s.Finding && x.State != s.State })
	})
}
