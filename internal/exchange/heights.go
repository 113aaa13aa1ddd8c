package exchange

import (
	"bufio"
	"bytes"
	"compress/zlib"
	"context"
	"encoding/binary"
	"encoding/csv"
	"errors"
	"io"
	"math"
	"strconv"
	"strings"

	"golang.org/x/image/tiff/lzw"

	"fjell/core/land"
	"fjell/core/quantity"
)

// Limits of heights that are read.
const (
	mostCells   = 16 << 20 // cells of a raster
	mostBlock   = 4 << 20  // cells of one strip or tile
	mostBlocks  = 1 << 20  // strips or tiles
	mostPairs   = 4096     // numbers of any other tag
	mostTagText = 256      // letters of a tag
	mostHeights = 20000    // measured heights of a list
	keptCells   = 400      // a raster is thinned to so many cells along a side: contours need no more
	fromPoints  = 120      // cells along the longer side of a grid made from a list
)

// ReadHeights reads the heights of ground by the file's ending: a GeoTIFF, an ASC grid, or a CSV of measured heights
// (latitude, longitude, height). code is the EPSG code of an ASC grid, which does not say its own.
func ReadHeights(ctx context.Context, name string, raw []byte, code int) (land.Heights, error) {
	h, err := readHeights(ctx, name, raw, code)
	return waited(ctx, h, err)
}

func readHeights(ctx context.Context, name string, raw []byte, code int) (land.Heights, error) {
	if len(raw) > MostFileBytes {
		return land.Heights{}, quantity.Refuse("file", nil, "the file is larger than %d MB", MostFileBytes>>20)
	}
	switch ending := strings.ToLower(name[strings.LastIndex(name, ".")+1:]); ending {
	case "asc":
		project, err := projectionByCode(code)
		if err != nil {
			return land.Heights{}, err
		}
		return readASC(ctx, raw, project)
	case "tif", "tiff":
		return readGeoTIFF(ctx, raw)
	case "csv", "txt":
		return readHeightList(ctx, raw)
	}
	return land.Heights{}, quantity.Refuse("file", nil, "heights come as a GeoTIFF (.tif), an ASC grid (.asc) or a .csv of latitude, longitude, height")
}

// projectionByCode knows the projections that Fjell reads by their EPSG numbers.
func projectionByCode(code int) (projection, error) {
	switch {
	case code == 4326, code == 4258, code == 0:
		return degreesAsTheyAre, nil
	case code == 3857:
		return webMercator, nil
	case code > 32600 && code <= 32660:
		return utm(code-32600, true), nil
	case code > 32700 && code <= 32760:
		return utm(code-32700, false), nil
	case code >= 25828 && code <= 25838:
		return utm(code-25800, true), nil
	}
	return nil, quantity.Refuse("epsg", code, "Fjell reads WGS 84 (4326), ETRS89 (4258), UTM (326xx, 327xx, 258xx) and Web Mercator (3857)")
}

// raster is a grid of heights as a file has it, thinned while it is read: a small file can promise many cells.
type raster struct {
	columns, rows    int
	step             int       // every so many columns and rows are kept
	values           []float64 // those kept, from the north-west
	west, north      float64   // centre of the first cell
	cellX, cellY     float64
	project          projection
	noData           float64
	noDataIsDeclared bool
}

// thin says how many cells are kept, and makes room for them.
func (r *raster) thin() {
	r.step = max(1, (max(r.columns, r.rows)+keptCells-1)/keptCells)
	wide, high := r.kept()
	r.values = make([]float64, wide*high)
}

func (r *raster) kept() (wide, high int) {
	return (r.columns + r.step - 1) / r.step, (r.rows + r.step - 1) / r.step
}

// put keeps a cell, if it is one of those that are kept.
func (r *raster) put(row, col int, v float64) {
	if row%r.step == 0 && col%r.step == 0 {
		wide, _ := r.kept()
		r.values[row/r.step*wide+col/r.step] = v
	}
}

