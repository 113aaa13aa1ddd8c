package year_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"fjell/core/year"
)

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
}
