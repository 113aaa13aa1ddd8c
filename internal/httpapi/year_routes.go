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

type landAsked struct {
	FarmPath
	Reserve float64 `query:"reserve" default:"-1" doc:"share of growth kept back for a drought; left out: 0.15, or none where ground is kept in reserve"`
	Both    bool    `query:"both" doc:"keep it back beside ground that is kept in reserve"`
}

type nutrientsAsked struct {
	FarmPath
	Plan float64 `query:"plan" default:"-1" doc:"a year's nitrogen where there is no clover, kg/ha; left out: nobody said"`
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
	route(s, viewer, http.MethodPost, "/api/farms/{farm}/year/advice", "year-advice", "The cheapest cards after which feed falls short no more often than it may, for several chances, and how all cards rank; nothing is written", func(ctx context.Context, in *in[year.YearAdviceInput]) (*body[year.YearAdvice], error) {
		return answer(h.Year.Advise(ctx, actor(ctx), in.Body))
	}, desk)
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/year/land", "stock-land", "Stock against land: what is carried, how the season goes, and a drought rehearsed", func(ctx context.Context, in *landAsked) (*body[year.StockLandView], error) {
		return answer(h.Year.StockLand(ctx, actor(ctx), in.Reserve, in.Both))
	}, desk)
	route(s, viewer, http.MethodPost, "/api/farms/{farm}/year/divide", "divide-or-buy", "Divide the ground further, or buy more? By the user's own figures; nothing is written", func(ctx context.Context, in *in[year.DivideInput]) (*body[year.DivideView], error) {
		return answer(h.Year.DivideOrBuy(ctx, actor(ctx), in.Body))
	}, desk)
	route(s, manager, http.MethodPut, "/api/farms/{farm}/drought", "drought", "Say what is done when growth lags, and when it is too wet", func(ctx context.Context, in *setting[year.DroughtInput]) (*body[year.StockLandView], error) {
		return answer(h.Year.SetDrought(ctx, actor(ctx), in.Version, in.Body))
	}, desk)
	route(s, manager, http.MethodPut, "/api/farms/{farm}/losses", "losses", "Say what is lost of the feed that the farm conserves", func(ctx context.Context, in *setting[year.LossesInput]) (*body[year.BudgetView], error) {
		return answer(h.Year.SetLosses(ctx, actor(ctx), in.Version, in.Body))
	}, desk)
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/year/winter", "winter", "What the winter to come asks for: frost on the water, ground and stock that may meet on it", func(ctx context.Context, in *FarmPath) (*body[year.WinterView], error) {
		return answer(h.Year.Winter(ctx, actor(ctx)))
	}, desk)
	route(s, viewer, http.MethodPost, "/api/farms/{farm}/year/stockpile", "stockpile", "How far a field that is closed up feeds some mobs in winter, strip by strip; nothing is written", func(ctx context.Context, in *in[year.StockpileInput]) (*body[year.StockpileView], error) {
		return answer(h.Year.Stockpile(ctx, actor(ctx), in.Body))
	}, desk)
	route(s, viewer, http.MethodPost, "/api/farms/{farm}/year/bales", "bales", "How far bales that are set out on a field feed some mobs, and what they leave there; nothing is written", func(ctx context.Context, in *in[year.BalesInput]) (*body[year.BalesView], error) {
		return answer(h.Year.Bales(ctx, actor(ctx), in.Body))
	}, desk)
	route(s, viewer, http.MethodPost, "/api/farms/{farm}/year/stocking", "solve-stocking", "Whichever of head, days, area and yield is left out; nothing is written", func(ctx context.Context, in *in[year.StockingInput]) (*body[year.StockingView], error) {
		return answer(h.Year.Stocking(ctx, actor(ctx), in.Body))
	}, desk)
	route(s, viewer, http.MethodPost, "/api/farms/{farm}/year/frost", "frost", "Water in frost: what an overflow wastes, and whether a waterer is enough for those who come at once; nothing is written", func(ctx context.Context, in *in[year.FrostInput]) (*body[year.FrostView], error) {
		return answer(h.Year.Frost(ctx, actor(ctx), in.Body))
	}, desk)
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/year/nutrients", "nutrients", "Clover and nitrogen, paddock by paddock", func(ctx context.Context, in *nutrientsAsked) (*body[year.NutrientsView], error) {
		return answer(h.Year.Nutrients(ctx, actor(ctx), in.Plan))
	}, desk)
	route(s, viewer, http.MethodPost, "/api/farms/{farm}/year/manure", "manure", "What slurry is worth, and what a soil test asks for beside it; nothing is written", func(ctx context.Context, in *in[year.ManureInput]) (*body[year.ManureView], error) {
		return answer(h.Year.Manure(ctx, actor(ctx), in.Body))
	}, desk)
	s.priceRoutes()
	s.scenarioRoutes()
}

