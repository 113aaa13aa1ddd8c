// Package e2e drives the real program in a real browser: whole jobs, by clicks and keys.
package e2e

import (
	"bufio"
	"context"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"

	"fjell/internal/demo"
	"fjell/internal/farm"
	"fjell/internal/house"
	"fjell/internal/store"
	"fjell/internal/store/storetest"
)

// program is a running fjell.
type program struct {
	url string
	cmd *exec.Cmd
}

// start runs the binary on a database and waits for its address.
func start(t testing.TB, database, command, now string) *program {
	t.Helper()
	binary := os.Getenv("FJELL_BINARY")
	if binary == "" {
		t.Fatal("FJELL_BINARY is not set: run the browser tests with make test")
	}
	cmd := exec.Command(binary, command, "--address", "127.0.0.1:0")
	cmd.Env = append(os.Environ(), "FJELL_DATABASE="+database, "FJELL_NOW="+now)
	cmd.Stderr = os.Stderr
	out, err := cmd.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, cmd.Start())
	p := &program{cmd: cmd}
	t.Cleanup(p.stop)
	lines := bufio.NewScanner(out)
	for lines.Scan() {
		if m := regexp.MustCompile(`https?://\S+`).FindString(lines.Text()); m != "" {
			p.url = m
			return p
		}
	}
	t.Fatal("the program ended before it told its address")
	return nil
}

func (p *program) stop() {
	if p.cmd.ProcessState == nil {
		_ = p.cmd.Process.Signal(syscall.SIGTERM)
		_ = p.cmd.Wait()
	}
}

// browser is one tab with its own profile.
type browser struct {
	t   testing.TB
	ctx context.Context
}

func open(t testing.TB, width, height int64) *browser {
	t.Helper()
	options := append(chromedp.DefaultExecAllocatorOptions[:], chromedp.UserDataDir(t.TempDir()), chromedp.NoSandbox, chromedp.DisableGPU,
		chromedp.Flag("disable-quic", true), chromedp.Flag("disable-component-update", true),
		chromedp.Flag("use-fake-device-for-media-stream", true), chromedp.Flag("use-fake-ui-for-media-stream", true)) // a camera of stripes
	alloc, stopAlloc := chromedp.NewExecAllocator(context.Background(), options...)
	tab, stopTab := chromedp.NewContext(alloc)
	ctx, cancel := context.WithTimeout(tab, 24*time.Minute)
	t.Cleanup(func() { cancel(); stopTab(); stopAlloc() })
	b := &browser{t, ctx}
	b.do(chromedp.EmulateViewport(width, height), chromedp.Navigate("about:blank"))
	// What breaks in a page is a fault, whether a test looks there or not.
	require.NoError(t, chromedp.Listen(ctx, func(event any) {
		if thrown, ok := event.(*runtime.EventExceptionThrown); ok {
			what := thrown.ExceptionDetails.Text
			if e := thrown.ExceptionDetails.Exception; e != nil {
				what += " " + e.Description
			}
			t.Error("the page broke:", what)
		}
	}))
	return b
}

func (b *browser) do(steps ...chromedp.Action[chromedp.Void]) {
	b.t.Helper()
	require.NoError(b.t, chromedp.Do(b.ctx, steps...))
}

// ask evaluates a script that gives text.
func (b *browser) ask(script string) string {
	b.t.Helper()
	out, err := chromedp.Run(b.ctx, chromedp.Evaluate[string](script, chromedp.EvalAwaitPromise))
	require.NoError(b.t, err, script)
	return out
}

// until waits for a condition of the page, and shows the page if it does not come.
func (b *browser) until(what, condition string) {
	b.t.Helper()
	deadline := time.Now().Add(20 * time.Second)
	for {
		out, err := chromedp.Run(b.ctx, chromedp.Evaluate[string](`String(!!(`+condition+`))`))
		if err == nil && out == "true" {
			return
		}
		if time.Now().After(deadline) {
			b.picture(what)
			b.t.Fatalf("%s did not come; the page says: %s", what, b.ask(`document.body.innerText.slice(0, 2500)`))
		}
		time.Sleep(50 * time.Millisecond)
	}
}

// late keeps the page waiting this long for every answer from there.
func (b *browser) late(path string, milliseconds int) {
	b.t.Helper()
	b.ask(fmt.Sprintf(`(['json', 'text'].forEach((way) => { const read = Response.prototype[way];
		Response.prototype[way] = async function () { if (new URL(this.url).pathname.endsWith(%q)) await new Promise((f) => setTimeout(f, %d)); return read.call(this) } }), '')`, path, milliseconds))
}

// picture keeps what the page looks like when a test fails.
func (b *browser) picture(name string) {
	if png, err := chromedp.Run(b.ctx, chromedp.CaptureScreenshot()); err == nil {
		path := filepath.Join(os.TempDir(), "fjell-e2e-"+strings.ReplaceAll(name, " ", "-")+".png")
		if os.WriteFile(path, png, 0o644) == nil {
			b.t.Log("picture:", path)
		}
	}
}

