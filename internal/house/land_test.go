package house_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/land"
	"fjell/internal/farm"
	"fjell/internal/farm/ground"
	"fjell/internal/store"
)

func (y *yard) land() ground.LandView {
	y.t.Helper()
	view, err := y.service.Ground.Land(y.ctx, y.actor)
	require.NoError(y.t, err)
	return view
}

// ground is the map without what undo and redo would do next.
func (y *yard) ground() ground.LandView {
	v := y.land()
	v.Undo, v.Redo = nil, nil
	for i := range v.Fields {
		v.Fields[i].Version = 0 // a version never goes back
	}
	for i := range v.Paddocks {
		v.Paddocks[i].Version = 0
	}
	return v
}

func ring(ps ...land.Position) land.Shape { return land.Shape{{append(ps, ps[0])}} }

func TestEveryEditIsUndoneAndDoneAgain(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 3)
	field := p[0].FieldID
	y.measure(p[0].ID, 2200)
	y.measure(p[1].ID, 2600)
	mob := y.mob("Stores", 20)
	y.move(mob, &p[1].ID)
	y.later(1)
	corner := p[1].Shape[0][0][0]
	water := id()
	edits := map[string]func() error{
		"corner": func() error {
			_, err := y.service.Ground.MoveCorner(y.ctx, y.actor, ground.CornerInput{ID: id(), At: corner, To: &land.Position{corner[0] + 0.0001, corner[1] - 0.0001}})
			return err
		},
		"split": func() error {
			_, err := y.service.Ground.Split(y.ctx, y.actor, ground.SplitInput{ID: id(), PaddockID: p[0].ID, Line: []land.Position{{8.999, 61.0015}, {9.0025, 61.0016}}})
			return err
		},
		"merge": func() error {
			_, err := y.service.Ground.Merge(y.ctx, y.actor, ground.MergeInput{ID: id(), PaddockID: p[0].ID, WithID: p[1].ID})
			return err
		},
		"lane": func() error {
			width := 5.0
			_, err := y.service.Ground.AddMark(y.ctx, y.actor, ground.NewMark{ID: id(), Kind: "lane", Name: "drift", Width: &width, Path: []land.Position{{8.999, 61.001}, {9.007, 61.0012}}})
			return err
		},
		"water": func() error {
			_, err := y.service.Ground.AddMark(y.ctx, y.actor, ground.NewMark{ID: water, Kind: "water", Name: "trough", Path: []land.Position{{9.003, 61.002}}})
			return err
		},
		"exclusion": func() error {
			_, err := y.service.Ground.Exclude(y.ctx, y.actor, field, ground.NewExclusion{ID: id(), Name: "pond", Kind: "pond", Shape: ring(land.Position{9.0018, 61.001}, land.Position{9.0024, 61.001}, land.Position{9.002, 61.0016})})
			return err
		},
		"zone": func() error {
			_, err := y.service.Ground.AddZone(y.ctx, y.actor, field, ground.NewZone{ID: id(), Name: "hollow", GrowthFactor: 1.3, Shape: ring(land.Position{9, 61}, land.Position{9.006, 61}, land.Position{9.006, 61.001}, land.Position{9, 61.001})})
			return err
		},
		"facts": func() error {
			p := y.of(field)
			_, err := y.service.Ground.UpdatePaddocks(y.ctx, y.actor, []ground.PaddockChange{{ID: p[0].ID, Version: p[0].Version, PaddockInput: ground.PaddockInput{Name: "A", SwardID: p[0].SwardID, GrowthFactor: 0.8, Wetness: "wet", Notes: "springs"}},
				{ID: p[2].ID, Version: p[2].Version, PaddockInput: ground.PaddockInput{Name: "C", SwardID: p[2].SwardID, GrowthFactor: 1.1, Purpose: "loafing"}}}, false)
			return err
		},
		"division": func() error {
			_, err := y.service.Ground.AcceptDivision(y.ctx, y.actor, field, ground.AcceptDivision{ID: id(), Name: "fives", DivideInput: ground.DivideInput{Parts: 5, Intent: "feed"}, Standing: []ground.Standing{{MobID: mob, Part: 2}}})
			return err
		},
		"removal": func() error {
			y.move(mob, nil)
			y.later(0.1)
			return y.service.Ground.RemoveField(y.ctx, y.actor, field)
		},
	}
	for _, name := range []string{"corner", "split", "merge", "lane", "water", "exclusion", "zone", "facts", "division", "removal"} {
		before := y.ground()
		if name == "removal" {
			y.move(mob, nil)
			y.later(0.1)
			before = y.ground()
			edits[name] = func() error { return y.service.Ground.RemoveField(y.ctx, y.actor, field) }
		}
		require.NoError(t, edits[name](), name)
		after := y.ground()
		assert.NotEqual(t, before, after, name)
		_, err := y.service.Ground.Undo(y.ctx, y.actor, "")
		require.NoError(t, err, name)
		assert.Equal(t, before, y.ground(), "%s undone", name)
		_, err = y.service.Ground.Redo(y.ctx, y.actor, "")
		require.NoError(t, err, name)
		assert.Equal(t, after, y.ground(), "%s done again", name)
		_, err = y.service.Ground.Undo(y.ctx, y.actor, "")
		require.NoError(t, err, name)
	}
	_, err := y.service.Ground.Redo(y.ctx, y.actor, "")
	require.NoError(t, err)
	_, err = y.service.Ground.Redo(y.ctx, y.actor, "")
	assert.ErrorContains(t, err, "nothing to do again")
	_, err = y.service.Ground.Undo(y.ctx, y.actor, "")
	require.NoError(t, err)
	// The first edits of all: the division and the field itself; the walked paddocks keep them.
	_, err = y.service.Ground.Undo(y.ctx, y.actor, "")
	assert.ErrorContains(t, err, "that record stays")
}

