package httpapi_test

import (
	"bytes"
	"cmp"
	"encoding/csv"
	"fmt"
	"image"
	"image/jpeg"
	"io"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/internal/demo"
	"fjell/internal/store"
)

// siege is a farm with its people on two processes over one database, and somebody outside who means it no good.
type siege struct {
	pair
	owner, hand, outsider person
	base, paddock, mob    string
}

func besieged(t *testing.T) siege {
	t.Helper()
	s := siege{pair: startPair(t)}
	s.owner, s.hand, s.outsider = s.house[0].member(t, "owner"), s.house[0].member(t, "hand"), s.house[1].member(t, "outsider")
	s.base = s.owner.farm("Skarn")
	s.owner.field(s.base, 9)
	s.mob = s.owner.mob(s.base)
	s.owner.plan(s.base, s.mob)
	s.owner.invites(s.base, s.hand, "hand")
	s.paddock = s.owner.paddocks(s.base)[0]["id"].(string)
	return s
}

// do sends a request as it stands: no header of ours is added.
func (s siege) do(t *testing.T, process int, method, path, body string, headers ...string) (*http.Response, string) {
	t.Helper()
	req, err := http.NewRequest(method, s.house[process].url+path, strings.NewReader(body))
	require.NoError(t, err)
	for i := 0; i+1 < len(headers); i += 2 {
		req.Header.Set(headers[i], headers[i+1])
	}
	res, err := (&http.Client{Timeout: 30 * time.Second}).Do(req)
	require.NoError(t, err)
	defer res.Body.Close()
	raw, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	return res, string(raw)
}

func (s siege) cookie(who person) string {
	var out []string
	for _, c := range who.client.Jar.Cookies(mustURL(s.t, who.url)) {
		out = append(out, c.Name+"="+c.Value)
	}
	return strings.Join(out, "; ")
}

