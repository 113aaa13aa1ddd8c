package farm

import (
	"bytes"
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"errors"
	"fmt"
	"image"
	_ "image/jpeg" // photos are one or the other
	_ "image/png"
	"math"
	"sort"
	"strings"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"fjell/core/forage"
	"fjell/core/land"
	"fjell/core/measuring"
	"fjell/core/quantity"
	"fjell/internal/exchange"
	"fjell/internal/standin"
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
	TakenAt   time.Time     `json:"taken_at"`
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
	if err := clientID("id", r.ID); err != nil {
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
		if err := clientID(field, id); err != nil {
			return err
		}
	}
	return nil
}

// KeepReadings keeps readings a person took, the moment they come.
func (s *Service) KeepReadings(ctx context.Context, a Actor, in ReadingsInput) (ReadingsView, error) {
	return s.keepReadings(ctx, a.FarmID, in, func(row *store.Reading) { row.TakenBy = &a.UserID })
}

func (s *Service) keepReadings(ctx context.Context, farmID string, in ReadingsInput, sign func(*store.Reading)) (ReadingsView, error) {
	out := ReadingsView{Refused: []RefusedReading{}}
	if len(in.Readings) == 0 || len(in.Readings) > mostReadingsAtOnce {
		return out, quantity.Refuse("readings", len(in.Readings), "send 1 to %d readings at a time", mostReadingsAtOnce)
	}
	now, err := s.Clock.Now(ctx)
	if err != nil {
		return out, err
	}
	refuse := func(i int, err error) {
		var p *quantity.Problem
		if errors.As(err, &p) {
			out.Refused = append(out.Refused, RefusedReading{i, in.Readings[i].ID, p.Field, p.Message})
		}
	}
	var rows []store.Reading
	var ids []string
	place := map[string]int{}
	for i, r := range in.Readings {
		if r.TakenAt.IsZero() {
			r.TakenAt = now
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
		rows, ids = append(rows, row), append(ids, row.ID)
	}
	if len(rows) == 0 {
		return out, nil
	}
	refusedBefore, repeatedBefore := len(out.Refused), out.Repeated
	err = s.atomically(ctx, func(tx *gorm.DB) error {
		out.Refused, out.Repeated, out.Kept = out.Refused[:refusedBefore], repeatedBefore, 0
		var there []store.Reading
		if err := tx.Find(&there, "farm_id = ? AND id IN ?", farmID, ids).Error; err != nil {
			return err
		}
		known := map[string]store.Reading{}
		for _, r := range there {
			known[r.ID] = r
		}
		var fresh []store.Reading
		for i, r := range rows {
			before, ok := known[r.ID]
			switch {
			case !ok:
				fresh = append(fresh, r)
			case before.Value != r.Value || !before.TakenAt.Equal(r.TakenAt) || before.Method != r.Method:
				out.Refused = append(out.Refused, RefusedReading{i, r.ID, "id", "was used for another reading"})
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
		res := tx.Clauses(clause.OnConflict{DoNothing: true}).CreateInBatches(&fresh, 250)
		out.Kept, out.Repeated = int(res.RowsAffected), out.Repeated+len(fresh)-int(res.RowsAffected)
		if errors.Is(res.Error, gorm.ErrForeignKeyViolated) {
			return quantity.Refuse("readings.paddock_id", nil, "is not a paddock of this farm")
		}
		return res.Error
	})
	return out, err
}

// NewDevice is a device that is to send readings.
type NewDevice struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	Kind string `json:"kind" enum:"plate"`
}

// DeviceView is a device. Its token is shown once, when it is made.
type DeviceView struct {
	ID       string `json:"id"`
	Name     string `json:"name"`
	Kind     string `json:"kind"`
	Revoked  bool   `json:"revoked"`
	Readings int    `json:"readings"`
	Token    string `json:"token,omitempty"`
}

// AddDevice makes a device and its token.
func (s *Service) AddDevice(ctx context.Context, a Actor, in NewDevice) (DeviceView, error) {
	err := clientID("id", in.ID)
	if err != nil {
		return DeviceView{}, err
	}
	if in.Name, err = name("name", in.Name); err != nil {
		return DeviceView{}, err
	}
	raw := make([]byte, 24)
	if _, err := rand.Read(raw); err != nil {
		return DeviceView{}, err
	}
	token := base64.RawURLEncoding.EncodeToString(raw)
	row := store.Device{FarmID: a.FarmID, ID: in.ID, Name: in.Name, Kind: "plate", TokenDigest: digest(token), CreatedAt: time.Now().UTC()}
	err = s.DB.WithContext(ctx).Create(&row).Error
	if errors.Is(err, gorm.ErrDuplicatedKey) {
		return DeviceView{}, ErrSameID // its token was shown to whoever made it
	}
	return DeviceView{ID: row.ID, Name: row.Name, Kind: row.Kind, Token: token}, err
}

func digest(token string) string {
	sum := sha256.Sum256([]byte(token))
	return hex.EncodeToString(sum[:])
}

// Devices lists the farm's devices.
func (s *Service) Devices(ctx context.Context, a Actor) ([]DeviceView, error) {
	db := s.DB.WithContext(ctx)
	var rows []store.Device
	if err := db.Order("created_at, id").Find(&rows, "farm_id = ?", a.FarmID).Error; err != nil {
		return nil, err
	}
	out := []DeviceView{}
	for _, r := range rows {
		var n int64
		if err := db.Model(&store.Reading{}).Where("farm_id = ? AND device_id = ?", a.FarmID, r.ID).Count(&n).Error; err != nil {
			return nil, err
		}
		out = append(out, DeviceView{ID: r.ID, Name: r.Name, Kind: r.Kind, Revoked: r.Revoked, Readings: int(n)})
	}
	return out, nil
}

// RevokeDevice shuts a device out; what it sent stays.
func (s *Service) RevokeDevice(ctx context.Context, a Actor, id string) ([]DeviceView, error) {
	row, err := find[store.Device](s.DB.WithContext(ctx), a.FarmID, "", id)
	if err != nil {
		return nil, err
	}
	if err := s.DB.WithContext(ctx).Model(&row).Where("farm_id = ? AND id = ?", a.FarmID, id).Update("revoked", true).Error; err != nil {
		return nil, err
	}
	return s.Devices(ctx, a)
}

// ErrToken says that a device is not known, or was shut out.
var ErrToken = errors.New("this token belongs to no device that may send readings")

// Ingest keeps what a device sends. The token says which device of which farm it is.
func (s *Service) Ingest(ctx context.Context, token string, in ReadingsInput) (ReadingsView, error) {
	var device store.Device
	err := s.DB.WithContext(ctx).First(&device, "token_digest = ? AND NOT revoked", digest(token)).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return ReadingsView{}, ErrToken
	}
	if err != nil {
		return ReadingsView{}, err
	}
	for i := range in.Readings { // a device knows where it stands, not whose paddock that is
		in.Readings[i].StopID, in.Readings[i].PaddockID = "", ""
	}
	return s.keepReadings(ctx, device.FarmID, in, func(row *store.Reading) { row.DeviceID, row.Source = &device.ID, device.Name })
}

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
func (s *Service) Waiting(ctx context.Context, a Actor) (WaitingView, error) {
	se, err := s.season(ctx, a)
	if err != nil {
		return WaitingView{}, err
	}
	return se.waiting(s.DB.WithContext(ctx), a.FarmID)
}

func (s *season) waiting(db *gorm.DB, farmID string) (WaitingView, error) {
	out := WaitingView{Stops: []WaitingStop{}, Unassigned: []Unassigned{}}
	var rows []store.Reading
	if err := waitingReadings(db, farmID).Order("taken_at, id").Limit(20000).Find(&rows).Error; err != nil {
		return out, err
	}
	past := s.recount(s.now)
	at := map[string]int{}
	for _, r := range rows {
		p, why := s.paddockOf(r)
		if why != "" {
			out.Unassigned = append(out.Unassigned, Unassigned{r.ID, r.Source, r.Value, r.TakenAt, why})
			continue
		}
		pad := s.paddocks[p]
		key := strings.Join([]string{pad.ID, r.Source, r.Method, string(store.DayOf(r.TakenAt, s.loc))}, "|")
		i, ok := at[key]
		if !ok {
			i = len(out.Stops)
			at[key] = i
			in := measuring.Input{Method: forage.Method(r.Method)}
			if line := s.line(in.Method, pad); line != nil {
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
		v, err := measuring.Of(st.input, s.paddocks[s.byID[st.PaddockID]].sward)
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
func (s *season) paddockOf(r store.Reading) (paddock int, why string) {
	if r.PaddockID != nil {
		if p, ok := s.byID[*r.PaddockID]; ok {
			return p, ""
		}
	}
	if r.Longitude == nil {
		return 0, "no place"
	}
	at := s.plane.Forward(land.Position{*r.Longitude, *r.Latitude})
	for p, pad := range s.paddocks {
		if b := pad.region.Bounds(); b.Meets(land.Region{{at}}.Bounds()) && pad.region.Contains(at) {
			return p, ""
		}
	}
	return 0, "lies in no paddock"
}

// TakeIn says which waiting readings become measurements, and which are let go.
type TakeIn struct {
	Keys []string `json:"keys" nullable:"false"`
	Drop []string `json:"drop,omitempty" nullable:"false" doc:"readings that are let go"`
}

// TakeReadings makes measurements of waiting readings.
func (s *Service) TakeReadings(ctx context.Context, a Actor, in TakeIn) (WalkView, error) {
	err := s.atomically(ctx, func(tx *gorm.DB) error {
		p, err := loadPicture(ctx, tx, s.Clock, a.FarmID)
		if err != nil {
			return err
		}
		se, err := p.season()
		if err != nil {
			return err
		}
		waiting, err := se.waiting(tx, a.FarmID)
		if err != nil {
			return err
		}
		if len(in.Drop) > 0 {
			if err := tx.Model(&store.Reading{}).Where("farm_id = ? AND id IN ?", a.FarmID, in.Drop).Update("dropped", true).Error; err != nil {
				return err
			}
		}
		for i, key := range in.Keys {
			if err := s.takeStop(ctx, tx, a, waiting, se, fmt.Sprintf("keys[%d]", i), key); err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		return WalkView{}, err
	}
	return s.Walk(ctx, a)
}

func (s *Service) takeStop(ctx context.Context, tx *gorm.DB, a Actor, waiting WaitingView, se *season, field, key string) error {
	for _, st := range waiting.Stops {
		if st.Key != key {
			continue
		}
		if st.Problem != "" {
			return quantity.Refuse(field, st.Paddock, "%s", st.Problem)
		}
		m := NewMeasurement{ID: newID(), PaddockID: st.PaddockID, Input: st.input, MeasuredAt: st.Until, Confirmed: true, source: "device"}
		if line := se.line(st.input.Method, se.paddocks[se.byID[st.PaddockID]]); line != nil && line.CalibrationID != "" {
			m.CalibrationID = &line.CalibrationID
		}
		if err := s.record(ctx, tx, a, m); err != nil {
			return err
		}
		return tx.Model(&store.Reading{}).Where("farm_id = ? AND id IN ?", a.FarmID, st.ids).Update("stop_id", m.ID).Error
	}
	return quantity.Refuse(field, key, "is not among the readings that wait: look again")
}

// ReadingFileInput is a file of readings with the columns a person chose.
type ReadingFileInput struct {
	Name    string         `json:"name"`
	Text    string         `json:"text"`
	Method  forage.Method  `json:"method" enum:"plate,stick,plain"`
	Columns map[string]int `json:"columns,omitempty"`
	Keep    bool           `json:"keep,omitempty"`
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
func (s *Service) ReadReadingFile(ctx context.Context, a Actor, in ReadingFileInput) (ReadingFileView, error) {
	v := ReadingFileView{Heads: []string{}, Columns: map[string]int{}, Bad: []exchange.BadRow{}}
	se, err := s.season(ctx, a)
	if err != nil {
		return v, err
	}
	var list []exchange.FileReading
	var bad []exchange.BadRow
	if strings.HasSuffix(strings.ToLower(in.Name), ".gpx") {
		list, bad, err = exchange.ReadWaypoints([]byte(in.Text), se.now)
	} else {
		var table exchange.Table
		if table, err = exchange.ReadTable([]byte(in.Text)); err != nil {
			return v, err
		}
		v.Heads, v.Columns = table.Heads, table.Columns(exchange.ReadingColumns)
		for field, c := range in.Columns {
			if c >= -1 && c < len(table.Heads) {
				v.Columns[field] = c
			}
		}
		list, bad, err = exchange.ReadReadings(table, v.Columns, se.loc, se.now)
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
		for _, pad := range se.paddocks {
			if r.Named != "" && strings.EqualFold(pad.Name, r.Named) {
				out.PaddockID = pad.ID
			}
		}
		row := store.Reading{Longitude: out.Longitude, Latitude: out.Latitude}
		if out.PaddockID != "" {
			row.PaddockID = &out.PaddockID
		}
		if _, why := se.paddockOf(row); why == "" {
			v.Places++
		}
		readings = append(readings, out)
	}
	if !in.Keep {
		return v, nil
	}
	for start := 0; start < len(readings); start += mostReadingsAtOnce {
		part := readings[start:min(start+mostReadingsAtOnce, len(readings))]
		kept, err := s.keepReadings(ctx, a.FarmID, ReadingsInput{part}, func(row *store.Reading) { row.Source, row.TakenBy = title, &a.UserID })
		if err != nil {
			return v, err
		}
		v.Kept, v.Before = v.Kept+kept.Kept, v.Before+kept.Repeated
		for _, r := range kept.Refused {
			v.Bad = append(v.Bad, exchange.BadRow{Row: list[start+r.Index].Row, Why: r.Why})
		}
	}
	return v, nil
}

// MostPhotoBytes is the largest photo kept.
const MostPhotoBytes = 6 << 20

// NewPhoto is a picture taken on a walk.
type NewPhoto struct {
	ID, StopID, PaddockID string
	TakenAt               time.Time
	Content               []byte
}

// KeepPhoto keeps a PNG or JPEG of a stop, whose measurement may come after it.
func (s *Service) KeepPhoto(ctx context.Context, a Actor, in NewPhoto) error {
	for field, id := range map[string]string{"id": in.ID, "stop": in.StopID} {
		if err := clientID(field, id); err != nil {
			return err
		}
	}
	if len(in.Content) > MostPhotoBytes {
		return quantity.Refuse("content", len(in.Content), "a photo has at most %d MB", MostPhotoBytes>>20)
	}
	_, kind, err := image.DecodeConfig(bytes.NewReader(in.Content))
	if err != nil {
		return quantity.Refuse("content", nil, "this is neither a PNG nor a JPEG")
	}
	sum := sha256.Sum256(in.Content)
	return s.atomically(ctx, func(tx *gorm.DB) error {
		repeat, err := once(tx, a.FarmID, in.ID, "photo", hex.EncodeToString(sum[:])+in.StopID)
		if err != nil || repeat {
			return err
		}
		if _, err := find[store.Paddock](tx, a.FarmID, "paddock", in.PaddockID); err != nil {
			return err
		}
		return tx.Create(&store.Photo{FarmID: a.FarmID, ID: in.ID, StopID: in.StopID, PaddockID: in.PaddockID, ContentType: "image/" + kind, Content: in.Content,
			TakenAt: in.TakenAt.UTC(), TakenBy: a.UserID}).Error
	})
}

// Photo is a picture of a walk.
func (s *Service) Photo(ctx context.Context, a Actor, id string) (contentType string, content []byte, err error) {
	row, err := find[store.Photo](s.DB.WithContext(ctx), a.FarmID, "", id)
	return row.ContentType, row.Content, err
}

// StandInGround is the ground the stand-in plate walks over, with the heights that what is believed to stand there
// comes to.
func (s *Service) StandInGround(ctx context.Context, a Actor) (land.Plane, []standin.Patch, time.Time, error) {
	se, err := s.season(ctx, a)
	if err != nil {
		return land.Plane{}, nil, time.Time{}, err
	}
	past := se.recount(se.now)
	var out []standin.Patch
	for p, pad := range se.paddocks {
		if line := se.line(forage.Plate, pad); line != nil {
			out = append(out, standin.Patch{Ground: pad.region, Cm: math.Max(2, (past.Standing[p].Mass-line.Intercept)/line.Slope)})
		}
	}
	return se.plane, out, se.now, nil
}
