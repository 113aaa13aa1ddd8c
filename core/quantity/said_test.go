package quantity

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestARefusalIsSaidInTheFarmsUnits(t *testing.T) {
	_, p := Bands["height_cm"].Check("height_cm", 500)
	assert.Equal(t, "height_cm: Height must be between 0 cm and 400 cm (the tallest fodder crops end here); got 500 cm", p.Error())
	inches := p.In(Imperial)
	assert.Equal(t, "height_cm: Height must be between 0 in and 157.5 in (the tallest fodder crops end here); got 196.9 in", inches.Error())
	same := p.In(Metric)
	assert.Equal(t, p.Error(), same.Error())
	_, p = Bands["live_weight_kg"].Check("live_weight_kg", 1200)
	assert.Contains(t, p.In(Imperial).Message, "Live weight of 2646 lb is unusual")
	plain := Refuse("name", "x", "a name has at most %d letters", 80)
	assert.Equal(t, plain.Error(), func() string { v := plain.In(Imperial); return v.Error() }(), "what has no unit stays")
	assert.Equal(t, "12 °C", Said{12, Celsius}.String())
	assert.Equal(t, "53.6 °F", Said{12, Celsius}.In(Imperial))
}

func TestEveryBandSpeaksBothSystems(t *testing.T) {
	for key, b := range Bands {
		_, p := b.Check(key, b.Most*2+1)
		if !assert.NotNil(t, p, key) {
			continue
		}
		metric, pounds := scales[b.Unit][0], scales[b.Unit][1]
		if imperial := p.In(Imperial); metric.Symbol != pounds.Symbol {
			assert.NotContains(t, imperial.Message, " "+metric.Symbol+" ", key)
			assert.Contains(t, imperial.Message, pounds.Symbol, key)
		}
	}
}
