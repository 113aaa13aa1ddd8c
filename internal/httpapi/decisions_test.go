package httpapi_test

import (
	"fmt"
	"net/http"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// facts are all that a decision may write, as the places show it.
func (p person) facts(base string) map[string]any {
	p.t.Helper()
	out := map[string]any{}
	for _, path := range []string{"/land", "/mobs", "/plan", "/fodder", "/jobs", "/queue", "/stock/year?year=2026&measure=head"} {
		status, raw := p.raw("GET", base+path, nil)
		require.Equal(p.t, http.StatusOK, status, path)
		out[path] = string(raw)
	}
	return out
}

// versionless are versions and the step that could be undone, which never go back, and what is made up of a moment.
var versionless = regexp.MustCompile(`"version":\d+,?|,?"(undo|redo)":\{[^}]*\}`)

// assertSame holds that the same is shown as before, but for versions.
func assertSame(t *testing.T, want, have map[string]any, msg string) {
	t.Helper()
	for path := range want {
		assert.Equal(t, versionless.ReplaceAllString(want[path].(string), ""), versionless.ReplaceAllString(have[path].(string), ""), msg+" "+path)
	}
}

// Every lever, decided, writes what it stands for; taken back, everything is as before.
func TestADecisionWritesItsFactsAndIsTakenBackWhole(t *testing.T) {
	h := start(t, false)
	ida, viewer, hand := h.member(t, "ida"), h.member(t, "viewer"), h.member(t, "hand")
	base, mob := ida.planned(t)
	ida.invites(base, viewer, "viewer")
	ida.invites(base, hand, "hand")
	_, q := ida.call("GET", base+"/queue", nil)
	first := q["rows"].([]any)[0].(map[string]any)["paddock_id"]
	second := q["rows"].([]any)[1].(map[string]any)["paddock_id"]
	schools := q["schools"].([]any)
	other := schools[len(schools)-1].(map[string]any)["key"].(string)
	decide := func(p person, levers ...map[string]any) (int, map[string]any, string) {
		one := id()
		status, out := p.call("POST", base+"/queue/decisions", map[string]any{"id": one, "mob_id": mob, "reason": "the week looks short", "levers": levers})
		return status, out, one
	}
	before := ida.facts(base)
	for name, x := range map[string]struct {
		lever map[string]any
		place string
		says  string
	}{
		"pass":       {map[string]any{"kind": "pass", "paddock_id": first, "days": 9}, "/land", "passed over"},
		"close":      {map[string]any{"kind": "close", "paddock_id": first, "days": 30}, "/queue", "closed up"},
		"cut":        {map[string]any{"kind": "cut", "paddock_id": first, "bale_kg_dm": 200}, "/fodder", `"kind":"cut"`},
		"top":        {map[string]any{"kind": "top", "paddock_id": first}, "/land", ""},
		"supplement": {map[string]any{"kind": "supplement", "mob_id": mob, "kg": 2, "days": 20, "waste": 0.1}, "/mobs", `"substitution":0.9`},
		"house":      {map[string]any{"kind": "house", "mob_id": mob, "days": 4}, "/mobs", `"until":"`},
		"loafing":    {map[string]any{"kind": "loafing", "mob_id": mob, "days": 4}, "/mobs", `"until":"`},
		"sale":       {map[string]any{"kind": "head", "mob_id": mob, "count": -4, "after_days": 10}, "/stock/year?year=2026&measure=head", `"sale"`},
		"purchase":   {map[string]any{"kind": "head", "mob_id": mob, "count": 4, "after_days": 10}, "/stock/year?year=2026&measure=head", `"purchase"`},
		"nitrogen":   {map[string]any{"kind": "nitrogen", "paddock_id": first, "kg": 30, "anyway": true}, "/queue", ""},
		"later":      {map[string]any{"kind": "nitrogen", "paddock_id": first, "kg": 30, "after_days": 6, "anyway": true}, "/jobs", "Spread 30 kg of nitrogen"},
		"pace":       {map[string]any{"kind": "pace", "mob_id": mob, "days": 40}, "/plan", ""},
		"school":     {map[string]any{"kind": "school", "mob_id": mob, "school": other}, "/plan", other},
		"rent":       {map[string]any{"kind": "rent", "area_ha": 3}, "/jobs", "Rent 3 ha"},
		"split":      {map[string]any{"kind": "split", "mob_id": mob, "count": 5}, "/jobs", "split off at the gate"},
	} {
		status, out, one := decide(ida, x.lever)
		require.Equal(t, http.StatusOK, status, "%s: %v", name, out)
		after := ida.facts(base)
		assert.NotEqual(t, versionless.ReplaceAllString(before[x.place].(string), ""), versionless.ReplaceAllString(after[x.place].(string), ""), name)
		assert.Contains(t, after[x.place], x.says, name)
		d := out["decisions"].([]any)[0].(map[string]any)
		assert.Equal(t, one, d["id"], "the latest first")
		assert.Equal(t, "the week looks short", d["reason"])
		assert.NotEmpty(t, d["says"], name)
		assert.Len(t, d["days"], 57, name)
		assert.Empty(t, d["came"], "no day has passed")
		status, out = ida.call("DELETE", base+"/queue/decisions/"+one, nil)
		require.Equal(t, http.StatusOK, status, "%s: %v", name, out)
		assertSame(t, before, ida.facts(base), name)
		status, out = ida.call("DELETE", base+"/queue/decisions/"+one, nil)
		assert.Equal(t, http.StatusUnprocessableEntity, status, out)
	}

	// Several at once, all or none.
	status, out, _ := decide(ida, map[string]any{"kind": "close", "paddock_id": first, "days": 30}, map[string]any{"kind": "head", "mob_id": mob, "count": -4000})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, fmt.Sprint(out), "levers[1].count")
	assertSame(t, before, ida.facts(base), "half of it is not written")
	status, out, _ = decide(ida)
	assert.Equal(t, http.StatusUnprocessableEntity, status, out)
	status, out, both := decide(ida, map[string]any{"kind": "close", "paddock_id": first, "days": 30}, map[string]any{"kind": "top", "paddock_id": second}, map[string]any{"kind": "supplement", "mob_id": mob, "kg": 1, "days": 9})
	require.Equal(t, http.StatusOK, status, out)

	// What was changed since is not overwritten by taking it back.
	status, out = ida.call("POST", fmt.Sprint(base, "/paddocks/", first, "/reopen"), nil)
	require.Equal(t, http.StatusOK, status, out)
	opened := ida.facts(base)
	status, out = ida.call("DELETE", base+"/queue/decisions/"+both, nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status, "it was opened by hand: %v", out)
	assertSame(t, opened, ida.facts(base), "nothing of it is half undone")
	status, out = ida.call("POST", base+"/land/undo", nil)
	require.Equal(t, http.StatusOK, status, out)
	status, out = ida.call("DELETE", base+"/queue/decisions/"+both, nil)
	require.Equal(t, http.StatusOK, status, "that undone, it is as it was: %v", out)
	assertSame(t, before, ida.facts(base), "all of it is taken back")

	for _, p := range []person{viewer, hand} {
		status, _, _ := decide(p, map[string]any{"kind": "top", "paddock_id": first})
		assert.Equal(t, http.StatusForbidden, status)
	}
	status, seen := viewer.call("GET", base+"/queue/decisions", nil)
	require.Equal(t, http.StatusOK, status)
	assert.NotEmpty(t, seen["decisions"])
}

