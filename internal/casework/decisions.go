package casework

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"innercompass/core/decide"
	"innercompass/core/diagnose"
)

// Options compares the repair options of a case from where the vehicle stands.
func (s *Service) Options(ctx context.Context, id string) (decide.Comparison, error) {
	c, n, err := s.load(ctx, id)
	if err != nil {
		return decide.Comparison{}, err
	}
	st, err := s.Store.Settings(ctx)
	if err != nil {
		return decide.Comparison{}, err
	}
	a, err := s.assess(ctx, n, c.situation(c.Valid()), true)
	if err != nil {
		return decide.Comparison{}, err
	}
	return decide.Compare(n, a.Assessment, c.stand(n, s.Now()).Access, rates(st)), nil
}

// Snapshot is everything that a decision rested on. It is kept as JSON, and its digest proves that it
// was not changed; fields are only ever added.
type Snapshot struct {
	Format    string            `json:"format"`
	At        time.Time         `json:"at"`
	Shop      string            `json:"shop"`
	Currency  string            `json:"currency"`
	Words     string            `json:"words"`
	Vehicle   string            `json:"vehicle"`
	Customer  string            `json:"customer"`
	Distance  string            `json:"distance"`
	Unit      string            `json:"unit"`
	UnitName  string            `json:"unit_name"`
	UnitVer   int               `json:"unit_version"`
	Knowledge string            `json:"knowledge"`
	Access    string            `json:"access"`
	Readings  []SnapshotReading `json:"readings"`
	Suspects  []SnapshotSuspect `json:"suspects"`
	Chain     []string          `json:"chain"`
	Options   []SnapshotOption  `json:"options"`
	BreakEven string            `json:"break_even"`
	Chosen    string            `json:"chosen"`
	Choice    string            `json:"choice"`
	Said      string            `json:"customer_said"`
	Ceiling   string            `json:"ceiling"`
	By        string            `json:"by"`
	Limits    string            `json:"limits"`
}

// SnapshotReading is a reading as it stood.
type SnapshotReading struct {
	Finding string    `json:"finding"`
	Title   string    `json:"title"`
	State   string    `json:"state"`
	Words   string    `json:"words"`
	Value   string    `json:"value,omitempty"`
	Source  string    `json:"source"`
	By      string    `json:"by,omitempty"`
	At      time.Time `json:"at"`
	Weight  float64   `json:"weight_db"`
}

// SnapshotSuspect is a suspect as it stood.
type SnapshotSuspect struct {
	Cause       string  `json:"cause"`
	Title       string  `json:"title"`
	Probability float64 `json:"probability"`
}

// SnapshotOption is an option as it was offered.
type SnapshotOption struct {
	ID       string  `json:"id"`
	Title    string  `json:"title"`
	Labour   float64 `json:"labour"`
	Parts    float64 `json:"parts"`
	Fluid    float64 `json:"fluid"`
	Sure     float64 `json:"pay_now"`
	Cured    float64 `json:"cured"`
	Return   float64 `json:"expected_return"`
	Expected float64 `json:"expected_total"`
}

// SnapshotFormat names the form of a snapshot.
const SnapshotFormat = "inner-compass-decision/1"

// Decide freezes what the customer chose or declined, with everything it rested on. key is that of the page,
// "" when it does not repeat itself.
func (s *Service) Decide(ctx context.Context, id, key string, d Decision) (View, error) {
	c, n, err := s.load(ctx, id)
	if err != nil {
		return View{}, err
	}
	if slices.ContainsFunc(c.Decisions, func(o Decision) bool { return key != "" && o.ID == "d"+key }) {
		return s.View(ctx, id) // sent again after a lost answer
	}
	if err := open(c); err != nil {
		return View{}, err
	}
	if d.Choice != "accepted" && d.Choice != "declined" {
		return View{}, &FieldError{"choice", fmt.Sprintf("%q", d.Choice), "accepted, declined"}
	}
	for field, text := range map[string]string{"words": d.Words, "ceiling": d.Ceiling, "by": d.By} {
		if err := checkText(field, text, maxWords, false); err != nil {
			return View{}, err
		}
	}
	st, err := s.Store.Settings(ctx)
	if err != nil {
		return View{}, err
	}
	snap, err := s.snapshot(ctx, c, n, st, d)
	if err != nil {
		return View{}, err
	}
	data, err := json.Marshal(snap)
	if err != nil {
		return View{}, err
	}
	sum := sha256.Sum256(data)
	d.ID, d.At, d.Snapshot, d.Digest = keyedID("d", key), snap.At, data, hex.EncodeToString(sum[:])
	if err := s.Store.AddDecision(ctx, id, d); err != nil {
		return View{}, err
	}
	return s.changed(ctx, id)
}

