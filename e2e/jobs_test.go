package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/internal/demo"
)

// onTheDemoFarm opens the demo and signs in.
func onTheDemoFarm(t *testing.T, width, height int64) *browser {
	t.Helper()
	p := start(t, demoDatabase(t), "demo", "")
	b := open(t, width, height)
	b.visit(p.url)
	b.click("Open Skarnvoll")
	b.sees("Stay or move?")
	return b
}

// onTheDemoFarmFarOut is the same over a signal that can be lost.
func onTheDemoFarmFarOut(t *testing.T, width, height int64) (*browser, *signal) {
	t.Helper()
	p := start(t, demoDatabase(t), "demo", "")
	s := newSignal(t, p.url)
	b := open(t, width, height)
	b.visit("http://" + s.address)
	b.click("Open Skarnvoll")
	b.sees("Stay or move?")
	return b, s
}

// undo presses Ctrl+Z.
func (b *browser) undo() {
	b.t.Helper()
	b.do(chromedp.KeyEvent("z", chromedp.KeyModifiers(chromedp.ModifierCtrl)))
}

func (b *browser) count(selector string) string {
	b.t.Helper()
	return b.ask(fmt.Sprintf(`String(document.querySelectorAll(%q).length)`, selector))
}

// slide sets the range with this label.
func (b *browser) slide(label string, value float64) {
	b.t.Helper()
	b.ask(fmt.Sprintf(`(() => { const r = [...document.querySelectorAll('input[type=range]')].find((r) => r.ariaLabel?.startsWith(%[1]q) || [...r.labels].some((l) => l.textContent.trim().startsWith(%[1]q))); r.value = %[2]g; r.dispatchEvent(new Event('input', {bubbles: true})); return '' })()`, label, value))
}

// bring chooses a file in the page's file field.
func (b *browser) bring(name, content string) {
	b.t.Helper()
	path := filepath.Join(b.t.TempDir(), name)
	require.NoError(b.t, os.WriteFile(path, []byte(content), 0o644))
	b.do(chromedp.SetUploadFiles(chromedp.CSS(`input[type=file]`), []string{path}))
}

func TestFilesBecomeFields(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.keys("2")
	b.sees("in 7 fields")
	b.click("Bring a file")
	b.bring("utm.geojson", `{"type":"Polygon","crs":{"properties":{"name":"urn:ogc:def:crs:EPSG::25832"}},"coordinates":[]}`)
	b.sees("It is in another projection: save it as WGS 84")
	b.bring("notes.json", `{"milk": 3}`)
	b.sees("This is not a GeoJSON file")
	b.bring("plan.dwg", "nothing")
	b.sees("Fjell reads .geojson, .kml, .kmz, .gpx, .csv")
	b.bring("farm.geojson", `{"type":"FeatureCollection","features":[
	  {"type":"Feature","properties":{"name":"Vestjordet"},"geometry":{"type":"Polygon","coordinates":[[[9.19,61.13],[9.194,61.13],[9.194,61.132],[9.19,61.132],[9.19,61.13]]]}},
	  {"type":"Feature","properties":{"name":"Knot"},"geometry":{"type":"Polygon","coordinates":[[[9.18,61.13],[9.184,61.132],[9.184,61.13],[9.18,61.132],[9.18,61.13]]]}}]}`)
	b.sees("crosses itself")
	b.sees("4.80 ha")
	b.click("Bring in 1 thing")
	b.sees("1 thing of farm.geojson brought in")
	b.sees("in 8 fields")
	b.undo()
	b.sees("Taken back")
	b.sees("in 7 fields")

	// A field and its paddocks are renamed; one with stock in it does not leave the map.
	b.click("Look and choose")
	b.click("being grazed Sørjordet 1")
	b.click("Change its facts")
	b.fill("Name of the field", "Søre enga")
	b.click("Rename the field")
	b.sees("The field is called Søre enga")
	b.click("Take Søre enga off the map")
	b.sees("Cows and calves stand in it: move them first")
	b.fill("Closed because of", "reseeding")
	b.click("Save")
	b.sees("Sørjordet 1 saved")
	b.undo()
	b.sees("Taken back")
}

