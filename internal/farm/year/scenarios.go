package year

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/core/working"
	core "fjell/core/year"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// How much is kept and compared.
const (
	mostReason    = 500
	mostScenarios = 30
	mostBeside    = 5
)

// NewScenario is options that were thought through together, and why.
type NewScenario struct {
	ID      string       `json:"id"`
	Name    string       `json:"name"`
	Reason  string       `json:"reason"`
	Options []YearOption `json:"options" nullable:"false" maxItems:"20"`
}

// ScenarioMonth is one month of a scenario.
type ScenarioMonth struct {
	From    time.Time `json:"from"`
	Missing float64   `json:"missing_kg_dm"`
	Chance  float64   `json:"short_chance"`
	Hungry  bool      `json:"hungry"`
}

// ScenarioView is options and what comes of them, from now on. The first one does nothing.
type ScenarioView struct {
	ID      string           `json:"id"`
	Name    string           `json:"name"`
	Reason  string           `json:"reason"`
	By      string           `json:"by"`
	MadeAt  *time.Time       `json:"made_at,omitempty"`
	Options []YearOption     `json:"options" nullable:"false"` // their months count from now
	Cards   []grazing.Reason `json:"cards" nullable:"false"`   // in words
	Gone    []grazing.Reason `json:"gone" nullable:"false"`    // cards whose month has passed, or whose ground or mob is no more
	Beside  bool             `json:"beside"`                   // it is reckoned and shown; else it is only kept
	Wrong   string           `json:"wrong,omitempty"`          // why nothing could be reckoned
	Months  []ScenarioMonth  `json:"months" nullable:"false"`
	Missing float64          `json:"missing_kg_dm"`
	Carried float64          `json:"carried_kg_dm"` // at the end
	Ever    float64          `json:"short_chance"`
	High    float64          `json:"missing_high_kg_dm"` // in a poor year
	Cost    float64          `json:"cost"`
	Free    int              `json:"unpriced" doc:"cards that nobody gave a price for: what they cost is not in it"`
	Hours   float64          `json:"hours"`
	Head    float64          `json:"head"` // mean of the months looked at
}

// ScenariosView is what was thought through, side by side.
type ScenariosView struct {
	Scenarios []ScenarioView `json:"scenarios" nullable:"false"`
}

// KeepScenario keeps options that were tried, with why.
func (s *Service) KeepScenario(ctx context.Context, a farm.Actor, in NewScenario) (ScenariosView, error) {
	se, err := s.Season(ctx, a)
	if err != nil {
		return ScenariosView{}, err
	}
	c, err := s.caseOf(ctx, se, mostMonths, 0)
	if err != nil {
		return ScenariosView{}, err
	}
	err = s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "scenario", Body: in}, func(tx *facts.Writing) error {
		var err error
		if in.Name, err = farm.CheckName("name", in.Name); err != nil {
			return err
		}
		if in.Reason = strings.TrimSpace(in.Reason); len([]rune(in.Reason)) > mostReason {
			return quantity.Refuse("reason", len([]rune(in.Reason)), "at most %d letters", mostReason)
		}
		if len(in.Options) == 0 {
			return quantity.Refuse("options", 0, "put a card down first: doing nothing is always shown beside")
		}
		if _, _, err := c.With(in.Options); err != nil {
			return err
		}
		var kept int64
		if err := tx.Model(&store.Scenario{}).Where("farm_id = ? AND NOT withdrawn", a.FarmID).Count(&kept).Error; err != nil {
			return err
		}
		if kept >= mostScenarios {
			return quantity.Refuse("scenario", kept, "%d are kept already: take one back first", mostScenarios)
		}
		mobs := make([]string, len(in.Options))
		for i, o := range in.Options {
			if ofGroup(o) {
				mobs[i] = c.Groups[o.Group].Name
			}
		}
		first := c.Months[0].From
		return tx.Create(&store.Scenario{FarmID: a.FarmID, ID: in.ID, Name: in.Name, Reason: in.Reason, FromOn: store.Day(fmt.Sprintf("%04d-%02d-01", first.Year(), first.Month())),
			Options: store.JSON[[]core.Option]{V: in.Options}, Mobs: store.JSON[[]string]{V: mobs}, MadeAt: tx.Now.UTC(), RecordedAt: time.Now().UTC(), RecordedBy: a.UserID}).Error
	})
	return farm.After(err, func() (ScenariosView, error) { return s.Scenarios(ctx, a, 0, nil) })
}

