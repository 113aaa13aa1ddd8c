package httpapi_test

import (
	"math/rand/v2"
	"net/http"
	"runtime"
	"sort"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Forty requests a second, some of them writes and readings coming in, for some seconds, or for minutes in make soak. What
// a server holds must not grow with what it has answered. The times are told, not judged.
func TestSteadyUnderLoad(t *testing.T) {
	minutes := size("FJELL_SOAK_MINUTES", 0)
	lasts := time.Duration(minutes) * time.Minute
	if minutes == 0 {
		lasts = 4 * time.Second
	}
	h := start(t, false)
	p := h.member(t, "ida")
	base := p.farm("Skarn")
	field := p.field(base, 9)
	status, out := p.divide(base, field, 24, "least_width_m", 2)
	require.Equal(t, http.StatusOK, status, out)
	mob := p.mob(base)
	p.plan(base, mob)
	pads := p.paddocks(base)
	var mu sync.Mutex
	var times []time.Duration
	began := time.Now()
	one := func(i int) {
		rng := rand.New(rand.NewPCG(uint64(i), 1))
		start := time.Now()
		status := 0
		switch {
		case i%10 == 0:
			status, _ = p.raw("POST", base+"/readings", map[string]any{"readings": []any{map[string]any{"id": id(), "method": "plate", "value": 8, "taken_at": clockAt(-1)}}})
		case i%97 == 0:
			status, _ = p.raw("POST", base+"/measurements", map[string]any{"id": id(), "paddock_id": pads[rng.IntN(len(pads))]["id"], "method": "plain", "readings": []float64{2000}, "measured_at": clockAt(-1)})
		default:
			places := []string{"/today", "/land", "/walk", "/moves", "/ridge", "/plan"}
			status, _ = p.raw("GET", base+places[rng.IntN(len(places))], nil)
		}
		assert.Equal(t, http.StatusOK, status)
		mu.Lock()
		times = append(times, time.Since(start))
		mu.Unlock()
	}
	measure := func() (heap uint64, routines int) {
		runtime.GC()
		var m runtime.MemStats
		runtime.ReadMemStats(&m)
		return m.HeapAlloc, runtime.NumGoroutine()
	}
	run := func(until time.Time, from int) int {
		var group sync.WaitGroup
		tick := time.NewTicker(time.Second / 40)
		defer tick.Stop()
		i := from
		for ; time.Now().Before(until); i++ {
			<-tick.C
			group.Go(func() { one(i) })
		}
		group.Wait()
		return i
	}
	n := run(began.Add(lasts/4), 1)
	quarter := len(times)
	heap, routines := measure()
	run(began.Add(lasts), n)
	heapAfter, routinesAfter := measure()
	at := func(list []time.Duration, share float64) time.Duration {
		list = append([]time.Duration(nil), list...)
		sort.Slice(list, func(a, b int) bool { return list[a] < list[b] })
		return list[int(share*float64(len(list)-1))].Round(100 * time.Microsecond)
	}
	last := times[len(times)-quarter:]
	t.Logf("%d requests in %s; first quarter p50 %s p95 %s, last p50 %s p95 %s; heap %d → %d MB; goroutines %d → %d", len(times), lasts, at(times[:quarter], 0.5), at(times[:quarter], 0.95),
		at(last, 0.5), at(last, 0.95), heap>>20, heapAfter>>20, routines, routinesAfter)
	assert.Less(t, heapAfter, 2*heap+32<<20, "memory does not grow with what was answered")
	assert.Less(t, routinesAfter, routines+40)
	pool, err := h.service.Farm.DB.DB()
	require.NoError(t, err)
	assert.LessOrEqual(t, pool.Stats().InUse, 1, "no connection is held")
}
