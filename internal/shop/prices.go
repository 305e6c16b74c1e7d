package shop

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/csv"
	"encoding/hex"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"innercompass/core/knowledge"
	"innercompass/core/money"
	"innercompass/core/pricebook"
	"innercompass/internal/problem"
)

// Price and Book are the entries of the price book; Amount is money in minor units.
type (
	Price  = pricebook.Price
	Book   = pricebook.Book
	Amount = money.Amount
)

// maxPrices is more than any shop lists.
const maxPrices = 5000

// PriceBook is the shop's prices with the revision that a change must name.
type PriceBook struct {
	Prices Book
	Rev    string
}

// Prices returns the price book, by unit, item and quality.
func (s *Service) Prices(ctx context.Context) (PriceBook, error) {
	b, err := s.Store.Prices(ctx)
	if err != nil {
		return PriceBook{}, err
	}
	return PriceBook{b, bookRev(b)}, nil
}

// bookRev changes with every entry, so that two people who edit the book at once do not overwrite each other.
func bookRev(b Book) string {
	h := sha256.New()
	for _, p := range b {
		fmt.Fprintf(h, "%q %q %q %d %g %q\n", p.Unit, p.Item, p.Quality, p.Amount, p.Hours, p.Note)
	}
	return hex.EncodeToString(h.Sum(nil))[:16]
}

// SavePrices replaces the price book if it is still the one of the revision.
func (s *Service) SavePrices(ctx context.Context, b Book, rev string) (PriceBook, error) {
	if err := s.checkPrices(ctx, b, func(i int) string { return fmt.Sprintf("prices[%d].", i) }); err != nil {
		return PriceBook{}, err
	}
	sortBook(b)
	if err := s.Store.SavePrices(ctx, b, func(now Book) error {
		if bookRev(now) != rev {
			return problem.ErrChanged
		}
		return nil
	}); err != nil {
		return PriceBook{}, err
	}
	s.Tell("prices", 0)
	return s.Prices(ctx)
}

func sortBook(b Book) {
	slices.SortFunc(b, func(a, c Price) int {
		return strings.Compare(a.Unit+"\x00"+a.Item+"\x00"+a.Quality, c.Unit+"\x00"+c.Item+"\x00"+c.Quality)
	})
}

// checkPrices names the first entry that is wrong; at gives the path of entry i.
func (s *Service) checkPrices(ctx context.Context, b Book, at func(i int) string) error {
	if len(b) > maxPrices {
		return problem.Field("prices", fmt.Sprintf("%d entries", len(b)), fmt.Sprintf("at most %d", maxPrices))
	}
	options, err := s.priceable(ctx)
	if err != nil {
		return err
	}
	seen := map[[3]string]bool{}
	for i, p := range b {
		var pe *pricebook.PriceError
		if err := p.Check(); errors.As(err, &pe) {
			return problem.Field(at(i)+pe.Field, pe.Reason, pe.Accepted)
		}
		if err := problem.CheckText(at(i)+"note", p.Note, problem.MaxShort, false); err != nil {
			return err
		}
		if known, ok := options[p.Unit]; !ok {
			return problem.Field(at(i)+"unit", fmt.Sprintf("no unit %q", p.Unit), "*, "+strings.Join(s.Library.UnitIDs(ctx), ", "))
		} else if kind, of, _ := strings.Cut(p.Item, ":"); of != "" && kind != "access" && !known[named(kind, of)] && !(kind == "machine" && known["part:"+of]) {
			if kind == "part" || kind == "kit" {
				return problem.Field(at(i)+"item", fmt.Sprintf("no %s %q on %s", kind, of, p.Unit), "the id of a part or kit of the unit's stack; for all units the kind of a part, such as gasket")
			}
			return problem.Field(at(i)+"item", fmt.Sprintf("no option %q on %s", of, p.Unit), "the id of an option of the unit, or its beginning before the dot for all elements")
		}
		key := [3]string{p.Unit, p.Item, p.Quality}
		if seen[key] {
			return problem.Field(at(i)+"item", p.Item+" is there twice for this unit and quality", "each once")
		}
		seen[key] = true
	}
	return nil
}

// named is what priceable lists an item's aim under.
func named(kind, of string) string {
	switch kind {
	case "part":
		id, _, _ := strings.Cut(of, ".") // an upgrade of a part follows its dot
		return "part:" + id
	case "kit":
		return "kit:" + of
	}
	return of
}

