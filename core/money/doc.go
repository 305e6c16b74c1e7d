// Package money counts money as it stands on paper: amounts in minor units (hundredths of the shop's currency), rates, hours
// and shares as exact fractions, one rounding for each line, half a minor unit away from zero.
//
// A number that comes from a field or a file is what its digits say: 1.1 is eleven tenths, not the nearest double. Expected
// costs, which are means over what may happen, are rounded only when they are shown.
package money
