package forage

import (
	"math"
	"math/rand/v2"
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
		"far more grows":                {[]float64{40, 75}, eats(50), Above, "a surplus is building", 100},
		"a little more grows":           {[]float64{40, 55}, eats(50), Even, "before you count on a surplus", 70},
		"just as much":                  {[]float64{40, 50}, eats(50), Even, "before you count on a surplus", 70},
		"far less at one walk":          {[]float64{100, 0}, eats(70), Watch, "watch the next one", 130},
		"less, but no walk can tell":    {[]float64{60, 45}, eats(50), Even, "by less than the walk can tell", 80},
		"far less at two in a row":      {[]float64{60, 10, 10}, eats(60), Act, "act now", 80},
		"a little less at two in a row": {[]float64{60, 48, 47}, eats(50), Even, "by less than the walk can tell", 80},
		"far less, but more in between": {[]float64{0, 100, 0}, eats(70), Watch, "watch the next one", 130},
		"nothing eats":                  {[]float64{40, 60}, nil, Above, "nothing to set growth against", 80},
		"only one walk":                 {nil, eats(50), Above, "after the second walk", 0},
		"what they eat ends the dial":   {[]float64{10}, eats(100), Watch, "watch the next one", 130},
	} {
		t.Run(name, func(t *testing.T) {
			var ground []Ground
			for range 12 {
				ground = append(ground, Ground{"a paddock", 2, grows(c.rates...)})
			}
			d := ReadDial(ground, weekly(len(c.rates)+1), c.breakEven)
			assert.Equal(t, c.state, d.State)
			assert.Contains(t, d.Sentence, c.says)
			assert.Equal(t, c.most, d.Most)
			require.Len(t, d.Walks, len(c.rates))
			for i, w := range d.Walks {
				assert.InDelta(t, c.rates[i], w.Rate, 1e-9)
				assert.Equal(t, monday.AddDate(0, 0, 7*(i+1)), w.At)
				assert.Equal(t, 12, w.N)
				assert.InDelta(t, 24, w.AreaHa, 1e-9)
			}
		})
	}
}

// One paddock turns no farm, and more paddocks make it surer, but never surer than a walk is.
func TestTheDoubtOfGrowth(t *testing.T) {
	half := func(paddocks int) float64 {
		var ground []Ground
		for range paddocks {
			ground = append(ground, Ground{"a paddock", 2, grows(40)})
		}
		return ReadDial(ground, weekly(2), eats(50)).Walks[0].Half
	}
	d := ReadDial([]Ground{{"a paddock", 2, grows(40)}}, weekly(2), eats(50))
	assert.InDelta(t, d.Walks[0].Rate, d.Growth.Value, 1e-9)
	assert.InDelta(t, d.Walks[0].Half, d.Growth.Steps[0].Value, 1e-9, "the ± shows its working too")
	one, many, most := half(1), half(20), half(2000)
	assert.Greater(t, one, 1.8*many)
	shared := 1.96 * walkError * math.Hypot(1500, 1780) / 7
	assert.InEpsilon(t, shared, most, 0.01, "what a whole walk reads wrong does not average out")
	assert.Greater(t, many, shared)
}

// Four hundred farms whose grass grows a third faster than they need it, and as many where it grows half as fast, walked
// every week by a walk that reads all of a farm too high or low, and each paddock with an error of its own.
func TestTheDialCriesWolfHardlyEverAndNeverSleeps(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 11))
	alarms := func(growth, breakEven float64) (farms int) {
		for range 400 {
			const paddocks, walks = 20, 12
			looks := make([][]Look, paddocks)
			for w := range walks + 1 {
				slip := 1 + walkError*rng.NormFloat64()
				for p := range looks {
					truth := 1600 + 60*float64(p%10) + 7*growth*float64(w)
					if w > 5 {
						truth -= 7 * growth * 5 // cut or grazed in the middle of it, the looks before it left behind
					}
					looks[p] = append(looks[p], Look{At: monday.AddDate(0, 0, 7*w), Mass: truth * slip * (1 + lookError*rng.NormFloat64()), Walk: true})
				}
			}
			acted := false
			for w := 2; w <= walks; w++ {
				var ground []Ground
				for p := range looks {
					var bites []Bite
					if w > 5 {
						bites = []Bite{{From: monday.AddDate(0, 0, 7*5), Until: monday.AddDate(0, 0, 7*6), Removed: 7 * growth * 5}}
					}
					ground = append(ground, Ground{"a paddock", 2, Pieces(looks[p][:w+1], bites)})
				}
				acted = acted || ReadDial(ground, weekly(w + 1)[w-2:], eats(breakEven)).State == Act
			}
			if acted {
				farms++
			}
		}
		return farms
	}
	assert.Less(t, alarms(54, 40), 4, "false alarms on fewer than one farm in a hundred")
	assert.Greater(t, alarms(20, 40), 360, "and nine farms in ten that run down hear of it")
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
