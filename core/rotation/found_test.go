package rotation

import (
	"context"
	"slices"
	"testing"
	"time"

	"fjell/core/grazing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// where tells who is where when, without what comes of it.
func where(visits []Visit) (out []Move) {
	for _, v := range visits {
		out = append(out, Move{Mob: v.Mob, Paddock: v.Paddock, Enter: v.Enter, Leave: v.Leave})
	}
	return out
}

// summer is a farm with two mobs on shared ground in flush growth, where looking one move ahead is not the best.
func summer() (Farm, []Mob, []Standing, time.Time) {
	f := farmOf(16, 2)
	return f, []Mob{mobOn(f, "cows", 420, 15, everywhere), mobOn(f, "ewes", 60, Nowhere, func(p int) bool { return p < 11 })}, wedge(f),
		start.AddDate(0, 0, 28).Truncate(24 * time.Hour)
}

func TestMovesThatAreFoundSpareFeedAndAreKeptWithoutNews(t *testing.T) {
	f, mobs, standing, to := summer()
	made := Schedule(f, mobs, standing, nil, start, to)
	found, err := Find(t.Context(), f, mobs, standing, nil, made.Visits, start, to, 0)
	require.NoError(t, err)
	assert.True(t, found.Told.Finished)
	require.True(t, found.Changed)
	assert.Positive(t, found.Spared)
	assert.LessOrEqual(t, found.Told.Bound, found.Told.Cost.Total)

	told := Following(f, mobs, standing, nil, found.Moves, start, to)
	g, err := PresentOf(f, mobs, standing, nil, told.Visits, start, to)
	require.NoError(t, err)
	assert.InDelta(t, found.Told.Cost.Total, g.Present.Cost.Total, 1e-6, "what is promised is what comes of it")

	// What was counted on stays in the first round.
	soon := start.AddDate(0, 0, counted)
	near := func(v Visit) bool { return v.Enter.After(start) && v.Enter.Before(soon) }
	for _, v := range made.Visits {
		if near(v) {
			assert.True(t, slices.ContainsFunc(told.Visits, func(w Visit) bool { return w.Mob == v.Mob && w.Paddock == v.Paddock && w.Enter.Equal(v.Enter) }))
		}
	}
	again, err := Find(t.Context(), f, mobs, standing, nil, told.Visits, start, to, 0)
	require.NoError(t, err)
	assert.False(t, again.Changed, "nothing new, nothing changed")
	assert.Equal(t, where(told.Visits), where(Following(f, mobs, standing, nil, again.Moves, start, to).Visits))
	onward, err := Find(t.Context(), f, mobs, standing, nil, told.Visits, start, to, 1)
	require.NoError(t, err)
	g, err = PresentOf(f, mobs, standing, nil, told.Visits, start, to)
	require.NoError(t, err)
	if onward.Changed {
		then := Following(f, mobs, standing, nil, onward.Moves, start, to).Visits
		least := worth
		for _, v := range told.Visits {
			if near(v) && !slices.ContainsFunc(then, func(w Visit) bool { return w.Mob == v.Mob && w.Paddock == v.Paddock && w.Enter.Equal(v.Enter) }) {
				least = worthNear
			}
		}
		assert.Greater(t, onward.Spared, least*g.Problem.Demanded(), "what is counted on changes only for a gain worth it")
	}
}

func TestAPlanFollowsItself(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := farmOf(rapid.IntRange(4, 14).Draw(t, "paddocks"), rapid.Float64Range(0.5, 3).Draw(t, "ha"))
		standing := wedge(f)
		for i := range standing {
			standing[i].Mass = rapid.Float64Range(1200, 3400).Draw(t, "mass")
		}
		mobs := []Mob{mobOn(f, "cows", rapid.Float64Range(50, 700).Draw(t, "cows"), 0, everywhere),
			mobOn(f, "ewes", rapid.Float64Range(10, 300).Draw(t, "ewes"), Nowhere, func(p int) bool { return p%2 == 0 })}
		to := start.AddDate(0, 0, 21).Truncate(24 * time.Hour)
		made := Schedule(f, mobs, standing, nil, start, to)
		assert.Equal(t, where(made.Visits), where(Following(f, mobs, standing, nil, movesOf(made.Visits), start, to).Visits))
		assert.Equal(t, where(made.Visits), where(Following(f, mobs, standing, nil, nil, start, to).Visits))

		// Whatever moves are to be followed, nobody goes where they may not, and rest is kept.
		var odd []Move
		for range rapid.IntRange(0, 12).Draw(t, "moves") {
			enter := f.NextSlot(start.Add(time.Duration(rapid.IntRange(0, 480).Draw(t, "hour")) * time.Hour))
			odd = append(odd, Move{Mob: rapid.IntRange(0, 1).Draw(t, "mob"), Paddock: rapid.IntRange(0, len(f.Paddocks)-1).Draw(t, "to"), Enter: enter,
				Leave: f.NextSlot(enter.Add(time.Duration(rapid.IntRange(0, 96).Draw(t, "stay")) * time.Hour))})
		}
		plan := Following(f, mobs, standing, nil, odd, start, to)
		for _, c := range plan.Checks {
			assert.NotContains(t, []Rule{TwoMobs, RestTooShort}, c.Rule)
		}
		for _, v := range plan.Visits {
			assert.True(t, mobs[v.Mob].Ground[v.Paddock])
			assert.True(t, v.Leave.After(v.Enter))
		}
	})
}