func TestDividingAConcaveField(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.keys("2")
	b.sees("in 7 fields")
	b.click("Draw a field")
	b.click("Type the corners instead")
	b.fill("Corners, a line each", "61.12 9.20")
	b.click("Use these corners")
	b.sees("Ground needs at least three corners")
	// A horseshoe open to the north.
	b.fill("Corners, a line each", strings.Join([]string{"61.120 9.200", "61.120 9.206", "61.123 9.206", "61.123 9.204", "61.1205 9.204", "61.1205 9.202", "61.123 9.202", "61.123 9.200"}, "\n"))
	b.click("Use these corners")
	b.sees("Name of the field")
	b.fill("Name of the field", "Hestesko")
	b.click("Keep this field")
	b.sees("Hestesko is on the map")
	b.keys("d")
	b.sees("Equal feed")
	b.choose("Field", b.ask(`[...document.querySelectorAll('option')].find((o) => o.textContent === 'Hestesko').value`))
	b.slide("How many", 2)
	b.slide("Fences run", 90)
	b.sees("would lie in several pieces")
	b.until("keeping it to be asked first", `[...document.querySelectorAll('button')].find((x) => x.textContent.includes('from today'))?.disabled`)
	b.click("Turn to")
	b.until("whole paddocks", `!document.body.innerText.includes('several pieces')`)
	b.slide("How many", 40)
	b.sees("m wide; at 12 m or more there is room for")
	b.slide("How many", 2)
	b.click("Names, and the days it holds")
	b.until("two rows", `document.querySelectorAll('[aria-label^="Name of paddock"]').length === 2`)
	b.ask(`(() => { const i = document.querySelector('[aria-label="Name of paddock 1"]'); i.value = 'Vestre'; i.dispatchEvent(new Event('input', {bubbles: true})); return '' })()`)
	b.click("Use “")
	b.sees("Hestesko has 2 paddocks")
	b.sees("Vestre")
	b.undo()
	b.sees("Taken back")
	b.until("one paddock again", `!document.body.innerText.includes('Vestre')`)

	// Under standing stock it asks where they stand.
	b.divideField("Sørjordet")
	b.sees("Cows and calves stand in Sørjordet: in which now?")
	b.click("Use “")
	b.sees("say in which of the new paddocks")
	b.choose("Cows and calves stand in Sørjordet", "2")
	b.click("Use “")
	b.sees("Sørjordet has")
}

func TestMovesByMouse(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.keys("6")
	b.until("bites", `document.querySelectorAll('g[data-visit]').length > 10`)
	// A bite of the coming days, and a row further down that is ground of the same mob.
	bite := `[...document.querySelectorAll('g.cursor-grab[data-visit]')].find((g) => g.getAttribute('aria-label').includes('Bekkelia 2'))`
	before := b.ask(`[...document.querySelectorAll('g[data-visit]')].map((g) => g.getAttribute('aria-label')).join('\n')`)
	letGo := b.hold(bite, 60, 108)
	b.until("what would come of it, before it is let go", `/The plan is|Neither better nor worse/.test(document.body.innerText)`)
	letGo()
	b.sees("Fixed:")
	b.until("a pinned bite", `[...document.querySelectorAll('g[data-visit]')].some((g) => g.getAttribute('aria-label').endsWith('fixed'))`)
	b.undo()
	b.sees("Taken back: Fixed")
	b.until("the plan of before", fmt.Sprintf(`[...document.querySelectorAll('g[data-visit]')].map((g) => g.getAttribute('aria-label')).join('\n') === %q`, before))

	// Another paddock from the shoulder, with its reasons.
	b.drag(bite, 0, 0)
	b.sees("Why here")
	b.click("Why not another paddock?")
	b.sees("Going elsewhere, with all else as it is, costs so much more:")
	b.sees("Held and fed")
	b.click("Take it")
	b.sees("Fixed:")
	b.click("Unfix")
	b.sees("is free to move again")

	// A school whose stop is above its start is refused at the field.
	b.click("Grazing rules")
	b.sees("The rules of this plan")
	b.fill("Leave at", "2800")
	b.click("Work it out")
	b.sees("The residual must lie below the entry of 2600 kg/ha")
	b.fill("Leave at", "1700")
	b.click("Work it out")
	b.sees("The moves are worked out anew")
	b.click("Keep this plan")
	b.sees("kept as it stands")
	b.click("list")
	b.until("the list", `document.querySelectorAll('table tbody tr').length > 10`)
}

