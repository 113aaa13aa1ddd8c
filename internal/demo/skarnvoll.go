// Package demo builds the demo farms, by code from a fixed seed, through the same use cases a person uses: fields are
// drawn and divided, paddocks walked, mobs moved by Fjell's own plan. What grows underneath is a truth of its own that
// strays from the model, so that the records look like records.
package demo

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"

	"fjell/core/forage"
	"fjell/core/grazing"
	"fjell/core/land"
	"fjell/core/measuring"
	"fjell/core/reference"
	"fjell/core/rotation"
	"fjell/internal/farm"
	"fjell/internal/farm/ground"
	"fjell/internal/farm/herd"
	"fjell/internal/farm/moves"
	"fjell/internal/farm/walk"
	"fjell/internal/house"
	"fjell/internal/store"
)

// The demo's sign-in. It opens made-up data only.
const (
	Email    = "ida@skarnvoll.example"
	Password = "grass in june"
)

// Now is the mid-season morning at which the demo's clock is held: Wednesday 10 June 2026, 07:30 at the farm.
var Now = time.Date(2026, 6, 10, 5, 30, 0, 0, time.UTC)

// field of the demo: corners in metres from the farm's middle, east and north.
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

var skarnvoll = []field{
	{"Øvre", "timothy_meadow_fescue", 0.95, 3, 8, [][2]float64{{-330, 250}, {-300, 505}, {-60, 560}, {20, 540}, {10, 260}}, nil, 0.12, 0.85},
	{"Låvevangen", "ryegrass_white_clover", 0.9, 3, 350, [][2]float64{{60, 250}, {70, 535}, {280, 515}, {330, 440}, {315, 235}}, nil, 0.28, 0.85},
	{"Sørjordet", "ryegrass_white_clover", 0.95, 5, 172, [][2]float64{{-110, 215}, {150, 235}, {345, 205}, {385, 30}, {300, -60}, {215, -10}, {130, -120}, {-70, -145}, {-125, 10}},
		[][2]float64{{95, 20}, {130, 35}, {150, 10}, {128, -18}, {98, -10}}, 0.34, 0.85},
	{"Nedre", "timothy_meadow_fescue", 0.9, 4, 80, [][2]float64{{-470, 215}, {-155, 215}, {-170, 10}, {-120, -150}, {-330, -180}, {-440, -60}}, nil, 0.1, 0.85},
	{"Bekkelia", "upland_bent_fescue", 0.9, 4, 20, [][2]float64{{375, 250}, {390, 520}, {620, 545}, {700, 420}, {660, 265}, {520, 300}}, nil, 0.08, 1.2},
	{"Tjern", "upland_bent_fescue", 1, 3, 95, [][2]float64{{440, 210}, {660, 225}, {705, 20}, {560, -90}, {425, 15}}, nil, 0.12, 1.2},
	{"Heia", "upland_bent_fescue", 0.55, 2, 15, [][2]float64{{-300, 560}, {-320, 770}, {20, 890}, {330, 850}, {400, 580}, {80, 590}, {-50, 615}}, nil, 0.04, 1.2},
}

// scale brings the drawn fields to the farm's 64 hectares.
const scale = 0.933

type builder struct {
	house    *house.House
	rng      *rand.Rand
	actor    farm.Actor
	loc      *time.Location
	plane    land.Plane
	fieldIDs map[string]string
	factor   map[string]float64 // truth's own growth factor, by paddock
	start    map[string]float64 // truth's mass on the first day
	first    time.Time
	mobs     [2]string
	classes  map[string]string // id of each class of stock, by name
	growth   rotation.Daily    // weather's share of growth
}

// building is the demo's account until its farm is there: who finds it found a demo that was stopped while it built.
const building = "building@fjell.invalid"

// Skarnvoll builds the farm, unless it is there, and holds the demo's clock. Processes that start at once take turns; one
// that was stopped while it built is started over by the next.
func Skarnvoll(ctx context.Context, house *house.House) error {
	return house.Farm.DB.WithContext(ctx).Connection(func(turn *gorm.DB) error {
		var mine int
		if err := turn.Raw("SELECT GET_LOCK(CONCAT(DATABASE(), '.demo'), 300)").Scan(&mine).Error; err != nil || mine != 1 {
			return fmt.Errorf("another process builds the demo: %w", err)
		}
		defer turn.Exec("DO RELEASE_LOCK(CONCAT(DATABASE(), '.demo'))")
		return build(ctx, house)
	})
}

