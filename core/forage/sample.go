package forage

import (
	"math"
	"sort"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"

	"fjell/core/quantity"
	"fjell/core/working"
)

// SampleIn is a list of readings of one method in one paddock.
type SampleIn struct {
	Readings []float64 `json:"readings" label:"Readings"`
}

// SampleOut describes the readings. Spread, error and interval are null for a single reading.
type SampleOut struct {
	N            int      `json:"n"`
	Mean         float64  `json:"mean"`
	SD           *float64 `json:"standard_deviation"`
	SE           *float64 `json:"standard_error"`
	Low          *float64 `json:"ci95_low"`
	High         *float64 `json:"ci95_high"`
	ReadingsFor  *int     `json:"readings_for_ten_percent"`
	OutlierIndex []int    `json:"outliers"`
	Freedom      float64  `json:"-"` // degrees of freedom of the standard error
}

// Sample gives mean, standard deviation (n − 1), standard error, the 95 % interval of Student's t, the readings
// needed for ± 10 % of the mean, ⌈(t · s / (0.1 · mean))²⌉, and outliers further than 3.5 · 1.4826 · MAD from the
// median, counted from 0; where half the readings are the same figure and the MAD is nothing, further than
// 3.5 · 1.2533 · the mean deviation from the median, which estimates the same spread (Iglewicz and Hoaglin 1993). Outliers
// stay in the figures until a person drops them.
func Sample(in SampleIn) (SampleOut, []working.Step, error) {
	n := len(in.Readings)
	if n == 0 {
		return SampleOut{}, nil, quantity.Refuse("readings", 0, "at least one reading is needed")
	}
	if n > 10000 {
		return SampleOut{}, nil, quantity.Refuse("readings", n, "at most 10 000 readings at once")
	}
	out := SampleOut{N: n, Mean: stat.Mean(in.Readings, nil), OutlierIndex: outliers(in.Readings)}
	steps := []working.Step{working.New("Mean", "Σ ÷ n", out.Mean, quantity.None,
		working.T("Σ", "sum of readings", out.Mean*float64(n), quantity.None), working.T("n", "readings", float64(n), quantity.Count))}
	if n > 1 {
		s := stat.StdDev(in.Readings, nil)
		se := s / math.Sqrt(float64(n))
		out.Freedom = float64(n - 1)
		t := StudentT(out.Freedom)
		low, high := out.Mean-t*se, out.Mean+t*se
		out.SD, out.SE, out.Low, out.High = &s, &se, &low, &high
		if out.Mean > 0 {
			need := math.Ceil(math.Pow(t*s/(0.1*out.Mean), 2))
			if need < 1e6 {
				k := int(need)
				out.ReadingsFor = &k
			}
		}
		steps = append(steps,
			working.New("Standard error", "s ÷ √n", se, quantity.None, working.T("s", "standard deviation", s, quantity.None),
				working.T("√n", "root of the readings", math.Sqrt(float64(n)), quantity.None)),
			working.New("± at 95 %", "t × e", t*se, quantity.None, working.T("t", "Student's t", t, quantity.None),
				working.T("e", "standard error", se, quantity.None)))
	}
	return out, steps, nil
}

// StudentT is the two-sided 95 % point of Student's t with so many degrees of freedom.
func StudentT(freedom float64) float64 {
	return distuv.StudentsT{Mu: 0, Sigma: 1, Nu: freedom}.Quantile(0.975)
}

func median(values []float64) float64 {
	v := append([]float64(nil), values...)
	sort.Float64s(v)
	m := len(v) / 2
	if len(v)%2 == 1 {
		return v[m]
	}
	return (v[m-1] + v[m]) / 2
}

func outliers(readings []float64) []int {
	out := []int{}
	mid := median(readings)
	away := make([]float64, len(readings))
	for i, x := range readings {
		away[i] = math.Abs(x - mid)
	}
	limit := 3.5 * 1.4826 * median(away)
	if limit == 0 {
		limit = 3.5 * 1.2533 * stat.Mean(away, nil)
	}
	for i, a := range away {
		if a > limit {
			out = append(out, i)
		}
	}
	return out
}

// HalfWidth is what is written after ±: the 95 % half-width in the units of mean, sampling error joined with the
// method's own error share (one standard deviation) by root of squares. A single reading carries the spread
// between readings that the method usually has.
func HalfWidth(mean float64, out SampleOut, methodShare, betweenCV float64) float64 {
	sampling := 1.96 * betweenCV * mean
	if out.SE != nil {
		sampling = StudentT(out.Freedom) * *out.SE
	}
	return math.Hypot(sampling, 1.96*methodShare*mean)
}

