package ground

import (
	"context"
	"fmt"
	"math"
	"time"

	"fjell/core/grazing"
	"fjell/core/land"
	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// Standing says in which part of a division a mob stands.
type Standing struct {
	MobID string `json:"mob_id"`
	Part  int    `json:"part"`
}

// AcceptDivision keeps a division as a layout of its field.
type AcceptDivision struct {
	ID     string   `json:"id"`
	Name   string   `json:"name"`
	Names  []string `json:"names" nullable:"false"`
	Pieces bool     `json:"take_pieces,omitempty"`
	DivideInput
	Temporary bool       `json:"temporary,omitempty"`
	Shelve    bool       `json:"shelve,omitempty" doc:"keep it without using it yet"`
	From      string     `json:"from,omitempty" doc:"day it holds from; empty: today"`
	Until     string     `json:"until,omitempty" doc:"day it no longer holds; empty: on and on"`
	Standing  []Standing `json:"standing,omitempty"`
}

// newPaddock is a paddock to be laid down.
type newPaddock struct {
	name   string
	region land.Region
}

// AcceptDivision keeps a division under a name and, unless it is shelved, uses it: what stands passes to the new
// paddocks by area, rest is the shortest of the parts, and stock that stand in the field go where the person says.
func (s *Service) AcceptDivision(ctx context.Context, a farm.Actor, fieldID string, in AcceptDivision) (FieldView, error) {
	var err error
	if in.Name, err = farm.CheckName("name", in.Name); err != nil {
		return FieldView{}, err
	}
	if err := farm.CheckID("id", in.ID); err != nil {
		return FieldView{}, err
	}
	err = s.edit(ctx, a, in.ID, "division", []any{fieldID, in}, func(e *edit) (string, error) {
		w, err := benchFor(e.Picture, fieldID, &in.DivideInput)
		if err != nil {
			return "", err
		}
		d, err := w.divide(in.DivideInput)
		if err != nil {
			return "", err
		}
		if !d.Whole && !in.Pieces {
			return "", quantity.Refuse("direction_degrees", in.Direction, "a paddock would lie in several pieces: turn the fences, or say that you want it so")
		}
		v, err := w.view(in.DivideInput, d)
		if err != nil {
			return "", err
		}
		if !v.Figures.Fits {
			return "", quantity.Refuse("rest_days", in.Rest, "%s", v.Figures.Why.Plain())
		}
		var parts []newPaddock
		for i, part := range d.Parts {
			pad := newPaddock{fmt.Sprintf("%s %d", w.field.Name, i+1), part.Region}
			if i < len(in.Names) {
				if pad.name, err = farm.CheckName(fmt.Sprintf("names[%d]", i), in.Names[i]); err != nil {
					return "", err
				}
			}
			parts = append(parts, pad)
		}
		layout := store.Layout{FarmID: a.FarmID, ID: in.ID, FieldID: fieldID, Name: in.Name, Temporary: in.Temporary, Version: 1}
		switch in.Intent {
		case "area", "lane", "water":
			layout.Intent = "area"
		case "feed":
			layout.Intent = "feed"
		}
		if in.Basis == "usual" && layout.Intent == "area" && in.Intent != "area" {
			layout.Intent = "feed"
		}
		if err := e.layDown(w.Season, layout, parts); err != nil {
			return "", err
		}
		label := fmt.Sprintf("%s: “%s”", w.field.Name, in.Name)
		if in.Shelve {
			return label, nil
		}
		return label, e.use(w.Season, w.field, layout.ID, in.From, in.Until, in.Standing)
	})
	return farm.After(err, func() (FieldView, error) { return s.field(ctx, a, fieldID) })
}

// layDown writes a layout with its paddocks. They take the facts of the ground they lie on.
func (e *edit) layDown(se *season.Season, layout store.Layout, parts []newPaddock) error {
	for _, other := range fieldAt(se.Picture, layout.FieldID).Layouts {
		if other.Name == layout.Name {
			// A layout that was kept under this name makes room: its records stay with it.
			other.RemovedAt = e.moment()
			if err := e.Save(&other); err != nil {
				return err
			}
		}
	}
	if err := e.Create(&layout); err != nil {
		return err
	}
	field := fieldAt(se.Picture, layout.FieldID)
	for i, part := range parts {
		row := store.Paddock{FarmID: layout.FarmID, ID: farm.NewID(), LayoutID: layout.ID, Name: part.name, Position: i, SwardID: field.SwardID,
			GrowthFactor: 1, Purpose: "grazing", Limits: store.JSON[[]store.PaddockLimit]{V: []store.PaddockLimit{}}, Version: 1}
		under, err := under(se.Picture, part.region)
		if err != nil {
			return err
		}
		inherit(se, &row, under)
		if err := e.Create(&row, e.outline(row.ID, part.region)); err != nil {
			return err
		}
	}
	return nil
}

func (e *edit) moment() *time.Time {
	at := e.Now.UTC().Truncate(time.Microsecond)
	return &at
}

func (e *edit) today() store.Day { return store.DayOf(e.Now, e.Location) }

func (e *edit) outline(paddockID string, region land.Region) *store.PaddockShape {
	return &store.PaddockShape{FarmID: e.actor.FarmID, ID: farm.NewID(), PaddockID: paddockID, ValidFrom: e.today(),
		Shape: store.Geometry{Shape: e.Plane.Unproject(region)}, AreaHa: region.AreaHa(), FenceM: region.FenceM()}
}

// fieldAt is a field by its id; the zero record where there is none.
func fieldAt(p *facts.Picture, id string) facts.Field {
	for _, f := range p.Fields {
		if f.ID == id {
			return f
		}
	}
	return facts.Field{}
}

// UseLayout says from which day, and until which, a kept layout holds.
type UseLayout struct {
	From     string     `json:"from,omitempty"`
	Until    string     `json:"until,omitempty"`
	Standing []Standing `json:"standing,omitempty"`
}

// UseLayout puts a kept layout to use for some days, or from a day on.
func (s *Service) UseLayout(ctx context.Context, a farm.Actor, fieldID, layoutID string, version int, in UseLayout) (FieldView, error) {
	err := s.edit(ctx, a, "", "use layout", []any{fieldID, layoutID, version, in}, func(e *edit) (string, error) {
		f, err := fieldByID(e.Picture, "", fieldID)
		if err != nil {
			return "", err
		}
		layout, ok := kept(f, layoutID)
		if !ok {
			return "", farm.ErrNotFound
		}
		if layout.Version != version {
			return "", &farm.Changed{Yours: version, Stored: layout.Version, Record: layoutNamed(layout, f)}
		}
		if err := e.Save(&layout); err != nil { // its days are part of it
			return "", err
		}
		se, err := season.Of(e.Picture)
		if err != nil {
			return "", err
		}
		return fmt.Sprintf("%s: use “%s”", f.Name, layout.Name), e.use(se, f, layoutID, in.From, in.Until, in.Standing)
	})
	return farm.After(err, func() (FieldView, error) { return s.field(ctx, a, fieldID) })
}

func kept(f facts.Field, layoutID string) (store.Layout, bool) {
	for _, l := range f.Layouts {
		if l.ID == layoutID {
			return l, true
		}
	}
	return store.Layout{}, false
}

// use makes room for a span among those of its field, and hands the ground over when it begins today.
func (e *edit) use(se *season.Season, f facts.Field, layoutID, from, until string, standing []Standing) error {
	today := e.today()
	span := store.LayoutSpan{FarmID: e.actor.FarmID, ID: farm.NewID(), FieldID: f.ID, LayoutID: layoutID, HoldsFrom: today}
	if from != "" {
		if _, err := time.Parse(time.DateOnly, from); err != nil || store.Day(from) < today {
			return quantity.Refuse("from", from, "a layout begins today (%s) or on a day to come", today)
		}
		span.HoldsFrom = store.Day(from)
	}
	if until != "" {
		if _, err := time.Parse(time.DateOnly, until); err != nil || store.Day(until) <= span.HoldsFrom {
			return quantity.Refuse("until", until, "a layout ends after the day it begins (%s)", span.HoldsFrom)
		}
		end := store.Day(until)
		span.HoldsUntil = &end
	}
	for _, old := range f.Spans {
		if err := e.cutSpan(old, span); err != nil {
			return err
		}
	}
	if span.HoldsFrom > today {
		return e.Create(&span)
	}
	span.Carried = true
	if err := e.Create(&span); err != nil {
		return err
	}
	if f.Layout.ID == layoutID {
		return nil
	}
	past := se.Past()
	return e.handOver(se, past.Standing, f, layoutID, e.Now, standing, true)
}

// cutSpan shortens, splits or drops a span so that another fits in.
func (e *edit) cutSpan(old, fresh store.LayoutSpan) error {
	endsAfter := func(a, b *store.Day) bool { return b != nil && (a == nil || *a > *b) }
	if old.HoldsUntil != nil && *old.HoldsUntil <= fresh.HoldsFrom || fresh.HoldsUntil != nil && old.HoldsFrom >= *fresh.HoldsUntil {
		return nil
	}
	if endsAfter(old.HoldsUntil, fresh.HoldsUntil) {
		rest := old
		rest.ID, rest.HoldsFrom, rest.Carried = farm.NewID(), *fresh.HoldsUntil, false
		if err := e.Create(&rest); err != nil {
			return err
		}
	}
	if old.HoldsFrom >= fresh.HoldsFrom {
		return e.Remove(&old)
	}
	end := fresh.HoldsFrom
	old.HoldsUntil = &end
	return e.Save(&old)
}

// LayoutView is one way a field is divided, with what it costs and gives.
type LayoutView struct {
	ID        string                `json:"id"`
	Name      string                `json:"name"`
	Version   int                   `json:"version"`
	Temporary bool                  `json:"temporary"`
	Holds     bool                  `json:"holds" doc:"it holds today"`
	Spans     []SpanView            `json:"spans" nullable:"false"`
	Paddocks  []LayoutPaddock       `json:"paddocks" nullable:"false"`
	Figures   grazing.LayoutFigures `json:"figures"`
	Dry       int                   `json:"dry"`
}

// layoutNamed is a layout without what its paddocks come to: what somebody else may have changed of it.
func layoutNamed(l store.Layout, f facts.Field) LayoutView {
	return LayoutView{ID: l.ID, Name: l.Name, Version: l.Version, Temporary: l.Temporary, Holds: f.Layout.ID == l.ID, Spans: []SpanView{}, Paddocks: []LayoutPaddock{}}
}

// SpanView is days a layout holds.
type SpanView struct {
	From  string `json:"from"`
	Until string `json:"until"`
}

// LayoutPaddock is a paddock of a layout.
type LayoutPaddock struct {
	Name   string     `json:"name"`
	Shape  land.Shape `json:"shape" nullable:"false"`
	AreaHa float64    `json:"area_ha"`
}

// Layouts compares the ways a field is divided, side by side.
func (s *Service) Layouts(ctx context.Context, a farm.Actor, fieldID, mobID string, stay, rest float64) ([]LayoutView, error) {
	p, err := s.Picture(ctx, a)
	if err != nil {
		return nil, err
	}
	in := DivideInput{Parts: 1, MobID: mobID, Stay: stay, Rest: rest}
	w, err := benchFor(p, fieldID, &in)
	if err != nil {
		return nil, err
	}
	out := []LayoutView{}
	for _, l := range w.field.Layouts {
		v, err := s.layout(ctx, a, w, l, in)
		if err != nil {
			return nil, err
		}
		out = append(out, v)
	}
	return out, nil
}

func (s *Service) layout(ctx context.Context, a farm.Actor, w *workbench, l store.Layout, in DivideInput) (LayoutView, error) {
	out := LayoutView{ID: l.ID, Name: l.Name, Version: l.Version, Temporary: l.Temporary, Holds: w.field.Layout.ID == l.ID, Spans: []SpanView{}, Paddocks: []LayoutPaddock{}}
	for _, sp := range w.field.Spans {
		if sp.LayoutID == l.ID && (sp.HoldsUntil == nil || *sp.HoldsUntil > store.DayOf(w.Now, w.Location)) {
			v := SpanView{From: string(sp.HoldsFrom)}
			if sp.HoldsUntil != nil {
				v.Until = string(*sp.HoldsUntil)
			}
			out.Spans = append(out.Spans, v)
		}
	}
	rows, shapes, err := keptPaddocks(s.DB.WithContext(ctx), a.FarmID, l.ID)
	if err != nil {
		return out, err
	}
	d := land.Division{Whole: true}
	fence := 0.0
	for _, row := range rows {
		shape := shapes[row.ID]
		d.Parts = append(d.Parts, land.Part{Region: w.Plane.Project(shape.Shape.Shape), AreaHa: shape.AreaHa, FenceM: shape.FenceM, Pieces: 1})
		fence += shape.FenceM
		out.Paddocks = append(out.Paddocks, LayoutPaddock{row.Name, shape.Shape.Shape, shape.AreaHa})
	}
	// Each fence inside the field stands on two paddocks' boundaries, the field's own on one.
	d.NewFenceM = math.Max(0, (fence-w.ground.FenceM())/2)
	v, err := w.view(in, d)
	out.Figures, out.Dry = v.Figures, v.Dry
	return out, err
}

// RenameLayout gives a kept layout another name.
func (s *Service) RenameLayout(ctx context.Context, a farm.Actor, fieldID, layoutID string, version int, newName string) (FieldView, error) {
	newName, err := farm.CheckName("name", newName)
	if err != nil {
		return FieldView{}, err
	}
	return s.changeLayout(ctx, a, fieldID, layoutID, "layout called "+newName, version, func(f facts.Field, l *store.Layout, e *edit) (string, error) {
		label := fmt.Sprintf("%s: “%s” is “%s”", f.Name, l.Name, newName)
		l.Name = newName
		return label, nil
	})
}

// RemoveLayout takes a layout that does not hold off the list. The records of its paddocks stay.
func (s *Service) RemoveLayout(ctx context.Context, a farm.Actor, fieldID, layoutID string, version int) (FieldView, error) {
	return s.changeLayout(ctx, a, fieldID, layoutID, "remove layout", version, func(f facts.Field, l *store.Layout, e *edit) (string, error) {
		if f.Layout.ID == layoutID {
			return "", quantity.Refuse("layout", nil, "“%s” holds today: use another layout first", l.Name)
		}
		for _, sp := range f.Spans {
			if sp.LayoutID == layoutID && sp.HoldsFrom > e.today() {
				return "", quantity.Refuse("layout", nil, "“%s” is to hold from %s: use another layout for those days first", l.Name, sp.HoldsFrom)
			}
		}
		l.RemovedAt = e.moment()
		return fmt.Sprintf("%s: without “%s”", f.Name, l.Name), nil
	})
}

func (s *Service) changeLayout(ctx context.Context, a farm.Actor, fieldID, layoutID, what string, version int, change func(facts.Field, *store.Layout, *edit) (string, error)) (FieldView, error) {
	err := s.edit(ctx, a, "", what, []any{fieldID, layoutID, version}, func(e *edit) (string, error) {
		f, err := fieldByID(e.Picture, "", fieldID)
		if err != nil {
			return "", err
		}
		l, ok := kept(f, layoutID)
		if !ok {
			return "", farm.ErrNotFound
		}
		if l.Version != version {
			return "", &farm.Changed{Yours: version, Stored: l.Version, Record: layoutNamed(l, f)}
		}
		label, err := change(f, &l, e)
		if err != nil {
			return "", err
		}
		return label, e.Save(&l)
	})
	return farm.After(err, func() (FieldView, error) { return s.field(ctx, a, fieldID) })
}
