package year

import (
	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/core/working"
)

// DeliveredPrice is what a tonne of bales costs as it lies in the yard: what a bale costs and what bringing it costs, against what it weighs. None of the three
// is ever guessed.
func DeliveredPrice(bale, haulage, kg float64) (working.Figure, error) {
	for field, v := range map[string]float64{"bale_price": bale, "haulage": haulage} {
		if !(v >= 0 && v <= mostPrice) {
			return working.Figure{}, quantity.Refuse(field, v, "must be 0 to 10 000 000")
		}
	}
	if !(kg >= 1 && kg <= 2000) {
		return working.Figure{}, quantity.Refuse("bale_kg", kg, "say what a bale weighs, %s to %s: weigh a few", quantity.Said{Value: 1, Unit: quantity.Kilogram}, quantity.Said{Value: 2000, Unit: quantity.Kilogram})
	}
	return working.Of("the farm's own prices", working.New("A tonne delivered", "1000 × ( b + h ) ÷ w", 1000*(bale+haulage)/kg, quantity.None,
		working.T("b", "price of a bale", bale, quantity.None), working.T("h", "haulage of a bale", haulage, quantity.None), working.T("w", "a bale weighs", kg, quantity.Kilogram))), nil
}

// mostPrice is beyond any price of a hectare, a tonne or a head, in any money.
const mostPrice = 1e7

// CheckPrice refuses what is no price.
func CheckPrice(field string, amount float64) error {
	if !(amount >= 0 && amount <= mostPrice) {
		return quantity.Refuse(field, amount, "must be 0 to 10 000 000")
	}
	return nil
}

// Cheapest is the bought feed of which a tonne of dry matter, swallowed, costs least at some prices of a tonne as it is delivered, and what that tonne costs; false where none
// has a price.
func Cheapest(prices map[string]float64) (in reference.Input, tonne float64, ok bool) {
	for _, each := range reference.Load().Inputs {
		price, known := prices[each.ID]
		if !known || each.Kind != "buy" {
			continue
		}
		if costs := price / (each.DryShare * each.Eaten); !ok || costs < tonne {
			in, tonne, ok = each, costs, true
		}
	}
	return in, tonne, ok
}
