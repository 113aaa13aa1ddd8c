package exchange

import (
	"slices"

	"fjell/core/land"
)

// farKm is how far from the farm things of a file may lie before it is asked about. Assumption, ours: the land of one farm,
// summer pastures and all, lies closer together.
const farKm = 150

// mostWithin is how many pieces of ground are looked at for lying in one another: each is held against each.
const mostWithin = 3000

// Place says of the things of a file how far from the farm they lie where that is far, whether they would lie near if
// latitude and longitude changed places, and which piece of ground each lies in. A farm that is nowhere yet is nil.
func Place(features []Feature, farm *land.Position) {
	for i := range features {
		x := &features[i]
		at, ok := x.somewhere()
		if !ok || farm == nil {
			continue
		}
		if km := land.KmBetween(at, *farm); km > farKm {
			x.FarKm = km
			x.Swapped = land.KmBetween(land.Position{at[1], at[0]}, *farm) <= farKm
		}
	}
	if len(features) > mostWithin {
		return
	}
	// From the smallest to the largest: what holds a piece is the first larger one around its middle.
	var ground []int
	for i, x := range features {
		if len(x.Shape) > 0 && x.AreaHa > 0 {
			ground = append(ground, i)
		}
	}
	slices.SortStableFunc(ground, func(a, b int) int {
		switch d := features[a].AreaHa - features[b].AreaHa; {
		case d < 0:
			return -1
		case d > 0:
			return 1
		}
		return 0
	})
	regions := make([]land.Region, len(features))
	planes := make([]land.Plane, len(features))
	for _, i := range ground {
		planes[i] = land.NewPlane(features[i].Shape.Centre())
		regions[i] = planes[i].Project(features[i].Shape)
	}
	for k, i := range ground {
		middle := features[i].Shape.Centre()
		for _, j := range ground[k+1:] {
			if features[j].AreaHa > features[i].AreaHa && regions[j].Contains(planes[j].Forward(middle)) {
				features[i].Within = &j
				break
			}
		}
	}
}

// Swap exchanges latitude and longitude of everything that was read, and measures it anew.
func Swap(features []Feature) {
	swap := func(p *land.Position) { p[0], p[1] = p[1], p[0] }
	for i := range features {
		x := &features[i]
		for _, poly := range x.Shape {
			for _, ring := range poly {
				for k := range ring {
					swap(&ring[k])
				}
			}
		}
		for k := range x.Line {
			swap(&x.Line[k])
		}
		if x.Point != nil {
			swap(x.Point)
		}
		x.Problem = ""
		x.finish(i)
	}
}

// somewhere is a place of a thing.
func (x *Feature) somewhere() (land.Position, bool) {
	switch {
	case len(x.Shape) > 0:
		return x.Shape.Centre(), true
	case len(x.Line) > 0:
		return x.Line[0], true
	case x.Point != nil:
		return *x.Point, true
	}
	return land.Position{}, false
}
