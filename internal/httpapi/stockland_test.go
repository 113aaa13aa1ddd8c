package httpapi_test

import (
	"fmt"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestStockAgainstLand(t *testing.T) {
	ida, base := yearFarm(t)
	get := func(query string) map[string]any {
		status, v := ida.call("GET", base+"/year/land"+query, nil)
		require.Equal(t, http.StatusOK, status, v)
		return v
	}
	v := get("")
	at := func(v map[string]any, path ...string) any {
		var x any = v
		for _, key := range path {
			x = x.(map[string]any)[key]
		}
		return x
	}
	assert.InDelta(t, 0.15, at(v, "capacity", "reserve"), 1e-9)
	assert.GreaterOrEqual(t, at(v, "capacity", "at_grass"), at(v, "capacity", "by_month").(float64))
	assert.Less(t, at(get("?reserve=0.4"), "capacity", "at_grass"), at(v, "capacity", "at_grass"), "a larger reserve carries fewer")
	assert.Positive(t, at(v, "season_days"))
	assert.Positive(t, at(v, "lately", "over_days"))
	require.Len(t, at(v, "seasons"), 1)
	assert.Equal(t, "cool", at(v, "seasons").([]any)[0].(map[string]any)["kind"], "all of the demo's grass")
	assert.InDelta(t, 1, at(v, "seasons").([]any)[0].(map[string]any)["of_what_grows"], 1e-9)
	days, land, area := 0.0, 0.0, 0.0
	for _, s := range at(v, "shares").([]any) {
		row := s.(map[string]any)
		days, land, area = days+row["of_days"].(float64), land+row["of_land"].(float64), area+row["area_ha"].(float64)
	}
	assert.InDelta(t, 1, days, 1e-9)
	assert.InDelta(t, 1, land, 1e-9)
	assert.InDelta(t, area, at(v, "grass_alone_ha"), 1e-6)
	assert.Greater(t, area, at(v, "area_ha"), "the demo buys for its winter")
	status, out := ida.call("GET", base+"/year/land?reserve=2", nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status, out)
	assert.Equal(t, false, at(v, "drought", "own"))
	order := at(v, "drought", "order").([]any)
	require.NotEmpty(t, order)
	last := 1.1
	for _, l := range order {
		young := l.(map[string]any)["young_share"].(float64)
		assert.LessOrEqual(t, young, last, "growing stock leave first")
		last = young
	}

	_, farm := ida.call("GET", base, nil)
	group := order[len(order)-1].(map[string]any)["group"].(string)
	set := func(version any, body map[string]any) (int, map[string]any) {
		return ida.call("PUT", base+"/drought", body, "If-Match", fmt.Sprint(version))
	}
	for field, body := range map[string]map[string]any{
		"trigger": {"trigger": 0.1, "leave": []any{}, "wet": ""}, "most_share": {"trigger": 0.8, "leave": []any{map[string]any{"group": group, "most_share": 1.4, "where": ""}}, "wet": ""},
		"where": {"trigger": 0.8, "leave": []any{map[string]any{"group": group, "most_share": 0.4, "where": fmt.Sprintf("%0130d", 1)}}, "wet": ""}, "wet": {"trigger": 0.8, "leave": []any{}, "wet": fmt.Sprintf("%0501d", 1)},
	} {
		status, out = set(farm["version"], body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	status, out = set(farm["version"], map[string]any{"trigger": 1, "leave": []any{map[string]any{"group": group, "most_share": 0.5, "where": "the sale at the end of the valley"}}, "wet": "The yard; call the contractor."})
	require.Equal(t, http.StatusOK, status, out)
	own := out["drought"].(map[string]any)
	assert.Equal(t, true, own["own"])
	assert.Equal(t, group, own["order"].([]any)[0].(map[string]any)["group"], "as the farm said")
	assert.Len(t, own["order"], len(order), "those it did not name come behind")
	assert.Greater(t, own["acts_chance"], at(v, "drought", "acts_chance"), "a higher trigger acts in more years")
	assert.Contains(t, fmt.Sprint(own["dates"]), "the sale at the end of the valley")
	assert.LessOrEqual(t, at(out, "drought", "with", "missing_high_kg_dm"), at(out, "drought", "without", "missing_high_kg_dm"))
	status, out = set(farm["version"], map[string]any{"trigger": 0.9, "leave": []any{}, "wet": ""})
	assert.Equal(t, http.StatusPreconditionFailed, status, out)

	round := func(rest, stay float64) map[string]any {
		return map[string]any{"entry_kg_dm_ha": 2600, "residual_kg_dm_ha": 1500, "rest_days": rest, "stay_days": stay, "eaten_share": 0.7}
	}
	divide := map[string]any{"area_ha": 20, "season_days": 150, "now": round(25, 7), "then": round(25, 2), "fence_price": 900, "water_price": 500, "years": 15, "land_price": 50000, "tonne_price": 1500}
	status, d := ida.call("POST", base+"/year/divide", divide)
	require.Equal(t, http.StatusOK, status, d)
	assert.InDelta(t, 150./27-150./32, d["turns_then"].(float64)-d["turns_now"].(float64), 1e-9)
	assert.InDelta(t, 28000, d["cost"], 1e-9)
	divide["then"] = round(40, 2)
	status, d = ida.call("POST", base+"/year/divide", divide)
	require.Equal(t, http.StatusOK, status, d)
	assert.Nil(t, d["payback_years"], "what brings less never pays")
	divide["years"] = 0
	status, d = ida.call("POST", base+"/year/divide", divide)
	assert.Equal(t, http.StatusUnprocessableEntity, status, d)

	empty := ida.farm("Empty")
	status, v = ida.call("GET", empty+"/year/land", nil)
	require.Equal(t, http.StatusOK, status, v)
	assert.Equal(t, true, v["empty"])
}
