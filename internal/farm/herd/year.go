package herd

import (
	"context"
	"fmt"
	"time"

	"fjell/core/quantity"
	"fjell/core/stock"
	"fjell/core/working"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// YearInput asks for a year of stock in one measure.
type YearInput struct {
	Year    int    `json:"year"`
	Measure string `json:"measure" enum:"demand,au,lu,weight,head"`
}

// StockBand is one class of one mob over the days of a year.
type StockBand struct {
	GroupID string    `json:"group_id"`
	MobID   string    `json:"mob_id"` // empty: outside any mob
	Name    string    `json:"name"`
	Species string    `json:"species"`
	Days    []float64 `json:"days" nullable:"false"`
}

// LedgerRow is how the head of a mob, or of the farm, came and went over the year.
type LedgerRow struct {
	MobID   string  `json:"mob_id"`
	Name    string  `json:"name"`
	Opening float64 `json:"opening"`
	Born    float64 `json:"born"`
	Bought  float64 `json:"bought"`
	In      float64 `json:"moved_in"`
	Out     float64 `json:"moved_out"`
	Sold    float64 `json:"sold"`
	Died    float64 `json:"died"`
	Found   float64 `json:"found"` // counted more (or fewer) than on the books, and first descriptions
	Closing float64 `json:"closing"`
}

// OutsideClass is a class kept outside any mob, as it is today.
type OutsideClass struct {
	ID         string  `json:"id"`
	Name       string  `json:"name"`
	Species    string  `json:"species"`
	Head       float64 `json:"head"`
	LiveWeight float64 `json:"live_weight_kg"`
}

// YearView is a farm's stock over a year: bands, events, ledger, and whether the land carries them.
type YearView struct {
	Year     int            `json:"year"`
	Measure  string         `json:"measure"`
	Unit     quantity.Unit  `json:"unit"`
	From     string         `json:"from"`
	Today    int            `json:"today"` // days since the first; may lie outside
	Bands    []StockBand    `json:"bands" nullable:"false"`
	Total    []float64      `json:"total" nullable:"false"` // of what is in mobs
	Most     float64        `json:"most"`
	MostDay  int            `json:"most_day"`
	Events   []EventView    `json:"events" nullable:"false"`
	Ledger   []LedgerRow    `json:"ledger" nullable:"false"`
	Outside  []OutsideClass `json:"outside" nullable:"false"`
	Carrying stock.Carrying `json:"carrying"`
}

// Year is the stock of a farm over a year in one measure. Year 0 is the present one.
func (s *Service) Year(ctx context.Context, a farm.Actor, in YearInput) (YearView, error) {
	se, err := s.Season(ctx, a)
	if err != nil {
		return YearView{}, err
	}
	if in.Year == 0 {
		in.Year = se.Now.In(se.Location).Year()
	}
	if this := se.Now.In(se.Location).Year(); in.Year < this-5 || in.Year > this+3 {
		return YearView{}, quantity.Refuse("year", in.Year, "Fjell looks five years back and three ahead")
	}
	if in.Measure == "" {
		in.Measure = "demand"
	}
	return year(se, in)
}

// measures are what the bands can show, with its unit.
var measures = map[string]struct {
	unit quantity.Unit
	of   func(stock.Point) float64
}{
	"demand": {quantity.Demand, func(p stock.Point) float64 { return p.Demand }},
	"au":     {quantity.AnimalUnits, func(p stock.Point) float64 { return p.AU }},
	"lu":     {quantity.LivestockUnits, func(p stock.Point) float64 { return p.LU }},
	"weight": {quantity.Kilogram, func(p stock.Point) float64 { return p.Weight }},
	"head":   {quantity.Head, func(p stock.Point) float64 { return p.Head }},
}

func year(s *season.Season, in YearInput) (YearView, error) {
	measure, ok := measures[in.Measure]
	if !ok {
		return YearView{}, quantity.Refuse("measure", in.Measure, "must be demand, au, lu, weight or head")
	}
	first := time.Date(in.Year, 1, 1, 0, 0, 0, 0, time.UTC)
	from, until := int(first.Unix()/86400), int(first.AddDate(1, 0, 0).Unix()/86400)
	v := YearView{Year: in.Year, Measure: in.Measure, Unit: measure.unit, From: first.Format(time.DateOnly), Today: s.Number(s.Now) - from,
		Bands: []StockBand{}, Total: make([]float64, until-from), Events: EventViews(s.Picture), Ledger: []LedgerRow{}, Outside: []OutsideClass{}}
	here := map[string]bool{"": true}
	for _, m := range s.Mobs {
		here[m.ID] = true
	}
	series := s.Herd.Series(from, until)
	for g, group := range s.Herd.Groups {
		if !here[group.Mob] {
			continue
		}
		band := StockBand{GroupID: group.ID, MobID: group.Mob, Name: group.Name, Days: make([]float64, until-from)}
		if ref, err := s.Class("", group.Class.ReferenceID); err == nil {
			band.Species = ref.Species
		}
		any := false
		for d, pt := range series[g] {
			band.Days[d] = measure.of(pt)
			any = any || pt.Head > 0
			if group.Mob != "" {
				v.Total[d] += band.Days[d]
			}
		}
		if any && group.Mob != "" {
			v.Bands = append(v.Bands, band)
		}
		if group.Mob == "" {
			if c, ok := s.Herd.ClassOn(group.ID, s.Number(s.Now)); ok && c.Count > 0 {
				v.Outside = append(v.Outside, OutsideClass{group.ID, group.Name, band.Species, c.Count, c.LiveWeightKg})
			}
		}
	}
	for d, t := range v.Total {
		if t > v.Most {
			v.Most, v.MostDay = t, d
		}
	}
	for _, m := range s.Mobs {
		v.Ledger = append(v.Ledger, ledgerRow(m.ID, m.Name, s.Herd.Ledger(func(g stock.Group) bool { return g.Mob == m.ID }, from, until)))
	}
	if out := s.Herd.Ledger(func(g stock.Group) bool { return g.Mob == "" }, from, until); out != (stock.Ledger{}) {
		v.Ledger = append(v.Ledger, ledgerRow("", "Outside any mob", out))
	}
	v.Ledger = append(v.Ledger, ledgerRow("all", "All together", s.Herd.Ledger(func(g stock.Group) bool { return here[g.Mob] }, from, until)))
	v.Carrying = carrying(s, first)
	return v, nil
}

func ledgerRow(id, name string, l stock.Ledger) LedgerRow {
	return LedgerRow{id, name, l.Opening, l.Born, l.Bought, l.In, l.Out, l.Sold, l.Died, l.Found, l.Closing}
}

// carrying sets twelve months of demand against a year's growth: the calendar year, or, where the books do not reach back to its
// beginning, twelve months from the day they begin.
func carrying(s *season.Season, first time.Time) stock.Carrying {
	from, begin := int(first.Unix()/86400), int(first.AddDate(1, 0, 0).Unix()/86400)
	for _, g := range s.Herd.Groups {
		if _, here := s.MobIndex[g.Mob]; here && g.Class.Count > 0 {
			begin = min(begin, g.From)
		}
	}
	if begin > from && begin < int(first.AddDate(1, 0, 0).Unix()/86400) {
		from = begin
	}
	day := func(n int) time.Time { return time.Unix(int64(n)*86400, 0).UTC() }
	until := int(day(from).AddDate(1, 0, 0).Unix() / 86400)
	var eaten [12]float64
	for g, series := range s.Herd.Series(from, until) {
		if _, here := s.MobIndex[s.Herd.Groups[g].Mob]; !here {
			continue
		}
		for d, pt := range series {
			eaten[day(from+d).Month()-1] += pt.Demand
		}
	}
	return stock.Carries(s.GrowingOn(from, until), eaten, day(from))
}

// DayView is what stock eat on one day, with the working.
type DayView struct {
	Day  string         `json:"day"`
	Farm working.Figure `json:"farm"`
	Mobs []DayMob       `json:"mobs" nullable:"false"`
}

// DayMob is one mob on a day.
type DayMob struct {
	MobID   string         `json:"mob_id"`
	Name    string         `json:"name"`
	Eaten   working.Figure `json:"eaten"`
	Grown   working.Figure `json:"grown"`
	Classes []ClassView    `json:"classes" nullable:"false"`
	Head    float64        `json:"head"`
	AU      float64        `json:"animal_units"`
	LU      float64        `json:"livestock_units"`
	Weight  float64        `json:"live_weight_kg"`
}

// StockDay is the working of demand for any day.
func (s *Service) StockDay(ctx context.Context, a farm.Actor, day string) (DayView, error) {
	if _, err := store.Day(day).Time(time.UTC); err != nil {
		return DayView{}, quantity.Refuse("day", day, "must be a day, such as 2026-06-10")
	}
	se, err := s.Season(ctx, a)
	if err != nil {
		return DayView{}, err
	}
	n := facts.DayNumber(store.Day(day))
	v := DayView{Day: day, Farm: season.FarmDemand(se.Picture, n), Mobs: []DayMob{}}
	for i, m := range se.Mobs {
		eaten, grown, classes, _, err := demandOn(se, i, n)
		if err != nil {
			return v, fmt.Errorf("demand of %s: %w", m.Name, err)
		}
		pt := se.Herd.MobOn(m.ID, n)
		v.Mobs = append(v.Mobs, DayMob{m.ID, m.Name, eaten, grown, classes, pt.Head, pt.AU, pt.LU, pt.Weight})
	}
	return v, nil
}

// EquivalenceView says how many of one class graze as one of another, with the farm's own figures.
type EquivalenceView struct {
	First    string         `json:"first"`
	Second   string         `json:"second"`
	Figure   working.Figure `json:"figure"`
	Sentence string         `json:"sentence"`
}

// Equivalence compares two classes of the farm by what must grow for each today.
func (s *Service) Equivalence(ctx context.Context, a farm.Actor, first, second string) (EquivalenceView, error) {
	se, err := s.Season(ctx, a)
	if err != nil {
		return EquivalenceView{}, err
	}
	var eaters [2]stock.Eater
	var names [2]string
	for i, id := range []string{first, second} {
		field := []string{"first", "second"}[i]
		c, ok := se.Herd.ClassOn(id, se.Number(se.Now))
		if !ok {
			return EquivalenceView{}, quantity.Refuse(field, id, "is not a class of this farm's stock")
		}
		ref, err := se.Class(field, c.ReferenceID)
		if err != nil {
			return EquivalenceView{}, err
		}
		mob := -1
		if row := se.GroupRow(id); row != nil && row.MobID != nil {
			if k, here := se.MobIndex[*row.MobID]; here {
				mob = k
			}
		}
		h := se.Harvest(mob, ref.Species)
		eaters[i], names[i] = stock.Eater{Intake: c.LiveWeightKg * c.IntakeShare, HarvestEfficiency: h}, c.DisplayedName
	}
	out, steps, err := stock.Equivalence(stock.EquivalenceIn{First: eaters[0], Second: eaters[1]})
	if err != nil {
		return EquivalenceView{}, err
	}
	return EquivalenceView{names[0], names[1], working.Of("intake of your own stock today, over the harvest efficiency of its species", steps...),
		fmt.Sprintf("%.3g of %s need as much grown as one of %s.", out.SecondPerFirst, names[1], names[0])}, nil
}

// ConvertInput is an intake said one way.
type ConvertInput struct {
	ReferenceID string  `json:"reference_id"`
	LiveWeight  float64 `json:"live_weight_kg"`
	IntakeShare float64 `json:"intake_share,omitempty"`
	Intake      float64 `json:"intake_kg_dm_head_day,omitempty"`
}

// Convert says an intake both ways, and what must grow for it.
func (s *Service) Convert(ctx context.Context, a farm.Actor, in ConvertInput) (stock.Eats, error) {
	se, err := s.Season(ctx, a)
	if err != nil {
		return stock.Eats{}, err
	}
	ref, err := se.Class("reference_id", in.ReferenceID)
	if err != nil {
		return stock.Eats{}, err
	}
	if err := farm.Judge(in, true); err != nil {
		return stock.Eats{}, err
	}
	h := se.Harvest(-1, ref.Species)
	return stock.Convert(in.LiveWeight, in.IntakeShare, in.Intake, h)
}
