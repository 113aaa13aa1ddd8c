package grazing

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"fjell/core/reference"
)

func TestCautionsOfAMove(t *testing.T) {
	cow, bull, mother := Animal{Species: "cattle"}, Animal{Species: "cattle", Male: true}, Animal{Species: "cattle", Calves: true}
	horse, ram := Animal{Species: "horses"}, Animal{Species: "sheep", Male: true}
	always := []string{"electric_fence_shock", "lone_work"}
	for name, c := range map[string]struct {
		legume float64
		mob    []Animal
		first  []string
	}{
		"cows on grass":           {0.1, []Animal{cow}, nil},
		"cows on clover":          {BloatShare, []Animal{cow}, []string{"bloat"}},
		"a hair less clover":      {BloatShare - 0.001, []Animal{cow}, nil},
		"horses do not bloat":     {0.6, []Animal{horse}, nil},
		"horses beside cows":      {0.6, []Animal{horse, cow}, []string{"bloat"}},
		"a bull":                  {0, []Animal{cow, bull}, []string{"bulls_and_fresh_calved_cows"}},
		"calves at foot":          {0, []Animal{mother}, []string{"bulls_and_fresh_calved_cows"}},
		"bloat before the bull":   {0.5, []Animal{bull, mother}, []string{"bloat", "bulls_and_fresh_calved_cows"}},
		"a ram is no bull":        {0, []Animal{ram}, nil},
		"nobody knows what is in": {0.5, nil, []string{"bloat"}},
	} {
		t.Run(name, func(t *testing.T) {
			got := Cautions(c.legume, c.mob)
			assert.Equal(t, append(c.first, always...), got)
			for _, id := range got {
				_, err := reference.Load().Caution(id)
				assert.NoError(t, err, "every one is in the reference")
			}
		})
	}
}

func TestWhatAHectareFeeds(t *testing.T) {
	l := Limits{Residual: 1500, Entry: 2700, U: 0.9}
	assert.InDelta(t, 1080, l.Usual(1), 1e-9)
	assert.InDelta(t, 540, l.Usual(0.5), 1e-9, "ground that grows half feeds half")
	assert.InDelta(t, 450, l.Above(2000), 1e-9)
	assert.Zero(t, l.Above(1500))
	assert.Zero(t, l.Above(900), "never less than nothing")
}
