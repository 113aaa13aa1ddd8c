package year_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/reference"
	"fjell/core/year"
)

// ley is the farm of these tests on named fields of a sward that nitrogen is for.
func ley(n int) year.Case {
	c := farm(n)
	sward, _ := reference.Load().Sward("upland_bent_fescue")
	for p := range c.Pieces {
		c.Pieces[p].FieldID, c.Pieces[p].Of = c.Pieces[p].Field, sward
	}
	return c
}

func done(t *testing.T, c year.Case, options ...year.Option) (year.Case, []year.Done) {
	t.Helper()
	with, out, err := c.With(options)
	require.NoError(t, err)
	return with, out
}

func grown(c year.Case, from, to int) float64 { return year.Balance(c, nil).Sum(from, to).Grown }

func TestWhatIsGrownBesideLandsInItsMonths(t *testing.T) {
	c := ley(24) // from April on
	before := grown(c, 0, 24)
	with, out := done(t, c, year.Option{Input: "nitrogen_late_spring_cool", Field: "F0", Month: 1, AreaHa: 5, Price: 80})
	assert.InDelta(t, before+0.9*1000*5, grown(with, 0, 24), 1e-6, "once, and not again next year")
	assert.InDelta(t, 0.9*1000*5*0.6, out[0].Extra, 1e-6)
	assert.InDelta(t, 400, out[0].Cost, 1e-9)
	assert.Equal(t, time.May, out[0].Arrives.Month())
	assert.InDelta(t, 0.5*4500, grown(with, 2, 3)-grown(c, 2, 3), 1e-6, "half of it in June")
	assert.Equal(t, before, grown(c, 0, 24), "the case it began from stays as it is")

	// Clover comes again each year of its life; its cost is spread over it.
	with, out = done(t, ley(36), year.Option{Input: "overseed_grass_drilled", Field: "F1", Month: 4, Price: 200})
	assert.Positive(t, grown(with, 24, 36)-grown(ley(36), 24, 36))
	years := with.Months[35].Until.Sub(with.Months[4].From).Hours() / 24 / 365.25
	assert.InDelta(t, 10*200*years/4, out[0].Cost, 1, "its cost over four years")

	// Nothing comes before there was time to grow it.
	with, out = done(t, ley(12), year.Option{Input: "perennial_establishment_native_warm", Field: "F0", Month: 1, Anyway: true})
	assert.Zero(t, out[0].Extra)
	assert.Nil(t, out[0].Arrives)
	assert.InDelta(t, grown(ley(12), 0, 12)-80000*(1-spring[0]), grown(with, 0, 12), 1e-6, "and the old sward of that field has gone with the plough")
	assert.Contains(t, out[0].Says[0].Text, "nothing of it comes")
}

func TestWhatIsStockpiledIsTakenFromTheAutumn(t *testing.T) {
	c := ley(12)
	with, out := done(t, c, year.Option{Input: "stockpile_cool", Field: "F0", Month: 4, AreaHa: 2})
	assert.InDelta(t, grown(c, 0, 12), grown(with, 0, 12), 1e-6, "it moves feed and makes none")
	assert.Less(t, grown(with, 5, 7), grown(c, 5, 7), "September and October give it up")
	assert.Greater(t, grown(with, 7, 11), grown(c, 7, 11), "November to February have it")
	assert.InDelta(t, 1.8*1000*2*0.65, out[0].Extra, 1)

	// No more is carried than grows there.
	with, _ = done(t, c, year.Option{Input: "stockpile_cool", Field: "F0", Month: 4})
	assert.InDelta(t, grown(c, 0, 12), grown(with, 0, 12), 1e-6)
	for _, pc := range with.Pieces {
		for m, kg := range pc.Grown {
			assert.GreaterOrEqual(t, kg, -1e-9, "month %d", m)
		}
	}
}

