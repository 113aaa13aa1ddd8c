package plan

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fjell/core/chance"
	"fjell/core/quantity"
)

func solved(t *testing.T, p *Problem) (Plan, bool) {
	t.Helper()
	require.NoError(t, p.Check())
	got, err := Solve(t.Context(), p, nil)
	if err != nil {
		var refused *quantity.Problem
		require.True(t, errors.As(err, &refused), "%v", err)
		return Plan{}, false
	}
	require.True(t, got.Finished, "no limit of time was set")
	c := judged(t, p, got.Visits)
	parts := func(c Cost) []float64 {
		return []float64{c.Short, c.BelowResidual, c.Early, c.Late, c.Rest, c.Stay, c.Move, c.Distance, c.Feed, c.End, c.Reserve, c.Total}
	}
	for i, want := range parts(c) {
		require.InDelta(t, want, parts(got.Cost)[i], 1e-6*(1+math.Abs(want)), "part %d of the cost", i)
	}
	assert.LessOrEqual(t, got.Bound, got.Cost.Total)
	return got, true
}

func TestNoPlanIsCheaperThanTheOneOfASmallProblem(t *testing.T) {
	planned := 0
	for seed := uint64(1); planned < 80; seed++ {
		mobs, days := 1, 7
		paddocks := 3 + int(seed/2%3)
		if seed%2 == 0 {
			mobs, days, paddocks = 2, 4, 3+int(seed/2%2)
		}
		p := anyProblem(seed, paddocks, mobs, days, 8)
		got, ok := solved(t, p)
		best := cheapest(p)
		if !ok {
			assert.True(t, math.IsInf(best, 1), "seed %d was refused, and there is a plan", seed)
			continue
		}
		planned++
		assert.InDelta(t, best, got.Cost.Total, 1e-6*p.Demanded(), "seed %d", seed)
		assert.InDelta(t, best, got.Bound, 1e-6*p.Demanded(), "seed %d: all plans were gone through", seed)
	}
}

func TestTheBoundByPricesIsBelowEveryPlan(t *testing.T) {
	var off []float64
	for seed := uint64(1); seed <= 120; seed++ {
		p := anyProblem(seed, 3+int(seed%3), 1+int(seed%2), 4+2*int((seed+1)%2), 8)
		if seed%5 == 0 {
			p.Weights.Rest, p.Weights.Short = 6, 2 // rest dearer than hunger
		}
		if seed%3 == 0 {
			uneven(p, seed)
		}
		for i := range p.Paddocks {
			p.Paddocks[i].Reserve = p.Paddocks[i].Reserve || seed%4 == 1 // all that there is
		}
		s, err := tables(p)
		require.NoError(t, err)
		from, err := ripest(s)
		if err != nil {
			continue
		}
		known, proven := prove(t.Context(), from, 1e7)
		require.True(t, proven)
		bound := s.byPrice(t.Context(), known, 2)
		require.LessOrEqual(t, bound, known.cost+1e-6, "seed %d", seed)
		// Prices stop where the known plan is reached: held against a dear one, a bound that is too high goes past the cheapest.
		require.LessOrEqual(t, s.byPrice(t.Context(), from, 2), known.cost+1e-6, "seed %d, from a dear plan", seed)
		off = append(off, (known.cost-bound)/p.Demanded())
	}
	slices.Sort(off)
	assert.Less(t, off[len(off)/2], 0.25, "in the middle it is not far off, as a share of the demand")
}

// uneven makes moments to move come close together and far apart, with more rest asked for and some of it behind.
func uneven(p *Problem, seed uint64) {
	p.Days += 8
	p.MoveDays = []int{0, 1, 9}
	if seed%2 == 0 {
		p.MoveDays = []int{0, 8, 9, 10}
	}
	for i := range p.Paddocks {
		rest := float64(4 + 3*i)
		p.Paddocks[i].Rest = &rest
	}
	for m := range p.Mobs {
		p.Mobs[m].Limits.RestMin = 25
	}
}

