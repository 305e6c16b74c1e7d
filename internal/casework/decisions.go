package casework

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"time"

	"innercompass/core/decide"
	"innercompass/core/knowledge"
)

// Snapshot is everything that a decision, or an estimate, rested on. It is kept as JSON, and its digest proves that it was not
// changed; fields are only ever added. Amounts named in minor units are hundredths of the currency.
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

	How       string             `json:"how,omitempty"`  // in-person, phone, signed or link
	Name      string             `json:"name,omitempty"` // who decided
	Signature string             `json:"signature,omitempty"`
	Estimate  string             `json:"estimate,omitempty"`
	AddOns    []SnapshotAddOn    `json:"add_ons,omitempty"`
	Advised   string             `json:"advised,omitempty"` // id of the option that stood first
	Bill      *SnapshotOption    `json:"bill,omitempty"`    // the option chosen with its add-ons
	TaxRate   float64            `json:"tax_rate,omitempty"`
	Warranty  string             `json:"warranty,omitempty"`
	Watch     *SnapshotWatch     `json:"watch,omitempty"`
	Set       map[string]float64 `json:"set,omitempty"`     // prices and times set for this estimate alone
	Numbers   string             `json:"numbers,omitempty"` // how numbers are written, by a sample
	Zone      string             `json:"zone,omitempty"`    // of the shop's days
}

// SnapshotAddOn is an option that was done in the same visit.
type SnapshotAddOn struct {
	ID    string `json:"id"`
	Title string `json:"title"`
}

// SnapshotWatch is what leaving it alone would mean.
type SnapshotWatch struct {
	IntervalKm float64        `json:"interval_km"`
	Hazard     string         `json:"hazard,omitempty"`
	Next       []SnapshotNext `json:"next"`
}

// SnapshotNext is a damage that would come about.
type SnapshotNext struct {
	Title       string  `json:"title"`
	By          string  `json:"by"`
	Probability float64 `json:"probability"`
	Cost        int64   `json:"cost_minor"`
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
	ID       string         `json:"id"`
	Title    string         `json:"title"`
	Labour   float64        `json:"labour"`
	Parts    float64        `json:"parts"`
	Fluid    float64        `json:"fluid"`
	Sure     float64        `json:"pay_now"`
	Cured    float64        `json:"cured"`
	Return   float64        `json:"expected_return"`
	Expected float64        `json:"expected_total"`
	Quality  string         `json:"quality,omitempty"`
	Lines    []SnapshotLine `json:"lines,omitempty"`
	Net      int64          `json:"net_minor,omitempty"`
	Tax      int64          `json:"tax_minor,omitempty"`
	Pay      int64          `json:"pay_minor,omitempty"`
	Missing  []string       `json:"missing,omitempty"`
	Hazard   string         `json:"hazard,omitempty"`
}

// SnapshotLine is one line of an estimate.
type SnapshotLine struct {
	Title   string  `json:"title"`
	Kind    string  `json:"kind"`
	Count   float64 `json:"count"`
	Per     string  `json:"per,omitempty"`
	Each    int64   `json:"each_minor"`
	Total   int64   `json:"total_minor"`
	From    string  `json:"from"`
	Quality string  `json:"quality,omitempty"`
}

// SnapshotFormat names the form of a snapshot.
const SnapshotFormat = "inner-compass-decision/2"

// Hows are the ways in which a customer may answer: what was signed or came by the link names who.
var Hows = []string{"in-person", "phone", "signed", "link"}

// NewDecision is what the customer chose or declined, as it is recorded.
type NewDecision struct {
	Option, Choice, Words, Ceiling, By string
	How, Name, Signature               string
	AddOns                             []string
	Choices                            decide.Choices
	estimate                           string // that it answers
}

// mostSignature bounds a signature: some hundred strokes.
const mostSignature = 40000

// strokes are what a signature is made of: moves and lines on a whole-number grid.
var strokes = regexp.MustCompile(`^(M[0-9]{1,4} [0-9]{1,4}(L[0-9]{1,4} [0-9]{1,4})*)*$`)

func (d NewDecision) check() error {
	if d.Choice != "accepted" && d.Choice != "declined" {
		return &FieldError{"choice", fmt.Sprintf("%q", d.Choice), "accepted, declined"}
	}
	if d.How != "" && !slices.Contains(Hows, d.How) {
		return &FieldError{"how", fmt.Sprintf("%q", d.How), strings.Join(Hows, ", ")}
	}
	for field, text := range map[string]string{"words": d.Words, "ceiling": d.Ceiling, "by": d.By, "name": d.Name} {
		if err := checkText(field, text, maxWords, (field == "name") && (d.How == "signed" || d.How == "link")); err != nil {
			return err
		}
	}
	if len(d.Signature) > mostSignature || !strokes.MatchString(d.Signature) {
		return &FieldError{"signature", "not a drawing of strokes", "moves and lines such as M10 20L30 40"}
	}
	if d.How == "signed" && d.Signature == "" {
		return &FieldError{"signature", "empty", "the signature, when it is signed on the screen"}
	}
	return priced(d.Choices)
}

