package forage

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/quantity"
	"fjell/core/working"
)

var monday = time.Date(2026, 5, 4, 8, 0, 0, 0, time.UTC)

// grows are the pieces of a paddock that grew at these rates from week to week.
func grows(rates ...float64) []Piece {
	var out []Piece
	mass := 1500.0
	for w, r := range rates {
		from := Look{At: monday.AddDate(0, 0, 7*w), Mass: mass, Walk: true}
		mass += 7 * r
		out = append(out, Piece{From: from, Until: Look{At: monday.AddDate(0, 0, 7*(w+1)), Mass: mass, Walk: true}, Rate: r})
	}
	return out
}

func weekly(n int) []time.Time {
	var out []time.Time
	for w := range n {
		out = append(out, monday.AddDate(0, 0, 7*w))
	}
	return out
}

func eats(rate float64) *working.Figure {
	f := working.Of("test", working.New("Growth to break even", "D ÷ A", rate, quantity.Growth))
	return &f
}

func TestTheDialSetsGrowthAgainstWhatStockEat(t *testing.T) {
	for name, c := range map[string]struct {
		rates     []float64
		breakEven *working.Figure
		state     State
		says      string
		most      float64
	}{
		"more grows":                  {[]float64{40, 60}, eats(50), Above, "a surplus is building", 80},
		"just as much":                {[]float64{40, 50}, eats(50), Above, "a surplus is building", 70},
		"less at one walk":            {[]float64{60, 40}, eats(50), Watch, "watch the next one", 80},
		"less at two in a row":        {[]float64{60, 45, 40}, eats(50), Act, "act now", 80},
		"less, but more in between":   {[]float64{40, 60, 40}, eats(50), Watch, "watch the next one", 80},
		"nothing eats":                {[]float64{40, 60}, nil, Above, "nothing to set growth against", 80},
		"only one walk":               {nil, eats(50), Above, "after the second walk", 0},
		"what they eat ends the dial": {[]float64{10}, eats(100), Watch, "watch the next one", 130},
	} {
		t.Run(name, func(t *testing.T) {
			d := ReadDial([]Ground{{"north", 2, grows(c.rates...)}}, weekly(len(c.rates)+1), c.breakEven)
			assert.Equal(t, c.state, d.State)
			assert.Contains(t, d.Sentence, c.says)
			assert.Equal(t, c.most, d.Most)
			require.Len(t, d.Walks, len(c.rates))
			for i, w := range d.Walks {
				assert.InDelta(t, c.rates[i], w.Rate, 1e-9)
				assert.Equal(t, monday.AddDate(0, 0, 7*(i+1)), w.At)
				assert.Equal(t, 1, w.N)
			}
		})
	}
}

func TestGrowthIsWeighedByArea(t *testing.T) {
	ground := []Ground{{"large", 3, grows(60, 20)}, {"small", 1, grows(20)}, {"never walked", 9, nil}}
	d := ReadDial(ground, weekly(3), eats(30))
	require.Len(t, d.Walks, 2)
	assert.InDelta(t, 50, d.Walks[0].Rate, 1e-9, "3 ha at 60 and 1 ha at 20")
	assert.Equal(t, 2, d.Walks[0].N)
	assert.InDelta(t, 20, d.Walks[1].Rate, 1e-9, "only the large one was measured again")
	assert.Equal(t, 1, d.Walks[1].N)
	assert.Equal(t, d.Walks[1].Rate, d.Growth.Value)
}

func TestGrowthOnSwards(t *testing.T) {
	list := []SwardLook{
		{"rye", 3, grows(60, 40), 50, 0.8}, {"rye", 1, grows(60, 80), 50, 1.2}, {"clover", 2, grows(10, 30), 20, 1}, {"fescue", 2, nil, 20, 1},
	}
	got := OnSwards(list, weekly(3))
	require.Len(t, got, 2, "what was not measured at both walks is not told")
	assert.Equal(t, "clover", got[0].Sward)
	assert.InDelta(t, 50, got[1].Rate, 1e-9, "the last walk alone, by area")
	assert.InDelta(t, 50, got[1].Expected, 1e-9)
	assert.InDelta(t, 0.9, got[1].Factor, 1e-9)
	assert.Equal(t, 2, got[1].N)
	assert.Empty(t, OnSwards(list, weekly(1)))
}

func TestAWalkIsDoubtedForAWhileOnly(t *testing.T) {
	ordinary := func(Piece) (float64, float64) { return -20, 80 }
	wrong := grows(40, 190, -90, 40) // one walk far too high
	at := wrong[1].Until.At
	look, high, found := Doubt(wrong, at.AddDate(0, 0, 14), ordinary)
	require.True(t, found)
	assert.True(t, high)
	assert.Equal(t, at, look.At)
	_, _, found = Doubt(wrong, at.AddDate(0, 0, DoubtDays+1), ordinary)
	assert.False(t, found, "it is asked about for three weeks")
	_, _, found = Doubt(grows(40, 70, 20, 40), at, ordinary)
	assert.False(t, found, "nothing odd about it")
	grazed := grows(40, 190, -90, 40)
	grazed[1].Grazed, grazed[2].Grazed = true, true
	_, _, found = Doubt(grazed, at, ordinary)
	assert.False(t, found, "what stock took is too uncertain to blame a walk for")
	back := grows(40, 190, -90, 40)
	back[1].Until.Walk, back[2].From.Walk = false, false
	_, _, found = Doubt(back, at, ordinary)
	assert.False(t, found, "a look back is no walk")
}
