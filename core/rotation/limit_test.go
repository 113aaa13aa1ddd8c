package rotation

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestWhatClosesAPaddock(t *testing.T) {
	june := time.Date(2026, 6, 10, 12, 0, 0, 0, time.UTC)
	for name, c := range map[string]struct {
		purpose, closedFor string
		limits             []Limit
		wet, freezing      bool
		why                string // empty: it is open
	}{
		"grazing":                         {purpose: "grazing"},
		"loafing":                         {purpose: "loafing", why: "kept as a resting place, not for feed"},
		"reserve":                         {purpose: "reserve", why: "kept in reserve"},
		"a reason of the farm's":          {closedFor: "reseeded", why: "reseeded"},
		"hay all year":                    {limits: []Limit{{Kind: "hay"}}, why: "hay"},
		"hay now":                         {limits: []Limit{{Kind: "hay", From: "05-01", Until: "07-01"}}, why: "hay until 1 July"},
		"hay later":                       {limits: []Limit{{Kind: "hay", From: "07-01", Until: "08-01"}}},
		"over the turn of the year":       {limits: []Limit{{Kind: "closed", From: "11-01", Until: "06-15"}}, why: "closed until 15 June"},
		"nesting, in the farm's own word": {limits: []Limit{{Kind: "nesting", Note: "lapwings"}}, why: "lapwings"},
		"not wet, and dry":                {limits: []Limit{{Kind: "not_wet"}}},
		"not wet, and wet":                {limits: []Limit{{Kind: "not_wet"}}, wet: true, why: "too wet for hooves"},
		"wet, and it may be":              {wet: true},
		"no water in frost, and mild":     {limits: []Limit{{Kind: "no_water_in_frost"}}, wet: true},
		"no water in frost, and frost":    {limits: []Limit{{Kind: "no_water_in_frost"}}, freezing: true, why: "no water in frost"},
		"sheep only closes nothing":       {limits: []Limit{{Kind: "sheep_only"}}},
		"days that are none":              {limits: []Limit{{Kind: "hay", From: "13-45", Until: "07-01"}}},
	} {
		t.Run(name, func(t *testing.T) {
			p := Paddock{Closures: Closed(c.purpose, c.closedFor, c.limits, nil, []Weather{{c.wet, c.freezing}}, june, time.UTC)}
			why, closed := p.ClosedAt(june)
			assert.Equal(t, c.why != "", closed)
			assert.Equal(t, c.why, why)
			if c.wet && closed {
				_, still := p.ClosedAt(june.AddDate(0, 0, 2))
				assert.False(t, still, "for as long as it is expected to last")
			}
		})
	}
}

func TestWeatherClosesForAsLongAsItIsExpected(t *testing.T) {
	oslo, err := time.LoadLocation("Europe/Oslo")
	require.NoError(t, err)
	now := time.Date(2026, 10, 24, 22, 30, 0, 0, time.UTC) // past midnight at the farm, the night the clock goes back
	frost := Weather{Freezing: true}
	p := Paddock{Closures: Closed("", "", []Limit{{Kind: "no_water_in_frost"}}, nil, []Weather{frost, frost, {}, {Wet: true}, frost}, now, oslo)}
	require.Len(t, p.Closures, 2, "a run of days is one")
	for day, closed := range map[int]bool{24: false, 25: true, 26: true, 27: false, 28: false, 29: true, 30: false} {
		for _, hour := range []int{0, 12, 23} {
			_, got := p.ClosedAt(time.Date(2026, 10, day, hour, 30, 0, 0, oslo))
			assert.Equal(t, closed, got, "%d October at %d", day, hour)
		}
	}
}

func TestLimitsThatAreToBeThoughtOf(t *testing.T) {
	limits := []Limit{{Kind: "hay"}, {Kind: "not_wet", Note: "the north end"}, {Kind: "sheep_only"}, {Kind: "no_water_in_frost"}}
	got := Minded(limits)
	require.Len(t, got, 3, "what closes says so itself")
	assert.Equal(t, "not when it is wet (the north end)", got[0].Plain())
	assert.True(t, SheepOnly(limits))
	assert.False(t, SheepOnly(limits[:2]))
	for _, kind := range []string{"hay", "nesting", "closed"} {
		assert.True(t, Shuts(kind))
	}
	assert.False(t, Shuts("not_wet"))
}
