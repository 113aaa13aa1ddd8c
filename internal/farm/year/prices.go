package year

import (
	"context"
	"regexp"
	"strings"
	"time"

	"fjell/core/quantity"
	"fjell/core/reference"
	core "fjell/core/year"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// ownItems are items of prices that are no inputs of the reference: what they are called, and of what the price is.
var ownItems = map[string][2]string{"head": {"A head that goes", "head"}, core.Rent: {"Ground that is rented", "ha"}, core.Division: {"A further division", "ha"}, core.Topping: {"Topping", "ha"},
	core.Behind: {"A head that comes behind", "head"}, core.Weaning: {"A young one that goes at weaning", "head"}}

// NewPrice is what a farm pays, or forgoes, from a day on: for a hectare, for a tonne as it is delivered or, of bales, by what one costs, its haulage and its
// weight; for a head that goes, what is forgone.
type NewPrice struct {
	ID      string    `json:"id"`
	Item    string    `json:"item" doc:"the id of an input of the reference, or: head, rent, divide, top, behind, wean"`
	From    store.Day `json:"from_day"`
	Amount  *float64  `json:"price,omitempty"`
	Bale    *float64  `json:"bale_price,omitempty"`
	Haulage *float64  `json:"haulage,omitempty" doc:"of a bale; left out: it is brought for nothing, or fetched"`
	BaleKg  *float64  `json:"bale_kg,omitempty"`
	Note    string    `json:"note,omitempty"`
}

// PriceRow is a price of a farm.
type PriceRow struct {
	ID     string    `json:"id"`
	Item   string    `json:"item"`
	Name   string    `json:"name"`
	Of     string    `json:"of" enum:"ha,tonne,head"`
	From   store.Day `json:"from_day"`
	Amount float64   `json:"price"`
	Bale   *float64  `json:"bale_price" nullable:"true"`
	Haul   *float64  `json:"haulage" nullable:"true"`
	BaleKg *float64  `json:"bale_kg" nullable:"true"`
	Note   string    `json:"note"`
	Holds  bool      `json:"holds"` // today
}

// PricesView is a farm's prices, the latest of each item first.
type PricesView struct {
	Currency string     `json:"currency"`
	Prices   []PriceRow `json:"prices" nullable:"false"`
}

// KeepPrice writes a price down.
func (s *Service) KeepPrice(ctx context.Context, a farm.Actor, in NewPrice) (PricesView, error) {
	err := s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "price", Body: in}, func(tx *facts.Writing) error {
		amount, err := in.check(tx)
		if err != nil {
			return err
		}
		return tx.Create(&store.Price{FarmID: a.FarmID, ID: in.ID, Item: in.Item, FromOn: in.From, Amount: amount, BalePrice: in.Bale, Haulage: in.Haulage, BaleKg: in.BaleKg, Note: in.Note,
			RecordedAt: time.Now().UTC(), RecordedBy: a.UserID}).Error
	})
	return farm.After(err, func() (PricesView, error) { return s.Prices(ctx, a) })
}

func (in *NewPrice) check(tx *facts.Writing) (amount float64, err error) {
	buys := false
	if _, own := ownItems[in.Item]; !own {
		input, err := reference.Load().Input(in.Item)
		if err != nil {
			return 0, quantity.Refuse("item", in.Item, "is no input of the list, and is not: head, rent, divide, top, behind or wean")
		}
		buys = input.Kind == "buy"
	}
	if on, err := in.From.Time(time.UTC); err != nil || on.Before(tx.Now.AddDate(-10, 0, 0)) || on.After(tx.Now.AddDate(3, 0, 0)) {
		return 0, quantity.Refuse("from_day", string(in.From), "must be a day of the last ten years, or of the three to come")
	}
	if in.Note = strings.TrimSpace(in.Note); len([]rune(in.Note)) > mostReason {
		return 0, quantity.Refuse("note", len([]rune(in.Note)), "at most %d letters", mostReason)
	}
	switch {
	case in.Amount != nil && (in.Bale != nil || in.BaleKg != nil || in.Haulage != nil):
		return 0, quantity.Refuse("price", *in.Amount, "the bales say what a tonne costs: leave one of the two out")
	case in.Amount != nil:
		return *in.Amount, core.CheckPrice("price", *in.Amount)
	case !buys:
		return 0, quantity.Refuse("price", nil, "say what it costs")
	case in.Bale == nil:
		return 0, quantity.Refuse("bale_price", nil, "say what a bale costs, or what a tonne costs delivered")
	case in.BaleKg == nil:
		return 0, quantity.Refuse("bale_kg", nil, "say what a bale weighs: weigh a few")
	}
	haulage := 0.0
	if in.Haulage != nil {
		haulage = *in.Haulage
	}
	delivered, err := core.DeliveredPrice(*in.Bale, haulage, *in.BaleKg)
	return delivered.Value, err
}

