package builder

import (
	"fmt"
	"slices"
	"strings"

	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
)

// Pasted reads an apply chart that was copied out of a table: a first line with the elements, a line for each range. Cells are parted by
// tabs, semicolons, bars, or two spaces and more; any mark means on, a word such as "holds" means that a one-way clutch holds. A last
// column named ratio holds the ratios. It fails with the line that cannot be read.
func Pasted(text string, s unitsheet.Sheet) (unitsheet.Sheet, error) {
	var rows [][]string
	for line := range strings.SplitSeq(strings.ReplaceAll(text, "\r", ""), "\n") {
		if strings.TrimSpace(strings.Trim(line, "|-+ \t")) != "" {
			rows = append(rows, cellsOf(line))
		}
	}
	if len(rows) < 2 {
		return s, &unitsheet.Problem{Path: "table", Reason: fmt.Sprintf("%d lines", len(rows)), Accepted: "a line with the elements, then a line for each range"}
	}
	head := rows[0]
	if len(head) < 2 {
		return s, &unitsheet.Problem{Path: "table", Line: 1, Reason: "one column", Accepted: "columns parted by tabs, semicolons or two spaces"}
	}
	ratio := slices.IndexFunc(head, func(h string) bool { return strings.EqualFold(h, "ratio") })
	s.Elements, s.Ranges = slices.Clone(s.Elements), nil
	columns := make([]string, len(head))
	for i, h := range head {
		if i == 0 || i == ratio || h == "" {
			continue
		}
		columns[i] = elementFor(&s, h)
	}
	for n, cells := range rows[1:] {
		if len(cells) > len(head) {
			return s, &unitsheet.Problem{Path: "table", Line: n + 2, Reason: fmt.Sprintf("%d cells under %d columns", len(cells), len(head)), Accepted: "as many cells as the first line has columns"}
		}
		r := rangeFor(cells[0], s.Ranges, s.Control == "hand")
		if r.ID == "" || slices.ContainsFunc(s.Ranges, func(o unitsheet.RangeSheet) bool { return o.ID == r.ID }) {
			return s, &unitsheet.Problem{Path: "table", Line: n + 2, Reason: fmt.Sprintf("%q is no range, or stands twice", cells[0]), Accepted: "a name such as D1, 2nd, R, N"}
		}
		for i, c := range cells {
			switch {
			case i == 0:
			case i == ratio:
				r.Ratio = strings.TrimLeft(c, "-−R ")
				if _, _, err := unitsheet.PrintedRatio(r.Ratio); err != nil {
					return s, &unitsheet.Problem{Path: "table", Line: n + 2, Reason: err.Error(), Accepted: "a ratio as printed, such as 2.55"}
				}
			case columns[i] == "" || off(c):
			case isWheel(s, columns[i]):
				r.Holding = append(r.Holding, columns[i])
			default:
				r.Applied = append(r.Applied, columns[i])
			}
		}
		s.Ranges = append(s.Ranges, r)
	}
	return s, nil
}

// cellsOf parts a line by the strongest mark that it has.
func cellsOf(line string) []string {
	cut := func(sep string) []string { return strings.Split(line, sep) }
	var out []string
	switch {
	case strings.Contains(line, "\t"):
		out = cut("\t")
	case strings.Contains(line, ";"):
		out = cut(";")
	case strings.Contains(line, "|"):
		out = strings.Split(strings.Trim(strings.TrimSpace(line), "|"), "|")
	default:
		for strings.Contains(line, "   ") {
			line = strings.ReplaceAll(line, "   ", "  ")
		}
		out = strings.Split(strings.TrimRight(line, " "), "  ")
	}
	for i := range out {
		out[i] = strings.TrimSpace(out[i])
	}
	return out
}

func off(cell string) bool {
	switch strings.ToLower(cell) {
	case "", "-", "–", "—", "0", "off", "no", ".", "o":
		return true
	}
	return false
}

func isWheel(s unitsheet.Sheet, id string) bool {
	return slices.ContainsFunc(s.Elements, func(e unitsheet.ElementSheet) bool {
		return e.ID == id && gearing.Kind(e.Kind) == gearing.Freewheel
	})
}

