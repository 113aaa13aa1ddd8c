package httpapi

import (
	"context"
	"net/http"

	"fjell/internal/farm/queue"
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
}
