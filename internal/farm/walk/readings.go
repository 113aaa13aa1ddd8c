package walk

import (
	"context"
	"errors"
	"math"
	"slices"
	"sort"
	"strings"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"fjell/core/forage"
	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/store"
)

// ReadingInput is one reading. Its id is made where it was taken, so that sending it twice is harmless.
type ReadingInput struct {
	ID        string        `json:"id"`
	StopID    string        `json:"stop_id,omitempty"` // the measurement it will be part of
	PaddockID string        `json:"paddock_id,omitempty"`
	Method    forage.Method `json:"method" enum:"plate,stick,clip,plain,eye"`
	Value     float64       `json:"value"`
	Zone      string        `json:"zone,omitempty"`
	Longitude *float64      `json:"longitude,omitempty"`
	Latitude  *float64      `json:"latitude,omitempty"`
	TakenAt   time.Time     `json:"taken_at,omitzero" doc:"left out by a device without a clock: the moment it comes"`
	Dropped   bool          `json:"dropped,omitempty"`
}

// ReadingsInput is readings that are sent together.
type ReadingsInput struct {
	Readings []ReadingInput `json:"readings" nullable:"false"`
}

// RefusedReading is a reading that was not taken, and why.
type RefusedReading struct {
	Index int    `json:"index"`
	ID    string `json:"id"`
	Field string `json:"field"`
	Why   string `json:"why"`
}

// ReadingsView tells what became of readings that were sent.
type ReadingsView struct {
	Kept     int              `json:"kept"`
	Repeated int              `json:"repeated"` // sent before: nothing was written
	Refused  []RefusedReading `json:"refused" nullable:"false"`
}

// mostReadingsAtOnce is how many readings one request takes.
const mostReadingsAtOnce = 1000

// check refuses a reading that cannot be.
func (r ReadingInput) check(now time.Time) error {
	if err := farm.CheckID("id", r.ID); err != nil {
		return err
	}
	most := 30000.0
	switch r.Method {
	case forage.Plate, forage.Stick:
		most = quantity.Bands["height_cm"].Most
	case forage.Clip, forage.Plain, forage.Eye:
	default:
		return quantity.Refuse("method", string(r.Method), "must be plate, stick, clip, plain or eye")
	}
	if math.IsNaN(r.Value) || r.Value < 0 || r.Value > most {
		return quantity.Refuse("value", r.Value, "lies between 0 and %g", most)
	}
	if (r.Longitude == nil) != (r.Latitude == nil) {
		return quantity.Refuse("latitude", nil, "a place has longitude and latitude, or neither")
	}
	if r.Longitude != nil && (math.Abs(*r.Longitude) > 180 || math.Abs(*r.Latitude) > 90) {
		return quantity.Refuse("latitude", *r.Latitude, "there is no such place on earth")
	}
	if r.TakenAt.After(now.Add(time.Minute)) || r.TakenAt.Before(now.AddDate(-5, 0, 0)) {
		return quantity.Refuse("taken_at", r.TakenAt.Format(time.RFC3339), "lies in the future or more than five years back")
	}
	if len(r.Zone) > 100 {
		return quantity.Refuse("zone", nil, "a name has at most 100 letters")
	}
	for field, id := range map[string]string{"stop_id": r.StopID, "paddock_id": r.PaddockID} {
		if id == "" {
			continue
		}
		if err := farm.CheckID(field, id); err != nil {
			return err
		}
	}
	return nil
}

// KeepReadings keeps readings a person took, the moment they come.
func (s *Service) KeepReadings(ctx context.Context, a farm.Actor, in ReadingsInput) (ReadingsView, error) {
	if err := in.check(); err != nil {
		return ReadingsView{Refused: []RefusedReading{}}, err
	}
	return s.keepReadings(ctx, a.FarmID, in.Readings, func(row *store.Reading) { row.TakenBy = &a.UserID })
}

func (in ReadingsInput) check() error {
	if len(in.Readings) == 0 || len(in.Readings) > mostReadingsAtOnce {
		return quantity.Refuse("readings", len(in.Readings), "send 1 to %d readings at a time", mostReadingsAtOnce)
	}
	return nil
}

