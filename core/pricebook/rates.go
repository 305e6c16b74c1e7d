package pricebook

import (
	"math"
	"strconv"

	"innercompass/core/money"
	"innercompass/core/quantity"
)

// RediagnoseHours is the time to find out why a vehicle came back (common practice, no source).
const RediagnoseHours = 1.5

// Rates are the shop's figures.
type Rates struct {
	Labour      float64 // per hour
	FluidLitre  float64 // per litre
	Rediagnose  float64 // hours to diagnose a return
	Goodwill    float64 // what a return costs beyond the work
	Trial       float64 // closing and road test
	Tax         float64 // share on top of the sum
	Consumables float64 // share of everything else
	Guide       bool    // prices of the app's guide count where the price book has none
	Currency    string  // sign before amounts in sentences
	Style       quantity.Style
}

// Say writes an amount in a sentence.
func (r Rates) Say(a money.Amount) string { return a.In(r.Style, r.Currency) }

// Percent writes a share in a sentence, without digits that say nothing.
func (r Rates) Percent(share float64) string {
	return r.Style.Write(strconv.FormatFloat(math.Round(share*1e5)/1e3, 'f', -1, 64)) + " %"
}
