package cases

import (
	"strings"
	"unicode"

	"golang.org/x/text/cases"
	"golang.org/x/text/runes"
	"golang.org/x/text/transform"
	"golang.org/x/text/unicode/norm"
)

// Fold is a text as it is compared and searched: without case, accents and spaces too many.
func Fold(text string) string {
	plain, _, err := transform.String(transform.Chain(norm.NFKD, runes.Remove(runes.In(unicode.Mn)), cases.Fold(), norm.NFC), text)
	if err != nil {
		plain = strings.ToLower(text)
	}
	return strings.Join(strings.Fields(plain), " ")
}
