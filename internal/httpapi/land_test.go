package httpapi_test

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestGroundToDrawOn(t *testing.T) {
	h := start(t, false)
	p := h.member(t, "ida")
	base := p.farm("Skarn")
	policy := func() string {
		res, err := http.Get(h.url + "/")
		require.NoError(t, err)
		defer res.Body.Close()
		return res.Header.Get("Content-Security-Policy")
	}
	assert.Contains(t, policy(), "img-src 'self' data: blob:;")
	var raw bytes.Buffer
	img := image.NewRGBA(image.Rect(0, 0, 40, 20))
	img.Set(3, 3, color.White)
	require.NoError(t, png.Encode(&raw, img))
	picture := map[string]any{"id": id(), "name": "from the air.png", "content": raw.Bytes(), "world_file": "0.00001 0 0 -0.00001 9 61"}
	status, out := p.call("POST", base+"/land/pictures", picture)
	require.Equal(t, http.StatusOK, status, out)
	corners := out["pictures"].([]any)[0].(map[string]any)["corners"].([]any)
	assert.InDelta(t, 9.000395, corners[1].([]any)[0], 1e-9)
	status, got := p.raw("GET", base+"/land/pictures/"+picture["id"].(string), nil)
	require.Equal(t, http.StatusOK, status)
	assert.Equal(t, raw.Bytes(), got)
	for name, change := range map[string][]any{"neither a PNG nor a JPEG": {"content", []byte("<svg/>")}, "place three corners": {"world_file", ""}, "six numbers": {"world_file", "1 2"}} {
		status, out = p.call("POST", base+"/land/pictures", with(with(picture, "id", id()), change...))
		assert.Equal(t, http.StatusUnprocessableEntity, status)
		assert.Contains(t, fmt.Sprint(out), name)
	}

	heights := strings.Builder{}
	for i := range 100 {
		fmt.Fprintf(&heights, "%.5f,%.5f,%d\n", 61+0.001*float64(i/10), 9+0.001*float64(i%10), 100+i/10*3)
	}
	ask := map[string]any{"id": id(), "file": "levels.csv", "content": []byte(heights.String()), "contour_step_m": 5}
	status, out = p.call("POST", base+"/land/heights", ask)
	require.Equal(t, http.StatusOK, status, out)
	assert.Len(t, out["heights"], 1)
	status, out = p.call("POST", base+"/land/heights", with(with(ask, "id", id()), "contour_step_m", 400))
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, out["detail"], "flatter than one step")
	status, out = p.call("DELETE", base+"/land/ground/"+ask["id"].(string), nil)
	require.Equal(t, http.StatusOK, status, out)
	assert.Empty(t, out["heights"])
}

func TestWhatIsNotOfTheLandIsRefused(t *testing.T) {
	h := start(t, false)
	p := h.member(t, "ida")
	base := p.farm("Skarn")
	field := p.field(base, 9)
	paddock := p.paddocks(base)[0]["id"]
	for name, c := range map[string]struct {
		path, says string
		body       map[string]any
	}{
		"a corner nowhere":       {"/land/corner", "no fence here", map[string]any{"id": id(), "at": []float64{9.002, 61.001}, "to": []float64{9.003, 61.001}}},
		"a corner off the world": {"/land/corner", "off the world", map[string]any{"id": id(), "at": []float64{900, 61}, "to": []float64{9, 61}}},
		"a fence to nowhere":     {"/land/split", "does not part", map[string]any{"id": id(), "paddock_id": paddock, "line": [][]float64{{9.001, 61.0005}, {9.002, 61.001}}}},
		"a lane too wide":        {"/land/marks", "between 1 m and 60 m", map[string]any{"id": id(), "kind": "lane", "name": "l", "lane_width_m": 90, "path": [][]float64{{9, 61.001}, {9.01, 61.001}}}},
		"water in two places":    {"/land/marks", "stands in one place", map[string]any{"id": id(), "kind": "water", "name": "w", "path": [][]float64{{9, 61.001}, {9.01, 61.001}}}},
		"around no water":        {"/fields/" + field + "/divide", "mark a water point first", map[string]any{"intent": "water", "parts": 3, "direction_degrees": 0}},
		"along no lane":          {"/fields/" + field + "/divide", "draw a lane first", map[string]any{"intent": "lane", "parts": 3, "direction_degrees": 0}},
		"strips of no width":     {"/fields/" + field + "/divide", "width", map[string]any{"intent": "strips", "direction_degrees": 0}},
		"posts without spacing":  {"/fields/" + field + "/divide", "how far apart", map[string]any{"intent": "strips", "posts": 3, "direction_degrees": 0}},
		"days without a mob":     {"/fields/" + field + "/divide", "need a mob", map[string]any{"intent": "size", "paddock_days": 2, "direction_degrees": 0}},
		"a layout of yesterday":  {"/fields/" + field + "/layouts", "begins today", map[string]any{"id": id(), "name": "x", "names": []string{}, "parts": 2, "direction_degrees": 0, "from": "2026-06-01"}},
		"an end before its day":  {"/fields/" + field + "/layouts", "ends after the day", map[string]any{"id": id(), "name": "x", "names": []string{}, "parts": 2, "direction_degrees": 0, "until": "2026-06-10"}},
		"too many at once":       {"/land/bring", "1 to 1000", map[string]any{"id": id(), "batch": id(), "file": "x", "items": []any{}}},
	} {
		status, out := p.call("POST", base+c.path, c.body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, name)
		assert.Contains(t, fmt.Sprint(out), c.says, name)
	}
	assert.Len(t, p.paddocks(base), 1, "nothing was written")
	// The step says whose it was, and another than the one that was shown is not taken back.
	_, land := p.call("GET", base+"/land", nil)
	step := land["undo"].(map[string]any)
	assert.Equal(t, true, step["own"])
	assert.NotEmpty(t, step["by"])
	status, out := p.call("POST", base+"/land/undo?step="+id(), nil)
	assert.Equal(t, http.StatusConflict, status, out)
	assert.Contains(t, out["detail"], "somebody has changed the land since")
	status, out = p.call("POST", base+"/land/undo?step="+step["id"].(string), nil)
	require.Equal(t, http.StatusOK, status, out)
	assert.Empty(t, p.paddocks(base), "only the field itself was a step")
}
