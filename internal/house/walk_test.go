package house_test

import (
	"errors"
	"fmt"
	"math"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gorm.io/gorm"

	"fjell/core/forage"
	"fjell/core/measuring"
	"fjell/internal/farm/walk"
	"fjell/internal/standin"
	"fjell/internal/store"
)

func (y *yard) plate(paddock string, guess float64, cm ...float64) {
	y.t.Helper()
	err := y.service.Walk.RecordMeasurement(y.ctx, y.actor, walk.NewMeasurement{ID: id(), MeasuredAt: y.now, PaddockID: paddock, Confirmed: true,
		Input: measuring.Input{Method: forage.Plate, Readings: cm, Guess: &guess}})
	require.NoError(y.t, err)
}

func (y *yard) masses() map[string]float64 {
	y.t.Helper()
	v, err := y.service.Walk.Walk(y.ctx, y.actor)
	require.NoError(y.t, err)
	out := map[string]float64{}
	for _, s := range v.Stops {
		if s.Last != nil {
			out[s.PaddockID] = s.Last.Mass
		}
	}
	return out
}

func clips(slope, intercept float64) []forage.Pair {
	var out []forage.Pair
	for i := range 10 {
		cm := 4 + float64(i)
		out = append(out, forage.Pair{Height: cm, Mass: slope*cm + intercept + 40*math.Pow(-1, float64(i))})
	}
	return out
}

func TestRecalibrationRestatesAndComesBack(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 2)
	y.plate(p[0].ID, 2400, 8, 9, 8.5, 9)
	y.plate(p[1].ID, 2400, 6, 7, 6.5, 7)
	before := y.masses()
	line := walk.NewCalibration{ID: id(), CalibrationInput: walk.CalibrationInput{Name: "May", Method: "plate", SwardID: "ryegrass_white_clover", SeasonFrom: "05-01",
		SeasonUntil: "07-01", Pairs: clips(200, 400), RestateFrom: "2026-01-01"}}
	v, err := y.service.Walk.KeepCalibration(y.ctx, y.actor, line)
	require.NoError(t, err)
	assert.Equal(t, 2, v.Restated)
	assert.True(t, v.Calibrations[0].InUse)
	after := y.masses()
	for id, mass := range before {
		assert.Less(t, after[id], mass)
	}
	autumn := line
	autumn.ID, autumn.Name, autumn.SeasonFrom, autumn.SeasonUntil = id(), "Autumn", "08-20", "03-15"
	v, err = y.service.Walk.KeepCalibration(y.ctx, y.actor, autumn)
	require.NoError(t, err)
	assert.Zero(t, v.Restated, "its season is another")
	v, err = y.service.Walk.RetireCalibration(y.ctx, y.actor, line.ID, 1, walk.RetireInput{Retired: true, RestateFrom: "2026-01-01"})
	require.NoError(t, err)
	assert.Equal(t, 2, v.Restated)
	assert.Equal(t, before, y.masses(), "to the last bit")
	var rows int64
	require.NoError(t, y.service.Farm.DB.Model(&store.Measurement{}).Count(&rows).Error)
	assert.EqualValues(t, 6, rows, "every mass that ever held is kept")
	for want, c := range map[string]walk.CalibrationInput{
		"at least 8 pairs": {Name: "few", Method: "plate", Pairs: clips(200, 400)[:5]},
		"weighs less":      {Name: "odd", Method: "plate", Pairs: clips(-50, 4000)},
		"neither":          {Name: "half", Method: "plate", SeasonFrom: "05-01", Pairs: clips(200, 400)},
		"sward_id":         {Name: "x", Method: "plate", SwardID: "moss", Pairs: clips(200, 400)},
	} {
		_, err := y.service.Walk.KeepCalibration(y.ctx, y.actor, walk.NewCalibration{ID: id(), CalibrationInput: c})
		assert.ErrorContains(t, err, want)
	}
}

