package ground

import (
	"context"
	"time"

	"fjell/core/forage"
	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// CutInput says that a paddock was cut: on which day, what was left, if somebody looked, and what was brought home, if somebody weighed it.
type CutInput struct {
	ID         string   `json:"id"`
	On         string   `json:"cut_on"`
	HeightLeft *float64 `json:"height_left_cm,omitempty" doc:"empty: the sward's stop height"`
	AreaHa     *float64 `json:"cut_area_ha,omitempty" doc:"empty: all of it"`
	forage.Bales
	KgDM      *float64 `json:"harvest_kg_dm,omitempty" doc:"dry matter brought home, where it is known otherwise than by bales"`
	Topped    bool     `json:"topped,omitempty" doc:"what was cut stayed where it lay: nothing was brought home"`
	Note      string   `json:"note,omitempty"`
	Confirmed bool     `json:"confirmed,omitempty"`
}

// harvest is what was brought home, kg DM; nil where nobody weighed it.
func (in CutInput) harvest() (*float64, error) {
	step, err := in.DryMatter()
	if err != nil {
		return nil, err
	}
	switch {
	case in.Topped:
		nothing := 0.0
		return &nothing, nil
	case step != nil && in.KgDM != nil:
		return nil, quantity.Refuse("harvest_kg_dm", *in.KgDM, "the bales say what was brought home: leave one of the two out")
	case step != nil:
		return &step.Value, nil
	}
	return in.KgDM, nil
}

// cutError is how far off what a cut left is known, as a share at 95 %: stubble is uneven. Assumption, ours.
const cutError = 0.25

// Cut writes down that a paddock was cut, for hay, silage or to tidy it. What it was closed for by then has an end, and what
// stood there is gone.
func (s *Service) Cut(ctx context.Context, a farm.Actor, paddockID string, in CutInput) (LandView, error) {
	if err := farm.CheckID("id", in.ID); err != nil {
		return LandView{}, err
	}
	if err := farm.Judge(in, in.Confirmed); err != nil {
		return LandView{}, err
	}
	return s.deed(ctx, a, in.ID, "cut", []any{paddockID, in}, func(e *edit) (string, error) { return e.cut(paddockID, in) })
}

func (e *edit) cut(paddockID string, in CutInput) (string, error) {
	day, err := store.Day(in.On).Time(e.Location)
	if err != nil {
		return "", quantity.Refuse("cut_on", in.On, "must be a day, such as 2026-07-10")
	}
	if day.After(e.Now) || day.Before(e.Now.AddDate(-1, 0, 0)) {
		return "", quantity.Refuse("cut_on", in.On, "a cut lies between a year ago and today")
	}
	if len([]rune(in.Note)) > 500 {
		return "", quantity.Refuse("note", nil, "a note has at most 500 letters")
	}
	row, err := farm.Find[store.Paddock](e.tx, e.actor.FarmID, "", paddockID)
	if err != nil {
		return "", err
	}
	i, ok := e.ByID[paddockID]
	if !ok {
		return "", quantity.Refuse("paddock_id", nil, "%s is of a way of dividing that does not hold today", row.Name)
	}
	at := day.Add(12 * time.Hour)
	if at.After(e.Now) {
		at = e.Now
	}
	sward := e.Paddocks[i].Sward
	mass := sward.Residual
	if in.HeightLeft != nil {
		mass = forage.HeightMass(*in.HeightLeft, sward.StopHeight, sward.Residual, sward.MassPerCm.Medium)
	}
	kg, err := in.harvest()
	if err != nil {
		return "", err
	}
	area := e.Paddocks[i].Shape.AreaHa
	cut := area
	if in.AreaHa != nil {
		if cut = *in.AreaHa; cut <= 0 || cut > 1.02*area {
			return "", quantity.Refuse("cut_area_ha", cut, "%s has %s", row.Name, quantity.Said{Value: area, Unit: quantity.Hectare})
		}
	}
	if cut < 0.98*area {
		se, err := season.Of(e.Picture)
		if err != nil {
			return "", err
		}
		mass = forage.Stubble(mass, se.Recount(at).Standing[i].Mass, cut, area)
	}
	left := store.Measurement{FarmID: e.actor.FarmID, ID: farm.NewID(), PaddockID: paddockID, Method: season.CutMethod, ForageMass: mass, HalfWidth: cutError * mass, Note: in.Note,
		MeasuredAt: at.UTC().Truncate(time.Microsecond), RecordedAt: time.Now().UTC().Truncate(time.Microsecond), RecordedBy: e.actor.UserID}
	left.Figures.V, left.Readings.V = map[string]float64{}, []float64{}
	if err := e.Create(&left); err != nil {
		return "", err
	}
	if err := e.Create(&store.Cut{FarmID: e.actor.FarmID, ID: in.ID, MeasurementID: left.ID, PaddockID: paddockID, CutOn: store.Day(in.On), AreaHa: cut, Bales: in.Count, BaleKg: in.Kg, DryShare: in.DryShare,
		KgDM: kg, Note: in.Note, RecordedAt: left.RecordedAt, RecordedBy: e.actor.UserID}); err != nil {
		return "", err
	}
	if row.ClosedFor != "" {
		row.ClosedFor = ""
		if err := e.Save(&row); err != nil {
			return "", err
		}
	}
	return "cut of " + row.Name, nil
}
