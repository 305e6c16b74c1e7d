package bench

import (
	"context"
	"fmt"
	"strings"

	"github.com/spf13/pflag"

	"innercompass/cmd/innercompass/cli"
	"innercompass/core/builder"
	"innercompass/core/knowledge"
	"innercompass/core/unitsheet"
	"innercompass/internal/catalog"
)

// depthFlag is how much of each unit the advice knows; the vehicles stay as they are.
type depthFlag struct {
	depth  string
	tables bool
}

func (d *depthFlag) add(f *pflag.FlagSet) {
	f.StringVar(&d.depth, "depth", string(unitsheet.InFull), "how much of each unit the advice knows: chart, gears or full")
	f.BoolVar(&d.tables, "tables", true, "with a lesser depth: keep the table of solenoids, valves and feeds")
}

// networks are those that advise.
func (d depthFlag) networks(know *catalog.Catalog) (map[string]*knowledge.Network, error) {
	to := unitsheet.Depth(d.depth)
	switch to {
	case unitsheet.InFull:
		return know.Networks, nil
	case unitsheet.ByChart, unitsheet.ByGears:
	default:
		return nil, cli.Usage("--depth: %q; accepted: %s", d.depth, strings.Join([]string{"chart", "gears", "full"}, ", "))
	}
	out := map[string]*knowledge.Network{}
	for id, n := range know.Networks {
		u, err := d.lesser(n.Unit, to, know)
		if err != nil {
			return nil, err
		}
		lesser, err := knowledge.Compile(know.Knowledge, u)
		if err != nil {
			return nil, err
		}
		out[id] = lesser
	}
	return out, nil
}

// lesser is a unit as somebody has it who knows less. Without the tables it is the sheet that the builder makes of what is left: what
// nobody says is taken over from the nearest other unit, and weighs less.
func (d depthFlag) lesser(u *unitsheet.Unit, to unitsheet.Depth, know *catalog.Catalog) (*unitsheet.Unit, error) {
	s := u.Reduce(to, d.tables)
	if d.tables {
		out, bad := unitsheet.Compile(s)
		if len(bad) > 0 {
			return nil, bad[0]
		}
		return out, nil
	}
	var others []*unitsheet.Unit
	for _, n := range know.Networks {
		if n.Unit.Sheet.ID != u.Sheet.ID {
			others = append(others, n.Unit)
		}
	}
	kind := builder.KindOf(u)
	wanted := builder.Wanted{Kind: kind, Control: s.Control, Gears: builder.Gears(s)}
	if s.Leaks != nil {
		wanted.Lies, wanted.Across = true, s.Leaks.Across
	}
	if like := builder.Nearest(others, wanted); like != nil {
		s = builder.Fill(s, kind, like.Sheet)
	}
	v, err := builder.Look(context.Background(), builder.Draft{Kind: kind, Counted: true, Sheet: s})
	if err != nil {
		return nil, err
	}
	if v.Unit == nil {
		return nil, fmt.Errorf("%s: %s", s.ID, v.Flaws[0].Reason)
	}
	return v.Unit, nil
}
