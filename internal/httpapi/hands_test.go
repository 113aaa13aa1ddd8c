package httpapi_test

import (
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Hands see Today, Walk, their sheet of moves and the emergency card; what is for those who plan is refused to them, and shown to those who only look on.
func TestHandsSeeTheirWorkAlone(t *testing.T) {
	h := start(t, false)
	ida, hand, viewer := h.member(t, "ida"), h.member(t, "hand"), h.member(t, "viewer")
	base, mob := ida.planned(t)
	ida.invites(base, hand, "hand")
	ida.invites(base, viewer, "viewer")
	for _, path := range []string{"", "/today", "/opening", "/walk", "/plan", "/moves", "/ridge", "/mobs", "/land", "/jobs", "/looks", "/tallies", "/trainings", "/treatments", "/cautions", "/swards", "/growth"} {
		status, raw := hand.raw("GET", base+path, nil)
		assert.Equal(t, http.StatusOK, status, "%s: %s", path, raw)
	}
	field := ida.paddocks(base)[0]["field_id"].(string)
	_, plan := ida.call("GET", base+"/plan", nil)
	enter := ""
	for _, v := range plan["visits"].([]any) {
		if vis := v.(map[string]any); vis["kind"] == "planned" {
			enter = vis["enter_at"].(string)
		}
	}
	require.NotEmpty(t, enter)
	for _, path := range []string{"/year", "/year/means", "/year/prices", "/year/land", "/year/winter", "/year/nutrients", "/year/scenarios", "/year/scenarios/table", "/fodder", "/queue/decisions", "/queue", "/queue/table", "/queue/advice", "/stock/year?year=2026&measure=demand", "/stock/day?day=2026-06-10", "/stock/list", "/plan/problem", "/plan/grade", "/land/export/csv",
		"/fields/" + field + "/layouts", "/plan/why?mob_id=" + mob + "&enter_at=" + url.QueryEscape(enter)} {
		status, _ := hand.raw("GET", base+path, nil)
		assert.Equal(t, http.StatusForbidden, status, path)
		status, raw := viewer.raw("GET", base+path, nil)
		assert.Equal(t, http.StatusOK, status, "%s: %s", path, raw)
	}
	for path, asked := range map[string]map[string]any{"/queue/try": {"levers": []any{}}, "/year/try": {"options": []any{}}, "/year/advice": {"options": []any{}}, "/year/divide": {}, "/year/stockpile": {}, "/year/frost": {}, "/year/bales": {}, "/year/stocking": {}, "/year/manure": {}} {
		status, _ := hand.call("POST", base+path, asked)
		assert.Equal(t, http.StatusForbidden, status, path)
		status, _ = viewer.call("POST", base+path, asked)
		assert.NotEqual(t, http.StatusForbidden, status, path)
	}
}