// plain is annealing as anybody writes it: a few changes, and the whole plan counted anew for each.
func plain(s *season, tries int, seed uint64) float64 {
	st, err := ripest(s)
	if err != nil {
		return math.Inf(1)
	}
	d := chance.Draws(seed)
	least := st.cost
	for i := range tries {
		temperature := 400 * math.Pow(0.001, float64(i)/float64(tries))
		m, t := d.Below(s.mobs), d.Below(s.slots)
		length, to := 1+d.Below(8), int16(d.Below(s.paddocks))
		if s.p.Mobs[m].MayHold && d.Below(10) == 0 {
			to = Off
		}
		if d.Below(2) == 0 && t > 0 {
			to = st.loc[m*s.slots+t-1] // stretch what was before
		}
		before := slices.Clone(st.loc)
		fits := true
		for k := t; k < min(s.slots, t+length); k++ {
			st.loc[m*s.slots+k] = to
		}
		taken := map[int]bool{}
		for k := t; k < min(s.slots, t+length); k++ {
			for n := range s.mobs {
				if p := int(st.loc[n*s.slots+k]); p != Off {
					fits = fits && !taken[k*s.paddocks+p]
					taken[k*s.paddocks+p] = true
				}
			}
		}
		for n := range s.mobs {
			here, stood := s.in[n], true
			for k := range s.slots {
				p := int(st.loc[n*s.slots+k])
				stood = stood && p == s.in[n]
				fits = fits && s.unruled(n, p, k, here, stood)
				here = p
			}
		}
		if fits {
			now := s.placed(st.loc)
			if now.cost <= st.cost || d.Share() < math.Exp((st.cost-now.cost)/temperature) {
				st = now
				least = min(least, st.cost)
				continue
			}
		}
		copy(st.loc, before)
	}
	return least
}

// However far apart the moments to move are, the table never counts more rest as missing than is.
func TestMissingRestIsNeverCountedTooHigh(t *testing.T) {
	for seed := uint64(1); seed <= 60; seed++ {
		p := anyProblem(seed, 3, 1, 6, 8)
		uneven(p, seed)
		s, err := tables(p)
		require.NoError(t, err)
		for i, pad := range p.Paddocks {
			g := s.grid(i, finest)
			g.rests()
			asked := p.Mobs[0].Limits.RestMin
			missing := func(age int) float64 { return float64(g.class[min(age, g.rested)]) / classes }
			for from := range s.slots + 1 {
				begin := s.at[s.first[from]]
				for to := from; to < s.slots; to++ {
					rest := s.at[s.first[to]] - begin
					require.LessOrEqual(t, missing(to-from), math.Max(0, 1-rest/asked)+1e-9, "seed %d, left at slot %d", seed, from)
					if from == 0 {
						require.LessOrEqual(t, missing(g.age+to), math.Max(0, 1-(*pad.Rest+rest)/asked)+1e-9, "seed %d, rested %g at the start", seed, *pad.Rest)
					}
				}
			}
		}
	}
}

// Who stands at the start on ground that is nobody's eats there too.
func TestAMobOnNobodysGroundIsProvenRight(t *testing.T) {
	for seed := uint64(1); seed <= 12; seed++ {
		p := anyProblem(seed, 4, 1, 6, 8)
		p.Paddocks[0].Mass, p.Paddocks[0].Closed = 3000, nil
		since := -0.5
		p.Mobs[0].In, p.Mobs[0].Since, p.Mobs[0].Ground = &p.Paddocks[0].Key, &since, []string{"p2", "p3", "p4"}
		p.Mobs[0].Limits.StayMax = 9
		got, ok := solved(t, p)
		require.True(t, ok)
		best := cheapest(p)
		assert.InDelta(t, best, got.Cost.Total, 1e-6*p.Demanded(), "seed %d", seed)
		assert.LessOrEqual(t, got.Bound, best+1e-6, "seed %d", seed)
		s, err := tables(p)
		require.NoError(t, err)
		known, err := s.followed(got.Visits)
		require.NoError(t, err)
		assert.LessOrEqual(t, s.byPrice(t.Context(), known, 2), best+1e-6, "seed %d: by prices", seed)
		stopped, stop := context.WithCancel(t.Context())
		stop()
		assert.LessOrEqual(t, s.byPrice(stopped, known, 2), best+1e-6, "seed %d: standing", seed)
	}
}

