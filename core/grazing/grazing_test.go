package grazing

import (
	"encoding/json"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/forage"
	"fjell/core/quantity"
	"fjell/core/reference"
)

func TestFeedToStayToStrip(t *testing.T) {
	mass, residual, u := 2650.0, 1500.0, 1.0
	feed, steps, err := Feed(FeedIn{Method: ToResidual, Mass: &mass, Residual: &residual, U: &u, AreaHa: 1.8})
	require.NoError(t, err)
	assert.InDelta(t, 2070, feed.Feed, 1e-9)
	assert.Len(t, steps, 3, "every deduction is a step")
	stay, _, err := Stay(StayIn{feed.Feed, 752.24})
	require.NoError(t, err)
	assert.InDelta(t, 2.75, stay.Days, 0.005)
	strip, _, err := Strip(StripIn{752.24, 1, feed.PerHa, 60})
	require.NoError(t, err)
	assert.InDelta(t, 0.654, strip.Area, 0.001)
	assert.InDelta(t, 109, strip.Length, 0.1)
}

func TestFeedIsNeverBelowZero(t *testing.T) {
	mass, residual, u := 1200.0, 1500.0, 1.0
	feed, _, err := Feed(FeedIn{Method: ToResidual, Mass: &mass, Residual: &residual, U: &u, AreaHa: 1})
	require.NoError(t, err)
	assert.Zero(t, feed.Feed)
}

func TestPaddocksForARest(t *testing.T) {
	out, _, err := Rotation(RotationIn{21, 0.7, 1, 30})
	require.NoError(t, err)
	assert.Equal(t, 31, out.Paddocks, "21 / 0.7 is 30, whatever a float says")
	_, _, err = Rotation(RotationIn{1000, 0.01, 1, 30})
	assert.ErrorContains(t, err, "stay_days")
}

func TestUseByWeightIsNotUseByHeight(t *testing.T) {
	out, _, err := Utilisation(UtilisationIn{Ungrazed: []float64{18}, Grazed: []float64{5.4}, Exponent: 2, Limit: 0.5})
	require.NoError(t, err)
	assert.InDelta(t, 0.7, out.ByHeight, 1e-9)
	assert.InDelta(t, 0.49, out.ByWeight, 1e-9)
	assert.False(t, out.Over)
}

func TestSchoolsOnEverySward(t *testing.T) {
	for _, sward := range reference.Load().Swards {
		for _, school := range Schools() {
			require.NoError(t, school.Check())
			l, err := school.On(sward)
			require.NoError(t, err)
			assert.Less(t, l.Residual, l.Entry, "%s on %s", school.Name, sward.Name)
			assert.Less(t, l.Entry, l.TooOld, "%s on %s", school.Name, sward.Name)
		}
	}
}

func TestContradictorySchoolsAreRefused(t *testing.T) {
	leaf, err := FindSchool(LeafResidual)
	require.NoError(t, err)
	leaf.Residual = ptr(2700)
	assert.ErrorContains(t, leaf.Check(), "below the entry")
	heights, err := FindSchool(StartStop)
	require.NoError(t, err)
	heights.StartHeight, heights.StopHeight = ptr(8), ptr(10)
	assert.ErrorContains(t, heights.Check(), "below the start height")
	heights.StartHeight, heights.StopHeight = nil, ptr(20)
	sward, err := reference.Load().Sward("upland_bent_fescue")
	require.NoError(t, err)
	_, err = heights.On(sward)
	assert.ErrorContains(t, err, "Upland", "the sward's own start height counts where none is given")
	_, err = FindSchool("hearsay")
	assert.Error(t, err)
}

