package httpapi_test

import (
	"encoding/json"
	"fmt"
	"maps"
	"net/http"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/internal/demo"
)

func clockAt(hours float64) string {
	return demo.Now.Add(time.Duration(hours * float64(time.Hour))).Format(time.RFC3339)
}

func (p person) measure(base, paddock string, mass float64, hours float64) {
	p.t.Helper()
	status, out := p.call("POST", base+"/measurements", map[string]any{"id": id(), "paddock_id": paddock, "method": "plain",
		"readings": []float64{mass, mass * 1.02, mass * 0.98}, "measured_at": clockAt(hours)})
	require.Equal(p.t, http.StatusOK, status, out)
}

func (p person) move(base, mob string, to any, hours float64, more ...any) (int, map[string]any) {
	return p.call("POST", base+"/moves", with(map[string]any{"id": id(), "mob_id": mob, "to_paddock_id": to, "moved_at": clockAt(hours)}, more...))
}

func (p person) divide(base, field string, parts int, more ...any) (int, map[string]any) {
	return p.call("POST", base+"/fields/"+field+"/layouts", with(map[string]any{"id": id(), "name": "spring", "names": []string{}, "parts": parts, "direction_degrees": 0}, more...))
}

func TestFromAFieldToAFortnight(t *testing.T) {
	h := start(t, false)
	p := h.member(t, "ida")
	base := p.farm("Skarn")
	field := p.field(base, 9)
	whole := p.paddocks(base)[0]
	p.measure(base, whole["id"].(string), 2400, -48)

	status, view := p.call("POST", base+"/fields/"+field+"/divide", map[string]any{"parts": 5, "direction_degrees": 20})
	require.Equal(t, http.StatusOK, status)
	sum := 0.0
	for _, part := range view["parts"].([]any) {
		sum += part.(map[string]any)["area_ha"].(float64)
	}
	assert.InEpsilon(t, whole["area_ha"].(float64), sum, 1e-9)
	status, out := p.divide(base, field, 5, "names", []string{"Gate", "", "", "", ""})
	assert.Equal(t, http.StatusUnprocessableEntity, status, "an empty name is refused: %v", out)
	assert.Len(t, p.paddocks(base), 1, "and nothing was half-written")
	status, out = p.divide(base, field, 5, "names", []string{"Gate"})
	require.Equal(t, http.StatusOK, status, out)
	list := p.paddocks(base)
	require.Len(t, list, 5)
	assert.Equal(t, "Gate", list[0]["name"])
	for _, pad := range list {
		mass := pad["mass"].(map[string]any)
		assert.Equal(t, false, mass["guessed"], "what stood on the field stands on its parts")
		assert.InDelta(t, 2500, mass["forage_mass_kg_dm_ha"], 120)
	}

	mob := p.mob(base)
	tomorrow := demo.Now.Add(24 * time.Hour)
	h.service.Farm.Clock.Fixed = &tomorrow
	status, _ = p.move(base, mob, list[0]["id"], 0.5)
	require.Equal(t, http.StatusOK, status)
	p.plan(base, mob)
	_, plan := p.call("GET", base+"/plan", nil)
	visits := plan["visits"].([]any)
	require.Greater(t, len(visits), 3)
	first := visits[0].(map[string]any)
	assert.Equal(t, "now", first["kind"])
	next := visits[1].(map[string]any)
	for _, key := range []string{"feed_kg_dm", "demand_kg_dm", "mass_in_kg_dm_ha", "mass_out_kg_dm_ha", "stay_days"} {
		assert.Greater(t, next[key], 0.0, key)
	}

	// A drag pins; everything re-forms; letting go brings the first plan back.
	enter, err := time.Parse(time.RFC3339, next["enter_at"].(string))
	require.NoError(t, err)
	pin := id()
	other := list[3]["id"]
	// Held over a paddock before it is let go, it says what would come of it, and nothing is written.
	try := func(pad any, at time.Time, more string) (int, map[string]any) {
		return p.call("GET", fmt.Sprintf("%s/plan/tried?mob_id=%s&paddock_id=%s&enter_at=%s%s", base, mob, pad, url.QueryEscape(at.Format(time.RFC3339)), more), nil)
	}
	status, tried := try(other, enter.Add(-10*time.Hour), "")
	require.Equal(t, http.StatusOK, status, tried)
	_, still := p.call("GET", base+"/plan", nil)
	assert.Equal(t, visits, still["visits"])
	status, refused := try(other, enter.AddDate(0, 0, -30), "")
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, fmt.Sprint(refused), "lies in the future")

	status, pinned := p.call("POST", base+"/pins", map[string]any{"id": pin, "mob_id": mob, "paddock_id": other, "enter_at": enter.Add(-10 * time.Hour).Format(time.RFC3339)})
	require.Equal(t, http.StatusOK, status, pinned)
	found := false
	for _, v := range pinned["visits"].([]any) {
		if v := v.(map[string]any); v["pin_id"] == pin {
			found = true
			assert.Equal(t, other, v["paddock_id"])
			as := maps.Clone(tried["visit"].(map[string]any))
			as["pin_id"] = pin
			assert.Equal(t, as, v, "it comes as it was said")
		}
	}
	assert.True(t, found, "the pin stands in the plan")
	status, back := p.call("DELETE", base+"/pins/"+pin, nil)
	require.Equal(t, http.StatusOK, status)
	assert.Equal(t, next, back["visits"].([]any)[1])
	status, same := try(next["paddock_id"], enter, "")
	require.Equal(t, http.StatusOK, status, same)
	assert.InDelta(t, 0, same["more_kg"], 1e-6, "where it is already, nothing is dearer")
	assert.Empty(t, same["checks"])
	parts := 0.0
	for _, part := range tried["parts"].([]any) {
		parts += part.(map[string]any)["kg"].(float64)
	}
	assert.InDelta(t, tried["more_kg"], parts, 6, "its parts, but for those below half a kilogram")

	// Step by step back: put back what was let go, put it elsewhere, take that back, and the first step too.
	status, back = p.call("POST", base+"/pins/"+pin+"/restore", nil)
	require.Equal(t, http.StatusOK, status, back)
	assert.Equal(t, pinned["visits"], back["visits"])
	second := id()
	status, moved := p.call("POST", base+"/pins", map[string]any{"id": second, "mob_id": mob, "paddock_id": list[4]["id"], "enter_at": enter.Add(-4 * time.Hour).Format(time.RFC3339), "instead_of": pin})
	require.Equal(t, http.StatusOK, status, moved)
	assert.NotEqual(t, pinned["visits"], moved["visits"])
	status, back = p.call("POST", base+"/pins/"+pin+"/restore?instead_of="+second, nil)
	require.Equal(t, http.StatusOK, status, back)
	assert.Equal(t, pinned["visits"], back["visits"])
	status, back = p.call("DELETE", base+"/pins/"+pin, nil)
	require.Equal(t, http.StatusOK, status)
	assert.Equal(t, next, back["visits"].([]any)[1])
	for _, gone := range []string{pin, second} {
		status, _ = p.call("DELETE", base+"/pins/"+gone, nil)
		assert.Equal(t, http.StatusNotFound, status, "what was let go cannot be let go again")
	}

	status, _ = p.call("POST", base+"/plan/"+plan["plan"].(map[string]any)["id"].(string)+"/accept", map[string]any{"id": id()})
	require.Equal(t, http.StatusOK, status)

	// What really happened re-plans from itself, and can be taken back.
	status, out = p.move(base, mob, list[2]["id"], 23.9, "height_left_cm", 4)
	require.Equal(t, http.StatusOK, status, out)
	_, today := p.call("GET", base+"/today", nil)
	column := today["mobs"].([]any)[0].(map[string]any)
	assert.Equal(t, list[2]["name"], column["paddock_name"])
	left := p.paddocks(base)[0]
	mass := left["mass"].(map[string]any)
	assert.InDelta(t, 1550, mass["forage_mass_kg_dm_ha"], 110, "the look back (4 cm, 1 450 kg) draws what was reckoned towards it")
	assert.Contains(t, mass["sources"], "2 walks and looks")
	assert.InDelta(t, 0, left["rest_days"], 0.05)
	_, raw := p.raw("GET", base+"/moves", nil)
	newest := strings.Split(strings.SplitN(string(raw), `"id":"`, 2)[1], `"`)[0]
	status, _ = p.call("DELETE", base+"/moves/"+newest, nil)
	require.Equal(t, http.StatusOK, status)
	_, today = p.call("GET", base+"/today", nil)
	assert.Equal(t, list[0]["name"], today["mobs"].([]any)[0].(map[string]any)["paddock_name"])
	_, ridge := p.call("GET", base+"/ridge", nil)
	assert.Greater(t, len(ridge["days"].([]any)), 84)
}