func TestLargeProblems(t *testing.T) {
	for seed := uint64(1); seed <= 3; seed++ {
		p := anyProblem(seed, 24, 2, 60, 8, 18)
		for i := range p.Paddocks {
			p.Paddocks[i].Reserve = false // of which the bound of so large a problem takes no account
		}
		got, ok := solved(t, p)
		require.True(t, ok)
		s, err := tables(p)
		require.NoError(t, err)
		from, err := ripest(s)
		require.NoError(t, err)
		assert.Less(t, got.Cost.Total, from.cost, "better than going to the ripest")
		assert.Less(t, got.Cost.Total, plain(s, 20000, seed), "and than plain annealing from there")
		assert.Greater(t, got.Bound, got.Cost.Total-0.4*p.Demanded(), "and it is known how good that is")
	}
}

func TestTheSameProblemGivesTheSamePlan(t *testing.T) {
	p := anyProblem(11, 9, 2, 20, 8, 18)
	p.Futures = 20
	first, ok := solved(t, p)
	require.True(t, ok)
	for range 3 {
		again, _ := solved(t, p)
		require.Equal(t, first, again)
	}
	p.Seed = 2
	other, _ := solved(t, p)
	assert.InDelta(t, first.Cost.Total, other.Cost.Total, 0.03*p.Demanded(), "another seed comes to much the same")
}

// hard makes a problem with all that a problem can have.
func hard(r *rapid.T) *Problem {
	p := anyProblem(rapid.Uint64().Draw(r, "seed"), rapid.IntRange(3, 5).Draw(r, "paddocks"), rapid.IntRange(1, 3).Draw(r, "mobs"),
		rapid.IntRange(3, 7).Draw(r, "days"), rapid.SampledFrom([][]float64{{8}, {8, 18}, {0, 6.5, 12}}).Draw(r, "hours")...)
	if rapid.Bool().Draw(r, "later") {
		start := float64(rapid.IntRange(0, 180).Draw(r, "start")) / 96
		p.Start = &start
	}
	if rapid.Bool().Draw(r, "some days") {
		for d := range p.Days {
			if rapid.Bool().Draw(r, "moved") {
				p.MoveDays = append(p.MoveDays, d)
			}
		}
		if p.MoveDays == nil {
			p.MoveDays = []int{}
		}
	}
	if rapid.Bool().Draw(r, "pinned") {
		moves := moments(p, p.start(), false)
		if len(moves) > 2 {
			i := rapid.IntRange(1, len(moves)-2).Draw(r, "from")
			pin := Pin{Mob: p.Mobs[0].Key, Paddock: &p.Paddocks[len(p.Paddocks)-1].Key, Enter: moves[i]}
			if rapid.Bool().Draw(r, "ends") {
				leave := moves[rapid.IntRange(i+1, len(moves)-1).Draw(r, "to")]
				pin.Leave = &leave
			}
			p.Pins = append(p.Pins, pin)
		}
	}
	if rapid.Bool().Draw(r, "own") {
		l := *p.Mobs[0].Limits
		l.Residual, l.RestMin = 1000, 0
		p.Mobs[0].LimitsByPaddock = map[string]Limits{p.Paddocks[0].Key: l}
	}
	return p
}

func TestEveryPlanIsAllowedAndCostsWhatItSays(t *testing.T) {
	rapid.Check(t, func(r *rapid.T) {
		p := hard(r)
		if p.Check() != nil {
			r.Skip()
		}
		got, ok := solved(t, p)
		if !ok {
			return
		}
		again, err := Follow(p, got.Visits)
		require.NoError(t, err)
		require.Equal(t, got.Visits, again.Visits, "followed, it is the same plan")
		require.InDelta(t, got.Cost.Total, again.Cost.Total, 1e-6)
		for _, v := range got.Visits {
			require.GreaterOrEqual(t, v.Eaten, 0.0)
			require.GreaterOrEqual(t, v.MassOut, 0.0)
		}
	})
}

func TestACopyOfTheFarmTwiceAsLargePlansAlike(t *testing.T) {
	p := anyProblem(5, 5, 1, 9, 8)
	p.Weights.Move, p.Weights.Distance = 0, 0
	one, ok := solved(t, p)
	require.True(t, ok)
	for i := range p.Paddocks {
		p.Paddocks[i].AreaHa *= 2
	}
	for d := range p.Mobs[0].Demand {
		p.Mobs[0].Demand[d] *= 2
	}
	two, _ := solved(t, p)
	assert.InDelta(t, 2*one.Cost.Total, two.Cost.Total, 1e-6*p.Demanded())
	for i, v := range one.Visits {
		assert.Equal(t, v.Paddock, two.Visits[i].Paddock)
		assert.Equal(t, v.Enter, two.Visits[i].Enter)
		assert.InDelta(t, 2*v.Eaten, two.Visits[i].Eaten, 1e-6)
	}
}

