// Package exchange reads and writes the files farms bring and take.
package exchange

import (
	"encoding/json"
	"fmt"
	"strings"

	"fjell/core/land"
	"fjell/core/quantity"
)

// Limits of a file that is read.
const (
	MostFileBytes = 20 << 20
	MostFeatures  = 2000
)

// Feature is one piece of ground found in a file, with what is wrong with it, if anything.
type Feature struct {
	Name    string     `json:"name"`
	Shape   land.Shape `json:"shape" nullable:"false"`
	AreaHa  float64    `json:"area_ha"`
	Problem string     `json:"problem"`
}

type geoObject struct {
	Type        string          `json:"type"`
	CRS         json.RawMessage `json:"crs"`
	Features    []geoObject     `json:"features"`
	Geometry    *geoObject      `json:"geometry"`
	Geometries  []geoObject     `json:"geometries"`
	Properties  map[string]any  `json:"properties"`
	Coordinates json.RawMessage `json:"coordinates"`
}

// ReadGeoJSON reads the polygons of a GeoJSON file (RFC 7946, WGS 84). A file that is not GeoJSON, names another
// projection or holds no ground is refused whole; a feature with a bad boundary is returned with its problem, so that
// the good ones beside it can be taken.
func ReadGeoJSON(raw []byte) ([]Feature, error) {
	if len(raw) > MostFileBytes {
		return nil, quantity.Refuse("file", nil, "the file is larger than %d MB", MostFileBytes>>20)
	}
	var doc geoObject
	if err := json.Unmarshal(raw, &doc); err != nil {
		return nil, quantity.Refuse("file", nil, "this is not a GeoJSON file: %v", err)
	}
	if err := checkCRS(doc.CRS); err != nil {
		return nil, err
	}
	out := []Feature{}
	if err := collect(doc, "", &out, 0); err != nil {
		return nil, err
	}
	if len(out) == 0 {
		return nil, quantity.Refuse("file", nil, "there is no ground in this file: it needs polygons, not points or lines")
	}
	for i := range out {
		if out[i].Name == "" {
			out[i].Name = fmt.Sprintf("Field %d", i+1)
		}
		if err := land.Check(fmt.Sprintf("feature %d", i+1), out[i].Shape); err != nil {
			out[i].Problem = err.Error()
			continue
		}
		out[i].AreaHa = land.NewPlane(out[i].Shape.Centre()).Project(out[i].Shape).AreaHa()
	}
	return out, nil
}

// checkCRS accepts the old "crs" member only where it says WGS 84 in longitude and latitude.
func checkCRS(raw json.RawMessage) error {
	if len(raw) == 0 || string(raw) == "null" {
		return nil
	}
	var crs struct {
		Properties struct {
			Name string `json:"name"`
		} `json:"properties"`
	}
	if err := json.Unmarshal(raw, &crs); err != nil {
		return quantity.Refuse("file", nil, "its projection (crs) cannot be read: save it as WGS 84")
	}
	name := strings.ToUpper(crs.Properties.Name)
	for _, ok := range []string{"CRS84", "EPSG:4326", "EPSG::4326"} {
		if strings.HasSuffix(name, ok) {
			return nil
		}
	}
	return quantity.Refuse("file", crs.Properties.Name, "it is in another projection: save it as WGS 84 (EPSG:4326)")
}

func collect(o geoObject, name string, out *[]Feature, depth int) error {
	if depth > 8 {
		return quantity.Refuse("file", nil, "collections lie too deep in one another")
	}
	if n := named(o.Properties); n != "" {
		name = n
	}
	var polygons []land.Polygon
	switch o.Type {
	case "FeatureCollection":
		for _, f := range o.Features {
			if err := collect(f, "", out, depth+1); err != nil {
				return err
			}
		}
		return nil
	case "Feature":
		if o.Geometry == nil {
			return nil
		}
		return collect(*o.Geometry, name, out, depth+1)
	case "GeometryCollection":
		for _, g := range o.Geometries {
			if err := collect(g, name, out, depth+1); err != nil {
				return err
			}
		}
		return nil
	case "Polygon":
		polygons = make([]land.Polygon, 1)
		if err := positions(o.Coordinates, &polygons[0]); err != nil {
			return err
		}
	case "MultiPolygon":
		if err := positions(o.Coordinates, &polygons); err != nil {
			return err
		}
	case "Point", "MultiPoint", "LineString", "MultiLineString":
		return nil
	default:
		return quantity.Refuse("file", o.Type, "this is not a GeoJSON file: it has no known type")
	}
	if len(*out) == MostFeatures {
		return quantity.Refuse("file", nil, "a file brings at most %d pieces of ground", MostFeatures)
	}
	*out = append(*out, Feature{Name: name, Shape: polygons})
	return nil
}

// positions reads coordinates; heights after longitude and latitude are dropped.
func positions(raw json.RawMessage, into any) error {
	if err := json.Unmarshal(raw, into); err != nil {
		return quantity.Refuse("file", nil, "a boundary's coordinates cannot be read: %v", err)
	}
	return nil
}

func named(properties map[string]any) string {
	for _, key := range []string{"name", "Name", "NAME", "title", "label"} {
		if text, ok := properties[key].(string); ok {
			text = strings.TrimSpace(text)
			if r := []rune(text); len(r) > 80 {
				text = string(r[:80])
			}
			return text
		}
	}
	return ""
}
