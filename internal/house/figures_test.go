package house_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/forage"
	"fjell/core/measuring"
	"fjell/core/stock"
	"fjell/core/weather"
	"fjell/internal/farm/ground"
	"fjell/internal/farm/herd"
	"fjell/internal/farm/moves"
	"fjell/internal/farm/walk"
	"fjell/internal/store"
)

func (y *yard) stores(name string, head float64, more func(*herd.MobInput)) string {
	y.t.Helper()
	mobID := id()
	in := herd.MobInput{Name: name, Glyph: "circle", Classes: []herd.ClassInput{{ReferenceID: "beef_store_growing", Count: head, LiveWeight: 340, IntakeShare: 0.025, DailyGain: 0.8}}}
	if more != nil {
		more(&in)
	}
	_, err := y.service.Herd.CreateMob(y.ctx, y.actor, herd.NewMob{ID: mobID, MobInput: in})
	require.NoError(y.t, err)
	return mobID
}

func (y *yard) view(mob string) herd.MobView {
	y.t.Helper()
	views, err := y.service.Herd.Mobs(y.ctx, y.actor)
	require.NoError(y.t, err)
	for _, v := range views {
		if v.ID == mob {
			return v
		}
	}
	y.t.Fatal("the mob is gone")
	return herd.MobView{}
}

// A mob described today that was moved in a week ago ate nothing in that week.
func TestMovesBeforeAMobWasDescribedEat(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 2)
	y.measure(p[0].ID, 2600)
	y.measure(p[1].ID, 2600)
	y.later(7)
	mob := y.stores("Stores", 60, nil)
	in := y.now.AddDate(0, 0, -6)
	_, err := y.service.Moves.RecordMove(y.ctx, y.actor, moves.NewMove{ID: id(), MobID: mob, ToID: &p[0].ID, MovedAt: in, Confirmed: true})
	require.NoError(t, err)
	after := y.of(p[0].FieldID)
	eaten := 6 * 60 * 337 * 0.025 / p[0].AreaHa
	assert.InDelta(t, after[1].Mass.Mass-eaten, after[0].Mass.Mass, 0.25*eaten+60, "six days of sixty")
	assert.InDelta(t, 340, y.view(mob).Classes[0].LiveWeight, 0.01, "they weigh today what was said today")
}

func TestSomebodySaysSinceWhenTheyAreHere(t *testing.T) {
	y := newYard(t)
	y.field("Nedre", 9, 2)
	mob := y.stores("Stores", 20, func(in *herd.MobInput) { in.HereSince = "2026-05-01" })
	year, err := y.service.Herd.Year(y.ctx, y.actor, herd.YearInput{Measure: "head"})
	require.NoError(t, err)
	assert.Zero(t, year.Total[119], "30 April")
	assert.Equal(t, 20.0, year.Total[120], "1 May")
	assert.Equal(t, "2026-05-01", year.Carrying.From, "a year is twelve months, from when the books begin")
	months := 0
	for _, kg := range year.Carrying.Eaten {
		if kg > 0 {
			months++
		}
	}
	assert.Equal(t, 12, months)
	assert.Equal(t, "2026-05-01", y.view(mob).HereSince)
	for _, bad := range []string{"soon", "2026-06-01", "2024-01-01"} {
		_, err := y.service.Herd.CreateMob(y.ctx, y.actor, herd.NewMob{ID: id(), MobInput: herd.MobInput{Name: "B", Glyph: "square", HereSince: bad,
			Classes: []herd.ClassInput{{ReferenceID: "beef_store_growing", Count: 1, LiveWeight: 340, IntakeShare: 0.025}}}})
		assert.ErrorContains(t, err, "here_since", bad)
	}
}

// A mob that was taken off the farm had eaten nothing, from that moment on: the grass stood there again.
func TestWhatAMobDidStaysDoneWhenItIsTakenOff(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 2)
	y.measure(p[0].ID, 2600)
	mob := y.stores("Stores", 60, nil)
	y.move(mob, &p[0].ID)
	y.later(2)
	before := y.of(p[0].FieldID)[0]
	require.NoError(t, y.service.Herd.RemoveMob(y.ctx, y.actor, mob))
	after := y.of(p[0].FieldID)[0]
	assert.InDelta(t, before.Mass.Mass, after.Mass.Mass, 1)
	y.later(3)
	rested := y.of(p[0].FieldID)[0]
	assert.Greater(t, rested.Mass.Mass, after.Mass.Mass, "and from then on it grows")
	require.NotNil(t, rested.RestDays)
	assert.InDelta(t, 3, *rested.RestDays, 0.05)
	_, err := y.service.Herd.RestoreMob(y.ctx, y.actor, mob)
	require.NoError(t, err)
}