func TestOneMorePaddockIsNoHarm(t *testing.T) {
	for seed := uint64(1); seed <= 10; seed++ {
		p := anyProblem(seed, 4, 1, 7, 8)
		p.Mobs[0].Ground = nil
		without, ok := solved(t, p)
		if !ok {
			continue
		}
		p.Paddocks = append(p.Paddocks, Paddock{Key: "more", AreaHa: 1, Mass: 1000, Ceiling: 4000, Peak: Series{30}})
		with, _ := solved(t, p)
		left := -p.Weights.End * 1 * math.Max(0, massAlone(1000, 4000, 30, 7-8.0/24)-p.Mobs[0].Limits.Residual)
		assert.LessOrEqual(t, with.Cost.Total, without.Cost.Total+left+1e-6, "seed %d: leaving it alone is a plan", seed)
	}
}

func massAlone(mass, ceiling, growth, days float64) float64 {
	return ceiling / (1 + (ceiling/mass-1)*math.Exp(-4*growth/ceiling*days))
}

// costs is a problem of one mob in one of three alike paddocks, and what each change of a figure does to its cost.
func TestEachPartOfTheCostPullsItsWay(t *testing.T) {
	rest := 30.0
	base := func() *Problem {
		p := &Problem{Days: 6, MoveHours: []float64{8}, Weights: Usual, Seed: 1, Seconds: 2}
		for i := range 3 {
			p.Paddocks = append(p.Paddocks, Paddock{Key: fmt.Sprintf("p%d", i+1), AreaHa: 1, Mass: 2600, Ceiling: 5000, Peak: Series{50}, Rest: &rest, X: float64(300 * i)})
		}
		p.Mobs = []Mob{{Key: "m", In: &p.Paddocks[0].Key, Demand: Series{400}, Limits: &Limits{2600, 3100, 1500, 18, 2, 1, nil}}}
		return p
	}
	visits := func(p *Problem) []Visit {
		at := func(day int) float64 { return float64(day) + 8.0/24 }
		return []Visit{{Mob: "m", Paddock: &p.Paddocks[0].Key, Enter: at(0), Leave: at(2)}, {Mob: "m", Paddock: &p.Paddocks[1].Key, Enter: at(2), Leave: at(4)},
			{Mob: "m", Paddock: &p.Paddocks[2].Key, Enter: at(4), Leave: 6}}
	}
	was, err := Follow(base(), visits(base()))
	require.NoError(t, err)
	assert.Zero(t, was.Cost.Short)
	assert.Zero(t, was.Cost.Rest)
	assert.InDelta(t, 30, was.Cost.Move, 1e-9)
	assert.InDelta(t, 18, was.Cost.Distance, 1e-9, "twice 300 m at 30 a kilometre")
	for name, c := range map[string]struct {
		change func(p *Problem)
		part   func(c Cost) float64
	}{
		"hungrier is short":            {func(p *Problem) { p.Mobs[0].Demand = Series{1200} }, func(c Cost) float64 { return c.Short }},
		"hungrier eats the residual":   {func(p *Problem) { p.Mobs[0].Demand = Series{800} }, func(c Cost) float64 { return c.BelowResidual }},
		"a higher entry is early":      {func(p *Problem) { p.Mobs[0].Limits.Entry = 3000 }, func(c Cost) float64 { return c.Early }},
		"a lower best is late":         {func(p *Problem) { p.Mobs[0].Limits.TooOld = 2500 }, func(c Cost) float64 { return c.Late }},
		"less rest costs":              {func(p *Problem) { p.Mobs[0].Limits.RestMin = 60 }, func(c Cost) float64 { return c.Rest }},
		"a shorter stay is overstayed": {func(p *Problem) { p.Mobs[0].Limits.StayMax = 1 }, func(c Cost) float64 { return c.Stay }},
		"since longer is overstayed":   {func(p *Problem) { since := -3.0; p.Mobs[0].Since = &since }, func(c Cost) float64 { return c.Stay }},
		"less growth, less at the end": {func(p *Problem) { p.Paddocks[0].Peak = Series{5} }, func(c Cost) float64 { return c.End }},
		"treading, less at the end":    {func(p *Problem) { p.Mobs[0].Limits.Utilisation = 0.7 }, func(c Cost) float64 { return c.End }},
		"a kg of the reserve costs":    {func(p *Problem) { p.Paddocks[0].Reserve = true }, func(c Cost) float64 { return c.Reserve }},
	} {
		t.Run(name, func(t *testing.T) {
			p := base()
			c.change(p)
			now, err := Follow(p, visits(p))
			require.NoError(t, err)
			judged(t, p, now.Visits)
			assert.Greater(t, c.part(now.Cost), c.part(was.Cost)+1)
		})
	}
}

