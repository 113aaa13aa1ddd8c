package today

import (
	"context"
	"slices"
	"time"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/rotation"
	"fjell/core/working"
	"fjell/internal/farm"
	"fjell/internal/farm/herd"
	"fjell/internal/farm/moves"
	"fjell/internal/farm/season"
)

// TodayMob is one mob's column: where it is, how long the feed lasts, where next and why.
type TodayMob struct {
	MobID       string                `json:"mob_id"`
	Name        string                `json:"name"`
	Letter      string                `json:"letter"`
	Glyph       string                `json:"glyph"`
	Counts      []ClassCount          `json:"counts" nullable:"false"`
	PaddockID   string                `json:"paddock_id"`
	PaddockName string                `json:"paddock_name"`
	Since       *time.Time            `json:"since" nullable:"true"`
	Mass        *season.MassView      `json:"mass,omitempty"`
	Residual    float64               `json:"residual_kg_dm_ha"`
	Until       *time.Time            `json:"feed_until" nullable:"true"`
	Earliest    *time.Time            `json:"feed_earliest" nullable:"true"`
	Latest      *time.Time            `json:"feed_latest" nullable:"true"`
	Beyond      bool                  `json:"feed_beyond"` // longer than two months
	Leaves      *grazing.Reason       `json:"leaves_because,omitempty"`
	Stay        *working.Figure       `json:"stay,omitempty"`
	Points      [][2]float64          `json:"points" nullable:"false"`
	Next        *moves.VisitView      `json:"next,omitempty"`
	NextMass    *season.MassView      `json:"next_mass,omitempty"`
	NextStay    *working.Figure       `json:"next_stay,omitempty"`
	Linger      *grazing.Reason       `json:"linger,omitempty"`
	Gate        *GateView             `json:"gate,omitempty"`
	Call        *GateCallView         `json:"last_call,omitempty"` // since they came here
	Head        float64               `json:"head"`                // by the books
	Routine     []grazing.RoutineStep `json:"routine" nullable:"false"`
	FenceKV     float64               `json:"fence_kv"`
	Withheld    []WithheldView        `json:"withheld" nullable:"false"` // by what was given to them
	Cautions    []CautionView         `json:"cautions" nullable:"false"`
}

// ClassCount is how many of a class are in a mob.
type ClassCount struct {
	Name  string  `json:"name"`
	Count float64 `json:"count"`
}

// Minding is something that needs a look.
type Minding struct {
	Kind   string         `json:"kind" enum:"feed,plan,ground,count,fence,caution,look,move,job,walk,stock,weather"`
	State  grazing.State  `json:"state"`
	Where  string         `json:"where"`
	At     *time.Time     `json:"at" nullable:"true"`
	Reason grazing.Reason `json:"reason"`
	Place  string         `json:"place"`
	// Caution is the one it tells of, where it does; the person may have put it away.
	Caution string `json:"caution,omitempty"`
}

// TodayView answers: what do I do now, and may I?
type TodayView struct {
	Now     time.Time  `json:"now"`
	Mobs    []TodayMob `json:"mobs" nullable:"false"`
	Minding []Minding  `json:"minding" nullable:"false"`
	// Cautions whose conditions are met today.
	Cautions []DueView `json:"cautions" nullable:"false"`
}

// Today is what to do now.
func (s *Service) Today(ctx context.Context, a farm.Actor) (TodayView, error) {
	se, err := s.Season(ctx, a)
	if err != nil {
		return TodayView{}, err
	}
	past := se.Past()
	plan := se.Ahead()
	out := TodayView{Now: se.Now, Mobs: []TodayMob{}, Minding: []Minding{}}
	for i := range se.Mobs {
		out.Mobs = append(out.Mobs, todayMob(se, i, past, plan))
	}
	out.Cautions = due(se, past, plan)
	out.Minding = mostUrgent(minding(se, past, plan, out.Cautions), se.Row.Aims.V)
	return out, nil
}