// priceRoutes are what a farm pays.
func (s *Server) priceRoutes() {
	h := s.House
	base := "/api/farms/{farm}/year/prices"
	route(s, viewer, http.MethodGet, base, "prices", "What the farm pays, or forgoes, for each input and head, by date", func(ctx context.Context, in *FarmPath) (*body[year.PricesView], error) {
		return answer(h.Year.Prices(ctx, actor(ctx)))
	}, desk)
	route(s, manager, http.MethodPost, base, "keep-price", "Write a price down, from a day on", func(ctx context.Context, in *in[year.NewPrice]) (*body[year.PricesView], error) {
		return answer(h.Year.KeepPrice(ctx, actor(ctx), in.Body))
	}, desk)
	route(s, manager, http.MethodDelete, base+"/{id}", "take-price-back", "Take a price back that was written down by mistake", func(ctx context.Context, in *ItemPath) (*body[year.PricesView], error) {
		return answer(h.Year.TakePriceBack(ctx, actor(ctx), in.ID))
	}, desk)
	route(s, manager, http.MethodPut, "/api/farms/{farm}/currency", "currency", "Say in which money the farm's prices are", func(ctx context.Context, in *setting[year.CurrencyInput]) (*body[year.PricesView], error) {
		return answer(h.Year.SetCurrency(ctx, actor(ctx), in.Version, in.Body))
	}, desk)
}

type scenariosAsked struct {
	FarmPath
	Months int      `query:"months" doc:"how far ahead, 12 to 36; left out: 12"`
	IDs    []string `query:"ids,explode" doc:"up to five, side by side; left out: the latest"`
}

// scenarioRoutes are options that were thought through together.
func (s *Server) scenarioRoutes() {
	h := s.House
	base := "/api/farms/{farm}/year/scenarios"
	route(s, viewer, http.MethodGet, base, "scenarios", "Scenarios side by side with doing nothing", func(ctx context.Context, in *scenariosAsked) (*body[year.ScenariosView], error) {
		return answer(h.Year.Scenarios(ctx, actor(ctx), in.Months, in.IDs))
	}, desk)
	route(s, viewer, http.MethodGet, base+"/table", "scenarios-table", "Scenarios side by side, as XLSX", func(ctx context.Context, in *scenariosAsked) (*file, error) {
		raw, err := h.Year.Workbook(ctx, actor(ctx), in.Months, in.IDs)
		return &file{"application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", `attachment; filename="scenarios.xlsx"`, raw}, err
	}, desk)
	route(s, manager, http.MethodPost, base, "keep-scenario", "Keep options that were thought through together, with why", func(ctx context.Context, in *in[year.NewScenario]) (*body[year.ScenariosView], error) {
		return answer(h.Year.KeepScenario(ctx, actor(ctx), in.Body))
	}, desk)
	route(s, manager, http.MethodDelete, base+"/{id}", "take-scenario-back", "Take a scenario off the list", func(ctx context.Context, in *ItemPath) (*body[year.ScenariosView], error) {
		return answer(h.Year.TakeScenarioBack(ctx, actor(ctx), in.ID))
	}, desk)
	route(s, manager, http.MethodPost, base+"/{id}/return", "return-scenario", "Put a scenario on the list again", func(ctx context.Context, in *ItemPath) (*body[year.ScenariosView], error) {
		return answer(h.Year.ReturnScenario(ctx, actor(ctx), in.ID))
	}, desk)
}
