// Package exchange reads and writes the files farms bring and take.
package exchange

import (
	"context"
	"fmt"
	"math"
	"runtime"
	"strings"
	"sync"
	"unicode/utf8"

	"fjell/core/land"
	"fjell/core/quantity"
)

// Limits of a file that is read.
const (
	MostFileBytes = 20 << 20
	MostFeatures  = 10000
	MostPositions = 300000 // corners of all features together
)

// Feature is one thing found in a file: ground, a line or a place, with what is wrong with it, if anything. A line
// that comes back to its start has a shape too: it may be the boundary somebody walked.
type Feature struct {
	Name    string          `json:"name"`
	Shape   land.Shape      `json:"shape" nullable:"false"`
	Line    []land.Position `json:"line" nullable:"false"`
	Point   *land.Position  `json:"point" nullable:"true"`
	AreaHa  float64         `json:"area_ha"`
	SquareM float64         `json:"square_m"`
	LengthM float64         `json:"length_m"`
	Closed  *Closing        `json:"closed,omitempty"`
	Problem string          `json:"problem"`
	FarKm   float64         `json:"far_km" doc:"how far from the farm it lies, where that is far"`
	Swapped bool            `json:"swapped" doc:"it would lie near if latitude and longitude changed places"`
	Within  *int            `json:"within" nullable:"true" doc:"the piece of ground of this file that it lies in, counted from 0"`
}

// Closing tells what was done to make a boundary of a walked line.
type Closing struct {
	GapM   float64 `json:"gap_m"`
	Spikes int     `json:"spikes"`
}

// found gathers features and holds them to the limits.
type found struct {
	ctx       context.Context
	features  []Feature
	positions int
}

func (f *found) add(x Feature) error {
	if err := f.ctx.Err(); err != nil {
		return err
	}
	if len(f.features) == MostFeatures {
		return quantity.Refuse("file", nil, "a file brings at most %d things", MostFeatures)
	}
	n := len(x.Line)
	for _, poly := range x.Shape {
		for _, ring := range poly {
			n += len(ring)
		}
	}
	if f.positions += n; f.positions > MostPositions {
		return quantity.Refuse("file", nil, "the file has more than %d corners: simplify it or bring it in parts", MostPositions)
	}
	f.features = append(f.features, x)
	return nil
}

// finish names, measures and checks what was found.
func (f *found) finish() ([]Feature, error) {
	if len(f.features) == 0 {
		return nil, quantity.Refuse("file", nil, "there is no ground in this file, and no lines or places")
	}
	// Each is measured by itself, so all cores measure.
	var group sync.WaitGroup
	for core := range runtime.GOMAXPROCS(0) {
		group.Go(func() {
			for i := core; i < len(f.features) && f.ctx.Err() == nil; i += runtime.GOMAXPROCS(0) {
				f.features[i].finish(i)
			}
		})
	}
	group.Wait()
	return f.features, f.ctx.Err()
}

// finish names, measures and checks the i-th thing of a file.
func (x *Feature) finish(i int) {
	x.Name = cleanName(x.Name)
	if x.Shape == nil {
		x.Shape = land.Shape{}
	}
	if x.Line == nil {
		x.Line = []land.Position{}
	}
	switch {
	case len(x.Shape) > 0:
		x.orElse("Field", i)
		x.measure(fmt.Sprintf("feature %d", i+1))
	case x.Point != nil:
		x.orElse("Place", i)
		if !onEarth(*x.Point) {
			x.Problem = fmt.Sprintf("feature %d is off the world", i+1)
			x.Point = nil
		}
	default:
		x.orElse("Line", i)
		x.measureLine(i)
	}
}

func (x *Feature) orElse(kind string, i int) {
	if x.Name == "" {
		x.Name = fmt.Sprintf("%s %d", kind, i+1)
	}
}

func (x *Feature) measure(name string) {
	if err := land.Check(name, x.Shape); err != nil {
		x.Problem = err.Error()
		x.Shape = land.Shape{}
		return
	}
	x.AreaHa = land.NewPlane(x.Shape.Centre()).Project(x.Shape).AreaHa()
	x.SquareM = land.SquareM(x.AreaHa)
}

// closesWithin is how far apart, against its length, a line's ends may lie for it to be a boundary.
const closesWithin = 0.5

func (x *Feature) measureLine(i int) {
	for _, p := range x.Line {
		if !onEarth(p) {
			x.Problem = fmt.Sprintf("line %d leaves the world", i+1)
			x.Line = []land.Position{}
			return
		}
	}
	if len(x.Line) < 2 {
		x.Problem = fmt.Sprintf("line %d has no length", i+1)
		x.Line = []land.Position{}
		return
	}
	plane := land.NewPlane(x.Line[0])
	path := make(land.Path, len(x.Line))
	fixes := make([]land.Fix, len(x.Line))
	for k, p := range x.Line {
		path[k], fixes[k] = plane.Forward(p), land.Fix{At: p}
	}
	x.LengthM = path.Length()
	if track, err := land.FromTrack(fixes); err == nil && track.GapM <= closesWithin*x.LengthM {
		shape := land.Shape{{track.Ring}}
		if land.Check("track", shape) == nil {
			x.Shape, x.Closed = shape, &Closing{track.GapM, track.Spikes}
			x.AreaHa = land.NewPlane(shape.Centre()).Project(shape).AreaHa()
			x.SquareM = land.SquareM(x.AreaHa)
		}
	}
}

func onEarth(p land.Position) bool {
	return !math.IsNaN(p[0]) && !math.IsNaN(p[1]) && math.Abs(p[0]) <= 180 && math.Abs(p[1]) <= 90
}

// mostName is the longest name a thing can have.
const mostName = 80

func cleanName(s string) string {
	s = strings.ToValidUTF8(s, "�")
	s = strings.Join(strings.Fields(s), " ")
	if utf8.RuneCountInString(s) > mostName {
		s = string([]rune(s)[:mostName])
	}
	return s
}

// Read reads a file by its name's ending. The file is refused whole when it cannot be read; a feature that cannot be
// used is returned with its problem, so that the good ones beside it can be taken.
func Read(ctx context.Context, name string, raw []byte) ([]Feature, error) {
	features, err := readFeatures(ctx, name, raw)
	return waited(ctx, features, err)
}

func readFeatures(ctx context.Context, name string, raw []byte) ([]Feature, error) {
	if len(raw) > MostFileBytes {
		return nil, quantity.Refuse("file", nil, "the file is larger than %d MB", MostFileBytes>>20)
	}
	ending := strings.ToLower(name[strings.LastIndex(name, ".")+1:])
	switch ending {
	case "geojson", "json":
		return readGeoJSON(ctx, raw)
	case "kml":
		return readKML(ctx, raw)
	case "kmz":
		return readKMZ(ctx, raw)
	case "gpx":
		return readGPX(ctx, raw)
	case "zip":
		return readShapefile(ctx, raw)
	case "csv", "txt":
		return readCorners(ctx, raw)
	case "shp", "dbf", "shx", "prj":
		return nil, quantity.Refuse("file", ending, "a shapefile is several files: put the .shp, .dbf and .prj into one .zip and bring that")
	}
	return nil, quantity.Refuse("file", ending, "Fjell reads .geojson, .kml, .kmz, .gpx, .csv and a shapefile in a .zip")
}
