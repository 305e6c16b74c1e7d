package readings

import (
	"context"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"innercompass/core/knowledge"
	"innercompass/internal/cases"
	"innercompass/internal/problem"
)

// codeShape is how a fault code looks: a letter for the system, a digit and three more; which of them are known is in the list.
var codeShape = regexp.MustCompile(`^[PCBU][0-9][0-9A-F]{3}$`)

// PutCodes notes the codes that a scan tool read, all or none; an empty text says that none is stored. Codes are
// separated by spaces, commas or lines.
func (s *Service) PutCodes(ctx context.Context, id string, g cases.Guard, by, text string) (cases.Saved, error) {
	n, err := s.Cases.NetworkOf(ctx, id)
	if err != nil {
		return cases.Saved{}, err
	}
	if _, ok := n.Finding(knowledge.StoredCodes); !ok {
		return cases.Saved{}, &problem.StateError{Reason: "this unit has no module that stores codes", Accepted: "do the checks that it has"}
	}
	codes, err := parseCodes(n, text)
	if err != nil {
		return cases.Saved{}, err
	}
	all := []NewReading{{Finding: knowledge.StoredCodes, State: "none"}}
	if len(codes) > 0 {
		all[0].State = "some"
		for _, c := range codes {
			all = append(all, NewReading{Finding: knowledge.CodePrefix + c, State: "stored", Value: c})
		}
	}
	for i := range all {
		all[i].Source, all[i].Stage, all[i].Check, all[i].By = "measured", "checks", "read-codes", by
	}
	return s.AddReadings(ctx, id, g, all)
}

func parseCodes(n *knowledge.Network, text string) ([]string, error) {
	if err := problem.CheckText("codes", text, problem.MaxShort*3, false); err != nil {
		return nil, err
	}
	var out []string
	for _, word := range strings.FieldsFunc(strings.ToUpper(text), func(r rune) bool { return strings.ContainsRune(" ,;\n\r\t", r) }) {
		if !codeShape.MatchString(word) {
			return nil, problem.Field("codes", fmt.Sprintf("%q is not a code", word), "codes such as P0741, separated by spaces")
		}
		if _, ok := n.Finding(knowledge.CodePrefix + word); !ok {
			return nil, problem.Field("codes", fmt.Sprintf("%s says nothing that is known of this unit", word), "generic transmission codes P0700 to P0799, P0840 to P0899 and those of the clutch that fit the unit; note others as words")
		}
		if !slices.Contains(out, word) {
			out = append(out, word)
		}
	}
	return out, nil
}