// priceable are the options that a price may be for, by unit; * has those of all.
func (s *Service) priceable(ctx context.Context) (map[string]map[string]bool, error) {
	out := map[string]map[string]bool{"*": {}}
	for _, id := range s.Library.UnitIDs(ctx) {
		n, err := s.Library.Find(ctx, id, 0)
		if err != nil {
			return nil, err
		}
		out[id] = map[string]bool{}
		for _, o := range n.Options {
			family, _, _ := strings.Cut(o.ID, ".")
			for _, name := range []string{o.ID, family} {
				out[id][name], out["*"][name] = true, true
			}
		}
		if st := n.Unit.Stack; st != nil {
			for _, p := range st.Parts[1:] {
				out[id]["part:"+p.ID], out["*"]["part:"+p.Kind] = true, true
			}
			for _, k := range st.Sheet.Kits {
				out[id]["kit:"+k.ID] = true
			}
		}
	}
	return out, nil
}

// priceHeads are the columns of the price book as a table.
var priceHeads = []string{"unit", "item", "quality", "price", "hours", "note"}

// PricesCSV writes the price book as a table, for a spreadsheet.
func (s *Service) PricesCSV(ctx context.Context) ([]byte, error) {
	book, err := s.Prices(ctx)
	if err != nil {
		return nil, err
	}
	st, err := s.Store.Settings(ctx)
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	rows := [][]string{priceHeads}
	for _, p := range book.Prices {
		row := []string{p.Unit, p.Item, p.Quality, "", "", safeCell(p.Note)}
		if p.Timed() {
			row[4] = st.Style().Write(strconv.FormatFloat(p.Hours, 'f', -1, 64))
		} else {
			row[3] = p.Amount.In(st.Style(), "")
		}
		rows = append(rows, row)
	}
	if err := w.WriteAll(rows); err != nil {
		return nil, err
	}
	return b.Bytes(), nil
}

// safeCell keeps a spreadsheet from taking a text for a formula: what begins like one is written with an apostrophe before,
// which the spreadsheet hides and reading takes off again.
func safeCell(text string) string {
	if text != "" && strings.ContainsRune("=+-@\t\r", rune(text[0])) {
		return "'" + text
	}
	return text
}

// ImportPrices reads a table and puts it over the price book: entries of the same unit, item and quality are replaced, the
// others stay. All rows or none; an error names row and column.
func (s *Service) ImportPrices(ctx context.Context, text string) (PriceBook, error) {
	st, err := s.Store.Settings(ctx)
	if err != nil {
		return PriceBook{}, err
	}
	rows, err := priceRows(st, text)
	if err != nil {
		return PriceBook{}, err
	}
	if err := s.checkPrices(ctx, rows, func(i int) string { return fmt.Sprintf("row %d, ", i+1) }); err != nil {
		return PriceBook{}, err
	}
	now, err := s.Prices(ctx)
	if err != nil {
		return PriceBook{}, err
	}
	merged := slices.DeleteFunc(slices.Clone(now.Prices), func(p Price) bool {
		return slices.ContainsFunc(rows, func(r Price) bool {
			return r.Unit == p.Unit && r.Item == p.Item && r.Quality == p.Quality
		})
	})
	return s.SavePrices(ctx, append(merged, rows...), now.Rev)
}

// priceRows reads the table: heads in any order, numbers as the shop writes them, separated by commas, semicolons or tabs.
func priceRows(st Settings, text string) (Book, error) {
	text = strings.TrimPrefix(text, "\ufeff")
	first, _, _ := strings.Cut(text, "\n")
	separator := ','
	for _, x := range []rune{';', '\t'} {
		if strings.Count(first, string(x)) > strings.Count(first, string(separator)) {
			separator = x
		}
	}
	r := csv.NewReader(strings.NewReader(text))
	r.Comma, r.FieldsPerRecord, r.TrimLeadingSpace = separator, -1, true
	records, err := r.ReadAll()
	if err != nil {
		return nil, problem.Field("text", "not a table: "+err.Error(), "rows separated by commas, semicolons or tabs, with the heads "+strings.Join(priceHeads, ", "))
	}
	if len(records) < 2 {
		return nil, problem.Field("text", "no prices under the heads", "a row of heads ("+strings.Join(priceHeads, ", ")+") and at least one price")
	}
	at := map[string]int{}
	for i, h := range records[0] {
		h = strings.ToLower(strings.TrimSpace(h))
		if !slices.Contains(priceHeads, h) {
			return nil, problem.Field("text", fmt.Sprintf("column %q", h), strings.Join(priceHeads, ", "))
		}
		at[h] = i
	}
	for _, h := range []string{"unit", "item"} {
		if _, ok := at[h]; !ok {
			return nil, problem.Field("text", "column "+h+" is missing", strings.Join(priceHeads, ", "))
		}
	}
	var out Book
	for i, record := range records[1:] {
		if strings.TrimSpace(strings.Join(record, "")) == "" {
			continue
		}
		cell := func(head string) string {
			if k, ok := at[head]; ok && k < len(record) {
				return strings.TrimSpace(record[k])
			}
			return ""
		}
		bad := func(column, reason, accepted string) error {
			return problem.Field(fmt.Sprintf("row %d, %s", i+1, column), reason, accepted)
		}
		p := Price{Unit: cell("unit"), Item: cell("item"), Quality: cell("quality"), Note: unsafeCell(cell("note"))}
		if p.Timed() {
			hours, err := st.ParseRate(fmt.Sprintf("row %d, hours", i+1), cell("hours"), pricebook.MostHours)
			if err != nil {
				return nil, err
			}
			p.Hours = hours
			if cell("price") != "" {
				return nil, bad("price", "it takes hours and has no price", "an empty cell")
			}
		} else {
			amount, err := st.ParseAmount(fmt.Sprintf("row %d, price", i+1), cell("price"))
			if err != nil {
				return nil, err
			}
			p.Amount = amount
			if cell("hours") != "" {
				return nil, bad("hours", "it has a price and takes no hours", "an empty cell")
			}
		}
		out = append(out, p)
	}
	return out, nil
}

