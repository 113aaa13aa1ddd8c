package grazing

import (
	"math"
	"time"

	"fjell/core/quantity"
	"fjell/core/reference"
)

// Taller is a time of the year, the hot weeks, or any time that is hot and dry by the weather, in which swards are entered and left taller than usual: what is left shades the soil,
// keeps its water and the roots, and grows on; a short sward in hot dry weather stands still.
type Taller struct {
	From      string  `json:"from,omitempty"`       // month and day, 06-20
	Until     string  `json:"until,omitempty"`      // the first day when it holds no more; it may run over new year
	ByWeather bool    `json:"by_weather,omitempty"` // while it is hot and dry, whatever the time of the year
	By        float64 `json:"by_cm"`
}

// Hot is what holds in the hot weeks, instead of the masses that hold else. The zero value has none.
type Hot struct {
	from, until             int  // month and day: 620 is 20 June
	weather                 bool // while it is hot and dry
	entry, tooOld, residual float64
}

// tallestBy is how much taller a sward may be asked to be, cm.
const tallestBy = 15

// nearCeiling is the share of its ceiling up to which an entry may be raised: growth hardly gets above it.
const nearCeiling = 0.9

// At is the limits of a moment, given in the farm's own time, that is hot and dry or not.
func (l Limits) At(at time.Time, hotAndDry bool) Limits {
	h, day := l.Hot, int(at.Month())*100+at.Day()
	hot, changes := l.InHeat()
	if changes && h.weather {
		if !hotAndDry {
			l.Hot = Hot{}
			return l
		}
		return hot
	}
	if in := day >= h.from && day < h.until; changes && (in || h.from > h.until && (day >= h.from || day < h.until)) {
		return hot
	}
	l.Hot = Hot{}
	return l
}

// InHeat is the limits of the hot weeks; false where they are no others.
func (l Limits) InHeat() (hot Limits, changes bool) {
	h, changes := l.Hot, l.Changes()
	l.Hot = Hot{}
	if changes {
		l.Entry, l.TooOld, l.Residual = h.entry, h.tooOld, h.residual
	}
	return l, changes
}

// Changes tells whether the limits differ with the time of the year or the weather.
func (l Limits) Changes() bool { return l.Hot.weather || l.Hot.from != l.Hot.until }

// raise adds what holds in the hot weeks: as much more on entering as on leaving, so that the bite stays as it is, up to where growth ends.
func (t Taller) raise(l Limits, sward reference.Sward) (Limits, error) {
	more := t.By * sward.MassPerCm.Medium
	h := Hot{entry: min(l.Entry+more, max(l.Entry, nearCeiling*sward.Ceiling)), residual: l.Residual + more}
	h.tooOld = max(l.TooOld, h.entry*1.05)
	if h.residual >= h.entry {
		return l, quantity.Refuse("school.taller.by_cm", height(t.By), "so much taller, %s has nothing to eat: it tops out at %s", sward.Name, said(sward.Ceiling))
	}
	if t.ByWeather {
		h.weather = true
		l.Hot = h
		return l, nil
	}
	from, err := monthDay("school.taller.from", t.From)
	if err != nil {
		return l, err
	}
	until, err := monthDay("school.taller.until", t.Until)
	if err != nil {
		return l, err
	}
	h.from, h.until = from, until
	l.Hot = h
	return l, nil
}

func (t Taller) check() error {
	if math.IsNaN(t.By) || t.By <= 0 || t.By > tallestBy {
		return quantity.Refuse("school.taller.by_cm", height(t.By), "must be above 0 and at most %s", height(tallestBy))
	}
	if t.ByWeather {
		return nil
	}
	from, err := monthDay("school.taller.from", t.From)
	if err != nil {
		return err
	}
	until, err := monthDay("school.taller.until", t.Until)
	switch {
	case err != nil:
		return err
	case from == until:
		return quantity.Refuse("school.taller.until", t.Until, "the hot weeks must end on another day than they begin")
	}
	return nil
}

// monthDay reads a day of the year.
func monthDay(field, text string) (int, error) {
	day, err := time.Parse("2006-01-02", "2024-"+text)
	if err != nil {
		return 0, quantity.Refuse(field, text, "is a day of the year as month and day, such as 06-20")
	}
	return int(day.Month())*100 + day.Day(), nil
}
