package land

import (
	"fmt"
	"math"
	"sort"

	"github.com/peterstace/simplefeatures/geom"

	"fjell/core/quantity"
)

// Polygon is an outer ring and its holes in longitude and latitude; rings are closed (first = last).
type Polygon [][]Position

// Shape is the ground of a field or paddock: one polygon, or several where it lies in pieces.
type Shape []Polygon

// Limits of what a field's boundary may be.
const (
	MostCorners   = 5000
	LeastAreaHa   = 0.001
	MostAreaHa    = 100000
	metresSquared = 10000 // per hectare
)

// Ring is a closed line on the plane without the repeated last point.
type Ring []Point

// Region is ground on the plane: rings with the ground on their left, so outer rings run counter-clockwise and
// holes clockwise.
type Region []Ring

// SignedArea of a ring, m²: positive when it runs counter-clockwise.
func (r Ring) SignedArea() float64 {
	if len(r) == 0 {
		return 0
	}
	// Counting from the first corner keeps the products small and the sum exact to well below a hand's breadth.
	o, sum := r[0], 0.0
	for i := range r {
		a, b := r[i], r[(i+1)%len(r)]
		sum += (a.X-o.X)*(b.Y-o.Y) - (b.X-o.X)*(a.Y-o.Y)
	}
	return sum / 2
}

// Length of a ring, m.
func (r Ring) Length() float64 {
	sum := 0.0
	for i := range r {
		sum += distance(r[i], r[(i+1)%len(r)])
	}
	return sum
}

func distance(a, b Point) float64 { return math.Hypot(a.X-b.X, a.Y-b.Y) }

// AreaHa of a region.
func (g Region) AreaHa() float64 {
	sum := 0.0
	for _, r := range g {
		sum += r.SignedArea()
	}
	return sum / metresSquared
}

// FenceM is the length of all boundaries, holes included.
func (g Region) FenceM() float64 {
	sum := 0.0
	for _, r := range g {
		sum += r.Length()
	}
	return sum
}

// Project puts a shape on a plane, with rings turned so that the ground lies on their left.
func (p Plane) Project(s Shape) Region {
	var out Region
	for _, poly := range s {
		for i, ring := range poly {
			r := make(Ring, 0, len(ring))
			for k, pos := range ring {
				if k == len(ring)-1 && pos == ring[0] {
					break
				}
				if k > 0 && pos == ring[k-1] {
					continue
				}
				r = append(r, p.Forward(pos))
			}
			if (r.SignedArea() > 0) != (i == 0) {
				for a, b := 0, len(r)-1; a < b; a, b = a+1, b-1 {
					r[a], r[b] = r[b], r[a]
				}
			}
			out = append(out, r)
		}
	}
	return out
}

// Unproject returns a region to longitude and latitude, each hole inside the outer ring that holds it.
func (p Plane) Unproject(g Region) Shape {
	var out Shape
	var outers []Ring
	back := func(r Ring) []Position {
		ps := make([]Position, 0, len(r)+1)
		for _, pt := range r {
			ps = append(ps, p.Inverse(pt))
		}
		return append(ps, ps[0])
	}
	for _, r := range g {
		if r.SignedArea() > 0 {
			outers = append(outers, r)
			out = append(out, Polygon{back(r)})
		}
	}
	for _, r := range g {
		if r.SignedArea() > 0 {
			continue
		}
		for i, outer := range outers {
			if outer.holds(r) {
				out[i] = append(out[i], back(r))
				break
			}
		}
	}
	return out
}

// holds tells whether most corners of a hole lie inside the ring; corners may touch it.
func (r Ring) holds(hole Ring) bool {
	in := 0
	for _, pt := range hole {
		if r.contains(pt) {
			in++
		}
	}
	return 2*in > len(hole)
}

func (r Ring) contains(pt Point) bool {
	in := false
	for i := range r {
		a, b := r[i], r[(i+1)%len(r)]
		if (a.Y > pt.Y) != (b.Y > pt.Y) && pt.X < (b.X-a.X)*(pt.Y-a.Y)/(b.Y-a.Y)+a.X {
			in = !in
		}
	}
	return in
}

