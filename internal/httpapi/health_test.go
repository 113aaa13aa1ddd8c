package httpapi_test

import (
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestAServerSaysHowItIs(t *testing.T) {
	h := start(t, false)
	ida := h.member(t, "ida")
	base := ida.farm("Skarn")
	status, _ := ida.raw("GET", "/readyz", nil)
	assert.Equal(t, http.StatusOK, status)

	h.Stopping()
	status, _ = ida.raw("GET", "/readyz", nil)
	assert.Equal(t, http.StatusServiceUnavailable, status, "no more are to be sent to a server that stops")
	res, err := ida.client.Get(h.url + base)
	require.NoError(t, err)
	defer res.Body.Close()
	assert.Equal(t, http.StatusOK, res.StatusCode, "what comes all the same is answered")
	assert.True(t, res.Close, "and its connection closed")

	// The database is gone: every answer is a sentence, also when the session cannot be read.
	pool, err := h.service.Farm.DB.DB()
	require.NoError(t, err)
	require.NoError(t, pool.Close())
	for path, want := range map[string]int{"/healthz": http.StatusOK, "/readyz": http.StatusServiceUnavailable, base + "/today": http.StatusServiceUnavailable} {
		status, out := ida.call("GET", path, nil)
		assert.Equal(t, want, status, path)
		if path == base+"/today" {
			assert.Contains(t, out["detail"], "database does not answer", "a problem document: %v", out)
		}
	}
}
