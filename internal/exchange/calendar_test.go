package exchange

import (
	"bytes"
	"strings"
	"testing"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestAppointmentsAreReadBackAsTheyWere(t *testing.T) {
	at := time.Date(2026, 6, 13, 16, 0, 0, 0, time.UTC)
	raw := Calendar("Skarnvoll", at.AddDate(0, 0, -3), []Appointment{
		{ID: "m1.p5", At: at, Lasts: 30 * time.Minute, What: "Cows, calves; to Sørjordet 5", Where: "Sørjordet 5", Note: "stands at 2 725 kg/ha,\nready", Ahead: 14 * time.Hour},
		{ID: "m2.p1", At: at.Add(time.Hour), Lasts: 30 * time.Minute, What: strings.Repeat("a long name ", 12)},
	})
	for _, line := range bytes.Split(raw, []byte("\r\n")) {
		assert.LessOrEqual(t, len(line), 75, "lines are folded: %s", line)
	}
	cal, err := ics.ParseCalendar(bytes.NewReader(raw))
	require.NoError(t, err)
	require.Len(t, cal.Events(), 2)
	e := cal.Events()[0]
	start, err := e.GetStartAt()
	require.NoError(t, err)
	assert.True(t, start.Equal(at))
	assert.Equal(t, "m1.p5", e.Id())
	assert.Contains(t, string(raw), `Cows\, calves\; to Sørjordet 5`, "what would end a field is escaped")
	require.Len(t, e.Alarms(), 1)
	assert.Equal(t, "-PT840M", e.Alarms()[0].GetProperty(ics.ComponentPropertyTrigger).Value)
	assert.Empty(t, cal.Events()[1].Alarms())
}

func TestNothingPlannedIsAnEmptyCalendar(t *testing.T) {
	cal, err := ics.ParseCalendar(bytes.NewReader(Calendar("Skarnvoll", time.Now(), nil)))
	require.NoError(t, err)
	assert.Empty(t, cal.Events())
}
