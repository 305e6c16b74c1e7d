package fasteners_test

import (
	"math"
	"slices"
	"testing"

	"innercompass/core/fasteners"
)

// On a circle the star is that of StarOrder, which has its own checks: after every second bolt the tight ones balance each other.
func TestPatternsKeepWhatIsTightInBalance(t *testing.T) {
	for n := 2; n <= 24; n++ {
		places, err := fasteners.Lay(n, "circle")
		if err != nil {
			t.Fatal(err)
		}
		order := fasteners.Order(places, "star")
		sorted := slices.Sorted(slices.Values(order))
		for i := range n {
			if sorted[i] != i {
				t.Fatalf("%d bolts: %v", n, order)
			}
		}
		x, y := 0.0, 0.0
		for k, i := range order {
			x, y = x+places[i].X, y+places[i].Y
			if n%2 == 0 && k%2 == 1 && math.Hypot(x, y) > 1e-9 {
				t.Errorf("%d bolts: after %d they pull %v to one side", n, k+1, math.Hypot(x, y))
			}
			if math.Hypot(x, y) > 1 {
				t.Errorf("%d bolts: after %d they pull %v", n, k+1, math.Hypot(x, y))
			}
		}
	}
}

func TestFromTheMiddleOutNeverComesBack(t *testing.T) {
	for _, lie := range []string{"field", "edge", "circle"} {
		for n := 1; n <= 30; n++ {
			places, err := fasteners.Lay(n, lie)
			if err != nil || len(places) != n {
				t.Fatalf("%d bolts in a %s: %d places, %v", n, lie, len(places), err)
			}
			for i := range places {
				for j := range i {
					if math.Hypot(places[i].X-places[j].X, places[i].Y-places[j].Y) < 1e-6 {
						t.Errorf("%d bolts in a %s: two in one place", n, lie)
					}
				}
			}
			far := -1.0
			for _, i := range fasteners.Order(places, "middle-out") {
				d := math.Hypot(places[i].X, places[i].Y)
				if d < far-1e-9 {
					t.Errorf("%d bolts in a %s: back toward the middle", n, lie)
				}
				far = d
			}
		}
	}
	if _, err := fasteners.Lay(0, "circle"); err == nil {
		t.Error("no bolts have places")
	}
	if got := fasteners.Order([]fasteners.Place{{0, 0}, {1, 0}, {2, 0}}, "round"); !slices.Equal(got, []int{0, 1, 2}) {
		t.Errorf("round: %v", got)
	}
}
