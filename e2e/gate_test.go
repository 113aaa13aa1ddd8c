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
	b.sees("1 thing is held here, the oldest since today 07:30")
	b.do(chromedp.Reload())
	b.sees("at the gate: Move to Sørjordet 5")
	s.on()
	b.sees("done otherwise than said: guests on Friday")
	b.until("nothing held", `!document.body.innerText.includes('held here')`)
	assert.Equal(t, "1", b.ask(`fetch('/api/farms/' + localStorage.getItem('fjell.farm') + '/walk').then((r) => r.json()).then((w) => String(w.stops.filter((s) => s.measured_today && s.name === 'Sørjordet 1').length))`))
}
