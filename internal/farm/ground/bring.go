package ground

import (
	"context"
	"fmt"
	"runtime"
	"strconv"
	"sync"

	"fjell/core/land"
	"fjell/core/quantity"
	"fjell/internal/exchange"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// BringItem is one thing of a file and what it becomes.
type BringItem struct {
	ID      string          `json:"id"`
	As      string          `json:"as" enum:"field,paddock,exclusion,zone,fence,lane,water,gate"`
	Name    string          `json:"name"`
	SwardID string          `json:"sward_id,omitempty"`
	Shape   land.Shape      `json:"shape,omitempty" nullable:"false"`
	Path    []land.Position `json:"path,omitempty" nullable:"false"`
	Factor  float64         `json:"growth_factor,omitempty"`
	Width   *float64        `json:"lane_width_m,omitempty"`
}

// PlaceFile says where the things of a file lie, against the farm; swap exchanges latitude and longitude first.
func (s *Service) PlaceFile(ctx context.Context, a farm.Actor, features []exchange.Feature, swap bool) error {
	if swap {
		exchange.Swap(features)
	}
	db := s.DB.WithContext(ctx)
	var row store.Farm
	if err := db.Select("longitude", "latitude").First(&row, "id = ?", a.FarmID).Error; err != nil {
		return err
	}
	// A farm without land is not anywhere yet: its first field puts it there.
	var fields int64
	if err := db.Model(&store.Field{}).Where("farm_id = ?", a.FarmID).Limit(1).Count(&fields).Error; err != nil {
		return err
	}
	var near *land.Position
	if fields > 0 {
		near = &land.Position{row.Longitude, row.Latitude}
	}
	exchange.Place(features, near)
	return nil
}

// Square is ground of which only the size is known.
func Square(centre land.Position, areaHa float64) (land.Shape, error) {
	if verdict, problem := quantity.Bands["area_ha"].Check("area_ha", areaHa); verdict == quantity.Impossible {
		return nil, problem
	}
	return land.SquareOf(centre, areaHa), nil
}

// BringInput is a part of a file that is brought in. The parts of one file share a batch and are undone together.
type BringInput struct {
	ID        string      `json:"id"`
	Batch     string      `json:"batch"`
	File      string      `json:"file"`
	Items     []BringItem `json:"items" nullable:"false"`
	Confirmed bool        `json:"confirmed,omitempty"`
}

// mostBroughtCorners is how many corners one request brings.
const mostBroughtCorners = 200_000

// mostAtOnce is how many things one request brings in: a larger file comes in parts, with progress.
const mostAtOnce = 1000

// Brought counts what was brought in.
type Brought struct {
	Made int `json:"made"`
}

// Bring writes things of a file: all of them or none. Fields come before what lies in them.
func (s *Service) Bring(ctx context.Context, a farm.Actor, in BringInput) (Brought, error) {
	if len(in.Items) == 0 || len(in.Items) > mostAtOnce {
		return Brought{}, quantity.Refuse("items", len(in.Items), "bring 1 to %d things at a time", mostAtOnce)
	}
	var paths [][]land.Position
	for i, item := range in.Items {
		if err := farm.CheckID(fmt.Sprintf("items[%d].id", i), item.ID); err != nil {
			return Brought{}, err
		}
		paths = append(paths, item.Path)
		for _, poly := range item.Shape {
			paths = append(paths, poly...)
		}
	}
	corners := 0
	for _, path := range paths {
		corners += len(path)
	}
	if corners > mostBroughtCorners {
		return Brought{}, quantity.Refuse("items", corners, "bring at most %d corners at a time", mostBroughtCorners)
	}
	box := land.BoxOf(0.001, paths...)
	if err := checkShapes(in.Items); err != nil {
		return Brought{}, err
	}
	err := s.editWithin(ctx, a, in.ID, in.Batch, "bring", &box, in, func(e *edit) (string, error) {
		parts := map[string][]newPaddock{}
		some := func(fields bool) error {
			for i, item := range in.Items {
				if (item.As == "field") != fields {
					continue
				}
				if err := ctx.Err(); err != nil { // nobody waits for the rest
					return err
				}
				if err := e.bring(item, in.Confirmed, parts); err != nil {
					return at(fmt.Sprintf("items[%d]", i), item.Name, err)
				}
			}
			return nil
		}
		if err := e.Together(func() error { return some(true) }); err != nil {
			return "", err
		}
		if err := some(false); err != nil {
			return "", err
		}
		for _, f := range e.Fields {
			if len(parts[f.ID]) > 0 {
				if err := e.layBrought(f, in.File, parts[f.ID]); err != nil {
					return "", err
				}
			}
		}
		return "brought in " + in.File, nil
	})
	return Brought{len(in.Items)}, err
}

// checkShapes checks the ground of all things, on all cores, and names the first that is none.
func checkShapes(items []BringItem) error {
	problems := make([]error, len(items))
	var group sync.WaitGroup
	cores := runtime.GOMAXPROCS(0)
	for core := range cores {
		group.Go(func() {
			for i := core; i < len(items); i += cores {
				if item := items[i]; item.As == "field" || item.As == "paddock" || item.As == "exclusion" || item.As == "zone" {
					problems[i] = land.Check("shape", item.Shape)
				}
			}
		})
	}
	group.Wait()
	for i, err := range problems {
		if err != nil {
			return at(fmt.Sprintf("items[%d]", i), items[i].Name, err)
		}
	}
	return nil
}

// at says of which thing of a file an error speaks.
func at(field, name string, err error) error {
	if p, ok := err.(*quantity.Problem); ok {
		return quantity.Refuse(field, p.Came, "%s: %s", name, p.Message)
	}
	return err
}

func (e *edit) bring(item BringItem, confirmed bool, parts map[string][]newPaddock) error {
	switch item.As {
	case "field":
		return e.addField(NewField{ID: item.ID, Name: item.Name, SwardID: item.SwardID, Shape: item.Shape, Confirmed: confirmed})
	case "fence", "lane", "water", "gate":
		return e.addMark(NewMark{ID: item.ID, Kind: item.As, Name: item.Name, Width: item.Width, Path: item.Path})
	case "paddock", "exclusion", "zone":
	default:
		return quantity.Refuse("as", item.As, "must be field, paddock, exclusion, zone, fence, lane, water or gate")
	}
	var err error
	if item.Name, err = farm.CheckName("name", item.Name); err != nil {
		return err
	}
	if item.Factor != 0 {
		if err := farm.Judge(struct {
			Factor float64 `json:"growth_factor"`
		}{item.Factor}, true); err != nil {
			return err
		}
	}
	region := e.Plane.Project(item.Shape)
	inside := region.Inside()
	for i := range e.Fields {
		f := &e.Fields[i]
		if !f.Region.Contains(inside) {
			continue
		}
		if item.As == "paddock" {
			parts[f.ID] = append(parts[f.ID], newPaddock{item.Name, region})
			return nil
		}
		ground, err := land.Common(region, f.Region)
		if err != nil {
			return fmt.Errorf("%s in %s: %w", item.Name, f.Name, err)
		}
		switch item.As {
		case "exclusion":
			return e.exclude(item.ID, "other", item.Name, *f, ground, region)
		case "zone":
			factor := item.Factor
			if factor == 0 {
				factor = 1
			}
			return e.Create(&store.Zone{FarmID: e.actor.FarmID, ID: item.ID, FieldID: f.ID, Name: item.Name, GrowthFactor: factor, Shape: store.Geometry{Shape: e.Plane.Unproject(ground)}})
		}
	}
	if item.As == "paddock" {
		// Ground of its own: a field with this one paddock.
		return e.addField(NewField{ID: item.ID, Name: item.Name, SwardID: item.SwardID, Shape: item.Shape, Confirmed: confirmed})
	}
	return quantity.Refuse("shape", nil, "lies in no field: bring the field first")
}

// leastRestHa is ground between brought paddocks that is worth being a paddock of its own.
const leastRestHa = 0.02

// layBrought makes a layout of the paddocks a file has for a field. Ground that none of them covers becomes one more.
func (e *edit) layBrought(f facts.Field, file string, parts []newPaddock) error {
	ground, err := grazeable(e.Picture, f)
	if err != nil {
		return err
	}
	var regions []land.Region
	var names []string
	for _, p := range parts {
		region := p.region
		// What lies over the field's fence, or on its exclusions, is cut off; a hand's breadth is the same fence.
		if over := region.Beyond(ground); over > 2 {
			if region, err = land.Common(region, ground); err != nil {
				return quantity.Refuse("paddocks", nil, "%s cannot be cut to %s: draw it inside the field", p.name, f.Name)
			}
		}
		regions, names = append(regions, region), append(names, p.name)
	}
	rest, regions := land.Rest(ground, regions)
	if err := land.CheckCover("paddocks", regions, names); err != nil {
		return err
	}
	for i := range parts {
		parts[i].region = regions[i]
	}
	if rest.AreaHa() >= leastRestHa {
		parts = append(parts, newPaddock{f.Name + ", the rest", rest})
	}
	se, err := season.Of(e.Picture)
	if err != nil {
		return err
	}
	layoutName := "from " + file
	if r := []rune(layoutName); len(r) > 80 {
		layoutName = string(r[:80])
	}
	layout := store.Layout{FarmID: e.actor.FarmID, ID: farm.NewID(), FieldID: f.ID, Name: layoutName, Version: 1}
	if err := e.layDown(se, layout, parts); err != nil {
		return err
	}
	return e.use(se, f, layout.ID, "", "", nil)
}

// Export writes the farm's land in a format.
func (s *Service) Export(ctx context.Context, a farm.Actor, format string) (raw []byte, contentType, file string, err error) {
	p, err := s.Picture(ctx, a)
	if err != nil {
		return nil, "", "", err
	}
	l := exchange.Land{Farm: p.Row.Name}
	for _, f := range p.Fields {
		region := p.Plane.Project(f.Shape.Shape.Shape)
		l.Grounds = append(l.Grounds, exchange.Ground{Kind: "field", Name: f.Name, Shape: f.Shape.Shape.Shape, AreaHa: f.Shape.AreaHa, FenceM: region.FenceM()})
		for _, x := range f.Exclusions {
			r := p.Plane.Project(x.Shape.Shape)
			l.Grounds = append(l.Grounds, exchange.Ground{Kind: "exclusion", Name: x.Name, Field: f.Name, Shape: x.Shape.Shape, AreaHa: r.AreaHa(), FenceM: r.FenceM()})
		}
	}
	corners := map[land.Position]bool{}
	for _, pad := range p.Paddocks {
		l.Grounds = append(l.Grounds, exchange.Ground{Kind: "paddock", Name: pad.Name, Field: fieldAt(p, pad.FieldID).Name, Shape: pad.Shape.Shape.Shape, AreaHa: pad.Shape.AreaHa,
			FenceM: pad.Shape.FenceM, Facts: told(pad)})
		for _, poly := range pad.Shape.Shape.Shape {
			for _, pos := range poly[0][1:] {
				if format == "gpx" && !corners[pos] {
					corners[pos] = true
					l.Spots = append(l.Spots, exchange.Spot{Kind: "corner", Name: fmt.Sprintf("%s, corner %d", pad.Name, len(corners)), At: pos})
				}
			}
		}
	}
	for _, m := range p.Marks {
		if len(m.Path.At) == 1 {
			l.Spots = append(l.Spots, exchange.Spot{Kind: m.Kind, Name: m.Name, At: m.Path.At[0]})
		} else {
			l.Lines = append(l.Lines, exchange.Line{Kind: m.Kind, Name: m.Name, At: m.Path.At})
		}
	}
	raw, err = exchange.Write(format, l)
	f := exchange.Formats[format]
	return raw, f.ContentType, "fjell-land." + f.Ending, err
}

// facts are the columns of a paddock in a file.
func told(p facts.Paddock) []exchange.Fact {
	number := func(v *float64) string {
		if v == nil {
			return ""
		}
		return strconv.FormatFloat(*v, 'g', 6, 64)
	}
	return []exchange.Fact{{Name: "sward", Value: p.Sward.Name}, {Name: "productivity", Value: number(&p.GrowthFactor)}, {Name: "legume_share", Value: number(p.LegumeShare)},
		{Name: "slope_degrees", Value: number(p.SlopeDegrees)}, {Name: "wetness", Value: p.Wetness}, {Name: "aspect", Value: p.Aspect}, {Name: "shade", Value: p.Shade},
		{Name: "purpose", Value: p.Purpose}, {Name: "closed_for", Value: p.ClosedFor}, {Name: "notes", Value: p.Notes}}
}
