package grazing

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/reference"
)

func TestMoreLeftMeansAShorterNextStrip(t *testing.T) {
	at := func(left, residual float64) float64 {
		out, _, err := NextStrip(NextStripIn{Length: 100, Mass: 2600, Left: left, Residual: residual})
		require.NoError(t, err)
		return out.Length
	}
	assert.InDelta(t, 100, at(1500, 1500), 1e-9, "what was left is what was meant: the same again")
	assert.Less(t, at(1700, 1500), 100.0, "they left more: it was too long")
	assert.Greater(t, at(1300, 1500), 100.0, "they ate too far down: it was too short")
	_, _, err := NextStrip(NextStripIn{Length: 100, Mass: 2600, Left: 2600, Residual: 1500})
	assert.ErrorContains(t, err, "nothing was eaten")
	next := 1400.0
	_, _, err = NextStrip(NextStripIn{Length: 100, Mass: 2600, Left: 1600, Residual: 1500, Next: &next})
	assert.ErrorContains(t, err, "more than that must stand")
}

func TestAwayAsksForMoreTheLonger(t *testing.T) {
	in := AwayIn{Demand: 700, Days: 5, PerHa: 1000, AreaHa: 4, Stay: 3}
	short, _, err := Away(in)
	require.NoError(t, err)
	assert.Zero(t, short.Short)
	assert.Equal(t, 2.0, short.Strips)
	in.Spare = 2
	long, _, err := Away(in)
	require.NoError(t, err)
	assert.Greater(t, long.Area, short.Area)
	assert.Equal(t, 3.0, long.Strips)
	assert.InDelta(t, 900, long.Short, 1e-9)
}

func TestADenserPulseIsOnLessGroundAndFeedsLess(t *testing.T) {
	in := PulseIn{Count: 50, Weight: 600, Share: 0.023, Density: 50000, Moves: 4, Mass: 3500, Top: 0.33, Exponent: 1.6, Eaten: 0.8, Water: 40}
	thin, _, err := Pulse(in)
	require.NoError(t, err)
	in.Density = 150000
	dense, _, err := Pulse(in)
	require.NoError(t, err)
	assert.InDelta(t, thin.Move/3, dense.Move, 1e-9)
	assert.Greater(t, dense.Short, thin.Short)
	in.Moves = 40
	often, _, err := Pulse(in)
	require.NoError(t, err)
	assert.Less(t, often.Short, dense.Short, "more moves, more ground a day")
	in.Count = 0
	_, _, err = Pulse(in)
	assert.ErrorContains(t, err, "at least one animal")
}

func TestWarmthHastensWormsAndTheStayIsShorterThanTheyNeed(t *testing.T) {
	for _, host := range []string{"sheep_goats", "cattle"} {
		last := 1e9
		for temperature := 10.0; temperature <= hottest; temperature += 2.5 {
			out, steps, err := Worms(WormsIn{Host: host, Temperature: temperature})
			require.NoError(t, err)
			assert.LessOrEqual(t, *out.Earliest, last)
			last = *out.Earliest
			assert.Less(t, *out.Stay, *out.Earliest, "out before the first infect")
			assert.LessOrEqual(t, *out.Earliest, *out.Typical)
			assert.LessOrEqual(t, out.Shortest, out.LowRisk)
			assert.Len(t, steps, 5)
		}
		cold, _, err := Worms(WormsIn{Host: host, Temperature: coldest})
		require.NoError(t, err)
		assert.Nil(t, cold.Stay, "worms do not set it")
	}
	_, _, err := Worms(WormsIn{Host: "cattle", Temperature: 34})
	assert.ErrorContains(t, err, "30 °C only")
	for _, r := range reference.Load().Parasites {
		assert.Contains(t, r.Advice, "vet", r.ID)
	}
}