func TestWhatIsRefused(t *testing.T) {
	base := `{"days":5,"move_hours":[8],"paddocks":[{"key":"a","area_ha":1,"forage_mass_kg_dm_ha":2500,"ceiling_kg_dm_ha":5000,"peak_growth_kg_dm_ha_day":40},` +
		`{"key":"b","area_ha":1,"forage_mass_kg_dm_ha":2500,"ceiling_kg_dm_ha":5000,"peak_growth_kg_dm_ha_day":40,"closed":[{"from_day":3,"until_day":9}]}],` +
		`"mobs":[{"key":"m","demand_kg_dm_day":200,"in":"a","limits":{"entry_kg_dm_ha":2600,"too_old_kg_dm_ha":3100,"residual_kg_dm_ha":1500,"rest_min_days":18,"stay_max_days":3,"utilisation":1}}]}`
	_, err := Read([]byte(base))
	require.NoError(t, err)
	for _, c := range []struct{ from, to, field, says string }{
		{`"days":5`, `"days":0`, "days", "between 1 and 1100"},
		{`"days":5`, `"days":"five"`, "days", "“five” is not a whole number"},
		{`"days":5`, `"dais":5`, "dais", "not a field"},
		{`[8]`, `[]`, "move_hours", "at least one"},
		{`[8]`, `[25]`, "move_hours[0]", "23.999"},
		{`"area_ha":1,"forage`, `"area_ha":-1,"forage`, "paddocks[0].area_ha", "above 0"},
		{`"key":"b"`, `"key":"a"`, "paddocks[1].key", "of its own"},
		{`"peak_growth_kg_dm_ha_day":40}`, `"peak_growth_kg_dm_ha_day":[40,-3]}`, "paddocks[0].peak_growth_kg_dm_ha_day[1]", "-3"},
		{`"peak_growth_kg_dm_ha_day":40}`, `"peak_growth_kg_dm_ha_day":[]}`, "paddocks[0].peak_growth_kg_dm_ha_day", "list"},
		{`"in":"a"`, `"in":"z"`, "mobs[0].in", "no paddock"},
		{`"in":"a"`, `"in":"a","since_day":3`, "mobs[0].since_day", "0.333"},
		{`"in":"a"`, `"in":"a","ground":["q"]`, "mobs[0].ground[0]", "no paddock"},
		{`"utilisation":1`, `"utilisation":1.5`, "mobs[0].limits.utilisation", "at most 1"},
		{`"demand_kg_dm_day":200`, `"demand_kg_dm_day":"lots"`, "mobs.demand_kg_dm_day", `"lots" is not a list`},
		{`"limits":{`, `"other":{`, "other", "not a field"},
		{`"days":5`, `"days":5,"weights":{"move":-1}`, "weights.move", "between 0"},
		{`"days":5`, `"days":5,"pins":[{"mob":"x","paddock":"a","enter_day":1.3333333333333333}]`, "pins[0].mob", "no mob"},
	} {
		require.Contains(t, base, c.from)
		_, err := Read([]byte(strings.Replace(base, c.from, c.to, 1)))
		var refused *quantity.Problem
		require.True(t, errors.As(err, &refused), "%s: %v", c.to, err)
		assert.Equal(t, c.field, refused.Field, c.to)
		assert.Contains(t, refused.Error(), c.says)
		assert.NotContains(t, refused.Error(), "\n")
	}
	for _, c := range []struct{ pins, says string }{
		{`{"mob":"m","paddock":"b","enter_day":2.3333333333333335,"leave_day":4.333333333333333}`, "m on day 2: b is closed"},
		{`{"mob":"m","paddock":"b","enter_day":1.5}`, "m on day 1: that is no moment"},
		{`{"mob":"m","paddock":"b","enter_day":1.3333333333333333,"leave_day":1.3333333333333333}`, "m on day 1: it ends"},
		{`{"mob":"m","paddock":null,"enter_day":1.3333333333333333}`, "may not be held"},
		{`{"mob":"m","paddock":"a","enter_day":0.3333333333333333}`, "stand there already"},
		{`{"mob":"m","paddock":"b","enter_day":1.3333333333333333,"leave_day":2.3333333333333335},{"mob":"m","paddock":"a","enter_day":1.3333333333333333}`, "pinned elsewhere"},
	} {
		p, err := Read([]byte(strings.Replace(base, `"days":5`, `"days":5,"pins":[`+c.pins+`]`, 1)))
		require.NoError(t, err)
		_, err = Solve(t.Context(), &p, nil)
		require.ErrorContains(t, err, c.says)
	}
	// They are to leave b while a is closed, and may not be held: there is no plan, and it says for whom and when.
	p, err := Read([]byte(strings.Replace(base, `"days":5,`, `"days":5,"pins":[{"mob":"m","paddock":"b","enter_day":1.3333333333333333,"leave_day":2.3333333333333335}],`, 1)))
	require.NoError(t, err)
	p.Paddocks[0].Closed = []Closed{{2, 9}}
	_, err = Solve(t.Context(), &p, nil)
	require.ErrorContains(t, err, "m have nowhere to be on day 2")
}

