package year

import (
	"math"
	"slices"

	"fjell/core/chance"
)

// Strays is how growth strays from an ordinary year's: as logarithms, months that linger, and years that are good or poor as a whole.
type Strays struct {
	Month float64 // spread of a month
	Keep  float64 // share of a month's stray that is left in the next
	Year  float64 // spread of a year
}

// usualYear is the spread of a whole year's growth. Assumption, ours: a year in six is some 15 % below an ordinary one in temperate rain.
const usualYear = 0.16

// month is the length of a month, days.
const month = 365.25 / 12

// StraysOf are the strays of months where those of days are known: their spread, and the days after which a third of them is left. A month is a mean of
// days that linger.
func StraysOf(spread, days float64) Strays {
	share := days / month
	mean := 2 * share * (1 - share*(1-math.Exp(-1/share)))
	return Strays{Month: spread * math.Sqrt(mean), Keep: math.Exp(-1 / share), Year: usualYear}
}

// Draw is a year's weather as the share of ordinary growth in each of so many months; its mean over draws is 1.
func (s Strays) Draw(months int, seed uint64) []float64 {
	d := chance.Draws(seed*0x9e3779b97f4a7c15 + 1)
	out := make([]float64, months)
	w, year := s.Month*d.Normal(), 0.0
	for m := range out {
		if m%12 == 0 {
			year = s.Year * d.Normal()
		}
		out[m] = math.Exp(w + year - (s.Month*s.Month+s.Year*s.Year)/2)
		w = s.Keep*w + s.Month*math.Sqrt(1-s.Keep*s.Keep)*d.Normal()
	}
	return out
}

// Risk is how a year comes out in many years' weather.
type Risk struct {
	Years  int
	Supply []Band    // of each month: what can be eaten from pasture, with what stood over, kg DM
	Short  []float64 // chance that feed is missing in each month
	Ever   float64   // chance that it is in any
	Kg     Band      // missing in all
}

// Band is what nine years in ten lie above, the middle one, and what one in ten lies above.
type Band struct{ Low, Middle, High float64 }

// bandOf is the band of figures.
func bandOf(figures []float64) Band {
	slices.Sort(figures)
	at := func(share float64) float64 { return figures[int(math.Round(share*float64(len(figures)-1)))] }
	return Band{at(0.1), at(0.5), at(0.9)}
}

// Foresee reckons the year in the weather of so many years.
func Foresee(c Case, years int, seed uint64) Risk {
	out := Risk{Years: years, Short: make([]float64, len(c.Months)), Supply: make([]Band, len(c.Months))}
	supply := make([][]float64, len(c.Months))
	for m := range supply {
		supply[m] = make([]float64, years)
	}
	missing := make([]float64, years)
	for y := range years {
		ever := false
		for m, e := range Balance(c, c.Strays.Draw(len(c.Months), seed+uint64(y))).Months {
			supply[m][y] = e.Supply()
			missing[y] += e.Missing
			if e.Hungry() {
				ever = true
				out.Short[m] += 1 / float64(years)
			}
		}
		if ever {
			out.Ever += 1 / float64(years)
		}
	}
	for m := range supply {
		out.Supply[m] = bandOf(supply[m])
	}
	out.Kg = bandOf(missing)
	return out
}
