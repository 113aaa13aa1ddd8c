package year_test

import (
	"fmt"
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fjell/core/chance"
	"fjell/core/year"
)

// months are so many from April 2026 on.
func months(n int) (out []year.Month) {
	for m := range n {
		out = append(out, year.Month{From: time.Date(2026, 4+time.Month(m), 1, 0, 0, 0, 0, time.UTC), Until: time.Date(2026, 5+time.Month(m), 1, 0, 0, 0, 0, time.UTC)})
	}
	return out
}

// spring is how a year's growth lies over the months from April on.
var spring = [12]float64{0.1, 0.22, 0.24, 0.16, 0.13, 0.09, 0.04, 0.01, 0, 0, 0, 0.01}

// farm is one group on two pieces, one of them closed for hay in May and June; stock are in from November to April.
func farm(n int) year.Case {
	c := year.Case{Months: months(n), Store: 5000, CutLoss: 0.15, FeedLoss: 0.1, Strays: year.Strays{Month: 0.25, Keep: 0.4, Year: 0.16}}
	for p := range 2 {
		pc := year.Piece{Field: fmt.Sprint("F", p), Sward: "ley", AreaHa: 10, Grown: make([]float64, n), Closed: make([]float64, n), Cut: make([]bool, n), Opens: make([]bool, n), Harvest: 0.7, Stands: 3000, Best: 0.24 * 80000, Keeps: 20000, Loss: 0.12}
		for m := range n {
			grows := spring[m%12] * 80000
			if p == 1 && (m%12 == 1 || m%12 == 2) {
				pc.Closed[m] = grows
				pc.Cut[m] = m%12 == 2
				continue
			}
			pc.Grown[m] = grows
		}
		c.Pieces = append(c.Pieces, pc)
	}
	g := year.Group{Name: "Cows", Pieces: []int{0, 1}, Pasture: make([]float64, n), Indoors: make([]float64, n), Head: make([]float64, n)}
	for m := range n {
		if g.Head[m] = 40; m%12 >= 7 {
			g.Indoors[m] = 40 * 10 * 30
		} else {
			g.Pasture[m] = 40 * 12 * 30
		}
	}
	c.Groups = []year.Group{g}
	return c
}

// random is a small farm of any shape.
func random(seed uint64) year.Case {
	d := chance.Draws(seed)
	n := 3 + d.Below(34)
	c := year.Case{Months: months(n), Store: 20000 * d.Share(), CutLoss: 0.3 * d.Share(), FeedLoss: 0.3 * d.Share(), Strays: year.Strays{Month: 0.3, Keep: 0.3, Year: 0.1}}
	groups := 1 + d.Below(3)
	for range groups {
		c.Groups = append(c.Groups, year.Group{Pasture: make([]float64, n), Indoors: make([]float64, n), Head: make([]float64, n)})
	}
	for p := range groups + d.Below(5) {
		pc := year.Piece{Grown: make([]float64, n), Closed: make([]float64, n), Cut: make([]bool, n), Opens: make([]bool, n), Harvest: d.Share(), Stands: 4000 * d.Share(), Waits: 2000 * d.Share(), Best: 12000 * d.Share(), Keeps: 15000 * d.Share(), Loss: 0.4 * d.Share()}
		for m := range n {
			if grows := 9000 * d.Share(); d.Below(4) == 0 {
				pc.Closed[m] = grows
			} else {
				pc.Grown[m] = grows
			}
			pc.Cut[m], pc.Opens[m] = d.Below(5) == 0, d.Below(5) == 0
		}
		g := &c.Groups[p%groups]
		g.Pieces = append(g.Pieces, p)
		c.Pieces = append(c.Pieces, pc)
	}
	for g := range c.Groups {
		for m := range n {
			c.Groups[g].Pasture[m], c.Groups[g].Indoors[m], c.Groups[g].Head[m] = 9000*d.Share(), 4000*d.Share()*float64(d.Below(2)), 20
		}
	}
	return c
}

