package year

import (
	"context"
	"math"
	"slices"
	"strings"
	"time"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/stock"
	"fjell/core/working"
	core "fjell/core/year"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// LandCapacity is how much of today's stock the farm's own feed carries.
type LandCapacity struct {
	ByMonth float64        `json:"by_month" doc:"of today's stock: no month of an ordinary year is short"`
	AtGrass float64        `json:"at_grass" doc:"the same while they are out, what they are fed in the house left aside"`
	BySum   float64        `json:"by_sum" doc:"by the sums of the year, whenever feed comes"`
	Head    float64        `json:"head"`
	Now     float64        `json:"head_now" doc:"mean of the twelve months to come"`
	Start   float64        `json:"head_to_begin_with"`
	Months  []time.Time    `json:"limiting_months" nullable:"false"`
	Figure  working.Figure `json:"figure"`
	Reserve float64        `json:"reserve"`
	Years   float64        `json:"years_on_record"`
	Kept    float64        `json:"kept_on_ground" doc:"share of what the farm grows that grows on ground kept in reserve: it is left out already"`
	Asked   bool           `json:"reserve_asked" doc:"a reserve beside ground kept in reserve was asked for, and is not taken before somebody says that both are meant"`
	Proven  *LandProven    `json:"proven,omitempty" doc:"left out: no whole year is on record"`
}

// LandLately is how the season has gone so far, and what follows if it goes on so.
type LandLately struct {
	Ratio   float64       `json:"of_ordinary"`
	Days    float64       `json:"over_days" doc:"0: there are not two walks to measure it between"`
	Missing float64       `json:"missing_kg_dm" doc:"beyond an ordinary year, if it goes on so"`
	Leave   []DroughtGoes `json:"leave" nullable:"false"`
}

// DroughtGoes is how many of some mobs leave.
type DroughtGoes struct {
	Group string  `json:"group"`
	Head  float64 `json:"head"`
	Where string  `json:"where"`
}

// DroughtLeave is a place in the order in which stock leave.
type DroughtLeave struct {
	Group string  `json:"group"`
	Most  float64 `json:"most_share"`
	Where string  `json:"where"`
	Young float64 `json:"young_share" doc:"of what they eat, by growing and fattening stock: the rest is the breeding herd"`
}

// DroughtDate is a critical date, and what was done on it in the rehearsal.
type DroughtDate struct {
	At    time.Time     `json:"at"`
	Share float64       `json:"share" doc:"of a season's growth that should be there"`
	Acts  float64       `json:"acts_chance"`
	Leave []DroughtGoes `json:"leave" nullable:"false"`
}

// LandOutcome is how the years of a rehearsal come out.
type LandOutcome struct {
	Short float64 `json:"short_chance"`
	High  float64 `json:"missing_high_kg_dm"`
}

// DroughtView is what is done when growth lags, and what came of it in years that were drawn.
type DroughtView struct {
	Own      bool           `json:"own"` // the farm has said so; else it is what is usual
	Trigger  float64        `json:"trigger"`
	Order    []DroughtLeave `json:"order" nullable:"false"`
	Wet      string         `json:"wet"`
	Dates    []DroughtDate  `json:"dates" nullable:"false"`
	Ever     float64        `json:"acts_chance"`
	Needless float64        `json:"needless_chance"`
	Years    int            `json:"years"`
	Without  LandOutcome    `json:"without"`
	With     LandOutcome    `json:"with"`
}

// StockLandView is stock against land.
type StockLandView struct {
	Empty    bool             `json:"empty"`
	Capacity LandCapacity     `json:"capacity"`
	Lately   LandLately       `json:"lately"`
	Drought  DroughtView      `json:"drought"`
	Says     []grazing.Reason `json:"says" nullable:"false"`
	Season   float64          `json:"season_days"`
	AreaHa   float64          `json:"area_ha"`
	Seasons  []LandSeason     `json:"seasons" nullable:"false"`
	Shares   []LandShare      `json:"shares" nullable:"false" doc:"of ground that would feed all stock on the days that fall to it"`
	GrassHa  float64          `json:"grass_alone_ha" doc:"that would feed all stock on every day of the year from grass"`
	Records  []LandRecord     `json:"records" nullable:"false"`
	Stocking StockingInput    `json:"stocking" doc:"the farm as it is, for finding one of the four"`
}

// StockingInput is stock against land with one of its four figures left out.
type StockingInput = stock.SolveIn

// StockingView is the one that was left out.
type StockingView = stock.SolveOut

// Stocking finds whichever of head, days, area and yield is left out; it writes nothing.
func (s *Service) Stocking(_ context.Context, _ farm.Actor, in StockingInput) (StockingView, error) {
	return stock.Solve(in)
}

// stocking is the farm as it is, where it has stock at grass.
func stocking(is core.Stocked) StockingInput {
	in := StockingInput{Harvest: is.Harvest}
	if is.Days > 0 && is.Head > 0 && is.AreaHa > 0 {
		in.Head, in.Days, in.AreaHa, in.YieldHa, in.Each = &is.Head, &is.Days, &is.AreaHa, &is.Yield, is.Each
	}
	return in
}

// LandShare is a kind of ground as it would feed all stock on the days that fall to it.
type LandShare struct {
	Kind   string  `json:"kind" enum:"cool,warm,tropical,both,stockpile"`
	Days   float64 `json:"days"`
	Wanted float64 `json:"wanted_kg_dm"`
	Eaten  float64 `json:"eaten_kg_dm_ha" doc:"to be eaten of a hectare on them"`
	OfDays float64 `json:"of_days"`
	OfLand float64 `json:"of_land"`
	Area   float64 `json:"area_ha"`
}

// LandSeason is ground whose grass grows in one season, and its shares.
type LandSeason struct {
	Kind   string  `json:"kind" enum:"cool,warm,tropical,both"`
	Area   float64 `json:"of_ground"`
	Days   float64 `json:"of_growing_days"`
	Yield  float64 `json:"of_what_grows"`
	PerDay float64 `json:"kg_dm_ha_day"`
}

// Where the farm has not said: what is usual.
const (
	usualTrigger = 0.8
	usualMost    = 0.3
	usualReserve = 0.15
)

// criticalShares are the shares of a season's growth whose dates are looked at.
var criticalShares = []float64{1. / 3, 1. / 2, 2. / 3}

// StockLand is stock against land: what is carried, how the season goes, and what is done when it fails. A negative reserve: the usual one. Where ground is kept in
// reserve, that is the reserve; a share of growth beside it is a second deduction, and taken only when both are meant.
func (s *Service) StockLand(ctx context.Context, a farm.Actor, reserve float64, both bool) (StockLandView, error) {
	months := leastMonths
	out := StockLandView{Seasons: []LandSeason{}, Records: []LandRecord{}, Shares: []LandShare{}, Says: []grazing.Reason{}, Drought: DroughtView{Order: []DroughtLeave{}, Dates: []DroughtDate{}}, Lately: LandLately{Leave: []DroughtGoes{}}, Capacity: LandCapacity{Months: []time.Time{}}}
	v, se, err := s.begin(ctx, a, &months)
	if err != nil {
		return out, err
	}
	c, err := s.caseOf(ctx, se, months, v.Store)
	if err != nil {
		return out, err
	}
	if out.Empty = len(c.Pieces) == 0 || len(c.Groups) == 0; out.Empty {
		return out, nil
	}
	view, err := s.Farm(ctx, a)
	if err != nil {
		return out, err
	}
	records, years, err := s.records(ctx, se)
	if err != nil {
		return out, err
	}
	if reserve >= 0 {
		if err := core.CheckReserve(reserve); err != nil {
			return out, err
		}
	}
	kept, asked := se.Kept(), false
	switch {
	case reserve < 0 && kept > 0:
		reserve = 0
	case reserve < 0:
		reserve = usualReserve
	case kept > 0 && reserve > 0 && !both:
		asked, reserve = true, 0
	}
	proven := c.Proven(records, reserve)
	k, err := core.CarryingCapacity(c, reserve, proven, view.Experience == grazing.Beginner)
	if err != nil {
		return out, err
	}
	out.Capacity = LandCapacity{ByMonth: k.ByMonth, AtGrass: k.AtGrass, BySum: k.BySum, Head: k.Head, Now: c.Head(0, months), Start: k.Start, Months: []time.Time{}, Figure: k.Figure, Reserve: reserve, Years: years, Kept: kept, Asked: asked}
	if proven.Years > 0 {
		out.Capacity.Proven = &LandProven{proven.Years, proven.Share, proven.Least, proven.Head, proven.Figure}
	}
	for _, m := range k.Months {
		out.Capacity.Months = append(out.Capacity.Months, c.Months[m].From)
	}
	out.Season = se.SeasonDays()
	whole, err := s.caseOf(ctx, se, months+1, v.Store) // the first month is what is left of it
	if err != nil {
		return out, err
	}
	for _, s := range whole.Seasons() {
		out.Seasons = append(out.Seasons, LandSeason(s))
	}
	for _, share := range whole.Shares() {
		out.Shares, out.GrassHa = append(out.Shares, LandShare(share)), out.GrassHa+share.Area
	}
	for _, pc := range c.Pieces {
		out.AreaHa += pc.AreaHa
	}
	out.Stocking = stocking(c.Stocked())
	leave, wheres := out.Drought.order(c, se, view.Drought)
	out.Lately.goesOn(c, se, leave, wheres)
	out.Drought.rehearse(c, leave, wheres)
	out.recall(c, records, core.DroughtPlan{Trigger: out.Drought.Trigger, Leave: leave}, wheres)
	out.Says = append(out.Says, core.SayCapacity(k, proven, out.Capacity.Now)...)
	return out, nil
}

// order is who leaves in which order: as the farm said, and those it did not name behind them; the mobs with most growing stock first, so that the breeding herd stays
// longest.
func (v *DroughtView) order(c core.Case, se *season.Season, own store.Drought) (leave []core.Leave, wheres map[int]string) {
	wheres = map[int]string{}
	v.Own, v.Trigger, v.Wet = own.Trigger > 0, usualTrigger, own.Wet
	if v.Own {
		v.Trigger = own.Trigger
	}
	young := make([]float64, len(c.Groups))
	var rest []int
	for g := range c.Groups {
		var mobs []string
		for _, m := range se.Mobs {
			if slices.Contains(strings.Split(c.Groups[g].Name, ", "), m.Name) {
				mobs = append(mobs, m.ID)
			}
		}
		young[g] = se.Young(mobs)
		if !slices.ContainsFunc(own.Leave, func(l store.Leaving) bool { return l.Group == c.Groups[g].Name }) {
			rest = append(rest, g)
		}
	}
	add := func(g int, most float64, where string) {
		v.Order = append(v.Order, DroughtLeave{Group: c.Groups[g].Name, Most: most, Where: where, Young: young[g]})
		leave, wheres[g] = append(leave, core.Leave{Group: g, Most: most}), where
	}
	for _, l := range own.Leave {
		if g := slices.IndexFunc(c.Groups, func(g core.Group) bool { return g.Name == l.Group }); g >= 0 {
			add(g, l.Most, l.Where)
		}
	}
	slices.SortStableFunc(rest, func(a, b int) int { return int(math.Copysign(1, young[b]-young[a])) })
	for _, g := range rest {
		add(g, usualMost, "")
	}
	return leave, wheres
}

// goesOn is what follows for the rest of the season if growth goes on as it was measured lately.
func (v *LandLately) goesOn(c core.Case, se *season.Season, leave []core.Leave, wheres map[int]string) {
	if v.Ratio, v.Days = se.Lately(); v.Days == 0 {
		return
	}
	goes, missing := c.Fit(core.Critical{}, c.GoesOn(v.Ratio), leave)
	v.Missing, v.Leave = missing, going(c, goes, leave, wheres)
}

// going are those that leave, in their order.
func going(c core.Case, head []float64, leave []core.Leave, wheres map[int]string) []DroughtGoes {
	out := []DroughtGoes{}
	for _, l := range leave {
		if n := head[l.Group]; n > 0 {
			out = append(out, DroughtGoes{Group: c.Groups[l.Group].Name, Head: math.Round(n), Where: wheres[l.Group]})
		}
	}
	return out
}

func (v *DroughtView) rehearse(c core.Case, leave []core.Leave, wheres map[int]string) {
	r := core.Rehearse(c, core.DroughtPlan{Trigger: v.Trigger, Leave: leave}, c.CriticalDates(criticalShares...), c.Drawn(weatherYears, 1))
	v.Ever, v.Needless, v.Years = r.Ever, r.Needless, r.Years
	v.Without, v.With = LandOutcome{r.Without.Short, r.Without.Kg.High}, LandOutcome{r.With.Short, r.With.Kg.High}
	for _, d := range r.Dates {
		v.Dates = append(v.Dates, DroughtDate{At: d.At, Share: d.Share, Acts: d.Acts, Leave: going(c, d.Head, leave, wheres)})
	}
}

// DroughtInput is what a farm does when growth lags, and when it is too wet.
type DroughtInput struct {
	Trigger float64         `json:"trigger" doc:"share of ordinary growth below which stock leave"`
	Leave   []DroughtLeaves `json:"leave" nullable:"false" maxItems:"50"`
	Wet     string          `json:"wet"`
}

// DroughtLeaves is whose stock leave, how many at most, and where to.
type DroughtLeaves struct {
	Group string  `json:"group"`
	Most  float64 `json:"most_share"`
	Where string  `json:"where"`
}

// SetDrought keeps what a farm does when growth lags.
func (s *Service) SetDrought(ctx context.Context, a farm.Actor, version int, in DroughtInput) (StockLandView, error) {
	row := store.Drought{Trigger: in.Trigger, Wet: strings.TrimSpace(in.Wet)}
	if !(in.Trigger >= 0.3 && in.Trigger <= 1) {
		return StockLandView{}, quantity.Refuse("trigger", in.Trigger, "must be 30 to 100 %%: below that it comes too late, above it any year is a drought")
	}
	if n := len([]rune(row.Wet)); n > mostReason {
		return StockLandView{}, quantity.Refuse("wet", n, "at most %d letters", mostReason)
	}
	for _, l := range in.Leave {
		where := strings.TrimSpace(l.Where)
		switch {
		case !(l.Most >= 0 && l.Most <= 1):
			return StockLandView{}, quantity.Refuse("most_share", l.Most, "must be 0 to 100 %%")
		case len([]rune(where)) > 120:
			return StockLandView{}, quantity.Refuse("where", len([]rune(where)), "at most 120 letters")
		}
		row.Leave = append(row.Leave, store.Leaving{Group: l.Group, Most: l.Most, Where: where})
	}
	err := s.Write(ctx, a, farm.Request{Kind: "drought", Body: []any{version, in}}, func(tx *facts.Writing) error {
		if err := tx.BumpFarm(version); err != nil {
			return err
		}
		return tx.Model(&store.Farm{}).Where("id = ?", a.FarmID).Update("drought", store.JSON[store.Drought]{V: row}).Error
	})
	return farm.After(err, func() (StockLandView, error) { return s.StockLand(ctx, a, -1, false) })
}

// DivideInput asks whether to divide further or to buy land, by the user's own figures.
type DivideInput = core.Divide

// DivideView is what comes of it.
type DivideView struct {
	TurnsNow   float64        `json:"turns_now"`
	TurnsThen  float64        `json:"turns_then"`
	TonnesNow  float64        `json:"eaten_now_kg_dm_ha"`
	TonnesThen float64        `json:"eaten_then_kg_dm_ha"`
	Extra      float64        `json:"extra_kg_dm"`
	Hectares   float64        `json:"equivalent_ha"`
	Cost       float64        `json:"cost"`
	LandCost   float64        `json:"land_cost"`
	PerTonne   *float64       `json:"cost_a_tonne,omitempty"`
	Payback    *float64       `json:"payback_years,omitempty" doc:"left out: it never pays, or a tonne has no worth"`
	Figure     working.Figure `json:"figure"`
}

// DivideOrBuy sets a further division against more land; it writes nothing.
func (s *Service) DivideOrBuy(_ context.Context, _ farm.Actor, in DivideInput) (DivideView, error) {
	d, err := core.DivideOrBuy(in)
	if err != nil {
		return DivideView{}, err
	}
	out := DivideView{TurnsNow: d.TurnsNow, TurnsThen: d.TurnsThen, TonnesNow: 1000 * d.TonnesNow, TonnesThen: 1000 * d.TonnesThen, Extra: 1000 * d.Extra, Hectares: d.Hectares, Cost: d.Cost, LandCost: d.LandCost, Figure: d.Figure}
	if !math.IsInf(d.PerTonne, 1) {
		out.PerTonne = &d.PerTonne
	}
	if !math.IsInf(d.Payback, 1) {
		out.Payback = &d.Payback
	}
	return out, nil
}
