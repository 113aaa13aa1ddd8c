package ground

import (
	"bytes"
	"context"
	"image"
	_ "image/jpeg"
	_ "image/png"

	"fjell/core/land"
	"fjell/core/quantity"
	"fjell/internal/exchange"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/standin"
	"fjell/internal/store"
)

// Limits of a farm's own picture.
const (
	MostPictureBytes = 15 << 20
)

// GroundView is what the farm has to draw on.
type GroundView struct {
	Version     int           `json:"version"` // of the farm's settings, the address of tiles among them
	Pictures    []PictureView `json:"pictures" nullable:"false"`
	Heights     []HeightsView `json:"heights" nullable:"false"`
	TileAddress string        `json:"tile_address"`
}

// PictureView is the farm's own picture, laid by its top left, top right and bottom left corners.
type PictureView struct {
	ID      string           `json:"id"`
	Name    string           `json:"name"`
	Corners [3]land.Position `json:"corners"`
}

// HeightsView is contours from heights the farm brought.
type HeightsView struct {
	ID       string         `json:"id"`
	Name     string         `json:"name"`
	StepM    float64        `json:"step_m"`
	Contours []land.Contour `json:"contours" nullable:"false"`
}

// Ground is what the farm has to draw on: its picture, contours, and an address of tiles if it gave one.
func (s *Service) Ground(ctx context.Context, a farm.Actor) (GroundView, error) {
	out := GroundView{Pictures: []PictureView{}, Heights: []HeightsView{}}
	var farm store.Farm
	var pictures []store.GroundPicture
	var heights []store.Heights
	db := s.DB.WithContext(ctx)
	if err := db.First(&farm, "id = ?", a.FarmID).Error; err != nil {
		return out, err
	}
	out.TileAddress, out.Version = farm.TileAddress, farm.Version
	if err := db.Omit("content").Order("name, id").Find(&pictures, "farm_id = ?", a.FarmID).Error; err != nil {
		return out, err
	}
	if err := db.Order("name, id").Find(&heights, "farm_id = ?", a.FarmID).Error; err != nil {
		return out, err
	}
	for _, p := range pictures {
		v := PictureView{ID: p.ID, Name: p.Name}
		for i, c := range p.Corners.V {
			v.Corners[i] = c
		}
		out.Pictures = append(out.Pictures, v)
	}
	for _, h := range heights {
		out.Heights = append(out.Heights, HeightsView{h.ID, h.Name, h.StepM, h.Contours.V})
	}
	return out, nil
}

// NewPicture is a picture of the farm's ground, with a world file or three corners placed by hand.
type NewPicture struct {
	ID        string          `json:"id"`
	Name      string          `json:"name"`
	Content   []byte          `json:"content"`
	WorldFile string          `json:"world_file,omitempty"`
	EPSG      int             `json:"epsg,omitempty" doc:"projection of the world file; 4326 where nobody says"`
	Corners   []land.Position `json:"corners,omitempty" nullable:"false"`
}

// AddPicture keeps a PNG or JPEG and lays it on the map.
func (s *Service) AddPicture(ctx context.Context, a farm.Actor, in NewPicture) (GroundView, error) {
	err := farm.CheckID("id", in.ID)
	if err != nil {
		return GroundView{}, err
	}
	if in.Name, err = farm.CheckName("name", in.Name); err != nil {
		return GroundView{}, err
	}
	if len(in.Content) > MostPictureBytes {
		return GroundView{}, quantity.Refuse("content", nil, "the picture is larger than %d MB", MostPictureBytes>>20)
	}
	digest, err := farm.DigestOf("picture", in) // of what came, not of what is drawn anew
	if err != nil {
		return GroundView{}, err
	}
	size, _, err := image.DecodeConfig(bytes.NewReader(in.Content))
	if err != nil {
		return GroundView{}, quantity.Refuse("content", nil, "this is neither a PNG nor a JPEG")
	}
	kind, content, _, err := s.DrawAnew(ctx, in.Content, farm.PictureSide)
	if err != nil {
		return GroundView{}, err
	}
	corners := in.Corners
	if in.WorldFile != "" {
		if corners, err = exchange.WorldFile(in.WorldFile, in.EPSG, size.Width, size.Height); err != nil {
			return GroundView{}, err
		}
	}
	if len(corners) != 3 {
		return GroundView{}, quantity.Refuse("corners", len(corners), "bring its world file, or place three corners: top left, top right, bottom left")
	}
	row := store.GroundPicture{FarmID: a.FarmID, ID: in.ID, Name: in.Name, ContentType: kind, Content: content}
	plane := land.NewPlane(corners[0])
	var at land.Path
	for i, c := range corners {
		if !onEarth(c) {
			return GroundView{}, quantity.Refuse("corners", c, "this corner is off the world")
		}
		row.Corners.V[i] = c
		at = append(at, plane.Forward(c))
	}
	if area := land.Ring(at).SignedArea(); max(area, -area) < 50 {
		return GroundView{}, quantity.Refuse("corners", nil, "the three corners lie on a line: the picture would have no width")
	}
	err = s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "picture", Body: digest}, func(tx *facts.Writing) error {
		if err := tx.Room(len(content)); err != nil {
			return err
		}
		return tx.Create(&row).Error
	})
	return farm.After(err, func() (GroundView, error) { return s.Ground(ctx, a) })
}

// Picture is the content of a farm's own picture.
func (s *Service) GroundPicture(ctx context.Context, a farm.Actor, id string) ([]byte, string, error) {
	row, err := farm.Find[store.GroundPicture](s.DB.WithContext(ctx), a.FarmID, "", id)
	return row.Content, row.ContentType, err
}

