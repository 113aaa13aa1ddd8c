package land

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// ground draws a concave field, sometimes with holes and a lane through it.
func ground(t *rapid.T) (Region, Path) {
	g := Region{star(t, "outer", 0, 0, 140, 400)}
	for h := rapid.IntRange(0, 2).Draw(t, "holes"); h > 0; h-- {
		g = append(g, reversed(star(t, fmt.Sprintf("hole%d", h), float64(h*70-105), 10, 5, 25)))
	}
	if !rapid.Bool().Draw(t, "lane") {
		return g, nil
	}
	line := Path{{-500, rapid.Float64Range(-90, 90).Draw(t, "from")}, {rapid.Float64Range(-50, 50).Draw(t, "bend"), 60}, {500, rapid.Float64Range(-90, 90).Draw(t, "to")}}
	lane, err := Lane(line, 8)
	require.NoError(t, err)
	g, err = Without(g, lane)
	require.NoError(t, err)
	return g, line
}

// zonesOf lays two strips of other growth over the ground, so that zones part it.
func zonesOf(t *rapid.T, g Region) []Zone {
	bands, err := Divide(g, 3, rapid.Float64Range(0, 180).Draw(t, "zoneDirection"))
	require.NoError(t, err)
	var out []Zone
	for i, p := range bands.Parts {
		out = append(out, Zone{p.Region, rapid.Float64Range(300, 3000).Draw(t, fmt.Sprintf("weight%d", i))})
	}
	return out
}

func requireCover(t *rapid.T, g Region, d Division) {
	sum, boundary := 0.0, 0.0
	for _, p := range d.Parts {
		sum += p.AreaHa
		boundary += p.FenceM
		assert.InDelta(t, p.AreaHa, p.Region.AreaHa(), 1e-9)
		assert.Greater(t, p.Region.SignedLargest(), 0.0)
	}
	assert.InEpsilon(t, g.AreaHa(), sum, 1e-6, "parts cover the ground and do not overlap")
	assert.InEpsilon(t, g.FenceM()+2*d.NewFenceM, boundary, 1e-4, "every new fence stands between two parts, the same on both sides")
}

// requireShared checks that each new fence is the same to the last bit on both its sides.
func requireShared(t *rapid.T, d Division) {
	edges := map[[2]Point]int{}
	for _, p := range d.Parts {
		for _, r := range p.Region {
			for i := range r {
				edges[[2]Point{r[i], r[(i+1)%len(r)]}]++
			}
		}
	}
	for _, c := range d.Cuts {
		for i := 1; i < len(c); i++ {
			assert.Equal(t, 1, edges[[2]Point{c[i-1], c[i]}], "one paddock has the fence on its left")
			assert.Equal(t, 1, edges[[2]Point{c[i], c[i-1]}], "and one on its right, with the same corners")
		}
	}
}

// SignedLargest is the area of the largest ring.
func (g Region) SignedLargest() float64 {
	best := 0.0
	for _, r := range g {
		best = math.Max(best, r.SignedArea())
	}
	return best
}

func TestEqualFeedProperties(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		g, _ := ground(t)
		zones := zonesOf(t, g)
		n := rapid.IntRange(1, 14).Draw(t, "n")
		d, err := Divide(g, n, rapid.Float64Range(0, 180).Draw(t, "direction"), zones...)
		require.NoError(t, err)
		requireCover(t, g, d)
		requireShared(t, d)
		for _, p := range d.Parts {
			feed := 0.0
			for _, z := range zones {
				common, err := OverlapHa(p.Region, z.Region)
				require.NoError(t, err)
				feed += common * z.Weight
			}
			assert.InEpsilon(t, d.Parts[0].Weight, p.Weight, 1e-6)
			assert.InEpsilon(t, p.Weight, feed, 1e-3, "measured by overlay, the feed is equal too")
		}
	})
}

// A tip of ground that a fence would cut off by less than a hand stays with the part it hangs on: it was left out of the one
// side and its fence kept on the other.
func TestACrumbStaysWhereItHangs(t *testing.T) {
	for _, over := range []float64{-0.0005, -1e-9, 0, 1e-9, 0.0002, 0.0005} {
		tip, g := 50.0, Region(nil)
		for range 20 { // the fence moves a little with the tip
			g = Region{Ring{{0, 0}, {100, 0}, {100, 40}, {10, 40}, {tip, 50}, {0, 60}}}
			tip = newSweep(g, nil, 0).equalCuts(2)[0] + over
		}
		for _, direction := range []float64{0, 180} {
			d, err := Divide(g, 2, direction)
			require.NoError(t, err)
			assert.True(t, d.Whole, "%g m over", over)
			require.Len(t, d.Cuts, 1)
			assert.InDelta(t, 40, d.NewFenceM, 0.01)
			rings, area := 0, 0.0
			for _, p := range d.Parts {
				rings += len(p.Region)
				area += p.AreaHa
			}
			assert.Equal(t, 2, rings)
			assert.InDelta(t, g.AreaHa(), area, 1e-12, "nothing of the ground is lost")
		}
	}
}

