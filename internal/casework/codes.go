package casework

import (
	"context"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"innercompass/core/knowledge"
)

// codeShape is how a generic fault code looks: P0 and three digits; what else is read is not in the list.
var codeShape = regexp.MustCompile(`^P[0-9][0-9A-F]{3}$`)

// codePrefix begins the id of the finding of a code.
const codePrefix = "code."

// StoredCodes is the finding that says whether any code is stored.
const StoredCodes = "codes"

// PutCodes notes the codes that a scan tool read, all or none; an empty text says that none is stored. Codes are
// separated by spaces, commas or lines.
func (s *Service) PutCodes(ctx context.Context, id string, g Guard, by, text string) (View, error) {
	n, err := s.networkOf(ctx, id)
	if err != nil {
		return View{}, err
	}
	if _, ok := n.Finding(StoredCodes); !ok {
		return View{}, &StateError{"this unit has no module that stores codes", "do the checks that it has"}
	}
	codes, err := parseCodes(n, text)
	if err != nil {
		return View{}, err
	}
	all := []NewReading{{Finding: StoredCodes, State: "none"}}
	if len(codes) > 0 {
		all[0].State = "some"
		for _, c := range codes {
			all = append(all, NewReading{Finding: codePrefix + c, State: "stored", Value: c})
		}
	}
	for i := range all {
		all[i].Source, all[i].Stage, all[i].Check, all[i].By = "measured", "checks", "read-codes", by
	}
	return s.AddReadings(ctx, id, g, all)
}

func parseCodes(n *knowledge.Network, text string) ([]string, error) {
	if err := checkText("codes", text, maxShort*3, false); err != nil {
		return nil, err
	}
	var out []string
	for _, word := range strings.FieldsFunc(strings.ToUpper(text), func(r rune) bool { return strings.ContainsRune(" ,;\n\r\t", r) }) {
		if !codeShape.MatchString(word) {
			return nil, &FieldError{"codes", fmt.Sprintf("%q is not a code", word), "codes such as P0741, separated by spaces"}
		}
		if _, ok := n.Finding(codePrefix + word); !ok {
			return nil, &FieldError{"codes", fmt.Sprintf("%s says nothing that is known of this unit", word), "generic transmission codes P0700 to P0799, P0840 to P0899 and those of the clutch that fit the unit; note others as words"}
		}
		if !slices.Contains(out, word) {
			out = append(out, word)
		}
	}
	return out, nil
}
