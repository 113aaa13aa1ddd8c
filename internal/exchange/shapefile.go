package exchange

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/binary"
	"fmt"
	"math"
	"strconv"
	"strings"
	"unicode/utf8"

	"fjell/core/land"
	"fjell/core/quantity"
)

// The shapefile of the ESRI Shapefile Technical Description (1998) and its dBASE III table.
const (
	shpCode    = 9994
	shpVersion = 1000
	shpHeader  = 100
	shpPoint   = 1
	shpLine    = 3
	shpPolygon = 5
)

// wgs84Prj is geographic WGS 84 as .prj files write it.
const wgs84Prj = `GEOGCS["GCS_WGS_1984",DATUM["D_WGS_1984",SPHEROID["WGS_1984",6378137.0,298.257223563]],PRIMEM["Greenwich",0.0],UNIT["Degree",0.0174532925199433]]`

// readShapefile reads the shapefiles in a .zip: polygons, lines and points, named by their tables.
func readShapefile(ctx context.Context, raw []byte) ([]Feature, error) {
	files, err := unzip(ctx, raw, ".shp", ".dbf", ".prj", ".cpg")
	if err != nil {
		return nil, err
	}
	byName := map[string][]byte{}
	for _, f := range files {
		byName[f.name] = f.raw
	}
	out := found{ctx: ctx}
	layers := 0
	for _, f := range files {
		base, isShape := strings.CutSuffix(f.name, ".shp")
		if !isShape {
			continue
		}
		layers++
		prj, ok := byName[base+".prj"]
		if !ok {
			return nil, quantity.Refuse("file", nil, "%s has no .prj, so nobody can tell where on earth it lies: put the .prj into the .zip", clip(f.name, 60))
		}
		project, err := projectionOf(string(prj))
		if err != nil {
			return nil, err
		}
		names := readNames(byName[base+".dbf"], string(byName[base+".cpg"]))
		if err := readShapes(f.raw, project, names, &out); err != nil {
			return nil, err
		}
	}
	if layers == 0 {
		return nil, quantity.Refuse("file", nil, "there is no .shp in this .zip")
	}
	return out.finish()
}

func readShapes(raw []byte, project projection, names []string, out *found) error {
	broken := func(n int) error {
		return quantity.Refuse("file", nil, "the shapefile breaks off in record %d", n)
	}
	if len(raw) < shpHeader || binary.BigEndian.Uint32(raw) != shpCode {
		return quantity.Refuse("file", nil, "this is not a shapefile")
	}
	for at, n := shpHeader, 0; at < len(raw); n++ {
		if len(raw)-at < 8 {
			return broken(n + 1)
		}
		length := int64(binary.BigEndian.Uint32(raw[at+4:])) * 2
		at += 8
		if length > int64(len(raw)-at) || length < 4 {
			return broken(n + 1)
		}
		record := raw[at : at+int(length)]
		at += int(length)
		name := ""
		if n < len(names) {
			name = names[n]
		}
		parts, err := recordParts(record)
		if err != nil {
			return broken(n + 1)
		}
		// 1…8 are plain, 11…18 carry heights, 21…28 measures: the plane part is the same.
		switch kind := binary.LittleEndian.Uint32(record); kind % 10 {
		case 0:
			continue
		case shpPoint, 8:
			for _, p := range parts[0] {
				pos := project(p[0], p[1])
				if err := out.add(Feature{Name: name, Point: &pos}); err != nil {
					return err
				}
			}
		case shpLine:
			for _, part := range parts {
				if err := out.add(Feature{Name: name, Line: positionsOf(part, project)}); err != nil {
					return err
				}
			}
		case shpPolygon:
			shape, err := ringsToShape(parts, project)
			if err != nil {
				return err
			}
			if len(shape) > 0 {
				if err := out.add(Feature{Name: name, Shape: shape}); err != nil {
					return err
				}
			}
		default:
			return quantity.Refuse("file", int(kind), "shapes of this kind are neither ground, lines nor points")
		}
	}
	return nil
}

func positionsOf(part [][2]float64, project projection) []land.Position {
	out := make([]land.Position, len(part))
	for i, p := range part {
		out[i] = project(p[0], p[1])
	}
	return out
}

