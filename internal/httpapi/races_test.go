package httpapi_test

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"sync"
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

// pair is two processes over one database: nothing is shared but the database.
type pair struct {
	t     *testing.T
	house [2]site
}

func startPair(t *testing.T) pair {
	t.Helper()
	name := storetest.Name(t)
	now := demo.Now
	require.NoError(t, store.Migrate(t.Context(), name))
	p := pair{t: t}
	for i := range p.house {
		db, err := store.Open(t.Context(), name)
		require.NoError(t, err)
		service := house.New(&farm.Service{DB: db, Clock: &farm.Clock{DB: db, Fixed: &now}})
		pool, err := db.DB()
		require.NoError(t, err)
		server, err := httpapi.New(service, httpapi.Options{})
		require.NoError(t, err)
		ts := httptest.NewServer(server.Handler())
		t.Cleanup(func() { ts.Close(); pool.Close() })
		p.house[i] = site{server, ts.URL, service}
	}
	return p
}

// at is a person as the process sees them: the session is in the database, so the cookie serves both.
func (p pair) at(process int, who person) person {
	who.url = p.house[process].url
	who.t = p.t
	return who
}

// answer is what a request came to.
type answer struct {
	status int
	out    map[string]any
}

// atOnce lets n requests go in the same moment, to the processes by turns.
func (p pair) atOnce(who person, n int, request func(who person, i int) (int, map[string]any)) []answer {
	out := make([]answer, n)
	start := make(chan struct{})
	var group sync.WaitGroup
	for i := range n {
		group.Go(func() {
			<-start
			status, body := request(p.at(i%2, who), i)
			out[i] = answer{status, body}
		})
	}
	close(start)
	group.Wait()
	for _, a := range out {
		assert.NotEqual(p.t, http.StatusInternalServerError, a.status, "%v", a.out)
	}
	return out
}

func kept(answers []answer) int {
	n := 0
	for _, a := range answers {
		if a.status == http.StatusOK {
			n++
		}
	}
	return n
}

// open asks every place of a farm whether it can be seen.
func (p pair) open(who person, base string) {
	p.t.Helper()
	for i := range p.house {
		for _, place := range []string{"", "/today", "/ridge", "/land", "/walk", "/moves", "/plan", "/mobs", "/stock/year", "/growth", "/weather", "/calibrations", "/members"} {
			status, out := p.at(i, who).call("GET", base+place, nil)
			assert.Equal(p.t, http.StatusOK, status, "%s: %v", place, out)
		}
	}
}

func (p person) version(base, place, id string) string {
	_, out := p.call("GET", base+place, nil)
	if id == "" {
		return fmt.Sprint(out["version"])
	}
	for _, list := range []string{"fields", "paddocks", "mobs"} {
		rows, _ := out[list].([]any)
		for _, row := range rows {
			if one := row.(map[string]any); one["id"] == id {
				return fmt.Sprint(one["version"])
			}
		}
	}
	p.t.Fatalf("%s%s has no %s", base, place, id)
	return ""
}

