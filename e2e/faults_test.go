package e2e

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gorm.io/gorm"

	"fjell/internal/store"
)

// shaky is a database and two servers that are killed and started again while people write.
type shaky struct {
	t       *testing.T
	dir     string
	address [2]string
	mu      sync.Mutex
	servers [2]*exec.Cmd
}

func (s *shaky) database(act string) {
	out, err := exec.Command("../scripts/mariadb.sh", act, s.dir).CombinedOutput()
	require.NoError(s.t, err, string(out))
}

func (s *shaky) url() string {
	raw, err := os.ReadFile(filepath.Join(s.dir, "url"))
	require.NoError(s.t, err)
	return strings.TrimSpace(string(raw))
}

func (s *shaky) start(i int) {
	cmd := exec.Command(os.Getenv("FJELL_BINARY"), "serve", "--address", s.address[i])
	cmd.Env = append(os.Environ(), "FJELL_DATABASE="+s.url())
	require.NoError(s.t, cmd.Start())
	s.servers[i] = cmd
}

func (s *shaky) kill(i int, signal syscall.Signal) {
	_ = s.servers[i].Process.Signal(signal)
	_, _ = s.servers[i].Process.Wait()
}

// fault breaks something and mends it.
func (s *shaky) fault(rng *rand.Rand) string {
	s.mu.Lock()
	defer s.mu.Unlock()
	i := rng.IntN(2)
	switch what := rng.IntN(4); what {
	case 0:
		s.kill(i, syscall.SIGKILL)
		s.start(i)
		return "a server killed"
	case 1:
		s.kill(i, syscall.SIGTERM)
		s.start(i)
		return "a server stopped"
	case 2:
		raw, err := os.ReadFile(filepath.Join(s.dir, "mariadb.pid"))
		require.NoError(s.t, err)
		pid, err := strconv.Atoi(strings.TrimSpace(string(raw)))
		require.NoError(s.t, err)
		_ = syscall.Kill(pid, syscall.SIGKILL)
		time.Sleep(time.Duration(100+rng.IntN(900)) * time.Millisecond)
		s.database("start")
		return "the database killed"
	default:
		s.database("stop")
		s.database("start")
		return "the database stopped"
	}
}

// ask sends a request until its outcome is known; a request whose answer was lost goes again, the same, to either server.
func (s *shaky) ask(client *http.Client, rng *rand.Rand, method, path string, body any, headers ...string) (int, string) {
	raw, err := json.Marshal(body)
	if err != nil {
		panic(err)
	}
	for began := time.Now(); time.Since(began) < 2*time.Minute; time.Sleep(time.Duration(50+rng.IntN(200)) * time.Millisecond) {
		req, err := http.NewRequest(method, "http://"+s.address[rng.IntN(2)]+path, bytes.NewReader(raw))
		if err != nil {
			panic(err)
		}
		req.Header.Set("Content-Type", "application/json")
		for i := 0; i+1 < len(headers); i += 2 {
			req.Header.Set(headers[i], headers[i+1])
		}
		res, err := client.Do(req)
		if err != nil {
			continue
		}
		answer, err := io.ReadAll(res.Body)
		res.Body.Close()
		if err == nil && res.StatusCode < 500 && res.StatusCode != http.StatusTooManyRequests {
			return res.StatusCode, string(answer)
		}
	}
	return 0, "no outcome in two minutes"
}

