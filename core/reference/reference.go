// Package reference holds Fjell's starting figures: sward types, stock classes, growth curves, sampling protocols
// and cautions. They come from general public literature, each row says how sure it is, and a farm's own
// measurements always replace them.
package reference

import (
	"embed"
	"encoding/json"
	"fmt"
	"math"
	"sync"

	"fjell/core/forage"
	"fjell/core/quantity"
)

//go:embed data/*.json
var files embed.FS

// Range is a figure as low, typical and high.
type Range struct {
	Low     float64 `json:"low"`
	Typical float64 `json:"typical"`
	High    float64 `json:"high"`
}

// PlateLine turns compressed height in cm to kg DM/ha.
type PlateLine struct {
	Slope     float64 `json:"slope_kg_per_cm"`
	Intercept float64 `json:"intercept_kg"`
}

// Sward is a sward type: heights in cm, masses in kg DM/ha, growth in kg DM/ha/day.
type Sward struct {
	ID          string  `json:"id"`
	Name        string  `json:"name"`
	Season      string  `json:"season"` // kind of grass: cool, warm, tropical, both
	GrowthForm  string  `json:"growth_form"`
	Exponent    float64 `json:"height_weight_exponent"` // of the weight in the height, counted from the ground
	StartHeight float64 `json:"start_height_cm"`
	StopHeight  float64 `json:"stop_height_cm"`
	MassPerCm   struct {
		Open   float64 `json:"open"`
		Medium float64 `json:"medium"`
		Dense  float64 `json:"dense"`
	} `json:"mass_per_cm"`
	Plate       *PlateLine `json:"plate"`
	Residual    float64    `json:"residual_mass_kg_ha"`
	Ceiling     float64    `json:"ceiling_mass_kg_ha"`
	PeakGrowth  float64    `json:"peak_growth_kg_ha_day"`
	AnnualYield float64    `json:"annual_yield_t_ha"` // grown above ground in a year under fair management
	LegumeShare float64    `json:"legume_share_typical"`
	Response    *float64   `json:"nitrogen_response_kg_per_kg"` // kg DM a kg of nitrogen at a moderate rate in its season; nil: not known
	LeafStage   *float64   `json:"leaf_stage_at_grazing"`       // new leaves a tiller; nil: no guide for this sward
	Phyllochron *float64   `json:"phyllochron_degree_days"`     // degree-days a leaf
	LeafBase    *float64   `json:"base_temperature_c"`          // °C above which they count
	Rest        struct {
		Fast float64 `json:"fast"`
		Slow float64 `json:"slow"`
	} `json:"rest_days"` // in the best and the slow weeks of growth
	Stockpiling struct {
		Suited bool     `json:"suited"`
		Loss   *float64 `json:"loss_share_per_month"` // of standing mass, each month after growth has stopped
	} `json:"stockpiling"`
	Schools     []string           `json:"schools"`                  // ways of grazing that suit it, the usual one first
	HeightStick *bool              `json:"height_stick,omitempty"`   // false: a height says little about the mass
	BrowseLine  map[string]float64 `json:"browse_line_cm,omitempty"` // how high each species reaches leaf
	Hazards     []string           `json:"hazards"`
	GrowthCurve string             `json:"growth_curve"`
	Source      string             `json:"source"`
	Confidence  string             `json:"confidence"`
	Note        string             `json:"note"`
	Own         bool               `json:"own,omitempty"` // a farm's own row
}

// usualLoss is the share of standing mass lost each month where a sward does not say: assumption, ours.
const usualLoss = 0.15

// daysOfMonth is a twelfth of a year.
const daysOfMonth = 365.25 / 12

// DailyLoss is the share of what stands that a day takes once growth has stopped.
func (s Sward) DailyLoss() float64 {
	loss := usualLoss
	if s.Stockpiling.Loss != nil {
		loss = *s.Stockpiling.Loss
	}
	return -math.Log1p(-loss) / daysOfMonth
}

// ByHeight tells whether a height says enough about the mass for a stick to be of use.
func (s Sward) ByHeight() bool { return s.HeightStick == nil || *s.HeightStick }

