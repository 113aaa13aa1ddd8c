package walk

import (
	"context"
	"time"

	"gorm.io/gorm/clause"

	"fjell/core/quantity"
	"fjell/core/weather"
	"fjell/core/working"
	"fjell/internal/exchange"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/standin"
	"fjell/internal/store"
)

// WeatherDayInput is a day's weather as somebody wrote it down.
type WeatherDayInput struct {
	Day       string   `json:"day"`
	Rain      float64  `json:"rain_mm"`
	Mean      float64  `json:"mean_c"`
	Least     *float64 `json:"least_c,omitempty"`
	Most      *float64 `json:"most_c,omitempty"`
	Sun       *float64 `json:"sun_h,omitempty"`
	Confirmed bool     `json:"confirmed,omitempty"`
}

// WeatherDayView is a day with what it did to soil and growth.
type WeatherDayView struct {
	WeatherDayInput
	Source   string  `json:"source"` // hand, file, station; empty: nobody wrote it down
	Water    float64 `json:"water_mm"`
	Thirst   float64 `json:"thirst_mm"`
	Moisture float64 `json:"moisture_share"`
	Warmth   float64 `json:"warmth_ratio"`
	TooWet   bool    `json:"too_wet"`
}

// WeatherView is the farm's weather and what it means for growth today.
type WeatherView struct {
	Version  int              `json:"version"` // of the farm's settings, those of weather among them
	Days     []WeatherDayView `json:"days" nullable:"false"`
	SoilMm   float64          `json:"soil_mm"`
	Growth   working.Figure   `json:"growth"` // of an ordinary year's
	Sentence string           `json:"sentence"`
	Station  bool             `json:"station"`
	LastDay  string           `json:"last_day"`
	Grass    weather.Grass    `json:"grass" enum:"cool,warm,tropical,both"` // the kind of which there is most
	Climate  ClimateView      `json:"climate"`
}

// ClimateView is what is ordinary at a farm, against which the weather is held.
type ClimateView struct {
	Elevation float64       `json:"elevation_m"`
	Coast     weather.Coast `json:"coast" enum:"coast,inland,continental"`
	Normals   []float64     `json:"normals_c" nullable:"false"` // the mean of each month, January first
	From      string        `json:"from" enum:"typed,records,estimated"`
}

func climate(p *facts.Picture) ClimateView {
	v := ClimateView{Elevation: p.Climate.Elevation, Coast: p.Climate.Coast, From: p.NormalsFrom, Normals: []float64{}}
	if v.Coast == "" {
		v.Coast = weather.Inland
	}
	for month := range 12 {
		v.Normals = append(v.Normals, p.Climate.Normal(16+month*365/12))
	}
	return v
}

// grass is the kind of grass of which a farm has most.
func grass(p *facts.Picture) weather.Grass {
	area, most := map[string]float64{}, string(weather.Cool)
	for _, pad := range p.Paddocks {
		area[pad.Sward.Season] += pad.Shape.AreaHa
	}
	for _, kind := range weather.Grasses {
		if area[string(kind)] > area[most] {
			most = string(kind)
		}
	}
	return weather.Grass(most)
}

// Weather is the weather of the last days, newest last.
func (s *Service) Weather(ctx context.Context, a farm.Actor) (WeatherView, error) {
	p, err := s.Picture(ctx, a)
	if err != nil {
		return WeatherView{}, err
	}
	kind := grass(p)
	v := WeatherView{Version: p.Row.Version, Days: []WeatherDayView{}, SoilMm: p.Row.SoilMm, Grass: kind, Climate: climate(p), Growth: p.Weather.GrowthFigure(kind, p.Number(p.Now)), Station: p.Row.StationSeed != nil,
		Sentence: "No weather is written down: growth follows its curve alone, and leaf stage is not known."}
	if p.Weather == nil {
		return v, nil
	}
	for _, d := range p.Weather.Days {
		v.Days = append(v.Days, WeatherDayView{WeatherDayInput{Day: string(facts.DayAt(d.Number)), Rain: d.Rain, Mean: d.Mean, Least: d.Least, Most: d.Most, Sun: d.Sun},
			p.WeatherFrom[d.Number], d.Soil.Water, d.Thirst, d.Moisture, d.Warmth(kind), d.Soil.TooWet("")})
	}
	last := p.Weather.Days[len(p.Weather.Days)-1]
	v.LastDay = string(facts.DayAt(last.Number))
	switch wet := last.Soil.TooWet(""); {
	case last.Number < p.Number(p.Now)-3:
		v.Sentence = "The last day on record is a while ago: what it says of the soil fades."
	case wet:
		v.Sentence = "Too wet: hooves cut in. Take the driest paddock, or the resting place."
	case last.Moisture < 0.5:
		v.Sentence = "Dry: less than a quarter of the water is left, and growth is held back. Slow the round down, do not speed it up."
	case last.Moisture < 0.9:
		v.Sentence = "Drying: growth begins to be held back."
	case last.Warmth(kind) < 0.7:
		v.Sentence = "Cold for the season: growth waits for warmth."
	default:
		v.Sentence = "Water and warmth enough: growth follows its curve."
	}
	return v, nil
}

