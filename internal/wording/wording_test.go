// Package wording holds the words that people read against the list in docs/glossary.md: those that are not used, with what is said
// instead, and how long a sentence may be.
package wording_test

import (
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/goccy/go-yaml"
)

// longest is how many words a sentence may have.
const longest = 20

// text is something that people read, with its place.
type text struct{ place, words string }

const root = "../.."

func TestWordsThatAreNotUsed(t *testing.T) {
	banned := unused(t)
	if len(banned) < 30 {
		t.Fatalf("only %d words on the list", len(banned))
	}
	for _, x := range all(t) {
		for _, b := range banned {
			if m := b.pattern.FindString(x.words); m != "" {
				t.Errorf("%s: %q in %q; say: %s", x.place, m, x.words, b.instead)
			}
		}
	}
}

func TestSentencesAreShort(t *testing.T) {
	for _, x := range all(t) {
		for s := range strings.FieldsFuncSeq(x.words, func(r rune) bool { return strings.ContainsRune(".;:!?\n\t", r) }) {
			if n := len(strings.Fields(s)); n > longest {
				t.Errorf("%s: %d words, at most %d: %q", x.place, n, longest, strings.TrimSpace(s))
			}
		}
	}
}

// The list works on what it is meant for, and leaves alone what only looks like it.
func TestTheListFindsWhatItIsMeantFor(t *testing.T) {
	banned := unused(t)
	for words, hit := range map[string]bool{"Labour rate": true, "a GEARBOX is out": true, "labor rate": false, "the loom chafed": true, "bloom": false, "unit-list": false} {
		got := slices.ContainsFunc(banned, func(b word) bool { return b.pattern.MatchString(words) })
		if got != hit {
			t.Errorf("%q: found %v, want %v", words, got, hit)
		}
	}
}

type word struct {
	pattern *regexp.Regexp
	instead string
}

// unused reads the list: | not | but |, several words of a row with commas between.
func unused(t *testing.T) []word {
	t.Helper()
	data, err := os.ReadFile(filepath.Join(root, "docs", "glossary.md"))
	if err != nil {
		t.Fatal(err)
	}
	_, list, ok := strings.Cut(string(data), "## Words that are not used")
	if !ok {
		t.Fatal("docs/glossary.md has no list of words that are not used")
	}
	var out []word
	for line := range strings.Lines(list) {
		cells := strings.Split(strings.Trim(line, "| \n"), "|")
		if len(cells) != 2 || strings.HasPrefix(cells[0], "---") || strings.TrimSpace(cells[0]) == "not" {
			continue
		}
		for w := range strings.SplitSeq(cells[0], ",") {
			out = append(out, word{regexp.MustCompile(`(?i)(^|[^\w-])` + regexp.QuoteMeta(strings.TrimSpace(w)) + `(s|es|ed|ing)?($|[^\w-])`), strings.TrimSpace(cells[1])})
		}
	}
	return out
}

func all(t *testing.T) []text {
	t.Helper()
	return slices.Concat(ofKnowledge(t), ofPages(t), ofProgram(t))
}

