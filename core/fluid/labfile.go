package fluid

import (
	"encoding/csv"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/quantity"
)

// Fields are what a column of a laboratory's table may hold, besides the Measures: what tells samples apart, the viscosities
// and glycol.
var Fields = []struct{ ID, Title string }{{"sample", "sample or date"}, {"distance", "distance on the fluid, km"}, {"v40", "viscosity at 40 °C, mm²/s"}, {"v100", "viscosity at 100 °C, mm²/s"}, {"glycol", "glycol, yes or no"}}

// synonyms are how laboratories head their columns, in small letters without blanks; common practice, no source.
var synonyms = map[string]string{
	"fe": "iron", "iron": "iron", "cr": "chromium", "chromium": "chromium", "chrome": "chromium", "cu": "copper", "copper": "copper", "pb": "lead", "lead": "lead", "sn": "tin", "tin": "tin",
	"al": "aluminium", "aluminium": "aluminium", "aluminum": "aluminium", "si": "silicon", "silicon": "silicon", "na": "sodium", "sodium": "sodium", "k": "potassium", "potassium": "potassium",
	"pq": "particles", "pqindex": "particles", "ferrousindex": "particles", "water": "water", "h2o": "water", "oxidation": "oxidation", "ox": "oxidation",
	"sample": "sample", "sampleid": "sample", "date": "sample", "sampled": "sample", "distance": "distance", "km": "distance", "mileage": "distance",
	"v40": "v40", "kv40": "v40", "visc40": "v40", "viscosity40": "v40", "viscosity@40": "v40", "v100": "v100", "kv100": "v100", "visc100": "v100", "viscosity100": "v100", "viscosity@100": "v100", "glycol": "glycol",
}

// Table is a laboratory's file as it was read: its heads, its rows, and what each column seems to hold (empty: unknown).
type Table struct {
	Heads   []string
	Guessed []string
	Rows    [][]string
	style   quantity.Style // in which its numbers are written
}

// CellError says what is wrong in which cell; rows count from 1 under the heads.
type CellError struct {
	Row                      int
	Column, Reason, Accepted string
}

func (e CellError) Error() string {
	return fmt.Sprintf("row %d, column %s: %s; accepted: %s", e.Row, e.Column, e.Reason, e.Accepted)
}

// Limits of a file: a laboratory's table has some forty columns and a few rows.
const (
	mostColumns = 200
	mostRows    = 2000
	mostValue   = 1e9 // beyond what any laboratory reports
)

// ReadTable reads a table with one row of heads, separated by commas, semicolons or tabs.
func ReadTable(text string) (Table, error) {
	text = strings.TrimPrefix(text, "\ufeff")
	first, _, _ := strings.Cut(strings.TrimLeft(text, "\r\n"), "\n")
	separator := ','
	for _, s := range []rune{';', '\t'} {
		if strings.Count(first, string(s)) > strings.Count(first, string(separator)) {
			separator = s
		}
	}
	r := csv.NewReader(strings.NewReader(text))
	r.Comma, r.FieldsPerRecord, r.TrimLeadingSpace = separator, -1, true
	records, err := r.ReadAll()
	if err != nil {
		return Table{}, fmt.Errorf("fluid: not a table: %w; want rows of equal length, separated by commas, semicolons or tabs", err)
	}
	records = slices.DeleteFunc(records, func(row []string) bool { return strings.TrimSpace(strings.Join(row, "")) == "" })
	if len(records) < 2 {
		return Table{}, fmt.Errorf("fluid: %d rows; want a row of heads and at least one sample", len(records))
	}
	t := Table{Heads: records[0], Rows: records[1:]}
	t.style = styleOf(t.Rows)
	if len(t.Heads) > mostColumns || len(t.Rows) > mostRows {
		return Table{}, fmt.Errorf("fluid: %d columns and %d rows; want at most %d and %d", len(t.Heads), len(t.Rows), mostColumns, mostRows)
	}
	for i, row := range t.Rows {
		if len(row) > len(t.Heads) {
			return Table{}, fmt.Errorf("fluid: row %d has %d cells for %d heads; want one cell for each head", i+1, len(row), len(t.Heads))
		}
	}
	taken := map[string]bool{}
	for _, h := range t.Heads {
		g := guess(h)
		if taken[g] {
			g = "" // two columns of one name: the user says which
		}
		taken[g] = true
		t.Guessed = append(t.Guessed, g)
	}
	return t, nil
}

