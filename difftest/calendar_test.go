package difftest

import (
	"fmt"
	"strings"
	"time"
)

// A period here is as JSON has it: a word or an object.

func date(s string) time.Time {
	t, _ := time.Parse("2006-01-02", s)
	return t
}

func text(t time.Time) string { return t.Format("2006-01-02") }

// startOf is the first day of the unit that a day lies in.
func startOf(u string, d time.Time) time.Time {
	y, m := d.Year(), d.Month()
	switch u {
	case "week":
		for d.Weekday() != time.Monday {
			d = d.AddDate(0, 0, -1)
		}
		return d
	case "month":
		return time.Date(y, m, 1, 0, 0, 0, 0, time.UTC)
	case "quarter", "fiscal_quarter": // the fiscal year begins with a quarter here
		return time.Date(y, (m-1)/3*3+1, 1, 0, 0, 0, 0, time.UTC)
	case "year":
		return time.Date(y, 1, 1, 0, 0, 0, 0, time.UTC)
	case "fiscal_year":
		if m < 4 {
			y--
		}
		return time.Date(y, 4, 1, 0, 0, 0, 0, time.UTC)
	}
	return d
}

// step goes n units on from the start of one.
func step(u string, d time.Time, n int) time.Time {
	switch u {
	case "week":
		return d.AddDate(0, 0, 7*n)
	case "month":
		return d.AddDate(0, n, 0)
	case "quarter", "fiscal_quarter":
		return d.AddDate(0, 3*n, 0)
	case "year", "fiscal_year":
		return d.AddDate(n, 0, 0)
	}
	return d.AddDate(0, 0, n)
}

// between counts the units from one start to another.
func unitsBetween(u string, from, to time.Time) int {
	n := 0
	for from.Before(to) {
		from, n = step(u, from, 1), n+1
	}
	for to.Before(from) {
		to, n = step(u, to, 1), n-1
	}
	return n
}

// span is first and last day, "" for an open end.
type span struct{ from, to string }

func whole(u string, first time.Time, n int) span {
	return span{text(first), text(step(u, first, n).AddDate(0, 0, -1))}
}

func splitWord(w string) (how, u string) {
	if u, ok := strings.CutSuffix(w, "_to_date"); ok {
		return "to_date", u
	}
	how, u, ok := strings.Cut(w, "_")
	if ok {
		return how, u
	}
	return w, "day"
}

func resolve(p any, on string) span {
	d := date(on)
	if w, ok := p.(string); ok {
		how, u := splitWord(w)
		start := startOf(u, d)
		switch how {
		case "today":
			return span{on, on}
		case "yesterday":
			return whole("day", d.AddDate(0, 0, -1), 1)
		case "tomorrow":
			return whole("day", d.AddDate(0, 0, 1), 1)
		case "past":
			return span{"", text(d.AddDate(0, 0, -1))}
		case "future":
			return span{text(d.AddDate(0, 0, 1)), ""}
		case "to_date":
			return span{text(start), on}
		case "last":
			return whole(u, step(u, start, -1), 1)
		case "next":
			return whole(u, step(u, start, 1), 1)
		}
		return whole(u, start, 1)
	}
	o := p.(map[string]any)
	if n, u, first, ok := rolling(o, d); ok {
		return whole(u, first, n)
	}
	get := func(k string) string { s, _ := o[k].(string); return s }
	return span{get("from"), get("to")}
}

func rolling(o map[string]any, d time.Time) (n int, u string, first time.Time, ok bool) {
	u, ok = o["unit"].(string)
	if !ok {
		return 0, "", d, false
	}
	current := o["current"] != false
	start := startOf(u, d)
	if n, is := o["last"].(int); is {
		if !current {
			start = step(u, start, -1)
		}
		return n, u, step(u, start, 1-n), true
	}
	n = o["next"].(int)
	if !current {
		start = step(u, start, 1)
	}
	return n, u, start, true
}

func earlier(p any, on, how string) span {
	now := resolve(p, on)
	d := date(on)
	o, isObject := p.(map[string]any)
	if how == "year_before" {
		var kind string
		if isObject {
			kind, _ = o["unit"].(string)
		} else {
			var h string
			if h, kind = splitWord(p.(string)); h == "to_date" && kind != "week" {
				kind = ""
			}
		}
		switch kind {
		case "week":
			return span{text(date(now.from).AddDate(0, 0, -364)), text(date(now.to).AddDate(0, 0, -364))}
		case "", "day":
			back := func(s string) string {
				if strings.HasSuffix(s, "-02-29") {
					s = s[:8] + "28"
				}
				return fmt.Sprintf("%04d%s", date(s).Year()-1, s[4:])
			}
			return span{back(now.from), back(now.to)}
		}
		from := date(now.from).AddDate(-1, 0, 0)
		n := unitsBetween("month", date(now.from), date(now.to).AddDate(0, 0, 1))
		return whole("month", from, n)
	}
	if isObject {
		if n, u, first, ok := rolling(o, d); ok {
			return whole(u, step(u, first, -n), n)
		}
	} else if h, u := splitWord(p.(string)); u != "day" {
		before := whole(u, step(u, startOf(u, date(now.from)), -1), 1)
		if h == "to_date" {
			days := unitsBetween("day", date(now.from), date(now.to))
			if end := text(date(before.from).AddDate(0, 0, days)); end < before.to {
				before.to = end
			}
		}
		return before
	}
	days := unitsBetween("day", date(now.from), date(now.to)) + 1
	return span{text(date(now.from).AddDate(0, 0, -days)), text(date(now.from).AddDate(0, 0, -1))}
}

// unitLabel names the unit that a day lies in, and gives what it sorts by.
func unitLabel(u, day string, hour int) (label, sort string) {
	d := date(day)
	switch u {
	case "hour":
		s := fmt.Sprintf("%02d", hour)
		return s, s
	case "weekday":
		return d.Format("Mon"), fmt.Sprint((int(d.Weekday()) + 6) % 7)
	case "month_of_year":
		return d.Format("Jan"), d.Format("01")
	}
	s := startOf(u, d)
	switch u {
	case "month":
		return s.Format("2006-01"), text(s)
	case "quarter":
		return fmt.Sprintf("%d-Q%d", s.Year(), (int(s.Month())+2)/3), text(s)
	case "year":
		return s.Format("2006"), text(s)
	case "fiscal_year":
		return fmt.Sprintf("FY%d", s.Year()+1), text(s)
	case "fiscal_quarter":
		q := map[time.Month]int{4: 1, 7: 2, 10: 3, 1: 4}[s.Month()]
		return fmt.Sprintf("FY%d-Q%d", startOf("fiscal_year", d).Year()+1, q), text(s)
	}
	return text(s), text(s)
}
