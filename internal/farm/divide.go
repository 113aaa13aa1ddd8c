package farm

import (
	"context"
	"fmt"
	"math"

	"gorm.io/gorm"

	"fjell/core/land"
	"fjell/core/quantity"
	"fjell/core/rotation"
	"fjell/internal/store"
)

// LeastWidthM is the narrowest paddock Fjell divides into unless a farm says otherwise.
const LeastWidthM = 12

// DivideInput asks for a field divided into equal grazeable areas by parallel fences.
type DivideInput struct {
	Parts      float64 `json:"parts"`
	Direction  float64 `json:"direction_degrees"`
	LeastWidth float64 `json:"least_width_m,omitempty"`
}

// PartView is one paddock of a division that is being looked at.
type PartView struct {
	Name      string     `json:"name"`
	Shape     land.Shape `json:"shape" nullable:"false"`
	AreaHa    float64    `json:"area_ha"`
	FenceM    float64    `json:"fence_m"`
	NewFenceM float64    `json:"new_fence_m"`
	WidthM    float64    `json:"width_m"`
	Pieces    int        `json:"pieces"`
}

// DivisionView is a division that is being looked at.
type DivisionView struct {
	Direction    float64            `json:"direction_degrees"`
	Parts        []PartView         `json:"parts" nullable:"false"`
	Cuts         [][2]land.Position `json:"cuts" nullable:"false"`
	NewFenceM    float64            `json:"new_fence_m"`
	GrazeableHa  float64            `json:"grazeable_ha"`
	Whole        bool               `json:"whole"`
	WholeNearest *float64           `json:"whole_nearest_degrees" nullable:"true"`
	MobsStanding []string           `json:"mobs_standing" nullable:"false"`
}

// Divide previews a division. Nothing is written.
func (s *Service) Divide(ctx context.Context, a Actor, fieldID string, in DivideInput) (DivisionView, error) {
	p, err := s.picture(ctx, a)
	if err != nil {
		return DivisionView{}, err
	}
	f, err := p.fieldByID("", fieldID)
	if err != nil {
		return DivisionView{}, err
	}
	d, _, err := p.divide(f, in)
	return d, err
}

func (p *picture) divide(f fieldRecord, in DivideInput) (DivisionView, land.Division, error) {
	if in.LeastWidth == 0 {
		in.LeastWidth = LeastWidthM
	}
	if err := judge(in, true); err != nil {
		return DivisionView{}, land.Division{}, err
	}
	ground := p.plane.Project(f.shape.Shape.Shape)
	if len(f.exclusions) > 0 {
		var holes []land.Region
		for _, e := range f.exclusions {
			holes = append(holes, p.plane.Project(e.Shape.Shape))
		}
		var err error
		if ground, err = land.Without(ground, holes...); err != nil {
			return DivisionView{}, land.Division{}, fmt.Errorf("grazeable ground of %s: %w", f.Name, err)
		}
	}
	n := int(in.Parts)
	d, err := land.Divide(ground, n, in.Direction)
	if err != nil {
		return DivisionView{}, d, err
	}
	narrowest := math.Inf(1)
	for _, part := range d.Parts {
		narrowest = math.Min(narrowest, part.WidthM)
	}
	if narrowest < in.LeastWidth-1e-6 {
		most := land.MostParts(ground, n, in.Direction, in.LeastWidth)
		return DivisionView{}, d, quantity.Refuse("parts", n, "some of these paddocks would be only %.1f m wide; at %g m or more there is room for %d in this direction",
			narrowest, in.LeastWidth, most)
	}
	out := DivisionView{Direction: d.Direction, NewFenceM: d.NewFenceM, GrazeableHa: ground.AreaHa(), Whole: d.Whole,
		Parts: []PartView{}, Cuts: [][2]land.Position{}, MobsStanding: p.standingIn(f.ID)}
	for i, part := range d.Parts {
		out.Parts = append(out.Parts, PartView{fmt.Sprintf("%s %d", f.Name, i+1), p.plane.Unproject(part.Region), part.AreaHa, part.FenceM,
			part.NewFenceM(), part.WidthM, part.Pieces})
	}
	for _, c := range d.Cuts {
		out.Cuts = append(out.Cuts, [2]land.Position{p.plane.Inverse(c[0]), p.plane.Inverse(c[1])})
	}
	if !d.Whole {
		if best, ok := land.NearestWhole(ground, n, in.Direction); ok {
			out.WholeNearest = &best
		}
	}
	return out, d, nil
}

// standingIn lists the mobs that stand in a field.
func (p *picture) standingIn(fieldID string) []string {
	out := []string{}
	for mob, paddock := range p.where() {
		if i, ok := p.byID[paddock]; ok && p.paddocks[i].fieldID == fieldID {
			out = append(out, mob)
		}
	}
	return out
}

