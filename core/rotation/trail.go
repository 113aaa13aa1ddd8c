package rotation

import (
	"slices"
	"time"

	"fjell/core/grazing"
)

// Mobs go behind each other as leader and follower: dry stock behind weaned young, cattle behind sheep. The one behind gets each
// paddock when the one before it goes on, and nothing is chosen for it.

// behind is the mob that follows each, or Nowhere.
func behind(mobs []Mob) []int {
	out := make([]int, len(mobs))
	for m := range mobs {
		out[m] = slices.IndexFunc(mobs, func(f Mob) bool { return f.Follows != "" && f.Follows == mobs[m].ID })
	}
	return out
}

// pairUntil is when a mob leaves, and the one behind it with it: when the first of the two must.
func (s *scheduler) pairUntil(m int, leave time.Time) time.Time {
	at := s.stayUntil(m, leave)
	for f := s.behind[m]; f != Nowhere && leave.IsZero(); f = s.behind[f] {
		if s.open[f] < 0 || s.fed[f] {
			continue
		}
		if theirs := s.stayUntil(f, time.Time{}); theirs.Before(at) {
			at = theirs
			s.because(m, "by then "+s.mobs[f].Name+", who come behind, have to go on")
		}
	}
	return at
}

// bringAlong takes the mob behind one that has gone on into the paddock that it left. Where that is closed to them they stay where they are,
// and are fed.
func (s *scheduler) bringAlong(m, left int, at time.Time) {
	f := s.behind[m]
	if f == Nowhere || left == Nowhere {
		return
	}
	was := s.in[f]
	if _, closed := s.farm.Paddocks[left].ClosedAt(at); closed || !s.mobs[f].Ground[left] {
		s.hold(f, at, "what "+s.mobs[m].Name+" before them left is closed, or no ground of theirs")
		return
	}
	s.release(f, at)
	if s.open[f] >= 0 {
		s.because(f, "they go where "+s.mobs[m].Name+" were")
		s.end(f, at)
	}
	s.next(f, nil) // what a search found for them goes by
	s.begin(f, left, at, false, nil)
	v := &s.visits[s.open[f]]
	v.State, v.Reasons = grazing.Ready, []grazing.Reason{grazing.Because("they come behind " + s.mobs[m].Name)}
	s.bringAlong(f, was, at)
}
