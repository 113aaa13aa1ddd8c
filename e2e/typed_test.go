package e2e

import (
	"fmt"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

// field is the value of the field with this label.
func (b *browser) field(label string) string {
	b.t.Helper()
	return b.ask(fmt.Sprintf(`(() => { const l = [...document.querySelectorAll('label')].find((l) => l.getClientRects().length && l.textContent.trim().startsWith(%q)); const f = l && (l.htmlFor ? document.getElementById(l.htmlFor) : l.querySelector('input, select, textarea')); return f ? f.value : 'no such field' })()`, label))
}

// meanwhile is what another hand does at the same moment, from another page: a write of the mob called name, changed by a script.
func (b *browser) meanwhile(name, change string) {
	b.t.Helper()
	out := b.ask(fmt.Sprintf(`(async () => {
		const farm = localStorage.getItem('fjell.farm')
		const mob = (await (await fetch('/api/farms/' + farm + '/mobs')).json()).find((m) => m.name === %q)
		const body = { name: mob.name, letter: mob.letter, glyph: mob.glyph, field_ids: mob.field_ids, classes: mob.classes.map((c) => ({ id: c.id, reference_id: c.reference_id, name: c.name, count: c.count, live_weight_kg: c.live_weight_kg, intake_share: c.intake_share, daily_gain_kg: c.daily_gain_kg ?? 0 })), confirmed: true }
		;(%s)(body)
		const r = await fetch('/api/farms/' + farm + '/mobs/' + mob.id, { method: 'PUT', headers: { 'Content-Type': 'application/json', 'If-Match': String(mob.version) }, body: JSON.stringify(body) })
		return r.ok ? 'ok' : await r.text()
	})()`, name, change))
	assert.Equal(b.t, "ok", out)
}

// changeFirstMob opens the form of the first mob.
func (b *browser) changeFirstMob() {
	b.t.Helper()
	b.keys("3")
	b.sees("Does the land carry them?")
	b.click("Change")
	b.sees("Change Cows and calves")
}

func TestTwoHandsChangeOneMob(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.changeFirstMob()
	b.fill("Name of the mob", "Big red herd")
	b.meanwhile("Cows and calves", `(m) => (m.classes[0].live_weight_kg = 655)`)
	b.click("Save")
	b.sees("Somebody changed this while you did. Nothing of yours is lost.")
	b.sees("655 kg")
	b.until("both in sight of who pressed", `(() => { const r = document.querySelector('[aria-label="Changed by somebody else"]').getBoundingClientRect(); return r.top > 96 && r.bottom < innerHeight })()`)
	assert.Equal(t, "Big red herd", b.field("Name of the mob"), "what was typed stays")
	assert.NotContains(t, b.ask(`document.body.innerText`), "version")

	// The weight is theirs, the name is mine.
	b.ask(`([...document.querySelectorAll('button')].find((x) => x.ariaLabel?.endsWith('for Animals')).click(), '')`)
	b.until("one difference left", `document.querySelectorAll('[aria-label="Changed by somebody else"] tbody tr').length === 1`)
	b.click("Keep mine")
	b.sees("Big red herd saved")
	b.until("both changes", `[...document.querySelectorAll('section, article, div')].some((s) => s.innerText?.includes('Big red herd') && s.innerText.replace(/\u00a0/g, ' ').includes('655 kg'))`)
}

func TestWhatIsTypedSurvives(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.changeFirstMob()
	b.fill("Name of the mob", "Big red herd")

	// Another place and back.
	b.click("Today")
	b.sees("Stay or move?")
	b.changeFirstMob()
	b.sees("What you had typed is here again.")
	assert.Equal(t, "Big red herd", b.field("Name of the mob"))

	// A reload.
	b.do(chromedp.Reload())
	b.sees("Does the land carry them?")
	b.click("Change")
	b.sees("What you had typed is here again.")

	// The session ends elsewhere: it is said there, the farm cannot be read, and the same press goes on after signing in.
	b.ask(`fetch('/api/sign-out', { method: 'POST' }).then(() => '')`)
	b.click("Save")
	b.sees("You were signed out")
	assert.Equal(t, "false", b.ask(`String(document.elementFromPoint(300, 300)?.closest('main') !== null)`), "the farm is covered")
	b.fill("E-mail", b.ask(`fetch('/api/house').then((r) => r.json()).then((h) => h.demo_email)`))
	b.fill("Password", b.ask(`fetch('/api/house').then((r) => r.json()).then((h) => h.demo_password)`))
	b.click("Sign in and go on")
	b.until("the page is there again", `!document.body.innerText.includes('You were signed out')`)
	assert.Equal(t, "Big red herd", b.field("Name of the mob"))
	b.click("Save")
	b.sees("Big red herd saved")

	// What was kept, or let go, leaves nothing behind.
	b.click("Change")
	b.sees("Change Big red herd")
	b.until("no draft", `!document.body.innerText.includes('What you had typed')`)
	b.fill("Name of the mob", "x")
	b.click("Stock")
	b.keys("1")
	b.sees("Stay or move?")
	b.keys("3")
	b.sees("Does the land carry them?")
	b.click("Change")
	b.sees("What you had typed is here again.")
	b.click("Begin anew")
	b.until("what the farm has", `[...document.querySelectorAll('input')].some((i) => i.value === 'Big red herd')`)
}

// keepsAll waits until the device keeps all that the field needs.
func (b *browser) keepsAll() {
	b.t.Helper()
	b.until("all of it to be kept", `caches.open('field').then((c) => c.keys()).then((k) => (globalThis.keptHere = k.map((r) => r.url).join(' '))) && ['today', 'plan', 'moves', 'walk', 'mobs', 'ridge', 'land', 'swards', '/me'].every((x) => globalThis.keptHere?.includes(x)) && caches.open('core').then((c) => c.keys()).then((k) => (globalThis.coreKept = k.length)) && globalThis.coreKept`)
}

// One visit is enough: every place a hand needs opens without a signal, says how old its figures are, and never the sign-in page.
func TestEveryPlaceOpensWithoutASignal(t *testing.T) {
	b, s := onTheDemoFarmFarOut(t, 390, 844)
	b.keepsAll()
	farm := b.ask(`localStorage.getItem('fjell.farm')`)
	s.off()
	for place, words := range map[string]string{"today": "Stay or move?", "walk": "of 24 measured today", "land": "in 7 fields", "moves": "Moves"} {
		b.visit(fmt.Sprintf("http://%s/#/f/%s/%s", s.address, farm, place))
		b.sees(words)
		b.sees("No signal.")
		b.sees("What you see was kept here just now.")
	}
	b.visit(fmt.Sprintf("http://%s/#/sums/strip", s.address))
	b.sees("The working")
	b.visit("http://" + s.address)
	b.sees("Stay or move?")
	s.on()
	b.until("the signal is back by itself", `(dispatchEvent(new Event('online')), !document.body.innerText.includes('No signal.'))`)
	time.Sleep(100 * time.Millisecond)
}

func TestAMobAndTheRulesOfAPlanArePutBack(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.changeFirstMob()
	b.fill("Name of the mob", "Big red herd")
	b.click("Save")
	b.sees("Big red herd saved")
	b.click("Undo")
	b.sees("Taken back: Big red herd saved")
	b.click("Change")
	b.sees("Change Cows and calves")
	b.keys("\u001b")

	b.keys("6")
	b.click("Grazing rules")
	b.sees("The rules of this plan")
	days := b.field("For")
	b.fill("For", "33")
	b.click("Work it out")
	b.sees("The moves are worked out anew.")
	b.click("Undo")
	b.sees("Taken back")
	b.click("Grazing rules")
	b.sees("The rules of this plan")
	assert.Equal(t, days, b.field("For"))
}
