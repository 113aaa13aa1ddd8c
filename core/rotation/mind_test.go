package rotation

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/grazing"
)

func days(n float64) time.Duration { return time.Duration(n * 24 * float64(time.Hour)) }

func TestOnlyWhatIsPressingIsToldOf(t *testing.T) {
	at := func(rule Rule, d float64) Check { return Check{Rule: rule, At: start.Add(days(d))} }
	got := Pressing([]Check{at(TooSoon, -2), at(TooSoon, -0.9), at(ShortOfFeed, 3), at(TooSoon, 5), at(TooSoon, 6), at(ShortOfFeed, 22)}, start)
	assert.Equal(t, []Check{at(TooSoon, -0.9), at(ShortOfFeed, 3), at(TooSoon, 5)}, got, "of yesterday and three weeks, two of each rule")
	assert.Empty(t, Pressing(nil, start))
}

func TestMobsThatStandTogether(t *testing.T) {
	f := farmOf(3, 1)
	mobs := []Mob{mobOn(f, "a", 1, 1, everywhere), mobOn(f, "b", 1, Nowhere, everywhere), mobOn(f, "c", 1, 1, everywhere), mobOn(f, "d", 1, Nowhere, everywhere)}
	assert.Equal(t, [][2]int{{0, 2}}, Together(mobs))
	mobs[2].In = 2
	assert.Empty(t, Together(mobs), "off the pasture is no paddock")
}

func TestWhenAWalkIsDue(t *testing.T) {
	f := farmOf(4, 1)
	f.Paddocks[3].Closures = []Closure{{For: "hay"}}
	seen := func(ago float64) Standing { return Standing{Mass: 2000, MeasuredAt: start.Add(-days(ago))} }
	guess := Standing{Mass: 2000, Guessed: true}
	in := []bool{true, true, false, true}
	for name, c := range map[string]struct {
		standing []Standing
		guessed  float64
		oldest   float64
	}{
		"all is well":                      {[]Standing{seen(1), seen(6.9), seen(50), seen(60)}, 0, 0},
		"a week is not too old":            {[]Standing{seen(7), seen(1), seen(1), seen(1)}, 0, 0},
		"one is old":                       {[]Standing{seen(1), seen(7.5), seen(1), seen(1)}, 0, 7.5},
		"guesses count, and are not old":   {[]Standing{guess, guess, guess, guess}, 2, 0},
		"both":                             {[]Standing{guess, seen(20), seen(1), seen(1)}, 1, 20},
		"neither outside nor closed count": {[]Standing{seen(1), seen(1), guess, guess}, 0, 0},
	} {
		t.Run(name, func(t *testing.T) {
			guessed, old := WalkDue(f, in, c.standing, start)
			if assert.Equal(t, c.guessed > 0, guessed != nil) && guessed != nil {
				assert.Equal(t, c.guessed, guessed.Figures[0].Value)
			}
			if assert.Equal(t, c.oldest > 0, old != nil) && old != nil {
				assert.InDelta(t, c.oldest, old.Figures[0].Value, 1e-9)
			}
		})
	}
}

func TestStayingOnIsWorthAWordWhenItCosts(t *testing.T) {
	assert.Nil(t, Linger(Visit{LingerDays: 9}), "the residual is kept")
	assert.Nil(t, Linger(Visit{LingerDays: 1, Broken: true}), "the day itself is no news")
	r := Linger(Visit{LingerDays: 1.5, LingerMass: 1300, Broken: true})
	require.NotNil(t, r)
	assert.Equal(t, "Stay one day longer than planned: leaves 1300 kg/ha, and the paddock is back 1.5 days later.", r.Plain())
	for _, never := range []float64{31, 208, math.Inf(1)} {
		r = Linger(Visit{LingerDays: never, LingerMass: 1300, Broken: true})
		require.NotNil(t, r)
		assert.Contains(t, r.Plain(), "not back again this season")
	}
}

// A deeper bite is paid back by the clock that sets the rest: where the school's least rest is longer than growth needs, the
// day costs little more than itself.
func TestStayingOnCostsByTheClockThatBinds(t *testing.T) {
	cost := func(least float64) Visit {
		f := farmOf(2, 2)
		mob := mobOn(f, "cows", 1400, 0, everywhere)
		for p := range mob.Limits {
			mob.Limits[p].RestMin = least
		}
		plan := Schedule(f, []Mob{mob}, []Standing{{Mass: 2600, MeasuredAt: start}, {Mass: 2700, MeasuredAt: start}}, nil, start, start.Add(10*24*time.Hour))
		return plan.Visits[0]
	}
	slow, quick := cost(80), cost(1)
	assert.True(t, slow.Broken && quick.Broken)
	assert.InDelta(t, 1, slow.LingerDays, 1e-9, "80 days of rest either way")
	assert.Greater(t, quick.LingerDays, 3.0)
}