func TestAMeasurementFarOffAsks(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 3)
	many := func(cm float64) []float64 {
		out := make([]float64, 30)
		for i := range out {
			out[i] = cm + 0.2*float64(i%3)
		}
		return out
	}
	for _, pad := range p {
		y.plate(pad.ID, 2000, many(8)...)
	}
	y.later(7)
	y.plate(p[0].ID, 2000, many(4)...)
	v, err := y.service.Walk.Walk(y.ctx, y.actor)
	require.NoError(t, err)
	require.Len(t, v.Odd, 1)
	assert.Contains(t, v.Odd[0].Question, "did something eat it")
	today, err := y.service.Today.Today(y.ctx, y.actor)
	require.NoError(t, err)
	found := false
	for _, m := range today.Minding {
		found = found || strings.Contains(m.Reason.Text, "was believed")
	}
	assert.True(t, found, "Today asks too")
	v, err = y.service.Walk.AnswerOdd(y.ctx, y.actor, v.Odd[0].ID, walk.OddAnswer{Answer: "wrong_paddock", PaddockID: p[1].ID})
	require.NoError(t, err)
	require.Len(t, v.Odd, 1, "now it is far off there")
	assert.Equal(t, p[1].ID, v.Odd[0].PaddockID)
	v, err = y.service.Walk.AnswerOdd(y.ctx, y.actor, v.Odd[0].ID, walk.OddAnswer{Answer: "eaten"})
	require.NoError(t, err)
	assert.Empty(t, v.Odd)
	growth, err := y.service.Walk.Growth(y.ctx, y.actor)
	require.NoError(t, err)
	assert.NotNil(t, growth.Farm.Growth)
}

func TestReadingsAreKeptOnce(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 2)
	stop := id()
	one := walk.ReadingInput{ID: id(), StopID: stop, PaddockID: p[0].ID, Method: forage.Plate, Value: 8.5, TakenAt: y.now}
	v, err := y.service.Walk.KeepReadings(y.ctx, y.actor, walk.ReadingsInput{Readings: []walk.ReadingInput{one, one}})
	require.NoError(t, err)
	assert.Equal(t, walk.ReadingsView{Kept: 1, Repeated: 1, Refused: []walk.RefusedReading{}}, v)
	other := one
	other.Value = 12
	bad := walk.ReadingInput{ID: id(), Method: forage.Plate, Value: 900, TakenAt: y.now}
	late := walk.ReadingInput{ID: id(), Method: forage.Plate, Value: 9, TakenAt: y.now.Add(time.Hour)}
	v, err = y.service.Walk.KeepReadings(y.ctx, y.actor, walk.ReadingsInput{Readings: []walk.ReadingInput{one, other, bad, late}})
	require.NoError(t, err)
	assert.Equal(t, 1, v.Repeated)
	require.Len(t, v.Refused, 3)
	fields := map[string]bool{}
	for _, r := range v.Refused {
		fields[r.Field] = true
	}
	assert.Equal(t, map[string]bool{"id": true, "value": true, "taken_at": true}, fields)
	clockless := walk.ReadingInput{ID: id(), Method: forage.Plate, Value: 7}
	for _, want := range []walk.ReadingsView{{Kept: 1, Refused: []walk.RefusedReading{}}, {Repeated: 1, Refused: []walk.RefusedReading{}}} {
		v, err = y.service.Walk.KeepReadings(y.ctx, y.actor, walk.ReadingsInput{Readings: []walk.ReadingInput{clockless}})
		require.NoError(t, err)
		assert.Equal(t, want, v, "a device without a clock sends again, later")
		y.later(0.01)
	}
	one.Dropped = true
	_, err = y.service.Walk.KeepReadings(y.ctx, y.actor, walk.ReadingsInput{Readings: []walk.ReadingInput{one}})
	require.NoError(t, err)
	var row store.Reading
	require.NoError(t, y.service.Farm.DB.First(&row, "id = ?", one.ID).Error)
	assert.True(t, row.Dropped, "dropped, and still on record")
	one.ID, one.PaddockID = id(), id()
	good := one
	good.ID, good.PaddockID, good.Dropped = id(), "", false
	v, err = y.service.Walk.KeepReadings(y.ctx, y.actor, walk.ReadingsInput{Readings: []walk.ReadingInput{good, {ID: "no id"}, one}})
	require.NoError(t, err)
	assert.Equal(t, 1, v.Kept, "one bad reading refuses no other")
	require.Len(t, v.Refused, 2)
	assert.Equal(t, []int{1, 2}, []int{v.Refused[0].Index, v.Refused[1].Index}, "each is named by its place in what was sent")
	assert.Equal(t, "paddock_id", v.Refused[1].Field)
}

