package record

import (
	"bytes"
	"strings"
	"testing"
	"time"

	"innercompass/internal/casework"
)

func snapshot() casework.Snapshot {
	return casework.Snapshot{At: time.Date(2026, 3, 4, 9, 30, 0, 0, time.UTC), Shop: "Shop", Currency: "€", Words: "It <slips>", Vehicle: "Van & trailer", UnitName: "Unit", Access: "lifted",
		Readings: []casework.SnapshotReading{{Title: "Fluid level", Words: "low", Value: "−4 mm", Source: "measured", By: "Ines", Weight: -3.25}},
		Suspects: []casework.SnapshotSuspect{{Title: "Fluid low", Probability: 0.9999}, {Title: "Pump worn", Probability: 0.0001}},
		Options:  []casework.SnapshotOption{{ID: "a", Title: "Set the level", Labour: 1234.4, Sure: 1250, Cured: 0.97, Expected: 1300}, {ID: "b", Title: "Watch", Sure: 42}},
		Chosen:   "a", Choice: "accepted", Said: "Please", Ceiling: "€ 1,500", Limits: "One cause at a time.", BreakEven: "It would have to cost more."}
}

func html(t *testing.T, s casework.Snapshot) string {
	t.Helper()
	var b bytes.Buffer
	if err := HTML(&b, s, "abc123"); err != nil {
		t.Fatal(err)
	}
	return b.String()
}

func TestTheRecordSaysWhatWasFoundOfferedAndChosen(t *testing.T) {
	page := html(t, snapshot())
	for _, want := range []string{"It &lt;slips&gt;", "Van &amp; trailer", "Agreed: Set the level", "€\u00a01,250", "€\u00a01,234", "measured, Ines", "−3.2", "4 March 2026", "abc123", "One cause at a time.", "Please", "€ 1,500"} {
		if !strings.Contains(page, want) {
			t.Errorf("the record lacks %q", want)
		}
	}
	if strings.Contains(page, "<slips>") || strings.Contains(page, "<script") {
		t.Error("the customer's words became markup")
	}
}

// What is not certain is never printed as certain.
func TestDoubtIsNotRoundedAway(t *testing.T) {
	page := html(t, snapshot())
	if strings.Contains(page, "100\u00a0%") || !strings.Contains(page, "over 99\u00a0%") || !strings.Contains(page, "under 1\u00a0%") {
		t.Error("a probability was rounded to certainty")
	}
	for p, want := range map[float64]string{0: "0\u00a0%", 1: "100\u00a0%", 0.5: "50\u00a0%", 0.996: "over 99\u00a0%", 0.004: "under 1\u00a0%"} {
		if got := percent(p); got != want {
			t.Errorf("%v: %s, want %s", p, got, want)
		}
	}
}

func TestADeclinedChoiceSaysSo(t *testing.T) {
	s := snapshot()
	s.Choice = "declined"
	if page := html(t, s); !strings.Contains(page, "Declined: Set the level") || strings.Contains(page, "Agreed") {
		t.Error("a declined option is not shown as declined")
	}
}
