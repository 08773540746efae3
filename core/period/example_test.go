package period_test

import (
	"fmt"
	"time"

	"uzzel/core/period"
)

func ExampleCalendar_Resolve() {
	cal := period.New(time.UTC, time.Monday, 4)
	today := period.Day(2026, time.May, 14)
	span := cal.Resolve(period.Period{Word: "this_fiscal_year"}, today)
	fmt.Println(period.FormatDay(span.From), period.FormatDay(span.To))
	span = cal.Resolve(period.Period{Last: 30, Unit: period.ByDay, Current: true}, today)
	fmt.Println(period.FormatDay(span.From), period.FormatDay(span.To))
	// Output:
	// 2026-04-01 2027-03-31
	// 2026-04-15 2026-05-14
}
