package rotation

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/land"
)

func TestAStayGoesInStrips(t *testing.T) {
	f := farmOf(4, 2)
	m := mobOn(f, "cows", 420, 1, everywhere)
	field := land.Region{land.Ring{{X: 0, Y: 0}, {X: 250, Y: 0}, {X: 250, Y: 80}, {X: 0, Y: 80}}}
	v := Visit{Mob: 0, Paddock: 1, Enter: time.Date(2026, 6, 11, 8, 0, 0, 0, time.UTC), Leave: time.Date(2026, 6, 13, 8, 0, 0, 0, time.UTC), MassIn: 2800, Limits: leys}
	strips := func(in StripsIn) []Strip {
		got, err := f.Strips(m, v, 1, field, in)
		require.NoError(t, err)
		return got
	}
	got := strips(StripsIn{})
	require.Len(t, got, 4, "mornings and evenings of two days")
	need, last := 0.0, v.Enter
	for i, s := range got {
		assert.Equal(t, last, s.From)
		last = s.Until
		need += s.Need
		assert.GreaterOrEqual(t, s.Feed, s.Need*(1-1e-6), "paced up, each feeds them")
		assert.Less(t, s.Feed-s.Need, 80.0*1.01/1e4*1500, "by less than a metre of 80 too much")
		assert.InDelta(t, s.Down, s.Need-(s.ExactM-1+s.PacedM-s.ExactM)*80/1e4*s.Need/(s.ExactM*80/1e4), 0.5, "a metre less")
		if i > 1 {
			assert.Less(t, s.ExactM/s.Need, got[i-2].ExactM/got[i-2].Need, "grass grows meanwhile, so less ground feeds them")
		}
	}
	assert.Equal(t, v.Leave, last)
	assert.InDelta(t, 840, need, 1e-6)

	// Left longer than meant: they take less than was thought, and get less. Left shorter: more.
	high, low := 1800.0, 1300.0
	assert.Less(t, strips(StripsIn{Left: &high})[0].ExactM, got[0].ExactM)
	assert.Greater(t, strips(StripsIn{Left: &low})[0].ExactM, got[0].ExactM)
	exact := (2800 - high) / (2800 - leys.Residual)
	assert.InDelta(t, got[0].ExactM*exact, strips(StripsIn{Left: &high})[0].ExactM, 1e-6)

	// Drawn larger than the record has it, it goes as far for each hectare on record.
	wide := land.Region{land.Ring{{X: 0, Y: 0}, {X: 250, Y: 0}, {X: 250, Y: 160}, {X: 0, Y: 160}}}
	twice, err := f.Strips(m, v, 1, wide, StripsIn{})
	require.NoError(t, err)
	assert.InDelta(t, got[0].ExactM, twice[0].ExactM, 1e-6)

	// The ground ends before the stay does.
	hungry := m
	hungry.Demand = Steady(2000)
	long, err := f.Strips(hungry, v, 1, field, StripsIn{})
	require.NoError(t, err)
	short, asked := 0.0, 0.0
	for _, s := range long {
		short, asked = short+s.Short, asked+s.Need
	}
	assert.Greater(t, short, 0.2*asked)

	for _, bad := range []float64{-1, 2800} {
		_, err = f.Strips(m, v, 1, field, StripsIn{Left: &bad})
		assert.ErrorContains(t, err, "left_kg_dm_ha")
	}
	v.MassIn = leys.Residual
	_, err = f.Strips(m, v, 1, field, StripsIn{})
	assert.ErrorContains(t, err, "nothing to strip")
}
