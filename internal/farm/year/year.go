// Package year is a farm's feed over one to three years: will it last?
package year

import (
	"context"
	"slices"
	"time"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/working"
	core "fjell/core/year"
	"fjell/internal/farm"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// Service is the place of the year.
type Service struct{ *season.Service }

// BudgetMonth is a month of the year's book, kg DM; the first one is what is left of this month.
type BudgetMonth struct {
	From     time.Time `json:"from"`
	Until    time.Time `json:"until"`
	Grown    float64   `json:"grown_kg_dm"`
	BySward  []float64 `json:"eatable_by_sward_kg_dm" nullable:"false"`
	ByField  []float64 `json:"eatable_by_field_kg_dm" nullable:"false"`
	Eatable  float64   `json:"eatable_kg_dm"`
	Over     float64   `json:"over_kg_dm"`   // stood over from before
	Supply   float64   `json:"supply_kg_dm"` // both: all that can be eaten from pasture
	Wanted   float64   `json:"wanted_kg_dm"`
	Hungry   bool      `json:"hungry"`        // more is missing than nobody would notice
	Pasture  float64   `json:"pasture_kg_dm"` // wanted from pasture
	Indoors  float64   `json:"indoors_kg_dm"` // wanted in the house or the yard
	Eaten    float64   `json:"eaten_kg_dm"`
	Fed      float64   `json:"fed_kg_dm"` // swallowed of the store
	Missing  float64   `json:"missing_kg_dm"`
	Left     float64   `json:"left_kg_dm"`
	Lost     float64   `json:"lost_kg_dm"`
	Cut      float64   `json:"cut_kg_dm"`
	Stands   float64   `json:"stands_kg_dm"` // at its end
	Waits    float64   `json:"waits_kg_dm"`  // behind closures, at its end
	Store    float64   `json:"store_kg_dm"`  // at its end
	Low      float64   `json:"supply_low_kg_dm"`
	High     float64   `json:"supply_high_kg_dm"`
	Chance   float64   `json:"short_chance"`
	Warnings []string  `json:"groups_short" nullable:"false"` // whose feed is missing
}

// BudgetGap is months in a row in which feed is missing.
type BudgetGap struct {
	From  time.Time `json:"from"`
	Until time.Time `json:"until"`
	Kg    float64   `json:"missing_kg_dm"`
	Days  float64   `json:"missing_days"`
	Head  float64   `json:"head_too_many"`
}

// BudgetSum is twelve months in one, kg DM: what becomes of all that there is.
type BudgetSum struct {
	Grown   float64 `json:"grown_kg_dm"`
	Eaten   float64 `json:"eaten_kg_dm"`
	Fed     float64 `json:"fed_kg_dm"`
	Left    float64 `json:"left_kg_dm"`
	Lost    float64 `json:"lost_kg_dm"`
	Mouths  float64 `json:"swallowed_kg_dm"` // eaten, and fed
	Carried float64 `json:"carried_kg_dm"`   // stands, waits behind closures, or lies in the store at the end
	Wanted  float64 `json:"wanted_kg_dm"`
	Missing float64 `json:"missing_kg_dm"`
}

// BudgetView is a farm's year.
type BudgetView struct {
	Months     []BudgetMonth    `json:"months" nullable:"false"`
	Swards     []string         `json:"swards" nullable:"false"`
	Fields     []string         `json:"fields" nullable:"false"`
	Gaps       []BudgetGap      `json:"gaps" nullable:"false"`
	Year       BudgetSum        `json:"year"` // the first twelve months
	Deductions *working.Figure  `json:"deductions,omitempty"`
	Says       []grazing.Reason `json:"says" nullable:"false"`
	Money      *float64         `json:"missing_cost,omitempty" doc:"of what is missing in twelve months, as the cheapest bought feed at the farm's prices; left out: none has a price"`
	Feed       string           `json:"missing_feed" doc:"which feed that is"`
	Store      float64          `json:"store_kg_dm"` // now
	Unweighed  bool             `json:"unweighed"`   // cuts that nobody weighed are not in it
	Years      int              `json:"weather_years"`
	Ever       float64          `json:"short_chance"` // of falling short at some time
	Low        float64          `json:"missing_low_kg_dm"`
	High       float64          `json:"missing_high_kg_dm"`
	Fitted     bool             `json:"weather_fitted" doc:"how weather strays is fitted to the farm's own record; else as is usual"`
	CutLoss    float64          `json:"cut_loss"`
	FeedLoss   float64          `json:"feed_loss"`
	OwnLosses  bool             `json:"losses_own" doc:"the farm has said what it loses; else as is usual"`
	Reserve    float64          `json:"reserve_ha" doc:"ground kept in reserve, which is not counted"`
}

// How far a year is looked at, months, and in how many years' weather.
const (
	leastMonths  = 12
	mostMonths   = 36
	weatherYears = 200
)

// Budget is the year of a farm over so many months from now on, with nothing done that is not planned.
func (s *Service) Budget(ctx context.Context, a farm.Actor, months int) (BudgetView, error) {
	v, se, err := s.begin(ctx, a, &months)
	if err != nil {
		return v, err
	}
	c, err := s.caseOf(ctx, se, months, v.Store)
	if err != nil {
		return v, err
	}
	if len(c.Pieces) > 0 && len(c.Groups) > 0 {
		v.reckon(c)
	}
	v.Fitted = se.Farm.Strays != nil
	_, _, v.OwnLosses = se.Losses()
	prices, err := s.prices(ctx, a.FarmID)
	if err != nil {
		return v, err
	}
	known := map[string]float64{}
	today := store.DayOf(se.Now, se.Location)
	for _, p := range prices {
		if amount, ok := priceOn(prices, p.Item, today); ok {
			known[p.Item] = amount
		}
	}
	if in, tonne, ok := core.Cheapest(known); ok {
		money := v.Year.Missing / 1000 * tonne
		v.Money, v.Feed = &money, in.Name
	}
	return v, nil
}

// begin is a view without its months, and the farm it is of.
func (s *Service) begin(ctx context.Context, a farm.Actor, months *int) (BudgetView, *season.Season, error) {
	v := BudgetView{Months: []BudgetMonth{}, Swards: []string{}, Fields: []string{}, Gaps: []BudgetGap{}, Says: []grazing.Reason{}, Years: weatherYears}
	if *months == 0 {
		*months = leastMonths
	}
	if *months < leastMonths || *months > mostMonths {
		return v, nil, quantity.Refuse("months", *months, "must be %d to %d", leastMonths, mostMonths)
	}
	se, err := s.Season(ctx, a)
	if err != nil {
		return v, nil, err
	}
	for _, l := range se.FodderBook() {
		v.Store = max(0, l.Holds)
		v.Unweighed = l.Kg == nil || v.Unweighed && l.Kind != "counted"
	}
	for _, pad := range se.Paddocks {
		if pad.Purpose == "reserve" {
			v.Reserve += pad.Shape.AreaHa
		}
	}
	return v, se, nil
}

// caseOf is a farm's year as it is reckoned, with the clover that was seen lately.
func (s *Service) caseOf(ctx context.Context, se *season.Season, months int, store float64) (core.Case, error) {
	seen, err := s.legumes(ctx, se.Row.ID, se.Now)
	if err != nil {
		return core.Case{}, err
	}
	legumes := map[string]float64{}
	for paddock, look := range seen {
		legumes[paddock] = *look.Ground.V.Legume
	}
	return se.Budget(months, store, legumes), nil
}

// reckon makes the view of a case.
func (v *BudgetView) reckon(c core.Case) {
	v.CutLoss, v.FeedLoss = c.CutLoss, c.FeedLoss
	b := core.Balance(c, nil)
	risk := core.Foresee(c, weatherYears, 1)
	gaps := c.Gaps(b)
	v.fill(c, b, risk)
	for _, g := range gaps {
		v.Gaps = append(v.Gaps, BudgetGap{g.From, g.Until, g.Kg, g.Days, g.Head})
	}
	v.Says = append(v.Says, core.Say(c, b, gaps, risk)...)
	v.Ever, v.Low, v.High = risk.Ever, risk.Kg.Low, risk.Kg.High
	sum := b.Sum(0, leastMonths)
	v.Year = sumOf(sum)
	deductions := c.Deductions(sum)
	v.Deductions = &deductions
}

// sumOf is a time of a book as it is shown.
func sumOf(e core.Entry) BudgetSum {
	return BudgetSum{Grown: e.Grown, Eaten: e.Eaten, Fed: e.Fed, Mouths: e.Swallowed(), Left: e.Left, Lost: e.Lost, Carried: e.Stands + e.Waits + e.Store, Wanted: e.Wanted(), Missing: e.Missing}
}

// fill makes the months of the view, with what can be eaten by sward.
func (v *BudgetView) fill(c core.Case, b core.Budget, risk core.Risk) {
	for _, pc := range c.Pieces {
		if !slices.Contains(v.Swards, pc.Sward) {
			v.Swards = append(v.Swards, pc.Sward)
		}
		if !slices.Contains(v.Fields, pc.Field) {
			v.Fields = append(v.Fields, pc.Field)
		}
	}
	for m, e := range b.Months {
		row := BudgetMonth{From: c.Months[m].From, Until: c.Months[m].Until, Grown: e.Grown, BySward: make([]float64, len(v.Swards)), ByField: make([]float64, len(v.Fields)), Eatable: e.Eatable, Over: e.Over,
			Supply: e.Supply(), Wanted: e.Wanted(), Hungry: e.Hungry(), Pasture: e.Pasture, Indoors: e.Indoors,
			Eaten: e.Eaten, Fed: e.Fed, Missing: e.Missing, Left: e.Left, Lost: e.Lost, Cut: e.Cut, Stands: e.Stands, Waits: e.Waits, Store: e.Store,
			Low: risk.Supply[m].Low, High: risk.Supply[m].High, Chance: risk.Short[m], Warnings: []string{}}
		for p, kg := range e.By {
			row.BySward[slices.Index(v.Swards, c.Pieces[p].Sward)] += kg
			row.ByField[slices.Index(v.Fields, c.Pieces[p].Field)] += kg
		}
		for _, g := range c.HungryGroups(b, m) {
			row.Warnings = append(row.Warnings, c.Groups[g].Name)
		}
		v.Months = append(v.Months, row)
	}
}