// NewHeights is heights of the farm's ground: a GeoTIFF, an ASC grid, or a list.
type NewHeights struct {
	ID      string  `json:"id"`
	File    string  `json:"file"`
	Content []byte  `json:"content"`
	EPSG    int     `json:"epsg,omitempty" doc:"projection of an ASC grid"`
	Step    float64 `json:"contour_step_m"`
}

// AddHeights draws contours from heights and keeps them.
func (s *Service) AddHeights(ctx context.Context, a farm.Actor, in NewHeights) (GroundView, error) {
	if err := farm.CheckID("id", in.ID); err != nil {
		return GroundView{}, err
	}
	if err := farm.Judge(struct {
		Step float64 `json:"contour_step_m"`
	}{in.Step}, true); err != nil {
		return GroundView{}, err
	}
	leave, err := s.Reading(ctx)
	if err != nil {
		return GroundView{}, err
	}
	defer leave()
	heights, err := exchange.ReadHeights(ctx, in.File, in.Content, in.EPSG)
	if err != nil {
		return GroundView{}, err
	}
	contours, err := land.Contours(heights, in.Step)
	if err != nil {
		return GroundView{}, err
	}
	if len(contours) == 0 {
		return GroundView{}, quantity.Refuse("contour_step_m", in.Step, "this ground is flatter than one step: no line crosses it")
	}
	file := in.File
	if r := []rune(file); len(r) > 80 {
		file = string(r[:80])
	}
	err = s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "heights", Body: in}, func(tx *facts.Writing) error {
		return tx.Create(&store.Heights{FarmID: a.FarmID, ID: in.ID, Name: file, StepM: in.Step, Contours: store.JSON[[]land.Contour]{V: contours}}).Error
	})
	return farm.After(err, func() (GroundView, error) { return s.Ground(ctx, a) })
}

// RemoveGround takes a picture or contours away.
func (s *Service) RemoveGround(ctx context.Context, a farm.Actor, id string) (GroundView, error) {
	err := s.Write(ctx, a, farm.Request{Kind: "remove ground", Body: id}, func(tx *facts.Writing) error {
		gone := int64(0)
		for _, row := range []any{&store.GroundPicture{}, &store.Heights{}} {
			res := tx.Where("farm_id = ? AND id = ?", a.FarmID, id).Delete(row)
			if res.Error != nil {
				return res.Error
			}
			gone += res.RowsAffected
		}
		if gone == 0 {
			return farm.ErrNotFound
		}
		return nil
	})
	return farm.After(err, func() (GroundView, error) { return s.Ground(ctx, a) })
}

// TrackInput is the fixes of a walk along a fence.
type TrackInput struct {
	Fixes []standin.Fix `json:"fixes" nullable:"false" maxItems:"50000"`
}

// TrackView is the boundary a walk comes to.
type TrackView struct {
	Shape   land.Shape `json:"shape" nullable:"false"`
	AreaHa  float64    `json:"area_ha"`
	SquareM float64    `json:"square_m"`
	GapM    float64    `json:"gap_m"`
	Spikes  int        `json:"spikes"`
	Poor    int        `json:"poor"`
}

// Track makes a boundary of a walk. Nothing is written.
func (s *Service) Track(ctx context.Context, _ farm.Actor, in TrackInput) (TrackView, error) {
	leave, err := s.Reading(ctx)
	if err != nil {
		return TrackView{}, err
	}
	defer leave()
	if len(in.Fixes) > 50000 {
		return TrackView{}, quantity.Refuse("fixes", len(in.Fixes), "at most 50000 fixes")
	}
	fixes := make([]land.Fix, len(in.Fixes))
	for i, f := range in.Fixes {
		fixes[i] = land.Fix{At: land.Position{f.Longitude, f.Latitude}, Accuracy: f.AccuracyM}
	}
	track, err := land.FromTrack(fixes)
	if err != nil {
		return TrackView{}, err
	}
	out := TrackView{Shape: land.Shape{{track.Ring}}, GapM: track.GapM, Spikes: track.Spikes, Poor: track.Poor}
	if err := land.Check("track", out.Shape); err != nil {
		return TrackView{}, err
	}
	out.AreaHa = land.NewPlane(out.Shape.Centre()).Project(out.Shape).AreaHa()
	out.SquareM = land.SquareM(out.AreaHa)
	return out, nil
}

// SimulatedWalk is a walk around made-up ground beside the farm, for trying without a receiver. It is there only where
// the clock is held: in the demo and in tests.
func (s *Service) SimulatedWalk(ctx context.Context, a farm.Actor) ([]standin.Fix, error) {
	if !s.Clock.Held() {
		return nil, farm.ErrNotFound
	}
	p, err := s.Picture(ctx, a)
	if err != nil {
		return nil, err
	}
	east, middle := 0.0, 0.0
	for i := range p.Fields {
		for _, ring := range p.Fields[i].Region {
			for _, pt := range ring {
				if pt.X > east {
					east, middle = pt.X, pt.Y
				}
			}
		}
	}
	var corners []land.Point
	for _, c := range []land.Point{{X: 0, Y: 0}, {X: 150, Y: -30}, {X: 210, Y: 80}, {X: 120, Y: 190}, {X: -10, Y: 130}} {
		corners = append(corners, land.Point{X: east + 60 + c.X, Y: middle - 80 + c.Y})
	}
	return standin.Walk(p.Plane, corners, 4), nil
}
