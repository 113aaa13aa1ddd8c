package house_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	planner "fjell/core/rotation/plan"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/forage"
	"fjell/core/grazing"
	"fjell/core/land"
	"fjell/core/measuring"
	"fjell/core/reference"
	"fjell/core/rotation"
	"fjell/core/weather"
	"fjell/internal/farm"
	"fjell/internal/farm/ground"
	"fjell/internal/farm/herd"
	"fjell/internal/farm/moves"
	"fjell/internal/farm/walk"
)

// simulated is a farm that is run by Fjell for twelve weeks, on ground that is not what Fjell takes it to be: paddocks grow better
// or worse than their curve, the weather of a week strays, animals have an appetite of their own, and the plate errs.
type simulated struct {
	*yard
	kind   farmKind
	rng    *rand.Rand
	truth  rotation.Farm
	mob    rotation.Mob
	start  []rotation.Measured
	stays  []rotation.Stay
	ids    []string
	index  map[string]int
	limits []grazing.Limits
	bias   float64

	inside, drawn int       // truths inside the band that was drawn
	left, rested  []float64 // what stood on leaving, and the rest on entering, against what was asked
	stops, weeks  int       // checks that stop, and days they are of
}

// farmKind is one of five: what grows, how it is grazed, when, and what eats there.
type farmKind struct {
	name, sward string
	latitude    float64
	from        string
	ha          float64
	paddocks    int
	class       string
	head        float64
	every       int
	method      forage.Method
	errs        float64 // of the method: as much on one side for the season, and as much anew on each walk
}

var farmKinds = []farmKind{
	{"leys", "ryegrass_white_clover", 56, "2026-05-04", 24, 12, "beef_cow_lactating", 72, 7, forage.Plate, 0.08},
	{"dairy", "perennial_ryegrass", 53, "2026-04-20", 40, 20, "dairy_cow_lactating", 84, 7, forage.Plate, 0.08},
	{"sheep", "upland_bent_fescue", 57, "2026-06-01", 12, 10, "ewe_lactating_twin", 100, 7, forage.Plate, 0.08},
	{"range", "native_mixed_grass", 44, "2026-05-11", 300, 12, "beef_cow_lactating", 75, 14, forage.Clip, 0.1},
	{"small", "cocksfoot_legume", 42, "2026-05-04", 0.8, 6, "ewe_lactating_twin", 6, 7, forage.Plate, 0.08},
}

func (y *yard) run(t *testing.T, kind farmKind, seed uint64) *simulated {
	t.Helper()
	s := &simulated{yard: y, kind: kind, rng: rand.New(rand.NewPCG(seed, 12)), index: map[string]int{}}
	begin, err := time.Parse(time.DateOnly, kind.from)
	require.NoError(t, err)
	y.now = begin.Add(7 * time.Hour)
	view, err := y.service.Farm.CreateFarm(y.ctx, y.actor.UserID, farm.NewFarm{ID: id(), FarmInput: farm.FarmInput{Name: fmt.Sprint(kind.name, seed), TimeZone: "UTC", Units: "metric",
		Experience: "some", Longitude: 9, Latitude: kind.latitude}})
	require.NoError(t, err)
	y.actor = farm.Actor{UserID: y.actor.UserID, FarmID: view.ID, Role: farm.Owner}
	side := math.Sqrt(kind.ha * 10000)
	plane := land.NewPlane(land.Position{9, kind.latitude})
	var ring []land.Position
	for _, c := range [][2]float64{{0, 0}, {side, 0}, {side, side}, {0, side}, {0, 0}} {
		ring = append(ring, plane.Inverse(land.Point{X: c[0], Y: c[1]}))
	}
	field := id()
	_, err = y.service.Ground.CreateField(y.ctx, y.actor, ground.NewField{ID: field, Name: "F", SwardID: kind.sward, Shape: land.Shape{{ring}}})
	require.NoError(t, err)
	_, err = y.service.Ground.AcceptDivision(y.ctx, y.actor, field, ground.AcceptDivision{ID: id(), Name: "s", DivideInput: ground.DivideInput{Parts: float64(kind.paddocks)}})
	require.NoError(t, err)
	class, err := reference.Load().Class(kind.class)
	require.NoError(t, err)
	mobID := id()
	mob, err := y.service.Herd.CreateMob(y.ctx, y.actor, herd.NewMob{ID: mobID, MobInput: herd.MobInput{Name: "M", Glyph: "circle", Confirmed: true,
		Classes: []herd.ClassInput{{ReferenceID: kind.class, Count: kind.head, LiveWeight: class.LiveWeight.Typical, IntakeShare: class.IntakeShare.Typical}}}})
	require.NoError(t, err)
	s.makeTruth(t, begin, mob)
	return s
}

