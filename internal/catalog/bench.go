package catalog

import (
	"fmt"
	"io/fs"
	"strings"

	"github.com/goccy/go-yaml"

	"innercompass/core/casebench"
)

// benchCase is a case of the bench as it is written: lines are "finding state", "finding state @source" or "? what has no word"; cells
// of the road test leave out their first part.
type benchCase struct {
	ID        string     `yaml:"id"`
	Unit      string     `yaml:"unit"`
	Distance  string     `yaml:"distance"`
	Coincides bool       `yaml:"coincides"`
	Spent     bool       `yaml:"spent"`
	Kinds     []string   `yaml:"kinds"`
	Truth     [][]string `yaml:"truth"`
	SureAfter string     `yaml:"sure_after"`
	Words     []string   `yaml:"words"`
	Asked     []string   `yaml:"asked"`
	Drive     []string   `yaml:"drive"`
	Ground    []string   `yaml:"ground"`
	Deeper    []string   `yaml:"deeper"`
	Good      []string   `yaml:"good"`
	Bad       []string   `yaml:"bad"`
	Do        []string   `yaml:"do"`
	Never     []string   `yaml:"never"`
}

// LoadBench reads the cases of one file of the bench. Errors name the case and the line.
func LoadBench(files fs.FS, name string) ([]casebench.Case, error) {
	data, err := fs.ReadFile(files, name)
	if err != nil {
		return nil, err
	}
	var raw []benchCase
	if err := yaml.UnmarshalWithOptions(data, &raw, yaml.Strict()); err != nil {
		return nil, fmt.Errorf("%s: %w", name, err)
	}
	out := make([]casebench.Case, len(raw))
	for i, r := range raw {
		c := casebench.Case{ID: r.ID, Unit: r.Unit, Distance: r.Distance, Coincides: r.Coincides, Spent: r.Spent, Kinds: r.Kinds, Truth: r.Truth, SureAfter: r.SureAfter, Lines: map[string][]casebench.Line{},
			Next: casebench.Judged{Good: r.Good, Bad: r.Bad}, Do: r.Do, Never: r.Never}
		for stage, lines := range map[string][]string{"words": r.Words, "asked": r.Asked, "drive": r.Drive, "ground": r.Ground, "deeper": r.Deeper} {
			for _, text := range lines {
				l, err := benchLine(text)
				if err != nil {
					return nil, fmt.Errorf("%s: case %s, %s: %w", name, r.ID, stage, err)
				}
				c.Lines[stage] = append(c.Lines[stage], l)
			}
		}
		out[i] = c
	}
	return out, nil
}

func benchLine(text string) (casebench.Line, error) {
	if lacks, ok := strings.CutPrefix(text, "? "); ok {
		return casebench.Line{Lacks: lacks}, nil
	}
	parts := strings.Fields(text)
	if len(parts) == 3 && strings.HasPrefix(parts[2], "@") {
		l, err := benchLine(parts[0] + " " + parts[1])
		l.Source = parts[2][1:]
		return l, err
	}
	if len(parts) != 2 {
		return casebench.Line{}, fmt.Errorf("%q; accepted: finding and state, with @source if another than the stage's, or \"? \" and what has no word", text)
	}
	finding := parts[0]
	if strings.HasPrefix(finding, "hot.") || strings.HasPrefix(finding, "cold.") {
		finding = "road." + finding
	}
	return casebench.Line{Finding: finding, State: parts[1]}, nil
}
