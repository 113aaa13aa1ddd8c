package rotation

import (
	"fmt"
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fjell/core/forage"
	"fjell/core/grazing"
	"fjell/core/weather"
)

var (
	flat  = forage.Curve{1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1}
	start = time.Date(2026, 6, 10, 5, 30, 0, 0, time.UTC)
	leys  = grazing.Limits{Entry: 2600, TooOld: 3100, Residual: 1500, RestMin: 18, StayMax: 3, U: 0.9}
)

func farmOf(n int, area float64) Farm {
	f := Farm{Location: time.UTC, Hours: Hours{Minutes: []int{480, 1080}}}
	for i := 0; i < n; i++ {
		f.Paddocks = append(f.Paddocks, Paddock{ID: fmt.Sprint(i), Name: fmt.Sprintf("P%d", i+1), AreaHa: area,
			X: float64(i%6) * 200, Y: float64(i/6) * 200, Peak: 60, Ceiling: 5200, Curve: flat})
	}
	return f
}

func mobOn(f Farm, name string, demand float64, in int, ground func(p int) bool) Mob {
	m := Mob{ID: name, Name: name, In: in, Since: start.Add(-24 * time.Hour), Demand: Steady(demand)}
	for p := range f.Paddocks {
		m.Limits = append(m.Limits, leys)
		m.Ground = append(m.Ground, ground(p))
	}
	return m
}

func everywhere(int) bool { return true }

// wedge is a feed wedge: paddocks from residual up to entry.
func wedge(f Farm) []Standing {
	out := make([]Standing, len(f.Paddocks))
	for i := range out {
		mass := leys.Residual + (leys.Entry+100-leys.Residual)*float64(i)/float64(len(out)-1)
		left := start.Add(-time.Duration(3+i*30/len(out)) * 24 * time.Hour)
		out[i] = Standing{Mass: mass, HalfWidth: 250, Shared: 150, MeasuredAt: start.Add(-48 * time.Hour), LastLeft: &left}
	}
	return out
}

func TestSimulationConservesMass(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := farmOf(rapid.IntRange(3, 12).Draw(t, "paddocks"), rapid.Float64Range(0.5, 4).Draw(t, "area"))
		var standing []Standing
		for i := range f.Paddocks {
			f.Paddocks[i].Peak = rapid.Float64Range(0, 120).Draw(t, "peak")
			f.Paddocks[i].Ceiling = rapid.Float64Range(2000, 7000).Draw(t, "ceiling")
			standing = append(standing, Standing{Mass: rapid.Float64Range(300, 8000).Draw(t, "mass")})
		}
		mobs := []Mob{mobOn(f, "a", rapid.Float64Range(10, 3000).Draw(t, "da"), 0, everywhere),
			mobOn(f, "b", rapid.Float64Range(10, 3000).Draw(t, "db"), Nowhere, everywhere)}
		plan := Schedule(f, mobs, standing, nil, start, start.Add(40*24*time.Hour))
		for p, pad := range f.Paddocks {
			end := plan.Trace[p][len(plan.Trace[p])-1].Mass
			k := plan.Totals[p]
			change := (end - standing[p].Mass) * pad.AreaHa
			assert.InDelta(t, change, k.Grown-k.Eaten-k.Lost+k.Corrected, 1e-6*math.Max(1, k.Grown), "growth − eaten − lost = change")
		}
		for _, v := range plan.Visits {
			assert.InDelta(t, v.Demand, v.Eaten+v.Short, 1e-6*math.Max(1, v.Demand))
			assert.GreaterOrEqual(t, v.MassOut, math.Min(v.MassIn, leys.Residual/2)-1e-6, "nobody eats below half the residual")
			assert.True(t, v.Leave.After(v.Enter))
		}
		for _, c := range plan.Checks {
			assert.NotEqual(t, TwoMobs, c.Rule, "a plan never puts two mobs together")
		}
	})
}

