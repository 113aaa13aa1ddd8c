// Package measuring says what the readings of a walk come to: their statistics, and forage mass give or take, by the
// method they were taken with. It runs on the server and, where there is no signal, in the browser.
package measuring

import (
	"encoding/json"
	"fmt"
	"math"
	"strings"

	"fjell/core/forage"
	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/core/working"
)

// Input is what was read in a paddock by one method. Heights of different methods never meet in one mean: there is one
// method to an Input.
type Input struct {
	Method   forage.Method `json:"method" enum:"plate,plate_counter,stick,clip,plain,eye"`
	Readings []float64     `json:"readings" nullable:"false"`
	// Zones of the paddock, and the zone of each reading by its place in that list; none when they are left out.
	Zones    []Zone `json:"zones,omitempty"`
	ZoneOf   []int  `json:"zone_of,omitempty"`
	Wet      bool   `json:"wet,omitempty"`
	Frosty   bool   `json:"frosty,omitempty"`
	SwardID  string `json:"sward_id,omitempty"`
	LineName string `json:"line_name,omitempty"` // whose slope and intercept these are
	// Figures that turn readings into mass; those left out follow the sward.
	Slope     *float64 `json:"slope_kg_per_cm,omitempty"`
	Intercept *float64 `json:"intercept_kg,omitempty"`
	Cover     *float64 `json:"canopy_cover,omitempty"`
	PerCm     *float64 `json:"mass_per_cm,omitempty"`
	DryShare  *float64 `json:"dry_matter_share,omitempty"`
	Quadrat   *float64 `json:"quadrat_m2,omitempty"`
	// A plate with a counter: what it showed before and after, and the drops between.
	First *float64 `json:"first,omitempty"`
	Last  *float64 `json:"last,omitempty"`
	Drops *float64 `json:"drops,omitempty"`
	CmPer *float64 `json:"cm_per_count,omitempty"`
	// Fists stacked in the sward, as a check of sanity.
	Fists     *float64 `json:"fists,omitempty"`
	CmPerFist *float64 `json:"cm_per_fist,omitempty"`
	Guess     *float64 `json:"guess_kg_dm_ha,omitempty"`
	// EyeError is how far this walker's eye errs, one standard deviation as a share, where it has been held against enough
	// measurements; nil: as eyes usually do.
	EyeError *float64 `json:"-"`
}

// Zone is a part of a paddock that stands apart, with its share of the ground.
type Zone struct {
	Name  string  `json:"name"`
	Share float64 `json:"share"`
}

// ZoneMean is what was read in a zone.
type ZoneMean struct {
	Name string  `json:"name"`
	N    int     `json:"n"`
	Mass float64 `json:"forage_mass_kg_dm_ha"`
}

// View is what readings come to.
type View struct {
	Sample    forage.SampleOut `json:"sample"`
	Unit      quantity.Unit    `json:"unit"`
	Mass      working.Figure   `json:"mass"`
	HalfWidth float64          `json:"half_width_kg_dm_ha"`
	More      *int             `json:"more_for_ten_percent" nullable:"true"`
	Advised   int              `json:"readings_advised"`
	Further   int              `json:"more_advised"` // readings until that many
	Advice    string           `json:"advice"`
	Warnings  []string         `json:"warnings" nullable:"false"`
	ByZone    []ZoneMean       `json:"by_zone" nullable:"false"`
	Unread    []string         `json:"zones_unread" nullable:"false"`
	Hand      *forage.HandOut  `json:"hand,omitempty"`
	Figures   Figures          `json:"figures"`
	Shared    float64          `json:"shared_kg_dm_ha"` // of the half-width, what the method's own error brings
	Sampling  float64          `json:"-"`               // one standard deviation of the mean itself, kg DM/ha
}

// Figures are the numbers that turned readings into mass, kept with them.
type Figures map[string]float64

// The protocol behind each method.
var protocols = map[forage.Method]string{forage.Plate: "plate_walk", forage.PlateCounter: "plate_walk", forage.Stick: "height_and_cover",
	forage.Clip: "clip_pasture", forage.Plain: "eye_estimate", forage.Eye: "eye_estimate"}

// ProtocolOf is how to sample by a method on a sward.
func ProtocolOf(method forage.Method, sward reference.Sward) (reference.Protocol, error) {
	id, ok := protocols[method]
	if !ok {
		return reference.Protocol{}, quantity.Refuse("method", string(method), "must be plate, plate_counter, stick, clip, plain or eye")
	}
	if method == forage.Clip && strings.HasPrefix(sward.ID, "native_") {
		id = "clip_range"
	}
	return reference.Load().Protocol(id)
}

