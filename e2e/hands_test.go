package e2e

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
)

// The back button walks back through what was opened, one thing at a time, and never out of the app by surprise.
func TestTheBackButtonWalksBack(t *testing.T) {
	b := onTheDemoFarm(t, 390, 844)
	back := func() { b.ask(`(history.back(), '')`) }
	b.click("Walk")
	b.sees("measured today")
	b.click("Growth")
	b.sees("By sward")
	b.click("Weather")
	b.sees("Water within reach")
	back()
	b.sees("By sward")
	back()
	b.sees("measured today")
	b.click("Start at")
	b.sees("Guess first")
	back()
	b.sees("measured today")
	b.click("Moves")
	b.sees("feed enough")
	b.ask(`(document.querySelector('[aria-label="Moves to come"] button').click(), '')`)
	b.sees("Why here")
	back()
	b.until("the list alone", `!document.body.innerText.includes('Why here')`)
	b.click("Today")
	b.sees("Stay or move?")
	b.click("Go through the gate")
	b.sees("In this order")
	back()
	b.until("no gate", `!document.querySelector('dialog[open]')`)
	b.sees("Stay or move?")

	// What is open is in the address: a link leads to it, past the sign-in page too.
	b.click("Land")
	b.sees("in 7 fields")
	b.click("soon Bekkelia 2")
	b.sees("Change its facts")
	at := b.ask(`location.href`)
	b.ask(`fetch('/api/sign-out', { method: 'POST' }).then(() => '')`)
	b.do(chromedp.Navigate("about:blank"))
	b.visit(at)
	b.sees("Sign in")
	house := `fetch('/api/house').then((r) => r.json())`
	b.fill("E-mail", b.ask(house+`.then((h) => h.demo_email)`))
	b.fill("Password", b.ask(house+`.then((h) => h.demo_password)`))
	b.ask(`([...document.querySelectorAll('button')].find((x) => x.type === 'submit' && x.textContent.includes('Sign in')).click(), '')`)
	b.sees("Change its facts")
	b.sees("Bekkelia 2")
}

// The first page asks the farm little: from far out each way there and back is felt.
func TestTodayOpensWithFewQuestions(t *testing.T) {
	b := onTheDemoFarm(t, 390, 844)
	b.do(chromedp.Reload())
	b.sees("Stay or move?")
	b.sees("Last moves")
	asked := b.ask(`performance.getEntriesByType('resource').map((e) => new URL(e.name).pathname).filter((p) => p.startsWith('/api/')).join(' ')`)
	assert.LessOrEqual(t, len(strings.Fields(asked)), 3, asked)
	assert.Equal(t, len(strings.Fields(asked)), len(slices.Compact(slices.Sorted(slices.Values(strings.Fields(asked))))), "nothing is asked twice: %s", asked)
}

// A hand without a signal moves a mob; it goes to the farm by itself once there is one, and counts once.
func TestAMoveAtTheGateWithoutASignal(t *testing.T) {
	b, s := onTheDemoFarmFarOut(t, 390, 844)
	b.until("all of it to be kept", `caches.open('core').then((c) => c.keys()).then((k) => (globalThis.coreKept = k.length)) && globalThis.coreKept`)
	moves := `fetch('/api/farms/' + localStorage.getItem('fjell.farm') + '/moves').then((r) => r.json()).then((l) => String(l.length))`
	before := b.ask(moves)
	s.off()
	b.click("Go through the gate")
	b.sees("In this order")
	b.fill("Note", "count was right")
	b.click("Moved")
	b.sees("held here, safe")
	b.sees("1 thing is held here, safe, and will go by itself.")
	b.do(chromedp.Reload())
	b.sees("held here, safe. It goes to the farm by itself")
	s.on()
	b.until("the move to arrive", `(dispatchEvent(new Event('online')), !document.body.innerText.includes('held here'))`)
	assert.Equal(t, fmt.Sprint(number(before)+1), b.ask(moves))
	b.sees("Sørjordet 5")
	assert.Equal(t, "count was right", b.ask(`fetch('/api/farms/' + localStorage.getItem('fjell.farm') + '/moves').then((r) => r.json()).then((l) => l.map((m) => m.note).find(Boolean))`))
}

