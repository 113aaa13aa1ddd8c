package rotation

import (
	"testing"
	"time"

	"fjell/core/grazing"
	"fjell/core/reference"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestMobsThatShareAPaddockShareItsFeed(t *testing.T) {
	f := farmOf(1, 4)
	s := Standing{Mass: 2800, HalfWidth: 250, MeasuredAt: start, Factor: 1, FactorHalf: 0.2}
	cows, ewes := mobOn(f, "cows", 900, 0, everywhere), mobOn(f, "ewes", 450, 0, everywhere)
	alone, together := FeedUntil(f, []Mob{cows}, 0, s, start), FeedUntil(f, []Mob{cows, ewes}, 0, s, start)
	assert.InDelta(t, 1.5, alone.Until.Sub(start).Hours()/together.Until.Sub(start).Hours(), 0.15, "half as much again is eaten")
	ewes.Limits[0].Residual = 2000
	assert.True(t, FeedUntil(f, []Mob{cows, ewes}, 0, s, start).Until.Before(together.Until), "the taller residual is reached first")
}

func TestFeedThatOutlastsTheSeason(t *testing.T) {
	f := farmOf(1, 40)
	feed := FeedUntil(f, []Mob{mobOn(f, "six sheep", 7, 0, everywhere)}, 0, Standing{Mass: 2600, HalfWidth: 300, MeasuredAt: start}, start)
	assert.True(t, feed.Beyond)
	none := FeedUntil(f, []Mob{mobOn(f, "cows", 900, 0, everywhere)}, 0, Standing{Mass: 1400, HalfWidth: 300, MeasuredAt: start}, start)
	assert.Equal(t, start, none.Until.UTC(), "used up")
	assert.True(t, none.Latest.After(start), "or perhaps not quite")
}

// The doubt counts growth: where nobody has learned how fast it grows, long feed is less sure.
func TestTheDoubtOfFeedCountsGrowth(t *testing.T) {
	f := farmOf(1, 6)
	mob := []Mob{mobOn(f, "cows", 500, 0, everywhere)}
	wide := func(factorHalf float64) time.Duration {
		feed := FeedUntil(f, mob, 0, Standing{Mass: 2800, HalfWidth: 50, MeasuredAt: start, Factor: 1, FactorHalf: factorHalf}, start)
		return feed.Latest.Sub(feed.Earliest)
	}
	assert.Greater(t, wide(0.5), wide(0.05)*3/2)
	assert.Equal(t, wide(unlearned), wide(0), "not learned is not known for sure")
}

func TestWhyTheyLeaveIsSaid(t *testing.T) {
	f := farmOf(4, 2)
	rested := start.AddDate(0, 0, -40)
	standing := make([]Standing, 4)
	for p := range standing {
		standing[p] = Standing{Mass: 2700, MeasuredAt: start, LastLeft: &rested}
	}
	why := func(demand float64, pins ...Pin) string {
		plan := Schedule(f, []Mob{mobOn(f, "cows", demand, 0, everywhere)}, standing, pins, start, start.Add(days(12)))
		require.NotNil(t, plan.Visits[0].Leaves)
		return plan.Visits[0].Leaves.Plain()
	}
	assert.Equal(t, "3 days is the longest stay: after it they bite the regrowth", why(200))
	assert.Equal(t, "by the next move hour they would eat below 1500 kg/ha", why(1500))
	assert.Equal(t, "planned so", why(200, Pin{Mob: 0, Paddock: 2, Enter: f.NextSlot(start.Add(days(1)))}))
	plan := Schedule(f, []Mob{mobOn(f, "cows", 1, 0, everywhere)}, standing, nil, start, start.Add(days(1)))
	assert.Nil(t, plan.Visits[0].Leaves, "the plan ends: that is no reason to go")
}

// Who was held did not go for want of days: what let them go is that something was ready.
func TestWhoWasHeldIsToldWhyTheyCouldNotGo(t *testing.T) {
	f := farmOf(3, 1)
	lately := start.AddDate(0, 0, -8)
	standing := []Standing{{Mass: 2000, MeasuredAt: start}, {Mass: 2700, MeasuredAt: start, LastLeft: &lately}, {Mass: 2600, MeasuredAt: start, LastLeft: &lately}}
	plan := Schedule(f, []Mob{mobOn(f, "cows", 400, 0, everywhere)}, standing, nil, start, start.Add(days(20)))
	require.False(t, plan.Visits[0].Held.IsZero(), "ten days until anything is rested")
	require.NotNil(t, plan.Visits[0].Leaves)
	assert.Equal(t, "until then nothing that is rested has feed", plan.Visits[0].Leaves.Plain())
}

// Feed is left until the residual of that day: where the hot weeks begin meanwhile, a taller sward is reached sooner.
func TestFeedEndsSoonerWhereTheHotWeeksBegin(t *testing.T) {
	f := farmOf(1, 4)
	school, err := grazing.FindSchool(grazing.LeafResidual)
	require.NoError(t, err)
	sward, err := reference.Load().Sward("ryegrass_white_clover")
	require.NoError(t, err)
	until := func(from string) time.Time {
		school.Taller = &grazing.Taller{From: from, Until: "12-01", By: 3}
		limits, err := school.On(sward)
		require.NoError(t, err)
		cows := mobOn(f, "cows", 500, 0, everywhere)
		cows.Limits[0] = limits
		return FeedUntil(f, []Mob{cows}, 0, Standing{Mass: 2800, HalfWidth: 250, MeasuredAt: start}, start).Until
	}
	day := func(n int) string { return start.AddDate(0, 0, n).Format("01-02") }
	usual := until(day(60))
	require.Greater(t, usual.Sub(start).Hours()/24, 6.0)
	assert.True(t, until(day(4)).Before(usual), "it becomes hot while they eat")
	assert.True(t, until(day(-4)).Before(usual), "it is hot")
}
