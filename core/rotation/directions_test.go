package rotation

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/forage"
)

// Of two paddocks that are as ripe the nearer one is taken.
func TestTheNearerPaddockGoesFirst(t *testing.T) {
	f := farmOf(3, 2)
	f.Paddocks[1].X, f.Paddocks[2].X = 3000, 300
	standing := []Standing{{Mass: 1700}, {Mass: 2700}, {Mass: 2700}}
	plan := Schedule(f, []Mob{mobOn(f, "cows", 900, 0, everywhere)}, standing, nil, start, start.Add(10*24*time.Hour))
	require.Greater(t, len(plan.Visits), 1)
	assert.Equal(t, 2, plan.Visits[1].Paddock)
}

// Another day takes what they eat, and what they tread with it.
func TestAnotherDayTakesWhatIsTroddenToo(t *testing.T) {
	f := farmOf(1, 2)
	mob := mobOn(f, "cows", 300, 0, everywhere)
	plan := Schedule(f, []Mob{mob}, []Standing{{Mass: 2600}}, nil, start, start.Add(2*24*time.Hour))
	require.Len(t, plan.Visits, 1)
	v := plan.Visits[0]
	assert.InDelta(t, forage.Grow(v.MassOut, 60, 5200, 1)-300/leys.U/2, v.LingerMass, 1e-9)
}

// Doubt grows with the root of time: what the curve misses one week it may make up the next.
func TestDoubtGrowsWithTheRootOfTime(t *testing.T) {
	s := Standing{Mass: 2000, HalfWidth: 0, MeasuredAt: start, At: start}
	one, four := s.HalfWidthAt(start.AddDate(0, 0, 7), 2000), s.HalfWidthAt(start.AddDate(0, 0, 28), 2000)
	assert.InEpsilon(t, 2, four/one, 1e-9)
	assert.InEpsilon(t, 1.96*carriedNoise*2000, one, 1e-9)
	assert.Zero(t, s.HalfWidthAt(start.AddDate(0, 0, -7), 2000), "and not backwards")
}

// Two stays are off by errors of their own: the second does not go on from the first.
func TestEachStayHasItsOwnErrorOfIntake(t *testing.T) {
	f := farmOf(2, 2)
	mobs := []Mob{mobOn(f, "cows", 700, Nowhere, everywhere)}
	day := func(d int) time.Time { return start.AddDate(0, 0, d) }
	measured := []Measured{{Paddock: 0, At: day(0), Mass: 4500, HalfWidth: 100, Shared: 50}}
	guesses := []Standing{Guess(leys, 5000), Guess(leys, 5000)}
	apart := Recount(f, mobs, guesses, []Stay{{0, 0, day(1), day(3)}, {0, 1, day(3), day(3).Add(time.Minute)}, {0, 0, day(3).Add(time.Minute), day(5)}}, measured, day(0), day(5))
	through := Recount(f, mobs, guesses, []Stay{{0, 0, day(1), day(5)}}, measured, day(0), day(5))
	assert.Less(t, apart.Standing[0].HalfWidth, through.Standing[0].HalfWidth*0.9)
	assert.False(t, math.IsNaN(apart.Standing[0].HalfWidth))
}

func TestALimitComesBackEveryYear(t *testing.T) {
	oslo, err := time.LoadLocation("Europe/Oslo")
	require.NoError(t, err)
	on := func(y, m, d int) time.Time { return time.Date(y, time.Month(m), d, 12, 0, 0, 0, oslo) }
	closed := func(from, until string, at time.Time) string {
		list, err := Yearly(from, until, "nesting birds", start, oslo)
		require.NoError(t, err)
		why, _ := Paddock{Closures: list}.ClosedAt(at)
		return why
	}
	assert.Equal(t, "nesting birds until 15 July", closed("04-15", "07-15", on(2026, 6, 1)))
	assert.Equal(t, "nesting birds until 15 July", closed("04-15", "07-15", on(2027, 7, 14)))
	assert.Empty(t, closed("04-15", "07-15", on(2026, 7, 15)), "the last day is the first it no longer holds")
	assert.Empty(t, closed("04-15", "07-15", on(2026, 4, 14)))
	assert.NotEmpty(t, closed("11-01", "03-01", on(2026, 1, 20)), "over new year")
	assert.Empty(t, closed("11-01", "03-01", on(2026, 6, 1)))
	assert.NotEmpty(t, closed("02-29", "04-01", on(2026, 3, 1)), "29 February of a common year is 1 March")
	assert.Empty(t, closed("02-29", "04-01", on(2026, 2, 28)))
	for _, bad := range [][2]string{{"", "04-01"}, {"02-30", "04-01"}, {"02-01", "x"}} {
		_, err := Yearly(bad[0], bad[1], "", start, oslo)
		assert.Error(t, err)
	}
}
