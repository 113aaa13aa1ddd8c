package grazing

import "fjell/core/reference"

// Bite is what a way of grazing takes of a sward, said three ways: the mass that is entered and left, the heights of the same at medium
// cover, and the share of what stands that goes.
type Bite struct {
	Entry      float64  `json:"entry_kg_dm_ha"`
	Residual   float64  `json:"residual_kg_dm_ha"`
	EntryCm    *float64 `json:"entry_cm" nullable:"true"` // nil: height says nothing of the mass of this sward
	ResidualCm *float64 `json:"residual_cm" nullable:"true"`
	Taken      float64  `json:"taken_share"`
}

// Bite is what these limits take of a sward, entered where grazing is to begin.
func (l Limits) Bite(sward reference.Sward) Bite {
	l = l.Entered(l.Entry)
	b := Bite{Entry: l.Entry, Residual: l.Residual, Taken: 1 - l.Residual/l.Entry}
	if sward.ByHeight() {
		in, out := sward.HeightOf(l.Entry), sward.HeightOf(l.Residual)
		b.EntryCm, b.ResidualCm = &in, &out
	}
	return b
}
