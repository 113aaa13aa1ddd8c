package yard

import (
	"context"
	"slices"
	"strings"
	"time"

	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// NewJob is something to be done.
type NewJob struct {
	ID        string     `json:"id"`
	Kind      string     `json:"kind" enum:"fence,water,power,stock,other"`
	What      string     `json:"what"`
	PaddockID *string    `json:"paddock_id,omitempty"`
	Longitude *float64   `json:"longitude,omitempty" minimum:"-180" maximum:"180"`
	Latitude  *float64   `json:"latitude,omitempty" minimum:"-90" maximum:"90"`
	Due       *store.Day `json:"due_on,omitempty"`
	Every     int        `json:"every_days,omitempty" doc:"it comes again so many days after it was done; 0: once"`
	ForID     *string    `json:"for_id,omitempty" doc:"whose it is, a member; left out: anybody's"`
}

// JobDone says that a job is done.
type JobDone struct {
	ID      string    `json:"id"` // of the write
	JobID   string    `json:"job_id"`
	At      time.Time `json:"done_at"`
	Minutes *int      `json:"minutes,omitempty" doc:"of labour"`
	Note    string    `json:"note,omitempty"`
}

// JobView is a job, done or to be done.
type JobView struct {
	ID          string     `json:"id"`
	Kind        string     `json:"kind"`
	What        string     `json:"what"`
	PaddockID   *string    `json:"paddock_id" nullable:"true"`
	PaddockName string     `json:"paddock_name"`
	Longitude   *float64   `json:"longitude" nullable:"true"`
	Latitude    *float64   `json:"latitude" nullable:"true"`
	Due         *store.Day `json:"due_on" nullable:"true"`
	Overdue     bool       `json:"overdue"`
	Every       int        `json:"every_days"`
	ForID       *string    `json:"for_id" nullable:"true"`
	For         string     `json:"for"`
	MadeBy      string     `json:"made_by"`
	MadeAt      time.Time  `json:"made_at"`
	DoneAt      *time.Time `json:"done_at" nullable:"true"`
	DoneBy      string     `json:"done_by"`
	Minutes     *int       `json:"minutes" nullable:"true"`
	Note        string     `json:"note"`
	Photos      []string   `json:"photos" nullable:"false"`
}

// JobsView is what is to be done, the most urgent first, what was done lately, and who may do it.
type JobsView struct {
	Open   []JobView   `json:"open" nullable:"false"`
	Done   []JobView   `json:"done" nullable:"false"`
	People []JobPerson `json:"people" nullable:"false"`
}

// JobPerson is somebody on the farm.
type JobPerson struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// Limits of jobs.
const (
	mostJobs    = 500 // open at once
	mostEvery   = 366 // days
	mostMinutes = 24 * 60
	mostNote    = 500 // letters
	shownDone   = 14  // days for which what was done is shown
)

// AddJob keeps something to be done.
func (s *Service) AddJob(ctx context.Context, a farm.Actor, in NewJob) error {
	return s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "job", Body: in}, func(tx *facts.Writing) error { return WriteJob(tx, in) })
}

// WriteJob keeps something to be done within a write.
func WriteJob(tx *facts.Writing, in NewJob) error {
	if err := in.check(tx); err != nil {
		return err
	}
	var open int64
	if err := tx.Model(&store.Job{}).Where("farm_id = ? AND done_at IS NULL AND NOT withdrawn", tx.Actor.FarmID).Count(&open).Error; err != nil {
		return err
	}
	if open >= mostJobs {
		return quantity.Refuse("what", nil, "%d jobs are open already: do some, or take some back", mostJobs)
	}
	return tx.Create(&store.Job{FarmID: tx.Actor.FarmID, ID: in.ID, Kind: in.Kind, What: in.What, PaddockID: in.PaddockID, Longitude: in.Longitude, Latitude: in.Latitude,
		DueOn: in.Due, EveryDays: in.Every, ForID: in.ForID, MadeAt: time.Now().UTC(), MadeBy: tx.Actor.UserID}).Error
}

func (in *NewJob) check(tx *facts.Writing) error {
	if in.What = strings.TrimSpace(in.What); in.What == "" {
		return quantity.Refuse("what", nil, "say what is to be done")
	}
	if n := len([]rune(in.What)); n > 300 {
		return quantity.Refuse("what", n, "at most 300 letters")
	}
	if !slices.Contains([]string{"fence", "water", "power", "stock", "other"}, in.Kind) {
		return quantity.Refuse("kind", in.Kind, "must be fence, water, power, stock or other")
	}
	if in.Every < 0 || in.Every > mostEvery {
		return quantity.Refuse("every_days", in.Every, "must be 0 to %d days", mostEvery)
	}
	if in.Due != nil {
		if _, err := in.Due.Time(time.UTC); err != nil {
			return quantity.Refuse("due_on", string(*in.Due), "must be a day, as 2026-06-10")
		}
	}
	if (in.Longitude == nil) != (in.Latitude == nil) {
		return quantity.Refuse("latitude", nil, "a place has both, longitude and latitude")
	}
	if in.PaddockID != nil {
		if _, err := farm.Find[store.Paddock](tx.DB, tx.Actor.FarmID, "paddock_id", *in.PaddockID); err != nil {
			return err
		}
	}
	if in.ForID != nil {
		if _, err := farm.MemberRole(tx.DB, tx.Actor.FarmID, *in.ForID); err != nil {
			return quantity.Refuse("for_id", *in.ForID, "is nobody of this farm")
		}
	}
	return nil
}

