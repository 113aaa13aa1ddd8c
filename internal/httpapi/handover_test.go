package httpapi_test

import (
	"fmt"
	"maps"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Whoever takes over for some days reads one card by a link: where, when, how, what is normal, whom to call. It opens without an account, until its
// last day is over, while whoever made it is on the farm, and not once it was ended.
func TestACardForWhoeverTakesOver(t *testing.T) {
	h := start(t, false)
	ida, olav, visitor := h.member(t, "ida"), h.member(t, "olav"), h.visitor(t)
	base, _ := ida.planned(t)
	ida.invites(base, olav, "manager")
	status, out := olav.call("POST", base+"/jobs", map[string]any{"id": id(), "kind": "water", "what": "Fill the tank", "due_on": "2026-06-12"})
	require.Equal(t, http.StatusOK, status, out)
	card := map[string]any{"id": id(), "whom": "Siv next door", "from_on": "2026-06-10", "last_on": "2026-06-14", "normal": "30 cows, quiet; 5 kV at the far end"}
	for field, body := range map[string]map[string]any{
		"whom":    with(maps.Clone(card), "id", id(), "whom", " "),
		"from_on": with(maps.Clone(card), "id", id(), "from_on", "soon"),
		"last_on": with(maps.Clone(card), "id", id(), "last_on", "2026-06-09"),
	} {
		status, out := olav.call("POST", base+"/handovers", body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	status, _ = olav.call("POST", base+"/handovers", with(maps.Clone(card), "id", id(), "last_on", "2026-09-14"))
	assert.Equal(t, http.StatusUnprocessableEntity, status, "at most sixty days")
	status, made := olav.call("POST", base+"/handovers", card)
	require.Equal(t, http.StatusOK, status, made)
	token := made["token"].(string)
	status, again := olav.call("POST", base+"/handovers", card)
	assert.Equal(t, http.StatusUnprocessableEntity, status, "its link is shown once: %v", again)

	read := func() (int, map[string]any) { return visitor.call("GET", "/api/handovers/"+token, nil) }
	status, seen := read()
	require.Equal(t, http.StatusOK, status, seen)
	assert.Equal(t, "olav", seen["by"])
	mob := seen["mobs"].([]any)[0].(map[string]any)
	assert.NotEmpty(t, mob["moves"], "where, and when")
	assert.NotEmpty(t, mob["steps"], "how")
	assert.NotEmpty(t, mob["paddock_name"])
	assert.Contains(t, seen["normal"], "5 kV")
	assert.Contains(t, fmt.Sprint(seen["jobs"]), "Fill the tank")
	assert.NotNil(t, seen["emergency"])
	for _, m := range mob["moves"].([]any) {
		at := m.(map[string]any)["at"].(string)
		assert.True(t, at >= "2026-06-10" && at < "2026-06-15", "only what falls on those days: %s", at)
	}
	raw := fmt.Sprint(seen)
	assert.NotContains(t, raw, "@example.org", "no e-mail of anybody")
	status, _ = visitor.call("GET", "/api/handovers/"+token+"x", nil)
	assert.NotEqual(t, http.StatusOK, status)

	list := func(p person) (int, string) {
		status, raw := p.raw("GET", base+"/handovers", nil)
		return status, string(raw)
	}
	status, rows := list(ida)
	require.Equal(t, http.StatusOK, status)
	assert.Contains(t, rows, "Siv next door")
	assert.NotContains(t, rows, token)

	now := h.service.Farm.Clock.Fixed
	was := *now
	*now = was.AddDate(0, 0, 4)
	status, _ = read()
	assert.Equal(t, http.StatusOK, status, "its last day")
	*now = was.AddDate(0, 0, 5)
	status, _ = read()
	assert.NotEqual(t, http.StatusOK, status, "its last day is over")
	*now = was

	status, _ = ida.call("POST", base+"/members", map[string]any{"email": "olav@example.org", "role": ""})
	require.Equal(t, http.StatusOK, status)
	status, _ = read()
	assert.NotEqual(t, http.StatusOK, status, "whoever made it is no longer on the farm")
	status, made = ida.call("POST", base+"/handovers", with(maps.Clone(card), "id", id()))
	require.Equal(t, http.StatusOK, status, made)
	token = made["token"].(string)
	status, _ = read()
	require.Equal(t, http.StatusOK, status)
	var rowID string
	require.NoError(t, h.service.Farm.DB.Table("handovers").Where("made_by = (SELECT id FROM users WHERE email = 'ida@example.org')").Limit(1).Pluck("id", &rowID).Error)
	status, _ = ida.call("DELETE", base+"/handovers/"+rowID, nil)
	require.Equal(t, http.StatusOK, status)
	status, _ = read()
	assert.NotEqual(t, http.StatusOK, status, "ended")
}