// plain reckons a year anew, piece by piece and heap by heap, without the package's own steps.
func plain(c year.Case, growth []float64) (eaten, fed, missing, lost, left, stands, store []float64) {
	heap, hay, barn := map[int]float64{}, map[int]float64{}, c.Store
	for p, pc := range c.Pieces {
		heap[p], hay[p] = pc.Stands, pc.Waits
	}
	for m := range c.Months {
		var ate, gone, leftover, lacking float64
		lacks := make([]float64, len(c.Groups))
		for p, pc := range c.Pieces {
			grown := pc.Grown[m] * growth[m]
			heap[p] += grown * pc.Harvest
			leftover += grown * (1 - pc.Harvest)
			hay[p] += pc.Closed[m] * growth[m]
			if pc.Cut[m] {
				barn += hay[p] - hay[p]*c.CutLoss
				gone += hay[p] * c.CutLoss
				hay[p] = 0
			} else if pc.Opens[m] {
				heap[p] += hay[p] * pc.Harvest
				leftover += hay[p] - hay[p]*pc.Harvest
				hay[p] = 0
			}
		}
		for g, group := range c.Groups {
			all := 0.0
			for _, p := range group.Pieces {
				all += heap[p]
			}
			share := 0.0
			if all > 0 {
				share = math.Min(1, group.Pasture[m]/all)
			}
			for _, p := range group.Pieces {
				ate += heap[p] * share
				heap[p] *= 1 - share
			}
			lacks[g] = group.Pasture[m] - all*share + group.Indoors[m]
			lacking += lacks[g]
		}
		swallowed := math.Min(lacking, barn-barn*c.FeedLoss)
		barn -= swallowed / (1 - c.FeedLoss)
		gone += swallowed/(1-c.FeedLoss) - swallowed
		standing := 0.0
		for p, pc := range c.Pieces {
			most := pc.Best
			before := heap[p]
			if heap[p] > pc.Keeps {
				heap[p] = pc.Keeps
			}
			if most > 0 {
				heap[p] -= heap[p] * pc.Loss * math.Max(0, 1-(pc.Grown[m]+pc.Closed[m])*growth[m]/most)
			} else {
				heap[p] -= heap[p] * pc.Loss
			}
			gone += before - heap[p]
			standing += heap[p]
		}
		eaten, fed, missing = append(eaten, ate), append(fed, swallowed), append(missing, lacking-swallowed)
		lost, left, stands, store = append(lost, gone), append(left, leftover), append(stands, standing), append(store, barn)
	}
	return eaten, fed, missing, lost, left, stands, store
}

func TestThirtyYearsAgainstAPlainReckoning(t *testing.T) {
	for seed := range uint64(30) {
		c := random(seed)
		growth := c.Strays.Draw(len(c.Months), seed)
		eaten, fed, missing, lost, left, stands, store := plain(c, growth)
		for m, e := range year.Balance(c, growth).Months {
			for what, pair := range map[string][2]float64{"eaten": {eaten[m], e.Eaten}, "fed": {fed[m], e.Fed}, "missing": {missing[m], e.Missing}, "lost": {lost[m], e.Lost}, "left": {left[m], e.Left},
				"stands": {stands[m], e.Stands}, "store": {store[m], e.Store}} {
				assert.InDelta(t, pair[0], pair[1], 1e-9*math.Max(1, pair[0]), "case %d, month %d: %s", seed, m, what)
			}
		}
	}
}

func TestNoTonneIsMadeOrLost(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := random(rapid.Uint64().Draw(t, "seed"))
		b := year.Balance(c, c.Strays.Draw(len(c.Months), 3))
		all := b.Sum(0, len(b.Months))
		began := c.Store
		for _, pc := range c.Pieces {
			began += pc.Stands + pc.Waits
		}
		assert.InDelta(t, began+all.Grown, all.Eaten+all.Fed+all.Left+all.Lost+all.Stands+all.Waits+all.Store, 1e-5)
		for _, e := range b.Months {
			assert.InDelta(t, e.Wanted(), e.Eaten+e.Fed+e.Missing, 1e-6, "who wants gets it, from somewhere, or not")
			short := 0.0
			for _, s := range e.Short {
				assert.GreaterOrEqual(t, s, -1e-9)
				short += s
			}
			assert.InDelta(t, e.Missing, short, 1e-6)
			assert.GreaterOrEqual(t, e.Store, 0.0)
			assert.GreaterOrEqual(t, e.Stands, 0.0)
		}
	})
}