// unsafeCell takes off what safeCell put before a text.
func unsafeCell(text string) string {
	if rest, ok := strings.CutPrefix(text, "'"); ok && rest != "" && safeCell(rest) != rest {
		return rest
	}
	return text
}

// PriceItem is something that a unit's estimates ask a price or hours for, with what the guide says.
type PriceItem struct {
	Item, Title string
	Timed       bool
	Qualities   []string
	Guide       float64 // major units or hours; 0 when there is none
}

// PriceItems lists what the estimates of a unit may ask for, options by title.
func (s *Service) PriceItems(ctx context.Context, unit string) ([]PriceItem, error) {
	n, err := s.Library.Find(ctx, unit, 0)
	if err != nil {
		return nil, err
	}
	out := []PriceItem{{Item: "fluid", Title: "Fluid, a liter"}, {Item: "exchange", Title: "Exchange unit", Qualities: []string{"rebuilt", "new", "used"}, Guide: n.Unit.Sheet.Exchange.Price}}
	for _, l := range n.Unit.Levels {
		if minutes := n.Unit.ClimbMinutes[l]; minutes > 0 {
			out = append(out, PriceItem{Item: "access:" + l.String(), Title: "Opening up and closing: " + strings.ReplaceAll(l.String(), "-", " "), Timed: true, Guide: minutes / 60})
		}
	}
	for _, o := range n.Options {
		out = append(out, optionItems(o)...)
	}
	if st := n.Unit.Stack; st != nil {
		for _, k := range st.Sheet.Kits {
			out = append(out, PriceItem{Item: "kit:" + k.ID, Title: "Kit: " + k.Name})
		}
		for _, p := range st.Parts[1:] {
			guide, _ := pricebook.Book(nil).Part(unit, p.ID, p.Kind)
			out = append(out, PriceItem{Item: "part:" + p.ID, Title: "Part: " + p.Name, Guide: guide})
		}
	}
	return out, nil
}

// Titles are the words for the items and units of a price book, by their names in a table; what no unit has is left out.
func (s *Service) Titles(ctx context.Context, b Book) (map[string]string, error) {
	wanted := map[string]bool{}
	for _, p := range b {
		wanted[p.Item], wanted[p.Unit] = true, true
	}
	units, err := s.Library.UnitList(ctx)
	if err != nil {
		return nil, err
	}
	out := map[string]string{}
	for _, u := range units {
		if u.Generic {
			continue // what it can have done is priced for all units
		}
		if wanted[u.ID] {
			out[u.ID] = u.Name
		}
		items, err := s.PriceItems(ctx, u.ID)
		if err != nil {
			return nil, err
		}
		for _, i := range items {
			if wanted[i.Item] {
				out[i.Item] = i.Title
			}
			// An entry may be for a whole family: of each clutch, of each seal.
			if family, _, ok := strings.Cut(i.Item, "."); ok && wanted[family] && out[family] == "" {
				out[family] = "All like: " + i.Title
			}
		}
	}
	return out, nil
}

func optionItems(o knowledge.Option) []PriceItem {
	out := []PriceItem{{Item: "hours:" + o.ID, Title: o.Title + ": time", Timed: true, Guide: o.Hours}}
	if o.Strategy != "exchange" && o.Strategy != "watch" {
		out = append(out, PriceItem{Item: "parts:" + o.ID, Title: o.Title + ": parts", Qualities: o.Qualities, Guide: o.Parts})
	}
	if o.Machine > 0 {
		out = append(out, PriceItem{Item: "machine:" + o.ID, Title: o.Title + ": machine work", Guide: o.Machine})
	}
	if o.Calibration > 0 {
		out = append(out, PriceItem{Item: "calibration:" + o.ID, Title: o.Title + ": teaching and resets", Timed: true, Guide: o.Calibration})
	}
	return out
}
