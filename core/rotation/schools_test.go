package rotation

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/grazing"
	"fjell/core/reference"
)

// A season by each school, on ground that suits it and stocked as it asks: at least nineteen in twenty stays keep its own rules, and
// every one that does not is told of. It holds move by move, and as a search plans it.
func TestEverySchoolKeepsItsRulesForASeason(t *testing.T) {
	for _, c := range []struct {
		school, sward string
		paddocks      int
		demand        float64 // kg DM/ha/day
		tallerBy      float64 // cm, in the hot weeks
	}{
		{grazing.LeafResidual, "ryegrass_white_clover", 24, 33, 0},
		{grazing.StartStop, "upland_bent_fescue", 20, 13, 0},
		{grazing.LeaveHalf, "native_mixed_grass", 16, 3, 0},
		{grazing.TallLong, "tall_fescue", 40, 14, 0},
		{grazing.CleanGround, "ryegrass_white_clover", 24, 26, 0},
		{grazing.LeafResidual, "ryegrass_white_clover", 24, 33, 2},
		{grazing.StartStop, "upland_bent_fescue", 20, 12, 2},
	} {
		t.Run(fmt.Sprintf("%s %g", c.school, c.tallerBy), func(t *testing.T) {
			school, err := grazing.FindSchool(c.school)
			require.NoError(t, err)
			sward, err := reference.Load().Sward(c.sward)
			require.NoError(t, err)
			curve, err := reference.Load().Curve(sward.GrowthCurve)
			require.NoError(t, err)
			if c.tallerBy > 0 {
				school.Taller = &grazing.Taller{From: "06-25", Until: "08-05", By: c.tallerBy}
			}
			limits, err := school.On(sward)
			require.NoError(t, err)
			from := time.Date(2026, 5, 20, 6, 0, 0, 0, time.UTC)
			f := farmOf(c.paddocks, 2)
			mob := Mob{ID: "m", Name: "mob", In: Nowhere, Demand: Steady(c.demand * 2 * float64(c.paddocks))}
			var standing []Standing
			for p := range f.Paddocks {
				f.Paddocks[p].Peak, f.Paddocks[p].Ceiling, f.Paddocks[p].Curve = sward.PeakGrowth, sward.Ceiling, curve
				mob.Limits, mob.Ground = append(mob.Limits, limits), append(mob.Ground, true)
				left := from.AddDate(0, 0, -1-2*p*int(limits.RestMin)/c.paddocks)
				least := limits.Entered(limits.Entry).Residual
				standing = append(standing, Standing{Mass: least + (limits.Entry*1.04-least)*float64(p)/float64(c.paddocks-1), MeasuredAt: from, LastLeft: &left})
			}
			mobs, to := []Mob{mob}, from.AddDate(0, 0, 110).Truncate(24*time.Hour)
			made := Schedule(f, mobs, standing, nil, from, to)
			found, err := Find(t.Context(), f, mobs, standing, nil, made.Visits, from, to, 1)
			require.NoError(t, err)
			for how, plan := range map[string]Plan{"move by move": made, "searched": Following(f, mobs, standing, nil, found.Moves, from, to)} {
				told := map[string]bool{}
				for _, k := range plan.Checks {
					told[fmt.Sprint(k.Rule, k.Paddock, k.At)] = true
				}
				kept, n, hot := 0, 0, 0
				for _, v := range plan.Visits {
					if v.Leave.Equal(to) || !v.Held.IsZero() {
						continue // cut short by the end of the plan, or held and told so
					}
					n++
					if left := limits.At(v.Leave, false); left.Residual > limits.Residual {
						hot++
						assert.GreaterOrEqual(t, v.Limits.Residual, left.Residual, "taller when they leave in the heat")
					}
					broken := map[Rule]time.Time{}
					if v.MassOut < v.Limits.Residual*0.99 {
						broken[BelowResidual] = v.Leave
					}
					if v.Leave.Sub(v.Enter).Hours()/24 > v.Limits.StayMax+0.05 {
						broken[StayTooLong] = v.Leave
					}
					if v.Rest != nil && *v.Rest < v.Limits.RestMin-0.05 {
						broken[RestTooShort] = v.Enter
					}
					if len(broken) == 0 {
						kept++
					}
					for rule, at := range broken {
						assert.True(t, told[fmt.Sprint(rule, v.Paddock, at)], "%s: %s in %d is told of", how, rule, v.Paddock)
					}
				}
				t.Logf("%s: %d of %d stays keep the rules", how, kept, n)
				require.Greater(t, n, 5)
				assert.Equal(t, c.tallerBy > 0, hot > 5)
				assert.LessOrEqual(t, n-kept, max(1, n/20), "%s: all but one, or one in twenty", how)
			}
		})
	}
}