func (r *raster) heights() (land.Heights, error) {
	step := r.step
	h := land.Heights{}
	h.Columns, h.Rows = r.kept()
	for _, v := range r.values {
		if r.noDataIsDeclared && v == r.noData || !(v >= -500 && v <= 9000) { // there is no pasture beyond
			v = math.NaN()
		}
		h.Values = append(h.Values, v)
	}
	corner := r.project(r.west, r.north)
	if !onEarth(corner) {
		return h, quantity.Refuse("file", nil, "these heights lie off the world: is it another projection?")
	}
	h.At = func(c, row float64) land.Position {
		return r.project(r.west+c*float64(step)*r.cellX, r.north-row*float64(step)*r.cellY)
	}
	return h, nil
}

func readASC(ctx context.Context, raw []byte, project projection) (land.Heights, error) {
	scan := bufio.NewScanner(open(ctx, raw))
	scan.Buffer(nil, MostFileBytes)
	scan.Split(bufio.ScanWords)
	head := map[string]float64{}
	first, begun := 0.0, false
	r := raster{project: project}
	for scan.Scan() {
		word := strings.ToLower(scan.Text())
		if v, err := strconv.ParseFloat(word, 64); err == nil {
			first, begun = v, true
			break
		}
		if !scan.Scan() || len(head) > 10 {
			break
		}
		v, err := strconv.ParseFloat(scan.Text(), 64)
		if err != nil {
			return land.Heights{}, quantity.Refuse("file", clip(word, 20), "the head of this grid cannot be read")
		}
		head[word] = v
	}
	cell := head["cellsize"]
	r.columns, r.rows, r.cellX, r.cellY = int(head["ncols"]), int(head["nrows"]), cell, cell
	if dx, ok := head["dx"]; ok {
		r.cellX, r.cellY = dx, head["dy"]
	}
	if head["ncols"] < 2 || head["nrows"] < 2 || head["ncols"]*head["nrows"] > mostCells || !(r.cellX > 0) || !(r.cellY > 0) {
		return land.Heights{}, quantity.Refuse("file", nil, "this is not an ASC grid of 2 × 2 to %d cells", mostCells)
	}
	r.thin()
	n := 0
	if begun {
		r.put(0, 0, first)
		n = 1
	}
	for n < r.columns*r.rows && scan.Scan() {
		v, err := strconv.ParseFloat(scan.Text(), 64)
		if err != nil {
			return land.Heights{}, quantity.Refuse("file", clip(scan.Text(), 20), "cell %d is not a height", n+1)
		}
		r.put(n/r.columns, n%r.columns, v)
		n++
	}
	if n < r.columns*r.rows {
		return land.Heights{}, quantity.Refuse("file", n, "the grid breaks off: %d × %d cells are promised", r.columns, r.rows)
	}
	r.noData, r.noDataIsDeclared = head["nodata_value"], true
	if _, ok := head["nodata_value"]; !ok {
		r.noData = -9999
	}
	west, centred := head["xllcenter"]
	if !centred {
		west = head["xllcorner"] + r.cellX/2
	}
	south, centred := head["yllcenter"]
	if !centred {
		south = head["yllcorner"] + r.cellY/2
	}
	r.west, r.north = west, south+float64(r.rows-1)*r.cellY
	return r.heights()
}

// The tags of TIFF 6.0 and GeoTIFF 1.1 (OGC 19-008r4) that a height model needs.
const (
	tagWidth       = 256
	tagHeight      = 257
	tagBits        = 258
	tagCompression = 259
	tagStrips      = 273
	tagSamples     = 277
	tagRowsAStrip  = 278
	tagStripBytes  = 279
	tagPredictor   = 317
	tagTileWidth   = 322
	tagTileHeight  = 323
	tagTiles       = 324
	tagTileBytes   = 325
	tagFormat      = 339
	tagPixelScale  = 33550
	tagTiePoint    = 33922
	tagGeoKeys     = 34735
	tagNoData      = 42113
	keyGeographic  = 2048
	keyProjected   = 3072
	keyRasterType  = 1025
)

