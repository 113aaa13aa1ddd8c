package grazing

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fjell/core/reference"
)

func on(month time.Month, day int) time.Time {
	return time.Date(2026, month, day, 12, 0, 0, 0, time.UTC)
}

func TestASwardIsKeptTallerInTheHotWeeks(t *testing.T) {
	ley, err := reference.Load().Sward("ryegrass_white_clover")
	require.NoError(t, err)
	s, err := FindSchool(LeafResidual)
	require.NoError(t, err)
	s.Taller = &Taller{From: "06-20", Until: "08-15", By: 2}
	require.NoError(t, s.Check())
	l, err := s.On(ley)
	require.NoError(t, err)
	more := 2 * ley.MassPerCm.Medium
	for _, usual := range []time.Time{on(6, 19), on(8, 15), on(1, 1)} {
		assert.Equal(t, 1500.0, l.At(usual, false).Residual, usual)
		assert.Equal(t, 2600.0, l.At(usual, false).Entry)
	}
	for _, hot := range []time.Time{on(6, 20), on(7, 10), on(8, 14)} {
		assert.InDelta(t, 1500+more, l.At(hot, false).Residual, 1e-9, hot)
		assert.InDelta(t, 2600+more, l.At(hot, false).Entry, 1e-9, "the bite stays as it is")
		assert.Greater(t, l.At(hot, false).TooOld, l.At(hot, false).Entry)
		assert.Less(t, l.At(hot, false).Above(2400), l.At(on(6, 1), false).Above(2400), "less of a sward is feed")
		assert.False(t, l.At(hot, false).Changes(), "what holds at a moment holds")
	}
	assert.Equal(t, l.RestMin, l.At(on(7, 10), false).RestMin)

	// Over new year, for the south.
	s.Taller = &Taller{From: "12-10", Until: "02-20", By: 2}
	l, err = s.On(ley)
	require.NoError(t, err)
	assert.Greater(t, l.At(on(12, 10), false).Residual, 1500.0)
	assert.Greater(t, l.At(on(2, 19), false).Residual, 1500.0)
	assert.Equal(t, 1500.0, l.At(on(2, 20), false).Residual)
	assert.Equal(t, 1500.0, l.At(on(12, 9), false).Residual)
}

// What is left of half a crop is held to the taller sward too: half of a short one is no feed in the heat.
func TestHalfOfAShortSwardIsNoFeedInTheHeat(t *testing.T) {
	native, err := reference.Load().Sward("native_mixed_grass")
	require.NoError(t, err)
	s, err := FindSchool(LeaveHalf)
	require.NoError(t, err)
	usual, err := s.On(native)
	require.NoError(t, err)
	s.Taller = &Taller{From: "06-20", Until: "08-15", By: 2}
	l, err := s.On(native)
	require.NoError(t, err)
	short := usual.Residual * 1.05
	assert.Positive(t, l.At(on(6, 1), false).Above(short))
	assert.Zero(t, l.At(on(7, 1), false).Above(short))
}

func TestHotWeeksThatCannotBeAreRefused(t *testing.T) {
	s, err := FindSchool(StartStop)
	require.NoError(t, err)
	for field, bad := range map[string]Taller{
		"school.taller.from":  {From: "6-20", Until: "08-15", By: 2},
		"school.taller.until": {From: "06-20", Until: "06-20", By: 2},
		"school.taller.by_cm": {From: "06-20", Until: "08-15", By: 0},
	} {
		s.Taller = &bad
		assert.ErrorContains(t, s.Check(), field)
	}
	s.Taller = &Taller{From: "06-20", Until: "02-30", By: 2}
	assert.ErrorContains(t, s.Check(), "school.taller.until")
	s.Taller = &Taller{From: "06-20", Until: "08-15", By: 15.1}
	assert.ErrorContains(t, s.Check(), "at most")
}

// Whatever sward and school, a taller sward leaves more, is entered no earlier, and leaves something to eat; or it is refused.
func TestTallerIsTaller(t *testing.T) {
	swards, schools := reference.Load().Swards, Schools()
	rapid.Check(t, func(t *rapid.T) {
		sward := rapid.SampledFrom(swards).Draw(t, "sward")
		s := rapid.SampledFrom(schools).Draw(t, "school")
		usual, err := s.On(sward)
		if err != nil {
			return
		}
		s.Taller = &Taller{From: "06-20", Until: "08-15", By: rapid.Float64Range(0.1, tallestBy).Draw(t, "by")}
		l, err := s.On(sward)
		if err != nil {
			assert.ErrorContains(t, err, "school.taller.by_cm")
			return
		}
		hot := l.At(on(7, 1), false)
		assert.InDelta(t, usual.Residual+s.Taller.By*sward.MassPerCm.Medium, hot.Residual, 1e-9)
		assert.GreaterOrEqual(t, hot.Entry, usual.Entry)
		assert.Less(t, hot.Residual, hot.Entry)
		assert.Less(t, hot.Entry, hot.TooOld)
		assert.Equal(t, usual, l.At(on(5, 1), false))
	})
}

func TestASwardIsKeptTallerWhileItIsHotAndDry(t *testing.T) {
	ley, err := reference.Load().Sward("ryegrass_white_clover")
	require.NoError(t, err)
	s, err := FindSchool(LeaveHalf)
	require.NoError(t, err)
	s.Taller = &Taller{ByWeather: true, By: 3}
	require.NoError(t, s.Check(), "no day of the year is needed")
	l, err := s.On(ley)
	require.NoError(t, err)
	require.True(t, l.Changes())
	for _, day := range []time.Time{on(1, 5), on(5, 20), on(7, 10)} {
		usual, hot := l.At(day, false), l.At(day, true)
		assert.InDelta(t, 3*ley.MassPerCm.Medium, hot.Residual-usual.Residual, 1e-9)
		assert.Greater(t, hot.Entry, usual.Entry)
		assert.False(t, hot.Changes() || usual.Changes())
		// A short sward is refused in the heat though half of it would be a feed.
		short := Look{Mass: usual.Entry + 10, DaysToGo: 9}
		before, _ := Readiness(short, usual)
		now, _ := Readiness(short, hot)
		assert.Equal(t, Ready, before)
		assert.NotEqual(t, Ready, now)
	}
	s.Taller.By = 0
	assert.ErrorContains(t, s.Check(), "school.taller.by_cm")
}
