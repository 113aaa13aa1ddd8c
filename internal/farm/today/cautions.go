package today

import (
	"slices"
	"time"

	"fjell/core/grazing"
	"fjell/core/reference"
	"fjell/core/rotation"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// CautionView is a usual caution at the moment it matters.
type CautionView struct {
	ID          string   `json:"id"`
	Title       string   `json:"title"`
	Area        string   `json:"area" enum:"animals,people,land,fence"`
	Words       string   `json:"when"` // in general
	Watch       string   `json:"what_to_watch"`
	Precautions []string `json:"usual_precautions" nullable:"false"`
	Ask         string   `json:"who_to_ask"`
}

// CautionOf is a caution of the reference as it is shown.
func CautionOf(c reference.Caution) CautionView {
	return CautionView{c.ID, c.Title, c.Area, c.Trigger.Words, c.Watch, c.Precautions, c.Ask}
}

// DueView is a caution whose condition is met today, for some mobs.
type DueView struct {
	CautionView
	MobIDs  []string         `json:"mob_ids" nullable:"false"`
	Where   string           `json:"where"`
	Since   store.Day        `json:"since" doc:"the first day of those on which its condition has been met without a break: put away earlier, it is said again"`
	Because []grazing.Reason `json:"because" nullable:"false"`
	told    grazing.Reason
}

// due are the cautions whose conditions are met today: each once, with every mob that it is for.
func due(s *season.Season, past rotation.Past, plan rotation.Plan) []DueView {
	out, at := []DueView{}, map[string]int{}
	for i := range s.Mobs {
		for _, g := range grounds(s, i, plan) {
			for _, d := range grazing.DueAmong(reference.Load().Cautions, species(s, s.Mobs[i].ID), known(s, g, past)) {
				since := facts.DayAt(s.Number(s.Now) - d.Days + 1)
				k, seen := at[d.ID]
				if !seen {
					at[d.ID] = len(out)
					out = append(out, DueView{CautionView: CautionOf(d.Caution), MobIDs: []string{s.Mobs[i].ID}, Where: where(s, g, d.Area), Since: since, Because: d.Because, told: d.Told()})
					continue
				}
				if !slices.Contains(out[k].MobIDs, s.Mobs[i].ID) {
					out[k].MobIDs = append(out[k].MobIDs, s.Mobs[i].ID)
					if d.Area == "animals" {
						out[k].Where += ", " + s.Mobs[i].Name
					}
				}
				if since > out[k].Since {
					out[k].Since = since // it has come upon another mob: said again for it
				}
			}
		}
	}
	slices.SortStableFunc(out, func(a, b DueView) int { return order[a.ID] - order[b.ID] })
	return out
}

// order is that of the reference, the gravest first.
var order = func() map[string]int {
	out := map[string]int{}
	for i, c := range reference.Load().Cautions {
		out[c.ID] = i
	}
	return out
}()

// where names what a caution is about: the mob for animals, the paddock for ground, the farm for the rest.
func where(s *season.Season, g ground, area string) string {
	switch {
	case area == "animals":
		return s.Mobs[g.mob].Name
	case area == "land":
		return s.Paddocks[g.paddock].Name
	}
	return s.Row.Name
}

// soon is how near the next move must be for its ground to be looked at, hours.
const soon = 36

// grounds are where a mob stands and, when that is near, where it goes next.
func grounds(s *season.Season, mob int, plan rotation.Plan) []ground {
	var out []ground
	if in := s.Grazers[mob].In; in != rotation.Nowhere {
		out = append(out, ground{mob: mob, paddock: in})
	}
	for k, vis := range plan.Visits {
		if vis.Mob == mob && !vis.Fact {
			if vis.Enter.Sub(s.Now) <= soon*time.Hour {
				out = append(out, ground{mob, vis.Paddock, &plan.Visits[k]})
			}
			break
		}
	}
	return out
}

// cautions are what can hurt on a move: the usual ones of a gate, then those whose conditions are met on the ground they go to.
func cautions(s *season.Season, g ground, past rotation.Past) []CautionView {
	lib, pad := reference.Load(), s.Paddocks[g.paddock]
	legume := pad.Sward.LegumeShare
	if pad.LegumeShare != nil {
		legume = *pad.LegumeShare
	}
	var animals []grazing.Animal
	for _, c := range s.Classes(s.Mobs[g.mob].ID) {
		if ref, err := s.Class("", c.ReferenceID); err == nil {
			animals = append(animals, grazing.Animal{Species: ref.Species, Male: ref.Stage == "male", Calves: c.ReferenceID == "beef_calf_at_foot"})
		}
	}
	ids := grazing.Cautions(legume, animals)
	for _, d := range grazing.DueAmong(lib.Cautions, species(s, s.Mobs[g.mob].ID), known(s, g, past)) {
		if !slices.Contains(ids, d.ID) {
			ids = append(ids, d.ID)
		}
	}
	out := []CautionView{}
	for _, id := range ids {
		if c, err := lib.Caution(id); err == nil {
			out = append(out, CautionOf(c))
		}
	}
	return out
}

// dueMinding says today's cautions among what needs minding.
func dueMinding(list []DueView) []Minding {
	var out []Minding
	for _, d := range list {
		out = append(out, Minding{Kind: grazing.MindCaution, State: grazing.Mind, Where: d.Where, Reason: d.told, Place: "today?caution=" + d.ID, Caution: d.ID})
	}
	return out
}
