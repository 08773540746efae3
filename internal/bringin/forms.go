package bringin

import (
	"slices"
	"strings"
	"time"

	"uzzel/core/schema"
)

// Forms that values of a column are written in.
const (
	Point = "point" // 1,234.56
	Comma = "comma" // 1.234,56
	Year  = "ymd"   // 2026-05-14
	Day   = "dmy"   // 14.05.2026, 14/05/2026
	Month = "mdy"   // 05/14/2026
	Words = "words" // 14 May 2026
)

// layouts are the days of a form, as package time has them, with dashes between.
var layouts = map[string][]string{
	Year:  {"2006-1-2"},
	Day:   {"2-1-2006", "2-1-06"},
	Month: {"1-2-2006", "1-2-06"},
	Words: {"2-Jan-2006", "2-January-2006", "Jan-2-2006", "January-2-2006"},
}

var clocks = []string{"15:04:05", "15:04", "3:04 PM", "3:04:05 PM"}

// written gives a cell in the form that the program keeps values of a kind in (docs/brief.md, "Records"); what it cannot
// read it gives as it is, to be refused.
func written(f *schema.Field, form, cell string) string {
	cell = strings.TrimSpace(cell)
	switch {
	case cell == "":
		return ""
	case f.Kind.Numeric():
		return number(cell, form)
	case f.Kind.Dated():
		day, clock, ok := moment(cell, form)
		switch {
		case !ok:
			return cell
		case f.Kind == schema.Date:
			return day
		case clock == "":
			clock = "00:00:00"
		}
		if strings.HasSuffix(cell, "Z") {
			clock += "Z"
		}
		return day + "T" + clock
	case f.Kind == schema.YesNo:
		switch strings.ToLower(cell) {
		case "yes", "y", "true", "1", "x", "on", "ja", "oui", "si", "sí", "sim", "done":
			return "true"
		case "no", "n", "false", "0", "-", "off", "nein", "nej", "non", "não", "open":
			return "false"
		}
	}
	return cell
}

// marks are those between thousands and before decimals.
func marks(form string) (group, point string) {
	if form == Comma {
		return ".", ","
	}
	return ",", "."
}

// number takes the marks between thousands, signs of currencies and the like off a number.
func number(cell, form string) string {
	group, point := marks(form)
	negative := strings.HasPrefix(cell, "(") && strings.HasSuffix(cell, ")")
	digits := strings.Map(func(r rune) rune {
		switch {
		case r >= '0' && r <= '9', strings.ContainsRune(point, r), r == '-':
			return r
		case r == '−':
			return '-'
		case strings.ContainsRune(group, r), strings.ContainsRune(" \u00a0\u202f'’()%€$£¥", r):
			return -1
		case r >= 'A' && r <= 'Z': // EUR
			return -1
		}
		return 'x' // no number
	}, cell)
	digits = strings.Replace(digits, point, ".", 1)
	if negative {
		digits = "-" + digits
	}
	if strings.ContainsAny(digits, "x,") || digits == "" {
		return cell
	}
	return digits
}

// moment reads a day, and the time of day where there is one.
func moment(cell, form string) (day, clock string, ok bool) {
	date, rest := cell, ""
	if form != Words {
		if i := strings.IndexAny(cell, "T "); i > 0 {
			date, rest = cell[:i], strings.TrimSpace(cell[i+1:])
		}
	} else if i := strings.Index(cell, ":"); i > 0 {
		if at := strings.LastIndex(cell[:i], " "); at > 0 {
			date, rest = cell[:at], strings.TrimSpace(cell[at:])
		}
	}
	rest = strings.TrimSuffix(rest, "Z")
	date = strings.Join(strings.FieldsFunc(date, func(r rune) bool { return strings.ContainsRune("./- ,", r) }), "-")
	for _, layout := range layouts[form] {
		at, err := time.Parse(layout, date)
		if err != nil {
			continue
		}
		if rest == "" {
			return at.Format("2006-01-02"), "", true
		}
		for _, l := range clocks {
			if c, err := time.Parse(l, strings.ToUpper(rest)); err == nil {
				return at.Format("2006-01-02"), c.Format("15:04:05"), true
			}
		}
		return "", "", false
	}
	return "", "", false
}

// formOf is the form that most of a column's cells are written in, and whether others would do as well. preferred is
// taken where they would.
func formOf(f *schema.Field, cells []string, preferred string) (form string, unsure bool) {
	var forms []string
	switch {
	case f.Kind.Numeric():
		forms = []string{Point, Comma}
	case f.Kind.Dated():
		forms = []string{Year, Day, Month, Words}
	default:
		return "", false
	}
	if i := slices.Index(forms, preferred); i > 0 {
		forms[0], forms[i] = forms[i], forms[0]
	}
	best, most, second := forms[0], -1, -1
	for _, form := range forms {
		n := 0
		for _, c := range cells {
			if reads(f, form, c) {
				n++
			}
		}
		if n > most {
			best, most, second = form, n, most
		} else if n > second {
			second = n
		}
	}
	return best, f.Kind.Dated() && most > 0 && second == most
}

// reads says whether a cell is written in a form. A mark between thousands is before three digits.
func reads(f *schema.Field, form, cell string) bool {
	if f.Kind.Dated() {
		_, _, ok := moment(strings.TrimSpace(cell), form)
		return ok
	}
	group, point := marks(form)
	if i := strings.LastIndex(cell, group); i >= 0 {
		tail := strings.TrimRight(cell[i+1:], " %€$£ABCDEFGHIJKLMNOPQRSTUVWXYZ)")
		if whole, _, cut := strings.Cut(tail, point); cut {
			tail = whole
		}
		if len(tail) != 3 {
			return false
		}
	}
	return !strings.ContainsAny(number(cell, form), "abcdefghijklmnopqrstuvwxyz") && strings.Count(cell, point) < 2
}
