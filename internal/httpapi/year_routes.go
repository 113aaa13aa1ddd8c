package httpapi

import (
	"context"
	"net/http"

	"fjell/internal/farm/year"
)

type yearAsked struct {
	FarmPath
	Months int `query:"months" doc:"how far ahead, 12 to 36; left out: 12"`
}

// yearRoutes are a farm's feed over the year.
func (s *Server) yearRoutes() {
	h := s.House
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/year", "year", "What grows, stands over, is stored and eaten month by month, and where it falls short", func(ctx context.Context, in *yearAsked) (*body[year.BudgetView], error) {
		return answer(h.Year.Budget(ctx, actor(ctx), in.Months))
	}, desk)
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/year/means", "year-means", "What may be done about a year: inputs with their months, fields, mobs", func(ctx context.Context, in *FarmPath) (*body[year.YearMeans], error) {
		return answer(h.Year.Means(ctx, actor(ctx)))
	}, desk)
	route(s, viewer, http.MethodPost, "/api/farms/{farm}/year/try", "try-year", "What comes of a year with options done; nothing is written", func(ctx context.Context, in *in[year.YearTryInput]) (*body[year.YearTryView], error) {
		return answer(h.Year.Try(ctx, actor(ctx), in.Body))
	}, desk)
}