// AtStart is the mass at the start height, medium cover, kg DM/ha.
func (s Sward) AtStart() float64 { return s.Residual + (s.StartHeight-s.StopHeight)*s.MassPerCm.Medium }

// HeightOf is the height at which so much stands at medium cover, cm: the other way round than AtStart.
func (s Sward) HeightOf(mass float64) float64 {
	return max(0, s.StopHeight+(mass-s.Residual)/s.MassPerCm.Medium)
}

// YieldOn is the sward's yearly yield, t DM/ha, where it follows another growth curve than its usual one: the same peak, held for
// more or less of the year.
func (s Sward) YieldOn(curve, usual forage.Curve) float64 {
	if usual.Fullness() == 0 {
		return s.AnnualYield
	}
	return s.AnnualYield * curve.Fullness() / usual.Fullness()
}

// shareOff is how far the figures of a row may lie off by its confidence, as a share of them.
var shareOff = map[string]float64{"high": 0.15, "medium": 1.0 / 3, "low": 0.5}

// Off is how far the row's figures may lie off, as a share of them: what its confidence means.
func (s Sward) Off() float64 {
	if off, ok := shareOff[s.Confidence]; ok {
		return off
	}
	return shareOff["low"]
}

// PerCm is the mass per cm above the stop height at a canopy cover, 0…1: open below 75 %, dense above 90 %.
func (s Sward) PerCm(cover float64) float64 {
	switch {
	case cover < 0.75:
		return s.MassPerCm.Open
	case cover > 0.9:
		return s.MassPerCm.Dense
	}
	return s.MassPerCm.Medium
}

// StockClass is a class of animals with what it usually weighs, eats and gains.
type StockClass struct {
	ID              string  `json:"id"`
	Name            string  `json:"name"`
	Species         string  `json:"species"`
	Enterprise      string  `json:"enterprise"`
	Stage           string  `json:"stage"`
	LiveWeight      Range   `json:"live_weight_kg"`
	IntakeShare     Range   `json:"intake_share"`
	DailyGain       float64 `json:"daily_gain_kg"`
	LivestockUnit   float64 `json:"livestock_unit_eu"` // units a head
	ParasiteProne   bool    `json:"parasite_prone"`
	AskNutritionist bool    `json:"ask_nutritionist"`
	MinimumFenceKV  float64 `json:"minimum_fence_kv"`
	Note            string  `json:"note"`
	Source          string  `json:"source"`
	Confidence      string  `json:"confidence"`
	BirthWeight     float64 `json:"birth_weight_kg,omitempty"`   // of young at foot
	GrazesFrom      float64 `json:"grazes_from_days,omitempty"`  // age up to which they live on milk alone
	GrazesFully     float64 `json:"grazes_fully_days,omitempty"` // age from which they eat the whole of the share
	BornWith        float64 `json:"born_with_kg,omitempty"`      // of late pregnancy: what leaves her at birth
}

// Protocol says how to sample by one method and how far the result can be trusted.
type Protocol struct {
	ID        string                          `json:"id"`
	Table     string                          `json:"table"`
	Name      string                          `json:"name"`
	Method    string                          `json:"method"`
	Readings  struct{ Min, Typical, Max int } `json:"readings_advised"`
	Pattern   string                          `json:"pattern"`
	Avoid     []string                        `json:"avoid"`
	BetweenCV Range                           `json:"between_reading_cv"`
	MethodCV  Range                           `json:"method_error_share"`
	Source    string                          `json:"source"`
}

// Caution is what may hurt at a moment of the work, what is usual against it, and whom to ask.
type Caution struct {
	ID          string   `json:"id"`
	Title       string   `json:"title"`
	Area        string   `json:"area"`
	AppliesTo   []string `json:"applies_to"`
	Watch       string   `json:"what_to_watch"`
	Precautions []string `json:"usual_precautions"`
	Ask         string   `json:"who_to_ask"`
	Trigger     Trigger  `json:"trigger"`
}

// Trigger is when a caution is due: every one of All holds and, where there are any, one of Any.
type Trigger struct {
	Words string      `json:"words"`
	All   []Condition `json:"variables"`
	Any   []Condition `json:"any_of"`
}

