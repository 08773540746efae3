package exchange_test

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"uzzel/core/engine"
	"uzzel/core/schema"
	"uzzel/internal/exchange"
)

// A workbook has typed cells, an outline that folds, and what is said of it on a second sheet; nothing is a formula.
func TestWorkbook(t *testing.T) {
	var buf bytes.Buffer
	lines := engine.Lines{Header: []string{"Team", "Person", "Sum", "Since"}, Kinds: []schema.Kind{schema.Text, schema.Text, schema.Money, schema.Date}, Depths: []int{1, 2, 0},
		Rows: [][]string{{"West shore", "", "1500.50", "2026-05-14"}, {"", "=cmd()", "007", ""}, {"All", "", "12345678901234567890.5", "nonsense"}}}
	require.NoError(t, exchange.WriteXLSX(&buf, lines.Table(), [][2]string{{"Sentence", "Deals of everyone."}, {"Condition", "=1+1"}}))
	f, err := excelize.OpenReader(&buf)
	require.NoError(t, err)
	defer func() { require.NoError(t, f.Close()) }()
	kind := func(cell string) excelize.CellType {
		k, err := f.GetCellType("Report", cell)
		require.NoError(t, err)
		return k
	}
	text := func(sheet, cell string) string {
		v, err := f.GetCellValue(sheet, cell)
		require.NoError(t, err)
		return v
	}
	require.Equal(t, excelize.CellTypeUnset, kind("C2"), "a number, which has no type of its own in the file")
	require.Equal(t, "1500.5", text("Report", "C2"))
	require.Equal(t, "2026-05-14", text("Report", "D2"))
	require.Equal(t, "=cmd()", text("Report", "B3"))
	require.Equal(t, excelize.CellTypeInlineString, kind("B3"))
	require.Equal(t, "007", text("Report", "C3"), "zeros in front stay")
	require.Equal(t, "12345678901234567890.5", text("Report", "C4"), "what a spreadsheet would round stays text")
	for _, cell := range []string{"B3", "C2"} {
		formula, err := f.GetCellFormula("Report", cell)
		require.NoError(t, err)
		require.Empty(t, formula)
	}
	for row, want := range map[int]uint8{2: 0, 3: 1, 4: 0} {
		level, err := f.GetRowOutlineLevel("Report", row)
		require.NoError(t, err)
		require.Equal(t, want, level, "row %d", row)
	}
	require.Equal(t, "Sentence", text("About", "A1"))
	require.Equal(t, "Deals of everyone.", text("About", "B1"))
	formula, err := f.GetCellFormula("About", "B2")
	require.NoError(t, err)
	require.Empty(t, formula)
}
