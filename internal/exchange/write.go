package exchange

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"encoding/xml"
	"fmt"
	"strconv"
	"strings"

	"github.com/twpayne/go-gpx"

	"fjell/core/land"
	"fjell/core/quantity"
)

// Ground is a field, paddock or exclusion to be written.
type Ground struct {
	Kind   string // field, paddock or exclusion
	Name   string
	Field  string
	Shape  land.Shape
	AreaHa float64
	FenceM float64
	Facts  []Fact
}

// Fact is one more column about a paddock, in the farm's words.
type Fact struct{ Name, Value string }

// Line is a fence or a lane to be written.
type Line struct {
	Kind string
	Name string
	At   []land.Position
}

// Spot is a gate, a water point or a corner to walk to.
type Spot struct {
	Kind string
	Name string
	At   land.Position
}

// Land is what a farm takes with it.
type Land struct {
	Farm    string
	Grounds []Ground
	Lines   []Line
	Spots   []Spot
}

// Format is a kind of file that Fjell writes.
type Format struct {
	ContentType string
	Ending      string
	write       func(Land) ([]byte, error)
}

// Formats that land is written in, by name.
var Formats = map[string]Format{
	"geojson":   {"application/geo+json", "geojson", writeGeoJSON},
	"kml":       {"application/vnd.google-earth.kml+xml", "kml", writeKML},
	"gpx":       {"application/gpx+xml", "gpx", writeGPX},
	"shapefile": {"application/zip", "zip", writeShapes},
	"csv":       {"text/csv; charset=utf-8", "csv", writeAreas},
}

// Write writes land in a format.
func Write(format string, l Land) ([]byte, error) {
	f, ok := Formats[format]
	if !ok {
		return nil, quantity.Refuse("format", format, "Fjell writes geojson, kml, gpx, shapefile and csv")
	}
	return f.write(l)
}

func writeGeoJSON(l Land) ([]byte, error) {
	type geometry struct {
		Type        string `json:"type"`
		Coordinates any    `json:"coordinates"`
	}
	type feature struct {
		Type       string         `json:"type"`
		Properties map[string]any `json:"properties"`
		Geometry   geometry       `json:"geometry"`
	}
	features := []feature{}
	for _, g := range l.Grounds {
		properties := map[string]any{"kind": g.Kind, "name": g.Name, "field": g.Field, "area_ha": g.AreaHa, "fence_m": g.FenceM}
		for _, f := range g.Facts {
			properties[f.Name] = f.Value
		}
		features = append(features, feature{"Feature", properties, geometry{"MultiPolygon", righthand(g.Shape)}})
	}
	for _, x := range l.Lines {
		features = append(features, feature{"Feature", map[string]any{"kind": x.Kind, "name": x.Name}, geometry{"LineString", x.At}})
	}
	for _, x := range l.Spots {
		features = append(features, feature{"Feature", map[string]any{"kind": x.Kind, "name": x.Name}, geometry{"Point", x.At}})
	}
	return json.Marshal(map[string]any{"type": "FeatureCollection", "features": features})
}

// righthand turns rings as RFC 7946 wants them: outer ones counter-clockwise, holes clockwise.
func righthand(s land.Shape) land.Shape {
	out := make(land.Shape, len(s))
	for i, poly := range s {
		for k, ring := range poly {
			out[i] = append(out[i], turnedRing(ring, k == 0))
		}
	}
	return out
}

func turnedRing(ring []land.Position, counterClockwise bool) []land.Position {
	sum := 0.0
	for i := 1; i < len(ring); i++ {
		sum += (ring[i-1][0]-ring[0][0])*(ring[i][1]-ring[0][1]) - (ring[i][0]-ring[0][0])*(ring[i-1][1]-ring[0][1])
	}
	if (sum > 0) == counterClockwise {
		return ring
	}
	out := make([]land.Position, len(ring))
	for i, p := range ring {
		out[len(ring)-1-i] = p
	}
	return out
}

type kmlData struct {
	Name  string `xml:"name,attr"`
	Value string `xml:"value"`
}

type kmlRing struct {
	Coordinates string `xml:"LinearRing>coordinates"`
}

