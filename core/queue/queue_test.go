package queue_test

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
	"fjell/core/quantity"
	"fjell/core/queue"
	"fjell/core/rotation"
)

var monday = time.Date(2026, 6, 8, 8, 0, 0, 0, time.UTC)

// steady is the same rate all year.
var steady = forage.Curve{1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1}

// round is a farm of paddocks that stand at these masses, with one mob that eats so much a day, on the first.
func round(demand float64, masses ...float64) queue.Case {
	c := queue.Case{Now: monday, Of: []int{0}, Farm: rotation.Farm{Location: time.UTC, Hours: rotation.Hours{Minutes: []int{480}}}}
	limits := grazing.Limits{Entry: 2600, TooOld: 3100, Residual: 1500, RestMin: 15, StayMax: 3, U: 0.9}
	mob := rotation.Mob{ID: "m", Name: "Cows", Demand: rotation.Steady(demand), In: 0, Since: monday.AddDate(0, 0, -1)}
	for i, mass := range masses {
		left := monday.AddDate(0, 0, -3*(len(masses)-i))
		c.Farm.Paddocks = append(c.Farm.Paddocks, rotation.Paddock{ID: fmt.Sprint("p", i), Name: fmt.Sprint("P", i), AreaHa: 2, Peak: 60, Ceiling: 5000, Curve: steady, CutTo: 1500})
		c.Standing = append(c.Standing, rotation.Standing{Mass: mass, HalfWidth: 100, At: monday, MeasuredAt: monday, LastLeft: &left})
		c.Swards = append(c.Swards, queue.Sward{Residual: 1500, Legume: 0.1, Response: 12})
		mob.Limits = append(mob.Limits, limits)
		mob.Ground = append(mob.Ground, true)
	}
	c.Mobs = []rotation.Mob{mob}
	other := queue.Way{Key: "half", Name: "Leave half"}
	for range masses {
		other.Limits = append(other.Limits, grazing.Limits{Entry: 2400, TooOld: 4000, Residual: 1800, RestMin: 25, StayMax: 2, U: 0.5})
	}
	c.Schools = []queue.Way{other}
	c.Classes = [][]queue.Class{{{ID: "c", Name: "Cows", Head: 40, Demand: rotation.Steady(demand * 0.8)}, {ID: "k", Name: "Calves", Head: 40, Demand: rotation.Steady(demand * 0.2)}}}
	return c
}

func usual() queue.Case { return round(640, 1900, 2800, 2600, 2500, 2300, 2150, 2000, 1800) }

func TestTheQueueIsTheSumOfTheHandbook(t *testing.T) {
	c := usual()
	w := c.Look().Week
	require.Len(t, w.Rows, 8)
	assert.True(t, w.Rows[7].Grazed, "what is being grazed comes last")
	in := grazing.QueueIn{Demand: 640 / 0.9, Length: w.Length.Value, Residual: 1500}
	for _, r := range w.Rows {
		in.Paddocks = append(in.Paddocks, grazing.QueuePaddock{Area: 2, Mass: c.Standing[r.Paddock].Mass})
	}
	out, _, err := grazing.Queue(in)
	require.NoError(t, err)
	for k, r := range w.Rows {
		assert.InDelta(t, out.Rows[k].Target, r.Target, 1e-9)
		if k > 0 && k < 7 {
			assert.False(t, r.Turn.Before(*w.Rows[k-1].Turn), "in the order in which they are grazed")
		}
	}
	assert.InDelta(t, out.Balance, w.Balance, 1e-6)
	assert.InDelta(t, out.Entry, w.Entry.Value, 1e-9)
	above := 0.0
	for _, st := range c.Standing {
		above += max(0, st.Mass-1500) * 2
	}
	assert.InDelta(t, above/(640/0.9), w.Ahead.Value, 1e-9)
	assert.InDelta(t, 640, w.Demand, 1e-9)
}

