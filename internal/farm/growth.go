package farm

import (
	"context"
	"fmt"
	"math"
	"sort"
	"time"

	"fjell/core/forage"
	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/core/rotation"
	"fjell/core/working"
	"fjell/internal/store"
)

// GrowthDial sets growth against what stock eat: the farm's, or one mob's on its own ground.
type GrowthDial struct {
	Name      string          `json:"name"`
	MobID     string          `json:"mob_id"` // empty: the farm
	State     forage.State    `json:"state" enum:"above,watch,act"`
	Growth    *working.Figure `json:"growth,omitempty"` // nil until two walks were made
	BreakEven *working.Figure `json:"break_even,omitempty"`
	Walks     []WalkGrowth    `json:"walks" nullable:"false"`
	Sentence  string          `json:"sentence"`
	Most      float64         `json:"scale_most_kg_dm_ha_day"` // where the dial ends
}

// WalkGrowth is growth measured up to a walk.
type WalkGrowth struct {
	At   time.Time `json:"at"`
	Rate float64   `json:"growth_kg_dm_ha_day"`
	N    int       `json:"paddocks"`
}

// SwardGrowth is growth on one sward up to the last walk, against what its curve expects.
type SwardGrowth struct {
	SwardID  string  `json:"sward_id"`
	Name     string  `json:"name"`
	Rate     float64 `json:"growth_kg_dm_ha_day"`
	Expected float64 `json:"expected_kg_dm_ha_day"`
	Factor   float64 `json:"growth_factor_learned"` // mean of its paddocks
	N        int     `json:"paddocks"`
	Curve    string  `json:"curve"` // the growth curve it follows on this farm
}

// CurveInput chooses the growth curve that a sward follows on a farm.
type CurveInput struct {
	SwardID string `json:"sward_id"`
	Curve   string `json:"curve" doc:"empty: the sward's usual one"`
}

// SetCurve chooses the growth curve that a sward follows on this farm: the climate's, where it is not the usual one.
func (s *Service) SetCurve(ctx context.Context, a Actor, version int, in CurveInput) (GrowthView, error) {
	lib := reference.Load()
	if _, err := lib.Sward(in.SwardID); err != nil {
		return GrowthView{}, err
	}
	if in.Curve != "" {
		if _, err := lib.Curve(in.Curve); err != nil {
			return GrowthView{}, quantity.Refuse("curve", in.Curve, "is not a growth curve of the reference list")
		}
	}
	err := s.write(ctx, a, request{"", "curve", []any{version, in}}, func(tx *writing) error {
		if err := tx.bumpFarm(version); err != nil {
			return err
		}
		row := tx.farm
		curves := map[string]string{}
		for sward, curve := range row.Curves.V {
			curves[sward] = curve
		}
		if curves[in.SwardID] = in.Curve; in.Curve == "" {
			delete(curves, in.SwardID)
		}
		return tx.Model(&store.Farm{}).Where("id = ?", a.FarmID).Update("curves", store.JSON[map[string]string]{V: curves}).Error
	})
	return after(err, func() (GrowthView, error) { return s.Growth(ctx, a) })
}

// DoubtView names a walk that likely read wrong.
type DoubtView struct {
	MeasurementID string    `json:"measurement_id"`
	PaddockID     string    `json:"paddock_id"`
	Paddock       string    `json:"paddock"`
	At            time.Time `json:"at"`
	High          bool      `json:"high"`
	Sentence      string    `json:"sentence"`
}

// GrowthView is what grew between the walks.
type GrowthView struct {
	Version int           `json:"version"` // of the farm's settings, the curves among them
	Farm    GrowthDial    `json:"farm"`
	Mobs    []GrowthDial  `json:"mobs" nullable:"false"`
	Swards  []SwardGrowth `json:"swards" nullable:"false"`
	Doubts  []DoubtView   `json:"doubts" nullable:"false"`
}

