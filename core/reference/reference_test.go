package reference

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestSwardsHangTogether(t *testing.T) {
	lib := Load()
	require.NotEmpty(t, lib.Swards)
	ids, names := map[string]bool{}, map[string]bool{}
	for _, s := range lib.Swards {
		t.Run(s.ID, func(t *testing.T) {
			assert.False(t, ids[s.ID] || names[s.Name], "one of each")
			ids[s.ID], names[s.Name] = true, true
			curve, err := lib.Curve(s.GrowthCurve)
			require.NoError(t, err)
			assert.Less(t, s.StopHeight, s.StartHeight)
			assert.Less(t, s.MassPerCm.Open, s.MassPerCm.Medium)
			assert.Less(t, s.MassPerCm.Medium, s.MassPerCm.Dense)
			assert.Less(t, s.Residual, s.AtStart())
			assert.Less(t, s.AtStart(), 0.95*s.Ceiling, "it can reach its start height")
			year := s.PeakGrowth * 365 * curve.Fullness() / 1000
			assert.InDelta(t, 0.87, s.AnnualYield/year, 0.2, "peak, curve and yearly yield speak of one sward")
			assert.Contains(t, []string{"cool", "warm", "tropical", "both"}, s.Season)
			assert.NotEmpty(t, s.Schools)
			assert.NotEmpty(t, s.Source)
			assert.NotEmpty(t, s.Note)
			assert.Contains(t, shareOff, s.Confidence)
			assert.Greater(t, s.DailyLoss(), 0.0)
			assert.Less(t, s.DailyLoss(), 0.02)
			assert.GreaterOrEqual(t, s.Rest.Slow, s.Rest.Fast)
			if !s.ByHeight() {
				assert.Nil(t, s.Plate, "no plate either")
			}
			for _, h := range s.Hazards {
				if h == "bloat" {
					_, err := lib.Caution(h)
					assert.NoError(t, err)
				}
			}
		})
	}
	_, err := lib.Sward("moss")
	assert.ErrorContains(t, err, "sward_id")
}

func TestClassesHangTogether(t *testing.T) {
	ids := map[string]bool{}
	for _, c := range Load().Classes {
		t.Run(c.ID, func(t *testing.T) {
			assert.False(t, ids[c.ID])
			ids[c.ID] = true
			for _, r := range []Range{c.LiveWeight, c.IntakeShare} {
				assert.Greater(t, r.Low, 0.0)
				assert.Less(t, r.Low, r.Typical)
				assert.Less(t, r.Typical, r.High)
			}
			assert.LessOrEqual(t, c.IntakeShare.High, 0.06, "no grazing animal eats more for long")
			assert.Greater(t, c.LivestockUnit, 0.0)
			assert.NotEmpty(t, c.Source)
			assert.NotEmpty(t, c.Note)
			share, _ := Load().HarvestEfficiency(c.Species, 12, false)
			assert.Greater(t, share, 0.3, "%s get hold of something", c.Species)
			if c.GrazesFully > 0 {
				assert.Less(t, c.GrazesFrom, c.GrazesFully)
				assert.Less(t, c.BirthWeight, c.LiveWeight.Low)
			}
			if c.BornWith > 0 {
				assert.Equal(t, true, c.Stage == "late_pregnant" || c.Stage == "dry")
				assert.Less(t, c.BornWith, c.LiveWeight.Low/4)
			}
		})
	}
}

func TestGrowthCurvesHaveAMeanOfOne(t *testing.T) {
	for _, c := range Load().Curves {
		sum := 0.0
		for _, m := range c.Rates {
			assert.GreaterOrEqual(t, m, 0.0)
			sum += m
		}
		assert.InDelta(t, 12, sum, 0.005, c.ID)
	}
}

