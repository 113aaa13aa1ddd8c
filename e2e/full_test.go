package e2e

import (
	"bytes"
	"image"
	"image/png"
	"io"
	"math/rand/v2"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"syscall"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/internal/store"
)

// The disk of the database fills up, really: on a small file system of its own. It is said in a sentence, what was
// acknowledged stays, and Fjell goes on by itself once there is room.
func TestNothingIsLostOnAFullDisk(t *testing.T) {
	if os.Getenv("FJELL_FAULTS") != "all" || os.Geteuid() != 0 {
		t.Skip("FJELL_FAULTS=all fills a disk, which needs a file system of its own")
	}
	s := &shaky{t: t, dir: t.TempDir()}
	require.NoError(t, syscall.Mount("tmpfs", s.dir, "tmpfs", 0, "size=420m"))
	defer func() { _ = syscall.Unmount(s.dir, syscall.MNT_DETACH) }()
	s.database("start")
	keeper := exec.Command("../scripts/mariadb.sh", "keep", s.dir)
	require.NoError(t, keeper.Start())
	defer func() {
		s.database("stop")
		_ = keeper.Process.Kill()
		_ = keeper.Wait()
	}()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	s.address[0], s.address[1] = l.Addr().String(), l.Addr().String()
	require.NoError(t, l.Close())
	s.start(0)
	defer s.kill(0, syscall.SIGKILL)

	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	client := &http.Client{Jar: jar, Timeout: 25 * time.Second}
	rng := rand.New(rand.NewPCG(1, 2))
	id := func() string { return uuid.Must(uuid.NewV7()).String() }
	farmID := id()
	base := "/api/farms/" + farmID
	for path, body := range map[string]any{"/api/sign-up": map[string]any{"email": "ida@example.org", "name": "Ida", "password": "a long password"}} {
		status, answer := s.ask(client, rng, "POST", path, body)
		require.Equal(t, http.StatusOK, status, answer)
	}
	status, answer := s.ask(client, rng, "POST", "/api/farms", map[string]any{"id": farmID, "name": "Skarn", "place": "", "time_zone": "Europe/Oslo", "units": "metric", "aims": []string{},
		"experience": "some", "longitude": 9, "latitude": 61})
	require.Equal(t, http.StatusOK, status, answer)
	status, answer = s.ask(client, rng, "POST", base+"/fields", map[string]any{"id": id(), "name": "Nedre", "sward_id": "ryegrass_white_clover",
		"shape": [][][][2]float64{{{{9, 61}, {9.005, 61}, {9.005, 61.003}, {9, 61.003}, {9, 61}}}}})
	require.Equal(t, http.StatusOK, status, answer)
	db, err := store.Open(t.Context(), s.url())
	require.NoError(t, err)
	var paddock string
	require.NoError(t, db.Raw("SELECT id FROM paddocks LIMIT 1").Scan(&paddock).Error)

	photo := func() (int, string) {
		noise := image.NewRGBA(image.Rect(0, 0, 700, 700)) // no file of it is small
		for i := range noise.Pix {
			noise.Pix[i] = byte(rng.Uint32())
		}
		var content bytes.Buffer
		require.NoError(t, png.Encode(&content, noise))
		q := url.Values{"id": {id()}, "stop": {id()}, "paddock": {paddock}, "taken_at": {time.Now().UTC().Add(-time.Minute).Format(time.RFC3339)}}
		res, err := client.Post("http://"+s.address[0]+base+"/photos?"+q.Encode(), "application/octet-stream", &content)
		if err != nil {
			return 0, err.Error()
		}
		defer res.Body.Close()
		raw, _ := io.ReadAll(res.Body)
		return res.StatusCode, string(raw)
	}
	status, answer = photo()
	require.Equal(t, http.StatusOK, status, answer)
	kept := 1

	filler := filepath.Join(s.dir, "filler")
	f, err := os.Create(filler)
	require.NoError(t, err)
	_, err = io.Copy(f, zeros{})
	require.ErrorIs(t, err, syscall.ENOSPC)
	require.NoError(t, f.Close())

	// The database refuses, or, where it could not write on, has died of it: either is said.
	said := map[int]int{}
	for range 30 {
		if status, answer = photo(); status == http.StatusOK {
			kept++
			continue
		}
		said[status]++
		assert.Contains(t, []int{http.StatusInsufficientStorage, http.StatusServiceUnavailable}, status, answer)
		assert.Contains(t, answer, "nothing was changed")
	}
	require.NotEmpty(t, said, "the disk was not filled")
	t.Log("said while it was full:", said)
	res, err := client.Get("http://" + s.address[0] + "/healthz")
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, http.StatusOK, res.StatusCode, "the server lives")

	require.NoError(t, os.Remove(filler))
	began := time.Now()
	for status != http.StatusOK && time.Since(began) < time.Minute {
		if status, answer = photo(); status == http.StatusOK {
			kept++
		} else {
			time.Sleep(200 * time.Millisecond)
		}
	}
	require.Equal(t, http.StatusOK, status, "it goes on by itself: %s", answer)
	t.Logf("went on %.1f s after there was room", time.Since(began).Seconds())
	assert.EqualValues(t, kept, rows(t, db, "photos"), "what was acknowledged and nothing else")
}

type zeros struct{}

func (zeros) Read(p []byte) (int, error) { clear(p); return len(p), nil }
