package plan

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Further situations, and what a good manager does in each.

// visited are the paddocks that a mob is planned into, with how often.
func (p Plan) visited(mob string) map[string]int {
	out := map[string]int{}
	for _, v := range p.planned(mob) {
		if v.Paddock != nil {
			out[*v.Paddock]++
		}
	}
	return out
}

func TestAFlushLeavesGroundOutOfTheRound(t *testing.T) {
	grazed := func(growth float64) int {
		p := situation(30, alike(12, 2300, 25), 8)
		for i := range p.Paddocks {
			p.Paddocks[i].Peak = Series{growth}
		}
		cows(p, 260, false)
		p.Weights.Late = 1 // for leaf, not for stalks
		return len(wellPlanned(t, p).visited("m1"))
	}
	assert.Less(t, grazed(95), grazed(25), "what grows faster than they eat is closed for a cut, not eaten old")
}

func TestTwinsGoFirstAndTheRestCleanUp(t *testing.T) {
	p := situation(20, alike(9, 2700, 30), 8, 18)
	twins := cows(p, 300, false)
	twins.Key, twins.Limits.Residual = "twins", 1900
	singles := cows(p, 200, false)
	singles.Key, singles.Follows, singles.Limits.Residual = "singles", "twins", 1400
	got := wellPlanned(t, p)
	before, after := got.planned("twins"), got.planned("singles")
	require.Greater(t, len(before), 3)
	for i, v := range after[1:] {
		assert.Equal(t, *before[i].Paddock, *v.Paddock)
		assert.Less(t, v.MassOut, before[i].MassOut, "they take what was left")
		assert.Greater(t, before[i].MassOut, 1500.0, "twins are not asked to")
	}
	assert.Zero(t, got.Cost.Short, "nobody goes short for it")
}

func TestCattleComeBehindSheepWhereTheyMay(t *testing.T) {
	p := situation(16, alike(7, 2700, 30), 8)
	ewes := cows(p, 250, false)
	ewes.Key = "ewes"
	cattle := cows(p, 250, true)
	cattle.Key, cattle.Follows = "cattle", "ewes"
	for _, pad := range p.Paddocks[:5] {
		cattle.Ground = append(cattle.Ground, pad.Key) // the last two are for sheep only
	}
	got := wellPlanned(t, p)
	for _, v := range got.planned("cattle") {
		if v.Paddock != nil {
			assert.NotContains(t, []string{"p6", "p7"}, *v.Paddock)
		}
	}
}

func TestNoTroughIsPlannedForInFrost(t *testing.T) {
	p := situation(20, alike(6, 2700, 30), 8)
	p.Paddocks[3].Closed = []Closed{{5, 15}} // its water freezes
	cows(p, 400, true)
	got := wellPlanned(t, p)
	for day := 5.0; day < 15; day += 0.25 {
		assert.NotEqual(t, "p4", got.at("m1", day))
	}
	assert.Contains(t, got.visited("m1"), "p4", "before it or after it is as good as any")
}

func TestGroundWithWormsIsLeftUntilTheyHaveDied(t *testing.T) {
	p := situation(70, alike(18, 2500, 80), 8)
	ewes := cows(p, 190, true)
	ewes.Limits.RestMin, ewes.Limits.StayMax, ewes.Limits.TooOld = 60, 4, 4500
	p.Weights.Rest, p.Weights.Stay = 30, 5 // a farm's own
	got := wellPlanned(t, p)
	last := map[string]float64{}
	for _, v := range got.Visits {
		if v.Paddock == nil {
			continue
		}
		assert.LessOrEqual(t, v.Leave-v.Enter, 4.01, "shorter than hatching")
		if left, ok := last[*v.Paddock]; ok {
			assert.GreaterOrEqual(t, v.Enter-left, 59.9, "back in %s", *v.Paddock)
		}
		last[*v.Paddock] = v.Leave
	}
}