// UnsuitedPlate says why a plate should not be used on a sward, and what to use; empty where it fits.
func UnsuitedPlate(sward reference.Sward) string {
	if sward.Plate != nil {
		return ""
	}
	if sward.GrowthForm == "bunch_tall" || sward.GrowthForm == "mixed" {
		return "Tall bunches hold a plate up and it reads the stems, not the feed: clip, or measure height and cover."
	}
	return "A plate does not read " + sward.Name + ": measure height and cover, or clip."
}

// UnsuitedStick says why a height tells too little on a sward, and what to do instead; empty where it fits.
func UnsuitedStick(sward reference.Sward) string {
	if sward.ByHeight() {
		return ""
	}
	return "A height says little of what stands on " + sward.Name + ": clip a few frames, or judge by eye; how far it is grazed, key plants tell."
}

// wetShare is how much wider a method's error counts on wet or frozen leaf.
const wetShare = 1.5

// mostReadings is more than anybody walks in a paddock.
const mostReadings = 500

// Of works out what readings come to.
func Of(in Input, sward reference.Sward) (View, error) {
	var v View
	raw, err := json.Marshal(in)
	if err != nil {
		return v, quantity.Refuse("readings", nil, "these figures cannot be written down: %v", err)
	}
	if _, err := quantity.CheckJSON(raw); err != nil {
		return v, err
	}
	if why := UnsuitedStick(sward); why != "" && in.Method == forage.Stick {
		return v, quantity.Refuse("method", nil, "%s", why)
	}
	protocol, err := ProtocolOf(in.Method, sward)
	if err != nil {
		return v, err
	}
	steps := []working.Step{}
	between := protocol.BetweenCV.Typical
	if in.Method == forage.PlateCounter {
		// The counter gives the mean of its drops, not each of them: they are taken to spread as drops usually do.
		mean, step, err := counted(in)
		if err != nil {
			return v, err
		}
		steps = append(steps, step)
		in.Readings, in.ZoneOf = []float64{mean}, nil
		between /= math.Sqrt(*in.Drops)
	}
	if len(in.Readings) == 0 {
		return v, quantity.Refuse("readings", 0, "enter at least one reading")
	}
	if len(in.Readings) > mostReadings {
		return v, quantity.Refuse("readings", len(in.Readings), "at most %d readings in a paddock", mostReadings)
	}
	one, unit, figures, err := reader(in, sward)
	if err != nil {
		return v, err
	}
	masses := make([]float64, len(in.Readings))
	for i, r := range in.Readings {
		if unit == quantity.Centimetre {
			if verdict, p := quantity.Bands["height_cm"].Check(fmt.Sprintf("readings[%d]", i), r); verdict == quantity.Impossible {
				return v, p
			}
		}
		if masses[i], err = one(r); err != nil {
			return v, err
		}
	}
	v.Unit, v.Figures, v.Warnings, v.ByZone, v.Unread = unit, figures, []string{}, []ZoneMean{}, []string{}
	if v.Sample, _, err = forage.Sample(forage.SampleIn{Readings: in.Readings}); err != nil {
		return v, err
	}
	byMass, massSteps, err := forage.Sample(forage.SampleIn{Readings: masses})
	if err != nil {
		return v, err
	}
	for _, st := range massSteps {
		for i, t := range st.Terms {
			if t.Unit == quantity.None && t.Symbol != "t" && t.Symbol != "√n" {
				st.Terms[i].Unit = quantity.ForageMass
			}
		}
		steps = append(steps, working.New(st.Label+" of the masses", st.Formula, st.Value, quantity.ForageMass, st.Terms...))
	}
	if len(in.Zones) > 0 && len(in.ZoneOf) == len(in.Readings) {
		zoneSteps, err := v.zones(in, masses, &byMass)
		if err != nil {
			return v, err
		}
		steps = append(steps, zoneSteps...)
	}
	share := protocol.MethodCV.Typical
	if in.Method == forage.Eye && in.EyeError != nil {
		share = *in.EyeError
	}
	if in.Wet || in.Frosty {
		share *= wetShare
	}
	v.HalfWidth = forage.HalfWidth(byMass.Mean, byMass, share, between)
	v.Shared = 1.96 * share * byMass.Mean
	v.Sampling = forage.SamplingError(byMass.Mean, byMass, between)
	steps = append(steps,
		working.New("Method's own error, ± at 95 %", "1.96 × e × M", v.Shared, quantity.ForageMass,
			working.T("e", "error of the method", share, quantity.Share), working.T("M", "mean mass", byMass.Mean, quantity.ForageMass)),
		working.New("±, joined by root of squares", "√ ( a² + b² )", v.HalfWidth, quantity.ForageMass),
		working.New("Forage mass", "M", byMass.Mean, quantity.ForageMass, working.T("M", "mean of the masses", byMass.Mean, quantity.ForageMass)))
	source := protocol.Name
	if in.LineName != "" {
		source += "; line “" + in.LineName + "”"
	}
	v.Mass = working.Of(source+"; "+protocol.Source, steps...)
	v.Advised = protocol.Readings.Min
	v.Advice = "Keep off " + strings.ReplaceAll(strings.Join(protocol.Avoid[:min(2, len(protocol.Avoid))], ", "), "_", " ") + "."
	if in.Method == forage.PlateCounter {
		more := max(0, protocol.Readings.Min-int(*in.Drops))
		v.More, v.Sample.N = &more, int(*in.Drops)
	} else if v.Sample.ReadingsFor != nil {
		more := max(0, *v.Sample.ReadingsFor-v.Sample.N)
		v.More = &more
	}
	v.Further = max(0, v.Advised-v.Sample.N)
	v.warn(in)
	return v, v.hand(in, sward)
}

