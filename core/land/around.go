package land

import (
	"math"
	"sort"

	"fjell/core/quantity"
)

// DivideAround cuts ground into n parts that share out its area, or its zones' weight, and that each reach a water
// point: fences run out from it like spokes. start turns the first spoke, degrees clockwise from north; where the
// water lies on the edge, the spokes fan out from there and start has no say.
func DivideAround(g Region, n int, water Point, start float64, zones ...Zone) (Division, error) {
	if n < 1 || n > MostDivided {
		return Division{}, quantity.Refuse("parts", n, "must be between 1 and %d paddocks", MostDivided)
	}
	water, err := g.toEdge(water)
	if err != nil {
		return Division{}, err
	}
	f := newFan(g, water, start, zones)
	if f.total <= 0 {
		return Division{}, nothingThere()
	}
	angles := f.spokes(n)
	far := 0.0
	for _, r := range g {
		for _, p := range r {
			far = math.Max(far, distance(water, p))
		}
	}
	var lines []Path
	for _, a := range angles {
		sin, cos := math.Sincos(f.from + a)
		lines = append(lines, Path{water, {water.X + 2*far*cos, water.Y + 2*far*sin}})
	}
	pieces, cuts := faces(g, lines, fineWeld)
	d := Division{Cuts: cuts, Whole: true, Direction: math.Mod(math.Mod(start, 360)+360, 360), Parts: make([]Part, n)}
	for _, c := range cuts {
		d.NewFenceM += c.Length()
	}
	edges := angles
	if !f.round {
		edges = append([]float64{0}, angles...)
	}
	for _, piece := range pieces {
		in := piece.Inside()
		at := math.Mod(math.Atan2(in.Y-water.Y, in.X-water.X)-f.from+4*math.Pi, 2*math.Pi)
		k := (sort.SearchFloat64s(edges, at) - 1 + n) % n
		d.Parts[k].Region = append(d.Parts[k].Region, piece...)
		d.Parts[k].Pieces++
	}
	for k := range d.Parts {
		p := &d.Parts[k]
		if p.Pieces == 0 {
			return Division{}, quantity.Refuse("parts", n, "this many cells are too thin to fence around one water point")
		}
		p.AreaHa, p.FenceM = p.Region.AreaHa(), p.Region.FenceM()
		p.FrontFenceM = shared(p.Region, cuts)
		p.Touches = p.Region.reaches(water, reachM)
		d.Whole = d.Whole && p.Pieces == 1
		p.Weight = p.AreaHa
		if len(zones) > 0 {
			from, to := edges[k], edges[(k+1)%len(edges)]
			if k == n-1 {
				p.Weight = (f.total - f.upTo(from) + f.upTo(edges[0])) / metresSquared
			} else {
				p.Weight = (f.upTo(to) - f.upTo(from)) / metresSquared
			}
		}
	}
	return d, nil
}

// onEdgeM is how near to the field's outer fence water counts as standing on it.
const onEdgeM = 2.0

// toEdge puts water that stands at the outer fence onto it, and refuses water that lies far outside.
func (g Region) toEdge(water Point) (Point, error) {
	near, foot := math.Inf(1), water
	for _, r := range g {
		for i := range r {
			p := nearestOn(water, r[i], r[(i+1)%len(r)])
			if d := distance(water, p); d < near && r.SignedArea() > 0 {
				near, foot = d, p
			}
		}
	}
	if g.Contains(water) || g.holdsInHole(water) {
		if near <= onEdgeM {
			return foot, nil
		}
		return water, nil
	}
	if near > reachM {
		return water, quantity.Refuse("water", nil, "this water is %s from the ground: cells can only meet at water in the field or on its edge", metres(near))
	}
	return foot, nil
}

// reachM is how near to water a cell must come for stock to drink there, and how far from the ground water may stand.
const reachM = 15.0

// holdsInHole tells whether a point lies in a hole: a pond in a field is water all the same.
func (g Region) holdsInHole(p Point) bool {
	for _, r := range g {
		if r.SignedArea() < 0 && r.contains(p) {
			return true
		}
	}
	return false
}

// reaches tells whether ground lies within some metres of a point, or around the hole that holds it.
func (g Region) reaches(p Point, within float64) bool {
	for _, r := range g {
		for i := range r {
			if distance(p, nearestOn(p, r[i], r[(i+1)%len(r)])) <= within {
				return true
			}
		}
	}
	return g.Contains(p)
}

// fan measures ground by a spoke that turns around a point.
type fan struct {
	at    Point
	from  float64 // angle of the first spoke, radians counter-clockwise from east
	round bool    // ground lies all around
	arcs  []arc
	total float64
}

// arc is one edge of a boundary as the spoke sees it: the triangle between it and the point counts with its sign.
type arc struct {
	a, b     Point // from the point, b counter-clockwise of a
	from, to float64
	weight   float64
}

