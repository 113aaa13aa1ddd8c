package exchange

import (
	"context"
	"fmt"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/land"
)

// slope is a made-up hillside on a grid: it rises a metre in ten to the north and falls to the east by half of that.
func slope() string {
	var b strings.Builder
	b.WriteString("ncols 60\nnrows 40\nxllcorner 500000\nyllcorner 6780000\ncellsize 10\nNODATA_value -9999\n")
	for r := range 40 {
		for c := range 60 {
			v := 300 + float64(39-r) - 0.5*float64(c)
			if r < 3 && c < 3 {
				v = -9999
			}
			fmt.Fprintf(&b, "%.3f ", v)
		}
		b.WriteString("\n")
	}
	return b.String()
}

func TestHeightsOfForeignProgramsAreTheSame(t *testing.T) {
	dir := t.TempDir()
	asc := filepath.Join(dir, "slope.asc")
	require.NoError(t, os.WriteFile(asc, []byte(slope()), 0o600))
	ours, err := ReadHeights(t.Context(), "slope.asc", []byte(slope()), 25832)
	require.NoError(t, err)
	require.Len(t, ours.Values, 60*40)
	at := ours.At(0, 0)
	assert.InDelta(t, 9.0, at[0], 0.001, "the zone's middle is at nine degrees east")
	for i, form := range [][]string{
		{"-ot", "Float32"}, {"-ot", "Float64", "-co", "COMPRESS=DEFLATE"}, {"-ot", "Int16", "-co", "COMPRESS=LZW", "-co", "PREDICTOR=2"},
		{"-ot", "Float32", "-co", "TILED=YES", "-co", "BLOCKXSIZE=16", "-co", "BLOCKYSIZE=16", "-co", "COMPRESS=LZW"}, {"-ot", "Int32", "-co", "ENDIANNESS=BIG"},
	} {
		tif := filepath.Join(dir, fmt.Sprintf("slope%d.tif", i))
		ogr(t, append(append([]string{"gdal_translate", "-q", "-of", "GTiff", "-a_srs", "EPSG:25832"}, form...), asc, tif)...)
		raw, err := os.ReadFile(tif)
		require.NoError(t, err)
		theirs, err := ReadHeights(t.Context(), tif, raw, 0)
		require.NoError(t, err, form)
		require.Equal(t, ours.Columns, theirs.Columns)
		for k, v := range ours.Values {
			if math.IsNaN(v) {
				assert.True(t, math.IsNaN(theirs.Values[k]), "no height stays none")
				continue
			}
			assert.InDelta(t, v, theirs.Values[k], 0.51, "%v", form) // whole metres in the integer ones
		}
		for _, p := range [][2]float64{{0, 0}, {59, 39}} {
			a, b := ours.At(p[0], p[1]), theirs.At(p[0], p[1])
			assert.InDelta(t, a[0], b[0], 1e-7)
			assert.InDelta(t, a[1], b[1], 1e-7)
		}
	}
	contours, err := land.Contours(ours, 5)
	require.NoError(t, err)
	require.NotEmpty(t, contours)
	plane := land.NewPlane(at)
	for _, c := range contours {
		for _, pos := range c.Line {
			p := plane.Forward(pos)
			// 300 + north/10 − east/20 on the made-up slope, counted from its north-west corner.
			assert.InDelta(t, c.Height, 339+p.Y/10-p.X/20, 0.05)
		}
	}
}

func TestAPictureIsLaidByItsWorldFile(t *testing.T) {
	corners, err := WorldFile("0.5\n0\n0\n-0.5\n500000.25\n6780000\n", 25832, 400, 200)
	require.NoError(t, err)
	plane := land.NewPlane(corners[0])
	right, down := plane.Forward(corners[1]), plane.Forward(corners[2])
	assert.InDelta(t, 200, right.X, 0.2)
	assert.InDelta(t, -100, down.Y, 0.2)
	for text, says := range map[string]string{"1 2 3": "six numbers", "a 0 0 -1 0 0": "not a number", "1 0 0 -1 500000 6780000": "off the world"} {
		_, err := WorldFile(text, 4326, 100, 100)
		assert.ErrorContains(t, err, says)
	}
}

func TestHeightsAreRefusedWithASentence(t *testing.T) {
	for file, cases := range map[string]map[string]string{
		"a.asc": {"ncols 2\nnrows 2\ncellsize 1\n1 2 3": "breaks off", "hello": "not an ASC grid", "ncols 1e9\nnrows 1e9\ncellsize 1\n1": "not an ASC grid", slope(): "off the world"},
		"a.tif": {"II*\x00": "breaks off", "PNG": "not a TIFF", "II*\x00\x08\x00\x00\x00\x00\x00": "2 × 2"},
		"a.csv": {"61,9,1\n61,9\n": "row 2", "61,9,1\n": "at least six", strings.Repeat("61,9,400\n", 8): "one place", strings.Repeat("61,9,400\n", mostHeights+1): "at most 20000"},
		"a.doc": {"": "GeoTIFF"},
	} {
		for raw, says := range cases {
			_, err := ReadHeights(t.Context(), file, []byte(raw), 4326)
			assert.ErrorContains(t, err, says, file)
		}
	}
}

func FuzzReadHeights(f *testing.F) {
	dir := f.TempDir()
	tif := filepath.Join(dir, "a.tif")
	asc := filepath.Join(dir, "a.asc")
	small := "ncols 3\nnrows 3\nxllcorner 9\nyllcorner 61\ncellsize 0.01\n1 2 3 4 5 6 7 8 9\n"
	require.NoError(f, os.WriteFile(asc, []byte(small), 0o600))
	if out, err := exec.Command("gdal_translate", "-q", "-of", "GTiff", "-a_srs", "EPSG:4326", asc, tif).CombinedOutput(); err != nil {
		f.Fatal(string(out))
	}
	raw, err := os.ReadFile(tif)
	require.NoError(f, err)
	f.Add(0, []byte(small))
	f.Add(1, raw)
	f.Add(2, []byte("61,9,1\n61.1,9,2\n61,9.1,3\n61.1,9.1,2\n61.05,9,4\n61.02,9.1,5\n"))
	f.Fuzz(func(t *testing.T, kind int, raw []byte) {
		var h land.Heights
		var err error
		within(t, len(raw), func(ctx context.Context) {
			h, err = ReadHeights(ctx, []string{"a.asc", "a.tif", "a.csv"}[((kind%3)+3)%3], raw, 4326)
		})
		if err != nil {
			return
		}
		assert.Len(t, h.Values, h.Columns*h.Rows)
		_, _ = land.Contours(h, 10)
	})
}
