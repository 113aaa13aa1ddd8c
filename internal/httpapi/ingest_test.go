package httpapi_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/internal/demo"
	"fjell/internal/farm/walk"
	"fjell/internal/store"
)

// sent is what a device sends of one reading.
type sent struct {
	ID      string    `json:"id"`
	Method  string    `json:"method"`
	Value   float64   `json:"value"`
	TakenAt time.Time `json:"taken_at"`
}

// A device sends a hundred readings a second over loopback for some seconds, or for a minute in make soak, some twice, some late, some at once from two
// sides: none is lost, none is there twice.
func TestIngestKeepsEveryReadingOnce(t *testing.T) {
	const rate = 100
	seconds := size("FJELL_SOAK_SECONDS", 5)
	h := start(t, false)
	owner := h.member(t, "owner")
	base := owner.farm("Mine")
	status, device := owner.call("POST", base+"/devices", map[string]any{"id": id(), "name": "Yard plate", "kind": "plate"})
	require.Equal(t, http.StatusOK, status, device)
	server := httptest.NewServer(h.Handler())
	t.Cleanup(server.Close)
	token := device["token"].(string)

	post := func(batch []sent) (walk.ReadingsView, int, error) {
		var out walk.ReadingsView
		raw, err := json.Marshal(map[string]any{"readings": batch})
		if err != nil {
			return out, 0, err
		}
		req, err := http.NewRequestWithContext(t.Context(), http.MethodPost, server.URL+"/api/devices/readings", bytes.NewReader(raw))
		if err != nil {
			return out, 0, err
		}
		req.Header.Set("Content-Type", "application/json")
		req.Header.Set("Authorization", "Bearer "+token)
		resp, err := http.DefaultClient.Do(req)
		if err != nil {
			return out, 0, err
		}
		defer resp.Body.Close()
		return out, resp.StatusCode, json.NewDecoder(resp.Body).Decode(&out)
	}

	rng := rand.New(rand.NewPCG(3, 1))
	var all []sent
	for i := range rate * seconds {
		all = append(all, sent{uuid.Must(uuid.NewV7()).String(), "plate", float64(4 + i%30), demo.Now.Add(-time.Duration(i) * time.Second)})
	}
	// Each tenth of a second ten readings leave: the new ones, repeats of earlier ones, neighbours out of order.
	queue := append([]sent(nil), all...)
	for i := range queue {
		if j := i + rng.IntN(25); j < len(queue) {
			queue[i], queue[j] = queue[j], queue[i]
		}
	}
	var kept, repeated atomic.Int64
	var group sync.WaitGroup
	tick := time.NewTicker(100 * time.Millisecond)
	defer tick.Stop()
	var late time.Duration
	for at := 0; at < len(queue); at += rate / 10 {
		due := <-tick.C
		batch := append([]sent(nil), queue[at:at+rate/10]...)
		if rng.IntN(3) == 0 {
			batch = append(batch, queue[rng.IntN(at+rate/10)])
		}
		sides := 1
		if rng.IntN(5) == 0 {
			sides = 2 // the answer was lost and it is sent again while the first is still under way
		}
		for range sides {
			group.Go(func() {
				out, status, err := post(batch)
				if assert.NoError(t, err) && assert.Equal(t, http.StatusOK, status) {
					assert.Empty(t, out.Refused)
					kept.Add(int64(out.Kept))
					repeated.Add(int64(out.Repeated))
				}
			})
		}
		late = max(late, time.Since(due))
	}
	group.Wait()
	assert.EqualValues(t, len(all), kept.Load())
	assert.Positive(t, repeated.Load())
	var rows []store.Reading
	require.NoError(t, h.House.Farm.DB.Find(&rows).Error)
	require.Len(t, rows, len(all), "none lost, none twice")
	values := map[string]float64{}
	for _, r := range rows {
		values[r.ID] = r.Value
	}
	for _, r := range all {
		require.Equal(t, r.Value, values[r.ID], r.ID)
	}
	t.Logf("%d readings in %d s, %d repeats harmless; the sender was never more than %s behind", len(all), seconds, repeated.Load(), late.Round(time.Millisecond))
}

func TestIngestRefusesRubbish(t *testing.T) {
	h := start(t, false)
	owner := h.member(t, "owner")
	base := owner.farm("Mine")
	_, device := owner.call("POST", base+"/devices", map[string]any{"id": id(), "name": "Yard plate", "kind": "plate"})
	auth := "Bearer " + device["token"].(string)
	good := sent{id(), "plate", 8, demo.Now}
	for name, c := range map[string]struct {
		auth string
		body any
		want int
	}{
		"no token":      {"", map[string]any{"readings": []sent{good}}, http.StatusUnauthorized},
		"another token": {"Bearer rubbish", map[string]any{"readings": []sent{good}}, http.StatusUnauthorized},
		"no bearer":     {device["token"].(string), map[string]any{"readings": []sent{good}}, http.StatusUnauthorized},
		"nothing":       {auth, map[string]any{"readings": []sent{}}, http.StatusUnprocessableEntity},
		"no JSON":       {auth, "][", http.StatusBadRequest},
		"taken":         {auth, map[string]any{"readings": []sent{good}}, http.StatusOK},
	} {
		status, out := owner.call("POST", "/api/devices/readings", c.body, "Authorization", c.auth)
		assert.Equal(t, c.want, status, "%s: %v", name, out)
	}
	status, out := owner.call("POST", "/api/devices/readings", map[string]any{"readings": []any{
		map[string]any{"id": "7", "method": "plate", "value": 8, "taken_at": demo.Now},
		map[string]any{"id": id(), "method": "plate", "value": -3, "taken_at": demo.Now},
		map[string]any{"id": id(), "method": "plate", "value": 8, "taken_at": demo.Now, "latitude": 99, "longitude": 3},
		map[string]any{"id": good.ID, "method": "plate", "value": 9, "taken_at": demo.Now},
		map[string]any{"id": id(), "method": "plate", "value": 7, "taken_at": demo.Now},
	}}, "Authorization", auth)
	require.Equal(t, http.StatusOK, status, out)
	assert.EqualValues(t, 1, out["kept"])
	var fields []string
	for _, r := range out["refused"].([]any) {
		fields = append(fields, fmt.Sprint(r.(map[string]any)["field"]))
	}
	assert.ElementsMatch(t, []string{"id", "value", "latitude", "id"}, fields)
}