// Everybody joined another mob: the empty one still stood in its paddock.
func TestAMobOfNobodyStandsNowhere(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 3)
	for _, pad := range p {
		y.measure(pad.ID, 2600)
	}
	heifers, cows := y.stores("Heifers", 20, nil), y.stores("Cows", 30, func(in *herd.MobInput) { in.Glyph = "square" })
	y.move(heifers, &p[0].ID)
	y.move(cows, &p[1].ID)
	y.later(1)
	today := y.now.Format("2006-01-02")
	_, err := y.service.Herd.KeepEvent(y.ctx, y.actor, herd.NewEvent{ID: id(), EventInput: herd.EventInput{Kind: stock.Transfer, HappenedOn: today, Head: 20,
		FromID: y.view(heifers).Classes[0].ID, IntoID: y.view(cows).Classes[0].ID}})
	require.NoError(t, err)
	y.move(cows, &p[0].ID)
	day, err := y.service.Today.Today(y.ctx, y.actor)
	require.NoError(t, err)
	for _, m := range day.Minding {
		assert.NotContains(t, m.Reason.Text, "both in it")
	}
	assert.Equal(t, 50.0, y.view(cows).Head)
	year, err := y.service.Herd.Year(y.ctx, y.actor, herd.YearInput{Measure: "head"})
	require.NoError(t, err)
	assert.Equal(t, 50.0, year.Total[year.Today], "nobody twice")
}

func TestHousedStockEatNoGrass(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 2)
	mob := y.stores("Stores", 60, func(in *herd.MobInput) { in.Housed = []store.Housed{{From: "2026-10-10", Until: "2027-05-01"}} })
	v := y.view(mob)
	assert.Positive(t, v.Demand.Value)
	assert.InDelta(t, 365-203, v.DaysOut, 1)
	in := herd.MobInput{Name: "Stores", Letter: "S", Glyph: "circle", Classes: []herd.ClassInput{v.Classes[0].ClassInput}, Housed: []store.Housed{{From: "2026-05-18"}}}
	v, err := y.service.Herd.UpdateMob(y.ctx, y.actor, mob, v.Version, in)
	require.NoError(t, err)
	assert.Zero(t, v.Demand.Value, "in the house since the day before yesterday")
	assert.Equal(t, 60.0, v.Head)
	y.measure(p[0].ID, 2600)
	y.measure(p[1].ID, 2600)
	y.move(mob, &p[0].ID)
	y.later(2)
	after := y.of(p[0].FieldID)
	assert.InDelta(t, after[1].Mass.Mass, after[0].Mass.Mass, 1)
	for _, bad := range [][]store.Housed{{{From: "soon"}}, {{From: "2026-10-10", Until: "2026-10-10"}}, {{From: "2026-05-18"}, {From: "2026-10-10"}},
		{{From: "2026-05-18", Until: "2026-11-01"}, {From: "2026-10-10"}}} {
		in.Housed = bad
		_, err := y.service.Herd.UpdateMob(y.ctx, y.actor, mob, v.Version, in)
		assert.ErrorContains(t, err, "housed", bad)
	}
}

func TestTwoMobsCarryTwoMarks(t *testing.T) {
	y := newYard(t)
	y.stores("Stores", 10, nil)
	class := []herd.ClassInput{{ReferenceID: "beef_store_growing", Count: 5, LiveWeight: 340, IntakeShare: 0.025}}
	_, err := y.service.Herd.CreateMob(y.ctx, y.actor, herd.NewMob{ID: id(), MobInput: herd.MobInput{Name: "Strays", Glyph: "circle", Classes: class}})
	assert.ErrorContains(t, err, "Take a triangle")
	_, err = y.service.Herd.CreateMob(y.ctx, y.actor, herd.NewMob{ID: id(), MobInput: herd.MobInput{Name: "stores", Glyph: "triangle", Classes: class}})
	assert.ErrorContains(t, err, "already")
	_, err = y.service.Herd.CreateMob(y.ctx, y.actor, herd.NewMob{ID: id(), MobInput: herd.MobInput{Name: "stores", Glyph: "triangle", Classes: class, Confirmed: true}})
	assert.NoError(t, err, "two mobs may have one name, when somebody says so")
}

