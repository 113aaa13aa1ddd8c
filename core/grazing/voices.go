package grazing

import (
	"slices"

	"fjell/core/reference"
)

// Kinds of what needs minding.
const (
	MindFeed    = "feed"    // out of feed, grazed too low
	MindPlan    = "plan"    // what the plan runs into
	MindGround  = "ground"  // two mobs in one paddock
	MindCount   = "count"   // a count that is not the books'
	MindFence   = "fence"   // volts
	MindCaution = "caution" // a usual caution whose condition is met
	MindLook    = "look"    // what a look found
	MindMove    = "move"    // a move of the next day
	MindJob     = "job"     // a job whose day has passed
	MindWalk    = "walk"    // a walk is due, or a measurement is odd
	MindStock   = "stock"   // the books of the stock
	MindWeather = "weather" // too wet for hooves
)

// MindingKinds are all of them.
var MindingKinds = []string{MindFeed, MindPlan, MindGround, MindCount, MindFence, MindCaution, MindLook, MindMove, MindJob, MindWalk, MindStock, MindWeather}

// How experienced people are.
const (
	Beginner = "beginner"
	Some     = "some"
	OldHand  = "old_hand"
)

// Aims a farm can be after.
const (
	AimGrowth    = "growth"
	AimGain      = "gain"
	AimParasites = "parasites"
	AimSoil      = "soil"
	AimDrought   = "drought"
	AimLessHay   = "less_hay"
	AimLessWork  = "less_work"
)

// Aims are all of them.
var Aims = []string{AimGrowth, AimGain, AimParasites, AimSoil, AimDrought, AimLessHay, AimLessWork}

// served are the kinds of what needs minding that an aim rests on.
var served = map[string][]string{
	AimGrowth: {MindWalk, MindPlan}, AimGain: {MindFeed, MindWalk}, AimParasites: {MindLook, MindPlan}, AimSoil: {MindWeather, MindLook},
	AimDrought: {MindPlan, MindWalk}, AimLessHay: {MindPlan, MindWalk}, AimLessWork: {MindJob},
}

// Voices is which kinds of what needs minding speak first, and which are quiet and only counted.
type Voices struct {
	First []string `json:"first" nullable:"false"`
	Quiet []string `json:"quiet" nullable:"false"`
}

// UsualVoices is how a farm speaks to those who have not said how it should. Beginners hear first what hurts soonest: an empty paddock, a dead fence,
// a caution that is met. Old hands judge the ground by eye: what their eye tells them anyway is quiet, unless one of the farm's aims rests on it. What
// can hurt is quiet for nobody.
func UsualVoices(experience string, aims []string) Voices {
	v := Voices{First: []string{}, Quiet: []string{}}
	switch experience {
	case Beginner:
		v.First = append(v.First, MindFeed, MindFence, MindCaution)
	case OldHand:
		for _, kind := range []string{MindLook, MindMove, MindWalk, MindWeather} {
			if !slices.Contains(Served(aims), kind) {
				v.Quiet = append(v.Quiet, kind)
			}
		}
	}
	return v
}

// Served are the kinds of what needs minding that any of these aims rest on.
func Served(aims []string) []string {
	var out []string
	for _, aim := range aims {
		out = append(out, served[aim]...)
	}
	return out
}

// aimed are the schools that serve an aim best, the better first. Less work asks for few moves, soil and drought for what is left standing, parasites
// for clean ground under those that worms are hard on.
var aimed = map[string][]string{
	AimGrowth: {LeafResidual, StartStop}, AimGain: {LeafResidual, StartStop}, AimParasites: {CleanGround}, AimSoil: {TallLong, LeaveHalf},
	AimDrought: {TallLong, LeaveHalf}, AimLessHay: {TallLong, LeafResidual}, AimLessWork: {StartStop, LeaveHalf},
}

// UsualFor is the school by which a plan begins for stock on a sward: among those by which the sward is usually grazed the one that serves most of
// the farm's aims, the sward's first where none does. Clean ground is for a class that worms are hard on, whatever the sward's own schools are. It
// is a beginning; the plan keeps its own copy, and any other may be chosen.
func UsualFor(sward reference.Sward, aims []string, prone bool) School {
	if prone && slices.Contains(aims, AimParasites) {
		s, _ := FindSchool(CleanGround)
		return s
	}
	best, most := "", 0
	for _, key := range sward.Schools {
		serves := 0
		for _, aim := range aims {
			if slices.Contains(aimed[aim], key) && key != CleanGround {
				serves++
			}
		}
		if serves > most {
			best, most = key, serves
		}
	}
	if s, err := FindSchool(best); err == nil {
		return s
	}
	return UsualOn(sward)
}
