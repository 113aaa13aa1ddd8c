package year

import (
	"cmp"
	"container/heap"
	"context"
	"math"
	"slices"
)

// Card is an option at its price that may be chosen, or not.
type Card struct {
	Option
	Most int // how often it may be: so many loads of hay; 0: once
}

// Times is a card done so often, as one option.
func (k Card) Times(n int) Option {
	o := k.Option
	o.Tonnes, o.Head, o.Hours = o.Tonnes*float64(n), o.Head*float64(n), o.Hours*float64(n)
	return o
}

// Advice is a set of cards after which feed falls short no more often than it may.
type Advice struct {
	Times  []int   // how often each card is chosen
	Cost   float64 // of all of them, in the farm's money
	Short  float64 // chance of falling short that is left
	Bound  float64 // no set of these cards that does it costs less
	Proven bool    // the bound is reached: it is the cheapest there is
}

// Adviser looks for the cheapest cards. The weather is drawn once: every set is held against the same years, which are those of Foresee for the same seed.
type Adviser struct {
	c      Case
	cards  []candidate
	place  []int // of each candidate among the cards that were given
	given  int
	shares [][]float64 // of each year's weather
	stays  [][]float64 // of each year: the most of what stands that a month leaves standing, on any ground
	known  map[string]*tried
	ranked []int    // candidates by what a tonne that each closes by itself costs
	best   []Advice // that were come upon so far: what is enough for a small chance is for a larger one
}

// candidate is a card and its cost.
type candidate struct {
	Card
	cost float64
	done Done
}

// tried is what a set comes to: what is missing in each year beyond what nobody would notice, kg DM, and in how many years anything is.
type tried struct {
	cannot bool // it cannot be done together
	needs  []float64
	reach  [][]reach // of each year and month
	fails  int
}

// NewAdviser draws the weather. A card that cannot be done, or brings money in, is left aside: of those that cost nothing the cheapest set would be all.
func NewAdviser(c Case, cards []Card, years int, seed uint64) *Adviser {
	a := &Adviser{c: c, known: map[string]*tried{}, given: len(cards)}
	pieces := slices.Clone(c.Pieces)
	// Young are weaned first: when head have gone before, there are fewer of them, and less or more is spared than by itself.
	order := make([]int, 0, len(cards))
	for _, weans := range []bool{true, false} {
		for i := range cards {
			if (cards[i].Input == Weaning) == weans {
				order = append(order, i)
			}
		}
	}
	for _, i := range order {
		card := cards[i]
		with, done, err := c.with([]Option{card.Option})
		if err != nil || done[0].Cost < 0 || done[0].Extra <= 0 {
			continue
		}
		for _, w := range cards {
			if w.Input != Weaning || card.Input != "" || w.Group != card.Group {
				continue
			}
			if _, both, err := c.with([]Option{w.Option, card.Option}); err == nil { // young that stay eat more without milk: then each head that goes spares more
				for m, by := range both[1].By {
					done[0].By[m] = max(done[0].By[m], by)
				}
			}
		}
		pieces = append(pieces, with.Pieces[len(c.Pieces):]...)
		a.cards, a.place = append(a.cards, candidate{card, done[0].Cost, done[0]}), append(a.place, i)
	}
	for _, r := range Rank(c, cards) {
		if i := slices.Index(a.place, r.Card); i >= 0 {
			a.ranked = append(a.ranked, i)
		}
	}
	for y := range years {
		share := c.Strays.Draw(len(c.Months), seed+uint64(y))
		stays := make([]float64, len(c.Months))
		for m := range stays {
			for p := range pieces {
				stays[m] = max(stays[m], 1-pieces[p].Loss*pieces[p].still(m, share[m]))
			}
		}
		a.shares, a.stays = append(a.shares, share), append(a.stays, stays)
	}
	return a
}

func (a *Adviser) most(i int) int { return max(1, a.cards[i].Most) }

// try reckons a set, once.
func (a *Adviser) try(times []uint8) *tried {
	if known, ok := a.known[string(times)]; ok {
		return known
	}
	var options []Option
	for i, n := range times {
		if n > 0 {
			options = append(options, a.cards[i].Times(int(n)))
		}
	}
	out := &tried{}
	with, _, err := a.c.with(options)
	if out.cannot = err != nil; !out.cannot {
		for y, share := range a.shares {
			need, reach := a.need(Balance(with, share), y)
			out.needs, out.reach = append(out.needs, need), append(out.reach, reach)
			if need > 0 {
				out.fails++
			}
		}
	}
	a.known[string(times)] = out
	return out
}

// reach is the most of a kg, there in a month, that can take from what is missing then or later: of one on pasture, of one less that is wanted, of one in store.
type reach struct{ pasture, wanted, store float64 }

