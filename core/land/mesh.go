package land

import (
	"math"
	"sort"
)

// How near two corners, or a corner and a fence, must lie to be the same place, metres. Drawn fences meet within a
// post's thickness; cuts that were computed meet far closer, and must not move the areas.
const (
	Weld     = 0.02
	fineWeld = 1e-6
)

// mesh is ground and fences taken apart into nodes and the straight edges between them, so that a fence between two
// paddocks is one fence.
type mesh struct {
	weld  float64
	nodes []Point
	grid  map[[2]int64][]int
}

func newMesh(weld float64) *mesh { return &mesh{weld: weld, grid: map[[2]int64][]int{}} }

// node is the index of a place; places that lie within the weld of one another are one.
func (m *mesh) node(p Point) int {
	c := [2]int64{int64(math.Floor(p.X / m.weld)), int64(math.Floor(p.Y / m.weld))}
	best, near := -1, m.weld
	for dx := int64(-1); dx <= 1; dx++ {
		for dy := int64(-1); dy <= 1; dy++ {
			for _, i := range m.grid[[2]int64{c[0] + dx, c[1] + dy}] {
				if d := distance(m.nodes[i], p); d <= near {
					best, near = i, d
				}
			}
		}
	}
	if best >= 0 {
		return best
	}
	m.nodes = append(m.nodes, p)
	m.grid[c] = append(m.grid[c], len(m.nodes)-1)
	return len(m.nodes) - 1
}

// line is a straight piece of boundary or fence between two nodes.
type line struct{ from, to int }

// onLine tells whether a point lies on a line, not at its ends.
func onLine(p, a, b Point, weld float64) bool {
	dx, dy := b.X-a.X, b.Y-a.Y
	length2 := dx*dx + dy*dy
	if length2 == 0 {
		return false
	}
	t := ((p.X-a.X)*dx + (p.Y-a.Y)*dy) / length2
	return t > 0 && t < 1 && distance(p, Point{a.X + t*dx, a.Y + t*dy}) <= weld
}

// cross finds where two lines cross inside both.
func cross(a, b, c, d Point) (Point, bool) {
	rx, ry, sx, sy := b.X-a.X, b.Y-a.Y, d.X-c.X, d.Y-c.Y
	den := rx*sy - ry*sx
	if den == 0 {
		return Point{}, false
	}
	t := ((c.X-a.X)*sy - (c.Y-a.Y)*sx) / den
	u := ((c.X-a.X)*ry - (c.Y-a.Y)*rx) / den
	if t < 0 || t > 1 || u < 0 || u > 1 {
		return Point{}, false
	}
	return Point{a.X + t*rx, a.Y + t*ry}, true
}

// split breaks lines where other lines cross them and where nodes lie on them. The answer has, for each line, the
// nodes it runs through.
func (m *mesh) split(lines []line) [][]int {
	type box struct{ x0, x1, y0, y1 float64 }
	boxes := make([]box, len(lines))
	order := make([]int, len(lines))
	for i, l := range lines {
		a, b := m.nodes[l.from], m.nodes[l.to]
		boxes[i] = box{math.Min(a.X, b.X) - m.weld, math.Max(a.X, b.X) + m.weld, math.Min(a.Y, b.Y) - m.weld, math.Max(a.Y, b.Y) + m.weld}
		order[i] = i
	}
	sort.Slice(order, func(i, j int) bool { return boxes[order[i]].x0 < boxes[order[j]].x0 })
	on := make([][]int, len(lines))
	for oi, i := range order {
		for _, j := range order[oi+1:] {
			if boxes[j].x0 > boxes[i].x1 {
				break
			}
			if boxes[j].y0 > boxes[i].y1 || boxes[i].y0 > boxes[j].y1 {
				continue
			}
			p, q := lines[i], lines[j]
			shared := p.from == q.from || p.from == q.to || p.to == q.from || p.to == q.to
			touching := false
			for _, end := range [4][2]int{{i, q.from}, {i, q.to}, {j, p.from}, {j, p.to}} {
				l := lines[end[0]]
				if end[1] != l.from && end[1] != l.to && onLine(m.nodes[end[1]], m.nodes[l.from], m.nodes[l.to], m.weld) {
					on[end[0]] = append(on[end[0]], end[1])
					touching = true
				}
			}
			if shared || touching {
				continue
			}
			if at, ok := cross(m.nodes[p.from], m.nodes[p.to], m.nodes[q.from], m.nodes[q.to]); ok {
				n := m.node(at)
				on[i], on[j] = append(on[i], n), append(on[j], n)
			}
		}
	}
	out := make([][]int, len(lines))
	for i, l := range lines {
		a, b := m.nodes[l.from], m.nodes[l.to]
		along := func(n int) float64 {
			return (m.nodes[n].X-a.X)*(b.X-a.X) + (m.nodes[n].Y-a.Y)*(b.Y-a.Y)
		}
		sort.Slice(on[i], func(x, y int) bool { return along(on[i][x]) < along(on[i][y]) })
		path := []int{l.from}
		for _, n := range append(on[i], l.to) {
			if n != path[len(path)-1] {
				path = append(path, n)
			}
		}
		out[i] = path
	}
	return out
}

