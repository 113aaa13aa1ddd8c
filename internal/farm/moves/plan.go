package moves

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"gorm.io/gorm"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/rotation"
	"fjell/core/rotation/plan"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// PlanMobInput is a mob of a plan with the plan's own copy of its school.
type PlanMobInput struct {
	MobID   string         `json:"mob_id"`
	School  grazing.School `json:"school"`
	Follows string         `json:"follows,omitempty"` // the mob whose paddocks it gets when that goes on; empty: it goes its own way
}

// PlanInput starts a plan or changes its rules.
type PlanInput struct {
	StartsOn  string         `json:"starts_on"`
	Days      float64        `json:"plan_days"`
	Mobs      []PlanMobInput `json:"mobs" nullable:"false"`
	Careful   bool           `json:"careful,omitempty"` // searches weigh moves by what they come to in a poor season
	Confirmed bool           `json:"confirmed,omitempty"`
}

// NewPlan is a plan with the id its maker gave it.
type NewPlan struct {
	ID string `json:"id"`
	PlanInput
}

// PlanMeta is a plan without its rows.
type PlanMeta struct {
	ID       string         `json:"id"`
	StartsOn string         `json:"starts_on"`
	Days     int            `json:"plan_days"`
	Mobs     []PlanMobInput `json:"mobs" nullable:"false"`
	Careful  bool           `json:"careful,omitempty"`
	Version  int            `json:"version"`
	Accepted *time.Time     `json:"accepted_at" nullable:"true"`
}

// AlternativeView is a paddock that could be taken instead.
type AlternativeView struct {
	PaddockID string           `json:"paddock_id"`
	Name      string           `json:"name"`
	Mass      float64          `json:"forage_mass_kg_dm_ha"`
	State     grazing.State    `json:"state"`
	Reasons   []grazing.Reason `json:"reasons" nullable:"false"`
}

// VisitView is one stay, past or planned.
type VisitView struct {
	MobID       string            `json:"mob_id"`
	PaddockID   string            `json:"paddock_id"`
	PaddockName string            `json:"paddock_name"`
	Enter       time.Time         `json:"enter_at"`
	Leave       time.Time         `json:"leave_at"`
	Kind        string            `json:"kind" enum:"past,now,planned,beyond"`
	PinID       string            `json:"pin_id"`
	Found       bool              `json:"found"` // a search chose it
	MassIn      float64           `json:"mass_in_kg_dm_ha"`
	MassOut     float64           `json:"mass_out_kg_dm_ha"`
	Rest        *float64          `json:"rest_days" nullable:"true"`
	StayDays    float64           `json:"stay_days"`
	Feed        float64           `json:"feed_kg_dm"`
	Demand      float64           `json:"demand_kg_dm"`
	Eaten       float64           `json:"eaten_kg_dm"`
	Short       float64           `json:"short_kg_dm"`
	Utilisation float64           `json:"used_share"`
	State       grazing.State     `json:"state"`
	Reasons     []grazing.Reason  `json:"reasons" nullable:"false"`
	Instead     []AlternativeView `json:"instead" nullable:"false"`
	Linger      *grazing.Reason   `json:"linger,omitempty"` // what a day longer costs, where it costs something
	RestNeeded  *float64          `json:"rest_needed_days" nullable:"true"`
	RestBinds   string            `json:"rest_binds"`
}

// CheckView is one thing a plan does that its school would not.
type CheckView struct {
	Rule      rotation.Rule  `json:"rule"`
	Severity  grazing.State  `json:"severity"`
	At        time.Time      `json:"at"`
	MobID     string         `json:"mob_id"`
	PaddockID string         `json:"paddock_id"`
	Reason    grazing.Reason `json:"reason"`
}

