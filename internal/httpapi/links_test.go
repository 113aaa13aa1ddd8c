package httpapi_test

import (
	"net"
	"net/http"
	"net/http/httptest"
	"regexp"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/internal/httpapi"
	"fjell/internal/standin"
	"fjell/internal/store"
)

func (p person) link(base, kind string, body map[string]any) string {
	p.t.Helper()
	status, out := p.call("POST", base+"/links/"+kind, body)
	require.Equal(p.t, http.StatusOK, status, out)
	return out["token"].(string)
}

func TestALinkMakesOneHandOfAFarm(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base := ida.farm("Skarn")
	token := ida.link(base, "join", map[string]any{"role": "hand"})

	// Before there is an account, the link says where it leads; to join, somebody signs in.
	stranger := h.visitor(t)
	status, to := stranger.call("GET", "/api/links/"+token, nil)
	require.Equal(t, http.StatusOK, status, to)
	assert.Equal(t, []any{"join", "Skarn", "hand", "ida"}, []any{to["kind"], to["farm_name"], to["role"], to["by"]})
	status, _ = stranger.call("POST", "/api/links/"+token+"/join", nil)
	assert.Equal(t, http.StatusUnauthorized, status)

	jon, eva := h.member(t, "jon"), h.member(t, "eva")
	for range 2 { // an answer may be lost
		status, out := jon.call("POST", "/api/links/"+token+"/join", nil)
		require.Equal(t, http.StatusOK, status, out)
		assert.Equal(t, base, "/api/farms/"+out["farm_id"].(string))
	}
	_, me := jon.call("GET", "/api/me", nil)
	assert.Equal(t, "hand", me["farms"].([]any)[0].(map[string]any)["role"])
	status, out := eva.call("POST", "/api/links/"+token+"/join", nil)
	assert.Equal(t, http.StatusGone, status, "good for one person: %v", out)
	status, _ = stranger.call("GET", "/api/links/"+token, nil)
	assert.Equal(t, http.StatusGone, status)

	// Whoever was taken off does not come back by the link they once used; nor does a link change somebody's role.
	status, _ = ida.call("POST", base+"/members", map[string]any{"email": "jon@example.org", "role": ""})
	require.Equal(t, http.StatusOK, status)
	status, _ = jon.call("POST", "/api/links/"+token+"/join", nil)
	assert.Equal(t, http.StatusGone, status)
	own := ida.link(base, "join", map[string]any{"role": "viewer"})
	status, _ = ida.call("POST", "/api/links/"+own+"/join", nil)
	assert.Equal(t, http.StatusOK, status)
	_, me = ida.call("GET", "/api/me", nil)
	assert.Equal(t, "owner", me["farms"].([]any)[0].(map[string]any)["role"])

	// Only owners make links, and one of somebody who is no owner any more is worth nothing.
	ida.invites(base, jon, "owner")
	late := jon.link(base, "join", map[string]any{"role": "owner"})
	status, _ = ida.call("POST", base+"/members", map[string]any{"email": "jon@example.org", "role": "manager"})
	require.Equal(t, http.StatusOK, status)
	status, _ = jon.call("POST", base+"/links/join", map[string]any{"role": "owner"})
	assert.Equal(t, http.StatusForbidden, status)
	status, _ = eva.call("POST", "/api/links/"+late+"/join", nil)
	assert.Equal(t, http.StatusGone, status)

	// Old links lead nowhere.
	old := ida.link(base, "join", map[string]any{"role": "hand"})
	require.NoError(t, h.service.Farm.DB.Model(&store.Link{}).Where("used_by IS NULL").Update("ends_at", time.Now().Add(-time.Second)).Error)
	status, _ = eva.call("POST", "/api/links/"+old+"/join", nil)
	assert.Equal(t, http.StatusGone, status)
}

func TestTwoPeopleUseOneLinkAtOnce(t *testing.T) {
	p := startPair(t)
	ida := p.house[0].member(t, "ida")
	base := ida.farm("Skarn")
	people := []person{p.house[0].member(t, "jon"), p.house[1].member(t, "eva"), p.house[0].member(t, "ola"), p.house[1].member(t, "ann")}
	token := ida.link(base, "join", map[string]any{"role": "hand"})
	var joined, wg = make([]int, len(people)), sync.WaitGroup{}
	for i, who := range people {
		wg.Go(func() { joined[i], _ = who.call("POST", "/api/links/"+token+"/join", nil) })
	}
	wg.Wait()
	var members int64
	require.NoError(t, p.house[0].service.Farm.DB.Model(&store.Member{}).Count(&members).Error)
	assert.EqualValues(t, 2, members, "the owner and one more: %v", joined)
}

