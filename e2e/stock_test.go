package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// peg is a script for the peg with these words.
func peg(words string) string {
	return fmt.Sprintf(`[...document.querySelectorAll('[data-peg]')].find((g) => g.getAttribute('aria-label').includes(%q))`, words)
}

func TestTheYearOfTheStock(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.keys("3")
	b.sees("Does the land carry them?")
	b.sees("Suckler cows 742")

	// A planned peg is dragged with the mouse, and the bands follow; undo puts it back.
	sale := "Sold: 80 Weaned lambs"
	before := b.ask(peg(sale) + `.getAttribute('aria-label')`)
	b.drag(peg(sale)+`.querySelector('polygon')`, -60, 0)
	b.sees(sale + ": now planned for ")
	b.until("the peg to have moved", peg(sale)+`.getAttribute('aria-label') !== `+fmt.Sprintf("%q", before))
	b.undo()
	b.until("the peg to be back", peg(sale)+`.getAttribute('aria-label') === `+fmt.Sprintf("%q", before))

	// With the keys it goes a week earlier; before the lambs are weaned there are none to sell.
	b.ask(`(` + peg(sale) + `.focus(), '')`)
	for range 6 {
		b.ask(`(` + peg(sale) + `.dispatchEvent(new KeyboardEvent('keydown', {key: 'ArrowLeft', shiftKey: true, bubbles: true})), '')`)
	}
	b.keys(kb.Enter)
	b.sees("There are only 0 Weaned lambs on 1 August 2026")

	// What was planned happens, on another day and with another number; both are kept.
	b.ask(`(` + peg("Mating") + `.focus(), '')`)
	b.keys(kb.Enter)
	b.until("what was planned", `[...document.querySelectorAll('input')].some((i) => i.value === 'bulls in for nine weeks')`)
	b.click("Leave it")
	b.click("New event")
	b.choose("What", "death")
	b.click("It happened")
	b.choose("Died of", b.ask(`[...document.querySelectorAll('option')].find((o) => o.textContent === 'Lambs').value`))
	b.fill("Animals", "500")
	b.click("Write it down")
	b.sees("There are only 151 Lambs on 10 June 2026")
	b.fill("Animals", "2")
	b.click("Write it down")
	b.sees("Written down")
	b.until("two fewer", `[...document.querySelectorAll('tr')].some((r) => r.innerText.includes('Lambs\t149'))`)

	// Any day shows its working, in any measure.
	b.click("Livestock units")
	b.sees("LU")
	b.ask(`(document.querySelector('[aria-label="Read the year day by day"]').focus(), '')`)
	b.keys(kb.ArrowRight + kb.Enter)
	b.sees("Thursday, 11 June 2026")
	b.click("Eaten by Cows and calves")
	b.sees("n × I")
	b.sees("need as much grown as one of")

	// A list comes in, with its bad rows named.
	b.click("List")
	b.bring("stock.csv", "mob,class,head,weight\nGoats,Doe nobody knows,12,60\nRams,Ram,4,95\n")
	b.sees("Row 1:")
	b.sees("Take in 4 head in 1 mob")
	b.click("Take in 4 head")
	b.sees("1 class brought in")
	b.sees("Rams")
	assert.Contains(t, b.ask(`fetch(document.querySelector('a[download="stock.csv"]')?.href ?? location.origin + '/api/farms/' + localStorage.getItem('fjell.farm') + '/stock/list').then((r) => r.text())`), `Rams,ram,"Ram, adult",4,95.0`)
}

// drag presses the mouse on what a script finds and lets go so many pixels further.
func (b *browser) drag(script string, dx, dy float64) {
	b.t.Helper()
	b.hold(script, dx, dy)()
}

// hold is drag that has not let go yet.
func (b *browser) hold(script string, dx, dy float64) (letGo func()) {
	b.t.Helper()
	b.until("something to drag", script)
	at := b.ask(`(() => { const e = ` + script + `; e.scrollIntoView({block: 'center'}); const r = e.getBoundingClientRect(); return (r.x + r.width / 2) + ' ' + (r.y + r.height / 2) })()`)
	var x, y float64
	_, err := fmt.Sscan(at, &x, &y)
	require.NoError(b.t, err)
	b.do(chromedp.MouseEvent(chromedp.MousePressed, x, y, chromedp.ButtonType(input.MouseButtonLeft)))
	for k := 1.0; k <= 6; k++ {
		b.do(chromedp.MouseEvent(chromedp.MouseMoved, x+dx*k/6, y+dy*k/6, chromedp.ButtonType(input.MouseButtonLeft)))
	}
	return func() {
		b.do(chromedp.MouseEvent(chromedp.MouseReleased, x+dx, y+dy, chromedp.ButtonType(input.MouseButtonLeft)))
	}
}
