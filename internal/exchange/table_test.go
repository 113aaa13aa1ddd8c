package exchange

import (
	"context"
	"strings"
	"testing"
	"time"

	"fjell/core/quantity"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var noon = time.Date(2026, 6, 10, 12, 0, 0, 0, time.UTC)

func TestTablesAsSpreadsheetsWriteThem(t *testing.T) {
	table, err := ReadTable(t.Context(), []byte("\xef\xbb\xbfMob;Class;Head;Live weight\nCows;Suckler cow;48;612,5\n;;;\nCows;\"Calf; at foot\";44;−3\n"))
	require.NoError(t, err)
	require.Len(t, table.Rows, 2)
	col := table.Columns(map[string][]string{"head": {"head", "count"}, "weight": {"weight", "live weight"}, "none": {"colour"}})
	assert.Equal(t, map[string]int{"head": 2, "weight": 3, "none": -1}, col)
	v, ok, err := table.Number(0, 3)
	require.NoError(t, err)
	assert.True(t, ok)
	assert.Equal(t, 612.5, v)
	assert.Equal(t, "Calf; at foot", table.Text(1, 1))
	v, _, _ = table.Number(1, 3)
	assert.Equal(t, -3.0, v)
	_, _, err = table.Number(0, 0)
	assert.ErrorContains(t, err, "Mob")
	_, err = ReadTable(t.Context(), []byte("Mob,Head\n"))
	assert.ErrorContains(t, err, "no row below the heads")
}

func TestReadingsOfATableWithWhatIsWrong(t *testing.T) {
	table, err := ReadTable(t.Context(), []byte("time,lat,lon,height\n2026-06-10 08:00,61.1,9.2,8.5\n2026-06-10 08:01,61.1,9.2,tall\n10.06.2026 08:02,61.1,9.2,9\n2027-01-01,61.1,9.2,9\n2026-06-10 08:03,97,9.2,9\n2026-06-10 08:04,,,9\n"))
	require.NoError(t, err)
	table.Units = quantity.Metric
	got, bad, err := ReadReadings(table, table.Columns(ReadingColumns), quantity.Centimetre, time.UTC, noon)
	require.NoError(t, err)
	require.Len(t, got, 2)
	assert.Equal(t, 8.5, got[0].Value)
	assert.Equal(t, 61.1, got[0].Place[1])
	assert.Equal(t, 3, got[1].Row)
	why := map[int]string{}
	for _, b := range bad {
		why[b.Row] = b.Why
	}
	assert.Contains(t, why[2], "not a number")
	assert.Contains(t, why[4], "future")
	assert.Contains(t, why[5], "no such place")
	assert.Contains(t, why[6], "neither place nor paddock")
	_, _, err = ReadReadings(table, map[string]int{"time": 0, "latitude": 1, "longitude": 2}, quantity.Centimetre, time.UTC, noon)
	assert.ErrorContains(t, err, "which column holds the reading")
}

func TestWaypointsWithANumber(t *testing.T) {
	got, bad, err := ReadWaypoints(t.Context(), []byte(`<gpx version="1.1" creator="x"><wpt lat="61.1" lon="9.2"><time>2026-06-10T08:00:00Z</time><name>N3</name><cmt>11,5 cm</cmt></wpt>
		<wpt lat="61.1" lon="9.2"><time>2026-06-10T08:01:00Z</time><name>gate</name></wpt><wpt lat="61.1" lon="9.2"><name>9</name></wpt></gpx>`), quantity.Centimetre, quantity.Imperial, noon)
	require.NoError(t, err)
	require.Len(t, got, 1)
	assert.Equal(t, 11.5, got[0].Value, "the comment goes before the name, and names its unit before the farm does")
	assert.Len(t, bad, 2)
	_, _, err = ReadWaypoints(t.Context(), []byte(`<gpx version="1.1" creator="x"></gpx>`), quantity.Centimetre, quantity.Metric, noon)
	assert.ErrorContains(t, err, "no waypoints")
}

func FuzzReadTable(f *testing.F) {
	for _, s := range []string{"a,b\n1,2\n", "a;b\n1,5;2\n", "time,lat,lon,height\n2026-06-10,61,9,8\n", "\"a\nb", "a\tb\n\t\n"} {
		f.Add([]byte(s))
	}
	f.Fuzz(func(t *testing.T, raw []byte) {
		var table Table
		var err error
		within(t, len(raw), func(ctx context.Context) { table, err = ReadTable(ctx, raw) })
		if err != nil {
			return
		}
		table.Units = quantity.Metric
		got, bad, err := ReadReadings(table, map[string]int{"time": 0, "latitude": 1, "longitude": 2, "value": 3}, quantity.Centimetre, time.UTC, noon)
		require.NoError(t, err)
		require.Len(t, table.Rows, len(got)+len(bad), "every row is taken or listed")
		for _, r := range got {
			assert.False(t, r.At.After(noon))
			assert.GreaterOrEqual(t, r.Value, 0.0)
		}
	})
}

func FuzzReadWaypoints(f *testing.F) {
	f.Add([]byte(`<gpx version="1.1" creator="x"><wpt lat="61.1" lon="9.2"><time>2026-06-10T08:00:00Z</time><cmt>11.5</cmt></wpt></gpx>`))
	f.Add([]byte(strings.Repeat(`<gpx>`, 40)))
	f.Fuzz(func(t *testing.T, raw []byte) {
		var got []FileReading
		var err error
		within(t, len(raw), func(ctx context.Context) {
			got, _, err = ReadWaypoints(ctx, raw, quantity.Centimetre, quantity.Metric, noon)
		})
		if err != nil {
			return
		}
		for _, r := range got {
			assert.NotNil(t, r.Place)
			assert.LessOrEqual(t, r.Value, 30000.0)
		}
	})
}

// A bare 9 was nine centimetres, whoever wrote it: people who think in inches wrote nine inches.
func TestFiguresSayTheirUnitOrAreAskedAbout(t *testing.T) {
	read := func(head string, unit quantity.Unit, units Units, farm quantity.System) (float64, error) {
		table, err := ReadTable(t.Context(), []byte("x,"+head+"\n1,9\n"))
		require.NoError(t, err)
		table.Units = units.Or(farm)
		v, ok, err := table.Figure(0, 1, unit)
		assert.True(t, ok)
		return v, err
	}
	for _, c := range []struct {
		head  string
		unit  quantity.Unit
		said  Units
		farm  quantity.System
		wants float64
	}{
		{"height", quantity.Centimetre, "", quantity.Metric, 9},
		{"height", quantity.Centimetre, "imperial", quantity.Imperial, 9 * 2.54},
		{"height", quantity.Centimetre, "metric", quantity.Imperial, 9},
		{"height in", quantity.Centimetre, "", quantity.Imperial, 9 * 2.54},
		{"height (in)", quantity.Centimetre, "metric", quantity.Metric, 9 * 2.54},
		{"height cm", quantity.Centimetre, "imperial", quantity.Imperial, 9},
		{"live weight lb", quantity.Kilogram, "", quantity.Metric, 9 * 0.45359237},
		{"mean f", quantity.Celsius, "", quantity.Metric, (9 - 32) / 1.8},
		{"head", quantity.Head, "", quantity.Imperial, 9},
	} {
		v, err := read(c.head, c.unit, c.said, c.farm)
		require.NoError(t, err, c.head)
		assert.InDelta(t, c.wants, v, 1e-9, "%s, said %q on a %s farm", c.head, c.said, c.farm)
	}
	_, err := read("height", quantity.Centimetre, "", quantity.Imperial)
	assert.ErrorContains(t, err, "in cm or in in")
}