func TestEachPaddockHasItsOwnResidualUnderItsMark(t *testing.T) {
	c := usual()
	c.Mobs[0].Limits[3].Residual = 1200
	for _, r := range c.Look().Week.Rows {
		if r.Paddock == 3 {
			assert.InDelta(t, 1200, r.Residual, 1e-9)
		}
		assert.GreaterOrEqual(t, r.Target, r.Residual-1e-9)
	}
}

func TestClosedGroundAndReserveStandApart(t *testing.T) {
	c := usual()
	c.Farm.Paddocks[2].Closures = []rotation.Closure{{From: monday.AddDate(0, 0, -1), Until: monday.AddDate(0, 0, 30), For: "hay"}}
	c.Farm.Paddocks[4].Reserve = true
	w := c.Look().Week
	assert.Equal(t, []queue.Apart{{Paddock: 2, Why: "hay"}, {Paddock: 4, Why: "kept in reserve"}}, w.Apart)
	assert.Len(t, w.Rows, 6)
	assert.InDelta(t, 12, w.AreaHa, 1e-9)
}

func TestMobsThatShareGroundStandInOneQueue(t *testing.T) {
	on := func(ground ...bool) rotation.Mob { return rotation.Mob{Ground: ground} }
	assert.Equal(t, [][]int{{0, 2}, {1}}, queue.GroupsOf([]rotation.Mob{on(true, false, false), on(false, true, false), on(true, false, true)}))
	assert.Equal(t, [][]int{{0, 1, 2}}, queue.GroupsOf([]rotation.Mob{on(true, false, false), on(false, false, true), on(true, false, true)}), "by a third, too")
	assert.Empty(t, queue.GroupsOf([]rotation.Mob{on(false)}))
}

// direct is the same weeks simulated by hand, in steps of an hour: what stands in the end, by paddock, and what was eaten, from what the plan does.
func direct(c queue.Case, visits []rotation.Visit, gift func(p int, at time.Time) float64, demand func(at time.Time) float64) (mass []float64, eaten float64) {
	for _, st := range c.Standing {
		mass = append(mass, st.Mass)
	}
	const step = time.Hour
	for at := c.Now; at.Before(c.Until()); at = at.Add(step) {
		for p, pad := range c.Farm.Paddocks {
			m, k := mass[p], pad.Ceiling
			grown := 4 * pad.Peak / k * m * (1 - m/k)
			m += grown / 24
			m += math.Min(gift(p, at)/24, math.Max(0, k-m))
			for _, v := range visits {
				if v.Paddock != p || at.Before(v.Enter) || !at.Before(v.Leave) {
					continue
				}
				l := c.Mobs[v.Mob].Limits[p]
				floor := l.Residual / 2
				if !v.Held.IsZero() && !at.Before(v.Held) {
					floor = l.Residual
				}
				bite := math.Min(demand(at)/24, math.Max(0, m-floor)*pad.AreaHa*l.U)
				eaten += bite
				m -= bite / l.U / pad.AreaHa
			}
			mass[p] = m
		}
	}
	return mass, eaten
}

