package stock

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var herd = Mob{{Count: 48, LiveWeightKg: 620, IntakeShare: 0.023}, {Count: 44, LiveWeightKg: 110, IntakeShare: 0.014, DailyGainKg: 0.9}}

func TestDemandOfAHerd(t *testing.T) {
	assert.InDelta(t, 752.24, herd.DemandOn(0), 1e-9)
	later := 684.48 + 44*(110+0.9*30)*0.014
	assert.InDelta(t, later, herd.DemandOn(30), 1e-9, "calves grow, and so does what they eat")
	f, out, err := herd.DemandFigure(30, "by hand")
	require.NoError(t, err)
	assert.InDelta(t, later, f.Value, 1e-9, "figure and series agree")
	assert.InDelta(t, f.Value, out.Demand, 1e-12)
	assert.Contains(t, f.Steps[0].Filled, "620 kg")
}

func TestSupplementNeverMakesPastureNegative(t *testing.T) {
	full := 1.0
	assert.Zero(t, Mob{{Count: 10, LiveWeightKg: 50, IntakeShare: 0.03, SupplementKg: 9, Substitution: &full}}.DemandOn(0))
}

func TestRateAndDensityDiffer(t *testing.T) {
	out, _, err := Stocking(StockingIn{Animals: []Animals{{48, 620}}, SeasonAreaHa: 32, OpenAreaHa: 1.6})
	require.NoError(t, err)
	assert.InDelta(t, 20, out.Density/out.LiveWeightPerHa, 1e-9)
	assert.InDelta(t, 48*620.0/454/32, out.AUPerHa, 1e-9)
}

func TestGoatsForACow(t *testing.T) {
	out, _, err := Equivalence(EquivalenceIn{Eater{14.26, 0.65}, Eater{2.58, 0.75}})
	require.NoError(t, err)
	assert.InDelta(t, 6.4, out.SecondPerFirst, 0.05)
}