// keepReadings keeps readings together or not at all, but for those that are refused.
func (s *Service) keepReadings(ctx context.Context, farmID string, readings []ReadingInput, sign func(*store.Reading)) (ReadingsView, error) {
	out := ReadingsView{Refused: []RefusedReading{}}
	now, err := s.Clock.Now(ctx)
	if err != nil {
		return out, err
	}
	refuse := func(i int, err error) {
		var p *quantity.Problem
		if errors.As(err, &p) {
			out.Refused = append(out.Refused, RefusedReading{i, readings[i].ID, p.Field, p.Message})
		}
	}
	var rows []store.Reading
	var ids []string
	var sentAs []int // of each row, its place in what was sent
	place := map[string]int{}
	clockless := map[string]bool{}
	for i, r := range readings {
		if r.TakenAt.IsZero() {
			r.TakenAt, clockless[strings.ToLower(r.ID)] = now, true
		}
		if err := r.check(now); err != nil {
			refuse(i, err)
			continue
		}
		row := store.Reading{FarmID: farmID, ID: strings.ToLower(r.ID), Method: string(r.Method), Value: r.Value, Zone: r.Zone, Longitude: r.Longitude, Latitude: r.Latitude,
			TakenAt: r.TakenAt.UTC().Truncate(time.Microsecond), ReceivedAt: time.Now().UTC(), Dropped: r.Dropped}
		if r.StopID != "" {
			row.StopID = &r.StopID
		}
		if r.PaddockID != "" {
			row.PaddockID = &r.PaddockID
		}
		sign(&row)
		if k, twice := place[row.ID]; twice {
			if rows[k].Value != row.Value || !rows[k].TakenAt.Equal(row.TakenAt) {
				refuse(i, quantity.Refuse("id", row.ID, "was used for another reading"))
				continue
			}
			rows[k].Dropped = rows[k].Dropped || row.Dropped
			out.Repeated++
			continue
		}
		place[row.ID] = len(rows)
		rows, ids, sentAs = append(rows, row), append(ids, row.ID), append(sentAs, i)
	}
	if len(rows) == 0 {
		return out, nil
	}
	before := out
	err = store.Atomically(ctx, s.DB, func(tx *gorm.DB) error {
		out = ReadingsView{Repeated: before.Repeated, Refused: append([]RefusedReading{}, before.Refused...)}
		known := map[string]store.Reading{}
		for part := range slices.Chunk(ids, mostReadingsAtOnce) {
			var there []store.Reading
			if err := tx.Find(&there, "farm_id = ? AND id IN ?", farmID, part).Error; err != nil {
				return err
			}
			for _, r := range there {
				known[r.ID] = r
			}
		}
		strange, err := strangePaddocks(tx, farmID, rows)
		if err != nil {
			return err
		}
		var fresh []store.Reading
		for k, r := range rows {
			before, ok := known[r.ID]
			switch {
			case !ok && r.PaddockID != nil && strange[strings.ToLower(*r.PaddockID)]:
				out.Refused = append(out.Refused, RefusedReading{sentAs[k], r.ID, "paddock_id", "is not a paddock of this farm"})
			case !ok:
				fresh = append(fresh, r)
			case before.Value != r.Value || !clockless[r.ID] && !before.TakenAt.Equal(r.TakenAt) || before.Method != r.Method:
				out.Refused = append(out.Refused, RefusedReading{sentAs[k], r.ID, "id", "was used for another reading"})
			default:
				out.Repeated++
				if r.Dropped && !before.Dropped {
					if err := tx.Model(&store.Reading{}).Where("farm_id = ? AND id = ?", farmID, r.ID).Update("dropped", true).Error; err != nil {
						return err
					}
				}
			}
		}
		if len(fresh) == 0 {
			return nil
		}
		// Another process may be writing the same ones: who comes second writes nothing.
		res := tx.Clauses(clause.OnConflict{DoNothing: true}).CreateInBatches(&fresh, mostReadingsAtOnce)
		out.Kept, out.Repeated = int(res.RowsAffected), out.Repeated+len(fresh)-int(res.RowsAffected)
		return res.Error
	})
	sort.Slice(out.Refused, func(a, b int) bool { return out.Refused[a].Index < out.Refused[b].Index })
	return out, farm.Say(err)
}

// strangePaddocks are those that readings name and that the farm does not have.
func strangePaddocks(tx *gorm.DB, farmID string, rows []store.Reading) (map[string]bool, error) {
	strange := map[string]bool{}
	var named []string
	for _, r := range rows {
		if r.PaddockID != nil && !strange[strings.ToLower(*r.PaddockID)] {
			strange[strings.ToLower(*r.PaddockID)] = true
			named = append(named, *r.PaddockID)
		}
	}
	if len(named) == 0 {
		return strange, nil
	}
	var ours []string
	if err := tx.Model(&store.Paddock{}).Where("farm_id = ? AND id IN ?", farmID, named).Pluck("id", &ours).Error; err != nil {
		return nil, err
	}
	for _, id := range ours {
		delete(strange, strings.ToLower(id))
	}
	return strange, nil
}
