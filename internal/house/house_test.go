package house_test

import (
	"context"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/forage"
	"fjell/core/grazing"
	"fjell/core/land"
	"fjell/core/measuring"
	"fjell/internal/farm"
	"fjell/internal/farm/ground"
	"fjell/internal/farm/herd"
	"fjell/internal/farm/moves"
	"fjell/internal/farm/walk"
	"fjell/internal/house"
	"fjell/internal/store"
	"fjell/internal/store/storetest"
)

// yard is a farm with a clock that a test moves.
type yard struct {
	t       *testing.T
	ctx     context.Context
	service *house.House
	actor   farm.Actor
	now     time.Time
}

func newYard(t *testing.T) *yard {
	t.Helper()
	db := storetest.Open(t)
	y := &yard{t: t, ctx: context.Background(), now: time.Date(2026, 5, 20, 7, 0, 0, 0, time.UTC)}
	y.service = house.New(&farm.Service{DB: db, Clock: &farm.Clock{Fixed: &y.now}})
	account, _, err := y.service.Farm.SignUp(y.ctx, "ida@example.org", "Ida", "a long password", farm.Visitor{Address: "test"})
	require.NoError(t, err)
	view, err := y.service.Farm.CreateFarm(y.ctx, account.ID, farm.NewFarm{ID: id(), FarmInput: farm.FarmInput{Name: "Skarn", TimeZone: "Europe/Oslo", Units: "metric",
		Experience: "some", Longitude: 9, Latitude: 61}})
	require.NoError(t, err)
	y.actor = farm.Actor{UserID: account.ID, FarmID: view.ID, Role: farm.Owner}
	return y
}

func id() string { return uuid.Must(uuid.NewV7()).String() }

func (y *yard) later(days float64) { y.now = y.now.Add(time.Duration(days * 24 * float64(time.Hour))) }

func (y *yard) field(name string, lon float64, parts int) []ground.PaddockView {
	y.t.Helper()
	fieldID := id()
	ring := []land.Position{{lon, 61}, {lon + 0.006, 61}, {lon + 0.006, 61.003}, {lon, 61.003}, {lon, 61}}
	_, err := y.service.Ground.CreateField(y.ctx, y.actor, ground.NewField{ID: fieldID, Name: name, SwardID: "ryegrass_white_clover", Shape: land.Shape{{ring}}})
	require.NoError(y.t, err)
	_, err = y.service.Ground.AcceptDivision(y.ctx, y.actor, fieldID, ground.AcceptDivision{ID: id(), Name: "summer", DivideInput: ground.DivideInput{Parts: float64(parts)}})
	require.NoError(y.t, err)
	return y.of(fieldID)
}

func (y *yard) of(fieldID string) []ground.PaddockView {
	y.t.Helper()
	view, err := y.service.Ground.Land(y.ctx, y.actor)
	require.NoError(y.t, err)
	var out []ground.PaddockView
	for _, p := range view.Paddocks {
		if p.FieldID == fieldID {
			out = append(out, p)
		}
	}
	return out
}

// settings is the version of the farm's settings.
func (y *yard) settings() int {
	y.t.Helper()
	view, err := y.service.Farm.Farm(y.ctx, y.actor)
	require.NoError(y.t, err)
	return view.Version
}

func (y *yard) layoutVersion(id string) int {
	y.t.Helper()
	var row store.Layout
	require.NoError(y.t, y.service.Farm.DB.First(&row, "id = ?", id).Error)
	return row.Version
}

func (y *yard) measure(paddock string, mass float64) {
	y.t.Helper()
	err := y.service.Walk.RecordMeasurement(y.ctx, y.actor, walk.NewMeasurement{ID: id(), MeasuredAt: y.now,
		PaddockID: paddock, Input: measuring.Input{Method: forage.Plain, Readings: []float64{mass, mass}}})
	require.NoError(y.t, err)
}

