package house_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/stock"
	"fjell/internal/farm"
	"fjell/internal/farm/herd"
	"fjell/internal/store"
)

func (y *yard) year() herd.YearView {
	y.t.Helper()
	v, err := y.service.Herd.Year(y.ctx, y.actor, herd.YearInput{Measure: "head"})
	require.NoError(y.t, err)
	return v
}

// day is a calendar day so many days from now, at the farm.
func (y *yard) day(days int) string { return y.now.AddDate(0, 0, days).Format("2006-01-02") }

func (y *yard) happens(in herd.EventInput) (string, error) {
	y.t.Helper()
	in.Confirmed = true
	made := id()
	_, err := y.service.Herd.KeepEvent(y.ctx, y.actor, herd.NewEvent{ID: made, EventInput: in})
	return made, err
}

func TestStockIsKeptAsEvents(t *testing.T) {
	y := newYard(t)
	mobID := y.mob("Stores", 40)
	mobs, err := y.service.Herd.Mobs(y.ctx, y.actor)
	require.NoError(t, err)
	class := mobs[0].Classes[0]

	// What was planned stays beside what happened.
	sale, err := y.happens(herd.EventInput{Kind: stock.Sale, PlannedOn: y.day(20), Head: 10, FromID: class.ID})
	require.NoError(t, err)
	_, err = y.happens(herd.EventInput{Kind: stock.Sale, PlannedOn: y.day(25), Head: 35, FromID: class.ID})
	assert.ErrorContains(t, err, "only 30 ", "the head that are there then")
	y.later(22)
	over := y.year().Events[0]
	assert.True(t, over.Overdue, "the day is past and nobody said it happened")
	assert.Equal(t, y.day(0), over.Day, "it counts from today")
	fact := id()
	_, err = y.service.Herd.ChangeEvent(y.ctx, y.actor, sale, herd.EventChange{ID: fact, EventInput: herd.EventInput{Kind: stock.Sale, HappenedOn: y.day(-1), Head: 12, FromID: class.ID}})
	require.NoError(t, err)
	v := y.year()
	require.Len(t, v.Events, 1)
	assert.Equal(t, y.day(-2), v.Events[0].PlannedOn)
	assert.Equal(t, y.day(-1), v.Events[0].HappenedOn)
	assert.Equal(t, 10, *v.Events[0].PlannedHead)
	assert.Equal(t, 12.0, v.Events[0].Head)
	_, err = y.service.Herd.ChangeEvent(y.ctx, y.actor, sale, herd.EventChange{ID: id(), EventInput: herd.EventInput{Kind: stock.Sale, HappenedOn: y.day(-1), Head: 1, FromID: class.ID}})
	assert.ErrorContains(t, err, "meanwhile", "it was replaced before")

	// Facts that cannot be are refused with the count on that day, and leave nothing behind.
	_, err = y.happens(herd.EventInput{Kind: stock.Death, HappenedOn: y.day(0), Head: 29, FromID: class.ID})
	assert.ErrorContains(t, err, "only 28 ")
	_, err = y.happens(herd.EventInput{Kind: stock.Death, HappenedOn: y.day(3), Head: 1, FromID: class.ID})
	assert.ErrorContains(t, err, "future")
	assert.Len(t, y.year().Events, 1)

	// Describing the mob anew writes the difference down.
	mobs, err = y.service.Herd.Mobs(y.ctx, y.actor)
	require.NoError(t, err)
	now := mobs[0].Classes[0].ClassInput
	assert.InDelta(t, 340+22*0.8, now.LiveWeight, 0.01, "they grew")
	now.Count, now.LiveWeight = 27, 350
	in := herd.MobInput{Name: "Stores", Letter: "S", Glyph: "circle", Classes: []herd.ClassInput{now}}
	after, err := y.service.Herd.UpdateMob(y.ctx, y.actor, mobID, mobs[0].Version, in)
	require.NoError(t, err)
	assert.Equal(t, 27.0, after.Head)
	assert.InDelta(t, 350, after.Classes[0].LiveWeight, 1e-6)
	v = y.year()
	for _, row := range v.Ledger {
		assert.Equal(t, row.Closing, row.Opening+row.Born+row.Bought+row.In-row.Out-row.Sold-row.Died+row.Found, row.Name)
	}
	_, err = y.service.Herd.WithdrawEvent(y.ctx, y.actor, fact)
	require.NoError(t, err, "the count stands by itself, so the sale can go")
}

