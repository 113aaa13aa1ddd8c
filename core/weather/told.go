package weather

// Told is what a day on record says to whoever goes out into it.
type Told struct {
	Day
	Frost        bool // in the night before, as far as the lowest tells
	WetLeaf      bool // rain of this day, or dew of its night
	Stopped      bool // growth has all but stopped for want of water
	SinceFrost   *int // days; nil: none on record
	SinceRain    *int // days since rain that wet the ground; nil: none on record
	SinceDrought *int // days since growth came back after ten days and more without; nil: no drought on record
	Dull         int  // run of dull cool days up to this one
}

// What a day is told by. Assumptions, ours.
const (
	wetsLeaf   = 0.5  // mm of rain
	wetsGround = 5.0  // mm of rain
	dewFall    = 6.0  // °C from the mean down to the lowest of a night clear enough for dew
	stopped    = 0.2  // share of growth that the soil lets through
	droughtRun = 10   // days of that
	dullSun    = 3.0  // hours of sunshine
	coolMean   = 15.0 // °C
)

// Told is a day as its record and those before it tell; not ok where nobody wrote the day down.
func (k *Known) Told(number int) (t Told, ok bool) {
	if k == nil {
		return t, false
	}
	i := number - k.First
	if i < 0 || i >= len(k.Days) || k.Days[i].Filled {
		return t, false
	}
	frost := func(d Reckoned) bool { return !d.Filled && d.Least != nil && *d.Least <= 0 }
	d := k.Days[i]
	t = Told{Day: d.Day, Frost: frost(d), Stopped: d.Moisture < stopped}
	t.WetLeaf = d.Rain >= wetsLeaf || d.Least != nil && *d.Least > 0 && d.Mean-*d.Least >= dewFall
	for ; t.Dull <= i; t.Dull++ {
		if b := k.Days[i-t.Dull]; b.Filled || b.Sun == nil || *b.Sun >= dullSun || b.Mean > coolMean {
			break
		}
	}
	dry := 0
	for ago := 0; ago <= i; ago++ {
		b := k.Days[i-ago]
		if t.SinceFrost == nil && frost(b) {
			t.SinceFrost = new(ago)
		}
		if t.SinceRain == nil && !b.Filled && b.Rain >= wetsGround {
			t.SinceRain = new(ago)
		}
		if b.Moisture >= stopped {
			dry = 0
		} else if dry++; dry == droughtRun && t.SinceDrought == nil && !t.Stopped {
			t.SinceDrought = new(ago - droughtRun) // growth came back on the day after the run's last
		}
	}
	return t, true
}
