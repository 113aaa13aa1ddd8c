package forage

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func day(d int) time.Time { return time.Date(2026, 5, d, 9, 0, 0, 0, time.UTC) }

func looks(masses ...float64) []Look {
	var out []Look
	for i, m := range masses {
		out = append(out, Look{At: day(1 + 7*i), Mass: m, ID: string(rune('a' + i)), Walk: true})
	}
	return out
}

func TestGrowthByPiecesAddsBackWhatWasEaten(t *testing.T) {
	pieces := Pieces(looks(2000, 2210, 1700), []Bite{{day(9), day(11), 860}})
	require.Len(t, pieces, 2)
	assert.InDelta(t, 30, pieces[0].Rate, 1e-9)
	assert.InDelta(t, (1700-2210+860)/7.0, pieces[1].Rate, 1e-9)
	assert.True(t, pieces[1].Grazed)
	half := Pieces(looks(2000, 1800), []Bite{{day(5), day(11), 600}})
	assert.InDelta(t, (1800-2000+300)/7.0, half[0].Rate, 1e-9, "a stay over the second walk counts by its part")
	soon := looks(2000, 2100)
	soon[1].At = soon[0].At.Add(20 * time.Hour)
	assert.Empty(t, Pieces(soon, nil), "two looks a day apart measure the meter")
}

func TestTheWalkThatReadTooHighIsNamed(t *testing.T) {
	band := func(Piece) (float64, float64) { return Plausible(50, 70) }
	look, high, found := Doubtful(Pieces(looks(2000, 2300, 3400, 2700), nil), band)
	require.True(t, found)
	assert.Equal(t, "c", look.ID)
	assert.True(t, high)
	look, high, found = Doubtful(Pieces(looks(2000, 1200, 2600, 2900), nil), band)
	require.True(t, found)
	assert.Equal(t, "b", look.ID)
	assert.False(t, high, "it read too low")
	_, _, found = Doubtful(Pieces(looks(2000, 2300, 2600, 2800), nil), band)
	assert.False(t, found)
}

func TestEyeIsTrainedByNearGuesses(t *testing.T) {
	var guesses []Guessed
	for i := range 30 {
		g := Guessed{2600, 2000}
		if i >= 10 {
			g.Guess = []float64{1900, 2100, 2050}[i%3]
		}
		guesses = append(guesses, g)
	}
	eye, _, err := JudgeEye(guesses)
	require.NoError(t, err)
	assert.Equal(t, TrainedEye, eye.Level, "the first ten no longer tell")
	assert.Equal(t, 20, eye.Run)
	assert.Equal(t, 20, eye.Near)
	early, _, err := JudgeEye(guesses[:10])
	require.NoError(t, err)
	assert.InDelta(t, 0.3, early.Bias, 1e-9)
	assert.Zero(t, early.Run)
	assert.Equal(t, NewEye, early.Level)
	_, _, err = JudgeEye([]Guessed{{0, 2000}})
	assert.Error(t, err)
}

func TestClipsSideWithAMeter(t *testing.T) {
	clip := func(v float64) *float64 { return &v }
	var spots []Spot
	for i := range 6 {
		m := 1500 + 300*float64(i)
		spots = append(spots, Spot{m * 1.2, m * 1.03, clip(m)})
	}
	out, _, err := TrustOf(spots)
	require.NoError(t, err)
	assert.Equal(t, 2, out.Side)
	assert.Positive(t, out.Compare.Mean)
	blind, _, err := TrustOf([]Spot{{2000, 1800, nil}, {2500, 2200, nil}})
	require.NoError(t, err)
	assert.Zero(t, blind.Side)
	assert.Contains(t, blind.Sentence, "Clip")
}

func TestHandSidesWithTheNearestOrWithNone(t *testing.T) {
	in := HandIn{Fists: 1.5, CmPerFist: 10, PerCm: 110, Stop: 6, Residual: 1500, Meters: map[string]float64{"plate": 3400, "eye": 2450}}
	out, err := Hand(in)
	require.NoError(t, err)
	assert.InDelta(t, 1500+9*110.0, out.Mass, 1e-9)
	assert.Equal(t, "eye", out.Sides)
	assert.Contains(t, out.Sentence, "rather less", "a hand errs to one side")
	in.Meters = map[string]float64{"plate": 5000}
	out, err = Hand(in)
	require.NoError(t, err)
	assert.Empty(t, out.Sides)
}

func TestZonesCountByTheirGround(t *testing.T) {
	mean, se, freedom, _, missing, err := ByZone([]ZoneSample{{"slope", 0.75, []float64{1000, 1200, 1100}}, {"bottom", 0.25, []float64{3000, 3200}}, {"knoll", 0.1, nil}})
	require.NoError(t, err)
	assert.InDelta(t, 0.75*1100+0.25*3100, mean, 1e-9, "not 1 900, the mean of the readings")
	require.NotNil(t, se)
	assert.Equal(t, []string{"knoll"}, missing)
	v1, v2 := math.Pow(0.75, 2)*1e4/3, math.Pow(0.25, 2)*2e4/2
	assert.InDelta(t, (v1+v2)*(v1+v2)/(v1*v1/2+v2*v2/1), freedom, 1e-9, "Satterthwaite's, not readings less one")
	rapid.Check(t, func(t *rapid.T) {
		m := rapid.SliceOfN(rapid.Float64Range(300, 6000), 2, 12).Draw(t, "masses")
		s, _, err := Sample(SampleIn{m})
		require.NoError(t, err)
		mean, se, one, _, _, err := ByZone([]ZoneSample{{"all", rapid.Float64Range(0.1, 1).Draw(t, "share"), m}})
		require.NoError(t, err)
		assert.InEpsilon(t, s.Mean, mean, 1e-12, "one zone is the paddock")
		assert.InDelta(t, *s.SE, *se, 1e-9)
		if *se > 0 {
			assert.InDelta(t, s.Freedom, one, 1e-6)
		}
	})
}

func TestPiecesLeaveTheirLooksAsTheyCame(t *testing.T) {
	at := time.Date(2026, 5, 4, 8, 0, 0, 0, time.UTC)
	looks := []Look{{At: at.AddDate(0, 0, 7), Mass: 1800}, {At: at, Mass: 1500}}
	pieces := Pieces(looks, nil)
	assert.Len(t, pieces, 1)
	assert.Equal(t, 1800.0, looks[0].Mass, "the caller's list is in the caller's order")
}
