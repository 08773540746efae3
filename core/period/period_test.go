package period_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"uzzel/core/period"
)

func calendar(t *testing.T, zone string, start time.Weekday, fiscal int) *period.Calendar {
	t.Helper()
	loc, err := time.LoadLocation(zone)
	require.NoError(t, err)
	return period.New(loc, start, fiscal)
}

func day(t *testing.T, s string) int32 {
	t.Helper()
	d, err := period.ParseDay(s)
	require.NoError(t, err)
	return d
}

func spanText(s period.Span) string {
	text := ""
	if s.HasFrom {
		text = period.FormatDay(s.From)
	}
	text += ".."
	if s.HasTo {
		text += period.FormatDay(s.To)
	}
	return text
}

func TestResolve(t *testing.T) {
	c := calendar(t, "Europe/Lisbon", time.Monday, 4)
	last := func(n int, u period.Unit, current bool) period.Period {
		return period.Period{Last: n, Unit: u, Current: current}
	}
	next := func(n int, u period.Unit, current bool) period.Period {
		return period.Period{Next: n, Unit: u, Current: current}
	}
	word := func(w string) period.Period { return period.Period{Word: w} }
	for _, k := range []struct {
		p                         period.Period
		now, previous, yearBefore string
	}{
		{word("today"), "2026-05-14..2026-05-14", "2026-05-13..2026-05-13", "2025-05-14..2025-05-14"},
		{word("yesterday"), "2026-05-13..2026-05-13", "2026-05-12..2026-05-12", "2025-05-13..2025-05-13"},
		{word("tomorrow"), "2026-05-15..2026-05-15", "2026-05-14..2026-05-14", "2025-05-15..2025-05-15"},
		{word("this_week"), "2026-05-11..2026-05-17", "2026-05-04..2026-05-10", "2025-05-12..2025-05-18"},
		{word("week_to_date"), "2026-05-11..2026-05-14", "2026-05-04..2026-05-07", "2025-05-12..2025-05-15"},
		{word("last_month"), "2026-04-01..2026-04-30", "2026-03-01..2026-03-31", "2025-04-01..2025-04-30"},
		{word("this_quarter"), "2026-04-01..2026-06-30", "2026-01-01..2026-03-31", "2025-04-01..2025-06-30"},
		{word("next_year"), "2027-01-01..2027-12-31", "2026-01-01..2026-12-31", "2026-01-01..2026-12-31"},
		{word("year_to_date"), "2026-01-01..2026-05-14", "2025-01-01..2025-05-14", "2025-01-01..2025-05-14"},
		{word("this_fiscal_year"), "2026-04-01..2027-03-31", "2025-04-01..2026-03-31", "2025-04-01..2026-03-31"},
		{word("last_fiscal_quarter"), "2026-01-01..2026-03-31", "2025-10-01..2025-12-31", "2025-01-01..2025-03-31"},
		{last(30, "day", true), "2026-04-15..2026-05-14", "2026-03-16..2026-04-14", "2025-04-15..2025-05-14"},
		{last(30, "day", false), "2026-04-14..2026-05-13", "2026-03-15..2026-04-13", "2025-04-14..2025-05-13"},
		{last(3, "month", true), "2026-03-01..2026-05-31", "2025-12-01..2026-02-28", "2025-03-01..2025-05-31"},
		{last(2, "week", false), "2026-04-27..2026-05-10", "2026-04-13..2026-04-26", "2025-04-28..2025-05-11"},
		{next(60, "day", true), "2026-05-14..2026-07-12", "2026-03-15..2026-05-13", "2025-05-14..2025-07-12"},
		{next(1, "quarter", false), "2026-07-01..2026-09-30", "2026-04-01..2026-06-30", "2025-07-01..2025-09-30"},
		{period.Period{From: "2026-01-10", To: "2026-01-19"}, "2026-01-10..2026-01-19", "2025-12-31..2026-01-09", "2025-01-10..2025-01-19"},
		{period.Period{From: "2024-02-29", To: "2024-02-29"}, "2024-02-29..2024-02-29", "2024-02-28..2024-02-28", "2023-02-28..2023-02-28"},
	} {
		require.NoError(t, k.p.Check())
		today := day(t, "2026-05-14")
		require.Equal(t, k.now, spanText(c.Resolve(k.p, today)), "%+v", k.p)
		require.Equal(t, k.previous, spanText(c.Earlier(k.p, today, "previous_period")), "before %+v", k.p)
		require.Equal(t, k.yearBefore, spanText(c.Earlier(k.p, today, "year_before")), "a year before %+v", k.p)
	}
	require.Equal(t, "..2026-05-13", spanText(c.Resolve(word("past"), day(t, "2026-05-14"))))
	require.Equal(t, "2026-05-15..", spanText(c.Resolve(word("future"), day(t, "2026-05-14"))))
	// A month to date on the 31st compares with a shorter month, not past its end.
	require.Equal(t, "2026-02-01..2026-02-28", spanText(c.Earlier(word("month_to_date"), day(t, "2026-03-31"), "previous_period")))
}

