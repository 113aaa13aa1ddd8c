package grazing

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/reference"
)

// through is a pulse that passes all its gates.
func through() School {
	s := PulseTool()
	s.Gates = &Gates{Hands: 2, Water: true, Power: true, Purpose: "tread litter onto bare ground", Place: "Heia 2", Measure: "cover counted before and after",
		Recovery: 30, Reserve: 3, Density: 60000, Moves: 4, Wet: "off to the sandy bank"}
	return s
}

func TestAPulsePassesFiveGates(t *testing.T) {
	require.NoError(t, through().Check())
	assert.ErrorContains(t, PulseTool().Check(), "school.gates.hands", "nothing is answered yet")
	for field, shut := range map[string]func(s *School, g *Gates){
		"school.gates.hands":                    func(_ *School, g *Gates) { g.Hands = 0 },
		"school.gates.water_for_all":            func(_ *School, g *Gates) { g.Water = false },
		"school.gates.power_at_far_end":         func(_ *School, g *Gates) { g.Power = false },
		"school.gates.purpose":                  func(_ *School, g *Gates) { g.Purpose = "  " },
		"school.gates.place":                    func(_ *School, g *Gates) { g.Place = "" },
		"school.gates.measure":                  func(_ *School, g *Gates) { g.Measure = "?" },
		"school.leave_share":                    func(s *School, _ *Gates) { s.Leave = ptr(0.5) },
		"school.gates.recovery_days":            func(_ *School, g *Gates) { g.Recovery = 0 },
		"school.gates.reserve_feed_days":        func(_ *School, g *Gates) { g.Reserve = 0.5 },
		"school.gates.wanted_density_kg_per_ha": func(_ *School, g *Gates) { g.Density = 0 },
		"school.gates.moves_a_day":              func(_ *School, g *Gates) { g.Moves = 0 },
		"school.gates.wet_plan":                 func(_ *School, g *Gates) { g.Wet = "" },
	} {
		s := through()
		shut(&s, s.Gates)
		assert.ErrorContains(t, s.Check(), field)
	}
	s := through()
	s.Gates = nil
	assert.ErrorContains(t, s.Check(), "five gates")
}

func TestAPulseLeavesMostAndRestsLonger(t *testing.T) {
	for _, sward := range reference.Load().Swards {
		s := through()
		l, err := s.On(sward)
		require.NoError(t, err)
		assert.Equal(t, s.RestMin+30, l.RestMin, "longer recovery is in the plan")
		assert.GreaterOrEqual(t, l.Entered(2400).Residual, leastLeft*2400, sward.ID)
		assert.Less(t, l.Residual, l.Entry, sward.ID)
		assert.Less(t, l.Entry, l.TooOld, sward.ID)
	}
	s := through()
	out, fed, err := s.PulseFeeds(50, 30000, 700, 2400)
	require.NoError(t, err)
	assert.InDelta(t, 0.5, out.Move, 1e-9)
	assert.InDelta(t, 2, out.Day, 1e-9)
	assert.InDelta(t, 2*2400*0.3*0.4/700, fed.Value, 1e-9)
	s.Gates.Density *= 2
	closer, less, err := s.PulseFeeds(50, 30000, 700, 2400)
	require.NoError(t, err)
	assert.InDelta(t, out.Move/2, closer.Move, 1e-9, "denser is less ground")
	assert.Less(t, less.Value, fed.Value, "and less feed")
	_, _, err = s.PulseFeeds(0, 0, 0, 2400)
	assert.ErrorContains(t, err, "at least one animal", "all of them were sold")
}

func TestAPulseHasAnEndAndIsNotForBeginners(t *testing.T) {
	assert.NoError(t, PulseEnds(21, false))
	assert.ErrorContains(t, PulseEnds(31, false), "plan_days")
	assert.ErrorContains(t, PulseEnds(14, true), "first season")
}
