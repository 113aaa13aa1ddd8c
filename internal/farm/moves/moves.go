package moves

import (
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"gorm.io/gorm"

	"fjell/core/forage"
	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// NewMove says that a mob was moved: where to, when, and what they left behind.
type NewMove struct {
	ID         string    `json:"id"`
	MobID      string    `json:"mob_id"`
	ToID       *string   `json:"to_paddock_id,omitempty"` // nothing: off the pasture
	MovedAt    time.Time `json:"moved_at"`
	LeftHeight *float64  `json:"height_left_cm,omitempty"`
	LeftMass   *float64  `json:"mass_left_kg_dm_ha,omitempty"`
	Counted    *int      `json:"counted,omitempty"`   // head through the gate
	SourceKV   *float64  `json:"source_kv,omitempty"` // of the next fence
	EndKV      *float64  `json:"end_kv,omitempty"`
	DrinkSeen  *bool     `json:"drink_seen,omitempty" doc:"whether one of them was seen to drink; left out: nobody looked"`
	Note       string    `json:"note,omitempty"`
	ReplacesID *string   `json:"replaces_id,omitempty"` // the move that this one corrects; both are kept
	Confirmed  bool      `json:"confirmed,omitempty"`
}

// MoveView is a move on record.
type MoveView struct {
	ID          string    `json:"id"`
	MobID       string    `json:"mob_id"`
	FromID      *string   `json:"from_paddock_id" nullable:"true"`
	FromName    string    `json:"from_name"`
	ToID        *string   `json:"to_paddock_id" nullable:"true"`
	ToName      string    `json:"to_name"`
	MovedAt     time.Time `json:"moved_at"`
	LeftHeight  *float64  `json:"height_left_cm" nullable:"true"`
	LeftMass    *float64  `json:"mass_left_kg_dm_ha" nullable:"true"`
	Counted     *int      `json:"counted" nullable:"true"`
	SourceKV    *float64  `json:"source_kv" nullable:"true"`
	EndKV       *float64  `json:"end_kv" nullable:"true"`
	DrinkSeen   *bool     `json:"drink_seen" nullable:"true"`
	Note        string    `json:"note"`
	SharedWith  string    `json:"shared_with"`
	Withdrawing bool      `json:"can_withdraw"`
}

// lookShare is the error of one height or one look back as mobs leave, one standard deviation.
const lookShare = 0.15

// RecordMove keeps what really happened. Two mobs in one paddock are kept, and flagged.
func (s *Service) RecordMove(ctx context.Context, a farm.Actor, in NewMove) ([]MoveView, error) {
	if err := farm.CheckID("id", in.ID); err != nil {
		return nil, err
	}
	if err := farm.Judge(in, in.Confirmed); err != nil {
		return nil, err
	}
	if len([]rune(in.Note)) > 500 {
		return nil, quantity.Refuse("note", nil, "a note has at most 500 letters")
	}
	if in.LeftHeight != nil && in.LeftMass != nil {
		return nil, quantity.Refuse("mass_left_kg_dm_ha", *in.LeftMass, "give the height left or the mass left, not both")
	}
	err := s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "move", Body: in}, func(tx *facts.Writing) error {
		p, err := tx.Picture()
		if err != nil {
			return err
		}
		row, err := moveRow(p, a, in)
		if err != nil {
			return err
		}
		return tx.Create(&row).Error
	})
	return farm.After(err, func() ([]MoveView, error) { return s.Moves(ctx, a) })
}