// styleOf tells how a table's numbers are written, from those that can be read in one way only; without any, what could be read
// in two ways stays so, and is refused.
func styleOf(rows [][]string) quantity.Style {
	points, commas := 0, 0
	for _, row := range rows {
		for _, cell := range row {
			cell = strings.TrimSpace(strings.TrimLeft(strings.TrimSpace(cell), "<>"))
			if strings.Trim(cell, "0123456789.,") != "" {
				continue
			}
			whole, part, _ := strings.Cut(cell, ".")
			if part != "" && !strings.ContainsAny(part, ".,") && (len(part) != 3 || strings.Contains(whole, ",") || whole == "" || whole == "0") {
				points++
			}
			whole, part, _ = strings.Cut(cell, ",")
			if part != "" && !strings.ContainsAny(part, ".,") && (len(part) != 3 || strings.Contains(whole, ".") || whole == "" || whole == "0") {
				commas++
			}
		}
	}
	const neither = '\u202f' // groups are parted by a space, so that one mark before three digits may be either
	switch {
	case points > 0 && commas == 0:
		return quantity.Style{Decimal: '.', Group: ','}
	case commas > 0 && points == 0:
		return quantity.Style{Decimal: ',', Group: '.'}
	}
	return quantity.Style{Decimal: '.', Group: neither}
}

// guess is the field that a head seems to name; its unit is left out.
func guess(head string) string {
	head, _, _ = strings.Cut(strings.ToLower(head), "(")
	head, _, _ = strings.Cut(head, "[")
	head = strings.NewReplacer(" ", "", "_", "", "-", "", "°c", "", ".", "").Replace(head)
	if f, ok := synonyms[head]; ok {
		return f
	}
	for _, unit := range []string{"ppm", "mg/kg", "mgkg", "%"} {
		if f, ok := synonyms[strings.TrimSuffix(head, unit)]; ok {
			return f
		}
	}
	return ""
}

// Sample is one row that was read.
type Sample struct {
	Name string
	Report
	V40 float64 // m²/s
}

// Samples reads the rows, with what each column holds: as many fields as there are heads, empty for what is left out. All
// rows or none: with any error there are no samples. The errors name row and column.
func (t Table) Samples(fields []string) ([]Sample, []CellError) {
	var errs []CellError
	if len(fields) != len(t.Heads) {
		return nil, []CellError{{0, "", fmt.Sprintf("%d fields for %d columns", len(fields), len(t.Heads)), "one for each column, empty for what is left out"}}
	}
	measures := 0
	for i, f := range fields {
		switch {
		case f == "":
		case !known(f):
			errs = append(errs, CellError{0, t.Heads[i], fmt.Sprintf("%q is nothing that a report holds", f), "an id of measures or fields"})
		case slices.Contains(fields[:i], f):
			errs = append(errs, CellError{0, t.Heads[i], f + " is in two columns", "each field in one column"})
		case f != "sample" && f != "distance":
			measures++
		}
	}
	if measures == 0 {
		errs = append(errs, CellError{0, "", "no column holds a measure", "at least one, such as iron"})
	}
	if len(errs) > 0 {
		return nil, errs
	}
	var out []Sample
	for i, row := range t.Rows {
		s := Sample{Name: fmt.Sprint(i + 1), Report: Report{Values: map[string]float64{}}}
		for j, cell := range row {
			cell = strings.TrimSpace(cell)
			if fields[j] == "" || cell == "" || cell == "-" {
				continue
			}
			if err := s.take(fields[j], cell, t.Heads[j], t.style); err != nil {
				err.Row = i + 1
				errs = append(errs, *err)
			}
		}
		out = append(out, s)
	}
	if len(errs) > 0 {
		return nil, errs
	}
	return out, nil
}

