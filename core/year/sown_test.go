package year_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/reference"
	"fjell/core/year"
)

// An annual takes the sward that stood there: from the plough on, and after its last bite, since it leaves the ground empty.
func TestAnAnnualTakesTheOldSwardForGood(t *testing.T) {
	c := ley(24)
	with, out := done(t, c, year.Option{Input: "brassica_for_autumn_winter", Field: "F0", Month: 2, AreaHa: 4})
	for m := range 24 {
		want := c.Pieces[0].Grown[m]
		if m >= 2 {
			want *= 0.6
		}
		assert.InDelta(t, want, with.Pieces[0].Grown[m], 1e-6, "month %d", m)
		assert.Equal(t, c.Pieces[1].Grown[m], with.Pieces[1].Grown[m], "another field, month %d", m)
	}
	require.Len(t, out[0].Says, 3)
	assert.InDelta(t, 0.4*0.7*(grown2(c, 0)-c.Pieces[0].Grown[0]-c.Pieces[0].Grown[1]), out[0].Says[2].Figures[0].Value, 1e-6, "and says how much that is")
	conserved(t, with, year.Balance(with, nil))

	// A crop after it is sown on the ground that is empty.
	after, _ := done(t, c, year.Option{Input: "brassica_for_autumn_winter", Field: "F0", Month: 2, AreaHa: 4}, year.Option{Input: "summer_double_crop", Field: "F0", Month: 13, AreaHa: 4})
	assert.InDelta(t, with.Pieces[0].Grown[14], after.Pieces[0].Grown[14], 1e-6, "no more is ploughed")
	wider, _ := done(t, c, year.Option{Input: "brassica_for_autumn_winter", Field: "F0", Month: 2, AreaHa: 4}, year.Option{Input: "summer_double_crop", Field: "F0", Month: 13, AreaHa: 7})
	assert.InDelta(t, 0.3*c.Pieces[0].Grown[14], wider.Pieces[0].Grown[14], 1e-6, "three hectares more are")
}

func grown2(c year.Case, p int) (kg float64) {
	for _, g := range c.Pieces[p].Grown {
		kg += g
	}
	return kg
}

// A new ley takes it only until it feeds: its yield is meant over the old sward's.
func TestANewLeyTakesTheOldSwardUntilItFeeds(t *testing.T) {
	c := ley(24)
	with, _ := done(t, c, year.Option{Input: "perennial_establishment_cool", Field: "F0", Month: 4})
	for m := range 24 {
		want := c.Pieces[0].Grown[m]
		if m >= 4 && m < 12 { // from August on, for 240 days
			want = 0
		}
		assert.InDelta(t, want, with.Pieces[0].Grown[m], 1e-6, "month %d", m)
	}
	assert.Greater(t, grown(with, 12, 24), grown(c, 12, 24))
}

func TestCloverMakesItsOwnNitrogen(t *testing.T) {
	spring := year.Option{Input: "nitrogen_late_spring_cool", Field: "F0", Month: 1}
	var last float64
	for i, x := range []struct {
		legume float64
		meant  bool
		share  float64
	}{{0, true, 1}, {0.19, true, 1}, {0.25, true, 0.5}, {0.4, false, 0}, {0.5, false, 0}} {
		c := ley(12)
		c.Pieces[0].Legume = x.legume
		_, _, err := c.With([]year.Option{spring})
		if x.meant {
			require.NoError(t, err, "%g", x.legume)
		} else {
			var refused *year.Refused
			require.ErrorAs(t, err, &refused, "%g", x.legume)
			assert.Contains(t, refused.Problem.Message, "make their own nitrogen")
		}
		anyway := spring
		anyway.Anyway = true
		with, _ := done(t, c, anyway)
		more := grown(with, 0, 12) - grown(c, 0, 12)
		assert.InDelta(t, x.share*0.9*1000*10, more, 1e-6, "%g", x.legume)
		if i > 0 {
			assert.LessOrEqual(t, more, last)
		}
		last = more
		_, _, err = c.With([]year.Option{{Input: "overseed_grass_drilled", Field: "F0", Month: 4}})
		assert.NoError(t, err, "what is no nitrogen does not care")
	}
}

func TestWhatAnInputObligesSitsWithIt(t *testing.T) {
	lucerne := year.Option{Input: "perennial_establishment_legume", Field: "F0", Month: 0, Price: 500}
	_, bare := done(t, ley(24), lucerne)
	assert.Equal(t, []string{"Lime to soil test", "Phosphate and potash to soil test"}, bare[0].Lacks, "no price is guessed")
	full := lucerne
	full.Companions = []year.Companion{{Input: "lime", Price: 160}, {Input: "phosphate_potash_to_soil_test", Price: 90}}
	c := ley(24)
	_, with := done(t, c, full)
	assert.Empty(t, with[0].Lacks)
	years := c.Months[23].Until.Sub(c.Months[0].From).Hours() / 24 / 365.25
	assert.InDelta(t, bare[0].Cost+10*160*years/6+10*90*years/2, with[0].Cost, 1e-6, "each over its own life")
	// An annual's nitrogen is given once, however long is looked.
	_, annual := done(t, ley(36), year.Option{Input: "winter_annual_tilled", Field: "F0", Month: 4, Price: 300, Companions: []year.Companion{{Input: "nitrogen_winter_annual", Price: 80}}})
	assert.InDelta(t, 10*380, annual[0].Cost, 1e-6)
	for says, k := range map[string]year.Companion{"is not what": {Input: "bought_hay"}, "must be 0 to": {Input: "lime", Price: -1}} {
		wrong := lucerne
		wrong.Companions = []year.Companion{k}
		_, _, err := ley(24).With([]year.Option{wrong})
		assert.ErrorContains(t, err, says)
		assert.ErrorContains(t, err, "options[0].companions")
	}
}

// What an input obliges is an input of the list, done to ground, and obliges nothing in turn.
func TestObligationsEnd(t *testing.T) {
	n := 0
	for _, in := range reference.Load().Inputs {
		for _, id := range in.Obliges {
			with, err := reference.Load().Input(id)
			require.NoError(t, err)
			assert.Empty(t, with.Obliges, in.ID)
			assert.NotEqual(t, "buy", with.Kind, in.ID)
			n++
		}
	}
	assert.Positive(t, n)
}
