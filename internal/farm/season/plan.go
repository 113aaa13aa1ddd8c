package season

import (
	"context"
	"math"
	"slices"
	"sync"
	"time"

	"fjell/core/rotation"
	"fjell/core/rotation/plan"
	"fjell/internal/store"
)

// ForecastDays is how far ahead the ridge looks.
const ForecastDays = 84

// Forecast schedules from the plan's start, or from now once that is past, to the end of the ridge.
func (s *Season) Forecast(past rotation.Past, extra ...rotation.Pin) rotation.Plan {
	from := s.planFrom()
	standing := past.Standing
	if from.After(s.Now) {
		standing = s.Recount(from).Standing
	}
	farm, mobs := s.planned()
	for p := range farm.Paddocks {
		farm.Paddocks[p].Today = s.condition(p, past.Standing[p])
	}
	return rotation.Following(farm, mobs, standing, append(s.pins(), extra...), s.found(), from, s.Now.AddDate(0, 0, ForecastDays))
}

// planned are the ground and the mobs as they are planned for: what is kept in reserve is out of the rotation and its figures, but in
// need stock may go there.
func (s *Season) planned() (rotation.Farm, []rotation.Mob) {
	farm, mobs := s.Farm, slices.Clone(s.Grazers)
	farm.Paddocks = slices.Clone(farm.Paddocks)
	for i := range mobs {
		mobs[i].Ground = slices.Clone(mobs[i].Ground)
	}
	for p, pad := range s.Paddocks {
		if pad.Purpose != "reserve" {
			continue
		}
		farm.Paddocks[p].Reserve, farm.Paddocks[p].Closures = true, closures(s.Picture, pad, "")
		for i, m := range s.Mobs {
			mobs[i].Ground[p] = ground(s.Picture, m, pad)
		}
	}
	return farm, mobs
}

// found are the moves of the search that is followed, by index. Those of mobs and paddocks that are gone are left out.
func (s *Season) found() []rotation.Move {
	if s.Plan == nil || s.Plan.Search == nil {
		return nil
	}
	var out []rotation.Move
	for _, f := range s.Plan.Search.Moves.V {
		m, okMob := s.MobIndex[f.MobID]
		p, okPaddock := s.ByID[f.PaddockID]
		if okMob && okPaddock {
			out = append(out, rotation.Move{Mob: m, Paddock: p, Enter: f.Enter, Leave: f.Leave})
		}
	}
	return out
}

// News tells whether what the plan's search was made from has changed since. A plan that was not searched for has no news.
func (s *Season) News() bool {
	if s.Plan == nil || s.Plan.Search == nil {
		return false
	}
	was, is := s.Plan.Search.Parts.V, s.MadeFrom()
	for _, part := range bearing { // a part that was not there yet when the search was made had no version
		if was[part] != is[part] {
			return true
		}
	}
	return s.Plan.Search.PlanVersion != s.Plan.Version
}

// MadeFrom are the versions of the facts that a plan is made from.
func (s *Season) MadeFrom() map[store.Part]int64 {
	out := map[store.Part]int64{}
	for _, part := range bearing {
		if part != store.PlanPart { // a search writes to it itself
			out[part] = s.Row.Parts.V[part]
		}
	}
	return out
}

func (s *Season) planFrom() time.Time {
	if s.Plan == nil {
		return s.Now
	}
	start, err := s.Plan.StartsOn.Time(s.Location)
	if err != nil || start.Before(s.Now) {
		return s.Now
	}
	return start
}

// PlanEnd is the end of the planned days; past it the forecast goes on by the same scheduler.
func (s *Season) PlanEnd() time.Time {
	if s.Plan == nil {
		return s.Now
	}
	start, err := s.Plan.StartsOn.Time(s.Location)
	if err != nil {
		return s.Now
	}
	return start.AddDate(0, 0, s.Plan.Days)
}

func (s *Season) pins() []rotation.Pin {
	var out []rotation.Pin
	if s.Plan == nil {
		return nil
	}
	for _, pin := range s.Plan.Pins {
		m, okMob := s.MobIndex[pin.MobID]
		p, okPaddock := s.ByID[pin.PaddockID]
		if okMob && okPaddock && s.Grazers[m].Follows == "" {
			out = append(out, RotationPin(m, p, pin.EnterAt, pin.LeaveAt))
		}
	}
	return out
}

