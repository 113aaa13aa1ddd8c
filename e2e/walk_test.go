package e2e

import (
	"database/sql"
	"fmt"
	"net"
	"net/http"
	"net/http/httputil"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	_ "github.com/go-sql-driver/mysql"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// signal is a connection to the program that can be cut: a listener of the test's own in front of it.
type signal struct {
	t       testing.TB
	address string
	target  *url.URL
	server  *http.Server
}

func newSignal(t testing.TB, target string) *signal {
	u, err := url.Parse(target)
	require.NoError(t, err)
	s := &signal{t: t, address: "127.0.0.1:0", target: u}
	s.on()
	t.Cleanup(s.off)
	return s
}

func (s *signal) on() {
	listener, err := net.Listen("tcp", s.address)
	require.NoError(s.t, err)
	s.address = listener.Addr().String()
	proxy := &httputil.ReverseProxy{Rewrite: func(r *httputil.ProxyRequest) {
		r.SetURL(s.target)
		r.Out.Host = r.In.Host
	}}
	s.server = &http.Server{Handler: proxy, ReadHeaderTimeout: 10 * time.Second}
	go func() { _ = s.server.Serve(listener) }()
}

func (s *signal) off() { _ = s.server.Close() }

// A whole walk without a signal, with the browser closed half-way: every reading is there once when it is back.
func TestAWholeWalkWithoutASignal(t *testing.T) {
	const each = 4
	dsn := demoDatabase(t)
	p := start(t, dsn, "demo", "")
	s := newSignal(t, p.url)
	b := open(t, 390, 844)
	b.visit("http://" + s.address)
	b.click("Open Skarnvoll")
	b.sees("Stay or move?")
	b.ask(`navigator.serviceWorker.ready.then(() => 'ready')`)
	b.do(chromedp.Reload()) // from here on the worker keeps what the page asks for
	b.sees("Stay or move?")
	b.click("Walk")
	b.sees("of 24 measured today")
	b.until("core to be kept", `globalThis.fjellCore && caches.open('core').then((c) => c.keys()).then((k) => (globalThis.coreKept = k.length)) && globalThis.coreKept`)

	db, err := sql.Open("mysql", dsn)
	require.NoError(t, err)
	defer db.Close()
	count := func(query string) int {
		var n int
		require.NoError(t, db.QueryRow(query).Scan(&n))
		return n
	}
	before := count(`SELECT COUNT(*) FROM measurements WHERE method = 'plate'`)
	require.Zero(t, count(`SELECT COUNT(*) FROM readings`))

	s.off()
	b.click("Start at")
	for stop := 1; stop <= 24; stop++ {
		b.sees(fmt.Sprintf("%d of 24", stop))
		b.sees("Guess first")
		b.keys("2100" + kb.Enter)
		if stop == 1 {
			b.sees("Fjell reckons")
		}
		for r := range each {
			if zoned := b.count(`[aria-label="Zone of the paddock"] button`); zoned != "0" && r == each/2 {
				b.ask(`(document.querySelectorAll('[aria-label="Zone of the paddock"] button')[1].click(), '')`)
			}
			b.keys(fmt.Sprint(6+r) + kb.Enter)
		}
		switch stop {
		case 3:
			b.sees("no signal")
			b.click("Method, note")
			b.photo()
			b.click("Measure")
			b.do(chromedp.Reload())
			b.sees("3 of 24") // a reload stays where the hand was
			b.click("Leave")
			b.sees("2 of 24 measured today")
			b.sees("4 readings begun")
			b.click("On to")
		case 12:
			b.do(chromedp.Navigate("about:blank"), chromedp.Navigate("http://"+s.address+"/"+b.hash(t)))
			b.sees("held here, safe")
			b.click("Leave")
			b.click("On to")
		}
		b.click("Done here")
	}
	b.sees("24 of 24 measured today")
	b.sees("held here, safe")
	assert.Zero(t, count(`SELECT COUNT(*) FROM readings`), "nothing got through")

	s.on()
	b.until("all to be sent", `!document.body.innerText.includes('held here')`)
	b.sees("24 of 24 measured today")
	assert.Equal(t, 24*each, count(`SELECT COUNT(*) FROM readings`), "every reading once")
	assert.Equal(t, before+24, count(`SELECT COUNT(*) FROM measurements WHERE method = 'plate'`))
	assert.Equal(t, 1, count(`SELECT COUNT(*) FROM photos`))
	assert.Equal(t, 24*each, count(`SELECT COUNT(*) FROM readings r JOIN measurements m ON m.farm_id = r.farm_id AND m.id = r.stop_id`), "and each belongs to its measurement")
	b.do(chromedp.Reload())
	b.sees("1 photo")
	b.ask(`([...document.images].find((i) => i.alt.startsWith('Photo 1 of')).scrollIntoView({ block: 'center' }), '')`) // it is fetched when it comes in sight
	b.until("the photo itself", `[...document.images].some((i) => i.alt.startsWith('Photo 1 of') && i.complete && i.naturalWidth === 64)`)
	// Who took it may take it away again, for good, when asked twice.
	b.ask(`(document.querySelector('[aria-label^="Photos of"]').click(), '')`)
	b.click("Take this photo away")
	b.sees("It cannot be brought back")
	b.click("Keep it")
	b.click("Take this photo away")
	b.click("Yes, take it away")
	b.sees("The photo is gone")
	assert.Zero(t, count(`SELECT COUNT(*) FROM photos`))
	// Sums work without a signal too.
	b.visit("http://" + s.address + "/#/sums/feed")
	b.sees("2 070 kg")
	s.off()
	b.do(chromedp.Reload())
	b.sees("2 070 kg")
	b.fill("Area", "3.6")
	b.sees("4 140 kg")
}

// hash is where the page is, behind the address.
func (b *browser) hash(t *testing.T) string {
	t.Helper()
	return b.ask(`location.hash`)
}

// photo takes a picture with the camera field of the sheet that is open.
func (b *browser) photo() {
	b.t.Helper()
	b.until("the sheet", `document.querySelector('input[type=file]')`)
	b.ask(`(async () => {
		const c = document.createElement('canvas'); c.width = c.height = 64; c.getContext('2d').fillRect(8, 8, 40, 40)
		const blob = await new Promise((r) => c.toBlob(r, 'image/png'))
		const list = new DataTransfer(); list.items.add(new File([blob], 'grass.png', {type: 'image/png'}))
		const f = document.querySelector('input[type=file]'); f.files = list.files; f.dispatchEvent(new Event('change', {bubbles: true}))
		return ''
	})()`)
	b.sees("Take a photo (1)")
}

func TestWalkingLosesNothing(t *testing.T) {
	b := onTheDemoFarm(t, 390, 844)
	b.click("Walk")
	b.click("Start at")
	b.sees("Guess first")
	where := b.ask(`document.querySelector('h1').innerText`)
	b.keys("1900" + kb.Enter)
	for _, r := range []string{"5", "5.5", "4.5", "5", "6", "48", "40"} {
		b.keys(r + kb.Enter)
	}
	b.sees("48 cm: far from the rest")
	b.do(chromedp.Reload())
	b.sees(where)
	b.sees("48 cm: far from the rest")
	b.click("Drop")
	b.sees("40 cm: far from the rest")
	b.click("Keep")
	b.until("no more questions", `!document.body.innerText.includes('far from the rest')`)
	b.click("take back")
	b.sees("mean 5.2 cm")
	b.click("Done here")
	b.sees(where + ": 1 796")
	b.sees("2 of 24")
	b.click("Undo")
	b.sees("Taken back: " + where)

	// Another method starts another mean; a clip wants its frame and its dry share.
	b.keys("2000" + kb.Enter + "7" + kb.Enter)
	b.sees("mean 7.0 cm")
	b.click("Method, note")
	b.click("Clip")
	b.click("Measure")
	b.sees("Reading 1")
	b.keys("300" + kb.Enter)
	b.sees("Say how large your frame is")
	b.click("Method, note")
	b.fill("Frame", "0.25")
	b.fill("Dry-matter share", "18")
	b.fill("Height in fists", "1")
	b.click("Measure")
	b.sees("2 160 ±")
	b.sees("The hand agrees with")
	// A plate that counts asks for its three figures.
	b.click("Method, note")
	b.click("Plate counter")
	b.fill("The plate's travel", "0.5")
	b.click("Measure")
	for words, figure := range map[string]string{"Counter before": "1200"} {
		b.sees(words)
		b.keys(figure + kb.Enter)
	}
	b.sees("Counter now")
	b.keys("1680" + kb.Enter)
	b.sees("Drops between")
	b.keys("24" + kb.Enter)
	b.sees("Done here: 2 900")
	b.click("Leave")
	b.sees("0 of 24 measured today")
}

func TestReadingsComeInFromAFileAndADevice(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.keys("4")
	b.click("Readings")
	b.fill("Name of a new device", "Yard plate")
	b.click("Add")
	b.sees("shown this once")
	b.click("Let the made-up plate walk")
	b.sees("Waiting to be taken in")
	b.sees("sent 5") // 24 × 20 readings and some twice
	b.click("Take in 24 paddocks")
	b.sees("24 paddocks measured")
	b.click("Round")
	b.sees("24 of 24 measured today")
	b.click("Readings")
	b.bring("readings.csv", "when;lat;lon;cm\n2026-06-09 09:00;61,137;9,2142;9,5\n2026-06-09 09:01;10;10;9\nsome day;61;9;9\n")
	b.sees("0 readings")
	b.choose("Time", "0")
	b.sees("2 readings, 1 of them in a paddock")
	b.sees("Row 3:")
	b.click("Bring in 2 readings")
	b.sees("1 reading lies in no paddock")
	b.click("Let them go")
	b.until("it to be gone", `!document.body.innerText.includes('lie in no paddock')`)
}

func TestCalibratingAndComparingMeters(t *testing.T) {
	b := onTheDemoFarm(t, 1280, 800)
	b.keys("4")
	b.click("Calibrations")
	b.sees("Leafy leys, May")
	b.click("New calibration")
	b.fill("Name", "My plate")
	for i, pair := range []string{"5 1600", "6 1800", "7 2050", "8 2200", "9 2450", "10 2600", "11 2850", "12 3000"} {
		cm, mass, _ := strings.Cut(pair, " ")
		b.fill(fmt.Sprintf("Height %d", i+1), cm)
		b.fill(fmt.Sprintf("Clip %d", i+1), mass)
	}
	b.sees("A single pair lies ±")
	b.click("Take into use")
	b.sees("My plate is in use. ")
	b.sees("were worked out anew")
	b.click("Compare")
	for i := range 4 {
		b.ask(fmt.Sprintf(`(() => { const set = (label, v, k) => { const l = [...document.querySelectorAll('label')].filter((l) => l.textContent.trim().startsWith(label))[k]; const f = document.getElementById(l.htmlFor); f.value = v; f.dispatchEvent(new Event('input', {bubbles: true})) };
			set('First meter, spot %[1]d', %[2]d, 0); set('Second meter', %[3]d, %[4]d); set('Clip, if made', %[3]d, %[4]d); return '' })()`, i+1, 2400+200*i, 2000+200*i, i))
	}
	b.click("Compare them")
	b.sees("The clips side with the second")
	b.click("Weather")
	b.sees("Water within reach of roots")
	b.fill("Rain", "900")
	b.fill("Mean temperature", "12")
	b.click("Write it down")
	b.sees("between 0")
	b.fill("Rain", "14")
	b.click("Write it down")
	b.sees("written down")
	b.click("Growth")
	b.sees("keep up")
	b.click("Eye")
	b.sees("near in a row")
}
