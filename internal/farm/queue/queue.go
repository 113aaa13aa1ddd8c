// Package queue is the weekly look at a farm: am I ahead or behind, and what if?
package queue

import (
	"context"
	"math"
	"time"

	"fjell/core/grazing"
	"fjell/core/quantity"
	core "fjell/core/queue"
	"fjell/core/rotation"
	"fjell/core/working"
	"fjell/internal/farm"
	"fjell/internal/farm/season"
)

// Service is the place of the queue.
type Service struct{ *season.Service }

// QueueOf is a queue that a farm has: its mobs, by name.
type QueueOf struct {
	MobIDs []string `json:"mob_ids" nullable:"false"`
	Name   string   `json:"name"`
}

// QueueSchool is a school that may be tried instead.
type QueueSchool struct {
	Key  string `json:"key"`
	Name string `json:"name"`
}

// QueueRow is one paddock of a queue, the next to be grazed first.
type QueueRow struct {
	PaddockID string           `json:"paddock_id"`
	Name      string           `json:"name"`
	AreaHa    float64          `json:"area_ha"`
	Sward     string           `json:"sward"`
	Mass      float64          `json:"forage_mass_kg_dm_ha"`
	Half      float64          `json:"half_width_kg_dm_ha"`
	Guessed   bool             `json:"guessed"`
	Target    float64          `json:"target_kg_dm_ha"`       // 0: there is none
	Mark      *working.Figure  `json:"mark,omitempty"`        // the target with its working
	Unfed     float64          `json:"target_unfed_kg_dm_ha"` // the target if no supplement were fed; 0: none is
	Residual  float64          `json:"residual_kg_dm_ha"`
	Entry     float64          `json:"entry_kg_dm_ha"`
	TooOld    float64          `json:"too_old_kg_dm_ha"`
	Rest      *float64         `json:"rest_days" nullable:"true"` // nil: no grazing on record
	Leaves    *float64         `json:"leaves" nullable:"true"`
	Turn      *time.Time       `json:"turn_at" nullable:"true"`
	TurnMass  float64          `json:"turn_mass_kg_dm_ha"`
	MobID     string           `json:"mob_id"` // that grazes it next, or now
	Grazed    bool             `json:"grazed"` // stock are in it
	State     grazing.State    `json:"state"`
	Reasons   []grazing.Reason `json:"reasons" nullable:"false"`
}

// QueueApart is ground of a queue that is out of its round, and why.
type QueueApart struct {
	PaddockID string  `json:"paddock_id"`
	Name      string  `json:"name"`
	AreaHa    float64 `json:"area_ha"`
	Mass      float64 `json:"forage_mass_kg_dm_ha"`
	Why       string  `json:"why"`
}

// QueueSpare is a paddock that might be cut, closed or passed over, the one that can be spared best first.
type QueueSpare struct {
	PaddockID string           `json:"paddock_id"`
	Why       []grazing.Reason `json:"why" nullable:"false"`
}

// QueueBand is what growth is likely to be in a week like this one, kg DM/ha/day.
type QueueBand struct {
	Low  float64 `json:"low_kg_dm_ha_day"`
	High float64 `json:"high_kg_dm_ha_day"`
	By   string  `json:"by" enum:"last_year,curves" doc:"what walks measured in these weeks of last year, or the curve of each sward with what walks taught of each paddock and the weather"`
}

// QueueView is a queue and its week in figures and words.
type QueueView struct {
	Queues    []QueueOf          `json:"queues" nullable:"false"`
	Schools   []QueueSchool      `json:"schools" nullable:"false"` // that may be tried
	Chosen    int                `json:"chosen"`
	At        time.Time          `json:"at"`
	WeeksBack int                `json:"weeks_back"`
	MostBack  int                `json:"most_weeks_back"`
	Rows      []QueueRow         `json:"rows" nullable:"false"`
	Apart     []QueueApart       `json:"apart" nullable:"false"`
	AreaHa    float64            `json:"area_ha"`
	Cover     *working.Figure    `json:"cover,omitempty"`
	CoverWas  *float64           `json:"cover_a_week_before" nullable:"true"`
	CoverHead *float64           `json:"cover_kg_dm_head" nullable:"true"`
	Growth    *season.GrowthDial `json:"growth,omitempty"`
	Band      *QueueBand         `json:"growth_band,omitempty"`
	BreakEven *working.Figure    `json:"break_even,omitempty"`
	Entry     *working.Figure    `json:"entry_target,omitempty"`
	Ahead     *working.Figure    `json:"days_ahead,omitempty"`
	Lasts     *float64           `json:"days_ahead_with_growth" nullable:"true"` // nil: longer than eight weeks
	Length    *working.Figure    `json:"rotation_length,omitempty"`
	Advised   *working.Figure    `json:"rotation_advised,omitempty"`
	Rate      *working.Figure    `json:"stocking_rate,omitempty"`
	Demand    float64            `json:"demand_kg_dm_day"`
	Says      []grazing.Reason   `json:"says" nullable:"false"`
	Breaks    []string           `json:"breaks" nullable:"false"` // steps of the growth that are none
	Spares    []QueueSpare       `json:"spares" nullable:"false"`
	Order     []string           `json:"own_order" nullable:"false" doc:"the farm's own order of its paddocks; empty: none"`
	Version   int                `json:"version"` // of the farm's settings, the order among them
}

