package demo

import (
	"context"
	"fmt"

	"fjell/core/grazing"
	"fjell/core/land"
	"fjell/core/stock"
	"fjell/core/weather"
	"fjell/internal/farm"
	"fjell/internal/farm/ground"
	"fjell/internal/farm/herd"
	"fjell/internal/farm/walk"
	"fjell/internal/farm/yard"
	"fjell/internal/store"
)

// quillback is an imperial farm on a dry plateau: 1 900 acres of native grass about two irrigated meadows.
func quillback() site {
	// A growing season is one turn of the range: what was grazed rests until the next.
	onRange := school(grazing.LeaveHalf, func(s *grazing.School) { s.RestMin = 60 })
	class := func(ref, name string, count, weight, share, gain float64) []herd.ClassInput {
		return []herd.ClassInput{{ReferenceID: ref, Name: name, Count: count, LiveWeight: weight, IntakeShare: share, DailyGain: gain}}
	}
	calf, kid := 38.0, 3.4
	native := func(name string, parts int, direction, factor float64, corners ...[2]float64) field {
		return field{name, "native_mixed_grass", factor, parts, direction, corners, nil, 0.06, 1.05}
	}
	irrigated := func(name string, parts int, direction float64, corners ...[2]float64) field {
		return field{name, "cocksfoot_legume", 1, parts, direction, corners, nil, 0.25, 0.6}
	}
	return site{name: "Quillback Flat", place: "on the Quillback plateau", zone: "America/Denver", units: "imperial", emergency: farm.Emergency{
		Contacts: []store.Contact{{Who: "Vet", Phone: "000 555 0101"}, {Who: "Fire crew of the plateau", Phone: "000 555 0202"}},
		Where:    "Eleven miles in from the county road, keep left at the windmill", ShutFirst: "The ditch gate at the Ditch meadow."}, aims: []string{"drought", "less_hay"}, jobs: []yard.NewJob{{Kind: "water", What: "Refill the tank at the windmill", Due: dueOn("2026-06-11"), Every: 3}}, seed: 44,
		centre: land.Position{-113.42, 44.06}, scale: 1.0487, layout: "pastures",
		fields: []field{
			native("Rim", 4, 10, 1.2, [2]float64{-1400, 520}, [2]float64{-1380, 1420}, [2]float64{-700, 1500}, [2]float64{150, 1440}, [2]float64{140, 540}),
			native("Lower bench", 4, 100, 1.3, [2]float64{-1400, -480}, [2]float64{-1400, 500}, [2]float64{-160, 520}, [2]float64{-150, -470}),
			native("Sand flat", 3, 5, 1.1, [2]float64{-1390, -1420}, [2]float64{-1400, -500}, [2]float64{-150, -490}, [2]float64{-160, -1330}),
			native("North break", 3, 95, 1.25, [2]float64{160, 540}, [2]float64{170, 1440}, [2]float64{1330, 1400}, [2]float64{1340, 700}, [2]float64{900, 560}),
			native("Juniper draw", 4, 30, 1.1, [2]float64{-140, -1330}, [2]float64{-140, -300}, [2]float64{500, -260}, [2]float64{1340, -700}, [2]float64{1330, -1380}),
			irrigated("Ditch meadow", 6, 0, [2]float64{-130, -270}, [2]float64{-140, 500}, [2]float64{430, 510}, [2]float64{440, -240}),
			irrigated("Home meadow", 5, 90, [2]float64{460, -240}, [2]float64{450, 510}, [2]float64{890, 530}, [2]float64{1000, -380}),
		},
		curves:  map[string]string{"cocksfoot_legume": "irrigated_summer"},
		weather: walk.WeatherSettings{SoilMm: 110, Elevation: 1640, Coast: weather.Continental, Normals: []float64{-6, -4, 1, 6, 11, 16, 20, 19, 14, 7, 0, -5}},
		mobs: []mobSpec{
			{herd.MobInput{Name: "Cow–calf pairs", Letter: "C", Glyph: "triangle", Classes: class("beef_cow_dry", "Cows", 210, 590, 0.024*0.019/0.024, 0)},
				[]string{"Rim", "Lower bench", "Sand flat", "North break", "Ditch meadow", "Home meadow"}, onRange, [2]string{"05-25", "10-01"}},
			{herd.MobInput{Name: "Does", Letter: "D", Glyph: "circle", Classes: class("doe_dry", "Does", 140, 60, 0.021, 0)},
				[]string{"Juniper draw"}, onRange, [2]string{"05-08", "11-01"}},
		},
		year: []string{"2025-04-24", "2025-11-05"}, walksEvery: 21, spring: "2026-04-29",
		events: []happening{
			{EventInput: herd.EventInput{Kind: stock.Birth, HappenedOn: "2025-03-28", Head: 205, Weight: &calf, IntoNew: &herd.NewGroup{ReferenceID: "beef_calf_at_foot", Name: "Calves of 2025", LiveWeight: 160}}, of: "Cows", mob: "Cow–calf pairs"},
			{EventInput: herd.EventInput{Kind: stock.Birth, HappenedOn: "2025-04-20", Head: 236, Weight: &kid, IntoNew: &herd.NewGroup{ReferenceID: "kid_growing", Name: "Kids of 2025", LiveWeight: 22}}, of: "Does", mob: "Does"},
			{EventInput: herd.EventInput{Kind: stock.Sale, HappenedOn: "2025-09-08", Head: 236}, from: "Kids of 2025"},
			{EventInput: herd.EventInput{Kind: stock.Weaning, HappenedOn: "2025-10-13", Head: 205, IntoNew: &herd.NewGroup{ReferenceID: "beef_calf_weaned", Name: "Weaned calves of 2025", LiveWeight: 235}}, from: "Calves of 2025", of: "Cows"},
			{EventInput: herd.EventInput{Kind: stock.Sale, HappenedOn: "2025-10-16", Head: 205}, from: "Weaned calves of 2025"},
			{EventInput: herd.EventInput{Kind: stock.Birth, PlannedOn: "2026-03-22", HappenedOn: "2026-03-26", Head: 207, Weight: &calf, IntoNew: &herd.NewGroup{ReferenceID: "beef_calf_at_foot", Name: "Calves", LiveWeight: 160}}, of: "Cows", mob: "Cow–calf pairs"},
			{EventInput: herd.EventInput{Kind: stock.Death, HappenedOn: "2026-04-02", Head: 2}, from: "Calves"},
			{EventInput: herd.EventInput{Kind: stock.Birth, PlannedOn: "2026-04-18", HappenedOn: "2026-04-19", Head: 241, Weight: &kid, IntoNew: &herd.NewGroup{ReferenceID: "kid_growing", Name: "Kids", LiveWeight: 22}}, of: "Does", mob: "Does"},
		},
		plans: []happening{
			{EventInput: herd.EventInput{Kind: stock.Sale, PlannedOn: "2026-09-09", Head: 241}, from: "Kids"},
			{EventInput: herd.EventInput{Kind: stock.Weaning, PlannedOn: "2026-10-12", Head: 205, IntoNew: &herd.NewGroup{ReferenceID: "beef_calf_weaned", Name: "Weaned calves", LiveWeight: 235}}, from: "Calves", of: "Cows"},
		},
		own: []func(*builder, context.Context) error{(*builder).ditch},
	}
}

// ditch puts water on the plateau's map: a ditch along the meadows, tanks on the range.
func (b *builder) ditch(ctx context.Context) error {
	for _, m := range []ground.NewMark{
		{Kind: "water", Name: "Rim tank", Path: []land.Position{b.at(-640, 980)}},
		{Kind: "water", Name: "Bench tank", Path: []land.Position{b.at(-790, 20)}},
		{Kind: "water", Name: "Sand tank", Path: []land.Position{b.at(-780, -930)}},
		{Kind: "water", Name: "Break spring", Path: []land.Position{b.at(700, 950)}},
		{Kind: "water", Name: "Draw seep", Path: []land.Position{b.at(520, -760)}},
		{Kind: "gate", Name: "Meadow gate", Path: []land.Position{b.at(445, 130)}},
	} {
		m.ID = b.id()
		if _, err := b.house.Ground.AddMark(ctx, b.actor, m); err != nil {
			return fmt.Errorf("%s: %w", m.Name, err)
		}
	}
	return nil
}
