package rotation

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var hay = []Limit{{Kind: "hay", From: "04-15", Until: "07-10"}}

// Hay ground came back on its day with the whole hay crop on it, past its best, for weeks of plans to come.
func TestHayIsCutWhenItsClosureEnds(t *testing.T) {
	f := farmOf(2, 1)
	now := time.Date(2026, 6, 10, 6, 0, 0, 0, time.UTC)
	f.Paddocks[0].Closures, f.Paddocks[0].CutTo = Closed("", "", hay, nil, nil, now, time.UTC), 1450
	standing := []Standing{{Mass: 3500, HalfWidth: 300, MeasuredAt: now}, {Mass: 2000, HalfWidth: 300, MeasuredAt: now}}
	plan := Schedule(f, nil, standing, nil, now, now.AddDate(0, 0, 50))
	july := func(day, hour int) time.Time { return time.Date(2026, 7, day, hour, 0, 0, 0, time.UTC) }
	assert.Greater(t, MassAt(plan.Trace[0], july(9, 12)), 4000.0)
	assert.InDelta(t, 1450, MassAt(plan.Trace[0], july(10, 0)), 1e-9)
	assert.Greater(t, MassAt(plan.Trace[0], july(20, 0)), 1500.0, "and grows again")
	assert.Less(t, plan.Totals[0].Corrected, -2000.0, "what was carted off is told of")
	outlook := Foresee(f, []bool{true, true}, standing, plan)
	last := len(outlook.Half[0]) - 1
	assert.Positive(t, outlook.Half[0][last])
}

func TestACutEndsWhatIsClosedForHay(t *testing.T) {
	now := time.Date(2026, 6, 10, 6, 0, 0, 0, time.UTC)
	cut := time.Date(2026, 6, 8, 12, 0, 0, 0, time.UTC)
	closed := func(limits []Limit, cuts ...time.Time) bool {
		p := Paddock{Closures: Closed("", "", limits, cuts, nil, now, time.UTC)}
		_, closed := p.ClosedAt(now)
		return closed
	}
	assert.True(t, closed(hay))
	assert.False(t, closed(hay, cut), "the day before yesterday")
	assert.True(t, closed(hay, cut.AddDate(-1, 0, 0)), "last year's cut ended last year's closure")
	assert.True(t, closed([]Limit{{Kind: "nesting", From: "04-15", Until: "07-10"}}, cut), "birds nest on")
	p := Paddock{Closures: Closed("", "", hay, []time.Time{cut}, nil, now, time.UTC)}
	_, next := p.ClosedAt(now.AddDate(1, 0, 0))
	assert.True(t, next, "next year it is closed again")
}

// A walk after a cut was far off: Fjell asked whether something had eaten the hay.
func TestACutIsNoSurprise(t *testing.T) {
	f := farmOf(1, 2)
	day := func(d int) time.Time { return start.AddDate(0, 0, d) }
	measured := []Measured{{Paddock: 0, At: day(0), Mass: 3600, HalfWidth: 300, Shared: 200, By: "plate"}, {Paddock: 0, At: day(5), Mass: 1500, HalfWidth: 375, Cut: true},
		{Paddock: 0, At: day(9), Mass: 1700, HalfWidth: 200, Shared: 120, By: "plate"}}
	past := Recount(f, nil, []Standing{Guess(leys, 5000)}, nil, measured, day(0), day(10))
	assert.Empty(t, past.Odd)
	assert.InDelta(t, 1750, past.Mass[0], 120)
	require.InDelta(t, 1, past.Standing[0].Factor, 0.1, "nothing is learned of growth from the step")
	without := Recount(f, nil, []Standing{Guess(leys, 5000)}, nil, append(measured[:1:1], measured[2]), day(0), day(10))
	assert.NotEmpty(t, without.Odd, "without it, it is asked about")
}