// A press that comes to nothing says so, also where no form is open to say it in.
func TestAPressWithoutASignalSaysSo(t *testing.T) {
	b, s := onTheDemoFarmFarOut(t, 1280, 800)
	b.keys("6")
	b.click("How good is it?")
	b.sees("What the searched plan does next")
	s.off()
	b.click("Keep this plan")
	b.sees("we do not know whether it arrived. Try again")
	// Pressed again in vain it is said again, though in the same words.
	said := `[...document.querySelectorAll('[role=status] span')].find((x) => x.textContent.includes('whether it arrived'))`
	b.ask(`(globalThis.first = ` + said + `, '')`)
	b.click("Keep this plan")
	b.until("it to be said again", `(`+said+` ?? first) !== first`)
	s.on()
	b.click("Keep this plan")
	b.sees("kept as it stands")
}

func number(text string) (n int) {
	_, _ = fmt.Sscan(text, &n)
	return n
}

// A new hand comes by a link: an account, the farm, and the walk, with nobody typing an e-mail for them.
func TestANewHandComesByALink(t *testing.T) {
	p := start(t, demoDatabase(t), "demo", "")
	owner := open(t, 1280, 800)
	owner.visit(p.url)
	owner.click("Open Skarnvoll")
	owner.sees("Stay or move?")
	owner.click("Farm")
	owner.sees("People")
	owner.click("Make a link to join as hand")
	owner.sees("shown only now")
	link := owner.ask(`[...document.querySelectorAll('p')].find((p) => p.textContent.includes('/#/join/')).textContent.trim()`)

	hand := open(t, 390, 844)
	hand.visit(link)
	hand.sees("asks you to join Skarnvoll")
	hand.fill("Your name", "Jon")
	hand.fill("E-mail", "jon@example.org")
	hand.fill("Password", "grass before breakfast")
	hand.click("Make the account")
	hand.sees("Stay or move?")
	assert.Equal(t, "hand", hand.ask(`fetch('/api/me').then((r) => r.json()).then((m) => m.farms[0].role)`))

	// Used once, it leads nowhere; and the owner helps when the password is forgotten.
	other := open(t, 390, 844)
	other.visit(link)
	other.sees("This link leads nowhere")
	owner.do(chromedp.Reload())
	owner.sees("jon@example.org")
	owner.click("Password forgotten")
	owner.sees("whoever opens it chooses their new password")
	fresh := owner.ask(`[...document.querySelectorAll('p')].find((p) => p.textContent.includes('/#/password/')).textContent.trim()`)
	other.visit(fresh)
	other.sees("For jon@example.org")
	other.fill("New password", "hay after supper")
	other.click("Choose it")
	other.sees("Sign in with it")
	other.fill("E-mail", "jon@example.org")
	other.fill("Password", "hay after supper")
	other.ask(`([...document.querySelectorAll('button')].find((x) => x.type === 'submit' && x.textContent.includes('Sign in')).click(), '')`)
	other.sees("Stay or move?")
}

// By keyboard alone: the skip link, places, a panel and back, the finder, a sum.
func TestByKeyboardAlone(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.do(chromedp.Reload())
	b.sees("Stay or move?")
	b.keys(kb.Tab)
	assert.Equal(t, "Skip to the page", b.ask(`document.activeElement.textContent`))
	b.keys(kb.Enter)
	assert.Equal(t, "MAIN", b.ask(`document.activeElement.tagName`))
	b.keys("3")
	b.sees("Does the land carry them?")
	b.until("the heading to have the keyboard", `document.activeElement?.tagName === 'H1'`)
	assert.Contains(t, b.ask(`document.title`), "Stock · Skarnvoll")
	assert.Equal(t, "Stock", b.ask(`document.querySelector('[aria-live="polite"]').textContent`))

	// A panel takes the keyboard, Esc closes it and gives the keyboard back to what opened it.
	b.ask(`([...document.querySelectorAll('button')].find((x) => x.textContent.trim() === 'New mob').focus(), '')`)
	b.keys(kb.Enter)
	b.sees("A new mob")
	b.until("the panel to have the keyboard", `document.activeElement?.textContent === 'A new mob'`)
	b.keys(kb.Escape)
	b.until("the panel gone", `!document.body.innerText.includes('A new mob')`)
	b.until("the button to have the keyboard", `document.activeElement?.textContent.trim() === 'New mob'`)

	// Tabs by arrows.
	b.keys("4")
	b.sees("measured today")
	b.ask(`(document.querySelector('[role=tab][aria-selected=true]').focus(), '')`)
	b.keys(kb.ArrowRight)
	b.sees("By sward")
	assert.Equal(t, "Growth", b.ask(`document.activeElement.textContent.trim()`))

	// The land without a mouse: choose, draw by typed places, corners with words.
	b.keys("2")
	b.sees("in 7 fields")
	b.keys("c")
	b.sees("Fences")
	b.keys("n")
	b.until("which corner", `/Corner 1 of \d+, /.test(document.body.innerText)`)
	b.keys(kb.Escape)
	b.sees("in 7 fields")
	b.keys("l")
	b.sees("Click along the way")
	b.ask(`(document.querySelector('summary').focus(), '')`)
	b.ask(`([...document.querySelectorAll('summary')].find((x) => x.textContent.includes('Type the places')).focus(), '')`)
	b.keys(kb.Enter)
	b.keys(kb.Tab)
	b.keys("61, 9.1\n61.001, 9.1")
	b.keys(kb.Tab + kb.Enter)
	b.sees("111 m")

	// Anything by its name.
	b.ask(`(document.activeElement.blur(), '')`)
	b.keys("/")
	b.sees("Find anything")
	b.keys("how long will" + kb.Enter)
	b.sees("An example: type your own figures over it.")
	time.Sleep(50 * time.Millisecond)
}

