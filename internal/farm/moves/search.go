package moves

import (
	"context"
	"log/slog"
	"math"
	"time"

	"fjell/core/quantity"
	"fjell/core/rotation"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// SearchRounds is how many rounds a search has. The first keeps the moves that people count on already.
const SearchRounds = 3

// SearchRound asks for one round of a search for better moves than the present plan's. Each round keeps what it found, so a search
// may stop after any of them.
type SearchRound struct {
	ID       string `json:"id"`
	SearchID string `json:"search_id"` // the same for all its rounds
	Round    int    `json:"round"`     // from 0
}

// SearchView is the search that the present plan follows.
type SearchView struct {
	ID     string    `json:"id"`
	At     time.Time `json:"found_at"`
	Rounds int       `json:"rounds"`
	Of     int       `json:"rounds_in_all"`
	Whole  bool      `json:"whole"` // every round ended by itself, none by its limit of time
	Took   float64   `json:"took_seconds"`
	Spared float64   `json:"spared_kg"`                     // over the plan that there was
	Most   *float64  `json:"most_spare_kg" nullable:"true"` // no plan spares more over what was found
	News   bool      `json:"news"`                          // what it was made from has changed since
}

func searchView(s *season.Season) *SearchView {
	if s.Plan == nil || s.Plan.Search == nil {
		return nil
	}
	r := s.Plan.Search
	return &SearchView{
		ID: r.ID, At: r.FoundAt, Rounds: r.Rounds, Of: SearchRounds, Whole: r.Whole, Took: float64(r.TookMs) / 1000,
		Spared: r.SparedKg, Most: r.MostKg, News: s.News(),
	}
}

// Search makes one round of a search, and has the plan follow what it found.
func (s *Service) Search(ctx context.Context, a farm.Actor, in SearchRound) (PlanView, error) {
	if in.Round < 0 || in.Round >= SearchRounds {
		return PlanView{}, quantity.Refuse("round", in.Round, "a search has rounds 0 to %d", SearchRounds-1)
	}
	if err := farm.CheckID("search_id", in.SearchID); err != nil {
		return PlanView{}, err
	}
	se, err := s.Season(ctx, a)
	if err != nil {
		return PlanView{}, err
	}
	if se.Plan == nil || len(se.Grazers) == 0 || len(se.Paddocks) == 0 {
		return PlanView{}, quantity.Refuse("plan", nil, "start a plan first: there is nothing to look for yet")
	}
	began := time.Now()
	found, err := se.Find(ctx, in.Round)
	if err != nil {
		return PlanView{}, err
	}
	took := time.Since(began)
	err = s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "search", Body: in}, func(tx *facts.Writing) error {
		p, err := tx.Picture()
		if err != nil {
			return err
		}
		if !stands(p, se) {
			return quantity.Refuse("search", nil, "something was written while a better plan was looked for: look again")
		}
		return tx.Save(searched(in, p, se, found, took, tx.Version)).Error
	})
	if err == nil {
		slog.InfoContext(ctx, "search", "farm", a.FarmID, "round", in.Round, "took", took.Round(time.Millisecond), "whole", found.Told.Finished, "changed", found.Changed,
			"cost", math.Round(found.Told.Cost.Total), "spared", math.Round(found.Spared), "bound", math.Round(found.Told.Bound))
	}
	return farm.After(err, func() (PlanView, error) { return s.Plan(ctx, a) })
}

// stands tells whether what a search was made from is still so, another search's finds among it.
func stands(p *facts.Picture, se *season.Season) bool {
	if p.Plan == nil || p.Plan.ID != se.Plan.ID || p.Plan.Version != se.Plan.Version || lastSearch(p) != lastSearch(se.Picture) {
		return false
	}
	for part, version := range se.MadeFrom() {
		if p.Row.Parts.V[part] != version {
			return false
		}
	}
	return true
}

func lastSearch(p *facts.Picture) int64 {
	if p.Plan.Search == nil {
		return 0
	}
	return p.Plan.Search.Seq
}

// searched is a search after a round. Rounds after the first add to the row of the ones before.
func searched(in SearchRound, p *facts.Picture, se *season.Season, found rotation.Found, took time.Duration, version int64) *store.Search {
	row := store.Search{FarmID: p.Row.ID, ID: in.SearchID, Whole: true}
	if before := p.Plan.Search; before != nil && before.ID == in.SearchID {
		row = *before
	}
	row.PlanID, row.PlanVersion = p.Plan.ID, p.Plan.Version
	row.Parts.V = se.MadeFrom()
	row.Seq = version
	row.FoundAt = p.Now.UTC()
	row.Rounds = in.Round + 1
	row.Whole = row.Whole && found.Told.Finished
	row.TookMs += int(took.Milliseconds())
	row.SparedKg += found.Spared
	row.MostKg = nil
	if in.Round > 0 { // the first round keeps what is counted on: others may spare more
		most := found.Told.Cost.Total - found.Told.Bound
		row.MostKg = &most
	}
	row.Moves.V = make([]store.FoundMove, 0, len(found.Moves))
	for _, m := range found.Moves {
		row.Moves.V = append(row.Moves.V, store.FoundMove{
			MobID: se.Mobs[m.Mob].ID, PaddockID: se.Paddocks[m.Paddock].ID,
			Enter: m.Enter.UTC(), Leave: m.Leave.UTC(),
		})
	}
	return &row
}

// DropSearch takes a search back; the one before it, if there is one, is followed again.
func (s *Service) DropSearch(ctx context.Context, a farm.Actor, id string) (PlanView, error) {
	err := s.Write(ctx, a, farm.Request{Kind: "drop search", Body: id}, func(tx *facts.Writing) error {
		row, err := farm.Find[store.Search](tx.DB, a.FarmID, "", id)
		if err != nil {
			return err
		}
		if row.EndedAt != nil {
			return farm.ErrNotFound
		}
		return tx.Model(&store.Search{}).Where("farm_id = ? AND id = ?", a.FarmID, id).Update("ended_at", tx.Now.UTC()).Error
	})
	return farm.After(err, func() (PlanView, error) { return s.Plan(ctx, a) })
}
