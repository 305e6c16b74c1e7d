package paper

import (
	"context"
	_ "embed"
	"encoding/base64"
	"html/template"
	"io"
	"strings"

	"innercompass/core/money"
)

//go:embed record.html
var page string

var tmpl = template.Must(template.New("record").Funcs(template.FuncMap{
	"percent": percent,
	"minor":   func(major float64) int64 { return int64(money.Of(major)) },
	"source":  func(s string) string { return sources[s] },
	"result":  func(s string) string { return results[s] },
	"outcome": func(s string) string { return outcomes[s] },
	"lines":   func(s string) []string { return strings.Split(s, "\n") },
	"safePath": func(s string) template.HTMLAttr { // strokes that were checked when they were taken
		return template.HTMLAttr(`d="` + s + `"`)
	},
}).Parse(page))

// shown is a picture in the page itself.
type shown struct {
	Caption string
	Source  template.URL
	Missing bool
}

// HTML writes the record as one file that opens anywhere: pictures and styles are inside it.
func HTML(ctx context.Context, w io.Writer, r Issued, files Files) error {
	var photos []shown
	for _, p := range r.Photos {
		small, err := pictureOf(ctx, files, p, nil)
		if err != nil {
			return err
		}
		photos = append(photos, shown{p.Caption, template.URL("data:image/jpeg;base64," + base64.StdEncoding.EncodeToString(small.JPEG)), small.missing})
	}
	chain, rest := noticed(r.RecordContent)
	return tmpl.Execute(w, map[string]any{"R": r, "Photos": photos, "Chain": chain, "Rest": rest})
}
