package rotation

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/weather"
)

// The working of a grade comes to what the grade says, step by step.
func TestAGradeIsWorkedOut(t *testing.T) {
	f := farmOf(12, 2)
	mobs, standing := []Mob{mobOn(f, "cows", 900, 11, everywhere)}, wedge(f)
	to := start.AddDate(0, 0, 28).Truncate(24 * time.Hour)
	grade := func(f Farm) Grade {
		made := Schedule(f, mobs, standing, nil, start, to)
		g, err := GradeOf(t.Context(), f, mobs, standing, nil, made.Visits, start, to)
		require.NoError(t, err)
		return g
	}
	g := grade(f)
	spared, most, short := g.SparedFigure(), g.MostFigure(), g.ShortFigure()
	assert.InDelta(t, g.Present.Cost.Total-g.Found.Cost.Total, spared.Value, 1e-9)
	assert.InDelta(t, g.Present.Cost.Total-g.Found.Bound, most.Value, 1e-9)
	assert.Equal(t, g.Present.Risk.ShortChance, short.Value)
	assert.Contains(t, short.Source, "assumed")
	for _, step := range spared.Steps[:2] {
		sum, sign := 0.0, 1.0
		for _, part := range strings.Fields(step.Formula) {
			switch part {
			case "+":
				sign = 1
			case "−":
				sign = -1
			default:
				for _, term := range step.Terms {
					if term.Symbol == part {
						sum += sign * term.Value
					}
				}
			}
		}
		assert.InDelta(t, step.Value, sum, 1, "parts below half a kg are left out")
	}

	// The farm's own weather is what futures are drawn from; the wilder, the likelier to run short.
	f.Strays = &weather.Chain{Spread: 0.7, Days: 30}
	wild := grade(f)
	assert.NotContains(t, wild.ShortFigure().Source, "assumed")
	assert.Equal(t, 0.7, wild.ShortFigure().Steps[0].Value)
	assert.Greater(t, wild.Present.Risk.ShortChance, g.Present.Risk.ShortChance)
	assert.InDelta(t, 150/1.96, g.Problem.Strays.Mass*meanMass(standing), 10, "what the method errs by everywhere")
	standing[4].Factor, standing[4].FactorHalf = 1.25, 0.49
	known := ProblemOf(f, mobs, standing, nil, start, to)
	assert.InDelta(t, 0.25/1.25, *known.Paddocks[4].GrowthSpread, 1e-9, "as well as its growth is known")
	assert.Nil(t, known.Paddocks[5].GrowthSpread, "nothing is learned of it")
	assert.InDelta(t, 200/1.96/standing[3].Mass, g.Problem.Paddocks[3].MassSpread, 1e-9, "what is left of ± 250 beside ± 150")
}

func meanMass(standing []Standing) (mean float64) {
	for _, s := range standing {
		mean += s.Mass / float64(len(standing))
	}
	return mean
}

// A careful farm takes moves that cost less in a poor season, and is told the same risk of what is foreseen.
func TestACarefulFarmWeighsAPoorSeason(t *testing.T) {
	f := farmOf(12, 2)
	mobs, standing := []Mob{mobOn(f, "cows", 560, 11, everywhere)}, wedge(f)
	to := start.AddDate(0, 0, 28).Truncate(24 * time.Hour)
	made := Schedule(f, mobs, standing, nil, start, to)
	foreseen, err := PresentOf(f, mobs, standing, nil, made.Visits, start, to)
	require.NoError(t, err)
	f.Careful = true
	poor, err := PresentOf(f, mobs, standing, nil, made.Visits, start, to)
	require.NoError(t, err)
	for p := range poor.Problem.Paddocks {
		assert.Less(t, poor.Problem.Paddocks[p].Mass, foreseen.Problem.Paddocks[p].Mass*1.02)
		assert.Less(t, poor.Problem.Paddocks[p].Peak[9], foreseen.Problem.Paddocks[p].Peak[9])
	}
	assert.Greater(t, poor.Present.Cost.Total, foreseen.Present.Cost.Total, "a poor season is dearer")
	found, err := Find(t.Context(), f, mobs, standing, nil, made.Visits, start, to, 1)
	require.NoError(t, err)
	told := Following(f, mobs, standing, nil, found.Moves, start, to)
	after, err := PresentOf(f, mobs, standing, nil, told.Visits, start, to)
	require.NoError(t, err)
	assert.LessOrEqual(t, after.Present.Cost.Total, poor.Present.Cost.Total+1e-6, "no dearer in the season it is weighed by")
	assert.InDelta(t, poor.Present.Cost.Total-after.Present.Cost.Total, found.Spared, 1e-6)
}
