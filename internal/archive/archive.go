// Package archive writes everything that a shop has into one open archive, that other programs can read, and reads it back into an empty folder.
//
// The archive is a ZIP file. tables/ holds every table as JSON Lines, with schema/tables.json (JSON Schema) beside; that is what is read back. The same again in
// the forms that people and programs know: unit sheets (YAML), prices and words (CSV), cases (case files), records (JSON, PDF, page), pictures and recordings.
// archive.json, last, names every entry with its SHA-256. Passphrases, PINs, who is signed in, keys and backups stay where they are.
package archive

import (
	"archive/zip"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"hash"
	"io"
	"path"
	"slices"
	"strings"
	"time"
)

// Format of the archive.
const Format = "inner-compass-archive/1"

// Contents names all entries; it is the last one.
type Contents struct {
	Format  string    `json:"format"`
	At      time.Time `json:"at"`
	App     string    `json:"app"`
	Schema  string    `json:"schema"` // of the tables
	Entries []Entry   `json:"entries"`
}

// Entry is one file of the archive.
type Entry struct {
	Name   string `json:"name"`
	SHA256 string `json:"sha256"`
	Size   int64  `json:"size"`
}

// Column and Table are what tables are made of.
type (
	Column struct{ Name, Type string }
	Table  struct {
		Name    string
		Columns []Column
		Key     []string
	}
)

// Dump is the database as of one moment.
type Dump interface {
	Schema() string
	Tables() ([]Table, error)
	Rows(t Table, f func(row map[string]any) error) error
	Close() error
}

// Extra is a file in a form that people know: what writes it is asked when its turn comes.
type Extra struct {
	Name  string
	Write func(ctx context.Context, w io.Writer) error
}

// Source is what an archive is made of.
type Source struct {
	Dump   func(ctx context.Context) (Dump, error)
	Files  func(ctx context.Context, f func(digest string, open func() (io.ReadCloser, error)) error) error // pictures and recordings
	Extras func(ctx context.Context, f func(Extra) error) error
	App    string
	Now    func() time.Time
}

const (
	contentsName = "archive.json"
	tablesFolder = "tables"
	filesFolder  = "files"
)

// Write writes the whole of it.
func Write(ctx context.Context, w io.Writer, src Source) (c Contents, err error) {
	c = Contents{Format: Format, At: src.Now().UTC(), App: src.App}
	dump, err := src.Dump(ctx)
	if err != nil {
		return c, err
	}
	defer func() { err = errors.Join(err, dump.Close()) }()
	c.Schema = dump.Schema()
	a := &writing{zip: zip.NewWriter(w), c: &c}
	if err := a.put("README.txt", func(w io.Writer) error { _, err := io.WriteString(w, readme); return err }); err != nil {
		return c, err
	}
	tables, err := dump.Tables()
	if err != nil {
		return c, err
	}
	if err := a.put("schema/tables.json", func(w io.Writer) error { return pretty(w, schemaOf(tables)) }); err != nil {
		return c, err
	}
	for _, t := range tables {
		err := a.put(path.Join(tablesFolder, t.Name+".jsonl"), func(w io.Writer) error {
			enc := json.NewEncoder(w)
			enc.SetEscapeHTML(false)
			return dump.Rows(t, func(row map[string]any) error {
				if ctx.Err() != nil {
					return ctx.Err()
				}
				return enc.Encode(row)
			})
		})
		if err != nil {
			return c, err
		}
	}
	err = src.Files(ctx, func(digest string, open func() (io.ReadCloser, error)) error {
		return a.put(path.Join(filesFolder, digest), func(w io.Writer) error {
			in, err := open()
			if err != nil {
				return err
			}
			_, err = io.Copy(w, in)
			return errors.Join(err, in.Close())
		})
	})
	if err != nil {
		return c, err
	}
	if err := src.Extras(ctx, func(x Extra) error {
		return a.put(x.Name, func(w io.Writer) error { return x.Write(ctx, w) })
	}); err != nil {
		return c, err
	}
	list := c.Entries
	if err := a.put(contentsName, func(w io.Writer) error { return pretty(w, Contents{c.Format, c.At, c.App, c.Schema, list}) }); err != nil {
		return c, err
	}
	return c, a.zip.Close()
}

