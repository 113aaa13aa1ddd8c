// Package decisions keeps what was decided of a farm's week. A decision writes the facts it stands for by the ways of the places they belong to, all
// in one step, and is taken back in one.
package decisions

import (
	"errors"
	"fmt"
	"maps"
	"math"
	"reflect"
	"strings"
	"time"

	"context"

	"fjell/core/grazing"
	"fjell/core/quantity"
	core "fjell/core/queue"
	"fjell/core/stock"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/ground"
	"fjell/internal/farm/herd"
	"fjell/internal/farm/moves"
	"fjell/internal/farm/queue"
	"fjell/internal/farm/season"
	"fjell/internal/farm/yard"
	"fjell/internal/store"
)

// Service is what was decided.
type Service struct{ *season.Service }

// NewDecision is what is to be done, and why.
type NewDecision struct {
	ID     string       `json:"id"`
	MobID  string       `json:"mob_id,omitempty" doc:"whose queue; left out: the first"`
	Levers []core.Lever `json:"levers" nullable:"false" minItems:"1" maxItems:"12"`
	Reason string       `json:"reason,omitempty"`
}

// Tables are the records a decision may write.
var Tables = func() map[string]reflect.Type {
	out := maps.Clone(ground.LandTables)
	for _, row := range []any{store.StockEvent{}, store.StockGroup{}, store.Mob{}, store.Plan{}, store.PlanMob{}, store.Job{}} {
		out[reflect.TypeOf(row).Name()] = reflect.TypeOf(row)
	}
	return out
}()

// Decide does what was tried: it writes the facts that each lever stands for, and what is expected of them.
func (s *Service) Decide(ctx context.Context, a farm.Actor, in NewDecision) (DecisionsView, error) {
	err := s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "decide", Body: in}, func(tx *facts.Writing) error {
		if in.Reason = strings.TrimSpace(in.Reason); len([]rune(in.Reason)) > 500 {
			return quantity.Refuse("reason", len([]rune(in.Reason)), "at most 500 letters")
		}
		if len(in.Levers) == 0 {
			return quantity.Refuse("levers", 0, "nothing is decided: try something first")
		}
		p, err := tx.Picture()
		if err != nil {
			return err
		}
		se, err := season.Of(p)
		if err != nil {
			return err
		}
		_, chosen, err := queue.Choose(se, in.MobID)
		if err != nil {
			return err
		}
		if chosen == nil {
			return quantity.Refuse("mob_id", nil, "nothing grazes here yet")
		}
		d := &deciding{tx: tx, se: se, c: se.Week(chosen)}
		tried, err := queue.Pulled(core.Try(d.c, in.Levers))
		if err != nil {
			return err
		}
		for i, l := range in.Levers {
			if err := d.write(l, tried.Effects[i]); err != nil {
				return quantity.Within(fmt.Sprintf("levers[%d]", i), err)
			}
		}
		if err := fits(tx); err != nil {
			return err
		}
		mobs := []string{}
		for _, m := range chosen {
			mobs = append(mobs, se.Mobs[m].ID)
		}
		return tx.Create(&store.Decision{FarmID: a.FarmID, ID: in.ID, MadeAt: tx.Now.UTC().Truncate(time.Microsecond), MadeBy: a.UserID, Mobs: store.JSON[[]string]{V: mobs}, Reason: in.Reason,
			Levers: store.JSON[[]core.Lever]{V: in.Levers}, Expected: store.JSON[core.Expected]{V: core.Expect(d.c, tried, in.Levers)}, Changes: store.JSON[[]store.RowChange]{V: d.changes}}).Error
	})
	return farm.After(err, func() (DecisionsView, error) { return s.Decisions(ctx, a, in.MobID) })
}

