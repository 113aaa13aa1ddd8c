package stock

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func given(v float64) *float64 { return &v }

// Whichever of the four is left out, the other three give it back.
func TestAnyOfTheFourIsFound(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		head := float64(rapid.IntRange(1, 5000).Draw(t, "head"))
		days, area := rapid.Float64Range(1, 366).Draw(t, "days"), rapid.Float64Range(0.5, 5000).Draw(t, "area")
		each, harvest := rapid.Float64Range(0.5, 25).Draw(t, "each"), rapid.Float64Range(0.1, 0.9).Draw(t, "harvest")
		yield := head * each * days / (area * harvest)
		if yield > 40000 {
			t.Skip("nothing grows so much")
		}
		all := SolveIn{Head: &head, Days: &days, AreaHa: &area, YieldHa: &yield, Each: each, Harvest: harvest}
		for unknown, want := range map[string]float64{"head": head, "days": days, "area_ha": area, "yield_kg_dm_ha": yield} {
			in := all
			switch unknown {
			case "head":
				in.Head = nil
			case "days":
				in.Days = nil
			case "area_ha":
				in.AreaHa = nil
			default:
				in.YieldHa = nil
			}
			out, err := Solve(in)
			require.NoError(t, err)
			assert.Equal(t, unknown, out.Unknown)
			assert.InEpsilon(t, want, out.Value, 1e-6, unknown)
		}
	})
}

func TestHeadAreNeverOneTooMany(t *testing.T) {
	in := SolveIn{Days: given(180), AreaHa: given(40), YieldHa: given(8000), Each: 11, Harvest: 0.6}
	out, err := Solve(in)
	require.NoError(t, err)
	assert.Equal(t, 96.0, out.Value, "96.97 head are 96")
	assert.InDelta(t, 2.4, out.PerHa, 1e-9)
	for says, change := range map[string]func(*SolveIn){
		"exactly one":        func(i *SolveIn) { i.Head = given(10) },
		"leave out":          func(i *SolveIn) { i.Days = nil },
		"each_kg_dm_day":     func(i *SolveIn) { i.Each = 0 },
		"harvest_efficiency": func(i *SolveIn) { i.Harvest = 1.2 },
		"area_ha":            func(i *SolveIn) { i.AreaHa = given(0) },
		"days":               func(i *SolveIn) { i.Days = given(400) },
	} {
		wrong := in
		change(&wrong)
		_, err := Solve(wrong)
		assert.ErrorContains(t, err, says)
	}
}

func ExampleSolve() {
	head, days, yield := 60.0, 200.0, 7000.0
	out, _ := Solve(SolveIn{Head: &head, Days: &days, YieldHa: &yield, Each: 12, Harvest: 0.6})
	fmt.Printf("%s: %.1f ha", out.Unknown, out.Value)
	// Output: area_ha: 34.3 ha
}
