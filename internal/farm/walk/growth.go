package walk

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"sort"
	"time"

	"fjell/core/forage"
	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/core/rotation"
	"fjell/core/working"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// GrowthDial sets growth against what stock eat: the farm's, or one mob's on its own ground.
type GrowthDial struct {
	Name      string          `json:"name"`
	MobID     string          `json:"mob_id"` // empty: the farm
	State     forage.State    `json:"state" enum:"above,even,watch,act"`
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
	Half float64   `json:"half_width_kg_dm_ha_day"`
	N    int       `json:"paddocks"`
	Area float64   `json:"area_ha"`
}

// SwardGrowth is growth on one sward up to the last walk, against what its curve expects.
type SwardGrowth struct {
	SwardID  string  `json:"sward_id"`
	Name     string  `json:"name"`
	Rate     float64 `json:"growth_kg_dm_ha_day"`
	Expected float64 `json:"expected_kg_dm_ha_day"`
	Factor   float64 `json:"growth_factor_learned"` // mean of its paddocks
	N        int     `json:"paddocks"`
	Curve    string  `json:"curve"`        // the growth curve it follows on this farm
	Later    int     `json:"later_months"` // months that it runs later than written
}

// CurveInput chooses the growth curve that a sward follows on a farm.
type CurveInput struct {
	SwardID string `json:"sward_id"`
	Curve   string `json:"curve" doc:"empty: the sward's usual one"`
	Later   int    `json:"later_months,omitempty" minimum:"0" maximum:"11" doc:"months that the curve runs later than written, for where rain makes the seasons"`
}

// SetCurve chooses the growth curve that a sward follows on this farm: the climate's, where it is not the usual one.
func (s *Service) SetCurve(ctx context.Context, a farm.Actor, version int, in CurveInput) (GrowthView, error) {
	if in.Later < 0 || in.Later > 11 {
		return GrowthView{}, quantity.Refuse("later_months", in.Later, "a curve is put 0 to 11 months later")
	}
	lib := reference.Load()
	if _, err := facts.FindSward(s.DB.WithContext(ctx), a.FarmID, "sward_id", in.SwardID); err != nil {
		return GrowthView{}, err
	}
	if in.Curve != "" {
		if _, err := lib.Curve(in.Curve); err != nil {
			return GrowthView{}, quantity.Refuse("curve", in.Curve, "is not a growth curve of the reference list")
		}
	}
	err := s.Write(ctx, a, farm.Request{Kind: "curve", Body: []any{version, in}}, func(tx *facts.Writing) error {
		if err := tx.BumpFarm(version); err != nil {
			return err
		}
		row := tx.Farm
		curves := map[string]string{}
		for sward, curve := range row.Curves.V {
			curves[sward] = curve
		}
		if curves[in.SwardID] = in.Curve; in.Curve == "" {
			delete(curves, in.SwardID)
		}
		months := maps.Clone(row.CurveMonths.V)
		if months == nil {
			months = map[string]int{}
		}
		if months[in.SwardID] = in.Later; in.Later == 0 {
			delete(months, in.SwardID)
		}
		return tx.Model(&store.Farm{}).Where("id = ?", a.FarmID).Select("curves", "curve_months").
			Updates(&store.Farm{Curves: store.JSON[map[string]string]{V: curves}, CurveMonths: store.JSON[map[string]int]{V: months}}).Error
	})
	return farm.After(err, func() (GrowthView, error) { return s.Growth(ctx, a) })
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
	Breaks  []string      `json:"breaks" nullable:"false"` // steps that are no growth, in words
}

// Growth is what grew between the walks, by sward and farm, against break-even growth.
func (s *Service) Growth(ctx context.Context, a farm.Actor) (GrowthView, error) {
	se, err := s.Season(ctx, a)
	if err != nil {
		return GrowthView{}, err
	}
	return growth(se), nil
}

// growthDays is how far back walks are compared.
const growthDays = 70

func growth(s *season.Season) GrowthView {
	past := s.Past()
	since := s.Now.AddDate(0, 0, -growthDays)
	looks := make([][]forage.Look, len(s.Paddocks))
	for _, f := range s.Looks {
		if f.At.After(since) {
			looks[f.Paddock] = append(looks[f.Paddock], forage.Look{At: f.At, Mass: f.Mass, ID: f.ID, Walk: isWalk(s, f.ID), By: f.By})
		}
	}
	pieces := make([][]forage.Piece, len(s.Paddocks))
	grown := make([]bool, len(s.Paddocks))
	for p, pad := range s.Paddocks {
		pieces[p] = forage.Pieces(looks[p], past.Bites[p])
		grown[p] = pad.Purpose != "loafing"
	}
	walks := walkDays(s, since)
	v := GrowthView{Version: s.Row.Version, Mobs: []GrowthDial{}, Swards: []SwardGrowth{}, Doubts: []DoubtView{}, Breaks: breaks(s, looks)}
	v.Farm = dial(s, "The farm", "", s.FarmBreakEven(), walks, pieces, grown)
	if len(s.Grazers) > 1 {
		for i, m := range s.Grazers {
			v.Mobs = append(v.Mobs, dial(s, m.Name, m.ID, s.MobBreakEven(i), walks, pieces, m.Ground))
		}
	}
	v.Swards = append(v.Swards, onSwards(s, walks, pieces, past)...)
	v.Doubts = append(v.Doubts, doubts(s, pieces, past)...)
	return v
}

