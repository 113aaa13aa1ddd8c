package httpapi_test

import (
	"fmt"
	"maps"
	"net/http"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/internal/store"
)

// Plants of a key species are measured at the gate; use by weight above the limit is said on Today until the mob is out or the tally taken back.
func TestATallyIsKeptJudgedAndSaid(t *testing.T) {
	h := start(t, false)
	ida, hand, viewer := h.member(t, "ida"), h.member(t, "hand"), h.member(t, "viewer")
	base, mob := ida.planned(t)
	ida.invites(base, hand, "hand")
	ida.invites(base, viewer, "viewer")
	pad := ida.todayOf(base, mob)["paddock_id"]
	require.NotEmpty(t, pad)
	tally := map[string]any{"id": id(), "paddock_id": pad, "mob_id": mob, "counted_at": clockAt(0), "species": "Timothy", "grazed_cm": slices.Repeat([]float64{3}, 30),
		"ungrazed_cm": slices.Repeat([]float64{18}, 30), "height_weight_exponent": 2.0, "limit": 0.5, "ungrazed_from": "here"}
	for field, body := range map[string]map[string]any{
		"species":                with(maps.Clone(tally), "id", id(), "species", " "),
		"ungrazed_from":          with(maps.Clone(tally), "id", id(), "ungrazed_from", "afar"),
		"grazed_cm":              with(maps.Clone(tally), "id", id(), "grazed_cm", []float64{}),
		"ungrazed_cm":            with(maps.Clone(tally), "id", id(), "ungrazed_cm", []float64{1, -4}),
		"height_weight_exponent": with(maps.Clone(tally), "id", id(), "height_weight_exponent", 90.0),
		"counted_at":             with(maps.Clone(tally), "id", id(), "counted_at", "2027-01-01T00:00:00Z"),
		"paddock_id":             with(maps.Clone(tally), "id", id(), "paddock_id", id()),
	} {
		status, out := hand.call("POST", base+"/tallies", body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	status, _ := viewer.call("POST", base+"/tallies", tally)
	assert.Equal(t, http.StatusForbidden, status)
	for range 2 {
		status, out := hand.call("POST", base+"/tallies", tally)
		require.Equal(t, http.StatusOK, status, out)
	}
	kept := viewer.list(base + "/tallies")
	require.Len(t, kept, 1, "sent twice, kept once")
	says := kept[0]["says"].(map[string]any)
	assert.InDelta(t, 25.0/36, says["use_by_weight"], 1e-9)
	assert.Equal(t, true, says["over"])
	minding := func() string {
		_, today := ida.call("GET", base+"/today", nil)
		return fmt.Sprint(today["minding"])
	}
	assert.Contains(t, minding(), "of the weight of Timothy is used, above the limit")
	status, _ = ida.call("DELETE", base+"/tallies/"+tally["id"].(string), nil)
	require.Equal(t, http.StatusOK, status)
	assert.NotContains(t, minding(), "Timothy")
	assert.Empty(t, viewer.list(base+"/tallies"))
}

// Stock that do not know electric fence carry a mark, which warns, until somebody has seen them keep off it.
func TestStockThatDoNotKnowTheFenceAreMarked(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base, _ := ida.planned(t)
	_, year := ida.call("GET", base+"/stock/year", nil)
	class := year["bands"].([]any)[0].(map[string]any)["group_id"]
	mark := map[string]any{"id": id(), "class_id": class, "why": "bought", "since_on": "2026-06-01", "weeks": 2}
	for field, body := range map[string]map[string]any{
		"why": with(maps.Clone(mark), "id", id(), "why", "lazy"), "weeks": with(maps.Clone(mark), "id", id(), "weeks", 0),
		"since_on": with(maps.Clone(mark), "id", id(), "since_on", "2027-01-01"), "class_id": with(maps.Clone(mark), "id", id(), "class_id", id()),
	} {
		status, out := ida.call("POST", base+"/trainings", body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	for range 2 {
		status, out := ida.call("POST", base+"/trainings", mark)
		require.Equal(t, http.StatusOK, status, out)
	}
	status, _ := ida.call("POST", base+"/trainings", with(maps.Clone(mark), "id", id()))
	assert.Equal(t, http.StatusUnprocessableEntity, status, "one mark a class")
	_, today := ida.call("GET", base+"/today", nil)
	assert.Contains(t, fmt.Sprint(today["minding"]), "are learning the fence")
	at := base + "/trainings/" + mark["id"].(string)
	knows := func(so bool) {
		status, out := ida.call("PUT", at, map[string]any{"knows": so})
		require.Equal(t, http.StatusOK, status, out)
	}
	knows(true)
	assert.Empty(t, ida.list(base+"/trainings"))
	knows(false)
	assert.Len(t, ida.list(base+"/trainings"), 1, "said by mistake")
	status, _ = ida.call("DELETE", at, nil)
	require.Equal(t, http.StatusOK, status)
	assert.Empty(t, ida.list(base+"/trainings"), "marked by mistake")
	var row store.Training
	require.NoError(t, h.service.Farm.DB.First(&row, "id = ?", mark["id"]).Error)
	assert.True(t, row.Withdrawn, "it stays on record as taken back")
	assert.Nil(t, row.TrainedOn, "and says of nobody that they know the fence")
}

// The farm's own targets for its ground and its fences are what looks and volts are held against.
func TestTheFarmsOwnTargetsAreHeldAgainst(t *testing.T) {
	h := start(t, false)
	ida, hand := h.member(t, "ida"), h.member(t, "hand")
	base, mob := ida.planned(t)
	ida.invites(base, hand, "hand")
	pad := ida.todayOf(base, mob)["paddock_id"]
	_, farm := ida.call("GET", base, nil)
	version := fmt.Sprint(farm["version"])
	for field, body := range map[string]map[string]any{
		"bare_most":    {"ground": map[string]any{"bare_most": 1.5}},
		"legume_until": {"ground": map[string]any{"legume_from": 0.4, "legume_until": 0.3}},
		"least_kv":     {"ground": map[string]any{}, "least_kv": 90},
	} {
		status, out := ida.call("PUT", base+"/targets", body, "If-Match", version)
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	targets := map[string]any{"ground": map[string]any{"bare_most": 0.05}, "least_kv": 6.5}
	status, _ := hand.call("PUT", base+"/targets", targets, "If-Match", version)
	assert.Equal(t, http.StatusForbidden, status)
	status, out := ida.call("PUT", base+"/targets", targets, "If-Match", version)
	require.Equal(t, http.StatusOK, status, out)
	assert.InDelta(t, 6.5, ida.todayOf(base, mob)["fence_kv"], 1e-9)
	class := ida.list(base + "/mobs")[0]["classes"].([]any)[0].(map[string]any)["id"]
	look := map[string]any{"id": id(), "paddock_id": pad, "mob_id": mob, "seen_at": clockAt(0), "stage": "during", "answers": map[string]any{}, "ground": map[string]any{"bare_share": 0.2},
		"animals": []any{map[string]any{"class_id": class, "condition": 2.75, "scored_head": 10, "lame_tags": "112"}}}
	for field, seen := range map[string]map[string]any{"condition": {"class_id": class, "condition": 2.6}, "class_id": {"class_id": id(), "condition": 3}} {
		status, out := ida.call("POST", base+"/looks", with(maps.Clone(look), "id", id(), "animals", []any{seen}))
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	status, out = ida.call("POST", base+"/looks", look)
	require.Equal(t, http.StatusOK, status, out)
	_, today := ida.call("GET", base+"/today", nil)
	said := fmt.Sprint(today["minding"])
	assert.Contains(t, said, "bare ground {v}, your own most is {w}")
	assert.Contains(t, said, "lame: 112")
	_, looks := ida.call("GET", base+"/looks", nil)
	seen := looks["looks"].([]any)[0].(map[string]any)["animals"].([]any)[0].(map[string]any)
	assert.InDelta(t, 2.75, seen["condition"], 1e-9)
	assert.NotEmpty(t, seen["class_name"])
}
