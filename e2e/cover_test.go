package e2e

import (
	"image"
	"image/color"
	"image/png"
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"
)

// turf is a picture straight down of which so much is leaf, in rows.
func turf(t *testing.T, cover float64) string {
	t.Helper()
	const w, h = 640, 480
	pic := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			c := color.RGBA{122, 96, 72, 255}
			if float64(y%40) < 40*cover {
				c = color.RGBA{uint8(80 + x%20), uint8(130 + x%24), 58, 255}
			}
			pic.Set(x, y, c)
		}
	}
	path := filepath.Join(t.TempDir(), "turf.png")
	f, err := os.Create(path)
	require.NoError(t, err)
	defer f.Close()
	require.NoError(t, png.Encode(f, pic))
	return path
}

// The cover a stick asks for is read from a photo, without a signal, and taken over by a press.
func TestCoverFromAPhoto(t *testing.T) {
	t.Parallel()
	b, s := onTheDemoFarmFarOut(t, 390, 844)
	b.ask(`navigator.serviceWorker.ready.then(() => 'ready')`)
	b.do(chromedp.Reload())
	b.sees("Stay or move?")
	b.click("Walk")
	b.sees("measured today")
	b.until("core to be kept", `globalThis.fjellCore && caches.open('core').then((c) => c.keys()).then((k) => (globalThis.coreKept = k.length)) && globalThis.coreKept`)
	s.off()
	b.click("Start at")
	b.sees("Guess first")
	b.click("Method, note")
	b.click("Height and cover")
	b.click("Read it from a photo")
	b.sees("Keep your feet and your shadow out of it")
	b.do(chromedp.SetUploadFiles(chromedp.CSS(`input[capture="environment"][accept="image/*"]`), []string{turf(t, 0.6)}))
	b.sees("60 %")
	b.accessible("cover from a photo")
	b.click("Use it")
	b.until("the cover taken over", `[...document.querySelectorAll('input')].some((i) => i.value === '60')`)
}
