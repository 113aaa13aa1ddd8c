package herd

import (
	"context"
	"fmt"
	"sort"
	"strings"

	"gorm.io/gorm"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/rotation"
	"fjell/core/stock"
	"fjell/core/working"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

func sortedKeys(m map[string]bool) []string {
	out := []string{}
	for k := range m {
		out = append(out, k)
	}
	sort.Strings(out)
	return out
}

// Glyphs are the shapes a mob can carry on maps and charts.
var Glyphs = []string{"triangle", "circle", "square", "diamond", "hexagon"}

// ClassInput is one class of a mob as it is today. One that is there already is named by its id.
type ClassInput struct {
	ID          string             `json:"id,omitempty"`
	ReferenceID string             `json:"reference_id"`
	Name        string             `json:"name"`
	Count       float64            `json:"count"`
	LiveWeight  float64            `json:"live_weight_kg"`
	IntakeShare float64            `json:"intake_share"`
	DailyGain   float64            `json:"daily_gain_kg,omitempty"`
	Supplements []store.Supplement `json:"supplements,omitempty" nullable:"false"`
}

// MobInput is what a person says of a mob.
type MobInput struct {
	Name      string         `json:"name"`
	Letter    string         `json:"letter"`
	Glyph     string         `json:"glyph" enum:"triangle,circle,square,diamond,hexagon"`
	Classes   []ClassInput   `json:"classes" nullable:"false"`
	FieldIDs  []string       `json:"field_ids" nullable:"false"`
	HereSince string         `json:"here_since,omitempty" doc:"the day they came, where that is before today"`
	Housed    []store.Housed `json:"housed,omitempty" nullable:"false"`
	Confirmed bool           `json:"confirmed,omitempty"`
}

// NewMob is a mob with the id its maker gave it.
type NewMob struct {
	ID string `json:"id"`
	MobInput
}

// ClassView is a class of a mob as it is today, with what it eats.
type ClassView struct {
	ClassInput
	Species string  `json:"species"`
	Intake  float64 `json:"intake_kg_dm_head_day"`
	Pasture float64 `json:"pasture_kg_dm_head_day"`
	Demand  float64 `json:"demand_kg_dm_day"`
	Grown   float64 `json:"grown_kg_dm_day"` // so that this much is eaten
	Caution string  `json:"caution"`
}

// MobView is a mob today, with its figures and their working.
type MobView struct {
	ID           string          `json:"id"`
	Name         string          `json:"name"`
	Letter       string          `json:"letter"`
	Glyph        string          `json:"glyph"`
	Head         float64         `json:"head"`
	Classes      []ClassView     `json:"classes" nullable:"false"`
	FieldIDs     []string        `json:"field_ids" nullable:"false"`
	Demand       working.Figure  `json:"demand"`
	Grown        working.Figure  `json:"grown"`
	PerHa        *working.Figure `json:"break_even,omitempty"`
	RateHead     *working.Figure `json:"stocking_rate_head,omitempty"`
	RateAU       *working.Figure `json:"stocking_rate_au,omitempty"`
	RateWeight   *working.Figure `json:"stocking_rate_weight,omitempty"`
	Density      *working.Figure `json:"stocking_density,omitempty"`
	PerAU        *working.Figure `json:"area_per_au,omitempty"`
	AUMonths     *working.Figure `json:"au_months,omitempty"` // to the hectare
	DaysOut      float64         `json:"days_out"`            // at grass, of the next 365
	SeasonAreaHa float64         `json:"season_area_ha"`
	Counted      []string        `json:"counted_fields" nullable:"false"` // the land that area is
	OpenAreaHa   float64         `json:"open_area_ha"`
	PaddockID    string          `json:"paddock_id"`
	PaddockName  string          `json:"paddock_name"`
	School       grazing.School  `json:"school"`
	HereSince    string          `json:"here_since,omitempty"`
	Housed       []store.Housed  `json:"housed" nullable:"false"`
	Version      int             `json:"version"`
}

// Mobs lists the farm's mobs with their demand, stocking rate and stocking density.
func (s *Service) Mobs(ctx context.Context, a farm.Actor) ([]MobView, error) {
	se, err := s.Season(ctx, a)
	if err != nil {
		return nil, err
	}
	out := []MobView{}
	for i := range se.Mobs {
		v, err := mobView(se, i)
		if err != nil {
			return nil, err
		}
		out = append(out, v)
	}
	return out, nil
}

func mobView(s *season.Season, i int) (MobView, error) {
	m, rm := s.Mobs[i], s.Grazers[i]
	v := MobView{ID: m.ID, Name: m.Name, Letter: m.Letter, Glyph: m.Glyph, FieldIDs: sortedKeys(m.Fields), Classes: []ClassView{}, Counted: []string{},
		School: s.School(m.ID), Housed: append([]store.Housed{}, m.Housed.V...), Version: m.Version}
	if m.HereSince != nil {
		v.HereSince = string(*m.HereSince)
	}
	demand, grown, parts, ids, err := demandOn(s, i, s.Number(s.Now))
	if err != nil {
		return v, fmt.Errorf("demand of %s: %w", m.Name, err)
	}
	v.Demand, v.Grown, v.Classes = demand, grown, parts
	var list []stock.Animals
	for k, c := range v.Classes {
		v.Head += c.Count
		list = append(list, stock.Animals{Count: c.Count, LiveWeightKg: c.LiveWeight})
		if row := s.GroupRow(ids[k]); row != nil {
			v.Classes[k].Supplements = row.Supplements.V
		}
	}
	stocked := s.Stocking([]int{i})
	v.SeasonAreaHa, v.Counted = stocked.AreaHa, stocked.Fields
	if rm.In != rotation.Nowhere {
		v.PaddockID, v.PaddockName, v.OpenAreaHa = s.Paddocks[rm.In].ID, s.Paddocks[rm.In].Name, s.Farm.Paddocks[rm.In].AreaHa
	}
	if v.SeasonAreaHa > 0 && len(list) > 0 {
		stockingFigures(stocked, float64(s.DaysOut(i)), &v, list)
		v.PerHa = s.MobBreakEven(i)
	}
	return v, nil
}

// demandOn is a mob's demand on a day, eaten and grown, with its working and its classes as they are on that day.
func demandOn(s *season.Season, mob, day int) (eaten, grown working.Figure, classes []ClassView, ids []string, err error) {
	animals, ids := s.Herd.Mob(s.Mobs[mob].ID, day)
	classes = []ClassView{}
	housed := s.Herd.HousedOn(s.Mobs[mob].ID, day)
	if len(animals) == 0 {
		none := working.Of("no animals on this day", working.New("Demand of the mob, per day", "0", 0, quantity.Demand))
		return none, none, classes, ids, nil
	}
	eaten, parts, err := animals.DemandFigure(0, "live weight and share of live weight a day, by class, with every event up to this day")
	if err != nil {
		return eaten, grown, nil, nil, err
	}
	var terms []working.Term
	var symbols []string
	total := 0.0
	for k, c := range animals {
		cv := ClassView{ClassInput: ClassInput{ID: ids[k], ReferenceID: c.ReferenceID, Name: c.DisplayedName, Count: c.Count, LiveWeight: c.LiveWeightKg,
			IntakeShare: c.IntakeShare, DailyGain: c.DailyGainKg}, Intake: parts.Classes[k].Intake, Pasture: parts.Classes[k].Pasture, Demand: parts.Classes[k].Demand}
		if housed {
			cv.Pasture, cv.Demand = 0, 0
		}
		if ref, err := s.Class("", c.ReferenceID); err == nil {
			cv.Species = ref.Species
			if ref.AskNutritionist {
				cv.Caution = "This is the pasture side only: the ration of milking cows is a nutritionist's to make."
			}
		}
		h := s.Harvest(mob, cv.Species)
		cv.Grown = cv.Demand / h
		total += cv.Grown
		symbol := fmt.Sprintf("G%d", k+1)
		symbols = append(symbols, symbol)
		terms = append(terms, working.T(symbol, fmt.Sprintf("%s: eaten ÷ %.0f %% harvested", c.DisplayedName, h*100), cv.Grown, quantity.Demand))
		classes = append(classes, cv)
	}
	if housed {
		none := working.Of("they stand in the house on this day and eat no grass", working.New("Demand of the mob, per day", "0", 0, quantity.Demand))
		return none, none, classes, ids, nil
	}
	grown = working.Of("eaten over harvest efficiency, of all that grows, by species, way of grazing and number of paddocks",
		working.New("Grown for them, per day", strings.Join(symbols, " + "), total, quantity.Demand, terms...))
	return eaten, grown, classes, ids, nil
}

func stockingFigures(stocked season.Stocked, days float64, v *MobView, list []stock.Animals) {
	open := v.OpenAreaHa
	if open == 0 {
		open = v.SeasonAreaHa
	}
	_, steps, err := stock.Stocking(stock.StockingIn{Animals: list, SeasonAreaHa: max(open, v.SeasonAreaHa), OpenAreaHa: open})
	if err != nil {
		return
	}
	figure := func(i int, source string) *working.Figure { f := working.Of(source, steps[i]); return &f }
	over := stocked.Over
	v.RateHead, v.RateAU, v.RateWeight = figure(0, over), figure(1, over), figure(2, over)
	v.DaysOut = days
	au := 0.0
	for _, a := range list {
		au += a.Count * a.LiveWeightKg / stock.AnimalUnitKg
	}
	if au > 0 {
		season := stock.Season{AnimalUnits: au, AreaHa: max(open, v.SeasonAreaHa), Days: days}
		each, months := season.PerAnimalUnit(over), season.Months(over)
		v.PerAU, v.AUMonths = &each, &months
	}
	if v.OpenAreaHa > 0 {
		v.Density = figure(3, "live weight over the ground open to them at this moment")
	}
}

// CreateMob makes a mob, described as it is today.
func (s *Service) CreateMob(ctx context.Context, a farm.Actor, in NewMob) (MobView, error) {
	err := s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "mob", Body: in}, func(tx *facts.Writing) error {
		p, err := tx.Picture()
		if err != nil {
			return err
		}
		return makeMob(p, tx.DB, a, in)
	})
	return farm.After(err, func() (MobView, error) { return s.mob(ctx, a, in.ID) })
}

