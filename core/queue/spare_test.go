package queue_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/queue"
)

func TestWhatCanBeSparedIsRankedBySurplusRipenessLeafAndWet(t *testing.T) {
	order := func(c queue.Case) (out []int, spares []queue.Spare) {
		spares = queue.Spares(c, c.Look().Week)
		for _, s := range spares {
			out = append(out, s.Paddock)
		}
		return out, spares
	}
	rich := func() queue.Case { return round(300, 1900, 3000, 3050, 3300, 3000, 2900, 2800, 2700) }
	c := rich()
	w := c.Look().Week
	require.Positive(t, w.Balance)
	ranked, spares := order(c)
	require.Len(t, ranked, 7, "not the one that is being grazed")
	assert.NotContains(t, ranked, 0)
	mark := map[int]float64{}
	for _, r := range w.Rows {
		mark[r.Paddock] = r.Target
		require.NotNil(t, r.Mark)
		assert.InDelta(t, r.Target, r.Mark.Value, 1e-9)
	}
	if above := c.Standing[ranked[0]].Mass - mark[ranked[0]]; above > 0 {
		assert.Equal(t, "{a} above its mark", spares[0].Why[0].Text)
		assert.InDelta(t, above, spares[0].Why[0].Figures[0].Value, 1e-9)
	}

	// The best of them, too wet for wheels, comes last; leaves beyond their stage bring one forward.
	first, last := ranked[0], ranked[len(ranked)-1]
	wet := rich()
	wet.Farm.Paddocks[first].Today.TooWet = true
	ranked, spares = order(wet)
	assert.Equal(t, first, ranked[len(ranked)-1])
	assert.Equal(t, "too wet for wheels", spares[len(spares)-1].Why[len(spares[len(spares)-1].Why)-1].Text)
	ripe := rich()
	many := 30.0
	ripe.Farm.Paddocks[last].Today.Leaves, ripe.Farm.Paddocks[last].Today.LeafStage = &many, 3
	ranked, _ = order(ripe)
	assert.Equal(t, last, ranked[0])
	few := 2.0
	ripe.Farm.Paddocks[last].Today.Leaves = &few
	ranked, _ = order(ripe)
	assert.NotEqual(t, last, ranked[0], "too few leaves speak for nothing")

	// What was grazed to its residual has nothing to spare, however little is missed without it.
	bare := rich()
	bare.Standing[first].Mass = 1450
	ranked, spares = order(bare)
	assert.Equal(t, first, ranked[len(ranked)-1])
	assert.Equal(t, "nothing stands on it to spare", spares[len(spares)-1].Why[1].Text)

	// A queue below its marks can spare none.
	short := round(900, 1700, 1900, 1800, 1700, 1600)
	_, spares = order(short)
	for _, s := range spares {
		assert.True(t, s.Short)
		assert.Equal(t, "without it the queue stands below its marks", s.Why[len(s.Why)-1].Text)
	}
}
