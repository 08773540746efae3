package exchange

import (
	"fmt"
	"io"
	"iter"
	"strconv"
	"strings"
	"time"

	"github.com/xuri/excelize/v2"

	"uzzel/core/engine"
	"uzzel/core/schema"
)

// WriteXLSX writes a table as a workbook: a header that stays in view, numbers as numbers, days as days, and all else as
// text, so that no cell is a formula. The lines of an outline can be folded, totals in bold. What is said about the table
// stands on a second sheet, a line for each name and text, where there is any.
func WriteXLSX(w io.Writer, t engine.Table, about [][2]string) error {
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
	styles, err := stylesOf(f)
	if err != nil {
		return err
	}
	s, err := f.NewStreamWriter(sheet)
	if err != nil {
		return err
	}
	if err := s.SetPanes(&excelize.Panes{Freeze: true, YSplit: 1, TopLeftCell: "A2", ActivePane: "bottomLeft"}); err != nil {
		return err
	}
	next, stop := iter.Pull2(t.Rows)
	defer stop()
	first := []engine.Line{}
	for len(first) < widthLines {
		row, err, ok := next()
		if err != nil {
			return err
		}
		if !ok {
			break
		}
		first = append(first, row)
	}
	for c, width := range widths(t.Header, first) {
		if err := s.SetColWidth(c+1, c+1, width); err != nil {
			return err
		}
	}
	head := make([]any, len(t.Header))
	for c, text := range t.Header {
		head[c] = excelize.Cell{Value: text, StyleID: styles.bold}
	}
	if err := s.SetRow("A1", head); err != nil {
		return err
	}
	for i := 0; ; i++ {
		var row engine.Line
		if i < len(first) {
			row = first[i]
		} else {
			line, err, ok := next()
			if err != nil {
				return err
			}
			if !ok {
				break
			}
			row = line
		}
		if i == MaxSheetRows {
			return ErrSheetFull
		}
		cells := make([]any, len(row.Cells))
		total := t.Outline && row.Depth < t.Deepest
		for c, text := range row.Cells {
			kind := schema.Kind("")
			if t.Kinds != nil {
				kind = t.Kinds[c]
			}
			cells[c] = styles.cell(kind, text, total)
		}
		var opts []excelize.RowOpts
		if t.Outline && row.Depth > 1 {
			opts = append(opts, excelize.RowOpts{OutlineLevel: min(row.Depth-1, 7)})
		}
		at, err := excelize.CoordinatesToCellName(1, i+2)
		if err != nil {
			return err
		}
		if err := s.SetRow(at, cells, opts...); err != nil {
			return err
		}
	}
	if err := s.Flush(); err != nil {
		return err
	}
	if err := writeAbout(f, about, styles); err != nil {
		return err
	}
	_, err = f.WriteTo(w)
	return err
}

func writeAbout(f *excelize.File, about [][2]string, styles cellStyles) error {
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
		if err := f.SetCellStyle(sheet, "A"+n, "A"+n, styles.bold); err != nil {
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
func widths(header []string, first []engine.Line) []float64 {
	out := make([]float64, len(header))
	for c, h := range header {
		out[c] = float64(len([]rune(h)) + 2)
		for _, row := range first {
			out[c] = max(out[c], float64(len([]rune(row.Cells[c]))+2))
		}
		out[c] = min(max(out[c], 8), 50)
	}
	return out
}

// cellStyles are the looks of cells, in plain and in bold.
type cellStyles struct {
	bold, day, boldDay, at, boldAt int
}

func stylesOf(f *excelize.File) (out cellStyles, err error) {
	day, at := "yyyy-mm-dd", "yyyy-mm-dd hh:mm"
	for _, s := range []struct {
		id     *int
		bold   bool
		format *string
	}{{&out.bold, true, nil}, {&out.day, false, &day}, {&out.boldDay, true, &day}, {&out.at, false, &at}, {&out.boldAt, true, &at}} {
		if *s.id, err = f.NewStyle(&excelize.Style{Font: &excelize.Font{Bold: s.bold}, CustomNumFmt: s.format}); err != nil {
			return out, err
		}
	}
	return out, nil
}

// cell gives a text its type: by the column's kind where it is known, and as a number where it is plainly one otherwise.
func (s cellStyles) cell(kind schema.Kind, text string, bold bool) any {
	pick := func(plain, strong int) int {
		if bold {
			return strong
		}
		return plain
	}
	style := pick(0, s.bold)
	switch {
	case text == "":
		return nil
	case kind == schema.Date:
		if d, err := time.Parse(time.DateOnly, text); err == nil {
			return excelize.Cell{Value: d, StyleID: pick(s.day, s.boldDay)}
		}
	case kind == schema.Time && len(text) >= 16:
		if d, err := time.Parse("2006-01-02 15:04", strings.Replace(text[:16], "T", " ", 1)); err == nil {
			return excelize.Cell{Value: d, StyleID: pick(s.at, s.boldAt)}
		}
	case kind == schema.YesNo:
		return excelize.Cell{Value: text == "true", StyleID: style}
	case kind == "" || kind.Numeric():
		if n, err := strconv.ParseFloat(text, 64); err == nil && plainNumber(text) {
			return excelize.Cell{Value: n, StyleID: style}
		}
	}
	return excelize.Cell{Value: text, StyleID: style}
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
