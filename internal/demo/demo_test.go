package demo

import (
	"context"
	"math"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/forage"
	"fjell/core/grazing"
	"fjell/core/rotation"
	"fjell/internal/exchange"
	"fjell/internal/farm"
	"fjell/internal/farm/ground"
	"fjell/internal/farm/herd"
	"fjell/internal/house"
	"fjell/internal/store"
	"fjell/internal/store/storetest"
)

// The demo is built once; what looks at it writes only to farms of its own.
func TestTheDemo(t *testing.T) {
	db := storetest.Open(t)
	h := house.New(&farm.Service{DB: db, Clock: &farm.Clock{DB: db, Demo: true}})
	require.NoError(t, Build(context.Background(), h))
	require.NoError(t, Build(context.Background(), h), "building it again changes nothing")
	t.Run("both farms have two seasons behind them", func(t *testing.T) { twoSeasons(t, h) })
	t.Run("the figures a stockman looks at first", func(t *testing.T) { figures(t, h) })
	t.Run("the farm goes out and comes back", func(t *testing.T) { outAndBack(t, h) })
	later, err := h.Farm.Clock.Forward(context.Background(), 1)
	require.NoError(t, err)
	assert.True(t, later.Equal(Now.AddDate(0, 0, 1)))
}

func ownerOf(t *testing.T, h *house.House, name string) farm.Actor {
	t.Helper()
	var row store.Farm
	require.NoError(t, h.Farm.DB.First(&row, "name = ?", name).Error)
	var owner store.Member
	require.NoError(t, h.Farm.DB.First(&owner, "farm_id = ?", row.ID).Error)
	return farm.Actor{UserID: owner.UserID, FarmID: row.ID, Role: farm.Owner}
}

func twoSeasons(t *testing.T, h *house.House) {
	for _, c := range []struct {
		name             string
		fields, paddocks int
		ha               float64
		mobs             int
		walks, moves     int64
	}{{"Skarnvoll", 7, 24, 64, 3, 16, 60}, {"Quillback Flat", 7, 29, 769, 2, 12, 25}} {
		t.Run(c.name, func(t *testing.T) {
			a := ownerOf(t, h, c.name)
			ctx := context.Background()
			now, err := h.Farm.Clock.Now(ctx)
			require.NoError(t, err)
			assert.True(t, now.Equal(Now))
			view, err := h.Ground.Land(ctx, a)
			require.NoError(t, err)
			assert.Len(t, view.Fields, c.fields)
			assert.Len(t, view.Paddocks, c.paddocks)
			area, here := 0.0, map[string]bool{}
			for _, f := range view.Fields {
				area += f.AreaHa
			}
			assert.InEpsilon(t, c.ha, area, 0.01)
			for _, p := range view.Paddocks {
				assert.False(t, p.Mass.Guessed, "%s was walked", p.Name)
				if here[p.ID] = len(p.MobIDs) > 0; !here[p.ID] {
					assert.NotNil(t, p.RestDays, "%s has a rest that is known", p.Name)
				}
			}
			for _, count := range []struct {
				what, sql string
				least     int64
			}{{"days of walks", "SELECT COUNT(DISTINCT DATE(measured_at)) FROM measurements WHERE farm_id = ? AND method IN ('plate', 'clip')", c.walks},
				{"moves", "SELECT COUNT(*) FROM moves WHERE farm_id = ?", c.moves},
				{"moves of last season", "SELECT COUNT(*) FROM moves WHERE farm_id = ? AND moved_at < '2026-01-01'", c.moves / 2},
				{"days of weather", "SELECT COUNT(*) FROM weather_days WHERE farm_id = ?", 600}} {
				var n int64
				require.NoError(t, h.Farm.DB.Raw(count.sql, a.FarmID).Scan(&n).Error)
				assert.GreaterOrEqual(t, n, count.least, count.what)
			}
			today, err := h.Today.Today(ctx, a)
			require.NoError(t, err)
			require.Len(t, today.Mobs, c.mobs)
			// Whoever looks at a paddock today, on the map or in the plan, finds it judged alike.
			judged := map[string]ground.PaddockView{}
			for _, p := range view.Paddocks {
				judged[p.ID] = p
			}
			for _, m := range today.Mobs {
				assert.NotEmpty(t, m.PaddockName, "%s are on pasture", m.Name)
				require.NotNil(t, m.Next, "%s know where next", m.Name)
				if m.Next.Enter.Sub(now) <= 14*time.Hour {
					assert.Equal(t, judged[m.Next.PaddockID].State, m.Next.State, m.Next.PaddockName)
				}
			}
			for _, m := range today.Minding {
				assert.NotEqual(t, grazing.Stop, m.State, "a demo in trouble teaches nobody: %s: %s", m.Where, m.Reason.Plain())
			}
			plan, err := h.Moves.Plan(ctx, a)
			require.NoError(t, err)
			rules := map[rotation.Rule]int{}
			for _, k := range plan.Checks {
				rules[k.Rule]++
				assert.Equal(t, grazing.Mind, k.Severity, k.Reason.Plain())
			}
			assert.Zero(t, rules[rotation.ShortOfFeed]+rules[rotation.RestTooShort]+rules[rotation.StayTooLong]+rules[rotation.BelowResidual]+rules[rotation.NoPaddock], "the first plan keeps its own rules: %v", rules)
			for _, v := range plan.Visits {
				if v.Kind == "now" {
					assert.Greater(t, v.MassIn, judged[v.PaddockID].Mass.Mass*0.98, "%s: what they entered at, of which they have eaten", v.PaddockName)
				}
			}
			// What is said of growth, of the year and of the plan does not contradict itself without naming its month.
			growth, err := h.Walk.Growth(ctx, a)
			require.NoError(t, err)
			year, err := h.Herd.Year(ctx, a, herd.YearInput{})
			require.NoError(t, err)
			if growth.Farm.State == forage.Above && year.Carrying.Severity == "short" {
				assert.Regexp(t, "widest gap is in (July|August|September|October)", year.Carrying.Sentence)
			}
		})
	}
}