type kmlPolygon struct {
	Outer kmlRing   `xml:"outerBoundaryIs"`
	Inner []kmlRing `xml:"innerBoundaryIs"`
}

type kmlPlacemark struct {
	XMLName     xml.Name    `xml:"Placemark"`
	Name        string      `xml:"name"`
	Description string      `xml:"description,omitempty"`
	Data        *kmlExtra   `xml:"ExtendedData"`
	Ground      *kmlGround  `xml:"MultiGeometry"`
	Line        *kmlThrough `xml:"LineString"`
	Point       *kmlThrough `xml:"Point"`
}

// Parts are pointers: an empty <Point/> would be read as the place 0, 0.
type kmlExtra struct {
	Data []kmlData
}

type kmlGround struct {
	Polygons []kmlPolygon `xml:"Polygon"`
}

type kmlThrough struct {
	Coordinates string `xml:"coordinates"`
}

type kmlFolder struct {
	Name       string         `xml:"name"`
	Placemarks []kmlPlacemark `xml:",any"`
}

func writeKML(l Land) ([]byte, error) {
	text := func(at []land.Position) string {
		var b []byte
		for i, p := range at {
			if i > 0 {
				b = append(b, ' ')
			}
			b = strconv.AppendFloat(b, p[0], 'f', -1, 64)
			b = append(b, ',')
			b = strconv.AppendFloat(b, p[1], 'f', -1, 64)
		}
		return string(b)
	}
	folders := []kmlFolder{{Name: "Fields"}, {Name: "Paddocks"}, {Name: "Exclusions"}, {Name: "Fences and lanes"}, {Name: "Gates, water, corners"}}
	of := map[string]int{"field": 0, "paddock": 1, "exclusion": 2}
	for _, g := range l.Grounds {
		p := kmlPlacemark{Name: g.Name, Description: fmt.Sprintf("%.2f ha, %.0f m of fence", g.AreaHa, g.FenceM)}
		if len(g.Facts) > 0 {
			p.Data = &kmlExtra{}
			for _, f := range g.Facts {
				p.Data.Data = append(p.Data.Data, kmlData(f))
			}
		}
		p.Ground = &kmlGround{}
		for _, poly := range righthand(g.Shape) {
			k := kmlPolygon{Outer: kmlRing{text(poly[0])}}
			for _, hole := range poly[1:] {
				k.Inner = append(k.Inner, kmlRing{text(hole)})
			}
			p.Ground.Polygons = append(p.Ground.Polygons, k)
		}
		folders[of[g.Kind]].Placemarks = append(folders[of[g.Kind]].Placemarks, p)
	}
	for _, x := range l.Lines {
		folders[3].Placemarks = append(folders[3].Placemarks, kmlPlacemark{Name: x.Name, Description: x.Kind, Line: &kmlThrough{text(x.At)}})
	}
	for _, x := range l.Spots {
		folders[4].Placemarks = append(folders[4].Placemarks, kmlPlacemark{Name: x.Name, Description: x.Kind, Point: &kmlThrough{text([]land.Position{x.At})}})
	}
	filled := folders[:0]
	for _, f := range folders {
		if len(f.Placemarks) > 0 {
			filled = append(filled, f)
		}
	}
	type document struct {
		Name    string      `xml:"name"`
		Folders []kmlFolder `xml:"Folder"`
	}
	doc := struct {
		XMLName  xml.Name `xml:"kml"`
		Space    string   `xml:"xmlns,attr"`
		Document document `xml:"Document"`
	}{Space: kmlNamespace, Document: document{l.Farm, filled}}
	raw, err := xml.MarshalIndent(doc, "", " ")
	return append([]byte(xml.Header), raw...), err
}

