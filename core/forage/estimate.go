package forage

import "math"

// Estimate is what is believed to stand in one paddock between walks: a Kalman filter on the natural logarithm of
// forage mass, with the paddock's growth factor as a second state that is never measured by itself but learned through
// mass. docs/estimate.md derives it. The zero value is not an estimate; begin with Believe.
type Estimate struct {
	Factor float64 // growth here against the curve

	mass                           float64 // kg DM/ha; the state is its logarithm, kept as it is to save taking logarithms
	varMass, covariance, varFactor float64 // of the logarithm, and of the factor
	taken                          float64 // kg DM/ha removed since stock came in: one error of intake covers it all
}

// What the filter holds to be usual. Shares are one standard deviation.
const (
	ProcessNoise = 0.05 // growth that strays from the curve, share of mass in a week
	FactorSpread = 0.20 // growth factors between paddocks nobody has learned yet
	factorDrift  = 0.02 // change of a factor in a week
	IntakeError  = 0.08 // what a mob eats, against the book
	leastFactor  = 0.35
	mostFactor   = 2.5
	// Far is how many standard deviations off a measurement must be to be asked about.
	Far = 3.0
)

// Believe begins an estimate at a mass, kg DM/ha, with a standard deviation as a share of it.
func Believe(mass, share float64) Estimate {
	return Estimate{mass: math.Max(1, mass), Factor: 1, varMass: share * share, varFactor: FactorSpread * FactorSpread}
}

// Mass is the forage mass believed in, kg DM/ha.
func (e *Estimate) Mass() float64 { return e.mass }

// Spread is the standard deviation of the mass, as a share of it.
func (e *Estimate) Spread() float64 { return math.Sqrt(e.varMass) }

// FactorSpread is the standard deviation of the growth factor.
func (e *Estimate) FactorSpread() float64 { return math.Sqrt(e.varFactor) }

// HalfWidth is the 95 % half-width of the mass, kg DM/ha. shared is the part of a method's error that stays the same
// from walk to walk, as a share: walking again does not average it away.
func (e *Estimate) HalfWidth(shared float64) float64 {
	return 1.96 * e.Mass() * math.Sqrt(e.varMass+shared*shared)
}

// Grow carries the estimate over so many days of undisturbed growth; peak is the peak rate of these days before the
// paddock's factor, kg DM/ha/day. It returns the mass grown, kg DM/ha (negative above the ceiling).
func (e *Estimate) Grow(peak, ceiling, days float64) float64 {
	before := e.mass
	after := before
	if peak > 0 && days > 0 {
		a := 4 * peak / ceiling * days
		decay := math.Exp(-a * e.Factor)
		after = ceiling / (1 + (ceiling/before-1)*decay)
		e.mass = after
		onMass, onFactor := after/before*decay, a*(1-after/ceiling)
		e.varMass = onMass*onMass*e.varMass + 2*onMass*onFactor*e.covariance + onFactor*onFactor*e.varFactor
		e.covariance = onMass*e.covariance + onFactor*e.varFactor
	}
	weeks := days / 7
	e.varMass += ProcessNoise * ProcessNoise * weeks
	e.varFactor += factorDrift * factorDrift * weeks
	return after - before
}

// Enter says that stock have come in: what they remove from here on shares one error of intake.
func (e *Estimate) Enter() { e.taken = 0 }

// Remove takes so much forage away, kg DM/ha; less than the mass that stands.
func (e *Estimate) Remove(kg float64) {
	before := e.mass
	after := math.Max(1, before-kg)
	onMass := before / after
	e.mass = after
	e.varMass *= onMass * onMass
	e.covariance *= onMass
	more := e.taken + kg
	e.varMass += IntakeError * IntakeError * (more*more - e.taken*e.taken) / (after * after)
	e.taken = more
}

// Measure corrects the estimate by a measured mass, kg DM/ha, whose standard deviation is a share of it. It returns by
// how many standard deviations the measurement lies off what was believed. One that is Far off is followed, for
// somebody stood there, but nothing is learned from it about growth.
func (e *Estimate) Measure(mass, share float64) (surprise float64) {
	off := math.Log(math.Max(1, mass) / e.mass)
	noise := share * share
	surprise = off / math.Sqrt(e.varMass+noise)
	if math.Abs(surprise) > Far {
		e.varMass += off * off
		e.covariance = 0
	}
	total := e.varMass + noise
	gainMass, gainFactor := e.varMass/total, e.covariance/total
	e.mass *= math.Exp(gainMass * off)
	e.Factor = math.Min(mostFactor, math.Max(leastFactor, e.Factor+gainFactor*off))
	e.varFactor -= gainFactor * e.covariance
	e.covariance *= 1 - gainMass
	e.varMass *= 1 - gainMass
	return surprise
}

// SplitError parts a method's error share into what is new on each walk (the walker, the dew, the leaf of the day) and
// what comes back with the same equation every time: half of the variance each. The second is never averaged away.
func SplitError(methodShare float64) (fresh, shared float64) {
	return methodShare / math.Sqrt2, methodShare / math.Sqrt2
}
