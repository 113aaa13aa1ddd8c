package land

import (
	"math"

	"fjell/core/quantity"
)

// Path is a line on the plane: a fence, a lane, a walk.
type Path []Point

// Length of a path, m.
func (p Path) Length() float64 {
	sum := 0.0
	for i := 1; i < len(p); i++ {
		sum += distance(p[i-1], p[i])
	}
	return sum
}

// Part is one piece of a division.
type Part struct {
	Region      Region
	AreaHa      float64
	Weight      float64 // of what is shared out: hectares, or the zones' weight
	FenceM      float64 // whole boundary
	FrontFenceM float64 // new fence towards the next part
	BackFenceM  float64 // new fence towards the part before
	WidthM      float64 // between parallel fences, or from the edge of the field to the first; 0 where they are not parallel
	Pieces      int     // more than one: the new fences cut it apart
	Touches     bool    // it meets the lane or the water it was laid out around
}

// NewFenceM is the part's boundary on new fences.
func (p Part) NewFenceM() float64 { return p.FrontFenceM + p.BackFenceM }

// Division is ground divided by new fences.
type Division struct {
	Parts     []Part
	Cuts      []Path // the new fences, one entry for each stretch inside the ground
	NewFenceM float64
	Whole     bool    // every part is one piece
	Direction float64 // degrees clockwise from north; of parallel fences 0…180
}

// MostDivided is the largest number of parts a field is divided into.
const MostDivided = 400

// Divide cuts ground into n parts that share out its area, or the weight of its zones, equally, by parallel fences
// that run in a direction, degrees clockwise from north. Holes count as nothing. Parts are numbered across the
// fences. Zones lie inside the ground and do not overlap.
func Divide(g Region, n int, direction float64, zones ...Zone) (Division, error) {
	if n < 1 || n > MostDivided {
		return Division{}, quantity.Refuse("parts", n, "must be between 1 and %d paddocks", MostDivided)
	}
	s := newSweep(g, zones, direction)
	if s.total <= 0 {
		return Division{}, nothingThere()
	}
	return s.divide(s.equalCuts(n)), nil
}

func nothingThere() error {
	return quantity.Refuse("zones", nil, "there is nothing on this ground to share out")
}

// hair is the share of all the ground that no fence can tell.
const hair = 5e-7

// DivideBySize cuts ground into parts of a size, hectares or the zones' weight, by parallel fences. The last part is
// what is left over; it may be smaller.
func DivideBySize(g Region, size, direction float64, zones ...Zone) (Division, error) {
	s := newSweep(g, zones, direction)
	if s.total <= 0 {
		return Division{}, nothingThere()
	}
	if size <= 0 || s.total/metresSquared/size > MostDivided {
		return Division{}, quantity.Refuse("size", size, "paddocks of this size would be more than %d", MostDivided)
	}
	// A hair more or less than a whole number of paddocks is shared out among them all: it makes no paddock of its own,
	// and no single one larger than it was to be.
	wanted := s.total / metresSquared / size
	if n := math.Round(wanted); n >= 1 && math.Abs(wanted-n) <= wanted*hair {
		return s.divide(s.equalCuts(int(n))), nil
	}
	var cuts []float64
	for k := 1; float64(k) < wanted; k++ {
		cuts = append(cuts, s.lineAt(float64(k)*size*metresSquared))
	}
	return s.divide(cuts), nil
}

// Strips cuts ground into strips of a width, metres, numbered from the left of the direction, or from the right when
// reversed. The last strip is what is left over; where that is not worth fencing it stays with the one before.
func Strips(g Region, width, direction float64, reverse bool, zones ...Zone) (Division, error) {
	if reverse {
		direction += 180
	}
	turn := math.Mod(math.Mod(direction, 360)+360, 360)
	s := newSweep(g, zones, direction)
	across := s.high - s.low
	if width <= 0 || across/width > MostDivided {
		return Division{}, quantity.Refuse("width_m", width, "strips of this width would be more than %d across %s", MostDivided, metres(across))
	}
	n := int(math.Ceil(across/width - 1e-6))
	if n > 1 {
		left := turnedArea(s.ground, s.low+float64(n-1)*width, math.Inf(1))
		if turn >= 180 {
			left = turnedArea(s.ground, math.Inf(-1), s.high-float64(n-1)*width)
		}
		if left < LeastAreaHa {
			n--
		}
	}
	var cuts []float64
	for k := 1; k < n; k++ {
		cuts = append(cuts, s.low+float64(k)*width)
	}
	if turn < 180 {
		return s.divide(cuts), nil
	}
	// From the right: the fences are laid from the far edge, and the strips counted from there.
	for i := range cuts {
		cuts[len(cuts)-1-i] = s.high - float64(i+1)*width
	}
	d := s.divide(cuts)
	for i, j := 0, len(d.Parts)-1; i < j; i, j = i+1, j-1 {
		d.Parts[i], d.Parts[j] = d.Parts[j], d.Parts[i]
	}
	for i := range d.Parts {
		p := &d.Parts[i]
		p.FrontFenceM, p.BackFenceM = p.BackFenceM, p.FrontFenceM
	}
	d.Direction = turn
	return d, nil
}

