package plan

import (
	"context"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// behind is a made-up problem in which one mob follows another, and days have hands for few moves.
func behind(seed uint64, paddocks, mobs, days int) *Problem {
	p := anyProblem(seed, paddocks, mobs, days, 8)
	if mobs > 1 {
		p.Mobs[1].Follows = "m1"
		if mobs == 2 && seed%5 == 0 { // whoever stands first in the list
			p.Mobs[1].Follows, p.Mobs[0].Follows = "", "m2"
		}
	}
	p.MostMoves = int(seed % 3)
	return p
}

func TestAFollowerIsWhereTheOtherWas(t *testing.T) {
	planned, best := 0, 0
	for seed := uint64(1); planned < 60; seed++ {
		p := behind(seed, 3+int(seed%2), 2-int(seed%4)/3, 6)
		got, ok := solved(t, p)
		least := cheapest(p)
		if !ok {
			require.Less(t, seed, uint64(150))
			continue
		}
		planned++
		require.GreaterOrEqual(t, got.Cost.Total, least-1e-6*p.Demanded(), "seed %d", seed)
		require.LessOrEqual(t, got.Bound, least+1e-6*p.Demanded(), "seed %d", seed)
		if got.Cost.Total <= least+1e-6*p.Demanded() {
			best++
		}
	}
	assert.GreaterOrEqual(t, best, planned*95/100, "the cheapest of all plans is found")
}

func TestAChangeBringsTheFollowerAlong(t *testing.T) {
	for seed := uint64(1); seed <= 12; seed++ {
		p := behind(seed, 7, 3, 24)
		s, err := tables(p)
		require.NoError(t, err)
		st, err := ripest(s)
		if err != nil {
			continue
		}
		tr := newTrial(st)
		w := newWays(tr, seed)
		for range 4000 {
			if !w.propose() {
				w.cells = w.cells[:0]
				continue
			}
			was := append([]int16(nil), st.busy...)
			if rise, taken := w.try(math.Inf(1)); taken {
				if w.draws.Below(2) == 0 {
					w.undo()
					require.Equal(t, was, append([]int16(nil), st.busy...))
					continue
				}
				before := st.cost
				w.keep(rise)
				anew := s.placed(st.loc)
				require.InDelta(t, anew.cost, before+rise, 1e-6*(1+math.Abs(anew.cost)), "seed %d", seed)
				require.Equal(t, anew.busy, st.busy)
				rows := append([]int16(nil), st.loc...)
				s.trailRows(rows)
				require.Equal(t, rows, st.loc)
			}
		}
	}
}

func TestWhoCannotFollowIsRefused(t *testing.T) {
	p := func() *Problem { return behind(3, 5, 3, 6) }
	for field, spoil := range map[string]func(p *Problem){
		"mobs[1].follows":  func(p *Problem) { p.Mobs[1].Follows = "m2" },
		"mobs[0].follows":  func(p *Problem) { p.Mobs[0].Follows = "m9" },
		"circle":           func(p *Problem) { p.Mobs[0].Follows, p.Mobs[2].Follows = "m3", "m2" },
		"mobs[2].follows":  func(p *Problem) { p.Mobs[2].Follows = "m1" },
		"pins[0].mob":      func(p *Problem) { p.Pins = []Pin{{Mob: "m2", Paddock: &p.Paddocks[4].Key, Enter: 2 + 8.0/24}} },
		"most_moves_a_day": func(p *Problem) { p.MostMoves = -1 },
	} {
		q := p()
		spoil(q)
		require.ErrorContains(t, q.Check(), field)
	}
	q := p()
	require.NoError(t, q.Check())
	got, err := Solve(t.Context(), q, nil)
	require.NoError(t, err)
	for i := range got.Visits {
		if v := &got.Visits[i]; v.Mob == "m2" {
			v.Paddock = &q.Paddocks[3].Key
		}
	}
	_, err = Follow(q, got.Visits)
	require.ErrorContains(t, err, "m2 follow m1")
}

// One person can make one move a day, so three mobs are moved on three days.
func TestAFarmWithHandsForOneMoveSpreadsThem(t *testing.T) {
	p := anyProblem(11, 10, 3, 21, 8, 18)
	for i := range p.Paddocks {
		p.Paddocks[i].Closed = nil
	}
	busiest := func(most int) int {
		p.MostMoves = most
		got, err := Solve(context.Background(), p, nil)
		require.NoError(t, err)
		days, worst := map[int]int{}, 0
		for _, v := range got.Visits {
			if v.Enter >= p.start() {
				d := int(math.Floor(v.Enter + 1e-9))
				days[d]++
				worst = max(worst, days[d])
			}
		}
		return worst
	}
	assert.Greater(t, busiest(0), 1)
	p.Weights.Many = 1000
	assert.Equal(t, 1, busiest(1))
}

// Held against a dear plan, and with entry, rest and distance dear, a bound that asks a follower for what only the one before is asked for would lie too high.
func TestTheBoundOfFollowersIsBelowEveryPlan(t *testing.T) {
	held := 0
	for seed := uint64(1); seed <= 90; seed++ {
		p := behind(seed, 3+int(seed%2), 2, 6)
		p.MostMoves = 0
		switch seed % 3 {
		case 0:
			p.Weights.Early, p.Weights.End = 20, 0
			p.Mobs[1].Limits.Entry = 9000
		case 1:
			p.Weights.Distance, p.Weights.Short = 5000, 0.2 // off the pasture costs next to nothing
		case 2:
			p.Weights.Rest, p.Weights.Short = 60, 60
			p.Mobs[1].Limits.RestMin = 300
		}
		s, err := tables(p)
		require.NoError(t, err)
		from, err := ripest(s)
		if err != nil {
			continue
		}
		least := cheapest(p)
		require.False(t, math.IsInf(least, 1))
		require.LessOrEqual(t, s.byPrice(t.Context(), from, 2), least+1e-6*(1+math.Abs(least)), "seed %d", seed)
		held++
	}
	assert.Greater(t, held, 60)
}

// While the one before is held off the pasture, so is one behind that may be; one that may not stays where it is.
func TestWhoComesBehindAHeldMob(t *testing.T) {
	for _, may := range []bool{true, false} {
		p := situation(8, alike(5, 2700, 30), 8)
		cows(p, 200, true)
		behind := cows(p, 100, may)
		behind.Follows = "m1"
		leave := 5 + 8.0/24
		p.Pins = []Pin{{Mob: "m1", Enter: 2 + 8.0/24, Leave: &leave}}
		got := wellPlanned(t, p)
		where := got.at("m2", 3)
		if may {
			assert.Empty(t, where)
		} else {
			assert.Equal(t, got.at("m2", 2), where)
			assert.NotEmpty(t, where)
		}
	}
}
