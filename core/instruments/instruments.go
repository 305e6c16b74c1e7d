// Package instruments is the catalogue of the app: every calculation, from its shelf. The engine that runs them is package instrument;
// the physics stands in the packages that the shelves import.
package instruments

import (
	"innercompass/core/instrument"
	"innercompass/core/instruments/bolts"
	"innercompass/core/instruments/clutches"
	"innercompass/core/instruments/converters"
	"innercompass/core/instruments/fluids"
	"innercompass/core/instruments/leaks"
	"innercompass/core/instruments/listening"
	"innercompass/core/instruments/pressures"
	"innercompass/core/instruments/sizes"
	"innercompass/core/instruments/vibrations"
	"innercompass/core/unitsheet"
)

// shipped are all instruments, in the order in which they are shown within their groups.
var shipped = instrument.NewCatalogue(
	converters.StallSpeed, converters.StallPredicted, converters.Work, converters.PumpTurning, converters.StatorFreewheel, converters.LockupSlip, converters.LockupCapacity, converters.SeatingDepth, converters.Form,
	clutches.PlateCapacity, clutches.BandCapacity, clutches.BandAdjust, clutches.Servo, clutches.StackClearance, clutches.FillTime, clutches.Engagement, clutches.AirCheck, clutches.DryClutch, clutches.ReleaseTravel, clutches.FlywheelPlay,
	pressures.LinePressure, pressures.PressureRise, pressures.ReverseBoost, pressures.FeedLimit, pressures.PumpClearance, pressures.Regulator, pressures.Vacuum, pressures.Modulator, pressures.Governor, pressures.ShiftPoints, pressures.SpringWire, pressures.SpringWeigh, pressures.SpoolTravel, pressures.Orifice, pressures.BoreLeak, pressures.LeakDown, pressures.Droop,
	fluids.Level, fluids.DrainBack, fluids.Look, leaks.Map, fluids.DebrisTray, fluids.Report, fluids.Trend, fluids.Spoilt, fluids.Loss, fluids.Dilution, fluids.Life, fluids.Viscosity, fluids.Cleanliness, fluids.CoolerFlow, fluids.CoolerHeat, fluids.CoolerFlush,
	listening.Map, listening.Ear, vibrations.Pitch, vibrations.JointAngles, vibrations.ShaftCritical, vibrations.SlipAndPlay, vibrations.Flange, vibrations.TrialMass, vibrations.OnePlane, vibrations.Thirds, vibrations.TwoPlanes, vibrations.Unbalance, vibrations.OffCentre, vibrations.DrillDepth,
	sizes.Window, sizes.SelectiveFit, sizes.Flatness, sizes.Coning, sizes.Runout, sizes.WearLeft,
	bolts.TorqueLubricant, bolts.Crowfoot, bolts.TorqueAngle, bolts.BoltCircle, bolts.BoltLengths,
)

// All are the instruments, group by group.
func All() []instrument.Definition { return shipped.All() }

// For returns the instrument of this name, fitted to a unit when u is not nil: see Catalogue.For.
func For(name string, u *unitsheet.Unit) (instrument.Definition, error) { return shipped.For(name, u) }

// Document describes all instruments in Markdown, from their definitions alone.
func Document() string { return shipped.Document() }
