package httpapi_test

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"net/http"
	"net/url"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/internal/demo"
)

func picture(t *testing.T) []byte {
	t.Helper()
	img := image.NewRGBA(image.Rect(0, 0, 24, 16))
	img.Set(3, 3, color.White)
	var out bytes.Buffer
	require.NoError(t, png.Encode(&out, img))
	return out.Bytes()
}

func TestPhotosOfAWalkAreKeptBehindTheWall(t *testing.T) {
	h := start(t, false)
	owner, stranger := h.member(t, "owner"), h.member(t, "stranger")
	base := owner.farm("Mine")
	owner.field(base, 9)
	paddock := owner.paddocks(base)[0]["id"].(string)
	shot, stop := id(), id()
	at := func(photo, paddock string) string {
		q := url.Values{"id": {photo}, "stop": {stop}, "paddock": {paddock}, "taken_at": {demo.Now.Format(time.RFC3339)}}
		return base + "/photos?" + q.Encode()
	}
	send := func(p person, path string, raw []byte) int {
		status, _ := p.raw("POST", path, string(raw), "Content-Type", "application/octet-stream")
		return status
	}
	grass := picture(t)
	assert.Equal(t, http.StatusOK, send(owner, at(shot, paddock), grass))
	assert.Equal(t, http.StatusOK, send(owner, at(shot, paddock), grass), "sent twice, kept once")
	assert.Equal(t, http.StatusConflict, send(owner, at(shot, paddock), append(picture(t), 0)), "the same id with another picture")
	assert.Equal(t, http.StatusUnprocessableEntity, send(owner, at(id(), paddock), []byte("no picture")))
	assert.Equal(t, http.StatusUnprocessableEntity, send(owner, at(id(), id()), grass), "no such paddock")
	assert.Equal(t, http.StatusNotFound, send(stranger, at(id(), paddock), grass))
	status, raw := owner.raw("GET", base+"/photos/"+shot, nil)
	require.Equal(t, http.StatusOK, status)
	assert.Equal(t, grass, raw, "as it was sent")
	status, _ = stranger.raw("GET", base+"/photos/"+shot, nil)
	assert.Equal(t, http.StatusNotFound, status)
}

func TestEventsNameTheFieldThatIsWrong(t *testing.T) {
	h := start(t, false)
	p := h.member(t, "owner")
	base := p.farm("Mine")
	status, mob := p.call("POST", base+"/mobs", with(cows, "id", id()))
	require.Equal(t, http.StatusOK, status, mob)
	class := mob["classes"].([]any)[0].(map[string]any)
	today := demo.Now.Format("2006-01-02")
	good := map[string]any{"kind": "sale", "planned_on": demo.Now.AddDate(0, 1, 0).Format("2006-01-02"), "head": 2, "from_id": class["id"]}
	for want, change := range map[string][]any{
		"body.kind":        {"kind", "party"},
		"body.head":        {"head", 5000},
		"body.from_id":     {"from_id", id()},
		"body.planned_on":  {"planned_on", "soon"},
		"body.happened_on": {"happened_on", demo.Now.AddDate(0, 0, 3).Format("2006-01-02")},
		"body.of_id":       {"kind", "weigh"},
	} {
		status, out := p.call("POST", base+"/stock/events", with(good, append(change, "id", id())...))
		require.Equal(t, http.StatusUnprocessableEntity, status, "%s: %v", want, out)
		assert.Equal(t, want, out["errors"].([]any)[0].(map[string]any)["location"])
	}
	event := id()
	status, out := p.call("POST", base+"/stock/events", with(good, "id", event))
	require.Equal(t, http.StatusOK, status, out)
	status, out = p.call("POST", base+"/stock/events", with(good, "id", event))
	require.Equal(t, http.StatusOK, status, out)
	assert.Len(t, out["events"], 1, "a repeat is answered with the first result")
	status, _ = p.call("POST", base+"/stock/events", with(good, "id", event, "head", 3))
	assert.Equal(t, http.StatusConflict, status, "the same id with other content")
	status, out = p.call("GET", base+"/stock/day?day="+today, nil)
	require.Equal(t, http.StatusOK, status)
	assert.NotEmpty(t, out["farm"].(map[string]any)["steps"])
	status, raw := p.raw("GET", base+"/stock/list", nil)
	require.Equal(t, http.StatusOK, status)
	assert.Contains(t, string(raw), "mob,class,name,head")
	status, eats := p.call("POST", base+"/stock/intake", map[string]any{"reference_id": "beef_cow_lactating", "live_weight_kg": 620, "intake_share": 0.023})
	require.Equal(t, http.StatusOK, status)
	assert.InDelta(t, 14.26, eats["intake_kg_dm_head_day"], 1e-9)
}
