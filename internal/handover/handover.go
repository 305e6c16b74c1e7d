// Package handover says what goes into the open archive of a shop: every table, every file, and each thing again in the form that people know it in.
package handover

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"os"
	"path"
	"path/filepath"
	"strings"

	"innercompass/internal/app"
	"innercompass/internal/archive"
	"innercompass/internal/cases"
	"innercompass/internal/paper"
	"innercompass/internal/records"
	"innercompass/internal/signing"
	"innercompass/internal/store"
)

// Of is what the archive of an app is made of.
func Of(a *app.App, st *store.Store, version string) archive.Source {
	return archive.Source{App: version, Now: a.Now,
		Dump: func(ctx context.Context) (archive.Dump, error) { return st.Dump(ctx) },
		Files: func(ctx context.Context, f func(string, func() (io.ReadCloser, error)) error) error {
			return files(ctx, st, f)
		},
		Extras: func(ctx context.Context, f func(archive.Extra) error) error { return extras(ctx, a, f) },
	}
}

// files are pictures and recordings, by their digest.
func files(ctx context.Context, st *store.Store, f func(digest string, open func() (io.ReadCloser, error)) error) error {
	dir := filepath.Join(st.Dir(), "files")
	list, err := os.ReadDir(dir)
	if err != nil {
		return err
	}
	for _, e := range list {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		if len(e.Name()) != 64 || strings.Trim(e.Name(), "0123456789abcdef") != "" {
			continue
		}
		if err := f(e.Name(), func() (io.ReadCloser, error) { return os.Open(filepath.Join(dir, e.Name())) }); err != nil {
			return err
		}
	}
	return nil
}

// bytesOf is an extra whose text is there at once.
func bytesOf(name string, make func(ctx context.Context) ([]byte, error)) archive.Extra {
	return archive.Extra{Name: name, Write: func(ctx context.Context, w io.Writer) error {
		data, err := make(ctx)
		if err == nil {
			_, err = w.Write(data)
		}
		return err
	}}
}

func extras(ctx context.Context, a *app.App, f func(archive.Extra) error) error {
	for _, x := range []archive.Extra{bytesOf("shop/prices.csv", a.Shop.PricesCSV), bytesOf("shop/words.csv", a.Said.WordTable), bytesOf("shop/keys.json", func(ctx context.Context) ([]byte, error) {
		keys, err := a.Store.Keys(ctx)
		if err != nil {
			return nil, err
		}
		return json.MarshalIndent(map[string][]signing.Key{"keys": keys}, "", " ")
	})} {
		if err := f(x); err != nil {
			return err
		}
	}
	sheets, err := a.Store.Sheets(ctx)
	if err != nil {
		return err
	}
	for _, s := range sheets {
		if err := f(bytesOf(fmt.Sprintf("units/%s-%d.yaml", s.UnitID, s.Version), func(ctx context.Context) ([]byte, error) {
			whole, err := a.Store.Sheet(ctx, s.UnitID, s.Version)
			return whole.Text, err
		})); err != nil {
			return err
		}
	}
	ids, err := a.Store.CaseIDs(ctx)
	if err != nil {
		return err
	}
	for _, id := range ids {
		if err := ofCase(ctx, a, id, f); err != nil {
			return fmt.Errorf("case %s: %w", id, err)
		}
	}
	return nil
}

func ofCase(ctx context.Context, a *app.App, id string, f func(archive.Extra) error) error {
	dir := path.Join("cases", id)
	if err := f(bytesOf(path.Join(dir, id+".case.json"), func(ctx context.Context) ([]byte, error) {
		file, err := a.Intake.Export(ctx, id)
		if err != nil {
			return nil, err
		}
		return json.MarshalIndent(file, "", " ")
	})); err != nil {
		return err
	}
	c, err := a.Cases.Case(ctx, id)
	if err != nil {
		return err
	}
	for _, r := range c.Records {
		if err := record(ctx, a, dir, c, r, f); err != nil {
			return fmt.Errorf("record %s: %w", r.ID, err)
		}
	}
	return nil
}

// record is an issued record in its three forms, signed as it is handed out.
func record(ctx context.Context, a *app.App, dir string, c cases.Case, r cases.Record, f func(archive.Extra) error) error {
	content, kept, err := a.Records.RecordOf(ctx, c.ID, r.ID)
	if err != nil {
		return err
	}
	issued := paper.Issued{RecordContent: content, Digest: kept.Digest, KeyID: kept.KeyID}
	signed := func(form signing.Form, write func(ctx context.Context, w io.Writer, r paper.Issued, files paper.Files) error) func(context.Context, io.Writer) error {
		return func(ctx context.Context, w io.Writer) error {
			var b strings.Builder
			if err := write(ctx, &b, issued, a.Records.Files(ctx)); err != nil {
				return err
			}
			_, err := w.Write(a.Store.Sign(form, []byte(b.String())))
			return err
		}
	}
	name := path.Join(dir, "record-"+content.Number)
	for _, x := range []archive.Extra{
		bytesOf(name+".json", func(ctx context.Context) ([]byte, error) { return file(ctx, a.Records, kept) }),
		{Name: name + ".html", Write: signed(signing.HTML, paper.HTML)},
		{Name: name + ".pdf", Write: signed(signing.PDF, func(ctx context.Context, w io.Writer, r paper.Issued, files paper.Files) error {
			return paper.PDF(ctx, w, r, files, paper.Papers[0])
		})},
	} {
		if err := f(x); err != nil {
			return err
		}
	}
	return nil
}

func file(ctx context.Context, s *records.Service, r cases.Record) ([]byte, error) {
	sig, err := s.SignatureOf(ctx, r)
	if err != nil {
		return nil, err
	}
	return paper.JSON(r.Content, r.Digest, sig)
}
