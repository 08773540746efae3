package typed

import (
	"slices"
	"strconv"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/period"
)

// moments reads as of which day a report is answered, since when what moved is told, and whose periods are meant.
func (r *reader) moments() bool {
	if r.take("periods as of then") {
		r.b.Periods = brief.Then
		return true
	}
	to := &r.b.AsOf
	switch {
	case r.take("what moved since", "moved since"):
		to = &r.b.Since
	case r.take("as of", "as at", "as it was on", "as it stood on"):
	default:
		return false
	}
	m, ok := r.moment()
	if ok {
		*to = &m
		r.dates()
	}
	return ok
}

// money reads in which currency amounts are, and at the rates of which days.
func (r *reader) money() bool {
	if r.take("amounts as recorded", "in their own currency", "in their own currencies") {
		r.moneyOf().As = brief.Recorded
		return true
	}
	t := r.start()
	switch {
	case r.take("amounts of"):
		t, r.at = r.recordType(r.at)
	case !r.take("amounts"):
		return false
	}
	if t == nil || t.Currency == "" {
		return false
	}
	if r.take("in") {
		r.at++ // the organisation's: there is no other
	}
	if !r.take("at the rate of", "at the rates of") {
		return false
	}
	var at []string
	for !r.take("today") {
		h, ok := r.field(scope{t: t}, r.at)
		if !ok || !h.kind.Dated() {
			return false
		}
		at, r.at = append(at, h.path), h.next
		if !r.take(", else of", "else of", ", else", "else") {
			break
		}
	}
	if !slices.Equal(at, t.Rated) {
		m := r.moneyOf()
		m.Rates = append(m.Rates, brief.RateDay{Of: t.Key, At: at})
	}
	return true
}

func (r *reader) moneyOf() *brief.Money {
	if r.b.Money == nil {
		r.b.Money = &brief.Money{}
	}
	return r.b.Money
}

func (r *reader) moment() (brief.Moment, bool) {
	if r.take("yesterday") {
		return brief.Moment{Word: "yesterday"}, true
	}
	at := r.at
	if r.take("the end of last", "end of last") {
		for _, u := range []string{"fiscal quarter", "fiscal year", "week", "month", "quarter", "year"} {
			if r.take(u) {
				return brief.Moment{Word: "last_" + strings.ReplaceAll(u, " ", "_")}, true
			}
		}
		r.at = at
	}
	if n, err := strconv.Atoi(r.word(r.at).text); err == nil && n >= 0 && n <= 10_000 {
		for word, u := range map[string]period.Unit{
			"day": period.ByDay, "days": period.ByDay, "week": period.ByWeek, "weeks": period.ByWeek,
			"month": period.ByMonth, "months": period.ByMonth,
		} {
			if r.isAt(r.at+1, word) && r.isAt(r.at+2, "ago") {
				r.at += 3
				return brief.Moment{Ago: n, Unit: u}, true
			}
		}
	}
	day, ok := r.day()
	return brief.Moment{Date: day}, ok
}
