package land

import "math"

// Route orders places into a short round from the first of them: always the nearest next, then turned about wherever
// that shortens the way. It is short, not the shortest there can be.
func Route(places []Point, first int) []int {
	n := len(places)
	if n == 0 {
		return nil
	}
	order := []int{first}
	seen := make([]bool, n)
	seen[first] = true
	for len(order) < n {
		at, best, next := places[order[len(order)-1]], math.Inf(1), -1
		for i, p := range places {
			if d := distance(at, p); !seen[i] && d < best {
				best, next = d, i
			}
		}
		seen[next] = true
		order = append(order, next)
	}
	leg := func(i, j int) float64 { return distance(places[order[i]], places[order[j]]) }
	for better := true; better; {
		better = false
		for i := 0; i+2 < n; i++ {
			for j := i + 2; j < n; j++ {
				after := 0.0
				if j+1 < n {
					after = leg(i+1, j+1) - leg(j, j+1)
				}
				if leg(i, j)-leg(i, i+1)+after < -1e-6 {
					for a, b := i+1, j; a < b; a, b = a+1, b-1 {
						order[a], order[b] = order[b], order[a]
					}
					better = true
				}
			}
		}
	}
	return order
}
