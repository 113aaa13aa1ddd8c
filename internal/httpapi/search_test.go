package httpapi_test

import (
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// planned is a farm with eight paddocks measured high and low, a mob in one of them, and a plan.
func (p person) planned(t *testing.T) (base, mob string) {
	t.Helper()
	base = p.farm("Skarn")
	field := p.field(base, 12)
	status, out := p.divide(base, field, 8)
	require.Equal(t, http.StatusOK, status, out)
	mob = p.mob(base)
	for i, pad := range p.paddocks(base) {
		status, out = p.call("POST", base+"/measurements", map[string]any{"id": id(), "paddock_id": pad["id"], "measured_at": "2026-06-09T06:00:00Z", "method": "plain",
			"readings": []float64{1700 + 200*float64(i*5%8)}})
		require.Equal(t, http.StatusOK, status, out)
	}
	status, out = p.call("POST", base+"/moves", map[string]any{"id": id(), "mob_id": mob, "to_paddock_id": p.paddocks(base)[0]["id"], "moved_at": "2026-06-09T06:30:00Z"})
	require.Equal(t, http.StatusOK, status, out)
	p.plan(base, mob)
	return base, mob
}

func search(p person, base, search string, round int) (int, map[string]any) {
	return p.call("POST", base+"/plan/search", map[string]any{"id": id(), "search_id": search, "round": round})
}

func where(t *testing.T, out map[string]any) (list [][3]any) {
	t.Helper()
	for _, v := range out["visits"].([]any) {
		v := v.(map[string]any)
		list = append(list, [3]any{v["paddock_id"], v["enter_at"], v["leave_at"]})
	}
	return list
}

func TestASearchIsFollowedUntilItIsTakenBack(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	empty := ida.farm("Bare")
	status, out := search(ida, empty, id(), 0)
	require.Equal(t, http.StatusUnprocessableEntity, status, out)

	base, mob := ida.planned(t)
	_, before := ida.call("GET", base+"/plan", nil)
	assert.Nil(t, before["search"])
	_, grade := ida.call("GET", base+"/plan/grade", nil)
	status, out = search(ida, base, id(), 7)
	require.Equal(t, http.StatusUnprocessableEntity, status, out)
	status, out = search(ida, base, "x", 0)
	require.Equal(t, http.StatusUnprocessableEntity, status, out)

	one := id()
	spared := 0.0
	for round := range 3 {
		status, out = search(ida, base, one, round)
		require.Equal(t, http.StatusOK, status, out)
		found := out["search"].(map[string]any)
		assert.Equal(t, one, found["id"])
		assert.EqualValues(t, round+1, found["rounds"])
		assert.GreaterOrEqual(t, found["spared_kg"].(float64), spared, "rounds add up")
		spared = found["spared_kg"].(float64)
		assert.False(t, found["news"].(bool))
	}
	assert.LessOrEqual(t, spared, grade["most_spares"].(map[string]any)["value"].(float64)+1e-6, "no plan spares more than the bound allows")
	assert.GreaterOrEqual(t, spared, grade["spares"].(map[string]any)["value"].(float64)-1e-6, "and a search takes no less than what the grade promises")
	same := map[string]any{"id": id(), "search_id": one, "round": 2} // its answer is lost, and it is sent again
	for range 2 {
		status, out = ida.call("POST", base+"/plan/search", same)
		require.Equal(t, http.StatusOK, status, out)
	}
	assert.InDelta(t, spared, out["search"].(map[string]any)["spared_kg"], 1e-6, "nothing counts twice")
	_, after := ida.call("GET", base+"/plan/grade", nil)
	assert.LessOrEqual(t, after["spares"].(map[string]any)["value"].(float64), grade["spares"].(map[string]any)["value"].(float64)+1e-6)
	again := where(t, out)
	_, read := ida.call("GET", base+"/plan", nil)
	assert.Equal(t, again, where(t, read), "what was found is followed, and not computed again")

	// A pin comes first, and the search is told to be old.
	pad := ida.paddocks(base)[5]["id"]
	status, out = ida.call("POST", base+"/pins", map[string]any{"id": id(), "mob_id": mob, "paddock_id": pad, "enter_at": "2026-06-15T06:00:00Z"})
	require.Equal(t, http.StatusOK, status, out)
	pinned := 0
	for _, v := range out["visits"].([]any) {
		if v := v.(map[string]any); v["pin_id"] != "" {
			assert.Equal(t, pad, v["paddock_id"])
			pinned++
		}
	}
	assert.Equal(t, 1, pinned)
	assert.True(t, out["search"].(map[string]any)["news"].(bool))

	two := id()
	status, out = search(ida, base, two, 0)
	require.Equal(t, http.StatusOK, status, out)
	assert.Equal(t, two, out["search"].(map[string]any)["id"])
	status, out = ida.call("DELETE", base+"/plan/search/"+two, nil)
	require.Equal(t, http.StatusOK, status, out)
	assert.Equal(t, one, out["search"].(map[string]any)["id"], "the one before is followed again")
	status, _ = ida.call("DELETE", base+"/plan/search/"+two, nil)
	assert.Equal(t, http.StatusNotFound, status)
	status, out = ida.call("DELETE", base+"/plan/search/"+one, nil)
	require.Equal(t, http.StatusOK, status, out)
	assert.Nil(t, out["search"])
}

// Two people look for a better plan at once, in two processes: one of them is told, and nothing is followed that was made from a
// plan that holds no longer.
func TestOfTwoSearchesAtOnceOneIsFollowed(t *testing.T) {
	p := startPair(t)
	ida := p.house[0].member(t, "ida")
	base, _ := ida.planned(t)
	answers := p.atOnce(ida, 4, func(who person, _ int) (int, map[string]any) { return search(who, base, id(), 0) })
	for _, a := range answers {
		if a.status == http.StatusOK {
			continue
		}
		assert.Equal(t, http.StatusUnprocessableEntity, a.status)
		assert.Contains(t, a.out["detail"], "look again")
	}
	assert.GreaterOrEqual(t, kept(answers), 1)
}
