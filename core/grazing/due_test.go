package grazing

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/reference"
)

// meeting and missing are values at the very edge of a condition, on either side of it.
func meeting(t *testing.T, c reference.Condition) (meets, misses any) {
	t.Helper()
	const hair = 1e-9
	switch v := c.Value.(type) {
	case float64:
		switch c.Op {
		case "<":
			return v - hair, v
		case "<=":
			return v, v + hair
		case ">":
			return v + hair, v
		case ">=":
			return v, v - hair
		}
		return v, v + 1
	case bool:
		return v, !v
	case []any:
		return v[len(v)-1], "something else"
	case string:
		if c.Op == "has" {
			return []string{"other", v}, []string{"other"}
		}
		if v == "longest_stay_days_for_worms" {
			return 6.0, 5.0
		}
		return v, "something else"
	}
	t.Fatalf("a condition of %T", c.Value)
	return nil, nil
}

// Every caution of the reference comes when its conditions are met, to the hair, and not when one of them is missed or not known.
func TestEveryCautionComesWhenItsConditionsAreMet(t *testing.T) {
	lib := reference.Load()
	require.Len(t, lib.Cautions, 43)
	named := map[string]bool{}
	for _, v := range lib.Variables {
		named[v.Name] = true
	}
	for _, c := range lib.Cautions {
		t.Run(c.ID, func(t *testing.T) {
			require.NotZero(t, len(c.Trigger.All)+len(c.Trigger.Any), "a caution that no condition brings would never be seen")
			due := func(k Known) bool { return len(DueAmong([]reference.Caution{c}, c.AppliesTo, k)) == 1 }
			known := func() Known {
				k := Known{"longest_stay_days_for_worms": {5.0}}
				for _, cond := range c.Trigger.All {
					meets, _ := meeting(t, cond)
					k[cond.Name] = []any{meets}
				}
				return k
			}
			for _, cond := range c.Trigger.All {
				assert.True(t, named[cond.Name], "%s is explained", cond.Name)
				assert.NotEmpty(t, ConditionWords(cond.Name, true), "%s has words", cond.Name)
				_, misses := meeting(t, cond)
				for what, change := range map[string]func(Known){
					"missed": func(k Known) { k[cond.Name] = []any{misses} }, "not known": func(k Known) { delete(k, cond.Name) },
				} {
					k := known()
					for _, other := range c.Trigger.Any {
						if meets, _ := meeting(t, other); k[other.Name] == nil {
							k[other.Name] = []any{meets}
						}
					}
					change(k)
					assert.False(t, due(k), "%s %s", cond.Name, what)
				}
			}
			if len(c.Trigger.Any) == 0 {
				assert.True(t, due(known()))
				return
			}
			assert.False(t, due(known()), "one of any_of is wanted")
			for _, cond := range c.Trigger.Any {
				assert.True(t, named[cond.Name], "%s is explained", cond.Name)
				assert.NotEmpty(t, ConditionWords(cond.Name, true), "%s has words", cond.Name)
				meets, misses := meeting(t, cond)
				k := known()
				k[cond.Name] = []any{meets}
				assert.True(t, due(k), "%s %s %v is enough", cond.Name, cond.Op, cond.Value)
				k[cond.Name] = []any{misses}
				assert.False(t, due(k), "%s %s %v is missed", cond.Name, cond.Op, misses)
			}
		})
	}
}

// A caution that was put away comes back when its conditions do: so it is told for how many days they have been met without a break.
func TestACautionTellsForHowLongItHasBeenDue(t *testing.T) {
	frost, err := reference.Load().Caution("prussic_acid")
	require.NoError(t, err)
	all := []reference.Caution{frost}
	k := Known{"sward_hazards": Lasting([]string{"prussic_acid"}, 30), "sward_height_cm": {40.0, 50.0, 55.0, 70.0, 40.0}}
	due := DueAmong(all, []string{"cattle"}, k)
	require.Len(t, due, 1)
	assert.Equal(t, 3, due[0].Days, "of the heights below 60 cm only those since the 70 count")
	k["frost_last_night"] = []any{false, false, false, true, false}
	assert.Equal(t, 5, DueAmong(all, []string{"cattle"}, k)[0].Days, "frost joins both stretches")
	k["sward_hazards"] = Lasting([]string{"prussic_acid"}, 1)
	assert.Equal(t, 2, DueAmong(all, []string{"cattle"}, k)[0].Days, "they came onto this ground yesterday")
	assert.Len(t, Lasting(1.0, 1000), longestRun+1)
	assert.Len(t, Lasting(1.0, -3), 1)
}

func TestCautionsGoBySpecies(t *testing.T) {
	lib := reference.Load()
	k := Known{"legume_share": {0.6}, "wet_sward": {true}, "mineral_holds_copper": {true}, "lightning_forecast": {true}}
	ids := func(species ...string) (out []string) {
		for _, d := range DueAmong(lib.Cautions, species, k) {
			out = append(out, d.ID)
		}
		return out
	}
	assert.Equal(t, []string{"bloat", "lightning"}, ids("cattle"))
	assert.Equal(t, []string{"bloat", "copper_in_sheep", "lightning"}, ids("sheep"))
	assert.Equal(t, []string{"lightning"}, ids("horses"), "horses do not bloat")
	assert.Equal(t, []string{"lightning"}, ids("donkeys"))
	assert.Equal(t, []string{"bloat", "lightning"}, ids("buffalo"), "what chews the cud bloats")
	assert.Equal(t, []string{"bloat", "copper_in_sheep", "lightning"}, ids(), "nobody knows what is in: all of them")
}

func ExampleDueAmong() {
	known := Known{"legume_share": {0.45}, "wet_sward": {true}}
	for _, due := range DueAmong(reference.Load().Cautions, []string{"cattle"}, known) {
		fmt.Println(due.Title)
		for _, why := range due.Because {
			fmt.Println("-", why.Plain())
		}
	}
	// Output:
	// Bloat on legumes
	// - legumes 45 % of the sward
	// - dew or rain on the leaf
}
