package year_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fjell/core/year"
)

// suckled is the farm with 30 young at foot from May to September.
func suckled(n int) year.Case {
	c := ley(n)
	c.Groups[0].Suckled = make([]year.Suckled, n)
	for m := range n {
		if m%12 >= 1 && m%12 <= 5 {
			c.Groups[0].Suckled[m] = year.Suckled{Head: 30, Milk: 3000, Eats: 2000, Weaned: 4200}
		}
	}
	return c
}

func TestWeaningEarlierSparesTheMilk(t *testing.T) {
	c := suckled(24)
	with, out := done(t, c, year.Option{Input: year.Weaning, Month: 3})
	for m := range 24 {
		want := c.Groups[0].Pasture[m]
		if m >= 3 && m <= 5 {
			want -= 3000 - (4200 - 2000) // young that stay eat more for the milk they lack
		}
		assert.InDelta(t, want, with.Groups[0].Pasture[m], 1e-6, "month %d: next year's young are not weaned", m)
	}
	assert.InDelta(t, 3*800, out[0].Extra, 1e-6)
	assert.Zero(t, with.Groups[0].Suckled[4].Head+with.Groups[0].Suckled[4].Milk, "nobody is at foot then")
	assert.NotEmpty(t, out[0].Caution)

	// Those that go eat nothing, until they would have been weaned.
	gone, out := done(t, c, year.Option{Input: year.Weaning, Month: 3, Head: 30, Price: -500})
	assert.InDelta(t, c.Groups[0].Pasture[4]-3000-2000, gone.Groups[0].Pasture[4], 1e-6)
	assert.InDelta(t, c.Groups[0].Head[4]-30, gone.Groups[0].Head[4], 1e-9)
	assert.Equal(t, c.Groups[0].Pasture[6], gone.Groups[0].Pasture[6])
	assert.InDelta(t, -15000, out[0].Cost, 1e-9)
	assert.Less(t, year.Balance(gone, nil).Sum(0, 24).Missing, year.Balance(with, nil).Sum(0, 24).Missing)

	// Head that go after it take no more with them than they do by themselves.
	leave := year.Option{Head: -10, Month: 3}
	_, alone := done(t, c, leave)
	_, both := done(t, c, year.Option{Input: year.Weaning, Month: 3, Head: 30}, leave)
	for m, kg := range both[1].By {
		assert.LessOrEqual(t, kg, alone[0].By[m]+1e-9, "month %d", m)
		if m >= 3 {
			assert.InDelta(t, 0.25*(gone.Groups[0].Pasture[m]+gone.Groups[0].Indoors[m]), kg, 1e-6, "a quarter of what the rest wants, month %d", m)
		}
	}
	assert.Equal(t, 3000., c.Groups[0].Suckled[3].Milk, "the case it began from stays as it is")

	// When some head have gone before, the milk of those is not spared twice.
	first := year.Option{Head: -10, Month: 1}
	a, _ := done(t, c, first)
	_, out = done(t, c, first, year.Option{Input: year.Weaning, Month: 3})
	assert.InDelta(t, 0.75*3*800, out[1].Extra, 1e-6)
	assert.InDelta(t, 0.75*30, a.Groups[0].Suckled[3].Head, 1e-9)

	for says, options := range map[string][]year.Option{
		"options[0].month": {{Input: year.Weaning, Month: 8}},
		"0 to 30":          {{Input: year.Weaning, Month: 3, Head: 31}},
		"options[0].group": {{Input: year.Weaning, Month: 3, Group: 4}},
		"another card":     {{Input: year.Weaning, Month: 3}, {Input: year.Weaning, Month: 4}},
	} {
		_, _, err := c.With(options)
		assert.ErrorContains(t, err, says)
	}
	_, _, err := ley(12).With([]year.Option{{Input: year.Weaning, Month: 3}})
	assert.ErrorContains(t, err, "no young are with their mothers")
}

