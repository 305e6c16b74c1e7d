package catalog

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io/fs"
	"sort"

	"github.com/goccy/go-yaml/ast"

	"innercompass/core/diagnose"
)

// place is where an entry of the joined knowledge base was written.
type place struct {
	file  string
	index int
	ast   *ast.File
}

// LoadKnowledge reads trade/*.yaml, in the order of their names, as one knowledge base. The error is of type
// Problems when a file is wrong; every problem has its file and line.
func LoadKnowledge(files fs.FS) (diagnose.Knowledge, error) {
	var k diagnose.Knowledge
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
		var part diagnose.Knowledge
		tree, err := decode(name, data, &part)
		if bad, ok := err.(Problems); ok {
			found = append(found, bad...)
			continue
		}
		if err != nil {
			return k, err
		}
		for list, n := range map[string]int{"findings": len(part.Findings), "causes": len(part.Causes), "damages": len(part.Damages), "signs": len(part.Signs), "checks": len(part.Checks), "options": len(part.Options), "cautions": len(part.Cautions), "schools": len(part.Schools)} {
			for i := range n {
				places[list] = append(places[list], place{name, i, tree})
			}
		}
		k.Findings = append(k.Findings, part.Findings...)
		k.Causes = append(k.Causes, part.Causes...)
		k.Damages = append(k.Damages, part.Damages...)
		k.Signs = append(k.Signs, part.Signs...)
		k.Checks = append(k.Checks, part.Checks...)
		k.Options = append(k.Options, part.Options...)
		k.Cautions = append(k.Cautions, part.Cautions...)
		k.Schools = append(k.Schools, part.Schools...)
	}
	k.Version = hex.EncodeToString(digest.Sum(nil))[:12]
	if len(found) > 0 {
		return k, found
	}
	for _, p := range k.Sound() {
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