// metres is a length inside a sentence, to the metre.
func metres(m float64) quantity.Said {
	return quantity.Said{Value: math.Round(m), Unit: quantity.Metre}
}

// turnedArea is how much ground lies between two upright lines, ha.
func turnedArea(g Region, left, right float64) float64 {
	loops, _ := clip(g, left, right)
	return loops.AreaHa()
}

// NearestWhole finds the direction closest to the one given in which no part of an equal division falls into pieces,
// looking in steps of one degree. ok is false when there is none.
func NearestWhole(g Region, n int, direction float64, zones ...Zone) (best float64, ok bool) {
	for step := 1.0; step <= 90; step++ {
		for _, candidate := range []float64{direction + step, direction - step} {
			if d, err := Divide(g, n, candidate, zones...); err == nil && d.Whole {
				return d.Direction, true
			}
		}
	}
	return 0, false
}

// LeastFence finds the direction in which n equal parts need least new fence: every second degree is tried, then
// the best is closed in on. fenceM is what it takes there.
func LeastFence(g Region, n int, zones ...Zone) (direction, fenceM float64) {
	try := func(at float64) float64 {
		s := newSweep(g, zones, at)
		if s.total <= 0 {
			return math.Inf(1)
		}
		return s.fenceM(s.equalCuts(n))
	}
	fenceM = math.Inf(1)
	for at := 0.0; at < 180; at += 2 {
		if f := try(at); f < fenceM {
			direction, fenceM = at, f
		}
	}
	for step := 1.0; step > 0.05; step /= 2 {
		for _, at := range []float64{direction - step, direction + step} {
			if f := try(at); f < fenceM {
				direction, fenceM = at, f
			}
		}
	}
	if math.IsInf(fenceM, 1) {
		return 0, fenceM // there is nothing to share out
	}
	s := newSweep(g, zones, direction)
	return math.Mod(direction+180, 180), s.divide(s.equalCuts(n)).NewFenceM // the search counts fences round crumbs too
}

// LongestSide is the direction of the longest straight run of the outer boundary; corners that turn it less than two
// degrees do not end the run.
func LongestSide(g Region) float64 {
	var direction, longest float64
	for _, r := range g {
		if r.SignedArea() <= 0 {
			continue
		}
		n := len(r)
		for i := range r {
			end := i + 1
			first := bearing(r[i], r[end%n])
			for end-i < n && math.Abs(turned(first, bearing(r[end%n], r[(end+1)%n]))) < 2 {
				end++
			}
			if length := distance(r[i], r[end%n]); length > longest {
				longest, direction = length, bearing(r[i], r[end%n])
			}
		}
	}
	return math.Mod(direction, 180)
}

// bearing from one point to another, degrees clockwise from north, 0…360.
func bearing(a, b Point) float64 {
	return math.Mod(degrees(math.Atan2(b.X-a.X, b.Y-a.Y))+360, 360)
}

// turned is how far a second bearing turns from the first, −180…180.
func turned(a, b float64) float64 { return math.Mod(b-a+540, 360) - 180 }

// MostParts is the largest number of equal parts in a direction that are all at least so wide, metres.
func MostParts(g Region, from int, direction, leastWidthM float64, zones ...Zone) int {
	s := newSweep(g, zones, direction)
	for n := from; n > 1; n-- {
		if s.narrowest(s.equalCuts(n)) >= leastWidthM-1e-6 {
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

// pieces counts the outer rings.
func (g Region) pieces() int {
	n := 0
	for _, r := range g {
		if r.SignedArea() > 0 {
			n++
		}
	}
	return n
}