func (s *Service) snapshot(ctx context.Context, c Case, n *diagnose.Network, st Settings, d Decision) (Snapshot, error) {
	readings := c.Valid()
	ranking, err := s.assess(ctx, n, c.situation(readings), true)
	if err != nil {
		return Snapshot{}, err
	}
	weights, err := ranking.weighed()
	if err != nil {
		return Snapshot{}, err
	}
	chain, err := ranking.Chain(ranking.Suspects[0].Cause.ID)
	if err != nil {
		return Snapshot{}, err
	}
	cmp := decide.Compare(n, ranking.Assessment, c.stand(n, s.Now()).Access, rates(st))
	if _, ok := cmp.Find(d.Option); !ok {
		var ids []string
		for _, r := range cmp.Rows {
			ids = append(ids, r.Option.ID)
		}
		return Snapshot{}, &FieldError{"option", fmt.Sprintf("%q is not offered", d.Option), fmt.Sprint(ids)}
	}
	out := Snapshot{Format: SnapshotFormat, At: s.Now(), Shop: st.Shop, Currency: st.Currency, Words: c.Words, Vehicle: c.Vehicle, Customer: c.Customer, Distance: c.Distance, Unit: c.UnitID,
		UnitName: n.Unit.Sheet.Name, UnitVer: c.UnitVer, Knowledge: n.Version, Access: c.Access, BreakEven: cmp.BreakEven.Sentence, Chosen: d.Option, Choice: d.Choice, Said: d.Words,
		Ceiling: d.Ceiling, By: d.By, Chain: chain.Sentences(), Limits: limits}
	for i, r := range readings {
		f, _ := n.Finding(r.Finding)
		out.Readings = append(out.Readings, SnapshotReading{r.Finding, f.Title, r.State, f.StateTitle(r.State), r.Value, r.Source, r.By, r.At, weights.Suspects[0][i]})
	}
	for _, x := range ranking.Suspects[:min(shownSuspects, len(ranking.Suspects))] {
		out.Suspects = append(out.Suspects, SnapshotSuspect{x.Cause.ID, x.Cause.Title, x.Probability})
	}
	for _, r := range cmp.Rows {
		out.Options = append(out.Options, SnapshotOption{r.Option.ID, r.Option.Title, r.Labour, r.Parts, r.Fluid, r.Sure, r.Cured, r.Return, r.Expected})
	}
	return out, nil
}

func (v *View) decisions(n *diagnose.Network) {
	for _, d := range v.Case.Decisions {
		dv := DecisionView{ID: d.ID, Option: d.Option, Choice: d.Choice, Words: d.Words, Ceiling: d.Ceiling, By: d.By, At: d.At, Digest: d.Digest}
		var snap Snapshot
		if err := json.Unmarshal(d.Snapshot, &snap); err == nil {
			for _, o := range snap.Options {
				if o.ID == d.Option {
					dv.Title, dv.Sure = o.Title, o.Sure
				}
			}
			if len(snap.Suspects) > 0 {
				dv.Root, dv.RootShare = snap.Suspects[0].Title, snap.Suspects[0].Probability
			}
		}
		v.Decisions = append(v.Decisions, dv)
	}
}

// DecisionSnapshot returns the frozen snapshot of a decision, after comparing its digest.
func (s *Service) DecisionSnapshot(ctx context.Context, caseID, decision string) (Snapshot, string, error) {
	c, err := s.Store.Case(ctx, caseID)
	if err != nil {
		return Snapshot{}, "", err
	}
	i := slices.IndexFunc(c.Decisions, func(d Decision) bool { return d.ID == decision })
	if i < 0 {
		return Snapshot{}, "", &NotFoundError{Kind: "decision", ID: decision}
	}
	d := c.Decisions[i]
	if sum := sha256.Sum256(d.Snapshot); hex.EncodeToString(sum[:]) != d.Digest {
		return Snapshot{}, "", fmt.Errorf("decision %s does not match its digest: the data folder was changed from outside", decision)
	}
	var snap Snapshot
	return snap, d.Digest, json.Unmarshal(d.Snapshot, &snap)
}

// FloorItem is one row of the Floor.
type FloorItem struct {
	Case     Case
	UnitName string
	Rose     Rose
	Next     string // what to do next, or who is waited for
	NextNote string
	Suspect  string
	Share    float64
}

// Floor lists the cases, open ones first, newest first.
func (s *Service) Floor(ctx context.Context) ([]FloorItem, error) {
	cases, err := s.Store.Cases(ctx)
	if err != nil {
		return nil, err
	}
	st, err := s.Store.Settings(ctx)
	if err != nil {
		return nil, err
	}
	var out []FloorItem
	for _, c := range cases {
		n, err := s.network(ctx, c)
		if err != nil {
			return nil, err
		}
		a, err := s.assess(ctx, n, c.situation(c.Valid()), false)
		if err != nil {
			return nil, fmt.Errorf("case %s: %w", c.ID, err)
		}
		out = append(out, floorItem(n, c, st, a.Assessment, s.Now()))
	}
	slices.SortStableFunc(out, func(a, b FloorItem) int {
		switch {
		case a.Case.Closed == nil && b.Case.Closed != nil:
			return -1
		case a.Case.Closed != nil && b.Case.Closed == nil:
			return 1
		}
		return 0
	})
	return out, nil
}

func floorItem(n *diagnose.Network, c Case, st Settings, ranking *diagnose.Assessment, now time.Time) FloorItem {
	item := FloorItem{Case: c, UnitName: n.Unit.Sheet.Name, Rose: rose(ranking), Suspect: ranking.Suspects[0].Cause.Title, Share: ranking.Suspects[0].Probability}
	switch {
	case c.Closed != nil:
		item.Next = map[string]string{"cured": "Closed, proven", "not-cured": "Closed, not cured", "declined": "Closed, declined", "no-fault": "Closed, no fault found"}[c.Outcome]
		if root, ok := n.Cause(c.Root); ok {
			item.NextNote = root.Title
		}
	case c.WaitsFor != "":
		item.Next, item.NextNote = "Waits for "+c.WaitsFor, ""
	default:
		h := ranking.Next(c.stand(n, now), Economics(st))
		item.Next, item.NextNote = "Decide", h.Stop
		if len(h.Best) > 0 {
			item.Next, item.NextNote = h.Best[0].Check.Title, fmt.Sprintf("%.0f min · %s", h.Best[0].Minutes+h.Best[0].Climb, h.Best[0].Check.Tells)
		}
	}
	return item
}