func TestUnitsChangeWhatIsReadAndNothingElse(t *testing.T) {
	t.Parallel()
	b := onTheDemoFarm(t, 1280, 800)
	b.keys("3")
	b.sees("1 205 kg/day")
	b.click("The farm and its people")
	b.sees("People")
	b.choose("Units", "imperial")
	b.click("Save")
	b.sees("Farm saved")
	b.keys("3")
	b.sees("2 657 lb/day")
	b.click("What Cows and calves eat a day")
	b.sees("= 1 367 lb × 2.3 %")
	b.keys("2")
	b.sees("158.0 ac")
	b.click("The farm and its people")
	b.choose("Units", "metric")
	b.click("Save")
	b.sees("Farm saved")
	b.keys("3")
	b.sees("1 205 kg/day")
}

func TestAHandWalksAndMovesButDoesNotPlan(t *testing.T) {
	p := start(t, demoDatabase(t), "demo", "")
	b := open(t, 1280, 800)
	b.visit(p.url)
	b.click("Make a new account")
	b.fill("Your name", "Jon Tjern")
	b.fill("E-mail", "jon@example.org")
	b.fill("Password", "long enough for jon")
	b.click("Make the account")
	b.sees("Make a farm")
	b.visit(p.url + "/#/sign-in")
	b.fill("E-mail", demo.Email)
	b.fill("Password", demo.Password)
	b.keys(kb.Enter)
	b.sees("Stay or move?")
	b.click("The farm and its people")
	b.fill("E-mail of somebody", "nobody@example.org")
	b.click("Ask to join")
	b.sees("Has no account here yet")
	b.fill("E-mail of somebody", "jon@example.org")
	b.click("Ask to join")
	b.sees("asked to join as hand")
	b.sees("Jon Tjern, as hand")
	b.click("Sign out")
	b.sees("Make a new account")
	b.fill("E-mail", "jon@example.org")
	b.fill("Password", "long enough for jon")
	b.keys(kb.Enter)
	b.sees("asks you to join")
	b.click("Join Skarnvoll")
	b.sees("Stay or move?")
	b.sees("Go through the gate")
	assert.Equal(t, "Today Walk Sheet", b.ask(`[...document.querySelectorAll('nav')[0].querySelectorAll('a[aria-current], a[title*="(key"]')].map((a) => a.textContent.trim()).filter((x) => !['Sums'].includes(x)).join(' ')`))
	b.keys("3")
	b.sees("Into my calendar")
	b.accessible("a hand's sheet")
	assert.Equal(t, "0", b.count(`g[data-visit]`), "a hand does not drag moves")
	b.keys("2")
	b.sees("Calibrations")
	for _, place := range []string{"land", "stock", "queue"} {
		b.ask(`location.hash = location.hash.replace(/\w+$/, '` + place + `'), ''`)
		b.sees("This is for who plans here")
	}
	b.click("To today")
	b.sees("Go through the gate")
}

func TestStrangeFiguresAreReadBack(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.keys("3")
	b.click("New mob")
	b.fill("Name of the mob", "Heavy ewes")
	b.choose("Who they are", "ewe_dry")
	b.fill("Animals", "20")
	b.fill("Live weight", "620")
	b.click("Make the mob")
	b.sees("usually weigh 50 kg to 90 kg")
	b.fill("Live weight", "6200")
	b.click("Make the mob")
	b.sees("Live weight must be between 0.5 kg and 1500 kg")
	b.fill("Live weight", "120")
	b.ask(`(document.querySelector('form [role=alert] input[type=checkbox]')?.click(), '')`)
	b.click("Make the mob")
	b.until("the question or the mob", `document.body.innerText.includes('Heavy ewes made') || document.querySelector('form [role=alert] input[type=checkbox]')`)
	if b.ask(`String(document.body.innerText.includes('Heavy ewes made'))`) == "false" {
		b.ask(`(document.querySelector('form [role=alert] input[type=checkbox]').click(), '')`)
		b.click("Make the mob")
	}
	b.sees("Heavy ewes made")
	b.undo()
	b.sees("Taken back")
	b.until("no such mob", `!document.querySelector('article[aria-label="Heavy ewes"]')`)
}

