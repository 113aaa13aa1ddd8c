package stock

import (
	"fmt"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

const spring = 20559 // 16 April 2026

func ewes() []Group {
	return []Group{
		{ID: "ewes", Mob: "E", Name: "Ewes", From: spring, LUPerHead: 0.1, Class: Class{Count: 100, LiveWeightKg: 70, IntakeShare: 0.02}},
		{ID: "lambs", Mob: "E", Name: "Lambs", From: spring, LUPerHead: 0.05, MostKg: 50, Class: Class{LiveWeightKg: 5, IntakeShare: 0.02, DailyGainKg: 0.25}},
		{ID: "weaned", Mob: "", Name: "Weaned lambs", From: spring, Class: Class{LiveWeightKg: 30, IntakeShare: 0.035, DailyGainKg: 0.2}},
	}
}

func kg(w float64) *float64 { return &w }

func TestAYearOfEwes(t *testing.T) {
	milk := &Change{ReferenceID: "ewe_lactating_twin", IntakeShare: 0.034, LUPerHead: 0.1}
	h, err := Keep(ewes(), []Event{
		{Kind: Sale, Day: spring + 130, From: "lambs", Head: 60},
		{Kind: Birth, Day: spring + 10, Into: "lambs", Of: "ewes", Head: 180, WeightKg: kg(4.5), Change: milk},
		{Kind: Weaning, Day: spring + 110, From: "lambs", Into: "weaned", Of: "ewes", Head: 100, Change: &Change{IntakeShare: 0.018, LUPerHead: 0.1}},
		{Kind: Death, Day: spring + 20, From: "ewes", Head: 2},
	})
	require.NoError(t, err)
	assert.InDelta(t, 100*70*0.02, h.MobOn("E", spring+9).Demand, 1e-9, "dry until they lamb")
	born := h.MobOn("E", spring+10)
	assert.InDelta(t, 100*70*0.034+180*4.5*0.02, born.Demand, 1e-9, "in milk the day they lamb, and the lambs nibble")
	assert.Equal(t, 280.0, born.Head)
	assert.InDelta(t, 10.0+9, born.LU, 1e-9)
	c, ok := h.ClassOn("lambs", spring+60)
	require.True(t, ok)
	assert.InDelta(t, 4.5+0.25*50, c.LiveWeightKg, 1e-9)
	assert.Equal(t, 100.0, h.MobOn("", spring+110).Head, "weaned lambs stand outside the mob")
	assert.InDelta(t, 98*70*0.018+80*29.5*0.02, h.MobOn("E", spring+110).Demand, 1e-6)
	assert.Equal(t, 20.0+98, h.MobOn("E", spring+140).Head)
	c, _ = h.ClassOn("lambs", spring+400)
	assert.Equal(t, 50.0, c.LiveWeightKg, "nothing grows for ever")
	classes, ids := h.Mob("E", spring+5)
	assert.Len(t, classes, 1, "classes with no head are not listed")
	assert.Equal(t, []string{"ewes"}, ids)
}

func TestHeadThatAreNotThereCannotLeave(t *testing.T) {
	_, err := Keep(ewes(), []Event{{Kind: Birth, Day: spring + 10, Into: "lambs", Head: 3}, {Kind: Sale, Day: spring + 110, From: "lambs", Head: 5}})
	assert.ErrorContains(t, err, "only 3 Lambs on 4 August 2026")
	_, err = Keep(ewes(), []Event{{Kind: Sale, Day: spring + 5, From: "lambs", Head: 1}, {Kind: Birth, Day: spring + 10, Into: "lambs", Head: 3}})
	assert.Error(t, err, "before they are born")
	_, err = Keep(ewes(), []Event{{Kind: Birth, Day: spring + 10, Into: "lambs", Head: 3}, {Kind: Sale, Day: spring + 10, From: "lambs", Head: 3}})
	assert.NoError(t, err, "on one day, what comes comes first")
	_, err = Keep(ewes(), []Event{{Kind: Death, Day: spring - 3, From: "ewes", Head: 1}})
	assert.ErrorContains(t, err, "from 16 April 2026 only")
	_, err = Keep(ewes(), []Event{{Kind: Sale, Day: spring, From: "pigs", Head: 1}})
	assert.ErrorContains(t, err, "not a class")
}

func TestSupplementSparesPastureWhileItIsFed(t *testing.T) {
	g := ewes()
	until := spring + 20
	g[0].Supplements = []Supplement{{spring + 10, &until, 0.4, 0.5}}
	h, err := Keep(g, nil)
	require.NoError(t, err)
	assert.InDelta(t, 140, h.MobOn("E", spring+9).Demand, 1e-9)
	assert.InDelta(t, 100*(1.4-0.2), h.MobOn("E", spring+10).Demand, 1e-9)
	assert.InDelta(t, 140, h.MobOn("E", spring+20).Demand, 1e-9)
}

func TestHeadAlwaysReconcile(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		groups := ewes()
		var events []Event
		for i := range rapid.IntRange(0, 25).Draw(t, "events") {
			e := Event{ID: fmt.Sprint(i), Kind: rapid.SampledFrom(Kinds).Draw(t, "kind"), Day: spring + rapid.IntRange(0, 300).Draw(t, "day"),
				Head: float64(rapid.IntRange(0, 60).Draw(t, "head"))}
			pick := func(name string) string { return rapid.SampledFrom([]string{"ewes", "lambs", "weaned"}).Draw(t, name) }
			from, into, of := e.Kind.Roles()
			if from {
				e.From = pick("from")
			}
			if into {
				e.Into = pick("into")
			}
			if of {
				e.Of = pick("of")
			}
			if _, err := Keep(groups, append(events, e)); err == nil {
				events = append(events, e)
			}
		}
		h, err := Keep(groups, events)
		require.NoError(t, err)
		from, until := spring+rapid.IntRange(-10, 200).Draw(t, "from"), spring+rapid.IntRange(201, 320).Draw(t, "until")
		for name, belongs := range map[string]func(Group) bool{"farm": func(Group) bool { return true }, "mob": func(g Group) bool { return g.Mob == "E" },
			"lambs": func(g Group) bool { return g.ID == "lambs" }} {
			l := h.Ledger(belongs, from, until)
			assert.InDelta(t, l.Closing, l.Opening+l.Born+l.Bought+l.In-l.Out-l.Sold-l.Died+l.Found, 1e-9, name)
		}
		series := h.Series(from, until)
		for g := range groups {
			for d, p := range series[g] {
				assert.GreaterOrEqual(t, p.Head, 0.0)
				c, ok := h.ClassOn(groups[g].ID, from+d)
				assert.Equal(t, ok, from+d >= spring)
				if ok {
					assert.InDelta(t, Mob{c}.DemandOn(0), p.Demand, 1e-6, "series, class and sum agree")
				}
			}
		}
	})
}

