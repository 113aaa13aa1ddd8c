package httpapi_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/internal/demo"
	"fjell/internal/farm"
	"fjell/internal/house"
	"fjell/internal/httpapi"
	"fjell/internal/store/storetest"
)

// site is a running server with its own database.
type site struct {
	*httpapi.Server
	url     string
	service *house.House
}

func start(t testing.TB, withDemo bool) site {
	t.Helper()
	db := storetest.Open(t)
	now := demo.Now
	service := house.New(&farm.Service{DB: db, Clock: &farm.Clock{DB: db, Demo: withDemo}})
	if withDemo {
		require.NoError(t, demo.Build(context.Background(), service))
	} else {
		service.Farm.Clock.Fixed = &now
	}
	s, err := httpapi.New(service, httpapi.Options{})
	require.NoError(t, err)
	ts := httptest.NewServer(s.Handler())
	t.Cleanup(ts.Close)
	return site{s, ts.URL, service}
}

// person is a browser with its own cookies.
type person struct {
	t      testing.TB
	url    string
	client *http.Client
}

func (h site) visitor(t testing.TB) person {
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	return person{t, h.url, &http.Client{Jar: jar, Timeout: 30 * time.Second}}
}

func (h site) member(t testing.TB, name string) person {
	p := h.visitor(t)
	status, _ := p.call("POST", "/api/sign-up", map[string]any{"email": name + "@example.org", "name": name, "password": "a long password"})
	require.Equal(t, http.StatusOK, status)
	return p
}

// invites asks another person to join, who does.
func (p person) invites(base string, other person, role string) {
	p.t.Helper()
	_, me := other.call("GET", "/api/me", nil)
	status, out := p.call("POST", base+"/members", map[string]any{"email": me["account"].(map[string]any)["email"], "role": role})
	require.Equal(p.t, http.StatusOK, status, out)
	status, out = other.call("POST", "/api/invitations/"+strings.TrimPrefix(base, "/api/farms/"), map[string]any{"join": true})
	require.Less(p.t, status, 300, out)
}

func (p person) call(method, path string, body any, headers ...string) (int, map[string]any) {
	status, raw := p.raw(method, path, body, headers...)
	var out map[string]any
	if json.Unmarshal(raw, &out) != nil {
		out = map[string]any{"raw": string(raw)}
	}
	return status, out
}

func (p person) raw(method, path string, body any, headers ...string) (int, []byte) {
	p.t.Helper()
	var r io.Reader
	switch b := body.(type) {
	case nil:
	case string:
		r = strings.NewReader(b)
	default:
		raw, err := json.Marshal(b)
		require.NoError(p.t, err)
		r = bytes.NewReader(raw)
	}
	req, err := http.NewRequest(method, p.url+path, r)
	require.NoError(p.t, err)
	req.Header.Set("Content-Type", "application/json")
	if method != http.MethodGet {
		req.Header.Set("Idempotency-Key", id())
	}
	for i := 0; i+1 < len(headers); i += 2 {
		req.Header.Set(headers[i], headers[i+1])
	}
	res, err := p.client.Do(req)
	require.NoError(p.t, err)
	defer res.Body.Close()
	raw, err := io.ReadAll(res.Body)
	require.NoError(p.t, err)
	return res.StatusCode, raw
}

func id() string { return uuid.Must(uuid.NewV7()).String() }

func (p person) farm(name string) string {
	p.t.Helper()
	farmID := id()
	status, out := p.call("POST", "/api/farms", map[string]any{"id": farmID, "name": name, "place": "", "time_zone": "Europe/Oslo", "units": "metric",
		"aims": []string{}, "experience": "some", "longitude": 9, "latitude": 61})
	require.Equal(p.t, http.StatusOK, status, out)
	return "/api/farms/" + farmID
}

func box(lon, lat, size float64) [][][][2]float64 {
	return [][][][2]float64{{{{lon, lat}, {lon + size, lat}, {lon + size, lat + size/2}, {lon, lat + size/2}, {lon, lat}}}}
}

func (p person) field(base string, lon float64) string {
	p.t.Helper()
	fieldID := id()
	status, out := p.call("POST", base+"/fields", map[string]any{"id": fieldID, "name": fmt.Sprintf("Field %g", lon), "sward_id": "ryegrass_white_clover", "shape": box(lon, 61, 0.005)})
	require.Equal(p.t, http.StatusOK, status, out)
	return fieldID
}