func TestDeviceAndFileReadingsFindTheirPaddock(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 2)
	for _, pad := range p {
		y.plate(pad.ID, 2000, 8, 9, 10)
	}
	y.later(5)
	device, err := y.service.Walk.AddDevice(y.ctx, y.actor, walk.NewDevice{ID: id(), Name: "Yard plate", Kind: "plate"})
	require.NoError(t, err)
	plane, patches, now, err := y.service.Walk.StandInGround(y.ctx, y.actor)
	require.NoError(t, err)
	plate := standin.Plate(plane, patches, 20, now.Add(-10*time.Minute), 5)
	require.Len(t, plate, 40)
	assert.Equal(t, plate, standin.Plate(plane, patches, 20, now.Add(-10*time.Minute), 5), "the same walk from the same seed")
	var in walk.ReadingsInput
	for _, r := range plate {
		in.Readings = append(in.Readings, walk.ReadingInput{ID: r.ID, Method: forage.Plate, Value: r.Value, Longitude: &r.Longitude, Latitude: &r.Latitude, TakenAt: r.TakenAt})
	}
	lon, lat := 12.0, 50.0
	in.Readings = append(in.Readings, walk.ReadingInput{ID: id(), Method: forage.Plate, Value: 9, Longitude: &lon, Latitude: &lat, TakenAt: now})
	_, err = y.service.Walk.Sender(y.ctx, "not the token")
	require.ErrorIs(t, err, walk.ErrToken)
	sender, err := y.service.Walk.Sender(y.ctx, device.Token)
	require.NoError(t, err)
	got, err := y.service.Walk.Ingest(y.ctx, sender, in)
	require.NoError(t, err)
	assert.Equal(t, 41, got.Kept)
	w, err := y.service.Walk.Waiting(y.ctx, y.actor)
	require.NoError(t, err)
	require.Len(t, w.Stops, 2)
	require.Len(t, w.Unassigned, 1)
	assert.Equal(t, "lies in no paddock", w.Unassigned[0].Why)
	for _, s := range w.Stops {
		assert.InEpsilon(t, s.Believed, *s.Mass, 0.35, "%s reads what stands there, with a plate's scatter", s.Paddock)
	}
	_, err = y.service.Walk.TakeReadings(y.ctx, y.actor, walk.TakeIn{Keys: []string{w.Stops[0].Key, w.Stops[1].Key}, Drop: []string{w.Unassigned[0].ID}})
	require.NoError(t, err)
	w, err = y.service.Walk.Waiting(y.ctx, y.actor)
	require.NoError(t, err)
	assert.Empty(t, w.Stops)
	assert.Empty(t, w.Unassigned)
	_, err = y.service.Walk.RevokeDevice(y.ctx, y.actor, device.ID)
	require.NoError(t, err)
	_, err = y.service.Walk.Sender(y.ctx, device.Token)
	require.ErrorIs(t, err, walk.ErrToken)

	text := "time,lat,lon,height\n"
	for i, r := range plate[:10] {
		text += fmt.Sprintf("%s,%.7f,%.7f,%.1f\n", y.now.Add(-time.Duration(i)*time.Minute).Format(time.RFC3339), r.Latitude, r.Longitude, r.Value)
	}
	file := walk.ReadingFileInput{Name: "walk.csv", Text: text + "now,1,2,3\n", Method: forage.Plate}
	f, err := y.service.Walk.ReadReadingFile(y.ctx, y.actor, file)
	require.NoError(t, err)
	assert.Equal(t, 10, f.Good)
	assert.Equal(t, 10, f.Places)
	assert.Len(t, f.Bad, 1)
	file.Keep = true
	f, err = y.service.Walk.ReadReadingFile(y.ctx, y.actor, file)
	require.NoError(t, err)
	assert.Equal(t, 10, f.Kept)
	f, err = y.service.Walk.ReadReadingFile(y.ctx, y.actor, file)
	require.NoError(t, err)
	assert.Equal(t, 10, f.Before, "the same file twice is there once")
}

