package ground

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"slices"
	"sort"
	"time"

	"gorm.io/gorm"

	"fjell/core/land"
	"fjell/core/quantity"
	"fjell/core/rotation"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// keptPaddocks are the paddocks of a layout, whether it holds or not, with their latest outlines.
func keptPaddocks(tx *gorm.DB, farmID, layoutID string) ([]store.Paddock, map[string]store.PaddockShape, error) {
	var rows []store.Paddock
	if err := tx.Order("position, id").Find(&rows, "farm_id = ? AND layout_id = ? AND ended_on IS NULL", farmID, layoutID).Error; err != nil {
		return nil, nil, fmt.Errorf("paddocks of a layout: %w", err)
	}
	ids := make([]string, len(rows))
	for i, row := range rows {
		ids[i] = row.ID
	}
	var outlines []store.PaddockShape
	if err := tx.Order("valid_from").Find(&outlines, "farm_id = ? AND paddock_id IN ?", farmID, ids).Error; err != nil {
		return nil, nil, fmt.Errorf("outlines of a layout: %w", err)
	}
	latest := map[string]store.PaddockShape{}
	for _, o := range outlines {
		latest[o.PaddockID] = o
	}
	return rows, latest, nil
}

// handOver passes what stands in a field to a layout's paddocks by area; what was guessed stays guessed. Stock that
// stand there go where the person said, or, when nobody could be asked, into the paddock that has most of the ground
// they stood on. Ground that was taken out of the field while the layout was only kept is taken out of it first.
func (e *edit) handOver(se *season.Season, standing []rotation.Standing, f facts.Field, layoutID string, at time.Time, said []Standing, ask bool) error {
	rows, shapes, err := keptPaddocks(e.tx, e.actor.FarmID, layoutID)
	if err != nil {
		return err
	}
	ground, err := grazeable(e.Picture, f)
	if err != nil {
		return err
	}
	regions := make([]land.Region, len(rows))
	for i := range rows {
		shape := shapes[rows[i].ID]
		regions[i] = e.Plane.Project(shape.Shape.Shape)
		if regions[i].Beyond(ground) > keptReachM {
			if regions[i], err = land.Common(regions[i], ground); err != nil || regions[i].AreaHa() < land.LeastAreaHa {
				return quantity.Refuse("layout", nil, "the field has changed since: nothing of %s would be left, divide it anew", rows[i].Name)
			}
			if err := e.reshape(facts.Paddock{Paddock: rows[i], Shape: shape}, regions[i]); err != nil {
				return err
			}
		}
		under, err := under(se.Picture, regions[i])
		if err != nil {
			return err
		}
		measured := carried(se, &rows[i], under, standing, at)
		if err := e.Save(&rows[i]); err != nil {
			return err
		}
		if err := e.passOn(se, rows[i].ID, under, measured); err != nil {
			return err
		}
	}
	where := where(se.Picture)
	part := map[string]int{}
	for _, st := range said {
		part[st.MobID] = st.Part
	}
	mobs := standingIn(se.Picture, f.ID)
	sort.Strings(mobs)
	for _, mobID := range mobs {
		from := where[mobID]
		k, ok := part[mobID]
		if !ok || k < 1 || k > len(rows) {
			if ask {
				return quantity.Refuse("standing", nil, "%s stand in %s: say in which of the new paddocks", se.Mobs[se.MobIndex[mobID]].Name, f.Name)
			}
			most := -1.0
			for i := range regions {
				if common, err := land.OverlapHa(regions[i], se.Paddocks[se.ByID[from]].Region); err == nil && common > most {
					most, k = common, i+1
				}
			}
		}
		if err := e.Create(&store.Move{FarmID: e.actor.FarmID, ID: farm.NewID(), MobID: mobID, FromPaddockID: &from, ToPaddockID: &rows[k-1].ID, MovedAt: at.UTC().Truncate(time.Microsecond),
			Note: dividedNote, RecordedAt: e.Now.UTC().Truncate(time.Microsecond), RecordedBy: e.actor.UserID}); err != nil {
			return err
		}
	}
	return nil
}

