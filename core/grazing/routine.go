package grazing

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"fjell/core/quantity"
	"fjell/core/reference"
)

// When a step is taken.
const (
	EveningBefore = "evening"
	AtTheGate     = "gate"
)

// RoutineStep is one thing that is done on a move day, or the evening before.
type RoutineStep struct {
	ID       string   `json:"id"`
	Do       string   `json:"do"`
	Why      string   `json:"why"`
	When     string   `json:"when" enum:"evening,gate"`
	Record   string   `json:"record"` // what is written down at it; empty: nothing
	Cautions []string `json:"cautions" nullable:"false"`
	Own      bool     `json:"own"` // the farm's own
}

// OwnStep is a step that a farm adds: for all its mobs or for one, all year or from one day of it to before another, after a step or first.
type OwnStep struct {
	ID    string `json:"id"`
	Do    string `json:"do"`
	When  string `json:"when" enum:"evening,gate"`
	MobID string `json:"mob_id,omitempty"`
	From  string `json:"from,omitempty"` // 04-15
	Until string `json:"until,omitempty"`
	After string `json:"after,omitempty"`
}

// RoutineEdits are what a farm makes of the usual steps: those it adds, and those it leaves out.
type RoutineEdits struct {
	Own  []OwnStep `json:"own" nullable:"false"`
	Left []string  `json:"left_out" nullable:"false"`
}

// Limits of a farm's own steps: a list that is too long is not read.
const (
	mostOwnSteps    = 30
	longestStepText = 120
)

// Check refuses edits that cannot be read as steps.
func (e RoutineEdits) Check() error {
	if len(e.Own) > mostOwnSteps {
		return quantity.Refuse("own", len(e.Own), "at most %d steps of your own: a longer list is not read", mostOwnSteps)
	}
	seen := map[string]bool{}
	for i, s := range e.Own {
		at := fmt.Sprintf("own[%d].", i)
		switch n := len([]rune(strings.TrimSpace(s.Do))); {
		case n == 0 || n > longestStepText:
			return quantity.Refuse(at+"do", nil, "say what is to be done, in 1 to %d letters", longestStepText)
		case s.ID == "" || seen[s.ID]:
			return quantity.Refuse(at+"id", s.ID, "must be a name that no other step has")
		case s.When != EveningBefore && s.When != AtTheGate:
			return quantity.Refuse(at+"when", s.When, "must be evening or gate")
		case (s.From == "") != (s.Until == ""):
			return quantity.Refuse(at+"until", nil, "a season has a first day and a last")
		}
		for field, day := range map[string]string{"from": s.From, "until": s.Until} {
			if day == "" {
				continue
			}
			if _, err := time.Parse("2006-01-02", "2024-"+day); err != nil {
				return quantity.Refuse(at+field, day, "is a day of the year as month and day, such as 04-15")
			}
		}
		seen[s.ID] = true
	}
	return nil
}

// holds tells whether a step is for a mob on a day.
func (s OwnStep) holds(mob string, on time.Time) bool {
	if s.MobID != "" && s.MobID != mob {
		return false
	}
	day := on.Format("01-02")
	switch {
	case s.From == "":
		return true
	case s.From <= s.Until:
		return day >= s.From && day < s.Until
	}
	return day >= s.From || day < s.Until // over new year
}

// routineOf is the move day of what goes in a mob: of one species its own, of several that of a mixed mob.
func routineOf(species []string) string {
	kinds := slices.Compact(slices.Sorted(slices.Values(species)))
	switch {
	case len(kinds) == 0:
		return "move_day_cattle"
	case len(kinds) == 1:
		return "move_day_" + kinds[0]
	}
	return "move_day_mixed_guard_dog"
}

// Routine is what is done for a mob of so many species on a day at the farm, in working order: the evening before first, the usual steps but for
// those the farm leaves out, and its own where it wants them.
func Routine(species []string, edits RoutineEdits, mob string, on time.Time) []RoutineStep {
	out := []RoutineStep{}
	for _, id := range []string{"evening_before", routineOf(species)} {
		when := AtTheGate
		if id == "evening_before" {
			when = EveningBefore
		}
		r, err := reference.Load().Routine(id)
		if err != nil {
			continue // a species without a list of its own has the evening before alone, and what the farm adds
		}
		for i, s := range r.Steps {
			step := RoutineStep{ID: fmt.Sprintf("%s.%d", id, i+1), Do: s.Do, Why: s.Why, When: when, Record: s.Record, Cautions: s.Cautions}
			out = append(out, step)
		}
	}
	for _, s := range edits.Own {
		if !s.holds(mob, on) {
			continue
		}
		step := RoutineStep{ID: s.ID, Do: s.Do, When: s.When, Own: true, Cautions: []string{}}
		same := func(o RoutineStep) bool { return o.When == s.When }
		at := slices.IndexFunc(out, same) // first of its list, unless it follows a step
		if k := slices.IndexFunc(out, func(o RoutineStep) bool { return o.ID == s.After && same(o) }); k >= 0 {
			at = k + 1
		}
		if at < 0 {
			at = len(out)
		}
		out = slices.Insert(out, at, step)
	}
	return slices.DeleteFunc(out, func(s RoutineStep) bool { return slices.Contains(edits.Left, s.ID) })
}