func TestWeatherByHandFromAFileAndFromTheStandIn(t *testing.T) {
	y := newYard(t)
	y.field("Nedre", 9, 2)
	v, err := y.service.Walk.Weather(y.ctx, y.actor)
	require.NoError(t, err)
	assert.Contains(t, v.Sentence, "No weather")
	_, err = y.service.Walk.KeepWeatherDay(y.ctx, y.actor, walk.WeatherDayInput{Day: "2026-06-30", Rain: 2, Mean: 12})
	assert.ErrorContains(t, err, "up to today")
	_, err = y.service.Walk.KeepWeatherDay(y.ctx, y.actor, walk.WeatherDayInput{Day: y.day(0), Rain: 900, Mean: 12})
	assert.ErrorContains(t, err, "600")
	dry := "date;rain mm;tmin;tmax;sun h\n"
	for d := -70; d < 0; d++ {
		dry += fmt.Sprintf("%s;0,0;8;22,5;13\n", y.day(d))
	}
	f, err := y.service.Walk.ReadWeatherFile(y.ctx, y.actor, walk.WeatherFileInput{Text: dry + "yesterday;1;2;3;4\n"})
	require.NoError(t, err)
	assert.Equal(t, 70, f.Good)
	assert.Len(t, f.Bad, 1)
	_, err = y.service.Walk.ReadWeatherFile(y.ctx, y.actor, walk.WeatherFileInput{Text: dry, Keep: true})
	require.NoError(t, err)
	v, err = y.service.Walk.Weather(y.ctx, y.actor)
	require.NoError(t, err)
	assert.Contains(t, v.Sentence, "Dry")
	assert.Less(t, v.Growth.Value, 0.5)
	v, err = y.service.Walk.KeepWeatherDay(y.ctx, y.actor, walk.WeatherDayInput{Day: y.day(0), Rain: 140, Mean: 13, Confirmed: true})
	require.NoError(t, err)
	assert.Contains(t, v.Sentence, "Too wet")
	today, err := y.service.Today.Today(y.ctx, y.actor)
	require.NoError(t, err)
	assert.Contains(t, fmt.Sprint(today.Minding), "too wet")
	v, err = y.service.Walk.SetWeather(y.ctx, y.actor, y.settings(), walk.WeatherSettings{SoilMm: 90, Station: true, StationFrom: "2026-01-01"})
	require.NoError(t, err)
	assert.Equal(t, y.day(0), v.LastDay)
	y.later(3)
	v, err = y.service.Walk.Weather(y.ctx, y.actor)
	require.NoError(t, err)
	assert.Equal(t, y.day(0), v.LastDay, "the stand-in follows the clock")
	sources := map[string]int{}
	for _, d := range v.Days {
		sources[d.Source]++
	}
	assert.Equal(t, 1, sources["hand"], "what somebody wrote down stays")
	assert.Equal(t, 70, sources["file"])
	assert.Greater(t, sources["station"], 60)
}

