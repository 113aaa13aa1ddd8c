package e2e

import "testing"

// Somebody takes over for a week: the card is made in Farm, and read by its link by somebody who has no account, on their phone.
func TestSomebodyTakesOverByALink(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.click("Farm")
	b.sees("Somebody takes over")
	b.click("Make the card")
	b.sees("Give it a name")
	b.fill("For whom", "Siv next door")
	b.fill("What is normal here", "52 cows, quiet. The far end reads 5 kV.")
	b.click("Make the card")
	b.sees("It opens until the end of Tue 16 June, and is shown only now.")
	b.sees("Siv next door, today to Tue 16 June")
	b.accessible("farm with a card")
	link := b.ask(`[...document.querySelectorAll('p')].find((p) => p.innerText.includes('#/handover/')).innerText.trim()`)

	siv := open(t, 390, 844)
	siv.visit(link)
	siv.sees("Skarnvoll, for Siv next door")
	siv.sees("The far end reads 5 kV.")
	siv.sees("to Sørjordet 5")
	siv.sees("How they are moved")
	siv.sees("Whom to call")
	siv.accessible("the card")

	b.click("End it: the card for Siv next door")
	b.sees("opens nothing any more")
	siv.visit("about:blank")
	siv.visit(link)
	siv.sees("This link has been used, or is too old")
}