func TestFiftyStepsAreKept(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 2)
	at := p[0].Shape[0][0][0]
	for i := range 55 {
		to := land.Position{at[0] + 0.00001*float64(1-2*(i%2)), at[1]}
		_, err := y.service.Ground.MoveCorner(y.ctx, y.actor, ground.CornerInput{ID: id(), At: at, To: &to})
		require.NoError(t, err)
		at = to
	}
	for range 50 {
		_, err := y.service.Ground.Undo(y.ctx, y.actor, "")
		require.NoError(t, err)
	}
	_, err := y.service.Ground.Undo(y.ctx, y.actor, "")
	assert.ErrorContains(t, err, "nothing left to undo")
}

func TestASharedCornerMovesAllThatHaveIt(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 2)
	total := p[0].AreaHa + p[1].AreaHa
	assert.Nil(t, p[0].OffEqual)
	// The corner between the two, on the field's southern fence, where the field itself has none.
	corner := land.Position{(p[0].Shape.Centre()[0] + p[1].Shape.Centre()[0]) / 2, 61}
	to := land.Position{corner[0] + 0.0004, 60.9998}
	view, err := y.service.Ground.MoveCorner(y.ctx, y.actor, ground.CornerInput{ID: id(), At: corner, To: &to})
	require.NoError(t, err)
	sum := view.Paddocks[0].AreaHa + view.Paddocks[1].AreaHa
	assert.InDelta(t, view.Fields[0].AreaHa, sum, 1e-3, "the field goes with its paddocks")
	assert.Greater(t, sum, total)
	require.NotNil(t, view.Paddocks[0].OffEqual)
	assert.Greater(t, *view.Paddocks[0].OffEqual, 0.01, "what was equal and is not stays visible")
	_, err = y.service.Ground.MoveCorner(y.ctx, y.actor, ground.CornerInput{ID: id(), At: to, To: &land.Position{9.01, 61.0015}})
	assert.ErrorContains(t, err, "cross")
	_, err = y.service.Ground.MoveCorner(y.ctx, y.actor, ground.CornerInput{ID: id(), At: to, Remove: true})
	assert.ErrorContains(t, err, "fences meet in this corner")
}

func TestLayoutsComeAndGoWithTheirDays(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 2)
	field := p[0].FieldID
	y.measure(p[0].ID, 2000)
	y.measure(p[1].ID, 3000)
	mob := y.mob("Stores", 10)
	y.move(mob, &p[1].ID)
	strips := id()
	_, err := y.service.Ground.AcceptDivision(y.ctx, y.actor, field, ground.AcceptDivision{ID: strips, Name: "strips", DivideInput: ground.DivideInput{Intent: "strips", Width: 60}, From: "2026-05-23", Until: "2026-05-26"})
	require.NoError(t, err)
	require.Len(t, y.of(field), 2, "not before its day")
	y.later(3)
	during := y.of(field)
	require.Greater(t, len(during), 3)
	in := 0
	for _, pad := range during {
		if len(pad.MobIDs) > 0 {
			in++
		}
		assert.False(t, pad.Mass.Guessed, "what stood is carried")
	}
	assert.Equal(t, 1, in, "the mob stands in one of the strips")
	y.later(3)
	back := y.of(field)
	require.Len(t, back, 2)
	assert.Equal(t, []string{p[0].ID, p[1].ID}, []string{back[0].ID, back[1].ID}, "the same paddocks, with their records")
	assert.Equal(t, []string{mob}, back[1].MobIDs)
	views, err := y.service.Ground.Layouts(y.ctx, y.actor, field, mob, 2, 20)
	require.NoError(t, err)
	require.Len(t, views, 3)
	for _, v := range views {
		assert.Equal(t, v.Name == "summer", v.Holds)
		assert.False(t, v.Figures.Fits, "twenty days of rest need more than these")
	}
	_, err = y.service.Ground.RemoveLayout(y.ctx, y.actor, field, strips, y.layoutVersion(strips))
	require.NoError(t, err)
	_, err = y.service.Ground.UseLayout(y.ctx, y.actor, field, strips, y.layoutVersion(strips), ground.UseLayout{})
	assert.ErrorIs(t, err, farm.ErrNotFound)
}

