package exchange

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"
)

func TestAWorkbookHoldsWhatItWasGivenAndNoFormula(t *testing.T) {
	raw, err := WriteWorkbook([]Sheet{{"Scenarios", [][]any{{"", "Nothing done"}, {"Missing, t of dry matter", 12.5}, {"=HYPERLINK(\"x\")", "−4"}}}, {"Months", [][]any{{"Month"}, {"June 2026"}}}})
	require.NoError(t, err)
	book, err := excelize.OpenReader(bytes.NewReader(raw))
	require.NoError(t, err)
	assert.Equal(t, []string{"Scenarios", "Months"}, book.GetSheetList())
	rows, err := book.GetRows("Scenarios")
	require.NoError(t, err)
	assert.Equal(t, [][]string{{"", "Nothing done"}, {"Missing, t of dry matter", "12.5"}, {"=HYPERLINK(\"x\")", "−4"}}, rows)
	formula, err := book.GetCellFormula("Scenarios", "A3")
	require.NoError(t, err)
	assert.Empty(t, formula)
	kind, err := book.GetCellType("Scenarios", "B2")
	require.NoError(t, err)
	assert.NotEqual(t, excelize.CellTypeSharedString, kind, "a figure is a number there")

	_, err = WriteWorkbook([]Sheet{{"a name that is longer than a sheet may have", nil}})
	assert.Error(t, err)
}
