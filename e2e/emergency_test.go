package e2e

import (
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

// keptForTheField holds once a page has been open and idle for some seconds: the last of what is kept is there.
const keptForTheField = `caches.open('field').then((c) => c.keys()).then((k) => (globalThis.keptPaths = k.map((r) => r.url).join(' '))) && (globalThis.keptPaths ?? '').includes('/demand')`

// The emergency card is written once, and opens in one touch: without a signal, from a cold start, and, where the farm allows it, on a phone that
// nobody is signed in on.
func TestTheEmergencyCardOpensWithoutASignal(t *testing.T) {
	b, s := onTheDemoFarmFarOut(t, 390, 844)
	b.ask(`navigator.serviceWorker.ready.then(() => 'ready')`)
	b.do(chromedp.Reload())
	b.sees("Stay or move?")
	b.click("Help")
	b.sees("Where to send them")
	b.click("Write it")
	b.sees("Whom to call, the first first")
	b.ask(`(() => { const put = (label, i, v) => { const l = [...document.querySelectorAll('form label')].filter((x) => x.textContent.trim() === label)[i]; const f = document.getElementById(l.htmlFor); f.value = v; f.dispatchEvent(new Event('input', {bubbles: true})) }
		put('Telephone', 0, 'call Ida'); return '' })()`)
	b.click("Keep")
	b.sees("Must be a telephone number")
	b.fill("Telephone", "000 12 345")
	b.fill("What to shut first", "The blue valve in the barn")
	b.ask(`([...document.querySelectorAll('label')].find((l) => l.innerText.includes('signed out too')).querySelector('input').click(), '')`)
	b.accessible("writing the emergency card")
	b.click("Keep")
	b.sees("The card is kept, on every phone of the farm")
	b.until("a number to press", `document.querySelector('a[href="tel:00012345"]')`)
	b.accessible("the emergency card")
	b.do(chromedp.Reload()) // what is kept for the field is kept with the card
	b.sees("The blue valve in the barn")
	b.until("the card to be kept", `caches.open('field').then((c) => c.match('/api/me')).then((r) => r?.text()).then((x) => (globalThis.keptCard = x ?? '')) && (globalThis.keptCard ?? '').includes('blue valve')`)
	b.until("what the field needs to be kept", keptForTheField)

	s.off()
	b.click("Today")
	b.sees("Stay or move?")
	b.do(chromedp.Navigate("about:blank"))
	b.do(chromedp.Navigate("http://" + s.address + "/#/"))
	b.sees("Stay or move?")
	b.click("Help")
	b.sees("000 12 345")
	b.sees("The blue valve in the barn")

	// Signed out without a signal, the card stays with the phone: the farm allows it.
	b.click("More")
	b.click("Skarnvoll")
	b.sees("Sign out")
	b.click("Sign out")
	b.sees("Emergency card")
	b.click("Emergency card")
	b.sees("The blue valve in the barn")
	assert.Contains(t, b.ask(`document.body.innerText`), "000 12 345")
	s.on()
	b.click("Back")
	b.click("Open Skarnvoll")
	b.sees("Stay or move?")
	b.click("Help")
	b.click("Write it")
	b.ask(`([...document.querySelectorAll('label')].find((l) => l.innerText.includes('signed out too')).querySelector('input').click(), '')`)
	b.click("Keep")
	b.sees("The card is kept, on every phone of the farm")
	b.until("the card to go from the phone", `localStorage.getItem('fjell.emergency') === null`)
}