// writeGPX writes what a phone can lead one to: fences as tracks, corners, gates and water as waypoints.
func writeGPX(l Land) ([]byte, error) {
	doc := gpx.GPX{Version: "1.1", Creator: "Fjell", Metadata: &gpx.MetadataType{Name: l.Farm}}
	track := func(name, kind string, lines ...[]land.Position) {
		t := &gpx.TrkType{Name: name, Type: kind}
		for _, at := range lines {
			s := &gpx.TrkSegType{}
			for _, p := range at {
				s.TrkPt = append(s.TrkPt, &gpx.WptType{Lat: p[1], Lon: p[0]})
			}
			t.TrkSeg = append(t.TrkSeg, s)
		}
		doc.Trk = append(doc.Trk, t)
	}
	for _, g := range l.Grounds {
		var rings [][]land.Position
		for _, poly := range g.Shape {
			rings = append(rings, poly...)
		}
		track(g.Name, g.Kind, rings...)
	}
	for _, x := range l.Lines {
		track(x.Name, x.Kind, x.At)
	}
	for _, x := range l.Spots {
		doc.Wpt = append(doc.Wpt, &gpx.WptType{Lat: x.At[1], Lon: x.At[0], Name: x.Name, Type: x.Kind})
	}
	var buf bytes.Buffer
	buf.WriteString(xml.Header)
	err := doc.WriteIndent(&buf, "", " ")
	return buf.Bytes(), err
}

func writeShapes(l Land) ([]byte, error) {
	columns := []column{{"KIND", false, 0}, {"NAME", false, 0}, {"FIELD", false, 0}, {"AREA_HA", true, 4}, {"FENCE_M", true, 1}}
	byKind := map[string]*shapeLayer{}
	layers := []shapeLayer{{name: "fields", kind: shpPolygon, columns: columns}, {name: "paddocks", kind: shpPolygon, columns: columns},
		{name: "exclusions", kind: shpPolygon, columns: columns}, {name: "fences", kind: shpLine, columns: columns[:2]}, {name: "points", kind: shpPoint, columns: columns[:2]}}
	byKind["field"], byKind["paddock"], byKind["exclusion"] = &layers[0], &layers[1], &layers[2]
	for _, g := range l.Grounds {
		var parts [][]land.Position
		for _, poly := range g.Shape {
			for i, ring := range poly {
				parts = append(parts, turnedRing(ring, i > 0)) // a shapefile turns the other way
			}
		}
		layer := byKind[g.Kind]
		layer.records = append(layer.records, shapeRecord{parts, []string{g.Kind, g.Name, g.Field, number(g.AreaHa), number(g.FenceM)}})
	}
	for _, x := range l.Lines {
		layers[3].records = append(layers[3].records, shapeRecord{[][]land.Position{x.At}, []string{x.Kind, x.Name}})
	}
	for _, x := range l.Spots {
		layers[4].records = append(layers[4].records, shapeRecord{[][]land.Position{{x.At}}, []string{x.Kind, x.Name}})
	}
	var filled []shapeLayer
	for _, layer := range layers {
		if len(layer.records) > 0 {
			filled = append(filled, layer)
		}
	}
	return writeShapefile(filled)
}

func number(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }

// writeAreas writes the table of areas and facts.
func writeAreas(l Land) ([]byte, error) {
	var buf bytes.Buffer
	w := csv.NewWriter(&buf)
	heads := []string{"kind", "name", "field", "area_ha", "fence_m"}
	for _, g := range l.Grounds {
		if g.Kind == "paddock" {
			for _, f := range g.Facts {
				heads = append(heads, f.Name)
			}
			break
		}
	}
	if err := w.Write(heads); err != nil {
		return nil, err
	}
	for _, g := range l.Grounds {
		row := []string{g.Kind, Cell(g.Name), Cell(g.Field), strconv.FormatFloat(g.AreaHa, 'f', 4, 64), strconv.FormatFloat(g.FenceM, 'f', 1, 64)}
		for _, f := range g.Facts {
			row = append(row, Cell(f.Value))
		}
		for len(row) < len(heads) {
			row = append(row, "")
		}
		if err := w.Write(row); err != nil {
			return nil, err
		}
	}
	w.Flush()
	return buf.Bytes(), w.Error()
}

// apart are what some spreadsheet takes for the end of a cell or a row, whatever stands about it.
var apart = strings.NewReplacer("\r\n", " ", "\r", " ", "\n", " ", "\t", " ", "\v", " ", "\f", " ", ";", ",")

// Cell keeps a spreadsheet from taking a name for a formula, and from finding one behind a break in it.
func Cell(s string) string {
	s = apart.Replace(s)
	if bare := strings.TrimLeft(s, " \u00a0"); bare != "" && strings.ContainsRune("=+-@", rune(bare[0])) {
		return "'" + s
	}
	return s
}
