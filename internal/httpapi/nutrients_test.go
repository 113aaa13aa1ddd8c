package httpapi_test

import (
	"fmt"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A clover score is a look: it stands from its day on, steps the nitrogen down, and is taken back with the look.
func TestCloverAndNitrogen(t *testing.T) {
	ida, base := yearFarm(t)
	get := func(query string) map[string]any {
		status, v := ida.call("GET", base+"/year/nutrients"+query, nil)
		require.Equal(t, http.StatusOK, status, v)
		return v
	}
	row := func(v map[string]any, id any) map[string]any {
		for _, p := range v["paddocks"].([]any) {
			if r := p.(map[string]any); r["id"] == id {
				return r
			}
		}
		t.Fatal("no such paddock")
		return nil
	}
	v := get("")
	require.NotEmpty(t, v["paddocks"])
	require.Len(t, v["scores"], 6)
	first := v["paddocks"].([]any)[0].(map[string]any)
	assert.Nil(t, first["now_kg_ha"], "without a plan no figure is made up")
	pad := first["id"]
	score := func(share float64) string {
		look := id()
		status, out := ida.call("POST", base+"/looks", map[string]any{"id": look, "paddock_id": pad, "seen_at": clockAt(-0.1), "stage": "before", "answers": map[string]any{}, "ground": map[string]any{"legume_share": share}})
		require.Less(t, status, 300, out)
		return look
	}
	low := score(0.06)
	r := row(get("?plan=200"), pad)
	assert.InDelta(t, 0.06, r["legume_share"], 1e-9)
	assert.InDelta(t, 1, r["score"], 1e-9)
	assert.NotNil(t, r["seen_at"])
	full := r["year_kg_ha"].(float64)
	status, _ := ida.call("DELETE", base+"/looks/"+low, nil)
	require.Less(t, status, 300)
	high := score(0.52)
	r = row(get("?plan=200"), pad)
	assert.InDelta(t, 5, r["score"], 1e-9)
	assert.Less(t, r["year_kg_ha"], full, "clover steps it down")
	assert.Contains(t, fmt.Sprint(r["says"]), "bloat")
	status, _ = ida.call("DELETE", base+"/looks/"+high, nil)
	require.Less(t, status, 300)
	assert.Equal(t, first["legume_share"], row(get(""), pad)["legume_share"], "as it was")

	before := row(get("?plan=200"), pad)
	status, out := ida.call("POST", base+"/paddocks/"+pad.(string)+"/dressings", map[string]any{"id": id(), "given_on": "2026-06-08", "nitrogen_kg_ha": 40})
	require.Less(t, status, 300, out)
	after := row(get("?plan=200"), pad)
	assert.InDelta(t, before["given_kg_ha"].(float64)+40, after["given_kg_ha"], 1e-9)
	assert.LessOrEqual(t, after["now_kg_ha"], before["now_kg_ha"])
	assert.Contains(t, after["cut_from"], "2026-07-06")
	status, out = ida.call("GET", base+"/year/nutrients?plan=900", nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status, out)

	status, m := ida.call("POST", base+"/year/manure", map[string]any{"manure": map[string]any{"rate": 25, "unit": "m3_ha", "season": "spring", "nitrogen_kg_m3": 2.6, "phosphorus_kg_m3": 0.5, "potassium_kg_m3": 2.6},
		"soil": map[string]any{"phosphorus": "right", "potassium": "low", "cut_t_ha": 4, "build_phosphorus_kg_ha": 0, "build_potassium_kg_ha": 30}})
	require.Equal(t, http.StatusOK, status, m)
	assert.InDelta(t, 29.25, m["nitrogen_kg_ha"], 1e-9)
	assert.InDelta(t, 16-12.5, m["wants_phosphorus_kg_ha"], 1e-9)
	assert.InDelta(t, 90+30-65, m["wants_potassium_kg_ha"], 1e-9)
	for field, body := range map[string]map[string]any{"manure": {}, "unit": {"manure": map[string]any{"rate": 25, "unit": "buckets", "season": "spring", "nitrogen_kg_m3": 1, "phosphorus_kg_m3": 1, "potassium_kg_m3": 1}}} {
		status, out := ida.call("POST", base+"/year/manure", body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}
}
