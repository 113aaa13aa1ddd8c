package e2e

import (
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
)

// Key plants are measured one after the other on a phone: use is judged by weight as they come, kept, said on Today, and taken back.
func TestKeyPlantsAreTalliedAtTheGate(t *testing.T) {
	b := onTheDemoFarm(t, 390, 844)
	b.click("Key plants")
	b.sees("Height of grazed plant 1, leaf")
	b.fill("Key species", "Timothy")
	for range 3 {
		b.fill("Height of grazed plant", "4")
		b.keys(kb.Enter)
	}
	b.sees("Grazed, 3 of 30")
	b.click("Ungrazed, 0 of 30")
	for range 2 {
		b.fill("Height of ungrazed plant", "20")
		b.keys(kb.Enter)
	}
	b.sees("above the limit of 50")
	b.sees("55 plants more make a mean to move a mob by")
	b.accessible("a tally")
	b.click("Keep this tally")
	b.until("the sheet gone", `!document.querySelector("dialog[open]")`)
	b.sees("of the weight of Timothy is used")
	b.click("Key plants")
	b.sees("Before, in this paddock")
	b.click("Take back")
	b.until("it is gone", `!document.body.innerText.includes('Before, in this paddock')`)
}

// What was bought lately carries a mark until somebody has seen it keep off the wire; a look says how the classes are, held against the farm's own targets.
func TestClassesAreMarkedAndLookedAt(t *testing.T) {
	b := onTheDemoFarm(t, 390, 844)
	b.click("Why, and what else")
	b.click("Anybody new to electric fence?")
	b.sees("never first behind a single wire")
	b.accessible("new to electric fence")
	b.click("Mark them")
	b.until("the sheet gone", `!document.querySelector("dialog[open]") && !location.hash.includes("training")`)
	b.sees("Marked as new to electric fence.")
	b.sees("are learning the fence, week 1 of 2")
	b.click("Anybody new to electric fence?")
	b.click("They know it")
	b.until("the mark gone", `!document.body.innerText.includes('are learning the fence')`)
	b.click("Close")
	b.until("the sheet gone", `!document.querySelector("dialog[open]") && !location.hash.includes("training")`)

	b.click("Look")
	b.click("Condition by class, the lame and the thin by tag")
	b.fill("Condition", "2.6")
	b.fill("Lame, tags", "112")
	b.click("Keep this look")
	b.sees("Must be 1 to 5 in quarters")
	b.fill("Condition", "2.75")
	b.accessible("a look with animals")
	b.click("Keep this look")
	b.until("the sheet gone", `!document.querySelector("dialog[open]")`)
	b.sees("lame: 112")
}

// A farm says what it wants of its ground; another's change meanwhile is shown beside it.
func TestAFarmHasItsOwnTargets(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.click("Farm")
	b.sees("Your own targets")
	b.fill("Bare, at most", "5")
	b.fill("Legumes, from", "60")
	b.fill("Legumes, until", "40")
	b.click("Keep these targets")
	b.sees("Must not lie below")
	b.fill("Legumes, from", "20")
	b.click("Keep these targets")
	b.sees("Kept: looks and volts are held against it.")
	b.accessible("own targets")
	b.undo()
	b.until("taken back", `[...document.querySelectorAll('label')].some((l) => l.textContent === 'Bare, at most' && document.getElementById(l.htmlFor).value === '')`)
	assert.Equal(t, "0", b.count("dialog[open]"))
}

// A photo point is named once; the next photo from it is taken with the last one over the camera.
func TestAPhotoPointIsTakenAgain(t *testing.T) {
	b := onTheDemoFarm(t, 390, 844)
	b.click("Look")
	b.photo()
	b.fill("From a photo point", "Gate post, north")
	b.click("Keep this look")
	b.until("the sheet gone", `!document.querySelector("dialog[open]") && !location.hash.includes("look")`)
	b.sees("Photo point Gate post, north, Sørjordet 1")
	b.click("Look")
	b.sees("known here: Gate post, north")
	b.fill("From a photo point", "Gate post, north")
	b.click("Take it with this one over the camera")
	b.until("the camera runs, the last photo over it", `document.querySelector('video')?.videoWidth > 0 && document.querySelector('video + img')?.complete`)
	b.click("Take it so")
	b.sees("Take a photo (1)")
	b.click("Keep this look")
	b.until("the sheet gone", `!document.querySelector("dialog[open]") && !location.hash.includes("look")`)
	b.sees("2 photos")
	b.click("Photo point Gate post, north")
	b.until("both, side by side", `[...document.querySelectorAll('dialog[open] img')].filter((i) => i.complete && i.naturalWidth).length === 2`)
}