func TestOneVersionIsAcceptedOnce(t *testing.T) {
	p := startPair(t)
	ida := p.house[0].member(t, "ida")
	base := ida.farm("Skarn")
	field, mob := ida.field(base, 9), ida.mob(base)
	plan := ida.plan(base, mob)
	pad := ida.paddocks(base)[0]
	facts := map[string]any{"name": "A", "sward_id": "ryegrass_white_clover", "growth_factor": 1, "closed_for": ""}
	strips := id()
	status, out := ida.call("POST", base+"/fields/"+field+"/layouts", map[string]any{"id": strips, "name": "strips", "names": []string{}, "parts": 3, "direction_degrees": 0, "shelve": true})
	require.Equal(t, http.StatusOK, status, out)
	about := map[string]any{"name": "Skarn", "place": "", "time_zone": "Europe/Oslo", "units": "metric", "aims": []string{}, "experience": "some", "longitude": 9, "latitude": 61}
	school := map[string]any{"key": "leaf_residual", "name": "", "idea": "", "method": "residual", "entry_kg_dm_ha": 2600, "too_old_kg_dm_ha": 3100, "residual_kg_dm_ha": 1500,
		"rest_min_days": 18, "stay_max_days": 3, "utilisation": 1}
	for _, c := range []struct {
		what, method, path, version string
		body                        func(i int) map[string]any
	}{
		{"farm", "PUT", "", ida.version(base, "", ""), func(i int) map[string]any { return with(about, "place", fmt.Sprint(i)) }},
		{"field", "PUT", "/fields/" + field, ida.version(base, "/land", field), func(i int) map[string]any { return map[string]any{"name": fmt.Sprint("F", i)} }},
		{"paddock", "PUT", "/paddocks/" + pad["id"].(string), fmt.Sprint(pad["version"]), func(i int) map[string]any { return with(facts, "notes", fmt.Sprint(i)) }},
		{"mob", "PUT", "/mobs/" + mob, "1", func(i int) map[string]any { return with(cows, "name", fmt.Sprint("Cows ", i), "confirmed", true) }},
		{"plan", "PUT", "/plan/" + plan, "1", func(i int) map[string]any {
			return map[string]any{"starts_on": "2026-06-10", "plan_days": 20 + i, "mobs": []any{map[string]any{"mob_id": mob, "school": school}}}
		}},
		{"layout", "PUT", "/fields/" + field + "/layouts/" + strips, "1", func(i int) map[string]any { return map[string]any{"name": fmt.Sprint("L", i)} }},
		{"tiles", "PUT", "/land/tiles", "2", func(i int) map[string]any {
			return map[string]any{"address": fmt.Sprintf("https://t%d.example.org/{z}/{x}/{y}", i)}
		}},
		{"soil", "PUT", "/weather", "3", func(i int) map[string]any { return map[string]any{"soil_mm": 80 + i, "station": false} }},
		{"order", "PUT", "/walk/order", "4", func(int) map[string]any { return map[string]any{"paddock_ids": []any{pad["id"]}} }},
		{"curve", "PUT", "/growth/curve", "5", func(int) map[string]any {
			return map[string]any{"sward_id": "ryegrass_white_clover", "curve": "cool_short_season"}
		}},
		{"emergency card", "PUT", "/emergency", "6", func(i int) map[string]any {
			return map[string]any{"contacts": []any{map[string]any{"who": fmt.Sprint("Vet ", i), "phone": "123 45 678"}}, "where": "", "longitude": nil, "latitude": nil,
				"shut_first": "", "also": "", "open_signed_out": false}
		}},
		{"moving", "PUT", "/moving", "7", func(i int) map[string]any {
			return map[string]any{"minutes": []int{480 + i, 1080}, "weekdays": []int{1, 2, 3, 4, 5, 6, 7}, "away": []any{}}
		}},
		{"routine", "PUT", "/routine", "8", func(i int) map[string]any {
			return map[string]any{"own": []any{map[string]any{"id": "a", "do": fmt.Sprint("step ", i), "when": "gate"}}, "left_out": []string{}}
		}},
		{"targets", "PUT", "/targets", "9", func(i int) map[string]any {
			return map[string]any{"ground": map[string]any{"bare_most": 0.01 * float64(i)}}
		}},
		{"queue order", "PUT", "/queue/order", "10", func(int) map[string]any { return map[string]any{"paddock_ids": []any{pad["id"]}} }},
		{"currency", "PUT", "/currency", "11", func(int) map[string]any { return map[string]any{"currency": "NOK"} }},
		{"drought", "PUT", "/drought", "12", func(i int) map[string]any {
			return map[string]any{"trigger": 0.5 + 0.01*float64(i), "leave": []any{}, "wet": ""}
		}},
		{"losses", "PUT", "/losses", "13", func(i int) map[string]any { return map[string]any{"cut_loss": 0.1 + 0.01*float64(i)} }},
	} {
		answers := p.atOnce(ida, 8, func(who person, i int) (int, map[string]any) {
			return who.call(c.method, base+c.path, c.body(i), "If-Match", c.version)
		})
		assert.Equal(t, 1, kept(answers), "%s: one of eight: %v", c.what, answers)
		for _, a := range answers {
			if a.status != http.StatusOK {
				assert.Equal(t, http.StatusPreconditionFailed, a.status, "%s: %v", c.what, a.out)
				assert.NotContains(t, fmt.Sprint(a.out), "FarmID", "%s: what is stored is shown as its place shows it", c.what)
			}
		}
	}
	p.open(ida, base)
}

