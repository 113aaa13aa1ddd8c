package httpapi_test

import (
	"context"
	"fmt"
	"math"
	"net/http"
	"os"
	"sort"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"fjell/core/land"
	"fjell/core/measuring"
	"fjell/internal/demo"
	"fjell/internal/farm"
	"fjell/internal/farm/ground"
	"fjell/internal/farm/herd"
	"fjell/internal/store"
)

// large is a farm of many paddocks with years of records: walked every two weeks of the season, grazed by mobs that go
// round. It is written into the database directly, as an archive would be.
func (h site) large(t testing.TB, paddocks, seasons int) (person, string, []string) {
	t.Helper()
	p := h.member(t, "large")
	base := p.farm("Storlia")
	farmID := base[len("/api/farms/"):]
	var user store.User
	require.NoError(t, h.service.Farm.DB.First(&user, "email = ?", "large@example.org").Error)
	a := farm.Actor{UserID: user.ID, FarmID: farmID, Role: farm.Owner}
	ctx := context.Background()
	const each = 20
	var mobs []string
	for f := 0; f < paddocks/each; f++ {
		lon, lat := 9+0.012*float64(f%5), 61+0.006*float64(f/5)
		ring := []land.Position{{lon, lat}, {lon + 0.011, lat}, {lon + 0.011, lat + 0.005}, {lon, lat + 0.005}, {lon, lat}}
		fieldID := id()
		_, err := h.service.Ground.CreateField(ctx, a, ground.NewField{ID: fieldID, Name: fmt.Sprint("F", f), SwardID: "ryegrass_white_clover", Shape: land.Shape{{ring}}})
		require.NoError(t, err)
		_, err = h.service.Ground.AcceptDivision(ctx, a, fieldID, ground.AcceptDivision{ID: id(), Name: "twenty", DivideInput: ground.DivideInput{Parts: each, LeastWidth: 5}})
		require.NoError(t, err)
		if f%5 == 0 {
			mobID := id()
			in := herd.MobInput{Name: fmt.Sprint("Mob ", f), Letter: string(rune('A' + f/5)), Glyph: herd.Glyphs[f/5%5],
				Classes: []herd.ClassInput{{ReferenceID: "beef_cow_lactating", Count: 120, LiveWeight: 620, IntakeShare: 0.023}}}
			_, err = h.service.Herd.CreateMob(ctx, a, herd.NewMob{ID: mobID, MobInput: in})
			require.NoError(t, err)
			mobs = append(mobs, mobID)
		}
	}
	db := h.service.Farm.DB
	require.NoError(t, db.Exec("UPDATE layout_spans SET holds_from = '2010-01-01'").Error)
	require.NoError(t, db.Exec("UPDATE paddock_shapes SET valid_from = '2010-01-01'").Error)
	require.NoError(t, db.Exec("UPDATE field_shapes SET valid_from = '2010-01-01'").Error)
	require.NoError(t, db.Exec("UPDATE stock_groups SET described_on = '2010-01-01'").Error)
	var pads []store.Paddock
	require.NoError(t, db.Order("layout_id, position").Find(&pads, "layout_id IN (SELECT id FROM layouts WHERE name = 'twenty')").Error)
	var ids []string
	for _, pad := range pads {
		ids = append(ids, pad.ID)
	}
	var walked []store.Measurement
	var moves []store.Move
	first := demo.Now.AddDate(-seasons+1, 0, 0)
	for year := range seasons {
		for week := 0; week < 26; week += 2 {
			at := first.AddDate(year, 0, -40+7*week)
			if at.After(demo.Now) {
				break
			}
			for i, pad := range ids {
				mass := 2000 + 500*math.Sin(float64(i)*0.7+float64(week))
				walked = append(walked, store.Measurement{FarmID: farmID, ID: id(), PaddockID: pad, Method: "plate", ForageMass: mass, HalfWidth: mass / 5, SharedError: mass / 6,
					Readings: store.JSON[[]float64]{V: []float64{8, 9, 10, 8, 9, 11, 7, 9}}, Figures: store.JSON[map[string]float64]{V: map[string]float64{"slope": 125}},
					Details: store.JSON[measuring.Input]{}, MeasuredAt: at.Add(time.Duration(i) * time.Minute), RecordedAt: at, RecordedBy: user.ID})
			}
		}
		from := map[string]*string{}
		for day := 0; day < 150; day += 2 {
			at := first.AddDate(year, 0, -30+day)
			if at.After(demo.Now.AddDate(0, 0, -1)) {
				break
			}
			for m, mob := range mobs {
				to := ids[(m*100+(day/2)%100)%len(ids)]
				moves = append(moves, store.Move{FarmID: farmID, ID: id(), MobID: mob, FromPaddockID: from[mob], ToPaddockID: &to, MovedAt: at, RecordedAt: at, RecordedBy: user.ID})
				from[mob] = &to
			}
		}
	}
	require.NoError(t, db.CreateInBatches(&walked, 1000).Error)
	require.NoError(t, db.CreateInBatches(&moves, 1000).Error)
	var weather []store.WeatherDay
	for d := -365 * seasons; d <= 0; d++ {
		weather = append(weather, store.WeatherDay{FarmID: farmID, Day: store.DayOf(demo.Now.AddDate(0, 0, d), time.UTC), RainMm: 2.5, MeanC: 10 + 6*math.Sin(float64(d)/58), Source: "hand"})
	}
	require.NoError(t, db.CreateInBatches(&weather, 1000).Error)
	h.written(t, store.Parts...)
	return p, base, ids
}

