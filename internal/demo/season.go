package demo

import (
	"context"
	"fmt"
	"math"
	"time"

	"fjell/core/forage"
	"fjell/core/grazing"
	"fjell/core/measuring"
	"fjell/core/reference"
	"fjell/core/rotation"
	"fjell/internal/farm/ground"
	"fjell/internal/farm/moves"
	"fjell/internal/farm/walk"
)

// lastSeason is the year before: walked every so many days, moved by somebody who sees what stands there.
func (b *builder) lastSeason(ctx context.Context) error {
	var err error
	if b.truth, err = b.makeTruth(ctx); err != nil {
		return err
	}
	from, until := b.day(b.site.year[0], 8), b.day(b.site.year[1], 8)
	for at := from; at.Before(until); at = at.AddDate(0, 0, 7) {
		if int(at.Sub(from).Hours()/24+0.5)%b.walksEvery < 7 {
			if err := b.hold(ctx, at); err != nil {
				return err
			}
			if err := b.walk(ctx, at); err != nil {
				return err
			}
		}
		if err := b.hayOf(ctx, at, at.AddDate(0, 0, 7)); err != nil {
			return err
		}
		for m, spec := range b.mobs {
			out, in := b.day("2025-"+spec.turnout[0], 8), b.day("2025-"+spec.turnout[1], 8)
			begin, end := at, at.AddDate(0, 0, 7)
			if begin.Before(out) {
				begin = out
			}
			if end.After(in) {
				end = in
			}
			if !begin.Before(end) {
				continue
			}
			if err := b.week(ctx, m, begin, end); err != nil {
				return err
			}
			if end.Equal(in) {
				if err := b.goTo(ctx, m, "", in); err != nil {
					return err
				}
			}
		}
	}
	return nil
}

// hayOf cuts the fields that were cut in a week of last year.
func (b *builder) hayOf(ctx context.Context, from, until time.Time) error {
	for name, hay := range b.hay {
		at := b.day(hay[2], 12)
		if at.Before(from) || !at.Before(until) {
			continue
		}
		if err := b.hold(ctx, at); err != nil {
			return err
		}
		view, err := b.house.Ground.Land(ctx, b.actor)
		if err != nil {
			return err
		}
		for _, p := range view.Paddocks {
			if p.FieldID != b.fieldIDs[name] {
				continue
			}
			left := 7.0
			sward, err := reference.Load().Sward(p.SwardID)
			if err != nil {
				return err
			}
			stubble := forage.HeightMass(left, sward.StopHeight, sward.Residual, sward.MassPerCm.Medium)
			cut := ground.CutInput{ID: b.id(), On: hay[2], HeightLeft: &left, Confirmed: true, Bales: b.bales((p.Mass.Mass - stubble) * p.AreaHa)}
			if _, err := b.house.Ground.Cut(ctx, b.actor, p.ID, cut); err != nil {
				return fmt.Errorf("cut of %s: %w", p.Name, err)
			}
			b.truth.cut(p.ID, at, stubble)
		}
	}
	return nil
}

// week moves one mob for some days, as a plan over what truly stands has it.
func (b *builder) week(ctx context.Context, m int, from, until time.Time) error {
	t := b.truth
	alone := t.mobs[m : m+1]
	standing := t.stands(from)
	ground := append([]bool(nil), alone[0].Ground...)
	for k, other := range t.mobs {
		if k != m && other.In != rotation.Nowhere {
			ground[other.In] = false
		}
	}
	one := alone[0]
	one.Ground = ground
	plan := rotation.Schedule(t.farm, []rotation.Mob{one}, standing, nil, from.Add(-time.Minute), until)
	for _, v := range plan.Visits {
		if v.Fact {
			continue
		}
		if err := b.goTo(ctx, m, t.names[v.Paddock], v.Enter); err != nil {
			return err
		}
	}
	return nil
}

// goTo writes a move down, with what somebody saw standing as they left; to "" takes them off the pasture.
func (b *builder) goTo(ctx context.Context, m int, to string, at time.Time) error {
	if err := b.hold(ctx, at); err != nil {
		return err
	}
	mv := moves.NewMove{ID: b.id(), MobID: b.truth.mobs[m].ID, MovedAt: at, Confirmed: true, Note: "as it was"}
	if to != "" {
		mv.ToID = &to
	}
	if in := b.truth.mobs[m].In; in != rotation.Nowhere {
		left := math.Round(b.truth.stands(at)[in].Mass*(1+0.06*b.rng.NormFloat64())/10) * 10
		mv.LeftMass = &left
	}
	if _, err := b.house.Moves.RecordMove(ctx, b.actor, mv); err != nil {
		return fmt.Errorf("move of %s: %w", b.truth.mobs[m].Name, err)
	}
	b.truth.moved(m, to, at)
	return nil
}

