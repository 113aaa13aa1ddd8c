package land

import (
	"fmt"
	"math"

	"fjell/core/quantity"
)

// Split cuts ground along a line that somebody drew. Ends that stop short of the boundary by up to reach metres are
// drawn on to it. The parts are numbered along the line's left and right, as they come.
func Split(g Region, cut Path, reach float64) (Division, error) {
	if len(cut) < 2 || cut.Length() == 0 {
		return Division{}, quantity.Refuse("line", len(cut), "a fence needs two ends")
	}
	cut = append(Path(nil), cut...)
	cut[0] = extend(cut[1], cut[0], reach)
	cut[len(cut)-1] = extend(cut[len(cut)-2], cut[len(cut)-1], reach)
	parts, cuts := faces(g, []Path{cut}, Weld)
	if len(parts) <= g.pieces() {
		return Division{}, quantity.Refuse("line", nil, "this fence does not part the ground: draw it from one fence across to another")
	}
	d := Division{Cuts: cuts, Whole: true, Direction: bearing(cut[0], cut[len(cut)-1])}
	for _, c := range cuts {
		d.NewFenceM += c.Length()
	}
	for _, r := range parts {
		d.Parts = append(d.Parts, Part{Region: r, AreaHa: r.AreaHa(), Weight: r.AreaHa(), FenceM: r.FenceM(), Pieces: 1, FrontFenceM: shared(r, cuts)})
	}
	return d, nil
}

// extend draws a line on beyond its end.
func extend(from, to Point, by float64) Point {
	length := distance(from, to)
	if length == 0 {
		return to
	}
	return Point{to.X + (to.X-from.X)/length*by, to.Y + (to.Y-from.Y)/length*by}
}

// shared is how much of a region's boundary runs along cuts, m.
func shared(g Region, cuts []Path) float64 {
	type pair [2]Point
	on := map[pair]bool{}
	for _, c := range cuts {
		for i := 1; i < len(c); i++ {
			on[pair{c[i-1], c[i]}], on[pair{c[i], c[i-1]}] = true, true
		}
	}
	sum := 0.0
	for _, r := range g {
		for i := range r {
			if a, b := r[i], r[(i+1)%len(r)]; on[pair{a, b}] {
				sum += distance(a, b)
			}
		}
	}
	return sum
}

// Merge takes the fences between two neighbours away. freedM is the fence that is no longer needed.
func Merge(a, b Region) (merged Region, freedM float64, err error) {
	woven := weave([]Region{a, b})
	m := newMesh(Weld)
	half := map[line]bool{}
	for _, g := range woven {
		for _, l := range m.ringLines(g) {
			if back := (line{l.to, l.from}); half[back] {
				delete(half, back)
				freedM += distance(m.nodes[l.from], m.nodes[l.to])
			} else {
				half[l] = true
			}
		}
	}
	if freedM < Weld {
		return nil, 0, quantity.Refuse("paddocks", nil, "these two do not share a fence: only neighbours can be joined")
	}
	for _, g := range m.group(m.trace(half)) {
		merged = append(merged, g...)
	}
	return merged.straightened(woven), freedM, nil
}

// Rest is the ground that is left when parts are laid on it: neighbours share every corner first, so that no sliver is
// left where fences are the same. The parts come back with the corners they share.
func Rest(ground Region, parts []Region) (rest Region, woven []Region) {
	woven = weave(append([]Region{ground}, parts...))
	m := newMesh(Weld)
	half := map[line]bool{}
	lay := func(l line) {
		if back := (line{l.to, l.from}); half[back] {
			delete(half, back)
		} else {
			half[l] = true
		}
	}
	for _, l := range m.ringLines(woven[0]) {
		lay(l)
	}
	for _, g := range woven[1:] {
		for _, l := range m.ringLines(g) {
			lay(line{l.to, l.from})
		}
	}
	for _, g := range m.group(m.trace(half)) {
		// A long sliver thinner than a post is no ground.
		if g[0].SignedArea() > Weld*g[0].Length() {
			rest = append(rest, g...)
		}
	}
	return rest, woven[1:]
}

// straightened drops corners that only marked where a fence was that is gone: those that lie on a straight line and
// were a junction.
func (g Region) straightened(before []Region) Region {
	count := map[Point]int{}
	for _, b := range before {
		for _, r := range b {
			for _, p := range r {
				count[p]++
			}
		}
	}
	out := make(Region, 0, len(g))
	for _, r := range g {
		kept := Ring{}
		for i, p := range r {
			prev, next := r[(i+len(r)-1)%len(r)], r[(i+1)%len(r)]
			if count[p] > 1 && onLine(p, prev, next, Weld/20) {
				continue
			}
			kept = append(kept, p)
		}
		if len(kept) >= 3 {
			out = append(out, kept)
		}
	}
	return out
}

// Corner is what is done to one corner of the fences: moved To a place, or taken out. At is where it is, or a place
// on a fence where a new corner is put.
type Corner struct {
	At     Point
	To     Point
	Remove bool
}

