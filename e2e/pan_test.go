package e2e

import (
	"encoding/json"
	"fmt"
	"testing"
	"time"

	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"
)

// BenchmarkPan400Paddocks drags a map of 400 paddocks about with the mouse and reports how long its frames take. The
// browser is headless and draws without a graphics card.
func BenchmarkPan400Paddocks(b *testing.B) {
	p := start(b, demoDatabase(b), "demo", "")
	tab := open(b, 1280, 800)
	tab.visit(p.url)
	tab.click("Open Skarnvoll")
	tab.sees("Needs minding")
	tab.ask(`(async () => {
		const id = () => crypto.randomUUID()
		const post = (path, body) => fetch(path, {method: 'POST', headers: {'Content-Type': 'application/json'}, body: JSON.stringify(body)}).then((r) => { if (!r.ok) throw new Error(path); return r.json() })
		const farm = await post('/api/farms', {id: id(), name: 'Wide', place: '', time_zone: 'Europe/Oslo', units: 'metric', aims: [], experience: 'some', longitude: 9, latitude: 61})
		for (let i = 0; i < 20; i++) {
			const [x, y] = [9 + 0.02 * (i % 5), 61 + 0.006 * Math.floor(i / 5)]
			const ring = [[x, y], [x + 0.018, y], [x + 0.0185, y + 0.005], [x + 0.009, y + 0.0055], [x, y + 0.005], [x, y]]
			const field = id()
			await post('/api/farms/' + farm.id + '/fields', {id: field, name: 'Field ' + (i + 1), sward_id: 'ryegrass_white_clover', shape: [[ring]]})
			await post('/api/farms/' + farm.id + '/fields/' + field + '/layouts', {id: id(), name: 'summer', names: [], parts: 20, direction_degrees: 10})
		}
		location.hash = '/f/' + farm.id + '/land'
		location.reload()
		return ''
	})()`)
	tab.sees("in 20 fields, 400 paddocks")
	time.Sleep(time.Second)
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
	fmt.Println(len(frames), "frames")
}