func TestTwoSalesCannotSellTheSameCows(t *testing.T) {
	p := startPair(t)
	ida := p.house[0].member(t, "ida")
	base := ida.farm("Skarn")
	ida.field(base, 9)
	ida.mob(base)
	_, year := ida.call("GET", base+"/stock/year", nil)
	class := year["bands"].([]any)[0].(map[string]any)["group_id"]
	answers := p.atOnce(ida, 6, func(who person, _ int) (int, map[string]any) {
		return who.call("POST", base+"/stock/events", map[string]any{"id": id(), "kind": "sale", "happened_on": "2026-06-10", "head": 20, "from_id": class})
	})
	assert.Equal(t, 1, kept(answers), "thirty cows can be sold twenty at a time once: %v", answers)
	p.open(ida, base)
	var rows int64
	require.NoError(t, p.house[0].service.Farm.DB.Model(&store.StockEvent{}).Count(&rows).Error)
	assert.EqualValues(t, 1, rows, "what was refused is not stored")
}

func TestBadBooksDoNotShutAFarm(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base := ida.farm("Skarn")
	ida.field(base, 9)
	ida.mob(base)
	_, year := ida.call("GET", base+"/stock/year", nil)
	class := year["bands"].([]any)[0].(map[string]any)["group_id"].(string)
	sale := id()
	status, out := ida.call("POST", base+"/stock/events", map[string]any{"id": sale, "kind": "sale", "happened_on": "2026-06-10", "head": 20, "from_id": class})
	require.Equal(t, http.StatusOK, status, out)
	// Books that cannot be, as an older version could leave them.
	var row store.StockEvent
	require.NoError(t, h.service.Farm.DB.First(&row, "id = ?", sale).Error)
	again := row
	again.ID = id()
	again.RecordedAt = row.RecordedAt.Add(time.Second)
	require.NoError(t, h.service.Farm.DB.Create(&again).Error)
	h.written(t, store.HerdPart)

	for _, place := range []string{"", "/today", "/ridge", "/land", "/walk", "/moves", "/plan", "/mobs", "/stock/year", "/growth"} {
		status, out := ida.call("GET", base+place, nil)
		assert.Equal(t, http.StatusOK, status, "%s: %v", place, out)
	}
	_, today := ida.call("GET", base+"/today", nil)
	assert.Contains(t, fmt.Sprint(today["minding"]), "does not fit the books", "and it is said")
	_, year = ida.call("GET", base+"/stock/year", nil)
	marked := 0
	for _, e := range year["events"].([]any) {
		if why := e.(map[string]any)["does_not_fit"]; why != nil {
			marked++
			assert.Contains(t, why, "there are only 10")
			assert.Equal(t, again.ID, e.(map[string]any)["id"])
		}
	}
	assert.Equal(t, 1, marked)
	status, out = ida.call("POST", base+"/stock/events", map[string]any{"id": id(), "kind": "death", "happened_on": "2026-06-10", "head": 1, "from_id": class})
	assert.Equal(t, http.StatusOK, status, "other lines can still be written: %v", out)
	status, out = ida.call("DELETE", base+"/stock/events/"+again.ID, nil)
	require.Equal(t, http.StatusOK, status, "it can be taken back: %v", out)
	_, today = ida.call("GET", base+"/today", nil)
	assert.NotContains(t, fmt.Sprint(today["minding"]), "does not fit the books")
}

func TestOneMoveIsRecordedOnce(t *testing.T) {
	p := startPair(t)
	ida := p.house[0].member(t, "ida")
	base := ida.farm("Skarn")
	ida.field(base, 9)
	mob, pad := ida.mob(base), ida.paddocks(base)[0]["id"]
	answers := p.atOnce(ida, 8, func(who person, _ int) (int, map[string]any) { return who.move(base, mob, pad, -1) })
	assert.Equal(t, 1, kept(answers), "eight hands press moved: %v", answers)
	same := id()
	off := map[string]any{"id": same, "mob_id": mob, "to_paddock_id": nil, "moved_at": clockAt(-0.5)}
	delete(off, "to_paddock_id")
	answers = p.atOnce(ida, 8, func(who person, _ int) (int, map[string]any) { return who.call("POST", base+"/moves", off) })
	assert.Equal(t, 8, kept(answers), "the same id is answered with the first result: %v", answers)
	var rows int64
	require.NoError(t, p.house[0].service.Farm.DB.Model(&store.Move{}).Count(&rows).Error)
	assert.EqualValues(t, 2, rows)
	answers = p.atOnce(ida, 6, func(who person, _ int) (int, map[string]any) { return who.call("DELETE", base+"/moves/"+same, nil) })
	assert.Equal(t, 1, kept(answers), "and taken back once: %v", answers)
	p.open(ida, base)
}

