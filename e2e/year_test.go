package e2e

import (
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
)

// The winter evening: the hungry gap is found and read month by month, by keys, over one year and three; and printed.
func TestTheHungryGapIsFound(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.keys("7")
	b.sees("Feed is missing from October to May 2027")
	b.sees("Taken for granted")
	b.accessible("the year")
	assert.Equal(t, 1, b.pages(), "one sheet")
	b.ask(`document.querySelector('svg[role=group] [role=button]').focus(), ''`)
	b.keys(kb.ArrowRight)
	b.sees("Waits behind closures")
	b.keys(kb.End)
	b.until("the last month", `document.querySelector('svg[role=group] [role=button]:last-of-type')?.getAttribute('aria-pressed') === 'true' || document.activeElement?.getAttribute('aria-label')?.startsWith('May 2027')`)
	b.sees("what stands outside does not feed them there")
	b.accessible("a month of the year")
	b.choose("How far", "36")
	b.until("three years", `document.querySelectorAll('svg[role=group] [role=button]').length === 36`)
	b.sees("from October 2027")
	b.accessible("three years")
	b.ask(`[...document.querySelectorAll('main button')].find((f) => /\d\s*t$/.test(f.innerText.trim())).click(), ''`)
	b.sees("From growth to mouth")
	b.accessible("the year's working")
}

func TestTheYearOnAPhone(t *testing.T) {
	b := onTheDemoFarm(t, 390, 844)
	b.ask(`location.hash = location.hash.replace('today', 'year'), ''`)
	b.sees("Feed is missing from October to May 2027")
	b.picture("yp")
	b.accessible("the year on a phone")
}
