package year_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/reference"
	"fjell/core/year"
)

func TestRentedGroundFeedsForItsMonths(t *testing.T) {
	c := ley(24)
	before := year.Balance(c, nil)
	with, out := done(t, c, year.Option{Input: year.Rent, AreaHa: 5, Month: 1, Months: 5, Price: 300})
	after := year.Balance(with, nil)
	for m := range before.Months {
		more := after.Months[m].Grown - before.Months[m].Grown
		if m >= 1 && m < 6 {
			assert.InDelta(t, before.Months[m].Grown*5/20, more, 1e-6, "as the farm's own ground, month %d", m)
		} else {
			assert.InDelta(t, 0, more, 1e-6, "month %d", m)
		}
	}
	assert.InDelta(t, 1500, out[0].Cost, 1e-9)
	assert.InDelta(t, out[0].Extra, after.Sum(0, 24).Eatable-before.Sum(0, 24).Eatable, 1e-6)
	conserved(t, with, after)
	idle := ley(24)
	clear(idle.Groups[0].Pasture)
	rented, _ := done(t, idle, year.Option{Input: year.Rent, AreaHa: 5, Month: 1, Months: 5})
	a, b := year.Balance(idle, nil), year.Balance(rented, nil)
	assert.Greater(t, b.Months[5].Over, a.Months[5].Over)
	assert.InDelta(t, a.Months[6].Over, b.Months[6].Over, 1e-6, "what stands is lost when it is given back")

	rich, _ := done(t, c, year.Option{Input: year.Rent, AreaHa: 5, Month: 1, Months: 5, Yield: 16})
	assert.InDelta(t, 2*(after.Sum(0, 24).Grown-before.Sum(0, 24).Grown), year.Balance(rich, nil).Sum(0, 24).Grown-before.Sum(0, 24).Grown, 1, "16 t where the farm grows 8")
	for field, o := range map[string]year.Option{"area_ha": {Input: year.Rent}, "group": {Input: year.Rent, AreaHa: 1, Group: 9}, "months": {Input: year.Rent, AreaHa: 1, Months: 40}, "yield_t_ha": {Input: year.Rent, AreaHa: 1, Yield: 99}} {
		_, _, err := c.With([]year.Option{o})
		assert.ErrorContains(t, err, "options[0]."+field)
	}
}

// conserved holds that nothing is made or lost.
func conserved(t *testing.T, c year.Case, b year.Budget) {
	t.Helper()
	began := c.Store
	for _, pc := range c.Pieces {
		began += pc.Stands + pc.Waits
	}
	all := b.Sum(0, len(c.Months))
	assert.InDelta(t, began+all.Grown+all.Bought, all.Eaten+all.Fed+all.Left+all.Lost+all.Stands+all.Waits+all.Store, 1e-5)
}

func TestAFurtherDivisionIsEatenBetter(t *testing.T) {
	c := ley(12)
	before := year.Balance(c, nil)
	with, out := done(t, c, year.Option{Input: year.Division, Field: "F0", Month: 2, Share: 0.8, Price: 900})
	after := year.Balance(with, nil)
	for m := range before.Months {
		assert.InDelta(t, before.Months[m].Grown, after.Months[m].Grown, 1e-6, "it grows no more, month %d", m)
		more := after.Months[m].Eatable - before.Months[m].Eatable
		if m < 2 {
			assert.InDelta(t, 0, more, 1e-6)
		} else {
			assert.InDelta(t, c.Pieces[0].Grown[m]*(0.8-0.7), more, 1e-6, "month %d", m)
		}
	}
	assert.InDelta(t, 9000, out[0].Cost, 1e-9)
	assert.InDelta(t, out[0].Extra, after.Sum(0, 12).Eatable-before.Sum(0, 12).Eatable, 1e-6)
	conserved(t, with, after)
	for field, o := range map[string]year.Option{"field_id": {Input: year.Division, Field: "F9", Share: 0.8}, "share": {Input: year.Division, Field: "F0", Share: 0.6}} {
		_, _, err := c.With([]year.Option{o})
		assert.ErrorContains(t, err, "options[0]."+field)
	}
}

// Days are not land: the same ground gives other shares by area, by days and by what grows.
func TestSeasonsAreSharedThreeWays(t *testing.T) {
	c := ley(12)
	warm, err := reference.Load().Sward("bermudagrass_hybrid")
	if err != nil {
		for _, s := range reference.Load().Swards {
			if s.Season == "warm" {
				warm = s
			}
		}
	}
	require.Equal(t, "warm", warm.Season)
	c.Pieces[1].Of, c.Pieces[1].AreaHa = warm, 5
	for m := range 12 {
		c.Pieces[1].Closed[m], c.Pieces[1].Grown[m] = 0, 0
		if m >= 2 && m <= 4 {
			c.Pieces[1].Grown[m] = 30000
		}
	}
	seasons := c.Seasons()
	require.Len(t, seasons, 2)
	cool := seasons[0]
	assert.Equal(t, "cool", cool.Kind)
	assert.InDelta(t, 10./15, cool.Area, 1e-9)
	assert.InDelta(t, 80000*0.999/(80000+90000), cool.Yield, 0.01)
	assert.Greater(t, cool.Days, cool.Yield, "many days of little are not much feed")
	assert.Less(t, cool.PerDay, seasons[1].PerDay)
	for _, sum := range []float64{seasons[0].Area + seasons[1].Area, seasons[0].Days + seasons[1].Days, seasons[0].Yield + seasons[1].Yield} {
		assert.InDelta(t, 1, sum, 1e-9)
	}
}
