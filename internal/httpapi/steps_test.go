package httpapi_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/rotation/plan"
)

// What the interface calls undo rests on these: each change can be answered with one that leaves the farm as it was.

func TestAPlanBegunAnewIsTakenBackAndTheOneBeforeHoldsWithItsPins(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base := ida.farm("Skarn")
	field := ida.field(base, 9)
	status, out := ida.divide(base, field, 4)
	require.Equal(t, http.StatusOK, status, out)
	mob := ida.mob(base)
	first := ida.plan(base, mob)
	pin := id()
	status, out = ida.call("POST", base+"/pins", map[string]any{"id": pin, "mob_id": mob, "paddock_id": ida.paddocks(base)[0]["id"], "enter_at": "2026-06-12T06:00:00Z"})
	require.Equal(t, http.StatusOK, status, out)

	second := ida.plan(base, mob)
	status, _ = ida.call("DELETE", base+"/plan/"+first, nil)
	assert.Equal(t, http.StatusNotFound, status, "only the present plan is taken back")
	status, out = ida.call("DELETE", base+"/plan/"+second, nil)
	require.Equal(t, http.StatusOK, status, out)
	assert.Equal(t, first, out["plan"].(map[string]any)["id"])
	var pinned []any
	for _, v := range out["visits"].([]any) {
		if got := v.(map[string]any)["pin_id"]; got != "" {
			pinned = append(pinned, got)
		}
	}
	assert.Equal(t, []any{pin}, pinned)

	status, out = ida.call("DELETE", base+"/plan/"+first, nil)
	require.Equal(t, http.StatusOK, status, out)
	assert.Nil(t, out["plan"], "and with the first one taken back there is none, as at the start")
}

func TestAMobDescribedAsBeforeIsAsBefore(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base := ida.farm("Skarn")
	ida.field(base, 9)
	mob := ida.mob(base)
	read := func() map[string]any {
		_, raw := ida.raw("GET", base+"/mobs", nil)
		var mobs []map[string]any
		require.NoError(t, json.Unmarshal(raw, &mobs))
		return mobs[0]
	}
	before := read()
	classes := before["classes"].([]any)
	calf := map[string]any{"reference_id": "beef_store_growing", "name": "Stores", "count": 7, "live_weight_kg": 300, "intake_share": 0.025}
	asIs := func(classes []any) map[string]any {
		return map[string]any{"name": before["name"], "letter": before["letter"], "glyph": before["glyph"], "field_ids": before["field_ids"], "classes": classes, "confirmed": true}
	}
	change := func(body map[string]any, version any) map[string]any {
		status, out := ida.call("PUT", base+"/mobs/"+mob, body, "If-Match", fmt.Sprint(version))
		require.Equal(t, http.StatusOK, status, out)
		return out
	}
	after := change(with(asIs([]any{calf}), "name", "Others"), before["version"])
	require.NotEqual(t, before["head"], after["head"], "the cows went and stores came")
	cow := classes[0].(map[string]any)
	change(asIs([]any{with(cows["classes"].([]any)[0].(map[string]any), "id", cow["id"], "name", cow["name"])}), after["version"])
	now := read()
	for _, key := range []string{"name", "letter", "glyph", "head", "field_ids"} {
		assert.Equal(t, before[key], now[key], key)
	}
	assert.Equal(t, before["classes"], now["classes"])
	assert.Equal(t, before["demand"], now["demand"])
}

func TestThePresentPlanGoesOutAsAProblemThatCanBePlanned(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base := ida.farm("Skarn")
	status, out := ida.call("GET", base+"/plan/problem", nil)
	require.Equal(t, http.StatusUnprocessableEntity, status, out)
	assert.Contains(t, fmt.Sprint(out), "a plan needs paddocks and a mob")

	field := ida.field(base, 9)
	status, out = ida.divide(base, field, 4)
	require.Equal(t, http.StatusOK, status, out)
	ida.plan(base, ida.mob(base))
	status, raw := ida.raw("GET", base+"/plan/problem", nil)
	require.Equal(t, http.StatusOK, status)
	problem, err := plan.Read(raw)
	require.NoError(t, err)
	assert.Equal(t, 14, problem.Days)
	assert.Len(t, problem.Paddocks, 4)
	answer, err := plan.Solve(t.Context(), &problem, nil)
	require.NoError(t, err)
	assert.NotEmpty(t, answer.Visits)
}

func TestAPlanIsGraded(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base := ida.farm("Skarn")
	status, out := ida.call("GET", base+"/plan/grade", nil)
	require.Equal(t, http.StatusOK, status, out)
	assert.Equal(t, "there is no plan yet", out["not"])

	field := ida.field(base, 9)
	status, out = ida.divide(base, field, 6)
	require.Equal(t, http.StatusOK, status, out)
	mob := ida.mob(base)
	ida.plan(base, mob)
	status, out = ida.call("GET", base+"/plan/grade", nil)
	require.Equal(t, http.StatusOK, status, out)
	require.Empty(t, out["not"])
	value := func(out map[string]any, key string) float64 { return out[key].(map[string]any)["value"].(float64) }
	spares, most := value(out, "spares"), value(out, "most_spares")
	assert.GreaterOrEqual(t, spares, -1e-6, "what is found is never dearer")
	assert.GreaterOrEqual(t, most, spares-1e-6)
	moves := out["moves"].([]any)
	require.NotEmpty(t, moves)
	first := moves[0].(map[string]any)
	assert.Equal(t, mob, first["mob_id"])

	// Why a move does not go elsewhere is told for every other paddock, and for the yard.
	_, plan := ida.call("GET", base+"/plan", nil)
	enter := ""
	for _, x := range plan["visits"].([]any) {
		if v := x.(map[string]any); v["kind"] == "planned" && enter == "" {
			enter = v["enter_at"].(string)
		}
	}
	require.NotEmpty(t, enter)
	status, why := ida.call("GET", base+"/plan/why?mob_id="+mob+"&enter_at="+url.QueryEscape(enter), nil)
	require.Equal(t, http.StatusOK, status, why)
	assert.Len(t, why["instead"], 6, "five other paddocks and the yard")
	status, why = ida.call("GET", base+"/plan/why?mob_id="+mob+"&enter_at=2026-06-11T03:00:00Z", nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, fmt.Sprint(why), "no move of Cows is planned for then")

	// A move of it can be fixed as it is told.
	status, fixed := ida.call("POST", base+"/pins", map[string]any{"id": id(), "mob_id": mob, "paddock_id": first["paddock_id"], "enter_at": first["enter_at"], "leave_at": first["leave_at"]})
	require.Equal(t, http.StatusOK, status, fixed)
	status, again := ida.call("GET", base+"/plan/grade", nil)
	require.Equal(t, http.StatusOK, status)
	assert.LessOrEqual(t, value(again, "spares"), most+1e-6)
}

func TestManyWhoAskHowGoodAPlanIsAreToldTheSame(t *testing.T) {
	p := startPair(t)
	ida := p.house[0].member(t, "ida")
	base := ida.farm("Skarn")
	field := ida.field(base, 9)
	status, out := ida.divide(base, field, 6)
	require.Equal(t, http.StatusOK, status, out)
	ida.plan(base, ida.mob(base))
	answers := p.atOnce(ida, 6, func(who person, _ int) (int, map[string]any) { return who.call("GET", base+"/plan/grade", nil) })
	for _, a := range answers[1:] {
		assert.Equal(t, fmt.Sprint(answers[0]), fmt.Sprint(a), "in one process or another")
	}
}
