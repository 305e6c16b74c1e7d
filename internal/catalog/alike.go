package catalog

import (
	"errors"
	"io/fs"

	"innercompass/core/find"
)

// Names is what things are called elsewhere.
func (c *Catalog) Names() find.Alike { return c.Alike }

// loadAlike reads alike.yaml. The error is of type Problems when it is wrong.
func loadAlike(files fs.FS) (find.Alike, error) {
	const name = "alike.yaml"
	data, err := fs.ReadFile(files, name)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil // a folder of somebody's own need not have it
	}
	if err != nil {
		return nil, err
	}
	var in struct {
		Alike find.Alike `yaml:"alike"`
	}
	tree, err := decode(name, data, &in)
	if err != nil {
		return nil, err
	}
	var bad Problems
	for _, p := range in.Alike.Validate() {
		bad = append(bad, Problem{name, line(tree, p.Path), p.Path, p.Reason, p.Accepted})
	}
	if bad != nil {
		return nil, bad
	}
	return in.Alike, nil
}
