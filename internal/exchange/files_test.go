package exchange

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/land"
)

// sample is a made-up farm with all that files carry: a field with a wood in it, ground in two pieces, a lane, a gate.
func sample(lon, lat float64) Land {
	plane := land.NewPlane(land.Position{lon, lat})
	ring := func(x, y, r float64, n int, seed uint64) []land.Position {
		rng := rand.New(rand.NewPCG(seed, 9))
		out := make([]land.Position, 0, n+1)
		for i := range n {
			d := r * (0.7 + 0.3*rng.Float64())
			sin, cos := math.Sincos(2 * math.Pi * float64(i) / float64(n))
			out = append(out, plane.Inverse(land.Point{X: x + d*cos, Y: y + d*sin}))
		}
		return append(out, out[0])
	}
	field := land.Shape{{ring(0, 0, 300, 24, 1), ring(20, 10, 40, 9, 2)}}
	two := land.Shape{{ring(900, 0, 150, 12, 3)}, {ring(1400, 50, 90, 8, 4)}}
	grounds := []Ground{{Kind: "field", Name: "Øvre lykkja", Shape: field}, {Kind: "paddock", Name: "Tveit & sønn <1>", Field: "Øvre lykkja", Shape: two, Facts: []Fact{{"sward", "=timothy"}}}}
	for i := range grounds {
		r := plane.Project(grounds[i].Shape)
		grounds[i].AreaHa, grounds[i].FenceM = r.AreaHa(), r.FenceM()
	}
	return Land{"Tveit", grounds, []Line{{"lane", "drift", []land.Position{plane.Inverse(land.Point{X: -300, Y: -500}), plane.Inverse(land.Point{X: 300, Y: -480})}}},
		[]Spot{{"gate", "grind", plane.Inverse(land.Point{X: 300, Y: 0})}}}
}

func ogr(t *testing.T, args ...string) string {
	t.Helper()
	out, err := exec.Command(args[0], args[1:]...).CombinedOutput()
	require.NoError(t, err, "%v: %s", args, out)
	return string(out)
}

// ellipsoidal is the area of a file's ground on WGS 84 as another program finds it, ha.
func ellipsoidal(t *testing.T, file, layer, where string) float64 {
	out := ogr(t, "ogrinfo", "-q", "-dialect", "SQLite", "-sql", fmt.Sprintf(`SELECT SUM(ST_Area(ST_GeomFromWKB(ST_AsBinary(geometry), 4326), 1)) AS a FROM "%s" WHERE %s`, layer, where), file)
	_, after, ok := strings.Cut(out, "a (Real) = ")
	require.True(t, ok, out)
	v, err := strconv.ParseFloat(strings.Fields(after)[0], 64)
	require.NoError(t, err)
	return v / 10000
}

func byName(features []Feature) map[string]Feature {
	out := map[string]Feature{}
	for _, f := range features {
		out[f.Name] = f
	}
	return out
}

