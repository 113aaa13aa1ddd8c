package farm

import (
	"database/sql"
	"fmt"
	"math"
	"sort"
	"sync"
	"time"

	"gorm.io/gorm"

	"fjell/core/grazing"
	"fjell/core/land"
	"fjell/core/reference"
	"fjell/core/rotation"
	"fjell/core/stock"
	"fjell/core/weather"
	"fjell/internal/store"
)

// picture is everything a farm has on record that bears on its present season, put together so that core can work
// on it. Every place is drawn from one.
type picture struct {
	row         store.Farm
	loc         *time.Location
	now         time.Time
	plane       land.Plane
	fields      []fieldRecord
	paddocks    []paddockRecord
	mobs        []mobRecord
	ownClasses  []store.OwnClass
	groups      []store.StockGroup
	events      []store.StockEvent // standing ones
	herd        *stock.Herd
	measured    []store.Measurement // standing ones, oldest first, without their readings
	moves       []store.Move        // standing ones, oldest first
	plan        *planRecord
	weather     *weather.Known // nil: nobody wrote any down
	weatherFrom map[int]string
	lines       []store.Calibration
	marks       []store.Mark
	landless    bool              // the farm has no field at all
	names       map[string]string // names of every paddock ever, by id
	byID        map[string]int    // index of present paddocks
	measuredAt  map[string]int    // index of measurements by id
	misfits     []misfit
}

type fieldRecord struct {
	store.Field
	shape      store.FieldShape
	region     land.Region // its ground on the farm's plane
	bounds     land.Bounds
	exclusions []store.Exclusion
	zones      []store.Zone
	layout     store.Layout       // the one that holds today
	layouts    []store.Layout     // all that are kept
	spans      []store.LayoutSpan // when they hold, oldest first
}

type paddockRecord struct {
	store.Paddock
	fieldID string
	shape   store.PaddockShape
	sward   reference.Sward
	region  land.Region
	centre  land.Point
}

type mobRecord struct {
	store.Mob
	fields map[string]bool
}

type planRecord struct {
	store.Plan
	mobs     []store.PlanMob
	pins     []store.Pin
	accepted *time.Time // when somebody last accepted it
}

// pictureAt is the picture at a moment, over one connection. day is the one whose layouts are taken, if it is not the
// moment's own: what stood before a layout began to hold is seen with the layouts of the day before. With a box, only
// fields that meet it are loaded. Parts that were not written since an earlier picture of the same day are taken from it.
func pictureAt(tx *gorm.DB, row store.Farm, now time.Time, day store.Day, box *land.Box, before *picture) (*picture, error) {
	p := &picture{row: row, now: now, names: map[string]string{}, byID: map[string]int{}}
	var err error
	if p.loc, err = time.LoadLocation(row.TimeZone); err != nil {
		p.loc = time.UTC // a zone that this machine has never heard of must not shut the farm
	}
	p.plane = land.NewPlane(land.Position{row.Longitude, row.Latitude})
	if day == "" {
		day = store.DayOf(now, p.loc)
	}
	for _, part := range []struct {
		part store.Part
		load func() error
		take func()
	}{
		{store.LandPart, func() error { return p.loadLand(tx, row.ID, day, box) }, func() {
			p.fields, p.paddocks, p.landless, p.names, p.byID = before.fields, before.paddocks, before.landless, before.names, before.byID
		}},
		{store.MarksPart, func() error { return p.loadMarks(tx, row.ID) }, func() { p.marks = before.marks }},
		{store.WalksPart, func() error { return p.loadWalks(tx, row.ID) }, func() { p.measured, p.measuredAt = before.measured, before.measuredAt }},
		{store.MovesPart, func() error { return p.loadMoves(tx, row.ID) }, func() { p.moves = before.moves }},
		{store.StockPart, func() error { return p.loadStock(tx, row.ID) }, func() { p.mobs = before.mobs }},
		{store.PlanPart, func() error { return p.loadPlan(tx, row.ID) }, func() { p.plan = before.plan }},
		{store.HerdPart, func() error { return p.loadHerd(tx, row.ID) }, func() {
			p.ownClasses, p.groups, p.events, p.herd, p.misfits = before.ownClasses, before.groups, before.events, before.herd, before.misfits
		}},
		{store.LinesPart, func() error { return p.loadLines(tx, row.ID) }, func() { p.lines = before.lines }},
		{store.WeatherPart, func() error { return p.loadWeather(tx, row.ID) }, func() { p.weather, p.weatherFrom = before.weather, before.weatherFrom }},
	} {
		if before != nil && box == nil && before.row.Parts.V[part.part] == row.Parts.V[part.part] {
			part.take()
			continue
		}
		if err := part.load(); err != nil {
			return nil, err
		}
	}
	return p, nil
}

