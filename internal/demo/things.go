package demo

import (
	"context"
	"fmt"
	"math"
	"strings"

	"fjell/core/land"
	"fjell/internal/farm/ground"
)

// things puts on the map what stands on the land besides fences: water, gates, a lane, a zone of thin soil, a second
// layout that is kept for winter, and contours from heights.
func (b *builder) things(ctx context.Context) error {
	at := b.at
	width := 4.0
	for _, m := range []ground.NewMark{
		{Kind: "water", Name: "Sørjordet trough", Path: []land.Position{at(60, 226)}},
		{Kind: "water", Name: "Nedre spring", Path: []land.Position{at(-150, -30)}},
		{Kind: "water", Name: "Låve tap", Path: []land.Position{at(190, 244)}},
		{Kind: "water", Name: "beck", Path: []land.Position{at(520, 300)}},
		{Kind: "water", Name: "Tjern shore", Path: []land.Position{at(560, -90)}},
		{Kind: "water", Name: "Heia tarn", Path: []land.Position{at(20, 760)}},
		{Kind: "gate", Name: "Sørjordet gate", Path: []land.Position{at(-118, 112)}},
		{Kind: "gate", Name: "Nedre gate", Path: []land.Position{at(-163, 112)}},
		{Kind: "lane", Name: "Tjern lane", Width: &width, Path: []land.Position{at(420, 120), at(560, 85), at(695, 95)}},
	} {
		m.ID = b.id()
		if _, err := b.house.Ground.AddMark(ctx, b.actor, m); err != nil {
			return fmt.Errorf("demo %s: %w", m.Name, err)
		}
	}
	field := b.fieldIDs["Sørjordet"]
	if _, err := b.house.Ground.AddZone(ctx, b.actor, field, ground.NewZone{ID: b.id(), Name: "thin soil", GrowthFactor: 0.6,
		Shape: b.shape([][2]float64{{230, 190}, {372, 190}, {385, 60}, {290, 40}, {215, 90}})}); err != nil {
		return fmt.Errorf("demo zone: %w", err)
	}
	if _, err := b.house.Ground.AcceptDivision(ctx, b.actor, field, ground.AcceptDivision{ID: b.id(), Name: "winter strips", Names: []string{}, Temporary: true, Shelve: true, Pieces: true,
		DivideInput: ground.DivideInput{Intent: "strips", Width: 45, Direction: 170}}); err != nil {
		return fmt.Errorf("demo layout: %w", err)
	}
	heights := strings.Builder{}
	for x := -900.0; x <= 1100; x += 50 {
		for y := -450.0; y <= 1150; y += 50 {
			p := at(x, y)
			fmt.Fprintf(&heights, "%.7f,%.7f,%.2f\n", p[1], p[0], hill(x, y))
		}
	}
	_, err := b.house.Ground.AddHeights(ctx, b.actor, ground.NewHeights{ID: b.id(), File: "levels of Skarnvoll.csv", Content: []byte(heights.String()), Step: 4})
	return err
}

// hill is the made-up ground of the farm: it rises from the tarn in the south to the heath in the north.
func hill(x, y float64) float64 {
	return 412 + 0.075*(y+450) + 9*math.Sin(x/210+y/420) + 6*math.Cos(x/330-y/160) + 14*math.Exp(-((x-250)*(x-250)+(y-720)*(y-720))/90000)
}
