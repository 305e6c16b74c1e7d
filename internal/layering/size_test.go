package layering

import (
	"bytes"
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
)

// Sizes that a reader can hold in the head; tests and generated code are not counted.
const (
	mostLines  = 1500 // of a package
	mostInFile = 400
)

// larger are the packages and files that are larger, each with the reason. What only waits to be divided says so.
var larger = map[string]string{
	"core/knowledge":             "schema, grammar, checks and compiler of one language: they change together",
	"core/knowledge/validate.go": "one rule after the other, in the order of the schema",
	"core/unitsheet":             "a sheet with everything that it may say, and its checks",
	"core/plan":                  "one planner: what a check, a question and a path are worth, on one set of weights and one model of repair",
	"core/bayes":                 "one network and its five ways of computing on it",
	"core/gearing":               "solver, ranges of torque and loads on one set of equations",
	"core/unitsheet/compile.go":  "one part of the sheet after the other, in its order",
	"core/unitsheet/sheet.go":    "the schema as one list",
	"core/diagnose":              "one assessment, and everything that is asked of it",
	"core/teeth":                 "ratios, search and choice of teeth on one set of unknowns",
	"core/bayes/exact.go":        "one algorithm: elimination with its order, tables and bounds",
	"core/decide/decide.go":      "one model: how an option is priced, what it cures, how it is ordered",
	"internal/httpapi":           "one handler for each operation of the contract",
	"internal/store":             "one database",
}

type room struct{ lines, names int }

// Each package, with its lines and its exported names: go test -v -run Size ./internal/layering prints them.
func TestSizesStayReadable(t *testing.T) {
	rooms, files := map[string]room{}, map[string]int{}
	for _, dir := range []string{"core", "internal", "cmd", "knowledge"} {
		err := filepath.WalkDir(filepath.Join("..", "..", dir), func(path string, d fs.DirEntry, err error) error {
			if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
				return err
			}
			text, err := os.ReadFile(path)
			if err != nil {
				return err
			}
			parsed, err := parser.ParseFile(token.NewFileSet(), path, text, parser.ParseComments)
			if err != nil || ast.IsGenerated(parsed) {
				return err
			}
			path = filepath.ToSlash(strings.TrimPrefix(path, filepath.Join("..", "..")+string(filepath.Separator)))
			r := rooms[filepath.ToSlash(filepath.Dir(path))]
			files[path] = bytes.Count(text, []byte("\n"))
			r.lines += files[path]
			r.names += exported(parsed)
			rooms[filepath.ToSlash(filepath.Dir(path))] = r
			return nil
		})
		if err != nil {
			t.Fatal(err)
		}
	}
	var names []string
	for name := range rooms {
		names = append(names, name)
	}
	slices.Sort(names)
	for _, name := range names {
		t.Logf("%-24s %5d lines %4d exported names", name, rooms[name].lines, rooms[name].names)
		if rooms[name].lines > mostLines && larger[name] == "" {
			t.Errorf("%s has %d lines, more than %d: divide it, or write down why not", name, rooms[name].lines, mostLines)
		}
	}
	for path, lines := range files {
		if lines > mostInFile && larger[path] == "" {
			t.Errorf("%s has %d lines, more than %d: divide it, or write down why not", path, lines, mostInFile)
		}
	}
	for what := range larger {
		if rooms[what].lines <= mostLines && files[what] <= mostInFile {
			t.Errorf("%s is not too large any more: take its reason away", what)
		}
	}
}

// exported counts the exported names of a file at package level; methods are counted where their type is exported.
func exported(f *ast.File) int {
	n := 0
	for _, decl := range f.Decls {
		switch d := decl.(type) {
		case *ast.FuncDecl:
			if d.Name.IsExported() {
				n++
			}
		case *ast.GenDecl:
			for _, spec := range d.Specs {
				switch s := spec.(type) {
				case *ast.TypeSpec:
					if s.Name.IsExported() {
						n++
					}
				case *ast.ValueSpec:
					n += len(slices.DeleteFunc(slices.Clone(s.Names), func(id *ast.Ident) bool { return !id.IsExported() }))
				}
			}
		}
	}
	return n
}