// Every lever does what a simulation by hand says that it does.
func TestEveryLeverAgainstADirectSimulation(t *testing.T) {
	none := func(int, time.Time) float64 { return 0 }
	eats := func(time.Time) float64 { return 640 }
	begin := monday.AddDate(0, 0, 7)
	until := func(days int) time.Time { return begin.AddDate(0, 0, days) }
	for name, x := range map[string]struct {
		lever  queue.Lever
		by     func(c *queue.Case) // by hand
		gift   func(int, time.Time) float64
		demand func(time.Time) float64
		kg     float64
	}{
		"pass":  {lever: queue.Lever{Kind: queue.Pass, Paddock: "p1", Days: 20}},
		"close": {lever: queue.Lever{Kind: queue.Close, Paddock: "p1", Days: 40}},
		"cut":   {lever: queue.Lever{Kind: queue.Cut, Paddock: "p1", Waste: 0.1}, by: func(c *queue.Case) { c.Standing[1].Mass = 1500 }, kg: 1300 * 2 * 0.9},
		"top":   {lever: queue.Lever{Kind: queue.Top, Paddock: "p2"}, by: func(c *queue.Case) { c.Standing[2].Mass = 1500 }},
		"supplement": {lever: queue.Lever{Kind: queue.Supplement, Mob: "m", Kg: 2, Days: 20, After: 7, Waste: 0.25}, kg: 80 * 2 * 20, demand: func(at time.Time) float64 {
			if d := at.Truncate(24 * time.Hour); !d.Before(begin.Truncate(24*time.Hour)) && d.Before(until(20).Truncate(24*time.Hour)) {
				return 640 - 80*2*0.75
			}
			return 640
		}},
		"fewer": {lever: queue.Lever{Kind: queue.Head, Mob: "m", Class: "c", Count: -10, After: 7}, demand: func(at time.Time) float64 {
			if !at.Before(begin.Truncate(24 * time.Hour)) {
				return 640 - 0.25*0.8*640
			}
			return 640
		}},
		"more": {lever: queue.Lever{Kind: queue.Head, Mob: "m", Count: 8, After: 7}, demand: func(at time.Time) float64 {
			if !at.Before(begin.Truncate(24 * time.Hour)) {
				return 640 * 1.1
			}
			return 640
		}},
		"house": {lever: queue.Lever{Kind: queue.House, Mob: "m", Days: 10, After: 7}, kg: 6400, demand: func(at time.Time) float64 {
			if d := at.Truncate(24 * time.Hour); !d.Before(begin.Truncate(24*time.Hour)) && d.Before(until(10).Truncate(24*time.Hour)) {
				return 0
			}
			return 640
		}},
		"nitrogen": {lever: queue.Lever{Kind: queue.Nitrogen, Paddock: "p3", Kg: 40, After: 7}, gift: func(p int, at time.Time) float64 {
			if from := begin.AddDate(0, 0, 5); p == 3 && !at.Before(from.Truncate(24*time.Hour)) && at.Before(from.AddDate(0, 0, 42).Truncate(24*time.Hour)) {
				return 40 * 12.0 / 42
			}
			return 0
		}},
		"slower": {lever: queue.Lever{Kind: queue.Pace, Mob: "m", Days: 30}},
		"school": {lever: queue.Lever{Kind: queue.School, Mob: "m", School: "half"}},
		"faster": {lever: queue.Lever{Kind: queue.Pace, Mob: "m", Days: 15}},
	} {
		t.Run(name, func(t *testing.T) {
			tried, err := queue.Try(usual(), []queue.Lever{x.lever})
			require.NoError(t, err)
			by := usual()
			if x.by != nil {
				x.by(&by)
			}
			if x.gift == nil {
				x.gift = none
			}
			if x.demand == nil {
				x.demand = eats
			}
			pulled, _, err := usual().Pull([]queue.Lever{x.lever})
			require.NoError(t, err)
			by.Mobs[0].Limits = pulled.Mobs[0].Limits // a pace is nothing but other rules
			mass, eaten := direct(by, tried.Behind.Plan.Visits, x.gift, x.demand)
			mean := 0.0
			for _, m := range mass {
				mean += m / float64(len(mass))
			}
			assert.InEpsilon(t, mean, tried.Behind.EndsAt, 0.004)
			assert.InEpsilon(t, eaten, tried.Behind.Eaten, 0.004)
			assert.InDelta(t, x.kg, tried.Effects[0].Kg, 1)
			for _, v := range tried.Behind.Plan.Visits {
				if x.lever.Kind == queue.Pass || x.lever.Kind == queue.Close {
					assert.False(t, v.Paddock == 1 && v.Enter.Before(monday.Add(time.Duration(x.lever.Days)*24*time.Hour)), "it is left out until then")
				}
			}
		})
	}
}

