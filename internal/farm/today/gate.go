package today

import (
	"math"
	"slices"
	"time"

	"fjell/core/grazing"
	"fjell/core/rotation"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// GateView is what one figure at the gate is held against, so that a phone answers without a signal: stay or move?
type GateView struct {
	Slots []time.Time        `json:"slots" nullable:"false"`
	Seen  grazing.Seen       `json:"seen"` // the sward they stand on; the figure is to come
	Here  grazing.GateHere   `json:"here"`
	Next  []grazing.GateNext `json:"next" nullable:"false"`
}

// GateCallView is what was decided at the gate, and why where it was not what was said.
type GateCallView struct {
	At     time.Time `json:"at"`
	Mass   float64   `json:"forage_mass_kg_dm_ha"`
	Said   string    `json:"said"`
	Did    string    `json:"did"`
	Reason string    `json:"reason"`
}

// lastCall is the last decision at the gate of where a mob stands; nil where there is none since they came.
func lastCall(s *season.Season, mob int) *GateCallView {
	m := s.Grazers[mob]
	if m.In == rotation.Nowhere {
		return nil
	}
	for _, c := range slices.Backward(s.GateCalls) {
		if c.MobID == s.Mobs[mob].ID && c.PaddockID == s.Paddocks[m.In].ID && !c.SeenAt.Before(m.Since) {
			return &GateCallView{c.SeenAt, c.Mass, c.Said, c.Did, c.Reason}
		}
	}
	return nil
}

// gateSlots is how many moments at which stock may be moved are looked ahead.
const gateSlots = 14

// gateOf is what a mob's gate asks of the farm; nil where it stands nowhere.
func gateOf(s *season.Season, mob int, past rotation.Past, next *rotation.Visit) *GateView {
	m := s.Grazers[mob]
	if m.In == rotation.Nowhere {
		return nil
	}
	pad, ground := s.Paddocks[m.In], s.Farm.Paddocks[m.In]
	st := past.Standing[m.In]
	entered := rotation.MassAt(past.Trace[m.In], m.Since)
	l := s.LimitsOf(mob, m.In).Entered(entered)
	_, peak := s.Farm.GrowthOn(m.In, st, s.Now)
	v := GateView{Slots: []time.Time{}, Next: []grazing.GateNext{}, Seen: grazing.SeenOn(pad.Sward, "", 0),
		Here: grazing.GateHere{AreaHa: ground.AreaHa, Entry: l.Entry, Residual: l.Residual, Entered: entered, U: l.U, Ceiling: ground.Ceiling, Peak: peak,
			Stayed: s.Now.Sub(m.Since).Hours() / 24, StayMax: l.StayMax, Rest: l.RestMin}}
	for _, o := range s.In(m.In) {
		v.Here.Demand += o.Demand.On(s.Number(s.Now))
	}
	for at := s.Now; len(v.Slots) < gateSlots; {
		if at = s.Farm.NextSlot(at); at.After(s.Now.AddDate(0, 0, season.ForecastDays)) {
			break
		}
		v.Slots = append(v.Slots, at)
	}
	if next != nil {
		v.Next = append(v.Next, waits(s, mob, next.Paddock, past))
		for _, a := range next.Instead {
			v.Next = append(v.Next, waits(s, mob, a.Paddock, past))
		}
	}
	return &v
}

// waits is a paddock as it stands now, judged as the next of a mob.
func waits(s *season.Season, mob, paddock int, past rotation.Past) grazing.GateNext {
	st, l := past.Standing[paddock], s.LimitsOf(mob, paddock)
	l = l.Entered(st.Mass)
	look := s.Look(paddock, st, l.Entry)
	look.Occupied = len(s.In(paddock)) > 0
	state, _ := s.Farm.Readiness(paddock, look, l)
	return grazing.GateNext{ID: s.Paddocks[paddock].ID, Name: s.Paddocks[paddock].Name, Mass: st.Mass, Half: st.HalfWidthAt(s.Now, st.Mass),
		AreaHa: s.Farm.Paddocks[paddock].AreaHa, Residual: l.Residual, U: l.U, State: state}
}

// species are those that go in a mob.
func species(s *season.Season, mobID string) []string {
	var out []string
	for _, c := range s.Classes(mobID) {
		if ref, err := s.Class("", c.ReferenceID); err == nil {
			out = append(out, ref.Species)
		}
	}
	return out
}

// least is the least that a fence must read to hold a mob, kV.
func least(s *season.Season, mobID string) float64 {
	if own := s.Row.Targets.V.LeastKV; own != nil {
		return *own
	}
	most := 0.0
	for _, c := range s.Classes(mobID) {
		if ref, err := s.Class("", c.ReferenceID); err == nil {
			most = math.Max(most, ref.MinimumFenceKV)
		}
	}
	return most
}

// atTheGate is what every mob's last move left open: a count that is not the books', and a fence that would not hold them. It is said until the
// move is corrected, the books are, or another move says better.
func atTheGate(s *season.Season) []Minding {
	var out []Minding
	last := map[string]store.Move{}
	for _, mv := range s.Moves {
		last[mv.MobID] = mv
	}
	for i, m := range s.Mobs {
		mv, moved := last[m.ID]
		if !moved || s.Grazers[i].In == rotation.Nowhere {
			continue
		}
		at, place := mv.MovedAt, "today?correct="+mv.ID
		if mv.Counted != nil {
			if r := grazing.Counted(*mv.Counted, s.Herd.MobOn(m.ID, s.Number(at)).Head); r != nil {
				out = append(out, Minding{Kind: grazing.MindCount, State: grazing.Stop, Where: m.Name, At: &at, Reason: *r, Place: place})
			}
		}
		if r := grazing.Thirsty(mv.DrinkSeen, s.Now.Sub(at).Hours()); r != nil {
			out = append(out, Minding{Kind: grazing.MindFeed, State: grazing.Mind, Where: s.Paddocks[s.Grazers[i].In].Name, At: &at, Reason: *r, Place: place})
		}
		if state, r := grazing.Fence(mv.SourceKV, mv.EndKV, least(s, m.ID)); r != nil {
			out = append(out, Minding{Kind: grazing.MindFence, State: state, Where: s.Paddocks[s.Grazers[i].In].Name, At: &at, Reason: *r, Place: place})
		}
	}
	return out
}
