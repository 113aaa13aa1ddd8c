package queue_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fjell/core/grazing"
	"fjell/core/queue"
	"fjell/core/rotation"
)

func TestWhatIsExpectedIsWhatWasTried(t *testing.T) {
	c := usual()
	levers := []queue.Lever{{Kind: queue.Cut, Paddock: "p1", Waste: 0.1, Price: 50, Hours: 3}, {Kind: queue.Supplement, Mob: "m", Kg: 2, Days: 20, Price: 300, Hours: 10}, {Kind: queue.Rent, Area: 5, Price: 10}}
	tried, err := queue.Try(c, levers)
	require.NoError(t, err)
	e := queue.Expect(c, tried, levers)
	require.Len(t, e.Days, 57)
	assert.Len(t, e.Ground, 8, "rented ground is no paddock yet")
	assert.InDelta(t, tried.Before.Cover[20].Mass, e.Days[20].Without, 1e-9)
	assert.InDelta(t, 2600*2*0.5*0.9, e.Harvest, 1e-6)
	assert.InDelta(t, 80*2*20, e.Fed, 1e-6)
	assert.InDelta(t, 100+300*3.2+50, e.Money, 1e-6)
	assert.InDelta(t, 13, e.Hours, 1e-9)

	closed := []queue.Lever{{Kind: queue.Close, Paddock: "p1", Days: 40}}
	tried, err = queue.Try(c, closed)
	require.NoError(t, err)
	assert.InDelta(t, tried.Behind.Cover[30].Mass, queue.Expect(c, tried, closed).Days[30].With, 1e-9)

	_, before := e.At(monday.AddDate(0, 0, -1))
	assert.False(t, before)
	day, ok := e.At(monday.AddDate(0, 0, 20).Add(3600e9))
	assert.True(t, ok)
	assert.Equal(t, e.Days[20], day)
	day, _ = e.At(e.Days[20].At)
	assert.Equal(t, e.Days[20], day, "a day is known from its own hour on")
	day, _ = e.At(monday.AddDate(0, 0, 300))
	assert.Equal(t, e.Days[56], day, "after the last day the last one")
}

func TestWhatCameIsHeldAgainstWhatWasExpected(t *testing.T) {
	day := queue.ExpectedDay{Without: 1800, With: 2200}
	for _, x := range []struct {
		cover, half float64
		says        string
	}{
		{2250, 100, "as was expected"}, {2150, 100, "as was expected"}, {2400, 100, "more than was expected"}, {1900, 100, "less than was expected"},
	} {
		says := queue.Came(day, x.cover, x.half)
		assert.Contains(t, says[0].Text, x.says)
		assert.Equal(t, "Without it {w} was expected", says[1].Text)
	}
	assert.Contains(t, queue.Came(queue.ExpectedDay{Without: 2180, With: 2200}, 2200, 100)[1].Text, "too little difference")
	assert.InDelta(t, 300, queue.Came(day, 1900, 100)[0].Figures[1].Value, 1e-9)
}

func TestCoverIsOfTheGroundThatIsStillThere(t *testing.T) {
	e := queue.Expected{Ground: []queue.ExpectedGround{{Paddock: "a", AreaHa: 1}, {Paddock: "b", AreaHa: 3}, {Paddock: "gone", AreaHa: 9}}}
	stands := map[string]float64{"a": 2000, "b": 1000}
	cover, half, ok := e.Cover(func(id string) (float64, float64, bool) { m, there := stands[id]; return m, m / 10, there })
	assert.True(t, ok)
	assert.InDelta(t, 1250, cover, 1e-9)
	assert.InDelta(t, 125, half, 1e-9)
	_, _, ok = e.Cover(func(string) (float64, float64, bool) { return 0, 0, false })
	assert.False(t, ok)
}

func TestHeadAddUpClassByClass(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var classes []queue.Class
		there := 0.0
		for range rapid.IntRange(1, 5).Draw(t, "classes") {
			head := float64(rapid.IntRange(1, 200).Draw(t, "head"))
			classes, there = append(classes, queue.Class{Head: head, Demand: rotation.Steady(1)}), there+head
		}
		count := float64(rapid.IntRange(1, int(there)).Draw(t, "count"))
		sum := 0.0
		for i, n := range queue.Heads(-count, classes) {
			sum += n
			assert.LessOrEqual(t, -n, classes[i].Head, "no more than there are")
			assert.Equal(t, float64(int(n)), n, "whole animals")
			assert.InDelta(t, -count*classes[i].Head/there, n, 1)
		}
		assert.Equal(t, -count, sum)
	})
	assert.Equal(t, []float64{2, 1}, queue.Heads(3, []queue.Class{{Head: 50}, {Head: 25}}))
}

// A decided pace asks of the plan's school what the lever asked of the mob.
func TestAPaceIsASchoolThatRestsMoreOrEntersAtLess(t *testing.T) {
	c := usual()
	now := c.Look().Week.Length.Value
	entry, residual, start, stop := 2600.0, 1500.0, 20.0, 5.0
	school := grazing.School{RestMin: 15, StayMax: 3, Entry: &entry, Residual: &residual, StartHeight: &start, StopHeight: &stop}
	slow, err := c.Paced(queue.Lever{Kind: queue.Pace, Mob: "m", Days: 2 * now}, 0, school)
	require.NoError(t, err)
	assert.InDelta(t, 2*now-now/8, slow.RestMin, 1e-9)
	assert.InDelta(t, 6, slow.StayMax, 1e-9)
	assert.Equal(t, &entry, slow.Entry)
	fast, err := c.Paced(queue.Lever{Kind: queue.Pace, Mob: "m", Days: now / 2}, 0, school)
	require.NoError(t, err)
	assert.InDelta(t, 7.5, fast.RestMin, 1e-9)
	assert.InDelta(t, 2050, *fast.Entry, 1e-9)
	assert.InDelta(t, 12.5, *fast.StartHeight, 1e-9)
	assert.InDelta(t, 2600, entry, 0, "the school it began from stays as it is")
	fast, err = c.Paced(queue.Lever{Kind: queue.Pace, Mob: "m", Days: now / 2}, 0, grazing.School{RestMin: 15, StayMax: 3})
	require.NoError(t, err)
	assert.Nil(t, fast.Entry)
}