func (in WeatherDayInput) row(farmID, source string) (store.WeatherDay, error) {
	if _, err := store.Day(in.Day).Time(time.UTC); err != nil {
		return store.WeatherDay{}, quantity.Refuse("day", in.Day, "must be a day, such as 2026-06-10")
	}
	if err := farm.Judge(in, true); err != nil {
		return store.WeatherDay{}, err
	}
	d := weather.Day{Rain: in.Rain, Mean: in.Mean, Least: in.Least, Most: in.Most, Sun: in.Sun}
	if err := d.Check(); err != nil {
		return store.WeatherDay{}, err
	}
	return store.WeatherDay{FarmID: farmID, Day: store.Day(in.Day), RainMm: in.Rain, MeanC: in.Mean, LeastC: in.Least, MostC: in.Most, SunH: in.Sun, Source: source}, nil
}

func (s *Service) checkWeatherDay(ctx context.Context, a farm.Actor, day string) error {
	now, err := s.Clock.Now(ctx)
	if err != nil {
		return err
	}
	if n, today := facts.DayNumber(store.Day(day)), int(now.Unix()/86400); n > today+1 || n < today-5*366 {
		return quantity.Refuse("day", day, "weather is written down for days up to today, five years back at most")
	}
	return nil
}

// KeepWeatherDay writes a day's weather down; a day written before is put right.
func (s *Service) KeepWeatherDay(ctx context.Context, a farm.Actor, in WeatherDayInput) (WeatherView, error) {
	row, err := in.row(a.FarmID, "hand")
	if err != nil {
		return WeatherView{}, err
	}
	if err := farm.Judge(in, in.Confirmed); err != nil {
		return WeatherView{}, err
	}
	if err := s.checkWeatherDay(ctx, a, in.Day); err != nil {
		return WeatherView{}, err
	}
	err = s.Write(ctx, a, farm.Request{Kind: "weather day", Body: in}, func(tx *facts.Writing) error {
		return tx.Clauses(clause.OnConflict{UpdateAll: true}).Create(&row).Error
	})
	return farm.After(err, func() (WeatherView, error) { return s.Weather(ctx, a) })
}

// weatherColumns are the usual heads of a weather file.
var weatherColumns = map[string][]string{
	"day":   {"day", "date", "time", "dato"},
	"rain":  {"rain", "rain mm", "rain in", "precipitation", "precipitation mm", "nedbør"},
	"mean":  {"mean", "mean c", "mean f", "temperature", "mean temperature", "temp", "tavg", "middeltemperatur"},
	"least": {"least", "least c", "least f", "min", "minimum", "tmin", "lowest"},
	"most":  {"most", "most c", "most f", "max", "maximum", "tmax", "highest"},
	"sun":   {"sun", "sun h", "sunshine", "sun hours", "hours of sun"},
}

// WeatherFileInput is weather as CSV, with the columns a person chose.
type WeatherFileInput struct {
	Text    string         `json:"text" maxLength:"4194304"`
	Columns map[string]int `json:"columns,omitempty"`
	Units   exchange.Units `json:"units,omitempty" enum:",metric,imperial" doc:"of bare figures; a farm in imperial units is asked"`
	Keep    bool           `json:"keep,omitempty"`
}

