package forage_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fjell/core/forage"
)

func ExampleBales_DryMatter() {
	n, w, d := 18.0, 240.0, 0.85
	step, _ := forage.Bales{Count: &n, Kg: &w, DryShare: &d}.DryMatter()
	fmt.Printf("%.0f kg\n", step.Value)
	// Output: 3672 kg
}

func TestUnweighedBalesStayUnknown(t *testing.T) {
	n, w, d, more, below := 18.0, 240.0, 0.85, 1.2, -1.0
	for name, b := range map[string]forage.Bales{"no weight": {Count: &n, DryShare: &d}, "no dry matter": {Count: &n, Kg: &w}, "no count": {Kg: &w, DryShare: &d}} {
		step, err := b.DryMatter()
		require.NoError(t, err, name)
		assert.Nil(t, step, name)
	}
	for field, b := range map[string]forage.Bales{"dry_matter_share": {DryShare: &more}, "bales": {Count: &below}, "bale_kg": {Kg: &below}} {
		_, err := b.DryMatter()
		assert.ErrorContains(t, err, "must be 0 to", field)
	}
}

func TestStubbleLiesBetweenWhatWasLeftAndWhatStood(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		left, more := rapid.Float64Range(500, 2000).Draw(t, "left"), rapid.Float64Range(0, 4000).Draw(t, "more")
		area, share := rapid.Float64Range(0.1, 50).Draw(t, "area"), rapid.Float64Range(0, 1).Draw(t, "share")
		stands := forage.Stubble(left, left+more, share*area, area)
		assert.InDelta(t, left*share+(left+more)*(1-share), stands, 1e-6)
		assert.InDelta(t, left, forage.Stubble(left, left+more, 1.1*area, area), 1e-9, "no more than all of it is cut")
	})
}