// recordParts reads the points of a record, part by part.
func recordParts(record []byte) ([][][2]float64, error) {
	le := binary.LittleEndian
	point := func(b []byte) [2]float64 {
		return [2]float64{math.Float64frombits(le.Uint64(b)), math.Float64frombits(le.Uint64(b[8:]))}
	}
	kind := le.Uint32(record) % 10
	body := record[4:]
	switch kind {
	case 0:
		return nil, nil
	case shpPoint:
		if len(body) < 16 {
			return nil, fmt.Errorf("short point")
		}
		return [][][2]float64{{point(body)}}, nil
	}
	if len(body) < 36 {
		return nil, fmt.Errorf("short record")
	}
	body = body[32:]
	starts := []int{0}
	count := int64(le.Uint32(body))
	points := body[4:]
	if kind != 8 {
		if len(body) < 8 {
			return nil, fmt.Errorf("short record")
		}
		parts := count
		count = int64(le.Uint32(body[4:]))
		if parts < 1 || parts*4 > int64(len(body)-8) {
			return nil, fmt.Errorf("parts")
		}
		starts = starts[:0]
		for i := int64(0); i < parts; i++ {
			starts = append(starts, int(le.Uint32(body[8+4*i:])))
		}
		points = body[8+4*parts:]
	}
	if count*16 > int64(len(points)) {
		return nil, fmt.Errorf("points")
	}
	out := make([][][2]float64, len(starts))
	for i, from := range starts {
		to := int(count)
		if i+1 < len(starts) {
			to = starts[i+1]
		}
		if from < 0 || from > to || to > int(count) {
			return nil, fmt.Errorf("part %d", i)
		}
		for k := from; k < to; k++ {
			out[i] = append(out[i], point(points[16*k:]))
		}
	}
	return out, nil
}

// mostRings is how many rings one shape may have, and mostSorting how many corners may be looked at to find the ring a
// hole lies in: rings in rings would otherwise keep a core busy for minutes.
const (
	mostRings   = 5000
	mostSorting = 20_000_000
)

// ringsToShape sorts rings into outer ones, which run clockwise, and the holes that lie in them.
func ringsToShape(parts [][][2]float64, project projection) (land.Shape, error) {
	if len(parts) > mostRings {
		return nil, quantity.Refuse("file", len(parts), "a shape has at most %d rings", mostRings)
	}
	looked := 0
	area := func(r [][2]float64) float64 {
		sum := 0.0
		for i := range r {
			a, b := r[i], r[(i+1)%len(r)]
			sum += (a[0]-r[0][0])*(b[1]-r[0][1]) - (b[0]-r[0][0])*(a[1]-r[0][1])
		}
		return sum / 2
	}
	inside := func(p [2]float64, r [][2]float64) bool {
		in := false
		for i := range r {
			a, b := r[i], r[(i+1)%len(r)]
			if (a[1] > p[1]) != (b[1] > p[1]) && p[0] < (b[0]-a[0])*(p[1]-a[1])/(b[1]-a[1])+a[0] {
				in = !in
			}
		}
		return in
	}
	var out land.Shape
	var outers [][][2]float64
	for _, r := range parts {
		if len(r) > 0 && (area(r) < 0 || len(parts) == 1) {
			outers = append(outers, r)
			out = append(out, land.Polygon{positionsOf(r, project)})
		}
	}
	for _, r := range parts {
		if len(r) == 0 || area(r) < 0 || len(parts) == 1 {
			continue
		}
		best := -1
		for i, o := range outers {
			if looked += len(o); looked > mostSorting {
				return nil, quantity.Refuse("file", nil, "a shape in it has more holes and rings than can be sorted: simplify it first")
			}
			if inside(r[0], o) && (best < 0 || -area(o) < -area(outers[best])) {
				best = i
			}
		}
		if best < 0 { // some programs turn all rings the other way
			outers = append(outers, r)
			out = append(out, land.Polygon{positionsOf(r, project)})
			continue
		}
		out[best] = append(out[best], positionsOf(r, project))
	}
	return out, nil
}

// readNames reads the column of a dBASE table that names things: one called name, or else the first with text.
func readNames(raw []byte, codepage string) []string {
	le := binary.LittleEndian
	if len(raw) < 33 {
		return nil
	}
	header, width := int(le.Uint16(raw[8:])), int(le.Uint16(raw[10:]))
	if header < 33 || header > len(raw) || width < 1 {
		return nil
	}
	from, length := -1, 0
	at := 1
	for i := 32; i+32 <= header && raw[i] != 0x0D; i += 32 {
		field := strings.ToLower(string(bytes.TrimRight(raw[i:i+11], "\x00")))
		size := int(raw[i+16])
		if raw[i+11] == 'C' && (from < 0 || field == "name") {
			from, length = at, size
			if field == "name" {
				break
			}
		}
		at += size
	}
	if from < 0 || from+length > width {
		return nil
	}
	var out []string
	for i := header; i+width <= len(raw) && len(out) < MostFeatures; i += width {
		text := bytes.TrimSpace(raw[i+from : i+from+length])
		out = append(out, decode(text, codepage))
	}
	return out
}

// decode reads a table's text: UTF-8 where it is, or Latin-1, which old tables are.
func decode(text []byte, codepage string) string {
	if utf8.Valid(text) || strings.Contains(strings.ToUpper(codepage), "UTF") {
		return string(text)
	}
	runes := make([]rune, len(text))
	for i, b := range text {
		runes[i] = rune(b)
	}
	return string(runes)
}

// shapeLayer is one shapefile of an archive: all of one kind.
type shapeLayer struct {
	name    string
	kind    uint32
	columns []column
	records []shapeRecord
}

