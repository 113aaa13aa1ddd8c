package e2e

import (
	"fmt"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/internal/demo"
)

const morning = "2026-06-10T05:30:00Z"

func TestFromANewAccountToARecordedMove(t *testing.T) {
	dir := t.TempDir()
	t.Cleanup(func() { mariadb(t, "stop", dir) })
	p := start(t, mariadb(t, "start", dir), "serve", morning)
	b := open(t, 1280, 800)

	// A first true answer without an account.
	b.visit(p.url)
	b.sees("Do a sum now, no account needed")
	b.click("Days of feed")
	b.sees("2.8 days")
	b.click("Sign in")

	b.click("Make a new account")
	b.fill("Your name", "Ida Skarn")
	b.fill("E-mail", "ida@example.org")
	b.fill("Password", "short")
	b.click("Make the account")
	b.sees("10 to 200 letters")
	b.fill("Password", "a long enough password")
	b.click("Make the account")

	b.sees("Make a farm")
	b.fill("Name of the farm", "Øvre Skarn")
	b.choose("Time zone", "Europe/Oslo")
	b.click("Make the farm")

	// Land: drawn with the mouse, corner by corner.
	b.sees("Draw a field")
	b.until("the map", `document.querySelector('.farm-map canvas')`)
	time.Sleep(400 * time.Millisecond)
	for _, corner := range [][2]float64{{350, 250}, {700, 230}, {720, 560}, {360, 580}, {350, 250}} {
		b.do(chromedp.MouseClickXY(corner[0], corner[1]))
		time.Sleep(350 * time.Millisecond) // a double click would be another gesture
	}
	b.sees("Name of the field")
	b.fill("Name of the field", "Nedre")
	b.click("Keep this field")
	b.sees("Nedre is on the map")

	b.keys("d")
	b.sees("Equal feed")
	b.click("Names, and the days it holds")
	b.until("the preview", `document.querySelectorAll('[aria-label^="Name of paddock"]').length === 4`)
	b.click("One more")
	b.click("One more")
	b.until("six paddocks", `document.querySelectorAll('[aria-label^="Name of paddock"]').length === 6`)
	areas := b.ask(`[...new Set([...document.querySelectorAll('[aria-label^="Name of paddock"]')].map((i) => i.closest('tr').cells[2].innerText))].join('|')`)
	assert.NotContains(t, areas, "|", "all six show the same area")
	b.click("Use “")
	b.sees("Nedre has 6 paddocks")

	// Stock.
	b.keys("3")
	b.click("Make the first mob")
	b.fill("Name of the mob", "Cows")
	b.fill("Animals", "25")
	b.click("Make the mob")
	b.sees("Cows made")
	b.sees("Stocking rate")
	b.click("What Cows")
	b.sees("n × I")

	// Walk: three paddocks, with keys and with the keypad.
	b.keys("w")
	b.click("Start at Nedre 1")
	for i, mass := range []string{"11", "10", "8"} {
		b.sees(fmt.Sprintf("%d of 6", i+1))
		b.click("No guess")
		for range 4 {
			for _, digit := range strings.Split(mass, "") {
				b.click(digit)
			}
			b.click("Keep " + mass)
		}
		b.sees("mean " + mass + ".0 cm")
		b.click("Done here")
	}
	b.sees("4 of 6")
	b.keys("7")
	b.keys(kb.Enter)
	b.sees("Reading 1")
	b.click("Leave")
	b.sees("3 of 6 measured today")

	// Moves.
	b.keys("6")
	b.click("Plan the moves")
	b.fill("For", "13")
	b.click("Plan it")
	b.sees("between 14 days and 60 days")
	b.fill("For", "21")
	b.click("Plan it")
	b.until("bites on the ridges", `document.querySelectorAll('g[data-visit]').length > 4`)
	first := b.ask(`document.querySelectorAll('g[data-visit]')[1].getAttribute('aria-label')`)
	b.ask(`(document.querySelectorAll('g[data-visit]')[1].focus(), '')`)
	b.keys(kb.ArrowRight)
	b.sees("Everything after it was worked out anew")
	b.until("the nudged move", fmt.Sprintf(`[...document.querySelectorAll('g[data-visit]')].some((g) => g.getAttribute('aria-label').endsWith('fixed')) && document.querySelectorAll('g[data-visit]')[1].getAttribute('aria-label') !== %q`, first))

	// Today: turned out, for real.
	b.keys("1")
	b.click("Put them out")
	b.click("Moved")
	b.sees("Cows moved to Nedre")
	b.sees("Stay or move?")
	where := b.ask(`document.querySelector('article strong').innerText`)

	// Both servers stop and start again: all is there, the session too.
	url := b.ask(`location.href`)
	p.stop()
	mariadb(t, "stop", dir)
	again := start(t, mariadb(t, "start", dir), "serve", morning)
	b.visit(again.url + url[strings.Index(url, "/#"):])
	b.sees("Stay or move?")
	assert.Equal(t, where, b.ask(`document.querySelector('article strong').innerText`))
	b.keys("6")
	b.until("the pinned move", `[...document.querySelectorAll('g[data-visit]')].some((g) => g.getAttribute('aria-label').endsWith('fixed'))`)
}

// accessible holds the page against the rules of WCAG 2.2, A and AA.
func (b *browser) accessible(place string) {
	b.t.Helper()
	axe, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	require.NoError(b.t, err)
	time.Sleep(700 * time.Millisecond)
	b.ask(string(axe) + `; ''`)
	found := b.ask(`axe.run(document, {runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']}).then((r) => r.violations.map((v) => v.id + ': ' + v.help + ' — ' + v.nodes.slice(0, 3).map((n) => n.target.join(' ') + ' ' + (n.any[0]?.message ?? '')).join('; ')).join('\n'))`)
	assert.Empty(b.t, found, "violations on %s", place)
	assert.Empty(b.t, b.ask(sideways), "wider than the room it has, on %s", place)
	assert.Empty(b.t, b.ask(beyond), "the page itself can be scrolled away, on %s", place)
}