func TestDividingUnderStandingStockAsksWhere(t *testing.T) {
	h := start(t, false)
	p := h.member(t, "ida")
	base := p.farm("Skarn")
	field, mob := p.field(base, 9), ""
	mob = p.mob(base)
	status, _ := p.move(base, mob, p.paddocks(base)[0]["id"], -5)
	require.Equal(t, http.StatusOK, status)
	status, out := p.divide(base, field, 3)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, out["detail"], "say in which of the new paddocks")
	status, out = p.divide(base, field, 3, "standing", []any{map[string]any{"mob_id": mob, "part": 2}})
	require.Equal(t, http.StatusOK, status, out)
	list := p.paddocks(base)
	assert.Equal(t, []any{mob}, list[1]["mob_ids"])
	assert.Nil(t, list[0]["rest_days"], "no grazing on record is unknown rest")

	// A division nobody has used yet can be taken back; one with a record cannot.
	status, out = p.divide(base, field, 2, "standing", []any{map[string]any{"mob_id": mob, "part": 1}})
	require.Equal(t, http.StatusOK, status, out)
	status, out = p.call("POST", base+"/land/undo", nil)
	require.Equal(t, http.StatusOK, status, out)
	assert.Equal(t, list, p.paddocks(base))
	status, out = p.call("POST", base+"/land/redo", nil)
	require.Equal(t, http.StatusOK, status, out)
	assert.Len(t, p.paddocks(base), 2)
	p.measure(base, p.paddocks(base)[0]["id"].(string), 2000, -0.01)
	status, out = p.call("POST", base+"/land/undo", nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, out["detail"], "that record stays")
}