func (s *simulated) makeTruth(t *testing.T, begin time.Time, mob herd.MobView) {
	t.Helper()
	sward, err := reference.Load().Sward(s.kind.sward)
	require.NoError(t, err)
	curve, err := reference.Load().Curve(sward.GrowthCurve)
	require.NoError(t, err)
	limits, err := mob.School.On(sward)
	require.NoError(t, err)
	s.bias = s.kind.errs * s.rng.NormFloat64()
	growth, week := rotation.Daily{First: rotation.DayNumber(begin, time.UTC) - 2}, 0.0
	for d := range 120 {
		if d%7 == 0 {
			week = 0.5*week + 0.2*s.rng.NormFloat64()
		}
		growth.Values = append(growth.Values, math.Max(0.1, 1+week))
	}
	s.truth = rotation.Farm{Location: time.UTC, Weather: map[weather.Grass]rotation.Daily{"": growth}}
	s.mob = rotation.Mob{ID: mob.ID, In: rotation.Nowhere, Demand: rotation.Steady(mob.Demand.Value * (1 + 0.06*s.rng.NormFloat64()))}
	view, err := s.service.Ground.Land(s.ctx, s.actor)
	require.NoError(t, err)
	for i, p := range view.Paddocks {
		s.ids, s.index[p.ID] = append(s.ids, p.ID), i
		s.truth.Paddocks = append(s.truth.Paddocks, rotation.Paddock{ID: p.ID, AreaHa: p.AreaHa, Peak: sward.PeakGrowth * math.Max(0.5, 1+0.15*s.rng.NormFloat64()),
			Ceiling: sward.Ceiling * (1 + 0.06*s.rng.NormFloat64()), Curve: curve, Loss: sward.DailyLoss()})
		s.mob.Limits, s.mob.Ground = append(s.mob.Limits, limits), append(s.mob.Ground, true)
		mass := limits.Residual + (limits.Entry-limits.Residual)*1.15*(float64(i)+s.rng.Float64())/float64(s.kind.paddocks)
		s.start = append(s.start, rotation.Measured{Paddock: i, At: begin, Mass: mass, HalfWidth: 1, Shared: 1})
	}
	s.limits = s.mob.Limits
}

func (s *simulated) stands() []float64 {
	return rotation.Recount(s.truth, []rotation.Mob{s.mob}, make([]rotation.Standing, len(s.ids)), s.stays, s.start, s.start[0].At, s.now).Mass
}

// walk measures every paddock, and holds what was believed before against what is true.
func (s *simulated) walk(t *testing.T, first bool) {
	t.Helper()
	truth := s.stands()
	view, err := s.service.Ground.Land(s.ctx, s.actor)
	require.NoError(t, err)
	for i, p := range view.Paddocks {
		if s.drawn++; first {
			s.drawn--
		} else if math.Abs(truth[i]-p.Mass.Mass) <= p.Mass.HalfWidth {
			s.inside++
		}
	}
	stops, err := s.service.Walk.Walk(s.ctx, s.actor)
	require.NoError(t, err)
	day := s.kind.errs * s.rng.NormFloat64()
	for _, stop := range stops.Stops {
		mass := truth[s.index[stop.PaddockID]] * math.Exp(s.bias+day+0.04*s.rng.NormFloat64())
		in := measuring.Input{Method: s.kind.method}
		for range 6 {
			one := mass * math.Exp(0.15*s.rng.NormFloat64()-0.011)
			if s.kind.method == forage.Clip {
				frame, dry := 0.5, 0.6
				in.Quadrat, in.DryShare = &frame, &dry
				one = one / 10 / dry * frame
			} else {
				one = math.Max(1, (one-stop.Plate.Intercept)/stop.Plate.Slope)
			}
			in.Readings = append(in.Readings, one)
		}
		require.NoError(t, s.service.Walk.RecordMeasurement(s.ctx, s.actor, walk.NewMeasurement{ID: id(), PaddockID: stop.PaddockID, MeasuredAt: s.now, Confirmed: true, Input: in}))
	}
}

