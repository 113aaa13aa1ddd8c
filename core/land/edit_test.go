package land

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// edges of regions, each with the number of times it is walked in either way.
func edgesOf(regions []Region) map[[2]Point][2]int {
	out := map[[2]Point][2]int{}
	for _, g := range regions {
		for _, r := range g {
			for i := range r {
				a, b := r[i], r[(i+1)%len(r)]
				if a.X > b.X || a.X == b.X && a.Y > b.Y {
					e := out[[2]Point{b, a}]
					out[[2]Point{b, a}] = [2]int{e[0], e[1] + 1}
					continue
				}
				e := out[[2]Point{a, b}]
				out[[2]Point{a, b}] = [2]int{e[0] + 1, e[1]}
			}
		}
	}
	return out
}

func TestASharedFenceStaysOne(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		g := Region{star(t, "outer", 0, 0, 150, 300)}
		d, err := Divide(g, rapid.IntRange(2, 6).Draw(t, "n"), rapid.Float64Range(0, 180).Draw(t, "direction"))
		require.NoError(t, err)
		regions, names := []Region{g}, []string{"field"}
		for _, p := range d.Parts {
			regions, names = append(regions, p.Region), append(names, "part")
		}
		cut := d.Cuts[rapid.IntRange(0, len(d.Cuts)-1).Draw(t, "cut")]
		at := cut[0]
		to := Point{at.X + rapid.Float64Range(-6, 6).Draw(t, "dx"), at.Y + rapid.Float64Range(-6, 6).Draw(t, "dy")}
		if rapid.Bool().Draw(t, "middle") {
			// A place on the fence that has no corner yet.
			at = Point{(cut[0].X + cut[1].X) / 2, (cut[0].Y + cut[1].Y) / 2}
		}
		out, changed, err := MoveCorner(regions, Corner{At: at, To: to}, 0.5)
		if err != nil {
			return
		}
		if CheckCover("at", out[1:], names[1:]) != nil {
			return // the move was too far for this ground, and is refused
		}
		sum, touched := 0.0, 0
		for i := range out[1:] {
			sum += out[i+1].AreaHa()
			if changed[i+1] {
				touched++
			}
		}
		assert.GreaterOrEqual(t, touched, 2, "both neighbours moved")
		assert.InDelta(t, out[0].AreaHa(), sum, Weld*out[0].FenceM()/metresSquared, "no sliver wider than a post opens between the parts and the field")
		for edge, n := range edgesOf(weave(out[1:])) {
			assert.LessOrEqual(t, n[0], 1, "an edge belongs to one paddock on a side: %v", edge)
			assert.LessOrEqual(t, n[1], 1)
		}
	})
}

func TestSplitAndMergeReturn(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		g := Region{star(t, "outer", 0, 0, 120, 260)}
		angle := rapid.Float64Range(0, math.Pi).Draw(t, "angle")
		sin, cos := math.Sincos(angle)
		bend := Point{rapid.Float64Range(-40, 40).Draw(t, "x"), rapid.Float64Range(-40, 40).Draw(t, "y")}
		d, err := Split(g, Path{{-400 * cos, -400 * sin}, bend, {400 * cos, 400 * sin}}, 1)
		require.NoError(t, err)
		require.GreaterOrEqual(t, len(d.Parts), 2)
		merged := d.Parts[0].Region
		rest := d.Parts[1:]
		freed := 0.0
		for len(rest) > 0 {
			k := 0
			for ; k < len(rest); k++ {
				if next, f, err := Merge(merged, rest[k].Region); err == nil {
					merged, freed = next, freed+f
					break
				}
			}
			require.Less(t, k, len(rest), "some part is a neighbour")
			rest = append(append([]Part(nil), rest[:k]...), rest[k+1:]...)
		}
		assert.InEpsilon(t, g.AreaHa(), merged.AreaHa(), 1e-4)
		assert.InEpsilon(t, g.FenceM(), merged.FenceM(), 1e-4, "the old fence is all that is left")
		assert.InEpsilon(t, d.NewFenceM, freed, 1e-3, "within the thickness of a post")
	})
}