func TestStretchesInWhichFeedIsShort(t *testing.T) {
	visit := func(from, to, demand, short float64) Visit {
		return Visit{Enter: start.Add(days(from)), Leave: start.Add(days(to)), Demand: demand, Short: short}
	}
	span := func(from, to float64) Span { return Span{start.Add(days(from)), start.Add(days(to))} }
	got := Short(Plan{Visits: []Visit{visit(0, 3, 1000, 20), visit(3, 6, 1000, 21), visit(6, 8, 1000, 0), visit(9, 11, 1000, 500), visit(10, 10.5, 1000, 500), visit(15, 18, 1000, 300)}})
	assert.Equal(t, []Span{span(3, 11), span(15, 18)}, got, "two in a hundred is no want; what lies within four days is one")
	assert.Empty(t, Short(Plan{}))
}

func TestCoverAndBreakEvenLeaveOutWhatIsClosed(t *testing.T) {
	f := farmOf(4, 2)
	f.Paddocks[1].AreaHa = 1
	f.Paddocks[3].Closures = []Closure{{For: "hay"}}
	standing := []Standing{{Mass: 2000}, {Mass: 2600}, {Mass: 9000, Guessed: true}, {Mass: 9000}}
	all := []bool{true, true, true, true}
	cover := CoverFigure(f, all, standing, start)
	require.NotNil(t, cover)
	assert.InDelta(t, (2*2000+2600)/3.0, cover.Value, 1e-9, "by area, neither guessed nor closed")
	assert.Nil(t, CoverFigure(f, []bool{false, false, true, true}, standing, start))

	cows, ewes := mobOn(f, "cows", 90, 0, everywhere), mobOn(f, "ewes", 45, 0, everywhere)
	for p := range ewes.Limits {
		ewes.Limits[p].U = 0.75
	}
	even := BreakEven(f, all, []Mob{cows, ewes}, start, "test")
	require.NotNil(t, even)
	assert.InDelta(t, (90/0.9+45/0.75)/5, even.Value, 1e-9, "what they eat and tread, over the 5 ha that are open")
	assert.InDelta(t, 100/2.0, BreakEven(f, []bool{true, false, false, true}, []Mob{cows}, start, "test").Value, 1e-9)
	assert.Nil(t, BreakEven(f, []bool{false, false, false, true}, []Mob{cows}, start, "test"))
	assert.Nil(t, BreakEven(f, all, nil, start, "test"), "nothing eats")
}

func TestWhereAnEstimateComesFrom(t *testing.T) {
	seen := Standing{Looks: 1, MeasuredAt: start.Add(-days(0.5)), Factor: 0.9}
	assert.Equal(t, "one walk, the last today", seen.Sources(start, true))
	seen.MeasuredAt, seen.Looks = start.Add(-days(1.5)), 3
	assert.Equal(t, "3 walks and looks, the last yesterday; since then growth by the curve × 0.90 and the weather, less what stock ate", seen.Sources(start, true))
	seen.MeasuredAt = start.Add(-days(9))
	assert.Equal(t, "3 walks and looks, the last 9 days ago; since then growth by the curve × 0.90, less what stock ate", seen.Sources(start, false))
	assert.Contains(t, Standing{Guessed: true}.Sources(start, true), "nobody has measured it")
}

func TestAPaddockIsLookedAt(t *testing.T) {
	f := farmOf(2, 1)
	left := start.Add(-days(20))
	f.Paddocks[1].Closures = []Closure{{For: "hay"}}
	look := f.Look(0, Standing{Mass: 2000, LastLeft: &left}, 2600, start)
	assert.InDelta(t, 20, *look.Rest, 1e-9)
	assert.Equal(t, f.DaysTo(0, Standing{Mass: 2000}, 2600, start), look.DaysToGo)
	assert.False(t, look.Closed)
	state, _ := grazing.Readiness(f.Look(1, Standing{Mass: 2700}, 2600, start), leys)
	assert.Equal(t, grazing.Stop, state, "closed")
}

func TestAMobOutOfFeedIsFound(t *testing.T) {
	f := farmOf(3, 1)
	mobs := []Mob{mobOn(f, "a", 1, 0, everywhere), mobOn(f, "b", 1, Nowhere, everywhere), mobOn(f, "c", 1, 2, everywhere)}
	assert.Equal(t, []int{2}, OutOfFeed(Farm{}, mobs, []Standing{{Mass: leys.Residual + 1}, {Mass: 0}, {Mass: leys.Residual}}, start))
}
