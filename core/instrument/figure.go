package instrument

import "innercompass/core/quantity"

// Chart is what is drawn beside a result; values in SI. Words say the same for who cannot see it.
type Chart struct {
	Kind   string // curve, stack, circle, rotor, bars, list (bars without lengths), ways, stick or plug
	Title  string
	Words  string
	X, Y   Axis
	Series []Series // of a curve
	Marks  []Mark   // on a curve
	Layers []Layer  // of a stack, in order
	Spots  []int    // of a circle: by place, its turn from 1; of a rotor: as many as it has places, 0 each
	Arrows []Arrow  // on a rotor
	Bars   []Bar
	Ways   []Way // of oil over the zones of a unit
}

// Arrow is a mass or a vibration on a rotor: how long of the longest, where it points with the rotation from the mark at the top, radians.
// Role: main, other, limit.
type Arrow struct {
	Label, Role string
	Size, Angle float64
}

// Way is how something comes from a source to a zone: the zones on it, by id, the source's own first.
type Way struct {
	Source string
	Zones  []string
}

// Axis names what is drawn along a side.
type Axis struct {
	Label     string
	Dimension quantity.Dimension
	Unit      string
}

// Series is one line of a curve. Role: main, other, limit.
type Series struct {
	Name, Role string
	Points     [][2]float64
}

// Mark is a place on a curve that is named.
type Mark struct {
	X, Y  float64
	Label string
}

// Layer is one part of a stack. Kind: steel, lined, plate, room.
type Layer struct {
	Label, Kind string
	Size        float64
}

// Bar is one row of a comparison: a value against what is needed or allowed, both in the figure's Y.
type Bar struct {
	Label      string
	Value      float64
	Need       float64 // 0 when there is none
	Low, High  float64 // window; both 0 when there is none
	Text       string
	Emphasised bool
}
