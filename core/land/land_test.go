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

func square(lon, lat, metres float64) Shape {
	p := NewPlane(Position{lon, lat})
	var ring []Position
	for _, c := range []Point{{0, 0}, {metres, 0}, {metres, metres}, {0, metres}, {0, 0}} {
		ring = append(ring, p.Inverse(c))
	}
	return Shape{{ring}}
}

// ellipsoidBand is the exact area between two parallels and two meridians, m², by quadrature of M · N · cos φ.
func ellipsoidBand(lat0, lat1, lon0, lon1 float64) float64 {
	const n = 2000
	sum := 0.0
	for i := 0; i < n; i++ {
		phi := radians(lat0 + (lat1-lat0)*(float64(i)+0.5)/n)
		w := 1 - eccentric2*math.Pow(math.Sin(phi), 2)
		sum += semiMajor * semiMajor * (1 - eccentric2) * math.Cos(phi) / (w * w)
	}
	return sum * radians(lat1-lat0) / n * radians(lon1-lon0)
}

func TestAreaIsThatOfTheEllipsoid(t *testing.T) {
	for _, lat := range []float64{-44, 0.5, 44, 61, 78} {
		lon0, lon1, lat0, lat1 := 7.0, 7.02, lat, lat+0.01
		// Many corners along the parallels, which are not straight on the plane.
		var ring []Position
		for i := 0; i <= 200; i++ {
			ring = append(ring, Position{lon0 + (lon1-lon0)*float64(i)/200, lat0})
		}
		for i := 200; i >= 0; i-- {
			ring = append(ring, Position{lon0 + (lon1-lon0)*float64(i)/200, lat1})
		}
		ring = append(ring, ring[0])
		s := Shape{{ring}}
		got := NewPlane(Position{7.1, lat + 0.1}).Project(s).AreaHa() * 10000
		assert.InEpsilon(t, ellipsoidBand(lat0, lat1, lon0, lon1), got, 1e-6, "at %g°", lat)
	}
}

func TestPlaneReturnsAndKeepsLengths(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		centre := Position{rapid.Float64Range(-179, 179).Draw(t, "lon"), rapid.Float64Range(-80, 80).Draw(t, "lat")}
		p := NewPlane(centre)
		pt := Point{rapid.Float64Range(-5000, 5000).Draw(t, "x"), rapid.Float64Range(-5000, 5000).Draw(t, "y")}
		back := p.Forward(p.Inverse(pt))
		assert.InDelta(t, pt.X, back.X, 1e-6)
		assert.InDelta(t, pt.Y, back.Y, 1e-6)
	})
	// A degree of latitude at 45° is 111 132 m on the ellipsoid.
	p := NewPlane(Position{10, 45})
	a, b := p.Forward(Position{10, 44.995}), p.Forward(Position{10, 45.005})
	assert.InEpsilon(t, 1111.32, distance(a, b), 1e-5)
}

// star draws a concave ring around a point: corners in angular order at wild distances never cross.
func star(t *rapid.T, name string, x, y, least, most float64) Ring {
	n := rapid.IntRange(5, 40).Draw(t, name)
	r := make(Ring, n)
	for i := range r {
		d := rapid.Float64Range(least, most).Draw(t, fmt.Sprintf("%s%d", name, i))
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / float64(n))
		r[i] = Point{x + d*cos, y + d*sin}
	}
	return r
}

func reversed(r Ring) Ring {
	out := make(Ring, len(r))
	for i := range r {
		out[len(r)-1-i] = r[i]
	}
	return out
}

