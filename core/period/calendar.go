// Package period knows the organisation's calendar: days, weeks, months, quarters and fiscal years, the
// periods that a brief can name and the units it can group by (docs/brief.md, "Periods", "Groups").
//
// A day is an int32: days since 1970-01-01. An instant is an int64: seconds since then in UTC.
package period

import (
	"fmt"
	"sort"
	"time"
)

// Calendar is how an organisation counts time. Make it with New.
type Calendar struct {
	Zone        *time.Location
	WeekStart   time.Weekday
	FiscalMonth int // 1 to 12, the month in which a fiscal year begins

	starts  []int64 // instants from which offsets hold
	offsets []int64 // seconds east of UTC
}

// New makes a calendar. Offsets of the zone are looked up once, so that a million instants can be put on their day.
func New(zone *time.Location, weekStart time.Weekday, fiscalMonth int) *Calendar {
	c := &Calendar{Zone: zone, WeekStart: weekStart, FiscalMonth: fiscalMonth}
	t := time.Date(1900, 1, 1, 0, 0, 0, 0, time.UTC)
	stop := time.Date(2200, 1, 1, 0, 0, 0, 0, time.UTC)
	for t.Before(stop) {
		in := t.In(zone)
		_, off := in.Zone()
		c.starts, c.offsets = append(c.starts, t.Unix()), append(c.offsets, int64(off))
		_, end := in.ZoneBounds()
		if end.IsZero() {
			break
		}
		if !end.After(t) { // the bounds of a leap year's last day can end before it
			end = t.Add(24 * time.Hour)
		}
		t = end
	}
	return c
}

func (c *Calendar) local(at int64) int64 {
	i := sort.Search(len(c.starts), func(i int) bool { return c.starts[i] > at }) - 1
	if i < 0 {
		i = 0
	}
	return at + c.offsets[i]
}

// DayOf is the local day of an instant.
func (c *Calendar) DayOf(at int64) int32 { return int32(floorDiv(c.local(at), 86400)) }

// HourOf is the local hour of an instant, 0 to 23.
func (c *Calendar) HourOf(at int64) int32 {
	l := c.local(at)
	return int32((l - floorDiv(l, 86400)*86400) / 3600)
}

func floorDiv(a, b int64) int64 {
	q := a / b
	if a%b < 0 {
		q--
	}
	return q
}

// Day is the day number of a civil date; days and months outside their range roll over.
func Day(year int, month time.Month, day int) int32 {
	return int32(floorDiv(time.Date(year, month, day, 0, 0, 0, 0, time.UTC).Unix(), 86400))
}

// Civil is the civil date of a day number.
func Civil(day int32) (year int, month time.Month, d int) {
	return time.Unix(int64(day)*86400, 0).UTC().Date()
}

// Today is the local day of a moment.
func (c *Calendar) Today(now time.Time) int32 { return c.DayOf(now.Unix()) }

// ParseDay reads 2026-03-09, years 1800 to 2199.
func ParseDay(s string) (int32, error) {
	t, err := time.Parse("2006-01-02", s)
	if err != nil || t.Year() < 1800 || t.Year() > 2199 {
		return 0, fmt.Errorf("%q is not a date like 2026-03-09", s)
	}
	return int32(floorDiv(t.Unix(), 86400)), nil
}

// FormatDay writes 2026-03-09.
func FormatDay(day int32) string {
	y, m, d := Civil(day)
	return fmt.Sprintf("%04d-%02d-%02d", y, m, d)
}

// ParseInstant reads 2026-03-09T10:00:00+00:00 (or Z); without an offset it is in the organisation's zone, and a
// date alone is the start of that day. Parts of a second are cut.
func (c *Calendar) ParseInstant(s string) (int64, error) {
	t, err := time.Parse(time.RFC3339, s)
	for _, form := range []string{"2006-01-02T15:04:05", "2006-01-02T15:04", "2006-01-02"} {
		if err == nil {
			break
		}
		t, err = time.ParseInLocation(form, s, c.Zone)
	}
	if err != nil || t.Year() < 1800 || t.Year() > 2199 {
		return 0, fmt.Errorf("%q is not a time like 2026-03-09T10:00:00Z", s)
	}
	return t.Unix(), nil
}

// FormatInstant writes 2026-03-09T10:00:00+00:00 in the organisation's zone, the offset always as ±hh:mm.
func (c *Calendar) FormatInstant(at int64) string {
	return time.Unix(at, 0).In(c.Zone).Format("2006-01-02T15:04:05-07:00")
}

// StartOf is the instant at which a day begins.
func (c *Calendar) StartOf(day int32) int64 {
	y, m, d := Civil(day)
	return time.Date(y, m, d, 0, 0, 0, 0, c.Zone).Unix()
}
