package httpapi_test

import (
	"fmt"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Each person says for themselves which kinds of what needs minding speak, and which first; the farm tells all of them, each with its kind.
func TestEachPersonSaysWhatSpeaks(t *testing.T) {
	h := start(t, false)
	ida, olav := h.member(t, "ida"), h.member(t, "olav")
	choice := func(p person) string {
		_, me := p.call("GET", "/api/me", nil)
		return fmt.Sprint(me["account"].(map[string]any)["minding"])
	}
	assert.Equal(t, "map[first:[] quiet:[]]", choice(ida))
	status, out := ida.call("PUT", "/api/me/minding", map[string]any{"quiet": []string{"walk"}, "first": []string{"fence", "count"}})
	require.Equal(t, http.StatusOK, status, out)
	assert.Equal(t, "map[first:[fence count] own:true quiet:[walk]]", choice(ida))
	assert.Equal(t, "map[first:[] quiet:[]]", choice(olav), "nobody else's")
	for field, body := range map[string]map[string]any{
		"quiet": {"quiet": []string{"dance"}, "first": []string{}},
		"must":  {"quiet": []string{"walk"}, "first": []string{"walk"}},
		"once":  {"quiet": []string{"walk", "walk"}, "first": []string{}},
	} {
		status, out := ida.call("PUT", "/api/me/minding", body)
		assert.Equal(t, http.StatusUnprocessableEntity, status)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	status, _ = ida.call("PUT", "/api/me/minding", map[string]any{"quiet": []string{}, "first": []string{}})
	require.Equal(t, http.StatusOK, status)
	assert.Equal(t, "map[first:[] quiet:[]]", choice(ida), "as the farm has it again")
	base, _ := ida.planned(t)
	_, farm := ida.call("GET", base, nil)
	assert.Equal(t, "map[first:[] quiet:[]]", fmt.Sprint(farm["voices"]), "people of some years, no aims")
	about := map[string]any{}
	for _, key := range []string{"name", "place", "time_zone", "units", "longitude", "latitude"} {
		about[key] = farm[key]
	}
	status, farm = ida.call("PUT", base, with(about, "experience", "old_hand", "aims", []string{"soil"}), "If-Match", fmt.Sprint(farm["version"]))
	require.Equal(t, http.StatusOK, status, farm)
	assert.Equal(t, "map[first:[] quiet:[move walk]]", fmt.Sprint(farm["voices"]), "an old hand who is after soil")
	_, today := ida.call("GET", base+"/today", nil)
	for _, m := range today["minding"].([]any) {
		assert.NotEmpty(t, m.(map[string]any)["kind"])
	}
}