func TestDivisionProperties(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		g := Region{star(t, "outer", 0, 0, 120, 400)}
		for h := rapid.IntRange(0, 2).Draw(t, "holes"); h > 0; h-- {
			g = append(g, reversed(star(t, fmt.Sprintf("hole%d", h), float64(h*70-105), 10, 5, 25)))
		}
		n := rapid.IntRange(1, 24).Draw(t, "n")
		direction := rapid.Float64Range(0, 180).Draw(t, "direction")
		if rapid.Bool().Draw(t, "upright") {
			direction = 0 // corners then share an x with the cuts more often
		}
		d, err := Divide(g, n, direction)
		require.NoError(t, err)
		require.Len(t, d.Parts, n)
		whole, sum := g.AreaHa(), 0.0
		for _, p := range d.Parts {
			assert.InEpsilon(t, whole/float64(n), p.AreaHa, 1e-6, "equal parts")
			assert.InDelta(t, p.AreaHa, p.Region.AreaHa(), 1e-9*whole)
			assert.GreaterOrEqual(t, p.Pieces, 1)
			sum += p.AreaHa
		}
		assert.InEpsilon(t, whole, sum, 1e-9, "parts join to the whole")
		shared, boundary := 0.0, 0.0
		for _, p := range d.Parts {
			shared += p.NewFenceM()
			boundary += p.FenceM
		}
		assert.InDelta(t, 2*d.NewFenceM, shared, 1e-6, "every new fence stands between two parts")
		assert.InDelta(t, g.FenceM()+2*d.NewFenceM, boundary, 1e-6*boundary, "boundaries are the old fence and the new")
		probe := Point{rapid.Float64Range(-300, 300).Draw(t, "px"), rapid.Float64Range(-300, 300).Draw(t, "py")}
		inside, parts := regionHas(g, probe), 0
		for _, p := range d.Parts {
			if regionHas(p.Region, probe) {
				parts++
			}
		}
		if inside {
			assert.Equal(t, 1, parts, "a spot of the field lies in exactly one part")
		} else {
			assert.Zero(t, parts, "no part leaves the field")
		}
	})
}

func regionHas(g Region, p Point) bool {
	in := false
	for _, r := range g {
		if r.contains(p) {
			in = !in
		}
	}
	return in
}

func TestNeighboursShareTheirCorners(t *testing.T) {
	plane := NewPlane(Position{9, 61})
	g := plane.Project(square(9, 61, 300))
	d, err := Divide(g, 5, 17)
	require.NoError(t, err)
	for i := 0; i+1 < len(d.Parts); i++ {
		left, right := map[Position]bool{}, 0
		for _, pos := range plane.Unproject(d.Parts[i].Region)[0][0] {
			left[pos] = true
		}
		for _, pos := range plane.Unproject(d.Parts[i+1].Region)[0][0][1:] {
			if left[pos] {
				right++
			}
		}
		assert.Equal(t, 2, right, "both ends of the fence between parts %d and %d", i+1, i+2)
	}
}

func TestConcaveFieldFallsIntoPiecesAndAWholeDirectionIsFound(t *testing.T) {
	// A U open to the north: upright halves are whole, level ones are not.
	u := Region{{{0, 0}, {300, 0}, {300, 300}, {200, 300}, {200, 50}, {100, 50}, {100, 300}, {0, 300}}}
	level, err := Divide(u, 2, 90)
	require.NoError(t, err)
	assert.False(t, level.Whole)
	best, ok := NearestWhole(u, 2, 90)
	require.True(t, ok)
	whole, err := Divide(u, 2, best)
	require.NoError(t, err)
	assert.True(t, whole.Whole)
}

func TestMostPartsKeepsTheWidth(t *testing.T) {
	g := Region{{{0, 0}, {240, 0}, {240, 100}, {0, 100}}}
	assert.Equal(t, 12, MostParts(g, 40, 0, 20))
	assert.Equal(t, 5, MostParts(g, 40, 90, 20))
}

func TestExclusionsTakeGroundOut(t *testing.T) {
	field := Region{{{0, 0}, {200, 0}, {200, 100}, {0, 100}}}
	pond := Region{{{50, 20}, {90, 20}, {90, 60}, {50, 60}}}
	edge := Region{{{180, -10}, {230, -10}, {230, 50}, {180, 50}}}
	rest, err := Without(field, pond, edge)
	require.NoError(t, err)
	assert.InDelta(t, 2-0.16-0.1, rest.AreaHa(), 1e-9)
	overlap, err := OverlapHa(field, edge)
	require.NoError(t, err)
	assert.InDelta(t, 0.1, overlap, 1e-9)
	d, err := Divide(rest, 3, 0)
	require.NoError(t, err)
	for _, p := range d.Parts {
		assert.InEpsilon(t, rest.AreaHa()/3, p.AreaHa, 1e-9, "equal means grazeable area")
	}
}

