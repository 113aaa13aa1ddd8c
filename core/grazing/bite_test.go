package grazing

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/reference"
)

func TestABiteIsSaidThreeWays(t *testing.T) {
	for _, sward := range reference.Load().Swards {
		for _, s := range Schools() {
			l, err := s.On(sward)
			if err != nil {
				continue
			}
			b := l.Bite(sward)
			assert.InDelta(t, b.Residual, b.Entry*(1-b.Taken), 1e-9, "%s on %s", s.Key, sward.ID)
			if !sward.ByHeight() {
				assert.Nil(t, b.EntryCm)
				continue
			}
			assert.Greater(t, *b.EntryCm, *b.ResidualCm, "%s on %s", s.Key, sward.ID)
			if s.Key == StartStop {
				assert.InDelta(t, sward.StartHeight, *b.EntryCm, 1e-9)
				assert.InDelta(t, sward.StopHeight, max(*b.ResidualCm, sward.StopHeight), 1e-9)
			}
		}
	}
	native, err := reference.Load().Sward("native_mixed_grass")
	require.NoError(t, err)
	l, err := UsualOn(native).On(native)
	require.NoError(t, err)
	assert.InDelta(t, 0.5, l.Bite(native).Taken, 1e-9, "leave half takes half")
	assert.False(t, l.Changes())
	_, differs := l.InHeat()
	assert.False(t, differs)
}
