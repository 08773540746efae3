package exchange

import (
	"bufio"
	"encoding/csv"
	"encoding/json"
	"io"
	"slices"
	"strings"

	"uzzel/core/result"
)

// WriteCSV writes a table as RFC 4180 with LF line ends. Where defuse is set, cells that a spreadsheet would take for
// a formula get an apostrophe in front; it gives back how many those were.
func WriteCSV(w io.Writer, t result.Table, defuse bool) (defused int, err error) {
	out := csv.NewWriter(w)
	line := func(cells []string) error {
		if defuse {
			cells = slices.Clone(cells)
			for i, c := range cells {
				if looksLikeFormula(c) {
					cells[i] = "'" + c
					defused++
				}
			}
		}
		if len(cells) == 1 && cells[0] == "" { // the library would write an empty line, which readers take for none
			out.Flush()
			_, err := io.WriteString(w, "\"\"\n")
			return err
		}
		return out.Write(cells)
	}
	if err := line(t.Header); err != nil {
		return defused, err
	}
	for row, err := range t.Rows {
		if err == nil {
			err = line(row.Cells)
		}
		if err != nil {
			return defused, err
		}
	}
	out.Flush()
	return defused, out.Error()
}

// looksLikeFormula says whether a spreadsheet would work a cell out: it begins with = + - @, a tab or a line end, and
// is no plain number.
func looksLikeFormula(s string) bool {
	if s == "" || !strings.ContainsRune("=+-@\t\r\n", rune(s[0])) {
		return false
	}
	if s[0] == '-' {
		return strings.Trim(s[1:], "0123456789.") != "" || s == "-"
	}
	return true
}

// WriteJSON writes a table as a list of objects, members in the order of the columns.
func WriteJSON(w io.Writer, t result.Table) error {
	out := bufio.NewWriter(w)
	out.WriteString("[")
	first := true
	for row, err := range t.Rows {
		if err != nil {
			return err
		}
		if !first {
			out.WriteString(",")
		}
		first = false
		out.WriteString("\n {")
		for c, cell := range row.Cells {
			if c > 0 {
				out.WriteString(", ")
			}
			key, err := json.Marshal(t.Header[c])
			if err != nil {
				return err
			}
			val := []byte("null")
			if cell != "" {
				if val, err = json.Marshal(cell); err != nil {
					return err
				}
			}
			out.Write(key)
			out.WriteString(": ")
			out.Write(val)
		}
		out.WriteString("}")
	}
	out.WriteString("\n]\n")
	return out.Flush()
}
