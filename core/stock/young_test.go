package stock

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// sucklers are late-pregnant cows and the calves they are to have.
func sucklers() []Group {
	calf := &Young{BirthKg: 40, From: 21, Fully: 150, UsualKg: 160, Most: 0.022}
	return []Group{
		{ID: "cows", Mob: "A", Name: "Cows", From: spring, BornWith: 65, Class: Class{Count: 40, LiveWeightKg: 665, IntakeShare: 0.02}},
		{ID: "calves", Mob: "A", Name: "Calves", From: spring, Young: calf, Class: Class{LiveWeightKg: 160, IntakeShare: 0.015, DailyGainKg: 1}},
	}
}

var milk = &Change{ReferenceID: "in milk", IntakeShare: 0.024, LUPerHead: 0.8}

// Cows were as heavy the day after calving as the day before.
func TestPregnancyLeavesAtBirth(t *testing.T) {
	h, err := Keep(sucklers(), []Event{{Kind: Birth, Day: spring + 10, Into: "calves", Of: "cows", Head: 40, Change: milk}})
	require.NoError(t, err)
	before, _ := h.ClassOn("cows", spring+9)
	after, _ := h.ClassOn("cows", spring+10)
	assert.InDelta(t, 65, before.LiveWeightKg-after.LiveWeightKg, 1e-9)
	half, err := Keep(sucklers(), []Event{{Kind: Birth, Day: spring + 10, Into: "calves", Of: "cows", Head: 20}})
	require.NoError(t, err)
	mean, _ := half.ClassOn("cows", spring+10)
	assert.InDelta(t, 665-32.5, mean.LiveWeightKg, 1e-9, "half of them: half of it, on the mean")
	twins, err := Keep(sucklers(), []Event{{Kind: Birth, Day: spring + 10, Into: "calves", Of: "cows", Head: 80, Change: milk}})
	require.NoError(t, err)
	lighter, _ := twins.ClassOn("cows", spring+10)
	assert.InDelta(t, 600, lighter.LiveWeightKg, 1e-9, "no more than was there, however many are born")
}

func TestAForgottenBirthIsSeen(t *testing.T) {
	h, err := Keep(sucklers(), nil)
	require.NoError(t, err)
	_, overdue := h.Overdue("cows", "cattle", spring+100)
	assert.False(t, overdue)
	days, overdue := h.Overdue("cows", "cattle", spring+130)
	assert.True(t, overdue)
	assert.Equal(t, 130, days)
	_, overdue = h.Overdue("cows", "sheep", spring+80)
	assert.True(t, overdue, "ewes carry for a shorter time")
	h, err = Keep(sucklers(), []Event{{Kind: Birth, Day: spring + 90, Into: "calves", Of: "cows", Head: 40, Change: milk}})
	require.NoError(t, err)
	_, overdue = h.Overdue("cows", "cattle", spring+130)
	assert.False(t, overdue)
	_, overdue = h.Overdue("calves", "cattle", spring+130)
	assert.False(t, overdue)
}

// New-born calves ate a hundredth and a half of their weight in grass from their first hour.
func TestYoungEatGrassByTheirAge(t *testing.T) {
	h, err := Keep(sucklers(), []Event{{Kind: Birth, Day: spring + 10, Into: "calves", Of: "cows", Head: 40, Change: milk}})
	require.NoError(t, err)
	eats := func(age int) float64 {
		p := h.point(1, h.at(1, spring+10+age), spring+10+age)
		return p.Demand / p.Weight
	}
	assert.Zero(t, eats(0))
	assert.Zero(t, eats(21), "three weeks on milk")
	assert.InDelta(t, 0.015, eats(120), 1e-6, "what the class says it eats, it eats at the weight it says")
	assert.InDelta(t, 0.015*(60.0-21)/(120-21), eats(60), 1e-6)
	before := 0.0
	for age := range 200 {
		assert.GreaterOrEqual(t, eats(age)+1e-12, before)
		before = eats(age)
	}
	assert.LessOrEqual(t, before, 0.022)
	c, _ := h.ClassOn("calves", spring+10)
	assert.Equal(t, 40.0, c.LiveWeightKg, "they weigh what a calf weighs at birth, not what the class does")
}

// 44 calves of 110 kg that eat 1.4 % are what somebody said: the sum on paper holds on the day it was said.
func TestWhatSomebodySaidOfYoungHoldsThatDay(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		g := sucklers()
		g[1].Class.Count, g[1].Class.LiveWeightKg = 44, rapid.Float64Range(70, 220).Draw(t, "weight")
		g[1].Class.IntakeShare = rapid.Float64Range(0.005, 0.02).Draw(t, "share")
		h, err := Keep(g, nil)
		require.NoError(t, err)
		p := h.point(1, h.at(1, spring), spring)
		assert.InEpsilon(t, g[1].Class.IntakeShare, p.Demand/p.Weight, 1e-9)
		later := h.point(1, h.at(1, spring+30), spring+30)
		assert.GreaterOrEqual(t, later.Demand/later.Weight, p.Demand/p.Weight-1e-12, "and more as they grow")
	})
}

func TestWhoStandsInTheHouseEatsNoGrass(t *testing.T) {
	h, err := Keep(sucklers(), nil)
	require.NoError(t, err)
	out := spring + 20
	h.Housed = map[string][]Stretch{"A": {{From: spring + 5, Until: &out}, {From: spring + 200}}}
	assert.Positive(t, h.MobOn("A", spring+4).Demand)
	assert.Zero(t, h.MobOn("A", spring+5).Demand)
	assert.Zero(t, h.MobOn("A", spring+19).Demand)
	assert.Positive(t, h.MobOn("A", spring+20).Demand, "the first day out")
	assert.Zero(t, h.MobOn("A", spring+400).Demand, "nobody has said when they come out again")
	assert.Equal(t, 40.0, h.MobOn("A", spring+5).Head, "they are there all the same")
	for d, p := range h.Series(spring, spring+30)[0] {
		assert.Equal(t, h.MobOn("A", spring+d).Demand, p.Demand, d)
	}
}

func TestRangePeopleSpeakInAcresAndMonths(t *testing.T) {
	s := Season{AnimalUnits: 250, AreaHa: 760, Days: 182.625}
	assert.InDelta(t, 3.04, s.PerAnimalUnit("").Value, 1e-9)
	f := s.Months("")
	assert.InDelta(t, 1500, f.Steps[0].Value, 1e-9, "half a year of 250 units")
	assert.InDelta(t, 1500.0/760, f.Value, 1e-9)
}
