package httpapi_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/url"
	"sort"
	"strings"
	"testing"

	"github.com/danielgtaylor/huma/v2"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/internal/httpapi"
)

func serve(t *testing.T, s *httpapi.Server) string {
	t.Helper()
	ts := httptest.NewServer(s.Handler())
	t.Cleanup(ts.Close)
	return ts.URL
}

func mustURL(t *testing.T, text string) *url.URL {
	t.Helper()
	u, err := url.Parse(text)
	require.NoError(t, err)
	return u
}

// sample is a body by a schema that looks right, so that one thing at a time can be made wrong.
func sample(api huma.API, s *huma.Schema, depth int) any {
	if s.Ref != "" {
		s = api.OpenAPI().Components.Schemas.SchemaFromRef(s.Ref)
	}
	switch s.Type {
	case huma.TypeObject:
		out := map[string]any{}
		for name, p := range s.Properties {
			if depth < 5 && !(p.ReadOnly) {
				out[name] = sample(api, p, depth+1)
			}
		}
		if name := "id"; s.Properties[name] != nil {
			out[name] = id()
		}
		return out
	case huma.TypeArray:
		n := 1
		if s.MinItems != nil {
			n = *s.MinItems
		}
		var out []any
		for range n {
			out = append(out, sample(api, s.Items, depth+1))
		}
		return out
	case huma.TypeNumber, huma.TypeInteger:
		return 1
	case huma.TypeBoolean:
		return false
	}
	if len(s.Enum) > 0 {
		return s.Enum[0]
	}
	if s.Format == "date-time" {
		return "2026-06-09T05:00:00Z"
	}
	return "2026-06-01"
}

// spoil yields bodies with one thing wrong each.
func spoil(body any, yield func(what string, body any)) {
	hard := []any{nil, "", "x", "💥", strings.Repeat("ø", 3000), -1, 1e308, -1e308, 0.5, []any{}, map[string]any{}, true, "\u0000", "00000000-0000-0000-0000-000000000000", "2026-02-30"}
	var at func(v any, set func(any), path string)
	at = func(v any, set func(any), path string) {
		for _, bad := range hard {
			set(bad)
			yield(fmt.Sprintf("%s = %.20v", path, bad), body)
		}
		set(v)
		switch v := v.(type) {
		case map[string]any:
			names := []string{}
			for name := range v {
				names = append(names, name)
			}
			sort.Strings(names)
			for _, name := range names {
				old := v[name]
				at(old, func(x any) { v[name] = x }, path+"."+name)
				delete(v, name)
				yield(path+" without "+name, body)
				v[name] = old
			}
		case []any:
			for i, old := range v {
				at(old, func(x any) { v[i] = x }, fmt.Sprintf("%s[%d]", path, i))
			}
		}
	}
	root := []any{body}
	at(body, func(x any) { root[0] = x; body = x }, "body")
}

// Whatever comes in, the answer says what was wrong, and never that something of ours broke. The table is made of the API
// document, so a new route is in it from its first day.
func TestNoInputBreaksARoute(t *testing.T) {
	h := start(t, false)
	p := h.member(t, "ida")
	base := p.farm("Skarn")
	field := p.field(base, 9)
	mob := p.mob(base)
	p.plan(base, mob)
	pad := p.paddocks(base)[0]["id"].(string)
	tries, large := 0, 0
	for path, item := range h.API.OpenAPI().Paths {
		for method, op := range map[string]*huma.Operation{"POST": item.Post, "PUT": item.Put} {
			if op == nil || op.RequestBody == nil || strings.HasPrefix(path, "/api/sign") || strings.Contains(path, "account") || strings.Contains(path, "leave") {
				continue
			}
			media := op.RequestBody.Content["application/json"]
			if media == nil || media.Schema == nil {
				continue
			}
			at := strings.ReplaceAll(path, "/api/farms/{farm}", base)
			at = strings.NewReplacer("{layout}", field, "{part}", field, "{sum}", "stay", "{farm}", field).Replace(at)
			switch {
			case strings.Contains(path, "/fields/"):
				at = strings.ReplaceAll(at, "{id}", field)
			case strings.Contains(path, "/mobs/"):
				at = strings.ReplaceAll(at, "{id}", mob)
			default:
				at = strings.ReplaceAll(at, "{id}", pad)
			}
			body, ok := sample(h.API, media.Schema, 0).(map[string]any)
			if !ok {
				continue
			}
			k := 0
			spoil(body, func(what string, body any) {
				if k++; testing.Short() && k%7 != 0 || k%3 != 0 {
					return
				}
				tries++
				raw, err := json.Marshal(body)
				require.NoError(t, err)
				status, answer := p.raw(method, at, string(raw), "If-Match", "1")
				if !assert.NotEqual(t, http.StatusInternalServerError, status, "%s %s with %s: %s", method, path, what, answer) {
					return
				}
				if len(answer) > 20_000 && status >= 400 {
					large++
				}
			})
		}
	}
	t.Logf("%d bodies", tries)
	assert.Zero(t, large, "no refusal is a large answer")
	assert.Greater(t, tries, 500)
}

func TestASmallBodyIsNotAnsweredWithALargeOne(t *testing.T) {
	h := start(t, false)
	wide := map[string]any{}
	for i := range 9000 {
		wide[fmt.Sprintf("field%d", i)] = strings.Repeat("x", 20)
	}
	status, raw := h.visitor(t).raw("POST", "/api/sign-in", wide)
	assert.Equal(t, http.StatusRequestEntityTooLarge, status, "a sign-in is small")
	assert.Less(t, len(raw), 2000)
	p := h.member(t, "ida")
	base := p.farm("Skarn")
	status, raw = p.raw("POST", base+"/mobs", wide)
	assert.GreaterOrEqual(t, status, 400)
	assert.Less(t, len(raw), 5000)
	var list []any
	for range 900 {
		list = append(list, map[string]any{"id": 7, "value": "x", "wrong": []int{1, 2, 3}})
	}
	status, raw = p.raw("POST", base+"/readings", map[string]any{"readings": list})
	assert.Less(t, len(raw), 400_000, "each refused reading is named once")
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	status, raw = h.visitor(t).raw("POST", "/api/devices/readings", map[string]any{"readings": list})
	assert.Equal(t, http.StatusUnauthorized, status, "whose it is comes before what it says: %s", raw)
	status, _ = p.call("POST", base+"/mobs", with(cows, "ID", id(), "Name", "x"))
	assert.Equal(t, http.StatusUnprocessableEntity, status, "names are written as they are")
}
