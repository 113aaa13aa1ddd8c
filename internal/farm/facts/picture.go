package facts

import (
	"database/sql"
	"fmt"
	"slices"
	"time"

	"gorm.io/gorm"

	"fjell/core/forage"
	"fjell/core/grazing"
	"fjell/core/land"
	"fjell/core/reference"
	"fjell/core/stock"
	"fjell/core/weather"
	"fjell/internal/store"
)

// Picture is everything a farm has on record that bears on its present season, put together so that core can work
// on it. Every place is drawn from one.
type Picture struct {
	Row           store.Farm
	Location      *time.Location
	Now           time.Time
	Plane         land.Plane
	Fields        []Field
	Paddocks      []Paddock
	Mobs          []Mob
	Gone          []Mob // taken off the farm, but what they did bears on the present
	OwnClasses    []store.OwnClass
	OwnSwards     []store.OwnSward
	Groups        []store.StockGroup
	Events        []store.StockEvent // standing ones
	Herd          *stock.Herd
	Measured      []store.Measurement // standing ones, oldest first, without their readings
	GateCalls     []store.GateCall    // of the last weeks, oldest first
	Moves         []store.Move        // standing ones, oldest first
	Plan          *Plan
	Weather       *weather.Known  // nil: nobody wrote any down
	Climate       weather.Climate // what is ordinary here
	NormalsFrom   string          // typed, records or estimated
	WeatherFrom   map[int]string
	Lines         []store.Calibration
	Marks         []store.Mark
	Conditions    []store.Condition // that hold, as somebody said
	Jobs          []store.Job       // that are open, the most urgent first
	LooksAgain    []store.Look      // that want somebody to look again
	Tallies       []store.Tally     // of the last months
	Untrained     []store.Training  // classes that do not know electric fence yet
	Treatments    []store.Treatment // that withhold, or did lately
	Closures      []store.Closure   // that hold, will, or did lately
	Cuts          []store.Cut       // standing ones, oldest first
	Fodder        []store.Fodder    // standing ones, oldest first
	Dressings     []store.Dressing  // of the last year, oldest first
	Landless      bool              // the farm has no field at all
	Names         map[string]string // names of every paddock ever, by id
	ByID          map[string]int    // index of present paddocks
	MeasurementAt map[string]int    // index of measurements by id
	Misfits       []Misfit
}

// Field is a field with what is drawn on it.
type Field struct {
	store.Field
	Shape      store.FieldShape
	Region     land.Region // its ground on the farm's plane
	Bounds     land.Bounds
	Exclusions []store.Exclusion
	Zones      []store.Zone
	Layout     store.Layout       // the one that holds today
	Layouts    []store.Layout     // all that are kept
	Spans      []store.LayoutSpan // when they hold, oldest first
}

// Paddock is one of the layouts that hold, with its outline on the farm's plane.
type Paddock struct {
	store.Paddock
	FieldID string
	Shape   store.PaddockShape
	Sward   reference.Sward
	Region  land.Region
	Centre  land.Point
}

// Mob is a mob with the fields it may graze; none named: all.
type Mob struct {
	store.Mob
	Fields map[string]bool
}

// Plan is the present plan with its mobs and pins.
type Plan struct {
	store.Plan
	Mobs     []store.PlanMob
	Pins     []store.Pin
	Search   *store.Search // the one that is followed; nil: none was made
	Accepted *time.Time    // when somebody last accepted it
}