// priced refuses figures that are for looking only: an estimate may be given another price or time, not another chance.
func priced(ch decide.Choices) error {
	for id := range ch.Set {
		if kind, _, _ := strings.Cut(id, ":"); kind != "price" && kind != "time" {
			return &FieldError{"set." + id, "a figure that is not the customer's", "price:ITEM|QUALITY or time:ITEM"}
		}
	}
	return nil
}

// Decide freezes what the customer chose or declined, with everything it rested on.
func (s *Service) Decide(ctx context.Context, id string, g Guard, d NewDecision) (View, error) {
	return s.settled(ctx, id, g, "decide", d, func(st Standing) (func(Held) (Changes, error), error) {
		if err := open(st.Case); err != nil {
			return nil, err
		}
		if err := d.check(); err != nil {
			return nil, err
		}
		var err error
		if d.Choices.Ceiling, err = st.Settings.Ceiling(d.Ceiling); err != nil {
			return nil, err
		}
		snap, o, err := s.snapshot(ctx, st, d.Choices)
		if err != nil {
			return nil, err
		}
		if err := snap.answer(d, o.model); err != nil {
			return nil, err
		}
		made, err := frozen(d, snap)
		return func(Held) (Changes, error) { return Changes{Decision: &made}, nil }, err
	})
}

// frozen is an answered snapshot as a decision.
func frozen(d NewDecision, snap Snapshot) (Decision, error) {
	data, digest, err := encodeWithDigest(snap)
	return Decision{ID: newID("d"), Option: d.Option, Estimate: d.estimate, Choice: d.Choice, Words: d.Words, Ceiling: d.Ceiling, By: d.By, At: snap.At, Snapshot: data, Digest: digest}, err
}

// encodeWithDigest is a value as JSON with its digest.
func encodeWithDigest(v any) (data []byte, digest string, err error) {
	if data, err = json.Marshal(v); err != nil {
		return nil, "", err
	}
	sum := sha256.Sum256(data)
	return data, hex.EncodeToString(sum[:]), nil
}

// answer puts the customer's answer into a snapshot of what was offered. m prices the option with its add-ons anew; nil
// when the estimate is answered as it stands, without any.
func (snap *Snapshot) answer(d NewDecision, m *decide.Model) error {
	chosen := slices.IndexFunc(snap.Options, func(o SnapshotOption) bool { return o.ID == d.Option })
	if chosen < 0 {
		var ids []string
		for _, o := range snap.Options {
			ids = append(ids, o.ID)
		}
		return &FieldError{"option", fmt.Sprintf("%q is not offered", d.Option), fmt.Sprint(ids)}
	}
	if d.Choice == "accepted" && snap.Options[chosen].Hazard != "" && d.Words == "" && d.How == "" {
		return &FieldError{"option", "it leaves a hazard: " + snap.Options[chosen].Hazard, "the customer's words that it was explained, with how and by whom it was decided"}
	}
	snap.Chosen, snap.Choice, snap.Said, snap.Ceiling, snap.By = d.Option, d.Choice, d.Words, d.Ceiling, d.By
	snap.How, snap.Name, snap.Signature, snap.Estimate = d.How, d.Name, d.Signature, d.estimate
	bill := snap.Options[chosen]
	if len(d.AddOns) > 0 {
		if m == nil || d.Choice != "accepted" {
			return &FieldError{"addOns", "nothing can be added to this", "an accepted option"}
		}
		row, err := m.Visit(d.Option, d.AddOns, d.Choices)
		if err != nil {
			return asField(err)
		}
		bill = snapshotOption(row)
		for _, id := range d.AddOns {
			snap.AddOns = append(snap.AddOns, SnapshotAddOn{id, m.Title(id)})
		}
	}
	if d.Choice == "accepted" && len(bill.Missing) > 0 {
		return &FieldError{"option", "without a price: " + strings.Join(bill.Missing, ", "), "an option that is priced in full: set the price in the price book or in the estimate"}
	}
	snap.Bill = &bill
	return nil
}

// offer is what can be put before the customer now, and the model to price it further.
type offer struct {
	network *knowledge.Network
	model   *decide.Model
	ranking *assessment
	compare decide.Comparison
}

func (s *Service) offer(ctx context.Context, at Standing, ch decide.Choices) (offer, error) {
	var out offer
	var err error
	if out.network, err = s.network(ctx, at.Case); err != nil {
		return out, err
	}
	if out.model, out.ranking, err = s.model(ctx, at, out.network, true); err != nil {
		return out, err
	}
	out.compare, err = out.model.Compare(ch)
	return out, asField(err)
}

