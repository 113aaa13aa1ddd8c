package exchange

import (
	"context"
	"encoding/xml"
	"errors"
	"io"

	"github.com/twpayne/go-gpx"

	"fjell/core/land"
	"fjell/core/quantity"
)

// readGPX reads tracks, routes and waypoints. A track that comes back to where it began is a boundary: cleaned of
// spikes, straightened and closed, with the gap told.
func readGPX(ctx context.Context, raw []byte) ([]Feature, error) {
	if err := checkXML(ctx, raw); err != nil {
		return nil, err
	}
	doc, err := gpx.Read(open(ctx, raw))
	if err != nil {
		return nil, quantity.Refuse("file", nil, "this is not a GPX file: %v", err)
	}
	out := found{ctx: ctx}
	line := func(name string, points []*gpx.WptType) error {
		at := make([]land.Position, len(points))
		for i, p := range points {
			at[i] = land.Position{p.Lon, p.Lat}
		}
		return out.add(Feature{Name: name, Line: at})
	}
	for _, t := range doc.Trk {
		for _, s := range t.TrkSeg {
			if err := line(t.Name, s.TrkPt); err != nil {
				return nil, err
			}
		}
	}
	for _, r := range doc.Rte {
		if err := line(r.Name, r.RtePt); err != nil {
			return nil, err
		}
	}
	for _, w := range doc.Wpt {
		if err := out.add(Feature{Name: w.Name, Point: &land.Position{w.Lon, w.Lat}}); err != nil {
			return nil, err
		}
	}
	return out.finish()
}

// checkXML refuses what a farm's XML never holds before anything is built from it: declared entities, and more
// elements than the limit of corners allows.
func checkXML(ctx context.Context, raw []byte) error {
	dec := xml.NewDecoder(open(ctx, raw))
	dec.Strict = false
	dec.CharsetReader = func(_ string, in io.Reader) (io.Reader, error) { return in, nil }
	depth, points := 0, 0
	for {
		token, err := dec.RawToken()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			line, _ := dec.InputPos()
			return quantity.Refuse("file", nil, "this file breaks off in line %d: %v", line, err)
		}
		switch t := token.(type) {
		case xml.Directive:
			return quantity.Refuse("file", nil, "this file declares a DOCTYPE, which a farm's file never needs: save it anew")
		case xml.StartElement:
			if depth++; depth > mostDepth {
				return quantity.Refuse("file", nil, "elements lie too deep in one another")
			}
			if t.Name.Local == "trkpt" || t.Name.Local == "rtept" || t.Name.Local == "wpt" {
				points++
			}
			if points > MostPositions {
				return quantity.Refuse("file", nil, "the file has more than %d points: bring it in parts", MostPositions)
			}
		case xml.EndElement:
			depth--
		}
	}
}
