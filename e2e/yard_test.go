package e2e

import (
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

// A move day without a signal, from the evening list to the look back: what is to be done, what was seen, given and moved is held, the phone
// loaded anew twice in between; once the signal is back each is with the farm, once.
func TestAMoveDayWithoutASignal(t *testing.T) {
	b, s := onTheDemoFarmFarOut(t, 390, 844)
	b.ask(`navigator.serviceWorker.ready.then(() => 'ready')`)
	b.do(chromedp.Reload())
	b.sees("Stay or move?")
	b.until("what the field needs to be kept", `Promise.all([caches.open('core').then((c) => c.keys()), caches.open('field').then((c) => c.keys())]).then(([core, field]) => (globalThis.fieldKept = core.length && ['/jobs', '/looks', '/treatments', '/land'].every((p) => field.some((k) => k.url.endsWith(p))))) && globalThis.fieldKept`)
	s.off()
	b.do(chromedp.Reload())
	b.sees("Stay or move?")

	// The evening before: a strand is broken on the next paddock's fence.
	b.click("Go through the gate")
	b.sees("In this order")
	b.click("Note a fault on the fence or the water")
	b.click("Broken strand")
	b.accessible("something to be done")
	b.click("Keep it")
	b.sees("To do: Broken strand: held here, safe")
	b.click("Moved")
	b.sees("Cows and calves to Sørjordet 5, today 07:30: held here, safe")
	b.until("the sheet gone", `!document.querySelector("dialog[open]")`)
	b.do(chromedp.Reload())

	// While they graze: a look, and a drench.
	b.sees("2 things are held here, safe, and will go by themselves.")
	b.sees("To do: Broken strand: held here, safe")
	b.click("Look")
	b.sees("Bellies")
	b.click("bawling")
	b.click("they saw me come")
	b.sees("Mood: hungry, trained, or greeting you: what prompted it tells.")
	b.accessible("a look")
	b.click("Keep this look")
	b.sees("held here, safe. It goes to the farm by itself.")
	b.click("Treat")
	b.fill("Product", "Drench A")
	b.fill("Withholds for", "14")
	b.sees("until Wed 24 June")
	b.accessible("a treatment")
	b.click("Keep it")
	b.sees("Drench A: Cows and calves: held here, safe")
	b.click("Close")
	b.until("the sheet gone", `!document.querySelector("dialog[open]") && !location.hash.includes("given")`)
	b.do(chromedp.Reload())
	b.sees("4 things are held here, safe")

	s.on()
	b.until("nothing held", `!document.body.innerText.includes('held here') && document.body.innerText.includes('Withheld until')`)
	b.sees("Last looks")
	b.sees("Broken strand")
	count := func(path, of string) string {
		return b.ask(`fetch('/api/farms/' + localStorage.getItem('fjell.farm') + '` + path + `').then((r) => r.json()).then((v) => String(` + of + `))`)
	}
	assert.Equal(t, "1", count("/looks", "v.looks.filter((l) => l.answers.mood === 'bawling').length"))
	assert.Equal(t, "1", count("/jobs", "v.open.filter((j) => j.what === 'Broken strand').length"))
	assert.Equal(t, "1", count("/treatments", "v.length"))

	// Done with a signal, and taken back: it is to be done again.
	b.click("Done: Broken strand")
	b.until("it is no longer to be done", `![...document.querySelectorAll('button')].some((e) => e.getAttribute('aria-label') === 'Done: Broken strand')`)
	b.sees("Done: Broken strand.")
	b.undo()
	b.until("it is there again", `[...document.querySelectorAll('button')].some((e) => e.getAttribute('aria-label') === 'Done: Broken strand')`)
}

// Half a mob is split off on the way without a signal and is there once it is back; taken back, all stand together again.
func TestHalfAMobIsSplitOffOnTheWay(t *testing.T) {
	b, s := onTheDemoFarmFarOut(t, 390, 844)
	b.ask(`navigator.serviceWorker.ready.then(() => 'ready')`)
	b.do(chromedp.Reload())
	b.sees("Stay or move?")
	b.until("what the field needs to be kept", `Promise.all([caches.open('core').then((c) => c.keys()), caches.open('field').then((c) => c.keys())]).then(([core, field]) => (globalThis.fieldKept = core.length && ['/mobs', '/land'].every((p) => field.some((k) => k.url.endsWith(p))))) && globalThis.fieldKept`)
	s.off()
	b.do(chromedp.Reload())
	b.sees("Stay or move?")
	b.sees("To do")
	b.click("Split or join")
	b.sees("Some go their own way")
	b.click("Half of each")
	b.sees("50 go, 50 stay.")
	b.choose("They go to", b.ask(`[...document.querySelectorAll('dialog[open] option')].find((o) => o.textContent === 'Tjern 2').value`))
	b.accessible("splitting a mob")
	b.click("Split them")
	b.sees("50 to Tjern 2 as Cows and calves, part: held here, safe")
	s.on()
	b.sees("Tjern 2 is not ground of Cows and calves: do they go there all the same?")
	b.click("Yes, it is so")
	b.until("the new mob", `[...document.querySelectorAll('article h2')].some((h) => h.innerText === 'Cows and calves, part')`)
	b.until("nothing held", `!document.body.innerText.includes('held here')`)
	assert.Equal(t, "26 + 24,26 + 24", b.ask(`[...document.querySelectorAll('article')].filter((a) => a.ariaLabel.startsWith('Cows')).map((a) => a.querySelector('header span[title]').innerText).join(',')`))
	b.undo()
	b.until("all of them together", `![...document.querySelectorAll('article h2')].some((h) => h.innerText === 'Cows and calves, part')`)
	b.sees("52 + 48")
}