// fits refuses a write that left the books of stock with what cannot be.
func fits(tx *facts.Writing) error {
	before, err := tx.Picture()
	if err != nil {
		return err
	}
	after, err := tx.Anew()
	if err != nil {
		return err
	}
	known := map[string]bool{}
	for _, m := range before.Misfits {
		known[m.ID] = true
	}
	for _, m := range after.Misfits {
		if !known[m.ID] {
			return quantity.Refuse("levers", nil, "together they do not fit the stock: %s", m.Why)
		}
	}
	return nil
}

// deciding is the write of a decision.
type deciding struct {
	tx      *facts.Writing
	se      *season.Season
	c       core.Case
	changes []store.RowChange
}

// day is a day of a lever, so many from today.
func (d *deciding) day(from float64) store.Day {
	return facts.DayAt(d.se.Number(d.se.Now) + int(math.Round(from)))
}

// write writes the facts of one lever. What somebody must see to at a gate becomes a job: it is on record when it has happened.
func (d *deciding) write(l core.Lever, effect core.Effect) error {
	begin, end := d.day(l.After), d.day(l.After+l.Days)
	switch l.Kind {
	case core.Pass, core.Close, core.Reopen, core.Cut, core.Top, core.Reserve:
		return d.onGround(l, effect, begin, end)
	case core.Nitrogen:
		if begin == d.day(0) {
			return d.onGround(l, effect, begin, end)
		}
		return d.job("other", fmt.Sprintf("Spread %.0f kg of nitrogen to the hectare on %s, where the law lets you", l.Kg, d.se.Names[l.Paddock]), &l.Paddock, begin)
	case core.Rent:
		return d.job("other", fmt.Sprintf("Rent %s of ground, and draw it on the land before stock go there", quantity.Said{Value: l.Area, Unit: quantity.Hectare}), nil, begin)
	case core.Split:
		return d.job("stock", fmt.Sprintf("Let %.0f of %s split off at the gate", l.Count, d.mob(l.Mob)), nil, begin)
	case core.Join:
		return d.job("stock", fmt.Sprintf("Let %s join %s at the gate, in daylight and on plenty of room", d.mob(l.Mob), d.mob(l.Into)), nil, begin)
	case core.Wean:
		where := "off the grass"
		if l.Into != "" {
			where = "to " + d.mob(l.Into)
		}
		return d.job("stock", fmt.Sprintf("Wean the %s of %s, %s", d.se.ClassName(l.Class), d.mob(l.Mob), where), nil, begin)
	case core.Pace, core.School:
		return d.onPlan(l)
	}
	return d.onStock(l, begin, end)
}

func (d *deciding) mob(id string) string { return d.se.MobName(id) }

func (d *deciding) job(kind, what string, paddock *string, due store.Day) error {
	id := farm.NewID()
	rows := farm.NewRows(d.tx.DB)
	err := rows.Around(&store.Job{FarmID: d.tx.Actor.FarmID, ID: id}, func() error {
		return yard.WriteJob(d.tx, yard.NewJob{ID: id, Kind: kind, What: what, PaddockID: paddock, Due: &due})
	})
	d.changes = append(d.changes, rows.Changes...)
	return err
}

func (d *deciding) onGround(l core.Lever, effect core.Effect, begin, end store.Day) error {
	w, err := ground.In(d.tx)
	if err != nil {
		return err
	}
	switch l.Kind {
	case core.Pass:
		err = w.Close(l.Paddock, ground.ClosureInput{ID: farm.NewID(), From: begin, Until: &end, Why: "passed over"})
	case core.Close:
		err = w.Close(l.Paddock, ground.ClosureInput{ID: farm.NewID(), From: begin, Until: &end, Why: "closed up"})
	case core.Reopen:
		err = w.Reopen(l.Paddock)
	case core.Reserve:
		err = w.OpenReserve()
	case core.Nitrogen:
		err = w.Dress(l.Paddock, ground.DressingInput{ID: farm.NewID(), On: begin, KgNHa: l.Kg, Confirmed: true})
	case core.Top:
		err = w.Cut(l.Paddock, ground.CutInput{ID: farm.NewID(), On: string(begin), Topped: true, Confirmed: true})
	case core.Cut:
		in := ground.CutInput{ID: farm.NewID(), On: string(begin), Note: "as reckoned when it was decided", Confirmed: true}
		if effect.Bales != nil { // without a bale's weight nobody has weighed anything
			kg := *effect.Bales * l.Bale
			in.Count, in.KgDM = effect.Bales, &kg
		}
		err = w.Cut(l.Paddock, in)
	}
	d.changes = append(d.changes, w.Changes()...)
	return err
}