func TestWhichWayEachFigurePulls(t *testing.T) {
	missing := func(change func(c *year.Case)) float64 {
		c := farm(24)
		change(&c)
		return year.Balance(c, nil).Sum(0, 24).Missing
	}
	usual := missing(func(*year.Case) {})
	require.Positive(t, usual)
	for name, change := range map[string]func(c *year.Case){
		"more in store":     func(c *year.Case) { c.Store += 3000 },
		"fed with care":     func(c *year.Case) { c.FeedLoss = 0 },
		"cut with care":     func(c *year.Case) { c.CutLoss = 0 },
		"stands at first":   func(c *year.Case) { c.Pieces[0].Stands += 9000 },
		"better harvested":  func(c *year.Case) { c.Pieces[0].Harvest = 0.85; c.Pieces[1].Harvest = 0.85 },
		"melts more slowly": func(c *year.Case) { c.Pieces[0].Loss, c.Pieces[1].Loss = 0.02, 0.02 },
		"fewer indoors": func(c *year.Case) {
			for m := range c.Groups[0].Indoors {
				c.Groups[0].Indoors[m] *= 0.9
			}
		},
	} {
		assert.Less(t, missing(change), usual, name)
	}
	poor := make([]float64, 24)
	for m := range poor {
		poor[m] = 0.8
	}
	assert.Greater(t, year.Balance(farm(24), poor).Sum(0, 24).Missing, usual)
}

func TestGapsAreNamedWithTheirDepth(t *testing.T) {
	c := farm(12)
	b := year.Balance(c, nil)
	gaps := c.Gaps(b)
	require.NotEmpty(t, gaps)
	kg := 0.0
	for i, g := range gaps {
		kg += g.Kg
		assert.True(t, g.Until.After(g.From))
		assert.Positive(t, g.Days)
		assert.LessOrEqual(t, g.Days, g.Until.Sub(g.From).Hours()/24+1e-9)
		assert.True(t, g.Head >= 1 && g.Head <= 40)
		assert.True(t, i == 0 || g.From.After(gaps[i-1].Until))
	}
	assert.InDelta(t, b.Sum(0, 12).Missing, kg, 0.02*kg+300)
	c.Store = 1e6
	assert.Empty(t, c.Gaps(year.Balance(c, nil)))

	// A whole month without any feed is a month of days and all of the head.
	c = farm(12)
	for m := range c.Groups[0].Pasture {
		c.Groups[0].Pasture[m], c.Groups[0].Indoors[m] = 0, 0
	}
	c.Groups[0].Indoors[0], c.Store = 9000, 0
	gaps = c.Gaps(year.Balance(c, nil))
	require.Len(t, gaps, 1)
	assert.InDelta(t, 30, gaps[0].Days, 1e-9)
	assert.InDelta(t, 40, gaps[0].Head, 0)
}

func TestWhatIsDeductedAddsUp(t *testing.T) {
	c := farm(12)
	e := year.Balance(c, nil).Sum(0, 12)
	figure := c.Deductions(e)
	at := map[string]float64{}
	for _, s := range figure.Steps {
		at[s.Label] = s.Value
	}
	assert.InDelta(t, e.Grown, at["Grows"], 1e-9)
	assert.InDelta(t, e.Eatable+e.Left, at["Of that, on ground open to stock"], 1e-9)
	assert.InDelta(t, at["Left, trodden or fouled"]+at["Can be eaten, grazing"], e.Eatable+e.Left, 1e-6)
	assert.InDelta(t, 0.85*0.46*80000, at["Carried home"], 1e-6)
}

// Looking further ahead does not change what is nearer.
func TestAMonthIsTheSameHoweverFarOneLooks(t *testing.T) {
	near, far := year.Balance(farm(12), nil), year.Balance(farm(36), nil)
	assert.Equal(t, near.Months, far.Months[:12])
}

func TestWhoIsHungryIsNamed(t *testing.T) {
	c := farm(12)
	fed := year.Group{Name: "Ewes", Pasture: make([]float64, 12), Indoors: make([]float64, 12), Head: make([]float64, 12)}
	c.Groups = append(c.Groups, fed)
	c.Store = 0
	b := year.Balance(c, nil)
	assert.True(t, b.Months[8].Hungry())
	assert.Equal(t, []int{0}, c.HungryGroups(b, 8), "who wants nothing lacks nothing")
	assert.False(t, b.Months[1].Hungry())
	assert.Empty(t, c.HungryGroups(b, 1))
	assert.InDelta(t, b.Months[1].Eatable+b.Months[1].Over, b.Months[1].Supply(), 1e-9)
	assert.InDelta(t, b.Months[8].Wanted()-b.Months[8].Missing, b.Months[8].Swallowed(), 1e-9)
}
