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
	growthNoise  = 0.25  // growth of a week that strays from the curve and the weather on record, share of it
	ownNoise     = 0.015 // what else changes in a paddock, share of mass in a week
	FactorSpread = 0.20  // growth factors between paddocks nobody has learned yet
	factorDrift  = 0.02  // change of a factor in a week
	IntakeError  = 0.08  // what a mob eats, against the book
	witherError  = 0.5   // of what dies, share of it: frost, wet and wind differ from year to year
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
// paddock's factor, kg DM/ha/day; dying is the share of what stands that a day takes. It returns the mass grown (negative above the
// ceiling) and the mass that died, kg DM/ha.
func (e *Estimate) Grow(peak, ceiling, dying, days float64) (grown, died float64) {
	before := e.mass
	died, onMass, onFactor := e.grow(peak, ceiling, dying, days)
	e.carry(onMass, onFactor)
	e.drift(days)
	if days > 0 { // the weather of a week errs on one side: its days add up as they are
		e.varMass += math.Pow(growthNoise*onFactor*e.Factor, 2) * 7 / math.Max(days, 1)
	}
	e.varMass += math.Pow(witherError*died/e.mass, 2)
	return e.mass - before + died, died
}

// grow carries the mass alone, and tells how its logarithm afterwards moves with that before, and with the factor.
func (e *Estimate) grow(peak, ceiling, dying, days float64) (died, onMass, onFactor float64) {
	before := e.mass
	switch {
	case dying > 0 && days > 0:
		r := 4 * math.Max(0, peak) / ceiling
		e.mass, died = GrowAndDie(before, peak*e.Factor, ceiling, dying, days)
		a := r*e.Factor - dying
		exp, g := netGrowth(a, days)
		crowding := 1 + r*e.Factor*before/ceiling*g
		steeper := days * days / 2 // of the integral, for each bit that a grows
		if math.Abs(a*days) > 1e-6 {
			steeper = (days*exp - g) / a
		}
		return died, 1 / crowding, r*days - (r*before/ceiling)*(g+r*e.Factor*steeper)/crowding
	case peak > 0 && days > 0:
		a := 4 * peak / ceiling * days
		decay := math.Exp(-a * e.Factor)
		e.mass = ceiling / (1 + (ceiling/before-1)*decay)
		return 0, e.mass / before * decay, a * (1 - e.mass/ceiling)
	}
	return 0, 1, 0
}

// drift lets the paddock stray from what is reckoned, and its factor change.
func (e *Estimate) drift(days float64) {
	weeks := days / 7
	e.varMass += ownNoise * ownNoise * weeks
	e.varFactor += factorDrift * factorDrift * weeks
}

// carry takes the errors through growth: how much the logarithm of mass afterwards moves with that before, and with the factor.
func (e *Estimate) carry(onMass, onFactor float64) {
	e.varMass = onMass*onMass*e.varMass + 2*onMass*onFactor*e.covariance + onFactor*onFactor*e.varFactor
	e.covariance = onMass*e.covariance + onFactor*e.varFactor
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

// comesBack is the part of a method's error variance that comes back with the same equation every time: assumption, ours. Of half of
// it some is found out by what stock eat and what grows, so that the half that stays is smaller; see docs/estimate.md.
const comesBack = 0.4

// Cut says that everything was cut down to a mass, kg DM/ha, known to a share of it.
func (e *Estimate) Cut(mass, share float64) {
	e.mass, e.varMass, e.covariance = math.Max(1, mass), share*share, 0
}

// Break says that the next measurement is made by another method, meter or line: what came back with the old one, as a share, is an
// error of what is believed, and the step to the new one teaches nothing about growth.
func (e *Estimate) Break(shared float64) {
	e.varMass += shared * shared
	e.covariance = 0
}

// SplitError parts a method's error share into what is new on each walk (the walker, the dew, the leaf of the day) and what comes
// back every time. The second is never averaged away.
func SplitError(methodShare float64) (fresh, shared float64) {
	return methodShare * math.Sqrt(1-comesBack), methodShare * math.Sqrt(comesBack)
}
