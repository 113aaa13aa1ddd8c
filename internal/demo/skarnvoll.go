package demo

import (
	"context"
	"fmt"
	"math"

	"fjell/core/forage"
	"fjell/core/grazing"
	"fjell/core/land"
	"fjell/core/stock"
	"fjell/core/weather"
	"fjell/internal/farm"
	"fjell/internal/farm/herd"
	"fjell/internal/farm/walk"
	"fjell/internal/farm/yard"
	"fjell/internal/store"
)

// northern is the growth curve of Skarnvoll's climate: a short season at 61° north.
const northern = "cool_short_season"

// skarnvoll is a metric farm in the north: 64 ha in seven fields about a tarn.
func skarnvoll() site {
	leys := school(grazing.LeafResidual, func(s *grazing.School) { s.TooOld, s.StayMax = of(3400), 4 })
	hill := school(grazing.StartStop, func(s *grazing.School) {
		s.StartHeight, s.StopHeight, s.RestMin = of(10), of(3.5), 18
	})
	rough := school(grazing.StartStop, func(s *grazing.School) {
		s.StartHeight, s.StopHeight, s.RestMin, s.StayMax = of(9), of(3.5), 18, 20
	})
	class := func(ref, name string, count, weight, share, gain float64) []herd.ClassInput {
		return []herd.ClassInput{{ReferenceID: ref, Name: name, Count: count, LiveWeight: weight, IntakeShare: share, DailyGain: gain}}
	}
	milk, lamb, calf, bull := 0.034, 4.6, 42.0, 1010.0
	return site{name: "Skarnvoll", place: "by the Skarntjern", zone: "Europe/Oslo", units: "metric", emergency: farm.Emergency{
		Contacts: []store.Contact{{Who: "Vet on call", Phone: "000 10 101"}, {Who: "Power company", Phone: "000 20 202"}, {Who: "Ola, over the brook", Phone: "000 30 303"}},
		Where:    "Up from the Skarntjern road, left at the red milk stand, second gate", ShutFirst: "The valve of the Sørjordet main, behind the barn. The energiser, by its door.",
		Also: "A bull runs with the cows until August."}, aims: []string{"growth", "parasites"}, seed: 134,
		jobs: []yard.NewJob{{Kind: "power", What: "Swap the battery of the Heia fence", Due: dueOn("2026-06-12")},
			{Kind: "fence", What: "Walk the corner posts", Due: dueOn("2026-06-13"), Every: 7}},
		centre: land.Position{9.214, 61.137}, scale: 0.933, layout: "summer",
		fields: []field{
			{"Øvre", "timothy_meadow_fescue", 0.95, 3, 8, [][2]float64{{-330, 250}, {-300, 505}, {-60, 560}, {20, 540}, {10, 260}}, nil, 0.12, 0.6},
			{"Låvevangen", "ryegrass_white_clover", 0.9, 3, 350, [][2]float64{{60, 250}, {70, 535}, {280, 515}, {330, 440}, {315, 235}}, nil, 0.28, 0.6},
			{"Sørjordet", "ryegrass_white_clover", 0.95, 5, 172, [][2]float64{{-110, 215}, {150, 235}, {345, 205}, {385, 30}, {300, -60}, {215, -10}, {130, -120}, {-70, -145}, {-125, 10}},
				[][2]float64{{95, 20}, {130, 35}, {150, 10}, {128, -18}, {98, -10}}, 0.34, 0.6},
			{"Nedre", "timothy_meadow_fescue", 0.9, 4, 80, [][2]float64{{-470, 215}, {-155, 215}, {-170, 10}, {-120, -150}, {-330, -180}, {-440, -60}}, nil, 0.1, 0.6},
			{"Bekkelia", "upland_bent_fescue", 0.9, 4, 20, [][2]float64{{375, 250}, {390, 520}, {620, 545}, {700, 420}, {660, 265}, {520, 300}}, nil, 0.08, 0.8},
			{"Tjern", "upland_bent_fescue", 1, 3, 95, [][2]float64{{440, 210}, {660, 225}, {705, 20}, {560, -90}, {425, 15}}, nil, 0.12, 0.8},
			{"Heia", "upland_bent_fescue", 0.55, 2, 15, [][2]float64{{-300, 560}, {-320, 770}, {20, 890}, {330, 850}, {400, 580}, {80, 590}, {-50, 615}}, nil, 0.04, 0.8},
		},
		curves:  map[string]string{"ryegrass_white_clover": northern, "timothy_meadow_fescue": northern, "upland_bent_fescue": northern},
		weather: walk.WeatherSettings{SoilMm: 95, Elevation: 420, Coast: weather.Inland, Normals: []float64{-8, -7, -2, 3.5, 9, 13.5, 15.5, 14, 9.5, 4, -2, -7}},
		mobs: []mobSpec{
			{herd.MobInput{Name: "Cows and calves", Letter: "K", Glyph: "triangle", Classes: class("beef_cow_dry", "Suckler cows", 52, 620, 0.023*0.019/0.024, 0)},
				[]string{"Øvre", "Sørjordet", "Nedre"}, leys, [2]string{"05-21", "10-12"}},
			{herd.MobInput{Name: "Ewes with twins", Letter: "E", Glyph: "circle", Classes: class("ewe_dry", "Ewes", 80, 72, 0.02, 0)},
				[]string{"Låvevangen", "Bekkelia", "Tjern"}, hill, [2]string{"05-20", "10-20"}},
			{herd.MobInput{Name: "Yearling heifers", Letter: "H", Glyph: "square", Classes: class("beef_heifer_replacement", "Yearling heifers", 14, 330, 0.024, 0.45)},
				[]string{"Heia"}, rough, [2]string{"06-06", "09-15"}},
		},
		year: []string{"2025-05-07", "2025-10-22"}, walksEvery: 14, spring: "2026-04-29", decides: 21,
		hay: map[string][3]string{"Øvre": {"04-15", "07-08", "2025-07-07"}},
		events: []happening{
			{EventInput: herd.EventInput{Kind: stock.Birth, HappenedOn: "2025-03-12", Head: 50, Weight: &calf, IntoNew: &herd.NewGroup{ReferenceID: "beef_calf_at_foot", Name: "Calves of 2025", LiveWeight: 160}}, of: "Suckler cows", mob: "Cows and calves"},
			{EventInput: herd.EventInput{Kind: stock.Birth, HappenedOn: "2025-04-04", Head: 150, Weight: &lamb, IntakeShare: &milk, IntoNew: &herd.NewGroup{ReferenceID: "lamb_at_foot", Name: "Lambs of 2025", LiveWeight: 20}}, of: "Ewes", mob: "Ewes with twins"},
			{EventInput: herd.EventInput{Kind: stock.Death, HappenedOn: "2025-04-09", Head: 4}, from: "Lambs of 2025"},
			{EventInput: herd.EventInput{Kind: stock.Weaning, HappenedOn: "2025-08-11", Head: 146, IntoNew: &herd.NewGroup{ReferenceID: "lamb_finishing", Name: "Weaned lambs of 2025", LiveWeight: 36}}, from: "Lambs of 2025", of: "Ewes", mob: "Ewes with twins"},
			{EventInput: herd.EventInput{Kind: stock.Sale, HappenedOn: "2025-09-15", Head: 80}, from: "Weaned lambs of 2025"},
			{EventInput: herd.EventInput{Kind: stock.Weaning, HappenedOn: "2025-09-29", Head: 50, IntoNew: &herd.NewGroup{ReferenceID: "beef_calf_weaned", Name: "Weaned calves of 2025, kept in", LiveWeight: 250}}, from: "Calves of 2025", of: "Suckler cows"},
			{EventInput: herd.EventInput{Kind: stock.Sale, HappenedOn: "2025-10-06", Head: 66}, from: "Weaned lambs of 2025"},
			{EventInput: herd.EventInput{Kind: stock.Sale, HappenedOn: "2025-11-04", Head: 50}, from: "Weaned calves of 2025, kept in"},
			{EventInput: herd.EventInput{Kind: stock.Weigh, HappenedOn: "2026-03-02", Weight: of(330)}, of: "Yearling heifers"},
			{EventInput: herd.EventInput{Kind: stock.Purchase, HappenedOn: "2026-02-14", Head: 2, Weight: &bull, IntoNew: &herd.NewGroup{ReferenceID: "beef_bull", Name: "Bulls", LiveWeight: bull}, Note: "kept in the bull pen"}},
			{EventInput: herd.EventInput{Kind: stock.Birth, PlannedOn: "2026-03-10", HappenedOn: "2026-03-14", Head: 49, Weight: &calf, IntoNew: &herd.NewGroup{ReferenceID: "beef_calf_at_foot", Name: "Calves", LiveWeight: 160}}, of: "Suckler cows", mob: "Cows and calves"},
			{EventInput: herd.EventInput{Kind: stock.Death, HappenedOn: "2026-03-19", Head: 1}, from: "Calves"},
			{EventInput: herd.EventInput{Kind: stock.Birth, PlannedOn: "2026-04-05", HappenedOn: "2026-04-03", Head: 156, Weight: &lamb, IntakeShare: &milk, IntoNew: &herd.NewGroup{ReferenceID: "lamb_at_foot", Name: "Lambs", LiveWeight: 20}}, of: "Ewes", mob: "Ewes with twins"},
			{EventInput: herd.EventInput{Kind: stock.Death, HappenedOn: "2026-04-06", Head: 5}, from: "Lambs"},
			{EventInput: herd.EventInput{Kind: stock.Death, HappenedOn: "2026-04-08", Head: 2}, from: "Ewes"},
		},
		plans: []happening{
			{EventInput: herd.EventInput{Kind: stock.Mating, PlannedOn: "2026-06-18", Note: "bulls in for nine weeks"}, of: "Suckler cows"},
			{EventInput: herd.EventInput{Kind: stock.Transfer, PlannedOn: "2026-06-18", Head: 2, IntoNew: &herd.NewGroup{ReferenceID: "beef_bull", Name: "Bulls with the cows", LiveWeight: bull}}, from: "Bulls", mob: "Cows and calves"},
			{EventInput: herd.EventInput{Kind: stock.Weaning, PlannedOn: "2026-08-10", Head: 151, IntoNew: &herd.NewGroup{ReferenceID: "lamb_finishing", Name: "Weaned lambs", LiveWeight: 36}}, from: "Lambs", of: "Ewes", mob: "Ewes with twins"},
			{EventInput: herd.EventInput{Kind: stock.Transfer, PlannedOn: "2026-08-20", Head: 2}, from: "Bulls with the cows", into: "Bulls"},
			{EventInput: herd.EventInput{Kind: stock.Sale, PlannedOn: "2026-09-12", Head: 80}, from: "Weaned lambs"},
			{EventInput: herd.EventInput{Kind: stock.Sale, PlannedOn: "2026-10-03", Head: 71}, from: "Weaned lambs"},
			{EventInput: herd.EventInput{Kind: stock.Weaning, PlannedOn: "2026-09-28", Head: 48, IntoNew: &herd.NewGroup{ReferenceID: "beef_calf_weaned", Name: "Weaned calves, kept in", LiveWeight: 250}}, from: "Calves", of: "Suckler cows"},
			{EventInput: herd.EventInput{Kind: stock.Sale, PlannedOn: "2026-10-05", Head: 5, Note: "barren and old"}, from: "Suckler cows"},
		},
		own: []func(*builder, context.Context) error{(*builder).calibrate, (*builder).things, (*builder).thinks},
	}
}

func of(v float64) *float64 { return &v }

// calibrate clips a dozen spots of the leys and draws the farm's own line through them.
func (b *builder) calibrate(ctx context.Context) error {
	var pairs []forage.Pair
	for i := range 14 {
		cm := 4.5 + 0.85*float64(i)
		pairs = append(pairs, forage.Pair{Height: cm, Mass: math.Round((252*cm+590)*(1+0.05*b.rng.NormFloat64())/10) * 10})
	}
	_, err := b.house.Walk.KeepCalibration(ctx, b.actor, walk.NewCalibration{ID: b.id(), CalibrationInput: walk.CalibrationInput{Name: "Leafy leys, May", Method: "plate",
		SwardID: "ryegrass_white_clover", SeasonFrom: "04-15", SeasonUntil: "07-01", Pairs: pairs, RestateFrom: "2026-04-29", Confirmed: true}})
	if err != nil {
		return fmt.Errorf("calibration: %w", err)
	}
	return nil
}