func TestSizesAndStripsProperties(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		g, _ := ground(t)
		direction := rapid.Float64Range(0, 360).Draw(t, "direction")
		size := rapid.Float64Range(0.4, 4).Draw(t, "size")
		d, err := DivideBySize(g, size, direction)
		require.NoError(t, err)
		requireCover(t, g, d)
		for i, p := range d.Parts {
			if i < len(d.Parts)-1 {
				assert.InEpsilon(t, size, p.AreaHa, 1e-6)
			} else {
				assert.LessOrEqual(t, p.AreaHa, size*(1+1e-5), "the last is what is left over")
			}
		}
		width := rapid.Float64Range(20, 120).Draw(t, "width")
		reverse := rapid.Bool().Draw(t, "reverse")
		d, err = Strips(g, width, direction, reverse)
		require.NoError(t, err)
		requireCover(t, g, d)
		for i, p := range d.Parts {
			if i < len(d.Parts)-1 {
				assert.InDelta(t, width, p.WidthM, 1e-6)
				assert.InDelta(t, p.FrontFenceM, d.Parts[i+1].BackFenceM, 1e-6, "a front fence is the next strip's back fence")
			}
		}
		// Strips are counted from the left of the direction, so the first lies that way.
		if len(d.Parts) > 2 {
			if reverse {
				direction += 180
			}
			sin, cos := math.Sincos(radians(direction))
			left := func(p Point) float64 { return -p.X*cos + p.Y*sin }
			first, last := d.Parts[0].Region.Inside(), d.Parts[len(d.Parts)-1].Region.Inside()
			assert.Greater(t, left(first), left(last))
		}
	})
}

// A hair over a whole number of paddocks went to the last one, which was then larger than any was to be.
func TestAHairMoreThanWholePaddocksIsSharedOut(t *testing.T) {
	for _, over := range []float64{-4e-7, 0, 4e-7} {
		const parts, size = 24, 0.4
		length := parts * size * 10000 / 100 * (1 + over)
		g := Region{Ring{{0, 0}, {length, 0}, {length, 100}, {0, 100}}}
		d, err := DivideBySize(g, size, 0)
		require.NoError(t, err)
		require.Len(t, d.Parts, parts, "no paddock of a hair")
		for _, p := range d.Parts {
			assert.InEpsilon(t, size, p.AreaHa, 1e-6)
		}
	}
	d, err := DivideBySize(Region{Ring{{0, 0}, {985, 0}, {985, 100}, {0, 100}}}, 0.4, 0)
	require.NoError(t, err)
	require.Len(t, d.Parts, 25)
	assert.InEpsilon(t, 0.25, d.Parts[24].AreaHa, 1e-6, "the last is what is left over")
}

func TestAroundWaterProperties(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		g, lane := ground(t)
		water := Point{rapid.Float64Range(-30, 30).Draw(t, "x"), rapid.Float64Range(60, 90).Draw(t, "y")}
		if !g.Contains(water) {
			return // in the lane
		}
		var zones []Zone
		if rapid.Bool().Draw(t, "zoned") {
			zones = zonesOf(t, g)
		}
		n := rapid.IntRange(2, 12).Draw(t, "n")
		d, err := DivideAround(g, n, water, rapid.Float64Range(0, 360).Draw(t, "start"), zones...)
		require.NoError(t, err)
		requireCover(t, g, d)
		requireShared(t, d)
		for _, p := range d.Parts {
			// What lies within a metre behind water that stands on an edge goes to whichever cell it hangs on.
			assert.InEpsilon(t, d.Parts[0].Weight, p.Weight, 1e-4, "equal shares")
			if len(zones) == 0 {
				assert.InEpsilon(t, g.AreaHa()/float64(n), p.AreaHa, 1e-4)
			}
			assert.True(t, p.Touches || p.Pieces > 1 || lane != nil, "every cell that is not cut off reaches the water")
		}
	})
}

func TestAlongALaneProperties(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		g, lane := ground(t)
		if lane == nil {
			return
		}
		n := rapid.IntRange(4, 16).Draw(t, "n")
		d, err := DivideAlong(g, n, lane)
		require.NoError(t, err)
		require.Len(t, d.Parts, n)
		requireCover(t, g, d)
	})
	field := Region{{{0, 0}, {400, 0}, {400, 200}, {0, 200}}}
	line := Path{{0, 100}, {400, 100}}
	lane, err := Lane(line, 6)
	require.NoError(t, err)
	assert.InDelta(t, 0.24, lane.AreaHa(), 1e-9)
	rest, err := Without(field, lane)
	require.NoError(t, err)
	d, err := DivideAlong(rest, 8, line)
	require.NoError(t, err)
	for _, p := range d.Parts {
		assert.InDelta(t, rest.AreaHa()/8, p.AreaHa, 1e-9)
		assert.True(t, p.Touches, "every cell opens on the lane")
	}
	assert.InDelta(t, 6*97, d.NewFenceM, 1e-6)
}

