package httpapi_test

import (
	"net/http"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gorm.io/gorm"
)

// counted counts the statements of a house, that of the session among them.
func (h site) counted(t *testing.T) *atomic.Int64 {
	t.Helper()
	var n atomic.Int64
	count := func(*gorm.DB) { n.Add(1) }
	c := h.service.Farm.DB.Callback()
	require.NoError(t, c.Query().After("gorm:query").Register("count", count))
	require.NoError(t, c.Row().After("gorm:row").Register("count", count))
	require.NoError(t, c.Raw().After("gorm:raw").Register("count", count))
	require.NoError(t, c.Create().After("gorm:create").Register("count", count))
	require.NoError(t, c.Update().After("gorm:update").Register("count", count))
	require.NoError(t, c.Delete().After("gorm:delete").Register("count", count))
	return &n
}

func TestPlacesAskTheDatabaseLittle(t *testing.T) {
	h := start(t, false)
	p := h.member(t, "ida")
	base := p.farm("Skarn")
	field := p.field(base, 9)
	status, out := p.divide(base, field, 6)
	require.Equal(t, http.StatusOK, status, out)
	mob := p.mob(base)
	p.plan(base, mob)
	n := h.counted(t)
	asked := func(request func()) int64 {
		n.Store(0)
		request()
		return n.Load()
	}
	open := func(place string) func() {
		return func() {
			status, _ := p.raw("GET", base+place, nil)
			require.Equal(t, http.StatusOK, status)
		}
	}
	for place, most := range map[string]int64{"/today": 3, "/ridge": 3, "/plan": 3, "/moves": 3, "/mobs": 3, "/growth": 3, "/land": 5, "/walk": 5} {
		open(place)()
		assert.LessOrEqual(t, asked(open(place)), most, place)
	}
	pads := p.paddocks(base)
	pin := func(instead string, pad int) string {
		pinID := id()
		body := map[string]any{"id": pinID, "mob_id": mob, "paddock_id": pads[pad]["id"], "enter_at": "2026-06-12T06:00:00Z"}
		if instead != "" {
			body["instead_of"] = instead
		}
		status, out := p.call("POST", base+"/pins", body)
		require.Equal(t, http.StatusOK, status, out)
		return pinID
	}
	first := pin("", 1)
	assert.LessOrEqual(t, asked(func() { pin(first, 2) }), int64(10), "a bite is dragged")
	assert.LessOrEqual(t, asked(func() { p.move(base, mob, pads[0]["id"], -1) }), int64(9), "moved")
}
