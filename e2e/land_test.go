package e2e

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// figure reads a figure of the shoulder by its label.
func (b *browser) figure(label string) string {
	b.t.Helper()
	script := fmt.Sprintf(`[...document.querySelectorAll('dt')].find((d) => d.textContent.trim() === %q)?.nextElementSibling.innerText.replace(/\u00a0/g, ' ')`, label)
	b.until("a figure "+label, script)
	return b.ask(script)
}

func (b *browser) divideField(name string) {
	b.t.Helper()
	b.click("Divide (D)")
	b.until("the field to choose", fmt.Sprintf(`[...document.querySelectorAll('aside option')].some((o) => o.textContent === %q)`, name))
	b.choose("Field", b.ask(fmt.Sprintf(`[...document.querySelectorAll('aside option')].find((o) => o.textContent === %q).value`, name)))
	b.sees("Paddocks")
}

func TestDividingEachWay(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.keys("2")
	b.sees("in 7 fields")
	b.divideField("Sørjordet")
	b.until("equal areas", `[...document.querySelectorAll('dt')].some((d) => d.textContent.trim() === 'Areas differ by' && d.nextElementSibling.innerText.startsWith('0.0'))`)
	time.Sleep(500 * time.Millisecond)
	b.do(chromedp.DragAndDropXY(536, 142, 640, 170))
	b.until("the hand to turn the fences", `Number(document.querySelector('#direction').value) > 10`)
	assert.NotEqual(t, "0.0 %", b.figure("Feed differs by"), "the thin soil makes equal areas unequal feed")
	b.click("Equal feed")
	b.until("equal feed", `[...document.querySelectorAll('dt')].some((d) => d.textContent.trim() === 'Feed differs by' && d.nextElementSibling.innerText.startsWith('0.0'))`)
	assert.NotEqual(t, "0.0 %", b.figure("Areas differ by"))
	b.sees("Least fence")
	before := b.figure("New fence")
	b.click("Show")
	b.until("less fence", fmt.Sprintf(`[...document.querySelectorAll('dt')].some((d) => d.textContent.trim() === 'New fence' && d.nextElementSibling.innerText.replace(/\u00a0/g, ' ') !== %q)`, before))

	// The handle on the map turns the fences.
	turned := b.ask(`[...document.querySelectorAll('label')].find((l) => l.textContent.includes('Fences run')).textContent`)
	b.click("Along the longest side")
	b.until("another direction", fmt.Sprintf(`[...document.querySelectorAll('label')].find((l) => l.textContent.includes('Fences run')).textContent !== %q`, turned))

	b.click("By size")
	b.fill("Size of a paddock", "3")
	b.until("four of three hectares and a rest", `[...document.querySelectorAll('dt')].some((d) => d.textContent.trim() === 'Paddocks' && d.nextElementSibling.innerText === '5')`)
	b.click("By days of feed")
	b.fill("Days for", "2")
	b.until("two days in the best", `[...document.querySelectorAll('dt')].some((d) => d.textContent.trim() === 'Days in the best' && d.nextElementSibling.innerText.replace(/\u00a0/g, ' ') === '2.0 days')`)
	b.click("Strips")
	b.fill("Width of a strip", "60")
	b.until("strips", `[...document.querySelectorAll('dt')].some((d) => d.textContent.trim() === 'Paddocks' && Number(d.nextElementSibling.innerText) > 5)`)
	b.click("Around water")
	b.until("cells around the water", `[...document.querySelectorAll('dt')].some((d) => d.textContent.trim() === 'Paddocks' && d.nextElementSibling.innerText === '4')`)
	assert.NotContains(t, b.ask(`document.querySelector('aside').innerText`), "not reach the water")
	b.click("Along a lane")
	b.sees("No lane runs through Sørjordet")

	// What cannot fit is refused with its sum.
	b.click("Equal area")
	b.click("For whom, and how long?")
	b.fill("Rest asked for", "90")
	b.sees("are needed")
	b.click("Use “")
	b.sees("of rest, not 90 days")
	b.fill("Rest asked for", " ")
	b.until("no wish for rest", `!document.querySelector('aside').innerText.includes('are needed')`)

	// Kept for later, compared, used, and taken back across a reload.
	b.fill("Name of this layout", "fours")
	b.click("Save for later")
	b.sees("is kept for Sørjordet")
	b.divideField("Sørjordet")
	b.click("Ways of dividing kept for Sørjordet")
	b.sees("winter strips")
	b.click("fours")
	b.click("Use it")
	b.sees("say in which of the new paddocks")
	b.choose("Cows and calves: in which?", b.ask(`[...document.querySelectorAll('option')].find((o) => o.textContent === 'Sørjordet 1').value`))
	b.click("Use it")
	b.sees("Sørjordet is “fours”")
	b.do(chromedp.Reload())
	b.sees("Ways of dividing kept for Sørjordet") // a reload stays where the hand was
	b.click("Look and choose")
	b.sees("in 7 fields, 23 paddocks")
	b.click("Undo on the land")
	b.sees("in 7 fields, 24 paddocks")
	b.click("Do it again on the land")
	b.sees("in 7 fields, 23 paddocks")
}

