package httpapi_test

import (
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestAnEmergencyCardIsKept(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base := ida.farm("Skarn")
	_, farm := ida.call("GET", base, nil)
	assert.Equal(t, []any{}, farm["emergency"].(map[string]any)["contacts"], "nobody is named yet")
	card := func(more ...any) map[string]any {
		out := map[string]any{"contacts": []any{map[string]any{"who": " Vet, on call ", "phone": "+47 (00) 12 34-56"}}, "where": "Over the bridge, second gate", "longitude": 9.1,
			"latitude": 61.2, "shut_first": "The valve by the barn", "also": "", "open_signed_out": true}
		for i := 0; i < len(more); i += 2 {
			out[more[i].(string)] = more[i+1]
		}
		return out
	}
	put := func(body map[string]any) (int, map[string]any) {
		_, farm := ida.call("GET", base, nil)
		return ida.call("PUT", base+"/emergency", body, "If-Match", fmt.Sprint(farm["version"]))
	}
	call := func(who, phone string) []any { return []any{map[string]any{"who": who, "phone": phone}} }
	for field, bad := range map[string]map[string]any{
		"contacts[0].who":   card("contacts", call(" ", "123")),
		"contacts[0].phone": card("contacts", call("Vet", "ask Ida")),
		"where":             card("where", strings.Repeat("x", 401)),
		"latitude":          card("latitude", 91),
		"longitude":         card("longitude", -181),
	} {
		status, out := put(bad)
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	for what, bad := range map[string]map[string]any{
		"no number":       card("contacts", call("Vet", "+ ()")),
		"half a position": card("latitude", nil),
		"nine":            card("contacts", make([]any, 9)),
	} {
		if what == "nine" {
			for i := range bad["contacts"].([]any) {
				bad["contacts"].([]any)[i] = call("Vet", "1")[0]
			}
		}
		status, out := put(bad)
		assert.Equal(t, http.StatusUnprocessableEntity, status, "%s: %v", what, out)
	}
	status, out := put(card())
	require.Equal(t, http.StatusOK, status, out)
	kept := out["emergency"].(map[string]any)
	assert.Equal(t, "Vet, on call", kept["contacts"].([]any)[0].(map[string]any)["who"])
	assert.Equal(t, 61.2, kept["latitude"])

	// A hand reads it and does not write it.
	ola := h.member(t, "ola")
	ida.invites(base, ola, "hand")
	status, seen := ola.call("GET", base, nil)
	require.Equal(t, http.StatusOK, status)
	assert.Equal(t, kept, seen["emergency"])
	status, out = ola.call("PUT", base+"/emergency", card(), "If-Match", fmt.Sprint(out["version"]))
	assert.Contains(t, []int{http.StatusForbidden, http.StatusNotFound}, status, out)
}