func (p *picture) loadMarks(tx *gorm.DB, farmID string) error {
	if err := tx.Order("kind, name, id").Find(&p.marks, "farm_id = ?", farmID).Error; err != nil {
		return fmt.Errorf("load marks: %w", err)
	}
	return nil
}

func (p *picture) loadLines(tx *gorm.DB, farmID string) error {
	if err := tx.Order("made_on, created_at, id").Find(&p.lines, "farm_id = ?", farmID).Error; err != nil {
		return fmt.Errorf("load calibrations: %w", err)
	}
	return nil
}

// misfit is something on record that cannot be, left out of what is worked out until somebody puts it right.
type misfit struct {
	ID   string // of the record
	What string
	Why  string
}

func (p *picture) loadStock(tx *gorm.DB, farmID string) error {
	var mobs []store.Mob
	var grounds []store.MobField
	if err := tx.Order("name, id").Find(&mobs, "farm_id = ? AND removed_at IS NULL", farmID).Error; err != nil {
		return fmt.Errorf("load mobs: %w", err)
	}
	if err := tx.Find(&grounds, "farm_id = ?", farmID).Error; err != nil {
		return fmt.Errorf("load ground: %w", err)
	}
	for _, m := range mobs {
		rec := mobRecord{Mob: m, fields: map[string]bool{}}
		for _, g := range grounds {
			if g.MobID == m.ID {
				rec.fields[g.FieldID] = true
			}
		}
		p.mobs = append(p.mobs, rec)
	}
	return nil
}

func (p *picture) loadPlan(tx *gorm.DB, farmID string) error {
	var plans []struct {
		store.Plan
		AcceptedAt *time.Time
	}
	if err := tx.Table("plans").Select("plans.*, (SELECT MAX(accepted_at) FROM accepted_plans a WHERE a.farm_id = plans.farm_id AND a.plan_id = plans.id) AS accepted_at").
		Order("seq DESC").Limit(1).Find(&plans, "farm_id = ?", farmID).Error; err != nil {
		return fmt.Errorf("load plan: %w", err)
	}
	if len(plans) == 0 {
		return nil
	}
	p.plan = &planRecord{Plan: plans[0].Plan, accepted: plans[0].AcceptedAt}
	if err := tx.Find(&p.plan.mobs, "farm_id = ? AND plan_id = ?", farmID, p.plan.ID).Error; err != nil {
		return fmt.Errorf("load plan: %w", err)
	}
	if err := tx.Order("enter_at, id").Find(&p.plan.pins, "farm_id = ? AND plan_id = ?", farmID, p.plan.ID).Error; err != nil {
		return fmt.Errorf("load pins: %w", err)
	}
	return nil
}

// school is the one a mob is grazed by: the present plan's copy, or the usual one.
func (p *picture) school(mobID string) grazing.School {
	if p.plan != nil {
		for _, m := range p.plan.mobs {
			if m.MobID == mobID {
				return m.School.V
			}
		}
	}
	school, _ := grazing.FindSchool(grazing.LeafResidual)
	return school
}

// recordsSince is how far back what happened bears on the present.
func (p *picture) recordsSince() time.Time { return p.now.AddDate(-1, -2, 0) }