// RidgeRow is one paddock's forage mass over time: points of (seconds since 1970, kg DM/ha, 95 % half-width).
type RidgeRow struct {
	PaddockID string          `json:"paddock_id"`
	Name      string          `json:"name"`
	AreaHa    float64         `json:"area_ha"`
	Mass      season.MassView `json:"mass"`
	Entry     float64         `json:"entry_kg_dm_ha"`
	Residual  float64         `json:"residual_kg_dm_ha"`
	HasMob    bool            `json:"has_mob"`
	ClosedFor string          `json:"closed_for"`
	Points    [][3]float64    `json:"points" nullable:"false"`
}

// BiteView is what a mob's way of grazing takes of one of its swards, as the plan has it.
type BiteView struct {
	MobID string        `json:"mob_id"`
	Sward string        `json:"sward"`
	Usual grazing.Bite  `json:"usual"`
	Hot   *grazing.Bite `json:"hot,omitempty"` // in the hot weeks, where they differ
}

// PlanView is the plan of moves with every ridge.
type PlanView struct {
	Plan    *PlanMeta        `json:"plan,omitempty"`
	Search  *SearchView      `json:"search,omitempty"` // nil: nobody has looked for a better one
	Now     time.Time        `json:"now"`
	From    time.Time        `json:"from"`
	To      time.Time        `json:"to"`
	Ends    time.Time        `json:"plan_ends"`
	Rows    []RidgeRow       `json:"rows" nullable:"false"`
	Visits  []VisitView      `json:"visits" nullable:"false"`
	Checks  []CheckView      `json:"checks" nullable:"false"`
	Schools []grazing.School `json:"schools" nullable:"false"`
	Bites   []BiteView       `json:"bites" nullable:"false"`
	Pulses  []PulseView      `json:"pulses" nullable:"false"`
}

// Plan is the farm's present plan, its rows computed anew from the facts.
func (s *Service) Plan(ctx context.Context, a farm.Actor) (PlanView, error) {
	se, err := s.Season(ctx, a)
	if err != nil {
		return PlanView{}, err
	}
	return planView(se), nil
}

// pastOnRidges is how many days of what happened the ridges show.
const pastOnRidges = 21

func planView(s *season.Season) PlanView {
	past := s.Past()
	plan, outlook := s.Ahead(), s.Outlook()
	v := PlanView{Now: s.Now, From: s.Now.AddDate(0, 0, -pastOnRidges), Ends: s.PlanEnd(), Rows: []RidgeRow{}, Visits: []VisitView{}, Checks: []CheckView{},
		Schools: grazing.Ways(), Bites: bites(s), Pulses: pulses(s)}
	v.To = v.Ends
	if least := s.Now.AddDate(0, 0, 14); v.To.Before(least) {
		v.To = least
	}
	v.Plan, v.Search = planMeta(s.Picture), searchView(s)
	for p, pad := range s.Paddocks {
		l := s.Limits(p)
		st := past.Standing[p]
		row := RidgeRow{PaddockID: pad.ID, Name: pad.Name, AreaHa: pad.Shape.AreaHa, Mass: s.MassView(st), Entry: l.Entry, Residual: l.Residual,
			ClosedFor: s.ClosedNow(p), Points: [][3]float64{}}
		for _, m := range s.Grazers {
			row.HasMob = row.HasMob || m.Ground[p]
		}
		for i, tr := range [][]rotation.TracePoint{past.Trace[p], plan.Trace[p]} {
			for k, pt := range tr {
				if half := pt.Half; !pt.At.Before(v.From) && !pt.At.After(v.To) {
					if i == 1 {
						half = outlook.Half[p][k]
					}
					row.Points = append(row.Points, [3]float64{float64(pt.At.Unix()), pt.Mass, half})
				}
			}
		}
		v.Rows = append(v.Rows, row)
	}
	for _, stay := range s.Stays {
		if !stay.Leave.IsZero() && stay.Leave.After(v.From) {
			v.Visits = append(v.Visits, pastVisit(s, stay, past))
		}
	}
	for _, vis := range plan.Visits {
		if vis.Enter.Before(v.To) {
			v.Visits = append(v.Visits, VisitOf(s, vis))
		}
	}
	for _, c := range plan.Checks {
		if c.At.Before(v.Ends) {
			v.Checks = append(v.Checks, checkView(s, c))
		}
	}
	return v
}

