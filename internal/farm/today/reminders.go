package today

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"slices"
	"strings"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/working"
	"fjell/internal/farm"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// Of what a person may be reminded.
const (
	RemindMoves   = "moves"   // the evening before
	RemindJobs    = "jobs"    // due by the next day
	RemindWalk    = "walk"    // a walk that is due
	RemindMinding = "minding" // what cannot wait
)

var remindKinds = []string{RemindMoves, RemindJobs, RemindWalk, RemindMinding}

// Reminders is of what a person wants to be reminded by mail on a farm, and when; nothing, unless they say so.
type Reminders struct {
	Kinds  []string `json:"kinds" nullable:"false" enum:"moves,jobs,walk,minding"`
	Minute int      `json:"at_minute" doc:"of the farm's day, 0 to 1439"`
}

// usualMinute is when reminders go unless a person says otherwise: while there is light to walk a fence.
const usualMinute = 18 * 60

// RemindersOf is what the actor wants to be reminded of.
func (s *Service) RemindersOf(ctx context.Context, a farm.Actor) (Reminders, error) {
	var row store.Reminder
	if err := s.DB.WithContext(ctx).Limit(1).Find(&row, "farm_id = ? AND user_id = ?", a.FarmID, a.UserID).Error; err != nil {
		return Reminders{}, err
	}
	if row.UserID == "" {
		return Reminders{Kinds: []string{}, Minute: usualMinute}, nil
	}
	return Reminders{append([]string{}, row.Kinds.V...), row.AtMinute}, nil
}

// SetReminders says what the actor wants to be reminded of. What would have gone earlier today goes from tomorrow on.
func (s *Service) SetReminders(ctx context.Context, a farm.Actor, in Reminders) (Reminders, error) {
	seen := map[string]bool{}
	for _, k := range in.Kinds {
		if !slices.Contains(remindKinds, k) || seen[k] {
			return Reminders{}, quantity.Refuse("kinds", k, "must be one of %s, once", strings.Join(remindKinds, ", "))
		}
		seen[k] = true
	}
	if in.Minute < 0 || in.Minute >= 24*60 {
		return Reminders{}, quantity.Refuse("at_minute", in.Minute, "must be a minute of the day, 0 to 1439")
	}
	se, err := s.Season(ctx, a)
	if err != nil {
		return Reminders{}, err
	}
	row := store.Reminder{FarmID: a.FarmID, UserID: a.UserID, Kinds: store.JSON[[]string]{V: append([]string{}, in.Kinds...)}, AtMinute: in.Minute}
	if at := se.Now.In(se.Location); at.Hour()*60+at.Minute() >= in.Minute {
		today := store.DayOf(se.Now, se.Location)
		row.SentOn = &today
	}
	err = store.Atomically(ctx, s.DB, func(tx *gorm.DB) error { return tx.Save(&row).Error })
	return in, farm.Say(err)
}

// Letter is a reminder as it is sent.
type Letter struct {
	To, Subject, Text, FarmID string
}

// Remind sends every reminder whose hour has come at its farm, each once a day, whichever process it is that does. One that could not be sent is
// tried again when it is called next.
func (s *Service) Remind(ctx context.Context, send func(context.Context, Letter) error) error {
	now, err := s.Clock.Now(ctx)
	if err != nil {
		return err
	}
	var rows []struct {
		store.Reminder
		Email    string
		TimeZone string
	}
	// Somebody who has left the farm, or given their account up, is not written to.
	err = s.DB.WithContext(ctx).Table("reminders").Select("reminders.*, users.email, farms.time_zone").Joins("JOIN users ON users.id = reminders.user_id AND users.password_hash <> ''").
		Joins("JOIN members ON members.farm_id = reminders.farm_id AND members.user_id = reminders.user_id").Joins("JOIN farms ON farms.id = reminders.farm_id").
		Where("JSON_LENGTH(reminders.kinds) > 0").Find(&rows).Error
	if err != nil {
		return err
	}
	var failed []error
	for _, r := range rows {
		loc, err := time.LoadLocation(r.TimeZone)
		if err != nil {
			loc = time.UTC
		}
		at, today := now.In(loc), store.DayOf(now, loc)
		if at.Hour()*60+at.Minute() < r.AtMinute || r.SentOn != nil && *r.SentOn >= today {
			continue
		}
		if err := s.remindOne(ctx, r.Reminder, r.Email, today, send); err != nil {
			slog.ErrorContext(ctx, "reminder not sent", "farm", r.FarmID, "user", r.UserID, "error", err)
			failed = append(failed, err)
		}
	}
	return errors.Join(failed...)
}