// DoJob says that a job is done, by whom and when. One that comes again is there for its next day.
func (s *Service) DoJob(ctx context.Context, a farm.Actor, in JobDone) error {
	return s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "job done", Body: in}, func(tx *facts.Writing) error {
		job, err := farm.Find[store.Job](tx.DB, a.FarmID, "job_id", in.JobID)
		if err != nil {
			return err
		}
		switch {
		case job.Withdrawn:
			return quantity.Refuse("job_id", nil, "it was taken back: nobody has to do it any more")
		case job.DoneAt != nil:
			return quantity.Refuse("job_id", nil, "somebody did it already, at %s", job.DoneAt.Format(time.RFC3339))
		case in.At.After(tx.Now.Add(time.Minute)) || in.At.Before(tx.Now.AddDate(-1, 0, 0)):
			return quantity.Refuse("done_at", in.At.Format(time.RFC3339), "lies in the future or more than a year back")
		case in.Minutes != nil && (*in.Minutes < 0 || *in.Minutes > mostMinutes):
			return quantity.Refuse("minutes", *in.Minutes, "must be 0 to %d", mostMinutes)
		case len([]rune(in.Note)) > mostNote:
			return quantity.Refuse("note", nil, "a note has at most %d letters", mostNote)
		}
		if err := tx.Model(&store.Job{}).Where("farm_id = ? AND id = ?", a.FarmID, job.ID).
			Updates(map[string]any{"done_at": in.At.UTC(), "done_by": a.UserID, "minutes": in.Minutes, "done_note": in.Note}).Error; err != nil {
			return err
		}
		if job.EveryDays == 0 {
			return nil
		}
		next := job
		due := facts.DayAt(facts.DayNumber(tx.DayOf(in.At)) + job.EveryDays)
		next.ID, next.DueOn, next.AfterID, next.MadeAt = farm.NewID(), &due, &job.ID, time.Now().UTC()
		return tx.Create(&next).Error
	})
}

// TakeJobBack takes a job back that need not be done, or says of one that it is not done after all: what followed from it goes with that.
func (s *Service) TakeJobBack(ctx context.Context, a farm.Actor, id string) error {
	return s.Write(ctx, a, farm.Request{Kind: "take job back", Body: id}, func(tx *facts.Writing) error {
		job, err := farm.Find[store.Job](tx.DB, a.FarmID, "", id)
		if err != nil {
			return err
		}
		of := tx.Model(&store.Job{}).Where("farm_id = ? AND id = ?", a.FarmID, id)
		if job.DoneAt == nil {
			return of.Update("withdrawn", true).Error
		}
		if err := of.Updates(map[string]any{"done_at": nil, "done_by": nil, "minutes": nil, "done_note": ""}).Error; err != nil {
			return err
		}
		return tx.Where("farm_id = ? AND after_id = ? AND done_at IS NULL", a.FarmID, id).Delete(&store.Job{}).Error
	})
}

// Jobs are what is to be done and what was done lately.
func (s *Service) Jobs(ctx context.Context, a farm.Actor) (JobsView, error) {
	out := JobsView{Open: []JobView{}, Done: []JobView{}, People: []JobPerson{}}
	se, err := s.Season(ctx, a)
	if err != nil {
		return out, err
	}
	members, err := s.Members(ctx, a)
	if err != nil {
		return out, err
	}
	names := map[string]string{}
	for _, m := range members {
		names[m.UserID] = m.Name
		out.People = append(out.People, JobPerson{m.UserID, m.Name})
	}
	db := s.DB.WithContext(ctx)
	var done []store.Job
	if err := db.Order("done_at DESC, id").Limit(50).Find(&done, "farm_id = ? AND done_at > ? AND NOT withdrawn", a.FarmID, se.Now.AddDate(0, 0, -shownDone)).Error; err != nil {
		return out, err
	}
	photos, err := photosOf(db, a.FarmID, append(jobIDs(se.Jobs), jobIDs(done)...))
	if err != nil {
		return out, err
	}
	view := func(j store.Job) JobView {
		v := JobView{ID: j.ID, Kind: j.Kind, What: j.What, PaddockID: j.PaddockID, Longitude: j.Longitude, Latitude: j.Latitude, Due: j.DueOn, Overdue: j.Overdue(store.DayOf(se.Now, se.Location)),
			Every: j.EveryDays, ForID: j.ForID, MadeBy: names[j.MadeBy], MadeAt: j.MadeAt, DoneAt: j.DoneAt, Minutes: j.Minutes, Note: j.DoneNote, Photos: append([]string{}, photos[j.ID]...)}
		if j.PaddockID != nil {
			v.PaddockName = se.Names[*j.PaddockID]
		}
		if j.ForID != nil {
			v.For = names[*j.ForID]
		}
		if j.DoneBy != nil {
			v.DoneBy = names[*j.DoneBy]
		}
		return v
	}
	for _, j := range se.Jobs {
		out.Open = append(out.Open, view(j))
	}
	for _, j := range done {
		out.Done = append(out.Done, view(j))
	}
	return out, nil
}

func jobIDs(jobs []store.Job) []string {
	var out []string
	for _, j := range jobs {
		out = append(out, j.ID)
	}
	return out
}
