package land

import "math"

// SquareM is the side of the square that has an area, m.
func SquareM(areaHa float64) float64 { return math.Sqrt(areaHa * metresSquared) }

// Corners are the places where a division's new fences end, bend or meet: where a corner post stands.
func (d Division) Corners() []Point {
	m := newMesh(0.5) // nearer than half a metre one post serves
	var out []Point
	add := func(p Point) {
		if n := len(m.nodes); m.node(p) == n {
			out = append(out, p)
		}
	}
	degree := map[Point][]Point{}
	for _, c := range d.Cuts {
		for i := 1; i < len(c); i++ {
			degree[c[i-1]] = append(degree[c[i-1]], c[i])
			degree[c[i]] = append(degree[c[i]], c[i-1])
		}
	}
	for _, c := range d.Cuts {
		for _, p := range c {
			// A fence that runs straight on through a place needs no corner there.
			if ends := degree[p]; len(ends) == 2 && math.Abs(turned(bearing(ends[0], p), bearing(p, ends[1]))) < 2 {
				continue
			}
			add(p)
		}
	}
	return out
}

// ToWater is how far the ground's farthest corner lies from the nearest water, straight; NaN without any. own tells
// whether stock drink without leaving the ground.
func (g Region) ToWater(water []Point) (farM float64, own bool) {
	farM = math.NaN()
	for _, r := range g {
		for _, p := range r {
			near := math.Inf(1)
			for _, w := range water {
				near = math.Min(near, distance(p, w))
			}
			if len(water) > 0 && !(farM >= near) {
				farM = near
			}
		}
	}
	for _, w := range water {
		own = own || g.reaches(w, reachM)
	}
	return farM, own
}

// Borders tells whether a gate at a place opens into the ground: it stands on its fence, give or take a gate's width.
func (g Region) Borders(gate Point) bool {
	for _, r := range g {
		for i := range r {
			if distance(gate, nearestOn(gate, r[i], r[(i+1)%len(r)])) <= 6 {
				return true
			}
		}
	}
	return false
}

// Beyond is how far a region's corners reach out of other ground, or the ground's own corners lie inside the region, m.
func (g Region) Beyond(ground Region) float64 {
	far := 0.0
	for _, r := range g {
		for _, p := range r {
			if !ground.Contains(p) {
				far = math.Max(far, ground.toFence(p))
			}
		}
	}
	for _, r := range ground {
		for _, p := range r {
			if g.Contains(p) {
				far = math.Max(far, g.toFence(p))
			}
		}
	}
	return far
}

// toFence is how far a place lies from the ground's boundary, m.
func (g Region) toFence(p Point) float64 {
	near := math.Inf(1)
	for _, r := range g {
		for i := range r {
			near = math.Min(near, distance(p, nearestOn(p, r[i], r[(i+1)%len(r)])))
		}
	}
	return near
}
