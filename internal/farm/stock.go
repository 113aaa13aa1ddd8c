package farm

import (
	"context"
	"errors"
	"fmt"
	"sort"
	"strings"
	"time"

	"gorm.io/gorm"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/core/rotation"
	"fjell/core/stock"
	"fjell/core/working"
	"fjell/internal/store"
)

// Glyphs are the shapes a mob can carry on maps and charts.
var Glyphs = []string{"triangle", "circle", "square", "diamond", "hexagon"}

// ClassInput is one class of a mob.
type ClassInput struct {
	ReferenceID  string   `json:"reference_id"`
	Name         string   `json:"name"`
	Count        float64  `json:"count"`
	LiveWeight   float64  `json:"live_weight_kg"`
	IntakeShare  float64  `json:"intake_share"`
	Supplement   float64  `json:"supplement_kg_dm,omitempty"`
	Substitution *float64 `json:"substitution,omitempty"`
	DailyGain    float64  `json:"daily_gain_kg,omitempty"`
}

// MobInput is what a person says of a mob.
type MobInput struct {
	Name      string       `json:"name"`
	Letter    string       `json:"letter"`
	Glyph     string       `json:"glyph" enum:"triangle,circle,square,diamond,hexagon"`
	Classes   []ClassInput `json:"classes" nullable:"false"`
	FieldIDs  []string     `json:"field_ids" nullable:"false"`
	Confirmed bool         `json:"confirmed,omitempty"`
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
	DescribedOn  string          `json:"described_on"`
	Demand       working.Figure  `json:"demand"`
	PerHa        *working.Figure `json:"break_even,omitempty"`
	RateHead     *working.Figure `json:"stocking_rate_head,omitempty"`
	RateAU       *working.Figure `json:"stocking_rate_au,omitempty"`
	RateWeight   *working.Figure `json:"stocking_rate_weight,omitempty"`
	Density      *working.Figure `json:"stocking_density,omitempty"`
	SeasonAreaHa float64         `json:"season_area_ha"`
	OpenAreaHa   float64         `json:"open_area_ha"`
	PaddockID    string          `json:"paddock_id"`
	PaddockName  string          `json:"paddock_name"`
	School       grazing.School  `json:"school"`
	Version      int             `json:"version"`
}

// Mobs lists the farm's mobs with their demand, stocking rate and stocking density.
func (s *Service) Mobs(ctx context.Context, a Actor) ([]MobView, error) {
	se, err := s.season(ctx, a)
	if err != nil {
		return nil, err
	}
	out := []MobView{}
	for i := range se.mobs {
		v, err := se.mobView(i)
		if err != nil {
			return nil, err
		}
		out = append(out, v)
	}
	return out, nil
}

func (s *season) mobView(i int) (MobView, error) {
	m, rm := s.mobs[i], s.rotMobs[i]
	v := MobView{ID: m.ID, Name: m.Name, Letter: m.Letter, Glyph: m.Glyph, FieldIDs: sortedKeys(m.fields), Classes: []ClassView{},
		DescribedOn: string(m.DescribedOn), School: m.school, Version: m.Version}
	age := s.age(m, s.now)
	animals := m.stock()
	demand, parts, err := animals.DemandFigure(age, "live weight and share of live weight a day, by class; weights grow from "+string(m.DescribedOn))
	if err != nil {
		return v, fmt.Errorf("demand of %s: %w", m.Name, err)
	}
	v.Demand = demand
	var list []stock.Animals
	for k, c := range animals {
		c = c.On(age)
		row := m.classes[k]
		cv := ClassView{ClassInput: ClassInput{row.ReferenceID, row.DisplayedName, c.Count, c.LiveWeightKg, c.IntakeShare, c.SupplementKg, c.Substitution, c.DailyGainKg},
			Intake: parts.Classes[k].Intake, Pasture: parts.Classes[k].Pasture, Demand: parts.Classes[k].Demand}
		if ref, err := reference.Load().Class(row.ReferenceID); err == nil {
			cv.Species = ref.Species
			if ref.AskNutritionist {
				cv.Caution = "This is the pasture side only: the ration of milking cows is a nutritionist's to make."
			}
		}
		v.Head += c.Count
		v.Classes = append(v.Classes, cv)
		list = append(list, stock.Animals{Count: c.Count, LiveWeightKg: c.LiveWeightKg})
	}
	for p, pad := range s.farm.Paddocks {
		if rm.Ground[p] && s.closedNow(p) == "" {
			v.SeasonAreaHa += pad.AreaHa
		}
	}
	if rm.In != rotation.Nowhere {
		v.PaddockID, v.PaddockName, v.OpenAreaHa = s.paddocks[rm.In].ID, s.paddocks[rm.In].Name, s.farm.Paddocks[rm.In].AreaHa
	}
	if v.SeasonAreaHa > 0 {
		s.stockingFigures(&v, list)
	}
	return v, nil
}

