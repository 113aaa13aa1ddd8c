package queue

import (
	"context"
	"time"

	"fjell/core/grazing"
	"fjell/core/quantity"
	core "fjell/core/queue"
	"fjell/internal/farm"
)

// AdviceView is levers that are worth pulling together, and why.
type AdviceView struct {
	Levers  []Lever          `json:"levers" nullable:"false"`
	Missing float64          `json:"missing_days"` // of feed, with them
	Moves   int              `json:"moves"`
	Spares  float64          `json:"spares_kg_dm"` // that it is better than doing nothing, as advice counts it
	Why     []grazing.Reason `json:"why" nullable:"false"`
}

// AdviceList is the few best remedies of a queue's week, the best first; empty: nothing beats leaving it as it is.
type AdviceList struct {
	Advice []AdviceView `json:"advice" nullable:"false"`
}

// adviseFor is how long advice is searched for at most; what is found by then is told.
const adviseFor = 5 * time.Second

// Advise searches the remedies of a queue's week.
func (s *Service) Advise(ctx context.Context, a farm.Actor, mobID string) (AdviceList, error) {
	out := AdviceList{Advice: []AdviceView{}}
	se, err := s.Season(ctx, a)
	if err != nil {
		return out, err
	}
	of, err := (&QueueView{}).choose(se, mobID)
	if err != nil {
		return out, err
	}
	if of == nil {
		return out, quantity.Refuse("mob_id", nil, "nothing grazes here yet: make a mob, and let it graze")
	}
	search, stop := context.WithTimeout(ctx, adviseFor)
	defer stop()
	for _, x := range core.Advise(search, se.Week(of)) {
		v := AdviceView{Levers: x.Levers, Moves: x.Tried.Behind.Moves, Spares: x.Spares, Why: append([]grazing.Reason{}, x.Why...)}
		for _, g := range x.Tried.Behind.Gaps {
			v.Missing += g.Days
		}
		out.Advice = append(out.Advice, v)
	}
	return out, nil
}