// where tells the paddock each mob was last moved to.
func (p *picture) where() map[string]string {
	at := map[string]string{}
	for _, mv := range p.moves {
		delete(at, mv.MobID)
		if mv.ToPaddockID != nil {
			at[mv.MobID] = *mv.ToPaddockID
		}
	}
	live := map[string]string{}
	for _, m := range p.mobs {
		if pad, ok := at[m.ID]; ok {
			live[m.ID] = pad
		}
	}
	return live
}

// Standing says in which part of a division a mob stands.
type Standing struct {
	MobID string `json:"mob_id"`
	Part  int    `json:"part"`
}

// AcceptDivision keeps a division as the field's layout.
type AcceptDivision struct {
	ID     string   `json:"id"`
	Name   string   `json:"name"`
	Names  []string `json:"names" nullable:"false"`
	Pieces bool     `json:"take_pieces,omitempty"`
	DivideInput
	Standing []Standing `json:"standing,omitempty"`
}

// AcceptDivision replaces the field's layout by a division, from today on. What stands passes to the new paddocks by
// area, rest is the shortest of the parts, and stock that stand in the field go where the person says.
func (s *Service) AcceptDivision(ctx context.Context, a Actor, fieldID string, in AcceptDivision) (FieldView, error) {
	if err := clientID("id", in.ID); err != nil {
		return FieldView{}, err
	}
	var err error
	if in.Name, err = name("name", in.Name); err != nil {
		return FieldView{}, err
	}
	err = s.atomically(ctx, func(tx *gorm.DB) error {
		repeat, err := once(tx, a.FarmID, in.ID, "layout", in)
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
		_, d, err := p.divide(f, in.DivideInput)
		if err != nil {
			return err
		}
		if !d.Whole && !in.Pieces {
			return quantity.Refuse("direction_degrees", in.Direction, "a paddock would lie in several pieces: turn the fences, or say that you want it so")
		}
		return p.replaceLayout(tx, a, f, in, d)
	})
	if err != nil {
		return FieldView{}, err
	}
	return s.field(ctx, a, fieldID)
}

func (p *picture) replaceLayout(tx *gorm.DB, a Actor, f fieldRecord, in AcceptDivision, d land.Division) error {
	se, err := p.season()
	if err != nil {
		return err
	}
	past := se.recount(p.now)
	today := store.DayOf(p.now, p.loc)
	if err := tx.Model(&store.Layout{}).Where("farm_id = ? AND id = ?", a.FarmID, f.layout.ID).Update("holds_until", today).Error; err != nil {
		return err
	}
	if err := tx.Create(&store.Layout{FarmID: a.FarmID, ID: in.ID, FieldID: f.ID, Name: in.Name, HoldsFrom: today}).Error; err != nil {
		return err
	}
	ids := make([]string, len(d.Parts))
	for i, part := range d.Parts {
		row := store.Paddock{FarmID: a.FarmID, ID: newID(), LayoutID: in.ID, Name: fmt.Sprintf("%s %d", f.Name, i+1), Position: i, SwardID: f.SwardID, GrowthFactor: 1, Version: 1}
		if i < len(in.Names) {
			if row.Name, err = name(fmt.Sprintf("names[%d]", i), in.Names[i]); err != nil {
				return err
			}
		}
		ids[i] = row.ID
		outline := store.PaddockShape{FarmID: a.FarmID, ID: newID(), PaddockID: row.ID, ValidFrom: today,
			Shape: store.Geometry{Shape: p.plane.Unproject(part.Region)}, AreaHa: part.AreaHa, FenceM: part.FenceM}
		measured, err := se.carry(&row, part.Region, past.Standing)
		if err != nil {
			return err
		}
		if err := tx.Create(&row).Error; err != nil {
			return err
		}
		if err := tx.Create(&outline).Error; err != nil {
			return err
		}
		if measured != nil {
			measured.RecordedBy = a.UserID
			if err := tx.Create(measured).Error; err != nil {
				return err
			}
		}
	}
	part := map[string]int{}
	for _, st := range in.Standing {
		part[st.MobID] = st.Part
	}
	where := p.where()
	for _, mobID := range p.standingIn(f.ID) {
		k, ok := part[mobID]
		if !ok || k < 1 || k > len(ids) {
			return quantity.Refuse("standing", nil, "%s stand in %s: say in which of the new paddocks", se.mobs[se.mobIndex[mobID]].Name, f.Name)
		}
		from := where[mobID]
		if err := tx.Create(&store.Move{FarmID: a.FarmID, ID: newID(), MobID: mobID, FromPaddockID: &from, ToPaddockID: &ids[k-1], MovedAt: p.now,
			Note: dividedNote, RecordedAt: p.now, RecordedBy: a.UserID}).Error; err != nil {
			return err
		}
	}
	return nil
}

