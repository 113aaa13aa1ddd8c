// Package land measures and divides ground: areas on the ellipsoid, and equal parts by parallel fences.
//
// Shapes travel as longitude and latitude (WGS 84). Measuring and dividing happen on a Plane: an equal-area
// projection centred on the farm, so that an area on the plane is the area on the ground.
package land

import "math"

// WGS 84.
const (
	semiMajor   = 6378137.0
	flattening  = 1 / 298.257223563
	eccentric2  = flattening * (2 - flattening)
	worldLimit  = 180.0
	latitudeMax = 90.0
)

// Position is longitude and latitude in degrees, in GeoJSON's order.
type Position [2]float64

// Point is metres east and north on a Plane.
type Point struct{ X, Y float64 }

// Plane is the ellipsoidal Lambert azimuthal equal-area projection (Snyder 1987, pp. 187–190): areas are true
// everywhere, and near the centre so are lengths and angles.
type Plane struct {
	lon0, sinBeta1, cosBeta1, rq, d, qp float64
}

// NewPlane centres a plane on a position. Centres within a hair of a pole are moved off it.
func NewPlane(centre Position) Plane {
	phi := radians(math.Max(-89.9, math.Min(89.9, centre[1])))
	qp := authalicQ(1)
	beta := math.Asin(authalicQ(math.Sin(phi)) / qp)
	rq := semiMajor * math.Sqrt(qp/2)
	m := math.Cos(phi) / math.Sqrt(1-eccentric2*math.Pow(math.Sin(phi), 2))
	return Plane{radians(centre[0]), math.Sin(beta), math.Cos(beta), rq, semiMajor * m / (rq * math.Cos(beta)), qp}
}

func radians(deg float64) float64 { return deg * math.Pi / 180 }
func degrees(rad float64) float64 { return rad * 180 / math.Pi }

func authalicQ(sin float64) float64 {
	e := math.Sqrt(eccentric2)
	return (1 - eccentric2) * (sin/(1-eccentric2*sin*sin) - math.Log((1-e*sin)/(1+e*sin))/(2*e))
}

// Forward projects a position, metres.
func (p Plane) Forward(pos Position) Point {
	sinBeta := authalicQ(math.Sin(radians(pos[1]))) / p.qp
	cosBeta := math.Sqrt(math.Max(0, 1-sinBeta*sinBeta))
	sinLon, cosLon := math.Sincos(radians(pos[0]) - p.lon0)
	b := p.rq * math.Sqrt(2/(1+p.sinBeta1*sinBeta+p.cosBeta1*cosBeta*cosLon))
	return Point{b * p.d * cosBeta * sinLon, b / p.d * (p.cosBeta1*sinBeta - p.sinBeta1*cosBeta*cosLon)}
}

// Inverse returns the position of a point on the plane.
func (p Plane) Inverse(pt Point) Position {
	rho := math.Hypot(pt.X/p.d, pt.Y*p.d)
	ce := 2 * math.Asin(math.Min(1, rho/(2*p.rq)))
	sinC, cosC := math.Sincos(ce)
	q := p.qp * p.sinBeta1
	lon := p.lon0
	if rho > 0 {
		q = p.qp * (cosC*p.sinBeta1 + p.d*pt.Y*sinC*p.cosBeta1/rho)
		lon += math.Atan2(pt.X*sinC, p.d*rho*p.cosBeta1*cosC-p.d*p.d*pt.Y*p.sinBeta1*sinC)
	}
	e := math.Sqrt(eccentric2)
	phi := math.Asin(math.Max(-1, math.Min(1, q/2)))
	for range 8 {
		s := math.Sin(phi)
		w := 1 - eccentric2*s*s
		step := w * w / (2 * math.Cos(phi)) * (q/(1-eccentric2) - s/w + math.Log((1-e*s)/(1+e*s))/(2*e))
		phi += step
		if math.Abs(step) < 1e-15 {
			break
		}
	}
	return Position{degrees(lon), degrees(phi)}
}

// earthKm is the mean radius of the earth.
const earthKm = 6371

// KmBetween is how far two places lie apart along the earth, kilometres.
func KmBetween(a, b Position) float64 {
	rad := math.Pi / 180
	dLat, dLon := (b[1]-a[1])*rad, (b[0]-a[0])*rad
	h := math.Pow(math.Sin(dLat/2), 2) + math.Cos(a[1]*rad)*math.Cos(b[1]*rad)*math.Pow(math.Sin(dLon/2), 2)
	return 2 * earthKm * math.Asin(math.Min(1, math.Sqrt(h)))
}

// SquareOf is a square piece of ground of so many hectares around a place, its sides north and east.
func SquareOf(centre Position, areaHa float64) Shape {
	p := NewPlane(centre)
	half := SquareM(areaHa) / 2
	var ring []Position
	for _, corner := range []Point{{-half, -half}, {half, -half}, {half, half}, {-half, half}, {-half, -half}} {
		ring = append(ring, p.Inverse(corner))
	}
	return Shape{{ring}}
}
