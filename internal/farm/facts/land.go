package facts

import (
	"fmt"

	"gorm.io/gorm"

	"fjell/core/land"
	"fjell/internal/store"
)

func (p *Picture) loadLand(tx *gorm.DB, farmID string, today store.Day, box *land.Box) error {
	var fields []store.Field
	var shapes []store.FieldShape
	var exclusions []store.Exclusion
	var zones []store.Zone
	var layouts []store.Layout
	var spans []store.LayoutSpan
	var paddocks []store.Paddock
	var outlines []store.PaddockShape
	var first []string
	if err := tx.Model(&store.Field{}).Where("farm_id = ? AND removed_at IS NULL", farmID).Limit(1).Pluck("id", &first).Error; err != nil {
		return fmt.Errorf("load land: %w", err)
	}
	p.Landless = len(first) == 0
	if err := tx.Order("name, id").Find(&p.OwnSwards, "farm_id = ?", farmID).Error; err != nil {
		return fmt.Errorf("load swards: %w", err)
	}
	of := func(column string) *gorm.DB { return tx.Where("farm_id = ?", farmID) }
	if box != nil {
		var near []string
		if err := tx.Model(&store.FieldShape{}).Where("farm_id = ? AND MBRIntersects(shape, ?)", farmID, store.Geometry{Shape: box.Shape()}).Distinct().Pluck("field_id", &near).Error; err != nil {
			return fmt.Errorf("load land: %w", err)
		}
		inside := map[string]*gorm.DB{"layout_id": tx.Model(&store.Layout{}).Select("id").Where("farm_id = ? AND field_id IN ?", farmID, near)}
		inside["paddock_id"] = tx.Model(&store.Paddock{}).Select("id").Where("farm_id = ? AND layout_id IN (?)", farmID, inside["layout_id"])
		of = func(column string) *gorm.DB {
			if sub, ok := inside[column]; ok {
				return tx.Where("farm_id = ? AND "+column+" IN (?)", farmID, sub)
			}
			return tx.Where("farm_id = ? AND "+column+" IN ?", farmID, near)
		}
	}
	for _, q := range []func() error{
		func() error { return of("id").Order("name, id").Find(&fields, "removed_at IS NULL").Error },
		func() error { return of("field_id").Order("valid_from").Find(&shapes, "valid_from <= ?", today).Error },
		func() error { return of("field_id").Order("id").Find(&exclusions).Error },
		func() error { return of("field_id").Order("id").Find(&zones).Error },
		func() error { return of("field_id").Order("name, id").Find(&layouts).Error },
		func() error { return of("field_id").Order("holds_from").Find(&spans).Error },
		func() error { return of("layout_id").Order("position, id").Find(&paddocks).Error },
		func() error {
			return of("paddock_id").Order("valid_from").Find(&outlines, "valid_from <= ?", today).Error
		},
	} {
		if err := q(); err != nil {
			return fmt.Errorf("load land: %w", err)
		}
	}
	latestField, latestPaddock, layoutByID := map[string]store.FieldShape{}, map[string]store.PaddockShape{}, map[string]store.Layout{}
	for _, s := range shapes {
		latestField[s.FieldID] = s
	}
	for _, s := range outlines {
		latestPaddock[s.PaddockID] = s
	}
	at := map[string]int{}
	for i, f := range fields {
		at[f.ID] = i
		rec := Field{Field: f, Shape: latestField[f.ID]}
		rec.Region = append(land.Region{}, p.Plane.Project(rec.Shape.Shape.Shape)...)
		rec.Bounds = rec.Region.Bounds()
		p.Fields = append(p.Fields, rec)
	}
	for _, e := range exclusions {
		if i, ok := at[e.FieldID]; ok {
			p.Fields[i].Exclusions = append(p.Fields[i].Exclusions, e)
		}
	}
	for _, z := range zones {
		if i, ok := at[z.FieldID]; ok {
			p.Fields[i].Zones = append(p.Fields[i].Zones, z)
		}
	}
	for _, l := range layouts {
		layoutByID[l.ID] = l
		if i, ok := at[l.FieldID]; ok && l.RemovedAt == nil {
			p.Fields[i].Layouts = append(p.Fields[i].Layouts, l)
		}
	}
	for _, sp := range spans {
		i, ok := at[sp.FieldID]
		if !ok {
			continue
		}
		p.Fields[i].Spans = append(p.Fields[i].Spans, sp)
		if sp.HoldsFrom <= today && (sp.HoldsUntil == nil || *sp.HoldsUntil > today) {
			p.Fields[i].Layout = layoutByID[sp.LayoutID]
		}
	}
	byLayout := map[string][]store.Paddock{}
	for _, row := range paddocks {
		p.Names[row.ID] = row.Name
		if row.EndedOn == nil || *row.EndedOn > today {
			byLayout[row.LayoutID] = append(byLayout[row.LayoutID], row)
		}
	}
	for _, f := range p.Fields {
		for _, row := range byLayout[f.Layout.ID] {
			rec, err := p.PaddockRecord(row, f.ID, latestPaddock[row.ID])
			if err != nil {
				return err
			}
			p.ByID[row.ID] = len(p.Paddocks)
			p.Paddocks = append(p.Paddocks, rec)
		}
	}
	return nil
}

// PaddockRecord puts a paddock's row and outline together with its sward.
func (p *Picture) PaddockRecord(row store.Paddock, fieldID string, shape store.PaddockShape) (Paddock, error) {
	sward, err := p.Sward("sward_id", row.SwardID)
	if err != nil {
		return Paddock{}, err
	}
	rec := Paddock{Paddock: row, FieldID: fieldID, Shape: shape, Sward: sward}
	rec.Region = p.Plane.Project(shape.Shape.Shape)
	rec.Centre = p.Plane.Forward(shape.Shape.Shape.Centre())
	return rec, nil
}
