package walk

import (
	"context"
	"errors"
	"fmt"
	"sort"
	"strings"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"

	"fjell/core/forage"
	"fjell/core/land"
	"fjell/core/measuring"
	"fjell/core/quantity"
	"fjell/internal/exchange"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

func waitingReadings(db *gorm.DB, farmID string) *gorm.DB {
	return db.Where("farm_id = ? AND stop_id IS NULL AND source <> '' AND NOT dropped", farmID)
}

// WaitingStop is readings of one source, day and paddock that nobody has taken in yet.
type WaitingStop struct {
	Key       string    `json:"key"`
	PaddockID string    `json:"paddock_id"`
	Paddock   string    `json:"paddock"`
	Source    string    `json:"source"`
	Method    string    `json:"method"`
	From      time.Time `json:"from"`
	Until     time.Time `json:"until"`
	N         int       `json:"n"`
	Mass      *float64  `json:"forage_mass_kg_dm_ha,omitempty"`
	HalfWidth *float64  `json:"half_width_kg_dm_ha,omitempty"`
	Believed  float64   `json:"believed_kg_dm_ha"`
	Outliers  int       `json:"outliers"`
	Problem   string    `json:"problem"`

	ids   []string
	input measuring.Input
}

// Unassigned is a reading that lies in no paddock.
type Unassigned struct {
	ID     string    `json:"id"`
	Source string    `json:"source"`
	Value  float64   `json:"value"`
	At     time.Time `json:"taken_at"`
	Why    string    `json:"why"`
}

// WaitingView is everything that came from devices and files and waits to be taken in.
type WaitingView struct {
	Stops      []WaitingStop `json:"stops" nullable:"false"`
	Unassigned []Unassigned  `json:"unassigned" nullable:"false"`
}

// Waiting sorts readings of devices and files into paddocks by where they were taken.
func (s *Service) Waiting(ctx context.Context, a farm.Actor) (WaitingView, error) {
	se, err := s.Season(ctx, a)
	if err != nil {
		return WaitingView{}, err
	}
	return waiting(se, s.DB.WithContext(ctx), a.FarmID)
}

func waiting(s *season.Season, db *gorm.DB, farmID string) (WaitingView, error) {
	out := WaitingView{Stops: []WaitingStop{}, Unassigned: []Unassigned{}}
	var rows []store.Reading
	if err := waitingReadings(db, farmID).Order("taken_at, id").Limit(20000).Find(&rows).Error; err != nil {
		return out, err
	}
	past := s.Past()
	at := map[string]int{}
	for _, r := range rows {
		p, why := paddockOf(s, r)
		if why != "" {
			out.Unassigned = append(out.Unassigned, Unassigned{r.ID, r.Source, r.Value, r.TakenAt, why})
			continue
		}
		pad := s.Paddocks[p]
		key := strings.Join([]string{pad.ID, r.Source, r.Method, string(store.DayOf(r.TakenAt, s.Location))}, "|")
		i, ok := at[key]
		if !ok {
			i = len(out.Stops)
			at[key] = i
			in := measuring.Input{Method: forage.Method(r.Method)}
			if line := line(s.Picture, in.Method, pad); line != nil {
				in.Slope, in.Intercept, in.LineName = &line.Slope, &line.Intercept, line.Name
			}
			out.Stops = append(out.Stops, WaitingStop{Key: key, PaddockID: pad.ID, Paddock: pad.Name, Source: r.Source, Method: r.Method, From: r.TakenAt,
				Believed: past.Standing[p].Mass, input: in})
		}
		st := &out.Stops[i]
		st.Until, st.N = r.TakenAt, st.N+1
		st.ids, st.input.Readings = append(st.ids, r.ID), append(st.input.Readings, r.Value)
	}
	for i := range out.Stops {
		st := &out.Stops[i]
		v, err := measuring.Of(st.input, s.Paddocks[s.ByID[st.PaddockID]].Sward)
		if err != nil {
			st.Problem = err.Error()
			continue
		}
		st.Mass, st.HalfWidth, st.Outliers = &v.Mass.Value, &v.HalfWidth, len(v.Sample.OutlierIndex)
	}
	sort.SliceStable(out.Stops, func(a, b int) bool { return out.Stops[a].From.Before(out.Stops[b].From) })
	return out, nil
}

// paddockOf finds the paddock a reading was taken in.
func paddockOf(s *season.Season, r store.Reading) (paddock int, why string) {
	if r.PaddockID != nil {
		if p, ok := s.ByID[*r.PaddockID]; ok {
			return p, ""
		}
	}
	if r.Longitude == nil {
		return 0, "no place"
	}
	at := s.Plane.Forward(land.Position{*r.Longitude, *r.Latitude})
	for p, pad := range s.Paddocks {
		if b := pad.Region.Bounds(); b.Meets(land.Region{{at}}.Bounds()) && pad.Region.Contains(at) {
			return p, ""
		}
	}
	return 0, "lies in no paddock"
}

// TakeIn says which waiting readings become measurements, and which are let go.
type TakeIn struct {
	Keys []string `json:"keys" nullable:"false"`
	Drop []string `json:"drop,omitempty" nullable:"false" maxItems:"20000" doc:"readings that are let go"`
}

// TakeReadings makes measurements of waiting readings.
func (s *Service) TakeReadings(ctx context.Context, a farm.Actor, in TakeIn) (WalkView, error) {
	err := s.Write(ctx, a, farm.Request{Kind: "take readings", Body: in}, func(tx *facts.Writing) error {
		p, err := tx.Picture()
		if err != nil {
			return err
		}
		se, err := season.Of(p)
		if err != nil {
			return err
		}
		waiting, err := waiting(se, tx.DB, a.FarmID)
		if err != nil {
			return err
		}
		if len(in.Drop) > 0 {
			if err := tx.Model(&store.Reading{}).Where("farm_id = ? AND id IN ?", a.FarmID, in.Drop).Update("dropped", true).Error; err != nil {
				return err
			}
		}
		for i, key := range in.Keys {
			if err := takeStop(tx, waiting, se, fmt.Sprintf("keys[%d]", i), key); err != nil {
				return err
			}
		}
		return nil
	})
	return farm.After(err, func() (WalkView, error) { return s.Walk(ctx, a) })
}

func takeStop(tx *facts.Writing, waiting WaitingView, se *season.Season, field, key string) error {
	for _, st := range waiting.Stops {
		if st.Key != key {
			continue
		}
		if st.Problem != "" {
			return quantity.Refuse(field, st.Paddock, "%s", st.Problem)
		}
		m := NewMeasurement{ID: farm.NewID(), PaddockID: st.PaddockID, Input: st.input, MeasuredAt: st.Until, Confirmed: true, source: "device"}
		if line := line(se.Picture, st.input.Method, se.Paddocks[se.ByID[st.PaddockID]]); line != nil && line.CalibrationID != "" {
			m.CalibrationID = &line.CalibrationID
		}
		if err := record(tx, m); err != nil {
			return err
		}
		return tx.Model(&store.Reading{}).Where("farm_id = ? AND id IN ?", tx.Farm.ID, st.ids).Update("stop_id", m.ID).Error
	}
	return quantity.Refuse(field, key, "is not among the readings that wait: look again")
}

// ReadingFileInput is a file of readings with the columns a person chose.
type ReadingFileInput struct {
	Name    string         `json:"name"`
	Text    string         `json:"text" maxLength:"8388608"`
	Method  forage.Method  `json:"method" enum:"plate,stick,plain"`
	Columns map[string]int `json:"columns,omitempty"`
	Units   exchange.Units `json:"units,omitempty" enum:",metric,imperial" doc:"of bare figures; a farm in imperial units is asked"`
	Keep    bool           `json:"keep,omitempty"`
}

// unitOf is the unit of a reading by a method.
func unitOf(m forage.Method) quantity.Unit {
	if m == forage.Plain {
		return quantity.ForageMass
	}
	return quantity.Centimetre
}

// ReadingFileView is what a file holds.
type ReadingFileView struct {
	Heads   []string          `json:"heads" nullable:"false"`
	Columns map[string]int    `json:"columns" nullable:"false"`
	Good    int               `json:"good"`
	Places  int               `json:"placed"` // of those, how many lie in a paddock
	Bad     []exchange.BadRow `json:"bad" nullable:"false"`
	Kept    int               `json:"kept"`
	Before  int               `json:"kept_before"`
}

// ReadReadingFile says what a file of readings holds and, when asked, keeps them to be taken in. A file that is kept
// twice is kept once: each reading's id comes from what it says.
func (s *Service) ReadReadingFile(ctx context.Context, a farm.Actor, in ReadingFileInput) (ReadingFileView, error) {
	v := ReadingFileView{Heads: []string{}, Columns: map[string]int{}, Bad: []exchange.BadRow{}}
	se, err := s.Season(ctx, a)
	if err != nil {
		return v, err
	}
	var list []exchange.FileReading
	var bad []exchange.BadRow
	units := in.Units.Or(quantity.System(se.Row.Units))
	if strings.HasSuffix(strings.ToLower(in.Name), ".gpx") {
		list, bad, err = exchange.ReadWaypoints(ctx, []byte(in.Text), unitOf(in.Method), units, se.Now)
	} else {
		var table exchange.Table
		if table, err = exchange.ReadTable(ctx, []byte(in.Text)); err != nil {
			return v, err
		}
		table.Units = units
		v.Heads, v.Columns = table.Heads, table.Columns(exchange.ReadingColumns)
		for field, c := range in.Columns {
			if c >= -1 && c < len(table.Heads) {
				v.Columns[field] = c
			}
		}
		list, bad, err = exchange.ReadReadings(table, v.Columns, unitOf(in.Method), se.Location, se.Now)
		var refused *quantity.Problem
		if errors.As(err, &refused) && !in.Keep {
			return v, nil // the person chooses the columns first
		}
	}
	if err != nil {
		return v, err
	}
	v.Good, v.Bad = len(list), append(v.Bad, bad...)
	var readings []ReadingInput
	title := strings.TrimSpace(in.Name)
	if title == "" || len(title) > 100 {
		title = "file"
	}
	for _, r := range list {
		raw := fmt.Sprintf("%s|%d|%g|%v|%s|%s", a.FarmID, r.At.UnixMicro(), r.Value, r.Place, r.Named, in.Method)
		out := ReadingInput{ID: uuid.NewSHA1(uuid.NameSpaceOID, []byte(raw)).String(), Method: in.Method, Value: r.Value, TakenAt: r.At}
		if r.Place != nil {
			out.Longitude, out.Latitude = &r.Place[0], &r.Place[1]
		}
		for _, pad := range se.Paddocks {
			if r.Named != "" && strings.EqualFold(pad.Name, r.Named) {
				out.PaddockID = pad.ID
			}
		}
		row := store.Reading{Longitude: out.Longitude, Latitude: out.Latitude}
		if out.PaddockID != "" {
			row.PaddockID = &out.PaddockID
		}
		if _, why := paddockOf(se, row); why == "" {
			v.Places++
		}
		readings = append(readings, out)
	}
	if !in.Keep {
		return v, nil
	}
	kept, err := s.keepReadings(ctx, a.FarmID, readings, func(row *store.Reading) { row.Source, row.TakenBy = title, &a.UserID })
	if err != nil {
		return v, err
	}
	v.Kept, v.Before = kept.Kept, kept.Repeated
	for _, r := range kept.Refused {
		v.Bad = append(v.Bad, exchange.BadRow{Row: list[r.Index].Row, Why: r.Why})
	}
	return v, nil
}