func TestGroundIsAddedAndOpened(t *testing.T) {
	short := round(900, 1700, 1900, 1800, 1700, 1600)
	before := short.Look()
	require.NotEmpty(t, before.Gaps)
	tried, err := queue.Try(short, []queue.Lever{{Kind: queue.Rent, Area: 6, Price: 100}})
	require.NoError(t, err)
	assert.Less(t, tried.Behind.ShortKg, before.ShortKg)
	assert.InDelta(t, before.Week.AreaHa+6, tried.Behind.Week.AreaHa, 1e-9)
	assert.InDelta(t, 600, tried.Effects[0].Money, 1e-9)

	kept := usual()
	kept.Farm.Paddocks[1].Reserve = true
	tried, err = queue.Try(kept, []queue.Lever{{Kind: queue.Reserve}})
	require.NoError(t, err)
	assert.Empty(t, tried.Behind.Week.Apart)
	_, err = queue.Try(usual(), []queue.Lever{{Kind: queue.Reserve}})
	assert.ErrorContains(t, err, "nothing is kept in reserve")

	closed := usual()
	closed.Farm.Paddocks[2].Closures = []rotation.Closure{{From: monday.AddDate(0, 0, -1), Until: monday.AddDate(0, 0, 60), For: "hay"}}
	tried, err = queue.Try(closed, []queue.Lever{{Kind: queue.Reopen, Paddock: "p2"}})
	require.NoError(t, err)
	assert.Len(t, tried.Behind.Week.Rows, 8)
	_, err = queue.Try(closed, []queue.Lever{{Kind: queue.Reopen, Paddock: "p1"}})
	assert.ErrorContains(t, err, "is open")
}

func TestLeversThatCannotBeAreRefusedByName(t *testing.T) {
	native, legumes := usual(), usual()
	native.Swards[3].Response = 5
	legumes.Swards[3].Legume = 0.4
	for name, x := range map[string]struct {
		c     queue.Case
		lever queue.Lever
		says  string
	}{
		"kind":       {usual(), queue.Lever{Kind: "burn"}, "kind"},
		"paddock":    {usual(), queue.Lever{Kind: queue.Cut, Paddock: "elsewhere"}, "levers[0].paddock_id"},
		"occupied":   {usual(), queue.Lever{Kind: queue.Cut, Paddock: "p0"}, "stock are in it"},
		"too short":  {round(640, 1900, 1400), queue.Lever{Kind: queue.Cut, Paddock: "p1"}, "no higher than a cut leaves it"},
		"days":       {usual(), queue.Lever{Kind: queue.Close, Paddock: "p1"}, "levers[0].days"},
		"supplement": {usual(), queue.Lever{Kind: queue.Supplement, Mob: "m", Days: 5, Kg: 90}, "levers[0].kg"},
		"mob":        {usual(), queue.Lever{Kind: queue.House, Mob: "x", Days: 3}, "levers[0].mob_id"},
		"class":      {usual(), queue.Lever{Kind: queue.Head, Mob: "m", Class: "x", Count: -1}, "levers[0].class_id"},
		"too many":   {usual(), queue.Lever{Kind: queue.Head, Mob: "m", Class: "c", Count: -41}, "there are 40 of them"},
		"none":       {usual(), queue.Lever{Kind: queue.Head, Mob: "m"}, "levers[0].count"},
		"school":     {usual(), queue.Lever{Kind: queue.School, Mob: "m", School: "none"}, "levers[0].school"},
		"native":     {native, queue.Lever{Kind: queue.Nitrogen, Paddock: "p3", Kg: 40}, "nitrogen does not pay"},
		"legumes":    {legumes, queue.Lever{Kind: queue.Nitrogen, Paddock: "p3", Kg: 40}, "fix their own"},
		"nitrogen":   {usual(), queue.Lever{Kind: queue.Nitrogen, Paddock: "p3", Kg: 400}, "levers[0].kg"},
	} {
		_, err := queue.Try(x.c, []queue.Lever{x.lever})
		assert.ErrorContains(t, err, x.says, name)
	}
	_, err := queue.Try(native, []queue.Lever{{Kind: queue.Nitrogen, Paddock: "p3", Kg: 40, Anyway: true}})
	require.NoError(t, err, "it can be done anyway")
	var refused *queue.Refused
	_, err = queue.Try(legumes, []queue.Lever{{Kind: queue.Cut, Paddock: "p1"}, {Kind: queue.Nitrogen, Paddock: "p3", Kg: 40}})
	require.ErrorAs(t, err, &refused)
	assert.Equal(t, 1, refused.Lever)
	_, err = queue.Try(usual(), make([]queue.Lever, 13))
	var problem *quantity.Problem
	assert.ErrorAs(t, err, &problem)
}

