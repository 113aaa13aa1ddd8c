package exchange

import (
	"context"
	"encoding/json"
	"strings"

	"fjell/core/land"
	"fjell/core/quantity"
)

type geoObject struct {
	Type        string          `json:"type"`
	CRS         json.RawMessage `json:"crs"`
	Features    []geoObject     `json:"features"`
	Geometry    *geoObject      `json:"geometry"`
	Geometries  []geoObject     `json:"geometries"`
	Properties  map[string]any  `json:"properties"`
	Coordinates json.RawMessage `json:"coordinates"`
}

// readGeoJSON reads a GeoJSON file (RFC 7946, WGS 84). A file that is not GeoJSON or names another projection is
// refused whole.
func readGeoJSON(ctx context.Context, raw []byte) ([]Feature, error) {
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
	out := found{ctx: ctx}
	if err := collect(doc, "", &out, 0); err != nil {
		return nil, err
	}
	return out.finish()
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

func collect(o geoObject, name string, out *found, depth int) error {
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
	case "Point":
		var at land.Position
		if err := positions(o.Coordinates, &at); err != nil {
			return err
		}
		return out.add(Feature{Name: name, Point: &at})
	case "MultiPoint":
		var at []land.Position
		if err := positions(o.Coordinates, &at); err != nil {
			return err
		}
		for i := range at {
			if err := out.add(Feature{Name: name, Point: &at[i]}); err != nil {
				return err
			}
		}
		return nil
	case "LineString":
		var at []land.Position
		if err := positions(o.Coordinates, &at); err != nil {
			return err
		}
		return out.add(Feature{Name: name, Line: at})
	case "MultiLineString":
		var lines [][]land.Position
		if err := positions(o.Coordinates, &lines); err != nil {
			return err
		}
		for _, at := range lines {
			if err := out.add(Feature{Name: name, Line: at}); err != nil {
				return err
			}
		}
		return nil
	default:
		return quantity.Refuse("file", o.Type, "this is not a GeoJSON file: it has no known type")
	}
	return out.add(Feature{Name: name, Shape: polygons})
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
			return text
		}
	}
	return ""
}