func TestForeignProgramsReadOurFilesAndWeTheirs(t *testing.T) {
	for _, at := range []land.Position{{9.2, 61.1}, {-104, 44}, {172.5, -43.5}} {
		l := sample(at[0], at[1])
		dir := t.TempDir()
		ours := map[string]string{}
		for name, f := range Formats {
			raw, err := Write(name, l)
			require.NoError(t, err)
			ours[name] = filepath.Join(dir, "ours-"+name+"."+f.Ending)
			require.NoError(t, os.WriteFile(ours[name], raw, 0o600))
		}
		// Areas agree with an independent area on the ellipsoid.
		for _, g := range l.Grounds {
			got := ellipsoidal(t, ours["geojson"], "ours-geojson", fmt.Sprintf(`kind = '%s'`, g.Kind))
			assert.InEpsilon(t, got, g.AreaHa, 5e-4, "%s at %v", g.Name, at)
		}
		same := func(features []Feature, from string) {
			found := byName(features)
			for _, g := range l.Grounds {
				f, ok := found[g.Name]
				require.True(t, ok, "%s in %s", g.Name, from)
				assert.Empty(t, f.Problem)
				assert.InEpsilon(t, g.AreaHa, f.AreaHa, 5e-4, "%s in %s", g.Name, from)
			}
			assert.InDelta(t, 600.3, found["drift"].LengthM, 1, from)
			require.NotNil(t, found["grind"].Point, from)
			assert.InDelta(t, l.Spots[0].At[1], found["grind"].Point[1], 1e-7, from)
		}
		read := func(file string) []Feature {
			raw, err := os.ReadFile(file)
			require.NoError(t, err)
			features, err := Read(t.Context(), file, raw)
			require.NoError(t, err, file)
			return features
		}
		for _, format := range []string{"geojson", "kml", "shapefile"} {
			same(read(ours[format]), "our "+format)
			// They read ours and write it again; we read that.
			source := ours[format]
			if format == "shapefile" {
				source = "/vsizip/" + source
			}
			theirs := filepath.Join(dir, "theirs-"+format)
			ogr(t, "ogr2ogr", "-f", "KML", theirs+".kml", source)
			same(read(theirs+".kml"), "KML from our "+format)
		}
		theirs := filepath.Join(dir, "theirs.geojson")
		ogr(t, "ogr2ogr", "-f", "GeoJSON", theirs, ours["geojson"])
		same(read(theirs), "GeoJSON by ogr2ogr")
		zone := int(math.Floor((at[0]+180)/6)) + 1
		utmCode := 32600 + zone
		if at[1] < 0 {
			utmCode += 100
		}
		codes := []int{4326, 3857, utmCode}
		if at[0] > 0 && at[1] > 0 {
			codes = append(codes, 4258, 25832)
		}
		for _, code := range codes {
			folder := filepath.Join(dir, fmt.Sprintf("shp%d", code))
			require.NoError(t, os.Mkdir(folder, 0o700))
			for _, k := range []string{"field", "paddock", "lane", "gate"} {
				ogr(t, "ogr2ogr", "-f", "ESRI Shapefile", "-lco", "ENCODING=UTF-8", "-t_srs", fmt.Sprintf("EPSG:%d", code), "-where", "kind = '"+k+"'", filepath.Join(folder, k+".shp"), ours["geojson"])
			}
			same(read(zipFolder(t, folder)), fmt.Sprintf("shapefile in EPSG:%d", code))
		}
		// A GPX carries lines and places: their tracks and waypoints come back by name.
		assert.Contains(t, ogr(t, "ogrinfo", "-q", "-al", ours["gpx"], "waypoints"), "name (String) = grind")
		gpxAgain := filepath.Join(dir, "theirs.gpx")
		ogr(t, "ogr2ogr", "-f", "GPX", gpxAgain, ours["gpx"])
		tracks := byName(read(gpxAgain))
		assert.InDelta(t, 600.3, tracks["drift"].LengthM, 1)
		require.NotNil(t, tracks["Øvre lykkja"].Closed, "a track around ground is a boundary")
		assert.Contains(t, ogr(t, "ogrinfo", "-q", "-al", ours["csv"]), "sward (String) = '=timothy")
	}
}

func zipFolder(t *testing.T, folder string) string {
	t.Helper()
	var buf bytes.Buffer
	w := zip.NewWriter(&buf)
	entries, err := os.ReadDir(folder)
	require.NoError(t, err)
	for _, e := range entries {
		raw, err := os.ReadFile(filepath.Join(folder, e.Name()))
		require.NoError(t, err)
		f, err := w.Create("made/" + e.Name())
		require.NoError(t, err)
		_, err = f.Write(raw)
		require.NoError(t, err)
	}
	require.NoError(t, w.Close())
	require.NoError(t, os.WriteFile(folder+".zip", buf.Bytes(), 0o600))
	return folder + ".zip"
}

func archive(t testing.TB, files map[string][]byte) []byte {
	var buf bytes.Buffer
	w := zip.NewWriter(&buf)
	for name, raw := range files {
		f, err := w.Create(name)
		require.NoError(t, err)
		_, err = f.Write(raw)
		require.NoError(t, err)
	}
	require.NoError(t, w.Close())
	return buf.Bytes()
}

