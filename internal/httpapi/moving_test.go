package httpapi_test

import (
	"fmt"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestNobodyIsPlannedToMoveStockOnDaysAway(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base, mob := ida.planned(t)
	set := func(body map[string]any) (int, map[string]any) {
		_, farm := ida.call("GET", base, nil)
		return ida.call("PUT", base+"/moving", body, "If-Match", fmt.Sprint(farm["version"]))
	}
	hours, week, none := []int{450, 1110}, []int{1, 2, 3, 4, 5, 6, 7}, []any{}
	for what, bad := range map[string]map[string]any{
		"no hour":       {"minutes": none, "weekdays": week, "away": none},
		"a second":      {"minutes": []int{450, 451}, "weekdays": week, "away": none},
		"25:00":         {"minutes": []int{1500}, "weekdays": week, "away": none},
		"no weekday":    {"minutes": hours, "weekdays": none, "away": none},
		"an eighth day": {"minutes": hours, "weekdays": []int{8}, "away": none},
		"backwards":     {"minutes": hours, "weekdays": week, "away": []any{map[string]any{"from_on": "2026-06-15", "until_on": "2026-06-14"}}},
		"half a year":   {"minutes": hours, "weekdays": week, "away": []any{map[string]any{"from_on": "2026-06-15", "until_on": "2026-12-14"}}},
		"no day":        {"minutes": hours, "weekdays": week, "away": []any{map[string]any{"from_on": "soon", "until_on": "2026-12-14"}}},
	} {
		status, out := set(bad)
		assert.Equal(t, http.StatusUnprocessableEntity, status, "%s: %v", what, out)
	}
	status, out := set(map[string]any{"minutes": []int{1110, 450}, "weekdays": []int{7, 6, 5, 4, 3, 2, 1, 1}, "away": []any{map[string]any{"from_on": "2026-06-13", "until_on": "2026-06-18"}}})
	require.Equal(t, http.StatusOK, status, out)
	moving := out["moving"].(map[string]any)
	assert.Equal(t, []any{450.0, 1110.0}, moving["minutes"], "in order")
	assert.Len(t, moving["weekdays"], 7)

	_, plan := ida.call("GET", base+"/plan", nil)
	planned := 0
	for _, v := range plan["visits"].([]any) {
		v := v.(map[string]any)
		if v["kind"] != "planned" && v["kind"] != "beyond" {
			continue
		}
		planned++
		day := v["enter_at"].(string)[:10]
		assert.False(t, day >= "2026-06-13" && day <= "2026-06-18", day)
	}
	assert.Positive(t, planned)
	status, out = ida.call("POST", base+"/pins", map[string]any{"id": id(), "mob_id": mob, "paddock_id": ida.paddocks(base)[2]["id"], "enter_at": "2026-06-15T05:30:00Z"})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, out["detail"], "nobody moves stock that day")
	status, out = search(ida, base, id(), 0)
	assert.Equal(t, http.StatusOK, status, out)
}