// ringLines puts a region's rings into the mesh.
func (m *mesh) ringLines(g Region) []line {
	var out []line
	for _, r := range g {
		for i := range r {
			a, b := m.node(r[i]), m.node(r[(i+1)%len(r)])
			if a != b {
				out = append(out, line{a, b})
			}
		}
	}
	return out
}

// weave gives every region the corners that others have on its fences, so that neighbours share every corner.
func weave(regions []Region) []Region {
	m := newMesh(Weld)
	var lines []line
	counts := make([][]int, len(regions))
	for i, g := range regions {
		for _, r := range g {
			before := len(lines)
			lines = append(lines, m.ringLines(Region{r})...)
			counts[i] = append(counts[i], len(lines)-before)
		}
	}
	paths := m.split(lines)
	out := make([]Region, len(regions))
	at := 0
	for i := range regions {
		for _, n := range counts[i] {
			var ring Ring
			for _, path := range paths[at : at+n] {
				for _, node := range path[:len(path)-1] {
					ring = append(ring, m.nodes[node])
				}
			}
			at += n
			if len(ring) >= 3 {
				out[i] = append(out[i], ring)
			}
		}
	}
	return out
}

// faces cuts ground along lines and returns the pieces, each an outer ring with its holes, and the stretches of the
// lines that became fences. Ends that hang inside a piece are dropped.
func faces(g Region, lines []Path, weld float64) ([]Region, []Path) {
	m := newMesh(weld)
	border := m.ringLines(g)
	all := border
	for _, p := range lines {
		for i := 1; i < len(p); i++ {
			if a, b := m.node(p[i-1]), m.node(p[i]); a != b {
				all = append(all, line{a, b})
			}
		}
	}
	paths := m.split(all)
	half := map[line]bool{}
	for _, path := range paths[:len(border)] {
		for i := 1; i < len(path); i++ {
			half[line{path[i-1], path[i]}] = true
		}
	}
	inner := map[line]bool{} // from < to
	for _, path := range paths[len(border):] {
		for i := 1; i < len(path); i++ {
			a, b := min(path[i-1], path[i]), max(path[i-1], path[i])
			middle := Point{(m.nodes[a].X + m.nodes[b].X) / 2, (m.nodes[a].Y + m.nodes[b].Y) / 2}
			if !half[line{a, b}] && !half[line{b, a}] && g.Contains(middle) {
				inner[line{a, b}] = true
			}
		}
	}
	m.prune(half, inner)
	for l := range inner {
		half[l], half[line{l.to, l.from}] = true, true
	}
	loops := m.trace(half)
	for m.dropCrumbs(loops, half, inner) {
		loops = m.trace(half)
	}
	var cuts []Path
	for l := range inner {
		cuts = append(cuts, Path{m.nodes[l.from], m.nodes[l.to]})
	}
	sort.Slice(cuts, func(i, j int) bool { return before(cuts[i], cuts[j]) })
	return m.group(loops), cuts
}

func (m *mesh) ring(loop []int) Ring {
	ring := make(Ring, len(loop))
	for i, n := range loop {
		ring[i] = m.nodes[n]
	}
	return ring
}

// dropCrumbs takes away fences that cut off nothing but a crumb: it stays with the ground it hangs on. It is true when there
// were any.
func (m *mesh) dropCrumbs(loops [][]int, half, inner map[line]bool) bool {
	dropped := false
	for _, loop := range loops {
		if math.Abs(m.ring(loop).SignedArea()) > crumbM2 {
			continue
		}
		var fences []line
		for i, a := range loop {
			b := loop[(i+1)%len(loop)]
			if l := (line{min(a, b), max(a, b)}); inner[l] {
				fences = append(fences, l)
			}
		}
		if len(fences) == 1 {
			l := fences[0]
			delete(inner, l)
			delete(half, l)
			delete(half, line{l.to, l.from})
			dropped = true
		}
	}
	return dropped
}

func before(a, b Path) bool {
	for i := range a {
		if a[i].X != b[i].X {
			return a[i].X < b[i].X
		}
		if a[i].Y != b[i].Y {
			return a[i].Y < b[i].Y
		}
	}
	return false
}