// Centre is the middle of a shape's bounding box.
func (s Shape) Centre() Position {
	low, high := Position{math.Inf(1), math.Inf(1)}, Position{math.Inf(-1), math.Inf(-1)}
	for _, poly := range s {
		for _, ring := range poly {
			for _, pos := range ring {
				for k := range pos {
					low[k], high[k] = math.Min(low[k], pos[k]), math.Max(high[k], pos[k])
				}
			}
		}
	}
	return Position{(low[0] + high[0]) / 2, (low[1] + high[1]) / 2}
}

// Check refuses a boundary that is not the outline of a piece of ground: open, crossing itself, off the world,
// with fewer than three corners or without area. field names the input in the Problem.
func Check(field string, s Shape) error {
	if len(s) == 0 {
		return quantity.Refuse(field, nil, "there is no ground in this shape")
	}
	corners := 0
	for i, poly := range s {
		if len(poly) == 0 {
			return quantity.Refuse(field, nil, "piece %d has no boundary", i+1)
		}
		for k, ring := range poly {
			name := "the boundary"
			if k > 0 {
				name = fmt.Sprintf("exclusion %d", k)
			}
			corners += len(ring)
			if corners > MostCorners {
				return quantity.Refuse(field, corners, "a field has at most %d corners", MostCorners)
			}
			if err := checkRing(field, name, ring); err != nil {
				return err
			}
		}
	}
	plane := NewPlane(s.Centre())
	region := plane.Project(s)
	for k, ring := range region {
		if at, ok := ring.crossing(); ok {
			pos := plane.Inverse(at)
			return quantity.Refuse(field, nil, "boundary %d crosses itself near %.5f, %.5f: move a corner so that no fence crosses another", k+1, pos[1], pos[0])
		}
	}
	if area := region.AreaHa(); area < LeastAreaHa {
		return quantity.Refuse(field, nil, "this ground has no area worth fencing (less than %s)", quantity.Said{Value: LeastAreaHa, Unit: quantity.Hectare})
	} else if area > MostAreaHa {
		return quantity.Refuse(field, nil, "%.0f ha is more than one field can be (at most %d ha)", area, int(MostAreaHa))
	}
	if _, err := toGeom(region); err != nil {
		return quantity.Refuse(field, nil, "exclusions must lie inside the field, and pieces must not overlap")
	}
	return nil
}

func checkRing(field, name string, ring []Position) error {
	distinct := map[Position]bool{}
	for i, pos := range ring {
		if math.IsNaN(pos[0]) || math.IsNaN(pos[1]) || math.Abs(pos[0]) > worldLimit || math.Abs(pos[1]) > latitudeMax {
			return quantity.Refuse(field, nil, "corner %d of %s (%.6g, %.6g) is off the world: longitude runs to ±180° and latitude to ±90°; "+
				"larger figures are usually metres of another projection, save the file as WGS 84", i+1, name, pos[0], pos[1])
		}
		distinct[pos] = true
	}
	if len(distinct) < 3 {
		return quantity.Refuse(field, len(distinct), "%s needs at least three different corners", name)
	}
	if ring[0] != ring[len(ring)-1] {
		return quantity.Refuse(field, nil, "%s is open: its last corner must be its first", name)
	}
	return nil
}

