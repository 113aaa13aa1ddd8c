package grazing

import (
	"math"

	"fjell/core/forage"
	"fjell/core/quantity"
	"fjell/core/working"
)

// LookBackIn asks what was left says, as they leave: one figure, against the paddock as it was when they came.
type LookBackIn struct {
	Seen Seen     `json:"seen"`
	Here GateHere `json:"here"`
}

// LookBackOut holds what was left against what was to be left, and the stay against what was foretold.
type LookBackOut struct {
	Mass     float64  `json:"forage_mass_kg_dm_ha"`
	Over     float64  `json:"over_residual_kg_dm_ha"` // below 0: under it
	Later    *float64 `json:"later_days" nullable:"true"`
	Foretold float64  `json:"foretold_days"` // that the feed was to last
	Were     float64  `json:"stayed_days"`
	Gone     float64  `json:"gone_kg_dm_ha"`      // what stood, and grew, and does not any more
	Eaten    *float64 `json:"harvest_efficiency"` // of what is gone, by what they need; nil: nothing is gone
	Reason   Reason   `json:"reason"`
}

// underUsed is by how much of the residual more may be left before it is said: old top growth shades what comes.
const underUsed = 0.25

// LookBack says what was left means: grazed below the residual, what it costs in days of regrowth; well above it, what becomes of the top; and how much of what is
// gone they can have eaten.
func LookBack(in LookBackIn) (LookBackOut, error) {
	mass, err := in.Seen.Mass()
	if err != nil {
		return LookBackOut{}, err
	}
	h := in.Here
	if h.AreaHa <= 0 || h.U <= 0 || h.Ceiling <= 0 || h.Residual <= 0 {
		return LookBackOut{}, quantity.Refuse("here", nil, "the paddock they stood in is not known well enough for this")
	}
	out := LookBackOut{Mass: mass, Over: mass - h.Residual, Were: h.Stayed}
	out.Later = GateIn{Here: h}.option(MoveNow, mass).Later
	if h.Demand > 0 {
		out.Foretold = math.Max(0, h.Entered-h.Residual) * h.AreaHa * h.U / h.Demand
	}
	out.Gone = math.Max(0, forage.Grow(h.Entered, h.Peak, h.Ceiling, h.Stayed)-mass)
	if out.Gone > 0 {
		share := math.Min(1, h.Demand*h.Stayed/h.AreaHa/out.Gone)
		out.Eaten = &share
	}
	left, residual := working.T("M", "left", mass, quantity.ForageMass), working.T("R", "to be left", h.Residual, quantity.ForageMass)
	switch {
	case out.Over < -1 && out.Later != nil && *out.Later >= 0.5:
		out.Reason = Because("{M} are left where {R} were to be: it is back {d} later. Rest it longer, and leave sooner next time", left, residual, working.T("d", "later", *out.Later, quantity.Day))
	case out.Over < -1:
		out.Reason = Because("{M} are left where {R} were to be: rest it longer, and leave sooner next time", left, residual)
	case out.Over > underUsed*h.Residual:
		out.Reason = Because("{M} are left where {R} would do: what is left on top grows old and shades the next. Let others clean up behind them, top it, or stay longer next time", left, residual)
	default:
		out.Reason = Because("{M} are left, as it was to be: {R}", left, residual)
	}
	return out, nil
}