// A stay in which they are held in the end is a move all the same: without it the next one, weeks later, was made at once.
func TestAPlanWithAHoldFollowsItself(t *testing.T) {
	f := farmOf(8, 0.77)
	standing := wedge(f)
	for i, mass := range []float64{3400, 3400, 1892, 2554, 2622, 1397, 1531, 2331} {
		standing[i].Mass = mass
	}
	mobs := []Mob{mobOn(f, "cows", 700, 0, everywhere), mobOn(f, "ewes", 105, Nowhere, func(p int) bool { return p%2 == 0 })}
	to := start.AddDate(0, 0, 21).Truncate(24 * time.Hour)
	made := Schedule(f, mobs, standing, nil, start, to)
	require.True(t, slices.ContainsFunc(made.Visits, func(v Visit) bool { return v.Mob == 1 && !v.Held.IsZero() }))
	assert.Equal(t, where(made.Visits), where(Following(f, mobs, standing, nil, movesOf(made.Visits), start, to).Visits))
}

func TestMovesThatWereFoundYieldToNews(t *testing.T) {
	f, mobs, standing, to := summer()
	mobs = mobs[:1]
	at := func(day, hour int) time.Time { return time.Date(2026, 6, day, hour, 0, 0, 0, time.UTC) }
	moves := []Move{{Paddock: 15, Enter: start.Add(-24 * time.Hour), Leave: at(11, 18)}, {Paddock: 12, Enter: at(11, 18), Leave: at(14, 8)},
		{Paddock: 10, Enter: at(14, 8), Leave: at(15, 18)}}
	follow := func() []Visit { return Following(f, mobs, standing, nil, moves, start, to).Visits }
	list := follow()
	require.GreaterOrEqual(t, len(list), 4)
	for i, m := range moves {
		assert.Equal(t, m.Paddock, list[i].Paddock)
		assert.Equal(t, m.Leave, list[i].Leave)
		assert.Equal(t, i > 0, list[i].Found)
	}
	assert.False(t, list[3].Found, "then it goes on by itself")

	// Less stands there than was thought: they go on sooner, to the same paddock.
	standing[12].Mass = 1550
	list = follow()
	assert.Equal(t, 12, list[1].Paddock)
	assert.True(t, list[1].Leave.Before(at(14, 8)), "before it is eaten lower than was meant")
	assert.Equal(t, 10, list[2].Paddock)

	// Nobody has measured it: what was measured goes first.
	standing[12].Guessed = true
	assert.NotEqual(t, 12, follow()[1].Paddock)
	standing[12].Guessed = false

	// It is closed: they go elsewhere, and to the one after it when its hour comes.
	f.Paddocks[12].Closures = []Closure{{For: "hay"}}
	list = follow()
	assert.NotEqual(t, 12, list[1].Paddock)
	assert.Equal(t, 10, list[2].Paddock)

	// A move was missed, and the mob stands where it stood: the next one holds.
	f.Paddocks[12].Closures = nil
	late := Following(f, mobs, standing, nil, moves, at(12, 12), to)
	assert.True(t, late.Visits[0].Fact)
	assert.False(t, late.Visits[0].Leave.Before(at(12, 18)))
	assert.Equal(t, 12, late.Visits[1].Paddock)
}