func TestTheClassicWrecksAreWarnedOf(t *testing.T) {
	warns := func(c queue.Case, levers ...queue.Lever) (out []string) {
		tried, err := queue.Try(c, levers)
		require.NoError(t, err)
		for _, w := range tried.Warns {
			out = append(out, w.Text)
		}
		return out
	}
	short := round(900, 1700, 1900, 1800, 1700, 1600)
	assert.Contains(t, fmt.Sprint(warns(short, queue.Lever{Kind: queue.Pace, Mob: "m", Days: 5})), "speeding up when short")
	assert.Empty(t, warns(usual(), queue.Lever{Kind: queue.Close, Paddock: "p1", Days: 10}))
	three := []queue.Lever{{Kind: queue.Close, Paddock: "p1", Days: 50}, {Kind: queue.Close, Paddock: "p2", Days: 50}, {Kind: queue.Close, Paddock: "p3", Days: 50}, {Kind: queue.Cut, Paddock: "p4"}}
	assert.Contains(t, fmt.Sprint(warns(usual(), three...)), "too much at once: a hole of")
	light := usual()
	light.Mobs[0].Demand = rotation.Steady(150)
	assert.Contains(t, fmt.Sprint(warns(light, three...)), "of the round is taken out at once")
	assert.Contains(t, fmt.Sprint(warns(usual(), queue.Lever{Kind: queue.Cut, Paddock: "p1"}, queue.Lever{Kind: queue.Nitrogen, Paddock: "p1", Kg: 40})), "spoils the silage")
	heavy := usual()
	heavy.Standing[1].Mass, heavy.Swards[1].Legume = 4000, 0.35
	assert.Contains(t, fmt.Sprint(warns(heavy, queue.Lever{Kind: queue.Cut, Paddock: "p1"})), "dark base")
}

// No lever makes or destroys feed but through what it says, and taking all of them back gives the same figures to the last bit.
func TestLeversKeepTheBalanceAndCanBeTakenBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		masses := rapid.SliceOfN(rapid.Float64Range(1200, 4200), 4, 9).Draw(t, "masses")
		c := round(rapid.Float64Range(200, 1200).Draw(t, "demand"), masses...)
		before := c.Look()
		var levers []queue.Lever
		for range rapid.IntRange(1, 5).Draw(t, "levers") {
			l := queue.Lever{Kind: rapid.SampledFrom(queue.Kinds).Draw(t, "kind"), Mob: "m", Paddock: fmt.Sprint("p", rapid.IntRange(1, len(masses)-1).Draw(t, "paddock")),
				Days: rapid.Float64Range(3, 40).Draw(t, "days"), After: rapid.Float64Range(0, 20).Draw(t, "after"), Kg: rapid.Float64Range(1, 20).Draw(t, "kg"), Count: float64(rapid.IntRange(-20, 20).Draw(t, "head")), Area: 3, School: "half"}
			if _, err := queue.Try(c, append(levers, l)); err == nil {
				levers = append(levers, l)
			}
		}
		tried, err := queue.Try(c, levers)
		require.NoError(t, err)
		assert.Equal(t, before, tried.Before)
		assert.Equal(t, before, c.Look(), "what was tried leaves no trace")
		pulled, _, err := c.Pull(levers)
		require.NoError(t, err)
		plan := tried.Behind.Plan
		for p, pad := range pulled.Farm.Paddocks {
			trace := plan.Trace[p]
			totals := plan.Totals[p]
			end := pulled.Standing[p].Mass*pad.AreaHa + totals.Grown + totals.Corrected - totals.Eaten - totals.Lost
			assert.InDelta(t, end, trace[len(trace)-1].Mass*pad.AreaHa, 1e-6*math.Max(1, end), "what stood and grew is what was eaten, lost, and stands")
		}
		if len(levers) == 0 {
			assert.Equal(t, tried.Before, tried.Behind)
		}
	})
}