// sideways names what is wider than what scrolls it, but for what is meant to scroll that way.
const sideways = `[...document.querySelectorAll('*')].filter((e) => e.clientWidth && e.scrollWidth > e.clientWidth + 1 && ['auto', 'scroll'].includes(getComputedStyle(e).overflowX) && !e.closest('[class*=overflow-x-auto]'))
	.map((e) => (e.ariaLabel ?? e.className) + ' ' + e.scrollWidth + ' > ' + e.clientWidth + ': ' + [...e.querySelectorAll('*')].filter((c) => c.getBoundingClientRect().right > e.getBoundingClientRect().right + 1).slice(0, 3).map((c) => c.tagName + ' ' + c.textContent.trim().slice(0, 40)).join('; ')).join('\n')`

// beyond is by how much a page with a frame, whose parts scroll by themselves, is taller than the screen: then a focus or a finger pushes
// the frame itself out of sight.
const beyond = `(() => { const h = document.documentElement; return document.querySelector('nav[aria-label=Places]') && h.scrollHeight > innerHeight + 1 ? h.scrollHeight + ' > ' + innerHeight : '' })()`

func TestEveryPlaceIsOpenToEverybody(t *testing.T) {
	t.Parallel()
	p := start(t, database(t), "demo", "")
	b := open(t, 1280, 800)
	check := func(place string) { t.Helper(); b.accessible(place) }
	b.visit(p.url)
	b.sees("Open Skarnvoll")
	check("sign-in")
	b.visit(p.url + "/#/sums/feed")
	b.sees("2 070 kg")
	check("sums")
	b.visit(p.url)
	b.click("Open Skarnvoll")
	b.sees("Needs minding")
	check("today")
	b.click("Go through the gate")
	b.sees("In this order")
	check("the gate")
	b.keys(kb.Escape)
	b.until("the gate to close", `!document.querySelector('dialog[open]')`)
	for key, words := range map[string]string{"2": "in 7 fields, 24 paddocks", "3": "Stocking density", "4": "of 24 measured today", "5": "Try something", "6": "Keep this plan"} {
		b.keys(key)
		b.sees(words)
		check("place " + key)
		b.do(chromedp.Reload())
		b.sees(words) // opened by itself, not on the way from another place
	}
	b.keys("2")
	b.sees("in 7 fields")
	for _, tool := range []struct{ name, words string }{{"Divide (D)", "Equal feed"}, {"Fences", "Drag a corner"}, {"Things", "Sørjordet trough"}, {"Measure", "Click along the way"},
		{"Table of facts", "Facts of 24 paddocks"}, {"Bring a file", "Save as a file"}, {"Background map", "Contours from heights"}} {
		b.click(tool.name)
		b.sees(tool.words)
		check("land: " + tool.name)
	}
	b.keys("3")
	b.sees("Does the land carry them?")
	b.click("New event")
	b.sees("Something happens to stock")
	check("stock: an event")
	b.click("List")
	b.sees("A stock list")
	check("stock: a list")
	b.keys("4")
	for _, part := range []struct{ name, words string }{{"Growth", "keep up"}, {"Weather", "Water within reach"}, {"Calibrations", "Leafy leys"}, {"Eye", "near in a row"}, {"Readings", "From a device"}} {
		b.click(part.name)
		b.sees(part.words)
		check("walk: " + part.name)
	}
	b.keys("?")
	b.sees("Find anything, do any sum")
	check("the key map")
	b.keys(kb.Escape)
	b.until("the list to close", `!document.querySelector('dialog[open]')`)

	dark := b.ask(`(document.documentElement.dataset.theme = 'dark', document.documentElement.dataset.theme)`)
	require.Equal(t, "dark", dark)
	b.keys("1")
	b.sees("Needs minding")
	check("today before dawn")

	phone := open(t, 390, 844)
	b = phone
	b.visit(p.url)
	b.fill("E-mail", demo.Email)
	b.fill("Password", demo.Password)
	b.keys(kb.Enter)
	b.sees("Stay or move?")
	check("today on a phone")
	b.click("Land")
	b.sees("in 7 fields")
	check("land on a phone")
	b.click("Walk")
	b.click("Start at")
	b.sees("Guess first")
	check("measuring on a phone")
	tall := b.ask(`String(document.querySelector('[data-keypad]').scrollHeight <= innerHeight)`)
	assert.Equal(t, "true", tall, "no scrolling while measuring")
	b.click("Method, note")
	b.sees("How it is out there")
	check("the sheet of method and note")
	b.click("Measure")
	b.keys("2000" + kb.Enter)
	for _, cm := range []string{"8", "9", "8", "9", "8", "40"} {
		b.keys(cm + kb.Enter)
	}
	b.sees("far from the rest")
	check("readings on a phone")
	fits := b.ask(`(() => { const top = document.querySelector('[data-keypad] > div'); return String(top.scrollHeight <= top.clientHeight + 1) })()`)
	assert.Equal(t, "true", fits, "nothing is clipped above the keypad")
}

func TestDemoClockMovesOn(t *testing.T) {
	p := start(t, demoDatabase(t), "demo", "")
	b := open(t, 1280, 800)
	b.visit(p.url)
	b.click("Open Skarnvoll")
	b.sees("Wednesday 10 June")
	b.click("demo clock")
	b.sees("Thursday 11 June")
}
