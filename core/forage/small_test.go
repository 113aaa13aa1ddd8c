package forage

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Two readings that lie close were weighed by Student's t of one degree of freedom, twelve: the walk counted for nothing.
func TestTheFilterTakesTheErrorOfTheMean(t *testing.T) {
	s, _, err := Sample(SampleIn{[]float64{2300, 2500}})
	require.NoError(t, err)
	assert.InDelta(t, 100, SamplingError(s.Mean, s, 0.2), 1e-9)
	assert.InDelta(t, 12.7*100, HalfWidth(s.Mean, s, 0, 0.2), 2, "what is shown is honest about how little two readings tell")
	one, _, err := Sample(SampleIn{[]float64{2400}})
	require.NoError(t, err)
	assert.InDelta(t, 0.2*2400, SamplingError(one.Mean, one, 0.2), 1e-9, "one reading spreads as readings do")
}

func TestAnEyeThatIsTrainedErrsByItsOwn(t *testing.T) {
	assert.Nil(t, Sight{Level: NewEye, Spread: 0.05}.Error())
	trained := Sight{Level: TrainedEye, Bias: -0.03, Spread: 0.1}
	assert.InDelta(t, 0.1044, *trained.Error(), 1e-4)
	fair := Sight{Level: FairEye, Bias: 0.15, Spread: 0.25}
	assert.Greater(t, *fair.Error(), *trained.Error())
	assert.Equal(t, leastEyeError, *Sight{Level: TrainedEye, Spread: 0.01}.Error(), "what it was held against errs too")
}

// The step from one plate's line to another's was read as a week of growth.
func TestAChangeOfMeterIsABreak(t *testing.T) {
	at := time.Date(2026, 5, 4, 8, 0, 0, 0, time.UTC)
	looks := []Look{{At: at, Mass: 1500, By: "plate"}, {At: at.AddDate(0, 0, 7), Mass: 2300, By: "plate line 2"}, {At: at.AddDate(0, 0, 14), Mass: 2500, By: "plate line 2"}}
	pieces := Pieces(looks, nil)
	require.Len(t, pieces, 1)
	assert.InDelta(t, 200.0/7, pieces[0].Rate, 1e-9)
	assert.False(t, Broken("", "plate"), "what does not say breaks nothing")

	e := Believe(1500, 0.08)
	e.Grow(50, 5000, 0, 7)
	learned, broken := e, e
	learned.Measure(2300, 0.08)
	broken.Break(0.1)
	broken.Measure(2300, 0.08)
	assert.Greater(t, learned.Factor, 1.02)
	assert.Equal(t, 1.0, broken.Factor, "nothing is learned of growth from it")
	assert.Greater(t, broken.Mass(), learned.Mass(), "and the new meter is followed further")
}