func (p person) paddocks(base string) []map[string]any {
	status, out := p.call("GET", base+"/land", nil)
	require.Equal(p.t, http.StatusOK, status)
	var list []map[string]any
	for _, x := range out["paddocks"].([]any) {
		list = append(list, x.(map[string]any))
	}
	return list
}

var cows = map[string]any{"name": "Cows", "letter": "K", "glyph": "triangle", "field_ids": []string{}, "classes": []any{
	map[string]any{"reference_id": "beef_cow_lactating", "name": "", "count": 30, "live_weight_kg": 620, "intake_share": 0.023}}}

func with(m map[string]any, more ...any) map[string]any {
	out := map[string]any{}
	for k, v := range m {
		out[k] = v
	}
	for i := 0; i+1 < len(more); i += 2 {
		out[more[i].(string)] = more[i+1]
	}
	return out
}

func (p person) mob(base string) string {
	p.t.Helper()
	mobID := id()
	status, out := p.call("POST", base+"/mobs", with(cows, "id", mobID))
	require.Equal(p.t, http.StatusOK, status, out)
	return mobID
}

// schooled are mobs of a plan, each grazed by leaf and residual.
func schooled(mobs ...string) []any {
	var list []any
	for _, m := range mobs {
		list = append(list, map[string]any{"mob_id": m, "school": map[string]any{"key": "leaf_residual", "name": "", "idea": "", "method": "residual", "entry_kg_dm_ha": 2600,
			"too_old_kg_dm_ha": 3100, "residual_kg_dm_ha": 1500, "rest_min_days": 18, "stay_max_days": 3, "utilisation": 1}})
	}
	return list
}

func (p person) plan(base string, mobs ...string) string {
	p.t.Helper()
	planID := id()
	status, out := p.call("POST", base+"/plan", map[string]any{"id": planID, "starts_on": "2026-06-10", "plan_days": 14, "mobs": schooled(mobs...)})
	require.Equal(p.t, http.StatusOK, status, out)
	return planID
}

