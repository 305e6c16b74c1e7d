package live

import (
	"innercompass/core/recording"
	"innercompass/core/unitsheet"
	"innercompass/internal/standin"
)

// Channel is a value that may be watched.
type Channel struct {
	ID, Name, Unit string
	Role           recording.Role
	Of             string // of a pressure: its element
	Source         string // "engine module", "transmission module", or the tool that is held to it
	Missing        string // why it cannot be had; nothing when it can
	Low, High      float64
	Decimals       int

	pid   byte
	did   uint16
	scale func(raw uint16) float64
	tool  func(t standin.Tools) float64
}

// channelsOf are what may be watched of a unit, before anybody has asked the vehicle.
func channelsOf(u *unitsheet.Unit) []Channel {
	out := []Channel{
		{ID: "engine", Name: "Engine speed", Unit: "rpm", Role: recording.Engine, Source: "engine module", High: 6000, pid: 0x0C},
		{ID: "turbine", Name: "Turbine speed", Unit: "rpm", Role: recording.Turbine, Source: "transmission module", High: 6000, did: standin.IDTurbine},
		{ID: "output", Name: "Output speed", Unit: "rpm", Role: recording.Output, Source: "transmission module", High: 5000, did: standin.IDOutput},
		{ID: "road", Name: "Vehicle speed", Unit: "km/h", Role: recording.Road, Source: "engine module", High: 160, pid: 0x0D},
		{ID: "throttle", Name: "Throttle", Unit: "%", Role: recording.Throttle, Source: "engine module", High: 100, Decimals: 1, pid: 0x11},
		{ID: "gear", Name: "Gear commanded", Role: recording.Gear, Source: "transmission module", Low: -1, High: 10, did: standin.IDGear, scale: func(x uint16) float64 { return float64(x) - 1 }},
		{ID: "fluid", Name: "Fluid temperature", Unit: "°C", Role: recording.Fluid, Source: "transmission module", Low: -20, High: 150, did: standin.IDFluid, scale: func(x uint16) float64 { return float64(x) - 40 }},
		{ID: "line", Name: "Line pressure", Unit: "kPa", Role: recording.Line, Source: "transmission module", High: 2000, did: standin.IDLine},
		{ID: "slip", Name: "Converter slip", Unit: "rpm", Role: recording.Other, Source: "transmission module", Low: -500, High: 2500, did: standin.IDSlip, scale: func(x uint16) float64 { return float64(x) - 8000 }},
		{ID: "lockup", Name: "Converter clutch commanded", Unit: "N·m", Role: recording.Other, Source: "transmission module", High: 600, did: standin.IDLockup},
		{ID: "load", Name: "Calculated load", Unit: "%", Role: recording.Other, Source: "engine module", High: 100, Decimals: 1, pid: 0x04},
		{ID: "torque", Name: "Engine torque", Unit: "%", Role: recording.Other, Source: "engine module", Low: -20, High: 110, pid: 0x62},
		{ID: "coolant", Name: "Coolant temperature", Unit: "°C", Role: recording.Other, Source: "engine module", Low: -20, High: 130, pid: 0x05},
		{ID: "voltage", Name: "Module voltage", Unit: "V", Role: recording.Other, Source: "engine module", High: 16, Decimals: 2, pid: 0x42},
		{ID: "pedal", Name: "Pedal", Unit: "%", Role: recording.Other, Source: "engine module", High: 100, Decimals: 1, pid: 0x49},
	}
	for i, e := range u.Elements {
		if !e.Pressed() {
			continue
		}
		id := e.ID
		out = append(out,
			Channel{ID: "tap." + id, Name: upper(e.Name) + " pressure", Unit: "kPa", Role: recording.Pressure, Of: id, Source: "transducer at the tap", High: 2000, did: standin.IDPressure + uint16(i)}, //nolint:gosec // some ten elements
			Channel{ID: "gauge." + id, Name: upper(e.Name) + " gauge", Unit: "kPa", Role: recording.Other, Source: "gauge, class 1.6", High: 2000, tool: func(t standin.Tools) float64 { return t.Gauges[id] / 1e3 }})
	}
	out = append(out,
		Channel{ID: "gauge.line", Name: "Line gauge", Unit: "kPa", Role: recording.Other, Source: "gauge, class 1.6", High: 2000, tool: func(t standin.Tools) float64 { return t.Gauges["line"] / 1e3 }},
		Channel{ID: "tachometer", Name: "Shaft by tachometer", Unit: "rpm", Role: recording.Other, Source: "tachometer, a mark on the shaft", High: 5000, tool: func(t standin.Tools) float64 { return t.Tachometer }},
		Channel{ID: "thermometer", Name: "Pan temperature", Unit: "°C", Role: recording.Other, Source: "thermometer", Low: -20, High: 150, tool: func(t standin.Tools) float64 { return t.Thermometer }},
		Channel{ID: "shaking", Name: "Shaking, effective", Unit: "m/s²", Role: recording.Other, Source: "motion sensor at the seat rail", High: 3, Decimals: 2, tool: func(t standin.Tools) float64 { return t.Shaking }},
		Channel{ID: "sound", Name: "Sound level", Unit: "dB", Role: recording.Other, Source: "microphone at the dash", Low: 30, High: 100, Decimals: 1, tool: func(t standin.Tools) float64 { return t.Sound }})
	for _, p := range standin.Places {
		out = append(out, Channel{ID: "ear." + p, Name: "Stethoscope at the " + p, Unit: "dB", Role: recording.Other, Source: "stethoscope", Low: 30, High: 100, Decimals: 1, tool: func(t standin.Tools) float64 { return t.Places[p] }})
	}
	return out
}

func upper(s string) string {
	if s == "" || s[0] < 'a' || s[0] > 'z' {
		return s
	}
	return string(s[0]-32) + s[1:]
}

// first are the channels that are watched when nobody has chosen.
var first = []string{"engine", "turbine", "output", "road", "throttle", "gear", "fluid", "line", "slip"}
