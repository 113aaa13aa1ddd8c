package year

import (
	"context"
	"math"
	"slices"
	"time"

	"fjell/core/grazing"
	"fjell/core/reference"
	core "fjell/core/year"
	"fjell/internal/farm"
	"fjell/internal/store"
)

// YearAdviceInput is what advice is asked of: cards that lie on the table, with prices, stand beside those that the farm's prices make.
type YearAdviceInput struct {
	Months  int          `json:"months,omitempty"`
	Options []YearOption `json:"options" nullable:"false" maxItems:"20"`
}

// YearRanked is a card by itself.
type YearRanked struct {
	Option  YearOption       `json:"option"`
	Card    grazing.Reason   `json:"card"`
	Says    []grazing.Reason `json:"says" nullable:"false"`
	Closes  float64          `json:"closes_kg_dm"`
	Cost    float64          `json:"cost"`
	Tonne   *float64         `json:"cost_a_tonne_closed,omitempty" doc:"for each tonne that is eaten in a month that was short; left out: it closes nothing in an ordinary year"`
	Arrives *time.Time       `json:"arrives,omitempty"`
}

// YearSafety is the cheapest set of cards for a chance of falling short.
type YearSafety struct {
	Chance  float64          `json:"chance" doc:"of falling short that was allowed"`
	Found   bool             `json:"found" doc:"false: no set of these cards was come upon that is enough"`
	Short   float64          `json:"short_chance"`
	Cost    float64          `json:"cost"`
	Bound   float64          `json:"bound" doc:"no set of these cards that is enough costs less"`
	Proven  bool             `json:"proven"`
	Further *float64         `json:"cost_a_further_percent,omitempty" doc:"of safety, against the step before"`
	Options []YearOption     `json:"options" nullable:"false"`
	Cards   []grazing.Reason `json:"cards" nullable:"false"`
}

// YearAdvice is what closes a year's gaps at the least cost, and how all cards rank.
type YearAdvice struct {
	Ranked   []YearRanked `json:"ranked" nullable:"false"`
	Safety   []YearSafety `json:"safety" nullable:"false"`
	Unpriced int          `json:"unpriced" doc:"inputs that are meant for the ground and have no price"`
	Looked   int          `json:"cards" doc:"that were looked at"`
}

// The chances of falling short that are gone through, how many cards are held against each other, how many loads one may be, and how long each chance may take.
var (
	chances  = []float64{0.05, 0.1, 0.2, 0.3, 0.5}
	longEach = 900 * time.Millisecond
)

const (
	mostCards = 24
	loads     = 32
)

// Advise looks for the cheapest cards that close the gaps.
func (s *Service) Advise(ctx context.Context, a farm.Actor, in YearAdviceInput) (YearAdvice, error) {
	out := YearAdvice{Ranked: []YearRanked{}, Safety: []YearSafety{}}
	v, se, err := s.begin(ctx, a, &in.Months)
	if err != nil {
		return out, err
	}
	c, err := s.caseOf(ctx, se, in.Months, v.Store)
	if err != nil {
		return out, err
	}
	if len(c.Pieces) == 0 || len(c.Groups) == 0 {
		return out, nil
	}
	if _, _, err := c.With(in.Options); err != nil {
		return out, err
	}
	prices, err := s.prices(ctx, a.FarmID)
	if err != nil {
		return out, err
	}
	cards, unpriced := cardsOf(c, prices, in.Options, core.Foresee(c, weatherYears, 1).Kg.High)
	out.Unpriced = unpriced
	ranked := core.Rank(c, cards)
	chosen := make([]core.Card, 0, mostCards)
	for _, r := range ranked[:min(mostCards, len(ranked))] {
		card := cards[r.Card]
		row := YearRanked{Option: card.Option, Card: cardName(c, card.Option, c.Months[card.Month].From), Says: append([]grazing.Reason{}, r.Says...), Closes: r.Closes, Cost: r.Cost, Arrives: r.Arrives}
		if !math.IsInf(r.Tonne, 1) {
			row.Tonne = &r.Tonne
		}
		out.Ranked, chosen = append(out.Ranked, row), append(chosen, card)
	}
	out.Looked = len(chosen)
	adviser := core.NewAdviser(c, chosen, weatherYears, 1)
	for _, chance := range chances { // from the safest on: what is enough for it is for the others
		within, stop := context.WithTimeout(ctx, longEach)
		advice, found := adviser.Cheapest(within, chance)
		stop()
		row := YearSafety{Chance: chance, Found: found, Options: []YearOption{}, Cards: []grazing.Reason{}}
		if found {
			row.Short, row.Cost, row.Bound, row.Proven = advice.Short, advice.Cost, advice.Bound, advice.Proven
			for i, n := range advice.Times {
				if n > 0 {
					o := chosen[i].Times(n)
					row.Options, row.Cards = append(row.Options, o), append(row.Cards, cardName(c, o, c.Months[o.Month].From))
				}
			}
		}
		out.Safety = append([]YearSafety{row}, out.Safety...)
	}
	for k := range out.Safety[1:] {
		if less, more := &out.Safety[k], &out.Safety[k+1]; less.Found && more.Found {
			further := math.Round(more.Cost-less.Cost) / (100 * (less.Chance - more.Chance))
			more.Further = &further
		}
	}
	return out, nil
}