type tiffFile struct {
	raw   []byte
	order binary.ByteOrder
	tags  map[uint16][]float64
	text  map[uint16]string
}

// readGeoTIFF reads one band of heights: integers or floats, in strips or tiles, plain, LZW or deflated.
func readGeoTIFF(ctx context.Context, raw []byte) (land.Heights, error) {
	t, err := openTIFF(raw)
	if err != nil {
		return land.Heights{}, err
	}
	r := raster{columns: t.one(tagWidth, 0), rows: t.one(tagHeight, 0)}
	if r.columns < 2 || r.rows < 2 || r.columns > mostCells || r.rows > mostCells || r.columns*r.rows > mostCells {
		return land.Heights{}, quantity.Refuse("file", nil, "a height model has 2 × 2 to %d cells", mostCells)
	}
	if t.one(tagSamples, 1) != 1 {
		return land.Heights{}, quantity.Refuse("file", nil, "this is a picture with %d colours, not heights: bring it as the farm's own picture", t.one(tagSamples, 1))
	}
	code := 0
	pixelIsPoint := false
	keys := t.tags[tagGeoKeys]
	for i := 4; i+3 < len(keys); i += 4 {
		switch int(keys[i]) {
		case keyProjected:
			code = int(keys[i+3])
		case keyGeographic:
			if code == 0 {
				code = int(keys[i+3])
			}
		case keyRasterType:
			pixelIsPoint = keys[i+3] == 2
		}
	}
	if code == 0 {
		return land.Heights{}, quantity.Refuse("file", nil, "this TIFF does not say where on earth it lies: a GeoTIFF is needed")
	}
	if r.project, err = projectionByCode(code); err != nil {
		return land.Heights{}, err
	}
	scale, tie := t.tags[tagPixelScale], t.tags[tagTiePoint]
	if len(scale) < 2 || len(tie) < 6 || !(scale[0] > 0) || !(scale[1] > 0) {
		return land.Heights{}, quantity.Refuse("file", nil, "this GeoTIFF is turned or has no scale: save it north up")
	}
	r.cellX, r.cellY = scale[0], scale[1]
	half := 0.5
	if pixelIsPoint {
		half = 0
	}
	r.west, r.north = tie[3]+(half-tie[0])*r.cellX, tie[4]-(half-tie[1])*r.cellY
	if text, ok := t.text[tagNoData]; ok {
		r.noData, err = strconv.ParseFloat(strings.TrimSpace(strings.TrimRight(text, "\x00")), 64)
		r.noDataIsDeclared = err == nil
	}
	r.thin()
	if err := t.cells(ctx, &r); err != nil {
		return land.Heights{}, err
	}
	return r.heights()
}

var errTIFF = quantity.Refuse("file", nil, "this TIFF breaks off or is not a TIFF")

