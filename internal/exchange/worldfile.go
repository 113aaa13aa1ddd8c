package exchange

import (
	"math"
	"strconv"
	"strings"

	"fjell/core/land"
	"fjell/core/quantity"
)

// WorldFile reads the six lines beside a picture and gives the places of its top left, top right and bottom left
// corners: x = A·column + B·row + C, y = D·column + E·row + F for the middle of a point, in the order A D B E C F.
func WorldFile(text string, code, width, height int) ([]land.Position, error) {
	project, err := projectionByCode(code)
	if err != nil {
		return nil, err
	}
	words := strings.Fields(text)
	if len(words) != 6 {
		return nil, quantity.Refuse("world_file", len(words), "a world file has six numbers")
	}
	var v [6]float64
	for i, w := range words {
		if v[i], err = strconv.ParseFloat(strings.Replace(w, ",", ".", 1), 64); err != nil || math.IsNaN(v[i]) || math.IsInf(v[i], 0) {
			return nil, quantity.Refuse("world_file", clip(w, 30), "line %d is not a number", i+1)
		}
	}
	var out []land.Position
	for _, c := range [][2]float64{{-0.5, -0.5}, {float64(width) - 0.5, -0.5}, {-0.5, float64(height) - 0.5}} {
		at := project(v[0]*c[0]+v[2]*c[1]+v[4], v[1]*c[0]+v[3]*c[1]+v[5])
		if !onEarth(at) {
			return nil, quantity.Refuse("world_file", nil, "the picture would lie off the world: is its projection another one?")
		}
		out = append(out, at)
	}
	return out, nil
}
