package demo

import (
	"context"
	"fmt"

	"fjell/internal/farm/year"
)

// thinks writes down what the farm pays, all made up, and two ways through the winter that it has thought through.
func (b *builder) thinks(ctx context.Context) error {
	made, err := b.house.Farm.Farm(ctx, b.actor)
	if err != nil {
		return err
	}
	if _, err := b.house.Year.SetCurrency(ctx, b.actor, made.Version, year.CurrencyInput{Currency: "NOK"}); err != nil {
		return fmt.Errorf("demo currency: %w", err)
	}
	for _, p := range []year.NewPrice{
		{Item: "bought_hay", From: "2025-09-01", Bale: of(390), Haulage: of(45), BaleKg: of(240)},
		{Item: "bought_hay", From: "2026-03-01", Bale: of(430), Haulage: of(50), BaleKg: of(240), Note: "from over the hill, by the load of 40"},
		{Item: "bought_silage", From: "2026-03-01", Bale: of(520), Haulage: of(70), BaleKg: of(650)},
		{Item: "nitrogen_midsummer_cool", From: "2026-02-01", Amount: of(1150)},
		{Item: "nitrogen_late_spring_cool", From: "2026-02-01", Amount: of(1150)},
		{Item: "stockpile_cool", From: "2026-02-01", Amount: of(120), Note: "the fence, and an evening"},
		{Item: "overseed_grass_drilled", From: "2026-02-01", Amount: of(2600)},
		{Item: "brassica_for_autumn_winter", From: "2026-02-01", Amount: of(4300)},
		{Item: "head", From: "2026-01-01", Amount: of(3800), Note: "what a suckler cow leaves in a year"},
	} {
		p.ID = b.named("price of " + p.Item + string(p.From))
		if _, err := b.house.Year.KeepPrice(ctx, b.actor, p); err != nil {
			return fmt.Errorf("demo price: %w", err)
		}
	}
	v, err := b.house.Year.Means(ctx, b.actor)
	if err != nil {
		return err
	}
	field := ""
	for _, f := range v.Fields {
		if f.Name == "Tjern" {
			field = f.ID
		}
	}
	for _, sc := range []year.NewScenario{
		{Name: "Buy the winter", Reason: "Nothing on the farm changes; the barn holds it.", Options: []year.YearOption{{Input: "bought_silage", Month: 1, Tonnes: 250, Price: 908, Hours: 20}}},
		{Name: "Fewer cows", Reason: "The winter is what costs.", Options: []year.YearOption{{Month: 4, Head: -12, Price: 3800, Hours: 8}, {Input: "stockpile_cool", Field: field, Month: 2, Price: 120, Hours: 5}}},
	} {
		sc.ID = b.named(sc.Name)
		if _, err := b.house.Year.KeepScenario(ctx, b.actor, sc); err != nil {
			return fmt.Errorf("demo scenario: %w", err)
		}
	}
	return nil
}