// A fortnight's closure took the ground out for the whole year.
func TestAFortnightsClosureTakesOutAFortnight(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 1)
	y.stores("Stores", 10, func(in *herd.MobInput) { in.HereSince = "2026-01-01" })
	grown := func() (sum float64, months [12]float64) {
		year, err := y.service.Herd.Year(y.ctx, y.actor, herd.YearInput{})
		require.NoError(t, err)
		for _, kg := range year.Carrying.Grown {
			sum += kg
		}
		return sum, year.Carrying.Grown
	}
	_, open := grown()
	close := func(from, until string) {
		v := y.of(p[0].FieldID)[0]
		_, err := y.service.Ground.UpdatePaddock(y.ctx, y.actor, v.ID, v.Version, ground.PaddockInput{Name: v.Name, SwardID: v.SwardID, GrowthFactor: 1, Purpose: "grazing",
			Limits: []store.PaddockLimit{{Kind: "nesting", From: from, Until: until}}})
		require.NoError(t, err)
	}
	close("05-10", "05-24") // it is closed at this moment
	_, months := grown()
	assert.InDelta(t, open[4]*(1-14.0/31), months[4], 1)
	months[4] = open[4]
	assert.InDeltaSlice(t, open[:], months[:], 1, "the rest of the year is as it was")
}

// What they get hold of was that of the first species in a list on all paddocks of the farm, the resting place too.
func TestHarvestIsThatOfTheGroundAMobGoesRound(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 12)
	mob := y.stores("Stores", 10, nil)
	grown := func() float64 { v := y.view(mob); return v.Demand.Value / v.Grown.Value }
	assert.InDelta(t, 0.55, grown(), 1e-9, "twelve paddocks")
	for _, pad := range p[6:] {
		_, err := y.service.Ground.UpdatePaddock(y.ctx, y.actor, pad.ID, pad.Version, ground.PaddockInput{Name: pad.Name, SwardID: pad.SwardID, GrowthFactor: 1, Purpose: "loafing"})
		require.NoError(t, err)
	}
	assert.InDelta(t, 0.45, grown(), 1e-9, "six of them are not gone round")
	for _, pad := range y.of(p[0].FieldID)[:6] {
		_, err := y.service.Ground.UpdatePaddock(y.ctx, y.actor, pad.ID, pad.Version, ground.PaddockInput{Name: pad.Name, SwardID: "native_mixed_grass", GrowthFactor: 1, Purpose: "grazing"})
		require.NoError(t, err)
	}
	assert.InDelta(t, 0.25, grown(), 1e-9, "range: half is left, half of the rest swallowed")
	assert.Equal(t, "leave_half", y.view(mob).School.Key, "native grass is grazed its own way unless somebody says otherwise")
}

func TestWarmthIsHeldAgainstThePlacesOwnMonths(t *testing.T) {
	y := newYard(t)
	y.field("Nedre", 9, 1)
	for d := range 20 {
		y.keepDay(19-d, 6)
	}
	set := func(elevation float64, coast weather.Coast, normals []float64) walk.WeatherView {
		v, err := y.service.Walk.SetWeather(y.ctx, y.actor, y.settings(), walk.WeatherSettings{SoilMm: 90, Elevation: elevation, Coast: coast, Normals: normals})
		require.NoError(t, err)
		return v
	}
	low := set(0, "", nil)
	assert.Equal(t, "estimated", low.Climate.From)
	high := set(900, weather.Inland, nil)
	assert.Greater(t, high.Growth.Value, low.Growth.Value, "6 °C is warm for May up there")
	assert.InDelta(t, low.Climate.Normals[6]-5.85, high.Climate.Normals[6], 0.01)
	cold := []float64{-12, -11, -8, -3, 4, 8, 10, 9, 5, 0, -6, -10}
	typed := set(900, weather.Inland, cold)
	assert.Equal(t, "typed", typed.Climate.From)
	assert.InDelta(t, 10, typed.Climate.Normals[6], 0.3)
	_, err := y.service.Walk.SetWeather(y.ctx, y.actor, y.settings(), walk.WeatherSettings{SoilMm: 90, Normals: cold[:3]})
	assert.ErrorContains(t, err, "all twelve")
}