func TestCheckRefuses(t *testing.T) {
	ring := func(ps ...Position) Shape { return Shape{{ps}} }
	a, b, c, d := Position{9, 61}, Position{9.01, 61}, Position{9.01, 61.01}, Position{9, 61.01}
	cases := []struct {
		name, says string
		shape      Shape
	}{
		{"nothing", "no ground", Shape{}},
		{"open", "is open", ring(a, b, c, d)},
		{"two corners", "three different corners", ring(a, b, a)},
		{"no area", "no area", ring(a, b, Position{9.005, 61}, a)},
		{"bow tie", "crosses itself", ring(a, c, b, d, a)},
		{"metres", "another projection", ring(Position{431000, 6770000}, b, c, Position{431000, 6770000})},
		{"not a number", "off the world", ring(a, Position{math.NaN(), 61}, c, a)},
		{"hole outside", "inside the field", Shape{{{a, b, c, d, a}, {{10, 61}, {10.01, 61}, {10.01, 61.01}, {10, 61}}}}},
	}
	for _, k := range cases {
		err := Check("shape", k.shape)
		require.Error(t, err, k.name)
		assert.Contains(t, err.Error(), k.says, k.name)
	}
	assert.NoError(t, Check("shape", ring(a, b, c, d, a)))
	assert.NoError(t, Check("shape", Shape{{{a, d, c, b, a}}}), "either way round")
}

func BenchmarkDivide200Into24(b *testing.B) {
	rng := rand.New(rand.NewPCG(7, 7))
	ring := make(Ring, 200)
	for i := range ring {
		d := 200 + 150*rng.Float64()
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / 200)
		ring[i] = Point{d * cos, d * sin}
	}
	g := Region{ring}
	for b.Loop() {
		if _, err := Divide(g, 24, 33); err != nil {
			b.Fatal(err)
		}
	}
}

func TestGroundInTwoPiecesIsDividedAsOne(t *testing.T) {
	g := Region{{{0, 0}, {100, 0}, {100, 100}, {0, 100}}, {{200, 0}, {300, 0}, {300, 100}, {200, 100}}}
	d, err := Divide(g, 4, 0)
	require.NoError(t, err)
	for _, p := range d.Parts {
		assert.InDelta(t, 0.5, p.AreaHa, 1e-9)
		assert.Equal(t, 1, p.Pieces)
	}
	d, err = Divide(g, 2, 90)
	require.NoError(t, err)
	assert.Equal(t, 2, d.Parts[0].Pieces, "a level fence crosses both")
	assert.Len(t, d.Cuts, 2, "one stretch of fence in each")
}

func TestDivisionTurnsWithTheGround(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		g := Region{star(t, "outer", 30, -20, 100, 300)}
		n := rapid.IntRange(2, 9).Draw(t, "n")
		turn := rapid.Float64Range(0, 90).Draw(t, "turn")
		direction := rapid.Float64Range(0, 90).Draw(t, "direction")
		sin, cos := math.Sincos(radians(turn))
		turned := Region{make(Ring, len(g[0]))}
		for i, p := range g[0] {
			turned[0][i] = Point{p.X*cos + p.Y*sin, p.Y*cos - p.X*sin} // clockwise, as a bearing turns
		}
		a, err := Divide(g, n, direction)
		require.NoError(t, err)
		b, err := Divide(turned, n, direction+turn)
		require.NoError(t, err)
		for i := range a.Parts {
			j := i
			if direction+turn >= 180 {
				j = n - 1 - i
			}
			assert.InDelta(t, a.Parts[i].FenceM, b.Parts[j].FenceM, 1e-5)
		}
		assert.InDelta(t, a.NewFenceM, b.NewFenceM, 1e-5, "the same fence on the same ground")
		opposite, err := Divide(g, n, direction+180)
		require.NoError(t, err)
		assert.InDelta(t, a.NewFenceM, opposite.NewFenceM, 1e-6, "a fence has two ends")
	})
}

func TestWidthsAgreeWithTheOffer(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		g := Region{star(t, "outer", 0, 0, 80, 200)}
		direction := rapid.Float64Range(0, 180).Draw(t, "direction")
		least := rapid.Float64Range(5, 60).Draw(t, "least")
		most := MostParts(g, 40, direction, least)
		d, err := Divide(g, most, direction)
		require.NoError(t, err)
		for _, p := range d.Parts {
			if most > 1 {
				assert.GreaterOrEqual(t, p.WidthM, least-1e-5, "the offered number holds the width")
			}
		}
	})
}
