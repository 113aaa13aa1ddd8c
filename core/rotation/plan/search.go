package plan

import (
	"context"
	"math"
	"slices"
	"sync"
)

// effort is how far a search goes. It is counted, never timed, so that the same problem and seed end with the same plan.
type effort struct {
	chains int // searches from the openings, each with a stream of its own; the best counts
	tries  int // changes tried in each
}

// coldest is by how much an annealing cools down: tried out, as the warmth it begins with.
const coldest = 50

// chain improves a plan by annealing: changes that make it cheaper are taken, dearer ones too while it is hot. What
// cannot go anywhere in the end is put right by trying what is near, cold.
func chain(ctx context.Context, from *state, seed uint64, tries int, heard func(done int)) *state {
	st := from.clone()
	best, least := slices.Clone(from.loc), from.cost
	t := newTrial(st)
	w := newWays(t, seed)
	temperature := w.warmth()
	cooling := math.Pow(1.0/coldest, 1/float64(max(1, tries)))
	for i := range tries {
		if i&1023 == 0 {
			if ctx.Err() != nil {
				break
			}
			if heard != nil {
				heard(i)
			}
		}
		temperature *= cooling
		// How much dearer a change may be is drawn first, so that a hopeless one is given up half looked at.
		most := -temperature * math.Log(w.draws.Share())
		if !w.propose() {
			t.cells = t.cells[:0]
			continue
		}
		if rise, taken := t.try(most); taken {
			t.keep(rise)
			if st.cost < least-1e-9 {
				copy(best, st.loc)
				least = st.cost
			}
		}
	}
	return from.placed(best)
}

// search runs the chains from the openings in turn, as many at once as workers, and gives the best of all; the earlier one where two
// are as good.
func search(ctx context.Context, from []*state, seed int64, e effort, workers int, heard Progress) *state {
	results := make([]*state, e.chains)
	var wait sync.WaitGroup
	var lock sync.Mutex
	done := make([]int, e.chains)
	next := make(chan int, e.chains)
	for i := range e.chains {
		next <- i
	}
	close(next)
	for range max(1, min(workers, e.chains)) {
		wait.Go(func() {
			for i := range next {
				results[i] = chain(ctx, from[i%len(from)], uint64(seed)*0x9e3779b97f4a7c15+uint64(i)*0xd1342543de82ef95, e.tries, func(n int) {
					if heard == nil || n&16383 != 0 {
						return
					}
					lock.Lock()
					defer lock.Unlock()
					done[i] = n
					all := 0
					for _, d := range done {
						all += d
					}
					heard(float64(all) / float64(e.chains*max(1, e.tries)))
				})
			}
		})
	}
	wait.Wait()
	best := from[0]
	for _, r := range append(slices.Clone(from), results...) {
		if r.cost < best.cost-1e-9 {
			best = r
		}
	}
	return best
}
