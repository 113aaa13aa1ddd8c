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
	status, out := ida.call("POST", base+"/jobs", map[string]any{"id": id(), "kind": "other", "what": "Oil the hinge"})
	require.Equal(t, http.StatusOK, status, out)
	assert.NotNil(t, ida.todayOf(base, mob)["last_call"], "it stands after something else was written, too")
	assert.Empty(t, kept["reason"])
	assert.NotEqual(t, before, now["mass"].(map[string]any)["forage_mass_kg_dm_ha"], "what was seen counts as a measurement")

	otherwise := map[string]any{"id": id(), "mob_id": mob, "paddock_id": said["paddock_id"], "seen_at": clockAt(0.01), "seen_fists": 1, "said": "stay", "did": "move", "reason": "hail is coming"}
	status, out = ida.call("POST", base+"/gate-calls", otherwise)
	require.Equal(t, http.StatusOK, status, out)
	assert.Equal(t, "hail is coming", ida.todayOf(base, mob)["last_call"].(map[string]any)["reason"])

	// Its figure taken back, the call is gone with it, and the one before holds.
	status, _ = ida.call("DELETE", base+"/measurements/"+otherwise["id"].(string), nil)
	require.Equal(t, http.StatusOK, status)
	assert.Equal(t, kept, ida.todayOf(base, mob)["last_call"])
}

