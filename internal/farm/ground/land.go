package ground

import (
	"context"
	"fmt"
	"math"
	"time"

	"fjell/core/grazing"
	"fjell/core/land"
	"fjell/core/quantity"
	"fjell/core/rotation"
	"fjell/core/working"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// PaddockView is a paddock on the map.
type PaddockView struct {
	ID           string               `json:"id"`
	FieldID      string               `json:"field_id"`
	Name         string               `json:"name"`
	Shape        land.Shape           `json:"shape" nullable:"false"`
	AreaHa       float64              `json:"area_ha"`
	SquareM      float64              `json:"square_m" doc:"side of the square it would make"`
	FenceM       float64              `json:"fence_m"`
	OffEqual     *float64             `json:"off_equal" nullable:"true" doc:"share by which it is larger than its equals, where the layout was to be equal"`
	SwardID      string               `json:"sward_id"`
	SwardName    string               `json:"sward_name"`
	GrowthFactor float64              `json:"growth_factor"`
	LegumeShare  *float64             `json:"legume_share" nullable:"true"`
	ClosedFor    string               `json:"closed_for"`
	ClosedNow    string               `json:"closed_now" doc:"why it is out of the rotation today; empty when it is in"`
	ClosedUp     *ClosureView         `json:"closed_up,omitempty" doc:"closed by somebody for a time, now or later"`
	Purpose      string               `json:"purpose"`
	Slope        *float64             `json:"slope_degrees" nullable:"true"`
	Wetness      string               `json:"wetness"`
	Aspect       string               `json:"aspect"`
	Shade        string               `json:"shade"`
	HasWater     *bool                `json:"has_water" nullable:"true"`
	Limits       []store.PaddockLimit `json:"limits" nullable:"false"`
	RestFrom     string               `json:"rest_from"`
	Notes        string               `json:"notes"`
	Version      int                  `json:"version"`
	LastGrazed   *time.Time           `json:"last_grazed" nullable:"true"`
	Mass         season.MassView      `json:"mass"`
	RestDays     *float64             `json:"rest_days" nullable:"true"`
	State        grazing.State        `json:"state"`
	Reasons      []grazing.Reason     `json:"reasons" nullable:"false"`
	Feed         float64              `json:"feed_kg_dm"`
	MobIDs       []string             `json:"mob_ids" nullable:"false"`
}

// ExclusionView is ground that is not grazed.
type ExclusionView struct {
	ID     string     `json:"id"`
	Kind   string     `json:"kind"`
	Name   string     `json:"name"`
	Shape  land.Shape `json:"shape" nullable:"false"`
	AreaHa float64    `json:"area_ha"`
}

// ZoneView is ground of a field that grows more or less than the rest.
type ZoneView struct {
	ID           string     `json:"id"`
	Name         string     `json:"name"`
	Shape        land.Shape `json:"shape" nullable:"false"`
	AreaHa       float64    `json:"area_ha"`
	GrowthFactor float64    `json:"growth_factor"`
}

// MarkView is a gate, water, a fence or a lane.
type MarkView struct {
	ID        string          `json:"id"`
	Kind      string          `json:"kind"`
	Name      string          `json:"name"`
	Temporary bool            `json:"temporary"`
	WidthM    *float64        `json:"width_m" nullable:"true"`
	LengthM   float64         `json:"length_m"`
	Path      []land.Position `json:"path" nullable:"false"`
}

// FieldView is a field with its paddocks.
type FieldView struct {
	ID          string          `json:"id"`
	Name        string          `json:"name"`
	SwardID     string          `json:"sward_id"`
	Shape       land.Shape      `json:"shape" nullable:"false"`
	AreaHa      float64         `json:"area_ha"`
	SquareM     float64         `json:"square_m"`
	GrazeableHa float64         `json:"grazeable_ha"`
	FenceM      float64         `json:"fence_m"`
	LayoutID    string          `json:"layout_id"`
	LayoutName  string          `json:"layout_name"`
	Exclusions  []ExclusionView `json:"exclusions" nullable:"false"`
	Zones       []ZoneView      `json:"zones" nullable:"false"`
	WaterIDs    []string        `json:"water_ids" nullable:"false" doc:"water in it or on its edge"`
	LaneIDs     []string        `json:"lane_ids" nullable:"false" doc:"lanes that run through it"`
	Version     int             `json:"version"`
}

// LandView is the map of a farm.
type LandView struct {
	Fields   []FieldView    `json:"fields" nullable:"false"`
	Paddocks []PaddockView  `json:"paddocks" nullable:"false"`
	Marks    []MarkView     `json:"marks" nullable:"false"`
	Total    working.Figure `json:"total"`
	Undo     *StepView      `json:"undo,omitempty"`
	Redo     *StepView      `json:"redo,omitempty"`
}

// Land is the farm's map with what stands in every paddock now.
func (s *Service) Land(ctx context.Context, a farm.Actor) (LandView, error) {
	se, err := s.Season(ctx, a)
	if err != nil {
		return LandView{}, err
	}
	past := se.Past()
	out := LandView{Fields: []FieldView{}, Paddocks: []PaddockView{}, Marks: []MarkView{}}
	total := 0.0
	for _, f := range se.Fields {
		out.Fields = append(out.Fields, fieldView(se.Picture, f))
		total += f.Shape.AreaHa
	}
	out.Total = working.Of("the boundaries on the map", working.New("Land", "Σ a", total, quantity.Hectare, working.T("Σ", "all fields", float64(len(se.Fields)), quantity.Count)))
	equals, err := equals(se)
	if err != nil {
		return LandView{}, err
	}
	for p := range se.Paddocks {
		v := paddockView(se, p, past.Standing[p])
		v.OffEqual = equals[p]
		out.Paddocks = append(out.Paddocks, v)
	}
	for _, m := range se.Marks {
		out.Marks = append(out.Marks, markView(se.Picture, m))
	}
	for _, step := range []struct {
		undo bool
		into **StepView
	}{{true, &out.Undo}, {false, &out.Redo}} {
		if *step.into, err = s.stepView(ctx, a, step.undo); err != nil {
			return LandView{}, err
		}
	}
	return out, nil
}

// equals tells, for paddocks of layouts that were to be equal, by what share each now differs from their mean.
func equals(s *season.Season) (map[int]*float64, error) {
	out := map[int]*float64{}
	for _, f := range s.Fields {
		if f.Layout.Intent == "" {
			continue
		}
		var worth []float64
		var of []int
		for i, pad := range s.Paddocks {
			if pad.FieldID != f.ID {
				continue
			}
			v := pad.Shape.AreaHa
			if f.Layout.Intent == "feed" {
				zones, err := land.Weigh(pad.Region, []land.Bed{{Region: pad.Region, AreaHa: v, Weight: s.Limits(i).Usual(pad.GrowthFactor), Factor: pad.GrowthFactor}}, patches(s, f))
				if err != nil {
					return nil, err
				}
				if v, err = land.Carried(pad.Region, zones); err != nil {
					return nil, err
				}
			}
			worth, of = append(worth, v), append(of, i)
		}
		for k, off := range grazing.OffEqual(worth) {
			out[of[k]] = off
		}
	}
	return out, nil
}

func markView(p *facts.Picture, m store.Mark) MarkView {
	path := make(land.Path, len(m.Path.At))
	for i, pos := range m.Path.At {
		path[i] = p.Plane.Forward(pos)
	}
	return MarkView{m.ID, m.Kind, m.Name, m.Temporary, m.WidthM, path.Length(), m.Path.At}
}

func fieldView(p *facts.Picture, f facts.Field) FieldView {
	region := p.Plane.Project(f.Shape.Shape.Shape)
	v := FieldView{ID: f.ID, Name: f.Name, SwardID: f.SwardID, Shape: f.Shape.Shape.Shape, AreaHa: f.Shape.AreaHa,
		SquareM: land.SquareM(f.Shape.AreaHa), FenceM: region.FenceM(), LayoutID: f.Layout.ID, LayoutName: f.Layout.Name,
		Exclusions: []ExclusionView{}, Zones: []ZoneView{}, WaterIDs: []string{}, LaneIDs: []string{}, Version: f.Version}
	for _, m := range p.Marks {
		switch m.Kind {
		case "water":
			if _, own := region.ToWater([]land.Point{p.Plane.Forward(m.Path.At[0])}); own {
				v.WaterIDs = append(v.WaterIDs, m.ID)
			}
		case "lane":
			for _, e := range f.Exclusions {
				if e.Kind == "lane" && e.Name == m.Name {
					v.LaneIDs = append(v.LaneIDs, m.ID)
					break
				}
			}
		}
	}
	for _, e := range f.Exclusions {
		v.Exclusions = append(v.Exclusions, ExclusionView{e.ID, e.Kind, e.Name, e.Shape.Shape, p.Plane.Project(e.Shape.Shape).AreaHa()})
	}
	for _, z := range f.Zones {
		v.Zones = append(v.Zones, ZoneView{z.ID, z.Name, z.Shape.Shape, p.Plane.Project(z.Shape.Shape).AreaHa(), z.GrowthFactor})
	}
	for _, pad := range p.Paddocks {
		if pad.FieldID == f.ID {
			v.GrazeableHa += pad.Shape.AreaHa
		}
	}
	return v
}

func paddockView(s *season.Season, p int, st rotation.Standing) PaddockView {
	pad := s.Paddocks[p]
	l := s.Limits(p)
	v := PaddockView{ID: pad.ID, FieldID: pad.FieldID, Name: pad.Name, Shape: pad.Shape.Shape.Shape, AreaHa: pad.Shape.AreaHa, FenceM: pad.Shape.FenceM,
		SwardID: pad.SwardID, SwardName: pad.Sward.Name, GrowthFactor: pad.GrowthFactor, LegumeShare: pad.LegumeShare, ClosedFor: pad.ClosedFor,
		SquareM: land.SquareM(pad.Shape.AreaHa), Purpose: pad.Purpose, Slope: pad.SlopeDegrees, Wetness: pad.Wetness, Aspect: pad.Aspect, Shade: pad.Shade,
		HasWater: pad.HasWater, Limits: pad.Limits.V, Notes: pad.Notes, LastGrazed: st.LastLeft,
		Version: pad.Version, Mass: s.MassView(st), RestDays: st.Rest(s.Now), MobIDs: []string{},
		Feed: l.Above(st.Mass) * pad.Shape.AreaHa}
	if pad.RestFrom != nil {
		v.RestFrom = string(*pad.RestFrom)
	}
	v.ClosedNow, v.ClosedUp = s.ClosedNow(p), closureView(s, p)
	for i, m := range s.Grazers {
		if m.In == p {
			v.MobIDs = append(v.MobIDs, s.Mobs[i].ID)
		}
	}
	if len(v.MobIDs) > 0 {
		v.RestDays = nil
		v.State, v.Reasons = grazing.Stop, []grazing.Reason{grazing.Because("being grazed")}
		return v
	}
	v.State, v.Reasons = s.Readiness(p, st)
	return v
}

// NewField is a field to be drawn or brought in.
type NewField struct {
	ID        string     `json:"id"`
	Name      string     `json:"name"`
	SwardID   string     `json:"sward_id"`
	Shape     land.Shape `json:"shape" nullable:"false"`
	Confirmed bool       `json:"confirmed,omitempty"`
}

// CreateField makes a field with one paddock, the whole of it, so that it can be walked and grazed at once.
func (s *Service) CreateField(ctx context.Context, a farm.Actor, in NewField) (FieldView, error) {
	err := s.edit(ctx, a, in.ID, "field", in, func(e *edit) (string, error) {
		if err := land.Check("shape", in.Shape); err != nil {
			return "", err
		}
		return "field " + in.Name, e.addField(in)
	})
	return farm.After(err, func() (FieldView, error) { return s.field(ctx, a, in.ID) })
}

// addField writes a field whose shape has been checked, and puts it into the picture, so that the next one is seen beside it.
func (e *edit) addField(in NewField) error {
	var err error
	if in.Name, err = farm.CheckName("name", in.Name); err != nil {
		return err
	}
	if _, err = e.Sward("sward_id", in.SwardID); err != nil {
		return err
	}
	if e.Landless {
		e.Landless = false
		// The farm's plane is centred on its first field: that is where it is.
		c := in.Shape.Centre()
		if err := e.tx.Model(&store.Farm{}).Where("id = ?", e.actor.FarmID).Updates(map[string]any{"longitude": c[0], "latitude": c[1]}).Error; err != nil {
			return err
		}
		e.Plane = land.NewPlane(c)
	}
	region := e.Plane.Project(in.Shape)
	if err := noOverlap(e.Picture, in, region); err != nil {
		return err
	}
	farmID := e.actor.FarmID
	field := store.Field{FarmID: farmID, ID: in.ID, Name: in.Name, SwardID: in.SwardID, Version: 1}
	outline := store.FieldShape{FarmID: farmID, ID: farm.NewID(), FieldID: in.ID, ValidFrom: e.today(), Shape: store.Geometry{Shape: in.Shape}, AreaHa: region.AreaHa()}
	layout := store.Layout{FarmID: farmID, ID: farm.NewID(), FieldID: in.ID, Name: "whole field", Version: 1}
	span := store.LayoutSpan{FarmID: farmID, ID: farm.NewID(), FieldID: in.ID, LayoutID: layout.ID, HoldsFrom: e.today(), Carried: true}
	row := store.Paddock{FarmID: farmID, ID: farm.NewID(), LayoutID: layout.ID, Name: in.Name, SwardID: in.SwardID, GrowthFactor: 1, Purpose: "grazing",
		Limits: store.JSON[[]store.PaddockLimit]{V: []store.PaddockLimit{}}, Version: 1}
	shape := e.outline(row.ID, region)
	shape.Shape = store.Geometry{Shape: in.Shape}
	if err := e.Create(&field, &outline, &layout, &span, &row, shape); err != nil {
		return err
	}
	pad, err := e.PaddockRecord(row, in.ID, *shape)
	if err != nil {
		return err
	}
	e.Fields = append(e.Fields, facts.Field{Field: field, Shape: outline, Region: region, Bounds: region.Bounds(), Layout: layout, Layouts: []store.Layout{layout}, Spans: []store.LayoutSpan{span}})
	e.ByID[row.ID] = len(e.Paddocks)
	e.Paddocks = append(e.Paddocks, pad)
	return nil
}

// mostNeighbours is how many fields a new one is held against: more do not meet on real ground.
const mostNeighbours = 200

// noOverlap asks before a field is laid over another: two fences on one line overlap by a sliver, more is a slip.
func noOverlap(p *facts.Picture, in NewField, region land.Region) error {
	bounds := region.Bounds()
	met := 0
	for i := range p.Fields {
		f := &p.Fields[i]
		if !f.Bounds.Meets(bounds) {
			continue
		}
		if met++; met > mostNeighbours {
			return quantity.Refuse("shape", nil, "more than %d fields lie about this ground already: is it the same file again?", mostNeighbours)
		}
		common, err := land.OverlapHa(region, f.Region)
		if err != nil {
			return quantity.Refuse("shape", nil, "this boundary cannot be laid beside %s: %v", f.Name, err)
		}
		if common > 0.02*min(region.AreaHa(), f.Shape.AreaHa) && !in.Confirmed {
			return &farm.Unusual{Problems: []quantity.Problem{*quantity.Refuse("shape", nil, "%s of it lie on %s already: the same grass would be counted twice",
				quantity.Said{Value: math.Round(common*100) / 100, Unit: quantity.Hectare}, f.Name)}}
		}
	}
	return nil
}

func (s *Service) field(ctx context.Context, a farm.Actor, id string) (FieldView, error) {
	p, err := s.Picture(ctx, a)
	if err != nil {
		return FieldView{}, err
	}
	f, err := fieldByID(p, "", id)
	if err != nil {
		return FieldView{}, err
	}
	return fieldView(p, f), nil
}

func fieldByID(p *facts.Picture, input, id string) (facts.Field, error) {
	if f := fieldAt(p, id); f.ID != "" {
		return f, nil
	}
	if input == "" {
		return facts.Field{}, farm.ErrNotFound
	}
	return facts.Field{}, quantity.Refuse(input, id, "is not a field of this farm")
}

// RenameField gives a field another name.
func (s *Service) RenameField(ctx context.Context, a farm.Actor, id string, version int, newName string) (FieldView, error) {
	newName, err := farm.CheckName("name", newName)
	if err != nil {
		return FieldView{}, err
	}
	err = s.edit(ctx, a, "", "rename field", []any{id, version, newName}, func(e *edit) (string, error) {
		f, err := fieldByID(e.Picture, "", id)
		if err != nil {
			return "", err
		}
		row := f.Field
		if row.Version != version {
			return "", &farm.Changed{Yours: version, Stored: row.Version, Record: fieldView(e.Picture, f)}
		}
		row.Name = newName
		return fmt.Sprintf("%s is called %s", f.Name, newName), e.Save(&row)
	})
	return farm.After(err, func() (FieldView, error) { return s.field(ctx, a, id) })
}

// RemoveField takes a field off the map; its records stay.
func (s *Service) RemoveField(ctx context.Context, a farm.Actor, id string) error {
	return s.edit(ctx, a, "", "remove field", id, func(e *edit) (string, error) {
		f, err := fieldByID(e.Picture, "", id)
		if err != nil {
			return "", err
		}
		for _, mob := range standingIn(e.Picture, id) {
			for _, m := range e.Mobs {
				if m.ID == mob {
					return "", quantity.Refuse("field", nil, "%s stand in it: move them first", m.Name)
				}
			}
		}
		row := f.Field
		row.RemovedAt = e.moment()
		return "without " + f.Name, e.Save(&row)
	})
}