func TestOneGroundIsLaidOnce(t *testing.T) {
	p := startPair(t)
	ida := p.house[0].member(t, "ida")
	base := ida.farm("Skarn")
	answers := p.atOnce(ida, 6, func(who person, i int) (int, map[string]any) {
		return who.call("POST", base+"/fields", map[string]any{"id": id(), "name": fmt.Sprint("F", i), "sward_id": "ryegrass_white_clover", "shape": box(9, 61, 0.005)})
	})
	assert.Equal(t, 1, kept(answers), "six hands draw one field: %v", answers)
	_, land := ida.call("GET", base+"/land", nil)
	field := land["fields"].([]any)[0].(map[string]any)
	answers = p.atOnce(ida, 6, func(who person, i int) (int, map[string]any) {
		return who.divide(base, field["id"].(string), 3+i%2, "name", fmt.Sprint("L", i))
	})
	assert.GreaterOrEqual(t, kept(answers), 1)
	sum := 0.0
	for _, pad := range ida.paddocks(base) {
		sum += pad["area_ha"].(float64)
	}
	assert.InEpsilon(t, field["area_ha"].(float64), sum, 1e-6, "one layout holds")
	var holding int64
	require.NoError(t, p.house[0].service.Farm.DB.Model(&store.LayoutSpan{}).Where("holds_from <= '2026-06-10' AND (holds_until IS NULL OR holds_until > '2026-06-10')").Count(&holding).Error)
	assert.EqualValues(t, 1, holding)

	// Corners of one fence, an edit against undo.
	pads := ida.paddocks(base)
	ring := pads[0]["shape"].([]any)[0].([]any)[0].([]any)
	answers = p.atOnce(ida, 8, func(who person, i int) (int, map[string]any) {
		if i%4 == 3 {
			return who.call("POST", base+"/land/undo", nil)
		}
		at := ring[i%(len(ring)-1)].([]any)
		lon, lat := at[0].(float64), at[1].(float64)
		return who.call("POST", base+"/land/corner", map[string]any{"id": id(), "at": at, "to": []float64{lon + 0.00002*float64(i), lat + 0.00001*float64(i)}})
	})
	assert.GreaterOrEqual(t, kept(answers), 1)
	_, land = ida.call("GET", base+"/land", nil)
	sum = 0
	for _, pad := range ida.paddocks(base) {
		sum += pad["area_ha"].(float64)
	}
	assert.InEpsilon(t, land["fields"].([]any)[0].(map[string]any)["area_ha"].(float64), sum, 1e-6, "the paddocks still cover the field")
	p.open(ida, base)
}

func TestOwnersCannotPutEachOtherOut(t *testing.T) {
	p := startPair(t)
	ida, ola := p.house[0].member(t, "ida"), p.house[0].member(t, "ola")
	base := ida.farm("Skarn")
	for round := range 4 {
		if round == 0 {
			ida.invites(base, ola, "owner")
		} else {
			status, out := ida.call("POST", base+"/members", map[string]any{"email": "ola@example.org", "role": "owner"})
			if status != http.StatusOK {
				status, out = ola.call("POST", base+"/members", map[string]any{"email": "ida@example.org", "role": "owner"})
			}
			require.Equal(t, http.StatusOK, status, out)
		}
		p.atOnce(ida, 2, func(_ person, i int) (int, map[string]any) {
			who, other := p.at(0, ida), "ola@example.org"
			if i == 1 {
				who, other = p.at(1, ola), "ida@example.org"
			}
			return who.call("POST", base+"/members", map[string]any{"email": other, "role": "viewer"})
		})
		var owners int64
		require.NoError(t, p.house[0].service.Farm.DB.Model(&store.Member{}).Where("role = 'owner'").Count(&owners).Error)
		assert.EqualValues(t, 1, owners, "round %d", round)
	}
}

