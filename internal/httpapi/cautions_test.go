package httpapi_test

import (
	"fmt"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// dueOf is a caution that is due today; nil where it is not.
func (p person) dueOf(base, caution string) map[string]any {
	p.t.Helper()
	_, today := p.call("GET", base+"/today", nil)
	for _, c := range today["cautions"].([]any) {
		if c := c.(map[string]any); c["id"] == caution {
			return c
		}
	}
	return nil
}

func (p person) day(base, day string, rain, mean float64, more ...any) {
	p.t.Helper()
	status, out := p.call("POST", base+"/weather/days", with(map[string]any{"day": day, "rain_mm": rain, "mean_c": mean}, more...))
	require.Equal(p.t, http.StatusOK, status, out)
}

// What the weather, the ground and the animals are brings a caution, since when is told, and it goes when its condition does.
func TestCautionsComeAndGoWithTheirConditions(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base, mob := ida.planned(t)
	assert.Nil(t, ida.dueOf(base, "heat_stress"), "nobody wrote any weather down: nothing is said of it")
	ida.day(base, "2026-06-07", 0, 22, "most_c", 29)
	ida.day(base, "2026-06-08", 0, 22, "most_c", 27)
	ida.day(base, "2026-06-09", 0, 23, "most_c", 28)
	ida.day(base, "2026-06-10", 0, 22, "most_c", 31)
	heat := ida.dueOf(base, "heat_stress")
	require.NotNil(t, heat)
	assert.Equal(t, "2026-06-09", heat["since"], "the eighth was cooler: put away on the seventh, it is said again")
	assert.Contains(t, heat["mob_ids"], mob)
	assert.NotEmpty(t, heat["usual_precautions"])
	assert.NotEmpty(t, heat["who_to_ask"])
	_, today := ida.call("GET", base+"/today", nil)
	said := ""
	for _, m := range today["minding"].([]any) {
		if m := m.(map[string]any); m["caution"] == "heat_stress" {
			said = m["kind"].(string) + " " + m["place"].(string)
		}
	}
	assert.Equal(t, "caution today?caution=heat_stress", said, "it is said among what needs minding, and leads to what to do")
	ida.day(base, "2026-06-10", 0, 18, "most_c", 27.9)
	assert.Nil(t, ida.dueOf(base, "heat_stress"))
}

// What no record tells is said by whoever sees it, for a while, and taken back.
func TestWhatSomebodySaysBringsItsCautions(t *testing.T) {
	h := start(t, false)
	ida, hand, viewer := h.member(t, "ida"), h.member(t, "hand"), h.member(t, "viewer")
	base, _ := ida.planned(t)
	ida.invites(base, hand, "hand")
	ida.invites(base, viewer, "viewer")
	say := func(p person, body map[string]any) (int, map[string]any) {
		return p.call("POST", base+"/conditions", with(body, "id", id()))
	}
	for field, body := range map[string]map[string]any{
		"name":     {"name": "full_moon", "value": true},
		"legume":   {"name": "legume_share", "value": 0.5},
		"value":    {"name": "lightning_forecast", "value": 3},
		"number":   {"name": "load_kg", "value": true},
		"1000":     {"name": "load_kg", "value": 1e9},
		"words":    {"name": "vehicle", "value": "broom"},
		"until_on": {"name": "lightning_forecast", "value": true, "until_on": "2026-06-10"},
	} {
		status, out := say(hand, body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	status, _ := say(viewer, map[string]any{"name": "lightning_forecast", "value": true})
	assert.Equal(t, http.StatusForbidden, status)
	assert.Nil(t, ida.dueOf(base, "lightning"))

	status, out := say(hand, map[string]any{"name": "lightning_forecast", "value": true, "until_on": "2026-06-11"})
	require.Equal(t, http.StatusOK, status, out)
	require.NotNil(t, ida.dueOf(base, "lightning"), "what a hand sees is said to all")
	status, out = say(ida, map[string]any{"name": "trough_to_wire_cm", "value": 30})
	require.Equal(t, http.StatusOK, status, out)
	assert.Nil(t, ida.dueOf(base, "float_touching_hot_wire"))
	status, out = say(ida, map[string]any{"name": "trough_to_wire_cm", "value": 29.9})
	require.Equal(t, http.StatusOK, status, out)
	due := ida.dueOf(base, "float_touching_hot_wire")
	require.NotNil(t, due, "said anew, the new figure holds")
	assert.Contains(t, fmt.Sprint(due["because"]), "29.9")

	_, list := viewer.call("GET", base+"/cautions", nil)
	assert.Len(t, list["cautions"], 43)
	kept := list["said"].([]any)
	require.Len(t, kept, 2)
	first := kept[0].(map[string]any)["id"].(string)
	status, _ = viewer.call("DELETE", base+"/conditions/"+first, nil)
	assert.Equal(t, http.StatusForbidden, status)
	status, out = ida.call("DELETE", base+"/conditions/"+first, nil)
	require.Equal(t, http.StatusOK, status, out)
	assert.Nil(t, ida.dueOf(base, "lightning"))
}

// A caution that was put away is quiet for that person alone; which it is stands with the account.
func TestEachPersonPutsCautionsAway(t *testing.T) {
	h := start(t, false)
	ida, olav := h.member(t, "ida"), h.member(t, "olav")
	base, _ := ida.planned(t)
	farm := base[len("/api/farms/"):]
	list := func(p person) any {
		_, me := p.call("GET", "/api/me", nil)
		return me["account"].(map[string]any)["put_away"]
	}
	one := map[string]any{"farm_id": farm, "caution": "lightning", "since": "2026-06-10"}
	status, out := ida.call("PUT", "/api/me/put-away", []any{one})
	require.Equal(t, http.StatusOK, status, out)
	assert.Equal(t, []any{one}, list(ida))
	assert.Empty(t, list(olav))
	for field, body := range map[string]map[string]any{
		"caution": {"farm_id": farm, "caution": "dragons", "since": "2026-06-10"},
		"since":   {"farm_id": farm, "caution": "lightning", "since": "soon"},
		"farm_id": {"farm_id": "mine", "caution": "lightning", "since": "2026-06-10"},
	} {
		status, out := ida.call("PUT", "/api/me/put-away", []any{body})
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	assert.Equal(t, []any{one}, list(ida))
}

// A turnout is the first move onto pasture after a month off it, and it is one for a week.
func TestATurnoutIsAfterAMonthOffPasture(t *testing.T) {
	for _, c := range []struct {
		off, on string
		due     bool
	}{
		{"2026-05-05T06:00:00Z", "2026-06-04T06:00:00Z", true},
		{"2026-05-05T06:01:00Z", "2026-06-04T06:00:00Z", false}, // a minute less than thirty days
		{"2026-05-03T06:00:00Z", "2026-06-03T06:00:00Z", true},  // seven days ago
		{"2026-05-02T06:00:00Z", "2026-06-02T06:00:00Z", false}, // eight
	} {
		h := start(t, false)
		ida := h.member(t, "ida")
		base := ida.farm("Skarn")
		field := ida.field(base, 12)
		status, out := ida.divide(base, field, 4)
		require.Equal(t, http.StatusOK, status, out)
		mob := ida.mob(base)
		pads := ida.paddocks(base)
		for _, mv := range []map[string]any{{"to_paddock_id": pads[0]["id"], "moved_at": "2026-04-01T06:00:00Z"}, {"moved_at": c.off}, {"to_paddock_id": pads[1]["id"], "moved_at": c.on}} {
			status, out := ida.call("POST", base+"/moves", with(mv, "id", id(), "mob_id", mob, "confirmed", true, "note", "as it was"))
			require.Equal(t, http.StatusOK, status, out)
		}
		assert.Equal(t, c.due, ida.dueOf(base, "first_turnout") != nil, "%s to %s", c.off, c.on)
	}
}

// The year goes dry: weeks without rain bring the caution against grazing short, and rain that wets the ground takes it away.
func TestADryYearSpeaks(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base, _ := ida.planned(t)
	ida.day(base, "2026-05-20", 12, 16)
	for d := 21; d <= 31; d++ {
		ida.day(base, fmt.Sprintf("2026-05-%d", d), 0, 22)
	}
	for d := 1; d <= 10; d++ {
		ida.day(base, fmt.Sprintf("2026-06-%02d", d), 0, 24, "most_c", 31)
	}
	dry := ida.dueOf(base, "overgrazing_in_heat")
	require.NotNil(t, dry)
	assert.Contains(t, fmt.Sprint(dry["because"]), "without rain that wets the ground")
	ida.day(base, "2026-06-10", 8, 24, "most_c", 31)
	assert.Nil(t, ida.dueOf(base, "overgrazing_in_heat"))
}
