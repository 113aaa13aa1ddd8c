package weather

import (
	"math"

	"gonum.org/v1/gonum/mat"
)

// Chain is how a farm's weather strays from the ordinary: the logarithm of a day's growth against the season's usual, as a chain in
// which each day keeps part of the one before.
type Chain struct {
	Spread float64 // standard deviation of the logarithm of a day's growth
	Days   float64 // days after which a third of a day's weather is left
}

// What a fit rests on, and what it may come to: assumptions, ours.
const (
	fitDays  = 180  // days on record, not filled in, before a chain is fitted
	fitLag   = 7    // days over which it is seen how long weather lingers
	faintest = 0.05 // growth below it is none, so that its logarithm stays within reason

	leastSpread, mostSpread = 0.05, 0.8
	leastDays, mostDays     = 3.0, 60.0
)

// FitChain fits the chain to the growth of successive days, as shares of an ordinary year's; NaN is a day nobody wrote down. A short
// record has none.
func FitChain(growth []float64) (Chain, bool) {
	known := func(i int) bool { return i >= 0 && i < len(growth) && !math.IsNaN(growth[i]) }
	log := func(i int) float64 { return math.Log(math.Max(faintest, growth[i])) }
	var days []int
	for i := range growth {
		if known(i) {
			days = append(days, i)
		}
	}
	if len(days) < fitDays {
		return Chain{}, false
	}
	// The season's usual is a wave of a year through all days.
	wave := func(i int) []float64 {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / 365.25)
		return []float64{1, sin, cos}
	}
	waves, logs := mat.NewDense(len(days), 3, nil), mat.NewVecDense(len(days), nil)
	for row, i := range days {
		waves.SetRow(row, wave(i))
		logs.SetVec(row, log(i))
	}
	var usual mat.VecDense
	if err := usual.SolveVec(waves, logs); err != nil {
		return Chain{}, false
	}
	strayed := make([]float64, len(growth))
	n, squares := float64(len(days)), 0.0
	for _, i := range days {
		w := wave(i)
		strayed[i] = log(i) - w[0]*usual.AtVec(0) - w[1]*usual.AtVec(1) - w[2]*usual.AtVec(2)
		squares += strayed[i] * strayed[i]
	}
	pairs, products := 0.0, 0.0
	for _, i := range days {
		if known(i + fitLag) {
			pairs, products = pairs+1, products+strayed[i]*strayed[i+fitLag]
		}
	}
	c := Chain{Spread: math.Sqrt(squares / n), Days: leastDays}
	if pairs > 0 && squares > 1e-9*n { // weather that never changes does not linger
		if kept := products / pairs / (squares / n); kept > 0 {
			c.Days = -fitLag / math.Log(math.Min(kept, 0.999))
		}
	}
	c.Spread = math.Min(math.Max(c.Spread, leastSpread), mostSpread)
	c.Days = math.Min(math.Max(c.Days, leastDays), mostDays)
	return c, true
}

// Chain fits the chain to the days on record, as they bear on a kind of grass; nil where there are too few.
func (k *Known) Chain(kind Grass) *Chain {
	if k == nil {
		return nil
	}
	growth := make([]float64, len(k.Days))
	for i, d := range k.Days {
		if growth[i] = d.Growth(kind); d.Filled {
			growth[i] = math.NaN()
		}
	}
	c, ok := FitChain(growth)
	if !ok {
		return nil
	}
	return &c
}