func TestFencesAreMovedSplitAndJoined(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.keys("2")
	b.sees("in 7 fields")
	b.keys("c")
	b.sees("Drag a corner")
	b.click("Take the chosen corner out")
	b.sees("Tap a corner first")
	areas := func() string {
		return b.ask(`fetch('/api/farms/' + location.hash.split('/')[2] + '/land').then((r) => r.json()).then((l) => l.paddocks.map((p) => p.area_ha.toFixed(4)).join(' '))`)
	}
	before := areas()
	b.keys("n")
	time.Sleep(300 * time.Millisecond)
	for range 3 {
		b.keys(kb.ArrowUp)
		b.sees("The corner moved, with every paddock that has it")
		time.Sleep(300 * time.Millisecond)
		b.keys("n")
	}
	// And one with the mouse: the chosen corner stands in the middle of the map.
	time.Sleep(900 * time.Millisecond)
	mid := strings.Fields(b.ask(`(() => { const r = document.querySelector('.farm-map').getBoundingClientRect(); return (r.x + r.width / 2) + ' ' + (r.y + r.height / 2) })()`))
	var x, y float64
	_, err := fmt.Sscan(mid[0]+" "+mid[1], &x, &y)
	require.NoError(t, err)
	moved := areas()
	b.do(chromedp.DragAndDropXY(x, y, x+14, y-10))
	b.until("the dragged corner kept", fmt.Sprintf(`(window.seen = window.seen ?? '', fetch('/api/farms/' + location.hash.split('/')[2] + '/land').then((r) => r.json()).then((l) => (window.seen = l.paddocks.map((p) => p.area_ha.toFixed(4)).join(' '))), window.seen && window.seen !== %q)`, moved))
	after := areas()
	assert.NotEqual(t, before, after)
	// A tap chooses a corner and moves nothing; a junction of fences is not taken out.
	b.click("See it all")
	time.Sleep(500 * time.Millisecond)
	b.keys("n")
	time.Sleep(600 * time.Millisecond)
	b.do(chromedp.MouseClickXY(x, y))
	time.Sleep(300 * time.Millisecond)
	assert.Equal(t, after, areas(), "a tap moves nothing")
	for range 4 {
		b.undo()
		time.Sleep(400 * time.Millisecond)
	}
	b.until("the corners back", fmt.Sprintf(`(window.seen = window.seen ?? '', fetch('/api/farms/' + location.hash.split('/')[2] + '/land').then((r) => r.json()).then((l) => (window.seen = l.paddocks.map((p) => p.area_ha.toFixed(4)).join(' '))), window.seen === %q)`, before))

	// A fence drawn with the mouse through the middle of Heia 1, far outside on both sides.
	b.keys("s")
	b.sees("Draw the new fence")
	b.click("See it all")
	time.Sleep(300 * time.Millisecond)
	b.choose("Paddock", b.ask(`[...document.querySelectorAll('aside option')].find((o) => o.textContent === 'Heia 1').value`))
	for _, at := range [][2]float64{{270, 255}, {520, 245}, {520, 245}} {
		b.do(chromedp.MouseClickXY(at[0], at[1]))
		time.Sleep(350 * time.Millisecond)
	}
	b.click("Split it")
	b.sees("Heia 1 is split")
	b.keys("j")
	b.choose("The paddock that stays", b.ask(`[...document.querySelectorAll('aside option')].find((o) => o.textContent === 'Heia 1').value`))
	b.choose("Joined to it", b.ask(`[...document.querySelectorAll('aside option')].find((o) => o.textContent === 'Heia 1 b').value`))
	b.click("Take the fence between them away")
	b.sees("Heia 1 b is joined to Heia 1")
	b.until("the area as before", fmt.Sprintf(`(window.seen = window.seen ?? '', fetch('/api/farms/' + location.hash.split('/')[2] + '/land').then((r) => r.json()).then((l) => (window.seen = l.paddocks.map((p) => p.area_ha.toFixed(2)).join(' '))), window.seen === %q)`, rounded(before)))
}

func rounded(areas string) string {
	var out []string
	for _, a := range strings.Fields(areas) {
		var v float64
		_, _ = fmt.Sscan(a, &v)
		out = append(out, fmt.Sprintf("%.2f", v))
	}
	return strings.Join(out, " ")
}

