package today

import (
	"context"
	"strings"
	"time"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// NewHandover is a card for whoever takes over for some days.
type NewHandover struct {
	ID     string    `json:"id"`
	Whom   string    `json:"whom"`
	From   store.Day `json:"from_on"`
	Last   store.Day `json:"last_on" doc:"the last day on which its link opens"`
	Normal string    `json:"normal" doc:"what is normal here: how many there are, how they behave, what the fence reads, where the water shuts"`
}

// HandoverMade is a card that was made: its token is shown once.
type HandoverMade struct {
	Token string    `json:"token"`
	Last  store.Day `json:"last_on"`
}

// HandoverRow is a card that opens, or will.
type HandoverRow struct {
	ID   string    `json:"id"`
	Whom string    `json:"whom"`
	From store.Day `json:"from_on"`
	Last store.Day `json:"last_on"`
	By   string    `json:"by"`
}

// HandoverCard is all that somebody needs who takes over: where, when, how, what is normal, whom to call.
type HandoverCard struct {
	Farm      string          `json:"farm"`
	Units     string          `json:"units"`
	TimeZone  string          `json:"time_zone"`
	Now       time.Time       `json:"now"`
	Held      bool            `json:"held" doc:"the clock is held still, in a demo"`
	Whom      string          `json:"whom"`
	From      store.Day       `json:"from_on"`
	Last      store.Day       `json:"last_on"`
	By        string          `json:"by"`
	Normal    string          `json:"normal"`
	Mobs      []HandoverMob   `json:"mobs" nullable:"false"`
	Jobs      []HandoverJob   `json:"jobs" nullable:"false"`
	Cautions  []CautionView   `json:"cautions" nullable:"false"`
	Emergency store.Emergency `json:"emergency"`
	Longitude float64         `json:"longitude"`
	Latitude  float64         `json:"latitude"`
}

// HandoverMob is a mob on a card.
type HandoverMob struct {
	Name     string         `json:"name"`
	Letter   string         `json:"letter"`
	Glyph    string         `json:"glyph"`
	Head     float64        `json:"head"`
	Paddock  string         `json:"paddock_name"`
	Moves    []HandoverMove `json:"moves" nullable:"false"`
	Evening  []string       `json:"evening" nullable:"false"` // before a move, in working order
	Steps    []string       `json:"steps" nullable:"false"`   // at the gate
	FenceKV  float64        `json:"fence_kv"`
	Withheld []WithheldView `json:"withheld" nullable:"false"`
}

// HandoverMove is a move on those days, as it is planned now.
type HandoverMove struct {
	At    time.Time       `json:"at"`
	To    string          `json:"to"`
	State grazing.State   `json:"state"`
	Why   *grazing.Reason `json:"because,omitempty"`
}

// HandoverJob is something to be done on those days.
type HandoverJob struct {
	What    string     `json:"what"`
	Paddock string     `json:"paddock_name"`
	Due     *store.Day `json:"due_on" nullable:"true"`
}

// Limits of a card.
const (
	mostCardDays = 60
	mostNormal   = 2000 // letters
	mostCards    = 20   // of a farm that open
)

// HandOver makes a card with a link. Made anew when the press is repeated: a token is never kept.
func (s *Service) HandOver(ctx context.Context, a farm.Actor, in NewHandover) (HandoverMade, error) {
	token := farm.Secret()
	err := s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "handover", Body: in}, func(tx *facts.Writing) error {
		var err error
		if in.Whom, err = farm.CheckName("whom", in.Whom); err != nil {
			return err
		}
		if n := len([]rune(in.Normal)); n > mostNormal {
			return quantity.Refuse("normal", n, "at most %d letters", mostNormal)
		}
		from, err := in.From.Time(time.UTC)
		if err != nil {
			return quantity.Refuse("from_on", string(in.From), "must be a day, as 2026-06-10")
		}
		last, err := in.Last.Time(time.UTC)
		if err != nil || last.Before(from) || last.Sub(from) > mostCardDays*24*time.Hour || in.Last < tx.Today() {
			return quantity.Refuse("last_on", string(in.Last), "must be a day from the first on, not past, and at most %d days later", mostCardDays)
		}
		var open int64
		if err := tx.Model(&store.Handover{}).Where("farm_id = ? AND ended_at IS NULL AND last_day >= ?", a.FarmID, tx.Today()).Count(&open).Error; err != nil {
			return err
		}
		if open >= mostCards {
			return quantity.Refuse("whom", nil, "%d cards open already: end some first", mostCards)
		}
		return tx.Note("handover card made for", in.Whom, tx.Create(&store.Handover{FarmID: a.FarmID, ID: in.ID, Digest: farm.Digest(token), Whom: in.Whom, FromDay: in.From, LastDay: in.Last,
			Normal: strings.TrimSpace(in.Normal), MadeBy: a.UserID, MadeAt: time.Now().UTC()}).Error)
	})
	if err != nil {
		return HandoverMade{}, err
	}
	var row store.Handover // a press that was repeated has made it before, with a token that nobody knows any more
	if err := s.DB.WithContext(ctx).First(&row, "farm_id = ? AND id = ?", a.FarmID, in.ID).Error; err != nil {
		return HandoverMade{}, err
	}
	if row.Digest != farm.Digest(token) {
		return HandoverMade{}, quantity.Refuse("id", in.ID, "this card was made already, and its link is shown once: end it, and make another")
	}
	return HandoverMade{token, in.Last}, nil
}