func TestThoseBehindEatSomeGrassAndFreeSome(t *testing.T) {
	c := ley(24)
	behind := year.Option{Input: year.Behind, Field: "F0", Month: 1, Months: 5, Head: 40, Class: "doe_dry", Share: 0.25, Price: 12}
	with, out := done(t, c, behind)
	grass := 0.0
	for m := range 24 {
		assert.Equal(t, c.Groups[0].Pasture[m], with.Groups[0].Pasture[m], "the others want what they wanted")
		more := with.Groups[1].Pasture[m]
		if m >= 1 && m < 6 {
			assert.InDelta(t, 40*60*0.021*0.25*c.Months[m].Days(), more, 1e-6, "month %d", m)
		} else {
			assert.Zero(t, more, "month %d", m)
		}
		grass += more
	}
	frees := 0.5 * 1000 * 10 * 0.6 * 2 // two summers of what weeds leave free
	assert.InDelta(t, frees-grass, out[0].Extra, 1e-6)
	assert.InDelta(t, 480, out[0].Cost, 1e-9)
	conserved(t, with, year.Balance(with, nil))
	for says, o := range map[string]func(*year.Option){
		"options[0].class":    func(o *year.Option) { o.Class = "beef_cow_dry" },
		"options[0].head":     func(o *year.Option) { o.Head = 0 },
		"options[0].share":    func(o *year.Option) { o.Share = 0 },
		"options[0].months":   func(o *year.Option) { o.Months = 99 },
		"options[0].field_id": func(o *year.Option) { o.Field = "F9" },
	} {
		wrong := behind
		o(&wrong)
		_, _, err := c.With([]year.Option{wrong})
		assert.ErrorContains(t, err, says)
	}
	_, _, err := c.With([]year.Option{behind, {Input: "broadleaf_weed_control", Field: "F0", Month: 5}})
	assert.ErrorContains(t, err, "is spoken for", "weeds are gone once")
}

func TestToppedGrassIsEatenBetterForAWhile(t *testing.T) {
	c := ley(12)
	with, out := done(t, c, year.Option{Input: year.Topping, Field: "F0", Month: 2, Share: 0.8, Price: 30})
	before, after := year.Balance(c, nil), year.Balance(with, nil)
	for m := range 12 {
		want := 0.0
		if m == 2 || m == 3 {
			want = 0.1 * c.Pieces[0].Grown[m]
		}
		assert.InDelta(t, want, after.Months[m].Eatable-before.Months[m].Eatable, 1e-6, "month %d", m)
		assert.InDelta(t, before.Months[m].Grown, after.Months[m].Grown, 1e-6, "nothing more grows")
	}
	assert.InDelta(t, 300, out[0].Cost, 1e-9)
	assert.NotEmpty(t, out[0].Caution)
}

// What is eaten of a field is said once at a time: a second share on top of the first would be taken of what the first left.
func TestASecondShareIsNotTakenOfTheFirst(t *testing.T) {
	divide := year.Option{Input: year.Division, Field: "F0", Month: 2, Share: 0.8}
	top := year.Option{Input: year.Topping, Field: "F0", Month: 4, Share: 0.8}
	other, later := divide, top
	other.Field, later.Month = "F1", 7
	for name, x := range map[string]struct {
		options []year.Option
		refused bool
	}{
		"divided twice":     {[]year.Option{divide, divide}, true},
		"divided, topped":   {[]year.Option{divide, top}, true},
		"topped before":     {[]year.Option{{Input: year.Topping, Field: "F0", Month: 0, Share: 0.8}, divide}, false},
		"topped and then":   {[]year.Option{top, divide}, true},
		"topped twice":      {[]year.Option{top, later}, false},
		"topped over again": {[]year.Option{top, top}, true},
		"another field":     {[]year.Option{divide, other}, false},
	} {
		_, _, err := ley(12).With(x.options)
		if x.refused {
			assert.ErrorContains(t, err, "count it twice", name)
		} else {
			assert.NoError(t, err, name)
		}
	}
}

