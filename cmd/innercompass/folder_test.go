package main

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"

	"innercompass/internal/app"
	"innercompass/internal/catalog"
	"innercompass/internal/demo"
	"innercompass/internal/store"
	embedded "innercompass/knowledge"
)

// demoFolder is a data folder with the demo in it.
func demoFolder(t *testing.T) string {
	t.Helper()
	dir := filepath.Join(t.TempDir(), "demo")
	know, err := catalog.Load(embedded.FS)
	if err != nil {
		t.Fatal(err)
	}
	st, err := store.Open(dir)
	if err != nil {
		t.Fatal(err)
	}
	if err := errors.Join(demo.Fill(context.Background(), app.New(st, know)), st.Close()); err != nil {
		t.Fatal(err)
	}
	return dir
}

func entries(t *testing.T, file string) map[string][]byte {
	t.Helper()
	z, err := zip.OpenReader(file)
	if err != nil {
		t.Fatal(err)
	}
	defer z.Close()
	out := map[string][]byte{}
	for _, f := range z.File {
		r, err := f.Open()
		if err != nil {
			t.Fatal(err)
		}
		if out[f.Name], err = io.ReadAll(r); err != nil {
			t.Fatal(err)
		}
		_ = r.Close()
	}
	return out
}

// Everything goes out in open forms, can be read by the schema beside it, and comes back equal: but for the keys of the new folder, what they sign, and the entry
// of the trail that says so. No secret goes along. What was changed on the way is refused, and leaves nothing behind.
func TestEverythingGoesOutAndComesBack(t *testing.T) {
	dir, tmp := demoFolder(t), t.TempDir()
	must := func(args ...string) string {
		t.Helper()
		text, err := runCLI(args...)
		if err != nil {
			t.Fatalf("%v: %v", args, err)
		}
		return text
	}
	must("people", "add", "Oda", "--role", "owner", "--data", dir)
	one, two, back := filepath.Join(tmp, "1.zip"), filepath.Join(tmp, "2.zip"), filepath.Join(tmp, "back")
	must("export", "--data", dir, "--to", one)
	must("import", one, "--data", back)
	must("verify", "--data", back)
	must("export", "--data", back, "--to", two)
	a, b := entries(t, one), entries(t, two)
	for name := range b {
		if _, ok := a[name]; !ok {
			t.Errorf("%s came from nowhere", name)
		}
	}
	tables := 0
	for name, data := range a {
		own := name == "archive.json" || name == "shop/keys.json" || name == "tables/shop_keys.jsonl" || name == "tables/audit.jsonl" || strings.HasSuffix(name, ".pdf") || strings.HasSuffix(name, ".html")
		if !own && !bytes.Equal(data, b[name]) {
			t.Errorf("%s comes back as something else", name)
		}
		if own && strings.HasPrefix(name, "tables/") && !bytes.HasPrefix(b[name], bytes.TrimSpace(data)) && name == "tables/audit.jsonl" {
			t.Errorf("%s does not go on from what it was", name)
		}
		if strings.HasPrefix(name, "tables/") {
			tables++
		}
		if bytes.Contains(data, []byte("$argon2id$")) || bytes.Contains(data, []byte("PRIVATE KEY")) {
			t.Errorf("a secret stands in %s", name)
		}
	}
	if tables < 20 || len(a) < 60 {
		t.Errorf("%d tables, %d entries", tables, len(a))
	}
	readable(t, a)
	key, err := os.ReadFile(filepath.Join(dir, "signing.key"))
	if err != nil || bytes.Contains(bytes.Join(slices.Collect(values(a)), nil), key[40:80]) {
		t.Errorf("the signing key goes along (%v)", err)
	}
	if _, err := runCLI("import", one, "--data", back); err == nil {
		t.Error("a folder that holds something was overwritten")
	}
	// Something is changed on the way: in the archive, and so that archive.json says it was so.
	for what, spoil := range map[string]func(map[string][]byte){
		"a row": func(m map[string][]byte) {
			m["tables/readings.jsonl"] = bytes.Replace(m["tables/readings.jsonl"], []byte("seen"), []byte("told"), 1)
		},
		"a missing file": func(m map[string][]byte) { delete(m, "tables/cases.jsonl") },
		"no contents":    func(m map[string][]byte) { delete(m, "archive.json") },
	} {
		m := entries(t, one)
		spoil(m)
		bad := filepath.Join(tmp, "bad.zip")
		packed(t, bad, m)
		into := filepath.Join(tmp, "bad")
		if _, err := runCLI("import", bad, "--data", into); err == nil {
			t.Errorf("%s: brought in", what)
		}
		if _, err := os.Stat(into); err == nil {
			t.Errorf("%s: something is left", what)
		}
	}
}

