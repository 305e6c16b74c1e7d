package httpapi_test

import (
	"encoding/json"
	"math"
	"net/http"
	"slices"
	"strings"
	"testing"

	"innercompass/internal/httpapi/gen"
)

// Every instrument that is listed can be taken up alone, on a unit with each of its parts, and on a case; its figures are
// drawn with finite numbers in the shop's units.
func TestEveryInstrumentIsServed(t *testing.T) {
	a := start(t)
	all := decode[gen.InstrumentList](t, a.do(http.MethodGet, "/api/instruments", ""))
	if len(all.Instruments) < 40 || len(all.Groups) != 7 {
		t.Fatalf("%d instruments on %d shelves", len(all.Instruments), len(all.Groups))
	}
	for _, item := range all.Instruments {
		for _, on := range []string{"", "?unit=norrad-h4", "?case=" + a.minibus()} {
			w := a.do(http.MethodGet, "/api/instruments/"+item.ID+on, "")
			if w.Code != http.StatusOK {
				t.Errorf("%s%s: %d %s", item.ID, on, w.Code, w.Body)
				continue
			}
			d := decode[gen.Instrument](t, w)
			values := map[string]string{}
			for _, in := range d.Inputs {
				values[in.ID] = in.Typed
				if in.Typed == "" {
					values[in.ID] = in.Example
				}
			}
			body, err := json.Marshal(map[string]any{"values": values})
			if err != nil {
				t.Fatal(err)
			}
			path := "/api/instruments/" + item.ID + on
			if d.Part != "" {
				sign := "?"
				if on != "" {
					sign = "&"
				}
				path += sign + "part=" + d.Part
			}
			w = a.do(http.MethodPost, path, string(body))
			if w.Code != http.StatusOK {
				if p := decode[gen.Problem](t, w); p.Accepted == nil || *p.Accepted == "" {
					t.Errorf("%s: %d %s", path, w.Code, w.Body)
				}
				continue
			}
			for _, f := range decode[gen.Result](t, w).Figures {
				for _, s := range f.Series {
					for _, p := range s.Points {
						if math.IsNaN(p[0]) || math.IsNaN(p[1]) {
							t.Errorf("%s: %s at %v", path, s.Name, p)
						}
					}
				}
			}
		}
	}
}

func TestAnInstrumentPutsIntoTheCaseOnce(t *testing.T) {
	a := start(t)
	id := a.minibus()
	body := `{"values":{"value":"0.95 mm"},"gauge":"micrometer","by":"Tobin"}`
	for range 2 {
		w := a.do(http.MethodPost, "/api/cases/"+id+"/instruments/window:end-play", body, "Idempotency-Key", "00112233445566778899")
		if w.Code != http.StatusOK {
			t.Fatalf("%d %s", w.Code, w.Body)
		}
		trail := decodeCase(t, w).Trail
		n := 0
		for _, x := range trail {
			if x.Finding == "end-play" {
				n++
			}
		}
		if n != 1 {
			t.Errorf("%d readings of one measurement", n)
		}
	}
	for path, body := range map[string]string{
		"/api/instruments/crystal-ball":                      `{"values":{}}`,
		"/api/instruments/orifice":                           `{"values":{"diameter":"-3 mm"}}`,
		"/api/instruments/orifice?unit=nothing":              `{"values":{}}`,
		"/api/cases/" + id + "/instruments/orifice":          `{"values":{"diameter":"wide"}}`,
		"/api/cases/" + id + "/instruments/window:end-play":  `{"values":{"value":"wide"}}`,
		"/api/cases/" + id + "/instruments/window:end-play ": `{"values":{"value":"1 mm"},"colour":"red"}`,
	} {
		w := a.do(http.MethodPost, strings.ReplaceAll(path, " ", ""), body)
		if w.Code < 400 || w.Code >= 500 {
			t.Errorf("%s %s: %d", path, body, w.Code)
		}
	}
}

// What is kept in a case is listed, goes on to other instruments, and can be taken back once.
func TestMeasurementsOverTheAPI(t *testing.T) {
	a := start(t)
	id := a.minibus()
	before := decode[[]gen.Measurement](t, a.do(http.MethodGet, "/api/cases/"+id+"/measurements", ""))
	w := a.do(http.MethodPost, "/api/cases/"+id+"/instruments/stack-clearance:DC", `{"values":{},"by":"Tobin"}`)
	if w.Code != http.StatusUnprocessableEntity {
		t.Errorf("a stack that nobody measured: %d %s", w.Code, w.Body)
	}
	w = a.do(http.MethodPost, "/api/cases/"+id+"/instruments/plate-capacity:DC", `{"values":{},"by":"Tobin"}`)
	if w.Code != http.StatusOK {
		t.Fatalf("%d %s", w.Code, w.Body)
	}
	kept := decode[[]gen.Measurement](t, a.do(http.MethodGet, "/api/cases/"+id+"/measurements", ""))
	if len(kept) != len(before)+1 {
		t.Fatalf("%+v", kept)
	}
	last := kept[len(kept)-1]
	if last.Instrument != "plate-capacity:DC" || last.By != "Tobin" || !last.Stands || last.Reading || !strings.HasSuffix(last.Value, "N·m") {
		t.Errorf("%+v", last)
	}
	next := decode[gen.Instrument](t, a.do(http.MethodGet, "/api/instruments/shift-energy?part=DC&case="+id, ""))
	if i := slices.IndexFunc(next.Inputs, func(in gen.InstrumentInput) bool { return in.ID == "torque" }); next.Inputs[i].Typed != last.Value || next.Inputs[i].From == "" {
		t.Errorf("%+v", next.Inputs[i])
	}
	r := decode[gen.Result](t, a.do(http.MethodPost, "/api/instruments/plate-capacity?part=DC&case="+id, `{"values":{}}`))
	if len(r.Next) != 1 || r.Next[0].Name != "shift-energy:DC" || r.Next[0].Values["torque"] == "" {
		t.Errorf("%+v", r.Next)
	}
	back := "/api/cases/" + id + "/measurements/" + last.ID + "?by=Tobin"
	if w := a.do(http.MethodDelete, back, ""); w.Code != http.StatusOK {
		t.Errorf("%d %s", w.Code, w.Body)
	}
	if w := a.do(http.MethodDelete, back, ""); w.Code != http.StatusNotFound {
		t.Errorf("taken back twice: %d %s", w.Code, w.Body)
	}
}