func TestCheckRefuses(t *testing.T) {
	for _, p := range []period.Period{{}, {Word: "this_decade"}, {Last: 3, Unit: "fortnight"}, {Last: -1, Unit: "day"}, {Last: period.MaxRolling + 1, Unit: "day"},
		{From: "2026-02-30"}, {From: "2026-03-01", To: "2026-02-01"}} {
		require.Error(t, p.Check(), "%+v", p)
	}
}

// A day always lies in the unit that its ordinal names, and ordinals follow each other.
func TestOrdinals(t *testing.T) {
	c := calendar(t, "Europe/Lisbon", time.Sunday, 7)
	rapid.Check(t, func(t *rapid.T) {
		d := rapid.Int32Range(-60000, 80000).Draw(t, "day")
		u := rapid.SampledFrom([]period.Unit{"day", "week", "month", "quarter", "year", "fiscal_quarter", "fiscal_year"}).Draw(t, "unit")
		n := c.Ordinal(u, d)
		require.LessOrEqual(t, c.First(u, n), d)
		require.GreaterOrEqual(t, c.Last(u, n), d)
		require.Equal(t, n+1, c.Ordinal(u, c.Last(u, n)+1))
	})
}

func TestLabels(t *testing.T) {
	c := calendar(t, "Europe/Lisbon", time.Monday, 4)
	d := day(t, "2026-03-09")
	for u, want := range map[period.Unit]string{"day": "2026-03-09", "week": "2026-03-09", "month": "2026-03", "quarter": "2026-Q1", "year": "2026",
		"fiscal_quarter": "FY2026-Q4", "fiscal_year": "FY2026", "weekday": "Mon", "month_of_year": "Mar"} {
		require.Equal(t, want, c.Label(u, c.Ordinal(u, d)))
	}
	require.Equal(t, "09", c.Label("hour", 9))
	january := calendar(t, "UTC", time.Monday, 1)
	require.Equal(t, "FY2026", january.Label("fiscal_year", january.Ordinal("fiscal_year", d)))
}

// Instants fall on the day that the clock on the wall shows, at the edges of summer time too.
func TestLocalDays(t *testing.T) {
	for _, zone := range []string{"Europe/Lisbon", "America/Havana", "Pacific/Apia", "Asia/Kathmandu"} {
		c := calendar(t, zone, time.Monday, 1)
		rapid.Check(t, func(t *rapid.T) {
			at := rapid.Int64Range(-600_000_000, 4_000_000_000).Draw(t, "at")
			local := time.Unix(at, 0).In(c.Zone)
			require.Equal(t, local.Format("2006-01-02"), period.FormatDay(c.DayOf(at)))
			require.EqualValues(t, local.Hour(), c.HourOf(at))
			back, err := c.ParseInstant(c.FormatInstant(at))
			require.NoError(t, err)
			require.Equal(t, at, back)
		})
	}
}

func FuzzResolve(f *testing.F) {
	f.Add("last_month", 0, "", "")
	f.Add("", 30, "day", "2026-01-01")
	c := period.New(time.UTC, time.Monday, 4)
	f.Fuzz(func(t *testing.T, word string, n int, unit, from string) {
		p := period.Period{Word: word, Last: n, Unit: period.Unit(unit), From: from}
		if p.Check() != nil {
			return
		}
		s := c.Resolve(p, 20000)
		if s.Closed() && s.To < s.From {
			t.Fatalf("%+v ends before it begins", p)
		}
		if s.Closed() {
			c.Earlier(p, 20000, "previous_period")
			c.Earlier(p, 20000, "year_before")
		}
	})
}