func TestBoughtFeedFillsAGapByWhatIsSwallowed(t *testing.T) {
	c := ley(12)
	c.Store = 0
	missing := year.Balance(c, nil).Sum(0, 12).Missing
	with, out := done(t, c, year.Option{Input: "bought_hay", Month: 7, Tonnes: 10, Price: 150})
	assert.InDelta(t, 10*1000*0.86*0.8, out[0].Extra, 1e-6)
	assert.InDelta(t, 1500, out[0].Cost, 1e-9)
	assert.InDelta(t, missing-out[0].Extra, year.Balance(with, nil).Sum(0, 12).Missing, 1e-6)
}

func TestFewerHeadWantLess(t *testing.T) {
	c := ley(12)
	before := year.Balance(c, nil).Sum(0, 12)
	with, out := done(t, c, year.Option{Head: -10, Month: 6, Price: -900})
	after := year.Balance(with, nil).Sum(0, 12)
	assert.InDelta(t, before.Wanted()-out[0].Extra, after.Wanted(), 1e-6)
	assert.InDelta(t, 0.25*(year.Balance(c, nil).Sum(6, 12).Wanted()), out[0].Extra, 1e-6)
	assert.InDelta(t, -9000, out[0].Cost, 1e-9)
	more, _ := done(t, c, year.Option{Head: 10, Month: 6})
	assert.Greater(t, year.Balance(more, nil).Sum(0, 12).Missing, before.Missing)
}

func TestOptionsAddUpAndConserve(t *testing.T) {
	c := ley(24)
	options := []year.Option{{Input: "nitrogen_late_spring_cool", Field: "F0", Month: 1}, {Input: "stockpile_cool", Field: "F0", Month: 4, AreaHa: 3}, {Input: "bought_hay", Month: 9, Tonnes: 20}, {Head: -5, Month: 3}}
	with, _ := done(t, c, options...)
	all := year.Balance(with, nil).Sum(0, 24)
	began := c.Store
	for _, pc := range with.Pieces {
		began += pc.Stands + pc.Waits
	}
	assert.InDelta(t, began+all.Grown+all.Bought, all.Eaten+all.Fed+all.Left+all.Lost+all.Stands+all.Waits+all.Store, 1e-5)
	part := options[0]
	part.AreaHa = 4
	twice, _ := done(t, c, part, part)
	once, _ := done(t, c, part)
	assert.InDelta(t, 2*(grown(once, 0, 24)-grown(c, 0, 24)), grown(twice, 0, 24)-grown(c, 0, 24), 1e-6, "two parts of a field")
}