func makeMob(p *facts.Picture, tx *gorm.DB, a farm.Actor, in NewMob) error {
	if err := in.check(p); err != nil {
		return err
	}
	if err := in.checkMark(p, in.ID); err != nil {
		return err
	}
	today := store.DayOf(p.Now, p.Location)
	row := store.Mob{FarmID: a.FarmID, ID: in.ID, Name: in.Name, Letter: in.Letter, Glyph: in.Glyph, DescribedOn: today, Version: 1}
	in.fillDays(&row)
	if err := tx.Create(&row).Error; err != nil {
		return err
	}
	for i, c := range in.Classes {
		row := c.group(a.FarmID, farm.NewID(), &in.ID, i, today)
		if err := tx.Create(&row).Error; err != nil {
			return err
		}
	}
	return in.saveFields(tx, a.FarmID, in.ID)
}

// RemoveMob takes a mob off the farm; its records stay.
func (s *Service) RemoveMob(ctx context.Context, a farm.Actor, id string) error {
	return s.setMobRemoved(ctx, a, id, true)
}

// RestoreMob brings a removed mob back.
func (s *Service) RestoreMob(ctx context.Context, a farm.Actor, id string) (MobView, error) {
	err := s.setMobRemoved(ctx, a, id, false)
	return farm.After(err, func() (MobView, error) { return s.mob(ctx, a, id) })
}

