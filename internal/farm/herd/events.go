package herd

import (
	"context"
	"errors"
	"fmt"
	"sort"
	"strings"
	"time"

	"gorm.io/gorm"

	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/core/stock"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// NewGroup is a class that an event brings animals into and that is not there yet.
type NewGroup struct {
	ID          string  `json:"id"`
	MobID       string  `json:"mob_id" doc:"empty: kept outside any mob"`
	ReferenceID string  `json:"reference_id"`
	Name        string  `json:"name"`
	LiveWeight  float64 `json:"live_weight_kg,omitempty"`
}

// EventInput is a thing that happens to stock: planned for a day, or happened on one, or both.
type EventInput struct {
	Kind        stock.Kind `json:"kind" enum:"birth,weaning,purchase,sale,death,move,mating,stage,weigh,count"`
	PlannedOn   string     `json:"planned_on,omitempty"`
	HappenedOn  string     `json:"happened_on,omitempty"`
	Head        float64    `json:"head,omitempty"`
	FromID      string     `json:"from_id,omitempty"`
	IntoID      string     `json:"into_id,omitempty"`
	IntoNew     *NewGroup  `json:"into_new,omitempty"`
	OfID        string     `json:"of_id,omitempty"`
	Weight      *float64   `json:"weight_kg,omitempty"`
	Becomes     string     `json:"becomes,omitempty"`
	IntakeShare *float64   `json:"intake_share,omitempty"`
	Gain        *float64   `json:"daily_gain_kg,omitempty"`
	Note        string     `json:"note,omitempty"`
	Confirmed   bool       `json:"confirmed,omitempty"`
}

// NewEvent is an event with the id its maker gave it.
type NewEvent struct {
	ID string `json:"id"`
	EventInput
}

// EventChange changes an event: a new row takes the place of the one before, which is kept.
type EventChange struct {
	ID string `json:"id"` // of the row that takes its place
	EventInput
}

// EventView is an event in words, with its days.
type EventView struct {
	EventInput
	ID          string   `json:"id"`
	Day         string   `json:"day"` // the day it counts from
	Says        string   `json:"says"`
	MobIDs      []string `json:"mob_ids" nullable:"false"`
	FromName    string   `json:"from_name"`
	IntoName    string   `json:"into_name"`
	OfName      string   `json:"of_name"`
	PlannedHead *int     `json:"planned_head,omitempty"`
	Overdue     bool     `json:"overdue"` // planned for a day that is past; nobody said it happened
	Planned     bool     `json:"planned"`
	Versions    int      `json:"versions"`
	Misfit      string   `json:"does_not_fit,omitempty" doc:"why it cannot have been; it is left out of every figure until it is put right or taken back"`
}

// KeepEvent writes an event down.
func (s *Service) KeepEvent(ctx context.Context, a farm.Actor, in NewEvent) (YearView, error) {
	err := s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "event", Body: in}, func(tx *facts.Writing) error {
		return saveEvent(tx, in.ID, nil, in.EventInput)
	})
	return farm.After(err, func() (YearView, error) { return s.Year(ctx, a, YearInput{}) })
}

// ChangeEvent puts another in an event's place: another day for a plan, the day it really happened, a correction.
func (s *Service) ChangeEvent(ctx context.Context, a farm.Actor, id string, in EventChange) (YearView, error) {
	err := s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "change event", Body: []any{id, in}}, func(tx *facts.Writing) error {
		old, err := farm.Find[store.StockEvent](tx.DB, a.FarmID, "", id)
		if err != nil {
			return err
		}
		return saveEvent(tx, in.ID, &old, in.EventInput)
	})
	return farm.After(err, func() (YearView, error) { return s.Year(ctx, a, YearInput{}) })
}