func TestHalfDaysAddUpToClosedForm(t *testing.T) {
	f := farmOf(1, 1)
	plan := Schedule(f, nil, []Standing{{Mass: 1500}}, nil, start, start.Add(18*24*time.Hour))
	want := forage.Grow(1500, 60, 5200, 18)
	assert.InEpsilon(t, want, plan.Trace[0][len(plan.Trace[0])-1].Mass, 1e-9)
}

func TestScheduleKeepsTheSchool(t *testing.T) {
	f := farmOf(16, 2)
	mobs := []Mob{mobOn(f, "cows", 900, 15, everywhere)}
	plan := Schedule(f, mobs, wedge(f), nil, start, start.Add(40*24*time.Hour))
	require.Greater(t, len(plan.Visits), 10)
	for i, v := range plan.Visits {
		if i > 0 {
			assert.Equal(t, plan.Visits[i-1].Leave, v.Enter, "the mob is always somewhere")
			h, m, _ := v.Enter.Clock()
			assert.Contains(t, []int{480, 1080}, h*60+m, "moves are at move hours")
		}
		if i+1 < len(plan.Visits) {
			assert.GreaterOrEqual(t, v.MassOut, leys.Residual*0.99, "paddock %s leaves the residual", f.Paddocks[v.Paddock].Name)
			assert.LessOrEqual(t, v.Leave.Sub(v.Enter).Hours()/24, leys.StayMax+0.01)
		}
		assert.LessOrEqual(t, len(v.Instead), 2)
		assert.NotEmpty(t, v.Reasons)
	}
	first := plan.Visits[1]
	assert.Equal(t, 14, first.Paddock, "the ripest goes first")
	assert.Greater(t, first.LingerDays, 1.0, "a deeper bite costs more rest than the day itself")
}

// Short of grass they do not go round faster: rest binds, they are held and fed, and what is missing is said.
func TestShortOfGrassTheRoundDoesNotGetFaster(t *testing.T) {
	f := farmOf(4, 1)
	standing := wedge(f)
	mob := mobOn(f, "cows", 900, 0, everywhere)
	plan := Schedule(f, []Mob{mob}, standing, nil, start, start.Add(60*24*time.Hour))
	kg, from := 0.0, time.Time{}
	for _, c := range plan.Checks {
		assert.NotEqual(t, RestTooShort, c.Rule, "%s", c.Reason.Plain())
		if c.Rule == NoPaddock {
			require.NotEmpty(t, c.Reason.Figures)
			kg += c.Reason.Figures[0].Value
			if from.IsZero() {
				from = c.At
			}
		}
	}
	for _, v := range plan.Visits {
		if v.Rest != nil && !v.Fact {
			assert.GreaterOrEqual(t, *v.Rest, leys.RestMin-slackDays)
		}
	}
	grown := 0.0
	for p := range f.Paddocks {
		grown += plan.Totals[p].Eaten
	}
	assert.InDelta(t, 60*900-grown, kg, 0.05*60*900, "what grass does not give is missing, and all of it is said")
	assert.True(t, from.After(start) && from.Before(start.Add(15*24*time.Hour)), "from the day on which it runs out: %s", from)
	assert.Less(t, len(plan.Visits), 25, "and they are not driven about for nothing")
}

// A school that counts no days waits until the mass at which it enters is back: short of grass it does not go faster either.
func TestAGrazedPaddockIsRestedWhenItsEntryIsBack(t *testing.T) {
	f := farmOf(4, 1)
	mob := mobOn(f, "ewes", 900, 0, everywhere)
	for p := range mob.Limits {
		mob.Limits[p].RestMin, mob.Limits[p].StayMax = 0, 5
	}
	plan := Schedule(f, []Mob{mob}, wedge(f), nil, start, start.Add(days(60)))
	entered := map[int]int{}
	for _, v := range plan.Visits {
		if entered[v.Paddock]++; entered[v.Paddock] > 1 {
			assert.GreaterOrEqual(t, v.MassIn, leys.Entry*(1-slackShare))
		}
	}
	assert.Less(t, len(plan.Visits), 12)
}