// PictureAt is the picture at a moment, over one connection. day is the one whose layouts are taken, if it is not the
// moment's own: what stood before a layout began to hold is seen with the layouts of the day before. With a box, only
// fields that meet it are loaded. Parts that were not written since an earlier picture of the same day are taken from it.
func PictureAt(tx *gorm.DB, row store.Farm, now time.Time, day store.Day, box *land.Box, before *Picture) (*Picture, error) {
	p := &Picture{Row: row, Now: now, Names: map[string]string{}, ByID: map[string]int{}}
	var err error
	if p.Location, err = time.LoadLocation(row.TimeZone); err != nil {
		p.Location = time.UTC // a zone that this machine has never heard of must not shut the farm
	}
	p.Plane = land.NewPlane(land.Position{row.Longitude, row.Latitude})
	if day == "" {
		day = store.DayOf(now, p.Location)
	}
	same := func(parts ...store.Part) bool {
		for _, part := range parts {
			if before == nil || box != nil || before.Row.Parts.V[part] != row.Parts.V[part] {
				return false
			}
		}
		return true
	}
	for _, part := range []struct {
		same bool
		load func() error
		take func()
	}{
		{same(store.LandPart), func() error { return p.loadLand(tx, row.ID, day, box) }, func() {
			p.Fields, p.Paddocks, p.OwnSwards, p.Landless, p.Names, p.ByID = before.Fields, before.Paddocks, before.OwnSwards, before.Landless, before.Names, before.ByID
		}},
		{same(store.MarksPart), func() error { return p.loadMarks(tx, row.ID) }, func() { p.Marks = before.Marks }},
		{same(store.WalksPart), func() error { return p.loadWalks(tx, row.ID) }, func() {
			p.Measured, p.MeasurementAt, p.GateCalls = before.Measured, before.MeasurementAt, before.GateCalls
		}},
		{same(store.MovesPart), func() error { return p.loadMoves(tx, row.ID) }, func() { p.Moves = before.Moves }},
		{same(store.StockPart), func() error { return p.loadStock(tx, row.ID) }, func() { p.Mobs, p.Gone = before.Mobs, before.Gone }},
		{same(store.PlanPart), func() error { return p.loadPlan(tx, row.ID) }, func() { p.Plan = before.Plan }},
		{same(store.PlanPart, store.PinsPart), func() error { return p.loadPins(tx, row.ID) }, func() {}}, // they come with the plan
		{same(store.HerdPart), func() error { return p.loadHerd(tx, row.ID) }, func() {
			p.OwnClasses, p.Groups, p.Events = before.OwnClasses, before.Groups, before.Events
		}},
		{same(store.LinesPart), func() error { return p.loadLines(tx, row.ID) }, func() { p.Lines = before.Lines }},
		{same(store.WeatherPart), func() error { return p.loadWeather(tx, row.ID) }, func() {
			p.Weather, p.WeatherFrom, p.Climate, p.NormalsFrom = before.Weather, before.WeatherFrom, before.Climate, before.NormalsFrom
		}},
		{same(store.WatchPart), func() error { return p.loadWatch(tx, row.ID) }, func() {
			p.Conditions, p.Jobs, p.LooksAgain, p.Tallies, p.Untrained = before.Conditions, before.Jobs, before.LooksAgain, before.Tallies, before.Untrained
		}},
		{same(store.HeldPart), func() error { return p.loadTreatments(tx, row.ID) }, func() { p.Treatments = before.Treatments }},
		{same(store.HayPart, store.WalksPart), func() error { return p.loadHay(tx, row.ID) }, func() {
			p.Closures, p.Cuts, p.Fodder, p.Dressings = before.Closures, before.Cuts, before.Fodder, before.Dressings
		}},
	} {
		if part.same {
			part.take()
			continue
		}
		if err := part.load(); err != nil {
			return nil, err
		}
	}
	// The books rest on the mobs, too, and on since when they have been moved.
	if same(store.HerdPart, store.StockPart, store.MovesPart) {
		p.Herd, p.Misfits = before.Herd, before.Misfits
	} else {
		p.Herd, p.Misfits = p.books(p.Events)
	}
	return p, nil
}

func (p *Picture) loadMarks(tx *gorm.DB, farmID string) error {
	if err := tx.Order("kind, name, id").Find(&p.Marks, "farm_id = ?", farmID).Error; err != nil {
		return fmt.Errorf("load marks: %w", err)
	}
	return nil
}

func (p *Picture) loadLines(tx *gorm.DB, farmID string) error {
	if err := tx.Order("made_on, created_at, id").Find(&p.Lines, "farm_id = ?", farmID).Error; err != nil {
		return fmt.Errorf("load calibrations: %w", err)
	}
	return nil
}

// Misfit is something on record that cannot be, left out of what is worked out until somebody puts it right.
type Misfit struct {
	ID   string // of the record
	What string
	Why  string
}

func (p *Picture) loadStock(tx *gorm.DB, farmID string) error {
	var mobs []store.Mob
	var grounds []store.MobField
	if err := tx.Order("name, id").Find(&mobs, "farm_id = ? AND (removed_at IS NULL OR removed_at > ?)", farmID, p.recordsSince()).Error; err != nil {
		return fmt.Errorf("load mobs: %w", err)
	}
	if err := tx.Find(&grounds, "farm_id = ?", farmID).Error; err != nil {
		return fmt.Errorf("load ground: %w", err)
	}
	for _, m := range mobs {
		rec := Mob{Mob: m, Fields: map[string]bool{}}
		for _, g := range grounds {
			if g.MobID == m.ID {
				rec.Fields[g.FieldID] = true
			}
		}
		if m.RemovedAt == nil {
			p.Mobs = append(p.Mobs, rec)
		} else {
			p.Gone = append(p.Gone, rec)
		}
	}
	return nil
}

