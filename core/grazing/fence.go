package grazing

import (
	"math"

	"fjell/core/quantity"
	"fjell/core/working"
)

// lostOnTheWay is the share of a fence's volts that may be gone at its far end; more tells of growth on the wire, a poor joint or a
// poor earth. Assumption, ours.
const lostOnTheWay = 0.3

// Fence judges what a fence was read at, kV, at its source and at its far end, against the least that holds the stock. nil: it is sound, or was
// not read. Volts are not energy: a reading holds for its hour and its place.
func Fence(source, end *float64, least float64) (State, *Reason) {
	read, at := end, "far end"
	if read == nil {
		read, at = source, "source"
	}
	if read == nil {
		return Ready, nil
	}
	if *read < least {
		r := Because("{E} at the "+at+", and {L} is the least that holds them: find the fault, switched off, before they go in", working.T("E", "read", *read, quantity.Kilovolt), working.T("L", "least", least, quantity.Kilovolt))
		return Stop, &r
	}
	if source != nil && end != nil && *source > 0 && *end < *source*(1-lostOnTheWay) {
		r := Because("{d} of {S} is lost on the way to the far end: growth on the wire, a poor joint, or a poor earth", working.T("d", "lost", *source-*end, quantity.Kilovolt),
			working.T("S", "at the source", *source, quantity.Kilovolt))
		return Mind, &r
	}
	return Ready, nil
}

// Counted holds a count through a gate against the books. nil: they agree.
func Counted(counted int, books float64) *Reason {
	n := int(math.Round(books))
	c, b := working.T("c", "counted", float64(counted), quantity.Head), working.T("n", "in the books", float64(n), quantity.Head)
	var r Reason
	switch {
	case counted < n:
		r = Because("{c} counted, {n} in the books: {d} missing. Look back along the fence and where they came from, and count again", c, b, working.T("d", "missing", float64(n-counted), quantity.Head))
	case counted > n:
		r = Because("{c} counted, {n} in the books: {d} too many. A neighbour's, a birth nobody wrote down, or counted twice?", c, b, working.T("d", "too many", float64(counted-n), quantity.Head))
	default:
		return nil
	}
	return &r
}

// DrinkAfter is within how many hours of a move somebody is to have seen stock drink. Assumption, ours: in heat it is sooner.
const DrinkAfter = 24

// Thirsty says that nobody has seen stock drink so many hours after they came; nil: they did, or nobody was asked.
func Thirsty(seen *bool, hours float64) *Reason {
	if seen == nil || *seen || hours > DrinkAfter {
		return nil
	}
	r := Because("nobody has seen them drink yet: stand at the trough until one does. A float or pipe that touches a hot wire shocks every drinker, and they thirst beside a full trough")
	return &r
}

// PassageIn is what was read and counted at a gate, as far as it was.
type PassageIn struct {
	SourceKV *float64 `json:"source_kv"`
	EndKV    *float64 `json:"end_kv"`
	LeastKV  float64  `json:"least_kv"`
	Counted  *int     `json:"counted"`
	Head     float64  `json:"head"` // by the books
}

// PassageOut is what speaks against it; nil: nothing.
type PassageOut struct {
	Fence *Reason `json:"fence"`
	Count *Reason `json:"count"`
}

// Passage judges a fence and a count while they are written down, as Today does afterwards.
func Passage(in PassageIn) (out PassageOut, err error) {
	_, out.Fence = Fence(in.SourceKV, in.EndKV, in.LeastKV)
	if in.Counted != nil {
		out.Count = Counted(*in.Counted, in.Head)
	}
	return out, nil
}