// need is what is missing in a year, and what a kg more can take from it. It helps nothing that came before. On pasture it feeds who grazes: where they lack
// nothing it stands over, less what dies of it at the least, until they do, and there spares the store or fills what is missing.
func (a *Adviser) need(b Budget, y int) (need float64, out []reach) {
	out = make([]reach, len(b.Months))
	later := 0.0
	for m := len(b.Months) - 1; m >= 0; m-- {
		e := b.Months[m]
		if need += max(0, e.Missing-little*e.Wanted()); need > 0 {
			later *= a.stays[y][m]
			if e.Pasture > e.Eaten {
				later = 1
			}
			out[m] = reach{later, later, 1}
			if e.Fed+e.Missing > 0 {
				out[m].wanted = 1
			}
		}
	}
	return need, out
}

// closes is the most that one of a card can take off what is missing of a set in a year.
func (a *Adviser) closes(k *candidate, t *tried, y int) (kg float64) {
	for m, by := range k.done.By {
		switch r := t.reach[y][m]; {
		case by <= 0: // harm, which need not show
		case k.done.Grows:
			kg += by * a.shares[y][m] * r.pasture
		case k.Tonnes > 0:
			kg += by * r.store
		default:
			kg += by * r.wanted
		}
	}
	return kg
}

// bounds is what further cards can do for a set, year by year.
type bounds struct {
	needs  []float64
	closes [][]float64
	order  [][]int // cards from the cheapest kg on
}

func (a *Adviser) bounds(t *tried) bounds {
	out := bounds{needs: t.needs, closes: make([][]float64, len(t.needs)), order: make([][]int, len(t.needs))}
	for y := range t.needs {
		each, order := make([]float64, len(a.cards)), make([]int, 0, len(a.cards))
		for i := range a.cards {
			if each[i] = a.closes(&a.cards[i], t, y); each[i] > 0 {
				order = append(order, i)
			}
		}
		slices.SortStableFunc(order, func(i, j int) int { return cmp.Compare(a.cards[i].cost*each[j], a.cards[j].cost*each[i]) })
		out.closes[y], out.order[y] = each, order
	}
	return out
}

// least is what further cards from the card first on must cost at the least. Each kg more takes at most one kg off what is missing, so a year is seen to by no
// less than its cheapest kg; so many years may be left as they are, and those are the dearest.
func (a *Adviser) least(b bounds, less int, times []uint8, first, fails int) float64 {
	costs := make([]float64, len(b.needs))
	for y, need := range b.needs {
		if less >= 0 && need > 0 {
			need -= b.closes[y][less]
		}
		for _, i := range b.order[y] {
			if need <= 1e-9 {
				break
			}
			free := a.most(i) - int(times[i])
			if i == less {
				free--
			}
			if each := b.closes[y][i]; i >= first && free > 0 {
				n := min(float64(free), need/each)
				need -= n * each
				costs[y] += n * a.cards[i].cost
			}
		}
		if need > 1e-9 {
			costs[y] = math.Inf(1)
		}
	}
	slices.Sort(costs)
	return costs[len(costs)-1-fails]
}

// node is a set of cards from which a search goes on: cards before first are settled.
type node struct {
	times    []uint8
	first    int
	cost     float64
	bound    float64 // of every set that holds it
	reckoned bool
}

// frontier has the node of the lowest bound first, and of those the one that goes furthest.
type frontier []*node

func (f frontier) Len() int { return len(f) }
func (f frontier) Less(i, j int) bool {
	return f[i].bound < f[j].bound || f[i].bound == f[j].bound && f[i].cost > f[j].cost
}
func (f frontier) Swap(i, j int) { f[i], f[j] = f[j], f[i] }
func (f *frontier) Push(n any)   { *f = append(*f, n.(*node)) }
func (f *frontier) Pop() any {
	old := *f
	n := old[len(old)-1]
	*f = old[:len(old)-1]
	return n
}