// Handovers are the cards that open, or will.
func (s *Service) Handovers(ctx context.Context, a farm.Actor) ([]HandoverRow, error) {
	se, err := s.Season(ctx, a)
	if err != nil {
		return nil, err
	}
	out := []HandoverRow{}
	err = s.DB.WithContext(ctx).Table("handovers").Select("handovers.id, handovers.whom, handovers.from_day AS `from`, handovers.last_day AS `last`, users.name AS `by`").
		Joins("JOIN users ON users.id = handovers.made_by").Where("handovers.farm_id = ? AND handovers.ended_at IS NULL AND handovers.last_day >= ?", a.FarmID, store.DayOf(se.Now, se.Location)).
		Order("handovers.from_day, handovers.id").Scan(&out).Error
	return out, err
}

// EndHandover ends a card: its link opens nothing any more.
func (s *Service) EndHandover(ctx context.Context, a farm.Actor, id string) error {
	return s.Write(ctx, a, farm.Request{Kind: "end handover", Body: id}, func(tx *facts.Writing) error {
		row, err := farm.Find[store.Handover](tx.DB, a.FarmID, "", id)
		if err != nil {
			return err
		}
		return tx.Note("handover card ended for", row.Whom, tx.Model(&store.Handover{}).Where("farm_id = ? AND id = ?", a.FarmID, id).Update("ended_at", time.Now().UTC()).Error)
	})
}

// Handover is what a link shows, up to and with its last day at the farm. Whoever made it must still be on the farm.
func (s *Service) Handover(ctx context.Context, token string) (HandoverCard, error) {
	var row struct {
		store.Handover
		By string
	}
	err := s.DB.WithContext(ctx).Table("handovers").Select("handovers.*, users.name AS `by`").Joins("JOIN users ON users.id = handovers.made_by").
		Joins("JOIN members ON members.farm_id = handovers.farm_id AND members.user_id = handovers.made_by").
		Where("handovers.digest = ? AND handovers.ended_at IS NULL", farm.Digest(token)).Limit(1).Find(&row).Error
	if err != nil {
		return HandoverCard{}, err
	}
	if row.ID == "" {
		return HandoverCard{}, farm.ErrLink
	}
	se, err := s.Season(ctx, farm.Actor{FarmID: row.FarmID})
	if err != nil {
		return HandoverCard{}, err
	}
	if store.DayOf(se.Now, se.Location) > row.LastDay {
		return HandoverCard{}, farm.ErrLink
	}
	card := cardOf(se, row.Handover, row.By)
	card.Held = s.Clock.Held()
	return card, nil
}

func cardOf(s *season.Season, row store.Handover, by string) HandoverCard {
	past, plan := s.Past(), s.Ahead()
	out := HandoverCard{Farm: s.Row.Name, Units: s.Row.Units, TimeZone: s.Row.TimeZone, Now: s.Now, Whom: row.Whom, From: row.FromDay, Last: row.LastDay, By: by, Normal: row.Normal,
		Mobs: []HandoverMob{}, Jobs: []HandoverJob{}, Cautions: []CautionView{}, Emergency: farm.EmergencyOf(s.Row), Longitude: s.Row.Longitude, Latitude: s.Row.Latitude}
	for i, m := range s.Mobs {
		v := todayMob(s, i, past, plan)
		mob := HandoverMob{Name: m.Name, Letter: m.Letter, Glyph: m.Glyph, Head: v.Head, Paddock: v.PaddockName, Moves: []HandoverMove{}, Evening: []string{}, Steps: []string{}, FenceKV: v.FenceKV, Withheld: v.Withheld}
		for _, step := range v.Routine {
			if step.When == "evening" {
				mob.Evening = append(mob.Evening, step.Do)
			} else {
				mob.Steps = append(mob.Steps, step.Do)
			}
		}
		for _, vis := range plan.Visits {
			if vis.Mob != i || vis.Fact {
				continue
			}
			if day := store.DayOf(vis.Enter, s.Location); day < row.FromDay || day > row.LastDay {
				continue
			}
			move := HandoverMove{At: vis.Enter, To: s.Paddocks[vis.Paddock].Name, State: vis.State}
			if len(vis.Reasons) > 0 {
				move.Why = &vis.Reasons[0]
			}
			mob.Moves = append(mob.Moves, move)
		}
		out.Mobs = append(out.Mobs, mob)
	}
	for _, j := range s.Jobs {
		if j.DueOn == nil || *j.DueOn <= row.LastDay {
			job := HandoverJob{What: j.What, Due: j.DueOn}
			if j.PaddockID != nil {
				job.Paddock = s.Names[*j.PaddockID]
			}
			out.Jobs = append(out.Jobs, job)
		}
	}
	for _, d := range due(s, past, plan) {
		out.Cautions = append(out.Cautions, d.CautionView)
	}
	return out
}
