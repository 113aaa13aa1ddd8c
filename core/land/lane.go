package land

import (
	"fmt"
	"math"
	"sort"

	"github.com/peterstace/simplefeatures/geom"

	"fjell/core/quantity"
)

// Widths a lane may have, m.
const (
	LeastLaneM = 1
	MostLaneM  = 60
)

// Lane is the ground a lane takes: its line, widened to both sides, with round bends.
func Lane(line Path, width float64) (Region, error) {
	if len(line) < 2 || line.Length() < 1 {
		return nil, quantity.Refuse("line", len(line), "a lane runs between two places")
	}
	if width < LeastLaneM || width > MostLaneM || math.IsNaN(width) {
		return nil, quantity.Refuse("width_m", width, "a lane is %d to %d m wide", LeastLaneM, MostLaneM)
	}
	half := width / 2
	var whole geom.Geometry
	add := func(r Ring) error {
		g, err := toGeom(Region{r})
		if err != nil {
			return err
		}
		if whole.IsEmpty() {
			whole = g
			return nil
		}
		whole, err = geom.Union(whole, g)
		return err
	}
	for i := 1; i < len(line); i++ {
		a, b := line[i-1], line[i]
		length := distance(a, b)
		if length == 0 {
			continue
		}
		nx, ny := -(b.Y-a.Y)/length*half, (b.X-a.X)/length*half
		if err := add(Ring{{a.X - nx, a.Y - ny}, {b.X - nx, b.Y - ny}, {b.X + nx, b.Y + ny}, {a.X + nx, a.Y + ny}}); err != nil {
			return nil, fmt.Errorf("lane: %w", err)
		}
		if i < len(line)-1 {
			bend := make(Ring, 16)
			for k := range bend {
				// An odd turn keeps the bend's corners off the straight sides.
				sin, cos := math.Sincos(2*math.Pi*float64(k)/16 + 0.137)
				bend[k] = Point{b.X + half*cos, b.Y + half*sin}
			}
			if err := add(bend); err != nil {
				return nil, fmt.Errorf("lane: %w", err)
			}
		}
	}
	return fromGeom(whole), nil
}

// DivideAlong cuts ground into n cells along a lane: the lane's ground is out already, and fences run square to it
// on each side, so that every cell opens on it. Cells are numbered along the lane, left side first. Sides get cells by
// what lies on them.
func DivideAlong(g Region, n int, lane Path, zones ...Zone) (Division, error) {
	if len(lane) < 2 || lane.Length() < 1 {
		return Division{}, quantity.Refuse("lane", len(lane), "draw the lane first")
	}
	across := math.Mod(bearing(lane[0], lane[len(lane)-1])+90, 180)
	sides, between := sidesOf(g, lane)
	if n < len(sides) {
		return Division{}, quantity.Refuse("parts", n, "the lane parts this ground into %d sides: that many cells at least", len(sides))
	}
	weights := make([]float64, len(sides))
	zoned := make([][]Zone, len(sides))
	for i, side := range sides {
		weights[i] = side.AreaHa()
		if len(zones) == 0 {
			continue
		}
		weights[i] = 0
		for _, z := range zones {
			common, err := Common(side, z.Region)
			if err != nil {
				return Division{}, err
			}
			if len(common) > 0 {
				zoned[i] = append(zoned[i], Zone{common, z.Weight})
				weights[i] += common.AreaHa() * z.Weight
			}
		}
	}
	d := Division{Whole: true, Direction: across, Cuts: between}
	for _, c := range between {
		d.NewFenceM += c.Length()
	}
	for i, count := range apportion(weights, n) {
		side, err := Divide(sides[i], count, across, zoned[i]...)
		if err != nil {
			return Division{}, err
		}
		ahead := turned(bearing(lane[0], lane[len(lane)-1]), across+90)
		if math.Abs(ahead) > 90 {
			for a, b := 0, len(side.Parts)-1; a < b; a, b = a+1, b-1 {
				side.Parts[a], side.Parts[b] = side.Parts[b], side.Parts[a]
			}
			for k := range side.Parts { // what was in front lies behind now
				p := &side.Parts[k]
				p.FrontFenceM, p.BackFenceM = p.BackFenceM, p.FrontFenceM
			}
		}
		for _, p := range side.Parts {
			p.Touches = false
			for k := 1; k < len(lane) && !p.Touches; k++ {
				p.Touches = p.Region.nearLine(lane[k-1], lane[k], MostLaneM/2+1)
			}
			d.Parts = append(d.Parts, p)
		}
		d.Cuts = append(d.Cuts, side.Cuts...)
		d.NewFenceM += side.NewFenceM
		d.Whole = d.Whole && side.Whole
	}
	return d, nil
}

// sidesOf groups the pieces of ground by the side of the lane they lie on. Where the lane ends inside the ground, the
// sides are parted by a fence that runs on from its end.
func sidesOf(g Region, lane Path) (out []Region, between []Path) {
	pieces := group(g)
	long := append(Path(nil), lane...)
	far := 0.0
	for _, r := range g {
		for _, p := range r {
			far = math.Max(far, distance(p, lane[0]))
		}
	}
	long[0] = extend(lane[1], lane[0], 2*far)
	long[len(long)-1] = extend(lane[len(lane)-2], lane[len(lane)-1], 2*far)
	var sides [2]Region
	for _, piece := range pieces {
		parts, cuts := faces(piece, []Path{long}, fineWeld)
		between = append(between, cuts...)
		for _, part := range parts {
			if leftOf(part.Inside(), long) {
				sides[0] = append(sides[0], part...)
			} else {
				sides[1] = append(sides[1], part...)
			}
		}
	}
	for _, s := range sides {
		if len(s) > 0 {
			out = append(out, s)
		}
	}
	return out, between
}

// leftOf tells on which side of a line a point lies, by its nearest stretch.
func leftOf(p Point, line Path) bool {
	near, left := math.Inf(1), false
	for i := 1; i < len(line); i++ {
		a, b := line[i-1], line[i]
		if d := distance(p, nearestOn(p, a, b)); d < near {
			near, left = d, area2(Point{b.X - a.X, b.Y - a.Y}, Point{p.X - a.X, p.Y - a.Y}) > 0
		}
	}
	return left
}

// nearLine tells whether any of the ground's boundary lies within some metres of a line.
func (g Region) nearLine(a, b Point, within float64) bool {
	for _, r := range g {
		for i := range r {
			c, d := r[i], r[(i+1)%len(r)]
			for _, gap := range []float64{distance(c, nearestOn(c, a, b)), distance(a, nearestOn(a, c, d)), distance(b, nearestOn(b, c, d))} {
				if gap <= within {
					return true
				}
			}
			if _, ok := cross(a, b, c, d); ok {
				return true
			}
		}
	}
	return false
}

// apportion shares n among weights by largest remainder, at least one each.
func apportion(weights []float64, n int) []int {
	total := 0.0
	for _, w := range weights {
		total += w
	}
	out, left := make([]int, len(weights)), n
	order := make([]int, len(weights))
	for i, w := range weights {
		out[i] = max(1, int(w/total*float64(n)))
		left -= out[i]
		order[i] = i
	}
	short := func(i int) float64 { return weights[i]/total*float64(n) - float64(out[i]) }
	for ; left > 0; left-- {
		sort.Slice(order, func(a, b int) bool { return short(order[a]) > short(order[b]) })
		out[order[0]]++
	}
	for ; left < 0; left++ { // sides too small for a cell got one all the same
		sort.Slice(order, func(a, b int) bool { return out[order[a]] > out[order[b]] })
		out[order[0]]--
	}
	return out
}
