package grazing

import (
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/reference"
)

var moveDay = time.Date(2026, 6, 10, 7, 0, 0, 0, time.UTC)

func gateSteps(steps []RoutineStep) (out []string) {
	for _, s := range steps {
		if s.When == AtTheGate {
			out = append(out, s.Do)
		}
	}
	return out
}

func TestTheRoutineIsInWorkingOrder(t *testing.T) {
	for _, c := range []struct {
		species []string
		says    string
	}{{[]string{"cattle", "cattle"}, "calf"}, {[]string{"sheep"}, "lambs"}, {[]string{"goats"}, "browse"}, {[]string{"horses"}, "laminitis"}, {[]string{"sheep", "cattle"}, "dog"}, {nil, "calf"}} {
		steps := Routine(c.species, RoutineEdits{}, "m", moveDay)
		all := strings.Join(gateSteps(steps), "\n")
		for _, s := range steps {
			all += s.Why
			for _, id := range s.Cautions {
				_, err := reference.Load().Caution(id)
				assert.NoError(t, err, "%s names a caution that there is", s.ID)
			}
		}
		assert.Contains(t, strings.ToLower(all), c.says, "%v", c.species)
		at := func(record string) int {
			return slices.IndexFunc(steps, func(s RoutineStep) bool { return s.Record == record && s.When == AtTheGate })
		}
		require.Positive(t, at("fence_kv"), "%v", c.species)
		assert.Less(t, at("fence_kv"), at("water_runs"), "%v: the fence before the water", c.species)
		assert.Less(t, at("water_runs"), at("head_count"))
		assert.Less(t, at("head_count"), at("fence_kv_after"))
		assert.Less(t, at("fence_kv_after"), at("residual_cm"), "the look back comes last")
		assert.Equal(t, EveningBefore, steps[0].When)
	}
}

func TestAFarmAddsStepsAndLeavesSomeOut(t *testing.T) {
	usual := Routine([]string{"cattle"}, RoutineEdits{}, "cows", moveDay)
	edits := RoutineEdits{Left: []string{"move_day_cattle.5"}, Own: []OwnStep{
		{ID: "bell", Do: "Ring the bell", When: AtTheGate, After: "move_day_cattle.3"},
		{ID: "dog", Do: "Shut the dog in", When: AtTheGate},
		{ID: "salt", Do: "Salt for the cows", When: AtTheGate, MobID: "cows", After: "nothing there is"},
		{ID: "winter", Do: "Spikes", When: EveningBefore, From: "11-01", Until: "03-01"},
		{ID: "summer", Do: "Hats", When: EveningBefore, From: "06-01", Until: "07-01"}}}
	require.NoError(t, edits.Check())
	got := Routine([]string{"cattle"}, edits, "cows", moveDay)
	assert.Len(t, got, len(usual)+3)
	at := func(id string) int { return slices.IndexFunc(got, func(s RoutineStep) bool { return s.ID == id }) }
	assert.Equal(t, at("move_day_cattle.3")+1, at("bell"))
	assert.Negative(t, at("move_day_cattle.5"))
	assert.Negative(t, at("winter"))
	assert.Equal(t, 0, at("summer"))
	assert.Less(t, at("dog"), at("move_day_cattle.1"))
	assert.Positive(t, at("salt"))
	assert.True(t, got[at("salt")].Own)
	others := Routine([]string{"cattle"}, edits, "heifers", moveDay)
	assert.NotContains(t, gateSteps(others), "Salt for the cows")
	for day, holds := range map[string]bool{"2026-12-24": true, "2026-02-28": true, "2026-03-01": false, "2026-10-31": false} {
		on, err := time.Parse(time.DateOnly, day)
		require.NoError(t, err)
		is := slices.ContainsFunc(Routine(nil, edits, "", on), func(s RoutineStep) bool { return s.ID == "winter" })
		assert.Equal(t, holds, is, day)
	}
}

func TestStepsThatCannotBeReadAreRefused(t *testing.T) {
	for field, s := range map[string]OwnStep{"own[0].do": {ID: "a", Do: " ", When: AtTheGate}, "own[0].id": {Do: "x", When: AtTheGate}, "own[0].when": {ID: "a", Do: "x", When: "noon"},
		"own[0].until": {ID: "a", Do: "x", When: AtTheGate, From: "04-15"}, "own[0].from": {ID: "a", Do: "x", When: AtTheGate, From: "13-45", Until: "04-15"}} {
		assert.ErrorContains(t, RoutineEdits{Own: []OwnStep{s}}.Check(), field)
	}
	many := RoutineEdits{Own: make([]OwnStep, 31)}
	assert.ErrorContains(t, many.Check(), "own")
	twice := RoutineEdits{Own: []OwnStep{{ID: "a", Do: "x", When: AtTheGate}, {ID: "a", Do: "y", When: AtTheGate}}}
	assert.ErrorContains(t, twice.Check(), "own[1].id")
	long := RoutineEdits{Own: []OwnStep{{ID: "a", Do: strings.Repeat("å", 121), When: AtTheGate}}}
	assert.ErrorContains(t, long.Check(), "own[0].do")
}

func TestAFenceThatWouldNotHoldThem(t *testing.T) {
	kv := func(v float64) *float64 { return &v }
	for _, c := range []struct {
		source, end *float64
		least       float64
		state       State
		says        string
	}{{nil, nil, 3, Ready, ""}, {nil, kv(3.4), 3, Ready, ""}, {nil, kv(2.9), 3, Stop, "at the far end"}, {kv(2.5), nil, 3, Stop, "at the source"}, {kv(7), kv(3.5), 3, Mind, "lost on the way"},
		{kv(7), kv(6), 3, Ready, ""}, {kv(7), kv(3.5), 4, Stop, "at the far end"}} {
		state, r := Fence(c.source, c.end, c.least)
		assert.Equal(t, c.state, state)
		if c.says == "" {
			assert.Nil(t, r)
			continue
		}
		require.NotNil(t, r)
		assert.Contains(t, r.Plain(), c.says)
	}
	weak, few := kv(2.1), 98
	got, err := Passage(PassageIn{EndKV: weak, LeastKV: 3, Counted: &few, Head: 100})
	require.NoError(t, err)
	assert.Contains(t, got.Fence.Plain(), "find the fault")
	assert.Contains(t, got.Count.Plain(), "missing")
	got, err = Passage(PassageIn{LeastKV: 3, Head: 100})
	require.NoError(t, err)
	assert.Nil(t, got.Fence, "nothing was read")
	assert.Nil(t, got.Count, "and nobody counted")
	assert.Nil(t, Counted(100, 99.7))
	assert.Contains(t, Counted(98, 100).Plain(), "2 head missing")
	assert.Contains(t, Counted(103, 100).Plain(), "3 head too many")
}
