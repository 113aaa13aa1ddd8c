package queue_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"fjell/core/queue"
)

func TestWhatAWeekIsLikelyToGrow(t *testing.T) {
	_, _, ok := queue.Likely([]queue.Grown{{Rate: 40, Half: 10}, {Rate: 60, Half: 10}})
	assert.False(t, ok, "two stretches tell little")
	low, high, ok := queue.Likely([]queue.Grown{{Rate: 40, Half: 10}, {Rate: 60, Half: 20}, {Rate: 50, Half: 4}})
	assert.True(t, ok)
	assert.InDelta(t, 35, low, 1e-9)
	assert.InDelta(t, 70, high, 1e-9)
	low, _, _ = queue.Likely([]queue.Grown{{Rate: 2, Half: 10}, {Rate: 6, Half: 2}, {Rate: 5, Half: 4}})
	assert.Zero(t, low, "grass does not grow backwards in a band")
	low, high = queue.LikelyBy(40)
	assert.InDelta(t, 26, low, 1e-9)
	assert.InDelta(t, 54, high, 1e-9)
	c := usual()
	ground := make([]bool, 8)
	ground[1], ground[5] = true, true
	assert.InDelta(t, 4, c.AreaOf(ground), 1e-9)
}
