package year_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/reference"
	"fjell/core/year"
)

// Days are not land: half of the days may want most of the ground, where a hectare gives little for them.
func TestSharesByDaysAndByLand(t *testing.T) {
	c := ley(12)
	for m := range 12 {
		c.Groups[0].Pasture[m], c.Groups[0].Indoors[m] = 300*c.Months[m].Days(), 0 // the same every day
	}
	s := c.Shares()
	require.Len(t, s, 2)
	assert.Equal(t, "cool", s[0].Kind)
	assert.Equal(t, year.Stockpiling, s[1].Kind)
	assert.InDelta(t, 365, s[0].Days+s[1].Days, 1e-9)
	assert.InDelta(t, 1, s[0].OfDays+s[1].OfDays, 1e-9)
	assert.InDelta(t, 1, s[0].OfLand+s[1].OfLand, 1e-9)
	assert.InDelta(t, 1.8*1000*0.65, s[1].Eaten, 1e-9)
	assert.InDelta(t, 0.98*80000*2/20*0.7, s[0].Eaten, 1, "April to October, what grows behind a closure too")
	assert.InDelta(t, s[1].Days*300/1170, s[1].Area, 1e-6)
	assert.Greater(t, s[1].OfLand, s[1].OfDays, "a stockpiled hectare gives less")

	// Grass of another season takes its part of the months in which both grow, by how near each is to its best.
	warm, err := reference.Load().Sward("bermudagrass")
	if err != nil {
		for _, sward := range reference.Load().Swards {
			if sward.Season == "warm" {
				warm = sward
			}
		}
	}
	c.Pieces[1].Of = warm
	for m := range 12 {
		c.Pieces[1].Closed[m], c.Pieces[1].Grown[m] = 0, 0
		if m >= 2 && m <= 4 {
			c.Pieces[1].Grown[m] = 60000
		}
	}
	s = c.Shares()
	require.Len(t, s, 3)
	near := func(m int) float64 { return 1 / (1 + spring[m]/0.24) }
	assert.InDelta(t, 30*near(2)+31*near(3)+31*near(4), s[1].Days, 1e-9, "June to August")
	assert.InDelta(t, s[1].Days*300, s[1].Wanted, 1e-6)
	assert.InDelta(t, 18000*0.7, s[1].Eaten, 1e-6)
	assert.Less(t, s[1].OfLand, s[1].OfDays, "a hectare that gives much feeds many days")
	more := c
	more.Groups = append([]year.Group{}, c.Groups...)
	g := more.Groups[0]
	g.Pasture = append([]float64{}, g.Pasture...)
	g.Pasture[9] *= 3 // January
	more.Groups[0] = g
	assert.Equal(t, s[2].OfDays, more.Shares()[2].OfDays)
	assert.Greater(t, more.Shares()[2].OfLand, s[2].OfLand, "who wants more on those days wants more ground for them")
	bare := c
	bare.Pieces = nil
	assert.Empty(t, bare.Shares())
}