func TestEveryRouteStandsBehindTheWall(t *testing.T) {
	h := start(t, false)
	owner, stranger, neighbour := h.member(t, "owner"), h.visitor(t), h.member(t, "neighbour")
	mine, theirs := owner.farm("Mine"), neighbour.farm("Theirs")
	field, mob := owner.field(mine, 9), owner.mob(mine)
	plan := owner.plan(mine, mob)
	theirField, theirMob := neighbour.field(theirs, 9.1), neighbour.mob(theirs)
	neighbour.plan(theirs, theirMob)
	theirPaddock, myPaddock := neighbour.paddocks(theirs)[0]["id"].(string), owner.paddocks(mine)[0]["id"].(string)

	seen := 0
	for path, item := range h.API.OpenAPI().Paths {
		if !strings.HasPrefix(path, "/api/farms/{farm}") {
			continue
		}
		for _, method := range []string{"GET", "POST", "PUT", "DELETE"} {
			op := map[string]any{"GET": item.Get, "POST": item.Post, "PUT": item.Put, "DELETE": item.Delete}[method]
			if fmt.Sprint(op) == "<nil>" {
				continue
			}
			seen++
			at := strings.ReplaceAll(strings.Replace(path, "{farm}", strings.TrimPrefix(mine, "/api/farms/"), 1), "{id}", field)
			at = strings.NewReplacer("{layout}", field, "{part}", field, "{format}", "kml", "{z}", "1", "{x}", "0", "{y}", "0").Replace(at)
			status, _ := stranger.call(method, at, map[string]any{}, "If-Match", "1")
			assert.Equal(t, http.StatusUnauthorized, status, "%s %s as a stranger", method, path)
			status, _ = neighbour.call(method, at, map[string]any{}, "If-Match", "1")
			assert.Equal(t, http.StatusNotFound, status, "%s %s as a member of another farm", method, path)
			// With the own farm in the path and another farm's records behind it.
			for _, other := range []string{field, mob, plan, myPaddock} {
				if !strings.Contains(path, "{id}") {
					break
				}
				own := strings.ReplaceAll(strings.Replace(path, "{farm}", strings.TrimPrefix(theirs, "/api/farms/"), 1), "{id}", other)
				own = strings.NewReplacer("{layout}", other, "{part}", other).Replace(own)
				status, _ = neighbour.call(method, own, map[string]any{"name": "x", "id": id(), "parts": 2, "direction_degrees": 0}, "If-Match", "1")
				assert.GreaterOrEqual(t, status, 400, "%s %s with another farm's record", method, path)
			}
		}
	}
	assert.Greater(t, seen, 25, "the document holds the farm's routes")

	// Bodies that name another farm's records.
	now := demo.Now.Add(-time.Hour).Format(time.RFC3339)
	for name, c := range map[string]struct {
		path string
		body map[string]any
	}{
		"measurement of their paddock": {"/measurements", map[string]any{"id": id(), "paddock_id": theirPaddock, "method": "plain", "readings": []float64{2000}, "measured_at": now}},
		"move of their mob":            {"/moves", map[string]any{"id": id(), "mob_id": theirMob, "to_paddock_id": myPaddock, "moved_at": now}},
		"move into their paddock":      {"/moves", map[string]any{"id": id(), "mob_id": mob, "to_paddock_id": theirPaddock, "moved_at": now}},
		"mob on their field":           {"/mobs", with(cows, "id", id(), "field_ids", []string{theirField})},
		"split of their paddock":       {"/land/split", map[string]any{"id": id(), "paddock_id": theirPaddock, "line": [][]float64{{9.09, 61.001}, {9.12, 61.001}}}},
		"joining their paddock":        {"/land/merge", map[string]any{"id": id(), "paddock_id": myPaddock, "with_id": theirPaddock}},
		"a corner of their fence":      {"/land/corner", map[string]any{"id": id(), "at": []float64{9.1, 61}, "to": []float64{9.1001, 61}}},
		"division for their mob":       {"/fields/" + field + "/divide", map[string]any{"parts": 2, "direction_degrees": 0, "mob_id": theirMob}},
		"pin of their mob":             {"/pins", map[string]any{"id": id(), "mob_id": theirMob, "paddock_id": myPaddock, "enter_at": "2026-06-12T06:00:00Z"}},
		"pin on their paddock":         {"/pins", map[string]any{"id": id(), "mob_id": mob, "paddock_id": theirPaddock, "enter_at": "2026-06-12T06:00:00Z"}},
	} {
		status, out := owner.call("POST", mine+c.path, c.body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, "%s: %v", name, out)
	}

	status, out := owner.call("POST", mine+"/readings", map[string]any{"readings": []any{map[string]any{"id": id(), "paddock_id": theirPaddock, "method": "plate", "value": 8, "taken_at": "2026-06-10T05:00:00Z"}}})
	require.Equal(t, http.StatusOK, status)
	assert.EqualValues(t, 0, out["kept"], "a reading of their paddock is refused by itself: %v", out)

	documented := map[string]bool{}
	for path, item := range h.API.OpenAPI().Paths {
		p := strings.NewReplacer("{farm}", ":farm", "{id}", ":id", "{sum}", ":sum", "{token}", ":token", "{layout}", ":layout", "{part}", ":part", "{format}", ":format", "{z}", ":z", "{x}", ":x", "{y}", ":y").Replace(path)
		for method, op := range map[string]any{"GET": item.Get, "POST": item.Post, "PUT": item.Put, "DELETE": item.Delete} {
			if fmt.Sprint(op) != "<nil>" {
				documented[method+" "+p] = true
			}
		}
	}
	for _, r := range h.Engine.Routes() {
		if !strings.HasPrefix(r.Path, "/api/openapi") {
			assert.True(t, documented[r.Method+" "+r.Path], "%s %s is in the document", r.Method, r.Path)
		}
	}
}

func TestRolesAreKept(t *testing.T) {
	h := start(t, false)
	owner, hand := h.member(t, "owner"), h.member(t, "hand")
	base := owner.farm("Mine")
	owner.field(base, 9)
	owner.invites(base, hand, "hand")
	status, _ := hand.call("GET", base+"/land", nil)
	assert.Equal(t, http.StatusOK, status)
	status, _ = hand.call("POST", base+"/mobs", with(cows, "id", id()))
	assert.Equal(t, http.StatusForbidden, status, "a hand does not make mobs")
	status, _ = hand.call("POST", base+"/measurements", map[string]any{"id": id(), "paddock_id": hand.paddocks(base)[0]["id"], "method": "plain",
		"readings": []float64{2000}, "measured_at": demo.Now.Format(time.RFC3339)})
	assert.Equal(t, http.StatusOK, status, "but walks")
	status, out := owner.call("POST", base+"/members", map[string]any{"email": "owner@example.org", "role": "viewer"})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, out["detail"], "at least one owner")
}