// Six sheep and a small field: an answer before anything was learned, with what is only an example looking like one.
func TestASmallholderAsksHowLongItLasts(t *testing.T) {
	p := start(t, database(t), "serve", morning)
	b := open(t, 390, 844)
	b.visit(p.url)
	b.click("How long will it last?")
	b.sees("An example: type your own figures over it.")
	b.until("the kinds of animal", `[...document.querySelectorAll('option')].some((o) => o.textContent.startsWith('Ewe'))`)
	b.choose("Kind of animal, for its usual weight and appetite", b.ask(`[...document.querySelectorAll('option')].find((o) => o.textContent.startsWith('Ewe')).value`))
	b.fill("Animals", "6")
	b.sees("Still of the example: area, height")
	b.fill("Area", "0,8")
	b.fill("Height", "14")
	b.fill("Grows a day", " ")
	b.sees("say how much it grows a day, 0 if it does not")
	b.fill("Grows a day", "0")
	b.until("an answer in days", `/\d+ days/.test(document.body.innerText.replace(/\u00a0/g, ' '))`)
	b.fill("Animals", "1,500")
	b.sees("Read as")
	b.fill("Height", "abc")
	b.sees("“abc” is not a number.")
}

// small names what is pressed and is lower than so many pixels. The ridge is read, and its figures are in every place too.
const small = `[...document.querySelectorAll('main a[href], main button, main select, main input, main summary, nav a, nav button, dialog a[href], dialog button, dialog select, dialog input, dialog summary')]
	.filter((e) => e.getClientRects().length).map((e) => {
		const box = (['checkbox', 'radio'].includes(e.type) ? (e.closest('label') ?? e) : e).getBoundingClientRect(), after = getComputedStyle(e, '::after')
		return [Math.max(box.height, after.position === 'absolute' ? parseFloat(after.height) || 0 : 0), e.ariaLabel || e.innerText || e.type]
	}).filter(([high]) => high < %d - 0.5).map((x) => x.join(' ')).join('; ')`