func TestExclusionLeavesThePaddocks(t *testing.T) {
	h := start(t, false)
	p := h.member(t, "ida")
	base := p.farm("Skarn")
	field := p.field(base, 9)
	before := p.paddocks(base)[0]["area_ha"].(float64)
	status, out := p.call("POST", base+"/fields/"+field+"/exclusions", map[string]any{"id": id(), "name": "pond", "shape": box(9.001, 61.0005, 0.001)})
	require.Equal(t, http.StatusOK, status, out)
	pond := before - p.paddocks(base)[0]["area_ha"].(float64)
	assert.Greater(t, pond, 0.2)
	_, view := p.call("POST", base+"/fields/"+field+"/divide", map[string]any{"parts": 3, "direction_degrees": 0})
	assert.InEpsilon(t, before-pond, view["grazeable_ha"], 1e-9)
	status, out = p.call("POST", base+"/fields/"+field+"/exclusions", map[string]any{"id": id(), "name": "far pond", "shape": box(9.2, 61, 0.001)})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, out["detail"], "does not lie in")
}

func TestBadInputIsRefusedWithASentence(t *testing.T) {
	h := start(t, false)
	p := h.member(t, "ida")
	base := p.farm("Skarn")
	field, mob := p.field(base, 9), p.mob(base)
	second := id()
	status, _ := p.call("POST", base+"/mobs", with(cows, "id", second, "name", "Heifers", "glyph", "square"))
	require.Equal(t, http.StatusOK, status)
	pad := p.paddocks(base)[0]["id"].(string)
	p.plan(base, mob, second)
	class := func(more ...any) map[string]any {
		return with(cows, "id", id(), "classes", []any{with(map[string]any{"reference_id": "ewe_dry", "name": "", "count": 10, "live_weight_kg": 70, "intake_share": 0.017}, more...)})
	}
	walk := func(more ...any) map[string]any {
		return with(map[string]any{"id": id(), "paddock_id": pad, "method": "plate", "readings": []float64{8, 9}, "measured_at": clockAt(-1)}, more...)
	}
	school := map[string]any{"key": "leaf_residual", "name": "", "idea": "", "method": "residual", "entry_kg_dm_ha": 2600, "too_old_kg_dm_ha": 3100, "residual_kg_dm_ha": 1500,
		"rest_min_days": 18, "stay_max_days": 3, "utilisation": 1}
	plan := func(days float64, start string, more ...any) map[string]any {
		return map[string]any{"id": id(), "starts_on": start, "plan_days": days, "mobs": []any{map[string]any{"mob_id": mob, "school": with(school, more...)}}}
	}
	ring := func(ps ...[2]float64) [][][][2]float64 { return [][][][2]float64{{ps}} }
	drawn := func(shape any) map[string]any {
		return map[string]any{"id": id(), "name": "Bad", "sward_id": "ryegrass_white_clover", "shape": shape}
	}
	a, b, c, d := [2]float64{9.1, 61}, [2]float64{9.11, 61}, [2]float64{9.11, 61.01}, [2]float64{9.1, 61.01}
	before := len(p.paddocks(base))
	for _, k := range []struct {
		name, path string
		body       any
		says       string
	}{
		{"self-crossing", "/fields", drawn(ring(a, c, b, d, a)), "crosses itself"},
		{"open ring", "/fields", drawn(ring(a, b, c, d)), "is open"},
		{"two corners", "/fields", drawn(ring(a, b, a)), "three different corners"},
		{"zero area", "/fields", drawn(ring(a, [2]float64{9.105, 61}, b, a)), ""},
		{"off the world", "/fields", drawn(ring([2]float64{431000, 6770000}, b, c, [2]float64{431000, 6770000})), "another projection"},
		{"over another field", "/fields", drawn(box(9, 61, 0.004)), "counted twice"},
		{"unknown sward", "/fields", with(drawn(box(9.3, 61, 0.004)), "sward_id", "moss"), "not a sward of the reference list"},
		{"no name", "/fields", with(drawn(box(9.3, 61, 0.004)), "name", " "), "give it a name"},
		{"0 parts", "/fields/" + field + "/divide", map[string]any{"parts": 0, "direction_degrees": 0}, "between 1 and 400"},
		{"10 000 parts", "/fields/" + field + "/divide", map[string]any{"parts": 10000, "direction_degrees": 0}, "between 1 and 400"},
		{"half a part", "/fields/" + field + "/divide", map[string]any{"parts": 2.5, "direction_degrees": 0}, "whole number"},
		{"too narrow", "/fields/" + field + "/divide", map[string]any{"parts": 60, "direction_degrees": 0}, "there is room for"},
		{"negative weight", "/mobs", class("live_weight_kg", -70), "between 0.5 kg and 1500 kg"},
		{"absurd weight", "/mobs", class("live_weight_kg", 5000), "between 0.5 kg and 1500 kg"},
		{"620 kg ewes", "/mobs", class("live_weight_kg", 620), "usually weigh 50 kg to 90 kg"},
		{"no animals", "/mobs", class("count", 0), "at least one animal"},
		{"a walk in the future", "/measurements", walk("measured_at", clockAt(30)), "future"},
		{"negative height", "/measurements", walk("readings", []float64{-4}), "readings[0]"},
		{"absurd height", "/measurements", walk("readings", []float64{8, 900}), "400 cm"},
		{"no readings", "/measurements", walk("readings", []float64{}), "at least one reading"},
		{"far too much grass", "/measurements", walk("readings", []float64{60, 62}), "right paddock"},
		{"clip without a frame", "/measurements", walk("method", "clip"), "how large your frame"},
		{"move in the future", "/moves", map[string]any{"id": id(), "mob_id": mob, "to_paddock_id": pad, "moved_at": clockAt(5)}, "plan it instead"},
		{"off pasture twice", "/moves", map[string]any{"id": id(), "mob_id": mob, "moved_at": clockAt(-1)}, "off the pasture already"},
		{"stop above start", "/plan", plan(14, "2026-06-10", "key", "start_stop", "start_height_cm", 8, "stop_height_cm", 10), "below the start height"},
		{"residual above entry", "/plan", plan(14, "2026-06-10", "residual_kg_dm_ha", 2800), "below the entry"},
		{"13 days", "/plan", plan(13, "2026-06-10"), "between 14 days and 60 days"},
		{"ended before it starts", "/plan", plan(14, "2026-05-01"), "end before today"},
		{"not a day", "/plan", plan(14, "soon"), "must be a day"},
		{"leave before enter", "/pins", map[string]any{"id": id(), "mob_id": mob, "paddock_id": pad, "enter_at": "2026-06-12T06:00:00Z", "leave_at": "2026-06-11T06:00:00Z"}, "leave after they enter"},
		{"not a UUID", "/moves", map[string]any{"id": "1", "mob_id": mob, "to_paddock_id": pad, "moved_at": clockAt(-1)}, "UUID"},
	} {
		status, out := p.call("POST", base+k.path, k.body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, "%s: %v", k.name, out)
		assert.Contains(t, fmt.Sprint(out["detail"], out["errors"]), k.says, k.name)
		assert.NotEmpty(t, out["errors"], "%s names its field", k.name)
	}
	assert.Len(t, p.paddocks(base), before, "nothing was half-written")
	status, _ = p.call("POST", base+"/mobs", with(class("live_weight_kg", 620), "confirmed", true, "letter", "E"))
	assert.Equal(t, http.StatusOK, status, "the strange is taken when confirmed")

	for name, k := range map[string]struct{ body, says string }{
		"not GeoJSON":        {`{"hello":1}`, "not a GeoJSON file"},
		"another projection": {`{"type":"Polygon","crs":{"properties":{"name":"EPSG:25832"}},"coordinates":[]}`, "another projection"},
	} {
		status, out := p.call("POST", base+"/land/read?name=ground.geojson", k.body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, name)
		assert.Contains(t, fmt.Sprint(out), k.says)
	}
	status, _ = p.call("POST", base+"/land/read?name=ground.geojson", strings.Repeat(" ", 21<<20))
	assert.Equal(t, http.StatusRequestEntityTooLarge, status)

	// Two mobs in one paddock: kept and flagged as a fact, refused in a plan.
	status, _ = p.move(base, mob, pad, -3)
	require.Equal(t, http.StatusOK, status)
	status, _ = p.move(base, second, pad, -2)
	require.Equal(t, http.StatusOK, status)
	_, raw := p.raw("GET", base+"/moves", nil)
	assert.Contains(t, string(raw), `"shared_with":"Cows"`)
	_, raw = p.raw("GET", base+"/today", nil)
	assert.Contains(t, string(raw), "are both in it")
	p.field(base, 9.05)
	p.field(base, 9.06)
	field2 := p.paddocks(base)[1]["id"]
	pin := map[string]any{"mob_id": mob, "paddock_id": field2, "enter_at": "2026-06-12T06:00:00Z", "leave_at": "2026-06-14T06:00:00Z"}
	status, out := p.call("POST", base+"/pins", with(pin, "id", id()))
	require.Equal(t, http.StatusOK, status, out)
	status, out = p.call("POST", base+"/pins", with(pin, "id", id(), "mob_id", second, "enter_at", "2026-06-13T06:00:00Z"))
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, out["detail"], "another mob is in")
}

