package facts

import (
	"database/sql"
	"fmt"
	"time"

	"gorm.io/gorm"

	"fjell/core/weather"
	"fjell/internal/store"
)

// WeatherDays is how far back weather bears on a farm's present state.
const WeatherDays = 200

func (p *Picture) loadWeather(tx *gorm.DB, farmID string) error {
	if err := p.loadClimate(tx, farmID); err != nil {
		return err
	}
	today := p.Number(p.Now)
	sources := map[int]string{}
	days := map[int]weather.Day{}
	first, last := 0, 0
	err := eachRow(tx.Model(&store.WeatherDay{}).Select("day", "rain_mm", "mean_c", "least_c", "most_c", "sun_h", "source").Order("day").
		Where("farm_id = ? AND day > ? AND day <= ?", farmID, DayAt(today-WeatherDays), DayAt(today)),
		func(rows *sql.Rows) error {
			var day time.Time
			var d weather.Day
			var source string
			if err := rows.Scan(&day, &d.Rain, &d.Mean, &d.Least, &d.Most, &d.Sun, &source); err != nil {
				return err
			}
			last = int(day.Unix() / 86400)
			if len(days) == 0 {
				first = last
			}
			days[last], sources[last] = d, source
			return nil
		})
	if err != nil {
		return fmt.Errorf("load weather: %w", err)
	}
	if len(days) == 0 {
		return nil
	}
	p.WeatherFrom = sources
	known := weather.Reckon(days, first, last, p.Climate, p.Row.SoilMm, func(n int) int { return time.Unix(int64(n)*86400, 0).UTC().YearDay() })
	p.Weather = &known
	return nil
}

// ClimateOf is where a farm lies, by what is said of it.
func ClimateOf(row store.Farm) weather.Climate {
	c := weather.Climate{Latitude: row.Latitude, Elevation: row.ElevationM, Coast: weather.Coast(row.Coast)}
	if typed := row.NormalsC.V; len(typed) == 12 {
		c.Normals = (*[12]float64)(typed)
	}
	return c
}

// normalDays is how many days of one month must be on record for its mean to be the farm's own normal: three years of it.
const normalDays = 84

// loadClimate finds what is ordinary here: what somebody typed, or the farm's own records of three years and more, or an estimate.
func (p *Picture) loadClimate(tx *gorm.DB, farmID string) error {
	p.Climate, p.NormalsFrom = ClimateOf(p.Row), "estimated"
	if p.Climate.Normals != nil {
		p.NormalsFrom = "typed"
		return nil
	}
	var months []struct {
		Month int
		Mean  float64
		Days  int
	}
	if err := tx.Model(&store.WeatherDay{}).Select("MONTH(day) AS month, AVG(mean_c) AS mean, COUNT(*) AS days").Where("farm_id = ? AND source <> 'station'", farmID).
		Group("MONTH(day)").Having("COUNT(*) >= ?", normalDays).Scan(&months).Error; err != nil {
		return fmt.Errorf("load normals: %w", err)
	}
	if len(months) < 12 {
		return nil
	}
	normals := [12]float64{}
	for _, m := range months {
		normals[m.Month-1] = m.Mean
	}
	p.Climate.Normals, p.NormalsFrom = &normals, "records"
	return nil
}

// TooWet tells whether hooves would cut in on a paddock of so wet a kind on a day from today on; it is known only while the weather of
// today or yesterday is on record.
func (p *Picture) TooWet(wetness string, number int) bool {
	if p.Weather == nil || len(p.Weather.Days) == 0 || p.Weather.Days[len(p.Weather.Days)-1].Number < p.Number(p.Now)-1 {
		return false
	}
	return p.Weather.TooWet(wetness, number)
}
