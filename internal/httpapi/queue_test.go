package httpapi_test

import (
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// levers are those of an advice.
func levers(advice any) (out []map[string]any) {
	for _, l := range advice.(map[string]any)["levers"].([]any) {
		out = append(out, l.(map[string]any))
	}
	return out
}

// The queue stands in the order of the plan, says its week in words, steps back, and tries levers without writing anything.
func TestTheQueueIsLookedAtAndTried(t *testing.T) {
	h := start(t, false)
	ida, viewer := h.member(t, "ida"), h.member(t, "viewer")
	base, mob := ida.planned(t)
	ida.invites(base, viewer, "viewer")
	status, q := viewer.call("GET", base+"/queue", nil)
	require.Equal(t, http.StatusOK, status, q)
	rows := q["rows"].([]any)
	require.NotEmpty(t, rows)
	before := ""
	for _, r := range rows {
		row := r.(map[string]any)
		if row["grazed"] == true || row["turn_at"] == nil {
			continue
		}
		assert.GreaterOrEqual(t, row["turn_at"], before, "the next to be grazed first")
		before = row["turn_at"].(string)
	}
	assert.Equal(t, true, rows[len(rows)-1].(map[string]any)["grazed"], "what is being grazed comes last")
	assert.NotEmpty(t, q["says"])
	assert.Equal(t, "curves", q["growth_band"].(map[string]any)["by"], "nobody walked last year")
	_, plan := viewer.call("GET", base+"/plan", nil)
	first := rows[0].(map[string]any)
	found := false
	for _, v := range plan["visits"].([]any) {
		vis := v.(map[string]any)
		found = found || vis["paddock_id"] == first["paddock_id"] && vis["enter_at"] == first["turn_at"]
	}
	assert.True(t, found, "its turn is the plan's")

	mobs := viewer.list(base + "/mobs")
	assert.Equal(t, mobs[0]["stocking_rate_au"], q["stocking_rate"], "one and the same stocking rate, with its ground and days")

	for path, field := range map[string]string{"?weeks_back=27": "weeks_back", "?weeks_back=-1": "weeks_back", "?mob_id=" + id(): "mob_id"} {
		status, out := viewer.call("GET", base+"/queue"+path, nil)
		assert.Equal(t, http.StatusUnprocessableEntity, status, path)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	status, then := viewer.call("GET", base+"/queue?weeks_back=2", nil)
	require.Equal(t, http.StatusOK, status, then)
	assert.Empty(t, then["says"], "of a week that is past nothing is foretold")

	status, raw := viewer.raw("GET", base+"/queue/table", nil)
	require.Equal(t, http.StatusOK, status)
	assert.Len(t, strings.Split(strings.TrimSpace(string(raw)), "\n"), len(rows)+1)

	_, facts := ida.call("GET", base+"/plan", nil)
	try := func(levers ...map[string]any) (int, map[string]any) {
		return viewer.call("POST", base+"/queue/try", map[string]any{"mob_id": mob, "levers": levers})
	}
	status, none := try([]map[string]any{}...)
	require.Equal(t, http.StatusOK, status, none)
	assert.Equal(t, none["before"], none["behind"])
	status, closed := try(map[string]any{"kind": "close", "paddock_id": first["paddock_id"], "days": 30}, map[string]any{"kind": "head", "mob_id": mob, "count": -5, "price": -1200, "hours": 3})
	require.Equal(t, http.StatusOK, status, closed)
	assert.Equal(t, none["before"], closed["before"])
	assert.Less(t, closed["behind"].(map[string]any)["area_ha"], closed["before"].(map[string]any)["area_ha"])
	assert.InDelta(t, -6000, closed["money"], 1e-9)
	assert.InDelta(t, 3, closed["hours"], 1e-9)
	for field, lever := range map[string]map[string]any{
		"levers[0].paddock_id": {"kind": "cut", "paddock_id": id()}, "levers[0].days": {"kind": "close", "paddock_id": first["paddock_id"]}, "kind": {"kind": "burn"},
		"levers[0].kg": {"kind": "supplement", "mob_id": mob, "days": 5, "kg": 99}, "levers[0].mob_id": {"kind": "house", "mob_id": id(), "days": 3},
	} {
		status, out := try(lever)
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	status, advice := viewer.call("GET", base+"/queue/advice?mob_id="+mob, nil)
	require.Equal(t, http.StatusOK, status, advice)
	for _, x := range advice["advice"].([]any) {
		status, out := try(levers(x)...)
		assert.Equal(t, http.StatusOK, status, out)
	}
	_, again := ida.call("GET", base+"/plan", nil)
	assert.Equal(t, facts["visits"], again["visits"], "nothing is written by trying")

	stranger := h.member(t, "stranger")
	status, _ = stranger.call("POST", base+"/queue/try", map[string]any{"levers": []any{}})
	assert.NotEqual(t, http.StatusOK, status)
	empty := stranger.farm("Empty")
	status, q = stranger.call("GET", empty+"/queue", nil)
	require.Equal(t, http.StatusOK, status, q)
	assert.Empty(t, q["queues"])
	status, out := stranger.call("POST", empty+"/queue/try", map[string]any{"levers": []any{}})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, fmt.Sprint(out), "make a mob")
}