// Servers and database are killed and stopped while people write, each request going again until its outcome is known.
// What was acknowledged is there once, what was refused is not, and nothing is there by half. FJELL_FAULTS=all breaks
// things for minutes; FJELL_SEED chooses how.
func TestNothingIsLostOrDoubledWhenThingsBreak(t *testing.T) {
	s := &shaky{t: t, dir: t.TempDir()}
	s.database("start")
	defer s.database("stop")
	for i := range s.address {
		l, err := net.Listen("tcp", "127.0.0.1:0")
		require.NoError(t, err)
		s.address[i] = l.Addr().String()
		require.NoError(t, l.Close())
		s.start(i)
	}
	defer func() {
		for i := range s.servers {
			s.kill(i, syscall.SIGKILL)
		}
	}()
	lasts, seed := 15*time.Second, uint64(time.Now().UnixNano())
	if os.Getenv("FJELL_FAULTS") == "all" {
		lasts = 4 * time.Minute
	}
	if n, err := strconv.ParseUint(os.Getenv("FJELL_SEED"), 10, 64); err == nil {
		seed = n
	}
	t.Log("seed", seed)
	id := func() string { return uuid.Must(uuid.NewV7()).String() }
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	client := &http.Client{Jar: jar, Timeout: 10 * time.Second, Transport: &http.Transport{DisableKeepAlives: true}}
	rng := rand.New(rand.NewPCG(seed, 1))
	must := func(status int, answer string) string {
		t.Helper()
		require.Equal(t, http.StatusOK, status, answer)
		return answer
	}
	must(s.ask(client, rng, "POST", "/api/sign-up", map[string]any{"email": "ida@example.org", "name": "Ida", "password": "a long password"}))
	farmID, fieldID, mobID := id(), id(), id()
	base := "/api/farms/" + farmID
	must(s.ask(client, rng, "POST", "/api/farms", map[string]any{"id": farmID, "name": "Skarn", "place": "", "time_zone": "Europe/Oslo", "units": "metric", "aims": []string{},
		"experience": "some", "longitude": 9, "latitude": 61}))
	must(s.ask(client, rng, "POST", base+"/fields", map[string]any{"id": fieldID, "name": "Nedre", "sward_id": "ryegrass_white_clover",
		"shape": [][][][2]float64{{{{9, 61}, {9.005, 61}, {9.005, 61.003}, {9, 61.003}, {9, 61}}}}}))
	must(s.ask(client, rng, "POST", base+"/mobs", map[string]any{"id": mobID, "name": "Cows", "letter": "K", "glyph": "circle", "field_ids": []string{},
		"classes": []any{map[string]any{"reference_id": "beef_cow_dry", "name": "", "count": 30, "live_weight_kg": 620, "intake_share": 0.021}}}))
	var land struct {
		Paddocks []struct{ ID string }
	}
	require.NoError(t, json.Unmarshal([]byte(must(s.ask(client, rng, "GET", base+"/land", nil))), &land))
	var year struct {
		Bands []struct {
			GroupID string `json:"group_id"`
		}
	}
	require.NoError(t, json.Unmarshal([]byte(must(s.ask(client, rng, "GET", base+"/stock/year", nil))), &year))

	// Each kind of write, by the table in which its record is found by its id.
	type kept struct {
		table, id string
		ok        bool
	}
	var mu sync.Mutex
	var all []kept
	undone := 0
	ends := time.Now().Add(lasts)
	var writers sync.WaitGroup
	for w := range 4 {
		writers.Go(func() {
			rng := rand.New(rand.NewPCG(seed, uint64(10+w)))
			for time.Now().Before(ends) {
				one := kept{id: id()}
				var status int
				var answer string
				now := time.Now().UTC().Add(-time.Minute).Format(time.RFC3339)
				switch rng.IntN(6) {
				case 0:
					one.table = "measurements"
					status, answer = s.ask(client, rng, "POST", base+"/measurements", map[string]any{"id": one.id, "paddock_id": land.Paddocks[0].ID, "method": "plain", "readings": []float64{2000}, "measured_at": now})
				case 1:
					one.table = "stock_events"
					status, answer = s.ask(client, rng, "POST", base+"/stock/events", map[string]any{"id": one.id, "kind": "purchase", "happened_on": now[:10], "head": 1, "into_id": year.Bands[0].GroupID})
				case 2: // more than there are: refused, whatever breaks
					one.table = "stock_events"
					status, answer = s.ask(client, rng, "POST", base+"/stock/events", map[string]any{"id": one.id, "kind": "sale", "happened_on": now[:10], "head": 1900, "from_id": year.Bands[0].GroupID})
				case 3:
					one.table = "marks"
					status, answer = s.ask(client, rng, "POST", base+"/land/marks", map[string]any{"id": one.id, "kind": "gate", "name": "g", "path": [][]float64{{9.001, 61.001}}})
				case 4:
					one.table = "readings"
					status, answer = s.ask(client, rng, "POST", base+"/readings", map[string]any{"readings": []any{map[string]any{"id": one.id, "method": "plate", "value": 8, "taken_at": now}}})
				default: // nothing new: known by the client's key alone
					one.table = "writes"
					status, answer = s.ask(client, rng, "PUT", base+"/walk/order", map[string]any{"paddock_ids": []string{}}, "Idempotency-Key", one.id, "If-Match", "1000000")
					if status == http.StatusPreconditionFailed {
						status = http.StatusUnprocessableEntity
					}
				}
				one.ok = status == http.StatusOK
				if !assert.True(t, one.ok || status == http.StatusUnprocessableEntity, "%s: %d %s", one.table, status, answer) {
					return
				}
				mu.Lock()
				all = append(all, one)
				mu.Unlock()
			}
		})
	}
	broken := map[string]int{}
	for time.Now().Before(ends) {
		broken[s.fault(rng)]++
		time.Sleep(time.Duration(300+rng.IntN(1200)) * time.Millisecond)
	}
	writers.Wait()
	// Undo, the same request until it is known: one step is taken back, and no other.
	key := id()
	status, answer := s.ask(client, rng, "POST", base+"/land/undo", nil, "Idempotency-Key", key)
	require.Contains(t, []int{http.StatusOK, http.StatusUnprocessableEntity}, status, answer)
	again, _ := s.ask(client, rng, "POST", base+"/land/undo", nil, "Idempotency-Key", key)
	assert.Equal(t, status, again)
	if status == http.StatusOK {
		undone = 1
	}

	db, err := store.Open(t.Context(), s.url())
	require.NoError(t, err)
	acknowledged, refused := map[string]int64{}, 0
	lost, stored := 0, 0
	for _, one := range all {
		var n int64
		require.NoError(t, db.Table(one.table).Where("farm_id = ? AND id = ?", farmID, one.id).Count(&n).Error)
		switch {
		case one.ok && one.table != "marks" && n != 1:
			lost++
		case !one.ok && n != 0:
			stored++
		}
		if one.ok {
			acknowledged[one.table]++
		} else {
			refused++
		}
	}
	t.Logf("%d writes acknowledged %v, %d refused; broken: %v", len(all)-refused, acknowledged, refused, broken)
	assert.Zero(t, lost, "acknowledged and not there")
	assert.Zero(t, stored, "refused and there all the same")
	for table, n := range acknowledged {
		if table == "marks" {
			n -= int64(undone)
		}
		if table == "readings" || table == "measurements" || table == "marks" || table == "stock_events" {
			assert.Equal(t, n, rows(t, db, table), "%s: none that nobody was told of, none twice", table)
		}
	}
	assert.Equal(t, min(50, acknowledged["marks"]+1), rows(t, db, "land_steps"), "each edit with the step that made it, of which fifty are kept: the field's and the marks'")
}

func rows(t *testing.T, db *gorm.DB, table string) int64 {
	t.Helper()
	var n int64
	require.NoError(t, db.Raw(fmt.Sprintf("SELECT COUNT(*) FROM %s", table)).Scan(&n).Error)
	return n
}