func TestGaugesOverTheAPI(t *testing.T) {
	a := start(t)
	book := decode[gen.GaugeList](t, a.do(http.MethodGet, "/api/gauges", ""))
	kept := book.Gauges
	if !slices.ContainsFunc(kept, func(g gen.Gauge) bool { return g.Overdue }) || !slices.ContainsFunc(kept, func(g gen.Gauge) bool { return !g.Overdue }) {
		t.Errorf("the demo shop's gauges: %+v", kept)
	}
	if w := a.do(http.MethodPut, "/api/gauges", `{"gauges":[{"name":"x","dimension":"length"}]}`, "If-Match", "old"); w.Code != http.StatusUnprocessableEntity || !strings.Contains(w.Body.String(), "resolution") {
		t.Errorf("%d %s", w.Code, w.Body)
	}
	changed := `{"gauges":[{"name":"rule","dimension":"length","resolution":"0.5 mm"}]}`
	now := decode[gen.GaugeList](t, a.do(http.MethodPut, "/api/gauges", changed, "If-Match", book.Rev)).Gauges
	if w := a.do(http.MethodPut, "/api/gauges", changed, "If-Match", book.Rev); w.Code != http.StatusPreconditionFailed {
		t.Errorf("an old list of gauges: %d %s", w.Code, w.Body)
	}
	if len(now) != 1 || now[0].ID == "" || now[0].Overdue {
		t.Errorf("%+v", now)
	}
}

// A laboratory's table is read as its heads say; mapped by hand, the mapping is remembered for the next table with these
// heads; a bad cell is named and nothing is read.
func TestALaboratorysTableIsReadAndItsLayoutRemembered(t *testing.T) {
	a := start(t)
	post := func(body map[string]any) gen.Lab {
		data, err := json.Marshal(body)
		if err != nil {
			t.Fatal(err)
		}
		w := a.do(http.MethodPost, "/api/lab-tables", string(data))
		if w.Code != http.StatusOK {
			t.Fatalf("%d %s", w.Code, w.Body)
		}
		return decode[gen.Lab](t, w)
	}
	table := "No;Eisen;Cu;km\nA;42,5;12;40000\n"
	first := post(map[string]any{"text": table})
	if first.Remembered || !slices.Equal(first.Fields, []string{"", "", "copper", "distance"}) || len(first.Samples) != 1 || first.Samples[0].Values["copper"] != "12" || first.Samples[0].Values["distance"] != "40,000 km" {
		t.Errorf("%+v", first)
	}
	mapped := post(map[string]any{"text": table, "fields": []string{"sample", "iron", "copper", "distance"}})
	if len(mapped.Errors) != 0 || mapped.Samples[0].Name != "A" || mapped.Samples[0].Values["iron"] != "42.5" {
		t.Errorf("%+v", mapped)
	}
	again := post(map[string]any{"text": "No;Eisen;Cu;km\nB;900;12;5000\n"})
	if !again.Remembered || again.Samples[0].Values["iron"] != "900" {
		t.Errorf("%+v", again)
	}
	bad := post(map[string]any{"text": "No;Eisen;Cu;km\nB;900;12;5000\nC;much;12;5000\n"})
	if len(bad.Samples) != 0 || len(bad.Errors) != 1 || bad.Errors[0].Row != 2 || bad.Errors[0].Column != "Eisen" {
		t.Errorf("%+v", bad)
	}
	if w := a.do(http.MethodPost, "/api/lab-tables", `{"text":"only a line"}`); w.Code != http.StatusUnprocessableEntity {
		t.Errorf("%d %s", w.Code, w.Body)
	}
	// What was read is taken by the instrument as it is.
	data, err := json.Marshal(map[string]any{"values": again.Samples[0].Values})
	if err != nil {
		t.Fatal(err)
	}
	if r := decode[gen.Result](t, a.do(http.MethodPost, "/api/instruments/fluid-report", string(data))); r.Outputs[0].Value < 0.3 {
		t.Errorf("%+v", r.Outputs)
	}
}
