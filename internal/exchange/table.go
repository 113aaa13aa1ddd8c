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

	"fjell/core/quantity"
)

// Table is a CSV as people's spreadsheets write it: a row of heads, then rows.
type Table struct {
	Heads []string
	Rows  [][]string
	comma bool // decimals may have a comma
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
