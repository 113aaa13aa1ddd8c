package quantity

import (
	"encoding/json"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestUnitsComeBackUnchanged(t *testing.T) {
	for _, row := range Tables() {
		for _, s := range []Scale{row.Metric, row.Imperial} {
			rapid.Check(t, func(t *rapid.T) {
				v := rapid.Float64Range(-1e6, 1e6).Draw(t, "v")
				assert.InDelta(t, v, s.Store(s.Show(v)), 1e-6, "%s", row.Unit)
			})
		}
	}
}

func TestKnownConversions(t *testing.T) {
	for _, c := range []struct {
		unit        Unit
		metric, imp float64
	}{
		{ForageMass, 1, 0.892179}, {Hectare, 1, 2.471054}, {Kilogram, 1, 2.204623}, {Centimetre, 2.54, 1}, {Metre, 0.3048, 1},
		{Celsius, 100, 212}, {Share, 0.5, 50}, {MassPerHeight, 100, 226.6134}, {HeadPerHectare, 2.471054, 1},
	} {
		s, err := ScaleOf(c.unit, Imperial)
		require.NoError(t, err)
		assert.InEpsilon(t, c.imp, s.Show(c.metric), 1e-5, "%s", c.unit)
	}
	_, err := ScaleOf("furlong", Metric)
	assert.Error(t, err)
}

func TestBandsAreInOrderAndReasoned(t *testing.T) {
	for key, b := range Bands {
		assert.LessOrEqual(t, b.Least, b.UsualLow, key)
		assert.LessOrEqual(t, b.UsualLow, b.UsualHigh, key)
		assert.LessOrEqual(t, b.UsualHigh, b.Most, key)
		assert.NotEmpty(t, b.Label, key)
		assert.NotEmpty(t, b.Reason, key)
		_, err := ScaleOf(b.Unit, Metric)
		assert.NoError(t, err, key)
	}
}

func TestBandsJudge(t *testing.T) {
	w := Bands["live_weight_kg"]
	for value, want := range map[float64]Verdict{620: Usual, 1200: Unusual, 0.2: Impossible, 1e300: Impossible, -1e9: Impossible} {
		got, p := w.Check("w", value)
		assert.Equal(t, want, got, value)
		assert.Equal(t, want != Usual, p != nil)
	}
	for _, bad := range []float64{math.NaN(), math.Inf(1)} {
		got, _ := w.Check("w", bad)
		assert.Equal(t, Impossible, got)
	}
	_, p := Bands["intake_share"].Check("intake_share", 0)
	assert.ErrorContains(t, p, "above 0 %")
	unusual, err := CheckJSON([]byte(`{"classes":[{"live_weight_kg":1200,"count":3}],"x":{"count":2.5}}`))
	assert.ErrorContains(t, err, "x.count")
	_ = unusual
}

// Of several wrong figures the same one is named first, whatever order the map is walked in.
func TestEveryWrongFigureIsNamedInTheOrderOfTheDocument(t *testing.T) {
	for range 20 {
		unusual, err := CheckJSON([]byte(`{"b":{"live_weight_kg":-1},"aa":[{"count":1.5,"live_weight_kg":1},{"x":{"count":-2}}],"c":{"live_weight_kg":"text","count":null}}`))
		var wrong Problems
		require.ErrorAs(t, err, &wrong)
		var fields []string
		for _, p := range wrong {
			fields = append(fields, p.Field)
		}
		assert.Equal(t, []string{"b.live_weight_kg", "aa[0].count", "aa[1].x.count"}, fields)
		assert.Contains(t, err.Error(), wrong[2].Message)
		require.Len(t, unusual, 1)
		assert.Equal(t, "aa[0].live_weight_kg", unusual[0].Field)

		var first *Problem
		require.ErrorAs(t, err, &first, "who asks for one gets the first")
		assert.Equal(t, "b.live_weight_kg", first.Field)
	}
	for _, cut := range []string{``, `{`, `{"a":`, `[1,`, `{"a":1}}`, `{"a":1} 2`, `{1:2}`} {
		_, err := CheckJSON([]byte(cut))
		assert.ErrorContains(t, err, "not readable JSON", cut)
	}
}

func TestAProblemIsAnObjectInJSON(t *testing.T) {
	raw, err := json.Marshal([]Problem{*Refuse("count", 3, "is odd")})
	require.NoError(t, err)
	assert.JSONEq(t, `[{"field":"count","message":"is odd","came":"3"}]`, string(raw))
}