type column struct {
	name     string // at most ten letters
	numeric  bool
	decimals int
}

type shapeRecord struct {
	parts [][]land.Position
	cells []string
}

// writeShapefile writes layers into a .zip, in geographic WGS 84.
func writeShapefile(layers []shapeLayer) ([]byte, error) {
	var buf bytes.Buffer
	archive := zip.NewWriter(&buf)
	for _, l := range layers {
		shp, shx := l.shapes()
		for ending, content := range map[string][]byte{".shp": shp, ".shx": shx, ".dbf": l.table(), ".prj": []byte(wgs84Prj), ".cpg": []byte("UTF-8")} {
			w, err := archive.Create(l.name + ending)
			if err != nil {
				return nil, err
			}
			if _, err := w.Write(content); err != nil {
				return nil, err
			}
		}
	}
	err := archive.Close()
	return buf.Bytes(), err
}

func (l shapeLayer) shapes() (shp, shx []byte) {
	be, le := binary.BigEndian, binary.LittleEndian
	float := func(b []byte, v float64) []byte { return le.AppendUint64(b, math.Float64bits(v)) }
	var body, index []byte
	whole := [4]float64{math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)}
	for i, r := range l.records {
		box := [4]float64{math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)}
		points := 0
		for _, part := range r.parts {
			points += len(part)
			for _, p := range part {
				box = [4]float64{math.Min(box[0], p[0]), math.Min(box[1], p[1]), math.Max(box[2], p[0]), math.Max(box[3], p[1])}
			}
		}
		whole = [4]float64{math.Min(whole[0], box[0]), math.Min(whole[1], box[1]), math.Max(whole[2], box[2]), math.Max(whole[3], box[3])}
		record := le.AppendUint32(nil, l.kind)
		if l.kind != shpPoint {
			for _, v := range box {
				record = float(record, v)
			}
			record = le.AppendUint32(record, uint32(len(r.parts)))
			record = le.AppendUint32(record, uint32(points))
			start := 0
			for _, part := range r.parts {
				record = le.AppendUint32(record, uint32(start))
				start += len(part)
			}
		}
		for _, part := range r.parts {
			for _, p := range part {
				record = float(float(record, p[0]), p[1])
			}
		}
		index = be.AppendUint32(be.AppendUint32(index, uint32((shpHeader+len(body))/2)), uint32(len(record)/2))
		body = be.AppendUint32(be.AppendUint32(body, uint32(i+1)), uint32(len(record)/2))
		body = append(body, record...)
	}
	if len(l.records) == 0 {
		whole = [4]float64{}
	}
	head := func(length int) []byte {
		h := be.AppendUint32(nil, shpCode)
		h = append(h, make([]byte, 20)...)
		h = be.AppendUint32(h, uint32((shpHeader+length)/2))
		h = le.AppendUint32(le.AppendUint32(h, shpVersion), l.kind)
		for _, v := range whole {
			h = float(h, v)
		}
		return append(h, make([]byte, 32)...)
	}
	return append(head(len(body)), body...), append(head(len(index)), index...)
}

// mostText is the widest text column dBASE III has.
const mostText = 254

func (l shapeLayer) table() []byte {
	le := binary.LittleEndian
	widths := make([]int, len(l.columns))
	recordLength := 1
	for i, c := range l.columns {
		widths[i] = 18
		if !c.numeric {
			widths[i] = 1
			for _, r := range l.records {
				widths[i] = min(mostText, max(widths[i], len(r.cells[i])))
			}
		}
		recordLength += widths[i]
	}
	header := 32 + 32*len(l.columns) + 1
	out := []byte{3, 126, 1, 1}
	out = le.AppendUint32(out, uint32(len(l.records)))
	out = le.AppendUint16(le.AppendUint16(out, uint16(header)), uint16(recordLength))
	out = append(out, make([]byte, 20)...)
	for i, c := range l.columns {
		field := make([]byte, 32)
		copy(field[:10], c.name)
		field[11] = 'C'
		if c.numeric {
			field[11] = 'N'
		}
		field[16], field[17] = byte(widths[i]), byte(c.decimals)
		out = append(out, field...)
	}
	out = append(out, 0x0D)
	for _, r := range l.records {
		out = append(out, ' ')
		for i, c := range l.columns {
			text := r.cells[i]
			if c.numeric {
				if v, err := strconv.ParseFloat(text, 64); err == nil {
					text = strconv.FormatFloat(v, 'f', c.decimals, 64)
				}
				out = append(out, fmt.Sprintf("%*s", widths[i], text)...)
				continue
			}
			for len(text) > widths[i] {
				_, size := utf8.DecodeLastRuneInString(text)
				text = text[:len(text)-size]
			}
			out = append(out, text...)
			out = append(out, bytes.Repeat([]byte{' '}, widths[i]-len(text))...)
		}
	}
	return append(out, 0x1A)
}