func TestAMobThatGrowsGetsShorterStays(t *testing.T) {
	p := situation(24, alike(14, 2700, 30), 8, 18)
	demand := Series{}
	for d := range 24 {
		demand = append(demand, 200+float64(300*(d/12))) // others join on day 12
	}
	m := cows(p, 0, false)
	m.Demand = demand
	got := wellPlanned(t, p)
	var early, late []float64
	for _, v := range got.planned("m1") {
		switch days := v.Leave - v.Enter; {
		case v.Leave <= 12:
			early = append(early, days)
		case v.Enter >= 12 && v.Leave < 24:
			late = append(late, days)
		}
	}
	assert.Less(t, mean(late), mean(early))
	assert.Zero(t, got.Cost.Short)
}

func mean(x []float64) (m float64) {
	for _, v := range x {
		m += v / float64(len(x))
	}
	return m
}

func TestFarGroundIsNotGoneToAndFro(t *testing.T) {
	p := situation(24, alike(10, 2700, 30), 8)
	for i := 5; i < 10; i++ {
		p.Paddocks[i].X += 4000 // over the hill
	}
	cows(p, 450, false)
	got := wellPlanned(t, p)
	crossings, far := 0, false
	for _, v := range got.planned("m1") {
		if is := v.Paddock != nil && (*v.Paddock >= "p6" || *v.Paddock == "p10"); is != far {
			crossings, far = crossings+1, is
		}
	}
	assert.LessOrEqual(t, crossings, 2, "there once, and back at the most")
}

func TestASownPaddockIsLeftToComeUp(t *testing.T) {
	p := situation(20, alike(7, 2600, 30), 8)
	p.Paddocks[2].Mass = 300
	cows(p, 350, true)
	got := wellPlanned(t, p)
	for _, v := range got.Visits {
		if v.Paddock != nil && *v.Paddock == "p3" {
			assert.Greater(t, v.MassIn, 1900.0, "not before it has come up")
		}
	}
}

func TestALargePaddockGetsTheLongStay(t *testing.T) {
	p := situation(16, alike(8, 2700, 30), 8, 18)
	p.Paddocks[4].AreaHa = 3
	cows(p, 500, false)
	got := wellPlanned(t, p)
	longest, others := 0.0, 0.0
	for _, v := range got.planned("m1") {
		if days := v.Leave - v.Enter; *v.Paddock == "p5" {
			longest = math.Max(longest, days)
		} else if v.Leave < 16 {
			others = math.Max(others, days)
		}
	}
	assert.Greater(t, longest, others)
}

func TestMovedOnSaturdaysOnlyTheyGetWhatLastsTheWeek(t *testing.T) {
	p := situation(28, alike(6, 2700, 30), 8)
	p.MoveDays = []int{0, 7, 14, 21}
	for i := range p.Paddocks {
		p.Paddocks[i].AreaHa = []float64{1, 3, 0.7, 3, 0.7, 3}[i]
	}
	cows(p, 400, false).Limits.StayMax = 8
	got := wellPlanned(t, p)
	for key := range got.visited("m1") {
		assert.NotContains(t, []string{"p3", "p5"}, key, "two days' feed does not last a week")
	}
	for _, v := range got.planned("m1") {
		assert.Zero(t, math.Mod(math.Floor(v.Enter), 7), "on no other day")
	}
}

func TestTwoMobsShareTheGroundAndNotThePaddock(t *testing.T) {
	p := situation(18, alike(12, 2600, 30), 8)
	p.Paddocks[9].Mass = 3000 // the ripest, that both would have
	cows(p, 300, false)
	cows(p, 150, false)
	got := wellPlanned(t, p)
	for day := 1.0; day < 18; day += 0.5 {
		if at := got.at("m1", day); at != "" {
			assert.NotEqual(t, at, got.at("m2", day), "day %g", day)
		}
	}
	assert.Zero(t, got.Cost.Short, "and there is enough for both")
}
