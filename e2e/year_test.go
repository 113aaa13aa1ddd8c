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

// The gap is closed three ways on trial: hay, fewer head, feed grown beside; a card is put down by keys alone, switched off and taken back.
func TestTheGapIsClosedOnTrial(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.keys("7")
	b.sees("Feed is missing from October to May 2027")
	b.ask(`[...document.querySelectorAll('button')].find((e) => e.innerText.trim() === 'Put a card down').focus(), ''`)
	b.keys(kb.Enter)
	b.sees("Price, dry matter and feed value differ by load")
	b.accessible("a card's form")
	b.fill("Tonnes delivered", "120")
	b.fill("Cost a tonne delivered", "150")
	b.keys(kb.Enter)
	b.sees("of your money for each tonne eaten when it was short")
	b.sees("with what is tried; nothing is written")
	b.sees("It costs 18 000 in your money")
	b.click("Put a card down")
	b.choose("What", "head")
	b.fill("Come, or −go", "-30")
	b.click("Try it")
	b.sees("less is wanted")
	b.click("Put a card down")
	b.choose("What", "nitrogen_late_summer_stockpile_cool")
	b.choose("On", b.ask(`[...document.querySelectorAll('select')].find((s) => [...s.labels].some((l) => l.textContent.startsWith('On'))).options[0].value`))
	b.click("Try it")
	b.until("three cards or a refusal", `document.querySelectorAll('ul[aria-label="What is tried"] li').length === 3`)
	b.accessible("cards and what comes of them")
	b.picture("options")
	b.ask(`document.querySelector('ul[aria-label="What is tried"] input').click(), ''`)
	b.until("it costs nothing then", `!document.body.innerText.includes('It costs 18')`)
	b.click("Take back: Bought hay")
	b.until("two cards", `document.querySelectorAll('ul[aria-label="What is tried"] li').length === 2`)
}
