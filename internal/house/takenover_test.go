package house_test

import (
	"reflect"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/internal/farm/facts"
	"fjell/internal/farm/today"
	"fjell/internal/farm/walk"
	out "fjell/internal/farm/yard"
	"fjell/internal/store"
)

// What was loaded for an earlier version of a farm's facts and not written since is taken over from there. Nothing may get lost on that way: after
// a write on any one part, every field is as full as if all of it were loaded anew.
func TestAPictureTakenOverIsAsOneLoadedAnew(t *testing.T) {
	y := newYard(t)
	pads := y.field("Sør", 9, 3)
	mob := y.mob("Steers", 20)
	y.measure(pads[0].ID, 2400)
	y.later(1)
	y.move(mob, &pads[0].ID)
	day := store.DayOf(y.now, y.now.Location())
	until := store.DayOf(y.now.AddDate(0, 0, 9), y.now.Location())
	seen, added := 12.0, 0
	writes := map[string]func() error{
		"call": func() error {
			return y.service.Walk.RecordGateCall(y.ctx, y.actor, walk.NewGateCall{ID: id(), MobID: mob, PaddockID: pads[0].ID, SeenAt: y.now, Height: &seen, Said: "stay", Did: "stay"})
		},
		"weather": func() error {
			_, err := y.service.Walk.KeepWeatherDay(y.ctx, y.actor, walk.WeatherDayInput{Day: string(day), Rain: 2, Mean: 12})
			return err
		},
		"condition": func() error {
			return y.service.Today.SayCondition(y.ctx, y.actor, today.NewCondition{ID: id(), Name: "lightning_forecast", Value: true})
		},
		"job": func() error {
			return y.service.Yard.AddJob(y.ctx, y.actor, out.NewJob{ID: id(), Kind: "other", What: "Oil the hinge"})
		},
		"look": func() error {
			return y.service.Yard.RecordLook(y.ctx, y.actor, out.NewLook{ID: id(), PaddockID: pads[0].ID, SeenAt: y.now, Stage: "after"})
		},
		"treatment": func() error {
			return y.service.Yard.RecordTreatment(y.ctx, y.actor, out.NewTreatment{ID: id(), MobID: &mob, Product: "Drench", Given: day, Until: &until})
		},
		"measurement": func() error { y.measure(pads[1].ID, 2000); return nil },
		"mob":         func() error { added++; y.mob(string(rune('A'+added))+" mob", 3); return nil },
		"move": func() error {
			y.later(0.1)
			y.move(mob, &pads[2].ID)
			y.later(0.1)
			y.move(mob, &pads[0].ID)
			return nil
		},
	}
	sizes := func(p *facts.Picture) map[string]int {
		n := map[string]int{}
		v := reflect.ValueOf(p).Elem()
		for i := range v.NumField() {
			switch f := v.Field(i); f.Kind() {
			case reflect.Slice, reflect.Map:
				n[v.Type().Field(i).Name] = f.Len()
			case reflect.Pointer:
				n[v.Type().Field(i).Name] = map[bool]int{true: 0, false: 1}[f.IsNil()]
			}
		}
		return n
	}
	for range 2 { // the second time round everything is there to be lost
		for what, write := range writes {
			require.NoError(t, write(), what)
			se, err := y.service.Today.Season(y.ctx, y.actor)
			require.NoError(t, err)
			anew, err := facts.PictureAt(y.service.Farm.DB, se.Row, y.now, "", nil, nil)
			require.NoError(t, err)
			assert.Equal(t, sizes(anew), sizes(se.Picture), "after a "+what)
		}
	}
}