// keptReachM is how far a kept layout may lie outside of its field's ground and still count as drawn on it.
const keptReachM = 0.1

// dividedNote marks the moves that a division made by itself.
const dividedNote = "the field was divided"

// layoutsDue tells whether the day of a layout has come that nobody has handed its field over to.
func layoutsDue(p *facts.Picture, today store.Day) bool {
	for _, f := range p.Fields {
		for _, span := range f.Spans {
			if !span.Carried && span.HoldsFrom <= today {
				return true
			}
		}
	}
	return false
}

// turnOver hands fields over to layouts whose day has come.
func (s *Service) turnOver(ctx context.Context, a farm.Actor) error {
	return s.Write(ctx, farm.Actor{FarmID: a.FarmID}, farm.Request{Kind: "layouts take over"}, func(tx *facts.Writing) error {
		loc, err := time.LoadLocation(tx.Farm.TimeZone)
		if err != nil {
			loc = time.UTC
		}
		var spans []store.LayoutSpan
		if err := tx.Order("holds_from, id").Find(&spans, "farm_id = ? AND NOT carried AND holds_from <= ?", a.FarmID, store.DayOf(tx.Now, loc)).Error; err != nil {
			return err
		}
		for _, span := range spans {
			if err := takeOver(tx, a.UserID, span, loc); err != nil {
				return err
			}
		}
		return nil
	})
}

// takeOver hands one field over. Where what stands cannot be passed on, because the ground has changed since, the layout
// holds all the same: nobody may be kept from the farm by a layout of long ago.
func takeOver(tx *facts.Writing, by string, span store.LayoutSpan, loc *time.Location) error {
	if err := tx.Model(&store.LayoutSpan{}).Where("farm_id = ? AND id = ?", tx.Farm.ID, span.ID).Update("carried", true).Error; err != nil {
		return err
	}
	begins, err := span.HoldsFrom.Time(loc)
	if err != nil {
		return nil
	}
	p, err := facts.PictureAt(tx.DB, tx.Farm, begins, store.DayOf(begins.AddDate(0, 0, -1), loc), nil, nil)
	if err != nil {
		return err
	}
	f := fieldAt(p, span.FieldID)
	if f.ID == "" || f.Layout.ID == span.LayoutID {
		return nil
	}
	se, err := season.Of(p)
	if err != nil {
		return err
	}
	const before = "take_over"
	if err := tx.SavePoint(before).Error; err != nil {
		return err
	}
	e := editOf(tx, p, farm.Actor{UserID: by, FarmID: tx.Farm.ID})
	err = e.handOver(se, se.Recount(begins).Standing, f, span.LayoutID, begins, nil, false)
	var refused *quantity.Problem
	if errors.As(err, &refused) {
		slog.WarnContext(tx.Statement.Context, "a layout holds without what stood before", "farm", tx.Farm.ID, "layout", span.LayoutID, "why", refused.Message)
		return tx.RollbackTo(before).Error
	}
	return err
}

// patch is a piece of ground that a new paddock takes over from an old one.
type patch struct {
	paddock int
	ha      float64
}

// under lists the present paddocks beneath a piece of ground.
func under(p *facts.Picture, region land.Region) ([]patch, error) {
	var out []patch
	for i, old := range p.Paddocks {
		if !region.Near(old.Region) {
			continue
		}
		common, err := land.OverlapHa(region, old.Region)
		if err != nil {
			return nil, fmt.Errorf("overlap with %s: %w", old.Name, err)
		}
		if common >= 1e-4 {
			out = append(out, patch{i, common})
		}
	}
	return out, nil
}

