package exchange

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/binary"
	"fmt"
	"math"
	"runtime"
	"strings"
	"sync/atomic"
	"testing"

	"fjell/core/quantity"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// allocated is how many bytes a piece of work asked for, all together.
func allocated(work func()) uint64 {
	var before, after runtime.MemStats
	runtime.ReadMemStats(&before)
	work()
	runtime.ReadMemStats(&after)
	return after.TotalAlloc - before.TotalAlloc
}

// patient is somebody who waits for a number of questions, and counts them.
type patient struct {
	context.Context
	asked, most atomic.Int64
}

func (p *patient) Err() error {
	if p.asked.Add(1) > p.most.Load() {
		return context.Canceled
	}
	return nil
}

func waits(t testing.TB, most int64) *patient {
	p := &patient{Context: t.Context()}
	p.most.Store(most)
	return p
}

// within holds a reader to the room and the steps that a file of a size may take: some to begin with, and so much a byte.
func within(t testing.TB, size int, read func(ctx context.Context)) {
	t.Helper()
	who := waits(t, int64(10_000+size))
	used := allocated(func() { read(who) })
	assert.LessOrEqual(t, who.asked.Load(), who.most.Load(), "steps of a file of %d bytes", size)
	assert.Less(t, used, uint64(96<<20+1000*size), "room for a file of %d bytes", size)
}

func TestNobodyReadsForWhoHasGone(t *testing.T) {
	var l Land
	for i := range 400 {
		g := sample(9+0.02*float64(i%100), 55+0.01*float64(i/100)).Grounds[0]
		g.Name = fmt.Sprintf("field %d", i)
		l.Grounds = append(l.Grounds, g)
	}
	written := func(format string) []byte {
		raw, err := Write(format, l)
		require.NoError(t, err)
		return raw
	}
	var corners, table, waypoints, grid bytes.Buffer
	grid.WriteString("ncols 200\nnrows 200\nxllcorner 9\nyllcorner 61\ncellsize 0.001\n")
	grid.WriteString(strings.Repeat("100 ", 200*200))
	corners.WriteString("name,lat,lon\n")
	table.WriteString("time,lat,lon,height\n")
	waypoints.WriteString(`<gpx version="1.1" creator="x">`)
	for i := range 3000 {
		fmt.Fprintf(&corners, "f%d,%.5f,%.5f\nf%d,%.5f,%.5f\nf%d,%.5f,%.5f\n", i, 61.0, 9.0, i, 61.001, 9.0, i, 61.0, 9.001)
		fmt.Fprintf(&table, "2026-06-10,61,9,%d\n", i%20)
		fmt.Fprintf(&waypoints, `<wpt lat="61.1" lon="9.2"><time>2026-06-10T08:00:00Z</time><cmt>11.5</cmt></wpt>`)
	}
	waypoints.WriteString(`</gpx>`)
	features := func(name string, raw []byte) func(ctx context.Context) error {
		return func(ctx context.Context) error { _, err := Read(ctx, name, raw); return err }
	}
	for name, read := range map[string]func(ctx context.Context) error{
		"geojson": features("a.geojson", written("geojson")), "kml": features("a.kml", written("kml")), "kmz": features("a.kmz", archive(t, map[string][]byte{"doc.kml": written("kml")})),
		"gpx": features("a.gpx", written("gpx")), "shapefile": features("a.zip", written("shapefile")), "corners": features("a.csv", corners.Bytes()),
		"table": func(ctx context.Context) error { _, err := ReadTable(ctx, table.Bytes()); return err },
		"waypoints": func(ctx context.Context) error {
			_, _, err := ReadWaypoints(ctx, waypoints.Bytes(), quantity.Centimetre, quantity.Metric, noon)
			return err
		},
		"grid": func(ctx context.Context) error { _, err := ReadHeights(ctx, "a.asc", grid.Bytes(), 4326); return err },
	} {
		t.Run(name, func(t *testing.T) {
			all := waits(t, math.MaxInt64)
			require.NoError(t, read(all))
			n := all.asked.Load()
			assert.Greater(t, n, int64(2), "it asks again while it reads")
			for _, most := range []int64{0, 1, n / 2, n - 2} {
				who := waits(t, most)
				require.ErrorIs(t, read(who), context.Canceled, "gone after %d of %d", most, n)
				assert.Less(t, who.asked.Load(), most+20, "and nothing is read on")
			}
		})
	}
}

// tagged is a TIFF of these tags, whose long values all stand in the same bytes.
func tagged(tags [][3]uint32, size int) []byte {
	le := binary.LittleEndian
	raw := make([]byte, size)
	copy(raw, "II*\x00")
	le.PutUint32(raw[4:], 8)
	le.PutUint16(raw[8:], uint16(len(tags)))
	for i, tag := range tags {
		e := raw[10+12*i:]
		le.PutUint16(e, uint16(tag[0]))
		le.PutUint16(e[2:], 1) // bytes
		le.PutUint32(e[4:], tag[1])
		le.PutUint32(e[8:], tag[2])
	}
	return raw
}

