package period

import (
	"fmt"
	"time"
)

// Unit is what dates are grouped by. Units that follow each other for ever have ordinals one apart; weekday,
// month of year and hour come round again and have ordinals from 0.
type Unit string

// The units of docs/brief.md, "Groups".
const (
	ByDay           Unit = "day"
	ByWeek          Unit = "week"
	ByMonth         Unit = "month"
	ByQuarter       Unit = "quarter"
	ByYear          Unit = "year"
	ByFiscalQuarter Unit = "fiscal_quarter"
	ByFiscalYear    Unit = "fiscal_year"
	ByWeekday       Unit = "weekday"
	ByMonthOfYear   Unit = "month_of_year"
	ByHour          Unit = "hour"
)

// Units lists every unit in the order they are offered.
var Units = []Unit{
	ByDay,
	ByWeek,
	ByMonth,
	ByQuarter,
	ByYear,
	ByFiscalQuarter,
	ByFiscalYear,
	ByWeekday,
	ByMonthOfYear,
	ByHour,
}

// Round says how many ordinals a unit that comes round again has, 0 for the others.
func (u Unit) Round() int {
	switch u {
	case ByWeekday:
		return 7
	case ByMonthOfYear:
		return 12
	case ByHour:
		return 24
	}
	return 0
}

// Known says whether u is a unit.
func (u Unit) Known() bool {
	for _, k := range Units {
		if k == u {
			return true
		}
	}
	return false
}

func floor32(a, b int) int { return int(floorDiv(int64(a), int64(b))) }

func months(day int32) int {
	y, m, _ := Civil(day)
	return y*12 + int(m) - 1
}

func firstOfMonth(n int) int32 { return Day(floor32(n, 12), time.Month(n-floor32(n, 12)*12+1), 1) }

// Ordinal is the number of the unit that a day lies in. It is not for hours.
func (c *Calendar) Ordinal(u Unit, day int32) int {
	switch u {
	case ByWeek:
		return floor32(int(day)-c.weekAnchor(), 7)
	case ByMonth:
		return months(day)
	case ByQuarter:
		return floor32(months(day), 3)
	case ByYear:
		return floor32(months(day), 12)
	case ByFiscalQuarter:
		return floor32(months(day)-c.FiscalMonth+1, 3)
	case ByFiscalYear:
		return floor32(months(day)-c.FiscalMonth+1, 12)
	case ByWeekday:
		n := int(day) - c.weekAnchor()
		return n - floor32(n, 7)*7
	case ByMonthOfYear:
		_, m, _ := Civil(day)
		return int(m) - 1
	}
	return int(day)
}

// weekAnchor is a day on which a week starts: 1970-01-01 was a Thursday.
func (c *Calendar) weekAnchor() int { return int(c.WeekStart) - int(time.Thursday) }

// First is the first day of the unit with this ordinal; not for units that come round.
func (c *Calendar) First(u Unit, n int) int32 {
	switch u {
	case ByWeek:
		return int32(n*7 + c.weekAnchor())
	case ByMonth:
		return firstOfMonth(n)
	case ByQuarter:
		return firstOfMonth(n * 3)
	case ByYear:
		return firstOfMonth(n * 12)
	case ByFiscalQuarter:
		return firstOfMonth(n*3 + c.FiscalMonth - 1)
	case ByFiscalYear:
		return firstOfMonth(n*12 + c.FiscalMonth - 1)
	}
	return int32(n)
}

// Last is the last day of the unit with this ordinal.
func (c *Calendar) Last(u Unit, n int) int32 { return c.First(u, n+1) - 1 }

var dayNames = []string{"Sun", "Mon", "Tue", "Wed", "Thu", "Fri", "Sat"}
var monthNames = []string{"Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"}

// Label names the unit with this ordinal as results write it: 2026-03, FY2026-Q1, Mon.
func (c *Calendar) Label(u Unit, n int) string {
	switch u {
	case ByMonth:
		return fmt.Sprintf("%04d-%02d", floor32(n, 12), n-floor32(n, 12)*12+1)
	case ByQuarter:
		return fmt.Sprintf("%04d-Q%d", floor32(n, 4), n-floor32(n, 4)*4+1)
	case ByYear:
		return fmt.Sprintf("%04d", n)
	case ByFiscalQuarter:
		return fmt.Sprintf("FY%04d-Q%d", c.fiscalName(floor32(n, 4)), n-floor32(n, 4)*4+1)
	case ByFiscalYear:
		return fmt.Sprintf("FY%04d", c.fiscalName(n))
	case ByWeekday:
		return dayNames[(int(c.WeekStart)+n)%7]
	case ByMonthOfYear:
		return monthNames[n]
	case ByHour:
		return fmt.Sprintf("%02d", n)
	}
	return FormatDay(c.First(u, n))
}

// fiscalName is the calendar year in which the fiscal year that starts in year y ends.
func (c *Calendar) fiscalName(y int) int {
	if c.FiscalMonth > 1 {
		return y + 1
	}
	return y
}
