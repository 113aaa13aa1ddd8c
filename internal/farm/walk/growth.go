package walk

import (
	"context"
	"fmt"
	"maps"
	"sort"
	"time"

	"fjell/core/forage"
	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/core/rotation"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

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
	Version int                 `json:"version"` // of the farm's settings, the curves among them
	Farm    season.GrowthDial   `json:"farm"`
	Mobs    []season.GrowthDial `json:"mobs" nullable:"false"`
	Swards  []SwardGrowth       `json:"swards" nullable:"false"`
	Doubts  []DoubtView         `json:"doubts" nullable:"false"`
	Breaks  []string            `json:"breaks" nullable:"false"` // steps that are no growth, in words
}

// Growth is what grew between the walks, by sward and farm, against break-even growth.
func (s *Service) Growth(ctx context.Context, a farm.Actor) (GrowthView, error) {
	se, err := s.Season(ctx, a)
	if err != nil {
		return GrowthView{}, err
	}
	return growth(se), nil
}

func growth(s *season.Season) GrowthView {
	past, g := s.Past(), s.Growing()
	grown := make([]bool, len(s.Paddocks))
	for p, pad := range s.Paddocks {
		grown[p] = pad.Purpose != "loafing"
	}
	v := GrowthView{Version: s.Row.Version, Mobs: []season.GrowthDial{}, Swards: []SwardGrowth{}, Doubts: []DoubtView{}, Breaks: g.Breaks}
	v.Farm = s.Dial(g, "The farm", "", s.FarmBreakEven(), grown)
	if len(s.Grazers) > 1 {
		for i, m := range s.Grazers {
			v.Mobs = append(v.Mobs, s.Dial(g, m.Name, m.ID, s.MobBreakEven(i), m.Ground))
		}
	}
	v.Swards = append(v.Swards, onSwards(s, g.Walks, g.Pieces, past)...)
	v.Doubts = append(v.Doubts, doubts(s, g.Pieces, past)...)
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
