package exchange

import (
	"bytes"
	"errors"
	"fmt"
	"image/png"
	"io"
	"iter"
	"strconv"
	"strings"
	"time"

	"github.com/xuri/excelize/v2"

	"uzzel/core/figures"
	"uzzel/core/result"
	"uzzel/core/schema"
	"uzzel/core/table"
)

// Workbook is what is in a workbook beside its table.
type Workbook struct {
	About    [][2]string  // what is said of the table, a line for each name and text, on a sheet of its own
	Currency string       // the sign that amounts are written with
	Form     figures.Form // how days are written; marks of numbers are up to who opens it
	Chart    []byte       // a picture of the chart as PNG, on a sheet of its own
}

// WriteXLSX writes a sheet as a workbook: a header that stays in view and filters, numbers as numbers in the forms of
// the screen, days as days, and all else as text, so that no cell is a formula. The lines of an outline can be folded,
// headings of others in bold. A chart that is no picture is refused.
func WriteXLSX(w io.Writer, t table.Sheet, more Workbook) error {
	f := excelize.NewFile()
	defer func() { _ = f.Close() }()
	const sheet = "Report"
	if err := f.SetSheetName("Sheet1", sheet); err != nil {
		return err
	}
	below := false
	if err := f.SetSheetProps(sheet, &excelize.SheetPropsOptions{OutlineSummaryBelow: &below}); err != nil {
		return err
	}
	looks := cellLooks{f: f, currency: more.Currency, days: more.Form.DayCode(), ids: map[string]int{}}
	s, err := f.NewStreamWriter(sheet)
	if err != nil {
		return err
	}
	if err := s.SetPanes(
		&excelize.Panes{Freeze: true, YSplit: 1, TopLeftCell: "A2", ActivePane: "bottomLeft"},
	); err != nil {
		return err
	}
	rows, err := writeRows(s, t, &looks)
	if err != nil {
		return err
	}
	if len(t.Columns) > 0 && rows > 0 {
		last, err := excelize.CoordinatesToCellName(len(t.Columns), rows+1)
		if err != nil {
			return err
		}
		if err := f.AutoFilter(sheet, "A1:"+last, nil); err != nil {
			return err
		}
	}
	if err := s.Flush(); err != nil {
		return err
	}
	if err := writeChart(f, more.Chart); err != nil {
		return err
	}
	if err := writeAbout(f, more.About, &looks); err != nil {
		return err
	}
	_, err = f.WriteTo(w)
	return err
}

// writeRows writes the header and the lines, and gives how many lines there are.
func writeRows(s *excelize.StreamWriter, t table.Sheet, looks *cellLooks) (int, error) {
	next, stop := iter.Pull2(t.Rows)
	defer stop()
	first := []result.Line{}
	for len(first) < widthLines {
		row, err, ok := next()
		if err != nil {
			return 0, err
		}
		if !ok {
			break
		}
		first = append(first, row)
	}
	for c, width := range widths(t, first) {
		if err := s.SetColWidth(c+1, c+1, width); err != nil {
			return 0, err
		}
	}
	head := make([]any, len(t.Columns))
	for c, col := range t.Columns {
		head[c] = excelize.Cell{Value: col.Label, StyleID: looks.id("", true)}
	}
	if err := s.SetRow("A1", head); err != nil {
		return 0, err
	}
	for i := 0; ; i++ {
		var row result.Line
		if i < len(first) {
			row = first[i]
		} else {
			line, err, ok := next()
			if err != nil {
				return 0, err
			}
			if !ok {
				return i, looks.err
			}
			row = line
		}
		if i == MaxSheetRows {
			return 0, ErrSheetFull
		}
		cells := make([]any, len(row.Cells))
		for c, text := range row.Cells {
			cells[c] = looks.cell(t.Columns[c], text, t.Outline && row.Depth < t.Deepest)
		}
		var opts []excelize.RowOpts
		if t.Outline && row.Depth > 1 {
			opts = append(opts, excelize.RowOpts{OutlineLevel: min(row.Depth-1, 7)})
		}
		at, err := excelize.CoordinatesToCellName(1, i+2)
		if err != nil {
			return 0, err
		}
		if err := s.SetRow(at, cells, opts...); err != nil {
			return 0, err
		}
	}
}

// ErrNoPicture says that what was given as a picture of a chart is none.
var ErrNoPicture = errors.New("the picture of the chart is no PNG")

func writeChart(f *excelize.File, picture []byte) error {
	if len(picture) == 0 {
		return nil
	}
	if size, err := png.DecodeConfig(bytes.NewReader(picture)); err != nil || size.Width > 10_000 || size.Height > 10_000 {
		return ErrNoPicture
	}
	if _, err := f.NewSheet("Chart"); err != nil {
		return err
	}
	return f.AddPictureFromBytes(
		"Chart",
		"A1",
		&excelize.Picture{
			Extension: ".png",
			File:      picture,
			Format:    &excelize.GraphicOptions{AltText: "The chart of the report", ScaleX: 0.5, ScaleY: 0.5},
		},
	)
}

