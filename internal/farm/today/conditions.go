package today

import (
	"context"
	"slices"
	"strings"
	"time"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// NewCondition is what somebody says is so.
type NewCondition struct {
	ID    string     `json:"id"`
	Name  string     `json:"name" doc:"of the variables that cautions go by"`
	Value any        `json:"value" doc:"true or false, a number, or a word"`
	Until *store.Day `json:"until_on,omitempty" doc:"the first day on which it no longer is; left out: until it is taken back"`
}

// ConditionView is something that somebody says is so.
type ConditionView struct {
	ID    string         `json:"id"`
	Says  grazing.Reason `json:"says"`
	From  store.Day      `json:"from_on"`
	Until *store.Day     `json:"until_on" nullable:"true"`
}

// Askable is what cautions go by that a person may say: its meaning, its unit, and, of words, those that count.
type Askable struct {
	Name    string   `json:"name"`
	Meaning string   `json:"meaning"`
	Unit    string   `json:"unit"`
	Words   []string `json:"words" nullable:"false"`
}

// CautionsView is every caution there is, what they go by, and what of it somebody has said.
type CautionsView struct {
	Cautions []CautionView   `json:"cautions" nullable:"false"`
	Askable  []Askable       `json:"askable" nullable:"false"`
	Said     []ConditionView `json:"said" nullable:"false"`
}

// recorded are the variables that come from what is on record, so that nobody is asked for them.
var recorded = []string{"legume_share", "sward_hazards", "sward_type", "sward_height_cm", "planned_residual_cm", "growth_kg_dm_ha_day", "stage", "class_sex",
	"days_since_birth_in_mob", "days_to_birth_in_mob", "days_to_mating", "days_since_same_host", "stay_days", "longest_stay_days_for_worms", "parasite_prone_class",
	"endophyte_infected", "cloudy_cool_days", "days_since_frost", "days_since_rain", "days_since_drought_break"}

// askable are all that a person may say, in the order of the reference.
func askable() []Askable {
	lib := reference.Load()
	words := map[string][]string{}
	used := map[string]bool{}
	for _, c := range lib.Cautions {
		for _, cond := range slices.Concat(c.Trigger.All, c.Trigger.Any) {
			used[cond.Name] = true
			add := func(v any) {
				if w, ok := v.(string); ok && !slices.Contains(words[cond.Name], w) {
					words[cond.Name] = append(words[cond.Name], w)
				}
			}
			if list, ok := cond.Value.([]any); ok {
				for _, v := range list {
					add(v)
				}
			} else {
				add(cond.Value)
			}
		}
	}
	var out []Askable
	for _, v := range lib.Variables {
		if used[v.Name] && !slices.Contains(recorded, v.Name) {
			meaning := strings.TrimSpace(strings.ReplaceAll(grazing.ConditionWords(v.Name, v.Name != "trained_to_electric" && v.Name != "phone_signal"), "{v}", "…"))
			out = append(out, Askable{v.Name, meaning, v.Unit, append([]string{}, words[v.Name]...)})
		}
	}
	return out
}

// check refuses what no caution goes by, and values of another kind.
func (in NewCondition) check() error {
	i := slices.IndexFunc(askable(), func(a Askable) bool { return a.Name == in.Name })
	if i < 0 {
		return quantity.Refuse("name", in.Name, "is nothing that a caution goes by and a person says")
	}
	a := askable()[i]
	ok, want := false, "a number from −1000 to 100 000"
	switch v := in.Value.(type) {
	case bool:
		ok = a.Unit == "true/false"
	case float64:
		ok = a.Unit != "true/false" && len(a.Words) == 0 && v >= -1000 && v <= 100_000
	case string:
		ok = slices.Contains(a.Words, v)
	}
	if a.Unit == "true/false" {
		want = "true or false"
	} else if len(a.Words) > 0 {
		want = "one of the words that cautions go by"
	}
	if !ok {
		return quantity.Refuse("value", in.Value, "must be %s", want)
	}
	return nil
}

// SayCondition keeps what somebody says is so, in place of what was said of the same before.
func (s *Service) SayCondition(ctx context.Context, a farm.Actor, in NewCondition) error {
	return s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "condition", Body: in}, func(tx *facts.Writing) error {
		if err := in.check(); err != nil {
			return err
		}
		today := tx.Today()
		if in.Until != nil && *in.Until <= today {
			return quantity.Refuse("until_on", string(*in.Until), "must be a day after today")
		}
		if err := tx.Model(&store.Condition{}).Where("farm_id = ? AND name = ? AND (until_day IS NULL OR until_day > ?)", a.FarmID, in.Name, today).
			Update("until_day", today).Error; err != nil {
			return err
		}
		return tx.Create(&store.Condition{FarmID: a.FarmID, ID: in.ID, Name: in.Name, Value: store.JSON[any]{V: in.Value}, FromDay: today, UntilDay: in.Until,
			SaidBy: a.UserID, SaidAt: time.Now().UTC()}).Error
	})
}

// EndCondition says that something is no longer so.
func (s *Service) EndCondition(ctx context.Context, a farm.Actor, id string) error {
	return s.Write(ctx, a, farm.Request{Kind: "end condition", Body: id}, func(tx *facts.Writing) error {
		if _, err := farm.Find[store.Condition](tx.DB, a.FarmID, "", id); err != nil {
			return err
		}
		return tx.Model(&store.Condition{}).Where("farm_id = ? AND id = ?", a.FarmID, id).Update("until_day", tx.Today()).Error
	})
}

// Cautions are all there are, what they go by, and what of it somebody has said.
func (s *Service) Cautions(ctx context.Context, a farm.Actor) (CautionsView, error) {
	se, err := s.Season(ctx, a)
	if err != nil {
		return CautionsView{}, err
	}
	out := CautionsView{Cautions: []CautionView{}, Askable: askable(), Said: []ConditionView{}}
	for _, c := range reference.Load().Cautions {
		out.Cautions = append(out.Cautions, CautionOf(c))
	}
	for _, c := range se.Conditions {
		out.Said = append(out.Said, ConditionView{c.ID, grazing.SayCondition(c.Name, c.Value.V), c.FromDay, c.UntilDay})
	}
	return out, nil
}