const track = `<gpx version="1.1" creator="x" xmlns="http://www.topografix.com/GPX/1/1"><trk><name>around</name><trkseg>` +
	`<trkpt lat="61" lon="9"/><trkpt lat="61.001" lon="9"/><trkpt lat="61.001" lon="9.002"/><trkpt lat="61.0001" lon="9.0021"/></trkseg></trk></gpx>`

const placemark = `<kml><Document><Placemark><name>a</name><Polygon><outerBoundaryIs><LinearRing><coordinates>9,61 9.01,61 9.01,61.01 9,61</coordinates></LinearRing></outerBoundaryIs></Polygon></Placemark></Document></kml>`

func TestAWalkedGPXIsClosedAndTheGapTold(t *testing.T) {
	got, err := readGPX(t.Context(), []byte(track))
	require.NoError(t, err)
	require.Len(t, got, 1)
	require.NotNil(t, got[0].Closed)
	assert.InDelta(t, 113.9, got[0].Closed.GapM, 1)
	assert.Greater(t, got[0].AreaHa, 1.0)
}

func TestCornersFromASheet(t *testing.T) {
	got, err := Read(t.Context(), "corners.csv", []byte("\xef\xbb\xbfname;lat;lon\nNord;61,0;9,0\nNord;61,002;9,0\nNord;61,002;9,004\nSør;60;9\nSør;60,001;9\nSør;60,001;9,001\n"))
	require.NoError(t, err)
	require.Len(t, got, 2)
	assert.Equal(t, "Nord", got[0].Name)
	assert.InDelta(t, 2.41, got[0].AreaHa, 0.02)
	_, err = Read(t.Context(), "corners.csv", []byte("61,9\n61.1,nine\n"))
	assert.ErrorContains(t, err, "row 2")
}

func TestHostileFilesAreRefusedWithASentence(t *testing.T) {
	bomb := archive(t, map[string][]byte{"a.kml": bytes.Repeat([]byte(" "), mostUnzipped+10)})
	many := map[string][]byte{}
	for i := range mostZipped + 1 {
		many[fmt.Sprintf("%d.kml", i)] = nil
	}
	laughs := `<?xml version="1.0"?><!DOCTYPE lolz [<!ENTITY lol "lol"><!ENTITY lol2 "&lol;&lol;">]><kml>&lol2;</kml>`
	corners := strings.Repeat("9.1,61.1 ", 1_000_000)
	utmless := archive(t, map[string][]byte{"a.shp": nil, "a.prj": []byte(`PROJCS["NAD_1983_StatePlane_Wyoming_East",GEOGCS["GCS_North_American_1983"]]`)})
	for _, k := range []struct{ file, says, raw string }{
		{"a.kmz", "larger than 64 MB", string(bomb)},
		{"a.kmz", "more than 200 files", string(archive(t, many))},
		{"a.kmz", "cannot be opened", "PK"},
		{"a.kml", "DOCTYPE", laughs},
		{"a.gpx", "DOCTYPE", laughs},
		{"a.kml", "more than 300000 corners", "<kml><Placemark><LineString><coordinates>" + corners + "</coordinates></LineString></Placemark></kml>"},
		{"a.gpx", "more than 300000 points", "<gpx><trk><trkseg>" + strings.Repeat(`<trkpt lat="1" lon="1"/>`, 400_000) + "</trkseg></trk></gpx>"},
		{"a.geojson", "more than 300000 corners", `{"type":"LineString","coordinates":[` + strings.TrimSuffix(strings.Repeat("[9,61],", 1_000_000), ",") + "]}"},
		{"a.csv", "at most 5000 corners", strings.Repeat("61,9\n", 1_000_000)},
		{"a.kml", "breaks off in line 1", "<kml><Document>"},
		{"a.kml", "not a KML", "<html></html>"},
		{"a.kml", "no ground", "<kml></kml>"},
		{"a.kml", "too deep", "<kml>" + strings.Repeat("<Folder>", 100)},
		{"a.zip", "NAD_1983_StatePlane_Wyoming_East", string(utmless)},
		{"a.zip", "no .prj", string(archive(t, map[string][]byte{"a.shp": nil}))},
		{"a.zip", "not a shapefile", string(archive(t, map[string][]byte{"a.shp": nil, "a.prj": []byte(wgs84Prj)}))},
		{"a.shp", "put the .shp, .dbf and .prj", ""},
		{"a.docx", "Fjell reads", ""},
	} {
		_, err := Read(t.Context(), k.file, []byte(k.raw))
		assert.ErrorContains(t, err, k.says, k.file)
	}
	nan, err := readKML(t.Context(), []byte(strings.Replace(placemark, "9.01,61 ", "NaN,61 ", 1)))
	require.NoError(t, err)
	assert.Contains(t, nan[0].Problem, "off the world")
}

