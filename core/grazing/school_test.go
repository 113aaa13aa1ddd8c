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

func TestTallAndLongEntersTallerAndLeavesHalf(t *testing.T) {
	tall, err := FindSchool(TallLong)
	require.NoError(t, err)
	heights, err := FindSchool(StartStop)
	require.NoError(t, err)
	require.NoError(t, tall.Check())
	for _, sward := range reference.Load().Swards {
		l, err := tall.On(sward)
		require.NoError(t, err)
		by, err := heights.On(sward)
		require.NoError(t, err)
		assert.GreaterOrEqual(t, l.Entry, by.Entry-1e-9, sward.ID)
		assert.GreaterOrEqual(t, l.Residual, sward.Residual, "%s: never below its least height", sward.ID)
		assert.GreaterOrEqual(t, l.Residual, l.Entry/2-1e-9, sward.ID)
		assert.Less(t, l.Residual, l.Entry, sward.ID)
		assert.Less(t, l.Entry, l.TooOld, sward.ID)
		assert.Less(t, l.Entry, sward.Ceiling, sward.ID)
	}
	assert.Greater(t, tall.RestMin, 40.0)
	assert.LessOrEqual(t, tall.StayMax, 3.0)
	tall.Leave = nil
	assert.ErrorContains(t, tall.Check(), "leave_share")
}

func TestCleanGroundStaysAboveTheWormsAndShorterThanTheyNeed(t *testing.T) {
	clean, err := FindSchool(CleanGround)
	require.NoError(t, err)
	require.NoError(t, clean.Check())
	for _, sward := range reference.Load().Swards {
		l, err := clean.On(sward)
		require.NoError(t, err, sward.ID)
		assert.Less(t, l.Residual, l.Entry, sward.ID)
		assert.Less(t, l.Entry, l.TooOld, sward.ID)
		heights, err := FindSchool(StartStop)
		require.NoError(t, err)
		by, err := heights.On(sward)
		require.NoError(t, err)
		assert.GreaterOrEqual(t, l.Residual, by.Residual-1e-9, "%s: nothing is grazed shorter for the worms' sake", sward.ID)
	}
	worms, _, err := Worms(WormsIn{Host: "sheep_goats", Temperature: 20})
	require.NoError(t, err)
	assert.LessOrEqual(t, clean.StayMax, *worms.Stay, "out in time as warm as an ordinary summer")
	warm, _, err := Worms(WormsIn{Host: "sheep_goats", Temperature: 16})
	require.NoError(t, err)
	assert.GreaterOrEqual(t, clean.RestMin, warm.Shortest)
}