// thisSeason walks every week and moves the mobs when Fjell's own plan says so, half a day at a time.
func (b *builder) thisSeason(ctx context.Context) error {
	first := b.day(b.spring, 8)
	due, err := first, error(nil)
	if err := b.hold(ctx, first); err != nil {
		return err
	}
	if err := b.newPlan(ctx, first); err != nil {
		return err
	}
	for day := 0; ; day++ {
		for _, hour := range []int{8, 18} {
			at := time.Date(first.Year(), first.Month(), first.Day()+day, hour, 0, 0, 0, b.loc)
			if at.After(Now) {
				return b.thisMorning(ctx)
			}
			if hour == 8 && day%7 == 0 && at.Before(Now.AddDate(0, 0, -2)) {
				if err := b.hold(ctx, at); err != nil {
					return err
				}
				if err := b.walk(ctx, at); err != nil {
					return err
				}
				due = at // what was measured may change the plan
				if day > 0 && day == b.decides {
					if err := b.decide(ctx); err != nil {
						return err
					}
				}
			}
			if at.Before(due) {
				continue
			}
			if due, err = b.followPlan(ctx, at); err != nil {
				return err
			}
		}
	}
}

// followPlan moves every mob that is out and due, and tells when the next one is.
func (b *builder) followPlan(ctx context.Context, at time.Time) (due time.Time, err error) {
	out, due := map[string]int{}, at.AddDate(0, 0, 7)
	for m, spec := range b.mobs {
		if turnout := b.day("2026-"+spec.turnout[0], 8); !at.Before(turnout) {
			out[b.truth.mobs[m].ID] = m
		} else if turnout.Before(due) {
			due = turnout
		}
	}
	if len(out) == 0 {
		return due, nil
	}
	if err := b.hold(ctx, at); err != nil {
		return due, err
	}
	for {
		today, err := b.house.Today.Today(ctx, b.actor)
		if err != nil {
			return due, err
		}
		moved := false
		for _, v := range today.Mobs {
			m, here := out[v.MobID]
			switch {
			case !here || v.Next == nil:
			case v.Next.Enter.After(at.Add(time.Hour)):
				if v.Next.Enter.Before(due) {
					due = v.Next.Enter
				}
			case !moved: // then the others' plans are others
				if err := b.goTo(ctx, m, v.Next.PaddockID, at); err != nil {
					return due, err
				}
				moved = true
				delete(out, v.MobID)
			}
		}
		if !moved {
			return due, nil
		}
		for m := range b.mobs {
			if b.truth.mobs[m].In != rotation.Nowhere && b.truth.mobs[m].Since.Equal(at) {
				out[b.truth.mobs[m].ID] = m
			}
		}
	}
}

// newPlan starts a plan by the farm's ways of grazing.
func (b *builder) newPlan(ctx context.Context, at time.Time) error {
	plan := moves.NewPlan{ID: b.id(), PlanInput: moves.PlanInput{StartsOn: at.In(b.loc).Format(time.DateOnly), Days: 60, Confirmed: true}}
	for _, m := range b.mobs {
		plan.Mobs = append(plan.Mobs, moves.PlanMobInput{MobID: b.mobIDs[m.in.Name], School: m.school})
	}
	if _, err := b.house.Moves.CreatePlan(ctx, b.actor, plan); err != nil {
		return fmt.Errorf("plan: %w", err)
	}
	return nil
}

// thisMorning starts the plan that the farm looks at on the demo's morning.
func (b *builder) thisMorning(ctx context.Context) error {
	if err := b.hold(ctx, Now); err != nil {
		return err
	}
	return b.newPlan(ctx, Now)
}

// walk measures every paddock by what suits its sward, with an error of the day that all of them share, one of the paddock, and one
// of each reading; the walker guesses first, and learns.
func (b *builder) walk(ctx context.Context, at time.Time) error {
	truth := b.truth.stands(at)
	view, err := b.house.Walk.Walk(ctx, b.actor)
	if err != nil {
		return err
	}
	theDay := 1 + 0.025*b.rng.NormFloat64()
	weeks := at.Sub(b.truth.first).Hours() / 24 / 7
	for _, stop := range view.Stops {
		mass := truth[b.truth.index[stop.PaddockID]].Mass
		bias := theDay * (1 + 0.025*b.rng.NormFloat64())
		// The eye is trained as the seasons go: it begins a fifth too high and ends near.
		guess := math.Round(mass*(1+0.22*math.Exp(-weeks/6))*math.Exp((0.08+0.12*math.Exp(-weeks/6))*b.rng.NormFloat64())/50) * 50
		in := measuring.Input{Guess: &guess}
		if stop.Plate != nil {
			in.Method = forage.Plate
			for range 18 {
				cm := (mass - stop.Plate.Intercept) / stop.Plate.Slope * bias * math.Exp(0.22*b.rng.NormFloat64()-0.02)
				in.Readings = append(in.Readings, math.Max(1, math.Round(cm*2)/2))
			}
		} else {
			in.Method = forage.Clip
			frame, dry := 0.5, 0.6
			in.Quadrat, in.DryShare = &frame, &dry
			for range 8 {
				in.Readings = append(in.Readings, math.Max(1, math.Round(mass*bias*math.Exp(0.2*b.rng.NormFloat64()-0.02)/10/dry*frame)))
			}
		}
		if err := b.house.Walk.RecordMeasurement(ctx, b.actor, walk.NewMeasurement{ID: b.id(), PaddockID: stop.PaddockID, MeasuredAt: at, Confirmed: true, Input: in}); err != nil {
			return fmt.Errorf("walk of %s: %w", stop.Name, err)
		}
	}
	return nil
}

// school is one of the ways of grazing, changed as a farm has it.
func school(key string, change func(*grazing.School)) grazing.School {
	s, err := grazing.FindSchool(key)
	if err != nil {
		panic(err)
	}
	if change != nil {
		change(&s)
	}
	return s
}