func TestNobodyGoesWhereThereIsNoFeed(t *testing.T) {
	f := farmOf(4, 1)
	rested := start.Add(-40 * 24 * time.Hour)
	standing := []Standing{{Mass: 1600, LastLeft: &rested}, {Mass: 1400, LastLeft: &rested, MeasuredAt: start}, {Mass: 1900, LastLeft: &rested, MeasuredAt: start}, {Mass: 4000, Guessed: true}}
	plan := Schedule(f, []Mob{mobOn(f, "cows", 500, 0, everywhere)}, standing, nil, start, start.Add(4*24*time.Hour))
	require.Greater(t, len(plan.Visits), 2)
	assert.Equal(t, 2, plan.Visits[1].Paddock, "what was measured goes before what is guessed, however tall")
	assert.Equal(t, 3, plan.Visits[2].Paddock, "and a guess before a paddock without feed")
}

func TestTooLateAndNeverReady(t *testing.T) {
	f := farmOf(3, 2)
	f.Paddocks[2].Ceiling = 2000
	standing := []Standing{{Mass: 1600}, {Mass: 4200}, {Mass: 1900}}
	plan := Schedule(f, []Mob{mobOn(f, "cows", 800, 0, everywhere)}, standing, nil, start, start.Add(14*24*time.Hour))
	rules := map[Rule]bool{}
	for _, c := range plan.Checks {
		rules[c.Rule] = true
	}
	assert.True(t, rules[TooLate])
	assert.True(t, rules[NeverReady])
}

func TestPinsAreKept(t *testing.T) {
	f := farmOf(16, 2)
	mobs := []Mob{mobOn(f, "cows", 900, 15, everywhere), mobOn(f, "ewes", 300, 0, everywhere)}
	at := time.Date(2026, 6, 16, 18, 0, 0, 0, time.UTC)
	plan := Schedule(f, mobs, wedge(f), []Pin{{Mob: 0, Paddock: 9, Enter: at}}, start, start.Add(30*24*time.Hour))
	found := false
	for _, v := range plan.Visits {
		if v.Pinned {
			found = true
			assert.Equal(t, 9, v.Paddock)
			assert.Equal(t, at, v.Enter)
		} else if v.Paddock == 9 {
			assert.True(t, !v.Enter.Before(at) || !v.Leave.After(at), "nobody stands in it when the pinned mob comes")
		}
	}
	assert.True(t, found)
}

func TestClosedAndForeignGroundIsLeftAlone(t *testing.T) {
	f := farmOf(8, 2)
	f.Paddocks[7].Closures = []Closure{{For: "hay"}}
	plan := Schedule(f, []Mob{mobOn(f, "cows", 500, 0, func(p int) bool { return p != 6 })}, wedge(f), nil, start, start.Add(20*24*time.Hour))
	for _, v := range plan.Visits {
		assert.NotContains(t, []int{6, 7}, v.Paddock)
	}
}

func TestAClosureEndsOnItsDay(t *testing.T) {
	f := farmOf(4, 2)
	opens := start.Add(8 * 24 * time.Hour)
	f.Paddocks[3].Closures = []Closure{{Until: opens, For: "nesting birds"}}
	plan := Schedule(f, []Mob{mobOn(f, "cows", 500, 0, everywhere)}, wedge(f), nil, start, start.Add(30*24*time.Hour))
	entered := false
	for _, v := range plan.Visits {
		if v.Paddock == 3 {
			entered = true
			assert.False(t, v.Enter.Before(opens), "nobody goes in before it opens")
		}
	}
	assert.True(t, entered, "and it is used afterwards")
}