func writeAbout(f *excelize.File, about [][2]string, looks *cellLooks) error {
	if len(about) == 0 {
		return nil
	}
	const sheet = "About"
	if _, err := f.NewSheet(sheet); err != nil {
		return err
	}
	for i, line := range about {
		n := strconv.Itoa(i + 1)
		for c, text := range line {
			if err := f.SetCellStr(sheet, string(rune('A'+c))+n, text); err != nil {
				return err
			}
		}
		if err := f.SetCellStyle(sheet, "A"+n, "A"+n, looks.id("", true)); err != nil {
			return err
		}
	}
	if err := f.SetColWidth(sheet, "A", "A", 14); err != nil {
		return err
	}
	return f.SetColWidth(sheet, "B", "B", 100)
}

// MaxSheetRows is how many lines a sheet holds below its header.
const MaxSheetRows = 1<<20 - 1

// ErrSheetFull says that a table has more lines than a sheet holds.
var ErrSheetFull = fmt.Errorf("a sheet holds %d lines; take it as CSV, or narrow the report first", MaxSheetRows)

// widthLines is how many lines decide how wide columns are.
const widthLines = 200

// widths gives each column the room of its first lines, between 8 and 50 characters.
func widths(t table.Sheet, first []result.Line) []float64 {
	out := make([]float64, len(t.Columns))
	for c, col := range t.Columns {
		out[c] = float64(len([]rune(col.Label)) + 4) // the sign of the filter is beside it
		more := 2
		if col.Kind.Numeric() {
			more = 5 // marks between thousands, and a sign
		}
		for _, row := range first {
			out[c] = max(out[c], float64(len([]rune(row.Cells[c]))+more))
		}
		out[c] = min(max(out[c], 8), 50)
	}
	return out
}

// cellLooks are the looks of cells, by their number format, in plain and in bold; each is made once.
type cellLooks struct {
	f        *excelize.File
	currency string
	days     string
	ids      map[string]int
	err      error
}

func (l *cellLooks) id(format string, bold bool) int {
	if format == "" && !bold {
		return 0
	}
	key := fmt.Sprint(bold, format)
	if id, ok := l.ids[key]; ok {
		return id
	}
	style := &excelize.Style{Font: &excelize.Font{Bold: bold}}
	if format != "" {
		style.CustomNumFmt = &format
	}
	id, err := l.f.NewStyle(style)
	if err != nil {
		l.err = err
	}
	l.ids[key] = id
	return id
}

// cell gives a text its type and form: by the column's kind where it is known, and as a number where it is plainly one
// otherwise.
func (l *cellLooks) cell(c table.SheetColumn, text string, bold bool) any {
	switch {
	case text == "":
		return nil
	case c.Kind == schema.Date:
		if d, err := time.Parse(time.DateOnly, text); err == nil {
			return excelize.Cell{Value: d, StyleID: l.id(l.days, bold)}
		}
	case c.Kind == schema.Time && len(text) >= 16:
		if d, err := time.Parse("2006-01-02 15:04", strings.Replace(text[:16], "T", " ", 1)); err == nil {
			return excelize.Cell{Value: d, StyleID: l.id(l.days+" hh:mm", bold)}
		}
	case c.Kind == schema.YesNo:
		if text == "true" {
			text = "yes"
		} else {
			text = "no"
		}
	case c.Kind == "" || c.Kind.Numeric():
		if n, err := strconv.ParseFloat(text, 64); err == nil && plainNumber(text) {
			return excelize.Cell{Value: n, StyleID: l.id(l.number(c, strings.Contains(text, ".")), bold)}
		}
	}
	return excelize.Cell{Value: text, StyleID: l.id("", bold)}
}

// number is the form of numbers in a column: as on the screen.
func (l *cellLooks) number(c table.SheetColumn, broken bool) string {
	decimals := -1
	if c.Format != nil && c.Format.Decimals != nil {
		decimals = *c.Format.Decimals
	}
	digits := func(otherwise int) string {
		n := decimals
		if n < 0 {
			n = otherwise
		}
		if n <= 0 {
			return "#,##0"
		}
		return "#,##0." + strings.Repeat("0", n)
	}
	switch {
	case c.Kind == "":
		return ""
	case c.Ratio:
		return strings.TrimPrefix(digits(1), "#,##") + "%"
	case c.Kind == schema.Money:
		sign := strconv.Quote(l.currency)
		return sign + digits(2) + ";−" + sign + digits(2)
	case c.Kind == schema.Percent:
		return digits(0) + ` "%"`
	case broken && decimals < 0:
		return "#,##0.######"
	}
	return digits(0)
}

// plainNumber says whether text is a number that a spreadsheet can hold exactly: fifteen digits at most and no zeros in
// front, which an id may have.
func plainNumber(s string) bool {
	digits := 0
	for i, c := range s {
		if c == '-' && i == 0 {
			continue
		}
		if c == '.' {
			continue
		}
		if c < '0' || c > '9' {
			return false
		}
		digits++
	}
	return digits > 0 && digits <= 15 && (len(s) < 2 || s[0] != '0' || s[1] == '.')
}