// WithdrawEvent takes an event back; both rows are kept.
func (s *Service) WithdrawEvent(ctx context.Context, a farm.Actor, id string) (YearView, error) {
	err := s.Write(ctx, a, farm.Request{Kind: "withdraw event", Body: id}, func(tx *facts.Writing) error {
		old, err := farm.Find[store.StockEvent](tx.DB, a.FarmID, "", id)
		if err != nil {
			return err
		}
		p, err := tx.Picture()
		if err != nil {
			return err
		}
		if err := p.Fits(without(p.Events, id)); err != nil {
			var refused *quantity.Problem
			if errors.As(err, &refused) {
				return quantity.Refuse("event", nil, "it cannot be taken back: %s", refused.Message)
			}
			return err
		}
		old.ID, old.ReplacesID, old.Withdrawn = farm.NewID(), &id, true
		old.RecordedAt, old.RecordedBy = time.Now().UTC(), a.UserID
		return replacing(tx.Create(&old).Error)
	})
	return farm.After(err, func() (YearView, error) { return s.Year(ctx, a, YearInput{}) })
}

func replacing(err error) error {
	if errors.Is(err, gorm.ErrDuplicatedKey) {
		return quantity.Refuse("event", nil, "somebody changed this event meanwhile: look again")
	}
	return err
}

func without(events []store.StockEvent, id string) []store.StockEvent {
	var out []store.StockEvent
	for _, e := range events {
		if e.ID != id {
			out = append(out, e)
		}
	}
	return out
}

func saveEvent(tx *facts.Writing, id string, old *store.StockEvent, in EventInput) error {
	a := tx.Actor
	p, err := tx.Picture()
	if err != nil {
		return err
	}
	row := store.StockEvent{FarmID: a.FarmID, ID: id, RecordedAt: time.Now().UTC(), RecordedBy: a.UserID}
	if old != nil {
		row.ReplacesID = &old.ID
		p.Events = without(p.Events, old.ID)
		row.PlannedOn, row.PlannedHead = old.PlannedOn, old.PlannedHead // the plan stands beside the fact
	}
	if err := fillEvent(p, tx.DB, a, &row, in); err != nil {
		return err
	}
	if in.Kind == stock.Muster && row.HappenedOn != nil && row.OfID != nil && !in.Confirmed {
		if strange := counted(p, "head", *row.OfID, facts.DayNumber(*row.HappenedOn), float64(row.Head)); strange != nil {
			return &farm.Unusual{Problems: strange}
		}
	}
	if in.Kind == stock.Sale && row.FromID != nil && !in.Confirmed {
		if strange := withheld(p, *row.FromID, saleDay(row)); strange != nil {
			return &farm.Unusual{Problems: strange}
		}
	}
	// A plan made now must fit the head that are there then, and what is planned after it too.
	strict := row
	if strict.HappenedOn == nil {
		day := facts.DayAt(max(facts.DayNumber(*row.PlannedOn), p.Number(p.Now)))
		strict.HappenedOn = &day
	}
	if err := p.Fits(append(append([]store.StockEvent(nil), p.Events...), strict)); err != nil {
		return err
	}
	return replacing(tx.Create(&row).Error)
}

func saleDay(row store.StockEvent) store.Day {
	if row.HappenedOn != nil {
		return *row.HappenedOn
	}
	return *row.PlannedOn
}

// withheld asks about a sale on a day on which what was given to their mob still withholds them.
func withheld(p *facts.Picture, groupID string, on store.Day) []quantity.Problem {
	mob := ""
	for _, g := range p.Groups {
		if g.ID == groupID && g.MobID != nil {
			mob = *g.MobID
		}
	}
	for _, t := range p.Treatments {
		if t.MobID == nil || *t.MobID != mob || !t.Withholds(on) {
			continue
		}
		of := ""
		if t.Tags != "" {
			of = " (" + t.Tags + ")"
		}
		return []quantity.Problem{{Field: "from_id", Message: fmt.Sprintf("%s was given to their mob%s and withholds them until %s: are these free of it?", t.Product, of, *t.UntilDay)}}
	}
	return nil
}

