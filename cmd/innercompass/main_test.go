package main

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"innercompass/cmd/innercompass/cli"
)

func runCLI(args ...string) (string, error) {
	c := root()
	var out bytes.Buffer
	c.SetOut(&out)
	c.SetErr(&out)
	c.SetArgs(args)
	err := c.ExecuteContext(context.Background())
	return out.String(), err
}

func TestTraceOfTheExamples(t *testing.T) {
	for file, leader := range map[string]string{"flare-into-third": "piston-seal.DC", "late-upshift": "modulator-leak"} {
		path := "../../docs/examples/" + file + ".case.json"
		text, err := runCLI("trace", path)
		if err != nil || !strings.Contains(text, "Suspects") || !strings.Contains(text, "Next") || !strings.Contains(text, "expected in all") {
			t.Errorf("%s: %v\n%s", file, err, text)
		}
		data, err := runCLI("trace", path, "--json")
		if err != nil {
			t.Fatal(err)
		}
		var out traceOut
		if err := json.Unmarshal([]byte(data), &out); err != nil || !out.Exact || len(out.Options) < 3 || out.Headline == "" {
			t.Errorf("%s: exact %v, %d options, %v", file, out.Exact, len(out.Options), err)
		}
		if err := json.Unmarshal([]byte(data), &out); err != nil || out.Suspects[0].Cause != leader || len(out.Readings) == 0 {
			t.Errorf("%s: leader %v, want %s (%v)", file, out.Suspects[0].Cause, leader, err)
		}
	}
}

func TestUnitSolvePrintsRatiosFromTeeth(t *testing.T) {
	text, err := runCLI("unit", "solve", "norrad-h4")
	if err != nil || !strings.Contains(text, "2.4000") || !strings.Contains(text, "-2.0000") {
		t.Errorf("%v\n%s", err, text)
	}
	if text, err = runCLI("unit", "check", "../../knowledge/units/norrad-v3.yaml"); err != nil || !strings.Contains(text, "good") {
		t.Errorf("%v %s", err, text)
	}
	for _, kind := range []string{"findings", "causes", "checks"} {
		if text, err := runCLI(kind, "--unit", "norrad-d2"); err != nil || len(strings.Split(text, "\n")) < 25 {
			t.Errorf("%s: %v", kind, err)
		}
	}
}

