package land

import (
	"math"
	"sort"

	"fjell/core/quantity"
)

// Part is one piece of a division.
type Part struct {
	Region    Region
	AreaHa    float64
	FenceM    float64 // whole boundary
	NewFenceM float64 // of that, on the new fences
	WidthM    float64 // between the parallel fences, or from the edge of the field to the first
	Pieces    int     // more than one: the new fences cut it apart
}

// Division is a field divided by parallel fences.
type Division struct {
	Parts     []Part
	Cuts      [][2]Point // the new fences, one entry for each stretch inside the field
	NewFenceM float64
	Whole     bool    // every part is one piece
	Direction float64 // degrees clockwise from north, 0…180
}

// Divide cuts ground into n parts of equal area by parallel fences that run in a direction, degrees clockwise from
// north. Holes count as no area. Parts are numbered across the fences.
func Divide(g Region, n int, direction float64) (Division, error) {
	if n < 1 {
		return Division{}, quantity.Refuse("parts", n, "divide into at least one paddock")
	}
	direction = math.Mod(math.Mod(direction, 180)+180, 180)
	turned, back := turnTo(g, direction)
	cuts, low, high := equalCuts(turned, n)
	d := Division{Direction: direction, Whole: true}
	edges := append(append([]float64{math.Inf(-1)}, cuts...), math.Inf(1))
	lastFence := 0.0
	for i := 0; i < n; i++ {
		loops, fences := clip(turned, edges[i], edges[i+1])
		part := Part{AreaHa: loops.AreaHa(), FenceM: loops.FenceM(), NewFenceM: lastFence}
		for _, loop := range loops {
			if loop.SignedArea() > 0 {
				part.Pieces++
			}
		}
		part.WidthM = math.Min(edges[i+1], high) - math.Max(edges[i], low)
		lastFence = 0
		for _, f := range fences {
			length := distance(f[0], f[1])
			if length == 0 {
				continue
			}
			lastFence += length
			d.Cuts = append(d.Cuts, [2]Point{back(f[0]), back(f[1])})
		}
		part.NewFenceM += lastFence
		d.NewFenceM += lastFence
		for _, loop := range loops {
			r := make(Ring, len(loop))
			for k, pt := range loop {
				r[k] = back(pt)
			}
			part.Region = append(part.Region, r)
		}
		d.Whole = d.Whole && part.Pieces == 1
		d.Parts = append(d.Parts, part)
	}
	return d, nil
}

// NearestWhole finds the direction closest to the one given in which no part of a division falls into pieces,
// looking in steps of one degree. ok is false when there is none.
func NearestWhole(g Region, n int, direction float64) (best float64, ok bool) {
	for step := 1.0; step <= 90; step++ {
		for _, candidate := range []float64{direction + step, direction - step} {
			if d, err := Divide(g, n, candidate); err == nil && d.Whole {
				return d.Direction, true
			}
		}
	}
	return 0, false
}

// MostParts is the largest number of equal parts in a direction that are all at least so wide, metres.
func MostParts(g Region, from int, direction, leastWidthM float64) int {
	turned, _ := turnTo(g, direction)
	for n := from; n > 1; n-- {
		cuts, low, high := equalCuts(turned, n)
		edges := append(append([]float64{low}, cuts...), high)
		narrow := false
		for i := 1; i < len(edges); i++ {
			narrow = narrow || edges[i]-edges[i-1] < leastWidthM-1e-6
		}
		if !narrow {
			return n
		}
	}
	return 1
}

// turnTo turns a region so that fences of the direction stand upright, and gives the way back.
func turnTo(g Region, direction float64) (Region, func(Point) Point) {
	sin, cos := math.Sincos(radians(direction))
	out := make(Region, len(g))
	for i, r := range g {
		out[i] = make(Ring, len(r))
		for k, p := range r {
			out[i][k] = Point{p.X*cos - p.Y*sin, p.X*sin + p.Y*cos}
		}
	}
	return out, func(p Point) Point { return Point{p.X*cos + p.Y*sin, p.Y*cos - p.X*sin} }
}

// equalCuts finds the upright lines that part the region into n equal areas. Between two neighbouring corners the
// width of the ground is linear in x, so the area left of a line is a quadratic that is solved exactly.
func equalCuts(g Region, n int) (cuts []float64, low, high float64) {
	type edge struct{ x0, y0, x1, y1, sign float64 } // x0 < x1
	var edges []edge
	var xs []float64
	for _, r := range g {
		for i, a := range r {
			b := r[(i+1)%len(r)]
			xs = append(xs, a.X)
			switch {
			case a.X < b.X:
				edges = append(edges, edge{a.X, a.Y, b.X, b.Y, -1})
			case a.X > b.X:
				edges = append(edges, edge{b.X, b.Y, a.X, a.Y, 1})
			}
		}
	}
	sort.Float64s(xs)
	sort.Slice(edges, func(i, j int) bool { return edges[i].x0 < edges[j].x0 })
	low, high = xs[0], xs[len(xs)-1]
	type slab struct{ x, dx, w0, w1, before float64 }
	var slabs []slab
	total := 0.0
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
			w0 += e.sign * (e.y0 + slope*(a-e.x0))
			w1 += e.sign * (e.y0 + slope*(b-e.x0))
		}
		active = kept
		w0, w1 = math.Max(0, w0), math.Max(0, w1)
		slabs = append(slabs, slab{a, b - a, w0, w1, total})
		total += (w0 + w1) / 2 * (b - a)
	}
	at := 0
	for k := 1; k < n; k++ {
		target := total * float64(k) / float64(n)
		for at+1 < len(slabs) && slabs[at+1].before <= target {
			at++
		}
		s := slabs[at]
		rest := target - s.before
		slope := (s.w1 - s.w0) / s.dx
		root := math.Sqrt(math.Max(0, s.w0*s.w0+2*slope*rest))
		t := 0.0
		if s.w0+root > 0 {
			t = 2 * rest / (s.w0 + root)
		}
		cuts = append(cuts, s.x+math.Min(t, s.dx))
	}
	return cuts, low, high
}

