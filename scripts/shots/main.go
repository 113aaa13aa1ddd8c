// Shots takes the pictures of docs/screenshots from a running demo: every main view at 1280×800, and the field
// screens at 390×844. make shots starts the demo for it.
package main

import (
	"context"
	"flag"
	"fmt"
	"log"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/chromedp/chromedp"

	"fjell/internal/demo"
)

type shot struct {
	name          string
	path          string // {farm} stands for the demo farm
	width, height int64
	before        string // script run before the picture, when the view has settled
	wait          time.Duration
}

const (
	laptopWidth, laptopHeight = 1280, 800
	phoneWidth, phoneHeight   = 390, 844
	settle                    = 2200 * time.Millisecond
)

func views() []shot {
	laptop := func(name, path, before string) shot {
		return shot{name, path, laptopWidth, laptopHeight, before, 1200 * time.Millisecond}
	}
	phone := func(name, path, before string) shot {
		return shot{name, path, phoneWidth, phoneHeight, before, 1200 * time.Millisecond}
	}
	click := func(text string) string {
		return fmt.Sprintf(`[...document.querySelectorAll('button, a')].find(b => b.textContent.includes(%q) || b.getAttribute('aria-label') === %q)?.click()`, text, text)
	}
	part := func(name string) string {
		return fmt.Sprintf(`[...document.querySelectorAll('[role=tab]')].find(b => b.textContent.trim().startsWith(%q)).click()`, name)
	}
	return []shot{
		laptop("today", "/f/{farm}/today", ""),
		laptop("land", "/f/{farm}/land", ""),
		laptop("divide", "/f/{farm}/land", click("Sørjordet 1")+`; setTimeout(() => {`+click("Divide Sørjordet")+`}, 300); setTimeout(() => {`+click("Equal feed")+`}, 700); setTimeout(() => {`+click("Show")+`}, 1500)`),
		laptop("facts", "/f/{farm}/land", click("Table of facts (T)")),
		laptop("stock", "/f/{farm}/stock", ""),
		laptop("walk", "/f/{farm}/walk", ""),
		laptop("growth", "/f/{farm}/walk", part("Growth")),
		laptop("weather", "/f/{farm}/walk", part("Weather")),
		laptop("calibrations", "/f/{farm}/walk", part("Calibrations")),
		laptop("year", "/f/{farm}/year", ""),
		laptop("queue", "/f/{farm}/queue", `setTimeout(() => {`+click("Cut now")+`}, 300); setTimeout(() => {`+click("Try it")+`}, 900)`),
		laptop("moves", "/f/{farm}/moves", `document.querySelectorAll('g[data-visit][tabindex="0"]')[6]?.dispatchEvent(new KeyboardEvent('keydown', {key: 'Enter', bubbles: true}))`),
		laptop("sums", "/sums/feed", ""),
		phone("moves-phone", "/f/{farm}/moves", ""),
		phone("walk-phone", "/f/{farm}/walk", click("Start at")+`; setTimeout(() => { for (const c of ['2','1','0','0','Enter','9','Enter','8','.','5','Enter','1','1','Enter','1','0','.','5','Enter','9','.','5','Enter','2','7','Enter','1','0']) document.body.dispatchEvent(new KeyboardEvent('keydown', {key: c, bubbles: true})) }, 400)`),
		phone("walk-fence-phone", "/f/{farm}/land", click("Draw a field (F)")+`; setTimeout(() => {`+click("Walk the fence")+`}, 300); setTimeout(() => {`+click("Try a simulated walk")+`}, 600)`),
		phone("today-phone", "/f/{farm}/today", ""),
		phone("emergency-phone", "/f/{farm}/emergency", ""),
	}
}

func main() {
	url := flag.String("url", "http://127.0.0.1:8080", "address of the demo")
	out := flag.String("out", "docs/screenshots", "directory for the pictures")
	only := flag.String("only", "", "names of views, with commas; all when empty")
	theme := flag.String("theme", "light", "light or dark")
	flag.Parse()
	if err := run(*url, *out, *only, *theme); err != nil {
		log.Fatal(err)
	}
}

func run(url, out, only, theme string) error {
	profile, err := os.MkdirTemp("", "fjell-shots")
	if err != nil {
		return err
	}
	defer os.RemoveAll(profile)
	options := append(chromedp.DefaultExecAllocatorOptions[:], chromedp.UserDataDir(profile), chromedp.NoSandbox, chromedp.DisableGPU,
		chromedp.Flag("disable-quic", true), chromedp.Flag("disable-component-update", true), chromedp.Flag("hide-scrollbars", true))
	alloc, stop := chromedp.NewExecAllocator(context.Background(), options...)
	defer stop()
	ctx, cancel := chromedp.NewContext(alloc)
	defer cancel()
	ctx, cancel = context.WithTimeout(ctx, 3*time.Minute)
	defer cancel()
	if err := chromedp.Do(ctx, chromedp.Navigate("about:blank")); err != nil {
		return err
	}
	go func() {
		for message, err := range chromedp.Console(ctx) {
			if err == nil && message.Type != "debug" {
				log.Println("page:", message.Text)
			}
		}
	}()
	if only == "" || strings.Contains(only, "sign-in") {
		if err := take(ctx, url, out, "", shot{"sign-in", "/sign-in", laptopWidth, laptopHeight, "", time.Second}); err != nil {
			return err
		}
	}
	if err := chromedp.Do(ctx, chromedp.Navigate(url)); err != nil {
		return err
	}
	farm, err := chromedp.Run(ctx, chromedp.Evaluate[string](fmt.Sprintf(
		`localStorage.setItem('fjell.theme', %q); fetch('/api/sign-in', {method: 'POST', headers: {'Content-Type': 'application/json'}, body: JSON.stringify({email: %q, password: %q})}).then(() => fetch('/api/me')).then(r => r.json()).then(m => m.farms[0].id)`,
		theme, demo.Email, demo.Password), chromedp.EvalAwaitPromise))
	if err != nil {
		return fmt.Errorf("sign in: %w", err)
	}
	for _, v := range views() {
		if only != "" && !strings.Contains(","+only+",", ","+v.name+",") {
			continue
		}
		if err := take(ctx, url, out, farm, v); err != nil {
			return err
		}
	}
	return nil
}

func take(ctx context.Context, url, out, farm string, v shot) error {
	steps := []chromedp.Action[chromedp.Void]{
		chromedp.EmulateViewport(v.width, v.height),
		chromedp.Navigate("about:blank"),
		chromedp.Navigate(url + "/#" + strings.ReplaceAll(v.path, "{farm}", farm)),
		chromedp.WaitVisible(chromedp.CSS("main")),
		chromedp.Sleep(v.wait),
	}
	if err := chromedp.Do(ctx, steps...); err != nil {
		return fmt.Errorf("%s: %w", v.name, err)
	}
	if v.before != "" {
		if _, err := chromedp.Run(ctx, chromedp.Evaluate[int](v.before+"; 0")); err != nil {
			return fmt.Errorf("%s: %w", v.name, err)
		}
		if err := chromedp.Do(ctx, chromedp.Sleep(settle)); err != nil {
			return err
		}
	}
	picture, err := chromedp.Run(ctx, chromedp.CaptureScreenshot())
	if err != nil {
		return fmt.Errorf("%s: %w", v.name, err)
	}
	if err := os.MkdirAll(out, 0o755); err != nil {
		return err
	}
	return os.WriteFile(filepath.Join(out, v.name+".png"), picture, 0o644)
}
