package forage

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestGrowAndDieIsGrowthLessWhatDies(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		mass, peak := rapid.Float64Range(50, 7000).Draw(t, "mass"), rapid.Float64Range(0, 120).Draw(t, "peak")
		dying, days := rapid.Float64Range(0, 0.05).Draw(t, "dying"), rapid.Float64Range(0, 40).Draw(t, "days")
		const ceiling = 5000.0
		after, died := GrowAndDie(mass, peak, ceiling, dying, days)
		// Small steps, one after the other.
		stands, gone, n := mass, 0.0, 4000
		for range n {
			step := days / float64(n)
			middle := stands + (4*peak/ceiling*stands*(1-stands/ceiling)-dying*stands)*step/2
			gone += dying * middle * step
			stands += (4*peak/ceiling*middle*(1-middle/ceiling) - dying*middle) * step
		}
		assert.InEpsilon(t, stands, after, 1e-5)
		assert.InDelta(t, gone, died, 1e-4*(1+gone))
		cut := rapid.Float64Range(0, 1).Draw(t, "cut")
		first, one := GrowAndDie(mass, peak, ceiling, dying, days*cut)
		second, two := GrowAndDie(first, peak, ceiling, dying, days*(1-cut))
		assert.InEpsilon(t, after, second, 1e-9, "cutting time into pieces changes nothing")
		assert.InDelta(t, died, one+two, 1e-6*(1+died))
		assert.Equal(t, Grow(mass, peak, ceiling, days), first0(GrowAndDie(mass, peak, ceiling, 0, days)))
	})
}

func first0(v, _ float64) float64 { return v }

// The filter's errors follow the curve: a little more mass, or a little more growth, before, moves what stands after as it says.
func TestTheFilterKnowsHowDyingCarriesItsErrors(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		mass, peak := rapid.Float64Range(300, 6000).Draw(t, "mass"), rapid.Float64Range(0, 90).Draw(t, "peak")
		dying, days := rapid.Float64Range(1e-4, 0.04).Draw(t, "dying"), rapid.Float64Range(0.1, 10).Draw(t, "days")
		const ceiling, bit = 5000.0, 1e-5
		e := Believe(mass, 0.1)
		e.covariance, e.varFactor = 0, 0
		at := func(mass, factor float64) float64 { return first0(GrowAndDie(mass, peak*factor, ceiling, dying, days)) }
		onMass := math.Log(at(mass*(1+bit), 1)/at(mass, 1)) / bit
		onFactor := math.Log(at(mass, 1+bit)/at(mass, 1)) / bit
		_, died := e.Grow(peak, ceiling, dying, days)
		noise := ownNoise*ownNoise*days/7 + math.Pow(witherError*died/e.Mass(), 2) + math.Pow(growthNoise*onFactor, 2)*7/math.Max(1, days)
		assert.InDelta(t, onMass*onMass*0.01, e.varMass-noise, 1e-6)
		f := Believe(mass, 1e-9)
		f.Grow(peak, ceiling, dying, days)
		assert.InDelta(t, onFactor*onFactor*FactorSpread*FactorSpread, f.varMass-noise, 1e-6)
		assert.InDelta(t, onFactor*FactorSpread*FactorSpread, f.covariance, 1e-6)
	})
}
