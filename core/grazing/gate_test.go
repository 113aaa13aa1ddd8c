package grazing

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

var gateNow = time.Date(2026, 6, 10, 7, 30, 0, 0, time.UTC)

// atTheGate is a mob of 500 kg a day on two hectares, moved at eight and at six, with two paddocks that wait.
func atTheGate(mass float64) GateIn {
	in := GateIn{Now: gateNow, Seen: Seen{By: "mass", Value: mass},
		Here: GateHere{AreaHa: 2, Entry: 2600, Residual: 1500, U: 1, Ceiling: 5000, Peak: 50, Stayed: 1, StayMax: 4, Rest: 20, Demand: 500},
		Next: []GateNext{{ID: "a", Name: "Øvre", Mass: 2700, Half: 300, AreaHa: 2, Residual: 1500, U: 1, State: Ready},
			{ID: "b", Name: "Nedre", Mass: 2500, Half: 300, AreaHa: 2, Residual: 1500, U: 1, State: Ready}}}
	for d := range 7 {
		for _, h := range []int{8, 18} {
			in.Slots = append(in.Slots, time.Date(2026, 6, 10+d, h, 0, 0, 0, time.UTC))
		}
	}
	return in
}

func asked(t *testing.T, in GateIn) GateOut {
	t.Helper()
	out, err := StayOrMove(in)
	require.NoError(t, err)
	return out
}

func TestTheyStayAsLongAsFeedAndRulesAllow(t *testing.T) {
	out := asked(t, atTheGate(2000))
	assert.Equal(t, StayOn, out.Do)
	require.NotNil(t, out.Until)
	assert.Equal(t, 12, out.Until.Day(), "a thousand kilograms above, five hundred a day, and what grows meanwhile")
	assert.Contains(t, out.Reason.Plain(), "below the 1500 kg/ha")
	more := asked(t, atTheGate(2300))
	assert.True(t, more.Until.After(*out.Until), "more feed, longer")
	assert.Contains(t, more.Reason.Plain(), "longer than 4")
	in := atTheGate(2300)
	in.Here.StayMax = 1.5
	assert.True(t, asked(t, in).Until.Before(*more.Until), "a shorter longest stay, sooner")
	in = atTheGate(2000)
	in.Here.Demand = 900
	assert.True(t, asked(t, in).Until.Before(*out.Until), "more mouths, sooner")

	last := out.Options[len(out.Options)-1]
	assert.False(t, last.Right, "one more is told with what it costs")
	assert.Less(t, last.Left, 1500.0)
	assert.Positive(t, *last.Later)
	for _, o := range out.Options {
		if o.Right {
			assert.InDelta(t, 0, *o.Later, 1e-9, "within the rules the paddock is back no later")
		}
	}
}

func TestGrazedDownTheyMoveToWhatIsReady(t *testing.T) {
	in := atTheGate(1450)
	out := asked(t, in)
	assert.Equal(t, MoveNow, out.Do)
	assert.Equal(t, "Øvre", out.To)
	assert.Contains(t, out.Reason.Plain(), "1450 kg/ha stand here")
	assert.Contains(t, out.Richer.Plain(), "What waits in Øvre is better")
	move := out.Options[0]
	assert.InDelta(t, 1, move.Intake, 1e-9)
	assert.Positive(t, *move.Later, "what was bitten too low comes back later")

	in.Next[0].State = Resting
	out = asked(t, in)
	assert.Equal(t, SkipOne, out.Do)
	assert.Equal(t, "Nedre", out.To)
	assert.Contains(t, out.Reason.Plain(), "Øvre is not ready")

	in.Next[0].State = Mind
	assert.Equal(t, MoveNow, asked(t, in).Do, "past its best is eaten before what is not ready")

	in.Next[0].State, in.Next[1].State = Resting, Soon
	out = asked(t, in)
	assert.Equal(t, SkipOne, out.Do, "a little early is better than round again")
	assert.Contains(t, out.Reason.Plain(), "Nedre is nearest")
	assert.False(t, out.Options[0].Right)

	in.Next[0].State, in.Next[1].State = Resting, Stop
	out = asked(t, in)
	assert.Equal(t, HoldOn, out.Do, "nothing is ready: rest binds")
	assert.Contains(t, out.Reason.Plain(), "feed 500 kg a day")
	assert.Equal(t, HoldOn, out.Options[0].Do)

	in.Here.StayMax, in.Seen.Value, in.Next[0].State = 0.9, 2400, Ready
	out = asked(t, in)
	assert.Equal(t, MoveNow, out.Do)
	assert.Contains(t, out.Reason.Plain(), "longest stay")
	assert.Contains(t, out.Richer.Plain(), "as good as", "within what is known")
}