func TestWalkersOrderEyeAndGrowth(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 3)
	for week := range 3 {
		for i, pad := range p {
			cm := 7 + 0.7*float64(week) + 0.1*float64(i)
			y.plate(pad.ID, 550+270*cm, cm, cm+0.4, cm-0.4, cm+0.2)
		}
		y.later(7)
	}
	eyes, err := y.service.Walk.Eyes(y.ctx, y.actor)
	require.NoError(t, err)
	require.Len(t, eyes, 1)
	assert.Equal(t, 9, eyes[0].N)
	assert.Equal(t, 9, eyes[0].Run)
	g, err := y.service.Walk.Growth(y.ctx, y.actor)
	require.NoError(t, err)
	require.Len(t, g.Farm.Walks, 2)
	assert.InDelta(t, 0.7*270/7, g.Farm.Growth.Value, 6)
	assert.Equal(t, forage.Above, g.Farm.State)
	assert.Contains(t, g.Farm.Sentence, "No stock eat here")
	mob := y.mob("Stores", 180)
	y.move(mob, &p[0].ID)
	g, err = y.service.Walk.Growth(y.ctx, y.actor)
	require.NoError(t, err)
	assert.Equal(t, forage.Act, g.Farm.State, "1 530 kg a day on six hectares is more than grew, two walks in a row")
	w, err := y.service.Walk.SetWalkOrder(y.ctx, y.actor, y.settings(), walk.WalkOrderInput{PaddockIDs: []string{p[2].ID, p[0].ID}})
	require.NoError(t, err)
	assert.True(t, w.OwnOrder)
	assert.Equal(t, []string{p[2].ID, p[0].ID, p[1].ID}, []string{w.Stops[0].PaddockID, w.Stops[1].PaddockID, w.Stops[2].PaddockID})
	assert.Contains(t, w.Stops[0].Mass.Sources, "3 walks and looks")
	g, err = y.service.Walk.SetCurve(y.ctx, y.actor, y.settings(), walk.CurveInput{SwardID: "ryegrass_white_clover", Curve: "cool_short_season"})
	require.NoError(t, err)
	assert.Equal(t, "cool_short_season", g.Swards[0].Curve)
	_, err = y.service.Walk.SetCurve(y.ctx, y.actor, y.settings(), walk.CurveInput{SwardID: "ryegrass_white_clover", Curve: "lunar"})
	assert.ErrorContains(t, err, "not a growth curve")
}

// A file is kept or it is not: what could not be kept whole leaves nothing behind.
func TestAFileOfReadingsIsKeptWhole(t *testing.T) {
	y := newYard(t)
	y.field("north", 0, 4)
	var text strings.Builder
	text.WriteString("time,lat,lon,height\n")
	const rows = 2500
	for i := range rows {
		fmt.Fprintf(&text, "%s,61.001,9.002,%.1f\n", y.now.Add(-time.Duration(i)*time.Second).Format(time.RFC3339), 8+float64(i%70)/10)
	}
	file := walk.ReadingFileInput{Name: "long.csv", Text: text.String(), Method: forage.Plate, Keep: true}
	written := 0
	creating := y.service.Farm.DB.Callback().Create()
	require.NoError(t, creating.Before("gorm:create").Register("break", func(tx *gorm.DB) {
		if tx.Statement.Table == "readings" {
			if written++; written == 2 {
				_ = tx.AddError(errors.New("the disk broke"))
			}
		}
	}))
	_, err := y.service.Walk.ReadReadingFile(y.ctx, y.actor, file)
	require.ErrorContains(t, err, "the disk broke")
	require.NoError(t, creating.Remove("break"))
	var n int64
	require.NoError(t, y.service.Farm.DB.Model(&store.Reading{}).Count(&n).Error)
	assert.Zero(t, n, "nothing of it is there")
	for _, before := range []int{0, rows} {
		v, err := y.service.Walk.ReadReadingFile(y.ctx, y.actor, file)
		require.NoError(t, err)
		assert.Equal(t, rows-before, v.Kept)
		assert.Equal(t, before, v.Before, "the same again is harmless")
	}
}
