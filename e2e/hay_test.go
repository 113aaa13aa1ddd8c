package e2e

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
)

// day sets the date field with this label.
func (b *browser) day(label, day string) {
	b.t.Helper()
	b.ask(fmt.Sprintf(`(() => { const f = [...document.querySelectorAll('input[type=date]')].find((f) => [...f.labels].some((l) => l.textContent.trim() === %q)); f.value = %q; f.dispatchEvent(new Event('input', {bubbles: true})); return '' })()`, label, day))
}

// A paddock is closed until a day, opened before it, and cut with bales that come into the store; nitrogen is written down.
func TestHayOnTheLand(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	farm := b.ask(`localStorage.getItem('fjell.farm')`)
	of := func(name string) string {
		return b.ask(fmt.Sprintf(`fetch('/api/farms/%s/land').then((r) => r.json()).then((l) => l.paddocks.find((p) => p.name === %q).id)`, farm, name))
	}
	b.ask(fmt.Sprintf(`(location.hash = '/f/%s/land?paddock=%s', '')`, farm, of("Nedre 2")))
	b.click("Close it up until a day")
	b.day("Open again on", "2026-06-01")
	b.click("Close it up")
	b.sees("Must be a day after the first")
	b.day("Open again on", "2026-07-20")
	b.fill("What for", "hay")
	b.picture("close")
	b.click("Close it up")
	b.sees("Out of the round: hay until 20 July")
	b.accessible("closed ground")
	b.click("Open it today")
	b.sees("Close it up until a day")
	b.click("Nitrogen was spread")
	b.fill("Nitrogen", "40")
	b.accessible("a dressing's form")
	b.click("Write it down")
	b.sees("Nitrogen on Nedre 2 is written down.")
	b.click("It was cut")
	b.fill("Bales brought home", "14")
	b.fill("One weighs", "240")
	b.fill("Dry matter of it", "85")
	b.accessible("a cut's form")
	b.picture("cut")
	b.click("Write the cut down")
	b.sees("Nedre 2 was cut, and is open again.")
	held := b.ask(fmt.Sprintf(`fetch('/api/farms/%s/fodder').then((r) => r.json()).then((f) => f.rows[0].kind + ' ' + f.rows[0].kg_dm + ' ' + (f.holds_kg_dm - f.rows[1].holds_kg_dm))`, farm))
	assert.Equal(t, "cut 2856 2856", held)
	b.undo()
	b.until("the cut is taken back", fmt.Sprintf(`fetch('/api/farms/%s/fodder').then((r) => r.json()).then((f) => (window.first = f.rows[0].kind)) && window.first === 'bought'`, farm))
}