func TestThreeYearsOfRecordsAreTheNormals(t *testing.T) {
	y := newYard(t)
	var rows []store.WeatherDay
	for d := range 3*365 + 2 {
		at := y.now.AddDate(0, 0, -d)
		rows = append(rows, store.WeatherDay{FarmID: y.actor.FarmID, Day: store.Day(at.Format("2006-01-02")), MeanC: float64(at.Month()), Source: "file"})
	}
	require.NoError(t, y.service.Farm.DB.CreateInBatches(&rows, 500).Error)
	v, err := y.service.Walk.Weather(y.ctx, y.actor)
	require.NoError(t, err)
	require.Equal(t, "records", v.Climate.From)
	for m, mean := range v.Climate.Normals {
		assert.InDelta(t, m+1, mean, 0.6)
	}
}

func TestAFarmPutsItsCurveLater(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 1)
	y.measure(p[0].ID, 1800)
	_, err := y.service.Walk.SetCurve(y.ctx, y.actor, y.settings(), walk.CurveInput{SwardID: "ryegrass_white_clover", Curve: "wet_dry_tropics", Later: 6})
	require.NoError(t, err)
	y.later(10)
	dry := y.of(p[0].FieldID)[0].Mass.Mass
	assert.Less(t, dry, 1900.0, "June is the dry season then")
	_, err = y.service.Walk.SetCurve(y.ctx, y.actor, y.settings(), walk.CurveInput{SwardID: "ryegrass_white_clover", Curve: "wet_dry_tropics"})
	require.NoError(t, err)
	assert.Greater(t, y.of(p[0].FieldID)[0].Mass.Mass, dry+200)
	_, err = y.service.Walk.SetCurve(y.ctx, y.actor, y.settings(), walk.CurveInput{SwardID: "ryegrass_white_clover", Later: 12})
	assert.ErrorContains(t, err, "later_months")
}

// keepDay writes down an even day so many days ago.
func (y *yard) keepDay(ago int, mean float64) {
	y.t.Helper()
	_, err := y.service.Walk.KeepWeatherDay(y.ctx, y.actor, walk.WeatherDayInput{Day: y.now.AddDate(0, 0, -ago).Format("2006-01-02"), Rain: 3, Mean: mean, Confirmed: true})
	require.NoError(y.t, err)
}

func TestAnotherMeterIsABreakInTheBooks(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 2)
	read := func(method forage.Method, readings ...float64) {
		for _, pad := range p {
			err := y.service.Walk.RecordMeasurement(y.ctx, y.actor, walk.NewMeasurement{ID: id(), MeasuredAt: y.now, PaddockID: pad.ID, Confirmed: true, Input: measuring.Input{Method: method, Readings: readings}})
			require.NoError(t, err)
		}
		y.later(7)
	}
	read(forage.Plate, 5, 5.2, 5.4, 5.1)
	read(forage.Plate, 6, 6.2, 6.4, 6.1)
	read(forage.Eye, 3100)
	v, err := y.service.Walk.Growth(y.ctx, y.actor)
	require.NoError(t, err)
	require.Len(t, v.Breaks, 1)
	assert.Contains(t, v.Breaks[0], "On 3 June")
	assert.Contains(t, v.Breaks[0], "2 paddocks")
	require.NotNil(t, v.Farm.Growth)
	assert.InDelta(t, 255/7.0, v.Farm.Growth.Value, 0.5, "from plate to plate")
}

