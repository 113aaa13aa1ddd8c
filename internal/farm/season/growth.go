package season

import (
	"fmt"
	"maps"
	"slices"
	"time"

	"fjell/core/forage"
	"fjell/core/working"
)

// GrowthDial sets growth against what stock eat: the farm's, or one mob's on its own ground.
type GrowthDial struct {
	Name      string          `json:"name"`
	MobID     string          `json:"mob_id"` // empty: the farm
	State     forage.State    `json:"state" enum:"above,even,watch,act"`
	Growth    *working.Figure `json:"growth,omitempty"` // nil until two walks were made
	BreakEven *working.Figure `json:"break_even,omitempty"`
	Walks     []WalkGrowth    `json:"walks" nullable:"false"`
	Sentence  string          `json:"sentence"`
	Most      float64         `json:"scale_most_kg_dm_ha_day"` // where the dial ends
}

// WalkGrowth is growth measured up to a walk.
type WalkGrowth struct {
	At   time.Time `json:"at"`
	Rate float64   `json:"growth_kg_dm_ha_day"`
	Half float64   `json:"half_width_kg_dm_ha_day"`
	N    int       `json:"paddocks"`
	Area float64   `json:"area_ha"`
}

// growthDays is how far back walks are compared.
const growthDays = 70

// Growing is what grew between the walks of the last weeks, by paddock.
type Growing struct {
	Walks  []time.Time // newest last
	Pieces [][]forage.Piece
	Breaks []string // steps that are no growth, in words
}

// Growing is what grew between the walks of the last weeks.
func (s *Season) Growing() Growing { return s.grew(s.Now.AddDate(0, 0, -growthDays), s.Now) }

// likeWeeks is how many days before and after the same day of last year its growth is like this week's. Assumption, ours.
const likeWeeks = 28

// GrewLastYear is what grew in the weeks about this day of last year.
func (s *Season) GrewLastYear() Growing {
	day := s.Now.AddDate(-1, 0, 0)
	return s.grew(day.AddDate(0, 0, -likeWeeks), day.AddDate(0, 0, likeWeeks))
}

// grew is what grew between the walks of a time.
func (s *Season) grew(since, until time.Time) Growing {
	past := s.Past()
	looks := make([][]forage.Look, len(s.Paddocks))
	bites, weighed := s.carted()
	for _, f := range s.Looks {
		if f.At.After(since) && !f.At.After(until) && !weighed[f.ID] {
			looks[f.Paddock] = append(looks[f.Paddock], forage.Look{At: f.At, Mass: f.Mass, ID: f.ID, Walk: s.isWalk(f.ID), By: f.By})
		}
	}
	g := Growing{Walks: s.walkDays(since, until), Pieces: make([][]forage.Piece, len(s.Paddocks)), Breaks: append(s.breaks(looks), s.unweighed(since, until, weighed)...)}
	for p := range s.Paddocks {
		g.Pieces[p] = forage.Pieces(looks[p], slices.Concat(past.Bites[p], bites[p]))
	}
	return g
}

// breaks tells of the days on which the way of measuring changed.
func (s *Season) breaks(looks [][]forage.Look) []string {
	days := map[string]int{}
	for _, list := range looks {
		by := ""
		list = slices.SortedStableFunc(slices.Values(list), func(a, b forage.Look) int { return a.At.Compare(b.At) })
		for _, l := range list {
			if l.By == "" || l.By == CutMethod {
				continue
			}
			if forage.Broken(by, l.By) {
				days[l.At.In(s.Location).Format(time.DateOnly)]++
			}
			by = l.By
		}
	}
	out := []string{}
	for _, day := range slices.Sorted(maps.Keys(days)) {
		at, _ := time.Parse(time.DateOnly, day)
		out = append(out, fmt.Sprintf("On %s another method, meter or conversion was used on %d paddocks: the step to that walk is not counted as growth.", at.Format("2 January"), days[day]))
	}
	return out
}

func (s *Season) isWalk(id string) bool {
	i, ok := s.MeasurementAt[id]
	return ok && s.Measured[i].Method != CarriedMethod && s.Measured[i].Method != CutMethod
}

// walkDays are the days of walks, newest last.
func (s *Season) walkDays(since, until time.Time) []time.Time {
	var measured []time.Time
	for _, m := range s.Measured {
		if m.Method != CarriedMethod && m.Method != CutMethod && !m.MeasuredAt.Before(since) && !m.MeasuredAt.After(until) {
			measured = append(measured, m.MeasuredAt)
		}
	}
	return forage.WalkDays(measured)
}

// Dial sets growth on some ground against what those who graze it eat.
func (s *Season) Dial(g Growing, name, mobID string, breakEven *working.Figure, on []bool) GrowthDial {
	var ground []forage.Ground
	for p, pad := range s.Paddocks {
		if on[p] {
			ground = append(ground, forage.Ground{Name: pad.Name, AreaHa: pad.Shape.AreaHa, Pieces: g.Pieces[p]})
		}
	}
	d := forage.ReadDial(ground, g.Walks, breakEven)
	v := GrowthDial{Name: name, MobID: mobID, State: d.State, Growth: d.Growth, BreakEven: breakEven, Walks: []WalkGrowth{}, Sentence: d.Sentence, Most: d.Most}
	for _, w := range d.Walks {
		v.Walks = append(v.Walks, WalkGrowth{w.At, w.Rate, w.Half, w.N, w.AreaHa})
	}
	return v
}
