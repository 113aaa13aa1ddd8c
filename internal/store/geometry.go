package store

import (
	"database/sql/driver"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"time"

	"github.com/peterstace/simplefeatures/geom"

	"fjell/core/land"
)

const wgs84 = 4326

// Geometry is a shape in a spatial column: MariaDB's own form, a little-endian SRID before well-known binary.
type Geometry struct{ land.Shape }

// GormDataType names the column type.
func (Geometry) GormDataType() string { return "multipolygon" }

// Value writes the shape as SRID and multipolygon.
func (g Geometry) Value() (driver.Value, error) {
	polys := make([]geom.Polygon, len(g.Shape))
	for i, poly := range g.Shape {
		rings := make([]geom.LineString, len(poly))
		for k, ring := range poly {
			flat := make([]float64, 0, 2*len(ring))
			for _, pos := range ring {
				flat = append(flat, pos[0], pos[1])
			}
			rings[k] = geom.NewLineString(geom.NewSequence(flat, geom.DimXY))
		}
		polys[i] = geom.NewPolygon(rings)
	}
	out := binary.LittleEndian.AppendUint32(nil, wgs84)
	return append(out, geom.NewMultiPolygon(polys).AsBinary()...), nil
}

// Scan reads what Value wrote.
func (g *Geometry) Scan(src any) error {
	raw, ok := src.([]byte)
	if !ok || len(raw) < 4 {
		return fmt.Errorf("geometry column holds %T", src)
	}
	any, err := geom.UnmarshalWKB(raw[4:], geom.NoValidate{})
	if err != nil {
		return fmt.Errorf("geometry column: %w", err)
	}
	multi, ok := any.AsMultiPolygon()
	if !ok {
		return fmt.Errorf("geometry column holds a %s", any.Type())
	}
	g.Shape = nil
	for i := 0; i < multi.NumPolygons(); i++ {
		p := multi.PolygonN(i)
		var poly land.Polygon
		for k := -1; k < p.NumInteriorRings(); k++ {
			ls := p.ExteriorRing()
			if k >= 0 {
				ls = p.InteriorRingN(k)
			}
			seq := ls.Coordinates()
			ring := make([]land.Position, seq.Length())
			for n := range ring {
				xy := seq.GetXY(n)
				ring[n] = land.Position{xy.X, xy.Y}
			}
			poly = append(poly, ring)
		}
		g.Shape = append(g.Shape, poly)
	}
	return nil
}

// Path is a place or a line in a spatial column.
type Path struct{ At []land.Position }

// GormDataType names the column type.
func (Path) GormDataType() string { return "geometry" }

// Value writes one position as a point, more as a line.
func (p Path) Value() (driver.Value, error) {
	flat := make([]float64, 0, 2*len(p.At))
	for _, pos := range p.At {
		flat = append(flat, pos[0], pos[1])
	}
	out := binary.LittleEndian.AppendUint32(nil, wgs84)
	if len(p.At) == 1 {
		return append(out, geom.NewPoint(geom.Coordinates{XY: geom.XY{X: flat[0], Y: flat[1]}, Type: geom.DimXY}).AsBinary()...), nil
	}
	return append(out, geom.NewLineString(geom.NewSequence(flat, geom.DimXY)).AsBinary()...), nil
}

// Scan reads what Value wrote.
func (p *Path) Scan(src any) error {
	raw, ok := src.([]byte)
	if !ok || len(raw) < 4 {
		return fmt.Errorf("geometry column holds %T", src)
	}
	any, err := geom.UnmarshalWKB(raw[4:], geom.NoValidate{})
	if err != nil {
		return fmt.Errorf("geometry column: %w", err)
	}
	p.At = nil
	if pt, ok := any.AsPoint(); ok {
		if xy, ok := pt.XY(); ok {
			p.At = []land.Position{{xy.X, xy.Y}}
		}
		return nil
	}
	line, ok := any.AsLineString()
	if !ok {
		return fmt.Errorf("geometry column holds a %s", any.Type())
	}
	seq := line.Coordinates()
	for i := 0; i < seq.Length(); i++ {
		xy := seq.GetXY(i)
		p.At = append(p.At, land.Position{xy.X, xy.Y})
	}
	return nil
}

// Day is a calendar day at the farm, YYYY-MM-DD.
type Day string

// DayOf is the calendar day of a moment in a time zone.
func DayOf(t time.Time, loc *time.Location) Day { return Day(t.In(loc).Format(time.DateOnly)) }

// Time is midnight of the day in a time zone.
func (d Day) Time(loc *time.Location) (time.Time, error) {
	return time.ParseInLocation(time.DateOnly, string(d), loc)
}

// Value writes the day.
func (d Day) Value() (driver.Value, error) { return string(d), nil }

// Scan reads a DATE column.
func (d *Day) Scan(src any) error {
	switch v := src.(type) {
	case time.Time:
		*d = Day(v.Format(time.DateOnly))
	case []byte:
		*d = Day(v)
	default:
		return fmt.Errorf("date column holds %T", src)
	}
	return nil
}

// JSON is a value kept in a JSON column.
type JSON[T any] struct{ V T }

// GormDataType names the column type.
func (JSON[T]) GormDataType() string { return "json" }

// Value writes the value as JSON.
func (j JSON[T]) Value() (driver.Value, error) {
	raw, err := json.Marshal(j.V)
	return string(raw), err
}

// Scan reads a JSON column.
func (j *JSON[T]) Scan(src any) error {
	switch v := src.(type) {
	case []byte:
		return json.Unmarshal(v, &j.V)
	case string:
		return json.Unmarshal([]byte(v), &j.V)
	}
	return fmt.Errorf("json column holds %T", src)
}
