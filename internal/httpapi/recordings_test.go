package httpapi_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"innercompass/internal/httpapi/gen"
)

// answered reads an answer of a status.
func answered[T any](t *testing.T, w *httptest.ResponseRecorder, status int) T {
	t.Helper()
	var out T
	if w.Code != status {
		t.Fatalf("%d, want %d: %s", w.Code, status, w.Body)
	}
	if err := json.Unmarshal(w.Body.Bytes(), &out); err != nil {
		t.Fatal(err)
	}
	return out
}

// sent brings a recording in as a browser does.
func (a site) sent(query, body string, headers ...string) *httptest.ResponseRecorder {
	return a.do(http.MethodPost, "/api/recordings?"+query, body, append([]string{"Content-Type", "application/octet-stream"}, headers...)...)
}

// A recording over the whole of its addresses: brought in, seen, said something of, marked, drawn, handed out, taken away.
func TestARecordingOverHTTP(t *testing.T) {
	a := start(t)
	var b strings.Builder
	b.WriteString("Time (s),Seat (g),Engine speed (rpm)\n")
	for i := range 2000 {
		fmt.Fprintf(&b, "%.3f,%.4f,%d\n", float64(i)/200, math.Sin(2*math.Pi*31*float64(i)/200), 1500)
	}
	r := answered[gen.Recording](t, a.sent("file=drive.csv&unit=ombrin-s6&vehicle=Van&range=D6&load=pull&road=22.2", b.String()), http.StatusCreated)
	if r.Title != "drive" || r.Channels[0].Role != "shaking" || r.Channels[1].Role != "engine" || *r.Driven.Road != 22.2 || len(r.Ranges) < 6 || r.Layout.Separator != "," {
		t.Errorf("%+v", r)
	}
	address := "/api/recordings/" + r.ID
	all := answered[[]gen.RecordingItem](t, a.do("GET", "/api/recordings", ""), 200)
	if len(all) != 10 || all[0].ID != r.ID || all[0].RangeName != "Drive sixth" || !all[0].Heard {
		t.Errorf("%+v", all[0])
	}
	if got := answered[[]gen.RecordingItem](t, a.do("GET", "/api/recordings?case=nobody", ""), 200); len(got) != 0 {
		t.Errorf("of no case: %+v", got)
	}
	r = answered[gen.Recording](t, a.do("PUT", address, fmt.Sprintf(`{"revision": %d, "title": "Shake at idle", "driven": {"range": "D5"}}`, r.Revision)), 200)
	r = answered[gen.Recording](t, a.do("POST", address+"/marks", fmt.Sprintf(`{"revision": %d, "at": 4.5, "note": "here"}`, r.Revision)), 200)
	if r.Title != "Shake at idle" || *r.Driven.Range != "D5" || len(r.Marks) != 1 {
		t.Errorf("%+v", r)
	}
	r = answered[gen.Recording](t, a.do("DELETE", fmt.Sprintf("%s/marks/%s?revision=%d", address, r.Marks[0].ID, r.Revision), ""), 200)
	trace := answered[gen.Trace](t, a.do("GET", address+"/trace?channels=0&channels=1&from=1&to=2", ""), 200)
	if len(trace.At) != 201 || trace.Each != 1 || *trace.Channels[1].Low[0] != 1500 {
		t.Errorf("%d moments of %d rows", len(trace.At), trace.Each)
	}
	spectrum := answered[gen.SoundSpectrum](t, a.do("GET", address+"/spectrum?top=80", ""), 200)
	if len(spectrum.Peaks) == 0 || math.Abs(spectrum.Peaks[0].Hertz-31) > 0.1 || spectrum.Unit != "g" {
		t.Errorf("%+v", spectrum.Peaks)
	}
	orders := answered[gen.Orders](t, a.do("GET", address+"/orders", ""), 200)
	if len(orders.Limits) == 0 || !strings.Contains(strings.Join(orders.Assumed, " "), "axle") || orders.Span > 0.01 {
		t.Errorf("%v %v", orders.Limits, orders.Assumed)
	}
	table := a.do("GET", address+"/file?as=table", "")
	if table.Code != 200 || !bytes.HasPrefix(table.Body.Bytes(), []byte("Time (s),Seat (g),Engine speed (rpm)\n0,0,1500\n")) || !strings.Contains(table.Header().Get("Content-Disposition"), "Shake at idle.csv") {
		t.Errorf("%d %s %.80s", table.Code, table.Header(), table.Body)
	}
	if came := a.do("GET", address+"/file", ""); came.Body.String() != b.String() {
		t.Error("the file is not as it came")
	}
	layout := fmt.Sprintf(`{"revision": %d, "layout": {"separator": ",", "decimal": ".", "heads": 1, "time": 0, "kind": "ms", "step": 0, "columns": [{"name": "Time", "unit": "s"}, {"name": "Seat", "unit": "g"}, {"name": "rpm", "unit": ""}]}}`, r.Revision)
	r = answered[gen.Recording](t, a.do("PUT", address+"/layout", layout), 200)
	if math.Abs(r.Seconds-9.995e-3) > 1e-9 {
		t.Errorf("read as milliseconds it lasts %v s", r.Seconds)
	}
	if w := a.do("DELETE", fmt.Sprintf("%s?revision=%d", address, r.Revision), ""); w.Code != 204 {
		t.Errorf("%d %s", w.Code, w.Body)
	}
	if w := a.do("GET", address, ""); w.Code != 404 {
		t.Errorf("after it: %d", w.Code)
	}
}

