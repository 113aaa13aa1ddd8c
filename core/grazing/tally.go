package grazing

import (
	"slices"
	"time"

	"fjell/core/quantity"
	"fjell/core/working"
)

// Where the ungrazed plants of a tally stand.
const (
	UngrazedHere      = "here"
	UngrazedNeighbour = "neighbour"
	UngrazedCage      = "cage"
)

// TallyPlants is how many plants of each kind make a mean that a mob is moved by.
const TallyPlants = 30

// mostTallied is how many of each kind one tally takes; more is a slip of the keypad.
const mostTallied = 200

// Tally is a count of grazed and ungrazed plants of one key species: leaf, not seed heads; the same day and the same stage of growth.
type Tally struct {
	Species  string    `json:"species"` // the key species, as people here call it
	Grazed   []float64 `json:"grazed_cm" nullable:"false"`
	Ungrazed []float64 `json:"ungrazed_cm" nullable:"false"`
	Exponent float64   `json:"height_weight_exponent"`
	Limit    float64   `json:"limit"` // by weight
	From     string    `json:"ungrazed_from" enum:"here,neighbour,cage"`
}

// Check refuses a tally that measures nothing, or mixes what is not to be compared.
func (t Tally) Check() error {
	if n := len([]rune(t.Species)); n == 0 || n > 80 {
		return quantity.Refuse("species", nil, "name the species you measured, in 1 to 80 letters: plants of several make no mean")
	}
	if t.From != UngrazedHere && t.From != UngrazedNeighbour && t.From != UngrazedCage {
		return quantity.Refuse("ungrazed_from", t.From, "must be here, neighbour or cage")
	}
	for field, plants := range map[string][]float64{"grazed_cm": t.Grazed, "ungrazed_cm": t.Ungrazed} {
		if len(plants) > mostTallied {
			return quantity.Refuse(field, len(plants), "at most %d plants in one tally", mostTallied)
		}
	}
	_, _, err := Utilisation(UtilisationIn{t.Ungrazed, t.Grazed, t.Exponent, t.Limit})
	return err
}

// Tallied is a tally at a time.
type Tallied struct {
	At time.Time `json:"at"`
	Tally
}

// TalliesIn are the tallies of one stay, the latest being judged.
type TalliesIn struct {
	Entered time.Time `json:"entered_at"` // when the mob came: nothing was used then
	Tallies []Tallied `json:"tallies" nullable:"false"`
}

// TalliesOut is what the latest tally says.
type TalliesOut struct {
	ByHeight float64        `json:"use_by_height"`
	ByWeight float64        `json:"use_by_weight"`
	Over     bool           `json:"over"` // strictly above the limit: stock out
	Few      int            `json:"few"`  // plants that are still wanted, of both kinds
	Out      *time.Time     `json:"out_at" nullable:"true"`
	Reason   Reason         `json:"reason"`
	Steps    []working.Step `json:"steps" nullable:"false"`
}

// Tallies judges the latest tally of a stay. Use is compared with the limit by weight alone: a share of height is no share of weight. The day of removal
// is where use reaches the limit at the pace of the last two tallies of the same species; of the first, at the pace since the mob came.
func Tallies(in TalliesIn) (out TalliesOut, err error) {
	if len(in.Tallies) == 0 {
		return out, quantity.Refuse("tallies", 0, "measure plants first")
	}
	all := slices.Clone(in.Tallies)
	slices.SortStableFunc(all, func(a, b Tallied) int { return a.At.Compare(b.At) })
	last := all[len(all)-1]
	used, steps, err := Utilisation(UtilisationIn{last.Ungrazed, last.Grazed, last.Exponent, last.Limit})
	if err != nil {
		return out, err
	}
	out = TalliesOut{ByHeight: used.ByHeight, ByWeight: used.ByWeight, Over: used.Over, Steps: steps,
		Few: max(0, TallyPlants-len(last.Grazed)) + max(0, TallyPlants-len(last.Ungrazed))}
	w, l := working.T("w", "used by weight", used.ByWeight, quantity.Share), working.T("l", "limit by weight", last.Limit, quantity.Share)
	if out.Over {
		out.Reason = Because("{w} of the weight of "+last.Species+" is used, above the limit of {l}: stock out", w, l)
		return out, nil
	}
	from, usedThen := in.Entered, 0.0
	for _, t := range slices.Backward(all[:len(all)-1]) {
		if t.Species != last.Species || !t.At.Before(last.At) || t.At.Before(in.Entered) {
			continue
		}
		then, _, err := Utilisation(UtilisationIn{t.Ungrazed, t.Grazed, t.Exponent, t.Limit})
		if err != nil {
			return out, err
		}
		from, usedThen = t.At, then.ByWeight
		break
	}
	days := last.At.Sub(from).Hours() / 24
	if pace := (used.ByWeight - usedThen) / days; days > 0 && pace > 0 {
		left := (last.Limit - used.ByWeight) / pace
		at := last.At.Add(time.Duration(left * 24 * float64(time.Hour)))
		out.Out = &at
		out.Steps = append(out.Steps, working.New("Days to the limit", "(l − w) ÷ ((w − v) ÷ d)", left, quantity.Day, l, w,
			working.T("v", "used at the tally before, or on entry", usedThen, quantity.Share), working.T("d", "days between", days, quantity.Day)))
		out.Reason = Because("{w} of the weight of "+last.Species+" is used, of a limit of {l}: at this pace it is reached in {n}", w, l, working.T("n", "days to the limit", left, quantity.Day))
		return out, nil
	}
	out.Reason = Because("{w} of the weight of "+last.Species+" is used, of a limit of {l}: room left", w, l)
	return out, nil
}
