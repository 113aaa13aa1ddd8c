package plan

import (
	"fmt"
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Written situations, and what a good manager does in each.

// paddocks are so many alike: 1 ha with so much on it, rested for so long, 200 m from one to the next.
func alike(n int, mass, rest float64) []Paddock {
	var out []Paddock
	for i := range n {
		r := rest
		out = append(out, Paddock{Key: fmt.Sprintf("p%d", i+1), AreaHa: 1, Mass: mass, Ceiling: 5000, Peak: Series{50}, Rest: &r, X: float64(200 * i)})
	}
	return out
}

// cows are a mob that wants so much a day, by leaf and residual, standing in the first paddock.
func cows(p *Problem, demand float64, hold bool) *Mob {
	p.Mobs = append(p.Mobs, Mob{Key: fmt.Sprintf("m%d", len(p.Mobs)+1), Demand: Series{demand}, In: &p.Paddocks[len(p.Mobs)].Key, MayHold: hold, Limits: &Limits{2600, 3100, 1500, 18, 3, 1, nil}})
	return &p.Mobs[len(p.Mobs)-1]
}

func situation(days int, paddocks []Paddock, hours ...float64) *Problem {
	return &Problem{Days: days, MoveHours: hours, Paddocks: paddocks, Weights: Usual, Seed: 1, Seconds: 2}
}

// planned is what was planned for a mob, without where it stood.
func (p Plan) planned(mob string) []Visit {
	var out []Visit
	for i, v := range p.Visits {
		if v.Mob == mob && (i > 0 && p.Visits[i-1].Mob == mob) {
			out = append(out, v)
		}
	}
	return out
}

// at is where a mob is at a moment; "" off the pasture.
func (p Plan) at(mob string, day float64) string {
	for _, v := range p.Visits {
		if v.Mob == mob && day >= v.Enter-1e-9 && day < v.Leave && v.Paddock != nil {
			return *v.Paddock
		}
	}
	return ""
}

func (p Plan) heldDays(mob string) float64 {
	sum := 0.0
	for _, v := range p.Visits {
		if v.Mob == mob && v.Paddock == nil {
			sum += v.Leave - v.Enter
		}
	}
	return sum
}

func wellPlanned(t *testing.T, p *Problem) Plan {
	t.Helper()
	got, ok := solved(t, p)
	require.True(t, ok)
	return got
}

func TestOutOfAPaddockBeforeItCloses(t *testing.T) {
	p := situation(9, alike(6, 2700, 30), 8)
	p.Paddocks[0].Closed = []Closed{{2, 9}}
	cows(p, 350, false)
	got := wellPlanned(t, p)
	for _, v := range got.planned("m1") {
		assert.False(t, *v.Paddock == "p1" && v.Leave > 2, "not back while it is closed")
	}
	assert.Zero(t, got.Cost.Short)
}

func TestNineDaysAwayAreSpentWhereThereIsFeedForThem(t *testing.T) {
	p := situation(14, alike(6, 2700, 30), 8)
	p.Paddocks[4].AreaHa = 6
	p.MoveDays = []int{0, 1, 2, 12, 13}
	m := cows(p, 450, false)
	m.Limits.StayMax = 3
	got := wellPlanned(t, p)
	for day := 3.0; day < 12; day++ {
		assert.Equal(t, "p5", got.at("m1", day), "day %g: the big one was kept for it", day)
	}
	assert.Zero(t, got.Cost.Short)
}

func TestWithNothingRestedTheyAreHeldAndFedNotDrivenRound(t *testing.T) {
	p := situation(14, alike(5, 1900, 4), 8)
	cows(p, 400, true)
	got := wellPlanned(t, p)
	assert.Positive(t, got.heldDays("m1"))
	assert.Less(t, got.Cost.Rest, got.Cost.Feed, "feed is cheaper than unrested grass")
	p.Mobs[0].MayHold = false
	driven := wellPlanned(t, p)
	assert.Greater(t, driven.Cost.Total, got.Cost.Total)
}

func TestADroughtSlowsThemDown(t *testing.T) {
	mean := func(growth float64) (rest float64, moves int) {
		p := situation(24, alike(8, 2500, 25), 8)
		for i := range p.Paddocks {
			p.Paddocks[i].Peak = Series{growth}
		}
		cows(p, 220, true)
		got := wellPlanned(t, p)
		for _, v := range got.planned("m1") {
			if v.Rest != nil {
				rest += *v.Rest
				moves++
			}
		}
		return rest / float64(max(1, moves)), moves
	}
	dry, few := mean(8)
	_, many := mean(70)
	assert.GreaterOrEqual(t, dry, 18.0, "in a drought nobody is driven onto unrested ground")
	assert.LessOrEqual(t, few, many, "nor faster round")
}

// By the usual weights grass past its best is worth entering, for what stands above it counts nothing at the end; who asks for quality
// weighs it higher, and passes it over.
func TestGrassPastItsBestIsPassedOverByWhoAsksForQuality(t *testing.T) {
	entered := func(late float64) bool {
		p := situation(7, alike(6, 2900, 30), 8)
		p.Paddocks[3].Mass = 4300
		p.Weights.Late = late
		cows(p, 350, false)
		got := wellPlanned(t, p)
		for _, v := range got.planned("m1") {
			if *v.Paddock == "p4" {
				return true
			}
		}
		return false
	}
	assert.True(t, entered(Usual.Late))
	assert.False(t, entered(1))
}

func TestOfTwoAlikeTheNearOneIsTaken(t *testing.T) {
	p := situation(3, alike(3, 2800, 30), 8)
	p.Paddocks[0].Mass = 1550
	p.Paddocks[1].X, p.Paddocks[2].X = 2000, 150
	cows(p, 300, false)
	assert.Equal(t, "p3", wellPlanned(t, p).at("m1", 1.5))
}

func TestAPinIsWorkedAround(t *testing.T) {
	p := situation(10, alike(6, 2700, 30), 8)
	cows(p, 350, false)
	cows(p, 200, false)
	leave := 6 + 8.0/24
	p.Pins = []Pin{{Mob: "m2", Paddock: &p.Paddocks[4].Key, Enter: 4 + 8.0/24, Leave: &leave}}
	got := wellPlanned(t, p)
	assert.Equal(t, "p5", got.at("m2", 5))
	assert.NotEqual(t, "p5", got.at("m1", 5))
	for _, v := range got.planned("m1") {
		assert.False(t, *v.Paddock == "p5" && v.Enter < 4, "it is not grazed down just before")
	}
}

func TestAMobThatIsSoldIsMovedNoMore(t *testing.T) {
	p := situation(12, alike(6, 2700, 30), 8)
	m := cows(p, 350, false)
	m.Demand = Series{350, 350, 350, 350, 0}
	m.Limits.StayMax = 2
	for _, v := range wellPlanned(t, p).planned("m1") {
		assert.Less(t, v.Enter, 5.0)
	}
}

func TestTheOnlyGroundOfAMobIsLeftToIt(t *testing.T) {
	p := situation(8, alike(6, 2700, 30), 8)
	cows(p, 300, false)
	m := cows(p, 150, false)
	m.In, m.Ground = nil, []string{"p5", "p6"}
	got := wellPlanned(t, p)
	assert.Zero(t, got.Cost.Short)
	for day := 1.0; day < 8; day++ {
		assert.Contains(t, m.Ground, got.at("m2", day))
	}
}

func TestAPaddockWithNothingInItIsNotEntered(t *testing.T) {
	p := situation(8, alike(6, 2700, 30), 8)
	p.Paddocks[2].Mass, p.Paddocks[2].Peak = 900, Series{5}
	cows(p, 350, false)
	for _, v := range wellPlanned(t, p).planned("m1") {
		assert.NotEqual(t, "p3", *v.Paddock)
	}
}

func TestTheRipeOneGoesBeforeTheOneThatWillBe(t *testing.T) {
	p := situation(7, alike(4, 2300, 30), 8)
	p.Paddocks[0].Mass = 1550
	p.Paddocks[2].Mass = 2750
	cows(p, 350, false)
	planned := wellPlanned(t, p).planned("m1")
	require.NotEmpty(t, planned)
	assert.Equal(t, "p3", *planned[0].Paddock)
}

func TestTooFewPaddocksAreSaidByTheFeedTheyTake(t *testing.T) {
	p := situation(20, alike(3, 2600, 30), 8)
	cows(p, 450, true)
	got := wellPlanned(t, p)
	assert.Positive(t, got.Cost.Feed, "three paddocks and 18 days of rest do not go together")
	for _, v := range got.planned("m1") {
		if v.Paddock != nil && v.Rest != nil {
			assert.GreaterOrEqual(t, *v.Rest, 0.8*18, "and the rest is kept, near enough")
		}
	}
}

func TestTheReserveIsGrazedOnlyInNeed(t *testing.T) {
	stays := func(n int) (reserve int, got Plan) {
		p := situation(20, alike(n, 2600, 30), 8)
		p.Paddocks[1].Reserve, p.Paddocks[1].Mass = true, 3000 // the ripest, and the nearest
		cows(p, 300, true)
		got = wellPlanned(t, p)
		for _, v := range got.planned("m1") {
			if v.Paddock != nil && *v.Paddock == "p2" {
				reserve++
			}
		}
		return reserve, got
	}
	plenty, _ := stays(9)
	assert.Zero(t, plenty, "with eight others nobody goes there")
	need, got := stays(4)
	assert.Positive(t, need, "with three others it is dearer to feed them")
	assert.Positive(t, got.Cost.Reserve)
}

func TestATallerSwardIsLeftInTheHeat(t *testing.T) {
	p := situation(30, alike(6, 2600, 45), 8, 18)
	cows(p, 390, true)
	hot := Time{From: 10, Until: 22, Entry: 2900, TooOld: 3400, Residual: 1900}
	p.Mobs[0].Limits.Times, p.Mobs[0].Limits.StayMax, p.Mobs[0].Limits.RestMin = []Time{hot}, 6, 14
	left := map[bool][]float64{}
	for _, v := range wellPlanned(t, p).planned("m1") {
		if v.Paddock != nil && v.Leave < 30 {
			left[v.Leave >= hot.From && v.Leave < hot.Until] = append(left[v.Leave >= hot.From && v.Leave < hot.Until], v.MassOut)
		}
	}
	require.NotEmpty(t, left[true])
	require.NotEmpty(t, left[false])
	assert.Greater(t, slices.Min(left[true]), 1900*0.97, "in the heat they go before the sward is short")
	assert.Less(t, slices.Min(left[false]), 1750.0, "and eat lower before and after it")

	// Limits that say the same at every time are eased as limits that say it once.
	p.Paddocks = p.Paddocks[:3]
	p.Mobs[0].Limits.Times = nil
	once, err := Takes(t.Context(), p, wellPlanned(t, p))
	require.NoError(t, err)
	l := *p.Mobs[0].Limits
	p.Mobs[0].Limits.Times = []Time{{From: -1, Until: 100, Entry: l.Entry, TooOld: l.TooOld, Residual: l.Residual}}
	p.Mobs[0].Limits.Entry, p.Mobs[0].Limits.Residual = 5000, 4000 // never holds
	always, err := Takes(t.Context(), p, wellPlanned(t, p))
	require.NoError(t, err)
	require.NotEmpty(t, once)
	assert.Equal(t, once, always)
}

func TestWhatItWouldTakeIsSaidWhereFeedIsMissing(t *testing.T) {
	p := situation(20, alike(4, 2600, 30), 8)
	p.Paddocks[3].Closed = []Closed{{-1, 100}}
	cows(p, 300, true)
	got := wellPlanned(t, p)
	missing := p.Missing(got.Cost)
	require.Greater(t, missing, 200.0, "three paddocks and 18 days of rest do not go together")
	takes, err := Takes(t.Context(), p, got)
	require.NoError(t, err)
	by := map[string]Take{}
	for i, k := range takes {
		by[k.What] = k
		assert.InDelta(t, missing, k.Missing+k.Less, 1e-6)
		assert.Positive(t, k.Less)
		if i > 0 {
			assert.LessOrEqual(t, k.Less, takes[i-1].Less, "what helps most comes first")
		}
	}
	for _, what := range []string{AllOpen, FewerAnimals, LessRest} {
		assert.Contains(t, by, what)
	}
	assert.GreaterOrEqual(t, by[AllOpen].Less, by[FewerAnimals].Less, "a fourth paddock is worth no less than a tenth of the cows")

	// Held against a plan that a search would better anyhow, easing is not given the credit for that.
	badly, err := Follow(p, []Visit{{Mob: "m1", Paddock: &p.Paddocks[0].Key, Enter: 0, Leave: 20}})
	require.NoError(t, err)
	require.Greater(t, p.Missing(badly.Cost), missing+500)
	takes, err = Takes(t.Context(), p, badly)
	require.NoError(t, err)
	for _, k := range takes {
		assert.LessOrEqual(t, k.Less, missing+1e-6, k.What)
	}

	// What is in nobody's way is not asked for, and a plan that lacks nothing takes nothing.
	p.Paddocks[3].Closed = nil
	p.Mobs[0].Demand = Series{20}
	takes, err = Takes(t.Context(), p, wellPlanned(t, p))
	require.NoError(t, err)
	assert.Empty(t, takes)
}

func TestEachThingIsEasedItsWayAndNothingElse(t *testing.T) {
	p := situation(20, alike(4, 2600, 30), 8)
	own := Limits{2400, 3000, 1400, 15, 4, 0.9, nil}
	cows(p, 300, true).LimitsByPaddock = map[string]Limits{"p2": own}
	for _, e := range p.eased() {
		l, by := *e.problem.Mobs[0].Limits, e.problem.Mobs[0].LimitsByPaddock["p2"]
		wanted, wantedBy, demand := Limits{2600, 3100, 1500, 18, 3, 1, nil}, own, 300.0
		for _, w := range []*Limits{&wanted, &wantedBy} {
			switch e.what {
			case LessRest:
				w.RestMin -= 3
			case LongerStays:
				w.StayMax++
			case LessLeft:
				w.Residual -= 100
			}
		}
		if e.what == FewerAnimals {
			demand = 270
		}
		assert.Equal(t, wanted, l, e.what)
		assert.Equal(t, wantedBy, by, e.what)
		assert.InDelta(t, demand, e.problem.Mobs[0].Demand[0], 1e-9, e.what)
		assert.NotEqual(t, AllOpen, e.what, "nothing is closed")
	}
	assert.Equal(t, own, p.Mobs[0].LimitsByPaddock["p2"], "the problem itself is as it was")
	assert.InDelta(t, 300, p.Mobs[0].Demand[0], 0)
	assert.InDelta(t, 2+4, p.Missing(Cost{Short: 2 * Usual.Short, Feed: 4 * Usual.Feed, Rest: 900}), 1e-9, "short and fed, in kilograms")
}

func TestWeightsPullTheirWay(t *testing.T) {
	plan := func(change func(w *Weights)) Plan {
		p := situation(12, alike(6, 2700, 30), 8)
		m := cows(p, 350, true)
		m.Limits.StayMax = 2
		change(&p.Weights)
		return wellPlanned(t, p)
	}
	was := plan(func(*Weights) {})
	assert.LessOrEqual(t, len(plan(func(w *Weights) { w.Move = 400 }).Visits), len(was.Visits), "dear moves are fewer")
	assert.LessOrEqual(t, plan(func(w *Weights) { w.Feed = 9 }).heldDays("m1"), was.heldDays("m1"), "dear feed is fed less")
	assert.GreaterOrEqual(t, plan(func(w *Weights) { w.Feed = 0 }).heldDays("m1"), was.heldDays("m1"), "feed for nothing is fed more")
	standing := func(p Plan, w float64) float64 { return -p.Cost.End / w }
	assert.GreaterOrEqual(t, standing(plan(func(w *Weights) { w.End = 1.4 }), 1.4), standing(was, Usual.End)-1e-6, "what stands at the end is kept where it is worth more")
}

func TestNothingFitsAndTheLeastHarmIsDone(t *testing.T) {
	p := situation(8, alike(3, 1200, 1), 8)
	for i := range p.Paddocks {
		p.Paddocks[i].Peak = Series{2}
	}
	cows(p, 600, false)
	got := wellPlanned(t, p)
	assert.Positive(t, got.Cost.Short, "there is no feed, and it is said")
	s, err := tables(p)
	require.NoError(t, err)
	from, err := ripest(s)
	require.NoError(t, err)
	assert.LessOrEqual(t, got.Cost.Total, from.cost)
}

func TestAReplanWithNoNewsChangesNothing(t *testing.T) {
	p := situation(12, alike(6, 2500, 20), 8)
	cows(p, 350, true)
	first := wellPlanned(t, p)
	again, err := Improve(t.Context(), p, first.Visits, nil)
	require.NoError(t, err)
	assert.Equal(t, first.Visits, again.Visits)

	// A morning later, with what then stands, the rest of it is as good as anything.
	q := situation(12, alike(6, 2500, 20), 8)
	cows(q, 350, true)
	start := 1 + 8.0/24
	q.Start = &start
	for i := range q.Paddocks {
		q.Paddocks[i].Mass, *q.Paddocks[i].Rest = massOn(first, p, i, start), *q.Paddocks[i].Rest+1
	}
	in := first.at("m1", start)
	since := math.NaN()
	for _, v := range first.Visits {
		if v.Paddock != nil && v.Enter <= start && v.Leave > start {
			since = v.Enter
		}
	}
	require.NotEmpty(t, in)
	require.Less(t, since, start, "they stand somewhere at that hour")
	q.Mobs[0].In, q.Mobs[0].Since = &in, &since
	later := wellPlanned(t, q)
	for _, v := range first.planned("m1") {
		if v.Enter > start {
			assert.Contains(t, places(later), placed(v), "what was planned stays planned")
		}
	}
}

func places(p Plan) []string {
	var out []string
	for _, v := range p.Visits {
		out = append(out, placed(v))
	}
	return out
}

func placed(v Visit) string { return fmt.Sprintf("%s %s %.3f", v.Mob, place(v.Paddock), v.Enter) }

// massOn is what stands in a paddock on a day of a plan, in which nobody but its visits grazed it.
func massOn(plan Plan, p *Problem, i int, day float64) float64 {
	s, err := tables(p)
	if err != nil {
		return math.NaN()
	}
	mass, at := p.Paddocks[i].Mass, 0
	to := 0
	for to < s.pieces && s.at[to] < day-1e-9 {
		to++
	}
	for _, v := range plan.Visits {
		if v.Paddock == nil || *v.Paddock != p.Paddocks[i].Key {
			continue
		}
		k0, k1 := 0, 0
		for k0 < s.pieces && s.at[k0] < v.Enter-1e-9 {
			k0++
		}
		for k1 < s.pieces && s.at[k1] < v.Leave-1e-9 {
			k1++
		}
		if k0 >= to {
			break
		}
		mass = s.after(i, at, k0, mass)
		mass, _ = s.graze(0, i, k0, min(k1, to), mass)
		at = min(k1, to)
	}
	return s.after(i, at, to, mass)
}