// The figures that a stockman looks at first, each within what he would expect of such a farm in the second week of June.
func figures(t *testing.T, h *house.House) {
	type figure struct {
		name      string
		value     float64
		low, high float64
	}
	look := func(t *testing.T, name string) []figure {
		a := ownerOf(t, h, name)
		ctx := context.Background()
		var out []figure
		add := func(what string, value, low, high float64) { out = append(out, figure{what, value, low, high}) }
		metric := name == "Skarnvoll"
		pick := func(north, dry [2]float64) (float64, float64) {
			if metric {
				return north[0], north[1]
			}
			return dry[0], dry[1]
		}
		set := func(what string, value float64, north, dry [2]float64) {
			low, high := pick(north, dry)
			add(what, value, low, high)
		}
		mobs, err := h.Herd.Mobs(ctx, a)
		require.NoError(t, err)
		byName := map[string]herd.MobView{}
		for _, m := range mobs {
			byName[m.Name] = m
			require.NotNil(t, m.RateAU)
			require.NotNil(t, m.PerHa)
		}
		cows, small := byName["Cows and calves"], byName["Ewes with twins"]
		if !metric {
			cows, small = byName["Cow–calf pairs"], byName["Does"]
		}
		set("a cow's weight, kg", cows.Classes[0].LiveWeight, [2]float64{590, 650}, [2]float64{560, 620})
		set("a cow eats, kg a day", cows.Classes[0].Intake, [2]float64{13, 16}, [2]float64{12.5, 15.5})
		set("a calf weighs, kg", cows.Classes[1].LiveWeight, [2]float64{115, 145}, [2]float64{95, 130})
		set("a calf eats grass, kg a day", cows.Classes[1].Intake, [2]float64{0.6, 2.5}, [2]float64{0.3, 2})
		set("cows and calves eat, kg a day", cows.Demand.Value, [2]float64{700, 950}, [2]float64{2700, 3600})
		set("grown for that", cows.Grown.Value/cows.Demand.Value, [2]float64{1.6, 2.2}, [2]float64{3.5, 4.5})
		set("a ewe or doe eats, kg a day", small.Classes[0].Intake, [2]float64{2, 2.8}, [2]float64{1.2, 2.4})
		set("a lamb or kid weighs, kg", small.Classes[1].LiveWeight, [2]float64{18, 25}, [2]float64{7, 12})
		set("ewes or does eat, kg a day", small.Demand.Value, [2]float64{180, 320}, [2]float64{200, 380})
		set("stocking rate of the cows, AU/ha", cows.RateAU.Value, [2]float64{2.5, 5}, [2]float64{0.4, 0.7})
		set("ground to an animal unit, ha", cows.PerAU.Value, [2]float64{0.2, 0.4}, [2]float64{1.4, 2.4})
		set("break-even growth of the cows, kg/ha/day", cows.PerHa.Value, [2]float64{30, 50}, [2]float64{8, 16})
		set("days out at grass", cows.DaysOut, [2]float64{130, 160}, [2]float64{120, 140})
		land, err := h.Ground.Land(ctx, a)
		require.NoError(t, err)
		least, most, rest, factor := 1e9, 0.0, 0.0, 0.0
		for _, p := range land.Paddocks {
			least, most = math.Min(least, p.Mass.Mass), math.Max(most, p.Mass.Mass)
			factor = math.Max(factor, math.Abs(math.Log(p.Mass.Factor)))
			if p.RestDays != nil {
				rest = math.Max(rest, *p.RestDays)
			}
		}
		set("the barest paddock, kg/ha", least, [2]float64{700, 1500}, [2]float64{700, 1600})
		set("the fullest paddock, kg/ha", most, [2]float64{2500, 3600}, [2]float64{3500, 5400})
		set("the longest rest, days", rest, [2]float64{230, 300}, [2]float64{240, 400})
		set("how far learned growth strays, ln", factor, [2]float64{0.02, 0.5}, [2]float64{0.02, 0.6})
		ridge, err := h.Today.Ridge(ctx, a)
		require.NoError(t, err)
		set("grass on the farm, kg/ha", ridge.Cover.Value, [2]float64{1500, 2300}, [2]float64{1500, 2600})
		set("± of that, share", ridge.Half/ridge.Cover.Value, [2]float64{0.07, 0.22}, [2]float64{0.08, 0.3})
		set("grass the plan needs, kg/ha", ridge.Needed, [2]float64{1500, 2200}, [2]float64{1200, 1900})
		last := ridge.Days[len(ridge.Days)-1]
		set("± twelve weeks ahead, share", last.Half/last.Cover, [2]float64{0.2, 0.5}, [2]float64{0.12, 0.4})
		growth, err := h.Walk.Growth(ctx, a)
		require.NoError(t, err)
		set("growth, kg/ha/day", growth.Farm.Growth.Value, [2]float64{25, 60}, [2]float64{12, 40})
		set("growth that keeps up, kg/ha/day", growth.Farm.BreakEven.Value, [2]float64{18, 32}, [2]float64{7, 14})
		for _, s := range growth.Swards {
			set("expected of what grew on "+s.Name, s.Expected/s.Rate, [2]float64{0.6, 1.8}, [2]float64{0.5, 2})
		}
		weather, err := h.Walk.Weather(ctx, a)
		require.NoError(t, err)
		set("growth of an ordinary June's, share", weather.Growth.Value, [2]float64{0.7, 1.2}, [2]float64{0.5, 1.2})
		set("water in the soil, mm", weather.Days[len(weather.Days)-1].Water, [2]float64{45, 95}, [2]float64{25, 110})
		year, err := h.Herd.Year(ctx, a, herd.YearInput{})
		require.NoError(t, err)
		grown, eaten := 0.0, 0.0
		for m := range 12 {
			grown, eaten = grown+year.Carrying.Grown[m], eaten+year.Carrying.Eaten[m]
		}
		set("grows in the year, t", grown/1000, [2]float64{220, 380}, [2]float64{1500, 3000})
		set("eaten in the year, t", eaten/1000, [2]float64{140, 230}, [2]float64{380, 600})
		set("eaten of what can be, share", year.Carrying.Figure.Value, [2]float64{0.8, 1.2}, [2]float64{0.7, 1})
		today, err := h.Today.Today(ctx, a)
		require.NoError(t, err)
		for _, m := range today.Mobs {
			set("rest of the next paddock of "+m.Name+", days", *m.Next.Rest, [2]float64{17.9, 320}, [2]float64{59.9, 380})
			set("stay in it, days", m.Next.StayDays, [2]float64{0.5, 20.1}, [2]float64{1, 30.1})
			set("left in it, of what they find", m.Next.MassOut/m.Next.MassIn, [2]float64{0.45, 1}, [2]float64{0.48, 0.85})
		}
		if eyes, err := h.Walk.Eyes(ctx, a); assert.NoError(t, err) && assert.NotEmpty(t, eyes) {
			set("bias of the eye, share", eyes[0].Sight.Bias, [2]float64{-0.15, 0.15}, [2]float64{-0.15, 0.2})
		}
		return out
	}
	for _, name := range []string{"Skarnvoll", "Quillback Flat"} {
		t.Run(name, func(t *testing.T) {
			figures := look(t, name)
			assert.GreaterOrEqual(t, len(figures), 30)
			for _, f := range figures {
				t.Logf("%-48s %10.4g   (%g to %g)", f.name, f.value, f.low, f.high)
				assert.GreaterOrEqual(t, f.value, f.low, f.name)
				assert.LessOrEqual(t, f.value, f.high, f.name)
			}
		})
	}
}

func outAndBack(t *testing.T, service *house.House) {
	ctx, old := context.Background(), ownerOf(t, service, "Skarnvoll")
	me, _, err := service.Farm.SignIn(ctx, Email, Password, farm.Visitor{Address: "test"})
	require.NoError(t, err)
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
