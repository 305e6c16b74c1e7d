package fluid

import (
	"fmt"
	"math"
)

// Expansion is how much a transmission fluid grows for each kelvin, as a share of its volume: 0.00075 to 0.0008
// (recalled from memory; the volume correction tables of petroleum give the same within a tenth).
const Expansion = 0.00077

// VolumeAt is what a volume at temperature from becomes at temperature to.
func VolumeAt(volume, from, to float64) float64 { return volume * (1 + Expansion*(to-from)) }

// Renewed is the share of new fluid after draining and filling n times, when each drain takes this share of the whole.
func Renewed(share float64, n int) float64 { return 1 - math.Pow(1-share, float64(n)) }

// Changes is how often to drain and fill until at least this share is new. It fails when the shares are not between 0 and 1.
func Changes(share, wanted float64) (int, error) {
	if !(share > 0 && share <= 1) {
		return 0, fmt.Errorf("fluid: a drain takes %.0f %%; want more than nothing, at most all", 100*share)
	}
	if !(wanted >= 0 && wanted < 1) && !(wanted == 1 && share == 1) {
		return 0, fmt.Errorf("fluid: %.0f %% new is never reached by draining and filling; want less than 100 %%", 100*wanted)
	}
	if share == 1 {
		return min(1, int(math.Ceil(wanted))), nil
	}
	return int(math.Ceil(math.Log(1-wanted)/math.Log(1-share) - 1e-9)), nil
}

// Loss is how fast fluid goes, from what was added.
type Loss struct {
	PerMetre  float64 // m³ for each metre driven; 0 without a distance
	PerSecond float64 // m³/s; 0 without a time
	Drops     float64 // drops in a minute, were it all to drip
}

// DropVolume is one drop of oil: twenty in a millilitre (common practice, no source).
const DropVolume = 0.05e-6

// LossRate reads top-ups: what was added over a distance and a time; either may be 0 for unknown, not both.
func LossRate(added, distance, time float64) (Loss, error) {
	if !(added >= 0 && distance >= 0 && time >= 0) || distance == 0 && time == 0 {
		return Loss{}, fmt.Errorf("fluid: nothing tells how long it took; want a distance or a time")
	}
	var out Loss
	if distance > 0 {
		out.PerMetre = added / distance
	}
	if time > 0 {
		out.PerSecond = added / time
		out.Drops = out.PerSecond / DropVolume * 60
	}
	return out, nil
}

// Life is how long fluid lasts at a temperature when it lasts base at another, halving with each so many kelvin: the rule
// of thumb for oxidation (common practice, no source), an Arrhenius law near one temperature.
func Life(base, at, temperature, halving float64) float64 {
	return base * math.Pow(2, (at-temperature)/halving)
}

// Duty is a part of the use: its share of the distance, and the temperature that the fluid has there.
type Duty struct{ Share, Temperature float64 }

// LifeOver is the life over several duties: what each uses up is added (Palmgren's and Miner's rule). It fails unless the
// shares are positive; they are taken in proportion.
func LifeOver(base, at, halving float64, duties []Duty) (float64, error) {
	whole, used := 0.0, 0.0
	for _, d := range duties {
		if !(d.Share >= 0) || math.IsNaN(d.Temperature) {
			return 0, fmt.Errorf("fluid: a share of %v; want shares above 0", d.Share)
		}
		whole += d.Share
		used += d.Share / Life(base, at, d.Temperature, halving)
	}
	if whole <= 0 {
		return 0, fmt.Errorf("fluid: no duty has a share; want at least one above 0")
	}
	return whole / used, nil
}
