package year_test

import (
	"context"
	"fmt"
	"math"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/chance"
	"fjell/core/reference"
	"fjell/core/year"
)

// priced is a small farm that may be short, and a few cards at made-up prices.
func priced(seed uint64) (year.Case, []year.Card) {
	d := chance.Draws(seed)
	c := ley(12 + d.Below(8))
	c.Store = 40000 * d.Share()
	sward, _ := reference.Load().Sward("upland_bent_fescue")
	scale := 0.6 + 0.8*d.Share()
	for p := range c.Pieces {
		c.Pieces[p].Of = sward
		for m := range c.Pieces[p].Grown {
			c.Pieces[p].Grown[m] *= scale
		}
	}
	c.Groups[0].Suckled = make([]year.Suckled, len(c.Months))
	for m := 1; m < 9; m++ { // milk runs dry, and those that stay then eat more without it than is spared
		c.Groups[0].Suckled[m] = year.Suckled{Head: 20, Milk: 9000, Eats: 900, Weaned: 6000}
		if m > 4 {
			c.Groups[0].Suckled[m].Milk = 500
		}
	}
	pool := []year.Card{
		{Option: year.Option{Input: "nitrogen_late_spring_cool", Field: "F0", Month: 1, Price: 40 + 100*d.Share()}},
		{Option: year.Option{Input: "nitrogen_late_spring_cool", Field: "F1", Month: 1, Price: 40 + 100*d.Share()}},
		{Option: year.Option{Input: "nitrogen_midsummer_cool", Field: "F0", Month: 3, Price: 40 + 100*d.Share()}},
		{Option: year.Option{Input: "stockpile_cool", Field: "F0", Month: 4, Price: 20 * d.Share()}},
		{Option: year.Option{Input: "brassica_for_autumn_winter", Field: "F1", Month: 2, Price: 100 + 300*d.Share()}},
		{Option: year.Option{Input: "bought_hay", Month: 7, Tonnes: 3 + 15*d.Share(), Price: 80 + 150*d.Share()}, Most: 1 + d.Below(4)},
		{Option: year.Option{Input: "bought_concentrate", Month: 8, Tonnes: 2 + 5*d.Share(), Price: 200 + 200*d.Share()}, Most: 1 + d.Below(3)},
		{Option: year.Option{Input: year.Weaning, Month: 1, Head: 4, Price: 20 + 100*d.Share()}},
		{Option: year.Option{Head: -5, Month: 5, Price: 100 + 700*d.Share()}, Most: 1 + d.Below(3)},
	}
	var cards []year.Card
	for _, card := range pool {
		if d.Share() < 0.6 {
			cards = append(cards, card)
		}
	}
	return c, cards
}

// multiplied is a set of cards as options: loads and heads as one option each.
func multiplied(cards []year.Card, times []int) (out []year.Option) {
	for i, n := range times {
		if n > 0 {
			out = append(out, cards[i].Times(n))
		}
	}
	return out
}

// all goes through every set there is, without bounds: the cheapest cost, +Inf where none does it.
func all(t *testing.T, c year.Case, cards []year.Card, years int, seed uint64, chance float64) (cheapest float64) {
	cheapest = math.Inf(1)
	times := make([]int, len(cards))
	for {
		if with, done, err := c.With(multiplied(cards, times)); err == nil {
			cost := 0.0
			for _, d := range done {
				cost += d.Cost
			}
			if cost < cheapest && year.Foresee(with, years, seed).Ever <= chance+1e-9 {
				cheapest = cost
			}
		}
		i := 0
		for ; i < len(cards); i++ {
			if times[i]++; times[i] <= max(1, cards[i].Most) {
				break
			}
			times[i] = 0
		}
		if i == len(cards) {
			return cheapest
		}
	}
}

func TestAdviceIsTheCheapestOfAllSets(t *testing.T) {
	const years, seed = 12, 5
	feasible, needed, impossible := 0, 0, 0
	for n := range uint64(100) {
		c, cards := priced(n)
		chance := []float64{0, 0.1, 0.25, 0.5}[n%4]
		want := all(t, c, cards, years, seed, chance)
		got, ok := year.NewAdviser(c, cards, years, seed).Cheapest(context.Background(), chance)
		require.Equal(t, !math.IsInf(want, 1), ok, "farm %d", n)
		if !ok {
			impossible++
			continue
		}
		feasible++
		if want > 0 {
			needed++
		}
		require.InDelta(t, want, got.Cost, 1e-6, "farm %d: %v", n, got.Times)
		assert.True(t, got.Proven, "farm %d", n)
		with, _, err := c.With(multiplied(cards, got.Times))
		require.NoError(t, err)
		assert.InDelta(t, got.Short, year.Foresee(with, years, seed).Ever, 1e-9)
	}
	assert.Greater(t, needed, 30, "farms that need something")
	assert.Greater(t, impossible, 5, "farms for which no set is enough")
	t.Log(feasible, needed, impossible)
}