func (y *yard) mob(name string, head float64) string {
	y.t.Helper()
	mobID := id()
	_, err := y.service.Herd.CreateMob(y.ctx, y.actor, herd.NewMob{ID: mobID, MobInput: herd.MobInput{Name: name, Glyph: "circle",
		Classes: []herd.ClassInput{{ReferenceID: "beef_store_growing", Count: head, LiveWeight: 340, IntakeShare: 0.025, DailyGain: 0.8}}}})
	require.NoError(y.t, err)
	return mobID
}

func (y *yard) move(mob string, to *string) {
	y.t.Helper()
	_, err := y.service.Moves.RecordMove(y.ctx, y.actor, moves.NewMove{ID: id(), MobID: mob, ToID: to, MovedAt: y.now, Note: "as it was", Confirmed: true})
	require.NoError(y.t, err)
}

func TestMassFollowsGrowthGrazingAndMeasurement(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 3)
	assert.True(t, p[0].Mass.Guessed, "nobody has measured it")
	assert.InDelta(t, (2600+1500)/2, p[0].Mass.Mass, 700)
	y.measure(p[0].ID, 2400)
	y.measure(p[1].ID, 2400)
	y.later(5)
	after := y.of(p[0].FieldID)
	assert.Greater(t, after[0].Mass.Mass, 2500.0, "it grows")
	assert.Greater(t, after[0].Mass.HalfWidth, p[0].Mass.HalfWidth*0, "and is less sure")
	mob := y.mob("Stores", 60)
	y.move(mob, &p[1].ID)
	y.later(2)
	grazed := y.of(p[0].FieldID)
	eaten := 2 * 60 * 340 * 0.025
	assert.InDelta(t, after[1].Mass.Mass-eaten/grazed[1].AreaHa, grazed[1].Mass.Mass, 200, "two days of eating, and a little growth")
	assert.Equal(t, []string{mob}, grazed[1].MobIDs)
	y.measure(p[1].ID, 1700)
	corrected := y.of(p[0].FieldID)[1].Mass
	assert.Less(t, corrected.Mass, grazed[1].Mass.Mass, "the measurement corrects")
	assert.Greater(t, corrected.Mass, 1700.0, "and what was reckoned counts too")
	assert.Less(t, corrected.HalfWidth/corrected.Mass, grazed[1].Mass.HalfWidth/grazed[1].Mass.Mass, "both together are surer")
	assert.Equal(t, 2, corrected.Looks)
	y.move(mob, nil)
	y.later(3)
	rested := y.of(p[0].FieldID)[1]
	require.NotNil(t, rested.RestDays)
	assert.InDelta(t, 3, *rested.RestDays, 0.01)
}

func TestDividingAnewCarriesMassAndRest(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 2)
	y.measure(p[0].ID, 2000)
	y.measure(p[1].ID, 3000)
	mob := y.mob("Stores", 20)
	y.move(mob, &p[0].ID)
	y.later(1)
	y.move(mob, nil)
	y.later(2)
	before := y.of(p[0].FieldID)
	_, err := y.service.Ground.AcceptDivision(y.ctx, y.actor, p[0].FieldID, ground.AcceptDivision{ID: id(), Name: "thirds", DivideInput: ground.DivideInput{Parts: 3}})
	require.NoError(t, err)
	after := y.of(p[0].FieldID)
	require.Len(t, after, 3)
	assert.InDelta(t, before[0].Mass.Mass, after[0].Mass.Mass, 1)
	assert.InDelta(t, (before[0].Mass.Mass+before[1].Mass.Mass)/2, after[1].Mass.Mass, 2, "the middle takes half of each")
	assert.InDelta(t, before[1].Mass.Mass, after[2].Mass.Mass, 1)
	require.NotNil(t, after[1].RestDays)
	assert.InDelta(t, 2, *after[1].RestDays, 0.01, "rest is the shortest of the parts")
	assert.Nil(t, after[2].RestDays)
	moves, err := y.service.Moves.Moves(y.ctx, y.actor)
	require.NoError(t, err)
	assert.Equal(t, p[0].Name, moves[1].ToName, "records keep pointing to the paddock that was")
}