type writing struct {
	zip *zip.Writer
	c   *Contents
}

type measured struct {
	io.Writer
	h hash.Hash
	n int64
}

func (m *measured) Write(p []byte) (int, error) {
	m.h.Write(p)
	m.n += int64(len(p))
	return m.Writer.Write(p)
}

func (a *writing) put(name string, write func(io.Writer) error) error {
	w, err := a.zip.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Deflate, Modified: a.c.At})
	if err != nil {
		return err
	}
	m := &measured{w, sha256.New(), 0}
	if err := write(m); err != nil {
		return fmt.Errorf("%s: %w", name, err)
	}
	a.c.Entries = append(a.c.Entries, Entry{name, hex.EncodeToString(m.h.Sum(nil)), m.n})
	return nil
}

func pretty(w io.Writer, v any) error {
	enc := json.NewEncoder(w)
	enc.SetIndent("", " ")
	enc.SetEscapeHTML(false)
	return enc.Encode(v)
}

// schemaOf is the JSON Schema of the rows, table by table.
func schemaOf(tables []Table) map[string]any {
	defs := map[string]any{}
	for _, t := range tables {
		properties, required := map[string]any{}, []string{}
		for _, c := range t.Columns {
			required = append(required, c.Name)
			properties[c.Name] = map[string]any{"type": typeOf(c.Type)}
			if strings.EqualFold(c.Type, "BLOB") {
				properties[c.Name] = map[string]any{"$ref": "#/$defs/-bytes"}
			}
			if strings.EqualFold(c.Type, "DATETIME") {
				properties[c.Name] = map[string]any{"type": []string{"string", "null"}, "description": "a time, with its offset from UTC"}
			}
		}
		defs[t.Name] = map[string]any{"type": "object", "additionalProperties": false, "required": required, "properties": properties, "description": "key: " + strings.Join(t.Key, ", ")}
	}
	defs["-bytes"] = map[string]any{"oneOf": []any{map[string]any{"type": []string{"string", "null"}}, map[string]any{"type": "object", "required": []string{"base64"}, "properties": map[string]any{"base64": map[string]any{"type": "string", "contentEncoding": "base64"}}}}}
	return map[string]any{"$schema": "https://json-schema.org/draft/2020-12/schema", "title": "Inner Compass: rows of tables/NAME.jsonl, one object a line", "$defs": defs}
}

func typeOf(column string) []string {
	switch strings.ToUpper(column) {
	case "INTEGER":
		return []string{"integer", "null"}
	case "REAL":
		return []string{"number", "null"}
	}
	return []string{"string", "null"}
}

const readme = `Everything that this shop has in Inner Compass, in open forms.

tables/NAME.jsonl   every table, one JSON object a line; schema/tables.json says what stands in them
files/DIGEST        pictures and recordings, by the SHA-256 of their bytes; tables photos and recordings name them
units/              unit sheets of the shop (YAML)
cases/              each case as a case file (JSON), its records as JSON, PDF and page
shop/               prices and words of the shop (CSV)
archive.json        every entry with its SHA-256

Bytes stand as {"base64": "..."}. Passphrases, PINs, keys and backups are not in it.
Read it back into an empty folder: innercompass import FILE --data DIR
`

// Target is an empty folder that an archive is read into.
type Target interface {
	Row(table string, row map[string]any) error
	File(ctx context.Context, digest string, data []byte) error
	Done(ctx context.Context, words string) error
	GiveUp() error
}

