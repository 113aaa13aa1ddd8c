package house_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/forage"
	"fjell/core/grazing"
	"fjell/core/land"
	"fjell/core/measuring"
	"fjell/internal/farm"
	"fjell/internal/farm/ground"
	"fjell/internal/farm/moves"
	"fjell/internal/farm/walk"
	"fjell/internal/store"
)

func (y *yard) limit(p ground.PaddockView, kind string) {
	y.t.Helper()
	_, err := y.service.Ground.UpdatePaddock(y.ctx, y.actor, p.ID, p.Version, ground.PaddockInput{Name: p.Name, SwardID: p.SwardID, GrowthFactor: p.GrowthFactor,
		Limits: []store.PaddockLimit{{Kind: kind}}})
	require.NoError(y.t, err)
}

func (y *yard) weather(day int, rain, mean float64) {
	y.t.Helper()
	_, err := y.service.Walk.KeepWeatherDay(y.ctx, y.actor, walk.WeatherDayInput{Day: y.day(day), Rain: rain, Mean: mean, Confirmed: true})
	require.NoError(y.t, err)
}

func TestLimitsOfTheWeatherHold(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 3)
	for _, pad := range p {
		y.plate(pad.ID, 2800, 9, 9.5, 9, 10, 9.5)
	}
	y.limit(p[0], "not_wet")
	y.limit(p[1], "no_water_in_frost")
	y.weather(-1, 3, 11)
	y.weather(0, 4, 11)
	dry := y.of(p[0].FieldID)
	assert.Empty(t, dry[0].ClosedNow)
	y.weather(0, 60, 11)
	wet := y.of(p[0].FieldID)
	assert.Contains(t, wet[0].ClosedNow, "too wet for hooves")
	assert.Empty(t, wet[1].ClosedNow)
	assert.Equal(t, grazing.Mind, wet[2].State, "elsewhere it is minded")
	assert.Contains(t, fmt.Sprint(wet[2].Reasons), "too wet")
	y.weather(0, 0, -4)
	frost := y.of(p[0].FieldID)
	assert.Contains(t, frost[1].ClosedNow, "no water in frost")
	assert.Empty(t, frost[0].ClosedNow)
	mob := y.mob("Stores", 40)
	_, err := y.service.Moves.CreatePlan(y.ctx, y.actor, moves.NewPlan{ID: id(), PlanInput: moves.PlanInput{StartsOn: y.day(0), Days: 21, Mobs: []moves.PlanMobInput{{MobID: mob, School: school(t)}}, Confirmed: true}})
	require.NoError(t, err)
	plan, err := y.service.Moves.Plan(y.ctx, y.actor)
	require.NoError(t, err)
	for _, v := range plan.Visits {
		if v.PaddockID == p[1].ID {
			assert.True(t, v.Enter.After(y.now.AddDate(0, 0, 1)), "not while its water may be frozen")
		}
	}
}

func school(t *testing.T) grazing.School {
	t.Helper()
	s, err := grazing.FindSchool(grazing.LeafResidual)
	require.NoError(t, err)
	return s
}

func TestLeavesCountOnlyWhereTheWeatherIsKnown(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 2)
	for _, pad := range p {
		y.plate(pad.ID, 2800, 9, 9.5, 9, 10, 9.5)
	}
	mob := y.mob("Stores", 5)
	y.move(mob, &p[0].ID)
	y.later(1)
	y.move(mob, &p[1].ID)
	y.later(10)
	leaves := func() *float64 {
		w, err := y.service.Walk.Walk(y.ctx, y.actor)
		require.NoError(t, err)
		for _, s := range w.Stops {
			if s.PaddockID == p[0].ID {
				return s.Leaves
			}
		}
		return nil
	}
	assert.Nil(t, leaves(), "no weather, no leaves")
	for d := -12; d < 0; d++ {
		if d != -5 {
			y.weather(d, 1, 11)
		}
	}
	assert.Nil(t, leaves(), "a day is missing")
	y.weather(-5, 1, 11)
	require.NotNil(t, leaves())
	assert.InDelta(t, 9*11/110.0, *leaves(), 0.15, "nine days of eleven degrees")
	state := y.of(p[0].FieldID)[0]
	assert.Contains(t, fmt.Sprint(state.Reasons), "roots are not refilled")
}

