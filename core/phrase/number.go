package phrase

import (
	"strconv"
	"strings"
)

// Kinds of number.
const (
	smallNumber = 1 // below a thousand
	anyNumber   = 2
	speedNumber = 3 // one that can be a speed
)

// numbers are words for numbers, with about what they stand for.
var numbers = map[string]float64{"one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9, "ten": 10, "eleven": 11, "twelve": 12, "thirteen": 13, "fourteen": 14, "fifteen": 15,
	"sixteen": 16, "seventeen": 17, "eighteen": 18, "nineteen": 19, "twenty": 20, "thirty": 30, "forty": 40, "fifty": 50, "sixty": 60, "seventy": 70, "eighty": 80, "ninety": 90, "hundred": 100, "thousand": 1000,
	"twenties": 25, "thirties": 35, "forties": 45, "fifties": 55, "sixties": 65, "seventies": 75, "eighties": 85, "nineties": 95, "couple": 2, "few": 3, "several": 5, "half": 0.5}

func (t Token) number() bool {
	_, word := numbers[t.Text]
	return word || isDigit(t.Text[0])
}

// value is what a number stands for; of one that cannot be read a great one.
func (t Token) value() float64 {
	if v, ok := numbers[t.Text]; ok {
		return v
	}
	digits := strings.TrimRight(strings.ReplaceAll(t.Text, ",", ""), "abcdefghijklmnopqrstuvwxyz")
	v, err := strconv.ParseFloat(digits, 64)
	if err != nil {
		return 1e9
	}
	return v
}
