package catalog

import (
	"io/fs"

	"innercompass/core/scheme"
	"innercompass/core/unitsheet"
)

// Arrangements are the schemes of gears, in the order in which they are offered.
func (c *Catalog) Arrangements() []scheme.Scheme { return c.Schemes }

// loadSchemes reads the schemes of gears. One that does not solve is refused like a sheet.
func loadSchemes(files fs.FS) ([]scheme.Scheme, error) {
	names, err := fs.Glob(files, "schemes/*.yaml")
	if err != nil {
		return nil, err
	}
	var out []scheme.Scheme
	for _, name := range names {
		data, err := fs.ReadFile(files, name)
		if err != nil {
			return nil, err
		}
		var s scheme.Scheme
		file, err := decode(name, data, &s)
		if err != nil {
			return nil, err
		}
		if _, bad := unitsheet.Compile(s.Sheet()); len(bad) > 0 {
			var all Problems
			for _, b := range bad {
				all = append(all, Problem{name, line(file, b.Path), b.Path, b.Reason, b.Accepted})
			}
			return nil, all
		}
		out = append(out, s)
	}
	return out, nil
}
