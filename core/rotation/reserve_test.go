package rotation

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What is kept in reserve is grazed when nothing else that is rested has feed, and that is told; a search says no other.
func TestAReserveIsGrazedOnlyInNeed(t *testing.T) {
	to := start.AddDate(0, 0, 28).Truncate(24 * time.Hour)
	for _, c := range []struct {
		demand float64
		need   bool
	}{{180, false}, {1500, true}} {
		f := farmOf(10, 2)
		f.Paddocks[4].Reserve = true
		standing := wedge(f)
		standing[4].Mass = 3000 // the ripest of all
		mobs := []Mob{mobOn(f, "cows", c.demand, 9, everywhere)}
		made := Schedule(f, mobs, standing, nil, start, to)
		found, err := Find(t.Context(), f, mobs, standing, nil, made.Visits, start, to, 0)
		require.NoError(t, err)
		for how, plan := range map[string]Plan{"move by move": made, "searched": Following(f, mobs, standing, nil, found.Moves, start, to)} {
			grazed, told := 0, 0
			for _, v := range plan.Visits {
				if v.Paddock == 4 {
					grazed++
				}
			}
			for _, k := range plan.Checks {
				if k.Rule == ReserveGrazed {
					told++
					assert.Equal(t, 4, k.Paddock)
				}
			}
			assert.Equal(t, c.need, grazed > 0, "%s at %g kg a day", how, c.demand)
			assert.Equal(t, grazed, told, how)
		}
		assert.Equal(t, c.need, found.Told.Cost.Reserve > 0)
	}
}
