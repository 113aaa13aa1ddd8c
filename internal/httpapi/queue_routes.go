package httpapi

import (
	"context"
	"net/http"

	"fjell/internal/farm/decisions"
	"fjell/internal/farm/queue"
	"fjell/internal/farm/yard"
)

type queueAsked struct {
	FarmPath
	Mob  string `query:"mob_id" doc:"whose queue; left out: the first"`
	Back int    `query:"weeks_back" minimum:"0" maximum:"26" doc:"as it was so many weeks ago"`
}

type adviceAsked struct {
	FarmPath
	Mob string `query:"mob_id" doc:"whose queue; left out: the first"`
}

// queueRoutes are the weekly look and what may be tried.
func (s *Server) queueRoutes() {
	h := s.House
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/queue", "queue", "Paddocks from the next to be grazed downward, each against what it is to stand at, and the week in figures and words", func(ctx context.Context, in *queueAsked) (*body[queue.QueueView], error) {
		return answer(h.Queue.Queue(ctx, actor(ctx), in.Mob, in.Back))
	}, desk)
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/queue/table", "queue-table", "A queue as CSV", func(ctx context.Context, in *queueAsked) (*file, error) {
		raw, err := h.Queue.Table(ctx, actor(ctx), in.Mob, in.Back)
		return &file{"text/csv; charset=utf-8", `attachment; filename="queue.csv"`, raw}, err
	}, desk)
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/queue/advice", "queue-advice", "The few remedies of a queue's week that do most against what they take", func(ctx context.Context, in *adviceAsked) (*body[queue.AdviceList], error) {
		return answer(h.Queue.Advise(ctx, actor(ctx), in.Mob))
	}, desk)
	route(s, viewer, http.MethodPost, "/api/farms/{farm}/queue/try", "try-levers", "What comes of a queue in eight weeks without and with what is tried; nothing is written", func(ctx context.Context, in *in[queue.TryInput]) (*body[queue.TryView], error) {
		return answer(h.Queue.Try(ctx, actor(ctx), in.Body))
	}, desk)
	route(s, manager, http.MethodPut, "/api/farms/{farm}/queue/order", "queue-order", "Set the farm's own order of the queue", func(ctx context.Context, in *setting[queue.OrderInput]) (*body[queue.QueueView], error) {
		return answer(h.Queue.SetOrder(ctx, actor(ctx), in.Version, in.Body))
	}, desk)
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/queue/decisions", "decisions", "What was decided lately, and what came of it", func(ctx context.Context, in *adviceAsked) (*body[decisions.DecisionsView], error) {
		return answer(h.Decide.Decisions(ctx, actor(ctx), in.Mob))
	}, desk)
	route(s, manager, http.MethodPost, "/api/farms/{farm}/queue/decisions", "decide", "Do what was tried: the facts it stands for are written, all or none", func(ctx context.Context, in *in[decisions.NewDecision]) (*body[decisions.DecisionsView], error) {
		return answer(h.Decide.Decide(ctx, actor(ctx), in.Body))
	}, desk)
	route(s, manager, http.MethodDelete, "/api/farms/{farm}/queue/decisions/{id}", "take-decision-back", "Take a decision back with all that it wrote", func(ctx context.Context, in *ItemPath) (*body[decisions.DecisionsView], error) {
		return answer(h.Decide.TakeBack(ctx, actor(ctx), in.ID))
	}, desk)
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/fodder", "fodder", "The fodder store: what it holds, and the lines of its book", func(ctx context.Context, in *FarmPath) (*body[yard.FodderView], error) {
		return answer(h.Yard.Fodder(ctx, actor(ctx)))
	}, desk)
	route(s, manager, http.MethodPost, "/api/farms/{farm}/fodder", "keep-fodder", "Write down what came into the fodder store, went out of it, or was counted in it", func(ctx context.Context, in *in[yard.NewFodder]) (*body[yard.FodderView], error) {
		return answer(h.Yard.KeepFodder(ctx, actor(ctx), in.Body))
	}, desk)
	route(s, manager, http.MethodDelete, "/api/farms/{farm}/fodder/{id}", "take-fodder-back", "Take a line of the fodder store's book back", func(ctx context.Context, in *ItemPath) (*body[yard.FodderView], error) {
		return answer(h.Yard.TakeFodderBack(ctx, actor(ctx), in.ID))
	}, desk)
}
