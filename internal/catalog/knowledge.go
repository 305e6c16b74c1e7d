package catalog

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io/fs"
	"sort"

	"github.com/goccy/go-yaml"
	"github.com/goccy/go-yaml/ast"

	"innercompass/core/knowledge"
)

// place is where an entry of the joined knowledge base was written.
type place struct {
	file  string
	index int
	ast   *ast.File
}

// LoadKnowledge reads trade/*.yaml, in the order of their names, as one knowledge base. The error is of type
// Problems when a file is wrong; every problem has its file and line.
func LoadKnowledge(files fs.FS) (knowledge.Base, error) {
	var k knowledge.Base
	names, err := fs.Glob(files, "trade/*.yaml")
	if err != nil {
		return k, err
	}
	if len(names) == 0 {
		return k, fmt.Errorf("no knowledge: no file trade/*.yaml")
	}
	sort.Strings(names)
	digest := sha256.New()
	places := map[string][]place{}
	var found Problems
	for _, name := range names {
		data, err := fs.ReadFile(files, name)
		if err != nil {
			return k, err
		}
		digest.Write(data)
		var part knowledge.Base
		tree, err := decode(name, data, &part)
		if bad, ok := err.(Problems); ok {
			found = append(found, bad...)
			continue
		}
		if err != nil {
			return k, err
		}
		for list, n := range part.Counts() {
			for i := range n {
				places[list] = append(places[list], place{name, i, tree})
			}
		}
		k = k.With(part)
	}
	k.Version = hex.EncodeToString(digest.Sum(nil))[:12]
	if len(found) > 0 {
		return k, found
	}
	for _, p := range k.Validate() {
		at := places[p.List][p.Index]
		path := fmt.Sprintf("%s[%d].%s", p.List, at.index, p.Path)
		found = append(found, Problem{at.file, line(at.ast, path), path, p.Reason, p.Accepted})
	}
	if len(found) > 0 {
		sort.SliceStable(found, func(i, j int) bool {
			if found[i].File != found[j].File {
				return found[i].File < found[j].File
			}
			return found[i].Line < found[j].Line
		})
		return k, found
	}
	return k, nil
}

// ownKnowledge reads what a sheet adds to the trade's knowledge and checks that both are sound together.
func (c *Catalog) ownKnowledge(name string, file *ast.File) (knowledge.Base, error) {
	var own knowledge.Base
	node, err := ownPath.FilterFile(file)
	if err != nil || node == nil {
		return own, nil // it adds nothing
	}
	if err := yaml.NodeToValue(node, &own, yaml.Strict()); err != nil {
		return own, Problems{yamlProblem(name, err)}
	}
	var found Problems
	before := c.Knowledge.Counts()
	for _, p := range c.Knowledge.With(own).Validate() {
		at := "own"
		if i := p.Index - before[p.List]; i >= 0 {
			at = fmt.Sprintf("own.%s[%d].%s", p.List, i, p.Path)
		}
		found = append(found, Problem{name, line(file, at), at, p.Reason, p.Accepted})
	}
	if len(found) > 0 {
		return own, found
	}
	return own, nil
}

// ownPath is where a sheet says what is known of its unit alone.
var ownPath = func() *yaml.Path {
	p, err := yaml.PathString("$.own")
	if err != nil {
		panic(err) // impossible: the path is a constant
	}
	return p
}()

// KnowledgeOf is what is known of a shipped unit: the trade's knowledge and what its sheet adds.
func (c *Catalog) KnowledgeOf(unit string) knowledge.Base { return c.Knowledge.With(c.own[unit]) }
