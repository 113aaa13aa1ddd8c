package land

import (
	"math"
	"sort"
)

// Zone is ground with more or less on it than the rest: Weight a hectare, in whatever is being shared out.
type Zone struct {
	Region Region
	Weight float64
}

// sweep measures ground by upright lines that travel over it: how much lies left of each. What is measured is area,
// or the weight of zones where there are any.
type sweep struct {
	ground    Region // turned so that the fences stand upright
	back      func(Point) Point
	direction float64
	slabs     []slab
	low, high float64
	total     float64
}

// slab is the ground between two neighbouring corners, where the width is linear in x.
type slab struct{ x, dx, w0, w1, before float64 }

func newSweep(g Region, zones []Zone, direction float64) *sweep {
	direction = math.Mod(math.Mod(direction, 180)+180, 180)
	turned, back := turnTo(g, direction)
	s := &sweep{ground: turned, back: back, direction: direction}
	s.low, s.high = math.Inf(1), math.Inf(-1)
	for _, r := range turned {
		for _, p := range r {
			s.low, s.high = math.Min(s.low, p.X), math.Max(s.high, p.X)
		}
	}
	if len(zones) == 0 {
		s.measure([]Region{turned}, []float64{1})
		return s
	}
	regions, weights := make([]Region, len(zones)), make([]float64, len(zones))
	for i, z := range zones {
		regions[i], _ = turnTo(z.Region, direction)
		weights[i] = z.Weight
	}
	s.measure(regions, weights)
	return s
}

// measure lays out the slabs: between two neighbouring corners the weighted width is linear in x, so that what lies
// left of a line is a quadratic that is solved exactly.
func (s *sweep) measure(regions []Region, weights []float64) {
	type edge struct{ x0, y0, x1, y1, weight float64 } // x0 < x1
	var edges []edge
	var xs []float64
	for i, g := range regions {
		for _, r := range g {
			for k, a := range r {
				b := r[(k+1)%len(r)]
				xs = append(xs, a.X)
				switch {
				case a.X < b.X:
					edges = append(edges, edge{a.X, a.Y, b.X, b.Y, -weights[i]})
				case a.X > b.X:
					edges = append(edges, edge{b.X, b.Y, a.X, a.Y, weights[i]})
				}
			}
		}
	}
	sort.Float64s(xs)
	sort.Slice(edges, func(i, j int) bool { return edges[i].x0 < edges[j].x0 })
	var active []edge
	next := 0
	for i := 1; i < len(xs); i++ {
		a, b := xs[i-1], xs[i]
		if a == b {
			continue
		}
		for next < len(edges) && edges[next].x0 <= a {
			active = append(active, edges[next])
			next++
		}
		kept := active[:0]
		var w0, w1 float64
		for _, e := range active {
			if e.x1 < b {
				continue
			}
			kept = append(kept, e)
			slope := (e.y1 - e.y0) / (e.x1 - e.x0)
			w0 += e.weight * (e.y0 + slope*(a-e.x0))
			w1 += e.weight * (e.y0 + slope*(b-e.x0))
		}
		active = kept
		w0, w1 = math.Max(0, w0), math.Max(0, w1)
		s.slabs = append(s.slabs, slab{a, b - a, w0, w1, s.total})
		s.total += (w0 + w1) / 2 * (b - a)
	}
}

// leftOf is how much lies left of a line.
func (s *sweep) leftOf(x float64) float64 {
	i := sort.Search(len(s.slabs), func(i int) bool { return s.slabs[i].x > x }) - 1
	if i < 0 {
		return 0
	}
	b := s.slabs[i]
	t := math.Min(x-b.x, b.dx)
	return b.before + b.w0*t + (b.w1-b.w0)/b.dx*t*t/2
}

// lineAt is where so much lies left of the line.
func (s *sweep) lineAt(target float64) float64 {
	at := sort.Search(len(s.slabs), func(i int) bool { return s.slabs[i].before > target }) - 1
	b := s.slabs[max(at, 0)]
	rest := target - b.before
	slope := (b.w1 - b.w0) / b.dx
	root := math.Sqrt(math.Max(0, b.w0*b.w0+2*slope*rest))
	t := 0.0
	if b.w0+root > 0 {
		t = 2 * rest / (b.w0 + root)
	}
	return b.x + math.Min(t, b.dx)
}

func (s *sweep) equalCuts(n int) []float64 {
	cuts := make([]float64, 0, n-1)
	for k := 1; k < n; k++ {
		cuts = append(cuts, s.lineAt(s.total*float64(k)/float64(n)))
	}
	return cuts
}

// narrowest is the least distance between neighbouring fences, or the edge of the ground and the next fence.
func (s *sweep) narrowest(cuts []float64) float64 {
	least, last := math.Inf(1), s.low
	for _, c := range append(append([]float64(nil), cuts...), s.high) {
		least = math.Min(least, c-last)
		last = c
	}
	return least
}

// fenceM is the length of new fence that cuts need, without building the parts.
func (s *sweep) fenceM(cuts []float64) float64 {
	sum := 0.0
	var ys []float64
	for _, x := range cuts {
		ys = ys[:0]
		for _, r := range s.ground {
			for i, a := range r {
				b := r[(i+1)%len(r)]
				if (a.X < x) != (b.X < x) {
					ys = append(ys, crossAt(a, b, x).Y)
				}
			}
		}
		sort.Float64s(ys)
		for i := 0; i+1 < len(ys); i += 2 {
			sum += ys[i+1] - ys[i]
		}
	}
	return sum
}

// divide builds the parts between the cuts.
func (s *sweep) divide(cuts []float64) Division {
	edges := append(append([]float64{math.Inf(-1)}, cuts...), math.Inf(1))
	d := Division{Direction: s.direction, Whole: true}
	bands := make([]band, len(edges)-1)
	for i := range bands {
		bands[i].loops, bands[i].fences = clip(s.ground, edges[i], edges[i+1])
	}
	weld(bands)
	lastFence, lastWeight, from := 0.0, 0.0, s.low
	for i, b := range bands {
		loops, to := b.loops, math.Min(edges[i+1], s.high)
		if len(loops) == 0 { // all of it was a crumb of its neighbour
			if k := len(d.Parts) - 1; k >= 0 && i+1 == len(bands) {
				d.Parts[k].WidthM, d.Parts[k].Weight = to-from+d.Parts[k].WidthM, d.Parts[k].Weight+(s.total-lastWeight)/metresSquared
			}
			continue
		}
		part := Part{AreaHa: loops.AreaHa(), FenceM: loops.FenceM(), BackFenceM: lastFence, Pieces: loops.pieces()}
		part.WidthM, from = to-from, to
		weight := s.total
		if i+2 < len(edges) {
			weight = s.leftOf(edges[i+1])
		}
		part.Weight, lastWeight = (weight-lastWeight)/metresSquared, weight
		lastFence = 0
		for _, f := range b.fences {
			if length := distance(f[0], f[1]); length > 0 {
				lastFence += length
				d.Cuts = append(d.Cuts, Path{s.back(f[0]), s.back(f[1])})
			}
		}
		part.FrontFenceM = lastFence
		d.NewFenceM += lastFence
		for _, loop := range loops {
			r := make(Ring, len(loop))
			for k, pt := range loop {
				r[k] = s.back(pt)
			}
			part.Region = append(part.Region, r)
		}
		d.Whole = d.Whole && part.Pieces == 1
		d.Parts = append(d.Parts, part)
	}
	return d
}
