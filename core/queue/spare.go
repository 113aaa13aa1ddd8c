package queue

import (
	"cmp"
	"slices"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/working"
)

// Spare is a paddock that might be cut, closed or passed over, and what speaks for it and against it.
type Spare struct {
	Paddock int
	Wet     bool // too wet for wheels now
	Bare    bool // it stands no higher than it is to be left
	Short   bool // what it would feed is more than the queue as a whole stands above its marks
	Why     []grazing.Reason
}

// ripeLeaf is what a leaf beyond the stage at which a sward is to be grazed counts beside kilograms above the mark, kg DM/ha. Judgement, ours.
const ripeLeaf = 150

// Spares ranks the paddocks of a week that nobody stands in by how well they can be spared: what stands above their mark, what is past its best, and leaves
// beyond their stage speak for it; ground that is too wet for wheels, what the queue as a whole cannot spare, and what is grazed down, come last.
func Spares(c Case, w Week) []Spare {
	score := map[int]float64{}
	var out []Spare
	for _, r := range w.Rows {
		if r.Grazed || r.Target == 0 {
			continue
		}
		mass, pad := c.Standing[r.Paddock].Mass, c.Farm.Paddocks[r.Paddock]
		s := Spare{Paddock: r.Paddock, Wet: pad.Today.TooWet}
		above := mass - r.Target
		score[r.Paddock] = above
		if above > 0 {
			s.Why = append(s.Why, grazing.Because("{a} above its mark", working.T("a", "above its mark", above, quantity.ForageMass)))
		} else {
			s.Why = append(s.Why, grazing.Because("{b} below its mark", working.T("b", "below its mark", -above, quantity.ForageMass)))
		}
		if old := mass - r.TooOld; old > 0 && r.TooOld > 0 {
			score[r.Paddock] += old
			s.Why = append(s.Why, grazing.Because("past its best"))
		}
		if l := pad.Today.Leaves; l != nil && pad.Today.LeafStage > 0 && *l > pad.Today.LeafStage {
			score[r.Paddock] += ripeLeaf * (*l - pad.Today.LeafStage)
			s.Why = append(s.Why, grazing.Because("{l}, more than it is to be grazed at", working.T("l", "new leaves", *l, quantity.Leaf)))
		}
		if s.Wet {
			s.Why = append(s.Why, grazing.Because("too wet for wheels"))
		}
		if s.Bare = mass <= r.Residual; s.Bare {
			s.Why = append(s.Why, grazing.Because("nothing stands on it to spare"))
		}
		if s.Short = (mass-r.Residual)*pad.AreaHa > max(0, w.Balance); s.Short {
			s.Why = append(s.Why, grazing.Because("without it the queue stands below its marks"))
		}
		out = append(out, s)
	}
	rank := func(s Spare) (n int) {
		if s.Bare {
			n += 4
		}
		if s.Wet {
			n += 2
		}
		if s.Short {
			n++
		}
		return n
	}
	slices.SortStableFunc(out, func(a, b Spare) int {
		return cmp.Or(cmp.Compare(rank(a), rank(b)), cmp.Compare(score[b.Paddock], score[a.Paddock]))
	})
	return out
}
