package demo

import (
	"context"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/internal/exchange"
	"fjell/internal/farm"
	"fjell/internal/farm/ground"
	"fjell/internal/house"
	"fjell/internal/store"
	"fjell/internal/store/storetest"
)

func TestSkarnvollIsAFarmInMidSeason(t *testing.T) {
	ctx := context.Background()
	db := storetest.Open(t)
	service := house.New(&farm.Service{DB: db, Clock: &farm.Clock{DB: db, Demo: true}})
	require.NoError(t, Skarnvoll(ctx, service))
	require.NoError(t, Skarnvoll(ctx, service), "building it again changes nothing")
	now, err := service.Farm.Clock.Now(ctx)
	require.NoError(t, err)
	assert.True(t, now.Equal(Now))

	var farms []store.Farm
	require.NoError(t, db.Find(&farms).Error)
	require.Len(t, farms, 1)
	a := farm.Actor{FarmID: farms[0].ID, Role: farm.Owner}
	view, err := service.Ground.Land(ctx, a)
	require.NoError(t, err)
	assert.Len(t, view.Fields, 7)
	assert.Len(t, view.Paddocks, 24)
	area := 0.0
	for _, f := range view.Fields {
		area += f.AreaHa
	}
	assert.InDelta(t, 64, area, 0.5)
	for _, p := range view.Paddocks {
		assert.False(t, p.Mass.Guessed, "%s was walked", p.Name)
	}
	var days int64
	require.NoError(t, db.Raw("SELECT COUNT(DISTINCT DATE(measured_at)) FROM measurements WHERE method = 'plate'").Scan(&days).Error)
	assert.EqualValues(t, 6, days, "six weekly walks")
	today, err := service.Today.Today(ctx, a)
	require.NoError(t, err)
	require.Len(t, today.Mobs, 2)
	for _, m := range today.Mobs {
		assert.NotEmpty(t, m.PaddockName, "%s are on pasture", m.Name)
		require.NotNil(t, m.Next, "%s know where next", m.Name)
	}
	// Whoever looks at a paddock today, on the map or in the plan, finds it judged alike.
	judged, compared := map[string]ground.PaddockView{}, 0
	for _, p := range view.Paddocks {
		judged[p.ID] = p
	}
	for _, m := range today.Mobs {
		if m.Next.Enter.Sub(now) > 14*time.Hour {
			continue
		}
		on := judged[m.Next.PaddockID]
		assert.Equal(t, on.State, m.Next.State, "%s: %v and %v", on.Name, on.Reasons, m.Next.Reasons)
		assert.Len(t, m.Next.Reasons, len(on.Reasons), "%s: %v and %v", on.Name, on.Reasons, m.Next.Reasons)
		for _, other := range m.Next.Instead {
			assert.Equal(t, judged[other.PaddockID].State, other.State, other.Name)
		}
		compared++
	}
	assert.Positive(t, compared, "somebody moves tonight")
	plan, err := service.Moves.Plan(ctx, a)
	require.NoError(t, err)
	for _, v := range plan.Visits {
		if v.Kind == "now" {
			assert.Greater(t, v.MassIn, judged[v.PaddockID].Mass.Mass, "%s: what they entered at, of which they have eaten", v.PaddockName)
			assert.InDelta(t, (v.MassIn-v.MassOut)/v.MassIn, v.Utilisation, 1e-9)
		}
	}
	moves, err := service.Moves.Moves(ctx, a)
	require.NoError(t, err)
	assert.Greater(t, len(moves), 12, "the moves that led to today")
	for _, m := range moves {
		assert.Empty(t, m.SharedWith)
	}

	later, err := service.Farm.Clock.Forward(ctx, 1)
	require.NoError(t, err)
	assert.True(t, later.Equal(Now.AddDate(0, 0, 1)))
	ridge, err := service.Today.Ridge(ctx, a)
	require.NoError(t, err)
	assert.True(t, ridge.Now.Equal(later), "the ridge follows the clock")
}

func TestTheFarmGoesOutAndComesBack(t *testing.T) {
	db := storetest.Open(t)
	ctx := context.Background()
	service := house.New(&farm.Service{DB: db, Clock: &farm.Clock{DB: db, Demo: true}})
	require.NoError(t, Skarnvoll(ctx, service))
	me, _, err := service.Farm.SignIn(ctx, Email, Password, farm.Visitor{Address: "test"})
	require.NoError(t, err)
	var farms []store.Farm
	require.NoError(t, db.Find(&farms).Error)
	old := farm.Actor{UserID: me.ID, FarmID: farms[0].ID, Role: farm.Owner}
	before, err := service.Ground.Land(ctx, old)
	require.NoError(t, err)
	for _, format := range []string{"geojson", "kml", "shapefile"} {
		raw, _, name, err := service.Ground.Export(ctx, old, format)
		require.NoError(t, err)
		found, err := exchange.Read(t.Context(), name, raw)
		require.NoError(t, err)
		fresh, err := service.Farm.CreateFarm(ctx, me.ID, farm.NewFarm{ID: uuid.NewString(), FarmInput: farm.FarmInput{Name: "Again", TimeZone: "Europe/Oslo", Units: "metric", Experience: "some", Longitude: 9, Latitude: 61}})
		require.NoError(t, err)
		actor := farm.Actor{UserID: me.ID, FarmID: fresh.ID, Role: farm.Owner}
		kind := map[string]string{"wood": "exclusion", "Tjern lane": "exclusion"}
		for _, f := range before.Fields {
			kind[f.Name] = "field"
		}
		for _, p := range before.Paddocks {
			kind[p.Name] = "paddock"
		}
		var items []ground.BringItem
		for _, as := range []string{"field", "exclusion", "paddock"} {
			for _, f := range found {
				if kind[f.Name] == as && len(f.Shape) > 0 && f.Closed == nil {
					items = append(items, ground.BringItem{ID: uuid.NewString(), As: as, Name: f.Name, SwardID: "ryegrass_white_clover", Shape: f.Shape})
				}
			}
		}
		_, err = service.Ground.Bring(ctx, actor, ground.BringInput{ID: uuid.NewString(), Batch: uuid.NewString(), File: name, Items: items})
		require.NoError(t, err, format)
		after, err := service.Ground.Land(ctx, actor)
		require.NoError(t, err)
		require.Len(t, after.Paddocks, len(before.Paddocks), format)
		for i, p := range before.Paddocks {
			assert.Equal(t, p.Name, after.Paddocks[i].Name)
			assert.InEpsilon(t, p.AreaHa, after.Paddocks[i].AreaHa, 1e-5, "%s of %s", p.Name, format)
		}
	}
}