func TestSumsCarryOnward(t *testing.T) {
	t.Parallel()
	p := start(t, database(t), "serve", morning)
	b := open(t, 1280, 800)
	began := time.Now()
	b.visit(p.url)
	b.click("Feed in a paddock")
	b.sees("2 070 kg")
	t.Logf("a first true answer after %v", time.Since(began).Round(10*time.Millisecond))
	b.fill("Area", "3")
	b.sees("3 450 kg")
	b.click("Days of feed")
	b.sees("from “Feed in a paddock, of its example”") // the area is one's own, the rest still the example's
	b.until("the feed carried over", `[...document.querySelectorAll('input')].some((i) => i.value === '3450')`)
	b.sees("4.6 days")
	b.fill("What the mob eats a day", "-5")
	b.sees("What the mob eats a day must be above 0 kg/day")
	b.fill("What the mob eats a day", "1150")
	b.sees("3 days")
	b.keys(kb.Tab)
	b.ask(`(document.activeElement.blur(), '')`)
	b.keys("/")
	b.sees("Find anything, do any sum")
	b.ask(`(document.querySelector('dialog[open] input').focus(), '')`)
	b.keys("strip" + kb.Enter)
	b.sees("Front fence moves")
	// Every sum opens with an answer to its own example, and fits the page, on a laptop and on a phone.
	keys := strings.Split(b.ask(`fetch('/api/sums').then((r) => r.json()).then((l) => l.map((x) => x.key).join(' '))`), " ")
	require.Len(t, keys, 26)
	for _, width := range []int64{1280, 390} {
		b.do(chromedp.EmulateViewport(width, 844))
		for _, key := range keys {
			b.visit(p.url + "/#/sums/" + key)
			b.sees("The working")
			assert.Equal(t, "true", b.ask(`String([...document.querySelectorAll('main, main *')].every((e) => e.getBoundingClientRect().right <= innerWidth + 1 || e.closest('.overflow-x-auto, svg')))`), "%s at %d", key, width)
			assert.Equal(t, "0", b.count(`main [role=alert]`), key)
		}
	}
}

func TestAMoveAgainstALimitAsksWhy(t *testing.T) {
	b := onTheDemoFarm(t, 390, 844)
	b.click("Go through the gate")
	b.sees("They went to")
	b.ask(`(() => { const s = [...document.querySelectorAll('select')].find((x) => [...x.options].some((o) => o.text.startsWith('Tjern 2')))
		s.value = [...s.options].find((o) => o.text.startsWith('Tjern 2')).value; s.dispatchEvent(new Event('change', {bubbles: true})); return '' })()`)
	b.click("Moved")
	b.sees("Tjern 2 is not ground of Cows and calves: did they go there all the same?")
	b.ask(`([...document.querySelectorAll('label')].find((l) => l.innerText.includes('Yes, it is so')).click(), '')`)
	b.click("Moved")
	b.sees("say why they went there all the same")
	b.fill("Note", "the bridge is out")
	b.click("Moved")
	b.sees("Cows and calves moved to Tjern 2")
}

func TestAPlanIsGradedAndAMoveOfTheBetterOneIsTaken(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.keys("6")
	b.click("How good is it?")
	b.sees("No plan at all can spare")
	b.sees("What the searched plan does next")
	b.accessible("the grade of a plan")
	fixed := `[...document.querySelectorAll('g[data-visit]')].filter((g) => g.getAttribute('aria-label').endsWith('fixed')).length`
	before := b.ask(`String(` + fixed + `)`)
	b.click("Fix it")
	b.sees("Everything after it was worked out anew.")
	b.until("one move more is fixed", fixed+` === `+before+` + 1`)
	b.sees("as planned")
	b.click("Undo")
	b.sees("Taken back")
	b.until("and let go again", fixed+` === `+before)
}
