package ground

import (
	"context"
	"fmt"

	"fjell/core/land"
	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// CornerInput moves, puts or takes out one corner of the fences.
type CornerInput struct {
	ID     string         `json:"id"`
	At     land.Position  `json:"at" doc:"the corner, or a place on a fence where a new one is put"`
	To     *land.Position `json:"to,omitempty"`
	Remove bool           `json:"remove,omitempty"`
}

// reachM is how near a hand comes to the fence it means.
const reachM = 0.6

// MoveCorner moves a corner with every field, paddock, exclusion and zone that has it: a shared fence is one fence.
func (s *Service) MoveCorner(ctx context.Context, a farm.Actor, in CornerInput) (LandView, error) {
	return s.editLand(ctx, a, in.ID, "corner", in, func(e *edit) (string, error) {
		for _, pos := range []*land.Position{&in.At, in.To} {
			if pos != nil && !onEarth(*pos) {
				return "", quantity.Refuse("at", *pos, "this place is off the world")
			}
		}
		c := land.Corner{At: e.Plane.Forward(in.At), Remove: in.Remove}
		label := "a corner taken out"
		if !in.Remove {
			if in.To == nil {
				return "", quantity.Refuse("to", nil, "say where the corner goes")
			}
			c.To = e.Plane.Forward(*in.To)
			label = "a corner moved"
		}
		return label, e.moveCorner(c)
	})
}

func onEarth(p land.Position) bool {
	return p[0] >= -180 && p[0] <= 180 && p[1] >= -90 && p[1] <= 90
}

func (e *edit) moveCorner(c land.Corner) error {
	var regions []land.Region
	var names []string
	var write []func(land.Region) error
	add := func(region land.Region, name string, save func(land.Region) error) {
		regions, names, write = append(regions, region), append(names, name), append(write, save)
	}
	paddocks := len(e.Paddocks)
	for _, pad := range e.Paddocks {
		add(pad.Region, pad.Name, func(r land.Region) error { return e.reshape(pad, r) })
	}
	for _, f := range e.Fields {
		add(f.Region, f.Name, func(r land.Region) error { return e.reshapeField(f, r) })
		for _, x := range f.Exclusions {
			add(e.Plane.Project(x.Shape.Shape), x.Name, func(r land.Region) error {
				x.Shape.Shape = e.Plane.Unproject(r)
				return e.Save(&x)
			})
		}
		for _, z := range f.Zones {
			add(e.Plane.Project(z.Shape.Shape), z.Name, func(r land.Region) error {
				z.Shape.Shape = e.Plane.Unproject(r)
				return e.Save(&z)
			})
		}
	}
	moved, changed, err := land.MoveCorner(regions, c, reachM)
	if err != nil {
		return err
	}
	// What changed, and the paddocks around it, must still lie side by side.
	var around []land.Region
	var aroundNames []string
	for i, r := range moved[:paddocks] {
		near := changed[i]
		for k := range moved[:paddocks] {
			near = near || changed[k] && r.Near(moved[k])
		}
		if near {
			around, aroundNames = append(around, r), append(aroundNames, names[i])
		}
	}
	if err := land.CheckCover("at", around, aroundNames); err != nil {
		return err
	}
	for i, r := range moved {
		if !changed[i] {
			continue
		}
		if i >= paddocks {
			if err := land.CheckCover("at", []land.Region{r}, names[i:i+1]); err != nil {
				return err
			}
		}
		if err := write[i](r); err != nil {
			return err
		}
	}
	return nil
}

// reshape gives a paddock another outline from today on.
func (e *edit) reshape(pad facts.Paddock, region land.Region) error {
	row := e.outline(pad.ID, region)
	if pad.Shape.ValidFrom == e.today() {
		row.ID = pad.Shape.ID
		return e.Save(row)
	}
	return e.Create(row)
}

func (e *edit) reshapeField(f facts.Field, region land.Region) error {
	row := store.FieldShape{FarmID: e.actor.FarmID, ID: farm.NewID(), FieldID: f.ID, ValidFrom: e.today(),
		Shape: store.Geometry{Shape: e.Plane.Unproject(region)}, AreaHa: region.AreaHa()}
	if f.Shape.ValidFrom == e.today() {
		row.ID = f.Shape.ID
		return e.Save(&row)
	}
	return e.Create(&row)
}

// editLand runs an edit and answers with the whole map.
func (s *Service) editLand(ctx context.Context, a farm.Actor, id, what string, in any, work func(e *edit) (string, error)) (LandView, error) {
	err := s.edit(ctx, a, id, what, in, work)
	return farm.After(err, func() (LandView, error) { return s.Land(ctx, a) })
}

// SplitInput cuts a paddock along a drawn line.
type SplitInput struct {
	ID        string          `json:"id"`
	PaddockID string          `json:"paddock_id"`
	Line      []land.Position `json:"line" nullable:"false"`
	Names     []string        `json:"names,omitempty"`
}

// splitReachM draws a fence that stops short of the boundary on to it.
const splitReachM = 5

// Split cuts a paddock along a line. The largest part stays the paddock it was, with its records; the others are new
// and carry what stood there.
func (s *Service) Split(ctx context.Context, a farm.Actor, in SplitInput) (LandView, error) {
	return s.editLand(ctx, a, in.ID, "split", in, func(e *edit) (string, error) {
		pad, err := paddock(e.Picture, "paddock_id", in.PaddockID)
		if err != nil {
			return "", err
		}
		line, err := drawn(e.Picture, "line", in.Line, 2)
		if err != nil {
			return "", err
		}
		d, err := land.Split(pad.Region, line, splitReachM)
		if err != nil {
			return "", err
		}
		parts := d.Parts
		largest := 0
		for i := range parts {
			if parts[i].AreaHa < land.LeastAreaHa {
				return "", quantity.Refuse("line", nil, "a part of %s would have no area worth fencing", pad.Name)
			}
			if parts[i].AreaHa > parts[largest].AreaHa {
				largest = i
			}
		}
		parts[0], parts[largest] = parts[largest], parts[0]
		se, err := season.Of(e.Picture)
		if err != nil {
			return "", err
		}
		standing := se.Recount(e.Now).Standing
		if err := e.reshape(pad, parts[0].Region); err != nil {
			return "", err
		}
		if err := e.renameSplit(pad, in.Names, 0); err != nil {
			return "", err
		}
		for i, part := range parts[1:] {
			row := pad.Paddock
			row.ID, row.Version, row.RestFrom = farm.NewID(), 1, nil
			row.Name = fmt.Sprintf("%s %c", pad.Name, 'b'+rune(i))
			if i+1 < len(in.Names) && in.Names[i+1] != "" {
				if row.Name, err = farm.CheckName(fmt.Sprintf("names[%d]", i+1), in.Names[i+1]); err != nil {
					return "", err
				}
			}
			measured := carried(se, &row, []patch{{e.ByID[pad.ID], part.AreaHa}}, standing, e.Now)
			if err := e.Create(&row, e.outline(row.ID, part.Region)); err != nil {
				return "", err
			}
			if err := e.passOn(se, row.ID, []patch{{e.ByID[pad.ID], part.AreaHa}}, measured); err != nil {
				return "", err
			}
		}
		return fmt.Sprintf("%s split in %d", pad.Name, len(parts)), nil
	})
}

func (e *edit) renameSplit(pad facts.Paddock, names []string, i int) error {
	if i >= len(names) || names[i] == "" || names[i] == pad.Name {
		return nil
	}
	row := pad.Paddock
	var err error
	if row.Name, err = farm.CheckName(fmt.Sprintf("names[%d]", i), names[i]); err != nil {
		return err
	}
	return e.Save(&row)
}

func paddock(p *facts.Picture, field, id string) (facts.Paddock, error) {
	i, ok := p.ByID[id]
	if !ok {
		return facts.Paddock{}, quantity.Refuse(field, id, "is not a paddock of this farm today")
	}
	return p.Paddocks[i], nil
}

// drawn brings a drawn line onto the plane.
func drawn(p *facts.Picture, field string, at []land.Position, least int) (land.Path, error) {
	if len(at) < least || len(at) > land.MostCorners {
		return nil, quantity.Refuse(field, len(at), "draw %d to %d places", least, land.MostCorners)
	}
	out := make(land.Path, len(at))
	for i, pos := range at {
		if !onEarth(pos) {
			return nil, quantity.Refuse(field, pos, "this place is off the world")
		}
		out[i] = p.Plane.Forward(pos)
	}
	return out, nil
}

// MergeInput joins two neighbours.
type MergeInput struct {
	ID        string `json:"id"`
	PaddockID string `json:"paddock_id" doc:"the one that stays"`
	WithID    string `json:"with_id" doc:"the one that is joined to it"`
}

// Merge takes the fence between two paddocks of a field away. The first stays, with its records and facts; the other
// ends today, and its records stay its own. What stands is carried by area, and stock in the other are in the first.
func (s *Service) Merge(ctx context.Context, a farm.Actor, in MergeInput) (LandView, error) {
	return s.editLand(ctx, a, in.ID, "merge", in, func(e *edit) (string, error) {
		first, err := paddock(e.Picture, "paddock_id", in.PaddockID)
		if err != nil {
			return "", err
		}
		second, err := paddock(e.Picture, "with_id", in.WithID)
		if err != nil {
			return "", err
		}
		if first.FieldID != second.FieldID || first.ID == second.ID {
			return "", quantity.Refuse("with_id", nil, "join two paddocks of one field")
		}
		merged, _, err := land.Merge(first.Region, second.Region)
		if err != nil {
			return "", err
		}
		se, err := season.Of(e.Picture)
		if err != nil {
			return "", err
		}
		row := first.Paddock
		measured := carried(se, &row, []patch{{e.ByID[first.ID], first.Shape.AreaHa}, {e.ByID[second.ID], second.Shape.AreaHa}}, se.Recount(e.Now).Standing, e.Now)
		gone := second.Paddock
		today := e.today()
		gone.EndedOn = &today
		if err := e.Save(&row); err != nil {
			return "", err
		}
		if err := e.Save(&gone); err != nil {
			return "", err
		}
		if err := e.reshape(first, merged); err != nil {
			return "", err
		}
		if err := e.passOn(se, row.ID, nil, measured); err != nil {
			return "", err
		}
		for mob, in := range where(e.Picture) {
			if in != second.ID {
				continue
			}
			if err := e.Create(&store.Move{FarmID: a.FarmID, ID: farm.NewID(), MobID: mob, FromPaddockID: &second.ID, ToPaddockID: &first.ID, MovedAt: *e.moment(),
				Note: dividedNote, RecordedAt: *e.moment(), RecordedBy: a.UserID}); err != nil {
				return "", err
			}
		}
		return fmt.Sprintf("%s joined to %s", second.Name, first.Name), nil
	})
}

// MeasureLine is a distance drawn on the map.
type MeasureLine struct {
	Line []land.Position `json:"line" nullable:"false"`
}

// MeasuredLine is what a drawn line comes to.
type MeasuredLine struct {
	LengthM float64   `json:"length_m"`
	LegsM   []float64 `json:"legs_m" nullable:"false"`
	AreaHa  float64   `json:"area_ha" doc:"of the ground it would enclose; 0 for fewer than three places"`
	SquareM float64   `json:"square_m"`
}

// MeasureDistance measures a line, leg by leg.
func (s *Service) MeasureDistance(ctx context.Context, a farm.Actor, in MeasureLine) (MeasuredLine, error) {
	if len(in.Line) == 0 {
		return MeasuredLine{}, quantity.Refuse("line", 0, "draw 2 to %d places", land.MostCorners)
	}
	p := facts.Picture{Plane: land.NewPlane(in.Line[0])}
	path, err := drawn(&p, "line", in.Line, 2)
	if err != nil {
		return MeasuredLine{}, err
	}
	out := MeasuredLine{LengthM: path.Length(), LegsM: []float64{}}
	for i := 1; i < len(path); i++ {
		out.LegsM = append(out.LegsM, path[i-1:i+1].Length())
	}
	if area := land.Ring(path).SignedArea() / 10000; len(path) > 2 {
		out.AreaHa = max(area, -area)
		out.SquareM = land.SquareM(out.AreaHa)
	}
	return out, nil
}
