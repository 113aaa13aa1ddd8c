package rotation

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"fjell/core/forage"
	"fjell/core/grazing"
)

// inWinter is a farm of one paddock where nothing grows from October to April, and a twentieth of what stands goes each week.
func inWinter() Farm {
	f := farmOf(1, 1)
	f.Paddocks[0].Curve = forage.Curve{0, 0, 0, 0, 2, 3, 3, 2, 1, 0, 0, 0}
	f.Paddocks[0].Loss = 0.05 / 7
	return f
}

// A stockpile stood all winter as it was left in autumn.
func TestWhatIsNotGrazedDiesBack(t *testing.T) {
	f := inWinter()
	november := time.Date(2026, 11, 1, 8, 0, 0, 0, f.Location)
	standing := []Standing{{Mass: 3000, HalfWidth: 200, MeasuredAt: november}}
	plan := Schedule(f, nil, standing, nil, november, november.AddDate(0, 0, 84))
	last := plan.Trace[0][len(plan.Trace[0])-1].Mass
	assert.InDelta(t, 3000*math.Pow(1-0.05/7, 84), last, 25)
	assert.InDelta(t, (3000-last)*f.Paddocks[0].AreaHa, plan.Totals[0].Lost, 1e-6, "it is told of as lost")
	past := Recount(f, nil, []Standing{Guess(grazing.Limits{Entry: 2600, Residual: 1500}, 5000)}, nil, []Measured{{Paddock: 0, At: november, Mass: 3000, HalfWidth: 200, Shared: 100}},
		november, november.AddDate(0, 0, 84))
	assert.InDelta(t, last, past.Mass[0], 1, "what was is reckoned as what is to come")
	assert.InDelta(t, plan.Totals[0].Lost, past.Totals[0].Lost, 2)
	assert.Greater(t, past.Standing[0].HalfWidth/past.Mass[0], 200.0/3000, "how much died is less sure")
}

func TestNothingDiesWhileItGrows(t *testing.T) {
	f := inWinter()
	june := time.Date(2026, 6, 10, 8, 0, 0, 0, f.Location)
	alive := f
	alive.Paddocks = append([]Paddock(nil), f.Paddocks...)
	alive.Paddocks[0].Loss = 0
	standing := []Standing{{Mass: 1800, HalfWidth: 200, MeasuredAt: june}}
	a := Schedule(f, nil, standing, nil, june, june.AddDate(0, 0, 60))
	b := Schedule(alive, nil, standing, nil, june, june.AddDate(0, 0, 60))
	assert.Equal(t, b.Trace, a.Trace)
	assert.Zero(t, forage.Dying(0.01, 0.15))
	assert.Equal(t, 0.01, forage.Dying(0.01, 0))
	assert.InDelta(t, 0.005, forage.Dying(0.01, 0.075), 1e-12)
}

// Days to a mass counted as if nothing died on the way: October's leaf was promised for entry in April.
func TestDaysToCountsWhatDiesOnTheWay(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := inWinter()
		f.Paddocks[0].Loss = rapid.Float64Range(0, 0.02).Draw(t, "loss")
		from := time.Date(2026, time.Month(rapid.IntRange(1, 12).Draw(t, "month")), 12, 0, 0, 0, 0, f.Location)
		mass, target := rapid.Float64Range(800, 2500).Draw(t, "mass"), rapid.Float64Range(1000, 4000).Draw(t, "target")
		got := f.DaysTo(0, Standing{Mass: mass}, target, from)
		a, pad, stands, days := newAlmanac(f, nil, from, from.AddDate(0, 0, horizonDays)), f.Paddocks[0], mass, 0.0
		for ; stands < target && days < horizonDays; days++ {
			at := from.AddDate(0, 0, int(days))
			share := a.share[0][a.day(at)]
			stands, _ = forage.GrowAndDie(stands, pad.Peak*share, pad.Ceiling, forage.Dying(pad.Loss, share), 1)
		}
		if stands < target {
			assert.True(t, math.IsInf(got, 1) || got > horizonDays-2, "never, and %g days", got)
		} else {
			assert.InDelta(t, days, got, 1.05, "from %g to %g", mass, target)
		}
	})
}
