package exchange

import (
	"archive/zip"
	"bytes"
	"encoding/binary"
	"math"
	"runtime"
	"testing"

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
		_, err := ReadHeights("x.tif", tagged(tags, size), 0)
		assert.Error(t, err)
	})
	assert.Less(t, used, uint64(64<<20))

	// One small deflated tile that every place of a large raster points to.
	used = allocated(func() {
		_, err := ReadHeights("x.tif", manyTiles(t, 1<<14, 1<<10), 0)
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
	_, err := ReadShapefile(shape(200_000))
	assert.ErrorContains(t, err, "rings")
	_, err = ReadShapefile(shape(4900))
	assert.ErrorContains(t, err, "simplify", "sorting them is bounded too")
	_, err = ReadShapefile(shape(6))
	assert.NoError(t, err)
}

func TestACellIsOneCell(t *testing.T) {
	for in, want := range map[string]string{"=1+1": "'=1+1", " =1+1": "' =1+1", "cows;=1+1": "cows,=1+1", "cows\r\n=1+1": "cows =1+1", "cows\t@x": "cows @x", "Nedre": "Nedre", "-3": "'-3", "": ""} {
		assert.Equal(t, want, Cell(in), "%q", in)
	}
}
