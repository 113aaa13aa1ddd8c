package httpapi

import (
	"context"
	"net/http"

	"fjell/core/reference"
	"fjell/core/stock"
	"fjell/core/working"
	"fjell/internal/farm/herd"
)

type yearQuery struct {
	FarmPath
	Year    int    `query:"year" doc:"0: the present one"`
	Measure string `query:"measure" enum:"demand,au,lu,weight,head" default:"demand"`
}

type dayQuery struct {
	FarmPath
	Day string `query:"day" doc:"YYYY-MM-DD"`
}

type pairQuery struct {
	FarmPath
	First  string `query:"first"`
	Second string `query:"second"`
}

func (s *Server) stockRoutes() {
	h := s.House
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/mobs", "mobs", "Mobs with demand, stocking rate and density", func(ctx context.Context, _ *FarmPath) (*body[[]herd.MobView], error) {
		return answer(h.Herd.Mobs(ctx, actor(ctx)))
	})
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/demand", "demand", "What all mobs eat from pasture today", func(ctx context.Context, _ *FarmPath) (*body[working.Figure], error) {
		return answer(h.Herd.Demand(ctx, actor(ctx)))
	})
	route(s, manager, http.MethodPost, "/api/farms/{farm}/mobs", "create-mob", "Make a mob", func(ctx context.Context, in *in[herd.NewMob]) (*body[herd.MobView], error) {
		return answer(h.Herd.CreateMob(ctx, actor(ctx), in.Body))
	})
	route(s, manager, http.MethodPut, "/api/farms/{farm}/mobs/{id}", "update-mob", "Describe a mob anew", func(ctx context.Context, in *change[herd.MobInput]) (*body[herd.MobView], error) {
		return answer(h.Herd.UpdateMob(ctx, actor(ctx), in.ID, in.Version, in.Body))
	})
	route(s, manager, http.MethodDelete, "/api/farms/{farm}/mobs/{id}", "remove-mob", "Take a mob off the farm; its records stay", func(ctx context.Context, in *ItemPath) (*empty, error) {
		return &empty{}, h.Herd.RemoveMob(ctx, actor(ctx), in.ID)
	})
	route(s, manager, http.MethodPost, "/api/farms/{farm}/mobs/{id}/restore", "restore-mob", "Bring a removed mob back", func(ctx context.Context, in *ItemPath) (*body[herd.MobView], error) {
		return answer(h.Herd.RestoreMob(ctx, actor(ctx), in.ID))
	})
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/stock/year", "stock-year", "A year of stock: bands, events, ledger, carrying check", func(ctx context.Context, in *yearQuery) (*body[herd.YearView], error) {
		return answer(h.Herd.Year(ctx, actor(ctx), herd.YearInput{Year: in.Year, Measure: in.Measure}))
	}, desk)
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/stock/day", "stock-day", "What stock eat on a day, with the working", func(ctx context.Context, in *dayQuery) (*body[herd.DayView], error) {
		return answer(h.Herd.StockDay(ctx, actor(ctx), in.Day))
	}, desk)
	route(s, hand, http.MethodPost, "/api/farms/{farm}/mobs/{id}/split", "split-mob", "Take some of a mob off on the way, into a mob of their own", func(ctx context.Context, in *inItem[herd.NewSplit]) (*empty, error) {
		return &empty{}, h.Herd.SplitMob(ctx, actor(ctx), in.ID, in.Body)
	})
	route(s, hand, http.MethodPost, "/api/farms/{farm}/mobs/{id}/join", "join-mobs", "Let a mob join another", func(ctx context.Context, in *inItem[herd.NewJoin]) (*empty, error) {
		return &empty{}, h.Herd.JoinMobs(ctx, actor(ctx), in.ID, in.Body)
	})
	route(s, manager, http.MethodPost, "/api/farms/{farm}/stock/events", "keep-event", "Write an event down, planned or real", func(ctx context.Context, in *in[herd.NewEvent]) (*body[herd.YearView], error) {
		return answer(h.Herd.KeepEvent(ctx, actor(ctx), in.Body))
	})
	route(s, manager, http.MethodPut, "/api/farms/{farm}/stock/events/{id}", "change-event", "Put another in an event's place; the one before is kept", func(ctx context.Context, in *inItem[herd.EventChange]) (*body[herd.YearView], error) {
		return answer(h.Herd.ChangeEvent(ctx, actor(ctx), in.ID, in.Body))
	})
	route(s, manager, http.MethodDelete, "/api/farms/{farm}/stock/events/{id}", "withdraw-event", "Take an event back", func(ctx context.Context, in *ItemPath) (*body[herd.YearView], error) {
		return answer(h.Herd.WithdrawEvent(ctx, actor(ctx), in.ID))
	})
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/stock/classes", "stock-classes", "Classes of animals, the farm's own first", func(ctx context.Context, _ *FarmPath) (*body[[]reference.StockClass], error) {
		return answer(h.Herd.Classes(ctx, actor(ctx)))
	})
	route(s, manager, http.MethodPost, "/api/farms/{farm}/stock/classes", "keep-own-class", "Make a class of the farm's own", func(ctx context.Context, in *in[herd.NewOwnClass]) (*body[[]reference.StockClass], error) {
		return answer(h.Herd.KeepOwnClass(ctx, actor(ctx), in.Body))
	})
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/stock/equivalence", "stock-equivalence", "How many of one class graze as one of another", func(ctx context.Context, in *pairQuery) (*body[herd.EquivalenceView], error) {
		return answer(h.Herd.Equivalence(ctx, actor(ctx), in.First, in.Second))
	}, desk)
	route(s, viewer, http.MethodPost, "/api/farms/{farm}/stock/intake", "convert-intake", "An intake said both ways; nothing is written", func(ctx context.Context, in *in[herd.ConvertInput]) (*body[stock.Eats], error) {
		return answer(h.Herd.Convert(ctx, actor(ctx), in.Body))
	})
	route(s, viewer, http.MethodPost, "/api/farms/{farm}/stock/list/read", "read-stock-list", "What a stock list would do; nothing is written", func(ctx context.Context, in *in[herd.StockListInput]) (*body[herd.StockListView], error) {
		return answer(h.Herd.ReadStockList(ctx, actor(ctx), in.Body))
	}, room(4<<20), desk)
	route(s, manager, http.MethodPost, "/api/farms/{farm}/stock/list", "take-stock-list", "Take a stock list in", func(ctx context.Context, in *in[herd.StockListInput]) (*body[[]herd.MobView], error) {
		return answer(h.Herd.TakeStockList(ctx, actor(ctx), in.Body))
	}, room(4<<20))
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/stock/list", "stock-list", "The farm's stock today as CSV", func(ctx context.Context, _ *FarmPath) (*file, error) {
		raw, err := h.Herd.StockList(ctx, actor(ctx))
		return &file{"text/csv; charset=utf-8", `attachment; filename="stock.csv"`, raw}, err
	}, desk)
}