func TestAWalkKnowsTheZonesOfAPaddock(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 1)
	half := land.Shape{{{{9, 61}, {9.003, 61}, {9.003, 61.003}, {9, 61.003}, {9, 61}}}}
	_, err := y.service.Ground.AddZone(y.ctx, y.actor, p[0].FieldID, ground.NewZone{ID: id(), Name: "thin soil", GrowthFactor: 0.6, Shape: half})
	require.NoError(t, err)
	w, err := y.service.Walk.Walk(y.ctx, y.actor)
	require.NoError(t, err)
	zones := w.Stops[0].Zones
	require.Len(t, zones, 2)
	assert.InDelta(t, 0.5, zones[0].Share, 0.01)
	assert.Equal(t, "the rest", zones[1].Name)
	err = y.service.Walk.RecordMeasurement(y.ctx, y.actor, walk.NewMeasurement{ID: id(), PaddockID: p[0].ID, MeasuredAt: y.now, Confirmed: true,
		Input: measuring.Input{Method: forage.Plate, Readings: []float64{4, 4, 12, 12, 12, 12}, Zones: zones, ZoneOf: []int{0, 0, 1, 1, 1, 1}}})
	require.NoError(t, err)
	var row store.Measurement
	require.NoError(t, y.service.Farm.DB.First(&row).Error)
	line := w.Stops[0].Plate
	assert.InDelta(t, line.Intercept+line.Slope*8, row.ForageMass, 20, "by ground, not by the number of readings")
	assert.Equal(t, []int{0, 0, 1, 1, 1, 1}, row.Details.V.ZoneOf, "what each reading was is kept")
}

// What keeps stock off a paddock holds against plans and moves alike: a plan is refused, a move asks why and keeps the answer.
func TestLimitsHoldAgainstPinsAndMoves(t *testing.T) {
	y := newYard(t)
	north, south := y.field("north", 0, 3), y.field("south", 0.02, 1)
	mob := y.mob("Stores", 20)
	y.limit(north[0], "sheep_only")
	y.limit(north[1], "nesting")
	var row store.Mob
	require.NoError(t, y.service.Farm.DB.First(&row, "id = ?", mob).Error)
	require.NoError(t, y.service.Farm.DB.Create(&store.MobField{FarmID: row.FarmID, MobID: mob, FieldID: north[0].FieldID}).Error)
	require.NoError(t, y.service.Farm.DB.Exec("UPDATE farms SET facts_version = facts_version + 1, parts = '{}'").Error)

	school, err := grazing.FindSchool(grazing.LeafResidual)
	require.NoError(t, err)
	_, err = y.service.Moves.CreatePlan(y.ctx, y.actor, moves.NewPlan{ID: id(), PlanInput: moves.PlanInput{StartsOn: y.day(0), Days: 21, Mobs: []moves.PlanMobInput{{MobID: mob, School: school}}}})
	require.NoError(t, err)
	for why, pad := range map[string]ground.PaddockView{"sheep only": north[0], "nesting birds": north[1], "is not ground of Stores": south[0]} {
		_, err = y.service.Moves.PinMove(y.ctx, y.actor, moves.NewPin{ID: id(), MobID: mob, PaddockID: pad.ID, Enter: y.now.AddDate(0, 0, 3)})
		assert.ErrorContains(t, err, why, "a plan does not go there")
		move := moves.NewMove{ID: id(), MobID: mob, ToID: &pad.ID, MovedAt: y.now}
		_, err = y.service.Moves.RecordMove(y.ctx, y.actor, move)
		var asked *farm.Unusual
		require.ErrorAs(t, err, &asked, "a move that happened is asked about")
		assert.ErrorContains(t, err, why)
		move.Confirmed = true
		_, err = y.service.Moves.RecordMove(y.ctx, y.actor, move)
		assert.ErrorContains(t, err, "say why", "and the reason is kept with it")
		move.Note = "the bridge is out"
		list, err := y.service.Moves.RecordMove(y.ctx, y.actor, move)
		require.NoError(t, err)
		assert.Equal(t, "the bridge is out", list[0].Note)
		_, err = y.service.Moves.WithdrawMove(y.ctx, y.actor, move.ID)
		require.NoError(t, err)
	}
	kept := func(version int, purpose string) int {
		pad := north[2]
		v, err := y.service.Ground.UpdatePaddock(y.ctx, y.actor, pad.ID, version, ground.PaddockInput{Name: pad.Name, SwardID: pad.SwardID, GrowthFactor: pad.GrowthFactor, Purpose: purpose})
		require.NoError(t, err)
		return v.Version
	}
	version := kept(north[2].Version, "loafing")
	loafing := moves.NewMove{ID: id(), MobID: mob, ToID: &north[2].ID, MovedAt: y.now}
	_, err = y.service.Moves.RecordMove(y.ctx, y.actor, loafing)
	require.NoError(t, err, "a loafing paddock is there to be gone to")
	_, err = y.service.Moves.WithdrawMove(y.ctx, y.actor, loafing.ID)
	require.NoError(t, err)
	kept(version, "grazing")

	at := y.now.AddDate(0, 0, 4)
	_, err = y.service.Moves.PinMove(y.ctx, y.actor, moves.NewPin{ID: id(), MobID: mob, PaddockID: north[2].ID, Enter: at})
	require.NoError(t, err)
	_, err = y.service.Moves.PinMove(y.ctx, y.actor, moves.NewPin{ID: id(), MobID: mob, PaddockID: north[2].ID, Enter: at})
	assert.ErrorContains(t, err, "at that hour already")
}
