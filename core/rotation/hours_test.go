package rotation

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestMoveHoursKeepToTheDaysThereIsSomebody(t *testing.T) {
	loc, err := time.LoadLocation("Europe/Oslo")
	require.NoError(t, err)
	day := func(d int) int { return DayNumber(time.Date(2026, 6, d, 12, 0, 0, 0, loc), loc) }
	at := func(d, h int) time.Time { return time.Date(2026, 6, d, h, 0, 0, 0, loc) }
	f := Farm{Location: loc, Hours: Hours{Minutes: []int{480, 1080}}}
	for _, c := range []struct {
		name        string
		hours       Hours
		after, want time.Time
	}{
		{"any day", Hours{Minutes: []int{480, 1080}}, at(10, 9), at(10, 18)},
		{"none named", Hours{}, at(10, 9), at(11, 8)},
		{"no weekend", Hours{Minutes: []int{480}, Weekdays: []time.Weekday{1, 2, 3, 4, 5}}, at(12, 9), at(15, 8)},
		{"away, both ends", Hours{Minutes: []int{480, 1080}, Away: []Away{{day(11), day(19)}}}, at(10, 18), at(20, 8)},
		{"away over a weekend that is off", Hours{Minutes: []int{480}, Weekdays: []time.Weekday{1}, Away: []Away{{day(13), day(15)}}}, at(9, 9), at(22, 8)},
		{"the clock goes back", Hours{Minutes: []int{480}}, time.Date(2026, 10, 24, 9, 0, 0, 0, loc), time.Date(2026, 10, 25, 8, 0, 0, 0, loc)},
		{"never", Hours{Minutes: []int{480}, Away: []Away{{0, 1 << 30}}}, at(10, 9), at(11, 8).AddDate(0, 0, longestWait-1)},
	} {
		f.Hours = c.hours
		assert.Equal(t, c.want, f.NextSlot(c.after), c.name)
	}
}

// Nine days nobody is there: before them the mob goes where there is feed for all of them, and nobody is moved meanwhile, whether the
// plan is chosen move by move or searched for.
func TestDaysAwayArePlannedFor(t *testing.T) {
	f := farmOf(12, 1.2)
	f.Paddocks[4].AreaHa = 6 // the only one that carries them so long
	standing := wedge(f)
	standing[4].Mass, standing[4].LastLeft = 2200, nil
	mobs := []Mob{mobOn(f, "cows", 420, 11, everywhere)}
	for p := range f.Paddocks {
		mobs[0].Limits[p].StayMax = 12
	}
	from := DayNumber(start, f.Location) + 5
	f.Hours.Away = []Away{{from, from + 8}}
	to := start.AddDate(0, 0, 21).Truncate(24 * time.Hour)
	present := func(t *testing.T, plan Plan) {
		t.Helper()
		there := -1
		for _, v := range plan.Visits {
			if !v.Fact {
				day := DayNumber(v.Enter, f.Location)
				assert.False(t, day >= from && day <= from+8, "nobody is there on day %d", day)
			}
			if !v.Enter.After(start.AddDate(0, 0, 6)) {
				there = v.Paddock
			}
		}
		assert.Equal(t, 4, there)
	}
	made := Schedule(f, mobs, standing, nil, start, to)
	present(t, made)
	problem := ProblemOf(f, mobs, standing, nil, start, to)
	assert.Equal(t, []int{0, 1, 2, 3, 4, 14, 15, 16, 17, 18, 19, 20}, problem.MoveDays)
	found, err := Find(t.Context(), f, mobs, standing, nil, made.Visits, start, to, 0)
	require.NoError(t, err)
	present(t, Following(f, mobs, standing, nil, found.Moves, start, to))

	// What somebody has fixed for a day away stays fixed: somebody will be there.
	pins := []Pin{{Mob: 0, Paddock: 2, Enter: time.Date(2026, 6, 18, 8, 0, 0, 0, time.UTC)}}
	made = Schedule(f, mobs, standing, pins, start, to)
	found, err = Find(t.Context(), f, mobs, standing, pins, made.Visits, start, to, 0)
	require.NoError(t, err)
	pinned := false
	for _, v := range Following(f, mobs, standing, pins, found.Moves, start, to).Visits {
		pinned = pinned || v.Pinned && v.Paddock == 2
	}
	assert.True(t, pinned)
}