func TestWhatWaitsIsTakenOnce(t *testing.T) {
	p := startPair(t)
	ida := p.house[0].member(t, "ida")
	base := ida.farm("Skarn")
	ida.field(base, 9)
	status, device := ida.call("POST", base+"/devices", map[string]any{"id": id(), "name": "plate", "kind": "plate"})
	require.Equal(t, http.StatusOK, status, device)
	var readings []any
	for i := range 12 {
		readings = append(readings, map[string]any{"id": id(), "method": "plate", "value": 8 + float64(i%4), "taken_at": clockAt(-2 + float64(i)/60), "longitude": 9.002, "latitude": 61.001})
	}
	status, out := ida.call("POST", "/api/devices/readings", map[string]any{"readings": readings}, "Authorization", "Bearer "+fmt.Sprint(device["token"]))
	require.Equal(t, http.StatusOK, status, out)
	_, waiting := ida.call("GET", base+"/readings/waiting", nil)
	key := waiting["stops"].([]any)[0].(map[string]any)["key"]
	answers := p.atOnce(ida, 6, func(who person, _ int) (int, map[string]any) {
		return who.call("POST", base+"/readings/take", map[string]any{"keys": []any{key}})
	})
	assert.Equal(t, 1, kept(answers), "%v", answers)
	var rows int64
	require.NoError(t, p.house[0].service.Farm.DB.Model(&store.Measurement{}).Count(&rows).Error)
	assert.EqualValues(t, 1, rows)

	// Two corrections of one measurement.
	var first store.Measurement
	require.NoError(t, p.house[0].service.Farm.DB.First(&first).Error)
	answers = p.atOnce(ida, 6, func(who person, i int) (int, map[string]any) {
		return who.call("POST", base+"/measurements", map[string]any{"id": id(), "paddock_id": first.PaddockID, "method": "plain", "readings": []float64{2000 + float64(i)},
			"measured_at": clockAt(-1), "replaces_id": first.ID})
	})
	assert.Equal(t, 1, kept(answers), "%v", answers)
	// A correction that comes before what it corrects.
	late := id()
	status, out = ida.call("POST", base+"/measurements", map[string]any{"id": id(), "paddock_id": first.PaddockID, "method": "plain", "readings": []float64{2100}, "measured_at": clockAt(-0.5), "replaces_id": late})
	require.Equal(t, http.StatusOK, status, out)
	status, out = ida.call("POST", base+"/measurements", map[string]any{"id": late, "paddock_id": first.PaddockID, "method": "plain", "readings": []float64{5000}, "measured_at": clockAt(-0.5)})
	require.Equal(t, http.StatusOK, status, out)
	_, walk := ida.call("GET", base+"/walk", nil)
	assert.InDelta(t, 2100, walk["stops"].([]any)[0].(map[string]any)["last"].(map[string]any)["forage_mass_kg_dm_ha"], 1, "stands, the one it corrects does not")
	p.open(ida, base)
}

// An answer that was lost is asked for again: the record is the first one's, and nothing is done twice.
func TestTheSameAgainIsHarmless(t *testing.T) {
	p := startPair(t)
	ida := p.house[0].member(t, "ida")
	base := ida.farm("Skarn")
	field := ida.field(base, 9)
	pad := ida.paddocks(base)[0]
	for _, c := range []struct {
		what, method, path string
		body               any
	}{
		{"rename", "PUT", "/fields/" + field, map[string]any{"name": "Nedre"}},
		{"facts", "PUT", "/paddocks/" + pad["id"].(string), map[string]any{"name": "A", "sward_id": "ryegrass_white_clover", "growth_factor": 1, "closed_for": ""}},
		{"undo", "POST", "/land/undo", nil},
		{"redo", "POST", "/land/redo", nil},
		{"soil", "PUT", "/weather", map[string]any{"soil_mm": 85, "station": false}},
		{"removal", "DELETE", "/fields/" + field, nil},
	} {
		version := "1"
		if c.what == "facts" {
			version = fmt.Sprint(pad["version"])
		}
		key := id()
		var first string
		for i := range 4 {
			status, raw := p.at(i%2, ida).raw(c.method, base+c.path, c.body, "If-Match", version, "Idempotency-Key", key)
			require.Less(t, status, 300, "%s, time %d: %s", c.what, i+1, raw)
			if i == 0 {
				first = string(raw)
			}
			assert.Equal(t, first, string(raw), "%s", c.what)
		}
		status, out := ida.call(c.method, base+c.path, map[string]any{"name": "another"}, "If-Match", version, "Idempotency-Key", key)
		if c.body != nil {
			assert.GreaterOrEqual(t, status, 400, "%s: the same key for something else: %v", c.what, out)
		}
	}
	device := map[string]any{"id": id(), "name": "plate", "kind": "plate"}
	key := id()
	_, lost := ida.call("POST", base+"/devices", device, "Idempotency-Key", key)
	status, again := p.at(1, ida).call("POST", base+"/devices", device, "Idempotency-Key", key)
	require.Equal(t, http.StatusOK, status, again)
	send := func(token any) int {
		status, _ := ida.call("POST", "/api/devices/readings", map[string]any{"readings": []any{map[string]any{"id": id(), "method": "plate", "value": 8, "taken_at": clockAt(-1)}}},
			"Authorization", fmt.Sprint("Bearer ", token))
		return status
	}
	assert.Equal(t, http.StatusUnauthorized, send(lost["token"]), "the token nobody saw is dead")
	assert.Equal(t, http.StatusOK, send(again["token"]), "the one that came holds")
	p.open(ida, base)
}