func TestRepeatsAreHarmlessAndConflictsAreShown(t *testing.T) {
	h := start(t, false)
	p := h.member(t, "ida")
	base := p.farm("Skarn")
	p.field(base, 9)
	pad := p.paddocks(base)[0]
	reading := map[string]any{"id": id(), "paddock_id": pad["id"], "method": "plain", "readings": []float64{2000}, "measured_at": clockAt(-2)}
	for range 3 {
		status, _ := p.call("POST", base+"/measurements", reading)
		require.Equal(t, http.StatusOK, status, "a repeat is answered with the first result")
	}
	status, _ := p.call("POST", base+"/measurements", with(reading, "readings", []float64{2500}))
	assert.Equal(t, http.StatusConflict, status, "the same id with other content is a conflict")

	facts := map[string]any{"name": "Gate", "sward_id": "tall_fescue", "growth_factor": 1.1, "closed_for": ""}
	path := base + "/paddocks/" + pad["id"].(string)
	status, out := p.call("PUT", path, facts, "If-Match", "1")
	require.Equal(t, http.StatusOK, status, out)
	status, out = p.call("PUT", path, with(facts, "name", "Other"), "If-Match", "1")
	assert.Equal(t, http.StatusPreconditionFailed, status)
	assert.Contains(t, fmt.Sprint(out["errors"]), "stored version")
	assert.Contains(t, fmt.Sprint(out["errors"]), "Gate", "both versions are shown")
	status, _ = p.call("PUT", path, facts)
	assert.Equal(t, http.StatusUnprocessableEntity, status, "a change says what it is based on")

	// A correction keeps the earlier measurement.
	status, _ = p.call("POST", base+"/measurements", with(reading, "id", id(), "readings", []float64{1600}, "replaces_id", reading["id"]))
	require.Equal(t, http.StatusOK, status)
	assert.InDelta(t, 1600, p.paddocks(base)[0]["mass"].(map[string]any)["forage_mass_kg_dm_ha"], 20)
	status, _ = p.call("DELETE", base+"/measurements/"+reading["id"].(string), nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status, "it was corrected already")
	var kept int64
	require.NoError(t, h.service.Farm.DB.Table("measurements").Count(&kept).Error)
	assert.EqualValues(t, 2, kept)
}

