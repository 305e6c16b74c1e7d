// Package catalog reads knowledge files and unit sheets into core types. It knows YAML and line
// numbers; what makes an entry right is decided in core.
package catalog

import (
	"bytes"
	"context"
	"fmt"
	"io/fs"
	"maps"
	"regexp"
	"slices"
	"sort"
	"strings"

	"github.com/goccy/go-yaml"
	"github.com/goccy/go-yaml/ast"
	"github.com/goccy/go-yaml/parser"

	"innercompass/core/find"
	"innercompass/core/heard"
	"innercompass/core/intake"
	"innercompass/core/knowledge"
	"innercompass/core/scheme"
	"innercompass/core/unitsheet"
	"innercompass/core/wordbench"
)

// Catalog is everything that is known, compiled for every unit.
type Catalog struct {
	Knowledge knowledge.Base
	Units     map[string]*unitsheet.Unit
	Networks  map[string]*knowledge.Network
	Words     intake.Lexicon
	Reader    *intake.Reader            // of customers' words, for no unit yet
	Texts     []wordbench.Case          // that the reader is measured on
	Alike     find.Alike                // what things are called elsewhere
	Schemes   []scheme.Scheme           // of gears, in the order in which they are offered
	texts     map[string][]byte         // of the shipped sheets, by unit
	own       map[string]knowledge.Base // that the shipped sheets add, by unit
}

// Problem is a fault at a place in a file.
type Problem struct {
	File     string
	Line     int // 0 when unknown
	Path     string
	Reason   string
	Accepted string
}

func (p Problem) Error() string {
	var b strings.Builder
	b.WriteString(p.File)
	if p.Line > 0 {
		fmt.Fprintf(&b, ":%d", p.Line)
	}
	b.WriteString(": ")
	if p.Path != "" {
		b.WriteString(p.Path + ": ")
	}
	b.WriteString(p.Reason)
	if p.Accepted != "" {
		b.WriteString("; accepted: " + p.Accepted)
	}
	return b.String()
}

// Problems is all that is wrong with a file.
type Problems []Problem

func (p Problems) Error() string {
	lines := make([]string, len(p))
	for i, x := range p {
		lines[i] = x.Error()
	}
	return strings.Join(lines, "\n")
}

// MaxFile is the largest file that is read, in bytes.
const MaxFile = 1 << 20

// ParseUnit reads and compiles one unit sheet. The error is of type Problems.
func ParseUnit(name string, data []byte) (*unitsheet.Unit, error) {
	unit, _, err := parseUnit(name, data)
	return unit, err
}

func parseUnit(name string, data []byte) (*unitsheet.Unit, *ast.File, error) {
	var sheet unitsheet.Sheet
	file, err := decode(name, data, &sheet)
	if err != nil {
		return nil, nil, err
	}
	unit, bad := unitsheet.Compile(sheet)
	if len(bad) == 0 {
		return unit, file, nil
	}
	var out Problems
	for _, b := range bad {
		out = append(out, Problem{name, line(file, b.Path), b.Path, b.Reason, b.Accepted})
	}
	sort.SliceStable(out, func(i, j int) bool { return out[i].Line < out[j].Line })
	return nil, nil, out
}

// compile reads a sheet and fits the trade's knowledge and what the sheet adds to it.
func (c *Catalog) compile(ctx context.Context, name string, data []byte) (*knowledge.Network, knowledge.Base, error) {
	unit, file, err := parseUnit(name, data)
	if err != nil {
		return nil, knowledge.Base{}, err
	}
	own, err := c.ownKnowledge(name, file)
	if err != nil {
		return nil, own, err
	}
	network, err := knowledge.CompileWithin(ctx, c.Knowledge.With(own), unit)
	if ctx.Err() != nil {
		return nil, own, ctx.Err()
	}
	if err != nil {
		return nil, own, Problems{{File: name, Reason: err.Error(), Accepted: "a sheet that the knowledge base fits"}}
	}
	return network, own, nil
}

// maxDepth is how deep brackets may nest; a sheet needs four.
const maxDepth = 30