// cardsOf are the cards that a farm's prices make: each input on every field it is meant for, in the month in which it does most; what is bought in loads that
// together make up for a poor year; and those that lie on the table. The other figure is how many inputs have no price.
func cardsOf(c core.Case, prices []store.Price, table []YearOption, missing float64) (cards []core.Card, unpriced int) {
	for _, o := range table {
		if o.Price > 0 {
			cards = append(cards, core.Card{Option: o})
		}
	}
	lies := func(o core.Option) bool {
		return slices.ContainsFunc(table, func(t YearOption) bool { return t.Input == o.Input && t.Field == o.Field })
	}
	for _, in := range reference.Load().Inputs {
		priced, suits := false, in.Kind == "buy"
		fields := []string{""}
		if in.Kind != "buy" {
			fields = nil
			for _, pc := range c.Pieces {
				if pc.Suits(in) && pc.FieldID != "" && !slices.Contains(fields, pc.FieldID) {
					fields, suits = append(fields, pc.FieldID), true
				}
			}
		}
		for _, field := range fields {
			card, ok := bestMonth(c, prices, in, field, missing)
			if priced = priced || ok; ok && !lies(card.Option) {
				cards = append(cards, card)
			}
		}
		if suits && !priced {
			unpriced++
		}
	}
	return cards, unpriced
}

// bestMonth is a card in the month of the coming year in which it closes most, the earliest of those that close the same.
func bestMonth(c core.Case, prices []store.Price, in reference.Input, field string, missing float64) (best core.Card, ok bool) {
	closes := math.Inf(-1)
	for m := range min(leastMonths, len(c.Months)) {
		price, known := priceOn(prices, in.ID, store.DayOf(c.Months[m].From, c.Months[m].From.Location()))
		if !known {
			continue
		}
		card := core.Card{Option: core.Option{Input: in.ID, Field: field, Month: m, Price: price}}
		for _, id := range in.Obliges {
			with, known := priceOn(prices, id, store.DayOf(c.Months[m].From, c.Months[m].From.Location()))
			if !known {
				return best, false // its cost is not known
			}
			card.Companions = append(card.Companions, core.Companion{Input: id, Price: with})
		}
		if in.Kind == "buy" {
			card.Tonnes, card.Most = max(1, math.Ceil(missing/1000/(in.DryShare*in.Eaten)/loads)), loads
		}
		ranked := core.Rank(c, []core.Card{card})
		if len(ranked) > 0 && ranked[0].Closes > closes+1e-6 {
			best, closes, ok = card, ranked[0].Closes, true
		}
		if in.Kind == "buy" && ok {
			break // what lies in the store early feeds whatever is short
		}
	}
	return best, ok
}