// Growth is what grew between the walks, by sward and farm, against break-even growth.
func (s *Service) Growth(ctx context.Context, a Actor) (GrowthView, error) {
	se, err := s.season(ctx, a)
	if err != nil {
		return GrowthView{}, err
	}
	return se.growth(), nil
}

// growthDays is how far back growth is looked at.
const growthDays = 70

func (s *season) growth() GrowthView {
	past := s.past()
	since := s.now.AddDate(0, 0, -growthDays)
	looks := make([][]forage.Look, len(s.paddocks))
	for _, f := range s.facts {
		if f.At.After(since) {
			looks[f.Paddock] = append(looks[f.Paddock], forage.Look{At: f.At, Mass: f.Mass, ID: f.ID, Walk: s.isWalk(f.ID)})
		}
	}
	pieces := make([][]forage.Piece, len(s.paddocks))
	for p := range s.paddocks {
		pieces[p] = forage.Pieces(looks[p], past.Bites[p])
	}
	walks := s.walkDays(since)
	all := make([]bool, len(s.paddocks))
	for p := range all {
		all[p] = s.paddocks[p].Purpose != "loafing"
	}
	v := GrowthView{Version: s.row.Version, Mobs: []GrowthDial{}, Swards: []SwardGrowth{}, Doubts: []DoubtView{}}
	v.Farm = s.dial("The farm", "", s.farmBreakEven(), walks, pieces, all)
	for i, m := range s.rotMobs {
		if len(s.rotMobs) < 2 {
			break
		}
		v.Mobs = append(v.Mobs, s.dial(m.Name, m.ID, s.mobBreakEven(i, m.Demand(s.now)), walks, pieces, m.Ground))
	}
	s.swardGrowth(&v, walks, pieces, past)
	s.doubts(&v, pieces, past)
	return v
}

func (s *season) isWalk(id string) bool {
	i, ok := s.measuredAt[id]
	return ok && s.measured[i].Method != carriedMethod
}

// walkDays are the days of walks, newest last.
func (s *season) walkDays(since time.Time) []time.Time {
	var measured []time.Time
	for _, m := range s.measured {
		if m.Method != carriedMethod && !m.MeasuredAt.Before(since) {
			measured = append(measured, m.MeasuredAt)
		}
	}
	return forage.WalkDays(measured)
}

func (s *season) dial(name, mobID string, breakEven *working.Figure, walks []time.Time, pieces [][]forage.Piece, ground []bool) GrowthDial {
	d := GrowthDial{Name: name, MobID: mobID, State: forage.Above, BreakEven: breakEven, Walks: []WalkGrowth{}}
	var rates []float64
	for k := 1; k < len(walks); k++ {
		var list []forage.PaddockGrowth
		for p, pad := range s.paddocks {
			if rate, ok := forage.Between(pieces[p], walks[k-1], walks[k]); ok && ground[p] {
				list = append(list, forage.PaddockGrowth{Name: pad.Name, AreaHa: pad.shape.AreaHa, Rate: rate})
			}
		}
		step, err := forage.MeanGrowth(list)
		if err != nil {
			continue
		}
		f := working.Of("walks and looks back of the stretch, what stock ate added back; closed ground counts too", step)
		d.Growth = &f
		rates = append(rates, f.Value)
		d.Walks = append(d.Walks, WalkGrowth{walks[k], f.Value, len(list)})
		d.Most = math.Max(d.Most, f.Value)
	}
	switch {
	case d.Growth == nil:
		d.Sentence = "Growth shows after the second walk."
	case breakEven == nil:
		d.Sentence = "No stock eat here: nothing to set growth against."
	default:
		d.Most = math.Max(d.Most, breakEven.Value)
		d.State = forage.Verdict(rates, breakEven.Value)
		d.Sentence = map[forage.State]string{forage.Above: "More grows than they eat: a surplus is building.",
			forage.Watch: "Less grew than they eat, at one walk: watch the next one.",
			forage.Act:   "Less grew than they eat, two walks in a row: act now: slow the round, feed, or sell."}[d.State]
	}
	d.Most = math.Ceil(d.Most*1.25/10) * 10
	return d
}