func (p *Picture) loadPlan(tx *gorm.DB, farmID string) error {
	var plans []struct {
		store.Plan
		AcceptedAt *time.Time
	}
	if err := tx.Table("plans").Select("plans.*, (SELECT MAX(accepted_at) FROM accepted_plans a WHERE a.farm_id = plans.farm_id AND a.plan_id = plans.id) AS accepted_at").
		Order("seq DESC").Limit(1).Find(&plans, "farm_id = ? AND ended_at IS NULL", farmID).Error; err != nil {
		return fmt.Errorf("load plan: %w", err)
	}
	if len(plans) == 0 {
		return nil
	}
	p.Plan = &Plan{Plan: plans[0].Plan, Accepted: plans[0].AcceptedAt}
	if err := tx.Find(&p.Plan.Mobs, "farm_id = ? AND plan_id = ?", farmID, p.Plan.ID).Error; err != nil {
		return fmt.Errorf("load plan: %w", err)
	}
	var searches []store.Search
	if err := tx.Order("seq DESC").Limit(1).Find(&searches, "farm_id = ? AND plan_id = ? AND ended_at IS NULL", farmID, p.Plan.ID).Error; err != nil {
		return fmt.Errorf("load search: %w", err)
	}
	if len(searches) > 0 {
		p.Plan.Search = &searches[0]
	}
	return nil
}

// loadPins reads the pins of the present plan, into a copy of it where it is shared with an earlier picture.
func (p *Picture) loadPins(tx *gorm.DB, farmID string) error {
	if p.Plan == nil {
		return nil
	}
	plan := *p.Plan
	plan.Pins = nil
	if err := tx.Order("enter_at, id").Find(&plan.Pins, "farm_id = ? AND plan_id = ? AND ended_at IS NULL", farmID, plan.ID).Error; err != nil {
		return fmt.Errorf("load pins: %w", err)
	}
	p.Plan = &plan
	return nil
}

// School is the one a mob is grazed by: the present plan's copy, or the usual one.
func (p *Picture) School(mobID string) grazing.School {
	if p.Plan != nil {
		for _, m := range p.Plan.Mobs {
			if m.MobID == mobID {
				return m.School.V
			}
		}
	}
	return grazing.UsualFor(p.mostOf(mobID), p.Row.Aims.V, p.prone(mobID))
}

// prone tells whether a class that worms are hard on is in a mob.
func (p *Picture) prone(mobID string) bool {
	for _, c := range p.Classes(mobID) {
		if ref, err := p.Class("", c.ReferenceID); err == nil && ref.ParasiteProne {
			return true
		}
	}
	return false
}

// mostOf is the sward of which a mob has most ground.
func (p *Picture) mostOf(mobID string) reference.Sward {
	area, most := map[string]float64{}, reference.Sward{}
	for _, m := range p.Mobs {
		if m.ID != mobID {
			continue
		}
		for _, pad := range p.Paddocks {
			if !m.Grazes(pad.FieldID) || pad.Purpose != "grazing" {
				continue
			}
			if area[pad.Sward.ID] += pad.Shape.AreaHa; most.ID == "" || area[pad.Sward.ID] > area[most.ID] {
				most = pad.Sward
			}
		}
	}
	return most
}

// Planned tells whether the present plan says how a mob is grazed.
func (p *Picture) Planned(mobID string) bool {
	return p.Plan != nil && slices.ContainsFunc(p.Plan.Mobs, func(m store.PlanMob) bool { return m.MobID == mobID })
}

// Follows is the mob whose paddocks one gets, by the present plan, when that goes on; empty where it goes its own way, or the other is gone.
func (p *Picture) Follows(mobID string) string {
	if p.Plan == nil {
		return ""
	}
	for _, m := range p.Plan.Mobs {
		if m.MobID == mobID && m.Follows != nil && slices.ContainsFunc(p.Mobs, func(o Mob) bool { return o.ID == *m.Follows }) {
			return *m.Follows
		}
	}
	return ""
}

// recordsSince is how far back what happened bears on the present.
func (p *Picture) recordsSince() time.Time { return p.Now.AddDate(-1, -2, 0) }

