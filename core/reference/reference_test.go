package reference

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestRowsHangTogether(t *testing.T) {
	lib := Load()
	require.NotEmpty(t, lib.Swards)
	require.NotEmpty(t, lib.Classes)
	for _, s := range lib.Swards {
		_, err := lib.Curve(s.GrowthCurve)
		assert.NoError(t, err, s.ID)
		assert.Less(t, s.StopHeight, s.StartHeight, s.ID)
		entry := s.Residual + (s.StartHeight-s.StopHeight)*s.MassPerCm.Medium
		assert.Less(t, entry, s.Ceiling, "%s can reach its start height", s.ID)
		for _, h := range s.Hazards {
			if h == "bloat" {
				_, err := lib.Caution(h)
				assert.NoError(t, err)
			}
		}
	}
	for _, c := range lib.Classes {
		assert.Less(t, c.LiveWeight.Low, c.LiveWeight.High, c.ID)
		assert.Greater(t, c.IntakeShare.Typical, 0.0, c.ID)
	}
	_, err := lib.Sward("moss")
	assert.ErrorContains(t, err, "sward_id")
}
