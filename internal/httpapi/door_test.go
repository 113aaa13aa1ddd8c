package httpapi_test

import (
	"fmt"
	"net/http"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/internal/httpapi"
	"fjell/internal/store"
)

func signIn(p person, email, password string, headers ...string) (int, map[string]any) {
	return p.call("POST", "/api/sign-in", map[string]any{"email": email, "password": password}, headers...)
}

// atDoor is a house behind a proxy, so that a test can come from anywhere.
func atDoor(t *testing.T) site {
	t.Helper()
	h := start(t, false)
	require.NoError(t, h.Engine.SetTrustedProxies([]string{"127.0.0.1"}))
	return h
}

func from(n int) (string, string) { return "X-Forwarded-For", fmt.Sprintf("198.51.100.%d", n) }

func TestGuessingIsSlowAndLocksNobodyElseOut(t *testing.T) {
	h := atDoor(t)
	ida := h.member(t, "ida") // her browser is known from here on
	k, v := from(7)

	// A hundred guesses at once are a hundred guesses.
	var mu sync.Mutex
	got := map[int]int{}
	var group sync.WaitGroup
	for range 40 {
		group.Go(func() {
			status, _ := signIn(h.visitor(t), "ida@example.org", "wrong password", k, v)
			mu.Lock()
			got[status]++
			mu.Unlock()
		})
	}
	group.Wait()
	assert.LessOrEqual(t, got[http.StatusUnauthorized], 6, "%v", got)
	assert.Equal(t, 40, got[http.StatusUnauthorized]+got[http.StatusTooManyRequests], "%v", got)
	status, out := signIn(h.visitor(t), "ida@example.org", "a long password", k, v)
	assert.Equal(t, http.StatusTooManyRequests, status, "whoever guesses waits, even with the right one: %v", out)
	assert.Contains(t, out["detail"], "wait")

	status, out = signIn(ida, "ida@example.org", "a long password")
	assert.Equal(t, http.StatusOK, status, "on a browser she has used before nobody keeps her out: %v", out)
	status, _ = signIn(ida, "ida@example.org", "a long password", k, v)
	assert.Equal(t, http.StatusOK, status, "not even from the address of whoever guesses")
	h.member(t, "ola")
	ok, ov := from(9)
	status, out = signIn(h.visitor(t), "ola@example.org", "a long password", ok, ov)
	assert.Equal(t, http.StatusOK, status, "others come in from elsewhere: %v", out)
}

func TestManyAddressesCannotGuessFaster(t *testing.T) {
	h := atDoor(t)
	h.member(t, "ida")
	refused := 0
	for i := range 30 {
		k, v := from(i)
		if status, _ := signIn(h.visitor(t), "ida@example.org", "wrong password", k, v); status == http.StatusTooManyRequests {
			refused++
		}
	}
	assert.GreaterOrEqual(t, refused, 9, "after twenty the tries are spaced out")
}

func TestTheDoorKeepsItsSecrets(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	status, out := h.visitor(t).call("POST", "/api/sign-up", map[string]any{"email": "ída@example.org", "name": "x", "password": "a long password"})
	assert.Equal(t, http.StatusOK, status, "an address that only looks alike is another: %v", out)
	for _, weak := range []string{"password12", "Passw0rd!!", "aaaaaaaaaaaa", "abababababab", "1234567890", "qwertyuiop", "sunshine2024", "ida1234567", "0987654321"} {
		status, out := h.visitor(t).call("POST", "/api/sign-up", map[string]any{"email": "ida1234567@example.org", "name": "x", "password": weak})
		assert.Equal(t, http.StatusUnprocessableEntity, status, weak)
		assert.NotContains(t, fmt.Sprint(out), weak)
	}
	status, out = h.visitor(t).call("POST", "/api/sign-up", map[string]any{"email": "new@example.org", "name": "x", "password": 1234567891234})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.NotContains(t, fmt.Sprint(out), "1234567891234")
	var rows []store.Session
	require.NoError(t, h.service.Farm.DB.Find(&rows).Error)
	for _, c := range ida.client.Jar.Cookies(mustURL(t, h.url)) {
		for _, r := range rows {
			assert.NotEqual(t, c.Value, r.Token, "what is in the table is no key")
		}
	}
	// The same again, after an answer that was lost, is the same account.
	again := map[string]any{"email": "lost@example.org", "name": "Lost", "password": "a long password"}
	_, first := h.visitor(t).call("POST", "/api/sign-up", again)
	status, second := h.visitor(t).call("POST", "/api/sign-up", again)
	require.Equal(t, http.StatusOK, status)
	assert.Equal(t, first["id"], second["id"])
	// Everywhere out.
	other := h.visitor(t)
	status, _ = signIn(other, "ida@example.org", "a long password")
	require.Equal(t, http.StatusOK, status)
	status, _ = ida.call("POST", "/api/sign-out-everywhere", nil)
	require.Less(t, status, 300)
	for _, p := range []person{ida, other} {
		status, _ = p.call("GET", "/api/me", nil)
		assert.Equal(t, http.StatusUnauthorized, status)
	}
}