func TestBirthWeaningAndWhoStandsOutside(t *testing.T) {
	y := newYard(t)
	y.field("Nedre", 9, 2)
	mobID := id()
	_, err := y.service.Herd.CreateMob(y.ctx, y.actor, herd.NewMob{ID: mobID, MobInput: herd.MobInput{Name: "Ewes", Glyph: "circle",
		Classes: []herd.ClassInput{{ReferenceID: "ewe_dry", Count: 50, LiveWeight: 70, IntakeShare: 0.017}}}})
	require.NoError(t, err)
	mobs, err := y.service.Herd.Mobs(y.ctx, y.actor)
	require.NoError(t, err)
	ewes := mobs[0].Classes[0].ID
	dry := mobs[0].Demand.Value
	lambs, weaned := id(), id()
	_, err = y.happens(herd.EventInput{Kind: stock.Birth, HappenedOn: y.day(0), Head: 90, OfID: ewes, IntoNew: &herd.NewGroup{ID: lambs, MobID: mobID, ReferenceID: "lamb_at_foot", Name: "Lambs", LiveWeight: 4.5}})
	require.NoError(t, err)
	mobs, err = y.service.Herd.Mobs(y.ctx, y.actor)
	require.NoError(t, err)
	assert.Equal(t, "ewe_lactating_twin", mobs[0].Classes[0].ReferenceID, "1.8 lambs to a ewe")
	assert.Greater(t, mobs[0].Demand.Value, 1.8*dry, "milk doubles what they eat")
	_, err = y.happens(herd.EventInput{Kind: stock.Weaning, PlannedOn: y.day(100), Head: 90, FromID: lambs, OfID: ewes, IntoNew: &herd.NewGroup{ID: weaned, ReferenceID: "lamb_growing", Name: "Weaned lambs"}})
	require.NoError(t, err)
	_, err = y.happens(herd.EventInput{Kind: stock.Death, HappenedOn: y.day(0), Head: 3, FromID: lambs})
	require.NoError(t, err, "a plan does not forbid a fact")
	day, err := y.service.Herd.StockDay(y.ctx, y.actor, y.day(101))
	require.NoError(t, err)
	assert.Equal(t, 50.0, day.Mobs[0].Head)
	assert.Less(t, day.Farm.Value, dry*1.05, "dry again, and the lambs are kept in")
	y.later(120)
	v := y.year()
	for _, e := range v.Events {
		assert.Equal(t, e.Kind == stock.Weaning, e.Overdue, e.Says)
	}
	eq, err := y.service.Herd.Equivalence(y.ctx, y.actor, ewes, lambs)
	require.NoError(t, err)
	assert.Greater(t, eq.Figure.Value, 1.0)
	assert.Contains(t, eq.Sentence, "Lambs need as much grown")
	assert.Contains(t, []string{"carries", "close", "short"}, v.Carrying.Severity)
	_, err = y.service.Herd.StockDay(y.ctx, y.actor, "soon")
	assert.ErrorContains(t, err, "must be a day")
}

