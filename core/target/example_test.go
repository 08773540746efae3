package target_test

import (
	"fmt"
	"time"

	"uzzel/core/exact"
	"uzzel/core/period"
	"uzzel/core/target"
)

func ExampleBook_Sum() {
	team := target.Scope{Kind: target.Team, ID: "1"}
	may := target.MonthOf(period.Day(2026, time.May, 1))
	book := target.NewBook([]target.Entry{{Measure: "won", Scope: team, Month: may, Amount: exact.Int(90_000)}, {Measure: "won", Scope: team, Month: may + 1, Amount: exact.Int(60_000)}})
	nobody := func(target.Scope) []target.Scope { return nil }
	sum := book.Sum("won", []target.Scope{team}, nobody, period.Span{From: period.Day(2026, time.May, 1), To: period.Day(2026, time.June, 30), HasFrom: true, HasTo: true})
	fmt.Println(sum.Set, sum.Amount)
	// Output: true 150000
}