// breaks tells of the days on which the way of measuring changed.
func breaks(s *season.Season, looks [][]forage.Look) []string {
	days := map[string]int{}
	for _, list := range looks {
		by := ""
		list = slices.SortedStableFunc(slices.Values(list), func(a, b forage.Look) int { return a.At.Compare(b.At) })
		for _, l := range list {
			if l.By == "" {
				continue
			}
			if forage.Broken(by, l.By) {
				days[l.At.In(s.Location).Format(time.DateOnly)]++
			}
			by = l.By
		}
	}
	out := []string{}
	for _, day := range slices.Sorted(maps.Keys(days)) {
		at, _ := time.Parse(time.DateOnly, day)
		out = append(out, fmt.Sprintf("On %s another method, meter or conversion was used on %d paddocks: the step to that walk is not counted as growth.", at.Format("2 January"), days[day]))
	}
	return out
}

func isWalk(s *season.Season, id string) bool {
	i, ok := s.MeasurementAt[id]
	return ok && s.Measured[i].Method != season.CarriedMethod && s.Measured[i].Method != season.CutMethod
}

// walkDays are the days of walks, newest last.
func walkDays(s *season.Season, since time.Time) []time.Time {
	var measured []time.Time
	for _, m := range s.Measured {
		if m.Method != season.CarriedMethod && m.Method != season.CutMethod && !m.MeasuredAt.Before(since) {
			measured = append(measured, m.MeasuredAt)
		}
	}
	return forage.WalkDays(measured)
}

func dial(s *season.Season, name, mobID string, breakEven *working.Figure, walks []time.Time, pieces [][]forage.Piece, on []bool) GrowthDial {
	var ground []forage.Ground
	for p, pad := range s.Paddocks {
		if on[p] {
			ground = append(ground, forage.Ground{Name: pad.Name, AreaHa: pad.Shape.AreaHa, Pieces: pieces[p]})
		}
	}
	d := forage.ReadDial(ground, walks, breakEven)
	v := GrowthDial{Name: name, MobID: mobID, State: d.State, Growth: d.Growth, BreakEven: breakEven, Walks: []WalkGrowth{}, Sentence: d.Sentence, Most: d.Most}
	for _, w := range d.Walks {
		v.Walks = append(v.Walks, WalkGrowth{w.At, w.Rate, w.Half, w.N, w.AreaHa})
	}
	return v
}

func onSwards(s *season.Season, walks []time.Time, pieces [][]forage.Piece, past rotation.Past) []SwardGrowth {
	swards := map[string]reference.Sward{}
	var looks []forage.SwardLook
	for p, pad := range s.Paddocks {
		swards[pad.SwardID] = pad.Sward
		expected, _ := s.Farm.GrowthOn(p, rotation.Standing{Mass: past.Standing[p].Mass}, s.Now)
		looks = append(looks, forage.SwardLook{Sward: pad.SwardID, AreaHa: pad.Shape.AreaHa, Pieces: pieces[p], Expected: expected, Factor: past.Standing[p].Factor})
	}
	var out []SwardGrowth
	for _, g := range forage.OnSwards(looks, walks) {
		sward := swards[g.Sward]
		curve, later := s.CurveOf(sward)
		out = append(out, SwardGrowth{g.Sward, sward.Name, g.Rate, g.Expected, g.Factor, g.N, curve, later})
	}
	sort.Slice(out, func(a, b int) bool { return out[a].Name < out[b].Name })
	return out
}

func doubts(s *season.Season, pieces [][]forage.Piece, past rotation.Past) []DoubtView {
	var out []DoubtView
	for p, pad := range s.Paddocks {
		look, high, found := forage.Doubt(pieces[p], s.Now, func(piece forage.Piece) (float64, float64) {
			middle := rotation.Standing{Mass: (piece.From.Mass + piece.Until.Mass) / 2, Factor: past.Standing[p].Factor}
			return forage.Plausible(s.Farm.GrowthOn(p, middle, piece.Until.At))
		})
		if !found {
			continue
		}
		word := "low"
		if high {
			word = "high"
		}
		out = append(out, DoubtView{look.ID, pad.ID, pad.Name, look.At, high,
			fmt.Sprintf("The walk of %s on %s likely read too %s: growth before and after it cannot be otherwise.", pad.Name, look.At.In(s.Location).Format("2 January"), word)})
	}
	return out
}