func TestThingsAndAWalkedFence(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.keys("2")
	b.sees("in 7 fields")
	b.ask(`([...document.querySelectorAll('aside button')].find((x) => x.textContent.includes('Nedre 1')).click(), '')`)
	b.keys("x")
	b.click("Water")
	b.click("Type the place instead")
	b.fill("Latitude longitude", "61.1372 9.2085")
	b.click("Use this place")
	b.fill("Name", "new trough")
	b.click("Put it on the map")
	b.sees("new trough is on the map")
	b.click("Delete new trough")
	b.sees("new trough taken off the map")

	// A click on the map chooses a paddock.
	b.click("Look and choose")
	b.click("See it all")
	time.Sleep(500 * time.Millisecond)
	b.do(chromedp.MouseClickXY(600, 270))
	b.until("Heia 2 in the shoulder", `document.querySelector('aside h2')?.innerText === 'Heia 2'`)

	b.keys("l")
	b.sees("Click along the way")
	for _, at := range [][2]float64{{300, 600}, {500, 600}, {500, 600}} {
		b.do(chromedp.MouseClickXY(at[0], at[1]))
		time.Sleep(350 * time.Millisecond)
	}
	b.until("a length", `/\d+\s?m/.test(document.querySelector('aside .figure').innerText)`)

	b.keys("f")
	b.click("Walk the fence")
	b.click("Try a simulated walk")
	b.sees("The receiver knows the place")
	b.sees("Poor fixes refused")
	b.fill("Name of the field", "Walked ground")
	b.click("Keep this field")
	b.sees("Walked ground is on the map")
	b.sees("in 8 fields")
}

func TestALandFileGoesOutAndComesBack(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.keys("2")
	b.sees("in 7 fields")
	raw := b.ask(`fetch('/api/farms/' + location.hash.split('/')[2] + '/land/export/kml').then((r) => r.text())`)
	require.Contains(t, raw, "Sørjordet 3")
	// A new farm takes what the old one gave: fields, paddocks and water.
	b.ask(`fetch('/api/farms', {method: 'POST', headers: {'Content-Type': 'application/json'}, body: JSON.stringify({id: crypto.randomUUID(), name: 'Again', place: '', time_zone: 'Europe/Oslo', units: 'metric', aims: [], experience: 'some', longitude: 9, latitude: 61})}).then((r) => r.json()).then((f) => { location.hash = '/f/' + f.id + '/land'; location.reload(); return '' })`)
	b.sees("Draw a field")
	b.click("Bring a file, take one along")
	b.bring("skarnvoll.kml", raw)
	b.sees("what becomes of them")
	set := func(match, as string) {
		b.ask(fmt.Sprintf(`(() => { for (const s of document.querySelectorAll('aside li select')) if (%s) { s.value = %q; s.dispatchEvent(new Event('change', {bubbles: true})) } return '' })()`, match, as))
	}
	set(`/ [1-5] becomes$/.test(s.ariaLabel)`, "paddock")
	set(`s.ariaLabel.startsWith('wood')`, "exclusion")
	set(`s.ariaLabel.startsWith('Tjern lane')`, "leave")
	set(`/(trough|spring|tap|beck|shore|tarn) becomes$/.test(s.ariaLabel)`, "water")
	b.click("Bring in")
	b.sees("of skarnvoll.kml brought in")
	b.sees("in 7 fields, ")
	count := b.ask(`fetch('/api/farms/' + location.hash.split('/')[2] + '/land').then((r) => r.json()).then((l) => [l.fields.length, l.paddocks.filter((p) => / [1-5]$/.test(p.name)).length, l.marks.length, l.total.value.toFixed(1)].join(' '))`)
	assert.Equal(t, "7 24 8 63.9", count)
	b.undo()
	b.sees("Draw a field") // an empty farm has the pencil in hand
	assert.Equal(t, "0", b.ask(`fetch('/api/farms/' + location.hash.split('/')[2] + '/land').then((r) => r.json()).then((l) => String(l.fields.length))`))
}

func TestFactsOfManyPaddocks(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.keys("2")
	b.sees("in 7 fields")
	b.keys("t")
	b.sees("Facts of 24 paddocks")
	b.ask(`(() => { const i = document.querySelector('[data-cell="0 notes"]'); i.focus(); return '' })()`)
	b.do(chromedp.KeyEvent("springs in the north"))
	b.keys(kb.Tab)
	b.ask(`(() => { document.querySelector('[data-cell="0 notes"]').focus(); return '' })()`)
	b.ask(`(document.querySelector('[aria-label="Choose Bekkelia 1"]').click(), '')`)
	b.ask(`(() => { const c = document.querySelectorAll('tbody input[type=checkbox]'); c[3].dispatchEvent(new MouseEvent('click', {bubbles: true, shiftKey: true})); document.querySelector('[data-cell="0 notes"]').focus(); document.activeElement.dispatchEvent(new KeyboardEvent('keydown', {key: 'd', ctrlKey: true, bubbles: true})); return '' })()`)
	b.click("Save 4")
	b.sees("4 paddocks saved")
	saved := b.ask(`fetch('/api/farms/' + location.hash.split('/')[2] + '/land').then((r) => r.json()).then((l) => String(l.paddocks.filter((p) => p.notes === 'springs in the north').length))`)
	assert.Equal(t, "4", saved)
	b.undo()
	b.sees("Taken back")
}
