package year_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fjell/core/year"
)

func stockpile() year.Stockpile {
	bale, dry := 250.0, 0.85
	grows := make([]float64, 90)
	for d := range grows {
		grows[d] = 20
	}
	return year.Stockpile{AreaHa: 6, Stands: 1500, Grows: grows, Ceiling: 4000, Residual: 1200, Eaten: 0.65, Loss: 0.003, Wants: 300, Window: 60, Strips: 4, Hay: 0.3, BaleKg: &bale, DryShare: &dry, FeedLoss: 0.1}
}

func planned(t *testing.T, edit func(*year.Stockpile)) year.Stockpiled {
	t.Helper()
	s := stockpile()
	if edit != nil {
		edit(&s)
	}
	out, err := s.Plan()
	require.NoError(t, err)
	return out
}

func TestAStockpileFeedsStripByStrip(t *testing.T) {
	p := planned(t, nil)
	assert.InDelta(t, 3300, p.Opens, 1e-9)
	require.Len(t, p.Strips, 4)
	assert.InDelta(t, (3300-1200)*0.65*1.5/210, p.Strips[0].Days, 1e-9, "the first strip as it stands")
	for i := 1; i < 4; i++ {
		assert.Less(t, p.Strips[i].Days, p.Strips[i-1].Days, "what is opened later has melted")
	}
	assert.InDelta(t, math.Ceil(300*0.3*p.Strips[0].Days/0.9/(250*0.85)), *p.Strips[0].Bales, 1e-9)
	assert.Greater(t, *p.Bales*250*0.85, p.HayKg-1e-9, "whole bales: never short")

	still := planned(t, func(s *year.Stockpile) { s.Loss = 0 })
	assert.InDelta(t, (3300-1200)*0.65*6/210, still.Days, 1e-9)
	assert.Less(t, p.Days, still.Days)
	assert.InDelta(t, 4000, planned(t, func(s *year.Stockpile) { s.Stands = 3000 }).Opens, 1e-9, "no more than the ceiling")
	assert.Greater(t, planned(t, func(s *year.Stockpile) { s.Hay = 0.5 }).Days, p.Days, "more hay beside it: it lasts longer")
	assert.Less(t, planned(t, func(s *year.Stockpile) { s.Residual = 1600 }).Days, p.Days)
	assert.Greater(t, planned(t, func(s *year.Stockpile) { s.Hay = 0.5 }).N, p.N, "and more is left on the ground")
	assert.InDelta(t, 60-p.Days, p.Short, 1e-9)
	assert.Zero(t, planned(t, func(s *year.Stockpile) { s.Window = 5 }).Short)

	unknown := planned(t, func(s *year.Stockpile) { s.BaleKg = nil })
	assert.Nil(t, unknown.Bales, "what a bale weighs is never guessed")
	assert.Nil(t, unknown.Strips[0].Bales)
	assert.InDelta(t, p.HayKg, unknown.HayKg, 1e-9)
	none := planned(t, func(s *year.Stockpile) { s.Hay = 0 })
	assert.Zero(t, none.HayKg+none.N+none.P+none.K)

	bad := -1.0
	for field, edit := range map[string]func(*year.Stockpile){"strips": func(s *year.Stockpile) { s.Strips = 0 }, "hay_share": func(s *year.Stockpile) { s.Hay = 1 }, "bale_kg": func(s *year.Stockpile) { s.BaleKg = &bad }, "dry_matter_share": func(s *year.Stockpile) { s.DryShare = &bad },
		"until_day": func(s *year.Stockpile) { s.Window = 0 }, "group": func(s *year.Stockpile) { s.Wants = 0 }, "field_id": func(s *year.Stockpile) { s.AreaHa = 0 }} {
		s := stockpile()
		edit(&s)
		_, err := s.Plan()
		assert.ErrorContains(t, err, field)
	}
}

// What is eaten, over all strips, is what stood above the residual less what melted: never more.
func TestNoStripFeedsMoreThanStands(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := stockpile()
		s.Strips, s.Loss, s.Hay = rapid.IntRange(1, 40).Draw(t, "strips"), rapid.Float64Range(0, 0.02).Draw(t, "loss"), rapid.Float64Range(0, 0.9).Draw(t, "hay")
		s.Stands, s.Wants = rapid.Float64Range(0, 5000).Draw(t, "stands"), rapid.Float64Range(1, 5000).Draw(t, "wants")
		p, err := s.Plan()
		if err != nil {
			t.Fatal(err)
		}
		eaten := p.Days * s.Wants * (1 - s.Hay)
		if most := max(0, p.Opens-s.Residual) * s.Eaten * s.AreaHa; eaten > most+1e-6 {
			t.Fatalf("%g eaten of %g", eaten, most)
		}
	})
}

func TestWaterInFrost(t *testing.T) {
	r, err := year.Overflow{BucketL: 10, Seconds: 30, Hours: 14}.Runs()
	require.NoError(t, err)
	assert.InDelta(t, 20, r.Flow, 1e-9)
	assert.InDelta(t, 20*60*14, r.Waste, 1e-9)
	slower, err := year.Overflow{BucketL: 10, Seconds: 60, Hours: 14}.Runs()
	require.NoError(t, err)
	assert.Less(t, slower.Waste, r.Waste)
	for field, o := range map[string]year.Overflow{"bucket_l": {0, 30, 14}, "seconds": {10, 0, 14}, "hours": {10, 30, 25}} {
		_, err := o.Runs()
		assert.ErrorContains(t, err, field)
	}
	short, err := year.Waterer{Head: 50, Each: 15, Minutes: 30, Flow: 12, Holds: 200}.Short()
	require.NoError(t, err)
	assert.InDelta(t, 750-200-360, short, 1e-9)
	short, err = year.Waterer{Head: 50, Each: 15, Minutes: 60, Flow: 12, Holds: 200}.Short()
	require.NoError(t, err)
	assert.Zero(t, short, "it runs longer: it is enough")
	_, err = year.Waterer{Head: -1}.Short()
	assert.ErrorContains(t, err, "head")
}