// bites are what each way of grazing takes of each sward its mob grazes.
func bites(s *season.Season) []BiteView {
	out := []BiteView{}
	if s.Plan == nil {
		return out
	}
	for i, m := range s.Grazers {
		said := map[string]bool{}
		for p, pad := range s.Paddocks {
			if !m.Ground[p] || said[pad.Sward.ID] || !s.Planned(m.ID) {
				continue
			}
			said[pad.Sward.ID] = true
			l, err := s.School(m.ID).On(pad.Sward)
			if err != nil {
				continue // the ground was changed after the plan took its copy
			}
			v := BiteView{MobID: s.Mobs[i].ID, Sward: pad.Sward.Name, Usual: l.Bite(pad.Sward)}
			if hot, differs := l.InHeat(); differs {
				b := hot.Bite(pad.Sward)
				v.Hot = &b
			}
			out = append(out, v)
		}
	}
	return out
}

// planMeta is the present plan without its rows; nil where there is none.
func planMeta(p *facts.Picture) *PlanMeta {
	if p.Plan == nil {
		return nil
	}
	v := &PlanMeta{ID: p.Plan.ID, StartsOn: string(p.Plan.StartsOn), Days: p.Plan.Days, Mobs: []PlanMobInput{}, Careful: p.Plan.Careful, Version: p.Plan.Version, Accepted: p.Plan.Accepted}
	for _, m := range p.Plan.Mobs {
		v.Mobs = append(v.Mobs, PlanMobInput{m.MobID, m.School.V, p.Follows(m.MobID)})
	}
	return v
}

func checkView(s *season.Season, c rotation.Check) CheckView {
	v := CheckView{Rule: c.Rule, Severity: c.Severity, At: c.At, MobID: s.Mobs[c.Mob].ID, Reason: c.Reason}
	if c.Paddock != rotation.Nowhere {
		v.PaddockID = s.Paddocks[c.Paddock].ID
	}
	return v
}

func pastVisit(s *season.Season, stay rotation.Stay, past rotation.Past) VisitView {
	pad := s.Paddocks[stay.Paddock]
	v := VisitView{MobID: s.Mobs[stay.Mob].ID, PaddockID: pad.ID, PaddockName: pad.Name, Enter: stay.Enter, Leave: stay.Leave, Kind: "past",
		StayDays: stay.Leave.Sub(stay.Enter).Hours() / 24, Reasons: []grazing.Reason{}, Instead: []AlternativeView{}}
	v.MassIn, v.MassOut = rotation.MassAt(past.Trace[stay.Paddock], stay.Enter), rotation.MassAt(past.Trace[stay.Paddock], stay.Leave)
	return v
}

