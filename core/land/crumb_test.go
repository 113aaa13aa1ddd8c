package land

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A spoke that passes a corner by less than a hand leaves no fence behind that only one side knows of.
func TestASpokePastACornerLeavesNoCrumb(t *testing.T) {
	for _, over := range []float64{-3e-4, 3e-4, 3e-6} {
		field := Region{Ring{{0, 0}, {100, 0}, {100, 100}, {50 + over, 100}, {50 + over, 99.99}, {50, 99.98}, {0, 100}}}
		parts, cuts := faces(field, []Path{{{50, -1}, {50, 200}}}, fineWeld)
		require.Len(t, parts, 2, "%g m", over)
		assert.Len(t, cuts, 1, "one fence from side to side")
		assert.InDelta(t, field.AreaHa(), parts[0].AreaHa()+parts[1].AreaHa(), 1e-9)
	}
}