func BenchmarkFiveLevers(b *testing.B) {
	for _, n := range []int{60, 400} {
		b.Run(fmt.Sprint(n, " paddocks"), func(b *testing.B) {
			masses := make([]float64, n)
			for i := range masses {
				masses[i] = 1600 + float64(i%12)*100
			}
			c := round(640*float64(n)/8, masses...)
			c.Farm = c.Farm.WithAlmanac(c.Mobs, monday.AddDate(0, 0, -1), c.Until())
			levers := []queue.Lever{{Kind: queue.Cut, Paddock: "p11"}, {Kind: queue.Close, Paddock: "p10", Days: 35}, {Kind: queue.Supplement, Mob: "m", Kg: 2, Days: 14},
				{Kind: queue.Head, Mob: "m", Count: -4}, {Kind: queue.Nitrogen, Paddock: "p9", Kg: 30}}
			for b.Loop() {
				_, err := queue.Try(c, levers)
				require.NoError(b, err)
			}
		})
	}
}

func TestTheOneBeingGrazedComesLastWhateverItsNextTurn(t *testing.T) {
	c := round(640, 2000, 2500, 2400)
	plan := rotation.Plan{From: monday, To: c.Until(), Visits: []rotation.Visit{
		{Mob: 0, Paddock: 0, Enter: monday.AddDate(0, 0, -1), Leave: monday.AddDate(0, 0, 1), Fact: true}, {Mob: 0, Paddock: 0, Enter: monday.AddDate(0, 0, 2), Leave: monday.AddDate(0, 0, 4)},
		{Mob: 0, Paddock: 2, Enter: monday.AddDate(0, 0, 4), Leave: monday.AddDate(0, 0, 6)}}}
	var order []int
	for _, r := range queue.Of(c, plan).Rows {
		order = append(order, r.Paddock)
	}
	assert.Equal(t, []int{2, 1, 0}, order, "after those whose turn does not come at all")
}

func TestMobsOnOneRoundShareItsLength(t *testing.T) {
	c := round(640, 2000, 2500, 2400, 2300)
	second := c.Mobs[0]
	second.ID, second.In = "n", 1
	c.Mobs, c.Of, c.Classes = append(c.Mobs, second), []int{0, 1}, append(c.Classes, nil)
	plan := rotation.Plan{From: monday, To: c.Until(), Visits: []rotation.Visit{{Mob: 0, Paddock: 2, Enter: monday, Leave: monday.AddDate(0, 0, 3)}, {Mob: 1, Paddock: 3, Enter: monday, Leave: monday.AddDate(0, 0, 5)}}}
	assert.InDelta(t, 4*4.0/2, queue.Of(c, plan).Length.Value, 1e-9, "four paddocks at four days, two mobs nose to tail")
}

func TestTheRoundAdvisedKeepsTheLeastRest(t *testing.T) {
	c := usual()
	for p := range c.Mobs[0].Limits {
		c.Mobs[0].Limits[p].RestMin = 45
	}
	w := c.Look().Week
	stay := w.Length.Value / 8
	assert.InDelta(t, (math.Ceil(45/stay-1e-9)+1)*stay, w.Advised.Value, 1e-6, "though grass is back before")
}