// VisitOf tells of a planned visit, with why it is the next.
func VisitOf(s *season.Season, vis rotation.Visit) VisitView {
	pad := s.Paddocks[vis.Paddock]
	v := VisitView{MobID: s.Mobs[vis.Mob].ID, PaddockID: pad.ID, PaddockName: pad.Name, Enter: vis.Enter, Leave: vis.Leave, Kind: "planned", Found: vis.Found,
		MassIn: vis.MassIn, MassOut: vis.MassOut, Rest: vis.Rest, StayDays: vis.Leave.Sub(vis.Enter).Hours() / 24, Feed: vis.Feed, Demand: vis.Demand,
		Eaten: vis.Eaten, Short: vis.Short, State: vis.State, Reasons: vis.Reasons, Instead: []AlternativeView{}, Linger: rotation.Linger(vis),
		RestNeeded: season.DaysOrNil(vis.Needs.Days), RestBinds: vis.Needs.Binds}
	if in := rotation.MassAt(s.Past().Trace[vis.Paddock], vis.Enter); vis.Fact && in > 0 {
		v.MassIn = in // what they entered at, not what is left of it now
	}
	if v.MassIn > 0 {
		v.Utilisation = max(0, v.MassIn-v.MassOut) / v.MassIn
	}
	switch {
	case vis.Fact:
		v.Kind = "now"
	case !vis.Enter.Before(s.PlanEnd()):
		v.Kind = "beyond"
	}
	if vis.Pinned && s.Plan != nil {
		for _, pin := range s.Plan.Pins {
			if pin.MobID == v.MobID && pin.PaddockID == v.PaddockID && pin.EnterAt.Equal(vis.Enter) {
				v.PinID = pin.ID
			}
		}
	}
	for _, alt := range vis.Instead {
		v.Instead = append(v.Instead, AlternativeView{s.Paddocks[alt.Paddock].ID, s.Paddocks[alt.Paddock].Name, alt.Mass, alt.State, alt.Reasons})
	}
	return v
}

func (in *PlanInput) check(p *facts.Picture) error {
	if err := farm.Judge(in, in.Confirmed); err != nil {
		return err
	}
	start, err := store.Day(in.StartsOn).Time(p.Location)
	if err != nil {
		return quantity.Refuse("starts_on", in.StartsOn, "must be a day, such as 2026-06-10")
	}
	if start.Before(p.Now.AddDate(0, 0, -90)) || start.After(p.Now.AddDate(0, 0, 60)) {
		return quantity.Refuse("starts_on", in.StartsOn, "a plan starts at most 90 days back and 60 days ahead")
	}
	if !start.AddDate(0, 0, int(in.Days)).After(p.Now) {
		return quantity.Refuse("plan_days", in.Days, "this plan would end before today")
	}
	if len(in.Mobs) == 0 {
		return quantity.Refuse("mobs", 0, "a plan moves at least one mob")
	}
	ids, follows := make([]string, len(in.Mobs)), make([]string, len(in.Mobs))
	for i, m := range in.Mobs {
		ids[i], follows[i] = m.MobID, m.Follows
	}
	if err := plan.CheckTrails(ids, follows); err != nil {
		return err
	}
	for i, m := range in.Mobs {
		known := false
		for _, rec := range p.Mobs {
			known = known || rec.ID == m.MobID
		}
		if !known {
			return quantity.Refuse(fmt.Sprintf("mobs[%d].mob_id", i), m.MobID, "is not a mob of this farm")
		}
		if m.Follows != "" && !season.SharedGround(p, m.MobID, m.Follows) {
			return quantity.Refuse(fmt.Sprintf("mobs[%d].follows", i), nil, "they may graze none of that mob's paddocks: give them the ground first, in Stock")
		}
		if err := suits(m.School, p); err != nil {
			return quantity.Within(fmt.Sprintf("mobs[%d]", i), err)
		}
		if m.School.Key == grazing.PulseWay {
			if err := pulseFits(p, m.MobID, in); err != nil {
				return err
			}
		}
		usual, err := grazing.FindSchool(m.School.Key)
		if err != nil {
			return err
		}
		in.Mobs[i].School.Name, in.Mobs[i].School.Idea, in.Mobs[i].School.Method = usual.Name, usual.Idea, usual.Method
	}
	return nil
}

// suits refuses a school that contradicts itself, or that cannot be followed on some ground of the farm.
func suits(school grazing.School, p *facts.Picture) error {
	if err := school.Check(); err != nil {
		return err
	}
	for _, pad := range p.Paddocks {
		if _, err := school.On(pad.Sward); err != nil {
			return err
		}
	}
	return nil
}

