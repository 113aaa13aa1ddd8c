package ground

import (
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// Within writes facts of the ground as a part of a larger write, with the same checks as by hand.
type Within struct{ e *edit }

// In is the ground within a write.
func In(tx *facts.Writing) (*Within, error) {
	p, err := tx.Picture()
	if err != nil {
		return nil, err
	}
	return &Within{editOf(tx, p, tx.Actor)}, nil
}

// Changes are the rows that were written, as they were and as they are.
func (w *Within) Changes() []store.RowChange { return w.e.Changes }

// Close takes a paddock out of the round.
func (w *Within) Close(paddockID string, in ClosureInput) error {
	_, err := w.e.close(paddockID, in)
	return err
}

// Reopen takes a paddock back into the round.
func (w *Within) Reopen(paddockID string) error {
	_, err := w.e.reopen(paddockID)
	return err
}

// Cut writes a cut down.
func (w *Within) Cut(paddockID string, in CutInput) error {
	_, err := w.e.cut(paddockID, in)
	return err
}

// Dress writes nitrogen down.
func (w *Within) Dress(paddockID string, in DressingInput) error {
	_, err := w.e.dress(paddockID, in)
	return err
}

// OpenReserve makes grazing ground of what is kept in reserve.
func (w *Within) OpenReserve() error {
	for _, pad := range w.e.Paddocks {
		if pad.Purpose != "reserve" {
			continue
		}
		row, err := farm.Find[store.Paddock](w.e.tx, w.e.actor.FarmID, "", pad.ID)
		if err != nil {
			return err
		}
		row.Purpose = "grazing"
		if err := w.e.Save(&row); err != nil {
			return err
		}
	}
	return nil
}
