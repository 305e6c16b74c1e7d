package drives

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"innercompass/core/synth"
)

// run gives what the command prints.
func run(t *testing.T, args ...string) (string, error) {
	t.Helper()
	c := Command()
	var out bytes.Buffer
	c.SetOut(&out)
	c.SetErr(&out)
	c.SilenceUsage, c.SilenceErrors = true, true
	c.SetArgs(args)
	err := c.Execute()
	return out.String(), err
}

// file writes one into a folder of the test.
func file(t *testing.T, name, text string) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), name)
	if err := os.WriteFile(path, []byte(text), 0o600); err != nil {
		t.Fatal(err)
	}
	return path
}

// A drive of an assumed van whose joint shakes, from a file to its source, in words and as JSON; what is missing is said.
func TestOrdersOfAFile(t *testing.T) {
	const axle, circumference = 3.7, 2.1
	d, err := synth.Recipe{Seconds: 60, Rate: 500, From: 24, To: 52, Tones: []synth.Tone{{Order: 2, Level: -8, Multiples: []float64{1, 0.3}}}, Seed: 9}.Make()
	if err != nil {
		t.Fatal(err)
	}
	var b strings.Builder
	b.WriteString("Time (s),Seat rail (m/s²),Vehicle speed (km/h)\n")
	for i, v := range d.Samples {
		speed := ""
		if i%50 == 0 {
			speed = fmt.Sprintf("%.0f", d.Shaft(float64(i)/500)/axle*circumference*3.6)
		}
		fmt.Fprintf(&b, "%.3f,%.4f,%s\n", float64(i)/500, v, speed)
	}
	drive, vehicle := file(t, "drive.csv", b.String()), file(t, "van.json", `{"cylinders": 4, "axle": 3.7, "pinion": 10, "circumference": 2.1, "pieces": 2, "joint": "cross"}`)
	text, err := run(t, "info", drive)
	if err != nil || !strings.Contains(text, "30000 rows") || !strings.Contains(text, "1 Seat rail") || !strings.Contains(text, "comes 10 times a second") {
		t.Errorf("%v\n%s", err, text)
	}
	text, err = run(t, "orders", drive, "--unit", "ombrin-s6", "--vehicle", vehicle, "--range", "D6", "--json")
	if err != nil {
		t.Fatal(err)
	}
	var got heardJSON
	if err := json.Unmarshal([]byte(text), &got); err != nil {
		t.Fatal(err)
	}
	if len(got.Ridges) == 0 || got.Ridges[0].Could[0].IDs[0] != "joint" || got.Ridges[0].Turning != "turns" {
		t.Errorf("%s", text)
	}
	if text, err = run(t, "spectrum", drive, "--from", "20", "--to", "24"); err != nil || !strings.Contains(text, "Hz") {
		t.Errorf("%v\n%s", err, text)
	}
	for name, args := range map[string][]string{
		"no unit":                {"orders", drive},
		"a range that is none":   {"orders", drive, "--unit", "ombrin-s6", "--range", "D9"},
		"a vehicle that is none": {"orders", drive, "--unit", "ombrin-s6", "--vehicle", drive},
		"a vehicle with a slip":  {"orders", drive, "--unit", "ombrin-s6", "--vehicle", file(t, "v.json", `{"axel": 3.7}`)},
		"no file":                {"info", drive + "x"},
		"no recording":           {"info", vehicle},
	} {
		if _, err := run(t, args...); err == nil {
			t.Errorf("%s was taken", name)
		}
	}
}
