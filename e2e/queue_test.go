package e2e

import (
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
)

// The weekly quarter of an hour: see where the farm stands, try three things, set one aside, and look a month back.
func TestTheWeeklyLook(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.keys("5")
	b.sees("The first in the queue is to stand at")
	b.sees("No gap opens in the next 8 weeks.")
	b.sees("hay until 8 July")
	b.accessible("the queue")

	// A cut, a closure, and so many more head that a gap opens.
	b.click("Cut now")
	b.accessible("a lever's form")
	b.click("Try it")
	b.sees("it comes back slower, and leafier")
	b.click("Close up until…")
	b.fill("Closed for", "60")
	b.click("Try it")
	b.sees("Must be 1 days to 56 days.")
	b.click("Take back: Close up until")
	b.until("the refusal gone", `!document.body.innerText.includes('Must be 1 days')`)
	b.click("Close up until…")
	b.click("Try it")
	b.sees("is out of the round until")
	b.click("Sell, move out, bring in, wean")
	b.fill("Come, or −go", "60")
	b.fill("Cost a head", "900")
	b.click("Try it")
	b.sees("too much at once: a hole of")
	b.sees("It costs 54 000 in your money.")
	b.accessible("levers and what comes of them")
	b.click("Set aside, to compare")
	b.sees("of feed missing")
	assert.Equal(t, "0", b.count(`ul[aria-label="What is tried"]`))
	b.click("Take up: Cut now")
	b.sees("It costs 54 000 in your money.")

	// One of them off: the rest is worked out anew.
	b.ask(`document.querySelector('ul[aria-label="What is tried"] li:last-child input').click(), ''`)
	b.until("no hole", `!document.body.innerText.includes('a hole of')`)

	// Advice is searched for, and its best is tried by a press.
	b.click("Advise me")
	b.sees("Ranked by the feed that stock would miss")
	b.accessible("advice")
	b.click("Try advice 1")
	b.until("it is tried", `document.querySelectorAll('ul[aria-label="What is tried"] li').length >= 1`)

	// A month back by the keys of a paddock, with what was known then.
	b.ask(`document.querySelector('svg[role=group] [role=button]').focus(), ''`)
	for _, day := range []string{"Wed 3 June", "Wed 27 May", "Wed 20 May", "Wed 13 May"} {
		b.ask(`document.querySelector('svg[role=group] [role=button]').focus(), ''`)
		b.keys(kb.ArrowLeft)
		b.sees(day + ", as it was")
	}
	b.sees("the turns are those that were taken")
	b.accessible("the queue a month ago")
	b.click("Back to today")
	b.sees("Try something")
}

// A cow's own queue, an ewe's own, on a phone; a paddock is chosen by touch.
func TestTheQueueOnAPhone(t *testing.T) {
	b := onTheDemoFarm(t, 390, 844)
	b.ask(`location.hash = location.hash.replace('today', 'queue'), ''`)
	b.sees("The first in the queue is to stand at")
	b.accessible("the queue on a phone")
	b.choose("Whose queue", b.ask(`[...document.querySelectorAll('select')][0].options[1].value`))
	b.until("the ewes' paddocks", `[...document.querySelectorAll('svg[role=group] [role=button]')].some((e) => e.getAttribute('aria-label').startsWith('Bekkelia'))`)
	b.ask(`document.querySelector('svg[role=group] [role=button]').dispatchEvent(new MouseEvent('click', {bubbles: true})), ''`)
	b.sees("See it on Land")
}