// CreatePlan starts a new plan; the one before is kept.
func (s *Service) CreatePlan(ctx context.Context, a farm.Actor, in NewPlan) (PlanView, error) {
	err := s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "plan", Body: in}, func(tx *facts.Writing) error {
		p, err := tx.Picture()
		if err != nil {
			return err
		}
		if err := in.check(p); err != nil {
			return err
		}
		if err := tx.Create(&store.Plan{FarmID: a.FarmID, ID: in.ID, StartsOn: store.Day(in.StartsOn), Days: int(in.Days), Careful: in.Careful, Seq: tx.Version, Version: 1, CreatedAt: time.Now().UTC()}).Error; err != nil {
			return err
		}
		return in.saveMobs(tx.DB, a.FarmID, in.ID)
	})
	return farm.After(err, func() (PlanView, error) { return s.Plan(ctx, a) })
}

func (in PlanInput) saveMobs(tx *gorm.DB, farmID, planID string) error {
	if err := tx.Where("farm_id = ? AND plan_id = ?", farmID, planID).Delete(&store.PlanMob{}).Error; err != nil {
		return err
	}
	for _, m := range in.Mobs {
		row := store.PlanMob{FarmID: farmID, PlanID: planID, MobID: m.MobID, School: store.JSON[grazing.School]{V: m.School}}
		if m.Follows != "" {
			row.Follows = &m.Follows
		}
		if err := tx.Create(&row).Error; err != nil {
			return err
		}
	}
	return nil
}

// UpdatePlan changes a plan's days and its copies of the schools; its pins stay.
func (s *Service) UpdatePlan(ctx context.Context, a farm.Actor, id string, version int, in PlanInput) (PlanView, error) {
	err := s.Write(ctx, a, farm.Request{Kind: "update plan", Body: []any{id, version, in}}, func(tx *facts.Writing) error {
		row, err := farm.Find[store.Plan](tx.DB, a.FarmID, "", id)
		if err != nil {
			return err
		}
		p, err := tx.Picture()
		if err != nil {
			return err
		}
		if err := in.check(p); err != nil {
			return err
		}
		if err := farm.Bump[store.Plan](tx.DB, a.FarmID, id, version, row.Version, func() any { return planMeta(p) }); err != nil {
			return err
		}
		if err := tx.Model(&store.Plan{}).Where("farm_id = ? AND id = ?", a.FarmID, id).
			Updates(map[string]any{"starts_on": store.Day(in.StartsOn), "days": int(in.Days), "careful": in.Careful}).Error; err != nil {
			return err
		}
		return in.saveMobs(tx.DB, a.FarmID, id)
	})
	return farm.After(err, func() (PlanView, error) { return s.Plan(ctx, a) })
}

// WithdrawPlan takes the present plan back after it was begun; the one before it, with its pins, holds again.
func (s *Service) WithdrawPlan(ctx context.Context, a farm.Actor, id string) (PlanView, error) {
	err := s.Write(ctx, a, farm.Request{Kind: "withdraw plan", Body: id}, func(tx *facts.Writing) error {
		p, err := tx.Picture()
		if err != nil {
			return err
		}
		if p.Plan == nil || p.Plan.ID != id {
			return farm.ErrNotFound
		}
		return tx.Model(&store.Plan{}).Where("farm_id = ? AND id = ?", a.FarmID, id).Update("ended_at", tx.Now.UTC()).Error
	})
	return farm.After(err, func() (PlanView, error) { return s.Plan(ctx, a) })
}

// NewPin fixes a move of the present plan. Instead names a pin that this one takes the place of.
type NewPin struct {
	ID        string     `json:"id"`
	MobID     string     `json:"mob_id"`
	PaddockID string     `json:"paddock_id"`
	Enter     time.Time  `json:"enter_at"`
	Leave     *time.Time `json:"leave_at,omitempty"`
	Instead   string     `json:"instead_of,omitempty"`
}