func moveRow(p *facts.Picture, a farm.Actor, in NewMove) (store.Move, error) {
	row := store.Move{FarmID: a.FarmID, ID: in.ID, MobID: in.MobID, ToPaddockID: in.ToID, MovedAt: in.MovedAt.UTC(), LeftHeightCm: in.LeftHeight,
		LeftMass: in.LeftMass, Counted: in.Counted, SourceKV: in.SourceKV, EndKV: in.EndKV, DrinkSeen: in.DrinkSeen, Note: in.Note, ReplacesID: in.ReplacesID, RecordedAt: time.Now().UTC(), RecordedBy: a.UserID}
	known := false
	for _, m := range p.Mobs {
		known = known || m.ID == in.MobID
	}
	if !known {
		return row, quantity.Refuse("mob_id", in.MobID, "is not a mob of this farm")
	}
	if in.MovedAt.After(p.Now.Add(time.Minute)) {
		return row, quantity.Refuse("moved_at", in.MovedAt.Format(time.RFC3339), "a move on record cannot lie in the future: plan it instead")
	}
	if in.MovedAt.Before(p.Now.AddDate(-1, 0, 0)) {
		return row, quantity.Refuse("moved_at", in.MovedAt.Format(time.RFC3339), "a move can be written down up to a year later")
	}
	if err := corrects(p, in); err != nil {
		return row, err
	}
	before, after := around(p, in.MobID, in.MovedAt, in.ReplacesID)
	if before != nil {
		if before.MovedAt.Equal(in.MovedAt.UTC()) {
			return row, quantity.Refuse("moved_at", in.MovedAt.Format(time.RFC3339), "they were moved at that very minute already: correct that move instead")
		}
		row.FromPaddockID = before.ToPaddockID
	}
	if in.ToID != nil {
		to, ok := p.ByID[*in.ToID]
		if !ok {
			return row, quantity.Refuse("to_paddock_id", *in.ToID, "is not a paddock of this farm")
		}
		if why := season.Against(p, in.MobID, to, in.MovedAt); why != "" {
			if !in.Confirmed {
				return row, &farm.Unusual{Problems: []quantity.Problem{{Field: "to_paddock_id", Message: why + ": did they go there all the same? Say why in the note"}}}
			}
			if strings.TrimSpace(in.Note) == "" {
				return row, quantity.Refuse("note", nil, "%s: say why they went there all the same", why)
			}
		}
		if row.FromPaddockID != nil && *row.FromPaddockID == *in.ToID {
			return row, quantity.Refuse("to_paddock_id", nil, "they are in %s already", p.Names[*in.ToID])
		}
	} else if row.FromPaddockID == nil {
		return row, quantity.Refuse("to_paddock_id", nil, "they are off the pasture already: say where they go")
	}
	if after != nil && same(after.ToPaddockID, row.ToPaddockID) {
		return row, quantity.Refuse("to_paddock_id", nil, "they went there at %s, by what is on record: take that move back first, or correct its hour",
			after.MovedAt.In(p.Location).Format("15:04 on 2 January"))
	}
	return row, lookBack(p, &row)
}

// around are a mob's moves before and after a moment, but for one that is corrected; nil: none.
func around(p *facts.Picture, mobID string, at time.Time, but *string) (before, after *store.Move) {
	for i, mv := range p.Moves {
		switch {
		case mv.MobID != mobID || but != nil && mv.ID == *but:
		case !mv.MovedAt.After(at):
			before = &p.Moves[i]
		case after == nil:
			after = &p.Moves[i]
		}
	}
	return before, after
}

// corrects refuses the correction of a move that does not stand, or of another mob, or that leaves the moves about it leading nowhere.
func corrects(p *facts.Picture, in NewMove) error {
	if in.ReplacesID == nil {
		return nil
	}
	i := slices.IndexFunc(p.Moves, func(mv store.Move) bool { return mv.ID == *in.ReplacesID && mv.MobID == in.MobID })
	if i < 0 {
		return quantity.Refuse("replaces_id", nil, "that move was corrected or taken back already: correct the one that stands now")
	}
	old := p.Moves[i].MovedAt
	before, after := around(p, in.MobID, old, in.ReplacesID)
	within := (before == nil || before.MovedAt.Before(in.MovedAt)) && (after == nil || in.MovedAt.Before(after.MovedAt))
	if !within {
		return quantity.Refuse("moved_at", in.MovedAt.Format(time.RFC3339), "corrected, a move stays between the one before it and the one after: take it back and write it down anew")
	}
	return nil
}

// lookBack turns the height they left into a mass, with its error.
func lookBack(p *facts.Picture, row *store.Move) error {
	if row.LeftHeightCm == nil && row.LeftMass == nil {
		return nil
	}
	if row.FromPaddockID == nil {
		return quantity.Refuse("height_left_cm", nil, "they come from no paddock, so nothing was left there")
	}
	if row.LeftHeightCm != nil {
		i, ok := p.ByID[*row.FromPaddockID]
		if !ok {
			return nil
		}
		sward := p.Paddocks[i].Sward
		mass := forage.HeightMass(*row.LeftHeightCm, sward.StopHeight, sward.Residual, sward.MassPerCm.Medium)
		row.LeftMass = &mass
	}
	half := 1.96 * lookShare * *row.LeftMass
	row.LeftHalfWidth = &half
	return nil
}

