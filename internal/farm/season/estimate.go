package season

import (
	"time"

	"fjell/core/forage"
	"fjell/core/grazing"
	"fjell/core/rotation"
)

// CarriedMethod is the method of a measurement that a division made from what stood before.
const CarriedMethod = "carried"

// CutMethod is the method of a record that says what a cut left.
const CutMethod = "cut"

// MassView is an estimated forage mass, about x ± y, and where it comes from.
type MassView struct {
	Mass       float64    `json:"forage_mass_kg_dm_ha"`
	HalfWidth  float64    `json:"half_width_kg_dm_ha"`
	Guessed    bool       `json:"guessed"`
	MeasuredAt *time.Time `json:"measured_at" nullable:"true"`
	Looks      int        `json:"looks"` // walks and looks back it rests on
	Factor     float64    `json:"growth_factor_learned"`
	FactorHalf float64    `json:"growth_factor_half_width"`
	Sources    string     `json:"sources"` // where it comes from, in words
}

// OddView is a measurement that lies far outside what was believed, with the question it raises.
type OddView struct {
	ID        string    `json:"id"`
	PaddockID string    `json:"paddock_id"`
	Paddock   string    `json:"paddock"`
	At        time.Time `json:"at"`
	Believed  float64   `json:"believed_kg_dm_ha"`
	Measured  float64   `json:"measured_kg_dm_ha"`
	Question  string    `json:"question"`
}

// Leaves is how many new leaves a tiller has put out since stock left, where the sward counts by leaves and the weather
// of every day since is on record.
func (s *Season) Leaves(p int, st rotation.Standing) *float64 {
	sward := s.Paddocks[p].Sward
	if sward.LeafStage == nil || sward.Phyllochron == nil || sward.LeafBase == nil || st.LastLeft == nil {
		return nil
	}
	for _, m := range s.Grazers {
		if m.In == p {
			return nil
		}
	}
	return s.Weather.Leaves(s.Number(*st.LastLeft), s.Number(s.Now)-1, *sward.LeafBase, *sward.Phyllochron)
}

// Odd lists measurements that lie far outside what was believed and that nobody has spoken of.
func (s *Season) Odd(past rotation.Past) []OddView {
	out := []OddView{}
	for _, o := range past.Odd {
		i, ok := s.MeasurementAt[o.ID]
		if !ok || s.Measured[i].Answer != "" || o.At.Before(s.Now.AddDate(0, 0, -forage.DoubtDays)) {
			continue
		}
		m := s.Measured[i]
		v := OddView{ID: o.ID, PaddockID: m.PaddockID, Paddock: s.Names[m.PaddockID], At: o.At, Believed: o.Believed, Measured: o.Measured}
		v.Question = "More than growth can have made: another paddock, or another calibration?"
		if o.Surprise < 0 {
			v.Question = "Less than was left to grow: another paddock, another calibration, or did something eat it?"
		}
		out = append(out, v)
	}
	return out
}

// MassView tells of an estimate as the screens show it.
func (s *Season) MassView(st rotation.Standing) MassView {
	v := MassView{Mass: st.Mass, HalfWidth: st.HalfWidthAt(s.Now, st.Mass), Guessed: st.Guessed, Sources: st.Sources(s.Now, s.Weather != nil && len(s.Weather.Days) > 0)}
	if !st.Guessed {
		at := st.MeasuredAt
		v.MeasuredAt, v.Looks, v.Factor, v.FactorHalf = &at, st.Looks, st.Factor, st.FactorHalf
	}
	return v
}

// Readiness judges a paddock, left alone as it stands, against the limits it is grazed by.
func (s *Season) Readiness(p int, st rotation.Standing) (grazing.State, []grazing.Reason) {
	l := s.Limits(p)
	return s.Farm.Readiness(p, s.Look(p, st, l.Entry), l)
}

// Look is a paddock as it stands now, with what is known of it today, against the mass at which it is to be grazed.
func (s *Season) Look(p int, st rotation.Standing, entry float64) grazing.Look {
	look := s.Farm.Look(p, st, entry, s.Now)
	c := s.condition(p, st)
	look.TooWet, look.Leaves, look.LeafStage = c.TooWet, c.Leaves, c.LeafStage
	return look
}

// condition is what is known of a paddock today.
func (s *Season) condition(p int, st rotation.Standing) rotation.Condition {
	pad := s.Paddocks[p]
	c := rotation.Condition{Day: s.Number(s.Now), Leaves: s.Leaves(p, st)}
	c.TooWet = s.TooWet(pad.Wetness, s.Number(s.Now))
	if pad.Sward.LeafStage != nil {
		c.LeafStage = *pad.Sward.LeafStage
	}
	return c
}
