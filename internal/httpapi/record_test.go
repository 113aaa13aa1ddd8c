package httpapi_test

import (
	"fmt"
	"maps"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// farmOf is the farm of a base path.
func farmOf(base string) string { return base[strings.LastIndex(base, "/")+1:] }

func TestYearsOnRecordSpeakOfWhatIsCarried(t *testing.T) {
	h := start(t, true)
	ida, base := signedIn(t, h)
	land := func(query string) (capacity, v map[string]any) {
		status, v := ida.call("GET", base+"/year/land"+query, nil)
		require.Equal(t, http.StatusOK, status, v)
		return v["capacity"].(map[string]any), v
	}
	k, v := land("")
	records := v["records"].([]any)
	require.Len(t, records, 1, "one whole year is on record")
	r := records[0].(map[string]any)
	assert.InDelta(t, 117000, r["bought_kg_dm"], 1)
	assert.Positive(t, r["cut_kg_dm"])
	assert.Greater(t, r["growth_days"], 60.0)
	assert.InDelta(t, 1, r["growth_of_ordinary"], 0.4, "about an ordinary year")
	proven := k["proven"].(map[string]any)
	assert.Equal(t, 1.0, proven["years"])
	assert.InDelta(t, k["by_sum"], proven["share"], 0.15, "what it fed, and what curves say it feeds, are found by ways of their own")
	none, _ := land("?reserve=0")
	assert.InDelta(t, 0.85, proven["share"].(float64)/none["proven"].(map[string]any)["share"].(float64), 1e-6)
	for _, d := range r["drought"].([]any) {
		assert.Contains(t, fmt.Sprint(d.(map[string]any)["at"]), "2025-", "in the year on record")
	}

	// Moves of long ago are years on record too; what stock ate then is known only from the day on which they were described.
	db := h.service.Farm.DB
	require.NoError(t, db.Exec("UPDATE moves SET moved_at = '2022-05-01' WHERE id = (SELECT id FROM (SELECT id FROM moves WHERE farm_id = ? AND NOT withdrawn ORDER BY moved_at LIMIT 1) m)", farmOf(base)).Error)
	k, v = land("")
	assert.InDelta(t, 4.1, k["years_on_record"], 0.1)
	assert.Len(t, v["records"], 1)

	// In a plan that always acts, stock would have left in the year on record.
	_, f := ida.call("GET", base, nil)
	group := v["drought"].(map[string]any)["order"].([]any)[0].(map[string]any)["group"]
	status, out := ida.call("PUT", base+"/drought", map[string]any{"trigger": 1, "leave": []any{map[string]any{"group": group, "most_share": 0.9, "where": "the sale"}}, "wet": ""}, "If-Match", fmt.Sprint(f["version"]))
	require.Equal(t, http.StatusOK, status, out)
	assert.Contains(t, fmt.Sprint(out["records"]), "the sale")
}

// A year later the same year on record, read as the farm stood then, says what it said.
func TestAYearOnRecordStays(t *testing.T) {
	ida, base := yearFarm(t)
	records := func() []any {
		status, v := ida.call("GET", base+"/year/land", nil)
		require.Equal(t, http.StatusOK, status, v)
		return v["records"].([]any)
	}
	before := records()[0].(map[string]any)
	for days := 365; days > 0; days -= min(days, 31) {
		status, out := ida.call("POST", "/api/clock/forward", map[string]any{"days": min(days, 31)})
		require.Less(t, status, 300, out)
	}
	two := records()
	require.Len(t, two, 2, "two whole years now")
	after := two[1].(map[string]any)
	for _, figure := range []string{"eaten_kg_dm", "cut_kg_dm", "bought_kg_dm", "head", "growth_of_ordinary", "growth_days"} {
		assert.InEpsilon(t, before[figure], after[figure], 0.01, figure)
	}
	assert.Equal(t, before["from"], after["from"])
}

// A reserve of ground and a reserve of growth are two deductions: the second is taken when somebody says that both are meant.
func TestAReserveIsKeptBackOnce(t *testing.T) {
	ida, base := yearFarm(t)
	land := func(query string) map[string]any {
		status, v := ida.call("GET", base+"/year/land"+query, nil)
		require.Equal(t, http.StatusOK, status, v)
		return v["capacity"].(map[string]any)
	}
	before := land("")
	assert.Zero(t, before["kept_on_ground"])
	assert.InDelta(t, 0.15, before["reserve"], 1e-9)
	pad := ida.paddocks(base)[0]
	status, out := ida.call("PUT", fmt.Sprint(base, "/paddocks/", pad["id"]), map[string]any{"name": pad["name"], "sward_id": pad["sward_id"], "growth_factor": 1, "purpose": "reserve", "closed_for": ""}, "If-Match", fmt.Sprint(pad["version"]))
	require.Equal(t, http.StatusOK, status, out)
	k := land("")
	assert.Positive(t, k["kept_on_ground"])
	assert.Zero(t, k["reserve"], "the ground is the reserve")
	k = land("?reserve=0.25")
	assert.Equal(t, true, k["reserve_asked"])
	assert.Zero(t, k["reserve"])
	status, out = ida.call("GET", base+"/year/land?reserve=2", nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status, out)
	both := land("?reserve=0.25&both=true")
	assert.Equal(t, false, both["reserve_asked"])
	assert.InDelta(t, 0.25, both["reserve"], 1e-9)
	assert.Less(t, both["at_grass"], k["at_grass"])
}

func TestAFarmsOwnLosses(t *testing.T) {
	ida, base := yearFarm(t)
	year := func() map[string]any {
		_, v := ida.call("GET", base+"/year", nil)
		return v
	}
	before := year()
	assert.Equal(t, false, before["losses_own"])
	_, f := ida.call("GET", base, nil)
	set := func(body map[string]any) (int, map[string]any) {
		return ida.call("PUT", base+"/losses", body, "If-Match", fmt.Sprint(f["version"]))
	}
	for field, body := range map[string]map[string]any{"cut_loss": {"cut_loss": 0.51}, "feed_loss": {"feed_loss": 0.61}} {
		status, out := set(body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, out)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	status, out := set(map[string]any{"feed_loss": 0.3})
	require.Equal(t, http.StatusOK, status, out)
	assert.Equal(t, true, out["losses_own"])
	assert.InDelta(t, 0.3, out["feed_loss"], 1e-9)
	assert.InDelta(t, 0.15, out["cut_loss"], 1e-9, "what nobody said is as usual")
	missing := func(v map[string]any) float64 { return v["year"].(map[string]any)["missing_kg_dm"].(float64) }
	assert.Greater(t, missing(out), missing(before), "more falls under the trough")
	// Bought feed has a loss of its own, and no trough takes its share again.
	body := map[string]any{"months": 12, "options": []any{map[string]any{"input": "bought_hay", "month": 0, "tonnes": 20, "loss_share": 0.25}}}
	_, try := ida.call("POST", base+"/year/try", body)
	assert.InDelta(t, 20000*0.86*0.75, try["effects"].([]any)[0].(map[string]any)["closes_kg_dm"], 1)
	_, f = ida.call("GET", base, nil)
	status, out = set(map[string]any{})
	require.Equal(t, http.StatusOK, status, out)
	assert.InDelta(t, missing(before), missing(out), 1e-6, "and as usual again")
}

// Head, days, area or yield: the farm as it is gives each of them back; and bales that are set out feed so long.
func TestWhatIsLeftOutIsFound(t *testing.T) {
	ida, base := yearFarm(t)
	_, v := ida.call("GET", base+"/year/land", nil)
	is := v["stocking"].(map[string]any)
	given := maps.Clone(is)
	delete(given, "head")
	status, fed := ida.call("POST", base+"/year/stocking", given)
	require.Equal(t, http.StatusOK, status, fed)
	assert.Equal(t, "head", fed["unknown"])
	for _, unknown := range []string{"days", "area_ha", "yield_kg_dm_ha"} {
		in := maps.Clone(is)
		in["head"] = fed["value"]
		delete(in, unknown)
		status, out := ida.call("POST", base+"/year/stocking", in)
		require.Equal(t, http.StatusOK, status, out)
		assert.Equal(t, unknown, out["unknown"])
		assert.InEpsilon(t, is[unknown], out["value"], 0.01, "as the farm is, but for the head that were rounded off")
	}
	status, out := ida.call("POST", base+"/year/stocking", is)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, fmt.Sprint(out), "leave out exactly one")

	_, w := ida.call("GET", base+"/year/winter", nil)
	ground := w["ground"].([]any)
	require.NotEmpty(t, ground)
	last := 1e9
	for _, g := range ground {
		k := g.(map[string]any)["potassium_kg_ha"].(float64)
		assert.LessOrEqual(t, k, last, "most was carried off first")
		last = k
	}
	assert.Positive(t, ground[0].(map[string]any)["potassium_kg_ha"], "the demo made hay")
	field := w["fields"].([]any)[0].(map[string]any)["id"]
	ask := func(more map[string]any) (int, map[string]any) {
		body := map[string]any{"field_id": field, "group": 0, "from_day": "2026-12-01", "bales": 100, "bale_kg": 240, "dry_matter_share": 0.85, "days_each": 3}
		maps.Copy(body, more)
		return ida.call("POST", base+"/year/bales", body)
	}
	status, b := ask(nil)
	require.Equal(t, http.StatusOK, status, b)
	assert.InDelta(t, 100/b["set"].(float64), b["sets"], 1)
	status, more := ask(map[string]any{"bales": 200})
	require.Equal(t, http.StatusOK, status, more)
	assert.InDelta(t, 2*b["days"].(float64), more["days"], 1e-6)
	for name, body := range map[string]map[string]any{"field_id": {"field_id": "none"}, "area_ha": {"area_ha": 900}, "group": {"group": 9}, "from_day": {"from_day": "2020-01-01"}, "bale_kg": {"bale_kg": 0}} {
		status, out := ask(body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, name)
		assert.Contains(t, fmt.Sprint(out), name)
	}
}

// The demo's cows suckle: their young can be weaned earlier, others come behind, a field is topped, and what an input obliges is named.
func TestCardsOfStockAndGround(t *testing.T) {
	ida, base := yearFarm(t)
	_, means := ida.call("GET", base+"/year/means", nil)
	assert.NotEmpty(t, means["behind"])
	field := means["fields"].([]any)[0].(map[string]any)["id"]
	try := func(o map[string]any) (int, map[string]any) {
		status, out := ida.call("POST", base+"/year/try", map[string]any{"months": 24, "options": []any{o}})
		if effects, ok := out["effects"].([]any); ok {
			return status, effects[0].(map[string]any)
		}
		return status, out
	}
	status, weaned := try(map[string]any{"input": "wean", "month": 1, "group": 0})
	require.Equal(t, http.StatusOK, status, weaned)
	assert.Positive(t, weaned["closes_kg_dm"])
	status, out := try(map[string]any{"input": "wean", "month": 7, "group": 0})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, fmt.Sprint(out), "no young are with their mothers")
	status, out = try(map[string]any{"input": "behind", "month": 1, "field_id": field, "head": 20, "class": "doe_dry", "share": 0.2, "price": 10})
	require.Equal(t, http.StatusOK, status, out)
	assert.InDelta(t, 200, out["cost"], 1e-9)
	status, out = try(map[string]any{"input": "top", "month": 1, "field_id": field, "share": 0.9})
	require.Equal(t, http.StatusOK, status, out)
	status, out = try(map[string]any{"input": "winter_annual_tilled", "month": 2, "field_id": field, "price": 300})
	require.Equal(t, http.StatusOK, status, out)
	assert.Equal(t, []any{"Nitrogen, late winter, on winter annuals"}, out["lacks_price"])
	bare := out["cost"].(float64)
	kept := map[string]any{"id": id(), "name": "A crop", "reason": "", "options": []any{map[string]any{"input": "winter_annual_tilled", "month": 2, "field_id": field, "price": 300}, map[string]any{"input": "wean", "month": 1, "group": 0}}}
	status, list := ida.call("POST", base+"/year/scenarios", kept)
	require.Equal(t, http.StatusOK, status, list)
	assert.EqualValues(t, 2, list["scenarios"].([]any)[1].(map[string]any)["unpriced"], "one has no price, one obliges what has none")
	status, out = try(map[string]any{"input": "winter_annual_tilled", "month": 2, "field_id": field, "price": 300, "companions": []any{map[string]any{"input": "nitrogen_winter_annual", "price": 100}}})
	require.Equal(t, http.StatusOK, status, out)
	assert.Empty(t, out["lacks_price"])
	assert.InDelta(t, 4./3*bare, out["cost"], 1e-6)
}
