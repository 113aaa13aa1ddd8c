package httpapi_test

import (
	"fmt"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/internal/demo"
)

// The year of a demo farm: every month's feed is accounted for, and what is closed for hay comes into the store when it is cut.
func TestTheYearIsReckonedMonthByMonth(t *testing.T) {
	h := start(t, true)
	ida := h.visitor(t)
	status, out := ida.call("POST", "/api/sign-in", map[string]any{"email": demo.Email, "password": demo.Password})
	require.Equal(t, http.StatusOK, status, out)
	_, me := ida.call("GET", "/api/me", nil)
	base := fmt.Sprint("/api/farms/", me["farms"].([]any)[0].(map[string]any)["id"])
	for _, months := range []string{"11", "37", "-3"} {
		status, out = ida.call("GET", base+"/year?months="+months, nil)
		assert.Equal(t, http.StatusUnprocessableEntity, status, months)
		assert.Contains(t, fmt.Sprint(out), "months")
	}
	status, v := ida.call("GET", base+"/year?months=24", nil)
	require.Equal(t, http.StatusOK, status, v)
	rows := v["months"].([]any)
	_, near := ida.call("GET", base+"/year", nil)
	assert.Equal(t, near["year"], v["year"], "twelve months are the same however far one looks")
	require.Len(t, rows, 24)
	for _, m := range []int{7, 19} {
		winter := rows[m].(map[string]any)
		assert.Zero(t, winter["pasture_kg_dm"], "they stand in the house in January, this winter and the next")
		assert.Positive(t, winter["indoors_kg_dm"])
	}
	over, store := -1.0, v["store_kg_dm"].(float64)
	cut := 0.0
	for i, r := range rows {
		m := r.(map[string]any)
		at := func(key string) float64 { return m[key].(float64) }
		if over >= 0 {
			assert.InDelta(t, over, at("over_kg_dm"), 1e-6, "what stands at the end of a month is there in the next")
		}
		over = at("stands_kg_dm")
		assert.InDelta(t, at("pasture_kg_dm")+at("indoors_kg_dm"), at("eaten_kg_dm")+at("fed_kg_dm")+at("missing_kg_dm"), 1e-6)
		assert.LessOrEqual(t, at("store_kg_dm"), store+at("cut_kg_dm")-at("fed_kg_dm")+1e-6, "month %d", i)
		store, cut = at("store_kg_dm"), cut+at("cut_kg_dm")
		by := 0.0
		for _, kg := range m["eatable_by_sward_kg_dm"].([]any) {
			by += kg.(float64)
		}
		assert.InDelta(t, at("eatable_kg_dm"), by, 1e-6)
		field := 0.0
		for _, kg := range m["eatable_by_field_kg_dm"].([]any) {
			field += kg.(float64)
		}
		assert.InDelta(t, by, field, 1e-6, "the same, by field")
		assert.LessOrEqual(t, at("supply_low_kg_dm"), at("supply_high_kg_dm"))
	}
	assert.Positive(t, cut, "the hay ground is cut")
	assert.NotEmpty(t, v["says"])
	sum := v["year"].(map[string]any)
	assert.InDelta(t, sum["wanted_kg_dm"], sum["eaten_kg_dm"].(float64)+sum["fed_kg_dm"].(float64)+sum["missing_kg_dm"].(float64), 1e-6)

	// Hay for the winter and the stock that cannot be kept: the gap shrinks by what each closes, and nothing is written.
	status, means := ida.call("GET", base+"/year/means", nil)
	require.Equal(t, http.StatusOK, status, means)
	require.NotEmpty(t, means["fields"])
	try := func(options ...map[string]any) (int, map[string]any) {
		return ida.call("POST", base+"/year/try", map[string]any{"months": 12, "options": options})
	}
	status, tried := try(map[string]any{"input": "bought_hay", "month": 5, "tonnes": 100, "price": 150}, map[string]any{"month": 3, "head": -10, "group": 0, "price": -800})
	require.Equal(t, http.StatusOK, status, tried)
	hay := tried["effects"].([]any)[0].(map[string]any)
	assert.InDelta(t, 100*860*0.8, hay["closes_kg_dm"], 1)
	assert.InDelta(t, 15000/68.8, hay["cost_a_tonne_closed"], 0.1)
	assert.Less(t, tried["missing_kg_dm"], tried["missing_before_kg_dm"])
	assert.InDelta(t, near["year"].(map[string]any)["missing_kg_dm"], tried["missing_before_kg_dm"], 1e-6)
	assert.InDelta(t, 15000-8000, tried["cost"], 1e-6)
	field := means["fields"].([]any)[0].(map[string]any)["id"]
	status, tried = try(map[string]any{"input": "rent", "month": 0, "area_ha": 6, "months": 4, "price": 900, "group": 0}, map[string]any{"input": "divide", "month": 1, "field_id": field, "share": 0.9, "price": 400})
	require.Equal(t, http.StatusOK, status, tried)
	effects := tried["effects"].([]any)
	assert.Equal(t, "Rented ground", effects[0].(map[string]any)["name"])
	assert.Contains(t, fmt.Sprint(effects[1]), "grazed in more parts")
	assert.Greater(t, tried["with"].(map[string]any)["year"].(map[string]any)["grown_kg_dm"], near["year"].(map[string]any)["grown_kg_dm"])
	for field, option := range map[string]map[string]any{
		"options[0].area_ha": {"input": "rent", "month": 1}, "options[0].share": {"input": "divide", "month": 1, "field_id": field, "share": 0.01},
		"options[0].input": {"input": "wishes", "month": 1}, "options[0].tonnes": {"input": "bought_hay", "month": 1}, "options[0].head": {"month": 1, "head": -4000}, "options[0].month": {"input": "bought_hay", "month": 12, "tonnes": 4},
	} {
		status, out = try(option)
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	_, again := ida.call("GET", base+"/year", nil)
	assert.Equal(t, near["months"], again["months"])

	empty := ida.farm("Empty")
	status, v = ida.call("GET", empty+"/year", nil)
	require.Equal(t, http.StatusOK, status, v)
	assert.Empty(t, v["months"])
}
