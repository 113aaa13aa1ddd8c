package ground

import (
	"context"
	"fmt"
	"math"

	"fjell/core/grazing"
	"fjell/core/land"
	"fjell/core/quantity"
	"fjell/core/rotation"
	"fjell/core/working"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// leastWidthM is the narrowest paddock Fjell divides into unless a farm says otherwise.
const leastWidthM = 12

// DivideInput asks for a field divided, by one of six intents.
type DivideInput struct {
	Intent      string  `json:"intent,omitempty" enum:"area,feed,size,strips,lane,water"`
	Parts       float64 `json:"parts,omitempty"`
	Direction   float64 `json:"direction_degrees"`
	LeastWidth  float64 `json:"least_width_m,omitempty"`
	Basis       string  `json:"basis,omitempty" enum:"usual,today" doc:"feed by what the ground usually grows, or by what stands today"`
	Size        float64 `json:"paddock_size_ha,omitempty"`
	Days        float64 `json:"paddock_days,omitempty" doc:"size by days of feed for the mob instead"`
	Width       float64 `json:"strip_width_m,omitempty"`
	Posts       float64 `json:"posts,omitempty" doc:"strip width as so many gaps between posts"`
	PostSpacing float64 `json:"post_spacing_m,omitempty"`
	Reverse     bool    `json:"reverse,omitempty" doc:"strips are counted from the other side"`
	LaneID      string  `json:"lane_id,omitempty"`
	WaterID     string  `json:"water_id,omitempty"`
	MobID       string  `json:"mob_id,omitempty"`
	Stay        float64 `json:"stay_days,omitempty"`
	Rest        float64 `json:"rest_days,omitempty"`
}

// PartView is one paddock of a division that is being looked at.
type PartView struct {
	Name        string     `json:"name"`
	Shape       land.Shape `json:"shape" nullable:"false"`
	AreaHa      float64    `json:"area_ha"`
	SquareM     float64    `json:"square_m" doc:"side of the square it would make"`
	FenceM      float64    `json:"fence_m"`
	FrontFenceM float64    `json:"front_fence_m"`
	BackFenceM  float64    `json:"back_fence_m"`
	WidthM      float64    `json:"width_m"`
	Pieces      int        `json:"pieces"`
	Touches     bool       `json:"touches"`
	Feed        float64    `json:"feed_kg_dm"`
	Days        *float64   `json:"days" nullable:"true"`
	Water       bool       `json:"water"`
}

// DivisionView is a division that is being looked at.
type DivisionView struct {
	Intent       string                `json:"intent"`
	Direction    float64               `json:"direction_degrees"`
	LongestSide  float64               `json:"longest_side_degrees"`
	Parts        []PartView            `json:"parts" nullable:"false"`
	Cuts         [][]land.Position     `json:"cuts" nullable:"false"`
	Figures      grazing.LayoutFigures `json:"figures"`
	GrazeableHa  float64               `json:"grazeable_ha"`
	Corners      int                   `json:"corners"`
	Gates        int                   `json:"gates"`
	Dry          int                   `json:"dry" doc:"paddocks without water of their own"`
	LeaveHere    []land.Position       `json:"leave_standing" nullable:"false" doc:"where a temporary layout leaves a corner post all season"`
	OneAtATimeM  float64               `json:"one_at_a_time_m" doc:"fence needed when only the next paddock is fenced at a time"`
	Whole        bool                  `json:"whole"`
	WholeNearest *float64              `json:"whole_nearest_degrees" nullable:"true"`
	MobsStanding []string              `json:"mobs_standing" nullable:"false"`
}

// Divide previews a division. Nothing is written.
func (s *Service) Divide(ctx context.Context, a farm.Actor, fieldID string, in DivideInput) (DivisionView, error) {
	p, err := s.Picture(ctx, a)
	if err != nil {
		return DivisionView{}, err
	}
	w, err := benchFor(p, fieldID, &in)
	if err != nil {
		return DivisionView{}, err
	}
	d, err := w.divide(in)
	if err != nil {
		return DivisionView{}, err
	}
	return w.view(in, d)
}

// LeastFenceView is the direction in which equal paddocks need least new fence.
type LeastFenceView struct {
	Direction float64        `json:"direction_degrees"`
	NewFence  working.Figure `json:"new_fence"`
	Dry       int            `json:"dry"`
}

// LeastFence searches all directions for the one with least new fence.
func (s *Service) LeastFence(ctx context.Context, a farm.Actor, fieldID string, in DivideInput) (LeastFenceView, error) {
	p, err := s.Picture(ctx, a)
	if err != nil {
		return LeastFenceView{}, err
	}
	if in.Intent != "feed" {
		in.Intent = "area"
	}
	w, err := benchFor(p, fieldID, &in)
	if err != nil {
		return LeastFenceView{}, err
	}
	in.Direction, _ = land.LeastFence(w.ground, int(in.Parts), w.zonesFor(in)...)
	d, err := w.divide(in)
	if err != nil {
		return LeastFenceView{}, err
	}
	v, err := w.view(in, d)
	return LeastFenceView{v.Direction, v.Figures.NewFence, v.Dry}, err
}

// workbench is a field laid out to be divided: its grazeable ground, what it grows and what stands on it.
type workbench struct {
	*season.Season
	field    facts.Field
	ground   land.Region
	standing []rotation.Standing
	usual    []land.Zone // kg DM a hectare between residual and entry, by productivity
	today    []land.Zone // kg DM a hectare above the residual that will be eaten
	mob      int         // −1 for none
	water    []land.Point
}

func benchFor(p *facts.Picture, fieldID string, in *DivideInput) (*workbench, error) {
	f, err := fieldByID(p, "", fieldID)
	if err != nil {
		return nil, err
	}
	if in.LeastWidth == 0 {
		in.LeastWidth = leastWidthM
	}
	if in.Intent == "" {
		in.Intent = "area"
	}
	if in.Intent != "area" && in.Intent != "feed" && in.Intent != "lane" && in.Intent != "water" && in.Parts == 0 {
		in.Parts = 1
	}
	if err := farm.Judge(in, true); err != nil {
		return nil, err
	}
	se, err := season.Of(p)
	if err != nil {
		return nil, err
	}
	w := &workbench{Season: se, field: f, mob: -1, standing: se.Past().Standing}
	if w.ground, err = grazeable(p, f); err != nil {
		return nil, err
	}
	if in.MobID != "" {
		m, ok := se.MobIndex[in.MobID]
		if !ok {
			return nil, quantity.Refuse("mob_id", in.MobID, "is not a mob of this farm")
		}
		w.mob = m
	}
	for _, m := range p.Marks {
		if m.Kind == "water" {
			w.water = append(w.water, p.Plane.Forward(m.Path.At[0]))
		}
	}
	return w, w.weigh()
}

// grazeable is a field's ground without its exclusions and lanes.
func grazeable(p *facts.Picture, f facts.Field) (land.Region, error) {
	ground := p.Plane.Project(f.Shape.Shape.Shape)
	if len(f.Exclusions) == 0 {
		return ground, nil
	}
	var holes []land.Region
	for _, e := range f.Exclusions {
		holes = append(holes, p.Plane.Project(e.Shape.Shape))
	}
	ground, err := land.Without(ground, holes...)
	if err != nil {
		return nil, fmt.Errorf("grazeable ground of %s: %w", f.Name, err)
	}
	return ground, nil
}

// weigh lays out what the ground grows and carries: each present paddock with its own figures, zones on top of them.
func (w *workbench) weigh() error {
	var usual, today []land.Bed
	for i, pad := range w.Paddocks {
		if pad.FieldID != w.field.ID {
			continue
		}
		l := w.Limits(i)
		if w.mob >= 0 {
			l = w.LimitsOf(w.mob, i)
		}
		bed := land.Bed{Region: pad.Region, AreaHa: pad.Shape.AreaHa, Weight: l.Usual(pad.GrowthFactor), Factor: pad.GrowthFactor}
		usual = append(usual, bed)
		bed.Weight = l.Above(w.standing[i].Mass)
		today = append(today, bed)
	}
	if len(usual) == 0 {
		return quantity.Refuse("field", nil, "%s has no paddock yet", w.field.Name)
	}
	var err error
	if w.usual, err = land.Weigh(w.ground, usual, patches(w.Season, w.field)); err != nil {
		return err
	}
	w.today, err = land.Weigh(w.ground, today, patches(w.Season, w.field))
	return err
}

// patches are a field's zones as ground that grows by a factor of its own.
func patches(s *season.Season, f facts.Field) []land.Patch {
	out := make([]land.Patch, len(f.Zones))
	for i, z := range f.Zones {
		out[i] = land.Patch{Name: z.Name, Region: s.Plane.Project(z.Shape.Shape), Factor: z.GrowthFactor}
	}
	return out
}

// zonesFor are the zones an input shares out by: none for area.
func (w *workbench) zonesFor(in DivideInput) []land.Zone {
	switch {
	case in.Intent == "size" && in.Days > 0, in.Basis == "today" && in.Intent != "area":
		return w.today
	case in.Intent == "feed", in.Basis == "usual" && (in.Intent == "lane" || in.Intent == "water"):
		return w.usual
	}
	return nil
}

func (w *workbench) divide(in DivideInput) (land.Division, error) {
	zones := w.zonesFor(in)
	n := int(in.Parts)
	var d land.Division
	var err error
	switch in.Intent {
	case "area", "feed":
		d, err = land.Divide(w.ground, n, in.Direction, zones...)
	case "size":
		d, err = w.divideBySize(in, zones)
	case "strips":
		width := in.Width
		if in.Posts > 0 {
			if in.PostSpacing == 0 {
				return d, quantity.Refuse("post_spacing_m", 0, "say how far apart the posts stand")
			}
			width = in.Posts * in.PostSpacing
		}
		d, err = land.Strips(w.ground, width, in.Direction, in.Reverse)
		in.LeastWidth = 0 // strips are as narrow as they are asked for
	case "lane":
		lane, ok := w.mark(in.LaneID, "lane")
		if !ok {
			return d, quantity.Refuse("lane_id", in.LaneID, "draw a lane first, and choose it")
		}
		path := make(land.Path, len(lane.Path.At))
		for i, pos := range lane.Path.At {
			path[i] = w.Plane.Forward(pos)
		}
		d, err = land.DivideAlong(w.ground, n, path, zones...)
	case "water":
		water, ok := w.mark(in.WaterID, "water")
		if !ok {
			return d, quantity.Refuse("water_id", in.WaterID, "mark a water point first, and choose it")
		}
		d, err = land.DivideAround(w.ground, n, w.Plane.Forward(water.Path.At[0]), in.Direction, zones...)
	default:
		err = quantity.Refuse("intent", in.Intent, "must be area, feed, size, strips, lane or water")
	}
	if err != nil {
		return d, err
	}
	return d, w.wideEnough(in, d)
}

func (w *workbench) mark(id, kind string) (store.Mark, bool) {
	for _, m := range w.Marks {
		if m.ID == id && m.Kind == kind {
			return m, true
		}
	}
	return store.Mark{}, false
}

// divideBySize divides into paddocks of so many hectares, or of so many days for a mob by what stands today. A count
// beside the size must fit the field.
func (w *workbench) divideBySize(in DivideInput, zones []land.Zone) (land.Division, error) {
	size, whole, unit := in.Size, w.ground.AreaHa(), "ha"
	if in.Days > 0 {
		if w.mob < 0 {
			return land.Division{}, quantity.Refuse("mob_id", "", "days of feed need a mob that eats it")
		}
		demand := w.DemandNow(w.mob)
		size, unit, whole = in.Days*demand, "kg DM", 0
		for _, z := range zones {
			whole += z.Region.AreaHa() * z.Weight
		}
	}
	if size <= 0 {
		return land.Division{}, quantity.Refuse("paddock_size_ha", in.Size, "say how large a paddock should be")
	}
	if n := in.Parts; n > 1 && n*size > whole*(1+1e-6) {
		return land.Division{}, quantity.Refuse("parts", int(n), "%.0f paddocks × %.4g %s = %.4g %s, but %s has %.4g %s: %d fit", n, size, unit, n*size, unit,
			w.field.Name, whole, unit, int(whole/size+1e-6))
	}
	return land.DivideBySize(w.ground, size, in.Direction, zones...)
}

func (w *workbench) wideEnough(in DivideInput, d land.Division) error {
	narrowest := math.Inf(1)
	for i, part := range d.Parts {
		if part.WidthM > 0 && !(in.Intent == "size" && i == len(d.Parts)-1) { // what is left over may be narrow
			narrowest = math.Min(narrowest, part.WidthM)
		}
	}
	if narrowest >= in.LeastWidth-1e-6 {
		return nil
	}
	if in.Intent == "area" || in.Intent == "feed" {
		most := land.MostParts(w.ground, len(d.Parts), in.Direction, in.LeastWidth, w.zonesFor(in)...)
		return quantity.Refuse("parts", len(d.Parts), "some of these paddocks would be only %.1f m wide; at %g m or more there is room for %d in this direction",
			narrowest, in.LeastWidth, most)
	}
	return quantity.Refuse("parts", len(d.Parts), "some of these paddocks would be only %.1f m wide, less than %g m", narrowest, in.LeastWidth)
}

func (w *workbench) view(in DivideInput, d land.Division) (DivisionView, error) {
	out := DivisionView{Intent: in.Intent, Direction: d.Direction, LongestSide: land.LongestSide(w.ground), GrazeableHa: w.ground.AreaHa(), Whole: d.Whole,
		Parts: []PartView{}, Cuts: [][]land.Position{}, LeaveHere: []land.Position{}, MobsStanding: standingIn(w.Season.Picture, w.field.ID)}
	figures := grazing.LayoutIn{NewFenceM: d.NewFenceM, Stay: in.Stay, Rest: in.Rest, SharedIs: quantity.Kilogram}
	if w.mob >= 0 {
		figures.Demand = w.DemandNow(w.mob)
		for i, pad := range w.Paddocks {
			if _, closed := w.Farm.Paddocks[i].ClosedAt(w.Now); !closed && pad.FieldID != w.field.ID && w.Grazers[w.mob].Ground[i] {
				figures.Others++
			}
		}
	}
	for i, part := range d.Parts {
		feed, err := land.Carried(part.Region, w.today)
		if err != nil {
			return out, err
		}
		shared, err := land.Carried(part.Region, w.usual)
		if err != nil {
			return out, err
		}
		if in.Basis == "today" || in.Days > 0 {
			shared = feed
		}
		p := PartView{Name: fmt.Sprintf("%s %d", w.field.Name, i+1), Shape: w.Plane.Unproject(part.Region), AreaHa: part.AreaHa, SquareM: land.SquareM(part.AreaHa),
			FenceM: part.FenceM, FrontFenceM: part.FrontFenceM, BackFenceM: part.BackFenceM, WidthM: part.WidthM, Pieces: part.Pieces, Touches: part.Touches, Feed: feed}
		if figures.Demand > 0 {
			days := feed / figures.Demand
			p.Days = &days
		}
		toWater, own := part.Region.ToWater(w.water)
		p.Water = own
		if !own {
			out.Dry++
		}
		out.OneAtATimeM = math.Max(out.OneAtATimeM, part.NewFenceM())
		out.Parts = append(out.Parts, p)
		figures.Parts = append(figures.Parts, grazing.LayoutPart{AreaHa: part.AreaHa, Shared: shared, Feed: feed, ToWaterM: toWater})
	}
	corners := d.Corners()
	out.Corners, out.Gates = len(corners), w.gatesNeeded(d)
	for _, c := range corners {
		out.LeaveHere = append(out.LeaveHere, w.Plane.Inverse(c))
	}
	for _, c := range d.Cuts {
		var line []land.Position
		for _, pt := range c {
			line = append(line, w.Plane.Inverse(pt))
		}
		out.Cuts = append(out.Cuts, line)
	}
	if !d.Whole && (in.Intent == "area" || in.Intent == "feed") {
		if best, ok := land.NearestWhole(w.ground, len(d.Parts), in.Direction, w.zonesFor(in)...); ok {
			out.WholeNearest = &best
		}
	}
	var err error
	out.Figures, err = grazing.Layout(figures)
	return out, err
}

// gatesNeeded counts the parts that no gate on the map opens into.
func (w *workbench) gatesNeeded(d land.Division) int {
	need := 0
	for _, part := range d.Parts {
		has := false
		for _, m := range w.Marks {
			has = has || m.Kind == "gate" && part.Region.Borders(w.Plane.Forward(m.Path.At[0]))
		}
		if !has {
			need++
		}
	}
	return need
}

// standingIn lists the mobs that stand in a field.
func standingIn(p *facts.Picture, fieldID string) []string {
	out := []string{}
	for mob, paddock := range where(p) {
		if i, ok := p.ByID[paddock]; ok && p.Paddocks[i].FieldID == fieldID {
			out = append(out, mob)
		}
	}
	return out
}

// where tells the paddock each mob was last moved to.
func where(p *facts.Picture) map[string]string {
	at := map[string]string{}
	for _, mv := range p.Moves {
		delete(at, mv.MobID)
		if mv.ToPaddockID != nil {
			at[mv.MobID] = *mv.ToPaddockID
		}
	}
	live := map[string]string{}
	for _, m := range p.Mobs {
		if pad, ok := at[m.ID]; ok {
			live[m.ID] = pad
		}
	}
	return live
}
