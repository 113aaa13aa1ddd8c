package farm

import (
	"context"
	"fmt"
	"strings"

	"fjell/core/quantity"
	"fjell/internal/store"
)

// Limits of an emergency card: it is read in a hurry.
const (
	mostContacts  = 8
	longestName   = 60
	longestPhone  = 30
	longestAnswer = 400
)

// Emergency is a farm's emergency card.
type Emergency = store.Emergency

// Targets is what a farm wants of its ground and its fences.
type Targets = store.Targets

// checkEmergency refuses a card that cannot be read or called by.
func checkEmergency(in *store.Emergency) error {
	if len(in.Contacts) > mostContacts {
		return quantity.Refuse("contacts", len(in.Contacts), "name at most %d to call: who reads it is in a hurry", mostContacts)
	}
	in.Contacts = append([]store.Contact{}, in.Contacts...)
	for i := range in.Contacts {
		c, at := &in.Contacts[i], fmt.Sprintf("contacts[%d].", i)
		c.Who, c.Phone = strings.TrimSpace(c.Who), strings.TrimSpace(c.Phone)
		if n := len([]rune(c.Who)); n == 0 || n > longestName {
			return quantity.Refuse(at+"who", nil, "say who it is, in 1 to %d letters", longestName)
		}
		if len(c.Phone) > longestPhone || strings.IndexFunc(c.Phone, dialled) < 0 || strings.IndexFunc(c.Phone, notDialled) >= 0 {
			return quantity.Refuse(at+"phone", c.Phone, "must be a telephone number: digits, blanks, + ( ) - and at most %d of them", longestPhone)
		}
	}
	for field, text := range map[string]string{"where": in.Where, "shut_first": in.ShutFirst, "also": in.Also} {
		if len([]rune(text)) > longestAnswer {
			return quantity.Refuse(field, nil, "at most %d letters: who reads it is in a hurry", longestAnswer)
		}
	}
	if (in.Longitude == nil) != (in.Latitude == nil) {
		return quantity.Refuse("latitude", nil, "a position has a latitude and a longitude")
	}
	if in.Longitude != nil && (*in.Longitude < -180 || *in.Longitude > 180) {
		return quantity.Refuse("longitude", *in.Longitude, "must be between -180 and 180")
	}
	if in.Latitude != nil && (*in.Latitude < -90 || *in.Latitude > 90) {
		return quantity.Refuse("latitude", *in.Latitude, "must be between -90 and 90")
	}
	return nil
}

func dialled(r rune) bool { return r >= '0' && r <= '9' }

func notDialled(r rune) bool { return !dialled(r) && !strings.ContainsRune(" +()-./", r) }

// SetEmergency says whom to call and what to shut first, should something go wrong.
func (s *Service) SetEmergency(ctx context.Context, a Actor, version int, in store.Emergency) (FarmView, error) {
	if err := checkEmergency(&in); err != nil {
		return FarmView{}, err
	}
	err := s.Write(ctx, a, Request{"", "emergency", []any{version, in}}, func(tx *Writing) error {
		if err := tx.BumpFarm(version); err != nil {
			return err
		}
		return tx.Model(&store.Farm{}).Where("id = ?", a.FarmID).Update("emergency", store.JSON[store.Emergency]{V: in}).Error
	})
	return After(err, func() (FarmView, error) { return s.Farm(ctx, a) })
}

// EmergencyOf is a farm's card as it is on record; one that was never filled in names nobody.
func EmergencyOf(row store.Farm) store.Emergency {
	e := row.Emergency.V
	e.Contacts = append([]store.Contact{}, e.Contacts...)
	return e
}