// twelveWeeks walks when it is time, and moves when Fjell says so.
func (s *simulated) twelveWeeks(t *testing.T) {
	t.Helper()
	begin, due := s.now, s.now
	for slot := begin; slot.Before(begin.AddDate(0, 0, 84)); {
		s.now = slot
		days := int(slot.Sub(begin).Hours()/24 + 0.5)
		if slot.Hour() == 7 && days%s.kind.every == 0 {
			s.walk(t, days == 0)
			due = slot
			plan, err := s.service.Moves.Plan(s.ctx, s.actor)
			require.NoError(t, err)
			s.weeks += s.kind.every
			for _, c := range plan.Checks {
				if c.Severity == grazing.Stop && c.At.Before(slot.AddDate(0, 0, s.kind.every)) {
					s.stops++
				}
			}
		}
		if !slot.Before(due) {
			due = s.follow(t)
		}
		if slot.Hour() == 7 {
			slot = slot.Add(11 * time.Hour)
		} else {
			slot = slot.Add(13 * time.Hour)
		}
	}
}

// follow moves the mob if it is due, and tells when it is next.
func (s *simulated) follow(t *testing.T) time.Time {
	t.Helper()
	for {
		today, err := s.service.Today.Today(s.ctx, s.actor)
		require.NoError(t, err)
		next := today.Mobs[0].Next
		if next == nil {
			return s.now.AddDate(0, 0, 3)
		}
		if next.Enter.After(s.now.Add(time.Hour)) {
			return next.Enter.Truncate(time.Hour).Add(-time.Hour)
		}
		s.goTo(t, next)
	}
}

func (s *simulated) goTo(t *testing.T, next *moves.VisitView) {
	t.Helper()
	_, err := s.service.Moves.RecordMove(s.ctx, s.actor, moves.NewMove{ID: id(), MobID: s.mob.ID, ToID: &next.PaddockID, MovedAt: s.now, Confirmed: true, Note: "as planned"})
	require.NoError(t, err)
	to := s.index[next.PaddockID]
	if from := s.mob.In; from != rotation.Nowhere {
		k := len(s.stays) - 1
		s.stays[k].Leave = s.now
		in := rotation.Recount(s.truth, []rotation.Mob{s.mob}, make([]rotation.Standing, len(s.ids)), s.stays, s.start, s.start[0].At, s.stays[k].Enter).Mass[from]
		s.left = append(s.left, s.stands()[from]/s.limits[from].Entered(in).Residual)
	}
	last := time.Time{}
	for _, stay := range s.stays {
		if stay.Paddock == to && stay.Leave.After(last) {
			last = stay.Leave
		}
	}
	if asked := s.limits[to].RestMin; !last.IsZero() && asked > 0 {
		s.rested = append(s.rested, s.now.Sub(last).Hours()/24/asked)
	}
	s.mob.In = to
	s.stays = append(s.stays, rotation.Stay{Mob: 0, Paddock: to, Enter: s.now})
}

