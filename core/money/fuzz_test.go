package money_test

import (
	"testing"

	"innercompass/core/money"
	"innercompass/core/quantity"
)

// Whatever is typed is refused or comes back as the amount that it is written as.
func FuzzParseAmount(f *testing.F) {
	for _, text := range []string{"1250", "1,250.00", "1.250,00", "12,5", "-1", "", "1e5", ".5", "9,999,999.99", "0,1,2"} {
		f.Add(text)
	}
	f.Fuzz(func(t *testing.T, text string) {
		a, err := money.Parse(quantity.Style{}, text)
		if err != nil {
			return
		}
		if a < 0 {
			t.Fatalf("%q is %d", text, a)
		}
		if back, err := money.Parse(quantity.Style{}, a.Format("")); err != nil || back != a {
			t.Fatalf("%q is %d, written as %q and read as %d, %v", text, a, a.Format(""), back, err)
		}
	})
}
