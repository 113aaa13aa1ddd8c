package httpapi

import (
	"context"
	"net/http"

	"fjell/core/land"
	"fjell/core/reference"
	"fjell/internal/exchange"
	"fjell/internal/farm/ground"
	"fjell/internal/standin"
)

type fileInput struct {
	FarmPath
	Name    string `query:"name" maxLength:"200" doc:"name of the file; its ending says what it is"`
	Swap    bool   `query:"swap" doc:"latitude and longitude change places"`
	RawBody []byte `contentType:"application/octet-stream"`
}

type squarePath struct {
	FarmPath
	AreaHa    float64 `query:"area_ha"`
	Longitude float64 `query:"longitude" minimum:"-180" maximum:"180"`
	Latitude  float64 `query:"latitude" minimum:"-89" maximum:"89"`
}

// LayoutPath names a layout of a field.
type LayoutPath struct {
	ItemPath
	Layout string `path:"layout" format:"uuid"`
}

type layoutChange struct {
	LayoutPath
	IfMatch
}

type inLayout[T any] struct {
	LayoutPath
	IfMatch
	Body T
}

// PartPath names an exclusion or a zone of a field.
type PartPath struct {
	ItemPath
	Part string `path:"part" format:"uuid"`
}

type compareLayouts struct {
	ItemPath
	Mob  string  `query:"mob"`
	Stay float64 `query:"stay"`
	Rest float64 `query:"rest"`
}

// ManyPaddocks is several paddocks that are changed together.
type ManyPaddocks struct {
	Paddocks  []ground.PaddockChange `json:"paddocks" nullable:"false"`
	Confirmed bool                   `json:"confirmed,omitempty"`
}

type exportPath struct {
	FarmPath
	Format string `path:"format" enum:"geojson,kml,gpx,shapefile,csv"`
}

type file struct {
	ContentType        string `header:"Content-Type"`
	ContentDisposition string `header:"Content-Disposition"`
	Body               []byte
}

type tilePath struct {
	FarmPath
	Z int `path:"z" minimum:"0" maximum:"22"`
	X int `path:"x" minimum:"0"`
	Y int `path:"y" minimum:"0"`
}

type tileFile struct {
	ContentType  string `header:"Content-Type"`
	CacheControl string `header:"Cache-Control"`
	Body         []byte
}

type step struct {
	FarmPath
	Step string `query:"step" doc:"the step that was shown; another one is refused. Nothing: whichever is the latest"`
}

// TileInput is the address of map tiles.
type TileInput struct {
	Address string `json:"address"`
}

func (s *Server) landRoutes() {
	h := s.House
	const base = "/api/farms/{farm}"
	route(s, viewer, http.MethodGet, base+"/land", "land", "The farm's map", func(ctx context.Context, _ *FarmPath) (*body[ground.LandView], error) {
		return answer(h.Ground.Land(ctx, actor(ctx)))
	})
	route(s, manager, http.MethodPost, base+"/land/undo", "undo-land", "Take the latest edit of the land back", func(ctx context.Context, in *step) (*body[ground.LandView], error) {
		return answer(h.Ground.Undo(ctx, actor(ctx), in.Step))
	}, keyed)
	route(s, manager, http.MethodPost, base+"/land/redo", "redo-land", "Do the edit again that was undone last", func(ctx context.Context, in *step) (*body[ground.LandView], error) {
		return answer(h.Ground.Redo(ctx, actor(ctx), in.Step))
	}, keyed)
	s.fieldRoutes(base)
	s.layoutRoutes(base)
	s.fenceRoutes(base)
	s.fileRoutes(base)
	s.groundRoutes(base)
}

