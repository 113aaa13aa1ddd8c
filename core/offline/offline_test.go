package offline

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func say(t *testing.T, name, body string) map[string]any {
	t.Helper()
	var out map[string]any
	require.NoError(t, json.Unmarshal(Call(name, []byte(body)), &out))
	return out
}

func TestWhatTheBrowserAsks(t *testing.T) {
	v := say(t, "measure", `{"method": "plate", "readings": [8, 9, 10], "sward_id": "perennial_ryegrass"}`)["value"].(map[string]any)
	assert.InDelta(t, 270*9+550, v["mass"].(map[string]any)["value"], 1e-9)
	stay := say(t, "sum/stay", `{"feed_kg_dm": 2070, "demand_kg_dm_day": 752.24}`)["value"].(map[string]any)
	assert.InDelta(t, 2070/752.24, stay["out"].(map[string]any)["days"], 1e-9)
	assert.NotEmpty(t, say(t, "sums", `{}`)["value"])
	for want, c := range map[string][2]string{
		"readings":         {"measure", `{"method": "plate", "readings": [], "sward_id": "perennial_ryegrass"}`},
		"sward_id":         {"measure", `{"method": "plate", "readings": [8], "sward_id": "moss"}`},
		"body":             {"measure", `][`},
		"demand_kg_dm_day": {"sum/stay", `{"feed_kg_dm": 2070, "demand_kg_dm_day": -5}`},
		"by":               {"stay-or-move", `{"seen": {"by": "paces"}}`},
		"here":             {"look-back", `{"seen": {"by": "mass", "value": 1500}}`},
		"width":            {"cover", `{"pixels": "", "width": 3, "height": 3}`},
		"name":             {"dance", `{}`},
	} {
		p := say(t, c[0], c[1])["problem"].(map[string]any)
		assert.Equal(t, want, p["field"])
		assert.NotEmpty(t, p["message"])
	}
}