// fillEvent checks an event and puts it into a row.
func fillEvent(p *facts.Picture, tx *gorm.DB, a farm.Actor, row *store.StockEvent, in EventInput) error {
	if err := farm.Judge(in, in.Confirmed); err != nil {
		return err
	}
	if len([]rune(in.Note)) > 500 {
		return quantity.Refuse("note", nil, "a note has at most 500 letters")
	}
	known := false
	for _, k := range stock.Kinds {
		known = known || k == in.Kind
	}
	if !known {
		return quantity.Refuse("kind", string(in.Kind), "is not a kind of event")
	}
	row.Kind, row.Head, row.Note = string(in.Kind), int(in.Head), strings.TrimSpace(in.Note)
	row.WeightKg, row.Becomes, row.IntakeShare, row.GainKg = in.Weight, in.Becomes, in.IntakeShare, in.Gain
	if err := fillDays(p, row, in); err != nil {
		return err
	}
	day := row.HappenedOn
	if day == nil {
		day = row.PlannedOn
	}
	from, into, of := in.Kind.Roles()
	for _, need := range []struct {
		field, id string
		wanted    bool
		say       string
		to        **string
	}{{"from_id", in.FromID, from, "say which class they leave", &row.FromID}, {"into_id", in.IntoID, into && in.IntoNew == nil, "say which class they come to", &row.IntoID},
		{"of_id", in.OfID, of, "say which class it is about", &row.OfID}} {
		if need.id == "" {
			if need.wanted {
				return quantity.Refuse(need.field, nil, "%s", need.say)
			}
			continue
		}
		if p.GroupRow(need.id) == nil {
			return quantity.Refuse(need.field, need.id, "is not a class of this farm's stock")
		}
		id := need.id
		*need.to = &id
	}
	if from && into && in.FromID != "" && in.FromID == in.IntoID {
		return quantity.Refuse("into_id", nil, "they are in that class already")
	}
	if in.Kind.Counted() && in.Kind != stock.Muster && in.Head < 1 {
		return quantity.Refuse("head", in.Head, "say how many head")
	}
	if in.Kind == stock.Weigh && in.Weight == nil {
		return quantity.Refuse("weight_kg", nil, "say what they weigh")
	}
	if in.IntoNew != nil {
		if err := newGroup(p, tx, a, row, *in.IntoNew, *day); err != nil {
			return err
		}
	}
	return stageOf(p, row, in)
}

func fillDays(p *facts.Picture, row *store.StockEvent, in EventInput) error {
	today := p.Number(p.Now)
	for _, d := range []struct {
		field, day string
		to         **store.Day
	}{{"planned_on", in.PlannedOn, &row.PlannedOn}, {"happened_on", in.HappenedOn, &row.HappenedOn}} {
		if d.day == "" {
			continue
		}
		if _, err := store.Day(d.day).Time(time.UTC); err != nil {
			return quantity.Refuse(d.field, d.day, "must be a day, such as 2026-06-10")
		}
		n := facts.DayNumber(store.Day(d.day))
		if d.field == "happened_on" && n > today {
			return quantity.Refuse(d.field, d.day, "what happened does not lie in the future: plan it instead")
		}
		if n < today-5*366 || n > today+3*366 {
			return quantity.Refuse(d.field, d.day, "lies more than five years back or three ahead")
		}
		day := store.Day(d.day)
		*d.to = &day
	}
	if row.PlannedOn == nil && row.HappenedOn == nil {
		return quantity.Refuse("planned_on", nil, "say for which day it is planned, or on which it happened")
	}
	if in.PlannedOn != "" && in.HappenedOn == "" {
		head := int(in.Head)
		row.PlannedHead = &head
	}
	return nil
}

// newGroup makes the class that animals come to. It is on the books with no head well before, so that the event can
// still be put on another day.
func newGroup(p *facts.Picture, tx *gorm.DB, a farm.Actor, row *store.StockEvent, in NewGroup, day store.Day) error {
	if err := farm.CheckID("into_new.id", in.ID); err != nil {
		return err
	}
	ref, err := p.Class("into_new.reference_id", in.ReferenceID)
	if err != nil {
		return err
	}
	c := ClassInput{ReferenceID: in.ReferenceID, Name: strings.TrimSpace(in.Name), LiveWeight: in.LiveWeight, IntakeShare: ref.IntakeShare.Typical, DailyGain: ref.DailyGain}
	if c.Name == "" {
		c.Name = ref.Name
	}
	if c.LiveWeight <= 0 {
		c.LiveWeight = ref.LiveWeight.Typical
	}
	var mobID *string
	if in.MobID != "" {
		if _, err := farm.Find[store.Mob](tx, a.FarmID, "into_new.mob_id", in.MobID); err != nil {
			return err
		}
		mobID = &in.MobID
	}
	group := c.group(a.FarmID, in.ID, mobID, len(p.Groups), facts.DayAt(min(facts.DayNumber(day), p.Number(p.Now))-366))
	if err := tx.Create(&group).Error; err != nil {
		return err
	}
	p.Groups = append(p.Groups, group)
	row.IntoID = &group.ID
	return nil
}

