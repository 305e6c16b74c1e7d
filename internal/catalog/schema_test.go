package catalog

import (
	"bytes"
	"encoding/json"
	"flag"
	"io/fs"
	"os"
	"path/filepath"
	"reflect"
	"testing"

	"github.com/goccy/go-yaml"
	"github.com/santhosh-tekuri/jsonschema/v6"

	"innercompass/core/knowledge"
	"innercompass/core/unitsheet"
	embedded "innercompass/knowledge"
)

var update = flag.Bool("update", false, "write the schemas in docs anew")

// The schemas are made from the types that read the files.
func TestSchemasAreCurrent(t *testing.T) {
	current(t, "../../docs/unit-sheet.schema.json", SheetSchema)
	current(t, "../../docs/knowledge.schema.json", KnowledgeSchema)
}

func current(t *testing.T, path string, schema func() ([]byte, error)) {
	t.Helper()
	want, err := schema()
	if err != nil {
		t.Fatal(err)
	}
	if *update {
		if err := os.WriteFile(path, want, 0o644); err != nil {
			t.Fatal(err)
		}
	}
	have, err := os.ReadFile(path)
	if err != nil || !bytes.Equal(have, want) {
		t.Errorf("%s is not what the types say (%v): go test ./internal/catalog -run Schema -update", path, err)
	}
}

// The schemas are for editors; what they say must not drift from what is read.
func TestShippedFilesFollowTheirSchemas(t *testing.T) {
	c := jsonschema.NewCompiler()
	sheets, err := c.Compile("../../docs/unit-sheet.schema.json")
	if err != nil {
		t.Fatal(err)
	}
	trade, err := c.Compile("../../docs/knowledge.schema.json")
	if err != nil {
		t.Fatal(err)
	}
	names, _ := fs.Glob(embedded.FS, "units/*.yaml")
	for _, name := range names {
		follow(t, sheets, name, asJSON(t, name))
	}
	entries, _ := fs.Glob(embedded.FS, "trade/*.yaml")
	if len(entries) < 10 {
		t.Fatalf("%d files of knowledge", len(entries))
	}
	for _, name := range entries {
		follow(t, trade, name, asJSON(t, name))
	}
	cases, err := c.Compile("../../docs/case-file.schema.json")
	if err != nil {
		t.Fatal(err)
	}
	files, _ := filepath.Glob("../../docs/examples/*.case.json")
	if len(files) == 0 || len(names) < 4 {
		t.Fatalf("%d examples, %d sheets", len(files), len(names))
	}
	for _, name := range files {
		data, err := os.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		follow(t, cases, name, data)
	}
	var broken any
	_ = json.Unmarshal([]byte(`{"format":"inner-compass-case/1","unit":"x","readings":[{"finding":"f"}]}`), &broken)
	if cases.Validate(broken) == nil {
		t.Error("the schema accepts a reading without a state")
	}
}

func asJSON(t *testing.T, name string) []byte {
	t.Helper()
	data, err := fs.ReadFile(embedded.FS, name)
	if err != nil {
		t.Fatal(err)
	}
	var v any
	if err := yaml.Unmarshal(data, &v); err != nil {
		t.Fatal(err)
	}
	plain, err := json.Marshal(v)
	if err != nil {
		t.Fatal(err)
	}
	return plain
}

func follow(t *testing.T, s *jsonschema.Schema, name string, data []byte) {
	t.Helper()
	var v any
	if err := json.Unmarshal(data, &v); err != nil {
		t.Fatal(err)
	}
	if err := s.Validate(v); err != nil {
		t.Errorf("%s: %v", name, err)
	}
}

// A field of a few words that was renamed would quietly become any text.
func TestChoicesNameFieldsThatExist(t *testing.T) {
	fields := map[string]bool{}
	var walk func(reflect.Type)
	walk = func(x reflect.Type) {
		switch x.Kind() {
		case reflect.Pointer, reflect.Slice, reflect.Map:
			walk(x.Elem())
		case reflect.Struct:
			for i := range x.NumField() {
				if name := x.Name() + "." + x.Field(i).Name; !fields[name] {
					fields[name] = true
					walk(x.Field(i).Type)
				}
			}
		}
	}
	walk(reflect.TypeFor[unitsheet.Sheet]())
	walk(reflect.TypeFor[knowledge.Base]())
	for name := range choices {
		if !fields[name] {
			t.Errorf("there is no field %s", name)
		}
	}
}