func (d *deciding) onStock(l core.Lever, begin, end store.Day) error {
	w := herd.In(d.tx)
	var err error
	switch l.Kind {
	case core.Supplement:
		err = w.Feed(l.Mob, store.Supplement{Name: "as decided", From: string(begin), Until: string(end), KgDM: l.Kg, Substitution: 1 - l.Waste})
	case core.House, core.Loafing:
		err = w.House(l.Mob, store.Housed{From: string(begin), Until: string(end)})
	case core.Head:
		err = d.head(w, l, begin)
	default:
		err = quantity.Refuse("kind", l.Kind, "cannot be decided here")
	}
	d.changes = append(d.changes, w.Changes...)
	return err
}

// head plans sales or purchases, class by class.
func (d *deciding) head(w *herd.Within, l core.Lever, begin store.Day) error {
	m := d.se.MobIndex[l.Mob]
	var of []core.Class
	for _, class := range d.c.Classes[m] {
		if l.Class == "" || class.ID == l.Class {
			of = append(of, class)
		}
	}
	for i, n := range core.Heads(l.Count, of) {
		in := herd.EventInput{Kind: stock.Purchase, PlannedOn: string(begin), Head: math.Abs(n), IntoID: of[i].ID, Note: "as decided", Confirmed: true}
		if n < 0 {
			in.Kind, in.IntoID, in.FromID, in.Confirmed = stock.Sale, "", of[i].ID, l.Anyway
		}
		if n == 0 {
			continue
		}
		if err := w.Event(farm.NewID(), in); err != nil {
			return err
		}
	}
	return nil
}

func (d *deciding) onPlan(l core.Lever) error {
	w := moves.In(d.tx)
	err := w.School(l.Mob, func(was grazing.School) (grazing.School, error) {
		if l.Kind == core.Pace {
			return d.c.Paced(l, d.se.MobIndex[l.Mob], was)
		}
		return grazing.FindSchool(l.School)
	})
	d.changes = append(d.changes, w.Changes...)
	return err
}

// TakeBack takes a decision back with all that it wrote, as long as nothing of it was changed since.
func (s *Service) TakeBack(ctx context.Context, a farm.Actor, id string) (DecisionsView, error) {
	err := s.Write(ctx, a, farm.Request{Kind: "take decision back", Body: id}, func(tx *facts.Writing) error {
		row, err := farm.Find[store.Decision](tx.DB, a.FarmID, "", id)
		if err != nil {
			return err
		}
		if row.TakenBackAt != nil {
			return quantity.Refuse("decision", nil, "it is taken back already")
		}
		err = farm.Replay(tx.DB, Tables, row.Changes.V, true)
		if errors.Is(err, farm.ErrChangedSince) || errors.Is(err, farm.ErrNeeded) {
			return quantity.Refuse("decision", nil, "it cannot be taken back as a whole: some of what it did has been done or changed since. Put that right where it stands")
		}
		if err != nil {
			return err
		}
		if err := fits(tx); err != nil {
			return err
		}
		return tx.Model(&store.Decision{}).Where("farm_id = ? AND id = ?", a.FarmID, id).Updates(map[string]any{"taken_back_at": tx.Now.UTC(), "taken_back_by": a.UserID}).Error
	})
	return farm.After(err, func() (DecisionsView, error) { return s.Decisions(ctx, a, "") })
}