// decode reads YAML (JSON is YAML) strictly: unknown and repeated keys, keys that are no text, values that are nothing, a second
// document, anchors and aliases are errors.
func decode(name string, data []byte, into any) (file *ast.File, err error) {
	defer func() {
		// The library panics on some malformed input; to whoever wrote it that is a problem like others.
		if r := recover(); r != nil {
			file, err = nil, Problems{{File: name, Reason: "not readable as YAML", Accepted: howToWrite}}
		}
	}()
	data = bytes.TrimPrefix(data, []byte("\xef\xbb\xbf")) // some editors put a mark before a text
	if len(data) > MaxFile {
		return nil, Problems{{File: name, Reason: fmt.Sprintf("%d bytes", len(data)), Accepted: "at most 1 MiB"}}
	}
	if len(bytes.TrimSpace(data)) == 0 {
		return nil, Problems{{File: name, Line: 1, Reason: "the file is empty", Accepted: howToWrite}}
	}
	if n := bytes.Count(data, []byte("\n")) + bytes.Count(data, []byte(",")) + bytes.Count(data, []byte("[")) + bytes.Count(data, []byte("{")); n > mostMarks {
		return nil, Problems{{File: name, Line: 1, Reason: fmt.Sprintf("%d lines, commas and brackets", n), Accepted: fmt.Sprintf("at most %d: the largest sheets have some 2,000", mostMarks)}}
	}
	if line := tooDeep(data); line > 0 {
		return nil, Problems{{File: name, Line: line, Reason: "nested too deep", Accepted: fmt.Sprintf("at most %d brackets within each other", maxDepth)}}
	}
	file, err = parser.ParseBytes(data, 0)
	if err == nil {
		if bad := odd(name, file); bad != nil {
			return nil, bad
		}
		err = yaml.NewDecoder(bytes.NewReader(data), yaml.Strict()).Decode(into)
	}
	if err != nil {
		return nil, Problems{yamlProblem(name, err)}
	}
	return file, nil
}

const howToWrite = "see docs/unit-sheet.md and the JSON Schema beside it"

// tooDeep returns the line where brackets or indentation nest too deep for the parser to follow safely, or 0.
// Brackets in quoted text count as well: no sheet has thirty of them open.
func tooDeep(data []byte) int {
	depth, line := 0, 1
	indent, leading := 0, true
	for _, c := range data {
		switch c {
		case '\n':
			line, indent, leading = line+1, 0, true
			continue
		case '[', '{':
			depth++
		case ']', '}':
			depth = max(0, depth-1)
		}
		if leading && (c == ' ' || c == '-') {
			indent++
		} else {
			leading = false
		}
		if depth > maxDepth || indent > 8*maxDepth {
			return line
		}
	}
	return 0
}

// mostMarks bounds what the parser has to take apart: its time grows with the square of some of it.
const mostMarks = 15_000

// mostKeys is how many keys one mapping may have, mostNodes how many values a file: far more than any sheet, and few enough that
// looking each up takes no time.
const (
	mostKeys  = 200
	mostNodes = 40_000
	mostFound = 20 // problems that are told at once
)

// odd refuses what YAML allows and no sheet needs: anchors and aliases, since a few lines of them can stand for gigabytes; keys
// that are no text, since they empty their mapping without a word; values that are nothing; more than one document.
func odd(name string, file *ast.File) error {
	var found Problems
	nodes := 0
	say := func(n ast.Node, reason, accepted string) {
		if len(found) < mostFound {
			at := 1
			if t := n.GetToken(); t != nil {
				at = t.Position.Line
			}
			found = append(found, Problem{File: name, Line: at, Reason: reason, Accepted: accepted})
		}
	}
	bodies := 0
	for _, d := range file.Docs {
		if d.Body == nil {
			continue
		}
		if bodies++; bodies > 1 {
			say(d.Body, "a second document", "one document, without --- between")
			break
		}
		ast.Walk(visitor(func(n ast.Node) {
			nodes++
			switch n := n.(type) {
			case nil:
			case *ast.AnchorNode, *ast.AliasNode, *ast.MergeKeyNode:
				say(n, "an anchor or alias", "each value written out")
			case *ast.TagNode:
				say(n, "a tag", "a plain value")
			case *ast.InfinityNode, *ast.NanNode:
				say(n, "a number that is not finite", "a number such as 35")
			case *ast.NullNode:
				say(n, "a value that is nothing", "a value, or no such line")
			case *ast.MappingNode:
				if len(n.Values) > mostKeys {
					say(n, fmt.Sprintf("%d keys in one place", len(n.Values)), fmt.Sprintf("at most %d", mostKeys))
				}
			case *ast.MappingValueNode:
				if _, text := n.Key.(*ast.StringNode); !text {
					say(n.Key, fmt.Sprintf("the key %s is no text", n.Key.String()), "a key in letters, or in quotes")
				}
			}
		}), d.Body)
	}
	if nodes > mostNodes {
		return Problems{{File: name, Line: 1, Reason: fmt.Sprintf("%d values", nodes), Accepted: fmt.Sprintf("at most %d", mostNodes)}}
	}
	if found == nil {
		return nil
	}
	return found
}

