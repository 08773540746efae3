package bringin

import (
	"bytes"
	"errors"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/xuri/excelize/v2"

	"uzzel/internal/fault"
)

// Limits of what a workbook unpacks to.
const (
	maxUnpacked = 512 << 20
	maxSheetXML = 256 << 20
)

// workbook reads the first sheet of a workbook (ISO/IEC 29500). Numbers are taken as they are kept, not as they are shown;
// numbers that are shown as days or times are days or times.
func (s *Sheet) workbook(data []byte) (err error) {
	// What is no workbook after all can break the reader.
	defer func() {
		if recover() != nil {
			err = unreadable
		}
	}()
	book, err := excelize.OpenReader(
		bytes.NewReader(data),
		excelize.Options{RawCellValue: true, UnzipSizeLimit: maxUnpacked, UnzipXMLSizeLimit: maxSheetXML},
	)
	if err != nil {
		return unreadable
	}
	defer func() { err = errors.Join(err, book.Close()) }()
	s.Encoding = Workbook
	d := days{book: book, sheet: book.GetSheetName(0), byStyle: map[int]bool{}}
	if props, err := book.GetWorkbookProps(); err == nil && props.Date1904 != nil {
		d.from1904 = *props.Date1904
	}
	rows, err := book.Rows(d.sheet)
	if err != nil {
		return unreadable
	}
	defer func() { err = errors.Join(err, rows.Close()) }()
	for line := 1; rows.Next(); line++ {
		cells, err := rows.Columns()
		if err != nil {
			return unreadable
		}
		if s.Header == nil && strings.TrimSpace(strings.Join(cells, "")) == "" {
			continue // the header is the first line that says anything
		}
		for i, c := range cells {
			cells[i] = d.read(c, i+1, line)
		}
		if err := s.take(cells, line); err != nil {
			return err
		}
	}
	return s.named()
}

var unreadable = fault.New(
	fault.Invalid,
	"/file",
	"This is no workbook that can be read. Save it as CSV, and bring that in.",
)

// texts are the types of cells that hold texts.
var texts = []excelize.CellType{
	excelize.CellTypeSharedString,
	excelize.CellTypeInlineString,
	excelize.CellTypeBool,
	excelize.CellTypeError,
}

// days finds the cells of a sheet that are shown as days.
type days struct {
	book     *excelize.File
	sheet    string
	from1904 bool
	byStyle  map[int]bool
}

// read is a cell as it is brought in.
func (d *days) read(cell string, column, line int) string {
	n, err := strconv.ParseFloat(cell, 64)
	if err != nil {
		return cell
	}
	name, err := excelize.CoordinatesToCellName(column, line)
	if err != nil {
		return cell
	}
	if kind, err := d.book.GetCellType(d.sheet, name); err != nil || slices.Contains(texts, kind) {
		if kind == excelize.CellTypeBool {
			return strconv.FormatBool(cell == "1")
		}
		return cell // a text of digits, as “007”
	}
	style, err := d.book.GetCellStyle(d.sheet, name)
	if err != nil || !d.dated(style) {
		return strconv.FormatFloat(n, 'f', -1, 64)
	}
	at, err := excelize.ExcelDateToTime(n, d.from1904)
	if err != nil {
		return cell
	}
	if at = at.Round(time.Second); at.Hour() == 0 && at.Minute() == 0 && at.Second() == 0 {
		return at.Format("2006-01-02")
	}
	return at.Format("2006-01-02T15:04:05")
}

// dated says whether a style shows a number as a day: one of the built-in formats of days, or one of its own that has a
// year, a day or an hour outside quotes and brackets.
func (d *days) dated(style int) bool {
	if is, ok := d.byStyle[style]; ok {
		return is
	}
	is := false
	if s, err := d.book.GetStyle(style); err == nil && s != nil {
		is = (s.NumFmt >= 14 && s.NumFmt <= 22) || (s.NumFmt >= 27 && s.NumFmt <= 36) || (s.NumFmt >= 50 && s.NumFmt <= 58)
		if s.CustomNumFmt != nil {
			is = is || strings.ContainsAny(bare(*s.CustomNumFmt), "yYdDhH")
		}
	}
	d.byStyle[style] = is
	return is
}

// bare is a format without what it shows as it is: texts in quotes, what is in brackets, and what follows a backslash.
func bare(format string) string {
	var out strings.Builder
	quoted, bracketed, skip := false, false, false
	for _, r := range format {
		switch {
		case skip:
			skip = false
		case r == '"':
			quoted = !quoted
		case quoted:
		case r == '\\':
			skip = true
		case r == '[':
			bracketed = true
		case r == ']':
			bracketed = false
		case !bracketed:
			out.WriteRune(r)
		}
	}
	return out.String()
}
