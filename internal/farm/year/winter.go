package year

import (
	"cmp"
	"context"
	"math"
	"slices"
	"time"

	"fjell/core/nutrient"
	"fjell/core/quantity"
	"fjell/core/rotation"
	"fjell/core/working"
	core "fjell/core/year"
	"fjell/internal/farm"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// WinterView is what a winter asks for: when water freezes, and ground and stock that may meet on it.
type WinterView struct {
	Nights []time.Time    `json:"freezing_days" nullable:"false" doc:"of the ten to come: standing water is frozen"`
	Months []WinterMonth  `json:"months" nullable:"false"`
	Known  bool           `json:"weather_known"`
	Fields []YearField    `json:"fields" nullable:"false"`
	Groups []string       `json:"groups" nullable:"false"`
	Ground []WinterGround `json:"ground" nullable:"false" doc:"where hay does most good, the ground that lacks most first"`
}

// WinterGround is a paddock as ground for hay in winter.
type WinterGround struct {
	ID     string     `json:"id"`
	Name   string     `json:"name"`
	Field  string     `json:"field"`
	P      float64    `json:"phosphorus_kg_ha" doc:"carried off with cuts of the last twelve months"`
	K      float64    `json:"potassium_kg_ha"`
	Wet    bool       `json:"not_wet" doc:"somebody said that hooves and wheels cut in there"`
	Grazed *time.Time `json:"grazed_until" nullable:"true" doc:"the latest on record"`
}

// WinterMonth is how many days of a month are expected to freeze.
type WinterMonth struct {
	From time.Time `json:"from"`
	Days int       `json:"freezing_days"`
}

// soonDays is how many days of frost are named by date.
const soonDays = 10

// Winter is what the winter to come asks for.
func (s *Service) Winter(ctx context.Context, a farm.Actor) (WinterView, error) {
	out := WinterView{Nights: []time.Time{}, Months: []WinterMonth{}, Fields: []YearField{}, Groups: []string{}, Ground: []WinterGround{}}
	se, err := s.Season(ctx, a)
	if err != nil {
		return out, err
	}
	out.Known = se.Weather != nil
	c, err := s.caseOf(ctx, se, leastMonths, 0)
	if err != nil {
		return out, err
	}
	for _, month := range c.Months {
		row := WinterMonth{From: month.From}
		for at := month.From; at.Before(month.Until); at = at.AddDate(0, 0, 1) {
			if !se.Weather.Freezing(se.Number(at)) {
				continue
			}
			row.Days++
			if at.Before(se.Now.AddDate(0, 0, soonDays)) {
				out.Nights = append(out.Nights, at)
			}
		}
		out.Months = append(out.Months, row)
	}
	for _, g := range c.Groups {
		out.Groups = append(out.Groups, g.Name)
	}
	for _, pc := range c.Pieces {
		at := slices.IndexFunc(out.Fields, func(f YearField) bool { return f.ID == pc.FieldID })
		if at < 0 {
			at = len(out.Fields)
			out.Fields = append(out.Fields, YearField{ID: pc.FieldID, Name: pc.Field, Inputs: []string{}})
		}
		out.Fields[at].AreaHa += pc.AreaHa
	}
	out.Ground = groundForHay(se)
	return out, nil
}

// groundForHay are paddocks by what was carried off them: first where hay gives back most, and last where nothing should go in winter.
func groundForHay(se *season.Season) []WinterGround {
	out := []WinterGround{}
	since := store.DayOf(se.Now.AddDate(-1, 0, 0), se.Location)
	for p, pad := range se.Paddocks {
		row := WinterGround{ID: pad.ID, Name: pad.Name, Field: se.FieldName(pad.FieldID), Wet: slices.ContainsFunc(se.Farm.Paddocks[p].Minded, func(l rotation.Limit) bool { return l.Kind == "not_wet" })}
		for _, c := range se.Cuts {
			if c.PaddockID == pad.ID && c.KgDM != nil && c.CutOn > since {
				p, k := nutrient.CarriedOff(*c.KgDM / pad.Shape.AreaHa)
				row.P, row.K = row.P+p, row.K+k
			}
		}
		for _, stay := range se.Stays {
			if stay.Paddock == p && !stay.Leave.IsZero() && (row.Grazed == nil || stay.Leave.After(*row.Grazed)) {
				row.Grazed = &stay.Leave
			}
		}
		out = append(out, row)
	}
	slices.SortStableFunc(out, func(a, b WinterGround) int {
		if a.Wet != b.Wet {
			if a.Wet {
				return 1
			}
			return -1
		}
		return cmp.Compare(b.K, a.K)
	})
	return out
}

// BalesInput asks how far bales that are set out on a field feed some mobs.
type BalesInput struct {
	Field    string    `json:"field_id"`
	AreaHa   float64   `json:"area_ha,omitempty" doc:"on which they lie; left out: all of the field"`
	Group    int       `json:"group" minimum:"0"`
	From     store.Day `json:"from_day"`
	Bales    float64   `json:"bales"`
	BaleKg   float64   `json:"bale_kg" doc:"as it lies: weighed"`
	DryShare float64   `json:"dry_matter_share"`
	Each     float64   `json:"days_each" doc:"for which a set should last"`
}

// BalesView is how far they go.
type BalesView struct {
	Days    float64        `json:"days"`
	Set     float64        `json:"set" doc:"bales opened at a time"`
	Sets    float64        `json:"sets"`
	Apart   float64        `json:"apart_m"`
	N       float64        `json:"nitrogen_kg_ha"`
	P       float64        `json:"phosphorus_kg_ha"`
	K       float64        `json:"potassium_kg_ha"`
	TooMuch bool           `json:"too_much" doc:"more nitrogen than the ground keeps"`
	Ends    time.Time      `json:"ends"`
	Figure  working.Figure `json:"figure"`
}

// monthOfWinter is how long what stock want is looked at, days, when it is not known yet how long bales last.
const monthOfWinter = 30

// Bales reckons bales that are grazed where they lie; it writes nothing.
func (s *Service) Bales(ctx context.Context, a farm.Actor, in BalesInput) (BalesView, error) {
	se, err := s.Season(ctx, a)
	if err != nil {
		return BalesView{}, err
	}
	from, err := in.From.Time(se.Location)
	if err != nil || from.Before(se.Now.AddDate(0, 0, -31)) || from.After(se.Now.AddDate(2, 0, 0)) {
		return BalesView{}, quantity.Refuse("from_day", string(in.From), "must be a day of this month or of the two years to come")
	}
	c, err := s.caseOf(ctx, se, mostMonths, 0)
	if err != nil {
		return BalesView{}, err
	}
	if in.Group < 0 || in.Group >= len(c.Groups) {
		return BalesView{}, quantity.Refuse("group", in.Group, "is no group of mobs")
	}
	area := 0.0
	for _, pad := range se.Paddocks {
		if pad.FieldID == in.Field {
			area += pad.Shape.AreaHa
		}
	}
	if in.AreaHa != 0 {
		if !(in.AreaHa > 0 && in.AreaHa <= area*1.001) {
			return BalesView{}, quantity.Refuse("area_ha", in.AreaHa, "the field has %s", quantity.Said{Value: area, Unit: quantity.Hectare})
		}
		area = in.AreaHa
	}
	b, err := core.BaleGrazing{AreaHa: area, Bales: in.Bales, BaleKg: in.BaleKg, DryShare: in.DryShare, Each: in.Each, FeedLoss: c.FeedLoss, Wants: c.WantedADay(in.Group, from, from.AddDate(0, 0, monthOfWinter))}.Plan()
	if err != nil {
		return BalesView{}, err
	}
	return BalesView{b.Days, b.Set, b.Sets, b.Apart, b.N, b.P, b.K, b.TooMuch(), from.Add(time.Duration(min(b.Days, 1000) * 24 * float64(time.Hour))), b.Figure}, nil
}

// StockpileInput asks how far a field that is closed up feeds some mobs in winter.
type StockpileInput struct {
	Field    string    `json:"field_id"`
	Group    int       `json:"group" minimum:"0"`
	Close    store.Day `json:"close_day"`
	From     store.Day `json:"from_day" doc:"the first day of the feed window"`
	Until    store.Day `json:"until_day" doc:"the first day after it"`
	Strips   int       `json:"strips"`
	Hay      float64   `json:"hay_share" doc:"of what they want, fed as hay beside the strips"`
	BaleKg   *float64  `json:"bale_kg,omitempty" doc:"as it lies; left out: not known, and bales are not counted"`
	DryShare *float64  `json:"dry_matter_share,omitempty"`
}

// StockpileStrip is one strip.
type StockpileStrip struct {
	Days  float64  `json:"days"`
	Bales *float64 `json:"bales,omitempty"`
}

// StockpileView is how far it goes.
type StockpileView struct {
	AreaHa float64          `json:"area_ha"`
	Opens  float64          `json:"opens_kg_dm_ha"`
	Wants  float64          `json:"wants_kg_dm_day"`
	Days   float64          `json:"days"`
	Ends   time.Time        `json:"ends"`
	Short  float64          `json:"short_days"`
	Strips []StockpileStrip `json:"strips" nullable:"false"`
	HayKg  float64          `json:"hay_kg_dm"`
	Bales  *float64         `json:"bales,omitempty"`
	N      float64          `json:"nitrogen_kg_ha"`
	P      float64          `json:"phosphorus_kg_ha"`
	K      float64          `json:"potassium_kg_ha"`
	Figure working.Figure   `json:"figure"`
	Rests  []string         `json:"rests" nullable:"false"` // fields that are left alone meanwhile, and rest until spring
}

// Stockpile reckons how far a field that is closed up feeds some mobs; it writes nothing.
func (s *Service) Stockpile(ctx context.Context, a farm.Actor, in StockpileInput) (StockpileView, error) {
	out := StockpileView{Strips: []StockpileStrip{}, Rests: []string{}}
	se, err := s.Season(ctx, a)
	if err != nil {
		return out, err
	}
	days := map[string]time.Time{}
	for field, day := range map[string]store.Day{"close_day": in.Close, "from_day": in.From, "until_day": in.Until} {
		at, err := day.Time(se.Location)
		if err != nil || at.Before(se.Now.AddDate(-1, 0, 0)) || at.After(se.Now.AddDate(2, 0, 0)) {
			return out, quantity.Refuse(field, string(day), "must be a day of the year past or of the two to come")
		}
		days[field] = at
	}
	closes, from, until := days["close_day"], days["from_day"], days["until_day"]
	if !from.After(closes) {
		return out, quantity.Refuse("from_day", string(in.From), "must lie after the day it is closed")
	}
	c, err := s.caseOf(ctx, se, mostMonths, 0)
	if err != nil {
		return out, err
	}
	if in.Group < 0 || in.Group >= len(c.Groups) {
		return out, quantity.Refuse("group", in.Group, "is no group of mobs")
	}
	plan := core.Stockpile{Window: int(math.Round(until.Sub(from).Hours() / 24)), Strips: in.Strips, Hay: in.Hay, BaleKg: in.BaleKg, DryShare: in.DryShare, FeedLoss: c.FeedLoss, Wants: c.WantedADay(in.Group, from, until),
		Grows: make([]float64, max(0, se.Number(from)-max(se.Number(closes), se.Number(se.Now))))}
	for p, pad := range se.Paddocks {
		if pad.FieldID != in.Field {
			if name := se.FieldName(pad.FieldID); name != "" && !slices.Contains(out.Rests, name) {
				out.Rests = append(out.Rests, name)
			}
			continue
		}
		se.Close(&plan, p, closes)
	}
	if plan.AreaHa == 0 {
		return out, quantity.Refuse("field_id", in.Field, "is no field with paddocks")
	}
	done, err := plan.Plan()
	if err != nil {
		return out, err
	}
	out.AreaHa, out.Opens, out.Wants, out.Days, out.Short, out.Figure = plan.AreaHa, done.Opens, plan.Wants, done.Days, done.Short, done.Figure
	out.Ends = from.Add(time.Duration(min(done.Days, 1000) * 24 * float64(time.Hour)))
	out.HayKg, out.Bales, out.N, out.P, out.K = done.HayKg, done.Bales, done.N, done.P, done.K
	for _, strip := range done.Strips {
		out.Strips = append(out.Strips, StockpileStrip{strip.Days, strip.Bales})
	}
	return out, nil
}

// FrostInput asks about water in frost: what an overflow wastes, and whether a waterer is enough for those who come at once.
type FrostInput struct {
	Overflow *core.Overflow `json:"overflow,omitempty"`
	Waterer  *core.Waterer  `json:"waterer,omitempty"`
}

// FrostView is the answer.
type FrostView struct {
	Flow  *float64 `json:"flow_l_min,omitempty"`
	Waste *float64 `json:"waste_l_night,omitempty"`
	Short *float64 `json:"short_l,omitempty"`
}

// Frost answers about water in frost; it writes nothing.
func (s *Service) Frost(_ context.Context, _ farm.Actor, in FrostInput) (FrostView, error) {
	out := FrostView{}
	if in.Overflow != nil {
		r, err := in.Overflow.Runs()
		if err != nil {
			return out, err
		}
		out.Flow, out.Waste = &r.Flow, &r.Waste
	}
	if in.Waterer != nil {
		short, err := in.Waterer.Short()
		if err != nil {
			return out, err
		}
		out.Short = &short
	}
	return out, nil
}
