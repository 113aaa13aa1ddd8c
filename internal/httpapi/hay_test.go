package httpapi_test

import (
	"fmt"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func (p person) paddock(base string, id any) map[string]any {
	p.t.Helper()
	for _, pad := range p.paddocks(base) {
		if pad["id"] == id {
			return pad
		}
	}
	return nil
}

// A paddock is closed for some weeks and no longer, by hand; opened before its time, it is open.
func TestAPaddockIsClosedUpUntilADay(t *testing.T) {
	h := start(t, false)
	ida, hand := h.member(t, "ida"), h.member(t, "hand")
	base, _ := ida.planned(t)
	ida.invites(base, hand, "hand")
	pads := ida.paddocks(base)
	grazed, third := pads[0]["id"], pads[2]["id"]
	closeUp := func(p person, pad any, more ...any) (int, map[string]any) {
		return p.call("POST", fmt.Sprint(base, "/paddocks/", pad, "/closures"), with(map[string]any{"id": id(), "from_on": "2026-06-10", "until_on": "2026-07-08", "why": "for hay"}, more...))
	}
	for field, out := range map[string][]any{"from_on": {"from_on", "2024-01-01"}, "until_on": {"until_on", "2026-06-10"}, "why": {"why", fmt.Sprintf("%0201d", 1)}} {
		status, said := closeUp(ida, third, out...)
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(said), field)
	}
	status, said := closeUp(ida, grazed)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, fmt.Sprint(said), "stock are in it")
	status, _ = closeUp(hand, third)
	assert.Equal(t, http.StatusForbidden, status)
	status, _ = closeUp(ida, id())
	assert.Equal(t, http.StatusUnprocessableEntity, status)

	status, said = closeUp(ida, third)
	require.Equal(t, http.StatusOK, status, said)
	assert.Equal(t, "for hay until 8 July", ida.paddock(base, third)["closed_now"])
	_, plan := ida.call("GET", base+"/plan", nil)
	for _, v := range plan["visits"].([]any) {
		if vis := v.(map[string]any); vis["paddock_id"] == third {
			assert.GreaterOrEqual(t, vis["enter_at"].(string), "2026-07-07T22:00", "it is in the plan again once it is open")
		}
	}
	// What is divided stays closed, in each of its parts.
	status, said = ida.call("POST", base+"/land/undo", map[string]any{"seen": said["undo"].(map[string]any)["id"]})
	require.Equal(t, http.StatusOK, status, said)
	assert.Empty(t, ida.paddock(base, third)["closed_now"], "it can be undone")
	status, said = closeUp(ida, third)
	require.Equal(t, http.StatusOK, status, said)
	status, said = ida.divide(base, ida.paddock(base, third)["field_id"].(string), 16, "name", "halves")
	if status == http.StatusOK {
		closed := 0
		for _, pad := range ida.paddocks(base) {
			if pad["closed_now"] == "for hay until 8 July" {
				closed++
			}
		}
		assert.Positive(t, closed, "closed ground stays closed when it is divided anew: %v", said["detail"])
	}
}

func TestWhatIsOpenedBeforeItsTimeIsOpen(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base, _ := ida.planned(t)
	pad := ida.paddocks(base)[3]
	reopen := func() (int, map[string]any) {
		return ida.call("POST", fmt.Sprint(base, "/paddocks/", pad["id"], "/reopen"), nil)
	}
	status, out := reopen()
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, fmt.Sprint(out), "is open")
	edited := with(map[string]any{"name": pad["name"], "sward_id": pad["sward_id"], "growth_factor": 1, "purpose": "grazing", "closed_for": "", "limits": []map[string]any{{"kind": "nesting", "from": "05-01", "until": "07-15"}}})
	status, out = ida.call("PUT", fmt.Sprint(base, "/paddocks/", pad["id"]), edited, "If-Match", fmt.Sprint(pad["version"]))
	require.Equal(t, http.StatusOK, status, out)
	require.NotEmpty(t, ida.paddock(base, pad["id"])["closed_now"])
	status, out = reopen()
	require.Equal(t, http.StatusOK, status, out)
	assert.Empty(t, ida.paddock(base, pad["id"])["closed_now"], "this year")
	assert.Nil(t, ida.paddock(base, pad["id"])["closed_up"])
	status, out = ida.call("POST", fmt.Sprint(base, "/paddocks/", pad["id"], "/closures"), map[string]any{"id": id(), "from_on": "2026-06-10"})
	require.Equal(t, http.StatusOK, status, out)
	assert.Equal(t, "closed up", ida.paddock(base, pad["id"])["closed_now"], "what is closed after it was opened is closed")
	status, out = reopen()
	require.Equal(t, http.StatusOK, status, out)
	assert.Nil(t, ida.paddock(base, pad["id"])["closed_up"], "what somebody closed and opened again is over")
	assert.Empty(t, ida.paddock(base, pad["id"])["closed_now"])
	status, out = ida.call("POST", base+"/land/undo", nil)
	require.Equal(t, http.StatusOK, status, out)
	assert.Equal(t, "closed up", ida.paddock(base, pad["id"])["closed_now"], "and closed again by undoing that")
}