// RotationPin is a pin as the scheduler knows it; without leave it may end by the rules.
func RotationPin(mob, paddock int, enter time.Time, leave *time.Time) rotation.Pin {
	pin := rotation.Pin{Mob: mob, Paddock: paddock, Enter: enter}
	if leave != nil {
		pin.Leave = *leave
	}
	return pin
}

// DaysOrNil keeps +Inf, which JSON cannot carry, off the wire.
func DaysOrNil(d float64) *float64 {
	if math.IsInf(d, 0) || math.IsNaN(d) || d > 299 {
		return nil
	}
	return &d
}

// withoutPlan is how many days a farm without a plan is looked ahead as a problem.
const withoutPlan = 28

// stretch is what the present plan spans, and what stands at its beginning.
func (s *Season) stretch() (from, to time.Time, standing []rotation.Standing) {
	from, to = s.planFrom(), s.PlanEnd()
	if !to.After(from) {
		to = from.AddDate(0, 0, withoutPlan)
	}
	if from.After(s.Now) {
		return from, to, s.Recount(from).Standing
	}
	return from, to, s.Past().Standing
}

// Problem is the present plan as a planning problem on its own: from its start, or from now, to its end.
func (s *Season) Problem() plan.Problem {
	from, to, standing := s.stretch()
	farm, mobs := s.planned()
	p := rotation.ProblemOf(farm, mobs, standing, s.pins(), from, to)
	p.Careful = s.Farm.Careful
	return p
}

// Present is the present plan as a problem and its visits, with nothing searched for.
func (s *Season) Present() (rotation.Grade, error) { return s.With(s.Ahead()) }

// With is the grade of another plan than the present one, with pins that the present one does not have.
func (s *Season) With(other rotation.Plan, extra ...rotation.Pin) (rotation.Grade, error) {
	from, to, standing := s.stretch()
	farm, mobs := s.planned()
	return rotation.PresentOf(farm, mobs, standing, append(s.pins(), extra...), other.Visits, from, to)
}

// searchFor is how long a round of a search for a better plan takes at most. The search of a usual farm ends by itself in a second
// or two; a limit that came sooner would have two processes, one of them busy, tell two things.
const searchFor = 5 * time.Second

// searching lets one search after the other through: each takes every processor there is.
var searching = make(chan struct{}, 1)

// turn waits until no other search is on its way, no longer than whoever asks does, and lets one search for so many
// rounds as long as they may take. stop ends it.
func turn(ctx context.Context, rounds int) (search context.Context, stop func(), err error) {
	select {
	case searching <- struct{}{}:
	case <-ctx.Done():
		return nil, nil, ctx.Err()
	}
	search, cancel := context.WithTimeout(context.WithoutCancel(ctx), time.Duration(rounds)*searchFor)
	return search, func() { cancel(); <-searching }, nil
}

// Find makes one round of a search for better moves than the present plan's.
func (s *Season) Find(ctx context.Context, round int) (rotation.Found, error) {
	search, stop, err := turn(ctx, 1)
	if err != nil {
		return rotation.Found{}, err
	}
	defer stop()
	from, to, standing := s.stretch()
	farm, mobs := s.planned()
	return rotation.Find(search, farm, mobs, standing, s.pins(), s.Ahead().Visits, from, to, round)
}

// graded is the grade of a season, once it has been worked out. Seasons that are worked out alike share it.
type graded struct {
	mu    sync.Mutex
	known bool
	grade rotation.Grade
	err   error
}

func (g *graded) get() (grade rotation.Grade, known bool, err error) {
	g.mu.Lock()
	defer g.mu.Unlock()
	return g.grade, g.known, g.err
}

// Grade holds the present plan against the best that a search finds; it is worked out once for a season. Whoever asks waits for its
// turn no longer than their request lives.
func (s *Season) Grade(ctx context.Context) (rotation.Grade, error) {
	if grade, known, err := s.graded.get(); known {
		return grade, err
	}
	search, stop, err := turn(ctx, rotation.GradeRounds)
	if err != nil {
		return rotation.Grade{}, err
	}
	defer stop()
	if grade, known, err := s.graded.get(); known { // somebody before asked the same
		return grade, err
	}
	from, to, standing := s.stretch()
	farm, mobs := s.planned()
	grade, err := rotation.GradeOf(search, farm, mobs, standing, s.pins(), s.Ahead().Visits, from, to)
	s.graded.mu.Lock()
	defer s.graded.mu.Unlock()
	s.graded.grade, s.graded.err, s.graded.known = grade, err, true
	return grade, err
}