func TestAKeptLayoutFollowsItsField(t *testing.T) {
	y := newYard(t)
	field := y.field("Nedre", 9, 2)[0].FieldID
	strips := id()
	_, err := y.service.Ground.AcceptDivision(y.ctx, y.actor, field, ground.AcceptDivision{ID: strips, Name: "strips", Shelve: true, DivideInput: ground.DivideInput{Intent: "strips", Width: 60}})
	require.NoError(t, err)
	pond := ring(land.Position{9.002, 61.001}, land.Position{9.004, 61.001}, land.Position{9.003, 61.002})
	_, err = y.service.Ground.Exclude(y.ctx, y.actor, field, ground.NewExclusion{ID: id(), Name: "pond", Kind: "pond", Shape: pond})
	require.NoError(t, err)
	view, err := y.service.Ground.UseLayout(y.ctx, y.actor, field, strips, y.layoutVersion(strips), ground.UseLayout{})
	require.NoError(t, err)
	assert.InDelta(t, view.AreaHa-view.Exclusions[0].AreaHa, view.GrazeableHa, 1e-4, "the strips leave the pond out")
	before := y.ground()
	_, err = y.service.Ground.Undo(y.ctx, y.actor, "")
	require.NoError(t, err)
	_, err = y.service.Ground.Redo(y.ctx, y.actor, "")
	require.NoError(t, err)
	assert.Equal(t, before, y.ground())
}

func TestZonesMakeEqualFeedUnequalAreas(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 1)
	field := p[0].FieldID
	_, err := y.service.Ground.AddZone(y.ctx, y.actor, field, ground.NewZone{ID: id(), Name: "slope", GrowthFactor: 0.5, Shape: ring(land.Position{9, 61}, land.Position{9.003, 61}, land.Position{9.003, 61.003}, land.Position{9, 61.003})})
	require.NoError(t, err)
	d, err := y.service.Ground.Divide(y.ctx, y.actor, field, ground.DivideInput{Intent: "feed", Parts: 3})
	require.NoError(t, err)
	assert.InDelta(t, 0, d.Figures.FeedSpread.Value, 1e-3)
	assert.InDelta(t, 2, d.Parts[0].AreaHa/d.Parts[2].AreaHa, 1e-3, "half the growth needs twice the ground")
	equal, err := y.service.Ground.Divide(y.ctx, y.actor, field, ground.DivideInput{Intent: "area", Parts: 3})
	require.NoError(t, err)
	assert.InDelta(t, 0, equal.Figures.AreaSpread.Value, 1e-9)
	assert.Greater(t, equal.Figures.FeedSpread.Value, 0.5)
}

func TestWhatCannotFitIsRefusedWithItsSum(t *testing.T) {
	y := newYard(t)
	field := y.field("Nedre", 9, 1)[0].FieldID
	_, err := y.service.Ground.Divide(y.ctx, y.actor, field, ground.DivideInput{Intent: "size", Size: 3, Parts: 6})
	assert.ErrorContains(t, err, "6 paddocks × 3 ha = 18 ha, but Nedre has")
	mob := y.mob("Stores", 30)
	d, err := y.service.Ground.Divide(y.ctx, y.actor, field, ground.DivideInput{Parts: 6, MobID: mob, Stay: 2, Rest: 24})
	require.NoError(t, err)
	assert.InDelta(t, 10, d.Figures.Rest.Value, 1e-9)
	assert.InDelta(t, 13, d.Figures.Needed.Value, 1e-9)
	_, err = y.service.Ground.AcceptDivision(y.ctx, y.actor, field, ground.AcceptDivision{ID: id(), Name: "six", DivideInput: ground.DivideInput{Parts: 6, MobID: mob, Stay: 2, Rest: 24}})
	assert.ErrorContains(t, err, "6 on the round at 2 days give 10 days of rest, not 24 days: ⌈24 days ÷ 2 days⌉ + 1 = 13 are needed")
	days, err := y.service.Ground.Divide(y.ctx, y.actor, field, ground.DivideInput{Intent: "size", Days: 2, MobID: mob})
	require.NoError(t, err)
	for i, p := range days.Parts {
		if i < len(days.Parts)-1 {
			assert.InDelta(t, 2, *p.Days, 1e-6)
		}
	}
}

