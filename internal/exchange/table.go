package exchange

import (
	"bytes"
	"context"
	"encoding/csv"
	"errors"
	"io"
	"math"
	"strconv"
	"strings"
	"time"
	"unicode"

	"fjell/core/quantity"
)

// Table is a CSV as people's spreadsheets write it: a row of heads, then rows.
type Table struct {
	Heads []string
	Rows  [][]string
	comma bool // decimals may have a comma
	// Units are those of figures whose head does not say: "" where nobody has said either, and they are asked about.
	Units quantity.System
}

// mostRows is more than anybody keeps by hand.
const mostRows = 20000

// ReadTable reads a CSV. Commas, semicolons and tabs all part columns; with semicolons and tabs decimals may have a
// comma. Empty rows are left out.
func ReadTable(ctx context.Context, raw []byte) (Table, error) {
	t, err := readTable(ctx, raw)
	return waited(ctx, t, err)
}

func readTable(ctx context.Context, raw []byte) (Table, error) {
	var t Table
	raw = bytes.TrimPrefix(raw, []byte("\xef\xbb\xbf"))
	first, _, _ := bytes.Cut(raw, []byte("\n"))
	r := csv.NewReader(open(ctx, raw))
	r.FieldsPerRecord, r.TrimLeadingSpace, r.LazyQuotes = -1, true, true
	for _, c := range []rune{';', '\t'} {
		if bytes.ContainsRune(first, c) {
			r.Comma, t.comma = c, true
			break
		}
	}
	for {
		cells, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			line, _ := r.FieldPos(0)
			return t, quantity.Refuse("file", nil, "row %d cannot be read: %v", line, err)
		}
		for i := range cells {
			cells[i] = strings.TrimSpace(strings.ToValidUTF8(cells[i], ""))
		}
		if strings.Join(cells, "") == "" {
			continue
		}
		if t.Heads == nil {
			t.Heads = cells
			continue
		}
		if t.Rows = append(t.Rows, cells); len(t.Rows) > mostRows {
			return t, quantity.Refuse("file", len(t.Rows), "at most %d rows at once", mostRows)
		}
	}
	if t.Heads == nil || len(t.Rows) == 0 {
		return t, quantity.Refuse("file", nil, "there is no row below the heads: the first row names the columns, each further row is one thing")
	}
	return t, nil
}

// Columns finds, for each field wanted, the column whose head is one of its usual names; −1 where there is none.
func (t Table) Columns(wanted map[string][]string) map[string]int {
	out := map[string]int{}
	for field, names := range wanted {
		out[field] = -1
		for _, n := range names {
			for i, h := range t.Heads {
				if out[field] < 0 && strings.EqualFold(strings.ReplaceAll(h, "_", " "), n) {
					out[field] = i
				}
			}
		}
	}
	return out
}

// Text is a cell of a row; empty where the row has no such column.
func (t Table) Text(row, column int) string {
	if column < 0 || column >= len(t.Rows[row]) {
		return ""
	}
	return t.Rows[row][column]
}

// Number is a cell as a number; ok is false where it is empty.
func (t Table) Number(row, column int) (v float64, ok bool, err error) {
	text := t.Text(row, column)
	if text == "" {
		return 0, false, nil
	}
	plain := strings.NewReplacer(" ", "", "\u00a0", "", "−", "-").Replace(text)
	if t.comma {
		plain = strings.Replace(plain, ",", ".", 1)
	}
	v, err = strconv.ParseFloat(plain, 64)
	if err != nil || math.IsNaN(v) || math.IsInf(v, 0) {
		return 0, true, quantity.Refuse(t.head(column), clip(text, 40), "this is not a number")
	}
	return v, true, nil
}

// Units is what a person says of the bare figures of a file.
type Units string

// Or is what was said, or metric where the farm is; a farm in imperial units gets files in either, so it must say.
func (u Units) Or(farm quantity.System) quantity.System {
	if u == "" && farm != quantity.Imperial {
		return quantity.Metric
	}
	return quantity.System(u)
}

// Figure is a cell as a figure of a unit, as it is stored: in the unit that the column's head names, or in the table's.
func (t Table) Figure(row, column int, unit quantity.Unit) (v float64, ok bool, err error) {
	if v, ok, err = t.Number(row, column); !ok || err != nil {
		return v, ok, err
	}
	v, err = stored(v, unit, t.Units, t.head(column))
	return v, true, err
}

// stored is a figure of a file in the unit it is kept in: it stands in the system whose unit the words beside it name, or in
// the one that holds where they name none. Where nobody has said which, and it makes a difference, that is refused.
func stored(v float64, unit quantity.Unit, system quantity.System, beside string) (float64, error) {
	metric, err := quantity.ScaleOf(unit, quantity.Metric)
	if err != nil {
		return 0, err
	}
	imperial, err := quantity.ScaleOf(unit, quantity.Imperial)
	if err != nil {
		return 0, err
	}
	if said := saidBy(beside, unit); said != "" {
		system = said
	}
	switch {
	case unit == quantity.Share, metric == imperial:
		return v, nil
	case system == quantity.Metric:
		return metric.Store(v), nil
	case system == quantity.Imperial:
		return imperial.Store(v), nil
	}
	return 0, quantity.Refuse("units", nil, "say whether “%s” is in %s or in %s", beside, metric.Symbol, imperial.Symbol)
}

// saidBy is the system whose symbol of a unit stands in the words beside a figure; empty where neither does, or both do the same.
func saidBy(beside string, unit quantity.Unit) quantity.System {
	words := strings.FieldsFunc(strings.ToLower(beside), func(r rune) bool { return !unicode.IsLetter(r) && r != '°' && r != '/' })
	has := func(system quantity.System) bool {
		scale, err := quantity.ScaleOf(unit, system)
		if err != nil {
			return false
		}
		symbol := strings.ToLower(strings.Fields(scale.Symbol + " -")[0])
		for _, w := range words {
			if w == symbol || w == strings.TrimPrefix(symbol, "°") || w == strings.Split(symbol, "/")[0] {
				return true
			}
		}
		return false
	}
	switch metric, imperial := has(quantity.Metric), has(quantity.Imperial); {
	case metric && !imperial:
		return quantity.Metric
	case imperial && !metric:
		return quantity.Imperial
	}
	return ""
}

// Moment is a cell as a day or a moment, in a time zone where it names none.
func (t Table) Moment(row, column int, loc *time.Location) (at time.Time, ok bool, err error) {
	text := t.Text(row, column)
	if text == "" {
		return at, false, nil
	}
	for _, layout := range []string{time.RFC3339, "2006-01-02T15:04:05", "2006-01-02 15:04:05", "2006-01-02 15:04", "2006-01-02T15:04", time.DateOnly,
		"02.01.2006 15:04", "02.01.2006", "2.1.2006", "02/01/2006 15:04", "02/01/2006"} {
		if at, err = time.ParseInLocation(layout, text, loc); err == nil {
			return at, true, nil
		}
	}
	return at, true, quantity.Refuse(t.head(column), clip(text, 40), "this is not a day or a moment such as 2026-06-10 08:30")
}

func (t Table) head(column int) string {
	if column >= 0 && column < len(t.Heads) {
		return t.Heads[column]
	}
	return "file"
}
