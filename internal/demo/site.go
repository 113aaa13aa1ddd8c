package demo

import (
	"context"
	"fmt"
	"maps"
	"math"
	"math/rand/v2"
	"slices"
	"time"

	"github.com/google/uuid"

	"fjell/core/grazing"
	"fjell/core/land"
	"fjell/core/weather"
	"fjell/internal/farm"
	"fjell/internal/farm/ground"
	"fjell/internal/farm/herd"
	"fjell/internal/farm/walk"
	"fjell/internal/farm/yard"
	"fjell/internal/house"
	"fjell/internal/store"
)

// site is a demo farm as it is written down: where it lies, its fields and stock, and what happens there.
type site struct {
	name, place, zone, units string
	aims                     []string
	seed                     uint64
	centre                   land.Position
	scale                    float64 // brings the drawn corners to metres
	layout                   string  // name of the way of dividing
	fields                   []field
	curves                   map[string]string // growth curve by sward
	weather                  walk.WeatherSettings
	mobs                     []mobSpec
	year                     []string // first day of the walks of the season before, and its last
	walksEvery               int      // days, in that season
	spring                   string   // first day of this season
	events                   []happening
	plans                    []happening
	hay                      map[string][3]string // fields closed for hay each year: from, until, and the day of last year on which they were cut
	own                      []func(*builder, context.Context) error
	emergency                farm.Emergency
	jobs                     []yard.NewJob
	decides                  int // on which day of this season a paddock is passed over; 0: never
}

// field of a demo farm: corners in the site's own measure from the farm's middle, east and north.
type field struct {
	name, sward string
	factor      float64
	parts       int
	direction   float64
	corners     [][2]float64
	hole        [][2]float64
	legume      float64
	early       float64 // what stands on the first day, against the residual
}

// mobSpec is a mob with the way it is grazed and the days it is out at grass.
type mobSpec struct {
	in      herd.MobInput
	fields  []string
	school  grazing.School
	turnout [2]string // days of this year, 01-02, on which they go out and come in
}

// happening is an event of the stock, its classes named by what they are called.
type happening struct {
	herd.EventInput
	from, into, of, mob string
}

type builder struct {
	site
	house    *house.House
	rng      *rand.Rand
	actor    farm.Actor
	loc      *time.Location
	plane    land.Plane
	fieldIDs map[string]string
	factor   map[string]float64 // truth's own growth factor, by paddock
	start    map[string]float64 // truth's mass on the first day
	mobIDs   map[string]string
	classes  map[string]string // id of each class of stock, by name
	truth    *truth
}

func (s site) build(ctx context.Context, house *house.House, account farm.Account) error {
	loc, err := time.LoadLocation(s.zone)
	if err != nil {
		return err
	}
	b := &builder{site: s, house: house, rng: rand.New(rand.NewPCG(s.seed, 10)), loc: loc, plane: land.NewPlane(s.centre), fieldIDs: map[string]string{}, factor: map[string]float64{},
		start: map[string]float64{}, mobIDs: map[string]string{}, classes: map[string]string{}}
	b.actor = farm.Actor{UserID: account.ID, FarmID: b.id(), Role: farm.Owner}
	if err := b.hold(ctx, b.day("2025-01-02", 9)); err != nil {
		return err
	}
	if _, err := house.Farm.CreateFarm(ctx, account.ID, farm.NewFarm{ID: b.actor.FarmID, FarmInput: farm.FarmInput{Name: s.name, Place: s.place,
		TimeZone: s.zone, Units: s.units, Aims: s.aims, Experience: "some", Longitude: s.centre[0], Latitude: s.centre[1]}}); err != nil {
		return fmt.Errorf("farm: %w", err)
	}
	for _, step := range []func(context.Context) error{b.land, b.climate, b.stock, b.happenings(s.events), b.lastSeason, b.thisSeason, b.happenings(s.plans)} {
		if err := step(ctx); err != nil {
			return err
		}
	}
	for _, step := range s.own {
		if err := step(b, ctx); err != nil {
			return err
		}
	}
	if err := b.looks(ctx); err != nil {
		return err
	}
	made, err := house.Farm.Farm(ctx, b.actor)
	if err != nil {
		return err
	}
	_, err = house.Farm.SetEmergency(ctx, b.actor, made.Version, s.emergency)
	return err
}

// id is a UUID from the seed, so that the demo is the same everywhere.
func (b *builder) id() string {
	var raw [16]byte
	for i := range raw {
		raw[i] = byte(b.rng.UintN(256))
	}
	raw[6], raw[8] = raw[6]&0x0f|0x70, raw[8]&0x3f|0x80
	return uuid.UUID(raw).String()
}

func (b *builder) hold(ctx context.Context, at time.Time) error {
	return b.house.Farm.Clock.Hold(ctx, at)
}

// day is an hour of a day at the farm.
func (b *builder) day(day string, hour int) time.Time {
	at, err := time.ParseInLocation(time.DateOnly, day, b.loc)
	if err != nil {
		panic(err)
	}
	return time.Date(at.Year(), at.Month(), at.Day(), hour, 0, 0, 0, b.loc)
}

func (b *builder) at(x, y float64) land.Position {
	return b.plane.Inverse(land.Point{X: x * b.scale, Y: y * b.scale})
}

func (b *builder) shape(corners [][2]float64) land.Shape {
	var ring []land.Position
	for _, c := range append(append([][2]float64(nil), corners...), corners[0]) {
		ring = append(ring, b.at(c[0], c[1]))
	}
	return land.Shape{{ring}}
}

