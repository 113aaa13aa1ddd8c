package grazing

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fjell/core/quantity"
)

func sheep(height float64, growth *float64) LastsIn {
	return LastsIn{Count: 6, Weight: 60, Share: 0.03, AreaHa: 0.8, Height: height, Stop: 5, MassPer: 150, Utilised: 0.6, Growth: growth}
}

func ExampleLasts() {
	growth := 20.0
	out, _, _ := Lasts(sheep(8, &growth))
	fmt.Printf("%.0f kg of feed, %.1f kg a day: %.1f days\n", out.Feed, out.Demand, *out.Days)
	// Output: 216 kg of feed, 10.8 kg a day: 156.0 days
}

func TestLastsWithoutGrowthAsksForItPastThreeDays(t *testing.T) {
	short, _, err := Lasts(sheep(5.4, nil))
	require.NoError(t, err)
	assert.InDelta(t, 0.4*150*0.8*0.6/10.8, *short.Days, 1e-9)
	_, _, err = Lasts(sheep(8, nil))
	var p *quantity.Problem
	require.ErrorAs(t, err, &p)
	assert.Equal(t, "growth_kg_dm_ha_day", p.Field)
	fast := 25.0
	out, _, err := Lasts(sheep(8, &fast))
	require.NoError(t, err)
	assert.Nil(t, out.Days, "it grows as fast as they eat it")
	under, _, err := Lasts(sheep(4, nil))
	require.NoError(t, err)
	assert.Zero(t, *under.Days, "under the height to leave there is nothing for them")
}

func TestLastsGoesTheRightWay(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := LastsIn{Count: rapid.Float64Range(1, 300).Draw(t, "n"), Weight: rapid.Float64Range(20, 900).Draw(t, "W"), Share: rapid.Float64Range(0.015, 0.05).Draw(t, "i"),
			AreaHa: rapid.Float64Range(0.1, 50).Draw(t, "A"), Height: rapid.Float64Range(6, 40).Draw(t, "h"), Stop: 5, MassPer: rapid.Float64Range(50, 250).Draw(t, "m"),
			Utilised: rapid.Float64Range(0.4, 1).Draw(t, "u")}
		growth := rapid.Float64Range(0, 100).Draw(t, "g")
		in.Growth = &growth
		days := func(change func(*LastsIn)) float64 {
			with := in
			change(&with)
			out, _, err := Lasts(with)
			if err != nil {
				t.Fatal(err)
			}
			if out.Days == nil {
				return 1e9
			}
			return *out.Days
		}
		base := days(func(*LastsIn) {})
		faster := growth + 5
		for name, more := range map[string]func(*LastsIn){"higher": func(in *LastsIn) { in.Height++ }, "larger": func(in *LastsIn) { in.AreaHa *= 1.1 },
			"denser": func(in *LastsIn) { in.MassPer *= 1.1 }, "faster": func(in *LastsIn) { in.Growth = &faster }} {
			if days(more) < base-1e-9 {
				t.Fatalf("%s: %v from %v", name, days(more), base)
			}
		}
		for name, less := range map[string]func(*LastsIn){"more of them": func(in *LastsIn) { in.Count *= 1.1 }, "heavier": func(in *LastsIn) { in.Weight *= 1.1 }, "left higher": func(in *LastsIn) { in.Stop += 0.5 }} {
			if days(less) > base+1e-9 {
				t.Fatalf("%s: %v from %v", name, days(less), base)
			}
		}
	})
}