// PinMove fixes a move; everything else re-forms around it. A pin that would put two mobs together is refused.
func (s *Service) PinMove(ctx context.Context, a farm.Actor, in NewPin) (PlanView, error) {
	err := s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "pin", Body: in}, func(tx *facts.Writing) error {
		plan, err := fits(tx, in)
		if err != nil {
			return err
		}
		return tx.Create(&store.Pin{FarmID: a.FarmID, ID: in.ID, PlanID: plan, MobID: in.MobID, PaddockID: in.PaddockID, EnterAt: in.Enter.UTC(), LeaveAt: in.Leave}).Error
	})
	return farm.After(err, func() (PlanView, error) { return s.Plan(ctx, a) })
}

// RestorePin fixes a move again that was let go, or that another, instead, has taken the place of.
func (s *Service) RestorePin(ctx context.Context, a farm.Actor, id, instead string) (PlanView, error) {
	err := s.Write(ctx, a, farm.Request{Kind: "restore pin", Body: [2]string{id, instead}}, func(tx *facts.Writing) error {
		pin, err := farm.Find[store.Pin](tx.DB, a.FarmID, "", id)
		if err != nil {
			return err
		}
		plan, err := fits(tx, NewPin{ID: id, MobID: pin.MobID, PaddockID: pin.PaddockID, Enter: pin.EnterAt, Leave: pin.LeaveAt, Instead: instead})
		if err != nil {
			return err
		}
		if plan != pin.PlanID {
			return quantity.Refuse("plan", nil, "that move was fixed in an earlier plan")
		}
		return tx.Model(&store.Pin{}).Where("farm_id = ? AND id = ?", a.FarmID, id).Update("ended_at", nil).Error
	})
	return farm.After(err, func() (PlanView, error) { return s.Plan(ctx, a) })
}

// fits ends the pin that another takes the place of, and tells the plan that the new one fits into.
func fits(tx *facts.Writing, in NewPin) (plan string, err error) {
	p, err := tx.Picture()
	if err != nil {
		return "", err
	}
	if p, err = withoutPin(p, in.Instead); err != nil {
		return "", err
	}
	if in.Instead != "" {
		if err := endPin(tx, in.Instead); err != nil {
			return "", err
		}
	}
	se, err := season.Of(p)
	if err != nil {
		return "", err
	}
	return p.Plan.ID, checkPin(se, in)
}

// withoutPin is a farm with a pin of its plan let go; what it was made from stays as it is.
func withoutPin(p *facts.Picture, id string) (*facts.Picture, error) {
	if p.Plan == nil {
		return nil, quantity.Refuse("plan", nil, "start a plan first, then pin its moves")
	}
	picture, plan := *p, *p.Plan
	plan.Pins = slices.DeleteFunc(slices.Clone(plan.Pins), func(pin store.Pin) bool { return pin.ID == id })
	picture.Plan = &plan
	return &picture, nil
}

func endPin(tx *facts.Writing, id string) error {
	return tx.Model(&store.Pin{}).Where("farm_id = ? AND id = ?", tx.Actor.FarmID, id).Update("ended_at", tx.Now.UTC()).Error
}