// What graziers elsewhere looked for in the list and did not find.
func TestTheListHasWhatPeopleLookFor(t *testing.T) {
	lib := Load()
	var swards, classes []string
	for _, s := range lib.Swards {
		swards = append(swards, s.Name)
	}
	for _, c := range lib.Classes {
		classes = append(classes, c.Name)
	}
	for _, words := range []string{"Subterranean clover medics", "Phalaris", "Rhodes", "Buffel", "Guinea", "Signal", "Napier", "Kikuyu clover", "desmodium", "Leucaena", "Savanna",
		"Steppe", "Alpine", "heath", "Salt marsh", "dehesa", "Browse", "stubble", "Fodder beet", "Kale", "rape", "turnips", "Swedes"} {
		assert.True(t, has(swards, words), words)
	}
	for _, words := range []string{"Dairy ewe", "Hogget", "Wether", "heifer in calf", "late lactation", "Zebu", "Small local cow", "buffalo", "Yak", "Bison", "Dromedary", "Llama", "Alpaca", "deer",
		"Reindeer", "Donkey", "Mule", "Goose", "Sow"} {
		assert.True(t, has(classes, words), words)
	}
	var lines int
	for _, s := range lib.Swards {
		lines += len(s.BrowseLine)
	}
	assert.Positive(t, lines, "browse has a line")
}

func has(names []string, words string) bool {
	for _, name := range names {
		all := true
		for _, w := range strings.Fields(words) {
			all = all && strings.Contains(strings.ToLower(name), strings.ToLower(w))
		}
		if all {
			return true
		}
	}
	return false
}

// Choosing the curve of an irrigated summer changed the months of the year and not what grew in it.
func TestYieldFollowsTheCurve(t *testing.T) {
	lib := Load()
	s, err := lib.Sward("ryegrass_white_clover")
	require.NoError(t, err)
	usual, _ := lib.Curve(s.GrowthCurve)
	even, _ := lib.Curve("equatorial_highland")
	short, _ := lib.Curve("alpine_summer")
	assert.Equal(t, s.AnnualYield, s.YieldOn(usual, usual))
	assert.Greater(t, s.YieldOn(even, usual), 1.5*s.AnnualYield)
	assert.Less(t, s.YieldOn(short, usual), s.AnnualYield)
	assert.Equal(t, s.YieldOn(short, usual), s.YieldOn(short.Shifted(5), usual), "later is not more")
	assert.Equal(t, short[6], short.Shifted(3)[9])
	assert.Equal(t, short, short.Shifted(12))
}

func TestInputsHangTogether(t *testing.T) {
	lib := Load()
	require.NotEmpty(t, lib.Inputs)
	seen := map[string]bool{}
	sum := func(shares []float64) (all float64) {
		for _, s := range shares {
			all += s
		}
		return all
	}
	for _, in := range lib.Inputs {
		assert.False(t, seen[in.ID], in.ID)
		seen[in.ID] = true
		assert.Contains(t, []string{"grow", "move", "buy", "protect"}, in.Kind, in.ID)
		assert.Len(t, in.Shares, len(in.Lands), in.ID)
		assert.InDelta(t, 1, sum(in.Shares), 0.011, in.ID)
		assert.Equal(t, in.Kind == "buy", in.Extra == nil, in.ID)
		assert.Equal(t, in.Kind == "buy", in.DryShare > 0, in.ID)
		assert.Equal(t, in.Kind == "move", len(in.Takes) > 0, in.ID)
		if in.Kind == "move" {
			assert.InDelta(t, 1, sum(in.Taken), 0.011, in.ID)
		}
		assert.True(t, in.Eaten > 0 && in.Eaten <= 1, in.ID)
		assert.NotEmpty(t, in.Caution, in.ID)
		for _, m := range append(append([]int{}, in.Apply...), in.Lands...) {
			assert.True(t, m >= 1 && m <= 12, in.ID)
		}
		for _, id := range in.Applies.Swards {
			_, err := lib.Sward(id)
			assert.NoError(t, err, in.ID)
		}
	}
	clover, err := lib.Input("overseed_clover_frost")
	require.NoError(t, err)
	ley, _ := lib.Sward("ryegrass_white_clover")
	native := Sward{ID: "own", Season: "warm", GrowthForm: "mixed"}
	assert.False(t, clover.Suits(native))
	nitrogen, _ := lib.Input("nitrogen_early_spring_cool")
	assert.True(t, nitrogen.Suits(ley) || ley.GrowthForm == "", "a ley answers to nitrogen")
	hay, _ := lib.Input("bought_hay")
	assert.True(t, hay.Suits(native), "hay is for anybody")
	_, err = lib.Input("wishes")
	assert.Error(t, err)
}
