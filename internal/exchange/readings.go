package exchange

import (
	"context"
	"encoding/xml"
	"math"
	"regexp"
	"strconv"
	"strings"
	"time"

	"github.com/twpayne/go-gpx"

	"fjell/core/land"
	"fjell/core/quantity"
)

// FileReading is a reading of a file with its place and time.
type FileReading struct {
	Row   int // in the file, from 1, heads not counted
	At    time.Time
	Place *land.Position
	Value float64
	Named string // the paddock the file names, if it does
}

// BadRow is a row that cannot be taken, and why.
type BadRow struct {
	Row int    `json:"row"`
	Why string `json:"why"`
}

// ReadingColumns are the usual heads of a file of readings, by field.
var ReadingColumns = map[string][]string{
	"time":      {"time", "taken at", "timestamp", "date time", "date", "day", "moment", "tid", "dato"},
	"latitude":  {"latitude", "lat", "y", "breddegrad"},
	"longitude": {"longitude", "lon", "lng", "long", "x", "lengdegrad"},
	"value":     {"height", "height cm", "height in", "height inches", "cm", "in", "inches", "reading", "value", "compressed height", "høyde", "mass", "cover"},
	"paddock":   {"paddock", "name", "skifte"},
}

// ReadReadings takes readings from a table by the columns that a person chose. Rows that cannot be taken are listed
// with the reason; unit is that of a reading, and latest the last moment it can have.
func ReadReadings(t Table, columns map[string]int, unit quantity.Unit, loc *time.Location, latest time.Time) (out []FileReading, bad []BadRow, err error) {
	col := func(field string) int {
		if c, ok := columns[field]; ok {
			return c
		}
		return -1
	}
	if col("value") < 0 {
		return nil, nil, quantity.Refuse("columns.value", nil, "say which column holds the reading")
	}
	if col("time") < 0 {
		return nil, nil, quantity.Refuse("columns.time", nil, "say which column holds the time")
	}
	if (col("latitude") < 0 || col("longitude") < 0) && col("paddock") < 0 {
		return nil, nil, quantity.Refuse("columns.latitude", nil, "say which columns hold latitude and longitude, or which names the paddock")
	}
	for row := range t.Rows {
		r, why := readingOf(t, row, col, unit, loc, latest)
		if why != "" {
			bad = append(bad, BadRow{row + 1, why})
			continue
		}
		out = append(out, r)
	}
	return out, bad, nil
}

func readingOf(t Table, row int, col func(string) int, unit quantity.Unit, loc *time.Location, latest time.Time) (FileReading, string) {
	r := FileReading{Row: row + 1, Named: t.Text(row, col("paddock"))}
	at, ok, err := t.Moment(row, col("time"), loc)
	switch {
	case err != nil:
		return r, err.Error()
	case !ok:
		return r, "no time"
	case at.After(latest):
		return r, "lies in the future"
	}
	r.At = at
	v, ok, err := t.Figure(row, col("value"), unit)
	switch {
	case err != nil:
		return r, err.Error()
	case !ok:
		return r, "no reading"
	case v < 0 || v > 30000:
		return r, "a reading lies between 0 and 30 000"
	}
	r.Value = v
	lat, okLat, errLat := t.Number(row, col("latitude"))
	lon, okLon, errLon := t.Number(row, col("longitude"))
	switch {
	case errLat != nil:
		return r, errLat.Error()
	case errLon != nil:
		return r, errLon.Error()
	case okLat && okLon && (math.Abs(lat) > 90 || math.Abs(lon) > 180):
		return r, "there is no such place on earth"
	case okLat && okLon:
		r.Place = &land.Position{lon, lat}
	case r.Named == "":
		return r, "neither place nor paddock"
	}
	return r, ""
}

var firstNumber = regexp.MustCompile(`-?\d+(?:[.,]\d+)?`)

// ReadWaypoints takes readings from the waypoints of a GPX file: the first number in a point's comment, description or
// name is its reading, in the unit that stands beside it or in one of units.
func ReadWaypoints(ctx context.Context, raw []byte, unit quantity.Unit, units quantity.System, latest time.Time) (out []FileReading, bad []BadRow, err error) {
	defer func() {
		if gone := ctx.Err(); gone != nil && err != nil {
			err = gone
		}
	}()
	if err := checkXML(ctx, raw); err != nil {
		return nil, nil, err
	}
	var doc gpx.GPX
	if err := xml.NewDecoder(open(ctx, raw)).Decode(&doc); err != nil {
		return nil, nil, quantity.Refuse("file", nil, "this is not a GPX file: %v", err)
	}
	for i, w := range doc.Wpt {
		r := FileReading{Row: i + 1, At: w.Time, Place: &land.Position{w.Lon, w.Lat}}
		found, beside := "", ""
		for _, text := range []string{w.Cmt, w.Desc, w.Name} {
			if found == "" {
				found, beside = firstNumber.FindString(text), text
			}
		}
		v, numberErr := strconv.ParseFloat(strings.Replace(found, ",", ".", 1), 64)
		switch {
		case found == "" || numberErr != nil:
			bad = append(bad, BadRow{r.Row, "no number in its comment, description or name"})
		case v < 0 || v > 30000:
			bad = append(bad, BadRow{r.Row, "a reading lies between 0 and 30 000"})
		case w.Time.IsZero():
			bad = append(bad, BadRow{r.Row, "no time"})
		case w.Time.After(latest):
			bad = append(bad, BadRow{r.Row, "lies in the future"})
		case math.IsNaN(w.Lat) || math.IsNaN(w.Lon) || math.Abs(w.Lat) > 90 || math.Abs(w.Lon) > 180:
			bad = append(bad, BadRow{r.Row, "there is no such place on earth"})
		default:
			if r.Value, err = stored(v, unit, units, beside); err != nil {
				bad = append(bad, BadRow{r.Row, err.Error()})
				continue
			}
			out = append(out, r)
		}
	}
	if len(out)+len(bad) == 0 {
		return nil, nil, quantity.Refuse("file", nil, "there are no waypoints in this file: readings are waypoints with a number")
	}
	return out, bad, nil
}
