package ground

import (
	"context"
	"fmt"

	"fjell/core/land"
	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// NewMark is a gate, water, a fence or a lane to be put on the map.
type NewMark struct {
	ID        string          `json:"id"`
	Kind      string          `json:"kind" enum:"gate,water,fence,lane"`
	Name      string          `json:"name"`
	Temporary bool            `json:"temporary,omitempty"`
	Width     *float64        `json:"lane_width_m,omitempty"`
	Path      []land.Position `json:"path" nullable:"false"`
}

// mostLineCorners is how many corners a fence or a lane may have: the ground of a lane is laid leg by leg.
const mostLineCorners = 1000

// AddMark puts a thing on the map. A lane takes its width out of the paddocks it runs through.
func (s *Service) AddMark(ctx context.Context, a farm.Actor, in NewMark) (LandView, error) {
	return s.editLand(ctx, a, in.ID, "mark", in, func(e *edit) (string, error) {
		return in.Kind + " " + in.Name, e.addMark(in)
	})
}

func (e *edit) addMark(in NewMark) error {
	if err := farm.Judge(in, true); err != nil {
		return err
	}
	var err error
	if in.Name, err = farm.CheckName("name", in.Name); err != nil {
		return err
	}
	least := 2
	if in.Kind == "gate" || in.Kind == "water" {
		least = 1
	} else if in.Kind != "fence" && in.Kind != "lane" {
		return quantity.Refuse("kind", in.Kind, "must be gate, water, fence or lane")
	}
	if len(in.Path) > mostLineCorners {
		return quantity.Refuse("path", len(in.Path), "a fence or a lane has at most %d corners", mostLineCorners)
	}
	path, err := drawn(e.Picture, "path", in.Path, least)
	if err != nil {
		return err
	}
	if least == 1 && len(path) != 1 {
		return quantity.Refuse("path", len(path), "a %s stands in one place", in.Kind)
	}
	row := store.Mark{FarmID: e.actor.FarmID, ID: in.ID, Kind: in.Kind, Name: in.Name, Temporary: in.Temporary, Path: store.Path{At: in.Path}}
	if in.Kind == "lane" {
		for _, m := range e.Marks {
			if m.Kind == "lane" && m.Name == in.Name {
				return quantity.Refuse("name", in.Name, "another lane has this name")
			}
		}
		width := 4.0
		if in.Width != nil {
			width = *in.Width
		}
		row.WidthM = &width
		ground, err := land.Lane(path, width)
		if err != nil {
			return err
		}
		if err := e.cutOut("lane", in.Name, ground); err != nil {
			return err
		}
	}
	return e.Create(&row)
}

// RemoveMark takes a thing off the map; the ground of a lane goes back to the paddocks beside it.
func (s *Service) RemoveMark(ctx context.Context, a farm.Actor, id string) (LandView, error) {
	return s.editLand(ctx, a, "", "remove mark", id, func(e *edit) (string, error) {
		for _, m := range e.Marks {
			if m.ID != id {
				continue
			}
			for _, f := range e.Fields {
				for _, x := range f.Exclusions {
					if x.Kind == "lane" && x.Name == m.Name {
						if err := e.giveBack(x); err != nil {
							return "", err
						}
					}
				}
			}
			return "without " + m.Kind + " " + m.Name, e.Remove(&m)
		}
		return "", farm.ErrNotFound
	})
}

// NewExclusion is ground to take out of a field.
type NewExclusion struct {
	ID    string     `json:"id"`
	Kind  string     `json:"kind,omitempty" enum:"pond,wood,rock,yard,other"`
	Name  string     `json:"name"`
	Shape land.Shape `json:"shape" nullable:"false"`
}

// Exclude takes ground (pond, wood, rock, yard) out of a field and out of the paddocks it lies in, from today on.
func (s *Service) Exclude(ctx context.Context, a farm.Actor, fieldID string, in NewExclusion) (FieldView, error) {
	err := s.edit(ctx, a, in.ID, "exclusion", []any{fieldID, in}, func(e *edit) (string, error) {
		f, ground, err := e.groundIn(fieldID, &in.Name, in.Shape)
		if err != nil {
			return "", err
		}
		switch in.Kind {
		case "":
			in.Kind = "other"
		case "pond", "wood", "rock", "yard", "other":
		default:
			return "", quantity.Refuse("kind", in.Kind, "must be pond, wood, rock, yard or other")
		}
		return in.Name + " out of " + f.Name, e.exclude(in.ID, in.Kind, in.Name, f, ground, e.Plane.Project(in.Shape))
	})
	return farm.After(err, func() (FieldView, error) { return s.field(ctx, a, fieldID) })
}

// groundIn is drawn ground as far as it lies in a field. The name is trimmed.
func (e *edit) groundIn(fieldID string, called *string, shape land.Shape) (f facts.Field, ground land.Region, err error) {
	if *called, err = farm.CheckName("name", *called); err != nil {
		return f, nil, err
	}
	if err = land.Check("shape", shape); err != nil {
		return f, nil, err
	}
	if f, err = fieldByID(e.Picture, "", fieldID); err != nil {
		return f, nil, err
	}
	ground, err = land.Common(f.Region, e.Plane.Project(shape))
	if err != nil || ground.AreaHa() < 0.001 {
		return f, nil, quantity.Refuse("shape", nil, "this ground does not lie in %s", f.Name)
	}
	return f, ground, nil
}

// cutOut takes ground out of every field it lies in.
func (e *edit) cutOut(kind, name string, ground land.Region) error {
	for _, f := range e.Fields {
		common, err := land.Common(f.Region, ground)
		if err != nil {
			return fmt.Errorf("%s over %s: %w", name, f.Name, err)
		}
		if common.AreaHa() < 1e-4 {
			continue
		}
		if err := e.exclude(farm.NewID(), kind, name, f, common, ground); err != nil {
			return err
		}
	}
	return nil
}

// exclude keeps an exclusion and cuts a hole into the paddocks; the hole may reach over the field's edge.
func (e *edit) exclude(id, kind, name string, f facts.Field, ground, hole land.Region) error {
	row := store.Exclusion{FarmID: e.actor.FarmID, ID: id, FieldID: f.ID, Kind: kind, Name: name, Shape: store.Geometry{Shape: e.Plane.Unproject(ground)}}
	if err := e.Create(&row); err != nil {
		return err
	}
	for i := range e.Fields {
		if e.Fields[i].ID == f.ID {
			e.Fields[i].Exclusions = append(e.Fields[i].Exclusions, row)
		}
	}
	for i, pad := range e.Paddocks {
		if pad.FieldID != f.ID {
			continue
		}
		common, err := land.OverlapHa(pad.Region, hole)
		if err != nil {
			return fmt.Errorf("%s over %s: %w", name, pad.Name, err)
		}
		if common < 1e-7 {
			continue
		}
		left, err := land.Without(pad.Region, hole)
		if err != nil {
			return fmt.Errorf("%s over %s: %w", name, pad.Name, err)
		}
		if left.AreaHa() < land.LeastAreaHa {
			return quantity.Refuse("shape", nil, "nothing of %s would be left to graze", pad.Name)
		}
		if err := e.reshape(pad, left); err != nil {
			return err
		}
		e.Paddocks[i].Region = left
	}
	return nil
}

// RemoveExclusion gives ground that was taken out back to the paddocks beside it.
func (s *Service) RemoveExclusion(ctx context.Context, a farm.Actor, fieldID, id string) (FieldView, error) {
	err := s.edit(ctx, a, "", "remove exclusion", id, func(e *edit) (string, error) {
		f, err := fieldByID(e.Picture, "", fieldID)
		if err != nil {
			return "", err
		}
		for _, x := range f.Exclusions {
			if x.ID == id {
				return x.Name + " grazed again", e.giveBack(x)
			}
		}
		return "", farm.ErrNotFound
	})
	return farm.After(err, func() (FieldView, error) { return s.field(ctx, a, fieldID) })
}

// giveBack joins an exclusion's ground to the paddock that shares most fence with it.
func (e *edit) giveBack(x store.Exclusion) error {
	if err := e.Remove(&x); err != nil {
		return err
	}
	ground, err := land.Common(e.Plane.Project(x.Shape.Shape), e.Plane.Project(fieldAt(e.Picture, x.FieldID).Shape.Shape.Shape))
	if err != nil {
		return fmt.Errorf("ground of %s: %w", x.Name, err)
	}
	best, most := -1, 0.0
	var joined land.Region
	for i, pad := range e.Paddocks {
		if pad.FieldID != x.FieldID {
			continue
		}
		if merged, shared, err := land.Merge(pad.Region, ground); err == nil && shared > most {
			best, most, joined = i, shared, merged
		}
	}
	if best < 0 {
		return quantity.Refuse("exclusion", nil, "no paddock lies beside %s: divide the field anew", x.Name)
	}
	if err := e.reshape(e.Paddocks[best], joined); err != nil {
		return err
	}
	e.Paddocks[best].Region = joined
	return nil
}

// NewZone is ground of a field that grows more or less than the rest.
type NewZone struct {
	ID           string     `json:"id"`
	Name         string     `json:"name"`
	GrowthFactor float64    `json:"growth_factor"`
	Shape        land.Shape `json:"shape" nullable:"false"`
}

// AddZone marks a zone of other productivity: a slope, a wet hollow, a deep soil.
func (s *Service) AddZone(ctx context.Context, a farm.Actor, fieldID string, in NewZone) (FieldView, error) {
	err := s.edit(ctx, a, in.ID, "zone", []any{fieldID, in}, func(e *edit) (string, error) {
		if err := farm.Judge(in, true); err != nil {
			return "", err
		}
		f, ground, err := e.groundIn(fieldID, &in.Name, in.Shape)
		if err != nil {
			return "", err
		}
		for _, z := range f.Zones {
			if common, err := land.OverlapHa(ground, e.Plane.Project(z.Shape.Shape)); err != nil || common > 0.01 {
				return "", quantity.Refuse("shape", nil, "it lies on the zone %s by %.2f ha: ground belongs to one zone", z.Name, common)
			}
		}
		return "zone " + in.Name, e.Create(&store.Zone{FarmID: a.FarmID, ID: in.ID, FieldID: f.ID, Name: in.Name, GrowthFactor: in.GrowthFactor,
			Shape: store.Geometry{Shape: e.Plane.Unproject(ground)}})
	})
	return farm.After(err, func() (FieldView, error) { return s.field(ctx, a, fieldID) })
}

// RemoveZone takes a zone off the map.
func (s *Service) RemoveZone(ctx context.Context, a farm.Actor, fieldID, id string) (FieldView, error) {
	err := s.edit(ctx, a, "", "remove zone", id, func(e *edit) (string, error) {
		f, err := fieldByID(e.Picture, "", fieldID)
		if err != nil {
			return "", err
		}
		for _, z := range f.Zones {
			if z.ID == id {
				return "without zone " + z.Name, e.Remove(&z)
			}
		}
		return "", farm.ErrNotFound
	})
	return farm.After(err, func() (FieldView, error) { return s.field(ctx, a, fieldID) })
}