// sees waits for words anywhere on the page.
func (b *browser) sees(words string) {
	b.t.Helper()
	b.until(fmt.Sprintf("%q", words), fmt.Sprintf(`document.body.innerText.replace(/\u00a0/g, ' ').includes(%q)`, words))
}

// finder is a script for the first visible element that a person would call by these words.
func finder(words string) string {
	return fmt.Sprintf(`(() => {
		const named = (e) => [e.getAttribute('aria-label'), e.textContent.trim().replace(/\s+/g, ' '), e.title].filter(Boolean)
		const all = [...document.querySelectorAll('dialog[open] button, dialog[open] a, dialog[open] summary'), ...document.querySelectorAll('button, a, summary, [role=button]')]
		const shown = all.filter((e) => e.getClientRects().length && !e.disabled)
		return shown.find((e) => named(e).includes(%[1]q)) ?? shown.find((e) => named(e).some((n) => n.startsWith(%[1]q)))
	})()`, words)
}

// click presses the real mouse on the middle of what a person would call by these words.
func (b *browser) click(words string) {
	b.t.Helper()
	b.until("something called "+words, finder(words))
	time.Sleep(120 * time.Millisecond) // a moment for a drawer to come to rest
	at := b.ask(fmt.Sprintf(`(() => { const e = %s; e.scrollIntoView({block: 'center', inline: 'center'}); const r = e.getBoundingClientRect(); return (r.x + r.width / 2) + ' ' + (r.y + r.height / 2) })()`, finder(words)))
	var x, y float64
	_, err := fmt.Sscan(at, &x, &y)
	require.NoError(b.t, err)
	b.do(chromedp.MouseClickXY(x, y))
}

// fill types into the field with this label.
func (b *browser) fill(label, text string) {
	b.t.Helper()
	field := fmt.Sprintf(`[...document.querySelectorAll('dialog[open] label'), ...document.querySelectorAll('label')].find((l) => l.getClientRects().length && l.textContent.trim().startsWith(%q))`, label)
	b.until("a field "+label, field)
	b.ask(fmt.Sprintf(`(() => { const l = %s; const f = l.htmlFor ? document.getElementById(l.htmlFor) : l.querySelector('input, select, textarea'); f.focus(); f.select?.(); return '' })()`, field))
	b.do(chromedp.KeyEvent(text))
}

// choose picks an option of the select with this label.
func (b *browser) choose(label, value string) {
	b.t.Helper()
	field := fmt.Sprintf(`[...document.querySelectorAll('label')].find((l) => l.getClientRects().length && l.textContent.trim().startsWith(%q))`, label)
	b.until("a choice "+label, field)
	b.ask(fmt.Sprintf(`(() => { const l = %s; const f = l.htmlFor ? document.getElementById(l.htmlFor) : l.querySelector('select'); f.value = %q; f.dispatchEvent(new Event('change', {bubbles: true})); return '' })()`, field, value))
}

func (b *browser) keys(keys string) { b.t.Helper(); b.do(chromedp.KeyEvent(keys)) }

func (b *browser) visit(url string) {
	b.t.Helper()
	b.do(chromedp.Navigate("about:blank"), chromedp.Navigate(url))
}

// database is a fresh one for a program of its own.
func database(t testing.TB) string { return storetest.Name(t) }

// demoDatabase is a database of the test's own with the demo farms in it, copied from one that is built once.
func demoDatabase(t testing.TB) string {
	t.Helper()
	return storetest.Copy(t, demoBuilt(t))
}

var (
	demoOnce sync.Once
	demoName string
)

// demoBuilt names the database that the demo was built in.
func demoBuilt(t testing.TB) string {
	demoOnce.Do(func() {
		demoName = storetest.Lasting(t)
		ctx := context.Background()
		require.NoError(t, store.Migrate(ctx, demoName))
		db, err := store.Open(ctx, demoName)
		require.NoError(t, err)
		require.NoError(t, demo.Build(ctx, house.New(&farm.Service{DB: db, Clock: &farm.Clock{DB: db, Demo: true}})))
		pool, err := db.DB()
		require.NoError(t, err)
		pool.Close()
	})
	require.NotEmpty(t, demoName, "the demo could not be built")
	return demoName
}

// mariadb starts or stops a database server of the test's own and gives its data source name.
func mariadb(t testing.TB, act, dir string) string {
	t.Helper()
	out, err := exec.Command("../scripts/mariadb.sh", act, dir, "--fast").CombinedOutput()
	require.NoError(t, err, string(out))
	if act == "stop" {
		return ""
	}
	url, err := os.ReadFile(filepath.Join(dir, "url"))
	require.NoError(t, err)
	return strings.TrimSpace(string(url))
}