func checkPin(s *season.Season, in NewPin) error {
	m, ok := s.MobIndex[in.MobID]
	if !ok {
		return quantity.Refuse("mob_id", in.MobID, "is not a mob of this farm")
	}
	p, ok := s.ByID[in.PaddockID]
	if !ok {
		return quantity.Refuse("paddock_id", in.PaddockID, "is not a paddock of this farm")
	}
	if why, closed := s.Farm.Paddocks[p].ClosedAt(in.Enter); closed {
		return quantity.Refuse("paddock_id", nil, "%s is closed then: %s", s.Paddocks[p].Name, why)
	}
	if why := season.Against(s.Picture, in.MobID, p, in.Enter); why != "" {
		return quantity.Refuse("paddock_id", nil, "%s", why)
	}
	if leader := s.Grazers[m].Follows; leader != "" {
		return quantity.Refuse("mob_id", nil, "%s go where %s were: move those, or change the rules of the plan", s.Mobs[m].Name, s.Mobs[s.MobIndex[leader]].Name)
	}
	for _, pin := range s.Plan.Pins {
		if pin.MobID == in.MobID && pin.ID != in.Instead && pin.EnterAt.Equal(in.Enter) {
			return quantity.Refuse("enter_at", in.Enter.Format(time.RFC3339), "they are to go somewhere at that hour already: drag that move, or pick another hour")
		}
	}
	if !s.Farm.Hours.On(s.Number(in.Enter)) {
		return quantity.Refuse("enter_at", in.Enter.Format(time.RFC3339), "nobody moves stock that day: pick another, or change when stock are moved")
	}
	if !in.Enter.After(s.Now) {
		return quantity.Refuse("enter_at", in.Enter.Format(time.RFC3339), "a planned move lies in the future")
	}
	if in.Enter.After(s.PlanEnd()) {
		return quantity.Refuse("enter_at", in.Enter.Format(time.RFC3339), "the plan ends before that: make it longer first")
	}
	if in.Leave != nil && !in.Leave.After(in.Enter) {
		return quantity.Refuse("leave_at", in.Leave.Format(time.RFC3339), "they must leave after they enter")
	}
	plan := s.Forecast(s.Past(), season.RotationPin(m, p, in.Enter, in.Leave))
	for _, c := range plan.Checks {
		if c.Rule == rotation.TwoMobs && c.Paddock == p {
			return quantity.Refuse("paddock_id", nil, "another mob is in %s at that time: pick another day or paddock", s.Paddocks[p].Name)
		}
	}
	return nil
}

// Unpin lets a pinned move go; it can be put back.
func (s *Service) Unpin(ctx context.Context, a farm.Actor, id string) (PlanView, error) {
	err := s.Write(ctx, a, farm.Request{Kind: "unpin", Body: id}, func(tx *facts.Writing) error {
		pin, err := farm.Find[store.Pin](tx.DB, a.FarmID, "", id)
		if err != nil {
			return err
		}
		if pin.EndedAt != nil {
			return farm.ErrNotFound
		}
		return endPin(tx, id)
	})
	return farm.After(err, func() (PlanView, error) { return s.Plan(ctx, a) })
}

// Problem is the present plan as a planning problem on its own, for fjell plan and for whoever asks why a plan is as it is.
func (s *Service) Problem(ctx context.Context, a farm.Actor) ([]byte, error) {
	se, err := s.Season(ctx, a)
	if err != nil {
		return nil, err
	}
	if len(se.Grazers) == 0 || len(se.Paddocks) == 0 {
		return nil, quantity.Refuse("plan", nil, "there is nothing to plan yet: a plan needs paddocks and a mob")
	}
	raw, err := json.MarshalIndent(se.Problem(), "", " ")
	if err != nil {
		return nil, fmt.Errorf("write the problem: %w", err)
	}
	return raw, nil
}

// AcceptPlan keeps the plan as it stands, so that what was meant can be held against what was done.
func (s *Service) AcceptPlan(ctx context.Context, a farm.Actor, id, acceptedID string) (PlanView, error) {
	err := s.Write(ctx, a, farm.Request{ID: acceptedID, Kind: "accept", Body: id}, func(tx *facts.Writing) error {
		p, err := tx.Picture()
		if err != nil {
			return err
		}
		se, err := season.Of(p)
		if err != nil {
			return err
		}
		v := planView(se)
		if v.Plan == nil || v.Plan.ID != id {
			return farm.ErrNotFound
		}
		return tx.Create(&store.AcceptedPlan{FarmID: a.FarmID, ID: acceptedID, PlanID: id, AcceptedAt: time.Now().UTC(), AcceptedBy: a.UserID,
			Visits: store.JSON[any]{V: v.Visits}}).Error
	})
	return farm.After(err, func() (PlanView, error) { return s.Plan(ctx, a) })
}
