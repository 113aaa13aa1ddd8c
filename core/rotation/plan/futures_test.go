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
	want := math.Sqrt(math.Exp(UsualStrays.Weather*UsualStrays.Weather+usualOwn*usualOwn) - 1)
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

// What is said of a farm is what its futures do: how they spread, in time too, and what stands at the start.
func TestFuturesStrayAsIsSaid(t *testing.T) {
	p := anyProblem(3, 6, 1, 60, 8)
	quiet := 0.01
	p.Strays = &Strays{Weather: 0.4, Days: 5, Mass: 0.1}
	for i := range p.Paddocks {
		p.Paddocks[i].GrowthSpread, p.Paddocks[i].MassSpread = &quiet, 0.2
	}
	p.Paddocks[1].MassSpread = 0
	s, err := tables(p)
	require.NoError(t, err)
	var early, late, first, second []float64
	for i := range 3000 {
		f, factors := s.future(i)
		early = append(early, math.Log(factors[10]))
		late = append(late, math.Log(factors[10+2*5])) // two pieces a day: five days later
		first, second = append(first, math.Log(f.mass[0]/s.mass[0])), append(second, math.Log(f.mass[1]/s.mass[1]))
	}
	assert.InEpsilon(t, 0.4, deviation(early), 0.06)
	assert.InEpsilon(t, 1/math.E, correlation(early, late), 0.15)
	assert.InEpsilon(t, math.Hypot(0.1, 0.2), deviation(first), 0.06, "the method's own and this paddock's")
	assert.InEpsilon(t, 0.1, deviation(second), 0.06, "the method's alone")
	assert.InEpsilon(t, 0.1*0.1/(0.1*math.Hypot(0.1, 0.2)), correlation(first, second), 0.15, "the method errs everywhere alike")

	// A plan that is just enough by what is foreseen runs short more often the less is known.
	chance := func(mass float64) float64 {
		q := situation(14, alike(4, 2600, 30), 8)
		cows(q, 330, false)
		q.Futures, q.Strays = 200, &Strays{Weather: 0.05, Days: 5, Mass: mass}
		return wellPlanned(t, q).Risk.ShortChance
	}
	assert.Greater(t, chance(0.5), chance(0)+0.1)
}

func deviation(x []float64) float64 { return math.Sqrt(covariance(x, x)) }

func correlation(x, y []float64) float64 { return covariance(x, y) / deviation(x) / deviation(y) }

func covariance(x, y []float64) float64 {
	mean := func(v []float64) (m float64) {
		for _, a := range v {
			m += a / float64(len(v))
		}
		return m
	}
	mx, my, sum := mean(x), mean(y), 0.0
	for i := range x {
		sum += (x[i] - mx) * (y[i] - my) / float64(len(x))
	}
	return sum
}
