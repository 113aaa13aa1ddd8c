package e2e

import (
	"context"
	"encoding/json"
	"fmt"
	"sort"
	"strconv"
	"testing"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"
)

// wide opens the land of a farm of 400 paddocks.
func wide(b *testing.B) *browser {
	p := start(b, demoDatabase(b), "demo", "")
	tab := open(b, 1280, 800)
	tab.visit(p.url)
	tab.click("Open Skarnvoll")
	tab.sees("Needs minding")
	tab.ask(`(async () => {
		const id = () => crypto.randomUUID()
		const post = (path, body) => fetch(path, {method: 'POST', headers: {'Content-Type': 'application/json'}, body: JSON.stringify(body)}).then((r) => { if (!r.ok) return r.text().then((t) => { throw new Error(path + t) }); return r.json() })
		const farm = await post('/api/farms', {id: id(), name: 'Wide', place: '', time_zone: 'Europe/Oslo', units: 'metric', aims: [], experience: 'some', longitude: 9, latitude: 61})
		const base = '/api/farms/' + farm.id
		for (let i = 0; i < 20; i++) {
			const [x, y] = [9 + 0.02 * (i % 5), 61 + 0.006 * Math.floor(i / 5)]
			const ring = [[x, y], [x + 0.018, y], [x + 0.0185, y + 0.005], [x + 0.009, y + 0.0055], [x, y + 0.005], [x, y]]
			const field = id()
			await post(base + '/fields', {id: field, name: 'Field ' + (i + 1), sward_id: 'ryegrass_white_clover', shape: [[ring]]})
			await post(base + '/fields/' + field + '/layouts', {id: id(), name: 'summer', names: [], parts: 20, direction_degrees: 10})
		}
		const mobs = []
		for (let i = 0; i < 4; i++) {
			mobs.push(id())
			await post(base + '/mobs', {id: mobs[i], name: 'Mob ' + i, letter: 'ABCD'[i], glyph: 'circle', field_ids: [], classes: [{id: id(), reference_id: 'beef_cow_lactating', name: 'Cows', count: 120, live_weight_kg: 620, intake_share: 0.023, daily_gain_kg: 0}]})
		}
		const school = (await (await fetch(base + '/plan')).json()).schools[0]
		await post(base + '/plan', {id: id(), starts_on: '2026-06-10', plan_days: 28, mobs: mobs.map((m) => ({mob_id: m, school}))})
		location.hash = '/f/' + farm.id + '/land'
		location.reload()
		return ''
	})()`)
	tab.sees("in 20 fields, 400 paddocks")
	time.Sleep(time.Second)
	return tab
}

// BenchmarkOpen400Paddocks opens the places that show every paddock, and turns the wheel on the map: how long until each
// place shows its rows, and the longest task while the wheel turns.
func BenchmarkOpen400Paddocks(b *testing.B) {
	tab := wide(b)
	opening := map[string][2]string{
		"facts": {"Table of facts (T)", `document.querySelectorAll('[aria-label="Facts of the paddocks"] tbody tr').length > 10`},
		"moves": {"Moves", `document.querySelectorAll('g[data-visit]').length > 3`},
		"walk":  {"Walk", `document.querySelectorAll('main ol li').length > 100`},
	}
	sums := map[string]float64{}
	rounds := 0
	for b.Loop() {
		rounds++
		for name, open := range opening {
			tab.click("Land")
			tab.sees("in 20 fields")
			time.Sleep(500 * time.Millisecond)
			ms, err := strconv.ParseFloat(tab.ask(fmt.Sprintf(`(async () => {
				const began = performance.now()
				;%s.click()
				while (!(%s)) await new Promise((r) => requestAnimationFrame(r))
				await new Promise((r) => requestAnimationFrame(() => requestAnimationFrame(r)))
				return String(performance.now() - began)
			})()`, finder(open[0]), open[1])), 64)
			require.NoError(b, err)
			sums[name] += ms
			if name == "facts" {
				tab.click("Look and choose")
			}
		}
	}
	for name, ms := range sums {
		b.ReportMetric(ms/float64(rounds), name+"-ms")
	}
	tab.click("Land")
	tab.sees("in 20 fields")
	time.Sleep(time.Second)
	tab.ask(`(window.longest = 0, new PerformanceObserver((l) => l.getEntries().forEach((e) => (window.longest = Math.max(window.longest, e.duration)))).observe({type: 'longtask'}), '')`)
	for i := range 40 {
		way := 120.0
		if i%2 == 0 {
			way = -120
		}
		tab.do(chromedp.MouseEvent(input.DispatchMouseEventTypeMouseWheel, 500, 400, func(p *input.DispatchMouseEventParams) { p.DeltaX, p.DeltaY = 0.001, way }))
		time.Sleep(40 * time.Millisecond)
	}
	longest, err := strconv.ParseFloat(tab.ask(`String(window.longest)`), 64)
	require.NoError(b, err)
	b.ReportMetric(longest, "wheel-longest-task-ms")
	b.ReportMetric(0, "ns/op")
}

// slow makes the page's processor so many times slower.
func (b *browser) slow(times float64) {
	b.t.Helper()
	b.do(chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		_, err := cdp.Call(ctx, t, emulation.SetCPUThrottlingRate, emulation.SetCPUThrottlingRateParams{Rate: times})
		return err
	}))
}

