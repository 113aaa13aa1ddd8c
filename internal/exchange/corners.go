package exchange

import (
	"bytes"
	"context"
	"encoding/csv"
	"errors"
	"io"
	"strconv"
	"strings"

	"fjell/core/land"
	"fjell/core/quantity"
)

// readCorners reads a CSV of corners: a row each, with latitude and longitude in degrees and, if there is one, the
// name of the field it belongs to. Columns are found by their heads; without heads they are latitude, longitude.
// Commas, semicolons and tabs all part columns; with semicolons and tabs decimals may have a comma.
func readCorners(ctx context.Context, raw []byte) ([]Feature, error) {
	raw = bytes.TrimPrefix(raw, []byte("\xef\xbb\xbf"))
	first, _, _ := bytes.Cut(raw, []byte("\n"))
	r := csv.NewReader(open(ctx, raw))
	r.FieldsPerRecord, r.TrimLeadingSpace, r.ReuseRecord = -1, true, true
	for _, c := range []rune{';', '\t'} {
		if bytes.ContainsRune(first, c) {
			r.Comma = c
			break
		}
	}
	lat, lon, name := 0, 1, -1
	var names []string
	rings := map[string][]land.Position{}
	for row := 1; ; row++ {
		cells, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, quantity.Refuse("file", nil, "row %d cannot be read: %v", row, err)
		}
		if row == 1 {
			if heads, ok := cornerHeads(cells); ok {
				lat, lon, name = heads[0], heads[1], heads[2]
				continue
			}
		}
		if len(cells) == 1 && strings.TrimSpace(cells[0]) == "" {
			continue
		}
		if len(cells) <= max(lat, lon) {
			return nil, quantity.Refuse("file", nil, "row %d has no latitude and longitude", row)
		}
		at := land.Position{}
		for k, col := range []int{lon, lat} {
			text := strings.TrimSpace(cells[col])
			if r.Comma != ',' {
				text = strings.Replace(text, ",", ".", 1)
			}
			if at[k], err = strconv.ParseFloat(text, 64); err != nil {
				return nil, quantity.Refuse("file", clip(text, 40), "row %d: this is not a number of degrees", row)
			}
		}
		of := ""
		if name >= 0 && name < len(cells) {
			of = cleanName(cells[name])
		}
		if _, known := rings[of]; !known {
			names = append(names, of)
		}
		if rings[of] = append(rings[of], at); len(rings[of]) > land.MostCorners {
			return nil, quantity.Refuse("file", nil, "row %d: a field has at most %d corners", row, land.MostCorners)
		}
	}
	out := found{ctx: ctx}
	for _, n := range names {
		ring := rings[n]
		if ring[0] != ring[len(ring)-1] {
			ring = append(ring, ring[0])
		}
		if err := out.add(Feature{Name: n, Shape: land.Shape{{ring}}}); err != nil {
			return nil, err
		}
	}
	return out.finish()
}

// cornerHeads finds the columns of latitude, longitude and name.
func cornerHeads(cells []string) ([3]int, bool) {
	out := [3]int{-1, -1, -1}
	for i, c := range cells {
		switch head := strings.ToLower(strings.TrimSpace(c)); {
		case strings.HasPrefix(head, "lat") || head == "y":
			out[0] = i
		case strings.HasPrefix(head, "lon") || strings.HasPrefix(head, "lng") || head == "x":
			out[1] = i
		case head == "name" || head == "field" || head == "paddock":
			out[2] = i
		}
	}
	return out, out[0] >= 0 && out[1] >= 0
}
