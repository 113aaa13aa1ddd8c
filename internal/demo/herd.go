package demo

import (
	"context"
	"fmt"
	"math"
	"time"

	"fjell/core/forage"
	"fjell/core/rotation"
	"fjell/core/stock"
	"fjell/internal/farm/herd"
	"fjell/internal/farm/walk"
)

// weather lets the stand-in station write down the year before the demo's first day and every day since.
func (b *builder) weather(ctx context.Context) error {
	settings, err := b.house.Farm.Farm(ctx, b.actor)
	if err != nil {
		return err
	}
	if _, err := b.house.Walk.SetWeather(ctx, b.actor, settings.Version, walk.WeatherSettings{SoilMm: 95, Station: true, StationFrom: "2025-06-01"}); err != nil {
		return fmt.Errorf("demo weather: %w", err)
	}
	for i, sward := range []string{"ryegrass_white_clover", "timothy_meadow_fescue", "upland_bent_fescue"} {
		if _, err := b.house.Walk.SetCurve(ctx, b.actor, settings.Version+1+i, walk.CurveInput{SwardID: sward, Curve: northern}); err != nil {
			return fmt.Errorf("demo growth curve: %w", err)
		}
	}
	return nil
}

// northern is the growth curve of the demo's climate: a short season at 61° north.
const northern = "cool_short_season"

// event keeps an event of the demo's stock.
func (b *builder) event(ctx context.Context, in herd.EventInput) error {
	in.Confirmed = true
	if in.IntoNew != nil {
		in.IntoNew.ID = b.id()
		b.classes[in.IntoNew.Name] = in.IntoNew.ID
	}
	if _, err := b.house.Herd.KeepEvent(ctx, b.actor, herd.NewEvent{ID: b.id(), EventInput: in}); err != nil {
		return fmt.Errorf("demo event %s of %s: %w", in.Kind, in.PlannedOn+in.HappenedOn, err)
	}
	return nil
}

// births is the spring: calving and lambing as they were planned and as they came, the deaths, the bulls bought.
func (b *builder) births(ctx context.Context) error {
	mobs, err := b.house.Herd.Mobs(ctx, b.actor)
	if err != nil {
		return err
	}
	for _, m := range mobs {
		for _, c := range m.Classes {
			b.classes[c.Name] = c.ID
		}
	}
	milk, lamb, calf, bull := 0.034, 4.6, 42.0, 1010.0
	for _, e := range []herd.EventInput{
		{Kind: stock.Purchase, HappenedOn: "2026-02-14", Head: 2, Weight: &bull, IntoNew: &herd.NewGroup{ReferenceID: "beef_bull", Name: "Bulls", LiveWeight: bull}, Note: "kept in the bull pen"},
		{Kind: stock.Birth, PlannedOn: "2026-03-10", HappenedOn: "2026-03-14", Head: 58, Weight: &calf, OfID: b.classes["Suckler cows"],
			IntoNew: &herd.NewGroup{MobID: b.mobs[0], ReferenceID: "beef_calf_at_foot", Name: "Calves", LiveWeight: calf}},
		{Kind: stock.Birth, PlannedOn: "2026-04-05", HappenedOn: "2026-04-03", Head: 231, Weight: &lamb, OfID: b.classes["Ewes"], IntakeShare: &milk,
			IntoNew: &herd.NewGroup{MobID: b.mobs[1], ReferenceID: "lamb_at_foot", Name: "Lambs", LiveWeight: lamb}},
	} {
		if err := b.event(ctx, e); err != nil {
			return err
		}
	}
	for _, e := range []herd.EventInput{
		{Kind: stock.Death, HappenedOn: "2026-03-19", Head: 1, FromID: b.classes["Calves"]},
		{Kind: stock.Death, HappenedOn: "2026-04-06", Head: 5, FromID: b.classes["Lambs"]},
		{Kind: stock.Death, HappenedOn: "2026-04-08", Head: 2, FromID: b.classes["Ewes"]},
	} {
		if err := b.event(ctx, e); err != nil {
			return err
		}
	}
	view, err := b.house.Walk.Weather(ctx, b.actor)
	if err != nil {
		return err
	}
	first, err := time.Parse(time.DateOnly, view.Days[0].Day)
	if err != nil {
		return err
	}
	b.growth = rotation.Daily{First: rotation.DayNumber(first, time.UTC) - 1, Values: []float64{1}} // ordinary before and after
	for _, d := range view.Days {
		b.growth.Values = append(b.growth.Values, d.Moisture*d.Warmth)
	}
	b.growth.Values = append(b.growth.Values, 1)
	return nil
}

// plans is what the farm means to do with its stock for the rest of the year.
func (b *builder) plans(ctx context.Context) error {
	for _, e := range []herd.EventInput{
		{Kind: stock.Mating, PlannedOn: "2026-06-18", OfID: b.classes["Suckler cows"], Note: "bulls in for nine weeks"},
		{Kind: stock.Transfer, PlannedOn: "2026-06-18", Head: 2, FromID: b.classes["Bulls"],
			IntoNew: &herd.NewGroup{MobID: b.mobs[0], ReferenceID: "beef_bull", Name: "Bulls with the cows", LiveWeight: 1010}},
		{Kind: stock.Weaning, PlannedOn: "2026-08-10", Head: 226, FromID: b.classes["Lambs"], OfID: b.classes["Ewes"],
			IntoNew: &herd.NewGroup{MobID: b.mobs[1], ReferenceID: "lamb_finishing", Name: "Weaned lambs", LiveWeight: 36}},
	} {
		if err := b.event(ctx, e); err != nil {
			return err
		}
	}
	for _, e := range []herd.EventInput{
		{Kind: stock.Transfer, PlannedOn: "2026-08-20", Head: 2, FromID: b.classes["Bulls with the cows"], IntoID: b.classes["Bulls"]},
		{Kind: stock.Sale, PlannedOn: "2026-09-12", Head: 120, FromID: b.classes["Weaned lambs"]},
		{Kind: stock.Sale, PlannedOn: "2026-10-03", Head: 106, FromID: b.classes["Weaned lambs"]},
		{Kind: stock.Weaning, PlannedOn: "2026-09-28", Head: 57, FromID: b.classes["Calves"], OfID: b.classes["Suckler cows"],
			IntoNew: &herd.NewGroup{ReferenceID: "beef_calf_weaned", Name: "Weaned calves, kept in", LiveWeight: 250}},
		{Kind: stock.Sale, PlannedOn: "2026-10-05", Head: 7, FromID: b.classes["Suckler cows"], Note: "barren and old"},
	} {
		if err := b.event(ctx, e); err != nil {
			return err
		}
	}
	return nil
}

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
		return fmt.Errorf("demo calibration: %w", err)
	}
	return nil
}
