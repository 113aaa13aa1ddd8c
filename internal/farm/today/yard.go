package today

import (
	"fjell/core/grazing"
	"fjell/core/rotation"
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
				out = append(out, Minding{Kind: grazing.MindLook, State: grazing.Mind, Where: where, At: &at, Reason: m, Place: place})
			}
		}
		if s.Number(s.Now)-s.Number(at) <= lookedAt {
			minds := l.Ground.V.Against(s.Row.Targets.V.Ground)
			for _, seen := range l.Animals.V {
				minds = append(minds, seen.Minds(s.ClassName(seen.ClassID))...)
			}
			for _, m := range minds {
				out = append(out, Minding{Kind: grazing.MindLook, State: grazing.Mind, Where: where, At: &at, Reason: m, Place: place})
			}
		}
		if l.ReturnOn != nil && *l.ReturnOn <= today {
			out = append(out, Minding{Kind: grazing.MindLook, State: grazing.Soon, Where: where, Reason: grazing.Because("it was to be looked at again: look again, and say how it is"), Place: place})
		}
	}
	out = append(out, tallied(s)...)
	for _, t := range s.Untrained {
		out = append(out, Minding{Kind: grazing.MindStock, State: grazing.Mind, Where: s.MobOfClass(t.ClassID), Reason: grazing.Training(s.ClassName(t.ClassID), s.Number(s.Now)-dayNumber(t.SinceOn), t.Weeks), Place: "today?training=" + t.ClassID})
	}
	out = append(out, evening(s)...)
	for _, j := range s.Jobs {
		if j.Overdue(today) {
			where := s.Row.Name
			if j.PaddockID != nil {
				where = s.Names[*j.PaddockID]
			}
			out = append(out, Minding{Kind: grazing.MindJob, State: grazing.Mind, Where: where, Reason: grazing.Because(j.What + ": its day has passed"), Place: "today?jobs=open"})
		}
	}
	return out
}

// tallied says where the latest tally of a paddock that is grazed now is above its limit, or will be soon.
func tallied(s *season.Season) []Minding {
	var out []Minding
	for m, rm := range s.Grazers {
		if rm.In == rotation.Nowhere {
			continue
		}
		in := s.TalliesOf(s.Paddocks[rm.In].ID, s.Now)
		says, err := grazing.Tallies(in)
		if err != nil || in.Entered.Before(rm.Since) {
			continue // none in this stay
		}
		mind := Minding{Kind: grazing.MindFeed, State: grazing.Soon, Where: s.Mobs[m].Name, At: says.Out, Reason: says.Reason, Place: "today?tally=" + s.Paddocks[rm.In].ID}
		switch {
		case says.Over:
			mind.State = grazing.Stop
		case says.Out == nil || says.Out.After(s.Now.AddDate(0, 0, 2)):
			continue
		}
		out = append(out, mind)
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
		out = append(out, Minding{Kind: grazing.MindMove, State: grazing.Soon, Where: s.Mobs[vis.Mob].Name, At: &at, Place: "today?gate=" + s.Mobs[vis.Mob].ID,
			Reason: grazing.Because("to " + s.Paddocks[vis.Paddock].Name + ": tonight walk its fence, fill its water and measure the far end")})
	}
	return out
}
