package nutrient_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fjell/core/nutrient"
)

func on(month time.Month) time.Time { return time.Date(2026, month, 15, 9, 0, 0, 0, time.UTC) }

func planned(t *testing.T, g nutrient.Ground, month time.Month) nutrient.Dressing {
	t.Helper()
	out, err := nutrient.PlanNitrogen(g, 200, on(month), false)
	require.NoError(t, err)
	return out
}

func TestAScoreStandsForItsShare(t *testing.T) {
	for i, s := range nutrient.Scores {
		assert.Equal(t, i, nutrient.ScoreOf(s.Stand), s.Name)
		assert.Equal(t, i, nutrient.ScoreOf(s.From), s.Name)
		if i > 0 {
			assert.Equal(t, i-1, nutrient.ScoreOf(s.From-0.001), s.Name)
			assert.Greater(t, s.From, nutrient.Scores[i-1].Stand)
		}
	}
}

func TestNitrogenStepsDownWithCloverAndDate(t *testing.T) {
	grass := nutrient.Ground{Legume: 0.1, Response: 20}
	assert.InDelta(t, 80, planned(t, grass, time.March).Now, 1e-9, "0.4 of 200")
	assert.InDelta(t, 60, planned(t, grass, time.May).Now, 1e-9, "what was missed in April is not made up for")
	assert.InDelta(t, 20, planned(t, grass, time.August).Now, 1e-9)
	assert.InDelta(t, 10, planned(t, nutrient.Ground{Legume: 0.1, Response: 20, Given: 130}, time.May).Now, 1e-9, "what was given too early counts")
	assert.Zero(t, planned(t, grass, time.October).Now, "too late")
	assert.Contains(t, planned(t, grass, time.October).Why.Text, "washes out")

	last := 1e9
	for _, s := range nutrient.Scores {
		year := planned(t, nutrient.Ground{Legume: s.Stand, Response: 20}, time.May).Year
		assert.LessOrEqual(t, year, last, s.Name)
		last = year
	}
	assert.InDelta(t, 200*(0.4+0.3*0.5), planned(t, nutrient.Ground{Legume: 0.25, Response: 20}, time.July).Year, 1e-9)
	assert.Zero(t, planned(t, nutrient.Ground{Legume: 0.5, Response: 20}, time.March).Now)
	assert.Contains(t, planned(t, nutrient.Ground{Legume: 0.5, Response: 20}, time.March).Why.Text, "fix their own")

	given := grass
	given.Given = 50
	assert.InDelta(t, 30, planned(t, given, time.March).Now, 1e-9, "what was given counts")
	given.Given = 90
	assert.Zero(t, planned(t, given, time.March).Now)
	assert.Contains(t, planned(t, nutrient.Ground{Legume: 0, Response: 5}, time.May).Why.Text, "native grass")

	south, err := nutrient.PlanNitrogen(grass, 200, on(time.September), true)
	require.NoError(t, err)
	assert.InDelta(t, 80, south.Now, 1e-9, "September is spring in the south")
	_, err = nutrient.PlanNitrogen(grass, -1, on(time.May), false)
	assert.ErrorContains(t, err, "nitrogen_kg_ha_year")

	cut, graze := nutrient.Late(on(time.May), 40)
	assert.Equal(t, 28*24*time.Hour, cut.Sub(on(time.May)))
	assert.Equal(t, 21*24*time.Hour, graze.Sub(on(time.May)))
	heavy, _ := nutrient.Late(on(time.May), 120)
	assert.True(t, heavy.After(cut), "more takes longer to build in")
	assert.Contains(t, nutrient.Say(0.5).Text, "bloat window")
	assert.Contains(t, nutrient.Say(0.05).Text, "cannot replace nitrogen")
}

