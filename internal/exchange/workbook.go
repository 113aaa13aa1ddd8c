package exchange

import (
	"bytes"
	"fmt"

	"github.com/xuri/excelize/v2"
)

// Sheet is a sheet of a workbook: its first row heads its columns.
type Sheet struct {
	Name string
	Rows [][]any // of text and numbers
}

// WriteWorkbook writes sheets as XLSX. Text stays text, whatever it begins with: nothing in it is reckoned when it is opened.
func WriteWorkbook(sheets []Sheet) ([]byte, error) {
	book := excelize.NewFile()
	defer func() { _ = book.Close() }()
	bold, err := book.NewStyle(&excelize.Style{Font: &excelize.Font{Bold: true}, Alignment: &excelize.Alignment{WrapText: true, Vertical: "top"}})
	if err != nil {
		return nil, err
	}
	for i, sheet := range sheets {
		if i == 0 {
			err = book.SetSheetName(book.GetSheetName(0), sheet.Name)
		} else {
			_, err = book.NewSheet(sheet.Name)
		}
		if err != nil {
			return nil, fmt.Errorf("sheet %s: %w", sheet.Name, err)
		}
		widest := 1
		for r, row := range sheet.Rows {
			widest = max(widest, len(row))
			if err := book.SetSheetRow(sheet.Name, fmt.Sprintf("A%d", r+1), &row); err != nil {
				return nil, fmt.Errorf("sheet %s: %w", sheet.Name, err)
			}
		}
		last, err := excelize.ColumnNumberToName(widest)
		if err != nil {
			return nil, err
		}
		if err := book.SetColWidth(sheet.Name, "A", "A", 34); err != nil {
			return nil, err
		}
		if widest > 1 {
			if err := book.SetColWidth(sheet.Name, "B", last, 22); err != nil {
				return nil, err
			}
		}
		if err := book.SetRowStyle(sheet.Name, 1, 1, bold); err != nil {
			return nil, err
		}
	}
	var out bytes.Buffer
	if err := book.Write(&out); err != nil {
		return nil, err
	}
	return out.Bytes(), nil
}