func TestTwoMobsArePinnedApart(t *testing.T) {
	p := startPair(t)
	ida := p.house[0].member(t, "ida")
	base := ida.farm("Skarn")
	field := ida.field(base, 9)
	status, out := ida.divide(base, field, 4)
	require.Equal(t, http.StatusOK, status, out)
	first := ida.mob(base)
	second := id()
	status, out = ida.call("POST", base+"/mobs", with(cows, "id", second, "name", "Ewes", "letter", "E"))
	require.Equal(t, http.StatusOK, status, out)
	ida.plan(base, first, second)
	pad := ida.paddocks(base)[0]["id"]
	answers := p.atOnce(ida, 6, func(who person, i int) (int, map[string]any) {
		mob := []string{first, second}[i%2]
		return who.call("POST", base+"/pins", map[string]any{"id": id(), "mob_id": mob, "paddock_id": pad, "enter_at": "2026-06-12T06:00:00Z"})
	})
	mobs := map[string]bool{}
	var pins []store.Pin
	require.NoError(t, p.house[0].service.Farm.DB.Find(&pins).Error)
	for _, pin := range pins {
		mobs[pin.MobID] = true
	}
	assert.Len(t, mobs, 1, "one of the mobs has the paddock: %v", answers)
	p.open(ida, base)
}

func TestAPlaceReadBesideAWriteIsWhole(t *testing.T) {
	p := startPair(t)
	ida := p.house[0].member(t, "ida")
	base := ida.farm("Skarn")
	ida.field(base, 9)
	ida.mob(base)
	_, year := ida.call("GET", base+"/stock/year", nil)
	class := year["bands"].([]any)[0].(map[string]any)["group_id"]
	stop := make(chan struct{})
	var writers sync.WaitGroup
	writers.Go(func() {
		who := p.at(0, ida)
		for i := 0; ; i++ {
			select {
			case <-stop:
				return
			default:
			}
			into := map[string]any{"id": id(), "mob_id": "", "reference_id": "beef_store_growing", "name": fmt.Sprint("Bought ", i)}
			status, out := who.call("POST", base+"/stock/events", map[string]any{"id": id(), "kind": "purchase", "happened_on": "2026-06-10", "head": 3, "into_new": into})
			assert.Equal(t, http.StatusOK, status, out)
			status, out = who.call("POST", base+"/stock/events", map[string]any{"id": id(), "kind": "count", "happened_on": "2026-06-10", "head": 30 + i%3, "of_id": class})
			assert.Equal(t, http.StatusOK, status, out)
		}
	})
	for i := range 60 {
		for _, place := range []string{"/mobs", "/land", "/today"} {
			status, out := p.at(i%2, ida).call("GET", base+place, nil)
			require.Equal(t, http.StatusOK, status, "%s: %v", place, out)
			if place == "/land" {
				require.Len(t, out["paddocks"], 1)
			}
		}
	}
	close(stop)
	writers.Wait()
}

