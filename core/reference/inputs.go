package reference

import (
	"slices"

	"fjell/core/quantity"
)

// Input is a way to change feed supply, or when the feed lands. Months are those of the north. Its costs are not given: a farm has prices of its own.
type Input struct {
	ID      string    `json:"id"`
	Name    string    `json:"name"`
	Kind    string    `json:"kind"` // grow, move, buy, protect
	Apply   []int     `json:"apply_months"`
	Extra   *Range    `json:"extra_yield_t_ha"` // a year of its life; of what is moved the mass carried over; nil of what is bought
	Lands   []int     `json:"months_it_lands"`
	Shares  []float64 `json:"month_shares"`
	Takes   []int     `json:"takes_from_months"` // of what is moved: the months whose feed is given up
	Taken   []float64 `json:"take_month_shares"`
	Lead    float64   `json:"lead_time_days"`
	Life    float64   `json:"life_years"`
	ActsOn  string    `json:"acts_on"` // existing_sward, new_sward, purchase
	Applies struct {
		Forms   []string `json:"growth_forms"`
		Seasons []string `json:"seasons"`
		Swards  []string `json:"sward_ids"`
	} `json:"applies_to"`
	Obliges  []string `json:"obliges"` // inputs without which its yield does not come: assumption, ours, by its caution
	Nitrogen *float64 `json:"nitrogen_rate_kg_ha"`
	Eaten    float64  `json:"eaten_share_typical"`
	DryShare float64  `json:"dry_matter_share"` // of what is bought
	Cost     struct {
		Basis string `json:"basis"` // per_ha, per_tonne as fed
	} `json:"cost"`
	Source     string `json:"source"`
	Confidence string `json:"confidence"`
	Caution    string `json:"caution"`
}

// Input finds a way to change feed supply.
func (l *Library) Input(id string) (Input, error) {
	for _, in := range l.Inputs {
		if in.ID == id {
			return in, nil
		}
	}
	return Input{}, quantity.Refuse("input", id, "is not in the reference list")
}

// Suits tells whether an input is meant for a sward, as it stands there. A new sward, and what is bought, are for any ground.
func (in Input) Suits(s Sward) bool {
	if in.ActsOn != "existing_sward" {
		return true
	}
	among := func(list []string, v string) bool { return len(list) == 0 || slices.Contains(list, v) }
	return among(in.Applies.Forms, s.GrowthForm) && among(in.Applies.Seasons, s.Season) && among(in.Applies.Swards, s.ID)
}
