package today

import (
	"context"
	"math"
	"time"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/core/rotation"
	"fjell/core/working"
	"fjell/internal/farm"
	"fjell/internal/farm/herd"
	"fjell/internal/farm/moves"
	"fjell/internal/farm/season"
)

// CautionView is a usual caution at the moment it matters.
type CautionView struct {
	ID          string   `json:"id"`
	Title       string   `json:"title"`
	Watch       string   `json:"what_to_watch"`
	Precautions []string `json:"usual_precautions" nullable:"false"`
	Ask         string   `json:"who_to_ask"`
}

// TodayMob is one mob's column: where it is, how long the feed lasts, where next and why.
type TodayMob struct {
	MobID       string           `json:"mob_id"`
	Name        string           `json:"name"`
	Letter      string           `json:"letter"`
	Glyph       string           `json:"glyph"`
	Counts      []ClassCount     `json:"counts" nullable:"false"`
	PaddockID   string           `json:"paddock_id"`
	PaddockName string           `json:"paddock_name"`
	Since       *time.Time       `json:"since" nullable:"true"`
	Mass        *season.MassView `json:"mass,omitempty"`
	Residual    float64          `json:"residual_kg_dm_ha"`
	Until       *time.Time       `json:"feed_until" nullable:"true"`
	GiveHours   float64          `json:"give_hours"`
	Stay        *working.Figure  `json:"stay,omitempty"`
	Points      [][2]float64     `json:"points" nullable:"false"`
	Next        *moves.VisitView `json:"next,omitempty"`
	NextMass    *season.MassView `json:"next_mass,omitempty"`
	NextStay    *working.Figure  `json:"next_stay,omitempty"`
	Linger      *grazing.Reason  `json:"linger,omitempty"`
	FenceKV     float64          `json:"fence_kv"`
	Cautions    []CautionView    `json:"cautions" nullable:"false"`
}

// ClassCount is how many of a class are in a mob.
type ClassCount struct {
	Name  string  `json:"name"`
	Count float64 `json:"count"`
}

// Minding is something that needs a look.
type Minding struct {
	State  grazing.State  `json:"state"`
	Where  string         `json:"where"`
	At     *time.Time     `json:"at" nullable:"true"`
	Reason grazing.Reason `json:"reason"`
	Place  string         `json:"place"`
}

// TodayView answers: what do I do now, and may I?
type TodayView struct {
	Now     time.Time  `json:"now"`
	Mobs    []TodayMob `json:"mobs" nullable:"false"`
	Minding []Minding  `json:"minding" nullable:"false"`
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
	out.Minding = minding(se, past, plan)
	return out, nil
}

