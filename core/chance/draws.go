// Package chance draws numbers that rest on a seed alone, so that the same seed always comes to the same.
package chance

import "math"

// Draws is a stream of numbers that rests on its seed alone (splitmix64).
type Draws uint64

// Next is the next whole number.
func (d *Draws) Next() uint64 {
	*d += 0x9e3779b97f4a7c15
	z := uint64(*d)
	z = (z ^ z>>30) * 0xbf58476d1ce4e5b9
	z = (z ^ z>>27) * 0x94d049bb133111eb
	return z ^ z>>31
}

// Below is a whole number from 0 to n − 1.
func (d *Draws) Below(n int) int { return int((d.Next() >> 33) * uint64(n) >> 31) }

// Share is a number from 0 to 1.
func (d *Draws) Share() float64 { return float64(d.Next()>>11) / (1 << 53) }

// Normal is a draw from the normal distribution.
func (d *Draws) Normal() float64 { return math.Sqrt2 * math.Erfinv(2*d.Share()-1+1e-16) }

// Factor is a draw with a mean of 1, whose logarithm has a spread.
func (d *Draws) Factor(spread float64) float64 { return math.Exp(spread*d.Normal() - spread*spread/2) }
