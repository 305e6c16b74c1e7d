package phrase

import (
	"regexp"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Breaks between tokens, weakest first.
const (
	NoBreak = iota
	Comma
	Turn     // a conjunction that turns the thought: but, because, then
	Sentence // the end of a sentence
)

// Mask is a set of those that may not look at a token.
type Mask int

// Masks.
const (
	FromAll      Mask = 1 << iota // an idiom that means nothing here
	FromSymptoms                  // no symptom
	FromRanges                    // no range
)

// Token is one word of the text. Start and End are bytes of the text; contractions make two tokens of one place.
type Token struct {
	Text       string // lower case
	Stem       string
	Start, End int
	Before     int  // the break before it
	Behind     bool // it stands behind a comma, whatever the break
	Masked     Mask // what may not look at it
	Mended     bool // its spelling was put right
	Question   bool // the sentence ends with a question mark
}

// opened are contractions, each in the words that it stands for.
var opened = map[string][]string{
	"won't": {"will", "not"}, "can't": {"can", "not"}, "cannot": {"can", "not"}, "shan't": {"shall", "not"}, "ain't": {"be", "not"},
	"don't": {"do", "not"}, "wont": {"will", "not"}, "dont": {"do", "not"}, "doesnt": {"do", "not"}, "isnt": {"be", "not"}, "cant": {"can", "not"}, "didnt": {"do", "not"},
	"wasnt": {"be", "not"}, "hasnt": {"have", "not"}, "gonna": {"go", "to"}, "wanna": {"want", "to"}, "gotta": {"have", "to"}, "let's": {"let", "us"}, "dunno": {"do", "not", "know"},
}

// endings are contracted endings of a word.
var endings = []struct{ tail, word string }{{"n't", "not"}, {"'s", "be"}, {"'re", "be"}, {"'m", "be"}, {"'ve", "have"}, {"'ll", "will"}, {"'d", "would"}}

// turns are the words before which a new thought begins.
var turns = map[string]bool{"but": true, "though": true, "although": true, "yet": true, "because": true, "otherwise": true, "however": true, "whereas": true, "except": true, "then": true, "unless": true}

// turnsBehindComma are words that do so only behind a comma: "ever so early", "for a while".
var turnsBehindComma = map[string]bool{"so": true, "while": true, "only": true, "where": true}

// Tokens takes a text apart. Sentences end at . ! ? ; : newline and a dash; a point between digits belongs to a number.
func Tokens(text string) []Token {
	var out []Token
	pending, first := Sentence, 0
	endSentence := func(mark rune) {
		if mark == '?' {
			for i := first; i < len(out); i++ {
				out[i].Question = true
			}
		}
		first = len(out)
		pending = Sentence
	}
	for i := 0; i < len(text); {
		r, n := utf8.DecodeRuneInString(text[i:])
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			j := wordEnd(text, i)
			for k, w := range opens(text[i:j]) {
				t := Token{Text: w, Start: i, End: j}
				if k == 0 {
					t.Behind = pending >= Comma
					if t.Before = pending; pending < Turn && (turns[w] || pending == Comma && turnsBehindComma[w]) {
						t.Before = Turn
					}
				}
				out = append(out, t)
			}
			pending, i = NoBreak, j
			continue
		}
		switch r {
		case ',', '(', ')', '"', '“', '”':
			pending = max(pending, Comma)
		case '.', '!', '?', ';', ':', '\n', '—', '–', '…':
			endSentence(r)
		case '-':
			if i > 0 && text[i-1] == ' ' {
				endSentence(r)
			}
		}
		i += n
	}
	return out
}

// wordEnd returns where the word or number that begins at i ends.
func wordEnd(text string, i int) int {
	j := i
	for j < len(text) {
		r, n := utf8.DecodeRuneInString(text[j:])
		next, _ := utf8.DecodeRuneInString(text[j+n:])
		switch {
		case unicode.IsLetter(r) || unicode.IsDigit(r):
		case (r == '\'' || r == '’') && unicode.IsLetter(next):
		case (r == '.' || r == ',') && j > i && isDigit(text[j-1]) && unicode.IsDigit(next):
		default:
			return j
		}
		j += n
	}
	return j
}

func isDigit(b byte) bool { return b >= '0' && b <= '9' }

// opens brings a word to lower case and opens a contraction.
func opens(word string) []string {
	w := strings.ReplaceAll(strings.ToLower(word), "’", "'")
	if two, ok := opened[w]; ok {
		return two
	}
	for _, e := range endings {
		if stem, ok := strings.CutSuffix(w, e.tail); ok && stem != "" {
			return append(opens(stem), e.word)
		}
	}
	if faultCode.MatchString(w) {
		return []string{"faultcode"}
	}
	return []string{strings.ReplaceAll(w, "'", "")}
}

// faultCode is a code as a scan tool shows it, such as p0741.
var faultCode = regexp.MustCompile(`^[pucb][0-9][0-9a-f]{3}$`)