// Every sheet and state, on a phone by day and before dawn, magnified twice, and for eyes that want nothing to move.
func TestEverySheetIsOpenToEverybody(t *testing.T) {
	t.Parallel()
	p := start(t, demoDatabase(t), "demo", "")
	b := open(t, 390, 844)
	b.visit(p.url)
	b.accessible("sign-in on a phone")
	b.click("Open Skarnvoll")
	b.sees("Stay or move?")
	base := "/f/" + b.ask(`localStorage.getItem('fjell.farm')`)
	mob := b.ask(`fetch('/api' + location.hash.slice(1).split('?')[0].replace('/f/', '/farms/').replace('/today', '/mobs')).then((r) => r.json()).then((l) => l[0].id)`)
	sheets := []struct{ at, words string }{{"/today", "Stay or move?"}, {"/today?gate=" + mob, "In this order"}, {"/moves?as=list", "feed enough"}, {"/moves?as=ridges", "Cows and calves"},
		{"/moves?do=rules", "The rules of this plan"}, {"/stock?mob=" + mob, "Change Cows and calves"}, {"/stock?event=new", "Something happens to stock"}, {"/stock?day=2026-07-01", "July"},
		{"/land?do=divide", "Equal feed"}, {"/land?do=fences", "Drag a corner"}, {"/land?do=swards", "what is known of it"}, {"/walk?part=Growth", "By sward"}, {"/walk?part=Readings", "From a device"}, {"/farm", "This device"}}
	see := func(state string, sheets []struct{ at, words string }) {
		for _, s := range sheets {
			b.ask(fmt.Sprintf(`(location.hash = %q, '')`, base+s.at))
			b.sees(s.words)
			b.accessible(state + ": " + s.at)
			assert.Equal(t, "true", b.ask(`String(document.documentElement.scrollWidth <= innerWidth)`), "%s: %s is no wider than the screen", state, s.at)
			if least := map[bool]int{true: 48, false: 32}[strings.HasPrefix(s.at, "/today") || strings.HasPrefix(s.at, "/walk")]; state == "a phone" {
				assert.Empty(t, b.ask(fmt.Sprintf(small, least)), "too small for a glove: %s", s.at)
			}
			b.ask(fmt.Sprintf(`(location.hash = %q, '')`, base+"/today"))
			b.until("no dialog", `!document.querySelector('dialog[open]')`)
		}
	}
	see("a phone", sheets)
	b.ask(`(document.documentElement.dataset.theme = 'dark', '')`)
	see("a phone before dawn", sheets)
	b.ask(`(document.documentElement.dataset.theme = 'light', '')`)
	b.do(chromedp.EmulateViewport(640, 400)) // a laptop at 200 %
	see("magnified twice", []struct{ at, words string }{sheets[0], sheets[1], sheets[2], sheets[5], sheets[8]})
	b.do(chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		_, err := cdp.Call(ctx, t, emulation.SetEmulatedMedia, emulation.SetEmulatedMediaParams{Features: []*emulation.MediaFeature{{Name: "prefers-reduced-motion", Value: "reduce"}}})
		return err
	}))
	see("without motion", sheets[:3])
	assert.Equal(t, "true", b.ask(`String(matchMedia('(prefers-reduced-motion: reduce)').matches)`))

	// A phone held across, and a narrow one: measuring is never cut.
	for _, size := range [][2]int64{{844, 390}, {320, 568}} {
		b.do(chromedp.EmulateViewport(size[0], size[1]))
		b.ask(fmt.Sprintf(`(location.hash = %q, '')`, base+"/walk"))
		b.click("Start at")
		b.sees("Guess first")
		b.until("the whole keypad in sight", `[...document.querySelectorAll('[data-keypad] button')].every((x) => { const r = x.getBoundingClientRect(); return r.left >= 0 && r.right <= innerWidth + 1 && r.bottom <= innerHeight + 1 })`)
		b.click("Leave")
	}
}

// A year that does not come leaves the one that is there, and says so.
func TestAYearWithoutASignalIsSaidToBeMissing(t *testing.T) {
	b, s := onTheDemoFarmFarOut(t, 1280, 800)
	b.keys("3")
	b.sees("Feed a day")
	s.off()
	b.click("The year after")
	b.sees("2027 cannot be shown so. No signal")
	b.sees("Feed a day")
	b.click("The year before")
	b.until("the year that is known", `!document.body.innerText.includes('cannot be shown so')`)
	b.sees("2026")
}

// Lists scroll inside the frame of a phone; what only a screen reader reads in them stretched the page, which a focus or a finger then pushed
// out of sight.
func TestThePageItselfIsNotScrolledAway(t *testing.T) {
	b := onTheDemoFarm(t, 390, 844)
	farm := b.ask(`localStorage.getItem('fjell.farm')`)
	for _, place := range []string{"today", "land", "stock", "walk", "moves", "farm", "emergency"} {
		b.ask(fmt.Sprintf(`(location.hash = '#/f/%s/%s', '')`, farm, place))
		b.until(place+" to be there", `document.querySelector('main h1') && !document.body.innerText.includes('Getting')`)
		time.Sleep(600 * time.Millisecond)
		assert.Empty(t, b.ask(beyond), place)
	}
}
