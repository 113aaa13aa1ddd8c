package forage_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"fjell/core/forage"
)

func ExampleStored() {
	fmt.Println(forage.Stored([]forage.Lot{{forage.FodderCut, 3600}, {forage.FodderFed, 400}, {forage.FodderLost, 100}, {forage.FodderCounted, 2900}, {forage.FodderBought, 500}}))
	// Output: [3600 3200 3100 2900 3400]
}

func TestFodderIsNeitherMadeNorLostByReckoning(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in, out := 0.0, 0.0
		var lots []forage.Lot
		for range rapid.IntRange(1, 20).Draw(t, "lots") {
			l := forage.Lot{Kind: rapid.SampledFrom([]string{forage.FodderCut, forage.FodderBought, forage.FodderSold, forage.FodderFed, forage.FodderLost}).Draw(t, "kind"), Kg: rapid.Float64Range(0, 9000).Draw(t, "kg")}
			if l.Kind == forage.FodderCut || l.Kind == forage.FodderBought {
				in += l.Kg
			} else {
				out += l.Kg
			}
			lots = append(lots, l)
		}
		holds := forage.Stored(lots)
		assert.InDelta(t, in-out, holds[len(holds)-1], 1e-6)
		counted := forage.Stored(append(lots, forage.Lot{Kind: forage.FodderCounted, Kg: 700}))
		assert.Equal(t, 700.0, counted[len(counted)-1], "what was counted is there")
	})
}
