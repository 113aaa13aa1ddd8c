package e2e

import (
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
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
	b.sees("its mark")
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
	b.click("Sell, move out, bring in")
	b.fill("Come, or −go", "60")
	b.fill("Cost a head", "900")
	b.click("Try it")
	b.sees("too much at once: a hole of")
	b.sees("It costs 54 000 NOK.")
	b.accessible("levers and what comes of them")
	b.click("Set aside, to compare")
	b.sees("of feed missing")
	assert.Equal(t, "0", b.count(`ul[aria-label="What is tried"]`))
	b.click("Take up: Cut now")
	b.sees("It costs 54 000 NOK.")

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
	b.sees("Its mark is")
}

// A gap is found, three things are tried, one is decided and done; four weeks on it stands beside what came, and it can be taken back.
func TestADecisionIsLookedAtFourWeeksLater(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.keys("5")
	b.sees("The first in the queue is to stand at")
	b.sees("Lapwings have their nest there")
	b.click("Sell, move out, bring in")
	b.fill("Come, or −go", "60")
	b.click("Try it")
	b.sees("too much at once: a hole of")
	b.click("Join two mobs")
	b.click("Try it")
	b.sees("stock that meet for the first time fight")
	b.click("Take back: Join two mobs")
	b.click("Take back: Sell, move out, bring in")
	b.click("Close up until…")
	b.click("Try it")
	b.sees("is out of the round until")
	b.fill("Why", "More is growing than they eat")
	b.accessible("a decision's form")
	b.click("Do it")
	b.sees("Decided, and written down.")
	b.sees("More is growing than they eat")
	b.sees("closed up until 15 July")
	b.sees("What comes of it is seen from tomorrow on.")
	assert.Equal(t, "0", b.count(`ul[aria-label="What is tried"]`))

	// It is undone where it was said, in one step, and decided again.
	b.undo()
	b.until("it is undone", `!document.body.innerText.includes('closed up until 15 July')`)
	b.sees("Taken back on today")
	b.click("Close up until…")
	b.click("Try it")
	b.sees("is out of the round until")
	b.fill("Why", "A second thought")
	b.click("Do it")
	b.sees("closed up until 15 July")

	b.ask(`(async () => { await fetch('/api/clock/forward', {method: 'POST', headers: {'Content-Type': 'application/json'}, body: '{"days": 28}'}); location.reload(); return '' })()`)
	b.sees("A second thought")
	b.until("what came", `/The ground stands at [^.]* expected/.test(document.body.innerText)`)
	b.ask(`document.querySelector('section[aria-label="What was decided"]').scrollIntoView(), ''`)
	b.picture("came")
	b.accessible("decisions four weeks later")
	b.click("Take it back: decided on Wed 10 June")
	b.sees("it wrote is as it was before")
	b.until("it is open", `!document.body.innerText.includes('closed up until 15 July')`)
}

// The order of the queue is the farm's own, by keys and by the pointer; the store's book is written in.
func TestTheQueueIsPutInAnOrderOfItsOwn(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.keys("5")
	b.sees("The first in the queue is to stand at")
	b.choose("In the order of", "own")
	b.sees("Drag a paddock to its place")
	order := `[...document.querySelectorAll('svg[role=group] [role=button]')].map((e) => e.dataset.id).join()`
	before := strings.Split(b.ask(order), ",")
	b.ask(`document.querySelector('svg[role=group] [role=button]').focus(), ''`)
	b.do(chromedp.KeyEvent(kb.ArrowDown, chromedp.KeyModifiers(chromedp.ModifierAlt)))
	before[0], before[1] = before[1], before[0]
	b.until("the first is second", order+" === '"+strings.Join(before, ",")+"'")
	b.until("it keeps the keyboard", `document.activeElement?.dataset.id === '`+before[1]+`'`)
	b.ask(`(() => {
		const row = document.querySelectorAll('svg[role=group] [role=button]')[3], box = row.getBoundingClientRect(), at = (y) => ({bubbles: true, pointerId: 1, button: 0, clientX: box.x + 40, clientY: y})
		row.dispatchEvent(new PointerEvent('pointerdown', at(box.y + 20)))
		row.dispatchEvent(new PointerEvent('pointermove', at(box.y - 68)))
		row.dispatchEvent(new PointerEvent('pointerup', at(box.y - 68)))
		return ''
	})()`)
	carried := append([]string{before[0], before[3]}, before[1:3]...)
	b.until("the fourth is second", order+".startsWith('"+strings.Join(carried, ",")+"')")
	b.until("it is kept at the farm", `fetch('/api/farms/' + location.hash.split('/')[2] + '/queue').then((r) => r.json()).then((q) => (window.kept = q.own_order.join())) && window.kept?.startsWith('`+strings.Join(carried, ",")+`')`)
	b.ask(`location.reload(), ''`)
	b.sees("The first in the queue is to stand at")
	b.choose("In the order of", "own")
	b.until("it is kept", order+".startsWith('"+strings.Join(carried, ",")+"')")
	b.accessible("the queue in its own order")

	b.sees("Fodder store")
	b.click("Write a line: bought, fed, sold, lost, counted")
	b.choose("What happened", "bought")
	b.fill("Bales", "10")
	b.fill("One weighs", "250")
	b.fill("Dry matter of it", "84")
	b.click("Write it down")
	b.sees("Written into the book of the fodder store.")
	b.sees("Bought · 10 bales")
	b.accessible("the fodder store")
}

// What is tried is held against the farm as it is: when the farm has gone on meanwhile, it is asked about anew.
func TestWhatIsTriedFollowsTheFarm(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.keys("5")
	b.sees("Next eight weeks")
	b.click("Cut now")
	b.click("Try it")
	b.sees("it comes back slower, and leafier")
	asked := `performance.getEntriesByType('resource').filter((e) => e.name.endsWith('/queue/try')).length`
	before := b.ask(`String(` + asked + `)`)
	b.click("demo clock")
	b.sees("Thu 11 June")
	b.until("asked about anew", asked+" > "+before)
	b.until("with its card", `document.querySelectorAll('ul[aria-label="What is tried"] li').length === 1`)
}