// snapshot is everything that an estimate of now rests on, not answered yet.
func (s *Service) snapshot(ctx context.Context, at Standing, ch decide.Choices) (Snapshot, offer, error) {
	c, st := at.Case, at.Settings
	readings := c.Valid()
	o, err := s.offer(ctx, at, ch)
	if err != nil {
		return Snapshot{}, o, err
	}
	n, ranking, cmp := o.network, o.ranking, o.compare
	weights, err := ranking.weighed()
	if err != nil {
		return Snapshot{}, o, err
	}
	chain, err := ranking.Chain(ranking.Suspects[0].Cause.ID)
	if err != nil {
		return Snapshot{}, o, err
	}
	turns, err := o.model.BreakEvens(cmp.Rows, ch)
	if err != nil {
		return Snapshot{}, o, asField(err)
	}
	out := Snapshot{Format: SnapshotFormat, At: s.Now(), Shop: st.Shop, Currency: st.Currency, Words: c.Words, Vehicle: c.Vehicle, Customer: c.Customer, Distance: st.Style().Localise(c.Distance), Numbers: st.Numbers, Zone: st.Zone, Unit: c.UnitID,
		UnitName: n.Unit.Sheet.Name, UnitVer: c.UnitVer, Knowledge: n.Version, Access: c.Access, Chain: chain.Sentences(), Limits: limits,
		TaxRate: st.Tax, Warranty: st.Warranty, Watch: snapshotWatch(cmp.Watch), Set: ch.Set}
	for i, r := range readings {
		f, _ := n.Finding(r.Finding)
		out.Readings = append(out.Readings, SnapshotReading{r.Finding, f.Title, r.State, f.StateTitle(r.State), r.Value, r.Source, r.By, r.At, weights.Suspects[0][i]})
	}
	for _, x := range ranking.Suspects[:min(shownSuspects, len(ranking.Suspects))] {
		out.Suspects = append(out.Suspects, SnapshotSuspect{x.Cause.ID, x.Cause.Title, x.Probability})
	}
	for _, r := range cmp.Rows {
		out.Options = append(out.Options, snapshotOption(r))
	}
	if len(cmp.Rows) > 0 && cmp.Rows[0].Settled() {
		out.Advised = cmp.Rows[0].Option.ID
		out.BreakEven = Rates(st).Sentence(turns, cmp.Rows[0].Option.Title)
	}
	return out, o, nil
}

func snapshotOption(r decide.Row) SnapshotOption {
	out := SnapshotOption{ID: r.Option.ID, Title: r.Option.Title, Labour: r.Labour().Major(), Parts: r.Parts().Major(), Fluid: r.Fluid().Major(), Sure: r.Pay.Major(), Cured: r.Cured,
		Return: r.Return.Major(), Expected: r.Expected.Major(), Quality: r.Quality, Net: int64(r.Net), Tax: int64(r.Tax), Pay: int64(r.Pay), Missing: r.Missing, Hazard: r.Hazard}
	for _, l := range r.Lines {
		out.Lines = append(out.Lines, SnapshotLine{l.Title, l.Kind, l.Count, l.Per, int64(l.Each), int64(l.Total), string(l.From), l.Quality})
	}
	return out
}

func snapshotWatch(w decide.Deferral) *SnapshotWatch {
	out := &SnapshotWatch{IntervalKm: w.Interval / 1e3, Hazard: w.Hazard}
	for _, x := range w.Next {
		out.Next = append(out.Next, SnapshotNext{x.Title, x.By, x.Probability, int64(x.Cost)})
	}
	return out
}

func (v *View) decisions() {
	for _, d := range v.Case.Decisions {
		dv := DecisionView{ID: d.ID, Option: d.Option, Estimate: d.Estimate, Choice: d.Choice, Words: d.Words, Ceiling: d.Ceiling, By: d.By, At: d.At, Digest: d.Digest}
		var snap Snapshot
		if err := json.Unmarshal(d.Snapshot, &snap); err == nil {
			dv.How, dv.Name = snap.How, snap.Name
			for _, a := range snap.AddOns {
				dv.AddOns = append(dv.AddOns, a.Title)
			}
			for _, o := range snap.Options {
				if o.ID == d.Option {
					dv.Title, dv.Sure = o.Title, o.Sure
				}
			}
			if snap.Bill != nil {
				dv.Sure = snap.Bill.Sure
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
	snap, err := decodeWithDigest[Snapshot](d.Snapshot, d.Digest, "decision "+decision)
	return snap, d.Digest, err
}

// decodeWithDigest reads what was sealed, after comparing its digest.
func decodeWithDigest[T any](data []byte, digest, what string) (T, error) {
	var out T
	if sum := sha256.Sum256(data); hex.EncodeToString(sum[:]) != digest {
		return out, fmt.Errorf("%s does not match its digest: the data folder was changed from outside", what)
	}
	return out, json.Unmarshal(data, &out)
}

// fingerprint is the digest of what an estimate rests on: what leads, and what each option costs and leaves. A reading that changes
// neither leaves an estimate as it is.
func (o offer) fingerprint() string {
	h := sha256.New()
	if len(o.ranking.Suspects) > 0 {
		fmt.Fprintf(h, "%q\n", o.ranking.Suspects[0].Cause.ID)
	}
	rows := slices.SortedFunc(slices.Values(o.compare.Rows), func(a, b decide.Row) int { return strings.Compare(a.Option.ID, b.Option.ID) })
	for _, r := range rows {
		fmt.Fprintf(h, "%q %q %d %q %v\n", r.Option.ID, r.Quality, r.Pay, r.Missing, r.Hazard != "")
	}
	return hex.EncodeToString(h.Sum(nil))
}
