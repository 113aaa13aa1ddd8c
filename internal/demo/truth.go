package demo

import (
	"context"
	"math"
	"slices"
	"time"

	"fjell/core/reference"
	"fjell/core/rotation"
	"fjell/core/weather"
	"fjell/internal/farm/herd"
	"fjell/internal/standin"
	"fjell/internal/store"
)

// truth is what really grows and stands on a demo farm, and what its stock really eat: a farm like the one that is believed in, with
// growth of its own in every paddock and animals that eat a little more than the book.
type truth struct {
	farm  rotation.Farm
	mobs  []rotation.Mob
	start []rotation.Measured
	stays []rotation.Stay
	index map[string]int // of paddocks
	names []string
	first time.Time
}

// appetite is what real animals eat, against the book.
const appetite = 1.04

func (b *builder) makeTruth(ctx context.Context) (*truth, error) {
	view, err := b.house.Ground.Land(ctx, b.actor)
	if err != nil {
		return nil, err
	}
	t := &truth{index: map[string]int{}, first: b.day(b.site.year[0], 7), farm: rotation.Farm{Location: b.loc, Hours: rotation.Hours{Minutes: []int{480, 1080}}}}
	if t.farm.Weather, err = b.grown(ctx, t.first); err != nil {
		return nil, err
	}
	lib := reference.Load()
	names := map[string]string{}
	for name, id := range b.fieldIDs {
		names[id] = name
	}
	for i, p := range view.Paddocks {
		sward, err := lib.Sward(p.SwardID)
		if err != nil {
			return nil, err
		}
		curve := sward.GrowthCurve
		if own, ok := b.curves[p.SwardID]; ok {
			curve = own
		}
		rates, err := lib.Curve(curve)
		if err != nil {
			return nil, err
		}
		t.index[p.ID], t.names = i, append(t.names, p.ID)
		t.farm.Paddocks = append(t.farm.Paddocks, rotation.Paddock{ID: p.ID, Name: p.Name, AreaHa: p.AreaHa, X: float64(i) * 100, Peak: sward.PeakGrowth * b.factor[p.ID], Ceiling: sward.Ceiling, Curve: rates,
			Grass: weather.Grass(sward.Season), Loss: sward.DailyLoss(), Closures: rotation.Closed("", "", limitsOf(b.limits(names[p.FieldID])), nil, nil, t.first, b.loc)})
		t.start = append(t.start, rotation.Measured{Paddock: i, At: t.first.Add(-time.Hour), Mass: sward.Residual * b.start[p.ID], HalfWidth: 1, Shared: 1})
	}
	for m, spec := range b.mobs {
		mob := rotation.Mob{ID: b.mobIDs[spec.in.Name], Name: spec.in.Name, In: rotation.Nowhere}
		if mob.Demand, err = b.demand(ctx, mob.ID); err != nil {
			return nil, err
		}
		for _, p := range view.Paddocks {
			sward, err := lib.Sward(p.SwardID)
			if err != nil {
				return nil, err
			}
			limits, err := spec.school.On(sward)
			if err != nil {
				return nil, err
			}
			mine := slices.ContainsFunc(b.mobs[m].fields, func(name string) bool { return b.fieldIDs[name] == p.FieldID })
			mob.Limits, mob.Ground = append(mob.Limits, limits), append(mob.Ground, mine)
		}
		t.mobs = append(t.mobs, mob)
	}
	return t, nil
}

// demand is what a mob really eats on each day of both years.
func (b *builder) demand(ctx context.Context, mobID string) (rotation.Daily, error) {
	out := rotation.Daily{First: rotation.DayNumber(time.Date(2025, 1, 1, 12, 0, 0, 0, time.UTC), time.UTC)}
	for _, year := range []int{2025, 2026} {
		view, err := b.house.Herd.Year(ctx, b.actor, herd.YearInput{Year: year, Measure: "demand"})
		if err != nil {
			return out, err
		}
		days := make([]float64, len(view.Total))
		for _, band := range view.Bands {
			if band.MobID == mobID {
				for d, kg := range band.Days {
					days[d] += kg * appetite
				}
			}
		}
		out.Values = append(out.Values, days...)
	}
	return out, nil
}

// grown is the weather's share of growth on every day, and what weather does not tell of it.
func (b *builder) grown(ctx context.Context, from time.Time) (map[weather.Grass]rotation.Daily, error) {
	var row store.Farm
	if err := b.house.Farm.DB.WithContext(ctx).First(&row, "id = ?", b.actor.FarmID).Error; err != nil {
		return nil, err
	}
	begin := time.Date(2024, 10, 1, 0, 0, 0, 0, time.UTC)
	first, last := rotation.DayNumber(begin, time.UTC), rotation.DayNumber(Now.AddDate(0, 0, 1), time.UTC)
	days := map[int]weather.Day{}
	for i, d := range standin.Station(*row.StationSeed, b.climateOf(), begin, last-first+1) {
		days[first+i] = d
	}
	known := weather.Reckon(days, first, last, b.climateOf(), row.SoilMm, func(n int) int { return time.Unix(int64(n)*86400, 0).UTC().YearDay() })
	stray, week := make([]float64, last-first+1), 0.0
	for d := range stray {
		if d%7 == 0 {
			week = 0.5*week + 0.08*b.rng.NormFloat64()
		}
		stray[d] = math.Exp(week)
	}
	out := map[weather.Grass]rotation.Daily{}
	for _, grass := range weather.Grasses {
		daily := rotation.Daily{First: first}
		for d := range stray {
			daily.Values = append(daily.Values, known.Growth(grass, first+d)*stray[d])
		}
		out[grass] = daily
	}
	return out, nil
}

// stands is what really stands in every paddock at a moment, and when the last animal left it.
func (t *truth) stands(at time.Time) []rotation.Standing {
	past := rotation.Recount(t.farm, t.mobs, make([]rotation.Standing, len(t.farm.Paddocks)), t.stays, t.start, t.first, at)
	return past.Standing
}

func limitsOf(list []store.PaddockLimit) []rotation.Limit {
	var out []rotation.Limit
	for _, l := range list {
		out = append(out, rotation.Limit{Kind: l.Kind, Note: l.Note, From: l.From, Until: l.Until})
	}
	return out
}

// cut notes that a paddock was cut.
func (t *truth) cut(paddock string, at time.Time, left float64) {
	p := t.index[paddock]
	t.start = append(t.start, rotation.Measured{Paddock: p, At: at, Mass: left, HalfWidth: 1, Shared: 1, Cut: true})
	for i, c := range t.farm.Paddocks[p].Closures {
		if !at.Before(c.From) && at.Before(c.Until) {
			t.farm.Paddocks[p].Closures[i].Until = at
		}
	}
}

// moved notes where a mob went.
func (t *truth) moved(mob int, to string, at time.Time) {
	for i := range t.stays {
		if t.stays[i].Mob == mob && t.stays[i].Leave.IsZero() {
			t.stays[i].Leave = at
		}
	}
	t.mobs[mob].In = rotation.Nowhere
	if to != "" {
		p := t.index[to]
		t.mobs[mob].In, t.mobs[mob].Since = p, at
		t.stays = append(t.stays, rotation.Stay{Mob: mob, Paddock: p, Enter: at})
	}
}