func TestAnOwnerHelpsWhoForgotTheirPassword(t *testing.T) {
	h := start(t, false)
	ida, jon := h.member(t, "ida"), h.member(t, "jon")
	base := ida.farm("Skarn")
	status, _ := ida.call("POST", base+"/links/password", map[string]any{"email": "jon@example.org"})
	assert.Equal(t, http.StatusUnprocessableEntity, status, "nobody on this farm")
	ida.invites(base, jon, "hand")
	status, _ = jon.call("POST", base+"/links/password", map[string]any{"email": "ida@example.org"})
	assert.Equal(t, http.StatusForbidden, status)

	// An owner who asked somebody in must not get at their other farms by it.
	other := jon.farm("Heia")
	status, out := ida.call("POST", base+"/links/password", map[string]any{"email": "jon@example.org"})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, out["detail"], "works on other farms too")
	jon.invites(other, ida, "owner")

	// What held when the link was made must hold when it is used: farms that came since, owners who went.
	late := ida.link(base, "password", map[string]any{"email": "jon@example.org"})
	jon.farm("Tjern")
	thief := h.visitor(t)
	status, _ = thief.call("GET", "/api/links/"+late, nil)
	assert.Equal(t, http.StatusGone, status)
	status, out = thief.call("POST", "/api/links/"+late+"/password", map[string]any{"password": "a better password"})
	assert.Equal(t, http.StatusGone, status, out)
	_, me := jon.call("GET", "/api/me", nil)
	assert.Len(t, me["farms"], 3, "their session goes on")
	for _, f := range me["farms"].([]any) {
		if f := f.(map[string]any); f["name"] == "Tjern" {
			jon.invites("/api/farms/"+f["id"].(string), ida, "owner")
		}
	}

	first := ida.link(base, "password", map[string]any{"email": "jon@example.org"})
	token := ida.link(base, "password", map[string]any{"email": "jon@example.org"})
	status, _ = h.visitor(t).call("POST", "/api/links/"+token+"/join", nil)
	assert.Equal(t, http.StatusUnauthorized, status)
	status, _ = ida.call("POST", "/api/links/"+token+"/join", nil)
	assert.Equal(t, http.StatusGone, status, "no link to join")
	stranger := h.visitor(t)
	status, to := stranger.call("GET", "/api/links/"+token, nil)
	require.Equal(t, http.StatusOK, status)
	assert.Equal(t, []any{"password", "jon@example.org"}, []any{to["kind"], to["email"]})
	status, out = stranger.call("POST", "/api/links/"+token+"/password", map[string]any{"password": "short"})
	assert.Equal(t, http.StatusUnprocessableEntity, status, out)
	status, out = stranger.call("POST", "/api/links/"+token+"/password", map[string]any{"password": "a better password"})
	require.Less(t, status, 300, out)
	status, _ = jon.call("GET", "/api/me", nil)
	assert.Equal(t, http.StatusUnauthorized, status, "every session has ended")
	for _, used := range []string{token, first} {
		status, _ = stranger.call("POST", "/api/links/"+used+"/password", map[string]any{"password": "another password"})
		assert.Equal(t, http.StatusGone, status)
	}
	status, _ = stranger.call("POST", "/api/sign-in", map[string]any{"email": "jon@example.org", "password": "a long password"})
	assert.Equal(t, http.StatusUnauthorized, status)
	status, _ = stranger.call("POST", "/api/sign-in", map[string]any{"email": "jon@example.org", "password": "a better password"})
	assert.Equal(t, http.StatusOK, status)
}

// mailbox is a mail server that takes what it is sent.
func mailbox(t *testing.T) (address string, box *standin.Mailbox) {
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	box = &standin.Mailbox{}
	server := box.Server()
	go func() { _ = server.Serve(listener) }()
	t.Cleanup(func() { _ = server.Close() })
	return listener.Addr().String(), box
}

func TestAForgottenPasswordByMail(t *testing.T) {
	h := start(t, false)
	h.member(t, "ida")
	stranger := h.visitor(t)
	status, out := stranger.call("POST", "/api/forgotten", map[string]any{"email": "ida@example.org"})
	assert.Equal(t, http.StatusUnprocessableEntity, status, "no mail is set")
	assert.Contains(t, out["detail"], "ask an owner of your farm")

	address, box := mailbox(t)
	for _, wrong := range [][3]string{{"http://" + address, "a@example.org", "https://fjell.example"}, {"smtp://" + address, "nobody", "https://fjell.example"}, {"smtp://" + address, "a@example.org", ""}} {
		_, err := httpapi.NewPost(wrong[0], wrong[1], wrong[2])
		assert.Error(t, err, wrong)
	}
	post, err := httpapi.NewPost("smtp://"+address, "fjell@example.org", "https://fjell.example")
	require.NoError(t, err)
	server, err := httpapi.New(h.service, httpapi.Options{Post: post})
	require.NoError(t, err)
	ts := httptest.NewServer(server.Handler())
	t.Cleanup(ts.Close)
	stranger.url = ts.URL
	answered, _ := stranger.raw("POST", "/api/forgotten", map[string]any{"email": "nobody@example.org"})
	for range 2 {
		status, _ := stranger.raw("POST", "/api/forgotten", map[string]any{"email": " Ida@example.org"})
		assert.Equal(t, answered, status, "nobody can tell whether there is such an account")
	}
	require.Eventually(t, func() bool { return len(box.Mails()) > 0 }, 10*time.Second, 10*time.Millisecond)
	assert.Equal(t, []string{"ida@example.org"}, box.Mails()[0].To)
	letter := box.Mails()[0].Text
	found := regexp.MustCompile(`https://fjell\.example/#/password/([\w-]+)`).FindStringSubmatch(letter)
	require.NotNil(t, found, letter)
	status, out = stranger.call("POST", "/api/links/"+found[1]+"/password", map[string]any{"password": "a better password"})
	require.Less(t, status, 300, out)
	status, _ = stranger.call("POST", "/api/sign-in", map[string]any{"email": "ida@example.org", "password": "a better password"})
	assert.Equal(t, http.StatusOK, status)

	// Somebody's box is not filled by others.
	for range 3 {
		status, _ = stranger.call("POST", "/api/forgotten", map[string]any{"email": "ida@example.org"})
	}
	assert.Equal(t, http.StatusTooManyRequests, status)
}
