package year_test

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fjell/core/year"
)

func TestCriticalDatesFollowTheGrowingCalendar(t *testing.T) {
	c := ley(24) // from April on
	dates := c.CriticalDates(1./3, 0.5, 2./3, 0.9)
	require.NotEmpty(t, dates)
	for i, d := range dates {
		assert.False(t, d.At.Before(c.Months[0].From.AddDate(0, 0, 21)), "a date of a few days says little")
		assert.True(t, !d.At.Before(c.Months[d.Month].From) && d.At.Before(c.Months[d.Month].Until))
		assert.InDelta(t, d.Part, d.At.Sub(c.Months[d.Month].From).Hours()/c.Months[d.Month].Until.Sub(c.Months[d.Month].From).Hours(), 1e-9)
		if i > 0 {
			assert.True(t, d.At.After(dates[i-1].At))
		}
	}
	// Of 160 t in a year 0.1 comes in April, 0.22 in May, 0.24 in June and 0.01 in March: half of it by 21 June.
	half := map[float64]time.Time{}
	for _, d := range dates {
		if _, known := half[d.Share]; !known {
			half[d.Share] = d.At
		}
	}
	assert.Equal(t, "2026-06-22", half[0.5].Format(time.DateOnly))
	south := c
	south.Southern = true
	assert.Equal(t, time.September, south.CriticalDates(1. / 3)[0].At.Month(), "in the south a season begins in July")
}

func plan(trigger float64) year.DroughtPlan {
	return year.DroughtPlan{Trigger: trigger, Leave: []year.Leave{{Group: 0, Most: 0.6}}}
}

func TestADroughtPlanActsWhenGrowthLags(t *testing.T) {
	c := ley(12)
	c.Strays = year.Strays{Month: 0.35, Keep: 0.6, Year: 0.3}
	c.Store = 40000
	dates := c.CriticalDates(0.5, 2./3)
	never := year.Rehearse(c, plan(0), dates, c.Drawn(150, 1))
	assert.Zero(t, never.Ever)
	assert.Equal(t, never.Without, never.With)
	last := 0.0
	for _, trigger := range []float64{0.5, 0.7, 0.9, 1.2} {
		r := year.Rehearse(c, plan(trigger), dates, c.Drawn(150, 1))
		assert.GreaterOrEqual(t, r.Ever, last, "a higher trigger acts in no fewer years")
		assert.LessOrEqual(t, r.With.Kg.High, r.Without.Kg.High+1e-9, "and no more is missing for it")
		assert.LessOrEqual(t, r.Needless, r.Ever)
		last = r.Ever
	}
	r := year.Rehearse(c, plan(0.8), dates, c.Drawn(150, 1))
	require.Len(t, r.Dates, len(dates))
	assert.Positive(t, r.Ever)
	assert.Less(t, r.With.Kg.High, r.Without.Kg.High, "in a poor year less is missing")
	for _, d := range r.Dates {
		assert.LessOrEqual(t, d.Head[0], 0.6*40)
		assert.LessOrEqual(t, d.Acts, r.Ever+1e-9)
	}
	calm := c
	calm.Strays = year.Strays{}
	assert.Zero(t, year.Rehearse(calm, plan(0.99), dates, calm.Drawn(20, 1)).Ever, "without weather growth never lags")
}

// Head leave in the order of the plan, whole, no more than may, and for no more than is missing beyond an ordinary year.
func TestStockLeaveInOrder(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := ley(12 + rapid.IntRange(0, 12).Draw(t, "more"))
		second := c.Groups[0]
		second.Name, second.Pieces = "Heifers", nil
		second.Pasture = append([]float64{}, second.Pasture...)
		for m := range second.Pasture {
			second.Pasture[m] *= 0.3
		}
		c.Groups = append(c.Groups, second)
		c.Store = rapid.Float64Range(0, 90000).Draw(t, "store")
		growth := make([]float64, len(c.Months))
		low := rapid.Float64Range(0.2, 1.2).Draw(t, "growth")
		for m := range growth {
			growth[m] = low
		}
		at := year.Critical{Month: rapid.IntRange(0, 9).Draw(t, "month"), Part: rapid.Float64Range(0, 0.99).Draw(t, "part")}
		most := rapid.Float64Range(0, 1).Draw(t, "most")
		goes, missing := c.Fit(at, growth, []year.Leave{{Group: 1, Most: most}, {Group: 0, Most: 1}})
		for g, n := range goes {
			if n != float64(int(n)) || n < 0 || n > c.Groups[g].Head[at.Month] {
				t.Fatalf("group %d: %g leave", g, n)
			}
		}
		if missing == 0 && goes[0]+goes[1] > 0 {
			t.Fatal("they leave for nothing")
		}
		if goes[0] > 0 && goes[1] < float64(int(most*40)) {
			t.Fatal("those that leave first stay")
		}
		left := c.Without(at, goes)
		for g := range goes {
			if share := goes[g] / c.Groups[g].Head[at.Month]; math.Abs(left.Groups[g].Pasture[at.Month]-c.Groups[g].Pasture[at.Month]*(1-share*(1-at.Part))) > 1e-9 {
				t.Fatal("until they left they ate")
			}
		}
		for m := range left.Months {
			for g := range left.Groups {
				if left.Groups[g].Pasture[m] > c.Groups[g].Pasture[m]+1e-9 || left.Groups[g].Pasture[m] < 0 || m < at.Month && left.Groups[g].Head[m] != c.Groups[g].Head[m] {
					t.Fatalf("month %d", m)
				}
			}
		}
		if a, b := year.Balance(left, growth).Sum(0, len(c.Months)).Missing, year.Balance(c, growth).Sum(0, len(c.Months)).Missing; a > b+1e-6 {
			t.Fatalf("%g missing after they left, %g before", a, b)
		}
	})
}
