package ground

import (
	"context"
	"fmt"
	"strings"
	"time"

	"fjell/core/quantity"
	"fjell/core/rotation"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// PaddockInput is what a person may change of a paddock.
type PaddockInput struct {
	Name         string               `json:"name"`
	SwardID      string               `json:"sward_id"`
	GrowthFactor float64              `json:"growth_factor"`
	LegumeShare  *float64             `json:"legume_share,omitempty"`
	ClosedFor    string               `json:"closed_for"`
	Purpose      string               `json:"purpose,omitempty" enum:"grazing,loafing,reserve"`
	Slope        *float64             `json:"slope_degrees,omitempty"`
	Wetness      string               `json:"wetness,omitempty" enum:",dry,moist,wet"`
	Aspect       string               `json:"aspect,omitempty" enum:",N,NE,E,SE,S,SW,W,NW"`
	Shade        string               `json:"shade,omitempty" enum:",none,some,plenty"`
	HasWater     *bool                `json:"has_water,omitempty"`
	Limits       []store.PaddockLimit `json:"limits,omitempty"`
	RestFrom     string               `json:"rest_from,omitempty" doc:"day the last animal left, where no move tells it: YYYY-MM-DD"`
	Notes        string               `json:"notes,omitempty"`
	Confirmed    bool                 `json:"confirmed,omitempty"`
}

// PaddockChange is one paddock of several that are changed together.
type PaddockChange struct {
	ID      string `json:"id"`
	Version int    `json:"version"`
	PaddockInput
}

// check refuses what no paddock can be and returns the day rest counts from.
func (in *PaddockInput) check(p *facts.Picture, field string) (*store.Day, error) {
	var err error
	if in.Name, err = farm.CheckName(field+"name", in.Name); err != nil {
		return nil, err
	}
	if _, err := p.Sward(field+"sward_id", in.SwardID); err != nil {
		return nil, err
	}
	in.ClosedFor = strings.TrimSpace(in.ClosedFor)
	if len([]rune(in.ClosedFor)) > 80 {
		return nil, quantity.Refuse(field+"closed_for", nil, "at most 80 letters")
	}
	if len([]rune(in.Notes)) > 2000 {
		return nil, quantity.Refuse(field+"notes", nil, "at most 2000 letters")
	}
	if in.Purpose == "" {
		in.Purpose = "grazing"
	}
	for _, choice := range []struct{ key, value, of string }{
		{"purpose", in.Purpose, "grazing,loafing,reserve"}, {"wetness", in.Wetness, ",dry,moist,wet"},
		{"aspect", in.Aspect, ",N,NE,E,SE,S,SW,W,NW"}, {"shade", in.Shade, ",none,some,plenty"},
	} {
		if !strings.Contains(","+choice.of+",", ","+choice.value+",") {
			return nil, quantity.Refuse(field+choice.key, choice.value, "must be one of %s", strings.Trim(choice.of, ","))
		}
	}
	if len(in.Limits) > 12 {
		return nil, quantity.Refuse(field+"limits", len(in.Limits), "a paddock has at most 12 limits")
	}
	for i, l := range in.Limits {
		at := fmt.Sprintf("%slimits[%d]", field, i)
		if !rotation.Shuts(l.Kind) && l.Kind != "not_wet" && l.Kind != "no_water_in_frost" && l.Kind != "sheep_only" {
			return nil, quantity.Refuse(at+".kind", l.Kind, "must be hay, nesting, closed, not_wet, no_water_in_frost or sheep_only")
		}
		for key, day := range map[string]string{"from": l.From, "until": l.Until} {
			if _, err := time.Parse("2006-01-02", "2024-"+day); day != "" && err != nil {
				return nil, quantity.Refuse(at+"."+key, day, "is a day of the year as month and day, such as 04-15")
			}
		}
		if (l.From == "") != (l.Until == "") {
			return nil, quantity.Refuse(at, nil, "give both days, or neither for the whole year")
		}
		if len([]rune(l.Note)) > 120 {
			return nil, quantity.Refuse(at+".note", nil, "at most 120 letters")
		}
	}
	if in.RestFrom == "" {
		return nil, nil
	}
	if _, err := time.Parse(time.DateOnly, in.RestFrom); err != nil {
		return nil, quantity.Refuse(field+"rest_from", in.RestFrom, "must be a day such as 2026-05-20")
	}
	day := store.Day(in.RestFrom)
	return &day, nil
}

func (in PaddockInput) fill(row *store.Paddock, rest *store.Day) {
	row.Name, row.SwardID, row.GrowthFactor, row.LegumeShare, row.ClosedFor = in.Name, in.SwardID, in.GrowthFactor, in.LegumeShare, in.ClosedFor
	row.Purpose, row.SlopeDegrees, row.Wetness, row.Aspect, row.Shade, row.HasWater = in.Purpose, in.Slope, in.Wetness, in.Aspect, in.Shade, in.HasWater
	row.Limits.V, row.RestFrom, row.Notes = in.Limits, rest, strings.TrimSpace(in.Notes)
	if row.Limits.V == nil {
		row.Limits.V = []store.PaddockLimit{}
	}
}

// UpdatePaddock changes a paddock's name and facts.
func (s *Service) UpdatePaddock(ctx context.Context, a farm.Actor, id string, version int, in PaddockInput) (PaddockView, error) {
	if err := farm.Judge(in, in.Confirmed); err != nil {
		return PaddockView{}, err
	}
	err := s.edit(ctx, a, "", "facts", []any{id, version, in}, func(e *edit) (string, error) {
		return "facts of " + in.Name, e.updatePaddock(PaddockChange{id, version, in}, "")
	})
	return farm.After(err, func() (PaddockView, error) {
		se, err := s.Season(ctx, a)
		if err != nil {
			return PaddockView{}, err
		}
		p, ok := se.ByID[id]
		if !ok {
			return PaddockView{}, farm.ErrNotFound
		}
		return paddockView(se, p, se.Past().Standing[p]), nil
	})
}

// UpdatePaddocks changes several paddocks at once: all of them or none.
func (s *Service) UpdatePaddocks(ctx context.Context, a farm.Actor, changes []PaddockChange, confirmed bool) (LandView, error) {
	if len(changes) == 0 || len(changes) > 1000 {
		return LandView{}, quantity.Refuse("paddocks", len(changes), "change 1 to 1000 paddocks at a time")
	}
	for _, c := range changes {
		if err := farm.Judge(c.PaddockInput, confirmed); err != nil {
			return LandView{}, fmt.Errorf("%s: %w", c.Name, err)
		}
	}
	err := s.edit(ctx, a, "", "facts of many", changes, func(e *edit) (string, error) {
		for i, c := range changes {
			if err := e.updatePaddock(c, fmt.Sprintf("paddocks[%d].", i)); err != nil {
				return "", err
			}
		}
		return fmt.Sprintf("facts of %d paddocks", len(changes)), nil
	})
	return farm.After(err, func() (LandView, error) { return s.Land(ctx, a) })
}

func (e *edit) updatePaddock(c PaddockChange, field string) error {
	rest, err := c.check(e.Picture, field)
	if err != nil {
		return err
	}
	row, err := farm.Find[store.Paddock](e.tx, e.actor.FarmID, "", c.ID)
	if err != nil {
		return err
	}
	if row.Version != c.Version {
		return &farm.Changed{Yours: c.Version, Stored: row.Version, Record: e.paddockAsShown(row.ID)}
	}
	c.fill(&row, rest)
	return e.Save(&row)
}

// paddockAsShown is a paddock as its place shows it; nil where it is of a layout that does not hold today.
func (e *edit) paddockAsShown(id string) any {
	se, err := season.Of(e.Picture)
	if err != nil {
		return nil
	}
	p, ok := se.ByID[id]
	if !ok {
		return nil
	}
	return paddockView(se, p, se.Past().Standing[p])
}