// loadWalks reads what was measured, by hand and without its readings: it is the longest list a farm has.
func (p *Picture) loadWalks(tx *gorm.DB, farmID string) error {
	replaced := map[string]bool{}
	var measured []store.Measurement
	err := eachRow(tx.Model(&store.Measurement{}).Order("measured_at, id").Where("farm_id = ? AND measured_at > ?", farmID, p.recordsSince()).
		Select("id", "paddock_id", "method", "guess", "forage_mass", "half_width", "shared_error", "sampling_error", "calibration_id", "note", "measured_at", "recorded_by", "replaces_id", "withdrawn", "answer",
			"JSON_LENGTH(readings)"),
		func(rows *sql.Rows) error {
			m := store.Measurement{FarmID: farmID}
			var n int
			if err := rows.Scan(&m.ID, &m.PaddockID, &m.Method, &m.Guess, &m.ForageMass, &m.HalfWidth, &m.SharedError, &m.SamplingError, &m.CalibrationID, &m.Note, &m.MeasuredAt, &m.RecordedBy, &m.ReplacesID, &m.Withdrawn,
				&m.Answer, &n); err != nil {
				return err
			}
			m.ReadingCount = n
			if m.ReplacesID != nil {
				replaced[*m.ReplacesID] = true
			}
			measured = append(measured, m)
			return nil
		})
	if err != nil {
		return fmt.Errorf("load measurements: %w", err)
	}
	p.MeasurementAt = make(map[string]int, len(measured))
	for _, m := range measured {
		if !replaced[m.ID] && !m.Withdrawn {
			p.MeasurementAt[m.ID] = len(p.Measured)
			p.Measured = append(p.Measured, m)
		}
	}
	var calls []store.GateCall
	if err := tx.Order("seen_at, id").Find(&calls, "farm_id = ? AND seen_at > ?", farmID, p.Now.AddDate(0, 0, -callsKept)).Error; err != nil {
		return fmt.Errorf("load gate calls: %w", err)
	}
	for _, c := range calls {
		if _, stands := p.MeasurementAt[c.ID]; stands { // with its figure taken back, so is the call
			p.GateCalls = append(p.GateCalls, c)
		}
	}
	return nil
}

// callsKept is for how many days what was decided at a gate is told.
const callsKept = 30

func (p *Picture) loadMoves(tx *gorm.DB, farmID string) error {
	replaced := map[string]bool{}
	var moves []store.Move
	err := eachRow(tx.Model(&store.Move{}).Order("moved_at, id").Where("farm_id = ? AND moved_at > ?", farmID, p.recordsSince()).
		Select("id", "mob_id", "from_paddock_id", "to_paddock_id", "moved_at", "left_height_cm", "left_mass", "left_half_width", "counted", "source_kv", "end_kv", "drink_seen", "note", "replaces_id", "withdrawn"),
		func(rows *sql.Rows) error {
			m := store.Move{FarmID: farmID}
			if err := rows.Scan(&m.ID, &m.MobID, &m.FromPaddockID, &m.ToPaddockID, &m.MovedAt, &m.LeftHeightCm, &m.LeftMass, &m.LeftHalfWidth, &m.Counted, &m.SourceKV, &m.EndKV, &m.DrinkSeen, &m.Note, &m.ReplacesID, &m.Withdrawn); err != nil {
				return err
			}
			if m.ReplacesID != nil {
				replaced[*m.ReplacesID] = true
			}
			moves = append(moves, m)
			return nil
		})
	if err != nil {
		return fmt.Errorf("load moves: %w", err)
	}
	// Where they came from is where the move before led, whichever was written down first; of the first that is loaded only its row says so.
	was := map[string]*string{}
	for _, m := range moves {
		if replaced[m.ID] || m.Withdrawn {
			continue
		}
		if from, known := was[m.MobID]; known {
			m.FromPaddockID = from
		}
		was[m.MobID] = m.ToPaddockID
		p.Moves = append(p.Moves, m)
	}
	return nil
}

// eachRow hands over the rows of a query one by one.
func eachRow(query *gorm.DB, take func(*sql.Rows) error) error {
	rows, err := query.Rows()
	if err != nil {
		return err
	}
	defer func() { _ = rows.Close() }()
	for rows.Next() {
		if err := take(rows); err != nil {
			return err
		}
	}
	return rows.Err()
}

// Grazes tells whether a mob may go into a field.
func (m Mob) Grazes(fieldID string) bool { return len(m.Fields) == 0 || m.Fields[fieldID] }

// CurveOf is the growth curve of a sward on this farm, by its id: the one the farm chose for its climate, or the sward's usual
// one; and the months it is put later by.
func (p *Picture) CurveOf(sward reference.Sward) (id string, later int) {
	if own := p.Row.Curves.V[sward.ID]; own != "" {
		return own, p.Row.CurveMonths.V[sward.ID]
	}
	return sward.GrowthCurve, p.Row.CurveMonths.V[sward.ID]
}

// Curve is the growth curve of a sward as it runs on this farm, and the share of its yield that the sward gives on it.
func (p *Picture) Curve(sward reference.Sward) (curve forage.Curve, yield float64, err error) {
	lib := reference.Load()
	usual, err := lib.Curve(sward.GrowthCurve)
	if err != nil {
		return curve, 0, err
	}
	id, later := p.CurveOf(sward)
	if curve, err = lib.Curve(id); err != nil {
		return curve, 0, err
	}
	return curve.Shifted(later), sward.YieldOn(curve, usual) * 1000, nil
}

// MobName is the name of a mob; empty where it is not there any more.
func (p *Picture) MobName(id string) string {
	for _, m := range p.Mobs {
		if m.ID == id {
			return m.Name
		}
	}
	return ""
}