func TestRateCountsOnlyTheGroundTheyGraze(t *testing.T) {
	y := newYard(t)
	first, second := y.field("Nedre", 9, 2), y.field("Øvre", 9.01, 2)
	mob := y.mob("Stores", 30)
	views, err := y.service.Herd.Mobs(y.ctx, y.actor)
	require.NoError(t, err)
	whole := views[0].SeasonAreaHa
	in := herd.MobInput{Name: "Stores", Glyph: "circle", FieldIDs: []string{first[0].FieldID}, Classes: []herd.ClassInput{{ReferenceID: "beef_store_growing", Count: 30, LiveWeight: 340, IntakeShare: 0.025}}}
	view, err := y.service.Herd.UpdateMob(y.ctx, y.actor, mob, 1, in)
	require.NoError(t, err)
	assert.InDelta(t, whole/2, view.SeasonAreaHa, 0.01)
	assert.InDelta(t, 30*340*0.025/view.SeasonAreaHa, view.PerHa.Value, 1e-9, "break-even growth follows the area by itself")
	_, err = y.service.Ground.UpdatePaddock(y.ctx, y.actor, first[0].ID, first[0].Version, ground.PaddockInput{Name: "Nedre 1", SwardID: "ryegrass_white_clover", GrowthFactor: 1, ClosedFor: "hay"})
	require.NoError(t, err)
	views, err = y.service.Herd.Mobs(y.ctx, y.actor)
	require.NoError(t, err)
	assert.InDelta(t, whole/4, views[0].SeasonAreaHa, 0.01, "closed ground is not counted")
	assert.Nil(t, views[0].Density, "density needs them somewhere")
	y.move(mob, &second[0].ID)
	views, err = y.service.Herd.Mobs(y.ctx, y.actor)
	require.NoError(t, err)
	assert.InDelta(t, 30*340/second[0].AreaHa, views[0].Density.Value, 1e-6)
}

func TestGrowingStockEatMoreEachDay(t *testing.T) {
	y := newYard(t)
	y.field("Nedre", 9, 2)
	y.mob("Stores", 10)
	views, err := y.service.Herd.Mobs(y.ctx, y.actor)
	require.NoError(t, err)
	first := views[0].Demand.Value
	y.later(50)
	views, err = y.service.Herd.Mobs(y.ctx, y.actor)
	require.NoError(t, err)
	assert.InDelta(t, first+10*0.8*50*0.025, views[0].Demand.Value, 0.5)
	assert.InDelta(t, 380, views[0].Classes[0].LiveWeight, 1)
}

func TestAPlanKeepsItsOwnCopyOfTheSchool(t *testing.T) {
	y := newYard(t)
	for i, p := range y.field("Nedre", 9, 6) {
		y.measure(p.ID, 1700+float64(i)*250)
	}
	mob := y.mob("Stores", 60)
	school, err := grazing.FindSchool(grazing.LeafResidual)
	require.NoError(t, err)
	school.StayMax, school.RestMin = 1, 5
	planID := id()
	in := moves.PlanInput{StartsOn: "2026-05-20", Days: 21, Mobs: []moves.PlanMobInput{{MobID: mob, School: school}}}
	view, err := y.service.Moves.CreatePlan(y.ctx, y.actor, moves.NewPlan{ID: planID, PlanInput: in})
	require.NoError(t, err)
	for _, v := range view.Visits {
		assert.LessOrEqual(t, v.StayDays, 1.01)
	}
	in.Mobs[0].School.StayMax = 3
	view, err = y.service.Moves.UpdatePlan(y.ctx, y.actor, planID, 1, in)
	require.NoError(t, err)
	assert.Equal(t, 3.0, view.Plan.Mobs[0].School.StayMax)
	usual, err := grazing.FindSchool(grazing.LeafResidual)
	require.NoError(t, err)
	assert.Equal(t, 3.0, usual.StayMax, "the school itself is untouched")
	_, err = y.service.Moves.UpdatePlan(y.ctx, y.actor, planID, 1, in)
	var changed *farm.Changed
	assert.ErrorAs(t, err, &changed)

	// A plan that starts later leaves them where they are until then.
	in.StartsOn = "2026-05-24"
	view, err = y.service.Moves.UpdatePlan(y.ctx, y.actor, planID, 2, in)
	require.NoError(t, err)
	require.NotEmpty(t, view.Visits)
	assert.False(t, view.Visits[0].Enter.Before(time.Date(2026, 5, 23, 22, 0, 0, 0, time.UTC)))
}