// loadWalks reads what was measured, by hand and without its readings: it is the longest list a farm has.
func (p *picture) loadWalks(tx *gorm.DB, farmID string) error {
	replaced := map[string]bool{}
	var measured []store.Measurement
	err := eachRow(tx.Model(&store.Measurement{}).Order("measured_at, id").Where("farm_id = ? AND measured_at > ?", farmID, p.recordsSince()).
		Select("id", "paddock_id", "method", "guess", "forage_mass", "half_width", "shared_error", "note", "measured_at", "recorded_by", "replaces_id", "withdrawn", "answer",
			"JSON_LENGTH(readings)"),
		func(rows *sql.Rows) error {
			m := store.Measurement{FarmID: farmID}
			var n int
			if err := rows.Scan(&m.ID, &m.PaddockID, &m.Method, &m.Guess, &m.ForageMass, &m.HalfWidth, &m.SharedError, &m.Note, &m.MeasuredAt, &m.RecordedBy, &m.ReplacesID, &m.Withdrawn,
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
	p.measuredAt = make(map[string]int, len(measured))
	for _, m := range measured {
		if !replaced[m.ID] && !m.Withdrawn {
			p.measuredAt[m.ID] = len(p.measured)
			p.measured = append(p.measured, m)
		}
	}
	return nil
}

func (p *picture) loadMoves(tx *gorm.DB, farmID string) error {
	replaced := map[string]bool{}
	var moves []store.Move
	err := eachRow(tx.Model(&store.Move{}).Order("moved_at, id").Where("farm_id = ? AND moved_at > ?", farmID, p.recordsSince()).
		Select("id", "mob_id", "from_paddock_id", "to_paddock_id", "moved_at", "left_height_cm", "left_mass", "left_half_width", "note", "replaces_id", "withdrawn"),
		func(rows *sql.Rows) error {
			m := store.Move{FarmID: farmID}
			if err := rows.Scan(&m.ID, &m.MobID, &m.FromPaddockID, &m.ToPaddockID, &m.MovedAt, &m.LeftHeightCm, &m.LeftMass, &m.LeftHalfWidth, &m.Note, &m.ReplacesID, &m.Withdrawn); err != nil {
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
	for _, m := range moves {
		if !replaced[m.ID] && !m.Withdrawn {
			p.moves = append(p.moves, m)
		}
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

// onlySheep tells whether nothing but sheep goes in a mob.
func (p *picture) onlySheep(mobID string) bool {
	for _, c := range p.classes(mobID) {
		if ref, err := p.class("", c.ReferenceID); err != nil || ref.Species != "sheep" {
			return false
		}
	}
	return true
}

func (m mobRecord) grazes(fieldID string) bool { return len(m.fields) == 0 || m.fields[fieldID] }

// season is the picture as the rotation package works on it.
type season struct {
	*picture
	past     func() rotation.Past // up to now, worked out once
	ahead    func() rotation.Plan
	farm     rotation.Farm
	rotMobs  []rotation.Mob
	mobIndex map[string]int
	guesses  []rotation.Standing
	stays    []rotation.Stay
	facts    []rotation.Measured
	grazed   []bool // paddocks that some mob grazes
}

func (p *picture) season() (*season, error) {
	s := &season{picture: p, mobIndex: map[string]int{}}
	s.past = sync.OnceValue(func() rotation.Past { return s.recount(s.now) })
	s.ahead = sync.OnceValue(func() rotation.Plan { return s.forecast(s.past()) })
	s.farm = rotation.Farm{Location: p.loc, Southern: p.row.Latitude < 0, MoveMinutes: p.row.MoveMinutes.V}
	if p.weather != nil {
		s.farm.Weather = func(at time.Time) float64 { return p.weather.Growth(p.number(at)) }
	}
	lib := reference.Load()
	for _, pad := range p.paddocks {
		curve, err := lib.Curve(p.curveOf(pad.sward))
		if err != nil {
			return nil, err
		}
		s.farm.Paddocks = append(s.farm.Paddocks, rotation.Paddock{ID: pad.ID, Name: pad.Name, AreaHa: pad.shape.AreaHa, X: pad.centre.X, Y: pad.centre.Y,
			Peak: pad.sward.PeakGrowth * pad.GrowthFactor, Ceiling: pad.sward.Ceiling, Curve: curve, Closures: append(pad.closures(p.now, p.loc), p.weatherClosures(pad)...)})
	}
	for i, m := range p.mobs {
		rm := rotation.Mob{ID: m.ID, Name: m.Name, In: rotation.Nowhere}
		rm.Demand = p.mobDemand(m.ID)
		onlySheep, school := p.onlySheep(m.ID), p.school(m.ID)
		for _, pad := range p.paddocks {
			limits, err := school.On(pad.sward)
			if err != nil { // the ground was changed after the plan took its copy of the school: the usual one holds
				usual, _ := grazing.FindSchool(school.Key)
				if limits, err = usual.On(pad.sward); err != nil {
					return nil, err
				}
			}
			rm.Limits = append(rm.Limits, limits)
			rm.Ground = append(rm.Ground, m.grazes(pad.fieldID) && pad.Purpose == "grazing" && (!pad.sheepOnly() || onlySheep))
		}
		s.mobIndex[m.ID] = i
		s.rotMobs = append(s.rotMobs, rm)
	}
	for i := range p.paddocks {
		guess := rotation.Guess(s.limits(i))
		guess.LastLeft = p.paddocks[i].CarriedLeftAt
		if rest := p.paddocks[i].RestFrom; rest != nil {
			if left, err := rest.Time(p.loc); err == nil && (guess.LastLeft == nil || left.After(*guess.LastLeft)) {
				guess.LastLeft = &left
			}
		}
		s.guesses = append(s.guesses, guess)
	}
	s.gatherFacts()
	s.grazed = make([]bool, len(s.paddocks))
	for p := range s.grazed {
		for _, m := range s.rotMobs {
			s.grazed[p] = s.grazed[p] || m.Ground[p]
		}
	}
	s.farm = s.farm.WithAlmanac(s.rotMobs, s.now.AddDate(-1, -3, 0), s.now.AddDate(0, 0, forecastDays+1))
	return s, nil
}

// curveOf is the growth curve of a sward on this farm: the one the farm chose for its climate, or the sward's usual one.
func (p *picture) curveOf(sward reference.Sward) string {
	if own := p.row.Curves.V[sward.ID]; own != "" {
		return own
	}
	return sward.GrowthCurve
}

// limits of a paddock are those of the first mob that grazes it, or of the usual school where none does.
func (s *season) limits(paddock int) grazing.Limits {
	for _, m := range s.rotMobs {
		if m.Ground[paddock] {
			return m.Limits[paddock]
		}
	}
	school, _ := grazing.FindSchool(grazing.StartStop)
	l, _ := school.On(s.paddocks[paddock].sward)
	return l
}

// gatherFacts turns the record of moves into stays, and walks and looks back into measurements.
func (s *season) gatherFacts() {
	open := map[int]int{} // mob → stay
	for _, mv := range s.moves {
		m, ok := s.mobIndex[mv.MobID]
		if !ok {
			continue
		}
		if k, ok := open[m]; ok {
			s.stays[k].Leave = mv.MovedAt
			delete(open, m)
		}
		if mv.FromPaddockID != nil && mv.LeftMass != nil {
			if p, ok := s.byID[*mv.FromPaddockID]; ok {
				hw := *mv.LeftMass * 0.4
				if mv.LeftHalfWidth != nil {
					hw = *mv.LeftHalfWidth
				}
				s.facts = append(s.facts, rotation.Measured{Paddock: p, At: mv.MovedAt, Mass: *mv.LeftMass, HalfWidth: hw, Shared: hw / 2, ID: mv.ID})
			}
		}
		if mv.ToPaddockID == nil {
			continue
		}
		if p, ok := s.byID[*mv.ToPaddockID]; ok {
			open[m] = len(s.stays)
			s.stays = append(s.stays, rotation.Stay{Mob: m, Paddock: p, Enter: mv.MovedAt})
		}
	}
	for m, k := range open {
		s.rotMobs[m].In, s.rotMobs[m].Since = s.stays[k].Paddock, s.stays[k].Enter
	}
	for _, ms := range s.measured {
		if p, ok := s.byID[ms.PaddockID]; ok {
			s.facts = append(s.facts, rotation.Measured{Paddock: p, At: ms.MeasuredAt, Mass: ms.ForageMass, HalfWidth: ms.HalfWidth, Shared: ms.SharedError, ID: ms.ID})
		}
	}
}

// pastDays is how far back masses are worked out.
const pastDays = 56

func (s *season) recount(to time.Time) rotation.Past {
	return rotation.Recount(s.farm, s.rotMobs, s.guesses, s.stays, s.facts, s.now.AddDate(0, 0, -pastDays), to)
}

// forecastDays is how far ahead the ridge looks.
const forecastDays = 84

// forecast schedules from the plan's start, or from now once that is past, to the end of the ridge.
func (s *season) forecast(past rotation.Past, extra ...rotation.Pin) rotation.Plan {
	from := s.planFrom()
	standing := past.Standing
	if from.After(s.now) {
		standing = s.recount(from).Standing
	}
	return rotation.Schedule(s.farm, s.rotMobs, standing, append(s.pins(), extra...), from, s.now.AddDate(0, 0, forecastDays))
}

func (s *season) planFrom() time.Time {
	if s.plan == nil {
		return s.now
	}
	start, err := s.plan.StartsOn.Time(s.loc)
	if err != nil || start.Before(s.now) {
		return s.now
	}
	return start
}

// planEnd is the end of the planned days; past it the forecast goes on by the same scheduler.
func (s *season) planEnd() time.Time {
	if s.plan == nil {
		return s.now
	}
	start, err := s.plan.StartsOn.Time(s.loc)
	if err != nil {
		return s.now
	}
	return start.AddDate(0, 0, s.plan.Days)
}

func (s *season) pins() []rotation.Pin {
	var out []rotation.Pin
	if s.plan == nil {
		return nil
	}
	for _, pin := range s.plan.pins {
		m, okMob := s.mobIndex[pin.MobID]
		p, okPaddock := s.byID[pin.PaddockID]
		if okMob && okPaddock {
			out = append(out, rotationPin(m, p, pin.EnterAt, pin.LeaveAt))
		}
	}
	return out
}

func rotationPin(mob, paddock int, enter time.Time, leave *time.Time) rotation.Pin {
	pin := rotation.Pin{Mob: mob, Paddock: paddock, Enter: enter}
	if leave != nil {
		pin.Leave = *leave
	}
	return pin
}

// inRotation marks the paddocks that some mob grazes.
func (s *season) inRotation() []bool { return s.grazed }

// daysOrNil keeps +Inf, which JSON cannot carry, off the wire.
func daysOrNil(d float64) *float64 {
	if math.IsInf(d, 0) || math.IsNaN(d) || d > 299 {
		return nil
	}
	return &d
}

func sortedKeys(m map[string]bool) []string {
	out := []string{}
	for k := range m {
		out = append(out, k)
	}
	sort.Strings(out)
	return out
}