func TestStockListComesInAndGoesOut(t *testing.T) {
	y := newYard(t)
	own := id()
	_, err := y.service.Herd.KeepOwnClass(y.ctx, y.actor, herd.NewOwnClass{ID: own, Name: "Hill wethers", LikeID: "ewe_dry", LiveWeight: 62, IntakeShare: 0.018})
	require.NoError(t, err)
	text := "Mob;Type;Number;Live weight\nCows;Suckler cow, dry, mid-pregnancy;48;612,5\nCows;dinosaur;2;90000\nHill;hill wethers;30;\nHill;Ram;many;\n"
	v, err := y.service.Herd.ReadStockList(y.ctx, y.actor, herd.StockListInput{Text: text})
	require.NoError(t, err)
	require.Len(t, v.Rows, 2)
	assert.Equal(t, own, v.Rows[1].Class.ReferenceID)
	assert.Equal(t, 62.0, v.Rows[1].Class.LiveWeight, "its own figure where the list has none")
	require.Len(t, v.Bad, 2)
	assert.Contains(t, v.Bad[0].Why, "dinosaur")
	assert.Contains(t, v.Bad[1].Why, "not a number")
	take := herd.StockListInput{ID: id(), Text: text}
	mobs, err := y.service.Herd.TakeStockList(y.ctx, y.actor, take)
	require.NoError(t, err)
	require.Len(t, mobs, 2)
	_, err = y.service.Herd.TakeStockList(y.ctx, y.actor, take)
	require.NoError(t, err, "sent twice, taken once")
	raw, err := y.service.Herd.StockList(y.ctx, y.actor)
	require.NoError(t, err)
	again := strings.Replace(string(raw), "Cows,beef_cow_dry,\"Suckler cow, dry, mid-pregnancy\",48", "Cows,beef_cow_dry,\"Suckler cow, dry, mid-pregnancy\",47", 1)
	require.NotEqual(t, string(raw), again)
	y.later(1)
	back, err := y.service.Herd.ReadStockList(y.ctx, y.actor, herd.StockListInput{Text: again})
	require.NoError(t, err)
	assert.Len(t, back.Rows, 2)
	assert.True(t, back.Rows[0].Known)
	mobs, err = y.service.Herd.TakeStockList(y.ctx, y.actor, herd.StockListInput{ID: id(), Text: again})
	require.NoError(t, err)
	assert.Len(t, mobs, 2, "brought up to date, not made again")
	assert.Equal(t, 47.0, mobs[0].Head)
	_, err = y.service.Herd.TakeStockList(y.ctx, y.actor, herd.StockListInput{ID: id(), Text: "Mob;Type;Number\nCows;dinosaur;2\n"})
	assert.ErrorContains(t, err, "no row")
}

// Seven mobs whose names begin with one letter are seven marks: nobody tells two alike apart on a map.
func TestMobsOfAListHaveMarksOfTheirOwn(t *testing.T) {
	y := newYard(t)
	_, err := y.service.Herd.CreateMob(y.ctx, y.actor, herd.NewMob{ID: id(), MobInput: herd.MobInput{Name: "Old cows", Letter: "C", Glyph: "circle",
		Classes: []herd.ClassInput{{ReferenceID: "beef_cow_dry", Count: 3, LiveWeight: 600, IntakeShare: 0.02}}}})
	require.NoError(t, err)
	text := "mob,class,head\n"
	for i := range 7 {
		text += fmt.Sprintf("Cows %d,beef_cow_dry,%d\n", i, 10+i)
	}
	mobs, err := y.service.Herd.TakeStockList(y.ctx, y.actor, herd.StockListInput{ID: id(), Text: text})
	require.NoError(t, err)
	seen := map[string]bool{}
	for _, m := range mobs {
		seen[m.Glyph+m.Letter] = true
	}
	assert.Len(t, seen, 8)
}

