package year_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"fjell/core/year"
)

// hungryIdle is a farm whose summer grass nobody eats, and whose winter lacks.
func hungryIdle() year.Case {
	c := farm(12)
	c.Store = 0
	for m := range 4 {
		c.Groups[0].Pasture[m] = 0
	}
	return c
}

func TestDoingNothingIsSaidInWords(t *testing.T) {
	said := func(c year.Case) string {
		b := year.Balance(c, nil)
		var out []string
		for _, s := range year.Say(c, b, c.Gaps(b), year.Foresee(c, 60, 1)) {
			out = append(out, s.Text)
		}
		return strings.Join(out, ". ")
	}
	hungry := said(farm(12))
	assert.Contains(t, hungry, "Feed is missing")
	assert.Contains(t, hungry, "to March 2027", "the year is said where it is another")
	assert.Contains(t, hungry, "in any year's weather")

	rich := farm(12)
	rich.Store = 400000
	assert.Contains(t, said(rich), "nothing is missing")
	assert.Contains(t, said(rich), "Hardly a year's weather")

	close := farm(12)
	close.Store = 54000
	assert.Regexp(t, `\{n\} of 10 years' weather`, said(close))

	idle := farm(12)
	idle.Store = 400000
	for m := range idle.Groups[0].Pasture {
		idle.Groups[0].Pasture[m] = 0
	}
	assert.Contains(t, said(idle), "die standing")
	assert.NotContains(t, said(idle), "Feed is missing")
	assert.Contains(t, said(idle), "could be sold")
	assert.Contains(t, said(hungryIdle()), "to the months that lack")

	// What is to spare is told in kilograms, days and head that agree with one another.
	b := year.Balance(idle, nil)
	for _, s := range year.Say(idle, b, nil, year.Foresee(idle, 20, 1)) {
		if strings.Contains(s.Text, "die standing") {
			year := b.Sum(0, 12)
			share := s.Figures[0].Value / year.Wanted()
			assert.InDelta(t, 365*share, s.Figures[1].Value, 1)
			assert.InDelta(t, idle.Head(0, 12)*share, s.Figures[2].Value, 1)
		}
	}
}
