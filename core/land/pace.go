package land

import (
	"math"

	"fjell/core/quantity"
)

// Paced is a strip whose front fence is moved by whole metres, as one paces it out.
type Paced struct {
	ExactM      float64 // how far the front fence would have to move
	PacedM      float64 // that, rounded up
	AreaHa      float64 // of the strip as it is paced; of the last as far as the ground goes
	DownHa      float64 // how much less than asked for it would be, rounded down instead
	MissingHa   float64 // what the ground does not have of it any more
	FrontFenceM float64 // length of the fence in front of it; 0 where the ground ends
}

// mostPaced is the largest number of strips that one paddock is paced into.
const mostPaced = 200

// Pace cuts ground into strips of asked areas, hectares, one after the other from the left of the direction in which the fences run, or
// from the right when reversed. Each front fence is moved by whole metres, rounded up: too little is short of feed, a step too
// much is not. What the one before got too much is not taken from the next. Strips past the end of the ground are left out.
func Pace(g Region, areas []float64, direction float64, reverse bool) ([]Paced, error) {
	s := newSweep(g, nil, direction)
	if s.total <= 0 {
		return nil, nothingThere()
	}
	if len(areas) > mostPaced {
		return nil, quantity.Refuse("strips", len(areas), "a paddock is paced into at most %d strips", mostPaced)
	}
	across := s.high - s.low
	behind := func(m float64) float64 { // what lies behind a fence so many metres in, m²
		if reverse {
			return s.total - s.leftOf(s.high-m)
		}
		return s.leftOf(s.low + m)
	}
	fenceFor := func(area float64) float64 {
		if reverse {
			return s.high - s.lineAt(s.total-area)
		}
		return s.lineAt(area) - s.low
	}
	const whole = 1e-6 // metres over a whole one that nobody paces
	var out []Paced
	at := 0.0
	for _, ha := range areas {
		had, asked := behind(at), ha*metresSquared
		if s.total-had < hair*s.total {
			break
		}
		p := Paced{MissingHa: math.Max(0, had+asked-s.total) / metresSquared}
		p.ExactM = fenceFor(math.Min(s.total, had+asked)) - at
		p.PacedM = math.Min(math.Ceil(p.ExactM-whole), across-at)
		if p.MissingHa == 0 {
			p.DownHa = math.Max(0, had+asked-behind(at+math.Floor(p.ExactM+whole))) / metresSquared
		}
		at += p.PacedM
		p.AreaHa = (behind(at) - had) / metresSquared
		if x := s.low + at; at < across-whole {
			if reverse {
				x = s.high - at
			}
			p.FrontFenceM = s.fenceM([]float64{x})
		}
		out = append(out, p)
	}
	return out, nil
}