// BenchmarkTurnADivision turns the fences of a division, a little every frame, with the processor slowed four times: how
// long the frames take, and how often a second the server is asked.
func BenchmarkTurnADivision(b *testing.B) {
	p := start(b, demoDatabase(b), "demo", "")
	tab := open(b, 1280, 800)
	tab.visit(p.url)
	tab.click("Open Skarnvoll")
	tab.sees("Needs minding")
	tab.keys("d")
	tab.sees("Fences run")
	time.Sleep(2 * time.Second)
	tab.slow(4)
	var frames []float64
	asked, seconds := 0.0, 0.0
	for b.Loop() {
		var run struct {
			Times   []float64 `json:"times"`
			Asked   float64   `json:"asked"`
			Seconds float64   `json:"seconds"`
		}
		require.NoError(b, json.Unmarshal([]byte(tab.ask(`(async () => {
			const slider = document.getElementById('direction'), times = [], before = performance.getEntriesByType('resource').filter((e) => e.name.endsWith('/divide')).length
			let last = performance.now(); const began = last
			for (let i = 0; i < 150; i++) {
				slider.value = String((i * 0.5) % 179)
				slider.dispatchEvent(new Event('input', { bubbles: true }))
				await new Promise((r) => requestAnimationFrame(r))
				times.push(performance.now() - last)
				last = performance.now()
			}
			return JSON.stringify({ times, asked: performance.getEntriesByType('resource').filter((e) => e.name.endsWith('/divide')).length - before, seconds: (last - began) / 1000 })
		})()`)), &run))
		frames = append(frames, run.Times...)
		asked, seconds = asked+run.Asked, seconds+run.Seconds
	}
	sort.Float64s(frames)
	b.ReportMetric(frames[len(frames)/2], "p50-ms/frame")
	b.ReportMetric(frames[len(frames)*95/100], "p95-ms/frame")
	b.ReportMetric(asked/seconds, "asked/s")
	b.ReportMetric(0, "ns/op")
}

// BenchmarkPan400Paddocks drags a map of 400 paddocks about with the mouse and reports how long its frames take, as it is
// and with the processor slowed four times. The browser is headless and draws without a graphics card.
func BenchmarkPan400Paddocks(b *testing.B) {
	for _, slowed := range []float64{1, 4} {
		b.Run(fmt.Sprintf("slowed=%.0f", slowed), func(b *testing.B) { pan(b, slowed) })
	}
}

func pan(b *testing.B, slowed float64) {
	tab := wide(b)
	tab.slow(slowed)
	tab.ask(`(window.times = [], window.last = performance.now(), requestAnimationFrame(function frame(now) { window.times.push(now - window.last); window.last = now; if (window.times) requestAnimationFrame(frame) }), '')`)
	for b.Loop() {
		for _, way := range [][4]float64{{400, 400, 700, 500}, {700, 500, 350, 350}, {350, 350, 600, 650}, {600, 650, 400, 400}} {
			tab.do(chromedp.MouseEvent(chromedp.MousePressed, way[0], way[1], chromedp.ButtonType(input.MouseButtonLeft)))
			for i := 1; i <= 40; i++ {
				k := float64(i) / 40
				tab.do(chromedp.MouseEvent(chromedp.MouseMoved, way[0]+k*(way[2]-way[0]), way[1]+k*(way[3]-way[1]), chromedp.ButtonType(input.MouseButtonLeft)))
			}
			tab.do(chromedp.MouseEvent(chromedp.MouseReleased, way[2], way[3], chromedp.ButtonType(input.MouseButtonLeft)))
		}
	}
	var frames []float64
	require.NoError(b, json.Unmarshal([]byte(tab.ask(`JSON.stringify(window.times.slice(1).sort((a, b) => a - b))`)), &frames))
	require.NotEmpty(b, frames)
	b.ReportMetric(frames[len(frames)/2], "p50-ms/frame")
	b.ReportMetric(frames[len(frames)*95/100], "p95-ms/frame")
	b.ReportMetric(0, "ns/op")
}

// BenchmarkTodayFromColdWithoutASignal loads Today anew with the listener closed and the processor slowed four times, and reports how long after the
// load began a person can go through the gate.
func BenchmarkTodayFromColdWithoutASignal(b *testing.B) {
	p := start(b, demoDatabase(b), "demo", "")
	s := newSignal(b, p.url)
	tab := open(b, 390, 844)
	tab.visit("http://" + s.address)
	tab.click("Open Skarnvoll")
	tab.sees("Stay or move?")
	tab.ask(`navigator.serviceWorker.ready.then(() => 'ready')`)
	tab.do(chromedp.Reload())
	tab.sees("Stay or move?")
	tab.until("what the field needs to be kept", `Promise.all([caches.open('core').then((c) => c.keys()), caches.open('field').then((c) => c.keys())]).then(([core, field]) => (globalThis.fieldKept = core.length && ['/jobs', '/looks', '/today', '/land', '/moves', '/mobs'].every((p) => field.some((k) => k.url.endsWith(p))))) && globalThis.fieldKept`)
	s.off()
	tab.slow(4)
	sum, rounds := 0.0, 0
	for b.Loop() {
		tab.do(chromedp.Reload())
		ms, err := strconv.ParseFloat(tab.ask(`(async () => {
			const there = () => [...document.querySelectorAll('button')].find((e) => e.textContent.trim() === 'Go through the gate')
			while (!there()) await new Promise((r) => requestAnimationFrame(r))
			await new Promise((r) => requestAnimationFrame(r))
			return String(performance.now())
		})()`), 64)
		require.NoError(b, err)
		sum += ms
		rounds++
	}
	b.ReportMetric(sum/float64(rounds), "ms-to-the-gate")
	b.ReportMetric(0, "ns/op")
}
