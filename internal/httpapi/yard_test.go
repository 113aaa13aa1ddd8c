package httpapi_test

import (
	"encoding/json"
	"fmt"
	"maps"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func (p person) jobs(base string) (open, done []map[string]any) {
	p.t.Helper()
	_, out := p.call("GET", base+"/jobs", nil)
	for _, j := range out["open"].([]any) {
		open = append(open, j.(map[string]any))
	}
	for _, j := range out["done"].([]any) {
		done = append(done, j.(map[string]any))
	}
	return open, done
}

// A job is given to somebody, done by whoever does it, once, and comes again where it is to.
func TestJobsAreGivenDoneOnceAndComeAgain(t *testing.T) {
	h := start(t, false)
	ida, hand, viewer, stranger := h.member(t, "ida"), h.member(t, "hand"), h.member(t, "viewer"), h.member(t, "stranger")
	base, _ := ida.planned(t)
	ida.invites(base, hand, "hand")
	ida.invites(base, viewer, "viewer")
	pad := ida.paddocks(base)[0]["id"]
	_, me := hand.call("GET", "/api/me", nil)
	handID := me["account"].(map[string]any)["id"]
	_, them := stranger.call("GET", "/api/me", nil)
	job := map[string]any{"id": id(), "kind": "fence", "what": "Broken strand by the stile", "paddock_id": pad, "due_on": "2026-06-09", "for_id": handID, "every_days": 7}
	for field, body := range map[string]map[string]any{
		"what":       with(maps.Clone(job), "id", id(), "what", "  "),
		"kind":       with(maps.Clone(job), "id", id(), "kind", "dance"),
		"every_days": with(maps.Clone(job), "id", id(), "every_days", 400),
		"due_on":     with(maps.Clone(job), "id", id(), "due_on", "soon"),
		"paddock_id": with(maps.Clone(job), "id", id(), "paddock_id", id()),
		"for_id":     with(maps.Clone(job), "id", id(), "for_id", them["account"].(map[string]any)["id"]),
		"latitude":   with(maps.Clone(job), "id", id(), "longitude", 8.0),
	} {
		status, out := ida.call("POST", base+"/jobs", body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	status, _ := viewer.call("POST", base+"/jobs", job)
	assert.Equal(t, http.StatusForbidden, status)
	for range 2 {
		status, out := ida.call("POST", base+"/jobs", job)
		require.Equal(t, http.StatusOK, status, out)
	}
	open, _ := hand.jobs(base)
	require.Len(t, open, 1, "sent twice, kept once")
	assert.Equal(t, true, open[0]["overdue"])
	assert.Equal(t, "hand", open[0]["for"])
	_, today := ida.call("GET", base+"/today", nil)
	assert.Contains(t, fmt.Sprint(today["minding"]), "Broken strand by the stile", "what is overdue is said among what needs minding")

	done := map[string]any{"id": id(), "job_id": job["id"], "done_at": clockAt(0), "minutes": 25}
	for field, body := range map[string]map[string]any{
		"minutes": with(maps.Clone(done), "id", id(), "minutes", 1e4),
		"done_at": with(maps.Clone(done), "id", id(), "done_at", "2027-01-01T00:00:00Z"),
		"job_id":  with(maps.Clone(done), "id", id(), "job_id", id()),
	} {
		status, out := hand.call("POST", base+"/jobs/done", body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	for range 2 {
		status, out := hand.call("POST", base+"/jobs/done", done)
		require.Equal(t, http.StatusOK, status, out)
	}
	status, out := ida.call("POST", base+"/jobs/done", with(maps.Clone(done), "id", id()))
	assert.Equal(t, http.StatusUnprocessableEntity, status, "done is done")
	assert.Contains(t, fmt.Sprint(out), "somebody did it already")
	open, was := ida.jobs(base)
	require.Len(t, open, 1, "it comes again")
	assert.Equal(t, "2026-06-17", open[0]["due_on"], "seven days after it was done, not after it was due")
	require.Len(t, was, 1)
	assert.Equal(t, "hand", was[0]["done_by"])
	assert.EqualValues(t, 25, was[0]["minutes"])

	status, out = hand.call("DELETE", base+"/jobs/"+job["id"].(string), nil)
	require.Equal(t, http.StatusOK, status, out)
	open, was = ida.jobs(base)
	require.Len(t, open, 1, "not done after all: what followed is gone with it")
	assert.Equal(t, job["id"], open[0]["id"])
	assert.Empty(t, was)
	status, _ = hand.call("DELETE", base+"/jobs/"+job["id"].(string), nil)
	require.Equal(t, http.StatusOK, status)
	open, _ = ida.jobs(base)
	assert.Empty(t, open)
}

// What was seen is kept as it was seen; a correction keeps the earlier one, and what needs minding is said until somebody looked again.
func TestLooksAreKeptAndCorrected(t *testing.T) {
	h := start(t, false)
	ida, hand := h.member(t, "ida"), h.member(t, "hand")
	base, mob := ida.planned(t)
	ida.invites(base, hand, "hand")
	pad := ida.paddocks(base)[0]["id"]
	look := map[string]any{"id": id(), "paddock_id": pad, "mob_id": mob, "seen_at": clockAt(-10), "stage": "during",
		"answers": map[string]any{"bellies": "hollow", "mood": "bawling", "prompted": "me"}, "ground": map[string]any{"bare_share": 0.1}, "note": "two ran to the gate"}
	for field, body := range map[string]map[string]any{
		"answers.dung": with(maps.Clone(look), "id", id(), "answers", map[string]any{"dung": "blue"}),
		"answers.mud":  with(maps.Clone(look), "id", id(), "answers", map[string]any{"mud": "none"}),
		"stage":        with(maps.Clone(look), "id", id(), "stage", "later"),
		"bare_share":   with(maps.Clone(look), "id", id(), "ground", map[string]any{"bare_share": 1.2}),
		"together":     with(maps.Clone(look), "id", id(), "ground", map[string]any{"bare_share": 0.6, "green_share": 0.6}),
		"return_on":    with(maps.Clone(look), "id", id(), "return_on", "2026-06-01"),
		"paddock_id":   with(maps.Clone(look), "id", id(), "paddock_id", id()),
		"mob_id":       with(maps.Clone(look), "id", id(), "mob_id", id()),
		"seen_at":      with(maps.Clone(look), "id", id(), "seen_at", "2027-01-01T00:00:00Z"),
		"replaces_id":  with(maps.Clone(look), "id", id(), "replaces_id", id()),
	} {
		status, out := hand.call("POST", base+"/looks", body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	for range 2 {
		status, out := hand.call("POST", base+"/looks", look)
		require.Equal(t, http.StatusOK, status, out)
	}
	list := func() []any {
		_, out := ida.call("GET", base+"/looks", nil)
		assert.NotEmpty(t, out["asks"])
		return out["looks"].([]any)
	}
	kept := list()
	require.Len(t, kept, 1)
	first := kept[0].(map[string]any)
	assert.Equal(t, "hand", first["by"])
	assert.Len(t, first["minds"], 2)
	_, today := ida.call("GET", base+"/today", nil)
	assert.Contains(t, fmt.Sprint(today["minding"]), "Bellies: hollow")

	better := with(maps.Clone(look), "id", id(), "answers", map[string]any{"bellies": "full"}, "replaces_id", look["id"], "return_on", "2026-06-10")
	status, out := hand.call("POST", base+"/looks", better)
	require.Equal(t, http.StatusOK, status, out)
	require.Len(t, list(), 1, "the earlier one is kept, and not shown")
	_, today = ida.call("GET", base+"/today", nil)
	assert.NotContains(t, fmt.Sprint(today["minding"]), "Bellies: hollow")
	assert.Contains(t, fmt.Sprint(today["minding"]), "look again", "the day to look again has come")
	status, _ = hand.call("DELETE", base+"/looks/"+better["id"].(string), nil)
	require.Equal(t, http.StatusOK, status)
	kept = list()
	require.Len(t, kept, 1, "with the correction taken back the earlier one stands again")
	assert.Equal(t, look["id"], kept[0].(map[string]any)["id"])
}

// What was given withholds the mob until the day on its label, wherever the mob or its sale is; what was put on ground closes it.
func TestTreatmentsWithhold(t *testing.T) {
	h := start(t, false)
	ida, hand := h.member(t, "ida"), h.member(t, "hand")
	base, mob := ida.planned(t)
	ida.invites(base, hand, "hand")
	pads := ida.paddocks(base)
	given := map[string]any{"id": id(), "mob_id": mob, "product": "Drench A, as on the label", "given_on": "2026-06-08", "until_on": "2026-06-30", "tags": "all"}
	for field, body := range map[string]map[string]any{
		"product":    with(maps.Clone(given), "id", id(), "product", " "),
		"given_on":   with(maps.Clone(given), "id", id(), "given_on", "2026-06-11"),
		"until_on":   with(maps.Clone(given), "id", id(), "until_on", "2026-06-08"),
		"mob_id":     with(maps.Clone(given), "id", id(), "paddock_id", pads[1]["id"]),
		"paddock_id": with(maps.Clone(given), "id", id(), "mob_id", nil, "paddock_id", id()),
	} {
		status, out := hand.call("POST", base+"/treatments", body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	status, out := hand.call("POST", base+"/treatments", given)
	require.Equal(t, http.StatusOK, status, out)
	assert.Contains(t, fmt.Sprint(ida.todayOf(base, mob)["withheld"]), "Drench A")
	_, raw := ida.raw("GET", base+"/mobs", nil)
	var mobs []map[string]any
	require.NoError(t, json.Unmarshal(raw, &mobs))
	class := mobs[0]["classes"].([]any)[0].(map[string]any)["id"]
	sale := map[string]any{"id": id(), "kind": "sale", "planned_on": "2026-06-20", "head": 1, "from_id": class}
	status, out = ida.call("POST", base+"/stock/events", sale)
	require.Equal(t, http.StatusUnprocessableEntity, status, "a sale before it ends is asked about")
	assert.Contains(t, fmt.Sprint(out), "Drench A")
	status, out = ida.call("POST", base+"/stock/events", with(maps.Clone(sale), "planned_on", "2026-06-30"))
	require.Equal(t, http.StatusOK, status, out)

	spray := map[string]any{"id": id(), "paddock_id": pads[3]["id"], "product": "Slurry", "given_on": "2026-06-09", "until_on": "2026-06-23"}
	status, out = hand.call("POST", base+"/treatments", spray)
	require.Equal(t, http.StatusOK, status, out)
	assert.Equal(t, "withheld after Slurry", ida.paddocks(base)[3]["closed_now"])
	status, out = ida.call("POST", base+"/moves", map[string]any{"id": id(), "mob_id": mob, "to_paddock_id": pads[3]["id"], "moved_at": clockAt(-5)})
	require.Equal(t, http.StatusUnprocessableEntity, status, "wrong ground is asked about before it is written")
	assert.Contains(t, fmt.Sprint(out), "withheld after Slurry")
	status, _ = hand.call("DELETE", base+"/treatments/"+spray["id"].(string), nil)
	assert.Equal(t, http.StatusForbidden, status, "a record of treatment is taken back by a manager")
	status, _ = ida.call("DELETE", base+"/treatments/"+spray["id"].(string), nil)
	require.Equal(t, http.StatusOK, status)
	assert.Empty(t, ida.paddocks(base)[3]["closed_now"])
}

// A farm goes with everything that was ever written on it: no record may keep another from going.
func TestAFarmGoesWithWhatWasSeenAndDone(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base, mob := ida.planned(t)
	pad := ida.paddocks(base)[0]["id"]
	for path, body := range map[string]map[string]any{
		"/gate-calls": {"mob_id": mob, "paddock_id": pad, "seen_at": clockAt(0), "seen_height_cm": 12, "said": "stay", "did": "stay"},
		"/jobs":       {"kind": "other", "what": "Oil the hinge", "paddock_id": pad},
		"/looks":      {"paddock_id": pad, "mob_id": mob, "seen_at": clockAt(0), "stage": "after", "answers": map[string]any{}, "ground": map[string]any{}},
		"/treatments": {"mob_id": mob, "product": "Drench", "given_on": "2026-06-10"},
		"/conditions": {"name": "lightning_forecast", "value": true},
	} {
		status, out := ida.call("POST", base+path, with(body, "id", id()))
		require.Equal(t, http.StatusOK, status, "%s: %v", path, out)
	}
	status, out := ida.call("POST", "/api/account/give-up", map[string]any{"password": "a long password"})
	require.Equal(t, http.StatusOK, status, out)
	for _, table := range []string{"farms", "gate_calls", "jobs", "looks", "treatments", "conditions", "mobs", "paddocks"} {
		var n int64
		require.NoError(t, h.service.Farm.DB.Table(table).Count(&n).Error)
		assert.Zero(t, n, table)
	}
}

// Photos of a look carry their stage, and those of one point stand side by side, the oldest first, over the years.
func TestPhotosOfALookAndOfAPoint(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base, _ := ida.planned(t)
	pads := ida.paddocks(base)
	look := map[string]any{"id": id(), "paddock_id": pads[0]["id"], "seen_at": clockAt(-1), "stage": "after", "answers": map[string]any{}, "ground": map[string]any{}}
	status, out := ida.call("POST", base+"/looks", look)
	require.Equal(t, http.StatusOK, status, out)
	take := func(stop any, day, stage, point string) (int, map[string]any) {
		q := url.Values{"id": {id()}, "stop": {stop.(string)}, "paddock": {pads[0]["id"].(string)}, "taken_at": {day + "T08:00:00Z"}, "stage": {stage}, "point": {point}}
		return ida.call("POST", base+"/photos?"+q.Encode(), string(picture(t)), "Content-Type", "application/octet-stream")
	}
	status, out = take(look["id"], "2026-06-10", "later", "")
	assert.Equal(t, http.StatusUnprocessableEntity, status, out)
	status, out = take(look["id"], "2026-06-10", "after", strings.Repeat("x", 81))
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, fmt.Sprint(out), "point")
	for _, p := range [][2]string{{"2026-06-09", "from the gate, north"}, {"2025-06-11", " from the gate, north "}, {"2026-06-08", ""}} {
		status, out = take(look["id"], p[0], "after", p[1])
		require.Equal(t, http.StatusOK, status, out)
	}
	_, list := ida.call("GET", base+"/looks", nil)
	photos := list["looks"].([]any)[0].(map[string]any)["photos"].([]any)
	require.Len(t, photos, 3)
	assert.Equal(t, "after", photos[0].(map[string]any)["stage"])
	points := list["points"].([]any)
	require.Len(t, points, 1, "one point, however its name was typed")
	seq := points[0].(map[string]any)["photos"].([]any)
	require.Len(t, seq, 2)
	assert.Equal(t, "2025-06-11T08:00:00Z", seq[0].(map[string]any)["taken_at"], "last year's first")
}