func newFan(g Region, at Point, start float64, zones []Zone) *fan {
	f := &fan{at: at, from: math.Pi/2 - radians(start)}
	if len(zones) == 0 {
		zones = []Zone{{g, 1}}
	}
	f.round = true
	for _, r := range g {
		for i := range r {
			f.round = f.round && (r.SignedArea() < 0 || distance(at, nearestOn(at, r[i], r[(i+1)%len(r)])) > fineWeld)
		}
	}
	if !f.round {
		// Ground may lie all around water on an edge too, as beside a lane.
		if empty, ok := f.emptySide(g); ok {
			f.from = empty
		} else {
			f.round = true
		}
	}
	for _, z := range zones {
		for _, r := range z.Region {
			for i := range r {
				f.add(Point{r[i].X - at.X, r[i].Y - at.Y}, Point{r[(i+1)%len(r)].X - at.X, r[(i+1)%len(r)].Y - at.Y}, z.Weight)
			}
		}
	}
	for _, c := range f.arcs {
		f.total += c.weight * area2(c.a, c.b) / 2
	}
	return f
}

func area2(a, b Point) float64 { return a.X*b.Y - a.Y*b.X }

// angle of a direction from the first spoke, 0…2π.
func (f *fan) angle(p Point) float64 {
	return math.Mod(math.Atan2(p.Y, p.X)-f.from+4*math.Pi, 2*math.Pi)
}

// emptySide finds the middle of the widest arc without ground, for water on the edge. ok is false when a spoke there
// would meet ground after all.
func (f *fan) emptySide(g Region) (middle float64, ok bool) {
	var angles []float64
	for _, r := range g {
		for i := range r {
			// Long edges are looked at in several places, so that no gap is seen where one runs past.
			for t := 0.0; t < 1; t += 0.02 {
				p := Point{r[i].X + t*(r[(i+1)%len(r)].X-r[i].X) - f.at.X, r[i].Y + t*(r[(i+1)%len(r)].Y-r[i].Y) - f.at.Y}
				if math.Hypot(p.X, p.Y) > 1 {
					angles = append(angles, math.Atan2(p.Y, p.X))
				}
			}
		}
	}
	sort.Float64s(angles)
	widest := 0.0
	for i, a := range angles {
		b := angles[(i+1)%len(angles)]
		if i == len(angles)-1 {
			b += 2 * math.Pi
		}
		if b-a > widest {
			widest, middle = b-a, (a+b)/2
		}
	}
	sin, cos := math.Sincos(middle)
	for _, r := range g {
		for i := range r {
			if at, crosses := cross(Point{f.at.X + cos, f.at.Y + sin}, Point{f.at.X + 1e6*cos, f.at.Y + 1e6*sin}, r[i], r[(i+1)%len(r)]); crosses && distance(at, f.at) > 1 {
				return 0, false
			}
		}
	}
	return middle, true
}

func (f *fan) add(a, b Point, weight float64) {
	twice := area2(a, b)
	if twice == 0 {
		return
	}
	if twice < 0 {
		a, b, weight = b, a, -weight
	}
	from, to := f.angle(a), f.angle(b)
	if to < from && to > 1e-15 {
		// It crosses the first spoke: two arcs.
		q := onSpoke(a, b, f.from)
		f.arcs = append(f.arcs, arc{a, q, from, 2 * math.Pi, weight}, arc{q, b, 0, to, weight})
		return
	}
	if to <= 1e-15 {
		to = 2 * math.Pi
	}
	f.arcs = append(f.arcs, arc{a, b, from, to, weight})
}

// onSpoke is where a spoke at an angle meets the line through a and b.
func onSpoke(a, b Point, angle float64) Point {
	sin, cos := math.Sincos(angle)
	d := Point{cos, sin}
	den := area2(d, Point{b.X - a.X, b.Y - a.Y})
	if den == 0 {
		return a
	}
	t := -area2(d, a) / den
	t = math.Max(0, math.Min(1, t))
	return Point{a.X + t*(b.X-a.X), a.Y + t*(b.Y-a.Y)}
}

// upTo is how much lies between the first spoke and one at an angle from it.
func (f *fan) upTo(angle float64) float64 {
	sum := 0.0
	for _, c := range f.arcs {
		switch {
		case angle >= c.to:
			sum += c.weight * area2(c.a, c.b) / 2
		case angle > c.from:
			sum += c.weight * area2(c.a, onSpoke(c.a, c.b, f.from+angle)) / 2
		}
	}
	return sum
}

// spokes are the angles of the fences from the first spoke: all around n, the first at 0; from an edge n − 1.
func (f *fan) spokes(n int) []float64 {
	var out []float64
	if n == 1 {
		return nil
	}
	if f.round {
		out = append(out, 0)
	}
	low := 0.0
	for k := 1; k < n; k++ {
		target := f.total * float64(k) / float64(n)
		a, b := low, 2*math.Pi
		for range 60 {
			if mid := (a + b) / 2; f.upTo(mid) < target {
				a = mid
			} else {
				b = mid
			}
		}
		low = (a + b) / 2
		out = append(out, low)
	}
	return out
}