func todayMob(s *season.Season, i int, past rotation.Past, plan rotation.Plan) TodayMob {
	m, rm := s.Mobs[i], s.Grazers[i]
	v := TodayMob{MobID: m.ID, Name: m.Name, Letter: m.Letter, Glyph: m.Glyph, Counts: []ClassCount{}, Withheld: withheld(s, m.ID), Points: [][2]float64{}, Cautions: []CautionView{}}
	for _, c := range s.Classes(m.ID) {
		v.Counts = append(v.Counts, ClassCount{c.DisplayedName, c.Count})
	}
	v.FenceKV = least(s, m.ID)
	v.Head = s.Herd.MobOn(m.ID, s.Number(s.Now)).Head
	v.Routine = grazing.Routine(species(s, m.ID), s.Row.Routine.V, m.ID, s.Now.In(s.Location))
	demand := s.DemandNow(i)
	if rm.In != rotation.Nowhere {
		p := rm.In
		st, l := past.Standing[p], s.LimitsOf(i, p)
		since, mass := rm.Since, s.MassView(st)
		feed := rotation.FeedUntil(s.Farm, s.In(p), p, st, s.Now)
		stay := rotation.StayFigure(s.Farm.Paddocks[p], l, st.Mass, demand)
		v.PaddockID, v.PaddockName, v.Since, v.Mass, v.Residual = s.Paddocks[p].ID, s.Paddocks[p].Name, &since, &mass, l.Residual
		v.Until, v.Earliest, v.Latest, v.Beyond, v.Stay = &feed.Until, &feed.Earliest, &feed.Latest, feed.Beyond, &stay
		for _, tr := range [][]rotation.TracePoint{past.Trace[p], plan.Trace[p]} {
			for _, pt := range tr {
				if pt.At.After(s.Now.AddDate(0, 0, -14)) && pt.At.Before(s.Now.AddDate(0, 0, 7)) {
					v.Points = append(v.Points, [2]float64{float64(pt.At.Unix()), pt.Mass})
				}
			}
		}
	}
	v.Call = lastCall(s, i)
	var next *rotation.Visit
	for k, vis := range plan.Visits {
		if vis.Mob != i {
			continue
		}
		if vis.Fact {
			v.Linger, v.Leaves = rotation.Linger(vis), vis.Leaves
			continue
		}
		told := moves.VisitOf(s, plan.Visits[k])
		st := past.Standing[vis.Paddock]
		mass := s.MassView(st)
		stay := rotation.StayFigure(s.Farm.Paddocks[vis.Paddock], s.Farm.Asks(rm, vis.Paddock, vis.Enter), vis.MassIn, demand)
		v.Next, v.NextMass, v.NextStay = &told, &mass, &stay
		v.Cautions = cautions(s, ground{i, vis.Paddock, &plan.Visits[k]}, past)
		next = &plan.Visits[k]
		break
	}
	v.Gate = gateOf(s, i, past, next)
	return v
}

// mostUrgent puts what is to stop first, and of the rest what the farm's aims rest on.
func mostUrgent(list []Minding, aims []string) []Minding {
	serves := grazing.Served(aims)
	rank := func(m Minding) int {
		switch {
		case m.State == grazing.Stop:
			return 0
		case slices.Contains(serves, m.Kind):
			return 1
		}
		return 2
	}
	slices.SortStableFunc(list, func(a, b Minding) int { return rank(a) - rank(b) })
	return list
}

// minding is everything that needs a look, the plan's first.
func minding(s *season.Season, past rotation.Past, plan rotation.Plan, cautions []DueView) []Minding {
	out := []Minding{}
	for _, m := range rotation.OutOfFeed(s.Farm, s.Grazers, past.Standing, s.Now) {
		p := s.Grazers[m].In
		out = append(out, Minding{Kind: grazing.MindFeed, State: grazing.Stop, Where: s.Mobs[m].Name, Reason: grazing.Because("nothing is left above the residual of {R} in "+s.Paddocks[p].Name+": move or feed them",
			working.T("R", "residual", s.LimitsOf(m, p).Residual, quantity.ForageMass)), Place: "today"})
	}
	out = append(out, atTheGate(s)...)
	for _, c := range rotation.Pressing(plan.Checks, s.Now) {
		at, where := c.At, s.Mobs[c.Mob].Name
		if c.Paddock != rotation.Nowhere {
			where = s.Paddocks[c.Paddock].Name
		}
		out = append(out, Minding{Kind: grazing.MindPlan, State: c.Severity, Where: where, At: &at, Reason: c.Reason, Place: "moves"})
	}
	for _, pair := range rotation.Together(s.Grazers) {
		out = append(out, Minding{Kind: grazing.MindGround, State: grazing.Stop, Where: s.Paddocks[s.Grazers[pair[0]].In].Name, Reason: grazing.Because(s.Mobs[pair[0]].Name + " and " + s.Mobs[pair[1]].Name + " are both in it"), Place: "moves"})
	}
	out = append(out, dueMinding(cautions)...)
	out = append(out, yardMinding(s)...)
	guessed, old := rotation.WalkDue(s.Farm, s.InRotation(), past.Standing, s.Now)
	if guessed != nil {
		out = append(out, Minding{Kind: grazing.MindWalk, State: grazing.Mind, Where: "Walk", Reason: *guessed, Place: "walk"})
	}
	for _, o := range s.Odd(past) {
		at := o.At
		out = append(out, Minding{Kind: grazing.MindWalk, State: grazing.Mind, Where: o.Paddock, At: &at, Reason: grazing.Because("measured {M}, where {B} was believed: look at it",
			working.T("M", "measured", o.Measured, quantity.ForageMass), working.T("B", "believed", o.Believed, quantity.ForageMass)), Place: "walk"})
	}
	out = append(out, books(s)...)
	if s.TooWet("", s.Number(s.Now)) {
		out = append(out, Minding{Kind: grazing.MindWeather, State: grazing.Mind, Where: "Ground", Reason: grazing.Because("too wet: hooves cut in; take the driest paddock"), Place: "walk"})
	}
	if old != nil {
		out = append(out, Minding{Kind: grazing.MindWalk, State: grazing.Soon, Where: "Walk", Reason: *old, Place: "walk"})
	}
	return out
}

