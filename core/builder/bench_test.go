package builder_test

import (
	"context"
	"fmt"
	"math"
	"testing"

	"innercompass/core/builder"
)

// What every keystroke in the builder costs: the ten-speed with all of its ratios, teeth searched anew.
func BenchmarkLookAtTenSpeed(b *testing.B) {
	d := draft(b, "four-sets-10", nil)
	u := know(b).Units["vantrice-t10"]
	for i, r := range d.Sheet.Ranges {
		if x, ok := u.Range(r.ID); ok && x.Driving() {
			d.Sheet.Ranges[i].Ratio = fmt.Sprintf("%.2f", math.Abs(x.Healthy.Ratio))
		}
	}
	d.Sheet = builder.Fill(d.Sheet, d.Kind, u.Sheet)
	for b.Loop() {
		if v, err := builder.Look(context.Background(), d); err != nil || !v.Ready() {
			b.Fatal(err, flaws(v))
		}
	}
}
