package year

import (
	"context"
	"slices"

	"fjell/core/quantity"
	"fjell/internal/exchange"
	"fjell/internal/farm"
)

// Workbook is scenarios side by side as XLSX, in the farm's units.
func (s *Service) Workbook(ctx context.Context, a farm.Actor, months int, ids []string) ([]byte, error) {
	v, err := s.Scenarios(ctx, a, months, ids)
	if err != nil {
		return nil, err
	}
	view, err := s.Farm(ctx, a)
	if err != nil {
		return nil, err
	}
	scale, err := quantity.ScaleOf(quantity.Fodder, quantity.System(view.Units))
	if err != nil {
		return nil, err
	}
	beside := slices.DeleteFunc(v.Scenarios, func(sc ScenarioView) bool { return !sc.Beside })
	line := func(label string, of func(ScenarioView) any) []any {
		row := []any{label}
		for _, sc := range beside {
			row = append(row, of(sc))
		}
		return row
	}
	money := view.Currency
	if money == "" {
		money = "the farm's money"
	}
	heads := line("", func(sc ScenarioView) any { return sc.Name })
	sums := [][]any{heads,
		line("Missing, "+scale.Symbol+" of dry matter", func(sc ScenarioView) any { return scale.Show(sc.Missing) }),
		line("Missing in a poor year, "+scale.Symbol, func(sc ScenarioView) any { return scale.Show(sc.High) }),
		line("Chance of falling short", func(sc ScenarioView) any { return sc.Ever }),
		line("Cost, "+money, func(sc ScenarioView) any { return sc.Cost }),
		line("Cards without a price", func(sc ScenarioView) any { return sc.Free }),
		line("Work, hours", func(sc ScenarioView) any { return sc.Hours }),
		line("Head carried", func(sc ScenarioView) any { return sc.Head }),
		line("Carried on at the end, "+scale.Symbol, func(sc ScenarioView) any { return scale.Show(sc.Carried) }),
		line("Why", func(sc ScenarioView) any { return sc.Reason }),
		line("Could not be reckoned", func(sc ScenarioView) any { return sc.Wrong }),
	}
	byMonth := [][]any{append([]any{"Missing, " + scale.Symbol}, heads[1:]...)}
	cards := [][]any{{"Scenario", "Card"}}
	for i, sc := range beside {
		for m, month := range sc.Months {
			if i == 0 {
				byMonth = append(byMonth, []any{month.From.Format("January 2006")})
			}
			if m+1 < len(byMonth) {
				for len(byMonth[m+1]) < i+1 {
					byMonth[m+1] = append(byMonth[m+1], nil) // a scenario that could not be reckoned
				}
				byMonth[m+1] = append(byMonth[m+1], scale.Show(month.Missing))
			}
		}
		for _, card := range sc.Cards {
			cards = append(cards, []any{sc.Name, card.In(quantity.System(view.Units))})
		}
	}
	return exchange.WriteWorkbook([]exchange.Sheet{{Name: "Scenarios", Rows: sums}, {Name: "Months", Rows: byMonth}, {Name: "Cards", Rows: cards}})
}
