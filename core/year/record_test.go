package year_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/year"
)

func TestYearsOnRecordProveWhatIsCarried(t *testing.T) {
	c := ley(12)
	wanted := year.Balance(c, nil).Sum(0, 12).Wanted()
	assert.Zero(t, c.Proven(nil, 0).Share)
	records := []year.Record{{Eaten: 0.5 * wanted, Cut: 10000}, {Eaten: 0.4 * wanted}}
	p := c.Proven(records, 0)
	assert.Equal(t, 2, p.Years)
	assert.InDelta(t, (0.9*wanted+10000*0.9)/2/wanted, p.Share, 1e-9, "what is cut less what falls under the trough")
	assert.InDelta(t, 0.4, p.Least, 1e-9)
	assert.InDelta(t, 0.8*p.Share, c.Proven(records, 0.2).Share, 1e-9, "a reserve is kept back of it")

	less := c.Proven([]year.Record{{Eaten: 0.5 * wanted, Stood: -5000}}, 0)
	assert.InDelta(t, 0.5-5000/wanted, less.Share, 1e-9, "what was taken from what stood there did not grow")
	more := c.Proven([]year.Record{{Eaten: 0.5 * wanted, Stood: 5000, Bought: 90000}}, 0)
	assert.InDelta(t, 0.5, more.Share, 1e-9, "what was left standing, or bought, is no proof")
}

// A beginner starts with less, and with more once poor years, too, have carried more.
func TestABeginnersStartRisesWithProof(t *testing.T) {
	c := ley(12)
	start := func(p year.Proven, beginner bool) float64 {
		out, err := year.CarryingCapacity(c, 0, p, beginner)
		require.NoError(t, err)
		return out.Start
	}
	all := start(year.Proven{}, false)
	none, one, two := start(year.Proven{}, true), start(year.Proven{Years: 1}, true), start(year.Proven{Years: 2}, true)
	assert.Less(t, none, one)
	assert.Less(t, one, two)
	assert.Equal(t, all, two)
	assert.Equal(t, all, start(year.Proven{Years: 1, Least: 5}, true), "never beyond what it carries")
	little := start(year.Proven{Years: 1, Least: 0.01}, true)
	assert.Equal(t, one, little)
}

func TestAYearOnRecordIsRehearsed(t *testing.T) {
	c := ley(12) // from April on
	c.Store = 0
	dates := c.CriticalDates(0.5)
	require.Len(t, dates, 1)
	r := year.Record{}
	for m := range r.Growth {
		r.Growth[m], r.Measured[m], r.Ordinary[m] = 0.4, 30, 900
	}
	r.Growth[0], r.Ordinary[0] = 5, 0.001 // a month in which hardly anything grows says hardly anything
	assert.InDelta(t, 0.4, r.Ratio(), 1e-5)
	assert.InDelta(t, 360, r.Days(), 1e-9)
	out := year.Rehearse(c, plan(0.8), dates, [][]float64{c.As(r)})
	assert.Equal(t, 1.0, out.Dates[0].Acts)
	assert.Positive(t, out.Dates[0].Head[0])
	assert.InDelta(t, 0.4, out.Dates[0].Mean, 1e-9)

	// Months that nobody measured are as ordinary ones.
	r.Measured = [12]float64{}
	r.Measured[4], r.Measured[5] = 30, 9
	growth := c.As(r)
	assert.Equal(t, 0.4, growth[1], "May")
	assert.Equal(t, 1.0, growth[2], "nine days of June are too few")
	assert.Equal(t, 1.0, growth[0])
	good := r
	good.Growth[4] = 1.5
	assert.Zero(t, year.Rehearse(c, plan(0.8), dates, [][]float64{c.As(good)}).Ever)
}