func TestAPageIsNotSentTwice(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base := ida.farm("Skarn")
	pad := func() string { return ida.paddocks(base)[0]["id"].(string) }
	ida.field(base, 9)
	get := func(place, have string) (int, string) {
		req, err := http.NewRequest("GET", h.url+base+place, nil)
		require.NoError(t, err)
		if have != "" {
			req.Header.Set("If-None-Match", have)
		}
		res, err := ida.client.Do(req)
		require.NoError(t, err)
		defer res.Body.Close()
		return res.StatusCode, res.Header.Get("ETag")
	}
	for _, place := range []string{"", "/today", "/ridge", "/land", "/walk", "/moves", "/plan", "/mobs", "/stock/year", "/growth", "/weather", "/readings/waiting", "/devices", "/land/export/kml"} {
		status, tag := get(place, "")
		require.Equal(t, http.StatusOK, status, place)
		require.NotEmpty(t, tag, place)
		status, again := get(place, tag)
		assert.Equal(t, http.StatusNotModified, status, place)
		assert.Equal(t, tag, again, place)
	}
	_, tag := get("/today", "")
	ida.measure(base, pad(), 2400, -1)
	status, fresh := get("/today", tag)
	assert.Equal(t, http.StatusOK, status, "something was written since")
	assert.NotEqual(t, tag, fresh)
	status, _ = get("/mobs?x=1", fresh)
	assert.Equal(t, http.StatusOK, status, "another page's tag is not this one's")
}

// Two people decide at once, in two processes: what does not fit together is written once, and taken back once.
func TestADecisionIsMadeAndTakenBackOnce(t *testing.T) {
	p := startPair(t)
	ida := p.house[0].member(t, "ida")
	base, mob := ida.planned(t)
	_, q := ida.call("GET", base+"/queue", nil)
	pad := q["rows"].([]any)[0].(map[string]any)["paddock_id"]
	head := ida.list(base + "/mobs")[0]["head"].(float64)
	one := id()
	same := p.atOnce(ida, 8, func(who person, _ int) (int, map[string]any) {
		return who.call("POST", base+"/queue/decisions", map[string]any{"id": one, "mob_id": mob, "levers": []map[string]any{{"kind": "close", "paddock_id": pad, "days": 30}}})
	})
	assert.Equal(t, 8, kept(same), "a repeat is answered with the first")
	_, seen := ida.call("GET", base+"/queue/decisions?mob_id="+mob, nil)
	assert.Len(t, seen["decisions"], 1)
	_, none := ida.call("GET", base+"/queue/decisions?mob_id="+id(), nil)
	assert.Empty(t, none["decisions"], "of another mob's queue")

	sold := p.atOnce(ida, 8, func(who person, _ int) (int, map[string]any) {
		return who.call("POST", base+"/queue/decisions", map[string]any{"id": id(), "mob_id": mob, "levers": []map[string]any{{"kind": "head", "mob_id": mob, "count": -(head*0.6 - 1), "after_days": 5}}})
	})
	assert.Equal(t, 1, kept(sold), "more than half go once")
	back := p.atOnce(ida, 8, func(who person, _ int) (int, map[string]any) {
		return who.call("DELETE", base+"/queue/decisions/"+one, nil)
	})
	assert.Equal(t, 1, kept(back))
	p.open(ida, base)
}

// Two people keep prices and scenarios at once, in two processes: a repeat counts once, and the list of scenarios ends where it ends.
func TestAScenarioAndAPriceAreKeptOnce(t *testing.T) {
	p := startPair(t)
	ida := p.house[0].member(t, "ida")
	base, _ := ida.planned(t)
	price := map[string]any{"id": id(), "item": "bought_hay", "from_day": "2026-01-01", "price": 900}
	same := p.atOnce(ida, 8, func(who person, _ int) (int, map[string]any) { return who.call("POST", base+"/year/prices", price) })
	assert.Equal(t, 8, kept(same), "a repeat is answered with the first: %v", same)
	_, prices := ida.call("GET", base+"/year/prices", nil)
	assert.Len(t, prices["prices"], 1)

	keep := func(who person, name, as string) (int, map[string]any) {
		return who.call("POST", base+"/year/scenarios", map[string]any{"id": as, "name": name, "reason": "", "options": []any{map[string]any{"input": "bought_hay", "month": 0, "tonnes": 5, "price": 900}}})
	}
	for i := range 28 {
		status, out := keep(ida, fmt.Sprint("Way ", i), id())
		require.Equal(t, http.StatusOK, status, out)
	}
	last := p.atOnce(ida, 8, func(who person, i int) (int, map[string]any) { return keep(who, fmt.Sprint("Last ", i), id()) })
	assert.Equal(t, 2, kept(last), "thirty are kept, and no more: %v", last)
	_, list := ida.call("GET", base+"/year/scenarios", nil)
	assert.Len(t, list["scenarios"], 31, "and doing nothing beside them")
	p.open(ida, base)
}
