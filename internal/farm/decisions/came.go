package decisions

import (
	"context"
	"time"

	"fjell/core/grazing"
	core "fjell/core/queue"
	"fjell/core/rotation"
	"fjell/internal/farm"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// DecisionDay is a day of the weeks after a decision: what was expected, and, of days that have passed, what stood.
type DecisionDay struct {
	At      time.Time `json:"at"`
	Without float64   `json:"without_kg_dm_ha"`
	With    float64   `json:"with_kg_dm_ha"`
	Stood   *float64  `json:"stood_kg_dm_ha" nullable:"true"`
}

// DecisionView is a decision and what came of it.
type DecisionView struct {
	ID             string           `json:"id"`
	MadeAt         time.Time        `json:"made_at"`
	By             string           `json:"by"`
	Reason         string           `json:"reason"`
	Says           []grazing.Reason `json:"says" nullable:"false"` // what each lever was to take and give
	MissingWithout float64          `json:"missing_days_without"`
	MissingWith    float64          `json:"missing_days_with"`
	Money          float64          `json:"money"`
	Hours          float64          `json:"hours"`
	Days           []DecisionDay    `json:"days" nullable:"false"`
	Came           []grazing.Reason `json:"came" nullable:"false"` // how that compares by now; none before a day has passed
	TakenBackAt    *time.Time       `json:"taken_back_at" nullable:"true"`
}

// DecisionsView is what was decided lately, the latest first.
type DecisionsView struct {
	Decisions []DecisionView `json:"decisions" nullable:"false"`
}

// shown is how many decisions are shown, the latest.
const shown = 20

// Decisions are those of a mob's queue, or of all queues, each held against what came.
func (s *Service) Decisions(ctx context.Context, a farm.Actor, mobID string) (DecisionsView, error) {
	out := DecisionsView{Decisions: []DecisionView{}}
	se, err := s.Season(ctx, a)
	if err != nil {
		return out, err
	}
	var rows []struct {
		store.Decision
		By string
	}
	list := s.DB.WithContext(ctx).Table("decisions").Joins("JOIN users ON users.id = decisions.made_by").
		Select("decisions.id, made_at, mobs, reason, expected, taken_back_at, users.name AS `by`").Where("decisions.farm_id = ?", a.FarmID)
	if mobID != "" {
		list = list.Where("JSON_CONTAINS(mobs, JSON_QUOTE(?))", mobID)
	}
	if err := list.Order("made_at DESC, id DESC").Limit(shown).Find(&rows).Error; err != nil {
		return out, err
	}
	for _, r := range rows {
		e := r.Expected.V
		v := DecisionView{ID: r.ID, MadeAt: r.MadeAt, By: r.By, Reason: r.Reason, Says: append([]grazing.Reason{}, e.Says...), MissingWithout: e.MissingWithout, MissingWith: e.MissingWith,
			Money: e.Money, Hours: e.Hours, Days: []DecisionDay{}, Came: []grazing.Reason{}, TakenBackAt: r.TakenBackAt}
		for _, day := range e.Days {
			shownDay := DecisionDay{At: day.At, Without: day.Without, With: day.With}
			if cover, _, ok := stood(se, e, day.At); ok && r.TakenBackAt == nil {
				shownDay.Stood = &cover
			}
			v.Days = append(v.Days, shownDay)
		}
		if r.TakenBackAt == nil {
			v.Came = came(se, e)
		}
		out.Decisions = append(out.Decisions, v)
	}
	return out, nil
}

// came compares the last day of a decision's weeks that has passed with what was expected of it.
func came(se *season.Season, e core.Expected) []grazing.Reason {
	if len(e.Days) < 2 || se.Now.Before(e.Days[1].At) {
		return []grazing.Reason{}
	}
	day, _ := e.At(se.Now)
	cover, half, ok := stood(se, e, day.At)
	if !ok {
		return []grazing.Reason{}
	}
	return core.Came(day, cover, half)
}

// stood is what the ground of a decision stood at on a day that has passed, and how far off that may be; false of days to come and of those too long ago.
func stood(se *season.Season, e core.Expected, at time.Time) (cover, half float64, ok bool) {
	if at.After(se.Now) {
		return 0, 0, false
	}
	past := se.Past()
	return e.Cover(func(id string) (float64, float64, bool) {
		p, there := se.ByID[id]
		if !there || len(past.Trace[p]) == 0 || at.Before(past.Trace[p][0].At) {
			return 0, 0, false
		}
		mass := rotation.MassAt(past.Trace[p], at)
		return mass, past.Standing[p].HalfWidthAt(at, mass), true
	})
}
