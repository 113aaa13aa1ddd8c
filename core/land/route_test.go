package land

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func length(places []Point, order []int) float64 {
	sum := 0.0
	for i := 1; i < len(order); i++ {
		sum += distance(places[order[i-1]], places[order[i]])
	}
	return sum
}

func TestRouteVisitsEveryPlaceOnceAndNeverLonger(t *testing.T) {
	assert.Nil(t, Route(nil, 0))
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(1, 30).Draw(t, "places")
		places := make([]Point, n)
		for i := range places {
			places[i] = Point{rapid.Float64Range(-2000, 2000).Draw(t, "x"), rapid.Float64Range(-2000, 2000).Draw(t, "y")}
		}
		first := rapid.IntRange(0, n-1).Draw(t, "first")
		order := Route(places, first)
		assert.Len(t, order, n)
		assert.Equal(t, first, order[0])
		seen := map[int]bool{}
		for _, i := range order {
			seen[i] = true
		}
		assert.Len(t, seen, n)
		// No two legs can be turned about to save way.
		for i := 0; i+2 < n; i++ {
			for j := i + 2; j < n; j++ {
				turned := append([]int(nil), order...)
				for a, b := i+1, j; a < b; a, b = a+1, b-1 {
					turned[a], turned[b] = turned[b], turned[a]
				}
				assert.GreaterOrEqual(t, length(places, turned), length(places, order)-1e-3)
			}
		}
	})
}

func TestRouteAlongAStreetIsTheStreet(t *testing.T) {
	places := []Point{{300, 0}, {0, 0}, {200, 0}, {400, 0}, {100, 0}}
	order := Route(places, 1)
	assert.Equal(t, []int{1, 4, 2, 0, 3}, order)
	assert.InDelta(t, 400, length(places, order), math.SmallestNonzeroFloat64)
}