// Bad input: line and reason, exit code 1. Wrong use: exit code 2.
func TestErrorsSayWhatAndWhere(t *testing.T) {
	dir := t.TempDir()
	write := func(name, text string) string {
		path := filepath.Join(dir, name)
		if err := os.WriteFile(path, []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
		return path
	}
	head := `{"format":"inner-compass-case/1","unit":"norrad-h4","readings":[`
	for _, c := range []struct {
		args  []string
		want  string
		usage bool
	}{
		{[]string{"trace", write("a.json", "{\n\"format\": \"inner-compass-case/1\",\n\"unit\": 3}")}, "line 3", false},
		{[]string{"trace", write("b.json", "{\n\"format\":")}, "line 2", false},
		{[]string{"trace", write("c.json", `{"format":"v9"}`)}, "inner-compass-case/1", false},
		{[]string{"trace", write("d.json", head+`{"finding":"nonsense","state":"x"}]}`)}, "no finding", false},
		{[]string{"trace", write("e.json", head+`{"finding":"fluid-level","state":"purple"}]}`)}, "ok, low, over", false},
		{[]string{"trace", write("f.json", head+`{"finding":"fluid-level","state":"low","colour":"red"}]}`)}, "unknown field", false},
		{[]string{"trace", write("g.json", head+`{"finding":"fluid-level","state":"low","range":"D3"}]}`)}, "road test finding", false},
		{[]string{"trace", write("h.json", head+`]} {}`)}, "something follows", false},
		{[]string{"trace", filepath.Join(dir, "none.json")}, "no such file", false},
		{[]string{"trace", dir}, "a folder", false},
		{[]string{"unit", "check", write("u.yaml", "format: inner-compass-unit/1\nid: Bad Id\n")}, "u.yaml:2: id", false},
		{[]string{"unit", "solve", "nothing"}, "norrad-h4", false},
		{[]string{"trace"}, "takes 1 argument", true},
		{[]string{"knowledge", "check", dir}, "no file trade/*.yaml", false},
		{[]string{"knowledge", "check", "/nowhere"}, "no such file", false},
		{[]string{"knowledge", "check", write("k.yaml", "causes: []\n")}, "a folder with trade", false},
		{[]string{"knowledge", "check", "a", "b"}, "one folder at most", true},
		{[]string{"bench", "diagnosis", "--cases", "0"}, "1 to 100000", true},
		{[]string{"bench", "diagnosis", "--policies", "guess"}, "value-per-minute", true},
		{[]string{"bench", "diagnosis", "--units", "nothing"}, "norrad-h4", true},
		{[]string{"fly"}, "unknown command", true},
		{[]string{"serve"}, "--data", true},
		{[]string{"version", "--colour"}, "unknown flag", true},
	} {
		_, err := runCLI(c.args...)
		var usage cli.UsageError
		if err == nil || !strings.Contains(err.Error(), c.want) || errors.As(err, &usage) != c.usage {
			t.Errorf("%v: %v, want %q, wrong use %v", c.args, err, c.want, c.usage)
		}
	}
}

// The bench prints what it measured, the same for the same seed.
func TestBenchOfTheDiagnosis(t *testing.T) {
	args := []string{"bench", "diagnosis", "--cases", "3", "--networks", "1", "--units", "norrad-d2", "--policies", "value-per-minute,cheapest", "--json"}
	first, err := runCLI(args...)
	if err != nil {
		t.Fatal(err)
	}
	if again, err := runCLI(args...); err != nil || again != first {
		t.Errorf("%v: another run of the same seed says something else", err)
	}
	for _, want := range []string{"as the knowledge says", "every strength a level off", "saving per minute", "cheapest first", "CalibrationError", "Reliability"} {
		if !strings.Contains(first, want) {
			t.Errorf("nothing of %q in\n%s", want, first)
		}
	}
	table, err := runCLI(args[:len(args)-1]...)
	if err != nil || !strings.Contains(table, "right first") || !strings.Contains(table, "With the truth known") || !strings.Contains(table, "±") {
		t.Errorf("%v\n%s", err, table)
	}
}

func TestKnowledgeCheckOfAFolder(t *testing.T) {
	out, err := runCLI("knowledge", "check", "../../knowledge")
	if err != nil || !strings.Contains(out, "compiled for 10 units") {
		t.Errorf("%v %s", err, out)
	}
}

// Instruments from the command line: alone, on a unit, with what is wrong named.
func TestCalc(t *testing.T) {
	text, err := runCLI("calc", "spring-weigh", "length1=1 in", "force1=2.5 lbf", "length2=0.5 in", "force2=5 lbf", "work=0.5 in")
	if err != nil || !strings.Contains(text, "0.88") { // 5 lbf/in is 0.876 N/mm
		t.Errorf("%v\n%s", err, text)
	}
	data, err := runCLI("calc", "window:end-play", "value=0.5 mm", "--unit", "norrad-h4", "--json")
	var r struct {
		Stated []struct{ Finding, State string }
	}
	if err != nil || json.Unmarshal([]byte(data), &r) != nil || len(r.Stated) != 1 || r.Stated[0].Finding != "end-play" || r.Stated[0].State != "ok" {
		t.Errorf("%v\n%s", err, data)
	}
	if text, err := runCLI("calc"); err != nil || len(strings.Split(text, "\n")) < 40 {
		t.Errorf("%v\n%s", err, text)
	}
	if text, err := runCLI("calc", "plate-capacity", "--unit", "norrad-h4"); err != nil || !strings.Contains(text, "plate-capacity:DC") {
		t.Errorf("%v\n%s", err, text)
	}
	for _, args := range [][]string{{"calc", "crystal-ball"}, {"calc", "orifice", "diameter=big"}, {"calc", "orifice", "diameter"}, {"calc", "orifice", "bore=3 mm"}, {"calc", "orifice", "--unit", "nothing"}} {
		if text, err := runCLI(args...); err == nil || !strings.Contains(err.Error(), "accepted") {
			t.Errorf("%v: %v %s", args, err, text)
		}
	}
}

// A record's file verifies as it was made, and not with a letter changed.
func TestRecordVerify(t *testing.T) {
	content := `{"format":"inner-compass-record/1","number":"c1-1","at":"2026-03-04T09:30:00Z","shop":"Shop","currency":"€","vehicle":"Van","unit":"u","unit_name":"U","unit_version":1,"knowledge":"k","limits":""}`
	digest := fmt.Sprintf("%x", sha256.Sum256([]byte(content)))
	write := func(text string) string {
		path := filepath.Join(t.TempDir(), "record.json")
		if err := os.WriteFile(path, []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
		return path
	}
	good := `{"digest":"` + digest + `","content":` + content + "}\n"
	if text, err := runCLI("record", "verify", write(good)); err != nil || !strings.Contains(text, "Whole") || !strings.Contains(text, "c1-1") {
		t.Errorf("%v %s", err, text)
	}
	if _, err := runCLI("record", "verify", write(strings.Replace(good, "Van", "Bus", 1))); err == nil || !strings.Contains(err.Error(), "Not genuine") {
		t.Errorf("an altered record: %v", err)
	}
	if _, err := runCLI("record", "verify", write("hello")); err == nil {
		t.Error("no record at all is taken")
	}
	if _, err := runCLI("record", "verify", write(good), "--data", filepath.Join(t.TempDir(), "nowhere")); err == nil {
		t.Error("a data folder that there is not was made")
	}
	var usage cli.UsageError
	if _, err := runCLI("record", "verify"); !errors.As(err, &usage) {
		t.Errorf("%v", err)
	}
}