func (s *Server) fieldRoutes(base string) {
	h := s.House
	route(s, manager, http.MethodPost, base+"/fields", "create-field", "Draw a field", func(ctx context.Context, in *in[ground.NewField]) (*body[ground.FieldView], error) {
		return answer(h.Ground.CreateField(ctx, actor(ctx), in.Body))
	}, room(landBody))
	route(s, manager, http.MethodPut, base+"/fields/{id}", "rename-field", "Rename a field", func(ctx context.Context, in *change[Named]) (*body[ground.FieldView], error) {
		return answer(h.Ground.RenameField(ctx, actor(ctx), in.ID, in.Version, in.Body.Name))
	})
	route(s, manager, http.MethodDelete, base+"/fields/{id}", "remove-field", "Take a field off the map; its records stay", func(ctx context.Context, in *ItemPath) (*empty, error) {
		return &empty{}, h.Ground.RemoveField(ctx, actor(ctx), in.ID)
	})
	route(s, manager, http.MethodPost, base+"/fields/{id}/exclusions", "exclude", "Take ground out of a field", func(ctx context.Context, in *inItem[ground.NewExclusion]) (*body[ground.FieldView], error) {
		return answer(h.Ground.Exclude(ctx, actor(ctx), in.ID, in.Body))
	}, room(landBody))
	route(s, manager, http.MethodDelete, base+"/fields/{id}/exclusions/{part}", "remove-exclusion", "Give excluded ground back to the paddocks", func(ctx context.Context, in *PartPath) (*body[ground.FieldView], error) {
		return answer(h.Ground.RemoveExclusion(ctx, actor(ctx), in.ID, in.Part))
	})
	route(s, manager, http.MethodPost, base+"/fields/{id}/zones", "add-zone", "Mark ground that grows more or less", func(ctx context.Context, in *inItem[ground.NewZone]) (*body[ground.FieldView], error) {
		return answer(h.Ground.AddZone(ctx, actor(ctx), in.ID, in.Body))
	}, room(landBody))
	route(s, manager, http.MethodDelete, base+"/fields/{id}/zones/{part}", "remove-zone", "Take a zone off the map", func(ctx context.Context, in *PartPath) (*body[ground.FieldView], error) {
		return answer(h.Ground.RemoveZone(ctx, actor(ctx), in.ID, in.Part))
	})
	route(s, manager, http.MethodPut, base+"/paddocks/{id}", "update-paddock", "Change a paddock's name and facts", func(ctx context.Context, in *change[ground.PaddockInput]) (*body[ground.PaddockView], error) {
		return answer(h.Ground.UpdatePaddock(ctx, actor(ctx), in.ID, in.Version, in.Body))
	})
	route(s, viewer, http.MethodGet, base+"/swards", "swards", "What can grow here: the farm's own swards, then those of the reference", func(ctx context.Context, _ *FarmPath) (*body[[]reference.Sward], error) {
		return answer(h.Ground.Swards(ctx, actor(ctx)))
	})
	route(s, manager, http.MethodPost, base+"/swards", "keep-own-sward", "Keep a sward of the farm's own", func(ctx context.Context, in *in[ground.NewOwnSward]) (*body[[]reference.Sward], error) {
		return answer(h.Ground.KeepOwnSward(ctx, actor(ctx), in.Body))
	})
	route(s, manager, http.MethodDelete, base+"/swards/{id}", "remove-own-sward", "Take a sward of the farm's own away", func(ctx context.Context, in *ItemPath) (*body[[]reference.Sward], error) {
		return answer(h.Ground.RemoveOwnSward(ctx, actor(ctx), in.ID))
	})
	route(s, hand, http.MethodPost, base+"/paddocks/{id}/cut", "cut-paddock", "Say that a paddock was cut", func(ctx context.Context, in *inItem[ground.CutInput]) (*body[ground.LandView], error) {
		return answer(h.Ground.Cut(ctx, actor(ctx), in.ID, in.Body))
	})
	route(s, manager, http.MethodPost, base+"/paddocks/{id}/closures", "close-up", "Take a paddock out of the round for a time", func(ctx context.Context, in *inItem[ground.ClosureInput]) (*body[ground.LandView], error) {
		return answer(h.Ground.CloseUp(ctx, actor(ctx), in.ID, in.Body))
	})
	route(s, manager, http.MethodPost, base+"/paddocks/{id}/reopen", "reopen", "Take a paddock back into the round today", func(ctx context.Context, in *ItemPath) (*body[ground.LandView], error) {
		return answer(h.Ground.Reopen(ctx, actor(ctx), in.ID))
	})
	route(s, manager, http.MethodPost, base+"/paddocks/{id}/dressings", "dress", "Write down that nitrogen was spread on a paddock", func(ctx context.Context, in *inItem[ground.DressingInput]) (*body[ground.LandView], error) {
		return answer(h.Ground.Dress(ctx, actor(ctx), in.ID, in.Body))
	})
	route(s, manager, http.MethodPut, base+"/paddocks", "update-paddocks", "Change the facts of many paddocks: all or none", func(ctx context.Context, in *in[ManyPaddocks]) (*body[ground.LandView], error) {
		return answer(h.Ground.UpdatePaddocks(ctx, actor(ctx), in.Body.Paddocks, in.Body.Confirmed))
	}, room(landBody))
}

