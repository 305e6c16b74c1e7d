package record

import (
	_ "embed"
	"encoding/base64"
	"html/template"
	"io"
	"strings"

	"innercompass/core/decide"
)

//go:embed record.html
var page string

var tmpl = template.Must(template.New("record").Funcs(template.FuncMap{
	"percent": percent,
	"amount":  amount,
	"minor":   func(major float64) int64 { return int64(decide.Of(major)) },
	"date":    date,
	"how":     howText,
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
}

// HTML writes the record as one file that opens anywhere: pictures and styles are inside it.
func HTML(w io.Writer, r Issued, files Files) error {
	var photos []shown
	for _, p := range r.Photos {
		file, err := files(p.Digest)
		if err != nil {
			return err
		}
		small, err := picture(file, nil)
		if err != nil {
			return err
		}
		photos = append(photos, shown{p.Caption, template.URL("data:image/jpeg;base64," + base64.StdEncoding.EncodeToString(small.jpeg))})
	}
	chain, rest := noticed(r.RecordContent)
	return tmpl.Execute(w, map[string]any{"R": r, "Photos": photos, "Chain": chain, "Rest": rest})
}
