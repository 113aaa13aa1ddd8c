package httpapi_test

import (
	"fmt"
	"math"
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestAPlannedStayIsToldInStrips(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base, mob := ida.planned(t)
	_, plan := ida.call("GET", base+"/plan", nil)
	var stay map[string]any
	for _, v := range plan["visits"].([]any) {
		if v := v.(map[string]any); v["kind"] == "planned" && stay == nil && v["stay_days"].(float64) > 1 {
			stay = v
		}
	}
	require.NotNil(t, stay)
	ask := func(more string) (int, map[string]any) {
		return ida.call("GET", base+"/plan/strips?mob_id="+mob+"&enter_at="+url.QueryEscape(stay["enter_at"].(string))+more, nil)
	}
	status, out := ask("")
	require.Equal(t, http.StatusOK, status, out)
	strips := out["strips"].([]any)
	assert.Len(t, strips, int(2*stay["stay_days"].(float64)+0.5), "one for every move hour")
	first := strips[0].(map[string]any)
	assert.Equal(t, stay["enter_at"], first["from"])
	exact := func(strip any) float64 {
		paced := strip.(map[string]any)["paced_m"].(map[string]any)
		steps := paced["steps"].([]any)
		assert.Equal(t, math.Ceil(steps[len(steps)-2].(map[string]any)["value"].(float64)), paced["value"], "rounded up")
		return steps[len(steps)-2].(map[string]any)["value"].(float64)
	}
	assert.Positive(t, exact(first))
	status, along := ask("&along=true&behind=true")
	require.Equal(t, http.StatusOK, status, along)
	assert.NotEqual(t, out["direction_deg"], along["direction_deg"])
	length := func(left float64) float64 {
		status, out := ask(fmt.Sprintf("&left_kg_dm_ha=%g", left))
		require.Equal(t, http.StatusOK, status, out)
		return exact(out["strips"].([]any)[0])
	}
	in := stay["mass_in_kg_dm_ha"].(float64)
	assert.Greater(t, length(in/3), exact(first), "they took more than was thought")
	assert.Less(t, length(in-100), exact(first), "and less")
	status, bad := ask("&left_kg_dm_ha=29000")
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, fmt.Sprint(bad), "less than the")
	status, _ = ida.call("GET", base+"/plan/strips?mob_id="+mob+"&enter_at=2026-06-11T03:00:00Z", nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
}
