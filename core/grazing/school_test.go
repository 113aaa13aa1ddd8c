package grazing

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/reference"
)

// Every sward is grazed by a school that it can follow: a native grass that tops out at 1 700 kg was asked for 2 600.
func TestEverySwardHasASchoolItCanFollow(t *testing.T) {
	for _, sward := range reference.Load().Swards {
		t.Run(sward.ID, func(t *testing.T) {
			for _, key := range sward.Schools {
				s, err := FindSchool(key)
				require.NoError(t, err)
				require.NoError(t, s.Check())
				l, err := s.On(sward)
				require.NoError(t, err)
				assert.Less(t, l.Residual, l.Entry)
				assert.Less(t, l.Entry, l.TooOld)
				assert.Less(t, l.Entry, sward.Ceiling, "it grows to where it is entered")
				assert.True(t, s.Suits(sward))
			}
			assert.Equal(t, sward.Schools[0], UsualOn(sward).Key)
		})
	}
	assert.Equal(t, StartStop, UsualOn(reference.Sward{}).Key)
}

func TestLeaveHalfLeavesHalfOfWhatStoodThere(t *testing.T) {
	native, err := reference.Load().Sward("native_mixed_grass")
	require.NoError(t, err)
	s := UsualOn(native)
	require.Equal(t, LeaveHalf, s.Key)
	l, err := s.On(native)
	require.NoError(t, err)
	assert.InDelta(t, l.Entry/2, l.Residual, 1e-9)
	assert.InDelta(t, 1200, l.Entered(2400).Residual, 1e-9, "of a heavy crop, half of that")
	assert.Equal(t, l.Residual, l.Entered(900).Residual, "never below half of a crop worth grazing")
	assert.InDelta(t, 1200*0.5, l.Above(2400), 1e-9, "a quarter of what stands is swallowed")
	assert.GreaterOrEqual(t, s.StayMax, 14.0, "stays of weeks")
	bad := 1.0
	s.Leave = &bad
	assert.ErrorContains(t, s.Check(), "leave_share")
	s.Leave = nil
	assert.ErrorContains(t, s.Check(), "leave_share")
	leys, err := FindSchool(LeafResidual)
	require.NoError(t, err)
	l, err = leys.On(native)
	require.NoError(t, err)
	assert.Equal(t, l, l.Entered(9000), "other schools leave what they leave")
}