// 288 where there are 48 is a key held too long: it is read back by every door a count comes in through.
func TestASixfoldCountIsReadBack(t *testing.T) {
	y := newYard(t)
	mobID := y.mob("Cows", 48)
	mobs, err := y.service.Herd.Mobs(y.ctx, y.actor)
	require.NoError(t, err)
	class := mobs[0].Classes[0]
	y.later(3)
	var unusual *farm.Unusual
	count := herd.EventInput{Kind: stock.Muster, HappenedOn: y.day(0), Head: 288, OfID: class.ID}
	_, err = y.service.Herd.KeepEvent(y.ctx, y.actor, herd.NewEvent{ID: id(), EventInput: count})
	require.ErrorAs(t, err, &unusual)
	assert.Equal(t, "head", unusual.Problems[0].Field)
	assert.Contains(t, unusual.Problems[0].Message, "where 48 are on the books")
	in := herd.MobInput{Name: "Cows", Letter: mobs[0].Letter, Glyph: mobs[0].Glyph, FieldIDs: []string{},
		Classes: []herd.ClassInput{{ID: class.ID, ReferenceID: class.ReferenceID, Count: 288, LiveWeight: class.LiveWeight, IntakeShare: class.IntakeShare}}}
	_, err = y.service.Herd.UpdateMob(y.ctx, y.actor, mobID, mobs[0].Version, in)
	require.ErrorAs(t, err, &unusual)
	assert.Equal(t, "classes[0].count", unusual.Problems[0].Field)
	mobs, err = y.service.Herd.Mobs(y.ctx, y.actor)
	require.NoError(t, err)
	assert.Equal(t, 48.0, mobs[0].Head, "nothing was kept")
	in.Confirmed = true
	_, err = y.service.Herd.UpdateMob(y.ctx, y.actor, mobID, mobs[0].Version, in)
	require.NoError(t, err, "it may be so")
}

// 1 300 is a cow in pounds and two cows in kilograms: a farm that speaks of pounds is asked which a bare figure is.
func TestAStockListInPounds(t *testing.T) {
	y := newYard(t)
	require.NoError(t, y.service.Farm.DB.Model(&store.Farm{}).Where("id = ?", y.actor.FarmID).Update("units", "imperial").Error)
	in := herd.StockListInput{Text: "mob,class,head,weight\nCows,beef_cow_dry,10,1300\n"}
	v, err := y.service.Herd.ReadStockList(y.ctx, y.actor, in)
	require.NoError(t, err)
	require.Len(t, v.Bad, 1)
	assert.Contains(t, v.Bad[0].Why, "in kg or in lb")
	in.Units = "imperial"
	v, err = y.service.Herd.ReadStockList(y.ctx, y.actor, in)
	require.NoError(t, err)
	require.Len(t, v.Rows, 1)
	assert.InDelta(t, 589.7, v.Rows[0].Class.LiveWeight, 0.05)
}

func TestSupplementsAreDated(t *testing.T) {
	y := newYard(t)
	fed := []store.Supplement{{From: y.day(0), Until: y.day(5), KgDM: 2, Substitution: 0.5}}
	_, err := y.service.Herd.CreateMob(y.ctx, y.actor, herd.NewMob{ID: id(), MobInput: herd.MobInput{Name: "Stores", Glyph: "circle",
		Classes: []herd.ClassInput{{ReferenceID: "beef_store_growing", Count: 10, LiveWeight: 340, IntakeShare: 0.025, Supplements: fed}}}})
	require.NoError(t, err)
	on := func(d int) float64 {
		v, err := y.service.Herd.StockDay(y.ctx, y.actor, y.day(d))
		require.NoError(t, err)
		return v.Farm.Value
	}
	assert.InDelta(t, 10*(8.5-1), on(0), 1e-6)
	assert.InDelta(t, 85, on(5), 1e-6)
	fed[0].Until = "2026-01-01"
	_, err = y.service.Herd.CreateMob(y.ctx, y.actor, herd.NewMob{ID: id(), MobInput: herd.MobInput{Name: "More", Glyph: "circle",
		Classes: []herd.ClassInput{{ReferenceID: "beef_store_growing", Count: 10, LiveWeight: 340, IntakeShare: 0.025, Supplements: fed}}}})
	assert.ErrorContains(t, err, "after the first")
}