type visitor func(ast.Node)

func (v visitor) Visit(n ast.Node) ast.Visitor {
	v(n)
	return v
}

var (
	yamlAt   = regexp.MustCompile(`^\[(\d+):\d+\]\s*`)
	yamlRef  = regexp.MustCompile(`\[(\d+):\d+\]`)
	yamlKind = regexp.MustCompile(`cannot unmarshal (\S+) into Go (?:struct field|value) ?(\S*?)\.?(\w*) of type (\S+)`)
)

// yamlProblem says what the library found in words of a sheet.
func yamlProblem(name string, err error) Problem {
	text := yaml.FormatError(err, false, false)
	p := Problem{File: name, Reason: strings.SplitN(text, "\n", 2)[0], Accepted: howToWrite}
	if m := yamlAt.FindStringSubmatch(p.Reason); m != nil {
		_, _ = fmt.Sscan(m[1], &p.Line)
		p.Reason = p.Reason[len(m[0]):]
	}
	p.Reason = yamlRef.ReplaceAllString(p.Reason, "line $1")
	if m := yamlKind.FindStringSubmatch(p.Reason); m != nil {
		p.Reason = fmt.Sprintf("%s where %s belongs", kindWords(m[1]), kindWords(m[4]))
		p.Accepted = kindWords(m[4])
	}
	return p
}

// kindWords names a kind of value as a sheet has it.
func kindWords(kind string) string {
	switch {
	case strings.HasPrefix(kind, "[]"), kind == "array", kind == "sequence":
		return "a list"
	case strings.HasPrefix(kind, "uint"), strings.HasPrefix(kind, "int"):
		return "a whole number"
	case strings.HasPrefix(kind, "float"), kind == "number":
		return "a number"
	case kind == "string":
		return "a text"
	case kind == "bool":
		return "true or false"
	}
	return "a group of keys"
}

// line finds the line of a dotted path; where the last part is missing, that of its parent.
func line(file *ast.File, path string) int {
	for p := path; p != ""; p = parent(p) {
		yp, err := yaml.PathString("$." + p)
		if err != nil {
			continue
		}
		node, err := yp.FilterFile(file)
		if err == nil && node != nil && node.GetToken() != nil {
			return node.GetToken().Position.Line
		}
	}
	return 1
}

func parent(p string) string {
	i := strings.LastIndexAny(p, ".[")
	if i < 0 {
		return ""
	}
	return p[:i]
}

// Load reads the whole knowledge base and compiles it for every unit.
func Load(files fs.FS) (*Catalog, error) {
	c := &Catalog{Units: map[string]*unitsheet.Unit{}, Networks: map[string]*knowledge.Network{}, texts: map[string][]byte{}, own: map[string]knowledge.Base{}}
	var err error
	if c.Knowledge, err = LoadKnowledge(files); err != nil {
		return nil, err
	}
	if c.Words, err = LoadWords(files); err != nil {
		return nil, err
	}
	if c.Reader, err = intake.New(c.Words, intake.Unit{}); err != nil {
		return nil, err
	}
	if c.Texts, err = wordTexts(files); err != nil {
		return nil, err
	}
	if c.Alike, err = loadAlike(files); err != nil {
		return nil, err
	}
	if c.Schemes, err = loadSchemes(files); err != nil {
		return nil, err
	}
	names, err := fs.Glob(files, "units/*.yaml")
	if err != nil {
		return nil, err
	}
	for _, name := range names {
		data, err := fs.ReadFile(files, name)
		if err != nil {
			return nil, err
		}
		network, own, err := c.compile(context.Background(), name, data)
		if err != nil {
			return nil, err
		}
		unit := network.Unit
		for i, known := range unit.Sheet.Known {
			if _, ok := network.Cause(known.Cause); known.Cause != "" && !ok {
				return nil, Problems{{File: name, Path: fmt.Sprintf("known[%d].cause", i), Reason: fmt.Sprintf("no cause %q", known.Cause), Accepted: "an id listed by: innercompass causes --unit " + unit.Sheet.ID}}
			}
		}
		c.texts[unit.Sheet.ID], c.own[unit.Sheet.ID] = data, own
		c.Units[unit.Sheet.ID], c.Networks[unit.Sheet.ID] = unit, network
	}
	if odd := heard.Unknown(c.Words, slices.Collect(maps.Values(c.Networks))); len(odd) > 0 {
		return nil, Problems{{File: "words", Reason: "no unit knows the reading " + odd[0], Accepted: "a finding and state listed by: innercompass findings"}}
	}
	return c, nil
}
