package yard

import (
	"context"
	"slices"
	"strings"
	"time"

	"fjell/core/forage"
	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// NewFodder is what came into the fodder store beside cuts, what went out of it, or what somebody counted in it.
type NewFodder struct {
	ID   string    `json:"id"`
	Kind string    `json:"kind" enum:"bought,sold,fed,lost,counted"`
	On   store.Day `json:"on_day"`
	What string    `json:"what,omitempty"`
	forage.Bales
	KgDM      *float64 `json:"harvest_kg_dm,omitempty" doc:"dry matter, where it is known otherwise than by bales"`
	Note      string   `json:"note,omitempty"`
	Confirmed bool     `json:"confirmed,omitempty"`
}

// FodderRow is one line of the store's book.
type FodderRow struct {
	ID          string    `json:"id"`
	Kind        string    `json:"kind" enum:"cut,bought,sold,fed,lost,counted"`
	On          store.Day `json:"on_day"`
	What        string    `json:"what"`
	PaddockName string    `json:"paddock_name"`
	Bales       *float64  `json:"bales" nullable:"true"`
	Kg          *float64  `json:"kg_dm" nullable:"true"` // nil: a cut that nobody weighed
	Holds       float64   `json:"holds_kg_dm"`           // the store, after it
	Note        string    `json:"note"`
}

// FodderView is the fodder store: what it holds by what was written down, and the lines of its book, the latest first.
type FodderView struct {
	Holds     float64     `json:"holds_kg_dm"`
	Unweighed int         `json:"unweighed"` // cuts since the last count that nobody weighed, and that are not in it
	Rows      []FodderRow `json:"rows" nullable:"false"`
}

// KeepFodder writes a line into the store's book.
func (s *Service) KeepFodder(ctx context.Context, a farm.Actor, in NewFodder) (FodderView, error) {
	err := s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "fodder", Body: in}, func(tx *facts.Writing) error {
		kg, err := in.check(tx)
		if err != nil {
			return err
		}
		return tx.Create(&store.Fodder{FarmID: a.FarmID, ID: in.ID, Kind: in.Kind, OnDay: in.On, What: in.What, Bales: in.Count, BaleKg: in.Kg, DryShare: in.DryShare, KgDM: kg, Note: in.Note,
			RecordedAt: time.Now().UTC(), RecordedBy: a.UserID}).Error
	})
	return farm.After(err, func() (FodderView, error) { return s.Fodder(ctx, a) })
}

func (in *NewFodder) check(tx *facts.Writing) (kg float64, err error) {
	if err := farm.Judge(in, in.Confirmed); err != nil {
		return 0, err
	}
	if !slices.Contains([]string{forage.FodderBought, forage.FodderSold, forage.FodderFed, forage.FodderLost, forage.FodderCounted}, in.Kind) {
		return 0, quantity.Refuse("kind", in.Kind, "must be bought, sold, fed, lost or counted")
	}
	if on, err := in.On.Time(time.UTC); err != nil || in.On > tx.Today() || on.Before(tx.Now.AddDate(-2, 0, 0)) {
		return 0, quantity.Refuse("on_day", string(in.On), "must be a day of the last two years, up to today")
	}
	in.What = strings.TrimSpace(in.What)
	for field, of := range map[string]struct {
		text string
		most int
	}{"what": {in.What, 100}, "note": {in.Note, mostNote}} {
		if n := len([]rune(of.text)); n > of.most {
			return 0, quantity.Refuse(field, n, "at most %d letters", of.most)
		}
	}
	step, err := in.DryMatter()
	switch {
	case err != nil:
		return 0, err
	case step != nil && in.KgDM != nil:
		return 0, quantity.Refuse("harvest_kg_dm", *in.KgDM, "the bales say how much it is: leave one of the two out")
	case step != nil:
		return step.Value, nil
	case in.KgDM == nil:
		return 0, quantity.Refuse("harvest_kg_dm", nil, "say how much it is: bales with what one weighs and its dry matter, or kg of dry matter")
	}
	return *in.KgDM, nil
}

// TakeFodderBack takes a line back that was written down by mistake; it stays on record as taken back.
func (s *Service) TakeFodderBack(ctx context.Context, a farm.Actor, id string) (FodderView, error) {
	err := s.Write(ctx, a, farm.Request{Kind: "take fodder back", Body: id}, func(tx *facts.Writing) error {
		if _, err := farm.Find[store.Fodder](tx.DB, a.FarmID, "", id); err != nil {
			return err
		}
		return tx.Model(&store.Fodder{}).Where("farm_id = ? AND id = ?", a.FarmID, id).Update("withdrawn", true).Error
	})
	return farm.After(err, func() (FodderView, error) { return s.Fodder(ctx, a) })
}

// Fodder is the fodder store.
func (s *Service) Fodder(ctx context.Context, a farm.Actor) (FodderView, error) {
	out := FodderView{Rows: []FodderRow{}}
	se, err := s.Season(ctx, a)
	if err != nil {
		return out, err
	}
	for _, l := range se.FodderBook() {
		row := FodderRow{Kind: l.Kind, On: l.On, Kg: l.Kg, Holds: l.Holds}
		if l.Cut != nil {
			row.ID, row.PaddockName, row.Bales, row.Note = l.Cut.ID, se.Names[l.Cut.PaddockID], l.Cut.Bales, l.Cut.Note
		} else {
			row.ID, row.What, row.Bales, row.Note = l.Line.ID, l.Line.What, l.Line.Bales, l.Line.Note
		}
		switch {
		case l.Kind == forage.FodderCounted:
			out.Unweighed = 0
		case l.Kg == nil:
			out.Unweighed++
		}
		out.Rows, out.Holds = append(out.Rows, row), l.Holds
	}
	slices.Reverse(out.Rows)
	return out, nil
}