// crossing finds a place where two fences of a ring cross or lie on one another.
func (r Ring) crossing() (at Point, found bool) {
	n := len(r)
	order := make([]int, n)
	for i := range order {
		order[i] = i
	}
	low := func(i int) float64 { return math.Min(r[i].X, r[(i+1)%n].X) }
	high := func(i int) float64 { return math.Max(r[i].X, r[(i+1)%n].X) }
	sort.Slice(order, func(a, b int) bool { return low(order[a]) < low(order[b]) })
	for oi, i := range order {
		for _, j := range order[oi+1:] {
			if low(j) > high(i) {
				break
			}
			a, b, c, d := r[i], r[(i+1)%n], r[j], r[(j+1)%n]
			if (i+1)%n == j || (j+1)%n == i {
				// Neighbours share a corner; they only clash when one runs back over the other.
				shared, p, q := b, a, d
				if (j+1)%n == i {
					shared, p, q = a, b, c
				}
				if turn(shared, p, q) == 0 && (p.X-shared.X)*(q.X-shared.X)+(p.Y-shared.Y)*(q.Y-shared.Y) > 0 {
					return shared, true
				}
				continue
			}
			if turn(a, b, c)*turn(a, b, d) <= 0 && turn(c, d, a)*turn(c, d, b) <= 0 &&
				math.Max(a.Y, b.Y) >= math.Min(c.Y, d.Y) && math.Max(c.Y, d.Y) >= math.Min(a.Y, b.Y) {
				return c, true
			}
		}
	}
	return Point{}, false
}

func turn(a, b, c Point) float64 {
	v := (b.X-a.X)*(c.Y-a.Y) - (b.Y-a.Y)*(c.X-a.X)
	// A tenth of a square millimetre is a straight line to any fencer.
	if math.Abs(v) < 1e-7 {
		return 0
	}
	return v
}

func toGeom(g Region) (geom.Geometry, error) {
	var polys []geom.Polygon
	var outers []Ring
	coords := map[int][][]float64{}
	flat := func(r Ring) []float64 {
		xy := make([]float64, 0, 2*len(r)+2)
		for _, pt := range append(append(Ring(nil), r...), r[0]) {
			xy = append(xy, pt.X, pt.Y)
		}
		return xy
	}
	for _, r := range g {
		if r.SignedArea() > 0 {
			coords[len(outers)] = [][]float64{flat(r)}
			outers = append(outers, r)
		}
	}
	for _, r := range g {
		if r.SignedArea() > 0 {
			continue
		}
		placed := false
		for i, outer := range outers {
			if outer.holds(r) {
				coords[i] = append(coords[i], flat(r))
				placed = true
				break
			}
		}
		if !placed {
			return geom.Geometry{}, fmt.Errorf("a hole lies outside every outer ring")
		}
	}
	for i := range outers {
		var rings []geom.LineString
		for _, xy := range coords[i] {
			rings = append(rings, geom.NewLineString(geom.NewSequence(xy, geom.DimXY)))
		}
		polys = append(polys, geom.NewPolygon(rings))
	}
	multi := geom.NewMultiPolygon(polys)
	if err := multi.Validate(); err != nil {
		return geom.Geometry{}, err
	}
	return multi.AsGeometry(), nil
}

func fromGeom(g geom.Geometry) Region {
	var out Region
	add := func(poly geom.Polygon) {
		poly = poly.ForceCCW()
		for _, ls := range append([]geom.LineString{poly.ExteriorRing()}, interiors(poly)...) {
			seq := ls.Coordinates()
			r := make(Ring, 0, seq.Length())
			for i := 0; i < seq.Length()-1; i++ {
				xy := seq.GetXY(i)
				r = append(r, Point{xy.X, xy.Y})
			}
			if r = r.cleaned(); len(r) >= 3 && math.Abs(r.SignedArea()) > dustM2 {
				out = append(out, r)
			}
		}
	}
	for _, part := range g.Dump() {
		if poly, ok := part.AsPolygon(); ok && !poly.IsEmpty() {
			add(poly)
		}
	}
	return out
}

// What an overlay leaves behind where fences all but coincide: corners nearer than dustM, pieces smaller than dustM2.
const (
	dustM  = 1e-4
	dustM2 = 0.05
)