// TakePriceBack takes a price back that was written down by mistake; it stays on record as taken back.
func (s *Service) TakePriceBack(ctx context.Context, a farm.Actor, id string) (PricesView, error) {
	err := s.Write(ctx, a, farm.Request{Kind: "take price back", Body: id}, func(tx *facts.Writing) error {
		if _, err := farm.Find[store.Price](tx.DB, a.FarmID, "", id); err != nil {
			return err
		}
		return tx.Model(&store.Price{}).Where("farm_id = ? AND id = ?", a.FarmID, id).Update("withdrawn", true).Error
	})
	return farm.After(err, func() (PricesView, error) { return s.Prices(ctx, a) })
}

// prices are what stands on record, of each item the latest first.
func (s *Service) prices(ctx context.Context, farmID string) (rows []store.Price, err error) {
	return rows, s.DB.WithContext(ctx).Order("item, from_on DESC, recorded_at DESC, id").Find(&rows, "farm_id = ? AND NOT withdrawn", farmID).Error
}

// Prices are those of a farm.
func (s *Service) Prices(ctx context.Context, a farm.Actor) (PricesView, error) {
	out := PricesView{Prices: []PriceRow{}}
	se, err := s.Season(ctx, a)
	if err != nil {
		return out, err
	}
	view, err := s.Farm(ctx, a)
	if err != nil {
		return out, err
	}
	rows, err := s.prices(ctx, a.FarmID)
	out.Currency = view.Currency
	today, held := store.DayOf(se.Now, se.Location), ""
	for _, r := range rows {
		row := PriceRow{ID: r.ID, Item: r.Item, Name: ownItems[r.Item][0], Of: ownItems[r.Item][1], From: r.FromOn, Amount: r.Amount, Bale: r.BalePrice, Haul: r.Haulage, BaleKg: r.BaleKg, Note: r.Note}
		if in, err := reference.Load().Input(r.Item); err == nil {
			if row.Name, row.Of = in.Name, "ha"; in.Kind == "buy" {
				row.Of = "tonne"
			}
		}
		if row.Holds = r.FromOn <= today && held != r.Item; row.Holds {
			held = r.Item
		}
		out.Prices = append(out.Prices, row)
	}
	return out, err
}

// priceOn is the price of an item that holds on a day.
func priceOn(rows []store.Price, item string, day store.Day) (float64, bool) {
	for _, r := range rows {
		if r.Item == item && r.FromOn <= day {
			return r.Amount, true
		}
	}
	return 0, false
}

// CurrencyInput is the farm's money.
type CurrencyInput struct {
	Currency string `json:"currency" doc:"three letters, such as NOK; empty: nobody said"`
}

var threeLetters = regexp.MustCompile(`^([A-Z]{3})?$`)

// SetCurrency says in which money a farm's prices are. No figure changes by it.
func (s *Service) SetCurrency(ctx context.Context, a farm.Actor, version int, in CurrencyInput) (PricesView, error) {
	in.Currency = strings.ToUpper(strings.TrimSpace(in.Currency))
	err := s.Write(ctx, a, farm.Request{Kind: "currency", Body: []any{version, in}}, func(tx *facts.Writing) error {
		if !threeLetters.MatchString(in.Currency) {
			return quantity.Refuse("currency", in.Currency, "must be three letters, such as NOK, or empty")
		}
		if err := tx.BumpFarm(version); err != nil {
			return err
		}
		return tx.Model(&store.Farm{}).Where("id = ?", a.FarmID).Update("currency", in.Currency).Error
	})
	return farm.After(err, func() (PricesView, error) { return s.Prices(ctx, a) })
}
