package main

import (
	"bytes"
	"encoding/json"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestReckonOnTheCommandLine(t *testing.T) {
	binary := filepath.Join(t.TempDir(), "fjell")
	out, err := exec.Command("go", "build", "-o", binary, ".").CombinedOutput()
	require.NoError(t, err, string(out))
	run := func(stdin string, args ...string) (stdout, stderr string, code int) {
		cmd := exec.Command(binary, args...)
		var o, e bytes.Buffer
		cmd.Stdin, cmd.Stdout, cmd.Stderr = strings.NewReader(stdin), &o, &e
		_ = cmd.Run()
		return o.String(), e.String(), cmd.ProcessState.ExitCode()
	}

	stdout, _, code := run(`{"feed_kg_dm":2070,"demand_kg_dm_day":752.24}`, "reckon", "stay")
	assert.Zero(t, code)
	var days map[string]float64
	require.NoError(t, json.Unmarshal([]byte(stdout), &days))
	assert.InDelta(t, 2070/752.24, days["days"], 1e-9)

	stdout, stderr, code := run(`[{"feed_kg_dm":10,"demand_kg_dm_day":5},{"feed_kg_dm":10,"demand_kg_dm_day":-5}]`, "reckon", "stay")
	assert.Equal(t, exitRefused, code)
	assert.Empty(t, stdout, "no answers beside a refusal")
	for _, says := range []string{"[1].demand_kg_dm_day", "above 0", "-5"} {
		assert.Contains(t, stderr, says, "field, limit and what came")
	}
	_, stderr, code = run(`{}`, "reckon", "magic")
	assert.Equal(t, exitRefused, code)
	assert.Contains(t, stderr, "must be one of")

	stdout, _, code = run("", "reckon", "--list")
	assert.Zero(t, code)
	var list []map[string]any
	require.NoError(t, json.Unmarshal([]byte(stdout), &list))
	assert.Len(t, list, 22)
	for _, s := range list {
		for _, key := range []string{"key", "label", "unit", "takes"} {
			assert.Contains(t, s, key)
		}
	}
	assert.Contains(t, stdout, `"usual_high"`, "bands are described")
	assert.Contains(t, stdout, `"variants"`)

	stdout, _, code = run("", "openapi")
	assert.Zero(t, code)
	assert.Contains(t, stdout, `"openapi": "3.1`)
}
