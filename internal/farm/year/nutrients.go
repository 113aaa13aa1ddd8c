package year

import (
	"context"
	"fmt"
	"time"

	"fjell/core/grazing"
	"fjell/core/nutrient"
	"fjell/core/quantity"
	"fjell/core/working"
	"fjell/internal/farm"
	"fjell/internal/store"
)

// NutrientRow is a paddock, its clover and its nitrogen.
type NutrientRow struct {
	ID     string          `json:"id"`
	Name   string          `json:"name"`
	Sward  string          `json:"sward"`
	AreaHa float64         `json:"area_ha"`
	Legume float64         `json:"legume_share"`
	Score  int             `json:"score"`
	Seen   *time.Time      `json:"seen_at" nullable:"true" doc:"by a look; null: what is said of the paddock, or is usual of its sward"`
	Given  float64         `json:"given_kg_ha" doc:"nitrogen this year"`
	Now    *float64        `json:"now_kg_ha,omitempty" doc:"nitrogen due now; left out: nobody said what a year's plan is without clover"`
	Year   *float64        `json:"year_kg_ha,omitempty" doc:"what clover leaves of the year's plan"`
	Why    *grazing.Reason `json:"why,omitempty"`
	Says   grazing.Reason  `json:"says"`
	Cut    *time.Time      `json:"cut_from,omitempty" doc:"after the latest dressing, for silage"`
	Graze  *time.Time      `json:"graze_from,omitempty"`
}

// NutrientsView is clover and nitrogen, paddock by paddock.
type NutrientsView struct {
	Paddocks []NutrientRow    `json:"paddocks" nullable:"false"`
	Scores   []nutrient.Score `json:"scores" nullable:"false"`
	Mean     float64          `json:"legume_share"` // by area
	MeanSays grazing.Reason   `json:"says"`
	Total    *float64         `json:"now_kg,omitempty"` // nitrogen due now, on all ground
}

// Nutrients are clover and nitrogen, paddock by paddock; plan is what a year's nitrogen is where there is no clover, kg/ha, below 0: nobody said.
func (s *Service) Nutrients(ctx context.Context, a farm.Actor, plan float64) (NutrientsView, error) {
	out := NutrientsView{Paddocks: []NutrientRow{}, Scores: nutrient.Scores}
	se, err := s.Season(ctx, a)
	if err != nil {
		return out, err
	}
	seen, err := s.legumes(ctx, a.FarmID, se.Now)
	if err != nil {
		return out, err
	}
	turn := time.Date(se.Now.Year(), time.January, 1, 0, 0, 0, 0, se.Location)
	if se.Farm.Southern {
		if turn = turn.AddDate(0, 6, 0); turn.After(se.Now) {
			turn = turn.AddDate(-1, 0, 0)
		}
	}
	first, area, total := store.DayOf(turn, se.Location), 0.0, 0.0
	for _, pad := range se.Paddocks {
		row := NutrientRow{ID: pad.ID, Name: pad.Name, Sward: pad.Sward.Name, AreaHa: pad.Shape.AreaHa, Legume: pad.Sward.LegumeShare}
		if pad.LegumeShare != nil {
			row.Legume = *pad.LegumeShare
		}
		if look, known := seen[pad.ID]; known {
			row.Legume, row.Seen = *look.Ground.V.Legume, &look.SeenAt
		}
		row.Score, row.Says = nutrient.ScoreOf(row.Legume), nutrient.Say(row.Legume)
		for _, d := range se.Dressings {
			if d.PaddockID != pad.ID {
				continue
			}
			if d.GivenOn >= first {
				row.Given += d.KgNHa
			}
			if at, err := d.GivenOn.Time(se.Location); err == nil {
				if cut, graze := nutrient.Late(at, d.KgNHa); cut.After(se.Now) {
					row.Cut, row.Graze = &cut, &graze
				}
			}
		}
		if plan >= 0 {
			g := nutrient.Ground{Legume: row.Legume, Given: row.Given}
			if pad.Sward.Response != nil {
				g.Response = *pad.Sward.Response
			}
			d, err := nutrient.PlanNitrogen(g, plan, se.Now.In(se.Location), se.Farm.Southern)
			if err != nil {
				return out, err
			}
			row.Now, row.Year, row.Why = &d.Now, &d.Year, &d.Why
			total += d.Now * row.AreaHa
		}
		out.Mean, area = out.Mean+row.Legume*row.AreaHa, area+row.AreaHa
		out.Paddocks = append(out.Paddocks, row)
	}
	out.Mean /= max(area, 1e-9)
	out.MeanSays = nutrient.Say(out.Mean)
	if plan >= 0 {
		out.Total = &total
	}
	return out, nil
}

// legumesKept is how far back a clover score still speaks of the sward, days.
const legumesKept = 400

// legumes are the latest looks that say how much legume there is, by paddock.
func (s *Service) legumes(ctx context.Context, farmID string, now time.Time) (map[string]store.Look, error) {
	var rows []store.Look
	err := s.DB.WithContext(ctx).Table("looks").Where("farm_id = ? AND NOT withdrawn AND seen_at > ? AND JSON_EXTRACT(ground, '$.legume_share') IS NOT NULL", farmID, now.AddDate(0, 0, -legumesKept)).
		Where("NOT EXISTS (SELECT 1 FROM looks l WHERE l.farm_id = looks.farm_id AND l.replaces_id = looks.id AND NOT l.withdrawn)").Order("seen_at, id").Find(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("load legumes: %w", err)
	}
	out := map[string]store.Look{}
	for _, r := range rows {
		out[r.PaddockID] = r
	}
	return out, nil
}

// ManureInput asks what slurry or dirty water is worth, and what phosphorus and potassium are wanted beside it.
type ManureInput struct {
	Manure *nutrient.Manure `json:"manure,omitempty"`
	Soil   *nutrient.Soil   `json:"soil,omitempty"`
}

// ManureView is the answer, kg/ha.
type ManureView struct {
	Cubic  *float64        `json:"m3_ha,omitempty"`
	N      float64         `json:"nitrogen_kg_ha"`
	P      float64         `json:"phosphorus_kg_ha"`
	K      float64         `json:"potassium_kg_ha"`
	Figure *working.Figure `json:"figure,omitempty"`
	WantsP *float64        `json:"wants_phosphorus_kg_ha,omitempty"`
	WantsK *float64        `json:"wants_potassium_kg_ha,omitempty"`
}

// Manure counts slurry as the fertiliser it is, and what a soil test asks for beside it; it writes nothing.
func (s *Service) Manure(_ context.Context, _ farm.Actor, in ManureInput) (ManureView, error) {
	out := ManureView{}
	if in.Manure == nil && in.Soil == nil {
		return out, quantity.Refuse("manure", nil, "say what is spread, or what the soil test says")
	}
	credit := nutrient.Credit{}
	if in.Manure != nil {
		var err error
		if credit, err = in.Manure.Credits(); err != nil {
			return out, err
		}
		out.Cubic, out.N, out.P, out.K, out.Figure = &credit.Cubic, credit.N, credit.P, credit.K, &credit.Figure
	}
	if in.Soil != nil {
		in.Soil.Given = credit
		p, k, err := in.Soil.Wants()
		if err != nil {
			return out, err
		}
		out.WantsP, out.WantsK = &p, &k
	}
	return out, nil
}