// stageOf finds what the animals an event is about become, where nobody said: mothers come into milk when they give
// birth (with twins, when there are many young to a mother), and go dry when the young are weaned.
func stageOf(p *facts.Picture, row *store.StockEvent, in EventInput) error {
	if row.OfID == nil {
		return nil
	}
	of := p.GroupRow(*row.OfID)
	ref, err := p.Class("of_id", of.ReferenceID)
	if err != nil {
		return err
	}
	if row.Becomes != "" {
		if _, err := p.Class("becomes", row.Becomes); err != nil {
			return err
		}
		return nil
	}
	lib := reference.Load()
	switch in.Kind {
	case stock.Birth:
		stage := "lactating_single"
		if c, ok := p.Herd.ClassOn(of.ID, p.Number(p.Now)); ok && c.Count > 0 {
			if rate := in.Head / c.Count; rate > 2.3 {
				stage = "lactating_multiple"
			} else if rate > 1.4 {
				stage = "lactating_twin"
			}
		}
		row.Becomes = lib.AtStage(ref, stage).ID
	case stock.Weaning:
		row.Becomes = lib.AtStage(ref, "dry").ID
	case stock.Stage:
		return quantity.Refuse("becomes", nil, "say which class they become")
	}
	return nil
}

// birthWords names a birth by species.
var birthWords = map[string]string{"cattle": "Calving", "sheep": "Lambing", "goats": "Kidding", "horses": "Foaling"}

// EventOf tells of an event, with how many it touched, where it was counted.
func EventOf(p *facts.Picture, e store.StockEvent, counted map[string]stock.Event) EventView {
	v := EventView{ID: e.ID, EventInput: EventInput{Kind: stock.Kind(e.Kind), Head: float64(e.Head), Weight: e.WeightKg, Becomes: e.Becomes, IntakeShare: e.IntakeShare,
		Gain: e.GainKg, Note: e.Note}, MobIDs: []string{}, PlannedHead: e.PlannedHead, Planned: e.HappenedOn == nil}
	if e.PlannedOn != nil {
		v.PlannedOn = string(*e.PlannedOn)
	}
	if e.HappenedOn != nil {
		v.HappenedOn = string(*e.HappenedOn)
	}
	if c, ok := counted[e.ID]; ok {
		v.Day, v.Head = string(facts.DayAt(c.Day)), c.Head
		v.Overdue = c.Planned && e.PlannedOn != nil && facts.DayNumber(*e.PlannedOn) < c.Day
	}
	for _, m := range p.Misfits {
		if m.ID == e.ID {
			v.Misfit = m.Why
		}
	}
	if v.Day == "" { // left out: it stands at the day it names
		v.Day = v.HappenedOn
		if v.Day == "" {
			v.Day = v.PlannedOn
		}
	}
	mobs := map[string]bool{}
	species := ""
	for _, side := range []struct {
		id   *string
		to   *string
		name *string
	}{{e.FromID, &v.FromID, &v.FromName}, {e.IntoID, &v.IntoID, &v.IntoName}, {e.OfID, &v.OfID, &v.OfName}} {
		if side.id == nil {
			continue
		}
		*side.to = *side.id
		if g := p.GroupRow(*side.id); g != nil {
			*side.name = g.Name
			if g.MobID != nil {
				mobs[*g.MobID] = true
			}
			if ref, err := p.Class("", g.ReferenceID); err == nil {
				species = ref.Species
			}
		}
	}
	v.MobIDs = sortedKeys(mobs)
	v.Says = says(p, v, species)
	return v
}