// mostBack is how many weeks a queue is stepped back.
const mostBack = 26

// Queue is a queue of a farm: the one of a mob, or the first; so many weeks back as it was then.
func (s *Service) Queue(ctx context.Context, a farm.Actor, mobID string, weeksBack int) (QueueView, error) {
	v := QueueView{Queues: []QueueOf{}, Schools: []QueueSchool{}, Rows: []QueueRow{}, Apart: []QueueApart{}, Says: []grazing.Reason{}, Breaks: []string{}, Order: []string{}, Spares: []QueueSpare{}, MostBack: mostBack}
	se, err := s.Season(ctx, a)
	if err != nil {
		return v, err
	}
	v.Order, v.Version = append(v.Order, se.Row.QueueOrder.V...), se.Row.Version
	if weeksBack < 0 || weeksBack > mostBack {
		return v, quantity.Refuse("weeks_back", weeksBack, "must be 0 to %d weeks", mostBack)
	}
	of, err := v.choose(se, mobID)
	if err != nil || of == nil {
		return v, err
	}
	v.At, v.WeeksBack = se.Now.AddDate(0, 0, -7*weeksBack), weeksBack
	if weeksBack > 0 {
		c, plan := se.WeekThen(of, v.At)
		v.fill(se, c, core.Of(c, plan), nil)
		return v, nil
	}
	c := se.Week(of)
	for _, way := range c.Schools {
		v.Schools = append(v.Schools, QueueSchool{way.Key, way.Name})
	}
	plan := se.Ahead()
	week := core.Of(c, plan)
	v.fill(se, c, week, core.Gaps(c, plan))
	for _, s := range core.Spares(c, week) {
		v.Spares = append(v.Spares, QueueSpare{c.Farm.Paddocks[s.Paddock].ID, s.Why})
	}
	return v, nil
}

// Choose picks the queue of a mob, or the first: its mobs, and which of the queues it is; nil where the farm has none.
func Choose(se *season.Season, mobID string) (which int, of []int, err error) {
	v := QueueView{}
	of, err = v.choose(se, mobID)
	return v.Chosen, of, err
}

// choose lists the queues and picks one; nil where the farm has none.
func (v *QueueView) choose(se *season.Season, mobID string) ([]int, error) {
	groups := se.Queues()
	found := mobID == ""
	for i, of := range groups {
		q := QueueOf{MobIDs: []string{}}
		for k, m := range of {
			if k > 0 {
				q.Name += ", "
			}
			q.Name += se.Mobs[m].Name
			q.MobIDs = append(q.MobIDs, se.Mobs[m].ID)
			if se.Mobs[m].ID == mobID {
				v.Chosen, found = i, true
			}
		}
		v.Queues = append(v.Queues, q)
	}
	if !found {
		return nil, quantity.Refuse("mob_id", mobID, "is not a mob that grazes here")
	}
	if len(groups) == 0 {
		return nil, nil
	}
	return groups[v.Chosen], nil
}