// TakeScenarioBack takes one off the list.
func (s *Service) TakeScenarioBack(ctx context.Context, a farm.Actor, id string) (ScenariosView, error) {
	return s.setScenario(ctx, a, id, true)
}

// ReturnScenario puts one on the list again.
func (s *Service) ReturnScenario(ctx context.Context, a farm.Actor, id string) (ScenariosView, error) {
	return s.setScenario(ctx, a, id, false)
}

func (s *Service) setScenario(ctx context.Context, a farm.Actor, id string, withdrawn bool) (ScenariosView, error) {
	err := s.Write(ctx, a, farm.Request{Kind: "take scenario back", Body: []any{id, withdrawn}}, func(tx *facts.Writing) error {
		if _, err := farm.Find[store.Scenario](tx.DB, a.FarmID, "", id); err != nil {
			return err
		}
		return tx.Model(&store.Scenario{}).Where("farm_id = ? AND id = ?", a.FarmID, id).Update("withdrawn", withdrawn).Error
	})
	return farm.After(err, func() (ScenariosView, error) { return s.Scenarios(ctx, a, 0, nil) })
}

// Scenarios are all that are kept; those that are named, or else the latest, are reckoned beside doing nothing, over so many months from now on.
func (s *Service) Scenarios(ctx context.Context, a farm.Actor, months int, ids []string) (ScenariosView, error) {
	out := ScenariosView{Scenarios: []ScenarioView{}}
	v, se, err := s.begin(ctx, a, &months)
	if err != nil {
		return out, err
	}
	if len(ids) > mostBeside {
		return out, quantity.Refuse("ids", len(ids), "at most %d side by side", mostBeside)
	}
	var rows []struct {
		store.Scenario
		By string
	}
	list := s.DB.WithContext(ctx).Table("scenarios").Joins("JOIN users ON users.id = scenarios.recorded_by").Select("scenarios.*, users.name AS `by`").
		Where("scenarios.farm_id = ? AND NOT withdrawn", a.FarmID)
	if err := list.Order("recorded_at DESC, scenarios.id").Limit(mostScenarios).Find(&rows).Error; err != nil {
		return out, err
	}
	c, err := s.caseOf(ctx, se, months, v.Store)
	if err != nil {
		return out, err
	}
	if len(c.Pieces) == 0 || len(c.Groups) == 0 {
		return out, nil
	}
	nothing := ScenarioView{Name: "Nothing done", Beside: true, Options: []YearOption{}, Cards: []grazing.Reason{}, Gone: []grazing.Reason{}}
	nothing.reckon(c)
	out.Scenarios = append(out.Scenarios, nothing)
	for i, r := range rows {
		row := ScenarioView{Months: []ScenarioMonth{}, ID: r.ID, Name: r.Name, Reason: r.Reason, By: r.By, MadeAt: &r.MadeAt, Options: []YearOption{}, Cards: []grazing.Reason{}, Gone: []grazing.Reason{}}
		row.take(c, r.Scenario)
		if row.Beside = slices.Contains(ids, r.ID) || len(ids) == 0 && i < mostBeside; row.Beside {
			row.reckon(c)
		}
		out.Scenarios = append(out.Scenarios, row)
	}
	return out, nil
}