func known(field string) bool {
	for _, m := range Measures {
		if m.ID == field {
			return true
		}
	}
	for _, f := range Fields {
		if f.ID == field {
			return true
		}
	}
	return false
}

// take puts one cell into a sample, in the unit of its head.
func (s *Sample) take(field, cell, head string, style quantity.Style) *CellError {
	switch field {
	case "sample":
		s.Name = cell
		return nil
	case "glycol":
		g, ok := map[string]string{"yes": "yes", "y": "yes", "positive": "yes", "pos": "yes", "1": "yes", "no": "no", "n": "no", "negative": "no", "neg": "no", "0": "no"}[strings.ToLower(cell)]
		if !ok {
			return &CellError{0, head, fmt.Sprintf("%q", cell), "yes or no"}
		}
		s.Glycol = g
		return nil
	}
	// "<1" is what a laboratory writes for less than it can see.
	number := strings.TrimSpace(strings.TrimPrefix(cell, "<"))
	v, err := style.Value(number, field == "distance")
	var pe *quantity.ParseError
	switch {
	case errors.As(err, &pe) && strings.HasPrefix(pe.Reason, "it may be"):
		return &CellError{0, head, fmt.Sprintf("%q: %s", cell, pe.Reason), pe.Accepted}
	case err != nil || math.Abs(v) > mostValue:
		return &CellError{0, head, fmt.Sprintf("%q is not a number", cell), "a number such as 42 or <1"}
	}
	if v < 0 {
		return &CellError{0, head, fmt.Sprintf("%q is less than nothing", cell), "none or more"}
	}
	factor, err2 := unitFactor(field, head)
	if err2 != nil {
		return &CellError{0, head, err2.Error(), "a unit of " + field + ", or none"}
	}
	switch field {
	case "distance":
		s.Distance = v * factor
	case "v40":
		s.V40 = v * factor
	case "v100":
		s.Viscosity = v * factor
	default:
		s.Values[field] = v * factor
	}
	return nil
}

// unitFactor turns a number under a head into the unit of its field, by what stands in brackets or at the end of the head.
func unitFactor(field, head string) (float64, error) {
	unit := strings.ToLower(head)
	if _, in, ok := strings.Cut(unit, "("); ok {
		unit, _, _ = strings.Cut(in, ")")
	} else if _, in, ok := strings.Cut(unit, "["); ok {
		unit, _, _ = strings.Cut(in, "]")
	} else {
		fields := strings.Fields(strings.ReplaceAll(unit, "_", " "))
		unit = ""
		if len(fields) > 0 {
			unit = fields[len(fields)-1]
		}
		if !slices.Contains([]string{"ppm", "mg/kg", "%", "km", "mi", "miles", "cst", "mm2/s", "mm²/s"}, unit) {
			unit = ""
		}
	}
	unit = strings.TrimSpace(unit)
	table := map[string]map[string]float64{
		"distance": {"": 1e3, "km": 1e3, "mi": 1609.344, "miles": 1609.344, "1000 km": 1e6},
		"v40":      {"": 1e-6, "cst": 1e-6, "mm2/s": 1e-6, "mm²/s": 1e-6},
		"v100":     {"": 1e-6, "cst": 1e-6, "mm2/s": 1e-6, "mm²/s": 1e-6},
		"water":    {"": 1, "%": 1, "vol %": 1, "vol%": 1, "wt %": 1, "wt%": 1, "ppm": 1e-4, "mg/kg": 1e-4},
	}[field]
	if table == nil {
		table = map[string]float64{"": 1, "ppm": 1, "mg/kg": 1, "%": 1e4, "a/cm": 1, "abs/cm": 1, "abs": 1, "index": 1}
	}
	f, ok := table[unit]
	if !ok {
		return 0, fmt.Errorf("the head's unit %q does not fit", unit)
	}
	return f, nil
}