// SamplingError is one standard deviation of the mean itself, in its units: what a filter takes, which weighs it by its variance.
// Student's t belongs to what is shown, where a person reads an interval.
func SamplingError(mean float64, out SampleOut, betweenCV float64) float64 {
	if out.SE != nil {
		return *out.SE
	}
	return betweenCV * mean
}

// Pair is a plate height with the clipped mass on the same spot.
type Pair struct {
	Height float64 `json:"height_cm"`
	Mass   float64 `json:"forage_mass_kg_dm_ha"`
}

// CalibrateIn is a set of plate and clip pairs.
type CalibrateIn struct {
	Pairs []Pair `json:"pairs" label:"Heights with clips"`
}

// CalibrateOut is a least-squares line through them.
type CalibrateOut struct {
	Slope     float64 `json:"slope_kg_per_cm"`
	Intercept float64 `json:"intercept_kg"`
	R2        float64 `json:"r_squared"`
	Error     float64 `json:"residual_standard_error_kg"`
	N         int     `json:"n"`
}

// LeastPairs is the fewest pairs a calibration is made from.
const LeastPairs = 8

// Calibrate fits mass = slope · cm + intercept by least squares over at least eight pairs.
func Calibrate(in CalibrateIn) (CalibrateOut, []working.Step, error) {
	n := len(in.Pairs)
	if n < LeastPairs {
		return CalibrateOut{}, nil, quantity.Refuse("pairs", n, "a calibration needs at least %d pairs of height and clip", LeastPairs)
	}
	xs, ys := make([]float64, n), make([]float64, n)
	for i, p := range in.Pairs {
		xs[i], ys[i] = p.Height, p.Mass
	}
	if stat.Variance(xs, nil) <= 0 {
		return CalibrateOut{}, nil, quantity.Refuse("pairs", nil, "all heights are the same: spread the pairs from short to tall")
	}
	a, b := stat.LinearRegression(xs, ys, nil, false)
	rss := 0.0
	for i := range xs {
		rss += math.Pow(ys[i]-a-b*xs[i], 2)
	}
	out := CalibrateOut{b, a, stat.RSquared(xs, ys, nil, a, b), math.Sqrt(rss / float64(n-2)), n}
	if math.IsNaN(out.R2) || math.IsInf(out.R2, 0) {
		return CalibrateOut{}, nil, quantity.Refuse("pairs", nil, "all clips weigh the same: no line can be drawn through them")
	}
	return out, []working.Step{
		working.New("Slope", "b", b, quantity.MassPerHeight, working.T("b", "least squares", b, quantity.MassPerHeight)),
		working.New("Intercept", "ȳ − b × x̄", a, quantity.ForageMass, working.T("ȳ", "mean clip", stat.Mean(ys, nil), quantity.ForageMass),
			working.T("b", "slope", b, quantity.MassPerHeight), working.T("x̄", "mean height", stat.Mean(xs, nil), quantity.Centimetre)),
		working.New("Residual standard error", "√ ( Σe² ÷ ( n − 2 ) )", out.Error, quantity.ForageMass,
			working.T("n", "pairs", float64(n), quantity.Count)),
	}, nil
}

// MeterPair is one spot read with two meters.
type MeterPair struct {
	First  float64 `json:"first"`
	Second float64 `json:"second"`
}

// CompareIn is a set of spots read with two meters.
type CompareIn struct {
	Pairs []MeterPair `json:"pairs" label:"The same spots with both meters"`
}

// CompareOut is the mean difference (first − second) with its limits of agreement.
type CompareOut struct {
	Mean float64 `json:"mean_difference"`
	Low  float64 `json:"limit_low"`
	High float64 `json:"limit_high"`
	N    int     `json:"n"`
}

// Compare gives the bias between two meters and the limits of agreement, mean ± 1.96 SD of the differences.
func Compare(in CompareIn) (CompareOut, []working.Step, error) {
	n := len(in.Pairs)
	if n < 2 {
		return CompareOut{}, nil, quantity.Refuse("pairs", n, "two meters are compared over at least two spots")
	}
	d := make([]float64, n)
	for i, p := range in.Pairs {
		d[i] = p.First - p.Second
	}
	m, s := stat.MeanStdDev(d, nil)
	return CompareOut{m, m - 1.96*s, m + 1.96*s, n}, []working.Step{
		working.New("Mean difference", "Σ ( a − b ) ÷ n", m, quantity.None, working.T("n", "spots", float64(n), quantity.Count)),
		working.New("Limits, either side", "1.96 × s", 1.96*s, quantity.None, working.T("s", "standard deviation of the differences", s, quantity.None)),
	}, nil
}
