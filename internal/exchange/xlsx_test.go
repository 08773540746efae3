package exchange_test

import (
	"bytes"
	"image"
	"image/png"
	"testing"

	"github.com/stretchr/testify/require"
	"github.com/tealeg/xlsx/v3"
	"github.com/xuri/excelize/v2"

	"uzzel/core/brief"
	"uzzel/core/figures"
	"uzzel/core/result"
	"uzzel/core/schema"
	"uzzel/core/table"
	"uzzel/internal/exchange"
)

// sheet is an outline with a line of each depth: a team, a person, a record, the total.
func sheet() table.Sheet {
	none := 0
	lines := []result.Line{
		{Cells: []string{"West shore", "", "", "1500.50", "0.25", ""}, Depth: 1},
		{Cells: []string{"", "=cmd()", "", "007", "", "2026-05-14"}, Depth: 2},
		{Cells: []string{"", "", "true", "12345678901234567890.5", "0.125", "nonsense"}, Depth: 3},
		{Cells: []string{"All", "", "", "-3", "1", ""}, Depth: 0},
	}
	return table.Sheet{Outline: true, Deepest: 3, Columns: []table.SheetColumn{{Label: "Team", Kind: schema.Text}, {Label: "Person", Kind: schema.Text}, {Label: "Done", Kind: schema.YesNo},
		{Label: "Sum of value", Kind: schema.Money}, {Label: "Share", Kind: schema.Money, Ratio: true, Format: &brief.Format{Decimals: &none}}, {Label: "Since", Kind: schema.Date}},
		Rows: func(yield func(result.Line, error) bool) {
			for _, l := range lines {
				if !yield(l, nil) {
					return
				}
			}
		}}
}

func workbook(t *testing.T, more exchange.Workbook) []byte {
	t.Helper()
	var buf bytes.Buffer
	require.NoError(t, exchange.WriteXLSX(&buf, sheet(), more))
	return buf.Bytes()
}

// A workbook has typed cells, an outline that folds, and what is said of it on a second sheet; nothing is a formula.
func TestWorkbook(t *testing.T) {
	f, err := excelize.OpenReader(bytes.NewReader(workbook(t, exchange.Workbook{Currency: "€", About: [][2]string{{"Sentence", "Deals of everyone."}, {"Condition", "=1+1"}}})))
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
	require.Equal(t, excelize.CellTypeUnset, kind("D2"), "a number, which has no type of its own in the file")
	require.Equal(t, "=cmd()", text("Report", "B3"))
	require.Equal(t, excelize.CellTypeInlineString, kind("B3"))
	require.Equal(t, "007", text("Report", "D3"), "zeros in front stay")
	require.Equal(t, "12345678901234567890.5", text("Report", "D4"), "what a spreadsheet would round stays text")
	require.Equal(t, "yes", text("Report", "C4"))
	for _, at := range []struct{ sheet, cell string }{{"Report", "B3"}, {"Report", "D2"}, {"About", "B2"}} {
		formula, err := f.GetCellFormula(at.sheet, at.cell)
		require.NoError(t, err)
		require.Empty(t, formula)
	}
	for row, want := range map[int]uint8{2: 0, 3: 1, 4: 2, 5: 0} {
		level, err := f.GetRowOutlineLevel("Report", row)
		require.NoError(t, err)
		require.Equal(t, want, level, "row %d", row)
	}
	require.Equal(t, "Sentence", text("About", "A1"))
	require.Equal(t, "Deals of everyone.", text("About", "B1"))
}

// Read by another library, it looks as the screen does: amounts with their sign, shares, true dates, headings in bold.
func TestWorkbookIsReadElsewhere(t *testing.T) {
	var picture bytes.Buffer
	require.NoError(t, png.Encode(&picture, image.NewGray(image.Rect(0, 0, 4, 3))))
	dots, err := figures.Form{}.WithDays("dots")
	require.NoError(t, err)
	data := workbook(t, exchange.Workbook{Currency: "€", Form: dots, Chart: picture.Bytes(), About: [][2]string{{"Sentence", "Deals of everyone."}}})
	f, err := xlsx.OpenBinary(data)
	require.NoError(t, err)
	var names []string
	for _, s := range f.Sheets {
		names = append(names, s.Name)
	}
	require.Equal(t, []string{"Report", "Chart", "About"}, names)
	s := f.Sheet["Report"]
	require.Equal(t, 5, s.MaxRow)
	require.NotNil(t, s.AutoFilter, "the header filters")
	require.Equal(t, "$F$5", s.AutoFilter.BottomRightCell)
	cell := func(row, col int) *xlsx.Cell {
		c, err := s.Cell(row, col)
		require.NoError(t, err)
		return c
	}
	amount := cell(1, 3)
	require.Equal(t, `"€"#,##0.00;−"€"#,##0.00`, amount.NumFmt)
	value, err := amount.Float()
	require.NoError(t, err)
	require.InDelta(t, 1500.5, value, 0)
	require.True(t, amount.GetStyle().Font.Bold, "a heading of others")
	share := cell(1, 4)
	require.Equal(t, "0%", share.NumFmt)
	require.False(t, cell(3, 4).GetStyle().Font.Bold, "a record")
	day := cell(2, 5)
	require.True(t, day.IsTime())
	require.Equal(t, `dd\.mm\.yyyy`, day.NumFmt)
	at, err := day.GetTime(false)
	require.NoError(t, err)
	require.Equal(t, "2026-05-14", at.Format("2006-01-02"))
	require.Equal(t, []string{"Team", "Person", "Done", "Sum of value", "Share", "Since"}, func() (list []string) {
		for c := range 6 {
			list = append(list, cell(0, c).Value)
		}
		return list
	}())
}

func TestWorkbookTakesNoOtherPictures(t *testing.T) {
	require.ErrorIs(t, exchange.WriteXLSX(&bytes.Buffer{}, sheet(), exchange.Workbook{Chart: []byte("<svg/>")}), exchange.ErrNoPicture)
}