func TestFarmIsChangedWithItsVersionAndClockStandsStill(t *testing.T) {
	h := start(t, false)
	p := h.member(t, "ida")
	base := p.farm("Skarn")
	change := map[string]any{"name": "Skarn", "place": "tarn", "time_zone": "America/Denver", "units": "imperial", "aims": []string{"soil"}, "experience": "old_hand", "longitude": 9, "latitude": 61}
	status, out := p.call("PUT", base, change, "If-Match", "1")
	require.Equal(t, http.StatusOK, status)
	assert.Equal(t, "imperial", out["units"])
	assert.Equal(t, true, out["clock_held"])
	status, _ = p.call("PUT", base, change, "If-Match", "1")
	assert.Equal(t, http.StatusPreconditionFailed, status)
	status, out = p.call("PUT", base, with(change, "time_zone", "Mars/North"), "If-Match", "2")
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, out["detail"], "time zone")
	// Whoever thinks in pounds is refused, and read back to, in pounds.
	class := func(weight float64) map[string]any {
		return with(cows, "id", id(), "classes", []any{map[string]any{"reference_id": "ewe_dry", "name": "", "count": 10, "live_weight_kg": weight, "intake_share": 0.02}})
	}
	_, out = p.call("POST", base+"/mobs", class(9000))
	assert.Contains(t, out["detail"], "between 1.102 lb and 3307 lb")
	assert.Contains(t, out["detail"], "got 19840 lb")
	_, out = p.call("POST", base+"/mobs", class(620))
	assert.Contains(t, fmt.Sprint(out["errors"]), "of 1367 lb? They usually weigh 110.2 lb to 198.4 lb")
	status, _ = p.call("POST", "/api/clock/forward", map[string]any{"days": 1})
	assert.Equal(t, http.StatusConflict, status, "only the demo's clock moves")
}

// The first page's one answer says what its five places say.
func TestTheOpeningIsWhatThePlacesSay(t *testing.T) {
	h := start(t, true)
	p := h.visitor(t)
	status, _ := p.call("POST", "/api/sign-in", map[string]any{"email": demo.Email, "password": demo.Password})
	require.Equal(t, http.StatusOK, status)
	_, me := p.call("GET", "/api/me", nil)
	base := "/api/farms/" + me["farms"].([]any)[0].(map[string]any)["id"].(string)
	_, raw := p.raw("GET", base+"/opening", nil)
	var opening map[string]json.RawMessage
	require.NoError(t, json.Unmarshal(raw, &opening))
	for _, place := range []string{"today", "ridge", "land", "mobs", "moves"} {
		status, alone := p.raw("GET", base+"/"+place, nil)
		require.Equal(t, http.StatusOK, status)
		assert.JSONEq(t, string(alone), string(opening[place]), place)
	}
}