func deref(id *string) string {
	if id == nil {
		return ""
	}
	return *id
}

// books is what the books of the stock ask about: what was planned and may have happened, and what cannot have been.
func books(s *season.Season) []Minding {
	var out []Minding
	for _, e := range herd.EventViews(s.Picture) {
		if e.Overdue {
			out = append(out, Minding{Kind: grazing.MindStock, State: grazing.Mind, Where: "Stock", Reason: grazing.Because(e.Says + " was planned: did it happen?"), Place: "stock"})
		}
	}
	for _, g := range s.Groups {
		if _, here := s.MobIndex[deref(g.MobID)]; !here {
			continue
		}
		c, ok := s.Herd.ClassOn(g.ID, s.Number(s.Now))
		if !ok {
			continue
		}
		ref, err := s.Class("", c.ReferenceID)
		if err != nil {
			continue
		}
		if days, overdue := s.Herd.Overdue(g.ID, ref.Species, s.Number(s.Now)); overdue {
			out = append(out, Minding{Kind: grazing.MindStock, State: grazing.Mind, Where: "Stock", Reason: grazing.Because(g.Name+" have been in late pregnancy for {d}: have they given birth? Write it down, or set what they are",
				working.T("d", "in late pregnancy", float64(days), quantity.Day)), Place: "stock"})
		}
	}
	for _, m := range s.Misfits {
		what := m.What
		for _, e := range s.Events {
			if e.ID == m.ID {
				what = herd.EventOf(s.Picture, e, nil).Says
			}
		}
		out = append(out, Minding{Kind: grazing.MindStock, State: grazing.Mind, Where: "Stock", Reason: grazing.Because(what + " does not fit the books and is left out: " + m.Why + ". Put it right, or take it back."), Place: "stock"})
	}
	return out
}

// RidgeDay is the farm's cover on a day.
type RidgeDay struct {
	At    time.Time `json:"at"`
	Cover float64   `json:"cover_kg_dm_ha"`
	Half  float64   `json:"half_width_kg_dm_ha"`
}

// RidgeMove is a move on the ridge.
type RidgeMove struct {
	At    time.Time `json:"at"`
	MobID string    `json:"mob_id"`
	To    string    `json:"to"`
	Past  bool      `json:"past"`
}

// Span is a stretch of time.
type Span struct {
	From time.Time `json:"from"`
	To   time.Time `json:"to"`
}

// RidgeView is the skyline over every place.
type RidgeView struct {
	Now      time.Time       `json:"now"`
	From     time.Time       `json:"from"`
	To       time.Time       `json:"to"`
	PlanEnds time.Time       `json:"plan_ends"`
	Days     []RidgeDay      `json:"days" nullable:"false"`
	Needed   float64         `json:"needed_kg_dm_ha"`
	Moves    []RidgeMove     `json:"moves" nullable:"false"`
	Short    []Span          `json:"short" nullable:"false"`
	Cover    *working.Figure `json:"cover,omitempty"`
	Half     float64         `json:"half_width_kg_dm_ha"`
}

// ridgePast is how many days the ridge looks back.
const ridgePast = 28

// Ridge is farm cover over the last four and the next twelve weeks.
func (s *Service) Ridge(ctx context.Context, a farm.Actor) (RidgeView, error) {
	se, err := s.Season(ctx, a)
	if err != nil {
		return RidgeView{}, err
	}
	past := se.Past()
	plan := se.Ahead()
	v := RidgeView{Now: se.Now, From: se.Now.AddDate(0, 0, -ridgePast), To: se.Now.AddDate(0, 0, season.ForecastDays), PlanEnds: se.PlanEnd(),
		Days: []RidgeDay{}, Moves: []RidgeMove{}, Short: []Span{}, Needed: rotation.CoverNeeded(se.Farm, se.Grazers, se.Now)}
	in := se.InRotation()
	for _, d := range rotation.Cover(se.Farm, in, past.Standing, past.Trace, plan.Trace, se.Outlook(), se.Now, v.From, v.To) {
		v.Days = append(v.Days, RidgeDay{d.At, d.Cover, d.HalfWidth})
		if d.At.Equal(se.Now) {
			v.Half = d.HalfWidth
			v.Cover = rotation.CoverFigure(se.Farm, in, past.Standing, se.Now)
		}
	}
	for _, mv := range se.Moves {
		if mv.ToPaddockID != nil && mv.MovedAt.After(v.From) {
			if _, ok := se.MobIndex[mv.MobID]; ok {
				v.Moves = append(v.Moves, RidgeMove{mv.MovedAt, mv.MobID, se.Names[*mv.ToPaddockID], true})
			}
		}
	}
	for _, vis := range plan.Visits {
		if !vis.Fact {
			v.Moves = append(v.Moves, RidgeMove{vis.Enter, se.Mobs[vis.Mob].ID, se.Paddocks[vis.Paddock].Name, false})
		}
	}
	for _, short := range rotation.Short(plan) {
		v.Short = append(v.Short, Span{short.From, short.To})
	}
	return v, nil
}
