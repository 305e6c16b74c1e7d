package bench

import (
	"strings"

	"github.com/spf13/pflag"

	"innercompass/cmd/innercompass/cli"
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
		u, bad := unitsheet.Compile(n.Unit.Reduce(to, d.tables))
		if len(bad) > 0 {
			return nil, bad[0]
		}
		lesser, err := knowledge.Compile(know.Knowledge, u)
		if err != nil {
			return nil, err
		}
		out[id] = lesser
	}
	return out, nil
}
