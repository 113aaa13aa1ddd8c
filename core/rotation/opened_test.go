package rotation

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestOpenedGroundIsOpenOnThoseDaysAndNoOthers(t *testing.T) {
	day := func(n int) time.Time {
		if n == 0 {
			return time.Time{}
		}
		return start.AddDate(0, 0, n)
	}
	shut := func(cs []Closure, at time.Time) bool {
		_, closed := Paddock{Closures: cs}.ClosedAt(at)
		return closed
	}
	rapid.Check(t, func(t *rapid.T) {
		var closures []Closure
		for range rapid.IntRange(0, 3).Draw(t, "closures") {
			from, long := rapid.IntRange(-20, 40).Draw(t, "from"), rapid.IntRange(0, 30).Draw(t, "long")
			c := Closure{From: start.AddDate(0, 0, from), For: "hay", Hay: true}
			if long > 0 {
				c.Until = c.From.AddDate(0, 0, long)
			}
			closures = append(closures, c)
		}
		from := rapid.IntRange(1, 20).Draw(t, "opened")
		until := rapid.SampledFrom([]int{0, from + 1, from + 9, from + 40}).Draw(t, "until")
		opened := Opened(closures, day(from), day(until))
		for n := -25; n < 90; n++ {
			at := start.AddDate(0, 0, n)
			open := n >= from && (until == 0 || n < until)
			assert.Equal(t, shut(closures, at) && !open, shut(opened, at), "day %d", n)
		}
	})
}

func TestNitrogenGrowsWhatItGivesAndNoMore(t *testing.T) {
	gift := Nitrogen(40, 12, start)
	assert.InDelta(t, 480, gift.Rate*gift.Until.Sub(gift.From).Hours()/24, 1e-9)
	assert.Equal(t, start.AddDate(0, 0, 5), gift.From)
}

func TestWhatWasDressedIsCountedInThePastToo(t *testing.T) {
	f := farmOf(2, 1)
	day := func(n int) time.Time { return start.AddDate(0, 0, n) }
	f.Paddocks[1].Gifts = []Gift{Nitrogen(42, 10, day(0))}
	looks := []Measured{{Paddock: 0, At: day(0), Mass: 1800, HalfWidth: 200, Shared: 100}, {Paddock: 1, At: day(0), Mass: 1800, HalfWidth: 200, Shared: 100}}
	after := func(n int) (without, with float64) {
		past := Recount(f, nil, []Standing{Guess(leys, 5000), Guess(leys, 5000)}, nil, looks, day(0), day(n))
		return past.Mass[0], past.Mass[1]
	}
	without, with := after(4)
	assert.InDelta(t, without, with, 1e-9, "it does not show yet")
	without, with = after(15)
	assert.InDelta(t, without+100, with, 25, "ten a day for ten days, and what more leaf grows")
}
