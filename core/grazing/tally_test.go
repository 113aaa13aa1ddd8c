package grazing_test

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/grazing"
)

var came = time.Date(2026, 6, 1, 8, 0, 0, 0, time.UTC)

func tallyOn(day float64, grazed float64, also ...func(*grazing.Tallied)) grazing.Tallied {
	t := grazing.Tallied{At: came.Add(time.Duration(day * 24 * float64(time.Hour))), Tally: grazing.Tally{Species: "fescue", Grazed: slices.Repeat([]float64{grazed}, 30),
		Ungrazed: slices.Repeat([]float64{18}, 30), Exponent: 2, Limit: 0.5, From: grazing.UngrazedHere}}
	for _, f := range also {
		f(&t)
	}
	return t
}

// Seventy per cent of the height is forty-nine of the weight: at the limit of fifty, not above it.
func ExampleTallies() {
	out, _ := grazing.Tallies(grazing.TalliesIn{Entered: came, Tallies: []grazing.Tallied{tallyOn(2, 5.4)}})
	fmt.Printf("%.2f of the height, %.2f of the weight, out: %v\n", out.ByHeight, out.ByWeight, out.Over)
	// Output: 0.70 of the height, 0.49 of the weight, out: false
}

func TestATallyGoesByWeightAndStrictly(t *testing.T) {
	judge := func(x grazing.Tallied) grazing.TalliesOut {
		out, err := grazing.Tallies(grazing.TalliesIn{Entered: came, Tallies: []grazing.Tallied{x}})
		require.NoError(t, err)
		return out
	}
	half := func(x *grazing.Tallied) { x.Exponent, x.Limit = 1, 0.5 }
	assert.False(t, judge(tallyOn(2, 9, half)).Over, "half, of a limit of half, is not above it")
	over := judge(tallyOn(2, 8.9, half))
	assert.True(t, over.Over)
	assert.Contains(t, over.Reason.Text, "stock out")
	assert.Nil(t, over.Out, "it has passed")
	assert.False(t, judge(tallyOn(2, 5.4)).Over, "seventy per cent of the height would be above half, were it a share of weight")
	assert.False(t, judge(tallyOn(2, 5.4, func(x *grazing.Tallied) { x.Exponent = 3 })).Over)
	assert.Zero(t, judge(tallyOn(2, 9)).Few)
	few := judge(tallyOn(2, 9, func(x *grazing.Tallied) { x.Grazed, x.Ungrazed = x.Grazed[:12], x.Ungrazed[:29] }))
	assert.Equal(t, 18+1, few.Few)
}

func TestTheDayOfRemovalFollowsFromTallies(t *testing.T) {
	in := grazing.TalliesIn{Entered: came, Tallies: []grazing.Tallied{tallyOn(2, 12.6)}} // 0.3 of the height, 0.09 of the weight in two days
	out, err := grazing.Tallies(in)
	require.NoError(t, err)
	require.NotNil(t, out.Out)
	assert.InDelta(t, 2+(0.5-0.09)/(0.09/2), out.Out.Sub(came).Hours()/24, 1e-6, "at the pace since they came")

	in.Tallies = append(in.Tallies, tallyOn(4, 9)) // 0.25 of the weight
	slices.Reverse(in.Tallies)
	out, err = grazing.Tallies(in)
	require.NoError(t, err)
	assert.InDelta(t, 4+(0.5-0.25)/((0.25-0.09)/2), out.Out.Sub(came).Hours()/24, 1e-6, "at the pace of the last two, in whichever order they come")
	assert.InDelta(t, 0.25, out.ByWeight, 1e-9, "the latest is judged")

	other := tallyOn(3, 16.2, func(x *grazing.Tallied) { x.Species = "clover" })
	in.Tallies = append(in.Tallies, other)
	again, err := grazing.Tallies(in)
	require.NoError(t, err)
	assert.Equal(t, out.Out, again.Out, "another species tells nothing of this one")

	in.Tallies = []grazing.Tallied{tallyOn(2, 9), tallyOn(4, 9)}
	out, err = grazing.Tallies(in)
	require.NoError(t, err)
	assert.Nil(t, out.Out, "what is not eaten on is never used up")
	before := tallyOn(-5, 18)
	in = grazing.TalliesIn{Entered: came, Tallies: []grazing.Tallied{before, tallyOn(2, 9)}}
	out, err = grazing.Tallies(in)
	require.NoError(t, err)
	assert.InDelta(t, 4, out.Out.Sub(came).Hours()/24, 1e-6, "a tally of an earlier stay is none of this one")
}

func TestATallyThatMeasuresNothingIsRefused(t *testing.T) {
	_, err := grazing.Tallies(grazing.TalliesIn{})
	assert.Error(t, err)
	for name, spoil := range map[string]func(*grazing.Tallied){
		"species": func(x *grazing.Tallied) { x.Species = "" }, "ungrazed_from": func(x *grazing.Tallied) { x.From = "elsewhere" },
		"grazed_cm": func(x *grazing.Tallied) { x.Grazed = nil }, "ungrazed_cm": func(x *grazing.Tallied) { x.Ungrazed = slices.Repeat([]float64{9}, 201) },
	} {
		err := tallyOn(1, 9, spoil).Check()
		assert.ErrorContains(t, err, "", name)
		require.Error(t, err, name)
	}
	assert.NoError(t, tallyOn(1, 9).Check())
}
