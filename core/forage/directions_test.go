package forage

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What stock eat is off by one error for a whole stay: bites in halves are not surer than the same in one.
func TestAStayHasOneErrorOfIntakeHoweverItIsCut(t *testing.T) {
	whole, halves, twoStays := Believe(2600, 0.1), Believe(2600, 0.1), Believe(2600, 0.1)
	whole.Enter()
	whole.Remove(800)
	halves.Enter()
	halves.Remove(400)
	halves.Remove(400)
	assert.InEpsilon(t, whole.Spread(), halves.Spread(), 0.02)
	twoStays.Enter()
	twoStays.Remove(400)
	twoStays.Enter()
	twoStays.Remove(400)
	assert.Less(t, twoStays.Spread(), halves.Spread(), "two stays are off by errors of their own, which part cancel")
}

// What came back with the old meter every time is an error of what is believed once another is in hand: less is known, not more.
func TestANewMeterKnowsLess(t *testing.T) {
	e := Believe(3000, 0.1)
	e.Grow(60, 5200, 0, 14)
	before := e.Spread()
	e.Break(0.08)
	assert.InEpsilon(t, math.Hypot(before, 0.08), e.Spread(), 1e-9)
	assert.Zero(t, e.covariance, "and the step teaches nothing of growth")
}

// What stock will eat is not known either: grass that is grazed down is foreseen less surely than grass that only stands.
func TestForeseeingAStayIsLessSure(t *testing.T) {
	foreseen := func(to float64) float64 {
		f := Foresee(Believe(3000, 0.05), 0, 2)
		f.Step(to, 0, 5200, 0, 1, 0)
		return f.HalfWidth() / to
	}
	stands := foreseen(3000)
	eaten := foreseen(1500)
	scaled := 2 * stands // the same kilograms of doubt on half the mass
	assert.InEpsilon(t, math.Hypot(scaled, 1.96*IntakeError*1), eaten, 0.02)
}

// The same mass less is a larger share of what is left, and so is the doubt about it, and what it says of the factor.
func TestEatingDownMakesTheShareOfDoubtLarger(t *testing.T) {
	e := Believe(3000, 0.1)
	e.Grow(60, 5200, 0, 14)
	before, tied := e, e.covariance
	e.Remove(1500)
	assert.Greater(t, e.Spread(), before.Spread())
	assert.InEpsilon(t, tied*before.Mass()/e.Mass(), e.covariance, 1e-9, "mass and factor stay tied as they were, in kilograms")
}

func TestWhatGrowthCanBe(t *testing.T) {
	low, high := Plausible(40, 60)
	assert.InDelta(t, -20, low, 1e-9, "a quarter of the peak dies at most, and five for the meter")
	assert.InDelta(t, 85, high, 1e-9, "twice what the curve expects")
	_, high = Plausible(10, 60)
	assert.InDelta(t, 77, high, 1e-9, "or a fifth over the best day")
}

func TestTheSpreadOfAFewGuessesIsThatOfASample(t *testing.T) {
	s, _, err := JudgeEye([]Guessed{{Guess: 2000 * math.Exp(0.1), Measured: 2000}, {Guess: 2000 * math.Exp(0.3), Measured: 2000}})
	require.NoError(t, err)
	assert.InDelta(t, math.Sqrt(0.02), s.Spread, 1e-9, "of two: over n − 1")
	assert.InDelta(t, math.Exp(0.2)-1, s.Bias, 1e-9, "guessed too much is above")
}

func TestALineLeavesTwoDegreesOfFreedomLess(t *testing.T) {
	var pairs []Pair
	for i := range 8 {
		pairs = append(pairs, Pair{Height: float64(4 + i), Mass: 1000 + 250*float64(i) + 100*float64(1-2*(i%2))})
	}
	fit, _, err := Calibrate(CalibrateIn{Pairs: pairs})
	require.NoError(t, err)
	sum := 0.0
	for _, p := range pairs {
		sum += math.Pow(p.Mass-fit.Intercept-fit.Slope*p.Height, 2)
	}
	assert.InEpsilon(t, math.Sqrt(sum/6), fit.Error, 1e-9)
}

func TestNoGrowthIsNoGrowth(t *testing.T) {
	assert.Equal(t, 2000.0, Grow(2000, -10, 5200, 5), "a peak below nothing does not shrink grass")
	assert.Equal(t, 2000.0, Grow(2000, 60, 5200, -5), "nor does a day that has not been")
	assert.Less(t, Grow(6000, 60, 5200, 5), 6000.0, "above the ceiling it declines")
}

func TestDaysThatFollowOnEachOtherAreOneWalk(t *testing.T) {
	day := func(d float64) time.Time {
		return time.Date(2026, 6, 1, 8, 0, 0, 0, time.UTC).Add(time.Duration(d * 24 * float64(time.Hour)))
	}
	assert.Equal(t, []time.Time{day(2), day(9), day(11.5)}, WalkDays([]time.Time{day(0), day(1), day(2), day(9), day(11.5)}), "two and a half days on is another")
	assert.Empty(t, WalkDays(nil))
}

func TestGrowthBetweenWalksIsWeightedByDays(t *testing.T) {
	day := func(d int) time.Time { return time.Date(2026, 6, 1+d, 8, 0, 0, 0, time.UTC) }
	piece := func(from, until int, rate float64) Piece {
		return Piece{From: Look{At: day(from), Mass: 2000}, Until: Look{At: day(until), Mass: 2000}, Rate: rate}
	}
	pieces := []Piece{piece(-7, 0, 90), piece(0, 2, 30), piece(2, 8, 60), piece(8, 15, 10)}
	rate, ok := Between(pieces, day(0), day(8))
	require.True(t, ok)
	assert.InDelta(t, (2*30.0+6*60)/8, rate, 1e-9, "what ended before or after stays out")
	_, ok = Between(pieces, day(20), day(27))
	assert.False(t, ok)
	assert.InDelta(t, 1.96*0.1*math.Hypot(2000, 2000)/6, pieces[2].Slack(), 1e-9)
	assert.Greater(t, pieces[1].Slack(), pieces[2].Slack(), "a short piece is less sure")
}
