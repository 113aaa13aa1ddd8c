package forage

import (
	"math"

	"fjell/core/quantity"
	"fjell/core/working"
)

// Guessed is what a walker guessed before measuring, and what was then measured, kg DM/ha.
type Guessed struct {
	Guess    float64
	Measured float64
}

// Off is the share by which a guess lies above what was measured; near tells whether it is within a tenth.
func (g Guessed) Off() (share float64, near bool) {
	share = g.Guess/g.Measured - 1
	return share, math.Abs(share) <= nearShare
}

// Sight is how well a walker's eye does.
type Sight struct {
	N      int     `json:"n"`
	Bias   float64 `json:"bias"`   // share by which guesses lie above what is measured; negative: below
	Spread float64 `json:"spread"` // standard deviation of the guesses about that, as a share
	Near   int     `json:"near"`   // guesses within a tenth
	Run    int     `json:"run"`    // guesses within a tenth one after the other, up to the last
	Best   int     `json:"best"`   // longest such run
	Level  Level   `json:"level"`
}

// Level is what an eye may be called.
type Level string

// The levels, from first to last.
const (
	NewEye     Level = "new"
	FairEye    Level = "fair"
	GoodEye    Level = "good"
	TrainedEye Level = "trained"
)

// Recent is how many of the latest guesses an eye is judged by: it is trained, so old guesses no longer tell.
const Recent = 20

// nearShare is how far off a guess may be to count as near.
const nearShare = 0.10

// leastEyeError is what no eye does better than: what it was held against errs too. Assumption, ours.
const leastEyeError = 0.08

// Error is how far the eye errs, one standard deviation as a share, bias and spread joined; nil where too few guesses tell.
func (s Sight) Error() *float64 {
	if s.Level == NewEye || s.Level == "" {
		return nil
	}
	v := math.Max(leastEyeError, math.Hypot(s.Bias, s.Spread))
	return &v
}

// JudgeEye tells bias and spread over the latest guesses, oldest first: the mean and standard deviation of
// ln(guess / measured). An eye is trained when twenty guesses have a bias within 5 % and a spread within 12 %, good
// within 10 and 18, fair within 20 and 30.
func JudgeEye(guesses []Guessed) (Sight, []working.Step, error) {
	var out Sight
	for _, g := range guesses {
		if g.Guess <= 0 || g.Measured <= 0 {
			return out, nil, quantity.Refuse("guess_kg_dm_ha", g.Guess, "a guess and a measurement above zero are needed to compare")
		}
		if _, near := g.Off(); near {
			out.Run++
			out.Best = max(out.Best, out.Run)
		} else {
			out.Run = 0
		}
	}
	recent := guesses[max(0, len(guesses)-Recent):]
	out.N, out.Level = len(recent), NewEye
	if out.N == 0 {
		return out, nil, nil
	}
	sum, squares := 0.0, 0.0
	for _, g := range recent {
		l := math.Log(g.Guess / g.Measured)
		sum += l
		squares += l * l
		if _, near := g.Off(); near {
			out.Near++
		}
	}
	n := float64(out.N)
	mean := sum / n
	out.Bias = math.Exp(mean) - 1
	if out.N > 1 {
		out.Spread = math.Sqrt(math.Max(0, squares-n*mean*mean) / (n - 1))
	}
	switch bias := math.Abs(out.Bias); {
	case out.N < 5:
	case out.N >= Recent && bias <= 0.05 && out.Spread <= 0.12:
		out.Level = TrainedEye
	case out.N >= 10 && bias <= 0.10 && out.Spread <= 0.18:
		out.Level = GoodEye
	case bias <= 0.20 && out.Spread <= 0.30:
		out.Level = FairEye
	}
	return out, []working.Step{
		working.New("Bias of the eye", "e^m − 1", out.Bias, quantity.Share, working.T("m", "mean of ln ( guess ÷ measured )", mean, quantity.Ratio)),
		working.New("Spread about it", "s", out.Spread, quantity.Share, working.T("s", "standard deviation of the same", out.Spread, quantity.Share),
			working.T("n", "latest guesses", n, quantity.Count)),
	}, nil
}
