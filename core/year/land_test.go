package year_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/year"
)

func capacity(t *testing.T, c year.Case, reserve float64) year.Capacity {
	t.Helper()
	out, err := year.CarryingCapacity(c, reserve, year.Proven{}, false)
	require.NoError(t, err)
	return out
}

// scaled is a case with so much of its stock.
func scaled(c year.Case, share float64) year.Case {
	g := c.Groups[0]
	n := year.Group{Name: g.Name, Pieces: g.Pieces}
	for m := range g.Pasture {
		n.Pasture, n.Indoors, n.Head = append(n.Pasture, g.Pasture[m]*share), append(n.Indoors, g.Indoors[m]*share), append(n.Head, g.Head[m]*share)
	}
	c.Groups = []year.Group{n}
	return c
}

// The capacity is the most stock with which nothing is missing: that many are fed, and a few more are not.
func TestCapacityIsTheMostThatAreFed(t *testing.T) {
	c := ley(12)
	k := capacity(t, c, 0)
	require.Positive(t, k.ByMonth)
	c.Store = 0
	hungry := func(c year.Case) (n int) {
		for _, e := range year.Balance(c, nil).Months {
			if e.Hungry() {
				n++
			}
		}
		return n
	}
	assert.Zero(t, hungry(scaled(c, k.ByMonth*0.999)))
	assert.Positive(t, hungry(scaled(c, k.ByMonth*1.03)))
	assert.NotEmpty(t, k.Months)
	assert.Greater(t, k.AtGrass, k.ByMonth, "the winter sets the limit")
	summer := ley(12)
	clear(summer.Groups[0].Indoors)
	assert.InDelta(t, k.AtGrass, capacity(t, summer, 0).ByMonth, 1e-9)
	assert.LessOrEqual(t, k.ByMonth, k.BySum*1.03, "no more than the sums of the year allow")

	reserved := capacity(t, ley(12), 0.25)
	assert.Less(t, reserved.ByMonth, k.ByMonth, "a reserve carries fewer")
	more := ley(12)
	for p := range more.Pieces {
		for m := range more.Pieces[p].Grown {
			more.Pieces[p].Grown[m] *= 1.3
			more.Pieces[p].Closed[m] *= 1.3
		}
	}
	assert.Greater(t, capacity(t, more, 0).ByMonth, k.ByMonth, "more growth carries more")
	stored := ley(12)
	stored.Store = 1e6
	assert.Equal(t, k.ByMonth, capacity(t, stored, 0).ByMonth, "what lies in the barn was not grown in this year")
	twice := scaled(ley(12), 2)
	assert.InDelta(t, k.Head, capacity(t, twice, 0).Head, 1.01, "head carried do not depend on how many there are")

	beginner, err := year.CarryingCapacity(ley(12), 0, year.Proven{}, true)
	require.NoError(t, err)
	proven, err := year.CarryingCapacity(ley(12), 0, year.Proven{Years: 2}, true)
	require.NoError(t, err)
	assert.Less(t, beginner.Start, proven.Start, "a beginner starts with fewer, until years are on record")
	assert.InDelta(t, proven.Head, proven.Start, 0)
	_, err = year.CarryingCapacity(ley(12), 1, year.Proven{}, false)
	assert.ErrorContains(t, err, "reserve")
}

// fields is a farm that grazes long and would graze short.
func fields() year.Divide {
	return year.Divide{AreaHa: 20, SeasonDays: 160, Now: year.Round{Entry: 2600, Residual: 1500, Rest: 25, Stay: 7, Eaten: 0.7}, Then: year.Round{Entry: 2800, Residual: 1600, Rest: 26, Stay: 2, Eaten: 0.8},
		Fence: 900, Water: 600, Years: 15, Land: 60000, Tonne: 1800}
}