// prune drops inner lines that end in the open, again and again.
func (m *mesh) prune(half, inner map[line]bool) {
	degree := make([]int, len(m.nodes))
	for l := range half {
		degree[l.from]++
		degree[l.to]++
	}
	for l := range inner {
		degree[l.from]++
		degree[l.to]++
	}
	for dropped := true; dropped; {
		dropped = false
		for l := range inner {
			if degree[l.from] == 1 || degree[l.to] == 1 {
				delete(inner, l)
				degree[l.from]--
				degree[l.to]--
				dropped = true
			}
		}
	}
}

// trace follows directed lines around the ground on their left and returns the rings, by their nodes.
func (m *mesh) trace(half map[line]bool) [][]int {
	type spoke struct {
		angle float64
		to    int
	}
	out := map[int][]spoke{}
	all := make([]line, 0, len(half))
	for l := range half {
		a, b := m.nodes[l.from], m.nodes[l.to]
		out[l.from] = append(out[l.from], spoke{math.Atan2(b.Y-a.Y, b.X-a.X), l.to})
		all = append(all, l)
	}
	for _, s := range out {
		sort.Slice(s, func(i, j int) bool { return s[i].angle < s[j].angle })
	}
	sort.Slice(all, func(i, j int) bool {
		return all[i].from < all[j].from || all[i].from == all[j].from && all[i].to < all[j].to
	})
	used := map[line]bool{}
	var loops [][]int
	for _, start := range all {
		if used[start] {
			continue
		}
		var loop []int
		for l := start; !used[l]; {
			used[l] = true
			loop = append(loop, l.from)
			// The ground lies left: the next line is the first one clockwise from where we came.
			back := math.Atan2(m.nodes[l.from].Y-m.nodes[l.to].Y, m.nodes[l.from].X-m.nodes[l.to].X)
			spokes := out[l.to]
			if len(spokes) == 0 {
				break
			}
			k := sort.Search(len(spokes), func(i int) bool { return spokes[i].angle >= back-1e-12 }) - 1
			if k < 0 {
				k = len(spokes) - 1
			}
			l = line{l.to, spokes[k].to}
		}
		loops = append(loops, loop)
	}
	return loops
}

// group is loops as rings, each outer one with its holes.
func (m *mesh) group(loops [][]int) []Region {
	var rings []Ring
	for _, loop := range loops {
		if ring := m.ring(loop); len(ring) >= 3 && math.Abs(ring.SignedArea()) > 1e-6 {
			rings = append(rings, ring)
		}
	}
	return group(rings)
}

// group gives each outer ring the holes that lie in it.
func group(rings []Ring) []Region {
	var out []Region
	for _, r := range rings {
		if r.SignedArea() > 0 {
			out = append(out, Region{r})
		}
	}
	for _, r := range rings {
		if r.SignedArea() > 0 {
			continue
		}
		best := -1
		for i, g := range out {
			if g[0].holds(r) && (best < 0 || g[0].SignedArea() < out[best][0].SignedArea()) {
				best = i
			}
		}
		if best >= 0 {
			out[best] = append(out[best], r)
		}
	}
	return out
}

// Contains tells whether a point lies in the ground.
func (g Region) Contains(p Point) bool {
	in := false
	for _, r := range g {
		if r.contains(p) {
			in = !in
		}
	}
	return in
}

// Inside is a place well inside the ground: the middle of the widest stretch of a level line.
func (g Region) Inside() Point {
	largest := Ring{}
	for _, r := range g {
		if r.SignedArea() > largest.SignedArea() {
			largest = r
		}
	}
	low, high := math.Inf(1), math.Inf(-1)
	for _, p := range largest {
		low, high = math.Min(low, p.Y), math.Max(high, p.Y)
	}
	var best Point
	widest := 0.0
	for _, share := range []float64{0.5, 0.31, 0.69, 0.17, 0.83, 0.43, 0.57} {
		y := low + share*(high-low)
		var xs []float64
		for _, r := range g {
			for i, a := range r {
				b := r[(i+1)%len(r)]
				if (a.Y < y) != (b.Y < y) {
					xs = append(xs, a.X+(y-a.Y)/(b.Y-a.Y)*(b.X-a.X))
				}
			}
		}
		sort.Float64s(xs)
		for i := 0; i+1 < len(xs); i += 2 {
			if w := xs[i+1] - xs[i]; w > widest*1.05 {
				widest, best = w, Point{(xs[i] + xs[i+1]) / 2, y}
			}
		}
	}
	return best
}
