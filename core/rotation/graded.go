package rotation

import (
	"fmt"
	"math"

	"fjell/core/quantity"
	"fjell/core/rotation/plan"
	"fjell/core/working"
)

// SparedFigure is what the plan found costs less than the present one, kg DM, with its working.
func (g *Grade) SparedFigure() working.Figure {
	return g.less("What the plan found costs", "f", g.Found.Cost)
}

// MostFigure is the most that any plan at all can spare over the present one, kg DM, with its working.
func (g *Grade) MostFigure() working.Figure {
	c, b := g.Present.Cost.Total, g.Found.Bound
	return working.Of("a bound that is proven: no plan that keeps the rules costs less", costOf("What this plan costs", "c", g.Present.Cost),
		working.New("No plan spares more", "c − b", c-b, quantity.Kilogram, working.T("c", "what this plan costs", c, quantity.Kilogram),
			working.T("b", "below which no plan costs", b, quantity.Kilogram)))
}

func (g *Grade) less(label, symbol string, other plan.Cost) working.Figure {
	c := g.Present.Cost.Total
	return working.Of("dry matter as the planner counts it; what stands at the end counts to the good", costOf("What this plan costs", "c", g.Present.Cost),
		costOf(label, symbol, other), working.New("Spared", "c − "+symbol, c-other.Total, quantity.Kilogram,
			working.T("c", "what this plan costs", c, quantity.Kilogram), working.T(symbol, label, other.Total, quantity.Kilogram)))
}

// costOf is a cost as the sum of its parts.
func costOf(label, symbol string, c plan.Cost) working.Step {
	formula, terms := "", []working.Term{}
	for i, p := range c.Parts() {
		at, sign := fmt.Sprintf("%s%d", symbol, i+1), " + "
		if p.Kg < 0 {
			sign = " − "
		}
		if i == 0 && p.Kg >= 0 {
			sign = ""
		}
		formula += sign + at
		terms = append(terms, working.T(at, p.Name, math.Abs(p.Kg), quantity.Kilogram))
	}
	if formula == "" {
		formula = "0"
	}
	return working.New(label, formula, c.Total, quantity.Kilogram, terms...)
}

// ShortFigure is in which share of drawn futures somebody runs short on the present plan, with how they were drawn.
func (g *Grade) ShortFigure() working.Figure {
	r, s := g.Present.Risk, g.Problem.Strays
	n := float64(r.Futures)
	source := "assumed: too little weather is on record here to say how it strays"
	if g.fitted {
		source = "how the weather on record here strayed from the season's usual"
	}
	return working.Of(source,
		working.New("A day's growth strays from what is foreseen by", "w", s.Weather, quantity.Share, working.T("w", "weather, the same for all", s.Weather, quantity.Share)),
		working.New("A third of it is left after", "t", s.Days, quantity.Day, working.T("t", "how long weather lingers", s.Days, quantity.Day)),
		working.New("Masses stray together by", "m", s.Mass, quantity.Share, working.T("m", "what the method errs by everywhere", s.Mass, quantity.Share)),
		working.New("Somebody is short of feed in", "k ÷ n", r.ShortChance, quantity.Share, working.T("k", "futures in which somebody is", r.ShortChance*n, quantity.Count),
			working.T("n", "futures drawn", n, quantity.Count)))
}