func TestLimitsByCalendarKeepStockOut(t *testing.T) {
	y := newYard(t)
	p := y.field("Nedre", 9, 2)
	for i := range p {
		y.measure(p[i].ID, 2900)
	}
	_, err := y.service.Ground.UpdatePaddock(y.ctx, y.actor, p[0].ID, p[0].Version, ground.PaddockInput{Name: "A", SwardID: p[0].SwardID, GrowthFactor: 1,
		Limits: []store.PaddockLimit{{Kind: "nesting", From: "04-15", Until: "07-01"}, {Kind: "not_wet"}}})
	require.NoError(t, err)
	view := y.of(p[0].FieldID)[0]
	assert.Equal(t, "nesting birds until 1 July", view.ClosedNow)
	y.later(45)
	view = y.of(p[0].FieldID)[0]
	assert.Empty(t, view.ClosedNow)
	assert.Equal(t, "not when it is wet", view.Reasons[len(view.Reasons)-1].Text)
	_, err = y.service.Ground.UpdatePaddock(y.ctx, y.actor, p[0].ID, view.Version, ground.PaddockInput{Name: "A", SwardID: p[0].SwardID, GrowthFactor: 1, Limits: []store.PaddockLimit{{Kind: "nesting", From: "15 April", Until: "07-01"}}})
	assert.ErrorContains(t, err, "month and day")
}

func TestAFileOfPaddocksBecomesALayout(t *testing.T) {
	y := newYard(t)
	batch := id()
	box := func(x0, y0, x1, y1 float64) land.Shape {
		return ring(land.Position{x0, y0}, land.Position{x1, y0}, land.Position{x1, y1}, land.Position{x0, y1})
	}
	items := []ground.BringItem{
		{ID: id(), As: "field", Name: "Nedre", SwardID: "ryegrass_white_clover", Shape: box(9, 61, 9.006, 61.003)},
		{ID: id(), As: "paddock", Name: "West", Shape: box(9, 61, 9.002, 61.003)},
		{ID: id(), As: "paddock", Name: "Middle", Shape: box(9.002, 61, 9.004, 61.003)},
		{ID: id(), As: "water", Name: "trough", Path: []land.Position{{9.003, 61.001}}},
		{ID: id(), As: "exclusion", Name: "rock", Shape: box(9.005, 61.001, 9.0052, 61.0012)},
	}
	_, err := y.service.Ground.Bring(y.ctx, y.actor, ground.BringInput{ID: id(), Batch: batch, File: "farm.kml", Items: items})
	require.NoError(t, err)
	v := y.land()
	var names []string
	sum := 0.0
	for _, p := range v.Paddocks {
		names = append(names, p.Name)
		sum += p.AreaHa
	}
	assert.Equal(t, []string{"West", "Middle", "Nedre, the rest"}, names)
	assert.InDelta(t, v.Fields[0].GrazeableHa, sum, 1e-9)
	assert.InDelta(t, v.Fields[0].AreaHa-v.Fields[0].Exclusions[0].AreaHa, sum, 1e-4)
	require.Len(t, v.Marks, 1)
	// All or nothing, and the thing at fault is named.
	_, err = y.service.Ground.Bring(y.ctx, y.actor, ground.BringInput{ID: id(), Batch: batch, File: "farm.kml", Items: []ground.BringItem{
		{ID: id(), As: "field", Name: "Øvre", SwardID: "ryegrass_white_clover", Shape: box(9.01, 61, 9.016, 61.003)}, {ID: id(), As: "zone", Name: "far", Shape: box(10, 61, 10.001, 61.001)}}})
	assert.ErrorContains(t, err, "far: lies in no field")
	assert.Equal(t, v, y.land())
	_, err = y.service.Ground.Undo(y.ctx, y.actor, "")
	require.NoError(t, err)
	assert.Empty(t, y.land().Fields, "one file is one step")
}

func TestASimulatedWalkBecomesABoundary(t *testing.T) {
	y := newYard(t)
	y.field("Nedre", 9, 1)
	fixes, err := y.service.Ground.SimulatedWalk(y.ctx, y.actor)
	require.NoError(t, err)
	track, err := y.service.Ground.Track(y.ctx, y.actor, ground.TrackInput{Fixes: fixes})
	require.NoError(t, err)
	assert.InDelta(t, 3.305, track.AreaHa, 0.1)
	assert.Positive(t, track.Poor)
	assert.Positive(t, track.Spikes)
	assert.InDelta(t, math.Sqrt(track.AreaHa*10000), track.SquareM, 1e-6)
}