func TestFollowRefusesWhatIsNotAllowed(t *testing.T) {
	p := anyProblem(3, 4, 2, 5, 8)
	got, ok := solved(t, p)
	require.True(t, ok)
	broken := func(change func(v []Visit) []Visit) error {
		_, err := Follow(p, change(slices.Clone(got.Visits)))
		return err
	}
	assert.ErrorContains(t, broken(func(v []Visit) []Visit { return v[:len(v)-1] }), "nothing says where")
	assert.ErrorContains(t, broken(func(v []Visit) []Visit { return append(v, v[len(v)-1]) }), "lies over another")
	assert.ErrorContains(t, broken(func(v []Visit) []Visit { v[len(v)-1].Leave -= 0.1; return v }), "no moment")
	nobody := "q"
	assert.ErrorContains(t, broken(func(v []Visit) []Visit { v[0].Paddock = &nobody; return v }), "not there")
}

func TestCarefulPlansRunShortLess(t *testing.T) {
	p := anyProblem(21, 8, 1, 40, 8, 18)
	p.Futures = 200
	bold, ok := solved(t, p)
	require.True(t, ok)
	r := bold.Risk
	require.NotNil(t, r)
	assert.Equal(t, 200, r.Futures)
	require.Len(t, r.ByDay, 40)
	for _, c := range r.ByDay {
		assert.LessOrEqual(t, c, r.ShortChance+1e-12, "no day is likelier short than some day")
	}
	if r.FirstShort != nil {
		assert.GreaterOrEqual(t, r.ByDay[*r.FirstShort], atRisk)
	}
	p.Careful = true
	shy, _ := solved(t, p)
	assert.LessOrEqual(t, shy.Risk.ShortChance, r.ShortChance+0.02)
	assert.GreaterOrEqual(t, shy.Cost.Total, bold.Cost.Total-0.01*p.Demanded(), "care costs something where all goes as foreseen")
}

func TestWhysSayTheNextBest(t *testing.T) {
	p := anyProblem(7, 5, 1, 9, 8)
	got, ok := solved(t, p)
	require.True(t, ok)
	whys, err := Whys(p, got.Visits, 20)
	require.NoError(t, err)
	require.NotEmpty(t, whys)
	for _, y := range whys {
		last := math.Inf(-1)
		for _, in := range y.Instead {
			if in.Not != "" {
				continue
			}
			assert.GreaterOrEqual(t, in.More.Total, -1e-6, "nothing instead is cheaper, for no plan is")
			assert.GreaterOrEqual(t, in.More.Total, last)
			last = in.More.Total
		}
	}
	var said strings.Builder
	require.NoError(t, Explain(&said, p, got))
	assert.Contains(t, said.String(), "No plan is cheaper")
}

