package forage

import "math"

// Foresight carries an estimate into days to come, along a path somebody foresees, and keeps apart what errs in each paddock by
// itself from what errs in all of them alike: the method's own error, what stock eat, and the weather of each week. On a farm's mean
// the first averages away and the second does not. docs/estimate.md derives it.
type Foresight struct {
	own    Estimate
	common []float64 // change of the logarithm of mass for one standard deviation of each cause
}

// Causes that all paddocks share; the weeks of weather follow them.
const (
	causeMethod = iota
	causeIntake
	causeSeason
	causeWeather
)

// What is not known of days to come, one standard deviation. All are assumptions, ours, held against simulated seasons.
const (
	weatherNoise = 0.30 // growth of a week against what the place and season let expect, share of it
	weatherStays = 0.50 // of it, what goes on into the next week
	seasonNoise  = 0.12 // growth of the whole time, as the season is early, late, or another than the curve's
)

// Foresee begins at what is believed now; shared is the share of its mass that the method errs by everywhere alike.
func Foresee(now Estimate, shared float64, weeks int) *Foresight {
	f := &Foresight{own: now, common: make([]float64, causeWeather+weeks)}
	f.common[causeMethod] = shared
	return f
}

// Step goes on to a later mass, kg DM/ha, through growth as in Estimate.Grow; what the path lacks of it was eaten. week counts the
// weeks from now.
func (f *Foresight) Step(to, peak, ceiling, dying, days float64, week int) {
	e := &f.own
	died, onMass, onFactor := e.grow(peak, ceiling, dying, days)
	e.carry(onMass, onFactor)
	e.drift(days)
	e.varMass += math.Pow(witherError*died/e.mass, 2)
	for k := range f.common {
		f.common[k] *= onMass
	}
	more := onFactor * e.Factor
	f.common[causeSeason] += seasonNoise * more
	// What is new in a week goes on into the next, weaker each time; the first holds what is going on already.
	for k := min(week, len(f.common)-causeWeather-1); k >= 0; k-- {
		fresh := weatherNoise
		if k > 0 {
			fresh *= math.Sqrt(1 - weatherStays*weatherStays)
		}
		f.common[causeWeather+k] += fresh * more
		if more *= weatherStays; math.Abs(more) < 1e-9 {
			break
		}
	}
	to = math.Max(1, to)
	if gone := e.mass - to; gone > 1e-9*to {
		larger := e.mass / to // the same error in kg is a larger share of what is left
		e.varMass *= larger * larger
		e.covariance *= larger
		for k := range f.common {
			f.common[k] *= larger
		}
		f.common[causeIntake] -= IntakeError * gone / to
	}
	e.mass = to
}

// HalfWidth is the 95 % half-width of what is foreseen, kg DM/ha.
func (f *Foresight) HalfWidth() float64 {
	sum := f.own.varMass
	for _, c := range f.common {
		sum += c * c
	}
	return 1.96 * f.own.mass * math.Sqrt(sum)
}

// Share adds the paddock to a mean, by its area, ha: what errs by itself to own, (kg DM)², and what all err by to common, kg DM.
func (f *Foresight) Share(area float64, own *float64, common []float64) {
	kg := area * f.own.mass
	*own += kg * kg * f.own.varMass
	for k, c := range f.common {
		common[k] += kg * c
	}
}

// Causes is how many causes are shared.
func (f *Foresight) Causes() int { return len(f.common) }
