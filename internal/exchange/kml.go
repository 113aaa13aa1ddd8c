package exchange

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/xml"
	"errors"
	"io"
	"strconv"
	"strings"

	"fjell/core/land"
	"fjell/core/quantity"
)

// kmlNamespace of KML 2.2 (OGC 07-147r2).
const kmlNamespace = "http://www.opengis.net/kml/2.2"

// mostDepth of elements in one another; a farm's file needs a dozen.
const mostDepth = 60

// readKML reads placemarks with polygons, lines and points. Names are the placemarks' own.
func readKML(ctx context.Context, raw []byte) ([]Feature, error) {
	out := found{ctx: ctx}
	r := kmlReader{dec: xml.NewDecoder(open(ctx, raw)), out: &out}
	r.dec.CharsetReader = func(label string, input io.Reader) (io.Reader, error) {
		return nil, quantity.Refuse("file", label, "save it as UTF-8")
	}
	if err := r.read(); err != nil {
		var refused *quantity.Problem
		if errors.As(err, &refused) {
			return nil, err
		}
		line, _ := r.dec.InputPos()
		return nil, quantity.Refuse("file", nil, "this KML file breaks off in line %d: %v", line, err)
	}
	return out.finish()
}

type kmlReader struct {
	dec  *xml.Decoder
	out  *found
	path []string
	name string
	poly land.Polygon
	all  land.Shape // the polygons of a placemark are one piece of ground
	text strings.Builder
	kml  bool
}

func (r *kmlReader) read() error {
	for {
		token, err := r.dec.Token()
		if errors.Is(err, io.EOF) {
			if !r.kml {
				return quantity.Refuse("file", nil, "this is not a KML file")
			}
			return nil
		}
		if err != nil {
			return err
		}
		switch t := token.(type) {
		case xml.Directive:
			// Entities declared in a DOCTYPE are how small files grow without end.
			return quantity.Refuse("file", nil, "this KML file declares a DOCTYPE, which a farm's file never needs: save it anew")
		case xml.StartElement:
			if len(r.path) == 0 && t.Name.Local == "kml" {
				r.kml = true
			}
			if len(r.path) == mostDepth {
				return quantity.Refuse("file", nil, "folders lie too deep in one another")
			}
			r.path = append(r.path, t.Name.Local)
			r.text.Reset()
			switch t.Name.Local {
			case "Placemark":
				r.name, r.all = "", nil
			case "Polygon":
				r.poly = nil
			}
		case xml.CharData:
			if r.wanted() {
				r.text.Write(t)
			}
		case xml.EndElement:
			if err := r.end(t.Name.Local); err != nil {
				return err
			}
			r.path = r.path[:len(r.path)-1]
		}
	}
}

func (r *kmlReader) wanted() bool {
	if len(r.path) == 0 {
		return false
	}
	last := r.path[len(r.path)-1]
	return last == "name" || last == "coordinates"
}

func (r *kmlReader) parent(up int) string {
	if len(r.path) <= up {
		return ""
	}
	return r.path[len(r.path)-1-up]
}

func (r *kmlReader) end(name string) error {
	switch {
	case name == "name" && r.parent(1) == "Placemark":
		r.name = strings.TrimSpace(r.text.String())
	case name == "Polygon" && len(r.poly) > 0:
		r.all = append(r.all, r.poly)
	case name == "Placemark" && len(r.all) > 0:
		return r.out.add(Feature{Name: r.name, Shape: r.all})
	case name == "coordinates":
		at, err := kmlPositions(r.text.String())
		if err != nil {
			return err
		}
		switch r.parent(1) {
		case "Point":
			if len(at) > 0 {
				return r.out.add(Feature{Name: r.name, Point: &at[0]})
			}
		case "LineString":
			return r.out.add(Feature{Name: r.name, Line: at})
		case "LinearRing":
			switch r.parent(2) {
			case "outerBoundaryIs":
				r.poly = append(land.Polygon{at}, r.poly...)
			case "innerBoundaryIs":
				r.poly = append(r.poly, at)
			default:
				return r.out.add(Feature{Name: r.name, Shape: land.Shape{{at}}})
			}
		}
	}
	return nil
}

func kmlPositions(text string) ([]land.Position, error) {
	words := strings.Fields(text)
	if len(words) > MostPositions {
		return nil, quantity.Refuse("file", len(words), "the file has more than %d corners: simplify it or bring it in parts", MostPositions)
	}
	out := make([]land.Position, 0, len(words))
	for _, w := range words {
		lon, rest, _ := strings.Cut(w, ",")
		lat, _, _ := strings.Cut(rest, ",")
		x, errX := strconv.ParseFloat(lon, 64)
		y, errY := strconv.ParseFloat(lat, 64)
		if errX != nil || errY != nil {
			return nil, quantity.Refuse("file", nil, "%q is not a longitude and a latitude", clip(w, 40))
		}
		out = append(out, land.Position{x, y})
	}
	return out, nil
}

func clip(s string, n int) string {
	if len(s) > n {
		return strings.ToValidUTF8(s[:n], "") + "…"
	}
	return s
}

// readKMZ reads the KML files in a KMZ.
func readKMZ(ctx context.Context, raw []byte) ([]Feature, error) {
	files, err := unzip(ctx, raw, ".kml")
	if err != nil {
		return nil, err
	}
	if len(files) == 0 {
		return nil, quantity.Refuse("file", nil, "there is no .kml in this .kmz")
	}
	return readKML(ctx, files[0].raw)
}

// Limits of what an archive may hold.
const (
	mostZipped   = 200      // files
	mostUnzipped = 64 << 20 // bytes of all wanted files together
)

type zipped struct {
	name string
	raw  []byte
}

// unzip reads the files with these endings out of an archive, and no more than a farm's archive holds.
func unzip(ctx context.Context, raw []byte, endings ...string) ([]zipped, error) {
	archive, err := zip.NewReader(bytes.NewReader(raw), int64(len(raw)))
	if err != nil {
		return nil, quantity.Refuse("file", nil, "this archive cannot be opened: %v", err)
	}
	if len(archive.File) > mostZipped {
		return nil, quantity.Refuse("file", len(archive.File), "the archive holds more than %d files", mostZipped)
	}
	var out []zipped
	left := int64(mostUnzipped)
	for _, f := range archive.File {
		lower := strings.ToLower(f.Name)
		wanted := false
		for _, e := range endings {
			wanted = wanted || strings.HasSuffix(lower, e)
		}
		if !wanted || strings.HasPrefix(lower, "__macosx") {
			continue
		}
		r, err := f.Open()
		if err != nil {
			return nil, quantity.Refuse("file", clip(f.Name, 60), "cannot be unpacked: %v", err)
		}
		content, err := readAll(ctx, io.LimitReader(r, left+1))
		_ = r.Close()
		if err != nil {
			return nil, quantity.Refuse("file", clip(f.Name, 60), "cannot be unpacked: %v", err)
		}
		if left -= int64(len(content)); left < 0 {
			return nil, quantity.Refuse("file", nil, "unpacked, the archive is larger than %d MB", mostUnzipped>>20)
		}
		out = append(out, zipped{lower, content})
	}
	return out, nil
}
