package catalog

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"github.com/goccy/go-yaml"

	"innercompass/core/knowledge"
	"innercompass/core/unitsheet"
)

// Shipped returns the networks of the sheets that come with the app, by unit.
func (c *Catalog) Shipped() map[string]*knowledge.Network { return c.Networks }

// Text returns a shipped sheet as it is written, nil when there is none.
func (c *Catalog) Text(id string) []byte { return c.texts[id] }

// Check reads a sheet, YAML or JSON, and compiles it, knowledge base included. Either the network or at least
// one problem is returned, unless ctx ends before: then its error.
func (c *Catalog) Check(ctx context.Context, text []byte) (*knowledge.Network, []*unitsheet.Problem, error) {
	n, _, err := c.compile(ctx, "sheet", text)
	if ctx.Err() != nil {
		return nil, nil, ctx.Err()
	}
	if err != nil {
		var bad Problems
		if !errors.As(err, &bad) {
			return nil, []*unitsheet.Problem{{Reason: err.Error()}}, nil
		}
		out := make([]*unitsheet.Problem, len(bad))
		for i, p := range bad {
			out[i] = &unitsheet.Problem{Path: p.Path, Reason: p.Reason, Accepted: p.Accepted, Line: p.Line}
		}
		return nil, out, nil
	}
	return n, nil, nil
}

// Doubts are a sheet's doubts with the lines where they stand, and known failures whose cause nobody knows.
func (c *Catalog) Doubts(n *knowledge.Network, text []byte) []*unitsheet.Problem {
	var sheet unitsheet.Sheet
	file, err := decode("sheet", text, &sheet)
	out := n.Unit.Doubts()
	for i, k := range n.Unit.Sheet.Known {
		if _, ok := n.Cause(k.Cause); k.Cause != "" && !ok {
			out = append(out, &unitsheet.Problem{Path: fmt.Sprintf("known[%d].cause", i), Reason: fmt.Sprintf("no cause %q", k.Cause), Accepted: "an id listed by: innercompass causes, or none"})
		}
	}
	if err != nil {
		return out
	}
	for _, p := range out {
		p.Line = line(file, p.Path)
	}
	return out
}

// Write puts a sheet into "yaml" or "json".
func (c *Catalog) Write(s unitsheet.Sheet, format string) ([]byte, error) {
	if format == "json" {
		out, err := json.MarshalIndent(s, "", "  ")
		return append(out, '\n'), err
	}
	return yaml.MarshalWithOptions(s, yaml.IndentSequence(true))
}