func TestBoughtFeedLosesOnce(t *testing.T) {
	c := ley(12)
	usual, _ := done(t, c, year.Option{Input: "bought_hay", Month: 7, Tonnes: 10})
	own, out := done(t, c, year.Option{Input: "bought_hay", Month: 7, Tonnes: 10, Loss: 0.35})
	assert.InDelta(t, 10*1000*0.86*0.65, out[0].Extra, 1e-6)
	assert.Less(t, own.Bought[7], usual.Bought[7])
	missing := year.Balance(c, nil).Sum(0, 12).Missing
	assert.InDelta(t, missing-out[0].Extra, year.Balance(own, nil).Sum(0, 12).Missing, 1e-6, "no trough takes its share again")
	_, _, err := c.With([]year.Option{{Input: "bought_hay", Month: 7, Tonnes: 10, Loss: 0.7}})
	assert.ErrorContains(t, err, "options[0].loss_share")
}

// Whatever is put down, nothing is made or lost, and nobody wants less than nothing.
func TestCardsOfEveryKindConserve(t *testing.T) {
	rapid.Check(t, func(r *rapid.T) {
		c := suckled(24)
		pool := []year.Option{
			{Input: year.Weaning, Month: rapid.IntRange(1, 5).Draw(r, "weans"), Head: float64(rapid.IntRange(0, 30).Draw(r, "go"))},
			{Input: year.Behind, Field: "F0", Month: rapid.IntRange(0, 20).Draw(r, "behind"), Head: 20, Class: "ewe_dry", Share: rapid.Float64Range(0.05, 1).Draw(r, "grass")},
			{Input: year.Topping, Field: "F1", Month: rapid.IntRange(0, 20).Draw(r, "tops"), Share: rapid.Float64Range(0.71, 0.95).Draw(r, "eaten")},
			{Head: float64(rapid.IntRange(-20, -1).Draw(r, "leave")), Month: rapid.IntRange(0, 20).Draw(r, "leave in")},
			{Input: "brassica_for_autumn_winter", Field: "F0", Month: 2, AreaHa: rapid.Float64Range(0.5, 10).Draw(r, "crop")},
			{Input: "bought_hay", Month: rapid.IntRange(0, 23).Draw(r, "bought in"), Tonnes: 20, Loss: 0.2},
		}
		var options []year.Option
		for _, o := range pool {
			if rapid.Bool().Draw(r, "card") {
				options = append(options, o)
			}
		}
		with, _, err := c.With(options)
		if err != nil {
			r.Skip(err)
		}
		conserved(t, with, year.Balance(with, nil))
		for m := range 24 {
			g := with.Groups[0]
			if g.Pasture[m] < -1e-9 || g.Indoors[m] < -1e-9 || g.Head[m] < -1e-9 {
				r.Fatalf("month %d: %g, %g kg for %g head", m, g.Pasture[m], g.Indoors[m], g.Head[m])
			}
		}
	})
}

// Where nobody of a group is there, nobody can come like them: what such a one eats is not known.
func TestNobodyComesLikeNobody(t *testing.T) {
	c := suckled(12)
	c.Groups[0].Head[3], c.Groups[0].Pasture[3] = 0, 0
	for _, head := range []float64{5, -5} {
		_, _, err := c.With([]year.Option{{Head: head, Month: 3}})
		assert.ErrorContains(t, err, "options[0].head", "%g", head)
	}
	_, _, err := c.With([]year.Option{{Input: year.Behind, Field: "F0", Month: 1, Head: 10, Class: "doe_dry", Share: 0.2}, {Group: 1, Head: 5, Month: 2}})
	assert.ErrorContains(t, err, "options[1].head", "those behind are a card, no mob")
}

func TestHeadThatComeBringTheirYoung(t *testing.T) {
	c := suckled(12)
	with, _ := done(t, c, year.Option{Head: 20, Month: 2})
	require.Len(t, with.Groups[0].Suckled, 12)
	assert.InDelta(t, 45, with.Groups[0].Suckled[3].Head, 1e-9)
	assert.InDelta(t, 30, with.Groups[0].Suckled[1].Head, 1e-9)
}