// A forgotten move goes between two others, a wrong one is corrected, and where they came from follows; all that was written stays on record.
func TestForgottenAndWrongMovesArePutRight(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base := ida.farm("Moen")
	status, out := ida.divide(base, ida.field(base, 9), 5)
	require.Equal(t, http.StatusOK, status, out)
	list := ida.paddocks(base)
	mob := ida.mob(base)
	pad := func(i int) any { return list[i]["id"] }
	status, out = ida.move(base, mob, pad(0), -72)
	require.Equal(t, http.StatusOK, status, out)
	status, out = ida.move(base, mob, pad(1), -24, "height_left_cm", 6)
	require.Equal(t, http.StatusOK, status, out)
	says := func() (out []string) {
		status, raw := ida.raw("GET", base+"/moves", nil)
		require.Equal(t, http.StatusOK, status)
		var list []map[string]any
		require.NoError(t, json.Unmarshal(raw, &list))
		for _, m := range list {
			out = append(out, fmt.Sprint(m["from_name"], " → ", m["to_name"]))
		}
		return out
	}
	name := func(i int) string { return list[i]["name"].(string) }
	assert.Equal(t, []string{name(0) + " → " + name(1), " → " + name(0)}, says())

	// The one in between, written down last.
	between := id()
	status, out = ida.call("POST", base+"/moves", map[string]any{"id": between, "mob_id": mob, "to_paddock_id": pad(2), "moved_at": clockAt(-48)})
	require.Equal(t, http.StatusOK, status, out)
	assert.Equal(t, []string{name(2) + " → " + name(1), name(0) + " → " + name(2), " → " + name(0)}, says())
	for why, body := range map[string]map[string]any{
		"they went there at": {"id": id(), "mob_id": mob, "to_paddock_id": pad(1), "moved_at": clockAt(-30)},
		"are in":             {"id": id(), "mob_id": mob, "to_paddock_id": pad(2), "moved_at": clockAt(-30)},
		"that very minute":   {"id": id(), "mob_id": mob, "to_paddock_id": pad(3), "moved_at": clockAt(-48)},
		"between the one":    {"id": id(), "mob_id": mob, "to_paddock_id": pad(3), "moved_at": clockAt(-12), "replaces_id": between},
		"correct the one":    {"id": id(), "mob_id": mob, "to_paddock_id": pad(3), "moved_at": clockAt(-48), "replaces_id": id()},
		"lie in the future":  {"id": id(), "mob_id": mob, "to_paddock_id": pad(3), "moved_at": clockAt(5)},
	} {
		status, out := ida.call("POST", base+"/moves", body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, why)
		assert.Contains(t, fmt.Sprint(out), why)
	}

	// It was the fourth, and an hour later.
	corrected := id()
	status, out = ida.call("POST", base+"/moves", map[string]any{"id": corrected, "mob_id": mob, "to_paddock_id": pad(3), "moved_at": clockAt(-47), "replaces_id": between, "note": "misread"})
	require.Equal(t, http.StatusOK, status, out)
	assert.Equal(t, []string{name(3) + " → " + name(1), name(0) + " → " + name(3), " → " + name(0)}, says())
	status, out = ida.call("POST", base+"/moves", map[string]any{"id": id(), "mob_id": mob, "to_paddock_id": pad(2), "moved_at": clockAt(-47), "replaces_id": between})
	assert.Equal(t, http.StatusUnprocessableEntity, status, "corrected once; after that the correction is corrected")
	assert.Contains(t, fmt.Sprint(out), "correct the one that stands now")

	// Taken back, whichever it is, as long as what is left leads somewhere.
	status, out = ida.call("DELETE", base+"/moves/"+corrected, nil)
	require.Equal(t, http.StatusOK, status, out)
	assert.Equal(t, []string{name(0) + " → " + name(1), " → " + name(0)}, says())
	status, _ = ida.call("DELETE", base+"/moves/"+corrected, nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	status, out = ida.move(base, mob, pad(0), -1)
	require.Equal(t, http.StatusOK, status, out)
	status, raw := ida.raw("GET", base+"/moves", nil)
	require.Equal(t, http.StatusOK, status)
	var moves []map[string]any
	require.NoError(t, json.Unmarshal(raw, &moves))
	status, out = ida.call("DELETE", base+"/moves/"+moves[1]["id"].(string), nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, fmt.Sprint(out), "take the move after it back first")
}

// What is counted and read at a gate is held against the books and the stock, and is said until it is put right.
func TestCountsAndVoltsAreMinded(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base := ida.farm("Moen")
	status, out := ida.divide(base, ida.field(base, 9), 5)
	require.Equal(t, http.StatusOK, status, out)
	list := ida.paddocks(base)
	mob := ida.mob(base)
	minding := func() string {
		_, today := ida.call("GET", base+"/today", nil)
		return fmt.Sprint(today["minding"])
	}
	head := int(ida.todayOf(base, mob)["head"].(float64))
	require.Positive(t, head)
	first := id()
	body := map[string]any{"id": first, "mob_id": mob, "to_paddock_id": list[0]["id"], "moved_at": clockAt(-2), "counted": head - 2, "source_kv": 6.5, "end_kv": 2.1}
	status, out = ida.call("POST", base+"/moves", body)
	require.Equal(t, http.StatusOK, status, out)
	said := minding()
	assert.Contains(t, said, "count again")
	assert.Contains(t, said, "find the fault")
	assert.Contains(t, said, "today?correct="+first, "it leads where it is put right")

	second := id()
	status, out = ida.call("POST", base+"/moves", with(maps.Clone(body), "id", second, "replaces_id", first, "counted", head, "end_kv", 3.9))
	require.Equal(t, http.StatusOK, status, out)
	said = minding()
	assert.NotContains(t, said, "count again")
	assert.Contains(t, said, "lost on the way")
	assert.NotContains(t, said, "drink", "nobody was asked")
	status, out = ida.call("POST", base+"/moves", with(maps.Clone(body), "id", id(), "replaces_id", second, "counted", head, "end_kv", 3.9, "drink_seen", false))
	require.Equal(t, http.StatusOK, status, out)
	assert.Contains(t, minding(), "nobody has seen them drink yet")
	for field, v := range map[string]float64{"end_kv": 45, "source_kv": -1, "counted": -3} {
		status, out := ida.call("POST", base+"/moves", with(maps.Clone(body), "id", id(), "moved_at", clockAt(-1), "to_paddock_id", list[1]["id"], field, v))
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}

	// The farm's own list.
	_, farm := ida.call("GET", base, nil)
	edits := map[string]any{"own": []any{map[string]any{"id": "bell", "do": "Ring the bell", "when": "gate", "mob_id": mob}}, "left_out": []string{"move_day_cattle.5"}}
	status, out = ida.call("PUT", base+"/routine", edits, "If-Match", fmt.Sprint(farm["version"]))
	require.Equal(t, http.StatusOK, status, out)
	assert.Equal(t, "Ring the bell", out["routine"].(map[string]any)["own"].([]any)[0].(map[string]any)["do"])
	routine := fmt.Sprint(ida.todayOf(base, mob)["routine"])
	assert.Contains(t, routine, "Ring the bell")
	assert.NotContains(t, routine, "poisonous plants, litter")
	status, _ = ida.call("PUT", base+"/routine", edits, "If-Match", fmt.Sprint(farm["version"]))
	assert.Equal(t, http.StatusPreconditionFailed, status, "somebody else changed it")
}