// Cheapest is the cheapest set of cards after which feed falls short with no more than a chance. It goes through sets by the least that any set which holds them
// can cost, so that the first that does it is the cheapest there is; every set is reached once, by its cards in order. When the time is up it is the best that
// was come upon, with the bound so far. It is false when no set does it, or none was come upon.
func (a *Adviser) Cheapest(ctx context.Context, chance float64) (Advice, bool) {
	fails := min(int(chance*float64(len(a.shares))+1e-9), len(a.shares)-1)
	a.byEye(fails, func(t *tried) []int { return a.bounds(t).order[worst(t.needs, fails)] })
	a.byEye(fails, func(*tried) []int { return a.ranked })
	best, found := Advice{}, false
	for _, b := range a.best {
		if int(math.Round(b.Short*float64(len(a.shares)))) <= fails && (!found || b.Cost < best.Cost) {
			best, found = b, true
		}
	}
	queue := &frontier{{times: make([]uint8, len(a.cards))}}
	bound := math.Inf(1)
	for queue.Len() > 0 {
		n := heap.Pop(queue).(*node)
		if found && n.bound >= best.Cost-1e-9 {
			bound = best.Cost
			break
		}
		if ctx.Err() != nil {
			bound = n.bound
			break
		}
		t := a.try(n.times)
		if t.cannot {
			continue
		}
		held := a.bounds(t)
		if !n.reckoned {
			n.reckoned = true
			if n.bound = max(n.bound, n.cost+a.least(held, -1, n.times, n.first, fails)); !math.IsInf(n.bound, 1) {
				heap.Push(queue, n)
			}
			continue
		}
		if t.fails <= fails {
			best, found = a.advice(n.times, n.cost, t), true
			bound = n.cost
			break
		}
		for i := n.first; i < len(a.cards); i++ {
			if int(n.times[i]) >= a.most(i) {
				continue
			}
			next := &node{times: slices.Clone(n.times), first: i, cost: n.cost + a.cards[i].cost}
			next.times[i]++
			next.bound = max(n.bound, next.cost+a.least(held, i, n.times, i, fails))
			if !math.IsInf(next.bound, 1) && (!found || next.bound < best.Cost-1e-9) {
				heap.Push(queue, next)
			}
		}
	}
	if found {
		if queue.Len() == 0 && math.IsInf(bound, 1) {
			bound = best.Cost // nothing cheaper was left to look at
		}
		best.Bound = min(bound, best.Cost)
		best.Proven = best.Bound >= best.Cost-1e-9
		a.best = append(a.best, best)
	}
	return best, found
}

func (a *Adviser) enough(times []uint8, fails int) bool {
	t := a.try(times)
	return !t.cannot && t.fails <= fails
}

func (a *Adviser) advice(times []uint8, cost float64, t *tried) Advice {
	out := Advice{Times: make([]int, a.given), Cost: cost, Short: float64(t.fails) / float64(len(a.shares))}
	for i, n := range times {
		out.Times[a.place[i]] = int(n)
	}
	return out
}

// byEye takes, one after another, the first card of an order that can be taken, until it is enough, and leaves out again what is not needed: a set to hold others
// against.
func (a *Adviser) byEye(fails int, order func(*tried) []int) {
	times := make([]uint8, len(a.cards))
	cost := 0.0
	for !a.enough(times, fails) {
		next := -1
		for _, i := range order(a.try(times)) {
			if int(times[i]) >= a.most(i) {
				continue
			}
			times[i]++
			cannot := a.try(times).cannot
			if times[i]--; !cannot {
				next = i
				break
			}
		}
		if next < 0 {
			return
		}
		times[next], cost = times[next]+1, cost+a.cards[next].cost
	}
	for i := range times {
		for times[i] > 0 {
			fewer := slices.Clone(times)
			if fewer[i]--; !a.enough(fewer, fails) {
				break
			}
			times, cost = fewer, cost-a.cards[i].cost
		}
	}
	a.best = append(a.best, a.advice(times, cost, a.try(times)))
}

// worst is the year of the largest need of those that are not let go.
func worst(needs []float64, fails int) int {
	years := make([]int, len(needs))
	for y := range years {
		years[y] = y
	}
	slices.SortStableFunc(years, func(a, b int) int { return cmp.Compare(needs[b], needs[a]) })
	return years[fails]
}

// Ranked is a card by itself: what it takes off what is missing in an ordinary year.
type Ranked struct {
	Done
	Card   int     // among those that were given
	Closes float64 // kg DM
	Tonne  float64 // its cost for each tonne of them; +Inf: it closes nothing
}

// Rank sorts cards by what a tonne that is eaten when it was short costs; what closes nothing comes last.
func Rank(c Case, cards []Card) (out []Ranked) {
	before := Balance(c, nil).Sum(0, len(c.Months)).Missing
	for i, card := range cards {
		with, done, err := c.with([]Option{card.Option})
		if err != nil {
			continue
		}
		r := Ranked{Done: done[0], Card: i, Closes: before - Balance(with, nil).Sum(0, len(c.Months)).Missing, Tonne: math.Inf(1)}
		if r.Closes > 1 {
			r.Tonne = r.Cost / (r.Closes / 1000)
		}
		out = append(out, r)
	}
	slices.SortStableFunc(out, func(a, b Ranked) int {
		return cmp.Or(cmp.Compare(a.Tonne, b.Tonne), cmp.Compare(b.Closes, a.Closes))
	})
	return out
}