func TestNowhereToGo(t *testing.T) {
	f := farmOf(1, 2)
	plan := Schedule(f, []Mob{mobOn(f, "cows", 500, 0, everywhere)}, []Standing{{Mass: 2600}}, nil, start, start.Add(14*24*time.Hour))
	require.Len(t, plan.Visits, 1)
	stuck := 0
	for _, c := range plan.Checks {
		if c.Rule == NoPaddock {
			stuck++
		}
	}
	assert.Equal(t, 1, stuck, "said once, not at every move hour")
	assert.Nil(t, plan.Visits[0].Leaves, "and they do not go anywhere")
	assert.GreaterOrEqual(t, plan.Visits[0].MassOut, leys.Residual*0.99, "they are fed, the grass is not eaten into the ground")
}

func TestAFarmWithoutMoveHoursMovesInTheMorning(t *testing.T) {
	f := farmOf(1, 1)
	f.Hours.Minutes = nil
	assert.Equal(t, 8, f.NextSlot(start).Hour())
	assert.True(t, f.NextSlot(start).After(start))
}

func TestRecountFollowsFacts(t *testing.T) {
	f := farmOf(3, 2)
	mobs := []Mob{mobOn(f, "cows", 600, Nowhere, everywhere)}
	guesses := []Standing{Guess(leys, 5000), Guess(leys, 5000), Guess(leys, 5000)}
	day := func(d int, h int) time.Time { return time.Date(2026, 5, d, h, 0, 0, 0, time.UTC) }
	stays := []Stay{{0, 0, day(10, 8), day(12, 8)}, {0, 1, day(12, 8), time.Time{}}}
	measured := []Measured{{Paddock: 0, At: day(9, 9), Mass: 2600, HalfWidth: 200, Shared: 100}, {Paddock: 1, At: day(9, 9), Mass: 2400, HalfWidth: 200, Shared: 100},
		{Paddock: 0, At: day(12, 8), Mass: 1700, HalfWidth: 150, Shared: 100, ID: "look"}}
	past := Recount(f, mobs, guesses, stays, measured, day(9, 0), day(14, 8))
	blind := Recount(f, mobs, guesses, stays, measured[:2], day(9, 0), day(14, 8)).Standing[0]
	seen := past.Standing[0]
	looked := forage.Grow(1700, 60, 5200, 2)
	assert.Less(t, math.Abs(seen.Mass-looked), math.Abs(blind.Mass-looked), "the look back corrects what was reckoned, and they meet")
	assert.Less(t, seen.HalfWidth, blind.HalfWidth, "and makes it surer")
	assert.Equal(t, 2, seen.Looks)
	require.Len(t, past.Bites[0], 1)
	assert.InDelta(t, 600*2/0.9/2, past.Bites[0][0].Removed, 1)
	assert.Len(t, past.Bites[1], 1, "of a stay that goes on, what is gone so far")
	assert.Empty(t, past.Odd)
	measured[2].Mass = 800
	odd := Recount(f, mobs, guesses, stays, measured, day(9, 0), day(14, 8)).Odd
	require.Len(t, odd, 1)
	assert.Equal(t, "look", odd[0].ID)
	assert.Less(t, odd[0].Surprise, 0.0)
	measured[2].Mass = 1700
	assert.InDelta(t, 2, *past.Standing[0].Rest(day(14, 8)), 1e-9)
	untouched := forage.Grow(2400, 60, 5200, 5-1.0/24)
	assert.InDelta(t, untouched-600*2/0.9/2, past.Standing[1].Mass, 60, "two days of grazing gone")
	assert.True(t, past.Standing[2].Guessed)
	assert.Equal(t, 2050.0, past.Standing[2].Mass, "midway between residual and entry")
	assert.Nil(t, past.Standing[2].Rest(day(14, 8)), "no record, no rest")
	assert.Nil(t, past.Standing[1].LastLeft, "still in it")
	for p, pad := range f.Paddocks[:2] {
		k := past.Totals[p]
		assert.InDelta(t, (past.Mass[p]-2050)*pad.AreaHa, k.Grown-k.Eaten-k.Lost+k.Corrected, 1e-6)
	}
	earlier := Recount(f, mobs, guesses, stays, measured, day(9, 0), day(11, 8))
	assert.Greater(t, earlier.Standing[0].Mass, 1700.0, "a later look does not reach back")
}