func TestACutOpensThePaddockAgain(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 2)
	y.measure(p[0].ID, 3600)
	y.measure(p[1].ID, 2000)
	_, err := y.service.Ground.UpdatePaddock(y.ctx, y.actor, p[0].ID, p[0].Version, ground.PaddockInput{Name: p[0].Name, SwardID: p[0].SwardID, GrowthFactor: 1, ClosedFor: "hay"})
	require.NoError(t, err)
	y.later(3)
	today := y.now.Format("2006-01-02")
	height := 6.0
	for field, bad := range map[string]ground.CutInput{"cut_on": {ID: id(), On: "tomorrow"}, "a year ago and today": {ID: id(), On: "2026-06-01"}, "height_left_cm": {ID: id(), On: today, HeightLeft: weightless}} {
		_, err := y.service.Ground.Cut(y.ctx, y.actor, p[0].ID, bad)
		assert.ErrorContains(t, err, field)
	}
	_, err = y.service.Ground.Cut(y.ctx, y.actor, p[0].ID, ground.CutInput{ID: id(), On: today, HeightLeft: &height})
	require.NoError(t, err)
	after := y.of(p[0].FieldID)[0]
	assert.Empty(t, after.ClosedFor)
	assert.InDelta(t, 1450+2*140, after.Mass.Mass, 30, "two centimetres above the stop height")
	walk, err := y.service.Walk.Walk(y.ctx, y.actor)
	require.NoError(t, err)
	assert.Empty(t, walk.Odd)
	_, err = y.service.Ground.Undo(y.ctx, y.actor, "")
	require.NoError(t, err)
	undone := y.of(p[0].FieldID)[0]
	assert.Equal(t, "hay", undone.ClosedFor)
	assert.Greater(t, undone.Mass.Mass, 3300.0, "and what stood there stands there")
}

var weightless = func() *float64 { v := -3.0; return &v }()

func TestAFarmKeepsSwardsOfItsOwn(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 2)
	own := ground.NewOwnSward{ID: id(), Name: "Our ley", LikeID: "ryegrass_white_clover", StartHeight: 11, StopHeight: 5, MassPerCm: 160, Residual: 1700, Ceiling: 5000, PeakGrowth: 60, AnnualYield: 8}
	list, err := y.service.Ground.KeepOwnSward(y.ctx, y.actor, own)
	require.NoError(t, err)
	assert.Equal(t, "Our ley", list[0].Name)
	assert.True(t, list[0].Own)
	assert.InDelta(t, 160*90.0/140, list[0].MassPerCm.Open, 1e-9, "thin and dense stand in the ratio of the book's")
	_, err = y.service.Ground.UpdatePaddock(y.ctx, y.actor, p[0].ID, p[0].Version, ground.PaddockInput{Name: p[0].Name, SwardID: own.ID, GrowthFactor: 1, Purpose: "grazing"})
	require.NoError(t, err)
	cover := 0.8
	require.NoError(t, y.service.Walk.RecordMeasurement(y.ctx, y.actor, walk.NewMeasurement{ID: id(), MeasuredAt: y.now, PaddockID: p[0].ID, Input: measuring.Input{Method: forage.Stick, Readings: []float64{9, 9}, Cover: &cover}}))
	assert.InDelta(t, 1700+4*160, y.of(p[0].FieldID)[0].Mass.Mass, 1, "by the farm's own mass per cm")
	_, err = y.service.Ground.RemoveOwnSward(y.ctx, y.actor, own.ID)
	assert.ErrorContains(t, err, "stays with its records")
	unused := own
	unused.ID, unused.Name = id(), "Another"
	_, err = y.service.Ground.KeepOwnSward(y.ctx, y.actor, unused)
	require.NoError(t, err)
	list, err = y.service.Ground.RemoveOwnSward(y.ctx, y.actor, unused.ID)
	require.NoError(t, err)
	assert.Equal(t, own.ID, list[0].ID)
	for field, change := range map[string]func(*ground.NewOwnSward){
		"name":                     func(s *ground.NewOwnSward) { s.Name = " " },
		"like_id":                  func(s *ground.NewOwnSward) { s.LikeID = "moss" },
		"stop_height_cm":           func(s *ground.NewOwnSward) { s.StopHeight = 12 },
		"ceiling_kg_dm_ha":         func(s *ground.NewOwnSward) { s.Ceiling = 2000 },
		"mass_per_cm":              func(s *ground.NewOwnSward) { s.MassPerCm = -4 },
		"peak_growth_kg_dm_ha_day": func(s *ground.NewOwnSward) { s.PeakGrowth = 0 },
	} {
		bad := own
		bad.ID = id()
		change(&bad)
		_, err := y.service.Ground.KeepOwnSward(y.ctx, y.actor, bad)
		assert.ErrorContains(t, err, field)
	}
	_, err = y.service.Ground.CreateField(y.ctx, y.actor, ground.NewField{ID: id(), Name: "B", SwardID: "moss"})
	assert.Error(t, err)
}
