package e2e

import (
	"bytes"
	"context"
	"fmt"
	"testing"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// pages prints the page and counts the sheets.
func (b *browser) pages() int {
	b.t.Helper()
	paper, err := chromedp.Run(b.ctx, func(ctx context.Context, t *chromedp.Target) (page.PrintToPDFResult, error) {
		yes := true
		return cdp.Call(ctx, t, page.PrintToPDF, page.PrintToPDFParams{PreferCSSPageSize: &yes})
	})
	require.NoError(b.t, err)
	return bytes.Count(paper.Data, []byte("/Type /Page\n"))
}

// onPaper lays the page out as on a sheet of A4, and back on the screen.
func (b *browser) onPaper(media string, width int64) {
	b.t.Helper()
	b.do(chromedp.EmulateViewport(width, 800), chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		_, err := cdp.Call(ctx, t, emulation.SetEmulatedMedia, emulation.SetEmulatedMediaParams{Media: media})
		return err
	}))
}

// What is printed is whole, in day colours, without what can only be pressed, and nothing lies over anything else.
func TestPaperIsClean(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.ask(`(document.documentElement.dataset.theme = 'dark', '')`)
	at := "/f/" + b.ask(`localStorage.getItem('fjell.farm')`)
	for _, place := range []struct {
		at, words string
		sheets    int
	}{{"/today", "Needs minding", 3}, {"/moves?as=list", "Rest before", 2}, {"/moves?as=ridges", "Moves", 2}, {"/walk", "of 24 measured today", 2}, {"/queue", "Out of the round", 1}} {
		b.ask(fmt.Sprintf(`(location.hash = %q, '')`, at+place.at))
		b.sees(place.words)
		assert.LessOrEqual(t, b.pages(), place.sheets, place.at)
		b.onPaper("print", 700)
		assert.Equal(t, "rgb(255, 255, 255)", b.ask(`getComputedStyle(document.body).backgroundColor`), place.at)
		assert.Equal(t, "false", b.ask(`String(matchMedia('not print').matches)`))
		assert.Contains(t, b.ask(`document.body.innerText`), "Skarnvoll · Wednesday 10 June, 07:30", "whose it is, and of when")
		assert.Empty(t, b.ask(`[...document.querySelectorAll('nav, [role=tab], [role=toolbar], aside, dialog')].filter((e) => e.getClientRects().length).map((e) => e.outerHTML.slice(0, 80)).join('\n')`), place.at)
		assert.Empty(t, b.ask(`[...document.querySelectorAll('button')].filter((e) => e.getClientRects().length && /^(Go through|Undo|Keep|Rules|Order|Start|How good)/.test(e.innerText)).map((e) => e.innerText).join()`), place.at)
		assert.Empty(t, b.ask(`(() => {
			const boxes = [...document.querySelectorAll('main article, main section, main li, main tr')].filter((e) => e.getClientRects().length).map((e) => [e, e.getBoundingClientRect()])
			const over = (a, b) => Math.min(a.right, b.right) - Math.max(a.left, b.left) > 2 && Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top) > 2
			return boxes.flatMap(([e, r], i) => boxes.slice(i + 1).filter(([f, s]) => !e.contains(f) && !f.contains(e) && over(r, s)).map(([f]) => e.innerText.slice(0, 30) + ' | ' + f.innerText.slice(0, 30))).join('\n')
		})()`), "what lies over one another: "+place.at)
		b.onPaper("", 1280)
	}
}