// take reads the options of a scenario as they stand now.
func (v *ScenarioView) take(c core.Case, r store.Scenario) {
	from, err := r.FromOn.Time(time.UTC)
	if err != nil {
		return
	}
	now := c.Months[0].From
	passed := 12*(now.Year()-from.Year()) + int(now.Month()) - int(from.Month())
	for i, o := range r.Options.V {
		o.Month -= passed
		known := o.Month >= 0
		if i < len(r.Mobs.V) && ofGroup(o) {
			o.Group = slices.IndexFunc(c.Groups, func(g core.Group) bool { return g.Name == r.Mobs.V[i] })
			known = known && o.Group >= 0
		}
		if known && o.Input != "" && o.Field != "" {
			known = slices.ContainsFunc(c.Pieces, func(pc core.Piece) bool { return pc.FieldID == o.Field })
		}
		switch said := cardName(c, o, from.AddDate(0, passed+o.Month, 0)); {
		case !known:
			v.Gone = append(v.Gone, said)
		case o.Month < len(c.Months): // beyond what is looked at it does nothing yet
			v.Options, v.Cards = append(v.Options, o), append(v.Cards, said)
		}
	}
}

// ownNames are what cards are called that are no inputs of the reference.
var ownNames = map[string]string{"": "Head", core.Rent: "Rented ground", core.Division: "A further division", core.Topping: "Topping", core.Behind: "Sheep or goats behind", core.Weaning: "Weaning earlier"}

// ofGroup tells whether a card is of a group of mobs.
func ofGroup(o core.Option) bool {
	return o.Input == "" || o.Input == core.Rent || o.Input == core.Weaning
}

// cardName is a card in words: what, where, how much, in which month.
func cardName(c core.Case, o core.Option, month time.Time) grazing.Reason {
	text, own := ownNames[o.Input]
	if !own {
		if in, err := reference.Load().Input(o.Input); err == nil {
			text = in.Name
		}
	}
	switch {
	case ofGroup(o) && o.Group >= 0 && o.Group < len(c.Groups):
		text += " · " + c.Groups[o.Group].Name
	case o.Field != "":
		for _, pc := range c.Pieces {
			if pc.FieldID == o.Field {
				text += " · " + pc.Field
				break
			}
		}
	}
	var terms []working.Term
	add := func(part, symbol, label string, v float64, unit quantity.Unit) {
		text, terms = text+part, append(terms, working.T(symbol, label, v, unit))
	}
	if o.AreaHa > 0 {
		add(" · {A}", "A", "area", o.AreaHa, quantity.Hectare)
	}
	if o.Tonnes > 0 {
		add(" · {t}", "t", "delivered", o.Tonnes*1000, quantity.Fodder)
	}
	switch {
	case o.Head < 0:
		add(" · {n} go", "n", "head that go", -o.Head, quantity.Head)
	case o.Head > 0 && o.Input == core.Weaning:
		add(" · {n} young go", "n", "young that go", o.Head, quantity.Head)
	case o.Head > 0:
		add(" · {n} come", "n", "head that come", o.Head, quantity.Head)
	}
	return grazing.Because(text+" · "+month.Format("January 2006"), terms...)
}

// reckon works out what comes of it.
func (v *ScenarioView) reckon(c core.Case) {
	with, done, err := c.With(v.Options)
	if err != nil {
		v.Wrong = err.Error()
		var refused *core.Refused
		if errors.As(err, &refused) {
			v.Wrong = refused.Problem.Message
		}
		return
	}
	for i, d := range done {
		v.Cost, v.Hours = v.Cost+d.Cost, v.Hours+v.Options[i].Hours
		if v.Options[i].Price == 0 || len(d.Lacks) > 0 {
			v.Free++
		}
	}
	b, risk := core.Balance(with, nil), core.Foresee(with, weatherYears, 1)
	for m, e := range b.Months {
		v.Months = append(v.Months, ScenarioMonth{with.Months[m].From, e.Missing, risk.Short[m], e.Hungry()})
	}
	all := b.Sum(0, len(b.Months))
	v.Missing, v.Carried, v.Ever, v.High, v.Head = all.Missing, all.Stands+all.Waits+all.Store, risk.Ever, risk.Kg.High, with.Head(0, len(with.Months))
}
