package httpapi_test

import (
	"bytes"
	"fmt"
	"maps"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"fjell/internal/demo"
)

// yearFarm is the demo farm of its owner.
func yearFarm(t *testing.T) (person, string) {
	return signedIn(t, start(t, true))
}

// signedIn is the demo's owner at a site.
func signedIn(t *testing.T, h site) (person, string) {
	ida := h.visitor(t)
	status, out := ida.call("POST", "/api/sign-in", map[string]any{"email": demo.Email, "password": demo.Password})
	require.Equal(t, http.StatusOK, status, out)
	_, me := ida.call("GET", "/api/me", nil)
	return ida, fmt.Sprint("/api/farms/", me["farms"].([]any)[0].(map[string]any)["id"])
}

func TestPricesAreKeptByDate(t *testing.T) {
	ida, base := yearFarm(t)
	price := func(more map[string]any) (int, map[string]any) {
		body := map[string]any{"id": id(), "item": "summer_double_crop", "from_day": "2026-01-01"}
		maps.Copy(body, more)
		return ida.call("POST", base+"/year/prices", body)
	}
	of := func(item string) (rows []map[string]any) {
		_, v := ida.call("GET", base+"/year/prices", nil)
		for _, r := range v["prices"].([]any) {
			if row := r.(map[string]any); row["item"] == item {
				rows = append(rows, row)
			}
		}
		return rows
	}
	require.Empty(t, of("summer_double_crop"))
	for field, body := range map[string]map[string]any{
		"item": {"item": "wishes", "price": 3}, "from_day": {"from_day": "1999-01-01", "price": 3}, "price": {}, "say what it costs": {}, "10 000 000": {"price": 2e7}, "bale_kg": {"item": "bought_hay", "bale_price": 40},
		"bale_price": {"item": "bought_hay"}, "leave one of the two out": {"item": "bought_hay", "price": 1, "bale_price": 40}, "at most 500 letters": {"price": 1, "note": string(bytes.Repeat([]byte("x"), 501))},
	} {
		status, out := price(body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	require.Empty(t, of("summer_double_crop"), "nothing is half written")
	for from, amount := range map[string]float64{"2026-01-01": 2000, "2026-05-01": 2200, "2027-01-01": 2500} {
		status, out := price(map[string]any{"from_day": from, "price": amount})
		require.Equal(t, http.StatusOK, status, out)
	}
	rows := of("summer_double_crop")
	require.Len(t, rows, 3)
	assert.Equal(t, []any{false, true, false}, []any{rows[0]["holds"], rows[1]["holds"], rows[2]["holds"]}, "next year's does not hold yet")
	assert.InDelta(t, 2200, rows[1]["price"], 1e-9)
	assert.Equal(t, "ha", rows[1]["of"])

	status, out := price(map[string]any{"item": "bought_concentrate", "bale_price": 500, "haulage": 100, "bale_kg": 600})
	require.Equal(t, http.StatusOK, status, out)
	assert.InDelta(t, 1000, of("bought_concentrate")[0]["price"], 1e-9, "600 for 600 kg")

	status, _ = ida.call("DELETE", base+"/year/prices/"+rows[1]["id"].(string), nil)
	require.Equal(t, http.StatusOK, status)
	assert.InDelta(t, 2000, of("summer_double_crop")[1]["price"], 1e-9, "the one before holds again")
	assert.Equal(t, true, of("summer_double_crop")[1]["holds"])
	status, _ = ida.call("DELETE", base+"/year/prices/"+id(), nil)
	assert.Equal(t, http.StatusNotFound, status)

	status, out = price(map[string]any{"item": "rent", "price": 900})
	require.Equal(t, http.StatusOK, status, out)
	assert.Equal(t, "Ground that is rented", of("rent")[0]["name"])

	_, me := ida.call("GET", base, nil)
	status, out = ida.call("PUT", base+"/currency", map[string]any{"currency": "kroner"}, "If-Match", fmt.Sprint(me["version"]))
	assert.Equal(t, http.StatusUnprocessableEntity, status, out)
	status, out = ida.call("PUT", base+"/currency", map[string]any{"currency": "eur"}, "If-Match", fmt.Sprint(me["version"]))
	require.Equal(t, http.StatusOK, status, out)
	assert.Equal(t, "EUR", out["currency"])
	_, me = ida.call("GET", base, nil)
	assert.Equal(t, "EUR", me["currency"])
}

// Advice rests on the farm's own prices: it is what the set it names comes to when it is tried, and no dearer than what anybody puts down by hand.
func TestAdviceOfAYearIsWhatTryingComesTo(t *testing.T) {
	ida, base := yearFarm(t)
	_, held := ida.call("GET", base+"/year/prices", nil)
	for _, p := range held["prices"].([]any) {
		status, _ := ida.call("DELETE", base+"/year/prices/"+p.(map[string]any)["id"].(string), nil)
		require.Equal(t, http.StatusOK, status)
	}
	ask := func(options ...any) map[string]any {
		status, v := ida.call("POST", base+"/year/advice", map[string]any{"months": 12, "options": append([]any{}, options...)})
		require.Equal(t, http.StatusOK, status, v)
		return v
	}
	_, bare := ida.call("GET", base+"/year", nil)
	assert.Nil(t, bare["missing_cost"], "and what is missing has none")
	none := ask()
	assert.Empty(t, none["ranked"], "without prices nothing is guessed")
	assert.Positive(t, none["unpriced"])
	for item, amount := range map[string]float64{"bought_hay": 2000, "bought_silage": 900, "nitrogen_midsummer_cool": 1500} {
		status, out := ida.call("POST", base+"/year/prices", map[string]any{"id": id(), "item": item, "from_day": "2026-01-01", "price": amount})
		require.Equal(t, http.StatusOK, status, out)
	}
	_, year := ida.call("GET", base+"/year", nil)
	assert.InDelta(t, year["year"].(map[string]any)["missing_kg_dm"].(float64)/1000*min(2000/(0.86*0.8), 900/(0.4*0.85)), year["missing_cost"], 1, "the cheaper of hay and silage, by what is swallowed")
	v := ask()
	require.NotEmpty(t, v["ranked"])
	last, far := 0.0, false
	for _, r := range v["ranked"].([]any) {
		tonne, closes := r.(map[string]any)["cost_a_tonne_closed"].(float64)
		if far = far || !closes; closes {
			assert.False(t, far, "what closes nothing comes last")
			assert.GreaterOrEqual(t, tonne, last)
			last = tonne
		}
	}
	found, before := 0, 0.0
	for _, r := range v["safety"].([]any) {
		row := r.(map[string]any)
		if row["found"] != true {
			continue
		}
		found++
		status, tried := ida.call("POST", base+"/year/try", map[string]any{"months": 12, "options": row["options"]})
		require.Equal(t, http.StatusOK, status, tried)
		assert.InDelta(t, row["cost"], tried["cost"], 1e-6)
		assert.InDelta(t, row["short_chance"], tried["with"].(map[string]any)["short_chance"], 1e-9)
		assert.LessOrEqual(t, row["short_chance"], row["chance"].(float64)+1e-9)
		assert.LessOrEqual(t, row["bound"], row["cost"].(float64)+1e-9)
		assert.GreaterOrEqual(t, row["cost"], before-1e-6, "more safety is never cheaper")
		before = row["cost"].(float64)
	}
	assert.Positive(t, found)
	table := ask(map[string]any{"input": "bought_concentrate", "month": 0, "tonnes": 5, "price": 4000})
	assert.Contains(t, fmt.Sprint(table["ranked"]), "bought_concentrate", "what lies on the table is looked at too")
	status, out := ida.call("POST", base+"/year/advice", map[string]any{"options": []any{map[string]any{"input": "wishes", "month": 0}}})
	assert.Equal(t, http.StatusUnprocessableEntity, status, out)
}

func TestScenariosAreKeptAndHeldBesideEachOther(t *testing.T) {
	ida, base := yearFarm(t)
	_, held := ida.call("GET", base+"/year/scenarios", nil)
	for _, sc := range held["scenarios"].([]any)[1:] {
		status, _ := ida.call("DELETE", base+"/year/scenarios/"+sc.(map[string]any)["id"].(string), nil)
		require.Equal(t, http.StatusOK, status)
	}
	_, means := ida.call("GET", base+"/year/means", nil)
	mob := means["groups"].([]any)[0].(string)
	hay := map[string]any{"input": "bought_hay", "month": 0, "tonnes": 60, "price": 2000, "hours": 6}
	sell := map[string]any{"month": 3, "head": -8, "group": 0, "price": 3000}
	keep := func(name string, options ...any) (int, map[string]any) {
		return ida.call("POST", base+"/year/scenarios", map[string]any{"id": id(), "name": name, "reason": "the winter is long", "options": options})
	}
	for field, body := range map[string]map[string]any{"name": {"name": " "}, "options": {"options": []any{}}, "options[0].month": {"options": []any{map[string]any{"input": "bought_hay", "month": 40, "tonnes": 3}}}} {
		wrong := map[string]any{"id": id(), "name": "x", "reason": "", "options": []any{hay}}
		maps.Copy(wrong, body)
		status, out := ida.call("POST", base+"/year/scenarios", wrong)
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	status, out := keep("Buy hay", hay)
	require.Equal(t, http.StatusOK, status, out)
	status, out = keep("Sell some", sell)
	require.Equal(t, http.StatusOK, status, out)
	status, both := keep("Both", hay, sell)
	require.Equal(t, http.StatusOK, status, both)
	rows := both["scenarios"].([]any)
	require.Len(t, rows, 4)
	at := func(i int) map[string]any { return rows[i].(map[string]any) }
	assert.Equal(t, []any{"Nothing done", "Both", "Sell some", "Buy hay"}, []any{at(0)["name"], at(1)["name"], at(2)["name"], at(3)["name"]})
	_, tried := ida.call("POST", base+"/year/try", map[string]any{"months": 12, "options": []any{hay, sell}})
	for key, is := range map[string]any{"missing_kg_dm": tried["missing_kg_dm"], "cost": tried["cost"], "short_chance": tried["with"].(map[string]any)["short_chance"], "carried_kg_dm": tried["carried_kg_dm"]} {
		assert.InDelta(t, is, at(1)[key], 1e-6, key)
	}
	assert.InDelta(t, 6, at(1)["hours"], 1e-9)
	assert.Less(t, at(1)["missing_kg_dm"], at(0)["missing_kg_dm"])
	assert.Less(t, at(2)["head"], at(0)["head"])
	assert.InDelta(t, at(0)["head"], at(3)["head"], 1e-9)
	assert.Equal(t, fmt.Sprintf("Head · %s · {n} go · September 2026", mob), at(2)["cards"].([]any)[0].(map[string]any)["text"])
	assert.Equal(t, "the winter is long", at(1)["reason"])
	assert.EqualValues(t, 0, at(0)["unpriced"])
	assert.EqualValues(t, 0, at(3)["unpriced"])

	// Two that are named; and as a workbook, with the same figures.
	ids := fmt.Sprint(at(1)["id"], "&ids=", at(3)["id"])
	status, two := ida.call("GET", base+"/year/scenarios?months=24&ids="+ids, nil)
	require.Equal(t, http.StatusOK, status, two)
	shown := ""
	for _, sc := range two["scenarios"].([]any) {
		if row := sc.(map[string]any); row["beside"] == true {
			assert.Len(t, row["months"], 24)
			shown += row["name"].(string) + ". "
		}
	}
	assert.Equal(t, "Nothing done. Both. Buy hay. ", shown)
	status, raw := ida.raw("GET", base+"/year/scenarios/table?ids="+ids, nil)
	require.Equal(t, http.StatusOK, status)
	book, err := excelize.OpenReader(bytes.NewReader(raw))
	require.NoError(t, err)
	cost, err := book.GetCellValue("Scenarios", "B5")
	require.NoError(t, err)
	assert.Equal(t, "0", cost)
	months, err := book.GetRows("Months")
	require.NoError(t, err)
	require.Len(t, months, 13)
	cards, err := book.GetRows("Cards")
	require.NoError(t, err)
	assert.Contains(t, fmt.Sprint(cards), "· 8 head go · September 2026", "in words, with units")
	assert.Len(t, months[12], 4)
	status, out = ida.call("GET", base+"/year/scenarios?ids=a&ids=b&ids=c&ids=d&ids=e&ids=f", nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status, out)

	// A month on, its cards have come a month nearer; what lay in the month that passed is said to be gone.
	status, _ = ida.call("POST", "/api/clock/forward", map[string]any{"days": 25})
	require.Less(t, status, 300)
	_, later := ida.call("GET", base+"/year/scenarios", nil)
	rows = later["scenarios"].([]any)
	assert.InDelta(t, 2, at(1)["options"].([]any)[0].(map[string]any)["month"], 1e-9)
	assert.Contains(t, fmt.Sprint(at(1)["gone"]), "Bought hay")

	// Taken off the list, and put back.
	gone := at(1)["id"].(string)
	status, out = ida.call("DELETE", base+"/year/scenarios/"+gone, nil)
	require.Equal(t, http.StatusOK, status, out)
	assert.Len(t, out["scenarios"], 3)
	status, out = ida.call("POST", base+"/year/scenarios/"+gone+"/return", nil)
	require.Equal(t, http.StatusOK, status, out)
	assert.Len(t, out["scenarios"], 4)
}