// fill makes the view of a week; gaps are nil of a week that is past.
func (v *QueueView) fill(se *season.Season, c core.Case, w core.Week, gaps []core.Gap) {
	for _, r := range w.Rows {
		v.Rows = append(v.Rows, rowOf(se, c, r))
	}
	for _, x := range w.Apart {
		pad := c.Farm.Paddocks[x.Paddock]
		v.Apart = append(v.Apart, QueueApart{pad.ID, pad.Name, pad.AreaHa, c.Standing[x.Paddock].Mass, x.Why})
	}
	v.AreaHa, v.Demand, v.Entry, v.Ahead, v.Length, v.Advised = w.AreaHa, w.Demand, w.Entry, w.Ahead, w.Length, w.Advised
	ground := make([]bool, len(c.Farm.Paddocks))
	for _, r := range w.Rows {
		ground[r.Paddock] = true
	}
	v.Cover = rotation.CoverFigure(c.Farm, ground, c.Standing, c.Now)
	before := rotation.Cover(c.Farm, ground, c.Standing, se.Past().Trace, make([][]rotation.TracePoint, len(ground)), rotation.Outlook{}, c.Now, c.Now.AddDate(0, 0, -7), c.Now.AddDate(0, 0, -7))
	if len(before) > 0 && v.Cover != nil {
		v.CoverWas = &before[0].Cover
	}
	head := 0.0
	var mobs []rotation.Mob
	for _, m := range c.Of {
		point := se.Herd.MobOn(c.Mobs[m].ID, se.Number(c.Now))
		head += point.Head
		mobs = append(mobs, c.Mobs[m])
	}
	if v.Cover != nil && head > 0 {
		each := v.Cover.Value * v.AreaHa / head
		v.CoverHead = &each
	}
	if v.WeeksBack == 0 { // Stock's own figure, of the same animals on the same ground
		v.Rate = se.Stocking(c.Of).RateAU()
	}
	v.BreakEven = rotation.BreakEven(c.Farm, ground, mobs, c.Now, "those of this queue on the ground in its round")
	if gaps == nil && v.WeeksBack > 0 {
		return
	}
	if !math.IsInf(w.Lasts, 0) {
		v.Lasts = &w.Lasts
	}
	v.grow(se, c, w, ground, gaps)
}

// rowOf is one paddock as it is shown.
func rowOf(se *season.Season, c core.Case, r core.Row) QueueRow {
	pad, st := c.Farm.Paddocks[r.Paddock], c.Standing[r.Paddock]
	row := QueueRow{PaddockID: pad.ID, Name: pad.Name, AreaHa: pad.AreaHa, Sward: se.Paddocks[r.Paddock].Sward.Name, Mass: st.Mass, Half: st.HalfWidthAt(c.Now, st.Mass), Guessed: st.Guessed,
		Target: r.Target, Unfed: r.Unfed, Mark: r.Mark, Residual: r.Residual, Entry: r.Entry, TooOld: r.TooOld, Rest: st.Rest(c.Now), Turn: r.Turn, TurnMass: r.TurnMass, Grazed: r.Grazed}
	if r.By != rotation.Nowhere {
		row.MobID = c.Mobs[r.By].ID
	}
	var reasons []grazing.Reason
	row.State, reasons = c.Farm.Readiness(r.Paddock, c.Farm.Look(r.Paddock, st, r.Entry, c.Now), se.Limits(r.Paddock))
	row.Reasons = append([]grazing.Reason{}, reasons...)
	if c.Now.Equal(se.Now) {
		row.Leaves = se.Leaves(r.Paddock, st)
	}
	return row
}

// grow adds what grew, what is likely to, and the week in words.
func (v *QueueView) grow(se *season.Season, c core.Case, w core.Week, ground []bool, gaps []core.Gap) {
	growing := se.Growing()
	dial := se.Dial(growing, v.Queues[v.Chosen].Name, "", v.BreakEven, ground)
	v.Growth, v.Breaks = &dial, growing.Breaks
	v.Band = band(se, c, ground)
	seen := core.Seen{Gaps: gaps}
	if n := len(dial.Walks); n > 0 && enough(dial.Walks[n-1], v.AreaHa) {
		seen.Growth = &dial.Walks[n-1].Rate
	}
	if v.BreakEven != nil {
		seen.BreakEven = &v.BreakEven.Value
	}
	v.Says = append(v.Says, core.Say(c, w, seen)...)
}

// enough tells whether growth rests on so much ground that it may speak for the rest: a walk of one paddock never becomes the farm's. Assumption, ours.
func enough(g season.WalkGrowth, area float64) bool { return g.N >= 3 && g.Area >= area/3 }

// band is what the ground of a queue is likely to grow in this week: by what grew in these weeks of last year where that was measured well enough, else by its
// curves, its own factors and the weather.
func band(se *season.Season, c core.Case, ground []bool) *QueueBand {
	var grown []core.Grown
	for _, w := range se.Dial(se.GrewLastYear(), "", "", nil, ground).Walks {
		if enough(w, c.AreaOf(ground)) {
			grown = append(grown, core.Grown{Rate: w.Rate, Half: w.Half})
		}
	}
	if low, high, ok := core.Likely(grown); ok {
		return &QueueBand{low, high, "last_year"}
	}
	area, rate := 0.0, 0.0
	for p, on := range ground {
		if on {
			grows, _ := c.Farm.GrowthOn(p, c.Standing[p], c.Now)
			area, rate = area+c.Farm.Paddocks[p].AreaHa, rate+grows*c.Farm.Paddocks[p].AreaHa
		}
	}
	if area == 0 {
		return nil
	}
	low, high := core.LikelyBy(rate / area)
	return &QueueBand{low, high, "curves"}
}
