// Package figures is how an organisation writes numbers, amounts and days for people: its marks between thousands and
// before decimals, on which side of an amount the currency is, and the order of a day’s parts. Marks are those of
// golang.org/x/text (Unicode CLDR). Sentences are not written so: they are typed, and read one way by everyone.
package figures

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"golang.org/x/text/language"
	"golang.org/x/text/message"
	"golang.org/x/text/number"

	"uzzel/core/period"
)

// Form is a way to write figures. The zero value is 1,234.56 with the currency's sign before it, and 14 May 2026.
type Form struct {
	group, decimal string
	after          bool
	days           string // one of Days, or "" for the first
}

// Days are the ways that an organisation chooses among to write a day: 14 May 2026, 14.05.2026, 14/05/2026, 2026-05-14.
// The first is the zero Form's; the last is that of ISO 8601.
var Days = []string{"words", "dots", "slashes", "iso"}

// dayForms are the ways to write a day in numbers, as package time has them, and as cells of a spreadsheet do (ISO/IEC
// 29500-1, 18.8.31).
var dayForms = map[string]struct{ written, cell string }{
	"words":   {"2 Jan 2006", "d mmm yyyy"},
	"dots":    {"02.01.2006", `dd\.mm\.yyyy`},
	"slashes": {"02/01/2006", "dd/mm/yyyy"},
	"iso":     {"2006-01-02", "yyyy-mm-dd"},
}

// WithDays is the form with days written in one of the ways of Days; "" is the first. An error says that it is none of
// them.
func (f Form) WithDays(way string) (Form, error) {
	if way == Days[0] {
		way = ""
	}
	if _, ok := dayForms[way]; !ok && way != "" {
		return Form{}, fmt.Errorf("days are written as %s, not as %q", strings.Join(Days, ", "), way)
	}
	f.days = way
	return f, nil
}

// Way is the way in which days are written, one of Days.
func (f Form) Way() string { return cmp.Or(f.days, Days[0]) }

// Day writes a day, counted from 1 January 1970.
func (f Form) Day(day int32) string {
	y, m, d := period.Civil(day)
	return time.Date(y, m, d, 0, 0, 0, 0, time.UTC).Format(dayForms[f.Way()].written)
}

// DayCode is how a cell of a spreadsheet is told to write a day.
func (f Form) DayCode() string { return dayForms[f.Way()].cell }

// Tags are the ways that an organisation chooses among, as language tags: the first is the zero Form's.
var Tags = []string{"en", "de", "de-CH", "fr", "nl"}

// before are the languages that write a currency's sign before an amount.
var before = []string{"en", "de-CH", "nl"}

// Of is the way of a language tag; an error says that it is none of Tags.
func Of(tag string) (Form, error) {
	if tag == "" || tag == Tags[0] {
		return Form{}, nil
	}
	if !slices.Contains(Tags, tag) {
		return Form{}, fmt.Errorf("figures are written as in %s, not as in %q", strings.Join(Tags, ", "), tag)
	}
	// A number is written once by the library, and its marks are taken from that: it writes no number as long as ours.
	said := []rune(message.NewPrinter(language.Make(tag)).Sprint(number.Decimal(1234567.5)))
	f := Form{after: !slices.Contains(before, tag)}
	for i, r := range said {
		switch {
		case r >= '0' && r <= '9':
		case i < len(said)-2:
			f.group = string(r)
		default:
			f.decimal = string(r)
		}
	}
	return f, nil
}

// Number writes a plain decimal, such as -1234.50, for people: −1,234.50.
func (f Form) Number(plain string) string {
	group, decimal := f.group, f.decimal
	if decimal == "" {
		group, decimal = ",", "."
	}
	sign := ""
	if rest, ok := strings.CutPrefix(plain, "-"); ok {
		sign, plain = "−", rest
	}
	whole, cut, dot := strings.Cut(plain, ".")
	for i := len(whole) - 3; i > 0; i -= 3 {
		whole = whole[:i] + group + whole[i:]
	}
	if dot {
		whole += decimal + cut
	}
	return sign + whole
}

// Money puts a currency's sign to an amount that was written by Number.
func (f Form) Money(sign, amount string) string {
	if f.after && sign != "" {
		return amount + "\u00a0" + strings.TrimSpace(sign)
	}
	if rest, ok := strings.CutPrefix(amount, "−"); ok {
		return "−" + sign + rest
	}
	return sign + amount
}