func files(t *testing.T, dir string, want func(path string) bool) []string {
	t.Helper()
	var out []string
	err := filepath.WalkDir(filepath.Join(root, dir), func(path string, d fs.DirEntry, err error) error {
		if err == nil && !d.IsDir() && want(path) {
			out = append(out, path)
		}
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// read are the keys of the knowledge base and the sheets whose values people read.
var read = []string{"title", "name", "summary", "text", "note", "help", "ask", "tells", "steps", "why", "sets", "because", "words", "limits", "label", "before", "advice"}

func ofKnowledge(t *testing.T) []text {
	var out []text
	for _, dir := range []string{"knowledge/trade", "knowledge/units"} {
		for _, path := range files(t, dir, func(p string) bool { return strings.HasSuffix(p, ".yaml") }) {
			data, err := os.ReadFile(path)
			if err != nil {
				t.Fatal(err)
			}
			var tree any
			if err := yaml.Unmarshal(data, &tree); err != nil {
				t.Fatal(err)
			}
			walk(tree, filepath.Base(path), false, &out)
		}
	}
	return out
}

func walk(node any, place string, shown bool, out *[]text) {
	switch x := node.(type) {
	case map[string]any:
		for k, v := range x {
			walk(v, place+"."+k, slices.Contains(read, k), out)
		}
	case []any:
		for i, v := range x {
			walk(v, fmt.Sprintf("%s[%d]", place, i), shown, out)
		}
	case string:
		if shown {
			*out = append(*out, text{place, x})
		}
	}
}

var (
	// between is what stands between the tags of a page, behind what follows a figure; named is given to a part as its words.
	between = regexp.MustCompile(`[^=]>([^<>{}=]*[A-Za-z]{2}[^<>{}=]*)[<{]`)
	behind  = regexp.MustCompile(`\}([^<>{}=;()&|?]*[A-Za-z]{2}[^<>{}=;()&|?]*)[<{]`)
	named   = regexp.MustCompile(`(?:label|title|about|help|placeholder|what|aria-label|words)=(?:"([^"]+)"|\{` + "`" + `([^` + "`" + `]+)` + "`" + `\})`)
	quotes  = regexp.MustCompile(`"([^"\n]* [^"\n]*)"`)
)

func ofPages(t *testing.T) []text {
	var out []text
	for _, path := range files(t, "web/src", func(p string) bool {
		return (strings.HasSuffix(p, ".tsx") || strings.HasSuffix(p, ".ts")) && !strings.Contains(p, "/api/")
	}) {
		data, err := os.ReadFile(path)
		if err != nil {
			t.Fatal(err)
		}
		code := comments.ReplaceAllString(string(data), "")
		for _, pattern := range []*regexp.Regexp{between, behind, named, quotes} {
			for _, m := range pattern.FindAllStringSubmatch(code, -1) {
				words := strings.Join(strings.Fields(strings.Join(m[1:], " ")), " ")
				if styles.MatchString(words) || strings.HasPrefix(words, "../") {
					continue
				}
				out = append(out, text{strings.TrimPrefix(path, root+"/"), words})
			}
		}
	}
	return out
}

var (
	comments = regexp.MustCompile(`(?s)/\*.*?\*/|(?m)^\s*//.*$`)
	// styles are values of style props, paths of drawings and keys of hotkeys.
	styles = regexp.MustCompile(`(?i)^(\d|[a-z-]+ \d|minmax|repeat|inset|round|M\d|asked|states|ctrl|"|\w+,\w+,)|\d(px|fr)|\{colors|var\(|\($|=\{`)
)

// ofProgram are the sentences of the program: what it prints and what it answers.
func ofProgram(t *testing.T) []text {
	var out []text
	for _, dir := range []string{"cmd", "core", "internal"} {
		for _, path := range files(t, dir, func(p string) bool {
			return strings.HasSuffix(p, ".go") && !strings.HasSuffix(p, "_test.go") && !strings.Contains(p, "/gen/") && !strings.Contains(p, "/store/") && !strings.Contains(p, "/core/roadtest/hear.go")
		}) {
			set := token.NewFileSet()
			file, err := parser.ParseFile(set, path, nil, 0)
			if err != nil {
				t.Fatal(err)
			}
			ast.Inspect(file, func(n ast.Node) bool {
				switch x := n.(type) {
				case *ast.ImportSpec:
					return false
				case *ast.Field:
					return x.Tag == nil
				case *ast.BasicLit:
					if words, err := strconv.Unquote(x.Value); x.Kind == token.STRING && err == nil && strings.Contains(words, " ") {
						out = append(out, text{strings.TrimPrefix(set.Position(x.Pos()).String(), root+"/"), words})
					}
				}
				return true
			})
		}
	}
	return out
}
