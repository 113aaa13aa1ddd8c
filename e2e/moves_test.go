package e2e

import "testing"

// A better plan is looked for, round by round; it can be stopped and taken back, and what is new is said.
func TestABetterPlanIsLookedFor(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.keys("5")
	b.sees("Worked out one move at a time")
	b.click("Look for a better plan")
	b.sees("Looking through many plans: round 1 of 3")
	b.click("Stop")
	b.sees("The plan now spares")
	b.until("the search to be told of", `document.body.innerText.includes('Searched today')`)
	b.accessible("moves, searched")
	b.click("Undo")
	b.sees("Worked out one move at a time")

	// How good it is leads to the same search, on to its end.
	b.click("How good is it?")
	b.click("Take the better plan")
	b.sees("No plan can spare more than")
	first := b.ask(`fetch('/api/farms/' + localStorage.getItem('fjell.farm') + '/plan').then((r) => r.json()).then((p) => String(p.search.rounds))`)
	if first != "3" {
		t.Errorf("it ended after %s rounds of 3", first)
	}

	// Something new is said, and the plan goes on being followed.
	b.keys("3")
	b.click("New event")
	b.choose("What", "death")
	b.click("It happened")
	b.choose("Died of", b.ask(`[...document.querySelectorAll('option')].find((o) => o.textContent === 'Lambs').value`))
	b.fill("Animals", "2")
	b.click("Write it down")
	b.sees("Written down")
	b.keys("5")
	b.sees("Something is new since this plan was searched for")
}