func openTIFF(raw []byte) (*tiffFile, error) {
	t := &tiffFile{raw: raw, tags: map[uint16][]float64{}, text: map[uint16]string{}}
	if len(raw) < 8 {
		return nil, errTIFF
	}
	switch string(raw[:4]) {
	case "II*\x00":
		t.order = binary.LittleEndian
	case "MM\x00*":
		t.order = binary.BigEndian
	default:
		return nil, errTIFF
	}
	at := int64(t.order.Uint32(raw[4:]))
	if at+2 > int64(len(raw)) {
		return nil, errTIFF
	}
	count := int64(t.order.Uint16(raw[at:]))
	if at+2+12*count > int64(len(raw)) {
		return nil, errTIFF
	}
	sizes := map[uint16]int64{1: 1, 2: 1, 3: 2, 4: 4, 12: 8, 11: 4}
	most := map[uint16]int64{tagStrips: mostBlocks, tagStripBytes: mostBlocks, tagTiles: mostBlocks, tagTileBytes: mostBlocks, tagNoData: mostTagText}
	for _, tag := range []uint16{tagWidth, tagHeight, tagBits, tagCompression, tagSamples, tagRowsAStrip, tagPredictor, tagTileWidth, tagTileHeight, tagFormat, tagPixelScale,
		tagTiePoint, tagGeoKeys} {
		most[tag] = mostPairs
	}
	for i := int64(0); i < count; i++ {
		e := raw[at+2+12*i:]
		tag, kind, n := t.order.Uint16(e), t.order.Uint16(e[2:]), int64(t.order.Uint32(e[4:]))
		size, known := sizes[kind]
		limit, wanted := most[tag]
		if !known || !wanted {
			continue
		}
		delete(most, tag) // each is read once, however often a file says it
		if n > limit {
			return nil, errTIFF
		}
		value := e[8:12]
		if size*n > 4 {
			from := int64(t.order.Uint32(e[8:]))
			if from+size*n > int64(len(raw)) {
				return nil, errTIFF
			}
			value = raw[from : from+size*n]
		}
		if kind == 2 {
			t.text[tag] = string(value[:n])
			continue
		}
		list := make([]float64, n)
		for k := range list {
			v := value[int64(k)*size:]
			switch kind {
			case 1:
				list[k] = float64(v[0])
			case 3:
				list[k] = float64(t.order.Uint16(v))
			case 4:
				list[k] = float64(t.order.Uint32(v))
			case 11:
				list[k] = float64(math.Float32frombits(t.order.Uint32(v)))
			case 12:
				list[k] = math.Float64frombits(t.order.Uint64(v))
			}
		}
		t.tags[tag] = list
	}
	return t, nil
}

func (t *tiffFile) one(tag uint16, otherwise int) int {
	if v := t.tags[tag]; len(v) > 0 && v[0] >= 0 && v[0] < 1<<31 {
		return int(v[0])
	}
	return otherwise
}

// cells reads all cells, block by block, and keeps those that the raster keeps.
func (t *tiffFile) cells(ctx context.Context, r *raster) error {
	columns, rows := r.columns, r.rows
	bits, format := t.one(tagBits, 8), t.one(tagFormat, 1)
	bytesEach := bits / 8
	if bits != 8 && bits != 16 && bits != 32 && bits != 64 || t.one(tagPredictor, 1) != 1 && format != 1 && format != 2 {
		return quantity.Refuse("file", bits, "heights of this form are not read: save them as 32-bit floats without a predictor")
	}
	offsets, counts := t.tags[tagStrips], t.tags[tagStripBytes]
	blockWidth, blockHeight := columns, min(rows, t.one(tagRowsAStrip, rows))
	if tiles, ok := t.tags[tagTiles]; ok {
		offsets, counts = tiles, t.tags[tagTileBytes]
		blockWidth, blockHeight = t.one(tagTileWidth, 0), t.one(tagTileHeight, 0)
	}
	if blockWidth < 1 || blockHeight < 1 || blockWidth > mostBlock || blockHeight > mostBlock || blockWidth*blockHeight > mostBlock {
		return errTIFF
	}
	across := (columns + blockWidth - 1) / blockWidth
	down := (rows + blockHeight - 1) / blockHeight
	// What all blocks unpack to is bounded too: they may share the same few bytes.
	if len(offsets) < across*down || len(counts) < across*down || across*down*blockWidth*blockHeight > 2*mostCells {
		return errTIFF
	}
	told := t.one(tagPredictor, 1) == 2
	for b := 0; b < across*down; b++ {
		if err := ctx.Err(); err != nil {
			return err
		}
		from, size := int64(offsets[b]), int64(counts[b])
		if from < 0 || size < 0 || from+size > int64(len(t.raw)) {
			return errTIFF
		}
		block, err := t.unpack(t.raw[from:from+size], blockWidth*blockHeight*bytesEach)
		if err != nil {
			return err
		}
		x0, y0 := b%across*blockWidth, b/across*blockHeight
		for y := 0; y < blockHeight && y0+y < rows; y++ {
			sum := uint64(0)
			for x := 0; x < blockWidth; x++ {
				i := (y*blockWidth + x) * bytesEach
				if i+bytesEach > len(block) {
					return errTIFF
				}
				v := t.number(block[i:], bits)
				if told { // each cell is told against the one before
					sum = (sum + v) & (1<<bits - 1)
					v = sum
				}
				if x0+x < columns {
					r.put(y0+y, x0+x, cellValue(v, bits, format))
				}
			}
		}
	}
	return nil
}