// MoveCorner does it to every region that has the corner, so that neighbours stay neighbours: no sliver opens and
// nothing overlaps. The regions come back in their order; changed tells which are not as they were.
func MoveCorner(regions []Region, c Corner, reach float64) (out []Region, changed []bool, err error) {
	out = weave(regions)
	at, found := nearestCorner(out, c.At, reach)
	if !found {
		if c.Remove {
			return nil, nil, quantity.Refuse("at", nil, "there is no corner here")
		}
		if at, found = putCorner(out, c.At, reach); !found {
			return nil, nil, quantity.Refuse("at", nil, "there is no fence here: pick a corner or a place on a fence")
		}
	}
	neighbours := map[Point]bool{}
	for _, g := range out {
		for _, r := range g {
			for i, p := range r {
				if p == at {
					neighbours[r[(i+1)%len(r)]], neighbours[r[(i+len(r)-1)%len(r)]] = true, true
				}
			}
		}
	}
	if c.Remove && len(neighbours) > 2 {
		return nil, nil, quantity.Refuse("at", nil, "%d fences meet in this corner: join the paddocks, or move it", len(neighbours))
	}
	to := c.To
	if near, ok := nearestCorner(out, to, Weld); ok && near != at && !c.Remove {
		return nil, nil, quantity.Refuse("to", nil, "another corner stands there already: take this one out instead")
	}
	changed = make([]bool, len(out))
	for i, g := range out {
		for k, r := range g {
			moved := make(Ring, 0, len(r))
			for _, p := range r {
				if p != at {
					moved = append(moved, p)
					continue
				}
				changed[i] = true
				if !c.Remove {
					moved = append(moved, to)
				}
			}
			if len(moved) < 3 {
				return nil, nil, quantity.Refuse("at", len(r), "ground needs three corners: this one cannot be taken out")
			}
			out[i][k] = moved
		}
	}
	for i := range out {
		if !changed[i] {
			out[i] = regions[i]
		}
	}
	return out, changed, nil
}

func nearestCorner(regions []Region, at Point, reach float64) (best Point, found bool) {
	for _, g := range regions {
		for _, r := range g {
			for _, p := range r {
				if d := distance(p, at); d <= reach {
					best, reach, found = p, d, true
				}
			}
		}
	}
	return best, found
}

// putCorner sets a new corner into every fence that runs past a place.
func putCorner(regions []Region, at Point, reach float64) (Point, bool) {
	var foot Point
	found := false
	for _, g := range regions {
		for _, r := range g {
			for i, a := range r {
				b := r[(i+1)%len(r)]
				if p := nearestOn(at, a, b); distance(p, at) <= reach && (!found || distance(p, at) < distance(foot, at)) {
					foot, found = p, true
				}
			}
		}
	}
	if !found {
		return foot, false
	}
	for gi, g := range regions {
		for ri, r := range g {
			for i := 0; i < len(r); i++ {
				if onLine(foot, r[i], r[(i+1)%len(r)], Weld) {
					r = append(r[:i+1], append(Ring{foot}, r[i+1:]...)...)
					i++
				}
			}
			regions[gi][ri] = r
		}
	}
	return foot, true
}

// nearestOn is the place on a line that is nearest to a point.
func nearestOn(p, a, b Point) Point {
	dx, dy := b.X-a.X, b.Y-a.Y
	length2 := dx*dx + dy*dy
	if length2 == 0 {
		return a
	}
	t := math.Max(0, math.Min(1, ((p.X-a.X)*dx+(p.Y-a.Y)*dy)/length2))
	return Point{a.X + t*dx, a.Y + t*dy}
}

// CheckCover refuses regions that are no ground, cross themselves or lie on one another. Names say which.
func CheckCover(field string, regions []Region, names []string) error {
	for i, g := range regions {
		for _, r := range g {
			if _, crossed := r.crossing(); crossed {
				return quantity.Refuse(field, nil, "the fence of %s would cross itself", names[i])
			}
		}
		if g.AreaHa() < LeastAreaHa {
			return quantity.Refuse(field, nil, "nothing would be left of %s", names[i])
		}
		if _, err := toGeom(g); err != nil {
			return quantity.Refuse(field, nil, "the fences of %s would run through one another", names[i])
		}
	}
	owner := map[[2]Point]int{}
	for i, g := range weave(regions) {
		for _, r := range g {
			for k := range r {
				edge := [2]Point{r[k], r[(k+1)%len(r)]}
				if other, taken := owner[edge]; taken {
					return quantity.Refuse(field, nil, "%s and %s would have the same side of one fence: put the corner farther from the other fence, or on it", names[other], names[i])
				}
				owner[edge] = i
			}
		}
	}
	for i := range regions {
		for j := i + 1; j < len(regions); j++ {
			common, err := OverlapHa(regions[i], regions[j])
			if err != nil {
				return fmt.Errorf("%s beside %s: %w", names[i], names[j], err)
			}
			// A hand's breadth along a long fence is no overlap; a step is.
			if limit := 0.1 * math.Min(regions[i].FenceM(), regions[j].FenceM()) / metresSquared; common > limit {
				return quantity.Refuse(field, nil, "%s would lie on %s by %.3f ha", names[i], names[j], common)
			}
		}
	}
	return nil
}
