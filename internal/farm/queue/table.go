package queue

import (
	"bytes"
	"context"
	"encoding/csv"
	"fmt"
	"time"

	"fjell/internal/exchange"
	"fjell/internal/farm"
)

// Table is a queue as CSV, in the units that the database holds, a row a paddock.
func (s *Service) Table(ctx context.Context, a farm.Actor, mobID string, weeksBack int) ([]byte, error) {
	v, err := s.Queue(ctx, a, mobID, weeksBack)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	_ = w.Write([]string{"turn", "paddock", "sward", "area_ha", "forage_mass_kg_dm_ha", "half_width_kg_dm_ha", "target_kg_dm_ha", "residual_kg_dm_ha", "rest_days", "verdict", "grazed_now", "turn_at", "turn_mass_kg_dm_ha"})
	for i, r := range v.Rows {
		rest, turn, mass := "", "", ""
		if r.Rest != nil {
			rest = fmt.Sprintf("%.1f", *r.Rest)
		}
		if r.Turn != nil {
			turn, mass = r.Turn.Format(time.RFC3339), fmt.Sprintf("%.0f", r.TurnMass)
		}
		if err := w.Write([]string{fmt.Sprint(i + 1), exchange.Cell(r.Name), exchange.Cell(r.Sward), fmt.Sprintf("%.4f", r.AreaHa), fmt.Sprintf("%.0f", r.Mass), fmt.Sprintf("%.0f", r.Half), fmt.Sprintf("%.0f", r.Target),
			fmt.Sprintf("%.0f", r.Residual), rest, string(r.State), fmt.Sprint(r.Grazed), turn, mass}); err != nil {
			return nil, err
		}
	}
	w.Flush()
	return out.Bytes(), w.Error()
}