func (s *Server) layoutRoutes(base string) {
	h := s.House
	route(s, viewer, http.MethodPost, base+"/fields/{id}/divide", "divide", "Look at a division; nothing is written", func(ctx context.Context, in *inItem[ground.DivideInput]) (*body[ground.DivisionView], error) {
		return answer(h.Ground.Divide(ctx, actor(ctx), in.ID, in.Body))
	})
	route(s, viewer, http.MethodPost, base+"/fields/{id}/least-fence", "least-fence", "The direction with least new fence", func(ctx context.Context, in *inItem[ground.DivideInput]) (*body[ground.LeastFenceView], error) {
		return answer(h.Ground.LeastFence(ctx, actor(ctx), in.ID, in.Body))
	})
	route(s, viewer, http.MethodGet, base+"/fields/{id}/layouts", "layouts", "The ways a field is divided, side by side", func(ctx context.Context, in *compareLayouts) (*body[[]ground.LayoutView], error) {
		return answer(h.Ground.Layouts(ctx, actor(ctx), in.ID, in.Mob, in.Stay, in.Rest))
	}, desk)
	route(s, manager, http.MethodPost, base+"/fields/{id}/layouts", "accept-division", "Keep a division", func(ctx context.Context, in *inItem[ground.AcceptDivision]) (*body[ground.FieldView], error) {
		return answer(h.Ground.AcceptDivision(ctx, actor(ctx), in.ID, in.Body))
	}, room(landBody))
	route(s, manager, http.MethodPut, base+"/fields/{id}/layouts/{layout}", "rename-layout", "Rename a layout", func(ctx context.Context, in *inLayout[Named]) (*body[ground.FieldView], error) {
		return answer(h.Ground.RenameLayout(ctx, actor(ctx), in.ID, in.Layout, in.Version, in.Body.Name))
	})
	route(s, manager, http.MethodPost, base+"/fields/{id}/layouts/{layout}/use", "use-layout", "Say when a kept layout holds", func(ctx context.Context, in *inLayout[ground.UseLayout]) (*body[ground.FieldView], error) {
		return answer(h.Ground.UseLayout(ctx, actor(ctx), in.ID, in.Layout, in.Version, in.Body))
	})
	route(s, manager, http.MethodDelete, base+"/fields/{id}/layouts/{layout}", "remove-layout", "Take a layout off the list; its records stay", func(ctx context.Context, in *layoutChange) (*body[ground.FieldView], error) {
		return answer(h.Ground.RemoveLayout(ctx, actor(ctx), in.ID, in.Layout, in.Version))
	})
}

func (s *Server) fenceRoutes(base string) {
	h := s.House
	route(s, manager, http.MethodPost, base+"/land/corner", "move-corner", "Move, put or take out a corner of the fences", func(ctx context.Context, in *in[ground.CornerInput]) (*body[ground.LandView], error) {
		return answer(h.Ground.MoveCorner(ctx, actor(ctx), in.Body))
	})
	route(s, manager, http.MethodPost, base+"/land/split", "split-paddock", "Cut a paddock along a line", func(ctx context.Context, in *in[ground.SplitInput]) (*body[ground.LandView], error) {
		return answer(h.Ground.Split(ctx, actor(ctx), in.Body))
	}, room(landBody))
	route(s, manager, http.MethodPost, base+"/land/merge", "merge-paddocks", "Join two neighbours", func(ctx context.Context, in *in[ground.MergeInput]) (*body[ground.LandView], error) {
		return answer(h.Ground.Merge(ctx, actor(ctx), in.Body))
	})
	route(s, manager, http.MethodPost, base+"/land/marks", "add-mark", "Put a gate, water, a fence or a lane on the map", func(ctx context.Context, in *in[ground.NewMark]) (*body[ground.LandView], error) {
		return answer(h.Ground.AddMark(ctx, actor(ctx), in.Body))
	})
	route(s, manager, http.MethodDelete, base+"/land/marks/{id}", "remove-mark", "Take a thing off the map", func(ctx context.Context, in *ItemPath) (*body[ground.LandView], error) {
		return answer(h.Ground.RemoveMark(ctx, actor(ctx), in.ID))
	})
	route(s, viewer, http.MethodPost, base+"/land/measure", "measure-line", "Measure a distance; nothing is written", func(ctx context.Context, in *in[ground.MeasureLine]) (*body[ground.MeasuredLine], error) {
		return answer(h.Ground.MeasureDistance(ctx, actor(ctx), in.Body))
	})
	route(s, viewer, http.MethodPost, base+"/land/track", "track", "The boundary a walk comes to; nothing is written", func(ctx context.Context, in *in[ground.TrackInput]) (*body[ground.TrackView], error) {
		return answer(h.Ground.Track(ctx, actor(ctx), in.Body))
	}, room(8<<20))
	route(s, viewer, http.MethodGet, base+"/land/simulated-walk", "simulated-walk", "A walk to try without a receiver; in the demo only", func(ctx context.Context, _ *FarmPath) (*body[[]standin.Fix], error) {
		return answer(h.Ground.SimulatedWalk(ctx, actor(ctx)))
	})
}

