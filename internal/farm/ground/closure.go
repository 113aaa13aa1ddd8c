package ground

import (
	"context"
	"strings"
	"time"

	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// ClosureInput takes a paddock out of the round from a day until before another.
type ClosureInput struct {
	ID    string     `json:"id"`
	From  store.Day  `json:"from_on"`
	Until *store.Day `json:"until_on,omitempty" doc:"the first day in the round again; left out: not known yet"`
	Why   string     `json:"why,omitempty"`
}

// ClosureView is a paddock out of the round for a time.
type ClosureView struct {
	ID    string     `json:"id"`
	From  store.Day  `json:"from_on"`
	Until *store.Day `json:"until_on" nullable:"true"`
	Why   string     `json:"why"`
}

// closureView is the closure of a paddock that holds or is to come; nil where there is none.
func closureView(se *season.Season, p int) *ClosureView {
	c := se.Closed(p)
	if c == nil {
		return nil
	}
	return &ClosureView{c.ID, c.FromOn, c.UntilOn, c.Why}
}

// DressingInput is nitrogen that was spread on a paddock.
type DressingInput struct {
	ID    string    `json:"id"`
	On    store.Day `json:"given_on"`
	KgNHa float64   `json:"nitrogen_kg_ha"`
	Note  string    `json:"note,omitempty"`

	Confirmed bool `json:"confirmed,omitempty"`
}

// CloseUp takes a paddock out of the round for a time.
func (s *Service) CloseUp(ctx context.Context, a farm.Actor, paddockID string, in ClosureInput) (LandView, error) {
	return s.deed(ctx, a, in.ID, "close up", []any{paddockID, in}, func(e *edit) (string, error) { return e.close(paddockID, in) })
}

// Reopen takes a paddock back into the round today.
func (s *Service) Reopen(ctx context.Context, a farm.Actor, paddockID string) (LandView, error) {
	return s.deed(ctx, a, a.Key, "reopen", paddockID, func(e *edit) (string, error) { return e.reopen(paddockID) })
}

// Dress writes down that nitrogen was spread on a paddock. How much may be, and when, is for whoever spreads it to know.
func (s *Service) Dress(ctx context.Context, a farm.Actor, paddockID string, in DressingInput) (LandView, error) {
	return s.deed(ctx, a, in.ID, "dress", []any{paddockID, in}, func(e *edit) (string, error) { return e.dress(paddockID, in) })
}

// deed is one thing done to a paddock, kept as an edit that can be undone.
func (s *Service) deed(ctx context.Context, a farm.Actor, id, what string, in any, work func(*edit) (string, error)) (LandView, error) {
	err := s.edit(ctx, a, id, what, in, work)
	return farm.After(err, func() (LandView, error) { return s.Land(ctx, a) })
}

func (e *edit) close(paddockID string, in ClosureInput) (string, error) {
	if err := farm.CheckID("id", in.ID); err != nil {
		return "", err
	}
	row, err := farm.Find[store.Paddock](e.tx, e.actor.FarmID, "paddock_id", paddockID)
	if err != nil {
		return "", err
	}
	from, err := in.From.Time(e.Location)
	if err != nil || from.Before(e.Now.AddDate(0, -2, 0)) || from.After(e.Now.AddDate(1, 0, 0)) {
		return "", quantity.Refuse("from_on", string(in.From), "must be a day between two months ago and a year ahead")
	}
	if in.Until != nil {
		if until, err := in.Until.Time(e.Location); err != nil || !until.After(from) || until.After(from.AddDate(2, 0, 0)) {
			return "", quantity.Refuse("until_on", string(*in.Until), "must be a day after the first, at most two years")
		}
	}
	if in.Why = strings.TrimSpace(in.Why); in.Why == "" {
		in.Why = "closed up"
	}
	if n := len([]rune(in.Why)); n > 200 {
		return "", quantity.Refuse("why", n, "at most 200 letters")
	}
	if !from.After(e.Now) && e.stockIn(paddockID) {
		return "", quantity.Refuse("paddock_id", row.Name, "stock are in it: close it when they have left")
	}
	return "closing of " + row.Name, e.Create(&store.Closure{FarmID: e.actor.FarmID, ID: in.ID, PaddockID: paddockID, FromOn: in.From, UntilOn: in.Until, Why: in.Why,
		RecordedAt: time.Now().UTC().Truncate(time.Microsecond), RecordedBy: e.actor.UserID})
}

// stockIn tells whether a mob that has head stands in a paddock.
func (e *edit) stockIn(paddockID string) bool {
	in := map[string]string{}
	for _, mv := range e.Moves {
		if in[mv.MobID] = ""; mv.ToPaddockID != nil {
			in[mv.MobID] = *mv.ToPaddockID
		}
	}
	for _, m := range e.Mobs {
		if in[m.ID] == paddockID && e.Herd.MobOn(m.ID, e.Number(e.Now)).Head > 0 {
			return true
		}
	}
	return false
}

// reopen ends what closes a paddock today: what somebody closed ends, a limit of the year is lifted until it would have ended, this time.
func (e *edit) reopen(paddockID string) (string, error) {
	row, err := farm.Find[store.Paddock](e.tx, e.actor.FarmID, "paddock_id", paddockID)
	if err != nil {
		return "", err
	}
	i, ok := e.ByID[paddockID]
	if !ok {
		return "", quantity.Refuse("paddock_id", nil, "%s is of a way of dividing that does not hold today", row.Name)
	}
	se, err := season.Of(e.Picture)
	if err != nil {
		return "", err
	}
	if row.Purpose == "reserve" || row.Purpose == "loafing" {
		return "", quantity.Refuse("paddock_id", row.Name, "it is kept as %s ground: change that on the land", row.Purpose)
	}
	if se.ClosedNow(i) == "" {
		return "", quantity.Refuse("paddock_id", row.Name, "is open")
	}
	if err := e.endClosures(paddockID); err != nil {
		return "", err
	}
	if row.ClosedFor != "" {
		row.ClosedFor, e.Paddocks[i].ClosedFor = "", ""
		if err := e.Save(&row); err != nil {
			return "", err
		}
	}
	if se, err = season.Of(e.Picture); err != nil {
		return "", err
	}
	until := time.Time{}
	for _, c := range se.Farm.Paddocks[i].Closures {
		if !e.Now.Before(c.From) && e.Now.Before(c.Until) && c.Until.After(until) {
			until = c.Until
		}
	}
	if se.ClosedNow(i) == "" {
		return "opening of " + row.Name, nil
	}
	opening := store.Closure{FarmID: e.actor.FarmID, ID: farm.NewID(), PaddockID: paddockID, Opens: true, FromOn: e.today(), Why: "opened", RecordedAt: time.Now().UTC().Truncate(time.Microsecond),
		RecordedBy: e.actor.UserID}
	if !until.IsZero() { // what the weather or a limit of the year shuts is opened until it would have ended
		last := store.DayOf(until.Add(24*time.Hour-time.Nanosecond), e.Location)
		opening.UntilOn = &last
	}
	return "opening of " + row.Name, e.Create(&opening)
}

// endClosures ends what somebody closed and holds today; what began only today is as if it had not been.
func (e *edit) endClosures(paddockID string) error {
	today := e.today()
	var left []store.Closure
	for _, c := range e.Closures {
		holds := c.PaddockID == paddockID && !c.Opens && c.FromOn <= today && (c.UntilOn == nil || *c.UntilOn > today)
		if !holds {
			left = append(left, c)
			continue
		}
		if c.FromOn == today {
			if err := e.Remove(&c); err != nil {
				return err
			}
			continue
		}
		c.UntilOn = &today
		if err := e.Save(&c); err != nil {
			return err
		}
		left = append(left, c)
	}
	e.Closures = left
	return nil
}

func (e *edit) dress(paddockID string, in DressingInput) (string, error) {
	if err := farm.CheckID("id", in.ID); err != nil {
		return "", err
	}
	row, err := farm.Find[store.Paddock](e.tx, e.actor.FarmID, "paddock_id", paddockID)
	if err != nil {
		return "", err
	}
	on, err := in.On.Time(e.Location)
	if err != nil || on.After(e.Now) || on.Before(e.Now.AddDate(-1, 0, 0)) {
		return "", quantity.Refuse("given_on", string(in.On), "must be a day of the last year, up to today")
	}
	if err := farm.Judge(in, in.Confirmed); err != nil {
		return "", err
	}
	if n := len([]rune(in.Note)); n > 500 {
		return "", quantity.Refuse("note", n, "at most 500 letters")
	}
	return "nitrogen on " + row.Name, e.Create(&store.Dressing{FarmID: e.actor.FarmID, ID: in.ID, PaddockID: paddockID, GivenOn: in.On, KgNHa: in.KgNHa, Note: in.Note,
		RecordedAt: time.Now().UTC().Truncate(time.Microsecond), RecordedBy: e.actor.UserID})
}
