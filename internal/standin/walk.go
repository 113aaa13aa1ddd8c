// Package standin holds simulated devices, so that what needs one can be tried and tested without it.
package standin

import (
	"math"
	"math/rand/v2"

	"fjell/core/land"
)

// Fix is one position of the simulated receiver.
type Fix struct {
	Longitude float64 `json:"longitude"`
	Latitude  float64 `json:"latitude"`
	AccuracyM float64 `json:"accuracy_m"`
	Seconds   float64 `json:"seconds"` // since the walk began
}

// Walk is a walk along the fence of a made-up piece of ground: a person's pace, a receiver that wobbles by two metres,
// loses its footing under some trees, says so, and leaps away once without saying so.
func Walk(plane land.Plane, corners []land.Point, seed uint64) []Fix {
	const pace, every = 1.3, 3.0 // m/s, s
	rng := rand.New(rand.NewPCG(seed, 77))
	var out []Fix
	drift := land.Point{}
	seconds := 0.0
	add := func(p land.Point, accuracy float64) {
		pos := plane.Inverse(p)
		out = append(out, Fix{pos[0], pos[1], accuracy, seconds})
	}
	for i, a := range corners {
		b := corners[(i+1)%len(corners)]
		steps := max(1, int(math.Hypot(b.X-a.X, b.Y-a.Y)/(pace*every)))
		for k := range steps {
			t := float64(k) / float64(steps)
			drift = land.Point{X: 0.9*drift.X + 0.5*rng.NormFloat64(), Y: 0.9*drift.Y + 0.5*rng.NormFloat64()}
			p := land.Point{X: a.X + t*(b.X-a.X) + drift.X, Y: a.Y + t*(b.Y-a.Y) + drift.Y}
			accuracy := 3 + 2*rng.Float64()
			if i == 1 && k > steps/3 && k < steps/2 { // under trees
				p.X, p.Y, accuracy = p.X+15*rng.NormFloat64(), p.Y+15*rng.NormFloat64(), 25+10*rng.Float64()
			}
			add(p, accuracy)
			seconds += every
			if i == 2 && k == steps/2 {
				add(land.Point{X: p.X + 180, Y: p.Y - 120}, 5)
				seconds += every
			}
		}
	}
	return out
}
