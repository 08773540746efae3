package exchange

import (
	"io"
	"strconv"

	"github.com/xuri/excelize/v2"

	"uzzel/core/engine"
)

// WriteXLSX writes a table as a workbook with one sheet, numbers as numbers and all else as text, so that no cell is
// a formula. sentence stands on a second sheet where it is given.
func WriteXLSX(w io.Writer, t engine.Lines, sentence string) error {
	f := excelize.NewFile()
	defer func() { _ = f.Close() }()
	const sheet = "Report"
	if err := f.SetSheetName("Sheet1", sheet); err != nil {
		return err
	}
	s, err := f.NewStreamWriter(sheet)
	if err != nil {
		return err
	}
	for i, row := range append([][]string{t.Header}, t.Rows...) {
		cells := make([]any, len(row))
		for c, text := range row {
			cells[c] = text
			if n, err := strconv.ParseFloat(text, 64); err == nil && i > 0 && plainNumber(text) {
				cells[c] = n
			}
		}
		at, err := excelize.CoordinatesToCellName(1, i+1)
		if err != nil {
			return err
		}
		if err := s.SetRow(at, cells); err != nil {
			return err
		}
	}
	if err := s.Flush(); err != nil {
		return err
	}
	if sentence != "" {
		if _, err := f.NewSheet("About"); err != nil {
			return err
		}
		if err := f.SetCellStr("About", "A1", sentence); err != nil {
			return err
		}
	}
	_, err = f.WriteTo(w)
	return err
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
