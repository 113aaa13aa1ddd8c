package land

import (
	"math"

	"fjell/core/quantity"
)

// Fix is one position of a receiver on a walk along a fence.
type Fix struct {
	At       Position
	Accuracy float64 // metres, 0 where the receiver did not say
}

// Track is a boundary made from a walk, and what had to be done to it.
type Track struct {
	Ring   []Position // closed
	Spikes int        // fixes that leapt away and back, dropped
	Poor   int        // fixes the receiver itself called poor, dropped
	GapM   float64    // between the last step and the first, closed by a straight line
}

// Limits of a walked boundary.
const (
	PoorFixM   = 12.0 // a fix that may be farther off than this is refused
	simplifyM  = 1.5  // corners nearer than this to a straight line are the receiver's wobble
	leastStepM = 1.0
)

// FromTrack makes a closed boundary from a walked or driven track: poor fixes and spikes go, wobble is straightened,
// and the end is joined to the start.
func FromTrack(fixes []Fix) (Track, error) {
	var t Track
	if len(fixes) == 0 {
		return t, quantity.Refuse("track", nil, "the track is empty")
	}
	plane := NewPlane(fixes[0].At)
	var path Path
	for _, f := range fixes {
		if math.IsNaN(f.At[0]) || math.IsNaN(f.At[1]) || math.Abs(f.At[0]) > worldLimit || math.Abs(f.At[1]) > latitudeMax {
			return t, quantity.Refuse("track", nil, "a fix of the track is off the world")
		}
		if f.Accuracy > PoorFixM {
			t.Poor++
			continue
		}
		p := plane.Forward(f.At)
		if len(path) == 0 || distance(path[len(path)-1], p) >= leastStepM {
			path = append(path, p)
		}
	}
	for changed := true; changed; {
		path, changed = despike(path, &t.Spikes)
	}
	if len(path) < 3 {
		return t, quantity.Refuse("track", len(path), "too few good fixes for a boundary: at least three places are needed")
	}
	t.GapM = distance(path[0], path[len(path)-1])
	path = overlapCut(path)
	ring := simplifyRing(Ring(path))
	if len(ring) < 3 {
		return t, quantity.Refuse("track", len(ring), "the track is a line there and back: walk around the ground")
	}
	for _, p := range ring {
		t.Ring = append(t.Ring, plane.Inverse(p))
	}
	t.Ring = append(t.Ring, t.Ring[0])
	return t, nil
}

// despike drops fixes that leap away and come straight back: the way there and back is far longer than the way past.
func despike(p Path, spikes *int) (Path, bool) {
	out := p[:0:0]
	changed := false
	for i, pt := range p {
		if i > 0 && i < len(p)-1 && len(out) > 0 {
			a, b := out[len(out)-1], p[i+1]
			there := distance(a, pt) + distance(pt, b)
			if past := distance(a, b); there > 25 && there > 6*past {
				*spikes++
				changed = true
				continue
			}
		}
		out = append(out, pt)
	}
	return out, changed
}

// overlapCut ends a walk that went past its start where it came nearest to it.
func overlapCut(p Path) Path {
	best, end := 8.0, len(p)
	for i := len(p) * 3 / 4; i < len(p); i++ {
		if d := distance(p[i], p[0]); d < best {
			best, end = d, i+1
		}
	}
	if end > 3 && distance(p[end-1], p[0]) < 2*leastStepM {
		return p[:end-1]
	}
	return p[:end]
}

// simplifyRing keeps the corners that stand out (Douglas and Peucker 1973), from the two that lie farthest apart.
func simplifyRing(r Ring) Ring {
	far := 0
	for i := range r {
		if distance(r[0], r[i]) > distance(r[0], r[far]) {
			far = i
		}
	}
	if far == 0 {
		return nil
	}
	first := simplify(Path(r[:far+1]))
	second := simplify(append(append(Path(nil), r[far:]...), r[0]))
	return append(Ring(first[:len(first)-1]), second[:len(second)-1]...)
}

func simplify(p Path) Path {
	if len(p) < 3 {
		return p
	}
	worst, at := 0.0, 0
	for i := 1; i < len(p)-1; i++ {
		if d := distance(p[i], nearestOn(p[i], p[0], p[len(p)-1])); d > worst {
			worst, at = d, i
		}
	}
	if worst <= simplifyM {
		return Path{p[0], p[len(p)-1]}
	}
	left := simplify(p[:at+1])
	return append(left[:len(left):len(left)], simplify(p[at:])[1:]...)
}