func TestPlanNeverGivesMoreThanTheYear(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		g := nutrient.Ground{Legume: rapid.Float64Range(0, 1).Draw(t, "legume"), Response: 20, Given: rapid.Float64Range(0, 400).Draw(t, "given")}
		year := rapid.Float64Range(0, 500).Draw(t, "year")
		d, err := nutrient.PlanNitrogen(g, year, on(time.Month(rapid.IntRange(1, 12).Draw(t, "month"))), rapid.Bool().Draw(t, "south"))
		if err != nil || d.Now < 0 || d.Now+g.Given > max(d.Year, g.Given)+1e-9 || d.Year > year+1e-9 {
			t.Fatalf("%+v of %g: %v", d, year, err)
		}
	})
}

func TestSlurryIsFertiliser(t *testing.T) {
	slurry := nutrient.Manure{Rate: 25, Unit: "m3_ha", Season: "spring", N: 2.6, P: 0.5, K: 2.6}
	c, err := slurry.Credits()
	require.NoError(t, err)
	assert.InDelta(t, 25*2.6*0.45, c.N, 1e-9)
	assert.InDelta(t, 12.5, c.P, 1e-9)
	later := slurry
	later.Season = "autumn"
	l, err := later.Credits()
	require.NoError(t, err)
	assert.Less(t, l.N, c.N, "later in the year a crop gets less of it")
	assert.InDelta(t, c.P, l.P, 1e-9)

	us, imperial := slurry, slurry
	us.Rate, us.Unit = 3000, "us_gal_ac"
	imperial.Rate, imperial.Unit = 3000, "imp_gal_ac"
	a, err := us.Credits()
	require.NoError(t, err)
	b, err := imperial.Credits()
	require.NoError(t, err)
	assert.InDelta(t, 28.06, a.Cubic, 0.01)
	assert.InDelta(t, 33.70, b.Cubic, 0.01, "a gallon is not a gallon")
	for field, edit := range map[string]func(*nutrient.Manure){"unit": func(m *nutrient.Manure) { m.Unit = "gallons" }, "season": func(m *nutrient.Manure) { m.Season = "Lent" }, "rate": func(m *nutrient.Manure) { m.Rate = 900 }, "nitrogen_kg_m3": func(m *nutrient.Manure) { m.N = 40 }} {
		m := slurry
		edit(&m)
		_, err := m.Credits()
		assert.ErrorContains(t, err, field)
	}
}

func TestPhosphorusAndPotassiumBySoilTest(t *testing.T) {
	wants := func(s nutrient.Soil) (float64, float64) {
		p, k, err := s.Wants()
		require.NoError(t, err)
		return p, k
	}
	p, k := wants(nutrient.Soil{P: "right", K: "right", Cut: 4})
	assert.InDelta(t, 16, p, 1e-9)
	assert.InDelta(t, 90, k, 1e-9)
	low, _ := wants(nutrient.Soil{P: "low", K: "high", Cut: 4, UpP: 15})
	assert.InDelta(t, 31, low, 1e-9)
	high, none := wants(nutrient.Soil{P: "high", K: "high", Cut: 9})
	assert.Zero(t, high+none)
	with, _ := wants(nutrient.Soil{P: "right", K: "right", Cut: 4, Given: nutrient.Credit{P: 10}})
	assert.InDelta(t, 6, with, 1e-9, "slurry counts")
	enough, _ := wants(nutrient.Soil{P: "right", K: "right", Cut: 4, Given: nutrient.Credit{P: 100}})
	assert.Zero(t, enough)
	for field, s := range map[string]nutrient.Soil{"phosphorus": {P: "?", K: "low"}, "potassium": {P: "low", K: ""}, "cut_t_ha": {P: "low", K: "low", Cut: -1}, "build_phosphorus_kg_ha": {P: "low", K: "low", UpP: 999}} {
		_, _, err := s.Wants()
		assert.ErrorContains(t, err, field)
	}
}

func ExampleManure_Credits() {
	c, _ := nutrient.Manure{Rate: 30, Unit: "m3_ha", Season: "summer", N: 2.5, P: 0.4, K: 2.8}.Credits()
	fmt.Printf("N %.1f, P %.0f, K %.0f kg/ha\n", c.N, c.P, c.K)
	// Output: N 22.5, P 12, K 84 kg/ha
}
