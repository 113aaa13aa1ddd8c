package grazing

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func leftBehind(t *testing.T, mass float64) LookBackOut {
	t.Helper()
	in := atTheGate(mass)
	in.Here.Entered, in.Here.Stayed = 2600, 4
	out, err := LookBack(LookBackIn{in.Seen, in.Here})
	require.NoError(t, err)
	return out
}

func TestWhatWasLeftIsHeldAgainstThePlan(t *testing.T) {
	right := leftBehind(t, 1520)
	assert.Contains(t, right.Reason.Plain(), "as it was to be")
	assert.InDelta(t, 0, *right.Later, 1e-9)
	assert.InDelta(t, 1100*2/500.0, right.Foretold, 1e-9, "days that the feed was to last")
	assert.Greater(t, right.Gone, 1080.0, "what grew meanwhile is gone too")
	assert.InDelta(t, 500*4/2/right.Gone, *right.Eaten, 1e-9)

	low := leftBehind(t, 1100)
	assert.Less(t, low.Over, 0.0)
	assert.Greater(t, *low.Later, 5.0)
	assert.Contains(t, low.Reason.Plain(), "later. Rest it longer")
	assert.Greater(t, low.Gone, right.Gone)
	assert.Less(t, *low.Eaten, *right.Eaten, "the same eaten of more that is gone")
	assert.Greater(t, *leftBehind(t, 900).Later, *low.Later)

	high := leftBehind(t, 2100)
	assert.Contains(t, high.Reason.Plain(), "grows old")
	assert.LessOrEqual(t, *high.Eaten, 1.0)
	assert.Nil(t, leftBehind(t, 4000).Eaten, "more stands than did: nothing is gone")

	in := atTheGate(1500)
	in.Here.Peak = 0
	out, err := LookBack(LookBackIn{in.Seen, in.Here})
	require.NoError(t, err)
	assert.Nil(t, out.Later, "nothing grows: no days can be told")
	in.Here.Residual = 0
	_, err = LookBack(LookBackIn{in.Seen, in.Here})
	assert.ErrorContains(t, err, "not known well enough")
	_, err = LookBack(LookBackIn{Seen{By: "paces"}, in.Here})
	assert.ErrorContains(t, err, "by")
}