func TestTheLimitOfTimeStopsASearchWithAPlan(t *testing.T) {
	p := anyProblem(4, 24, 2, 60, 8, 18)
	ctx, stop := context.WithCancel(t.Context())
	shares := []float64{}
	got, err := Solve(ctx, p, func(share float64) {
		shares = append(shares, share)
		stop()
	})
	require.NoError(t, err)
	assert.False(t, got.Finished)
	assert.NotEmpty(t, shares)
	judged(t, p, got.Visits)
	assert.LessOrEqual(t, got.Bound, got.Cost.Total)
}

// A beam counts as it goes; counted as a whole its plan comes to the same, and keeps every rule.
func TestABeamCountsWhatItsPlanCosts(t *testing.T) {
	found, cheaper := 0, 0
	for seed := uint64(1); seed <= 120; seed++ {
		p := anyProblem(seed, 3+int(seed%6), 1+int(seed%3), 12, 8, 18)
		if seed%3 == 0 {
			uneven(p, seed)
		}
		s, err := tables(p)
		require.NoError(t, err)
		end := s.ahead(t.Context())
		if end == nil {
			continue
		}
		found++
		got := s.beam(t.Context())
		require.InDelta(t, end.cost, got.cost, 1e-6, "seed %d", seed)
		judged(t, p, got.plan().Visits)
		if eye, err := ripest(s); err == nil {
			if got.cost < eye.cost-1 {
				cheaper++
			}
			best := search(t.Context(), []*state{eye, got}, 1, effort{chains: 2}, 1, nil)
			require.Equal(t, min(eye.cost, got.cost), best.cost, "a search that gets nowhere keeps the better of its openings")
		}
	}
	assert.Greater(t, found, 90)
	assert.Greater(t, cheaper, 60, "it looks further than the eye")
}

func FuzzRead(f *testing.F) {
	raw, err := json.Marshal(anyProblem(1, 3, 1, 4, 8))
	require.NoError(f, err)
	f.Add(raw)
	f.Add([]byte(`{}`))
	f.Fuzz(func(t *testing.T, raw []byte) {
		p, err := Read(raw)
		if err != nil || p.Days > 30 || len(p.Paddocks)*len(p.Mobs)*len(p.MoveHours) > 60 || p.Futures > 10 {
			return
		}
		s, err := tables(&p)
		if err != nil {
			return
		}
		if from, err := ripest(s); err == nil {
			got := from.plan()
			require.False(t, math.IsNaN(got.Cost.Total))
			_, err := Follow(&p, got.Visits)
			require.NoError(t, err, "an opening is a plan")
		}
	})
}

func BenchmarkPlan(b *testing.B) {
	for _, c := range []struct{ paddocks, mobs, days int }{{24, 2, 60}, {60, 3, 180}, {400, 8, 365}} {
		p := anyProblem(2, c.paddocks, c.mobs, c.days, 8, 18)
		name := fmt.Sprintf("%dx%dx%d", c.paddocks, c.mobs, c.days)
		b.Run(name+"/first", func(b *testing.B) {
			for b.Loop() {
				s, err := tables(p)
				require.NoError(b, err)
				_, err = ripest(s)
				require.NoError(b, err)
			}
		})
		b.Run(name+"/whole", func(b *testing.B) {
			for b.Loop() {
				got, err := Solve(b.Context(), p, nil)
				require.NoError(b, err)
				b.ReportMetric(got.Cost.Total, "kg")
				b.ReportMetric(100*(got.Cost.Total-got.Bound)/p.Demanded(), "%-of-demand-above-the-bound")
			}
		})
		s, err := tables(p)
		require.NoError(b, err)
		from, err := ripest(s)
		require.NoError(b, err)
		visits := from.plan().Visits
		b.Run(name+"/follow", func(b *testing.B) {
			for b.Loop() {
				_, err := Follow(p, visits)
				require.NoError(b, err)
			}
		})
		b.Run(name+"/100futures", func(b *testing.B) {
			for b.Loop() {
				from.risk(100)
			}
		})
	}
}
