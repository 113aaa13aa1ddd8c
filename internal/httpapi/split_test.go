package httpapi_test

import (
	"encoding/json"
	"fmt"
	"maps"
	"net/http"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// mobsOf are the mobs of a farm by their names, with how many head each has.
func (p person) mobsOf(base string) (byName map[string]map[string]any, head float64) {
	p.t.Helper()
	_, raw := p.raw("GET", base+"/mobs", nil)
	var list []map[string]any
	require.NoError(p.t, json.Unmarshal(raw, &list))
	byName = map[string]map[string]any{}
	for _, m := range list {
		byName[m["name"].(string)] = m
		for _, c := range m["classes"].([]any) {
			head += c.(map[string]any)["count"].(float64)
		}
	}
	return byName, head
}

// Half a mob is split off on the way and joins it again: at no time is a head lost, doubled, or in two places, and what they eat follows.
func TestAMobIsSplitOnTheWayAndJoinsAgain(t *testing.T) {
	h := start(t, false)
	ida, hand := h.member(t, "ida"), h.member(t, "hand")
	base, mob := ida.planned(t)
	ida.invites(base, hand, "hand")
	pads := ida.paddocks(base)
	mobs, head := ida.mobsOf(base)
	require.EqualValues(t, 30, head)
	class := mobs["Cows"]["classes"].([]any)[0].(map[string]any)["id"]
	demand := ida.todayOf(base, mob)["stay"]
	split := map[string]any{"id": id(), "name": "Cows, half", "at": clockAt(0), "to_paddock_id": pads[5]["id"], "parts": []any{map[string]any{"class_id": class, "head": 12}}}
	parts := func(of any, n float64) []any { return []any{map[string]any{"class_id": of, "head": n}} }
	for field, body := range map[string]map[string]any{
		"name":          with(maps.Clone(split), "id", id(), "name", " "),
		"there are 30":  with(maps.Clone(split), "id", id(), "parts", parts(class, 31)),
		"some go":       with(maps.Clone(split), "id", id(), "parts", parts(class, 30)),
		"parts":         with(maps.Clone(split), "id", id(), "parts", parts(class, 0)),
		"class_id":      with(maps.Clone(split), "id", id(), "parts", parts(id(), 3)),
		"to_paddock_id": with(maps.Clone(split), "id", id(), "to_paddock_id", id()),
		"at":            with(maps.Clone(split), "id", id(), "at", "2026-07-01T00:00:00Z"),
	} {
		status, out := hand.call("POST", base+"/mobs/"+mob+"/split", body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	_, head = ida.mobsOf(base)
	assert.EqualValues(t, 30, head, "nothing half written")
	for range 2 {
		status, out := hand.call("POST", base+"/mobs/"+mob+"/split", split)
		require.Equal(t, http.StatusOK, status, out)
	}
	mobs, head = ida.mobsOf(base)
	assert.EqualValues(t, 30, head, "sent twice, split once")
	require.Len(t, mobs, 2)
	half := mobs["Cows, half"]
	assert.Equal(t, "K", half["letter"])
	assert.NotEqual(t, mobs["Cows"]["glyph"], half["glyph"], "nobody takes one for the other")
	assert.Equal(t, pads[5]["name"], ida.todayOf(base, half["id"].(string))["paddock_name"])
	assert.EqualValues(t, 12, ida.todayOf(base, half["id"].(string))["head"])
	assert.EqualValues(t, 18, ida.todayOf(base, mob)["head"])
	assert.NotEqual(t, demand, ida.todayOf(base, mob)["stay"], "fewer eat for longer")

	join := map[string]any{"id": id(), "into_mob_id": mob, "at": clockAt(0)}
	status, out := hand.call("POST", base+"/mobs/"+half["id"].(string)+"/join", with(maps.Clone(join), "id", id(), "into_mob_id", half["id"]))
	assert.Equal(t, http.StatusUnprocessableEntity, status, out)
	for range 2 {
		status, out := hand.call("POST", base+"/mobs/"+half["id"].(string)+"/join", join)
		require.Equal(t, http.StatusOK, status, out)
	}
	mobs, head = ida.mobsOf(base)
	assert.EqualValues(t, 30, head)
	require.Len(t, mobs, 1)
	assert.Len(t, mobs["Cows"]["classes"], 1, "back in the class they came from")
	assert.Equal(t, demand, ida.todayOf(base, mob)["stay"])
}

// Two at two gates let each mob join the other: one of the two is refused, and nobody is lost between them.
func TestTwoMobsThatJoinEachOtherAtOnceAreOne(t *testing.T) {
	h := start(t, false)
	ida, hand := h.member(t, "ida"), h.member(t, "hand")
	base, mob := ida.planned(t)
	ida.invites(base, hand, "hand")
	mobs, _ := ida.mobsOf(base)
	class := mobs["Cows"]["classes"].([]any)[0].(map[string]any)["id"]
	half := id()
	status, out := hand.call("POST", base+"/mobs/"+mob+"/split", map[string]any{"id": half, "name": "Half", "at": clockAt(0),
		"parts": []any{map[string]any{"class_id": class, "head": 11}}})
	require.Equal(t, http.StatusOK, status, out)
	var wait sync.WaitGroup
	var answers [2]int
	for i, way := range [][2]string{{mob, half}, {half, mob}} {
		who := []person{ida, hand}[i]
		wait.Go(func() {
			answers[i], _ = who.call("POST", base+"/mobs/"+way[0]+"/join", map[string]any{"id": id(), "into_mob_id": way[1], "at": clockAt(0)})
		})
	}
	wait.Wait()
	assert.ElementsMatch(t, []int{http.StatusOK, http.StatusUnprocessableEntity}, answers[:])
	mobs, head := ida.mobsOf(base)
	assert.Len(t, mobs, 1)
	assert.EqualValues(t, 30, head)
}