// says puts an event in a few words.
func says(p *facts.Picture, v EventView, species string) string {
	n := fmt.Sprintf("%.0f", v.Head)
	become := ""
	if ref, err := p.Class("", v.Becomes); err == nil {
		become = strings.ToLower(ref.Name)
	}
	switch v.Kind {
	case stock.Birth:
		return birthWords[species] + ": " + n + " " + v.IntoName
	case stock.Weaning:
		return "Weaning: " + n + " " + v.FromName
	case stock.Purchase:
		return "Bought: " + n + " " + v.IntoName
	case stock.Sale:
		return "Sold: " + n + " " + v.FromName
	case stock.Death:
		return "Died: " + n + " " + v.FromName
	case stock.Transfer:
		return "Moved: " + n + " " + v.FromName + " to " + v.IntoName
	case stock.Mating:
		return "Mating of " + v.OfName
	case stock.Stage:
		return v.OfName + ": " + become
	case stock.Weigh:
		return "Weighed: " + v.OfName
	}
	return "Counted: " + n + " " + v.OfName
}

// EventViews tells of every event that stands.
func EventViews(p *facts.Picture) []EventView {
	counted := map[string]stock.Event{}
	for _, e := range p.Herd.Events {
		counted[e.ID] = e
	}
	out := []EventView{}
	for _, e := range p.Events {
		out = append(out, EventOf(p, e, counted))
	}
	sort.SliceStable(out, func(a, b int) bool { return out[a].Day < out[b].Day })
	return out
}

// NewOwnClass is a class of animals of the farm's own.
type NewOwnClass struct {
	ID            string  `json:"id"`
	Name          string  `json:"name"`
	LikeID        string  `json:"like_id"`
	LiveWeight    float64 `json:"live_weight_kg"`
	IntakeShare   float64 `json:"intake_share"`
	DailyGain     float64 `json:"daily_gain_kg"`
	LivestockUnit float64 `json:"livestock_unit_eu"`
	Confirmed     bool    `json:"confirmed,omitempty"`
}

// KeepOwnClass makes a class of the farm's own.
func (s *Service) KeepOwnClass(ctx context.Context, a farm.Actor, in NewOwnClass) ([]reference.StockClass, error) {
	if err := farm.CheckID("id", in.ID); err != nil {
		return nil, err
	}
	var err error
	if in.Name, err = farm.CheckName("name", in.Name); err != nil {
		return nil, err
	}
	like, err := reference.Load().Class(in.LikeID)
	if err != nil {
		return nil, quantity.Refuse("like_id", in.LikeID, "is not a class of the reference list")
	}
	if err := farm.Judge(in, in.Confirmed); err != nil {
		return nil, err
	}
	if strange := unlike("", like, in.LiveWeight, in.IntakeShare); len(strange) > 0 && !in.Confirmed {
		return nil, &farm.Unusual{Problems: strange}
	}
	if in.LivestockUnit <= 0 {
		in.LivestockUnit = like.LivestockUnit
	}
	err = s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "own class", Body: in}, func(tx *facts.Writing) error {
		return tx.Create(&store.OwnClass{FarmID: a.FarmID, ID: in.ID, Name: in.Name, LikeID: in.LikeID, LiveWeightKg: in.LiveWeight, IntakeShare: in.IntakeShare,
			DailyGainKg: in.DailyGain, LivestockUnit: in.LivestockUnit}).Error
	})
	return farm.After(err, func() ([]reference.StockClass, error) { return s.Classes(ctx, a) })
}

// Classes are the classes a farm's stock can be of: its own first, then those of the reference.
func (s *Service) Classes(ctx context.Context, a farm.Actor) ([]reference.StockClass, error) {
	p := &facts.Picture{}
	if err := s.DB.WithContext(ctx).Order("name, id").Find(&p.OwnClasses, "farm_id = ?", a.FarmID).Error; err != nil {
		return nil, err
	}
	out := []reference.StockClass{}
	for _, own := range p.OwnClasses {
		c, err := p.Class("id", own.ID)
		if err != nil {
			return nil, err
		}
		out = append(out, c)
	}
	return append(out, reference.Load().Classes...), nil
}
