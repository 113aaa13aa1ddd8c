package moves

import (
	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// Within changes the present plan as a part of a larger write, with the same checks as by hand, and keeps the rows as they were.
type Within struct {
	tx *facts.Writing
	*farm.Rows
}

// In is the plan within a write.
func In(tx *facts.Writing) *Within { return &Within{tx, farm.NewRows(tx.DB)} }

// School gives a mob of the present plan another copy of a school.
func (w *Within) School(mobID string, change func(grazing.School) (grazing.School, error)) error {
	p, err := w.tx.Anew()
	if err != nil {
		return err
	}
	meta := planMeta(p)
	if meta == nil {
		return quantity.Refuse("mob_id", nil, "there is no plan whose rules could be changed: plan first, in Moves")
	}
	in := PlanInput{StartsOn: meta.StartsOn, Days: float64(meta.Days), Mobs: meta.Mobs, Careful: meta.Careful, Confirmed: true}
	found := false
	for i := range in.Mobs {
		if in.Mobs[i].MobID != mobID {
			continue
		}
		found = true
		if in.Mobs[i].School, err = change(in.Mobs[i].School); err != nil {
			return err
		}
	}
	if !found {
		return quantity.Refuse("mob_id", p.MobName(mobID), "is not in the plan: put it there first, in Moves")
	}
	if err := in.check(p); err != nil {
		return err
	}
	row, err := farm.Find[store.Plan](w.tx.DB, w.tx.Actor.FarmID, "", meta.ID)
	if err != nil {
		return err
	}
	if err := w.Save(&row); err != nil { // one version on: whoever had it open is told
		return err
	}
	for _, m := range in.Mobs {
		if m.MobID == mobID {
			of := store.PlanMob{FarmID: row.FarmID, PlanID: row.ID, MobID: mobID, School: store.JSON[grazing.School]{V: m.School}}
			if m.Follows != "" {
				of.Follows = &m.Follows
			}
			return w.Save(&of)
		}
	}
	return nil
}