func TestAGapIsToldInFeedOfItsDays(t *testing.T) {
	gaps := round(900, 1700, 1900, 1800, 1700, 1600).Look().Gaps
	require.NotEmpty(t, gaps)
	for _, g := range gaps {
		assert.Positive(t, g.Kg)
		assert.InDelta(t, g.Kg/900, g.Days, 1e-9)
		assert.NotEmpty(t, g.Paddocks)
		assert.False(t, g.From.Before(monday))
	}
}

func TestWhatLeversDoToTheRules(t *testing.T) {
	pull := func(l queue.Lever) (queue.Case, queue.Effect) {
		c, effects, err := usual().Pull([]queue.Lever{l})
		require.NoError(t, err)
		return c, effects[0]
	}
	now := usual().Look().Week.Length.Value
	slow, _ := pull(queue.Lever{Kind: queue.Pace, Mob: "m", Days: 2 * now})
	assert.InDelta(t, 2*now-now/8, slow.Mobs[0].Limits[3].RestMin, 1e-9, "rest is the round but for the stay")
	assert.InDelta(t, 6, slow.Mobs[0].Limits[3].StayMax, 1e-9)
	assert.InDelta(t, 2600, slow.Mobs[0].Limits[3].Entry, 1e-9)
	fast, _ := pull(queue.Lever{Kind: queue.Pace, Mob: "m", Days: now / 2})
	assert.InDelta(t, 1500+1100.0/2, fast.Mobs[0].Limits[3].Entry, 1e-9, "half of what a whole round grows")
	assert.InDelta(t, 7.5, fast.Mobs[0].Limits[3].RestMin, 1e-9)
	fed, _ := pull(queue.Lever{Kind: queue.Nitrogen, Paddock: "p3", Kg: 42, After: 7})
	gift := fed.Farm.Paddocks[3].Gifts[0]
	assert.Equal(t, monday.AddDate(0, 0, 7+5), gift.From, "it shows after some days")
	assert.Equal(t, monday.AddDate(0, 0, 7+5+42), gift.Until)
	assert.InDelta(t, 12, gift.Rate, 1e-9)
	_, housed := pull(queue.Lever{Kind: queue.House, Mob: "m", Days: 10, Waste: 0.2})
	assert.InDelta(t, 6400/0.8, housed.Kg, 1e-6, "what is wasted is fed, too")
	_, cut := pull(queue.Lever{Kind: queue.Cut, Paddock: "p1", Bale: 250})
	assert.InDelta(t, math.Floor(2600.0/250), *cut.Bales, 1e-9, "whole bales")
	_, unknown := pull(queue.Lever{Kind: queue.Cut, Paddock: "p1"})
	assert.Nil(t, unknown.Bales, "a bale nobody weighed stays unknown")
}

func TestWithoutTheSupplementEachMarkLiesHigher(t *testing.T) {
	c := usual()
	for _, r := range c.Look().Week.Rows {
		assert.Zero(t, r.Unfed, "nothing is fed")
	}
	c.Spared = 160 // a quarter of the 640 that they take
	for _, r := range c.Look().Week.Rows {
		assert.InDelta(t, 1.25*(r.Target-r.Residual), r.Unfed-r.Residual, 1e-6)
	}
}

// A kilogram short of six hundred is no gap, and no reason to say that feed ends today.
func TestAMouthfulIsNoGap(t *testing.T) {
	c := usual()
	gaps := func(short float64) int {
		return len(queue.Gaps(c, rotation.Plan{From: monday, To: monday.AddDate(0, 0, 20), Visits: []rotation.Visit{{Mob: 0, Paddock: 1, Enter: monday, Leave: monday.AddDate(0, 0, 3), Held: monday.AddDate(0, 0, 2), Short: short}}}))
	}
	assert.Zero(t, gaps(1))
	assert.Equal(t, 1, gaps(64))
}
