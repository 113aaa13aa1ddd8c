package httpapi

import (
	"context"
	"net/http"

	"fjell/internal/exchange"
	"fjell/internal/farm"
	"fjell/internal/standin"
)

type fileInput struct {
	FarmPath
	Name    string `query:"name" maxLength:"200" doc:"name of the file; its ending says what it is"`
	RawBody []byte `contentType:"application/octet-stream"`
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
	Paddocks  []farm.PaddockChange `json:"paddocks" nullable:"false"`
	Confirmed bool                 `json:"confirmed,omitempty"`
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

// TileInput is the address of map tiles.
type TileInput struct {
	Address string `json:"address"`
}

func (s *Server) landRoutes() {
	f := s.Farm
	const base = "/api/farms/{farm}"
	route(s, viewer, http.MethodGet, base+"/land", "land", "The farm's map", func(ctx context.Context, _ *FarmPath) (*body[farm.LandView], error) {
		return answer(f.Land(ctx, actor(ctx)))
	})
	route(s, manager, http.MethodPost, base+"/land/undo", "undo-land", "Take the latest edit of the land back", func(ctx context.Context, _ *FarmPath) (*body[farm.LandView], error) {
		return answer(f.Undo(ctx, actor(ctx)))
	}, keyed)
	route(s, manager, http.MethodPost, base+"/land/redo", "redo-land", "Do the edit again that was undone last", func(ctx context.Context, _ *FarmPath) (*body[farm.LandView], error) {
		return answer(f.Redo(ctx, actor(ctx)))
	}, keyed)
	s.fieldRoutes(base)
	s.layoutRoutes(base)
	s.fenceRoutes(base)
	s.fileRoutes(base)
	s.groundRoutes(base)
}

func (s *Server) fieldRoutes(base string) {
	f := s.Farm
	route(s, manager, http.MethodPost, base+"/fields", "create-field", "Draw a field", func(ctx context.Context, in *in[farm.NewField]) (*body[farm.FieldView], error) {
		return answer(f.CreateField(ctx, actor(ctx), in.Body))
	}, room(landBody))
	route(s, manager, http.MethodPut, base+"/fields/{id}", "rename-field", "Rename a field", func(ctx context.Context, in *change[Named]) (*body[farm.FieldView], error) {
		return answer(f.RenameField(ctx, actor(ctx), in.ID, in.Version, in.Body.Name))
	})
	route(s, manager, http.MethodDelete, base+"/fields/{id}", "remove-field", "Take a field off the map; its records stay", func(ctx context.Context, in *ItemPath) (*empty, error) {
		return &empty{}, f.RemoveField(ctx, actor(ctx), in.ID)
	})
	route(s, manager, http.MethodPost, base+"/fields/{id}/exclusions", "exclude", "Take ground out of a field", func(ctx context.Context, in *inItem[farm.NewExclusion]) (*body[farm.FieldView], error) {
		return answer(f.Exclude(ctx, actor(ctx), in.ID, in.Body))
	}, room(landBody))
	route(s, manager, http.MethodDelete, base+"/fields/{id}/exclusions/{part}", "remove-exclusion", "Give excluded ground back to the paddocks", func(ctx context.Context, in *PartPath) (*body[farm.FieldView], error) {
		return answer(f.RemoveExclusion(ctx, actor(ctx), in.ID, in.Part))
	})
	route(s, manager, http.MethodPost, base+"/fields/{id}/zones", "add-zone", "Mark ground that grows more or less", func(ctx context.Context, in *inItem[farm.NewZone]) (*body[farm.FieldView], error) {
		return answer(f.AddZone(ctx, actor(ctx), in.ID, in.Body))
	}, room(landBody))
	route(s, manager, http.MethodDelete, base+"/fields/{id}/zones/{part}", "remove-zone", "Take a zone off the map", func(ctx context.Context, in *PartPath) (*body[farm.FieldView], error) {
		return answer(f.RemoveZone(ctx, actor(ctx), in.ID, in.Part))
	})
	route(s, manager, http.MethodPut, base+"/paddocks/{id}", "update-paddock", "Change a paddock's name and facts", func(ctx context.Context, in *change[farm.PaddockInput]) (*body[farm.PaddockView], error) {
		return answer(f.UpdatePaddock(ctx, actor(ctx), in.ID, in.Version, in.Body))
	})
	route(s, manager, http.MethodPut, base+"/paddocks", "update-paddocks", "Change the facts of many paddocks: all or none", func(ctx context.Context, in *in[ManyPaddocks]) (*body[farm.LandView], error) {
		return answer(f.UpdatePaddocks(ctx, actor(ctx), in.Body.Paddocks, in.Body.Confirmed))
	}, room(landBody))
}

func (s *Server) layoutRoutes(base string) {
	f := s.Farm
	route(s, viewer, http.MethodPost, base+"/fields/{id}/divide", "divide", "Look at a division; nothing is written", func(ctx context.Context, in *inItem[farm.DivideInput]) (*body[farm.DivisionView], error) {
		return answer(f.Divide(ctx, actor(ctx), in.ID, in.Body))
	})
	route(s, viewer, http.MethodPost, base+"/fields/{id}/least-fence", "least-fence", "The direction with least new fence", func(ctx context.Context, in *inItem[farm.DivideInput]) (*body[farm.LeastFenceView], error) {
		return answer(f.LeastFence(ctx, actor(ctx), in.ID, in.Body))
	})
	route(s, viewer, http.MethodGet, base+"/fields/{id}/layouts", "layouts", "The ways a field is divided, side by side", func(ctx context.Context, in *compareLayouts) (*body[[]farm.LayoutView], error) {
		return answer(f.Layouts(ctx, actor(ctx), in.ID, in.Mob, in.Stay, in.Rest))
	})
	route(s, manager, http.MethodPost, base+"/fields/{id}/layouts", "accept-division", "Keep a division", func(ctx context.Context, in *inItem[farm.AcceptDivision]) (*body[farm.FieldView], error) {
		return answer(f.AcceptDivision(ctx, actor(ctx), in.ID, in.Body))
	}, room(landBody))
	route(s, manager, http.MethodPut, base+"/fields/{id}/layouts/{layout}", "rename-layout", "Rename a layout", func(ctx context.Context, in *inLayout[Named]) (*body[farm.FieldView], error) {
		return answer(f.RenameLayout(ctx, actor(ctx), in.ID, in.Layout, in.Version, in.Body.Name))
	})
	route(s, manager, http.MethodPost, base+"/fields/{id}/layouts/{layout}/use", "use-layout", "Say when a kept layout holds", func(ctx context.Context, in *inLayout[farm.UseLayout]) (*body[farm.FieldView], error) {
		return answer(f.UseLayout(ctx, actor(ctx), in.ID, in.Layout, in.Version, in.Body))
	})
	route(s, manager, http.MethodDelete, base+"/fields/{id}/layouts/{layout}", "remove-layout", "Take a layout off the list; its records stay", func(ctx context.Context, in *layoutChange) (*body[farm.FieldView], error) {
		return answer(f.RemoveLayout(ctx, actor(ctx), in.ID, in.Layout, in.Version))
	})
}

func (s *Server) fenceRoutes(base string) {
	f := s.Farm
	route(s, manager, http.MethodPost, base+"/land/corner", "move-corner", "Move, put or take out a corner of the fences", func(ctx context.Context, in *in[farm.CornerInput]) (*body[farm.LandView], error) {
		return answer(f.MoveCorner(ctx, actor(ctx), in.Body))
	})
	route(s, manager, http.MethodPost, base+"/land/split", "split-paddock", "Cut a paddock along a line", func(ctx context.Context, in *in[farm.SplitInput]) (*body[farm.LandView], error) {
		return answer(f.Split(ctx, actor(ctx), in.Body))
	}, room(landBody))
	route(s, manager, http.MethodPost, base+"/land/merge", "merge-paddocks", "Join two neighbours", func(ctx context.Context, in *in[farm.MergeInput]) (*body[farm.LandView], error) {
		return answer(f.Merge(ctx, actor(ctx), in.Body))
	})
	route(s, manager, http.MethodPost, base+"/land/marks", "add-mark", "Put a gate, water, a fence or a lane on the map", func(ctx context.Context, in *in[farm.NewMark]) (*body[farm.LandView], error) {
		return answer(f.AddMark(ctx, actor(ctx), in.Body))
	})
	route(s, manager, http.MethodDelete, base+"/land/marks/{id}", "remove-mark", "Take a thing off the map", func(ctx context.Context, in *ItemPath) (*body[farm.LandView], error) {
		return answer(f.RemoveMark(ctx, actor(ctx), in.ID))
	})
	route(s, viewer, http.MethodPost, base+"/land/measure", "measure-line", "Measure a distance; nothing is written", func(ctx context.Context, in *in[farm.MeasureLine]) (*body[farm.MeasuredLine], error) {
		return answer(f.MeasureDistance(ctx, actor(ctx), in.Body))
	})
	route(s, viewer, http.MethodPost, base+"/land/track", "track", "The boundary a walk comes to; nothing is written", func(ctx context.Context, in *in[farm.TrackInput]) (*body[farm.TrackView], error) {
		return answer(f.Track(ctx, actor(ctx), in.Body))
	}, room(8<<20))
	route(s, viewer, http.MethodGet, base+"/land/simulated-walk", "simulated-walk", "A walk to try without a receiver; in the demo only", func(ctx context.Context, _ *FarmPath) (*body[[]standin.Fix], error) {
		return answer(f.SimulatedWalk(ctx, actor(ctx)))
	})
}

func (s *Server) fileRoutes(base string) {
	f := s.Farm
	route(s, manager, http.MethodPost, base+"/land/read", "read-land", "Read a file of land; nothing is written", func(ctx context.Context, in *fileInput) (*body[[]exchange.Feature], error) {
		leave, err := f.Reading(ctx)
		if err != nil {
			return nil, err
		}
		defer leave()
		return answer(exchange.Read(in.Name, in.RawBody))
	}, rawJSON, room(exchange.MostFileBytes+1))
	route(s, manager, http.MethodPost, base+"/land/bring", "bring-land", "Bring things of a file in: all or none", func(ctx context.Context, in *in[farm.BringInput]) (*body[farm.Brought], error) {
		return answer(f.Bring(ctx, actor(ctx), in.Body))
	}, room(exchange.MostFileBytes))
	route(s, viewer, http.MethodGet, base+"/land/export/{format}", "export-land", "Take the land along as a file", func(ctx context.Context, in *exportPath) (*file, error) {
		raw, kind, name, err := f.Export(ctx, actor(ctx), in.Format)
		if err != nil {
			return nil, err
		}
		return &file{kind, `attachment; filename="` + name + `"`, raw}, nil
	})
}

func (s *Server) groundRoutes(base string) {
	f := s.Farm
	route(s, viewer, http.MethodGet, base+"/land/ground", "ground", "What there is to draw on", func(ctx context.Context, _ *FarmPath) (*body[farm.GroundView], error) {
		return answer(f.Ground(ctx, actor(ctx)))
	})
	route(s, manager, http.MethodPost, base+"/land/pictures", "add-picture", "Lay the farm's own picture on the map", func(ctx context.Context, in *in[farm.NewPicture]) (*body[farm.GroundView], error) {
		return answer(f.AddPicture(ctx, actor(ctx), in.Body))
	}, room(2*farm.MostPictureBytes))
	route(s, viewer, http.MethodGet, base+"/land/pictures/{id}", "picture", "The farm's own picture", func(ctx context.Context, in *ItemPath) (*file, error) {
		raw, kind, err := f.Picture(ctx, actor(ctx), in.ID)
		if err != nil {
			return nil, err
		}
		return &file{kind, "inline", raw}, nil
	})
	route(s, manager, http.MethodPost, base+"/land/heights", "add-heights", "Draw contours from heights", func(ctx context.Context, in *in[farm.NewHeights]) (*body[farm.GroundView], error) {
		return answer(f.AddHeights(ctx, actor(ctx), in.Body))
	}, room(2*exchange.MostFileBytes))
	route(s, manager, http.MethodDelete, base+"/land/ground/{id}", "remove-ground", "Take a picture or contours away", func(ctx context.Context, in *ItemPath) (*body[farm.GroundView], error) {
		return answer(f.RemoveGround(ctx, actor(ctx), in.ID))
	})
	route(s, viewer, http.MethodGet, base+"/land/tiles/{z}/{x}/{y}", "tile", "A tile of the farm's map, from the address it gave", func(ctx context.Context, in *tilePath) (*tileFile, error) {
		kind, raw, err := f.Tile(ctx, actor(ctx), in.Z, in.X, in.Y)
		return &tileFile{kind, "private, max-age=604800", raw}, err
	}, live)
	route(s, manager, http.MethodPut, base+"/land/tiles", "set-tiles", "Give or take away an address of map tiles", func(ctx context.Context, in *setting[TileInput]) (*body[farm.GroundView], error) {
		return answer(f.SetTiles(ctx, actor(ctx), in.Version, in.Body.Address))
	})
}