// cleaned drops corners that lie on their neighbours and spikes that go out and come straight back.
func (r Ring) cleaned() Ring {
	for changed := true; changed && len(r) >= 3; {
		changed = false
		kept := make(Ring, 0, len(r))
		for i, p := range r {
			prev, next := r[(i+len(r)-1)%len(r)], r[(i+1)%len(r)]
			if len(kept) > 0 {
				prev = kept[len(kept)-1]
			}
			back := (p.X-prev.X)*(next.X-p.X)+(p.Y-prev.Y)*(next.Y-p.Y) < 0 && distance(p, nearestOn(p, prev, next)) > 0
			if distance(p, prev) < dustM || back && (distance(next, nearestOn(next, prev, p)) < dustM || distance(prev, nearestOn(prev, p, next)) < dustM) {
				changed = true
				continue
			}
			kept = append(kept, p)
		}
		r = kept
	}
	return r
}

func interiors(p geom.Polygon) []geom.LineString {
	out := make([]geom.LineString, p.NumInteriorRings())
	for i := range out {
		out[i] = p.InteriorRingN(i)
	}
	return out
}

// Without is the ground that remains of a region when exclusions (pond, wood, rock, yard) are taken out. Where an
// exclusion's edge runs along a fence the two share every corner first, so that no hairline is left between them.
func Without(g Region, exclusions ...Region) (Region, error) {
	for i, ex := range exclusions {
		if !g.Near(ex) {
			continue
		}
		woven := weave([]Region{g, ex})
		rest, err := difference(woven[0], woven[1])
		if err != nil { // what is thinner than a post does not survive the sharing
			rest, err = difference(g, ex)
		}
		if err != nil {
			return nil, fmt.Errorf("exclusion %d: %w", i+1, err)
		}
		g = fromGeom(rest)
	}
	return g, nil
}

func difference(g, ex Region) (geom.Geometry, error) {
	whole, err := toGeom(g)
	if err != nil {
		return geom.Geometry{}, err
	}
	cut, err := toGeom(ex)
	if err != nil {
		return geom.Geometry{}, err
	}
	return geom.Difference(whole, cut)
}

// Common is the ground two regions share.
func Common(a, b Region) (Region, error) {
	if !a.Near(b) {
		return nil, nil
	}
	ga, err := toGeom(a)
	if err != nil {
		return nil, fmt.Errorf("first ground: %w", err)
	}
	gb, err := toGeom(b)
	if err != nil {
		return nil, fmt.Errorf("second ground: %w", err)
	}
	common, err := geom.Intersection(ga, gb)
	if err != nil {
		return nil, fmt.Errorf("overlap: %w", err)
	}
	return fromGeom(common), nil
}

// OverlapHa is the area two regions share, ha.
func OverlapHa(a, b Region) (float64, error) {
	common, err := Common(a, b)
	return common.AreaHa(), err
}

// Bounds is west, south, east and north of a region, m.
type Bounds [4]float64

// Bounds is the box around a region.
func (g Region) Bounds() Bounds {
	out := Bounds{math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)}
	for _, r := range g {
		for _, p := range r {
			out[0], out[1], out[2], out[3] = min(out[0], p.X), min(out[1], p.Y), max(out[2], p.X), max(out[3], p.Y)
		}
	}
	return out
}

// Meets tells whether two boxes have a place in common.
func (b Bounds) Meets(other Bounds) bool {
	return b[0] <= other[2] && other[0] <= b[2] && b[1] <= other[3] && other[1] <= b[3]
}

// Near tells whether the boxes around two regions meet.
func (g Region) Near(other Region) bool { return g.Bounds().Meets(other.Bounds()) }

// Box is longitudes and latitudes from a south-west corner to a north-east one.
type Box struct{ Low, High Position }

// BoxOf is the box around positions, widened by a margin in degrees.
func BoxOf(margin float64, paths ...[]Position) Box {
	b := Box{Position{math.Inf(1), math.Inf(1)}, Position{math.Inf(-1), math.Inf(-1)}}
	for _, path := range paths {
		for _, p := range path {
			for k := range p {
				b.Low[k], b.High[k] = math.Min(b.Low[k], p[k]-margin), math.Max(b.High[k], p[k]+margin)
			}
		}
	}
	return b
}

// Shape is the box as ground.
func (b Box) Shape() Shape {
	return Shape{{{b.Low, {b.High[0], b.Low[1]}, b.High, {b.Low[0], b.High[1]}, b.Low}}}
}