func TestSessions(t *testing.T) {
	h := start(t, false)
	p := h.member(t, "ida")
	cookies := func() string {
		req, _ := http.NewRequest("GET", h.url, nil)
		return fmt.Sprint(p.client.Jar.Cookies(req.URL))
	}
	before := cookies()
	status, _ := p.call("POST", "/api/sign-in", map[string]any{"email": "Ida@example.org", "password": "a long password"})
	require.Equal(t, http.StatusOK, status)
	assert.NotEqual(t, before, cookies(), "a new token at every sign-in")
	old := h.visitor(t)
	_, raw := old.raw("GET", "/api/me", nil, "Cookie", strings.Trim(before, "[]"))
	assert.Contains(t, string(raw), "sign in first", "the old token is dead")

	second := h.visitor(t)
	status, _ = second.call("POST", "/api/sign-in", map[string]any{"email": "ida@example.org", "password": "a long password"})
	require.Equal(t, http.StatusOK, status)
	status, _ = p.call("POST", "/api/password", map[string]any{"old_password": "wrong password", "new_password": "another long one"})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	status, _ = p.call("POST", "/api/password", map[string]any{"old_password": "a long password", "new_password": "short"})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	status, _ = p.call("POST", "/api/password", map[string]any{"old_password": "a long password", "new_password": "another long one"})
	require.Equal(t, http.StatusOK, status)
	status, _ = p.call("GET", "/api/me", nil)
	assert.Equal(t, http.StatusOK, status, "the one who changed it stays")
	status, _ = second.call("GET", "/api/me", nil)
	assert.Equal(t, http.StatusUnauthorized, status, "every other session ends")
	status, _ = p.call("POST", "/api/sign-out", nil)
	require.Less(t, status, 300)
	status, _ = p.call("GET", "/api/me", nil)
	assert.Equal(t, http.StatusUnauthorized, status)

	req, err := http.NewRequest("POST", h.url+"/api/sign-in", strings.NewReader(`{"email":"ida@example.org","password":"another long one"}`))
	require.NoError(t, err)
	req.Header.Set("Content-Type", "application/json")
	res, err := http.DefaultClient.Do(req)
	require.NoError(t, err)
	res.Body.Close()
	cookie := strings.Join(res.Header.Values("Set-Cookie"), "\n")
	assert.Contains(t, cookie, "HttpOnly")
	assert.Contains(t, cookie, "SameSite=Lax")
	req.Body = io.NopCloser(strings.NewReader(`{"email":"ida@example.org","password":"another long one"}`))
	req.Header.Set("Origin", "https://elsewhere.example")
	req.Header.Set("Sec-Fetch-Site", "cross-site")
	res, err = http.DefaultClient.Do(req)
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, http.StatusForbidden, res.StatusCode, "another site cannot post here")
}

func TestPocketSumsNeedNoAccount(t *testing.T) {
	h := start(t, false)
	p := h.visitor(t)
	status, raw := p.raw("GET", "/api/sums", nil)
	require.Equal(t, http.StatusOK, status)
	var sums []struct {
		Key     string
		Example json.RawMessage
	}
	require.NoError(t, json.Unmarshal(raw, &sums))
	require.Len(t, sums, 26)
	for _, s := range sums {
		status, raw := p.raw("POST", "/api/sums/"+s.Key, string(s.Example))
		assert.Equal(t, http.StatusOK, status, "%s: %s", s.Key, raw)
	}
	status, out := p.call("POST", "/api/sums/stay", `{"feed_kg_dm":2070,"demand_kg_dm_day":-3}`)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Equal(t, "body.demand_kg_dm_day", out["errors"].([]any)[0].(map[string]any)["location"])
	status, _ = p.call("POST", "/api/sums/nonsense", `{}`)
	assert.Equal(t, http.StatusNotFound, status)
}

func BenchmarkMapOfTheDemoFarm(b *testing.B) {
	h := start(b, true)
	p := h.visitor(b)
	status, _ := p.call("POST", "/api/sign-in", map[string]any{"email": demo.Email, "password": demo.Password})
	require.Equal(b, http.StatusOK, status)
	_, me := p.call("GET", "/api/me", nil)
	base := "/api/farms/" + me["farms"].([]any)[0].(map[string]any)["id"].(string)
	for _, place := range []string{"/land", "/today", "/plan", "/ridge"} {
		b.Run(strings.Trim(place, "/"), func(b *testing.B) {
			for b.Loop() {
				status, _ := p.raw("GET", base+place, nil)
				require.Equal(b, http.StatusOK, status)
			}
		})
	}
}

