package handover

import (
	"archive/zip"
	"context"
	"encoding/json"
	"io"
	"path"

	"innercompass/internal/app"
	"innercompass/internal/archive"
	"innercompass/internal/problem"
)

// Customer writes all that the shop holds of a customer: what was said and found, what was decided, records, pictures. It fails before it writes anything when
// no case names them.
func Customer(ctx context.Context, a *app.App, customer string, w io.Writer) error {
	found, err := a.Store.Subjects(ctx, customer, true, 1)
	if err != nil {
		return err
	}
	if len(found) == 0 {
		return problem.NotFound("customer", customer, "a name as it stands in a case")
	}
	z := zip.NewWriter(w)
	put := func(x archive.Extra) error {
		to, err := z.Create(x.Name)
		if err != nil {
			return err
		}
		return x.Write(ctx, to)
	}
	for _, c := range found[0].Cases {
		if err := ofCase(ctx, a, c.ID, put); err != nil {
			return err
		}
		whole, err := a.Cases.Case(ctx, c.ID)
		if err != nil {
			return err
		}
		dir := path.Join("cases", c.ID)
		if err := put(bytesOf(path.Join(dir, "all.json"), func(context.Context) ([]byte, error) { return json.MarshalIndent(whole, "", " ") })); err != nil {
			return err
		}
		for _, p := range whole.Photos {
			if p.Gone {
				continue
			}
			data, err := a.Store.File(ctx, p.Digest)
			if err != nil {
				continue //nolint:nilerr // a picture that is missing is not held
			}
			if err := put(bytesOf(path.Join(dir, p.ID+".jpg"), func(context.Context) ([]byte, error) { return data, nil })); err != nil {
				return err
			}
		}
	}
	return z.Close()
}
