package e2e

import "testing"

// A caution is met where its condition is, read, put away for oneself alone, and back when its condition returns; what no record tells is said.
func TestCautionsAreSeenPutAwayAndComeBack(t *testing.T) {
	b := onTheDemoFarm(t, 390, 844)
	b.sees("5 things need minding")
	b.click("look at this Yearling heifers: First turnout")
	b.sees("4 days on pasture this season")
	b.accessible("a caution")
	b.click("Seen: put it away")
	b.sees("Put away, for you alone.")
	b.sees("4 things need minding")
	b.click("All cautions, 1 of them put away")
	b.sees("Yearling heifers · put away")
	b.choose("Say", "lightning_forecast")
	b.choose("For how long", "1")
	b.click("It is so")
	b.sees("thunder forecast, or heard in the last half hour, until tomorrow")
	b.accessible("all cautions")
	b.click("Close")
	b.sees("5 things need minding")
	b.sees("Skarnvoll: Lightning: thunder forecast")
}