// What is wrong is said with its place and what would be accepted; a write from elsewhere is refused before it is read.
func TestRecordingsThatAreRefused(t *testing.T) {
	a := start(t)
	good := "Time,A\n0,1\n1,2\n2,3\n3,4\n"
	id := answered[gen.Recording](t, a.sent("file=a.csv", good), http.StatusCreated).ID
	for name, c := range map[string]struct {
		w      *httptest.ResponseRecorder
		status int
		want   string
	}{
		"a form":             {a.do("POST", "/api/recordings?file=a.csv", good, "Content-Type", "text/plain"), 415, "application/octet-stream"},
		"another site":       {a.sent("file=a.csv", good, "Origin", "http://elsewhere.example"), 403, "another site"},
		"no name":            {a.sent("", good), 422, "file"},
		"no numbers":         {a.sent("file=a.txt", "once upon a time\n"), 422, "no rows of numbers"},
		"a row that is cut":  {a.sent("file=a.csv", "Time,A\n0,1\n1,2\n2\n"), 422, "row 4, byte 15"},
		"a speed in words":   {a.sent("file=a.csv&road=fast", good), 422, "a number"},
		"a load that is odd": {a.sent("file=a.csv&load=heavy", good), 422, "pull, steady, coast"},
		"a case not there":   {a.sent("file=a.csv&case=c0", good), 404, "c0"},
		"an old revision":    {a.do("PUT", "/api/recordings/"+id, `{"revision": 7, "title": "b"}`), 412, "changed"},
		"no such channel":    {a.do("GET", "/api/recordings/"+id+"/trace?channels=5", ""), 422, "0 to 0"},
		"no unit said":       {a.do("GET", "/api/recordings/"+id+"/orders", ""), 422, "not said yet"},
		"a role that is odd": {a.do("PUT", "/api/recordings/"+id, `{"revision": 1, "channels": [{"name": "A", "unit": "", "role": "smell"}]}`), 400, "channels.0.role"},
		"a unit for a speed": {a.do("PUT", "/api/recordings/"+id, `{"revision": 1, "channels": [{"name": "A", "unit": "psi", "role": "engine"}]}`), 422, "rpm"},
		"sound of a table":   {a.do("GET", "/api/recordings/"+id+"/file?as=sound", ""), 422, "came or table"},
		"joined with itself": {a.do("PUT", "/api/recordings/"+id+"/joined", `{"revision": 1, "with": "`+id+`", "offset": 0}`), 422, "another recording"},
		"a mark outside":     {a.do("POST", "/api/recordings/"+id+"/marks", `{"revision": 1, "at": 99, "note": "x"}`), 422, "0 to 3.000 s"},
		"an impossible tire": {a.do("PUT", "/api/vehicle-sheets", `{"vehicle": "Van", "sheet": {"revision": 0, "tire": "big", "vehicle": {}}}`), 422, "205/55 R16"},
	} {
		if c.w.Code != c.status || !strings.Contains(c.w.Body.String(), c.want) {
			t.Errorf("%s: %d %s, want %d %q", name, c.w.Code, c.w.Body, c.status, c.want)
		}
	}
	if r := answered[gen.Recording](t, a.do("GET", "/api/recordings/"+id, ""), 200); r.Revision != 1 || r.Title != "a" {
		t.Errorf("after all of it %+v", r)
	}
}

// The sheet of a vehicle is kept with its name, however that is written; who has not seen the last one is told.
func TestTheSheetOfAVehicle(t *testing.T) {
	a := start(t)
	v := answered[gen.VehicleSheet](t, a.do("PUT", "/api/vehicle-sheets", `{"vehicle": "Harbor van", "sheet": {"revision": 0, "tire": "205/55 R16", "vehicle": {"cylinders": 6, "axle": 3.9, "joint": "tripod"}}}`), 200)
	if v.Revision != 1 || v.Vehicle.Circumference == nil || *v.Vehicle.Circumference < 1.8 {
		t.Errorf("%+v", v)
	}
	if got := answered[gen.VehicleSheet](t, a.do("GET", "/api/vehicle-sheets?vehicle=HARBOR%20van", ""), 200); *got.Vehicle.Axle != 3.9 {
		t.Errorf("%+v", got)
	}
	if w := a.do("PUT", "/api/vehicle-sheets", `{"vehicle": "Harbor van", "sheet": {"revision": 0, "vehicle": {}}}`); w.Code != 412 {
		t.Errorf("%d %s", w.Code, w.Body)
	}
	if got := answered[gen.VehicleSheet](t, a.do("GET", "/api/vehicle-sheets?vehicle=nobody", ""), 200); got.Revision != 0 {
		t.Errorf("%+v", got)
	}
}
