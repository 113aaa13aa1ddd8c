package land

import (
	"math"
	"sort"

	"fjell/core/quantity"
)

// Height is a measured height at a place, m.
type Height struct {
	At     Position
	Height float64
}

// Heights is a grid of heights: rows from north to south, NaN where there is none. At gives the place of a column
// and row, which may lie between grid points.
type Heights struct {
	Columns, Rows int
	Values        []float64
	At            func(column, row float64) Position
}

// Contour is a line of equal height.
type Contour struct {
	Height float64    `json:"height_m"`
	Line   []Position `json:"line"`
}

// MostContourPoints keeps the drawing light.
const MostContourPoints = 60000

// Contours draws lines of equal height every step metres, by marching squares (Lorensen and Cline 1987, in the
// plane). The saddle is split by the mean of its corners.
func Contours(h Heights, step float64) ([]Contour, error) {
	if step <= 0 || math.IsNaN(step) {
		return nil, quantity.Refuse("step_m", step, "contours need a step above zero")
	}
	low, high := math.Inf(1), math.Inf(-1)
	for _, v := range h.Values {
		if !math.IsNaN(v) {
			low, high = math.Min(low, v), math.Max(high, v)
		}
	}
	if (high-low)/step > 300 {
		return nil, quantity.Refuse("step_m", step, "from %s to %s this step draws more than 300 lines: take a larger one", metres(low), metres(high))
	}
	var out []Contour
	points := 0
	for k := math.Ceil(low / step); k*step <= high; k++ {
		for _, line := range h.level(k * step) {
			c := Contour{Height: k * step}
			for _, p := range line {
				c.Line = append(c.Line, h.At(p.X, p.Y))
			}
			if points += len(c.Line); points > MostContourPoints {
				return nil, quantity.Refuse("step_m", step, "this step draws more than %d points: take a larger one", MostContourPoints)
			}
			out = append(out, c)
		}
	}
	return out, nil
}

// level joins the stretches of one height, in columns and rows.
func (h Heights) level(z float64) []Path {
	at := func(c, r int) float64 { return h.Values[r*h.Columns+c] }
	next := map[Point]Point{}
	for r := 0; r+1 < h.Rows; r++ {
		for c := 0; c+1 < h.Columns; c++ {
			v := [4]float64{at(c, r), at(c+1, r), at(c+1, r+1), at(c, r+1)} // around from the north-west
			if math.IsNaN(v[0] + v[1] + v[2] + v[3]) {
				continue
			}
			corner := [4]Point{{float64(c), float64(r)}, {float64(c + 1), float64(r)}, {float64(c + 1), float64(r + 1)}, {float64(c), float64(r + 1)}}
			var in, out []Point // where the line enters and leaves, with the high ground on one hand
			for i := range v {
				j := (i + 1) % 4
				if (v[i] >= z) == (v[j] >= z) {
					continue
				}
				a, b, va, vb := corner[i], corner[j], v[i], v[j]
				if a.X > b.X || a.Y > b.Y { // the same order from both cells
					a, b, va, vb = b, a, vb, va
				}
				t := (z - va) / (vb - va)
				p := Point{a.X + t*(b.X-a.X), a.Y + t*(b.Y-a.Y)}
				if v[i] >= z {
					in = append(in, p)
				} else {
					out = append(out, p)
				}
			}
			if len(in) == 2 && ((v[0]+v[1]+v[2]+v[3])/4 >= z) == (v[0] >= z) {
				out[0], out[1] = out[1], out[0]
			}
			for i := range in {
				if in[i] != out[i] {
					next[in[i]] = out[i]
				}
			}
		}
	}
	starts := make([]Point, 0, len(next))
	ends := map[Point]bool{}
	for _, to := range next {
		ends[to] = true
	}
	for from := range next {
		starts = append(starts, from)
	}
	sort.Slice(starts, func(i, j int) bool {
		if a, b := ends[starts[i]], ends[starts[j]]; a != b {
			return !a // open lines first, from their ends
		}
		return starts[i].Y < starts[j].Y || starts[i].Y == starts[j].Y && starts[i].X < starts[j].X
	})
	var lines []Path
	for _, s := range starts {
		line := Path{s}
		for p, ok := next[s]; ok; p, ok = next[p] {
			delete(next, line[len(line)-1])
			line = append(line, p)
		}
		if len(line) > 1 {
			lines = append(lines, line)
		}
	}
	return lines
}

// HeightsFrom spreads measured heights over a grid of so many cells along the longer side, by inverse squared
// distance to the nearest eight. Cells farther from any height than a quarter of the ground stay empty.
func HeightsFrom(points []Height, cells int) (Heights, error) {
	if len(points) < 6 {
		return Heights{}, quantity.Refuse("heights", len(points), "at least six heights are needed")
	}
	plane := NewPlane(points[0].At)
	low, high := Point{math.Inf(1), math.Inf(1)}, Point{math.Inf(-1), math.Inf(-1)}
	at := make([]Point, len(points))
	for i, p := range points {
		at[i] = plane.Forward(p.At)
		low.X, low.Y = math.Min(low.X, at[i].X), math.Min(low.Y, at[i].Y)
		high.X, high.Y = math.Max(high.X, at[i].X), math.Max(high.Y, at[i].Y)
	}
	size := math.Max(high.X-low.X, high.Y-low.Y)
	if size < 1 {
		return Heights{}, quantity.Refuse("heights", nil, "these heights all lie in one place")
	}
	cell := size / float64(cells)
	h := Heights{Columns: int((high.X-low.X)/cell) + 2, Rows: int((high.Y-low.Y)/cell) + 2}
	h.At = func(c, r float64) Position { return plane.Inverse(Point{low.X + c*cell, high.Y - r*cell}) }
	type near struct{ d2, z float64 }
	for r := range h.Rows {
		for c := range h.Columns {
			here := Point{low.X + float64(c)*cell, high.Y - float64(r)*cell}
			best := make([]near, 0, 9)
			for i, p := range at {
				d2 := (p.X-here.X)*(p.X-here.X) + (p.Y-here.Y)*(p.Y-here.Y)
				if len(best) == 8 && d2 >= best[7].d2 {
					continue
				}
				k := sort.Search(len(best), func(k int) bool { return best[k].d2 > d2 })
				best = append(best, near{})
				copy(best[k+1:], best[k:])
				best[k] = near{d2, points[i].Height}
				best = best[:min(8, len(best))]
			}
			value := math.NaN()
			if best[0].d2 < size*size/16 {
				var sum, weight float64
				for _, b := range best {
					w := 1 / (b.d2 + 0.01)
					sum, weight = sum+w*b.z, weight+w
				}
				value = sum / weight
			}
			h.Values = append(h.Values, value)
		}
	}
	return h, nil
}