// What attackers tried, a row each: it must come to nothing, on either process, and the farm must be as it was. Guessing at
// the door, tiles, roles, hostile files, wrong input and races have tests of their own beside this one.
func TestAttacksComeToNothing(t *testing.T) {
	s := besieged(t)
	forbidden := func(t *testing.T, status int, says ...any) {
		t.Helper()
		assert.Contains(t, []int{401, 403, 404, 405, 415, 422}, status, says...)
	}
	for name, attack := range map[string]func(t *testing.T){
		"a page elsewhere posts a form here": func(t *testing.T) {
			form := `{"id":"` + id() + `","mob_id":"` + s.mob + `","to_paddock_id":"` + s.paddock + `","moved_at":"` + demo.Now.Format(time.RFC3339) + `"}`
			for _, kind := range []string{"text/plain", "application/x-www-form-urlencoded", "multipart/form-data; boundary=x", "application/json"} {
				for i := range s.house {
					res, _ := s.do(t, i, "POST", s.base+"/moves", form, "Cookie", s.cookie(s.owner), "Content-Type", kind, "Origin", "https://elsewhere.example", "Sec-Fetch-Site", "cross-site")
					forbidden(t, res.StatusCode, kind)
				}
			}
		},
		"a page elsewhere reads with the person's cookie": func(t *testing.T) {
			res, _ := s.do(t, 0, "GET", s.base+"/land", "", "Cookie", s.cookie(s.owner), "Origin", "https://elsewhere.example")
			assert.Empty(t, res.Header.Get("Access-Control-Allow-Origin"), "it may be asked, but the answer is not given to that page")
			assert.Empty(t, res.Header.Get("Access-Control-Allow-Credentials"))
		},
		"a page elsewhere shows Fjell in a frame": func(t *testing.T) {
			res, _ := s.do(t, 1, "GET", "/", "")
			assert.Contains(t, res.Header.Get("Content-Security-Policy"), "frame-ancestors 'none'")
			assert.Equal(t, "nosniff", res.Header.Get("X-Content-Type-Options"))
		},
		"a session chosen by somebody else": func(t *testing.T) {
			for _, token := range []string{"", "A", strings.Repeat("A", 43), "' OR 1=1 --", strings.Repeat("A", 100_000)} {
				res, raw := s.do(t, 1, "GET", "/api/me", "", "Cookie", "fjell="+url.QueryEscape(token))
				assert.NotContains(t, raw, "owner@example.org")
				assert.Contains(t, []int{401, 431}, res.StatusCode)
			}
			var rows []store.Session
			require.NoError(t, s.house[0].service.Farm.DB.Find(&rows).Error)
			for _, r := range rows {
				res, _ := s.do(t, 1, "GET", "/api/me", "", "Cookie", fmt.Sprintf("fjell=%x", r.Token))
				assert.Equal(t, http.StatusUnauthorized, res.StatusCode, "what is in the table opens nothing")
			}
		},
		"a hand makes itself an owner": func(t *testing.T) {
			for i := range s.house {
				for _, path := range []string{"/members", "/leave"} {
					if path == "/leave" {
						continue // that it may
					}
					status, _ := s.at(i, s.hand).call("POST", s.base+path, map[string]any{"email": "hand@example.org", "role": "owner"})
					forbidden(t, status)
				}
				status, _ := s.at(i, s.hand).call("PUT", s.base, map[string]any{"name": "Mine", "role": "owner"}, "If-Match", "1")
				forbidden(t, status)
				status, _ = s.at(i, s.hand).raw("GET", s.base+"/audit", nil)
				forbidden(t, status)
			}
		},
		"fields that nobody asked for": func(t *testing.T) {
			for _, extra := range []string{"farm_id", "FARM_ID", "recorded_by", "version", "role", "__proto__", "withdrawn"} {
				body := map[string]any{"id": id(), "paddock_id": s.paddock, "method": "plain", "readings": []float64{2000}, "measured_at": demo.Now.Add(-time.Hour).Format(time.RFC3339), extra: "x"}
				status, out := s.owner.call("POST", s.base+"/measurements", body)
				assert.Equal(t, http.StatusUnprocessableEntity, status, "%s: %v", extra, out)
			}
			status, _ := s.owner.call("POST", s.base+"/measurements", map[string]any{"ID": id(), "Paddock_Id": s.paddock, "METHOD": "plain", "readings": []float64{2000}, "measured_at": demo.Now})
			forbidden(t, status, "names are told apart by their case")
		},
		"ids that are more than ids": func(t *testing.T) {
			for _, bad := range []string{"' OR '1'='1", "../../owner", "%00", "00000000-0000-0000-0000-000000000000", strings.Repeat("9", 4000), "＃", "{\"$gt\":\"\"}"} {
				for _, path := range []string{"/fields/%s/divide", "/moves/%s/withdraw", "/mobs/%s", "/photos/%s", "/pins/%s"} {
					for _, method := range []string{"GET", "POST", "PUT", "DELETE"} {
						status, raw := s.owner.raw(method, s.base+fmt.Sprintf(path, url.PathEscape(bad)), map[string]any{}, "If-Match", "1")
						assert.Less(t, status, 500, "%s %s %q: %s", method, path, bad, raw)
						assert.GreaterOrEqual(t, status, 400, "%s %s %q", method, path, bad)
						assert.NotContains(t, string(raw), "SQL")
					}
				}
				status, raw := s.owner.raw("GET", "/api/farms/"+url.PathEscape(bad)+"/land", nil)
				page := strings.HasPrefix(string(raw), "<!doctype html>") // the app's own, as for any address that is no route
				assert.True(t, page || status == 404 || status == 422, "%q: %d %s", bad, status, raw)
			}
		},
		"the address bar as a way to files": func(t *testing.T) {
			for _, path := range []string{"/../../../../etc/passwd", "/..%2f..%2fetc%2fpasswd", "/assets/..%5c..%5cgo.mod", "/%2e%2e/%2e%2e/go.mod", "/.git/config", "/.fjell/demo/url"} {
				res, raw := s.do(t, 0, "GET", path, "")
				assert.NotContains(t, raw, "root:")
				assert.NotContains(t, raw, "module fjell")
				assert.NotContains(t, raw, "[core]")
				assert.Less(t, res.StatusCode, 500, path)
			}
		},
		"somebody else's key of a request": func(t *testing.T) {
			key := id()
			order := map[string]any{"paddock_ids": []string{s.paddock}}
			_, farm := s.owner.call("GET", s.base, nil)
			version := fmt.Sprint(farm["version"])
			status, out := s.owner.call("PUT", s.base+"/walk/order", order, "If-Match", version, "Idempotency-Key", key)
			require.Equal(t, http.StatusOK, status, out)
			status, _ = s.at(1, s.outsider).call("PUT", s.base+"/walk/order", order, "If-Match", version, "Idempotency-Key", key)
			forbidden(t, status, "an outsider learns nothing from it")
			status, _ = s.at(1, s.hand).call("PUT", s.base+"/walk/order", order, "If-Match", version, "Idempotency-Key", key)
			forbidden(t, status, "nor does a hand")
			status, _ = s.at(1, s.owner).call("PUT", s.base+"/walk/order", map[string]any{"paddock_ids": []string{}}, "If-Match", version, "Idempotency-Key", key)
			assert.Equal(t, http.StatusConflict, status, "and it does not stand for another request")
		},
		"a tag of a page that is not theirs": func(t *testing.T) {
			res, _ := s.do(t, 0, "GET", s.base+"/land", "", "Cookie", s.cookie(s.owner))
			tag := res.Header.Get("ETag")
			require.NotEmpty(t, tag)
			for _, who := range []string{"", s.cookie(s.outsider)} {
				res, _ = s.do(t, 1, "GET", s.base+"/land", "", "Cookie", who, "If-None-Match", tag)
				forbidden(t, res.StatusCode, "not even that it is the same")
			}
			res, _ = s.do(t, 1, "GET", s.base+"/land", "", "Cookie", s.cookie(s.hand), "If-None-Match", tag)
			assert.Equal(t, http.StatusOK, res.StatusCode, "a page of another role is another page")
			assert.Contains(t, res.Header.Get("Cache-Control"), "private")
		},
		"a device's token on other doors": func(t *testing.T) {
			status, out := s.owner.call("POST", s.base+"/devices", map[string]any{"id": id(), "name": "plate", "kind": "plate"})
			require.Equal(t, http.StatusOK, status, out)
			token, deviceID := out["token"].(string), out["id"].(string)
			reading := fmt.Sprintf(`{"readings":[{"id":"%s","method":"plate","value":9,"taken_at":"%s"}]}`, id(), demo.Now.Add(-time.Hour).Format(time.RFC3339))
			send := func(process int, token string) int {
				res, _ := s.do(t, process, "POST", "/api/devices/readings", reading, "Authorization", "Bearer "+token, "Content-Type", "application/json")
				return res.StatusCode
			}
			require.Equal(t, http.StatusOK, send(1, token))
			for _, path := range []string{"/land", "/members", "/devices", "/readings/waiting"} {
				res, _ := s.do(t, 1, "GET", s.base+path, "", "Authorization", "Bearer "+token)
				assert.Equal(t, http.StatusUnauthorized, res.StatusCode, path)
			}
			for _, other := range []string{"", token + "x", strings.ToLower(token) + "", token[:len(token)-1], strings.Repeat("A", 5000)} {
				if other != token {
					assert.Equal(t, http.StatusUnauthorized, send(0, other))
				}
			}
			_, list := s.owner.raw("GET", s.base+"/devices", nil)
			assert.NotContains(t, string(list), token, "it is told once")
			status, out = s.owner.call("DELETE", s.base+"/devices/"+deviceID, nil)
			require.Equal(t, http.StatusOK, status, out)
			assert.Equal(t, http.StatusUnauthorized, send(1, token), "shut out on every process at once")
		},
		"a photo that tells where it was taken, with something behind its end": func(t *testing.T) {
			var plain bytes.Buffer
			require.NoError(t, jpeg.Encode(&plain, image.NewRGBA(image.Rect(0, 0, 16, 16)), nil))
			exif := append([]byte("Exif\x00\x00"), []byte("GPSLatitude 61.1234 secret place")...)
			shot := append([]byte{0xFF, 0xD8, 0xFF, 0xE1, 0, byte(len(exif) + 2)}, exif...)
			shot = append(append(shot, plain.Bytes()[2:]...), []byte("<script>alert(1)</script>PK\x03\x04")...)
			photo := id()
			q := url.Values{"id": {photo}, "stop": {id()}, "paddock": {s.paddock}, "taken_at": {demo.Now.Format(time.RFC3339)}}
			status, out := s.owner.call("POST", s.base+"/photos?"+q.Encode(), string(shot), "Content-Type", "application/octet-stream")
			require.Equal(t, http.StatusOK, status, out)
			status, raw := s.at(1, s.owner).raw("GET", s.base+"/photos/"+photo, nil)
			require.Equal(t, http.StatusOK, status)
			for _, what := range []string{"secret place", "Exif", "script", "PK\x03\x04"} {
				assert.NotContains(t, string(raw), what)
			}
			status, _ = s.at(0, s.hand).call("DELETE", s.base+"/photos/"+photo, nil)
			forbidden(t, status, "a hand does not take away what another took")
			status, _ = s.at(0, s.outsider).call("DELETE", s.base+"/photos/"+photo, nil)
			forbidden(t, status)
			status, _ = s.owner.call("DELETE", s.base+"/photos/"+photo, nil)
			assert.Less(t, status, 300)
		},
		"names that are formulas or markup": func(t *testing.T) {
			for _, bad := range []string{`=HYPERLINK("http://x")`, "@SUM(A1)", "+1+1", "<img src=x onerror=alert(1)>", "x;=1+1", "x\r\n=1+1"} {
				status, out := s.owner.call("POST", s.base+"/mobs", with(cows, "id", id(), "name", bad))
				require.Less(t, status, 500, out)
				if status == http.StatusOK {
					_, list := s.owner.raw("GET", s.base+"/stock/list", nil)
					for _, comma := range ",;" { // whichever a spreadsheet takes
						table := csv.NewReader(bytes.NewReader(list))
						table.Comma, table.FieldsPerRecord, table.LazyQuotes = comma, -1, true
						rows, err := table.ReadAll()
						require.NoError(t, err)
						for _, cell := range slices.Concat(rows...) {
							assert.NotContains(t, "=@+", cmp.Or(strings.TrimSpace(cell), " ")[:1], cell)
						}
					}
					status, _ = s.owner.call("DELETE", s.base+"/mobs/"+out["id"].(string), nil)
					require.Less(t, status, 300)
				}
			}
			res, _ := s.do(t, 0, "GET", s.base+"/mobs", "", "Cookie", s.cookie(s.owner))
			assert.True(t, strings.HasPrefix(res.Header.Get("Content-Type"), "application/json"), "never a page")
		},
		"bodies that never end, nest for ever or are not what they say": func(t *testing.T) {
			deep := strings.Repeat(`{"a":`, 20_000) + "1" + strings.Repeat("}", 20_000)
			for _, body := range []string{deep, "[" + strings.Repeat("1,", 200_000) + "1]", "\xff\xfe{}", "", "null", `"x"`, strings.Repeat(" ", 2<<20) + "{}"} {
				for _, path := range []string{"/moves", "/measurements", "/pins"} {
					res, raw := s.do(t, 1, "POST", s.base+path, body, "Cookie", s.cookie(s.owner), "Content-Type", "application/json")
					assert.Less(t, res.StatusCode, 500)
					assert.GreaterOrEqual(t, res.StatusCode, 400)
					assert.Less(t, len(raw), 10_000, "a small answer to whatever came")
				}
			}
			res, _ := s.do(t, 0, "POST", s.base+"/moves", "{}", "Cookie", s.cookie(s.owner), "Content-Type", "application/json", "Content-Encoding", "gzip")
			assert.Less(t, res.StatusCode, 500)
		},
		"an invitation to a farm of the attacker's": func(t *testing.T) {
			trap := s.outsider.farm("Trap")
			status, out := s.outsider.call("POST", trap+"/members", map[string]any{"email": "owner@example.org", "role": "viewer"})
			require.Equal(t, http.StatusOK, status, out)
			_, me := s.owner.call("GET", "/api/me", nil)
			require.Len(t, me["farms"], 1, "asked, not put on it")
			assert.NotContains(t, fmt.Sprint(me["farms"]), "Trap")
			status, out = s.outsider.call("POST", trap+"/members", map[string]any{"email": "nobody@example.org", "role": "viewer"})
			assert.Equal(t, http.StatusUnprocessableEntity, status, out)
		},
		"the clock of a house that is no demo": func(t *testing.T) {
			for i := range s.house {
				status, _ := s.at(i, s.owner).call("POST", "/api/clock", map[string]any{"days": 5})
				assert.Contains(t, []int{403, 404, 405, 409, 422}, status)
			}
		},
	} {
		t.Run(name, func(t *testing.T) {
			before := s.land(t)
			attack(t)
			assert.Equal(t, before, s.land(t), "the farm is as it was")
		})
	}
	s.open(s.owner, s.base)
	var moves, walks int64
	db := s.house[0].service.Farm.DB
	require.NoError(t, db.Model(&store.Move{}).Count(&moves).Error)
	require.NoError(t, db.Model(&store.Measurement{}).Count(&walks).Error)
	assert.Zero(t, moves)
	assert.Zero(t, walks, "nothing of it was kept")
}

// land is what the farm's map says of its paddocks.
func (s siege) land(t *testing.T) []any {
	t.Helper()
	status, out := s.owner.call("GET", s.base+"/land", nil)
	require.Equal(t, http.StatusOK, status)
	return out["paddocks"].([]any)
}