func counted(in Input) (float64, working.Step, error) {
	for _, f := range []struct {
		field string
		v     *float64
		say   string
	}{{"first", in.First, "what did the counter show before the first drop?"}, {"last", in.Last, "what does the counter show now?"},
		{"drops", in.Drops, "how many drops were that?"}, {"cm_per_count", in.CmPer, "how far does the plate travel a count, in cm? It is printed on it"}} {
		if f.v == nil {
			return 0, working.Step{}, quantity.Refuse(f.field, nil, "%s", f.say)
		}
	}
	zero, one := 0.0, 1.0
	_, steps, err := forage.Mass(forage.MassIn{Method: forage.PlateCounter, First: in.First, Last: in.Last, Drops: in.Drops, CmPer: in.CmPer, Slope: &one, Intercept: &zero})
	if err != nil {
		return 0, working.Step{}, err
	}
	return steps[0].Value, steps[0], nil
}

// zones puts the mean and the error by zones in the place of those over all readings, and looks for outliers within
// each zone: deep grass at the bottom is no outlier of the slope.
func (v *View) zones(in Input, masses []float64, byMass *forage.SampleOut) ([]working.Step, error) {
	samples := make([]forage.ZoneSample, len(in.Zones))
	where := make([][]int, len(in.Zones))
	for i, z := range in.Zones {
		samples[i] = forage.ZoneSample{Name: z.Name, Share: z.Share}
	}
	for i, z := range in.ZoneOf {
		if z < 0 || z >= len(in.Zones) {
			return nil, quantity.Refuse(fmt.Sprintf("zone_of[%d]", i), z, "there are %d zones here", len(in.Zones))
		}
		samples[z].Masses = append(samples[z].Masses, masses[i])
		where[z] = append(where[z], i)
	}
	mean, se, freedom, steps, unread, err := forage.ByZone(samples)
	if err != nil {
		return nil, err
	}
	v.Sample.OutlierIndex = []int{}
	for z, s := range samples {
		if len(s.Masses) == 0 {
			continue
		}
		out, _, err := forage.Sample(forage.SampleIn{Readings: s.Masses})
		if err != nil {
			return nil, err
		}
		v.ByZone = append(v.ByZone, ZoneMean{s.Name, out.N, out.Mean})
		for _, k := range out.OutlierIndex {
			v.Sample.OutlierIndex = append(v.Sample.OutlierIndex, where[z][k])
		}
	}
	byMass.Mean, byMass.SE, byMass.Freedom = mean, se, freedom
	v.Unread = append(v.Unread, unread...)
	return steps, nil
}

func (v *View) warn(in Input) {
	say := func(s string) { v.Warnings = append(v.Warnings, s) }
	switch {
	case in.Wet:
		say("Wet leaf lifts the plate and weighs in the bag: the error counts one and a half times.")
	case in.Frosty:
		say("Frozen leaf stands stiff and breaks underfoot: the error counts one and a half times. Walk when it has thawed.")
	}
	if in.Method == forage.Plate || in.Method == forage.PlateCounter {
		switch mean := v.Sample.Mean; {
		case mean > 25:
			say("Above 25 cm the plate rests on stems: measure height and cover, or clip.")
		case mean < 3:
			say("So short, the plate reads the roughness of the ground: a height or your eye tells more.")
		}
	}
	if len(v.Unread) > 0 {
		say("Not read yet: " + strings.Join(v.Unread, ", ") + ". Until then the other zones stand for it.")
	}
}

