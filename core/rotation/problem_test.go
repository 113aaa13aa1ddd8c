package rotation

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/rotation/plan"
)

func TestAFarmAsAProblemOnItsOwn(t *testing.T) {
	f := farmOf(16, 2)
	f.Paddocks[3].Closures = []Closure{{From: start.AddDate(0, 0, 4), Until: start.AddDate(0, 0, 9), For: "hay"}, {Until: start.AddDate(0, 0, -3)}}
	f.Paddocks[5].Name = f.Paddocks[4].Name
	standing := wedge(f)
	standing[2].LastLeft, standing[2].Factor = nil, 1.2
	mobs := []Mob{mobOn(f, "cows", 420, 15, everywhere), mobOn(f, "ewes", 60, Nowhere, func(p int) bool { return p < 11 })}
	to := start.AddDate(0, 0, 28).Truncate(24 * time.Hour)
	pins := []Pin{{Mob: 0, Paddock: 12, Enter: time.Date(2026, 6, 14, 8, 0, 0, 0, time.UTC), Leave: time.Date(2026, 6, 15, 18, 0, 0, 0, time.UTC)}}
	p := ProblemOf(f, mobs, standing, pins, start, to)
	raw, err := json.Marshal(p)
	require.NoError(t, err)
	read, err := plan.Read(raw)
	require.NoError(t, err, "what goes out comes in")
	assert.Equal(t, p.Mobs, read.Mobs)

	assert.Equal(t, 28, p.Days)
	assert.InDelta(t, 5.5/24, *p.Start, 1e-9)
	assert.Equal(t, []float64{8, 18}, p.MoveHours)
	assert.Equal(t, []plan.Closed{{From: 4 + 5.5/24, Until: 9 + 5.5/24}}, p.Paddocks[3].Closed, "what is over is not in it")
	assert.NotEqual(t, p.Paddocks[4].Key, p.Paddocks[5].Key)
	assert.Nil(t, p.Paddocks[2].Rest, "unknown is not none")
	assert.InDelta(t, 60*1.2, p.Paddocks[2].Peak[0], 1e-9, "the learned factor is in it")
	assert.Len(t, p.Mobs[1].Ground, 11)
	assert.Nil(t, p.Mobs[1].In)
	assert.InDelta(t, 4+8.0/24, p.Pins[0].Enter, 1e-9)

	// The plan that the app makes, followed as a problem, leaves what the app says, and a searched one costs no more.
	made := Schedule(f, mobs, standing, pins, start, to)
	g, err := GradeOf(t.Context(), f, mobs, standing, pins, made.Visits, start, to)
	require.NoError(t, err)
	day := g.Day
	followed := g.Present
	for _, v := range made.Visits {
		for _, w := range followed.Visits {
			if w.Paddock != nil && w.Mob == p.Mobs[v.Mob].Key && *w.Paddock == p.Paddocks[v.Paddock].Key && w.Leave == day(v.Leave) {
				assert.InEpsilon(t, v.MassOut, w.MassOut, 0.01, "%s leaving %s", w.Mob, *w.Paddock)
			}
		}
	}
	assert.LessOrEqual(t, g.Found.Cost.Total, followed.Cost.Total)
	kept, err := Find(t.Context(), f, mobs, standing, pins, made.Visits, start, to, 0)
	require.NoError(t, err)
	assert.LessOrEqual(t, g.Found.Cost.Total, kept.Told.Cost.Total+1e-6, "a search begins where the grade does")
	assert.LessOrEqual(t, g.Found.Bound, g.Found.Cost.Total)
	assert.NotNil(t, g.Present.Risk)
	assert.NotEmpty(t, g.Why)
	for _, at := range []time.Time{start, pins[0].Enter, to} {
		assert.Equal(t, at.Truncate(time.Minute), g.At(day(at)))
	}
}

func TestAPlanThatHoldsIsGradedWithTheFeedingInIt(t *testing.T) {
	f := farmOf(4, 1)
	standing := wedge(f)
	mobs := []Mob{mobOn(f, "cows", 700, 3, everywhere)}
	to := start.AddDate(0, 0, 14).Truncate(24 * time.Hour)
	made := Schedule(f, mobs, standing, nil, start, to)
	held := false
	for _, v := range made.Visits {
		held = held || !v.Held.IsZero()
	}
	require.True(t, held, "so little ground does not feed them")
	g, err := GradeOf(t.Context(), f, mobs, standing, nil, made.Visits, start, to)
	require.NoError(t, err)
	assert.Positive(t, g.Present.Cost.Feed)
	assert.NotEmpty(t, g.Takes, "and what would help is said")
	assert.LessOrEqual(t, g.Found.Cost.Total, g.Present.Cost.Total)
}

func TestAPlanThatNoProblemAllowsHasNoGrade(t *testing.T) {
	f := farmOf(6, 2)
	mobs := []Mob{mobOn(f, "cows", 300, 5, everywhere), mobOn(f, "ewes", 100, 5, everywhere)}
	to := start.AddDate(0, 0, 14).Truncate(24 * time.Hour)
	made := Schedule(f, mobs, wedge(f), nil, start, to)
	_, err := GradeOf(t.Context(), f, mobs, wedge(f), nil, made.Visits, start, to)
	assert.ErrorContains(t, err, "grade the plan", "two mobs stand in one paddock")
}