func (s *season) stockingFigures(v *MobView, list []stock.Animals) {
	open := v.OpenAreaHa
	if open == 0 {
		open = v.SeasonAreaHa
	}
	_, steps, err := stock.Stocking(stock.StockingIn{Animals: list, SeasonAreaHa: max(open, v.SeasonAreaHa), OpenAreaHa: open})
	if err != nil {
		return
	}
	figure := func(i int, source string) *working.Figure { f := working.Of(source, steps[i]); return &f }
	season := "animals over the ground this mob grazes in the season; closed paddocks are not counted"
	v.RateHead, v.RateAU, v.RateWeight = figure(0, season), figure(1, season), figure(2, season)
	if v.OpenAreaHa > 0 {
		v.Density = figure(3, "live weight over the ground open to them at this moment")
	}
	if _, steps, err := grazing.BreakEven(grazing.BreakEvenIn{Demand: v.Demand.Value, Area: v.SeasonAreaHa}); err == nil {
		f := working.Of("growth below this runs the grass down, growth above builds a surplus", steps...)
		v.PerHa = &f
	}
}

func (in *MobInput) check() error {
	var err error
	if in.Name, err = name("name", in.Name); err != nil {
		return err
	}
	in.Letter = strings.ToUpper(strings.TrimSpace(in.Letter))
	if in.Letter == "" {
		in.Letter = strings.ToUpper(string([]rune(in.Name)[:1]))
	}
	if len([]rune(in.Letter)) != 1 {
		return quantity.Refuse("letter", in.Letter, "one letter marks a mob on the map")
	}
	known := false
	for _, g := range Glyphs {
		known = known || g == in.Glyph
	}
	if !known {
		return quantity.Refuse("glyph", in.Glyph, "must be one of %s", strings.Join(Glyphs, ", "))
	}
	if len(in.Classes) == 0 {
		return quantity.Refuse("classes", 0, "a mob needs at least one class of animals")
	}
	if len(in.Classes) > 20 {
		return quantity.Refuse("classes", len(in.Classes), "a mob has at most 20 classes")
	}
	var strange []quantity.Problem
	head := 0.0
	for i := range in.Classes {
		c := &in.Classes[i]
		ref, err := reference.Load().Class(c.ReferenceID)
		if err != nil {
			var p *quantity.Problem
			if errors.As(err, &p) {
				p.Field = fmt.Sprintf("classes[%d].reference_id", i)
			}
			return err
		}
		if c.Name = strings.TrimSpace(c.Name); c.Name == "" {
			c.Name = ref.Name
		}
		head += c.Count
		// What is possible for some animal may still be a slip for this class: half or double its usual range is asked about.
		if w := ref.LiveWeight; c.LiveWeight < w.Low/2 || c.LiveWeight > w.High*1.5 {
			strange = append(strange, quantity.Problem{Field: fmt.Sprintf("classes[%d].live_weight_kg", i),
				Message: fmt.Sprintf("%s of %.4g kg? They usually weigh %g to %g kg", ref.Name, c.LiveWeight, w.Low, w.High)})
		}
		if p := ref.IntakeShare; c.IntakeShare < p.Low*0.7 || c.IntakeShare > p.High*1.3 {
			strange = append(strange, quantity.Problem{Field: fmt.Sprintf("classes[%d].intake_share", i),
				Message: fmt.Sprintf("%s eating %.3g %% of live weight? %.3g to %.3g %% is usual", ref.Name, c.IntakeShare*100, p.Low*100, p.High*100)})
		}
	}
	if head == 0 {
		return quantity.Refuse("classes[0].count", 0, "a mob needs at least one animal")
	}
	if err := judge(in, in.Confirmed); err != nil {
		return err
	}
	if len(strange) > 0 && !in.Confirmed {
		return &Unusual{strange}
	}
	return nil
}

func (in MobInput) rows(farmID, mobID string) (classes []store.MobClass, fields []store.MobField) {
	for i, c := range in.Classes {
		sub := 1.0
		if c.Substitution != nil {
			sub = *c.Substitution
		}
		classes = append(classes, store.MobClass{FarmID: farmID, MobID: mobID, Position: i, ReferenceID: c.ReferenceID, DisplayedName: c.Name,
			Count: int(c.Count), LiveWeightKg: c.LiveWeight, IntakeShare: c.IntakeShare, SupplementKgDm: c.Supplement, Substitution: sub, DailyGainKg: c.DailyGain})
	}
	ids := append([]string(nil), in.FieldIDs...)
	sort.Strings(ids)
	for _, f := range ids {
		fields = append(fields, store.MobField{FarmID: farmID, MobID: mobID, FieldID: f})
	}
	return classes, fields
}