func (v *View) hand(in Input, sward reference.Sward) error {
	if in.Fists == nil {
		return nil
	}
	fist := 9.0
	if in.CmPerFist != nil {
		fist = *in.CmPerFist
	}
	cover := 0.85
	if in.Cover != nil {
		cover = *in.Cover
	}
	meters := map[string]float64{name(in.Method): v.Mass.Value}
	if in.Guess != nil {
		meters["eye"] = *in.Guess
	}
	out, err := forage.Hand(forage.HandIn{Fists: *in.Fists, CmPerFist: fist, PerCm: sward.PerCm(cover), Stop: sward.StopHeight, Residual: sward.Residual, Meters: meters})
	if err != nil {
		return err
	}
	v.Hand = &out
	return nil
}

func name(m forage.Method) string {
	switch m {
	case forage.PlateCounter:
		return "plate"
	case forage.Plain:
		return "figure"
	}
	return string(m)
}

// reader gives the function from one reading to forage mass for a method, with the unit read and the figures used.
func reader(in Input, sward reference.Sward) (func(float64) (float64, error), quantity.Unit, Figures, error) {
	pick := func(given *float64, usual float64) *float64 {
		if given != nil {
			return given
		}
		return &usual
	}
	run := func(m forage.MassIn) (float64, error) {
		out, _, err := forage.Mass(m)
		return out.Mass, err
	}
	switch in.Method {
	case forage.Plate, forage.PlateCounter:
		if sward.Plate == nil && (in.Slope == nil || in.Intercept == nil) {
			return nil, "", nil, quantity.Refuse("method", string(in.Method), "%s", UnsuitedPlate(sward))
		}
		line := reference.PlateLine{}
		if sward.Plate != nil {
			line = *sward.Plate
		}
		slope, intercept := pick(in.Slope, line.Slope), pick(in.Intercept, line.Intercept)
		figures := Figures{"slope_kg_per_cm": *slope, "intercept_kg": *intercept}
		if in.Method == forage.PlateCounter {
			figures["first"], figures["last"], figures["drops"], figures["cm_per_count"] = *in.First, *in.Last, *in.Drops, *in.CmPer
		}
		return func(r float64) (float64, error) {
			return run(forage.MassIn{Method: forage.Plate, Slope: slope, Intercept: intercept, Height: &r})
		}, quantity.Centimetre, figures, nil
	case forage.Stick:
		if in.Slope != nil && in.Intercept != nil {
			return func(r float64) (float64, error) {
				return run(forage.MassIn{Method: forage.Plate, Slope: in.Slope, Intercept: in.Intercept, Height: &r})
			}, quantity.Centimetre, Figures{"slope_kg_per_cm": *in.Slope, "intercept_kg": *in.Intercept}, nil
		}
		cover := pick(in.Cover, 0.85)
		if *cover < 0 || *cover > 1 {
			return nil, "", nil, quantity.Refuse("canopy_cover", *cover, "must be between 0 and 100 %%")
		}
		perCm := pick(in.PerCm, sward.PerCm(*cover))
		return func(r float64) (float64, error) {
				return forage.HeightMass(r, sward.StopHeight, sward.Residual, *perCm), nil
			}, quantity.Centimetre,
			Figures{"canopy_cover": *cover, "mass_per_cm": *perCm, "stop_height_cm": sward.StopHeight, "residual_kg_dm_ha": sward.Residual}, nil
	case forage.Clip:
		if in.Quadrat == nil {
			return nil, "", nil, quantity.Refuse("quadrat_m2", nil, "say how large your frame is")
		}
		if in.DryShare == nil {
			return nil, "", nil, quantity.Refuse("dry_matter_share", nil, "say how much of the fresh weight is dry matter: dry one clip to know")
		}
		return func(r float64) (float64, error) {
			return run(forage.MassIn{Method: forage.Clip, Wet: &r, DryShare: in.DryShare, Quadrat: in.Quadrat})
		}, quantity.Gram, Figures{"dry_matter_share": *in.DryShare, "quadrat_m2": *in.Quadrat}, nil
	}
	return func(r float64) (float64, error) { return r, nil }, quantity.ForageMass, Figures{}, nil
}