// Condition holds a variable against a value: a number, true or false, a word, a list of words, or the name of another variable.
type Condition struct {
	Name  string `json:"name"`
	Op    string `json:"op"` // ==, <, <=, >, >=, in (value lists words), has (the variable does)
	Value any    `json:"value"`
}

// Variable is what a condition may speak of.
type Variable struct {
	Name    string `json:"name"`
	Unit    string `json:"unit"`
	Meaning string `json:"meaning"`
}

// Routine is a list of steps in working order.
type Routine struct {
	ID        string   `json:"id"`
	Title     string   `json:"title"`
	AppliesTo []string `json:"applies_to"`
	Steps     []struct {
		Do       string   `json:"do"`
		Why      string   `json:"why"`
		Cautions []string `json:"cautions"`
		Record   string   `json:"record"`
	} `json:"steps"`
	Source string `json:"source"`
}

// GrowthCurve is the seasonal shape of growth in a climate.
type GrowthCurve struct {
	ID      string       `json:"id"`
	Name    string       `json:"name"`
	Climate string       `json:"climate"`
	Rates   forage.Curve `json:"monthly_relative_rate"`
}

// Library is all reference rows, in the order of their files.
type Library struct {
	Swards    []Sward
	Classes   []StockClass
	Parasites []Parasite
	Protocols []Protocol
	Cautions  []Caution
	Variables []Variable // of the cautions' conditions
	Routines  []Routine
	Curves    []GrowthCurve
	curves    map[string]forage.Curve
	harvest   []harvestRow
	Inputs    []Input
}

// harvestRow is the share of growth swallowed under a system, improved land by number of paddocks.
type harvestRow struct {
	Table    string `json:"table"`
	Land     string `json:"land"`
	Species  string `json:"species"`
	System   string `json:"system"`
	Paddocks struct{ Min, Max int }
	Stay     struct{ Min, Max float64 } `json:"stay_days"`
	Share    Range                      `json:"share_of_growth"`
}

// Parasite is a row on worms: how soon eggs infect, how long stock may stay, or when they may be back. Days are null where worms do
// not set them.
type Parasite struct {
	ID          string   `json:"id"`
	Kind        string   `json:"kind"` // development, longest_stay, return_interval and others that are read by people alone
	Name        string   `json:"name"`
	Hosts       []string `json:"hosts"`
	Temperature float64  `json:"mean_temperature_c"`
	Stay        *float64 `json:"longest_stay_days"`
	Infective   []struct {
		Temperature float64  `json:"mean_temperature_c"`
		Earliest    *float64 `json:"earliest"`
		Typical     *float64 `json:"typical"`
	} `json:"days_to_infective"`
	Season      string  `json:"season"`
	Shortest    float64 `json:"shortest_return_days"`
	LowRisk     float64 `json:"low_risk_return_days"`
	Note        string  `json:"note"`
	Advice      string  `json:"advice"`
	SeasonMeans string  `json:"season_means"`
}

// Load reads the embedded rows once. It panics only if the binary was built from broken files.
var Load = sync.OnceValue(func() *Library {
	lib := &Library{curves: map[string]forage.Curve{}}
	lib.Swards = rows[Sward]("swards")
	lib.Classes = rows[StockClass]("livestock")
	lib.Parasites = rows[Parasite]("parasites")
	for _, p := range rows[Protocol]("measuring") {
		if p.Table == "protocol" {
			lib.Protocols = append(lib.Protocols, p)
		}
	}
	lib.Cautions = rows[Caution]("cautions")
	lib.Variables = variables()
	lib.Routines = rows[Routine]("routines")
	lib.Inputs = rows[Input]("inputs")
	for _, r := range rows[harvestRow]("utilisation") {
		// Several moves a day is a system of its own, not a matter of the number of paddocks.
		if r.Table == "harvest_efficiency" && r.System != "several_a_day" && r.System != "daily" && r.System != "range_dormant" {
			lib.harvest = append(lib.harvest, r)
		}
	}
	for _, c := range rows[GrowthCurve]("growth_curves") {
		lib.curves[c.ID] = c.Rates
		lib.Curves = append(lib.Curves, c)
	}
	return lib
})

