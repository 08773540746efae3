package typed

import (
	"strconv"
	"strings"
	"time"

	"uzzel/core/brief"
	"uzzel/core/period"
)

var units = map[string]period.Unit{
	"day":      period.ByDay,
	"days":     period.ByDay,
	"week":     period.ByWeek,
	"weeks":    period.ByWeek,
	"month":    period.ByMonth,
	"months":   period.ByMonth,
	"quarter":  period.ByQuarter,
	"quarters": period.ByQuarter,
	"year":     period.ByYear,
	"years":    period.ByYear,
}

func isUnit(r *reader, at int) bool {
	_, _, ok := r.unit(at)
	return ok
}

// unit reads a unit that dates are grouped by: "month of year".
func (r *reader) unit(at int) (u period.Unit, next int, ok bool) {
	for _, known := range period.Units {
		for _, form := range []string{strings.ReplaceAll(string(known), "_", " "), strings.ReplaceAll(string(known), "month_of_year", "month of the year")} {
			words := strings.Fields(form)
			if r.isAt(at, words...) && at+len(words) > next {
				u, next, ok = known, at+len(words), true
			}
		}
	}
	return u, next, ok
}

// period reads a period: "this quarter", "in the last 30 days, today included", "from 1 Apr 2026 to 3 May 2026".
func (r *reader) period() (brief.Period, bool) {
	at := r.at
	p, ok := r.onePeriod()
	if !ok {
		r.at = at
		return brief.Period{}, false
	}
	if err := p.Check(); err != nil {
		r.at = at
		return brief.Period{}, false
	}
	r.dates()
	return brief.Period{Period: p}, true
}

// dates goes over the resolved dates that are after a period.
func (r *reader) dates() {
	if !r.is("(") || r.isAt(r.at+1, "asked") || r.isAt(r.at+1, "fixed") {
		return
	}
	end := r.at + 1
	for end < len(r.w) && r.word(end).low != ")" {
		end++
	}
	first := r.word(min(r.at+1, len(r.w)-1)).low
	if _, err := strconv.Atoi(first); err == nil || first == "from" || first == "up" {
		r.at = min(end+1, len(r.w))
	}
}

func (r *reader) onePeriod() (period.Period, bool) {
	switch {
	case r.take("today"):
		return period.Period{Word: "today"}, true
	case r.take("yesterday"):
		return period.Period{Word: "yesterday"}, true
	case r.take("tomorrow"):
		return period.Period{Word: "tomorrow"}, true
	case r.take("before today", "in the past"):
		return period.Period{Word: "past"}, true
	case r.take("after today", "in the future"):
		return period.Period{Word: "future"}, true
	case r.take("up to"):
		d, ok := r.day()
		return period.Period{To: d}, ok
	case r.take("from"):
		from, ok := r.day()
		if !ok {
			return period.Period{}, false
		}
		if r.take("to") {
			to, ok := r.day()
			return period.Period{From: from, To: to}, ok
		}
		r.take("on")
		return period.Period{From: from}, true
	}
	at := r.at
	for _, lead := range []string{"in the", "within the", "within", "in", "over the", "the", ""} {
		r.at = at
		if lead != "" && !r.take(lead) {
			continue
		}
		for _, way := range []string{"last", "next", "past"} {
			if r.take(way) {
				if p, ok := r.rolling(way != "next"); ok {
					return p, true
				}
			}
			r.at = at
			if lead != "" {
				r.take(lead)
			}
		}
		if word, ok := r.periodWord(); ok {
			return period.Period{Word: word}, true
		}
	}
	r.at = at
	return period.Period{}, false
}

// rolling reads "30 days, today included" after last or next.
func (r *reader) rolling(last bool) (period.Period, bool) {
	n := 1
	counted := false
	if r.at < len(r.w) {
		if k, err := strconv.Atoi(strings.ReplaceAll(r.word(r.at).low, ",", "")); err == nil {
			n, counted = k, true
			r.at++
		} else if k, ok := small[r.word(r.at).low]; ok {
			n, counted = k, true
			r.at++
		}
	}
	if r.at >= len(r.w) {
		return period.Period{}, false
	}
	u, ok := units[r.word(r.at).low]
	if !ok {
		return period.Period{}, false
	}
	r.at++
	p := period.Period{Unit: u, Current: true}
	if last {
		p.Last = n
	} else {
		p.Next = n
	}
	at := r.at
	said := false
	r.take(",")
	switch {
	case r.take("this one included", "the current one included", "today included", "including today"):
		said = true
	case r.take("without this one", "without the current one", "without today"):
		p.Current, said = false, true
	default:
		r.at = at
	}
	// "last month" alone is the calendar's.
	return p, counted || said
}

var small = map[string]int{
	"two":    2,
	"three":  3,
	"four":   4,
	"five":   5,
	"six":    6,
	"seven":  7,
	"eight":  8,
	"nine":   9,
	"ten":    10,
	"twelve": 12,
}

// periodWord reads a word for a period: "this fiscal quarter", "this month to date".
func (r *reader) periodWord() (string, bool) {
	best, next := "", 0
	for _, word := range period.Words() {
		forms := []string{strings.ReplaceAll(word, "_", " ")}
		if u, ok := strings.CutSuffix(word, "_to_date"); ok {
			forms = append(forms, "this "+strings.ReplaceAll(u, "_", " ")+" to date")
		}
		for _, form := range forms {
			words := strings.Fields(form)
			if r.is(words...) && r.at+len(words) > next {
				best, next = word, r.at+len(words)
			}
		}
	}
	if best == "" || best == "past" || best == "future" {
		return "", false
	}
	r.at = next
	return best, true
}

// day reads a day: 14 May 2026, 2026-05-14, 14.5.2026, and 14/05/2026 where the organisation writes days so: elsewhere
// it could be a month's day or a day's month.
func (r *reader) day() (string, bool) {
	if r.at < len(r.w) {
		if _, err := period.ParseDay(r.word(r.at).text); err == nil {
			r.at++
			return r.word(r.at - 1).text, true
		}
		layouts := []string{"2.1.2006"}
		if r.known.Form.Way() == "slashes" {
			layouts = append(layouts, "2/1/2006")
		}
		for _, layout := range layouts {
			if t, err := time.Parse(layout, r.word(r.at).text); err == nil {
				r.at++
				return t.Format(time.DateOnly), true
			}
		}
	}
	if r.at+2 < len(r.w) {
		for _, layout := range []string{"2 Jan 2006", "2 January 2006"} {
			if t, err := time.Parse(layout, r.word(r.at).text+" "+r.word(r.at+1).text+" "+r.word(r.at+2).text); err == nil {
				r.at += 3
				return t.Format(time.DateOnly), true
			}
		}
	}
	return "", false
}