// Sixteen farms of five kinds, each run for twelve weeks through the use cases that people have: what was drawn holds what is true,
// what is left and rested is what was asked, and the checks are few enough to be read.
func TestTwelveWeeksOnSixteenFarms(t *testing.T) {
	if testing.Short() {
		t.Skip("two minutes of seasons")
	}
	type sum struct {
		farms, inside, drawn, stops, weeks int
		left, rested                       []float64
	}
	all := map[string]*sum{}
	for k := range 16 {
		kind := farmKinds[k%len(farmKinds)]
		s := newYard(t).run(t, kind, uint64(k))
		s.twelveWeeks(t)
		a := all[kind.name]
		if a == nil {
			a = &sum{}
			all[kind.name] = a
		}
		a.farms++
		a.inside, a.drawn, a.stops, a.weeks = a.inside+s.inside, a.drawn+s.drawn, a.stops+s.stops, a.weeks+s.weeks/7
		a.left, a.rested = append(a.left, s.left...), append(a.rested, s.rested...)
	}
	inside, drawn := 0, 0
	for _, kind := range farmKinds {
		a := all[kind.name]
		share := float64(a.inside) / float64(a.drawn)
		inside, drawn = inside+a.inside, drawn+a.drawn
		t.Logf("%-6s %d farms: %5.1f %% of truths inside the band; left %.2f of what was asked (a tenth below %.2f); rest %.2f of what was asked (least %.2f), %d moves; %.2f stops a week",
			kind.name, a.farms, 100*share, mean(a.left), quantile(a.left, 0.1), mean(a.rested), quantile(a.rested, 0), len(a.left), float64(a.stops)/float64(a.weeks))
		assert.GreaterOrEqual(t, share, 0.86, kind.name)
		assert.Greater(t, mean(a.left), 0.9, "%s are grazed to what was asked, not below", kind.name)
		if len(a.rested) > 0 {
			assert.GreaterOrEqual(t, quantile(a.rested, 0), 0.99, "%s: rest binds", kind.name)
		}
		assert.Less(t, float64(a.stops)/float64(a.weeks), 1.5, "%s: the week's stops can be read", kind.name)
	}
	assert.InDelta(t, 0.94, float64(inside)/float64(drawn), 0.05)
}

func mean(list []float64) float64 {
	sum := 0.0
	for _, v := range list {
		sum += v
	}
	return sum / math.Max(1, float64(len(list)))
}

func quantile(list []float64, q float64) float64 {
	if len(list) == 0 {
		return math.NaN()
	}
	s := slices.Sorted(slices.Values(list))
	return s[int(q*float64(len(s)-1))]
}

func TestASwardIsKeptTallerInTheHotWeeksOfAPlan(t *testing.T) {
	y := newYard(t)
	for i, p := range y.field("Nedre", 12, 8) {
		y.measure(p.ID, 1900+float64(i)*150)
	}
	mob := y.mob("Stores", 60)
	school, err := grazing.FindSchool(grazing.LeafResidual)
	require.NoError(t, err)
	school.RestMin, school.StayMax = 12, 4
	plan := func(version int, taller *grazing.Taller) (moves.PlanView, error) {
		school.Taller = taller
		in := moves.PlanInput{StartsOn: "2026-05-20", Days: 28, Mobs: []moves.PlanMobInput{{MobID: mob, School: school}}}
		if version == 0 {
			return y.service.Moves.CreatePlan(y.ctx, y.actor, moves.NewPlan{ID: id(), PlanInput: in})
		}
		now, err := y.service.Moves.Plan(y.ctx, y.actor)
		require.NoError(t, err)
		return y.service.Moves.UpdatePlan(y.ctx, y.actor, now.Plan.ID, now.Plan.Version, in)
	}
	usual, err := plan(0, nil)
	require.NoError(t, err)
	require.Len(t, usual.Bites, 1)
	assert.Nil(t, usual.Bites[0].Hot)
	assert.InDelta(t, 1500, usual.Rows[0].Residual, 1e-9)

	for by, words := range map[float64]string{40: "at most", -1: "above 0"} {
		_, err = plan(1, &grazing.Taller{From: "05-30", Until: "07-01", By: by})
		assert.ErrorContains(t, err, "mobs[0].school.taller.by_cm")
		assert.ErrorContains(t, err, words)
	}
	later, err := plan(1, &grazing.Taller{From: "05-30", Until: "07-01", By: 3})
	require.NoError(t, err)
	require.NotNil(t, later.Bites[0].Hot)
	residual := later.Bites[0].Hot.Residual
	assert.Greater(t, residual, 1600.0)
	assert.InDelta(t, later.Bites[0].Usual.Entry-later.Bites[0].Usual.Residual, later.Bites[0].Hot.Entry-residual, 1e-9)
	assert.InDelta(t, 1500, later.Rows[0].Residual, 1e-9, "today is not hot yet")
	hot := 0
	for _, v := range later.Visits {
		if v.Kind == "planned" && v.Leave.Month() == time.June {
			hot++
			assert.Greater(t, v.MassOut, residual*0.98, "leaving on %s", v.Leave)
		}
	}
	assert.Greater(t, hot, 2)
	raw, err := y.service.Moves.Problem(y.ctx, y.actor)
	require.NoError(t, err)
	problem, err := planner.Read(raw)
	require.NoError(t, err)
	require.Len(t, problem.Mobs[0].Limits.Times, 1)
	assert.Equal(t, [2]float64{10, 28}, [2]float64{problem.Mobs[0].Limits.Times[0].From, problem.Mobs[0].Limits.Times[0].Until})

	already, err := plan(2, &grazing.Taller{From: "05-10", Until: "07-01", By: 3})
	require.NoError(t, err)
	assert.InDelta(t, residual, already.Rows[0].Residual, 1e-9, "what is grazed today is held to today's height")
	today, err := y.service.Today.Today(y.ctx, y.actor)
	require.NoError(t, err)
	require.NotNil(t, today.Mobs[0].Next)
	assert.InDelta(t, residual, today.Mobs[0].NextStay.Steps[0].Terms[1].Value, 1e-6, "and the feed of the next is counted to it")
}

