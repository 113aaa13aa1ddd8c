package today

import (
	"fjell/core/grazing"
	"fjell/internal/farm"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// WithheldView is what was given to a mob and until when it withholds them, by its label.
type WithheldView struct {
	Product string    `json:"product"`
	Until   store.Day `json:"until_on"`
	Tags    string    `json:"tags"` // which animals; empty: all
}

// withheld is what withholds a mob today.
func withheld(s *season.Season, mobID string) []WithheldView {
	out, today := []WithheldView{}, store.DayOf(s.Now, s.Location)
	for _, t := range s.Treatments {
		if deref(t.MobID) == mobID && t.Withholds(today) {
			out = append(out, WithheldView{t.Product, *t.UntilDay, t.Tags})
		}
	}
	return out
}

// lookedAt is for how many days what a look minds is said, unless somebody looks again before.
const lookedAt = 3

// yardMinding is what looks found that wants another, and jobs whose day has passed.
func yardMinding(s *season.Season) []Minding {
	out, today := []Minding{}, store.DayOf(s.Now, s.Location)
	replaced, seen := map[string]bool{}, map[string]bool{}
	for _, l := range s.LooksAgain { // the latest first
		replaced[deref(l.ReplacesID)] = true
	}
	for _, l := range s.LooksAgain {
		if replaced[l.ID] {
			continue
		}
		at, where, place := l.SeenAt, s.Names[l.PaddockID], "today?look="+l.PaddockID
		latest := !seen[l.PaddockID]
		seen[l.PaddockID] = true
		if !latest {
			continue // somebody looked again
		}
		if minds := grazing.MindedAnswers(l.Answers.V); s.Number(s.Now)-s.Number(at) <= lookedAt {
			for _, m := range minds {
				out = append(out, Minding{Kind: farm.MindLook, State: grazing.Mind, Where: where, At: &at, Reason: m, Place: place})
			}
		}
		if l.ReturnOn != nil && *l.ReturnOn <= today {
			out = append(out, Minding{Kind: farm.MindLook, State: grazing.Soon, Where: where, Reason: grazing.Because("it was to be looked at again: look again, and say how it is"), Place: place})
		}
	}
	out = append(out, evening(s)...)
	for _, j := range s.Jobs {
		if j.Overdue(today) {
			where := s.Row.Name
			if j.PaddockID != nil {
				where = s.Names[*j.PaddockID]
			}
			out = append(out, Minding{Kind: farm.MindJob, State: grazing.Mind, Where: where, Reason: grazing.Because(j.What + ": its day has passed"), Place: "today?jobs=open"})
		}
	}
	return out
}

// eveningFrom is the hour of the day from which the moves of the next one are spoken of.
const eveningFrom = 15

// evening says, the evening before a move, what is to be ready by then.
func evening(s *season.Season) []Minding {
	if s.Now.In(s.Location).Hour() < eveningFrom {
		return nil
	}
	var out []Minding
	for _, vis := range s.Ahead().Visits {
		if vis.Fact || s.Number(vis.Enter) != s.Number(s.Now)+1 {
			continue
		}
		at := vis.Enter
		out = append(out, Minding{Kind: farm.MindMove, State: grazing.Soon, Where: s.Mobs[vis.Mob].Name, At: &at, Place: "today?gate=" + s.Mobs[vis.Mob].ID,
			Reason: grazing.Because("to " + s.Paddocks[vis.Paddock].Name + ": tonight walk its fence, fill its water and measure the far end")})
	}
	return out
}
