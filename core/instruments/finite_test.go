package instruments_test

import (
	"encoding/json"
	"math"
	"slices"
	"strings"
	"testing"

	"innercompass/core/instrument"
	"innercompass/core/instruments"
	"innercompass/core/quantity"
)

// Uncertainties as wide as the values, and wider, lead to numbers or to a refusal; never to what is no number.
func TestWideUncertaintiesStayFinite(t *testing.T) {
	tried := 0
	for _, d := range instruments.All() {
		f, err := instruments.For(d.Name(), h4(t))
		if err != nil {
			f = d
		}
		for _, in := range f.Inputs {
			if in.Kind != instrument.Number {
				continue
			}
			typed := map[string]string{}
			for _, other := range f.Inputs {
				if text := other.Default; text != "" {
					typed[other.ID] = text
				} else if !other.Optional {
					typed[other.ID] = other.Example
				}
			}
			base := typed[in.ID]
			if base == "" || strings.Contains(base, "±") {
				continue
			}
			number := strings.Fields(base)[0]
			for _, half := range []string{"500", "1e9"} {
				typed[in.ID] = strings.Replace(base, number, number+" ± "+half, 1)
				r, err := f.Run(typed, instrument.Terms{})
				if err != nil {
					continue
				}
				tried++
				for _, o := range r.Outputs {
					if x := o.Value + o.Low + o.High + o.U; math.IsNaN(x) || math.IsInf(x, 0) {
						t.Errorf("%s, %s %s: %+v", f.ID, in.ID, typed[in.ID], o)
					}
				}
				if _, err := json.Marshal(r.Outputs); err != nil {
					t.Errorf("%s, %s %s: %v", f.ID, in.ID, typed[in.ID], err)
				}
			}
		}
	}
	if tried < 50 {
		t.Errorf("only %d runs", tried)
	}
}

// A shop that writes a decimal comma types the same values its way and gets the same results, written its way; what it gets,
// typed back in, reads the same.
func TestInstrumentsSpeakAsTheShopWrites(t *testing.T) {
	ran := 0
	for _, style := range quantity.Styles {
		for _, d := range instruments.All() {
			f, err := instruments.For(d.Name(), h4(t))
			if err != nil {
				f = d
			}
			plain, local := f, f
			local.Inputs = slices.Clone(f.Inputs)
			local.InUnits(func(_ quantity.Dimension, fallback string) string { return fallback }, style)
			sample := func(d instrument.Definition) map[string]string {
				out := map[string]string{}
				for _, in := range d.Inputs {
					if in.Default == "" && !in.Optional {
						out[in.ID] = in.Example
					}
				}
				return out
			}
			want, err := plain.Run(sample(plain), instrument.Terms{})
			if err != nil {
				continue // needs a sheet, or values that no example gives
			}
			terms := instrument.Terms{Style: style}
			got, err := local.Run(sample(local), terms)
			if err != nil {
				t.Errorf("%s: %s: %v", style.Sample(), f.ID, err)
				continue
			}
			ran++
			for i, o := range got.Outputs {
				if o.Value != want.Outputs[i].Value {
					t.Errorf("%s: %s %s: %v, want %v", style.Sample(), f.ID, o.ID, o.Value, want.Outputs[i].Value)
				}
				if text := o.Text(terms); !o.Whole {
					back, err := style.ParseMeasured(text, o.Dimension, o.Unit)
					if err != nil || style.FormatMeasured(back, o.Unit) != text {
						t.Errorf("%s: %s prints %q, which reads %v, %v", style.Sample(), f.ID, text, back, err)
					}
				}
			}
		}
	}
	if ran < 100 {
		t.Errorf("only %d runs", ran)
	}
}