// fuzz checks that whatever comes, what is taken is sound, and that it takes no more room and no more steps than its size.
func fuzz(f *testing.F, read func(context.Context, []byte) ([]Feature, error), seeds ...[]byte) {
	for _, s := range seeds {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, raw []byte) {
		var got []Feature
		var err error
		within(t, len(raw), func(ctx context.Context) { got, err = read(ctx, raw) })
		if err != nil {
			return
		}
		for _, g := range got {
			if len(g.Shape) > 0 {
				assert.NoError(t, land.Check("shape", g.Shape))
				assert.Greater(t, g.AreaHa, 0.0)
			}
			for _, p := range g.Line {
				assert.True(t, onEarth(p))
			}
			assert.NotEmpty(t, g.Name)
			_, err := json.Marshal(g)
			assert.NoError(t, err)
		}
	})
}

func FuzzReadGeoJSON(f *testing.F) {
	fuzz(f, readGeoJSON, []byte(meadow), []byte(`{"type":"MultiPolygon","coordinates":[[[[0,0],[1,0],[1,1],[0,0]]],[]]}`),
		[]byte(`{"type":"Polygon","coordinates":[[[0,89.9],[180,89.9],[-180,90],[0,89.9]]]}`))
}

func FuzzReadKML(f *testing.F) { fuzz(f, readKML, []byte(placemark)) }

func FuzzReadKMZ(f *testing.F) {
	fuzz(f, readKMZ, archive(f, map[string][]byte{"doc.kml": []byte(placemark)}))
}

func FuzzReadGPX(f *testing.F) { fuzz(f, readGPX, []byte(track)) }

func FuzzReadCorners(f *testing.F) {
	fuzz(f, readCorners, []byte("name,lat,lon\na,61,9\na,61.1,9\na,61,9.1\n"))
}

func FuzzReadShapes(f *testing.F) {
	shp, _ := shapeLayer{kind: shpPolygon, records: []shapeRecord{{parts: [][]land.Position{{{9, 61}, {9, 61.01}, {9.01, 61.01}, {9, 61}}}}}}.shapes()
	fuzz(f, func(ctx context.Context, raw []byte) ([]Feature, error) {
		half := len(raw) / 2
		names := readNames(raw[half:], "")
		out := found{ctx: ctx}
		if err := readShapes(raw, degreesAsTheyAre, names, &out); err != nil {
			return nil, err
		}
		return out.finish()
	}, shp)
}

func BenchmarkRead5000Polygons(b *testing.B) {
	var l Land
	for i := range 5000 {
		g := sample(9+0.02*float64(i%100), 55+0.01*float64(i/100)).Grounds[0]
		g.Name = fmt.Sprintf("field %d", i)
		l.Grounds = append(l.Grounds, g)
	}
	raw, err := Write("geojson", l)
	require.NoError(b, err)
	for b.Loop() {
		got, err := Read(b.Context(), "a.geojson", raw)
		require.NoError(b, err)
		require.Len(b, got, 5000)
	}
}