// What happened since a decision stands: taking it back is refused as a whole, and nothing of it is half undone.
func TestADecisionThatWentOnIsNotTakenBack(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base, mob := ida.planned(t)
	_, q := ida.call("GET", base+"/queue", nil)
	first := q["rows"].([]any)[0].(map[string]any)["paddock_id"]
	one := id()
	status, out := ida.call("POST", base+"/queue/decisions", map[string]any{"id": one, "mob_id": mob, "levers": []map[string]any{{"kind": "close", "paddock_id": first, "days": 30}, {"kind": "rent", "area_ha": 3}}})
	require.Equal(t, http.StatusOK, status, out)
	status, again := ida.call("POST", base+"/queue/decisions", map[string]any{"id": one, "mob_id": mob, "levers": []map[string]any{{"kind": "close", "paddock_id": first, "days": 30}, {"kind": "rent", "area_ha": 3}}})
	require.Equal(t, http.StatusOK, status, again)
	assert.Len(t, again["decisions"], 1, "a repeat is the same decision")
	open, _ := ida.jobs(base)
	status, out = ida.call("POST", base+"/jobs/done", map[string]any{"id": id(), "job_id": open[0]["id"], "done_at": clockAt(0)})
	require.Equal(t, http.StatusOK, status, out)
	before := ida.facts(base)
	status, out = ida.call("DELETE", base+"/queue/decisions/"+one, nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, fmt.Sprint(out), "cannot be taken back as a whole")
	assertSame(t, before, ida.facts(base), "nothing of it is half undone")
}
