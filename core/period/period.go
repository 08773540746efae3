package period

import (
	"fmt"
	"strings"
	"time"
)

// Period is one way to name a stretch of days: a word, a rolling number of units, or two dates.
type Period struct {
	Word    string // today, this_quarter, year_to_date, past …
	Last    int    // N units ending with the current one, or the last complete one
	Next    int    // N units starting with the current one, or the next
	Unit    Unit
	Current bool
	From    string // a date, or empty for no end on this side
	To      string
}

// Span is a resolved period: first and last day, either of which may be open.
type Span struct {
	From, To       int32
	HasFrom, HasTo bool
}

// Closed says whether the span has two ends.
func (s Span) Closed() bool { return s.HasFrom && s.HasTo }

// Has says whether a day lies in the span.
func (s Span) Has(day int32) bool {
	return (!s.HasFrom || day >= s.From) && (!s.HasTo || day <= s.To)
}

func days(from, to int32) Span { return Span{From: from, To: to, HasFrom: true, HasTo: true} }

// MaxRolling is the largest N of a rolling period.
const MaxRolling = 10000

var singles = []string{"today", "yesterday", "tomorrow", "past", "future"}
var wordUnits = []Unit{ByWeek, ByMonth, ByQuarter, ByYear, ByFiscalQuarter, ByFiscalYear}

// RollingUnits are the units of {"last": N}.
var RollingUnits = []Unit{ByDay, ByWeek, ByMonth, ByQuarter, ByYear}

// Words lists every period that has a word.
func Words() []string {
	list := append([]string{}, singles...)
	for _, u := range wordUnits {
		list = append(list, "this_"+string(u), "last_"+string(u), "next_"+string(u), string(u)+"_to_date")
	}
	return list
}

// wordOf splits a word into how it lies to today (this, last, next, to_date, or the word itself) and its unit.
func wordOf(word string) (how string, u Unit, ok bool) {
	for _, s := range singles {
		if s == word {
			return word, ByDay, true
		}
	}
	for _, u := range wordUnits {
		if word == string(u)+"_to_date" {
			return "to_date", u, true
		}
		if head, found := strings.CutSuffix(
			word,
			"_"+string(u),
		); found &&
			(head == "this" || head == "last" || head == "next") {
			return head, u, true
		}
	}
	return "", "", false
}

// Check says what is wrong with a period, nil if it can be resolved.
func (p Period) Check() error {
	switch {
	case p.Word != "":
		if _, _, ok := wordOf(p.Word); !ok {
			return fmt.Errorf("unknown period %q", p.Word)
		}
	case p.Last != 0 || p.Next != 0:
		if p.Last < 0 || p.Next < 0 || p.Last > MaxRolling || p.Next > MaxRolling {
			return fmt.Errorf("a rolling period has 1 to %d units", MaxRolling)
		}
		for _, u := range RollingUnits {
			if u == p.Unit {
				return nil
			}
		}
		return fmt.Errorf("a rolling period counts in day, week, month, quarter or year, not %q", p.Unit)
	default:
		if p.From == "" && p.To == "" {
			return fmt.Errorf("a period needs a word, a rolling number of units, or a first or last day")
		}
		var span [2]int32
		for i, s := range []string{p.From, p.To} {
			if s == "" {
				continue
			}
			d, err := ParseDay(s)
			if err != nil {
				return err
			}
			span[i] = d
		}
		if p.From != "" && p.To != "" && span[0] > span[1] {
			return fmt.Errorf("the period ends on %s, before it begins on %s", p.To, p.From)
		}
	}
	return nil
}

// Resolve gives the first and last day of a checked period, seen from today.
func (c *Calendar) Resolve(p Period, today int32) Span {
	if p.Word != "" {
		return c.resolveWord(p.Word, today)
	}
	if p.Last > 0 || p.Next > 0 {
		return c.units(p.Unit, c.rollingFirst(p, today), p.Last+p.Next)
	}
	var s Span
	if d, err := ParseDay(p.From); err == nil {
		s.From, s.HasFrom = d, true
	}
	if d, err := ParseDay(p.To); err == nil {
		s.To, s.HasTo = d, true
	}
	return s
}

func (c *Calendar) units(u Unit, first, n int) Span {
	return days(c.First(u, first), c.First(u, first+n)-1)
}

func (c *Calendar) rollingFirst(p Period, today int32) int {
	now := c.Ordinal(p.Unit, today)
	switch {
	case p.Last > 0 && p.Current:
		return now - p.Last + 1
	case p.Last > 0:
		return now - p.Last
	case p.Current:
		return now
	}
	return now + 1
}

func (c *Calendar) resolveWord(word string, today int32) Span {
	how, u, _ := wordOf(word)
	now := c.Ordinal(u, today)
	switch how {
	case "today":
		return days(today, today)
	case "yesterday":
		return days(today-1, today-1)
	case "tomorrow":
		return days(today+1, today+1)
	case "past":
		return Span{To: today - 1, HasTo: true}
	case "future":
		return Span{From: today + 1, HasFrom: true}
	case "to_date":
		return days(c.First(u, now), today)
	case "last":
		now--
	case "next":
		now++
	}
	return c.units(u, now, 1)
}

// Earlier is the period to compare with: how is previous_period or year_before; the period resolved from today
// must have two ends.
func (c *Calendar) Earlier(p Period, today int32, how string) Span {
	s := c.Resolve(p, today)
	if how == "year_before" {
		return c.yearBefore(p, s)
	}
	if p.Word == "" && (p.Last > 0 || p.Next > 0) {
		n := p.Last + p.Next
		return c.units(p.Unit, c.rollingFirst(p, today)-n, n)
	}
	word, u, ok := wordOf(p.Word)
	if !ok || u == ByDay {
		n := s.To - s.From + 1
		return days(s.From-n, s.From-1)
	}
	before := c.units(u, c.Ordinal(u, s.From)-1, 1)
	if word == "to_date" {
		if to := before.From + s.To - s.From; to < before.To {
			before.To = to
		}
	}
	return before
}

func (c *Calendar) yearBefore(p Period, s Span) Span {
	how, u, isWord := wordOf(p.Word)
	if !isWord && (p.Last > 0 || p.Next > 0) {
		u = p.Unit
	}
	switch {
	case u == ByWeek:
		return days(s.From-364, s.To-364)
	case u == "" || u == ByDay || how == "to_date":
		return days(sameDayBefore(s.From), sameDayBefore(s.To))
	}
	return days(firstOfMonth(months(s.From)-12), firstOfMonth(months(s.To)-11)-1)
}

func sameDayBefore(day int32) int32 {
	y, m, d := Civil(day)
	if m == time.February && d == 29 {
		d = 28
	}
	return Day(y-1, m, d)
}