func TestImpliedIntakeIsQueried(t *testing.T) {
	out, _, err := Implied(ImpliedIn{Count: 48, LiveWeightKg: 620, Feed: 1150, Area: 1.8, Days: 3})
	require.NoError(t, err)
	assert.InDelta(t, 14.375, out.Intake, 1e-9)
	assert.Empty(t, out.Query)
	out, _, err = Implied(ImpliedIn{Count: 12, LiveWeightKg: 620, Feed: 1150, Area: 1.8, Days: 3})
	require.NoError(t, err)
	assert.Contains(t, out.Query, "No animal eats so much")
	out, _, err = Implied(ImpliedIn{Count: 300, LiveWeightKg: 620, Feed: 1150, Area: 1.8, Days: 3})
	require.NoError(t, err)
	assert.Contains(t, out.Query, "starve")
}

func TestIntakeSaidBothWays(t *testing.T) {
	a, err := Convert(620, 0.023, 0, 0.65)
	require.NoError(t, err)
	assert.InDelta(t, 14.26, a.Intake, 1e-9)
	assert.InDelta(t, 21.94, a.Grown, 0.005)
	b, err := Convert(620, 0, 14.26, 0.65)
	require.NoError(t, err)
	assert.InDelta(t, 0.023, b.Share, 1e-12)
	_, err = Convert(0, 0.023, 0, 0.65)
	assert.Error(t, err)
}

func TestCarryingNamesTheMonthThatIsShort(t *testing.T) {
	year := time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)
	land := []Growing{{AreaHa: 10, Harvest: 0.6, Months: [12]float64{3: 500, 4: 1800, 5: 1800, 6: 1200, 7: 900, 8: 600}}}
	var eaten [12]float64
	for m := 4; m < 9; m++ {
		eaten[m] = 6000
	}
	c := Carries(land, eaten, year)
	assert.Equal(t, "carries", c.Severity)
	assert.Equal(t, []int{8, 9}, c.Short)
	assert.Contains(t, c.Sentence, "September")
	for m := range eaten {
		eaten[m] *= 2
	}
	c = Carries(land, eaten, year)
	assert.Equal(t, "short", c.Severity)
	assert.InDelta(t, 60000/(68000*0.6), c.Figure.Value, 1e-9)
	assert.Equal(t, "short", Carries(nil, eaten, year).Severity)
}

// A farm of twenty mobs, with three years of events.
func BenchmarkDemand20Mobs3Years(b *testing.B) {
	rng := rand.New(rand.NewPCG(1, 2))
	var groups []Group
	var events []Event
	for m := range 20 {
		for c := range 3 {
			id := fmt.Sprint(m, "-", c)
			groups = append(groups, Group{ID: id, Mob: fmt.Sprint(m), Name: id, From: spring, MostKg: 700, LUPerHead: 0.8,
				Class: Class{Count: 100, LiveWeightKg: 300, IntakeShare: 0.022, DailyGainKg: 0.4}, Supplements: []Supplement{{From: spring + 200, KgDM: 2, Substitution: 0.8}}})
			for y := range 36 {
				events = append(events, Event{Kind: []Kind{Birth, Sale, Weigh, Stage}[y%4], Day: spring + rng.IntN(1095), Head: 1, Into: map[bool]string{true: id}[y%4 == 0],
					From: map[bool]string{true: id}[y%4 == 1], Of: map[bool]string{true: id}[y%4 >= 2], WeightKg: kg(400)})
			}
		}
	}
	for b.Loop() {
		h, err := Keep(groups, events)
		if err != nil {
			b.Fatal(err)
		}
		h.Series(spring, spring+1095)
	}
}

func TestASixfoldHeadCountIsASlip(t *testing.T) {
	assert.True(t, CountStrange(48, 288))
	assert.True(t, CountStrange(288, 48), "and the other way")
	assert.False(t, CountStrange(48, 96), "twins")
	assert.False(t, CountStrange(48, 0), "gone is said, not slipped into")
	assert.False(t, CountStrange(0, 48))
}
