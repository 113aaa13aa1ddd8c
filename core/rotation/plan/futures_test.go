package plan

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestFuturesStrayToBothSidesOfWhatIsForeseen(t *testing.T) {
	s, err := tables(anyProblem(3, 6, 1, 30, 8))
	require.NoError(t, err)
	sum, squares, n := 0.0, 0.0, 0.0
	for i := range 2000 {
		_, factors := s.future(i)
		f := factors[len(factors)/2]
		sum, squares, n = sum+f, squares+f*f, n+1
	}
	mean := sum / n
	assert.InDelta(t, 1, mean, 0.03, "growth is foreseen in the mean")
	want := math.Sqrt(math.Exp(weatherSpread*weatherSpread+ownSpread*ownSpread) - 1)
	assert.InDelta(t, want, math.Sqrt(squares/n-mean*mean), 0.03)
	one, first := s.future(7)
	two, again := s.future(7)
	assert.Equal(t, first, again, "drawn by the seed alone")
	assert.Equal(t, one.decay, two.decay)
}

func TestACarefulSeasonGrowsLess(t *testing.T) {
	s, err := tables(anyProblem(3, 6, 1, 30, 8))
	require.NoError(t, err)
	c := s.careful(200)
	total := func(x *season) (sum, most float64) {
		for p := range x.paddocks {
			sum += x.grown[p*(x.pieces+1)+x.pieces]
			most += x.growable[p*(x.pieces+1)]
		}
		return sum, most
	}
	foreseen, most := total(s)
	careful, least := total(c)
	assert.Less(t, careful, 0.9*foreseen)
	assert.InDelta(t, careful/foreseen, least/most, 0.05, "the most that it can grow shrinks alike")
}

func TestRiskSaysWhoIsShortAndWhen(t *testing.T) {
	risk := func(demand float64) *Risk {
		p := situation(10, alike(4, 2600, 30), 8)
		cows(p, demand, false)
		p.Futures = 50
		return wellPlanned(t, p).Risk
	}
	full := risk(150)
	assert.Zero(t, full.ShortChance, "there is plenty whatever grows")
	assert.Nil(t, full.FirstShort)
	assert.Nil(t, full.Worst)
	hungry := risk(1500)
	assert.Equal(t, 1.0, hungry.ShortChance, "there is not nearly enough whatever grows")
	require.NotNil(t, hungry.FirstShort)
	assert.GreaterOrEqual(t, *hungry.FirstShort, 1, "the first paddock feeds them for a day")
	assert.Equal(t, "m1", hungry.Worst.Mob)
	assert.Zero(t, hungry.ByDay[0])
	assert.Greater(t, hungry.ByDay[9], 0.5)
}

func TestTheOpeningGoesToTheNearAndTheRested(t *testing.T) {
	first := func(change func(p *Problem)) string {
		p := situation(3, alike(3, 2800, 30), 8)
		p.Paddocks[0].Mass = 1500
		p.Paddocks[0].Peak = Series{1}
		cows(p, 400, false)
		change(p)
		s, err := tables(p)
		require.NoError(t, err)
		st, err := ripest(s)
		require.NoError(t, err)
		require.NotEqual(t, int16(Off), st.loc[0])
		return p.Paddocks[st.loc[0]].Key
	}
	assert.Equal(t, "p3", first(func(p *Problem) { p.Paddocks[1].X, p.Paddocks[2].X = 2000, 200 }))
	assert.Equal(t, "p2", first(func(p *Problem) { p.Paddocks[1].X, p.Paddocks[2].X = 200, 2000 }))
	assert.Equal(t, "p3", first(func(p *Problem) { rest := 2.0; p.Paddocks[1].Rest, p.Paddocks[1].Mass = &rest, 3000 }), "rest binds, however ripe")
}