func TestWhatIsLeftHereIsHeldAgainstWhatWaits(t *testing.T) {
	in := atTheGate(4200)
	assert.Contains(t, asked(t, in).Richer.Plain(), "here is better than what waits")
	in.Next = nil
	assert.Nil(t, asked(t, in).Richer)
}

// Whatever is seen: more of it never makes the stay shorter, nobody eats more than they need, and what is told adds up.
func TestStayOrMoveProperties(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := atTheGate(rapid.Float64Range(0, 5000).Draw(t, "mass"))
		in.Here.Demand = rapid.Float64Range(0, 3000).Draw(t, "demand")
		in.Here.Peak = rapid.Float64Range(0, 90).Draw(t, "peak")
		in.Here.StayMax = rapid.Float64Range(0.5, 9).Draw(t, "stay")
		in.Here.U = rapid.Float64Range(0.3, 1).Draw(t, "u")
		for i := range in.Next {
			in.Next[i].State = rapid.SampledFrom([]State{Ready, Soon, Resting, Mind, Stop}).Draw(t, "state")
		}
		out, err := StayOrMove(in)
		require.NoError(t, err)
		require.NotEmpty(t, out.Options)
		for _, o := range out.Options {
			assert.True(t, o.Intake >= 0 && o.Intake <= 1+1e-9)
			assert.GreaterOrEqual(t, o.Short, -1e-9)
			assert.LessOrEqual(t, o.Left, 5000.0)
			if o.Later != nil {
				assert.GreaterOrEqual(t, *o.Later, 0.0)
			}
		}
		assert.Equal(t, out.Do == MoveNow || out.Do == SkipOne, out.To != "")
		assert.Equal(t, out.Do == StayOn || out.Do == HoldOn, out.Until != nil)
		in.Seen.Value = min(5000, in.Seen.Value+300)
		more, err := StayOrMove(in)
		require.NoError(t, err)
		if out.Do == StayOn {
			require.Equal(t, StayOn, more.Do)
			assert.False(t, more.Until.Before(*out.Until))
		}
	})
}

func TestOneFigureAtTheGate(t *testing.T) {
	sward := Seen{StopHeight: 4, StopMass: 1500, PerCm: 200}
	for _, c := range []struct {
		by          string
		value, mass float64
	}{{"mass", 2100, 2100}, {"height", 7, 2100}, {"height", 2, 750}, {"fists", 1, 2500}} {
		sward.By, sward.Value = c.by, c.value
		got, err := sward.Mass()
		require.NoError(t, err)
		assert.InDelta(t, c.mass, got, 1e-9, "%s %g", c.by, c.value)
	}
	for _, c := range []struct {
		by    string
		value float64
		field string
	}{{"mass", -1, "value"}, {"mass", 90000, "value"}, {"height", 300, "value"}, {"fists", 30, "value"}, {"paces", 3, "by"}} {
		sward.By, sward.Value = c.by, c.value
		_, err := sward.Mass()
		assert.ErrorContains(t, err, c.field)
	}
	_, err := Seen{By: "height", Value: 5}.Mass()
	assert.ErrorContains(t, err, "no heights")
	in := atTheGate(2000)
	in.Slots = nil
	_, err = StayOrMove(in)
	assert.ErrorContains(t, err, "nobody moves stock")
	in = atTheGate(2000)
	in.Here.AreaHa = 0
	_, err = StayOrMove(in)
	assert.ErrorContains(t, err, "not known well enough")
}