// chain is a stretch of boundary inside the clipping band, from where it enters to where it leaves.
type chain struct {
	points         Ring
	enters, leaves float64 // the x of the line crossed
}

// clip returns the ground with left ≤ x < right, and the stretches of the right line that lie inside the ground.
// A corner on a line counts as right of it, for both bands that meet there, so that neighbours agree.
func clip(g Region, left, right float64) (Region, [][2]Point) {
	var out Region
	var chains []chain
	side := func(p Point) int {
		switch {
		case p.X < left:
			return -1
		case p.X < right:
			return 0
		}
		return 1
	}
	for _, r := range g {
		n := len(r)
		start, inside := -1, 0
		for i := range r {
			if side(r[i]) == 0 {
				inside++
			}
			if side(r[i]) != 0 && start < 0 {
				start = i
			}
		}
		if inside == n {
			out = append(out, r)
			continue
		}
		var open *chain
		for k := 0; k < n; k++ {
			a, b := r[(start+k)%n], r[(start+k+1)%n]
			sa, sb := side(a), side(b)
			if sa != 0 && sb != sa {
				line := left
				if sa > 0 {
					line = right
				}
				open = &chain{points: Ring{crossAt(a, b, line)}, enters: line}
			}
			if sb == 0 && open != nil {
				open.points = append(open.points, b)
			}
			if sb != 0 && sb != sa {
				line := left
				if sb > 0 {
					line = right
				}
				open.points = append(open.points, crossAt(a, b, line))
				open.leaves = line
				chains = append(chains, *open)
				open = nil
			}
		}
	}
	next := make([]int, len(chains))
	var fences [][2]Point
	if !math.IsInf(left, 0) {
		for _, pair := range pairs(chains, left, false) {
			next[pair[0]] = pair[1]
		}
	}
	if !math.IsInf(right, 0) {
		for _, pair := range pairs(chains, right, true) {
			next[pair[0]] = pair[1]
			from, to := chains[pair[0]].points, chains[pair[1]].points
			fences = append(fences, [2]Point{from[len(from)-1], to[0]})
		}
	}
	used := make([]bool, len(chains))
	for i := range chains {
		var loop Ring
		for k := i; !used[k]; k = next[k] {
			used[k] = true
			loop = append(loop, chains[k].points...)
		}
		if loop = tidy(loop); len(loop) >= 3 && math.Abs(loop.SignedArea()) > 1e-6 {
			out = append(out, loop)
		}
	}
	return out, fences
}

// pairs joins, along one line, each chain that leaves over it with the chain that comes back next. With ground on
// the left of every boundary one walks up the right line and down the left one.
func pairs(chains []chain, line float64, up bool) [][2]int {
	type end struct {
		y      float64
		chain  int
		leaves bool
	}
	var ends []end
	for i, c := range chains {
		if c.leaves == line {
			ends = append(ends, end{c.points[len(c.points)-1].Y, i, true})
		}
		if c.enters == line {
			ends = append(ends, end{c.points[0].Y, i, false})
		}
	}
	sort.SliceStable(ends, func(a, b int) bool {
		if up {
			return ends[a].y < ends[b].y
		}
		return ends[a].y > ends[b].y
	})
	var out [][2]int
	for i := 0; i+1 < len(ends); i += 2 {
		// Leaving and coming back alternate; ends at the same height are put in that order.
		for k, want := range []bool{true, false} {
			for j := i + k; j < len(ends); j++ {
				if ends[j].leaves == want {
					ends[i+k], ends[j] = ends[j], ends[i+k]
					break
				}
			}
		}
		out = append(out, [2]int{ends[i].chain, ends[i+1].chain})
	}
	return out
}

// crossAt is where a boundary meets an upright line. The ends are taken in a fixed order, so that the bands on
// both sides of the line compute the same point to the last bit.
func crossAt(a, b Point, x float64) Point {
	if a.X > b.X {
		a, b = b, a
	}
	if x == b.X {
		return b
	}
	return Point{x, a.Y + (x-a.X)/(b.X-a.X)*(b.Y-a.Y)}
}

func tidy(r Ring) Ring {
	out := make(Ring, 0, len(r))
	for _, p := range r {
		if len(out) == 0 || p != out[len(out)-1] {
			out = append(out, p)
		}
	}
	for len(out) > 1 && out[0] == out[len(out)-1] {
		out = out[:len(out)-1]
	}
	return out
}
