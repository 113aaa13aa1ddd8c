package rotation

import (
	"math"
	"time"

	"fjell/core/land"
	"fjell/core/quantity"
	"fjell/core/working"
)

// Strip is a part of a stay: ground that a mob gets by moving the fence in front of it.
type Strip struct {
	From, Until time.Time
	land.Paced
	Need  float64 // kg DM, until the next
	Feed  float64 // kg DM above the residual on it, as it is paced
	Down  float64 // kg DM that rounding the pace down instead would be short
	Short float64 // kg DM that the ground does not have any more

	stands, residual, u float64 // kg DM/ha when it is opened and when they go on, and the share of it that is eaten
}

// Figure is how far the front fence moves, with its working.
func (s Strip) Figure() working.Figure {
	feed := math.Max(0, s.stands-s.residual) * s.u
	ground := s.Need / math.Max(1, feed)
	g := working.T("A", "ground", ground, quantity.Hectare)
	return working.Of("what stands there when it is opened, by the shape of the paddock",
		working.New("Feed on a hectare", "( M − R ) × u", feed, quantity.ForageMass, working.T("M", "stands there then", s.stands, quantity.ForageMass), working.T("R", "to be left", s.residual, quantity.ForageMass),
			working.T("u", "eaten, of what is taken", s.u, quantity.Share)),
		working.New("Ground they need until the next move", "N ÷ f", ground, quantity.Hectare, working.T("N", "they eat until then", s.Need, quantity.Kilogram), working.T("f", "feed on a hectare", feed, quantity.ForageMass)),
		working.New("That far into the paddock", "as far as A reaches", s.ExactM, quantity.Metre, g),
		working.New("Paced out, rounded up", "l to the next whole metre", s.PacedM, quantity.Metre, working.T("l", "that far", s.ExactM, quantity.Metre)))
}

// StripsIn asks how a stay goes in strips.
type StripsIn struct {
	Direction float64  // in which the fences run, degrees clockwise from north
	Reverse   bool     // begin at the other end
	Left      *float64 // kg DM/ha that was left on the last strip; nil: nobody looked
}

// Strips lays a stay out in strips, one for every move hour in it: as much ground as feeds the mob until the next, above what is to be left, by
// what stands there when it is opened. What was left on the last strip says what they really take, and all that follow get longer or shorter
// by it. Feed is counted on ground nobody has stood on yet: strips behind want a back fence before stock bite the regrowth.
func (f Farm) Strips(m Mob, v Visit, factor float64, region land.Region, in StripsIn) ([]Strip, error) {
	really := 1.0
	if in.Left != nil {
		kg := func(x float64) quantity.Said { return quantity.Said{Value: x, Unit: quantity.ForageMass} }
		if *in.Left < 0 || *in.Left >= v.MassIn {
			return nil, quantity.Refuse("left_kg_dm_ha", kg(*in.Left), "must be at least none and less than the %s that stood there", kg(v.MassIn))
		}
		really = (v.MassIn - *in.Left) / math.Max(1, v.MassIn-v.Limits.Residual)
	}
	if v.MassIn <= v.Limits.Residual {
		return nil, quantity.Refuse("enter_at", nil, "nothing stands above what is to be left: there is nothing to strip")
	}
	days := f.days([]Mob{m}, v.Enter, v.Leave)
	alone := newRunner(f.only(v.Paddock), nil, []Standing{{Mass: v.MassIn, Factor: factor}}, &almanac{midnights: days.midnights, curve: days.curve[v.Paddock : v.Paddock+1],
		share: days.share, sum: days.sum, dying: days.dying}, v.Enter)
	pad := f.Paddocks[v.Paddock]
	var out []Strip
	var areas, perHa []float64
	for at := v.Enter; at.Before(v.Leave); {
		next := f.NextSlot(at)
		if next.After(v.Leave) {
			next = v.Leave
		}
		alone.advance(at)
		need := days.demandOver(0, at, next) * really
		feed := (alone.mass[0] - v.Limits.Residual) * v.Limits.U
		out = append(out, Strip{From: at, Until: next, Need: need, stands: alone.mass[0], residual: v.Limits.Residual, u: v.Limits.U})
		areas, perHa = append(areas, need/math.Max(1, feed)), append(perHa, math.Max(0, feed))
		at = next
	}
	// The paddock's area is the record's; the region is where it lies.
	scale := region.AreaHa() / pad.AreaHa
	for i := range areas {
		areas[i] *= scale
	}
	paced, err := land.Pace(region, areas, in.Direction, in.Reverse)
	if err != nil {
		return nil, err
	}
	for i := range out {
		s := &out[i]
		if i >= len(paced) {
			s.Short = s.Need
			continue
		}
		s.Paced = paced[i]
		s.Feed = paced[i].AreaHa / scale * perHa[i]
		s.Down = paced[i].DownHa / scale * perHa[i]
		s.Short = paced[i].MissingHa / scale * perHa[i]
	}
	return out, nil
}
