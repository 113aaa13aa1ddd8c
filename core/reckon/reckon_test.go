package reckon

import (
	"bytes"
	"encoding/json"
	"io"
	"math"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"fjell/core/quantity"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

type vectorFile struct {
	Sum   string
	Cases []struct{ In, Out json.RawMessage }
}

func vectors(t testing.TB) []vectorFile {
	paths, err := filepath.Glob("testdata/*.json")
	require.NoError(t, err)
	var out []vectorFile
	for _, path := range paths {
		raw, err := os.ReadFile(path)
		require.NoError(t, err)
		var v vectorFile
		require.NoError(t, json.Unmarshal(raw, &v), path)
		out = append(out, v)
	}
	return out
}

func TestVectorsAgree(t *testing.T) {
	files := vectors(t)
	require.Len(t, files, len(Sums()), "every sum has worked cases")
	for _, v := range files {
		sum, err := Find(v.Sum)
		require.NoError(t, err)
		for i, c := range v.Cases {
			res, err := sum.Run(c.In)
			require.NoError(t, err, "%s case %d", v.Sum, i)
			raw, err := json.Marshal(res.Out)
			require.NoError(t, err)
			var got, want any
			require.NoError(t, json.Unmarshal(raw, &got))
			require.NoError(t, json.Unmarshal(c.Out, &want))
			agree(t, v.Sum, want, got)
			assert.NotEmpty(t, res.Steps, "%s shows its working", v.Sum)
		}
	}
}

func agree(t *testing.T, path string, want, got any) {
	t.Helper()
	switch w := want.(type) {
	case map[string]any:
		g, ok := got.(map[string]any)
		require.True(t, ok, path)
		for k := range g {
			assert.Contains(t, w, k, "%s has a key too many", path)
		}
		for k := range w {
			require.Contains(t, g, k, path)
			agree(t, path+"."+k, w[k], g[k])
		}
	case []any:
		g, ok := got.([]any)
		require.True(t, ok, path)
		require.Len(t, g, len(w), path)
		for i := range w {
			agree(t, path, w[i], g[i])
		}
	case float64:
		g, ok := got.(float64)
		require.True(t, ok, path)
		assert.LessOrEqual(t, math.Abs(g-w), 1e-6*math.Max(math.Abs(w), 1e-9), "%s: want %v, got %v", path, w, g)
	default:
		assert.Equal(t, want, got, path)
	}
}

func TestExamplesAnswerWithoutRemark(t *testing.T) {
	for _, s := range Sums() {
		raw, err := json.Marshal(s.Example)
		require.NoError(t, err)
		res, err := s.Run(raw)
		require.NoError(t, err, s.Key)
		assert.Empty(t, res.Unusual, s.Key)
		for _, f := range append(s.Takes, s.Answers...) {
			assert.NotEmpty(t, f.Label, "%s.%s has a label", s.Key, f.Key)
		}
	}
}

func TestArrayInArrayOut(t *testing.T) {
	sum, err := Find("stay")
	require.NoError(t, err)
	var out, notes bytes.Buffer
	require.NoError(t, sum.Stream(strings.NewReader(`[{"feed_kg_dm":2070,"demand_kg_dm_day":752.24},{"feed_kg_dm":100,"demand_kg_dm_day":50}]`), &out, &notes))
	var got []map[string]float64
	require.NoError(t, json.Unmarshal(out.Bytes(), &got))
	assert.InDelta(t, 2.7518, got[0]["days"], 1e-4)
	assert.Equal(t, 2.0, got[1]["days"])
}

func TestRefusals(t *testing.T) {
	cases := []struct{ sum, in, field, says string }{
		{"stay", `{"feed_kg_dm":2070,"demand_kg_dm_day":0}`, "demand_kg_dm_day", "above 0"},
		{"stay", `{"feed_kg_dm":1e300,"demand_kg_dm_day":9}`, "feed_kg_dm", "1e+300"},
		{"stay", `{"feed_kg_dm":-1e9,"demand_kg_dm_day":9}`, "feed_kg_dm", "-1e+09"},
		{"stay", `{"feed_kg_dm":"lots","demand_kg_dm_day":9}`, "feed_kg_dm", "a number"},
		{"stay", `{"feed_kg_dm":NaN,"demand_kg_dm_day":9}`, "body", "readable JSON"},
		{"stay", `{"feed_kg_dm":9}`, "demand_kg_dm_day", "missing"},
		{"stay", `{"feed_kg_dm":9,"demand_kg_dm_day":null}`, "demand_kg_dm_day", "missing"},
		{"stay", `{"feed_kg_dm":9,"demand_kg_dm_day":9,"head":3}`, "head", "not a field"},
		{"stay", `[]`, "body", "object"},
		{"demand", `{"classes":[{"count":2.5,"live_weight_kg":600,"intake_share":0.02}]}`, "classes[0].count", "whole"},
		{"demand", `{"classes":[]}`, "classes", "at least one"},
		{"demand", `{"classes":[{"count":5,"live_weight_kg":6000,"intake_share":0.02}]}`, "classes[0].live_weight_kg", "1500 kg"},
		{"feed", `{"method":"residual","forage_mass_kg_dm_ha":2650,"residual_kg_dm_ha":1500,"area_ha":1}`, "utilisation", "missing"},
		{"feed", `{"method":"residual","forage_mass_kg_dm_ha":2650,"residual_kg_dm_ha":1500,"utilisation":1,"harvest_efficiency":0.5,"area_ha":1}`, "harvest_efficiency", "counted twice"},
		{"feed", `{"method":"guess","area_ha":1}`, "method", "must be"},
		{"regrowth", `{"residual_kg_dm_ha":1500,"entry_kg_dm_ha":5000,"ceiling_kg_dm_ha":5000,"peak_growth_kg_dm_ha_day":60}`, "entry_kg_dm_ha", "below the ceiling"},
		{"calibrate", `{"pairs":[{"height_cm":5,"forage_mass_kg_dm_ha":1500}]}`, "pairs", "at least 8"},
		{"stocking", `{"animals":[{"count":5,"live_weight_kg":600}],"season_area_ha":2,"open_area_ha":3}`, "open_area_ha", "season"},
	}
	for _, c := range cases {
		sum, err := Find(c.sum)
		require.NoError(t, err)
		var out bytes.Buffer
		err = sum.Stream(strings.NewReader(c.in), &out, io.Discard)
		if c.in == "[]" {
			require.NoError(t, err, "an empty array gives an empty array")
			continue
		}
		require.Error(t, err, c.in)
		assert.Contains(t, err.Error(), c.field+": ", c.in)
		assert.Contains(t, err.Error(), c.says, c.in)
		assert.Empty(t, out.String(), "nothing is written beside an error")
	}
	_, err := Find("nonsense")
	assert.ErrorContains(t, err, "must be one of")
}

func TestUnusualIsReadBackAndTaken(t *testing.T) {
	sum, err := Find("demand")
	require.NoError(t, err)
	res, err := sum.Run([]byte(`{"classes":[{"count":5,"live_weight_kg":1200,"intake_share":0.02}]}`))
	require.NoError(t, err)
	require.Len(t, res.Unusual, 1)
	assert.Equal(t, "classes[0].live_weight_kg", res.Unusual[0].Field)
}

func FuzzReckon(f *testing.F) {
	for _, v := range vectors(f) {
		f.Add(v.Sum, []byte(v.Cases[0].In))
	}
	f.Add("stay", []byte(`[{"feed_kg_dm":1e999}]`))
	f.Add("sample", []byte(`{"readings":[0,0,0]}`))
	f.Fuzz(func(t *testing.T, key string, raw []byte) {
		sum, err := Find(key)
		if err != nil {
			return
		}
		var out bytes.Buffer
		if err := sum.Stream(bytes.NewReader(raw), &out, io.Discard); err != nil {
			assert.Empty(t, out.String())
			return
		}
		assert.True(t, json.Valid(out.Bytes()), "an answer is JSON")
	})
}

func TestEveryAnswerIsDescribed(t *testing.T) {
	for _, s := range Sums() {
		raw, err := json.Marshal(s.Example)
		require.NoError(t, err)
		res, err := s.Run(raw)
		require.NoError(t, err)
		out, err := json.Marshal(res.Out)
		require.NoError(t, err)
		var got map[string]any
		require.NoError(t, json.Unmarshal(out, &got))
		described := map[string]bool{}
		for _, f := range s.Answers {
			described[f.Key] = true
		}
		for key := range got {
			assert.True(t, described[key], "%s answers %s", s.Key, key)
		}
		for _, step := range res.Steps {
			assert.NotEmpty(t, step.Label)
			for _, term := range step.Terms {
				assert.Contains(t, strings.Fields(step.Formula), term.Symbol, "%s: every term stands in its formula", s.Key)
			}
		}
	}
}

func TestErrorsComeAtOnceInTheOrderOfTheForm(t *testing.T) {
	for _, s := range Sums() {
		_, err := s.Run([]byte(`{}`))
		var wrong quantity.Problems
		var needed []string
		for _, f := range s.Takes {
			if f.Required {
				needed = append(needed, f.Key)
			}
		}
		if len(needed) < 2 {
			continue
		}
		require.ErrorAs(t, err, &wrong, s.Key)
		var named []string
		for _, p := range wrong {
			named = append(named, p.Field)
		}
		assert.Equal(t, needed, named, s.Key)
	}
	strip, err := Find("strip")
	require.NoError(t, err)
	raw, err := json.Marshal(strip.Example)
	require.NoError(t, err)
	var doc map[string]any
	require.NoError(t, json.Unmarshal(raw, &doc))
	key := ""
	for _, f := range strip.Takes {
		if f.Type == "number" && f.Required {
			key = f.Key
		}
	}
	doc[key] = "abc"
	raw, err = json.Marshal(doc)
	require.NoError(t, err)
	_, err = strip.Run(raw)
	assert.ErrorContains(t, err, "“abc” is not a number")
}