func TestCornersAreRefusedWithAReason(t *testing.T) {
	left := Region{{{0, 0}, {100, 0}, {100, 100}, {0, 100}}}
	right := Region{{{100, 0}, {200, 0}, {200, 100}, {100, 100}}}
	below := Region{{{0, -50}, {200, -50}, {200, 0}, {0, 0}}} // its fence has no corner at 100, 0
	all := []Region{left, right, below}
	out, changed, err := MoveCorner(all, Corner{At: Point{100.2, 0.1}, To: Point{110, 8}}, 1)
	require.NoError(t, err)
	assert.Equal(t, []bool{true, true, true}, changed)
	assert.NoError(t, CheckCover("at", out, []string{"left", "right", "below"}))
	assert.InDelta(t, 2+1, out[0].AreaHa()+out[1].AreaHa()+out[2].AreaHa(), 1e-9)
	_, _, err = MoveCorner(all, Corner{At: Point{100, 0}, Remove: true}, 1)
	assert.ErrorContains(t, err, "3 fences meet")
	_, _, err = MoveCorner(all, Corner{At: Point{50, 50}, To: Point{51, 51}}, 1)
	assert.ErrorContains(t, err, "no fence here")
	_, _, err = MoveCorner(all, Corner{At: Point{100, 0}, To: Point{100, 100}}, 1)
	assert.ErrorContains(t, err, "another corner")
	out, _, err = MoveCorner(all, Corner{At: Point{100, 100}, To: Point{300, 50}}, 1)
	require.NoError(t, err)
	assert.ErrorContains(t, CheckCover("at", out, []string{"left", "right", "below"}), "cross itself")
	_, err = Split(left, Path{{20, 20}, {60, 60}}, 5)
	assert.ErrorContains(t, err, "does not part")
	far := Region{{{500, 0}, {600, 0}, {600, 100}, {500, 100}}}
	_, _, err = Merge(left, far)
	assert.ErrorContains(t, err, "do not share a fence")
}

func TestAWalkedTrackBecomesABoundary(t *testing.T) {
	plane := NewPlane(Position{9, 61})
	rapid.Check(t, func(t *rapid.T) {
		corners := Ring{{0, 0}, {220, 20}, {240, 160}, {100, 210}, {-20, 140}}
		var fixes []Fix
		add := func(p Point, accuracy float64) {
			fixes = append(fixes, Fix{plane.Inverse(p), accuracy})
		}
		for i, a := range corners {
			b := corners[(i+1)%len(corners)]
			steps := int(distance(a, b) / 5)
			for k := 0; k < steps; k++ {
				s := float64(k) / float64(steps)
				wobble := rapid.Float64Range(-0.6, 0.6).Draw(t, "wobble")
				add(Point{a.X + s*(b.X-a.X) + wobble, a.Y + s*(b.Y-a.Y) - wobble}, 4)
				if k == 7 {
					add(Point{a.X + 400, a.Y - 300}, 5) // a leap of the receiver
					add(Point{a.X, a.Y + 30}, 40)       // it says itself that this one is poor
				}
			}
		}
		stop := rapid.IntRange(0, 2).Draw(t, "stop short")
		track, err := FromTrack(fixes[:len(fixes)-stop])
		require.NoError(t, err)
		region := plane.Project(Shape{{track.Ring}})
		assert.InEpsilon(t, corners.SignedArea()/metresSquared, region.AreaHa(), 0.02)
		assert.Less(t, len(track.Ring), 30, "straight fences need no corners between")
		assert.Positive(t, track.Spikes)
		assert.Positive(t, track.Poor)
		assert.Less(t, track.GapM, 25.0)
	})
	_, err := FromTrack([]Fix{{Position{9, 61}, 50}, {Position{9.001, 61}, 50}, {Position{9, 61.001}, 50}})
	assert.ErrorContains(t, err, "too few good fixes")
}

// Of two corners within reach the nearer one is meant.
func TestTheNearestCornerIsTaken(t *testing.T) {
	g := Region{Ring{{0, 0}, {100, 0}, {100.4, 0.4}, {100, 100}, {0, 100}}}
	for _, c := range []struct{ from, want Point }{{Point{100.3, 0.35}, Point{100.4, 0.4}}, {Point{100.1, 0.05}, Point{100, 0}}} {
		at, ok := nearestCorner([]Region{g}, c.from, 1)
		require.True(t, ok)
		assert.Equal(t, c.want, at)
	}
	_, ok := nearestCorner([]Region{g}, Point{50, 50}, 1)
	assert.False(t, ok)
}

// A fix that leaps away and comes back is dropped; one that the receiver calls poor is too; a real corner is not.
func TestLeapsAndPoorFixesAreDropped(t *testing.T) {
	plane := NewPlane(Position{9, 61})
	var fixes []Fix
	walk := func(x, y, accuracy float64) {
		fixes = append(fixes, Fix{At: plane.Inverse(Point{x, y}), Accuracy: accuracy})
	}
	for x := 0.0; x <= 100; x += 5 {
		walk(x, 0, 3)
		if x == 50 {
			walk(55, 100, 3) // a leap of a hundred metres and back
			walk(52, 40, 13) // forty metres off, and the receiver says so
		}
	}
	for y := 5.0; y <= 100; y += 5 {
		walk(100, y, 3)
	}
	for x := 95.0; x >= 0; x -= 5 {
		walk(x, 100, 3)
	}
	for y := 95.0; y > 0; y -= 5 {
		walk(0, y, 3)
	}
	track, err := FromTrack(fixes)
	require.NoError(t, err)
	assert.Equal(t, 1, track.Poor)
	assert.Equal(t, 1, track.Spikes)
	assert.InDelta(t, 1, plane.Project(Shape{{track.Ring}}).AreaHa(), 0.02)
}