func (s *Service) remindOne(ctx context.Context, row store.Reminder, email string, today store.Day, send func(context.Context, Letter) error) error {
	se, err := s.Season(ctx, farm.Actor{FarmID: row.FarmID, UserID: row.UserID})
	if err != nil {
		return err
	}
	letter := reminder(se, row)
	letter.To, letter.FarmID = email, row.FarmID
	// The row is held while the letter goes, so that no two processes send it; one that is held elsewhere is theirs.
	return s.DB.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		var held store.Reminder
		err := tx.Clauses(clause.Locking{Strength: clause.LockingStrengthUpdate, Options: clause.LockingOptionsSkipLocked}).Limit(1).
			Find(&held, "farm_id = ? AND user_id = ? AND (sent_on IS NULL OR sent_on < ?)", row.FarmID, row.UserID, today).Error
		if err != nil || held.UserID == "" {
			return err
		}
		if err := tx.Model(&store.Reminder{}).Where("farm_id = ? AND user_id = ?", row.FarmID, row.UserID).Update("sent_on", today).Error; err != nil {
			return err
		}
		if letter.Text == "" {
			return nil // nothing to say today
		}
		return send(ctx, letter)
	})
}

// reminder is what there is to say to a person; without text where there is nothing.
func reminder(s *season.Season, row store.Reminder) Letter {
	var parts []string
	say := func(kind, head string, lines []string) {
		if slices.Contains(row.Kinds.V, kind) && len(lines) > 0 {
			parts = append(parts, head+"\n- "+strings.Join(lines, "\n- "))
		}
	}
	past, plan := s.Past(), s.Ahead()
	tomorrow := s.Number(s.Now) + 1
	var moves, jobs, walk, minds []string
	for _, vis := range plan.Visits {
		if vis.Fact || s.Number(vis.Enter) != tomorrow {
			continue
		}
		line := fmt.Sprintf("%s to %s, %s", s.Mobs[vis.Mob].Name, s.Paddocks[vis.Paddock].Name, vis.Enter.In(s.Location).Format("15:04"))
		if kv := least(s, s.Mobs[vis.Mob].ID); kv > 0 {
			line += fmt.Sprintf(". Tonight: walk its fence, fill its water, and read %s or more at the far end", working.T("", "", kv, quantity.Kilovolt).Show())
		}
		moves = append(moves, line)
	}
	for _, j := range s.Jobs {
		mine := j.ForID == nil || *j.ForID == row.UserID
		if mine && j.DueOn != nil && dayNumber(*j.DueOn) <= tomorrow {
			line := j.What
			if j.PaddockID != nil {
				line += ", " + s.Names[*j.PaddockID]
			}
			jobs = append(jobs, line)
		}
	}
	for _, m := range minding(s, past, plan, due(s, past, plan)) {
		switch {
		case m.Kind == grazing.MindWalk && m.Where == "Walk":
			walk = append(walk, "a walk is due")
		case m.State == "stop":
			minds = append(minds, m.Where+": "+m.Reason.Plain())
		}
	}
	say(RemindMoves, "Moves tomorrow", moves)
	say(RemindMinding, "What cannot wait", minds)
	say(RemindJobs, "To do", jobs)
	say(RemindWalk, "Walk", slices.Compact(walk))
	if len(parts) == 0 {
		return Letter{}
	}
	subject := s.Row.Name + ": today's reminder"
	if slices.Contains(row.Kinds.V, RemindMoves) && len(moves) > 0 {
		subject = s.Row.Name + ": moves tomorrow"
	}
	return Letter{Subject: subject, Text: strings.Join(parts, "\n\n")}
}