func TestATIFFCannotTakeMemoryWithoutBound(t *testing.T) {
	const size = 8 << 20
	var tags [][3]uint32
	for i := range uint32(500) { // each promises seven million numbers, out of the same seven megabytes
		tags = append(tags, [3]uint32{40000 + i%3, 7 << 20, 64 << 10})
	}
	for range 200 {
		tags = append(tags, [3]uint32{tagGeoKeys, 7 << 20, 64 << 10})
	}
	used := allocated(func() {
		_, err := ReadHeights(t.Context(), "x.tif", tagged(tags, size), 0)
		assert.Error(t, err)
	})
	assert.Less(t, used, uint64(64<<20))

	// One small deflated tile that every place of a large raster points to.
	used = allocated(func() {
		_, err := ReadHeights(t.Context(), "x.tif", manyTiles(t, 1<<14, 1<<10), 0)
		assert.Error(t, err)
	})
	assert.Less(t, used, uint64(700<<20))
}

// manyTiles promises a raster of a side in tiles of a side, all of them the same few bytes.
func manyTiles(t *testing.T, side, tile uint32) []byte {
	t.Helper()
	le := binary.LittleEndian
	n := (side / tile) * (side / tile)
	raw := make([]byte, 400+8*n+64)
	copy(raw, "II*\x00")
	le.PutUint32(raw[4:], 8)
	entries := [][4]uint32{{tagWidth, 4, 1, side}, {tagHeight, 4, 1, side}, {tagBits, 4, 1, 8}, {tagTileWidth, 4, 1, tile}, {tagTileHeight, 4, 1, tile},
		{tagTiles, 4, n, 400}, {tagTileBytes, 4, n, 400 + 4*n}}
	le.PutUint16(raw[8:], uint16(len(entries)))
	for i, e := range entries {
		at := raw[10+12*i:]
		le.PutUint16(at, uint16(e[0]))
		le.PutUint16(at[2:], uint16(e[1]))
		le.PutUint32(at[4:], e[2])
		le.PutUint32(at[8:], e[3])
	}
	for i := range n {
		le.PutUint32(raw[400+4*i:], 300)
		le.PutUint32(raw[400+4*n+4*i:], 60)
	}
	return raw
}

func TestRingsInRingsAreRefused(t *testing.T) {
	le := binary.LittleEndian
	shape := func(rings int) []byte {
		var points, starts bytes.Buffer
		for i := range rings {
			_ = binary.Write(&starts, le, uint32(i*5))
			turn := []float64{0, 0, 0, 1, 1, 1, 1, 0, 0, 0} // clockwise: an outer ring
			if i%2 == 1 {
				turn = []float64{5, 5, 6, 5, 6, 6, 5, 6, 5, 5} // a hole that lies in none
			}
			for _, v := range turn {
				_ = binary.Write(&points, le, math.Float64bits(v/1000))
			}
		}
		var record bytes.Buffer
		_ = binary.Write(&record, le, uint32(shpPolygon))
		record.Write(make([]byte, 32))
		_ = binary.Write(&record, le, uint32(rings))
		_ = binary.Write(&record, le, uint32(rings*5))
		record.Write(starts.Bytes())
		record.Write(points.Bytes())
		shp := make([]byte, shpHeader)
		binary.BigEndian.PutUint32(shp, shpCode)
		shp = binary.BigEndian.AppendUint32(shp, 1)
		shp = binary.BigEndian.AppendUint32(shp, uint32(record.Len()/2))
		shp = append(shp, record.Bytes()...)
		var out bytes.Buffer
		z := zip.NewWriter(&out)
		for name, raw := range map[string][]byte{"a.shp": shp, "a.prj": []byte(wgs84Prj)} {
			f, err := z.Create(name)
			require.NoError(t, err)
			_, err = f.Write(raw)
			require.NoError(t, err)
		}
		require.NoError(t, z.Close())
		return out.Bytes()
	}
	_, err := readShapefile(t.Context(), shape(200_000))
	assert.ErrorContains(t, err, "rings")
	_, err = readShapefile(t.Context(), shape(4900))
	assert.ErrorContains(t, err, "simplify", "sorting them is bounded too")
	_, err = readShapefile(t.Context(), shape(6))
	assert.NoError(t, err)
}

func TestACellIsOneCell(t *testing.T) {
	for in, want := range map[string]string{"=1+1": "'=1+1", " =1+1": "' =1+1", "cows;=1+1": "cows,=1+1", "cows\r\n=1+1": "cows =1+1", "cows\t@x": "cows @x", "Nedre": "Nedre", "-3": "'-3", "": ""} {
		assert.Equal(t, want, Cell(in), "%q", in)
	}
}
