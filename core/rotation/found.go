package rotation

import (
	"context"
	"fmt"
	"slices"
	"time"

	"fjell/core/rotation/plan"
)

// Move is a stay that a search has found best for a mob.
type Move struct {
	Mob, Paddock int
	Enter, Leave time.Time
}

// Following is Schedule that makes the moves of a search as long as they hold. Each mob goes through its moves in their order, at
// their hours. It leaves sooner where the school's residual or longest stay asks for it, and goes elsewhere where the paddock that was found
// is taken, closed, not rested, or eaten. Past the last move it goes on as Schedule does.
func Following(farm Farm, mobs []Mob, standing []Standing, pins []Pin, moves []Move, now, to time.Time) Plan {
	s := newScheduler(farm, mobs, standing, pins, now, to)
	for _, m := range moves {
		if m.Leave.After(now) {
			s.found[m.Mob] = append(s.found[m.Mob], m)
		}
	}
	return s.schedule()
}

// stay is the found move that keeps a mob where it stands; nil where none does.
func (s *scheduler) stay(m int) *Move {
	if len(s.found[m]) == 0 {
		return nil
	}
	v, f := s.visits[s.open[m]], &s.found[m][0]
	if f.Paddock != v.Paddock || v.Fact && f.Enter.After(s.now) {
		return nil
	}
	return f
}

// next is the move that was found for a mob that leaves now, where it can still be made. Those that are over are dropped.
func (s *scheduler) next(m int, ranked []Alternative) *Move {
	for len(s.found[m]) > 0 {
		f := s.found[m][0]
		if f.Leave.After(s.now) && f.Paddock != s.in[m] {
			break
		}
		s.found[m] = s.found[m][1:]
	}
	if len(s.found[m]) == 0 {
		return nil
	}
	for _, a := range ranked {
		if f := &s.found[m][0]; a.Paddock == f.Paddock {
			if s.standing[f.Paddock].Guessed && !s.standing[ranked[0].Paddock].Guessed {
				return nil // what was measured is grazed before what is guessed
			}
			return f
		}
	}
	return nil
}

// Found is what a search for better moves came to.
type Found struct {
	Moves   []Move    // at least as good as those there were, by what comes of them
	Told    plan.Plan // what comes of them on the farm, below which cost no plan comes that keeps what the round keeps
	Spared  float64   // kg DM over the plan there was
	Changed bool      // the moves are others than there were
}

const (
	// counted is how many days ahead people count on a plan already.
	counted = 3
	// worth is what other moves must spare to be taken at all, as a share of what all mobs want over the plan; worthNear is what they
	// must spare where they change what is counted on.
	worth, worthNear = 0.001, 0.01
)

// Find searches for better moves than those of a plan from now to its end. A search has several rounds, each of about a second or
// two, that build on what the one before left; each looks from another beginning. In round 0 the moves of the next three days, which
// people count on already, stay; later rounds may change them for a gain that is worth it. It gives the best there is when the context ends.
func Find(ctx context.Context, farm Farm, mobs []Mob, standing []Standing, pins []Pin, present []Visit, now, to time.Time, round int) (Found, error) {
	before, err := PresentOf(farm, mobs, standing, pins, present, now, to)
	if err != nil {
		return Found{}, err
	}
	out := Found{Moves: movesOf(present), Told: before.Present}
	fixed := pins
	if round == 0 {
		fixed = counting(pins, present, now)
	}
	problem, err := weighed(farm, mobs, standing, fixed, now, to)
	if err != nil {
		return Found{}, fmt.Errorf("look for better moves: %w", err)
	}
	problem.Seed += int64(round)
	found, err := plan.Improve(ctx, &problem, before.Present.Visits, nil)
	if err != nil {
		return Found{}, fmt.Errorf("look for better moves: %w", err)
	}
	moves := before.moves(found.Visits)
	told := Following(farm, mobs, standing, pins, moves, now, to)
	// What is found counts by what comes of it on the farm, where rest binds and who finds no feed is held where they are.
	if after, err := PresentOf(farm, mobs, standing, pins, told.Visits, now, to); err == nil {
		if spared := before.Present.Cost.Total - after.Present.Cost.Total; spared > worthOf(present, told.Visits, now)*problem.Demanded() {
			out.Moves, out.Told, out.Spared, out.Changed = moves, after.Present, spared, true
		}
	}
	out.Told.Bound, out.Told.Finished = min(found.Bound, out.Told.Cost.Total), found.Finished
	return out, nil
}

// soon are the moves of a plan that people count on already.
func soon(visits []Visit, now time.Time) (out []Move) {
	for _, v := range visits {
		if v.Enter.After(now) && v.Enter.Before(now.AddDate(0, 0, counted)) {
			out = append(out, Move{Mob: v.Mob, Paddock: v.Paddock, Enter: v.Enter})
		}
	}
	return out
}

// worthOf is what a change from one plan to another must spare.
func worthOf(from, to []Visit, now time.Time) float64 {
	same := func(x, y Move) bool { return x.Mob == y.Mob && x.Paddock == y.Paddock && x.Enter.Equal(y.Enter) }
	if slices.EqualFunc(soon(from, now), soon(to, now), same) {
		return worth
	}
	return worthNear
}

// counting are pins with the moves that people count on among them.
func counting(pins []Pin, present []Visit, now time.Time) []Pin {
	out := slices.Clone(pins)
	for _, m := range soon(present, now) {
		pinned := func(p Pin) bool { return p.Mob == m.Mob && p.Enter.Equal(m.Enter) }
		if !slices.ContainsFunc(pins, pinned) {
			out = append(out, Pin{Mob: m.Mob, Paddock: m.Paddock, Enter: m.Enter})
		}
	}
	return out
}

// movesOf are the stays of a plan as moves; one in which they are held in the end is a move up to there.
func movesOf(visits []Visit) []Move {
	var out []Move
	for _, v := range visits {
		leave := v.Leave
		if !v.Held.IsZero() {
			leave = v.Held
		}
		out = append(out, Move{v.Mob, v.Paddock, v.Enter, leave})
	}
	return out
}

// moves are visits of the problem as moves of the farm; time off the pasture is not one.
func (g *Grade) moves(visits []plan.Visit) []Move {
	byKey := map[string]int{}
	for i, p := range g.Problem.Paddocks {
		byKey[p.Key] = i
	}
	mobOf := map[string]int{}
	for i, m := range g.Problem.Mobs {
		mobOf[m.Key] = i
	}
	var out []Move
	for _, v := range visits {
		if v.Paddock != nil {
			out = append(out, Move{mobOf[v.Mob], byKey[*v.Paddock], g.At(v.Enter), g.At(v.Leave)})
		}
	}
	return out
}
