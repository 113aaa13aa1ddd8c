package measuring

import (
	"encoding/base64"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// ground is a made-up picture straight down: blades of leaf over soil and litter until so much is covered, in a light of a colour and a strength
// that changes over the picture, with the noise of a small camera. It gives the true share as well.
func ground(seed uint64, cover, litter, light float64, cast [3]float64, shaded bool) (CoverIn, float64) {
	const w, h = 160, 120
	rng := rand.New(rand.NewPCG(seed, 7))
	kind := make([]int, w*h) // 0 soil, 1 litter, 2 leaf
	paint := func(what int, share float64, long, wide float64) {
		need := int(math.Round(share * w * h))
		have := 0
		for have < need {
			x, y, a := rng.Float64()*w, rng.Float64()*h, rng.Float64()*math.Pi
			for s := -long / 2; s < long/2 && have < need; s += 0.5 {
				for d := -wide / 2; d < wide/2 && have < need; d += 0.5 {
					px, py := int(x+s*math.Cos(a)-d*math.Sin(a)), int(y+s*math.Sin(a)+d*math.Cos(a))
					if px < 0 || py < 0 || px >= w || py >= h || kind[py*w+px] == what {
						continue
					}
					kind[py*w+px] = what
					have++
				}
			}
		}
	}
	paint(1, litter*(1-cover), 24, 2)
	paint(2, cover, 40, 4)
	colours := [3][][3]float64{{{118, 92, 68}, {96, 78, 60}, {140, 116, 92}}, {{204, 182, 124}, {178, 156, 104}}, {{92, 142, 58}, {70, 118, 50}, {120, 164, 78}, {58, 104, 62}}}
	raw := make([]byte, 4*w*h)
	leaf := 0
	for i, k := range kind {
		if k == 2 {
			leaf++
		}
		c := colours[k][rng.IntN(len(colours[k]))]
		strength := light * (0.8 + 0.4*float64(i%w)/w)
		if shaded && (i/w) > h/2 {
			strength *= 0.35
		}
		for j := range 3 {
			v := c[j]*strength*cast[j] + rng.NormFloat64()*6
			raw[4*i+j] = byte(math.Max(0, math.Min(255, v)))
		}
		raw[4*i+3] = 255
	}
	return CoverIn{Pixels: base64.StdEncoding.EncodeToString(raw), Width: w, Height: h}, float64(leaf) / (w * h)
}

func TestCoverIsReadWithinFivePoints(t *testing.T) {
	lights := map[string]struct {
		light  float64
		cast   [3]float64
		shaded bool
	}{"sun": {1.1, [3]float64{1.05, 1, 0.92}, false}, "cloud": {0.8, [3]float64{1, 1, 1}, false}, "shade": {0.45, [3]float64{0.92, 1, 1.18}, false}, "half in shade": {1, [3]float64{1, 1, 1}, true}}
	for name, l := range lights {
		for _, litter := range []float64{0, 0.3, 0.8} {
			for i, cover := range []float64{0, 0.05, 0.2, 0.5, 0.75, 0.95, 1} {
				in, truth := ground(uint64(i+1), cover, litter, l.light, l.cast, l.shaded)
				got, err := Cover(in)
				require.NoError(t, err)
				assert.InDelta(t, truth, got.Share, 0.05, "%s, %g litter, %g covered", name, litter, cover)
				assert.Less(t, got.Dark, 0.5)
			}
		}
	}
}

func TestTheMaskIsTheShare(t *testing.T) {
	in, _ := ground(3, 0.4, 0.3, 1, [3]float64{1, 1, 1}, false)
	got, err := Cover(in)
	require.NoError(t, err)
	raw, err := base64.StdEncoding.DecodeString(got.Mask)
	require.NoError(t, err)
	require.Len(t, raw, in.Width*in.Height)
	green, dark := 0, 0
	for _, m := range raw {
		switch m {
		case mask:
			green++
		case maskDark:
			dark++
		}
	}
	assert.InDelta(t, got.Share, float64(green)/float64(len(raw)-dark), 1e-12)
	higher, lower := got.Threshold+0.15, got.Threshold-0.1
	in.Threshold = &higher
	less, err := Cover(in)
	require.NoError(t, err)
	assert.Less(t, less.Share, got.Share, "a stricter eye sees less leaf")
	in.Threshold = &lower
	more, err := Cover(in)
	require.NoError(t, err)
	assert.Greater(t, more.Share, got.Share)
}

func TestPicturesThatTellNothingAreRefused(t *testing.T) {
	in, _ := ground(1, 0.5, 0, 0.05, [3]float64{1, 1, 1}, false)
	_, err := Cover(in)
	assert.ErrorContains(t, err, "too dark")
	_, err = Cover(CoverIn{Pixels: in.Pixels, Width: 3, Height: 5})
	assert.ErrorContains(t, err, "width")
	_, err = Cover(CoverIn{Pixels: in.Pixels, Width: 5000, Height: 5000})
	assert.ErrorContains(t, err, "width")
	_, err = Cover(CoverIn{Pixels: "not base64", Width: 160, Height: 120})
	assert.ErrorContains(t, err, "pixels")
	_, err = Cover(CoverIn{Pixels: in.Pixels[:400], Width: 160, Height: 120})
	assert.ErrorContains(t, err, "pixels")
}

func FuzzCover(f *testing.F) {
	f.Add([]byte{1, 2, 3, 4}, 16, 16, 0.2)
	f.Fuzz(func(t *testing.T, raw []byte, w, h int, threshold float64) {
		out, err := Cover(CoverIn{Pixels: base64.StdEncoding.EncodeToString(raw), Width: w, Height: h, Threshold: &threshold})
		if err == nil {
			require.True(t, out.Share >= 0 && out.Share <= 1)
		}
	})
}
