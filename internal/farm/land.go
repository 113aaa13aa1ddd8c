package farm

import (
	"context"
	"fmt"
	"strings"
	"time"

	"gorm.io/gorm"

	"fjell/core/grazing"
	"fjell/core/land"
	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/core/rotation"
	"fjell/internal/store"
)

// MassView is an estimated forage mass, about x ± y, and where it comes from.
type MassView struct {
	Mass       float64    `json:"forage_mass_kg_dm_ha"`
	HalfWidth  float64    `json:"half_width_kg_dm_ha"`
	Guessed    bool       `json:"guessed"`
	MeasuredAt *time.Time `json:"measured_at" nullable:"true"`
}

// PaddockView is a paddock on the map.
type PaddockView struct {
	ID           string           `json:"id"`
	FieldID      string           `json:"field_id"`
	Name         string           `json:"name"`
	Shape        land.Shape       `json:"shape" nullable:"false"`
	AreaHa       float64          `json:"area_ha"`
	FenceM       float64          `json:"fence_m"`
	SwardID      string           `json:"sward_id"`
	SwardName    string           `json:"sward_name"`
	GrowthFactor float64          `json:"growth_factor"`
	LegumeShare  *float64         `json:"legume_share" nullable:"true"`
	ClosedFor    string           `json:"closed_for"`
	Version      int              `json:"version"`
	Mass         MassView         `json:"mass"`
	RestDays     *float64         `json:"rest_days" nullable:"true"`
	State        grazing.State    `json:"state"`
	Reasons      []grazing.Reason `json:"reasons" nullable:"false"`
	Feed         float64          `json:"feed_kg_dm"`
	MobIDs       []string         `json:"mob_ids" nullable:"false"`
}

// ExclusionView is ground that is not grazed.
type ExclusionView struct {
	ID    string     `json:"id"`
	Name  string     `json:"name"`
	Shape land.Shape `json:"shape" nullable:"false"`
}

// FieldView is a field with its paddocks.
type FieldView struct {
	ID          string          `json:"id"`
	Name        string          `json:"name"`
	SwardID     string          `json:"sward_id"`
	Shape       land.Shape      `json:"shape" nullable:"false"`
	AreaHa      float64         `json:"area_ha"`
	GrazeableHa float64         `json:"grazeable_ha"`
	FenceM      float64         `json:"fence_m"`
	LayoutName  string          `json:"layout_name"`
	Exclusions  []ExclusionView `json:"exclusions" nullable:"false"`
	Version     int             `json:"version"`
}

// LandView is the map of a farm.
type LandView struct {
	Fields   []FieldView   `json:"fields" nullable:"false"`
	Paddocks []PaddockView `json:"paddocks" nullable:"false"`
}

// Land is the farm's map with what stands in every paddock now.
func (s *Service) Land(ctx context.Context, a Actor) (LandView, error) {
	se, err := s.season(ctx, a)
	if err != nil {
		return LandView{}, err
	}
	past := se.recount(se.now)
	out := LandView{Fields: []FieldView{}, Paddocks: []PaddockView{}}
	for _, f := range se.fields {
		out.Fields = append(out.Fields, se.fieldView(f))
	}
	for p := range se.paddocks {
		out.Paddocks = append(out.Paddocks, se.paddockView(p, past.Standing[p]))
	}
	return out, nil
}

func (p *picture) fieldView(f fieldRecord) FieldView {
	region := p.plane.Project(f.shape.Shape.Shape)
	v := FieldView{ID: f.ID, Name: f.Name, SwardID: f.SwardID, Shape: f.shape.Shape.Shape, AreaHa: f.shape.AreaHa,
		FenceM: region.FenceM(), LayoutName: f.layout.Name, Exclusions: []ExclusionView{}, Version: f.Version}
	for _, e := range f.exclusions {
		v.Exclusions = append(v.Exclusions, ExclusionView{e.ID, e.Name, e.Shape.Shape})
	}
	for _, pad := range p.paddocks {
		if pad.fieldID == f.ID {
			v.GrazeableHa += pad.shape.AreaHa
		}
	}
	return v
}

func (s *season) massView(st rotation.Standing) MassView {
	v := MassView{Mass: st.Mass, HalfWidth: st.HalfWidthAt(s.now, st.Mass), Guessed: st.Guessed}
	if !st.Guessed {
		at := st.MeasuredAt
		v.MeasuredAt = &at
	}
	return v
}

