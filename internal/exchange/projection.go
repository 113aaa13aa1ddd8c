package exchange

import (
	"math"
	"regexp"
	"strconv"
	"strings"

	"fjell/core/land"
	"fjell/core/quantity"
)

// projection turns a file's coordinates into longitude and latitude.
type projection func(x, y float64) land.Position

func degreesAsTheyAre(x, y float64) land.Position { return land.Position{x, y} }

// webMercator (EPSG:3857) is spherical on the ellipsoid's longitudes and latitudes.
func webMercator(x, y float64) land.Position {
	const r = 6378137
	return land.Position{x / r * 180 / math.Pi, (2*math.Atan(math.Exp(y/r)) - math.Pi/2) * 180 / math.Pi}
}

// utm gives the inverse of a zone of Universal Transverse Mercator by Krüger's series to n³, good to a millimetre
// within a zone. WGS 84's and GRS 80's ellipsoids differ by a tenth of a millimetre.
func utm(zone int, north bool) projection {
	const (
		a  = 6378137.0
		f  = 1 / 298.257223563
		n  = f / (2 - f)
		k0 = 0.9996
	)
	radius := a / (1 + n) * (1 + n*n/4 + n*n*n*n/64)
	beta := [3]float64{n/2 - 2*n*n/3 + 37*n*n*n/96, n*n/48 + n*n*n/15, 17 * n * n * n / 480}
	delta := [3]float64{2*n - 2*n*n/3 - 2*n*n*n, 7*n*n/3 - 8*n*n*n/5, 56 * n * n * n / 15}
	lon0, falseNorth := float64(zone*6-183), 0.0
	if !north {
		falseNorth = 1e7
	}
	return func(x, y float64) land.Position {
		xi, eta := (y-falseNorth)/(k0*radius), (x-5e5)/(k0*radius)
		xi1, eta1 := xi, eta
		for j, b := range beta {
			k := 2 * float64(j+1)
			xi1 -= b * math.Sin(k*xi) * math.Cosh(k*eta)
			eta1 -= b * math.Cos(k*xi) * math.Sinh(k*eta)
		}
		chi := math.Asin(math.Sin(xi1) / math.Cosh(eta1))
		phi := chi
		for j, d := range delta {
			phi += d * math.Sin(2*float64(j+1)*chi)
		}
		return land.Position{lon0 + math.Atan2(math.Sinh(eta1), math.Cos(xi1))*180/math.Pi, phi * 180 / math.Pi}
	}
}

var wktName = regexp.MustCompile(`(?i)(?:PROJCS|GEOGCS|PROJCRS|GEOGCRS|GEODCRS)\s*\[\s*"([^"]{0,200})"`)
var utmName = regexp.MustCompile(`(?i)UTM[ _]*zone[ _]*(\d{1,2})[ _]*([NS])?`)

// projectionOf reads the name of a projection as .prj files have it (WKT). Geographic WGS 84 and ETRS89, UTM on
// either, and Web Mercator are known; others are refused by name.
func projectionOf(wkt string) (projection, error) {
	m := wktName.FindStringSubmatch(wkt)
	if m == nil {
		return nil, quantity.Refuse("file", nil, "its .prj does not name a projection")
	}
	name, upper := m[1], strings.ToUpper(wkt)
	modern := strings.Contains(upper, "WGS_1984") || strings.Contains(upper, "WGS 84") || strings.Contains(upper, "WGS84") ||
		strings.Contains(upper, "ETRS_1989") || strings.Contains(upper, "ETRS89")
	projected := strings.HasPrefix(strings.ToUpper(strings.TrimSpace(wkt)), "PROJ")
	switch {
	case modern && !projected:
		return degreesAsTheyAre, nil
	case modern && projected:
		flat := strings.NewReplacer("_", " ", "/", " ").Replace(name)
		if u := utmName.FindStringSubmatch(flat); u != nil && strings.Contains(upper, "TRANSVERSE") {
			zone, err := strconv.Atoi(u[1])
			if err == nil && zone >= 1 && zone <= 60 {
				return utm(zone, !strings.EqualFold(u[2], "S")), nil
			}
		}
		lower := strings.ToLower(flat)
		if strings.Contains(lower, "pseudo-mercator") || strings.Contains(lower, "web mercator") {
			return webMercator, nil
		}
	}
	return nil, quantity.Refuse("file", clip(name, 80), "it is in a projection that Fjell does not read: save it as WGS 84 (EPSG:4326), ETRS89 (4258), UTM or Web Mercator (3857)")
}
