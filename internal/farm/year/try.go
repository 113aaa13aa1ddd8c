package year

import (
	"context"
	"errors"
	"time"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/reference"
	core "fjell/core/year"
	"fjell/internal/farm"
)

// YearOption is something that may be done about a year.
type YearOption = core.Option

// YearClass is a class of sheep or goats that may come behind.
type YearClass struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// YearInput is an input of the reference as a farm may use it.
type YearInput struct {
	ID         string           `json:"id"`
	Name       string           `json:"name"`
	Kind       string           `json:"kind" enum:"grow,move,buy,protect"`
	Months     []int            `json:"apply_months" nullable:"false" doc:"calendar months here in which it is done"`
	Extra      *reference.Range `json:"extra_yield_t_ha,omitempty"`
	Lead       float64          `json:"lead_time_days"`
	Life       float64          `json:"life_years"`
	Caution    string           `json:"caution"`
	Confidence string           `json:"confidence"`
	Nitrogen   *float64         `json:"nitrogen_kg_ha,omitempty" doc:"at which its yield is meant"`
	Obliges    []string         `json:"obliges" nullable:"false" doc:"the ids of inputs without which its yield does not come"`
}

// YearField is a field that is grazed, and the inputs that are meant for what grows there.
type YearField struct {
	ID     string   `json:"id"`
	Name   string   `json:"name"`
	AreaHa float64  `json:"area_ha"`
	Inputs []string `json:"inputs" nullable:"false"`
}

// YearMeans are what may be done about a year.
type YearMeans struct {
	Inputs []YearInput `json:"inputs" nullable:"false"`
	Fields []YearField `json:"fields" nullable:"false"`
	Groups []string    `json:"groups" nullable:"false"` // of mobs
	Behind []YearClass `json:"behind" nullable:"false"`
}

// Means are what may be done about a farm's year, each with the months in which it is done here.
func (s *Service) Means(ctx context.Context, a farm.Actor) (YearMeans, error) {
	out := YearMeans{Inputs: []YearInput{}, Fields: []YearField{}, Groups: []string{}, Behind: []YearClass{}}
	se, err := s.Season(ctx, a)
	if err != nil {
		return out, err
	}
	for _, in := range reference.Load().Inputs {
		row := YearInput{ID: in.ID, Name: in.Name, Kind: in.Kind, Months: []int{}, Extra: in.Extra, Lead: in.Lead, Life: in.Life, Caution: in.Caution, Confidence: in.Confidence, Nitrogen: in.Nitrogen, Obliges: append([]string{}, in.Obliges...)}
		for _, m := range in.Apply {
			if se.Farm.Southern {
				m = (m+5)%12 + 1
			}
			row.Months = append(row.Months, m)
		}
		out.Inputs = append(out.Inputs, row)
	}
	c, err := s.caseOf(ctx, se, leastMonths, 0)
	if err != nil {
		return out, err
	}
	at := map[string]int{}
	for _, pc := range c.Pieces {
		k, known := at[pc.FieldID]
		if !known {
			k = len(out.Fields)
			at[pc.FieldID] = k
			field := YearField{ID: pc.FieldID, Name: pc.Field, Inputs: []string{}}
			for _, in := range reference.Load().Inputs {
				if in.Kind != "buy" && pc.Suits(in) {
					field.Inputs = append(field.Inputs, in.ID)
				}
			}
			out.Fields = append(out.Fields, field)
		}
		out.Fields[k].AreaHa += pc.AreaHa
	}
	for _, g := range c.Groups {
		out.Groups = append(out.Groups, g.Name)
	}
	for _, class := range reference.Load().Classes {
		if class.Species == "goats" || class.Species == "sheep" {
			out.Behind = append(out.Behind, YearClass{class.ID, class.Name})
		}
	}
	return out, nil
}

// YearTryInput is options that are tried together.
type YearTryInput struct {
	Months  int          `json:"months,omitempty"`
	Options []YearOption `json:"options" nullable:"false" maxItems:"20"`
}

// YearEffect is what an option does.
type YearEffect struct {
	Name    string           `json:"name"`
	Says    []grazing.Reason `json:"says" nullable:"false"`
	Caution string           `json:"caution"`
	Closes  float64          `json:"closes_kg_dm" doc:"of what is missing, by itself"`
	Cost    float64          `json:"cost" doc:"of the months looked at"`
	Tonne   *float64         `json:"cost_a_tonne_closed,omitempty" doc:"for each tonne that is eaten in a month that was short; left out: it closes nothing, or nobody gave a price"`
	Arrives *time.Time       `json:"arrives,omitempty"`
	Lacks   []string         `json:"lacks_price" nullable:"false" doc:"what it obliges and nobody gave a price for: that cost is not in it"`
}

// YearTryView is a year with options done.
type YearTryView struct {
	Before  BudgetSum    `json:"before"` // its first twelve months with nothing done
	With    BudgetView   `json:"with"`
	Effects []YearEffect `json:"effects" nullable:"false"`
	Cost    float64      `json:"cost"`
	Missing float64      `json:"missing_kg_dm"`        // over all months looked at
	Without float64      `json:"missing_before_kg_dm"` // with nothing done
	Carried float64      `json:"carried_kg_dm"`        // at the end of all months looked at
}

// Try says what comes of options, and writes nothing.
func (s *Service) Try(ctx context.Context, a farm.Actor, in YearTryInput) (YearTryView, error) {
	v, se, err := s.begin(ctx, a, &in.Months)
	out := YearTryView{With: v, Effects: []YearEffect{}}
	if err != nil {
		return out, err
	}
	c, err := s.caseOf(ctx, se, in.Months, v.Store)
	if err != nil {
		return out, err
	}
	if len(c.Pieces) == 0 || len(c.Groups) == 0 {
		return out, quantity.Refuse("options", nil, "nothing grows for stock yet: draw land and make a mob")
	}
	with, done, err := c.With(in.Options)
	var refused *core.Refused
	if errors.As(err, &refused) {
		return out, &farm.Unusual{Problems: []quantity.Problem{refused.Problem}}
	}
	if err != nil {
		return out, err
	}
	before := core.Balance(c, nil)
	all := before.Sum(0, in.Months)
	for i, d := range done {
		alone, _, err := c.With(in.Options[i : i+1])
		if err != nil {
			return out, err
		}
		e := YearEffect{Name: d.Name, Says: d.Says, Caution: d.Caution, Closes: all.Missing - core.Balance(alone, nil).Sum(0, in.Months).Missing, Cost: d.Cost, Arrives: d.Arrives, Lacks: append([]string{}, d.Lacks...)}
		if e.Closes > 1 && e.Cost != 0 {
			each := e.Cost / (e.Closes / 1000)
			e.Tonne = &each
		}
		out.Cost += d.Cost
		out.Effects = append(out.Effects, e)
	}
	out.With.reckon(with)
	out.With.Fitted = se.Farm.Strays != nil
	out.Before = sumOf(before.Sum(0, leastMonths))
	end := core.Balance(with, nil).Sum(0, in.Months)
	out.Missing, out.Without, out.Carried = end.Missing, all.Missing, end.Stands+end.Waits+end.Store
	return out, nil
}