func todayMob(s *season.Season, i int, past rotation.Past, plan rotation.Plan) TodayMob {
	m, rm := s.Mobs[i], s.Grazers[i]
	v := TodayMob{MobID: m.ID, Name: m.Name, Letter: m.Letter, Glyph: m.Glyph, Counts: []ClassCount{}, Points: [][2]float64{}, Cautions: []CautionView{}}
	for _, c := range s.Classes(m.ID) {
		v.Counts = append(v.Counts, ClassCount{c.DisplayedName, c.Count})
		if ref, err := s.Class("", c.ReferenceID); err == nil {
			v.FenceKV = math.Max(v.FenceKV, ref.MinimumFenceKV)
		}
	}
	demand := s.DemandNow(i)
	if rm.In != rotation.Nowhere {
		p := rm.In
		st, l := past.Standing[p], rm.Limits[p]
		since, mass := rm.Since, s.MassView(st)
		until, give := rotation.FeedUntil(s.Farm, rm, p, st, s.Now)
		stay := rotation.StayFigure(s.Farm.Paddocks[p], l, st.Mass, demand)
		v.PaddockID, v.PaddockName, v.Since, v.Mass, v.Residual = s.Paddocks[p].ID, s.Paddocks[p].Name, &since, &mass, l.Residual
		v.Until, v.GiveHours, v.Stay = &until, give*24, &stay
		for _, tr := range [][]rotation.TracePoint{past.Trace[p], plan.Trace[p]} {
			for _, pt := range tr {
				if pt.At.After(s.Now.AddDate(0, 0, -14)) && pt.At.Before(s.Now.AddDate(0, 0, 7)) {
					v.Points = append(v.Points, [2]float64{float64(pt.At.Unix()), pt.Mass})
				}
			}
		}
	}
	for k, vis := range plan.Visits {
		if vis.Mob != i {
			continue
		}
		if vis.Fact {
			if d := season.DaysOrNil(vis.LingerDays); d != nil && *d >= 1.5 {
				r := grazing.Because("Stay one day longer than planned: leaves {M}, and the paddock is back {d} later.",
					working.T("M", "left", vis.LingerMass, quantity.ForageMass), working.T("d", "later", *d, quantity.Day))
				v.Linger = &r
			}
			continue
		}
		next := moves.VisitOf(s, plan.Visits[k])
		st := past.Standing[vis.Paddock]
		mass := s.MassView(st)
		stay := rotation.StayFigure(s.Farm.Paddocks[vis.Paddock], rm.Limits[vis.Paddock], vis.MassIn, demand)
		v.Next, v.NextMass, v.NextStay = &next, &mass, &stay
		v.Cautions = cautions(s, i, vis.Paddock)
		break
	}
	return v
}

// bloatShare is the share of legume from which the bloat caution is shown before entry.
const bloatShare = 0.25

// cautions picks what can hurt on this move: the ground they go to, the animals themselves, and always the fence and
// being alone.
func cautions(s *season.Season, mob, paddock int) []CautionView {
	lib := reference.Load()
	pad := s.Paddocks[paddock]
	legume := pad.Sward.LegumeShare
	if pad.LegumeShare != nil {
		legume = *pad.LegumeShare
	}
	ids := []string{}
	species := map[string]bool{}
	for _, c := range s.Classes(s.Mobs[mob].ID) {
		ref, err := s.Class("", c.ReferenceID)
		if err != nil {
			continue
		}
		species[ref.Species] = true
		if ref.Species == "cattle" && (ref.Stage == "male" || c.ReferenceID == "beef_calf_at_foot") {
			ids = append(ids, "bulls_and_fresh_calved_cows")
		}
	}
	if legume >= bloatShare && !(len(species) == 1 && species["horses"]) {
		ids = append([]string{"bloat"}, ids...)
	}
	ids = append(ids, "electric_fence_shock", "lone_work")
	out := []CautionView{}
	seen := map[string]bool{}
	for _, id := range ids {
		if c, err := lib.Caution(id); err == nil && !seen[id] {
			seen[id] = true
			out = append(out, CautionView{c.ID, c.Title, c.Watch, c.Precautions, c.Ask})
		}
	}
	return out
}

// walkDueDays is how old a walk may be before another is due.
const walkDueDays = 7

