// Package bringin brings records in from files of other systems: it recognises how a file is written and what its columns
// are, says before anything is written what would come of each line, and can take back what it did.
package bringin

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strings"
	"unicode/utf8"

	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"

	"uzzel/internal/fault"
)

// Limits of a file.
const (
	MaxFile  = 256 << 20
	MaxLines = 1_200_000
	maxCols  = 200
	maxCell  = 100_000 // bytes
)

// Sheet is a file as it was read: lines of cells under a header.
type Sheet struct {
	Name      string
	Encoding  string // utf-8, utf-16, windows-1252
	Separator string
	Header    []string
	Rows      [][]string
	Lines     []int // by row: the line of the file
}

func (s *Sheet) cells() int { return len(s.Rows) * len(s.Header) }

// Workbook is the encoding of a file that is a workbook, which has no separator.
const Workbook = "workbook"

// mark is what some programs begin a text in UTF-8 with.
var mark = []byte("\xef\xbb\xbf")

// Separators that are recognised.
var separators = []rune{',', ';', '\t', '|'}

// Read reads a file of CSV, whatever its encoding and separator, or the first sheet of a workbook. What cannot be read is
// refused with its line.
func Read(name string, data []byte) (*Sheet, error) {
	if len(data) > MaxFile {
		return nil, fault.New(
			fault.Invalid,
			"/file",
			"A file has at most %d MB; this one has %d.",
			MaxFile>>20,
			len(data)>>20,
		)
	}
	s := &Sheet{Name: name}
	if bytes.HasPrefix(data, []byte("PK\x03\x04")) {
		return s, s.workbook(data)
	}
	switch unmarked := bytes.TrimPrefix(data, mark); {
	case bytes.HasPrefix(unmarked, []byte("BEGIN:VCARD")):
		return s, s.cards(unmarked)
	case bytes.HasPrefix(unmarked, []byte("BEGIN:VCALENDAR")):
		return s, s.calendar(unmarked)
	}
	text, err := s.decode(data)
	if err != nil {
		return nil, err
	}
	s.Separator = string(separatorOf(text))
	r := csv.NewReader(strings.NewReader(text))
	r.Comma, r.FieldsPerRecord, r.LazyQuotes = []rune(s.Separator)[0], -1, true
	for {
		cells, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, fault.New(fault.Invalid, "/file", "The file cannot be read: %s.", err)
		}
		line, _ := r.FieldPos(0)
		if err := s.take(cells, line); err != nil {
			return nil, err
		}
	}
	return s, s.named()
}

// named refuses a file without columns.
func (s *Sheet) named() error {
	if len(s.Header) == 0 {
		return fault.New(fault.Invalid, "/file", "“%s” has no columns. Its first line names them.", s.Name)
	}
	return nil
}

func (s *Sheet) take(cells []string, line int) error {
	for _, c := range cells {
		if len(c) > maxCell {
			return fault.New(fault.Invalid, "/file", "A cell on line %d is too long; a quote may not be closed.", line)
		}
	}
	if s.Header == nil {
		if len(cells) > maxCols {
			return fault.New(fault.Invalid, "/file", "The file has %d columns; at most %d can be read.", len(cells), maxCols)
		}
		for i, c := range cells {
			if c = strings.TrimSpace(c); c == "" {
				c = fmt.Sprintf("Column %d", i+1)
			}
			s.Header = append(s.Header, c)
		}
		return nil
	}
	if strings.TrimSpace(strings.Join(cells, "")) == "" {
		return nil
	}
	if len(s.Rows) == MaxLines {
		return fault.New(fault.Invalid, "/file", "The file has more than %d lines. Bring it in in parts.", MaxLines)
	}
	row := make([]string, len(s.Header))
	copy(row, cells)
	s.Rows, s.Lines = append(s.Rows, row), append(s.Lines, line)
	return nil
}

// decode gives a file's text: in UTF-16 where its mark says so, in UTF-8 where it is that, else as Windows writes it.
func (s *Sheet) decode(data []byte) (string, error) {
	switch {
	case bytes.HasPrefix(data, []byte("\xff\xfe")), bytes.HasPrefix(data, []byte("\xfe\xff")):
		s.Encoding = "utf-16"
		out, err := unicode.UTF16(unicode.LittleEndian, unicode.UseBOM).NewDecoder().Bytes(data)
		if err != nil {
			return "", fault.New(fault.Invalid, "/file", "The file begins as UTF-16 and is not.")
		}
		return string(out), nil
	case utf8.Valid(data):
		s.Encoding = "utf-8"
		return string(bytes.TrimPrefix(data, mark)), nil
	}
	if bytes.IndexByte(data, 0) >= 0 {
		return "", fault.New(fault.Invalid, "/file", "This is no file of text. Save it as CSV, and bring that in.")
	}
	s.Encoding = "windows-1252"
	out, err := charmap.Windows1252.NewDecoder().Bytes(data)
	return string(out), err
}

// separatorOf is the separator that divides the first lines most evenly.
func separatorOf(text string) rune {
	lines := strings.SplitN(text, "\n", 12)
	if len(lines) > 11 {
		lines = lines[:11]
	}
	best, most := ',', 0
	for _, sep := range separators {
		first := count(lines[0], sep)
		even := 1
		for _, l := range lines[1:] {
			if n := count(l, sep); n == first {
				even++
			}
		}
		if score := first * even; first > 0 && score > most {
			best, most = sep, score
		}
	}
	return best
}

// count is how often a separator is in a line outside quotes.
func count(line string, sep rune) int {
	n, quoted := 0, false
	for _, c := range line {
		switch {
		case c == '"':
			quoted = !quoted
		case c == sep && !quoted:
			n++
		}
	}
	return n
}
