package brief

import (
	"fmt"
	"strconv"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"uzzel/core/figures"
	"uzzel/core/period"
	"uzzel/core/schema"
)

// PeriodWords says a period: "this quarter", "in the last 30 days with today in it".
func PeriodWords(p period.Period) string {
	if p.Word != "" {
		switch p.Word {
		case "past":
			return "before today"
		case "future":
			return "after today"
		}
		if u, ok := strings.CutSuffix(p.Word, "_to_date"); ok {
			return "this " + strings.ReplaceAll(u, "_", " ") + " to date"
		}
		return strings.ReplaceAll(p.Word, "_", " ")
	}
	unit := func(n int) string {
		if n == 1 {
			return string(p.Unit)
		}
		return fmt.Sprintf("%d %ss", n, p.Unit)
	}
	current := ", this one included"
	if p.Unit == period.ByDay {
		current = ", today included"
	}
	if !p.Current {
		current = ", without this one"
		if p.Unit == period.ByDay {
			current = ", without today"
		}
	}
	switch {
	case p.Last > 0:
		return "in the last " + unit(p.Last) + current
	case p.Next > 0:
		return "in the next " + unit(p.Next) + current
	case p.From == "":
		return "up to " + dayText(p.To)
	case p.To == "":
		return "from " + dayText(p.From) + " on"
	}
	return "from " + dayText(p.From) + " to " + dayText(p.To)
}

func dayText(s string) string {
	d, err := period.ParseDay(s)
	if err != nil {
		return s
	}
	return DayWords(d)
}

// DayWords writes a day for people: 1 Apr 2026.
func DayWords(day int32) string {
	return figures.Form{}.Day(day)
}

// DateForms are the ways that a format writes a day: 14 May 2026, Thu 14 May 2026, May 2026, 2026-05-14.
var DateForms = []string{"day", "weekday", "month", "number"}

// DayIn writes a day in one of DateForms; "" is day.
func DayIn(day int32, form string) string {
	y, m, _ := period.Civil(day)
	switch form {
	case "weekday":
		return time.Date(y, m, 1, 0, 0, 0, 0, time.UTC).AddDate(0, 0, int(day-period.Day(y, m, 1))).Weekday().String()[:3] + " " + DayWords(
			day,
		)
	case "month":
		return fmt.Sprintf("%s %d", shortMonth(m), y)
	case "number":
		return period.FormatDay(day)
	}
	return DayWords(day)
}

func shortMonth(m time.Month) string { return m.String()[:3] }

// MonthWords writes the month of a day for people: "Apr 2026".
func MonthWords(day int32) string {
	y, m, _ := period.Civil(day)
	return fmt.Sprintf("%s %d", shortMonth(m), y)
}

// SpanWords writes a span for people: "1 Apr – 30 Jun 2026".
func SpanWords(s period.Span) string {
	switch {
	case !s.HasFrom && !s.HasTo:
		return ""
	case !s.HasFrom:
		return "up to " + DayWords(s.To)
	case !s.HasTo:
		return "from " + DayWords(s.From)
	case s.From == s.To:
		return DayWords(s.From)
	}
	y1, m1, d1 := period.Civil(s.From)
	y2, _, _ := period.Civil(s.To)
	if y1 == y2 {
		return fmt.Sprintf("%d %s – %s", d1, shortMonth(m1), DayWords(s.To))
	}
	return DayWords(s.From) + " – " + DayWords(s.To)
}

// Currency is the sign that amounts of a currency are written with.
func Currency(code string) string {
	switch code {
	case "EUR":
		return "€"
	case "GBP":
		return "£"
	case "USD":
		return "$"
	case "":
		return ""
	}
	return code + " "
}

// thousands writes a plain decimal as sentences do.
func thousands(s string) string { return figures.Form{}.Number(s) }

// Thousands puts marks between the thousands of a plain decimal, for people.
func Thousands(s string) string { return thousands(s) }

// millions writes an amount of whole millions, or of hundredths of them, in words: 12 million.
func millions(s string) string {
	whole, cut, dot := strings.Cut(s, ".")
	if dot && strings.Trim(cut, "0") != "" || len(whole) < 7 || strings.HasPrefix(whole, "-") {
		return thousands(s)
	}
	rest := strings.TrimRight(whole[len(whole)-6:], "0")
	switch {
	case len(rest) > 2 || dot:
		return thousands(s)
	case rest != "":
		rest = "." + rest
	}
	return thousands(whole[:len(whole)-6]) + rest + " million"
}

// words names a value in a sentence: "customer's segment".
func words(v *Value) string {
	if v.Own != nil {
		return v.Own.Source.Name()
	}
	return possessive(v.Label)
}

// ValueWords names a value for people: "customer's segment".
func ValueWords(v *Value) string { return words(v) }

// possessive turns "Customer › Segment" into "customer's segment".
func possessive(label string) string {
	said := ""
	for i, part := range strings.Split(label, " › ") {
		if i > 0 {
			said = Possessive(said)
		}
		said += lower(part)
	}
	return said
}

// Possessive begins the name of something that belongs to what a label names: "customer's ", "deals' ".
func Possessive(label string) string {
	if strings.HasSuffix(label, "s") {
		return lower(label) + "' "
	}
	return lower(label) + "'s "
}

// lower begins a label with a small letter, unless it begins with an acronym: "VAT number" stays.
func lower(s string) string {
	first, size := utf8.DecodeRuneInString(s)
	if second, _ := utf8.DecodeRuneInString(s[size:]); unicode.IsUpper(second) {
		return s
	}
	return string(unicode.ToLower(first)) + s[size:]
}

// Small begins a label with a small letter, for texts put together elsewhere; acronyms stay as they are.
func Small(s string) string { return lower(s) }

// Capital begins a text with a capital.
func Capital(s string) string { return upper(s) }

// upper begins a text with a capital.
func upper(s string) string {
	first, size := utf8.DecodeRuneInString(s)
	if size == 0 {
		return s
	}
	return string(unicode.ToUpper(first)) + s[size:]
}

func article(name string) string {
	if strings.ContainsRune("aeiouAEIOU", []rune(name + " ")[0]) {
		return "an"
	}
	return "a"
}

// Plural is the plural of an English noun, or of the last word of several: "cities", "days to close".
func Plural(noun string) string {
	n := len(noun)
	switch {
	case n == 0 || strings.HasSuffix(noun, "”"):
		return noun
	case strings.HasSuffix(noun, "ss"),
		strings.HasSuffix(noun, "us"),
		strings.HasSuffix(noun, "x"),
		strings.HasSuffix(noun, "ch"),
		strings.HasSuffix(noun, "sh"):
		return noun + "es"
	case strings.HasSuffix(noun, "s"):
		return noun
	case strings.HasSuffix(noun, "y") && n > 1 && !strings.ContainsRune("aeiou", rune(noun[n-2])):
		return noun[:n-1] + "ies"
	case strings.HasSuffix(noun, "person"):
		return noun[:n-6] + "people"
	case unicode.IsLetter(rune(noun[n-1])):
		return noun + "s"
	}
	return noun
}

func join(list []string, word string) string {
	if len(list) < 2 {
		return strings.Join(list, "")
	}
	return strings.Join(list[:len(list)-1], ", ") + " " + word + " " + list[len(list)-1]
}

// Counted says how many records of a type there are: "1 deal", "1,204 deals".
func Counted(t *schema.Type, n int64) string {
	word := strings.ToLower(t.Label)
	if n == 1 {
		word = t.One
	}
	return thousands(strconv.FormatInt(n, 10)) + " " + word
}
