package httpapi_test

import (
	"fmt"
	"math"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/internal/demo"
	"fjell/internal/farm"
	"fjell/internal/house"
	"fjell/internal/httpapi"
	"fjell/internal/store"
	"fjell/internal/store/storetest"
)

// The database commits and its answer is lost: the write is found again by itself. When every answer is lost, the person is
// told that it may have been kept; the same again is harmless, and it is there once.
func TestALostCommitIsFoundAgain(t *testing.T) {
	name := storetest.Name(t)
	require.NoError(t, store.Migrate(t.Context(), name))
	wire, through := storetest.NewWire(t, name)
	now := demo.Now
	db, err := store.Open(t.Context(), through)
	require.NoError(t, err)
	pool, err := db.DB()
	require.NoError(t, err)
	server, err := httpapi.New(house.New(&farm.Service{DB: db, Clock: &farm.Clock{DB: db, Fixed: &now}}), httpapi.Options{})
	require.NoError(t, err)
	ts := httptest.NewServer(server.Handler())
	t.Cleanup(func() { ts.Close(); pool.Close() })
	h := site{server, ts.URL, server.House}
	ida := h.member(t, "ida")
	h.member(t, "ola")
	base := ida.farm("Skarn")
	field := ida.field(base, 9)
	mob := ida.mob(base)
	ida.plan(base, mob)
	pad := ida.paddocks(base)[0]["id"].(string)
	rows := func(table string) (n int64) {
		require.NoError(t, db.Table(table).Count(&n).Error)
		return n
	}
	settings := func() string {
		_, out := ida.call("GET", base, nil)
		return fmt.Sprint(out["version"])
	}

	type write struct {
		table, method, path string
		body                any
		headers             []string
	}
	marks := 0
	writes := map[string]func() write{
		"walk": func() write {
			return write{"measurements", "POST", base + "/measurements", map[string]any{"id": id(), "paddock_id": pad, "method": "plain", "readings": []float64{2000}, "measured_at": clockAt(-1)}, nil}
		},
		"readings": func() write {
			return write{"readings", "POST", base + "/readings", map[string]any{"readings": []any{map[string]any{"id": id(), "method": "plate", "value": 9, "taken_at": clockAt(-1), "longitude": 9.002, "latitude": 61.001}}}, nil}
		},
		"photo": func() write {
			q := url.Values{"id": {id()}, "stop": {id()}, "paddock": {pad}, "taken_at": {demo.Now.Format(time.RFC3339)}}
			return write{"photos", "POST", base + "/photos?" + q.Encode(), string(picture(t)), []string{"Content-Type", "application/octet-stream"}}
		},
		"field": func() write {
			lon := 9.1 + float64(rows("fields"))/50
			return write{"fields", "POST", base + "/fields", map[string]any{"id": id(), "name": "far", "sward_id": "ryegrass_white_clover", "shape": box(lon, 61, 0.005)}, nil}
		},
		"mob": func() write {
			marks++
			return write{"mobs", "POST", base + "/mobs", with(cows, "id", id(), "name", "Ewes "+id()[:8], "letter", string(rune('L'+marks))), nil}
		},
		"event": func() write {
			return write{"stock_events", "POST", base + "/stock/events", map[string]any{"id": id(), "kind": "purchase", "happened_on": "2026-06-10", "head": 3,
				"into_new": map[string]any{"id": id(), "mob_id": mob, "reference_id": "beef_cow_lactating", "name": "Bought", "live_weight_kg": 600}}, nil}
		},
		"plan": func() write {
			return write{"plans", "POST", base + "/plan", map[string]any{"id": id(), "starts_on": "2026-06-10", "plan_days": 14, "mobs": schooled(mob)}, nil}
		},
		"mark": func() write {
			return write{"marks", "POST", base + "/land/marks", map[string]any{"id": id(), "kind": "gate", "name": "g", "path": [][]float64{{9.002, 61.001}}}, nil}
		},
		"order": func() write {
			return write{"members", "PUT", base + "/walk/order", map[string]any{"paddock_ids": []string{pad}}, []string{"If-Match", settings()}}
		},
		"rename": func() write {
			_, land := ida.call("GET", base+"/land", nil)
			for _, f := range land["fields"].([]any) {
				if f := f.(map[string]any); f["id"] == field {
					return write{"members", "PUT", base + "/fields/" + field, map[string]any{"name": "N " + id()[:8]}, []string{"If-Match", fmt.Sprint(f["version"])}}
				}
			}
			panic("the field is gone")
		},
		"device": func() write {
			return write{"devices", "POST", base + "/devices", map[string]any{"id": id(), "name": "plate", "kind": "plate"}, nil}
		},
		"invitation": func() write {
			return write{"audit_lines", "POST", base + "/members", map[string]any{"email": "ola@example.org", "role": "hand"}, nil}
		},
		"farm": func() write {
			return write{"farms", "POST", "/api/farms", map[string]any{"id": id(), "name": "Another", "place": "", "time_zone": "Europe/Oslo", "units": "metric", "aims": []string{}, "experience": "some", "longitude": 9, "latitude": 61}, nil}
		},
	}
	for what, make := range writes {
		for _, lost := range []int64{1, math.MaxInt32} {
			if lost > 1 && what != "walk" && os.Getenv("FJELL_FAULTS") == "" {
				continue // each takes as long as the server's patience
			}
			t.Run(fmt.Sprintf("%s, %d lost", what, lost), func(t *testing.T) {
				w := make()
				headers := append([]string{"Idempotency-Key", id()}, w.headers...)
				before, cut := rows(w.table), wire.Lost.Load()
				wire.LoseCommits(lost)
				status, out := ida.call(w.method, w.path, w.body, headers...)
				wire.LoseCommits(0)
				require.Greater(t, wire.Lost.Load(), cut, "the wire was cut: %d %v", status, out)
				if lost == 1 {
					require.Equal(t, http.StatusOK, status, "it was found again: %v", out)
				} else if status != http.StatusOK {
					require.Equal(t, http.StatusServiceUnavailable, status, out)
					assert.Contains(t, fmt.Sprint(out["detail"]), "may have been kept")
					assert.NotContains(t, fmt.Sprint(out["detail"]), "nothing was changed")
				}
				status, out = ida.call(w.method, w.path, w.body, headers...)
				require.Equal(t, http.StatusOK, status, "the same again is harmless: %v", out)
				if more := rows(w.table) - before; strings.HasPrefix(w.path, base+"/walk") || strings.HasPrefix(w.path, base+"/fields/") {
					assert.Zero(t, more)
				} else {
					assert.EqualValues(t, 1, more, "there once")
				}
			})
		}
	}
	(&pair{t: t, house: [2]site{h, h}}).open(ida, base)
}