func (s *Server) fileRoutes(base string) {
	h := s.House
	route(s, manager, http.MethodPost, base+"/land/read", "read-land", "Read a file of land; nothing is written", func(ctx context.Context, in *fileInput) (*body[[]exchange.Feature], error) {
		leave, err := h.Farm.Reading(ctx)
		if err != nil {
			return nil, err
		}
		defer leave()
		features, err := exchange.Read(ctx, in.Name, in.RawBody)
		if err == nil {
			err = h.Ground.PlaceFile(ctx, actor(ctx), features, in.Swap)
		}
		return answer(features, err)
	}, rawJSON, room(exchange.MostFileBytes+1))
	route(s, manager, http.MethodGet, base+"/land/square", "square-of-land", "A square of a size, for ground of which only the size is known", func(ctx context.Context, in *squarePath) (*body[land.Shape], error) {
		return answer(ground.Square(land.Position{in.Longitude, in.Latitude}, in.AreaHa))
	})
	route(s, manager, http.MethodPost, base+"/land/bring", "bring-land", "Bring things of a file in: all or none", func(ctx context.Context, in *in[ground.BringInput]) (*body[ground.Brought], error) {
		return answer(h.Ground.Bring(ctx, actor(ctx), in.Body))
	}, room(exchange.MostFileBytes))
	route(s, viewer, http.MethodGet, base+"/land/export/{format}", "export-land", "Take the land along as a file", func(ctx context.Context, in *exportPath) (*file, error) {
		raw, kind, name, err := h.Ground.Export(ctx, actor(ctx), in.Format)
		if err != nil {
			return nil, err
		}
		return &file{kind, `attachment; filename="` + name + `"`, raw}, nil
	}, desk)
}

func (s *Server) groundRoutes(base string) {
	h := s.House
	route(s, viewer, http.MethodGet, base+"/land/ground", "ground", "What there is to draw on", func(ctx context.Context, _ *FarmPath) (*body[ground.GroundView], error) {
		return answer(h.Ground.Ground(ctx, actor(ctx)))
	})
	route(s, manager, http.MethodPost, base+"/land/pictures", "add-picture", "Lay the farm's own picture on the map", func(ctx context.Context, in *in[ground.NewPicture]) (*body[ground.GroundView], error) {
		return answer(h.Ground.AddPicture(ctx, actor(ctx), in.Body))
	}, room(2*ground.MostPictureBytes))
	route(s, viewer, http.MethodGet, base+"/land/pictures/{id}", "picture", "The farm's own picture", func(ctx context.Context, in *ItemPath) (*file, error) {
		raw, kind, err := h.Ground.GroundPicture(ctx, actor(ctx), in.ID)
		if err != nil {
			return nil, err
		}
		return &file{kind, "inline", raw}, nil
	})
	route(s, manager, http.MethodPost, base+"/land/heights", "add-heights", "Draw contours from heights", func(ctx context.Context, in *in[ground.NewHeights]) (*body[ground.GroundView], error) {
		return answer(h.Ground.AddHeights(ctx, actor(ctx), in.Body))
	}, room(2*exchange.MostFileBytes))
	route(s, manager, http.MethodDelete, base+"/land/ground/{id}", "remove-ground", "Take a picture or contours away", func(ctx context.Context, in *ItemPath) (*body[ground.GroundView], error) {
		return answer(h.Ground.RemoveGround(ctx, actor(ctx), in.ID))
	})
	route(s, viewer, http.MethodGet, base+"/land/tiles/{z}/{x}/{y}", "tile", "A tile of the farm's map, from the address it gave", func(ctx context.Context, in *tilePath) (*tileFile, error) {
		kind, raw, err := h.Ground.Tile(ctx, actor(ctx), in.Z, in.X, in.Y)
		return &tileFile{kind, "private, max-age=604800", raw}, err
	}, live)
	route(s, manager, http.MethodPut, base+"/land/tiles", "set-tiles", "Give or take away an address of map tiles", func(ctx context.Context, in *setting[TileInput]) (*body[ground.GroundView], error) {
		return answer(h.Ground.SetTiles(ctx, actor(ctx), in.Version, in.Body.Address))
	})
}
