package rotation

import (
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// pair is young stock with dry stock behind them, on a farm whose plan may be chosen move by move or searched for.
func pair(demand float64) (Farm, []Mob, []Standing) {
	f := farmOf(12, 2)
	young, dry := mobOn(f, "young", demand, 10, everywhere), mobOn(f, "dry", demand/2, 11, everywhere)
	young.ID, dry.ID, dry.Follows = "young", "dry", "young"
	for p := range dry.Limits {
		dry.Limits[p].Residual -= 250 // they clean up
	}
	return f, []Mob{dry, young}, wedge(f)
}

func of(plan Plan, mob int) []Visit {
	return slices.SortedFunc(slices.Values(slices.DeleteFunc(slices.Clone(plan.Visits), func(v Visit) bool { return v.Mob != mob })),
		func(a, b Visit) int { return a.Enter.Compare(b.Enter) })
}

func TestDryStockComeBehindTheYoung(t *testing.T) {
	to := start.AddDate(0, 0, 35).Truncate(24 * time.Hour)
	f, mobs, standing := pair(420)
	made := Schedule(f, mobs, standing, nil, start, to)
	found, err := Find(t.Context(), f, mobs, standing, nil, made.Visits, start, to, 1)
	require.NoError(t, err)
	for how, plan := range map[string]Plan{"move by move": made, "searched": Following(f, mobs, standing, nil, found.Moves, start, to)} {
		young, dry := of(plan, 1), of(plan, 0)
		require.Greater(t, len(young), 6, how)
		require.Len(t, dry, len(young), how)
		for i := 1; i < len(young); i++ {
			assert.Equal(t, young[i-1].Paddock, dry[i].Paddock, "%s: move %d", how, i)
			assert.Equal(t, young[i].Enter, dry[i].Enter, "%s: move %d", how, i)
			assert.NotEmpty(t, dry[i].Reasons, "%s: they are told why", how)
		}
		for _, c := range plan.Checks {
			if c.Mob == 0 {
				assert.NotContains(t, []Rule{TooSoon, TooLate, RestTooShort, TwoMobs}, c.Rule, "%s: what they find is what was left", how)
			}
		}
		for i := 1; i < len(young); i++ {
			if rest := young[i].Rest; rest != nil {
				for _, v := range dry {
					if v.Paddock == young[i].Paddock && !v.Leave.After(young[i].Enter) {
						assert.LessOrEqual(t, *rest, young[i].Enter.Sub(v.Leave).Hours()/24+1e-6, "%s: rest runs from when the last of the two left", how)
					}
				}
			}
		}
	}
	assert.GreaterOrEqual(t, found.Spared, 0.0)

	// What people count on for the next days is kept in the first round: of the young, and so of those behind them.
	first, err := Find(t.Context(), f, mobs, standing, nil, made.Visits, start, to, 0)
	require.NoError(t, err)
	for _, p := range ProblemOf(f, mobs, standing, counting(nil, made.Visits, start), start, to).Pins {
		assert.Equal(t, "young", p.Mob, "who comes behind is not pinned")
	}
	kept := Following(f, mobs, standing, nil, first.Moves, start, to)
	assert.Equal(t, soon(of(made, 1), start), soon(of(kept, 1), start))
}

// The ground that the young leave is closed to the dry stock: they stay and are fed until the young go on again.
func TestWhoCannotComeBehindIsHeld(t *testing.T) {
	to := start.AddDate(0, 0, 20).Truncate(24 * time.Hour)
	f, mobs, standing := pair(420)
	mobs[0].Ground = slices.Clone(mobs[0].Ground)
	mobs[0].Ground[10] = false // where the young stand now
	made := Schedule(f, mobs, standing, nil, start, to)
	dry := of(made, 0)
	assert.False(t, dry[0].Held.IsZero(), "they are held when the young go on")
	assert.NotEqual(t, 10, dry[1].Paddock)
	assert.True(t, slices.ContainsFunc(made.Checks, func(c Check) bool {
		return c.Rule == NoPaddock && c.Mob == 0 && strings.Contains(c.Reason.Text, "young before them left is closed")
	}))
	_, err := PresentOf(f, mobs, standing, nil, made.Visits, start, to)
	require.NoError(t, err, "the plan can be graded")
}

// The young go on before their own feed is gone where those behind them have none left.
func TestThePairGoesOnWhenTheFirstOfThemMust(t *testing.T) {
	to := start.AddDate(0, 0, 14).Truncate(24 * time.Hour)
	f, mobs, standing := pair(420)
	alone := Schedule(f, mobs[1:], standing, nil, start, to)
	standing[11].Mass = mobs[0].Limits[11].Residual // nothing for the dry stock
	both := Schedule(f, mobs, standing, nil, start, to)
	assert.True(t, of(both, 1)[0].Leave.Before(of(alone, 0)[0].Leave))
	assert.Contains(t, of(both, 1)[0].Leaves.Text, "who come behind")
}

func TestMoreMovesThanHandsAreTold(t *testing.T) {
	to := start.AddDate(0, 0, 28).Truncate(24 * time.Hour)
	f := farmOf(14, 2)
	mobs := []Mob{mobOn(f, "a", 300, 11, everywhere), mobOn(f, "b", 300, 12, everywhere), mobOn(f, "c", 300, 13, everywhere)}
	crowded := func(plan Plan) (n int) {
		for _, c := range plan.Checks {
			if c.Rule == TooManyMoves {
				n++
			}
		}
		return n
	}
	standing := wedge(f)
	require.Zero(t, crowded(Schedule(f, mobs, standing, nil, start, to)), "nobody asked")
	f.Hours.Most = 1
	made := Schedule(f, mobs, standing, nil, start, to)
	found, err := Find(t.Context(), f, mobs, standing, nil, made.Visits, start, to, 1)
	require.NoError(t, err)
	assert.Greater(t, crowded(made), 0, "move by move they fall together")
	assert.Less(t, crowded(Following(f, mobs, standing, nil, found.Moves, start, to)), crowded(made), "a search spreads them")
}