func minding(s *season.Season, past rotation.Past, plan rotation.Plan) []Minding {
	out := []Minding{}
	soon := s.Now.AddDate(0, 0, 21)
	seen := map[rotation.Rule]int{}
	for _, c := range plan.Checks {
		if c.At.After(soon) || c.At.Before(s.Now.AddDate(0, 0, -1)) {
			continue
		}
		if seen[c.Rule]++; seen[c.Rule] > 2 {
			continue
		}
		at := c.At
		where := s.Mobs[c.Mob].Name
		if c.Paddock != rotation.Nowhere {
			where = s.Paddocks[c.Paddock].Name
		}
		out = append(out, Minding{c.Severity, where, &at, c.Reason, "moves"})
	}
	at := map[int]string{}
	for i, m := range s.Grazers {
		if m.In == rotation.Nowhere {
			continue
		}
		if other, ok := at[m.In]; ok {
			out = append(out, Minding{grazing.Stop, s.Paddocks[m.In].Name, nil, grazing.Because(other + " and " + s.Mobs[i].Name + " are both in it"), "moves"})
		}
		at[m.In] = s.Mobs[i].Name
	}
	guessed, oldest := 0, 0.0
	for p, st := range past.Standing {
		if !s.InRotation()[p] || s.ClosedNow(p) != "" {
			continue
		}
		if st.Guessed {
			guessed++
		} else {
			oldest = math.Max(oldest, s.Now.Sub(st.MeasuredAt).Hours()/24)
		}
	}
	if guessed > 0 {
		out = append(out, Minding{grazing.Mind, "Walk", nil, grazing.Because("{n} paddocks nobody has measured: they stand at a guess, ± 40 %",
			working.T("n", "paddocks", float64(guessed), quantity.Count)), "walk"})
	}
	for _, o := range s.Odd(past) {
		at := o.At
		out = append(out, Minding{grazing.Mind, o.Paddock, &at, grazing.Because("measured {M}, where {B} was believed: look at it",
			working.T("M", "measured", o.Measured, quantity.ForageMass), working.T("B", "believed", o.Believed, quantity.ForageMass)), "walk"})
	}
	for _, e := range herd.EventViews(s.Picture) {
		if e.Overdue {
			out = append(out, Minding{grazing.Mind, "Stock", nil, grazing.Because(e.Says + " was planned: did it happen?"), "stock"})
		}
	}
	for _, m := range s.Misfits {
		what := m.What
		for _, e := range s.Events {
			if e.ID == m.ID {
				what = herd.EventOf(s.Picture, e, nil).Says
			}
		}
		out = append(out, Minding{grazing.Mind, "Stock", nil, grazing.Because(what + " does not fit the books and is left out: " + m.Why + ". Put it right, or take it back."), "stock"})
	}
	if wet, _ := s.WetNow(""); wet {
		out = append(out, Minding{grazing.Mind, "Ground", nil, grazing.Because("too wet: hooves cut in; take the driest paddock"), "walk"})
	}
	if oldest > walkDueDays {
		out = append(out, Minding{grazing.Soon, "Walk", nil, grazing.Because("due: the oldest measurement is {d} old", working.T("d", "age", oldest, quantity.Day)), "walk"})
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
	for _, d := range rotation.Cover(se.Farm, in, past.Standing, past.Trace, plan.Trace, se.Now, v.From, v.To) {
		v.Days = append(v.Days, RidgeDay{d.At, d.Cover, d.HalfWidth})
		if d.At.Equal(se.Now) {
			v.Half = d.HalfWidth
			v.Cover = coverFigure(se, in, past.Standing)
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
		if vis.Short > 0.02*vis.Demand {
			if k := len(v.Short) - 1; k >= 0 && vis.Enter.Before(v.Short[k].To.AddDate(0, 0, 4)) {
				if vis.Leave.After(v.Short[k].To) {
					v.Short[k].To = vis.Leave
				}
			} else {
				v.Short = append(v.Short, Span{vis.Enter, vis.Leave})
			}
		}
	}
	return v, nil
}

func coverFigure(s *season.Season, in []bool, standing []rotation.Standing) *working.Figure {
	var area, mass float64 // no measured paddock: no figure
	for p, pad := range s.Farm.Paddocks {
		if in[p] && s.ClosedNow(p) == "" && !standing[p].Guessed {
			area += pad.AreaHa
			mass += pad.AreaHa * standing[p].Mass
		}
	}
	if area == 0 {
		return nil
	}
	f := working.Of("measured paddocks of the rotation, carried forward by growth and grazing",
		working.New("Farm cover", "ΣMa ÷ A", mass/area, quantity.ForageMass, working.T("ΣMa", "standing on measured paddocks", mass, quantity.Kilogram),
			working.T("A", "their area", area, quantity.Hectare)))
	return &f
}
