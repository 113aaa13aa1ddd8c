package yard

import (
	"context"
	"strings"
	"time"

	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// NewTreatment is a product given to a mob, or put on a paddock, as it stands on the label.
type NewTreatment struct {
	ID        string     `json:"id"`
	MobID     *string    `json:"mob_id,omitempty"`     // one
	PaddockID *string    `json:"paddock_id,omitempty"` // of the two
	Product   string     `json:"product"`
	Given     store.Day  `json:"given_on"`
	Until     *store.Day `json:"until_on,omitempty" doc:"the first day on which it no longer withholds sale, milk or grazing, by its label"`
	Tags      string     `json:"tags,omitempty" doc:"which animals; empty: all"`
	Note      string     `json:"note,omitempty"`
}

// TreatmentView is a treatment on record.
type TreatmentView struct {
	NewTreatment
	MobName     string `json:"mob_name"`
	PaddockName string `json:"paddock_name"`
	Withholds   bool   `json:"withholds"` // today
}

// RecordTreatment keeps a treatment. Fjell knows no doses and no waiting times: both are read off the label, by whoever gives it.
func (s *Service) RecordTreatment(ctx context.Context, a farm.Actor, in NewTreatment) error {
	return s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "treatment", Body: in}, func(tx *facts.Writing) error {
		if err := in.check(tx); err != nil {
			return err
		}
		return tx.Create(&store.Treatment{FarmID: a.FarmID, ID: in.ID, MobID: in.MobID, PaddockID: in.PaddockID, Product: in.Product, GivenOn: in.Given, UntilDay: in.Until,
			Tags: in.Tags, Note: in.Note, RecordedAt: time.Now().UTC(), RecordedBy: a.UserID}).Error
	})
}

func (in *NewTreatment) check(tx *facts.Writing) error {
	if in.Product = strings.TrimSpace(in.Product); in.Product == "" {
		return quantity.Refuse("product", nil, "say what was given, as it stands on the label")
	}
	for field, of := range map[string]struct {
		text string
		most int
	}{"product": {in.Product, 200}, "tags": {in.Tags, 500}, "note": {in.Note, mostNote}} {
		if n := len([]rune(of.text)); n > of.most {
			return quantity.Refuse(field, n, "at most %d letters", of.most)
		}
	}
	given, err := in.Given.Time(time.UTC)
	if err != nil || in.Given > tx.Today() || given.Before(tx.Now.AddDate(-1, 0, 0)) {
		return quantity.Refuse("given_on", string(in.Given), "must be a day of the last year, up to today")
	}
	if in.Until != nil {
		until, err := in.Until.Time(time.UTC)
		if err != nil || *in.Until <= in.Given || until.After(given.AddDate(3, 0, 0)) {
			return quantity.Refuse("until_on", string(*in.Until), "must be a day after it was given, at most three years")
		}
	}
	if (in.MobID == nil) == (in.PaddockID == nil) {
		return quantity.Refuse("mob_id", nil, "say which mob it was given to, or which paddock it was put on")
	}
	if in.MobID != nil {
		_, err = farm.Find[store.Mob](tx.DB, tx.Actor.FarmID, "mob_id", *in.MobID)
	} else {
		_, err = farm.Find[store.Paddock](tx.DB, tx.Actor.FarmID, "paddock_id", *in.PaddockID)
	}
	return err
}

// TakeTreatmentBack takes a treatment back that was written down by mistake; it stays on record as taken back.
func (s *Service) TakeTreatmentBack(ctx context.Context, a farm.Actor, id string) error {
	return s.Write(ctx, a, farm.Request{Kind: "take treatment back", Body: id}, func(tx *facts.Writing) error {
		if _, err := farm.Find[store.Treatment](tx.DB, a.FarmID, "", id); err != nil {
			return err
		}
		return tx.Note("treatment taken back", "", tx.Model(&store.Treatment{}).Where("farm_id = ? AND id = ?", a.FarmID, id).Update("withdrawn", true).Error)
	})
}

// Treatments are those on record of the last year, the latest first.
func (s *Service) Treatments(ctx context.Context, a farm.Actor) ([]TreatmentView, error) {
	se, err := s.Season(ctx, a)
	if err != nil {
		return nil, err
	}
	var rows []store.Treatment
	if err := s.DB.WithContext(ctx).Order("given_on DESC, recorded_at DESC, id").Limit(200).Find(&rows, "farm_id = ? AND NOT withdrawn AND given_on > ?", a.FarmID, facts.DayAt(se.Number(se.Now)-366)).Error; err != nil {
		return nil, err
	}
	out := []TreatmentView{}
	today := store.DayOf(se.Now, se.Location)
	for _, r := range rows {
		v := TreatmentView{NewTreatment: NewTreatment{r.ID, r.MobID, r.PaddockID, r.Product, r.GivenOn, r.UntilDay, r.Tags, r.Note}, Withholds: r.Withholds(today)}
		if r.PaddockID != nil {
			v.PaddockName = se.Names[*r.PaddockID]
		}
		if r.MobID != nil {
			if i, ok := se.MobIndex[*r.MobID]; ok {
				v.MobName = se.Mobs[i].Name
			}
		}
		out = append(out, v)
	}
	return out, nil
}