// A cut that was weighed is in the store, and what it took counts as grown; one that nobody weighed is told of.
func TestACutIsCountedInGrowthAndInTheStore(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base := ida.farm("Skarn")
	field := ida.field(base, 12)
	status, out := ida.divide(base, field, 4)
	require.Equal(t, http.StatusOK, status, out)
	ida.mob(base)
	pads := ida.paddocks(base)
	for _, pad := range pads {
		ida.measure(base, pad["id"].(string), 2400, -20*24)
	}
	area := pads[0]["area_ha"].(float64)
	cut := func(pad any, more ...any) (int, map[string]any) {
		return ida.call("POST", fmt.Sprint(base, "/paddocks/", pad, "/cut"), with(map[string]any{"id": id(), "cut_on": "2026-05-31"}, more...))
	}
	for field, more := range map[string][]any{"cut_area_ha": {"cut_area_ha", 10 * area}, "harvest_kg_dm": {"bales", 4, "bale_kg", 250, "dry_matter_share", 0.8, "harvest_kg_dm", 900}, "dry_matter_share": {"bales", 4, "bale_kg", 250, "dry_matter_share", 1.8}} {
		status, out = cut(pads[0]["id"], more...)
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	_, fodder := ida.call("GET", base+"/fodder", nil)
	assert.Empty(t, fodder["rows"], "nothing is half written")
	status, out = cut(pads[0]["id"], "bales", 8, "bale_kg", 250, "dry_matter_share", 0.8)
	require.Equal(t, http.StatusOK, status, out)
	status, out = cut(pads[1]["id"])
	require.Equal(t, http.StatusOK, status, out)
	status, out = cut(pads[2]["id"], "cut_area_ha", area/2)
	require.Equal(t, http.StatusOK, status, out)
	half := ida.paddock(base, pads[2]["id"])["mass"].(map[string]any)["forage_mass_kg_dm_ha"].(float64)
	whole := ida.paddock(base, pads[1]["id"])["mass"].(map[string]any)["forage_mass_kg_dm_ha"].(float64)
	assert.Greater(t, half, whole+100, "half of it still stands")
	for _, pad := range pads {
		ida.measure(base, pad["id"].(string), 2300, 0)
	}
	_, growth := ida.call("GET", base+"/growth", nil)
	text := fmt.Sprint(growth)
	assert.Contains(t, text, "was cut on 31 May and nobody weighed it")
	walks := growth["farm"].(map[string]any)["walks"].([]any)
	require.NotEmpty(t, walks, text)
	last := walks[len(walks)-1].(map[string]any)
	assert.InDelta(t, 2, last["paddocks"], 0, "the one that was weighed and the one that was not cut")
	weighed, uncut := (2300-2400+1600/area)/20, (2300-2400)/20.0
	assert.InDelta(t, (weighed+uncut)/2, last["growth_kg_dm_ha_day"], 0.5, "what was carried home grew")

	_, fodder = ida.call("GET", base+"/fodder", nil)
	assert.InDelta(t, 1600, fodder["holds_kg_dm"], 1e-6)
	assert.InDelta(t, 2, fodder["unweighed"], 0)
	keep := func(more ...any) (int, map[string]any) {
		return ida.call("POST", base+"/fodder", with(map[string]any{"id": id(), "kind": "fed", "on_day": "2026-06-09", "harvest_kg_dm": 300}, more...))
	}
	for field, more := range map[string][]any{"kind": {"kind", "eaten"}, "on_day": {"on_day", "2026-06-11"}, "harvest_kg_dm": {"harvest_kg_dm", nil}, "what": {"what", fmt.Sprintf("%0101d", 1)}} {
		status, out = keep(more...)
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	status, out = keep()
	require.Equal(t, http.StatusOK, status, out)
	assert.InDelta(t, 1300, out["holds_kg_dm"], 1e-6)
	line := out["rows"].([]any)[0].(map[string]any)["id"].(string)
	status, out = keep("kind", "counted", "harvest_kg_dm", 1250)
	require.Equal(t, http.StatusOK, status, out)
	assert.InDelta(t, 1250, out["holds_kg_dm"], 1e-6)
	assert.InDelta(t, 0, out["unweighed"], 0, "a count counts them too")
	status, out = ida.call("DELETE", base+"/fodder/"+line, nil)
	require.Equal(t, http.StatusOK, status, out)
	assert.InDelta(t, 1250, out["holds_kg_dm"], 1e-6)
}