func (in MobInput) save(tx *gorm.DB, farmID, mobID string) error {
	for i, id := range in.FieldIDs {
		if _, err := find[store.Field](tx, farmID, fmt.Sprintf("field_ids[%d]", i), id); err != nil {
			return err
		}
	}
	classes, fields := in.rows(farmID, mobID)
	if err := tx.Where("farm_id = ? AND mob_id = ?", farmID, mobID).Delete(&store.MobClass{}).Error; err != nil {
		return err
	}
	if err := tx.Where("farm_id = ? AND mob_id = ?", farmID, mobID).Delete(&store.MobField{}).Error; err != nil {
		return err
	}
	if err := tx.Create(&classes).Error; err != nil {
		return err
	}
	if len(fields) == 0 {
		return nil
	}
	return tx.Create(&fields).Error
}

// CreateMob makes a mob, described as it is today.
func (s *Service) CreateMob(ctx context.Context, a Actor, in NewMob) (MobView, error) {
	if err := clientID("id", in.ID); err != nil {
		return MobView{}, err
	}
	if err := in.check(); err != nil {
		return MobView{}, err
	}
	err := s.atomically(ctx, func(tx *gorm.DB) error {
		repeat, err := once(tx, a.FarmID, in.ID, "mob", in)
		if err != nil || repeat {
			return err
		}
		today, err := s.today(ctx, tx, a)
		if err != nil {
			return err
		}
		if err := tx.Create(&store.Mob{FarmID: a.FarmID, ID: in.ID, Name: in.Name, Letter: in.Letter, Glyph: in.Glyph, DescribedOn: today, Version: 1}).Error; err != nil {
			return err
		}
		return in.save(tx, a.FarmID, in.ID)
	})
	if err != nil {
		return MobView{}, err
	}
	return s.mob(ctx, a, in.ID)
}

// UpdateMob describes a mob anew, as it is today.
func (s *Service) UpdateMob(ctx context.Context, a Actor, id string, version int, in MobInput) (MobView, error) {
	if err := in.check(); err != nil {
		return MobView{}, err
	}
	err := s.atomically(ctx, func(tx *gorm.DB) error {
		row, err := find[store.Mob](tx, a.FarmID, "", id)
		if err != nil {
			return err
		}
		if err := bump[store.Mob](tx, a.FarmID, id, version, row.Version, row); err != nil {
			return err
		}
		today, err := s.today(ctx, tx, a)
		if err != nil {
			return err
		}
		if err := tx.Model(&store.Mob{}).Where("farm_id = ? AND id = ?", a.FarmID, id).
			Updates(map[string]any{"name": in.Name, "letter": in.Letter, "glyph": in.Glyph, "described_on": today}).Error; err != nil {
			return err
		}
		return in.save(tx, a.FarmID, id)
	})
	if err != nil {
		return MobView{}, err
	}
	return s.mob(ctx, a, id)
}

// RemoveMob takes a mob off the farm; its records stay.
func (s *Service) RemoveMob(ctx context.Context, a Actor, id string) error {
	return s.setMobRemoved(ctx, a, id, true)
}

// RestoreMob brings a removed mob back.
func (s *Service) RestoreMob(ctx context.Context, a Actor, id string) (MobView, error) {
	if err := s.setMobRemoved(ctx, a, id, false); err != nil {
		return MobView{}, err
	}
	return s.mob(ctx, a, id)
}

func (s *Service) setMobRemoved(ctx context.Context, a Actor, id string, removed bool) error {
	tx := s.DB.WithContext(ctx)
	row, err := find[store.Mob](tx, a.FarmID, "", id)
	if err != nil {
		return err
	}
	var at any
	if removed {
		at = time.Now().UTC()
	}
	return tx.Model(&row).Where("farm_id = ? AND id = ?", a.FarmID, id).Update("removed_at", at).Error
}

func (s *Service) mob(ctx context.Context, a Actor, id string) (MobView, error) {
	se, err := s.season(ctx, a)
	if err != nil {
		return MobView{}, err
	}
	i, ok := se.mobIndex[id]
	if !ok {
		return MobView{}, ErrNotFound
	}
	return se.mobView(i)
}

// today is the calendar day at the farm.
func (s *Service) today(ctx context.Context, tx *gorm.DB, a Actor) (store.Day, error) {
	var row store.Farm
	if err := tx.First(&row, "id = ?", a.FarmID).Error; err != nil {
		return "", err
	}
	loc, err := time.LoadLocation(row.TimeZone)
	if err != nil {
		return "", err
	}
	now, err := s.Clock.Now(ctx)
	return store.DayOf(now, loc), err
}

// Demand is what all mobs together eat from pasture today.
func (s *Service) Demand(ctx context.Context, a Actor) (working.Figure, error) {
	p, err := s.picture(ctx, a)
	if err != nil {
		return working.Figure{}, err
	}
	var terms []working.Term
	var symbols []string
	total := 0.0
	for i, m := range p.mobs {
		demand := m.stock().DemandOn(p.age(m, p.now))
		symbol := fmt.Sprintf("D%d", i+1)
		terms, symbols = append(terms, working.T(symbol, m.Name, demand, quantity.Demand)), append(symbols, symbol)
		total += demand
	}
	return working.Of("the mobs as they are described", working.New("Demand of all mobs", strings.Join(symbols, " + "), total, quantity.Demand, terms...)), nil
}