func TestAPlanGoesIntoTheReserveOnlyInNeedAndSaysSo(t *testing.T) {
	y := newYard(t)
	pads := y.field("Nedre", 12, 6)
	for i, p := range pads {
		y.measure(p.ID, 2400+float64(i)*100)
	}
	mob := y.mob("Stores", 50)
	purpose := func(as string) {
		p := y.of(pads[5].FieldID)[5]
		_, err := y.service.Ground.UpdatePaddock(y.ctx, y.actor, p.ID, p.Version, ground.PaddockInput{Name: p.Name, SwardID: p.SwardID, GrowthFactor: p.GrowthFactor, Purpose: as})
		require.NoError(t, err)
	}
	plan := func() (grazed, told int, view moves.PlanView) {
		view, err := y.service.Moves.Plan(y.ctx, y.actor)
		require.NoError(t, err)
		for _, v := range view.Visits {
			if v.PaddockID == pads[5].ID && v.Kind == "planned" {
				grazed++
			}
		}
		for _, c := range view.Checks {
			if c.Rule == rotation.ReserveGrazed {
				told++
				assert.Equal(t, pads[5].ID, c.PaddockID)
			}
		}
		return grazed, told, view
	}
	school, err := grazing.FindSchool(grazing.LeafResidual)
	require.NoError(t, err)
	_, err = y.service.Moves.CreatePlan(y.ctx, y.actor, moves.NewPlan{ID: id(), PlanInput: moves.PlanInput{StartsOn: "2026-05-20", Days: 28,
		Mobs: []moves.PlanMobInput{{MobID: mob, School: school}}}})
	require.NoError(t, err)
	grazed, told, _ := plan()
	require.Positive(t, grazed, "it is grazed like any other")
	assert.Zero(t, told)

	purpose("reserve")
	grazed, told, view := plan()
	assert.Equal(t, "kept in reserve", view.Rows[5].ClosedFor, "it stays out of the rotation's figures")
	require.Positive(t, grazed, "five others with 18 days of rest are too few")
	assert.Equal(t, grazed, told)
	first := slices.IndexFunc(view.Visits, func(v moves.VisitView) bool { return v.PaddockID == pads[5].ID && v.Kind == "planned" })
	for _, p := range pads[:5] {
		assert.True(t, slices.ContainsFunc(view.Visits[:first], func(v moves.VisitView) bool { return v.PaddockID == p.ID }), "%s goes before", p.Name)
	}
	problem, err := y.service.Moves.Problem(y.ctx, y.actor)
	require.NoError(t, err)
	read, err := planner.Read(problem)
	require.NoError(t, err)
	assert.True(t, read.Paddocks[5].Reserve)
	assert.Empty(t, read.Paddocks[5].Closed)
	assert.Contains(t, read.Mobs[0].Ground, read.Paddocks[5].Key)

	purpose("loafing")
	grazed, _, _ = plan()
	assert.Zero(t, grazed, "a resting place is no feed")
}
