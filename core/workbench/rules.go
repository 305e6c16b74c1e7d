package workbench

import (
	"slices"

	"innercompass/core/stack"
)

// Rule is what the trade heeds at a kind of part. All are common practice, no source; where practitioners differ both ways are said.
type Rule struct {
	On     string // out, when it comes out; in, when it goes back
	Kinds  []string
	IDs    []string // of single parts, besides
	Holds  func(stack.Part) bool
	Text   string
	Differ bool // practitioners differ
}

func bolted(p stack.Part) bool { return len(p.Bolts) > 0 }
func sealed(p stack.Part) bool { return p.Joint != "" }

// Rules are the rules of the bench, in the order in which they are shown.
var Rules = []Rule{
	{On: "out", Kinds: []string{"pan"}, Text: "Magnets on the outside of the pan in a test drive show how much metal is still moving."},
	{On: "out", Kinds: []string{"pan"}, Text: "A fine gray film on the magnet is usual. Chips, needles, brass, plastic or lining each name a source: keep them."},
	{On: "out", Holds: func(p stack.Part) bool {
		return sealed(p) && slices.Contains([]string{"pan", "cover", "housing"}, p.Kind)
	}, Text: "Silicone in place of a gasket: somebody was here before. Cut the bead; never bend the rail."},
	{On: "out", Kinds: []string{"housing", "cover", "pump"}, Text: "Pry only where it is cast for it, never at a sealing face."},
	{On: "out", Kinds: []string{"body"}, Text: "Lay valves, springs and clips out in order, bore by bore. One spring in the wrong bore is a gear missing."},
	{On: "out", Kinds: []string{"drum", "carrier", "sun", "shaft", "gear", "hub"}, Text: "Lay out in order, same side up. Look at the thrust washer: it stays on one of the two."},
	{On: "out", Kinds: []string{"bearing", "thrust", "needle"}, Text: "See which way round it is before it moves, and write it down."},
	{On: "out", Holds: bolted, Text: "A thread that comes out with its bolt: insert, next size, or longer bolt if the hole allows. Note which."},
	{On: "out", Kinds: []string{"case", "housing"}, Text: "A crack at a bolt boss: a new case is the cure. Welding old castings is doubtful; on a low-power unit some leave a hairline crack. The customer is told.", Differ: true},
	{On: "out", Kinds: []string{"flywheel"}, Text: "A dual-mass flywheel turns some 8 to 9 degrees against its springs. Much more means broken springs."},
	{On: "out", Kinds: []string{"clutch-cover"}, Text: "Centrifugal weights: some take them off and accept a tenth less clamp load; some leave them, since the ring centers itself. Measure before.", Differ: true},
	{On: "out", Kinds: []string{"pack"}, Text: "Black hard spots on a steel plate: it has slipped hot, and it is renewed. Dark linings that measure good may stay in a sound unit, not in a rebuild."},
	{On: "out", Kinds: []string{"seal"}, Text: "Bend the lip: a soft one is good, one that breaks has sealed nothing for long."},
	{On: "out", Kinds: []string{"converter"}, Text: "Black fluid or lining in the converter: cooler and lines are flushed or renewed with it."},
	{On: "in", Kinds: []string{"drum", "carrier", "gear", "hub", "shaft", "housing", "case", "body"}, Text: "Washed, blown dry with clean air, no rags: lint binds valves. Drying by heat or in air, never spinning a bearing with air."},
	{On: "in", Kinds: []string{"seal"}, Text: "Square to the bore and flush; lip greased. Pushed past its seat, a rear seal falls in."},
	{On: "in", Kinds: []string{"ring"}, Text: "Held with assembly grease, ends staggered. Butt ends are sized first, or they roll."},
	{On: "in", Kinds: []string{"o-ring"}, Text: "Square-cut or round: they are not the same. Some builders never use the square cut, because it leaks.", Differ: true},
	{On: "in", Kinds: []string{"pack"}, Text: "Soak friction plates, half an hour at least. Aim for the middle of the window, not its ends."},
	{On: "in", Kinds: []string{"body"}, Text: "Dowel bolts first, then from the middle out. Overtightened bolts bind a valve: a gear is missing after the service."},
	{On: "in", Kinds: []string{"pump"}, Text: "Oiled, not dry; halves in line; drawn down evenly. If it takes the bolts to draw it home, something behind it is not seated."},
	{On: "in", Kinds: []string{"converter"}, Text: "A quart of fluid in it. Turn and push until the depth is right; never draw it in by its bolts."},
	{On: "in", Kinds: []string{"disc"}, Text: "One way round. The alignment tool slides out with a fingertip, before and after tightening."},
	{On: "in", IDs: []string{"pilot"}, Text: "A dry pilot bearing drags the disc: gears grate with the pedal down. A new one each time the box is out."},
	{On: "in", Holds: sealed, Text: "Sealant thin and only where the maker wants it: what squeezes inward ends in a valve."},
	{On: "in", Holds: bolted, Text: "Threads clean and dry unless the sheet says oil or anti-seize: with anti-seize some take a quarter off the torque, others leave it.", Differ: true},
	{On: "in", Kinds: []string{"band"}, Text: "Soaked, lining to the drum, anchor first. Adjust it last, turns counted from tight."},
}

// RulesOf are the rules of the trade at a part.
func RulesOf(p stack.Part) []Rule {
	var out []Rule
	for _, r := range Rules {
		if slices.Contains(r.Kinds, p.Kind) || slices.Contains(r.IDs, p.ID) || r.Holds != nil && r.Holds(p) {
			out = append(out, r)
		}
	}
	return out
}
