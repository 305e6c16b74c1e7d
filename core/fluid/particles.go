package fluid

import "fmt"

// upTo are the upper ends of the ranges of ISO 4406, in particles per millilitre, from code 0 on [3].
var upTo = []float64{0.01, 0.02, 0.04, 0.08, 0.16, 0.32, 0.64, 1.3, 2.5, 5, 10, 20, 40, 80, 160, 320, 640, 1300, 2500, 5000, 10000, 20000, 40000, 80000, 160000, 320000, 640000, 1300000, 2500000}

// MostCode is the highest code with an upper end; above it the code is 29 and open.
const MostCode = 28

// Code is the range number of a count per millilitre [3]; 29 stands for more than the highest range.
func Code(perMl float64) (int, error) {
	if !(perMl >= 0) {
		return 0, fmt.Errorf("fluid: %v particles; want none or more", perMl)
	}
	for code, most := range upTo {
		if perMl <= most {
			return code, nil
		}
	}
	return MostCode + 1, nil
}

// Cleanliness is the code of a fluid: the range numbers of particles of at least 4, 6 and 14 µm. It fails when a larger
// size is more numerous than a smaller one, since the counts include each other.
func Cleanliness(over4, over6, over14 float64) ([3]int, error) {
	var out [3]int
	if over6 > over4 || over14 > over6 {
		return out, fmt.Errorf("fluid: more large particles than small ones; want counts that include each other, falling with size")
	}
	for i, n := range []float64{over4, over6, over14} {
		var err error
		if out[i], err = Code(n); err != nil {
			return out, err
		}
	}
	return out, nil
}

// Most is the upper end of a code's range, in particles per millilitre.
func Most(code int) float64 { return upTo[min(max(code, 0), MostCode)] }