// Whichever way the lane was drawn, the front fence of a cell is the back fence of the next.
func TestCellsAlongALaneShareTheirFences(t *testing.T) {
	field := Region{{{0, 0}, {400, 0}, {430, 200}, {-60, 200}}} // askew, so that no two fences are as long
	for name, line := range map[string]Path{"east": {{-100, 100}, {500, 100}}, "west": {{500, 100}, {-100, 100}}} {
		lane, err := Lane(line, 6)
		require.NoError(t, err)
		rest, err := Without(field, lane)
		require.NoError(t, err)
		d, err := DivideAlong(rest, 8, line)
		require.NoError(t, err)
		for _, side := range [][]Part{d.Parts[:4], d.Parts[4:]} {
			assert.Zero(t, side[0].BackFenceM, "%s: before the first there is none", name)
			assert.Zero(t, side[3].FrontFenceM, name)
			for i := 1; i < len(side); i++ {
				assert.InDelta(t, side[i-1].FrontFenceM, side[i].BackFenceM, 1e-9, name)
			}
		}
	}
}

func TestAStripWorthFencingOrNone(t *testing.T) {
	for _, over := range []float64{0, 1e-4, 0.05, 0.2} { // what is left over of a field of ten strips, metres
		field := Region{{{0, 0}, {300 + over, 0}, {300 + over, 40}, {0, 40}}}
		for _, reverse := range []bool{false, true} {
			d, err := Strips(field, 30, 0, reverse)
			require.NoError(t, err)
			require.Len(t, d.Parts, 10, "%g m over", over)
			for i, p := range d.Parts {
				assert.GreaterOrEqual(t, p.AreaHa, LeastAreaHa)
				assert.InDelta(t, 30, p.WidthM, over+1e-6, "strip %d", i)
			}
		}
	}
	d, err := Strips(Region{{{0, 0}, {301, 0}, {301, 40}, {0, 40}}}, 30, 0, false)
	require.NoError(t, err)
	assert.Len(t, d.Parts, 11, "40 m² can be fenced")
}

func TestWaterOnTheEdgeFansOut(t *testing.T) {
	field := Region{{{0, 0}, {200, 0}, {200, 100}, {0, 100}}}
	for _, water := range []Point{{100, 0}, {0, 0}, {200, 60}} {
		d, err := DivideAround(field, 5, water, 30)
		require.NoError(t, err)
		for _, p := range d.Parts {
			assert.InDelta(t, 0.4, p.AreaHa, 1e-6)
			assert.Equal(t, 1, p.Pieces)
			assert.True(t, p.Touches)
		}
	}
	_, err := DivideAround(field, 5, Point{500, 0}, 30)
	assert.ErrorContains(t, err, "300 m from the ground")
}

func TestLeastFenceBeatsEveryDirection(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		g, _ := ground(t)
		n := rapid.IntRange(2, 8).Draw(t, "n")
		direction, least := LeastFence(g, n)
		d, err := Divide(g, n, direction)
		require.NoError(t, err)
		assert.InDelta(t, least, d.NewFenceM, 1e-6, "the length told is the length built")
		other, err := Divide(g, n, float64(rapid.IntRange(0, 89).Draw(t, "other")*2))
		require.NoError(t, err)
		assert.LessOrEqual(t, least, other.NewFenceM+0.5, "but for crumbs, which need no fence")
	})
	long := Region{{{0, 0}, {500, 0}, {500, 100}, {0, 100}}}
	direction, least := LeastFence(long, 4)
	assert.InDelta(t, 0, math.Mod(direction+90, 180)-90, 0.1)
	assert.InDelta(t, 300, least, 1)
	assert.InDelta(t, 90, LongestSide(long), 1e-9)
}

func benchField(corners int) Region {
	rng := rand.New(rand.NewPCG(5, 3))
	ring := make(Ring, corners)
	for i := range ring {
		d := 250 + 100*rng.Float64()
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / float64(corners))
		ring[i] = Point{d * cos, d * sin}
	}
	return Region{ring}
}

func BenchmarkDivide500Into40(b *testing.B) {
	g := benchField(500)
	for b.Loop() {
		if _, err := Divide(g, 40, 33); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkAroundWater500Into40(b *testing.B) {
	g := benchField(500)
	for b.Loop() {
		if _, err := DivideAround(g, 40, Point{10, 10}, 33); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkLeastFence500Into40(b *testing.B) {
	g := benchField(500)
	for b.Loop() {
		LeastFence(g, 40)
	}
}