// WeatherFileView is what a file of weather holds.
type WeatherFileView struct {
	Heads   []string          `json:"heads" nullable:"false"`
	Columns map[string]int    `json:"columns" nullable:"false"`
	Good    int               `json:"good"`
	From    string            `json:"from"`
	Until   string            `json:"until"`
	Bad     []exchange.BadRow `json:"bad" nullable:"false"`
	Kept    int               `json:"kept"`
}

// ReadWeatherFile says what a file of weather holds and, when asked, keeps it.
func (s *Service) ReadWeatherFile(ctx context.Context, a farm.Actor, in WeatherFileInput) (WeatherFileView, error) {
	v := WeatherFileView{Bad: []exchange.BadRow{}}
	table, err := exchange.ReadTable(ctx, []byte(in.Text))
	if err != nil {
		return v, err
	}
	p, err := s.Picture(ctx, a)
	if err != nil {
		return v, err
	}
	table.Units = in.Units.Or(quantity.System(p.Row.Units))
	v.Heads, v.Columns = table.Heads, table.Columns(weatherColumns)
	for field, c := range in.Columns {
		if c >= -1 && c < len(table.Heads) {
			v.Columns[field] = c
		}
	}
	for _, need := range []string{"day", "rain", "mean"} {
		if v.Columns[need] >= 0 {
			continue
		}
		if need == "mean" && v.Columns["least"] >= 0 && v.Columns["most"] >= 0 {
			continue // the mean of both
		}
		if in.Keep {
			return v, quantity.Refuse("columns."+need, nil, "say which column holds the %s", need)
		}
		return v, nil
	}
	var rows []store.WeatherDay
	for i := range table.Rows {
		row, err := weatherRow(table, i, v.Columns, a.FarmID)
		if err == nil {
			err = s.checkWeatherDay(ctx, a, string(row.Day))
		}
		if err != nil {
			v.Bad = append(v.Bad, exchange.BadRow{Row: i + 1, Why: err.Error()})
			continue
		}
		rows = append(rows, row)
		if v.From == "" || string(row.Day) < v.From {
			v.From = string(row.Day)
		}
		v.Until = max(v.Until, string(row.Day))
	}
	v.Good = len(rows)
	if !in.Keep || len(rows) == 0 {
		return v, nil
	}
	err = s.Write(ctx, a, farm.Request{Kind: "weather file", Body: in}, func(tx *facts.Writing) error {
		return tx.Clauses(clause.OnConflict{UpdateAll: true}).CreateInBatches(&rows, 500).Error
	})
	v.Kept = len(rows)
	return v, err
}

func weatherRow(t exchange.Table, i int, columns map[string]int, farmID string) (store.WeatherDay, error) {
	at, ok, err := t.Moment(i, columns["day"], time.UTC)
	if err != nil {
		return store.WeatherDay{}, err
	}
	if !ok {
		return store.WeatherDay{}, quantity.Refuse("day", nil, "no day")
	}
	in := WeatherDayInput{Day: at.Format(time.DateOnly)}
	meanKnown := false
	for _, f := range []struct {
		field string
		unit  quantity.Unit
		put   func(float64)
	}{{"rain", quantity.Millimetre, func(v float64) { in.Rain = v }}, {"mean", quantity.Celsius, func(v float64) { in.Mean, meanKnown = v, true }}, {"least", quantity.Celsius, func(v float64) { in.Least = &v }},
		{"most", quantity.Celsius, func(v float64) { in.Most = &v }}, {"sun", quantity.Hour, func(v float64) { in.Sun = &v }}} {
		v, ok, err := t.Figure(i, columns[f.field], f.unit)
		if err != nil {
			return store.WeatherDay{}, err
		}
		if ok {
			f.put(v)
		}
	}
	if !meanKnown {
		if in.Least == nil || in.Most == nil {
			return store.WeatherDay{}, quantity.Refuse("mean", nil, "no temperature")
		}
		in.Mean = (*in.Least + *in.Most) / 2
	}
	return in.row(farmID, "file")
}

// WeatherSettings is where weather comes from and what the soil holds.
type WeatherSettings struct {
	SoilMm      float64       `json:"soil_mm"`
	Station     bool          `json:"station"` // the stand-in station fills the days nobody wrote down
	StationFrom string        `json:"station_from,omitempty"`
	Elevation   float64       `json:"elevation_m,omitempty"`
	Coast       weather.Coast `json:"coast,omitempty" enum:"coast,inland,continental"`
	Normals     []float64     `json:"normals_c,omitempty" doc:"the mean of each month, January first; none: from the farm's records, or estimated"`
	Confirmed   bool          `json:"confirmed,omitempty"`
}

