package forage

// Kinds of what happens to a fodder store.
const (
	FodderCut     = "cut"     // carried home
	FodderBought  = "bought"  //
	FodderSold    = "sold"    //
	FodderFed     = "fed"     //
	FodderLost    = "lost"    // spoiled, burnt, eaten by mice
	FodderCounted = "counted" // what is there, whatever was reckoned
)

// Lot is what comes into a fodder store, goes out of it, or is counted in it.
type Lot struct {
	Kind string
	Kg   float64 // DM
}

// Stored is what a fodder store holds after each lot, in the order in which they stand, kg DM. Below zero more went out than is known to have come in:
// something was not written down, and a count puts it right.
func Stored(lots []Lot) []float64 {
	out, holds := make([]float64, len(lots)), 0.0
	for i, l := range lots {
		switch l.Kind {
		case FodderCut, FodderBought:
			holds += l.Kg
		case FodderSold, FodderFed, FodderLost:
			holds -= l.Kg
		case FodderCounted:
			holds = l.Kg
		}
		out[i] = holds
	}
	return out
}
