package grazing

import (
	"fjell/core/quantity"
	"fjell/core/working"
)

// Ground is what covers a paddock, as shares of its ground seen from above; nil: nobody looked.
type Ground struct {
	Green  *float64 `json:"green_share,omitempty"`
	Litter *float64 `json:"litter_share,omitempty"`
	Bare   *float64 `json:"bare_share,omitempty"`
	Legume *float64 `json:"legume_share,omitempty"` // of the sward
	Forb   *float64 `json:"forb_share,omitempty"`   // of the sward
}

// over is how far shares of one ground may come to more than all of it: they are judged by eye.
const over = 0.05

// Check refuses a ground with more than all of it.
func (g Ground) Check() error {
	sum := 0.0
	for _, part := range []*float64{g.Green, g.Litter, g.Bare} {
		if part != nil {
			sum += *part
		}
	}
	if sum > 1+over {
		return quantity.Refuse("bare_share", quantity.Said{Value: sum, Unit: quantity.Share}, "green, litter and bare ground are parts of the same ground: together at most %s", quantity.Said{Value: 1, Unit: quantity.Share})
	}
	return nil
}

// hair is below what an eye tells apart, and above what adding shares up leaves over.
const hair = 1e-6

// GroundTarget is what a farm wants its ground to be like; nil: it does not say. It is the farm's own, not a mark that others give it.
type GroundTarget struct {
	Cover      *float64 `json:"cover_least,omitempty"`  // green and litter together
	Bare       *float64 `json:"bare_most,omitempty"`    // of the ground
	LegumeFrom *float64 `json:"legume_from,omitempty"`  // of the sward
	LegumeTo   *float64 `json:"legume_until,omitempty"` // of the sward
}

// Check refuses a target that no ground can meet.
func (t GroundTarget) Check() error {
	for field, v := range map[string]*float64{"cover_least": t.Cover, "bare_most": t.Bare, "legume_from": t.LegumeFrom, "legume_until": t.LegumeTo} {
		if v != nil && !(*v >= 0 && *v <= 1) {
			return quantity.Refuse(field, *v, "must be 0 to 100 %%")
		}
	}
	if t.LegumeFrom != nil && t.LegumeTo != nil && *t.LegumeFrom > *t.LegumeTo {
		return quantity.Refuse("legume_until", quantity.Said{Value: *t.LegumeTo, Unit: quantity.Share}, "must not lie below the %s it begins at", quantity.Said{Value: *t.LegumeFrom, Unit: quantity.Share})
	}
	return nil
}

// Against holds a ground against what the farm wants of it. What nobody looked at, and what the farm does not say, is held against nothing.
func (g Ground) Against(t GroundTarget) []Reason {
	out := []Reason{}
	say := func(text string, is, want float64) {
		out = append(out, Because(text, working.T("v", "seen", is, quantity.Share), working.T("w", "the farm's own target", want, quantity.Share)))
	}
	if t.Cover != nil && g.Green != nil && g.Litter != nil && *g.Green+*g.Litter < *t.Cover-hair {
		say("ground covered {v}, your own least is {w}: leave more, and rest it longer", *g.Green+*g.Litter, *t.Cover)
	}
	if t.Bare != nil && g.Bare != nil && *g.Bare > *t.Bare+hair {
		say("bare ground {v}, your own most is {w}: leave more, and rest it longer", *g.Bare, *t.Bare)
	}
	if g.Legume != nil && t.LegumeFrom != nil && *g.Legume < *t.LegumeFrom {
		say("legumes {v} of the sward, you want at least {w}: graze before it shades them, and hold nitrogen back", *g.Legume, *t.LegumeFrom)
	}
	if g.Legume != nil && t.LegumeTo != nil && *g.Legume > *t.LegumeTo {
		say("legumes {v} of the sward, you want at most {w}: mind the bloat window", *g.Legume, *t.LegumeTo)
	}
	return out
}
