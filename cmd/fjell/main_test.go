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
	assert.Len(t, list, 26)
	for _, s := range list {
		for _, key := range []string{"key", "label", "unit", "takes"} {
			assert.Contains(t, s, key)
		}
	}
	assert.Contains(t, stdout, `"usual_high"`, "bands are described")
	assert.Contains(t, stdout, `"variants"`)

	problem := `{"days":3,"move_hours":[8],"paddocks":[{"key":"a","area_ha":1,"forage_mass_kg_dm_ha":2500,"ceiling_kg_dm_ha":5000,"peak_growth_kg_dm_ha_day":40}],` +
		`"mobs":[{"key":"m","demand_kg_dm_day":200,"in":"a","limits":{"entry_kg_dm_ha":2600,"too_old_kg_dm_ha":3100,"residual_kg_dm_ha":1500,"rest_min_days":18,"stay_max_days":3,"utilisation":1}}]}`
	stdout, _, code = run(problem, "plan")
	assert.Zero(t, code)
	var planned struct {
		Visits   []map[string]any `json:"visits"`
		Cost     map[string]float64
		Bound    float64
		Finished bool
	}
	require.NoError(t, json.Unmarshal([]byte(stdout), &planned))
	assert.Len(t, planned.Visits, 1)
	assert.True(t, planned.Finished)
	assert.InDelta(t, planned.Cost["total"], planned.Bound, 1e-6)
	stdout, _, code = run(problem, "plan", "--explain")
	assert.Zero(t, code)
	assert.Contains(t, stdout, "No plan is cheaper")
	again, stderr, code := run(problem, "plan", "--progress")
	require.Zero(t, code)
	assert.NotContains(t, stderr, "error", "only how far it is is said there")
	told, _, _ := run(problem, "plan")
	assert.Equal(t, told, again, "told of or not, it is the same search")
	stdout, stderr, code = run(strings.Replace(problem, `"days":3`, `"days":-3`, 1), "plan")
	assert.Equal(t, exitRefused, code)
	assert.Empty(t, stdout)
	assert.Equal(t, "fjell: days: must be between 1 and 1100; got -3\n", stderr)

	stdout, _, code = run("", "openapi")
	assert.Zero(t, code)
	assert.Contains(t, stdout, `"openapi": "3.1`)
}

func TestHowFarASearchIsIsSaidOnceForEachTenth(t *testing.T) {
	var out strings.Builder
	told := tenths(&out)
	for _, share := range []float64{0.02, 0.11, 0.12, 0.35, 0.36, 0.99, 1} {
		told(share)
	}
	assert.Equal(t, "searched 10 %\nsearched 30 %\nsearched 90 %\nsearched 100 %\n", out.String())
}
