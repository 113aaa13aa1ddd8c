package measuring

import (
	"encoding/base64"
	"math"

	"fjell/core/quantity"
)

// CoverIn is a picture of the ground taken straight down: pixels of red, green, blue and opacity, row by row.
type CoverIn struct {
	Pixels    string   `json:"pixels"` // base64
	Width     int      `json:"width"`
	Height    int      `json:"height"`
	Threshold *float64 `json:"threshold,omitempty"` // of greenness; nil: found in the picture
}

// CoverOut is how much of a picture is green leaf.
type CoverOut struct {
	Share     float64 `json:"canopy_cover"`
	Threshold float64 `json:"threshold"` // greenness above which a pixel counts
	Dark      float64 `json:"too_dark"`  // share of pixels too dark to tell, left out
	Mask      string  `json:"mask"`      // base64, a byte a pixel: 1 green, 0 not, 2 too dark
}

// What a picture may be, and how its greenness is split. Assumptions, ours: tried on generated pictures.
const (
	mostPixels              = 1 << 20
	tooDark                 = 36   // of red, green and blue together: colours of what is darker are noise
	leastGreen              = 0.12 // the greenest straw is below this,
	mostGreen               = 0.28 // and the palest leaf above
	greenBins               = 128
	greenFrom, greenTo      = -0.5, 1.0
	mask, maskDark     byte = 1, 2
)

// Cover is the share of a picture that is green leaf. Greenness is 2g − r − b of the shares of the three colours, so that light and shade do not
// matter; the picture's own histogram is split where its two parts lie furthest apart (Otsu), within what straw and leaf can be. A
// picture of nothing but leaf, or without any, has one part only: the bounds keep it whole.
func Cover(in CoverIn) (CoverOut, error) {
	n := in.Width * in.Height
	if in.Width < 16 || in.Height < 16 || n > mostPixels {
		return CoverOut{}, quantity.Refuse("width", in.Width, "a picture is at least 16 × 16 points and at most %d of them", mostPixels)
	}
	raw, err := base64.StdEncoding.DecodeString(in.Pixels)
	if err != nil || len(raw) != 4*n {
		return CoverOut{}, quantity.Refuse("pixels", len(raw), "must be four bytes for each of %d points", n)
	}
	green := make([]float64, n)
	bins := make([]float64, greenBins)
	dark := 0
	for i := range n {
		excess, sum := around(raw, i%in.Width, i/in.Width, in.Width, in.Height)
		if sum < tooDark {
			green[i] = math.NaN()
			dark++
			continue
		}
		green[i] = excess / sum
		k := int((green[i] - greenFrom) / (greenTo - greenFrom) * greenBins)
		bins[max(0, min(greenBins-1, k))]++
	}
	out := CoverOut{Dark: float64(dark) / float64(n)}
	if 2*dark > n {
		return CoverOut{}, quantity.Refuse("pixels", nil, "more than half of the picture is too dark to tell: take it in more light, without your own shadow")
	}
	out.Threshold = math.Max(leastGreen, math.Min(split(bins), mostGreen))
	if in.Threshold != nil {
		out.Threshold = math.Max(greenFrom, math.Min(*in.Threshold, greenTo))
	}
	marks := make([]byte, n)
	leaf := 0
	for i, g := range green {
		switch {
		case math.IsNaN(g):
			marks[i] = maskDark
		case g > out.Threshold:
			marks[i] = mask
			leaf++
		}
	}
	out.Share = float64(leaf) / float64(n-dark)
	out.Mask = base64.StdEncoding.EncodeToString(marks)
	return out, nil
}

// around is 2g − r − b and r + g + b of a point, each the mean with its neighbours': what a small camera adds of its own averages out.
func around(raw []byte, x, y, w, h int) (excess, sum float64) {
	n := 0.0
	for v := max(0, y-1); v <= min(h-1, y+1); v++ {
		for u := max(0, x-1); u <= min(w-1, x+1); u++ {
			i := 4 * (v*w + u)
			r, g, b := float64(raw[i]), float64(raw[i+1]), float64(raw[i+2])
			excess, sum, n = excess+2*g-r-b, sum+r+g+b, n+1
		}
	}
	return excess / n, sum / n
}

// split is the greenness between the two parts of a histogram that lie furthest apart, each by its weight.
func split(bins []float64) float64 {
	total, sum := 0.0, 0.0
	for k, w := range bins {
		total, sum = total+w, sum+w*float64(k)
	}
	best, at := -1.0, 0.0
	below, belowSum := 0.0, 0.0
	for k, w := range bins {
		below, belowSum = below+w, belowSum+w*float64(k)
		above := total - below
		if below == 0 || above == 0 {
			continue
		}
		apart := belowSum/below - (sum-belowSum)/above
		if between := below * above * apart * apart; between > best*(1+1e-12) {
			best, at = between, float64(k)+1
		}
	}
	return greenFrom + at/greenBins*(greenTo-greenFrom)
}
