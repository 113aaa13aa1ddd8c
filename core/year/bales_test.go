package year_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/year"
)

func bales() year.BaleGrazing {
	return year.BaleGrazing{AreaHa: 2, Bales: 60, BaleKg: 350, DryShare: 0.85, Wants: 480, Each: 3, FeedLoss: 0.15}
}

func TestBalesAreOpenedBySets(t *testing.T) {
	out, err := bales().Plan()
	require.NoError(t, err)
	assert.InDelta(t, 60*350*0.85*0.85/480, out.Days, 1e-9)
	assert.Equal(t, 6.0, out.Set, "5.7 bales for three days are six")
	assert.Equal(t, 10.0, out.Sets)
	assert.InDelta(t, 18.257, out.Apart, 1e-3)
	assert.InDelta(t, 60*350*0.85/2*0.85*0.018, out.N, 1e-9, "what falls under them stays there too")
	assert.False(t, out.TooMuch())

	thick := bales()
	thick.AreaHa = 0.5
	more, err := thick.Plan()
	require.NoError(t, err)
	assert.True(t, more.TooMuch())
	assert.Equal(t, out.Days, more.Days)
	wet := bales()
	wet.FeedLoss = 0.4
	fewer, err := wet.Plan()
	require.NoError(t, err)
	assert.Less(t, fewer.Days, out.Days, "what is trodden in feeds nobody")
	assert.Greater(t, fewer.Set, out.Set)
	assert.Equal(t, out.N, fewer.N)
	for field, change := range map[string]func(*year.BaleGrazing){
		"bales": func(b *year.BaleGrazing) { b.Bales = 0 }, "bale_kg": func(b *year.BaleGrazing) { b.BaleKg = 0 }, "dry_matter_share": func(b *year.BaleGrazing) { b.DryShare = 2 },
		"days_each": func(b *year.BaleGrazing) { b.Each = 0 }, "field_id": func(b *year.BaleGrazing) { b.AreaHa = 0 }, "group": func(b *year.BaleGrazing) { b.Wants = 0 },
	} {
		wrong := bales()
		change(&wrong)
		_, err := wrong.Plan()
		assert.ErrorContains(t, err, field)
	}
}

func ExampleBaleGrazing_Plan() {
	out, _ := bales().Plan()
	fmt.Printf("%.0f bales at a time, %.0f m apart, feed them for %.0f days and leave %.0f kg of nitrogen a hectare", out.Set, out.Apart, out.Days, out.N)
	// Output: 6 bales at a time, 18 m apart, feed them for 32 days and leave 137 kg of nitrogen a hectare
}
