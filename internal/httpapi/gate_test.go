package httpapi_test

import (
	"encoding/json"
	"fmt"
	"maps"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/offline"
	"fjell/internal/demo"
)

// todayOf is what Today says of a mob.
func (p person) todayOf(base, mob string) map[string]any {
	p.t.Helper()
	_, today := p.call("GET", base+"/today", nil)
	for _, m := range today["mobs"].([]any) {
		if m := m.(map[string]any); m["mob_id"] == mob {
			return m
		}
	}
	p.t.Fatal("no such mob today")
	return nil
}

func TestOneFigureAtTheGateIsAnsweredAndKept(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base, mob := ida.planned(t)
	said := ida.todayOf(base, mob)
	gate := said["gate"].(map[string]any)
	assert.NotEmpty(t, gate["slots"])
	require.NotEmpty(t, gate["next"])
	assert.Equal(t, said["next"].(map[string]any)["paddock_id"], gate["next"].([]any)[0].(map[string]any)["paddock_id"], "first where the plan goes")

	// What the farm says is what core answers from, in the browser as here.
	answer := func(cm float64) map[string]any {
		ask := maps.Clone(gate)
		ask["now"] = demo.Now
		ask["seen"] = with(maps.Clone(gate["seen"].(map[string]any)), "by", "height", "value", cm)
		raw, err := json.Marshal(ask)
		require.NoError(t, err)
		var out map[string]any
		require.NoError(t, json.Unmarshal(offline.Call("stay-or-move", raw), &out))
		require.Nil(t, out["problem"], out)
		return out["value"].(map[string]any)
	}
	assert.Equal(t, "stay", answer(25)["do"])
	assert.NotEqual(t, "stay", answer(3)["do"], "grazed down to the ground nobody stays")

	call := map[string]any{"id": id(), "mob_id": mob, "paddock_id": said["paddock_id"], "seen_at": clockAt(0), "seen_height_cm": 9, "said": "stay", "did": "stay"}
	for _, c := range []struct {
		name, field string
		body        map[string]any
	}{
		{"two figures", "seen_height_cm", with(maps.Clone(call), "seen_fists", 1)},
		{"none", "seen_height_cm", with(maps.Clone(call), "seen_height_cm", nil)},
		{"a word that is none", "did", with(maps.Clone(call), "did", "dance")},
		{"other than said, and no reason", "reason", with(maps.Clone(call), "did", "move")},
		{"longer than said, and no reason", "reason", with(maps.Clone(call), "otherwise", true, "reason", "  ")},
		{"a height that is none", "seen_height_cm", with(maps.Clone(call), "seen_height_cm", 900)},
	} {
		status, out := ida.call("POST", base+"/gate-calls", c.body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, c.name)
		assert.Contains(t, fmt.Sprint(out), c.field, c.name)
	}
	assert.Nil(t, ida.todayOf(base, mob)["last_call"], "nothing half written")

	before := said["mass"].(map[string]any)["forage_mass_kg_dm_ha"].(float64)
	for range 2 { // sent twice, kept once
		status, out := ida.call("POST", base+"/gate-calls", call)
		require.Equal(t, http.StatusOK, status, out)
	}
	now := ida.todayOf(base, mob)
	kept := now["last_call"].(map[string]any)
	assert.Equal(t, "stay", kept["did"])
	assert.Empty(t, kept["reason"])
	assert.NotEqual(t, before, now["mass"].(map[string]any)["forage_mass_kg_dm_ha"], "what was seen counts as a measurement")

	otherwise := map[string]any{"id": id(), "mob_id": mob, "paddock_id": said["paddock_id"], "seen_at": clockAt(0.01), "seen_fists": 1, "said": "stay", "did": "move", "reason": "hail is coming"}
	status, out := ida.call("POST", base+"/gate-calls", otherwise)
	require.Equal(t, http.StatusOK, status, out)
	assert.Equal(t, "hail is coming", ida.todayOf(base, mob)["last_call"].(map[string]any)["reason"])

	// Its figure taken back, the call is gone with it, and the one before holds.
	status, _ = ida.call("DELETE", base+"/measurements/"+otherwise["id"].(string), nil)
	require.Equal(t, http.StatusOK, status)
	assert.Equal(t, kept, ida.todayOf(base, mob)["last_call"])
}
