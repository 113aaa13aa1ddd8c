package moves

import (
	"context"
	"math"
	"time"

	"fjell/core/land"
	"fjell/core/quantity"
	"fjell/core/rotation"
	"fjell/core/working"
	"fjell/internal/farm"
)

// StripView is one strip of a stay.
type StripView struct {
	From   time.Time      `json:"from"`
	Until  time.Time      `json:"until"`
	Paced  working.Figure `json:"paced_m"` // how far the front fence is moved, in whole metres
	AreaHa float64        `json:"area_ha"`
	Fence  float64        `json:"front_fence_m"` // 0: the paddock ends there
	Need   float64        `json:"need_kg_dm"`
	Feed   float64        `json:"feed_kg_dm"`
	Down   float64        `json:"short_if_rounded_down_kg_dm"`
	Short  float64        `json:"short_kg_dm"` // the ground does not have it any more
}

// StripsView is a stay in strips.
type StripsView struct {
	Direction float64     `json:"direction_deg"`
	Strips    []StripView `json:"strips" nullable:"false"`
	LeftHa    float64     `json:"left_over_ha"` // of the paddock, when they leave
}

// StripsIn asks for the strips of a stay.
type StripsIn struct {
	MobID  string
	Enter  time.Time
	Along  bool // fences run along the longest side, not across it
	Behind bool // begin at the other end
	Left   *float64
}

// Strips lays a stay of the plan out in strips, as sub-moves with a fence in front and one behind.
func (s *Service) Strips(ctx context.Context, a farm.Actor, in StripsIn) (StripsView, error) {
	v := StripsView{Strips: []StripView{}}
	se, err := s.Season(ctx, a)
	if err != nil {
		return v, err
	}
	m, ok := se.MobIndex[in.MobID]
	if !ok {
		return v, farm.ErrNotFound
	}
	for _, vis := range se.Ahead().Visits {
		if vis.Mob != m || !vis.Enter.Equal(in.Enter) {
			continue
		}
		if at := rotation.MassAt(se.Past().Trace[vis.Paddock], vis.Enter); vis.Fact && at > 0 {
			vis.MassIn = at // what they entered at, not what is left of it now
		}
		if !vis.Held.IsZero() {
			vis.Leave = vis.Held // then they are fed
		}
		region := se.Paddocks[vis.Paddock].Region
		v.Direction = math.Mod(land.LongestSide(region)+90, 180)
		if in.Along {
			v.Direction = math.Mod(v.Direction+90, 180)
		}
		factor := se.Past().Standing[vis.Paddock].Factor
		if factor == 0 {
			factor = 1
		}
		strips, err := se.Farm.Strips(se.Grazers[m], vis, factor, region, rotation.StripsIn{Direction: v.Direction, Reverse: in.Behind, Left: in.Left})
		if err != nil {
			return v, err
		}
		v.LeftHa = region.AreaHa()
		for _, x := range strips {
			v.Strips = append(v.Strips, StripView{x.From, x.Until, x.Figure(), x.AreaHa, x.FrontFenceM, x.Need, x.Feed, x.Down, x.Short})
			v.LeftHa -= x.AreaHa
		}
		v.LeftHa = max(0, v.LeftHa)
		return v, nil
	}
	return v, quantity.Refuse("enter_at", in.Enter.Format(time.RFC3339), "no stay of %s begins then", se.Mobs[m].Name)
}
