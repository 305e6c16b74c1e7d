// Package record writes the customer's record of a decision from its frozen snapshot: what a layman
// understands first, what an expert can check after it.
package record

import (
	_ "embed"
	"fmt"
	"html/template"
	"io"
	"strings"

	"innercompass/core/decide"
	"innercompass/internal/casework"
)

//go:embed record.html
var page string

var tmpl = template.Must(template.New("record").Funcs(template.FuncMap{
	"percent": percent,
	"money":   decide.Money,
	"weight":  func(w float64) string { return strings.Replace(fmt.Sprintf("%+.1f", w), "-", "−", 1) },
	"source": func(s string) string {
		return map[string]string{"customer": "told by the customer", "seen": "seen", "measured": "measured"}[s]
	},
}).Parse(page))

// percent never rounds doubt away: what is not certain is not written as 100 %.
func percent(p float64) string {
	switch {
	case p > 0.995 && p < 1:
		return "over 99\u00a0%"
	case p > 0 && p < 0.005:
		return "under 1\u00a0%"
	}
	return fmt.Sprintf("%.0f\u00a0%%", 100*p)
}

// HTML writes the record of a snapshot. digest is printed so that the paper can be compared with what is kept.
func HTML(w io.Writer, s casework.Snapshot, digest string) error {
	var chosen casework.SnapshotOption
	for _, o := range s.Options {
		if o.ID == s.Chosen {
			chosen = o
		}
	}
	var leader casework.SnapshotSuspect
	if len(s.Suspects) > 0 {
		leader = s.Suspects[0]
	}
	return tmpl.Execute(w, map[string]any{"S": s, "Chosen": chosen, "Leader": leader, "Digest": digest})
}
