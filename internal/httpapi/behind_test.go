package httpapi_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/rotation/plan"
)

func TestDryStockArePlannedBehindTheCows(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base := ida.farm("Skarn")
	status, out := ida.divide(base, ida.field(base, 9), 6)
	require.Equal(t, http.StatusOK, status, out)
	first, second := ida.mob(base), id()
	status, out = ida.call("POST", base+"/mobs", with(cows, "id", second, "name", "Dry cows", "letter", "D"))
	require.Equal(t, http.StatusOK, status, out)
	pads := ida.paddocks(base)
	for i, mob := range []string{first, second} {
		status, out = ida.call("POST", base+"/moves", map[string]any{"id": id(), "mob_id": mob, "to_paddock_id": pads[i]["id"], "moved_at": clockAt(-24)})
		require.Equal(t, http.StatusOK, status, out)
	}
	ida.plan(base, first, second)
	change := func(follows map[string]string) (int, map[string]any) {
		_, now := ida.call("GET", base+"/plan", nil)
		meta := now["plan"].(map[string]any)
		var mobs []any
		for _, m := range meta["mobs"].([]any) {
			m := m.(map[string]any)
			mobs = append(mobs, map[string]any{"mob_id": m["mob_id"], "school": m["school"], "follows": follows[m["mob_id"].(string)]})
		}
		return ida.call("PUT", base+"/plan/"+meta["id"].(string), map[string]any{"starts_on": meta["starts_on"], "plan_days": meta["plan_days"], "mobs": mobs, "confirmed": true},
			"If-Match", fmt.Sprint(meta["version"]))
	}
	for _, c := range []struct {
		said    string
		follows map[string]string
	}{
		{"circle", map[string]string{first: second, second: first}},
		{"must be another mob of the plan", map[string]string{second: second}},
		{"must be another mob of the plan", map[string]string{second: id()}},
	} {
		status, out = change(c.follows)
		assert.Equal(t, http.StatusUnprocessableEntity, status, c.said)
		assert.Contains(t, fmt.Sprint(out), c.said)
	}
	status, out = change(map[string]string{second: first})
	require.Equal(t, http.StatusOK, status, out)
	follows := map[any]any{}
	for _, m := range out["plan"].(map[string]any)["mobs"].([]any) {
		follows[m.(map[string]any)["mob_id"]] = m.(map[string]any)["follows"]
	}
	assert.Equal(t, map[any]any{first: nil, second: first}, follows)
	last, moved := pads[0]["id"], 0
	at := map[string]map[string]any{first: {}, second: {}}
	for _, v := range out["visits"].([]any) {
		v := v.(map[string]any)
		if v["kind"] == "planned" {
			at[v["mob_id"].(string)][v["enter_at"].(string)] = v["paddock_id"]
		}
	}
	for _, v := range out["visits"].([]any) {
		if v := v.(map[string]any); v["kind"] == "planned" && v["mob_id"] == first {
			assert.Equal(t, last, at[second][v["enter_at"].(string)], "they get what the cows leave")
			last = v["paddock_id"]
			moved++
		}
	}
	assert.Greater(t, moved, 1)

	status, out = ida.call("POST", base+"/pins", map[string]any{"id": id(), "mob_id": second, "paddock_id": pads[4]["id"], "enter_at": "2026-06-13T06:00:00Z"})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, fmt.Sprint(out), "Dry cows go where Cows were")
	status, out = search(ida, base, id(), 1)
	require.Equal(t, http.StatusOK, status, out)
	status, raw := ida.raw("GET", base+"/plan/problem", nil)
	require.Equal(t, http.StatusOK, status)
	problem, err := plan.Read(raw)
	require.NoError(t, err)
	told, err := json.Marshal(problem.Mobs)
	require.NoError(t, err)
	assert.Contains(t, string(told), `"follows":"Cows"`)
}

func TestAFarmSaysHowManyMovesADayHasHandsFor(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base, _ := ida.planned(t)
	set := func(most int) (int, map[string]any) {
		_, farm := ida.call("GET", base, nil)
		return ida.call("PUT", base+"/moving", map[string]any{"minutes": []int{480}, "weekdays": []int{1, 2, 3, 4, 5, 6, 7}, "away": []any{}, "most_moves_a_day": most},
			"If-Match", fmt.Sprint(farm["version"]))
	}
	for _, bad := range []int{-1, 201} {
		status, out := set(bad)
		assert.Equal(t, http.StatusUnprocessableEntity, status)
		assert.Contains(t, fmt.Sprint(out), "most_moves_a_day")
	}
	status, out := set(2)
	require.Equal(t, http.StatusOK, status, out)
	assert.Equal(t, 2.0, out["moving"].(map[string]any)["most_moves_a_day"])
	status, raw := ida.raw("GET", base+"/plan/problem", nil)
	require.Equal(t, http.StatusOK, status)
	problem, err := plan.Read(raw)
	require.NoError(t, err)
	assert.Equal(t, 2, problem.MostMoves)
}

func TestAPlanIsMadeForAPoorSeason(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base, _ := ida.planned(t)
	change := func(careful bool) map[string]any {
		_, now := ida.call("GET", base+"/plan", nil)
		meta := now["plan"].(map[string]any)
		status, out := ida.call("PUT", base+"/plan/"+meta["id"].(string), map[string]any{"starts_on": meta["starts_on"], "plan_days": meta["plan_days"], "mobs": meta["mobs"],
			"careful": careful, "confirmed": true}, "If-Match", fmt.Sprint(meta["version"]))
		require.Equal(t, http.StatusOK, status, out)
		return out["plan"].(map[string]any)
	}
	assert.Equal(t, true, change(true)["careful"])
	status, raw := ida.raw("GET", base+"/plan/problem", nil)
	require.Equal(t, http.StatusOK, status)
	problem, err := plan.Read(raw)
	require.NoError(t, err)
	assert.True(t, problem.Careful)
	status, out := search(ida, base, id(), 0)
	require.Equal(t, http.StatusOK, status, out)
	status, out = ida.call("GET", base+"/plan/grade", nil)
	require.Equal(t, http.StatusOK, status, out)
	assert.Equal(t, true, out["careful"])
	assert.Nil(t, change(false)["careful"])
}