// SetWeather keeps where weather comes from.
func (s *Service) SetWeather(ctx context.Context, a farm.Actor, version int, in WeatherSettings) (WeatherView, error) {
	if err := farm.Judge(in, in.Confirmed); err != nil {
		return WeatherView{}, err
	}
	if len(in.Normals) != 0 && len(in.Normals) != 12 {
		return WeatherView{}, quantity.Refuse("normals_c", len(in.Normals), "give the mean of all twelve months, or none")
	}
	now, err := s.Clock.Now(ctx)
	if err != nil {
		return WeatherView{}, err
	}
	from := store.Day(now.AddDate(-1, 0, 0).Format(time.DateOnly))
	if in.Station && in.StationFrom != "" {
		from = store.Day(in.StationFrom)
		if err := s.checkWeatherDay(ctx, a, in.StationFrom); err != nil {
			return WeatherView{}, err
		}
	}
	err = s.Write(ctx, a, farm.Request{Kind: "weather settings", Body: []any{version, in}}, func(tx *facts.Writing) error {
		if err := tx.BumpFarm(version); err != nil {
			return err
		}
		if in.Coast == "" {
			in.Coast = weather.Inland
		}
		fields := map[string]any{"soil_mm": in.SoilMm, "station_seed": nil, "station_from": nil, "elevation_m": in.Elevation, "coast": in.Coast,
			"normals_c": store.JSON[[]float64]{V: append([]float64{}, in.Normals...)}}
		if in.Station {
			id := tx.Farm.ID
			fields["station_seed"], fields["station_from"] = int64(len(id))*7919+int64(id[0])<<16+int64(id[9])<<8+int64(id[35]), from
		} else if err := tx.Where("farm_id = ? AND source = 'station'", a.FarmID).Delete(&store.WeatherDay{}).Error; err != nil {
			return err
		}
		return tx.Model(&store.Farm{}).Where("id = ?", a.FarmID).Updates(fields).Error
	})
	return farm.After(err, func() (WeatherView, error) { return s.Weather(ctx, a) })
}

// stationDue tells whether the stand-in station has days up to today to write down.
func stationDue(p *facts.Picture, today store.Day) bool {
	if p.Row.StationSeed == nil || p.Row.StationFrom == nil {
		return false
	}
	last := facts.DayNumber(today)
	for n := max(facts.DayNumber(*p.Row.StationFrom), last-facts.WeatherDays+1); n <= last; n++ {
		if _, known := p.WeatherFrom[n]; !known {
			return true
		}
	}
	return false
}

// followStation lets the stand-in station write down the days up to today that nobody has written down.
func (s *Service) followStation(ctx context.Context, a farm.Actor) error {
	return s.Write(ctx, farm.Actor{FarmID: a.FarmID}, farm.Request{Kind: "station"}, func(tx *facts.Writing) error {
		if tx.Farm.StationSeed == nil || tx.Farm.StationFrom == nil {
			return nil
		}
		loc, err := time.LoadLocation(tx.Farm.TimeZone)
		if err != nil {
			loc = time.UTC
		}
		from, err := tx.Farm.StationFrom.Time(time.UTC)
		if err != nil {
			return err
		}
		first, today := facts.DayNumber(*tx.Farm.StationFrom), facts.DayNumber(store.DayOf(tx.Now, loc))
		var rows []store.WeatherDay
		for i, d := range standin.Station(*tx.Farm.StationSeed, facts.ClimateOf(tx.Farm), from, today-first+1) {
			rows = append(rows, store.WeatherDay{FarmID: a.FarmID, Day: facts.DayAt(first + i), RainMm: d.Rain, MeanC: d.Mean, LeastC: d.Least, MostC: d.Most, SunH: d.Sun, Source: "station"})
		}
		if len(rows) == 0 {
			return nil
		}
		return tx.Clauses(clause.OnConflict{DoNothing: true}).CreateInBatches(&rows, 500).Error
	})
}