func (b *builder) land(ctx context.Context) error {
	byField := map[string]field{}
	for _, f := range b.fields {
		id := b.id()
		b.fieldIDs[f.name], byField[id] = id, f
		if _, err := b.house.Ground.CreateField(ctx, b.actor, ground.NewField{ID: id, Name: f.name, SwardID: f.sward, Shape: b.shape(f.corners)}); err != nil {
			return fmt.Errorf("field %s: %w", f.name, err)
		}
		if f.hole != nil {
			if _, err := b.house.Ground.Exclude(ctx, b.actor, id, ground.NewExclusion{ID: b.id(), Name: "wood", Shape: b.shape(f.hole)}); err != nil {
				return fmt.Errorf("exclusion: %w", err)
			}
		}
		if _, err := b.house.Ground.AcceptDivision(ctx, b.actor, id, ground.AcceptDivision{ID: b.id(), Name: b.layout, Names: []string{}, DivideInput: ground.DivideInput{Parts: float64(f.parts), Direction: f.direction}}); err != nil {
			return fmt.Errorf("division of %s: %w", f.name, err)
		}
	}
	view, err := b.house.Ground.Land(ctx, b.actor)
	if err != nil {
		return err
	}
	for _, p := range view.Paddocks {
		f := byField[p.FieldID]
		legume := f.legume * (0.85 + 0.3*b.rng.Float64())
		if _, err := b.house.Ground.UpdatePaddock(ctx, b.actor, p.ID, p.Version, ground.PaddockInput{Name: p.Name, SwardID: p.SwardID, GrowthFactor: f.factor, LegumeShare: &legume, Limits: b.limits(f.name)}); err != nil {
			return fmt.Errorf("paddock %s: %w", p.Name, err)
		}
		b.factor[p.ID] = f.factor * math.Exp(0.13*b.rng.NormFloat64())
		b.start[p.ID] = f.early + 0.35*b.rng.Float64()
	}
	return nil
}

// limits are those of a field's paddocks.
func (b *builder) limits(field string) []store.PaddockLimit {
	if hay, ok := b.hay[field]; ok {
		return []store.PaddockLimit{{Kind: "hay", From: hay[0], Until: hay[1]}}
	}
	return []store.PaddockLimit{}
}

// climate sets the stand-in station to write down the weather, and the growth curves of the place.
func (b *builder) climate(ctx context.Context) error {
	settings, err := b.house.Farm.Farm(ctx, b.actor)
	if err != nil {
		return err
	}
	version := settings.Version
	in := b.site.weather
	in.Station, in.StationFrom, in.Confirmed = true, "2024-10-01", true
	if _, err := b.house.Walk.SetWeather(ctx, b.actor, version, in); err != nil {
		return fmt.Errorf("weather: %w", err)
	}
	for _, sward := range slices.Sorted(maps.Keys(b.curves)) {
		curve := b.curves[sward]
		version++
		if _, err := b.house.Walk.SetCurve(ctx, b.actor, version, walk.CurveInput{SwardID: sward, Curve: curve}); err != nil {
			return fmt.Errorf("growth curve: %w", err)
		}
	}
	return nil
}

// stock makes the mobs, in the house from autumn to spring.
func (b *builder) stock(ctx context.Context) error {
	for _, m := range b.mobs {
		id := b.id()
		b.mobIDs[m.in.Name] = id
		for _, name := range m.fields {
			m.in.FieldIDs = append(m.in.FieldIDs, b.fieldIDs[name])
		}
		out, in := m.turnout[0], m.turnout[1]
		m.in.Housed = []store.Housed{{From: "2024-" + in, Until: "2025-" + out}, {From: "2025-" + in, Until: "2026-" + out}, {From: "2026-" + in, Until: "2027-" + out}}
		view, err := b.house.Herd.CreateMob(ctx, b.actor, herd.NewMob{ID: id, MobInput: m.in})
		if err != nil {
			return fmt.Errorf("mob %s: %w", m.in.Name, err)
		}
		for _, c := range view.Classes {
			b.classes[c.Name] = c.ID
		}
	}
	return nil
}

// happenings keeps events of the stock as of this spring, or as plans of the demo's morning.
func (b *builder) happenings(list []happening) func(context.Context) error {
	return func(ctx context.Context) error {
		at := Now
		if len(list) > 0 && list[0].HappenedOn != "" {
			at = b.day(b.spring, 7)
		}
		if err := b.hold(ctx, at); err != nil {
			return err
		}
		for _, h := range list {
			in := h.EventInput
			in.Confirmed = true
			in.FromID, in.OfID = b.classes[h.from], b.classes[h.of]
			if in.IntoNew != nil {
				fresh := *in.IntoNew
				fresh.ID, fresh.MobID = b.id(), b.mobIDs[h.mob]
				b.classes[fresh.Name], in.IntoNew = fresh.ID, &fresh
			} else {
				in.IntoID = b.classes[h.into]
			}
			if _, err := b.house.Herd.KeepEvent(ctx, b.actor, herd.NewEvent{ID: b.id(), EventInput: in}); err != nil {
				return fmt.Errorf("%s of %s: %w", in.Kind, in.PlannedOn+in.HappenedOn, err)
			}
		}
		return nil
	}
}

// climateOf is where the farm lies, as weather goes.
func (b *builder) climateOf() weather.Climate {
	c := weather.Climate{Latitude: b.centre[1], Elevation: b.site.weather.Elevation, Coast: b.site.weather.Coast}
	if n := b.site.weather.Normals; len(n) == 12 {
		c.Normals = (*[12]float64)(n)
	}
	return c
}