func build(ctx context.Context, house *house.House) error {
	var there []store.User
	db := house.Farm.DB.WithContext(ctx)
	if err := db.Find(&there, "email IN ?", []string{Email, building}).Error; err != nil {
		return err
	}
	for _, u := range there {
		if u.Email == Email {
			return nil
		}
		if err := house.Farm.GiveUpAccount(ctx, u.ID, Password); err != nil {
			return fmt.Errorf("start the demo over: %w", err)
		}
	}
	account, _, err := house.Farm.SignUp(ctx, building, "Ida Skarn", Password, farm.Visitor{Address: "demo"})
	if err != nil {
		return err
	}
	if err := skarnvollOf(ctx, house, account); err != nil {
		return err
	}
	return db.Model(&store.User{}).Where("id = ?", account.ID).Update("email", Email).Error
}

func skarnvollOf(ctx context.Context, house *house.House, account farm.Account) error {
	loc, err := time.LoadLocation("Europe/Oslo")
	if err != nil {
		return err
	}
	b := &builder{house: house, rng: rand.New(rand.NewPCG(61, 10)), loc: loc, fieldIDs: map[string]string{}, factor: map[string]float64{}, start: map[string]float64{}, classes: map[string]string{}}
	centre := land.Position{9.214, 61.137}
	b.plane = land.NewPlane(centre)
	b.actor = farm.Actor{UserID: account.ID, FarmID: b.id(), Role: farm.Owner}
	b.first = time.Date(2026, 4, 29, 9, 0, 0, 0, loc)
	if err := b.hold(ctx, time.Date(2026, 1, 2, 9, 0, 0, 0, loc)); err != nil {
		return err
	}
	if _, err := house.Farm.CreateFarm(ctx, account.ID, farm.NewFarm{ID: b.actor.FarmID, FarmInput: farm.FarmInput{Name: "Skarnvoll", Place: "by the Skarntjern",
		TimeZone: "Europe/Oslo", Units: "metric", Aims: []string{"growth", "parasites"}, Experience: "some", Longitude: centre[0], Latitude: centre[1]}}); err != nil {
		return fmt.Errorf("demo farm: %w", err)
	}
	for _, step := range []func(context.Context) error{b.land, b.weather, b.stock, b.births, b.season, b.calibrate, b.plans, b.things} {
		if err := step(ctx); err != nil {
			return err
		}
	}
	return b.hold(ctx, Now)
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

func (b *builder) shape(corners [][2]float64) land.Shape {
	var ring []land.Position
	for _, c := range append(append([][2]float64(nil), corners...), corners[0]) {
		ring = append(ring, b.plane.Inverse(land.Point{X: c[0] * scale, Y: c[1] * scale}))
	}
	return land.Shape{{ring}}
}

func (b *builder) land(ctx context.Context) error {
	for _, f := range skarnvoll {
		id := b.id()
		b.fieldIDs[f.name] = id
		if _, err := b.house.Ground.CreateField(ctx, b.actor, ground.NewField{ID: id, Name: f.name, SwardID: f.sward, Shape: b.shape(f.corners)}); err != nil {
			return fmt.Errorf("demo field %s: %w", f.name, err)
		}
		if f.hole != nil {
			if _, err := b.house.Ground.Exclude(ctx, b.actor, id, ground.NewExclusion{ID: b.id(), Name: "wood", Shape: b.shape(f.hole)}); err != nil {
				return fmt.Errorf("demo exclusion: %w", err)
			}
		}
		if _, err := b.house.Ground.AcceptDivision(ctx, b.actor, id, ground.AcceptDivision{ID: b.id(), Name: "summer", Names: []string{},
			DivideInput: ground.DivideInput{Parts: float64(f.parts), Direction: f.direction}}); err != nil {
			return fmt.Errorf("demo division of %s: %w", f.name, err)
		}
	}
	view, err := b.house.Ground.Land(ctx, b.actor)
	if err != nil {
		return err
	}
	byField := map[string]field{}
	for _, f := range skarnvoll {
		byField[b.fieldIDs[f.name]] = f
	}
	for _, p := range view.Paddocks {
		f := byField[p.FieldID]
		legume := f.legume * (0.85 + 0.3*b.rng.Float64())
		in := ground.PaddockInput{Name: p.Name, SwardID: p.SwardID, GrowthFactor: f.factor, LegumeShare: &legume}
		if f.name == "Øvre" {
			in.ClosedFor = "hay until July"
		}
		if _, err := b.house.Ground.UpdatePaddock(ctx, b.actor, p.ID, p.Version, in); err != nil {
			return fmt.Errorf("demo paddock %s: %w", p.Name, err)
		}
		b.factor[p.ID] = f.factor * math.Exp(0.15*b.rng.NormFloat64())
		sward, err := reference.Load().Sward(p.SwardID)
		if err != nil {
			return err
		}
		b.start[p.ID] = sward.Residual * (f.early + 0.35*b.rng.Float64())
	}
	return nil
}

func (b *builder) stock(ctx context.Context) error {
	school, err := grazing.FindSchool(grazing.LeafResidual)
	if err != nil {
		return err
	}
	heights, err := grazing.FindSchool(grazing.StartStop)
	if err != nil {
		return err
	}
	heights.RestMin = 20
	fields := func(names ...string) []string {
		out := make([]string, len(names))
		for i, n := range names {
			out[i] = b.fieldIDs[n]
		}
		return out
	}
	indoors := []store.Supplement{{Name: "silage indoors", From: "2026-01-02", Until: "2026-05-19", KgDM: 16, Substitution: 1}, {Name: "silage indoors", From: "2026-10-12", KgDM: 16, Substitution: 1}}
	sheepIn := []store.Supplement{{Name: "hay indoors", From: "2026-01-02", Until: "2026-05-19", KgDM: 3.5, Substitution: 1}, {Name: "hay indoors", From: "2026-11-15", KgDM: 3.5, Substitution: 1}}
	class := func(ref, name string, count, weight, share float64, fed []store.Supplement) herd.ClassInput {
		return herd.ClassInput{ReferenceID: ref, Name: name, Count: count, LiveWeight: weight, IntakeShare: share, Supplements: fed}
	}
	mobs := []struct {
		in     herd.MobInput
		school grazing.School
	}{
		{herd.MobInput{Name: "Cows and calves", Letter: "K", Glyph: "triangle", FieldIDs: fields("Øvre", "Låvevangen", "Sørjordet", "Nedre"),
			Classes: []herd.ClassInput{class("beef_cow_dry", "Suckler cows", 62, 620, 0.023*0.019/0.024, indoors)}}, school},
		{herd.MobInput{Name: "Ewes with twins", Letter: "E", Glyph: "circle", FieldIDs: fields("Bekkelia", "Tjern", "Heia"),
			Classes: []herd.ClassInput{class("ewe_dry", "Ewes", 120, 72, 0.02, sheepIn)}}, heights},
	}
	plan := moves.NewPlan{ID: b.id(), PlanInput: moves.PlanInput{StartsOn: "2026-05-06", Days: 60, Confirmed: true}}
	for i, m := range mobs {
		id := b.id()
		b.mobs[i] = id
		if _, err := b.house.Herd.CreateMob(ctx, b.actor, herd.NewMob{ID: id, MobInput: m.in}); err != nil {
			return fmt.Errorf("demo mob %s: %w", m.in.Name, err)
		}
		plan.Mobs = append(plan.Mobs, moves.PlanMobInput{MobID: id, School: m.school})
	}
	if err := b.hold(ctx, b.first); err != nil {
		return err
	}
	if _, err := b.house.Moves.CreatePlan(ctx, b.actor, plan); err != nil {
		return fmt.Errorf("demo plan: %w", err)
	}
	return nil
}

// season walks every Wednesday and moves the mobs when Fjell says so, half a day at a time.
func (b *builder) season(ctx context.Context) error {
	turnout := time.Date(2026, 5, 19, 8, 0, 0, 0, b.loc)
	for day := 0; ; day++ {
		for _, hour := range []int{8, 18} {
			at := time.Date(2026, 4, 29+day, hour, 0, 0, 0, b.loc)
			if at.After(Now) {
				return b.renew(ctx)
			}
			if err := b.hold(ctx, at); err != nil {
				return err
			}
			if hour == 8 && at.Weekday() == time.Wednesday && at.Before(Now.AddDate(0, 0, -2)) {
				if err := b.walk(ctx, at); err != nil {
					return err
				}
			}
			if at.Before(turnout) {
				continue
			}
			if err := b.move(ctx, at); err != nil {
				return err
			}
		}
	}
}

// renew starts the plan the farm looks at on the demo's morning.
func (b *builder) renew(ctx context.Context) error {
	if err := b.hold(ctx, Now); err != nil {
		return err
	}
	view, err := b.house.Moves.Plan(ctx, b.actor)
	if err != nil {
		return err
	}
	_, err = b.house.Moves.CreatePlan(ctx, b.actor, moves.NewPlan{ID: b.id(), PlanInput: moves.PlanInput{StartsOn: "2026-06-10", Days: 42, Mobs: view.Plan.Mobs, Confirmed: true}})
	return err
}

// truth is the mass that really stands in each paddock at a moment.
func (b *builder) truth(ctx context.Context, at time.Time) (map[string]float64, error) {
	view, err := b.house.Ground.Land(ctx, b.actor)
	if err != nil {
		return nil, err
	}
	mobs, err := b.house.Herd.Mobs(ctx, b.actor)
	if err != nil {
		return nil, err
	}
	moves, err := b.house.Moves.Moves(ctx, b.actor)
	if err != nil {
		return nil, err
	}
	f := rotation.Farm{Location: b.loc, MoveMinutes: []int{480, 1080}, Weather: b.growth}
	index, mobIndex := map[string]int{}, map[string]int{}
	var known []rotation.Measured
	for i, p := range view.Paddocks {
		sward, err := reference.Load().Sward(p.SwardID)
		if err != nil {
			return nil, err
		}
		curve, err := reference.Load().Curve(northern)
		if err != nil {
			return nil, err
		}
		index[p.ID] = i
		f.Paddocks = append(f.Paddocks, rotation.Paddock{ID: p.ID, AreaHa: p.AreaHa, Peak: sward.PeakGrowth * b.factor[p.ID], Ceiling: sward.Ceiling, Curve: curve})
		known = append(known, rotation.Measured{Paddock: i, At: b.first.Add(-time.Hour), Mass: b.start[p.ID]})
	}
	var herd []rotation.Mob
	for i, m := range mobs {
		mobIndex[m.ID] = i
		demand := m.Demand.Value * 1.05 // real animals eat a little more than the book
		rm := rotation.Mob{Demand: rotation.Steady(demand)}
		for range f.Paddocks {
			rm.Limits = append(rm.Limits, grazing.Limits{Residual: 1200, Entry: 2000, U: 0.97})
		}
		herd = append(herd, rm)
	}
	var stays []rotation.Stay
	open := map[int]int{}
	for i := len(moves) - 1; i >= 0; i-- {
		mv := moves[i]
		m := mobIndex[mv.MobID]
		if k, ok := open[m]; ok {
			stays[k].Leave = mv.MovedAt
		}
		if mv.ToID != nil {
			open[m] = len(stays)
			stays = append(stays, rotation.Stay{Mob: m, Paddock: index[*mv.ToID], Enter: mv.MovedAt})
		}
	}
	past := rotation.Recount(f, herd, make([]rotation.Standing, len(f.Paddocks)), stays, known, b.first.Add(-time.Hour), at)
	out := map[string]float64{}
	for id, i := range index {
		out[id] = past.Mass[i]
	}
	return out, nil
}

func (b *builder) walk(ctx context.Context, at time.Time) error {
	truth, err := b.truth(ctx, at)
	if err != nil {
		return err
	}
	view, err := b.house.Walk.Walk(ctx, b.actor)
	if err != nil {
		return err
	}
	for _, stop := range view.Stops {
		if stop.Plate == nil {
			return fmt.Errorf("a plate does not read %s", stop.Name)
		}
		bias := 1 + 0.03*b.rng.NormFloat64()
		readings := make([]float64, 18)
		for i := range readings {
			cm := (truth[stop.PaddockID] - stop.Plate.Intercept) / stop.Plate.Slope * bias * math.Exp(0.22*b.rng.NormFloat64()-0.02)
			readings[i] = math.Max(1, math.Round(cm*2)/2)
		}
		// The eye is trained as the season goes: it begins a fifth too high and ends near.
		weeks := at.Sub(b.first).Hours() / 24 / 7
		guess := math.Round(truth[stop.PaddockID]*(1+0.22*math.Exp(-weeks/2))*math.Exp((0.08+0.12*math.Exp(-weeks/2))*b.rng.NormFloat64())/50) * 50
		if err := b.house.Walk.RecordMeasurement(ctx, b.actor, walk.NewMeasurement{ID: b.id(), PaddockID: stop.PaddockID, MeasuredAt: at, Confirmed: true,
			Input: measuring.Input{Method: forage.Plate, Readings: readings, Guess: &guess}}); err != nil {
			return fmt.Errorf("demo walk of %s: %w", stop.Name, err)
		}
	}
	return nil
}

// move records every move that is due.
func (b *builder) move(ctx context.Context, at time.Time) error {
	today, err := b.house.Today.Today(ctx, b.actor)
	if err != nil {
		return err
	}
	for _, m := range today.Mobs {
		if m.Next == nil || m.Next.Enter.After(at.Add(time.Hour)) {
			continue
		}
		mv := moves.NewMove{ID: b.id(), MobID: m.MobID, ToID: &m.Next.PaddockID, MovedAt: at, Confirmed: true}
		if m.PaddockID != "" {
			truth, err := b.truth(ctx, at)
			if err != nil {
				return err
			}
			left := math.Round(truth[m.PaddockID]*(1+0.06*b.rng.NormFloat64())/10) * 10
			mv.LeftMass = &left
		}
		if _, err := b.house.Moves.RecordMove(ctx, b.actor, mv); err != nil {
			return fmt.Errorf("demo move of %s: %w", m.Name, err)
		}
	}
	return nil
}