func TestClocksGoForwardAndBack(t *testing.T) {
	oslo, err := time.LoadLocation("Europe/Oslo")
	require.NoError(t, err)
	f := farmOf(6, 2)
	f.Location = oslo
	from := time.Date(2026, 10, 20, 6, 0, 0, 0, time.UTC) // over the end of summer time
	plan := Schedule(f, []Mob{mobOn(f, "cows", 400, 5, everywhere)}, wedge(f), nil, from, from.Add(14*24*time.Hour))
	for _, v := range plan.Visits[1:] {
		h, _, _ := v.Enter.In(oslo).Clock()
		assert.Contains(t, []int{8, 18}, h, "clock time at the farm")
	}
}

func TestFeedUntilAndCover(t *testing.T) {
	f := farmOf(4, 2)
	mob := mobOn(f, "cows", 900, 0, everywhere)
	s := Standing{Mass: 2600, HalfWidth: 260, Shared: 200, MeasuredAt: start}
	feed := FeedUntil(f, []Mob{mob}, 0, s, start)
	assert.InDelta(t, 1100*2*0.9/900, feed.Until.Sub(start).Hours()/24, 0.6, "about feed over demand, and a little growth")
	assert.InDelta(t, 260*2*0.9/900, feed.Latest.Sub(feed.Until).Hours()/24, 0.45, "mostly the error of the mass")
	assert.InDelta(t, 260*2*0.9/900, feed.Until.Sub(feed.Earliest).Hours()/24, 0.45)
	assert.False(t, feed.Beyond)

	standing := []Standing{s, s, s, {Mass: 9000, Guessed: true}}
	plan := Schedule(f, nil, standing, nil, start, start.Add(10*24*time.Hour))
	empty := make([][]TracePoint, 4)
	cover := Cover(f, []bool{true, true, false, true}, standing, empty, plan.Trace, Foresee(f, []bool{true, true, false, true}, standing, plan), start, start, start.Add(7*24*time.Hour))
	require.Len(t, cover, 8)
	assert.InDelta(t, 2600, cover[0].Cover, 1e-9, "guessed paddocks and ground outside the rotation stay out")
	assert.Greater(t, cover[0].HalfWidth, 200.0, "the meter's own error does not average away")
	assert.Less(t, cover[0].HalfWidth, 260.0, "the sampling error does")
	assert.Greater(t, cover[7].HalfWidth, cover[0].HalfWidth, "the future is less sure")
	assert.InDelta(t, 2050, CoverNeeded(f, []Mob{mob}, start), 1e-9)
}

func TestWeatherAndLearnedFactorDriveGrowth(t *testing.T) {
	f := farmOf(2, 2)
	guesses := []Standing{Guess(leys, 5000), Guess(leys, 5000)}
	var measured []Measured
	truth := 1600.0
	for w := range 8 {
		at := start.Add(time.Duration(w) * 7 * 24 * time.Hour)
		measured = append(measured, Measured{Paddock: 0, At: at, Mass: truth, HalfWidth: 250, Shared: 150}, Measured{Paddock: 1, At: at, Mass: 1600, HalfWidth: 250, Shared: 150})
		truth = forage.Grow(truth, 60*0.7, 5200, 7)
	}
	until := start.Add(50 * 24 * time.Hour)
	past := Recount(f, nil, guesses, nil, measured, start, until)
	slow, stopped := past.Standing[0], past.Standing[1]
	assert.Less(t, slow.Factor, 0.95, "it grew at seven tenths of the curve")
	assert.Less(t, stopped.Factor, slow.Factor)
	assert.Greater(t, f.DaysTo(0, slow, 4500, until), f.DaysTo(0, Standing{Mass: slow.Mass}, 4500, until), "and so it takes longer to come")
	dry := f
	dry.Weather = map[weather.Grass]Daily{"": Steady(0.3)}
	assert.Less(t, Recount(dry, nil, guesses, nil, measured[:2], start, until).Mass[0], Recount(f, nil, guesses, nil, measured[:2], start, until).Mass[0])
}

