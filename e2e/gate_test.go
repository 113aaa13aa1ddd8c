package e2e

import (
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

// At a gate without a signal: one figure is answered, what was decided against it is held with its reason, and is kept once when the
// signal is back.
func TestStayOrMoveWithoutASignal(t *testing.T) {
	b, s := onTheDemoFarmFarOut(t, 390, 844)
	b.until("the pages kept here", `navigator.serviceWorker.ready.then(() => true)`)
	b.do(chromedp.Reload())
	b.sees("Stay or move?")
	b.accessible("today")
	b.until("what the field needs to be kept", `Promise.all([caches.open('core').then((c) => c.keys()), caches.open('field').then((c) => c.keys())]).then(([core, field]) => (globalThis.fieldKept = core.length && field.some((k) => k.url.endsWith('/today')))) && globalThis.fieldKept`)
	s.off()
	b.do(chromedp.Reload())
	b.sees("Stay or move?")
	b.click("Stay or move?")
	b.sees("One figure, read where")
	b.fill("Height of leaf", "9")
	b.sees("Stay until Fri 12 June, evening")
	b.sees("What is left here is as good as what waits")
	b.accessible("stay or move")
	b.fill("Height of leaf", "4")
	b.sees("Move to Sørjordet 5")
	b.ask(`(document.querySelector("input[name=by][value=mass]").click(), "")`)
	b.fill("What stands", "2150")
	b.sees("Stay until Fri 12 June, evening")
	b.click("Do this instead")
	b.click("Keep it with the reason")
	b.sees("Say why you do other")
	b.fill("Why", "guests on Friday")
	b.click("Keep it with the reason")
	b.sees("held here, safe")
	b.sees("1 thing is held here, safe, and will go by itself. The oldest since today 07:30.")
	b.do(chromedp.Reload())
	b.sees("at the gate: Move to Sørjordet 5")
	s.on()
	b.sees("done otherwise than said: guests on Friday")
	b.until("nothing held", `!document.body.innerText.includes('held here')`)
	assert.Equal(t, "1", b.ask(`fetch('/api/farms/' + localStorage.getItem('fjell.farm') + '/walk').then((r) => r.json()).then((w) => String(w.stops.filter((s) => s.measured_today && s.name === 'Sørjordet 1').length))`))
}

// A move by the list, without a signal, the phone reloaded in between: volts and a count are kept with it, the count that is not the books' is
// asked about, and is put right in one place.
func TestThroughTheGateByTheListWithoutASignal(t *testing.T) {
	b, s := onTheDemoFarmFarOut(t, 390, 844)
	b.ask(`navigator.serviceWorker.ready.then(() => 'ready')`)
	b.do(chromedp.Reload())
	b.sees("Stay or move?")
	b.until("what the field needs to be kept", `Promise.all([caches.open('core').then((c) => c.keys()), caches.open('field').then((c) => c.keys())]).then(([core, field]) => (globalThis.fieldKept = core.length && field.some((k) => k.url.endsWith('/land')))) && globalThis.fieldKept`)
	s.off()
	b.do(chromedp.Reload())
	b.sees("Stay or move?")
	b.click("Go through the gate")
	b.sees("In this order")
	b.click("The evening before")
	b.sees("Walk the next fence, switched off")
	b.fill("Far end", "2.1")
	b.sees("is the least that holds them: find the fault")
	b.accessible("the gate")
	b.fill("Far end", "4.2")
	b.fill("Counted", "98")
	b.sees("98 head counted, 100 head in the books")
	b.do(chromedp.Reload()) // the phone was put away; what was typed is still there
	b.sees("98 head counted, 100 head in the books")
	b.fill("Height left, leaf", "5")
	b.sees("are left")
	b.sees("foretold when they came")
	b.fill("Height left, leaf", "8")
	b.click("Moved")
	b.sees("held here, safe")
	b.do(chromedp.Reload())
	b.sees("held here, safe")
	s.on()
	b.sees("98 head counted, 100 head in the books: 2 head missing")
	b.until("nothing held", `!document.body.innerText.includes('held here')`)
	b.ask(`([...document.querySelectorAll("a")].find((a) => a.textContent.includes("counted")).click(), "")`)
	b.sees("put a move right")
	b.accessible("putting a move right")
	b.fill("Counted", "100")
	b.click("Put it right")
	b.sees("Cows and calves, put right")
	b.until("nobody missing", `!document.body.innerText.includes('head missing')`)
	assert.Equal(t, "1", b.ask(`fetch('/api/farms/' + localStorage.getItem('fjell.farm') + '/moves').then((r) => r.json()).then((l) => String(l.filter((m) => m.counted === 100 && m.end_kv === 4.2 && m.height_left_cm === 8).length))`), "kept once, with all that was written")

	// The farm's own list.
	b.click("Go through the gate")
	b.sees("In this order")
	b.click("Make this list ours")
	b.fill("One more step", "Shut the dog in")
	b.click("Add it")
	b.sees("Added to the list.")
	b.until("the step in the list", `[...document.querySelectorAll('li label')].some((l) => l.innerText.includes('Shut the dog in'))`)
	b.accessible("the list of the farm's own")
}

// What speaks is each person's choice; what is quiet is counted, and comes at a press.
func TestWhatNeedsMindingSpeaksAsOneWants(t *testing.T) {
	b := onTheDemoFarm(t, 390, 844)
	b.sees("5 things need minding, Heia 2 first")
	b.click("What speaks here")
	b.sees("Volts of the fence")
	b.ask(`(() => { const l = [...document.querySelectorAll('label')].find((l) => l.innerText === 'What the plan runs into'); const s = document.getElementById(l.htmlFor); s.value = 'quiet'; s.dispatchEvent(new Event('change', {bubbles: true})); return '' })()`)
	b.sees("Kept, for you alone.")
	b.sees("One thing more, of kinds you keep quiet")
	b.accessible("what speaks")
	b.undo()
	b.sees("Taken back")
	b.until("it speaks again", `!document.body.innerText.includes('of kinds you keep quiet')`)
}