func TestReadiness(t *testing.T) {
	l := Limits{Entry: 2600, TooOld: 3100, Residual: 1500, RestMin: 18, StayMax: 3, U: 1}
	days := func(d float64) *float64 { return &d }
	for name, c := range map[string]struct {
		look Look
		want State
	}{
		"ready":             {Look{Mass: 2700, Rest: days(22)}, Ready},
		"past its best":     {Look{Mass: 3300, Rest: days(30)}, Mind},
		"soon":              {Look{Mass: 2450, Rest: days(20), DaysToGo: 3}, Soon},
		"resting":           {Look{Mass: 1800, Rest: days(20), DaysToGo: 15}, Resting},
		"rest too short":    {Look{Mass: 2700, Rest: days(9)}, Resting},
		"rest nearly there": {Look{Mass: 2700, Rest: days(16)}, Soon},
		"rest unknown":      {Look{Mass: 2700}, Ready},
		"growth over":       {Look{Mass: 1800, Rest: days(60), DaysToGo: math.Inf(1)}, Resting},
		"occupied":          {Look{Mass: 2700, Occupied: true}, Stop},
		"two leaves":        {Look{Mass: 2700, Rest: days(22), Leaves: days(2), LeafStage: 3}, Soon},
		"three leaves":      {Look{Mass: 2700, Rest: days(22), Leaves: days(2.8), LeafStage: 3}, Ready},
		"too wet":           {Look{Mass: 2700, Rest: days(22), TooWet: true}, Mind},
		"closed and wet":    {Look{Mass: 2700, Closed: true, TooWet: true}, Stop},
		"closed":            {Look{Mass: 2700, Closed: true, ClosedFor: "hay"}, Stop},
	} {
		got, reasons := Readiness(c.look, l)
		assert.Equal(t, c.want, got, name)
		assert.NotEmpty(t, reasons, name)
	}
	assert.Equal(t, RestClock{24, "the days until it stands at entry again"}, RestNeeded(18, 24))
	assert.Equal(t, 18.0, RestNeeded(18, 10).Days)
}

// A kilogram more at the next walk must not turn "take it" into "past its best": within what is known they say the same.
func TestAKilogramTurnsNoVerdict(t *testing.T) {
	l := Limits{Entry: 2600, TooOld: 3100, Residual: 1500, RestMin: 18, StayMax: 3, U: 1}
	rest := 30.0
	look := func(mass, half float64) (State, string) {
		state, reasons := Readiness(Look{Mass: mass, Half: half, Rest: &rest, DaysToGo: 9}, l)
		return state, reasons[0].Text
	}
	for _, c := range []struct {
		limit float64
		words string
		above State
		below State
	}{{l.TooOld, "about at its best", Ready, Ready}, {l.Entry, "about at the entry", Ready, Soon}} {
		for _, mass := range []float64{c.limit + 1, c.limit + 150} {
			state, words := look(mass, 200)
			assert.Equal(t, c.above, state, mass)
			assert.Contains(t, words, c.words, mass)
		}
		for _, mass := range []float64{c.limit - 1, c.limit - 150} {
			state, words := look(mass, 200)
			assert.Equal(t, c.below, state, mass)
			if c.limit == l.Entry {
				assert.Contains(t, words, c.words, mass)
			}
		}
	}
	state, _ := look(3301, 200)
	assert.Equal(t, Mind, state, "sure by now")
	state, words := look(3101, 0)
	assert.Equal(t, Mind, state, "what is exact needs no words for doubt")
	assert.NotContains(t, words, "about")
	state, _ = look(1900, 900)
	assert.Equal(t, Resting, state, "little known is not about ready")
	state, _ = look(3500, 900)
	assert.Equal(t, Mind, state, "far past is past, however little is known")
}

func TestSchoolsAsShippedAreUsual(t *testing.T) {
	for _, s := range Schools() {
		raw, err := json.Marshal(s)
		require.NoError(t, err)
		unusual, err := quantity.CheckJSON(raw)
		require.NoError(t, err)
		assert.Empty(t, unusual, s.Name)
		assert.NoError(t, s.Check())
	}
}

// Height and mass are one relation: who leaves the height a sward is left at leaves the mass that the schools ask for, and
// who enters at its start height finds what they would enter at.
func TestHeightsAndMassesOfASwardAgree(t *testing.T) {
	leaf, err := FindSchool(LeafResidual)
	require.NoError(t, err)
	for _, id := range []string{"perennial_ryegrass", "ryegrass_white_clover"} {
		sward, err := reference.Load().Sward(id)
		require.NoError(t, err)
		at := func(cm float64) float64 {
			return forage.HeightMass(cm, sward.StopHeight, sward.Residual, sward.MassPerCm.Medium)
		}
		assert.InEpsilon(t, *leaf.Residual, at(4), 0.05, "%s: 4 cm left", id)
		assert.InEpsilon(t, *leaf.Entry, at(sward.StartHeight), 0.05, "%s: at its start height", id)
		assert.Less(t, at(2), at(4), "and less below")
		plate := sward.Plate.Intercept + sward.Plate.Slope*4
		assert.InEpsilon(t, plate, at(4), 0.15, "%s: the plate reads the same stubble", id)
	}
}