func (s *Service) setMobRemoved(ctx context.Context, a farm.Actor, id string, removed bool) error {
	what := "restore mob"
	if removed {
		what = "remove mob"
	}
	return s.Write(ctx, a, farm.Request{Kind: what, Body: id}, func(tx *facts.Writing) error {
		row, err := farm.Find[store.Mob](tx.DB, a.FarmID, "", id)
		if err != nil {
			return err
		}
		var at any
		if removed {
			at = tx.Now.UTC()
		}
		return tx.Model(&row).Where("farm_id = ? AND id = ?", a.FarmID, id).Updates(map[string]any{"removed_at": at, "version": row.Version + 1}).Error
	})
}

func (s *Service) mob(ctx context.Context, a farm.Actor, id string) (MobView, error) {
	se, err := s.Season(ctx, a)
	if err != nil {
		return MobView{}, err
	}
	i, ok := se.MobIndex[id]
	if !ok {
		return MobView{}, farm.ErrNotFound
	}
	return mobView(se, i)
}

// Demand is what all mobs together eat from pasture today.
func (s *Service) Demand(ctx context.Context, a farm.Actor) (working.Figure, error) {
	p, err := s.Picture(ctx, a)
	if err != nil {
		return working.Figure{}, err
	}
	return season.FarmDemand(p, p.Number(p.Now)), nil
}
