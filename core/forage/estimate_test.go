package forage

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// A season of truth that is not the filter's: its own growth factor, noise of its own each day, a mob that eats more or
// less than the book says, and a plate with 12 % of error.
func seasonOfTruth(rng *rand.Rand) (filtered, lastReading float64) {
	const ceiling, noise = 5000.0, 0.12
	peak := func(day int) float64 { return 55 * (0.6 + 0.4*math.Sin(float64(day)/56*math.Pi)) }
	factor := math.Max(0.3, 1+0.2*rng.NormFloat64())
	truth := 1500 * math.Exp(0.25*rng.NormFloat64())
	read := func() float64 { return truth * math.Exp(noise*rng.NormFloat64()) }
	var e Estimate
	z := 0.0
	grazedFrom := 8 + rng.IntN(30)
	appetite := 1 + 0.08*rng.NormFloat64()
	for day := 0; day <= 49; day++ {
		if day%7 == 0 {
			z = read()
			if day == 0 {
				e = Believe(z, noise)
			} else {
				e.Measure(z, noise)
			}
		}
		if day == 49 {
			break
		}
		truth = Grow(truth, peak(day)*factor, ceiling, 1) * math.Exp(0.05/math.Sqrt(7)*rng.NormFloat64())
		e.Grow(peak(day), ceiling, 0, 1)
		if day == grazedFrom {
			e.Enter()
		}
		if day >= grazedFrom && day < grazedFrom+3 {
			book := math.Min(300, e.Mass()*0.3)
			truth = math.Max(300, truth-book*appetite)
			e.Remove(book)
		}
	}
	return math.Abs(e.Mass() - truth), math.Abs(z - truth)
}

func TestTheEstimateBeatsTheLastReading(t *testing.T) {
	var filtered, last float64
	for seed := range uint64(200) {
		f, l := seasonOfTruth(rand.New(rand.NewPCG(seed, 4)))
		filtered += f
		last += l
	}
	better := 1 - filtered/last
	t.Logf("mean absolute error at the eighth walk: %.0f kg/ha filtered, %.0f by the last reading: %.0f %% lower", filtered/200, last/200, better*100)
	assert.GreaterOrEqual(t, better, 0.30)
}

func TestTheFactorIsLearned(t *testing.T) {
	learned := func(walks int) float64 {
		sum := 0.0
		for seed := range uint64(50) {
			rng := rand.New(rand.NewPCG(seed, 9))
			truth := 1400.0
			e := Believe(truth, 0.12)
			for day := 1; day <= 7*walks; day++ {
				truth = Grow(truth, 40*1.3, 5000, 1)
				e.Grow(40, 5000, 0, 1)
				if truth > 3200 {
					e.Enter()
					e.Remove(truth - 1400)
					truth = 1400
				}
				if day%7 == 0 {
					e.Measure(truth*math.Exp(0.08*rng.NormFloat64()), 0.08)
				}
			}
			sum += e.Factor
		}
		return sum / 50
	}
	eight, season := learned(8), learned(24)
	assert.Greater(t, eight, 1.1, "a third of the way in eight walks")
	assert.InDelta(t, 1.3, season, 0.1, "most of it in a season")
}

func TestEstimateStaysBetweenItsBounds(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		ceiling := rapid.Float64Range(2000, 8000).Draw(t, "ceiling")
		e := Believe(rapid.Float64Range(300, ceiling*1.3).Draw(t, "mass"), rapid.Float64Range(0.03, 0.4).Draw(t, "share"))
		for range rapid.IntRange(1, 60).Draw(t, "steps") {
			before, spread := e.Mass(), e.Spread()
			switch rapid.IntRange(0, 2).Draw(t, "what") {
			case 0:
				e.Grow(rapid.Float64Range(0, 120).Draw(t, "peak"), ceiling, 0, rapid.Float64Range(0, 7).Draw(t, "days"))
				assert.GreaterOrEqual(t, e.Mass(), math.Min(before, ceiling)*(1-1e-9))
				assert.LessOrEqual(t, e.Mass(), math.Max(before, ceiling)*(1+1e-9))
			case 1:
				e.Remove(before * rapid.Float64Range(0, 0.5).Draw(t, "removed"))
				assert.Less(t, e.Mass(), before*(1+1e-9))
				assert.GreaterOrEqual(t, e.Spread(), spread*(1-1e-9), "eating makes nobody surer")
			default:
				z, share := rapid.Float64Range(200, 9000).Draw(t, "measured"), rapid.Float64Range(0.03, 0.4).Draw(t, "error")
				e.Measure(z, share)
				assert.GreaterOrEqual(t, e.Mass(), math.Min(before, z)*(1-1e-9), "between what was believed and what was read")
				assert.LessOrEqual(t, e.Mass(), math.Max(before, z)*(1+1e-9))
				assert.LessOrEqual(t, e.Spread(), share*(1+1e-9), "never less sure than the measurement alone")
			}
			assert.False(t, math.IsNaN(e.mass+e.varMass+e.covariance+e.varFactor+e.Factor))
			assert.LessOrEqual(t, e.covariance*e.covariance, e.varMass*e.varFactor*(1+1e-6), "the covariance is one")
			assert.GreaterOrEqual(t, e.Factor, leastFactor)
			assert.LessOrEqual(t, e.Factor, mostFactor)
		}
	})
}

func TestFarOffMeasurementIsFollowedAndAskedAbout(t *testing.T) {
	e := Believe(2400, 0.07)
	e.Grow(50, 5000, 0, 7)
	believed := e.Mass()
	factor := e.Factor
	surprise := e.Measure(1300, 0.08)
	assert.Less(t, surprise, -Far)
	assert.Less(t, e.Mass(), 1400.0, "somebody stood there and read 1 300, not %.0f", believed)
	assert.Equal(t, factor, e.Factor, "and growth is not blamed for it")
	assert.Greater(t, e.HalfWidth(0.085), e.HalfWidth(0), "what the equation gets wrong stays")
}

// A plate that reads whole centimetres gives the same figure often: the others are no slips for that.
func TestACoarsePlateHasNoOutliersOfItsOwn(t *testing.T) {
	for name, c := range map[string]struct {
		readings []float64
		far      []int
	}{
		"eights and nines": {[]float64{8, 9, 8, 9, 8, 9, 8}, []int{}},
		"all the same":     {[]float64{8, 8, 8, 8}, []int{}},
		"one slip of ten":  {[]float64{8, 8, 8, 8, 8, 8, 80}, []int{6}},
	} {
		out, _, err := Sample(SampleIn{Readings: c.readings})
		assert.NoError(t, err)
		assert.Equal(t, c.far, out.OutlierIndex, name)
	}
}