func (s *season) paddockView(p int, st rotation.Standing) PaddockView {
	pad := s.paddocks[p]
	l := s.limits(p)
	v := PaddockView{ID: pad.ID, FieldID: pad.fieldID, Name: pad.Name, Shape: pad.shape.Shape.Shape, AreaHa: pad.shape.AreaHa, FenceM: pad.shape.FenceM,
		SwardID: pad.SwardID, SwardName: pad.sward.Name, GrowthFactor: pad.GrowthFactor, LegumeShare: pad.LegumeShare, ClosedFor: pad.ClosedFor,
		Version: pad.Version, Mass: s.massView(st), RestDays: st.Rest(s.now), MobIDs: []string{},
		Feed: max(0, st.Mass-l.Residual) * l.U * pad.shape.AreaHa}
	for i, m := range s.rotMobs {
		if m.In == p {
			v.MobIDs = append(v.MobIDs, s.mobs[i].ID)
		}
	}
	if len(v.MobIDs) > 0 {
		v.RestDays = nil
		v.State, v.Reasons = grazing.Stop, []grazing.Reason{grazing.Because("being grazed")}
		return v
	}
	v.State, v.Reasons = grazing.Readiness(grazing.Look{Mass: st.Mass, Guessed: st.Guessed, Rest: v.RestDays, Closed: pad.ClosedFor != "", ClosedFor: pad.ClosedFor,
		DaysToGo: s.farm.DaysTo(p, st.Mass, l.Entry, s.now)}, l)
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
func (s *Service) CreateField(ctx context.Context, a Actor, in NewField) (FieldView, error) {
	var err error
	if err = clientID("id", in.ID); err != nil {
		return FieldView{}, err
	}
	if in.Name, err = name("name", in.Name); err != nil {
		return FieldView{}, err
	}
	if _, err = reference.Load().Sward(in.SwardID); err != nil {
		return FieldView{}, err
	}
	if err = land.Check("shape", in.Shape); err != nil {
		return FieldView{}, err
	}
	err = s.atomically(ctx, func(tx *gorm.DB) error {
		repeat, err := once(tx, a.FarmID, in.ID, "field", in)
		if err != nil || repeat {
			return err
		}
		p, err := loadPicture(ctx, tx, s.Clock, a.FarmID)
		if err != nil {
			return err
		}
		if len(p.fields) == 0 {
			// The farm's plane is centred on its first field: that is where it is.
			c := in.Shape.Centre()
			if err := tx.Model(&store.Farm{}).Where("id = ?", a.FarmID).Updates(map[string]any{"longitude": c[0], "latitude": c[1]}).Error; err != nil {
				return err
			}
			p.plane = land.NewPlane(c)
		}
		region := p.plane.Project(in.Shape)
		if err := p.noOverlap(in, region); err != nil {
			return err
		}
		today := store.DayOf(p.now, p.loc)
		layout := store.Layout{FarmID: a.FarmID, ID: newID(), FieldID: in.ID, Name: "whole field", HoldsFrom: today}
		paddock := store.Paddock{FarmID: a.FarmID, ID: newID(), LayoutID: layout.ID, Name: in.Name, SwardID: in.SwardID, GrowthFactor: 1, Version: 1}
		shape := store.Geometry{Shape: in.Shape}
		for _, row := range []any{
			&store.Field{FarmID: a.FarmID, ID: in.ID, Name: in.Name, SwardID: in.SwardID, Version: 1},
			&store.FieldShape{FarmID: a.FarmID, ID: newID(), FieldID: in.ID, ValidFrom: today, Shape: shape, AreaHa: region.AreaHa()},
			&layout, &paddock,
			&store.PaddockShape{FarmID: a.FarmID, ID: newID(), PaddockID: paddock.ID, ValidFrom: today, Shape: shape, AreaHa: region.AreaHa(), FenceM: region.FenceM()},
		} {
			if err := tx.Create(row).Error; err != nil {
				return fmt.Errorf("save field: %w", err)
			}
		}
		return nil
	})
	if err != nil {
		return FieldView{}, err
	}
	return s.field(ctx, a, in.ID)
}

// noOverlap asks before a field is laid over another: two fences on one line overlap by a sliver, more is a slip.
func (p *picture) noOverlap(in NewField, region land.Region) error {
	for _, f := range p.fields {
		common, err := land.OverlapHa(region, p.plane.Project(f.shape.Shape.Shape))
		if err != nil {
			return quantity.Refuse("shape", nil, "this boundary cannot be laid beside %s: %v", f.Name, err)
		}
		if common > 0.02*min(region.AreaHa(), f.shape.AreaHa) && !in.Confirmed {
			return &Unusual{[]quantity.Problem{{Field: "shape", Message: fmt.Sprintf("%.2f ha of it lie on %s already: the same grass would be counted twice", common, f.Name)}}}
		}
	}
	return nil
}

func (s *Service) field(ctx context.Context, a Actor, id string) (FieldView, error) {
	p, err := s.picture(ctx, a)
	if err != nil {
		return FieldView{}, err
	}
	f, err := p.fieldByID("", id)
	if err != nil {
		return FieldView{}, err
	}
	return p.fieldView(f), nil
}

func (p *picture) fieldByID(input, id string) (fieldRecord, error) {
	for _, f := range p.fields {
		if f.ID == id {
			return f, nil
		}
	}
	if input == "" {
		return fieldRecord{}, ErrNotFound
	}
	return fieldRecord{}, quantity.Refuse(input, id, "is not a field of this farm")
}

// RenameField gives a field another name.
func (s *Service) RenameField(ctx context.Context, a Actor, id string, version int, newName string) (FieldView, error) {
	newName, err := name("name", newName)
	if err != nil {
		return FieldView{}, err
	}
	err = s.atomically(ctx, func(tx *gorm.DB) error {
		row, err := find[store.Field](tx, a.FarmID, "", id)
		if err != nil {
			return err
		}
		if err := bump[store.Field](tx, a.FarmID, id, version, row.Version, row); err != nil {
			return err
		}
		return tx.Model(&store.Field{}).Where("farm_id = ? AND id = ?", a.FarmID, id).Update("name", newName).Error
	})
	if err != nil {
		return FieldView{}, err
	}
	return s.field(ctx, a, id)
}

// RemoveField takes a field off the map; its records stay. RestoreField brings it back.
func (s *Service) RemoveField(ctx context.Context, a Actor, id string) error {
	return s.atomically(ctx, func(tx *gorm.DB) error {
		p, err := loadPicture(ctx, tx, s.Clock, a.FarmID)
		if err != nil {
			return err
		}
		if _, err := p.fieldByID("", id); err != nil {
			return err
		}
		se, err := p.season()
		if err != nil {
			return err
		}
		for i, m := range se.rotMobs {
			if m.In != rotation.Nowhere && p.paddocks[m.In].fieldID == id {
				return quantity.Refuse("field", nil, "%s stand in it: move them first", p.mobs[i].Name)
			}
		}
		return tx.Model(&store.Field{}).Where("farm_id = ? AND id = ?", a.FarmID, id).Update("removed_at", time.Now().UTC()).Error
	})
}

// RestoreField puts a removed field back on the map.
func (s *Service) RestoreField(ctx context.Context, a Actor, id string) (FieldView, error) {
	row, err := find[store.Field](s.DB.WithContext(ctx), a.FarmID, "", id)
	if err != nil {
		return FieldView{}, err
	}
	if err := s.DB.WithContext(ctx).Model(&row).Where("farm_id = ? AND id = ?", a.FarmID, id).Update("removed_at", nil).Error; err != nil {
		return FieldView{}, err
	}
	return s.field(ctx, a, id)
}

// NewExclusion is ground to take out of a field.
type NewExclusion struct {
	ID    string     `json:"id"`
	Name  string     `json:"name"`
	Shape land.Shape `json:"shape" nullable:"false"`
}

// Exclude takes ground (pond, wood, rock, yard) out of a field and out of the paddocks it lies in, from today on.
func (s *Service) Exclude(ctx context.Context, a Actor, fieldID string, in NewExclusion) (FieldView, error) {
	if err := clientID("id", in.ID); err != nil {
		return FieldView{}, err
	}
	var err error
	if in.Name, err = name("name", in.Name); err != nil {
		return FieldView{}, err
	}
	if err := land.Check("shape", in.Shape); err != nil {
		return FieldView{}, err
	}
	err = s.atomically(ctx, func(tx *gorm.DB) error {
		repeat, err := once(tx, a.FarmID, in.ID, "exclusion", in)
		if err != nil || repeat {
			return err
		}
		p, err := loadPicture(ctx, tx, s.Clock, a.FarmID)
		if err != nil {
			return err
		}
		f, err := p.fieldByID("", fieldID)
		if err != nil {
			return err
		}
		hole := p.plane.Project(in.Shape)
		if common, err := land.OverlapHa(p.plane.Project(f.shape.Shape.Shape), hole); err != nil || common < 0.001 {
			return quantity.Refuse("shape", nil, "this ground does not lie in %s", f.Name)
		}
		if err := tx.Create(&store.Exclusion{FarmID: a.FarmID, ID: in.ID, FieldID: fieldID, Name: in.Name, Shape: store.Geometry{Shape: in.Shape}}).Error; err != nil {
			return err
		}
		for _, pad := range p.paddocks {
			if pad.fieldID != fieldID {
				continue
			}
			common, err := land.OverlapHa(pad.region, hole)
			if err != nil {
				return fmt.Errorf("exclusion over %s: %w", pad.Name, err)
			}
			if common == 0 {
				continue
			}
			left, err := land.Without(pad.region, hole)
			if err != nil {
				return fmt.Errorf("exclusion over %s: %w", pad.Name, err)
			}
			if left.AreaHa() < land.LeastAreaHa {
				return quantity.Refuse("shape", nil, "nothing of %s would be left to graze", pad.Name)
			}
			if err := p.reshape(tx, pad, left); err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		return FieldView{}, err
	}
	return s.field(ctx, a, fieldID)
}

// reshape gives a paddock another outline from today on.
func (p *picture) reshape(tx *gorm.DB, pad paddockRecord, region land.Region) error {
	today := store.DayOf(p.now, p.loc)
	row := store.PaddockShape{FarmID: pad.FarmID, ID: newID(), PaddockID: pad.ID, ValidFrom: today,
		Shape: store.Geometry{Shape: p.plane.Unproject(region)}, AreaHa: region.AreaHa(), FenceM: region.FenceM()}
	if pad.shape.ValidFrom == today {
		row.ID = pad.shape.ID
		return tx.Model(&row).Where("farm_id = ? AND id = ?", row.FarmID, row.ID).Select("Shape", "AreaHa", "FenceM").Updates(&row).Error
	}
	return tx.Create(&row).Error
}

// PaddockInput is what a person may change of a paddock.
type PaddockInput struct {
	Name         string   `json:"name"`
	SwardID      string   `json:"sward_id"`
	GrowthFactor float64  `json:"growth_factor"`
	LegumeShare  *float64 `json:"legume_share,omitempty"`
	ClosedFor    string   `json:"closed_for"`
	Confirmed    bool     `json:"confirmed,omitempty"`
}

// UpdatePaddock changes a paddock's name and facts.
func (s *Service) UpdatePaddock(ctx context.Context, a Actor, id string, version int, in PaddockInput) (PaddockView, error) {
	if err := judge(in, in.Confirmed); err != nil {
		return PaddockView{}, err
	}
	var err error
	if in.Name, err = name("name", in.Name); err != nil {
		return PaddockView{}, err
	}
	if _, err := reference.Load().Sward(in.SwardID); err != nil {
		return PaddockView{}, err
	}
	in.ClosedFor = strings.TrimSpace(in.ClosedFor)
	if len([]rune(in.ClosedFor)) > 80 {
		return PaddockView{}, quantity.Refuse("closed_for", nil, "at most 80 letters")
	}
	err = s.atomically(ctx, func(tx *gorm.DB) error {
		row, err := find[store.Paddock](tx, a.FarmID, "", id)
		if err != nil {
			return err
		}
		if err := bump[store.Paddock](tx, a.FarmID, id, version, row.Version, row); err != nil {
			return err
		}
		return tx.Model(&store.Paddock{}).Where("farm_id = ? AND id = ?", a.FarmID, id).Updates(map[string]any{"name": in.Name, "sward_id": in.SwardID,
			"growth_factor": in.GrowthFactor, "legume_share": in.LegumeShare, "closed_for": in.ClosedFor}).Error
	})
	if err != nil {
		return PaddockView{}, err
	}
	se, err := s.season(ctx, a)
	if err != nil {
		return PaddockView{}, err
	}
	p, ok := se.byID[id]
	if !ok {
		return PaddockView{}, ErrNotFound
	}
	return se.paddockView(p, se.recount(se.now).Standing[p]), nil
}
