package herd

import (
	"fmt"
	"sort"
	"strings"
	"time"
	"unicode"

	"gorm.io/gorm"

	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/core/stock"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// What a person says of a mob, looked at before it is kept.

func (in *MobInput) check(p *facts.Picture) error {
	var err error
	if in.Name, err = farm.CheckName("name", in.Name); err != nil {
		return err
	}
	in.Letter = strings.ToUpper(strings.TrimSpace(in.Letter))
	if in.Letter == "" {
		in.Letter = strings.ToUpper(string([]rune(in.Name)[:1]))
	}
	if len([]rune(in.Letter)) != 1 {
		return quantity.Refuse("letter", in.Letter, "one letter marks a mob on the map")
	}
	known := false
	for _, g := range Glyphs {
		known = known || g == in.Glyph
	}
	if !known {
		return quantity.Refuse("glyph", in.Glyph, "must be one of %s", strings.Join(Glyphs, ", "))
	}
	if err := in.checkDays(p); err != nil {
		return err
	}
	if len(in.Classes) == 0 {
		return quantity.Refuse("classes", 0, "a mob needs at least one class of animals")
	}
	if len(in.Classes) > 20 {
		return quantity.Refuse("classes", len(in.Classes), "a mob has at most 20 classes")
	}
	var strange []quantity.Problem
	head := 0.0
	for i := range in.Classes {
		c := &in.Classes[i]
		field := fmt.Sprintf("classes[%d].", i)
		ref, err := p.Class(field+"reference_id", c.ReferenceID)
		if err != nil {
			return err
		}
		if c.Name = strings.TrimSpace(c.Name); c.Name == "" {
			c.Name = ref.Name
		}
		head += c.Count
		strange = append(strange, unlike(field, ref, c.LiveWeight, c.IntakeShare)...)
		for k, s := range c.Supplements {
			if err := checkSupplement(fmt.Sprintf("%ssupplements[%d].", field, k), s); err != nil {
				return err
			}
		}
	}
	if head == 0 {
		return quantity.Refuse("classes[0].count", 0, "a mob needs at least one animal")
	}
	if err := farm.Judge(in, in.Confirmed); err != nil {
		return err
	}
	if len(strange) > 0 && !in.Confirmed {
		return &farm.Unusual{Problems: strange}
	}
	return nil
}

// checkDays looks at the day they came, and at the stretches in the house, which follow one another.
func (in *MobInput) checkDays(p *facts.Picture) error {
	today := p.Number(p.Now)
	if in.HereSince != "" {
		if _, err := store.Day(in.HereSince).Time(time.UTC); err != nil {
			return quantity.Refuse("here_since", in.HereSince, "must be a day, such as 2026-05-01")
		}
		if n := facts.DayNumber(store.Day(in.HereSince)); n > today || n < today-400 {
			return quantity.Refuse("here_since", in.HereSince, "lies between 400 days ago and today")
		}
	}
	return checkHoused(in.Housed)
}

// checkHoused puts the stretches in the house in order and refuses those that meet.
func checkHoused(housed []store.Housed) error {
	if len(housed) > 20 {
		return quantity.Refuse("housed", len(housed), "give at most 20 stretches in the house")
	}
	sort.SliceStable(housed, func(a, b int) bool { return housed[a].From < housed[b].From })
	for i, h := range housed {
		field := fmt.Sprintf("housed[%d].", i)
		from, err := store.Day(h.From).Time(time.UTC)
		if err != nil {
			return quantity.Refuse(field+"from", h.From, "must be a day, such as 2026-10-15")
		}
		if h.Until == "" {
			if i < len(housed)-1 {
				return quantity.Refuse(field+"until", nil, "say when they came out: they went in again after that")
			}
			continue
		}
		until, err := store.Day(h.Until).Time(time.UTC)
		if err != nil || !until.After(from) {
			return quantity.Refuse(field+"until", h.Until, "must be a day after the first")
		}
		if i < len(housed)-1 && housed[i+1].From < h.Until {
			return quantity.Refuse(fmt.Sprintf("housed[%d].from", i+1), housed[i+1].From, "they are in the house then already")
		}
	}
	return nil
}

// marks says by letter and shape which mob of the farm carries it; without the mob of an id.
func marks(p *facts.Picture, id string) map[string]string {
	taken := map[string]string{}
	for _, m := range p.Mobs {
		if m.ID != id {
			taken[m.Glyph+m.Letter] = m.Name
		}
	}
	return taken
}

// freeMark is a letter and shape that nobody carries yet, the first letter of a name where that goes.
func freeMark(taken map[string]string, name string) (letter, glyph string) {
	for _, r := range strings.ToUpper(name) + "ABCDEFGHIJKLMNOPQRSTUVWXYZ" {
		if !unicode.IsLetter(r) {
			continue
		}
		if glyph = freeGlyph(taken, string(r)); glyph != "" {
			return string(r), glyph
		}
	}
	return strings.ToUpper(string([]rune(name)[:1])), Glyphs[0]
}

// freeGlyph is the first shape in which nobody carries a letter; empty where all are taken.
func freeGlyph(taken map[string]string, letter string) string {
	for _, g := range Glyphs {
		if _, used := taken[g+letter]; !used {
			return g
		}
	}
	return ""
}

// checkCounts reads back head counts that are far from the books.
func (in *MobInput) checkCounts(p *facts.Picture) error {
	var strange []quantity.Problem
	for i, c := range in.Classes {
		strange = append(strange, counted(p, fmt.Sprintf("classes[%d].count", i), c.ID, p.Number(p.Now), c.Count)...)
	}
	if len(strange) > 0 && !in.Confirmed {
		return &farm.Unusual{Problems: strange}
	}
	return nil
}

// checkMark refuses a mark that another mob carries, and names one that is free; a name that another has is read back. id is the
// mob's own.
func (in *MobInput) checkMark(p *facts.Picture, id string) error {
	taken := marks(p, id)
	if whose, ok := taken[in.Glyph+in.Letter]; ok {
		instead := "another letter"
		if free := freeGlyph(taken, in.Letter); free != "" {
			instead = "a " + free + ", or another letter"
		}
		return quantity.Refuse("letter", in.Letter, "%s carry this letter in this shape: nobody could tell them apart on a map. Take %s", whose, instead)
	}
	for _, m := range p.Mobs {
		if m.ID != id && strings.EqualFold(m.Name, in.Name) && !in.Confirmed {
			return &farm.Unusual{Problems: []quantity.Problem{{Field: "name", Message: fmt.Sprintf("there is a mob named %s already: are these others?", m.Name)}}}
		}
	}
	return nil
}

// unlike reads back what is possible for some animal but may be a slip for this class.
func unlike(field string, ref reference.StockClass, weight, share float64) []quantity.Problem {
	var strange []quantity.Problem
	if w := ref.LiveWeight; weight < w.Low/2 || weight > w.High*1.5 {
		said := func(kg float64) quantity.Said { return quantity.Said{Value: kg, Unit: quantity.Kilogram} }
		strange = append(strange, *quantity.Refuse(field+"live_weight_kg", nil, "%s of %s? They usually weigh %s to %s", ref.Name, said(weight), said(w.Low), said(w.High)))
	}
	if p := ref.IntakeShare; share < p.Low*0.7 || share > p.High*1.3 {
		strange = append(strange, quantity.Problem{Field: field + "intake_share",
			Message: fmt.Sprintf("%s eating %.3g %% of live weight? %.3g to %.3g %% is usual", ref.Name, share*100, p.Low*100, p.High*100)})
	}
	return strange
}

func checkSupplement(field string, s store.Supplement) error {
	from, err := store.Day(s.From).Time(time.UTC)
	if err != nil {
		return quantity.Refuse(field+"from", s.From, "say from which day it is fed, such as 2026-11-01")
	}
	if s.Until == "" {
		return nil
	}
	until, err := store.Day(s.Until).Time(time.UTC)
	if err != nil || !until.After(from) {
		return quantity.Refuse(field+"until", s.Until, "must be a day after the first")
	}
	return nil
}

// group is a class of the input as a row of its own, described on a day.
func (c ClassInput) group(farmID, id string, mobID *string, position int, on store.Day) store.StockGroup {
	return store.StockGroup{FarmID: farmID, ID: id, MobID: mobID, Position: position, ReferenceID: c.ReferenceID, Name: c.Name, DescribedOn: on, Head: int(c.Count),
		LiveWeightKg: c.LiveWeight, IntakeShare: c.IntakeShare, DailyGainKg: c.DailyGain, Supplements: store.JSON[[]store.Supplement]{V: append([]store.Supplement{}, c.Supplements...)}}
}

// fillDays puts the days of the input into a row.
func (in MobInput) fillDays(row *store.Mob) {
	row.Housed.V, row.HereSince = append([]store.Housed{}, in.Housed...), nil
	if in.HereSince != "" {
		since := store.Day(in.HereSince)
		row.HereSince = &since
	}
}

func (in MobInput) saveFields(tx *gorm.DB, farmID, mobID string) error {
	ids := append([]string(nil), in.FieldIDs...)
	sort.Strings(ids)
	if err := tx.Where("farm_id = ? AND mob_id = ?", farmID, mobID).Delete(&store.MobField{}).Error; err != nil {
		return err
	}
	for i, id := range ids {
		if _, err := farm.Find[store.Field](tx, farmID, fmt.Sprintf("field_ids[%d]", i), id); err != nil {
			return err
		}
		if err := tx.Create(&store.MobField{FarmID: farmID, MobID: mobID, FieldID: id}).Error; err != nil {
			return err
		}
	}
	return nil
}

// counted reads back a head count that is far from what is on the books on a day.
func counted(p *facts.Picture, field, groupID string, day int, head float64) []quantity.Problem {
	now, ok := p.Herd.ClassOn(groupID, day)
	if !ok || !stock.CountStrange(now.Count, head) {
		return nil
	}
	return []quantity.Problem{{Field: field, Message: fmt.Sprintf("%.0f %s, where %.0f are on the books? What is bought, born or sold is written down as that", head, now.DisplayedName, now.Count)}}
}