// inherit gives a new paddock the facts of the ground it takes over: most of them from the largest patch, productivity
// and legume by area.
func inherit(s *season.Season, row *store.Paddock, under []patch) {
	var area, factor, legume, legumeArea, largest float64
	for _, u := range under {
		old := s.Paddocks[u.paddock]
		if u.ha > largest {
			largest = u.ha
			row.SwardID, row.ClosedFor, row.Purpose, row.Limits = old.SwardID, old.ClosedFor, old.Purpose, old.Limits
			row.SlopeDegrees, row.Wetness, row.Aspect, row.Shade = old.SlopeDegrees, old.Wetness, old.Aspect, old.Shade
		}
		area += u.ha
		factor += u.ha * old.GrowthFactor
		if old.LegumeShare != nil {
			legume += u.ha * *old.LegumeShare
			legumeArea += u.ha
		}
	}
	if area > 0 {
		row.GrowthFactor = factor / area
	}
	if legumeArea > 0 {
		share := legume / legumeArea
		row.LegumeShare = &share
	}
}

// carried passes mass by area and the shortest rest to a paddock that takes ground over. The measurement is nil where
// everything beneath was guessed.
func carried(s *season.Season, row *store.Paddock, under []patch, standing []rotation.Standing, at time.Time) *store.Measurement {
	var area, mass, half, shared float64
	guessed := true
	row.CarriedLeftAt = nil
	for _, u := range under {
		st := standing[u.paddock]
		guessed = guessed && st.Guessed
		area += u.ha
		mass += u.ha * st.Mass
		half += u.ha * st.HalfWidthAt(at, st.Mass)
		shared += u.ha * st.Shared
		if st.LastLeft != nil && (row.CarriedLeftAt == nil || st.LastLeft.After(*row.CarriedLeftAt)) {
			left := st.LastLeft.UTC().Truncate(time.Microsecond)
			row.CarriedLeftAt = &left
		}
	}
	if area == 0 || guessed {
		return nil
	}
	when := at.UTC().Truncate(time.Microsecond)
	return &store.Measurement{FarmID: row.FarmID, ID: farm.NewID(), PaddockID: row.ID, Method: season.CarriedMethod, ForageMass: mass / area, HalfWidth: half / area,
		SharedError: shared / area, Figures: store.JSON[map[string]float64]{V: map[string]float64{}}, Readings: store.JSON[[]float64]{V: []float64{}},
		Note: "carried over by area when the field was divided", MeasuredAt: when, RecordedAt: when}
}

// dressingsKept is for how many days nitrogen goes on to show, and is passed on with the ground it was spread on.
const dressingsKept = 60

// passOn writes what a paddock takes over with its ground: what stood there, and, from the largest patch, what is closed and what was dressed.
func (e *edit) passOn(s *season.Season, paddockID string, under []patch, measured *store.Measurement) error {
	if measured != nil {
		measured.RecordedBy = e.actor.UserID
		if err := e.Create(measured); err != nil {
			return err
		}
	}
	largest := patch{}
	for _, u := range under {
		if u.ha > largest.ha {
			largest = u
		}
	}
	if largest.ha == 0 || s.Paddocks[largest.paddock].ID == paddockID {
		return nil
	}
	old, today := s.Paddocks[largest.paddock].ID, e.today()
	for _, c := range e.Closures {
		over := c.UntilOn != nil && *c.UntilOn <= today
		known := slices.ContainsFunc(e.Closures, func(k store.Closure) bool {
			return k.PaddockID == paddockID && k.Opens == c.Opens && k.FromOn == c.FromOn && k.Why == c.Why
		})
		if c.PaddockID != old || over || known {
			continue
		}
		c.ID, c.PaddockID = farm.NewID(), paddockID
		if err := e.Create(&c); err != nil {
			return err
		}
	}
	for _, d := range e.Dressings {
		if d.PaddockID != old || facts.DayNumber(d.GivenOn) < facts.DayNumber(today)-dressingsKept {
			continue
		}
		d.ID, d.PaddockID = farm.NewID(), paddockID
		if err := e.Create(&d); err != nil {
			return err
		}
	}
	return nil
}