// dividedNote marks the moves that a division made by itself.
const dividedNote = "the field was divided"

// TakeBackDivision gives a field its layout of before, as long as nothing has been recorded on the new paddocks.
func (s *Service) TakeBackDivision(ctx context.Context, a Actor, fieldID, layoutID string) (FieldView, error) {
	err := s.atomically(ctx, func(tx *gorm.DB) error {
		layout, err := find[store.Layout](tx, a.FarmID, "", layoutID)
		if err != nil {
			return err
		}
		if layout.FieldID != fieldID || layout.HoldsUntil != nil {
			return ErrNotFound
		}
		var before []store.Layout
		if err := tx.Order("id DESC").Limit(1).Find(&before, "farm_id = ? AND field_id = ? AND id <> ? AND holds_until = ?", a.FarmID, fieldID, layoutID, layout.HoldsFrom).Error; err != nil {
			return err
		}
		if len(before) == 0 {
			return quantity.Refuse("layout", nil, "there is no layout before this one")
		}
		paddocks := tx.Model(&store.Paddock{}).Select("id").Where("farm_id = ? AND layout_id = ?", a.FarmID, layoutID)
		var used int64
		if err := tx.Model(&store.Measurement{}).Where("farm_id = ? AND paddock_id IN (?) AND method <> ?", a.FarmID, paddocks, carried).Count(&used).Error; err != nil {
			return err
		}
		var moved int64
		if err := tx.Model(&store.Move{}).Where("farm_id = ? AND (to_paddock_id IN (?) AND note <> ? OR from_paddock_id IN (?))", a.FarmID, paddocks, dividedNote, paddocks).Count(&moved).Error; err != nil {
			return err
		}
		if used+moved > 0 {
			return quantity.Refuse("layout", nil, "these paddocks have been walked or grazed: their record stays, divide the field anew instead")
		}
		for _, step := range []func() error{
			func() error {
				return tx.Where("farm_id = ? AND to_paddock_id IN (?)", a.FarmID, paddocks).Delete(&store.Move{}).Error
			},
			func() error {
				return tx.Where("farm_id = ? AND paddock_id IN (?)", a.FarmID, paddocks).Delete(&store.Measurement{}).Error
			},
			func() error {
				return tx.Where("farm_id = ? AND id = ?", a.FarmID, layoutID).Delete(&store.Layout{}).Error
			},
			func() error {
				return tx.Model(&store.Layout{}).Where("farm_id = ? AND id = ?", a.FarmID, before[0].ID).Update("holds_until", nil).Error
			},
		} {
			if err := step(); err != nil {
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

// carried is the method of a measurement that a division made from what stood before.
const carried = "carried"

// carry passes what stands on the old paddocks to a new one by area of overlap; what was guessed stays guessed. It
// fills the new paddock's facts and returns the measurement that carries the mass.
func (s *season) carry(row *store.Paddock, region land.Region, standing []rotation.Standing) (*store.Measurement, error) {
	var area, mass, half, shared, factor, legume, legumeArea, largest float64
	guessed := true
	for i, old := range s.paddocks {
		common, err := land.OverlapHa(region, old.region)
		if err != nil {
			return nil, fmt.Errorf("overlap with %s: %w", old.Name, err)
		}
		if common < 1e-4 {
			continue
		}
		st := standing[i]
		if !st.Guessed {
			guessed = false
		}
		if common > largest {
			largest = common
			row.SwardID, row.ClosedFor = old.SwardID, old.ClosedFor
		}
		area += common
		factor += common * old.GrowthFactor
		mass += common * st.Mass
		half += common * st.HalfWidthAt(s.now, st.Mass)
		shared += common * st.Shared
		if old.LegumeShare != nil {
			legume += common * *old.LegumeShare
			legumeArea += common
		}
		if st.LastLeft != nil && (row.CarriedLeftAt == nil || st.LastLeft.After(*row.CarriedLeftAt)) {
			row.CarriedLeftAt = st.LastLeft
		}
	}
	if area == 0 {
		return nil, nil
	}
	row.GrowthFactor = factor / area
	if legumeArea > 0 {
		share := legume / legumeArea
		row.LegumeShare = &share
	}
	if guessed {
		return nil, nil
	}
	return &store.Measurement{FarmID: row.FarmID, ID: newID(), PaddockID: row.ID, Method: carried, ForageMass: mass / area, HalfWidth: half / area,
		SharedError: shared / area, Figures: store.JSON[map[string]float64]{V: map[string]float64{}}, Readings: store.JSON[[]float64]{V: []float64{}},
		Note: "carried over by area when the field was divided", MeasuredAt: s.now, RecordedAt: s.now}, nil
}
