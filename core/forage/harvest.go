package forage

import (
	"fjell/core/quantity"
	"fjell/core/working"
)

// Bales are feed in bales: how many, what one weighs as it lies, kg, and how much of that is dry matter. What nobody weighed is nil and stays
// unknown: there is no usual bale.
type Bales struct {
	Count    *float64 `json:"bales,omitempty"`
	Kg       *float64 `json:"bale_kg,omitempty"`
	DryShare *float64 `json:"dry_matter_share,omitempty"`
}

// DryMatter is what bales hold, kg DM; nil where something of it is not known. A share of dry matter outside 0 to 1, or a figure below
// zero, is refused.
func (b Bales) DryMatter() (*working.Step, error) {
	for _, f := range []struct {
		field string
		value *float64
		most  float64
	}{{"bales", b.Count, 1e6}, {"bale_kg", b.Kg, 2000}, {"dry_matter_share", b.DryShare, 1}} {
		if f.value != nil && !(*f.value >= 0 && *f.value <= f.most) {
			return nil, quantity.Refuse(f.field, *f.value, "must be 0 to %v", f.most)
		}
	}
	if b.Count == nil || b.Kg == nil || b.DryShare == nil {
		return nil, nil
	}
	step := working.New("Dry matter in bales", "n × w × d", *b.Count**b.Kg**b.DryShare, quantity.Kilogram, working.T("n", "bales", *b.Count, quantity.Count),
		working.T("w", "one weighs as it lies", *b.Kg, quantity.Kilogram), working.T("d", "dry matter of it", *b.DryShare, quantity.Share))
	return &step, nil
}

// Stubble is what stands on a paddock after a part of it was cut, kg DM/ha: what the cut left there, and what stood on the rest.
func Stubble(left, standing, cutHa, areaHa float64) float64 {
	share := min(1, cutHa/areaHa)
	return share*left + (1-share)*standing
}