func TestNoGroundIsCountedTwice(t *testing.T) {
	spring := year.Option{Input: "nitrogen_late_spring_cool", Field: "F0", Month: 1}
	part, again, later := spring, spring, spring
	part.AreaHa, again.AreaHa, later.Month = 6, 5, 13
	ley := ley(36)
	for name, x := range map[string]struct {
		options []year.Option
		refused string
	}{
		"the same ground twice":       {[]year.Option{spring, spring}, "F0 is spoken for: Nitrogen after first or second grazing, cool-season grass takes 10 ha of it, which leaves 0 ha"},
		"more than is left":           {[]year.Option{part, again}, "leaves 4 ha"},
		"next year again":             {[]year.Option{spring, later}, ""},
		"another field":               {[]year.Option{spring, {Input: "nitrogen_late_spring_cool", Field: "F1", Month: 1}}, ""},
		"feed of two kinds":           {[]year.Option{spring, {Input: "bought_hay", Tonnes: 3, Month: 1}}, ""},
		"two things on one sward":     {[]year.Option{spring, {Input: "overseed_grass_drilled", Field: "F0", Month: 4}}, ""},
		"a new sward takes it":        {[]year.Option{{Input: "brassica_for_autumn_winter", Field: "F0", Month: 2}, {Input: "stockpile_cool", Field: "F0", Month: 4}}, "is spoken for"},
		"on ground left empty":        {[]year.Option{{Input: "brassica_for_autumn_winter", Field: "F0", Month: 2}, {Input: "nitrogen_late_spring_cool", Field: "F0", Month: 13}}, "leaves 0 ha"},
		"a new sward on part of it":   {[]year.Option{{Input: "brassica_for_autumn_winter", Field: "F0", Month: 2, AreaHa: 4}, {Input: "stockpile_cool", Field: "F0", Month: 4, AreaHa: 6}}, ""},
		"one crop after another":      {[]year.Option{{Input: "brassica_for_autumn_winter", Field: "F0", Month: 2}, {Input: "summer_double_crop", Field: "F0", Month: 13}}, ""},
		"two crops at the same time":  {[]year.Option{{Input: "brassica_for_autumn_winter", Field: "F0", Month: 2}, {Input: "winter_annual_tilled", Field: "F0", Month: 4}}, "is spoken for"},
		"twice while the first works": {[]year.Option{{Input: "overseed_grass_drilled", Field: "F0", Month: 4}, {Input: "overseed_grass_drilled", Field: "F0", Month: 16}}, "is spoken for"},
	} {
		_, out, err := ley.With(x.options)
		if x.refused != "" {
			assert.ErrorContains(t, err, x.refused, name)
			continue
		}
		assert.NoError(t, err, name)
		if x.options[0].Input == "brassica_for_autumn_winter" && assert.Len(t, out[0].Says, 3, name) {
			assert.Contains(t, out[0].Says[1].Text, "After January the ground is empty", name)
		}
	}
}

func TestOptionsThatCannotBeAreRefusedByName(t *testing.T) {
	native := ley(12)
	sward, err := reference.Load().Sward("ryegrass_white_clover")
	require.NoError(t, err)
	for p := range native.Pieces {
		native.Pieces[p].Of = sward
	}
	for name, x := range map[string]struct {
		c      year.Case
		option year.Option
		says   string
	}{
		"input":  {ley(12), year.Option{Input: "wishes"}, "options[0].input"},
		"month":  {ley(12), year.Option{Input: "bought_hay", Month: 12, Tonnes: 1}, "options[0].month"},
		"season": {ley(12), year.Option{Input: "stockpile_cool", Field: "F0", Month: 0}, "is not done in April"},
		"field":  {ley(12), year.Option{Input: "stockpile_cool", Field: "F9", Month: 4}, "options[0].field_id"},
		"area":   {ley(12), year.Option{Input: "stockpile_cool", Field: "F0", Month: 4, AreaHa: 11}, "F0 has 10"},
		"tonnes": {ley(12), year.Option{Input: "bought_hay", Month: 4}, "options[0].tonnes"},
		"head":   {ley(12), year.Option{Head: -41, Month: 4}, "there are 40 then"},
		"group":  {ley(12), year.Option{Head: -4, Month: 4, Group: 3}, "options[0].group"},
		"sward":  {native, year.Option{Input: "stockpile_cool", Field: "F0", Month: 4}, "is not meant for"},
	} {
		_, _, err := x.c.With([]year.Option{x.option})
		assert.ErrorContains(t, err, x.says, name)
	}
	_, _, err = native.With([]year.Option{{Input: "stockpile_cool", Field: "F0", Month: 4, Anyway: true}})
	require.NoError(t, err, "it can be done anyway")
	var refused *year.Refused
	_, _, err = native.With([]year.Option{{Input: "stockpile_cool", Field: "F0", Month: 4}})
	assert.ErrorAs(t, err, &refused)
	southern := ley(12)
	southern.Southern = true
	_, _, err = southern.With([]year.Option{{Input: "stockpile_cool", Field: "F0", Month: 4}})
	assert.ErrorContains(t, err, "is not done in August", "in the south it is February's work")
	_, _, err = southern.With([]year.Option{{Input: "stockpile_cool", Field: "F0", Month: 10}})
	assert.NoError(t, err)
}
