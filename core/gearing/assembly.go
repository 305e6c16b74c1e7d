package gearing

import (
	"fmt"
	"math"
)

// AssemblyError reports a planetary set that cannot be put together.
type AssemblyError struct{ Reason string }

func (e *AssemblyError) Error() string { return "gearing: " + e.Reason }

func refuse(format string, args ...any) error {
	return &AssemblyError{fmt.Sprintf(format, args...)}
}

// CheckSimpleSet reports whether a simple set with these teeth and n equally spaced planets meshes
// (ring = sun + 2·planet), assembles ((sun + ring)/n whole) and leaves the planets apart.
func CheckSimpleSet(sun, planet, ring, n int) error {
	if ring != sun+2*planet {
		return refuse("ring %d does not mesh: sun %d + 2 × planet %d = %d", ring, sun, planet, sun+2*planet)
	}
	if n < 1 || (sun+ring)%n != 0 {
		return refuse("%d equally spaced planets do not assemble: (%d + %d)/%d is not whole", n, sun, ring, n)
	}
	return checkApart(sun+planet, planet, n)
}

// checkApart reports planets whose tips would touch: the centres lie on a circle of radius centre/2 teeth,
// and an addendum is taken as one module.
func checkApart(centre, planet, n int) error {
	if n > 1 && float64(centre)*math.Sin(math.Pi/float64(n)) <= float64(planet+2) {
		return refuse("%d planets of %d teeth touch each other", n, planet)
	}
	return nil
}

// CheckDoublePinionSet reports whether sun–inner–outer–ring pairs of planets find room, assemble
// ((ring − sun)/n whole) and leave equal planets apart. All gears are taken to have the same module.
func CheckDoublePinionSet(sun, inner, outer, ring, n int) error {
	if n < 1 || (ring-sun)%n != 0 {
		return refuse("%d pairs of planets do not assemble: (%d − %d)/%d is not whole", n, ring, sun, n)
	}
	near, far := sun+inner, ring-outer
	if far <= 0 || abs(far-near) >= inner+outer || near+far <= inner+outer {
		return refuse("inner planets of %d and outer planets of %d cannot reach each other between sun %d and ring %d", inner, outer, sun, ring)
	}
	if err := checkApart(near, inner, n); err != nil {
		return err
	}
	return checkApart(far, outer, n)
}

// CheckCompoundSet reports whether a two-sun set with one ring meshes and assembles: the long pinion joins
// the large sun to the ring (a simple set with n planets); the short pinions between small sun and long
// pinion must reach it; and (ring − small sun)/n is whole for the double-pinion path.
func CheckCompoundSet(largeSun, smallSun, long, short, ring, n int) error {
	if err := CheckSimpleSet(largeSun, long, ring, n); err != nil {
		return err
	}
	if (ring-smallSun)%n != 0 {
		return refuse("the double-pinion path does not assemble: (%d − %d)/%d is not whole", ring, smallSun, n)
	}
	if abs(largeSun+long-smallSun-short) >= long+short {
		return refuse("long and short pinions cannot reach each other")
	}
	return nil
}

// CheckSteppedSet reports whether n equally spaced planets with two toothings, planet on the sun and step on a second gear,
// which is a ring or another sun, can be put in: with the sun held, a turn of the carrier by 1/n moves the second gear
// by whole teeth, counted in steps that both toothings of a planet share, if (sun·step ± second·planet) divides by
// n·gcd(planet, step) (derived from the Willis equation; plus for a ring, minus for a sun). The two toothings may have modules
// of their own, so that tooth counts alone say nothing about distances.
func CheckSteppedSet(sun, planet, step, second, n int, ring bool) error {
	if planet < 5 || step < 5 || n < 1 {
		return refuse("%d planets of %d and %d teeth", n, planet, step)
	}
	if ring && second <= step {
		return refuse("the ring has %d teeth, no more than the planets' %d", second, step)
	}
	sum := sun*step - second*planet
	if ring {
		sum = sun*step + second*planet
	}
	if by := n * gcd(planet, step); sum%by != 0 {
		return refuse("%d equally spaced stepped planets do not assemble: %d does not divide by %d", n, sum, by)
	}
	return nil
}

// CheckTwoSuns reports whether n pairs of planets between two suns, without a ring, reach each other and assemble
// ((large sun + small sun)/n whole).
func CheckTwoSuns(large, small, long, short, n int) error {
	if n < 1 || (large+small)%n != 0 {
		return refuse("%d pairs of planets between two suns do not assemble: (%d + %d)/%d is not whole", n, large, small, n)
	}
	if abs(large+long-small-short) >= long+short {
		return refuse("long and short pinions cannot reach each other")
	}
	return checkApart(large+long, long, n)
}

func gcd(a, b int) int {
	for b != 0 {
		a, b = b, a%b
	}
	return a
}

func abs(v int) int {
	if v < 0 {
		return -v
	}
	return v
}