func values(m map[string][]byte) func(func([]byte) bool) {
	return func(yield func([]byte) bool) {
		for _, v := range m {
			if !yield(v) {
				return
			}
		}
	}
}

func packed(t *testing.T, file string, m map[string][]byte) {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for name, data := range m {
		w, err := z.Create(name)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := w.Write(data); err != nil {
			t.Fatal(err)
		}
	}
	if err := errors.Join(z.Close(), os.WriteFile(file, b.Bytes(), 0o600)); err != nil {
		t.Fatal(err)
	}
}

// readable holds every row of every table against the schema that goes along.
func readable(t *testing.T, m map[string][]byte) {
	t.Helper()
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(m["schema/tables.json"]))
	if err != nil {
		t.Fatal(err)
	}
	c := jsonschema.NewCompiler()
	if err := c.AddResource("tables.json", doc); err != nil {
		t.Fatal(err)
	}
	for name, data := range m {
		table, ok := strings.CutPrefix(name, "tables/")
		if !ok {
			continue
		}
		s, err := c.Compile("tables.json#/$defs/" + strings.TrimSuffix(table, ".jsonl"))
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		for line := range bytes.Lines(data) {
			var row any
			if err := json.Unmarshal(line, &row); err != nil {
				t.Errorf("%s: %v", name, err)
			} else if err := s.Validate(row); err != nil {
				t.Errorf("%s: %v", name, err)
			}
		}
	}
}

// A backup by hand: into a new file, with a passphrase of some length, looked at; back into another folder, whose trail is whole.
func TestABackupByHand(t *testing.T) {
	dir, tmp := demoFolder(t), t.TempDir()
	pass := filepath.Join(tmp, "pass")
	if err := os.WriteFile(pass, []byte("seventeen wet gaskets\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	to := filepath.Join(tmp, "b.tar")
	if text, err := runCLI("backup", "--data", dir, "--to", to, "--passphrase-file", pass, "--encrypt"); err != nil || !strings.Contains(text, "is good") {
		t.Fatalf("%v %s", err, text)
	}
	if _, err := runCLI("backup", "--data", dir, "--to", to, "--passphrase-file", pass); err == nil {
		t.Error("a backup that is there was overwritten")
	}
	if _, err := runCLI("backup", "--data", filepath.Join(tmp, "nowhere"), "--to", to+"2", "--passphrase-file", pass); err == nil {
		t.Error("a backup of nothing")
	}
	back := filepath.Join(tmp, "back")
	if text, err := runCLI("restore", to, "--data", back, "--passphrase-file", pass); err != nil || strings.Contains(text, "kept in") {
		t.Fatalf("%v %s", err, text)
	}
	if text, err := runCLI("verify", "--data", back); err != nil || !strings.Contains(text, "2 records with a signature") {
		t.Errorf("%v %s", err, text)
	}
	st, err := store.Open(back)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := runCLI("restore", to, "--data", back, "--passphrase-file", pass); err == nil || !strings.Contains(err.Error(), "in use") {
		t.Errorf("into a folder that is in use: %v", err)
	}
	_ = st.Close()
}
