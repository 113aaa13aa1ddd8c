package land

import (
	"math"
	"sort"
)

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
		if loop = tidy(loop); len(loop) >= 3 {
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

// crumbM2 is ground that nobody fences off: a thumb's breadth square of it.
const crumbM2 = 1e-3

// band is the ground between two neighbouring lines, and the fences on the right one.
type band struct {
	loops  Region
	fences [][2]Point
}

// weld leaves crumbs, which a line cuts off a tip, with the ground they hang on: the neighbour takes their outline in the
// place of the fence, which falls away on both sides.
func weld(bands []band) {
	for i := range bands {
		kept := bands[i].loops[:0]
		for _, loop := range bands[i].loops {
			if math.Abs(loop.SignedArea()) > crumbM2 || !weldLoop(bands, i, loop) {
				kept = append(kept, loop)
			}
		}
		bands[i].loops = kept
	}
}

// weldLoop gives one crumb to the band it hangs on, if it hangs by one fence alone.
func weldLoop(bands []band, of int, crumb Ring) bool {
	left, at, start, found := 0, 0, 0, 0
	for b := max(0, of-1); b <= of; b++ { // fences stand on the right of their band
		for f, fence := range bands[b].fences {
			for k, from := range crumb {
				to := crumb[(k+1)%len(crumb)]
				if from == fence[0] && to == fence[1] || from == fence[1] && to == fence[0] {
					left, at, start = b, f, k
					found++
				}
			}
		}
	}
	if found != 1 {
		return false
	}
	neighbour := left
	if left == of {
		neighbour = of + 1
	}
	// The crumb runs along the fence from one corner to the next; its neighbour runs the other way, and round the crumb now.
	from, to := crumb[start], crumb[(start+1)%len(crumb)]
	for l, loop := range bands[neighbour].loops {
		for k, p := range loop {
			if p != to || loop[(k+1)%len(loop)] != from {
				continue
			}
			round := append(Ring{}, loop[:k+1]...)
			for j := 2; j < len(crumb); j++ {
				round = append(round, crumb[(start+j)%len(crumb)])
			}
			bands[neighbour].loops[l] = append(round, loop[k+1:]...)
			fences := bands[left].fences
			bands[left].fences = append(fences[:at:at], fences[at+1:]...)
			return true
		}
	}
	return false
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
