package store

import (
	"context"
	"sync"

	"gorm.io/gorm"
)

// Part is records of a farm that are loaded together.
type Part string

// The parts of what a farm has on record.
const (
	LandPart    Part = "land"
	MarksPart   Part = "marks"
	WalksPart   Part = "walks"
	MovesPart   Part = "moves"
	StockPart   Part = "stock"
	PlanPart    Part = "plan"
	PinsPart    Part = "pins"
	HerdPart    Part = "herd"
	LinesPart   Part = "lines"
	WeatherPart Part = "weather"
	WatchPart   Part = "watch" // what people see and say of the day
	HeldPart    Part = "held"  // what was given, and withholds stock or ground
	HayPart     Part = "hay"   // what was closed, cut, dressed and stored
)

// Parts are all of them.
var Parts = []Part{LandPart, MarksPart, WalksPart, MovesPart, StockPart, PlanPart, PinsPart, HerdPart, LinesPart, WeatherPart, WatchPart, HeldPart, HayPart}

// partOf is the part a table belongs to. A farm's own row bears on every part; tables that are not named bear on none.
var partOf = map[string]Part{
	"fields": LandPart, "own_swards": LandPart, "field_shapes": LandPart, "exclusions": LandPart, "zones": LandPart, "layouts": LandPart, "layout_spans": LandPart, "paddocks": LandPart,
	"paddock_shapes": LandPart, "marks": MarksPart, "measurements": WalksPart, "gate_calls": WalksPart, "moves": MovesPart, "mobs": StockPart, "mob_fields": StockPart, "plans": PlanPart,
	"plan_mobs": PlanPart, "pins": PinsPart, "accepted_plans": PlanPart, "searches": PlanPart, "own_classes": HerdPart, "stock_groups": HerdPart, "stock_events": HerdPart, "calibrations": LinesPart, "weather_days": WeatherPart,
	"conditions": WatchPart, "jobs": WatchPart, "looks": WatchPart, "tallies": WatchPart, "trainings": WatchPart, "treatments": HeldPart, "closures": HayPart, "cuts": HayPart, "fodder": HayPart, "dressings": HayPart,
}

// Touched collects which parts statements write to.
type Touched struct {
	mu    sync.Mutex
	parts map[Part]bool
}

type touchedKey struct{}

// WithTouched is a context whose statements say which parts they write to.
func WithTouched(ctx context.Context) (context.Context, *Touched) {
	t := &Touched{parts: map[Part]bool{}}
	return context.WithValue(ctx, touchedKey{}, t), t
}

// List is the parts that were written to.
func (t *Touched) List() []Part {
	t.mu.Lock()
	defer t.mu.Unlock()
	var out []Part
	for _, p := range Parts {
		if t.parts[p] {
			out = append(out, p)
		}
	}
	return out
}

// watch has every statement that writes say so to its context.
func watch(db *gorm.DB) error {
	note := func(tx *gorm.DB) {
		t, ok := tx.Statement.Context.Value(touchedKey{}).(*Touched)
		if !ok {
			return
		}
		t.mu.Lock()
		defer t.mu.Unlock()
		if tx.Statement.Table == "farms" {
			for _, p := range Parts {
				t.parts[p] = true
			}
		}
		if part, ok := partOf[tx.Statement.Table]; ok {
			t.parts[part] = true
		}
	}
	const name = "fjell:touched"
	if err := db.Callback().Create().After("gorm:create").Register(name, note); err != nil {
		return err
	}
	if err := db.Callback().Update().After("gorm:update").Register(name, note); err != nil {
		return err
	}
	return db.Callback().Delete().After("gorm:delete").Register(name, note)
}