func TestASearchKeepsPinsAndGivesAPlanWhenStopped(t *testing.T) {
	f, mobs, standing, to := summer()
	pin := Pin{Mob: 0, Paddock: 13, Enter: time.Date(2026, 6, 16, 8, 0, 0, 0, time.UTC)}
	made := Schedule(f, mobs, standing, []Pin{pin}, start, to)
	found, err := Find(t.Context(), f, mobs, standing, []Pin{pin}, made.Visits, start, to, 0)
	require.NoError(t, err)
	kept := false
	for _, v := range Following(f, mobs, standing, []Pin{pin}, found.Moves, start, to).Visits {
		kept = kept || v.Pinned && v.Paddock == 13 && v.Enter.Equal(pin.Enter)
	}
	assert.True(t, kept, "a pin stays")

	// Stopped at once, there is a plan all the same: the one there was, or better.
	stopped, stop := context.WithCancel(t.Context())
	stop()
	found, err = Find(stopped, f, mobs, standing, nil, made.Visits, start, to, 0)
	require.NoError(t, err)
	assert.False(t, found.Told.Finished)
	assert.GreaterOrEqual(t, found.Spared, 0.0)
	assert.NotEmpty(t, found.Moves)
}

// The year turns dry after the search: growth is a third of what was foreseen. The moves are followed as far as they hold, nobody is
// driven round faster for it, nothing is eaten below the residual, and what is missing is said.
func TestMovesThatWereFoundInAGoodYearHoldTheRulesInADryOne(t *testing.T) {
	f, mobs, standing, to := summer()
	made := Schedule(f, mobs, standing, nil, start, to)
	found, err := Find(t.Context(), f, mobs, standing, nil, made.Visits, start, to, 1)
	require.NoError(t, err)
	for p := range f.Paddocks {
		f.Paddocks[p].Peak /= 3
	}
	mobs[0].Demand = Steady(700)
	dry := Following(f, mobs, standing, nil, found.Moves, start, to)
	missing := false
	for _, c := range dry.Checks {
		assert.NotContains(t, []Rule{BelowResidual, RestTooShort, TwoMobs, StayTooLong}, c.Rule)
		missing = missing || c.Rule == NoPaddock && c.Severity == grazing.Stop
	}
	assert.True(t, missing, "there is not enough, and it is said")
	for _, v := range dry.Visits {
		assert.GreaterOrEqual(t, v.MassOut, leys.Residual*(1-slackShare)-1e-6)
	}
}

// What is counted on changes for a gain of one in a hundred and not for less; what lies further on for one in a thousand.
func TestAChangeMustBeWorthIt(t *testing.T) {
	now := start
	at := func(days int) time.Time { return now.AddDate(0, 0, days) }
	present := []Visit{{Mob: 0, Paddock: 1, Enter: at(1)}, {Mob: 1, Paddock: 4, Enter: at(2)}, {Mob: 0, Paddock: 2, Enter: at(5)}}
	far := slices.Clone(present)
	far[2].Paddock = 3
	assert.InDelta(t, 0.001, worthOf(present, far, now), 0, "what lies further on may change for less")
	for _, change := range []func(v *Visit){func(v *Visit) { v.Paddock = 7 }, func(v *Visit) { v.Enter = at(2).Add(12 * time.Hour) }, func(v *Visit) { v.Enter = at(4) }} {
		near := slices.Clone(present)
		change(&near[1])
		assert.InDelta(t, 0.01, worthOf(present, near, now), 0)
	}
	pins := []Pin{{Mob: 1, Paddock: 4, Enter: at(2)}}
	assert.Equal(t, []Pin{pins[0], {Mob: 0, Paddock: 1, Enter: at(1)}}, counting(pins, present, now), "a pin is not pinned twice")
	assert.Len(t, pins, 1)
}