// BrokenError says what is wrong with an archive; nothing was kept.
type BrokenError struct{ Entry, Reason string }

func (e *BrokenError) Error() string {
	return e.Entry + ": " + e.Reason + "; accepted: an archive as innercompass export writes it, with nothing taken out or changed"
}

// mostFile bounds a picture or a recording in an archive.
const mostFile = 4 << 30

// Read reads an archive into an empty folder, which open makes for the archive's schema. Nothing is kept unless all of it is as archive.json says.
func Read(ctx context.Context, z *zip.Reader, open func(schema string) (Target, error)) (c Contents, err error) {
	if c, err = contents(z); err != nil {
		return c, err
	}
	files := map[string]*zip.File{}
	for _, f := range z.File {
		files[f.Name] = f
	}
	for _, e := range c.Entries { // all of it before anything is made
		if err := whole(ctx, files[e.Name], e); err != nil {
			return c, err
		}
	}
	to, err := open(c.Schema)
	if err != nil {
		return c, err
	}
	for _, e := range c.Entries {
		switch path.Dir(e.Name) {
		case tablesFolder:
			err = rows(ctx, files[e.Name], strings.TrimSuffix(path.Base(e.Name), ".jsonl"), to)
		case filesFolder:
			err = file(ctx, files[e.Name], to)
		}
		if err != nil {
			return c, errors.Join(&BrokenError{e.Name, err.Error()}, to.GiveUp())
		}
	}
	return c, to.Done(ctx, "brought in from an archive of "+c.At.Format(time.DateOnly))
}

func contents(z *zip.Reader) (Contents, error) {
	var c Contents
	i := slices.IndexFunc(z.File, func(f *zip.File) bool { return f.Name == contentsName })
	if i < 0 {
		return c, &BrokenError{contentsName, "missing"}
	}
	in, err := z.File[i].Open()
	if err != nil {
		return c, &BrokenError{contentsName, err.Error()}
	}
	defer in.Close()
	if err := json.NewDecoder(io.LimitReader(in, 256<<20)).Decode(&c); err != nil {
		return c, &BrokenError{contentsName, err.Error()}
	}
	if c.Format != Format {
		return c, &BrokenError{contentsName, fmt.Sprintf("format %q, and this app reads %q", c.Format, Format)}
	}
	return c, nil
}

func whole(ctx context.Context, f *zip.File, e Entry) error {
	if ctx.Err() != nil {
		return ctx.Err()
	}
	if f == nil {
		return &BrokenError{e.Name, "missing"}
	}
	in, err := f.Open()
	if err != nil {
		return &BrokenError{e.Name, err.Error()}
	}
	defer in.Close()
	h := sha256.New()
	if _, err := io.Copy(h, io.LimitReader(in, e.Size+1)); err != nil {
		return &BrokenError{e.Name, err.Error()}
	}
	if hex.EncodeToString(h.Sum(nil)) != e.SHA256 {
		return &BrokenError{e.Name, "not what archive.json says"}
	}
	return nil
}

func rows(ctx context.Context, f *zip.File, table string, to Target) error {
	in, err := f.Open()
	if err != nil {
		return err
	}
	defer in.Close()
	dec := json.NewDecoder(in)
	dec.UseNumber()
	for n := 1; ; n++ {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		var row map[string]any
		if err := dec.Decode(&row); errors.Is(err, io.EOF) {
			return nil
		} else if err != nil {
			return fmt.Errorf("row %d: %w", n, err)
		}
		if err := to.Row(table, row); err != nil {
			return fmt.Errorf("row %d: %w", n, err)
		}
	}
}

func file(ctx context.Context, f *zip.File, to Target) error {
	in, err := f.Open()
	if err != nil {
		return err
	}
	defer in.Close()
	data, err := io.ReadAll(io.LimitReader(in, mostFile))
	if err != nil {
		return err
	}
	return to.File(ctx, path.Base(f.Name), data)
}