func TestCookiesBehindHTTPS(t *testing.T) {
	h := start(t, false)
	secure, err := httpapi.New(h.service, httpapi.Options{Secure: true})
	require.NoError(t, err)
	h.Server = secure
	ts := serve(t, secure)
	p := person{t, ts, h.visitor(t).client}
	res, err := p.client.Post(ts+"/api/sign-up", "application/json", strings.NewReader(`{"email":"ida@example.org","name":"Ida","password":"a long password"}`))
	require.NoError(t, err)
	defer res.Body.Close()
	require.Equal(t, http.StatusOK, res.StatusCode)
	names := map[string]bool{}
	for _, c := range res.Cookies() {
		names[c.Name] = true
		assert.True(t, c.Secure && c.HttpOnly, c.Name)
	}
	assert.True(t, names["__Host-fjell"], "%v", names)
	assert.NotEmpty(t, res.Header.Get("Strict-Transport-Security"))
}

func TestNobodyIsPutOnAFarmUnasked(t *testing.T) {
	h := start(t, false)
	ida, ola := h.member(t, "ida"), h.member(t, "ola")
	base, own := ida.farm("Skarn"), ola.farm("Egen")
	status, out := ida.call("POST", base+"/members", map[string]any{"email": "ola@example.org", "role": "hand"})
	require.Equal(t, http.StatusOK, status, out)
	status, _ = ola.call("GET", base+"/land", nil)
	assert.Equal(t, http.StatusNotFound, status, "asked is not joined")
	_, me := ola.call("GET", "/api/me", nil)
	require.Len(t, me["farms"], 1)
	require.Len(t, me["invitations"], 1)
	assert.Contains(t, fmt.Sprint(me["invitations"]), "Skarn")
	farmID := strings.TrimPrefix(base, "/api/farms/")
	status, _ = h.member(t, "stranger").call("POST", "/api/invitations/"+farmID, map[string]any{"join": true})
	assert.Equal(t, http.StatusNotFound, status, "an invitation is for whom it is")
	for range 2 {
		status, out = ola.call("POST", "/api/invitations/"+farmID, map[string]any{"join": true})
		require.Less(t, status, 300, out)
	}
	_, me = ola.call("GET", "/api/me", nil)
	require.Len(t, me["farms"], 2)
	assert.Equal(t, strings.TrimPrefix(own, "/api/farms/"), me["farms"].([]any)[0].(map[string]any)["id"], "one's own farm comes first")
	status, _ = ola.call("GET", base+"/audit", nil)
	assert.Equal(t, http.StatusForbidden, status)
	status, _ = ola.call("POST", base+"/leave", nil)
	require.Less(t, status, 300)
	status, _ = ola.call("GET", base+"/land", nil)
	assert.Equal(t, http.StatusNotFound, status)
	status, out = ida.call("POST", base+"/leave", nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status, "the last owner stays: %v", out)
	_, raw := ida.raw("GET", base+"/audit", nil)
	for _, what := range []string{"asked to join", "ola, as hand", "joined as", "left"} {
		assert.Contains(t, string(raw), what)
	}
}

func TestAnAccountCanBeGivenUp(t *testing.T) {
	h := start(t, false)
	ida, ola := h.member(t, "ida"), h.member(t, "ola")
	base, alone := ida.farm("Skarn"), ola.farm("Egen")
	ola.field(alone, 9)
	ola.mob(alone)
	ida.field(base, 9.1)
	ida.invites(base, ola, "manager")
	ola.measure(base, ola.paddocks(base)[0]["id"].(string), 2000, -1)
	status, out := ida.call("POST", "/api/account/give-up", map[string]any{"password": "a long password"})
	assert.Equal(t, http.StatusUnprocessableEntity, status, "others work on it: %v", out)
	status, _ = ola.call("POST", "/api/account/give-up", map[string]any{"password": "not mine at all"})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	tag := func() string {
		res, err := ida.client.Get(h.url + base + "/members")
		require.NoError(t, err)
		defer res.Body.Close()
		return res.Header.Get("ETag")
	}
	before := tag()
	status, out = ola.call("POST", "/api/account/give-up", map[string]any{"password": "a long password"})
	require.Less(t, status, 300, out)
	assert.NotEqual(t, before, tag(), "who is on the farm is another page now")
	status, _ = ola.call("GET", "/api/me", nil)
	assert.Equal(t, http.StatusUnauthorized, status)
	status, _ = signIn(h.visitor(t), "ola@example.org", "a long password")
	assert.Equal(t, http.StatusUnauthorized, status)
	var users, farms, walks int64
	require.NoError(t, h.service.Farm.DB.Model(&store.User{}).Where("email LIKE 'ola%' OR name = 'ola'").Count(&users).Error)
	require.NoError(t, h.service.Farm.DB.Model(&store.Farm{}).Count(&farms).Error)
	require.NoError(t, h.service.Farm.DB.Model(&store.Measurement{}).Count(&walks).Error)
	assert.Equal(t, []int64{0, 1, 1}, []int64{users, farms, walks}, "the name is gone, the farm of hers alone too, the walk stays")
	status, _ = ida.call("GET", base+"/land", nil)
	assert.Equal(t, http.StatusOK, status)
}
