package httpapi_test

import (
	"fmt"
	"maps"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestTheWinterIsPlanned(t *testing.T) {
	ida, base := yearFarm(t)
	status, w := ida.call("GET", base+"/year/winter", nil)
	require.Equal(t, http.StatusOK, status, w)
	require.NotEmpty(t, w["fields"])
	frost := map[string]float64{}
	for _, m := range w["months"].([]any) {
		row := m.(map[string]any)
		frost[row["from"].(string)[5:7]] = row["freezing_days"].(float64)
	}
	assert.Greater(t, frost["01"], 20.0, "January freezes at 61° north")
	assert.Zero(t, frost["07"])
	assert.Empty(t, w["freezing_days"], "June does not")

	field := w["fields"].([]any)[0].(map[string]any)["id"]
	body := map[string]any{"field_id": field, "group": 0, "close_day": "2026-08-05", "from_day": "2026-11-01", "until_day": "2027-01-15", "strips": 8, "hay_share": 0.25, "bale_kg": 240, "dry_matter_share": 0.85}
	ask := func(more map[string]any) (int, map[string]any) {
		b := maps.Clone(body)
		maps.Copy(b, more)
		return ida.call("POST", base+"/year/stockpile", b)
	}
	status, p := ask(nil)
	require.Equal(t, http.StatusOK, status, p)
	require.Len(t, p["strips"], 8)
	assert.Positive(t, p["days"])
	assert.Positive(t, p["bales"])
	assert.Len(t, p["rests"], len(w["fields"].([]any))-1)
	assert.InDelta(t, 75, p["days"].(float64)+p["short_days"].(float64), 1e-6)
	_, earlier := ask(map[string]any{"close_day": "2026-07-20"})
	assert.GreaterOrEqual(t, earlier["opens_kg_dm_ha"], p["opens_kg_dm_ha"].(float64), "what is closed earlier stands higher")
	_, later := ask(map[string]any{"close_day": "2026-09-10"})
	assert.Less(t, later["days"], p["days"])
	_, unweighed := ask(map[string]any{"bale_kg": nil})
	assert.Nil(t, unweighed["bales"])
	for field, more := range map[string]map[string]any{"field_id": {"field_id": id()}, "group": {"group": 99}, "close_day": {"close_day": "1999-01-01"}, "from_day": {"from_day": "2026-08-01"}, "until_day": {"until_day": "2026-10-01"}, "strips": {"strips": 0}, "hay_share": {"hay_share": 2}, "bale_kg": {"bale_kg": 0}} {
		status, out := ask(more)
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}

	status, f := ida.call("POST", base+"/year/frost", map[string]any{"overflow": map[string]any{"bucket_l": 10, "seconds": 40, "hours": 12}, "waterer": map[string]any{"head": 50, "litres_each": 12, "minutes": 20, "flow_l_min": 10, "holds_l": 150}})
	require.Equal(t, http.StatusOK, status, f)
	assert.InDelta(t, 15, f["flow_l_min"], 1e-9)
	assert.InDelta(t, 15*60*12, f["waste_l_night"], 1e-9)
	assert.InDelta(t, 600-150-200, f["short_l"], 1e-9)
	status, f = ida.call("POST", base+"/year/frost", map[string]any{"overflow": map[string]any{"bucket_l": 10, "seconds": 0, "hours": 12}})
	assert.Equal(t, http.StatusUnprocessableEntity, status, f)
	assert.Contains(t, fmt.Sprint(f), "seconds")
}
