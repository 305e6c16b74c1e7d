package catalog

import (
	"fmt"
	"io/fs"
	"sort"
	"strings"

	"innercompass/core/intake"
	"innercompass/core/wordbench"
)

// LoadWords reads words/*.yaml and the plain words beside them as one lexicon. The error is of type Problems when a file is wrong.
func LoadWords(files fs.FS) (intake.Lexicon, error) {
	var out intake.Lexicon
	names, err := fs.Glob(files, "words/*.yaml")
	if err != nil {
		return out, err
	}
	if len(names) == 0 {
		return out, fmt.Errorf("no words: no file words/*.yaml")
	}
	sort.Strings(names)
	var found Problems
	var places []place
	for _, name := range names {
		data, err := fs.ReadFile(files, name)
		if err != nil {
			return out, err
		}
		var part intake.Lexicon
		tree, err := decode(name, data, &part)
		if bad, ok := err.(Problems); ok {
			found = append(found, bad...)
			continue
		}
		if err != nil {
			return out, err
		}
		for i := range part.Words {
			places = append(places, place{name, i, tree})
		}
		out = out.With(part)
	}
	english, err := fs.ReadFile(files, "words/english.txt")
	if err != nil {
		return out, err
	}
	out.English = strings.Fields(string(english))
	if len(found) > 0 {
		return out, found
	}
	for _, p := range out.Validate() {
		var i int
		if n, _ := fmt.Sscanf(p.Path, "words[%d].", &i); n == 1 && i < len(places) {
			at := places[i]
			_, field, _ := strings.Cut(p.Path, "].")
			path := fmt.Sprintf("words[%d].%s", at.index, field)
			found = append(found, Problem{at.file, line(at.ast, path), path, p.Reason, p.Accepted})
			continue
		}
		found = append(found, Problem{File: "words", Path: p.Path, Reason: p.Reason, Accepted: p.Accepted})
	}
	if len(found) > 0 {
		return out, found
	}
	return out, nil
}

// WordBench reads annotated texts, bench/words-*.yaml, that the reader of words is measured on.
func WordBench(files fs.FS, name string) ([]wordbench.Case, error) {
	data, err := fs.ReadFile(files, name)
	if err != nil {
		return nil, err
	}
	var out []wordbench.Case
	if _, err := decode(name, data, &out); err != nil {
		return nil, err
	}
	for _, c := range out {
		if err := c.Validate(); err != nil {
			return nil, fmt.Errorf("%s: %w", name, err)
		}
	}
	return out, nil
}

// wordTexts are all annotated texts of a folder; none when it has none.
func wordTexts(files fs.FS) ([]wordbench.Case, error) {
	names, err := fs.Glob(files, "bench/words-*.yaml")
	if err != nil {
		return nil, err
	}
	var out []wordbench.Case
	for _, name := range names {
		texts, err := WordBench(files, name)
		if err != nil {
			return nil, err
		}
		out = append(out, texts...)
	}
	return out, nil
}

// Vocabulary is what words mean, with the texts that the reader of them is measured on.
func (c *Catalog) Vocabulary() (intake.Lexicon, []wordbench.Case) { return c.Words, c.Texts }
