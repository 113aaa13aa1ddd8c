package e2e

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"fjell/internal/demo"
)

// A phone that several hands share.

// A hand hands the phone on where there is no signal: the farm is gone from it at once, what is held stays and goes under their own
// name, and the session ends before anything else once there is a signal.
func TestSigningOutWithoutASignal(t *testing.T) {
	b, s := onTheDemoFarmFarOut(t, 390, 844)
	b.keepsAll()
	farm := b.ask(`location.href`)
	s.off()
	b.click("Go through the gate")
	b.sees("They went to")
	b.click("Moved")
	b.sees("held here, safe")
	b.visit(strings.Replace(farm, "/today", "/farm", 1))
	b.sees("One thing you entered is not with the farm yet. It stays on this device and goes when you sign in here again.")
	b.click("Sign out all the same")
	b.sees("Signed out on this device.")
	b.sees("One thing waits on this device")
	b.visit(farm)
	b.sees("No signal")
	assert.NotContains(t, b.ask(`document.body.innerText`), "Stay or move?", "nothing of the farm can be read")

	s.on()
	b.visit("http://" + s.address)
	b.sees("Make a new account")
	assert.Equal(t, "401", b.ask(`fetch('/api/me').then((r) => String(r.status))`), "the session is over")
	b.sees("One thing waits on this device")
	b.fill("E-mail", demo.Email)
	b.fill("Password", demo.Password)
	b.click("Sign in")
	b.sees("in Sørjordet 5 since this morning")
	b.keepsAll()
}

// Somebody ended the session from another device: what the phone kept of the farm goes as soon as it hears.
func TestASessionEndedElsewhereLeavesNoFarmToRead(t *testing.T) {
	b, s := onTheDemoFarmFarOut(t, 390, 844)
	b.keepsAll()
	farm := b.ask(`location.href`)
	b.ask(`fetch('/api/sign-out', { method: 'POST' }).then(() => '')`)
	b.click("Walk")
	b.sees("You were signed out")
	s.off()
	b.visit("about:blank")
	b.visit(farm)
	b.sees("No signal")
	assert.NotContains(t, b.ask(`document.body.innerText`), "Stay or move?")
	b.visit(strings.Split(farm, "#")[0] + "#/sums/strip")
	b.sees("The working") // anybody's
}