// Four hundred paddocks, three years of weekly walks, and stock going round them.
func BenchmarkEstimates400x3Years(b *testing.B) {
	f := farmOf(400, 2)
	mobs := []Mob{mobOn(f, "cows", 900, Nowhere, everywhere)}
	guesses := make([]Standing, 400)
	var measured []Measured
	var stays []Stay
	from := start.AddDate(-3, 0, 0)
	for p := range guesses {
		guesses[p] = Guess(leys, 5000)
		for w := range 78 {
			measured = append(measured, Measured{Paddock: p, At: from.AddDate(0, 0, 14*w), Mass: 1500 + float64((p*31+w*577)%1500), HalfWidth: 300, Shared: 200})
		}
	}
	for d := range 1095 {
		stays = append(stays, Stay{0, d % 400, from.AddDate(0, 0, d), from.AddDate(0, 0, d+1)})
	}
	for b.Loop() {
		Recount(f, mobs, guesses, stays, measured, start.AddDate(0, 0, -56), start)
	}
}

func BenchmarkSimulate60x180(b *testing.B) {
	f := farmOf(60, 2)
	standing := wedge(f)
	mobs := []Mob{mobOn(f, "cows", 900, 0, everywhere)}
	for b.Loop() {
		r := newRunner(f, mobs, standing, newAlmanac(f, mobs, start, start.AddDate(0, 0, 181)), start)
		r.enter(0, 3)
		r.advance(start.Add(180 * 24 * time.Hour))
	}
}

func BenchmarkSchedule24x2x60(b *testing.B) {
	f := farmOf(24, 2)
	standing := wedge(f)
	mobs := []Mob{mobOn(f, "cows", 800, 23, everywhere), mobOn(f, "ewes", 350, 20, everywhere)}
	for b.Loop() {
		Schedule(f, mobs, standing, nil, start, start.Add(60*24*time.Hour))
	}
}

// A plan judges the paddock they go to today by all that is known today, as every place does; what lies ahead it cannot know.
func TestAPlanJudgesTodayByWhatIsKnownToday(t *testing.T) {
	f := farmOf(4, 1)
	few := 1.2
	for p := range f.Paddocks {
		f.Paddocks[p].Today = Condition{Day: DayNumber(start, f.Location), TooWet: p == 3, Leaves: &few, LeafStage: 3}
		f.Paddocks[p].Minded = []Limit{{Kind: "not_wet", Note: "peat"}}
	}
	plan := Schedule(f, []Mob{mobOn(f, "cows", 600, Nowhere, everywhere)}, wedge(f), nil, start, start.Add(days(12)))
	first, later := plan.Visits[0], plan.Visits[len(plan.Visits)-1]
	said := func(v Visit) (text string) {
		for _, r := range v.Reasons {
			text += r.Plain() + "\n"
		}
		return text
	}
	assert.Equal(t, grazing.Mind, first.State)
	assert.Contains(t, said(first), "too wet: hooves cut in")
	assert.Contains(t, said(first), "roots are not refilled yet")
	assert.Contains(t, said(first), "not when it is wet (peat)")
	assert.NotContains(t, said(later), "too wet: hooves cut in")
	assert.NotContains(t, said(later), "roots")
	assert.Contains(t, said(later), "not when it is wet (peat)")
	look := f.Look(3, wedge(f)[3], leys.Entry, start)
	state, reasons := f.Readiness(3, look, leys)
	assert.Equal(t, first.State, state, "the same words as the place that looks at it alone")
	assert.Contains(t, reasons[0].Plain(), "too wet")
}
