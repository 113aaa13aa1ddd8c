package httpapi_test

import (
	"fmt"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/grazing"
)

func TestAPulseIsPlannedBehindItsGates(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base, mob := ida.planned(t)
	_, now := ida.call("GET", base+"/plan", nil)
	meta := now["plan"].(map[string]any)
	school := grazing.PulseTool()
	plan := func(days int, confirmed bool) (int, map[string]any) {
		_, now := ida.call("GET", base+"/plan", nil)
		return ida.call("PUT", base+"/plan/"+meta["id"].(string), map[string]any{"starts_on": meta["starts_on"], "plan_days": days, "confirmed": confirmed,
			"mobs": []any{map[string]any{"mob_id": mob, "school": school}}}, "If-Match", fmt.Sprint(now["plan"].(map[string]any)["version"]))
	}
	status, out := plan(14, true)
	require.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, fmt.Sprint(out), "mobs[0].school.gates.", "its gates are shut until they are answered")
	school.Gates = &grazing.Gates{Hands: 2, Water: true, Power: true, Purpose: "tread litter in", Place: "Heia", Measure: "cover before and after", Recovery: 30, Reserve: 3,
		Density: 60000, Moves: 4, Wet: "off to the bank"}
	status, out = plan(45, true)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, fmt.Sprint(out), "a pulse has an end")

	_, farm := ida.call("GET", base, nil)
	experienced := func(how string) {
		_, farm = ida.call("GET", base, nil)
		settings := map[string]any{"experience": how}
		for _, key := range []string{"name", "place", "time_zone", "units", "aims", "longitude", "latitude"} {
			settings[key] = farm[key]
		}
		status, out := ida.call("PUT", base, settings, "If-Match", fmt.Sprint(farm["version"]))
		require.Equal(t, http.StatusOK, status, out)
	}
	experienced("beginner")
	status, out = plan(14, true)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, fmt.Sprint(out), "a first season does not give")
	experienced("old_hand")

	status, out = plan(14, false)
	require.Equal(t, http.StatusOK, status, out)
	takes := out["pulses"].([]any)[0].(map[string]any)
	assert.InDelta(t, 4*takes["area_per_move_ha"].(float64), takes["area_per_day_ha"].(float64), 1e-9)
	assert.Positive(t, takes["fed_share"].(map[string]any)["value"])
	kept := out["plan"].(map[string]any)["mobs"].([]any)[0].(map[string]any)["school"].(map[string]any)
	assert.Equal(t, "tread litter in", kept["gates"].(map[string]any)["purpose"])

	// Stock that are to grow, or are at mating, pay for it: that is asked about.
	_, year := ida.call("GET", base+"/stock/year", nil)
	group := year["bands"].([]any)[0].(map[string]any)["group_id"]
	status, event := ida.call("POST", base+"/stock/events", map[string]any{"id": id(), "kind": "mating", "happened_on": "2026-06-09", "of_id": group, "head": 0})
	require.Equal(t, http.StatusOK, status, event)
	status, out = plan(14, false)
	require.Equal(t, http.StatusUnprocessableEntity, status, out)
	assert.Contains(t, fmt.Sprint(out), "males go in to")
	status, out = plan(14, true)
	assert.Equal(t, http.StatusOK, status, out)
}