// written says that parts of every farm were written to behind the service's back.
func (h site) written(t testing.TB, parts ...store.Part) {
	t.Helper()
	require.NoError(t, h.service.Farm.DB.Exec("UPDATE farms SET facts_version = facts_version + 1").Error)
	for _, part := range parts {
		require.NoError(t, h.service.Farm.DB.Exec("UPDATE farms SET parts = JSON_SET(parts, ?, facts_version)", "$."+string(part)).Error)
	}
}

// size reads a number from the environment, so that the growth of a figure can be seen by hand.
func size(name string, usual int) int {
	if n, err := strconv.Atoi(os.Getenv(name)); err == nil {
		return n
	}
	return usual
}

// percentiles reports the middle and the 95th of the times a benchmark took.
func percentiles(b *testing.B, times []time.Duration) {
	sort.Slice(times, func(i, j int) bool { return times[i] < times[j] })
	at := func(share float64) float64 {
		return float64(times[int(share*float64(len(times)-1))].Microseconds()) / 1000
	}
	b.ReportMetric(at(0.5), "p50-ms")
	b.ReportMetric(at(0.95), "p95-ms")
	b.ReportMetric(0, "ns/op")
}

// BenchmarkPlaces opens the places of a farm warm, and cold: after something was written.
func BenchmarkPlaces(b *testing.B) {
	for _, farmSize := range []struct{ paddocks, seasons int }{{20, 1}, {size("FJELL_BENCH_PADDOCKS", 400), size("FJELL_BENCH_SEASONS", 10)}} {
		h := start(b, false)
		p, base, _ := h.large(b, farmSize.paddocks, farmSize.seasons)
		for _, place := range []string{"today", "land", "walk", "moves", "growth", "plan", "ridge", "mobs", "stock/year"} {
			for _, cold := range []bool{false, true} {
				name := fmt.Sprintf("%d paddocks/%s/warm", farmSize.paddocks, place)
				if cold {
					name = fmt.Sprintf("%d paddocks/%s/cold", farmSize.paddocks, place)
				}
				b.Run(name, func(b *testing.B) {
					var times []time.Duration
					p.raw("GET", base+"/"+place, nil)
					for b.Loop() {
						if cold {
							b.StopTimer()
							h.written(b, store.WalksPart)
							b.StartTimer()
						}
						began := time.Now()
						status, raw := p.raw("GET", base+"/"+place, nil)
						times = append(times, time.Since(began))
						require.Equal(b, http.StatusOK, status, string(raw))
						b.ReportMetric(float64(len(raw))/1000, "kB")
					}
					percentiles(b, times)
				})
			}
		}
	}
}

// BenchmarkWrites writes on a farm of many paddocks and years: a move, a walk, a mark.
func BenchmarkWrites(b *testing.B) {
	h := start(b, false)
	p, base, pads := h.large(b, size("FJELL_BENCH_PADDOCKS", 400), size("FJELL_BENCH_SEASONS", 10))
	var mobs []store.Mob
	require.NoError(b, h.service.Farm.DB.Find(&mobs).Error)
	minute := 0
	for _, c := range []struct {
		name  string
		write func() (int, []byte)
	}{
		{"move", func() (int, []byte) {
			minute++
			at := demo.Now.Add(time.Duration(minute-5000) * time.Second).Format(time.RFC3339)
			return p.raw("POST", base+"/moves", map[string]any{"id": id(), "mob_id": mobs[0].ID, "to_paddock_id": pads[minute%50], "moved_at": at})
		}},
		{"measurement", func() (int, []byte) {
			return p.raw("POST", base+"/measurements", map[string]any{"id": id(), "paddock_id": pads[7], "method": "plain", "readings": []float64{2400}, "measured_at": demo.Now.Format(time.RFC3339)})
		}},
		{"mark", func() (int, []byte) {
			return p.raw("POST", base+"/land/marks", map[string]any{"id": id(), "kind": "gate", "name": "g", "path": [][]float64{{9.001, 61.001}}})
		}},
	} {
		b.Run(c.name, func(b *testing.B) {
			var times []time.Duration
			for b.Loop() {
				began := time.Now()
				status, raw := c.write()
				times = append(times, time.Since(began))
				require.Equal(b, http.StatusOK, status, string(raw))
			}
			percentiles(b, times)
		})
	}
}