// farmBreakEven is what must grow for all mobs on the ground they graze.
func (s *season) farmBreakEven() *working.Figure {
	return s.breakEven(s.farmDemand(s.number(s.now)).Value, s.inRotation(), "all mobs over the ground they really graze; closed paddocks are not counted")
}

// mobBreakEven is what must grow for one mob on the ground it grazes.
func (s *season) mobBreakEven(i int, demand float64) *working.Figure {
	return s.breakEven(demand, s.rotMobs[i].Ground, "growth below this runs the grass down, growth above builds a surplus")
}

// breakEven sets a demand over the ground that is open; nil where nothing eats or nothing is open.
func (s *season) breakEven(demand float64, ground []bool, source string) *working.Figure {
	area := 0.0
	for p, pad := range s.farm.Paddocks {
		if ground[p] && s.closedNow(p) == "" {
			area += pad.AreaHa
		}
	}
	if area == 0 || demand == 0 {
		return nil
	}
	_, steps, err := grazing.BreakEven(grazing.BreakEvenIn{Demand: demand, Area: area})
	if err != nil {
		return nil
	}
	f := working.Of(source, steps...)
	return &f
}

func (s *season) swardGrowth(v *GrowthView, walks []time.Time, pieces [][]forage.Piece, past rotation.Past) {
	by := map[string]*SwardGrowth{}
	area := map[string]float64{}
	for p, pad := range s.paddocks {
		if len(walks) < 2 {
			break
		}
		rate, ok := forage.Between(pieces[p], walks[len(walks)-2], walks[len(walks)-1])
		if !ok {
			continue
		}
		g := by[pad.SwardID]
		if g == nil {
			g = &SwardGrowth{SwardID: pad.SwardID, Name: pad.sward.Name, Curve: s.curveOf(pad.sward)}
			by[pad.SwardID] = g
		}
		expected, _ := s.farm.GrowthOn(p, rotation.Standing{Mass: past.Standing[p].Mass}, s.now)
		a := pad.shape.AreaHa
		g.N++
		g.Rate, g.Expected, g.Factor = g.Rate+a*rate, g.Expected+a*expected, g.Factor+a*past.Standing[p].Factor
		area[pad.SwardID] += a
	}
	for id, g := range by {
		g.Rate, g.Expected, g.Factor = g.Rate/area[id], g.Expected/area[id], g.Factor/area[id]
		v.Swards = append(v.Swards, *g)
	}
	sort.Slice(v.Swards, func(a, b int) bool { return v.Swards[a].Name < v.Swards[b].Name })
}

func (s *season) doubts(v *GrowthView, pieces [][]forage.Piece, past rotation.Past) {
	for p, pad := range s.paddocks {
		var walked []forage.Piece
		for _, piece := range pieces[p] {
			if !piece.Grazed { // what stock took is too uncertain to blame a walk
				walked = append(walked, piece)
			}
		}
		look, high, found := forage.Doubtful(walked, func(piece forage.Piece) (float64, float64) {
			middle := rotation.Standing{Mass: (piece.From.Mass + piece.Until.Mass) / 2, Factor: past.Standing[p].Factor}
			expected, peak := s.farm.GrowthOn(p, middle, piece.Until.At)
			low, top := forage.Plausible(expected, peak)
			return low - piece.Slack(), top + piece.Slack()
		})
		if !found || !look.Walk || look.At.Before(s.now.AddDate(0, 0, -oddDays)) {
			continue
		}
		word := "low"
		if high {
			word = "high"
		}
		v.Doubts = append(v.Doubts, DoubtView{look.ID, pad.ID, pad.Name, look.At, high,
			fmt.Sprintf("The walk of %s on %s likely read too %s: growth before and after it cannot be otherwise.", pad.Name, look.At.In(s.loc).Format("2 January"), word)})
	}
}
