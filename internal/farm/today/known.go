package today

import (
	"math"
	"slices"
	"time"

	"fjell/core/grazing"
	"fjell/core/rotation"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// ground is a mob on a paddock: where it stands, or where it goes next.
type ground struct {
	mob, paddock int
	next         *rotation.Visit // nil: they stand there
}

// knownDays is how many days back conditions are followed.
const knownDays = 30

// known is what is on record of a mob on a paddock, by the names of the reference's variables. What nobody wrote down is left out.
func known(s *season.Season, g ground, past rotation.Past) grazing.Known {
	k := skyOf(s, s.Paddocks[g.paddock].Wetness)
	swardOf(k, s, g, past)
	mobOf(k, s, g)
	said(k, s)
	return k
}

// skyOf is the weather of today and of the days before, as far as it is on record; yesterday's stands in for today's until that is.
func skyOf(s *season.Season, wetness string) grazing.Known {
	k := grazing.Known{}
	today := s.Number(s.Now)
	latest := today
	if _, ok := s.Weather.Told(today); !ok {
		latest--
	}
	for ago := range knownDays {
		d, ok := s.Weather.Told(latest - ago)
		if !ok && ago == 0 {
			return k
		}
		day := map[string]any{}
		if ok {
			day = map[string]any{"mean_temperature_c": d.Mean, "wet_sward": d.WetLeaf, "drought_now": d.Stopped, "cloudy_cool_days": float64(d.Dull),
				"soil_saturated": s.Weather.TooWet(wetness, latest-ago), "days_since_rain": days(d.SinceRain), "days_since_frost": days(d.SinceFrost),
				"days_since_drought_break": days(d.SinceDrought)}
			if d.Least != nil {
				day["frost_last_night"], day["night_temperature_c"] = d.Frost, *d.Least
			}
			if d.Most != nil {
				day["air_temperature_c"] = *d.Most
			}
		}
		for _, name := range []string{"mean_temperature_c", "wet_sward", "drought_now", "cloudy_cool_days", "soil_saturated", "days_since_rain", "days_since_frost",
			"days_since_drought_break", "frost_last_night", "night_temperature_c", "air_temperature_c"} {
			k[name] = append(k[name], day[name])
		}
	}
	return k
}

// days is a number of days as a condition has it; nil where it is not known.
func days(n *int) any {
	if n == nil {
		return nil
	}
	return float64(*n)
}

// crops are what the cautions call some swards beside their own names.
var crops = map[string]string{"kale": "fodder_brassica", "forage_rape": "fodder_brassica", "stubble_turnip": "fodder_brassica", "swede": "fodder_brassica",
	"cereal_stubble": "grain_stubble", "guinea_grass": "panicum"}

// swardOf adds what is on record of the ground: where they are to go, or stand, today, and of earlier days where they stood then.
func swardOf(k grazing.Known, s *season.Season, g ground, past rotation.Past) {
	on := stood(s, g.mob)
	on[0] = g.paddock
	for ago, p := range on {
		day := map[string]any{}
		if p != rotation.Nowhere {
			st := past.Standing[p]
			if ago > 0 {
				st.Mass = rotation.MassAt(past.Trace[p], s.Now.AddDate(0, 0, -ago))
			}
			day = groundOn(s, g.mob, p, st)
		}
		for _, name := range groundNames {
			k[name] = append(k[name], day[name])
		}
	}
	if g.next == nil {
		return
	}
	if out := rotation.OutOfFeed(s.Farm, s.Grazers, past.Standing, s.Now); slices.Contains(out, g.mob) {
		k["hungry_on_entry"], k["forage_short"] = grazing.Lasting(true, 0), grazing.Lasting(true, 0)
	}
	k["stay_days"] = grazing.Lasting(g.next.Leave.Sub(g.next.Enter).Hours()/24, 0)
}

// stood is where a mob stood, today first.
func stood(s *season.Season, mob int) []int {
	out := slices.Repeat([]int{rotation.Nowhere}, knownDays)
	for _, stay := range s.Stays {
		if stay.Mob != mob {
			continue
		}
		for ago := range out {
			if at := s.Now.AddDate(0, 0, -ago); !at.Before(stay.Enter) && (stay.Leave.IsZero() || at.Before(stay.Leave)) {
				out[ago] = stay.Paddock
			}
		}
	}
	return out
}

// groundNames are what is told of a paddock on a day.
var groundNames = []string{"legume_share", "sward_hazards", "endophyte_infected", "sward_type", "nesting_season", "growth_kg_dm_ha_day", "sward_height_cm", "planned_residual_cm"}

// groundOn is what is told of a paddock with so much standing in it, for a mob.
func groundOn(s *season.Season, mob, p int, st rotation.Standing) map[string]any {
	pad := s.Paddocks[p]
	legume, names := pad.Sward.LegumeShare, []string{pad.Sward.ID}
	if pad.LegumeShare != nil {
		legume = *pad.LegumeShare
	}
	if crop, ok := crops[pad.Sward.ID]; ok {
		names = append(names, crop)
	}
	growth, _ := s.Farm.GrowthOn(p, st, s.Now)
	out := map[string]any{"legume_share": legume, "sward_hazards": pad.Sward.Hazards, "endophyte_infected": slices.Contains(pad.Sward.Hazards, "endophyte"), "sward_type": names,
		"growth_kg_dm_ha_day": growth, "nesting_season": slices.ContainsFunc(season.Limits(pad), func(l rotation.Limit) bool {
			only := rotation.Paddock{Closures: rotation.Closed("", "", []rotation.Limit{l}, nil, nil, s.Now, s.Location)}
			_, now := only.ClosedAt(s.Now)
			return l.Kind == "nesting" && now
		})}
	if pad.Sward.ByHeight() {
		if !st.Guessed {
			out["sward_height_cm"] = pad.Sward.HeightOf(st.Mass)
		}
		out["planned_residual_cm"] = pad.Sward.HeightOf(s.LimitsOf(mob, p).Entered(st.Mass).Residual)
	}
	return out
}

// mobOf adds what the books say of the animals.
func mobOf(k grazing.Known, s *season.Season, g ground) {
	m, today := s.Mobs[g.mob], s.Number(s.Now)
	var stages, hosts []string
	prone, male := false, false
	for _, t := range s.Untrained {
		_, longer := k["trained_to_electric"]
		if row := s.GroupRow(t.ClassID); row != nil && deref(row.MobID) == m.ID && !longer {
			k["trained_to_electric"] = grazing.Lasting(false, today-dayNumber(t.SinceOn))
		}
	}
	youngest := math.Inf(1)
	for _, c := range s.Classes(m.ID) {
		ref, err := s.Class("", c.ReferenceID)
		if err != nil {
			continue
		}
		stages, hosts = append(stages, ref.Stage), append(hosts, ref.Species)
		prone, male = prone || ref.ParasiteProne, male || ref.Stage == "male"
		if ref.BirthWeight > 0 && c.DailyGainKg > 0 { // young at foot, by their weight
			youngest = min(youngest, max(0, (c.LiveWeightKg-ref.BirthWeight)/c.DailyGainKg))
		}
	}
	k["stage"], k["parasite_prone_class"] = grazing.Lasting(stages, knownDays), grazing.Lasting(prone, knownDays)
	if male {
		k["class_sex"] = grazing.Lasting("male", knownDays)
	}
	here := map[string]bool{}
	for _, group := range s.Groups {
		here[group.ID] = deref(group.MobID) == m.ID
	}
	concerns := func(e store.StockEvent) bool {
		return here[deref(e.FromID)] || here[deref(e.IntoID)] || here[deref(e.OfID)]
	}
	born := math.MaxInt
	for _, e := range s.Events {
		switch {
		case !concerns(e):
		case e.Kind == "birth" && e.HappenedOn != nil:
			born = min(born, today-dayNumber(*e.HappenedOn))
		case e.PlannedOn == nil || e.HappenedOn != nil:
		case e.Kind == "birth":
			countdown(k, "days_to_birth_in_mob", dayNumber(*e.PlannedOn)-today)
		case e.Kind == "mating":
			countdown(k, "days_to_mating", dayNumber(*e.PlannedOn)-today)
		}
	}
	if !math.IsInf(youngest, 1) {
		born = min(born, int(youngest))
	}
	if born >= 0 && born < math.MaxInt {
		k["days_since_birth_in_mob"] = counting(born)
	}
	if since, ok := turnedOut(s, m.ID); ok {
		k["days_on_pasture_this_season"] = counting(since)
	}
	worms(k, s, g, hosts)
}

func dayNumber(d store.Day) int {
	at, err := d.Time(time.UTC)
	if err != nil {
		return 0
	}
	return int(at.Unix() / 86400)
}

// counting is a number of days since something, today and on the days before, back to when it was.
func counting(since int) []any {
	out := make([]any, min(since, knownDays)+1)
	for ago := range out {
		out[ago] = float64(since - ago)
	}
	return out
}

// countdown is a number of days to something that is still to come, the soonest of several.
func countdown(k grazing.Known, name string, to int) {
	if to < 0 || len(k[name]) > 0 && k[name][0].(float64) <= float64(to) {
		return
	}
	k[name] = nil
	for ago := range knownDays {
		k[name] = append(k[name], float64(to+ago))
	}
}

// turnout is how many days off pasture make the next move onto it a turnout. Assumption, ours.
const turnout = 30

// turnedOut is how many days ago a mob last came onto pasture after a long time off it; not ok where no such time is on record.
func turnedOut(s *season.Season, mobID string) (int, bool) {
	off, out := (*time.Time)(nil), (*time.Time)(nil)
	for _, mv := range s.Moves {
		if mv.MobID != mobID {
			continue
		}
		switch {
		case mv.ToPaddockID == nil:
			off = &mv.MovedAt
		case off != nil:
			if mv.MovedAt.Sub(*off) >= turnout*24*time.Hour {
				out = &mv.MovedAt
			}
			off = nil
		}
	}
	if out == nil || off != nil {
		return 0, false
	}
	return s.Number(s.Now) - s.Number(*out), true
}

// worms adds how long ago the paddock last held stock with the same worms, and how long a stay is safe from the larvae of its own.
func worms(k grazing.Known, s *season.Season, g ground, hosts []string) {
	small := func(species []string) bool {
		return slices.Contains(species, "sheep") || slices.Contains(species, "goats")
	}
	same := func(mob int) bool {
		theirs := species(s, s.Mobs[mob].ID)
		return small(theirs) == small(hosts)
	}
	on := stood(s, g.mob)
	on[0] = g.paddock
	for ago, p := range on {
		since := any(nil)
		at := s.Now.AddDate(0, 0, -ago)
		for _, stay := range s.Stays {
			if stay.Paddock == p && !stay.Leave.IsZero() && !stay.Leave.After(at) && stay.Mob < len(s.Mobs) && same(stay.Mob) {
				since = at.Sub(stay.Leave).Hours() / 24 // the latest of them comes last
			}
		}
		k["days_since_same_host"] = append(k["days_since_same_host"], since)
	}
	mean, ok := k["mean_temperature_c"], len(k["mean_temperature_c"]) > 0
	if !ok || len(hosts) == 0 {
		return
	}
	host := "cattle"
	if small(hosts) {
		host = "sheep_goats"
	}
	if out, _, err := grazing.Worms(grazing.WormsIn{Host: host, Temperature: mean[0].(float64)}); err == nil && out.Stay != nil {
		k["longest_stay_days_for_worms"] = grazing.Lasting(*out.Stay, 0)
	}
}

// said adds what people said is so, over what is worked out.
func said(k grazing.Known, s *season.Season) {
	today := s.Number(s.Now)
	for _, c := range s.Conditions {
		from := dayNumber(c.FromDay)
		if from > today || c.UntilDay != nil && dayNumber(*c.UntilDay) <= today {
			continue
		}
		k[c.Name] = grazing.Lasting(c.Value.V, today-from)
	}
}