func rows[T any](name string) []T {
	raw, err := files.ReadFile("data/" + name + ".json")
	if err != nil {
		panic(err)
	}
	var doc struct{ Rows []T }
	if err := json.Unmarshal(raw, &doc); err != nil {
		panic(fmt.Errorf("%s: %w", name, err))
	}
	return doc.Rows
}

// variables are those that the cautions' own file explains.
func variables() []Variable {
	raw, err := files.ReadFile("data/cautions.json")
	if err != nil {
		panic(err)
	}
	var doc struct {
		Units struct{ Variables []Variable }
	}
	if err := json.Unmarshal(raw, &doc); err != nil {
		panic(fmt.Errorf("cautions: %w", err))
	}
	return doc.Units.Variables
}

// Sward finds a sward type.
func (l *Library) Sward(id string) (Sward, error) {
	for _, s := range l.Swards {
		if s.ID == id {
			return s, nil
		}
	}
	return Sward{}, quantity.Refuse("sward_id", id, "is not a sward type of the reference list")
}

// Class finds a stock class.
func (l *Library) Class(id string) (StockClass, error) {
	for _, c := range l.Classes {
		if c.ID == id {
			return c, nil
		}
	}
	return StockClass{}, quantity.Refuse("reference_id", id, "is not a class of the reference list")
}

// Curve finds a growth curve.
func (l *Library) Curve(id string) (forage.Curve, error) {
	c, ok := l.curves[id]
	if !ok {
		return c, quantity.Refuse("growth_curve", id, "is not a growth curve of the reference list")
	}
	return c, nil
}

// Protocol finds a sampling protocol.
func (l *Library) Protocol(id string) (Protocol, error) {
	for _, p := range l.Protocols {
		if p.ID == id {
			return p, nil
		}
	}
	return Protocol{}, quantity.Refuse("protocol", id, "is not a sampling protocol of the reference list")
}

// AtStage finds the class that animals of another become at a stage of their year: same species and enterprise. A stage
// that the reference does not have for them leaves them as they are.
func (l *Library) AtStage(of StockClass, stage string) StockClass {
	for _, c := range l.Classes {
		if c.Species == of.Species && c.Enterprise == of.Enterprise && c.Stage == stage {
			return c
		}
	}
	return of
}

// Weaned is the class that young at foot become: the lightest growing one of the same species and enterprise that is not at foot.
func (l *Library) Weaned(of StockClass) (out StockClass) {
	out = of
	for _, c := range l.Classes {
		if c.Species == of.Species && c.Enterprise == of.Enterprise && c.Stage == "growing" && c.BirthWeight == 0 && (out.ID == of.ID || c.LiveWeight.Typical < out.LiveWeight.Typical) {
			out = c
		}
	}
	return out
}

// grazesLike is the species whose harvest efficiency another's is taken to be, by the way it bites: assumption, ours.
var grazesLike = map[string]string{"mixed": "cattle", "buffalo": "cattle", "yak": "cattle", "bison": "cattle", "camels": "goats", "deer": "sheep",
	"reindeer": "sheep", "llamas": "sheep", "donkeys": "horses", "geese": "sheep", "pigs": "cattle"}

// HarvestEfficiency is the share of a year's growth that a species swallows on so many paddocks.
func (l *Library) HarvestEfficiency(species string, paddocks int, rangeland bool) (share float64, source string) {
	if like, ok := grazesLike[species]; ok {
		species = like
	}
	for _, r := range l.harvest {
		if (r.Land == "rangeland") != rangeland || !rangeland && r.Species != species || r.Paddocks.Min > paddocks {
			continue
		}
		share, source = r.Share.Typical, r.System // the last that fits is the one with most paddocks
	}
	return share, source
}

// Routine finds a routine.
func (l *Library) Routine(id string) (Routine, error) {
	for _, r := range l.Routines {
		if r.ID == id {
			return r, nil
		}
	}
	return Routine{}, quantity.Refuse("routine", id, "is not a routine of the reference list")
}

// Caution finds a caution.
func (l *Library) Caution(id string) (Caution, error) {
	for _, c := range l.Cautions {
		if c.ID == id {
			return c, nil
		}
	}
	return Caution{}, quantity.Refuse("caution", id, "is not a caution of the reference list")
}