// elementFor finds the element that a column is named after, or makes one: its kind is guessed from its name.
func elementFor(s *unitsheet.Sheet, name string) string {
	for _, e := range s.Elements {
		if strings.EqualFold(e.ID, name) || strings.EqualFold(e.Name, name) {
			return e.ID
		}
	}
	id := shortOf(name)
	for n := 2; slices.ContainsFunc(s.Elements, func(e unitsheet.ElementSheet) bool { return e.ID == id }); n++ {
		id = fmt.Sprintf("%s%d", shortOf(name), n)
	}
	s.Elements = append(s.Elements, unitsheet.ElementSheet{ID: id, Name: name, Kind: kindBy(name)})
	return id
}

// shortOf is a short id of a name: its first letters, or the name itself where that is short.
func shortOf(name string) string {
	words := strings.FieldsFunc(name, func(r rune) bool { return strings.ContainsRune(" -–/", r) })
	if len(words) == 1 && len(words[0]) <= 5 {
		return strings.ToUpper(notShort.ReplaceAllString(words[0], ""))
	}
	short := ""
	for _, w := range words {
		short += strings.ToUpper(notShort.ReplaceAllString(w[:1], ""))
	}
	if short == "" {
		short = "E"
	}
	return short
}

func kindBy(name string) string {
	low := strings.ToLower(name)
	has := func(parts ...string) bool {
		return slices.ContainsFunc(parts, func(p string) bool { return strings.Contains(low, p) })
	}
	switch {
	case has("one-way", "one way", "freewheel", "sprag", "roller"), strings.HasSuffix(low, "f") && len(low) <= 3:
		return string(gearing.Freewheel)
	case has("band"):
		return string(gearing.Band)
	case has("brake"), strings.HasPrefix(low, "b") && len(low) <= 3:
		return string(gearing.Brake)
	case has("sleeve", "synchro", "dog"):
		return string(gearing.Selector)
	}
	return string(gearing.Clutch)
}

// rangeFor reads the name of a row: R, N, P, a number for a forward gear, or an id of its own.
func rangeFor(name string, before []unitsheet.RangeSheet, hand bool) unitsheet.RangeSheet {
	id := strings.ToUpper(notShort.ReplaceAllString(name, ""))
	low := strings.ToLower(strings.TrimSpace(name))
	gear := 0
	for n := len(Ordinals); n >= 1; n-- {
		if strings.Contains(low, Ordinals[n-1]) || low == fmt.Sprint(n) || strings.HasPrefix(low, fmt.Sprintf("%dst", n)) || strings.HasPrefix(low, fmt.Sprintf("%dnd", n)) || strings.HasPrefix(low, fmt.Sprintf("%drd", n)) || strings.HasPrefix(low, fmt.Sprintf("%dth", n)) || low == fmt.Sprintf("d%d", n) || low == fmt.Sprintf("g%d", n) {
			gear = n
			break
		}
	}
	switch {
	case strings.HasPrefix(low, "m") && gear == 0 && len(id) <= 3, strings.HasPrefix(low, "manual"):
		return unitsheet.RangeSheet{ID: id, Selector: id, Name: name, Outcome: string(gearing.Forward)}
	case gear > 0 && hand:
		return unitsheet.RangeSheet{ID: fmt.Sprintf("G%d", gear), Selector: fmt.Sprint(gear), Name: title(Ordinals[gear-1]), Outcome: string(gearing.Forward)}
	case gear > 0:
		r := unitsheet.RangeSheet{ID: fmt.Sprintf("D%d", gear), Selector: "D", Name: "Drive " + Ordinals[gear-1], Outcome: string(gearing.Forward)}
		from := fmt.Sprintf("D%d", gear-1)
		if slices.ContainsFunc(before, func(o unitsheet.RangeSheet) bool { return o.ID == from }) {
			r.From = from
		}
		return r
	case low == "r" || strings.HasPrefix(low, "rev"):
		return unitsheet.RangeSheet{ID: "R", Selector: "R", Name: "Reverse", Outcome: string(gearing.Reverse)}
	case low == "n" || low == "p" || strings.HasPrefix(low, "neu") || strings.HasPrefix(low, "par"):
		at := strings.ToUpper(low[:1])
		return unitsheet.RangeSheet{ID: at, Selector: at, Name: map[string]string{"N": "Neutral", "P": "Park"}[at], Outcome: string(gearing.Neutral)}
	}
	return unitsheet.RangeSheet{ID: id, Selector: id, Name: name, Outcome: string(gearing.Forward)}
}

func title(s string) string { return strings.ToUpper(s[:1]) + s[1:] }