// BenchmarkDividePreview is one step of the slider or the handle: six ways to divide the demo's largest ley.
func BenchmarkDividePreview(b *testing.B) {
	h := start(b, true)
	p := h.visitor(b)
	status, _ := p.call("POST", "/api/sign-in", map[string]any{"email": demo.Email, "password": demo.Password})
	require.Equal(b, http.StatusOK, status)
	_, me := p.call("GET", "/api/me", nil)
	base := "/api/farms/" + me["farms"].([]any)[0].(map[string]any)["id"].(string)
	_, view := p.call("GET", base+"/land", nil)
	var field, lane map[string]any
	for _, f := range view["fields"].([]any) {
		if f := f.(map[string]any); f["name"] == "Sørjordet" {
			field = f
		} else if f["name"] == "Tjern" {
			lane = f
		}
	}
	_, mobs := p.raw("GET", base+"/mobs", nil)
	var list []map[string]any
	require.NoError(b, json.Unmarshal(mobs, &list))
	for _, k := range []struct {
		name  string
		field map[string]any
		body  map[string]any
	}{
		{"area", field, map[string]any{"intent": "area", "parts": 12}},
		{"feed", field, map[string]any{"intent": "feed", "parts": 12}},
		{"size", field, map[string]any{"intent": "size", "paddock_days": 1}},
		{"strips", field, map[string]any{"intent": "strips", "strip_width_m": 25}},
		{"water", field, map[string]any{"intent": "water", "parts": 12, "water_id": field["water_ids"].([]any)[0]}},
		{"lane", lane, map[string]any{"intent": "lane", "parts": 8, "lane_id": lane["lane_ids"].([]any)[0]}},
	} {
		b.Run(k.name, func(b *testing.B) {
			turn := 0.0
			for b.Loop() {
				turn += 1.5
				status, out := p.call("POST", base+"/fields/"+k.field["id"].(string)+"/divide", with(k.body, "direction_degrees", math.Mod(turn, 180), "mob_id", list[0]["id"], "stay_days", 2, "rest_days", 10))
				require.Equal(b, http.StatusOK, status, out)
			}
		})
	}
}

// BenchmarkBring5000Polygons reads a file of 5 000 fields and brings them in, in the parts the page sends.
func BenchmarkBring5000Polygons(b *testing.B) {
	h := start(b, false)
	p := h.member(b, "ida")
	var features []any
	for i := range 5000 {
		lon, lat := 9+0.02*float64(i%70), 55+0.012*float64(i/70)
		var ring [][2]float64
		for k := range 25 {
			sin, cos := math.Sincos(2 * math.Pi * float64(k%24) / 24)
			ring = append(ring, [2]float64{lon + 0.008*cos, lat + 0.004*sin})
		}
		features = append(features, map[string]any{"type": "Feature", "properties": map[string]any{"name": fmt.Sprintf("Field %d", i)},
			"geometry": map[string]any{"type": "Polygon", "coordinates": [][][2]float64{ring}}})
	}
	raw, err := json.Marshal(map[string]any{"type": "FeatureCollection", "features": features})
	require.NoError(b, err)
	for b.Loop() {
		base := p.farm("Large")
		status, answer := p.raw("POST", base+"/land/read?name=large.geojson", string(raw))
		require.Equal(b, http.StatusOK, status)
		var found []struct {
			Name  string          `json:"name"`
			Shape json.RawMessage `json:"shape"`
		}
		require.NoError(b, json.Unmarshal(answer, &found))
		require.Len(b, found, 5000)
		batch := id()
		for i := 0; i < len(found); i += 500 {
			var items []any
			for _, f := range found[i : i+500] {
				items = append(items, map[string]any{"id": id(), "as": "field", "name": f.Name, "sward_id": "ryegrass_white_clover", "shape": f.Shape, "path": []any{}})
			}
			status, out := p.call("POST", base+"/land/bring", map[string]any{"id": id(), "batch": batch, "file": "large.geojson", "items": items})
			require.Equal(b, http.StatusOK, status, out)
		}
	}
}

// list is what a route answers with where that is a list.
func (p person) list(path string) (list []map[string]any) {
	p.t.Helper()
	status, raw := p.raw("GET", path, nil)
	require.Equal(p.t, http.StatusOK, status, string(raw))
	require.NoError(p.t, json.Unmarshal(raw, &list))
	return list
}