// Safety never gets cheaper, and the bound is never above what was found, even when time is up at once.
func TestFurtherSafetyCostsMore(t *testing.T) {
	unproven := false
	for n := range uint64(20) {
		c, cards := priced(n)
		a := year.NewAdviser(c, cards, 40, 1)
		last := 0.0
		for _, chance := range []float64{0.5, 0.3, 0.1, 0.05} {
			got, ok := a.Cheapest(context.Background(), chance)
			if !ok {
				break
			}
			assert.GreaterOrEqual(t, got.Cost, last-1e-9)
			assert.LessOrEqual(t, got.Short, chance+1e-9)
			last = got.Cost
		}
		over, stop := context.WithCancel(context.Background())
		stop()
		if got, ok := year.NewAdviser(c, cards, 40, 1).Cheapest(over, 0.1); ok {
			assert.LessOrEqual(t, got.Bound, got.Cost+1e-9)
			assert.Equal(t, got.Bound >= got.Cost-1e-9, got.Proven)
			unproven = unproven || !got.Proven
		}
	}
	assert.True(t, unproven, "without time nothing that costs is proven")
}

// The order in which cards are good holds in any money: prices stand as the farm wrote them.
func TestRankingIsTheSameInAnyMoney(t *testing.T) {
	for n := range uint64(30) {
		c, cards := priced(n)
		dear := slices.Clone(cards)
		for i := range dear {
			dear[i].Price *= 11.3
		}
		a, b := year.Rank(c, cards), year.Rank(c, dear)
		require.Len(t, b, len(a))
		for i := range a {
			assert.Equal(t, a[i].Card, b[i].Card)
			if i > 0 {
				assert.LessOrEqual(t, a[i-1].Tonne, a[i].Tonne, "the cheapest tonne first")
			}
			assert.LessOrEqual(t, a[i].Closes, a[i].Extra+1e-6, "no card closes more than it brings")
		}
	}
}

func ExampleAdviser_Cheapest() {
	c := ley(12)
	cards := []year.Card{
		{Option: year.Option{Input: "bought_hay", Month: 0, Tonnes: 20, Price: 150}, Most: 12},
		{Option: year.Option{Input: "stockpile_cool", Field: "F0", Month: 4, Price: 10}},
	}
	advice, ok := year.NewAdviser(c, cards, 100, 1).Cheapest(context.Background(), 0.2)
	fmt.Println(ok, advice.Proven, advice.Short <= 0.2)
	// Output: true true true
}

// BenchmarkAdvise looks for the cheapest of 24 cards on a farm of 20 pieces in 200 years' weather, for a second at most, and reports how far below what it found
// its bound lies.
func BenchmarkAdvise(b *testing.B) {
	c, _ := priced(3)
	c.Store = 0
	var cards []year.Card
	for len(c.Pieces) < 20 {
		pc := c.Pieces[len(c.Pieces)%2]
		pc.FieldID = fmt.Sprint("F", len(c.Pieces))
		pc.Field = pc.FieldID
		c.Groups[0].Pieces = append(c.Groups[0].Pieces, len(c.Pieces))
		c.Pieces = append(c.Pieces, pc)
	}
	for m := range c.Months { // ten times the head for ten times the ground
		c.Groups[0].Pasture[m], c.Groups[0].Indoors[m], c.Groups[0].Head[m] = 10*c.Groups[0].Pasture[m], 10*c.Groups[0].Indoors[m], 400
	}
	for p := range 11 {
		field := fmt.Sprint("F", p)
		cards = append(cards, year.Card{Option: year.Option{Input: "nitrogen_late_spring_cool", Field: field, Month: 1, Price: 60 + 3*float64(p)}},
			year.Card{Option: year.Option{Input: "stockpile_cool", Field: field, Month: 4, Price: 8 + float64(p)}})
	}
	cards = append(cards, year.Card{Option: year.Option{Input: "bought_hay", Month: 0, Tonnes: 60, Price: 140}, Most: 12}, year.Card{Option: year.Option{Head: -10, Month: 5, Price: 700}, Most: 6})
	for b.Loop() {
		within, end := context.WithTimeout(context.Background(), time.Second)
		got, ok := year.NewAdviser(c, cards, 200, 1).Cheapest(within, 0.2)
		end()
		require.True(b, ok)
		b.ReportMetric(100*(got.Cost-got.Bound)/got.Cost, "%gap")
	}
}

// What the bound rests on: in no year's weather does a card take more off what is missing than it brings, whatever lies on the table already.
func TestNoCardClosesMoreThanItBrings(t *testing.T) {
	for n := range uint64(150) {
		c, cards := priced(n)
		cards = append(cards, year.Card{Option: year.Option{Input: year.Rent, AreaHa: 4, Month: 1, Months: 6, Price: 300}}, year.Card{Option: year.Option{Input: year.Division, Field: "F1", Month: 2, Share: 0.85, Price: 200}},
			year.Card{Option: year.Option{Input: year.Division, Field: "F0", Month: 0, Share: 0.9, Price: 200}})
		for i, card := range cards {
			for _, first := range append([]year.Card{{Option: year.Option{Input: "bought_hay", Tonnes: 5}}}, cards[:i]...) {
				before, _, err := c.With([]year.Option{first.Option})
				require.NoError(t, err)
				after, done, err := c.With([]year.Option{first.Option, card.Option})
				if err != nil {
					continue // on the same ground
				}
				for seed := range uint64(4) {
					growth := c.Strays.Draw(len(c.Months), seed)
					brings := 0.0
					for m, kg := range done[1].By {
						if done[1].Grows {
							kg *= growth[m]
						}
						brings += max(0, kg) // harm need not show
					}
					months := len(c.Months)
					closes := year.Balance(before, growth).Sum(0, months).Missing - year.Balance(after, growth).Sum(0, months).Missing
					require.LessOrEqual(t, closes, brings+1e-6, "farm %d, card %s after %s", n, card.Input, first.Input)
				}
			}
		}
	}
}