func TestDividingOrBuying(t *testing.T) {
	out, err := year.DivideOrBuy(fields())
	require.NoError(t, err)
	assert.InDelta(t, 160./32*1100*0.7/1000, out.TonnesNow, 1e-9)
	assert.InDelta(t, 160./28*1200*0.8/1000, out.TonnesThen, 1e-9)
	assert.InDelta(t, 20*(out.TonnesThen-out.TonnesNow), out.Extra, 1e-9)
	assert.InDelta(t, out.Extra, out.Hectares*out.TonnesNow, 1e-9, "so much land gives as much")
	assert.InDelta(t, out.Cost, out.Payback*out.Extra*1800, 1e-6)
	assert.InDelta(t, 30000, out.Cost, 1e-9)

	change := func(edit func(*year.Divide)) year.Divided {
		in := fields()
		edit(&in)
		out, err := year.DivideOrBuy(in)
		require.NoError(t, err)
		return out
	}
	assert.Greater(t, change(func(d *year.Divide) { d.Then.Rest = 30 }).Payback, out.Payback, "longer rest without more grass: fewer turns")
	assert.Less(t, change(func(d *year.Divide) { d.Then.Eaten = 0.85 }).PerTonne, out.PerTonne)
	assert.Greater(t, change(func(d *year.Divide) { d.Land = 90000 }).LandCost, out.LandCost)
	assert.Greater(t, change(func(d *year.Divide) { d.SeasonDays = 200 }).Extra, out.Extra)
	worse := change(func(d *year.Divide) { d.Then = year.Round{Entry: 2000, Residual: 1700, Rest: 26, Stay: 2, Eaten: 0.8} })
	assert.Negative(t, worse.Extra)
	assert.True(t, math.IsInf(worse.Payback, 1), "what brings nothing never pays")
	assert.Zero(t, worse.Hectares)

	for field, edit := range map[string]func(*year.Divide){
		"area_ha": func(d *year.Divide) { d.AreaHa = 0 }, "season_days": func(d *year.Divide) { d.SeasonDays = 400 }, "now.residual_kg_dm_ha": func(d *year.Divide) { d.Now.Residual = 2700 },
		"then.eaten_share": func(d *year.Divide) { d.Then.Eaten = 1.2 }, "then.rest_days": func(d *year.Divide) { d.Then.Rest = 5 }, "years": func(d *year.Divide) { d.Years = 0 }, "fence_price": func(d *year.Divide) { d.Fence = -1 }, "now.stay_days": func(d *year.Divide) { d.Now.Stay = math.NaN() },
	} {
		in := fields()
		edit(&in)
		_, err := year.DivideOrBuy(in)
		assert.ErrorContains(t, err, field)
	}
}

func ExampleDivideOrBuy() {
	out, _ := year.DivideOrBuy(fields())
	fmt.Printf("%.0f t more, as much as %.1f ha; paid back in %.1f years\n", out.Extra, out.Hectares, out.Payback)
	// Output: 33 t more, as much as 8.5 ha; paid back in 0.5 years
}

// Stock against land as they are: head times what each eats times days is what was eaten at grass.
func TestStockAsItStands(t *testing.T) {
	c := ley(12)
	is := c.Stocked()
	assert.InDelta(t, 40, is.Head, 1e-9)
	assert.InDelta(t, 214, is.Days, 1e-9, "April to October")
	assert.InDelta(t, 20, is.AreaHa, 1e-9)
	assert.InDelta(t, 0.7, is.Harvest, 1e-9)
	all := year.Balance(c, nil).Sum(0, 12)
	assert.InDelta(t, all.Pasture, is.Head*is.Each*is.Days, 1e-6)
	assert.InDelta(t, all.Eatable+all.Left, is.Yield*is.AreaHa, 1e-6, "what is cut grows for another time")
	half := c
	half.Groups = []year.Group{c.Groups[0]}
	half.Groups[0].Indoors = append([]float64{}, c.Groups[0].Indoors...)
	half.Groups[0].Indoors[0] = half.Groups[0].Pasture[0]
	assert.InDelta(t, 214-15, half.Stocked().Days, 1e-9, "in the house by half")
	assert.Zero(t, year.Case{}.Stocked().Days)
}