func (t *tiffFile) number(b []byte, bits int) uint64 {
	switch bits {
	case 8:
		return uint64(b[0])
	case 16:
		return uint64(t.order.Uint16(b))
	case 32:
		return uint64(t.order.Uint32(b))
	}
	return t.order.Uint64(b)
}

func cellValue(v uint64, bits, format int) float64 {
	switch {
	case format == 3 && bits == 32:
		return float64(math.Float32frombits(uint32(v)))
	case format == 3 && bits == 64:
		return math.Float64frombits(v)
	case format == 2:
		return float64(int64(v<<(64-bits)) >> (64 - bits))
	}
	return float64(v)
}

func (t *tiffFile) unpack(raw []byte, most int) ([]byte, error) {
	var r io.Reader
	switch c := t.one(tagCompression, 1); c {
	case 1:
		return raw, nil
	case 5:
		r = lzw.NewReader(bytes.NewReader(raw), lzw.MSB, 8)
	case 8, 32946:
		z, err := zlib.NewReader(bytes.NewReader(raw))
		if err != nil {
			return nil, errTIFF
		}
		r = z
	default:
		return nil, quantity.Refuse("file", c, "heights packed like this are not read: save them plain, LZW or deflated")
	}
	out, err := io.ReadAll(io.LimitReader(r, int64(most)))
	if err != nil && !errors.Is(err, io.ErrUnexpectedEOF) {
		return nil, errTIFF
	}
	return out, nil
}

func readHeightList(ctx context.Context, raw []byte) (land.Heights, error) {
	r := csv.NewReader(open(ctx, bytes.TrimPrefix(raw, []byte("\xef\xbb\xbf"))))
	r.FieldsPerRecord, r.TrimLeadingSpace = -1, true
	first, _, _ := bytes.Cut(raw, []byte("\n"))
	if bytes.ContainsRune(first, ';') {
		r.Comma = ';'
	}
	var points []land.Height
	for row := 1; ; row++ {
		cells, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return land.Heights{}, quantity.Refuse("file", nil, "row %d cannot be read: %v", row, err)
		}
		var v [3]float64
		ok := len(cells) >= 3
		for i := 0; ok && i < 3; i++ {
			v[i], err = strconv.ParseFloat(strings.Replace(strings.TrimSpace(cells[i]), ",", ".", 1), 64)
			ok = err == nil
		}
		if !ok {
			if row == 1 {
				continue // heads
			}
			return land.Heights{}, quantity.Refuse("file", nil, "row %d is not latitude, longitude, height", row)
		}
		at := land.Position{v[1], v[0]}
		if !onEarth(at) || math.IsNaN(v[2]) || math.Abs(v[2]) > 9000 {
			return land.Heights{}, quantity.Refuse("file", nil, "row %d lies off the world", row)
		}
		if points = append(points, land.Height{At: at, Height: v[2]}); len(points) > mostHeights {
			return land.Heights{}, quantity.Refuse("file", nil, "at most %d heights are read: bring a grid instead", mostHeights)
		}
	}
	return land.HeightsFrom(points, fromPoints)
}