func TestOneHerdOfClientsWritesOnce(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 2)
	in := walk.NewMeasurement{ID: id(), MeasuredAt: y.now, PaddockID: p[0].ID, Input: measuring.Input{Method: forage.Plain, Readings: []float64{2000}}}
	var wg sync.WaitGroup
	errs := make([]error, 8)
	for i := range errs {
		wg.Go(func() { errs[i] = y.service.Walk.RecordMeasurement(y.ctx, y.actor, in) })
	}
	wg.Wait()
	for _, err := range errs {
		assert.NoError(t, err, "a retry while the first is under way is harmless")
	}
	var kept int64
	require.NoError(t, y.service.Farm.DB.Table("measurements").Where("id = ?", in.ID).Count(&kept).Error)
	assert.EqualValues(t, 1, kept)
}

func TestSouthernFarmsHaveTheirSpringInSeptember(t *testing.T) {
	y := newYard(t)
	grow := func(lat float64, at time.Time) float64 {
		y.now = at
		view, err := y.service.Farm.CreateFarm(y.ctx, y.actor.UserID, farm.NewFarm{ID: id(), FarmInput: farm.FarmInput{Name: "F", TimeZone: "UTC", Units: "metric", Experience: "some", Longitude: 9, Latitude: lat}})
		require.NoError(t, err)
		a := farm.Actor{UserID: y.actor.UserID, FarmID: view.ID, Role: farm.Owner}
		fieldID := id()
		_, err = y.service.Ground.CreateField(y.ctx, a, ground.NewField{ID: fieldID, Name: "x", SwardID: "ryegrass_white_clover",
			Shape: land.Shape{{{{9, lat}, {9.005, lat}, {9.005, lat + 0.003}, {9, lat}}}}})
		require.NoError(t, err)
		view2, err := y.service.Ground.Land(y.ctx, a)
		require.NoError(t, err)
		err = y.service.Walk.RecordMeasurement(y.ctx, a, walk.NewMeasurement{ID: id(), MeasuredAt: y.now, PaddockID: view2.Paddocks[0].ID, Input: measuring.Input{Method: forage.Plain, Readings: []float64{2000}}})
		require.NoError(t, err)
		y.later(10)
		view2, err = y.service.Ground.Land(y.ctx, a)
		require.NoError(t, err)
		return view2.Paddocks[0].Mass.Mass - 2000
	}
	may, november := time.Date(2026, 5, 15, 8, 0, 0, 0, time.UTC), time.Date(2026, 11, 15, 8, 0, 0, 0, time.UTC)
	assert.Greater(t, grow(61, may), 5*grow(61, november))
	assert.Greater(t, grow(-44, november), 5*grow(-44, may))
}

func TestTheFarmsDemandIsThatOfItsMobs(t *testing.T) {
	y := newYard(t)
	y.mob("Stores", 20)
	y.mob("Heifers", 12)
	mobs, err := y.service.Herd.Mobs(y.ctx, y.actor)
	require.NoError(t, err)
	all, err := y.service.Herd.Demand(y.ctx, y.actor)
	require.NoError(t, err)
	assert.InDelta(t, mobs[0].Demand.Value+mobs[1].Demand.Value, all.Value, 1e-9)
	assert.Equal(t, "D1 + D2", all.Steps[0].Formula)
}
