package queue_test

import (
	"context"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"fjell/core/queue"
	"fjell/core/rotation"
)

// Twenty weeks, each with what a good manager would do among the first three, and what never.
func TestAdviceIsWhatAGoodManagerWouldDo(t *testing.T) {
	with := func(c queue.Case, edits ...func(*queue.Case)) queue.Case {
		for _, e := range edits {
			e(&c)
		}
		return c
	}
	stand := func(p int, mass float64) func(*queue.Case) {
		return func(c *queue.Case) { c.Standing[p].Mass = mass }
	}
	eat := func(kg float64) func(*queue.Case) {
		return func(c *queue.Case) {
			was := c.Mobs[0].Demand.On(0)
			c.Mobs[0].Demand = rotation.Steady(kg)
			for i := range c.Classes[0] {
				c.Classes[0][i].Demand = rotation.Steady(c.Classes[0][i].Demand.On(0) * kg / was)
			}
		}
	}
	swards := func(legume, response float64) func(*queue.Case) {
		return func(c *queue.Case) {
			for p := range c.Swards {
				c.Swards[p].Legume, c.Swards[p].Response = legume, response
			}
		}
	}
	grow := func(peak float64) func(*queue.Case) {
		return func(c *queue.Case) {
			for p := range c.Farm.Paddocks {
				c.Farm.Paddocks[p].Peak = peak
			}
		}
	}
	reserve := func(p int) func(*queue.Case) { return func(c *queue.Case) { c.Farm.Paddocks[p].Reserve = true } }
	hay := func(p int) func(*queue.Case) {
		return func(c *queue.Case) {
			c.Farm.Paddocks[p].Closures = []rotation.Closure{{From: monday.AddDate(0, 0, -20), Until: monday.AddDate(0, 0, 50), For: "hay"}}
		}
	}
	short := func() queue.Case { return round(900, 1700, 1900, 1800, 1700, 1600, 1600) }
	fine := func() queue.Case {
		return with(round(640, 1900, 2650, 2500, 2350, 2200, 2050, 1900, 1750), grow(47))
	}
	flush := func() queue.Case { return with(usual(), grow(100), eat(420)) }
	for name, x := range map[string]struct {
		c     queue.Case
		any   string // one of these kinds is among the first three
		never string
		none  bool // it is best left as it is
	}{
		"a flush, few mouths":                {c: flush(), any: "cut close head", never: "supplement nitrogen rent"},
		"one far past its best":              {c: with(flush(), stand(3, 4300)), any: "cut", never: "supplement"},
		"three past their best":              {c: with(flush(), stand(2, 3900), stand(3, 4100), stand(4, 3700)), any: "cut", never: "supplement nitrogen"},
		"a flush on clover":                  {c: with(flush(), swards(0.35, 10)), any: "cut close head", never: "nitrogen supplement"},
		"a flush on native grass":            {c: with(flush(), swards(0.03, 5)), any: "cut close head", never: "nitrogen"},
		"some to spare, nobody short":        {c: with(usual(), grow(80), eat(520), stand(1, 3600)), any: "cut close head", never: "supplement rent"},
		"as it should be":                    {c: fine(), none: true},
		"as it should be, a little below":    {c: with(fine(), stand(4, 2100)), none: true},
		"short, and soon":                    {c: short(), any: "supplement head", never: "cut close pass"},
		"short by a half":                    {c: with(short(), eat(1300)), any: "head supplement", never: "cut close pass"},
		"short on native grass":              {c: with(short(), swards(0.03, 5)), any: "head supplement", never: "nitrogen cut"},
		"short on clover":                    {c: with(short(), swards(0.4, 10)), any: "head supplement", never: "nitrogen cut"},
		"short, with ground kept in reserve": {c: with(round(780, 1700, 1900, 1800, 1700, 1600, 3000), reserve(5)), any: "head supplement nitrogen", never: "cut close"}, // the plan goes into it in need by itself
		"short, with hay closed up":          {c: with(round(780, 1700, 1900, 1800, 1700, 1600, 3000), hay(5)), any: "reopen", never: "cut close"},
		"a slow spring":                      {c: with(usual(), grow(25)), any: "supplement head nitrogen", never: "cut close"},
		"growth stops":                       {c: with(usual(), grow(6)), any: "head supplement", never: "cut close pass"},
		"young at foot, and short":           {c: with(short(), eat(850)), any: "head supplement", never: "cut"},
		"a gap in a month":                   {c: with(usual(), grow(30)), any: "supplement head nitrogen", never: "cut close"},
		"many mouths on good grass":          {c: with(usual(), eat(1300)), any: "head supplement", never: "close pass"},
		"one paddock left standing":          {c: with(fine(), grow(60), stand(6, 4400)), any: "cut close head pass", never: "supplement rent"},
	} {
		list := queue.Advise(t.Context(), x.c)
		var said []string
		for i, a := range list {
			if i == 3 {
				break
			}
			for _, l := range a.Levers {
				said = append(said, l.Kind)
			}
			assert.LessOrEqual(t, a.Tried.Behind.ShortKg, a.Tried.Before.ShortKg+1, "%s: no advice opens a hole", name)
			assert.NotEmpty(t, a.Why, name)
			if i > 0 {
				assert.LessOrEqual(t, a.Spares, list[i-1].Spares, "%s: the best first", name)
			}
		}
		all := " " + strings.Join(said, " ") + " "
		if x.none {
			assert.Empty(t, said, "%s: nothing is best", name)
			continue
		}
		hit := false
		for _, k := range strings.Fields(x.any) {
			hit = hit || strings.Contains(all, " "+k+" ")
		}
		assert.True(t, hit, "%s: wanted one of %s, said %s", name, x.any, said)
		for _, k := range strings.Fields(x.never) {
			assert.NotContains(t, all, " "+k+" ", "%s: said %s", name, said)
		}
	}
}

func TestAdviceEndsWhenItIsTold(t *testing.T) {
	ctx, stop := context.WithCancel(t.Context())
	stop()
	assert.Empty(t, queue.Advise(ctx, round(900, 1700, 1900, 1800, 1700, 1600)))
}

func BenchmarkAdvise(b *testing.B) {
	masses := make([]float64, 60)
	for i := range masses {
		masses[i] = 1600 + float64(i%12)*60
	}
	c := round(900*60/8, masses...)
	c.Farm = c.Farm.WithAlmanac(c.Mobs, monday.AddDate(0, 0, -1), c.Until())
	for b.Loop() {
		queue.Advise(b.Context(), c)
	}
}

// What is carried home is worth something, a hole is never worth it.
func TestAdviceOpensNoHole(t *testing.T) {
	c := round(760, 1900, 4300, 4300, 2000, 1900, 1800)
	both, err := queue.Try(c, []queue.Lever{{Kind: queue.Cut, Paddock: "p1"}, {Kind: queue.Cut, Paddock: "p2"}})
	assert.NoError(t, err)
	assert.Greater(t, both.Behind.ShortKg, both.Before.ShortKg+0.01*760*56, "the case is one in which cutting both opens a hole")
	for _, a := range queue.Advise(t.Context(), c) {
		assert.LessOrEqual(t, a.Tried.Behind.ShortKg, a.Tried.Before.ShortKg+0.01*760*56, "%v", a.Levers)
	}
}