// WithdrawMove takes a mob's latest move back; both rows are kept.
func (s *Service) WithdrawMove(ctx context.Context, a farm.Actor, id string) ([]MoveView, error) {
	err := s.Write(ctx, a, farm.Request{Kind: "withdraw move", Body: id}, func(tx *facts.Writing) error {
		row, err := farm.Find[store.Move](tx.DB, a.FarmID, "", id)
		if err != nil {
			return err
		}
		p, err := tx.Picture()
		if err != nil {
			return err
		}
		if !slices.ContainsFunc(p.Moves, func(mv store.Move) bool { return mv.ID == id }) {
			return quantity.Refuse("move", nil, "this move was taken back already")
		}
		before, after := around(p, row.MobID, row.MovedAt, &id)
		if before != nil && after != nil && same(before.ToPaddockID, after.ToPaddockID) {
			return quantity.Refuse("move", nil, "without it they would have gone from %s into %s: take the move after it back first", placeName(p, before.ToPaddockID), placeName(p, after.ToPaddockID))
		}
		back := row
		back.ID, back.ReplacesID, back.Withdrawn = farm.NewID(), &id, true
		back.RecordedAt, back.RecordedBy = time.Now().UTC(), a.UserID
		err = tx.Create(&back).Error
		if errors.Is(err, gorm.ErrDuplicatedKey) {
			return quantity.Refuse("move", nil, "this move was taken back already")
		}
		return err
	})
	return farm.After(err, func() ([]MoveView, error) { return s.Moves(ctx, a) })
}

func placeName(p *facts.Picture, id *string) string {
	if id == nil {
		return "the yard"
	}
	return p.Names[*id]
}

// movesPage is how many moves are told at a time.
const movesPage = 200

// Moves lists what happened, newest first, a page at a time.
func (s *Service) Moves(ctx context.Context, a farm.Actor) ([]MoveView, error) {
	return s.MovesBefore(ctx, a, nil)
}

// MovesBefore is the page of moves before a moment.
func (s *Service) MovesBefore(ctx context.Context, a farm.Actor, before *time.Time) ([]MoveView, error) {
	p, err := s.Picture(ctx, a)
	if err != nil {
		return nil, err
	}
	all := moveViews(p)
	if before != nil {
		for len(all) > 0 && !all[0].MovedAt.Before(*before) {
			all = all[1:]
		}
	}
	return all[:min(movesPage, len(all))], nil
}

func moveViews(p *facts.Picture) []MoveView {
	out := []MoveView{}
	at := map[string]string{} // mob → paddock
	latest := map[string]int{}
	for _, mv := range p.Moves {
		v := MoveView{ID: mv.ID, MobID: mv.MobID, FromID: mv.FromPaddockID, ToID: mv.ToPaddockID, MovedAt: mv.MovedAt, LeftHeight: mv.LeftHeightCm,
			LeftMass: mv.LeftMass, Counted: mv.Counted, SourceKV: mv.SourceKV, EndKV: mv.EndKV, DrinkSeen: mv.DrinkSeen, Note: mv.Note}
		if mv.FromPaddockID != nil {
			v.FromName = p.Names[*mv.FromPaddockID]
		}
		delete(at, mv.MobID)
		if mv.ToPaddockID != nil {
			v.ToName = p.Names[*mv.ToPaddockID]
			for other, pad := range at {
				if pad == *mv.ToPaddockID {
					v.SharedWith = p.MobName(other)
				}
			}
			at[mv.MobID] = *mv.ToPaddockID
		}
		latest[mv.MobID] = len(out)
		out = append(out, v)
	}
	for _, i := range latest {
		out[i].Withdrawing = true
	}
	for i, j := 0, len(out)-1; i < j; i, j = i+1, j-1 {
		out[i], out[j] = out[j], out[i]
	}
	return out
}
