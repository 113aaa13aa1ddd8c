package queue_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/grazing"
	"fjell/core/queue"
	"fjell/core/rotation"
)

// two is plenty of ground with two mobs on it: cows with calves, and ewes.
func two() queue.Case {
	c := round(400, 2000, 2900, 2800, 2700, 2600, 2500, 2400, 2400, 2300, 2300)
	ewes := rotation.Mob{ID: "e", Name: "Ewes", Demand: rotation.Steady(150), In: 9, Since: monday.AddDate(0, 0, -1)}
	for range c.Farm.Paddocks {
		ewes.Limits = append(ewes.Limits, grazing.Limits{Entry: 2600, TooOld: 3100, Residual: 1500, RestMin: 15, StayMax: 3, U: 0.9})
		ewes.Ground = append(ewes.Ground, true)
	}
	c.Mobs = append(c.Mobs, ewes)
	c.Of = []int{0, 1}
	c.Classes = append(c.Classes, []queue.Class{{ID: "w", Name: "Ewes", Head: 60, Demand: rotation.Steady(150)}})
	return c
}

// wants is what all mobs of a case eat on a day, and what each does.
func wants(c queue.Case, day int) (all float64, each []float64) {
	for _, m := range c.Mobs {
		eats := m.Demand.On(rotation.DayNumber(c.Now, c.Farm.Location) + day)
		all, each = all+eats, append(each, eats)
	}
	return all, each
}

func TestMobsThatJoinAndPartEatAsBefore(t *testing.T) {
	before := two().Look()
	require.Zero(t, before.ShortKg)
	for name, x := range map[string]struct {
		lever queue.Lever
		eats  []float64 // of each mob on the tenth day
	}{
		"join":           {queue.Lever{Kind: queue.Join, Mob: "e", Into: "m"}, []float64{550, 0}},
		"split all":      {queue.Lever{Kind: queue.Split, Mob: "m", Count: 20}, []float64{300, 150, 100}},
		"split a class":  {queue.Lever{Kind: queue.Split, Mob: "m", Class: "k", Count: 10}, []float64{380, 150, 20}},
		"wean to others": {queue.Lever{Kind: queue.Wean, Mob: "m", Class: "k", Into: "e", After: 3}, []float64{320, 230}},
	} {
		tried, err := queue.Try(two(), []queue.Lever{x.lever})
		require.NoError(t, err, name)
		all, each := wants(tried.Pulled, 10)
		assert.InDelta(t, 550, all, 1e-9, name)
		assert.InDeltaSlice(t, x.eats, each, 1e-9, name)
		assert.InEpsilon(t, before.Eaten, tried.Behind.Eaten, 0.001, "%s: there is enough for all of them, however they go", name)
		assert.Zero(t, tried.Behind.ShortKg, name)
		went := map[int]bool{}
		for _, v := range tried.Behind.Plan.Visits {
			went[v.Mob] = true
		}
		for m, eats := range each {
			assert.Equal(t, eats > 0, went[m], "%s: mob %d goes round as long as it eats", name, m)
		}
	}
	joined, err := queue.Try(two(), []queue.Lever{{Kind: queue.Join, Mob: "e", Into: "m"}})
	require.NoError(t, err)
	assert.Less(t, joined.Behind.Moves, before.Moves, "one gate instead of two")
}

func TestTheWeanedLeaveTheGrassFromTheirDay(t *testing.T) {
	tried, err := queue.Try(two(), []queue.Lever{{Kind: queue.Wean, Mob: "m", Class: "k", After: 7}})
	require.NoError(t, err)
	early, _ := wants(tried.Pulled, 6)
	late, _ := wants(tried.Pulled, 7)
	assert.InDelta(t, 550, early, 1e-9)
	assert.InDelta(t, 470, late, 1e-9)
	assert.InDelta(t, 40, tried.Effects[0].Units, 1e-9)
	assert.InDelta(t, 80*50, tried.Effects[0].Says[0].Figures[1].Value, 80, "of what is spared in the weeks looked at")
}

func TestFedOnRestingGroundEatNoGrassThere(t *testing.T) {
	tried, err := queue.Try(two(), []queue.Lever{{Kind: queue.Loafing, Mob: "m", Days: 10, Waste: 0.2}})
	require.NoError(t, err)
	assert.InDelta(t, 4000/0.8, tried.Effects[0].Kg, 1e-6)
	_, each := wants(tried.Pulled, 5)
	assert.Equal(t, []float64{0, 150}, each)
	assert.NotEmpty(t, tried.Warns, "where it is trodden bare")
}

func TestMobsThatCannotJoinOrPartAreRefused(t *testing.T) {
	for name, x := range map[string]struct {
		lever queue.Lever
		says  string
	}{
		"itself":        {queue.Lever{Kind: queue.Join, Mob: "m", Into: "m"}, "levers[0].into_mob_id"},
		"nobody":        {queue.Lever{Kind: queue.Join, Mob: "m", Into: "x"}, "must be another mob"},
		"all of them":   {queue.Lever{Kind: queue.Split, Mob: "m", Count: 80}, "some go and some stay"},
		"none":          {queue.Lever{Kind: queue.Split, Mob: "m"}, "levers[0].count"},
		"no class":      {queue.Lever{Kind: queue.Wean, Mob: "m"}, "which class is weaned"},
		"wean into air": {queue.Lever{Kind: queue.Wean, Mob: "m", Class: "k", Into: "x"}, "must be another mob"},
	} {
		_, err := queue.Try(two(), []queue.Lever{x.lever})
		assert.ErrorContains(t, err, x.says, name)
	}
}
